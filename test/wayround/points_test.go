package wayround

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/amending"
	"orpine/internal/closing"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/measuring"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
	"orpine/test/loft"
)

// A second setup before the same step measures for the hold that there is; no hold is added beside
// one at stop.
func TestMeasuredOnceMoreIsForTheSameHoles(t *testing.T) {
	l := loft.Demo(t)
	boom, ok := measuring.UsualOf("tailplane")
	require.True(t, ok)
	was := l.Rails()
	filled := make([]measuring.Filled, len(boom.Checks))
	filled[1] = measuring.Filled{Take: true, Values: boom.Checks[1].Usual}
	n, wrong := boom.Setup(l.Form(), airframe.Assembly{ID: demo.ID("tailplane")}, "on other rails", quantity.Millimetre, filled)
	require.Empty(t, wrong)
	require.NotNil(t, n.Hold)
	n.Hold.Step, n.Hold.Required = was.Step, nil
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
	require.NoError(t, l.Ledger.View(l.Ctx(), func(q *query.Queries) error {
		holds, err := q.HoldsOfSetup(l.Ctx(), gate.Reference(n.ID))
		require.Len(t, holds, 1)
		assert.Equal(t, was.ID, holds[0].ID)
		return err
	}))
}

// What comes before is not done: neither begun nor done is taken.
func TestAStepBehindOthersIsNotDone(t *testing.T) {
	l := loft.Bench(t, 2)
	for _, line := range []string{"dimple the skin, 2 h", "rivet the skin, 3 h, after dimple"} {
		require.NoError(t, l.AddStep(l.Ctx(), planning.NewStep{Form: loft.Named(line), Airframe: loft.BenchFrame, Line: line}))
	}
	for _, state := range []string{"begun", "done"} {
		err := l.MoveStep(l.Ctx(), planning.StepMoved{Form: l.Form(), Step: loft.ID("rivet the skin, 3 h, after dimple"), Seen: "open", State: state, By: "builder"})
		assert.Contains(t, loft.Problems(t, err)[""], "comes after dimple the skin", state)
	}
}

// Whether a step makes something permanent is asked once: putting its name right asks no more.
func TestWhatWasSaidOfAStepStaysWhenItIsPutRight(t *testing.T) {
	l := loft.Bench(t, 2)
	require.NoError(t, l.AddStep(l.Ctx(), planning.NewStep{Form: loft.Named("sweep"), Airframe: loft.BenchFrame, Assembly: loft.BenchBoom, Line: "sweep it, 1 h"}))
	move := func(seen, state string, ties ...string) error {
		return l.MoveStep(l.Ctx(), planning.StepMoved{Form: l.Form(), Step: loft.ID("sweep"), Seen: seen, State: state, Ties: ties, By: "builder"})
	}
	assert.Contains(t, loft.Problems(t, move("open", "done")), "ties")
	require.NoError(t, move("open", "done", planning.Untied))
	require.NoError(t, move("done", "open"))
	require.NoError(t, l.Right("step", loft.ID("sweep"), amending.Change, map[string]string{"name": "sweep it well"}))
	require.NoError(t, move("open", "done"), "it is asked once")
}

// A step that is tied is not untied by the press that says it is done.
func TestATiedStepIsNotUntiedByDone(t *testing.T) {
	w := world1(t)
	require.NoError(t, orderly("to close", "begun", loft.BenchClose)(w))
	err := w.MoveStep(w.Ctx(), planning.StepMoved{Form: w.Form(), Step: loft.ID("to close"), Seen: "begun", State: "done", Ties: []string{planning.Untied}, By: "builder"})
	assert.Contains(t, loft.Problems(t, err)[""], "the hold “Close it” is not released")
}

// A bay is not closed before somebody said what lies inside it.
func TestABayAsksWhatLiesInside(t *testing.T) {
	l := loft.Bench(t, 2)
	require.NoError(t, l.Airframes.AddAssembly(l.Ctx(), airframe.NewAssembly{Form: loft.Named("bulkhead"), Airframe: loft.BenchFrame, Name: "Bulkhead", Shape: airframe.Shape{Form: "fin", X: 3000, Z: 200, Chord: 20, Tip: 20, Rise: 300}}))
	asks := func() bool {
		t.Helper()
		for _, line := range l.HoldOf(loft.BenchClose).Judgement.Lines {
			if line.Standing == hold.Missing && line.What == "what lies inside the bay" {
				return true
			}
		}
		return false
	}
	assert.True(t, asks())
	require.NoError(t, l.Closing.Place(l.Ctx(), closing.Placed{Form: l.Form(), Bay: loft.BenchBay, By: "builder"}))
	assert.False(t, asks(), "it is said once")
}

