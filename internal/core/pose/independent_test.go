package pose

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/mat"

	"orpine/internal/core/adjust"
	"orpine/internal/core/measure"
)

// byHand is a join written out once more from the words of the format, apart from the
// program: one long vector of weighted residuals, brought down by Gauss–Newton with
// derivatives by differences.
type byHand struct {
	c        *Join
	points   []byHandPoint
	readings []byHandReading
	pins     [][2]int // points
	tools    []byHandTool
	size     int
}

type byHandPoint struct {
	On
	off int // first of three departures; −1 for none
}

type byHandReading struct {
	kind     string
	from, to int
	tool     int
	value, u float64
}

type byHandTool struct {
	in   *measure.Instrument
	err  int
	part int // of its error in proportion; −1 for none
}

func writtenOut(c *Join) *byHand {
	m := &byHand{c: c, size: 6 * len(c.Surfaces)}
	number := map[string]int{}
	for i, q := range c.Everywhere() {
		p := byHandPoint{q, -1}
		if q.U > 0 {
			p.off = m.size
			m.size += 3
		}
		m.points, number[q.Name] = append(m.points, p), i
	}
	tools := map[*measure.Instrument]int{}
	for _, r := range c.Readings {
		in := r.Value.Instrument
		if _, known := tools[in]; !known {
			tools[in] = len(m.tools)
			t := byHandTool{in, m.size, -1}
			if m.size++; in.PerMetre > 0 {
				t.part = m.size
				m.size++
			}
			m.tools = append(m.tools, t)
		}
		m.readings = append(m.readings, byHandReading{r.Type, number[r.From], number[r.To], tools[in], r.Value.Mean(), math.Sqrt(in.Resolution*in.Resolution/12 + *in.Spread**in.Spread)})
	}
	for _, p := range c.Pins {
		m.pins = append(m.pins, [2]int{number[p.From], number[p.To]})
	}
	return m
}

// stand is where a point stands, by the rotations of the format one after another.
func (m *byHand) stand(x []float64, i int) [3]float64 {
	q := m.points[i]
	at := q.At
	for k := 0; q.off >= 0 && k < 3; k++ {
		at[k] += x[q.off+k]
	}
	if q.Surface < 0 {
		return at
	}
	p := x[6*q.Surface:]
	return truth{shift: [3]float64{p[0], p[1], p[2]}, roll: p[3], pitch: p[4], yaw: p[5]}.move(at, m.c.Surfaces[q.Surface].Pivot.at())
}

// residuals are those of readings, pins and what is known beforehand, each over its own u.
func (m *byHand) residuals(x, shifted []float64) []float64 {
	var out []float64
	add := func(v, u float64) {
		if len(out) < len(shifted) {
			v += shifted[len(out)] * u
		}
		out = append(out, v/u)
	}
	apart := func(x []float64, from, to int) [3]float64 {
		a, b := m.stand(x, from), m.stand(x, to)
		return [3]float64{b[0] - a[0], b[1] - a[1], b[2] - a[2]}
	}
	for _, r := range m.readings {
		d := apart(x, r.from, r.to)
		v := math.Sqrt(d[0]*d[0] + d[1]*d[1] + d[2]*d[2])
		switch r.kind {
		case "height":
			v = d[2]
		case "roll":
			v = math.Asin(-d[2]/v) * perRadian
		case "pitch":
			v = math.Asin(d[2]/v) * perRadian
		}
		if k := m.tools[r.tool].part; k >= 0 {
			v *= 1 + x[k]/1000
		}
		add(r.value-v-x[m.tools[r.tool].err], r.u)
	}
	nominal := make([]float64, m.size)
	for i, p := range m.pins {
		d, was := apart(x, p[0], p[1]), apart(nominal, p[0], p[1])
		for k := range 3 {
			add(was[k]-d[k], float64(m.c.Pins[i].U))
		}
	}
	for _, q := range m.points {
		for k := 0; q.off >= 0 && k < 3; k++ {
			add(-x[q.off+k], q.U)
		}
	}
	for _, t := range m.tools {
		add(-x[t.err], t.in.Offset/math.Sqrt(3))
		if t.part >= 0 {
			add(-x[t.part], t.in.PerMetre/math.Sqrt(3))
		}
	}
	return out
}

