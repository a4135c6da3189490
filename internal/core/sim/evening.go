package sim

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
)

// Every kind of check that may open a hold is proven by itself: a part with a hidden truth, instruments with
// hidden errors, a builder who reads it, does what the program says and carries out its moves, and a release or
// none. The builder is told what the screens tell: findings, verdict, remedies, moves.

// Evening is a world in which kinds are proven.
type Evening struct {
	Name string
	// Drawn draws an instrument: what is true of it, and what of that the builder has stated.
	Drawn func(w *Evening, sold sold, r *rand.Rand) *gadget

	Tails  bool    // placing errors have heavy tails
	Pulled float64 // share of builders who pull first readings by pull towards what they expect
	Peek   float64 // share of builders who look at the earlier figures when they read again
	Stays  float64 // share of placings said to be moved that were not
	Board  float64 // degrees: standard deviation of an incidence board's own angle
	Yields float64 // degrees: by which a bench twists under the part that is laid on it; it is read with the part on
	Seats  float64 // mm: how far an attachment that was shimmed settles again
}

// pull is by how much of the way a builder reads what he expects.
const pull = 0.6

// Evenings are the worlds: as the program assumes; a shop with what builders do and state; and a builder's first
// evening, of whose instruments nothing is proven and only the type and the display's step are stated.
var Evenings = []Evening{
	{Name: "ideal", Drawn: ideally},
	{Name: "shop", Drawn: shopworn, Tails: true, Pulled: 0.3, Peek: 0.2, Stays: 0.2, Board: 0.05, Yields: 0.06, Seats: 0.05},
	{Name: "first", Drawn: unproven, Stays: 0.2, Board: 0.05, Seats: 0.05},
}

// sold is what kind of instrument is reached for, and the step of its display; 0 for what is read by eye.
type sold struct {
	of   string
	step float64
}

// gadget is an instrument with its hidden errors.
type gadget struct {
	stated             *measure.Instrument
	step, spread, spot float64
	constant, scale    float64
	proven             bool
}

// beyond draws a size of which nineteen in twenty lie within a bound, evenly, and one beyond it, evenly up to twice.
func beyond(bound float64, r *rand.Rand) float64 {
	if r.Float64() < 0.05 {
		return bound * (1 + r.Float64())
	}
	return bound * r.Float64()
}

// signed gives a size a sign.
func signed(v float64, r *rand.Rand) float64 {
	if r.IntN(2) == 0 {
		return -v
	}
	return v
}

// unproven is an instrument as it was bought: of its spread and its spot, nineteen in twenty lie between three
// tenths of what is usual and that.
func unproven(_ *Evening, s sold, r *rand.Rand) *gadget {
	u, _ := measure.UsualOf(s.of)
	g := &gadget{step: cmp.Or(s.step, u.Resolution), constant: signed(beyond(u.Offset, r), r), scale: signed(beyond(u.Proportion, r), r)}
	repeats := func(usual float64) float64 {
		if r.Float64() < 0.05 {
			return usual * (1 + r.Float64())
		}
		return usual * (0.3 + 0.7*r.Float64())
	}
	g.spread, g.spot = repeats(u.Spread), repeats(u.Spot)
	in := &measure.Instrument{Name: s.of, Measures: u.Measures, Type: s.of}
	if s.step > 0 {
		in.Resolution = s.step
	}
	in.Assume(func(column string) bool { return column == "resolution" && s.step > 0 })
	g.stated = in
	return g
}

// ideally is an instrument that is all that is stated of it.
func ideally(_ *Evening, s sold, r *rand.Rand) *gadget {
	u, _ := measure.UsualOf(s.of)
	g := &gadget{step: cmp.Or(s.step, u.Resolution), spread: u.Spread / 2, spot: u.Spot / 2, constant: u.Offset / 2 / math.Sqrt(3) * r.NormFloat64(), scale: u.Proportion / 2 / math.Sqrt(3) * r.NormFloat64()}
	in := &measure.Instrument{Name: s.of, Measures: u.Measures, Resolution: g.step, Spread: &g.spread, Spot: g.spot, Offset: u.Offset / 2}
	if u.Measures == measure.Angle {
		in.PerDegree = u.Proportion / 2
	} else {
		in.PerMetre = u.Proportion / 2
	}
	g.stated = in
	return g
}

