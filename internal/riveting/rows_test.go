package riveting_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/part"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

// The scenario: rows 3 to 6 half set, two bad rivets, one row kept open.
func TestTheDemosBoom(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	for id, says := range map[string]string{
		demo.ID("row 3"): "41 set · 1 open · 1 bad · 41 cleaned", demo.ID("row 4"): "41 set · 1 bad · 14 pinned · 28 cleaned",
		demo.ID("row 5"): "24 set · 24 cleaned", demo.ID("row 6"): "12 set · 12 open",
	} {
		assert.Equal(t, says, l.RowOf(id).CountsSay(), id)
	}
	assert.Contains(t, loft.Problems(t, l.Do(demo.ID("row 3"), row.Rivet, 77))[""], "hole 77 stays open for fin fairing (fit the fin fairing)")
	require.NoError(t, l.Do(demo.ID("row 3"), row.Rivet, 43))
	h := l.HoldOf(demo.ID("rivet boom"))
	first, left := h.Left()
	assert.Equal(t, "row 3, left stringer", first.Name)
	assert.Equal(t, 108, left)
	assert.Contains(t, loft.Problems(t, l.Step(demo.ID("rivet boom"), "builder", ""))[""], "row 3, left stringer is not done: 41 holes 17, 44–76, 78–84")

	record, err := l.Record(l.Ctx(), demo.ID("tail boom"), 1)
	require.NoError(t, err)
	records := record.RowRecords
	require.Len(t, records[0].SetBy, 2, "by the builder with a bucker; the one just now by nobody named, solo")
	assert.Equal(t, []any{"builder", "with a bucker", 42}, []any{records[0].SetBy[0].By, records[0].SetBy[0].Crew, records[0].SetBy[0].Rivets})
	assert.Equal(t, []int{17}, records[0].Replaced)

	s, err := l.Workshop.Store(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	stand := map[string]overview.StockLine{}
	for _, line := range s.Stock {
		stand[line.Name] = line
	}
	quarter := stand["solid 1/8 × 1/4 in"]
	assert.Equal(t, []int{180, 95, 2, 109}, []int{quarter.Counted, quarter.Set, quarter.Spoilt, quarter.ToSet}, "36 + 36 + 24 − 2 bad + the one just set")
	assert.Equal(t, 83, quarter.OnHand())
	assert.Equal(t, 12, stand["solid 1/8 × 5/16 in"].Set)
	require.Len(t, s.ByCause, 2)
	require.Len(t, s.ByRow, 4)
	assert.Equal(t, []any{"row 4, right stringer", 41, 1}, []any{s.ByRow[0].Name, s.ByRow[0].Good, s.ByRow[0].Bad}, "the worst first")
	require.Len(t, s.Notices, 1)
	var affected []string
	for _, p := range s.Notices[0].Affected {
		affected = append(affected, fmt.Sprint(p.Name, ", ", p.Depth, ", ", p.Answer))
	}
	assert.Equal(t, []string{"boom stringer, left, riveted, affected", "boom stringer, spare, on the shelf, unknown: look"}, affected, "the deepest first")
	for _, p := range s.Parts {
		if p.ID == demo.ID("rib right") {
			assert.Equal(t, part.Fitted, p.Depth)
		}
	}
}

// A release of a hold that has no setup ends too when something moves.
func TestAReleaseIsWithdrawnWhereNoSetupIsThereToSaySo(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	require.NoError(t, l.Do(demo.ID("row 3"), row.Rivet, 43))
	assert.Contains(t, loft.Problems(t, l.Holding.Withdraw(l.Ctx(), holding.Withdrawal{Form: l.Form(), Hold: demo.ID("rivet boom"), What: "sneezed", By: "helper"})), "what")
	assert.Contains(t, loft.Problems(t, l.Holding.Withdraw(l.Ctx(), holding.Withdrawal{Form: l.Form(), Hold: demo.ID("rivet boom"), What: measure.Knocked})), "by")
	n := holding.Withdrawal{Form: l.Form(), Hold: demo.ID("rivet boom"), Release: l.HoldOf(demo.ID("rivet boom")).ReleaseID, What: measure.Knocked, By: "helper"}
	require.NoError(t, l.Holding.Withdraw(l.Ctx(), n))
	require.NoError(t, l.Holding.Withdraw(l.Ctx(), n), "sent twice")
	assert.Contains(t, loft.Problems(t, l.Do(demo.ID("row 3"), row.Rivet, 44))[""], "the hold “Rivet boom rows 3 to 6” is not released")
	assert.Contains(t, loft.Problems(t, l.Holding.Withdraw(l.Ctx(), holding.Withdrawal{Form: l.Form(), Hold: demo.ID("rivet boom"), What: measure.Moved, By: "helper"})), "")
	h := l.HoldOf(demo.ID("rivet boom"))
	assert.Equal(t, "knocked, seen by helper", h.Releases[0].Withdrawn)
	l.Verify()
}

func TestOneHoleThatSticksMakesTheRowMatchDrilled(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	values := loft.With(loft.RowOf(6), "sizing", "final size as supplied", "sample", "3")
	require.NoError(t, l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named("row-of-final-size"), Assembly: loft.BenchBoom, Name: "supplied", Values: values, OptOut: "riveted on its own"}))
	r := l.RowOf(loft.ID("row-of-final-size"))
	assert.Equal(t, []int{1, 4, 6}, r.Untried(r.Holes))
	require.NoError(t, l.Do(r.ID, row.Clean, 1, 2, 3))
	require.NoError(t, l.Do(r.ID, row.Falls, 1))
	h := l.HoldOf(ledger.Child(r.ID, "hold"))
	assert.Equal(t, "Rivet supplied", h.Name)
	assert.Contains(t, fmt.Sprint(h.Judgement.Lines), "the drop-through test wants 2 holes more")
	require.NoError(t, l.Do(r.ID, row.Stuck, 4))
	r = l.RowOf(r.ID)
	assert.False(t, r.Final)
	assert.Len(t, holesIn(r, row.Pilot), 6)
	assert.Contains(t, loft.Problems(t, l.Undo(r.ID))[""], "nothing to undo", "nothing from before it was found out")
	l.Verify()
}