// solve brings the sum of squares down from a start.
func (m *byHand) solve(start, shifted []float64) []float64 {
	x := append([]float64(nil), start...)
	for range 30 {
		r := m.residuals(x, shifted)
		j := mat.NewDense(len(r), m.size, nil)
		for k := range x {
			const h = 1e-5
			up, down := append([]float64(nil), x...), append([]float64(nil), x...)
			up[k] += h
			down[k] -= h
			a, b := m.residuals(up, shifted), m.residuals(down, shifted)
			for i := range r {
				j.Set(i, k, (a[i]-b[i])/(2*h))
			}
		}
		var step mat.VecDense
		var qr mat.QR
		qr.Factorize(j)
		if qr.SolveVecTo(&step, false, mat.NewVecDense(len(r), r)) != nil {
			break
		}
		most := 0.0
		for k := range x {
			x[k] -= step.AtVec(k)
			most = max(most, math.Abs(step.AtVec(k)))
		}
		if most < 1e-11 {
			break
		}
	}
	return x
}

// Fin and tailplane with uncertain points, a tape whose scale is off, pins and distances
// between datum points: values to 1e-6 and u to 1e-4 of the route above, every u by moving
// each observation and solving anew.
func TestAJoinAgreesWithOneWrittenOutByHand(t *testing.T) {
	t.Parallel()
	for seed := range uint64(1) {
		t.Run(fmt.Sprint("seed ", seed), func(t *testing.T) {
			random := rand.New(rand.NewPCG(41, seed))
			around := func(most float64) float64 { return most * (2*random.Float64() - 1) }
			scaled := *tape
			scaled.PerMetre = 0.2
			c := measured()
			between(c, "distance", tape, [2]string{"firewall", "boom root"}, [2]string{"sill L", "sill R"}, [2]string{"boom root", "boom end"})
			loose(c, 1, 0.5)
			exactly := length(0) // 0 is a statement
			c.Datum[0].U, c.Surfaces[1].Points[0].U = exactly, length(0.2)
			leaning(c, truth{shift: [3]float64{around(3), around(3), around(3)}, roll: around(0.3), pitch: around(0.3), yaw: around(0.3)}, truth{roll: around(0.2), pitch: around(0.2), yaw: around(0.2)}).fill(c, random)
			for i := range c.Readings {
				if c.Readings[i].Value.Instrument == tape {
					c.Readings[i].Value.Instrument = &scaled
				}
			}
			r := measure.Solve(c, nil, fine)
			for _, reading := range r.Network.Readings {
				require.False(t, reading.Suspect)
			}
			m := writtenOut(c)
			x := m.solve(make([]float64, m.size), nil)
			n := len(m.residuals(x, nil))
			variance := make([]float64, m.size)
			const h = 0.05 // of each observation's u
			for i := range n {
				shifted := make([]float64, n)
				shifted[i] = h
				up := m.solve(x, shifted)
				shifted[i] = -h
				down := m.solve(x, shifted)
				for k := range variance {
					by := (up[k] - down[k]) / (2 * h)
					variance[k] += by * by
				}
			}
			for i, s := range c.Surfaces {
				for k, name := range Freedoms {
					q := freedom(t, r, name, s.Name)
					at := 6*i + k
					assert.InDelta(t, x[at], q.Value, 1e-6*max(1, math.Abs(x[at])), "%s %s", s.Name, name)
					assert.InEpsilon(t, math.Sqrt(variance[at]), q.U, 1e-4, "u of %s %s", s.Name, name)
				}
			}
		})
	}
}

