package riveting_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/ledger"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

// Two lines of a list are two rows under one hold, which says of their lengths that nobody checked them.
func TestACallOutListIsLaidOutUnderOneHold(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 3)
	n := riveting.NewRow{Form: l.Form(), Assembly: loft.BenchBoom, Name: "as listed", List: "rib 4: 12 AD4-5, 3 AD4-6 flush; open 14, 15 for fin fairing\nrib 5: 8 B32-6; pitch 25", OptOut: "the frame is drilled on its own", Marked: "builder"}
	require.NoError(t, l.Riveting.Lay(l.Ctx(), n))
	require.NoError(t, l.Riveting.Lay(l.Ctx(), n), "sent again, it is there once")

	first, second := l.RowOf(n.ID), l.RowOf(ledger.Child(n.ID, "listed 1"))
	assert.Equal(t, []string{"rib 4", "rib 5"}, []string{first.Name, second.Name})
	assert.Equal(t, []int{15, 8}, []int{len(first.Holes), len(second.Holes)})
	assert.Equal(t, first.Rivets.ID, second.Rivets.ID)
	assert.InDelta(t, 7*25, second.Holes[7].Along, 1e-9)
	assert.Equal(t, row.AsItComes, first.How)
	assert.NotEqual(t, first.Line.From, second.Line.From, "they are drawn beside one another")

	lines := map[string]hold.Standing{}
	for _, line := range l.HoldOf(first.Rivets.ID).Judgement.Lines {
		lines[line.What] = line.Standing
		if line.What == "rivet lengths of rib 4" {
			assert.Contains(t, line.Why, "not checked")
		}
	}
	assert.Equal(t, hold.Unsure, lines["rivet lengths of rib 4"])
	assert.Equal(t, hold.Unsure, lines["rivet lengths of rib 5"])
	assert.Equal(t, hold.Met, lines["holes of rib 4 that stay open"])

	// Its stack is said later, under its plan: where the holes lie stays.
	texts := first.Texts()
	texts["layers"] = "aluminium; 1.5 mm; dimpled\naluminium; 1.5 mm; dimpled"
	require.NoError(t, l.Riveting.Change(l.Ctx(), riveting.RowChange{Form: l.Form(), Row: first.ID, Seen: first.Planned, Name: first.Name, Values: texts}))
	first = l.RowOf(n.ID)
	assert.Equal(t, row.AsItComes, first.How)
	assert.Equal(t, "flush", first.HeadAt(13))
	worst, says := first.Lengths()
	assert.NotContains(t, says, "not checked", worst)

	again := riveting.NewRow{Form: l.Form(), Assembly: loft.BenchBoom, Name: "as listed", List: "rib 6: 4 AD4-5\nAD4-5", OptOut: "on its own"}
	var wrong ledger.Problems
	require.ErrorAs(t, l.Riveting.Lay(l.Ctx(), again), &wrong)
	assert.Contains(t, wrong["list"], "line 2: ")
	again.Form, again.List = l.Form(), strings.Repeat("rib ", 60)+": 4 AD4-5\nrib 7: 4 AD4-5"
	require.ErrorAs(t, l.Riveting.Lay(l.Ctx(), again), &wrong)
	assert.Contains(t, wrong["list"], "line 1: ", "a name has its length")
	assert.NotContains(t, wrong["list"], "line 2: ", "and only its own line is named")
}
