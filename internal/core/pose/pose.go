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
	"slices"

	"orpine/internal/core/adjust"
	"orpine/internal/core/form"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// Freedoms are the degrees of freedom of a surface about its pivot, in the order of
// the parameters: aft, right, up; right side low, nose up, right tip aft.
var Freedoms = []string{"x", "y", "z", "roll", "pitch", "yaw"}

// Pose is one surface joined to the airframe.
type Pose struct {
	Datum      []Place          `ws:"datum"`
	DatumU     *quantity.Length `ws:"datum_u,optional"` // standard uncertainty of each coordinate, of points without one of their own
	Points     []Place          `ws:"points"`           // nominal positions on the surface
	PointsU    *quantity.Length `ws:"points_u,optional"`
	Pivot      Spot             `ws:"pivot"`
	Readings   []Reading        `ws:"readings"`
	DatumRoll  *measure.Reading `ws:"datum_roll,optional" as:"cross-level"`
	DatumPitch *measure.Reading `ws:"datum_pitch,optional" as:"pitch"`
	Hold       *Hold            `ws:"hold,optional"`
	Attach     []Attach         `ws:"attach,optional"`
	Want       string           `ws:"want,optional" oneof:"x y z roll pitch yaw"`
}

// Place is a named point in airframe axes, and how well each coordinate is known.
type Place struct {
	Name string           `ws:"name"`
	X    quantity.Length  `ws:"x"`
	Y    quantity.Length  `ws:"y"`
	Z    quantity.Length  `ws:"z"`
	U    *quantity.Length `ws:"u,optional"`
}

// point is the place as a network has it, carried by a body, −1 for the airframe. Its
// uncertainty is its own, or the first that is given of the others.
func (p Place) point(body int, others ...*quantity.Length) point {
	out := point{name: p.Name, at: p.at(), body: body}
	for _, u := range append([]*quantity.Length{p.U}, others...) {
		if u != nil {
			out.u, out.stated = float64(*u), true
			break
		}
	}
	return out
}

// validateU refuses uncertainties below 0.
func validateU(path string, list []Place, u *quantity.Length, field string, report func(path, message string)) {
	for i, p := range list {
		if p.U != nil && *p.U < 0 {
			report(fmt.Sprintf("%s[%d].u", path, i), "must not be negative")
		}
	}
	if u != nil && *u < 0 {
		report(field, "must not be negative")
	}
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
	validateU("datum", c.Datum, c.DatumU, "datum_u", report)
	validateU("points", c.Points, c.PointsU, "points_u", report)
	lies := func(name string) bool { return uncertain(c.Datum, c.DatumU, name) }
	validateReadings(c.Readings, c.DatumRoll, c.DatumPitch, where, lies, report)
	for k, u := range c.Hold.priors() {
		if u < 0 {
			report("hold."+Freedoms[k], "must be above 0")
		}
	}
}

const exactMessage = "is taken as exact; give it an instrument with a resolution or a spread"

// uncertain tells whether a point of the airframe is known only to within some u, so that
// a distance to it says where it lies.
func uncertain(list []Place, u *quantity.Length, name string) bool {
	for _, p := range list {
		if q := p.point(-1, u); p.Name == name && q.u > 0 {
			return true
		}
	}
	return false
}

// validateReadings checks readings between points that stand on the airframe (−1)
// or on a surface. lies tells which of the airframe's are not known exactly.
func validateReadings(readings []Reading, roll, pitch *measure.Reading, where map[string]int, lies func(name string) bool, report func(path, message string)) {
	ids := map[string]bool{}
	weighed := make([]measure.Reading, len(readings), len(readings)+2)
	for i, r := range readings {
		weighed[i] = r.Value
	}
	fields := []string{}
	for field, r := range map[string]*measure.Reading{"datum_roll": roll, "datum_pitch": pitch} {
		if r != nil {
			weighed, fields = append(weighed, *r), append(fields, field)
		}
	}
	exact := measure.Weightless(weighed)
	for i, field := range fields {
		if exact[len(readings)+i] {
			report(field, exactMessage)
		}
	}
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
		if exact[i] {
			report(at("value"), exactMessage)
		}
		if r.Type == string(Offset) {
			if r.Axis == "" {
				report(at("axis"), "is missing: x, y or z")
			}
			if r.From != "" {
				report(at("from"), "an offset is a coordinate of one point, and has no from")
			}
			if known && to < 0 {
				report(at("to"), "is on the airframe: its coordinate says nothing of the surface")
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
		case known && from < 0 && to < 0 && r.Type != string(Distance):
			report(at("to"), "both points are on the airframe: only a distance between them tells where they lie")
		case known && from < 0 && to < 0 && !lies(r.From) && !lies(r.To):
			report(at("to"), "both points are on the airframe and known exactly: a distance between them says nothing")
		}
	}
}

