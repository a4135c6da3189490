package measure

import (
	"math"
	"testing"

	"orpine/internal/core/quantity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ofType is an instrument of which nothing is stated but what is named.
func ofType(name string, stated ...string) *Instrument {
	u, _ := UsualOf(name)
	in := &Instrument{Name: name, Type: name, Measures: u.Measures}
	in.Assume(func(column string) bool {
		for _, s := range stated {
			if s == column {
				return true
			}
		}
		return false
	})
	return in
}

func TestWhatIsUsualIsAssumedWhereNothingIsStated(t *testing.T) {
	t.Parallel()
	tape := ofType("tape")
	assert.Equal(t, []string{"resolution", "spread", "spot", "offset", "per_metre"}, tape.Assumed)
	assert.Equal(t, []float64{1, 0.5, 0.3, 1, 0.3}, []float64{tape.Resolution, *tape.Spread, tape.Spot, tape.Offset, tape.PerMetre})
	assert.Zero(t, tape.PerDegree)
	proven := ofType("digital-level", "zero_u", "resolution")
	assert.Equal(t, []string{"spread", "spot", "per_degree"}, proven.Assumed, "a zero that was found leaves no offset to assume")
	assert.Zero(t, proven.Offset)
	assert.Empty(t, ofType("tape", Columns...).Assumed)
	none := &Instrument{}
	none.Assume(func(string) bool { return false })
	assert.Empty(t, none.Assumed, "of no type nothing is usual")
	for _, u := range Usuals {
		assert.Equal(t, u.Measures == Angle, ofType(u.Type).PerDegree > 0, u.Type)
	}
}

// A tape of which only its kind is known, one placing: u² = 1/12 + 0.5² + 0.3² + 1²/3 + (2.897·0.3)²/3, by hand
// 0.083333 + 0.25 + 0.09 + 0.333333 + 0.251779 = 1.008446; u = 1.004214.
func TestAnAssumedTapeGivesAFirstAnswer(t *testing.T) {
	t.Parallel()
	c := &PartLength{Measured: Readings{{Values: []float64{2897}, Instrument: ofType("tape")}}, Design: 2900}
	r := Solve(c, limits("error", -7, 7), plane)
	q := quantityOf(t, r, "error")
	assert.InDelta(t, 1.004214, q.U, 1e-6)
	assert.Equal(t, Go, r.Verdict, "what is usual counts")
	assert.Equal(t, []Assumption{{"tape", []string{"resolution", "spread", "spot", "offset", "per_metre"}}}, r.Assumed)
	whole := 0.0
	for _, d := range q.Doubt() {
		whole += d.Share
	}
	assert.InDelta(t, 1, whole, 1e-9)
	assert.Equal(t, "constant tape", q.Doubt()[0].Of)
	assert.InDelta(t, 0.333333/1.008446, q.Doubt()[0].Share, 1e-5)
	assert.Empty(t, Quantity{}.Doubt())
}

// Four degrees of freedom of the usual 0.5 mm beside two placings 2 mm apart: (4·0.25 + 2)/5 = 0.6 mm², halved;
// the spot once, however often it stands there. Moved, both are pooled: (4·0.34 + 2)/5 = 0.672, halved.
func TestPlacingsStandBesideWhatIsUsual(t *testing.T) {
	t.Parallel()
	in := ofType("tape", "offset", "per_metre")
	u := func(moved bool) float64 {
		c := &PartLength{Measured: Readings{{Values: []float64{999, 1001}, Moved: moved, Instrument: in}}, Design: 1000}
		return quantityOf(t, Solve(c, nil, plane), "length").U
	}
	assert.InDelta(t, math.Sqrt(1.0/12+0.6/2+0.09), u(false), 1e-9)
	assert.InDelta(t, math.Sqrt(1.0/12+0.672/2), u(true), 1e-9)
	stated := ofType("tape", "offset", "per_metre", "spread")
	half := 0.5
	stated.Spread = &half
	c := &PartLength{Measured: Readings{{Values: []float64{999, 1001}, Instrument: stated}}, Design: 1000}
	assert.InDelta(t, math.Sqrt(1.0/12+0.25/2+0.09), quantityOf(t, Solve(c, nil, plane), "length").U, 1e-9, "what is stated is not pooled")
}

// Read 3° up with 0.02 of each degree: 3·0.02/√3 = 0.03464°; the datum at 0° has none of it.
func TestAnErrorInProportionDoesNotCancelBetweenFourDegreesAndNone(t *testing.T) {
	t.Parallel()
	in := ofType("digital-level", "resolution", "spread", "spot", "offset")
	in.Spread = new(float64)
	c := &Incidence{Single: &Slope{Angle: one(in, 3)}, Datum: one(in, 0), Design: 3}
	assert.InDelta(t, 0.0346410, quantityOf(t, Solve(c, nil, plane), "incidence").U, 1e-6)
}

func TestABubbleHasAScaleOnlyNearItsLines(t *testing.T) {
	t.Parallel()
	in := ofType("spirit-level")
	for value, off := range map[float64]bool{0.3: false, -0.3: false, 0.31: true, -0.5: true} {
		c := &Level{Datum: *one(in, 0), Part: *one(in, value), Span: 1000}
		r := Solve(c, limits("roll", -9, 9), plane)
		found := false
		for _, f := range r.Findings {
			found = found || f.Code == "off-the-scale"
		}
		assert.Equal(t, off, found, "%v", value)
		assert.Equal(t, off, r.Verdict == Unsure, "%v", value)
	}
}

// The rails are twisted by 1° over four stations. A part that takes their shape reads as they do; one that
// ignores them reads as nothing; either with 0.01° of scatter.
func TestAPartThatIgnoresItsSupportIsFound(t *testing.T) {
	t.Parallel()
	in := &Instrument{Name: "level", Measures: Angle, Resolution: 0.01, Spread: spread(0.01)}
	held := func(takes float64) Result {
		c := &Twist{Held: true}
		for i, rail := range []float64{0, 0.6, 0.3, 1} {
			c.Stations = append(c.Stations, TwistStation{Name: string(rune('a' + i)), Y: quantity.Length(1000 * i), Angle: one(in, takes*rail), Support: one(in, rail)})
		}
		return Solve(c, limits("twist", -2, 2), plane)
	}
	follows, ignores := held(1), held(0)
	assert.Equal(t, Go, follows.Verdict)
	assert.Equal(t, Unsure, ignores.Verdict, "it is not held down, whatever was said")
	codes := map[string]bool{}
	for _, f := range ignores.Findings {
		codes[f.Code] = true
	}
	assert.True(t, codes["does-not-follow"])
	for _, f := range follows.Findings {
		assert.NotEqual(t, "does-not-follow", f.Code)
	}
	require.Empty(t, ignores.Moves, "nothing that is done to the rails changes what is left")
}
