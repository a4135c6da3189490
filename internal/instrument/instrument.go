// Package instrument keeps the levels, tapes and rules of a workshop with what each is
// known to do: its step, its constant error, its spread, its zero, and when it was
// proven last.
package instrument

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Sort is a kind of instrument.
type Sort struct {
	Name  string
	Angle bool // it shows angles; else lengths
	Reads bool // readings are taken with it; a board only carries a level
}

// Sorts are the kinds of instruments.
var Sorts = []Sort{
	{"level", true, true},
	{"tape", false, true},
	{"rule", false, true},
	{"plumb line", false, true},
	{"water level", false, true},
	{"laser level", false, true},
	{"gauge", false, true},
	{"board", true, false},
}

// Type is a kind of instrument of which it is known what is usual (measure.Usuals), or that only has a sort.
type Type struct {
	Name  string // in a worksheet; "" where nothing is usual of it
	Label string // as a builder calls it
	Sort  string
	Shows string // what its step is asked by; "" where it is read by eye, and the usual step does
}

// Types are what an instrument may be, those that most builders have first.
var Types = []Type{
	{"digital-level", "digital level", "level", "the smallest step of its display, in degrees: 0.1 or 0.05"},
	{"spirit-level", "spirit level", "level", ""},
	{"phone", "phone as a level", "level", "the smallest step it shows"},
	{"protractor", "protractor", "level", ""},
	{"tape", "pocket tape by its hook", "tape", ""},
	{"rule", "rule", "rule", ""},
	{"caliper", "caliper", "gauge", ""},
	{"feeler", "feeler gauges", "gauge", ""},
	{"water-level", "water level", "water level", ""},
	{"laser", "line laser", "laser level", ""},
	{"", "plumb line", "plumb line", "the smallest step it is read to"},
	{"", "gauge", "gauge", "the smallest step it shows"},
	{"", "board on a chord line", "board", ""},
	{"", "level, of another sort", "level", "the smallest step it shows"},
}

func typeNamed(name string) (Type, bool) {
	i := slices.IndexFunc(Types, func(t Type) bool { return t.Name == name })
	if name == "" || i < 0 {
		return Type{}, false
	}
	return Types[i], true
}

// typeLabelled finds a type by what a builder calls it, or by its name.
func typeLabelled(label string) (Type, bool) {
	i := slices.IndexFunc(Types, func(t Type) bool { return label != "" && (t.Label == label || t.Name == label) })
	if i < 0 {
		return Type{}, false
	}
	return Types[i], true
}

func sortNamed(name string) (Sort, bool) {
	for _, s := range Sorts {
		if s.Name == name {
			return s, true
		}
	}
	return Sort{}, false
}

// Instrument is a level, tape or rule with its figures as typed and what was found of
// it last.
type Instrument struct {
	ID, Name, Sort             string
	Angle                      bool
	Resolution, Offset, Spread string         // as typed when it was added
	PerMetre                   string         // of lengths: the error in proportion, mm in a metre, as typed
	Type                       string         // of measure.Usuals: what it does not state is what is usual of it; "" for not said
	Spot, PerDegree            string         // as typed
	Weight, Pull               string         // of a tape: grams a metre, and the newtons that it is held at, as typed
	Material                   string         // of a tape or rule; "" is steel
	Own                        string         // of a board: its own angle above the chord line
	DueDays                    int            // a proof is good for so many days; 0: see Due
	Zero                       quantity.Angle // of its last end-for-end test
	ZeroAt                     time.Time      // the zero time for never
	SpreadFound, OffsetFound   float64        // mm or degrees
	SpreadFrom                 int            // placings that SpreadFound was found from
	SpreadAt, OffsetAt         time.Time
	Serial, SentStep           string // of the first that spoke as it, and its step where that is coarser; "" for none
	Revised                    int64  // the entry that changed it last
	Withdrawn                  string // why it is not used any more; its readings keep it

	Tests  []ZeroTest // the last ones, the newest first; only where its proofs are asked for
	Proofs []Proof    // likewise
}

// ZeroTest is one end-for-end test.
type ZeroTest struct {
	ID            string
	First, Turned string // as typed
	Zero          quantity.Angle
	At            time.Time
}

