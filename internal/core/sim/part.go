package sim

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/quantity"
)

// source is a reading that can be taken: what it truly is, and with what.
type source struct {
	true    float64                  // mm or degrees
	moves   func(at float64) float64 // what is added to it as time goes on, in minutes; nil for nothing
	board   float64                  // degrees: what a bowed board adds; it is turned round for a second look
	string  bool                     // read from a string, which may lie off
	with    *tool
	into    *measure.Reading
	blunder float64 // in every placing until it is taken again
	retaken bool    // it was suspect, and was taken again
	side    *source // the same on the other side; nil for none
	spot    float64 // what all placings on this spot share, in standard deviations
	at      float64 // when it was taken last
}

// take places the instrument at a time. A board that may be bowed is turned round and read
// once more: half the difference is what it adds.
func (s *source) take(at float64, r *rand.Rand) {
	if s.spot == 0 {
		s.spot = tailed(s.with.world.Tails, r)
	}
	true := s.true
	if s.moves != nil {
		true += s.moves(at)
	}
	s.at = at
	s.into.Values = append(s.into.Values, s.with.show(true+s.board, s.spot, at, r)+s.blunder)
	s.into.Corrections = nil
	if s.board != 0 {
		s.turnBoard(true, at, r)
	}
	if s.string {
		s.into.Corrections = append(s.into.Corrections, measure.Correction{Why: "the string", U: stringU, Common: "string"})
	}
	if s.with.world.Sag && s.with.pull > 0 && s.true > hangs {
		s.into.Corrections = append(s.into.Corrections, measure.SagCorrection(s.true, tapeWeight, tapePull, 0.2, "sag"))
	}
}

// turnBoard reads what lies under a board that may be bowed at some places each way round:
// half of what changes is the board's.
func (s *source) turnBoard(true, at float64, r *rand.Rand) {
	elsewhere := func(board float64) float64 {
		return s.with.show(true+board, tailed(s.with.world.Tails, r), at, r) + s.blunder
	}
	turned := 0.0
	for range boardReadings/2 - 1 {
		s.into.Values = append(s.into.Values, elsewhere(s.board))
	}
	for range boardReadings / 2 {
		turned += elsewhere(-0.9*s.board) / (boardReadings / 2)
	}
	s.into.Corrections = append(s.into.Corrections, measure.Correction{Why: "board turned round", Value: (turned - s.into.Mean()) / 2, U: boardU})
}

// boardReadings are those that the airframe's own level takes with a board.
const boardReadings = 8

// boardU is how well a board that was turned round is known, in degrees, and stringU how
// well a string along the middle of the airframe lies there, in mm; hangs is from where on
// a tape is not held up.
const (
	boardU  = 0.005
	stringU = 0.5
	hangs   = 3000
)

// again throws the placings away and takes as many anew. A blunder is repeated as often as
// the world has it.
func (s *source) again(at float64, r *rand.Rand) {
	n := 1
	if s.blunder != 0 && r.Float64() >= s.with.world.Repeats {
		s.blunder = 0
	}
	s.into.Values = nil
	for range n {
		s.take(at, r)
	}
}

func reading(with *tool) measure.Reading { return measure.Reading{Instrument: with.stated} }

// part is one check of a build with its hidden truth.
type part struct {
	name    string
	check   measure.Check
	limits  map[string]measure.Limit
	truth   map[string]float64
	sources []*source
	reread  bool
	rounds  int                                    // of readings that were taken beside the plan
	left    bool                                   // a reading was taken back
	leave   func(i int)                            // takes a reading back
	more    func(next measure.NextReading) *source // takes up a reading that was not planned; nil where there is none
	widen   func() []*source                       // takes up further places; nil where there are no more
}

// outside tells whether the truth lies outside a limit, and inside whether it lies
// inside every one by more than a margin per quantity.
func (p *part) outside() bool {
	for name, l := range p.limits {
		if !l.Holds(p.truth[name]) {
			return true
		}
	}
	return false
}

