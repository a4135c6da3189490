package check

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

func solvedAs(c measure.Check) Check {
	r := measure.Solve(c, nil, measure.Decision{Coverage: 2})
	return Check{Solved: c, Result: &r}
}

// A difference is said by its side, and only where there is one: more than its ±.
func TestADifferenceSaysWhichSide(t *testing.T) {
	t.Parallel()
	none := 0.0
	sure := &measure.Instrument{Name: "level", Measures: measure.Angle, Resolution: 0.01, Spread: &none}
	rule := &measure.Instrument{Name: "rule", Measures: measure.Length, Resolution: 0.1, Spread: &none}
	angle := func(v float64) measure.Reading {
		return measure.Reading{Values: []float64{v}, Instrument: sure}
	}
	mm := func(v float64) measure.Reading { return measure.Reading{Values: []float64{v}, Instrument: rule} }
	spacing := quantity.Length(400)
	twist := func(tip float64, spacing *quantity.Length) measure.Check {
		a, b := angle(0), angle(tip)
		return &measure.Twist{Stations: []measure.TwistStation{{Name: "root", Angle: &a}, {Name: "tip", Y: 1000, Angle: &b}}, TipSpacing: spacing}
	}
	incidence := func(l, r float64) measure.Check {
		a, b := angle(l), angle(r)
		return &measure.Incidence{Left: &measure.Slope{Angle: &a}, Right: &measure.Slope{Angle: &b}}
	}
	for want, c := range map[string]measure.Check{
		"right tip 10.1 mm high": &measure.Level{Datum: angle(0), Part: angle(-0.2), Span: 2880},
		"left tip 10.1 mm high":  &measure.Level{Datum: angle(0), Part: angle(0.2), Span: 2880},
		"":                       &measure.Level{Datum: angle(0), Part: angle(0.004), Span: 2880},
		"right tip 13.7 mm high": &measure.Brackets{Left: mm(10), Right: mm(11), Spacing: 210, Span: 2880},
		"right tip 13.7 mm aft":  &measure.Brackets{Left: mm(10), Right: mm(11), Spacing: 210, Span: 2880, Axis: "station"},
		"outboard trailing edge 3.5 mm high: washout":                     twist(-0.5, &spacing),
		"outboard trailing edge low: wash-in":                             twist(0.5, nil),
		"left +0.45°, right 0.00°: the left leading edge is 0.45° higher": incidence(0.45, 0),
		"left +0.10°, right +0.10°":                                       incidence(0.1, 0.1),
		"top 5.7 mm to the right":                                         &measure.Upright{LeftFace: angle(3.25), RightFace: angle(2.75), Height: 1310},
		"right 4.0 mm longer than left":                                   &measure.Pairs{Pairs: []measure.Pair{{Name: "a", Left: mm(100), Right: mm(104)}}},
		"far side 1.0 mm to the left":                                     &measure.Diagonals{Near: mm(1000), Far: mm(1000), Length: mm(1000), D1: mm(1413.5), D2: mm(1414.9)},
	} {
		assert.Equal(t, want, say.Plain(solvedAs(c).Side()))
	}
}

// A go names what it rests on, and is sure only when all of that is known.
func TestAGoNamesWhatItRestsOn(t *testing.T) {
	t.Parallel()
	c := Check{Used: []Tool{{Name: "level 2", Angle: true, Zeroed: true}}}
	says, sure := c.rests()
	assert.Equal(t, "level 2", says)
	assert.True(t, sure)
	board := Spot{Aid: measure.Board, Readings: []Reading{{}, {Superseded: "misread", Aid: TurnedRound}}}
	says, _ = Check{Used: c.Used, Spots: []Spot{{}, board}}.rests()
	assert.Equal(t, "level 2; the board on the airframe, not turned round", says)
	board.Readings = append(board.Readings, Reading{Aid: TurnedRound})
	says, _ = Check{Used: c.Used, Spots: []Spot{board}}.rests()
	assert.Equal(t, "level 2", says)
	c.Used = append(c.Used, Tool{Name: "tape", Unknown: "constant error"}, Tool{Name: "level 1", Angle: true})
	c.Assumed, c.Late = []string{"marks taken to lie within 0.5 mm (u), for nobody said"}, "level 2 was read 3 hours after it was turned end for end"
	says, sure = c.rests()
	assert.Equal(t, "level 2; tape, constant error not known; level 1, never turned end for end; marks taken to lie within 0.5 mm (u), for nobody said; level 2 was read 3 hours after it was turned end for end", says)
	assert.False(t, sure)
}

// Each thing that makes a go unsure ends in one thing to do.
func TestEachDoubtEndsInOneThingToDo(t *testing.T) {
	t.Parallel()
	for code, next := range map[string]string{"offset-unknown": "Prove the instrument", "resolution-unknown": "Say the step of the instrument", "spread-unknown": "Find the spread of the instrument",
		"scatter-exceeds-spread": "Find the spread of the instrument anew", "kinked": "Read the station that stands out again", "measurements-disagree": "Take the readings again", "marks-or-pin": "Look at the marks and points"} {
		c := Check{Result: &measure.Result{Verdict: measure.Unsure, Findings: []measure.Finding{{Code: "weak-geometry", Text: "w"}, {Code: code, Text: "why"}}}}
		var a Answer
		a.unsure(c, nil)
		assert.Equal(t, next, a.Next, code)
		assert.Equal(t, "why", a.Then, code)
	}
	residual := measure.Residual{Dimension: measure.Length, Value: -2.8, Redundancy: 0.112}
	assert.Equal(t, "−25.0 mm", say.Plain(SayBlunder(residual)), "its own share is but a ninth")
}

// A laser level reads heights: where no distance was taken, it says only how good the tape
// must be.
func TestAReadingOfAnotherTypeNamesHowGoodAnInstrumentMustBe(t *testing.T) {
	t.Parallel()
	c := Check{Input: &pose.Pose{Readings: []pose.Reading{{ID: "1", Type: "height"}}}}
	assert.Equal(t, "the laser level", c.tool(&measure.NextReading{Type: "height", Instrument: "laser level"}))
	assert.Equal(t, "one as good as the laser level", c.tool(&measure.NextReading{Type: "distance", Instrument: "laser level"}))
}
