package pose

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/optimize"

	"orpine/internal/core/adjust"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

func spread(v float64) *float64 { return &v }

var (
	tape  = &measure.Instrument{Name: "tape", Measures: measure.Length, Resolution: 1, Offset: 0.5, Spread: spread(0.4)}
	water = &measure.Instrument{Name: "water level", Measures: measure.Length, Resolution: 0.5, Offset: 0.4, Spread: spread(0.2)}
	level = &measure.Instrument{Name: "level 2", Measures: measure.Angle, Resolution: 0.01, Offset: 0.05, Spread: spread(0.015)}
	fine  = Decision(2)
)

func Decision(coverage float64) measure.Decision { return measure.Decision{Coverage: coverage} }

func place(name string, x, y, z float64) Place {
	return Place{Name: name, X: quantity.Length(x), Y: quantity.Length(y), Z: quantity.Length(z), U: length(0)}
}

// tailplane is the demo's, joined to the boom and the firewall.
func tailplane() *Pose {
	return &Pose{
		Datum:  []Place{place("firewall", 0, 0, 300), place("boom root", 2350, 0, 640), place("sill L", 1800, -520, 420), place("sill R", 1800, 520, 420)},
		Points: []Place{place("tip L", 5560, -1440, 1740), place("tip R", 5560, 1440, 1740), place("fore L", 5480, -105, 1730), place("fore R", 5480, 105, 1730), place("aft L", 5830, -500, 1724), place("aft R", 5830, 500, 1724)},
		Pivot:  Spot{5480, 0, 1730},
		Attach: []Attach{{Name: "bracket L", X: 5480, Y: -105, Z: 1730}, {Name: "bracket R", X: 5480, Y: 105, Z: 1730}},
	}
}

// truth is where the surface and the airframe really are, apart from the code under
// test: the rotations of the format one after another, written out.
type truth struct {
	shift            [3]float64
	roll, pitch, yaw float64 // degrees
	airRoll, airNose float64
}

func (q truth) move(p, pivot [3]float64) [3]float64 {
	x, y, z := p[0]-pivot[0], p[1]-pivot[1], p[2]-pivot[2]
	s, c := math.Sincos(q.roll * math.Pi / 180)
	y, z = y*c+z*s, z*c-y*s
	s, c = math.Sincos(q.pitch * math.Pi / 180)
	x, z = x*c+z*s, z*c-x*s
	s, c = math.Sincos(q.yaw * math.Pi / 180)
	x, y = x*c+y*s, y*c-x*s
	return [3]float64{pivot[0] + x + q.shift[0], pivot[1] + y + q.shift[1], pivot[2] + z + q.shift[2]}
}

// read is what an observation would show without any error, in mm or degrees.
func (q truth) read(c *Pose, r Reading) float64 {
	pivot := [3]float64{float64(c.Pivot.X), float64(c.Pivot.Y), float64(c.Pivot.Z)}
	find := func(name string) [3]float64 {
		for _, p := range c.Datum {
			if p.Name == name {
				return [3]float64{float64(p.X), float64(p.Y), float64(p.Z)}
			}
		}
		for _, p := range c.Points {
			if p.Name == name {
				return q.move([3]float64{float64(p.X), float64(p.Y), float64(p.Z)}, pivot)
			}
		}
		panic(name)
	}
	to := find(r.To)
	if r.Type == "offset" {
		return to[map[string]int{"x": 0, "y": 1, "z": 2}[r.Axis]]
	}
	from := find(r.From)
	d := [3]float64{to[0] - from[0], to[1] - from[1], to[2] - from[2]}
	length := math.Sqrt(d[0]*d[0] + d[1]*d[1] + d[2]*d[2])
	sf, cf := math.Sincos(q.airRoll * math.Pi / 180)
	st, ct := math.Sincos(q.airNose * math.Pi / 180)
	up := -st*d[0] - sf*ct*d[1] + ct*cf*d[2]
	switch r.Type {
	case "distance":
		return length
	case "height":
		return up
	case "roll":
		return math.Asin(-up/length) * 180 / math.Pi
	}
	return math.Asin(up/length) * 180 / math.Pi
}

// every is a full round of readings with their instruments.
func every() []Reading {
	var out []Reading
	add := func(kind, from, to, axis string, in *measure.Instrument) {
		out = append(out, Reading{ID: fmt.Sprintf("%d %s", len(out)+1, kind), Type: kind, From: from, To: to, Axis: axis, Value: measure.Reading{Instrument: in}})
	}
	for _, from := range []string{"firewall", "boom root", "sill L", "sill R"} {
		for _, to := range []string{"tip L", "tip R"} {
			add("distance", from, to, "", tape)
		}
	}
	for _, to := range []string{"tip L", "tip R", "fore L", "aft R"} {
		add("height", "sill L", to, "", water)
	}
	add("offset", "", "fore R", "y", tape)
	add("offset", "", "fore L", "x", tape)
	add("roll", "fore L", "fore R", "", level)
	add("pitch", "aft L", "fore L", "", level)
	return out
}