func (p *part) insideBy(margin func(quantity string) float64) bool {
	for name, l := range p.limits {
		m, v := margin(name), p.truth[name]
		if l.Low != nil && v-*l.Low <= m || l.High != nil && *l.High-v <= m {
			return false
		}
	}
	return true
}

func within(v float64) measure.Limit { return measure.Limit{Low: spread(-v), High: spread(v)} }

// twistAt are the places along the span, as shares of it, where a twist is read first: near
// both ends, where a reading tells most, and in the middle, where a kink would show. More
// are read between them if that is not enough: a further place tells more than another
// placing, for what is wrong with a place is wrong with every placing on it.
var twistAt = []float64{0, 0.05, 0.1, 0.45, 0.55, 0.9, 0.95, 1}

// mostWidened is how often further places are read.
const mostWidened = 6

// newTwist is a surface held down to rails that are twisted and humped themselves; read on
// the surface and at once on the rails under it.
func newTwist(k kit, r *rand.Rand) *part {
	const span = 2880.0
	own, rails, settles := 0.06*r.NormFloat64(), 0.25*r.NormFloat64(), k.level.world.Settle*r.NormFloat64()
	c := &measure.Twist{Held: true}
	p := &part{name: "twist", check: c, limits: map[string]measure.Limit{"twist": within(0.10)}, truth: map[string]float64{"twist": own}}
	add := func(share float64) []*source {
		angle, support := reading(k.level), reading(k.level)
		c.Stations = append(c.Stations, measure.TwistStation{Name: fmt.Sprint("station ", len(c.Stations)+1), Y: quantity.Length(span * share), Angle: &angle, Support: &support})
		under := rails*share + 0.1*math.Sin(share*math.Pi)*r.NormFloat64()
		moves := func(at float64) float64 { return settles * share * at / session }
		added := []*source{
			{true: under + own*share, moves: moves, with: k.level, into: &angle},
			{true: under, moves: moves, with: k.level, into: &support},
		}
		p.sources = append(p.sources, added...)
		return added
	}
	for _, share := range twistAt {
		add(share)
	}
	p.widen = func() (added []*source) {
		for i := range 4 {
			in := 0.01 + 0.005*float64(p.rounds) + 0.03*float64(i)
			added = append(added, add(in)...)
			added = append(added, add(1-in)...)
		}
		return added
	}
	return p
}

// session is how long the work takes, in minutes.
const session = 240

// newSpar is a spar with a bow, read from a string at the ends, in the middle and between.
func newSpar(k kit, r *rand.Rand) *part {
	bow := 0.8 * r.NormFloat64()
	c := &measure.Straightness{Reference: "best"}
	p := &part{name: "bow", check: c, limits: map[string]measure.Limit{"bow": within(2)}, truth: map[string]float64{"bow": bow}}
	add := func(x float64) *source {
		c.Points = append(c.Points, measure.StraightPoint{Name: fmt.Sprint("place ", len(c.Points)+1), X: quantity.Length(x), Offset: reading(k.rule)})
		at := (x - 2875) / 2875
		added := &source{true: 15 + bow*(1-at*at), with: k.rule}
		p.sources = append(p.sources, added)
		for i := range c.Points { // the list may have moved as it grew
			p.sources[i].into = &c.Points[i].Offset
		}
		return added
	}
	for i := range 7 {
		add(5750.0 / 6 * float64(i))
	}
	p.widen = func() (added []*source) {
		near := 60 * float64(p.rounds+1)
		for _, x := range []float64{near, 2875 - near, 2875 + near, 5750 - near} {
			added = append(added, add(x))
		}
		return added
	}
	return p
}

