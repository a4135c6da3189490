package planning_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/amending"
	"orpine/internal/core/slip"
	"orpine/internal/demo"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/overview"
	"orpine/internal/planning"
	"orpine/test/loft"
)

func order(t *testing.T, l *loft.Loft, frame string) overview.OrderSheet {
	t.Helper()
	s, err := l.Order(l.Ctx(), frame)
	require.NoError(t, err)
	return s
}

func add(t *testing.T, l *loft.Loft, frame, name, line string) string {
	t.Helper()
	require.NoError(t, l.AddStep(l.Ctx(), planning.NewStep{Form: loft.Named(name), Airframe: frame, Line: line}))
	return loft.ID(name)
}

// From an empty order: a cure is begun first, the helper's evening is packed, and what cannot
// be scheduled says why.
func TestStepsAreTypedAndPlanned(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	frame := loft.BenchFrame
	dimple := add(t, l, frame, "dimple", "dimple the skin, 3 h")
	bond := add(t, l, frame, "bond", "bond the spar, 1 h, whole, cures 48 h")
	rivet := add(t, l, frame, "rivet it together", "rivet the skin, 2 h, two people, after dimple")
	hang := add(t, l, frame, "hang", "hang the fin, 1 h, after bond")
	s := order(t, l, frame)
	assert.Contains(t, s.Answer.Now, dimple)
	assert.Nil(t, s.Answer.Finish, "nobody said when anybody works")
	require.NoError(t, l.Planning.SetWeek(l.Ctx(), planning.WeekSet{Form: l.Form(), Airframe: frame, From: map[string]string{"mon": "19:00", "tue": "19:00", "wed": "19:00"}, Long: map[string]string{"mon": "2", "tue": "1:30", "wed": "2 h"}}))
	day := l.Now.AddDate(0, 0, 5).Format("2006-01-02")
	require.NoError(t, l.Planning.AddVisit(l.Ctx(), planning.NewVisit{Form: loft.Named("robin"), Airframe: frame, Date: day, From: "09:00", Long: "3 h", Who: "Robin"}))
	s = order(t, l, frame)
	assert.Equal(t, "dimple the skin", s.Steps[dimple].Name)
	first := s.Answer.Schedule[0].ID
	assert.Equal(t, dimple, first, "before the visit that needs it")
	var visit []string
	for _, v := range s.Answer.Visits[0].Steps {
		visit = append(visit, v.ID)
	}
	assert.Contains(t, visit, rivet)
	assert.Equal(t, []string{dimple}, s.Answer.Visits[0].Prepare)
	for _, job := range s.Answer.Schedule {
		if job.ID == hang {
			assert.False(t, s.At(job.Start).Before(l.Now.Add(48*time.Hour)), "the spar cures first")
		}
	}

	require.NoError(t, l.Planning.MoveStep(l.Ctx(), planning.StepMoved{Form: l.Form(), Step: bond, Seen: "open", State: "done"}))
	assert.Contains(t, loft.Problems(t, l.Planning.MoveStep(l.Ctx(), planning.StepMoved{Form: l.Form(), Step: bond, Seen: "open", State: "begun"})), "", "a tab that was left behind")
	for _, h := range order(t, l, frame).Answer.Held {
		if h.ID == hang {
			assert.Contains(t, s.Why(h.By[0]), "bond the spar cures until")
		}
	}
	l.Verify()
}

// The demo's holds, rows and tasks are in its order, each held by what holds it.
func TestTheOrderFollowsFromWhatIsThere(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	s := order(t, l, demo.ID("samphire"))
	assert.Contains(t, s.Steps["row:"+demo.ID("row 3")].Name, "row 3, left stringer (42 holes)")
	assert.Equal(t, 2, s.Steps["row:"+demo.ID("row 3")].People)
	why := map[string]string{}
	for _, h := range s.Answer.Held {
		for _, by := range h.By {
			why[s.Steps[h.ID].Name] += s.Why(by) + "; "
		}
	}
	assert.Contains(t, why["Tail boom: Close the boom"], "waits for control rod guides")
	assert.Contains(t, why["Tail boom: Close the boom"], "the hold “Close the boom” is not released")
	require.Len(t, s.Answer.Closings, 1)
	assert.Equal(t, "the boom bay", s.Answer.Closings[0].Bay)
	id := add(t, l, demo.ID("samphire"), "clean", "clean the boom, 40 min, after control rod")
	s = order(t, l, demo.ID("samphire"))
	assert.Regexp(t, "^waits for control rod guides, done about ", s.Why(s.Answer.Held[len(s.Answer.Held)-1].By[0]))
	assert.True(t, s.Steps[id].Own)
}