// taken fills readings with what the truth shows, with or without noise.
func taken(c *Pose, q truth, noise *rand.Rand) {
	fill := func(r *measure.Reading, v float64) {
		if noise != nil {
			in := r.Instrument
			v += *in.Spread*noise.NormFloat64() + in.Resolution*(noise.Float64()-0.5)
		}
		r.Values = []float64{v}
	}
	for i := range c.Readings {
		fill(&c.Readings[i].Value, q.read(c, c.Readings[i]))
	}
	sine := math.Sin(q.airRoll*math.Pi/180) * math.Cos(q.airNose*math.Pi/180)
	c.DatumRoll, c.DatumPitch = &measure.Reading{Instrument: level}, &measure.Reading{Instrument: level}
	fill(c.DatumRoll, math.Asin(sine)*180/math.Pi)
	fill(c.DatumPitch, q.airNose)
}

func values(t *testing.T, r measure.Result) (out [6]float64) {
	t.Helper()
	for k, name := range Freedoms {
		q, ok := r.Quantity(name)
		require.True(t, ok, name)
		require.False(t, q.Unseen, name)
		out[k] = q.Value
	}
	return out
}

// A surface up to 200 mm and 10° away, on an airframe that is not level, is found
// again from exact readings.
func TestConstructedPosesAreRecovered(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(3, 5))
	around := func(most float64) float64 { return most * (2*random.Float64() - 1) }
	for range 60 {
		q := truth{shift: [3]float64{around(200), around(200), around(200)}, roll: around(10), pitch: around(10), yaw: around(10), airRoll: around(3), airNose: around(3)}
		c := tailplane()
		c.Readings = every()
		taken(c, q, nil)
		got := values(t, measure.Solve(c, nil, fine))
		want := [6]float64{q.shift[0], q.shift[1], q.shift[2], q.roll, q.pitch, q.yaw}
		for k := range 3 {
			assert.InDelta(t, want[k], got[k], 1e-6, "%s of %+v", Freedoms[k], q)
			assert.InDelta(t, want[3+k], got[3+k], 1e-9, "%s of %+v", Freedoms[3+k], q)
		}
	}
}

// Each sign by itself: what a builder would see at the right tip, or at the leading
// edge, makes the freedom positive.
func TestEachFreedomHasItsSign(t *testing.T) {
	t.Parallel()
	pivot := [3]float64{5480, 0, 1730}
	tip, aft := [3]float64{5480, 1440, 1730}, [3]float64{5830, 0, 1730}
	assert.Less(t, truth{roll: 1}.move(tip, pivot)[2], 1730.0, "roll: right side low")
	assert.Less(t, truth{pitch: 1}.move(aft, pivot)[2], 1730.0, "pitch: nose up, so the rear is low")
	assert.Greater(t, truth{yaw: 1}.move(tip, pivot)[0], 5480.0, "yaw: right tip aft")
	for k, q := range []truth{{shift: [3]float64{1}}, {shift: [3]float64{0, 1}}, {shift: [3]float64{0, 0, 1}}, {roll: 1}, {pitch: 1}, {yaw: 1}} {
		c := tailplane()
		c.Readings = every()
		taken(c, q, nil)
		r := measure.Solve(c, nil, fine)
		for j, v := range values(t, r) {
			assert.InDelta(t, map[bool]float64{true: 1}[j == k], v, 1e-6, "%s of %s", Freedoms[j], Freedoms[k])
		}
	}
	// The rotation of the code is that of the test, built up from the words above.
	a := newAttitude(vector{0.3, -0.2, 0.5})
	q := truth{roll: 0.3 * perRadian, pitch: -0.2 * perRadian, yaw: 0.5 * perRadian}
	want := q.move([3]float64{1, 2, 3}, [3]float64{})
	assert.InDeltaSlice(t, want[:], sliceOf(a.value.apply(vector{1, 2, 3})), 1e-12)
}

func sliceOf(v vector) []float64 { return v[:] }