func TestARowsFormIsRefusedAtItsFields(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	for field, change := range map[string][]string{
		"layers": {"layers", "cheese; 1"}, "size": {"size", "thick"}, "callouts": {"callouts", "1-4; long"}, "grips": {"sort", "blind"}, "count": {"count", "many"}, "pitch": {"pitch", "0"},
		"csv": {"csv", "along\nfar\n"}, "poses": {"poses", "9-4; upside down"}, "keep": {"keep", "40; fairing; fit it"}, "edge": {"edge", "-3"}, "from": {"from", "aft; left"}, "sort": {"sort", "glue"}, "reach": {"reach", strings.Repeat("x", 90)},
	} {
		err := l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: l.Form(), Assembly: loft.BenchBoom, Name: "row", Values: loft.With(loft.RowOf(8), change...)})
		assert.Contains(t, loft.Problems(t, err), field, "%v", change)
	}
	for field, n := range map[string]riveting.NewRow{"name": {}, "rivets": {Name: "r", Rivets: loft.BenchClose}, "drills": {Name: "r", Drills: []string{loft.BenchRivet}}, "bay": {Name: "r", Bay: "none"}} {
		n.Form, n.Assembly, n.Values = l.Form(), loft.BenchBoom, loft.RowOf(8)
		assert.Contains(t, loft.Problems(t, l.Riveting.Lay(l.Ctx(), n)), field)
	}
	require.NoError(t, l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named("row-in-fractions"), Assembly: loft.BenchBoom, Name: "fractions", Values: loft.With(loft.RowOf(2), "size", "1/8 in", "callouts", "1; 1/4\n2; 5 mm")}))
	fractions := l.RowOf(loft.ID("row-in-fractions"))
	assert.Equal(t, airframe.Line{View: "above", From: [2]float64{2350, 0}, To: [2]float64{2390, 0}}, fractions.Line, "drawn from the near end where nobody says")
	assert.Equal(t, airframe.Line{View: "left", From: [2]float64{5070, 420}, To: [2]float64{5070, 460}}, airframe.LineOn(airframe.Shape{Form: "fin", X: 4790, Z: 420, Chord: 560}, 40))
	assert.Equal(t, airframe.Line{View: "above", From: [2]float64{310, -450}, To: [2]float64{310, -490}}, airframe.LineOn(airframe.Shape{Form: "surface", Inner: -450, Outer: -6200, Chord: 620}, 40))
	assert.Equal(t, "1/8", fractions.Fastener.Size)
	assert.Equal(t, "solid 1/8 × 1/4 in", fractions.FastenerAt(fractions.Holes[0]), "a bare fraction is of an inch")
	assert.Equal(t, "solid 1/8 × 5 mm", fractions.FastenerAt(fractions.Holes[1]))
	csv := loft.With(loft.RowOf(8), "csv", "along,keep for,keep until\n10,,\n40,rudder stop,Close it\n", "grips", "")
	require.NoError(t, l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named("row-from-csv"), Assembly: loft.BenchBoom, Name: "from a file", Values: csv}))
	r := l.RowOf(loft.ID("row-from-csv"))
	assert.Len(t, r.Holes, 2)
	assert.Equal(t, loft.BenchClose, r.Holes[1].Keep.Hold, "the later step has a hold of that name")
	assert.Contains(t, loft.Problems(t, l.Do(r.ID, row.Lift, 2)), "reason", "that step has not come")
}

