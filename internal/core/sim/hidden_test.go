package sim

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestADeviceHasTheErrorsOfItsCard(t *testing.T) {
	t.Parallel()
	for _, sort := range Devices {
		d, err := NewDevice(sort, 7)
		require.NoError(t, err)
		wrong, n := 0, 4000
		var sum, square float64
		for i := range n {
			h := d.Hold(100, "spot", i, false)
			if h.Wrong {
				wrong++
				continue
			}
			e := h.settled - 100 - d.constant
			sum, square = sum+e, square+e*e
		}
		counted := float64(n - wrong)
		assert.InDelta(t, wrongWay, float64(wrong)/float64(n), 0.012)
		assert.InDelta(t, 0, sum/counted, 4*d.spread/math.Sqrt(counted))
		assert.InDelta(t, 1, math.Sqrt(square/counted)/d.spread, 0.06)
	}
	_, err := NewDevice("sextant", 1)
	assert.ErrorContains(t, err, "level, tape, laser, caliper")
}

func TestTheSamePlacingShowsTheSame(t *testing.T) {
	t.Parallel()
	d, err := NewDevice("level", 3)
	require.NoError(t, err)
	a, steady, _ := d.Hold(-3, "x", 1, false).Show(2*time.Second, time.Hour)
	b, _, _ := d.Hold(-3, "x", 1, false).Show(2*time.Second, time.Hour)
	assert.Equal(t, a, b)
	assert.True(t, steady)
	assert.Regexp(t, `^-?\d+\.\d\d$`, a, "plain ASCII")
	_, steady, _ = d.Hold(0.3, "x", 1, false).Show(300*time.Millisecond, time.Hour)
	assert.False(t, steady, "it has to come to rest")
	c, _, _ := d.Hold(-3, "x", 1, true).Show(2*time.Second, time.Hour)
	assert.NotEqual(t, a, c, "turned, it shows the other sign")
}

func TestHiddenPartsThatCannotBe(t *testing.T) {
	t.Parallel()
	for text, says := range map[string]string{
		"":                                     "no hidden part",
		`{"format":"orpine.part","version":2}`: "version 2",
		`{"format":"orpine.part","version":1}`: "no spots",
		`{"format":"orpine.part","version":1,"spots":[{"point":"p","true":"x","unit":"mm"}]}`:  "spot 1 (p)",
		`{"format":"orpine.part","version":1,"spots":[{"point":"p","true":"1","unit":"ell"}]}`: "no unit",
	} {
		_, err := ReadHidden([]byte(text))
		assert.ErrorContains(t, err, says, fmt.Sprint(text))
	}
}
