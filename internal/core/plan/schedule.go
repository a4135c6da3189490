package plan

import (
	"container/heap"
	"math"
	"slices"
)

// never is the minute of what does not come.
const never = math.MaxInt64

// Never is the minute of what does not come.
const Never = never

// Job is a step in the schedule.
type Job struct {
	Step              int
	Start, End, Cured int64
}

// stint is work on one step without a break.
type stint struct {
	step     int
	from, to int64
}

// outcome is a schedule as it came out.
type outcome struct {
	stints []stint
	begun  []int64 // when each step was begun, -1 for never
	ended  []int64 // when its work ended, -1 for never
	ready  []int64 // when it became ready, never for never
	left   []int64
	idle   []stay
	extra  bool // more visits were held than are planned
}

// model is what every schedule of a plan is made from.
type model struct {
	Plan
	net    network
	work   work
	pres   present
	counts []int64 // the minute from which each order counts; never where it is not known
	paid   []int64 // likewise each stage
	rank   []int   // of each step: begun ones first, then the longest tail, then as they are listed
	byRank []int
	helper []int // of each one-person step: the fewest people of a step of several that waits for it
	alone  bool  // the lowest rank alone chooses: for comparison
	listed bool  // steps of several people first, then the lowest rank; nothing begun lies for long

	// In a play of the band only:
	out  []bool  // steps that are left out
	more bool    // while work for several is left after the last visit, visits like it are held
	rest []int64 // what is left of a whole step beyond the longest stretch: it may be interrupted
}

// prepare makes the model; the orders and stages count as they are expected.
func (p Plan) prepare(net network, w work, orders, stages []int64) *model {
	m := &model{Plan: p, net: net, work: w, pres: p.present(), counts: orders, paid: stages}
	m.byRank = make([]int, len(p.Steps))
	for i := range m.byRank {
		m.byRank[i] = i
	}
	begun := func(i int) int {
		if p.Steps[i].State == Begun {
			return 0
		}
		return 1
	}
	slices.SortStableFunc(m.byRank, func(a, b int) int {
		if d := begun(a) - begun(b); d != 0 {
			return d
		}
		return compare(w.tail[b], w.tail[a])
	})
	m.rank = make([]int, len(p.Steps))
	for r, i := range m.byRank {
		m.rank[i] = r
	}
	m.helper = make([]int, len(net.before))
	for i := range m.helper {
		m.helper[i] = math.MaxInt
	}
	for _, node := range slices.Backward(net.order) {
		for _, f := range net.follows[node] {
			if f < net.steps {
				if p.Steps[f].State == Done {
					continue
				}
				if p.Steps[f].People > 1 {
					m.helper[node] = min(m.helper[node], p.Steps[f].People)
				}
			}
			m.helper[node] = min(m.helper[node], m.helper[f])
		}
	}
	return m
}

// pool holds candidates of one class, the one of the lowest rank first: those that can be
// interrupted in a heap, whole ones in a tree by what is left of them.
type pool struct {
	free  ranks
	whole *shelf
}

type ranks []int

func (r ranks) Len() int           { return len(r) }
func (r ranks) Less(i, j int) bool { return r[i] < r[j] }
func (r ranks) Swap(i, j int)      { r[i], r[j] = r[j], r[i] }
func (r *ranks) Push(x any)        { *r = append(*r, x.(int)) }
func (r *ranks) Pop() any {
	last := (*r)[len(*r)-1]
	*r = (*r)[:len(*r)-1]
	return last
}

// shelf finds the lowest rank among whole steps that take no longer than a gap.
type shelf struct {
	long   []int64 // of the steps that may come, sorted
	leaves []ranks // of each length
	tree   []int   // the lowest rank below each node of a segment tree; none for none
	size   int
}

// none is the rank of no step.
const none = math.MaxInt

func newShelf(long []int64) *shelf {
	slices.Sort(long)
	s := &shelf{long: slices.Compact(long), size: 1}
	for s.size < len(s.long) {
		s.size *= 2
	}
	s.leaves, s.tree = make([]ranks, len(s.long)), make([]int, 2*s.size)
	for i := range s.tree {
		s.tree[i] = none
	}
	return s
}