func TestWhatCannotBePlannedIsRefusedAtItsField(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	frame := loft.BenchFrame
	for line, says := range map[string]string{"": "what is to be done", "sweep": "how long", "sweep, 1 h, after lunch": "no step"} {
		err := l.AddStep(l.Ctx(), planning.NewStep{Form: l.Form(), Airframe: frame, Line: line})
		assert.Contains(t, loft.Problems(t, err)["line"], says)
	}
	for day, n := range map[string]planning.WeekSet{"mon": {From: map[string]string{"mon": "7pm"}}, "tue": {From: map[string]string{"tue": "19:00"}, Long: map[string]string{"tue": "long"}}, "sat": {From: map[string]string{"sat": "23:00"}, Long: map[string]string{"sat": "2"}}} {
		n.Form, n.Airframe = l.Form(), frame
		assert.Contains(t, loft.Problems(t, l.Planning.SetWeek(l.Ctx(), n)), day)
	}
	for field, n := range map[string]planning.NewVisit{"who": {Date: "2026-06-06", From: "09:00", Long: "3"}, "date": {Who: "r", Date: "soon", From: "09:00", Long: "3"}, "from": {Who: "r", Date: "2026-06-06", From: "25:00", Long: "3"}, "long": {Who: "r", Date: "2026-06-06", From: "09:00"}, "people": {Who: "r", Date: "2026-06-06", From: "09:00", Long: "3", People: "1"}} {
		n.Form, n.Airframe = l.Form(), frame
		assert.Contains(t, loft.Problems(t, l.Planning.AddVisit(l.Ctx(), n)), field, "%+v", n)
	}
}

// Hours over midnight and over a change of the clocks are those of the true time line; one
// that was left running is asked, not guessed. In Oslo the clocks went forward on 29 March
// 2026 at 02:00: from 23:00 to 04:00 it was four hours.
func TestHoursAreWhatTheyWere(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	frame := loft.BenchFrame
	work := func(n planning.WorkStarted) error {
		n.Form, n.Airframe = l.Form(), frame
		return l.Planning.StartWork(l.Ctx(), n)
	}
	require.NoError(t, work(planning.WorkStarted{Who: "kit", Category: "build", Date: "2026-04-20", From: "22:30", To: "01:00"}))
	require.NoError(t, work(planning.WorkStarted{Who: "kit", Category: "build", Date: "2026-03-28", From: "23:00", To: "04:00"}))
	s := order(t, l, frame)
	_, offset := time.Date(2026, 3, 28, 12, 0, 0, 0, l.Now.Location()).Zone()
	_, summer := time.Date(2026, 3, 30, 12, 0, 0, 0, l.Now.Location()).Zone()
	assert.InDelta(t, 2.5+5-float64(summer-offset)/3600, s.Answer.Hours.Total, 1e-9)
	for field, n := range map[string]planning.WorkStarted{"who": {Category: "build"}, "category": {Who: "kit", Category: "play"}, "date": {Who: "kit", Category: "build", Date: "x", From: "1:00", To: "2:00"}, "from": {Who: "kit", Category: "build", Date: "2026-04-20", From: "late", To: "02:00"}, "to": {Who: "kit", Category: "build", Date: "2027-04-20", From: "01:00", To: "02:00"}, "assembly": {Who: "kit", Category: "build", Assembly: "none"}} {
		assert.Contains(t, loft.Problems(t, work(n)), field, "%+v", n)
	}

	running := planning.WorkStarted{Form: loft.Named("running"), Airframe: frame, Who: "kit", Category: "rework"}
	require.NoError(t, l.Planning.StartWork(l.Ctx(), running))
	assert.Contains(t, loft.Problems(t, work(planning.WorkStarted{Who: "kit", Category: "build"}))["who"], "at work already")
	require.NoError(t, work(planning.WorkStarted{Who: "helper", Category: "build"}), "two people at once")
	began := l.Now
	l.Now = l.Now.Add(48 * time.Hour)
	stop := planning.WorkStopped{Form: l.Form(), Session: loft.ID("running")}
	assert.Contains(t, loft.Problems(t, l.Planning.StopWork(l.Ctx(), stop))["to"], "when did it end in truth?")
	stop.Form, stop.To = l.Form(), began.Add(90*time.Minute).Format("2006-01-02T15:04")
	require.NoError(t, l.Planning.StopWork(l.Ctx(), stop))
	require.NoError(t, l.Planning.StopWork(l.Ctx(), stop), "sent twice, ended once")
	assert.InDelta(t, 1.5, order(t, l, frame).Answer.Hours.ByCategory["rework"], 1e-9)
	assert.Contains(t, loft.Problems(t, l.Planning.StopWork(l.Ctx(), planning.WorkStopped{Form: l.Form(), Session: loft.ID("running")})), "")
	require.ErrorIs(t, l.Planning.StopWork(l.Ctx(), planning.WorkStopped{Form: l.Form(), Session: "none"}), ledger.ErrNotFound)
	l.Verify()
}

