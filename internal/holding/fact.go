package holding

import (
	"context"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/store/query"
)

// StepFact says that the step of a hold was done without a release, or before the joint had a hold
// here. What is in the metal is a fact; it is evidence for nothing.
type StepFact struct {
	ledger.Form
	Hold   string `json:"hold" form:"-"`  // id
	How    string `json:"how" form:"how"` // gate.Unreleased or gate.DoneBefore
	By     string `json:"by" form:"by"`
	Day    string `json:"day,omitempty" form:"day"` // on which it was done, as known
	Reason string `json:"reason,omitempty" form:"reason" text:"lines"`
}

var stepIsFact = &ledger.Kind[StepFact, made]{
	Name: "step-fact", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work}, // it asks nobody: it is done
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n StepFact, f made) error {
		if err := gate.PutFact(ctx, q, e, gate.Fact{ID: e.ID, Hold: n.Hold, How: n.How, By: n.By, Day: n.Day, Reason: n.Reason}); err != nil {
			return err
		}
		if f.Happened == nil {
			return nil
		}
		return measuring.PutHappened(ctx, q, e, *f.Happened)
	},
	Words: func(n StepFact, f made) ledger.Words {
		return ledger.Words{What: f.Assembly + ": done " + n.How + ", " + f.Hold, Detail: say.Join(f.Permanent, n.Day, n.Reason)}
	},
}

// TellFact enters it. Problems are at "how", "by", "day" and "reason".
func (h *Holding) TellFact(ctx context.Context, n StepFact) error {
	wrong := ledger.Problems{}
	day := gate.Told{How: &n.How, By: &n.By, Day: &n.Day, Reason: &n.Reason}.Read(h.ledger.Now(), wrong)
	_, err := ledger.Do(ctx, h.ledger, stepIsFact, n.Form, n, func(q *query.Queries) (f made, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		one, err := h.One(ctx, q, n.Hold)
		if err != nil {
			return f, err
		}
		_, assembly, err := airframe.Of(ctx, q, one.AssemblyID)
		switch {
		case err != nil:
			return f, err
		case one.Done:
			return f, ledger.Problems{"": "the step is recorded already"}
		case one.Waiting():
			return f, ledger.Problems{"": "it is released: record it under that release"}
		case n.How == gate.DoneBefore:
			if err := h.before(ctx, q, one, day); err != nil {
				return f, err
			}
		}
		f = made{Hold: one.Name, Assembly: assembly.Name, Permanent: one.Permanent}
		return f, nil
	})
	return err
}

// before refuses that something was done before its joint had a hold here where the day says
// otherwise, or something was measured here for it.
func (h *Holding) before(ctx context.Context, q *query.Queries, one Hold, day time.Time) error {
	kept, err := q.HoldEntered(ctx, one.ID)
	if err != nil {
		return err
	}
	at := h.ledger.When(kept)
	if midnight := time.Date(at.Year(), at.Month(), at.Day(), 0, 0, 0, 0, at.Location()); day.After(midnight) {
		return ledger.Problems{"day": "it is held here since " + at.Format("2 January 2006") + ": what was done after that was done without a release"}
	}
	if one.measured {
		return ledger.Problems{"how": "something was measured here for it: it was done without a release"}
	}
	return nil
}