// The first and second derivatives of every type of reading are those of finite
// differences.
func TestDerivativesAreThoseOfFiniteDifferences(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = append(every(), Reading{ID: "between tips", Type: "distance", From: "tip L", To: "tip R", Value: measure.Reading{Instrument: tape}})
	taken(c, truth{}, nil)
	c.DatumU, c.PointsU = length(1), length(0.5)
	for _, list := range [][]Place{c.Datum, c.Points} {
		for i := range list {
			list[i].U = nil
		}
	}
	scaled := *tape
	scaled.PerMetre = 0.2
	for i := range c.Readings {
		if r := &c.Readings[i].Value; r.Instrument == tape {
			r.Instrument = &scaled
			r.Corrections = []measure.Correction{{Value: 0.5, U: 0.1, Common: "sag"}}
		}
	}
	n := c.network(newWork(t))
	p := make([]float64, n.size)
	for i := range p {
		p[i] = map[bool]float64{true: 0.1, false: 20}[n.turns[i]] * float64(1+i%3)
	}
	const h = 1e-5
	at := func(o *observation, i int, by float64) adjust.Row {
		moved := append([]float64(nil), p...)
		moved[i] += by
		return n.at(moved).row(o, 0, nil)
	}
	derivative := func(v adjust.Row, i int) float64 {
		for k := range v.Count {
			if v.Index[k] == i {
				return v.First[k]
			}
		}
		return 0
	}
	assert.Equal(t, 6+2+3*10+3+2, n.size, "six freedoms, two tilts, ten points, three constant errors, one scale, one correction")
	for j := range n.observations {
		o := &n.observations[j]
		var second adjust.Bends
		r := n.at(p).row(o, 0, &second)
		for a := range r.Count {
			i := r.Index[a]
			assert.InDelta(t, -(at(o, i, h).Residual-at(o, i, -h).Residual)/(2*h), r.First[a], 1e-4, "%s by %d", o.id, i)
			for b := range r.Count {
				bend := (derivative(at(o, i, h), r.Index[b]) - derivative(at(o, i, -h), r.Index[b])) / (2 * h)
				assert.InDelta(t, bend, second[a][b], 1e-3+1e-5*math.Abs(bend), "%s by %d and %d", o.id, i, r.Index[b])
			}
		}
	}
}

func length(mm float64) *quantity.Length {
	l := quantity.Length(mm)
	return &l
}

func newWork(t *testing.T) *measure.Work {
	t.Helper()
	var got *measure.Work
	measure.Solve(spy{func(w *measure.Work) { got = w }}, nil, fine)
	return got
}

// spy is a check that hands out its Work.
type spy struct{ see func(w *measure.Work) }

func (spy) Validate(func(path, message string)) {}
func (s spy) Solve(w *measure.Work)             { s.see(w) }

// An independent formulation: the sum of squares written out from the format's
// words, brought down by a general minimiser.
func TestAGeneralMinimiserFindsTheSame(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = every()
	taken(c, truth{shift: [3]float64{2, -1, 1.5}, roll: 0.2, pitch: -0.3, yaw: 0.1, airRoll: 0.4, airNose: -0.2}, rand.New(rand.NewPCG(1, 2)))
	offsets := []*measure.Instrument{tape, water, level}
	cost := func(x []float64) float64 {
		q := truth{shift: [3]float64{x[0], x[1], x[2]}, roll: x[3], pitch: x[4], yaw: x[5], airRoll: x[6], airNose: x[7]}
		sum := 0.0
		add := func(in *measure.Instrument, read, predicted float64) {
			for k, o := range offsets {
				if o == in {
					predicted += x[8+k]
				}
			}
			sum += (read - predicted) * (read - predicted) / (in.Resolution*in.Resolution/12 + *in.Spread**in.Spread)
		}
		for _, r := range c.Readings {
			add(r.Value.Instrument, r.Value.Mean(), q.read(c, r))
		}
		add(level, c.DatumRoll.Mean(), math.Asin(math.Sin(q.airRoll*math.Pi/180)*math.Cos(q.airNose*math.Pi/180))*180/math.Pi)
		add(level, c.DatumPitch.Mean(), q.airNose)
		for k, o := range offsets {
			sum += x[8+k] * x[8+k] / (o.Offset * o.Offset / 3)
		}
		return sum
	}
	gradient := func(grad, x []float64) {
		for i := range x {
			moved := append([]float64(nil), x...)
			moved[i] += 1e-6
			up := cost(moved)
			moved[i] -= 2e-6
			grad[i] = (up - cost(moved)) / 2e-6
		}
	}
	best, err := optimize.Minimize(optimize.Problem{Func: cost, Grad: gradient}, make([]float64, 11), &optimize.Settings{GradientThreshold: 1e-7, MajorIterations: 2000}, &optimize.BFGS{})
	if err != nil {
		t.Log(err) // it stops where its differences no longer resolve the cost
	}
	for k, v := range values(t, measure.Solve(c, nil, fine)) {
		assert.InDelta(t, best.X[k], v, 2e-5, Freedoms[k])
	}
}

// Ten thousand rounds of the same readings with new noise: the stated u is the
// scatter of what comes out, to 3 %, and no reading is blamed without cause more
// often than one in a thousand would make it.
func TestTheStatedUncertaintyIsTheScatter(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(11, 13))
	const rounds = 4000
	var sum, squares, stated [6]float64
	blamed := 0
	for range rounds {
		c := tailplane()
		c.Readings = every()
		q := truth{roll: 0.1, yaw: -0.2, airRoll: 0.3}
		taken(c, q, random)
		offset := map[*measure.Instrument]float64{}
		for _, in := range []*measure.Instrument{tape, water, level} {
			offset[in] = in.Offset * (2*random.Float64() - 1)
		}
		for i := range c.Readings {
			c.Readings[i].Value.Values[0] += offset[c.Readings[i].Value.Instrument]
		}
		c.DatumRoll.Values[0] += offset[level]
		c.DatumPitch.Values[0] += offset[level]
		r := measure.Solve(c, nil, fine)
		if codes(r)["take-again"] {
			blamed++
			continue
		}
		for k, name := range Freedoms {
			f, _ := r.Quantity(name)
			sum[k] += f.Value
			squares[k] += f.Value * f.Value
			stated[k] = f.U
		}
	}
	n := float64(rounds - blamed)
	for k, name := range Freedoms {
		scatter := math.Sqrt(squares[k]/n - sum[k]*sum[k]/(n*n))
		assert.InEpsilon(t, scatter, stated[k], 0.04, name)
	}
	assert.Less(t, blamed, rounds*40/1000)
}

