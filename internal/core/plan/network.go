package plan

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"orpine/internal/core/say"

	"gonum.org/v1/gonum/graph/simple"
	"gonum.org/v1/gonum/graph/topo"
)

// network is the order of the steps. Behind the steps stand the bays, as nodes without work:
// after all that lies inside, and before what closes them.
type network struct {
	steps   int
	before  [][]int // the nodes before each node
	follows [][]int
	order   []int // of the nodes, each after those before it; nil where there is a circle
}

// edges lists what comes before each node.
func (p Plan) edges() [][]int {
	before := make([][]int, len(p.Steps)+len(p.Bays))
	for i, s := range p.Steps {
		before[i] = append(before[i], s.After...)
		for _, b := range s.Closes {
			before[i] = append(before[i], len(p.Steps)+b)
		}
		for _, b := range s.Inside {
			if slices.Contains(s.Closes, b) { // an error of its own
				continue
			}
			before[len(p.Steps)+b] = append(before[len(p.Steps)+b], i)
		}
	}
	return before
}

// graph is the network for gonum, without the steps that come after themselves.
func graphOf(before [][]int) *simple.DirectedGraph {
	g := simple.NewDirectedGraph()
	for i := range before {
		g.AddNode(simple.Node(i))
	}
	for i, list := range before {
		for _, b := range list {
			if b != i {
				g.SetEdge(simple.Edge{F: simple.Node(b), T: simple.Node(i)})
			}
		}
	}
	return g
}

// Circles are the sets of steps that wait for one another.
func (p Plan) Circles() []Error { return p.circles() }

// circles are the sets of steps that wait for one another, each an error.
func (p Plan) circles() []Error {
	before := p.edges()
	var sets [][]int
	for _, set := range topo.TarjanSCC(graphOf(before)) {
		var steps []int
		for _, n := range set {
			if i := int(n.ID()); i < len(p.Steps) {
				steps = append(steps, i)
			}
		}
		slices.Sort(steps)
		if len(set) > 1 || len(steps) == 1 && slices.Contains(before[steps[0]], steps[0]) {
			sets = append(sets, steps)
		}
	}
	slices.SortFunc(sets, func(a, b []int) int { return a[0] - b[0] })
	var out []Error
	for _, set := range sets {
		ids := make([]string, len(set))
		for i, s := range set {
			ids[i] = p.Steps[s].ID
		}
		out = append(out, Error{Path: "steps", Message: "these wait for one another in a circle", Steps: ids})
	}
	return out
}

// network lays the steps out; the plan has no circle.
func (p Plan) network() network {
	n := network{steps: len(p.Steps), before: p.edges()}
	n.follows = make([][]int, len(n.before))
	for i, list := range n.before {
		for _, b := range list {
			n.follows[b] = append(n.follows[b], i)
		}
	}
	sorted, _ := topo.Sort(graphOf(n.before)) // a circle was refused
	for _, node := range sorted {
		n.order = append(n.order, int(node.ID()))
	}
	return n
}

