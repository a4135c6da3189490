package adjust

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// curve is a model of functions of the unknowns, all lengths, each with its first and
// second derivatives, its reading and its weight.
type curve struct {
	size int
	of   []func(p []float64) (value float64, first []float64, second [][]float64)
	read []float64
	w    []float64
}

func (c curve) Size() int        { return c.size }
func (c curve) Angular(int) bool { return false }
func (c curve) Arc(int) float64  { return 1 }
func (c curve) weight(i int) float64 {
	if c.w == nil {
		return 1
	}
	return c.w[i]
}

func (c curve) Rows(p []float64, _ int) (rows []Row) {
	for i, f := range c.of {
		value, first, _ := f(p)
		r := Row{Residual: c.read[i] - value, Weight: c.weight(i)}
		for k, d := range first {
			r.First[r.Add(k)] = d
		}
		rows = append(rows, r)
	}
	return rows
}

func (c curve) Bent(p []float64, each func(*Row, *Bends)) {
	rows := c.Rows(p, 0)
	for i, f := range c.of {
		var bends Bends
		_, _, second := f(p)
		for j := range second {
			copy(bends[j][:], second[j])
		}
		each(&rows[i], &bends)
	}
}

// line is an observation of a + bx.
func line(x float64) func([]float64) (float64, []float64, [][]float64) {
	return func(p []float64) (float64, []float64, [][]float64) { return p[0] + p[1]*x, []float64{1, x}, nil }
}

// The line through 0, 1, 1 at 0, 1, 2: by hand a = 1/6, b = 1/2, N⁻¹ = [5/6 −1/2; −1/2 1/2],
// and the squares that are left sum up to 1/6. The middle one is a third its own doing.
func TestALineIsFitted(t *testing.T) {
	t.Parallel()
	s, ok := Solve(curve{size: 2, of: []func([]float64) (float64, []float64, [][]float64){line(0), line(1), line(2)}, read: []float64{0, 1, 1}})
	require.True(t, ok)
	assert.InDeltaSlice(t, []float64{1. / 6, 0.5}, s.P, 1e-12)
	assert.InDelta(t, 1./6, s.S, 1e-12)
	assert.Equal(t, 1, s.Freedom())
	assert.InDelta(t, 5./6, s.Variance(s.One(0)), 1e-12)
	assert.InDelta(t, 0.5, s.Response(0).Variance(s.One(1)), 1e-12)
	assert.InDelta(t, -0.5, s.Response(0).Covariance([]int{0, 1}, 2)[0][1], 1e-12)
	assert.InDelta(t, 1./3, s.Leverage(&s.Rows()[1]), 1e-12)
	// a + b·1 is the mean, of variance 1/3: each reading's third, squared.
	assert.InDeltaSlice(t, []float64{1. / 9, 1. / 9, 1. / 9}, s.Response(0).Parts([]float64{1, 1}), 1e-12)
	// A fourth reading, at 1, would leave the mean of four.
	forecast, more := s.Forecast([]float64{1, 1}), s.Rows()[1]
	assert.InDelta(t, 1./3, forecast.Now(), 1e-12)
	assert.InDelta(t, 1./4, forecast.After(&more), 1e-12)
}

// From one place only a + b is seen; a reading at another shows both.
func TestWhatNothingSeesIsNotMadeUp(t *testing.T) {
	t.Parallel()
	s, ok := Solve(curve{size: 2, of: []func([]float64) (float64, []float64, [][]float64){line(1), line(1)}, read: []float64{1, 3}})
	require.True(t, ok)
	assert.Equal(t, []bool{true, true}, s.Unseen())
	assert.True(t, s.Sees([]float64{1, 1}))
	assert.False(t, s.Sees([]float64{1, 0}))
	assert.InDelta(t, 2, s.P[0]+s.P[1], 1e-12)
	assert.InDelta(t, 0.5, s.Variance([]float64{1, 1}), 1e-12)
	forecast, far := s.Forecast(s.One(0)), s.Rows()[0]
	assert.True(t, math.IsInf(forecast.Now(), 1))
	assert.True(t, math.IsInf(forecast.After(&far), 1))
	far.First[1] = 3 // a + 3b: a = (3(a + b) − (a + 3b))/2, of variance (9/2 + 1)/4
	assert.InDelta(t, 5.5/4, forecast.After(&far), 1e-9)
}

// The full step from 0 to the zero of atan(p − 3) goes to 12.5, where the square is
// greater than at 0, and the next one further still.
func TestAStepThatRaisesTheSumIsNotTaken(t *testing.T) {
	t.Parallel()
	s, ok := Solve(curve{size: 1, read: []float64{0}, of: []func([]float64) (float64, []float64, [][]float64){func(p []float64) (float64, []float64, [][]float64) {
		x := p[0] - 3
		return math.Atan(x), []float64{1 / (1 + x*x)}, [][]float64{{-2 * x / (1 + x*x) / (1 + x*x)}}
	}}})
	require.True(t, ok)
	assert.InDelta(t, 3, s.P[0], 1e-9)
	assert.InDelta(t, 1, s.Response(0).Variance(s.One(0)), 1e-9)
}

// Of p read as 0, and p²/2 read as 1/2: S = p² + (p²/2 − 1/2)² has its least at 0, where
// half its second derivative is 1 − 1/2 and N is 1: the variance is 1/(1 − 1/2)² = 4, though
// N⁻¹ is 1.
func TestWhatBendsIsKnownLessWell(t *testing.T) {
	t.Parallel()
	s, ok := Solve(curve{size: 1, read: []float64{0, 0.5}, of: []func([]float64) (float64, []float64, [][]float64){
		func(p []float64) (float64, []float64, [][]float64) { return p[0], []float64{1}, [][]float64{{0}} },
		func(p []float64) (float64, []float64, [][]float64) {
			return p[0] * p[0] / 2, []float64{p[0]}, [][]float64{{1}}
		},
	}})
	require.True(t, ok)
	assert.InDelta(t, 0, s.P[0], 1e-12)
	assert.InDelta(t, 1, s.Variance(s.One(0)), 1e-12)
	assert.InDelta(t, 4, s.Response(0).Variance(s.One(0)), 1e-9)
}

// A function that is never what was read and falls for ever: it ends far out, where
// nothing sees it, and says so.
func TestWhatHasNoLeastIsNotSeen(t *testing.T) {
	t.Parallel()
	s, ok := Solve(curve{size: 1, read: []float64{-1}, of: []func([]float64) (float64, []float64, [][]float64){func(p []float64) (float64, []float64, [][]float64) {
		e := math.Exp(-p[0])
		return e, []float64{-e}, [][]float64{{e}}
	}}})
	assert.True(t, !ok || !s.Sees(s.One(0)), "%v", s.P)
}
