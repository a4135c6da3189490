package pose

import (
	"math"

	"orpine/internal/core/adjust"
	"orpine/internal/core/measure"
)

// Type says what an observation measures.
type Type string

// The types of observations, with d the difference of the two points, U plumb-up.
const (
	Distance Type = "distance" // |d|
	Height   Type = "height"   // U·d
	Offset   Type = "offset"   // the airframe coordinate Axis of the point To
	Roll     Type = "roll"     // asin(−U·d/|d|), from left to right
	Pitch    Type = "pitch"    // asin(U·d/|d|), from rear to front
	pinned   Type = "pinned"   // the airframe coordinate Axis of d: two points that are held together
)

// angular tells whether the type is read as an angle.
func (t Type) angular() bool { return t == Roll || t == Pitch }

// point is a named place: on the airframe, or on one of the surfaces in its
// nominal position.
type point struct {
	name   string
	at     vector
	body   int     // the surface that carries it; −1 for the airframe
	u      float64 // standard uncertainty of each coordinate, mm
	stated bool    // whether u is; 0 may be
	used   bool    // something rests on where it is
	astray int     // the first of its three unknown departures; −1 for none
}

// body is a surface that may stand off its nominal position.
type body struct {
	pivot vector
	reach float64    // greatest distance of its points from the pivot, mm
	hold  [6]float64 // standard uncertainty of a prior at 0 per freedom, mm or rad; 0 for none
}

// observation is one reading as the network takes it.
type observation struct {
	id       string
	kind     Type
	from, to int // points; from is −1 for an offset
	axis     int
	value    float64 // mm or rad
	taken    measure.Observation
	commons  []measure.Common
	aside    bool
}

// variance of the reading's own error, in mm² or rad².
func (o *observation) variance(placings int) float64 {
	v := o.taken.Variance(placings)
	if o.kind.angular() {
		v /= perRadian * perRadian
	}
	return v
}

// touches tells whether the reading is of a point.
func (o *observation) touches(point int) bool { return o.from == point || o.to == point }

const perRadian = 180 / math.Pi

// network is everything that bears on where the surfaces are. Its unknowns are six per
// surface (x, y, z in mm; roll, pitch, yaw in rad), the roll and pitch of the airframe
// where they were read, three departures of each point that is used and known only to
// within some u, and the common errors of the instruments.
type network struct {
	points       []point
	bodies       []body
	observations []observation
	datum        [2]*observation // of the airframe's roll and pitch; nil where it is taken as level
	tilt         [2]int          // their unknowns; −1 where there is none
	errors       []commonError
	number       map[int]int // unknown of a common error, by its number in the check
	size         int
	arc          []float64 // of an unknown that is an angle: the radius that makes it a length; else 1
	turns        []bool    // the unknowns in radians
	several      bool      // of surfaces that are joined at once
}

// commonError is an error that readings share: an unknown with a prior at 0.
type commonError struct {
	unknown    int
	variance   float64
	common     measure.Common
	instrument *measure.Instrument // whose; nil for a correction
}

// layout numbers the unknowns, once points, bodies and readings are there.
func (n *network) layout() {
	n.size, n.arc, n.turns, n.errors, n.number = 0, nil, nil, nil, map[int]int{}
	unknown := func(arc float64, turns bool) int {
		n.arc, n.turns = append(n.arc, arc), append(n.turns, turns)
		n.size++
		return n.size - 1
	}
	reach := 1.0
	for _, b := range n.bodies {
		radius := max(b.reach, 1)
		reach = max(reach, radius)
		for k := range 6 {
			unknown([]float64{1, radius}[k/3], k >= 3)
		}
	}
	for k := range n.tilt {
		if n.tilt[k] = -1; n.datum[k] != nil {
			n.tilt[k] = unknown(reach, true)
		}
	}
	for i := range n.points {
		p := &n.points[i]
		if p.astray = -1; p.used && p.u > 0 {
			p.astray = unknown(1, false)
			unknown(1, false)
			unknown(1, false)
		}
	}
	number := func(o *observation) {
		o.commons = o.taken.Commons()
		for _, c := range o.commons {
			if _, known := n.number[c.Number]; known {
				continue
			}
			e := commonError{variance: c.Variance, common: c}
			arc := 1.0
			if c.Own {
				e.instrument = o.taken.Instrument
			}
			if turns := c.Own && !c.Scale && o.kind.angular(); turns {
				e.variance /= perRadian * perRadian
				arc = reach
				e.unknown = unknown(arc, true)
			} else {
				e.unknown = unknown(arc, false)
			}
			n.number[c.Number] = e.unknown
			n.errors = append(n.errors, e)
		}
	}
	for i := range n.observations {
		number(&n.observations[i])
	}
	for _, d := range n.datum {
		if d != nil {
			number(d)
		}
	}
}

