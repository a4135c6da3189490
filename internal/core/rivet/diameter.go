package rivet

import (
	"fmt"
	"strconv"
	"strings"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

// thickest is the thickest rivet, and the widest hole for one, that nobody is asked about: 1/2 in.
const thickest = 12.7

// Diameter reads the diameter of a rivet or of its hole, in millimetres. Dash numbers (-4: so many
// 32nds of an inch), number drills (#30) and lengths are told apart by how they are written, never
// guessed: a bare 4 in an inch shop is asked about.
func Diameter(text string, unit quantity.Unit) (quantity.Length, error) {
	text = strings.TrimSpace(text)
	if d, ok, err := Drill(text); ok {
		return d, err
	}
	if number, ok := strings.CutPrefix(text, "-"); ok {
		if n, err := strconv.Atoi(number); err == nil && n >= 2 && n <= 12 {
			return quantity.Length(float64(n) * 25.4 / 32), nil
		}
		return 0, fmt.Errorf("“%s” is no dash number of a rivet: -3, -4, -5 are 3/32, 1/8 and 5/32 in", text)
	}
	d, err := quantity.ParseLength(text, unit)
	if err == nil && d > thickest {
		return 0, fmt.Errorf("%s is no rivet: a dash number is written -4, and means 4/32 in; 1/8 is a length", say.Written(quantity.Length(d)))
	}
	return d, err
}
