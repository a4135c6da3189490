package pose

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// The bounds of the iteration: a step this small in millimetres and radians ends
// it, and so many steps are the most.
const (
	smallStep  = 1e-9
	smallTurn  = 1e-11
	iterations = 50
	leastShare = 1e-6  // of a step, when it is halved
	noFall     = 1e-13 // of S: a step that lowers it by less no longer does, for what it is summed from is no finer
)

// The bounds of what readings can see: a column below zeroColumn of the greatest
// counts as zero, a singular value below unseenValue of the greatest as none, and a
// part above unseenPart of the null space as unseen.
const (
	zeroColumn  = 1e-12
	unseenValue = 1e-7
	unseenPart  = 1e-6
)

// adjustment is a network brought to least squares.
//
// With r the readings, f(p) what they should be and W the inverse of their
// variances, S(p) = (r − f)ᵀW(r − f) + Σ p_k²/σ_k² over priors is brought to its
// minimum by Gauss–Newton: δ solves min |W½(r − f − Aδ)| by singular values of
// W½A with columns scaled to norm 1, so that δ is of least norm where something is
// unseen (Golub and Van Loan, Matrix Computations, 5.5).
type adjustment struct {
	n      *network
	p      []float64
	at     *state
	scale  []float64  // of the columns
	zero   []bool     // columns that count as zero
	values []float64  // singular values, falling
	v      *mat.Dense // right singular vectors, by columns
	rank   int

	decomposed bool // values, v and rank are those of the solution
}

// weighted is one row of the weighted system: a reading or a prior.
type weighted struct {
	sight
	weight   float64
	residual float64
}

// rows are the weighted readings and priors at a state. The readings set aside
// are left out.
func (n *network) rows(s *state, placings int) []weighted {
	out := make([]weighted, 0, len(n.observations)+len(n.offsets)+8)
	for i := range n.observations {
		if o := &n.observations[i]; !o.aside {
			out = append(out, n.row(s, o, placings, nil))
		}
	}
	for k, d := range n.datum {
		if d != nil {
			out = append(out, n.datumRow(s, k, placings, nil))
		}
	}
	return append(out, n.priors(s.p)...)
}

// row is a reading less what it should be, with its instrument's constant error.
func (n *network) row(s *state, o *observation, placings int, second *bends) weighted {
	w := weighted{sight: s.sight(o, second), weight: 1 / o.variance(placings)}
	w.residual = o.value - w.value
	n.withOffset(&w, s.p, o.offset, o.taken.Sign)
	return w
}

func (n *network) withOffset(w *weighted, p []float64, offset int, sign float64) {
	if offset < 0 {
		return
	}
	w.residual -= sign * p[offset]
	w.first[w.add(offset)] = sign
}

// datumRow is a level on the airframe: asin(sin φd cos θd) of its roll, θd of its pitch.
func (n *network) datumRow(s *state, k, placings int, second *bends) weighted {
	d := n.datum[k]
	w := weighted{weight: perRadian * perRadian / d.taken.Variance(placings)}
	roll, pitch := 0.0, 0.0
	if n.tilt[0] >= 0 {
		roll = s.p[n.tilt[0]]
	}
	if n.tilt[1] >= 0 {
		pitch = s.p[n.tilt[1]]
	}
	if k == 1 {
		w.first[w.add(n.tilt[1])], w.value = 1, pitch
	} else {
		sf, cf := math.Sincos(roll)
		st, ct := math.Sincos(pitch)
		sine := sf * ct
		cosine := math.Sqrt(max(1-sine*sine, 1e-18))
		w.value = math.Asin(sine)
		by := [2]float64{cf * ct, -sf * st}
		bend := [2][2]float64{{-sf * ct, -cf * st}, {-cf * st, -sf * ct}}
		var place [2]int
		for a, i := range n.tilt {
			if place[a] = -1; i >= 0 {
				place[a] = w.add(i)
				w.first[place[a]] = by[a] / cosine
			}
		}
		for a := range 2 {
			for b := range 2 {
				if second != nil && place[a] >= 0 && place[b] >= 0 {
					second[place[a]][place[b]] = bend[a][b]/cosine + sine*by[a]*by[b]/(cosine*cosine*cosine)
				}
			}
		}
	}
	w.residual = d.value - w.value
	n.withOffset(&w, s.p, d.offset, d.taken.Sign)
	return w
}

// priors are the constant errors of the instruments and the holds, each known to be
// 0 within its standard uncertainty.
func (n *network) priors(p []float64) []weighted {
	var out []weighted
	prior := func(i int, variance float64) {
		w := weighted{weight: 1 / variance, residual: -p[i]}
		w.first[w.add(i)] = 1
		out = append(out, w)
	}
	for b, body := range n.bodies {
		for k, u := range body.hold {
			if u > 0 {
				prior(6*b+k, u*u)
			}
		}
	}
	for i, o := range n.offsets {
		prior(n.firstOffset()+i, o.variance())
	}
	return out
}

