package coating_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/cmd/wiring"
	"orpine/internal/amending"
	"orpine/internal/coating"
	"orpine/internal/core/cure"
	"orpine/internal/core/plan"
	"orpine/internal/overview"
	"orpine/internal/planning"
	"orpine/test/loft"
)

const table = "20; 80 min; 2 h; 2 d; 6 h; 24 h\n10 °C; 3 h; 6 h; 4 d; 16 h; 48 h\n86 °F; 40 min; 1 h; 1 d; 3 h; 12"

func primer(t *testing.T, l *loft.Loft) string {
	t.Helper()
	require.NoError(t, l.Coating.AddMaterial(l.Ctx(), coating.NewMaterial{Form: loft.Named("primer"), Name: "primer", Table: table, Least: "2", Most: "3", Stop: "no metal shows"}))
	return loft.ID("primer")
}

func start(t *testing.T, l *loft.Loft, name string, n coating.NewClock) string {
	t.Helper()
	n.Form, n.Airframe = loft.Named(name), loft.BenchFrame
	require.NoError(t, l.Coating.Start(l.Ctx(), n))
	return n.ID
}

func clock(t *testing.T, l *loft.Loft, id string) coating.Clock {
	t.Helper()
	s, err := l.Cures(l.Ctx(), loft.BenchFrame)
	require.NoError(t, err)
	for _, c := range s.Clocks {
		if c.ID == id {
			return c
		}
	}
	require.Fail(t, "no such clock")
	return coating.Clock{}
}

// A maker's table is read as it is typed, at the shop's temperature; half way between 10 and 20 °C
// 24 and 48 h lie at 24·√2.
func TestAMakersTableIsReadAtTheShopsTemperature(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	id := start(t, l, "ribs", coating.NewClock{Sort: cure.Coat, What: "left ribs", Material: primer(t, l), Temperature: "59 °F", Began: "2026-05-03 22:00"})
	c := clock(t, l, id)
	assert.InDelta(t, 15, c.Temperature, 1e-9)
	assert.InDelta(t, 24*math.Sqrt2, c.Full, 1e-9)
	assert.Equal(t, "2026-05-03 22:00", c.Began().Format("2006-01-02 15:04"))
	assert.Equal(t, [2]int{2, 3}, [2]int{c.Least, c.Most})
	for text, says := range map[string]string{"": "one line at least", "warm; 2 h": "no temperature", "20; soon": "pot life", "20": "says no duration", "20; ; 3 h; 2 h": "ends before it begins", "20; 1 h\n20; 2 h": "two lines"} {
		p := loft.Problems(t, l.Coating.AddMaterial(l.Ctx(), coating.NewMaterial{Form: l.Form(), Name: "x", Table: text}))
		assert.Contains(t, p["table"], says, text)
	}
	p := loft.Problems(t, l.Coating.AddMaterial(l.Ctx(), coating.NewMaterial{Form: l.Form(), Table: "20; 1 h", Least: "3", Most: "2"}))
	assert.Contains(t, p["name"], "which resin")
	assert.Contains(t, p["most"], "fewer than the least")
	assert.Contains(t, loft.Problems(t, l.Coating.AddMaterial(l.Ctx(), coating.NewMaterial{Form: l.Form(), Name: "Primer", Table: "20; 1 h"}))["name"], "already")
	for text, want := range map[string]float64{"30 min": 0.5, "8 h": 8, "2 d": 48, "1,5 days": 36, "7": 7} {
		h, err := coating.Hours(text)
		require.NoError(t, err, text)
		assert.InDelta(t, want, h, 1e-9, text)
		again, err := coating.Hours(coating.Spoken(h))
		require.NoError(t, err)
		assert.InDelta(t, h, again, 1e-9)
	}
}

// A coat, too soon and with a reason, turned over, enough by the rule; the clock goes on whatever
// program runs, for it follows from what was entered.
func TestAClockRunsThroughItsCoats(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	id := start(t, l, "ribs", coating.NewClock{Sort: cure.Coat, What: "left ribs", Material: primer(t, l), Temperature: "20", Sides: "2"})
	pass := func(n coating.ClockPassed) error {
		n.Form, n.Clock = l.Form(), id
		return l.Coating.Pass(l.Ctx(), n)
	}
	assert.Contains(t, loft.Problems(t, pass(coating.ClockPassed{Did: cure.Coated}))["why"], "say why")
	require.NoError(t, pass(coating.ClockPassed{Did: cure.Coated, Why: "tacky by the thumb", Temperature: "30"}))
	assert.InDelta(t, 12, clock(t, l, id).Full, 1e-9, "warmer since")
	seen := clock(t, l, id).Revised
	l.Now = l.Now.Add(4 * time.Hour)
	require.NoError(t, pass(coating.ClockPassed{Did: cure.Turned, Seen: seen}))
	assert.Contains(t, loft.Problems(t, pass(coating.ClockPassed{Did: cure.Turned, Seen: seen}))[""], "0 coats on side 2")
	end := func(outcome string) error {
		return l.Coating.End(l.Ctx(), coating.ClockEnded{Form: l.Form(), Clock: id, Outcome: outcome})
	}
	assert.Contains(t, loft.Problems(t, end(""))["outcome"], "2 at least, and 0 are on side 2")
	require.NoError(t, pass(coating.ClockPassed{Did: cure.Coated}))
	l.Now = l.Now.Add(90 * time.Minute)
	require.NoError(t, pass(coating.ClockPassed{Did: cure.Coated}))
	assert.Contains(t, loft.Problems(t, end(""))["outcome"], "why does its clock end before?")
	runs, err := l.Running(l.Ctx())
	require.NoError(t, err)
	require.Len(t, runs.Clocks, 1)
	assert.Equal(t, "coat 3 may go on", runs.Clocks[0].Says)

	l.Now = l.Now.Add(13 * time.Hour)
	again, err := wiring.Open(l.Ctx(), l.Data, func() time.Time { return l.Now }, time.UTC)
	require.NoError(t, err)
	runs, err = again.Running(l.Ctx())
	require.NoError(t, err)
	assert.Equal(t, "last moment for coat 3", runs.Clocks[0].Says, "after a restart, and a night")
	require.NoError(t, end(""))
	assert.Equal(t, "enough, and cured", clock(t, l, id).Outcome)
	assert.Contains(t, loft.Problems(t, end(""))[""], "ended already")
	assert.Contains(t, loft.Problems(t, pass(coating.ClockPassed{Did: cure.Coated}))[""], "is ended")
	runs, err = l.Running(l.Ctx())
	require.NoError(t, err)
	assert.Empty(t, runs.Clocks)
	l.Verify()
}

