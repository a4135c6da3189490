// Package pose finds where surfaces stand against an airframe from every tape and
// level that was read, all at once: a least-squares adjustment of a network of
// points, with the constant errors of the instruments among its unknowns.
//
// It says how well each degree of freedom is known, which readings are checked by
// others and which of them is wrong (Baarda 1968), what nothing sees, and which
// reading to take next. The mathematics is in network.go (what a reading should
// be), adjust.go (Gauss–Newton, uncertainty), suspect.go and next.go.
package pose

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// Freedoms are the degrees of freedom of a surface about its pivot, in the order of
// the parameters: aft, right, up; right side low, nose up, right tip aft.
var Freedoms = []string{"x", "y", "z", "roll", "pitch", "yaw"}

// Pose is one surface joined to the airframe.
type Pose struct {
	Datum      []Place          `ws:"datum"`
	Points     []Place          `ws:"points"` // nominal positions on the surface
	Pivot      Spot             `ws:"pivot"`
	Readings   []Reading        `ws:"readings"`
	DatumRoll  *measure.Reading `ws:"datum_roll,optional" as:"cross-level"`
	DatumPitch *measure.Reading `ws:"datum_pitch,optional" as:"pitch"`
	Hold       *Hold            `ws:"hold,optional"`
	Attach     []Attach         `ws:"attach,optional"`
	Want       string           `ws:"want,optional" oneof:"x y z roll pitch yaw"`
}

// Place is a named point in airframe axes.
type Place struct {
	Name string          `ws:"name"`
	X    quantity.Length `ws:"x"`
	Y    quantity.Length `ws:"y"`
	Z    quantity.Length `ws:"z"`
}

func (p Place) at() vector { return vector{float64(p.X), float64(p.Y), float64(p.Z)} }

// Spot is a point without a name.
type Spot struct {
	X quantity.Length `ws:"x"`
	Y quantity.Length `ws:"y"`
	Z quantity.Length `ws:"z"`
}

func (p Spot) at() vector { return vector{float64(p.X), float64(p.Y), float64(p.Z)} }

// Reading is one tape, height or level between two points.
type Reading struct {
	ID    string          `ws:"id"`
	Type  string          `ws:"type" oneof:"distance height offset roll pitch"`
	From  string          `ws:"from,optional"`
	To    string          `ws:"to"`
	Axis  string          `ws:"axis,optional" oneof:"x y z"`
	Value measure.Reading `ws:"value" as:"type: distance=length height=length offset=length roll=cross-level pitch=pitch"`
}

// Hold is what keeps the surface from standing off its nominal position: a standard
// uncertainty of a prior at 0 for each freedom that is held.
type Hold struct {
	X     *quantity.Length `ws:"x,optional"`
	Y     *quantity.Length `ws:"y,optional"`
	Z     *quantity.Length `ws:"z,optional"`
	Roll  *quantity.Angle  `ws:"roll,optional" as:"plain"`
	Pitch *quantity.Angle  `ws:"pitch,optional" as:"plain"`
	Yaw   *quantity.Angle  `ws:"yaw,optional" as:"plain"`
}

// priors are the standard uncertainties per freedom, mm or rad; 0 for none, and
// below 0 for one that was given and is of no use.
func (h *Hold) priors() (out [6]float64) {
	if h == nil {
		return out
	}
	for k, u := range []*quantity.Length{h.X, h.Y, h.Z} {
		if u != nil {
			out[k] = positive(float64(*u))
		}
	}
	for k, u := range []*quantity.Angle{h.Roll, h.Pitch, h.Yaw} {
		if u != nil {
			out[3+k] = positive(float64(*u) / perRadian)
		}
	}
	return out
}

func positive(v float64) float64 {
	if v <= 0 {
		return -1
	}
	return v
}

// MaxPoints is the most points of one check.
const MaxPoints = 200

