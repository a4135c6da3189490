package measure

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The lean of a fin read one way round holds the level's constant error; what it
// changed by does not, for both takings hold it alike: u² = 2 · ½(0.01²/12 + 0.015²).
func TestTheChangeOfALeanIsKnownBetterThanTheLean(t *testing.T) {
	t.Parallel()
	fin := func(left, right float64) *Upright {
		return &Upright{LeftFace: read(level2, left), RightFace: read(level2, right), Height: 1310}
	}
	change, ok := Change(fin(3.27, 3.14), fin(3.23, 3.16), "lean")
	require.True(t, ok)
	assert.InDelta(t, (3.23-3.16)/2-(3.27-3.14)/2, change.Value, 1e-12)
	assert.InDelta(t, math.Sqrt(0.01*0.01/12+0.015*0.015), change.U, 1e-12)
	assert.Less(t, change.U, quantityOf(t, Solve(fin(3.27, 3.14), nil, guard), "lean").U)
}

// A bow is picked from several departures, so its change takes both u in full.
func TestTheChangeOfABowTakesBothUncertainties(t *testing.T) {
	t.Parallel()
	bar := func(middle float64) *Straightness {
		return &Straightness{Points: []StraightPoint{{Name: "a", X: 0, Offset: read(laser, 10)}, {Name: "b", X: 500, Offset: read(laser, middle)}, {Name: "c", X: 1000, Offset: read(laser, 10)}}}
	}
	change, ok := Change(bar(11), bar(10.5), "bow")
	require.True(t, ok)
	u := quantityOf(t, Solve(bar(11), nil, guard), "bow").U
	assert.InDelta(t, -0.5, change.Value, 1e-12)
	assert.InDelta(t, u*math.Sqrt2, change.U, 1e-12)
}

func TestNothingToCompareIsSaid(t *testing.T) {
	t.Parallel()
	_, ok := Change(&Brackets{Spacing: 210, Span: 2880, Left: read(laser, 1), Right: read(laser, 1)}, &Upright{LeftFace: read(level2, 1), RightFace: read(level2, 1)}, "roll")
	assert.False(t, ok)
}
