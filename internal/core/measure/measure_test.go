package measure

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
)

func spread(v float64) *float64 { return &v }

// level2 and laser are the demo workshop's.
var (
	level2 = &Instrument{Name: "level 2", Measures: Angle, Resolution: 0.01, Offset: 0.05, Spread: spread(0.015)}
	laser  = &Instrument{Name: "laser level", Measures: Length, Resolution: 0.5, Offset: 1, Spread: spread(0.3)}
	guard  = Decision{Coverage: 2}
)

func read(in *Instrument, values ...float64) Reading { return Reading{Values: values, Instrument: in} }

func one(in *Instrument, v float64) *Reading { r := read(in, v); return &r }

func limits(name string, low, high float64) map[string]Limit {
	return map[string]Limit{name: {&low, &high}}
}

func quantityOf(t *testing.T, r Result, name string) Quantity {
	t.Helper()
	q, ok := r.Quantity(name)
	require.True(t, ok, "no %s", name)
	return q
}

// heldTailplane is the demo's tailplane: angles as read, and of the rails under them.
func heldTailplane(in *Instrument, held bool) *Twist {
	c := &Twist{Held: held}
	angles, rails := []float64{0.05, 0.14, 0.23, 0.31, 0.39}, []float64{0.06, 0.14, 0.21, 0.30, 0.37}
	for i, name := range []string{"left tip", "left middle", "centre", "right middle", "right tip"} {
		s := TwistStation{Name: name, Y: quantity.Length(720 * i), Angle: one(in, angles[i])}
		if held {
			s.Support = one(in, rails[i])
		}
		c.Stations = append(c.Stations, s)
	}
	return c
}

// Five stations evenly spaced: the slope of the best line over the span is
// (2(a5 − a1) + (a4 − a2))/2.5. As read (2·0.34 + 0.17)/2.5 = 0.34; the rails
// (2·0.31 + 0.16)/2.5 = 0.312; the part 0.028. Each angle enters with 0.8 or
// 0.4, so u² = 1.6 u_r² as read and 3.2 u_r² corrected.
func TestMostOfTheDemoTailplanesTwistIsTheRails(t *testing.T) {
	t.Parallel()
	asRead := Solve(heldTailplane(level2, false), limits("twist", -0.1, 0.1), guard)
	q := quantityOf(t, asRead, "twist")
	assert.InDelta(t, 0.34, q.Value, 1e-12)
	assert.InDelta(t, math.Sqrt(1.6*(0.01*0.01/12+0.015*0.015)), q.U, 1e-12)
	assert.Equal(t, Stop, asRead.Verdict)

	corrected := Solve(heldTailplane(level2, true), limits("twist", -0.1, 0.1), guard)
	q = quantityOf(t, corrected, "twist")
	assert.InDelta(t, 0.028, q.Value, 1e-12)
	assert.InDelta(t, math.Sqrt(3.2*(0.01*0.01/12+0.015*0.015)), q.U, 1e-12)
	assert.Equal(t, Go, corrected.Verdict)

	level1 := &Instrument{Name: "level 1", Measures: Angle, Resolution: 0.05, Offset: 0.1, Spread: spread(0.03)}
	coarse := Solve(heldTailplane(level1, true), limits("twist", -0.1, 0.1), guard)
	assert.Equal(t, Unsure, coarse.Verdict)
	// 2u ≤ 0.072 with u² = 3.2(0.05²/12 + 0.03²/n): n ≥ 4.64, so five placings.
	assert.Equal(t, 5, quantityOf(t, coarse, "twist").Placings)
}

func TestTheZeroAndTheOffsetCancelWhereEveryReadingIsTakenTheSameWayRound(t *testing.T) {
	t.Parallel()
	off := *level2
	off.Zero = -0.04
	plain := quantityOf(t, Solve(heldTailplane(level2, true), nil, guard), "twist")
	zeroed := quantityOf(t, Solve(heldTailplane(&off, true), nil, guard), "twist")
	assert.InDelta(t, plain.Value, zeroed.Value, 1e-12)
	assert.InDelta(t, plain.U, zeroed.U, 1e-12)

	turned := &Level{Datum: read(level2, 0), Part: read(level2, 0.1), Span: 2880}
	turned.Part.Turned = true
	u := quantityOf(t, Solve(turned, nil, guard), "roll").U
	assert.InDelta(t, math.Sqrt(2*(1e-4/12+2.25e-4)+4*0.05*0.05/3), u, 1e-12, "turned between the two, the offset counts twice")
}

