package asking_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/amending"
	"orpine/internal/asking"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/holding"
	"orpine/internal/overview"
	"orpine/internal/planning"
	"orpine/test/loft"
)

func ask(t *testing.T, l *loft.Loft, name string, n asking.NewQuestion) string {
	t.Helper()
	n.Form, n.Airframe = loft.Named(name), loft.BenchFrame
	require.NoError(t, l.Asking.Ask(l.Ctx(), n))
	return n.ID
}

func answer(t *testing.T, l *loft.Loft, id string) {
	t.Helper()
	require.NoError(t, l.Asking.AnswerIt(l.Ctx(), asking.Answered{Form: l.Form(), Question: id, Answer: "the one in the crate", By: "kit maker"}))
}

func order(t *testing.T, l *loft.Loft) overview.OrderSheet {
	t.Helper()
	s, err := l.Order(l.Ctx(), loft.BenchFrame)
	require.NoError(t, err)
	return s
}

// A question freezes a step until it is answered, or goes on provisionally; open again, it
// freezes it again.
func TestAQuestionFreezesAStep(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	pump := planning.NewStep{Form: loft.Named("pump"), Airframe: loft.BenchFrame, Line: "fit the pump, 2 h"}
	require.NoError(t, l.AddStep(l.Ctx(), pump))
	q := ask(t, l, "which", asking.NewQuestion{Sort: asking.Question, Text: "which pump?", Whom: "kit maker", By: "2026-06-01", What: []string{pump.ID, "", pump.ID}})
	held := func() string {
		s := order(t, l)
		for _, h := range s.Answer.Held {
			if h.ID == pump.ID {
				return s.Why(h.By[0])
			}
		}
		return ""
	}
	assert.Equal(t, "which pump? (asked of kit maker)", held())
	answer(t, l, q)
	assert.Empty(t, held())
	require.NoError(t, l.Asking.AnswerIt(l.Ctx(), asking.Answered{Form: l.Form(), Question: q, Open: true}))
	assert.NotEmpty(t, held())
	require.NoError(t, l.Right("question", q, amending.Change, map[string]string{"provisional": "the small one is fitted dry"}))
	assert.Empty(t, held(), "it goes on so until then")
	assert.Equal(t, []string{"which pump? (asked of kit maker) goes on so: the small one is fitted dry"}, order(t, l).Steps[pump.ID].Notes)
	require.NoError(t, l.Right("question", q, amending.Withdraw, nil))
	assert.Empty(t, order(t, l).Questions)
	assert.ErrorContains(t, l.Asking.AnswerIt(l.Ctx(), asking.Answered{Form: l.Form(), Question: q, Answer: "a", By: "b"}), "nothing of that name")
	l.Verify()
}

// Holes that wait for an answer are not drilled or set, whatever else of the row is; a hold is not
// released.
func TestAQuestionFreezesHolesAndHolds(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	q := ask(t, l, "five", asking.NewQuestion{Sort: asking.Contradiction, Text: "four rivets or five?", Words: "page 8: four", Drawing: "sheet 14: five", What: []string{"row:" + loft.BenchRow}, Holes: []string{"3-4"}})
	sheet, err := l.Row(l.Ctx(), loft.BenchRow)
	require.NoError(t, err)
	require.Len(t, sheet.Ahead.Frozen, 1)
	assert.Equal(t, "3-4", sheet.Ahead.Frozen[0].Holes)
	assert.True(t, sheet.Ahead.Frozen[0].Holds(4))
	assert.False(t, sheet.Ahead.Frozen[0].Holds(5))
	require.NoError(t, l.Holding.StandBefore(l.Ctx(), holding.NewStand{Form: loft.Named("ream"), Assembly: loft.BenchBoom, Name: "Ream it", Step: "ream", Permanent: "two holes", Why: "w"}))
	h := ask(t, l, "hold", asking.NewQuestion{Sort: asking.Question, Text: "which grip?", What: []string{"hold:" + loft.ID("ream")}})
	assert.Contains(t, loft.Problems(t, l.Release(loft.ID("ream"), holding.NewRelease{By: "builder"}))[""], "it waits for the answer to “which grip?”")
	one, err := l.Hold(l.Ctx(), loft.ID("ream"))
	require.NoError(t, err)
	assert.Len(t, one.Ahead.Frozen, 1)
	answer(t, l, h)
	answer(t, l, q)
	sheet, err = l.Row(l.Ctx(), loft.BenchRow)
	require.NoError(t, err)
	assert.Empty(t, sheet.Ahead.Frozen)
	l.Verify()
}

