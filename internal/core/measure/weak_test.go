package measure

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
)

// placed names the readings of a twist check as a worksheet does.
func placed(c *Twist) *Twist {
	for i := range c.Stations {
		c.Stations[i].Angle.Where = fmt.Sprintf("stations[%d].angle", i)
	}
	return c
}

// Five even stations weigh ±0.8 at the ends, ±0.4 next to them and 0 in the
// middle, so that an end makes 0.64/1.6 of u². With a step of 0.01° and a spread
// of 0.015°, a reading's own variance is 0.01²/12 + 0.015² = 2.3333e-4, and two placings
// more leave 0.01²/12 + 0.015²/3 = 8.3333e-5 of it. Half the step alone leaves most of it.
func TestTheEndOfASpanIsTheWeakReadingOfItsTwist(t *testing.T) {
	t.Parallel()
	q := quantityOf(t, Solve(placed(heldTailplane(level2, false)), nil, guard), "twist")
	weak := q.Weakness()
	assert.Equal(t, "stations[0].angle", weak.Reading)
	assert.InDelta(t, 0.4, weak.Share, 1e-9)
	assert.Empty(t, weak.Offset, "it cancels")
	remedies := q.Remedies()
	require.Len(t, remedies, 1)
	assert.Equal(t, Remedy{Do: PlaceMoved, Of: "level 2", More: 2, U: remedies[0].U}, remedies[0])
	assert.InEpsilon(t, q.U*math.Sqrt(8.33333e-5/2.33333e-4), remedies[0].U, 1e-5)
	assert.Equal(t, q.U, quantityOf(t, Solve(placed(heldTailplane(level2, false)), nil, guard), "twist").U)
}

// One reading placed nine times is no longer the weak one; the other end is.
func TestMorePlacingsMoveTheWeakness(t *testing.T) {
	t.Parallel()
	c := placed(heldTailplane(level2, false))
	c.Stations[0].Angle.Values = []float64{0.05, 0.05, 0.05, 0.05, 0.05, 0.05, 0.05, 0.05, 0.05}
	assert.Equal(t, "stations[4].angle", quantityOf(t, Solve(c, nil, guard), "twist").Weakness().Reading)
}

// The lean of a fin read by a level kept the same way round holds the level's
// whole constant error: 0.05²/3 against ½(0.01²/12 + 0.015²) of the readings,
// 0.8772 of u². Turned with the face it cancels.
func TestTheConstantErrorIsTheWeaknessOfAFinReadOneWayRound(t *testing.T) {
	t.Parallel()
	fin := &Upright{LeftFace: read(level2, 3.27), RightFace: read(level2, 3.14), Height: 1310}
	lean := quantityOf(t, Solve(fin, nil, guard), "lean")
	assert.Equal(t, "level 2", lean.Weakness().Offset)
	assert.InDelta(t, 0.877193, lean.Weakness().Common, 1e-6)
	assert.Empty(t, lean.Remedies(), "what is stated of the level remains, however often it is turned or placed")
	fin.RightFace.Turned = true
	assert.Empty(t, quantityOf(t, Solve(fin, nil, guard), "lean").Weakness().Offset)
}

// A coarse rule: nothing but its step makes the uncertainty, so a rule with half
// the step halves it, and more placings do not.
func TestACoarseStepIsNamed(t *testing.T) {
	t.Parallel()
	rule := &Instrument{Name: "rule", Measures: Length, Resolution: 1, Spread: spread(0)}
	roll := quantityOf(t, Solve(&Brackets{Left: read(rule, 20), Right: read(rule, 21), Spacing: 210, Span: 2880}, nil, guard), "roll")
	require.Len(t, roll.Remedies(), 1)
	assert.Equal(t, FinerStep, roll.Remedies()[0].Do)
	assert.Equal(t, 0.5, roll.Remedies()[0].Step)
	assert.InEpsilon(t, roll.U/2, roll.Remedies()[0].U, 1e-9)
}

