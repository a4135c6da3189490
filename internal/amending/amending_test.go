package amending_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/amending"
	"orpine/internal/core/hold"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/store/query"
	"orpine/internal/stores"
	"orpine/test/loft"
)

// things are one of every kind that the small shop has, each with a field that changes.
func things(l *loft.Loft) []struct{ kind, id, field, value string } {
	l.T.Helper()
	require.NoError(l.T, l.Stores.AddPart(l.Ctx(), stores.NewPart{Form: loft.Named("a clip"), Airframe: loft.BenchFrame, Number: "S2-54-11", Name: "clip", Hand: "left"}))
	var notice, stock string
	require.NoError(l.T, l.Ledger.View(l.Ctx(), func(q *query.Queries) error {
		notices, err := q.Notices(l.Ctx(), loft.BenchFrame)
		if err != nil {
			return err
		}
		counts, err := q.StockCounts(l.Ctx(), query.StockCountsParams{AirframeID: loft.BenchFrame, Limit: 1})
		notice, stock = notices[0].ID, counts[0].ID
		return err
	}))
	return []struct{ kind, id, field, value string }{
		{"airframe", loft.BenchFrame, "name", "Samphire two"},
		{"assembly", loft.BenchBoom, "name", "Boom"},
		{"setup", loft.BenchSetup, "name", "on the second bench"},
		{"check", loft.BenchCheck, "high.bow", "4"},
		{"point", loft.BenchCheck + "~" + l.SetupOf(loft.BenchSetup).Checks[0].Points()[1], "x", "501"},
		{"instrument", loft.BenchRule, "spread", "0.3 mm"},
		{"hold", loft.BenchRivet, "why", "it cannot be undone"},
		{"row", loft.BenchRow, "edge", "9 mm"},
		{"part", loft.ID("a clip"), "lot", "79"},
		{"bay", loft.BenchBay, "name", "aft bay"},
		{"notice", notice, "title", "Clips that crack"},
		{"stock", stock, "number", "41"},
	}
}

func TestEveryThingThatWasEnteredCanBeChangedWithAReasonAndItsOldValueStaysReadable(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	for _, thing := range things(l) {
		before, _, err := l.Amending.Thing(l.Ctx(), thing.kind, thing.id, nil)
		require.NoError(t, err, thing.kind)
		require.NoError(t, l.Right(thing.kind, thing.id, amending.Change, map[string]string{thing.field: thing.value}), thing.kind)
		after, history, err := l.Amending.Thing(l.Ctx(), thing.kind, thing.id, nil)
		require.NoError(t, err, thing.kind)
		assert.Equal(t, thing.value, after.Field(thing.field), thing.kind)
		require.NotEmpty(t, history, thing.kind)
		last := history[len(history)-1]
		assert.Equal(t, "seen on the plans", last.Reason)
		require.Len(t, last.Changes, 1, thing.kind)
		assert.Equal(t, before.Field(thing.field), last.Changes[0].Was, thing.kind)
		assert.Contains(t, l.Log(1)[0].What, "changed", thing.kind)
	}
	l.Verify()
}

// Whether it is a change or a correction: what makes a line of a hold worse ends its release, and is
// named; what makes none worse ends and marks nothing.
func TestWhatMakesALineWorseEndsAReleaseAndNothingElseDoes(t *testing.T) {
	t.Parallel()
	for _, test := range []struct {
		kind   string
		values map[string]string
		ends   string
	}{
		{"check", map[string]string{"high.bow": "4"}, ""}, {"check", map[string]string{"high.bow": "0.2"}, "Bow"},
		{"point", map[string]string{"x": "501"}, ""}, {"instrument", map[string]string{"spread": "0.3 mm"}, ""}, {"instrument", map[string]string{"resolution": "8 mm"}, "Bow"},
		{"assembly", map[string]string{"name": "Boom"}, ""}, {"setup", map[string]string{"name": "on the other bench"}, ""}, {"hold", map[string]string{"why": "for good"}, ""}, {"row", map[string]string{"edge": "9 mm"}, ""},
	} {
		for _, how := range []string{amending.Change, amending.Correct} {
			l := loft.Small(t)
			require.True(t, l.HoldOf(loft.BenchRivet).Waiting())
			id := map[string]string{"check": loft.BenchCheck, "point": loft.BenchCheck + "~" + l.SetupOf(loft.BenchSetup).Checks[0].Points()[1], "instrument": loft.BenchRule, "assembly": loft.BenchBoom, "setup": loft.BenchSetup, "hold": loft.BenchRivet, "row": loft.BenchRow}[test.kind]
			require.NoError(t, l.Right(test.kind, id, how, test.values), test.kind)
			h := l.HoldOf(loft.BenchRivet)
			assert.Equal(t, test.ends == "", h.Waiting(), "%s of a %s: %v", how, test.kind, test.values)
			if last := h.Releases[len(h.Releases)-1]; test.ends != "" {
				assert.Contains(t, last.Ended, test.ends)
				assert.Equal(t, l.Log(1)[0].Seq, last.EndedBy, "the entry that made it worse")
			}
		}
	}
}

