package stock

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/quantity"
)

// size finds the figures of a name, with the unit behind each where there is one.
var size = regexp.MustCompile(`\d+(?:[ -]\d+/\d+|/\d+|[.,]\d+)?\s*(?:mm|in|inch|inches|"|″)?(?:\b|$|\s)`)

// callout is a domed solid rivet as plans call it out: its diameter in 32nds, its length in 16ths of an inch.
var callout = regexp.MustCompile(`^(?:[a-z]{2,3})?(?:\d{0,5}470)?-?(?:ad)?-?([2-8])-(\d{1,2})(?:-(5))?$`)

// bare are two lengths with nothing else.
var bare = regexp.MustCompile(`^\d[\d./, -]*(?:mm|in)?\s*[x×*]\s*\d[\d./, -]*(?:mm|in)?$`)

// nominal are diameters in mm as they are said, for those in 32nds of an inch.
var nominal = strings.NewReplacer("solid 2.4 ", "solid 3/32 ", "solid 3.2 ", "solid 1/8 ", "solid 4.0 ", "solid 5/32 ", "solid 4 ", "solid 5/32 ", "solid 4.8 ", "solid 3/16 ")

// called writes a rivet's call-out, or its two sizes, out as the stores have it; another name stays as it is.
func called(name string) string {
	plain := strings.ToLower(strings.TrimSpace(name))
	if m := callout.FindStringSubmatch(strings.ReplaceAll(plain, " ", "")); m != nil {
		length, _ := strconv.ParseFloat(m[2], 64)
		if m[3] != "" {
			length += 0.5
		}
		return fmt.Sprintf("solid %s/32 × %g/32 in", m[1], 2*length)
	}
	if bare.MatchString(plain) {
		return nominal.Replace("solid " + strings.NewReplacer("×", " × ", "x", " × ", "*", " × ").Replace(plain))
	}
	return nominal.Replace(plain)
}

// CalledOut tells whether a name is that of a rivet: its call-out, or one by its sizes.
func CalledOut(name string) bool {
	plain := strings.ToLower(strings.TrimSpace(name))
	return called(name) != plain || strings.HasPrefix(plain, "solid ") || strings.HasPrefix(plain, "blind ")
}

// Key is the same for names of the same thing, however they are spelt: its sizes count by
// what they measure (a bare fraction is in inches, another bare figure in millimetres), words
// by their letters, both in any order. "cleco 1/8", "Cleco 1/8 in" and "3.175 mm cleco" are
// one; so are a domed solid rivet's call-out, "AD4-4", "-4-4", "470-4-4", and "3.2 × 6.35".
func Key(name string) string {
	name = called(name)
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
