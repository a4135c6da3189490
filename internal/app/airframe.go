package app

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/quantity"
	"orpine/internal/core/school"
	"orpine/internal/store/query"
)

// Shape is what an assembly is drawn from, in millimetres in airframe axes
// (x aft from the firewall, y right, z up). Which dimensions it has depends on
// its form.
type Shape struct {
	Form string `json:"form"` // surface, fin, body, spar or mount

	// A surface lies level: from butt line Inner to Outer, on both sides when
	// Pair is set; its leading edge at station X at the inner end.
	X     float64 `json:"x,omitempty"`
	Z     float64 `json:"z,omitempty"`
	Inner float64 `json:"inner,omitempty"` // negative: on the left
	Outer float64 `json:"outer,omitempty"`
	Chord float64 `json:"chord,omitempty"`     // at the inner end, or of a fin's foot
	Tip   float64 `json:"tip_chord,omitempty"` // at the outer end, or of a fin's top
	Sweep float64 `json:"sweep,omitempty"`     // the outer leading edge lies so far aft of the inner
	Rise  float64 `json:"rise,omitempty"`      // of a fin: its height; of a surface: dihedral rise

	// A body or mount is a run of sections.
	Sections []Section `json:"sections,omitempty"`
}

// Section is a body's width and height at a station.
type Section struct {
	X      float64 `json:"x"`
	Half   float64 `json:"half"` // half its width
	Bottom float64 `json:"bottom"`
	Top    float64 `json:"top"`
}

// Airframe is one aircraft being built.
type Airframe struct {
	ID, Name, Description string
	Unit                  quantity.Unit // of bare lengths
	Schools               school.Choice // how its builder works
}

// Assembly is one part of it, with how far it is.
type Assembly struct {
	ID, Name string
	Shape    Shape
	Before   string // permanent before the record began, in the builder's words
	State    State
	Note     string // in a few words
	Setups   []Setup
	Holds    []Hold
}

// State is how far an assembly is.
type State string

// The states, as the Airframe drawing hatches them.
const (
	Loose     State = "loose"
	InSetup   State = "in a setup"
	Held      State = "held"
	Released  State = "released"
	Permanent State = "permanent"
	Owed      State = "owed an answer"
)

// Errand is something that can be done now, or that is held.
type Errand struct {
	What, Why string
	Path      string // where it is done: the id of a setup or a hold
	Hold      bool   // Path is a hold
	Check     string // id, when it is a reading
	Row       string // id, when it is holes to be set
}

// Home is the whole airframe at a glance.
type Home struct {
	Airframe   Airframe
	Others     []Airframe
	Assemblies []Assembly
	Now        []Errand
	Held       []Errand
	Closing    []Bay // spaces that will be closed, with what is still to be done inside
	Done       int   // assemblies that are permanent
}

// Airframes lists the aircraft in this workshop.
func (a *App) Airframes(ctx context.Context) (list []Airframe, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		list, err = airframes(ctx, q)
		return err
	})
	return list, err
}

func airframes(ctx context.Context, q *query.Queries) ([]Airframe, error) {
	rows, err := q.Airframes(ctx)
	if err != nil {
		return nil, err
	}
	list := make([]Airframe, len(rows))
	for i, r := range rows {
		if list[i], err = airframe(r); err != nil {
			return nil, err
		}
	}
	return list, nil
}

func airframe(r query.Airframe) (Airframe, error) {
	f := Airframe{ID: r.ID, Name: r.Name, Description: r.Description}
	if r.LengthUnit == "in" {
		f.Unit = quantity.Inch
	}
	if err := json.Unmarshal([]byte(r.Schools), &f.Schools); err != nil {
		return f, fmt.Errorf("reading how %s is built: %w", r.Name, err)
	}
	return f, nil
}

// Home gathers the airframe of that id ("": the first), its assemblies with
// their states, what can be done now and what is held.
func (a *App) Home(ctx context.Context, id string) (home Home, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		if home.Others, err = airframes(ctx, q); err != nil {
			return err
		}
		for _, f := range home.Others {
			if id == "" || f.ID == id {
				home.Airframe = f
				return a.assemblies(ctx, q, &home)
			}
		}
		return ErrNotFound
	})
	return home, err
}

