package measure

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"

	"orpine/internal/core/quantity"
)

// squareKind is how the check is called, limited, disturbed and told.
var squareKind = Kind{
	Name: "square", Title: "Square to the centreline, by tapes to both tips", New: func() Check { return new(Square) },
	Limits:    []Limitable{{"skew", Angle}, {"tip_offset", Length}, {"position", Length}, {"lateral", Length}, {"leverage", Ratio}},
	Disturbed: longer(1000, (*Square).longest),
	Schools:   []string{},
	Headlines: map[string]string{"skew": "skew, right tip aft", "tip_offset": "right tip aft", "position": "aft of where it should be", "lateral": "to the right of the centreline", "leverage": "leverage of the tapes"},
}

// Square is a surface measured with tapes from points on the centreline to both
// of its tips. Skew is positive with the right tip aft.
type Square struct {
	Station  quantity.Length `ws:"station"` // nominal x of the tip points
	HalfSpan quantity.Length `ws:"half_span"`
	From     []FromPoint     `ws:"from"`
}

// FromPoint is a point on the centreline with its two tapes.
type FromPoint struct {
	Name  string          `ws:"name"`
	X     quantity.Length `ws:"x"`
	Z     quantity.Length `ws:"z,optional"` // of this point above the tips
	Left  Reading         `ws:"left" as:"length"`
	Right Reading         `ws:"right" as:"length"`
}

// weakLeverage is the tip offset per millimetre of disagreement above which a
// from-point is too near the line of the tips to say much.
const weakLeverage = 3

// Validate refuses from-points abreast of the tips, several all at one place
// (they cannot tell skew from side-shift), and readings that are exact (they
// have no weight).
func (c *Square) Validate(report func(path, message string)) {
	if c.HalfSpan <= 0 {
		report("half_span", "must be above 0")
	}
	if len(c.From) == 0 {
		report("from", "is an empty list")
		return
	}
	least, greatest := c.From[0].X, c.From[0].X
	for i, p := range c.From {
		path := fmt.Sprintf("from[%d]", i)
		least, greatest = min(least, p.X), max(greatest, p.X)
		if math.Abs(float64(c.Station-p.X)) <= 1 {
			report(path+".x", "is abreast of the tips: nothing can be told from there")
		}
		for field, r := range map[string]Reading{"left": p.Left, "right": p.Right} {
			if len(r.Values) > 0 && r.Exact() {
				report(path+"."+field, "is taken as exact; give it an instrument with a resolution or a spread")
			}
		}
	}
	if len(c.From) > 1 && greatest-least <= 1 {
		report("from", "are all at one place: they cannot tell skew from side-shift")
	}
}

// squareTape is one tape with what it should read.
type squareTape struct {
	from  FromPoint
	side  float64 // +1 right, −1 left
	read  Estimate
	taken int // its number among the readings of the check
	index int // of the instrument's unknown error among the parameters; −1 for none
}

// squareFit is the adjustment: parameters f (aft), skew in radians, e (right)
// when there are two from-points, then the errors of the instruments.
type squareFit struct {
	c      *Square
	w      *Work
	tapes  []squareTape
	params int
	free   bool  // e is a parameter
	priors []int // the instruments whose error is a parameter, by number
}

// Solve adjusts the position of the surface to all tapes by least squares on the
// distances in space, weighted by 1/u², with the instruments' constant errors as
// further unknowns of prior standard uncertainty offset/√3. Gauss–Newton, the
// step halved while the weighted sum of squares rises.
func (c *Square) Solve(w *Work) {
	s := c.newFit(w)
	p, ok := s.solve()
	if !ok {
		w.Find("did-not-converge", "these tapes fit no position: look for a wrong one")
		w.AtBestUnsure()
		return
	}
	half, skew := float64(c.HalfSpan), p[1]
	u := func(parameter int, by float64) func(int) float64 {
		return func(placings int) float64 {
			return math.Abs(by) * math.Sqrt(s.covariance(p, placings).At(parameter, parameter))
		}
	}
	var read []Estimate
	for _, t := range s.tapes {
		read = append(read, t.read)
	}
	w.Extreme("skew", nil, Angle, skew*perRadian, u(1, perRadian), read)
	offset := half * math.Sin(skew)
	w.Extreme("tip_offset", nil, Length, offset, u(1, half*math.Cos(skew)), read)
	w.Extreme("position", nil, Length, p[0], u(0, 1), read)
	if s.free {
		w.Extreme("lateral", nil, Length, p[2], u(2, 1), read)
	} else {
		w.Find("assumes-centred", "one pair of tapes cannot tell skew from side-shift: take a pair from a second point")
	}
	c.leverage(w, s.tapes)
	direction := "aft"
	if skew > 0 {
		direction = "forward"
	}
	w.Move("right tip", direction, math.Abs(offset))
	w.explain("skew", fmt.Sprintf("best fit to %d tapes", len(s.tapes)), deg(skew*perRadian))
	w.explain("tip offset", fmt.Sprintf("half span × sin(skew) = %s × sin %s", mm(half), deg(skew*perRadian)), mm(offset))
}

