package pose

import (
	"math"

	"gonum.org/v1/gonum/mat"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// Attach is a point where the surface is held, and how it may be moved there: free
// (the default), fixed, or by shims up or down only. Whatever may not be moved by
// itself still follows as the surface turns about the others.
type Attach struct {
	Name string          `ws:"name"`
	X    quantity.Length `ws:"x"`
	Y    quantity.Length `ws:"y"`
	Z    quantity.Length `ws:"z"`
	May  string          `ws:"may,optional" oneof:"free fixed up down"`
}

func (p Attach) at() vector { return vector{float64(p.X), float64(p.Y), float64(p.Z)} }

// constrained tells whether any attach point may not be moved freely.
func constrained(points []Attach) bool {
	for _, p := range points {
		if p.May != "" && p.May != "free" {
			return true
		}
	}
	return false
}

// unlimited is how far a freedom without limits may stay off, in mm and rad, before
// it counts as much as a limited one at its limit.
var unlimited = [6]float64{10, 10, 10, 1 / perRadian, 1 / perRadian, 1 / perRadian}

// reach finds the small motion m of a surface that brings it nearest to nominal when
// its attach points may be moved only as they may. With q the freedoms as found and
// D their tolerances, |D⁻¹(q + m)| is least subject to J m = 0 at fixed points and
// J_z m ≥ 0 or ≤ 0 at shimmed ones, which move sideways no more than they must as the surface
// tilts (see unslid), J the derivatives of a point by the freedoms:
// a quadratic programme of six unknowns, solved by an active set (Nocedal and Wright,
// Numerical Optimization, 16.5).
func reach(a adjusted, body int, points []Attach, tolerance [6]float64) (m [6]float64) {
	var equal, atLeast, fixed, sideways [][6]float64
	for _, p := range points {
		j := a.at.jacobian(body, p.at())
		switch p.May {
		case "fixed":
			equal, fixed = append(equal, j[0], j[1], j[2]), append(fixed, j[0], j[1])
		case "up":
			atLeast, sideways = append(atLeast, j[2]), append(sideways, j[0], j[1])
		case "down":
			atLeast, sideways = append(atLeast, negative(j[2])), append(sideways, j[0], j[1])
		}
	}
	equal = append(equal, unslid(fixed, sideways)...)
	var q [6]float64
	copy(q[:], a.P[6*body:6*body+6])
	active := make([]bool, len(atLeast))
	for range 4 * (len(atLeast) + 1) {
		rows := append([][6]float64(nil), equal...)
		var which []int
		for i, on := range active {
			if on {
				rows, which = append(rows, atLeast[i]), append(which, i)
			}
		}
		var multipliers []float64
		m, multipliers = nearest(q, rows, tolerance)
		worst, at := -1e-9, -1
		for i, row := range atLeast {
			if v := along(row, m); !active[i] && v < worst {
				worst, at = v, i
			}
		}
		if at >= 0 {
			active[at] = true
			continue
		}
		least, drop := -1e-9, -1
		for k, i := range which {
			if l := multipliers[len(equal)+k]; l < least {
				least, drop = l, i
			}
		}
		if drop < 0 {
			return m
		}
		active[drop] = false
	}
	return m
}

// unslid are the rows that keep shimmed points from sliding. Of the motions in the plane (x, y and yaw) that the
// fixed points leave, U spans what they would slide; Uᵀ J m = 0 leaves the least sum of squares of it as the
// surface tilts.
func unslid(fixed, sideways [][6]float64) (rows [][6]float64) {
	if len(sideways) == 0 {
		return nil
	}
	const arm = 1000.0 // mm: a turn as what it moves at this distance
	inPlane := func(of [][6]float64) *mat.Dense {
		out := mat.NewDense(max(len(of), 3), 3, nil)
		for i, row := range of {
			out.SetRow(i, []float64{row[0], row[1], row[5] / arm})
		}
		return out
	}
	var left, right mat.SVD
	if !left.Factorize(inPlane(fixed), mat.SVDThin) {
		return nil
	}
	var v mat.Dense
	left.VTo(&v)
	var free []int
	for k, s := range left.Values(nil) {
		if s < seesPlane {
			free = append(free, k)
		}
	}
	if len(free) == 0 {
		return nil
	}
	motions := mat.NewDense(3, len(free), nil)
	for i, k := range free {
		motions.SetCol(i, mat.Col(nil, k, &v))
	}
	var slides, u mat.Dense
	slides.Mul(inPlane(sideways), motions)
	if !right.Factorize(&slides, mat.SVDThin) {
		return nil
	}
	right.UTo(&u)
	for k, s := range right.Values(nil) {
		if s < seesPlane {
			continue
		}
		var out [6]float64
		for i, row := range sideways {
			for f := range out {
				out[f] += u.At(i, k) * row[f]
			}
		}
		rows = append(rows, out)
	}
	return rows
}

// seesPlane is the singular value below which a motion in the plane moves no point.
const seesPlane = 1e-6

func negative(row [6]float64) [6]float64 {
	for i := range row {
		row[i] = -row[i]
	}
	return row
}

func along(row, m [6]float64) float64 {
	sum := 0.0
	for i := range row {
		sum += row[i] * m[i]
	}
	return sum
}

// jacobian is how a place on a surface moves with its freedoms.
func (s *state) jacobian(body int, at vector) (rows [3][6]float64) {
	lever := at.minus(s.n.bodies[body].pivot)
	for k := range 6 {
		var by vector
		if k < 3 {
			by[k] = 1
		} else {
			by = s.attitudes[body].first[k-3].apply(lever)
		}
		for axis := range 3 {
			rows[axis][k] = by[axis]
		}
	}
	return rows
}

// nearest is the motion that keeps every row at 0 and leaves q + m smallest for its
// tolerances, with the multipliers of the rows.
func nearest(q [6]float64, rows [][6]float64, tolerance [6]float64) (m [6]float64, multipliers []float64) {
	// In scaled freedoms y = D⁻¹ m the target is −D⁻¹ q.
	target := mat.NewVecDense(6, nil)
	for i := range 6 {
		target.SetVec(i, -q[i]/tolerance[i])
	}
	y := mat.VecDenseCopyOf(target)
	if len(rows) > 0 {
		kept := mat.NewDense(len(rows), 6, nil)
		for i, row := range rows {
			size := 0.0
			for k := range 6 {
				size += row[k] * tolerance[k] * row[k] * tolerance[k]
			}
			for k := range 6 {
				kept.Set(i, k, row[k]*tolerance[k]/math.Sqrt(max(size, 1e-30)))
			}
		}
		// The part of the target that the rows see is taken off: multipliers are its
		// coordinates by least squares.
		var svd mat.SVD
		multipliers = make([]float64, len(rows))
		if svd.Factorize(kept, mat.SVDThin) {
			var u, v mat.Dense
			svd.UTo(&u)
			svd.VTo(&v)
			values := svd.Values(nil)
			for k, s := range values {
				if s < 1e-9*values[0] {
					continue
				}
				part := mat.Dot(v.ColView(k), target)
				y.AddScaledVec(y, -part, v.ColView(k))
				for i := range rows {
					multipliers[i] -= u.At(i, k) * part / s
				}
			}
		}
	}
	for i := range 6 {
		m[i] = y.AtVec(i) * tolerance[i]
	}
	return m, multipliers
}

// moves gives the moves at the attach points of a surface: back to nominal where all
// may be moved freely, else those that may be made and where they bring it.
func (f *findings) moves(w *measure.Work, net *measure.Network, body int, surface any, points []Attach, limits [6]*measure.Limit) {
	if !constrained(points) {
		for _, p := range points {
			moveBack(w, p.Name, f.a.at.displaced(body, p.at()))
		}
		return
	}
	tolerance := unlimited
	for k, limit := range limits {
		if limit != nil {
			if half := halfWidth(*limit) / unitOf(k); half > 0 {
				tolerance[k] = half
			}
		}
	}
	m := reach(f.a, body, points, tolerance)
	for _, p := range points {
		j := f.a.at.jacobian(body, p.at())
		var moved vector
		for axis := range 3 {
			moved[axis] = -along(j[axis], m)
		}
		switch p.May {
		case "fixed":
		case "up", "down":
			moveBack(w, p.Name, vector{0, 0, moved[2]})
		default:
			moveBack(w, p.Name, moved)
		}
	}
	short := false
	for k, name := range Freedoms {
		after := measure.Quantity{Name: name, At: surface, Value: (f.a.P[6*body+k] + m[k]) * unitOf(k), Dimension: dimensionOf(k), U: f.u(6*body+k, 0) * unitOf(k)}
		if limit := limits[k]; limit != nil {
			after.Limit = limit
			short = short || !limit.Holds(after.Value)
		}
		net.Reached = append(net.Reached, after)
	}
	if short {
		w.Find("cannot-be-reached", "with what may be moved the surface does not come inside its limits: free another point")
	}
}
