package pose

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// noisy is a full round on the tailplane with errors, the same each time.
func noisy(t *testing.T) *Pose {
	t.Helper()
	c := tailplane()
	c.Readings = every()
	taken(c, truth{shift: [3]float64{2, -1, 3}, roll: 0.3, pitch: -0.2, yaw: 0.4, airRoll: 0.5, airNose: -0.3}, rand.New(rand.NewPCG(8, 9)))
	return c
}

func solved(t *testing.T, c *Pose) (value, u map[string]float64) {
	t.Helper()
	value, u = map[string]float64{}, map[string]float64{}
	for _, q := range measure.Solve(c, nil, fine).Quantities {
		require.False(t, q.Unseen, q.Name)
		value[q.Name], u[q.Name] = q.Value, q.U
	}
	return value, u
}

// Where the origin of the airframe's axes lies makes no difference.
func TestTheOriginMakesNoDifference(t *testing.T) {
	t.Parallel()
	c := noisy(t)
	want, wantU := solved(t, c)
	shift := func(p *Place) { p.X, p.Y, p.Z = p.X+700, p.Y-40, p.Z+90 }
	for i := range c.Datum {
		shift(&c.Datum[i])
	}
	for i := range c.Points {
		shift(&c.Points[i])
	}
	c.Pivot = Spot{c.Pivot.X + 700, c.Pivot.Y - 40, c.Pivot.Z + 90}
	for i := range c.Readings {
		if by, ok := map[string]float64{"x": 700, "y": -40, "z": 90}[c.Readings[i].Axis]; ok {
			c.Readings[i].Value.Values[0] += by
		}
	}
	got, gotU := solved(t, c)
	for name := range want {
		assert.InDelta(t, want[name], got[name], 1e-7, name)
		assert.InEpsilon(t, wantU[name], gotU[name], 1e-6, "u of "+name)
	}
}

// Seen in a mirror, left is right: what is sideways, rolls or yaws changes its sign.
func TestAMirroredJoinHasMirroredAnswers(t *testing.T) {
	t.Parallel()
	c := noisy(t)
	want, wantU := solved(t, c)
	for _, list := range [][]Place{c.Datum, c.Points} {
		for i := range list {
			list[i].Y = -list[i].Y
		}
	}
	for i := range c.Readings {
		// A cross-level from one point to another is the same height difference.
		if r := &c.Readings[i]; r.Axis == "y" {
			r.Value.Values[0] = -r.Value.Values[0]
			r.Value.Turned = true
		}
	}
	c.DatumRoll.Values[0] = -c.DatumRoll.Values[0]
	c.DatumRoll.Turned = true
	got, gotU := solved(t, c)
	for name, sign := range map[string]float64{"x": 1, "y": -1, "z": 1, "roll": -1, "pitch": 1, "yaw": -1} {
		assert.InDelta(t, sign*want[name], got[name], 1e-6, name)
		assert.InEpsilon(t, wantU[name], gotU[name], 1e-6, "u of "+name)
	}
}

// The order of readings and points makes no difference, nor what they are called.
func TestTheOrderMakesNoDifference(t *testing.T) {
	t.Parallel()
	c := noisy(t)
	want, wantU := solved(t, c)
	slices.Reverse(c.Readings)
	slices.Reverse(c.Points)
	slices.Reverse(c.Datum)
	rename := func(name string) string { return strings.ToUpper(name) }
	for i := range c.Points {
		c.Points[i].Name = rename(c.Points[i].Name)
	}
	for i := range c.Datum {
		c.Datum[i].Name = rename(c.Datum[i].Name)
	}
	for i := range c.Readings {
		c.Readings[i].From, c.Readings[i].To = rename(c.Readings[i].From), rename(c.Readings[i].To)
	}
	got, gotU := solved(t, c)
	for name := range want {
		assert.InDelta(t, want[name], got[name], 1e-8, name)
		assert.InEpsilon(t, wantU[name], gotU[name], 1e-8, "u of "+name)
	}
}

