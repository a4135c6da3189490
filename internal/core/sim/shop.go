// Package sim is a simulated shop: parts with a hidden truth, instruments that read
// them with their errors, and builders who measure, sometimes misread, and follow
// the program's advice. It runs the same core and the same rules of holds as a real
// workshop, and counts how often they are right.
package sim

import (
	"math"
	"math/rand/v2"

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

// tool is an instrument with its hidden errors.
type tool struct {
	stated   *measure.Instrument // what the program is told
	constant float64             // its constant error
	zero     float64             // what it shows on a level surface
}

// newTool draws the errors that an instrument of that description has.
func newTool(stated measure.Instrument, errors Errors, r *rand.Rand) *tool {
	t := &tool{stated: &stated}
	if t.constant = stated.Offset / math.Sqrt(3) * r.NormFloat64(); errors == Rectangular {
		t.constant = stated.Offset * (2*r.Float64() - 1)
	}
	if stated.Measures == measure.Angle {
		t.zero = 0.2 * r.NormFloat64()
	}
	return t
}

// show is what the instrument shows for a true value: with its errors, in whole steps.
func (t *tool) show(true float64, r *rand.Rand) float64 {
	v := true + t.zero + t.constant + *t.stated.Spread*r.NormFloat64()
	return math.Round(v/t.stated.Resolution) * t.stated.Resolution
}

// prove turns a level end for end on some spot and tells the program its zero. The
// constant error that the maker bounds is not found that way.
func (t *tool) prove(r *rand.Rand) {
	spot := 0.3 * r.NormFloat64()
	shown := func(slope float64) float64 {
		v := slope + t.zero + *t.stated.Spread*r.NormFloat64()
		return math.Round(v/t.stated.Resolution) * t.stated.Resolution
	}
	with := func(v float64) measure.Reading {
		return measure.Reading{Values: []float64{v}, Instrument: t.stated}
	}
	check := &measure.ZeroTest{First: with(shown(spot)), Turned: with(shown(-spot))}
	zero, _ := measure.Solve(check, nil, measure.Decision{Coverage: 2}).Quantity("zero")
	t.stated.Zero, t.stated.ZeroU = zero.Value, zero.U
}

func spread(v float64) *float64 { return &v }

// kit is the instruments of one builder.
type kit struct{ tape, water, rule, level *tool }

func newKit(errors Errors, r *rand.Rand) kit {
	k := kit{
		tape:  newTool(measure.Instrument{Name: "steel tape", Measures: measure.Length, Resolution: 1, Offset: 0.5, Spread: spread(0.4)}, errors, r),
		water: newTool(measure.Instrument{Name: "laser level", Measures: measure.Length, Resolution: 0.5, Offset: 1, Spread: spread(0.3)}, errors, r),
		rule:  newTool(measure.Instrument{Name: "rule", Measures: measure.Length, Resolution: 0.5, Offset: 0.2, Spread: spread(0.25)}, errors, r),
		level: newTool(measure.Instrument{Name: "level 2", Measures: measure.Angle, Resolution: 0.01, Offset: 0.05, Spread: spread(0.015)}, errors, r),
	}
	k.level.prove(r)
	return k
}