// newBench is the survey of six supports; the rails' own shape has no limit.
func newBench(k kit, r *rand.Rand) *part {
	twist := 0.25 * r.NormFloat64()
	c := &measure.Bench{}
	p := &part{name: "bench", check: c, truth: map[string]float64{"twist": twist}}
	c.Points = make([]measure.BenchPoint, 6)
	lean := 0.1 * r.NormFloat64()
	for i := range c.Points {
		x, y := 1440*float64(i/2), 350*float64(2*(i%2)-1)
		c.Points[i] = measure.BenchPoint{Name: fmt.Sprint("support ", i+1), X: quantity.Length(x), Y: quantity.Length(y), Height: reading(k.water)}
		across := lean + twist*x/2880 // degrees, right low positive
		p.sources = append(p.sources, &source{true: 50 - y*math.Tan(across*math.Pi/180), with: k.water, into: &c.Points[i].Height})
	}
	return p
}

// layout is an aircraft's join: its points, its plan of readings, its limits.
type layout struct {
	pose   func() *pose.Pose
	plan   []plan
	limits map[string]measure.Limit
	scale  [6]float64 // standard deviation of the true freedoms, mm and degrees
}

// plan is a reading that is planned; one of kind offset is that from the middle of the
// airframe to the right.
type plan struct{ kind, from, to string }

func place(name string, x, y, z float64) pose.Place {
	return pose.Place{Name: name, X: quantity.Length(x), Y: quantity.Length(y), Z: quantity.Length(z)}
}

// ribs are marks near the leading and trailing edge at both sides, as far apart as the
// chord allows, and the levels along them: what a mark lies off weighs less so.
var ribs = []string{"inner L", "inner R", "middle L", "middle R", "outer L", "outer R"}

// planned lists tapes from each datum point to both tips, heights over one of them, the
// levels, and the distances between the datum points themselves.
func planned(datum []string, over string) (out []plan) {
	for _, from := range datum {
		out = append(out, plan{"distance", from, "tip L"}, plan{"distance", from, "tip R"})
	}
	out = append(out, plan{"height", over, "tip L"}, plan{"height", over, "tip R"})
	for _, rib := range ribs {
		out = append(out, plan{"pitch", "aft " + rib, "fore " + rib})
	}
	for _, rib := range ribs[:2] {
		out = append(out, plan{"height", over, "fore " + rib}, plan{"height", over, "aft " + rib})
	}
	for _, rib := range ribs[:2] {
		out = append(out, plan{"offset", "", "fore " + rib})
	}
	return append(out, plan{"roll", "fore outer L", "fore outer R"}, plan{"roll", "aft outer L", "aft outer R"})
}

// between lists the distances between datum points.
func between(datum []string) (out []plan) {
	for i, from := range datum {
		for _, to := range datum[:i] {
			out = append(out, plan{"distance", from, to})
		}
	}
	return out
}

// layouts are the tailplane on its fin and the foreplane on its fuselage.
var layouts = []layout{
	{
		pose: func() *pose.Pose {
			return &pose.Pose{
				Datum: []pose.Place{place("firewall", 0, 0, 300), place("boom root", 2350, 0, 640), place("sill L", 1800, -520, 420), place("sill R", 1800, 520, 420), place("wing root L", 1150, -560, 130), place("wing root R", 1150, 560, 130)},
				Points: []pose.Place{place("tip L", 5560, -1440, 1740), place("tip R", 5560, 1440, 1740),
					place("fore inner L", 5420, -300, 1732), place("fore inner R", 5420, 300, 1732), place("aft inner L", 5980, -300, 1722), place("aft inner R", 5980, 300, 1722),
					place("fore middle L", 5420, -650, 1732), place("fore middle R", 5420, 650, 1732), place("aft middle L", 5980, -650, 1722), place("aft middle R", 5980, 650, 1722),
					place("fore outer L", 5420, -1000, 1732), place("fore outer R", 5420, 1000, 1732), place("aft outer L", 5980, -1000, 1722), place("aft outer R", 5980, 1000, 1722)},
				Pivot: pose.Spot{X: 5480, Z: 1730},
			}
		},
		plan:   planned([]string{"firewall", "boom root", "sill L", "sill R", "wing root L", "wing root R"}, "sill L"),
		limits: map[string]measure.Limit{"roll": within(0.10), "yaw": within(0.10), "pitch": within(0.15)},
		scale:  [6]float64{2, 2, 2, 0.07, 0.09, 0.07},
	},
	{
		pose: func() *pose.Pose {
			return &pose.Pose{
				Datum: []pose.Place{place("nose", 60, 0, 500), place("cockpit L", 1650, -310, 430), place("cockpit R", 1650, 310, 430), place("tail hook", 4390, 0, 720), place("wing root L", 3050, -520, 410), place("wing root R", 3050, 520, 410)},
				Points: []pose.Place{place("tip L", 830, -1550, 560), place("tip R", 830, 1550, 560),
					place("fore inner L", 700, -240, 547), place("fore inner R", 700, 240, 547), place("aft inner L", 1100, -240, 538), place("aft inner R", 1100, 240, 538),
					place("fore middle L", 700, -670, 547), place("fore middle R", 700, 670, 547), place("aft middle L", 1100, -670, 538), place("aft middle R", 1100, 670, 538),
					place("fore outer L", 700, -1100, 547), place("fore outer R", 700, 1100, 547), place("aft outer L", 1100, -1100, 538), place("aft outer R", 1100, 1100, 538)},
				Pivot: pose.Spot{X: 800, Z: 545},
			}
		},
		plan:   planned([]string{"nose", "tail hook", "cockpit L", "cockpit R", "wing root L", "wing root R"}, "cockpit L"),
		limits: map[string]measure.Limit{"roll": within(0.15), "yaw": within(0.15), "pitch": within(0.20)},
		scale:  [6]float64{2, 2, 2, 0.1, 0.12, 0.1},
	},
}

