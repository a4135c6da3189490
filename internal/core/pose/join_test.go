package pose

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/adjust"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// tail is a fin on a boom with the tailplane on its top, and a rudder post between.
func tail() *Join {
	return &Join{
		Datum: []Place{place("firewall", 0, 0, 300), place("boom root", 2350, 0, 640), place("sill L", 1800, -520, 420), place("sill R", 1800, 520, 420), place("boom end", 5250, 0, 420)},
		Surfaces: []Surface{
			{Name: "fin", Points: []Place{place("fin foot", 4800, 0, 430), place("fin top", 5480, 0, 1730), place("fin rear", 5400, 40, 900), place("fin face", 5100, -40, 900)}, Pivot: Spot{4800, 0, 430}},
			{Name: "tailplane", Points: []Place{place("tip L", 5560, -1440, 1740), place("tip R", 5560, 1440, 1740), place("pin", 5480, 0, 1730), place("aft L", 5830, -500, 1724), place("aft R", 5830, 500, 1724)}, Pivot: Spot{5480, 0, 1730}},
		},
		Pins: []Pin{{From: "fin top", To: "pin", U: 0.05}},
	}
}

// stands is where each surface of a join truly is.
type stands map[string]truth

func (s stands) place(c *Join, name string) [3]float64 {
	for _, p := range c.Datum {
		if p.Name == name {
			return p.at()
		}
	}
	for _, f := range c.Surfaces {
		for _, p := range f.Points {
			if p.Name == name {
				return s[f.Name].move(p.at(), f.Pivot.at())
			}
		}
	}
	panic(name)
}

// fill reads what the truth shows, by the formulas of the format, for a level airframe.
func (s stands) fill(c *Join, noise *rand.Rand) {
	for i := range c.Readings {
		r := &c.Readings[i]
		to, from := s.place(c, r.To), [3]float64{}
		if r.From != "" {
			from = s.place(c, r.From)
		}
		d := [3]float64{to[0] - from[0], to[1] - from[1], to[2] - from[2]}
		length := math.Sqrt(d[0]*d[0] + d[1]*d[1] + d[2]*d[2])
		v := map[string]float64{"distance": length, "height": d[2], "roll": math.Asin(-d[2]/length) * perRadian, "pitch": math.Asin(d[2]/length) * perRadian}[r.Type]
		if noise != nil {
			v += *r.Value.Instrument.Spread * noise.NormFloat64()
			v += r.Value.Instrument.Resolution * (noise.Float64() - 0.5)
		}
		r.Value.Values = []float64{v}
	}
}

func between(c *Join, kind string, with *measure.Instrument, pairs ...[2]string) {
	for _, p := range pairs {
		c.Readings = append(c.Readings, Reading{ID: fmt.Sprintf("%d %s", len(c.Readings)+1, kind), Type: kind, From: p[0], To: p[1], Value: measure.Reading{Instrument: with}})
	}
}

// measured is a full round of readings on the tail.
func measured() *Join {
	c := tail()
	for _, from := range []string{"firewall", "boom root", "sill L", "sill R"} {
		between(c, "distance", tape, [2]string{from, "tip L"}, [2]string{from, "tip R"}, [2]string{from, "fin top"}, [2]string{from, "fin rear"}, [2]string{from, "fin face"})
	}
	between(c, "distance", tape, [2]string{"boom end", "fin foot"}, [2]string{"boom end", "fin rear"})
	between(c, "height", water, [2]string{"sill L", "tip L"}, [2]string{"sill L", "tip R"}, [2]string{"sill L", "aft L"}, [2]string{"sill L", "aft R"}, [2]string{"sill L", "fin foot"}, [2]string{"sill L", "fin rear"}, [2]string{"sill L", "fin face"})
	between(c, "roll", level, [2]string{"aft L", "aft R"})
	between(c, "pitch", level, [2]string{"aft L", "pin"})
	return c
}

// leaning is a fin that leans and a tailplane that is pinned to its top.
func leaning(c *Join, fin, tailplane truth) stands {
	s := stands{"fin": fin, "tailplane": tailplane}
	top, pin := s.place(c, "fin top"), s.place(c, "pin")
	for axis := range 3 {
		tailplane.shift[axis] += top[axis] - pin[axis]
	}
	s["tailplane"] = tailplane
	return s
}

