package measuring

import (
	"context"

	"orpine/internal/airframe"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// KeepTo keeps a setup that was measured by itself to an assembly.
type KeepTo struct {
	ledger.Form
	Setup    string `json:"setup" form:"-"` // id
	Assembly string `json:"assembly" form:"assembly"`
}

// keptAt is a setup with the assembly that it belongs to now.
type keptAt struct {
	Setup    string `json:"setup"`
	Assembly string `json:"assembly"`
}

var keptTo = &ledger.Kind[KeepTo, keptAt]{
	Name: "setup-kept", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n KeepTo, _ keptAt) error {
		if err := q.KeepSetup(ctx, query.KeepSetupParams{AssemblyID: gate.Reference(n.Assembly), ID: n.Setup}); err != nil {
			return err
		}
		return q.ReviseChecksOfSetup(ctx, query.ReviseChecksOfSetupParams{Revised: e.Seq, SetupID: n.Setup})
	},
	Words: func(_ KeepTo, f keptAt) ledger.Words {
		return ledger.Words{What: f.Setup + ": kept to " + f.Assembly}
	},
}

// KeepTo keeps a setup to an assembly. Where bare lengths were typed in another unit than
// the assembly's aircraft has, it is refused: they would be read anew.
func (m *Measuring) KeepTo(ctx context.Context, n KeepTo) error {
	_, err := ledger.Do(ctx, m.ledger, keptTo, n.Form, n, func(q *query.Queries) (f keptAt, err error) {
		row, err := q.Setup(ctx, n.Setup)
		if err != nil {
			return f, err
		}
		if row.Setup.AssemblyID.Valid {
			return f, ledger.Problems{"assembly": "it is kept to " + row.Assembly + " already"}
		}
		frame, assembly, err := airframe.Of(ctx, q, n.Assembly)
		if err != nil {
			return f, ledger.Problems{"assembly": "which assembly is it of? Choose one of the list"}
		}
		if frame.Unit != unitOf(row.Setup.Unit) {
			return f, ledger.Problems{"assembly": "bare lengths were typed in " + unitOf(row.Setup.Unit).String() + ", and " + frame.Name + " has " + frame.Unit.String() + ": measure it at the assembly itself"}
		}
		return keptAt{row.Setup.Name, assembly.Name}, nil
	})
	return err
}

// Confirm says that what was assumed of a check is what the plans say.
type Confirm struct {
	ledger.Form
	Check string `json:"check" form:"check"` // id
	By    string `json:"by,omitempty" form:"by"`
}

// confirmedOf is a check with what was assumed of it.
type confirmedOf struct {
	Check string `json:"check"`
	What  string `json:"what"`
}

var confirmed = &ledger.Kind[Confirm, confirmedOf]{
	Name: "check-confirmed", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n Confirm, _ confirmedOf) error {
		return q.ConfirmCheck(ctx, query.ConfirmCheckParams{Redefined: e.Seq, Revised: e.Seq, ID: n.Check})
	},
	Words: func(_ Confirm, f confirmedOf) ledger.Words {
		return ledger.Words{What: f.Check + ": as the plans say", Detail: f.What}
	},
}

// Confirm settles what was assumed of a check: it is as the plans say.
func (m *Measuring) Confirm(ctx context.Context, n Confirm) error {
	_, err := ledger.Do(ctx, m.ledger, confirmed, n.Form, n, func(q *query.Queries) (f confirmedOf, err error) {
		_, c, err := loader{q, m.ledger.When}.one(ctx, n.Check)
		if err != nil {
			return f, err
		}
		if len(c.Nobody()) == 0 {
			return f, ledger.Problems{"": "nothing of it is assumed any more"}
		}
		return confirmedOf{c.Name, say.And(c.Nobody()...)}, nil
	})
	return err
}

// Onward is the check of a setup that is read after a reading of another: that one; once a
// survey is complete, what lies on the rails.
func (m *Measuring) Onward(ctx context.Context, setup, check string) (next string, err error) {
	next = check
	err = m.ledger.View(ctx, func(q *query.Queries) error {
		lie, err := q.LiesOnSurvey(ctx, query.LiesOnSurveyParams{SetupID: setup, Survey: check})
		if err != nil || lie == 0 {
			return err
		}
		s, err := m.Load(ctx, q, setup)
		if err != nil {
			return err
		}
		if c, ok := s.Check(check); !ok || !c.Complete() {
			return nil
		}
		for _, c := range s.Checks {
			if !c.Complete() && c.Survey == check {
				next = c.ID
				break
			}
		}
		return nil
	})
	return next, err
}

// Round is the number of the first spot of a complete check that has fewer placings than another: where a round of
// further placings goes on; 0 where the round is done.
func (m *Measuring) Round(ctx context.Context, setup, check string) (number int, err error) {
	s, err := m.Setup(ctx, setup)
	if err != nil {
		return 0, err
	}
	c, ok := s.Check(check)
	if !ok || !c.Complete() {
		return 0, nil
	}
	return c.Behind(), nil
}
