package paper

import (
	"fmt"
	"math"

	"orpine/internal/core/quantity"
	"orpine/internal/core/section"
)

// scaleAllowed is by how much a side of the check square may differ before a print is no longer
// used: what a rule tells, in mm.
const scaleAllowed = 0.3

// Scaled says what a printer did, by the measured width and height of the check square in mm,
// and whether what is beside it may be cut out.
func Scaled(across, along float64) (says string, right bool) {
	x, y := across/section.Square, along/section.Square
	percent := func(share float64) string { return quantity.Fixed(100*share, 1) + " %" }
	switch {
	case !(across > 0) || !(along > 0) || x > 3 || y > 3:
		return "That is no side of the square. It is 100 mm on paper.", false
	case math.Abs(across-section.Square) <= scaleAllowed && math.Abs(along-section.Square) <= scaleAllowed:
		return "It printed 1:1, as near as a rule tells. Cut.", true
	case math.Abs(x-y) > 2*scaleAllowed/section.Square:
		wider, by := "wider than it is high", x/y-1
		if y > x {
			wider, by = "higher than it is wide", y/x-1
		}
		return fmt.Sprintf("Do not cut. The print is %s %s (%s across, %s along): no scaling in the printer's window mends that. Print on another one.", percent(by), wider, percent(x), percent(y)), false
	}
	share := (x + y) / 2
	return fmt.Sprintf("Do not cut. The printer scaled to %s. Print again at “actual size”; if it only takes a percentage, give it %s.", percent(share), percent(1/share)), false
}
