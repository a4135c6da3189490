// Package sim is a simulated shop: parts with a hidden truth, instruments that read
// them with their errors, and builders who measure, sometimes misread, and follow
// the program's advice. It runs the same core and the same rules of holds as a real
// workshop, and counts how often they are right.
package sim

import (
	"math"
	"math/rand/v2"

	"gonum.org/v1/gonum/stat"

	"orpine/internal/core/measure"
)

// Errors says how the constant error of an instrument is drawn.
type Errors int

// A constant error is known to the program only by a bound, taken as a standard
// uncertainty of bound/√3. Normal errors have just that; rectangular ones lie evenly
// within the bound.
const (
	Normal Errors = iota
	Rectangular
)

// World is what a shop does to readings besides the errors that the program assumes.
// Sizes are standard deviations unless said otherwise; the zero value is an ideal shop.
type World struct {
	Name    string
	Datum   float64 // mm: points of the airframe lie off, each coordinate, with heavy tails
	Marks   float64 // mm: likewise marks on a surface
	Step    float64 // mm: what a tape is read to; 0 for its own step
	Board   float64 // degrees: what a bowed board adds to the airframe's own level
	Settle  float64 // degrees: by which the bench twists further while the work goes on
	Tails   bool    // placing errors have heavy tails
	Drift   float64 // degrees a day: of a level's zero
	Sag     bool    // tapes hang
	Scale   float64 // bound of a tape's error in proportion
	Shared  float64 // share of the variance of a placing error that belongs to the spot
	Proved  int     // placings from which the spread of an instrument was found; 0: it is known
	Repeats float64 // how often a reading that is taken again repeats its blunder
}

// Ideal is the world that the program assumes, and Shop one that is less kind.
var (
	Ideal = World{Name: "ideal"}
	Shop  = World{Name: "shop", Datum: 0.5, Marks: 0.25, Step: 25.4 / 8, Board: 0.05, Settle: 0.05, Tails: true,
		Drift: 0.1, Sag: true, Scale: 2e-4, Shared: 0.7, Proved: 10, Repeats: 0.5}
)

// tool is an instrument with its hidden errors.
type tool struct {
	world    *World
	stated   *measure.Instrument // what the program is told
	spread   float64             // its true one
	constant float64             // its constant error
	scale    float64             // of a tape: its error in proportion
	zero     float64             // what it shows on a level surface, at first
	drift    float64             // of that, degrees a minute
	pull     float64             // N: at which a tape is held
	proofs   []proof             // its end-for-end tests
}

// proof is an end-for-end test: when it was made, in minutes, and what it showed.
type proof struct{ at, zero, u float64 }

// The usual tape of the workshop: its weight in N/m, and the pull in N that is asked for.
const (
	tapeWeight = 0.2
	tapePull   = 50
)

// newTool draws the errors that an instrument of that description has.
func newTool(stated measure.Instrument, w *World, errors Errors, r *rand.Rand) *tool {
	t := &tool{world: w, stated: &stated, spread: *stated.Spread}
	if t.constant = stated.Offset / math.Sqrt(3) * r.NormFloat64(); errors == Rectangular {
		t.constant = stated.Offset * (2*r.Float64() - 1)
	}
	if stated.Measures == measure.Angle {
		t.zero = 0.2 * r.NormFloat64()
		t.drift = w.Drift / (24 * 60) * r.NormFloat64()
	}
	if stated.Name == tapeName {
		if w.Step > 0 {
			t.stated.Resolution = w.Step // asked what it is read to, the builder says so
		}
		t.stated.PerMetre = 1000 * w.Scale
		t.scale = w.Scale * (2*r.Float64() - 1)
		t.pull = tapePull * (1 + 0.15*r.NormFloat64())
	}
	if w.Proved > 0 {
		shown := make([]float64, w.Proved)
		at := r.Float64()
		for i := range shown {
			shown[i] = t.steps(at + t.placing(0, r)) // set down anew each time
		}
		found := measure.SpreadAllowance * stat.StdDev(shown, nil)
		t.stated.Spread, t.stated.SpreadFrom = &found, w.Proved
	}
	return t
}

