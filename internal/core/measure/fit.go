package measure

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// fit is an ordinary least-squares fit of observations to columns,
//
//	z ≈ X·p,  p = P·z,  P = X⁺ (by singular values),  residual = (I − X·P)·z.
//
// The observations share no readings with one another; they may share
// instruments. Uncertainties of residuals are worked out from the covariance V
// of the observations without forming any n × n matrix: with W = P·V,
// M = W·Pᵀ and Z = W − M·Xᵀ/2,
//
//	cov(residual i, residual j) = V_ij − x_i·Z_j − Z_i·x_j.
type fit struct {
	w    *Work
	x    *mat.Dense // n × p
	p    *mat.Dense // p × n
	z    []Estimate
	left []float64 // residuals
}

// rankTolerance is the ratio of least to greatest singular value, columns
// scaled to norm 1, below which a layout cannot tell two columns apart.
const rankTolerance = 1e-9

// fitColumns fits z to the columns that row(i) gives; ok is false when the
// layout cannot tell the columns apart.
func (w *Work) fitColumns(z []Estimate, row func(i int) []float64) (f *fit, ok bool) {
	n, p := len(z), len(row(0))
	if n < p {
		return nil, false
	}
	x := mat.NewDense(n, p, nil)
	for i := range z {
		x.SetRow(i, row(i))
	}
	scale := make([]float64, p)
	scaled := mat.DenseCopyOf(x)
	for j := range scale {
		if scale[j] = mat.Norm(x.ColView(j), 2); scale[j] == 0 {
			return nil, false
		}
		scaled.ColView(j).(*mat.VecDense).ScaleVec(1/scale[j], x.ColView(j))
	}
	var svd mat.SVD
	if !svd.Factorize(scaled, mat.SVDThin) {
		return nil, false
	}
	sigma := svd.Values(nil)
	if sigma[p-1] < rankTolerance*sigma[0] {
		return nil, false
	}
	var u, v, pinv mat.Dense
	svd.UTo(&u)
	svd.VTo(&v)
	for j := range sigma {
		for i := range p {
			v.Set(i, j, v.At(i, j)/sigma[j]/scale[i])
		}
	}
	pinv.Mul(&v, u.T())
	f = &fit{w: w, x: x, p: &pinv, z: z, left: make([]float64, n)}
	for i := range z {
		f.left[i] = z[i].Value
	}
	for j := range p {
		v := f.paramValue(j)
		for i := range z {
			f.left[i] -= x.At(i, j) * v
		}
	}
	return f, true
}

func (f *fit) paramValue(j int) float64 {
	sum := 0.0
	for i, z := range f.z {
		sum += f.p.At(j, i) * z.Value
	}
	return sum
}

// param returns the j-th fitted parameter.
func (f *fit) param(j int) Estimate {
	return f.linear(func(i int) float64 { return f.p.At(j, i) })
}

// linear returns Σ weight(i)·z_i.
func (f *fit) linear(weight func(i int) float64) Estimate {
	out := Estimate{}
	dense := make([]float64, len(f.w.readings))
	for i, z := range f.z {
		k := weight(i)
		out.Value += k * z.Value
		for _, s := range z.slopes {
			dense[s.reading] += k * s.by
		}
	}
	for r, by := range dense {
		if by != 0 {
			out.slopes = append(out.slopes, slope{r, by})
		}
	}
	return out
}

// covariance holds what gives the covariance of any two residuals.
type covariance struct {
	own     []float64   // variance of each observation's own readings
	shares  [][]share   // and its part in each common error
	commons []common    // these errors
	x, z    [][]float64 // rows of X, and of Z = W − M·Xᵀ/2
	f       *fit
}

// covariance prepares the covariances for at least so many placings.
func (f *fit) covariance(placings int) covariance {
	n, p := f.x.Dims()
	c := covariance{own: make([]float64, n), shares: make([][]share, n), commons: f.w.commons, x: make([][]float64, n), z: make([][]float64, n), f: f}
	common := make([][]float64, len(f.w.commons)) // Σ share·P over the observations
	for i, e := range f.z {
		c.x[i] = f.x.RawRowView(i)
		for _, s := range e.slopes {
			r := &f.w.readings[s.reading]
			c.own[i] += s.by * s.by * r.variance(placings)
			for _, part := range r.shares {
				c.shares[i] = addShare(c.shares[i], part.common, part.by*s.by)
			}
		}
		for _, s := range c.shares[i] {
			if common[s.common] == nil {
				common[s.common] = make([]float64, p)
			}
			for j := range p {
				common[s.common][j] += s.by * f.p.At(j, i)
			}
		}
	}
	m := mat.NewDense(p, p, nil)
	for i := range n {
		c.z[i] = make([]float64, p)
		for j := range p {
			c.z[i][j] = f.p.At(j, i) * c.own[i]
			for _, s := range c.shares[i] {
				c.z[i][j] += s.by * c.commons[s.common].variance * common[s.common][j]
			}
		}
		for j := range p {
			for k := range p {
				m.Set(j, k, m.At(j, k)+c.z[i][j]*f.p.At(k, i))
			}
		}
	}
	for i := range n {
		for j := range p {
			for k := range p {
				c.z[i][j] -= m.At(j, k) * c.x[i][k] / 2
			}
		}
	}
	return c
}

