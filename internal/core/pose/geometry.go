package pose

import "math"

// vector is a place or a difference of places in airframe axes, in millimetres:
// x aft, y right, z up.
type vector [3]float64

func (a vector) plus(b vector) vector  { return vector{a[0] + b[0], a[1] + b[1], a[2] + b[2]} }
func (a vector) minus(b vector) vector { return vector{a[0] - b[0], a[1] - b[1], a[2] - b[2]} }
func (a vector) times(k float64) vector {
	return vector{k * a[0], k * a[1], k * a[2]}
}
func (a vector) dot(b vector) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
func (a vector) length() float64      { return math.Sqrt(a.dot(a)) }

// matrix is a 3 × 3 matrix by rows.
type matrix [3]vector

func (m matrix) apply(v vector) vector { return vector{m[0].dot(v), m[1].dot(v), m[2].dot(v)} }

func (m matrix) times(o matrix) matrix {
	var out matrix
	for i := range 3 {
		for j := range 3 {
			out[i][j] = m[i][0]*o[0][j] + m[i][1]*o[1][j] + m[i][2]*o[2][j]
		}
	}
	return out
}

// turn is one elementary rotation with its first and second derivative.
func turn(axis int, angle float64) [3]matrix {
	s, c := math.Sincos(angle)
	// The two axes that the rotation mixes: a' = a cos + b sin, b' = b cos − a sin.
	a, b := [3]int{1, 0, 0}[axis], [3]int{2, 2, 1}[axis]
	var value, first, second matrix
	value[axis][axis] = 1
	value[a][a], value[a][b], value[b][b], value[b][a] = c, s, c, -s
	first[a][a], first[a][b], first[b][b], first[b][a] = -s, c, -s, -c
	second[a][a], second[a][b], second[b][b], second[b][a] = -c, -s, -c, s
	return [3]matrix{value, first, second}
}

// attitude is the rotation of a surface, first by roll, then pitch, then yaw, with
// its derivatives by the three angles in radians:
//
//	roll φ:  y' = y cos φ + z sin φ      z' = z cos φ − y sin φ
//	pitch θ: x' = x cos θ + z sin θ      z' = z cos θ − x sin θ
//	yaw ψ:   x' = x cos ψ + y sin ψ      y' = y cos ψ − x sin ψ
type attitude struct {
	value  matrix
	first  [3]matrix
	second [3][3]matrix
}

func newAttitude(angles vector) attitude {
	var t [3][3]matrix // rotation, order of derivative
	for k := range 3 {
		t[k] = turn(k, angles[k])
	}
	product := func(order [3]int) matrix {
		return t[2][order[2]].times(t[1][order[1]]).times(t[0][order[0]])
	}
	a := attitude{value: product([3]int{})}
	for k := range 3 {
		var order [3]int
		order[k] = 1
		a.first[k] = product(order)
		for l := range 3 {
			both := order
			both[l]++
			a.second[k][l] = product(both)
		}
	}
	return a
}

// plumb is the direction of plumb-up in airframe axes for an airframe that rolls
// by φ (right side low) and pitches by θ (nose up), with its derivatives:
//
//	U = (−sin θ, −sin φ cos θ, cos θ cos φ)
type plumb struct {
	value  vector
	first  [2]vector    // by φ, θ
	second [2][2]vector // likewise
}

func newPlumb(roll, pitch float64) plumb {
	sf, cf := math.Sincos(roll)
	st, ct := math.Sincos(pitch)
	return plumb{
		value:  vector{-st, -sf * ct, ct * cf},
		first:  [2]vector{{0, -cf * ct, -ct * sf}, {-ct, sf * st, -st * cf}},
		second: [2][2]vector{{{0, sf * ct, -ct * cf}, {0, cf * st, st * sf}}, {{0, cf * st, st * sf}, {st, sf * ct, -ct * cf}}},
	}
}
