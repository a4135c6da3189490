package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/school"
	"orpine/internal/store"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Setup is one placing of an assembly, with its checks.
type Setup struct {
	ID, Name     string
	Airframe     Airframe
	AssemblyID   string
	AssemblyName string
	Shape        Shape
	State        int64     // counts the events since it was begun
	Steady       time.Time // since when nothing has disturbed it
	Events       []Event   // the last one first
	Checks       []Check
}

// Event is something that disturbed a setup.
type Event struct {
	ID   string
	What measure.Event
	At   time.Time
}

// Check returns the check of that id.
func (s Setup) Check(id string) (Check, bool) {
	i := slices.IndexFunc(s.Checks, func(c Check) bool { return c.ID == id })
	if i < 0 {
		return Check{}, false
	}
	return s.Checks[i], true
}

// Setup loads a setup and works out its checks.
func (a *App) Setup(ctx context.Context, id string) (s Setup, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		row, err := q.Setup(ctx, id)
		if err != nil {
			return err
		}
		s, err = a.setup(ctx, q, row)
		return err
	})
	return s, err
}

// Sheet is a setup with what its page needs beside it.
type Sheet struct {
	Setup
	Holds       []Hold // that it is measured for
	Instruments []Instrument
}

// Sheet loads a setup with its holds and the instruments on hand.
func (a *App) Sheet(ctx context.Context, id string) (s Sheet, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		row, err := q.Setup(ctx, id)
		if err != nil {
			return err
		}
		if s.Setup, err = a.setup(ctx, q, row); err != nil {
			return err
		}
		if s.Instruments, err = a.instruments(ctx, q); err != nil {
			return err
		}
		holds, err := q.Holds(ctx, s.Airframe.ID)
		if err != nil {
			return err
		}
		for _, h := range holds {
			if h.SetupID.String != id {
				continue
			}
			loaded, err := a.hold(ctx, q, h, []Setup{s.Setup})
			if err != nil {
				return err
			}
			s.Holds = append(s.Holds, loaded)
		}
		return nil
	})
	return s, err
}

// setup loads a setup and works out its checks.
func (a *App) setup(ctx context.Context, q *query.Queries, row query.Setup) (Setup, error) {
	s, err := a.unsolved(ctx, q, row)
	for i := range s.Checks {
		s.Checks[i].solve(s.Airframe.Unit)
	}
	return s, err
}

// unsolved loads a setup with its readings, without what they say.
func (a *App) unsolved(ctx context.Context, q *query.Queries, row query.Setup) (Setup, error) {
	s := Setup{ID: row.ID, Name: row.Name, AssemblyID: row.AssemblyID, State: row.State, Steady: a.when(row.SteadyAt)}
	assembly, err := q.Assembly(ctx, row.AssemblyID)
	if err != nil {
		return s, err
	}
	s.AssemblyName = assembly.Name
	if err := json.Unmarshal([]byte(assembly.Shape), &s.Shape); err != nil {
		return s, fmt.Errorf("reading the shape of %s: %w", assembly.Name, err)
	}
	frame, err := q.Airframe(ctx, assembly.AirframeID)
	if err != nil {
		return s, err
	}
	if s.Airframe, err = airframe(frame); err != nil {
		return s, err
	}
	events, err := q.EventsOfSetup(ctx, row.ID)
	if err != nil {
		return s, err
	}
	for _, e := range events {
		s.Events = slices.Insert(s.Events, 0, Event{e.ID, measure.Event(e.What), a.when(e.At)})
	}
	instruments, err := a.instruments(ctx, q)
	if err != nil {
		return s, err
	}
	readings, err := q.ReadingsOfSetup(ctx, row.ID)
	if err != nil {
		return s, err
	}
	checks, err := q.Checks(ctx, row.ID)
	if err != nil {
		return s, err
	}
	for _, c := range checks {
		check, err := a.check(s, c, readings, instruments)
		if err != nil {
			return s, err
		}
		s.Checks = append(s.Checks, check)
	}
	return s, nil
}

// SomethingMoved ends the present state of a setup.
type SomethingMoved struct {
	ID    string        `json:"-"`
	Setup string        `json:"setup"` // id
	What  measure.Event `json:"what"`
}

// SomethingMoved records the event: the readings that it disturbs turn stale,
// and releases that were not spent lapse.
func (a *App) SomethingMoved(ctx context.Context, e SomethingMoved) error {
	defer a.alone()()
	if !e.What.Known() {
		return Problems{"what": "what was it? Choose one of the list"}
	}
	s, err := a.Setup(ctx, e.Setup)
	if err != nil {
		return err
	}
	facts := map[string]any{"setup": s.title(), "stale": s.disturbed(e.What)}
	return a.record(ctx, deed{e.ID, journal.Event, "", e, facts}, func(q *query.Queries, entry int64) error {
		return a.happen(ctx, q, e.ID, s, e.What, entry)
	})
}

