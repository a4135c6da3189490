package measure

import (
	"fmt"
	"math"
	"slices"
)

// RailPoint is a support of a pair of rails that was surveyed: how far along it lies, on
// which side, and how high, all in mm, with the standard uncertainty of the height.
type RailPoint struct {
	Name    string
	X, Y, Z float64
	U       float64
	Known   bool // the height is read
}

// RailSlope is the slope of a pair of rails at one place, in degrees, front rail higher is
// plus, with what each height contributes to its standard uncertainty.
type RailSlope struct {
	Degrees float64
	Shares  []RailShare
}

// RailShare is |∂θ/∂z|·u(z) of one height, in degrees. A height enters every place with the
// same sign, so that what it shares with its neighbours adds up.
type RailShare struct {
	Name string
	U    float64
}

// beyond is how far past the last support a slope is still told, as a share of the last bay.
const beyond = 0.25

// SlopeAt finds the slope of a pair of rails at x. The rail of least y is the front one. Each
// rail is straight between its supports: z = Σ wᵢzᵢ with the weights of linear
// interpolation; the slope is atan((z front − z rear)/apart), and by propagation (JCGM 100,
// 5.1.2) ∂θ/∂zᵢ = ±wᵢ·cos²θ/apart. A constant error of the instrument cancels, for the weights
// of each rail add up to one. The error says what is missing.
func SlopeAt(points []RailPoint, x float64) (s RailSlope, err error) {
	rails := map[float64][]RailPoint{}
	for _, p := range points {
		rails[p.Y] = append(rails[p.Y], p)
	}
	if len(rails) != 2 {
		return s, fmt.Errorf("the supports lie along %d lines where two rails are wanted", len(rails))
	}
	var ys []float64
	for y := range rails {
		ys = append(ys, y)
	}
	slices.Sort(ys)
	apart := ys[1] - ys[0]
	var z [2]float64
	weights := map[string]float64{}
	for i, y := range ys {
		a, b, share, err := bay(rails[y], x)
		if err != nil {
			return s, err
		}
		for _, p := range []RailPoint{a, b} {
			if !p.Known {
				return s, fmt.Errorf("the height of %s is not read", p.Name)
			}
		}
		z[i] = a.Z*(1-share) + b.Z*share
		weights[a.Name] += 1 - share
		weights[b.Name] += share
	}
	theta := math.Atan((z[0] - z[1]) / apart)
	s.Degrees = theta * perRadian
	per := math.Cos(theta) * math.Cos(theta) / apart * perRadian
	for _, p := range points {
		if w := weights[p.Name]; w != 0 {
			s.Shares = append(s.Shares, RailShare{p.Name, math.Abs(w) * per * p.U})
		}
	}
	return s, nil
}

// bay finds the supports of a rail on both sides of x, and how far it lies from the first
// to the second.
func bay(rail []RailPoint, x float64) (a, b RailPoint, share float64, err error) {
	rail = slices.Clone(rail)
	slices.SortFunc(rail, func(a, b RailPoint) int { return int(math.Copysign(1, a.X-b.X)) })
	rail = slices.CompactFunc(rail, func(a, b RailPoint) bool { return a.X == b.X })
	if len(rail) < 2 {
		return a, b, 0, fmt.Errorf("a rail has one support where two are wanted")
	}
	i := 0
	for i < len(rail)-2 && x > rail[i+1].X {
		i++
	}
	a, b = rail[i], rail[i+1]
	share = (x - a.X) / (b.X - a.X)
	if share < -beyond || share > 1+beyond {
		return a, b, share, fmt.Errorf("%s lies beyond the last support: survey the rails there too", mm(x))
	}
	return a, b, share, nil
}
