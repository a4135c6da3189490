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
	Builders int     `json:"builders"`
	Seed     uint64  `json:"seed"`
	Year     Holding `json:"year"`      // of builders with a year of record
	New      Holding `json:"new"`       // without any
	SlowYear Holding `json:"slow_year"` // the same, all slower by a fifth than their plans can know
	SlowNew  Holding `json:"slow_new"`
	Orders   int     `json:"orders"` // small plans of which the best order was searched
	Ours     Loss    `json:"ours"`   // what is advised
	Rule     Loss    `json:"rule"`   // the rule of the format
	Document Loss    `json:"document_order"`
	Longest  Loss    `json:"longest_first"`
	Idle     int64   `json:"idle"`      // minutes of all plans in which helpers stand idle, by the advice
	IdleRule int64   `json:"idle_rule"` // and by the rule
}

// Holding is what the bands of some builders hold.
type Holding struct {
	Band    Share   `json:"band"` // true finishes between the 10 and the 90 %
	Early   Share   `json:"early"`
	Drivers Share   `json:"drivers"` // bands whose first driver is the greatest, or within a fifth of it
	Width   float64 `json:"width"`   // of the 10 to the 90 %, of what is left at the median: the middle of all
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

// The hidden truth of simulated builders, as standard deviations of logarithms. What they do not
// know is drawn around what a plan takes without a record; how their months drift it never hears.
const (
	truePace     = 0.30
	trueKind     = 0.15
	trueScatter  = 0.25 // of the steps that were done
	driftLeast   = 0.10 // of a month's pace, evenly up to
	driftMost    = 0.25
	trueSpread   = 0.30 // of the share of unplanned work, and of missed evenings
	historyMonth = 12   // of record, of those who have one
)

// builder is a plan with what is true of its builder and not in it.
type builder struct {
	plan           Plan
	pace           float64
	kinds          map[string]float64
	drift          map[int]float64 // of each calendar month
	drifts         float64
	missed, others float64
}

// driftIn is the true pace of a month.
func (b *builder) driftIn(random *rand.Rand, minute int64) float64 {
	day := b.plan.Zone.date(minute).time()
	at := 12*day.Year() + int(day.Month())
	if _, known := b.drift[at]; !known {
		b.drift[at] = lognormal(random, b.drifts)
	}
	return b.drift[at]
}

// aBuilder makes one: so many steps of three kinds to do, with helpers, cures, orders and savings,
// and a year of record, or none. faster is what the true pace is scaled by.
func aBuilder(random *rand.Rand, steps int, record bool, faster float64) builder {
	kinds := []string{"bond", "metal", "rivet"}
	b := builder{pace: faster * lognormal(random, truePace), kinds: map[string]float64{}, drift: map[int]float64{}, drifts: driftLeast + (driftMost-driftLeast)*random.Float64()}
	b.missed, b.others = min(eveningShare*lognormal(random, trueSpread), eveningMost), unplanned*lognormal(random, trueSpread)
	for _, k := range kinds {
		b.kinds[k] = lognormal(random, trueKind)
	}
	b.plan = Plan{Zone: clockUTC, Now: 1_700_000 * 17, Builder: "builder"}
	p := &b.plan
	p.Now -= p.Now % 1440
	for day := range p.Week {
		if random.IntN(2) == 0 {
			p.Week[day] = Stretch{From: 18 * 60, Minutes: 60 + 30*random.IntN(6)}
		}
	}
	p.Week[6] = Stretch{From: 9 * 60, Minutes: 300}
	for v := range 12 {
		from := p.Now + int64(28*v+random.IntN(10))*1440 + 600
		p.Visits = append(p.Visits, Visit{fmt.Sprint("v", v), from, from + int64(180+30*random.IntN(5)), 2 + random.IntN(2)})
	}
	if record {
		b.history(random, kinds)
	}
	b.steps(random, kinds, steps)
	return b
}

// history is the year before: each evening that was not missed goes into the step in hand, or into
// work that no step has.
func (b *builder) history(random *rand.Rand, kinds []string) {
	p := &b.plan
	today := p.Zone.date(p.Now)
	at, left, n := -1, 0.0, 0
	for d := today - 366; d < today; d++ {
		s := p.Week[d.time().Weekday()]
		if s.Minutes == 0 || random.Float64() < b.missed {
			continue
		}
		from, _ := p.Zone.at(d, s.From)
		for to := from + int64(s.Minutes); from < to; {
			if random.Float64() < b.others/(1+b.others) {
				until := min(to, from+60)
				p.Sessions = append(p.Sessions, Session{Who: p.Builder, From: from, To: until, Category: "rework", Step: -1})
				from = until
				continue
			}
			if left < 1 {
				k := kinds[random.IntN(len(kinds))]
				e := 1 + 7*random.Float64()
				p.Steps = append(p.Steps, Step{ID: fmt.Sprint("d", n), Kind: k, Low: e, Likely: e, High: e, People: 1, State: Done})
				at, n = len(p.Steps)-1, n+1
				left = 60 * e * b.pace * b.kinds[k] * b.driftIn(random, from) * lognormal(random, trueScatter)
			}
			until := min(to, from+60, from+int64(math.Ceil(left)))
			p.Sessions = append(p.Sessions, Session{Who: p.Builder, From: from, To: until, Category: "build", Step: at})
			left -= float64(until - from)
			from = until
			if left < 1 {
				ended := until
				p.Steps[at].Ended = &ended
			}
		}
	}
	if at >= 0 && p.Steps[at].Ended == nil {
		p.Steps[at].State = Begun
	}
}

// steps are what is to be done, with what it waits for.
func (b *builder) steps(random *rand.Rand, kinds []string, steps int) {
	p := &b.plan
	today := p.Zone.date(p.Now)
	p.Suppliers = []Supplier{{ID: "near", Delays: []int{0, 3, 9, 2}}, {ID: "far"}}
	for o := range 3 {
		lead, asked := 20+random.IntN(60), today-Date(random.IntN(15))
		one := Order{ID: fmt.Sprint("o", o), Supplier: p.Suppliers[random.IntN(2)].ID, Lead: &lead, Asked: &asked}
		if one.Supplier == "near" {
			one.Delay = 4 // the mean of 0, 3, 9, 2, rounded up
		}
		p.Orders = append(p.Orders, one)
	}
	p.Money = &Money{Currency: "NOK", Saved: 1000, PerMonth: 1000, Day: 1}
	first := len(p.Steps)
	for i := range steps {
		likely := 1 + 7*random.Float64()
		s := Step{ID: fmt.Sprint("s", i), Kind: kinds[random.IntN(3)], Low: likely * (0.5 + 0.3*random.Float64()), Likely: likely, High: likely * (1.5 + random.Float64()), People: 1, State: Open}
		for k := max(0, i-4); k < i; k++ {
			if random.IntN(3) == 0 {
				s.After = append(s.After, first+k)
			}
		}
		switch random.IntN(8) {
		case 0:
			s.People = 2
		case 1:
			s.Cure = &Cure{Hours: 24 * float64(1+random.IntN(5))}
		case 2:
			s.Needs = []int{random.IntN(len(p.Orders))}
		}
		p.Steps = append(p.Steps, s)
	}
	p.Money.Stages = []Stage{{ID: "engine", Price: 2500, Lead: 20, NeededBy: first + steps/2}}
}

// truth is when the build is truly finished: one play with the builder's own pace, months, evenings
// and unplanned work; never where it is not.
func (b *builder) truth(g *game, random *rand.Rand) int64 {
	real := *g
	real.seed = random.Uint64()
	real.missed, real.other = b.missed, b.others
	real.still = nil // his evenings are others
	real.own = make([]float64, len(g.own))
	months := make([]float64, len(g.own))
	for i := range months {
		months[i] = 1
	}
	d := everything
	d.pace = false
	finish := int64(never)
	for range 4 { // in which month a step is worked on depends on how long those before it take
		for i, s := range b.plan.Steps {
			if s.State != Done {
				real.own[i] = s.Expected() * b.pace * b.kinds[s.Kind] * months[i]
			}
		}
		m := *real.base
		m.out = real.out
		real.drawWork(&m, 0, d)
		m.counts, m.paid = real.drawOrders(0), real.drawMoney(0)
		run := real.run(&m, 0, d, real.end)
		for i, s := range b.plan.Steps {
			if s.State == Done || g.out[i] {
				continue
			}
			if run.ended[i] < 0 {
				return never
			}
			months[i] = b.driftIn(random, (run.begun[i]+run.ended[i])/2)
		}
		finish, _ = real.finished(&m, run)
	}
	return finish
}

// finish is when the last step is cured in a schedule.
func (s *planner) finish(run outcome) int64 {
	last := s.Now
	for i := range s.Steps {
		last = max(last, run.ended[i]+s.work.cure[i])
	}
	return last
}

// playsTried is how often the plan of a simulated builder is played for its band.
const playsTried = 100

// Try lets builders plan, and compares the band with what it truly took, with a year of record and
// without one; on small plans it searches for a better order than the one that was advised.
func Try(builders, orders int, seed uint64) Trial {
	t := Trial{Builders: builders, Seed: seed, Orders: orders}
	t.Year, t.New = tryBands(builders, seed, true, 1), tryBands(builders, seed+1, false, 1)
	t.SlowYear, t.SlowNew = tryBands(builders, seed+2, true, slower), tryBands(builders, seed+3, false, slower)
	losses := [4][]float64{make([]float64, orders), make([]float64, orders), make([]float64, orders), make([]float64, orders)}
	idle, rule := make([]int64, orders), make([]int64, orders)
	spread(orders, func(i int) {
		random := rand.New(rand.NewPCG(seed, uint64(1<<40+i)))
		s, _ := aBuilder(random, 10, false, 1).plan.planner()
		loss, advised := s.losses(random)
		idle[i], rule[i] = s.helpersIdle(advised), s.helpersIdle(s.run)
		for k := range loss {
			losses[k][i] = loss[k]
		}
	})
	for i := range orders {
		t.Idle, t.IdleRule = t.Idle+idle[i], t.IdleRule+rule[i]
	}
	t.Ours, t.Rule, t.Document, t.Longest = lossOf(losses[0]), lossOf(losses[1]), lossOf(losses[2]), lossOf(losses[3])
	return t
}

// slower is the pace of builders who were too hopeful, without the plan's knowing.
const slower = 1.2

// tryBands compares the bands of some builders with what it truly took.
func tryBands(builders int, seed uint64, record bool, pace float64) (h Holding) {
	inside, early, first, tried := make([]bool, builders), make([]bool, builders), make([]bool, builders), make([]bool, builders)
	narrow := make([]float64, builders)
	spread(builders, func(i int) {
		random := rand.New(rand.NewPCG(seed, uint64(i)))
		b := aBuilder(random, 40, record, pace)
		g := b.plan.game(Way{}, seed+uint64(i))
		truth := b.truth(g, random)
		band := g.band(playsTried, 0, nil)
		inside[i], early[i] = band.Early <= truth && truth <= band.Late && truth != never, truth < band.Early
		if band.Ends() {
			narrow[i] = float64(band.Late-band.Early) / float64(max(1, band.Likely-b.plan.Now))
		}
		tried[i], first[i] = b.drawn(g, band, playsTried)
	})
	h.Band, h.Early = shareOf(count(inside), builders), shareOf(count(early), builders)
	h.Drivers = shareOf(count(first), count(tried))
	slices.Sort(narrow)
	h.Width = narrow[len(narrow)/2]
	return h
}

// drawn tells whether a band names a driver, and whether its first is the greatest or within a
// fifth of it: by how the plays spread when it alone is drawn with other random numbers.
func (b *builder) drawn(g *game, band Band, n int) (named, right bool) {
	if len(band.Drivers) == 0 {
		return false, false
	}
	other := *g
	other.seed = mixed(g.seed)
	greatest, first := 0.0, 0.0
	for _, one := range other.groups() {
		var finishes []float64
		for k := range n {
			if p := other.play(k, one.draws); p.finish != never {
				finishes = append(finishes, float64(p.finish))
			}
		}
		if len(finishes) < 2 {
			continue
		}
		v := stat.Variance(finishes, nil)
		if greatest = max(greatest, v); one.what == band.Drivers[0].What {
			first = v
		}
	}
	return true, first >= 0.8*greatest
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

// ranked is when a plan is finished if steps are chosen by their place in a list alone; never where
// that leaves a step undone.
func (s *planner) ranked(order []int) int64 {
	run := s.inOrder(order).schedule()
	if s.loses(run) {
		return never
	}
	return s.finish(run)
}

// searched is how many orders are tried.
const searched = 1_200

// losses are by how much what is advised, the document's order, and the longest first finish
// later than the best order that a search finds: by swaps, begun from what is advised and from the rule's list.
func (s *planner) losses(random *rand.Rand) (out [4]float64, advised outcome) {
	n := len(s.Steps)
	document := make([]int, n)
	for i := range document {
		document[i] = i
	}
	longest := slices.Clone(document)
	slices.SortStableFunc(longest, func(a, b int) int { return compare(s.work.remaining[b], s.work.remaining[a]) })
	advised, list := s.advised(rand.New(rand.NewPCG(random.Uint64(), 7)), ordersTried)
	if list == nil {
		list = s.byRank
	}
	found := [4]int64{s.finish(advised), s.finish(s.run), s.ranked(document), s.ranked(longest)}
	best := slices.Min(found[:])
	for _, from := range [][]int{list, s.byRank} {
		order, at := slices.Clone(from), s.ranked(from)
		for range searched / 2 {
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
	for k, f := range found {
		if f == never {
			continue // it does not come to an end
		}
		out[k] = float64(f-s.Now)/float64(best-s.Now) - 1
	}
	return out, advised
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
