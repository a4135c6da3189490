package app

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"time"

	"gonum.org/v1/gonum/stat"

	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/store"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Sort is a kind of instrument.
type Sort struct {
	Name   string
	Angle  bool // it shows angles; else lengths
	Reads  bool // readings are taken with it; a board only carries a level
	Proved string
}

// Sorts are the kinds of instruments, each with how it is proven.
var Sorts = []Sort{
	{"level", true, true, "turned end for end on one spot"},
	{"tape", false, true, "against a known length"},
	{"rule", false, true, "against a known length"},
	{"plumb line", false, true, "against a known length"},
	{"water level", false, true, "both ends side by side"},
	{"laser level", false, true, "back to the first mark from the far end"},
	{"gauge", false, true, "against a known thickness"},
	{"board", true, false, "turned end for end on its chord line"},
}

func sortNamed(name string) (Sort, bool) {
	for _, s := range Sorts {
		if s.Name == name {
			return s, true
		}
	}
	return Sort{}, false
}

// Instrument is a level, tape or rule with its figures as typed, its end-for-end
// tests and its other proofs, the last one of each first.
type Instrument struct {
	ID, Name, Sort             string
	Angle                      bool
	Resolution, Offset, Spread string // as typed when it was added
	Own                        string // of a board: its own angle above the chord line
	DueDays                    int    // a proof is good for so many days; 0: see Due
	Tests                      []ZeroTest
	Proofs                     []Proof
}

// ZeroTest is one end-for-end test.
type ZeroTest struct {
	First, Turned string // as typed
	Zero          quantity.Angle
	At            time.Time
}

// Proof is what an instrument was found to do: its spread by five placings, or
// the bound of its offset by a known length.
type Proof struct {
	What  string   // spread or offset
	Texts []string // as typed: the placings; or the known length, and what was shown
	Value float64  // mm or degrees
	At    time.Time
}

// Reads tells whether readings are taken with it.
func (i Instrument) Reads() bool {
	s, ok := sortNamed(i.Sort)
	return !ok || s.Reads
}

// Tested is when the zero was last proven; the zero time for never.
func (i Instrument) Tested() time.Time {
	if len(i.Tests) == 0 {
		return time.Time{}
	}
	return i.Tests[0].At
}

// Proven is when it was last proven in the way of its sort: a level by its zero,
// the others by a known length.
func (i Instrument) Proven() time.Time {
	if i.Angle {
		return i.Tested()
	}
	if p, ok := i.last("offset"); ok {
		return p.At
	}
	return time.Time{}
}

// Due says until when its last proof is good: the day itself for what shows
// angles, unless it has so many days; ok is false for what is never due.
func (i Instrument) Due() (until time.Time, ok bool) {
	if !i.Angle && i.DueDays == 0 || !i.Reads() {
		return time.Time{}, false
	}
	return i.Proven().AddDate(0, 0, i.DueDays), true
}

func (i Instrument) last(what string) (Proof, bool) {
	for _, p := range i.Proofs {
		if p.What == what {
			return p, true
		}
	}
	return Proof{}, false
}

// Figure is what is in force for its spread or offset: what was found, or what
// was typed; "" when neither is known.
func (i Instrument) Figure(what string) string {
	if p, ok := i.last(what); ok {
		return i.write(p.Value)
	}
	return map[string]string{"spread": i.Spread, "offset": i.Offset}[what]
}

// write gives a figure the way it would be typed, to a millionth of its unit.
func (i Instrument) write(v float64) string {
	text := strconv.FormatFloat(math.Round(v*1e6)/1e6, 'f', -1, 64)
	if i.Angle {
		return text + "°"
	}
	return text + " mm"
}

// worksheet is the instrument as a worksheet gives it: its last zero applied.
func (i Instrument) worksheet() map[string]any {
	out := map[string]any{"measures": i.measures()}
	for name, text := range map[string]string{"resolution": i.Resolution, "offset": i.Figure("offset"), "spread": i.Figure("spread")} {
		if text != "" {
			out[name] = text
		}
	}
	if len(i.Tests) > 0 {
		out["zero"] = float64(i.Tests[0].Zero)
		out["zero_u"] = i.placing(1) / math.Sqrt2 // half the sum of two readings
	}
	return out
}

func (i Instrument) measures() string {
	if i.Angle {
		return "angle"
	}
	return "length"
}