// title names the setup and its assembly.
func (s Setup) title() string { return s.AssemblyName + " " + s.Name }

// disturbed are the ids of the readings that an event makes stale.
func (s Setup) disturbed(what measure.Event) []string {
	ids := []string{}
	for _, c := range s.Checks {
		if !c.Kind.Disturbed(what, c.Input) {
			continue
		}
		for _, spot := range c.Spots {
			for _, r := range spot.Counting() {
				ids = append(ids, r.ID)
			}
		}
	}
	return ids
}

// happen writes an event and what follows from it.
func (a *App) happen(ctx context.Context, q *query.Queries, id string, s Setup, what measure.Event, entry int64) error {
	now := store.Time(a.now())
	if err := q.AddEvent(ctx, query.AddEventParams{ID: id, SetupID: s.ID, What: string(what), At: now, Entry: entry}); err != nil {
		return err
	}
	for _, reading := range s.disturbed(what) {
		if err := q.MakeStale(ctx, query.MakeStaleParams{StaleEvent: reference(id), ID: reading}); err != nil {
			return err
		}
	}
	for _, need := range []hold.Need{hold.Prepared, hold.Seconded} {
		if need.Outlasts(what) {
			continue
		}
		if err := q.MakeLooksStale(ctx, query.MakeLooksStaleParams{Event: reference(id), Need: string(need), Assembly: s.AssemblyID}); err != nil {
			return err
		}
	}
	if what.Lapses() {
		if err := q.LapseReleases(ctx, query.LapseReleasesParams{Event: reference(id), Setup: reference(s.ID), Assembly: s.AssemblyID}); err != nil {
			return err
		}
	}
	return q.NextState(ctx, query.NextStateParams{SteadyAt: now, ID: s.ID})
}

// NewSetup is a placing to be measured, with its checks and the hold that they
// are for.
type NewSetup struct {
	ID       string     `json:"id"`
	Assembly string     `json:"assembly"` // id
	Name     string     `json:"name"`     // "on the rails"
	Checks   []NewCheck `json:"checks"`
	Hold     *NewHold   `json:"hold,omitempty"`
	Pins     bool       `json:"pins,omitempty"` // two holds in series: the pin holes, then, measured again, all holes
}

// NewCheck is a check of a new setup: a worksheet check without readings.
type NewCheck struct {
	Name       string         `json:"name"`
	Definition map[string]any `json:"definition"`
	Instrument string         `json:"instrument,omitempty"` // id of the one offered first
	Accepts    []string       `json:"accepts,omitempty"`    // conditions; nil: all but pushed by hand
}

// NewHold is the irreversible step that a setup is measured for.
type NewHold struct {
	Name      string             `json:"name"`
	Step      string             `json:"step"`
	Permanent string             `json:"permanent"`
	Why       string             `json:"why"`
	Required  []hold.Requirement `json:"required"` // Check is the number of a check, from 0
}

// BeginSetup begins a setup.
func (a *App) BeginSetup(ctx context.Context, n NewSetup) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("name", &n.Name, maxName, "where is it: on the rails, on the bench?")
	if len(n.Checks) == 0 {
		wrong.Add("checks", "a setup has one check or more")
	}
	var frame Airframe
	var name string
	err := a.view(ctx, func(q *query.Queries) error {
		assembly, err := q.Assembly(ctx, n.Assembly)
		if err != nil {
			return err
		}
		name = assembly.Name
		row, err := q.Airframe(ctx, assembly.AirframeID)
		if err != nil {
			return err
		}
		frame, err = airframe(row)
		return err
	})
	if err != nil {
		return err
	}
	for i, c := range n.Checks {
		c.Definition["name"] = c.Name
		c.validate(fmt.Sprintf("checks[%d]", i), frame, wrong)
		for _, condition := range c.Accepts {
			if !slices.Contains(Conditions, condition) {
				wrong.Add("checks", condition+" is not a condition that a part is read in")
			}
		}
	}
	if n.Hold != nil {
		n.Hold.validate(len(n.Checks), wrong)
		n.Pins = n.Pins && hold.Step(n.Hold.Step).Drills()
	}
	if err := wrong.err(); err != nil {
		return err
	}
	return a.record(ctx, deed{n.ID, journal.Created, "", n, map[string]any{"what": "setup", "name": name + " " + n.Name}}, func(q *query.Queries, entry int64) error {
		return a.writeSetup(ctx, q, n, entry)
	})
}

// tryWith are the instruments that a check is tried with before it is begun.
var tryWith = map[string]Instrument{"a tape": {Resolution: "1 mm"}, "a level": {Angle: true, Resolution: "0.1"}}

// tryReading is a reading that any check takes, at any spot.
func tryReading(s measure.Spot) (any, bool) {
	if s.Sense == "figure" {
		return "1 mm", true
	}
	if s.Dimension == measure.Length {
		return map[string]any{"value": "1 mm", "instrument": "a tape"}, true
	}
	return map[string]any{"value": 0, "instrument": "a level"}, true
}

