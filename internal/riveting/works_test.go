package riveting_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

// own lays a row that is riveted under a hold of its own.
func own(t *testing.T, l *loft.Loft, name string, change ...string) riveting.Row {
	t.Helper()
	require.NoError(t, l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named(name), Assembly: loft.BenchBoom, Name: name, Values: loft.With(loft.RowOf(6), change...), OptOut: "riveted on its own"}))
	return l.RowOf(loft.ID(name))
}

// made makes a row ready and releases its hold.
func made(t *testing.T, l *loft.Loft, r riveting.Row, prepared ...string) {
	t.Helper()
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Marked, Of: r.ID, By: "builder"}))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Prepared, Of: r.ID, By: "builder", What: append(prepared, hold.Preparations...)}))
	require.NoError(t, l.Release(ledger.Child(r.ID, "hold"), holding.NewRelease{By: "builder", Reason: "seen", AnsweredBy: "kit maker", Answer: "go on", Answered: "today", Document: "mail"}))
}

const bothDimpled = "aluminium; 0.8 mm; dimpled\naluminium; 1 mm; dimpled"

func TestADimpledRowIsFormedBeforeItIsSet(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	r := own(t, l, "dimpled", "layers", bothDimpled, "head", "flush")
	require.NoError(t, l.Do(r.ID, row.Drill, 1, 2, 3))
	assert.Contains(t, loft.Problems(t, l.Do(r.ID, row.Clean, 1))[""], "not dimpled yet")
	require.NoError(t, l.Do(r.ID, row.Deburr, 1, 2))
	require.NoError(t, l.Do(r.ID, row.Form, 1))
	require.NoError(t, l.Do(r.ID, row.Clean, 1))
	assert.Equal(t, "1 cleaned · 1 deburred · 1 sized · 3 pilot", l.RowOf(r.ID).CountsSay())
	lines := fmt.Sprint(l.HoldOf(ledger.Child(r.ID, "hold")).Judgement.Lines)
	assert.Contains(t, lines, hold.FormedWhereWanted)
	made(t, l, r, hold.FormedWhereWanted)
	require.NoError(t, l.Do(r.ID, row.Rivet, 1))
	require.NoError(t, l.Do(r.ID, row.Rivet, 2), "someone signed for the whole row that it is formed and cleared")
	assert.Contains(t, loft.Problems(t, l.Do(r.ID, row.Rivet, 4))[""], "pilot hole")
	l.Verify()
}

func TestPrimerIsAskedForWhereTheRowWantsIt(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	r := own(t, l, "primed", "works", row.Works[1])
	made(t, l, r)
	l.Now = l.Now.Add(time.Minute)
	require.NoError(t, l.Do(r.ID, row.Drill, 1), "after it was signed for, so that each hole counts")
	require.NoError(t, l.Do(r.ID, row.Clean, 1))
	assert.Contains(t, loft.Problems(t, l.Do(r.ID, row.Rivet, 1))[""], "not primed yet")
	require.NoError(t, l.Do(r.ID, row.Prime, 1))
	require.NoError(t, l.Do(r.ID, row.Rivet, 1))
}

func TestAnOversizeHoleKeepsBothDiametersAndItsReason(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	r := own(t, l, "oversize", "layers", bothDimpled, "head", "flush", "edge", "9 mm")
	require.NoError(t, l.Do(r.ID, row.Drill, 1))
	fit, err := l.Riveting.ReadFit(l.Ctx(), r.ID, "#21", "5/32", "")
	require.NoError(t, err)
	assert.InDelta(t, 0.159*25.4, fit.Hole, 1e-9, "a drill by its number")
	assert.InDelta(t, 3.96875, fit.Rivet, 1e-9)
	over := riveting.HoleOperation{Row: r.ID, Numbers: []int{1}, What: row.Enlarge, Fit: fit}
	assert.Contains(t, loft.Problems(t, l.Operate(over)), "dimple")
	over.Fit.Dimple = row.Dimples[0]
	assert.Contains(t, loft.Problems(t, l.Operate(over)), "reason")
	over.Reason = "the drill walked"
	wide := over
	wide.Fit.Hole = 4.4
	assert.Contains(t, loft.Problems(t, l.Operate(wide))["fit"], "does not fill")
	require.NoError(t, l.Operate(over))
	h, _ := l.RowOf(r.ID).Hole(1)
	over.Fit.Reason = "the drill walked"
	assert.Equal(t, over.Fit, h.Fit)
	assert.Contains(t, l.RowOf(r.ID).FastenerAt(h), "solid 5/32 ×")
	require.NoError(t, l.Undo(r.ID))
	h, _ = l.RowOf(r.ID).Hole(1)
	assert.Equal(t, row.Sized, h.State)
	assert.Zero(t, h.Fit)
	for _, wrong := range [][2]string{{"", "5/32"}, {"thick", "5/32"}, {"#900", "5/32"}, {"4", ""}} {
		_, err := l.Riveting.ReadFit(l.Ctx(), r.ID, wrong[0], wrong[1], "")
		assert.Contains(t, loft.Problems(t, err), "fit", "%v", wrong)
	}
	l.Verify()
}

