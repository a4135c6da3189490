package pose

import (
	"math"

	"orpine/internal/core/adjust"
)

// Few readings may fit a surface that stands far off as well as one that stands where it
// should: tapes cross in two places, and where a reading bends strongly, u says nothing of
// a position that is not next door. What u rests on is therefore tried once where the
// surfaces stand far off, or are hardly known.
//
// p is the solution, and q that with the surfaces drawn towards nominal by the weak
// knowledge of nearby. If the readings were linear, S(q) − S(p) ≥ (q_k − p_k)²/u_k² for
// every figure k, for 1/u_k² is the least by which S can rise with it. A figure for which
// S rises by much less is not known to within its u.

// farOff is from where on that is tried, and nearby what is known for it: mm and rad.
var (
	farOff = [2]float64{10, 0.5 / perRadian}
	nearby = [2]float64{10, 0.5 / perRadian}
)

// rival is where the surfaces might stand as well, and by how much S is greater there.
type rival struct {
	n    *network
	p    []float64
	rise float64
}

// rival looks for another position; nil where there is no need, or none.
func (n *network) rival(a *adjust.Solution) *rival {
	far := false
	for k := range 6 * len(n.bodies) {
		by := n.turned(k)
		far = far || math.Abs(a.P[k]) > farOff[by] || math.Sqrt(a.Variance(a.One(k))) > farOff[by]
	}
	if !far {
		return nil
	}
	drawn, ok := adjust.Solve(&weaklyHeld{n})
	if !ok {
		return nil
	}
	rise := -a.S
	for _, r := range n.Rows(drawn.P, 0) {
		rise += r.Residual * r.Residual * r.Weight
	}
	return &rival{n, drawn.P, max(0, rise)}
}

// turned is 1 for an unknown in rad, else 0.
func (n *network) turned(unknown int) int {
	if n.turns[unknown] {
		return 1
	}
	return 0
}

// disputes tells whether a figure differs there by more than S allows for its u.
func (r *rival) disputes(difference, u float64) bool {
	return r != nil && math.Abs(difference) > u*(1+1.2*math.Sqrt(r.rise))
}

// at is an unknown there.
func (r *rival) at(unknown int) float64 {
	if r == nil {
		return 0
	}
	return r.p[unknown]
}

// stands is the state there; where there is none, the other.
func (r *rival) stands(otherwise *state) *state {
	if r == nil {
		return otherwise
	}
	return r.n.at(r.p)
}

// weaklyHeld is a network whose surfaces are known to be nearby.
type weaklyHeld struct{ *network }

// Rows are those of the network, and what is known of its surfaces.
func (n *weaklyHeld) Rows(p []float64, placings int) []adjust.Row {
	rows := n.network.Rows(p, placings)
	for k := range 6 * len(n.bodies) {
		u := nearby[n.turned(k)]
		r := adjust.Row{Residual: -p[k], Weight: 1 / (u * u)}
		r.First[r.Add(k)] = 1
		rows = append(rows, r)
	}
	return rows
}