func TestStepsAndVisitsArePutRight(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	require.NoError(t, l.Right("step", loft.ID("hang 0"), amending.Change, map[string]string{"hours": "2-3-4 h", "people": "3", "cure": "1,5"}))
	s := order(t, l, loft.BenchFrame)
	assert.Equal(t, 3, s.Steps[loft.ID("hang 0")].People)
	assert.InDelta(t, 3, s.Steps[loft.ID("hang 0")].Hours, 1e-9)
	problems := loft.Problems(t, l.Right("step", loft.ID("hang 0"), amending.Change, map[string]string{"hours": "long", "people": "0", "cure": "-1", "name": ""}))
	for _, field := range []string{"hours", "people", "cure", "name"} {
		assert.Contains(t, problems, field)
	}
	require.NoError(t, l.Right("step", loft.ID("hang 0"), amending.Withdraw, nil))
	assert.NotContains(t, order(t, l, loft.BenchFrame).Steps, loft.ID("hang 0"))
	visit := s.Visits[0].ID
	require.NoError(t, l.Right("visit", visit, amending.Change, map[string]string{"from": "10:00", "people": "4"}))
	s = order(t, l, loft.BenchFrame)
	assert.Equal(t, []any{"2026-06-06T10:00", 4}, []any{s.Visits[0].From, s.Visits[0].People})
	require.NoError(t, l.Right("visit", visit, amending.Withdraw, nil))
	assert.Empty(t, order(t, l, loft.BenchFrame).Visits)
	l.Verify()
}