func codes(r measure.Result) map[string]bool {
	out := map[string]bool{}
	for _, f := range r.Findings {
		out[f.Code] = true
	}
	return out
}

// A misread inch on one tape is convicted, set aside, and the rest agrees.
func TestAMisreadInchIsFoundAndSetAside(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = every()
	taken(c, truth{yaw: 0.3}, nil)
	c.Readings[3].Value.Values[0] += 25.4
	r := measure.Solve(c, nil, fine)
	for i, reading := range r.Network.Readings {
		assert.Equal(t, i == 3, reading.Suspect, reading.ID)
	}
	assert.True(t, codes(r)["take-again"])
	assert.Equal(t, measure.Unsure, r.Verdict)
	assert.InDelta(t, 0.3, values(t, r)[5], 1e-9)
	assert.Greater(t, r.Network.Readings[3].Value, 5.0)
}

// Two tapes to one tip and nothing else along: whichever is wrong, both look it.
func TestTwoThatContradictOneAnotherAreBothSuspect(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = []Reading{
		{ID: "a", Type: "offset", To: "fore L", Axis: "z", Value: measure.Reading{Values: []float64{1730}, Instrument: water}},
		{ID: "b", Type: "offset", To: "fore L", Axis: "z", Value: measure.Reading{Values: []float64{1755}, Instrument: water}},
	}
	u := quantity.Length(1)
	angle := quantity.Angle(0.01)
	c.Hold = &Hold{X: &u, Y: &u, Roll: &angle, Pitch: &angle, Yaw: &angle}
	r := measure.Solve(c, nil, fine)
	assert.True(t, codes(r)["cannot-tell-which"])
	assert.True(t, r.Network.Readings[0].Suspect && r.Network.Readings[1].Suspect)
}

// Heights alone see z, roll and pitch. What nothing sees is named, has no value, and
// a tape that would show it is asked for; one that would not is never offered.
func TestWhatNothingSeesIsNamedWithTheReadingThatWouldShowIt(t *testing.T) {
	t.Parallel()
	pinned := func() *Pose {
		c := tailplane()
		c.Points = append(c.Points, place("pin", 5480, 0, 1730))
		for _, r := range every() {
			if r.To = map[string]string{"offset": "pin"}[r.Type]; r.To == "" {
				r.To = every()[len(c.Readings)+8].To
			}
			if r.Type == "height" || r.Type == "offset" {
				c.Readings = append(c.Readings, r)
			}
		}
		return c
	}
	c := pinned()
	taken(c, truth{}, nil)
	r := measure.Solve(c, map[string]measure.Limit{"yaw": {Low: spread(-0.1), High: spread(0.1)}}, fine)
	assert.Equal(t, []string{"yaw"}, r.Network.Unseen)
	assert.Equal(t, "yaw", r.Network.Want)
	assert.Empty(t, r.Moves)
	require.Len(t, r.Network.Next, 5)
	for _, next := range r.Network.Next {
		again := pinned()
		in := map[string]*measure.Instrument{"tape": tape, "water level": water, "level 2": level}[next.Instrument]
		again.Readings = append(again.Readings, Reading{ID: "next", Type: next.Type, From: next.From, To: next.To, Value: measure.Reading{Instrument: in}})
		taken(again, truth{}, nil)
		q, _ := measure.Solve(again, nil, fine).Quantity("yaw")
		assert.False(t, q.Unseen)
		assert.InEpsilon(t, next.U, q.U, 1e-6, "forecast of %+v", next)
	}
}

// Where everything is seen, the forecast of each next reading is what taking it gives.
func TestTheForecastIsWhatTakingTheReadingGives(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = every()[:12]
	taken(c, truth{}, nil)
	c.Want = "pitch"
	r := measure.Solve(c, nil, fine)
	require.Len(t, r.Network.Next, 5)
	for _, next := range r.Network.Next {
		again := tailplane()
		in := map[string]*measure.Instrument{"tape": tape, "water level": water, "level 2": level}[next.Instrument]
		again.Readings = append(every()[:12], Reading{ID: "next", Type: next.Type, From: next.From, To: next.To, Value: measure.Reading{Instrument: in}})
		taken(again, truth{}, nil)
		q, _ := measure.Solve(again, nil, fine).Quantity("pitch")
		assert.InEpsilon(t, next.U, q.U, 1e-6, "forecast of %+v", next)
	}
}

