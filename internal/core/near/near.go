// Package near asks of a figure whether it is so: each length and each angle is compared with all
// that it ought to be near. A misplaced decimal point, a figure in the other unit and a slip of the
// pen make it three times as much, or a hundred; an honest one seldom does.
package near

import (
	"fmt"
	"math"
)

// To is something that a figure ought to be near, in the figure's own unit (millimetres or degrees).
type To struct {
	Value float64
	What  string // "the plans", "the other supports"
	// Equal: it ought to be the same (the twin, the last placing, the figure of the plans), not of the
	// same size only (a neighbour, the chord, the span, a usual thickness).
	Equal bool
}

// What is asked of figures that ought to be equal: a third, and more than these; of those that
// ought to be of a size: three times or a third and beyond, which holds 10, 25.4 and 100, too.
const (
	share     = 1. / 3
	least     = 3.0 // mm
	leastDeg  = 1.0 // degrees
	times     = 3.0
	beyondDeg = 15.0 // degrees from what is expected
)

// Length finds what a length in millimetres is not near, the first of a list; odd is false where it
// is near all of them. What a length ought to be near is above 0; other entries are passed over.
func Length(v float64, list ...To) (to To, odd bool) {
	for _, to := range list {
		switch {
		case to.Equal && math.Abs(v-to.Value) > max(share*math.Abs(to.Value), least):
			return to, true
		case !to.Equal && to.Value > 0 && (v >= times*to.Value || v <= to.Value/times):
			return to, true
		}
	}
	return To{}, false
}

// Longer tells whether a length lies beyond what it is part of.
func Longer(v, whole float64) bool { return whole > 0 && v > whole*(1+1e-9) }

// Angle is Length for degrees: equal ones differ by a third and by a degree, others by 15°.
func Angle(v float64, list ...To) (to To, odd bool) {
	for _, to := range list {
		switch {
		case to.Equal && math.Abs(v-to.Value) > max(share*math.Abs(to.Value), leastDeg):
			return to, true
		case !to.Equal && math.Abs(v-to.Value) > beyondDeg:
			return to, true
		}
	}
	return To{}, false
}

// Hours asks of a stretch of work whether it fits a day.
func Hours(h float64) bool { return h > mostHours }

// mostHours is the longest stretch of work that nobody is asked about.
const mostHours = 16

// Asks is the question at a figure; shown is the figure that it ought to be near, as the builder
// writes it.
func Asks(typed, shown string, to To) string {
	if to.Equal {
		return fmt.Sprintf("%s is far from %s (%s): is that so?", typed, to.What, shown)
	}
	return fmt.Sprintf("%s is of another size than %s (%s): is that so?", typed, to.What, shown)
}
