package measure

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
)

var (
	tape  = &Instrument{Name: "tape", Measures: Length, Resolution: 1, Offset: 0.5, Spread: spread(0.4)}
	mic   = &Instrument{Name: "mic", Measures: Length, Resolution: 0.01, Spread: spread(0.02)}
	plane = Decision{Coverage: 2}
)

// value solves a check and returns one quantity of it.
func value(t *testing.T, c Check, name string) float64 {
	t.Helper()
	return quantityOf(t, Solve(c, nil, plane), name).Value
}

func findings(r Result) map[string]bool {
	out := map[string]bool{}
	for _, f := range r.Findings {
		out[f.Code] = true
	}
	return out
}

// refusals are the paths that a check refuses.
func refusals(c Check) []string {
	var out []string
	c.Validate(func(path, _ string) { out = append(out, path) })
	return out
}

// squareOf takes the tapes of a surface that truly lies f aft, e to the right and
// skewed, by the distance formula alone.
func squareOf(in *Instrument, f, e, skew float64, from ...FromPoint) *Square {
	c := &Square{Station: 5480, HalfSpan: 1440, From: from}
	sin, cos := math.Sincos(skew / perRadian)
	for i, p := range from {
		tip := func(side float64) Reading {
			dx, dy := 5480+f+side*1440*sin-float64(p.X), e+side*1440*cos
			return read(in, math.Sqrt(dx*dx+dy*dy+float64(p.Z)*float64(p.Z)))
		}
		c.From[i].Left, c.From[i].Right = tip(-1), tip(1)
	}
	return c
}

func TestSquareRecoversTheTruePosition(t *testing.T) {
	t.Parallel()
	tests := []struct{ f, e, skew float64 }{{0, 0, 0}, {3, 0, 0}, {0, -2, 0}, {0, 0, 0.3}, {-4, 7, -0.8}, {150, -90, 6}}
	for _, test := range tests {
		c := squareOf(mic, test.f, test.e, test.skew, FromPoint{Name: "firewall", X: 0, Z: -1320}, FromPoint{Name: "boom root", X: 2350, Z: -1180})
		assert.InDelta(t, test.skew, value(t, c, "skew"), 1e-9, "%+v", test)
		assert.InDelta(t, test.f, value(t, c, "position"), 1e-6, "%+v", test)
		assert.InDelta(t, test.e, value(t, c, "lateral"), 1e-6, "%+v", test)
	}
}

func TestSquareSaysWhatItCannotTell(t *testing.T) {
	t.Parallel()
	one := squareOf(mic, 0, 0, 0.2, FromPoint{Name: "firewall"})
	r := Solve(one, limits("lateral", -1, 1), plane)
	assert.True(t, findings(r)["assumes-centred"])
	assert.Equal(t, Unsure, r.Verdict, "a lateral limit that cannot be judged")
	assert.InDelta(t, 0.2, quantityOf(t, r, "skew").Value, 1e-9, "right tip aft is positive")
	assert.Equal(t, []Move{{At: "right tip", Direction: "forward", Amount: quantityOf(t, r, "tip_offset").Value}}, r.Moves)

	near := squareOf(mic, 0, 0, -0.2, FromPoint{Name: "fin post", X: 5300}, FromPoint{Name: "firewall"})
	r = Solve(near, nil, plane)
	assert.True(t, findings(r)["weak-geometry"], "180 mm ahead of tips 1440 mm out")
	assert.Equal(t, "aft", r.Moves[0].Direction)

	assert.ElementsMatch(t, []string{"from[0].x"}, refusals(squareOf(mic, 0, 0, 0, FromPoint{Name: "a", X: 5480.5})))
	assert.ElementsMatch(t, []string{"from"}, refusals(squareOf(mic, 0, 0, 0, FromPoint{Name: "a"}, FromPoint{Name: "b", X: 1})))
	assert.ElementsMatch(t, []string{"from[0].left", "from[0].right"}, refusals(squareOf(nil, 0, 0, 0, FromPoint{Name: "a"})))
}