func freedom(t *testing.T, r measure.Result, name, at string) measure.Quantity {
	t.Helper()
	for _, q := range r.Quantities {
		if q.Name == name && q.At == at {
			return q
		}
	}
	t.Fatalf("no %s at %s", name, at)
	return measure.Quantity{}
}

func TestAFinAndTheTailplaneOnItAreFoundTogether(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(21, 4))
	around := func(most float64) float64 { return most * (2*random.Float64() - 1) }
	for range 10 {
		c := measured()
		s := leaning(c, truth{shift: [3]float64{around(20), around(20), around(20)}, roll: around(2), pitch: around(2), yaw: around(2)}, truth{roll: around(2), pitch: around(2), yaw: around(2)})
		s.fill(c, nil)
		r := measure.Solve(c, nil, fine)
		require.NotNil(t, r.Network)
		for name, q := range s {
			for k, want := range [6]float64{q.shift[0], q.shift[1], q.shift[2], q.roll, q.pitch, q.yaw} {
				assert.InDelta(t, want, freedom(t, r, Freedoms[k], name).Value, 1e-5, "%s of %s", Freedoms[k], name)
			}
		}
		assert.Len(t, r.Network.Readings, len(c.Readings), "pins are not readings")
	}
}

// What the fin is known by helps the tailplane: without the pin its height over the
// boom would not be seen from the fin at all.
func TestAPinCarriesWhatIsKnownAcross(t *testing.T) {
	t.Parallel()
	c := measured()
	leaning(c, truth{roll: 0.2}, truth{}).fill(c, nil)
	pinnedU := freedom(t, measure.Solve(c, nil, fine), "x", "tailplane").U
	c.Pins = nil
	assert.Greater(t, freedom(t, measure.Solve(c, nil, fine), "x", "tailplane").U, 1.02*pinnedU)
}

// Two wing panels: dihedral and sweep of each by the places of their roots and tips,
// their difference with its own u, and the scatter of a thousand rounds for it.
func TestFiguresBetweenSurfacesHaveTheirOwnUncertainty(t *testing.T) {
	t.Parallel()
	wings := func() *Join {
		c := &Join{Datum: []Place{place("nose", 0, 0, 300), place("tail", 5200, 0, 420), place("cabin", 1300, 0, 960)}}
		for side, sign := range map[string]float64{"L": -1, "R": 1} {
			c.Surfaces = append(c.Surfaces, Surface{Name: "wing " + side, Pivot: Spot{1150, quantity.Length(450 * sign), 40},
				Points: []Place{place("root "+side, 1150, 450*sign, 40), place("tip "+side, 1180, 6200*sign, 341), place("rear "+side, 1900, 450*sign, 20), place("tip rear "+side, 1700, 6200*sign, 330)}})
			for _, from := range []string{"nose", "tail", "cabin"} {
				between(c, "distance", tape, [2]string{from, "root " + side}, [2]string{from, "tip " + side}, [2]string{from, "rear " + side})
			}
			between(c, "height", water, [2]string{"nose", "root " + side}, [2]string{"nose", "tip " + side}, [2]string{"nose", "rear " + side}, [2]string{"nose", "tip rear " + side})
		}
		c.Derive = []Derived{
			{Name: "left", Type: "dihedral", From: "root L", To: "tip L"}, {Name: "right", Type: "dihedral", From: "root R", To: "tip R"},
			{Name: "right less left", Type: "dihedral", From: "root R", To: "tip R", Less: &Pair{"root L", "tip L"}},
			{Name: "right less left", Type: "sweep", From: "root R", To: "tip R", Less: &Pair{"root L", "tip L"}},
			{Name: "tips", Type: "fore_aft", From: "tip L", To: "tip R"}, {Name: "tips", Type: "height", From: "tip L", To: "tip R"},
			{Name: "left", Type: "incidence", From: "rear L", To: "root L"}, {Name: "roots", Type: "lateral", From: "root L", To: "root R"},
		}
		return c
	}
	c := wings()
	s := stands{"wing L": {roll: 0.3}, "wing R": {roll: 0.1, yaw: 0.2}}
	s.fill(c, nil)
	r := measure.Solve(c, nil, fine)
	angle := func(root, tip string, axis int) float64 {
		a, b := s.place(c, root), s.place(c, tip)
		return math.Atan2(b[axis]-a[axis], math.Abs(b[1]-a[1])) * perRadian
	}
	assert.InDelta(t, angle("root L", "tip L", 2), freedom(t, r, "dihedral", "left").Value, 1e-7)
	assert.InDelta(t, angle("root R", "tip R", 2)-angle("root L", "tip L", 2), freedom(t, r, "dihedral", "right less left").Value, 1e-7)
	swept := func(root, tip string) float64 {
		a, b := s.place(c, root), s.place(c, tip)
		return math.Atan2(b[0]-a[0], math.Hypot(b[1]-a[1], b[2]-a[2])) * perRadian
	}
	assert.InDelta(t, swept("root R", "tip R")-swept("root L", "tip L"), freedom(t, r, "sweep", "right less left").Value, 1e-7)
	assert.InDelta(t, s.place(c, "tip R")[0]-s.place(c, "tip L")[0], freedom(t, r, "fore_aft", "tips").Value, 1e-6)
	assert.InDelta(t, s.place(c, "tip R")[2]-s.place(c, "tip L")[2], freedom(t, r, "height", "tips").Value, 1e-6)
	assert.InDelta(t, 900, freedom(t, r, "lateral", "roots").Value, 1e-5)
	assert.InDelta(t, math.Asin(20/math.Hypot(750, 20))*perRadian, freedom(t, r, "incidence", "left").Value, 0.01)

	random := rand.New(rand.NewPCG(5, 6))
	const rounds = 1000
	var sum, squares, stated float64
	for range rounds {
		c := wings()
		s.fill(c, random)
		q := freedom(t, measure.Solve(c, nil, fine), "dihedral", "right less left")
		sum += q.Value
		squares += q.Value * q.Value
		stated = q.U
	}
	scatter := math.Sqrt(squares/rounds - sum*sum/(rounds*rounds))
	assert.InEpsilon(t, scatter, stated, 0.08, "the constant errors cancel between the sides")
}