// A hold that is tighter than the readings is what the answer rests on.
func TestWhatRestsOnAHoldIsAtBestUnsure(t *testing.T) {
	t.Parallel()
	limit := map[string]measure.Limit{"yaw": {Low: spread(-1), High: spread(1)}}
	solve := func(yaw float64) measure.Result {
		c := tailplane()
		c.Readings = every()
		taken(c, truth{}, nil)
		held := quantity.Angle(yaw)
		c.Hold = &Hold{Yaw: &held}
		return measure.Solve(c, limit, fine)
	}
	assert.Equal(t, measure.Unsure, solve(0.001).Verdict)
	assert.True(t, codes(solve(0.001))["rests-on-hold"])
	assert.Equal(t, measure.Go, solve(5).Verdict)
	assert.False(t, codes(solve(5))["rests-on-hold"])
}

// The moves bring the attach points back: minus their displacement.
func TestTheMovesUndoTheDisplacement(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = every()
	q := truth{shift: [3]float64{2, -1, 1.5}, roll: 0.2, yaw: -0.4}
	taken(c, q, nil)
	for _, m := range measure.Solve(c, nil, fine).Moves {
		y := map[string]float64{"bracket L": -105, "bracket R": 105}[m.At]
		moved := q.move([3]float64{5480, y, 1730}, [3]float64{5480, 0, 1730})
		off := map[string]float64{"forward": moved[0] - 5480, "aft": 5480 - moved[0], "left": moved[1] - y, "right": y - moved[1], "down": moved[2] - 1730, "up": 1730 - moved[2]}
		assert.InDelta(t, off[m.Direction], m.Amount, 1e-6, "%+v", m)
	}
}

// Front bolts fixed, shims under the rear up only. A surface with its leading edge
// low by 0.3° would be made worse by shims under the rear: nothing is moved, and that
// is said. One with the leading edge high is mended by raising the rear 350·sin 0.3°.
func TestOnlyWhatMayBeMovedIsMoved(t *testing.T) {
	t.Parallel()
	solve := func(pitch, yaw float64) measure.Result {
		c := tailplane()
		c.Readings = every()
		c.Attach = []Attach{
			{Name: "front L", X: 5480, Y: -105, Z: 1730, May: "fixed"}, {Name: "front R", X: 5480, Y: 105, Z: 1730, May: "fixed"},
			{Name: "rear L", X: 5830, Y: -105, Z: 1730, May: "up"}, {Name: "rear R", X: 5830, Y: 105, Z: 1730, May: "up"}}
		taken(c, truth{pitch: pitch, yaw: yaw}, nil)
		return measure.Solve(c, map[string]measure.Limit{"pitch": {Low: spread(-0.15), High: spread(0.15)}, "yaw": {Low: spread(-0.1), High: spread(0.1)}}, fine)
	}
	after := func(r measure.Result, name string) float64 {
		for _, q := range r.Network.Reached {
			if q.Name == name {
				return q.Value
			}
		}
		return math.NaN()
	}
	high := solve(0.3, 0)
	require.Len(t, high.Moves, 2)
	for _, m := range high.Moves {
		assert.Equal(t, "up", m.Direction)
		assert.InDelta(t, 350*0.3*math.Pi/180, m.Amount, 0.01, m.At)
	}
	assert.InDelta(t, 0, after(high, "pitch"), 1e-3)
	assert.False(t, codes(high)["cannot-be-reached"])

	low := solve(-0.3, 0)
	assert.Empty(t, low.Moves)
	assert.InDelta(t, -0.3, after(low, "pitch"), 1e-6)
	assert.True(t, codes(low)["cannot-be-reached"])

	skewed := solve(0.3, 0.2)
	assert.InDelta(t, 0.2, after(skewed, "yaw"), 1e-6, "the front bolts hold it askew")
	assert.True(t, codes(skewed)["cannot-be-reached"])
}

// Three feet at one height that may be shimmed up only: shims level it, and turn it no straighter. Rolled by 0.3°,
// right side low, and askew by 0.4°, the right foot is raised 105·sin 0.3° = 0.55 mm and more; the yaw stays.
func TestShimsDoNotSlideASurface(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = every()
	c.Attach = []Attach{{Name: "front L", X: 5480, Y: -105, Z: 1730, May: "up"}, {Name: "front R", X: 5480, Y: 105, Z: 1730, May: "up"}, {Name: "rear", X: 5830, Z: 1730, May: "up"}}
	taken(c, truth{roll: 0.3, yaw: 0.4, shift: [3]float64{0, 2, -1}}, nil)
	r := measure.Solve(c, map[string]measure.Limit{"roll": {Low: spread(-0.1), High: spread(0.1)}, "yaw": {Low: spread(-0.1), High: spread(0.1)}}, fine)
	reached := map[string]float64{}
	for _, q := range r.Network.Reached {
		reached[q.Name] = q.Value
	}
	assert.InDelta(t, 0, reached["roll"], 1e-3)
	assert.InDelta(t, 0.4, reached["yaw"], 1e-2, "shims do not turn it")
	assert.InDelta(t, 2, reached["y"], 0.02, "nor push it aside")
	assert.True(t, codes(r)["cannot-be-reached"])
	for _, m := range r.Moves {
		assert.Equal(t, "up", m.Direction)
	}
}

