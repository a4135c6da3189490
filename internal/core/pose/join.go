package pose

import (
	"fmt"
	"math"

	"orpine/internal/core/adjust"
	"orpine/internal/core/form"
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
	DatumU     *quantity.Length `ws:"datum_u,optional"`  // standard uncertainty of each coordinate, of points without one of their own
	PointsU    *quantity.Length `ws:"points_u,optional"` // likewise, of surfaces that say none
	Surfaces   []Surface        `ws:"surfaces"`
	Readings   []Reading        `ws:"readings"`
	Pins       []Pin            `ws:"pins,optional"`
	DatumRoll  *measure.Reading `ws:"datum_roll,optional" as:"cross-level"`
	DatumPitch *measure.Reading `ws:"datum_pitch,optional" as:"pitch"`
	Derive     []Derived        `ws:"derive,optional"`
}

// Surface is one of them; its points are named like no other's.
type Surface struct {
	Name    string           `ws:"name"`
	Points  []Place          `ws:"points"`
	PointsU *quantity.Length `ws:"points_u,optional"`
	Pivot   Spot             `ws:"pivot"`
	Hold    *Hold            `ws:"hold,optional"`
	Attach  []Attach         `ws:"attach,optional"`
	Limits  *FreedomLimits   `ws:"limits,optional"`
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
//	sweep     atan2(d_x, √(d_y² + d_z²)), from the root to the tip
//	lean      atan2(d_y, d_z), of a fin, from the root to the tip, to the right
//	height, fore_aft, lateral  d_z, d_x, d_y
type Derived struct {
	Name string          `ws:"name"`
	Type string          `ws:"type" oneof:"incidence dihedral sweep lean height fore_aft lateral"`
	From string          `ws:"from"`
	To   string          `ws:"to"`
	Less *Pair           `ws:"less,optional"`
	Low  *measure.Figure `ws:"low,optional" as:"type: incidence=either dihedral=either sweep=either lean=either height=length fore_aft=length lateral=length"`
	High *measure.Figure `ws:"high,optional" as:"type: incidence=either dihedral=either sweep=either lean=either height=length fore_aft=length lateral=length"`
}

// Pair is two points.
type Pair struct {
	From string `ws:"from"`
	To   string `ws:"to"`
}

// angular tells whether the figure is an angle.
func (d Derived) angular() bool {
	return d.Type == "incidence" || d.Type == "dihedral" || d.Type == "sweep" || d.Type == "lean"
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
		validateU(path+"points", s.Points, s.PointsU, path+"points_u", report)
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
	validateU("datum", c.Datum, c.DatumU, "datum_u", report)
	validateU("", nil, c.PointsU, "points_u", report)
	lies := func(name string) bool { return uncertain(c.Datum, c.DatumU, name) }
	validateReadings(c.Readings, c.DatumRoll, c.DatumPitch, where, lies, report)
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
		c.validateDihedral(path+"to", d, d.From, d.To, report)
		if d.Less != nil {
			known(path+"less.from", d.Less.From)
			known(path+"less.to", d.Less.To)
			switch {
			case d.Less.From == d.Less.To:
				report(path+"less.to", "is the point that it is taken from")
			case *d.Less == Pair{d.From, d.To}:
				report(path+"less", "is the figure itself: the difference is nothing")
			}
			c.validateDihedral(path+"less.to", d, d.Less.From, d.Less.To, report)
		}
		if l := d.limit(); l != nil {
			validateLimit(l, path+"low", report)
		}
	}
}

