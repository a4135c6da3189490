package app

import (
	"context"
	"fmt"
	"time"

	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/store"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Instrument is a level, tape or rule with its figures as typed, and its
// end-for-end tests, the last one first.
type Instrument struct {
	ID, Name                   string
	Angle                      bool
	Resolution, Offset, Spread string
	Tests                      []ZeroTest
}

// ZeroTest is one end-for-end test.
type ZeroTest struct {
	First, Turned string // as typed
	Zero          quantity.Angle
	At            time.Time
}

// Tested is when the zero was last proven; the zero time for never.
func (i Instrument) Tested() time.Time {
	if len(i.Tests) == 0 {
		return time.Time{}
	}
	return i.Tests[0].At
}

// worksheet is the instrument as a worksheet gives it: its last zero applied.
func (i Instrument) worksheet() map[string]any {
	out := map[string]any{"measures": i.measures()}
	for name, text := range map[string]string{"resolution": i.Resolution, "offset": i.Offset, "spread": i.Spread} {
		if text != "" {
			out[name] = text
		}
	}
	if len(i.Tests) > 0 {
		out["zero"] = float64(i.Tests[0].Zero)
	}
	return out
}

func (i Instrument) measures() string {
	if i.Angle {
		return "angle"
	}
	return "length"
}

// Instruments lists them in the order in which they came.
func (a *App) Instruments(ctx context.Context) (list []Instrument, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		list, err = a.instruments(ctx, q)
		return err
	})
	return list, err
}

func (a *App) instruments(ctx context.Context, q *query.Queries) ([]Instrument, error) {
	rows, err := q.Instruments(ctx)
	if err != nil {
		return nil, err
	}
	tests, err := q.ZeroTests(ctx)
	if err != nil {
		return nil, err
	}
	list := make([]Instrument, len(rows))
	at := map[string]int{}
	for i, r := range rows {
		list[i] = Instrument{ID: r.ID, Name: r.Name, Angle: r.Measures == "angle", Resolution: r.Resolution, Offset: r.OffsetMax, Spread: r.Spread}
		at[r.ID] = i
	}
	for _, t := range tests {
		in := &list[at[t.InstrumentID]]
		in.Tests = append(in.Tests, ZeroTest{t.First, t.Turned, quantity.Angle(t.Zero), a.when(t.At)})
	}
	return list, nil
}

func byID(list []Instrument, id string) (Instrument, bool) {
	for _, in := range list {
		if in.ID == id {
			return in, true
		}
	}
	return Instrument{}, false
}

// NewInstrument is an instrument to be added; figures as typed, a bare length
// in millimetres. An empty spread means that it is not known yet.
type NewInstrument struct {
	ID         string `json:"id"`
	Name       string `json:"name"`
	Measures   string `json:"measures"` // length or angle
	Resolution string `json:"resolution"`
	Offset     string `json:"offset"`
	Spread     string `json:"spread"`
}

// AddInstrument adds a level, tape or rule.
func (a *App) AddInstrument(ctx context.Context, n NewInstrument) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("name", &n.Name, maxName, "give it the name that stands on it")
	as := "length"
	switch n.Measures {
	case "angle":
		as = "plain"
	case "length":
	default:
		wrong.Add("measures", "does it measure lengths or angles?")
	}
	figure := func(field string, text *string, required bool) {
		wrong.text(field, text, 64, map[bool]string{true: "the smallest step it shows"}[required])
		if *text == "" {
			return
		}
		v, err := worksheet.Typed(*text, as, quantity.Millimetre)
		if err != nil {
			wrong.Add(field, err.Error())
		} else if v < 0 {
			wrong.Add(field, "cannot be negative")
		}
	}
	figure("resolution", &n.Resolution, true)
	figure("offset", &n.Offset, false)
	figure("spread", &n.Spread, false)
	list, err := a.Instruments(ctx)
	if err != nil {
		return err
	}
	for _, in := range list {
		if in.Name == n.Name && in.ID != n.ID {
			wrong.Add("name", "there is one of that name already")
		}
	}
	if err := wrong.err(); err != nil {
		return err
	}
	return a.record(ctx, deed{n.ID, journal.Created, "", n, map[string]any{"what": "instrument", "name": n.Name}}, func(q *query.Queries, entry int64) error {
		return q.AddInstrument(ctx, query.AddInstrumentParams{ID: n.ID, Name: n.Name, Measures: n.Measures, Resolution: n.Resolution, OffsetMax: n.Offset, Spread: n.Spread, Entry: entry})
	})
}

// EndForEnd is an end-for-end test of a level: two readings on one spot.
type EndForEnd struct {
	ID         string `json:"-"`
	Instrument string `json:"instrument"` // id
	First      string `json:"first"`
	Turned     string `json:"turned"`
}

// TestInstrument works out the zero of a level from its end-for-end test.
func (a *App) TestInstrument(ctx context.Context, t EndForEnd) error {
	defer a.alone()()
	list, err := a.Instruments(ctx)
	if err != nil {
		return err
	}
	in, ok := byID(list, t.Instrument)
	if !ok {
		return ErrNotFound
	}
	wrong := Problems{}
	if !in.Angle {
		wrong.Add("", "only a level is turned end for end")
	}
	reading := func(field, text string) measure.Reading {
		v, err := quantity.ParseAngle(text, quantity.Either)
		if err != nil {
			wrong.Add(field, err.Error())
		}
		return measure.Reading{Values: []float64{float64(v)}}
	}
	check := &measure.ZeroTest{First: reading("first", t.First), Turned: reading("turned", t.Turned)}
	if err := wrong.err(); err != nil {
		return err
	}
	result := measure.Solve(check, nil, measure.Decision{Coverage: Coverage})
	zero, _ := result.Quantity("zero")
	if limit := 5.0; zero.Value > limit || zero.Value < -limit {
		return Problems{"turned": fmt.Sprintf("a zero of %s is hardly meant: is the sign of one reading the wrong way round?", quantity.Angle(zero.Value).Show(2))}
	}
	facts := map[string]any{"name": in.Name, "zero": zero.Value}
	return a.record(ctx, deed{t.ID, journal.ZeroTest, "", t, facts}, func(q *query.Queries, entry int64) error {
		return q.AddZeroTest(ctx, query.AddZeroTestParams{ID: t.ID, InstrumentID: in.ID, First: t.First, Turned: t.Turned, Zero: zero.Value, At: store.Time(a.now()), Entry: entry})
	})
}
