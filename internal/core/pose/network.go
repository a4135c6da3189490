package pose

import (
	"math"

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
	name string
	at   vector
	body int // the surface that carries it; −1 for the airframe
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
	offset   int // the parameter that is its instrument's constant error; −1 for none
	aside    bool
}

// variance of the reading's own error, in mm² or rad².
func (o observation) variance(placings int) float64 {
	v := o.taken.Variance(placings)
	if o.kind.angular() {
		v /= perRadian * perRadian
	}
	return v
}

const perRadian = 180 / math.Pi

// network is everything that bears on where the surfaces are. Its parameters are
// six per surface (x, y, z in mm; roll, pitch, yaw in rad), the roll and pitch of
// the airframe where they were read, and the constant errors of the instruments.
type network struct {
	points       []point
	bodies       []body
	observations []observation
	datum        [2]*datumReading // of the airframe's roll and pitch; nil where it is taken as level
	tilt         [2]int           // their parameters; −1 where there is none
	offsets      []offset
	params       int
	arc          []float64 // of a parameter that is an angle: the radius that makes it a length; else 1
}

// datumReading is a level on the airframe itself.
type datumReading struct {
	value  float64 // rad
	taken  measure.Observation
	offset int
}

// offset is the constant error of an instrument: a parameter with a prior at 0.
type offset struct {
	taken   measure.Observation // one of its readings
	angular bool
}

// variance of the error, in mm² or rad².
func (o offset) variance() float64 {
	v := o.taken.OffsetVariance()
	if o.angular {
		v /= perRadian * perRadian
	}
	return v
}

// layout numbers the parameters, once points, bodies and readings are there.
func (n *network) layout() {
	n.params = 6 * len(n.bodies)
	reach := 1.0
	n.arc = nil
	for _, b := range n.bodies {
		radius := max(b.reach, 1)
		reach = max(reach, radius)
		n.arc = append(n.arc, 1, 1, 1, radius, radius, radius)
	}
	for k := range n.tilt {
		n.tilt[k] = -1
		if n.datum[k] != nil {
			n.tilt[k] = n.params
			n.params++
			n.arc = append(n.arc, reach)
		}
	}
	known := map[*measure.Instrument]int{}
	number := func(taken measure.Observation, angular bool) int {
		in := taken.Instrument
		if in == nil || taken.OffsetVariance() == 0 {
			return -1
		}
		if i, ok := known[in]; ok {
			return i
		}
		arc := 1.0
		if angular {
			arc = reach
		}
		known[in] = n.params
		n.params++
		n.arc = append(n.arc, arc)
		n.offsets = append(n.offsets, offset{taken, angular})
		return known[in]
	}
	for i := range n.observations {
		o := &n.observations[i]
		o.offset = number(o.taken, o.kind.angular())
	}
	for _, d := range n.datum {
		if d != nil {
			d.offset = number(d.taken, true)
		}
	}
}

// firstOffset is the parameter of the first instrument's constant error.
func (n *network) firstOffset() int { return n.params - len(n.offsets) }

// state is where everything stands for one set of parameters.
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

// place is where a point stands.
func (s *state) place(i int) vector {
	q := s.n.points[i]
	if q.body < 0 {
		return q.at
	}
	b := s.n.bodies[q.body]
	return b.pivot.plus(s.attitudes[q.body].value.apply(q.at.minus(b.pivot))).plus(vector(s.p[6*q.body : 6*q.body+3]))
}

// displaced is by how far a place on a surface stands off its nominal position.
func (s *state) displaced(body int, at vector) vector {
	b := s.n.bodies[body]
	arm := at.minus(b.pivot)
	return s.attitudes[body].value.apply(arm).plus(vector(s.p[6*body : 6*body+3])).minus(arm)
}

// most is how many parameters one row may depend on: six of each of two surfaces, the
// two of the airframe, and the constant error of an instrument.
const most = 15

// sight is what one observation should read, with its derivatives by the
// parameters that it depends on: at most six of each of two surfaces and two of
// the airframe's tilt.
type sight struct {
	value float64
	count int
	index [most]int
	first [most]float64
}

// bends are the second derivatives by the parameters of a sight.
type bends [most][most]float64

// add notes a parameter and returns its place.
func (v *sight) add(index int) int {
	v.index[v.count] = index
	v.count++
	return v.count - 1
}

// arms are the derivatives of the difference d of two points: by each of the
// parameters in a sight a vector, and a second derivative for two angles of one
// surface.
type arms struct {
	by     [most]vector
	bodies [most]int // whose parameter; −1 for the tilt
	angle  [most]int // which angle; −1 for a shift
	lever  [2]vector
	who    [2]int
	sign   [2]float64
	ends   int
}

func (s *state) arm(v *sight, a *arms, point int, sign float64) {
	q := s.n.points[point]
	if q.body < 0 {
		return
	}
	lever := q.at.minus(s.n.bodies[q.body].pivot)
	a.lever[a.ends], a.who[a.ends], a.sign[a.ends] = lever, q.body, sign
	a.ends++
	for k := range 6 {
		var by vector
		if k < 3 {
			by[k] = sign
		} else {
			by = s.attitudes[q.body].first[k-3].apply(lever).times(sign)
		}
		i := -1
		for j := range v.count {
			if v.index[j] == 6*q.body+k {
				i = j // both ends are on this surface
			}
		}
		if i < 0 {
			i = v.add(6*q.body + k)
			a.bodies[i], a.angle[i] = q.body, k-3
		}
		a.by[i] = a.by[i].plus(by)
	}
}

