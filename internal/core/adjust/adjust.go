// Package adjust brings a network of weighted observations to least squares: where the
// unknowns are, how well each is known, and what nothing sees.
//
// With r the observed values, f(p) what they should be and W the inverse of their
// variances,
//
//	S(p) = (r − f)ᵀ W (r − f)
//
// is brought to its minimum by Gauss–Newton from p = 0; what is known beforehand of an
// unknown is an observation like any other. N = AᵀWA, A the derivatives of f; H is half
// the second derivatives of S. The solution moves with the readings by H⁻¹AᵀW, so that
// its covariance is H⁻¹NH⁻¹ (JCGM 102:2011, 6.5).
package adjust

import (
	"math"

	"gonum.org/v1/gonum/blas"
	"gonum.org/v1/gonum/blas/blas64"
	"gonum.org/v1/gonum/lapack/lapack64"
	"gonum.org/v1/gonum/mat"
)

// The bounds of the iteration: a step this small in millimetres and radians ends it,
// and so many steps are the most.
const (
	smallStep  = 1e-9
	smallTurn  = 1e-11
	iterations = 50
	leastShare = 1e-6  // of a step, when it is halved
	mayRise    = 1e-9  // of S, by rounding
	noFall     = 1e-13 // of S: a step that lowers it by less no longer does, for what it is summed from is no finer
	nothing    = 1e-14 // likewise where S is next to 0: a step of 1e-7 standard deviations
	stuck      = 1e-6  // of 1 + S: what a step should have gained where none that is taken gains anything
)

// The bounds of what readings can see: a column below zeroColumn of the greatest
// counts as zero, a singular value below unseenValue of the greatest as none, and a
// part above UnseenPart of the null space as unseen.
const (
	zeroColumn  = 1e-12
	unseenValue = 1e-7
	UnseenPart  = 1e-6
)

// wellSeen is the condition of the scaled normal equations up to which everything is
// surely seen: far below the square of 1/unseenValue.
const wellSeen = 1e10

// Most is how many unknowns one observation may depend on: six of each of two surfaces,
// two of the airframe's tilt, three of each of two points, an instrument's constant
// error and scale, and ten corrections that are shared.
const Most = 32

// Row is one weighted observation near some p: observed less predicted, its weight
// 1/variance, and the derivatives of what is predicted.
type Row struct {
	Residual, Weight float64
	Count            int
	Index            [Most]int
	First            [Most]float64
}

// Add notes an unknown that the observation depends on, and returns its place.
func (r *Row) Add(index int) int {
	r.Index[r.Count] = index
	r.Count++
	return r.Count - 1
}

// along is how much what is predicted changes as the unknowns change by h.
func (r *Row) along(h []float64) float64 {
	sum := 0.0
	for i := range r.Count {
		sum += h[r.Index[i]] * r.First[i]
	}
	return sum
}

// Bends are the second derivatives of what is predicted, by the places of a row.
type Bends [Most][Most]float64

// Model is what is adjusted.
type Model interface {
	// Size is the number of unknowns.
	Size() int
	// Angular tells whether an unknown is in radians, and Arc the radius that makes
	// it a length in mm; 1 for one that is a length already.
	Angular(unknown int) bool
	Arc(unknown int) float64
	// Rows are the observations at p if each had at least so many placings.
	Rows(p []float64, placings int) []Row
	// Bent calls for each observation that may bend, with its second derivatives: those
	// that Rows gives first, in that order.
	Bent(p []float64, each func(r *Row, second *Bends))
}

// Solution is a model brought to least squares.
type Solution struct {
	P []float64 // the unknowns
	S float64   // the sum of squares there

	m      Model
	rows   []Row
	seen   bool // whether the following were worked out
	well   bool // everything is surely seen: inverse is N⁻¹, and there are no directions
	scale  []float64
	values []float64  // singular values of the scaled system, falling
	v      *mat.Dense // its right singular vectors, by columns
	rank   int

	inverse []float64 // N⁺ by rows
	bent    []bent    // how the observations bend; nil until it is asked for
}

