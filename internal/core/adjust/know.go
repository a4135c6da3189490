package adjust

import (
	"math"

	"gonum.org/v1/gonum/lapack/lapack64"
	"gonum.org/v1/gonum/mat"
)

// see works out, once, which directions the observations see at the solution, and N⁺.
func (s *Solution) see() {
	if s.seen {
		return
	}
	s.seen = true
	n := s.m.Size()
	s.inverse = make([]float64, n*n)
	normal, _ := s.normals(s.rows)
	if chol, scale, ok := s.factorize(normal); ok {
		var inverse mat.SymDense
		if chol.InverseTo(&inverse) == nil {
			s.well, s.rank, s.scale = true, n, scale
			for i := range n {
				for j := range n {
					s.inverse[i*n+j] = inverse.At(i, j) * scale[i] * scale[j]
				}
			}
			return
		}
	}
	s.well = false
	s.decompose()
	for k := range s.rank {
		by := 1 / (s.values[k] * s.values[k])
		for i := range n {
			vi := s.v.At(i, k) * s.scale[i] * by
			for j := range n {
				s.inverse[i*n+j] += vi * s.v.At(j, k) * s.scale[j]
			}
		}
	}
}

// Freedom is the number of observations, those of what is known beforehand included, less
// the rank of the system.
func (s *Solution) Freedom() int {
	s.see()
	return len(s.rows) - s.rank
}

// Unseen tells which unknowns the observations cannot determine.
func (s *Solution) Unseen() []bool {
	s.see()
	out := make([]bool, s.m.Size())
	for i := range out {
		for k := s.rank; k < len(out); k++ {
			out[i] = out[i] || math.Abs(s.v.At(i, k)) > UnseenPart
		}
	}
	return out
}

// Sees tells whether a figure that changes by the unknowns as given is determined.
func (s *Solution) Sees(by []float64) bool {
	s.see()
	if s.well {
		return true
	}
	hidden, size := 0.0, 0.0
	for k := range by {
		part := 0.0
		for i, b := range by {
			part += b * s.v.At(i, k) * s.scale[i]
		}
		size += part * part
		if k >= s.rank {
			hidden += part * part
		}
	}
	return math.Sqrt(hidden) <= UnseenPart*math.Sqrt(size)
}

// Response is how the solution answers to its observations if every reading had at least
// so many placings: H⁻¹ over what is seen, and N.
type Response struct {
	rows  []Row
	solve func(g []float64) []float64 // H⁻¹g; nil where nothing is seen
}

// Response works out how the solution answers; −1 placings takes the observations anew as
// they are. Of what is unseen it holds nothing.
func (s *Solution) Response(placings int) *Response {
	s.see()
	out := &Response{rows: s.rows}
	if placings != 0 {
		out.rows = s.m.Rows(s.P, max(0, placings))
	}
	if s.rank == 0 {
		return out
	}
	normal, _ := s.normals(out.rows)
	curved := s.curvature(normal, out.rows)
	n := s.m.Size()
	if s.well {
		scaled := mat.NewSymDense(n, nil)
		for i := range n {
			for j := i; j < n; j++ {
				scaled.SetSym(i, j, curved.At(i, j)*s.scale[i]*s.scale[j])
			}
		}
		solve := solver(scaled)
		out.solve = func(g []float64) []float64 {
			h := make([]float64, n)
			for i, by := range s.scale {
				h[i] = g[i] * by
			}
			h = solve(h)
			for i, by := range s.scale {
				h[i] *= by
			}
			return h
		}
		return out
	}
	directions := mat.NewDense(n, s.rank, nil)
	for i := range n {
		for k := range s.rank {
			directions.Set(i, k, s.v.At(i, k)*s.scale[i]/s.values[k])
		}
	}
	var part, bent mat.Dense
	part.Mul(curved, directions)
	bent.Mul(directions.T(), &part)
	small := mat.NewSymDense(s.rank, nil)
	for i := range s.rank {
		for j := i; j < s.rank; j++ {
			small.SetSym(i, j, bent.At(i, j))
		}
	}
	solve := solver(small)
	out.solve = func(g []float64) []float64 {
		var target, h mat.VecDense
		target.MulVec(directions.T(), mat.NewVecDense(n, g))
		h.MulVec(directions, mat.NewVecDense(s.rank, solve(target.RawVector().Data)))
		return h.RawVector().Data
	}
	return out
}

