package planning

import (
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/plan"
	"orpine/internal/overview"
)

// Two steps of one evening are one event; after a break of over an hour another one begins.
func TestStintsAreEvenings(t *testing.T) {
	t.Parallel()
	got := eveningsOf([]plan.Stint{{Step: "a", From: 0, To: 60}, {Step: "b", From: 60, To: 120}, {Step: "a", From: 180, To: 200}, {Step: "c", From: 261, To: 300}}, func(id string) string { return "step " + id })
	assert.Equal(t, []evening{{0, 200, []string{"step a", "step b"}}, {261, 300, []string{"step c"}}}, got)
}

// Times are on the wall clock of their zone, and the calendar says when that is changed: in Oslo on 25
// October 2026 at 03:00 by the summer's clock, and on 28 March 2027 at 02:00 by the winter's.
func TestACalendarSaysItsZone(t *testing.T) {
	t.Parallel()
	oslo, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	now := time.Date(2026, 12, 1, 19, 0, 0, 0, oslo)
	s := overview.OrderSheet{Now: now, Steps: map[string]overview.OrderStep{"rivet": {Name: "rivet"}}}
	s.Plan.Zone, s.Plan.Now = plan.ClockIn(oslo), plan.Minute(now)
	s.Answer.Stints = []plan.Stint{{Step: "rivet", From: plan.Minute(now), To: plan.Minute(now) + 120}}
	text := calendarOf(s).Serialize(ics.WithNewLineWindows)
	for _, line := range []string{"DTSTART;TZID=Europe/Oslo:20261201T190000\r\n", "DTEND;TZID=Europe/Oslo:20261201T210000\r\n", "TZID:Europe/Oslo\r\n", "DTSTART:20261025T030000\r\nTZOFFSETFROM:+0200\r\nTZOFFSETTO:+0100\r\n", "DTSTART:20270328T020000\r\nTZOFFSETFROM:+0100\r\nTZOFFSETTO:+0200\r\n"} {
		assert.Contains(t, text, line)
	}
	s.Now = now.UTC()
	assert.Contains(t, calendarOf(s).Serialize(), "DTSTART:20261201T180000Z", "where the zone has no name a calendar knows")
	assert.Equal(t, "-0330", offsetText(-(3*3600 + 1800)))
}
