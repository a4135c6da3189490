package measure

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
)

func codes(r Result) (out []string) {
	for _, f := range r.Findings {
		out = append(out, f.Code)
	}
	return out
}

// A length of 1000 mm read once with a step of 1 mm, a spread of 0.4 found from ten
// placings, and a class of 0.3 mm + 0.2 mm a metre:
//
//	u² = 1/12 + 0.4²·9/7 + 0.3²/3 + (1000/1000)²·0.2²/3 = 0.332381
func TestATapeOfAClassIsAsSureAsItsClass(t *testing.T) {
	t.Parallel()
	tape := &Instrument{Name: "tape", Measures: Length, Resolution: 1, Offset: 0.3, PerMetre: 0.2, Spread: spread(0.4), SpreadFrom: 10}
	r := Solve(&PartLength{Measured: Readings{read(tape, 1000)}, Design: 1000}, limits("error", -2, 2), guard)
	assert.InDelta(t, math.Sqrt(1.0/12+0.16*9/7+0.03+0.04/3), quantityOf(t, r, "length").U, 1e-12)
	assert.Equal(t, Go, r.Verdict)
	// Two lengths of 1 m and 2 m that add up share both errors: 3 m of proportion.
	two := Solve(&PartLength{Measured: Readings{read(tape, 1000), read(tape, 2000)}, Design: 3000}, nil, guard)
	assert.InDelta(t, math.Sqrt(2*(1.0/12+0.16*9/7)+4*0.03+9*0.04/3), quantityOf(t, two, "length").U, 1e-12)
}

// Between feelers of 0.4 and 0.5 mm a gap is 0.45 ± (0.1²/12): neither step nor spread
// counts, and without an instrument it is known all the same.
func TestWhatLiesBetweenTwoFeelersIsKnown(t *testing.T) {
	t.Parallel()
	in := Reading{Values: []float64{0.45}, Between: &[2]float64{0.4, 0.5}}
	r := Solve(&Gaps{Gaps: []Gap{{Name: "a", Gap: in}}, Min: 0.2, Max: 0.8}, nil, guard)
	assert.InDelta(t, 0.1/math.Sqrt(12), quantityOf(t, r, "gap").U, 1e-12)
	assert.Empty(t, r.Findings)
	assert.Equal(t, Go, r.Verdict)
	in.Instrument = &Instrument{Name: "feelers", Measures: Length, Resolution: 0.05, Offset: 0.02, Spread: spread(0.03)}
	r = Solve(&Gaps{Gaps: []Gap{{Name: "a", Gap: in}}, Min: 0.2, Max: 0.8}, nil, guard)
	assert.InDelta(t, math.Sqrt(0.01/12+0.0004/3), quantityOf(t, r, "gap").U, 1e-12, "its constant error does count")
}

// Corrections of 0.5 ± 0.1 each, on two lengths that add up: of their own √2·0.1, shared
// 2·0.1. The reading's own zero stands in place of the instrument's.
func TestCorrectionsJoinTheirReadings(t *testing.T) {
	t.Parallel()
	exact := &Instrument{Name: "laser", Measures: Length, Resolution: 0, Zero: 3, Spread: spread(0)}
	own := 1.0
	with := func(common string) Result {
		r := Reading{Values: []float64{100}, Instrument: exact, Zero: &own, Corrections: []Correction{{Why: "sag", Value: 0.5, U: 0.1, Common: common}}}
		return Solve(&PartLength{Measured: Readings{r, r}, Design: 200}, nil, guard)
	}
	assert.InDelta(t, 199, quantityOf(t, with(""), "length").Value, 1e-12)
	assert.InDelta(t, math.Sqrt2*0.1, quantityOf(t, with(""), "length").U, 1e-12)
	assert.InDelta(t, 0.2, quantityOf(t, with("sag"), "length").U, 1e-12)
	weak := quantityOf(t, with("sag"), "length").Weakness()
	assert.Equal(t, "sag", weak.Offset)
	assert.True(t, weak.Other)
	assert.InDelta(t, 1, weak.Common, 1e-12)
}