func TestTheDrawnPlanOfARowComesBackAsItWasTyped(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	for _, id := range []string{demo.ID("row 3"), demo.ID("row 4"), demo.ID("row 5"), demo.ID("row 6")} {
		before := l.RowOf(id)
		require.NoError(t, l.ChangeRow(riveting.RowChange{Row: id, Name: before.Name, Values: before.Texts()}))
		after := l.RowOf(id)
		before.Final, after.Final = false, false // not of the plan
		assert.Equal(t, before.Row, after.Row, id)
		assert.Equal(t, before.Line, after.Line, id)
		assert.Equal(t, before.Holes, after.Holes, id)
	}
}

func TestAChangedPlanEndsTheRelease(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	before := l.RowOf(demo.ID("row 3"))
	n := riveting.RowChange{Form: l.Form(), Row: demo.ID("row 3"), Seen: before.Planned, Name: "row 3", Values: loft.With(before.Texts(), "callouts", "1-84; 5/16")}
	require.NoError(t, l.Riveting.Change(l.Ctx(), n))
	require.NoError(t, l.Riveting.Change(l.Ctx(), n), "sent twice")
	h := l.HoldOf(demo.ID("rivet boom"))
	assert.Empty(t, h.Released)
	assert.Equal(t, "the plan of row 3 was changed", h.Releases[0].Withdrawn)
	assert.Equal(t, hold.Unsure, h.Judgement.Standing)
	assert.Contains(t, h.Judgement.Worst().Why, "holes 17, 43–84: too long: it tends to tip over")
	for field, change := range map[string][]string{"layers": {"layers", "", "callouts", ""}, "callouts": {"callouts", "1-4; thick"}, "pin": {"pin", "often"}} {
		assert.Contains(t, loft.Problems(t, l.ChangeRow(riveting.RowChange{Row: demo.ID("row 4"), Name: "row 4", Values: loft.With(before.Texts(), change...)})), field)
	}
	assert.Contains(t, loft.Problems(t, l.ChangeRow(riveting.RowChange{Row: demo.ID("row 4"), Values: before.Texts()})), "name")
	l.Verify()
}

func TestHolesAreNamedAsPeopleDo(t *testing.T) {
	t.Parallel()
	for text, want := range map[string][]int{"4": {4}, "9-12, 4": {4, 9, 10, 11, 12}, "4, 4, 3–5": {3, 4, 5}} {
		numbers, err := row.ParseNumbers(text)
		require.NoError(t, err)
		assert.Equal(t, want, numbers, text)
	}
	for _, text := range []string{"", "x", "0", "5-3", "1-5000", "-4", "4-", "1,,2", strings.Repeat("1-900,", 3) + "1"} {
		_, err := row.ParseNumbers(text)
		assert.Error(t, err, text)
	}
	l := loft.Bench(t, 14)
	assert.Contains(t, loft.Problems(t, l.Do(loft.BenchRow, row.Drill, 1, 1))[""], "named twice")
	assert.Contains(t, loft.Problems(t, l.Do(loft.BenchRow, row.Drill))[""], "which hole?")
}

