package wayround

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/asking"
	"orpine/internal/closing"
	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/holding"
	"orpine/internal/photo"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

// closable is the boom with its row set, and its bay ready to be closed.
func closable(t *testing.T) *world {
	t.Helper()
	w := spent(t)
	ctx := w.Ctx()
	require.NoError(t, w.Closing.FinishTask(ctx, closing.TaskDone{Form: w.Form(), Bay: loft.BenchBay, Task: loft.BenchTask, By: "builder"}))
	require.NoError(t, w.Photos.Add(ctx, photo.NewPhoto{Form: w.Form(), Of: loft.BenchBay, Caption: "aft", Data: loft.PNG(t, 8, 6)}))
	require.NoError(t, w.Closing.Tick(ctx, closing.Ticked{Form: w.Form(), Bay: loft.BenchBay, Access: "through the hatch", Empty: true, By: "builder"}))
	w.Settle(loft.BenchBay)
	return w
}

// Whatever is done inside after somebody signed for the closing ends the release of that.
func TestWorkInABayEndsTheReleaseOfItsClosing(t *testing.T) {
	w := closable(t)
	require.NoError(t, w.Loft.Release(loft.BenchClose, holding.NewRelease{By: "builder", Reason: "seen"}))
	require.NoError(t, w.Do(loft.BenchRow, row.Spoil, 2))
	assert.False(t, w.Waiting(loft.BenchClose))
	assert.NotEmpty(t, loft.Problems(t, w.Step(loft.BenchClose, "builder", "")))
	w.Verify()
}

// A bay is not opened again while one that it lies within is closed.
func TestABayWithinAClosedOneIsNotOpenedAgain(t *testing.T) {
	w := closable(t)
	ctx := w.Ctx()
	require.NoError(t, w.Holding.StandBefore(ctx, holding.NewStand{Form: loft.Named("close all"), Assembly: loft.BenchBoom, Name: "Close all", Step: "close", Permanent: "the boom", Why: "w", Bay: "the whole"}))
	outer := closing.BayOf(loft.ID("close all"))
	require.NoError(t, w.Closing.Place(ctx, closing.Placed{Form: w.Form(), Bay: loft.BenchBay, Within: outer, By: "builder"}))
	w.Settle(loft.BenchBay)
	require.NoError(t, w.Loft.Release(loft.BenchClose, holding.NewRelease{By: "builder", Reason: "seen"}))
	require.NoError(t, w.Step(loft.BenchClose, "builder", ""))
	require.NoError(t, w.Photos.Add(ctx, photo.NewPhoto{Form: w.Form(), Of: outer, Caption: "all", Data: loft.PNG(t, 9, 6)}))
	require.NoError(t, w.Closing.Tick(ctx, closing.Ticked{Form: w.Form(), Bay: outer, Access: "through the hatch", Empty: true, By: "builder"}))
	w.Settle(outer)
	require.NoError(t, w.Loft.Release(loft.ID("close all"), holding.NewRelease{By: "builder", Reason: "seen"}))
	require.NoError(t, w.Step(loft.ID("close all"), "builder", ""))
	inner := closing.OpenAgain{Form: w.Form(), Bay: loft.BenchBay, Reason: "a screw was left", By: "builder"}
	assert.Contains(t, loft.Problems(t, w.Closing.OpenAgain(ctx, inner))[""], "lies within the whole, which is closed")
	require.NoError(t, w.Closing.OpenAgain(ctx, closing.OpenAgain{Form: w.Form(), Bay: outer, Reason: "a screw was left", By: "builder"}))
	inner.Form = w.Form()
	require.NoError(t, w.Closing.OpenAgain(ctx, inner))
	w.Verify()
}

// A hole that waits for an answer is not enlarged either.
func TestAHoleThatWaitsForAnAnswerIsNotEnlarged(t *testing.T) {
	w := world1(t)
	fit, err := w.Riveting.ReadFit(w.Ctx(), loft.BenchRow, "4.1 mm", "4 mm", "")
	require.NoError(t, err)
	larger := riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{1}, What: row.Enlarge, Fit: fit, Reason: "it ran out of round"}
	require.NoError(t, w.Asking.Ask(w.Ctx(), asking.NewQuestion{Form: w.Form(), Airframe: loft.BenchFrame, Sort: asking.Question, Text: "which size?", What: []string{"row:" + loft.BenchRow}, Holes: []string{"1-3"}}))
	assert.Contains(t, loft.Problems(t, w.Operate(larger))[""], "which size?")
	larger.Numbers = []int{4}
	if err := w.Operate(larger); err != nil {
		assert.NotContains(t, err.Error(), "which size?", "it is not among them")
	}
}

// Nobody signs what is not there any more: a line of the evidence that vanished is named.
func TestNobodySignsALineThatVanished(t *testing.T) {
	w := closable(t)
	shown := w.HoldOf(loft.BenchClose).Judgement.Digest()
	err := w.Holding.Release(w.Ctx(), holding.NewRelease{Form: w.Form(), Hold: loft.BenchClose, Shown: append(shown, "a second look: by helper"), By: "builder", Reason: "seen"})
	assert.Contains(t, loft.Problems(t, err)[""], "made before something changed")
	err = w.Holding.Release(w.Ctx(), holding.NewRelease{Form: w.Form(), Hold: loft.BenchClose, Shown: shown, By: "builder", Reason: "seen"})
	require.NoError(t, err)
	assert.Equal(t, hold.Met, w.HoldOf(loft.BenchClose).Judgement.Standing)
}
