package wayround

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/asking"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

// waited is the context of an entry that waited in a phone, which had seen the journal so far.
func (w *world) waited(seen int64) context.Context {
	return ledger.Knowing(ledger.TakenAt(w.Ctx(), w.Ledger.Now().Add(-time.Hour)), seen)
}

func (w *world) rivetFrom(ctx context.Context, hole int) error {
	return w.Riveting.Operate(ctx, riveting.HoleOperation{Form: w.Form(), Row: loft.BenchRow, Seen: w.RowOf(loft.BenchRow).Revised, Numbers: []int{hole}, What: row.Rivet, Crew: "solo"})
}

// What was keyed out of reach is asked as of the last entry that the phone had seen: under a release
// that ended since it is taken, and says so; before one was signed it is not.
func TestAnEntryThatWaitedIsAskedAsOfThen(t *testing.T) {
	w := world1(t)
	before := w.Ledger.Seq()
	w.ended(t)
	since := w.Ledger.Seq()
	assert.Contains(t, loft.Problems(t, w.rivetFrom(w.Ctx(), 1))[""], "stands no more", "now")
	assert.Contains(t, loft.Problems(t, w.rivetFrom(w.waited(since), 1))[""], "stands no more", "the phone had seen it end")
	require.NoError(t, w.rivetFrom(w.waited(before), 1), "the phone had not")
	assert.Contains(t, w.Log(1)[0].Detail, "under a release that ended since: Bow: stop")

	w = world1(t)
	require.NoError(t, w.Holding.Withdraw(w.Ctx(), holding.Withdrawal{Form: w.Form(), Hold: loft.BenchRivet, Release: w.HoldOf(loft.BenchRivet).ReleaseID, What: measure.Knocked, By: "helper"}))
	since = w.Ledger.Seq()
	require.NoError(t, w.Loft.Release(loft.BenchRivet, holding.NewRelease{By: "builder"}))
	assert.Contains(t, loft.Problems(t, w.rivetFrom(w.waited(since), 2))[""], "not released", "it was signed after that was keyed")
	require.NoError(t, w.rivetFrom(w.waited(w.Ledger.Seq()), 2))
	assert.NotContains(t, w.Log(1)[0].Detail, "ended since")
	w.Verify()
}

// Likewise with questions; the hole itself is asked as it stands.
func TestAQuestionAskedSinceDoesNotStopWhatWaited(t *testing.T) {
	w := world1(t)
	before := w.Ledger.Seq()
	require.NoError(t, w.Asking.Ask(w.Ctx(), asking.NewQuestion{Form: w.Form(), Airframe: loft.BenchFrame, Sort: asking.Question, Text: "five or six?", What: []string{"row:" + loft.BenchRow}}))
	assert.Contains(t, loft.Problems(t, w.rivetFrom(w.waited(w.Ledger.Seq()), 1))[""], "five or six?")
	require.NoError(t, w.rivetFrom(w.waited(before), 1))
	assert.NotEmpty(t, loft.Problems(t, w.rivetFrom(w.waited(before), 1)), "the hole is set already")
	w.Verify()
}

// A release that stands again does so from then on: what was keyed while it did not is not under it.
func TestWhatStandsAgainStandsFromThenOn(t *testing.T) {
	w := world1(t)
	before := w.Ledger.Seq()
	w.ended(t)
	between := w.Ledger.Seq()
	require.NoError(t, w.Loft.Take(loft.BenchSetup, 2, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule, InPlace: "misread"}))
	again := w.Ledger.Seq()
	require.True(t, w.Waiting(loft.BenchRivet))
	assert.NotEmpty(t, loft.Problems(t, w.rivetFrom(w.waited(between), 1)))
	assert.NotEmpty(t, loft.Problems(t, w.rivetFrom(w.waited(before), 1)), "nobody keeps that it stood before, too: a fact")
	require.NoError(t, w.rivetFrom(w.waited(again), 1))
	w.Verify()
}