// leverage tells how a disagreement of a point's two tapes shows at the tip.
func (c *Square) leverage(w *Work, tapes []squareTape) {
	for i, p := range c.From {
		v := (tapes[2*i].read.Value + tapes[2*i+1].read.Value) / 2 / (2 * math.Abs(float64(c.Station-p.X)))
		w.QuantityAt("leverage", p.Name, Ratio, Exact(v))
		if v > weakLeverage {
			w.Find("weak-geometry", p.Name+" is too near the line of the tips: measure from a point further away")
		}
	}
}

func (c *Square) newFit(w *Work) *squareFit {
	s := &squareFit{c: c, w: w, free: len(c.From) > 1, params: 2}
	if s.free {
		s.params = 3
	}
	known := map[int]int{}
	for _, p := range c.From {
		for _, side := range []struct {
			sign float64
			r    Reading
		}{{-1, p.Left}, {1, p.Right}} {
			t := squareTape{from: p, side: side.sign, read: w.Read(side.r), index: -1}
			t.taken = len(w.readings) - 1
			if i := w.readings[t.taken].instrument; i >= 0 && w.offsets[i] > 0 {
				if _, ok := known[i]; !ok {
					known[i] = s.params
					s.priors = append(s.priors, i)
					s.params++
				}
				t.index = known[i]
			}
			s.tapes = append(s.tapes, t)
		}
	}
	return s
}

func (s *squareFit) used(t squareTape) used { return s.w.readings[t.taken] }

// sight is a tape at p: what it should read, with first derivatives by all
// parameters and second derivatives by those of the position.
type sight struct {
	distance float64
	by       []float64
	curve    [3][3]float64
}

// sight works a tape out: with v the vector along it and v_i its derivatives,
//
//	d_i = v·v_i/d,  d_ij = (v_i·v_j + v·v_ij − d_i d_j)/d.
func (s *squareFit) sight(t squareTape, p []float64) sight {
	half, lateral := float64(s.c.HalfSpan), 0.0
	if s.free {
		lateral = p[2]
	}
	sin, cos := math.Sincos(p[1])
	v := [3]float64{float64(s.c.Station) + p[0] + t.side*half*sin - float64(t.from.X), lateral + t.side*half*cos, float64(t.from.Z)}
	slopes := [3][2]float64{{1, 0}, {t.side * half * cos, -t.side * half * sin}, {0, 1}} // by f, ψ, e
	d := math.Sqrt(v[0]*v[0] + v[1]*v[1] + v[2]*v[2])
	out := sight{distance: d, by: make([]float64, s.params)}
	position := s.params - len(s.priors)
	for i := range position {
		out.by[i] = (v[0]*slopes[i][0] + v[1]*slopes[i][1]) / d
	}
	for i := range position {
		for j := range position {
			out.curve[i][j] = (slopes[i][0]*slopes[j][0] + slopes[i][1]*slopes[j][1] - out.by[i]*out.by[j]) / d
		}
	}
	out.curve[1][1] -= t.side * half * (v[0]*sin + v[1]*cos) / d
	if t.index >= 0 {
		out.distance += s.used(t).sign * p[t.index]
		out.by[t.index] = s.used(t).sign
	}
	return out
}

