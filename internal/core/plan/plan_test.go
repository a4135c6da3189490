package plan

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// By hand: in Oslo 02:30 on 25 October 2026 is shown twice, an hour apart, and on 29 March
// never; the first minute after that change is 03:00 summer time, 01:00 in UTC.
func TestTheWallClock(t *testing.T) {
	t.Parallel()
	oslo, err := clockOf("Europe/Oslo")
	require.NoError(t, err)
	utc, _ := clockOf("UTC")
	at := func(text string) int64 {
		m, err := utc.parse(text)
		require.NoError(t, err)
		return m
	}
	first, err := oslo.parse("2026-10-25T02:30")
	require.NoError(t, err)
	assert.Equal(t, at("2026-10-25T00:30"), first)
	assert.Equal(t, "2026-10-25T02:30", oslo.print(first))
	assert.Equal(t, "2026-10-25T02:30+01:00", oslo.print(first+60))
	_, err = oslo.parse("2026-03-29T02:30")
	assert.ErrorContains(t, err, "the clocks are changed")
	skipped, ok := oslo.at(dateOf(2026, 3, 29), 150)
	assert.False(t, ok)
	assert.Equal(t, at("2026-03-29T01:00"), skipped)
	winter, _ := oslo.parse("2026-11-25T18:00")
	assert.Equal(t, at("2026-11-25T17:00"), winter)
	apia, err := clockOf("Pacific/Apia") // has no 30 December 2011
	require.NoError(t, err)
	_, err = apia.parse("2011-12-30T12:00")
	assert.Error(t, err)
	far, _ := oslo.parse("2199-07-01T12:00")
	assert.Equal(t, at("2199-07-01T10:00"), far, "the rules go on")
	for _, none := range []string{"", "Local", "Europe/Nowhere", "../etc/passwd", "posix/UTC"} {
		_, err := clockOf(none)
		assert.Error(t, err, none)
	}
	for _, none := range []string{"2026-02-30T10:00", "2026-11-25 18:00", "2026-11-25T24:00", "1969-12-31T23:00", "2200-01-01T00:00", "2026-11-25T18:00:00", "2026-1-5T18:00"} {
		_, err := utc.parse(none)
		assert.Error(t, err, none)
	}
}

// By hand: (2 + 4·3 + 10)/6 = 4 h; at a ratio of 1.5 with 1 h worked 5 h are left, and never
// less than a tenth of 6 h. A cure of 24 h for 25 °C takes twice as long at 15 °C. A table
// of 10 °C 40 h and 20 °C 10 h gives √(40·10) = 20 h at 15 °C.
func TestWhatIsLeftOfAStep(t *testing.T) {
	t.Parallel()
	fifteen, twentyFive := 15.0, 25.0
	p := Plan{Warmth: &fifteen}
	minutes, outside := p.curing(&Cure{Hours: 24, At: &twentyFive})
	assert.Equal(t, []any{int64(2880), false}, []any{minutes, outside})
	table := []CureAt{{10, 40}, {20, 10}}
	minutes, outside = p.curing(&Cure{Hours: 1, Table: table})
	assert.Equal(t, []any{int64(1200), false}, []any{minutes, outside})
	cold := 5.0
	p.Warmth = &cold
	minutes, outside = p.curing(&Cure{Hours: 1, Table: table})
	assert.Equal(t, []any{int64(2400), true}, []any{minutes, outside})
	p.Warmth = nil
	minutes, _ = p.curing(&Cure{Hours: 7, Table: table})
	assert.Equal(t, int64(420), minutes, "nobody knows how warm it is")

	one := Plan{Steps: []Step{{ID: "a", Kind: "k", Low: 2, Likely: 3, High: 10, People: 1, State: Open}}}
	for worked, want := range map[float64]int64{1: 300, 5.9: 36} {
		w := one.left(one.network(), []PaceOf{{Kind: "k", Ratio: 1.5}}, []float64{worked})
		assert.Equal(t, want, w.remaining[0], "%g h worked", worked)
	}
}

