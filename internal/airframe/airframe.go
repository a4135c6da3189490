// Package airframe keeps the aircraft of a workshop and the assemblies that each is
// built from.
package airframe

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/school"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Airframe is one aircraft being built.
type Airframe struct {
	ID, Name, Description string
	Unit                  quantity.Unit // of bare lengths
	Schools               school.Choice // how its builder works
	Revised               int64         // the entry that changed it last
}

// Assembly is one part of it.
type Assembly struct {
	ID, Name string
	Shape    Shape
	Part     string // which part of an aircraft it is: the id of its usual checks; "" for not said
	Before   string // permanent before the record began, in the builder's words
	Revised  int64  // the entry that changed it last
}

// Airframes are the aircraft of a workshop.
type Airframes struct{ ledger *ledger.Ledger }

// New returns them.
func New(l *ledger.Ledger) *Airframes { return &Airframes{l} }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "airframe",
	Tables: ledger.Records("airframes", "assemblies"),
	Kinds:  ledger.Kinds(added, assemblyAdded, begun, schoolsChosen),
}

// List returns them in the order in which they came.
func (a *Airframes) List(ctx context.Context) (list []Airframe, err error) {
	err = a.ledger.View(ctx, func(q *query.Queries) error {
		list, err = List(ctx, q)
		return err
	})
	return list, err
}