// put lays a step on the shelf.
func (s *shelf) put(long int64, rank int) {
	i, _ := slices.BinarySearch(s.long, long)
	heap.Push(&s.leaves[i], rank)
	s.mend(i)
}

// take takes the lowest rank of a length off the shelf.
func (s *shelf) take(long int64) {
	i, _ := slices.BinarySearch(s.long, long)
	heap.Pop(&s.leaves[i])
	s.mend(i)
}

func (s *shelf) mend(i int) {
	lowest := none
	if len(s.leaves[i]) > 0 {
		lowest = s.leaves[i][0]
	}
	k := s.size + i
	s.tree[k] = lowest
	for k /= 2; k > 0; k /= 2 {
		s.tree[k] = min(s.tree[2*k], s.tree[2*k+1])
	}
}

// best is the lowest rank among those that fit into a gap; none where there is none.
func (s *shelf) best(gap int64) int {
	n, found := slices.BinarySearch(s.long, gap)
	if found {
		n++
	}
	best := none
	for l, r := s.size, s.size+n; l < r; l, r = l/2, r/2 {
		if l&1 == 1 {
			best, l = min(best, s.tree[l]), l+1
		}
		if r&1 == 1 {
			r--
			best = min(best, s.tree[r])
		}
	}
	return best
}

// due is a step, or a bay, that becomes ready at a minute.
type due struct {
	at   int64
	step int
}

type dues []due

func (d dues) Len() int { return len(d) }
func (d dues) Less(i, j int) bool {
	if d[i].at != d[j].at {
		return d[i].at < d[j].at
	}
	return d[i].step < d[j].step
}
func (d dues) Swap(i, j int) { d[i], d[j] = d[j], d[i] }
func (d *dues) Push(x any)   { *d = append(*d, x.(due)) }
func (d *dues) Pop() any {
	last := (*d)[len(*d)-1]
	*d = (*d)[:len(*d)-1]
	return last
}

// class tells which steps are chosen among at once: those of as many people, and of one
// person those that a step of as many people waits for.
type class struct {
	people int
	helper int
}

// run is one schedule while it is made.
type run struct {
	*model
	outcome
	t       int64
	stay    int // the stay that runs, or comes next
	visit   int // the visit that ends next, by visitEnds
	ends    []int
	crowd   []int   // of each of these and those after it, the most people
	pending []int   // nodes before each node that are not complete
	free    []int64 // the minute from which each node is cured, as far as it is known
	future  dues
	classes []class // in order
	pools   map[class]*pool
	broken  []int   // steps that were interrupted, the last one last
	since   []int64 // from when each of them could be worked on again, -1 where it could not yet
	resting []bool  // whole steps of which only the rest is left
	on      bool    // it has begun: what becomes ready is awaited
	open    int     // steps that are not done
	until   map[int]bool
	stopped bool
	last    Visit // in a play: the visit after which more may be held
	several int   // steps that more of these may end
	added   int   // visits that were held beyond the planned ones
}

// schedule makes a schedule. Where some steps are named, it stops as soon as one is begun.
func (m *model) schedule(until ...int) outcome {
	r := &run{model: m, t: m.Now, pools: map[class]*pool{}, until: map[int]bool{}}
	for _, u := range until {
		r.until[u] = true
	}
	n := len(m.Steps)
	r.begun, r.ended, r.ready = make([]int64, n), make([]int64, n), make([]int64, n)
	r.left = slices.Clone(m.work.remaining)
	r.resting, r.since = make([]bool, n), make([]int64, n)
	for i := range n {
		r.begun[i], r.ended[i], r.ready[i] = -1, -1, never
	}
	r.ends = make([]int, len(m.Visits))
	for i := range r.ends {
		r.ends[i] = i
	}
	slices.SortStableFunc(r.ends, func(a, b int) int { return compare(m.Visits[a].To, m.Visits[b].To) })
	r.crowd = make([]int, len(r.ends)+1)
	for i, v := range slices.Backward(r.ends) {
		r.crowd[i] = max(r.crowd[i+1], m.Visits[v].People)
	}
	r.stock()
	r.awaitVisits()
	r.begin()
	for r.step() {
	}
	last := int64(-1)
	for _, end := range r.ended {
		last = max(last, end)
	}
	r.extra = r.added > 0
	r.idle = slices.DeleteFunc(r.idle, func(s stay) bool { return s.from >= last })
	return r.outcome
}

