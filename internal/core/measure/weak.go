package measure

import "math"

// Weakness is what a quantity's uncertainty rests on most, and what would halve it.
type Weakness struct {
	Reading  string  // the reading that contributes most, by its Where; "" when none contributes
	Share    float64 // its part of u², between 0 and 1
	Offset   string  // the instrument whose constant error contributes more than any one reading; else ""
	Common   float64 // the part of u² that comes from that error
	Placings int     // placings of each reading that would halve u; 0: none would
	Steps    bool    // half the step of the instruments would halve u, spread and offset as they are
}

// Weakness finds what makes the quantity uncertain. Each reading's part of u² is
// found by halving that reading's own uncertainty alone: in a linear model
// (JCGM 100:2008, 5.1.2) u² then falls by three quarters of its part, and in an
// adjustment with weights by nearly so.
func (q Quantity) Weakness() Weakness {
	if q.weakness == nil || q.U == 0 {
		return Weakness{}
	}
	return q.weakness()
}

// Supposing tells whether readings stand at other uncertainties than their own just
// now, to see what that would change: what was worked out before does not hold.
func (w *Work) Supposing() bool { return w.supposing }

// mostWhatIfs bounds the readings that are tried one by one.
const mostWhatIfs = 400

func (w *Work) weakness(u func(placings int) float64, spreadStated bool) Weakness {
	w.supposing = true
	defer func() { w.supposing = false }()
	now := u(0)
	whole := now * now
	part := func() float64 { // of u², by how far it fell
		then := u(0)
		return max(0, (whole-then*then)/0.75/whole)
	}
	var out Weakness
	for i := range w.readings[:min(len(w.readings), mostWhatIfs)] {
		if share := w.finer(i, 0.25, 0.25, part); share > out.Share+tie {
			out.Reading, out.Share = w.readings[i].where, share
		}
	}
	for in, i := range w.instruments {
		before := w.offsets[i]
		w.offsets[i] /= 4
		share := part()
		w.offsets[i] = before
		if share > out.Share && (share > out.Common || share == out.Common && in.Name < out.Offset) {
			out.Offset, out.Common = in.Name, share
		}
	}
	out.Placings = halving(now, u, spreadStated)
	out.Steps = w.finerSteps(func() bool { return u(0) <= now/2 })
	return out
}

// finer runs what is asked while a reading's fixed and single variances are
// changed by these factors.
func (w *Work) finer(reading int, fixed, single float64, ask func() float64) float64 {
	before := w.readings[reading]
	defer func() { w.readings[reading] = before }()
	w.readings[reading].fixed *= fixed
	w.readings[reading].single *= single
	return ask()
}

// finerSteps asks while every instrument has half its step.
func (w *Work) finerSteps(ask func() bool) bool {
	before := append([]used(nil), w.readings...)
	defer copy(w.readings, before)
	for i := range w.readings {
		w.readings[i].fixed /= 4
	}
	return ask()
}

// halving returns the least number of placings, up to mostPlacings, that halves
// u, or 0.
func halving(now float64, u func(placings int) float64, spreadStated bool) int {
	halved := func(n int) bool { return u(n) <= now/2*(1+1e-12) }
	if !spreadStated || math.IsInf(now, 0) || !halved(mostPlacings) {
		return 0
	}
	low, high := 1, mostPlacings
	for low < high {
		if middle := (low + high) / 2; halved(middle) {
			high = middle
		} else {
			low = middle + 1
		}
	}
	return high
}