// Proof is what an instrument was found to do: its spread by ten placings, or
// the bound of its offset by a known length.
type Proof struct {
	ID    string
	What  string   // spread or offset
	Texts []string // as typed: the placings; or the known length, and what was shown
	Value float64  // mm or degrees
	At    time.Time
}

// Reads tells whether readings are taken with it.
func (i Instrument) Reads() bool {
	if i.Withdrawn != "" {
		return false
	}
	s, ok := sortNamed(i.Sort)
	return !ok || s.Reads
}

// Tested is when the zero was last proven; the zero time for never.
func (i Instrument) Tested() time.Time { return i.ZeroAt }

// Proven is when it was last proven in the way of its sort: a level by its zero,
// the others by a known length.
func (i Instrument) Proven() time.Time {
	if i.Angle {
		return i.ZeroAt
	}
	return i.OffsetAt
}

// Due says until when its last proof is good: hold.TestLasts for what shows angles, unless it has
// so many days; ok is false for what is never due.
func (i Instrument) Due() (until time.Time, ok bool) {
	switch {
	case !i.Angle && i.DueDays == 0 || !i.Reads():
		return time.Time{}, false
	case i.DueDays == 0:
		return i.Proven().Add(hold.TestLasts), true
	}
	return i.Proven().AddDate(0, 0, i.DueDays), true
}

// Figure is what is in force for its spread or offset: what was found, or what
// was typed; "" when neither is known.
func (i Instrument) Figure(what string) string {
	switch {
	case what == "spread" && !i.SpreadAt.IsZero():
		return i.write(measure.SpreadAllowance * i.SpreadFound)
	case what == "offset" && !i.OffsetAt.IsZero():
		return i.write(i.OffsetFound)
	}
	return map[string]string{"spread": i.Spread, "offset": i.Offset}[what]
}

// Shown is Figure for people: what was found is a figure, what was typed is as it was typed.
func (i Instrument) Shown(what string) say.Text {
	v, found := i.OffsetFound, what == "offset" && !i.OffsetAt.IsZero()
	if what == "spread" && !i.SpreadAt.IsZero() {
		v, found = measure.SpreadAllowance*i.SpreadFound, true
	}
	switch {
	case !found:
		return i.Figure(what)
	case i.Angle:
		return say.Angle(v).Fine(3).String()
	}
	return say.Length(v).Fine(2).String()
}

// UsualOf is what is usual of its type of a figure, for people: "0.06° as usual"; "" where it states the
// figure itself, or nothing is usual.
func (i Instrument) UsualOf(name string) say.Text {
	usual, ok := i.Usual()
	if !ok || i.stated(name) != "" || name == "offset" && !i.ZeroAt.IsZero() {
		return ""
	}
	v := map[string]float64{"resolution": usual.Resolution, "spread": usual.Spread, "spot": usual.Spot, "offset": usual.Offset, "per_metre": usual.Proportion, "per_degree": usual.Proportion}[name]
	switch {
	case v == 0 || name == "per_metre" && i.Angle || name == "per_degree" && !i.Angle:
		return ""
	case i.Angle:
		return say.Angle(v).Fine(2).String() + " as usual"
	}
	return say.Length(v).Fine(2).String() + " as usual"
}

// write gives a figure the way it would be typed, to a millionth of its unit.
func (i Instrument) write(v float64) string {
	text := strconv.FormatFloat(math.Round(v*1e6)/1e6, 'f', -1, 64)
	if i.Angle {
		return text + "°"
	}
	return text + " " + quantity.Millimetre.String()
}

// Exactly gives a figure of it as a worksheet takes it, in full.
func (i Instrument) Exactly(v float64) string {
	text := strconv.FormatFloat(v, 'f', -1, 64)
	if i.Angle {
		return text
	}
	return text + " " + quantity.Millimetre.String()
}

// Worksheet is the instrument as a worksheet gives it: its last zero applied.
func (i Instrument) Worksheet() map[string]any {
	out := map[string]any{"measures": i.measures()}
	for _, name := range slices.Concat([]string{"type"}, measure.Columns) {
		if text := i.stated(name); text != "" {
			out[name] = text
		}
	}
	if share, err := strconv.ParseFloat(i.PerDegree, 64); err == nil { // a plain number in a worksheet
		out["per_degree"] = share
	}
	if !i.SpreadAt.IsZero() && i.SpreadFrom >= leastSpreadFrom {
		out["spread_from"] = i.SpreadFrom
	}
	if !i.ZeroAt.IsZero() {
		out["zero"] = float64(i.Zero)
		out["zero_u"] = i.ZeroU()
	}
	return out
}

