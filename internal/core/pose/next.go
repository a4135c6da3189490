package pose

import (
	"cmp"
	"math"
	"slices"

	"orpine/internal/core/adjust"
	"orpine/internal/core/measure"
)

// candidate is a reading that could still be taken.
type candidate struct {
	kind       Type
	from, to   int
	instrument *measure.Instrument
	taken      measure.Observation // what one placing of it would be
}

// mostNext is how many of the best next readings are given.
const mostNext = 5

// sameU is the share of u within which two readings would tell as much.
const sameU = 1e-9

// next returns the readings not yet taken that leave the smallest variance of what
// is wanted, the best first; angle tells whether that is one.
func (n *network) next(a *adjust.Solution, want []float64, angle bool, candidates []candidate) []measure.NextReading {
	f := a.Forecast(want)
	s := n.at(a.P)
	by := 1.0
	bound := float64(mostUnknown)
	if angle {
		by, bound = perRadian, mostTurned
	}
	var out []measure.NextReading
	for _, c := range candidates {
		row := s.rowOf(c)
		u := math.Sqrt(f.After(&row)) * by
		if !(u <= bound) {
			continue
		}
		next := measure.NextReading{Type: string(c.kind), From: n.points[c.from].name, To: n.points[c.to].name, Instrument: c.instrument.Name, U: u}
		at := len(out)
		for at > 0 && out[at-1].U > u*(1+sameU) {
			at--
		}
		if at < mostNext {
			out = slices.Insert(out, at, next)
			out = out[:min(len(out), mostNext)]
		}
	}
	return out
}

// rowOf is the row of a reading that could be taken: one placing.
func (s *state) rowOf(c candidate) adjust.Row {
	o := observation{kind: c.kind, from: c.from, to: c.to, taken: c.taken}
	for _, common := range c.taken.Commons() {
		if _, among := s.n.number[common.Number]; among {
			o.commons = append(o.commons, common)
		}
	}
	r := s.row(&o, 0, nil)
	r.Weight = 1 / (1/r.Weight + s.astray(&o))
	return r
}

// astray is what the departures of points that nothing rests on yet add to the variance of
// a reading: u² of a tape or a height at each, u²/L² of a level over a length L.
func (s *state) astray(o *observation) float64 {
	sum := 0.0
	for _, i := range []int{o.from, o.to} {
		if p := &s.n.points[i]; p.astray < 0 {
			sum += p.u * p.u
		}
	}
	if o.kind.angular() {
		d := s.place(o.to).minus(s.place(o.from))
		sum /= max(d.dot(d), tiny)
	}
	return sum
}

// candidates are the readings that could still be taken: distances and heights
// between a place on the airframe and one on a surface, cross-levels and pitches
// between two places of one surface; each with every instrument already used for
// that type, or where there is none with every one used of that dimension.
func (n *network) candidates() []candidate {
	type pair struct {
		kind Type
		a, b int
	}
	taken := map[pair]bool{}
	for i := range n.observations {
		if o := &n.observations[i]; o.from >= 0 {
			taken[pair{o.kind, min(o.from, o.to), max(o.from, o.to)}] = true
		}
	}
	with := map[Type][]measure.Observation{}
	for _, kind := range []Type{Distance, Height, Roll, Pitch} {
		with[kind] = n.instrumentsFor(kind)
	}
	var out []candidate
	offer := func(kind Type, from, to int) {
		if taken[pair{kind, min(from, to), max(from, to)}] {
			return
		}
		for _, o := range with[kind] {
			out = append(out, candidate{kind, from, to, o.Instrument, o.Again()})
		}
	}
	for i := range n.points {
		for j := range n.points {
			p, q := &n.points[i], &n.points[j]
			switch {
			case q.body < 0 || i == j:
			case p.body < 0 || p.body != q.body && i < j:
				offer(Distance, i, j)
				offer(Height, i, j)
			case p.body == q.body && i < j:
				n.offerLevel(i, j, offer)
			}
		}
	}
	return out
}

// steepest is the slope in degrees up to which a level is laid along a line, where
// several surfaces are joined.
const steepest = 60

// offerLevel offers a cross-level or a pitch between two points of one surface.
func (n *network) offerLevel(i, j int, offer func(kind Type, from, to int)) {
	p, q := n.points[i].at, n.points[j].at
	d := q.minus(p)
	dx, dy, flat := math.Abs(d[0]), math.Abs(d[1]), math.Hypot(d[0], d[1])
	switch {
	case flat == 0: // one above the other: a level cannot lie on them
	case n.several && math.Abs(d[2]) > flat*math.Tan(steepest/perRadian):
	case dy >= dx && p[1] <= q[1]:
		offer(Roll, i, j)
	case dy >= dx:
		offer(Roll, j, i)
	case p[0] >= q[0]:
		offer(Pitch, i, j)
	default:
		offer(Pitch, j, i)
	}
}

// instrumentsFor are those already used for a type, by name, or else those used of its
// dimension, the airframe's own levels included: of each one of its readings.
func (n *network) instrumentsFor(kind Type) []measure.Observation {
	var same, dimension []measure.Observation
	note := func(list []measure.Observation, o *observation) []measure.Observation {
		in := o.taken.Instrument
		if in == nil || slices.ContainsFunc(list, func(have measure.Observation) bool { return have.Instrument == in }) {
			return list
		}
		return append(list, o.taken)
	}
	for i := range n.observations {
		o := &n.observations[i]
		if o.kind == pinned {
			continue
		}
		if o.kind == kind {
			same = note(same, o)
		}
		if o.kind.angular() == kind.angular() {
			dimension = note(dimension, o)
		}
	}
	for _, d := range n.datum {
		if d != nil && kind.angular() {
			dimension = note(dimension, d)
		}
	}
	if same == nil {
		same = dimension
	}
	slices.SortStableFunc(same, func(a, b measure.Observation) int { return cmp.Compare(a.Instrument.Name, b.Instrument.Name) })
	return same
}