// A tape that is read ten times too long, its comma a place off, fits no position with the others: it is named, whichever it is.
func TestAReadingThatFitsNothingIsNamed(t *testing.T) {
	t.Parallel()
	for i := range 8 {
		c := tailplane()
		c.Readings = every()
		taken(c, truth{}, nil)
		c.Readings[i].Value.Values[0] *= 10
		r := measure.Solve(c, nil, fine)
		require.True(t, codes(r)["did-not-converge"], c.Readings[i].ID)
		assert.Empty(t, r.Quantities)
		for _, f := range r.Findings {
			if f.Code == "did-not-converge" {
				assert.Contains(t, f.Text, "without "+c.Readings[i].ID+" they do")
			}
		}
	}
}

// With one front bolt free the surface can be turned straight about the other.
func TestAFreedBoltLetsItTurn(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = every()
	c.Attach = []Attach{{Name: "front L", X: 5480, Y: -105, Z: 1730, May: "fixed"}, {Name: "front R", X: 5480, Y: 105, Z: 1730}}
	taken(c, truth{yaw: 0.2}, nil)
	r := measure.Solve(c, map[string]measure.Limit{"yaw": {Low: spread(-0.1), High: spread(0.1)}}, fine)
	var yaw float64
	for _, q := range r.Network.Reached {
		if q.Name == "yaw" {
			yaw = q.Value
		}
	}
	assert.InDelta(t, 0, yaw, 0.002)
	for _, m := range r.Moves {
		assert.Equal(t, "front R", m.At)
		if m.Direction == "forward" {
			assert.InDelta(t, 210*0.2*math.Pi/180, m.Amount, 0.02, "the right tip is aft: the right bolt goes forward")
		}
	}
}

// The plan decides the check at nominal, none of its readings can be left out, and
// it stands in walking order. With nothing but a coarse level it says that it cannot.
func TestThePlanIsTheFewestReadingsThatDecide(t *testing.T) {
	t.Parallel()
	limits := map[string]measure.Limit{"roll": {Low: spread(-0.1), High: spread(0.1)}, "yaw": {Low: spread(-0.1), High: spread(0.1)}, "pitch": {Low: spread(-0.15), High: spread(0.15)}}
	with := map[Type][]*measure.Instrument{Distance: {tape}, Height: {water}, Roll: {level}, Pitch: {level}}
	c := tailplane()
	c.DatumRoll, c.DatumPitch = &measure.Reading{}, &measure.Reading{}
	plan, decided := c.Plan(limits, 2.5, with)
	require.True(t, decided)
	assert.Less(t, len(plan), 12)
	decide := func(readings []Reading) bool {
		again := tailplane()
		again.Readings = append([]Reading(nil), readings...)
		taken(again, truth{}, nil)
		r := measure.Solve(again, limits, fine)
		return r.Verdict == measure.Go && r.Inside(2.5)
	}
	assert.True(t, decide(plan))
	other := strings.NewReplacer(" L", " R", " R", " L")
	for i := range plan {
		var less []Reading
		twin := false
		for k, r := range plan {
			same := r.Type == plan[i].Type && r.From == other.Replace(plan[i].From) && r.To == other.Replace(plan[i].To)
			if twin = twin || same; k != i && !same {
				less = append(less, r)
			}
		}
		assert.True(t, twin || plan[i].Type == "roll", "%s is taken on both sides", plan[i].ID)
		assert.False(t, decide(less), "without %s", plan[i].ID)
	}
	coarse := &measure.Instrument{Name: "box level", Measures: measure.Angle, Resolution: 1, Spread: spread(0.5)}
	_, decided = c.Plan(limits, 2.5, map[Type][]*measure.Instrument{Roll: {coarse}, Pitch: {coarse}})
	assert.False(t, decided)
}

// A pure yaw about the pivot moves the right tip aft by 1440·sin ψ, and its u there
// is at least the yaw's times the arm.
func TestWhereThePointsStand(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = every()
	taken(c, truth{yaw: 0.2}, nil)
	r := measure.Solve(c, nil, fine)
	yaw, _ := r.Quantity("yaw")
	for _, p := range r.Network.Places {
		if p.Name == "tip R" {
			assert.InDelta(t, 1440*math.Sin(0.2*math.Pi/180)-80*(1-math.Cos(0.2*math.Pi/180)), p.Moved[0], 1e-6)
			assert.Greater(t, p.U[0], 0.9*1440*yaw.U*math.Pi/180)
		}
	}
}

// Nothing read yet: everything is unseen, and each first reading is offered.
func TestNothingReadIsNothingSeen(t *testing.T) {
	t.Parallel()
	c := tailplane()
	r := measure.Solve(c, map[string]measure.Limit{"yaw": {Low: spread(-0.1), High: spread(0.1)}}, fine)
	assert.Equal(t, Freedoms, r.Network.Unseen)
	assert.Equal(t, measure.Unsure, r.Verdict)
	assert.Empty(t, r.Network.Next, "no instrument is known yet")
	c.Readings = every()[:1]
	taken(c, truth{}, nil)
	for _, q := range measure.Solve(c, nil, fine).Quantities {
		assert.True(t, q.Unseen || q.U >= 0, q.Name)
	}
}

