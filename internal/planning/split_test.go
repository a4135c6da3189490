package planning_test

import (
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/amending"
	"orpine/internal/core/plan"
	"orpine/internal/demo"
	"orpine/internal/planning"
	"orpine/internal/store/query"
	"orpine/internal/supplier"
	"orpine/internal/supplier/simulated"
	"orpine/test/loft"
)

func at(l *loft.Loft, days int) string { return l.Now.AddDate(0, 0, days).Format(time.DateOnly) }

func stepOf(t *testing.T, l *loft.Loft, id string) plan.Step {
	t.Helper()
	for _, s := range order(t, l, loft.BenchFrame).Plan.Steps {
		if s.ID == id {
			return s
		}
	}
	require.Fail(t, "no such step")
	return plan.Step{}
}

// A step is parted by one press: in halves, or in what was worked and what is left; what came
// after it still does.
func TestAStepIsSplit(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	frame, ctx := loft.BenchFrame, l.Ctx()
	rivet := add(t, l, frame, "rivet it", "rivet the skin, 6 h")
	hang := add(t, l, frame, "hang", "hang the fin, 1 h, after rivet the skin")
	n := planning.StepSplit{Form: loft.Named("split"), Step: rivet, Seen: "open"}
	require.NoError(t, l.Planning.SplitStep(ctx, n))
	require.NoError(t, l.Planning.SplitStep(ctx, n), "sent again")
	first, rest := stepOf(t, l, n.ID), stepOf(t, l, rivet)
	assert.Equal(t, [2]string{"rivet the skin, part 1", "rivet the skin, part 2"}, [2]string{first.Name, rest.Name})
	assert.Equal(t, [2]float64{3, 3}, [2]float64{first.Likely, rest.Likely})
	held := map[string]string{}
	for _, h := range order(t, l, frame).Answer.Held {
		held[h.ID] = h.By[0].ID
	}
	assert.Equal(t, n.ID, held[rivet], "the rest comes after the first part")
	assert.Equal(t, rivet, held[hang])

	require.NoError(t, l.Planning.StartWork(ctx, planning.WorkStarted{Form: l.Form(), Airframe: frame, Who: "kit", Category: "build", Step: rivet, Date: at(l, -1), From: "19:00", To: "20:00"}))
	require.NoError(t, l.Planning.SplitStep(ctx, planning.StepSplit{Form: loft.Named("again"), Step: rivet}))
	first, rest = stepOf(t, l, loft.ID("again")), stepOf(t, l, rivet)
	assert.Equal(t, "rivet the skin, part 3", rest.Name)
	assert.Equal(t, plan.Done, first.State, "what was worked is done")
	assert.InDelta(t, 1, first.Likely, 1e-9)
	assert.InDelta(t, 2, rest.Likely, 1e-9)
	assert.InDelta(t, 1, order(t, l, frame).Answer.Hours.ByStep[loft.ID("again")], 1e-9, "and its hours go with it")
	assert.Contains(t, loft.Problems(t, l.Planning.SplitStep(ctx, planning.StepSplit{Form: l.Form(), Step: rivet, Seen: "begun"}))[""], "it showed the step begun, and now it is open")
	require.NoError(t, l.Planning.StartWork(ctx, planning.WorkStarted{Form: l.Form(), Airframe: frame, Who: "kit", Category: "build", Step: rivet}))
	assert.Contains(t, loft.Problems(t, l.Planning.SplitStep(ctx, planning.StepSplit{Form: l.Form(), Step: rivet}))[""], "stop that first")
	assert.Contains(t, loft.Problems(t, l.Planning.SplitStep(ctx, planning.StepSplit{Form: l.Form(), Step: loft.ID("again")}))[""], "nothing left to part")
	l.Verify()
}