// stated is a figure of it by its name in a worksheet, as typed or found; "" where it does not say.
func (i Instrument) stated(name string) string {
	switch name {
	case "type":
		return i.Type
	case "resolution":
		return i.Resolution
	case "spot":
		return i.Spot
	case "per_metre":
		return i.PerMetre
	case "per_degree":
		return i.PerDegree
	}
	return i.Figure(name)
}

// AssumesOffset tells whether its constant error is what is usual of its type, and nothing else is known of it.
func (i Instrument) AssumesOffset() bool {
	return i.Type != "" && i.Figure("offset") == "" && i.ZeroAt.IsZero()
}

// Usual is what is usual of its type, where that was said.
func (i Instrument) Usual() (measure.Usual, bool) { return measure.UsualOf(i.Type) }

// Called is what kind of instrument it is, in words: "digital level".
func (i Instrument) Called() string {
	if k, ok := typeNamed(i.Type); ok {
		return k.Label
	}
	return i.Sort
}

// leastSpreadFrom is the fewest placings that a worksheet takes a spread from.
const leastSpreadFrom = 4

// ZeroU is the standard uncertainty of a zero by one end-for-end test: that of half the sum
// of two readings.
func (i Instrument) ZeroU() float64 { return i.Tool().Placing(1) / math.Sqrt2 }

// The usual steel tape, where it is not said: grams a metre, and newtons.
const (
	usualWeight = 20
	usualPull   = 50
)

// pullKnown is to within which share of itself a pull by hand is known.
const pullKnown = 0.2

// Sag is the correction of a length that was read with a tape hanging between its ends; ok
// is false for what does not hang.
func (i Instrument) Sag(mm float64) (c measure.Correction, ok bool) {
	if i.Sort != "tape" {
		return c, false
	}
	weight, pull := float64(usualWeight), float64(usualPull)
	if v, err := strconv.ParseFloat(i.Weight, 64); err == nil {
		weight = v
	}
	if v, err := strconv.ParseFloat(i.Pull, 64); err == nil {
		pull = v
	}
	return measure.SagCorrection(mm, weight/1000*gravity, pull, pullKnown, "sag of "+i.Name), true
}

// gravity is the standard acceleration of free fall, m/s².
const gravity = 9.80665

// Made is what a tape or rule is made of.
func (i Instrument) Made() string {
	if i.Material == "" {
		return "steel"
	}
	return i.Material
}

func (i Instrument) measures() string {
	if i.Angle {
		return "angle"
	}
	return "length"
}

// typed reads a figure of the instrument; ok is false where it is not known.
func (i Instrument) typed(text string) (v float64, ok bool) {
	v, err := worksheet.Typed(text, map[bool]string{true: "plain", false: "length"}[i.Angle], quantity.Millimetre)
	return v, err == nil
}

// step is its smallest step, in mm or degrees: the coarser of its card's and of what it sends; 0
// where none is known.
func (i Instrument) step() float64 {
	card, known := i.typed(i.Resolution)
	if usual, ok := i.Usual(); ok && !known {
		card = usual.Resolution
	}
	sent, _ := i.typed(i.SentStep)
	return max(card, sent)
}

// Tool is the instrument as a check sees it.
func (i Instrument) Tool() check.Tool {
	t := check.Tool{ID: i.ID, Name: i.Name, Angle: i.Angle, Zeroed: !i.ZeroAt.IsZero(), Zero: float64(i.Zero)}
	t.Step = i.step()
	var known bool
	usual, typed := i.Usual()
	if t.Spread, known = i.typed(i.Figure("spread")); !known {
		t.Spread = usual.Spread
	}
	if typed {
		return t
	}
	var unknown []string
	for _, f := range []struct{ name, text string }{{"step", i.Resolution}, {"constant error", i.Figure("offset")}, {"spread", i.Figure("spread")}} {
		if f.text == "" {
			unknown = append(unknown, f.name)
		}
	}
	t.Unknown = strings.Join(unknown, " and ")
	return t
}

// Near is how far two honest lengths taken with it may lie apart, in mm.
func (i Instrument) Near() float64 {
	t := i.Tool()
	return max(t.Step, t.Spread)
}