// The tabs of a rib are dimpled before the rear spar lands on them: whoever is about to
// release that step is told.
func TestAStepIsWarnedOfWhatItPutsOutOfReach(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	r := own(t, l, "tabs", "layers", bothDimpled, "head", "flush")
	lands := riveting.HoleOperation{Row: r.ID, Numbers: []int{1, 2}, What: row.Shut, Reach: row.Reach{What: "formed", Step: "close it"}}
	require.NoError(t, l.Operate(lands))
	says := func() string { return fmt.Sprint(l.HoldOf(loft.BenchClose).Judgement.Lines) }
	assert.Contains(t, says(), "holes 1, 2 of Tail boom, tabs, cannot be formed after it")
	require.NoError(t, l.Do(r.ID, row.Drill, 1))
	require.NoError(t, l.Do(r.ID, row.Deburr, 1))
	require.NoError(t, l.Do(r.ID, row.Form, 1))
	assert.Contains(t, says(), "hole 2 of Tail boom, tabs, cannot be formed after it")
	require.NoError(t, l.Operate(riveting.HoleOperation{Row: r.ID, Numbers: []int{2}, What: row.Shut}))
	assert.NotContains(t, says(), "becomes impossible")
	assert.Contains(t, loft.Problems(t, l.Operate(riveting.HoleOperation{Row: r.ID, Numbers: []int{3}, What: row.Shut})), "after")
	l.Verify()
}

func TestHardwareIsLaidAsARow(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	for field, change := range map[string][]string{"with": {"sort", "nut plate"}, "points": {"sort", "bolt"}, "works": {"works", "magic"}} {
		err := l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: l.Form(), Assembly: loft.BenchBoom, Name: "row", Values: loft.With(loft.RowOf(6), change...)})
		assert.Contains(t, loft.Problems(t, err), field)
	}
	plates := own(t, l, "plates", "sort", "nut plate", "size", "3/16", "with", "solid 3/32 × 1/4 in", "callouts", "")
	made(t, l, plates)
	require.NoError(t, l.Do(plates.ID, row.Drill, 1, 2))
	require.NoError(t, l.Do(plates.ID, row.Clean, 1, 2))
	require.NoError(t, l.Do(plates.ID, row.Rivet, 1, 2))
	require.NoError(t, l.Do(plates.ID, row.Spoil, 2))
	s, err := l.Store(l.Ctx(), loft.BenchFrame)
	require.NoError(t, err)
	stand := map[string][3]int{}
	for _, line := range s.Stock {
		stand[line.Name] = [3]int{line.Set, line.Spoilt, line.ToSet}
	}
	assert.Equal(t, [3]int{1, 1, 5}, stand["nut plate 3/16"])
	assert.Equal(t, [3]int{2, 2, 10}, stand["solid 3/32 × 1/4 in"], "each takes its two rivets along")

	bolts := own(t, l, "bolts", "sort", "bolt", "size", "1/4", "points", "up", "callouts", "1-3; 20 mm\n4-6; 1 mm")
	assert.Equal(t, "bolt 1/4 × 20 mm", bolts.FastenerAt(bolts.Holes[0]))
	_, says := bolts.Lengths()
	assert.Contains(t, says, "holes 4–6: the bolt does not reach through")
	texts := bolts.Texts()
	assert.Equal(t, []string{"bolt", "up", row.Works[0]}, []string{texts["sort"], texts["points"], texts["works"]})
	l.Verify()
}