// Validate refuses points of one name, readings of points that are not there,
// readings that are exact (they have no weight), and holds that hold nothing.
func (c *Pose) Validate(report func(path, message string)) {
	where := map[string]int{}
	if len(c.Datum)+len(c.Points) > MaxPoints {
		report("points", fmt.Sprintf("more than %d points", MaxPoints))
	}
	if len(c.Points) == 0 {
		report("points", "is an empty list")
	}
	for _, p := range c.Datum {
		where[p.Name] = -1
	}
	for i, p := range c.Points {
		if _, twice := where[p.Name]; twice {
			report(fmt.Sprintf("points[%d].name", i), fmt.Sprintf("%q is a point of the datum already", p.Name))
		}
		where[p.Name] = 0
	}
	validateReadings(c.Readings, where, report)
	for field, r := range map[string]*measure.Reading{"datum_roll": c.DatumRoll, "datum_pitch": c.DatumPitch} {
		if r != nil && len(r.Values) > 0 && r.Exact() {
			report(field, exactMessage)
		}
	}
	for k, u := range c.Hold.priors() {
		if u < 0 {
			report("hold."+Freedoms[k], "must be above 0")
		}
	}
}

const exactMessage = "is taken as exact; give it an instrument with a resolution or a spread"

// validateReadings checks readings between points that stand on the airframe (−1)
// or on a surface.
func validateReadings(readings []Reading, where map[string]int, report func(path, message string)) {
	ids := map[string]bool{}
	for i, r := range readings {
		at := func(field string) string { return fmt.Sprintf("readings[%d].%s", i, field) }
		if ids[r.ID] {
			report(at("id"), fmt.Sprintf("%q is used twice in this list", r.ID))
		}
		ids[r.ID] = true
		to, known := where[r.To]
		if !known {
			report(at("to"), fmt.Sprintf("no point is called %q", r.To))
		}
		if len(r.Value.Values) > 0 && r.Value.Exact() {
			report(at("value"), exactMessage)
		}
		if r.Type == string(Offset) {
			if r.Axis == "" {
				report(at("axis"), "is missing: x, y or z")
			}
			if r.From != "" {
				report(at("from"), "an offset is a coordinate of one point, and has no from")
			}
			continue
		}
		from, fromKnown := where[r.From]
		switch {
		case r.From == "":
			report(at("from"), "is missing")
		case !fromKnown:
			report(at("from"), fmt.Sprintf("no point is called %q", r.From))
		case r.From == r.To:
			report(at("to"), "is the point that it is read from")
		case known && from < 0 && to < 0 && r.Type == string(Distance):
			report(at("to"), "both points are on the airframe: a distance between them says nothing of the surface")
		}
	}
}

// network builds the network of one surface.
func (c *Pose) network(w *measure.Work) *network {
	n := &network{bodies: []body{{pivot: c.Pivot.at(), hold: c.Hold.priors()}}}
	for _, p := range c.Datum {
		n.points = append(n.points, point{p.Name, p.at(), -1})
	}
	for _, p := range c.Points {
		n.points = append(n.points, point{p.Name, p.at(), 0})
	}
	n.take(w, c.Readings, c.DatumRoll, c.DatumPitch)
	return n
}

// take takes the readings in and numbers the parameters.
func (n *network) take(w *measure.Work, readings []Reading, roll, pitch *measure.Reading) {
	number := map[string]int{}
	for i, p := range n.points {
		number[p.name] = i
		if p.body >= 0 {
			b := &n.bodies[p.body]
			b.reach = max(b.reach, p.at.minus(b.pivot).length())
		}
	}
	for _, r := range readings {
		o := observation{id: r.ID, kind: Type(r.Type), from: -1, to: number[r.To], taken: w.Observe(r.Value)}
		if o.kind == Offset {
			o.axis = map[string]int{"x": 0, "y": 1, "z": 2}[r.Axis]
		} else {
			o.from = number[r.From]
		}
		o.value = o.taken.Value
		if o.kind.angular() {
			o.value /= perRadian
		}
		n.observations = append(n.observations, o)
	}
	for k, r := range []*measure.Reading{roll, pitch} {
		if r != nil {
			taken := w.Observe(*r)
			n.datum[k] = &datumReading{value: taken.Value / perRadian, taken: taken}
		}
	}
	n.layout()
}