// Zeros are the end-for-end tests of a level, the oldest first.
type Zeros []ZeroTest

// ZerosOf loads the tests of instruments, by id.
func ZerosOf(ctx context.Context, q *query.Queries, when func(kept string) time.Time, ids ...string) (map[string]Zeros, error) {
	out := map[string]Zeros{}
	if len(ids) == 0 {
		return out, nil
	}
	rows, err := q.ZeroTestsOf(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading the end-for-end tests: %w", err)
	}
	for _, r := range rows {
		out[r.InstrumentID] = append(out[r.InstrumentID], ZeroTest{Zero: quantity.Angle(r.Zero), At: when(r.At)})
	}
	return out, nil
}

// A level that was read longer after its test than waits, with no test after it, says so;
// a test more than session later closes nothing.
const (
	waits   = 2 * time.Hour
	session = 24 * time.Hour
)

// Zeroed is the zero of a level when it was read.
type Zeroed struct {
	Zero    float64       // degrees
	Changed float64       // by how much the zero differs between the tests around the reading, where it moved
	Late    time.Duration // how long after its test it was read, where nothing closed that session
	Moved   bool          // the test after the reading does not agree with the one before it
	Test    time.Time     // the test that is nearest; zero for none
	Gap     time.Duration // between that and the reading
}

// When is the zero of the level at a reading. A later test that agrees with the one before it,
// within 2√(2u²), touches nothing: the zero is that of the one before. Of one that does not, in
// the same session, it lies between them along the straight line. The first test of all is compared
// with the bound of the offset: 0 with u = offset/√3.
func (i Instrument) When(z Zeros, read time.Time) (out Zeroed) {
	before, after := -1, -1
	for k, t := range z {
		if !t.At.After(read) {
			before = k
		} else if after < 0 {
			after = k
		}
	}
	u := i.ZeroU()
	switch {
	case before < 0 && after < 0:
		return out
	case before < 0:
		out = Zeroed{Zero: float64(z[after].Zero), Test: z[after].At, Gap: z[after].At.Sub(read)}
		if offset, known := i.Bound(); known {
			out.Moved = math.Abs(out.Zero) > 2*math.Sqrt(offset*offset/3+u*u)
		}
		return out
	}
	a := z[before]
	out = Zeroed{Zero: float64(a.Zero), Test: a.At, Gap: read.Sub(a.At)}
	late := func() {
		if out.Gap > waits {
			out.Late = out.Gap
		}
	}
	if after < 0 {
		late()
		return out
	}
	b := z[after]
	apart, inSession := float64(b.Zero-a.Zero), b.At.Sub(a.At) <= session
	out.Moved = math.Abs(apart) > 2*math.Sqrt(2)*u
	if out.Moved && inSession {
		hours := func(t time.Time) float64 { return t.Sub(a.At).Hours() }
		out.Changed, out.Zero = apart, measure.Between(0, float64(a.Zero), hours(b.At), float64(b.Zero), hours(read))
	}
	if gap := b.At.Sub(read); gap < out.Gap {
		out.Test, out.Gap = b.At, gap
	} else if !inSession {
		late()
	}
	return out
}

// Bound is that of its constant error: as stated, as found, or as is usual of its type.
func (i Instrument) Bound() (v float64, known bool) {
	if v, known = i.typed(i.Figure("offset")); known {
		return v, true
	}
	usual, ok := i.Usual()
	return usual.Offset, ok
}

// Core is the instrument as the solvers take it.
func (i Instrument) Core() *measure.Instrument {
	in := &measure.Instrument{Name: i.Name, Measures: measure.Length, Type: i.Type}
	if i.Angle {
		in.Measures = measure.Angle
	}
	if v, ok := i.typed(i.Figure("spread")); ok {
		in.Spread = &v
	}
	in.Resolution = i.step()
	var known bool
	in.Offset, known = i.typed(i.Figure("offset"))
	in.OffsetUnknown = !known
	if v, err := worksheet.Typed(i.PerMetre, "length", quantity.Millimetre); err == nil {
		in.PerMetre = v
	}
	in.Spot, _ = i.typed(i.Spot)
	in.PerDegree, _ = strconv.ParseFloat(i.PerDegree, 64)
	if !i.SpreadAt.IsZero() && i.SpreadFrom >= leastSpreadFrom {
		in.SpreadFrom = i.SpreadFrom
	}
	in.Assume(func(column string) bool { return i.stated(column) != "" || column == "resolution" && i.SentStep != "" })
	return in
}

