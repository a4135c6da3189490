package riveting

import (
	"context"
	"encoding/json"
	"fmt"

	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// HolesFact says that holes were drilled or set without a release, or before the row was laid here:
// what the gate refuses about metal can be entered as what it is. It is evidence for nothing, and
// counts as done for map, stock and order.
type HolesFact struct {
	ledger.Form
	Row     string        `json:"row" form:"-"` // id
	Seen    int64         `json:"seen" form:"seen"`
	Numbers []int         `json:"numbers"`
	What    row.Operation `json:"what" form:"what"` // row.Drill or row.Rivet
	How     string        `json:"how" form:"how"`   // gate.Unreleased or gate.DoneBefore
	By      string        `json:"by" form:"by"`
	Day     string        `json:"day,omitempty" form:"day"`
	Reason  string        `json:"reason,omitempty" form:"reason" text:"lines"`
}

// factHoles is what it was judged to be.
type factHoles struct {
	worked
	Holds []string `json:"holds"` // that were passed by
}

var holesAreFact = &ledger.Kind[HolesFact, factHoles]{
	Name: "holes-fact", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work}, // it asks nobody: it is done
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n HolesFact, f factHoles) error {
		for _, b := range f.Before {
			err := q.AddOperation(ctx, query.AddOperationParams{Entry: e.Seq, RowID: n.Row, Number: int64(b.Number), Submission: e.ID, What: string(n.What), Cause: n.How, ByName: n.By, At: e.At, Fastener: b.Fastener, Before: string(b.Hole)})
			if err != nil {
				return err
			}
		}
		for i, id := range f.Holds {
			fact := gate.Fact{ID: ledger.Child(e.ID, fmt.Sprint("fact ", i)), Hold: id, Row: n.Row, Numbers: row.Runs(f.numbers()), How: n.How, By: n.By, Day: n.Day, Reason: n.Reason}
			if err := gate.PutFact(ctx, q, e, fact); err != nil {
				return err
			}
		}
		return putHoles(ctx, q, e, n.Row, f.After, f.Withdrawn)
	},
	Derive: func(ctx context.Context, q *query.Queries, n HolesFact, _ factHoles) error {
		return derive(ctx, q, n.Row)
	},
	Words: func(n HolesFact, f factHoles) ledger.Words {
		return ledger.Words{What: fmt.Sprintf("%s, %s, hole %s: %s, done %s", f.Assembly, f.Row, row.Runs(f.numbers()), n.What, n.How), Detail: say.Join(n.Day, n.Reason)}
	},
}

// TellFact enters it: holes one at a time, or as many as were done so. Problems are at "what", "how",
// "by", "day", "reason" and "".
func (s *Riveting) TellFact(ctx context.Context, n HolesFact) error {
	wrong := ledger.Problems{}
	if n.What != row.Drill && n.What != row.Rivet {
		wrong.Add("what", "were they drilled or set?")
	}
	gate.Told{How: &n.How, By: &n.By, Day: &n.Day, Reason: &n.Reason}.Read(s.ledger.Now(), wrong)
	_, err := ledger.Do(ctx, s.ledger, holesAreFact, n.Form, n, func(q *query.Queries) (f factHoles, err error) {
		r, err := One(ctx, q, n.Row)
		if err != nil {
			return f, err
		}
		bay, err := r.reach(ctx, q)
		if err != nil {
			return f, err
		}
		if len(n.Numbers) == 0 {
			wrong.Add("", "which hole?")
		}
		f.worked = worked{Row: r.Name, Assembly: r.AssemblyName, Withdrawn: r.inBay(bay, n.What)}
		for _, number := range n.Numbers {
			h, ok := r.Hole(number)
			switch {
			case !ok:
				wrong.Add("", fmt.Sprintf("there is no hole %d in this row", number))
				continue
			case h.Filled() || h.State == row.Abandoned || n.What == row.Drill && h.State != row.Pilot:
				wrong.Add("", fmt.Sprintf("hole %d is %s already", number, h.Shown()))
				continue
			}
			if err := s.shows(ctx, q, r, h, n.Seen, ""); err != nil {
				return f, err
			}
			b := workedAt{Number: number}
			if b.Hole, err = json.Marshal(factOf(h)); err != nil {
				return f, err
			}
			if h.State = row.Sized; n.What == row.Rivet {
				h.State, b.Fastener = row.Set, r.FastenerAt(h)
			}
			f.Before, f.After = append(f.Before, b), append(f.After, factOf(h))
		}
		f.Holds = r.passedBy(n.What)
		return f, wrong.Err()
	})
	return err
}

// passedBy are the holds that were passed by: of all that guard the row before that step, those of
// which no release stands.
func (r Row) passedBy(what row.Operation) []string {
	out := []string{}
	if what == row.Rivet && !r.Rivets.Open() {
		out = append(out, r.Rivets.ID)
	}
	for _, d := range r.Drills {
		if !d.Open() {
			out = append(out, d.ID)
		}
	}
	return out
}
