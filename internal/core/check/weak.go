package check

import (
	"fmt"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// Weak is the weak point of a check's answer, in words.
type Weak struct {
	Spot   Spot   // the reading that contributes most; its number is 0 when that is an instrument's constant error
	Says   string // "left tip, angle (40 %)", the share being of u²
	Remedy string // what would halve the ±
}

// Weak names what the uncertainty of the headline rests on most, and what would
// halve it; ok is false where nothing is uncertain.
func (c Check) Weak() (w Weak, ok bool) {
	q, found := c.Headline()
	if !found {
		return w, false
	}
	weakness := q.Weakness()
	switch {
	case weakness.Offset != "":
		w.Says = fmt.Sprintf("the constant error of %s (%s %%)", weakness.Offset, percent(weakness.Common))
	case weakness.Reading != "":
		number, known := c.Where[weakness.Reading]
		if w.Spot, ok = c.Spot(number); !known || !ok {
			return w, false
		}
		w.Says = fmt.Sprintf("%s (%s %%)", w.Spot.Place(), percent(weakness.Share))
	default:
		return w, false
	}
	w.Remedy = remedy(weakness)
	return w, true
}

func percent(share float64) string { return quantity.Fixed(100*share, 0) }

// remedy is what would halve u: the cheapest first.
func remedy(w measure.Weakness) string {
	switch {
	case w.Placings > 0:
		return fmt.Sprintf("%d placings of each reading would halve the ±", w.Placings)
	case w.Offset != "":
		return "half of that error, or the instrument turned round for one of two readings that are compared, would halve the ±"
	case w.Steps:
		return "an instrument with half the step would halve the ±"
	}
	return "an instrument twice as fine would halve the ±; more placings of this one would not"
}