// "I did something else tonight": today's session leaves its step, or the evening so far is
// written down without one.
func TestSomethingElseWasDoneTonight(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	frame, ctx := loft.BenchFrame, l.Ctx()
	n := planning.ElseDone{Airframe: frame, Who: "kit"}
	tell := func() error {
		n.Form = l.Form()
		return l.Planning.DoneElse(ctx, n)
	}
	assert.Contains(t, loft.Problems(t, tell())["who"], "none of your evenings")
	day := strings.ToLower(l.Now.Weekday().String()[:3])
	from := l.Now.Add(-time.Hour)
	require.NoError(t, l.Planning.SetWeek(ctx, planning.WeekSet{Form: l.Form(), Airframe: frame, From: map[string]string{day: from.Format("15:04")}, Long: map[string]string{day: "3 h"}}))
	require.NoError(t, tell())
	h := order(t, l, frame).Answer.Hours
	assert.InDelta(t, 1, h.ByCategory["project"], 0.05, "the hour of it that is over")
	fit := add(t, l, frame, "fit", "fit the tank, 2 h")
	require.NoError(t, l.Planning.StartWork(ctx, planning.WorkStarted{Form: l.Form(), Airframe: frame, Who: "kit", Category: "build", Step: fit}))
	l.Now = l.Now.Add(30 * time.Minute)
	require.NoError(t, tell())
	h = order(t, l, frame).Answer.Hours
	assert.Zero(t, h.ByStep[fit])
	assert.Zero(t, h.ByCategory["build"])
	l.Verify()
}

// A sheet of hours comes in whole or not at all, each wrong line is named, and what is here
// already is left out.
func TestHoursComeInFromAnotherSheet(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	frame, ctx := loft.BenchFrame, l.Ctx()
	add(t, l, frame, "fit", "fit the tank, 2 h")
	bring := func(csv string) error {
		return l.Planning.BringHours(ctx, planning.HoursIn{Form: l.Form(), Airframe: frame, Who: "kit", CSV: csv})
	}
	good := "Date;From;To;Hours;Who;Category;Assembly;Step\n" + at(l, -9) + ";19:00;21:30;;;;;Fit the tank\n" + l.Now.AddDate(0, 0, -8).Format("2.1.2006") + ";;;1,5;helper;research;;\n" + at(l, -8) + ";;;0:45;helper;build;Tail boom;\n" + at(l, -7) + ";22:30;00:30;;kit;rework;;\n\n"
	require.NoError(t, bring(good))
	h := order(t, l, frame).Answer.Hours
	assert.InDelta(t, 2.5+1.5+0.75+2, h.Total, 1e-9)
	assert.Equal(t, map[string]float64{"kit": 4.5, "helper": 2.25}, h.ByPerson)
	assert.InDelta(t, 2.5, h.ByStep[loft.ID("fit")], 1e-9)
	assert.InDelta(t, 0.75, h.ByAssembly[loft.BenchBoom], 1e-9)
	assert.Contains(t, loft.Problems(t, bring(good))["csv"], "all of it is here already")
	require.NoError(t, bring("date,from,to,who,assembly\n"+at(l, -5)+",10:00,12:00,kit,Tail boom\n"+at(l, -5)+",11:00,12:30,kit,Tail boom\n"))
	require.NoError(t, l.Ledger.View(ctx, func(q *query.Queries) error {
		worked, err := planning.ByAssembly(ctx, q, frame, l.Ledger.When, l.Now)
		assert.InDelta(t, 0.75+2.5, worked[loft.BenchBoom], 1e-9, "the hour in which both ran counts once")
		return err
	}))
	require.NoError(t, bring(good+at(l, -6)+";;;2;;;;\n"), "one line more")
	assert.InDelta(t, 11.25, order(t, l, frame).Answer.Hours.Total, 1e-9)
	for says, csv := range map[string]string{
		"is empty": "", "has no column “date”": "day,hours\n2026-01-02,1", "has no hours below": "date,hours\n",
		`line 2: "2026-02-30" is no date`: "date,hours\n2026-02-30,1", "line 3: says neither from and to": "date,hours\n" + at(l, -5) + ",1\n" + at(l, -4) + ",\n", `from "7pm" is no time`: "date,from,to\n" + at(l, -5) + ",7pm,21:00",
		`its category is "fun"`: "date,hours,category\n" + at(l, -5) + ",1,fun", "there is no assembly": "date,hours,assembly\n" + at(l, -5) + ",1,Keel", "there is no step": "date,hours,step\n" + at(l, -5) + ",1,fly it", "is after now": "date,hours\n" + at(l, 3) + ",1",
		"holds a control character": "date,hours,who\n" + at(l, -5) + ",1,\"kit\tbuilder\"", "do not fit into it": "date,hours\n" + at(l, -5) + ",10\n" + at(l, -5) + ",10\n" + at(l, -5) + ",10\n",
	} {
		assert.Contains(t, loft.Problems(t, bring(csv))["csv"], says)
	}
	assert.InDelta(t, 11.25, order(t, l, frame).Answer.Hours.Total, 1e-9, "nothing of what is wrong")
	l.Verify()
}