// shopworn is an instrument of which its builder has said much: the spread was found by ten placings, a constant
// error and a spot are stated between half and twice what they are; its proportion is what is usual.
func shopworn(_ *Evening, s sold, r *rand.Rand) *gadget {
	g := unproven(nil, s, r)
	u, _ := measure.UsualOf(s.of)
	off := func() float64 { return math.Exp((2*r.Float64() - 1) * math.Ln2) }
	g.constant = signed(u.Offset*r.Float64(), r)
	in := &measure.Instrument{Name: s.of, Measures: u.Measures, Type: s.of, Resolution: g.step, Offset: u.Offset * off(), Spot: g.spot * off()}
	sum, mean := 0.0, 0.0
	var shown [10]float64
	at := r.Float64()
	for i := range shown {
		shown[i] = math.Round((at+g.spread*tailed(true, r))/g.step) * g.step
		mean += shown[i] / 10
	}
	for _, v := range shown {
		sum += (v - mean) * (v - mean)
	}
	found := measure.SpreadAllowance * math.Sqrt(sum/9)
	in.Spread, in.SpreadFrom = &found, 10
	in.Assume(func(column string) bool { return column != "per_metre" && column != "per_degree" })
	g.stated = in
	return g
}

// prove does what the Instruments sheet does: a level is turned end for end on one spot and its zero taken off; of another
// instrument that is held against something known, the error with half its step is the bound.
func (g *gadget) prove(r *rand.Rand) {
	show := func(v float64) float64 { return math.Round((v+g.spread*r.NormFloat64())/g.step) * g.step }
	one := math.Sqrt(g.step*g.step/12 + *g.stated.Spread**g.stated.Spread)
	slope := 0.2 * r.NormFloat64()
	in := *g.stated
	if in.Measures == measure.Angle {
		in.Zero, in.ZeroU = (show(slope+g.constant)+show(-slope+g.constant))/2, one/math.Sqrt2
	}
	if slices.Contains(in.Assumed, "offset") {
		in.Offset = 0
		if in.Measures == measure.Length {
			in.Offset = math.Abs(show(g.constant+300)-300) + g.step/2
		}
		in.Assumed = slices.DeleteFunc(slices.Clone(in.Assumed), func(c string) bool { return c == "offset" })
	}
	*g.stated, g.proven = in, true
}

// probe is a reading that can be taken.
type probe struct {
	into    *measure.Reading
	true    func() float64
	with    *gadget
	sense   float64 // −1 where the instrument reads it the other way round
	expects float64 // what the builder expects there
	where   float64 // of the spot of the first placing
}

// trial is a part that is measured for one kind of check.
type trial struct {
	world   *Evening
	r       *rand.Rand
	check   measure.Check
	limits  map[string]measure.Limit
	truth   func() map[string]float64
	probes  []*probe
	carry   func(measure.Move) // carries a move out; nil where there are none
	pulled  bool
	peeks   bool
	dropped bool // the first readings count no more
	taken   int
	more    int // readings beside the first of each spot
}

// add makes a reading of the trial.
func (t *trial) add(into *measure.Reading, with *gadget, expects float64, true func() float64) *probe {
	into.Instrument = with.stated
	p := &probe{into: into, true: true, with: with, sense: 1, expects: expects}
	t.probes = append(t.probes, p)
	return p
}

func (p *probe) shown(t *trial, blind bool) float64 {
	g := p.with
	v := p.true()
	v = v*(1+g.inProportion()) + p.sense*g.constant + g.spot*p.where + g.spread*tailed(t.world.Tails, t.r)
	if t.pulled && (!blind || t.peeks) {
		v += pull * (p.expects - v)
	}
	return math.Round(v/g.step) * g.step
}

// inProportion is the error in proportion: degrees in a degree, or millimetres in a metre.
func (g *gadget) inProportion() float64 {
	if g.stated.Measures == measure.Angle {
		return g.scale
	}
	return g.scale / 1000
}

// read takes the first reading of each spot.
func (t *trial) read() {
	t.dropped = false
	for _, p := range t.probes {
		p.where = t.r.NormFloat64()
		p.into.Values, p.into.Moved = []float64{p.shown(t, false)}, false
		t.taken++
	}
}

