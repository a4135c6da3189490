package measure

import (
	"math"
	"slices"
	"strings"
	"sync"

	"orpine/internal/core/say"
)

// Verdict is the judgement of a quantity or a check, worst last.
type Verdict int

// The verdicts. None means that nothing is limited.
const (
	None Verdict = iota
	Go
	Unsure
	Stop
)

// String returns the verdict's name in the worksheet format.
func (v Verdict) String() string { return [...]string{"none", "go", "unsure", "stop"}[v] }

// Quantity is one result. Unrounded; its U is Coverage × u.
type Quantity struct {
	Name      string
	At        any // nil, the name of a point (string), or its x in mm (float64)
	Value     float64
	Dimension Dimension
	U         float64 // standard uncertainty, not expanded
	Limit     *Limit
	Verdict   Verdict
	Placings  int  // readings that would make an unsure quantity go; 0: not said
	Unseen    bool // it could not be found: Value and U mean nothing
	weakness  func() Weakness
	remedies  func() []Remedy
	moved     func() int
	best      func(placings int) float64
	doubt     func() []DoubtOf
}

// Move is what to shift, in millimetres.
type Move struct {
	At        string
	Direction string  // up, down, forward, aft, left, right, trim
	Amount    float64 // positive
	Stack     []float64
	Stacked   bool // Stack is given, though it may be empty
}

// Finding is something that the builder should know about an answer.
type Finding struct{ Code, Text string }

// Line is one line of the arithmetic with the numbers put in.
type Line struct{ What, How, Result string }

// Result is a solved check.
type Result struct {
	Verdict    Verdict
	Quantities []Quantity
	Moves      []Move
	Findings   []Finding
	Stack      []float64 // shim-stack only; nil otherwise
	Answer     string    // hand only
	Network    *Network  // pose and join only
	Rivet      *Rivet    // the rivet kinds only
	Amounts    []float64 // mix only
	Working    []Line
	Assumed    []Assumption // what is usual and was not stated, and enters what is limited
}

// AssumedOf is what of an instrument is what is usual of its type and enters what is limited, in words; nil
// for nothing.
func (r Result) AssumedOf(instrument string) (out []string) {
	for _, a := range r.Assumed {
		if a.Instrument == instrument {
			for _, column := range a.Of {
				out = append(out, columnWords[column])
			}
		}
	}
	return out
}

var columnWords = map[string]string{"resolution": "step", "spread": "spread", "spot": "place where it stands", "offset": "constant error", "per_metre": "scale", "per_degree": "scale"}

// Usually are the instruments of which what is usual is taken, and enters what is limited; "" for none.
func (r Result) Usually() string {
	var names []string
	for _, a := range r.Assumed {
		if a.Instrument != "" {
			names = append(names, a.Instrument)
		} else {
			names = append(names, "the board")
		}
	}
	return say.And(names...)
}

// Rivet is what the rivet kinds add to a result.
type Rivet struct {
	Choices  []string  // codes whose grip holds the stack; nil for a solid rivet
	CutTo    *float64  // mm, where no standard length fits
	ShopHead *ShopHead // of a solid rivet
}

// ShopHead is what a set rivet's shop head should measure, and its least, in mm.
type ShopHead struct{ Diameter, DiameterMin, Height, HeightMin float64 }

// Quantity returns the first quantity of that name.
func (r Result) Quantity(name string) (Quantity, bool) {
	for _, q := range r.Quantities {
		if q.Name == name {
			return q, true
		}
	}
	return Quantity{}, false
}

// Inside tells whether every limited quantity lies inside its limits by so many
// standard uncertainties.
func (r Result) Inside(coverage float64) bool {
	w := Work{decision: Decision{Coverage: coverage}}
	for _, q := range r.Quantities {
		if q.Limit != nil && (q.Unseen || w.decide(q.Value, q.U, *q.Limit) != Go) {
			return false
		}
	}
	return true
}

// Work is the arithmetic of one check: the readings taken in so far, and the
// result as it grows.
type Work struct {
	decision  Decision
	limits    map[string]Limit
	readings  []used
	commons   []common
	shared    map[commonKey]int
	pools     map[pool]float64 // variance of one placing, of instruments whose spread is not stated
	unpooled  bool             // a reading was met whose spread might have been pooled
	judged    map[string]bool  // limits that found their quantity
	supposing bool             // see Supposing
	estimates map[int]Estimate // of the quantities that have one, by their place in the result
	grounds   []ground         // what the quantities rest on
	doubted   bool             // at best unsure where the rule is guarded, though go
	disproved bool             // the readings contradict one another: neither go nor stop
	own       bool             // the kind has a verdict of its own
	result    Result
}

// ground is what a quantity rests on.
type ground struct {
	Grounds
	limited bool
}

func newWork(limits map[string]Limit, d Decision) *Work {
	return &Work{decision: d, limits: limits, judged: map[string]bool{}, estimates: map[int]Estimate{}}
}