// An order that comes is counted and its hand looked at: what is wrong does not count as
// arrived, is sent back and credited, and what waits for it is told.
func TestWhatComesIsLookedAtBeforeItIsPutAway(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	frame, ctx := loft.BenchFrame, l.Ctx()
	rib := loft.ID("rib")
	require.NoError(t, l.Planning.AddOrder(ctx, planning.NewOrder{Form: loft.Named("rib"), Airframe: frame, Name: "rib 3", Supplier: "counter", Hand: "right", Count: "2", Price: "18", Lead: "10", Asked: at(l, -20), Promised: at(l, -8)}))
	fit := add(t, l, frame, "fit", "fit the rib, 1 h, needs rib 3")
	come := func(n planning.OrderCame) error {
		n.Form, n.Order = l.Form(), rib
		return l.Planning.Come(ctx, n)
	}
	move := func(what string) error {
		return l.Planning.MoveOrder(ctx, planning.OrderMoved{Form: l.Form(), Order: rib, What: what})
	}
	state := func() string { return order(t, l, frame).Ordered[0].State() }
	assert.Contains(t, loft.Problems(t, move("arrived"))["day"], "look at its hand")
	assert.Contains(t, loft.Problems(t, move("returned"))["day"], "has not come yet")
	p := loft.Problems(t, come(planning.OrderCame{Hand: "cannot tell"}))
	assert.Contains(t, p["count"], "count them")
	assert.Contains(t, p["hand"], "lay it beside its twin")
	assert.Contains(t, loft.Problems(t, come(planning.OrderCame{Count: "2"}))["hand"], "not at its label")
	require.NoError(t, come(planning.OrderCame{Count: "1", Hand: "left", Place: "box 4"}))
	o := order(t, l, frame).Ordered[0]
	assert.Equal(t, "1 came, 2 were ordered; it is a left one, and a right one was ordered", o.Came)
	assert.Equal(t, [3]string{"came wrong", "", ""}, [3]string{o.State(), o.Arrived, o.Place})
	s := order(t, l, frame)
	for _, h := range s.Answer.Held {
		if h.ID == fit {
			assert.Equal(t, "waits for the order rib 3, expected "+at(l, 10), s.Why(h.By[0]), "another one takes as long again")
		}
	}
	assert.Contains(t, loft.Problems(t, move("credited"))["day"], "was not sent back")
	require.NoError(t, move("returned"))
	assert.Equal(t, "returned", state())
	require.NoError(t, move("credited"))
	assert.Equal(t, "credited", state())
	for _, one := range order(t, l, frame).Answer.Orders {
		assert.Empty(t, one.Expected, "nothing comes any more")
	}
	require.NoError(t, l.Right("order", rib, amending.Change, map[string]string{"credited": "", "returned": at(l, 0)}))
	require.NoError(t, come(planning.OrderCame{Count: "2", Hand: "right", Place: "box 4"}), "another pair")
	o = order(t, l, frame).Ordered[0]
	assert.Equal(t, [2]string{"arrived", "box 4"}, [2]string{o.State(), o.Place})
	assert.Contains(t, order(t, l, frame).Answer.Now, fit)
	assert.Contains(t, loft.Problems(t, come(planning.OrderCame{Count: "2", Hand: "right"}))["day"], "has come already")
	for field, n := range map[string]planning.NewOrder{"count": {Count: "some"}, "hand": {Hand: "both"}, "price": {Price: "much"}} {
		n.Form, n.Airframe, n.Name, n.Supplier = l.Form(), frame, "x", "y"
		assert.Contains(t, loft.Problems(t, l.Planning.AddOrder(ctx, n)), field)
	}
	l.Verify()
}