// stock makes the pools.
func (r *run) stock() {
	long := map[class][]int64{}
	for i, s := range r.Steps {
		if s.State == Done {
			continue
		}
		c := r.classOf(i)
		if r.pools[c] == nil {
			r.pools[c] = &pool{}
			r.classes = append(r.classes, c)
		}
		if s.Whole { // nothing of it is worked on yet
			long[c] = append(long[c], r.left[i])
		}
	}
	slices.SortFunc(r.classes, func(a, b class) int {
		if a.people != b.people {
			return a.people - b.people
		}
		return compare(int64(a.helper), int64(b.helper))
	})
	for c, list := range long {
		r.pools[c].whole = newShelf(list)
	}
}

// awaitVisits finds the last visit, and how many steps more visits like it may end.
func (r *run) awaitVisits() {
	if !r.more || len(r.Visits) == 0 {
		return
	}
	r.last = slices.MaxFunc(r.Visits, func(a, b Visit) int { return compare(a.To, b.To) })
	for i, s := range r.Steps {
		if s.State != Done && !r.out[i] && s.People > 1 && s.People <= r.last.People {
			r.several++
		}
	}
}

// another holds one more visit, four weeks after the last.
func (r *run) another() {
	r.last = r.Plan.later(r.last, visitEvery)
	if r.last.From >= r.pres.end {
		r.several, r.last = 0, Visit{To: never}
		return
	}
	for r.stay < len(r.pres.stays) && r.pres.stays[r.stay].to <= r.t {
		r.stay++
	}
	r.pres = r.pres.with(r.last, r.stay)
	r.added++
}

func (r *run) classOf(step int) class {
	if r.Steps[step].People > 1 {
		return class{r.Steps[step].People, 0}
	}
	return class{1, r.helper[step]}
}

// begin counts what each node waits for, and takes what is done as done.
func (r *run) begin() {
	nodes := len(r.net.before)
	r.pending, r.free = make([]int, nodes), make([]int64, nodes)
	for i, list := range r.net.before {
		r.pending[i] = len(list)
	}
	for i := range r.free {
		r.free[i] = r.Now
		if i >= len(r.Steps) {
			continue
		}
		s := r.Steps[i]
		if r.out != nil && r.out[i] {
			r.free[i] = never
		}
		for _, o := range s.Needs {
			r.free[i] = max(r.free[i], r.counts[o])
		}
		for _, q := range s.WaitsFor {
			if r.Questions[q].Open {
				r.free[i] = never
			}
		}
	}
	if r.Money != nil {
		for k, stage := range r.Money.Stages {
			if stage.NeededBy >= 0 && !stage.Paid {
				r.free[stage.NeededBy] = max(r.free[stage.NeededBy], r.paid[k])
			}
		}
	}
	for _, node := range r.net.order {
		switch {
		case node >= len(r.Steps):
			if r.pending[node] == 0 {
				r.complete(node, r.free[node])
			}
		case r.Steps[node].State == Done:
			cured := r.Now
			if s := r.Steps[node]; s.Ended != nil {
				cured = *s.Ended + r.work.cure[node]
			}
			r.complete(node, cured)
		default:
			r.open++
			if r.pending[node] == 0 {
				r.await(node)
			}
		}
	}
	r.on = true
}