// findTilt says that the airframe is taken as level where something depends on it.
func (n *network) findTilt(w *measure.Work) {
	if n.datum[0] != nil && n.datum[1] != nil {
		return
	}
	for _, o := range n.observations {
		if o.kind == Height || o.kind.angular() {
			w.Find("assumes-level-airframe", "the airframe is taken as level: read its own roll and pitch")
			return
		}
	}
}

// Solve adjusts, sets suspects aside, and gives the six freedoms, what each reading
// says, the moves at the attach points, and the readings to take next.
func (c *Pose) Solve(w *measure.Work) {
	n := c.network(w)
	net, found, ok := n.work(w)
	if !ok {
		return
	}
	a := found.a
	for k, name := range Freedoms {
		if found.unseen[k] {
			net.Unseen = append(net.Unseen, name)
			w.Unseen(name, dimensionOf(k))
			continue
		}
		by := unitOf(k)
		w.Extreme(name, nil, dimensionOf(k), a.p[k]*by, func(placings int) float64 { return found.u(k, placings) * by }, found.observed)
	}
	for _, name := range net.Unseen {
		w.Find("unseen", "nothing that was read shows "+name)
	}
	c.rests(w, n, found)
	if len(net.Unseen) == 0 {
		net.Places = c.places(found)
		found.moves(w, net, 0, nil, c.Attach, limitsOf(w))
	}
	c.next(w, net, found)
}

// places is where the points stand.
func (c *Pose) places(f *findings) []measure.Placed {
	out := make([]measure.Placed, len(c.Points))
	for i, p := range c.Points {
		out[i] = f.placed(0, p)
	}
	return out
}

// placed is where a point of a surface stands: u² = J C Jᵀ.
func (f *findings) placed(body int, p Place) measure.Placed {
	out := measure.Placed{Name: p.Name, Moved: f.a.at.displaced(body, p.at())}
	covariance, j := f.covariance(0), f.a.at.jacobian(body, p.at())
	for axis := range 3 {
		sum := 0.0
		for k := range 6 {
			for l := range 6 {
				sum += j[axis][k] * covariance.At(6*body+k, 6*body+l) * j[axis][l]
			}
		}
		out.U[axis] = math.Sqrt(max(0, sum))
	}
	return out
}

// work adjusts the network and reports its readings; where it does not converge that
// is said, and ok is false.
func (n *network) work(w *measure.Work) (net *measure.Network, found *findings, ok bool) {
	n.findTilt(w)
	a, readings, tied, ok := n.snoop()
	if !ok {
		w.Find("did-not-converge", "these readings fit no position: look for a wrong one")
		w.AtBestUnsure()
		return nil, nil, false
	}
	net = &measure.Network{}
	w.Networked(net)
	n.report(w, net, readings, tied)
	return net, n.find(w, a), true
}

// dimensionOf and unitOf are those of a freedom: mm, or degrees for rad.
func dimensionOf(freedom int) measure.Dimension {
	if freedom%6 < 3 {
		return measure.Length
	}
	return measure.Angle
}

func unitOf(freedom int) float64 {
	if freedom%6 < 3 {
		return 1
	}
	return perRadian
}

// report writes what each reading says, and what is suspect.
func (n *network) report(w *measure.Work, net *measure.Network, readings []checked, tied bool) {
	suspects := false
	for i, c := range readings {
		if n.observations[i].kind == pinned {
			continue
		}
		r := n.residual(i, c)
		net.Readings = append(net.Readings, r)
		suspects = suspects || r.Suspect
		if !r.Checked {
			w.Find("unchecked-reading", r.ID+" is checked by no other reading")
		}
	}
	if tied {
		w.Find("cannot-tell-which", "several readings are equally suspect: take them all again")
	}
	if suspects {
		w.Find("take-again", "a reading does not fit the others: take it again")
		w.AtBestUnsure()
	}
}

// findings are what an adjustment knows of the surfaces' freedoms.
type findings struct {
	w        *measure.Work
	a        *adjustment
	unseen   []bool
	observed []measure.Estimate
	known    map[int]*mat.Dense // covariances by placings
}