// mountOf makes pads whose thrust line truly points so, with one pad proud.
func mountOf(in *Instrument, down, right, proud float64) *EngineMount {
	c := &EngineMount{DesignDown: 1.5, DesignRight: 2}
	for _, z := range []float64{400, 60} {
		for _, y := range []float64{-190, 190} {
			depth := 310 + math.Tan(down/perRadian)*z - math.Tan(right/perRadian)*y
			if len(c.Pads) == 2 {
				depth += proud
			}
			c.Pads = append(c.Pads, Pad{Name: string(rune('A' + len(c.Pads))), Y: quantity.Length(y), Z: quantity.Length(z), Depth: read(in, depth)})
		}
	}
	return c
}

func TestEngineMountRecoversTheThrustLineAndItsWashers(t *testing.T) {
	t.Parallel()
	r := Solve(mountOf(mic, 1.1, 2.3, 0), nil, plane)
	assert.InDelta(t, 1.1, quantityOf(t, r, "down").Value, 1e-9)
	assert.InDelta(t, 2.3, quantityOf(t, r, "right").Value, 1e-9)
	assert.InDelta(t, -0.4, quantityOf(t, r, "down_error").Value, 1e-9)
	assert.InDelta(t, 0.3, quantityOf(t, r, "right_error").Value, 1e-9)
	assert.InDelta(t, 0, quantityOf(t, r, "coplanarity").Value, 1e-9)
	// One pad of four proud by 0.9: residuals ±0.225, so the span is 0.45.
	assert.InDelta(t, 0.45, value(t, mountOf(mic, 1.5, 2, 0.9), "coplanarity"), 1e-9)
	moves := Solve(mountOf(mic, 1.5, 2, 0.9), nil, plane).Moves
	require.Len(t, moves, 3, "the other three come forward to the proud one")
	for _, m := range moves {
		assert.InDelta(t, 0.9, m.Amount, 1e-9)
	}
	c := mountOf(mic, 0, 0, 0)
	c.Pads = c.Pads[:2]
	assert.Equal(t, []string{"pads"}, refusals(c))
}

func TestPropagatedUncertaintyOfSquareAndMountAgreesWithMonteCarlo(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(21, 22))
	noisy := func(r *Reading, offset float64) {
		r.Values[0] += offset + random.NormFloat64()**r.Instrument.Spread + (random.Float64()-0.5)*r.Instrument.Resolution
	}
	build := func() *Square {
		return squareOf(tape, 2, 1, 0.1, FromPoint{Name: "firewall", Z: -1320}, FromPoint{Name: "boom root", X: 2350, Z: -1180})
	}
	rule := &Instrument{Name: "rule", Measures: Length, Resolution: 0.5, Offset: 0.2, Spread: spread(0.15)}
	var skew, position, down welford
	for range 15_000 {
		c, offset := build(), random.NormFloat64()*tape.Offset/math.Sqrt(3)
		for i := range c.From {
			noisy(&c.From[i].Left, offset)
			noisy(&c.From[i].Right, offset)
		}
		r := Solve(c, nil, plane)
		skew.add(quantityOf(t, r, "skew").Value)
		position.add(quantityOf(t, r, "position").Value)
		m, offset := mountOf(rule, 1.5, 2, 0), random.NormFloat64()*rule.Offset/math.Sqrt(3)
		for i := range m.Pads {
			noisy(&m.Pads[i].Depth, offset)
		}
		down.add(value(t, m, "down"))
	}
	truth := Solve(build(), nil, plane)
	assert.InEpsilon(t, skew.deviation(), quantityOf(t, truth, "skew").U, 0.03)
	assert.InEpsilon(t, position.deviation(), quantityOf(t, truth, "position").U, 0.03)
	assert.InEpsilon(t, down.deviation(), quantityOf(t, Solve(mountOf(rule, 1.5, 2, 0), nil, plane), "down").U, 0.03)
}

func angle(v float64) *Slope { return &Slope{Angle: one(level2, v)} }