// A usual order is edited and laid for both wings; what is wrong is said at its line.
func TestAUsualOrderIsLaid(t *testing.T) {
	t.Parallel()
	l := loft.Empty(t)
	frame := loft.ID("kit")
	require.NoError(t, l.Airframes.Add(l.Ctx(), airframe.NewAirframe{Form: loft.Named("kit"), Name: "Tansy T3", Unit: "in"}))
	u, _ := plan.UsualOf("metal")
	n := planning.UsualLaid{Airframe: frame, Usual: "metal", School: string(plan.InStep), Harder: plan.HardRight}
	for i, s := range u.Steps {
		n.Steps = append(n.Steps, planning.UsualEdited{Take: i == 1 || i >= 10 && i < 14, Name: s.Name, Hours: "2-3-5 h"})
	}
	lay := func() error {
		n.Form = l.Form()
		return l.Planning.LayUsual(l.Ctx(), n)
	}
	n.Steps[11].Hours, n.Steps[12].Name, n.School = "long", "wing: drilled", "as it comes"
	p := loft.Problems(t, lay())
	assert.Contains(t, p["hours.11"], "how long")
	assert.Contains(t, p["name.12"], "keep {side}")
	assert.Contains(t, p["school"], "in step")
	n.Steps[11].Hours, n.Steps[12].Name, n.School = "4 h", "{side} wing: drilled, measured", string(plan.InStep)
	require.NoError(t, lay())
	s := order(t, l, frame)
	require.Len(t, s.Plan.Steps, 9, "one of both, four of each")
	byName := map[string]plan.Step{}
	for _, one := range s.Plan.Steps {
		byName[one.Name] = one
	}
	right, left := byName["right wing: drilled, measured"], byName["left wing: drilled, measured"]
	require.NotEmpty(t, right.ID)
	var after []string
	for _, b := range left.After {
		after = append(after, s.Plan.Steps[b].Name)
	}
	assert.ElementsMatch(t, []string{"left wing: ribs to spar", "right wing: drilled, measured"}, after, "the harder side first, in step")
	assert.InDelta(t, 4, byName["left wing: ribs to spar"].Likely, 0)
	assert.Contains(t, loft.Problems(t, lay())["name.1"], "already")
	for i := range n.Steps {
		n.Steps[i].Take = false
	}
	assert.Contains(t, loft.Problems(t, lay())["steps"], "no step is ticked")
	l.Verify()
}

// What a step makes impossible comes after it in the order, is said at both, and never makes a
// circle.
func TestAStepMakesAnotherImpossible(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	frame := loft.BenchFrame
	spar := add(t, l, frame, "land", "land the rear spar, 2 h")
	tabs := add(t, l, frame, "tabs", "dimple the tabs, 1 h, before land the rear spar, bring squeezer")
	row := add(t, l, frame, "clip", "glue the clip, 30 min, before row")
	s := order(t, l, frame)
	assert.Equal(t, []string{"dimple the tabs"}, s.Steps[spar].Forbids)
	assert.Equal(t, []string{"land the rear spar"}, s.Steps[tabs].Before)
	assert.Equal(t, "squeezer", s.Steps[tabs].Bring)
	for _, h := range s.Answer.Held {
		if h.ID == spar {
			assert.Equal(t, tabs, h.By[0].ID)
		}
	}
	sheet, err := l.Row(l.Ctx(), loft.BenchRow)
	require.NoError(t, err)
	assert.Equal(t, []string{"glue the clip"}, sheet.Ahead.Impossible, "said at the row")
	require.NoError(t, l.Planning.MoveStep(l.Ctx(), planning.StepMoved{Form: l.Form(), Step: row, State: plan.Done}))
	sheet, err = l.Row(l.Ctx(), loft.BenchRow)
	require.NoError(t, err)
	assert.Empty(t, sheet.Ahead.Impossible)
	p := loft.Problems(t, l.AddStep(l.Ctx(), planning.NewStep{Form: l.Form(), Airframe: frame, Line: "paint it, 1 h, after land the rear, before dimple the tabs"}))
	assert.Contains(t, p["line"], "come after itself")
	assert.Contains(t, loft.Problems(t, l.AddStep(l.Ctx(), planning.NewStep{Form: l.Form(), Airframe: frame, Line: "paint it, 1 h, before lunch"}))["line"], "there is no such step")
	assert.Contains(t, loft.Problems(t, l.Right("step", spar, amending.Change, map[string]string{"before": "dimple the tabs"}))["after"], "come after itself")
	require.NoError(t, l.Right("step", tabs, amending.Change, map[string]string{"after": "glue the clip", "before": "", "bring": "lamp"}))
	s = order(t, l, frame)
	assert.Empty(t, s.Steps[spar].Forbids)
	assert.Equal(t, "lamp", s.Steps[tabs].Bring)
	assert.Len(t, stepOf(t, l, tabs).After, 1)
	l.Verify()
}