// Solve adjusts; ok is false where the iteration does not converge. A step is taken only
// if S does not rise; where no part of a Gauss–Newton step does that, a damped one is
// (Levenberg 1944). Where something is unseen the step is the least in the scaled
// unknowns (Golub and Van Loan, Matrix Computations, 5.5).
func Solve(m Model) (s *Solution, ok bool) {
	s = &Solution{m: m, P: make([]float64, m.Size())}
	s.move(s.P)
	for range iterations {
		normal, right := s.normals(s.rows)
		step := s.step(normal, right)
		if step == nil {
			return s, false
		}
		gain := along(step, right)
		before := s.S
		done := gain <= noFall*before+nothing || s.small(step)
		if !s.take(step) && !s.damped(normal, right) {
			return s, gain <= stuck*(1+before)
		}
		if done {
			return s, true
		}
		if !(s.S < before) { // one more full step
			normal, right = s.normals(s.rows)
			if step = s.step(normal, right); step != nil {
				s.try(step)
			}
			return s, true
		}
	}
	return s, false
}

// move stands the solution at p.
func (s *Solution) move(p []float64) {
	s.P, s.rows = p, s.m.Rows(p, 0)
	s.S = squares(s.rows)
	s.seen, s.bent = false, nil
}

// try takes a step if S does not rise by more than rounding.
func (s *Solution) try(step []float64) bool {
	p := Shifted(s.P, step, 1)
	rows := s.m.Rows(p, 0)
	after := squares(rows)
	if !(after <= s.S+mayRise*s.S) || !finite(p) {
		return false
	}
	s.P, s.rows, s.S, s.seen, s.bent = p, rows, after, false, nil
	return true
}

// take takes a step, or the greatest half, quarter and so on of it that does not raise S.
func (s *Solution) take(step []float64) bool {
	for share := 1.0; share > leastShare; share /= 2 {
		part := make([]float64, len(step))
		for i := range part {
			part[i] = share * step[i]
		}
		if s.try(part) {
			return true
		}
	}
	return false
}

// damped takes a step of (N + λ diag N)δ = AᵀWr, λ rising tenfold until S falls.
func (s *Solution) damped(normal *mat.SymDense, right []float64) bool {
	n := len(right)
	for lambda := 1e-3; lambda < 1e12; lambda *= 10 {
		eased := mat.NewSymDense(n, nil)
		eased.CopySym(normal)
		for i := range n {
			eased.SetSym(i, i, normal.At(i, i)*(1+lambda))
			if normal.At(i, i) == 0 {
				eased.SetSym(i, i, 1)
			}
		}
		var chol mat.Cholesky
		var v mat.VecDense
		if !chol.Factorize(eased) || chol.SolveVecTo(&v, mat.NewVecDense(n, right)) != nil {
			continue
		}
		before := s.S
		if s.try(v.RawVector().Data) && s.S < before {
			return true
		}
	}
	return false
}

func squares(rows []Row) float64 {
	sum := 0.0
	for i := range rows {
		sum += rows[i].Residual * rows[i].Residual * rows[i].Weight
	}
	return sum
}