// Assembly loads one assembly with its setups and holds.
func (a *App) Assembly(ctx context.Context, id string) (Airframe, Assembly, error) {
	var frame string
	err := a.view(ctx, func(q *query.Queries) error {
		row, err := q.Assembly(ctx, id)
		frame = row.AirframeID
		return err
	})
	if err != nil {
		return Airframe{}, Assembly{}, err
	}
	home, err := a.Home(ctx, frame)
	if err != nil {
		return Airframe{}, Assembly{}, err
	}
	for _, s := range home.Assemblies {
		if s.ID == id {
			return home.Airframe, s, nil
		}
	}
	return home.Airframe, Assembly{}, ErrNotFound
}

func (a *App) assemblies(ctx context.Context, q *query.Queries, home *Home) error {
	rows, err := q.Assemblies(ctx, home.Airframe.ID)
	if err != nil {
		return err
	}
	setups, err := q.Setups(ctx, home.Airframe.ID)
	if err != nil {
		return err
	}
	holds, err := q.Holds(ctx, home.Airframe.ID)
	if err != nil {
		return err
	}
	of := map[string]int{}
	for i, r := range rows {
		assembly := Assembly{ID: r.ID, Name: r.Name, Before: r.BeforeUs}
		if err := json.Unmarshal([]byte(r.Shape), &assembly.Shape); err != nil {
			return fmt.Errorf("reading the shape of %s: %w", r.Name, err)
		}
		home.Assemblies = append(home.Assemblies, assembly)
		of[r.ID] = i
	}
	for _, r := range setups {
		s, err := a.setup(ctx, q, r)
		if err != nil {
			return err
		}
		into := &home.Assemblies[of[r.AssemblyID]]
		into.Setups = append(into.Setups, s)
	}
	for _, r := range holds {
		into := &home.Assemblies[of[r.AssemblyID]]
		h, err := a.hold(ctx, q, r, into.Setups)
		if err != nil {
			return err
		}
		into.Holds = append(into.Holds, h)
	}
	for i := range home.Assemblies {
		home.Assemblies[i].judge()
		home.errands(home.Assemblies[i])
		bays, err := a.baysOf(ctx, q, home.Assemblies[i].ID)
		if err != nil {
			return err
		}
		for _, b := range bays {
			if !b.Hold.Done && len(b.State.Tasks) > 0 {
				home.Closing = append(home.Closing, b)
			}
		}
	}
	return nil
}

// judge finds how far the assembly is, from its setups and holds.
func (s *Assembly) judge() {
	s.State = Loose
	if len(s.Setups) > 0 {
		s.State, s.Note = InSetup, s.Setups[len(s.Setups)-1].Name
	}
	if s.Before != "" {
		s.State, s.Note = Permanent, s.Before
	}
	for _, h := range s.Holds {
		_, stopped := h.Judgement.Stop()
		switch {
		case h.Spent():
			s.State, s.Note = Permanent, h.Permanent
		case h.Released():
			s.State, s.Note = Released, "by "+h.Current().By+", "+h.Step
			return
		case stopped:
			s.State, s.Note = Owed, h.Judgement.Telling().Why
			return
		case h.Judgement.Standing == hold.Met:
			s.State, s.Note = Held, "ready to release"
			return
		case h.complete():
			s.State, s.Note = Held, h.Judgement.Worst().Why
			return
		default:
			s.State, s.Note = InSetup, h.Judgement.Worst().Why
			return
		}
	}
}

// errands adds what can be done now at an assembly, and what is held.
func (home *Home) errands(s Assembly) {
	for _, setup := range s.Setups {
		for _, c := range setup.Checks {
			if next, ok := c.Next(); ok {
				why := fmt.Sprintf("%d of %d taken", c.Taken, c.Wanted)
				if c.Stale > 0 {
					why = "stale since " + string(c.Disturbed)
				}
				home.Now = append(home.Now, Errand{What: s.Name + ": " + next.Say(), Why: why, Path: setup.ID, Check: c.ID})
				break // one thing at a time in one setup
			}
		}
	}
	for _, h := range s.Holds {
		first, left := h.Left()
		switch e := (Errand{What: s.Name + ": " + lower(h.Name), Why: h.Judgement.Telling().Why, Path: h.ID, Hold: true}); {
		case h.Spent():
		case h.Released() && left > 0:
			e.What, e.Why, e.Row = s.Name+": set "+first.Name, plural(left, "hole to go", "holes to go")+", released by "+h.Current().By, first.ID
			home.Now = append(home.Now, e)
		case h.Released():
			e.What, e.Why = "Record: "+lower(h.Name), "released by "+h.Current().By
			home.Now = append(home.Now, e)
		case h.Judgement.Standing == hold.Met:
			e.What, e.Why = "Release: "+lower(h.Name), "all that it asks for is shown"
			home.Now = append(home.Now, e)
		default:
			home.Held = append(home.Held, e)
		}
	}
	if s.State == Permanent {
		home.Done++
	}
}

