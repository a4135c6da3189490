// Package amending puts right what was entered: a thing is changed (better from now on:
// releases stay), corrected (it was wrong: a release that rested on it and is not spent
// ends, a spent one is marked for ever) or withdrawn, each with a reason. The old value stays
// readable. What a thing is, and what may be put right of it, each capability says itself
// (ledger.Keeper).
package amending

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/asking"
	"orpine/internal/closing"
	"orpine/internal/coating"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
	"orpine/internal/stores"
)

// The ways to put something right.
const (
	Change   = "change"
	Correct  = "correct"
	Withdraw = "withdraw"
)

// Amending puts things right.
type Amending struct {
	ledger  *ledger.Ledger
	keepers []ledger.Keeper
}

// New returns it.
func New(l *ledger.Ledger, m *measuring.Measuring) *Amending {
	return &Amending{l, slices.Concat(airframe.Keepers, instrument.Keepers, gate.Keepers, measuring.Keepers(m), riveting.Keepers, closing.Keepers, stores.Keepers, planning.Keepers(planning.New(l)), asking.Keepers(nil), coating.Keepers(coating.New(l)))}
}

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "amending",
	Tables: ledger.Records("alterations"),
	Kinds:  ledger.Kinds(putRight),
}

// PutRight is something to be put right, as the form has it.
type PutRight struct {
	ledger.Form
	Kind   string            `json:"kind"`
	Thing  string            `json:"thing"` // id
	Seen   int64             `json:"seen"`
	How    string            `json:"how"`
	Reason string            `json:"reason" text:"lines"`
	By     string            `json:"by"`
	Values map[string]string `json:"values,omitempty" text:"lines"`
}

// Changed is a field that differs.
type Changed struct {
	Label string `json:"label"`
	Was   string `json:"was"`
	Now   string `json:"now"`
}

// amended is what it was judged to be.
type amended struct {
	Title    string          `json:"title"`
	Judged   json.RawMessage `json:"judged"`
	Changes  []Changed       `json:"changes"`
	Releases gate.Withdrawn  `json:"releases"` // that end
	Wrong    []string        `json:"wrong"`    // releases of steps done
}

// putting finds how things of a kind are written; it needs no workshop.
func putting(kind string) (k ledger.Keeper, ok bool) {
	all := slices.Concat(airframe.Keepers, instrument.Keepers, gate.Keepers, measuring.Keepers(nil), riveting.Keepers, closing.Keepers, stores.Keepers, planning.Keepers(nil), asking.Keepers(nil), coating.Keepers(nil))
	return keeperOf(all, kind)
}

func keeperOf(all []ledger.Keeper, kind string) (k ledger.Keeper, ok bool) {
	i := slices.IndexFunc(all, func(k ledger.Keeper) bool { return k.Kind == kind })
	if i < 0 {
		return k, false
	}
	return all[i], true
}

var putRight = &ledger.Kind[PutRight, amended]{
	Name: "put-right", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n PutRight, f amended) error {
		k, ok := putting(n.Kind)
		if !ok {
			return fmt.Errorf("nothing keeps a %q", n.Kind)
		}
		var err error
		if n.How == Withdraw {
			err = k.Withdraw(ctx, q, e, n.Thing, n.Reason, f.Judged)
		} else {
			err = k.Put(ctx, q, e, n.Thing, f.Judged)
		}
		if err != nil {
			return err
		}
		if err := gate.PutWithdrawn(ctx, q, e, f.Releases); err != nil {
			return err
		}
		if err := gate.PutWrong(ctx, q, f.Wrong, f.Title+": "+n.Reason); err != nil {
			return err
		}
		changes, err := json.Marshal(f.Changes)
		if err != nil {
			return err
		}
		ended, err := json.Marshal(append(slices.Clone(f.Releases.Releases), f.Wrong...))
		if err != nil {
			return err
		}
		return q.AddAlteration(ctx, query.AddAlterationParams{ID: e.ID, OfKind: n.Kind, OfID: n.Thing, How: n.How, Reason: n.Reason, ByName: n.By, Title: f.Title, Changes: string(changes), Releases: string(ended), At: e.At, Entry: e.Seq})
	},
	Rights: func(n PutRight, _ amended) bool { return n.How != Change },
	Words: func(n PutRight, f amended) ledger.Words {
		var details []string
		for _, c := range f.Changes {
			details = append(details, fmt.Sprintf("%s: “%s” → “%s”", c.Label, c.Was, c.Now))
		}
		done := map[string]string{Change: "changed", Correct: "corrected", Withdraw: "withdrawn"}[n.How]
		return ledger.Words{What: fmt.Sprintf("%s %s: %s", n.Kind, done, f.Title), Detail: say.Join(append([]string{n.Reason}, details...)...)}
	},
	Travel: ledger.Travel[PutRight, amended]{
		Shared: func(_ string, n PutRight) []string {
			if n.Kind == "instrument" || n.Kind == "material" {
				return []string{n.Thing}
			}
			return nil
		},
		Names: func(_ string, n *PutRight, f *amended, name func(thing, was string) string) (err error) {
			if n.Kind == "instrument" || n.Kind == "airframe" {
				f.Judged, err = renamed(f.Judged, func(was string) string { return name(n.Thing, was) })
			}
			return err
		},
	},
}