func (n *network) find(w *measure.Work, a *adjustment) *findings {
	f := &findings{w: w, a: a, unseen: a.unseen()[:6*len(n.bodies)], known: map[int]*mat.Dense{}}
	for k := range f.unseen {
		u, bound := f.u(k, 0)*unitOf(k), float64(mostUnknown)
		if dimensionOf(k) == measure.Angle {
			bound = mostTurned
		}
		f.unseen[k] = f.unseen[k] || u > bound
	}
	for _, o := range n.observations {
		if !o.aside {
			f.observed = append(f.observed, o.taken.Estimate)
		}
	}
	for _, d := range n.datum {
		if d != nil {
			f.observed = append(f.observed, d.taken.Estimate)
		}
	}
	return f
}

// u is the standard uncertainty of a freedom if every reading had at least so many
// placings, in mm or rad.
func (f *findings) u(freedom, placings int) float64 {
	return math.Sqrt(max(0, f.covariance(placings).At(freedom, freedom)))
}

func (f *findings) covariance(placings int) *mat.Dense {
	if f.w.Supposing() {
		return f.a.covariance(placings)
	}
	if f.known[placings] == nil {
		f.known[placings] = f.a.covariance(placings)
	}
	return f.known[placings]
}

// limitsOf are the limits of the six freedoms, nil where there is none.
func limitsOf(w *measure.Work) (out [6]*measure.Limit) {
	for k, name := range Freedoms {
		if l, limited := w.Limit(name); limited {
			out[k] = &l
		}
	}
	return out
}

// rests finds the limited freedoms that rest on a hold more than on readings.
func (c *Pose) rests(w *measure.Work, n *network, f *findings) {
	held := n.bodies[0].hold
	var free []bool
	for k, name := range Freedoms {
		if _, limited := w.Limit(name); !limited || f.unseen[k] {
			continue
		}
		rests := false
		if held[k] > 0 {
			share := f.u(k, 0) / held[k]
			rests = share*share > 0.5
		}
		if !rests && held != [6]float64{} {
			if free == nil {
				free = n.withoutHolds(w)
			}
			rests = free[k]
		}
		if rests {
			w.Find("rests-on-hold", name+" is known from what holds the surface more than from what was read")
			w.AtBestUnsure()
		}
	}
}

// withoutHolds tells what would be unseen without the holds.
func (n *network) withoutHolds(w *measure.Work) []bool {
	bare := *n
	bare.bodies = append([]body(nil), n.bodies...)
	for i := range bare.bodies {
		bare.bodies[i].hold = [6]float64{}
	}
	a, ok := bare.adjust()
	if !ok {
		return make([]bool, 6*len(n.bodies))
	}
	return bare.find(w, a).unseen
}

// moveBack is the move that brings a place back to nominal, axis by axis.
func moveBack(w *measure.Work, at string, displaced vector) {
	for axis, ways := range [3][2]string{{"forward", "aft"}, {"left", "right"}, {"down", "up"}} {
		way := ways[0]
		if displaced[axis] < 0 {
			way = ways[1]
		}
		w.Move(at, way, math.Abs(displaced[axis]))
	}
}

// next chooses what is wanted and finds the readings that would show it best: what
// was asked for, or the first unseen freedom, or the limited one that is least known
// for its limits.
func (c *Pose) next(w *measure.Work, net *measure.Network, f *findings) {
	want := -1
	worst := -1.0
	for k, name := range Freedoms {
		limit, limited := w.Limit(name)
		switch {
		case c.Want != "":
			if c.Want == name {
				want = k
			}
		case len(net.Unseen) > 0:
			if name == net.Unseen[0] {
				want = k
			}
		case limited:
			if need := f.u(k, 0) * unitOf(k) / halfWidth(limit); need > worst {
				want, worst = k, need
			}
		}
	}
	if want < 0 {
		return
	}
	net.Want = Freedoms[want]
	net.Next = f.a.n.next(f.a, f.a.one(want), dimensionOf(want) == measure.Angle, f.a.n.candidates())
}

