package holding

import (
	"context"
	"encoding/json"
	"slices"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
)

// notDone is a step to be taken back, with the hold at which it was recorded.
type notDone struct {
	ledger.Mistaken
	Hold    string `json:"hold"`              // id
	Release string `json:"release,omitempty"` // id of the one that it spent; "" for a step that was told as a fact
}

// open is a hold whose step was not done.
type open struct {
	Hold     string               `json:"hold"` // name
	Assembly string               `json:"assembly"`
	Events   []measuring.Restored `json:"events,omitempty"` // that came with the step
}

var mistaken = &ledger.Kind[notDone, open]{
	Name: "step-mistaken", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n notDone, f open) error {
		if err := gate.PutNotDone(ctx, q, e, gate.Step{Hold: n.Hold, Release: n.Release}, n.Entry, stepTakenBack); err != nil {
			return err
		}
		for _, event := range f.Events {
			if err := event.Put(ctx, q, e, n.Reason); err != nil {
				return err
			}
		}
		return nil
	},
	TakesBack: func(n notDone, f open) []string {
		ids := []string{n.Entry}
		for _, event := range f.Events {
			ids = append(ids, event.Event)
		}
		return ids
	},
	Words: func(n notDone, f open) ledger.Words {
		return ledger.Words{What: f.Assembly + ": not done, " + f.Hold, Detail: say.Join(n.Reason, "by "+n.By)}
	},
}

// stepTakenBack is why a release ends whose step was not done.
const stepTakenBack = "the step that was recorded under it was not done"

// Retracts tells whether entries of a kind are taken back here.
func Retracts(kind string) bool { return kind == stepped.Name || kind == stepIsFact.Name }

// TakeBack takes back a step that was recorded by mistake, at the wrong hold for one. The hold wants a new release. What
// was done since and may rest on the step is named, and then it stays.
func (h *Holding) TakeBack(ctx context.Context, was ledger.OwnEntry, n ledger.Mistaken) error {
	wrong := n.Read()
	var asked NewStep
	if err := json.Unmarshal(was.Request, &asked); err != nil {
		return err
	}
	r := notDone{n, asked.Hold, asked.Release}
	_, err := ledger.Do(ctx, h.ledger, mistaken, n.Form, r, func(q *query.Queries) (f open, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		one, err := gate.One(ctx, q, asked.Hold)
		if err != nil {
			return f, err
		}
		recorded, err := recorded(ctx, q, one, was.Kind)
		if err != nil {
			return f, err
		}
		switch last := len(recorded) - 1; {
		case !slices.Contains(recorded, was.ID):
			return f, ledger.Problems{"": "it was taken back already"}
		case !one.Done || recorded[last] != was.ID:
			return f, ledger.Problems{"": "what it closed was opened again since, and that it had been done stays true"}
		}
		frame, assembly, err := airframe.Of(ctx, q, one.AssemblyID)
		if err != nil {
			return f, err
		}
		f = open{Hold: one.Name, Assembly: assembly.Name}
		if err := stands(ctx, q, frame.ID, one, was.Seq); err != nil {
			return f, err
		}
		f.Events, err = h.measuring.Without(ctx, q, was.Seq)
		return f, err
	})
	return err
}

// recorded are the entries, oldest first, by which the step of a hold was recorded as one kind has it.
func recorded(ctx context.Context, q *query.Queries, one gate.Hold, kind string) (ids []string, err error) {
	if kind == stepIsFact.Name {
		facts, err := q.FactsOfHolds(ctx, []string{one.ID})
		for _, f := range facts {
			ids = append(ids, f.ID)
		}
		return ids, err
	}
	steps, err := q.Steps(ctx, one.ID)
	for _, s := range steps {
		ids = append(ids, s.ID)
	}
	return ids, err
}

// stands refuses to take the step of a hold back on which something rests that was done since.
func stands(ctx context.Context, q *query.Queries, frame string, one gate.Hold, step int64) error {
	holds, err := gate.All(q.Holds(ctx, frame))
	if err != nil {
		return err
	}
	var rests []string
	for _, other := range holds {
		if (other.Done || other.Waiting()) && slices.Contains(other.Required, hold.Requirement{Need: hold.Before, Of: one.ID}) {
			rests = append(rests, "“"+other.Name+"”")
		}
	}
	since, err := q.DoneAfter(ctx, query.DoneAfterParams{Hold: one.ID, Assemblies: []string{one.AssemblyID}})
	if err != nil {
		return err
	}
	for _, name := range since {
		if name = "“" + name + "”"; !slices.Contains(rests, name) {
			rests = append(rests, name)
		}
	}
	rows, err := riveting.WorkedSince(ctx, q, one.ID, step)
	if err != nil {
		return err
	}
	if rests = append(rests, rows...); len(rests) > 0 {
		return ledger.Problems{"": "since then came " + say.And(rests...) + ", and may rest on it: take that back first, or let the step stand"}
	}
	return nil
}
