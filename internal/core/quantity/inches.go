package quantity

import (
	"math"
	"regexp"
	"strconv"
	"strings"
)

// figure is a number as it is written on the sheets: a typographic or a plain sign, commas
// at the thousands.
const figure = `[+−-]?\d[\d,]*(?:\.\d+)?`

// metric finds figures in millimetres within a sentence: one, or several that share the unit,
// as in 1.6 + 0.3 mm, 0.4 ± 0.1 mm, 0.5 to 1.5 mm.
var (
	metric  = regexp.MustCompile(`(?:` + figure + `(?: mm)?(?: ±| to| \+|,| and| /| −| ×) )*` + figure + ` mm(?:\b|$)`)
	numbers = regexp.MustCompile(figure)
)

// Inches writes the lengths of a sentence in inches, as the tape shows them: the nearest 1/64
// with the decimal beside where they differ; what is smaller than 1/64, and every ±, as a
// decimal, the ± rounded up.
func Inches(sentence string) string {
	if !strings.Contains(sentence, " mm") {
		return sentence
	}
	return metric.ReplaceAllStringFunc(sentence, func(text string) string {
		var b strings.Builder
		last := 0
		bare := strings.TrimSuffix(text, " mm")
		for _, at := range numbers.FindAllStringIndex(bare, -1) {
			between := strings.TrimPrefix(bare[last:at[0]], " mm")
			b.WriteString(between)
			b.WriteString(inches(bare[at[0]:at[1]], strings.Contains(between, "±")))
			last = at[1]
		}
		return b.String() + " in"
	})
}

// inches writes one figure of millimetres in inches, without the unit.
func inches(text string, spread bool) string {
	bare := strings.NewReplacer("−", "-", ",", "", "+", "").Replace(text)
	mm, err := strconv.ParseFloat(bare, 64)
	if err != nil {
		return text
	}
	decimals := 3
	if _, fraction, ok := strings.Cut(bare, "."); ok && len(fraction) > 1 {
		decimals = 4
	}
	v := math.Abs(mm) / 25.4
	sign := ""
	switch {
	case mm < 0:
		sign = "−"
	case strings.HasPrefix(text, "+"):
		sign = "+"
	}
	if spread {
		return sign + Up(v, decimals)
	}
	n := math.Round(v * 64)
	if n == 0 {
		return sign + Fixed(v, decimals)
	}
	out := sign + fraction64(n)
	if math.Abs(v-n/64) > 0.0005 {
		out += " (" + Fixed(v, 3) + ")"
	}
	return out
}