func TestIncidenceAndItsMoves(t *testing.T) {
	t.Parallel()
	spacing, board := quantity.Length(560), quantity.Angle(1.2)
	c := &Incidence{Left: angle(4.0), Right: angle(4.2), Board: &board, Datum: one(level2, 0.3), Design: 2.5, AttachSpacing: &spacing, Fixed: "front"}
	r := Solve(c, nil, plane)
	assert.InDelta(t, 2.5, quantityOf(t, r, "incidence_left").Value, 1e-12)
	assert.InDelta(t, 2.7, quantityOf(t, r, "incidence_right").Value, 1e-12)
	assert.InDelta(t, 0.2, quantityOf(t, r, "incidence_difference").Value, 1e-12, "right − left")
	assert.InDelta(t, 0.1, quantityOf(t, r, "incidence_error").Value, 1e-12)
	require.Len(t, r.Moves, 1)
	assert.Equal(t, "right rear", r.Moves[0].At)
	assert.Equal(t, "up", r.Moves[0].Direction, "a leading edge too high wants the rear up")
	assert.InDelta(t, 560*math.Tan(0.2/perRadian), r.Moves[0].Amount, 1e-9)
	c.Fixed = "rear"
	assert.Equal(t, "down", Solve(c, nil, plane).Moves[0].Direction, "or the front down")

	front, rear, apart := read(mic, 110), read(mic, 100), quantity.Length(380)
	by := &Incidence{Single: &Slope{Front: &front, Rear: &rear, Spacing: &apart}}
	assert.InDelta(t, math.Atan(10.0/380)*perRadian, value(t, by, "incidence"), 1e-12)
	assert.Equal(t, []string{"single"}, refusals(&Incidence{Single: angle(1), Left: angle(1)}))
	assert.Equal(t, []string{"single"}, refusals(&Incidence{}))
}

func TestDecalageOfACanardSaysWhatMustStallFirst(t *testing.T) {
	t.Parallel()
	c := &Decalage{Forward: Given{Reading: one(level2, 3.2)}, Aft: Given{Value: 0.4, U: 0.06}, Arrangement: "canard"}
	r := Solve(c, nil, plane)
	assert.InDelta(t, 2.8, quantityOf(t, r, "decalage").Value, 1e-12)
	assert.InDelta(t, math.Sqrt(0.06*0.06+1e-4/12+2.25e-4+0.05*0.05/3), quantityOf(t, r, "decalage").U, 1e-12)
	assert.True(t, findings(r)["forward-surface-must-stall-first"])
}

func TestDiagonalsOfATrueBayCloseAndOfARackedOneSayWhichWay(t *testing.T) {
	t.Parallel()
	bay := func(shift float64) *Diagonals {
		diagonal := func(across float64) Reading { return read(mic, math.Hypot(560, across)) }
		return &Diagonals{Near: read(mic, 1010), Far: read(mic, 940), Length: read(mic, 560), D1: diagonal(975 + shift), D2: diagonal(975 - shift)}
	}
	r := Solve(bay(3), nil, plane)
	assert.InDelta(t, 3, quantityOf(t, r, "rack_offset").Value, 1e-9, "the far side to the right is positive")
	assert.InDelta(t, math.Atan(3.0/560)*perRadian, quantityOf(t, r, "rack").Value, 1e-9)
	assert.InDelta(t, 0, quantityOf(t, r, "closure").Value, 1e-9)
	wrong := bay(0)
	wrong.Length = read(mic, 585.4)
	r = Solve(wrong, nil, plane)
	assert.True(t, findings(r)["measurements-disagree"], "an inch out")
	assert.Equal(t, Unsure, r.Verdict)
}

