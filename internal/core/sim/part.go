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
	true    float64 // mm or degrees
	with    *tool
	into    *measure.Reading
	blunder float64 // in every placing until it is taken again
	side    *source // the same on the other side; nil for none
}

// take places the instrument once more.
func (s *source) take(r *rand.Rand) {
	s.into.Values = append(s.into.Values, s.with.show(s.true, r)+s.blunder)
}

// again throws the placings away and takes as many anew, without the blunder.
func (s *source) again(r *rand.Rand) {
	n := len(s.into.Values)
	s.blunder, s.into.Values = 0, nil
	for range n {
		s.take(r)
	}
}

func reading(with *tool) measure.Reading { return measure.Reading{Instrument: with.stated} }

// part is one check of a build with its hidden truth.
type part struct {
	name     string
	check    measure.Check
	limits   map[string]measure.Limit
	truth    map[string]float64
	sources  []*source
	placings int // of each reading, before anything more is asked for
	reread   bool
	extra    int                                    // readings that were taken beside the plan
	more     func(next measure.NextReading) *source // takes up a reading that was not planned; nil where there is none
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

// newTwist is a surface held down to rails that are twisted and humped themselves;
// read at five stations on the surface and on the rails.
func newTwist(k kit, r *rand.Rand) *part {
	own, rails := 0.06*r.NormFloat64(), 0.25*r.NormFloat64()
	c := &measure.Twist{Held: true}
	p := &part{name: "twist", placings: 2, check: c, limits: map[string]measure.Limit{"twist": within(0.10)}, truth: map[string]float64{"twist": own}}
	c.Stations = make([]measure.TwistStation, 5)
	for i := range c.Stations {
		y := 720 * float64(i)
		hump := 0.1 * math.Sin(y/2880*math.Pi) * r.NormFloat64()
		angle, support := reading(k.level), reading(k.level)
		c.Stations[i] = measure.TwistStation{Name: fmt.Sprint("station ", i+1), Y: quantity.Length(y), Angle: &angle, Support: &support}
		under := rails*y/2880 + hump
		p.sources = append(p.sources, &source{true: under + own*y/2880, with: k.level, into: &angle}, &source{true: under, with: k.level, into: &support})
	}
	return p
}

// newSpar is a spar with a bow, read from a string at seven places.
func newSpar(k kit, r *rand.Rand) *part {
	bow := 0.8 * r.NormFloat64()
	c := &measure.Straightness{Reference: "best"}
	p := &part{name: "bow", placings: 1, check: c, limits: map[string]measure.Limit{"bow": within(2)}, truth: map[string]float64{"bow": bow}}
	c.Points = make([]measure.StraightPoint, 7)
	for i := range c.Points {
		x := 5750.0 / 6 * float64(i)
		c.Points[i] = measure.StraightPoint{Name: fmt.Sprint("place ", i+1), X: quantity.Length(x), Offset: reading(k.rule)}
		at := (x - 2875) / 2875
		p.sources = append(p.sources, &source{true: 15 + bow*(1-at*at), with: k.rule, into: &c.Points[i].Offset})
	}
	return p
}

// newBench is the survey of six supports; the rails' own shape has no limit.
func newBench(k kit, r *rand.Rand) *part {
	twist := 0.25 * r.NormFloat64()
	c := &measure.Bench{}
	p := &part{name: "bench", placings: 1, check: c, truth: map[string]float64{"twist": twist}}
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

type plan struct{ kind, from, to, axis string }

func place(name string, x, y, z float64) pose.Place {
	return pose.Place{Name: name, X: quantity.Length(x), Y: quantity.Length(y), Z: quantity.Length(z)}
}

// layouts are the tailplane on its fin and the foreplane on its fuselage.
var layouts = []layout{
	{
		pose: func() *pose.Pose {
			return &pose.Pose{
				Datum:  []pose.Place{place("firewall", 0, 0, 300), place("boom root", 2350, 0, 640), place("sill L", 1800, -520, 420), place("sill R", 1800, 520, 420)},
				Points: []pose.Place{place("tip L", 5560, -1440, 1740), place("tip R", 5560, 1440, 1740), place("fore L", 5480, -105, 1730), place("fore R", 5480, 105, 1730), place("aft L", 5830, -500, 1724), place("aft R", 5830, 500, 1724)},
				Pivot:  pose.Spot{X: 5480, Z: 1730},
			}
		},
		plan: []plan{
			{"distance", "firewall", "tip L", ""}, {"distance", "firewall", "tip R", ""}, {"distance", "boom root", "tip L", ""}, {"distance", "boom root", "tip R", ""},
			{"distance", "sill L", "tip L", ""}, {"distance", "sill R", "tip R", ""}, {"distance", "sill L", "tip R", ""}, {"distance", "sill R", "tip L", ""},
			{"height", "sill L", "tip L", ""}, {"height", "sill L", "tip R", ""}, {"height", "sill L", "aft L", ""}, {"height", "sill L", "aft R", ""}, {"height", "sill L", "fore L", ""}, {"height", "sill L", "fore R", ""},
			{"pitch", "aft L", "fore L", ""}, {"pitch", "aft R", "fore R", ""}, {"roll", "fore L", "fore R", ""}, {"roll", "aft L", "aft R", ""},
		},
		limits: map[string]measure.Limit{"roll": within(0.10), "yaw": within(0.10), "pitch": within(0.15)},
		scale:  [6]float64{2, 2, 2, 0.07, 0.09, 0.07},
	},
	{
		pose: func() *pose.Pose {
			return &pose.Pose{
				Datum:  []pose.Place{place("nose", 60, 0, 500), place("cockpit L", 1650, -310, 430), place("cockpit R", 1650, 310, 430), place("tail hook", 4390, 0, 720)},
				Points: []pose.Place{place("tip L", 830, -1550, 560), place("tip R", 830, 1550, 560), place("pin L", 800, -240, 545), place("pin R", 800, 240, 545), place("rear L", 1010, -240, 541), place("rear R", 1010, 240, 541)},
				Pivot:  pose.Spot{X: 800, Z: 545},
			}
		},
		plan: []plan{
			{"distance", "nose", "tip L", ""}, {"distance", "nose", "tip R", ""}, {"distance", "tail hook", "tip L", ""}, {"distance", "tail hook", "tip R", ""},
			{"distance", "cockpit L", "tip L", ""}, {"distance", "cockpit R", "tip R", ""}, {"distance", "cockpit L", "tip R", ""}, {"distance", "cockpit R", "tip L", ""},
			{"height", "cockpit L", "tip L", ""}, {"height", "cockpit L", "tip R", ""}, {"height", "cockpit L", "pin L", ""}, {"height", "cockpit L", "pin R", ""}, {"height", "cockpit L", "rear L", ""}, {"height", "cockpit L", "rear R", ""},
			{"pitch", "rear L", "pin L", ""}, {"pitch", "rear R", "pin R", ""}, {"roll", "pin L", "pin R", ""}, {"roll", "rear L", "rear R", ""},
		},
		limits: map[string]measure.Limit{"roll": within(0.15), "yaw": within(0.15), "pitch": within(0.20)},
		scale:  [6]float64{2, 2, 2, 0.1, 0.12, 0.1},
	},
}

// newJoin is a surface that stands off its nominal position on an airframe that is
// not quite level.
func newJoin(l layout, k kit, r *rand.Rand) *part {
	c := l.pose()
	p := &part{name: "join", placings: 1, check: c, limits: l.limits, truth: map[string]float64{}}
	var q stance
	for i, name := range pose.Freedoms {
		q.freedoms[i] = l.scale[i] * r.NormFloat64()
		p.truth[name] = q.freedoms[i]
	}
	q.tilt = [2]float64{0.3 * r.NormFloat64(), 0.3 * r.NormFloat64()}
	add := func(true float64, with *tool, into *measure.Reading) {
		p.sources = append(p.sources, &source{true: true, with: with, into: into})
	}
	c.Readings = make([]pose.Reading, len(l.plan))
	for i, plan := range l.plan {
		with := map[string]*tool{"distance": k.tape, "height": k.water, "offset": k.tape, "roll": k.level, "pitch": k.level}[plan.kind]
		c.Readings[i] = pose.Reading{ID: fmt.Sprintf("%d %s %s to %s", i+1, plan.kind, plan.from, plan.to), Type: plan.kind, From: plan.from, To: plan.to, Axis: plan.axis, Value: reading(with)}
		add(q.read(c, plan), with, &c.Readings[i].Value)
	}
	for i := range p.sources {
		for j := range p.sources {
			if l.plan[i].mirrors(l.plan[j]) {
				p.sources[i].side = p.sources[j]
			}
		}
	}
	p.more = func(next measure.NextReading) *source {
		plan := plan{kind: next.Type, from: next.From, to: next.To}
		with := map[string]*tool{k.tape.stated.Name: k.tape, k.water.stated.Name: k.water, k.level.stated.Name: k.level}[next.Instrument]
		taken := &source{true: q.read(c, plan), with: with}
		// The list may move as it grows: the sources write into where it stands then.
		c.Readings = append(c.Readings, pose.Reading{ID: fmt.Sprintf("%d more %s %s to %s", len(c.Readings)+1, plan.kind, plan.from, plan.to), Type: plan.kind, From: plan.from, To: plan.to, Value: reading(with)})
		p.sources = slices.Insert(p.sources, len(c.Readings)-1, taken)
		for i := range c.Readings {
			p.sources[i].into = &c.Readings[i].Value
		}
		return taken
	}
	roll, pitch := reading(k.level), reading(k.level)
	c.DatumRoll, c.DatumPitch = &roll, &pitch
	sine := math.Sin(q.tilt[0]*perDegree) * math.Cos(q.tilt[1]*perDegree)
	add(math.Asin(sine)/perDegree, k.level, &roll)
	add(q.tilt[1], k.level, &pitch)
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
	find := func(name string) [3]float64 {
		for _, d := range c.Datum {
			if d.Name == name {
				return [3]float64{float64(d.X), float64(d.Y), float64(d.Z)}
			}
		}
		for _, s := range c.Points {
			if s.Name == name {
				return q.move([3]float64{float64(s.X), float64(s.Y), float64(s.Z)}, pivot)
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
	case "height":
		return up
	case "roll":
		return math.Asin(-up/length) / perDegree
	}
	return math.Asin(up/length) / perDegree
}