// place takes one more placing of each spot, lifted off and set a little beside: so it is said.
func (t *trial) place() {
	for _, p := range t.probes {
		if t.r.Float64() >= t.world.Stays {
			p.where = t.r.NormFloat64()
		}
		p.into.Values, p.into.Moved = append(p.into.Values, p.shown(t, true)), true
		t.taken++
		t.more++
	}
}

// mostMore is how many readings beside the first a builder takes for one check.
const mostMore = 20

func (t *trial) solve() measure.Result {
	return measure.Solve(t.check, t.limits, measure.Decision{Coverage: coverage})
}

// settle measures, does what the program says, and returns its last word; proof is what would help most.
func (t *trial) settle() measure.Result {
	result := t.solve()
	for range 4 * mostMore {
		sure := result.Verdict == measure.Go && result.Inside(hold.Guard)
		switch {
		case t.more > 0 && t.leans(): // what was read first counts no more
			for _, p := range t.probes {
				if len(p.into.Values) > 1 {
					p.into.Values = p.into.Values[1:]
				}
			}
			t.more = max(t.more, 1)
			t.dropped = true
		case sure && t.blind():
			t.place() // each place once more, without looking
		case sure || result.Verdict == measure.Stop || !t.remedy(result):
			return result
		}
		result = t.solve()
	}
	return result
}

// blind tells whether nothing was read again yet.
func (t *trial) blind() bool { return len(t.probes[0].into.Values) < 2 && !t.dropped }

// leaning is by how many of its standard uncertainties what was read first may differ from what was read blind.
const leaning = measure.Leaning

// leans tells whether a limited quantity by the first readings differs from that by the blind ones by more than
// chance: its reader may have had an eye on what it ought to be. Constant errors cancel in the difference.
func (t *trial) leans() bool {
	if t.dropped || t.blind() {
		return false
	}
	all := make([][]float64, len(t.probes))
	for i, p := range t.probes {
		all[i] = p.into.Values
		p.into.Values = all[i][:1]
	}
	first := t.solve()
	for i, p := range t.probes {
		if p.into.Values = all[i]; len(all[i]) > 1 {
			p.into.Values = all[i][1:]
		}
	}
	later := t.solve()
	for i, p := range t.probes {
		p.into.Values = all[i]
	}
	own := func(q measure.Quantity) float64 {
		share := 0.0
		for _, d := range q.Doubt() {
			if cause, _, _ := strings.Cut(d.Of, " "); cause == "resolution" || cause == "spread" || cause == "spot" {
				share += d.Share
			}
		}
		return share * q.U * q.U
	}
	for _, q := range first.Quantities {
		if q.Limit == nil {
			continue
		}
		if b, ok := later.Quantity(q.Name); ok && math.Abs(b.Value-q.Value) > leaning*math.Sqrt(own(q)+own(b)) {
			return true
		}
	}
	return false
}

// remedy does the first of what the program proposes for what is furthest from decided, and tells whether there
// was anything.
func (t *trial) remedy(result measure.Result) bool {
	var worst measure.Quantity
	most := 0.0
	for _, q := range result.Quantities {
		if q.Limit == nil || q.U == 0 {
			continue
		}
		room := math.Inf(1)
		if q.Limit.Low != nil {
			room = min(room, q.Value-*q.Limit.Low)
		}
		if q.Limit.High != nil {
			room = min(room, *q.Limit.High-q.Value)
		}
		if need := q.U / max(room, 1e-9); room > 0 && need > most {
			worst, most = q, need
		}
	}
	if most == 0 {
		return false
	}
	for _, d := range worst.Remedies() {
		switch d.Do {
		case measure.TurnEnds, measure.KnownSize:
			for _, p := range t.probes {
				if p.with.stated.Name == d.Of && !p.with.proven {
					p.with.prove(t.r)
					t.taken, t.more = t.taken+2, t.more+2
					return true
				}
			}
		case measure.PlaceMoved:
			if t.more+len(t.probes) <= mostMore {
				t.place()
				return true
			}
		}
	}
	if t.more+len(t.probes) <= mostMore && hold.Guard*worst.Best(1+(mostMore-t.more)/len(t.probes))*most/worst.U < 1 {
		t.place() // each round by itself is no fifth, but they come to it
		return true
	}
	return false
}
