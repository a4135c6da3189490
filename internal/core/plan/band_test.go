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

// Nothing is doubtful of this plan but what a test adds.
const sure = `"step": 0, "pace": 0, "kind": 0, "unplanned": 0, "visit": 0, "evening": 0, "lead": 0, "savings": 0`

// without is a risk with some of the doubts given.
func without(doubts ...string) string {
	risk := sure
	for _, d := range doubts {
		name, _, _ := strings.Cut(d, ":")
		risk = strings.Replace(risk, name+": 0", d, 1)
	}
	return risk
}

// always is a week in which the builder is there day and night.
const always = `"week": {"mon": {"from": "00:00", "hours": 24}, "tue": {"from": "00:00", "hours": 24}, "wed": {"from": "00:00", "hours": 24}, "thu": {"from": "00:00", "hours": 24}, "fri": {"from": "00:00", "hours": 24}, "sat": {"from": "00:00", "hours": 24}, "sun": {"from": "00:00", "hours": 24}}`

// saturdays is a week of three hours on Saturday.
const saturdays = `"week": {"sat": {"from": "09:00", "hours": 3}}`

// doubtful reads a plan of Wednesday 25 November 2026, 00:00.
func doubtful(t *testing.T, risk string, fields ...string) Plan {
	t.Helper()
	doc := fmt.Sprintf(`{"format": "orpine.plan", "version": 1, "now": "2026-11-25T00:00", "risk": {%s}, %s}`, risk, strings.Join(fields, ", "))
	p, errs := Read([]byte(doc))
	require.Empty(t, errs, doc)
	return p
}

// hoursTo are the hours to the 10, 50 and 90 % of a band.
func hoursTo(p Plan, b Band) [3]float64 {
	return [3]float64{hours(b.Early - p.Now), hours(b.Likely - p.Now), hours(b.Late - p.Now)}
}

// The quantiles of each doubt by itself, by its own distribution: the ⌈xN/100⌉-th of ten thousand
// plays lies within three standard errors of it, √(q(1 − q)/N)/f.
func TestEachDoubtByItselfHasItsOwnQuantiles(t *testing.T) {
	t.Parallel()
	one := `"steps": [{"id": "a", "hours": 100}]`
	for name, c := range map[string]struct {
		plan   Plan
		want   [3]float64
		within float64
	}{
		// exp(σz − σ²/2) with σ = 0.5 and z = ∓1.2816, 0: 0.4650, 0.8825, 1.6749; three standard errors
		// are 3·0.5·0.3/0.1755/100 = 2.6 % at the ends
		"pace": {doubtful(t, without(`"pace": 0.5`), always, one), [3]float64{46.50, 88.25, 167.49}, 0.026},
		// the same, of a single step
		"work": {doubtful(t, without(`"step": 0.5`), always, one), [3]float64{46.50, 88.25, 167.49}, 0.026},
		// 100 · (1 + 0.4·U), U even from 0.5 to 1.5: 1.24, 1.40, 1.56
		"unplanned": {doubtful(t, without(`"unplanned": 0.4`), always, one), [3]float64{124, 140, 156}, 0.005},
		// a beta of (6, 10, 30): α = 1 + 4·4/24 = 5/3, β = 13/3; its quantiles of 0.1, 0.5, 0.9 are 0.0804, 0.2569, 0.5177
		"three hours": {doubtful(t, without(`"step": 0.3`), always, `"steps": [{"id": "a", "hours": {"low": 6, "likely": 10, "high": 30}}]`), [3]float64{6 + 24*0.0804, 6 + 24*0.2569, 6 + 24*0.5177}, 0.03},
	} {
		b := c.plan.Band(Way{}, 10_000, 7, nil)
		for i, got := range hoursTo(c.plan, b) {
			assert.InEpsilon(t, c.want[i], got, c.within, "%s: %d of %v", name, i, hoursTo(c.plan, b))
		}
		require.NotEmpty(t, b.Drivers, name)
		assert.InDelta(t, 1, b.Drivers[0].Share, 1e-9, "%s: nothing else is drawn", name)
		assert.Zero(t, b.Never)
	}
}

// Without any doubt all three are the finish; so they are where nothing is left to do.
func TestABandWithoutDoubtsIsTheFinish(t *testing.T) {
	t.Parallel()
	for _, steps := range []string{`"steps": [{"id": "a", "hours": 5}, {"id": "b", "hours": 2, "after": ["a"]}]`, `"steps": []`, `"steps": [{"id": "a", "hours": 5, "state": "done", "done": "2026-11-24T10:00", "cure": {"hours": 48}}]`} {
		p := doubtful(t, sure, saturdays, steps)
		b, finish := p.Band(Way{}, 10, 1, nil), p.Solve().Finish
		assert.Equal(t, []*string{finish, finish, finish}, []*string{b.P10, b.P50, b.P90}, steps)
		assert.Empty(t, b.Drivers)
	}
}

