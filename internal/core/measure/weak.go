package measure

import "math"

// Weakness is what a quantity's uncertainty rests on most, and what would halve it.
type Weakness struct {
	Reading  string  // the reading that contributes most, by its Where; "" when none contributes
	Share    float64 // its part of u², between 0 and 1
	Offset   string  // the instrument whose constant error contributes more than any one reading; else ""
	Common   float64 // the part of u² that comes from that error
	Other    bool    // Offset names no instrument but a correction that several readings share
	Placings int     // placings of each reading that would halve u; 0: none would
	Steps    bool    // half the step of the instruments would halve u, spread and offset as they are
}

// Weakness finds what makes the quantity uncertain: each error's own part of u², which
// is their sum (JCGM 100:2008, 5.1.2).
func (q Quantity) Weakness() Weakness {
	if q.weakness == nil || q.U == 0 {
		return Weakness{}
	}
	return q.weakness()
}

// Supposing tells whether readings stand at other uncertainties than their own just
// now, to see what that would change: what was worked out before does not hold.
func (w *Work) Supposing() bool { return w.supposing }

func (w *Work) weakness(g Grounds) Weakness {
	now := g.U(0)
	var out Weakness
	readings, commons := w.parts(g)
	for i, square := range readings {
		if share := square / (now * now); share > out.Share+tie {
			out.Reading, out.Share = w.readings[i].where, share
		}
	}
	for i, square := range commons {
		share := square / (now * now)
		if share > out.Share && (share > out.Common || share == out.Common && w.commons[i].name < out.Offset) {
			out.Offset, out.Common, out.Other = w.commons[i].name, share, w.commons[i].instrument == nil
		}
	}
	out.Placings = w.halving(now, g)
	out.Steps = w.finerSteps(func() bool { return g.U(0) <= now/2 })
	return out
}

// parts are what each reading and each common error adds to the variance, of the least
// known candidate.
func (w *Work) parts(g Grounds) (readings, commons []float64) {
	readings, commons = make([]float64, len(w.readings)), make([]float64, len(w.commons))
	if g.Candidates == nil {
		for _, p := range g.Parts() {
			switch {
			case p.reading >= 0:
				readings[p.reading] += p.square
			case p.common >= 0:
				commons[p.common] += p.square
			}
		}
		return readings, commons
	}
	var least Estimate
	most := -1.0
	for e := range g.Candidates {
		if u := w.U(e, 0); u > most {
			least, most = e, u
		}
	}
	for _, s := range least.slopes {
		readings[s.reading] = s.by * s.by * w.readings[s.reading].variance(0)
		for _, c := range w.readings[s.reading].shares {
			commons[c.common] += s.by * c.by
		}
	}
	for i, sum := range commons {
		commons[i] = sum * sum * w.commons[i].variance
	}
	return readings, commons
}

// finerSteps asks while every instrument has half its step.
func (w *Work) finerSteps(ask func() bool) bool {
	before := append([]used(nil), w.readings...)
	w.supposing = true
	defer func() {
		copy(w.readings, before)
		w.supposing = false
	}()
	for i := range w.readings {
		w.readings[i].step /= 4
	}
	return ask()
}

// halving returns the least number of placings, up to mostPlacings, that halves
// u, or 0.
func (w *Work) halving(now float64, g Grounds) int {
	halved := func(n int) bool { return g.U(n) <= now/2*(1+1e-12) }
	if !w.placingsHelp(g) || math.IsInf(now, 0) || !halved(mostPlacings) {
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