// lower begins with a small letter, for the middle of a sentence.
func lower(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// NewAirframe is an aircraft to be added.
type NewAirframe struct {
	ID          string `json:"id"`
	Name        string `json:"name"`
	Description string `json:"description"`
	Unit        string `json:"unit"` // mm or in
}

// AddAirframe adds an aircraft.
func (a *App) AddAirframe(ctx context.Context, n NewAirframe) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("name", &n.Name, maxName, "what is the aircraft called?")
	wrong.text("description", &n.Description, maxNote, "")
	if n.Unit != "mm" && n.Unit != "in" {
		wrong.Add("unit", "mm or in?")
	}
	list, err := a.Airframes(ctx)
	if err != nil {
		return err
	}
	for _, f := range list {
		if f.Name == n.Name && f.ID != n.ID {
			wrong.Add("name", "there is one of that name already")
		}
	}
	if err := wrong.err(); err != nil {
		return err
	}
	return a.record(ctx, deed{n.ID, journal.Created, "", n, map[string]any{"what": "airframe", "name": n.Name}}, func(q *query.Queries, entry int64) error {
		return q.AddAirframe(ctx, query.AddAirframeParams{ID: n.ID, Name: n.Name, Description: n.Description, LengthUnit: n.Unit, Entry: entry})
	})
}

// NewAssembly is an assembly to be added. Before says what had become permanent
// before the record began; empty for a part that is still loose.
type NewAssembly struct {
	ID       string `json:"id"`
	Airframe string `json:"airframe"`
	Name     string `json:"name"`
	Shape    Shape  `json:"shape"`
	Before   string `json:"before"`
}

// AddAssembly adds an assembly to an airframe.
func (a *App) AddAssembly(ctx context.Context, n NewAssembly) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("name", &n.Name, maxName, "what is the assembly called?")
	wrong.text("before", &n.Before, maxNote, "")
	n.Shape.validate(wrong)
	if err := wrong.err(); err != nil {
		return err
	}
	shape, err := json.Marshal(n.Shape)
	if err != nil {
		return err
	}
	return a.record(ctx, deed{n.ID, journal.Created, "", n, map[string]any{"what": "assembly", "name": n.Name, "before": n.Before}}, func(q *query.Queries, entry int64) error {
		list, err := q.Assemblies(ctx, n.Airframe)
		if err != nil {
			return err
		}
		for _, s := range list {
			if s.Name == n.Name {
				return Problems{"name": "there is one of that name already"}
			}
		}
		return q.AddAssembly(ctx, query.AddAssemblyParams{ID: n.ID, AirframeID: n.Airframe, Name: n.Name, Shape: string(shape), BeforeUs: n.Before, Entry: entry})
	})
}

// validate refuses a shape that cannot be drawn.
func (s Shape) validate(wrong Problems) {
	switch s.Form {
	case "surface", "spar":
		if s.Outer == s.Inner {
			wrong.Add("outer", "the span is missing")
		}
		if s.Chord <= 0 {
			wrong.Add("chord", "must be above 0")
		}
	case "fin":
		if s.Rise <= 0 {
			wrong.Add("rise", "the height must be above 0")
		}
		if s.Chord <= 0 {
			wrong.Add("chord", "must be above 0")
		}
	case "body", "mount":
		if len(s.Sections) < 2 {
			wrong.Add("sections", "two sections or more are needed")
		}
	default:
		wrong.Add("form", "what shape is it: surface, fin or body?")
	}
}