func TestAStepThatIsDoneIsMarkedForEverWhenItRestedOnWhatWasWrong(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	setup := loft.ID("second setup")
	pins := ledger.Child(setup, "hold")
	require.True(t, l.HoldOf(pins).Done)
	require.NoError(t, l.Right("check", ledger.Child(setup, "check 0"), amending.Correct, map[string]string{"name": "Bow of it"}))
	assert.Empty(t, l.HoldOf(pins).Current().Wrong, "it would have been signed as it was")
	require.NoError(t, l.Right("check", ledger.Child(setup, "check 0"), amending.Correct, map[string]string{"high.bow": "1"}))
	h := l.HoldOf(pins)
	assert.True(t, h.Done, "steps done are never withdrawn")
	assert.Contains(t, h.Current().Wrong, "only just")
	require.NoError(t, l.Right("check", ledger.Child(setup, "check 0"), amending.Change, map[string]string{"high.bow": "2"}))
	assert.NotEmpty(t, l.HoldOf(pins).Current().Wrong, "for ever")
	l.Verify()
}

func TestEveryThingCanBeWithdrawnOrSaysWhatMustGoFirst(t *testing.T) {
	t.Parallel()
	stays := map[string]string{
		"airframe": "is done on it", "assembly": "is done on it", "check": "it is the only check here", "hold": "withdraw the row first", "row": "undo that first",
	}
	l := loft.Small(t)
	for _, thing := range things(l) {
		err := l.Right(thing.kind, thing.id, amending.Withdraw, nil)
		if says, ok := stays[thing.kind]; ok {
			assert.ErrorContains(t, err, says, thing.kind)
			continue
		}
		require.NoError(t, err, thing.kind)
		gone, _, err := l.Amending.Thing(l.Ctx(), thing.kind, thing.id, nil)
		if thing.kind == "point" {
			assert.ErrorIs(t, err, ledger.ErrNotFound)
			continue
		}
		require.NoError(t, err, thing.kind)
		assert.Equal(t, "seen on the plans", gone.Withdrawn, thing.kind)
		assert.ErrorContains(t, l.Right(thing.kind, thing.id, amending.Change, map[string]string{thing.field: thing.value}), "withdrawn already", thing.kind)
	}
	l.Verify()
	home, err := l.Home(l.Ctx(), loft.BenchFrame)
	require.NoError(t, err, "the sheets go on without what is withdrawn")
	assert.NotEmpty(t, home.Assemblies)
	_, err = l.Store(l.Ctx(), loft.BenchFrame)
	require.NoError(t, err)
}

func TestAWholeRowIsUndoneWhileNothingIsDoneOnIt(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	require.NoError(t, l.Right("row", loft.BenchRow, amending.Withdraw, nil))
	rows, err := l.Rows(l.Ctx(), loft.BenchBoom)
	require.NoError(t, err)
	assert.Empty(t, rows.Rows)
	for _, r := range l.HoldOf(loft.BenchRivet).Required {
		if r.Need != hold.Less { // which stays, and says so
			assert.NotEqual(t, loft.BenchRow, r.Of, "the hold asks for it no more")
		}
	}
	l.Verify()
}

func TestAnAssemblyOfAnAircraftThatIsMerelyBegunGoesWithItsName(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	fin := ledger.Child(loft.ID("tansy"), "fin")
	require.NoError(t, l.Right("assembly", fin, amending.Withdraw, nil))
	home, err := l.Home(l.Ctx(), loft.ID("tansy"))
	require.NoError(t, err)
	for _, a := range home.Assemblies {
		assert.NotEqual(t, "fin", a.Name)
	}
	require.NoError(t, l.Right("assembly", ledger.Child(loft.ID("tansy"), "tailplane"), amending.Change, map[string]string{"name": "fin"}), "another may have its name")
}

// The span was stated; the chord follows from it and is assumed until someone says.
func TestWhatIsStatedOfAShapeIsAssumedNoMore(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	id := ledger.Child(loft.ID("tansy"), "tailplane")
	require.NoError(t, l.Right("assembly", id, amending.Change, map[string]string{"chord": "20"}))
	_, a, err := l.Airframes.Assembly(l.Ctx(), id)
	require.NoError(t, err)
	assert.InDelta(t, 508, a.Shape.Chord, 1e-9)
	assert.False(t, a.Shape.Rests("chord", "inner", "outer"))
	assert.True(t, a.Shape.Rests("z"))
	require.NoError(t, l.Right("assembly", id, amending.Change, map[string]string{"stated": "yes"}))
	_, a, err = l.Airframes.Assembly(l.Ctx(), id)
	require.NoError(t, err)
	assert.Empty(t, a.Shape.Assumed)
}