func TestBracketsShowHowAMismatchGrowsToTheTips(t *testing.T) {
	t.Parallel()
	c := &Brackets{Left: read(mic, 1730), Right: read(mic, 1730.8), Spacing: 210, Span: 2880}
	r := Solve(c, limits("roll", -0.1, 0.1), plane)
	assert.InDelta(t, math.Asin(-0.8/210)*perRadian, quantityOf(t, r, "roll").Value, 1e-12, "the right one high is left low, negative")
	assert.InDelta(t, -0.8/210*2880, quantityOf(t, r, "tip_difference").Value, 1e-9)
	assert.InDelta(t, 210*math.Sin(0.1/perRadian), quantityOf(t, r, "allowed").Value, 1e-12)
	c.Axis = "station"
	assert.InDelta(t, math.Asin(0.8/210)*perRadian, value(t, c, "skew"), 1e-12, "the right one aft is positive")
	c.Right = read(mic, 2000)
	assert.Equal(t, []string{"right"}, refusals(c))
}

func TestUprightCancelsTheLevelsErrorWhenItIsTurnedWithTheFace(t *testing.T) {
	t.Parallel()
	c := &Upright{LeftFace: read(level2, 3.3), RightFace: read(level2, 3.1), Height: 1310}
	kept := quantityOf(t, Solve(c, nil, plane), "lean")
	assert.InDelta(t, 0.1, kept.Value, 1e-12, "the left face leaning in more puts the top to the right")
	assert.InDelta(t, 3.2, value(t, c, "taper"), 1e-12)
	c.RightFace.Turned = true
	turned := quantityOf(t, Solve(c, nil, plane), "lean")
	assert.InDelta(t, kept.U*kept.U-0.05*0.05/3, turned.U*turned.U, 1e-12)
	c.Datum = one(level2, 0.04)
	assert.InDelta(t, 0.06, value(t, c, "lean"), 1e-12)
}

func TestHingesAreBroughtOntoTheLine(t *testing.T) {
	t.Parallel()
	var c HingeLine
	for i, z := range []float64{10, 10, 13, 10, 10} {
		c.Points = append(c.Points, HingePoint{Name: string(rune('a' + i)), X: quantity.Length(330 * i), Y: read(mic, 5), Z: read(mic, z)})
	}
	r := Solve(&c, nil, plane)
	assert.InDelta(t, 2.4, quantityOf(t, r, "worst").Value, 1e-9, "3 less the mean's 0.6")
	assert.Equal(t, "down", r.Moves[2].Direction)
	assert.Equal(t, "up", r.Moves[0].Direction)
	c.Adjust = "y"
	assert.Empty(t, Solve(&c, nil, plane).Moves)
}

func TestPairsGapsTravelAndTemperature(t *testing.T) {
	t.Parallel()
	p := &Pairs{Pairs: []Pair{{"fore", read(mic, 100), read(mic, 102)}, {"aft", read(mic, 100), read(mic, 97)}}}
	assert.InDelta(t, -3, value(t, p, "worst_difference"), 1e-12, "right − left, signed")

	g := &Gaps{Gaps: []Gap{{"in", read(mic, 3)}, {"out", read(mic, 5)}}, Min: 3.5, Max: 6}
	r := Solve(g, nil, plane)
	assert.Equal(t, Stop, r.Verdict, "the worst gap")
	assert.Equal(t, []Move{{At: "in", Direction: "trim", Amount: 1.75}}, r.Moves, "towards the middle of the range; what is too wide cannot be trimmed")

	s := &Travel{Surfaces: []TravelSurface{{Name: "L", Up: read(level2, 22), Down: read(level2, 11), Side: "left"}, {Name: "R", Up: read(level2, 21), Down: read(level2, 12), Side: "right"}}}
	r = Solve(s, limits("mismatch", -0.5, 0.5), plane)
	assert.InDelta(t, 2, quantityOf(t, r, "differential").Value, 1e-12)
	assert.InDelta(t, -1, quantityOf(t, r, "mismatch_up").Value, 1e-12, "right − left")
	assert.InDelta(t, 1, quantityOf(t, r, "mismatch_down").Value, 1e-12)
	assert.Equal(t, Stop, r.Verdict)
	s.Surfaces[1].Side, s.Surfaces[1].Down = "left", read(level2, -1)
	assert.ElementsMatch(t, []string{"surfaces[1].side", "surfaces[1].down"}, refusals(s))

	// A steel tape on aluminium at 0 °C: the part shrank by (23.1 − 11.5)·20 µm/m more.
	cold := &ShopTemperature{Reading: read(tape, 5000), TempC: 0, Tape: Expansion{Material: "steel"}, Part: Expansion{Material: "aluminium"}}
	assert.InDelta(t, 5000*(1-230e-6)/(1-462e-6), value(t, cold, "length"), 1e-9)
	cold.Part = Expansion{Alpha: 1e9}
	assert.Equal(t, []string{"part.alpha"}, refusals(cold))
}

