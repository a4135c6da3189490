package quantity

import (
	"errors"
	"fmt"
	"math"
	"math/big"
	"strings"
)

// Sense is what an angle describes, and so which words may give its direction.
type Sense int

const (
	// Plain angles are signed numbers; R, L, up and down are errors.
	Plain Sense = iota
	// CrossLevel angles are positive with the right side low: R is plus, L minus.
	CrossLevel
	// Pitch angles are positive with the leading edge or nose up.
	Pitch
	// Either takes the words of both: an end-for-end test and limits do.
	Either
)

// directions are the words that give an angle its sign.
var directions = []struct {
	words    []string
	sense    Sense
	negative bool
}{
	{[]string{"right", "low"}, CrossLevel, false},
	{[]string{"left", "low"}, CrossLevel, true},
	{[]string{"nose", "up"}, Pitch, false},
	{[]string{"nose", "down"}, Pitch, true},
	{[]string{"r"}, CrossLevel, false},
	{[]string{"l"}, CrossLevel, true},
	{[]string{"leading", "edge", "up"}, Pitch, false},
	{[]string{"leading", "edge", "high"}, Pitch, false},
	{[]string{"leading", "edge", "down"}, Pitch, true},
	{[]string{"leading", "edge", "low"}, Pitch, true},
	{[]string{"le", "up"}, Pitch, false},
	{[]string{"le", "high"}, Pitch, false},
	{[]string{"le", "down"}, Pitch, true},
	{[]string{"le", "low"}, Pitch, true},
	{[]string{"trailing", "edge", "low"}, Pitch, false},
	{[]string{"trailing", "edge", "down"}, Pitch, false},
	{[]string{"trailing", "edge", "high"}, Pitch, true},
	{[]string{"trailing", "edge", "up"}, Pitch, true},
	{[]string{"te", "low"}, Pitch, false},
	{[]string{"te", "down"}, Pitch, false},
	{[]string{"te", "high"}, Pitch, true},
	{[]string{"te", "up"}, Pitch, true},
	{[]string{"up"}, Pitch, false},
	{[]string{"down"}, Pitch, true},
}

// ParseAngle reads an angle as typed: degrees, degrees with minutes and
// seconds, a slope (5 mm/m, 1/8 in per foot, 3/16 in 24, 1:200) turned into degrees by
// the arctangent, each with a sign or with the words that the sense allows.
// The error says what was read and what would be accepted.
func ParseAngle(text string, sense Sense) (Angle, error) {
	a, err := parseAngle(text, sense)
	if err != nil {
		return 0, fmt.Errorf("%s", explain(text, err))
	}
	return a, nil
}

func parseAngle(text string, sense Sense) (Angle, error) {
	tokens, err := lex(text)
	if err != nil {
		return 0, err
	}
	r := &reader{tokens: tokens}
	low, before, err := r.direction(sense)
	if err != nil {
		return 0, err
	}
	negative, signed := r.sign()
	magnitude, err := r.magnitude()
	if err != nil {
		return 0, err
	}
	if r.peek().kind == word {
		down, after, err := r.direction(sense)
		if err != nil {
			return 0, err
		}
		if after && before {
			return 0, errors.New("the direction is given twice")
		}
		low, before = low || down, before || after
	}
	if r.peek().kind != end {
		return 0, fmt.Errorf("%q after the angle was not understood", r.rest())
	}
	if before && signed {
		return 0, errors.New("a sign and a direction say two things; use one of them")
	}
	if (negative || low) && magnitude != 0 {
		magnitude = -magnitude
	}
	if math.Abs(float64(magnitude)) > float64(MaxAngle) {
		return 0, errors.New("beyond 360°")
	}
	return magnitude, nil
}

// direction reads the words of one of directions, if they stand here and the sense
// allows them.
func (r *reader) direction(sense Sense) (negative, given bool, err error) {
	for _, d := range directions {
		if !r.words(d.words) {
			continue
		}
		said := strings.Join(d.words, " ")
		if len(said) == 1 {
			said = strings.ToUpper(said)
		}
		switch {
		case sense == Either || sense == d.sense:
			return d.negative, true, nil
		case sense == Plain:
			return false, false, fmt.Errorf("%q gives a direction where a plain angle is wanted; use a sign", said)
		case sense == Pitch:
			return false, false, fmt.Errorf("%q is for a cross-level; here up or down (leading edge or nose) is wanted", said)
		default:
			return false, false, fmt.Errorf("%q is for a pitch; here R or L (the side that is low) is wanted", said)
		}
	}
	return false, false, nil
}

// words steps over these words when they stand here one after the other.
func (r *reader) words(words []string) bool {
	for i, w := range words {
		if t := r.ahead(i); t.kind != word || t.text != w {
			return false
		}
	}
	r.at += len(words)
	return true
}

