// Package quantity reads lengths and angles as a builder types them and shows
// them as a builder writes them.
//
// A reading is kept twice: the text exactly as typed, which is the record, and
// its value in one canonical unit, which is for arithmetic. Lengths are held in
// millimetres, angles in degrees. Text is read with exact rational arithmetic
// and rounded once, so every 1/64 in and every 0.01 mm up to 50 m survives
// text → value → text.
package quantity

import (
	"fmt"
	"math"
	"strconv"
)

// Length is a length in millimetres.
type Length float64

// Angle is an angle in degrees. Its sign convention depends on what it
// describes: right side low for a cross-level, leading edge up for a pitch.
type Angle float64

// Radians returns the angle in radians.
func (a Angle) Radians() float64 { return float64(a) * math.Pi / 180 }

// Degrees makes an Angle of an angle in radians.
func Degrees(radians float64) Angle { return Angle(radians * 180 / math.Pi) }

// Unit is a unit of length.
type Unit int

// The units of length that a document or a screen may default to come first.
const (
	Millimetre Unit = iota
	Inch
	Centimetre
	Metre
	Foot
	Thou
)

// String returns the unit's usual short name.
func (u Unit) String() string {
	return [...]string{"mm", "in", "cm", "m", "ft", "thou"}[u]
}

// The greatest magnitudes that are taken for a reading and not for a slip.
const (
	MaxLength Length = 1e6 // 1000 m
	MaxAngle  Angle  = 360
)

// Text writes the length so that it can be read back. In millimetres it is the
// shortest decimal that returns the same value. In inches it is the nearest
// 1/64 reduced, followed by a decimal where it lies more than 0.0005 in away;
// only then does reading it back lose anything. Other units are shown in
// millimetres.
func (l Length) Text(u Unit) string {
	if u != Inch {
		return strconv.FormatFloat(positiveZero(float64(l)), 'f', -1, 64) + " mm"
	}
	inches := float64(l) / 25.4
	n := math.Round(inches * 64)
	text := Sixty4ths(n) + " in"
	if math.Abs(inches-n/64) > 0.0005 {
		text += ", " + strconv.FormatFloat(inches, 'f', 4, 64)
	}
	return text
}

// Fixed writes v with so many decimals and a typographic minus; a value that
// rounds to zero has no sign.
func Fixed(v float64, decimals int) string {
	s := strconv.FormatFloat(math.Abs(v), 'f', decimals, 64)
	if v < 0 && roundsAwayFromZero(v, decimals) {
		return "−" + s
	}
	return s
}

// Up is Fixed with the magnitude rounded up, as a ± is: what is not nothing is never shown
// as nothing.
func Up(v float64, decimals int) string {
	scale := math.Pow10(decimals)
	return Fixed(math.Copysign(math.Ceil(math.Abs(v)*scale*(1-1e-12))/scale, v), decimals)
}

// Signed is Fixed with a plus sign on positive values.
func Signed(v float64, decimals int) string {
	if v > 0 && roundsAwayFromZero(v, decimals) {
		return "+" + Fixed(v, decimals)
	}
	return Fixed(v, decimals)
}

// roundsAwayFromZero tells whether v still has a non-zero digit at so many decimals.
func roundsAwayFromZero(v float64, decimals int) bool {
	return math.Abs(v)*math.Pow10(decimals) >= 0.5
}

// Sixty4ths writes n sixty-fourths as a whole number and a reduced fraction.
func Sixty4ths(n float64) string {
	sign := ""
	if n < 0 {
		sign, n = "-", -n
	}
	whole, part := int64(n)/64, int64(n)%64
	if part == 0 {
		return sign + strconv.FormatInt(whole, 10)
	}
	den := int64(64)
	for part%2 == 0 {
		part, den = part/2, den/2
	}
	if whole == 0 {
		return fmt.Sprintf("%s%d/%d", sign, part, den)
	}
	return fmt.Sprintf("%s%d %d/%d", sign, whole, part, den)
}

func positiveZero(v float64) float64 {
	if v == 0 {
		return 0
	}
	return v
}