// rib is a part without symmetry; turned lays it elsewhere, mirrored or not.
func rib(mirror float64, turn float64) []HandPoint {
	var out []HandPoint
	for i, p := range [][2]float64{{0, 0}, {560, 12}, {540, 84}, {250, 110}, {60, 70}} {
		x, y := p[0], mirror*p[1]
		sin, cos := math.Sincos(turn)
		out = append(out, HandPoint{Name: string(rune('a' + i)), X: quantity.Length(30 + x*cos - y*sin), Y: quantity.Length(x*sin + y*cos - 7)})
	}
	return out
}

func TestHandIsShownByGeometryAndNotByALabel(t *testing.T) {
	t.Parallel()
	tests := []struct {
		second  []HandPoint
		expect  string
		answer  string
		verdict Verdict
	}{
		{rib(-1, 0.7), "", "mirrored", Go}, {rib(1, 0.7), "", "same", Stop}, {rib(1, -2), "same", "same", Go}, {rib(-1, 0), "same", "mirrored", Stop},
	}
	for _, test := range tests {
		c := &Hand{First: rib(1, 0), Second: test.second, Tolerance: 0.8, Expect: test.expect}
		require.Empty(t, refusals(c))
		r := Solve(c, nil, plane)
		assert.Equal(t, test.answer, r.Answer)
		assert.Equal(t, test.verdict, r.Verdict)
	}
	two := Solve(&Hand{First: rib(1, 0)[:2], Second: rib(1, 0)[:2], Tolerance: 1}, nil, plane)
	assert.Equal(t, "cannot-tell", two.Answer, "two points have no hand")
	straight := []HandPoint{{Name: "a"}, {Name: "b", X: 100}, {Name: "c", X: 200, Y: 0.5}}
	assert.Equal(t, Unsure, Solve(&Hand{First: straight, Second: straight, Tolerance: 1}, nil, plane).Verdict)
	bent := rib(1, 0)
	bent[2].Y += 40
	assert.Equal(t, "neither", Solve(&Hand{First: rib(1, 0), Second: bent, Tolerance: 0.8}, nil, plane).Answer)
	assert.ElementsMatch(t, []string{"tolerance", "second"}, refusals(&Hand{First: rib(1, 0), Second: rib(1, 0)[:3]}))
}

func TestSeparateTellsThePartFromTheBench(t *testing.T) {
	t.Parallel()
	var c Separate
	c.How = "flipped"
	bench, part := []float64{0, 2, 1, 0}, []float64{0, 1, 1.5, 0}
	for i := range bench {
		at := StraightPoint{X: quantity.Length(1000 * i)}
		up, down := at, at
		up.Offset, down.Offset = read(mic, 20+bench[i]+part[i]), read(mic, 20+bench[i]-part[i])
		c.First.Points, c.Second.Points = append(c.First.Points, up), append(c.Second.Points, down)
	}
	require.Empty(t, refusals(&c))
	assert.InDelta(t, 1.5, value(t, &c, "part_bow"), 1e-9)
	assert.InDelta(t, 2, value(t, &c, "bench_bow"), 1e-9)
	c.Second.Points = c.Second.Points[:3]
	assert.Contains(t, refusals(&c), "second.points")

	m := Separate{How: "mirror-part"}
	for _, y := range []float64{0, 950, 1900} {
		m.First.Stations = append(m.First.Stations, TwistStation{Name: "s", Y: quantity.Length(y), Angle: one(level2, 0.2*y/1900+0.05*y/1900)})
		m.Second.Stations = append(m.Second.Stations, TwistStation{Name: "s", Y: quantity.Length(y), Angle: one(level2, 0.2*y/1900-0.05*y/1900)})
	}
	assert.InDelta(t, 0.2, value(t, &m, "bench_twist"), 1e-9)
	assert.InDelta(t, 0.05, value(t, &m, "part_twist"), 1e-9)
	for _, how := range []string{"flipped", "turned"} {
		m.How = how
		assert.Equal(t, []string{"how"}, refusals(&m), "twist keeps its hand under every rotation")
	}
}