// magnitude reads the unsigned part: degrees, minutes and seconds, or a slope.
func (r *reader) magnitude() (Angle, error) {
	a, err := r.amount()
	if err != nil {
		return 0, err
	}
	t := r.peek()
	if t.kind == symbol && t.text == ":" {
		return r.ratioSlope(a)
	}
	if _, isUnit := lengthUnits[t.text]; isUnit && (t.kind == word || t.text != "'") {
		return r.slope(a)
	}
	if a.fraction {
		return 0, errors.New("a fraction in degrees; write a decimal")
	}
	_, degree := r.take(symbol, "°")
	if !degree {
		_, degree = r.take(word, "deg", "degree", "degrees")
	}
	if degree && r.peek().kind == number {
		return r.minutes(a)
	}
	if t := r.peek(); !degree && t.kind == symbol && t.text == "'" {
		return 0, errors.New("minutes without degrees; write 0° 12'")
	}
	return Angle(float(a.value, false)), nil
}

// minutes reads the minutes and seconds that follow whole degrees.
func (r *reader) minutes(degrees amount) (Angle, error) {
	if degrees.decimal {
		return 0, errors.New("decimal degrees followed by minutes; use one of them")
	}
	total := new(big.Rat).Set(degrees.value)
	part, err := r.sixtieth("'", "minutes")
	if err != nil {
		return 0, err
	}
	total.Add(total, new(big.Rat).Mul(part.value, big.NewRat(1, 60)))
	if r.peek().kind == number {
		if part.decimal {
			return 0, errors.New("decimal minutes followed by seconds; use one of them")
		}
		if part, err = r.sixtieth("\"", "seconds"); err != nil {
			return 0, err
		}
		total.Add(total, new(big.Rat).Mul(part.value, big.NewRat(1, 3600)))
	}
	return Angle(float(total, false)), nil
}

// sixtieth reads minutes or seconds with their mark; both stay below 60.
func (r *reader) sixtieth(mark, name string) (amount, error) {
	a, err := r.amount()
	if err != nil {
		return a, err
	}
	if a.fraction {
		return a, fmt.Errorf("a fraction in %s; write a decimal", name)
	}
	if _, ok := r.take(symbol, mark); !ok {
		return a, fmt.Errorf("after degrees, minutes (') and then seconds (\") are read, as in 2° 30' 15\"")
	}
	if a.value.Cmp(big.NewRat(60, 1)) >= 0 {
		return a, fmt.Errorf("60 or more %s; the most is below 60", name)
	}
	return a, nil
}

// slope reads the units of 5 mm/m or 1/8 in per foot, or the run of 3/16 in 24 and
// 3 mm in 600 mm. A run without a unit has that of the rise.
func (r *reader) slope(rise amount) (Angle, error) {
	over, _, err := r.lengthUnit()
	if err != nil {
		return 0, err
	}
	if err := rise.fits(over); err != nil {
		return 0, err
	}
	_, each := r.take(symbol, "/")
	if !each {
		_, each = r.take(word, "per")
	}
	joined := over == Inch // 3/16 in 24
	if !each {
		if _, said := r.take(word, "in", "over"); said {
			joined = true
		}
	}
	run := amount{value: big.NewRat(1, 1)}
	if k := r.peek().kind; k == number || k == vulgar {
		if run, err = r.amount(); err != nil {
			return 0, err
		}
	} else if !each {
		return 0, fmt.Errorf("a length (%s) where an angle is wanted; a slope is written 5 mm/m, 1/8 in per foot or 3/16 in 24", over)
	}
	if !each && !joined {
		return 0, fmt.Errorf("a length (%s) where an angle is wanted; a slope is written 5 mm/m, 1/8 in per foot or 3/16 in 24", over)
	}
	under, ok := over, false
	if k := r.peek().kind; k != word || !r.directs() {
		if under, ok, err = r.lengthUnit(); err != nil {
			return 0, err
		}
	}
	switch {
	case !ok && each:
		return 0, errors.New("the unit of the run is missing; write 5 mm/m or 1/8 in per foot")
	case !ok:
		under = over
	}
	if err := run.fits(under); err != nil {
		return 0, err
	}
	if run.value.Sign() == 0 {
		return 0, errors.New("a slope over nothing")
	}
	tangent := new(big.Rat).Mul(rise.value, millimetres[over])
	tangent.Quo(tangent, run.value.Mul(run.value, millimetres[under]))
	return Degrees(math.Atan(float(tangent, false))), nil
}

// directs tells whether a word that gives a direction stands here.
func (r *reader) directs() bool {
	at := r.at
	defer func() { r.at = at }()
	for _, d := range directions {
		if r.words(d.words) {
			return true
		}
	}
	return false
}

// ratioSlope reads the run of 1:200.
func (r *reader) ratioSlope(rise amount) (Angle, error) {
	r.at++ // the colon
	run, err := r.amount()
	if err != nil {
		return 0, err
	}
	if rise.fraction || run.fraction {
		return 0, errors.New("a fraction in a ratio; write 1:200")
	}
	if run.value.Sign() == 0 {
		return 0, errors.New("a ratio with zero behind the colon")
	}
	return Degrees(math.Atan(float(rise.value.Quo(rise.value, run.value), false))), nil
}
