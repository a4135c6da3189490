package measuring

import (
	"fmt"
	"strconv"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/ledger"
)

// The marks of a limit that is meant to have one side.
var (
	atLeast = []string{"at least", "≥", ">="}
	atMost  = []string{"at most", "≤", "<="}
)

// OneEnd begins what is asked of a limit of which one end alone was typed.
const OneEnd = "only one end"

// marked takes one of some marks off a text.
func marked(text string, marks []string) (rest string, ok bool) {
	text = strings.TrimSpace(text)
	for _, mark := range marks {
		if rest, ok := strings.CutPrefix(text, mark); ok {
			return strings.TrimSpace(rest), true
		}
	}
	return text, false
}

// numbered makes numbers of the limits of quantities that are neither lengths nor angles, as they stand
// in a worksheet; what is no number stays as typed, to be refused.
func numbered(kind string, limits map[string]any) {
	k, _ := measure.KindNamed(kind)
	for _, l := range k.Limits {
		limit, _ := limits[l.Name].(map[string]any)
		if limit == nil || l.Dimension == measure.Length || l.Dimension == measure.Angle {
			continue
		}
		for end, v := range limit {
			text, _ := v.(string)
			text = strings.NewReplacer("−", "-", ",", ".").Replace(strings.TrimSpace(text))
			if number, err := strconv.ParseFloat(text, 64); err == nil {
				limit[end] = number
			}
		}
	}
}

// EndAs is one end of a limit as the builder answered what was asked of it: "±", "at least", "at most",
// put before what was typed. Nothing is changed without an answer.
func EndAs(answer, low, high string) (string, string) {
	switch answer {
	case "±":
		return "±" + strings.TrimLeft(strings.TrimSpace(low+high), "-−+ "), ""
	case atLeast[0], atMost[0]:
		if strings.TrimSpace(low) != "" {
			return answer + " " + low, high
		}
		return low, answer + " " + high
	}
	return low, high
}

// typedLimit reads the limit of a quantity as it was typed into two fields. One end alone is ± where
// the quantity is two-sided by nature, one side where it is one-sided by nature or says so, and asked
// about else: at field.
func typedLimit(quantity, low, high, field string, wrong ledger.Problems) map[string]any {
	low, least := marked(low, atLeast)
	high, most := marked(high, atMost)
	limit := limitOf(low, high)
	if len(limit) != 1 || least || most {
		return limit
	}
	text, end := low, "low"
	if text == "" {
		text, end = high, "high"
	}
	switch side := measure.Sided(quantity); {
	case side == measure.BothSides:
		bare := strings.TrimLeft(text, "-−+ ")
		return map[string]any{"low": "-" + bare, "high": bare}
	case side == measure.FromBelow && end == "low", side == measure.FromAbove && end == "high":
		return limit
	}
	word := map[string]string{"low": "at least", "high": "at most"}[end]
	wrong.Add(field, fmt.Sprintf(OneEnd+": ±%s, or %s %s? Write ± or “%s” before it", strings.TrimLeft(text, "-−+ "), word, text, word))
	return limit
}