// rails constructs heights of six supports with a known slope, twist and hump.
func rails(in *Instrument, along, across, twist, hump float64) *Bench {
	c := &Bench{}
	for _, x := range []float64{0, 1600, 3200} {
		for _, y := range []float64{-350, 350} {
			cross := across + twist*(x-1600)/3200 // degrees, right low
			z := 40 + x*math.Tan(along/perRadian) - y*math.Tan(cross/perRadian)
			if x == 1600 {
				z += hump
			}
			c.Points = append(c.Points, BenchPoint{Name: string(rune('A' + len(c.Points))), X: quantity.Length(x), Y: quantity.Length(y), Height: read(in, z)})
		}
	}
	return c
}

func TestABenchsTrueShapeIsRecovered(t *testing.T) {
	t.Parallel()
	r := Solve(rails(nil, 0.2, 0, 0.31, 1.1), nil, guard)
	assert.InDelta(t, 0.2, quantityOf(t, r, "slope_along").Value, 1e-9, "rising with x is positive")
	assert.InDelta(t, 0, quantityOf(t, r, "slope_across").Value, 1e-9)
	assert.InDelta(t, 0.31, quantityOf(t, r, "twist").Value, 1e-9, "more right-low towards the far end is positive")
	assert.InDelta(t, 1.1, quantityOf(t, r, "bow").Value, 1e-9, "a hump is positive")
	assert.Equal(t, []Finding{{"no-instrument", "readings without an instrument are taken as exact"}}, r.Findings)

	r = Solve(rails(nil, 0, 0.25, 0, 0), nil, guard)
	assert.InDelta(t, 0.25, quantityOf(t, r, "slope_across").Value, 1e-9, "right low is positive")
	assert.InDelta(t, 0, quantityOf(t, r, "flatness").Value, 1e-9)
}

func TestMovesRaiseEverySupportToTheHighest(t *testing.T) {
	t.Parallel()
	c := rails(laser, 0, 0.25, 0, 0)
	c.Stock = []quantity.Length{0.5, 1}
	r := Solve(c, nil, guard)
	require.Len(t, r.Moves, 3, "the three left supports are the highest")
	for _, m := range r.Moves {
		assert.Equal(t, "up", m.Direction)
		assert.InDelta(t, 700*math.Tan(0.25/perRadian), m.Amount, 1e-9)
		assert.Equal(t, []float64{1, 1, 1}, m.Stack)
	}
}

func TestLayoutsThatCannotShowTwistSaySo(t *testing.T) {
	t.Parallel()
	three := &Bench{Points: []BenchPoint{{"a", 0, 0, read(laser, 1)}, {"b", 2000, -300, read(laser, 1)}, {"c", 2000, 300, read(laser, 2)}}}
	r := Solve(three, limits("twist", -1, 1), guard)
	assert.Equal(t, "three-points-cannot-show-twist", r.Findings[0].Code)
	assert.Equal(t, Unsure, r.Verdict, "a limited quantity that could not be found is unsure")

	diamond := &Bench{Points: []BenchPoint{{"n", 1000, 500, read(laser, 1)}, {"e", 2000, 0, read(laser, 1)}, {"s", 1000, -500, read(laser, 1)}, {"w", 0, 0, read(laser, 2)}, {"m", 1000, 0, read(laser, 2)}}}
	r = Solve(diamond, nil, guard)
	assert.Equal(t, "layout-cannot-show-twist", r.Findings[0].Code)
	_, twisted := r.Quantity("twist")
	_, bowed := r.Quantity("bow")
	assert.False(t, twisted || bowed)

	line := &Bench{Points: []BenchPoint{{"a", 0, 0, read(laser, 1)}, {"b", 100, 100, read(laser, 1)}, {"c", 300, 300, read(laser, 1)}}}
	var refused []string
	line.Validate(func(path, _ string) { refused = append(refused, path) })
	assert.Equal(t, []string{"points"}, refused)
}