// Of one hour an evening three in ten fall away: thirty hours take about 43 days, and never fewer
// than thirty. With half of that as its own spread a month's share is uneven.
func TestEveningsThatFallAway(t *testing.T) {
	t.Parallel()
	week := strings.ReplaceAll(always, `"hours": 24`, `"hours": 1`)
	p := doubtful(t, without(`"evening": 0.3`), week, `"steps": [{"id": "a", "hours": 30}]`)
	b := p.Band(Way{}, 4_000, 1, nil)
	got := hoursTo(p, b)
	assert.InDelta(t, 43, got[1]/24, 2)
	assert.Greater(t, got[0]/24, 29.0)
	require.Len(t, b.Drivers, 1)
	assert.Equal(t, "evenings", b.Drivers[0].What)
	quiet := p.game(Way{}, 1).play(0, draws{})
	assert.InDelta(t, 43, float64(quiet.finish-p.Now)/1440, 1, "at its mean every third to fourth falls away")
}

// A visit falls through three times in ten, and is then held two weeks later, or four, or six at
// most: 70, 21, 6.3 and 2.7 %. A step for two that outgrows the last one gets another after 28 days:
// with σ = 0.5 four in ten do, 1 − Φ(0.25).
func TestVisitsFallThroughAndAreHeldLater(t *testing.T) {
	t.Parallel()
	visit := `"visits": [{"id": "v", "from": "2026-12-01T10:00", "hours": 3, "people": 2}], "steps": [{"id": "a", "hours": 3, "people": 2}]`
	p := doubtful(t, without(`"visit": 0.3`), saturdays, visit)
	g := p.game(Way{}, 1)
	ends := map[int64]int{}
	for k := range 4000 {
		ends[(g.play(k, everything).finish-p.Now-6*1440-13*60)/1440]++
	}
	assert.InDelta(t, 2800, ends[0], 90)
	assert.InDelta(t, 840, ends[14], 80)
	assert.InDelta(t, 252, ends[28], 50)
	assert.InDelta(t, 108, ends[42], 35)
	assert.Len(t, ends, 4)

	p = doubtful(t, without(`"step": 0.5`), saturdays, visit)
	b := p.Band(Way{}, 4000, 1, nil)
	assert.InDelta(t, 0.401, b.ExtraVisits, 0.024)
	assert.Equal(t, "2026-12-29", (*b.P90)[:10], "28 days after the only visit")
	assert.Zero(t, b.Never)
}

// A whole step of three hours fits a Saturday of three; where more is drawn the rest of it is done
// the Saturday after, and what follows waits for that.
func TestAWholeStepThatOutgrowsItsEveningGoesOnAfterIt(t *testing.T) {
	t.Parallel()
	p := doubtful(t, without(`"unplanned": 0.5`), saturdays, `"steps": [{"id": "a", "hours": 3, "whole": true}, {"id": "b", "hours": 1, "after": ["a"]}]`)
	b := p.Band(Way{}, 200, 1, nil)
	assert.Zero(t, b.Never)
	// Both grow by 1.25 … 1.75, evenly: 4 h to 5.2 with 10 %, of which 3 on 28 November and 2.2 on 5
	// December; to 6.8 with 90 %, of which 0.8 are left for 12 December
	assert.Equal(t, "2026-12-05T11", (*b.P10)[:13])
	assert.Equal(t, "2026-12-12T09", (*b.P90)[:13])
}

// A supplier of whom three deliveries came ten days late is as late again in half of the plays; else
// what he promised is stretched.
func TestOrdersComeAsLateAsBefore(t *testing.T) {
	t.Parallel()
	p := doubtful(t, without(`"lead": 0.3`), always, `"suppliers": [{"id": "s", "delays": [10, 10, 10]}], "orders": [{"id": "o", "supplier": "s", "asked": "2026-11-05", "promised": "2026-12-05"}], "steps": [{"id": "a", "hours": 1, "needs": ["o"]}]`)
	g := p.game(Way{}, 3)
	days := map[string]int{}
	for k := range 2000 {
		days[p.Zone.print(g.play(k, everything).finish)[:10]]++
	}
	assert.InDelta(t, 1000+40, days["2026-12-16"], 100, "promised 5 December, 10 days late, counted from the day after; some of the others too")
	for day := range days {
		assert.GreaterOrEqual(t, day, "2026-11-27", "never of the past")
	}
	b := p.Band(Way{}, 200, 1, nil)
	assert.Equal(t, "orders", b.Drivers[0].What)
	off := doubtful(t, sure, always, `"suppliers": [{"id": "s", "delays": [10, 10, 10]}], "orders": [{"id": "o", "supplier": "s", "asked": "2026-11-05", "promised": "2026-12-05"}], "steps": [{"id": "a", "hours": 1, "needs": ["o"]}]`)
	b = off.Band(Way{}, 50, 1, nil)
	assert.Equal(t, *off.Solve().Finish, *b.P10)
	assert.Equal(t, *off.Solve().Finish, *b.P90)
}