// List returns the aircraft in the order in which they came.
func List(ctx context.Context, q *query.Queries) ([]Airframe, error) {
	rows, err := q.Airframes(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading the aircraft: %w", err)
	}
	list := make([]Airframe, len(rows))
	for i, r := range rows {
		if list[i], err = From(r); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// ErrNone is returned where the first aircraft is wanted and there is none yet; it is an
// ErrNotFound.
var ErrNone = fmt.Errorf("no aircraft is begun here yet: %w", ledger.ErrNotFound)

// One is the airframe of that id, "" for the first; ErrNotFound where there is none, and ErrNone
// where there is none at all.
func One(ctx context.Context, q *query.Queries, id string) (one Airframe, all []Airframe, err error) {
	if all, err = List(ctx, q); err != nil {
		return one, nil, err
	}
	for _, f := range all {
		if id == "" || f.ID == id {
			return f, all, nil
		}
	}
	if id == "" {
		return one, all, ErrNone
	}
	return one, all, ledger.ErrNotFound
}

// Assembly loads one assembly with its airframe.
func (a *Airframes) Assembly(ctx context.Context, id string) (f Airframe, s Assembly, err error) {
	err = a.ledger.View(ctx, func(q *query.Queries) error {
		f, s, err = Of(ctx, q, id)
		return err
	})
	return f, s, err
}

// Of loads one assembly with its airframe.
func Of(ctx context.Context, q *query.Queries, assembly string) (f Airframe, s Assembly, err error) {
	row, err := q.Assembly(ctx, assembly)
	if err != nil {
		return f, s, ledger.Found(err)
	}
	f, err = From(row.Airframe)
	if err != nil {
		return f, s, err
	}
	s, err = assemblyFrom(row.Assembly)
	return f, s, err
}

// Assemblies are those of an airframe, in the order in which they came.
func Assemblies(ctx context.Context, q *query.Queries, airframe string) ([]Assembly, error) {
	rows, err := q.Assemblies(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the assemblies: %w", err)
	}
	list := make([]Assembly, len(rows))
	for i, r := range rows {
		if list[i], err = assemblyFrom(r); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// From makes an airframe of its row.
func From(r query.Airframe) (Airframe, error) {
	f := Airframe{ID: r.ID, Name: r.Name, Description: r.Description, Revised: r.Revised}
	if r.LengthUnit == "in" {
		f.Unit = quantity.Inch
	}
	if err := json.Unmarshal([]byte(r.Schools), &f.Schools); err != nil {
		return f, fmt.Errorf("reading how %s is built: %w", r.Name, err)
	}
	return f, nil
}

func assemblyFrom(r query.Assembly) (Assembly, error) {
	s := Assembly{ID: r.ID, Name: r.Name, Part: r.Part, Before: r.BeforeUs, Revised: r.Revised}
	if err := json.Unmarshal([]byte(r.Shape), &s.Shape); err != nil {
		return s, fmt.Errorf("reading the shape of %s: %w", r.Name, err)
	}
	return s, nil
}

// NewAirframe is an aircraft to be added.
type NewAirframe struct {
	ledger.Form
	Name        string `json:"name" form:"name"`
	Description string `json:"description" form:"description" text:"lines"`
	Unit        string `json:"unit" form:"unit"` // mm or in
}

var added = &ledger.Kind[NewAirframe, struct{}]{
	Name: "airframe", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewAirframe, _ struct{}) error {
		return q.AddAirframe(ctx, query.AddAirframeParams{ID: e.ID, Name: n.Name, Description: n.Description, LengthUnit: n.Unit, Schools: "{}", Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewAirframe, _ struct{}) ledger.Words {
		return ledger.Words{What: "airframe added: " + n.Name, Detail: n.Description}
	},
	Travel: ledger.Travel[NewAirframe, struct{}]{Aircraft: true, Names: func(id string, n *NewAirframe, _ *struct{}, name func(thing, was string) string) error {
		n.Name = name(id, n.Name)
		return nil
	}},
}

// Add adds an aircraft. Problems are by field.
func (a *Airframes) Add(ctx context.Context, n NewAirframe) error {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "what is the aircraft called?")
	wrong.Text("description", &n.Description, ledger.MaxNote, "")
	if n.Unit != "mm" && n.Unit != "in" {
		wrong.Add("unit", "mm or in?")
	}
	_, err := ledger.Do(ctx, a.ledger, added, n.Form, n, func(q *query.Queries) (struct{}, error) {
		switch _, err := q.AirframeNamed(ctx, n.Name); {
		case err == nil:
			wrong.Add("name", "there is one of that name already")
		case !errors.Is(ledger.Found(err), ledger.ErrNotFound):
			return struct{}{}, err
		}
		return struct{}{}, wrong.Err()
	})
	return err
}

// NewAssembly is an assembly to be added. Before says what had become permanent
// before the record began; empty for a part that is still loose.
type NewAssembly struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"` // id
	Name     string `json:"name" form:"name"`
	Shape    Shape  `json:"shape" form:"-"`
	Part     string `json:"part,omitempty" form:"part"`
	Before   string `json:"before" form:"before" text:"lines"`
}

// shaped is an assembly's shape as it is kept.
type shaped struct {
	Shape json.RawMessage `json:"shape"`
}

var assemblyAdded = &ledger.Kind[NewAssembly, shaped]{
	Name: "assembly", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewAssembly, f shaped) error {
		return q.AddAssembly(ctx, query.AddAssemblyParams{ID: e.ID, AirframeID: n.Airframe, Name: n.Name, Shape: string(f.Shape), BeforeUs: n.Before, Part: n.Part, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewAssembly, _ shaped) ledger.Words {
		return ledger.Words{What: "assembly added: " + n.Name, Detail: say.After("before this record began: ", n.Before)}
	},
}

// AddAssembly adds an assembly to an airframe. Problems are by field.
func (a *Airframes) AddAssembly(ctx context.Context, n NewAssembly) error {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "what is the assembly called?")
	wrong.Text("before", &n.Before, ledger.MaxNote, "")
	n.Shape.Validate(func(field, says string) {
		if field != "form" && field != "sections" {
			field = n.Shape.Form + "." + field
		}
		wrong.Add(field, says)
	})
	_, err := ledger.Do(ctx, a.ledger, assemblyAdded, n.Form, n, func(q *query.Queries) (f shaped, err error) {
		if f.Shape, err = json.Marshal(n.Shape); err != nil {
			return f, err
		}
		if _, err := q.Airframe(ctx, n.Airframe); err != nil {
			return f, err
		}
		switch _, err := q.AssemblyNamed(ctx, query.AssemblyNamedParams{AirframeID: n.Airframe, Name: n.Name}); {
		case err == nil:
			wrong.Add("name", "there is one of that name already")
		case !errors.Is(ledger.Found(err), ledger.ErrNotFound):
			return f, err
		}
		return f, wrong.Err()
	})
	return err
}

// SchoolsOfAirframe says how the builder of an airframe works.
type SchoolsOfAirframe struct {
	ledger.Form
	Airframe string        `json:"airframe"` // id
	Schools  school.Choice `json:"schools"`
	Seen     int64         `json:"seen,omitempty"` // the entry that had changed it last when it was shown
}

// named is an airframe with what was chosen, in words.
type named struct {
	Name    string          `json:"name"`
	Says    string          `json:"says"`
	Schools json.RawMessage `json:"schools"`
}

var schoolsChosen = &ledger.Kind[SchoolsOfAirframe, named]{
	Name: "schools", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, s SchoolsOfAirframe, f named) error {
		return q.ChangeAirframeSchools(ctx, query.ChangeAirframeSchoolsParams{Schools: string(f.Schools), Revised: e.Seq, ID: s.Airframe})
	},
	Words: func(_ SchoolsOfAirframe, f named) ledger.Words {
		return ledger.Words{What: f.Name + ": " + f.Says}
	},
}

// ChooseSchools changes how an airframe is built. Checks that differ go on to differ.
func (a *Airframes) ChooseSchools(ctx context.Context, s SchoolsOfAirframe) error {
	_, err := ledger.Do(ctx, a.ledger, schoolsChosen, s.Form, s, func(q *query.Queries) (f named, err error) {
		for question, answer := range s.Schools {
			if !school.Known(question, answer) {
				return f, ledger.Problems{"schools": "choose one of the two"}
			}
		}
		row, err := q.Airframe(ctx, s.Airframe)
		if err != nil {
			return f, err
		}
		frame, err := From(row)
		if err != nil {
			return f, err
		}
		if s.Seen != frame.Revised {
			return f, ledger.Moved("other answers", SaySchools(frame.Schools))
		}
		f.Name, f.Says = frame.Name, SaySchools(s.Schools)
		f.Schools, err = json.Marshal(s.Schools)
		return f, err
	})
	return err
}

// SaySchools names the answers that were chosen.
func SaySchools(c school.Choice) string {
	var out []string
	for _, q := range school.Questions {
		for _, answer := range q.Answers {
			if answer.ID == c[q.ID] {
				out = append(out, strings.ToLower(q.Title)+": "+answer.Title)
			}
		}
	}
	return say.Join(out...)
}