// In two holds: the pin holes, measured again, then all.
func TestPinHolesThenAllHoles(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	n := measuring.NewSetup{Form: loft.Named("setup in two"), Assembly: demo.ID("tail boom"), Name: "in its stands", Pins: true, Checks: []measuring.NewCheck{{Name: "Bow", Instrument: demo.ID("rule"), Definition: map[string]any{"kind": "straightness",
		"points": []any{map[string]any{"name": "a", "x": 0}, map[string]any{"name": "b", "x": 500}, map[string]any{"name": "c", "x": 1000}}, "limits": map[string]any{"bow": map[string]any{"low": "-3", "high": "3"}}}}},
		Hold: &gate.NewHold{Name: "Drill the frame", Step: "drill to size", Permanent: "its holes", Why: "w", Required: []hold.Requirement{{Need: hold.Shown, Check: "0"}}}}
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
	pins, all := ledger.Child(n.ID, "hold"), ledger.Child(n.ID, "hold all")
	require.NoError(t, l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named("row-of-frame"), Assembly: demo.ID("tail boom"), Name: "frame", Values: loft.RowOf(5), Drills: []string{pins, all}}))
	require.Contains(t, loft.Problems(t, l.Do(loft.ID("row-of-frame"), row.Drill, 1))[""], "is not released")
	measure := func(check string) {
		for i := range 3 {
			require.NoError(t, l.Take(n.ID, i+1, measuring.NewReading{Check: check, Text: "10", Instrument: demo.ID("rule")}))
		}
	}
	measure(ledger.Child(n.ID, "check 0"))
	require.NoError(t, l.Release(pins, holding.NewRelease{By: "builder"}))
	assert.Contains(t, loft.Problems(t, l.Do(loft.ID("row-of-frame"), row.Drill, 3))[""], "the hold “All holes: drill the frame” is not released", "a pin hole is of the one step alone, the others of the other")
	assert.Contains(t, loft.Problems(t, l.Step(pins, "builder", ""))[""], "frame is not done: 2 holes 1, 5")
	require.NoError(t, l.Do(loft.ID("row-of-frame"), row.Drill, 1, 5))
	require.NoError(t, l.Step(pins, "builder", ""))
	h := l.HoldOf(all)
	assert.Equal(t, "Bow, once more", h.Judgement.Worst().What)
	require.NoError(t, l.Measuring.BeginAfter(l.Ctx(), measuring.BeginAfter{Form: l.Form(), Hold: pins}))
	measure(l.SetupOf(n.ID).Checks[1].ID)
	require.NoError(t, l.Release(all, holding.NewRelease{By: "builder"}))
	require.NoError(t, l.Do(loft.ID("row-of-frame"), row.Drill, 2, 3, 4))
	require.NoError(t, l.Step(all, "builder", ""))
	l.Verify()
}

func TestOnlyTheLastTenAreUndone(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	for n := range 8 {
		require.NoError(t, l.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{n + 1}, What: row.Drill}))
	}
	for n := range 4 {
		require.NoError(t, l.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{n + 1}, What: row.Clean}))
	}
	for range 10 {
		require.NoError(t, l.Undo(loft.BenchRow))
	}
	assert.Contains(t, loft.Problems(t, l.Undo(loft.BenchRow))[""], "only the last ten")
	r := l.RowOf(loft.BenchRow)
	assert.Equal(t, []int{1, 2}, holesIn(r, row.Sized))
	assert.Equal(t, []int{3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14}, holesIn(r, row.Pilot))
	once := riveting.HoleOperation{Form: l.Form(), Row: loft.BenchRow, Seen: r.Revised, Numbers: []int{3}, What: row.Drill}
	require.NoError(t, l.Riveting.Operate(l.Ctx(), once))
	require.NoError(t, l.Riveting.Operate(l.Ctx(), once), "the same submission once more is one entry")
	require.NoError(t, l.Undo(loft.BenchRow))
	l.Verify()
}