// The spread of many simulated measurements agrees with the propagated u.
func TestPropagatedUncertaintyAgreesWithMonteCarlo(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(1, 2))
	const runs = 20_000
	noisy := func(in *Instrument, offset, v float64) Reading {
		return read(in, v+offset+random.NormFloat64()**in.Spread+(random.Float64()-0.5)*in.Resolution)
	}
	var twist, tilt, flat welford
	for range runs {
		offset := (random.Float64()*2 - 1) * laser.Offset
		c := rails(laser, 0.1, 0.2, 0.31, 0)
		for i := range c.Points {
			c.Points[i].Height = noisy(laser, offset, c.Points[i].Height.Values[0])
		}
		r := Solve(c, nil, guard)
		twist.add(quantityOf(t, r, "twist").Value)

		offset = (random.Float64()*2 - 1) * level2.Offset
		l := &Level{Datum: noisy(level2, offset, 0), Part: noisy(level2, offset, 0.1), Span: 2880}
		tilt.add(quantityOf(t, Solve(l, nil, guard), "roll").Value)

		w := &Work{}
		z := make([]Estimate, 6)
		for i := range z {
			z[i] = w.Read(noisy(laser, 0, 0))
		}
		x, y := rails(laser, 0, 0, 0, 0).layout()
		plane, _ := w.fitColumns(z, func(i int) []float64 { return []float64{1, x.at[i], y.at[i]} })
		flat.add(plane.left[0] - plane.left[5])
	}
	assert.InEpsilon(t, twist.deviation(), quantityOf(t, Solve(rails(laser, 0.1, 0.2, 0.31, 0), nil, guard), "twist").U, 0.03)
	assert.InEpsilon(t, tilt.deviation(), quantityOf(t, Solve(&Level{Datum: read(level2, 0), Part: read(level2, 0.1), Span: 2880}, nil, guard), "roll").U, 0.03)
	assert.GreaterOrEqual(t, quantityOf(t, Solve(rails(laser, 0, 0, 0, 0), nil, guard), "flatness").U*1.03, flat.deviation(), "flatness takes the least known difference")
}

// welford gathers a standard deviation.
type welford struct{ n, mean, m2 float64 }

func (w *welford) add(v float64) {
	w.n++
	d := v - w.mean
	w.mean += d / w.n
	w.m2 += d * (v - w.mean)
}

func (w *welford) deviation() float64 { return math.Sqrt(w.m2 / (w.n - 1)) }

// The closed form for residuals agrees with propagating each one by its slopes.
func TestResidualUncertaintyWithSharedInstruments(t *testing.T) {
	t.Parallel()
	w := &Work{}
	z := make([]Estimate, 5)
	for i := range z {
		in := level2
		if i%2 == 1 {
			in = &Instrument{Measures: Angle, Resolution: 0.05, Offset: 0.1, Spread: spread(0.03)}
		}
		z[i] = w.Read(read(in, float64(i*i))).Minus(w.Read(read(level2, 1, 2)))
	}
	f, ok := w.fitColumns(z, func(i int) []float64 { return []float64{1, float64(i)} })
	require.True(t, ok)
	c := f.covariance(0)
	for i := range z {
		for j := range z {
			residual := func(k int) Estimate {
				return z[k].Minus(f.param(0)).Minus(f.param(1).Times(float64(k)))
			}
			want := w.U(residual(i).Minus(residual(j)), 0)
			got := math.Sqrt(max(0, c.of(i, i)+c.of(j, j)-2*c.of(i, j)))
			assert.InDelta(t, want, got, 1e-9)
		}
	}
}

func TestPlacingsArePooledWhereTheInstrumentStatesNoSpread(t *testing.T) {
	t.Parallel()
	in := &Instrument{Name: "new level", Measures: Angle, Resolution: 0.1}
	four := Solve(&ZeroTest{First: read(in, 1, 2, 3, 4), Turned: read(in, 1, 2, 3, 4)}, nil, guard)
	// Pooled: ν = 6 and Σ(n − 1)s² = 10 for twice 1, 2, 3, 4, so that one placing has
	// 10/(6 − 2) = 2.5; u² of each mean = 0.01/12 + 2.5/4; zero halves the sum.
	assert.InDelta(t, math.Sqrt(2*(0.01/12+2.5/4))/2, quantityOf(t, four, "zero").U, 1e-12)
	assert.Empty(t, four.Findings)
	two := Solve(&ZeroTest{First: read(in, 1, 2), Turned: read(in, 1, 2)}, nil, guard)
	assert.Equal(t, "spread-unknown", two.Findings[0].Code)
}

func TestVerdictsAtTheLimits(t *testing.T) {
	t.Parallel()
	low, high := -0.1, 0.1
	l := Limit{&low, &high}
	tests := []struct {
		value, u float64
		plain    bool
		want     Verdict
	}{
		{0.0, 0.05, false, Go}, {0.01, 0.05, false, Unsure}, {0.1, 0, false, Go}, {0.2, 0.05, false, Unsure}, {0.21, 0.05, false, Stop},
		{-0.21, 0.05, false, Stop}, {0.1, 5, true, Go}, {0.1001, 5, true, Stop},
	}
	for _, test := range tests {
		w := &Work{decision: Decision{Plain: test.plain, Coverage: 2}}
		assert.Equal(t, test.want, w.decide(test.value, test.u, l), "%+v", test)
	}
}

