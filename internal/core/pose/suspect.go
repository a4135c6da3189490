package pose

import (
	"math"

	"orpine/internal/core/measure"
)

// The bounds of data snooping (Baarda 1968, A testing procedure for use in geodetic
// networks): a standardized residual beyond critical convicts at α = 0.001, and a
// blunder of detectable standard deviations over √r is found with power 0.8.
const (
	critical    = 3.29
	detectable  = 4.13
	unchecked   = 1e-6 // redundancy at or below which a reading is checked by no other
	tiedWithin  = 1e-6 // of the greatest standardized residual
	mostUnknown = 1000 // mm: a position less known than that is unseen
	mostTurned  = 10   // degrees, likewise
)

// checked is what the adjustment says of one reading.
type checked struct {
	residual   float64 // observed less predicted, mm or rad
	redundancy float64 // 1 − its leverage in the whole system, priors included
	w          float64 // residual/(u√r); 0 where nothing checks it
	suspect    bool
}

// check works out redundancy and standardized residual of every reading that is
// not set aside.
func (a *adjustment) check() []checked {
	inverse := a.inverse()
	out := make([]checked, len(a.n.observations))
	for i := range a.n.observations {
		o := &a.n.observations[i]
		w := a.n.row(a.at, o, 0, nil)
		leverage := quadratic(&w, inverse) * w.weight
		c := checked{residual: w.residual, redundancy: 1 - leverage}
		if c.redundancy > unchecked {
			c.w = w.residual * math.Sqrt(w.weight/c.redundancy)
		}
		out[i] = c
	}
	return out
}

// inverse is N⁺, by rows.
func (a *adjustment) inverse() []float64 {
	a.seen()
	n := a.n.params
	out := make([]float64, n*n)
	for k := range a.rank {
		by := 1 / (a.values[k] * a.values[k])
		for i := range n {
			vi := a.v.At(i, k) * a.scale[i] * by
			for j := range n {
				out[i*n+j] += vi * a.v.At(j, k) * a.scale[j]
			}
		}
	}
	return out
}

// quadratic is a C aᵀ of a row.
func quadratic(w *weighted, c []float64) float64 {
	n := int(math.Sqrt(float64(len(c))))
	sum := 0.0
	for i := range w.count {
		for j := range w.count {
			sum += w.first[i] * c[w.index[i]*n+w.index[j]] * w.first[j]
		}
	}
	return sum
}

// snoop adjusts, and while the greatest standardized residual convicts a reading,
// sets it aside and adjusts the rest again. A convicted reading keeps what
// convicted it. tied is true when several are equally suspect: none of them is set
// aside then.
func (n *network) snoop() (a *adjustment, readings []checked, tied, ok bool) {
	readings = make([]checked, len(n.observations))
	for {
		if a, ok = n.adjust(); !ok {
			return nil, nil, false, false
		}
		now := a.check()
		worst := 0.0
		for i, c := range now {
			if o := n.observations[i]; !o.aside && o.kind != pinned {
				readings[i] = c
				worst = max(worst, math.Abs(c.w))
			}
		}
		if worst <= critical {
			return a, readings, false, true
		}
		var convicted []int
		for i, c := range now {
			if o := n.observations[i]; !o.aside && o.kind != pinned && math.Abs(c.w) >= worst-tiedWithin {
				convicted = append(convicted, i)
				readings[i].suspect = true
			}
		}
		if len(convicted) > 1 {
			return a, readings, true, true
		}
		n.observations[convicted[0]].aside = true
	}
}

// residual writes what is known of a reading in the units of results.
func (n *network) residual(i int, c checked) measure.Residual {
	o := &n.observations[i]
	by := 1.0
	out := measure.Residual{ID: o.id, Dimension: measure.Length, Redundancy: c.redundancy, Suspect: c.suspect}
	if o.kind.angular() {
		out.Dimension, by = measure.Angle, perRadian
	}
	u := math.Sqrt(o.variance(0))
	out.Value, out.U = c.residual*by, u*by
	if out.Checked = c.redundancy > unchecked; out.Checked {
		out.W, out.Detectable = c.w, detectable*u*by/math.Sqrt(c.redundancy)
	}
	return out
}