// Size, Angular and Arc describe the unknowns to the adjustment.
func (n *network) Size() int                { return n.size }
func (n *network) Angular(unknown int) bool { return n.turns[unknown] }
func (n *network) Arc(unknown int) float64  { return n.arc[unknown] }

// Rows are the readings that are not set aside, the airframe's own levels, and what is
// known beforehand.
func (n *network) Rows(p []float64, placings int) []adjust.Row {
	s := n.at(p)
	out := make([]adjust.Row, 0, len(n.observations)+n.size)
	for i := range n.observations {
		if o := &n.observations[i]; !o.aside {
			out = append(out, s.row(o, placings, nil))
		}
	}
	for k, d := range n.datum {
		if d != nil {
			out = append(out, s.datumRow(k, placings, nil))
		}
	}
	n.beforehand(func(unknown int, variance float64, _ *measure.Common, _ string) {
		r := adjust.Row{Weight: 1 / variance, Residual: -p[unknown]}
		r.First[r.Add(unknown)] = 1
		out = append(out, r)
	})
	return out
}

// beforehand calls for each unknown that is known to be 0 within a variance: the holds,
// the departures of points, and the common errors.
func (n *network) beforehand(each func(unknown int, variance float64, c *measure.Common, of string)) {
	for b, body := range n.bodies {
		for k, u := range body.hold {
			if u > 0 {
				each(6*b+k, u*u, nil, measure.OfHolds)
			}
		}
	}
	for _, p := range n.points {
		for axis := 0; p.astray >= 0 && axis < 3; axis++ {
			each(p.astray+axis, p.u*p.u, nil, measure.OfPoints)
		}
	}
	for i := range n.errors {
		each(n.errors[i].unknown, n.errors[i].variance, &n.errors[i].common, "")
	}
}

// Bent are the readings: what is known beforehand does not bend.
func (n *network) Bent(p []float64, each func(*adjust.Row, *adjust.Bends)) {
	s := n.at(p)
	for i := range n.observations {
		if o := &n.observations[i]; !o.aside {
			var second adjust.Bends
			r := s.row(o, 0, &second)
			each(&r, &second)
		}
	}
	for k, d := range n.datum {
		if d != nil {
			var second adjust.Bends
			r := s.datumRow(k, 0, &second)
			each(&r, &second)
		}
	}
}

// parts are what each error adds to the variance of a figure, of the squares row by row.
func (n *network) parts(squares []float64) []measure.Part {
	var out []measure.Part
	next := func() float64 {
		square := squares[0]
		squares = squares[1:]
		return square
	}
	for i := range n.observations {
		switch o := &n.observations[i]; {
		case o.aside:
		case o.kind == pinned:
			out = append(out, measure.Beforehand(measure.OfHolds, next()))
		default:
			out = append(out, o.taken.Part(next()))
		}
	}
	for _, d := range n.datum {
		if d != nil {
			out = append(out, d.taken.Part(next()))
		}
	}
	n.beforehand(func(_ int, _ float64, c *measure.Common, of string) {
		if square := next(); c != nil {
			out = append(out, c.Part(square))
		} else {
			out = append(out, measure.Beforehand(of, square))
		}
	})
	return out
}

// state is where everything stands for one set of unknowns.
type state struct {
	n         *network
	p         []float64
	attitudes []attitude
	up        plumb
}

func (n *network) at(p []float64) *state {
	s := &state{n: n, p: p, attitudes: make([]attitude, len(n.bodies))}
	for i := range n.bodies {
		s.attitudes[i] = newAttitude(vector(p[6*i+3 : 6*i+6]))
	}
	var tilt [2]float64
	for k, i := range n.tilt {
		if i >= 0 {
			tilt[k] = p[i]
		}
	}
	s.up = newPlumb(tilt[0], tilt[1])
	return s
}

// lies is where a point lies in the axes of what carries it, with its departure.
func (s *state) lies(i int) vector {
	q := &s.n.points[i]
	if q.astray < 0 {
		return q.at
	}
	return q.at.plus(vector(s.p[q.astray : q.astray+3]))
}

// place is where a point stands.
func (s *state) place(i int) vector {
	q := &s.n.points[i]
	if q.body < 0 {
		return s.lies(i)
	}
	b := &s.n.bodies[q.body]
	return b.pivot.plus(s.attitudes[q.body].value.apply(s.lies(i).minus(b.pivot))).plus(vector(s.p[6*q.body : 6*q.body+3]))
}

// displaced is by how far a place on a surface stands off its nominal position.
func (s *state) displaced(body int, at vector) vector {
	b := s.n.bodies[body]
	arm := at.minus(b.pivot)
	return s.attitudes[body].value.apply(arm).plus(vector(s.p[6*body : 6*body+3])).minus(arm)
}

