package quantity

import (
	"errors"
	"fmt"
	"math"
	"math/big"
)

// lengthUnits are the words and marks that name a unit of length.
var lengthUnits = map[string]Unit{
	"mm": Millimetre, "cm": Centimetre, "m": Metre, "thou": Thou,
	"millimetre": Millimetre, "millimetres": Millimetre, "millimeter": Millimetre, "millimeters": Millimetre,
	"centimetre": Centimetre, "centimetres": Centimetre, "centimeter": Centimetre, "centimeters": Centimetre,
	"metre": Metre, "metres": Metre, "meter": Metre, "meters": Metre,
	"in": Inch, "inch": Inch, "inches": Inch, "\"": Inch,
	"ft": Foot, "foot": Foot, "feet": Foot, "'": Foot,
}

// millimetres is the exact size of each unit in millimetres.
var millimetres = map[Unit]*big.Rat{
	Millimetre: big.NewRat(1, 1), Centimetre: big.NewRat(10, 1), Metre: big.NewRat(1000, 1),
	Inch: big.NewRat(254, 10), Foot: big.NewRat(3048, 10), Thou: big.NewRat(254, 10000),
}

// ParseLength reads a length as typed; a bare number is in the default unit,
// which is Millimetre or Inch. It takes inches with fractions, feet and inches,
// thou, and metric lengths with a decimal point or comma, and what is taken off a length
// as one says it: 47 less 1/32. The error says what was read and what would be accepted.
func ParseLength(text string, unit Unit) (Length, error) {
	l, err := parseLength(text, unit)
	if err != nil {
		return 0, fmt.Errorf("%s", explain(text, err))
	}
	return l, nil
}

func parseLength(text string, unit Unit) (Length, error) {
	tokens, err := lex(text)
	if err != nil {
		return 0, err
	}
	r := &reader{tokens: tokens}
	negative, _ := r.sign()
	total, unit, err := r.length(unit)
	if err != nil {
		return 0, err
	}
	if _, less := r.take(word, "less", "minus"); less {
		if unit == Foot {
			unit = Inch
		}
		off, _, err := r.length(unit)
		if err != nil {
			return 0, err
		}
		if total.Sub(total, off); negative || total.Sign() < 0 {
			return 0, errors.New("more is taken off than is there")
		}
	}
	if r.peek().kind != end {
		return 0, r.leftOver(unit)
	}
	mm := Length(float(total, negative))
	if math.Abs(float64(mm)) > float64(MaxLength) {
		return 0, errors.New("beyond 1000 m; look at the unit")
	}
	return mm, nil
}

// length reads an unsigned length, in mm, up to what is not part of it; unit is the one
// that a bare number is in, and returned the one that was given.
func (r *reader) length(unit Unit) (*big.Rat, Unit, error) {
	a, err := r.amount()
	if err != nil {
		return nil, unit, err
	}
	given, ok, err := r.lengthUnit()
	if err != nil {
		return nil, unit, err
	}
	if ok {
		unit = given
	}
	if err := a.fits(unit); err != nil {
		return nil, unit, err
	}
	total := new(big.Rat).Mul(a.value, millimetres[unit])
	if next := r.peek(); ok && unit == Foot && next.kind != end && !takesOff(next) {
		inches, err := r.inchesAfterFeet(a)
		if err != nil {
			return nil, unit, err
		}
		total.Add(total, inches)
	}
	return total, unit, nil
}

// takesOff tells whether what follows is taken off a length.
func takesOff(t token) bool { return t.kind == word && (t.text == "less" || t.text == "minus") }

// lengthUnit reads a unit of length, if one stands here.
func (r *reader) lengthUnit() (unit Unit, ok bool, err error) {
	t := r.peek()
	switch t.kind {
	case word:
		if t.text == "mil" || t.text == "mils" {
			return 0, false, fmt.Errorf("%s: thou or mm? Write the one that is meant", t.text)
		}
		if takesOff(t) {
			return 0, false, nil
		}
		unit, ok = lengthUnits[t.text]
		if !ok {
			return 0, false, fmt.Errorf("%q is not a unit of length; mm, cm, m, in, ft and thou are", t.text)
		}
	case symbol:
		unit, ok = lengthUnits[t.text]
	}
	if ok {
		r.at++
		if stop := r.peek(); stop.kind == number && stop.text == "." && !stop.spaced && t.kind == word {
			r.at++ // 11 7/8 in.
		}
	}
	return unit, ok, nil
}

// fits refuses a fraction in a unit that is not divided by fractions.
func (a amount) fits(unit Unit) error {
	if a.fraction && unit != Inch && unit != Foot {
		return fmt.Errorf("a fraction in %s; fractions are read in inches and feet, so write a decimal or the unit", unit)
	}
	return nil
}

// inchesAfterFeet reads the inches of 5' 4 5/16", 5'-4 5/16" or 5 ft 4 5/16.
func (r *reader) inchesAfterFeet(feet amount) (*big.Rat, error) {
	if t := r.peek(); t.kind == symbol && t.text == "-" && !t.spaced && !r.ahead(1).spaced {
		r.at++
	}
	r.and()
	if k := r.peek().kind; k != number && k != vulgar {
		return nil, r.leftOver(Foot)
	}
	if feet.decimal || feet.fraction {
		return nil, errors.New("parts of a foot followed by inches; write whole feet and inches, as in 5' 4 5/16\"")
	}
	a, err := r.amount()
	if err != nil {
		return nil, err
	}
	unit, ok, err := r.lengthUnit()
	if err != nil {
		return nil, err
	}
	if ok && unit != Inch {
		return nil, fmt.Errorf("feet followed by %s; only inches follow feet", unit)
	}
	return a.value.Mul(a.value, millimetres[Inch]), nil
}

// leftOver explains what stands after a length that was already complete.
func (r *reader) leftOver(unit Unit) error {
	t := r.peek()
	if n := r.ahead(1).kind; t.kind == symbol && t.text == "-" && (n == number || n == vulgar) {
		r.at++
		return fmt.Errorf("a dash before %q: less %s, or and %s?", r.rest(), r.rest(), r.rest())
	}
	if t.kind == number || t.kind == vulgar {
		return fmt.Errorf("a second number, %q, stands behind the length: type one length", r.rest())
	}
	if other, ok := lengthUnits[t.text]; ok {
		return fmt.Errorf("two units, %s and %s; use one of them", unit, other)
	}
	return fmt.Errorf("%q after the length was not understood", r.rest())
}

// explain puts what was typed in front of what is wrong with it.
func explain(text string, err error) string {
	if len(text) > 4*maxCharacters {
		text = text[:maxCharacters] + "…"
	}
	return fmt.Sprintf("“%s”: %s", text, err)
}