// newJoin is a surface that stands off its nominal position on an airframe that is
// not quite level.
func newJoin(l layout, k kit, r *rand.Rand) *part {
	world := k.tape.world
	c := l.pose()
	datumU, pointsU := quantity.Length(world.Datum), quantity.Length(world.Marks)
	c.DatumU, c.PointsU = &datumU, &pointsU
	p := &part{name: "join", check: c, limits: l.limits, truth: map[string]float64{}}
	q := stance{off: map[string][3]float64{}}
	for i, name := range pose.Freedoms {
		q.freedoms[i] = l.scale[i] * r.NormFloat64()
		p.truth[name] = q.freedoms[i]
	}
	for i, list := range [][]pose.Place{c.Datum, c.Points} {
		for _, point := range list {
			u := []float64{world.Datum, world.Marks}[i]
			q.off[point.Name] = [3]float64{u * tailed(true, r), u * tailed(true, r), u * tailed(true, r)}
		}
	}
	q.tilt = [2]float64{0.3 * r.NormFloat64(), 0.3 * r.NormFloat64()}
	plans := l.plan
	if world.Datum > 0 {
		var names []string
		for _, d := range c.Datum[:4] {
			names = append(names, d.Name)
		}
		plans = slices.Concat(plans, between(names))
	}
	with := map[string]*tool{"distance": k.tape, "height": k.water, "offset": k.rule, "roll": k.level, "pitch": k.level}
	q.string = stringU * tailed(true, r)
	if world.Datum == 0 {
		q.string = 0
	}
	add := func(plan plan, more string) *source {
		added := &source{true: q.read(c, plan), with: with[plan.kind], string: plan.kind == "offset" && world.Datum > 0}
		axis := map[string]string{"offset": "y"}[plan.kind]
		c.Readings = append(c.Readings, pose.Reading{Axis: axis, ID: fmt.Sprintf("%d%s %s %s to %s", len(c.Readings)+1, more, plan.kind, plan.from, plan.to), Type: plan.kind, From: plan.from, To: plan.to, Value: reading(with[plan.kind])})
		// The list may move as it grows: the sources write into where it stands then.
		p.sources = slices.Insert(p.sources, len(c.Readings)-1, added)
		for i := range c.Readings {
			p.sources[i].into = &c.Readings[i].Value
		}
		return added
	}
	for _, plan := range plans {
		add(plan, "")
	}
	for i := range p.sources {
		for j := range p.sources {
			if plans[i].mirrors(plans[j]) {
				p.sources[i].side = p.sources[j]
			}
		}
	}
	p.leave = func(i int) {
		c.Readings, p.sources = slices.Delete(c.Readings, i, i+1), slices.Delete(p.sources, i, i+1)
		for i := range c.Readings {
			p.sources[i].into = &c.Readings[i].Value
		}
	}
	p.more = func(next measure.NextReading) *source {
		return add(plan{next.Type, next.From, next.To}, " more")
	}
	roll, pitch := reading(k.level), reading(k.level)
	c.DatumRoll, c.DatumPitch = &roll, &pitch
	sine := math.Sin(q.tilt[0]*perDegree) * math.Cos(q.tilt[1]*perDegree)
	p.sources = append(p.sources,
		&source{true: math.Asin(sine) / perDegree, board: world.Board * r.NormFloat64(), with: k.level, into: &roll},
		&source{true: q.tilt[1], board: world.Board * r.NormFloat64(), with: k.level, into: &pitch})
	return p
}