// sight is what one observation should read, with its derivatives by the unknowns that it
// depends on, and what is needed for the second ones.
type sight struct {
	adjust.Row
	value  float64
	by     [adjust.Most]vector // ∂d/∂unknown
	moves  [adjust.Most]motion // what the unknown moves
	ends   [2]end
	nEnds  int
	airing int // the place of the first unknown of the airframe's tilt
}

// motion says what an unknown of a sight is: an angle of a surface, a tilt of the
// airframe or a coordinate of a point's departure; −1 where it is not that.
type motion struct{ body, angle, tilt, point, axis int }

// end is one of the two points of a sight.
type end struct {
	point, body int
	lever       vector
	sign        float64
}

var still = motion{-1, -1, -1, -1, -1}

func (v *sight) note(unknown int, by vector, m motion) {
	i := v.Add(unknown)
	v.by[i], v.moves[i] = by, m
}

// arm notes how d changes as one of its points moves.
func (s *state) arm(v *sight, point int, sign float64) {
	q := &s.n.points[point]
	if q.body >= 0 {
		lever := s.lies(point).minus(s.n.bodies[q.body].pivot)
		v.ends[v.nEnds] = end{point, q.body, lever, sign}
		v.nEnds++
		known := -1 // both ends are on this surface
		for j := range v.Count {
			if v.Index[j] == 6*q.body {
				known = j
			}
		}
		for k := range 6 {
			var by vector
			m := still
			if m.body = q.body; k < 3 {
				by[k] = sign
			} else {
				m.angle = k - 3
				by = s.attitudes[q.body].first[k-3].apply(lever).times(sign)
			}
			if known >= 0 {
				v.by[known+k] = v.by[known+k].plus(by)
				continue
			}
			v.note(6*q.body+k, by, m)
		}
	}
	for axis := 0; q.astray >= 0 && axis < 3; axis++ {
		m := still
		m.body, m.point, m.axis = q.body, point, axis
		var by vector
		if by[axis] = sign; q.body >= 0 {
			by = s.attitudes[q.body].value.apply(by)
		}
		v.note(q.astray+axis, by, m)
	}
}

// bend is the second derivative of d by two unknowns.
func (s *state) bend(v *sight, i, j int) vector {
	a, b := v.moves[i], v.moves[j]
	if a.body != b.body || a.angle < 0 && b.angle < 0 || a.body < 0 {
		return vector{}
	}
	if a.angle < 0 {
		a, b = b, a
	}
	var out vector
	for _, e := range v.ends[:v.nEnds] {
		switch {
		case e.body != a.body:
		case b.angle >= 0:
			out = out.plus(s.attitudes[e.body].second[a.angle][b.angle].apply(e.lever).times(e.sign))
		case b.point == e.point:
			var along vector
			along[b.axis] = e.sign
			out = out.plus(s.attitudes[e.body].first[a.angle].apply(along))
		}
	}
	return out
}

// row is a reading at a state: what should be read, with the common errors, against what
// was; its second derivatives where a place for them is given.
func (s *state) row(o *observation, placings int, second *adjust.Bends) adjust.Row {
	v := s.sight(o, second)
	return s.weigh(&v, o, placings, second)
}

func (s *state) weigh(v *sight, o *observation, placings int, second *adjust.Bends) adjust.Row {
	measure.Erring(&v.Row, second, v.value, s.p, o.commons, func(c measure.Common) (int, float64) {
		if o.kind.angular() {
			return s.n.number[c.Number], 1 / perRadian
		}
		return s.n.number[c.Number], 1
	})
	v.Residual += o.value
	v.Weight = 1 / o.variance(placings)
	return v.Row
}

// datumRow is a level on the airframe: asin(sin φd cos θd) of its roll, θd of its pitch.
func (s *state) datumRow(k, placings int, second *adjust.Bends) adjust.Row {
	var v sight
	var tilt [2]float64
	for a, i := range s.n.tilt {
		if i >= 0 {
			tilt[a] = s.p[i]
		}
	}
	if k == 1 {
		v.First[v.Add(s.n.tilt[1])], v.value = 1, tilt[1]
		return s.weigh(&v, s.n.datum[k], placings, second)
	}
	sf, cf := math.Sincos(tilt[0])
	st, ct := math.Sincos(tilt[1])
	sine := sf * ct
	cosine := math.Sqrt(max(1-sine*sine, 1e-18))
	v.value = math.Asin(sine)
	by := [2]float64{cf * ct, -sf * st}
	bend := [2][2]float64{{-sf * ct, -cf * st}, {-cf * st, -sf * ct}}
	var place [2]int
	for a, i := range s.n.tilt {
		if place[a] = -1; i >= 0 {
			place[a] = v.Add(i)
			v.First[place[a]] = by[a] / cosine
		}
	}
	for a := range 2 {
		for b := range 2 {
			if second != nil && place[a] >= 0 && place[b] >= 0 {
				second[place[a]][place[b]] = bend[a][b]/cosine + sine*by[a]*by[b]/(cosine*cosine*cosine)
			}
		}
	}
	return s.weigh(&v, s.n.datum[k], placings, second)
}