func TestUnusableJoinsAreRefusedAtTheirPlace(t *testing.T) {
	t.Parallel()
	c := tailplane()
	c.Readings = every()
	taken(c, truth{}, nil)
	broken := func(change func(c *Pose)) []string {
		again := *c
		again.Points = append([]Place(nil), c.Points...)
		again.Readings = append([]Reading(nil), c.Readings...)
		change(&again)
		var paths []string
		again.Validate(func(path, _ string) { paths = append(paths, path) })
		return paths
	}
	zero, tilt := quantity.Length(0), quantity.Angle(-1)
	for path, change := range map[string]func(c *Pose){
		"points[1].name":    func(c *Pose) { c.Points[1].Name = "firewall" },
		"points":            func(c *Pose) { c.Points = nil },
		"readings[2].to":    func(c *Pose) { c.Readings[2].To = "nowhere" },
		"readings[2].from":  func(c *Pose) { c.Readings[2].From = "" },
		"readings[3].from":  func(c *Pose) { c.Readings[3].From = "nowhere" },
		"readings[4].to":    func(c *Pose) { c.Readings[4].To = c.Readings[4].From },
		"readings[5].to":    func(c *Pose) { c.Readings[5].To = "firewall" },
		"readings[12].axis": func(c *Pose) { c.Readings[12].Axis = "" },
		"readings[12].from": func(c *Pose) { c.Readings[12].From = "firewall" },
		"readings[6].value": func(c *Pose) { c.Readings[6].Value.Instrument = nil },
		"readings[7].id":    func(c *Pose) { c.Readings[7].ID = c.Readings[0].ID },
		"hold.x":            func(c *Pose) { c.Hold = &Hold{X: &zero} },
		"hold.yaw":          func(c *Pose) { c.Hold = &Hold{Yaw: &tilt} },
		"datum_roll":        func(c *Pose) { c.DatumRoll = &measure.Reading{Values: []float64{0}} },
	} {
		assert.Contains(t, broken(change), path)
	}
	assert.Empty(t, broken(func(*Pose) {}))
	assert.Contains(t, broken(func(c *Pose) {
		for i := range MaxPoints {
			c.Points = append(c.Points, place(fmt.Sprint(i), 1, 2, 3))
		}
	}), "points")
}

// Cost grows as readings × unknowns².
func BenchmarkPose(b *testing.B) {
	for _, rounds := range []int{10, 100, 1000} {
		b.Run(fmt.Sprint(rounds, " readings"), func(b *testing.B) {
			c := tailplane()
			for i := range rounds {
				r := every()[i%16]
				r.ID = fmt.Sprint(i)
				c.Readings = append(c.Readings, r)
			}
			taken(c, truth{roll: 0.1, yaw: 0.2}, rand.New(rand.NewPCG(1, 1)))
			for b.Loop() {
				measure.Solve(c, nil, fine)
			}
		})
	}
}

// A reading is convicted beyond 3.29 of its standardized residual, and not below: of exact
// readings one is moved by so many u/√r.
func TestAReadingIsConvictedBeyondTheCriticalValue(t *testing.T) {
	t.Parallel()
	with := func(w float64) measure.Residual {
		c := tailplane()
		c.Readings = every()
		taken(c, truth{}, nil)
		r := measure.Solve(c, nil, fine).Network.Readings[2]
		require.Greater(t, r.Redundancy, 0.2)
		c.Readings[2].Value.Values[0] += w * r.U / math.Sqrt(r.Redundancy)
		return measure.Solve(c, nil, fine).Network.Readings[2]
	}
	assert.False(t, with(3.2).Suspect)
	assert.True(t, with(3.4).Suspect)
	assert.InDelta(t, 3.4, with(3.4).W, 0.01)
}

// A mark that lies some 13 mm off for two tapes accuses nobody: all that does not fit is of that point, and
// the verdict is unsure, never stop. Where nobody said how well an instrument is known,
// nothing is accused at all.
func TestAMarkThatLiesElsewhereAccusesNoTape(t *testing.T) {
	t.Parallel()
	limits := map[string]measure.Limit{"yaw": {Low: spread(-0.001), High: spread(0.001)}}
	c := tailplane()
	c.Readings = every()
	taken(c, truth{}, nil)
	for i := range c.Readings {
		if c.Readings[i].To == "tip R" && c.Readings[i].Type == "distance" {
			c.Readings[i].Value.Values[0] += map[string]float64{"sill L": 14, "sill R": 12}[c.Readings[i].From]
		}
	}
	r := measure.Solve(c, limits, fine)
	assert.Equal(t, measure.Unsure, r.Verdict)
	var said []string
	for _, f := range r.Findings {
		said = append(said, f.Code)
		if f.Code == "marks-or-pin" {
			assert.Contains(t, f.Text, "tip R")
		}
	}
	assert.Contains(t, said, "marks-or-pin")
	assert.NotContains(t, said, "take-again")
	for _, reading := range r.Network.Readings {
		assert.False(t, reading.Suspect, reading.ID)
	}
	unknown := *tape
	unknown.OffsetUnknown, unknown.Offset = true, 0
	for i := range c.Readings {
		if c.Readings[i].Value.Instrument == tape {
			c.Readings[i].Value.Instrument = &unknown
		}
	}
	said = nil
	for _, f := range measure.Solve(c, limits, fine).Findings {
		said = append(said, f.Code)
	}
	assert.NotContains(t, said, "marks-or-pin")
	assert.NotContains(t, said, "measurements-disagree")
	assert.Contains(t, said, "offset-unknown")
}

