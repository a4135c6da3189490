package say

import (
	"math"
	"strconv"
	"strings"

	"orpine/internal/core/quantity"
)

// Reader is whom a sentence is drawn for. The zero value reads millimetres, degrees, a decimal point
// and °C.
type Reader struct {
	Inches     bool // lengths in inches: a fraction where it is the figure, else a decimal
	Decimals   bool // inches as decimals, always
	Slopes     bool // angles as mm in a metre; in inches, as inches in a foot
	Comma      bool // before the decimals
	Fahrenheit bool
}

// For reads lengths in a unit.
func For(unit quantity.Unit) Reader { return Reader{Inches: unit == quantity.Inch} }

// Plain is a sentence as the reader of millimetres and degrees has it.
func Plain(t Text) string { return Reader{}.Text(t) }

// Unit is that of lengths.
func (r Reader) Unit() quantity.Unit {
	if r.Inches {
		return quantity.Inch
	}
	return quantity.Millimetre
}

// Text draws a sentence for the reader. What has no places is as it was.
func (r Reader) Text(t Text) string {
	if !strings.Contains(t, opens) {
		return t
	}
	var b strings.Builder
	for {
		before, rest, found := strings.Cut(t, opens)
		b.WriteString(before)
		if !found {
			return b.String()
		}
		place, after, _ := strings.Cut(rest, closes)
		b.WriteString(r.place(place))
		t = after
	}
}

// Texts draws several.
func (r Reader) Texts(texts []Text) []string {
	out := make([]string, len(texts))
	for i, t := range texts {
		out[i] = r.Text(t)
	}
	return out
}

func (r Reader) place(place string) string {
	switch {
	case place == "":
		return ""
	case place[0] == example:
		metric, inches, _ := strings.Cut(place[1:], parts)
		if r.Inches {
			return inches
		}
		return metric
	case place[0] == 'U' && len(place) == 2:
		return strings.TrimSpace(r.unit(Dimension(place[1])))
	}
	if f, ok := read(place); ok {
		return r.Figure(f)
	}
	return ""
}

// Figure writes a figure, with its ± and its unit.
func (r Reader) Figure(f Figure) string {
	unit := r.unit(f.dimension)
	if f.manner&bare != 0 {
		unit = ""
	}
	if math.IsNaN(f.u) || f.manner&unsaid != 0 {
		return r.number(f) + unit
	}
	spread := f
	spread.value, spread.u, spread.manner = f.u, math.NaN(), f.manner&(trimmed|bare)|upward
	if f.dimension != InLength && f.dimension != InNumber {
		return r.number(f) + unit + " ± " + r.number(spread) + unit
	}
	return r.number(f) + " ± " + r.number(spread) + unit
}

// unit is how the unit of a dimension is written behind a figure.
func (r Reader) unit(d Dimension) string {
	choose := func(one bool, a, b string) string {
		if one {
			return a
		}
		return b
	}
	switch d {
	case InLength:
		return choose(r.Inches, " in", " mm")
	case InAngle:
		if r.Slopes {
			return choose(r.Inches, " in/ft", " mm/m")
		}
		return "°"
	case InRate:
		return choose(r.Inches, "°/ft", "°/m")
	case InTemperature:
		return choose(r.Fahrenheit, " °F", " °C")
	}
	return ""
}

// converted is a value in the reader's unit, with the decimals that are as fine.
func (r Reader) converted(f Figure) (v float64, decimals int) {
	switch {
	case f.dimension == InLength && r.Inches:
		return f.value / 25.4, f.decimals + 2
	case f.dimension == InAngle && r.Slopes && r.Inches:
		return math.Tan(f.value*math.Pi/180) * 12, f.decimals + 1
	case f.dimension == InAngle && r.Slopes:
		return math.Tan(f.value*math.Pi/180) * 1000, max(f.decimals-1, 0)
	case f.dimension == InRate && r.Inches:
		return f.value * 0.3048, f.decimals + 1
	case f.dimension == InTemperature && r.Fahrenheit:
		return f.value*9/5 + 32, f.decimals
	}
	return f.value, f.decimals
}

// fraction is a length in inches as a whole number of 64ths, where it is that to within its own ±, or,
// where it has none, to how fine it is.
func (r Reader) fraction(f Figure) (text string, ok bool) {
	if !r.Inches || r.Decimals || f.dimension != InLength || f.manner&(upward|decimal) != 0 {
		return "", false
	}
	within := 0.5 * math.Pow10(-f.decimals)
	switch {
	case f.manner&written != 0:
		within = 0.0005 * 25.4
	case f.u > within:
		within = f.u
	}
	n := math.Round(f.value / 25.4 * 64)
	if n == 0 && f.value != 0 || math.Abs(f.value-n*25.4/64) > within*(1+1e-9) {
		return "", false
	}
	whole := quantity.Sixty4ths(math.Abs(n))
	switch {
	case f.value < 0:
		return "−" + whole, true
	case f.manner&signed != 0 && n > 0:
		return "+" + whole, true
	}
	return whole, true
}

// number writes the value of a figure alone.
func (r Reader) number(f Figure) string {
	if text, ok := r.fraction(f); ok {
		return text
	}
	v, decimals := r.converted(f)
	var text string
	switch {
	case f.manner&written != 0 && r.Inches:
		text = strings.Replace(strconv.FormatFloat(v, 'f', 4, 64), "-", "−", 1)
	case f.manner&written != 0:
		text = strings.Replace(strconv.FormatFloat(v, 'f', -1, 64), "-", "−", 1)
	case f.manner&upward != 0:
		text = quantity.Up(v, decimals)
	case f.manner&signed != 0:
		text = quantity.Signed(v, decimals)
	default:
		text = quantity.Fixed(v, decimals)
	}
	if f.manner&trimmed != 0 && strings.Contains(text, ".") {
		text = strings.TrimRight(strings.TrimRight(text, "0"), ".")
	}
	if f.manner&thousands != 0 {
		text = r.parted(text)
	}
	return r.Point(text)
}

// Point writes the decimals of a number as the reader does.
func (r Reader) Point(number string) string {
	if r.Comma {
		return strings.Replace(number, ".", ",", 1)
	}
	return number
}

// parted sets a mark at the thousands: a comma, or a narrow space where a comma stands before decimals.
func (r Reader) parted(text string) string {
	whole, decimals, found := strings.Cut(text, ".")
	mark := ","
	if r.Comma {
		mark = " "
	}
	first := strings.IndexFunc(whole, func(c rune) bool { return c >= '0' && c <= '9' })
	for at := len(whole) - 3; at > first; at -= 3 {
		whole = whole[:at] + mark + whole[at:]
	}
	if found {
		return whole + "." + decimals
	}
	return whole
}