// ByID finds an instrument of a list.
func ByID(list []Instrument, id string) (Instrument, bool) {
	for _, in := range list {
		if in.ID == id {
			return in, true
		}
	}
	return Instrument{}, false
}

// Instruments are those of a workshop.
type Instruments struct{ ledger *ledger.Ledger }

// New returns them.
func New(l *ledger.Ledger) *Instruments { return &Instruments{l} }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "instrument",
	Tables: ledger.Records("instruments", "zero_tests", "proofs"),
	Kinds:  ledger.Kinds(added, tested, proven, brought, spoke, mistaken),
}

// List returns them in the order in which they came.
func (s *Instruments) List(ctx context.Context) (list []Instrument, err error) {
	err = s.ledger.View(ctx, func(q *query.Queries) error {
		list, err = List(ctx, q, s.ledger.When)
		return err
	})
	return list, err
}

// shownProofs is how many proofs of each sort a list of instruments shows.
const shownProofs = 60

// Proofs lists the instruments with their last proofs.
func (s *Instruments) Proofs(ctx context.Context) (list []Instrument, err error) {
	err = s.ledger.View(ctx, func(q *query.Queries) error {
		if list, err = List(ctx, q, s.ledger.When); err != nil {
			return err
		}
		for i := range list {
			if err := list[i].proofs(ctx, q, s.ledger); err != nil {
				return err
			}
		}
		return nil
	})
	return list, err
}

func (i *Instrument) proofs(ctx context.Context, q *query.Queries, l *ledger.Ledger) error {
	tests, err := q.ZeroTests(ctx, query.ZeroTestsParams{InstrumentID: i.ID, Limit: shownProofs})
	if err != nil {
		return fmt.Errorf("reading the tests of %s: %w", i.Name, err)
	}
	for _, t := range tests {
		i.Tests = append(i.Tests, ZeroTest{t.ID, t.First, t.Turned, quantity.Angle(t.Zero), l.When(t.At)})
	}
	proofs, err := q.ProofsOfInstrument(ctx, query.ProofsOfInstrumentParams{InstrumentID: i.ID, Limit: shownProofs})
	if err != nil {
		return fmt.Errorf("reading the proofs of %s: %w", i.Name, err)
	}
	for _, p := range proofs {
		proof := Proof{ID: p.ID, What: p.What, Value: p.Value, At: l.When(p.At)}
		if err := json.Unmarshal([]byte(p.Texts), &proof.Texts); err != nil {
			return fmt.Errorf("reading a proof of %s: %w", i.Name, err)
		}
		i.Proofs = append(i.Proofs, proof)
	}
	return nil
}

// List returns the instruments in the order in which they came; when reads kept times.
func List(ctx context.Context, q *query.Queries, when func(kept string) time.Time) ([]Instrument, error) {
	rows, err := ledger.Once(ctx, "instruments", func() ([]query.Instrument, error) { return q.Instruments(ctx) })
	if err != nil {
		return nil, fmt.Errorf("reading the instruments: %w", err)
	}
	list := make([]Instrument, len(rows))
	for i, r := range rows {
		list[i] = from(r, when)
	}
	return list, nil
}

func from(r query.Instrument, when func(kept string) time.Time) Instrument {
	return Instrument{ID: r.ID, Name: r.Name, Sort: r.Sort, Angle: r.Measures == "angle", Resolution: r.Resolution, Offset: r.OffsetMax, Spread: r.Spread, Own: r.Own, DueDays: int(r.DueDays),
		Zero: quantity.Angle(r.Zero), ZeroAt: when(r.ZeroAt), PerMetre: r.PerMetre, Type: r.Type, Spot: r.Spot, PerDegree: r.PerDegree, Weight: r.Weight, Pull: r.Pull, Material: r.Material, SpreadFrom: int(r.SpreadFrom), Serial: r.Serial, SentStep: r.SentStep, SpreadFound: r.SpreadFound, SpreadAt: when(r.SpreadAt), OffsetFound: r.OffsetFound, OffsetAt: when(r.OffsetAt), Revised: r.Revised, Withdrawn: r.Withdrawn}
}