func addShare(shares []share, common int, by float64) []share {
	for i := range shares {
		if shares[i].common == common {
			shares[i].by += by
			return shares
		}
	}
	return append(shares, share{common, by})
}

// of returns the covariance of residuals i and j.
func (c *covariance) of(i, j int) float64 {
	v := 0.0
	if i == j {
		v = c.own[i]
	}
	for _, a := range c.shares[i] {
		for _, b := range c.shares[j] {
			if a.common == b.common {
				v += a.by * b.by * c.commons[a.common].variance
			}
		}
	}
	for k := range c.x[i] {
		v -= c.x[i][k]*c.z[j][k] + c.z[i][k]*c.x[j][k]
	}
	return v
}

// residual returns the i-th residual as an estimate.
func (f *fit) residual(i int) Estimate {
	_, p := f.x.Dims()
	e := f.linear(func(k int) float64 {
		by := 0.0
		for j := range p {
			by -= f.x.At(i, j) * f.p.At(j, k)
		}
		if k == i {
			by++
		}
		return by
	})
	e.Value = f.left[i]
	return e
}

// residuals is the ground of a residual, whichever is the greatest.
func (f *fit) residuals() Grounds {
	return Grounds{U: f.residualU, Candidates: func(yield func(Estimate) bool) {
		for i := range f.z {
			if !yield(f.residual(i)) {
				return
			}
		}
	}}
}

// differences is the ground of a difference of two residuals, whichever is the greatest.
func (f *fit) differences() Grounds {
	return Grounds{U: f.differenceU, Candidates: func(yield func(Estimate) bool) {
		all := make([]Estimate, len(f.z))
		for i := range all {
			all[i] = f.residual(i)
			for j := range i {
				if !yield(all[i].Minus(all[j])) {
					return
				}
			}
		}
	}}
}

// residualU is the greatest u of a residual, for at least so many placings.
func (f *fit) residualU(placings int) float64 {
	c, most := f.covariance(placings), 0.0
	for i := range f.z {
		most = max(most, c.of(i, i))
	}
	return math.Sqrt(most)
}

// differenceU is the greatest u of a difference of two residuals, for at least
// so many placings.
func (f *fit) differenceU(placings int) float64 {
	c, most := f.covariance(placings), 0.0
	own := make([]float64, len(f.z))
	for i := range own {
		own[i] = c.of(i, i)
	}
	for i := range own {
		for j := range i {
			most = max(most, own[i]+own[j]-2*c.of(i, j))
		}
	}
	return math.Sqrt(most)
}

// spreadOfResiduals is greatest minus least residual, with the places of both.
func (f *fit) spreadOfResiduals() (difference float64, greatest, least int) {
	for i, r := range f.left {
		if r > f.left[greatest] {
			greatest = i
		}
		if r < f.left[least] {
			least = i
		}
	}
	return f.left[greatest] - f.left[least], greatest, least
}

// scaled is a set of positions brought to mean 0 and greatest magnitude 1, so
// that columns of a fit are of one size.
type scaled struct {
	mean, size      float64
	at              []float64 // scaled
	least, greatest float64   // before scaling
	places          int       // distinct ones; 3 stands for three or more
}

func scale(positions []float64) scaled {
	s := scaled{at: make([]float64, len(positions)), least: positions[0], greatest: positions[0], places: distinct(positions)}
	for _, p := range positions {
		s.mean += p / float64(len(positions))
		s.least, s.greatest = min(s.least, p), max(s.greatest, p)
	}
	for _, p := range positions {
		s.size = max(s.size, math.Abs(p-s.mean))
	}
	if s.size == 0 {
		s.size = 1
	}
	for i, p := range positions {
		s.at[i] = s.of(p)
	}
	return s
}

func (s scaled) of(p float64) float64 { return (p - s.mean) / s.size }
func (s scaled) extent() float64      { return s.greatest - s.least }

// distinct counts positions that differ by more than a thousandth of a millimetre.
func distinct(positions []float64) int {
	var seen []float64
next:
	for _, p := range positions {
		for _, s := range seen {
			if math.Abs(p-s) < 1e-3 {
				continue next
			}
		}
		if seen = append(seen, p); len(seen) == 3 {
			break // no rule asks for more than three
		}
	}
	return len(seen)
}