// Hours that were written down wrong: 22:30 to 01:00 was in truth 21:30 to 01:00, on the next
// assembly; times that are not touched keep their seconds; one that runs goes on running.
func TestHoursAndStagesArePutRight(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	frame := demo.ID("samphire")
	before := order(t, l, frame).Answer.Hours.Total
	require.NoError(t, l.Planning.StartWork(l.Ctx(), planning.WorkStarted{Form: loft.Named("late"), Airframe: frame, Who: "kit", Category: "build", Date: "2026-04-20", From: "22:30", To: "01:00"}))
	require.NoError(t, l.Right("session", loft.ID("late"), amending.Correct, map[string]string{"from": "21:30", "category": "rework", "assembly": "Tail boom"}))
	hours := order(t, l, frame).Answer.Hours
	assert.InDelta(t, before+3.5, hours.Total, 1e-9)
	at := func() planning.Session {
		for _, one := range order(t, l, frame).Sessions {
			if one.ID == loft.ID("late") {
				return one
			}
		}
		return planning.Session{}
	}
	assert.Equal(t, []string{"rework", demo.ID("tail boom")}, []string{at().Category, at().AssemblyID})
	problems := loft.Problems(t, l.Right("session", loft.ID("late"), amending.Change, map[string]string{"who": "", "category": "play", "assembly": "Moon", "date": "soon"}))
	for _, field := range []string{"who", "category", "assembly"} {
		assert.Contains(t, problems, field)
	}
	assert.Contains(t, loft.Problems(t, l.Right("session", loft.ID("late"), amending.Change, map[string]string{"to": "late"})), "to")
	require.NoError(t, l.Right("session", loft.ID("late"), amending.Withdraw, nil))
	assert.InDelta(t, before, order(t, l, frame).Answer.Hours.Total, 1e-9)
	require.ErrorIs(t, l.Planning.StopWork(l.Ctx(), planning.WorkStopped{Form: l.Form(), Session: loft.ID("late")}), ledger.ErrNotFound)

	require.NoError(t, l.Planning.StartWork(l.Ctx(), planning.WorkStarted{Form: loft.Named("running"), Airframe: frame, Who: "kit", Category: "build"}))
	began := l.Now
	l.Now = began.Add(90 * time.Minute)
	require.NoError(t, l.Right("session", loft.ID("running"), amending.Change, map[string]string{"from": began.Add(30 * time.Minute).Format("15:04")}))
	for _, one := range order(t, l, frame).Sessions {
		if one.ID == loft.ID("running") {
			assert.True(t, one.Running())
			assert.InDelta(t, 1, one.Hours(l.Now), 1.0/60)
		}
	}

	require.NoError(t, l.Planning.AddStage(l.Ctx(), planning.NewStage{Form: loft.Named("prop"), Airframe: frame, Name: "propeller", Price: "1900", Lead: "60"}))
	require.NoError(t, l.Right("stage", loft.ID("prop"), amending.Correct, map[string]string{"price": "2900.50", "lead": "90"}))
	for _, price := range []string{"$1900", "1900 USD"} {
		assert.Contains(t, loft.Problems(t, l.Right("stage", loft.ID("prop"), amending.Correct, map[string]string{"price": price}))["price"], "kept in EUR")
		assert.Contains(t, loft.Problems(t, l.Planning.AddStage(l.Ctx(), planning.NewStage{Form: l.Form(), Airframe: frame, Name: "paint", Price: price}))["price"], "kept in EUR")
	}
	stages := order(t, l, frame).Money.Stages
	assert.Equal(t, []any{int64(290050), 90}, []any{stages[len(stages)-1].Price, stages[len(stages)-1].Lead})
	problems = loft.Problems(t, l.Right("stage", loft.ID("prop"), amending.Change, map[string]string{"price": "much", "lead": "soon", "name": ""}))
	for _, field := range []string{"price", "lead", "name"} {
		assert.Contains(t, problems, field)
	}
	require.NoError(t, l.Right("stage", loft.ID("prop"), amending.Withdraw, nil))
	assert.Len(t, order(t, l, frame).Money.Stages, len(stages)-1)
	require.ErrorIs(t, l.Planning.PayStage(l.Ctx(), planning.StagePaid{Form: l.Form(), Stage: loft.ID("prop"), Paid: true}), ledger.ErrNotFound)
	l.Verify()
}

// A slip at an aircraft that is paid in dollars is told in dollars.
func TestASlipIsInTheCurrencyOfTheMoney(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	currency := func() string {
		require.NoError(t, l.Logbook.Log(l.Ctx(), logbook.NewSlip{Form: l.Form(), Airframe: loft.BenchFrame, Cause: slip.Causes[0]}))
		slips, err := l.Slips(l.Ctx(), 0)
		require.NoError(t, err)
		return slips.Slips[0].Currency
	}
	require.NoError(t, l.Planning.SetMoney(l.Ctx(), planning.MoneySet{Form: l.Form(), Airframe: loft.BenchFrame, Saved: "$1200", PerMonth: "450"}))
	require.NoError(t, l.Planning.AddStage(l.Ctx(), planning.NewStage{Form: l.Form(), Airframe: loft.BenchFrame, Name: "wing kit", Price: "$7800"}))
	assert.Equal(t, "USD", currency())
	l.Verify()
}

