package plan

import (
	"math/rand/v2"
	"slices"
)

// What a better order may cost to look for: so many orders are tried, or so many steps are gone
// through in all; and by how much finishes may differ and count as the same.
const (
	ordersTried = 1_200
	stepsTried  = 90_000
	sameFinish  = 0.02      // of the time to the finish
	sameSlack   = 0.01      // likewise
	worthIdling = 0.05      // likewise: what lets helpers stand idle for longer than by the rule
	lainLong    = 31 * 1440 // minutes for which nothing that was begun may lie while it could be worked on
)

// Advise plans a plan as Solve does, and then looks for a better order of its steps; schedule,
// finish, idle and visits are of the one that is advised. The rule of Solve takes one thing at a
// time and does not look ahead; a step of a lower place that opens a helper's evening, or a long
// cure, may pay.
//
// Of orders that finish within 2 % of each other the rule is advised, for it does early what visits
// and long tails wait for; where it is none of them the one that leaves most slack on long tails,
// then the one that interrupts fewest steps. Whichever it is, steps for two go
// first while there are two, helpers stand idle for no longer than by the rule unless that brings the
// finish forward by 5 %, what all else waits for comes before what nothing waits for, and nothing that was begun lies for over a month while
// it could be worked on.
//
// The search swaps two places of a list and keeps what is no worse, begun from the rule's own
// list and from the order in which its schedule began the steps. The same plan and seed give
// the same advice.
func (p Plan) Advise(seed uint64) (a Answer, way Way) {
	a = p.solve(func(s *planner) {
		rule := s.run
		s.run, way.order = s.advised(rand.New(rand.NewPCG(seed, 7)), ordersTried)
		if !way.Rule() {
			first := s.first(s.byRank)
			way.sooner, way.mends = s.finish(rule)-s.finish(s.run), s.lies(rule) || s.leads(rule, first)
		}
	})
	return a, way
}

// tried is a schedule that was tried, with what it is judged by.
type tried struct {
	run    outcome
	order  []int // nil for the rule
	finish int64
	slack  int64 // how late long tails begin, in hundredths of the time that there is: less is better
	breaks int   // steps that are interrupted by others
}

// advised is the best schedule that a search of so many orders finds.
func (s *planner) advised(random *rand.Rand, tries int) (outcome, []int) {
	open := slices.DeleteFunc(slices.Clone(s.byRank), func(i int) bool { return s.run.begun[i] < 0 })
	if len(open) < 2 {
		return s.run, nil
	}
	first := s.first(open)
	begun := slices.Clone(open)
	slices.SortStableFunc(begun, func(a, b int) int { return compare(s.run.begun[a], s.run.begun[b]) })
	idle := s.helpersIdle(s.run)
	rule := s.try(s.run, nil)
	var good, idler []tried
	if !s.lies(s.run) && !s.leads(s.run, first) {
		good = append(good, rule)
	}
	tries = max(4, min(tries, stepsTried/len(s.Steps)))
	for _, from := range [][]int{begun, open} {
		order, was := slices.Clone(from), int64(never)
		for try := range tries / 2 {
			i, k := 0, 0
			if try > 0 {
				i, k = random.IntN(len(order)), random.IntN(len(order))
			}
			order[i], order[k] = order[k], order[i]
			list := slices.Concat(first, order)
			run := s.listed(list).schedule()
			now := s.finish(run)
			if now > was || s.loses(run) {
				order[i], order[k] = order[k], order[i]
				continue
			}
			was = now
			switch {
			case s.lies(run) || s.leads(run, first):
			case s.helpersIdle(run) <= idle:
				good = append(good, s.try(run, list))
			default:
				idler = append(idler, s.try(run, list))
			}
		}
	}
	if len(good) == 0 {
		good = append(good, rule)
	}
	best := s.chosen(good)
	if len(idler) > 0 {
		if other := s.chosen(idler); float64(best.finish-other.finish) > worthIdling*float64(best.finish-s.Now) {
			best = other
		}
	}
	return best.run, best.order
}

// try judges a schedule.
func (s *planner) try(run outcome, order []int) tried {
	t := tried{run: run, order: order, finish: s.finish(run)}
	late, weight := 0.0, 0.0
	for i, at := range run.begun {
		if at >= 0 {
			late += float64(s.work.tail[i]) * float64(at-s.Now)
			weight += float64(s.work.tail[i])
		}
	}
	if span := float64(s.finish(s.run) - s.Now); weight > 0 && span > 0 {
		t.slack = int64(late / weight / (sameSlack * span))
	}
	for k, one := range run.stints[:max(0, len(run.stints)-1)] {
		if run.stints[k+1].step != one.step && run.ended[one.step] != one.to {
			t.breaks++
		}
	}
	return t
}