// A single surface is a join of one: the same values, uncertainties and residuals.
func TestAJoinOfOneIsAPose(t *testing.T) {
	t.Parallel()
	c := noisy(t)
	one := measure.Solve(c, nil, fine)
	many := &Join{Datum: c.Datum, Readings: c.Readings, DatumRoll: c.DatumRoll, DatumPitch: c.DatumPitch,
		Surfaces: []Surface{{Name: "tailplane", Points: c.Points, Pivot: c.Pivot, Attach: c.Attach}}}
	joined := measure.Solve(many, nil, fine)
	for k, name := range Freedoms {
		assert.InDelta(t, one.Quantities[k].Value, joined.Quantities[k].Value, 1e-9, name)
		assert.InDelta(t, one.Quantities[k].U, joined.Quantities[k].U, 1e-9, name)
	}
	assert.Equal(t, one.Network.Readings, joined.Network.Readings)
	assert.Equal(t, one.Moves, joined.Moves)
	assert.Equal(t, one.Network.Places, joined.Network.Places)
}

// More placings of every reading shrink every uncertainty, but not below what step
// and constant error leave.
func TestPlacingsShrinkTheSpreadAlone(t *testing.T) {
	t.Parallel()
	_, one := solved(t, noisy(t))
	placed := func(n int) map[string]float64 {
		c := noisy(t)
		for i := range c.Readings {
			c.Readings[i].Value.Values = slices.Repeat(c.Readings[i].Value.Values, n)
		}
		_, u := solved(t, c)
		return u
	}
	four, hundreds := placed(4), placed(400)
	for name := range one {
		assert.Less(t, four[name], one[name], name)
		assert.Less(t, hundreds[name], four[name], name)
		assert.Greater(t, hundreds[name], one[name]/4, name)
	}
}

// The walk says where each reading goes, and what it should be near.
func TestWhereToMeasureFromIsKnownBeforehand(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = []Reading{{ID: "1", Type: "distance", From: "firewall", To: "tip R"}, {ID: "2", Type: "offset", To: "fore L", Axis: "y"}, {ID: "3", Type: "height", From: "sill L", To: "tip L"}, {ID: "4", Type: "roll", From: "fore L", To: "fore R"}, {ID: "5", Type: "pitch", From: "aft L", To: "fore L"}}
	spots := c.Walk()
	require.Len(t, spots, 5)
	nominal, ok := c.Expect(spots[0])
	assert.True(t, ok)
	assert.InDelta(t, 5921.216, nominal, 0.001) // √(5560² + 1440² + 1440²)
	nominal, ok = c.Expect(spots[1])
	assert.True(t, ok)
	assert.Equal(t, -105.0, nominal)
	_, ok = c.Expect(spots[2])
	assert.False(t, ok, "a height depends on how the airframe stands")
	assert.Equal(t, []string{"length", "length", "length", "cross-level", "pitch"}, []string{spots[0].Sense, spots[1].Sense, spots[2].Sense, spots[3].Sense, spots[4].Sense})
	everywhere := c.Everywhere()
	assert.Equal(t, On{"firewall", [3]float64{0, 0, 300}, -1, 0}, everywhere[0])
	assert.Equal(t, On{"tip L", [3]float64{5560, -1440, 1740}, 0, 0}, everywhere[4])
	several := measured()
	assert.Equal(t, On{"tip L", [3]float64{5560, -1440, 1740}, 1, 0}, several.Everywhere()[9])
	assert.Len(t, several.Walk(), len(several.Readings))
	nominal, ok = several.Expect(several.Walk()[0])
	assert.True(t, ok)
	assert.InDelta(t, 5921.216, nominal, 0.001)
	c.DatumRoll, c.DatumPitch = &measure.Reading{}, &measure.Reading{}
	assert.Equal(t, "datum_roll", c.Walk()[0].Field)
	assert.Equal(t, "datum_pitch", c.Walk()[1].Field)
	assert.Equal(t, quantity.Length(5480), c.Pivot.X)
}
