package planning

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/plan"
	"orpine/internal/overview"
)

// sheetOf is an order of work on 1 December 2026 with one step that is scheduled.
func sheetOf() overview.OrderSheet {
	now := time.Date(2026, 12, 1, 19, 0, 0, 0, time.UTC)
	s := overview.OrderSheet{Now: now, Steps: map[string]overview.OrderStep{"rivet": {Name: "rivet the skin"}}}
	s.Plan.Zone, s.Plan.Now = plan.ClockIn(time.UTC), plan.Minute(now)
	s.Answer.Schedule = []plan.Scheduled{{ID: "rivet"}}
	return s
}

// inDays is the minute some days after now.
func inDays(s overview.OrderSheet, days int64) int64 { return s.Plan.Now + 1440*days }

// bandOf is a band of some days, with the times that the format would print.
func bandOf(s overview.OrderSheet, early, likely, late int64) plan.Band {
	b := plan.Band{N: 200, Early: plan.Never, Likely: plan.Never, Late: plan.Never}
	text := "there"
	if early >= 0 {
		b.Early, b.P10 = inDays(s, early), &text
	}
	if likely >= 0 {
		b.Likely, b.P50 = inDays(s, likely), &text
	}
	if late >= 0 {
		b.Late, b.P90 = inDays(s, late), &text
	}
	return b
}

// A band says its two days and the one between, and no more of them than there are.
func TestABandIsSaidAsFarAsItEnds(t *testing.T) {
	t.Parallel()
	s := sheetOf()
	for want, b := range map[string]plan.Band{
		"between 11 December 2026 and 30 January 2027, as likely as not by 31 December 2026": bandOf(s, 10, 30, 60),
		"not before 11 December 2026, as likely as not by 31 December 2026":                  bandOf(s, 10, 30, -1),
		"not before 11 December 2026":   bandOf(s, 10, -1, -1),
		"in fewer than one play in ten": bandOf(s, -1, -1, -1),
	} {
		f := forecast{}
		f.say(s, overview.Forecast{Band: b, Finish: "2026-12-05T20:00"})
		assert.Equal(t, want, f.Says)
		assert.Equal(t, "5 December 2026", f.Plain, "the plan alone is named beside it")
		assert.Equal(t, b.P10 != nil, f.Drawing != "")
		assert.False(t, f.Part)
	}
	f, b := forecast{}, bandOf(s, 10, 30, 60)
	b.LeftOut = []string{"held"}
	s.Answer.Unscheduled = []plan.Unscheduled{{ID: "held"}}
	f.say(s, overview.Forecast{Band: b})
	assert.True(t, f.Part, "of what is not held")
	assert.Empty(t, f.Plain)
	s.Answer.Schedule = nil
	f = forecast{}
	f.say(s, overview.Forecast{Band: b})
	assert.Empty(t, f.Says, "nothing was played")
}

// What it hangs on is named in order, and money or visits by themselves where they decide.
func TestWhatAForecastHangsOn(t *testing.T) {
	t.Parallel()
	s := sheetOf()
	b := bandOf(s, 10, 30, 60)
	b.Drivers = []plan.Driver{{What: "pace", Days: 40.4}, {What: "step", ID: "rivet", Days: 8}, {What: "money", Days: 7}}
	f := forecast{}
	f.say(s, overview.Forecast{Band: b})
	assert.Equal(t, []string{"your pace", "“rivet the skin” alone", "what you save"}, f.Hangs)
	assert.Empty(t, f.Notes, "money is the third")
	assert.Contains(t, string(f.Drawing), "your pace: 40 days")
	b.Drivers = []plan.Driver{{What: "money", Days: 40}}
	b.ExtraVisits, b.Never = 0.6, 0.124
	b.NeverBy, b.NeverAt = map[string]float64{"people": 0.1, "fit": 0.024}, map[string]float64{"rivet": 0.1, "other": 0.024}
	f = forecast{}
	f.say(s, overview.Forecast{Band: b})
	all := strings.Join(f.Notes, " ")
	assert.Contains(t, all, "Money decides")
	assert.Contains(t, all, "in 60 of 100 plays work for two was left after the last one")
	assert.Contains(t, all, "In 13 of 100 plays it never ends: a step that is done in one go")
	assert.Contains(t, all, "put a later visit in. What most often stays undone: rivet the skin.")
}