// squares is S.
func squares(rows []weighted) float64 {
	sum := 0.0
	for _, r := range rows {
		sum += r.residual * r.residual * r.weight
	}
	return sum
}

// normals returns AᵀWA and AᵀWr.
func (n *network) normals(rows []weighted) (*mat.SymDense, []float64) {
	normal, right := make([]float64, n.params*n.params), make([]float64, n.params)
	for k := range rows {
		r := &rows[k]
		for a := range r.count {
			i, wa := r.index[a], r.weight*r.first[a]
			right[i] += wa * r.residual
			for b := range r.count {
				normal[i*n.params+r.index[b]] += wa * r.first[b]
			}
		}
	}
	return mat.NewSymDense(n.params, normal), right
}

// decompose finds the singular values of the weighted system with its columns
// scaled to norm 1.
func (a *adjustment) decompose(rows []weighted) {
	n := a.n
	a.scale = make([]float64, n.params)
	for k := range rows {
		for i := range rows[k].count {
			v := rows[k].first[i]
			a.scale[rows[k].index[i]] += v * v * rows[k].weight
		}
	}
	greatest := 0.0
	for i, v := range a.scale {
		a.scale[i] = math.Sqrt(v)
		greatest = max(greatest, a.scale[i]/n.arc[i])
	}
	a.zero = make([]bool, n.params)
	for i, v := range a.scale {
		if a.zero[i] = v/n.arc[i] <= zeroColumn*greatest; a.zero[i] {
			v = max(greatest, 1) * n.arc[i] // any scale: a reading to come may see it
		}
		a.scale[i] = 1 / v
	}
	system := mat.NewDense(max(len(rows), n.params), n.params, nil)
	for k := range rows {
		root := math.Sqrt(rows[k].weight)
		for i := range rows[k].count {
			if j := rows[k].index[i]; !a.zero[j] {
				system.Set(k, j, rows[k].first[i]*root*a.scale[j])
			}
		}
	}
	var qr mat.QR
	qr.Factorize(system)
	var r mat.Dense
	qr.RTo(&r)
	var svd mat.SVD
	a.rank, a.v = 0, new(mat.Dense)
	if !svd.Factorize(r.Slice(0, n.params, 0, n.params), mat.SVDThin) {
		a.values = make([]float64, n.params)
		a.v.CloneFrom(mat.NewDense(n.params, n.params, nil))
		return
	}
	a.values = svd.Values(nil)
	svd.VTo(a.v)
	for _, v := range a.values {
		if v > 0 && v >= unseenValue*a.values[0] {
			a.rank++
		}
	}
}

// solve returns N⁺ b: of least norm in the scaled parameters.
func (a *adjustment) solve(b []float64) []float64 {
	out := make([]float64, len(b))
	for k := range a.rank {
		part := 0.0
		for i := range b {
			part += a.v.At(i, k) * a.scale[i] * b[i]
		}
		part /= a.values[k] * a.values[k]
		for i := range out {
			out[i] += part * a.v.At(i, k) * a.scale[i]
		}
	}
	return out
}

// small tells whether a step ends the iteration.
func (n *network) small(step []float64) bool {
	for i, d := range step {
		if bound := map[bool]float64{true: smallTurn, false: smallStep}[n.isAngle(i)]; math.Abs(d) > bound {
			return false
		}
	}
	return true
}

// isAngle tells whether a parameter is in radians.
func (n *network) isAngle(i int) bool {
	switch {
	case i < 6*len(n.bodies):
		return i%6 >= 3
	case i < n.firstOffset():
		return true
	}
	return n.offsets[i-n.firstOffset()].angular
}

// adjust brings the network to least squares from its nominal position; ok is
// false when it does not converge.
func (n *network) adjust() (a *adjustment, ok bool) {
	a = &adjustment{n: n, p: make([]float64, n.params)}
	rows := n.rows(n.at(a.p), 0)
	for range iterations {
		before := squares(rows)
		step, falls := n.step(a, rows)
		if step == nil {
			return nil, false
		}
		if falls <= noFall*before || n.small(step) {
			a.p = shifted(a.p, step, 1) // one more full step
			return a, a.finish()
		}
		share, next := 1.0, shifted(a.p, step, 1)
		rows = n.rows(n.at(next), 0)
		after := squares(rows)
		for !(after < before) && share > leastShare {
			share /= 2
			next = shifted(a.p, step, share)
			rows = n.rows(n.at(next), 0)
			after = squares(rows)
		}
		if !(after < before) {
			a.p = shifted(a.p, step, 1) // one more full step
			return a, a.finish()
		}
		a.p = next
	}
	return nil, false
}

// wellSeen is the condition of the scaled normal equations up to which everything is
// surely seen: far below the square of 1/unseenValue.
const wellSeen = 1e10

// step is the next Gauss–Newton step, by the normal equations where everything is
// surely seen and else by singular values; nil when there is none. The linear model
// says by how much S falls.
func (n *network) step(a *adjustment, rows []weighted) (step []float64, falls float64) {
	normal, right := n.normals(rows)
	defer func() {
		for i := range step {
			falls += step[i] * right[i]
		}
	}()
	if step = n.scaledSolve(normal, right); step != nil {
		return step, 0
	}
	a.decompose(rows)
	step = a.solve(right)
	for _, d := range step {
		if math.IsNaN(d) || math.IsInf(d, 0) {
			return nil, 0
		}
	}
	return step, 0
}

