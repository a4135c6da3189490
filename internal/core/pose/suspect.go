package pose

import (
	"math"
	"strings"

	"orpine/internal/core/adjust"
	"orpine/internal/core/measure"
)

// The bounds of data snooping (Baarda 1968, A testing procedure for use in geodetic
// networks): a standardized residual beyond critical convicts at α = 0.001, and a
// blunder of detectable standard deviations over √r is found with power 0.8.
const (
	critical      = 3.29
	detectable    = 4.13
	assumedSpread = 1.5  // how many times too small an assumed spread may be before it accuses
	looselyFound  = 5.78 // in place of detectable where a spread is assumed
	unchecked     = 1e-6 // redundancy at or below which a reading is checked by no other
	tiedWithin    = 1e-6 // of the greatest standardized residual
	mostUnknown   = 1000 // mm: a position less known than that is unseen
	mostTurned    = 10   // degrees, likewise
)

// Where so many readings are suspect, and so great a share of them, it is not they that
// are wrong.
const (
	fewSuspects   = 2
	shareSuspects = 0.2
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
func (n *network) check(a *adjust.Solution) []checked {
	out := make([]checked, len(n.observations))
	rows := a.Rows()
	for i := range n.observations {
		if n.observations[i].aside {
			continue
		}
		r := &rows[0]
		rows = rows[1:]
		c := checked{residual: r.Residual, redundancy: 1 - a.Leverage(r)}
		if c.redundancy > unchecked {
			c.w = r.Residual * math.Sqrt(r.Weight/c.redundancy)
		}
		out[i] = c
	}
	return out
}

// snooped is what came of looking for blunders.
type snooped struct {
	a        *adjust.Solution // the last one, or the first where nobody is accused
	readings []checked
	tied     bool   // several are equally suspect, and none is set aside
	pointed  bool   // too many are suspect for the readings to be wrong
	at       string // the point that they all touch; "" for none
	ok       bool   // the last adjustment converged
}

// snoop adjusts, and while the greatest standardized residual convicts a reading,
// sets it aside and adjusts the rest again. A convicted reading keeps what convicted it.
// Where they are many, or all touch one point, none is: a mark, a datum point or a pin
// lies elsewhere than was said. accuse is false where something is not known of the
// instruments.
func (n *network) snoop(accuse, loose bool) snooped {
	bound := critical
	if loose {
		bound *= assumedSpread
	}
	first, ok := adjust.Solve(n)
	if !ok {
		return snooped{}
	}
	now := n.check(first)
	out := snooped{a: first, readings: append([]checked(nil), now...), ok: true}
	before := append([]checked(nil), now...)
	var suspects []int
	for accuse && out.ok {
		worst := 0.0
		for i, c := range now {
			if o := &n.observations[i]; !o.aside && o.kind != pinned {
				out.readings[i] = c
				worst = max(worst, math.Abs(c.w))
			}
		}
		if worst <= bound {
			break
		}
		var convicted []int
		for i, c := range now {
			if o := &n.observations[i]; !o.aside && o.kind != pinned && math.Abs(c.w) >= worst*(1-tiedWithin) {
				convicted = append(convicted, i)
				out.readings[i].suspect = true
			}
		}
		if len(convicted) > 1 {
			out.tied = true
			return out
		}
		suspects = append(suspects, convicted[0])
		n.observations[convicted[0]].aside = true
		if out.a, out.ok = adjust.Solve(n); out.ok {
			now = n.check(out.a)
		}
	}
	if out.at = n.pointOf(suspects); out.at != "" || n.many(len(suspects)) {
		for _, i := range suspects {
			n.observations[i].aside = false
		}
		return snooped{a: first, readings: before, pointed: true, at: out.at, ok: true}
	}
	return out
}

// mostTried is how many readings are left out one by one, at most, where none fit.
const mostTried = 100

// without names the reading without which the others fit a position best, of those without which they do; "" for
// none, and where there are too many to try.
func (n *network) without() (id string) {
	if len(n.observations) > mostTried {
		return ""
	}
	least := math.Inf(1)
	for i := range n.observations {
		o := &n.observations[i]
		if o.kind == pinned || o.aside {
			continue
		}
		o.aside = true
		if a, ok := adjust.Solve(n); ok && a.S < least {
			least, id = a.S, o.id
		}
		o.aside = false
	}
	return id
}

// many tells whether so many suspects are too many.
func (n *network) many(suspects int) bool {
	readings := 0
	for i := range n.observations {
		if n.observations[i].kind != pinned {
			readings++
		}
	}
	return suspects > fewSuspects && float64(suspects) > shareSuspects*float64(readings)
}

// pointOf names the point that two suspects or more all touch, by itself or by what is
// pinned to it; "" for none.
func (n *network) pointOf(suspects []int) string {
	if len(suspects) < 2 {
		return ""
	}
	var names []string
	for i := range n.points {
		same := n.pinnedTo(i)
		all := true
		for _, k := range suspects {
			touches := false
			for _, p := range same {
				touches = touches || n.observations[k].touches(p)
			}
			all = all && touches
		}
		if all {
			names = append(names, n.points[i].name)
		}
	}
	return strings.Join(names, " and ")
}

// pinnedTo are a point and those that are pinned to it.
func (n *network) pinnedTo(point int) []int {
	out := []int{point}
	for i := range n.observations {
		switch o := &n.observations[i]; {
		case o.kind != pinned || o.axis != 0:
		case o.from == point:
			out = append(out, o.to)
		case o.to == point:
			out = append(out, o.from)
		}
	}
	return out
}

// residual writes what is known of a reading in the units of results.
func (n *network) residual(i int, c checked, loose bool) measure.Residual {
	o := &n.observations[i]
	by, found := 1.0, detectable
	if loose {
		found = looselyFound
	}
	out := measure.Residual{ID: o.id, Dimension: measure.Length, Redundancy: c.redundancy, Suspect: c.suspect}
	if o.kind.angular() {
		out.Dimension, by = measure.Angle, perRadian
	}
	u := math.Sqrt(o.variance(0))
	out.Value, out.U = c.residual*by, u*by
	if out.Checked = c.redundancy > unchecked; out.Checked {
		out.W, out.Detectable = c.w, found*u*by/math.Sqrt(c.redundancy)
	}
	return out
}
