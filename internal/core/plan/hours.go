package plan

import (
	"container/heap"
	"slices"
)

// Hours are what was worked, in person-hours; no minute of a person counts twice.
type Hours struct {
	Total      float64            `json:"total"`
	Builder    float64            `json:"builder"`
	Others     float64            `json:"others"`
	ByCategory map[string]float64 `json:"by_category"`
	ByAssembly map[string]float64 `json:"by_assembly"`
	ByStep     map[string]float64 `json:"by_step"`
	ByPerson   map[string]float64 `json:"-"` // the format knows the builder and others; a sheet names them
}

// PaceOf is how a kind of work turned out against what was estimated.
type PaceOf struct {
	Kind      string  `json:"kind"`
	Estimated float64 `json:"estimated"`
	Actual    float64 `json:"actual"`
	Ratio     float64 `json:"ratio"`
}

// span is a stretch of one person's time, with the session that it belongs to.
type span struct {
	from, to int64
	session  int
}

// running is a heap of sessions, the one that began last first; of two that began together
// the later in the list.
type running struct {
	list     []int
	sessions []Session
}

func (r running) Len() int { return len(r.list) }
func (r running) Less(i, j int) bool {
	a, b := r.list[i], r.list[j]
	if r.sessions[a].From != r.sessions[b].From {
		return r.sessions[a].From > r.sessions[b].From
	}
	return a > b
}
func (r running) Swap(i, j int) { r.list[i], r.list[j] = r.list[j], r.list[i] }
func (r *running) Push(x any)   { r.list = append(r.list, x.(int)) }
func (r *running) Pop() any {
	last := r.list[len(r.list)-1]
	r.list = r.list[:len(r.list)-1]
	return last
}

// spans parts the time of each person among the sessions: a minute with several belongs to
// the one that began last.
func (p Plan) spans() []span {
	of := map[string][]int{}
	var people []string
	for i, s := range p.Sessions {
		if of[s.Who] == nil {
			people = append(people, s.Who)
		}
		of[s.Who] = append(of[s.Who], i)
	}
	var out []span
	for _, who := range people {
		mine := of[who]
		slices.SortStableFunc(mine, func(a, b int) int { return compare(p.Sessions[a].From, p.Sessions[b].From) })
		on := &running{sessions: p.Sessions}
		t, next := int64(0), 0
		for next < len(mine) || on.Len() > 0 {
			for on.Len() > 0 && p.Sessions[on.list[0]].To <= t {
				heap.Pop(on)
			}
			if on.Len() == 0 {
				if next == len(mine) {
					break
				}
				t = max(t, p.Sessions[mine[next]].From)
			}
			for next < len(mine) && p.Sessions[mine[next]].From <= t {
				heap.Push(on, mine[next])
				next++
			}
			for on.Len() > 0 && p.Sessions[on.list[0]].To <= t {
				heap.Pop(on)
			}
			if on.Len() == 0 {
				continue
			}
			until := p.Sessions[on.list[0]].To
			if next < len(mine) {
				until = min(until, p.Sessions[mine[next]].From)
			}
			out = append(out, span{t, until, on.list[0]})
			t = until
		}
	}
	return out
}

func compare(a, b int64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// worked adds up what was worked, and for how many hours of the clock at least one person
// built at each step.
func (p Plan) worked() (Hours, []float64) {
	h := Hours{ByCategory: map[string]float64{}, ByAssembly: map[string]float64{}, ByStep: map[string]float64{}, ByPerson: map[string]float64{}}
	total, builder, others := int64(0), int64(0), int64(0)
	category, assembly, step, person := map[string]int64{}, map[string]int64{}, map[string]int64{}, map[string]int64{}
	built := make([][]span, len(p.Steps))
	for _, one := range p.spans() {
		s, minutes := p.Sessions[one.session], one.to-one.from
		total += minutes
		if s.Who == p.Builder {
			builder += minutes
		} else {
			others += minutes
		}
		category[s.Category] += minutes
		person[s.Who] += minutes
		of := s.Assembly
		if s.Step >= 0 {
			step[p.Steps[s.Step].ID] += minutes
			if of == "" {
				of = p.Steps[s.Step].Assembly
			}
			if s.Category == "build" {
				built[s.Step] = append(built[s.Step], one)
			}
		}
		if of != "" {
			assembly[of] += minutes
		}
	}
	h.Total, h.Builder, h.Others = hours(total), hours(builder), hours(others)
	for into, from := range map[*map[string]float64]map[string]int64{&h.ByCategory: category, &h.ByAssembly: assembly, &h.ByStep: step, &h.ByPerson: person} {
		for name, minutes := range from {
			(*into)[name] = hours(minutes)
		}
	}
	worked := make([]float64, len(p.Steps))
	for i, list := range built {
		slices.SortFunc(list, func(a, b span) int { return compare(a.from, b.from) })
		sum, until := int64(0), int64(-1<<62)
		for _, one := range list {
			if one.to > until {
				sum += one.to - max(one.from, until)
				until = one.to
			}
		}
		worked[i] = hours(sum)
	}
	return h, worked
}

func hours(minutes int64) float64 { return float64(minutes) / 60 }

// known is how much is taken to be known of a kind of work before anything is: five hours
// that turned out as estimated.
const known = 5

// paces are how each kind of work turned out: by what was written down, and by the steps that
// are done.
func (p Plan) paces(worked []float64) []PaceOf {
	of := map[string]*PaceOf{}
	add := func(kind string, estimated, actual float64) {
		if of[kind] == nil {
			of[kind] = &PaceOf{Kind: kind}
		}
		of[kind].Estimated += estimated
		of[kind].Actual += actual
	}
	for _, one := range p.Pace {
		add(one.Kind, one.Estimated, one.Actual)
	}
	for i, s := range p.Steps {
		if s.State == Done && s.Kind != "" && worked[i] > 0 {
			add(s.Kind, s.Expected(), worked[i])
		}
	}
	out := []PaceOf{}
	for _, one := range of {
		one.Ratio = (one.Actual + known) / (one.Estimated + known)
		out = append(out, *one)
	}
	slices.SortFunc(out, func(a, b PaceOf) int {
		if a.Kind < b.Kind {
			return -1
		}
		return 1
	})
	return out
}
