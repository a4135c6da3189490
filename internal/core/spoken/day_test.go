package spoken

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestDaysAreReadAsSpoken(t *testing.T) {
	t.Parallel()
	now := time.Date(2026, 11, 25, 22, 0, 0, 0, time.UTC) // a Wednesday
	for text, want := range map[string]string{
		"today": "2026-11-25", "Yesterday": "2026-11-24", "tomorrow": "2026-11-26", "3 days ago": "2026-11-22", "1 day ago": "2026-11-24", "in 10 days": "2026-12-05",
		"2026-11-24": "2026-11-24", "24.11.2026": "2026-11-24", "24.11.": "2026-11-24", "24 Nov": "2026-11-24", "Nov 24": "2026-11-24", "november 24, 2025": "2025-11-24",
		"3 Jan": "2027-01-03", "1 Jun": "2026-06-01", "11/24/2026": "2026-11-24", "24/11/2026": "2026-11-24", "5/5/2026": "2026-05-05",
	} {
		got, err := Day(text, now)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for _, text := range []string{"", "sometime", "30 Feb", "2026-13-01", "24 Nox", "32.1.2026", "24 may bee"} {
		_, err := Day(text, now)
		assert.ErrorContains(t, err, "a day", text)
	}
	_, err := Day("11/12/2026", now)
	assert.ErrorContains(t, err, "2026-11-12 or 2026-12-11")
}

func TestTimesOfTheDayAreReadAsSpoken(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]string{"19:00": "19:00", "7pm": "19:00", "7:30 pm": "19:30", "7.30 p.m.": "19:30", "12am": "00:00", "12 pm": "12:00", "9.05": "09:05", "noon": "12:00", "19:00 h": "19:00"} {
		got, err := Clock(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for _, text := range []string{"", "7", "13pm", "0 am", "24:00", "19:75", "evening"} {
		_, err := Clock(text)
		assert.ErrorContains(t, err, "time of the day", text)
	}
	for text, want := range map[string][2]string{
		"7pm to 9pm": {"19:00", "21:00"}, "19:00-21:10": {"19:00", "21:10"}, "from 7 to 9:30pm": {"19:00", "21:30"}, "10 – 1pm": {"10:00", "13:00"}, "8am until noon": {"08:00", "12:00"}, "22:30-0:15": {"22:30", "00:15"},
	} {
		begin, end, err := Between(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, [2]string{begin, end}, text)
	}
	for _, text := range []string{"", "7 to 9", "7pm", "to 9pm"} {
		_, _, err := Between(text)
		assert.Error(t, err, text)
	}
}