// complete tells those that come after a node from when it is cured.
func (r *run) complete(node int, cured int64) {
	for _, f := range r.net.follows[node] {
		r.free[f] = max(r.free[f], cured)
		if r.pending[f]--; r.pending[f] > 0 {
			continue
		}
		switch {
		case !r.on: // begin comes to it in its order
		case f >= len(r.Steps):
			r.complete(f, r.free[f])
		case r.Steps[f].State != Done:
			r.await(f)
		}
	}
}

// await takes a step whose predecessors are all worked on as one that becomes ready.
func (r *run) await(step int) {
	if r.free[step] == never {
		return
	}
	heap.Push(&r.future, due{r.free[step], step})
}

// arrive makes those candidates that are ready by a minute, and returns them.
func (r *run) arrive(by int64) (came []int) {
	for len(r.future) > 0 && r.future[0].at <= by {
		d := heap.Pop(&r.future).(due)
		r.ready[d.step] = d.at
		r.put(d.step)
		came = append(came, d.step)
	}
	return came
}

func (r *run) put(step int) {
	p := r.pools[r.classOf(step)]
	if r.listed && r.Steps[step].State == Begun && !r.whole(step) && r.left[step] == r.work.remaining[step] {
		r.broken, r.since[step] = append(r.broken, step), -1
		return
	}
	if r.whole(step) {
		p.whole.put(r.left[step], r.rank[step])
		return
	}
	heap.Push(&p.free, r.rank[step])
}

// whole tells whether a step is not interrupted once begun.
func (r *run) whole(step int) bool { return r.Steps[step].Whole && !r.resting[step] }

// people is how many are present now, and until when that holds.
func (r *run) people() (n int, until int64) {
	for r.stay < len(r.pres.stays) && r.pres.stays[r.stay].to <= r.t {
		r.stay++
	}
	if r.stay == len(r.pres.stays) {
		return 0, r.pres.end
	}
	s := r.pres.stays[r.stay]
	if s.from > r.t {
		return 0, s.from
	}
	return s.people, s.to
}

// helpers is the most people of the visits that are not over.
func (r *run) helpers() int {
	most := 0
	for r.visit < len(r.ends) && r.Visits[r.ends[r.visit]].To <= r.t {
		r.visit++
	}
	if r.visit < len(r.ends) {
		most = r.crowd[r.visit]
	}
	if r.added > 0 && r.last.To > r.t {
		most = max(most, r.last.People)
	}
	return most
}

// step does the next thing; false when nothing more can be done, or is wanted.
func (r *run) step() bool {
	if r.open == 0 || r.stopped || r.t >= r.pres.end {
		return false
	}
	for r.several > 0 && r.t >= r.last.To {
		r.another()
	}
	r.arrive(r.t)
	n, until := r.people()
	if n > 0 {
		if pick := r.pick(n, until-r.t); pick >= 0 {
			r.workOn(pick, n, until)
			return true
		}
	}
	next := until
	if r.several > 0 { // there may be another visit after this one
		next = min(next, r.last.To)
	} else if r.stay == len(r.pres.stays) || len(r.future) == 0 && r.barren() {
		return false
	}
	if len(r.future) > 0 {
		next = min(next, r.future[0].at)
	}
	if n > 0 {
		if last := len(r.idle) - 1; last >= 0 && r.idle[last].to == r.t {
			r.idle[last].to = next
		} else {
			r.idle = append(r.idle, stay{r.t, next, n})
		}
	}
	r.t = next
	return true
}