// A helper's evening is told in one go: two steps done, three hours for each of two people; sent
// twice it is one; what is done already is refused, and nothing of it is stored.
func TestAHelpersEveningIsToldInOneGo(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	frame := loft.BenchFrame
	rivet := add(t, l, frame, "rivet it together", "rivet the skin, 2 h, two people")
	turn := add(t, l, frame, "turn", "turn it over, 40 min, 3 people")
	alone := add(t, l, frame, "alone", "sweep, 1 h")
	require.NoError(t, l.Planning.AddVisit(l.Ctx(), planning.NewVisit{Form: loft.Named("robin"), Airframe: frame, Date: l.Now.AddDate(0, 0, -1).Format("2006-01-02"), From: "18:00", Long: "3 h", Who: "Robin"}))
	n := planning.EveningTold{Form: l.Form(), Visit: loft.ID("robin"), Steps: []string{rivet, turn}, From: "18:00", To: "21:00", Who: []string{" kit", "Robin", " "}}
	require.NoError(t, l.Planning.TellEvening(l.Ctx(), n))
	require.NoError(t, l.Planning.TellEvening(l.Ctx(), n), "sent twice")
	s := order(t, l, frame)
	assert.Equal(t, []string{"done", "done", "open"}, []string{s.Steps[rivet].State, s.Steps[turn].State, s.Steps[alone].State})
	assert.InDelta(t, 6, s.Answer.Hours.Total, 1e-9)
	assert.Equal(t, map[string]float64{"kit": 3, "Robin": 3}, s.Answer.Hours.ByPerson)
	assert.Len(t, s.Sessions, 2)
	again := planning.EveningTold{Form: l.Form(), Visit: loft.ID("robin"), Steps: []string{rivet, alone}}
	assert.Contains(t, loft.Problems(t, l.Planning.TellEvening(l.Ctx(), again))["done"], "rivet the skin is done already")
	assert.Equal(t, "open", order(t, l, frame).Steps[alone].State)
	for field, n := range map[string]planning.EveningTold{"done": {}, "who": {Who: []string{"kit", "kit"}, From: "18:00", To: "19:00"}, "from": {Who: []string{"kit"}, From: "late", To: "19:00"}, "to": {Who: []string{"kit"}, From: "18:00"}} {
		n.Form, n.Visit = l.Form(), loft.ID("robin")
		assert.Contains(t, loft.Problems(t, l.Planning.TellEvening(l.Ctx(), n)), field)
	}
	require.ErrorIs(t, l.Planning.TellEvening(l.Ctx(), planning.EveningTold{Form: l.Form(), Visit: "none", Steps: []string{alone}}), ledger.ErrNotFound)
	// One step alone has the hours.
	require.NoError(t, l.Planning.TellEvening(l.Ctx(), planning.EveningTold{Form: l.Form(), Visit: loft.ID("robin"), Steps: []string{alone}, From: "21:00", To: "21:30", Who: []string{"kit"}}))
	assert.Equal(t, alone, order(t, l, frame).Sessions[0].Step)
	l.Verify()
}