func along(a, b []float64) float64 {
	sum := 0.0
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

func finite(p []float64) bool {
	for _, v := range p {
		if math.IsNaN(v) || math.IsInf(v, 0) {
			return false
		}
	}
	return true
}

// Shifted is p with a share of a step added.
func Shifted(p, step []float64, share float64) []float64 {
	out := make([]float64, len(p))
	for i := range p {
		out[i] = p[i] + share*step[i]
	}
	return out
}

func (s *Solution) small(step []float64) bool {
	for i, d := range step {
		if bound := map[bool]float64{true: smallTurn, false: smallStep}[s.m.Angular(i)]; math.Abs(d) > bound {
			return false
		}
	}
	return true
}

// Normal is AᵀWA of some observations of a model.
func Normal(m Model, rows []Row) *mat.SymDense {
	normal, _ := (&Solution{m: m}).normals(rows)
	return normal
}

// normals returns AᵀWA and AᵀWr.
func (s *Solution) normals(rows []Row) (*mat.SymDense, []float64) {
	n := s.m.Size()
	normal, right := make([]float64, n*n), make([]float64, n)
	for k := range rows {
		r := &rows[k]
		for a := range r.Count {
			i, wa := r.Index[a], r.Weight*r.First[a]
			right[i] += wa * r.Residual
			for b := range r.Count {
				normal[i*n+r.Index[b]] += wa * r.First[b]
			}
		}
	}
	return mat.NewSymDense(n, normal), right
}

// step is the next Gauss–Newton step, by the normal equations where everything is surely
// seen and else by singular values; nil when there is none.
func (s *Solution) step(normal *mat.SymDense, right []float64) []float64 {
	if scaled, scale, ok := s.scaled(normal); ok {
		raw := scaled.RawSymmetric()
		if t, ok := lapack64.Potrf(raw); ok && surelySeen(t) {
			out := make([]float64, len(right))
			for i, by := range scale {
				out[i] = right[i] * by
			}
			back(t, out)
			for i, by := range scale {
				out[i] *= by
			}
			return out
		}
	}
	s.decompose()
	out := make([]float64, len(right))
	for k := range s.rank {
		part := 0.0
		for i := range right {
			part += s.v.At(i, k) * s.scale[i] * right[i]
		}
		part /= s.values[k] * s.values[k]
		for i := range out {
			out[i] += part * s.v.At(i, k) * s.scale[i]
		}
	}
	if !finite(out) {
		return nil
	}
	return out
}

// back solves UᵀU x = b in place, U a Cholesky factor.
func back(t blas64.Triangular, b []float64) {
	v := blas64.Vector{N: len(b), Inc: 1, Data: b}
	blas64.Trsv(blas.Trans, t, v)
	blas64.Trsv(blas.NoTrans, t, v)
}

// surelySeen tells, of the factor of normal equations with their diagonal scaled to 1, that
// no unknown is all but told by the others.
func surelySeen(t blas64.Triangular) bool {
	for i := range t.N {
		if d := t.Data[i*t.Stride+i]; d*d < leastOwn {
			return false
		}
	}
	return true
}

// leastOwn is the share of an unknown's weight that the others may leave it.
const leastOwn = 1e-8

// scaled brings the diagonal of the normal equations to 1; ok is false where a column may
// be nothing but rounding.
func (s *Solution) scaled(normal *mat.SymDense) (scaled *mat.SymDense, scale []float64, ok bool) {
	n := s.m.Size()
	scale = make([]float64, n)
	least, greatest := math.Inf(1), 0.0
	for i := range n {
		size := math.Sqrt(normal.At(i, i))
		least, greatest = min(least, size/s.m.Arc(i)), max(greatest, size/s.m.Arc(i))
		scale[i] = 1 / size
	}
	if !(least > 1e4*zeroColumn*greatest) {
		return nil, nil, false
	}
	scaled = mat.NewSymDense(n, nil)
	from, to := normal.RawSymmetric(), scaled.RawSymmetric()
	for i := range n {
		for j := i; j < n; j++ {
			to.Data[i*to.Stride+j] = from.Data[i*from.Stride+j] * scale[i] * scale[j]
		}
	}
	return scaled, scale, true
}

// factorize factorizes the scaled normal equations; ok is false where something may be
// unseen.
func (s *Solution) factorize(normal *mat.SymDense) (chol *mat.Cholesky, scale []float64, ok bool) {
	scaled, scale, ok := s.scaled(normal)
	if !ok {
		return nil, nil, false
	}
	chol = new(mat.Cholesky)
	if !chol.Factorize(scaled) || !(chol.Cond() < wellSeen) {
		return nil, nil, false
	}
	return chol, scale, true
}

// decompose finds the singular values of the weighted system with its columns scaled to
// norm 1.
func (s *Solution) decompose() {
	n := s.m.Size()
	s.scale = make([]float64, n)
	for k := range s.rows {
		r := &s.rows[k]
		for i := range r.Count {
			s.scale[r.Index[i]] += r.First[i] * r.First[i] * r.Weight
		}
	}
	greatest := 0.0
	for i, v := range s.scale {
		s.scale[i] = math.Sqrt(v)
		greatest = max(greatest, s.scale[i]/s.m.Arc(i))
	}
	zero := make([]bool, n)
	for i, v := range s.scale {
		if zero[i] = v/s.m.Arc(i) <= zeroColumn*greatest; zero[i] {
			v = max(greatest, 1) * s.m.Arc(i) // any scale: a reading to come may see it
		}
		s.scale[i] = 1 / v
	}
	system := mat.NewDense(max(len(s.rows), n), n, nil)
	for k := range s.rows {
		r := &s.rows[k]
		root := math.Sqrt(r.Weight)
		for i := range r.Count {
			if j := r.Index[i]; !zero[j] {
				system.Set(k, j, r.First[i]*root*s.scale[j])
			}
		}
	}
	var qr mat.QR
	qr.Factorize(system)
	var r mat.Dense
	qr.RTo(&r)
	var svd mat.SVD
	s.rank, s.v = 0, new(mat.Dense)
	if !svd.Factorize(r.Slice(0, n, 0, n), mat.SVDThin) {
		s.values = make([]float64, n)
		s.v.CloneFrom(mat.NewDense(n, n, nil))
		return
	}
	s.values = svd.Values(nil)
	svd.VTo(s.v)
	for _, v := range s.values {
		if v > 0 && v >= unseenValue*s.values[0] {
			s.rank++
		}
	}
}
