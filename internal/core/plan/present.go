package plan

import "slices"

// stay is a stretch in which the same number of people are present.
type stay struct {
	from, to int64
	people   int
}

// shift is a stretch that is credited to one visit.
type shift struct {
	from, to int64
	visit    int
}

// present is who is in the shop when, from now to the horizon: stays that touch differ in their
// number of people.
type present struct {
	stays  []stay
	shifts []shift // of the visits, in order of time
	end    int64   // the horizon
	week   bool    // the week has a stretch

	longest []int64 // of each stay and those after it, the minutes of the longest
	most    []int   // likewise the people of the one with the most
}

// present lays out the week's stretches and the visits.
func (p Plan) present() present {
	out := present{end: p.Zone.yearsOn(p.Now, horizon)}
	out.week = p.Week != [7]Stretch{}
	week := joined(p.evenings(out.end))
	p.gather(&out, week)
	return out
}

// gather adds the visits to the week's stretches, and finds how many are present when.
func (p Plan) gather(out *present, week []stay) {
	out.shifts = p.shifts()
	out.stays = make([]stay, 0, len(week)+2*len(out.shifts))
	// From one change of either to the next; a visit counts for more than the week.
	w, v := 0, 0
	for at := p.Now; at < out.end; {
		for w < len(week) && week[w].to <= at {
			w++
		}
		for v < len(out.shifts) && out.shifts[v].to <= at {
			v++
		}
		people, next := 0, out.end
		until := func(from, to int64, there int) {
			if from <= at {
				people, next = there, min(next, to)
			} else {
				next = min(next, from)
			}
		}
		if w < len(week) {
			until(week[w].from, week[w].to, 1)
		}
		if v < len(out.shifts) {
			until(out.shifts[v].from, out.shifts[v].to, p.Visits[out.shifts[v].visit].People)
		}
		out.add(stay{at, next, people})
		at = next
	}
	out.reckon()
}

// reckon finds what is the longest and the most from each stay on.
func (p *present) reckon() {
	p.longest, p.most = make([]int64, len(p.stays)), make([]int, len(p.stays))
	long, most := int64(0), 0
	for i, s := range slices.Backward(p.stays) {
		long, most = max(long, s.to-s.from), max(most, s.people)
		p.longest[i], p.most[i] = long, most
	}
}

// add puts a stretch behind the others, joined to the last where nothing changes.
func (p *present) add(s stay) {
	switch last := len(p.stays) - 1; {
	case s.people == 0 || s.from >= s.to:
	case last >= 0 && p.stays[last].to == s.from && p.stays[last].people == s.people:
		p.stays[last].to = s.to
	default:
		p.stays = append(p.stays, s)
	}
}

// with is who is present where one more visit is held, after the first stays.
func (p present) with(v Visit, first int) present {
	out := p
	out.stays = slices.Clone(p.stays[:first])
	held := false
	hold := func() {
		if !held {
			held = true
			out.add(stay{v.From, min(v.To, p.end), v.People})
		}
	}
	for _, s := range p.stays[first:] {
		out.add(stay{s.from, min(s.to, v.From), s.people})
		if s.to > v.From {
			hold()
		}
		out.add(stay{max(s.from, v.To), s.to, s.people})
	}
	hold()
	out.reckon()
	return out
}

// evening is a stretch of one day of the week, with the calendar month that it lies in.
type evening struct {
	stay
	month int
}

// evenings are the week's stretches from now on, without the days that are away.
func (p Plan) evenings(end int64) []evening {
	var out []evening
	if p.Week == [7]Stretch{} {
		return nil
	}
	for d := p.Zone.date(p.Now) - 1; ; d++ { // yesterday's may still run where the clocks were changed
		s := p.Week[d.time().Weekday()]
		if s.Minutes == 0 || p.isAway(d) {
			if int64(d)*1440 > end+2*1440 {
				return out
			}
			continue
		}
		from, _ := p.Zone.at(d, s.From)
		if from >= end {
			return out
		}
		if to := from + int64(s.Minutes); to > p.Now {
			day := d.time()
			out = append(out, evening{stay{from, to, 1}, 12*day.Year() + int(day.Month())})
		}
	}
}

func (p Plan) isAway(d Date) bool {
	return slices.ContainsFunc(p.Away, func(a [2]Date) bool { return a[0] <= d && d <= a[1] })
}

// joined are stretches as stays, joined where they touch.
func joined(evenings []evening) []stay {
	out := make([]stay, 0, len(evenings))
	for _, e := range evenings {
		if last := len(out) - 1; last >= 0 && out[last].to >= e.from {
			out[last].to = max(out[last].to, e.to)
		} else {
			out = append(out, e.stay)
		}
	}
	return out
}

// shifts credit each minute of the visits to the one with the most people, of several the one
// that is listed first.
func (p Plan) shifts() []shift {
	var cuts []int64
	coming := make([]int, len(p.Visits))
	for i, v := range p.Visits {
		cuts, coming[i] = append(cuts, v.From, v.To), i
	}
	slices.Sort(cuts)
	cuts = slices.Compact(cuts)
	slices.SortStableFunc(coming, func(a, b int) int { return compare(p.Visits[a].From, p.Visits[b].From) })
	var out []shift
	var on []int
	for i := 0; i+1 < len(cuts); i++ {
		for len(coming) > 0 && p.Visits[coming[0]].From <= cuts[i] {
			on, coming = append(on, coming[0]), coming[1:]
		}
		on = slices.DeleteFunc(on, func(k int) bool { return p.Visits[k].To <= cuts[i] })
		best := -1
		for _, k := range on {
			if best < 0 || p.Visits[k].People > p.Visits[best].People || p.Visits[k].People == p.Visits[best].People && k < best {
				best = k
			}
		}
		switch last := len(out) - 1; {
		case best < 0:
		case last >= 0 && out[last].to == cuts[i] && out[last].visit == best:
			out[last].to = cuts[i+1]
		default:
			out = append(out, shift{cuts[i], cuts[i+1], best})
		}
	}
	return out
}