// What is not stated makes a go unsure and leaves a stop a stop; a constant error that
// cancels need not be known.
func TestWhatIsNotKnownIsNotSure(t *testing.T) {
	t.Parallel()
	known := Instrument{Name: "level", Measures: Angle, Resolution: 0.01, Offset: 0.05, Spread: spread(0.015)}
	fin := func(in Instrument, left float64) Result {
		return Solve(&Upright{LeftFace: read(&in, left), RightFace: read(&in, 3), Height: 1310}, limits("lean", -0.1, 0.1), guard)
	}
	for _, test := range []struct {
		change func(*Instrument)
		code   string
	}{
		{func(in *Instrument) { in.StepUnknown, in.Resolution = true, 0 }, "resolution-unknown"},
		{func(in *Instrument) { in.OffsetUnknown, in.Offset = true, 0 }, "offset-unknown"},
		{func(in *Instrument) { in.Spread = nil }, "spread-unknown"},
	} {
		in := known
		test.change(&in)
		assert.Equal(t, Unsure, fin(in, 3).Verdict, test.code)
		assert.Equal(t, []string{test.code}, codes(fin(in, 3)))
		assert.Equal(t, Stop, fin(in, 4).Verdict, "stop is the safe side")
		plain := Solve(&Upright{LeftFace: read(&in, 3), RightFace: read(&in, 3), Height: 1310}, limits("lean", -0.1, 0.1), Decision{Plain: true, Coverage: 2})
		assert.Equal(t, Go, plain.Verdict, "plain limits go by the value")
	}
	assert.Equal(t, Go, fin(known, 3).Verdict)
	in := known
	in.OffsetUnknown, in.Offset = true, 0
	twist := Solve(&Twist{Stations: []TwistStation{{Name: "a", Angle: one(&in, 1)}, {Name: "b", Y: 1000, Angle: one(&in, 1)}}}, limits("twist", -0.2, 0.2), guard)
	assert.Equal(t, Go, twist.Verdict)
	assert.Empty(t, twist.Findings, "it cancels from a difference")
	assert.Empty(t, codes(Solve(&ZeroTest{First: read(&in, 1), Turned: read(&in, 1)}, nil, guard)), "it is what the test finds")
}

// Ten placings that scatter by 0.1 where 0.015 is stated: Σ = 10·0.1² = 0.1, and the 0.999
// quantile of χ² of nine degrees is 27.877, times 0.015² + 0.01²/12 = 2.33e-4 is 0.0065.
func TestPlacingsThatScatterMoreThanIsStatedAreNotSure(t *testing.T) {
	t.Parallel()
	in := &Instrument{Name: "level", Measures: Angle, Resolution: 0.01, Offset: 0, Spread: spread(0.015)}
	var values []float64
	for range 5 {
		values = append(values, 0.9, 1.1)
	}
	l := &Level{Datum: read(in, 1), Part: read(in, values...), Span: 2880}
	r := Solve(l, limits("roll", -1, 1), guard)
	assert.Equal(t, []string{"scatter-exceeds-spread"}, codes(r))
	assert.Equal(t, Unsure, r.Verdict)
	assert.InDelta(t, 27.877, Quantile(9), 5e-4)
}

// Five even stations of which one is off by 1°: go without it, but not with it left in and
// another left out.
func TestAKinkIsNotATwist(t *testing.T) {
	t.Parallel()
	level := &Instrument{Name: "level", Measures: Angle, Resolution: 0.01, Offset: 0.05, Spread: spread(0.015)}
	build := func(off float64, stations int) *Twist {
		c := &Twist{}
		for i := range stations {
			v := 1.0
			if i == 1 {
				v += off
			}
			c.Stations = append(c.Stations, TwistStation{Name: string(rune('a' + i)), Y: quantity.Length(700 * i), Angle: one(level, v)})
		}
		return c
	}
	r := Solve(build(0.1, 5), limits("twist", -0.1, 0.1), guard)
	assert.Equal(t, []string{"kinked"}, codes(r))
	assert.Equal(t, Unsure, r.Verdict)
	assert.Contains(t, r.Findings[0].Text, "b lies off")
	assert.Equal(t, Go, Solve(build(0.1, 5), limits("twist", -0.3, 0.3), guard).Verdict, "go whichever is left out")
	assert.Equal(t, Unsure, Solve(build(0.1, 3), limits("twist", -0.9, 0.9), guard).Verdict, "three cannot tell which")
	assert.Empty(t, codes(Solve(build(0, 5), limits("twist", -0.1, 0.1), guard)))
	limited := limits("twist", -0.3, 0.3)
	high := 0.5
	limited["kink"] = Limit{High: &high}
	assert.Empty(t, codes(Solve(build(0.1, 5), limited, guard)), "a limited kink has a verdict of its own")
}

