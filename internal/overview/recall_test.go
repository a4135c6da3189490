package overview_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/coating"
	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/stores"
	"orpine/test/loft"
)

// A recall, from the box that came to the list that is done: two lots of rivets are counted in, four holes are set from
// the first and two from the second; one hole is told afterwards to have had the first, too. A notice on the first names
// the box, and the five holes; the hold before the next step stands still for them until each is looked at.
func TestARecallFromTheBoxToTheListThatIsDone(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 6)
	count := func(lot, best string) error {
		return l.Stores.CountStock(l.Ctx(), stores.NewStock{Form: loft.Named("box " + lot), Airframe: loft.BenchFrame, Sort: "rivet", Name: "AD4-4", Number: 100, Lot: lot, Best: best})
	}
	require.NoError(t, count("A1", "2031-05"))
	require.NoError(t, count("B2", ""))
	assert.Contains(t, loft.Problems(t, count("C3", "some day"))["best"], "day")

	require.NoError(t, l.Look(gate.LookAt{Need: hold.Marked, Of: loft.BenchRow, By: "builder"}))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Prepared, Of: loft.BenchRow, By: "builder", What: hold.Preparations}))
	for number := 1; number <= 3; number++ {
		require.NoError(t, l.Take(loft.BenchSetup, number, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	}
	require.NoError(t, l.Release(loft.BenchRivet, holding.NewRelease{By: "builder", Reason: "seen"}))
	for _, what := range []row.Operation{row.Drill, row.Clean} {
		require.NoError(t, l.Do(loft.BenchRow, what, 1, 2, 3, 4, 5, 6))
	}
	require.NoError(t, l.Do(loft.BenchRow, row.Rivet, 1, 2, 3, 4))
	use := stores.LotUsed{Form: loft.Named("use"), Airframe: loft.BenchFrame, Name: "AD4-4", Lot: "B2"}
	require.NoError(t, l.Stores.UseLot(l.Ctx(), use))
	assert.Contains(t, loft.Problems(t, l.Stores.UseLot(l.Ctx(), stores.LotUsed{Form: l.Form(), Airframe: loft.BenchFrame, Name: "AD4-4", Lot: "Z9"})), "lot")
	require.NoError(t, l.Do(loft.BenchRow, row.Rivet, 5, 6))
	told := stores.HoleLot{Form: l.Form(), Row: loft.BenchRow, Holes: "6, 7", Lot: "A1", By: "helper"}
	assert.Contains(t, loft.Problems(t, l.Stores.TellLot(l.Ctx(), told))["holes"], "has 6 holes")
	told.Holes = "6"
	require.NoError(t, l.Stores.TellLot(l.Ctx(), told))

	add := func(name string, names part.Notice) {
		require.NoError(t, l.Stores.AddNotice(l.Ctx(), stores.NewNotice{Form: loft.Named(name), Airframe: loft.BenchFrame, Title: name, Names: names}))
	}
	add("Soft rivets", part.Notice{Numbers: []string{"470-4-4"}, Lots: []string{"A-1"}})
	notice := func() overview.Notice {
		s, err := l.Store(l.Ctx(), loft.BenchFrame)
		require.NoError(t, err)
		return s.Notices[0]
	}
	n := notice()
	var says []string
	for _, one := range n.Things {
		assert.Equal(t, part.Affected, one.Answer)
		says = append(says, one.Says())
	}
	require.Len(t, says, 2, strings.Join(says, "; "))
	assert.Equal(t, "AD4-4, lot A1: 100 counted in", says[0])
	assert.Contains(t, says[1], "solid 1/8 × 1/4 in, lot A1: ")
	assert.Contains(t, says[1], "holes 1–4, 6")
	tasks := n.Tasks()
	assert.Equal(t, 2, tasks.Open)
	assert.InDelta(t, 5*5.0/60, tasks.Hours, 1e-9, "five rivets, five minutes each")

	h := l.HoldOf(loft.BenchRivet)
	line := h.Judgement.Lines[len(h.Judgement.Lines)-1]
	assert.Equal(t, hold.Stop, line.Standing)
	assert.Contains(t, line.What, "holes 1–4, 6, by the notice “Soft rivets”")
	assert.Empty(t, h.Released, "a release that nobody would give now ends")

	find := func(thing, answer string) error {
		return l.Stores.Find(l.Ctx(), stores.PartFound{Form: l.Form(), Notice: loft.ID("Soft rivets"), Thing: thing, Answer: answer, Found: "hardness measured", By: "builder"})
	}
	require.NoError(t, find(n.Things[0].ID, "affected"))
	require.NoError(t, find(n.Things[1].ID, "not affected"))
	assert.ErrorIs(t, find("row/none", "affected"), ledger.ErrNotFound)
	assert.Equal(t, 1, notice().Tasks().Open, "the box that is affected has still to go")
	for _, one := range l.HoldOf(loft.BenchRivet).Judgement.Lines {
		assert.NotContains(t, one.What, "Soft rivets")
	}
	require.NoError(t, find(n.Things[0].ID, "not affected"))
	assert.Zero(t, notice().Tasks().Open)

	require.NoError(t, l.Stores.TellLot(l.Ctx(), stores.HoleLot{Form: l.Form(), Row: loft.BenchRow, Holes: "5", Lot: "A1", By: "helper"}))
	assert.Equal(t, 1, notice().Tasks().Open, "of the hole that came to them since nobody has looked")
	assert.Equal(t, hold.Stop, l.HoldOf(loft.BenchRivet).Judgement.Standing)
	require.NoError(t, find(notice().Things[1].ID, "not affected"))
	assert.Zero(t, notice().Tasks().Open)

	add("Any lot of theirs", part.Notice{Lots: []string{"Q7"}})
	n = notice()
	assert.Empty(t, n.Things, "the lots that are known are others")
	l.Verify()
}

// A pot is of the lot that its material is drawn from when it is mixed. Out of date it is asked about, and mixed for a
// reason that the log has; a notice on the lot names the pot, with what it went into.
func TestAPotIsOfALotAndInDate(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 3)
	require.NoError(t, l.Coating.AddMaterial(l.Ctx(), coating.NewMaterial{Form: loft.Named("sealant"), Name: "tank sealant", Table: "20; 30 min; ; ; 8 h; 24 h"}))
	require.NoError(t, l.Stores.CountStock(l.Ctx(), stores.NewStock{Form: l.Form(), Airframe: loft.BenchFrame, Sort: "sealant", Name: "Tank sealant", Number: 4, Lot: "S1", Best: "2020-01-31"}))
	pot := coating.NewClock{Form: loft.Named("pot"), Airframe: loft.BenchFrame, Assembly: loft.BenchBoom, Sort: "mix", What: "60 g for the seam", Material: loft.ID("sealant"), Temperature: "68 F"}
	assert.Equal(t, "tank sealant, lot S1, was best before 2020-01-31. Draw from another lot, or write why it is used", loft.Problems(t, l.Coating.Start(l.Ctx(), pot))["late"])
	pot.Late = "its maker let it go on for a year"
	require.NoError(t, l.Coating.Start(l.Ctx(), pot))
	assert.Contains(t, l.Log(1)[0].Detail, "out of date: its maker let it go on for a year")

	require.NoError(t, l.Stores.CountStock(l.Ctx(), stores.NewStock{Form: l.Form(), Airframe: loft.BenchFrame, Sort: "sealant", Name: "Tank sealant", Number: 4, Lot: "T94"}))
	require.NoError(t, l.Stores.UseLot(l.Ctx(), stores.LotUsed{Form: l.Form(), Airframe: loft.BenchFrame, Name: "Tank sealant", Lot: "T94"}))
	pot.Form, pot.Late = l.Form(), ""
	require.NoError(t, l.Coating.Start(l.Ctx(), pot), "the lot in use is in date")

	require.NoError(t, l.Stores.AddNotice(l.Ctx(), stores.NewNotice{Form: l.Form(), Airframe: loft.BenchFrame, Title: "Never hardens", Names: part.Notice{Lots: []string{"S1"}}}))
	s, err := l.Store(l.Ctx(), loft.BenchFrame)
	require.NoError(t, err)
	var says []string
	for _, one := range s.Notices[0].Things {
		says = append(says, one.Says())
	}
	assert.Equal(t, []string{"Tank sealant, lot S1: 4 counted in", "tank sealant, lot S1: Tail boom, 60 g for the seam"}, says)
	closing := l.HoldOf(loft.BenchClose).Judgement
	last := closing.Lines[len(closing.Lines)-1]
	assert.Equal(t, hold.Stop, last.Standing, "what it closes has the pot in it")
	assert.Contains(t, last.What, "60 g for the seam, by the notice “Never hardens”")
	l.Verify()
}
