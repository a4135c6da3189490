package overview

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The round is at three o'clock, on days of 23 and of 25 hours too.
func TestTheNightlyRoundIsAtThreeWhateverTheClocksDo(t *testing.T) {
	t.Parallel()
	zone, err := time.LoadLocation("Europe/Berlin")
	require.NoError(t, err)
	at := func(text string) time.Time {
		moment, err := time.ParseInLocation("2006-01-02 15:04", text, zone)
		require.NoError(t, err)
		return moment
	}
	for now, hours := range map[string]float64{
		"2026-11-26 20:00": 7,
		"2026-11-26 02:00": 1,
		"2026-11-26 03:00": 24,
		"2026-03-28 20:00": 6, // the clock goes from two to three
		"2026-10-24 20:00": 8, // and from three to two
	} {
		next := at(now).Add(untilNight(at(now)))
		assert.Equal(t, hours, untilNight(at(now)).Hours(), now)
		assert.Equal(t, 3, next.Hour(), now)
	}
	assert.GreaterOrEqual(t, untilNight(at("2026-11-26 02:59").Add(59*time.Second+999*time.Millisecond)), time.Minute)
}