// What someone decided for good is not taken back by the way, and nothing from before it.
func TestUndoStopsAtWhatWasDecided(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 14)
	require.NoError(t, l.Do(loft.BenchRow, row.Drill, 1, 2))
	require.NoError(t, l.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{2}, What: row.Abandon, Reason: "off the line; plugged"}))
	assert.Contains(t, loft.Problems(t, l.Undo(loft.BenchRow))[""], "nothing to undo")
	require.NoError(t, l.Do(loft.BenchRow, row.Clean, 1))
	require.NoError(t, l.Undo(loft.BenchRow))
	r := l.RowOf(loft.BenchRow)
	assert.Equal(t, []int{1}, holesIn(r, row.Sized))
	assert.Equal(t, []int{2}, holesIn(r, row.Abandoned))
}

// A mark that waits for a step with a hold is lifted once that hold is released.
func TestAMarkIsTiedToTheHoldOfItsStep(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	keep := func(number int) error {
		return l.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{number}, What: row.Mark, Keep: row.Keep{Part: "fairing", Step: "fit the fairing"}})
	}
	require.NoError(t, keep(1))
	require.NoError(t, l.Holding.StandBefore(l.Ctx(), holding.NewStand{Form: loft.Named("fairing hold"), Assembly: loft.BenchBoom, Name: "Fit the fairing", Step: "bond", Permanent: "the fairing", Why: "w", Second: true}))
	require.NoError(t, keep(2))
	lift := func(number int) error { return l.Do(loft.BenchRow, row.Lift, number) }
	assert.Contains(t, loft.Problems(t, lift(2)), "reason", "its hold is not released yet")
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Seconded, Of: loft.ID("fairing hold"), By: "helper", Note: "dry fit"}))
	require.NoError(t, l.Release(loft.ID("fairing hold"), holding.NewRelease{By: "builder"}))
	require.NoError(t, lift(2))
	assert.Contains(t, loft.Problems(t, lift(1)), "reason", "it was marked before that hold was there")
	s, err := l.Row(l.Ctx(), loft.BenchRow)
	require.NoError(t, err)
	assert.Equal(t, []string{"Close it", "Fit the fairing"}, s.Steps)
}

func holesIn(r riveting.Row, s row.State) []int {
	var out []int
	for _, h := range r.Holes {
		if h.State == s {
			out = append(out, h.Number)
		}
	}
	slices.Sort(out)
	return out
}

// A new row inherits what stands unsettled at its assembly: drilling waits for that hold,
// also where it was put there after the row was laid. Opting out needs a reason.
func TestARowInheritsTheUnsettledHoldsOfItsAssembly(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 3)
	stand := func(name, step string) string {
		n := holding.NewStand{Form: loft.Named(name), Assembly: loft.BenchBoom, Name: name, Step: step, Permanent: "its holes", Why: "w", Second: true}
		require.NoError(t, l.Holding.StandBefore(l.Ctx(), n))
		return n.ID
	}
	ream := stand("Ream the frame", "ream")
	lay := func(name string, drills []string, optOut string) error {
		return l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named(name), Assembly: loft.BenchBoom, Name: name, Values: loft.RowOf(3), Rivets: loft.BenchRivet, Drills: drills, OptOut: optOut})
	}
	assert.Contains(t, loft.Problems(t, l.Do(loft.BenchRow, row.Drill, 1))[""], "the hold “Ream the frame” is not released", "it came after that row")
	require.NoError(t, lay("first", nil, ""))
	assert.Contains(t, loft.Problems(t, l.Do(loft.ID("first"), row.Drill, 1))[""], "the hold “Ream the frame” is not released")
	assert.Contains(t, loft.Problems(t, lay("second", []string{}, ""))["opt_out"], "the hold “Ream the frame” stands before drilling here")
	require.NoError(t, lay("second", []string{}, "a doubler that the frame does not see"))
	require.NoError(t, l.Do(loft.ID("second"), row.Drill, 1), "it has a reason")
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Seconded, Of: ream, By: "helper"}))
	require.NoError(t, l.Release(ream, holding.NewRelease{By: "builder"}))
	require.NoError(t, l.Do(loft.ID("first"), row.Drill, 1))
	require.NoError(t, l.Do(loft.BenchRow, row.Drill, 1))
	l.Verify()
}