// scaledSolve solves the normal equations with their diagonal scaled to 1; nil where
// something may be unseen.
func (n *network) scaledSolve(normal *mat.SymDense, right []float64) []float64 {
	scale, scaled := make([]float64, n.params), mat.NewSymDense(n.params, nil)
	least, greatest := math.Inf(1), 0.0
	for i := range n.params {
		size := math.Sqrt(normal.At(i, i))
		least, greatest = min(least, size/n.arc[i]), max(greatest, size/n.arc[i])
		scale[i] = 1 / size
	}
	if !(least > 1e4*zeroColumn*greatest) {
		return nil // a column may be nothing but rounding
	}
	target := mat.NewVecDense(n.params, nil)
	for i := range n.params {
		target.SetVec(i, right[i]*scale[i])
		for j := i; j < n.params; j++ {
			scaled.SetSym(i, j, normal.At(i, j)*scale[i]*scale[j])
		}
	}
	var chol mat.Cholesky
	var v mat.VecDense
	if !chol.Factorize(scaled) || !(chol.Cond() < wellSeen) || chol.SolveVecTo(&v, target) != nil {
		return nil
	}
	out := make([]float64, n.params)
	for i := range out {
		out[i] = v.AtVec(i) * scale[i]
	}
	return out
}

func shifted(p, step []float64, share float64) []float64 {
	out := make([]float64, len(p))
	for i := range p {
		out[i] = p[i] + share*step[i]
	}
	return out
}

// finish leaves the adjustment at its solution.
func (a *adjustment) finish() bool {
	for _, v := range a.p {
		if math.IsNaN(v) || math.IsInf(v, 0) {
			return false
		}
	}
	a.at = a.n.at(a.p)
	return true
}

// seen works out, once, which directions the readings see at the solution.
func (a *adjustment) seen() {
	if !a.decomposed {
		a.decomposed = true
		a.decompose(a.n.rows(a.at, 0))
	}
}

// curvature returns half the second derivatives of S: the normal matrix less the
// residuals' weight on how each reading bends.
func (a *adjustment) curvature(normal *mat.SymDense, placings int) *mat.SymDense {
	out := mat.NewSymDense(a.n.params, nil)
	out.CopySym(normal)
	bend := func(w *weighted, second *bends) {
		for i := range w.count {
			for j := i; j < w.count; j++ {
				// A parameter may stand in both halves of a sight only once, so i ≠ j are two.
				p, q := w.index[i], w.index[j]
				out.SetSym(p, q, out.At(p, q)-w.weight*w.residual*second[i][j])
			}
		}
	}
	for i := range a.n.observations {
		if o := &a.n.observations[i]; !o.aside {
			var second bends
			w := a.n.row(a.at, o, placings, &second)
			bend(&w, &second)
		}
	}
	for k, d := range a.n.datum {
		if d != nil {
			var second bends
			w := a.n.datumRow(a.at, k, placings, &second)
			bend(&w, &second)
		}
	}
	return out
}

// covariance returns that of the parameters if every reading had at least so many
// placings. The solution moves with the readings by M⁻¹AᵀW, M being half the second
// derivatives of S, so that the covariance is M⁻¹ N M⁻¹ with N = AᵀWA and priors. Of
// what is unseen it holds nothing.
func (a *adjustment) covariance(placings int) *mat.Dense {
	a.seen()
	if a.rank == 0 {
		return mat.NewDense(a.n.params, a.n.params, nil)
	}
	normal, _ := a.n.normals(a.n.rows(a.at, placings))
	curved := a.curvature(normal, placings)
	// In the seen directions of the scaled parameters.
	n := a.n.params
	directions := mat.NewDense(n, a.rank, nil)
	for k := range a.rank {
		for i := range n {
			directions.Set(i, k, a.v.At(i, k)*a.scale[i])
		}
	}
	var half, small, bent, inverse, out mat.Dense
	half.Mul(normal, directions)
	small.Mul(directions.T(), &half)
	half.Reset()
	half.Mul(curved, directions)
	bent.Mul(directions.T(), &half)
	if inverse.Inverse(&bent) != nil && inverse.IsEmpty() {
		return mat.NewDense(n, n, nil)
	}
	half.Reset()
	half.Mul(&inverse, &small)
	small.Reset()
	small.Mul(&half, inverse.T())
	half.Reset()
	half.Mul(directions, &small)
	out.Mul(&half, directions.T())
	return &out
}

// unseen tells which parameters the readings and priors cannot determine.
func (a *adjustment) unseen() []bool {
	a.seen()
	out := make([]bool, a.n.params)
	for i := range out {
		for k := a.rank; k < a.n.params; k++ {
			out[i] = out[i] || math.Abs(a.v.At(i, k)) > unseenPart
		}
	}
	return out
}