// pick chooses what to work on among the candidates, -1 for none: steps of several people
// first, then what those wait for, then the others; of each the one worked on last, else the
// lowest rank.
func (r *run) pick(n int, gap int64) int {
	helpers := r.helpers()
	sets := []func(c class) bool{
		func(c class) bool { return c.people > 1 && c.people <= n },
		func(c class) bool { return c.people == 1 && c.helper <= helpers },
		func(c class) bool { return c.people == 1 },
	}
	switch {
	case r.alone:
		sets = []func(c class) bool{func(c class) bool { return c.people <= n }}
	case r.listed:
		sets = []func(c class) bool{sets[0], sets[2]}
	}
	for _, in := range sets {
		for i := len(r.broken) - 1; i >= 0 && !r.listed; i-- {
			if step := r.broken[i]; in(r.classOf(step)) {
				r.broken = slices.Delete(r.broken, i, i+1)
				return step
			}
		}
		best, from, whole := none, class{}, false
		for _, c := range r.classes {
			if !in(c) {
				continue
			}
			p := r.pools[c]
			if len(p.free) > 0 && p.free[0] < best {
				best, from, whole = p.free[0], c, false
			}
			if p.whole != nil {
				if rank := p.whole.best(gap); rank < best {
					best, from, whole = rank, c, true
				}
			}
		}
		if i := r.lying(in, best); i >= 0 {
			step := r.broken[i]
			r.broken = slices.Delete(r.broken, i, i+1)
			return step
		}
		switch {
		case best == none:
			continue
		case whole:
			r.pools[from].whole.take(r.left[r.byRank[best]])
		default:
			heap.Pop(&r.pools[from].free)
		}
		return r.byRank[best]
	}
	return -1
}

// patience is for how long a step of one person that was begun may lie while others are worked on,
// by a list; those of several wait for visits, which come every few weeks, and may miss one.
const (
	patience      = 14 * 1440
	visitPatience = 45 * 1440
)

// lying is the place of an interrupted step that goes before the rank of any other, because it lies
// for long already or is of a lower rank itself; -1 where none does.
func (r *run) lying(in func(class) bool, best int) int {
	if !r.listed {
		return -1
	}
	found := -1
	for i, step := range r.broken {
		if !in(r.classOf(step)) {
			continue
		}
		if r.since[step] < 0 {
			r.since[step] = r.t
		}
		if wait := r.t - r.since[step]; wait > visitPatience || wait > patience && r.Steps[step].People == 1 {
			return i // the list is in the order in which they were interrupted
		}
		if r.rank[step] < best {
			best, found = r.rank[step], i
		}
	}
	return found
}

// barren tells that nothing which is ready now can ever be begun: no stay from now on has the
// people, or the length.
func (r *run) barren() bool {
	longest, most := r.pres.longest[r.stay], r.pres.most[r.stay]
	return len(r.broken) == 0 && !slices.ContainsFunc(r.classes, func(c class) bool {
		p := r.pools[c]
		return c.people <= most && (len(p.free) > 0 || p.whole != nil && p.whole.best(longest) != none)
	})
}

// workOn works on a step until it is finished, the number present changes, or a step of
// several people becomes ready that goes before it.
func (r *run) workOn(step, n int, until int64) {
	if r.begun[step] < 0 {
		r.begun[step] = r.t
		r.stopped = r.until[step]
	}
	stop := min(r.t+r.left[step], until)
	if n > 1 && r.Steps[step].People == 1 && !r.whole(step) {
		for len(r.future) > 0 && r.future[0].at < stop {
			at := r.future[0].at
			if r.calls(r.arrive(at), at, n, until) {
				stop = at
			}
		}
	}
	r.stints = append(r.stints, stint{step, r.t, stop})
	r.left[step] -= stop - r.t
	r.t = stop
	if r.left[step] > 0 && r.alone {
		r.put(step)
		return
	}
	if r.left[step] > 0 {
		r.broken, r.since[step] = append(r.broken, step), -1
		return
	}
	if r.rest != nil && r.rest[step] > 0 && !r.resting[step] {
		r.resting[step], r.left[step] = true, r.rest[step]
		r.put(step)
		return
	}
	r.ended[step] = stop
	if people := r.Steps[step].People; people > 1 && people <= r.last.People {
		r.several--
	}
	r.open--
	r.complete(step, stop+r.work.cure[step])
}

// calls tells whether one of those that came at a minute is a candidate of several people.
func (r *run) calls(came []int, at int64, n int, until int64) bool {
	return slices.ContainsFunc(came, func(i int) bool {
		s := r.Steps[i]
		return s.People > 1 && s.People <= n && (!r.whole(i) || r.left[i] <= until-at)
	})
}
