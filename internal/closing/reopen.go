package closing

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Reopening is that a closed bay was opened again.
type Reopening struct {
	By, Reason string
	Drilled    string   // what was drilled out or cut for it; "" for nothing
	Unsettled  []string // steps done since its closing, that rest on it
	At         time.Time
}

// OpenAgain opens a bay that is closed.
type OpenAgain struct {
	ledger.Form
	Bay     string `json:"bay" form:"-"` // id
	Reason  string `json:"reason" form:"reason" text:"lines"`
	Drilled string `json:"drilled,omitempty" form:"drilled" text:"lines"`
	By      string `json:"by" form:"by"`
}

// openedBay is what the facts of an entry say of a bay that was opened again.
type openedBay struct {
	Bay       string         `json:"bay"` // title
	Hold      string         `json:"hold"`
	Unsettled []string       `json:"unsettled"`
	Withdrawn gate.Withdrawn `json:"withdrawn"`
}

var openedAgain = &ledger.Kind[OpenAgain, openedBay]{
	Name: "bay-opened", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n OpenAgain, f openedBay) error {
		unsettled, err := json.Marshal(f.Unsettled)
		if err != nil {
			return err
		}
		if err := q.AddReopening(ctx, query.AddReopeningParams{ID: e.ID, BayID: n.Bay, ByName: n.By, Reason: n.Reason, Drilled: n.Drilled, Unsettled: string(unsettled), At: e.At, Entry: e.Seq}); err != nil {
			return err
		}
		if err := gate.PutUndone(ctx, q, e, f.Hold); err != nil {
			return err
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Words: func(n OpenAgain, f openedBay) ledger.Words {
		return ledger.Words{What: "Opened again: " + f.Bay, Detail: say.Join(n.Reason, say.After("drilled out: ", n.Drilled), say.After("to be looked at again: ", say.And(f.Unsettled...)))}
	},
}

// OpenAgain opens a closed bay: its closing is not done any more and wants a new release;
// what waits for the closing loses its release, and the steps that were done since are
// named, to be looked at again. What was counted and looked at before counts no more.
func (c *Closing) OpenAgain(ctx context.Context, n OpenAgain) error {
	wrong := ledger.Problems{}
	wrong.Text("reason", &n.Reason, ledger.MaxNote, "why is it opened?")
	wrong.Text("drilled", &n.Drilled, ledger.MaxNote, "")
	wrong.Text("by", &n.By, ledger.MaxName, "who opens it?")
	_, err := ledger.Do(ctx, c.ledger, openedAgain, n.Form, n, func(q *query.Queries) (f openedBay, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		bay, err := q.Bay(ctx, n.Bay)
		if err != nil {
			return f, ledger.Found(err)
		}
		frame, assembly, err := airframe.Of(ctx, q, bay.AssemblyID)
		if err != nil {
			return f, err
		}
		closes, err := gate.One(ctx, q, bay.ClosedBy)
		if err != nil {
			return f, err
		}
		if !closes.Done {
			return f, ledger.Problems{"": bay.Name + " is open"}
		}
		switch shut, err := gate.Shut(ctx, q, n.Bay); {
		case err != nil:
			return f, err
		case shut != "":
			return f, ledger.Problems{"": bay.Name + " lies within " + shut + ", which is closed: open that first"}
		}
		f = openedBay{Bay: assembly.Name + ", " + bay.Name, Hold: closes.ID, Unsettled: []string{}}
		holds, err := gate.All(q.Holds(ctx, frame.ID))
		if err != nil {
			return f, err
		}
		var wait []gate.Hold
		for _, h := range holds {
			if !slices.Contains(h.Required, hold.Requirement{Need: hold.Before, Of: closes.ID}) {
				continue
			}
			if wait = append(wait, h); h.Done {
				f.Unsettled = append(f.Unsettled, h.Name)
			}
		}
		f.Withdrawn = gate.Withdraw(bay.Name+" was opened again", wait...)
		return f, gate.NearBays(ctx, q, []string{n.Bay}, func(_ string, assemblies []string) error {
			since, err := q.DoneAfter(ctx, query.DoneAfterParams{Assemblies: assemblies, Hold: closes.ID})
			if err != nil {
				return fmt.Errorf("reading what was done since the closing: %w", err)
			}
			for _, name := range since {
				if !slices.Contains(f.Unsettled, name) {
					f.Unsettled = append(f.Unsettled, name)
				}
			}
			return nil
		})
	})
	return err
}

// reopened are the reopenings of bays, by bay, in their order.
func (c *Closing) reopened(ctx context.Context, q *query.Queries, ids []string) (map[string][]Reopening, map[string]int64, error) {
	rows, err := q.ReopeningsOfBays(ctx, ids)
	if err != nil {
		return nil, nil, fmt.Errorf("reading what was opened again: %w", err)
	}
	out, last := map[string][]Reopening{}, map[string]int64{}
	for _, r := range rows {
		one := Reopening{By: r.ByName, Reason: r.Reason, Drilled: r.Drilled, At: c.ledger.When(r.At)}
		if err := json.Unmarshal([]byte(r.Unsettled), &one.Unsettled); err != nil {
			return nil, nil, fmt.Errorf("reading what an opening unsettled: %w", err)
		}
		out[r.BayID], last[r.BayID] = append(out[r.BayID], one), r.Entry
	}
	return out, last, nil
}