// validateDihedral refuses a dihedral of what stands more up than out.
func (c *Join) validateDihedral(path string, d Derived, from, to string, report func(path, message string)) {
	if d.Type != "dihedral" {
		return
	}
	places := map[string]vector{}
	for _, p := range c.Everywhere() {
		places[p.Name] = p.At
	}
	a, known := places[from]
	b, both := places[to]
	if along := b.minus(a); known && both && math.Abs(along[1]) < math.Abs(along[2]) {
		report(path, "stands more up than out from there: a dihedral is of what lies across; a fin has a lean")
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
	n := &network{several: true}
	for _, p := range c.Datum {
		n.points = append(n.points, p.point(-1, c.DatumU))
	}
	for b, s := range c.Surfaces {
		n.bodies = append(n.bodies, body{pivot: s.Pivot.at(), hold: s.Hold.priors()})
		for _, p := range s.Points {
			n.points = append(n.points, p.point(b, s.PointsU, c.PointsU))
		}
	}
	n.pin(w, c.Pins)
	number := n.numbers()
	for _, d := range c.Derive {
		ends := []string{d.From, d.To}
		if d.Less != nil {
			ends = append(ends, d.Less.From, d.Less.To)
		}
		for _, name := range ends {
			n.points[number[name]].used = true
		}
	}
	n.take(w, c.Readings, c.DatumRoll, c.DatumPitch)
	return n
}

// numbers are the points by name.
func (n *network) numbers() map[string]int {
	out := map[string]int{}
	for i, p := range n.points {
		out[p.name] = i
	}
	return out
}

// pin adds pins as observations that nothing accuses.
func (n *network) pin(w *measure.Work, pins []Pin) {
	number := n.numbers()
	for _, p := range pins {
		from, to := number[p.From], number[p.To]
		n.points[from].used, n.points[to].used = true, true
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
	var bare *findings
	for b, s := range c.Surfaces {
		limits := s.Limits.limits()
		for f, name := range Freedoms {
			k := 6*b + f
			what := s.Name + " " + name
			if found.unseen[k] {
				net.Unseen = append(net.Unseen, what)
				w.UnseenWithin(name, s.Name, dimensionOf(k), limits[f])
				w.Find("unseen", "nothing that was read shows "+what)
				want.offer(what, math.Inf(1), a.One(k), dimensionOf(k))
				continue
			}
			by := unitOf(k)
			w.ExtremeWithin(name, s.Name, dimensionOf(k), found.value(k), found.grounds(a.One(k), by), limits[f])
			if limits[f] != nil {
				want.offer(what, found.u(k, 0)*by/halfWidth(*limits[f]), a.One(k), dimensionOf(k))
				bare = found.restsOn(w, bare, a.One(k), dimensionOf(k), what)
			}
		}
	}
	for _, d := range c.Derive {
		bare = c.derive(w, found, bare, d, &want)
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
		net.Doubts, net.Tighten = found.doubts(want.by, map[bool]float64{true: perRadian, false: 1}[want.dimension == measure.Angle])
		net.Next = n.next(a.Solution, want.by, want.dimension == measure.Angle, n.candidates())
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

// derive works out a figure between points: its u by its slopes along the unknowns.
func (c *Join) derive(w *measure.Work, f, bare *findings, d Derived, want *wanted) *findings {
	dimension, by := measure.Length, 1.0
	if d.angular() {
		dimension, by = measure.Angle, perRadian
	}
	number := f.a.n.numbers()
	v, slopes := f.a.at.figure(d.Type, number[d.From], number[d.To])
	if d.Less != nil {
		less, slope := f.a.at.figure(d.Type, number[d.Less.From], number[d.Less.To])
		v, slopes = v-less, adjust.Shifted(slopes, slope, -1)
	}
	if d.angular() {
		v = measure.Wrapped(v)
	}
	what := d.Name + " " + d.Type
	if u := f.spread(slopes, 0); !f.a.Sees(slopes) || !known(u*by, dimension) || f.other.disputes(c.figure(f.other.stands(f.a.at), d)-c.figure(f.a.at, d), u) {
		w.UnseenWithin(d.Type, d.Name, dimension, d.limit())
		if d.limit() != nil {
			want.offer(what, math.Inf(1), slopes, dimension)
		}
		return bare
	}
	w.ExtremeWithin(d.Type, d.Name, dimension, v*by, f.grounds(slopes, by), d.limit())
	if l := d.limit(); l != nil {
		want.offer(what, f.spread(slopes, 0)*by/halfWidth(*l), slopes, dimension)
		bare = f.restsOn(w, bare, slopes, dimension, what)
	}
	return bare
}

// figure is a derived figure at a state, in mm or rad.
func (c *Join) figure(s *state, d Derived) float64 {
	number := s.n.numbers()
	v, _ := s.figure(d.Type, number[d.From], number[d.To])
	if d.Less != nil {
		less, _ := s.figure(d.Type, number[d.Less.From], number[d.Less.To])
		v -= less
	}
	return v
}

// figure is one between two points, in mm or rad, with its slopes along the unknowns: g·∂d
// with g its gradient by d.
func (s *state) figure(kind string, from, to int) (value float64, slopes []float64) {
	d := s.place(to).minus(s.place(from))
	x, y, z := d[0], d[1], d[2]
	length := max(d.length(), tiny)
	flat := max(math.Hypot(y, z), tiny) // across the airframe
	var g vector
	switch kind {
	case "incidence":
		sine := max(-1, min(1, z/length))
		cosine := math.Sqrt(max(1-sine*sine, 1e-18))
		value, g = math.Asin(sine), vector{0, 0, 1 / length}.minus(d.times(sine/length/length)).times(1/cosine)
	case "dihedral":
		out := math.Copysign(1, y)
		value, g = math.Atan2(z, math.Abs(y)), vector{0, -z * out, math.Abs(y)}.times(1/flat/flat)
	case "sweep":
		value, g = math.Atan2(x, flat), vector{flat, -x * y / flat, -x * z / flat}.times(1/length/length)
	case "lean":
		value, g = math.Atan2(y, z), vector{0, z, -y}.times(1/flat/flat)
	case "fore_aft":
		value, g = x, vector{1, 0, 0}
	case "lateral":
		value, g = y, vector{0, 1, 0}
	default:
		value, g = z, vector{0, 0, 1}
	}
	slopes = make([]float64, s.n.size)
	var v sight
	s.arm(&v, to, 1)
	s.arm(&v, from, -1)
	for i := range v.Count {
		slopes[v.Index[i]] += g.dot(v.by[i])
	}
	return value, slopes
}

// Everywhere lists the points.
func (c *Join) Everywhere() []On {
	list := on(nil, c.Datum, -1, c.DatumU)
	for b, s := range c.Surfaces {
		list = on(list, s.Points, b, s.PointsU, c.PointsU)
	}
	return list
}

// Taken lists the readings.
func (c *Join) Taken() []Reading { return c.Readings }

// Walk takes the airframe's own level first, where it is read, then the readings.
func (c *Join) Walk() []measure.Spot { return walk(c.DatumRoll, c.DatumPitch, c.Readings) }

// Expect returns the nominal distance or coordinate that a reading should be near.
func (c *Join) Expect(at measure.Spot) (nominal float64, ok bool) { return expect(c, at) }

// Aid is what may lie between the instrument and the airframe.
func (c *Join) Aid(at measure.Spot) measure.Aid { return aid(c, at) }

// Disturbed tells whether an event makes the readings of the check stale.
func (*Join) Disturbed(e measure.Event) bool { return measure.Shaped(e, measure.Temperature) }

// Form is what is asked for the check before anything is read.
func (*Join) Form() measure.Form {
	return measure.Form{
		Fields: []form.Field{
			{Key: "datum", Label: "Points on the airframe: name; station; butt line; waterline", Columns: []string{"name", "x", "y", "z"}, As: "length"},
			{Key: "pivots", Label: "Surfaces: name; and what it turns about: station; butt line; waterline", Columns: []string{"name", "x", "y", "z"}, As: "length"},
			{Key: "points", Label: "Their points, where they should be: name; station; butt line; waterline; surface", Columns: []string{"name", "x", "y", "z", "surface"}, As: "place"},
			measure.DatumU,
			measure.MarksU,
			{Key: "pins", Label: "Points that are pinned together: from; to; within", Columns: []string{"from", "to", "u"}, As: "place", Optional: true},
			{Key: "attach", Label: "Attach points: name; station; butt line; waterline; surface; may: free, fixed, up or down", Columns: []string{"name", "x", "y", "z", "surface", "may"}, As: "place", Optional: true},
			{Key: "bounds", Label: "Limits from the plans: surface; x, y, z, roll, pitch or yaw; from; to", Columns: []string{"surface", "freedom", "low", "high"}, As: "word", Optional: true},
			{Key: "derive", Label: "Figures between points: name; incidence, dihedral, sweep, lean, height, fore_aft or lateral; from point; to point; limits from; to", Columns: []string{"name", "type", "from", "to", "low", "high"}, As: "word", Optional: true},
			{Key: "readings", Label: "Readings, one to a line: distance, height, roll or pitch; from; to (or offset;; point; x, y or z)", Columns: []string{"type", "from", "to", "axis"}, As: "word", Optional: true},
			{Key: "level", Label: "The airframe's own level", As: "word", Words: []string{"is read too", "is true"}},
		},
		Made:    []string{"level"},
		Known:   []string{"datum_u", "points_u"},
		Assumes: map[string]measure.Assumed{"datum_u": {Typed: measure.UsualDatumU, What: "points of the airframe"}, "points_u": {Typed: measure.UsualMarkU, What: "marks"}},
		Lists:   func(map[string]any) []string { return []string{"readings"} },
		Finish:  finishJoin,
	}
}

// Each surface has its own pivot, points and limits.
func finishJoin(d map[string]any) {
	surfaces := []any{}
	byName := map[string]map[string]any{}
	for _, item := range form.Items(form.Take(d, "pivots")) {
		name := form.NameOf(item)
		delete(item, "name")
		byName[name] = map[string]any{"name": name, "pivot": item, "points": []any{}}
		surfaces = append(surfaces, byName[name])
	}
	of := func(item map[string]any) map[string]any {
		name, _ := form.Take(item, "surface").(string)
		if byName[name] == nil { // reported as a surface without a pivot
			byName[name] = map[string]any{"name": name, "points": []any{}}
			surfaces = append(surfaces, byName[name])
		}
		return byName[name]
	}
	for _, list := range []string{"points", "attach"} {
		for _, item := range form.Items(form.Take(d, list)) {
			surface := of(item)
			points, _ := surface[list].([]any)
			surface[list] = append(points, item)
		}
	}
	for _, item := range form.Items(form.Take(d, "bounds")) {
		surface := of(item)
		limits, ok := surface["limits"].(map[string]any)
		if !ok {
			limits = map[string]any{}
			surface["limits"] = limits
		}
		freedom, _ := form.Take(item, "freedom").(string)
		limits[freedom] = item
	}
	d["surfaces"] = surfaces
	finishReadings(d)
}