// By hand: kit works 19:00 to 21:00 and begins something else at 20:00: the second hour is the
// other's. A helper beside kit from 19:30 to 20:30 makes it 2 h of the clock at step a.
func TestNoMinuteCountsTwice(t *testing.T) {
	t.Parallel()
	p, errs := Read([]byte(`{"format":"orpine.plan","version":1,"now":"2026-11-25T22:00","builder":"kit","steps":[{"id":"a","hours":4,"assembly":"wing"},{"id":"b","hours":1}],"sessions":[
		{"who":"kit","from":"2026-11-25T19:00","to":"2026-11-25T21:00","category":"build","step":"a"},
		{"who":"kit","from":"2026-11-25T20:00","to":"2026-11-25T20:30","category":"waiting","step":"b"},
		{"who":"helper","from":"2026-11-25T19:30","to":"2026-11-25T20:30","category":"build","step":"a"},
		{"who":"kit","from":"2026-11-25T21:30","category":"paperwork","assembly":"tail"}]}`))
	require.Empty(t, errs)
	h, worked := p.worked()
	assert.Equal(t, Hours{Total: 3.5, Builder: 2.5, Others: 1, ByCategory: map[string]float64{"build": 2.5, "waiting": 0.5, "paperwork": 0.5}, ByAssembly: map[string]float64{"wing": 2.5, "tail": 0.5}, ByStep: map[string]float64{"a": 2.5, "b": 0.5}, ByPerson: map[string]float64{"kit": 2.5, "helper": 1}}, h)
	assert.Equal(t, []float64{2, 0}, worked)
}

// What is wrong is named where it is, all of it at once.
func TestEveryErrorIsNamedAtItsField(t *testing.T) {
	t.Parallel()
	for text, paths := range map[string][]string{
		`[]`: {""},
		`{"format":"x","version":2,"now":"soon","steps":{},"zone":"Local","extra":1}`:                                                             {"format", "version", "now", "steps", "zone", "extra"},
		`{"format":"orpine.plan","version":1,"steps":[]}`:                                                                                         {"now"},
		head(`"week":{"mon":{"from":"25:00","hours":2},"tue":{"from":"23:00","hours":2},"wed":{"hours":0.001},"day":{}}`):                         {"week.mon.from", "week.tue.hours", "week.wed.from", "week.wed.hours", "week.day"},
		head(`"away":[{"from":"2026-12-02","to":"2026-12-01"}],"visits":[{"id":"","from":"2026-12-01T10:00","hours":1,"people":1}]`):              {"away[0].to", "visits[0].id", "visits[0].people"},
		head(`"shop_temperature":101,"bays":["a","a",""],"suppliers":[{"id":"s","delays":[1.5]}]`):                                                {"shop_temperature", "bays[1]", "bays[2]", "suppliers[0].delays[0]"},
		head(`"suppliers":[{"id":"s"}],"orders":[{"id":"o","supplier":"s","asked":"2026-11-20","promised":"2026-11-19","sent":"2026-11-18"}]`):    {"orders[0].promised", "orders[0].sent"},
		head(`"questions":[{"id":"q"}],"pace":[{"kind":"k","estimated":-1}]`):                                                                     {"questions[0].open", "pace[0].estimated", "pace[0].actual"},
		head(`"money":{"currency":"EUR","saved":-1,"per_month":1.5,"day":29,"stages":[{"id":"s","price":1,"lead_days":1,"needed_by":"nobody"}]}`): {"money.saved", "money.per_month", "money.day", "money.stages[0].needed_by"},
		steps(`{"id":"a","hours":{"low":3,"likely":2,"high":1}}`):                                                                                 {"steps[0].hours.likely", "steps[0].hours.high"},
		steps(`{"id":"a","hours":1,"people":0,"after":["b","b"],"state":"lost","done":"2026-11-20T10:00"}`):                                       {"steps[0].people", "steps[0].after[0]", "steps[0].after[1]", "steps[0].state", "steps[0].done"},
		steps(`{"id":"a","hours":1,"state":"done","cure":{"hours":1,"table":[{"at":5,"hours":1}]}}`):                                              {"steps[0].done", "steps[0].cure.table"},
		steps(`{"id":"a","hours":1,"after":["a"]}`):                                                                                               {"steps"},
		steps(`{"id":"` + strings.Repeat("å", 201) + `","hours":1}`):                                                                              {"steps[0].id"},
	} {
		_, errs := Read([]byte(text))
		var got []string
		for _, e := range errs {
			got = append(got, e.Path)
			assert.NotEmpty(t, e.Message)
		}
		assert.Subset(t, got, paths, text)
		assert.Len(t, got, len(paths), "%s: %v", text, errs)
	}
	_, errs := Read([]byte(strings.Repeat(" ", MaxBytes+1)))
	assert.Len(t, errs, 1)
}