// A digital level in 0.1° of which nothing else is stated reads both faces of an upright fin: its constant
// error enters whole, 0.2²/3, and each reading by half, 0.1²/12 + 0.06² + 0.04² = 6.03333e-3. An
// end-for-end test leaves half of (0.1²/12 + 0.06²) of the constant error; two placings more of each reading
// would leave 92 % of the ±, which is not said.
func TestAnAssumedConstantErrorIsTurnedAway(t *testing.T) {
	t.Parallel()
	level := &Instrument{Name: "level", Measures: Angle, Type: "digital-level"}
	level.Assume(func(string) bool { return false })
	lean := quantityOf(t, Solve(&Upright{LeftFace: read(level, 0), RightFace: read(level, 0), Height: 1310}, nil, guard), "lean")
	assert.InDelta(t, math.Sqrt(0.04/3+6.03333e-3/2), lean.U, 1e-6)
	require.Len(t, lean.Remedies(), 1)
	assert.Equal(t, TurnEnds, lean.Remedies()[0].Do)
	assert.InDelta(t, math.Sqrt((0.01/12+0.0036)/2+6.03333e-3/2), lean.Remedies()[0].U, 1e-6)
}

// Read once with the same level, 0.02° ± 0.25° of a twist over five even stations is unsure in ±0.15°. Placings on one spot
// leave where it stands, 0.04°, and the display; moved ones divide 0.06² + 0.04² by their number: u² = 1.6·(0.1²/12
// + 0.0052/n) must be 0.065² or less, so that 0.0052/n ≤ 0.00180729: from n = 2.9 on.
func TestMovedPlacingsDecideWhatOneSpotCannot(t *testing.T) {
	t.Parallel()
	level := &Instrument{Name: "level", Measures: Angle, Type: "digital-level"}
	level.Assume(func(string) bool { return false })
	c := &Twist{}
	for i := range 5 {
		r := read(level, 0.005*float64(i))
		c.Stations = append(c.Stations, TwistStation{Name: fmt.Sprint(i), Y: quantity.Length(i * 400), Angle: &r})
	}
	q := quantityOf(t, Solve(c, limits("twist", -0.15, 0.15), guard), "twist")
	assert.InDelta(t, 0.02, q.Value, 1e-9)
	assert.Equal(t, Unsure, q.Verdict)
	assert.Equal(t, 3, q.MovedPlacings())
}

// Of two from-points the one at a seventh of the distance hardly tells skew; the
// tapes from the far one carry it, and the weighted fit says so.
func TestTheFarPointsTapesCarryTheSkew(t *testing.T) {
	t.Parallel()
	tape := &Instrument{Name: "tape", Measures: Length, Resolution: 0.1, Spread: spread(0.4)}
	c := &Square{Station: 5480, HalfSpan: 1440}
	for i, x := range []float64{4980, 1980} {
		d := math.Hypot(x-5480, 1440)
		at := fmt.Sprintf("from[%d].", i)
		c.From = append(c.From, FromPoint{Name: at, X: quantity.Length(x), Left: Reading{Values: []float64{d}, Instrument: tape, Where: at + "left"}, Right: Reading{Values: []float64{d}, Instrument: tape, Where: at + "right"}})
	}
	skew := quantityOf(t, Solve(c, nil, guard), "skew")
	weak := skew.Weakness()
	require.NotEmpty(t, weak.Reading)
	assert.Greater(t, weak.Share, 0.2)
	require.NotEmpty(t, skew.Remedies())
	assert.Equal(t, PlaceMoved, skew.Remedies()[0].Do)
	assert.Less(t, skew.Remedies()[0].U, 0.8*skew.U)
}

func TestAnExactFigureHasNoWeakness(t *testing.T) {
	t.Parallel()
	assert.Equal(t, Weakness{}, quantityOf(t, Solve(&Brackets{Left: Reading{Values: []float64{20}}, Right: Reading{Values: []float64{21}}, Spacing: 210, Span: 2880}, nil, guard), "roll").Weakness())
}

// The demo's tailplane: 0.028° ± 2·0.0273° lies inside ±0.10°, also at 2.5 u
// (0.0963°), but not at 3 u (0.1100°).
func TestInsideAsksForAWiderGuard(t *testing.T) {
	t.Parallel()
	r := Solve(heldTailplane(level2, true), limits("twist", -0.1, 0.1), guard)
	assert.Equal(t, Go, r.Verdict)
	assert.True(t, r.Inside(2.5))
	assert.False(t, r.Inside(3))
	assert.True(t, Solve(heldTailplane(level2, true), nil, guard).Inside(9), "nothing is limited")
}