func held(t *testing.T, l *loft.Loft, id string) (overview.OrderSheet, string) {
	t.Helper()
	s, err := l.Order(l.Ctx(), loft.BenchFrame)
	require.NoError(t, err)
	for _, h := range s.Answer.Held {
		if h.ID == id {
			return s, s.Why(h.By[0])
		}
	}
	return s, ""
}

// What comes after a step waits for what was painted for it: for the turn-over first, then until
// it is cured at the temperature that there was.
func TestTheOrderWaitsForWhatTrulyHardens(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	require.NoError(t, l.AddStep(l.Ctx(), planning.NewStep{Form: loft.Named("prime"), Airframe: loft.BenchFrame, Line: "prime the ribs, 1 h, cures 2 h"}))
	require.NoError(t, l.AddStep(l.Ctx(), planning.NewStep{Form: loft.Named("rivet ribs"), Airframe: loft.BenchFrame, Line: "rivet the ribs, 2 h, after prime the ribs"}))
	id := start(t, l, "ribs", coating.NewClock{Sort: cure.Coat, What: "left ribs", Full: "10 h", Temperature: "20", Sides: "2", Step: loft.ID("prime")})
	require.NoError(t, l.Planning.MoveStep(l.Ctx(), planning.StepMoved{Form: l.Form(), Step: loft.ID("prime"), State: plan.Done}))
	_, why := held(t, l, loft.ID("rivet ribs"))
	assert.Equal(t, "prime the ribs: left ribs waits to be turned over, side 1 is coated", why)
	for _, did := range []string{cure.Turned, cure.Coated} {
		require.NoError(t, l.Coating.Pass(l.Ctx(), coating.ClockPassed{Form: l.Form(), Clock: id, Did: did}))
	}
	_, why = held(t, l, loft.ID("rivet ribs"))
	assert.Equal(t, "prime the ribs cures until "+l.Now.Add(10*time.Hour).Format("2006-01-02 15:04"), why)
	require.NoError(t, l.Right("clock", id, amending.Correct, map[string]string{"full": "3 h"}))
	_, why = held(t, l, loft.ID("rivet ribs"))
	assert.Equal(t, "prime the ribs cures until "+l.Now.Add(3*time.Hour).Format("2006-01-02 15:04"), why)
	l.Now = l.Now.Add(4 * time.Hour)
	_, why = held(t, l, loft.ID("rivet ribs"))
	assert.Empty(t, why)
	l.Verify()
}

func TestWhatIsNoClockIsRefusedAtItsField(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	for field, n := range map[string]coating.NewClock{
		"what": {Sort: cure.Bond, Full: "2 h", Temperature: "20"}, "sort": {What: "x", Full: "2 h", Temperature: "20"}, "temperature": {Sort: cure.Bond, What: "x", Full: "2 h", Temperature: "warm"}, "full": {Sort: cure.Bond, What: "x", Temperature: "20"}, "began": {Sort: cure.Bond, What: "x", Full: "2 h", Temperature: "20", Began: "2027-01-01 10:00"},
		"material": {Sort: cure.Bond, What: "x", Temperature: "20", Material: loft.ID("nothing")}, "assembly": {Sort: cure.Bond, What: "x", Full: "2 h", Temperature: "20", Assembly: loft.ID("nothing")}, "step": {Sort: cure.Bond, What: "x", Full: "2 h", Temperature: "20", Step: loft.ID("nothing")},
	} {
		n.Form, n.Airframe = l.Form(), loft.BenchFrame
		assert.Contains(t, loft.Problems(t, l.Coating.Start(l.Ctx(), n)), field)
	}
	tank := start(t, l, "tank", coating.NewClock{Sort: cure.Tank, What: "left tank", Full: "12 h", Temperature: "18", Began: l.Now.Add(-time.Hour).Format("15:04")})
	assert.Contains(t, loft.Problems(t, l.Coating.End(l.Ctx(), coating.ClockEnded{Form: l.Form(), Clock: tank}))["outcome"], "did it hold?")
	pot := start(t, l, "pot", coating.NewClock{Sort: cure.Mixed, What: "resin", Full: "30 min", Temperature: "18"})
	require.NoError(t, l.Coating.End(l.Ctx(), coating.ClockEnded{Form: l.Form(), Clock: pot}))
	assert.Equal(t, "used up", clock(t, l, pot).Outcome)
	require.NoError(t, l.Right("material", primer(t, l), amending.Change, map[string]string{"table": table + "\n0; 5 h", "most": "4"}))
	s, err := l.Cures(l.Ctx(), loft.BenchFrame)
	require.NoError(t, err)
	assert.Len(t, s.Materials[0].Lines, 4)
	require.NoError(t, l.Right("material", loft.ID("primer"), amending.Withdraw, nil))
	require.NoError(t, l.Right("clock", tank, amending.Withdraw, nil))
	l.Verify()
}
