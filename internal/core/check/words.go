package check

import (
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// Coverage is how many standard uncertainties the stated ± spans.
const Coverage = 2

// Side says which way an angle leans.
func Side(v float64, sense string) string {
	words := map[string][2]string{"pitch": {", leading edge up", ", leading edge down"}, "cross-level": {", right side low", ", left side low"}}[sense]
	switch {
	case v > 0:
		return words[0]
	case v < 0:
		return words[1]
	}
	return ""
}

// Decimals is how finely a dimension is shown, and its unit as it is written.
func Decimals(d measure.Dimension) (int, string) {
	switch d {
	case measure.Angle:
		return 2, "°"
	case measure.Rate:
		return 3, "°/m"
	case measure.Length:
		return 1, " mm"
	}
	return 2, ""
}

// SayQuantity writes a quantity with its ±, to the hundredth of a degree or the
// tenth of a millimetre.
func SayQuantity(q measure.Quantity) string {
	name := strings.ReplaceAll(q.Name, "_", " ")
	if at, ok := q.At.(string); ok {
		name += " at " + at
	}
	if q.Unseen {
		return name + ": nothing that was read shows it"
	}
	decimals, unit := Decimals(q.Dimension)
	return fmt.Sprintf("%s %s%s ± %s%s", name, quantity.Signed(q.Value, decimals), unit, quantity.Up(Coverage*q.U, decimals), unit)
}

// Answer is the headline in words: "twist +0.03° ± 0.06°".
func (c Check) Answer() string {
	q, ok := c.Headline()
	if !ok {
		return "no answer yet"
	}
	if says, ok := hands[c.Result.Answer]; ok {
		return says
	}
	return SayQuantity(q)
}

// hands says what a comparison of two parts has shown.
var hands = map[string]string{
	"mirrored": "it is the mirror of the other", "same": "it is of the same hand as the other",
	"neither": "it is neither the mirror of the other nor the same", "cannot-tell": "these points cannot tell its hand",
}

// SayHeadline names a quantity of a kind in words, and its point.
func SayHeadline(kind measure.Kind, q measure.Quantity) string {
	says := SayLimited(kind, q.Name)
	if at, ok := q.At.(string); ok {
		says += " at " + at
	}
	return says
}

// SayLimited names a quantity of a kind in words.
func SayLimited(kind measure.Kind, name string) string {
	if says := kind.Headlines[name]; says != "" {
		return says
	}
	return strings.ReplaceAll(name, "_", " ")
}

// SayStack writes the pieces of a stack.
func SayStack(stack []float64) string {
	if len(stack) == 0 {
		return "no shim in stock comes nearer than none"
	}
	return pieces(stack) + " mm"
}

func pieces(stack []float64) string {
	out := make([]string, len(stack))
	for i, t := range stack {
		out[i] = strings.TrimSuffix(quantity.Length(t).Text(quantity.Millimetre), " mm")
	}
	return strings.Join(out, " + ")
}

// sayMove is SayMove for a kind: forward means washers under the pads of a mount only.
func (c Check) sayMove(m measure.Move) string {
	if _, join := c.Joined(); join && m.Direction == "forward" {
		return fmt.Sprintf("move %s forward %s mm", m.At, quantity.Fixed(m.Amount, 1))
	}
	return SayMove(m)
}

// SayMove writes a move as a builder would say it.
func SayMove(m measure.Move) string {
	at, amount := m.At, quantity.Fixed(m.Amount, 1)+" mm"
	if first, _ := utf8.DecodeRuneInString(at); unicode.IsLower(first) {
		at = "the " + at // a word, and not a mark such as L1
	}
	var says string
	switch m.Direction {
	case "up":
		says = fmt.Sprintf("raise %s %s", at, amount)
	case "down":
		says = fmt.Sprintf("lower %s %s", at, amount)
	case "forward": // only the pads of a mount and tips move forward; pads by washers
		says = fmt.Sprintf("washers under %s, %s", at, amount)
		if m.At == "right tip" {
			says = fmt.Sprintf("move %s forward %s", at, amount)
		}
	case "trim":
		says = fmt.Sprintf("trim %s by %s", at, amount)
	default:
		says = fmt.Sprintf("move %s %s %s", at, m.Direction, amount)
	}
	if !m.Stacked || len(m.Stack) == 0 {
		return says
	}
	total := 0.0
	for _, t := range m.Stack {
		total += t
	}
	says += " (" + pieces(m.Stack)
	if left := m.Amount - total; left > 0.05 || left < -0.05 {
		says += ", " + quantity.Signed(left, 1) + " left over"
	}
	return says + ")"
}
