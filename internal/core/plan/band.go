package plan

import (
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/stat"
)

// Band is when a build is finished, as it may turn out: what of it is not held for good.
type Band struct {
	Left                int   // steps that are, and are left out
	Early, Likely, Late int64 // minutes: with 10, 50 and 90 %; never where it then does not end as it is planned
	Moves               []Move
}

// Ends tells whether it ends with 90 % as it is planned.
func (b Band) Ends() bool { return b.Late != never }

// Move is a step whose own length moves the finish, by how much they go together.
type Move struct {
	Step        int
	Correlation float64
}

// What is not known of a build, as standard deviations of logarithms unless said otherwise:
// general experience of hobby building, to be outgrown by the builder's own record.
const (
	commonDoubt  = 0.30 // of the builder's pace, before anything is known of it
	commonLeast  = 0.08 // after any amount of work: shops and seasons change
	pacedHours   = 20.0 // hours of record after which half of the variance is gone
	plainScatter = 0.25 // of a step whose hours are given as one number
	reworkShare  = 0.10 // of the steps are partly done again,
	reworkLong   = 0.50 // for half as long
	lostShare    = 0.10 // of the evenings that are planned fall away
)

// draws is how often a build is played through, and mostSteps what may be played.
const (
	draws     = 300
	mostSteps = 600
)

// Band plays the build through: the builder's pace is one common factor, each step scatters by
// itself within its low and high, some of it comes back as rework, and some evenings fall
// away. ok is false where it never ends, or is too large to be played.
func (p Plan) Band(seed uint64) (b Band, ok bool) {
	s, left := p.planner()
	if b.Left = len(left); len(p.Steps) > mostSteps {
		return b, false
	}
	record := 0.0
	for _, one := range p.paces(s.worked) {
		record += one.Estimated
	}
	common := math.Sqrt(max(commonLeast*commonLeast, commonDoubt*commonDoubt/(1+record/pacedHours)))
	random := rand.New(rand.NewPCG(seed, 12))
	var open []int
	for i := range p.Steps {
		if s.run.ended[i] >= 0 {
			open = append(open, i)
		}
	}
	if len(open) == 0 {
		return b, false
	}
	lengths := make([][]float64, len(open))
	// What each draw takes is drawn one after the other, so that a seed gives the same; the draws
	// are then played through beside one another.
	remaining := make([][]int64, draws)
	for d := range draws {
		factor := math.Exp(common*random.NormFloat64()-common*common/2) / (1 - lostShare*2*random.Float64())
		remaining[d] = slices.Clone(s.work.remaining)
		for k, i := range open {
			own := p.Steps[i].scatter(random)
			if random.Float64() < reworkShare {
				own *= 1 + reworkLong
			}
			remaining[d][i] = int64(max(1, math.Round(float64(s.work.remaining[i])*factor*own)))
			lengths[k] = append(lengths[k], float64(remaining[d][i])/factor)
		}
	}
	finishes := make([]float64, draws)
	spread(draws, func(d int) {
		other := *s.model
		other.work.remaining = remaining[d]
		run, finish := other.schedule(), p.Now
		for _, i := range open {
			if run.ended[i] < 0 { // too long for any stretch, or for the visits that there are
				finish = never
				break
			}
			finish = max(finish, run.ended[i]+s.work.cure[i])
		}
		finishes[d] = float64(finish)
	})
	ends := make([]float64, draws) // 1 for what ends, as weights
	for d, finish := range finishes {
		if finish != never {
			ends[d] = 1
		}
	}
	for k, i := range open {
		if c := stat.Correlation(lengths[k], finishes, ends); c > 0.05 {
			b.Moves = append(b.Moves, Move{i, c})
		}
	}
	slices.SortStableFunc(b.Moves, func(x, y Move) int { return sign(y.Correlation - x.Correlation) })
	b.Moves = b.Moves[:min(3, len(b.Moves))]
	slices.Sort(finishes)
	at := func(share float64) int64 {
		if v := stat.Quantile(share, stat.Empirical, finishes, nil); v < 1e15 {
			return int64(v)
		}
		return never
	}
	b.Early, b.Likely, b.Late = at(0.1), at(0.5), at(0.9)
	return b, b.Likely != never
}

// scatter is how long a step turns out against what is expected of it, before its builder's
// pace: triangular between low and high where they are given, else lognormal.
func (s Step) scatter(random *rand.Rand) float64 {
	if s.Low == s.High {
		return math.Exp(plainScatter*random.NormFloat64() - plainScatter*plainScatter/2)
	}
	u, share := random.Float64(), (s.Likely-s.Low)/(s.High-s.Low)
	v := s.Low + math.Sqrt(u*share)*(s.High-s.Low)
	if u > share {
		v = s.High - math.Sqrt((1-u)*(1-share))*(s.High-s.Low)
	}
	return v / ((s.Low + s.Likely + s.High) / 3)
}
