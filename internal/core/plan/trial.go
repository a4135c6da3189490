package plan

import (
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"slices"
	"sync"

	"gonum.org/v1/gonum/stat"
)

// Trial is how plans of simulated builders came out.
type Trial struct {
	Builders int    `json:"builders"`
	Seed     uint64 `json:"seed"`
	Band     Share  `json:"band"` // true finishes between the 10 and the 90 %
	Early    Share  `json:"early"`
	Orders   int    `json:"orders"` // small plans of which the best order was searched
	Ours     Loss   `json:"ours"`   // what is advised
	Rule     Loss   `json:"rule"`   // the rule of the format
	Document Loss   `json:"document_order"`
	Longest  Loss   `json:"longest_first"`
}

// Share is a count as a share, with its bounds of 95 % (Wilson).
type Share struct {
	Count int     `json:"count"`
	Share float64 `json:"share"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// Loss is by how much a way of choosing finishes later than the best order that was found, as
// shares of what that takes.
type Loss struct {
	Mean  float64 `json:"mean"`
	Worst float64 `json:"worst"`
	Best  int     `json:"best"` // how often nothing better was found
}

func shareOf(count, n int) Share {
	if n == 0 {
		return Share{}
	}
	const z = 1.96
	p, m := float64(count)/float64(n), float64(n)
	middle := (p + z*z/(2*m)) / (1 + z*z/m)
	half := z / (1 + z*z/m) * math.Sqrt(p*(1-p)/m+z*z/(4*m*m))
	return Share{count, p, middle - half, middle + half}
}

// The hidden truth of a simulated builder, as standard deviations of logarithms unless said
// otherwise. It is not what Band assumes: kinds of work differ, scatter is wider than was
// estimated, and evenings fall away by chance.
const (
	hiddenPace    = 0.30
	hiddenKind    = 0.12
	hiddenScatter = 0.35
	hiddenRework  = 0.12 // share of the steps
	hiddenLost    = 0.12 // share of the evenings
)

// builder is a plan with what it will truly take.
type builder struct {
	plan  Plan
	takes []float64 // of what is expected of each step, by its builder
}

// aBuilder makes one: some twenty steps of three kinds, with helpers and cures, and a record of
// what came before.
func aBuilder(random *rand.Rand, steps int) builder {
	kinds := []string{"bond", "metal", "rivet"}
	pace, of := math.Exp(0.1+hiddenPace*random.NormFloat64()), map[string]float64{}
	p := Plan{Zone: clockUTC, Now: 1_700_000 * 17, Builder: "builder"}
	p.Now -= p.Now % 1440
	for _, k := range kinds {
		of[k] = math.Exp(hiddenKind * random.NormFloat64())
		estimated := 5 + 40*random.Float64()
		p.Pace = append(p.Pace, Pace{k, estimated, estimated * pace * of[k] * math.Exp(0.05*random.NormFloat64())})
	}
	for day := range p.Week {
		if random.IntN(2) == 0 {
			p.Week[day] = Stretch{From: 18 * 60, Minutes: 60 + 30*random.IntN(8)}
		}
	}
	p.Week[6] = Stretch{From: 9 * 60, Minutes: 300}
	for v := range 200 {
		p.Visits = append(p.Visits, Visit{fmt.Sprint("v", v), p.Now + int64(14*v+random.IntN(10))*1440 + 600, 0, 2 + random.IntN(2)})
		p.Visits[v].To = p.Visits[v].From + int64(120+30*random.IntN(7))
	}
	b := builder{}
	for i := range steps {
		likely := 1 + 7*random.Float64()
		s := Step{ID: fmt.Sprint("s", i), Kind: kinds[random.IntN(3)], Low: likely * (0.5 + 0.3*random.Float64()), Likely: likely, High: likely * (1.5 + random.Float64()), People: 1, State: Open}
		for k := max(0, i-4); k < i; k++ {
			if random.IntN(3) == 0 {
				s.After = append(s.After, k)
			}
		}
		switch random.IntN(8) {
		case 0:
			s.People = 2
		case 1:
			s.Cure = &Cure{Hours: 24 * float64(1+random.IntN(5))}
		}
		p.Steps = append(p.Steps, s)
		truth := pace * of[s.Kind] * math.Exp(hiddenScatter*random.NormFloat64()-hiddenScatter*hiddenScatter/2)
		if random.Float64() < hiddenRework {
			truth *= 1.5
		}
		lost := 0.0 // of the evenings that the step takes
		for range 4 {
			if random.Float64() < hiddenLost {
				lost += 0.25
			}
		}
		b.takes = append(b.takes, truth/(1-0.8*lost))
	}
	b.plan = p
	return b
}

// finish is when the last step is cured in a schedule.
func (s *planner) finish(run outcome) int64 {
	last := s.Now
	for i := range s.Steps {
		last = max(last, run.ended[i]+s.work.cure[i])
	}
	return last
}

// Try lets builders plan, and compares the band with what it truly took; on small plans it
// searches for a better order than the one that was advised.
func Try(builders, orders int, seed uint64) Trial {
	t := Trial{Builders: builders, Seed: seed, Orders: orders}
	inside, early := make([]bool, builders), make([]bool, builders)
	spread(builders, func(i int) {
		b := aBuilder(rand.New(rand.NewPCG(seed, uint64(i))), 20)
		band, ok := b.plan.Band(seed + uint64(i))
		if !ok {
			return
		}
		s, _ := b.plan.planner()
		other := *s.model
		other.work.remaining = slices.Clone(s.work.remaining)
		for k, step := range b.plan.Steps {
			other.work.remaining[k] = int64(math.Ceil(60 * step.Expected() * b.takes[k]))
		}
		finish := s.finish(other.schedule())
		inside[i], early[i] = band.Early <= finish && finish <= band.Late, finish < band.Early
	})
	t.Band, t.Early = shareOf(count(inside), builders), shareOf(count(early), builders)
	losses := [4][]float64{make([]float64, orders), make([]float64, orders), make([]float64, orders), make([]float64, orders)}
	spread(orders, func(i int) {
		random := rand.New(rand.NewPCG(seed, uint64(1<<40+i)))
		s, _ := aBuilder(random, 10).plan.planner()
		for k, loss := range s.losses(random) {
			losses[k][i] = loss
		}
	})
	t.Ours, t.Rule, t.Document, t.Longest = lossOf(losses[0]), lossOf(losses[1]), lossOf(losses[2]), lossOf(losses[3])
	return t
}

func count(list []bool) int {
	n := 0
	for _, b := range list {
		if b {
			n++
		}
	}
	return n
}

func lossOf(list []float64) (l Loss) {
	if len(list) == 0 {
		return l
	}
	for _, v := range list {
		if l.Worst = max(l.Worst, v); v < 1e-9 {
			l.Best++
		}
	}
	l.Mean = stat.Mean(list, nil)
	return l
}

// ranked is when a plan is finished if steps are chosen by their place in a list alone.
func (s *planner) ranked(order []int) int64 { return s.finish(s.inOrder(order)) }

// searched is how many orders are tried: five times what the advice tries.
const searched = 5 * ordersTried

// losses are by how much what is advised, the document's order, and the longest first finish
// later than the best order that a search finds: by swaps, begun from each of these.
func (s *planner) losses(random *rand.Rand) [4]float64 {
	n := len(s.Steps)
	document := make([]int, n)
	for i := range document {
		document[i] = i
	}
	longest := slices.Clone(document)
	slices.SortStableFunc(longest, func(a, b int) int { return compare(s.work.remaining[b], s.work.remaining[a]) })
	found := [4]int64{s.finish(s.advised(rand.New(rand.NewPCG(random.Uint64(), 7)), ordersTried)), s.finish(s.run), s.ranked(document), s.ranked(longest)}
	best := slices.Min(found[:])
	for _, from := range [][]int{document, longest, s.byRank} {
		order, at := slices.Clone(from), s.ranked(from)
		for range searched / 3 {
			i, k := random.IntN(n), random.IntN(n)
			order[i], order[k] = order[k], order[i]
			if now := s.ranked(order); now <= at {
				at = now
			} else {
				order[i], order[k] = order[k], order[i]
			}
		}
		best = min(best, at)
	}
	var out [4]float64
	for k, f := range found {
		out[k] = float64(f-s.Now)/float64(best-s.Now) - 1
	}
	return out
}

// spread does n things on all processors.
func spread(n int, do func(i int)) {
	var all sync.WaitGroup
	workers := runtime.NumCPU()
	for w := range workers {
		all.Go(func() {
			for i := w; i < n; i += workers {
				do(i)
			}
		})
	}
	all.Wait()
}
