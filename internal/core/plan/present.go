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
	var week []stay
	for _, s := range p.Week {
		out.week = out.week || s.Minutes > 0
	}
	if out.week {
		week = p.stretches(out.end)
	}
	out.shifts = p.shifts()
	// The changes of both, in order of time; a visit counts for more than the week.
	var cuts []int64
	for _, s := range week {
		cuts = append(cuts, s.from, s.to)
	}
	for _, s := range out.shifts {
		cuts = append(cuts, s.from, s.to)
	}
	slices.Sort(cuts)
	cuts = slices.Compact(cuts)
	w, v := 0, 0
	for i := 0; i+1 < len(cuts); i++ {
		from, to := cuts[i], cuts[i+1]
		for w < len(week) && week[w].to <= from {
			w++
		}
		for v < len(out.shifts) && out.shifts[v].to <= from {
			v++
		}
		people := 0
		if w < len(week) && week[w].from <= from {
			people = 1
		}
		if v < len(out.shifts) && out.shifts[v].from <= from {
			people = p.Visits[out.shifts[v].visit].People
		}
		if from, to = max(from, p.Now), min(to, out.end); people == 0 || from >= to {
			continue
		}
		if last := len(out.stays) - 1; last >= 0 && out.stays[last].to == from && out.stays[last].people == people {
			out.stays[last].to = to
		} else {
			out.stays = append(out.stays, stay{from, to, people})
		}
	}
	out.longest, out.most = make([]int64, len(out.stays)), make([]int, len(out.stays))
	long, most := int64(0), 0
	for i, s := range slices.Backward(out.stays) {
		long, most = max(long, s.to-s.from), max(most, s.people)
		out.longest[i], out.most[i] = long, most
	}
	return out
}

// stretches are those of the week from now on, without the days that are away, joined where
// they touch.
func (p Plan) stretches(end int64) []stay {
	var out []stay
	for d := p.Zone.date(p.Now) - 1; ; d++ { // yesterday's may still run where the clocks were changed
		s := p.Week[d.time().Weekday()]
		if s.Minutes == 0 || slices.ContainsFunc(p.Away, func(a [2]Date) bool { return a[0] <= d && d <= a[1] }) {
			if int64(d)*1440 > end+2*1440 {
				return out
			}
			continue
		}
		from, _ := p.Zone.at(d, s.From)
		if from >= end {
			return out
		}
		to := from + int64(s.Minutes)
		if to <= p.Now {
			continue
		}
		if last := len(out) - 1; last >= 0 && out[last].to >= from {
			out[last].to = max(out[last].to, to)
		} else {
			out = append(out, stay{from, to, 1})
		}
	}
}

// shifts credit each minute of the visits to the one with the most people, of several the one
// that is listed first.
func (p Plan) shifts() []shift {
	var cuts []int64
	for _, v := range p.Visits {
		cuts = append(cuts, v.From, v.To)
	}
	slices.Sort(cuts)
	cuts = slices.Compact(cuts)
	var out []shift
	for i := 0; i+1 < len(cuts); i++ {
		best := -1
		for k, v := range p.Visits {
			if v.From <= cuts[i] && cuts[i] < v.To && (best < 0 || v.People > p.Visits[best].People) {
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
