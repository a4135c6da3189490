package say

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"orpine/internal/core/quantity"
)

// Text is a sentence with places for figures. A figure is a value until the sentence is drawn: who
// makes the sentence says how great it is and how fine it is known, and a Reader, at the edge (a page,
// a print, a table, a log, the command line), says in which unit and manner it is written.
//
// A place stands in the text between two control characters, which nobody can type into it, so that
// sentences are set together as any others are, and can be kept.
type Text = string

// The ends of a place, and what parts its fields.
const (
	opens  = "\x02"
	closes = "\x03"
	parts  = "\x1f"
)

// digits is how finely a place holds its values: far finer than anything is read or shown.
const digits = 12

// Dimension is what a figure measures.
type Dimension byte

// The dimensions, each with the unit that its values are held in.
const (
	InLength      Dimension = 'L' // mm
	InAngle       Dimension = 'A' // degrees
	InRate        Dimension = 'R' // degrees in a metre
	InTemperature Dimension = 'T' // °C
	InNumber      Dimension = 'N' // of nothing
)

// Figure is a place for a value. Its zero value is the number 0.
type Figure struct {
	dimension Dimension
	value     float64
	u         float64 // what it is known to, as it is shown behind a ±; NaN for none
	decimals  int     // how fine it is, in the unit that it is held in
	manner    manner
}

// manner is how a figure is written.
type manner uint8

const (
	signed    manner = 1 << iota // a plus where it is positive
	bare                         // its unit stands elsewhere in the sentence
	upward                       // rounded up, as a ± is
	trimmed                      // no noughts at the end
	thousands                    // parted by three digits
	written                      // as it would be typed: every digit that it has
	unsaid                       // what it is known to is said elsewhere
	decimal                      // never as a fraction
)

// Length is a length in mm, to its tenth.
func Length(mm float64) Figure { return figure(InLength, mm, 1) }

// Angle is an angle in degrees, to its hundredth.
func Angle(degrees float64) Figure { return figure(InAngle, degrees, 2) }

// Rate is an angle in degrees for each metre, to its thousandth.
func Rate(degrees float64) Figure { return figure(InRate, degrees, 3) }

// Temperature is in °C, with the digits that it has, to its tenth.
func Temperature(celsius float64) Figure { return figure(InTemperature, celsius, 1).with(trimmed) }

// Number is a figure of nothing that has a unit, to so many decimals.
func Number(v float64, decimals int) Figure { return figure(InNumber, v, decimals) }

// Written is a length with all that it has, as it would be typed: 64 5/16 in, 73.5 mm.
func Written(l quantity.Length) Figure { return figure(InLength, float64(l), 1).with(written) }

func figure(d Dimension, v float64, decimals int) Figure {
	return Figure{dimension: d, value: v, u: math.NaN(), decimals: decimals}
}

func (f Figure) with(m manner) Figure {
	f.manner |= m
	return f
}

// Fine is the figure to so many decimals of the unit that it is held in.
func (f Figure) Fine(decimals int) Figure {
	f.decimals = decimals
	return f
}

// Within is the figure with what it is known to, rounded up, behind a ±.
func (f Figure) Within(u float64) Figure {
	f.u = math.Abs(u)
	return f
}

// Signed has a plus where it is positive.
func (f Figure) Signed() Figure { return f.with(signed) }

// Bare has no unit: one stands further on in the sentence, and is that of all.
func (f Figure) Bare() Figure { return f.with(bare) }

// Up is rounded up, so that what is not nothing is never shown as nothing.
func (f Figure) Up() Figure { return f.with(upward) }

// Trimmed has no noughts at its end.
func (f Figure) Trimmed() Figure { return f.with(trimmed) }

// Thousands parts it by three digits.
func (f Figure) Thousands() Figure { return f.with(thousands) }

// String is the place, to be set into a sentence.
func (f Figure) String() string {
	b := make([]byte, 0, 32)
	b = append(b, opens...)
	b = append(b, byte(f.dimension))
	b = strconv.AppendFloat(b, f.value, 'g', digits, 64)
	b = append(b, parts...)
	b = strconv.AppendInt(b, int64(f.decimals), 10)
	b = append(b, parts...)
	b = strconv.AppendInt(b, int64(f.manner), 10)
	if !math.IsNaN(f.u) {
		b = append(b, parts...)
		b = strconv.AppendFloat(b, f.u, 'g', digits, 64)
	}
	return string(append(b, closes...))
}

// example marks a place for what may be typed.
const example = 'E'

// Example is what might be typed, for those who write millimetres and for those who write inches.
func Example(metric, inches string) Text {
	return opens + string(rune(example)) + metric + parts + inches + closes
}

// Degree is how angles are typed.
const Degree = "°"

// UnitOf is the unit of bare figures of a dimension.
func UnitOf(d Dimension) Text { return opens + "U" + string(rune(d)) + closes }

// read is the figure of a place, between its ends.
func read(place string) (f Figure, ok bool) {
	fields := strings.Split(place, parts)
	if len(fields) < 3 || len(fields[0]) < 2 {
		return f, false
	}
	var errs [3]error
	var m int
	f.dimension, f.u = Dimension(fields[0][0]), math.NaN()
	f.value, errs[0] = strconv.ParseFloat(fields[0][1:], 64)
	f.decimals, errs[1] = strconv.Atoi(fields[1])
	m, errs[2] = strconv.Atoi(fields[2])
	f.manner = manner(m)
	if len(fields) > 3 {
		f.u, _ = strconv.ParseFloat(fields[3], 64)
	}
	return f, errs == [3]error{}
}

// Known is the figure with what it is known to, which is said elsewhere: a fraction is shown where it is
// the figure to within that.
func (f Figure) Known(u float64) Figure { return f.Within(u).with(unsaid) }

// Ticked is never written as a fraction, as the figures of an axis are not.
func (f Figure) Ticked() Figure { return f.with(decimal) }

// Split parts a sentence into what it says, with a mark at each place, and its figures.
func Split(t Text) (words string, figures []Figure) {
	var b strings.Builder
	for {
		before, rest, found := strings.Cut(t, opens)
		b.WriteString(before)
		if !found {
			return b.String(), figures
		}
		place, after, _ := strings.Cut(rest, closes)
		if f, ok := read(place); ok {
			figures = append(figures, f)
			place = "#"
		}
		b.WriteString(place)
		t = after
	}
}

// Compared is the figure as a form carries it, to be compared by: three decimals finer than it is shown.
func (f Figure) Compared() string {
	u := "-"
	if !math.IsNaN(f.u) {
		u = strconv.FormatFloat(f.u, 'f', f.decimals+3, 64)
	}
	return fmt.Sprintf("%c%s,%d,%d,%s", f.dimension, strconv.FormatFloat(f.value, 'f', f.decimals+3, 64), f.decimals, f.manner, u)
}

// OfCompared is the figure that Compared wrote.
func OfCompared(text string) (Figure, bool) {
	fields := strings.Split(text, ",")
	if len(fields) == 4 && fields[3] == "-" {
		fields = fields[:3]
	}
	return read(strings.Join(fields, parts))
}