// One pair of tapes never makes a go; told how far the middle may lie off, it may. Points
// that nobody said anything of are taken as exact, and that is not sure either.
func TestOnePairOfTapesIsNeverAGo(t *testing.T) {
	t.Parallel()
	fine := &Instrument{Name: "tape", Measures: Length, Resolution: 0.1, Offset: 0.1, Spread: spread(0.1)}
	zero := quantity.Length(0)
	c := squareOf(fine, 0, 0, 0, FromPoint{Name: "firewall", Z: -1320})
	c.PointsU = &zero
	r := Solve(c, limits("skew", -0.5, 0.5), guard)
	assert.Equal(t, []string{"assumes-centred"}, codes(r))
	assert.Equal(t, Unsure, r.Verdict)
	centred := quantity.Length(1)
	c.Centred = &centred
	r = Solve(c, limits("skew", -0.5, 0.5), guard)
	assert.Equal(t, Go, r.Verdict)
	assert.Empty(t, r.Findings)
	assert.InDelta(t, 1/math.Sqrt(3), quantityOf(t, r, "lateral").U, 1e-3, "nothing else tells it")
	c.PointsU = nil
	r = Solve(c, limits("skew", -0.5, 0.5), guard)
	assert.Equal(t, []string{"points-exact"}, codes(r))
	assert.Equal(t, Unsure, r.Verdict)
	off := quantity.Length(2)
	c.PointsU = &off
	assert.Greater(t, quantityOf(t, Solve(c, nil, guard), "skew").U, quantityOf(t, r, "skew").U)
}

// Tapes that contradict one another by more than chance are disproved: never stop.
func TestTapesThatContradictOneAnotherAreNotBelieved(t *testing.T) {
	t.Parallel()
	zero := quantity.Length(0)
	c := squareOf(tape, 0, 0, 3, FromPoint{Name: "firewall", Z: -1320}, FromPoint{Name: "boom root", X: 2350, Z: -1180})
	c.PointsU = &zero
	assert.Equal(t, Stop, Solve(c, limits("skew", -0.5, 0.5), guard).Verdict)
	c.From[0].Left.Values[0] += 25.4
	r := Solve(c, limits("skew", -0.5, 0.5), guard)
	assert.Contains(t, codes(r), "measurements-disagree")
	assert.Equal(t, Unsure, r.Verdict)
	unknown := *tape
	unknown.Spread = nil
	for i := range c.From {
		c.From[i].Left.Instrument, c.From[i].Right.Instrument = &unknown, &unknown
	}
	assert.NotContains(t, codes(Solve(c, limits("skew", -0.5, 0.5), guard)), "measurements-disagree", "what is not known does not accuse")
}

// A steel tape of 20 g/m pulled with 50 N over 6 m: (0.02·9.80665)²·6³/(24·50²) m = 0.1385 mm;
// with half the pull four times as much. A pull known to 20 % is a sag known to 40 %.
func TestTheSagOfATape(t *testing.T) {
	t.Parallel()
	w := 0.02 * 9.80665
	assert.InDelta(t, 0.13848, Sag(6000, w, 50), 1e-4)
	assert.InDelta(t, 4*Sag(6000, w, 50), Sag(6000, w, 25), 1e-12)
	c := SagCorrection(6000, w, 50, 0.2, "sag")
	assert.InDelta(t, -Sag(6000, w, 50), c.Value, 1e-12)
	assert.InDelta(t, 0.4*Sag(6000, w, 50), c.U, 1e-12)
}

// Between two tests the zero goes along the straight line, and may as well have gone at once.
func TestAZeroBetweenTwoTests(t *testing.T) {
	t.Parallel()
	assert.InDelta(t, 0.15, Between(0, 0.1, 4, 0.3, 1), 1e-12)
	assert.InDelta(t, 0.1, Between(0, 0.1, 4, 0.3, -1), 1e-12)
	assert.InDelta(t, 0.3, Between(0, 0.1, 0, 0.3, 0), 1e-12)
	assert.InDelta(t, math.Sqrt(0.01*0.01+0.04/12), DriftU(0.01, 0.1, 0.3), 1e-12)
}

func TestADecalageIsShimmedAtItsAttachments(t *testing.T) {
	t.Parallel()
	spacing := quantity.Length(400)
	mm, ok := (&Decalage{AttachSpacing: &spacing}).Shim(1)
	require.True(t, ok)
	assert.InDelta(t, 400*math.Tan(math.Pi/180), mm, 1e-9)
	_, ok = (&Decalage{}).Shim(1)
	assert.False(t, ok)
}

// A fin read one way round holds the whole constant error: what is left of it after an
// end-for-end test, and what the test itself did not know.
func TestTheZeroIsItselfUncertain(t *testing.T) {
	t.Parallel()
	in := &Instrument{Name: "level", Measures: Angle, Resolution: 0, Offset: 0.03, Zero: 0.2, ZeroU: 0.01, Spread: spread(0.02)}
	q := quantityOf(t, Solve(&Upright{LeftFace: read(in, 3.2), RightFace: read(in, 2.8), Height: 1310}, nil, guard), "lean")
	assert.InDelta(t, 0, q.Value, 1e-12, "3.0 and, read the other way, 3.0")
	assert.InDelta(t, math.Sqrt(0.02*0.02/2+0.03*0.03/3+0.01*0.01), q.U, 1e-12)
}
