package planning_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/plan"
	"orpine/internal/planning"
	"orpine/test/loft"
)

// Times away are read as people write them, over the new year and within a month, and written so that
// they are read again.
func TestTimesAwayAreRead(t *testing.T) {
	t.Parallel()
	now := time.Date(2026, 12, 1, 19, 0, 0, 0, time.UTC)
	for text, want := range map[string][]planning.AwayDays{
		"":                                  nil,
		"24 Dec to 2 Jan":                   {{From: "2026-12-24", To: "2027-01-02"}},
		"10 to 20 March, 2027-05-17":        {{From: "2027-03-10", To: "2027-03-20"}, {From: "2027-05-17", To: "2027-05-17"}},
		"2026-12-24 – 2027-01-02\n5.1.2027": {{From: "2026-12-24", To: "2027-01-02"}, {From: "2027-01-05", To: "2027-01-05"}},
	} {
		got, err := planning.ReadAway(text, now)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
		again, err := planning.ReadAway(planning.SayAway(got), now)
		require.NoError(t, err)
		assert.Equal(t, got, again)
	}
	for text, says := range map[string]string{"at Christmas": "a day: 2026-11-24", "20 to 10 March": "ends before it begins", "3/4/2027": "is the day first"} {
		_, err := planning.ReadAway(text, now)
		assert.ErrorContains(t, err, says, text)
	}
}

// On days away the week's evenings fall away: what takes two evenings of Wednesdays goes past two
// Wednesdays that are away.
func TestNothingIsPlannedForDaysAway(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 1)
	require.NoError(t, l.Planning.SetWeek(l.Ctx(), planning.WeekSet{Form: l.Form(), Airframe: loft.BenchFrame, From: map[string]string{"wed": "19:00"}, Long: map[string]string{"wed": "2"}}))
	add(t, l, loft.BenchFrame, "weigh", "weigh it, 90 min")
	before := order(t, l, loft.BenchFrame).Answer.Schedule[0].Start
	first, err := time.Parse("2006-01-02T15:04", before)
	require.NoError(t, err)
	text := first.Format("2006-01-02") + " to " + first.AddDate(0, 0, 7).Format("2006-01-02")
	assert.Contains(t, loft.Problems(t, l.Planning.SetAway(l.Ctx(), planning.AwaySet{Form: l.Form(), Airframe: loft.BenchFrame, Away: "for a while"}))["away"], "a day:")
	require.NoError(t, l.Planning.SetAway(l.Ctx(), planning.AwaySet{Form: l.Form(), Airframe: loft.BenchFrame, Away: text}))
	s := order(t, l, loft.BenchFrame)
	assert.Equal(t, first.AddDate(0, 0, 14).Format("2006-01-02T15:04"), s.Answer.Schedule[0].Start)
	assert.Equal(t, []planning.AwayDays{{From: first.Format("2006-01-02"), To: first.AddDate(0, 0, 7).Format("2006-01-02")}}, s.Away)
	assert.Len(t, s.Plan.Away, 1)
	require.NoError(t, l.Planning.SetAway(l.Ctx(), planning.AwaySet{Form: l.Form(), Airframe: loft.BenchFrame}))
	assert.Equal(t, before, order(t, l, loft.BenchFrame).Answer.Schedule[0].Start, "taken back by saying nothing")
	assert.Nil(t, planning.Planned([]planning.AwayDays{{From: "x", To: "y"}}))
	assert.Equal(t, [][2]plan.Date{}, append([][2]plan.Date{}, planning.Planned(nil)...))
	l.Verify()
}