func TestWhatCannotBePutRightSaysWhereAndChangesNothing(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	journal := l.Log(1)[0].Seq
	for _, bad := range []struct {
		kind, id, how, field string
		values               map[string]string
	}{
		{"check", loft.BenchCheck, amending.Correct, "high.bow", map[string]string{"high.bow": "wide"}},
		{"airframe", loft.BenchFrame, amending.Change, "unit", map[string]string{"unit": "in"}},
		{"assembly", loft.BenchBoom, amending.Change, "sections", map[string]string{"sections": "1; 2"}},
		{"instrument", loft.BenchRule, amending.Change, "resolution", map[string]string{"resolution": ""}},
		{"part", loft.ID("part"), amending.Change, "hand", map[string]string{"hand": "both"}},
		{"stock", "nothing", amending.Change, "", nil},
		{"row", loft.BenchRow, amending.Change, "size", map[string]string{"size": "thick"}},
		{"hold", loft.BenchRivet, amending.Change, "", map[string]string{}},
		{"hold", loft.BenchRivet, "", "how", map[string]string{"why": "x"}},
	} {
		err := l.Right(bad.kind, bad.id, bad.how, bad.values)
		require.Error(t, err, bad.kind)
		if bad.field != "" {
			assert.NotEmpty(t, loft.Problems(t, err)[bad.field], "%s: %v", bad.kind, err)
		}
	}
	assert.Equal(t, journal, l.Log(1)[0].Seq)
}

// A form that was opened before someone else put the thing right changes nothing.
func TestAStaleFormIsRefused(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	hold, _, err := l.Amending.Thing(l.Ctx(), "hold", loft.BenchRivet, nil)
	require.NoError(t, err)
	require.NoError(t, l.Right("hold", loft.BenchRivet, amending.Change, map[string]string{"why": "one"}))
	err = l.Amending.PutRight(l.Ctx(), amending.PutRight{Form: l.Form(), Kind: "hold", Thing: hold.ID, Seen: hold.Seen, How: amending.Change, Reason: "r", By: "b", Values: map[string]string{"name": "x", "permanent": "y", "why": "two"}})
	assert.ErrorContains(t, err, "as it was before")
}

// Signing again rests on an answer of before while nothing is further out than it was then.
func TestAnAnswerHoldsWhileItIsNoFurtherOut(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	read := func(text string) {
		n := l.At(loft.BenchSetup, 2, measuring.NewReading{Check: loft.BenchCheck, Text: text, Instrument: loft.BenchRule, AsMeasured: true})
		if n.Last != "" {
			n.InPlace = "misread"
		}
		require.NoError(t, l.Measuring.Take(l.Ctx(), n))
	}
	for i := range 3 {
		require.NoError(t, l.Take(loft.BenchSetup, i+1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	}
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Marked, Of: loft.BenchRow, By: "builder"}))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Prepared, Of: loft.BenchRow, By: "builder", What: hold.Preparations}))
	read("16")
	assert.Nil(t, l.HoldOf(loft.BenchRivet).Answered(), "nobody answered yet")
	require.NoError(t, l.Release(loft.BenchRivet, holding.NewRelease{By: "builder", AnsweredBy: "kit maker", Answer: "6 mm is no harm", Answered: "3 May", Document: "letter 12"}))
	read("18")
	require.NotEmpty(t, l.HoldOf(loft.BenchRivet).Ended, "two more")
	assert.Nil(t, l.HoldOf(loft.BenchRivet).Answered(), "they answered 6 mm")
	read("15.5")
	was := l.HoldOf(loft.BenchRivet).Answered()
	require.NotNil(t, was)
	assert.Equal(t, "letter 12", was.Document)
	read("4")
	assert.Nil(t, l.HoldOf(loft.BenchRivet).Answered(), "it bows the other way")
	l.Verify()
}

// What kind an instrument is, which nobody asked before, can be said afterwards; what is usual of it counts from then on.
func TestWhatKindAnInstrumentIsCanBeSaidAfterwards(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	for _, change := range []map[string]string{{"type": "rule"}, {"spot": "0.1 mm"}} {
		require.NoError(t, l.Right("instrument", loft.BenchRule, amending.Change, change))
	}
	list, err := l.Instruments.List(l.Ctx())
	require.NoError(t, err)
	in, ok := instrument.ByID(list, loft.BenchRule)
	require.True(t, ok)
	assert.Equal(t, "rule", in.Type)
	assert.Equal(t, 0.1, in.Core().Spot)
	assert.Error(t, l.Right("instrument", loft.BenchRule, amending.Change, map[string]string{"type": "digital level of glass"}))
	l.Verify()
}
