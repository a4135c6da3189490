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
// of 0.015°, u is halved when 0.015²/n ≤ (0.01²/12 + 0.015²)/4 − 0.01²/12 = 5e-5:
// from n = 4.5 on. Half the step alone leaves most of it.
func TestTheEndOfASpanIsTheWeakReadingOfItsTwist(t *testing.T) {
	t.Parallel()
	q := quantityOf(t, Solve(placed(heldTailplane(level2, false)), nil, guard), "twist")
	weak := q.Weakness()
	assert.Equal(t, "stations[0].angle", weak.Reading)
	assert.InDelta(t, 0.4, weak.Share, 1e-9)
	assert.Equal(t, 5, weak.Placings)
	assert.Empty(t, weak.Offset, "it cancels")
	assert.False(t, weak.Steps)
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
	weak := quantityOf(t, Solve(fin, nil, guard), "lean").Weakness()
	assert.Equal(t, "level 2", weak.Offset)
	assert.InDelta(t, 0.877193, weak.Common, 1e-6)
	assert.Zero(t, weak.Placings)
	fin.RightFace.Turned = true
	assert.Empty(t, quantityOf(t, Solve(fin, nil, guard), "lean").Weakness().Offset)
}

// A coarse rule: nothing but its step makes the uncertainty, so a rule with half
// the step halves it, and more placings do not.
func TestACoarseStepIsNamed(t *testing.T) {
	t.Parallel()
	rule := &Instrument{Name: "rule", Measures: Length, Resolution: 1, Spread: spread(0)}
	weak := quantityOf(t, Solve(&Brackets{Left: read(rule, 20), Right: read(rule, 21), Spacing: 210, Span: 2880}, nil, guard), "roll").Weakness()
	assert.True(t, weak.Steps)
	assert.Zero(t, weak.Placings)
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
	weak := quantityOf(t, Solve(c, nil, guard), "skew").Weakness()
	require.NotEmpty(t, weak.Reading)
	assert.Greater(t, weak.Share, 0.2)
	assert.Positive(t, weak.Placings)
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