// placing is the standard uncertainty of the mean of n placings, without the
// instrument's constant error.
func (i Instrument) placing(n int) float64 {
	figure := func(text string) float64 {
		v, err := worksheet.Typed(text, map[bool]string{true: "plain", false: "length"}[i.Angle], quantity.Millimetre)
		if err != nil {
			return 0
		}
		return v
	}
	step, spread := figure(i.Resolution), figure(i.Figure("spread"))
	return math.Sqrt(step*step/12 + spread*spread/float64(max(n, 1)))
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
	proofs, err := q.Proofs(ctx)
	if err != nil {
		return nil, err
	}
	list := make([]Instrument, len(rows))
	at := map[string]int{}
	for i, r := range rows {
		list[i] = Instrument{ID: r.ID, Name: r.Name, Sort: r.Sort, Angle: r.Measures == "angle", Resolution: r.Resolution, Offset: r.OffsetMax, Spread: r.Spread, Own: r.Own, DueDays: int(r.DueDays)}
		at[r.ID] = i
	}
	for _, t := range tests {
		in := &list[at[t.InstrumentID]]
		in.Tests = append(in.Tests, ZeroTest{t.First, t.Turned, quantity.Angle(t.Zero), a.when(t.At)})
	}
	for _, p := range proofs {
		proof := Proof{What: p.What, Value: p.Value, At: a.when(p.At)}
		if err := json.Unmarshal([]byte(p.Texts), &proof.Texts); err != nil {
			return nil, fmt.Errorf("reading a proof: %w", err)
		}
		in := &list[at[p.InstrumentID]]
		in.Proofs = append(in.Proofs, proof)
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
	Sort       string `json:"sort"`
	Resolution string `json:"resolution"`
	Offset     string `json:"offset"`
	Spread     string `json:"spread"`
	Own        string `json:"own,omitempty"`
	DueDays    string `json:"due_days,omitempty"`
}

// maxDueDays is the longest that a proof may be taken to last.
const maxDueDays = 3650

// AddInstrument adds a level, tape or rule.
func (a *App) AddInstrument(ctx context.Context, n NewInstrument) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("name", &n.Name, maxName, "give it the name that stands on it")
	sort, ok := sortNamed(n.Sort)
	if !ok {
		wrong.Add("sort", "what is it? Choose one of the list")
	}
	in := Instrument{Angle: sort.Angle}
	as := map[bool]string{true: "plain", false: "length"}[sort.Angle]
	figure := func(field, as string, text *string, required string) {
		wrong.text(field, text, 64, required)
		if *text == "" {
			return
		}
		v, err := worksheet.Typed(*text, as, quantity.Millimetre)
		if err != nil {
			wrong.Add(field, err.Error())
		} else if v < 0 && field != "own" {
			wrong.Add(field, "cannot be negative")
		}
	}
	figure("resolution", as, &n.Resolution, map[bool]string{true: "the smallest step it shows"}[sort.Reads])
	figure("offset", as, &n.Offset, "")
	figure("spread", as, &n.Spread, "")
	figure("own", "pitch", &n.Own, map[bool]string{true: "its own angle above the chord line"}[ok && !sort.Reads])
	days := 0
	if wrong.text("due_days", &n.DueDays, 8, ""); n.DueDays != "" {
		var err error
		if days, err = strconv.Atoi(n.DueDays); err != nil || days < 0 || days > maxDueDays {
			wrong.Add("due_days", fmt.Sprintf("a number of days, %d at most", maxDueDays))
		}
	}
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
		return q.AddInstrument(ctx, query.AddInstrumentParams{ID: n.ID, Name: n.Name, Sort: n.Sort, Measures: in.measures(), Resolution: n.Resolution, OffsetMax: n.Offset, Spread: n.Spread, Own: n.Own, DueDays: int64(days), Entry: entry})
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
	in, err := a.instrument(ctx, t.Instrument)
	if err != nil {
		return err
	}
	wrong := Problems{}
	if !in.Angle || !in.Reads() {
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

func (a *App) instrument(ctx context.Context, id string) (Instrument, error) {
	list, err := a.Instruments(ctx)
	if err != nil {
		return Instrument{}, err
	}
	in, ok := byID(list, id)
	if !ok {
		return in, ErrNotFound
	}
	return in, nil
}

// NewProof is a proof of an instrument, as typed: five placings on one spot for
// its spread, or a known length and what it showed for its offset.
type NewProof struct {
	ID         string   `json:"-"`
	Instrument string   `json:"instrument"` // id
	What       string   `json:"what"`       // spread or offset
	Texts      []string `json:"texts"`
}

// spreadPlacings is how often an instrument is placed on one spot to find its spread.
const spreadPlacings = 5

// ProveInstrument finds the spread of an instrument as the sample standard
// deviation of five placings, or the bound of its offset as its error at a known
// length and half of its step. What is found is in force from then on.
func (a *App) ProveInstrument(ctx context.Context, n NewProof) error {
	defer a.alone()()
	in, err := a.instrument(ctx, n.Instrument)
	if err != nil {
		return err
	}
	wrong := Problems{}
	wanted := map[string]int{"spread": spreadPlacings, "offset": 2}[n.What]
	if wanted == 0 || !in.Reads() {
		return Problems{"": "what is to be proven, spread or offset?"}
	}
	values := make([]float64, wanted)
	for i := range wanted {
		field, text := fmt.Sprintf("%s%d", n.What, i+1), ""
		if i < len(n.Texts) {
			text = n.Texts[i]
		}
		v, err := worksheet.Typed(text, map[bool]string{true: "either", false: "length"}[in.Angle], quantity.Millimetre)
		if err != nil {
			wrong.Add(field, err.Error())
		}
		values[i] = v
	}
	if err := wrong.err(); err != nil {
		return err
	}
	value := stat.StdDev(values, nil)
	if n.What == "offset" {
		step, _ := worksheet.Typed(in.Resolution, map[bool]string{true: "plain", false: "length"}[in.Angle], quantity.Millimetre)
		value = math.Abs(values[1]-values[0]) + step/2
	}
	texts, err := json.Marshal(n.Texts)
	if err != nil {
		return err
	}
	facts := map[string]any{"name": in.Name, "value": value, "unit": map[bool]string{true: "deg", false: "mm"}[in.Angle]}
	return a.record(ctx, deed{n.ID, journal.Proof, "", n, facts}, func(q *query.Queries, entry int64) error {
		return q.AddProof(ctx, query.AddProofParams{ID: n.ID, InstrumentID: in.ID, What: n.What, Texts: string(texts), Value: value, At: store.Time(a.now()), Entry: entry})
	})
}
