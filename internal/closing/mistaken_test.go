package closing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/closing"
	"orpine/internal/core/row"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/photo"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

// back takes an entry back.
func back(l *loft.Loft, entry string) error {
	return l.Retract(l.Ctx(), ledger.Mistaken{Form: l.Form(), Entry: entry, By: "helper", Reason: "it was another bay"})
}

// A count and a tick by mistake are taken back by name and reason; what was counted before, and what
// was open, is so again. A release of the closing ends by it, and once the bay is closed nothing is
// taken back.
func TestCountsAndTicksAreTakenBack(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 1)
	bay := func() closing.Bay {
		b, err := l.Bay(l.Ctx(), loft.BenchBay)
		require.NoError(t, err)
		return b.Bay
	}
	require.NoError(t, l.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{1}, What: row.Mark, Keep: row.Keep{Part: "fairing", Step: "later"}}))
	require.NoError(t, l.Closing.Count(l.Ctx(), closing.NewCount{Form: loft.Named("in"), Bay: loft.BenchBay, Thing: "tool", Number: 2, By: "helper"}))
	require.NoError(t, l.Closing.Tick(l.Ctx(), closing.Ticked{Form: loft.Named("tick"), Bay: loft.BenchBay, Tasks: []string{loft.BenchTask}, Access: "a hatch", By: "helper"}))
	assert.NotEmpty(t, bay().Tasks[0].By)
	assert.Contains(t, loft.Problems(t, l.Retract(l.Ctx(), ledger.Mistaken{Form: l.Form(), Entry: loft.ID("in"), By: "helper"}))["reason"], "why?")
	require.NoError(t, back(l, loft.ID("in")))
	assert.Empty(t, bay().Counts)
	assert.Contains(t, loft.Problems(t, back(l, loft.ID("in")))[""], "taken back already")
	require.NoError(t, back(l, loft.ID("tick")))
	assert.Empty(t, bay().Tasks[0].By)
	assert.ErrorIs(t, back(l, loft.ID("bench")), ledger.ErrNotFound, "not every entry")

	done := closing.TaskDone{Form: loft.Named("done"), Bay: loft.BenchBay, Task: loft.BenchTask, By: "builder"}
	require.NoError(t, l.Closing.FinishTask(l.Ctx(), done))
	assert.Contains(t, loft.Problems(t, back(l, loft.ID("tick")))[""], "done anew since")
	require.NoError(t, l.Closing.Tick(l.Ctx(), closing.Ticked{Form: l.Form(), Bay: loft.BenchBay, Access: "a hatch", Empty: true, By: "helper"}))
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: loft.Named("seen"), Of: loft.BenchBay, Data: loft.PNG(t, 20, 20)}))
	l.Settle(loft.BenchBay)
	release := holding.NewRelease{By: "builder"}
	require.NoError(t, l.Release(loft.BenchClose, release))
	require.NoError(t, back(l, loft.ID("done")))
	assert.Contains(t, l.HoldOf(loft.BenchClose).Releases[0].Withdrawn, "was taken back")
	require.NoError(t, l.Closing.FinishTask(l.Ctx(), closing.TaskDone{Form: loft.Named("done again"), Bay: loft.BenchBay, Task: loft.BenchTask, By: "builder"}))
	require.NoError(t, l.Release(loft.BenchClose, release))
	require.NoError(t, l.Retract(l.Ctx(), ledger.Mistaken{Form: l.Form(), Entry: loft.ID("seen"), By: "builder", Reason: "blurred"}))
	assert.Empty(t, l.HoldOf(loft.BenchClose).Released, "the photo was a line of it")
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: l.Form(), Of: loft.BenchBay, Data: loft.PNG(t, 20, 21)}))
	require.NoError(t, l.Release(loft.BenchClose, release))
	require.NoError(t, l.Step(loft.BenchClose, "builder", ""))
	assert.Contains(t, loft.Problems(t, back(l, loft.ID("done again")))[""], "is closed")
	l.Verify()
}
