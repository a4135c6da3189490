package measuring_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

// A boom that bows by 2 mm until it is moved, and by 0.5 mm from then on: each time stands by what was read in it. The
// middle lies (10 + 10)/2 − 12 = −2 mm, then −0.5 mm off the line of its ends.
func TestThroughItsLifeEachTimeStandsByItsOwnReadings(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 1)
	read := func(texts ...string) {
		for i, text := range texts {
			require.NoError(t, l.Take(loft.BenchSetup, i+1, measuring.NewReading{Check: loft.BenchCheck, State: l.SetupOf(loft.BenchSetup).State, Text: text, Instrument: loft.BenchRule}))
		}
	}
	read("10", "12", "10")
	l.Now = l.Now.Add(time.Hour)
	require.NoError(t, l.Measuring.SomethingMoved(l.Ctx(), measuring.SomethingMoved{Form: l.Form(), Setup: loft.BenchSetup, State: 1, What: measure.Moved}))
	read("10", "10.5", "10")
	require.NoError(t, l.Measuring.SomethingMoved(l.Ctx(), measuring.SomethingMoved{Form: l.Form(), Setup: loft.BenchSetup, State: 2, What: measure.Knocked}))
	read("10") // not to its end

	life, err := l.Measuring.Life(l.Ctx(), loft.BenchBoom)
	require.NoError(t, err)
	require.Len(t, life, 2)
	for i, want := range []struct {
		bow   float64
		since measure.Event
	}{{2, ""}, {0.5, measure.Moved}} {
		assert.InDelta(t, want.bow, abs(life[i].Figure.Value), 1e-9)
		assert.Equal(t, want.since, life[i].Since)
		assert.Equal(t, loft.BenchCheck, life[i].CheckID)
	}
	assert.True(t, life[0].At.Before(life[1].At))

	none, err := l.Measuring.Life(l.Ctx(), "none")
	require.NoError(t, err)
	assert.Empty(t, none)
}

func abs(v float64) float64 { return max(v, -v) }