// sight works out what an observation should read, and its second derivatives where
// a place for them is given. With v_i = ∂d/∂p_i, u = d/|d|, h = U·d and L = |d|:
//
//	distance: L_i = u·v_i                L_ij = (v_i·v_j − L_i L_j)/L + u·v_ij
//	height:   h_i = U·v_i + U_i·d        h_ij = U·v_ij + U_i·v_j + U_j·v_i + U_ij·d
//	angle:    s = h/L, ±asin s
func (s *state) sight(o *observation, second *adjust.Bends) sight {
	var v sight
	s.arm(&v, o.to, 1)
	if o.kind != Offset {
		s.arm(&v, o.from, -1)
	}
	if o.kind == Offset || o.kind == pinned {
		v.value = s.place(o.to)[o.axis]
		if o.kind == pinned {
			v.value -= s.place(o.from)[o.axis]
		}
		for i := range v.Count {
			v.First[i] = v.by[i][o.axis]
			for j := 0; second != nil && j < v.Count; j++ {
				second[i][j] = s.bend(&v, i, j)[o.axis]
			}
		}
		return v
	}
	d := s.place(o.to).minus(s.place(o.from))
	if o.kind == Distance {
		v.value = s.distance(&v, &v.First, d, second)
		return v
	}
	v.airing = v.Count
	for k, i := range s.n.tilt {
		if i >= 0 {
			m := still
			m.tilt = k
			v.note(i, vector{}, m)
		}
	}
	s.height(&v, d, second)
	if o.kind.angular() {
		s.slope(&v, d, o.kind, second)
	}
	return v
}

// distance is |d|, with its derivatives.
func (s *state) distance(v *sight, first *[adjust.Most]float64, d vector, second *adjust.Bends) float64 {
	length := d.length()
	if length < tiny {
		return length
	}
	u := d.times(1 / length)
	for i := range v.Count {
		first[i] = u.dot(v.by[i])
	}
	for i := 0; second != nil && i < v.Count; i++ {
		for j := range v.Count {
			second[i][j] = (v.by[i].dot(v.by[j])-first[i]*first[j])/length + u.dot(s.bend(v, i, j))
		}
	}
	return length
}

// tiny is a distance in millimetres below which two points are one.
const tiny = 1e-9

func (s *state) height(v *sight, d vector, second *adjust.Bends) {
	v.value = s.up.value.dot(d)
	by := func(i int) vector { // ∂U/∂p_i
		if i >= v.airing {
			return s.up.first[v.moves[i].tilt]
		}
		return vector{}
	}
	for i := range v.Count {
		v.First[i] = s.up.value.dot(v.by[i]) + by(i).dot(d)
	}
	for i := 0; second != nil && i < v.Count; i++ {
		for j := range v.Count {
			h := by(i).dot(v.by[j]) + by(j).dot(v.by[i])
			if i < v.airing && j < v.airing {
				h += s.up.value.dot(s.bend(v, i, j))
			}
			if i >= v.airing && j >= v.airing {
				h += s.up.second[v.moves[i].tilt][v.moves[j].tilt].dot(d)
			}
			second[i][j] = h
		}
	}
}

// slope turns a height into the angle that a level shows.
func (s *state) slope(v *sight, d vector, kind Type, second *adjust.Bends) {
	length := d.length()
	if length < tiny {
		v.value, v.First = 0, [adjust.Most]float64{}
		if second != nil {
			*second = adjust.Bends{}
		}
		return
	}
	var run [adjust.Most]float64 // of the distance, by the same unknowns
	var bent *adjust.Bends
	if second != nil {
		bent = new(adjust.Bends)
	}
	s.distance(v, &run, d, bent)
	sign := 1.0
	if kind == Roll {
		sign = -1
	}
	sine := max(-1, min(1, v.value/length))
	cosine := math.Sqrt(max(1-sine*sine, 1e-18))
	var by [adjust.Most]float64
	for i := range v.Count {
		by[i] = (v.First[i] - sine*run[i]) / length
	}
	for i := 0; second != nil && i < v.Count; i++ {
		for j := range v.Count {
			bend := second[i][j]/length - (v.First[i]*run[j]+v.First[j]*run[i])/(length*length) - sine*bent[i][j]/length + 2*sine*run[i]*run[j]/(length*length)
			second[i][j] = sign * (bend/cosine + sine*by[i]*by[j]/(cosine*cosine*cosine))
		}
	}
	for i := range v.Count {
		v.First[i] = sign * by[i] / cosine
	}
	v.value = sign * math.Asin(sine)
}