func TestABlunderOnOneOfSeveralSurfacesIsFound(t *testing.T) {
	t.Parallel()
	c := measured()
	leaning(c, truth{roll: 0.2}, truth{yaw: 0.1}).fill(c, nil)
	c.Readings[3].Value.Values[0] -= 25.4
	r := measure.Solve(c, nil, fine)
	for i, reading := range r.Network.Readings {
		assert.Equal(t, i == 3, reading.Suspect, reading.ID)
	}
	assert.Equal(t, measure.Unsure, r.Verdict)
}

// Limits judge freedoms and figures; the next reading is for what is least known.
func TestAJoinIsJudgedByTheLimitsOfItsSurfacesAndFigures(t *testing.T) {
	t.Parallel()
	c := measured()
	leaning(c, truth{roll: 1.5}, truth{}).fill(c, nil)
	low, high := quantity.Angle(-0.1), quantity.Angle(0.1)
	c.Surfaces[0].Limits = &FreedomLimits{Roll: &AngleBound{&low, &high}}
	r := measure.Solve(c, nil, fine)
	assert.Equal(t, measure.Stop, r.Verdict)
	assert.Equal(t, "fin roll", r.Network.Want)
	assert.NotEmpty(t, r.Network.Next)
	c.Surfaces[0].Limits = nil
	most := measure.Figure(2)
	c.Derive = []Derived{{Name: "tips", Type: "height", From: "tip L", To: "tip R", Low: ptr(measure.Figure(-2)), High: &most}}
	r = measure.Solve(c, nil, fine)
	assert.Equal(t, "tips height", r.Network.Want)
	assert.NotEqual(t, measure.None, r.Verdict)

	c.Readings = c.Readings[:3]
	r = measure.Solve(c, nil, fine)
	assert.Contains(t, r.Network.Unseen, "tailplane pitch")
	assert.True(t, freedom(t, r, "height", "tips").Unseen)
	assert.Equal(t, measure.Unsure, r.Verdict)
}

func ptr[T any](v T) *T { return &v }

// A height between two points of one surface is a length: known to millimetres it is seen without the holds, although
// only turns of the surface move it.
func TestAHeightBetweenPointsOfOneSurfaceRestsOnNoHold(t *testing.T) {
	t.Parallel()
	c := measured()
	leaning(c, truth{}, truth{}).fill(c, nil)
	c.DatumU, c.PointsU = ptr(quantity.Length(1)), ptr(quantity.Length(1))
	c.Surfaces[0].Hold = &Hold{X: ptr(quantity.Length(0.5))}
	low, high := measure.Figure(-50), measure.Figure(50)
	c.Derive = []Derived{{Name: "tip over aft", Type: "height", From: "aft L", To: "tip L", Low: &low, High: &high}}
	r := measure.Solve(c, nil, fine)
	q := freedom(t, r, "height", "tip over aft")
	assert.Greater(t, q.U, 0.1745, "which a degree of turn would be taken for")
	assert.False(t, codes(r)["rests-on-hold"])
}

