package measure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
)

// rails are 700 apart, with supports at 0 and 1600; the far front one is 3.5 high.
func rails() []measure.RailPoint {
	return []measure.RailPoint{
		{Name: "F1", X: 0, Y: -350, Z: 50, U: 0.2, Known: true}, {Name: "R1", X: 0, Y: 350, Z: 50, U: 0.2, Known: true},
		{Name: "F2", X: 1600, Y: -350, Z: 53.5, U: 0.2, Known: true}, {Name: "R2", X: 1600, Y: 350, Z: 50, U: 0.2, Known: true},
	}
}

// By hand: halfway the front rail is 1.75 higher over 700, atan(0.0025) = 0.14324°; each of
// four heights enters by half, 0.5 × 0.2/700 rad = 0.0081851° (cos² is 0.99999375).
func TestTheSlopeOfRailsIsInterpolatedWithItsU(t *testing.T) {
	t.Parallel()
	s, err := measure.SlopeAt(rails(), 800)
	require.NoError(t, err)
	assert.InDelta(t, 0.1432391, s.Degrees, 1e-7)
	require.Len(t, s.Shares, 4)
	for _, share := range s.Shares {
		assert.InDelta(t, 0.0081851, share.U, 1e-6)
	}
	end, err := measure.SlopeAt(rails(), 1600)
	require.NoError(t, err)
	assert.InDelta(t, math.Atan(3.5/700)*180/math.Pi, end.Degrees, 1e-12)
	assert.Len(t, end.Shares, 2, "over a support its own two heights count")
}

func TestRailsThatCannotTellTheSlopeSayWhy(t *testing.T) {
	t.Parallel()
	_, err := measure.SlopeAt(rails(), 2100)
	assert.ErrorContains(t, err, "beyond the last support")
	_, err = measure.SlopeAt(rails(), 1900)
	assert.NoError(t, err, "a little beyond is told")
	three := append(rails(), measure.RailPoint{Name: "M", X: 0, Y: 0, Known: true})
	_, err = measure.SlopeAt(three, 0)
	assert.ErrorContains(t, err, "3 lines")
	unread := rails()
	unread[2].Known = false
	_, err = measure.SlopeAt(unread, 800)
	assert.ErrorContains(t, err, "F2 is not read")
	_, err = measure.SlopeAt(rails()[:3], 0)
	assert.ErrorContains(t, err, "one support")
}
