package check

import (
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
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

// Decimals is how finely a dimension is shown, in mm and degrees.
func Decimals(d measure.Dimension) int {
	switch d {
	case measure.Rate:
		return 3
	case measure.Length:
		return 1
	}
	return 2
}

// UnitOf is the unit of bare figures of a dimension.
func UnitOf(d measure.Dimension) say.Text {
	switch d {
	case measure.Angle:
		return say.Degree // as it is typed
	case measure.Rate:
		return say.Degree + "/m"
	case measure.Length:
		return say.UnitOf(say.InLength)
	}
	return ""
}

// Figure is a value of a dimension, to the hundredth of a degree or the tenth of a millimetre.
func Figure(d measure.Dimension, v float64) say.Figure {
	switch d {
	case measure.Angle:
		return say.Angle(v)
	case measure.Rate:
		return say.Rate(v)
	case measure.Length:
		return say.Length(v)
	}
	return say.Number(v, 2)
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
	return name + " " + Figure(q.Dimension, q.Value).Signed().Within(Coverage*q.U).String()
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
	return pieces(stack, false)
}

// pieces are the thicknesses of a stack; the last has the unit of all, but where all are bare.
func pieces(stack []float64, bare bool) say.Text {
	out := make([]string, len(stack))
	for i, t := range stack {
		piece := say.Written(quantity.Length(t))
		if bare || i < len(stack)-1 {
			piece = piece.Bare()
		}
		out[i] = piece.String()
	}
	return strings.Join(out, " + ")
}

// sayMove is SayMove for a kind: forward means washers under the pads of a mount only.
func (c Check) sayMove(m measure.Move) string {
	if _, join := c.Joined(); join && m.Direction == "forward" {
		return fmt.Sprintf("move %s forward %s", m.At, say.Length(m.Amount))
	}
	return SayMove(m)
}

// cannotReach is by how much a stack stays short that does not reach what it is to make up, in mm.
const cannotReach = 0.5

// SayMove writes a move as a builder would say it.
func SayMove(m measure.Move) string {
	at, amount := m.At, say.Length(m.Amount).String()
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
	switch {
	case !m.Stacked:
		return says
	case len(m.Stack) == 0:
		return says + " (no shim on hand comes nearer than none)"
	}
	total := 0.0
	for _, t := range m.Stack {
		total += t
	}
	says += " (" + pieces(m.Stack, true)
	switch left := m.Amount - total; {
	case left > cannotReach:
		says += ", " + say.Length(left).Bare().String() + " short: no stack on hand reaches it"
	case left > 0.05 || left < -0.05:
		says += ", " + say.Length(left).Signed().Bare().String() + " left over"
	}
	return says + ")"
}