// Each surface keeps to what may be moved at its own attach points; the fin's bolts
// are fixed, so that its lean stays, and the tailplane's skew is turned out.
func TestEachSurfaceMovesAsItMay(t *testing.T) {
	t.Parallel()
	c := measured()
	leaning(c, truth{roll: 1.5}, truth{yaw: 0.5}).fill(c, nil)
	low, high := quantity.Angle(-0.1), quantity.Angle(0.1)
	c.Surfaces[0].Limits = &FreedomLimits{Roll: &AngleBound{&low, &high}}
	c.Surfaces[0].Attach = []Attach{{Name: "foot", X: 4800, Z: 430, May: "fixed"}, {Name: "post", X: 5250, Z: 430, May: "fixed"}, {Name: "side", X: 5000, Y: 60, Z: 430, May: "fixed"}}
	c.Surfaces[1].Limits = &FreedomLimits{Yaw: &AngleBound{&low, &high}}
	c.Surfaces[1].Attach = []Attach{{Name: "bracket L", X: 5480, Y: -105, Z: 1730, May: "fixed"}, {Name: "bracket R", X: 5480, Y: 105, Z: 1730}}
	r := measure.Solve(c, nil, fine)
	after := map[string]float64{}
	for _, q := range r.Network.Reached {
		after[fmt.Sprint(q.At, " ", q.Name)] = q.Value
	}
	assert.InDelta(t, 1.5, after["fin roll"], 1e-3, "nothing of it may be moved")
	assert.InDelta(t, 0, after["tailplane yaw"], 0.02)
	assert.True(t, codes(r)["cannot-be-reached"])
	for _, m := range r.Moves {
		assert.Equal(t, "bracket R", m.At)
	}
}

// The plan for two surfaces decides the limits of both, with what the pin carries.
func TestThePlanForSeveralSurfacesDecidesThemAll(t *testing.T) {
	t.Parallel()
	low, high := quantity.Angle(-0.5), quantity.Angle(0.5)
	limited := func() *Join {
		c := tail()
		c.Surfaces[0].Limits = &FreedomLimits{Roll: &AngleBound{&low, &high}}
		c.Surfaces[1].Limits = &FreedomLimits{Yaw: &AngleBound{&low, &high}, Pitch: &AngleBound{&low, &high}}
		return c
	}
	with := map[Type][]*measure.Instrument{Distance: {tape}, Height: {water}, Roll: {level}, Pitch: {level}}
	plan, decided := limited().Plan(2.5, with)
	require.True(t, decided)
	c := limited()
	c.Readings = plan
	// What is not limited may stay unseen; it is held as loosely as the plan took it.
	for i := range c.Surfaces {
		c.Surfaces[i].Hold = &Hold{X: ptr(quantity.Length(300)), Y: ptr(quantity.Length(300)), Z: ptr(quantity.Length(300)), Roll: ptr(quantity.Angle(10)), Pitch: ptr(quantity.Angle(10)), Yaw: ptr(quantity.Angle(10))}
	}
	leaning(c, truth{}, truth{}).fill(c, nil)
	r := measure.Solve(c, nil, fine)
	assert.Equal(t, measure.Go, r.Verdict)
	assert.True(t, r.Inside(2.5))
}