// validate tries the check with a reading everywhere.
func (c NewCheck) validate(path string, frame Airframe, wrong Problems) {
	data, err := json.Marshal(c.Definition)
	if err != nil {
		wrong.Add(path, err.Error())
		return
	}
	d, errs := worksheet.ParseDefinition(data, frame.Unit)
	if len(errs) == 0 {
		walker, ok := d.Input.(measure.Walker)
		if !ok {
			wrong.Add(path, "this kind of check cannot be measured on a screen yet")
			return
		}
		var definition map[string]any
		if err := json.Unmarshal(data, &definition); err != nil {
			wrong.Add(path, err.Error())
			return
		}
		filled, _ := fill(definition, walker.Walk(), tryReading)
		_, errs = worksheet.Parse(document(frame.Unit, frame.Schools, tryWith, filled))
	}
	for _, e := range errs {
		wrong.Add(strings.TrimSuffix(path+"."+e.Path, "."), e.Message)
	}
}

func (n NewHold) validate(checks int, wrong Problems) {
	wrong.text("hold", &n.Name, maxName, "what is it measured for?")
	if !slices.Contains(hold.Steps, hold.Step(n.Step)) {
		wrong.Add("step", "which irreversible step is it?")
	}
	for _, r := range n.Required {
		var i int
		if _, err := fmt.Sscanf(r.Check, "%d", &i); err != nil || i < 0 || i >= checks {
			wrong.Add("hold", "it asks for a check that is not there")
		}
	}
}

func (a *App) writeSetup(ctx context.Context, q *query.Queries, n NewSetup, entry int64) error {
	now := store.Time(a.now())
	if err := q.AddSetup(ctx, query.AddSetupParams{ID: n.ID, AssemblyID: n.Assembly, Name: n.Name, BegunAt: now, SteadyAt: now, Entry: entry}); err != nil {
		return err
	}
	checkID := func(number string) string { return n.ID + "-check-" + number }
	for i, c := range n.Checks {
		if err := addCheck(ctx, q, n.ID, checkID(fmt.Sprint(i)), int64(i), c, "", entry); err != nil {
			return err
		}
	}
	if n.Hold == nil {
		return nil
	}
	first := *n.Hold
	first.Required = slices.Clone(n.Hold.Required)
	for i := range first.Required {
		first.Required[i].Check = checkID(first.Required[i].Check)
	}
	if !n.Pins {
		return addHold(ctx, q, n.ID+"-hold", n.Assembly, n.ID, first, "", entry)
	}
	all := first
	all.Required = []hold.Requirement{{Need: hold.Before, Of: n.ID + "-hold"}}
	for _, r := range first.Required {
		if r.Need == hold.Shown {
			r.Need = hold.Again
			all.Required = append(all.Required, r)
		}
	}
	all.Name = "All holes: " + lower(first.Name)
	first.Name, first.Permanent = "Pin holes first: "+lower(first.Name), "the pin holes of "+first.Permanent
	if err := addHold(ctx, q, n.ID+"-hold", n.Assembly, n.ID, first, "pins", entry); err != nil {
		return err
	}
	return addHold(ctx, q, n.ID+"-hold-all", n.Assembly, n.ID, all, "", entry)
}

// addCheck writes a check of a setup; after is the id of the check that it repeats.
func addCheck(ctx context.Context, q *query.Queries, setup, id string, position int64, c NewCheck, after string, entry int64) error {
	data, err := json.Marshal(c.Definition)
	if err != nil {
		return err
	}
	if c.Accepts == nil {
		c.Accepts = acceptable
	}
	accepts, err := json.Marshal(c.Accepts)
	if err != nil {
		return err
	}
	return q.AddCheck(ctx, query.AddCheckParams{ID: id, SetupID: setup, Position: position, Name: c.Name, Definition: string(data),
		InstrumentID: reference(c.Instrument), Accepts: string(accepts), Schools: "{}", AfterOf: reference(after), Entry: entry})
}

// Export writes a setup as a worksheet: the readings that count, as typed.
func (a *App) Export(ctx context.Context, setup string) ([]byte, error) {
	s, err := a.Setup(ctx, setup)
	if err != nil {
		return nil, err
	}
	instruments := map[string]Instrument{}
	var checks []map[string]any
	judged := school.Choice{school.Limits: school.Plain} // one rule for a worksheet: guarded unless every check is plain
	for _, c := range s.Checks {
		if c.filled == nil {
			continue
		}
		if c.Judged.Answer(school.Limits) == school.Guarded {
			judged[school.Limits] = school.Guarded
		}
		checks = append(checks, c.filled)
		for _, in := range c.Used {
			instruments[in.Name] = in
		}
	}
	var indented any
	if err := json.Unmarshal(document(s.Airframe.Unit, judged, instruments, checks...), &indented); err != nil {
		return nil, err
	}
	return json.MarshalIndent(indented, "", "  ")
}