// The demo's two years: hours by assembly and step, what the second of a pair takes, and whether
// money or hours limit.
func TestTheDemoHasTwoYearsOfHours(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	s, err := l.Hours(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	assert.InDelta(t, 640, s.Answer.Hours.Total, 60)
	assert.Greater(t, len(s.Own), 110)
	assert.Greater(t, s.Learning.Pairs, 5)
	assert.InDelta(t, 0.85, s.Learning.Factor, 0.08)
	assert.NotEmpty(t, s.Rework)
	sum := 0.0
	for _, p := range s.ByPerson {
		sum += p.Hours
	}
	assert.InDelta(t, s.Answer.Hours.Total, sum, 1e-6, "no hour counts twice")
	passed := 0
	for _, step := range s.BySteps {
		if step.Passed != "" {
			passed++
		}
	}
	assert.Positive(t, passed)
	limits := s.Limits()
	assert.True(t, limits.Any)
	assert.Contains(t, limits.Says(), "weeks of saving against")
	short, err := l.Store(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	list, err := l.Shortages(l.Ctx(), short)
	require.NoError(t, err)
	require.NotEmpty(t, list)
	assert.Equal(t, 29, list[0].Short)
	assert.NotEmpty(t, list[0].Need)
	assert.Less(t, list[0].Ask, list[0].Need)
	_, found, err := l.Find(l.Ctx(), demo.ID("samphire"), "shelf a 1/8")
	require.NoError(t, err)
	require.Len(t, found, 1)
	assert.Equal(t, "box 2, shelf A", found[0].Where)
}

// After a month: where the builder was.
func TestAfterAPauseItSaysWhereOneWas(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	r, err := l.Resume(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	assert.False(t, r.Paused())
	l.Now = l.Now.Add(33 * 24 * time.Hour)
	r, err = l.Resume(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	assert.True(t, r.Paused())
	assert.Equal(t, 33, r.Days)
	assert.Len(t, r.Rows, 3)
	assert.Len(t, r.Released, 2)
	assert.Len(t, r.Running, 1)
	assert.NotEmpty(t, r.Begun)
	assert.NotEmpty(t, r.Late)
	assert.Len(t, r.Owed, 3, "what is due, and what something waits for")
	assert.True(t, l.LongPause(l.Ctx(), demo.ID("samphire")))
}

// A supplier is asked what it costs, ordered from, and asked how far it is; sent again it is one
// order, and what cannot be is refused with nothing changed.
func TestASupplierIsAskedOverTheWire(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	frame, ctx := loft.BenchFrame, l.Ctx()
	server := httptest.NewServer(simulated.Supplier{Seed: 5}.Handler())
	defer server.Close()
	id := loft.ID("rib")
	require.NoError(t, l.Planning.AddOrder(ctx, planning.NewOrder{Form: loft.Named("rib"), Airframe: frame, Name: "rib 3", Supplier: "Counter", Hand: "right"}))
	assert.Contains(t, loft.Problems(t, l.AskSupplier(ctx, l.Form(), id, false))["order"], "is not asked over the wire")
	var err error
	l.Supplier, err = supplier.New("counter=" + server.URL)
	require.NoError(t, err)
	now := func() planning.Order { return order(t, l, frame).Ordered[0] }
	require.NoError(t, l.AskSupplier(ctx, l.Form(), id, true))
	quoted := now()
	assert.Positive(t, quoted.Price)
	assert.Positive(t, quoted.Lead)
	assert.Equal(t, "to be asked for", quoted.State(), "a quote orders nothing")
	form := l.Form()
	require.NoError(t, l.AskSupplier(ctx, form, id, false))
	before := l.Log(1)[0].Seq
	ordered := now()
	assert.Equal(t, "promised", ordered.State())
	assert.Equal(t, quoted.Price, ordered.Price)
	assert.Equal(t, l.Now.AddDate(0, 0, ordered.Lead).Format(time.DateOnly), ordered.Promised)
	_, err = l.Parcel(ctx, id)
	assert.Contains(t, loft.Problems(t, err)["order"], "it has not come yet")
	require.NoError(t, l.AskSupplier(ctx, form, id, false), "sent again after its answer was lost")
	assert.Equal(t, before, l.Log(1)[0].Seq)
	l.Now = l.Now.AddDate(0, 2, 0)
	require.NoError(t, l.AskSupplier(ctx, l.Form(), id, false))
	assert.Equal(t, "sent", now().State(), "delivered is not arrived: nobody has looked at it")
	parcel, err := l.Parcel(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "rib 3 right", parcel.Label)
	require.NoError(t, l.Planning.Come(ctx, planning.OrderCame{Form: l.Form(), Order: id, Hand: "left"}))
	require.NoError(t, l.Planning.MoveOrder(ctx, planning.OrderMoved{Form: l.Form(), Order: id, What: "returned"}))
	l.Now = l.Now.AddDate(0, 0, 12)
	require.NoError(t, l.AskSupplier(ctx, l.Form(), id, false))
	assert.Equal(t, "credited", now().State())
	require.NoError(t, l.Planning.SetMoney(ctx, planning.MoneySet{Form: l.Form(), Airframe: frame, Saved: "10 USD", PerMonth: "1"}))
	require.NoError(t, l.Right("order", id, amending.Change, map[string]string{"price": "7 USD"}))
	require.NoError(t, l.AskSupplier(ctx, l.Form(), id, true))
	assert.Equal(t, int64(700), now().Price, "a price in another currency is not taken over")
	server.Close()
	assert.Contains(t, loft.Problems(t, l.AskSupplier(ctx, l.Form(), id, false))["order"], "does not answer now")
	l.Verify()
}

// In the total of the kit, and in what comes of a pair, nothing is taken for granted.
func TestATotalThatDisagreesIsPointedOut(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 4)
	frame, ctx := loft.BenchFrame, l.Ctx()
	require.NoError(t, l.Planning.SetMoney(ctx, planning.MoneySet{Form: l.Form(), Airframe: frame, Saved: "100 NOK", PerMonth: "50", Total: "900"}))
	require.NoError(t, l.Planning.AddStage(ctx, planning.NewStage{Form: l.Form(), Airframe: frame, Name: "wing", Price: "700", Lead: "10"}))
	s := order(t, l, frame)
	require.Len(t, s.Answer.Findings, 1)
	assert.Equal(t, "total-differs", s.Answer.Findings[0].Code)
	assert.Contains(t, loft.Problems(t, l.Planning.SetMoney(ctx, planning.MoneySet{Form: l.Form(), Airframe: frame, Saved: "100 NOK", PerMonth: "50", Total: "900 EUR"}))["total"], "another currency")
	limits := s.Limits()
	assert.Equal(t, -1, limits.Work, "nobody said when anybody works")
	assert.Contains(t, limits.Says(), "no evenings for them")
	require.NoError(t, l.Planning.SetWeek(ctx, planning.WeekSet{Form: l.Form(), Airframe: frame, From: map[string]string{"tue": "19:00"}, Long: map[string]string{"tue": "2"}}))
	assert.Contains(t, order(t, l, frame).Limits().Says(), "Money limits: ")
	add(t, l, frame, "long", "paint it, 500 h")
	assert.Contains(t, order(t, l, frame).Limits().Says(), "Hours limit: ")
	require.NoError(t, l.Planning.SetMoney(ctx, planning.MoneySet{Form: l.Form(), Airframe: frame, Saved: "1 NOK", PerMonth: "0"}))
	assert.Contains(t, order(t, l, frame).Limits().Says(), "never paid")
	l.Verify()
}

// Before a rivet of a spoilt part is drilled out, the row says what a new part would take: by what
// its supplier took so far, and how late it comes.
func TestARowSaysWhatASpoiltPartWouldWaitFor(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	s, err := l.Row(l.Ctx(), demo.ID("row 3"))
	require.NoError(t, err)
	require.NotEmpty(t, s.Waits)
	assert.Equal(t, "kit maker", s.Waits[0].Supplier)
	assert.Greater(t, s.Waits[0].Days, 40)
	assert.Contains(t, s.Waits[0].Says(), "a new one takes about")
}

// By hand: 7 and 12 days from asking are 9.5, so 10, and the shop was 3 days late once: 13. What it
// was late is in no order's own days, so that it counts once.
func TestWhatAnOrderTakesCountsTheDelayOnce(t *testing.T) {
	t.Parallel()
	late := planning.Order{Name: "rivets", Supplier: "shop", Lead: -1, Asked: "2026-03-01", Promised: "2026-03-08", Arrived: "2026-03-11"}
	said := planning.Order{Name: "screws", Supplier: "shop", Lead: 12}
	silent := planning.Order{Name: "nuts", Supplier: "shop", Lead: -1}
	days, ok := planning.Expect([]planning.Order{late, said, silent}, []planning.Order{late, said, silent}, "shop")
	assert.True(t, ok)
	assert.Equal(t, 13, days)
	_, ok = planning.Expect([]planning.Order{silent}, nil, "shop")
	assert.False(t, ok)
	assert.False(t, late.Late("2026-04-01"), "it has come")
	late.Arrived = ""
	assert.True(t, late.Late("2026-03-09"))
	assert.False(t, late.Late("2026-03-08"))
	late.Came, late.Promised = "a left one", ""
	assert.True(t, late.Late("2026-03-08"))
	late.Credited = "2026-03-20"
	assert.False(t, late.Late("2026-04-01"))
}