func TestUnusableJoinsOfSeveralAreRefused(t *testing.T) {
	t.Parallel()
	for path, change := range map[string]func(c *Join){
		"surfaces":                   func(c *Join) { c.Surfaces = nil },
		"surfaces[1].points":         func(c *Join) { c.Surfaces[1].Points = nil },
		"surfaces[1].points[0].name": func(c *Join) { c.Surfaces[1].Points[0].Name = "fin top" },
		"surfaces[0].hold.x":         func(c *Join) { c.Surfaces[0].Hold = &Hold{X: ptr(quantity.Length(0))} },
		"surfaces[0].limits.roll":    func(c *Join) { c.Surfaces[0].Limits = &FreedomLimits{Roll: &AngleBound{}} },
		"surfaces[0].limits.x": func(c *Join) {
			c.Surfaces[0].Limits = &FreedomLimits{X: &LengthBound{ptr(quantity.Length(2)), ptr(quantity.Length(1))}}
		},
		"pins[0].from":   func(c *Join) { c.Pins[0].From = "nowhere" },
		"pins[0].to":     func(c *Join) { c.Pins[0].To = "fin foot" },
		"pins[0].u":      func(c *Join) { c.Pins[0].U = 0 },
		"derive[0].to":   func(c *Join) { c.Derive = []Derived{{Type: "height", From: "pin", To: "pin"}} },
		"derive[0].from": func(c *Join) { c.Derive = []Derived{{Type: "height", From: "nowhere", To: "pin"}} },
		"derive[0].less.to": func(c *Join) {
			c.Derive = []Derived{{Type: "height", From: "tip L", To: "pin", Less: &Pair{"tip L", "x"}}}
		},
		"derive[0].low": func(c *Join) {
			c.Derive = []Derived{{Type: "height", From: "tip L", To: "pin", Low: ptr(measure.Figure(2)), High: ptr(measure.Figure(1))}}
		},
		"readings[0].to": func(c *Join) { c.Readings[0].To = "nowhere" },
		"datum_roll":     func(c *Join) { c.DatumRoll = &measure.Reading{Values: []float64{0}} },
	} {
		c := measured()
		leaning(c, truth{}, truth{}).fill(c, nil)
		change(c)
		var paths []string
		c.Validate(func(path, _ string) { paths = append(paths, path) })
		assert.Contains(t, paths, path)
	}
}

// loose takes back that the points of a join are known exactly.
func loose(c *Join, datum, marks float64) {
	c.DatumU, c.PointsU = length(datum), length(marks)
	lists := [][]Place{c.Datum}
	for _, s := range c.Surfaces {
		lists = append(lists, s.Points)
	}
	for _, list := range lists {
		for i := range list {
			list[i].U = nil
		}
	}
}

// Three surfaces, sixty readings, one of them an inch off, and eighteen unknowns beside
// the instruments' own, with the points exact and with twenty of them uncertain: one
// adjustment, and with it suspects and next readings.
func BenchmarkJoinOf3SurfacesAnd60Readings(b *testing.B) {
	c := measured()
	c.Surfaces = append(c.Surfaces, Surface{Name: "rudder", Points: []Place{place("rudder foot", 5350, 0, 400), place("rudder top", 5800, 0, 1700), place("rudder rear", 5700, 20, 900)}, Pivot: Spot{5350, 0, 400}})
	c.Datum = append(c.Datum, place("step L", 2000, -400, 380), place("step R", 2000, 400, 380), place("hatch", 2300, 0, 700))
	for _, from := range []string{"firewall", "boom root", "sill L", "sill R"} {
		between(c, "distance", tape, [2]string{from, "rudder foot"}, [2]string{from, "rudder top"}, [2]string{from, "rudder rear"}, [2]string{from, "aft L"})
	}
	for _, from := range []string{"step L", "step R", "hatch"} {
		between(c, "distance", tape, [2]string{from, "tip L"}, [2]string{from, "aft R"})
	}
	for i := 0; len(c.Readings) < 60; i++ {
		between(c, "height", water, [2]string{"sill R", c.Readings[i].To})
	}
	s := leaning(c, truth{roll: 0.1}, truth{yaw: 0.1})
	s["rudder"] = truth{}
	s.fill(c, rand.New(rand.NewPCG(1, 2)))
	c.Readings[3].Value.Values[0] += 25.4
	c.Surfaces[1].Limits = &FreedomLimits{Yaw: &AngleBound{Low: angle(-0.1), High: angle(0.1)}}
	solve := func(b *testing.B) {
		b.Run("adjustment", func(b *testing.B) {
			measure.Solve(spy{func(w *measure.Work) {
				n := c.network(w)
				for b.Loop() {
					adjust.Solve(n)
				}
			}}, nil, fine)
		})
		b.Run("with suspects and next readings", func(b *testing.B) {
			for b.Loop() {
				measure.Solve(c, nil, fine)
			}
		})
	}
	b.Run("exact", solve)
	loose(c, 1, 0.5)
	b.Run("uncertain", solve)
}

func angle(degrees float64) *quantity.Angle {
	a := quantity.Angle(degrees)
	return &a
}
