package pose

import (
	"fmt"
	"math"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// Join is several surfaces joined to one airframe and to each other in one
// adjustment: a tailplane on a fin on a boom, two wing panels on a carry-through, a
// canard against the main wing. Each has its own six freedoms; points that two of
// them share are pinned to one another, and figures between any two points (dihedral,
// sweep, decalage) come out with their own uncertainty.
type Join struct {
	Datum      []Place          `ws:"datum"`
	Surfaces   []Surface        `ws:"surfaces"`
	Readings   []Reading        `ws:"readings"`
	Pins       []Pin            `ws:"pins,optional"`
	DatumRoll  *measure.Reading `ws:"datum_roll,optional" as:"cross-level"`
	DatumPitch *measure.Reading `ws:"datum_pitch,optional" as:"pitch"`
	Derive     []Derived        `ws:"derive,optional"`
}

// Surface is one of them; its points are named like no other's.
type Surface struct {
	Name   string         `ws:"name"`
	Points []Place        `ws:"points"`
	Pivot  Spot           `ws:"pivot"`
	Hold   *Hold          `ws:"hold,optional"`
	Attach []Attach       `ws:"attach,optional"`
	Limits *FreedomLimits `ws:"limits,optional"`
}

// FreedomLimits are the limits of a surface's freedoms.
type FreedomLimits struct {
	X     *LengthBound `ws:"x,optional"`
	Y     *LengthBound `ws:"y,optional"`
	Z     *LengthBound `ws:"z,optional"`
	Roll  *AngleBound  `ws:"roll,optional"`
	Pitch *AngleBound  `ws:"pitch,optional"`
	Yaw   *AngleBound  `ws:"yaw,optional"`
}

// LengthBound and AngleBound are limits; either end may be absent.
type LengthBound struct {
	Low  *quantity.Length `ws:"low,optional"`
	High *quantity.Length `ws:"high,optional"`
}

// AngleBound is a limit of an angle.
type AngleBound struct {
	Low  *quantity.Angle `ws:"low,optional" as:"either"`
	High *quantity.Angle `ws:"high,optional" as:"either"`
}

func bound[T ~float64](low, high *T) *measure.Limit {
	l := &measure.Limit{}
	if low != nil {
		v := float64(*low)
		l.Low = &v
	}
	if high != nil {
		v := float64(*high)
		l.High = &v
	}
	return l
}

// limits are those of the six freedoms, nil where there is none.
func (l *FreedomLimits) limits() (out [6]*measure.Limit) {
	if l == nil {
		return out
	}
	for k, b := range []*LengthBound{l.X, l.Y, l.Z} {
		if b != nil {
			out[k] = bound(b.Low, b.High)
		}
	}
	for k, b := range []*AngleBound{l.Roll, l.Pitch, l.Yaw} {
		if b != nil {
			out[3+k] = bound(b.Low, b.High)
		}
	}
	return out
}

// Pin holds two points of different surfaces together, to within a standard
// uncertainty along each axis; nominally apart they stay so.
type Pin struct {
	From string          `ws:"from"`
	To   string          `ws:"to"`
	U    quantity.Length `ws:"u"`
}

// Derived is a figure between two points, or that figure less the same between two
// others. With d = to − from in airframe axes:
//
//	incidence asin(d_z/|d|), from the rear to the front
//	dihedral  atan2(d_z, |d_y|), from the root to the tip
//	sweep     atan2(d_x, |d_y|), from the root to the tip
//	height, fore_aft, lateral  d_z, d_x, d_y
type Derived struct {
	Name string          `ws:"name"`
	Type string          `ws:"type" oneof:"incidence dihedral sweep height fore_aft lateral"`
	From string          `ws:"from"`
	To   string          `ws:"to"`
	Less *Pair           `ws:"less,optional"`
	Low  *measure.Figure `ws:"low,optional" as:"type: incidence=either dihedral=either sweep=either height=length fore_aft=length lateral=length"`
	High *measure.Figure `ws:"high,optional" as:"type: incidence=either dihedral=either sweep=either height=length fore_aft=length lateral=length"`
}

// Pair is two points.
type Pair struct {
	From string `ws:"from"`
	To   string `ws:"to"`
}

// angular tells whether the figure is an angle.
func (d Derived) angular() bool {
	return d.Type == "incidence" || d.Type == "dihedral" || d.Type == "sweep"
}

// MaxSurfaces is the most surfaces of one join.
const MaxSurfaces = 12

// Validate refuses what a single surface refuses, pins and figures between points
// that are not there, and limits without an end or with the low one above.
func (c *Join) Validate(report func(path, message string)) {
	where := map[string]int{}
	for _, p := range c.Datum {
		where[p.Name] = -1
	}
	total := len(c.Datum)
	if len(c.Surfaces) == 0 || len(c.Surfaces) > MaxSurfaces {
		report("surfaces", fmt.Sprintf("between 1 and %d are wanted", MaxSurfaces))
	}
	for b, s := range c.Surfaces {
		path := fmt.Sprintf("surfaces[%d].", b)
		if len(s.Points) == 0 {
			report(path+"points", "is an empty list")
		}
		for i, p := range s.Points {
			if _, twice := where[p.Name]; twice {
				report(fmt.Sprintf("%spoints[%d].name", path, i), fmt.Sprintf("%q is a point already", p.Name))
			}
			where[p.Name] = b
		}
		total += len(s.Points)
		for k, u := range s.Hold.priors() {
			if u < 0 {
				report(path+"hold."+Freedoms[k], "must be above 0")
			}
		}
		for k, l := range s.Limits.limits() {
			validateLimit(l, path+"limits."+Freedoms[k], report)
		}
	}
	if total > MaxPoints {
		report("surfaces", fmt.Sprintf("more than %d points in all", MaxPoints))
	}
	validateReadings(c.Readings, where, report)
	for field, r := range map[string]*measure.Reading{"datum_roll": c.DatumRoll, "datum_pitch": c.DatumPitch} {
		if r != nil && len(r.Values) > 0 && r.Exact() {
			report(field, exactMessage)
		}
	}
	known := func(path, name string) int {
		b, ok := where[name]
		if !ok {
			report(path, fmt.Sprintf("no point is called %q", name))
			return -2
		}
		return b
	}
	for i, p := range c.Pins {
		path := fmt.Sprintf("pins[%d]", i)
		if from, to := known(path+".from", p.From), known(path+".to", p.To); from == to && from > -2 {
			report(path+".to", "both points are on one surface, or on the airframe")
		}
		if p.U <= 0 {
			report(path+".u", "must be above 0")
		}
	}
	for i, d := range c.Derive {
		path := fmt.Sprintf("derive[%d].", i)
		known(path+"from", d.From)
		known(path+"to", d.To)
		if d.From == d.To {
			report(path+"to", "is the point that it is taken from")
		}
		if d.Less != nil {
			known(path+"less.from", d.Less.From)
			known(path+"less.to", d.Less.To)
		}
		if l := d.limit(); l != nil {
			validateLimit(l, path+"low", report)
		}
	}
}

func validateLimit(l *measure.Limit, path string, report func(path, message string)) {
	switch {
	case l == nil:
	case l.Low == nil && l.High == nil:
		report(path, "has neither low nor high")
	case l.Low != nil && l.High != nil && *l.Low > *l.High:
		report(path, "has low above high")
	}
}

func (d Derived) limit() *measure.Limit {
	if d.Low == nil && d.High == nil {
		return nil
	}
	return bound(d.Low, d.High)
}

// network builds the network of all surfaces.
func (c *Join) network(w *measure.Work) *network {
	n := &network{}
	for _, p := range c.Datum {
		n.points = append(n.points, point{p.Name, p.at(), -1})
	}
	for b, s := range c.Surfaces {
		n.bodies = append(n.bodies, body{pivot: s.Pivot.at(), hold: s.Hold.priors()})
		for _, p := range s.Points {
			n.points = append(n.points, point{p.Name, p.at(), b})
		}
	}
	n.pin(w, c.Pins)
	n.take(w, c.Readings, c.DatumRoll, c.DatumPitch)
	return n
}

// pin adds pins as observations that nothing accuses.
func (n *network) pin(w *measure.Work, pins []Pin) {
	number := map[string]int{}
	for i, p := range n.points {
		number[p.name] = i
	}
	for _, p := range pins {
		from, to := number[p.From], number[p.To]
		none := 0.0
		by := &measure.Instrument{Name: "pin", Measures: measure.Length, Resolution: float64(p.U) * math.Sqrt(12), Spread: &none}
		for axis := range 3 {
			apart := n.points[to].at[axis] - n.points[from].at[axis]
			n.observations = append(n.observations, observation{kind: pinned, from: from, to: to, axis: axis, value: apart, taken: w.Observe(measure.Reading{Values: []float64{apart}, Instrument: by})})
		}
	}
}

// Solve adjusts everything at once.
func (c *Join) Solve(w *measure.Work) {
	n := c.network(w)
	net, found, ok := n.work(w)
	if !ok {
		return
	}
	a := found.a
	want := wanted{most: -1}
	for b, s := range c.Surfaces {
		limits := s.Limits.limits()
		for f, name := range Freedoms {
			k := 6*b + f
			what := s.Name + " " + name
			if found.unseen[k] {
				net.Unseen = append(net.Unseen, what)
				w.UnseenWithin(name, s.Name, dimensionOf(k), limits[f])
				w.Find("unseen", "nothing that was read shows "+what)
				want.offer(what, math.Inf(1), a.one(k), dimensionOf(k))
				continue
			}
			by := unitOf(k)
			w.ExtremeWithin(name, s.Name, dimensionOf(k), a.p[k]*by, func(placings int) float64 { return found.u(k, placings) * by }, found.observed, limits[f])
			if limits[f] != nil {
				want.offer(what, found.u(k, 0)*by/halfWidth(*limits[f]), a.one(k), dimensionOf(k))
				n.restsOn(w, found, k, what)
			}
		}
	}
	for _, d := range c.Derive {
		c.derive(w, n, found, d, &want)
	}
	for b, s := range c.Surfaces {
		if len(net.Unseen) == 0 {
			for _, p := range s.Points {
				net.Places = append(net.Places, found.placed(b, p))
			}
			found.moves(w, net, b, s.Name, s.Attach, s.Limits.limits())
		}
	}
	if want.by != nil {
		net.Want = want.name
		net.Next = n.next(a, want.by, want.dimension == measure.Angle, n.candidates())
	}
}

// restsOn says that a limited freedom rests on a hold.
func (n *network) restsOn(w *measure.Work, f *findings, k int, what string) {
	held := n.bodies[k/6].hold[k%6]
	if held == 0 {
		return
	}
	if share := f.u(k, 0) / held; share*share > 0.5 {
		w.Find("rests-on-hold", what+" is known from what holds the surface more than from what was read")
		w.AtBestUnsure()
	}
}

// wanted is the figure that the next readings are for: the first that is unseen, or
// the one least known for its limits.
type wanted struct {
	name      string
	most      float64
	by        []float64
	dimension measure.Dimension
}

func (q *wanted) offer(name string, need float64, by []float64, d measure.Dimension) {
	if need > q.most {
		*q = wanted{name, need, by, d}
	}
}

// derive works out a figure between points: its u by its slopes along the freedoms.
func (c *Join) derive(w *measure.Work, n *network, f *findings, d Derived, want *wanted) {
	value := func(s *state) float64 {
		v := s.figure(d.Type, d.From, d.To)
		if d.Less != nil {
			v -= s.figure(d.Type, d.Less.From, d.Less.To)
		}
		return v
	}
	dimension, by := measure.Length, 1.0
	if d.angular() {
		dimension, by = measure.Angle, perRadian
	}
	slopes := make([]float64, n.params)
	for k := range f.unseen {
		h := 1e-3
		if dimensionOf(k) == measure.Angle {
			h = 1e-6
		}
		one := f.a.one(k)
		slopes[k] = (value(n.at(shifted(f.a.p, one, h))) - value(n.at(shifted(f.a.p, one, -h)))) / (2 * h)
		if f.unseen[k] && math.Abs(slopes[k]*n.arc[k]) > 1e-9*max(1, n.arc[k]) {
			w.UnseenWithin(d.Type, d.Name, dimension, d.limit())
			return
		}
	}
	u := func(placings int) float64 {
		covariance := f.covariance(placings)
		sum := 0.0
		for i, si := range slopes {
			for j, sj := range slopes {
				if si != 0 && sj != 0 {
					sum += si * covariance.At(i, j) * sj
				}
			}
		}
		return math.Sqrt(max(0, sum)) * by
	}
	w.ExtremeWithin(d.Type, d.Name, dimension, value(f.a.at)*by, u, f.observed, d.limit())
	if l := d.limit(); l != nil {
		want.offer(d.Name+" "+d.Type, u(0)/halfWidth(*l), slopes, dimension)
	}
}

// figure is one between two points, in mm or rad.
func (s *state) figure(kind, from, to string) float64 {
	var d vector
	for i, p := range s.n.points {
		switch p.name {
		case to:
			d = d.plus(s.place(i))
		case from:
			d = d.minus(s.place(i))
		}
	}
	switch kind {
	case "incidence":
		return math.Asin(max(-1, min(1, d[2]/max(d.length(), tiny))))
	case "dihedral":
		return math.Atan2(d[2], math.Abs(d[1]))
	case "sweep":
		return math.Atan2(d[0], math.Abs(d[1]))
	case "fore_aft":
		return d[0]
	case "lateral":
		return d[1]
	}
	return d[2]
}

// Everywhere lists the points.
func (c *Join) Everywhere() []On {
	list := on(nil, c.Datum, -1)
	for b, s := range c.Surfaces {
		list = on(list, s.Points, b)
	}
	return list
}

// Taken lists the readings.
func (c *Join) Taken() []Reading { return c.Readings }

// Walk takes the airframe's own level first, where it is read, then the readings.
func (c *Join) Walk() []measure.Spot { return walk(c.DatumRoll, c.DatumPitch, c.Readings) }

// Expect returns the nominal distance or coordinate that a reading should be near.
func (c *Join) Expect(at measure.Spot) (nominal float64, ok bool) { return expect(c, at) }