// chosen is the one to advise of several.
func (s *planner) chosen(good []tried) tried {
	soonest := slices.MinFunc(good, func(a, b tried) int { return compare(a.finish, b.finish) }).finish
	enough := soonest + int64(sameFinish*float64(soonest-s.Now))
	good = slices.DeleteFunc(good, func(t tried) bool { return t.finish > enough })
	if good[0].order == nil { // what a helper's step waits for comes first in it, with time to spare
		return good[0]
	}
	return slices.MinFunc(good, func(a, b tried) int {
		if d := compare(a.slack, b.slack); d != 0 {
			return d
		}
		return a.breaks - b.breaks
	})
}

// helpersIdle are the minutes in which several are present and nothing can be worked on.
func (s *planner) helpersIdle(run outcome) int64 {
	sum := int64(0)
	for _, i := range run.idle {
		if i.people > 1 {
			sum += i.to - i.from
		}
	}
	return sum
}

// first are the steps that all else waits for, in their order: those behind which nine in ten of
// the other steps lie that wait for anything.
func (s *planner) first(open []int) []int {
	behind, waiting := s.behind(open), 0
	for _, i := range open {
		if slices.ContainsFunc(s.net.predecessors(i), func(b int) bool { return s.Steps[b].State != Done }) {
			waiting++
		}
	}
	var out []int
	for _, i := range open {
		if waiting > 1 && 10*behind[i] >= 9*waiting {
			out = append(out, i)
		}
	}
	slices.SortStableFunc(out, func(a, b int) int { return compare(s.work.tail[b], s.work.tail[a]) })
	return out
}

// behind is how many steps wait for each, near and far; of a large plan it is not counted.
func (s *planner) behind(open []int) []int {
	out := make([]int, len(s.Steps))
	if len(open) > 2_000 {
		return out
	}
	undone := func(i int) bool { return s.Steps[i].State != Done }
	for _, i := range open {
		for _, b := range s.net.above(i, undone) {
			out[b]++
		}
	}
	return out
}

// leads tells whether a step that nothing waits for is begun while one could be that all wait for.
func (s *planner) leads(run outcome, first []int) bool {
	for _, f := range first {
		for i, at := range run.begun {
			if at >= 0 && s.Steps[i].People <= s.Steps[f].People && run.ready[f] <= at && at < run.begun[f] && !s.Steps[f].Whole && !s.waitedFor(i) {
				return true
			}
		}
	}
	return false
}

// waitedFor tells whether an undone step waits for a step.
func (s *planner) waitedFor(i int) bool {
	return slices.ContainsFunc(s.net.follows[i], func(f int) bool {
		return f >= len(s.Steps) || s.Steps[f].State != Done
	})
}

// lies tells whether a step that was begun is left lying for over a month in which others of as
// many people are worked on.
func (s *planner) lies(run outcome) bool {
	last := map[int]int64{}
	for i, step := range s.Steps {
		if step.State == Begun && run.ready[i] != never {
			last[i] = run.ready[i]
		}
	}
	for _, one := range run.stints {
		for i, at := range last {
			if i != one.step && s.Steps[i].People == 1 && one.from-at > lainLong && s.Steps[one.step].People == 1 {
				return true
			}
		}
		if last[one.step] = one.to; run.ended[one.step] == one.to {
			delete(last, one.step)
		}
	}
	return false
}

// loses tells whether a schedule leaves a step out that the rule's own ends.
func (s *planner) loses(run outcome) bool {
	for i, ended := range s.run.ended {
		if ended >= 0 && run.ended[i] < 0 {
			return true
		}
	}
	return false
}

// listed is the model in which steps are chosen by their place in a list, those of several people
// first; those that it does not name come last.
func (s *planner) listed(order []int) *model {
	m := s.inOrder(order)
	m.alone, m.listed = false, true
	return m
}

// inOrder is the model in which steps are chosen by their place in a list alone.
func (s *planner) inOrder(order []int) *model {
	other := *s.model
	other.alone, other.rank, other.byRank = true, make([]int, len(s.Steps)), make([]int, 0, len(s.Steps))
	for i := range other.rank {
		other.rank[i] = -1
	}
	for _, list := range [][]int{order, s.byRank} {
		for _, i := range list {
			if other.rank[i] < 0 {
				other.rank[i] = len(other.byRank)
				other.byRank = append(other.byRank, i)
			}
		}
	}
	return &other
}