// Solve works a check out against its limits.
func Solve(c Check, limits map[string]Limit, d Decision) Result {
	w := newWork(limits, d)
	c.Solve(w)
	if w.unpooled {
		if pools := w.pooled(); len(pools) > 0 {
			w = newWork(limits, d)
			w.pools = pools
			c.Solve(w)
		}
	}
	w.conclude()
	for name := range limits {
		if !w.judged[name] {
			w.AtBestUnsure()
		}
	}
	if w.doubted && !w.decision.Plain && !w.own && w.result.Verdict == Go {
		w.result.Verdict = Unsure
	}
	if w.disproved {
		w.result.Verdict = Unsure
	}
	return w.result
}

// Quantity records a result; where it is limited it is judged.
func (w *Work) Quantity(name string, d Dimension, e Estimate) { w.QuantityAt(name, nil, d, e) }

// QuantityAt records a result at a point.
func (w *Work) QuantityAt(name string, at any, d Dimension, e Estimate) {
	w.quantity(name, Quantity{Name: name, At: at, Value: e.Value, Dimension: d}, e)
}

// QuantityUnder records a result that a limit of another name judges.
func (w *Work) QuantityUnder(limit, name string, d Dimension, e Estimate) {
	w.quantity(limit, Quantity{Name: name, Value: e.Value, Dimension: d}, e)
}

func (w *Work) quantity(limit string, q Quantity, e Estimate) {
	w.estimates[len(w.result.Quantities)] = e
	var within *Limit
	if l, limited := w.limits[limit]; limited {
		within = &l
	}
	w.judge(limit, within, q, w.estimated(e))
}

// Extreme records the candidate of greatest magnitude, ties to the first, or
// the given value itself when there is only one. Its u is that of the least
// known candidate, so that a dead-straight spar is not known exactly.
func (w *Work) Extreme(name string, at any, d Dimension, value float64, g Grounds) {
	var limit *Limit
	if l, limited := w.limits[name]; limited {
		limit = &l
	}
	w.ExtremeWithin(name, at, d, value, g, limit)
}

// ExtremeWithin is Extreme with a limit of its own; nil for none.
func (w *Work) ExtremeWithin(name string, at any, d Dimension, value float64, g Grounds, limit *Limit) {
	w.judge(name, limit, Quantity{Name: name, At: at, Value: value, Dimension: d}, g)
}

// Unseen records a quantity that the readings cannot determine; limited, it is
// unsure.
func (w *Work) Unseen(name string, d Dimension) {
	var within *Limit
	if l, limited := w.limits[name]; limited {
		within = &l
	}
	w.UnseenWithin(name, nil, d, within)
}

// UnseenWithin is Unseen at a point, with a limit of its own; nil for none.
func (w *Work) UnseenWithin(name string, at any, d Dimension, limit *Limit) {
	q := Quantity{Name: name, At: at, Dimension: d, Unseen: true}
	if limit != nil {
		w.judged[name] = true
		q.Limit, q.Verdict = limit, Unsure
		w.result.Verdict = max(w.result.Verdict, Unsure)
	}
	w.result.Quantities = append(w.result.Quantities, q)
}

// OwnVerdict sets the verdict of a kind that has one of its own; the worst counts.
func (w *Work) OwnVerdict(v Verdict) { w.own, w.result.Verdict = true, max(w.result.Verdict, v) }

// Rivet is what the rivet kinds add to a result.
func (w *Work) Rivet() *Rivet {
	if w.result.Rivet == nil {
		w.result.Rivet = new(Rivet)
	}
	return w.result.Rivet
}

// Amounts sets those of a mix.
func (w *Work) Amounts(amounts []float64) { w.result.Amounts = amounts }

// Limit returns the limit of a quantity.
func (w *Work) Limit(name string) (Limit, bool) {
	l, ok := w.limits[name]
	return l, ok
}

// Networked records what an adjustment says besides its quantities.
func (w *Work) Networked(n *Network) { w.result.Network = n }

// greatest returns the place of the value of greatest magnitude, ties to the first.
func greatest(values []float64) int {
	best := 0
	for i, v := range values {
		if math.Abs(v) > math.Abs(values[best])+tie {
			best = i
		}
	}
	return best
}

// tie is the difference in millimetres or degrees below which two amounts are one.
const tie = 1e-9

// mostPlacings is how many placings of one reading are ever asked for.
const mostPlacings = 100

