package stock

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"orpine/internal/core/quantity"
)

// size finds the figures of a name, with the unit behind each where there is one.
var size = regexp.MustCompile(`\d+(?:[.,]\d+)?(?:[ -]\d+)?(?:/\d+)?\s*(?:mm|in|inch|inches|"|″)?(?:\b|$|\s)`)

// Key is the same for names of the same thing, however they are spelt: its sizes count by
// what they measure (a bare fraction is in inches, another bare figure in millimetres), words
// by their letters, both in any order. "cleco 1/8", "Cleco 1/8 in" and "3.175 mm cleco" are
// one.
func Key(name string) string {
	name = strings.ToLower(strings.NewReplacer("×", " ", "*", " ", " x ", " ").Replace(name))
	var out []string
	rest := size.ReplaceAllStringFunc(name, func(text string) string {
		unit := quantity.Millimetre
		if strings.Contains(text, "/") {
			unit = quantity.Inch
		}
		v, err := quantity.ParseLength(strings.TrimSpace(text), unit)
		if err != nil {
			return text
		}
		out = append(out, fmt.Sprintf("%.3f", float64(v)))
		return " "
	})
	out = append(out, strings.Fields(strings.TrimSpace(rest))...)
	for i := range out {
		out[i] = strings.TrimSuffix(strings.Trim(out[i], ",;"), "s")
	}
	slices.Sort(out)
	return strings.Join(out, " ")
}
