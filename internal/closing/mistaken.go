package closing

import (
	"context"
	"encoding/json"
	"fmt"

	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// takenBack is what an entry of a bay was that was made by mistake, and what becomes open again.
type takenBack struct {
	Kind      string         `json:"kind"`
	Bay       string         `json:"bay"` // title
	What      string         `json:"what"`
	Tasks     []string       `json:"tasks,omitempty"` // ids
	Access    bool           `json:"access,omitempty"`
	Empty     bool           `json:"empty,omitempty"`
	Withdrawn gate.Withdrawn `json:"withdrawn"`
}

var mistaken = &ledger.Kind[ledger.Mistaken, takenBack]{
	Name: "bay-mistaken", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n ledger.Mistaken, f takenBack) error {
		if f.Kind == counted.Name {
			if err := q.RemoveCount(ctx, n.Entry); err != nil {
				return err
			}
		}
		for _, id := range f.Tasks {
			if err := q.ReopenTask(ctx, query.ReopenTaskParams{Revised: e.Seq, ID: id}); err != nil {
				return err
			}
		}
		for what, there := range map[string]bool{"": f.Access, gate.Empty: f.Empty} {
			if !there {
				continue
			}
			if err := gate.UnputInside(ctx, q, n.Entry, what); err != nil {
				return err
			}
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Words: func(n ledger.Mistaken, f takenBack) ledger.Words {
		return ledger.Words{What: "Taken back: " + f.Bay + ": " + f.What, Detail: say.Join(n.Reason, "by "+n.By)}
	},
}

// Retracts tells whether entries of a kind are taken back here.
func Retracts(kind string) bool {
	return kind == counted.Name || kind == taskDone.Name || kind == ticked.Name
}

// TakeBack takes back a count, or ticks, that were entered by mistake: as long as the bay is not
// closed, and nobody entered the same thing anew.
func (c *Closing) TakeBack(ctx context.Context, was ledger.OwnEntry, n ledger.Mistaken) error {
	wrong := n.Read()
	_, err := ledger.Do(ctx, c.ledger, mistaken, n.Form, n, func(q *query.Queries) (f takenBack, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		f.Kind = was.Kind
		bay := ""
		switch was.Kind {
		case counted.Name:
			bay, err = f.count(ctx, q, was)
		case taskDone.Name:
			var done TaskDone
			if err = json.Unmarshal(was.Request, &done); err == nil {
				bay = done.Bay
				err = f.tasks(ctx, q, was, done.Task)
			}
		case ticked.Name:
			bay, err = f.ticks(ctx, q, was)
		default:
			err = ledger.ErrNotFound
		}
		if err != nil {
			return f, err
		}
		title, h, err := open(ctx, q, bay)
		f.Bay, f.Withdrawn = title, gate.Withdraw(f.What+" was taken back", h)
		return f, err
	})
	return err
}

// count finds a count that still stands.
func (f *takenBack) count(ctx context.Context, q *query.Queries, was ledger.OwnEntry) (bay string, err error) {
	var n NewCount
	if err := json.Unmarshal(was.Request, &n); err != nil {
		return "", err
	}
	f.What = fmt.Sprintf("%d × %s counted %s", max(n.Number, -n.Number), n.Thing, n.way())
	if _, err := q.CountByID(ctx, was.ID); err != nil {
		return "", again(err)
	}
	return n.Bay, nil
}

// tasks finds tasks that this entry finished, and nobody since.
func (f *takenBack) tasks(ctx context.Context, q *query.Queries, was ledger.OwnEntry, ids ...string) error {
	names := []string{}
	for _, id := range ids {
		t, err := q.Task(ctx, id)
		if err != nil {
			return ledger.Found(err)
		}
		if t.DoneBy == "" || t.Revised != was.Seq {
			return ledger.Problems{"": t.What + " is open again already, or was done anew since"}
		}
		names = append(names, t.What)
	}
	f.Tasks, f.What = ids, say.And(names...)
	return nil
}

// ticks finds what was ticked at once.
func (f *takenBack) ticks(ctx context.Context, q *query.Queries, was ledger.OwnEntry) (bay string, err error) {
	var n Ticked
	if err := json.Unmarshal(was.Request, &n); err != nil {
		return "", err
	}
	if len(n.Outside)+len(n.Inside)+len(n.Reachable) > 0 {
		return "", ledger.Problems{"": "what lies inside the bay and what does not is said anew on its sheet, by the same ticks"}
	}
	if err := f.tasks(ctx, q, was, n.Tasks...); err != nil {
		return "", err
	}
	f.Access, f.Empty = n.Access != "", n.Empty
	for there, what := range map[*bool]string{&f.Access: "how it is reached", &f.Empty: "that nothing lies inside"} {
		if *there {
			f.What = say.And(append([]string{what}, filled(f.What)...)...)
		}
	}
	return n.Bay, nil
}

func filled(text string) []string {
	if text == "" {
		return nil
	}
	return []string{text}
}

// again says that what is taken back was taken back before.
func again(err error) error {
	if err = ledger.Found(err); err == ledger.ErrNotFound {
		return ledger.Problems{"": "it was taken back already"}
	}
	return err
}