// judge reaches the verdict of a limited quantity after the decision rule:
// guarded, go when value ± U lies inside, stop when it lies outside, else unsure;
// plain, by the value alone.
func (w *Work) judge(name string, limit *Limit, q Quantity, g Grounds) {
	q.U = g.U(0)
	q.weakness = sync.OnceValue(func() Weakness { return w.weakness(g) })
	q.remedies = sync.OnceValue(func() []Remedy { return w.remediesOf(g) })
	q.best = w.bestOf(g)
	q.doubt = sync.OnceValue(func() []DoubtOf { return w.doubtOf(g) })
	w.grounds = append(w.grounds, ground{Grounds: g, limited: limit != nil})
	if limit != nil {
		w.judged[name] = true
		q.Limit = limit
		q.Verdict = w.decide(q.Value, q.U, *limit)
		if q.Verdict == Unsure && limit.Holds(q.Value) {
			q.Placings = w.placings(q.Value, *limit, g)
			q.moved = sync.OnceValue(func() int { return w.movedPlacings(q.Value, *limit, g) })
			if q.Placings == 0 {
				w.Find(CannotTell, "more placings with this instrument cannot decide "+strings.ReplaceAll(q.Name, "_", " "))
			}
		}
		w.result.Verdict = max(w.result.Verdict, q.Verdict)
	}
	w.result.Quantities = append(w.result.Quantities, q)
}

// CannotTell is the finding that placings on the same spots cannot decide.
const CannotTell = "cannot-tell-with-this-instrument"

func (w *Work) decide(value, u float64, l Limit) Verdict {
	wide := w.decision.Coverage * u
	if w.decision.Plain {
		wide = 0
	}
	inside := (l.Low == nil || *l.Low+wide <= value) && (l.High == nil || value <= *l.High-wide)
	outside := (l.Low != nil && value < *l.Low-wide) || (l.High != nil && value > *l.High+wide)
	switch {
	case inside:
		return Go
	case outside:
		return Stop
	}
	return Unsure
}

// placings returns the least number of placings, up to mostPlacings, that would
// make the quantity go, or 0 when none would. u never rises with placings.
func (w *Work) placings(value float64, l Limit, g Grounds) int {
	if !w.placingsHelp(g) || w.decide(value, g.U(mostPlacings), l) != Go {
		return 0
	}
	low, high := 1, mostPlacings // go at high
	for low < high {
		middle := (low + high) / 2
		if w.decide(value, g.U(middle), l) == Go {
			high = middle
		} else {
			low = middle + 1
		}
	}
	return high
}

// unsettle makes a limited quantity unsure, whatever the rule says of it; false where it was not found.
func (w *Work) unsettle(name string) (found bool) {
	for i, q := range w.result.Quantities {
		if q.Name == name && q.Limit != nil {
			w.result.Quantities[i].Verdict, found = Unsure, true
		}
	}
	w.result.Verdict = None
	for _, q := range w.result.Quantities {
		w.result.Verdict = max(w.result.Verdict, q.Verdict)
	}
	return found
}

// AtBestUnsure turns a verdict of go or none into unsure.
func (w *Work) AtBestUnsure() { w.result.Verdict = max(w.result.Verdict, Unsure) }

// Doubt turns go into unsure where the rule is guarded, and nothing else: what the answer
// rests on was not stated.
func (w *Work) Doubt() { w.doubted = true }

// Disprove says that the readings contradict one another by more than chance: the
// verdict is unsure, never stop, for what it would rest on is disproved.
func (w *Work) Disprove(text string) {
	w.Settle("measurements-disagree", text)
}

// Settle adds a finding that makes the verdict unsure, never stop.
func (w *Work) Settle(code, text string) {
	w.disproved = true
	w.Find(code, text)
}

// Find adds a finding, once for each code and text.
func (w *Work) Find(code, text string) {
	f := Finding{code, text}
	for _, have := range w.result.Findings {
		if have == f {
			return
		}
	}
	w.result.Findings = append(w.result.Findings, f)
}

// Move adds a move; amounts of 1e-9 mm or less are left out.
func (w *Work) Move(at, direction string, amount float64) {
	if amount > tie {
		w.result.Moves = append(w.result.Moves, Move{At: at, Direction: direction, Amount: amount})
	}
}

// explain adds a line to the arithmetic that is shown on request.
func (w *Work) explain(what, how, result string) {
	w.result.Working = append(w.result.Working, Line{what, how, result})
}

// deg and mm write figures for the arithmetic.
func deg(v float64) say.Text { return say.Angle(v).Fine(3).String() }
func mm(v float64) say.Text  { return say.Length(v).Fine(3).Trimmed().String() }

// zeroed says which zero was taken off a reading, for the arithmetic.
func zeroed(r *Reading) string {
	if r == nil || r.Instrument == nil || r.Instrument.Zero == 0 {
		return ""
	}
	return ", zero " + deg(r.Instrument.Zero) + " taken off"
}

// Unsettled is a result of which something was taken to be so that nobody stated: what
// would be go is unsure, and the finding says what it is. Stop stays.
func (r Result) Unsettled(code, text string) Result {
	unsure := func(v Verdict) Verdict {
		if v == Go {
			return Unsure
		}
		return v
	}
	r.Verdict = unsure(r.Verdict)
	r.Quantities = slices.Clone(r.Quantities)
	for i := range r.Quantities {
		r.Quantities[i].Verdict = unsure(r.Quantities[i].Verdict)
	}
	r.Findings = append([]Finding{{code, text}}, r.Findings...)
	return r
}