// tailed is a draw of mean 0 and standard deviation 1: Student's of four degrees of
// freedom where tails are heavy, else normal.
func tailed(heavy bool, r *rand.Rand) float64 {
	v := r.NormFloat64()
	if !heavy {
		return v
	}
	sum := 0.0
	for range 4 {
		n := r.NormFloat64()
		sum += n * n
	}
	return v / math.Sqrt(sum/4) / math.Sqrt2
}

// placing is the error of setting the instrument down once, of which a share belongs to
// the spot.
func (t *tool) placing(spot float64, r *rand.Rand) float64 {
	shared := 0.0
	if spot != 0 {
		shared = t.world.Shared
	}
	return t.spread * (math.Sqrt(shared)*spot + math.Sqrt(1-shared)*tailed(t.world.Tails, r))
}

// steps is what a display or a scale shows of a value.
func (t *tool) steps(v float64) float64 {
	return math.Round(v/t.stated.Resolution) * t.stated.Resolution
}

// show is what the instrument shows for a true value on a spot at a time in minutes: with
// its errors, in whole steps.
func (t *tool) show(true, spot, at float64, r *rand.Rand) float64 {
	v := true*(1+t.scale) + t.zero + t.drift*at + t.constant + t.placing(spot, r)
	if t.world.Sag && t.pull > 0 {
		v += measure.Sag(true, tapeWeight, t.pull)
	}
	return t.steps(v)
}

// prove turns a level end for end on some spot and tells the program its zero. The
// constant error that the maker bounds is not found that way.
func (t *tool) prove(at float64, r *rand.Rand) {
	spot := 0.3 * r.NormFloat64()
	shown := func(slope float64) measure.Reading {
		v := t.steps(slope + t.zero + t.drift*at + t.placing(0, r))
		return measure.Reading{Values: []float64{v}, Instrument: t.stated}
	}
	check := &measure.ZeroTest{First: shown(spot), Turned: shown(-spot)}
	zero, _ := measure.Solve(check, nil, measure.Decision{Coverage: 2}).Quantity("zero")
	t.proofs = append(t.proofs, proof{at, zero.Value, zero.U})
	t.stated.Zero, t.stated.ZeroU = t.proofs[0].zero, t.proofs[0].u
	if len(t.proofs) > 1 {
		t.stated.ZeroU = 0
		for i := range t.proofs[1:] {
			t.stated.ZeroU = max(t.stated.ZeroU, measure.DriftU(t.proofs[i].u, t.proofs[i].zero, t.proofs[i+1].zero))
		}
	}
}

// zeroAt is the zero between the tests before and after a time; nil where there is but one.
func (t *tool) zeroAt(at float64) *float64 {
	for i := 1; i < len(t.proofs); i++ {
		if a, b := t.proofs[i-1], t.proofs[i]; at <= b.at || i == len(t.proofs)-1 {
			zero := measure.Between(a.at, a.zero, b.at, b.zero, at)
			return &zero
		}
	}
	return nil
}

func spread(v float64) *float64 { return &v }

// kit is the instruments of one builder.
type kit struct{ tape, water, rule, level *tool }

const tapeName = "steel tape"

func newKit(w *World, errors Errors, r *rand.Rand) kit {
	k := kit{
		tape:  newTool(measure.Instrument{Name: tapeName, Measures: measure.Length, Resolution: 1, Offset: 0.5, Spread: spread(0.4)}, w, errors, r),
		water: newTool(measure.Instrument{Name: "laser level", Measures: measure.Length, Resolution: 0.5, Offset: 1, Spread: spread(0.3)}, w, errors, r),
		rule:  newTool(measure.Instrument{Name: "rule", Measures: measure.Length, Resolution: 0.5, Offset: 0.2, Spread: spread(0.25)}, w, errors, r),
		level: newTool(measure.Instrument{Name: "level 2", Measures: measure.Angle, Resolution: 0.01, Offset: 0.05, Spread: spread(0.015)}, w, errors, r),
	}
	k.level.prove(0, r)
	return k
}
