package measure

import "math"

// OneSided is how many figures in a row on one side of their middle are no chance any more: of seven, each as likely
// above as below, once in sixty-four.
const OneSided = 7

// Drifts finds the latest run of figures that lie on one side of the mean of all, OneSided or more of them (the run rule
// of control charts). from and to are the first and the last of the run; ok is false for none.
func Drifts(values []float64) (from, to int, ok bool) {
	mean := 0.0
	for _, v := range values {
		mean += v / float64(len(values))
	}
	side := func(v float64) int {
		switch {
		case v > mean+1e-9:
			return 1
		case v < mean-1e-9:
			return -1
		}
		return 0
	}
	start := 0
	for i, v := range values {
		if i > 0 && side(v) != side(values[i-1]) {
			start = i
		}
		if side(v) != 0 && i-start+1 >= OneSided {
			from, to, ok = start, i, true
		}
	}
	return from, to, ok
}

// Jumps are the indices of figures that lie further from the one before than three standard deviations of a difference,
// u being the standard uncertainty of each. None where u is not known.
func Jumps(values []float64, u float64) (out []int) {
	for i := 1; i < len(values); i++ {
		if u > 0 && math.Abs(values[i]-values[i-1]) > 3*math.Sqrt2*u {
			out = append(out, i)
		}
	}
	return out
}
