package overview

import (
	"context"

	"orpine/internal/airframe"
	"orpine/internal/asking"
	"orpine/internal/coating"
	"orpine/internal/gate"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
)

// CuresSheet is what hardens at an airframe, and the makers' tables.
type CuresSheet struct {
	Airframe   airframe.Airframe
	Assemblies []Named
	Materials  []coating.Material
	Clocks     []coating.Clock // the last one first
	Steps      []Named         // added by hand
}

// Cures loads it ("" for the first airframe).
func (w *Workshop) Cures(ctx context.Context, id string) (s CuresSheet, err error) {
	err = w.Ledger.View(ctx, func(q *query.Queries) error {
		if s.Airframe, _, err = airframe.One(ctx, q, id); err != nil {
			return err
		}
		if s.Materials, err = coating.Materials(ctx, q); err != nil {
			return err
		}
		if s.Clocks, err = coating.Clocks(ctx, q, s.Airframe.ID, w.Ledger.When); err != nil {
			return err
		}
		if s.Assemblies, err = assembliesOf(ctx, q, s.Airframe.ID); err != nil {
			return err
		}
		s.Steps, err = w.ownSteps(ctx, q, s.Airframe.ID)
		return err
	})
	return s, err
}

func assembliesOf(ctx context.Context, q *query.Queries, frame string) (out []Named, err error) {
	list, err := airframe.Assemblies(ctx, q, frame)
	for _, a := range list {
		out = append(out, Named{a.ID, a.Name})
	}
	return out, err
}

func (w *Workshop) ownSteps(ctx context.Context, q *query.Queries, frame string) (out []Named, err error) {
	list, err := planning.Steps(ctx, q, frame, w.Ledger.When)
	for _, s := range list {
		out = append(out, Named{s.ID, s.Name})
	}
	return out, err
}

// QuestionsSheet is what is asked at an airframe, and what a question may freeze.
type QuestionsSheet struct {
	Airframe  airframe.Airframe
	Questions []asking.Asked
	What      []Named // steps, holds and rows
	Names     map[string]string
	Today     string
}

// Asks loads it ("" for the first airframe).
func (w *Workshop) Asks(ctx context.Context, id string) (s QuestionsSheet, err error) {
	s.Today = w.Ledger.Now().Format("2006-01-02")
	err = w.Ledger.View(ctx, func(q *query.Queries) error {
		if s.Airframe, _, err = airframe.One(ctx, q, id); err != nil {
			return err
		}
		if s.Questions, err = asking.Questions(ctx, q, s.Airframe.ID, w.Ledger.When); err != nil {
			return err
		}
		if s.What, err = w.ownSteps(ctx, q, s.Airframe.ID); err != nil {
			return err
		}
		holds, err := gate.All(q.Holds(ctx, s.Airframe.ID))
		if err != nil {
			return err
		}
		for _, h := range holds {
			if !h.Done {
				s.What = append(s.What, Named{"hold:" + h.ID, "hold: " + h.Name})
			}
		}
		rows, err := riveting.Standings(ctx, q, s.Airframe.ID)
		for _, r := range rows {
			s.What = append(s.What, Named{"row:" + r.ID, "row: " + r.Name})
		}
		s.Names = map[string]string{}
		for _, n := range s.What {
			s.Names[n.ID] = n.Name
		}
		return err
	})
	return s, err
}

// Ahead is what is said at a hold or a row before it is released or set: what waits for an
// answer, and what becomes impossible.
type Ahead struct {
	Frozen     []gate.Frozen
	Impossible []string // steps that are not done, and cannot be afterwards
}

// ahead gathers it for "hold:" or "row:" and an id.
func (w *Workshop) ahead(ctx context.Context, q *query.Queries, frame, what string) (Ahead, error) {
	return w.aheads.of(w.Ledger, what, func() (a Ahead, err error) {
		if a.Frozen, err = gate.FrozenBy(ctx, q, what); err != nil {
			return a, err
		}
		rows, err := q.PlanStepsBefore(ctx, query.PlanStepsBeforeParams{AirframeID: frame, What: gate.Naming(what)})
		for _, r := range rows {
			a.Impossible = append(a.Impossible, r.Name)
		}
		return a, err
	}, "asking", "planning", "amending")
}