// halfWidth of a limit; of a one-sided one its bound.
func halfWidth(l measure.Limit) float64 {
	switch {
	case l.Low == nil:
		return math.Abs(*l.High)
	case l.High == nil:
		return math.Abs(*l.Low)
	}
	return (*l.High - *l.Low) / 2
}

// Joined is a check that joins one surface or several to an airframe.
type Joined interface {
	measure.Walker
	// Everywhere lists the named points: those of the airframe, then those of each
	// surface where they should be.
	Everywhere() []On
	// Taken lists the readings, in the order of the check.
	Taken() []Reading
}

// On is a named point with what carries it: a surface by its number, or −1 for the
// airframe.
type On struct {
	Name    string
	At      [3]float64
	Surface int
}

// Everywhere lists the points.
func (c *Pose) Everywhere() []On {
	return append(on(nil, c.Datum, -1), on(nil, c.Points, 0)...)
}

func on(list []On, places []Place, surface int) []On {
	for _, p := range places {
		list = append(list, On{p.Name, p.at(), surface})
	}
	return list
}

// Taken lists the readings.
func (c *Pose) Taken() []Reading { return c.Readings }

// Walk takes the airframe's own level first, where it is read, then the readings in
// their order.
func (c *Pose) Walk() []measure.Spot { return walk(c.DatumRoll, c.DatumPitch, c.Readings) }

// Expect returns the nominal distance or coordinate that a reading should be near. A
// height depends on how the airframe stands, and is not known beforehand.
func (c *Pose) Expect(at measure.Spot) (nominal float64, ok bool) { return expect(c, at) }

func walk(roll, pitch *measure.Reading, readings []Reading) []measure.Spot {
	var spots []measure.Spot
	if roll != nil {
		spots = append(spots, measure.Spot{Field: "datum_roll", Label: "airframe, across", Dimension: measure.Angle, Sense: "cross-level", How: "across the airframe's own datum, display facing you"})
	}
	if pitch != nil {
		spots = append(spots, measure.Spot{Field: "datum_pitch", Label: "airframe, along", Dimension: measure.Angle, Sense: "pitch", How: "along the airframe's own datum, display aft"})
	}
	for _, r := range readings {
		spots = append(spots, r.spot())
	}
	return spots
}

// spot is where the reading is taken.
func (r Reading) spot() measure.Spot {
	s := measure.Spot{List: "readings", Point: r.ID, Field: "value", Dimension: measure.Length, Sense: "length"}
	switch Type(r.Type) {
	case Distance:
		s.Label, s.How = r.From+" to "+r.To, "tape straight from "+r.From+" to "+r.To+", the same edge of the hook each time"
	case Height:
		s.Label, s.How = r.To+" above "+r.From, "height of "+r.To+" above "+r.From+", plumb; below is minus"
	case Offset:
		s.Label, s.How = r.To+", "+map[string]string{"x": "station", "y": "butt line", "z": "waterline"}[r.Axis], "airframe coordinate of "+r.To
	case Roll:
		s.Label, s.How, s.Dimension, s.Sense = r.From+" to "+r.To+", across", "level across from "+r.From+" to "+r.To+", display facing you", measure.Angle, "cross-level"
	default:
		s.Label, s.How, s.Dimension, s.Sense = r.From+" to "+r.To+", along", "level along from "+r.From+" to "+r.To+", display aft", measure.Angle, "pitch"
	}
	return s
}

func expect(c Joined, at measure.Spot) (nominal float64, ok bool) {
	places := map[string]vector{}
	for _, p := range c.Everywhere() {
		places[p.Name] = p.At
	}
	for _, r := range c.Taken() {
		if r.ID != at.Point {
			continue
		}
		switch Type(r.Type) {
		case Distance:
			return places[r.To].minus(places[r.From]).length(), true
		case Offset:
			return places[r.To][map[string]int{"x": 0, "y": 1, "z": 2}[r.Axis]], true
		}
	}
	return 0, false
}
