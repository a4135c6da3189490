package measure

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
)

// These hold whatever the figures are; each is tried on many random checks.

func randomTwist(random *rand.Rand) *Twist {
	c := &Twist{Held: true}
	for i := range 3 + random.IntN(8) {
		c.Stations = append(c.Stations, TwistStation{Name: string(rune('a' + i)), Y: quantity.Length(100*i) + quantity.Length(random.Float64()*90),
			Angle: one(level2, random.NormFloat64()), Support: one(level2, random.NormFloat64())})
	}
	return c
}

func randomBench(random *rand.Rand) *Bench {
	c := &Bench{}
	for i := range 2 + random.IntN(4) {
		for _, y := range []float64{-350, 350} {
			c.Points = append(c.Points, BenchPoint{Name: string(rune('a' + len(c.Points))), X: quantity.Length(800*i) + quantity.Length(random.Float64()*100), Y: quantity.Length(y), Height: read(laser, 50+random.NormFloat64())})
		}
	}
	return c
}

func TestATiltOfTheWholeBenchIsNotTwist(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(31, 1))
	for range 200 {
		c := randomTwist(random)
		before := value(t, c, "twist")
		tilt := random.NormFloat64() * 3
		for i := range c.Stations {
			c.Stations[i].Angle.Values[0] += tilt
			c.Stations[i].Support.Values[0] += tilt * 0.4
		}
		assert.InDelta(t, before, value(t, c, "twist"), 1e-9)
	}
}

func TestTheOrderOfStationsAndSupportsDoesNotMatter(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(32, 1))
	for range 100 {
		c, b := randomTwist(random), randomBench(random)
		twist, bench := Solve(c, nil, guard), Solve(b, nil, guard)
		random.Shuffle(len(c.Stations), func(i, j int) { c.Stations[i], c.Stations[j] = c.Stations[j], c.Stations[i] })
		random.Shuffle(len(b.Points), func(i, j int) { b.Points[i], b.Points[j] = b.Points[j], b.Points[i] })
		for _, pair := range []struct{ before, after Result }{{twist, Solve(c, nil, guard)}, {bench, Solve(b, nil, guard)}} {
			require.Len(t, pair.after.Quantities, len(pair.before.Quantities))
			for _, q := range pair.before.Quantities {
				now := quantityOf(t, pair.after, q.Name)
				assert.InDelta(t, q.Value, now.Value, 1e-8, q.Name)
				assert.InDelta(t, q.U, now.U, 1e-8, q.Name)
			}
		}
	}
}

func TestMirroringABenchTurnsTheSignsAcross(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(33, 1))
	for range 100 {
		b := randomBench(random)
		before := Solve(b, nil, guard)
		for i := range b.Points {
			b.Points[i].Y = -b.Points[i].Y
		}
		after := Solve(b, nil, guard)
		assert.InDelta(t, -quantityOf(t, before, "twist").Value, quantityOf(t, after, "twist").Value, 1e-9)
		assert.InDelta(t, -quantityOf(t, before, "slope_across").Value, quantityOf(t, after, "slope_across").Value, 1e-9)
		assert.InDelta(t, quantityOf(t, before, "slope_along").Value, quantityOf(t, after, "slope_along").Value, 1e-9)
		assert.InDelta(t, quantityOf(t, before, "flatness").Value, quantityOf(t, after, "flatness").Value, 1e-9)
	}
}

func TestMorePlacingsNeverMakeAnythingLessSure(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(34, 1))
	for range 50 {
		c := randomTwist(random)
		few := Solve(c, nil, guard)
		for i := range c.Stations {
			v := c.Stations[i].Angle.Values[0]
			c.Stations[i].Angle.Values = []float64{v, v, v, v}
		}
		many := Solve(c, nil, guard)
		for _, q := range few.Quantities {
			assert.LessOrEqual(t, quantityOf(t, many, q.Name).U, q.U+1e-12, q.Name)
		}
	}
}

// The placings that are asked for make it go, and one fewer does not.
func TestThePlacingsAskedForAreTheLeastThatDecide(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(35, 1))
	asked := 0
	for range 400 {
		high := 0.02 + random.Float64()*0.2
		c := &Level{Datum: read(level2, 0), Part: read(level2, random.Float64()*high), Span: 1000}
		place := func(n int) Verdict {
			again := &Level{Span: 1000}
			for range n {
				again.Datum.Values, again.Part.Values = append(again.Datum.Values, c.Datum.Values[0]), append(again.Part.Values, c.Part.Values[0])
			}
			again.Datum.Instrument, again.Part.Instrument = level2, level2
			return Solve(again, limits("roll", -high, high), guard).Verdict
		}
		q := quantityOf(t, Solve(c, limits("roll", -high, high), guard), "roll")
		if q.Placings == 0 {
			continue
		}
		asked++
		assert.Equal(t, Go, place(q.Placings))
		assert.Equal(t, Unsure, place(q.Placings-1))
	}
	assert.Greater(t, asked, 20)
}

func TestAWiderLimitNeverMakesAVerdictWorse(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(36, 1))
	for range 200 {
		c, high := randomTwist(random), random.Float64()
		narrow := Solve(c, limits("twist", -high, high), guard).Verdict
		wide := Solve(c, limits("twist", -2*high, 2*high), guard).Verdict
		assert.LessOrEqual(t, wide, narrow)
	}
}

// Carrying out the moves that a check asks for makes the check right.
func TestMovesCarriedOutMakeItTrue(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(37, 1))
	for range 50 {
		b := randomBench(random)
		for _, m := range Solve(b, nil, guard).Moves {
			for i := range b.Points {
				if b.Points[i].Name == m.At {
					b.Points[i].Height.Values[0] += m.Amount
				}
			}
		}
		assert.InDelta(t, 0, value(t, b, "twist"), 1e-9)
		assert.InDelta(t, 0, value(t, b, "flatness"), 1e-9)

		mount := mountOf(mic, random.Float64()*3, random.Float64()*3, random.NormFloat64())
		for _, m := range Solve(mount, nil, guard).Moves {
			for i := range mount.Pads {
				if mount.Pads[i].Name == m.At {
					mount.Pads[i].Depth.Values[0] += m.Amount
				}
			}
		}
		assert.InDelta(t, 0, value(t, mount, "down_error"), 1e-9)
		assert.InDelta(t, 0, value(t, mount, "right_error"), 1e-9)
		assert.InDelta(t, 0, value(t, mount, "coplanarity"), 1e-9)
	}
}
