package measuring

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
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
	versions := make([]version, len(checks))
	for i, c := range checks {
		versions[i] = version{c.Check.ID, c.Version}
	}
	readings, err := l.readings(ctx, s.State > 1, versions...)
	if err != nil {
		return s, err
	}
	for i, c := range checks {
		loaded, err := l.check(s, c.Check, readings[versions[i]])
		if err != nil {
			return s, err
		}
		s.Checks = append(s.Checks, loaded)
	}
	return s, l.closing(ctx, &s)
}

// closing loads the end-for-end tests of levels that were turned once more after a reading,
// so that their zero can be told in between, or that were read long after their test.
func (l loader) closing(ctx context.Context, s *Setup) (err error) {
	var ids []string
	s.zeros = map[string]instrument.Zeros{}
	for _, c := range s.Checks {
		for _, tool := range c.Used {
			if !tool.Angle || !tool.Zeroed || s.zeros[tool.ID] != nil {
				continue
			}
			in := s.tool(tool.Name)
			s.zeros[tool.ID] = instrument.Zeros{{Zero: in.Zero, At: in.ZeroAt}} // all that is needed of what was read after it
			each(s.Checks, tool.Name, func(r check.Reading) {
				if r.At.Before(in.ZeroAt) && !slices.Contains(ids, tool.ID) {
					ids = append(ids, tool.ID)
				}
			})
		}
	}
	found, err := instrument.ZerosOf(ctx, l.q, l.when, ids...)
	maps.Copy(s.zeros, found)
	return err
}

// version is a check as an entry left it; the hash of the entry tells it from every
// other.
type version struct{ check, hash string }

// readings are those of a version of a check: the ones that count, and the last stale one
// at each spot. They are shared, and not changed any more.
type readings struct {
	counting []query.Reading
	stale    []query.StaleRow
}

// lately are the readings of the versions of late: an entry, what is worked out of it and
// the page after it ask for the same.
var lately = ledger.Lately[version, readings]()

// readings loads those of versions of checks; in a setup that nothing has disturbed none
// is stale.
func (l loader) readings(ctx context.Context, disturbed bool, versions ...version) (map[version]readings, error) {
	out := map[version]readings{}
	at := map[string]version{}
	var missing []string
	for _, v := range versions {
		if kept, ok := lately.Get(v); ok {
			out[v] = kept
			continue
		}
		out[v], at[v.check] = readings{}, v
		missing = append(missing, v.check)
	}
	if len(missing) == 0 {
		return out, nil
	}
	counting, err := l.q.Counting(ctx, missing)
	if err != nil {
		return nil, fmt.Errorf("reading the readings: %w", err)
	}
	for _, r := range counting {
		of := out[at[r.CheckID]]
		of.counting = append(of.counting, r)
		out[at[r.CheckID]] = of
	}
	var stale []query.StaleRow
	if disturbed {
		if stale, err = l.q.Stale(ctx, missing); err != nil {
			return nil, fmt.Errorf("reading the readings that went stale: %w", err)
		}
	}
	for _, r := range stale {
		of := out[at[r.CheckID]]
		of.stale = append(of.stale, r)
		out[at[r.CheckID]] = of
	}
	for _, v := range at {
		lately.Add(v, out[v])
	}
	return out, nil
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
	v := version{id, found.Version}
	all, err := l.readings(ctx, s.State > 1, v)
	if err != nil {
		return s, c, err
	}
	if c, err = l.check(s, row, all[v]); err != nil {
		return s, c, err
	}
	s.Checks = []Check{c}
	if c.Survey != "" { // what it lies on says its slope
		_, survey, err := l.one(ctx, c.Survey)
		if err != nil {
			return s, c, err
		}
		s.Checks = append(s.Checks, survey)
	}
	return s, c, l.closing(ctx, &s)
}