// Departures may be left out of the unknowns if the readings are given the covariance
// R + A·P·Aᵀ in their place: the freedoms' N⁻¹, the redundancies and w are those of the
// whole system.
func TestLeavingTheDeparturesOutGivesTheSame(t *testing.T) {
	t.Parallel()
	c := measured()
	between(c, "distance", tape, [2]string{"firewall", "boom root"}, [2]string{"sill L", "sill R"})
	loose(c, 1, 0.5)
	leaning(c, truth{roll: 0.2, yaw: 0.1}, truth{pitch: 0.1}).fill(c, rand.New(rand.NewPCG(51, 52)))
	var n *network
	measure.Solve(spy{func(w *measure.Work) { n = c.network(w) }}, nil, fine)
	a, ok := adjust.Solve(n)
	require.True(t, ok)
	var outside, priors []adjust.Row // rows of readings and pins; what is known of the other unknowns
	departure := map[int]float64{}   // variance, by unknown
	for _, p := range n.points {
		for axis := 0; p.astray >= 0 && axis < 3; axis++ {
			departure[p.astray+axis] = p.u * p.u
		}
	}
	for i, r := range a.Rows() {
		switch {
		case i < len(n.observations):
			outside = append(outside, r)
		case departure[r.Index[0]] == 0:
			priors = append(priors, r)
		}
	}
	var kept []int
	place := map[int]int{}
	for k := range n.size {
		if departure[k] == 0 {
			place[k] = len(kept)
			kept = append(kept, k)
		}
	}
	m := len(outside)
	design, cov, v := mat.NewDense(m, len(kept), nil), mat.NewSymDense(m, nil), mat.NewVecDense(m, nil)
	for i, r := range outside {
		v.SetVec(i, r.Residual)
		for k := range r.Count {
			if departure[r.Index[k]] == 0 {
				design.Set(i, place[r.Index[k]], r.First[k])
			} else {
				v.SetVec(i, v.AtVec(i)+r.First[k]*a.P[r.Index[k]]) // what is left before the departures explain it
			}
		}
		for j := range i + 1 {
			sum := 0.0
			for k := range r.Count {
				for l := range outside[j].Count {
					if r.Index[k] == outside[j].Index[l] {
						sum += r.First[k] * departure[r.Index[k]] * outside[j].First[l]
					}
				}
			}
			if i == j {
				sum += 1 / r.Weight
			}
			cov.SetSym(i, j, sum)
		}
	}
	var w, wa, normal, inverse mat.Dense
	require.NoError(t, w.Inverse(cov))
	wa.Mul(&w, design)
	normal.Mul(design.T(), &wa)
	for _, r := range priors {
		k := place[r.Index[0]]
		normal.Set(k, k, normal.At(k, k)+r.Weight)
	}
	require.NoError(t, inverse.Inverse(&normal))
	for i, k := range kept {
		assert.InEpsilon(t, a.Variance(a.One(k)), inverse.At(i, i), 1e-9)
	}
	// Own errors: R C⁻¹ v, of covariance R C⁻¹ (C − A N⁻¹ Aᵀ) C⁻¹ R.
	var spread, part, all mat.Dense
	part.Mul(design, &inverse)
	all.Mul(&part, design.T())
	spread.Sub(cov, &all)
	part.Reset()
	part.Mul(&w, &spread)
	all.Reset()
	all.Mul(&part, &w)
	var own mat.VecDense
	own.MulVec(&w, v)
	checked := n.check(a)
	for i, r := range outside {
		u2 := 1 / r.Weight
		redundancy := u2 * all.At(i, i)
		assert.InDelta(t, redundancy, checked[i].redundancy, 1e-9)
		// w is the residual over u√redundancy: as exact as that, where little checks it.
		assert.InDelta(t, u2*own.AtVec(i)/math.Sqrt(u2*redundancy), checked[i].w, 1e-9*max(1, 0.01/redundancy))
	}
	assert.NotContains(t, a.Unseen(), true)
}