// Every kind lists where its readings go, each spot once, with what it measures.
func TestEveryKindWithReadingsCanBeWalked(t *testing.T) {
	t.Parallel()
	walked := 0
	for _, k := range Kinds {
		require.NotNil(t, k.New, k.Name)
		w := k.New()
		walked++
		seen := map[Spot]bool{}
		for _, s := range w.Walk() {
			assert.False(t, seen[s], k.Name)
			assert.Equal(t, s.Dimension == Length, s.Sense == "length" || s.Sense == "figure", k.Name)
			assert.NotEmpty(t, s.How, k.Name)
			seen[s] = true
		}
	}
	assert.Equal(t, len(Kinds), walked)
}

// A surface in one piece is read once, one measured by heights at both ends of
// the chord; the points of two parts are read on each.
func TestTheWalkFollowsTheDefinition(t *testing.T) {
	t.Parallel()
	fields := func(w Walker) (out []string) {
		for _, s := range w.Walk() {
			out = append(out, strings.TrimLeft(s.List+" "+s.Point+" "+s.Field, " "))
		}
		return out
	}
	spacing := quantity.Length(400)
	assert.Equal(t, []string{"datum", "left", "right"}, fields(&Incidence{}))
	assert.Equal(t, []string{"datum", "left"}, fields(&Incidence{Left: &Slope{}}))
	assert.Equal(t, []string{"datum", "single"}, fields(&Incidence{Single: &Slope{}}))
	assert.Equal(t, []string{"datum", "single.front", "single.rear"}, fields(&Incidence{Single: &Slope{Spacing: &spacing}}))
	assert.Equal(t, []string{"first a x", "first a y", "second a x", "second a y"}, fields(&Hand{First: []HandPoint{{Name: "a"}}, Second: []HandPoint{{Name: "a"}}}))
	assert.Len(t, fields(&Hand{First: []HandPoint{{Name: "a", Z: &spacing}}}), 3)
	assert.Empty(t, fields(&ShimStack{}))
}

// Twenty degrees warmer by 1 K at 293.15 K and 1013.25 hPa the pressure rises by
// 1013.25/293.15 = 3.4564 hPa, 35.31 mm of water; the air outside falling by 1 hPa
// lets the column rise by 10.215 mm more. Nothing is lost.
func TestAWarmerTankHasNotLostItsAir(t *testing.T) {
	t.Parallel()
	glass := &Instrument{Name: "glass", Measures: Length, Resolution: 1, Spread: spread(0.5)}
	none := 0.0
	head := 1013.25/293.15*1/waterHPa + 1/waterHPa
	c := &TankLeak{Start: TankState{read(glass, 0), 1013.25, 20}, End: TankState{read(glass, head), 1012.25, 21}, PressureU: &none, TempU: &none}
	r := Solve(c, nil, plane)
	assert.InDelta(t, 35.31+10.215, quantityOf(t, r, "expected_head").Value, 0.01)
	assert.InDelta(t, 0, quantityOf(t, r, "lost_head").Value, 1e-9)
	assert.Less(t, quantityOf(t, r, "lost_head").U, 1.0)
	c.PressureU, c.TempU = nil, nil
	assert.Greater(t, quantityOf(t, Solve(c, nil, plane), "lost_head").U, 20.0, "half a kelvin is 18 mm at each end")
	minus := -1.0
	c.TempU, c.End.Pressure, c.Start.Temp = &minus, 0, -300
	assert.ElementsMatch(t, []string{"temp_u_c", "end.air_pressure_hpa", "start.air_temp_c"}, refusals(c))
}