func TestStraightnessNamesTheWorstPointAndItsSide(t *testing.T) {
	t.Parallel()
	points := func(offsets ...float64) []StraightPoint {
		var out []StraightPoint
		for i, o := range offsets {
			out = append(out, StraightPoint{X: quantity.Length(1000 * i), Offset: read(nil, o)})
		}
		return out
	}
	r := Solve(&Straightness{Points: points(10, 9, 8.5, 10)}, nil, guard)
	assert.Equal(t, -1.5, quantityOf(t, r, "bow").Value, "a hollow is negative")
	assert.Equal(t, 2000.0, quantityOf(t, r, "bow").At)
	// y = 4·(x/2000)(1 − x/2000)·2 through 0, 1.5, 2, 1.5, 0 is a parabola of rise 2.
	r = Solve(&Straightness{Points: points(0, 1.5, 2, 1.5, 0), Reference: "best"}, nil, guard)
	assert.InDelta(t, 2, quantityOf(t, r, "bow").Value, 1e-9, "a hump is positive")
	assert.InDelta(t, -1, quantityOf(t, r, "departure").Value, 1e-9, "of two ends equally far, the first")
}

func TestTheNearestStackOfShims(t *testing.T) {
	t.Parallel()
	six := 6
	tests := []struct {
		needed float64
		stock  []quantity.Length
		pieces *int
		want   []float64
	}{
		{0.9, []quantity.Length{0.25, 0.4, 0.5}, nil, []float64{0.5, 0.4}},
		{1.0, []quantity.Length{0.25, 0.5, 1}, nil, []float64{1}},
		{0.1, []quantity.Length{0.25}, nil, []float64{}},
		{-3, []quantity.Length{0.25}, nil, []float64{}},
		{1.5, []quantity.Length{0.5, 0.75, 1}, nil, []float64{1, 0.5}},
		{100, []quantity.Length{1, 2}, nil, []float64{2, 2, 2}},
		{0.75, []quantity.Length{0.5, 1}, nil, []float64{1}}, // 0.5 and 1 are equally near
		{2.1, []quantity.Length{0.3, 0.4}, &six, []float64{0.4, 0.4, 0.4, 0.3, 0.3, 0.3}},
		{5, nil, nil, []float64{}},
	}
	for _, test := range tests {
		got := newStacker(test.stock, test.pieces).nearest(test.needed)
		assert.InDeltaSlice(t, test.want, got, 0, "%+v", test)
	}
}

// Every stack is tried for random stocks; the search must find one as good.
func TestTheStackIsTheBestOfAll(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(3, 4))
	for range 300 {
		stock := make([]quantity.Length, 1+random.IntN(5))
		for i := range stock {
			stock[i] = quantity.Length(1+random.IntN(40)) / 20
		}
		pieces := 1 + random.IntN(5)
		needed := random.Float64() * 8
		best, fewest := needed, 0
		var try func(k, from int, sum float64)
		try = func(k, from int, sum float64) {
			if off := math.Abs(sum - needed); off < best-tie || off < best+tie && k < fewest {
				best, fewest = off, k
			}
			for i := from; i < len(stock) && k < pieces; i++ {
				try(k+1, i, sum+float64(stock[i]))
			}
		}
		try(0, 0, 0)
		got := newStacker(stock, &pieces).nearest(needed)
		assert.InDelta(t, best, math.Abs(sum(got)-needed), 2*tie)
		assert.Len(t, got, fewest)
	}
}

func BenchmarkBench200Points(b *testing.B) {
	random := rand.New(rand.NewPCG(5, 6))
	c := &Bench{Stock: []quantity.Length{0.3, 0.5, 1}}
	for i := range 200 {
		c.Points = append(c.Points, BenchPoint{Name: string(rune('a' + i)), X: quantity.Length(100 * (i / 2)), Y: quantity.Length(700*(i%2) - 350), Height: read(laser, random.Float64()*3)})
	}
	for b.Loop() {
		Solve(c, limits("flatness", 0, 2.5), guard)
	}
}

func BenchmarkWorstStackOf40SizesAnd6Pieces(b *testing.B) {
	random := rand.New(rand.NewPCG(7, 8))
	stock, six := make([]quantity.Length, 40), 6
	for i := range stock {
		stock[i] = quantity.Length(random.Float64() * 3)
	}
	for b.Loop() {
		newStacker(stock, &six).nearest(random.Float64() * 12)
	}
}
