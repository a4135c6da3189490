package measuring

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/school"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// loader reads setups and checks; when reads kept times.
type loader struct {
	q    *query.Queries
	when func(kept string) time.Time
}

// placed is the row of a setup with what it is a setup of.
type placed query.SetupRow

// setup loads a setup with all its checks.
func (l loader) setup(ctx context.Context, row placed) (Setup, error) {
	s, err := l.around(ctx, row)
	if err != nil {
		return s, err
	}
	checks, err := l.q.Checks(ctx, s.ID)
	if err != nil {
		return s, fmt.Errorf("reading the checks of %s: %w", s.Title(), err)
	}
	counting, err := l.q.CountingOfSetup(ctx, s.ID)
	if err != nil {
		return s, fmt.Errorf("reading the readings of %s: %w", s.Title(), err)
	}
	gone, err := l.q.StaleOfSetup(ctx, s.ID)
	if err != nil {
		return s, fmt.Errorf("reading the readings of %s: %w", s.Title(), err)
	}
	readings := map[string][]query.Reading{}
	for _, r := range counting {
		readings[r.CheckID] = append(readings[r.CheckID], r)
	}
	stale := map[string][]staleRow{}
	for _, r := range gone {
		stale[r.CheckID] = append(stale[r.CheckID], staleRow{r.List, r.Point, r.Field, r.Text, r.Event})
	}
	for _, c := range checks {
		loaded, err := l.check(s, c, readings[c.ID], stale[c.ID])
		if err != nil {
			return s, err
		}
		s.Checks = append(s.Checks, loaded)
	}
	return s, nil
}

// one loads a check in its setup, without the others.
func (l loader) one(ctx context.Context, id string) (s Setup, c Check, err error) {
	found, err := l.q.Check(ctx, id)
	if err != nil {
		return s, c, ledger.Found(err)
	}
	row := found.Check
	s, err = l.around(ctx, placed{found.Setup, found.Assembly, found.Shape, found.Frame, found.FrameName, found.LengthUnit, found.FrameSchools, found.FrameRevised})
	if err != nil {
		return s, c, err
	}
	counting, err := l.q.CountingOfCheck(ctx, id)
	if err != nil {
		return s, c, fmt.Errorf("reading the readings of %s: %w", row.Name, err)
	}
	gone, err := l.q.StaleOfCheck(ctx, id)
	if err != nil {
		return s, c, fmt.Errorf("reading the readings of %s: %w", row.Name, err)
	}
	stale := make([]staleRow, len(gone))
	for i, r := range gone {
		stale[i] = staleRow{r.List, r.Point, r.Field, r.Text, r.Event}
	}
	c, err = l.check(s, row, counting, stale)
	s.Checks = []Check{c}
	return s, c, err
}

// around loads what a setup stands in.
func (l loader) around(ctx context.Context, row placed) (s Setup, err error) {
	s = Setup{ID: row.Setup.ID, Name: row.Setup.Name, AssemblyID: row.Setup.AssemblyID.String, AssemblyName: row.Assembly, State: row.Setup.State, Steady: l.when(row.Setup.SteadyAt), Last: measure.Event(row.Setup.LastEvent)}
	if s.Airframe, err = airframe.From(query.Airframe{ID: row.Frame, Name: row.FrameName, LengthUnit: row.LengthUnit, Schools: row.FrameSchools, Revised: row.FrameRevised}); err != nil {
		return s, err
	}
	if err := json.Unmarshal([]byte(row.Shape), &s.Shape); err != nil {
		return s, fmt.Errorf("reading the shape of %s: %w", row.Assembly, err)
	}
	s.Instruments, err = instrument.List(ctx, l.q, l.when)
	return s, err
}

// tool is the instrument of that name.
func (s Setup) tool(name string) instrument.Instrument {
	for _, in := range s.Instruments {
		if in.Name == name {
			return in
		}
	}
	return instrument.Instrument{}
}

// staleRow is a reading that went stale.
type staleRow struct{ list, point, field, text, event string }

// definition is a definition that was read. It is shared, and not changed any more.
type definition struct {
	worksheet.Definition
	walker measure.Walker
	tree   map[string]any
}

// definitions are those of late, by the unit of bare lengths and their text.
var definitions = newCache[string, definition]()

func definitionOf(text string, unit quantity.Unit) (d definition, err error) {
	key := unit.String() + text
	d, ok := definitions.Get(key)
	if ok {
		return d, nil
	}
	var errs []worksheet.Error
	if d.Definition, errs = worksheet.ParseDefinition([]byte(text), unit); len(errs) > 0 {
		return d, fmt.Errorf("%v", errs)
	}
	if d.walker, ok = d.Input.(measure.Walker); !ok {
		return d, errors.New("its kind cannot be measured on a screen")
	}
	if err := json.Unmarshal([]byte(text), &d.tree); err != nil {
		return d, err
	}
	definitions.Add(key, d)
	return d, nil
}

// check makes a check of its row and readings.
func (l loader) check(s Setup, row query.Check, counting []query.Reading, stale []staleRow) (Check, error) {
	d, err := definitionOf(row.Definition, s.Airframe.Unit)
	if err != nil {
		return Check{}, fmt.Errorf("the check %q cannot be read: %w", row.Name, err)
	}
	c := Check{SetupID: row.SetupID, Instrument: row.InstrumentID.String, Limits: d.Limits, Redefined: row.Redefined, Revised: row.Revised, Definition: d.tree, defined: row.Definition}
	c.Check = check.Check{ID: row.ID, Name: row.Name, Kind: d.Kind, Input: d.walker, AfterOf: row.AfterOf.String}
	for _, kept := range []struct {
		text string
		into any
	}{{row.Accepts, &c.Accepts}, {row.Schools, &c.Schools}} {
		if err := json.Unmarshal([]byte(kept.text), kept.into); err != nil {
			return c, fmt.Errorf("reading the check %q: %w", row.Name, err)
		}
	}
	c.Judged = c.Schools.Over(s.Airframe.Schools)
	if t, ok := c.Input.(*measure.Twist); ok {
		c.Held = t.Held
		if c.Judged.Answer(school.Bench) == school.Trued {
			trued := *t
			trued.Held = false // the bench is straight, so that there is nothing to take off
			c.Input = &trued
		}
	}
	at := map[check.Key]int{}
	for i, spot := range c.Input.Walk() {
		c.Spots = append(c.Spots, check.Spot{Spot: spot, Number: i + 1})
		at[c.Spots[i].Key()] = i
	}
	for _, r := range counting {
		i, ok := at[check.Key{List: r.List, Point: r.Point, Field: r.Field}]
		if !ok {
			continue
		}
		in, _ := instrument.ByID(s.Instruments, r.InstrumentID)
		c.Spots[i].Readings = append(c.Spots[i].Readings, check.Reading{ID: r.ID, Text: r.Text, Value: r.Value, Instrument: in.Name, Turned: r.Turned == 1, Condition: r.Condition, At: l.when(r.At)})
		if !slices.ContainsFunc(c.Used, func(t check.Tool) bool { return t.ID == in.ID }) {
			c.Used = append(c.Used, in.Tool())
		}
	}
	for _, r := range stale {
		if i, ok := at[check.Key{List: r.list, Point: r.point, Field: r.field}]; ok {
			c.Spots[i].Gone = &check.Stale{Text: r.text, Event: measure.Event(r.event)}
		}
	}
	c.Tally()
	return c, nil
}

// unit is that of bare lengths.
func (s Setup) unit() quantity.Unit { return s.Airframe.Unit }