// What is saved so slowly that it takes forty years at its mean never comes where it is a little
// slower: exp(σz − σ²/2) < 1 in Φ(σ/2) = 54 % of the plays with σ = 0.2.
func TestSavingsThatMayNeverReach(t *testing.T) {
	t.Parallel()
	p := doubtful(t, without(`"savings": 0.2`), always, `"money": {"currency": "NOK", "saved": 0, "per_month": 1000, "stages": [{"id": "kit", "price": 480000, "lead_days": 1, "needed_by": "a"}]}, "steps": [{"id": "a", "hours": 1}]`)
	b := p.Band(Way{}, 1000, 1, nil)
	assert.InDelta(t, 0.54, b.Never, 0.05)
	assert.Equal(t, map[string]float64{"money": b.Never}, b.NeverBy)
	assert.Nil(t, b.P90)
	assert.Nil(t, b.P50)
	assert.NotNil(t, b.P10)
	text, err := json.Marshal(b)
	require.NoError(t, err)
	assert.Contains(t, string(text), `"p90":null`)
}

// What the plan itself cannot end is left out, and the rest has a band.
func TestWhatThePlanItselfLeavesIsLeftOut(t *testing.T) {
	t.Parallel()
	p := doubtful(t, without(`"pace": 0.3`), always, `"questions": [{"id": "q", "open": true}], "steps": [{"id": "a", "hours": 50}, {"id": "b", "hours": 5, "waits_for": ["q"]}, {"id": "c", "hours": 5, "after": ["b"]}]`)
	b := p.Band(Way{}, 200, 1, nil)
	assert.Equal(t, []string{"b", "c"}, b.LeftOut)
	assert.Zero(t, b.Never)
	assert.InDelta(t, 48, hoursTo(p, b)[1], 4)
}

// What the builder's own months tell: of four months of ten hours at steps of ten, by their
// logarithms; of unplanned work; and of evenings that he did not come to.
func TestTheRecordTellsOfTheDoubts(t *testing.T) {
	t.Parallel()
	steps, sessions := []string{}, []string{}
	for m, hours := range []int{8, 10, 12, 15} { // June to September, one step of 10 h in each
		steps = append(steps, fmt.Sprintf(`{"id": "d%d", "hours": 10, "state": "done"}`, m))
		sessions = append(sessions, fmt.Sprintf(`{"who": "builder", "from": "2026-%02d-06T06:00", "to": "2026-%02d-06T%02d:00", "category": "build", "step": "d%d"}`, m+6, m+6, 6+hours, m))
	}
	sessions = append(sessions, `{"who": "builder", "from": "2026-06-13T09:00", "to": "2026-06-13T12:00", "category": "rework"}`, `{"who": "builder", "from": "2026-06-20T09:00", "to": "2026-06-20T11:00", "category": "build"}`,
		`{"who": "builder", "from": "2026-06-01T09:00", "to": "2026-06-01T09:30", "category": "meeting"}`, `{"who": "helper", "from": "2026-06-20T09:00", "to": "2026-06-20T19:00", "category": "rework"}`)
	doc := func(more string) Plan {
		return doubtful(t, "", `"week": {"sat": {"from": "09:00", "hours": 5}}, "steps": [`+strings.Join(steps, ",")+`, {"id": "a", "hours": 20}]`, `"sessions": [`+strings.Join(sessions, ",")+more+`]`)
	}
	p := doc("")
	g := p.game(Way{}, 1)
	// ln 0.8, 1, 1.2, 1.5 are −0.2231, 0, 0.1823, 0.4055: mean 0.0912, Σ(x − mean)² = 0.2142; with
	// 4·0.15² = 0.09 over 7, times 1/4 + 1/1, for four Saturdays are less than a month
	assert.InDelta(t, 0.2331, g.pace, 2e-4)
	assert.InDelta(t, 0.1, g.other, 1e-12, "45 h at steps tell nothing yet")
	assert.InDelta(t, 5.0/55, doc(`, {"who": "builder", "from": "2026-09-20T06:00", "to": "2026-09-20T16:00", "category": "build", "step": "d3"}`).unplannedShare(), 1e-12, "the builder's own")
	// From 1 June to 31 October there are 22 Saturdays of five hours, 110 h; 50.5 h were worked
	assert.InDelta(t, 1-50.5/110, g.missed, 1e-9)
	assert.InDelta(t, 0.1, doubtful(t, "", saturdays, `"steps": [], "sessions": [{"who": "builder", "from": "2026-10-20T09:00", "to": "2026-10-20T10:00", "category": "build"}]`).missedShare(), 1e-12, "five weeks are too few")
	// Without a record
	fresh := doubtful(t, "", saturdays, `"pace": [{"kind": "rivet", "estimated": 30, "actual": 30}], "steps": [{"id": "a", "kind": "rivet", "hours": 20}]`).game(Way{}, 1)
	assert.InDelta(t, 0.3, fresh.pace, 1e-12)
	assert.InDelta(t, 0.15*0.5, fresh.kind["rivet"], 1e-12, "√(10/(10 + 30))")
}