// network builds the network of one surface.
func (c *Pose) network(w *measure.Work) *network {
	n := &network{bodies: []body{{pivot: c.Pivot.at(), hold: c.Hold.priors()}}}
	for _, p := range c.Datum {
		n.points = append(n.points, p.point(-1, c.DatumU))
	}
	for _, p := range c.Points {
		n.points = append(n.points, p.point(0, c.PointsU))
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
			n.points[o.from].used = true
		}
		n.points[o.to].used = true
		o.value = o.taken.Value
		if o.kind.angular() {
			o.value /= perRadian
		}
		n.observations = append(n.observations, o)
	}
	for k, r := range []*measure.Reading{roll, pitch} {
		if r != nil {
			taken := w.Observe(*r)
			n.datum[k] = &observation{kind: Roll, value: taken.Value / perRadian, taken: taken}
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
	for k, name := range Freedoms {
		if found.unseen[k] {
			net.Unseen = append(net.Unseen, name)
			w.Unseen(name, dimensionOf(k))
			continue
		}
		w.Extreme(name, nil, dimensionOf(k), found.value(k), found.grounds(found.a.One(k), unitOf(k)))
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
	j := f.a.at.jacobian(body, p.at())
	if f.bodies == nil {
		f.bodies = make([][][]float64, len(f.a.n.bodies))
	}
	if f.bodies[body] == nil {
		f.bodies[body] = f.response(0).Covariance([]int{6 * body, 6*body + 1, 6*body + 2, 6*body + 3, 6*body + 4, 6*body + 5}, f.a.n.size)
	}
	for axis := range 3 {
		sum := 0.0
		for k := range 6 {
			for l := range 6 {
				sum += j[axis][k] * f.bodies[body][k][l] * j[axis][l]
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
	for i := range n.points {
		if p := &n.points[i]; p.used && !p.stated {
			w.Find("points-exact", "how well "+p.name+" is known is not stated: it is taken as exact")
			w.Doubt()
		}
	}
	s := n.snoop(w.Tells(), w.Loose())
	net = &measure.Network{}
	if s.a != nil {
		w.Networked(net)
		n.report(w, net, s)
	}
	if !s.ok {
		says := "these readings fit no position: look for a wrong one"
		if wrong := n.without(); wrong != "" {
			says = "these readings fit no position, but without " + wrong + " they do: read it again, and look whether two of its figures were swapped"
		}
		w.Find("did-not-converge", says)
		w.AtBestUnsure()
		return nil, nil, false
	}
	if f := s.a.Freedom(); w.Contradicts(s.a.S, f) {
		w.Disprove("the readings contradict one another by more than chance: take them again, or look at the points between which they were taken")
	}
	return net, n.find(w, s.a), true
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
func (n *network) report(w *measure.Work, net *measure.Network, s snooped) {
	suspects := false
	for i, c := range s.readings {
		if n.observations[i].kind == pinned {
			continue
		}
		r := n.residual(i, c, w.Loose())
		net.Readings = append(net.Readings, r)
		suspects = suspects || r.Suspect
		if !r.Checked {
			w.Find("unchecked-reading", r.ID+" is checked by no other reading")
		}
	}
	if s.tied {
		w.Find("cannot-tell-which", "several readings are equally suspect: take them all again")
	}
	if suspects {
		w.Find("take-again", "a reading does not fit the others: take it again")
		w.AtBestUnsure()
	}
	if s.pointed {
		at := "too many readings do not fit the others for them to be wrong"
		if s.at != "" {
			at = "the readings that do not fit are all of " + s.at
		}
		w.Settle("marks-or-pin", at+": read these again, or check where the mark, datum point or pin really lies")
	}
}

// adjusted is a solution with where everything stands there.
type adjusted struct {
	*adjust.Solution
	n  *network
	at *state
}

// findings are what an adjustment knows of the surfaces' freedoms.
type findings struct {
	w      *measure.Work
	a      adjusted
	other  *rival // where the surfaces might stand as well; nil where that was not asked
	unseen []bool
	known  map[int]*adjust.Response // by placings
	bodies [][][]float64            // covariance of the freedoms of each; nil until it is asked for
}

func (n *network) find(w *measure.Work, a *adjust.Solution) *findings {
	f := &findings{w: w, a: adjusted{a, n, n.at(a.P)}, unseen: a.Unseen()[:6*len(n.bodies)], known: map[int]*adjust.Response{}}
	f.other = n.rival(a)
	for k := range f.unseen {
		u := f.u(k, 0)
		f.unseen[k] = f.unseen[k] || !known(u*unitOf(k), dimensionOf(k)) || f.other.disputes(f.other.at(k)-a.P[k], u)
	}
	return f
}

// known tells whether something is known well enough to be said, in mm or degrees.
func known(u float64, d measure.Dimension) bool {
	if d == measure.Angle {
		return u <= mostTurned
	}
	return u <= mostUnknown
}

// value is that of a freedom, in mm or degrees between −180 and 180.
func (f *findings) value(freedom int) float64 {
	if dimensionOf(freedom) == measure.Angle {
		return measure.Wrapped(f.a.P[freedom]) * perRadian
	}
	return f.a.P[freedom]
}

// u is the standard uncertainty of a freedom if every reading had at least so many
// placings, in mm or rad.
func (f *findings) u(freedom, placings int) float64 {
	return f.spread(f.a.One(freedom), placings)
}

// spread is the standard uncertainty of a figure that changes by the unknowns as given.
func (f *findings) spread(by []float64, placings int) float64 {
	return math.Sqrt(f.response(placings).Variance(by))
}

func (f *findings) response(placings int) *adjust.Response {
	if f.w.Supposing() {
		return f.a.Response(-1) // the rows anew
	}
	if f.known[placings] == nil {
		f.known[placings] = f.a.Response(placings)
	}
	return f.known[placings]
}

// grounds are those of a figure that changes by the unknowns as given, in a unit of its own.
func (f *findings) grounds(by []float64, unit float64) measure.Grounds {
	return measure.Grounds{
		U: func(placings int) float64 { return f.spread(by, placings) * unit },
		Parts: func() []measure.Part {
			squares := f.response(0).Parts(by)
			for i := range squares {
				squares[i] *= unit * unit
			}
			return f.a.n.parts(squares)
		},
	}
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
	var bare *findings
	for k, name := range Freedoms {
		if _, limited := w.Limit(name); limited && !f.unseen[k] {
			bare = f.restsOn(w, bare, f.a.One(k), dimensionOf(k), name)
		}
	}
}

// restsOn says that a figure is known from what holds the surfaces more than from what was
// read: the holds supply more than half of its information, or without them it would be
// unseen. bare is what is known without the holds, nil until it is wanted.
func (f *findings) restsOn(w *measure.Work, bare *findings, by []float64, dimension measure.Dimension, name string) *findings {
	n := f.a.n
	held, all := 0.0, true // variance of the figure from the holds alone
	for k := range 6 * len(n.bodies) {
		u := n.bodies[k/6].hold[k%6]
		held += by[k] * by[k] * u * u
		all = all && (u > 0 || by[k] == 0)
	}
	rests := held > 0 && all && f.a.Variance(by) > held/2
	if any := slices.ContainsFunc(n.bodies, func(b body) bool { return b.hold != [6]float64{} }); any && !rests {
		if bare == nil {
			bare = n.withoutHolds(w)
		}
		rests = bare != nil && !bare.sees(by, dimension)
	}
	if rests {
		w.Find("rests-on-hold", name+" is known from what holds the surface more than from what was read")
		w.AtBestUnsure()
	}
	return bare
}

// sees tells whether a figure, in mm or rad, is determined, and well enough to be said.
func (f *findings) sees(by []float64, dimension measure.Dimension) bool {
	unit := 1.0
	if dimension == measure.Angle {
		unit = perRadian
	}
	return f.a.Sees(by) && known(f.spread(by, 0)*unit, dimension)
}

// withoutHolds is what would be known without the holds; nil where that does not converge.
func (n *network) withoutHolds(w *measure.Work) *findings {
	bare := *n
	bare.bodies = append([]body(nil), n.bodies...)
	for i := range bare.bodies {
		bare.bodies[i].hold = [6]float64{}
	}
	a, ok := adjust.Solve(&bare)
	if !ok {
		return nil
	}
	return bare.find(w, a)
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
	net.Doubts, net.Tighten = f.doubts(f.a.One(want), unitOf(want))
	net.Next = f.a.n.next(f.a.Solution, f.a.One(want), dimensionOf(want) == measure.Angle, f.a.n.candidates())
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
	U       float64 // standard uncertainty of each coordinate; 0 where it is exact or not stated
}

// Everywhere lists the points.
func (c *Pose) Everywhere() []On {
	return append(on(nil, c.Datum, -1, c.DatumU), on(nil, c.Points, 0, c.PointsU)...)
}

func on(list []On, places []Place, surface int, u ...*quantity.Length) []On {
	for _, p := range places {
		list = append(list, On{p.Name, p.at(), surface, p.point(surface, u...).u})
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

// Aid is what may lie between the instrument and the airframe.
func (c *Pose) Aid(at measure.Spot) measure.Aid { return aid(c, at) }

func aid(c Joined, at measure.Spot) measure.Aid {
	if at.List == "" {
		return measure.Board
	}
	for _, r := range c.Taken() {
		if r.ID == at.Point && Type(r.Type) == Offset {
			return measure.String
		}
	}
	return ""
}

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

// Disturbed tells whether an event makes the readings of the check stale.
func (*Pose) Disturbed(e measure.Event) bool { return measure.Shaped(e, measure.Temperature) }

// Form is what is asked for the check before anything is read.
func (*Pose) Form() measure.Form {
	return measure.Form{
		Fields: []form.Field{
			{Key: "datum", Label: "Points on the airframe: name; station; butt line; waterline", Columns: []string{"name", "x", "y", "z"}, As: "length"},
			{Key: "points", Label: "Points on the surface, where they should be", Columns: []string{"name", "x", "y", "z"}, As: "length"},
			measure.DatumU,
			measure.MarksU,
			{Key: "pivot", Label: "It turns about: station; butt line; waterline", Columns: []string{"x", "y", "z"}, As: "length"},
			{Key: "attach", Label: "Attach points, to say what to move; may: free, fixed, up, down", Columns: []string{"name", "x", "y", "z", "may"}, As: "place", Optional: true},
			{Key: "readings", Label: "Readings, one to a line: distance, height, roll or pitch; from; to (or offset;; point; x, y or z)", Columns: []string{"type", "from", "to", "axis"}, As: "word", Optional: true},
			{Key: "level", Label: "The airframe's own level", As: "word", Words: []string{"is read too", "is true"}},
		},
		Made:    []string{"pivot", "level"},
		Known:   []string{"datum_u", "points_u"},
		Assumes: map[string]measure.Assumed{"datum_u": {Typed: measure.UsualDatumU, What: "points of the airframe"}, "points_u": {Typed: measure.UsualMarkU, What: "marks"}},
		Lists:   func(map[string]any) []string { return []string{"readings"} },
		Finish:  finishPose,
	}
}

// Each reading has an id made of what it is; the airframe's level is two readings.
func finishPose(d map[string]any) {
	if pivots, _ := d["pivot"].([]any); len(pivots) == 1 {
		d["pivot"] = pivots[0]
	}
	finishReadings(d)
}

// ReadingID names a reading of a join by its number and what it is.
func ReadingID(i int, item map[string]any) string {
	word := func(field string) string {
		text, _ := item[field].(string)
		return text
	}
	if word("from") == "" {
		return fmt.Sprintf("%d %s of %s %s", i+1, word("type"), word("to"), word("axis"))
	}
	return fmt.Sprintf("%d %s %s to %s", i+1, word("type"), word("from"), word("to"))
}

// finishReadings gives each reading of a join its id, and the airframe its level.
func finishReadings(d map[string]any) {
	readings, _ := d["readings"].([]any)
	for i, item := range form.Items(readings) {
		item["id"] = ReadingID(i, item)
	}
	if d["readings"] = readings; readings == nil {
		d["readings"] = []any{}
	}
	if form.Take(d, "level") == "is read too" {
		d["datum_roll"], d["datum_pitch"] = map[string]any{}, map[string]any{}
	}
}