// predecessors are the steps before a step, in the document's order, each once.
func (n network) predecessors(step int) []int {
	var out []int
	for _, b := range n.before[step] {
		if b < n.steps {
			out = append(out, b)
		} else {
			out = append(out, n.before[b]...)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// above are the undone predecessors of a step, near and far: those reached through undone
// steps only.
func (n network) above(step int, undone func(int) bool) []int {
	seen := map[int]bool{}
	var out []int
	todo := slices.Clone(n.before[step])
	for len(todo) > 0 {
		b := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		if seen[b] || b < n.steps && !undone(b) {
			continue
		}
		seen[b] = true
		if b < n.steps {
			out = append(out, b)
		}
		todo = append(todo, n.before[b]...)
	}
	slices.Sort(out)
	return out
}

// work is what is left of each step, in minutes: its work, its cure, and the tail behind it.
type work struct {
	ratio     map[string]float64 // of the builder's pace, by kind
	remaining []int64            // 0 of done ones
	cure      []int64
	tail      []int64
	findings  []Finding
}

// Finding is something that does not make a plan unusable.
type Finding struct {
	Code string `json:"code"`
	At   string `json:"at"`
	Text string `json:"text"`
}

// curing is the cure of a step in minutes at the shop's temperature; outside tells that its
// table does not reach there.
func (p Plan) curing(c *Cure) (minutes int64, outside bool) {
	if c == nil {
		return 0, false
	}
	hours, f := c.Hours, 1.0
	switch {
	case p.Warmth == nil:
	case len(c.Table) > 0:
		hours, outside = fromTable(c.Table, *p.Warmth)
	case c.At != nil:
		f = math.Pow(2, (*c.At-*p.Warmth)/10)
	}
	return int64(max(0, ceil(60*hours*f))), outside
}

// Settled is the plan with what only its document can say made part of its steps: a step that
// closes a bay comes after all that lie inside, and the hours of a cure are those at the shop's
// temperature. left names what no step can carry, with the steps that it concerns.
func (p Plan) Settled() (out Plan, left []string) {
	out = p
	out.Steps = slices.Clone(p.Steps)
	names := func(concerned func(s Step) bool) (list []string) {
		for _, s := range p.Steps {
			if concerned(s) {
				list = append(list, cmp.Or(s.Name, s.ID))
			}
		}
		return list
	}
	tell := func(there bool, what string, steps []string) {
		switch {
		case !there:
		case len(steps) > 0:
			left = append(left, what+": "+strings.Join(steps, ", "))
		default:
			left = append(left, what)
		}
	}
	for i := range out.Steps {
		s := &out.Steps[i]
		if s.Cure != nil {
			minutes, _ := p.curing(s.Cure)
			s.Cure = &Cure{Hours: float64(minutes) / 60}
		}
		s.After = slices.Clone(s.After)
		for k, inside := range p.Steps {
			if k != i && !slices.Contains(s.After, k) && slices.ContainsFunc(inside.Inside, func(b int) bool { return slices.Contains(s.Closes, b) }) {
				s.After = append(s.After, k)
			}
		}
	}
	late := slices.ContainsFunc(p.Orders, func(o Order) bool { return o.Delay > 0 })
	tell(len(p.Bays) > 0, "the bays themselves (what closes one comes after what lies inside)", names(func(s Step) bool { return len(s.Closes) > 0 }))
	tables := names(func(s Step) bool { return s.Cure != nil && (len(s.Cure.Table) > 0 || s.Cure.At != nil) })
	if p.Warmth != nil {
		tell(true, fmt.Sprintf("the shop’s temperature, %s (cures are taken at it)", say.Temperature(*p.Warmth)), tables)
	}
	tell(len(tables) > 0, "how a cure changes with the temperature", tables)
	tell(len(p.Away) > 0, "days away", nil)
	tell(len(p.Pace) > 0, "the pace of work before", nil)
	tell(late, "how late suppliers were", nil)
	waiting := names(func(s Step) bool { return len(s.WaitsFor) > 0 })
	tell(len(p.Questions) > 0, "questions, and that they are waited for", waiting)
	tell(p.Week != [7]Stretch{}, "the week", nil)
	tell(len(p.Sessions) > 0, "hours that were worked", nil)
	tell(p.Money != nil, "money", nil)
	return out, left
}

// fromTable reads hours at a temperature, their logarithm linear in it between neighbours and
// the end's beyond them (the rate of a reaction over a small range of temperature).
func fromTable(table []CureAt, at float64) (hours float64, outside bool) {
	last := len(table) - 1
	switch {
	case at <= table[0].At:
		return table[0].Hours, at < table[0].At
	case at >= table[last].At:
		return table[last].Hours, at > table[last].At
	}
	i, _ := slices.BinarySearchFunc(table, at, func(c CureAt, t float64) int { return sign(c.At - t) })
	if table[i].At == at {
		return table[i].Hours, false
	}
	a, b := table[i-1], table[i]
	share := (at - a.At) / (b.At - a.At)
	return math.Exp(math.Log(a.Hours) + share*(math.Log(b.Hours)-math.Log(a.Hours))), false
}

// left works out what is left of each step.
func (p Plan) left(n network, pace []PaceOf, worked []float64) work {
	w := work{ratio: map[string]float64{}, remaining: make([]int64, len(p.Steps)), cure: make([]int64, len(p.Steps)), tail: make([]int64, len(n.before))}
	for _, one := range pace {
		w.ratio[one.Kind] = one.Ratio
	}
	week := int64(0)
	for _, s := range p.Week {
		week += int64(s.Minutes)
	}
	if week == 0 {
		week = 10_080
	}
	for i, s := range p.Steps {
		outside := false
		w.cure[i], outside = p.curing(s.Cure)
		if outside && (s.State != Done || s.Ended != nil && *s.Ended+w.cure[i] > p.Now) {
			w.findings = append(w.findings, Finding{"outside-cure-table", s.ID, "the shop's temperature lies outside the maker's table: the end of the table is taken"})
		}
		if s.State == Done {
			if slices.ContainsFunc(n.predecessors(i), func(b int) bool { return p.Steps[b].State != Done }) {
				w.findings = append(w.findings, Finding{"out-of-order", s.ID, "it is done, and a step before it is not"})
			}
			continue
		}
		e := s.Expected()
		if ratio, ok := w.ratio[s.Kind]; ok && s.Kind != "" {
			e *= ratio
		}
		w.remaining[i] = int64(ceil(60 * max(e-worked[i], 0.1*e)))
	}
	for _, node := range slices.Backward(n.order) {
		longest := int64(0)
		for _, f := range n.follows[node] {
			switch {
			case f >= n.steps:
				longest = max(longest, w.tail[f])
			case p.Steps[f].State != Done:
				longest = max(longest, w.remaining[f]+w.tail[f])
			}
		}
		if node < n.steps {
			longest += int64(ceil(float64(w.cure[node]) * float64(week) / 10_080))
		}
		w.tail[node] = longest
	}
	return w
}