// mirrors tells whether another reading is the same one on the other side.
func (p plan) mirrors(o plan) bool {
	other := func(name string) string {
		if name == "" || name[len(name)-1] != 'L' && name[len(name)-1] != 'R' {
			return name
		}
		return name[:len(name)-1] + map[byte]string{'L': "R", 'R': "L"}[name[len(name)-1]]
	}
	return p != o && p.kind == o.kind && p.kind != "roll" && other(p.to) == o.to && (other(p.from) == o.from || p.from == o.from)
}

const perDegree = math.Pi / 180

// stance is where a surface and its airframe truly are, in mm and degrees, worked
// out apart from the core: the rotations of the format one after another.
type stance struct {
	freedoms [6]float64
	tilt     [2]float64
	off      map[string][3]float64 // by how far points lie off in the axes of what carries them
	string   float64               // how far the string lies to the left of the middle
}

func (q stance) move(p, pivot [3]float64) [3]float64 {
	x, y, z := p[0]-pivot[0], p[1]-pivot[1], p[2]-pivot[2]
	s, c := math.Sincos(q.freedoms[3] * perDegree)
	y, z = y*c+z*s, z*c-y*s
	s, c = math.Sincos(q.freedoms[4] * perDegree)
	x, z = x*c+z*s, z*c-x*s
	s, c = math.Sincos(q.freedoms[5] * perDegree)
	x, y = x*c+y*s, y*c-x*s
	return [3]float64{pivot[0] + x + q.freedoms[0], pivot[1] + y + q.freedoms[1], pivot[2] + z + q.freedoms[2]}
}

// read is what a reading would show without any error.
func (q stance) read(c *pose.Pose, p plan) float64 {
	pivot := [3]float64{float64(c.Pivot.X), float64(c.Pivot.Y), float64(c.Pivot.Z)}
	lies := func(p pose.Place) [3]float64 {
		off := q.off[p.Name]
		return [3]float64{float64(p.X) + off[0], float64(p.Y) + off[1], float64(p.Z) + off[2]}
	}
	find := func(name string) [3]float64 {
		for _, d := range c.Datum {
			if d.Name == name {
				return lies(d)
			}
		}
		for _, s := range c.Points {
			if s.Name == name {
				return q.move(lies(s), pivot)
			}
		}
		return [3]float64{}
	}
	to, from := find(p.to), find(p.from)
	d := [3]float64{to[0] - from[0], to[1] - from[1], to[2] - from[2]}
	length := math.Sqrt(d[0]*d[0] + d[1]*d[1] + d[2]*d[2])
	sf, cf := math.Sincos(q.tilt[0] * perDegree)
	st, ct := math.Sincos(q.tilt[1] * perDegree)
	up := -st*d[0] - sf*ct*d[1] + ct*cf*d[2]
	switch p.kind {
	case "distance":
		return length
	case "offset":
		return to[1] + q.string
	case "height":
		return up
	case "roll":
		return math.Asin(-up/length) / perDegree
	}
	return math.Asin(up/length) / perDegree
}