// In the demo holes 40 to 44 of row 5 wait for which of two documents prevails.
func TestAHoleThatWaitsIsNotSet(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	assert.Contains(t, loft.Problems(t, l.Do(demo.ID("row 5"), row.Rivet, 41))[""], "hole 41 waits for the answer to “rivets in the boom's frame 5” (asked of kit maker)")
	require.NoError(t, l.Do(demo.ID("row 5"), row.Rivet, 39))
	require.NoError(t, l.Do(demo.ID("row 5"), row.Pin, 41), "what can be taken back may be done")
	require.NoError(t, l.Asking.AnswerIt(l.Ctx(), asking.Answered{Form: l.Form(), Question: demo.ID("question 2"), Answer: "the drawing", By: "kit maker"}))
	require.NoError(t, l.Do(demo.ID("row 5"), row.Rivet, 41))
	l.Verify()
}

// A decision that is put off holds the last step before it is too late; a contradiction keeps who
// decided at the step.
func TestADecisionHoldsTheLastStepAndAContradictionStaysKnown(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	closes := planning.NewStep{Form: loft.Named("close the wing"), Airframe: loft.BenchFrame, Line: "close the wing, 2 h"}
	require.NoError(t, l.AddStep(l.Ctx(), closes))
	light := ask(t, l, "light", asking.NewQuestion{Sort: asking.Decision, Text: "a light in the tip?", Again: "2026-05-06", Last: closes.ID})
	s := order(t, l)
	why := func(s overview.OrderSheet) string {
		for _, h := range s.Answer.Held {
			if h.ID == closes.ID {
				return s.Why(h.By[0])
			}
		}
		return ""
	}
	assert.Equal(t, "to be decided before: a light in the tip?", why(s))
	for _, a := range s.Questions {
		assert.Equal(t, false, a.Due("2026-05-05"))
		assert.Equal(t, true, a.Due("2026-05-06"))
	}
	answer(t, l, light)
	assert.Empty(t, why(order(t, l)))
	rib := ask(t, l, "rib", asking.NewQuestion{Sort: asking.Contradiction, Text: "which face outboard", Words: "page 6: flanged", Edition: "notice 3: flat", What: []string{closes.ID}})
	answer(t, l, rib)
	assert.Equal(t, []string{"kit maker decided: the one in the crate (which face outboard)"}, order(t, l).Steps[closes.ID].Notes)
	l.Verify()
}

func TestWhatIsNoQuestionIsRefusedAtItsField(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	for field, n := range map[string]asking.NewQuestion{
		"sort": {Text: "x"}, "text": {Sort: asking.Question}, "by_day": {Sort: asking.Question, Text: "x", By: "soon"}, "again": {Sort: asking.Question, Text: "x", Again: "2026-02-30"}, "words": {Sort: asking.Contradiction, Text: "x", Words: "four"},
		"last": {Sort: asking.Decision, Text: "x"}, "what": {Sort: asking.Question, Text: "x", What: []string{"hold:" + loft.ID("nothing")}}, "holes": {Sort: asking.Question, Text: "x", What: []string{"row:" + loft.BenchRow}, Holes: []string{"some"}},
	} {
		n.Form, n.Airframe = l.Form(), loft.BenchFrame
		assert.Contains(t, loft.Problems(t, l.Asking.Ask(l.Ctx(), n)), field)
	}
	q := ask(t, l, "which", asking.NewQuestion{Sort: asking.Question, Text: "which pump?"})
	p := loft.Problems(t, l.Asking.AnswerIt(l.Ctx(), asking.Answered{Form: l.Form(), Question: q}))
	assert.Contains(t, p, "answer")
	assert.Contains(t, p, "answered_by")
	assert.Contains(t, loft.Problems(t, l.Asking.AnswerIt(l.Ctx(), asking.Answered{Form: l.Form(), Question: q, Seen: 1, Answer: "a", By: "b"}))[""], "now it is open")
	l.Now = l.Now.Add(time.Hour)
	l.Verify()
}