// A hole that stays open for a later part is not formed with the others without a word.
func TestAKeptHoleIsFormedOnlyWhenAsked(t *testing.T) {
	l := loft.Bench(t, 2)
	require.NoError(t, l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named("skin"), Assembly: loft.BenchBoom, Name: "skin", OptOut: "its own", Values: loft.With(loft.RowOf(4), "head", "flush", "layers", "aluminium; 0.8 mm; dimpled\naluminium; 1.0 mm; dimpled", "sizing", "final size as supplied")}))
	id := loft.ID("skin")
	kept := row.Keep{Part: "fairing", Step: "fit it"}
	assert.Contains(t, loft.Problems(t, l.Operate(riveting.HoleOperation{Row: id, Numbers: []int{4}, What: row.Mark, Keep: kept})), "early")
	kept.Early = row.Early[1]
	require.NoError(t, l.Operate(riveting.HoleOperation{Row: id, Numbers: []int{4}, What: row.Mark, Keep: kept}))
	err := l.Do(id, row.Form, 1, 2, 3, 4)
	assert.NotEmpty(t, loft.Problems(t, err), "dimpled before the part is there?")
	h, _ := l.RowOf(id).Hole(4)
	assert.False(t, h.Formed)
}

// "from 0.15" alone is asked: it is no limit on the other side.
func TestOneEndOfALimitIsAsked(t *testing.T) {
	l := loft.Demo(t)
	err := l.Judge(demo.ID("mount pads"), demo.Check("mount pads", 0), measuring.CheckChange{Name: "Pads", Limits: map[string][2]string{"down": {"", "2"}}})
	assert.Contains(t, loft.Problems(t, err)["limits.down"], "only one end")
	require.NoError(t, l.Judge(loft.OnRails, demo.Check("tailplane on rails", 1), measuring.CheckChange{Name: "Twist", Limits: map[string][2]string{"twist": {"0.15", ""}}}))
	twist := l.Twist().Limits["twist"]
	require.True(t, twist.Low != nil && twist.High != nil, "what is two-sided by nature is ±")
	assert.InDelta(t, 0.15, *twist.High, 1e-12)
}

// The usual limits of a bench know its hollow, too.
func TestAHollowBenchIsNoGo(t *testing.T) {
	bench, ok := measuring.NowOf("bench")
	require.True(t, ok)
	n, wrong := bench.Setup(loft.Named("bench"), "mm", measuring.Filled{Values: map[string]string{"points": "A; 0; -350\nB; 0; 350\nC; 2000; -350\nD; 2000; 350\nM; 1000; 0"}, Instrument: "quick:rule-mm", Usual: true})
	require.Empty(t, wrong)
	l := loft.Empty(t)
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
	c := l.SetupOf(n.ID).Checks[0]
	require.Contains(t, c.Limits, "flatness")
	for i, s := range c.Spots {
		height := map[bool]string{true: "46", false: "50"}[s.Point == "M"]
		require.NoError(t, l.Take(n.ID, i+1, measuring.NewReading{Check: c.ID, Text: height, Instrument: c.Instrument}))
	}
	assert.NotEqual(t, measure.Go, l.SetupOf(n.ID).Checks[0].Result.Verdict)
}

// Ten placings of 4.125 in are inches in an inch shop.
func TestBareFiguresOfAnInchShopAreInches(t *testing.T) {
	l := loft.Empty(t)
	require.NoError(t, l.Instruments.Add(l.Ctx(), instrument.NewInstrument{Form: loft.Named("rule"), Name: "rule", Sort: "rule", Resolution: "1/64", Unit: "in"}))
	n := instrument.NewProof{Form: l.Form(), Instrument: loft.ID("rule"), What: "spread", Unit: "in"}
	for i := range 10 {
		n.Texts = append(n.Texts, []string{"4.125", "4.140"}[i%2])
	}
	require.NoError(t, l.Instruments.Prove(l.Ctx(), n))
	assert.InDelta(t, 0.0079*25.4, l.Tool("rule").SpreadFound, 0.003, "0.0079 in, by hand: 0.015/2 √(10/9)")
}
