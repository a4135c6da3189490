package measure

import "math"

// Sag is by how much a tape that hangs between its ends reads more than the distance, both
// in mm: w²L³/(24T²), with the weight w in newtons a metre and the pull T in newtons. It is
// the first term of the catenary, less than a thousandth of itself off while the sag of
// the middle is below a fiftieth of the length.
func Sag(mm, newtonsPerMetre, newtons float64) float64 {
	l := mm / 1000
	return newtonsPerMetre * newtonsPerMetre * l * l * l / (24 * newtons * newtons) * 1000
}

// SagCorrection takes the sag off what was read, with the uncertainty of a pull that is
// known to within a share of itself (standard uncertainty): the sag goes with the square of
// the pull. The readings of one tape at one pull share that error.
func SagCorrection(mm, newtonsPerMetre, newtons, share float64, common string) Correction {
	sag := Sag(mm, newtonsPerMetre, newtons)
	return Correction{Why: "sag of the tape", Value: -sag, U: 2 * share * sag, Common: common}
}

// Between is the value at a time between two others, along the straight line; outside it
// is the nearer one.
func Between(t1, v1, t2, v2, t float64) float64 {
	if t2 == t1 {
		return v2
	}
	share := math.Max(0, math.Min(1, (t-t1)/(t2-t1)))
	return v1 + share*(v2-v1)
}

// DriftU is the standard uncertainty of a zero that was found as z1 with u and later as
// z2, and taken to have changed evenly between: u² + (z2 − z1)²/12, for it may as well have
// changed at once.
func DriftU(u, z1, z2 float64) float64 { return math.Sqrt(u*u + (z2-z1)*(z2-z1)/12) }

// SpreadAllowance is how many times the standard deviation of a few placings is stated as
// the spread of an instrument. Placings in a shop have heavier tails than the normal
// distribution, and a few of them seldom show these: on the simulated shop (docs/proof.md)
// what ten placings show falls short by a seventh, taken at the median.
const SpreadAllowance = 1.15