// solver solves a symmetric system: by Cholesky where it is positive definite, which it is
// at a minimum, and else by LU.
func solver(system *mat.SymDense) func([]float64) []float64 {
	definite := mat.NewSymDense(system.SymmetricDim(), nil)
	definite.CopySym(system)
	if t, ok := lapack64.Potrf(definite.RawSymmetric()); ok {
		return func(b []float64) []float64 {
			out := append([]float64(nil), b...)
			back(t, out)
			return out
		}
	}
	var lu mat.LU
	lu.Factorize(system)
	return func(b []float64) []float64 {
		var v mat.VecDense
		_ = lu.SolveVecTo(&v, false, mat.NewVecDense(len(b), b)) // an ill condition shows as a large u
		return v.RawVector().Data
	}
}

// Variance is that of a figure that changes by the unknowns as given, gᵀH⁻¹NH⁻¹g: the sum
// of its parts.
func (r *Response) Variance(by []float64) float64 {
	sum := 0.0
	for _, part := range r.Parts(by) {
		sum += part
	}
	return sum
}

// Parts returns, row by row, what each observation adds to the variance of a figure:
// w (gᵀH⁻¹a)².
func (r *Response) Parts(by []float64) []float64 {
	out := make([]float64, len(r.rows))
	if r.solve == nil {
		return out
	}
	h := r.solve(by)
	for k := range r.rows {
		moved := r.rows[k].along(h)
		out[k] = r.rows[k].Weight * moved * moved
	}
	return out
}

// Covariance is that of some unknowns.
func (r *Response) Covariance(unknowns []int, size int) [][]float64 {
	out := make([][]float64, len(unknowns))
	moved := make([][]float64, len(unknowns)) // of each row by each unknown
	for a, k := range unknowns {
		out[a], moved[a] = make([]float64, len(unknowns)), make([]float64, len(r.rows))
		if r.solve == nil {
			continue
		}
		by := make([]float64, size)
		by[k] = 1
		h := r.solve(by)
		for i := range r.rows {
			moved[a][i] = r.rows[i].along(h)
		}
		for b := range a + 1 {
			for i := range r.rows {
				out[a][b] += r.rows[i].Weight * moved[a][i] * moved[b][i]
			}
			out[b][a] = out[a][b]
		}
	}
	return out
}

// bent is how an observation bends at the solution: its residual, and the second
// derivatives by pairs of unknowns.
type bent struct {
	residual float64
	pairs    []bentPair
}

type bentPair struct {
	p, q int
	by   float64
}

// bends works out, once, how the observations bend at the solution: those come first among
// the rows.
func (s *Solution) bends() []bent {
	if s.bent != nil {
		return s.bent
	}
	s.bent = []bent{}
	s.m.Bent(s.P, func(r *Row, second *Bends) {
		b := bent{residual: r.Residual, pairs: make([]bentPair, 0, r.Count*(r.Count+1)/2)}
		for i := range r.Count {
			for j := i; j < r.Count; j++ {
				if second[i][j] != 0 {
					b.pairs = append(b.pairs, bentPair{r.Index[i], r.Index[j], second[i][j]})
				}
			}
		}
		s.bent = append(s.bent, b)
	})
	return s.bent
}

// curvature returns H: the normal matrix less the residuals' weight on how each
// observation bends.
func (s *Solution) curvature(normal *mat.SymDense, rows []Row) *mat.SymDense {
	out := mat.NewSymDense(s.m.Size(), nil)
	out.CopySym(normal)
	raw := out.RawSymmetric()
	for i, b := range s.bends() {
		by := rows[i].Weight * b.residual
		for _, pair := range b.pairs {
			raw.Data[min(pair.p, pair.q)*raw.Stride+max(pair.p, pair.q)] -= by * pair.by
		}
	}
	return out
}

// Rows are the observations at the solution.
func (s *Solution) Rows() []Row { return s.rows }

// Leverage is a N⁺ aᵀ of a row, by its weight: how much of the observation is its own doing.
func (s *Solution) Leverage(r *Row) float64 {
	s.see()
	n, sum := s.m.Size(), 0.0
	for i := range r.Count {
		for j := range r.Count {
			sum += r.First[i] * s.inverse[r.Index[i]*n+r.Index[j]] * r.First[j]
		}
	}
	return sum * r.Weight
}

