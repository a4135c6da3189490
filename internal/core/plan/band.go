package plan

import (
	"math"
	"slices"
	"sync/atomic"

	"gonum.org/v1/gonum/stat"
)

// Plays is how often a plan is played for its band.
const (
	LeastPlays = 10
	MostPlays  = 10_000
)

// Band is when a build is finished, as it may turn out: the plan played N times, with all that is
// doubtful of it drawn anew in each.
type Band struct {
	N           int                `json:"n"`
	Seed        uint64             `json:"seed"`
	P10         *string            `json:"p10"` // local times; nil where that play never ends
	P50         *string            `json:"p50"`
	P90         *string            `json:"p90"`
	Never       float64            `json:"never"`        // share of plays that do not end
	NeverBy     map[string]float64 `json:"never_by"`     // the same by the first reason of each
	LeftOut     []string           `json:"left_out"`     // steps that the plan itself does not end
	ExtraVisits float64            `json:"extra_visits"` // share of plays that needed more visits than are planned
	Drivers     []Driver           `json:"drivers"`

	Early, Likely, Late int64              `json:"-"` // the same as minutes; never where there is none
	NeverAt             map[string]float64 `json:"-"` // share of plays by the first step that is left with its reason
}

// Driver is one thing that is doubtful, played with all else at its mean.
type Driver struct {
	What  string  `json:"what"` // pace, work, unplanned, visits, evenings, orders, money or step
	ID    string  `json:"id,omitempty"`
	Days  float64 `json:"days"`  // from the 10 to the 90 % of its own plays
	Share float64 `json:"share"` // of the band's variance
}

// Least that a driver must be to be named: days, or a share of the variance.
const (
	leastDays  = 7
	leastShare = 0.05
	stepsNamed = 2
)

// Ends tells whether nine plays in ten end.
func (b Band) Ends() bool { return b.Late != never }

// Way is how the next step is chosen among those that can be worked on; the zero Way is the
// rule of the format.
type Way struct {
	order  []int // of the steps; nil for the rule
	sooner int64 // minutes by which it finishes before the rule does
	mends  bool  // the rule would leave something lying for long, or do first what nothing waits for
}

// Rule tells whether it is the rule of the format.
func (w Way) Rule() bool { return w.order == nil }

// Order is the order of the steps in it, nil for the rule.
func (w Way) Order() []int { return w.order }

// Sooner is by how many days it finishes before the rule of the format does.
func (w Way) Sooner() float64 { return float64(w.sooner) / 1440 }

// Mends tells that the rule would leave something that was begun lying for over a month, or do what
// nothing waits for before what all else does.
func (w Way) Mends() bool { return w.mends }

// Band plays the plan n times, its steps chosen by a way that is fixed beforehand, for the
// builder does not know what will be drawn. tell, where it is not nil, hears from several
// goroutines how many plays of all are done.
func (p Plan) Band(way Way, n int, seed uint64, tell func(done, of int)) Band {
	return p.game(way, seed).band(n, chained, tell)
}

// band plays it n times, and tries so many steps by themselves.
func (g *game) band(n, tried int, tell func(done, of int)) Band {
	p, seed := g.Plan, g.seed
	b := Band{N: n, Seed: seed, NeverBy: map[string]float64{}, NeverAt: map[string]float64{}, LeftOut: []string{}, Drivers: []Driver{}}
	for i := range p.Steps {
		if g.out[i] {
			b.LeftOut = append(b.LeftOut, p.Steps[i].ID)
		}
	}
	groups := g.groups()
	done := atomic.Int64{}
	of := n * (1 + len(groups) + tried)
	heard := func() {
		if d := done.Add(1); tell != nil {
			tell(int(d), of)
		}
	}
	plays, onChain := make([]play, n), make([]atomic.Int64, len(p.Steps))
	spread(n, func(k int) {
		plays[k] = g.play(k, everything)
		for _, i := range plays[k].chain {
			onChain[i].Add(1)
		}
		plays[k].chain = nil
		heard()
	})
	finishes := make([]int64, n)
	for k, one := range plays {
		if finishes[k] = one.finish; one.finish == never {
			b.Never += 1 / float64(n)
			b.NeverBy[one.reason] += 1 / float64(n)
			b.NeverAt[p.Steps[one.at].ID] += 1 / float64(n)
		}
		if one.extra {
			b.ExtraVisits += 1 / float64(n)
		}
	}
	b.Never, b.ExtraVisits = tidy(b.Never), tidy(b.ExtraVisits)
	for reason, share := range b.NeverBy {
		b.NeverBy[reason] = tidy(share)
	}
	sorted := slices.Sorted(slices.Values(finishes))
	b.Early, b.Likely, b.Late = quantile(sorted, 10), quantile(sorted, 50), quantile(sorted, 90)
	for at, minute := range map[**string]int64{&b.P10: b.Early, &b.P50: b.Likely, &b.P90: b.Late} {
		if minute != never {
			text := p.Zone.print(minute)
			*at = &text
		}
	}
	trial := func(what string, id string, draws draws) {
		own := make([]int64, n)
		spread(n, func(k int) { own[k] = g.play(k, draws).finish; heard() })
		d := driver(own, finishes)
		if d.What, d.ID = what, id; d.Days >= leastDays || d.Share >= leastShare {
			b.Drivers = append(b.Drivers, d)
		}
	}
	for _, one := range groups {
		trial(one.what, "", one.draws)
	}
	named := len(b.Drivers)
	if tried > 0 && g.scatters() {
		steps := often(onChain, tried)
		g.remember(n, steps)
		for _, i := range steps {
			trial("step", p.Steps[i].ID, draws{step: i + 1})
		}
	}
	greatest := func(a, b Driver) int { return sign(b.Share - a.Share) }
	slices.SortStableFunc(b.Drivers[named:], greatest)
	b.Drivers = b.Drivers[:min(len(b.Drivers), named+stepsNamed)]
	slices.SortStableFunc(b.Drivers, greatest)
	return b
}

// chained is how many steps are tried by themselves.
const chained = 20

// often are the steps that most often lay on the chain of what came last.
func often(counts []atomic.Int64, most int) []int {
	var out []int
	for i := range counts {
		if counts[i].Load() > 0 {
			out = append(out, i)
		}
	}
	slices.SortStableFunc(out, func(a, b int) int { return compare(counts[b].Load(), counts[a].Load()) })
	return out[:min(most, len(out))]
}

// quantile is the ⌈percent·n/100⌉-th of a sorted list.
func quantile(sorted []int64, percent int) int64 {
	return sorted[max(0, (percent*len(sorted)+99)/100-1)]
}

// tidy takes off what adding up shares leaves beyond a billionth.
func tidy(v float64) float64 { return math.Round(v*1e9) / 1e9 }

// driver compares the plays of one doubt with those of all, where both end.
func driver(own, all []int64) Driver {
	var mine, whole []float64
	for k := range own {
		if own[k] != never && all[k] != never {
			mine, whole = append(mine, float64(own[k]-all[0])), append(whole, float64(all[k]-all[0]))
		}
	}
	if len(mine) < 2 {
		return Driver{}
	}
	sorted := slices.Sorted(slices.Values(own))
	sorted = slices.DeleteFunc(sorted, func(v int64) bool { return v == never })
	d := Driver{Days: tidy(float64(quantile(sorted, 90)-quantile(sorted, 10)) / 1440)}
	if v := stat.Variance(whole, nil); v > 0 {
		d.Share = tidy(stat.Variance(mine, nil) / v)
	}
	return d
}
