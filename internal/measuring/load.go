package measuring

import (
	"context"
	"encoding/json"
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

// setup loads a setup with all its checks.
func (l loader) setup(ctx context.Context, row query.Setup) (Setup, error) {
	s, tools, err := l.around(ctx, row)
	if err != nil {
		return s, err
	}
	checks, err := l.q.Checks(ctx, row.ID)
	if err != nil {
		return s, fmt.Errorf("reading the checks of %s: %w", s.Title(), err)
	}
	counting, err := l.q.CountingOfSetup(ctx, row.ID)
	if err != nil {
		return s, fmt.Errorf("reading the readings of %s: %w", s.Title(), err)
	}
	gone, err := l.q.StaleOfSetup(ctx, row.ID)
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
		loaded, err := l.check(s, c, readings[c.ID], stale[c.ID], tools)
		if err != nil {
			return s, err
		}
		s.Checks = append(s.Checks, loaded)
	}
	return s, nil
}

// one loads a check in its setup, without the others.
func (l loader) one(ctx context.Context, id string) (s Setup, c Check, err error) {
	row, err := l.q.Check(ctx, id)
	if err != nil {
		return s, c, ledger.Found(err)
	}
	setup, err := l.q.Setup(ctx, row.SetupID)
	if err != nil {
		return s, c, err
	}
	s, tools, err := l.around(ctx, setup)
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
	c, err = l.check(s, row, counting, stale, tools)
	s.Checks = []Check{c}
	return s, c, err
}

// around loads what a setup stands in.
func (l loader) around(ctx context.Context, row query.Setup) (s Setup, tools []instrument.Instrument, err error) {
	s = Setup{ID: row.ID, Name: row.Name, AssemblyID: row.AssemblyID.String, State: row.State, Steady: l.when(row.SteadyAt), tools: map[string]instrument.Instrument{}}
	if s.AssemblyID != "" {
		frame, assembly, err := airframe.Of(ctx, l.q, s.AssemblyID)
		if err != nil {
			return s, nil, fmt.Errorf("reading what %s is a setup of: %w", s.Name, err)
		}
		s.Airframe, s.AssemblyName, s.Shape = frame, assembly.Name, assembly.Shape
	}
	if s.State > 1 {
		event, err := l.q.LastEvent(ctx, row.ID)
		if err != nil {
			return s, nil, fmt.Errorf("reading what happened to %s: %w", s.Title(), err)
		}
		s.Last = measure.Event(event.What)
	}
	if tools, err = instrument.List(ctx, l.q, l.when); err != nil {
		return s, nil, err
	}
	for _, in := range tools {
		s.tools[in.Name] = in
	}
	return s, tools, nil
}

// staleRow is a reading that went stale.
type staleRow struct{ list, point, field, text, event string }

// check makes a check of its row and readings.
func (l loader) check(s Setup, row query.Check, counting []query.Reading, stale []staleRow, tools []instrument.Instrument) (Check, error) {
	d, errs := worksheet.ParseDefinition([]byte(row.Definition), s.Airframe.Unit)
	walker, ok := d.Input.(measure.Walker)
	if len(errs) > 0 || !ok {
		return Check{}, fmt.Errorf("the check %q cannot be read: %v", row.Name, errs)
	}
	c := Check{SetupID: row.SetupID, Instrument: row.InstrumentID.String, Limits: d.Limits, Redefined: row.Redefined, Revised: row.Revised}
	c.Check = check.Check{ID: row.ID, Name: row.Name, Kind: d.Kind, Input: walker, AfterOf: row.AfterOf.String}
	for _, kept := range []struct {
		text string
		into any
	}{{row.Accepts, &c.Accepts}, {row.Schools, &c.Schools}, {row.Definition, &c.Definition}} {
		if err := json.Unmarshal([]byte(kept.text), kept.into); err != nil {
			return c, fmt.Errorf("reading the check %q: %w", row.Name, err)
		}
	}
	c.Judged = c.Schools.Over(s.Airframe.Schools)
	if t, ok := c.Input.(*measure.Twist); ok {
		c.Held = t.Held
		if c.Judged.Answer(school.Bench) == school.Trued {
			t.Held = false // the bench is straight, so that there is nothing to take off
		}
	}
	at := map[check.Key]int{}
	for i, spot := range walker.Walk() {
		c.Spots = append(c.Spots, check.Spot{Spot: spot, Number: i + 1})
		at[c.Spots[i].Key()] = i
	}
	for _, r := range counting {
		i, ok := at[check.Key{List: r.List, Point: r.Point, Field: r.Field}]
		if !ok {
			continue
		}
		in, _ := instrument.ByID(tools, r.InstrumentID)
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
