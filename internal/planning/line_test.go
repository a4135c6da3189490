package planning_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/ledger"
	"orpine/internal/planning"
	"orpine/test/loft"
)

// An evening of two, as one says it: the loft's clock stands at 4 May 2026, 10:00.
func TestAnEveningIsWrittenDownInALine(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 1)
	frame := loft.BenchFrame
	told := func(line string) error {
		return l.Planning.BringHours(l.Ctx(), planning.HoursIn{Form: l.Form(), Airframe: frame, Who: "builder", Line: line})
	}
	require.NoError(t, told("yesterday 7pm to 9:30pm, BE and KM, paperwork, the tail boom"))
	sessions := order(t, l, frame).Sessions
	require.Len(t, sessions, 2)
	assert.ElementsMatch(t, []string{"BE", "KM"}, []string{sessions[0].Who, sessions[1].Who})
	for _, s := range sessions {
		assert.Equal(t, "paperwork", s.Category)
		assert.Equal(t, "2026-05-03 19:00", s.From.In(loft.Morning.Location()).Format("2006-01-02 15:04"))
		assert.Equal(t, 150*time.Minute, s.To.Sub(s.From))
		assert.Equal(t, loft.BenchBoom, s.AssemblyID)
	}
	require.NoError(t, told("2 May 2 3/4 h"))
	require.NoError(t, told("8 to 9am"))
	assert.Len(t, order(t, l, frame).Sessions, 4)

	for line, says := range map[string]string{
		"sometime":                    "when, as in yesterday",
		"tomorrow 7pm to 8pm":         "after now",
		"yesterday 7pm to 9:30pm, BE": "here already",
		"yesterday 3am to 8pm":        "is that so?",
		"yesterday 45":                "when, as in",
	} {
		var wrong ledger.Problems
		require.ErrorAs(t, told(line), &wrong, line)
		assert.Contains(t, wrong["line"], says, line)
	}
}