// bend is the second derivative of d by two parameters.
func (s *state) bend(a *arms, i, j int) vector {
	var out vector
	if a.bodies[i] != a.bodies[j] || a.angle[i] < 0 || a.angle[j] < 0 {
		return out
	}
	for e := range a.ends {
		if a.who[e] == a.bodies[i] {
			out = out.plus(s.attitudes[a.who[e]].second[a.angle[i]][a.angle[j]].apply(a.lever[e]).times(a.sign[e]))
		}
	}
	return out
}

// sight works out what an observation should read, and its second derivatives where
// a place for them is given. With v_i = ∂d/∂p_i, u = d/|d|, h = U·d and L = |d|:
//
//	distance: L_i = u·v_i                L_ij = (v_i·v_j − L_i L_j)/L + u·v_ij
//	height:   h_i = U·v_i + U_i·d        h_ij = U·v_ij + U_i·v_j + U_j·v_i + U_ij·d
//	angle:    s = h/L, ±asin s
func (s *state) sight(o *observation, second *bends) sight {
	var v sight
	var a arms
	for i := range a.angle {
		a.angle[i], a.bodies[i] = -1, -1
	}
	s.arm(&v, &a, o.to, 1)
	if o.kind == Offset {
		v.value = s.place(o.to)[o.axis]
		for i := range v.count {
			v.first[i] = a.by[i][o.axis]
			for j := 0; second != nil && j < v.count; j++ {
				second[i][j] = s.bend(&a, i, j)[o.axis]
			}
		}
		return v
	}
	s.arm(&v, &a, o.from, -1)
	if o.kind == pinned {
		v.value = s.place(o.to)[o.axis] - s.place(o.from)[o.axis]
		for i := range v.count {
			v.first[i] = a.by[i][o.axis]
			for j := 0; second != nil && j < v.count; j++ {
				second[i][j] = s.bend(&a, i, j)[o.axis]
			}
		}
		return v
	}
	d := s.place(o.to).minus(s.place(o.from))
	if o.kind == Distance {
		s.distance(&v, &a, d, second)
		return v
	}
	carried := v.count
	for k, i := range s.n.tilt {
		if i >= 0 {
			a.angle[v.add(i)] = -2 - k // the tilt, not of a surface
		}
	}
	s.height(&v, &a, d, carried, second)
	if o.kind.angular() {
		s.slope(&v, &a, d, o.kind, second)
	}
	return v
}

func (s *state) distance(v *sight, a *arms, d vector, second *bends) {
	v.value = d.length()
	if v.value < tiny {
		return
	}
	u := d.times(1 / v.value)
	for i := range v.count {
		v.first[i] = u.dot(a.by[i])
	}
	for i := 0; second != nil && i < v.count; i++ {
		for j := range v.count {
			second[i][j] = (a.by[i].dot(a.by[j])-v.first[i]*v.first[j])/v.value + u.dot(s.bend(a, i, j))
		}
	}
}

// tiny is a distance in millimetres below which two points are one.
const tiny = 1e-9

// tiltOf is which tilt a place in a sight stands for: 0 roll, 1 pitch; −1 for none.
func (a *arms) tiltOf(i int) int { return -2 - a.angle[i] }

func (s *state) height(v *sight, a *arms, d vector, carried int, second *bends) {
	v.value = s.up.value.dot(d)
	by := func(i int) vector { // ∂U/∂p_i
		if i >= carried {
			return s.up.first[a.tiltOf(i)]
		}
		return vector{}
	}
	for i := range v.count {
		v.first[i] = s.up.value.dot(a.by[i]) + by(i).dot(d)
	}
	for i := 0; second != nil && i < v.count; i++ {
		for j := range v.count {
			h := by(i).dot(a.by[j]) + by(j).dot(a.by[i])
			if i < carried && j < carried {
				h += s.up.value.dot(s.bend(a, i, j))
			}
			if i >= carried && j >= carried {
				h += s.up.second[a.tiltOf(i)][a.tiltOf(j)].dot(d)
			}
			second[i][j] = h
		}
	}
}

// slope turns a height into the angle that a level shows.
func (s *state) slope(v *sight, a *arms, d vector, kind Type, second *bends) {
	length := d.length()
	if length < tiny {
		*v = sight{count: v.count, index: v.index}
		return
	}
	var run sight // the distance, by the same parameters
	var bent *bends
	if run.count = v.count; second != nil {
		bent = new(bends)
	}
	s.distance(&run, a, d, bent)
	sign := 1.0
	if kind == Roll {
		sign = -1
	}
	sine := max(-1, min(1, v.value/length))
	cosine := math.Sqrt(max(1-sine*sine, 1e-18))
	var by [most]float64
	for i := range v.count {
		by[i] = (v.first[i] - sine*run.first[i]) / length
	}
	for i := 0; second != nil && i < v.count; i++ {
		for j := range v.count {
			bend := second[i][j]/length - (v.first[i]*run.first[j]+v.first[j]*run.first[i])/(length*length) - sine*bent[i][j]/length + 2*sine*run.first[i]*run.first[j]/(length*length)
			second[i][j] = sign * (bend/cosine + sine*by[i]*by[j]/(cosine*cosine*cosine))
		}
	}
	for i := range v.count {
		v.first[i] = sign * by[i] / cosine
	}
	v.value = sign * math.Asin(sine)
}
