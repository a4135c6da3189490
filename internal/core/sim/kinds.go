package sim

import (
	"fmt"
	"math"
	"math/rand/v2"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// Kind is a kind of check that is proven by itself, with what it is measured with.
type Kind struct {
	Name string
	With []sold // one of these is drawn
	make func(t *trial, g *gadget)
}

// What is sold for angles, for angles away from level, and for lengths.
var (
	levels  = []sold{{"digital-level", 0.1}, {"digital-level", 0.05}, {"spirit-level", 0}}
	digital = []sold{{"digital-level", 0.1}, {"digital-level", 0.05}}
	rules   = []sold{{"rule", 0.5}}
	tapes   = []sold{{"tape", 1}}
)

// Kinds are those that may open a hold. The limits are the usual ones; truth is normal, with the half-width of
// its limit as standard deviation.
var Kinds = []Kind{
	{"twist, stiff", levels, func(t *trial, g *gadget) { t.twist(g, stiff) }},
	{"twist, held down", levels, func(t *trial, g *gadget) { t.twist(g, held) }},
	{"twist, in its jig", levels, func(t *trial, g *gadget) { t.twist(g, inJig) }},
	{"washout", digital, washout},
	{"bench", rules, bench},
	{"straightness", rules, straight},
	{"incidence", digital, incidence},
	{"decalage", digital, decalage},
	{"level", levels, level},
	{"dihedral", digital, dihedral},
	{"sweep", rules, sweep},
	{"square", tapes, square},
	{"diagonals", tapes, diagonals},
	{"pairs", rules, pairs},
	{"upright", levels, upright},
	{"hinge-line", []sold{{"rule", 0.5}, {"caliper", 0.05}}, hingeLine},
	{"brackets", rules, brackets},
	{"engine-mount", []sold{{"rule", 0.5}, {"caliper", 0.05}}, mount},
	{"travel", []sold{{"digital-level", 0.1}, {"protractor", 0.5}}, travel},
	{"length", tapes, length},
}

// one limits a single quantity, and draws its truth.
func (t *trial) one(name string, half float64) *float64 {
	v := half * t.r.NormFloat64()
	t.several(map[string]float64{name: half}, func() map[string]float64 { return map[string]float64{name: v} })
	return &v
}

func (t *trial) several(halves map[string]float64, truth func() map[string]float64) {
	t.limits = map[string]measure.Limit{}
	for name, half := range halves {
		t.limits[name] = within(half)
	}
	t.truth = truth
}

// How a surface lies that is measured for twist.
const (
	stiff = iota
	held
	inJig
)

// twist is a surface read at five stations: stiff; held down to rails that are twisted and humped, read on it and
// at once on the rails under it, with the part on; or taking the shape of a jig whose tip is then moved.
func (t *trial) twist(g *gadget, lies int) {
	v := t.one("twist_error", 0.15)
	spacing := quantity.Length(700)
	c := &measure.Twist{Held: lies == held, Stiff: lies == stiff}
	if lies == inJig {
		c.TipSpacing = &spacing
	}
	rails, hump := 0.0, 0.0
	if lies == held {
		rails, hump = 0.2*t.r.NormFloat64()+t.world.Yields*t.r.NormFloat64(), 0.05*t.r.NormFloat64()
	}
	for i := range 5 {
		share := float64(i) / 4
		under := func() float64 { return rails*share + hump*math.Sin(share*math.Pi) }
		s := measure.TwistStation{Name: fmt.Sprint(i), Y: quantity.Length(2000 * share), Angle: new(measure.Reading)}
		t.add(s.Angle, g, 0, func() float64 { return under() + *v*share })
		if lies == held {
			s.Support = new(measure.Reading)
			t.add(s.Support, g, 0, under)
		}
		c.Stations = append(c.Stations, s)
	}
	t.check = c
	if lies == inJig {
		t.carry = func(m measure.Move) {
			way := map[string]float64{"up": -1, "down": 1}[m.Direction]
			*v += way * math.Atan(m.Amount/float64(spacing)) / perDegree
		}
	}
}

func washout(t *trial, g *gadget) {
	left, right := 0.15*t.r.NormFloat64(), 0.15*t.r.NormFloat64()
	t.several(map[string]float64{"twist_error_left": 0.15, "twist_error_right": 0.15}, func() map[string]float64 {
		return map[string]float64{"twist_error_left": left, "twist_error_right": right}
	})
	c := &measure.Washout{Left: measure.Panel{Design: -2}, Right: measure.Panel{Design: -2}}
	for _, side := range []struct {
		panel *measure.Panel
		off   float64
	}{{&c.Left, left}, {&c.Right, right}} {
		for i := range 4 {
			share := float64(i) / 3
			s := measure.TwistStation{Name: fmt.Sprint(i), Y: quantity.Length(3000 * share), Angle: new(measure.Reading)}
			t.add(s.Angle, g, 3-2*share, func() float64 { return 3 + (side.off-2)*share })
			side.panel.Stations = append(side.panel.Stations, s)
		}
	}
	t.check = c
}

// bench is six supports of a pair of rails, read with a rule from one straight line; its moves raise each to the
// highest.
func bench(t *trial, g *gadget) {
	var heights [6]float64
	for i := range heights {
		heights[i] = 100 + 1.5*t.r.NormFloat64()
	}
	at := func(i int) (x, y float64) { return float64(i/2) * 1200, float64(i%2)*700 - 350 }
	t.several(map[string]float64{"twist": 0.15}, func() map[string]float64 {
		c, d := 0.0, 0.0 // z = a + bx + cy + dxy on a layout that is even about its middle
		for i, z := range heights {
			x, y := at(i)
			x -= 1200
			c, d = c+y*z, d+x*y*z
		}
		c, d = c/(6*350*350), d/(4*1200*1200*350*350)
		return map[string]float64{"twist": (math.Atan(c-d*1200) - math.Atan(c+d*1200)) / perDegree}
	})
	check := &measure.Bench{}
	for i := range heights {
		x, y := at(i)
		check.Points = append(check.Points, measure.BenchPoint{Name: fmt.Sprint(i), X: quantity.Length(x), Y: quantity.Length(y)})
	}
	for i := range heights {
		t.add(&check.Points[i].Height, g, 100, func() float64 { return heights[i] })
	}
	t.check = check
	t.carry = func(m measure.Move) {
		var i int
		if _, err := fmt.Sscan(m.At, &i); err == nil {
			heights[i] += m.Amount + t.world.Seats*t.r.NormFloat64()
		}
	}
}

func level(t *trial, g *gadget) {
	v := t.one("roll", 0.10)
	tilt := 0.1 * t.r.NormFloat64()
	c := &measure.Level{Span: 2880}
	t.add(&c.Datum, g, 0, func() float64 { return tilt })
	t.add(&c.Part, g, tilt, func() float64 { return tilt + *v })
	t.check = c
}

func straight(t *trial, g *gadget) {
	v := t.one("bow", 2)
	c := &measure.Straightness{Reference: "best"}
	for i := range 7 {
		c.Points = append(c.Points, measure.StraightPoint{Name: fmt.Sprint(i), X: quantity.Length(5000 * float64(i) / 6)})
	}
	for i := range c.Points {
		at := float64(i)/3 - 1
		t.add(&c.Points[i].Offset, g, 15, func() float64 { return 15 + *v*(1-at*at) })
	}
	t.check = c
}

func incidence(t *trial, g *gadget) {
	left, right := 0.25*t.r.NormFloat64(), 0.25*t.r.NormFloat64()
	t.several(map[string]float64{"incidence_error": 0.25, "incidence_difference": 0.25}, func() map[string]float64 {
		return map[string]float64{"incidence_error": (left + right) / 2, "incidence_difference": right - left}
	})
	board := t.world.Board * t.r.NormFloat64()
	own := quantity.Angle(0)
	spacing := quantity.Length(600)
	c := &measure.Incidence{Design: 3, Board: &own, Left: &measure.Slope{Angle: new(measure.Reading)}, Right: &measure.Slope{Angle: new(measure.Reading)}, Datum: new(measure.Reading), AttachSpacing: &spacing, Fixed: "front"}
	if t.world.Board > 0 && t.world.Name != "first" {
		u := quantity.Angle(t.world.Board)
		c.BoardU = &u
	}
	t.add(c.Left.Angle, g, 3, func() float64 { return 3 + board + left })
	t.add(c.Right.Angle, g, 3, func() float64 { return 3 + board + right })
	t.add(c.Datum, g, 0, func() float64 { return 0 })
	t.check = c
	t.carry = func(m measure.Move) {
		way := map[string]float64{"up": -1, "down": 1}[m.Direction]
		by := way*math.Atan(m.Amount/float64(spacing))/perDegree + t.world.Seats*t.r.NormFloat64()/float64(spacing)/perDegree
		if m.At == "left rear" {
			left += by
		} else {
			right += by
		}
	}
}

func decalage(t *trial, g *gadget) {
	v := t.one("decalage", 0.25)
	c := &measure.Decalage{}
	t.limits["decalage"] = measure.Limit{Low: spread(1.75), High: spread(2.25)}
	t.truth = func() map[string]float64 { return map[string]float64{"decalage": 2 + *v} }
	c.Forward.Reading, c.Aft.Reading = new(measure.Reading), new(measure.Reading)
	t.add(c.Forward.Reading, g, 3, func() float64 { return 3 + *v })
	t.add(c.Aft.Reading, g, 1, func() float64 { return 1 })
	t.check = c
}

func dihedral(t *trial, g *gadget) {
	left, right := 0.25*t.r.NormFloat64(), 0.25*t.r.NormFloat64()
	t.several(map[string]float64{"dihedral_error": 0.25, "dihedral_difference": 0.25}, func() map[string]float64 {
		return map[string]float64{"dihedral_error": (left + right) / 2, "dihedral_difference": right - left}
	})
	tilt, design := 0.1*t.r.NormFloat64(), quantity.Angle(5)
	c := &measure.Dihedral{Left: new(measure.Reading), Right: new(measure.Reading), Datum: new(measure.Reading), Design: &design}
	t.add(c.Left, g, 5, func() float64 { return 5 + left + tilt })
	t.add(c.Right, g, 5, func() float64 { return 5 + right - tilt }).sense = -1
	t.add(c.Datum, g, 0, func() float64 { return tilt })
	t.check = c
}

func sweep(t *trial, g *gadget) {
	left, right := 0.2*t.r.NormFloat64(), 0.2*t.r.NormFloat64()
	t.several(map[string]float64{"sweep_error": 0.2, "sweep_difference": 0.2}, func() map[string]float64 {
		return map[string]float64{"sweep_error": (left + right) / 2, "sweep_difference": right - left}
	})
	askew, u := 0.02*t.r.NormFloat64(), quantity.Angle(0.02)
	c := &measure.Sweep{Left: &measure.SweptPanel{Span: 3000}, Right: &measure.SweptPanel{Span: 3000}, LineU: &u}
	tip := func(angle float64) float64 { return 100 + 3000*math.Tan(angle*perDegree) }
	t.add(&c.Left.Root, g, 100, func() float64 { return 100 })
	t.add(&c.Left.Tip, g, 100, func() float64 { return tip(left + askew) })
	t.add(&c.Right.Root, g, 100, func() float64 { return 100 })
	t.add(&c.Right.Tip, g, 100, func() float64 { return tip(right - askew) })
	t.check = c
}

func square(t *trial, g *gadget) {
	v := t.one("skew", 0.15)
	aft, side := 2*t.r.NormFloat64(), 1.5*t.r.NormFloat64()
	u := quantity.Length(0.5)
	c := &measure.Square{Station: 5480, HalfSpan: 1440, PointsU: &u}
	for i, x := range []float64{0, 2350} {
		c.From = append(c.From, measure.FromPoint{Name: fmt.Sprint(i), X: quantity.Length(x)})
	}
	for i := range c.From {
		at := float64(c.From[i].X) + 0.5*t.r.NormFloat64()
		across := 0.5 * t.r.NormFloat64()
		to := func(side0 float64) func() float64 {
			return func() float64 {
				sin, cos := math.Sincos(*v * perDegree)
				return math.Hypot(5480+aft+side0*1440*sin-at, side+side0*1440*cos-across)
			}
		}
		plain := math.Hypot(5480-float64(c.From[i].X), 1440)
		t.add(&c.From[i].Left, g, plain, to(-1))
		t.add(&c.From[i].Right, g, plain, to(1))
	}
	t.check = c
	t.carry = func(m measure.Move) {
		way := map[string]float64{"forward": -1, "aft": 1}[m.Direction]
		*v += way * m.Amount / 1440 / perDegree
	}
}

func diagonals(t *trial, g *gadget) {
	v := t.one("rack_offset", 3)
	c := &measure.Diagonals{}
	t.add(&c.Near, g, 800, func() float64 { return 800 })
	t.add(&c.Far, g, 800, func() float64 { return 800 })
	t.add(&c.Length, g, 1200, func() float64 { return 1200 })
	even := math.Hypot(1200, 800)
	t.add(&c.D1, g, even, func() float64 { return math.Hypot(1200, 800+*v) })
	t.add(&c.D2, g, even, func() float64 { return math.Hypot(1200, 800-*v) })
	t.check = c
}

func pairs(t *trial, g *gadget) {
	v := t.one("difference", 1)
	c := &measure.Pairs{Pairs: []measure.Pair{{Name: "corner"}}}
	t.add(&c.Pairs[0].Left, g, 300, func() float64 { return 300 })
	t.add(&c.Pairs[0].Right, g, 300, func() float64 { return 300 + *v })
	t.check = c
}

func upright(t *trial, g *gadget) {
	v := t.one("lean", 0.25)
	c := &measure.Upright{Height: 1300, Datum: new(measure.Reading)}
	t.add(&c.LeftFace, g, 0.05, func() float64 { return 0.05 + *v })
	t.add(&c.RightFace, g, 0.05, func() float64 { return 0.05 - *v }).sense = -1
	t.add(c.Datum, g, 0, func() float64 { return 0 })
	t.check = c
}

// hingeLine is four hinges of which one stands off the line of the others.
func hingeLine(t *trial, g *gadget) {
	off := 0.8 * t.r.NormFloat64()
	at := []float64{0, 0.35, 0.7, 1}
	departs := func() float64 { // of the four from their best line, the greatest
		mean, sxx, sxy := (at[0]+at[1]+at[2]+at[3])/4, 0.0, (at[1]-(at[0]+at[1]+at[2]+at[3])/4)*off
		for _, x := range at {
			sxx += (x - mean) * (x - mean)
		}
		return math.Abs(off) * (1 - 0.25 - (at[1]-mean)*(at[1]-mean)/sxx) * signOf(sxy)
	}
	t.limits = map[string]measure.Limit{"worst": {High: spread(0.8)}}
	t.truth = func() map[string]float64 { return map[string]float64{"worst": math.Abs(departs())} }
	c := &measure.HingeLine{}
	for i, x := range at {
		c.Points = append(c.Points, measure.HingePoint{Name: fmt.Sprint(i), X: quantity.Length(2000 * x)})
	}
	for i := range c.Points {
		t.add(&c.Points[i].Y, g, 30, func() float64 { return 30 })
		t.add(&c.Points[i].Z, g, 30, func() float64 {
			if i == 1 {
				return 30 + off
			}
			return 30
		})
	}
	t.check = c
}

func signOf(v float64) float64 { return math.Copysign(1, v) }

func brackets(t *trial, g *gadget) {
	v := t.one("tip_difference", 10)
	c := &measure.Brackets{Spacing: 210, Span: 2880}
	t.add(&c.Left, g, 120, func() float64 { return 120 })
	t.add(&c.Right, g, 120, func() float64 { return 120 - 210**v/2880 })
	t.check = c
}

func mount(t *trial, g *gadget) {
	down, right := 0.25*t.r.NormFloat64(), 0.25*t.r.NormFloat64()
	t.several(map[string]float64{"down_error": 0.25, "right_error": 0.25}, func() map[string]float64 {
		return map[string]float64{"down_error": down, "right_error": right}
	})
	c := &measure.EngineMount{DesignDown: 2, DesignRight: 1}
	for i, at := range [][2]float64{{-150, -120}, {150, -120}, {150, 120}, {-150, 120}} {
		c.Pads = append(c.Pads, measure.Pad{Name: fmt.Sprint(i), Y: quantity.Length(at[0]), Z: quantity.Length(at[1])})
	}
	for i := range c.Pads {
		y, z := float64(c.Pads[i].Y), float64(c.Pads[i].Z)
		depth := func(down, right float64) float64 {
			return 60 - y*math.Tan(right*perDegree) + z*math.Tan(down*perDegree)
		}
		t.add(&c.Pads[i].Depth, g, depth(2, 1), func() float64 { return depth(2+down, 1+right) })
	}
	t.check = c
}

func travel(t *trial, g *gadget) {
	up, down := t.r.NormFloat64(), t.r.NormFloat64()
	t.limits = map[string]measure.Limit{"up": {Low: spread(24), High: spread(26)}, "down": {Low: spread(19), High: spread(21)}}
	t.truth = func() map[string]float64 { return map[string]float64{"up": 25 + up, "down": 20 + down} }
	c := &measure.Travel{Surfaces: []measure.TravelSurface{{Name: "elevator"}}}
	t.add(&c.Surfaces[0].Up, g, 25, func() float64 { return 25 + up })
	t.add(&c.Surfaces[0].Down, g, 20, func() float64 { return 20 + down })
	t.check = c
}

func length(t *trial, g *gadget) {
	v := t.one("error", 2)
	c := &measure.PartLength{Design: 1200, Measured: make(measure.Readings, 1)}
	t.add(&c.Measured[0], g, 1200, func() float64 { return 1200 + *v })
	t.check = c
}

// Proof is what came of a kind in a world.
type Proof struct {
	Kind, World   string
	Trials        int
	Outside       Share // truly outside a limit
	Wrong         Share // released although outside, of those released
	Marginal      Share // released, of those between a limit and 1.2 half-widths
	Coverage      Share // of value ± 1.96 u, at the last word before anything was moved
	Good          Share // released, of those within what is possible: inside by 2.5 u of the best within twenty readings
	Possible      float64
	Converged     Share // of those whose moves were carried out: inside, or within a shim of nominal, after two rounds
	Readings      float64
	coverage      hits
	good          hits
	wrong, margin hits
	conv          hits
	outside       int
	possible      int
	taken         int
}

// ProveKind tries a kind in a world so often; the same seed gives the same trials.
func ProveKind(k Kind, w *Evening, seed uint64, from, to int) *Proof {
	p := &Proof{Kind: k.Name, World: w.Name}
	for i := from; i < to; i++ {
		p.try(k, w, rand.New(rand.NewPCG(seed, uint64(i))))
	}
	return p
}

// most is how far outside its limits the truth lies, in half-widths of the limit: 1 is at a limit.
func (t *trial) most() (most float64) {
	for name, v := range t.truth() {
		l := t.limits[name]
		switch {
		case l.Low == nil:
			most = max(most, v / *l.High)
		default:
			middle, half := (*l.High+*l.Low)/2, (*l.High-*l.Low)/2
			most = max(most, math.Abs(v-middle)/half)
		}
	}
	return most
}

// possible tells whether a part can be released at all: it lies inside by what a hold takes of the best u that
// twenty readings give.
func (t *trial) possible() bool {
	placings := 1 + mostMore/len(t.probes)
	for _, q := range t.solve().Quantities {
		v, known := t.truth()[q.Name]
		if q.Limit == nil || !known {
			continue
		}
		margin := hold.Guard * q.Best(placings)
		if q.Limit.Low != nil && v-margin < *q.Limit.Low || q.Limit.High != nil && v+margin > *q.Limit.High {
			return false
		}
	}
	return true
}

func (h *hits) add(hit bool) {
	h.n++
	if hit {
		h.hits++
	}
}

func (p *Proof) try(k Kind, w *Evening, r *rand.Rand) {
	t := &trial{world: w, r: r, pulled: r.Float64() < w.Pulled, peeks: r.Float64() < w.Peek}
	k.make(t, w.Drawn(w, k.With[r.IntN(len(k.With))], r))
	p.Trials++
	t.read()
	possible := t.possible()
	result := t.settle()
	for name, truth := range t.truth() {
		if q, ok := result.Quantity(name); ok && q.U > 0 && name != "worst" {
			p.coverage.add(math.Abs(q.Value-truth) <= interval*q.U)
		}
	}
	first := t.most()
	if result.Verdict == measure.Stop {
		t.read() // a stop is read again before anything is moved
		t.more = 0
		result = t.settle()
	}
	carried := false
	for round := 0; round < 2 && t.carry != nil && result.Verdict == measure.Stop && len(result.Moves) > 0; round++ {
		for _, m := range result.Moves {
			t.carry(m)
		}
		carried = true
		t.read()
		t.more = 0
		result = t.settle()
	}
	released := result.Verdict == measure.Go && result.Inside(hold.Guard)
	now := t.most()
	if first > 1 {
		p.outside++
	}
	if released {
		p.wrong.add(now > 1)
	}
	if now > 1 && now < 1.2 {
		p.margin.add(released)
	}
	if possible {
		p.possible++
		p.good.add(released)
	}
	if carried {
		p.conv.add(now <= 1)
	}
	p.taken += t.taken
}

// Add adds the trials of another run.
func (p *Proof) Add(o *Proof) {
	p.Trials += o.Trials
	p.outside += o.outside
	p.possible += o.possible
	p.taken += o.taken
	for _, h := range []struct{ to, from *hits }{{&p.coverage, &o.coverage}, {&p.good, &o.good}, {&p.wrong, &o.wrong}, {&p.margin, &o.margin}, {&p.conv, &o.conv}} {
		h.to.hits += h.from.hits
		h.to.n += h.from.n
	}
}

// Worked works the shares out.
func (p *Proof) Worked() *Proof {
	p.Outside = shareOf(p.outside, p.Trials)
	p.Wrong, p.Marginal = shareOf(p.wrong.hits, p.wrong.n), shareOf(p.margin.hits, p.margin.n)
	p.Coverage, p.Good, p.Converged = shareOf(p.coverage.hits, p.coverage.n), shareOf(p.good.hits, p.good.n), shareOf(p.conv.hits, p.conv.n)
	if p.Trials > 0 {
		p.Possible, p.Readings = float64(p.possible)/float64(p.Trials), float64(p.taken)/float64(p.Trials)
	}
	return p
}

// Counts are how many were released, lay in the margin, and had moves carried out.
func (p *Proof) Counts() (released, margin, carried int) { return p.wrong.n, p.margin.n, p.conv.n }
