package plan

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
)

// naive is a schedule made minute by minute from the words of the format: no heaps, no events.
type naive struct {
	p     Plan
	net   network
	w     work
	ended []int64
	begun []int64
	left  []int64
	last  []int64 // when it was worked on last, -1 for never
	idle  []int64
	in    map[int64]int // what was worked on in each minute
}

func (n *naive) people(t int64) int {
	most := 0
	for _, v := range n.p.Visits {
		if v.From <= t && t < v.To {
			most = max(most, v.People)
		}
	}
	if most > 0 {
		return most
	}
	day := n.p.Zone.date(t)
	for d := day - 1; d <= day; d++ {
		s := n.p.Week[d.time().Weekday()]
		away := slices.ContainsFunc(n.p.Away, func(a [2]Date) bool { return a[0] <= d && d <= a[1] })
		from, _ := n.p.Zone.at(d, s.From)
		if !away && s.Minutes > 0 && from <= t && t < from+int64(s.Minutes) {
			return 1
		}
	}
	return 0
}

func (n *naive) undone(i int, t int64) bool {
	return n.p.Steps[i].State != Done && (n.ended[i] < 0 || n.ended[i] > t)
}

func (n *naive) ready(i int, t int64, counts, paid []int64) bool {
	for _, b := range n.net.predecessors(i) {
		switch s := n.p.Steps[b]; {
		case s.State == Done && s.Ended != nil && *s.Ended+n.w.cure[b] > t:
			return false
		case s.State != Done && (n.ended[b] < 0 || n.ended[b]+n.w.cure[b] > t):
			return false
		}
	}
	s := n.p.Steps[i]
	return !slices.ContainsFunc(s.Needs, func(o int) bool { return counts[o] > t }) &&
		!slices.ContainsFunc(s.WaitsFor, func(q int) bool { return n.p.Questions[q].Open }) &&
		(n.p.Money == nil || !slices.ContainsFunc(n.p.Money.Stages, func(g Stage) bool {
			k := slices.IndexFunc(n.p.Money.Stages, func(h Stage) bool { return h.ID == g.ID })
			return g.NeededBy == i && !g.Paid && paid[k] > t
		}))
}

// choose applies the third rule.
func (n *naive) choose(list []int, t int64) int {
	keep := func(of func(i int) bool) {
		if some := slices.DeleteFunc(slices.Clone(list), func(i int) bool { return !of(i) }); len(some) > 0 {
			list = some
		}
	}
	several := slices.ContainsFunc(list, func(i int) bool { return n.p.Steps[i].People > 1 })
	keep(func(i int) bool { return n.p.Steps[i].People > 1 })
	if !several {
		waited := map[int]bool{}
		for i, s := range n.p.Steps {
			enough := slices.ContainsFunc(n.p.Visits, func(v Visit) bool { return v.To > t && v.People >= s.People })
			if s.People > 1 && n.undone(i, t) && enough {
				for _, b := range n.net.above(i, func(b int) bool { return n.undone(b, t) }) {
					waited[b] = true
				}
			}
		}
		keep(func(i int) bool { return waited[i] })
	}
	latest := int64(-1)
	for _, i := range list {
		latest = max(latest, n.last[i])
	}
	if latest >= 0 {
		keep(func(i int) bool { return n.last[i] == latest })
	} else {
		keep(func(i int) bool { return n.p.Steps[i].State == Begun })
	}
	best := list[0]
	for _, i := range list {
		if n.w.tail[i] > n.w.tail[best] {
			best = i
		}
	}
	return best
}

func (n *naive) walk(counts, paid []int64, until int64) {
	on := -1
	before := -1
	for t := n.p.Now; t < until; t++ {
		people := n.people(t)
		if people != before {
			on, before = -1, people
		}
		if people == 0 {
			continue
		}
		change := t + 1
		for change < until && n.people(change) == people {
			change++
		}
		var list []int
		for i, s := range n.p.Steps {
			fits := !s.Whole || n.begun[i] >= 0 || t+n.left[i] <= change
			if n.undone(i, t) && s.People <= people && fits && n.ready(i, t, counts, paid) {
				list = append(list, i)
			}
		}
		several := slices.ContainsFunc(list, func(i int) bool { return n.p.Steps[i].People > 1 })
		if on >= 0 && people > 1 && n.p.Steps[on].People == 1 && !n.p.Steps[on].Whole && several {
			on = -1
		}
		if on < 0 {
			if len(list) == 0 {
				n.idle = append(n.idle, t)
				continue
			}
			on = n.choose(list, t)
		}
		if n.begun[on] < 0 {
			n.begun[on] = t
		}
		n.in[t], n.last[on] = on, t
		if n.left[on]--; n.left[on] == 0 {
			n.ended[on] = t + 1
			on = -1
		}
	}
}