// The same seed gives the same band, however many work at it, and another seed another one; how far
// it is, is told, up to all of it.
func TestABandIsTheSameEachTime(t *testing.T) {
	t.Parallel()
	p, errs := Read(great(40, 3, 2))
	require.Empty(t, errs)
	most, of := make(chan int, 20_000), 0
	one := p.Band(Way{}, 100, 4, func(done, all int) { most <- done; of = all })
	close(most)
	last := 0
	for done := range most {
		last = max(last, done)
	}
	assert.LessOrEqual(t, last, of)
	assert.Equal(t, one, p.Band(Way{}, 100, 4, nil))
	assert.NotEqual(t, one.P50, p.Band(Way{}, 100, 5, nil).P50)
	assert.True(t, p.Now < one.Early && one.Early < one.Likely && one.Likely < one.Late, "%+v", one)
	steps := 0
	for i, d := range one.Drivers {
		assert.True(t, i == 0 || d.Share <= one.Drivers[i-1].Share)
		if d.What == "step" {
			steps++
		}
	}
	assert.LessOrEqual(t, steps, 2)
}

// What is said of the doubts is read within its bounds, and written again.
func TestRiskIsReadAndWritten(t *testing.T) {
	t.Parallel()
	p := doubtful(t, `"pace": 0.2, "evening": 0.9`, `"steps": []`)
	text, err := json.Marshal(p.Document(""))
	require.NoError(t, err)
	again, errs := Read(text)
	require.Empty(t, errs)
	assert.Equal(t, p.Risk, again.Risk)
	for risk, path := range map[string]string{`{"pace": 2.1}`: "risk.pace", `{"evening": 0.91}`: "risk.evening", `{"step": -0.1}`: "risk.step", `{"luck": 1}`: "risk.luck", `{"lead": null}`: "risk.lead", `3`: "risk"} {
		_, errs := Read([]byte(`{"format": "orpine.plan", "version": 1, "now": "2026-11-25T00:00", "steps": [], "risk": ` + risk + `}`))
		require.Len(t, errs, 1, risk)
		assert.Equal(t, path, errs[0].Path)
	}
}

// Whatever plan it is: a band comes to an end, its days are in order and not before now, and shares are
// shares.
func TestEveryPlanHasABand(t *testing.T) {
	t.Parallel()
	for seed := range uint64(40) {
		doc := randomPlan(rand.New(rand.NewPCG(71, seed)))
		if seed%3 == 0 {
			doc["risk"] = map[string]any{"step": 1.5, "pace": 1, "unplanned": 0.9, "visit": 0.9, "evening": 0.9, "lead": 2}
		}
		text, err := json.Marshal(doc)
		require.NoError(t, err)
		p, errs := Read(text)
		require.Empty(t, errs)
		_, way := p.Advise(1)
		b := p.game(way, seed).band(10, 3, nil)
		assert.True(t, p.Now <= b.Early && b.Early <= b.Likely && b.Likely <= b.Late, "%s", text)
		sum := 0.0
		for _, share := range b.NeverBy {
			sum += share
		}
		assert.InDelta(t, b.Never, sum, 1e-9)
		assert.True(t, 0 <= b.ExtraVisits && b.ExtraVisits <= 1)
		for _, d := range b.Drivers {
			assert.True(t, d.Days >= leastDays || d.Share >= leastShare, "%+v", d)
		}
	}
}
