package logbook_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/demo"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/store/query"
	"orpine/test/loft"
)

func TestASlipIsLoggedByItsCauseAndTeaches(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	n := logbook.NewSlip{Form: l.Form(), Assembly: demo.ID("aileron left"), Step: "drill to size", Place: "rib 3", Cause: "plans misread"}
	require.NoError(t, l.Logbook.Log(l.Ctx(), n))
	require.NoError(t, l.Logbook.Tell(l.Ctx(), logbook.SlipCost{Form: l.Form(), Slip: n.ID, Seen: l.Log(1)[0].Seq, What: "drilled the other hand's", Minutes: "40", Money: "7,5", Lesson: "Read the view's arrow first."}))
	learnt := func(assembly, step string) (out []logbook.Lesson) {
		require.NoError(t, l.Ledger.View(l.Ctx(), func(q *query.Queries) (err error) {
			out, err = logbook.Lessons(l.Ctx(), q, demo.ID("samphire"), assembly, step)
			return err
		}))
		return out
	}
	lessons := learnt("Aileron, right", "")
	assert.Contains(t, lessons, logbook.Lesson{"Read the view's arrow first.", "learnt on its twin, Aileron, left"})
	lessons = learnt("Fin", "drill to size")
	assert.Len(t, lessons, 1)
	slips, err := l.Slips(l.Ctx(), 0)
	require.NoError(t, err)
	assert.Equal(t, "7.50 EUR", slips.Slips[0].Cost())
	assert.Equal(t, "7.50", slips.Slips[0].Amount())
	assert.Contains(t, loft.Problems(t, l.Logbook.Log(l.Ctx(), logbook.NewSlip{Form: l.Form(), Cause: "gravity"})), "cause")
	for field, cost := range map[string]logbook.SlipCost{"minutes": {Minutes: "long"}, "money": {Money: "1.2345"}} {
		cost.Form, cost.Slip = l.Form(), n.ID
		assert.Contains(t, loft.Problems(t, l.Logbook.Tell(l.Ctx(), cost)), field)
	}
	assert.ErrorIs(t, l.Logbook.Tell(l.Ctx(), logbook.SlipCost{Form: l.Form(), Slip: "none"}), ledger.ErrNotFound)
}
