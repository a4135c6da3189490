package app

import (
	"context"
	"slices"
	"strings"

	"orpine/internal/core/journal"
	"orpine/internal/core/part"
	"orpine/internal/store/query"
)

// NewPart is a part to be written down.
type NewPart struct {
	ID        string `json:"-"`
	Airframe  string `json:"airframe"` // id
	Number    string `json:"number"`
	Name      string `json:"name"`
	Hand      string `json:"hand"`
	Supplier  string `json:"supplier,omitempty"`
	Lot       string `json:"lot,omitempty"`
	Process   string `json:"process,omitempty"`
	Condition string `json:"condition,omitempty"`
	Place     string `json:"place,omitempty"`
	Clue      string `json:"clue,omitempty"`
	Assembly  string `json:"assembly,omitempty"` // id
	Row       string `json:"row,omitempty"`      // id
	Check     string `json:"check,omitempty"`    // id
}

// AddPart writes a part down.
func (a *App) AddPart(ctx context.Context, n NewPart) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("number", &n.Number, maxName, "which number has it in the plans?")
	wrong.text("name", &n.Name, maxName, "what is it?")
	for field, into := range map[string]*string{"supplier": &n.Supplier, "lot": &n.Lot, "process": &n.Process, "place": &n.Place} {
		wrong.text(field, into, maxName, "")
	}
	wrong.text("condition", &n.Condition, maxNote, "")
	wrong.text("clue", &n.Clue, maxNote, "")
	if !slices.Contains(part.Hands, n.Hand) {
		wrong.Add("hand", "left, right, either or none?")
	}
	if err := a.whereTo(ctx, n.Airframe, n.Assembly, n.Row, wrong); err != nil {
		return err
	}
	if err := a.comparedBy(ctx, n.Airframe, n.Check, wrong); err != nil {
		return err
	}
	if err := wrong.err(); err != nil {
		return err
	}
	return a.record(ctx, deed{n.ID, journal.Created, "", n, map[string]any{"what": "part", "name": n.Number + ", " + n.Name}}, func(q *query.Queries, entry int64) error {
		return q.AddPart(ctx, query.AddPartParams{ID: n.ID, AirframeID: n.Airframe, Number: n.Number, Name: n.Name, Hand: n.Hand, Supplier: n.Supplier, Lot: n.Lot, Process: n.Process,
			Condition: n.Condition, Place: n.Place, Clue: n.Clue, AssemblyID: reference(n.Assembly), RowID: reference(n.Row), CheckID: reference(n.Check), Entry: entry})
	})
}

// whereTo checks where a part goes.
func (a *App) whereTo(ctx context.Context, airframe, assembly, rowID string, wrong Problems) error {
	return a.view(ctx, func(q *query.Queries) error {
		if _, err := q.Airframe(ctx, airframe); err != nil {
			return err
		}
		if assembly != "" {
			kept, err := q.Assembly(ctx, assembly)
			if found(err) != nil || kept.AirframeID != airframe {
				wrong.Add("assembly", "choose an assembly of this airframe")
			}
		}
		if rowID != "" {
			kept, err := q.Row(ctx, rowID)
			if found(err) != nil || kept.AssemblyID != assembly {
				wrong.Add("row", "choose a row of that assembly")
			}
		}
		return nil
	})
}

// comparedBy checks that a check compares hands.
func (a *App) comparedBy(ctx context.Context, airframe, check string, wrong Problems) error {
	if check == "" {
		return nil
	}
	checks, err := a.HandChecks(ctx, airframe)
	if err == nil && !slices.ContainsFunc(checks, func(c HandCheck) bool { return c.ID == check }) {
		wrong.Add("check", "choose a check that compares two hands")
	}
	return err
}

// HandCheck is a check that compares a part with its twin.
type HandCheck struct{ ID, Name, Setup string }

// HandChecks lists the checks of an airframe that compare hands.
func (a *App) HandChecks(ctx context.Context, airframe string) (list []HandCheck, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		setups, err := q.Setups(ctx, airframe)
		if err != nil {
			return err
		}
		for _, s := range setups {
			checks, err := q.Checks(ctx, s.ID)
			if err != nil {
				return err
			}
			for _, c := range checks {
				if strings.Contains(c.Definition, `"kind":"hand"`) {
					list = append(list, HandCheck{c.ID, s.Name + ": " + c.Name, s.ID})
				}
			}
		}
		return nil
	})
	return list, err
}

// PartMoved says where a part went.
type PartMoved struct {
	ID        string `json:"-"`
	Part      string `json:"part"` // id
	Place     string `json:"place"`
	Assembly  string `json:"assembly,omitempty"`
	Row       string `json:"row,omitempty"`
	Check     string `json:"check,omitempty"`
	Condition string `json:"condition,omitempty"`
}

// MovePart writes down where a part went.
func (a *App) MovePart(ctx context.Context, n PartMoved) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("place", &n.Place, maxName, "")
	wrong.text("condition", &n.Condition, maxNote, "")
	var kept query.Part
	err := a.view(ctx, func(q *query.Queries) (err error) {
		kept, err = q.Part(ctx, n.Part)
		return err
	})
	if err != nil {
		return err
	}
	if err := a.whereTo(ctx, kept.AirframeID, n.Assembly, n.Row, wrong); err != nil {
		return err
	}
	if err := a.comparedBy(ctx, kept.AirframeID, n.Check, wrong); err != nil {
		return err
	}
	if err := wrong.err(); err != nil {
		return err
	}
	return a.record(ctx, deed{n.ID, journal.Moved, "", n, map[string]any{"name": kept.Number + ", " + kept.Name, "says": n.Place}}, func(q *query.Queries, _ int64) error {
		return q.MovePart(ctx, query.MovePartParams{Place: n.Place, AssemblyID: reference(n.Assembly), RowID: reference(n.Row), CheckID: reference(n.Check), Condition: n.Condition, ID: n.Part})
	})
}