// An angle is given between −180° and 180°, and a figure of a fin is its lean.
func TestAnglesAreWrapped(t *testing.T) {
	t.Parallel()
	assert.InDelta(t, 0.2, measure.Wrapped(-359.8/perRadian)*perRadian, 1e-9)
	assert.InDelta(t, -0.2, measure.Wrapped(359.8/perRadian)*perRadian, 1e-9)
	c := measured()
	c.Derive = []Derived{{Name: "fin", Type: "lean", From: "fin foot", To: "fin top"}, {Name: "fin", Type: "sweep", From: "fin foot", To: "fin top"}}
	leaning(c, truth{roll: 0.3}, truth{}).fill(c, nil)
	r := measure.Solve(c, nil, fine)
	// Right side low leans the top to the right: by the roll, about the foot.
	assert.InDelta(t, 0.3, freedom(t, r, "lean", "fin").Value, 1e-6)
	assert.InDelta(t, math.Atan2(680, 1300)*perRadian, freedom(t, r, "sweep", "fin").Value, 1e-4)
	var paths []string
	c.Derive = []Derived{{Name: "fin", Type: "dihedral", From: "fin foot", To: "fin top"}, {Name: "x", Type: "height", From: "tip L", To: "tip R", Less: &Pair{"tip L", "tip R"}}}
	c.Validate(func(path, _ string) { paths = append(paths, path) })
	assert.ElementsMatch(t, []string{"derive[0].to", "derive[1].less"}, paths)
}

// A figure may rest on a hold though none of its freedoms is limited, and a figure is
// unseen only if it has a part in what nothing shows.
func TestAFigureRestsOnAHoldAsAFreedomDoes(t *testing.T) {
	t.Parallel()
	low, high := measure.Figure(-5), measure.Figure(5)
	c := measured()
	c.Derive = []Derived{{Name: "tips", Type: "height", From: "tip L", To: "tip R", Low: &low, High: &high}}
	s := leaning(c, truth{}, truth{})
	s.fill(c, nil)
	assert.Equal(t, measure.Go, measure.Solve(c, nil, fine).Verdict)
	var few []Reading
	for _, r := range c.Readings {
		if r.Type == "height" && (r.To == "tip L" || r.To == "tip R") {
			few = append(few, r)
		}
	}
	c.Readings, c.Pins = few, nil
	r := measure.Solve(c, nil, fine)
	assert.False(t, freedom(t, r, "height", "tips").Unseen, "two heights show which tip is higher, and no freedom by itself")
	assert.True(t, freedom(t, r, "z", "tailplane").Unseen)
	c.Readings = few[:1]
	assert.True(t, freedom(t, measure.Solve(c, nil, fine), "height", "tips").Unseen)
	firm := quantity.Angle(0.01)
	c.Surfaces[1].Hold = &Hold{Roll: &firm, Yaw: &firm, Pitch: &firm}
	r = measure.Solve(c, nil, fine)
	assert.Equal(t, measure.Unsure, r.Verdict)
	assert.Contains(t, fmt.Sprint(r.Findings), "rests-on-hold")
}

// Readings that scatter by more than was said, none of them standing out, contradict one
// another: unsure, where they would be a stop.
func TestReadingsThatContradictOneAnotherAreUnsure(t *testing.T) {
	t.Parallel()
	limits := map[string]measure.Limit{"x": {Low: spread(-0.001), High: spread(0.001)}}
	found := 0
	for seed := range uint64(200) {
		random := rand.New(rand.NewPCG(61, seed))
		c := tailplane()
		c.Readings = every()
		taken(c, truth{shift: [3]float64{20}}, nil)
		for i := range c.Readings {
			in := c.Readings[i].Value.Instrument
			c.Readings[i].Value.Values[0] += 2.2 * random.NormFloat64() * math.Hypot(*in.Spread, in.Resolution/math.Sqrt(12))
		}
		r := measure.Solve(c, limits, fine)
		said := fmt.Sprint(r.Findings)
		if strings.Contains(said, "take-again") || strings.Contains(said, "marks-or-pin") || strings.Contains(said, "cannot-tell-which") {
			continue
		}
		if strings.Contains(said, "measurements-disagree") {
			found++
			assert.Equal(t, measure.Unsure, r.Verdict)
		} else {
			assert.Equal(t, measure.Stop, r.Verdict)
		}
	}
	assert.Positive(t, found)
}