// around loads what a setup stands in.
func (l loader) around(ctx context.Context, row placed) (s Setup, err error) {
	s = Setup{ID: row.Setup.ID, Name: row.Setup.Name, AssemblyID: row.Setup.AssemblyID.String, AssemblyName: row.Assembly, State: row.Setup.State, Steady: l.when(row.Setup.SteadyAt), Last: measure.Event(row.Setup.LastEvent),
		Material: row.Setup.Material, Temperature: row.Setup.Temperature}
	if s.Airframe, err = airframe.From(query.Airframe{ID: row.Frame, Name: row.FrameName, LengthUnit: row.LengthUnit, Schools: row.FrameSchools, Revised: row.FrameRevised}); err != nil {
		return s, err
	}
	if row.Setup.Unit == quantity.Inch.String() {
		s.Airframe.Unit = quantity.Inch
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

// definition is a definition that was read. It is shared, and not changed any more.
type definition struct {
	worksheet.Definition
	walker measure.Walker
	tree   map[string]any
}

// definitions are those of late, by the unit of bare lengths and their text.
var definitions = ledger.Lately[string, definition]()

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
func (l loader) check(s Setup, row query.Check, kept readings) (Check, error) {
	d, err := definitionOf(row.Definition, s.Airframe.Unit)
	if err != nil {
		return Check{}, fmt.Errorf("the check %q cannot be read: %w", row.Name, err)
	}
	c := Check{SetupID: row.SetupID, Survey: row.Survey, Instrument: row.InstrumentID.String, Limits: d.Limits, Redefined: row.Redefined, Revised: row.Revised, Definition: d.tree, defined: row.Definition, firstLimits: row.FirstLimits}
	c.Check = check.Check{ID: row.ID, Name: row.Name, Kind: d.Kind, Input: d.walker, AfterOf: row.AfterOf.String}
	var nobody []string
	for _, column := range []struct {
		text string
		into any
	}{{row.Accepts, &c.Accepts}, {row.Schools, &c.Schools}, {row.Assumed, &nobody}} {
		if err := json.Unmarshal([]byte(column.text), column.into); err != nil {
			return c, fmt.Errorf("reading the check %q: %w", row.Name, err)
		}
	}
	c.unstated(nobody)
	c.LimitsLate = row.LimitsSet > 0 && slices.ContainsFunc(kept.counting, func(r query.Reading) bool { return r.Entry < row.LimitsSet })
	c.Judged = c.Schools.Over(s.Airframe.Schools)
	c.Assumed = assumed(d.tree)
	if t, ok := c.Input.(*measure.Twist); ok {
		c.Held = t.Held
		_, said := d.tree["held"]
		c.Lies = liesAs(d.tree)
		c.Unlaid = !said && c.Judged.Answer(school.Bench) != school.Trued
		if c.Judged.Answer(school.Bench) == school.Trued {
			trued := *t
			trued.Held = false // the bench is straight, so that there is nothing to take off
			c.Input = &trued
		}
	}
	at := map[check.Key]int{}
	for _, spot := range c.Input.Walk() {
		if c.Survey != "" && spot.Field == "support" {
			continue // the survey says it
		}
		i := len(c.Spots)
		s := check.Spot{Spot: spot, Number: i + 1}
		if a, ok := c.Input.(measure.Aided); ok {
			s.Aid = a.Aid(spot)
		}
		c.Spots = append(c.Spots, s)
		at[c.Spots[i].Key()] = i
	}
	for _, r := range kept.counting {
		i, ok := at[check.Key{List: r.List, Point: r.Point, Field: r.Field}]
		if !ok {
			continue
		}
		in, _ := instrument.ByID(s.Instruments, r.InstrumentID)
		c.Spots[i].Readings = append(c.Spots[i].Readings, check.Reading{ID: r.ID, Text: r.Text, Value: r.Value, Instrument: in.Name, Turned: r.Turned == 1, Hung: r.Hung == 1, Aid: r.Aid, Moved: r.Moved == 1, Sent: r.Sent, Condition: r.Condition, At: l.when(r.At)})
		if !slices.ContainsFunc(c.Used, func(t check.Tool) bool { return t.ID == in.ID }) {
			c.Used = append(c.Used, in.Tool())
		}
	}
	for _, r := range kept.stale {
		if i, ok := at[check.Key{List: r.List, Point: r.Point, Field: r.Field}]; ok {
			c.Spots[i].Gone = &check.Stale{Text: r.Text, Event: measure.Event(r.Event)}
		}
	}
	c.Tally()
	return c, nil
}

// unit is that of bare lengths.
func (s Setup) unit() quantity.Unit { return s.Airframe.Unit }

// SetupOf is the id of the setup of a check.
func (m *Measuring) SetupOf(ctx context.Context, check string) (id string, err error) {
	err = m.ledger.View(ctx, func(q *query.Queries) error {
		row, err := q.Check(ctx, check)
		id = row.Setup.ID
		return ledger.Found(err)
	})
	return id, err
}