func head(more string) string {
	return `{"format":"orpine.plan","version":1,"now":"2026-11-25T18:00","steps":[],` + more + `}`
}

func steps(one string) string {
	return `{"format":"orpine.plan","version":1,"now":"2026-11-25T18:00","steps":[` + one + `]}`
}

// The same seed gives the same trial; few builders are enough to see that the band is one. The
// whole proof is in docs/proof.md.
func TestTheBandHoldsWhatItTrulyTakes(t *testing.T) {
	t.Parallel()
	trial := Try(30, 20, 3)
	assert.Equal(t, Try(2, 2, 3), Try(2, 2, 3))
	for _, h := range []Holding{trial.Year, trial.New} {
		assert.Greater(t, h.Band.Share, 0.6)
		assert.Greater(t, h.Width, 0.1)
		assert.Greater(t, h.Drivers.Share, 0.8)
	}
	assert.Less(t, trial.Year.Width, trial.New.Width, "a record tells")
	assert.Less(t, trial.Ours.Worst, 0.1)
	assert.LessOrEqual(t, trial.Ours.Mean, trial.Rule.Mean)
	assert.Less(t, trial.Ours.Mean, trial.Longest.Mean)
	assert.Less(t, trial.Ours.Mean, trial.Document.Mean)
	assert.LessOrEqual(t, trial.Idle, trial.IdleRule+120)
}

// FuzzRead: no document makes the planner panic or run on.
// The advice is the same each time, leaves no step out, and finishes no later than the rule;
// among forty small plans there is one that it finishes sooner.
func TestTheAdviceIsNeverWorseThanTheRuleAndLosesNoStep(t *testing.T) {
	t.Parallel()
	better := 0
	for seed := range uint64(40) {
		p := aBuilder(rand.New(rand.NewPCG(5, seed)), 12, false, 1).plan
		rule := p.Solve()
		advice, way := p.Advise(1)
		assert.InDelta(t, (p.minutesTo(t, rule)-p.minutesTo(t, advice))/1440, way.Sooner(), 1e-9)
		assert.Equal(t, way.Rule(), way.Order() == nil)
		assert.Equal(t, advice, advised(p), "the same advice each time")
		require.NotNil(t, rule.Finish)
		require.NotNil(t, advice.Finish)
		assert.LessOrEqual(t, p.minutesTo(t, advice), 1.021*p.minutesTo(t, rule), "within what counts as the same")
		assert.Len(t, advice.Schedule, len(rule.Schedule))
		assert.Equal(t, rule.Now, advice.Now)
		if *advice.Finish < *rule.Finish {
			better++
		}
	}
	assert.Positive(t, better)
	assert.Equal(t, Plan{Zone: clockUTC}.Solve(), advised(Plan{Zone: clockUTC}))
}

func FuzzRead(f *testing.F) {
	for seed := range uint64(5) {
		data, _ := json.Marshal(randomPlan(rand.New(rand.NewPCG(seed, 3))))
		f.Add(data)
	}
	f.Add([]byte(`{"format":"orpine.plan"`))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, errs := Read(data)
		if len(errs) == 0 {
			_, err := json.Marshal(p.Solve())
			require.NoError(t, err)
		}
	})
}

