package holding_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

// A step recorded at the wrong hold is taken back by name and reason: the hold is open again and wants a new release, and
// what the step had done to its setup is undone. Readings, work in its rows and steps that came after it keep it.
func TestAStepAtTheWrongHoldIsTakenBack(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 3)
	back := func(entry, reason string) error {
		return l.Retract(l.Ctx(), ledger.Mistaken{Form: l.Form(), Entry: entry, By: "builder", Reason: reason})
	}
	for number, text := range []string{"10", "11", "10.5"} {
		require.NoError(t, l.Take(loft.BenchSetup, number+1, measuring.NewReading{Check: loft.BenchCheck, Text: text, Instrument: loft.BenchRule}))
	}
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Marked, Of: loft.BenchRow, By: "builder"}))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Prepared, Of: loft.BenchRow, By: "builder", What: hold.Preparations}))
	release := func() {
		require.NoError(t, l.Release(loft.BenchRivet, holding.NewRelease{By: "builder", Reason: "seen"}))
	}
	release()
	for _, what := range []row.Operation{row.Drill, row.Clean, row.Rivet} {
		require.NoError(t, l.Do(loft.BenchRow, what, 1, 2, 3))
	}
	state := l.SetupOf(loft.BenchSetup).State
	require.NoError(t, l.Step(loft.BenchRivet, "builder", ""))
	step := l.HoldOf(loft.BenchRivet).Recorded()
	require.NotEmpty(t, step)
	assert.Equal(t, state+1, l.SetupOf(loft.BenchSetup).State, "it was riveted")

	assert.Contains(t, loft.Problems(t, back(step, ""))["reason"], "why?")
	require.NoError(t, back(step, "it was the row beside"))
	h := l.HoldOf(loft.BenchRivet)
	assert.False(t, h.Done)
	assert.Empty(t, h.Released)
	assert.Empty(t, h.Recorded())
	assert.Equal(t, "the step that was recorded under it was not done", h.Releases[len(h.Releases)-1].Withdrawn)
	assert.Equal(t, state, l.SetupOf(loft.BenchSetup).State)
	assert.Contains(t, loft.Problems(t, back(step, "once more"))[""], "taken back already")
	l.Verify()

	release()
	require.NoError(t, l.Step(loft.BenchRivet, "builder", ""))
	step = l.HoldOf(loft.BenchRivet).Recorded()
	require.NoError(t, l.Do(loft.BenchRow, row.Spoil, 2))
	assert.Contains(t, loft.Problems(t, back(step, "no"))[""], "work in")
	require.NoError(t, l.Undo(loft.BenchRow))
	require.NoError(t, l.Take(loft.BenchSetup, 1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule, InPlace: "misread", Condition: "riveted"}))
	assert.Contains(t, loft.Problems(t, back(step, "no"))[""], "was read")
	l.Verify()
}

// What was told as a fact, and was none, is taken back likewise; there was no release.
func TestAFactThatWasNoneIsTakenBack(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 1)
	fact := holding.StepFact{Form: loft.Named("fact"), Hold: loft.BenchClose, How: gate.Unreleased, By: "helper", Reason: "it was bonded before anybody asked"}
	require.NoError(t, l.Holding.TellFact(l.Ctx(), fact))
	require.True(t, l.HoldOf(loft.BenchClose).Done)
	taken := ledger.Mistaken{Form: loft.Named("no fact"), Entry: fact.ID, By: "builder", Reason: "that was the other boom"}
	require.NoError(t, l.Retract(l.Ctx(), taken))
	require.NoError(t, l.Retract(l.Ctx(), taken), "sent twice, taken back once")
	h := l.HoldOf(loft.BenchClose)
	assert.False(t, h.Done)
	assert.Empty(t, h.Fact)
	assert.Empty(t, h.Facts)
	fact.Form = loft.Named("fact again")
	require.NoError(t, l.Holding.TellFact(l.Ctx(), fact), "and may be told again")
	l.Moved(loft.BenchSetup, measure.Knocked)
	l.Verify()
}