// system returns the weighted normal equations at p, the weighted sum of
// squares, and the normal matrix with the curvature of the distances: half the
// second derivatives of the sum of squares.
func (s *squareFit) system(p []float64, placings int) (normal, curved *mat.SymDense, right *mat.VecDense, squares float64) {
	normal, right, curved = mat.NewSymDense(s.params, nil), mat.NewVecDense(s.params, nil), mat.NewSymDense(s.params, nil)
	position := s.params - len(s.priors)
	for _, t := range s.tapes {
		at, weight := s.sight(t, p), 1/s.used(t).variance(placings)
		residual := t.read.Value - at.distance
		squares += residual * residual * weight
		right.AddScaledVec(right, residual*weight, mat.NewVecDense(s.params, at.by))
		normal.SymRankOne(normal, weight, mat.NewVecDense(s.params, at.by))
		for i := range position {
			for j := i; j < position; j++ {
				curved.SetSym(i, j, curved.At(i, j)-residual*weight*at.curve[i][j])
			}
		}
	}
	for i, instrument := range s.priors {
		k, variance := position+i, s.w.offsets[instrument]
		normal.SetSym(k, k, normal.At(k, k)+1/variance)
		right.SetVec(k, right.AtVec(k)-p[k]/variance)
		squares += p[k] * p[k] / variance
	}
	curved.AddSym(curved, normal)
	return normal, curved, right, squares
}

// covariance of the parameters at p. The estimate moves with the readings by
// M⁻¹AᵀW, M being half the second derivatives of the weighted sum of squares,
// so that the covariance is M⁻¹ (AᵀWA) M⁻¹.
func (s *squareFit) covariance(p []float64, placings int) mat.Matrix {
	normal, curved, _, _ := s.system(p, placings)
	var inverse, half, out mat.Dense
	if inverse.Inverse(curved) != nil {
		unknown := mat.NewDiagDense(s.params, nil)
		for i := range s.params {
			unknown.SetDiag(i, math.MaxFloat64)
		}
		return unknown
	}
	half.Mul(&inverse, normal)
	out.Mul(&half, &inverse)
	return &out
}

// The bounds of the iteration: steps this small in millimetres and radians end it.
const (
	smallStep  = 1e-9
	smallTurn  = 1e-11
	iterations = 50
)

// solve iterates from the nominal position.
func (s *squareFit) solve() (p []float64, ok bool) {
	p = make([]float64, s.params)
	for range iterations {
		step, squares, solved := s.step(p)
		if !solved {
			return nil, false
		}
		share, next := 1.0, shifted(p, step, 1)
		_, _, _, after := s.system(next, 0)
		for !(after < squares) && share > 1e-6 {
			share /= 2
			next = shifted(p, step, share)
			_, _, _, after = s.system(next, 0)
		}
		if s.small(step) || !(after < squares) {
			return shifted(p, step, 1), true // one more full step
		}
		p = next
	}
	return nil, false
}

func (s *squareFit) step(p []float64) (step []float64, squares float64, ok bool) {
	normal, _, right, squares := s.system(p, 0)
	var chol mat.Cholesky
	var v mat.VecDense
	if !chol.Factorize(normal) || chol.SolveVecTo(&v, right) != nil {
		return nil, squares, false
	}
	return v.RawVector().Data, squares, true
}

func (s *squareFit) small(step []float64) bool {
	for i, d := range step {
		if bound := map[bool]float64{true: smallTurn, false: smallStep}[i == 1]; math.Abs(d) > bound {
			return false
		}
	}
	return true
}

func shifted(p, step []float64, share float64) []float64 {
	out := make([]float64, len(p))
	for i := range p {
		out[i] = p[i] + share*step[i]
	}
	return out
}

// Expect returns the length of a tape to the tip of a surface that lies as planned.
func (c *Square) Expect(at Spot) (nominal float64, ok bool) {
	for _, p := range c.From {
		if p.Name == at.Point {
			along := float64(c.Station - p.X)
			return math.Sqrt(along*along + float64(c.HalfSpan*c.HalfSpan) + float64(p.Z*p.Z)), true
		}
	}
	return 0, false
}

// Walk takes both tapes from each point.
func (c *Square) Walk() []Spot {
	how := "hook on the centreline point, read at the same edge of the tip, tape straight"
	var spots []Spot
	for _, p := range c.From {
		spots = append(spots, Spot{"from", p.Name, "left", "to the left tip", Length, "length", how}, Spot{"from", p.Name, "right", "to the right tip", Length, "length", how})
	}
	return spots
}

// longest is the longest tape from the centreline, as the plans have it.
func (c *Square) longest() (mm float64, known bool) {
	for _, p := range c.From {
		nominal, ok := c.Expect(Spot{Point: p.Name})
		mm, known = max(mm, nominal), known || ok
	}
	return mm, known
}