// randomPlan is a small plan with everything in it.
func randomPlan(random *rand.Rand) map[string]any {
	day := func(d int) string { return Date(20600 + d).String() }
	steps := []any{}
	count := 2 + random.IntN(9)
	for i := range count {
		low := 0.1 + float64(random.IntN(30))/10
		s := map[string]any{"id": fmt.Sprint("s", i), "hours": map[string]any{"low": low, "likely": low + float64(random.IntN(20))/10, "high": low + 2 + float64(random.IntN(30))/10}}
		if random.IntN(3) == 0 {
			s["people"] = 2 + random.IntN(2)
		}
		s["whole"] = random.IntN(4) == 0
		s["kind"] = []string{"metal", "rivet"}[random.IntN(2)]
		after := []any{}
		for b := range i {
			if random.IntN(4) == 0 {
				after = append(after, fmt.Sprint("s", b))
			}
		}
		s["after"] = after
		switch random.IntN(6) {
		case 0:
			s["state"] = "begun"
		case 1:
			s["state"], s["done"] = "done", day(-1)+"T12:00"
		}
		if random.IntN(4) == 0 && (s["state"] != "done" || s["done"] != nil) {
			s["cure"] = map[string]any{"hours": random.IntN(40)}
		}
		if random.IntN(5) == 0 {
			s["needs"] = []any{"o0"}
		}
		if random.IntN(12) == 0 {
			s["waits_for"] = []any{"q"}
		}
		switch random.IntN(6) {
		case 0:
			s["inside"] = []any{"bay"}
		case 1:
			if i == count-1 {
				s["closes"] = []any{"bay"}
			}
		}
		steps = append(steps, s)
	}
	visits := []any{}
	for i := range random.IntN(4) {
		visits = append(visits, map[string]any{"id": fmt.Sprint("v", i), "from": fmt.Sprintf("%sT%02d:%02d", day(random.IntN(8)), 8+random.IntN(10), random.IntN(60)), "hours": 1 + random.IntN(5), "people": 2 + random.IntN(3)})
	}
	week := map[string]any{}
	for _, d := range days {
		if random.IntN(2) == 0 {
			week[d] = map[string]any{"from": fmt.Sprintf("%02d:30", 7+random.IntN(12)), "hours": 1 + float64(random.IntN(8))/4}
		}
	}
	return map[string]any{"format": "orpine.plan", "version": 1, "zone": []string{"UTC", "Europe/Oslo", "America/Denver"}[random.IntN(3)], "now": day(0) + "T10:00", "week": week, "visits": visits, "bays": []any{"bay"},
		"suppliers": []any{map[string]any{"id": "s"}}, "orders": []any{map[string]any{"id": "o0", "supplier": "s", "promised": day(1 + random.IntN(5))}},
		"questions": []any{map[string]any{"id": "q", "open": random.IntN(2) == 0}}, "steps": steps}
}

// The schedule is the one that walking minute by minute through the rules gives: what was
// worked on in every minute of a month, and where nothing could be.
func TestTheScheduleIsThatOfWalkingMinuteByMinute(t *testing.T) {
	t.Parallel()
	finished := 0
	for seed := range uint64(150) {
		data, err := json.Marshal(randomPlan(rand.New(rand.NewPCG(seed, 12))))
		require.NoError(t, err)
		p, errs := Read(data)
		require.Empty(t, errs, "seed %d", seed)
		_, worked := p.worked()
		net := p.network()
		w := p.left(net, p.paces(worked), worked)
		s := &planner{today: p.Zone.date(p.Now)}
		counts, paid := s.expect(p)
		fast := p.prepare(net, w, counts, paid).schedule()
		until := p.Now + 30*1440
		slow := &naive{p: p, net: net, w: w, left: slices.Clone(w.remaining), in: map[int64]int{}}
		for range p.Steps {
			slow.ended, slow.begun, slow.last = append(slow.ended, -1), append(slow.begun, -1), append(slow.last, -1)
		}
		slow.walk(counts, paid, until)
		in := map[int64]int{}
		for _, st := range fast.stints {
			for m := st.from; m < min(st.to, until); m++ {
				in[m] = st.step
			}
		}
		require.Equal(t, slow.in, in, "seed %d: %s", seed, data)
		last := int64(-1)
		for _, end := range fast.ended {
			last = max(last, end)
		}
		if last > 0 && last < until {
			finished++
			idle := []int64{}
			for _, i := range fast.idle {
				for m := i.from; m < i.to; m++ {
					idle = append(idle, m)
				}
			}
			require.Equal(t, slices.DeleteFunc(append([]int64{}, slow.idle...), func(m int64) bool { return m >= last }), idle, "seed %d", seed)
		}
	}
	require.Greater(t, finished, 50)
}