// What is signed on the hold as taken apart, deburred and cleared need not be said of every
// hole; what is drilled after that must be.
func TestWhatIsSignedAsDeburredIsKnownToTheHoles(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 3)
	l.Now = l.Now.Add(time.Minute)
	require.NoError(t, l.Do(loft.BenchRow, row.Drill, 1, 2))
	l.Now = l.Now.Add(time.Minute)
	assert.Contains(t, loft.Problems(t, l.Do(loft.BenchRow, row.Rivet, 1))[""], "hole 1 is not cleaned")
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Marked, Of: loft.BenchRow, By: "builder"}))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Prepared, Of: loft.BenchRow, What: hold.Preparations, By: "builder"}))
	assert.Contains(t, loft.Problems(t, l.Do(loft.BenchRow, row.Rivet, 1))[""], "is not released", "it is clean now, and waits for the hold")
	l.Now = l.Now.Add(time.Minute)
	require.NoError(t, l.Do(loft.BenchRow, row.Drill, 3))
	assert.Contains(t, loft.Problems(t, l.Do(loft.BenchRow, row.Rivet, 3))[""], "hole 3 is not cleaned", "it was drilled after that")
}

// Keyed as set and not done after all: the rivet is on the shelf still, and the hole wants
// one again. One that is doubtful is in its hole, and the row waits for who judges it.
func TestARivetThatWasNeverSetIsNotUsedUp(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	stand := func() []int {
		s, err := l.Workshop.Store(l.Ctx(), demo.ID("samphire"))
		require.NoError(t, err)
		for _, line := range s.Stock {
			if line.Name == "solid 1/8 × 1/4 in" {
				return []int{line.Set, line.Spoilt, line.ToSet, line.OnHand()}
			}
		}
		return nil
	}
	before := stand()
	require.NoError(t, l.Do(demo.ID("row 3"), row.Rivet, 43))
	require.NoError(t, l.Do(demo.ID("row 3"), row.NotSet, 43))
	assert.Equal(t, before, stand())
	record, err := l.Record(l.Ctx(), demo.ID("tail boom"), 1)
	require.NoError(t, err)
	require.Len(t, record.RowRecords[0].SetBy, 1, "nobody set it")
	assert.Equal(t, 42, record.RowRecords[0].SetBy[0].Rivets)
	require.NoError(t, l.Do(demo.ID("row 3"), row.Rivet, 43))
	require.NoError(t, l.Do(demo.ID("row 3"), row.Doubt, 43))
	assert.Equal(t, []int{before[0] + 1, before[1], before[2] - 1, before[3] - 1}, stand())
	assert.Contains(t, row.Runs(l.RowOf(demo.ID("row 3")).Missed()), "43–76")
	l.Verify()
}

// A row's rivet is called by its fraction, its dash number or its drill; a bare 4 in an inch shop is
// none of them.
func TestARivetOfARowIsCalledByItsDashNumber(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	lay := func(name, size string) error {
		return l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named(name), Assembly: loft.BenchBoom, Name: name, OptOut: "its own", Values: loft.With(loft.RowOf(2), "size", size)})
	}
	require.NoError(t, lay("dash", "-4"))
	r := l.RowOf(loft.ID("dash"))
	assert.Equal(t, "1/8", r.Fastener.Size)
	assert.InDelta(t, 3.175, r.Fastener.Diameter.MM, 1e-9)
	assert.Contains(t, loft.Problems(t, lay("thick", "4 in"))["size"], "a dash number is written -4")
	assert.Contains(t, loft.Problems(t, lay("none", "-40"))["size"], "no dash number")
	assert.Contains(t, loft.Problems(t, lay("thin", "0 mm"))["size"], "thickness")
}