// By hand: the supplier came 3 days late once and in time once, 1.5 on the mean, 2 rounded up;
// promised for 1 June it is expected on the 3rd, and counts from the 4th. 7800 with 1200 saved
// and 450 a month take 15 pay days: the 25th of May 2026 is the first, the 25th of July 2027
// the last; sixty days on it is the 23rd of September.
func TestOrdersAndMoneyHoldWhatNeedsThem(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	frame, ctx := loft.BenchFrame, l.Ctx()
	add1 := func(name string, n planning.NewOrder) string {
		n.Form, n.Airframe, n.Name, n.Supplier = loft.Named(name), frame, name, "kit"
		require.NoError(t, l.Planning.AddOrder(ctx, n))
		return loft.ID(name)
	}
	move := func(id, what, day string) error {
		return l.Planning.MoveOrder(ctx, planning.OrderMoved{Form: l.Form(), Order: id, What: what, Day: day})
	}
	for name, came := range map[string]string{"first crate": "2026-04-13", "second crate": "2026-04-10"} {
		id := add1(name, planning.NewOrder{Asked: "2026-03-01", Promised: "2026-04-10"})
		require.NoError(t, move(id, "sent", "2026-04-02"))
		require.NoError(t, move(id, "arrived", came))
	}
	tank := add1("fuel tank", planning.NewOrder{Lead: "20", Asked: "2026-05-01", Promised: "2026-06-01"})
	late := add1("spinner", planning.NewOrder{Lead: "200"})
	fit := add(t, l, frame, "fit", "fit the tank, 2 h, needs fuel tank")
	spin := add(t, l, frame, "spin", "spinner on, 1 h, needs spinner, after fit")
	sweep := add(t, l, frame, "sweep", "sweep, 1 h")
	require.NoError(t, l.Planning.SetWeek(ctx, planning.WeekSet{Form: l.Form(), Airframe: frame, From: map[string]string{"mon": "19:00", "thu": "19:00"}, Long: map[string]string{"mon": "2", "thu": "2"}}))
	s := order(t, l, frame)
	at := map[string]string{}
	for _, o := range s.Answer.Orders {
		at[o.ID] = o.Expected + " " + o.LatestAsk
	}
	assert.Equal(t, "2026-06-03 ", at[tank])
	assert.Contains(t, at[late], "2026-11-22 ", "4 May + 200 + 2 days")
	assert.Contains(t, s.Answer.Now, sweep, "meanwhile-work")
	for _, h := range s.Answer.Held {
		if h.ID == fit {
			assert.Equal(t, "waits for the order fuel tank, expected 2026-06-03", s.Why(h.By[0]))
		}
	}
	require.NoError(t, move(tank, "arrived", ""))
	assert.Contains(t, order(t, l, frame).Answer.Now, fit)

	require.NoError(t, l.Planning.SetMoney(ctx, planning.MoneySet{Form: l.Form(), Airframe: frame, Saved: "1200 EUR", PerMonth: "450", Day: "25"}))
	require.NoError(t, l.Planning.AddStage(ctx, planning.NewStage{Form: loft.Named("wing kit"), Airframe: frame, Name: "wing kit", Price: "7800", Lead: "60", NeededBy: spin}))
	s = order(t, l, frame)
	require.Len(t, s.Answer.Money.Stages, 1)
	assert.Equal(t, []string{"2027-07-25", "2027-09-23"}, []string{s.Answer.Money.Stages[0].Payable, s.Answer.Money.Stages[0].Arrives})
	assert.Equal(t, "660000", s.Answer.Money.Short.String())
	require.NoError(t, l.Planning.PayStage(ctx, planning.StagePaid{Form: l.Form(), Stage: loft.ID("wing kit"), Paid: true}))
	assert.Empty(t, order(t, l, frame).Answer.Money.Stages)

	for field, n := range map[string]planning.NewOrder{"name": {Supplier: "kit"}, "supplier": {Name: "x"}, "lead": {Name: "x", Supplier: "kit", Lead: "soon"}, "asked": {Name: "x", Supplier: "kit", Asked: "2027-01-01"}, "promised": {Name: "x", Supplier: "kit", Asked: "2026-04-01", Promised: "2026-03-01"}} {
		n.Form, n.Airframe = l.Form(), frame
		assert.Contains(t, loft.Problems(t, l.Planning.AddOrder(ctx, n)), field)
	}
	assert.Contains(t, loft.Problems(t, move(late, "arrived", "2026-12-24"))["day"], "after today")
	assert.Contains(t, loft.Problems(t, move(late, "lost", "")), "what")
	assert.Contains(t, loft.Problems(t, l.Planning.MoveOrder(ctx, planning.OrderMoved{Form: l.Form(), Order: late, Seen: "sent", What: "arrived"})), "", "a tab that was left behind")
	for field, n := range map[string]planning.MoneySet{"saved": {Saved: "much", PerMonth: "1"}, "per_month": {Saved: "1 EUR", PerMonth: "1 USD"}, "day": {Saved: "1", PerMonth: "1", Day: "31"}} {
		n.Form, n.Airframe = l.Form(), frame
		assert.Contains(t, loft.Problems(t, l.Planning.SetMoney(ctx, n)), field)
	}
	require.NoError(t, l.Right("order", late, amending.Change, map[string]string{"lead": "20"}))
	require.NoError(t, l.Right("order", late, amending.Withdraw, nil))
	assert.NotContains(t, loft.Problems(t, l.AddStep(ctx, planning.NewStep{Form: l.Form(), Airframe: frame, Line: "x, 1 h, needs spinner"}))["line"], "not understood")
	l.Verify()
}
