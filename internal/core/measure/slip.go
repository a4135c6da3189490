package measure

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"orpine/internal/core/say"
)

// Slip names the usual slip of a tape or a reader that would make a value out of
// its twin (the other side, the last placing, the nominal), in millimetres; ""
// when they agree, or differ in no usual way. near is how far two honest readings
// may lie apart. The text as typed tells digits that may have been swapped.
func Slip(value, twin float64, text, twinText string, near float64) string {
	return slipFrom(value, twin, text, twinText, near, "its twin ("+strings.TrimSpace(twinText)+")")
}

// SlipFromPlan is Slip against what the plans make of a reading, in millimetres.
func SlipFromPlan(value, nominal float64, text string, near float64) string {
	if a, b, swapped := swappedNear(strings.TrimSpace(text), nominal, max(3*near, 2)); swapped && math.Abs(value-nominal) > max(3*near, 2) {
		return fmt.Sprintf("looks like %s for %s: two digits swapped", a, b)
	}
	return slipFrom(value, nominal, "", "", near, "the plans ("+say.Length(nominal).String()+")")
}

// swappedNear tells whether a bare figure comes near the nominal when two
// neighbouring digits change places, and which.
func swappedNear(text string, nominal, near float64) (mine, meant string, swapped bool) {
	for i := 0; i+1 < len(text); i++ {
		turned := []byte(text)
		turned[i], turned[i+1] = turned[i+1], turned[i]
		v, err := strconv.ParseFloat(string(turned), 64)
		if err == nil && text[i] != text[i+1] && math.Abs(v-nominal) <= near {
			return text[i : i+2], string(turned[i : i+2]), true
		}
	}
	return "", "", false
}

func slipFrom(value, twin float64, text, twinText string, near float64, whom string) string {
	off := value - twin
	if math.Abs(off) <= max(3*near, 1) {
		return ""
	}
	if a, b, swapped := swappedDigits(text, twinText); swapped {
		return fmt.Sprintf("looks like %s for %s: two digits swapped", a, b)
	}
	for _, s := range slips {
		if math.Abs(math.Abs(off)-s.amount) <= max(2*near, 0.6) {
			return fmt.Sprintf("is %s from %s", s.says, whom)
		}
	}
	for _, n := range []float64{2, 3, 4, 5, 6} { // further whole inches
		if math.Abs(math.Abs(off)-25.4*n) <= max(near, 0.3) {
			return fmt.Sprintf("is %g whole inches from %s", n, whom)
		}
	}
	return ""
}

// slips are the amounts that a slip makes, in millimetres.
var slips = []struct {
	amount float64
	says   string
}{
	{25.4, "one whole inch, misread or a burnt inch not taken off,"},
	{304.8, "one foot"},
	{10, say.Written(10).String()},
	{100, say.Written(100).String() + ", a burnt " + say.Written(100).String() + " not taken off,"},
	{12.7, "half an inch, a fraction misread (7/8 for 3/8),"},
	{16, "the width of a tape (" + say.Written(16).String() + ")"},
	{19, "the width of a tape (" + say.Written(19).String() + ")"},
}

// swappedDigits tells whether two texts differ by two neighbouring digits that
// changed places, and which.
func swappedDigits(a, b string) (mine, twin string, swapped bool) {
	a, b = strings.TrimSpace(a), strings.TrimSpace(b)
	if len(a) != len(b) {
		return "", "", false
	}
	first := -1
	for i := range len(a) {
		if a[i] != b[i] {
			first = i
			break
		}
	}
	if first < 0 || first+1 >= len(a) || a[first] != b[first+1] || a[first+1] != b[first] || a[first+2:] != b[first+2:] {
		return "", "", false
	}
	return a[first : first+2], b[first : first+2], true
}