// great is a plan of so many steps, each after one or two of those before it, with orders and
// stages.
func great(count, orders, stages int) []byte {
	random := rand.New(rand.NewPCG(7, 7))
	doc := map[string]any{"format": "orpine.plan", "version": 1, "zone": "Europe/Oslo", "now": "2026-11-25T18:00", "suppliers": []any{map[string]any{"id": "s"}},
		"week": map[string]any{"tue": map[string]any{"from": "19:00", "hours": 2}, "thu": map[string]any{"from": "19:00", "hours": 2}, "sat": map[string]any{"from": "09:00", "hours": 6}}}
	var list, visits, wanted []any
	for i := range count {
		s := map[string]any{"id": fmt.Sprint("s", i), "hours": 0.5 + float64(random.IntN(10))/10, "whole": random.IntN(10) == 0}
		after := map[string]bool{}
		for range random.IntN(3) {
			if i > 0 {
				after[fmt.Sprint("s", max(0, i-1-random.IntN(50)))] = true
			}
		}
		var names []any
		for name := range after {
			names = append(names, name)
		}
		if s["after"] = names; names == nil {
			s["after"] = []any{}
		}
		if random.IntN(20) == 0 {
			s["people"] = 2
		}
		if random.IntN(15) == 0 {
			s["cure"] = map[string]any{"hours": 24}
		}
		if i < orders {
			s["needs"] = []any{fmt.Sprint("o", i)}
		}
		list = append(list, s)
	}
	for i := range 400 {
		visits = append(visits, map[string]any{"id": fmt.Sprint("v", i), "from": Date(20800+14*i).String() + "T09:00", "hours": 5, "people": 2})
	}
	var ordered []any
	for i := range orders {
		ordered = append(ordered, map[string]any{"id": fmt.Sprint("o", i), "supplier": "s", "lead_days": random.IntN(200)})
	}
	for i := range stages {
		wanted = append(wanted, map[string]any{"id": fmt.Sprint("g", i), "price": 100, "lead_days": 10, "needed_by": fmt.Sprint("s", random.IntN(count))})
	}
	doc["steps"], doc["visits"] = list, visits
	if orders > 0 {
		doc["orders"] = ordered
	}
	if stages > 0 {
		doc["money"] = map[string]any{"currency": "EUR", "saved": 0, "per_month": 100, "stages": wanted}
	}
	data, _ := json.Marshal(doc)
	return data
}

func benchmark(b *testing.B, data []byte) {
	for b.Loop() {
		p, errs := Read(data)
		if len(errs) > 0 {
			b.Fatal(errs[0])
		}
		if answer, err := json.Marshal(p.Solve()); err != nil || len(answer) == 0 {
			b.Fatal(err)
		}
	}
}

func BenchmarkTenThousandSteps(b *testing.B)          { benchmark(b, great(10_000, 0, 0)) }
func BenchmarkTwoHundredOrdersAndStages(b *testing.B) { benchmark(b, great(10_000, 200, 200)) }

// A step that fits no stretch is not looked for through forty years of evenings.
func BenchmarkBandWithAStepThatNeverFits(b *testing.B) {
	p, errs := Read(great(40, 0, 0))
	if len(errs) > 0 {
		b.Fatal(errs[0])
	}
	p.Steps[39].Whole, p.Steps[39].Low, p.Steps[39].Likely, p.Steps[39].High = true, 20, 20, 20
	p.Visits = p.Visits[:4]
	for b.Loop() {
		if band := p.Band(Way{}, 300, 1, nil); !band.Ends() {
			b.Fatal("there is no band")
		}
	}
}

func BenchmarkNonsense(b *testing.B) {
	for name, piece := range map[string]string{"objects": `{"a":1},`, "lists": "[", "texts": `"x",`, "numbers": "1,"} {
		data := []byte(`{"steps":[` + strings.Repeat(piece, (MaxBytes-20)/len(piece)))
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, errs := Read(data); len(errs) == 0 {
					b.Fatal("taken")
				}
			}
		})
	}
}

// minutesTo is how long it is to the finish of an answer.
func (p Plan) minutesTo(t *testing.T, a Answer) float64 {
	finish, err := p.Zone.parse(*a.Finish)
	require.NoError(t, err)
	return float64(finish - p.Now)
}

func BenchmarkBandOfTenThousandSteps(b *testing.B) {
	p, _ := Read(great(10_000, 0, 0))
	for b.Loop() {
		p.Band(Way{}, 100, 1, nil)
	}
}
