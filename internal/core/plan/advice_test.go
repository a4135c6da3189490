package plan

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// broken is what a schedule breaks of what every schedule keeps, worked out from its stints alone:
// nothing before what it comes after is cured, never two things at once, never more people than
// there are, a whole step without a break, and neither more nor less than what is left of a step.
func broken(s *planner, run outcome) string {
	worked := make([]int64, len(s.Steps))
	pieces := make([]int, len(s.Steps))
	until := s.Now
	for _, one := range run.stints {
		step := s.Steps[one.step]
		switch {
		case one.from < until:
			return "two things at once"
		case one.to <= one.from:
			return "no time at all"
		}
		until = one.to
		for _, b := range step.After {
			if s.Steps[b].State != Done && (run.ended[b] < 0 || run.ended[b]+s.work.cure[b] > one.from) {
				return step.ID + " before what it comes after"
			}
		}
		for t := one.from; t < one.to; t++ {
			if peopleAt(s, t) < step.People {
				return step.ID + " with too few people"
			}
		}
		if worked[one.step] > 0 && step.Whole {
			return step.ID + " with a break"
		}
		worked[one.step] += one.to - one.from
		pieces[one.step]++
	}
	for i, step := range s.Steps {
		if run.ended[i] >= 0 && step.State != Done && worked[i] != s.work.remaining[i] {
			return step.ID + " with more or less than what is left of it"
		}
	}
	return ""
}

// peopleAt is how many are there at a minute, from visits and the week alone.
func peopleAt(s *planner, minute int64) int {
	most := 0
	for _, v := range s.Visits {
		if v.From <= minute && minute < v.To {
			most = max(most, v.People)
		}
	}
	if most > 0 {
		return most
	}
	at := s.Zone.Time(minute)
	stretch := s.Week[at.Weekday()]
	if m := at.Hour()*60 + at.Minute(); stretch.Minutes > 0 && m >= stretch.From && m < stretch.From+stretch.Minutes {
		return 1
	}
	return 0
}

// What is advised keeps what every schedule keeps, and so do those that it is chosen from.
func TestAnAdvisedScheduleCanBeDone(t *testing.T) {
	t.Parallel()
	for seed := range uint64(25) {
		random := rand.New(rand.NewPCG(17, seed))
		b := aBuilder(random, 9, false, 1)
		for i := range b.plan.Steps {
			if random.IntN(5) == 0 && b.plan.Steps[i].High < 4 {
				b.plan.Steps[i].Whole = true
			}
		}
		s, _ := b.plan.planner()
		require.Empty(t, broken(s, s.run), "the rule's own")
		advised, _ := s.advised(random, 60)
		assert.Empty(t, broken(s, advised))
		order := random.Perm(len(s.Steps))
		for _, in := range []func([]int) *model{s.inOrder, s.listed} {
			run := in(order).schedule()
			assert.Empty(t, broken(s, run), "any order")
			assert.Equal(t, run, in(order).schedule(), "the same each time")
			assert.NotEmpty(t, in(order[:3]).schedule().stints, "steps that a list does not name come last")
		}
	}
}

// One step, or none, is not worth a search.
func TestThereIsNothingToAdviseOfOneStep(t *testing.T) {
	t.Parallel()
	p := Plan{Zone: clockUTC, Now: 29_000_000, Steps: []Step{{ID: "a", Low: 1, Likely: 1, High: 1, People: 1, State: Open}}}
	p.Week[3] = Stretch{From: 1100, Minutes: 60}
	assert.Equal(t, p.Solve(), advised(p))
	p.Steps = nil
	assert.Equal(t, p.Solve(), advised(p))
}

// What is left of the steps, and what was worked, as the sheets show it: two hours of three are
// left of a, by a pace of 1; b is done.
func TestWhatIsLeftAndWhatWasWorked(t *testing.T) {
	t.Parallel()
	ended := int64(28_999_000)
	p := Plan{Zone: clockUTC, Now: 29_000_000, Builder: "kit", Steps: []Step{{ID: "a", Low: 3, Likely: 3, High: 3, People: 1, State: Begun}, {ID: "b", Low: 1, Likely: 1, High: 1, People: 1, State: Done, Ended: &ended}},
		Sessions: []Session{{Who: "kit", From: 28_990_000, To: 28_990_060, Category: "build", Step: 0}, {Who: "helper", From: 28_990_030, To: 28_990_060, Category: "build", Step: 0}}}
	assert.Equal(t, []float64{2, 0}, p.Remaining())
	assert.Equal(t, []float64{1, 0}, p.Worked(), "of the clock, whoever was there")
	p.Week[2], p.Week[6] = Stretch{From: 1140, Minutes: 90}, Stretch{From: 540, Minutes: 360}
	assert.InDelta(t, 7.5, p.Weekly(), 1e-12)
}

// advised is the answer of an advice.
func advised(p Plan) Answer {
	a, _ := p.Advise(1)
	return a
}
