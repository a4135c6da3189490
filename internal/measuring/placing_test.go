package measuring_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/measuring"
	"orpine/internal/store/query"
	"orpine/test/loft"
)

// secondSetup is the boom set once more, after it was measured and its row released.
func secondSetup(t *testing.T) (l *loft.Loft, second string) {
	t.Helper()
	l = loft.Bench(t, 3)
	for i := range 3 {
		require.NoError(t, l.Take(loft.BenchSetup, i+1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	}
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Marked, Of: loft.BenchRow, By: "builder"}))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Prepared, Of: loft.BenchRow, By: "builder", What: hold.Preparations}))
	require.NoError(t, l.Release(loft.BenchRivet, holding.NewRelease{By: "builder"}))
	n := measuring.NewSetup{Form: loft.Named("second"), Assembly: loft.BenchBoom, Name: "on the floor", Checks: []measuring.NewCheck{loft.Bow()}}
	n.Checks[0].Name = "Level of the floor"
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
	return l, n.ID
}

func asked(t *testing.T, l *loft.Loft, setup string) (with []measuring.LiesLike, asks *measuring.LiesLike) {
	t.Helper()
	require.NoError(t, l.Ledger.View(l.Ctx(), func(q *query.Queries) (err error) {
		with, asks, err = l.Measuring.Lying(l.Ctx(), q, setup)
		return err
	}))
	return with, asks
}

func count(l *loft.Loft, setup string) (n int) {
	for _, spot := range l.SetupOf(setup).Checks[0].Spots {
		n += len(spot.Counting())
	}
	return n
}

// Where the part lies as before, an event in one setup is an event in both: the release that rests on
// the one ends by what happened in the other, and stands again when that is taken back.
func TestWhatDisturbsOneSetupOfAPlacingDisturbsTheOther(t *testing.T) {
	t.Parallel()
	l, second := secondSetup(t)
	with, asks := asked(t, l, second)
	require.NotNil(t, asks, "it was set anew while readings stand")
	assert.Equal(t, loft.BenchSetup, asks.ID)
	assert.Empty(t, with)
	_, asks = asked(t, l, loft.BenchSetup)
	assert.Nil(t, asks, "it is asked of the newer one")

	l.Moved(second, measure.Moved)
	assert.Equal(t, 3, count(l, loft.BenchSetup), "unanswered, both stand")
	assert.True(t, l.Waiting(loft.BenchRivet))

	require.NoError(t, l.Measuring.SayHowItLies(l.Ctx(), measuring.LiesAs{Form: l.Form(), Setup: second, Other: loft.BenchSetup, Lies: measuring.LiesStill}))
	with, asks = asked(t, l, second)
	assert.Nil(t, asks, "nothing is asked twice")
	assert.Len(t, with, 1)
	assert.True(t, l.Waiting(loft.BenchRivet), "the answer alone ends nothing")

	l.Moved(second, measure.Knocked)
	assert.Zero(t, count(l, loft.BenchSetup))
	assert.False(t, l.Waiting(loft.BenchRivet), "it was knocked in the other setup")
	back := func() error {
		return l.Measuring.TakeEventBack(l.Ctx(), measuring.EventMistaken{Form: l.Form(), Setup: second, State: l.SetupOf(second).State, Reason: "the wrong button", By: "builder"})
	}
	require.NoError(t, back())
	assert.Equal(t, 3, count(l, loft.BenchSetup))
	assert.True(t, l.Waiting(loft.BenchRivet), "its cause was taken back")

	l.Moved(loft.BenchSetup, measure.Moved)
	require.NoError(t, l.Take(loft.BenchSetup, 1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	assert.Contains(t, loft.Problems(t, back())[""], "in its stands", "it was read in the other setup since")
	l.Verify()
}

// Where it was moved, what was read before stands no more, and what is read here does.
func TestSetAnewAfterItWasMoved(t *testing.T) {
	t.Parallel()
	l, second := secondSetup(t)
	require.NoError(t, l.Take(second, 1, measuring.NewReading{Check: l.SetupOf(second).Checks[0].ID, Text: "10", Instrument: loft.BenchRule}))
	say := func(other, lies string) error {
		return l.Measuring.SayHowItLies(l.Ctx(), measuring.LiesAs{Form: l.Form(), Setup: second, Other: other, Lies: lies})
	}
	assert.Contains(t, loft.Problems(t, say(loft.BenchSetup, "perhaps")), "lies")
	assert.NotEmpty(t, loft.Problems(t, say(second, measuring.LiesStill)), "itself")
	require.NoError(t, say(loft.BenchSetup, measuring.LiesStill))
	require.NoError(t, say(loft.BenchSetup, measuring.LiesNot), "it was a mistake")
	assert.Zero(t, count(l, loft.BenchSetup))
	assert.Equal(t, 1, count(l, second))
	assert.False(t, l.Waiting(loft.BenchRivet))
	_, asks := asked(t, l, second)
	assert.Nil(t, asks, "nothing stands there any more")
	l.Moved(second, measure.Moved)
	assert.Zero(t, count(l, second))
	l.Verify()
}