// Thing loads something as it would be put right; typed is what was typed of it.
func (a *Amending) Thing(ctx context.Context, kind, id string, typed map[string]string) (t ledger.Thing, history []Alteration, err error) {
	k, ok := keeperOf(a.keepers, kind)
	if !ok {
		return t, nil, ledger.ErrNotFound
	}
	err = a.ledger.View(ctx, func(q *query.Queries) error {
		if t, err = k.Load(ctx, q, id, typed); err != nil {
			return err
		}
		history, err = Of(ctx, q, id, a.ledger.When)
		return err
	})
	return t, history, err
}

// Alteration is what was done about a thing before.
type Alteration struct {
	How, Reason, By string
	At              time.Time
	Changes         []Changed
}

// Of are the alterations of a thing, the oldest first.
func Of(ctx context.Context, q *query.Queries, id string, when func(kept string) time.Time) ([]Alteration, error) {
	rows, err := q.AlterationsOf(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("reading what was put right: %w", err)
	}
	out := make([]Alteration, len(rows))
	for i, r := range rows {
		out[i] = Alteration{How: r.How, Reason: r.Reason, By: r.ByName, At: when(r.At)}
		if err := json.Unmarshal([]byte(r.Changes), &out[i].Changes); err != nil {
			return nil, fmt.Errorf("reading what was put right: %w", err)
		}
	}
	return out, nil
}

// PutRight puts something right. Problems are by field, "how", "reason" and "by".
func (a *Amending) PutRight(ctx context.Context, n PutRight) error {
	k, ok := keeperOf(a.keepers, n.Kind)
	if !ok {
		return ledger.ErrNotFound
	}
	wrong := ledger.Problems{}
	if n.How != Change && n.How != Correct && n.How != Withdraw {
		wrong.Add("how", "was it wrong, or is this better from now on? Choose one")
	}
	wrong.Text("reason", &n.Reason, ledger.MaxNote, "why? The old value stays readable beside it")
	wrong.Text("by", &n.By, ledger.MaxName, "who says so?")
	if n.How == Withdraw {
		n.Values = nil
	} else if n.Values == nil {
		n.Values = map[string]string{}
	}
	_, err := ledger.Do(ctx, a.ledger, putRight, n.Form, n, func(q *query.Queries) (f amended, err error) {
		t, err := k.Load(ctx, q, n.Thing, n.Values)
		if err != nil {
			return f, err
		}
		if t.Withdrawn != "" {
			return f, ledger.Problems{"": "it was withdrawn already: " + t.Withdrawn}
		}
		if t.Seen != n.Seen {
			return f, ledger.Moved("it as it was before", "as it stands below")
		}
		f = amended{Title: t.Title, Changes: []Changed{}, Wrong: []string{}, Releases: gate.Withdraw("")}
		if n.How == Withdraw && t.Stays != "" {
			wrong.Add("how", t.Stays)
		}
		judged, err := k.Judge(ctx, q, t, n.Values, wrong)
		if err != nil {
			return f, err
		}
		f.Changes = changes(t, n.Values)
		if n.How != Withdraw && len(f.Changes) == 0 {
			wrong.Add("", "nothing was changed")
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		if f.Judged, err = json.Marshal(judged); err != nil {
			return f, err
		}
		return f, nil // which releases end by it, or rested on what was wrong, the gate finds
	})
	return err
}

// changes are the fields that were typed otherwise than they stood.
func changes(t ledger.Thing, values map[string]string) []Changed {
	out := []Changed{}
	if values == nil {
		return out
	}
	for _, field := range t.Fields {
		now := strings.TrimSpace(strings.ReplaceAll(values[field.Key], "\r", ""))
		if now != strings.TrimSpace(field.Value) {
			out = append(out, Changed{field.Label, field.Value, now})
		}
	}
	return out
}

// renamed gives what was judged of a thing another name, and leaves all else as it is.
func renamed(judged json.RawMessage, name func(was string) string) (json.RawMessage, error) {
	var was struct{ Name string }
	fields := map[string]json.RawMessage{}
	if err := errors.Join(json.Unmarshal(judged, &was), json.Unmarshal(judged, &fields)); err != nil {
		return judged, err
	}
	now := name(was.Name)
	if now == was.Name {
		return judged, nil
	}
	text, err := json.Marshal(now)
	if err != nil {
		return judged, err
	}
	fields["name"] = text
	return json.Marshal(fields)
}