// Variance is that of a figure that changes by the unknowns as given, of N⁺: what the
// design of the observations alone gives.
func (s *Solution) Variance(by []float64) float64 {
	s.see()
	n, sum := len(by), 0.0
	for i, bi := range by {
		if bi == 0 {
			continue
		}
		for j, bj := range by {
			sum += bi * s.inverse[i*n+j] * bj
		}
	}
	return max(0, sum)
}

// One is the figure that an unknown itself is.
func (s *Solution) One(unknown int) []float64 {
	out := make([]float64, s.m.Size())
	out[unknown] = 1
	return out
}

// Forecast says how an observation that is not yet made would change what is known of a
// figure.
//
// With B = W½A scaled, B = UΣVᵀ, seen directions V₁ with covariance C = Σ₁⁻² and
// unseen ones V₀, a row b of variance σ² has y = V₁ᵀb and z = V₀ᵀb. Where z = 0 the
// reading adds to what is seen, and C falls by C y yᵀC/(σ² + yᵀCy). Otherwise it
// makes one unseen direction z/|z| seen and adds nothing else: a figure with
// parts e₁ and e₀ is then known with variance gᵀCg + (e₀·z)²σ²/|z|⁴,
// g = e₁ − (e₀·z/|z|²) y, provided that e₀ has no part across z.
type Forecast struct {
	s     *Solution
	e     []float64 // of the figure, by singular direction
	size  float64   // of e
	now   float64   // its variance; +Inf while it is unseen
	cross []float64 // N⁻¹ times the figure, where everything is seen
}

// Forecast prepares to say how well a figure would be known that changes by the unknowns
// as given.
func (s *Solution) Forecast(want []float64) Forecast {
	s.see()
	f := Forecast{s: s, now: math.Inf(1)}
	n := s.m.Size()
	if s.well {
		f.cross = make([]float64, n)
		for i := range n {
			for j, by := range want {
				f.cross[i] += s.inverse[i*n+j] * by
			}
		}
		f.now = along(f.cross, want)
		return f
	}
	f.e = make([]float64, n)
	hidden := 0.0
	for k := range f.e {
		for i, by := range want {
			f.e[k] += by * s.v.At(i, k) * s.scale[i]
		}
		f.size += f.e[k] * f.e[k]
		if k >= s.rank {
			hidden += f.e[k] * f.e[k]
		}
	}
	f.size = math.Sqrt(f.size)
	if math.Sqrt(hidden) <= UnseenPart*f.size {
		f.now = 0
		for k := range s.rank {
			f.now += f.e[k] * f.e[k] / (s.values[k] * s.values[k])
		}
	}
	return f
}

// After is the variance of the figure with one more observation; +Inf where it would stay
// unseen.
func (f Forecast) After(row *Row) float64 {
	s := f.s
	n := s.m.Size()
	sigma2 := 1 / row.Weight
	if s.well {
		cross := 0.0
		for i := range row.Count {
			cross += f.cross[row.Index[i]] * row.First[i]
		}
		return f.now - cross*cross/(sigma2+s.Leverage(row)*sigma2)
	}
	y := make([]float64, n)
	var size, across float64
	for k := range n {
		for i := range row.Count {
			y[k] += s.v.At(row.Index[i], k) * s.scale[row.Index[i]] * row.First[i]
		}
		size += y[k] * y[k]
	}
	for k := s.rank; k < n; k++ {
		across += y[k] * y[k]
	}
	if across <= UnseenPart*UnseenPart*size || across == 0 {
		if math.IsInf(f.now, 1) {
			return f.now
		}
		cross, own := 0.0, sigma2
		for k := range s.rank {
			c := 1 / (s.values[k] * s.values[k])
			cross += f.e[k] * c * y[k]
			own += y[k] * y[k] * c
		}
		return f.now - cross*cross/own
	}
	part := 0.0
	for k := s.rank; k < n; k++ {
		part += f.e[k] * y[k]
	}
	rest := 0.0
	for k := s.rank; k < n; k++ {
		d := f.e[k] - part*y[k]/across
		rest += d * d
	}
	if math.Sqrt(rest) > UnseenPart*f.size {
		return math.Inf(1)
	}
	g := 0.0
	for k := range s.rank {
		d := f.e[k] - part/across*y[k]
		g += d * d / (s.values[k] * s.values[k])
	}
	return g + part*part*sigma2/(across*across)
}

// Now is the variance of the figure as it stands; +Inf while it is unseen.
func (f Forecast) Now() float64 { return f.now }
