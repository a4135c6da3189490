package pose

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"

	"orpine/internal/core/adjust"
	"orpine/internal/core/measure"
)

// Before anything is read a surface may be anywhere within these, in mm and rad. anywhere is
// so far that no reading is spared because something was known beforehand.
var (
	beforehand = [6]float64{300, 300, 300, 10 / perRadian, 10 / perRadian, 10 / perRadian}
	anywhere   = [6]float64{3e4, 3e4, 3e4, 5, 5, 5}
)

// mostPlanned is how many readings a plan may hold.
const mostPlanned = 40

// Plan chooses the readings that would decide the check if the surface stood where
// it should: each limited freedom known so well that so many standard uncertainties
// (coverage) fit into half of its limits. It takes, one after another, the reading
// that lowers the greatest need most with the same one on the other side, then leaves out what turns out not to be
// needed, and returns the rest in walking order. with are the instruments on hand
// for each type. decided is false when even all of them would not do.
func (c *Pose) Plan(limits map[string]measure.Limit, coverage float64, with map[Type][]*measure.Instrument) (readings []Reading, decided bool) {
	var within [6]*measure.Limit
	for k, name := range Freedoms {
		if l, ok := limits[name]; ok {
			within[k] = &l
		}
	}
	return newPlanner(c, []Spot{c.Pivot}, nil, [][6]*measure.Limit{within}, coverage, with, c.DatumRoll != nil, c.DatumPitch != nil).plan()
}

// Plan chooses the readings that would decide the limits of all surfaces at once; the
// pins hold, and limits of derived figures are left to what is read then.
func (c *Join) Plan(coverage float64, with map[Type][]*measure.Instrument) (readings []Reading, decided bool) {
	var pivots []Spot
	var limits [][6]*measure.Limit
	for _, s := range c.Surfaces {
		pivots, limits = append(pivots, s.Pivot), append(limits, s.Limits.limits())
	}
	return newPlanner(c, pivots, c.Pins, limits, coverage, with, c.DatumRoll != nil, c.DatumPitch != nil).plan()
}

func (p *planner) plan() (readings []Reading, decided bool) {
	var chosen []int
	for _, start := range []*mat.SymDense{p.start, p.bare} {
		for p.need(start, chosen) > 1 && len(chosen) < mostPlanned {
			best, least := -1, math.Inf(1)
			for i := range p.candidates {
				if slices.Contains(chosen, i) {
					continue
				}
				if need := p.need(start, append(slices.Clone(chosen), p.pair(i)...)); need < least {
					best, least = i, need
				}
			}
			if best < 0 {
				break
			}
			chosen = append(chosen, p.pair(best)...)
		}
	}
	decided = p.need(p.bare, chosen) <= 1
	for i := 0; decided && i < len(chosen); {
		pair := p.pair(chosen[i])
		rest := slices.DeleteFunc(slices.Clone(chosen), func(k int) bool { return slices.Contains(pair, k) })
		if p.need(p.bare, rest) <= 1 {
			chosen = rest
			continue
		}
		i++
	}
	slices.Sort(chosen) // candidates stand in walking order
	for i, k := range chosen {
		from, to, kind := p.n.points[p.candidates[k].from].name, p.n.points[p.candidates[k].to].name, p.candidates[k].kind
		readings = append(readings, Reading{ID: fmt.Sprintf("%d %s %s to %s", i+1, kind, from, to), Type: string(kind), From: from, To: to, Value: measure.Reading{Instrument: p.candidates[k].instrument}})
	}
	return readings, decided
}

// pair is a reading and the same one on the other side, where there is one: what was built or
// marked off on one side shows only against the other.
func (p *planner) pair(i int) []int {
	c := p.candidates[i]
	from, to := p.mirrored(c.from), p.mirrored(c.to)
	for k, d := range p.candidates {
		if k != i && d.kind == c.kind && d.instrument == c.instrument && d.from == from && d.to == to {
			return []int{i, k}
		}
	}
	return []int{i}
}

// mirrored is the point on the other side of the middle, or the point itself where there is
// none.
func (p *planner) mirrored(point int) int {
	at := p.n.points[point].at
	for i, q := range p.n.points {
		if math.Abs(q.at[0]-at[0]) < sameSide && math.Abs(q.at[1]+at[1]) < sameSide && math.Abs(q.at[2]-at[2]) < sameSide {
			return i
		}
	}
	return point
}

// sameSide is how far two points may lie from being mirrored, in mm.
const sameSide = 1

// planner holds the rows of every reading that could be taken, at nominal.
type planner struct {
	n          *network
	candidates []candidate
	rows       []adjust.Row
	start      *mat.SymDense // what is known beforehand
	bare       *mat.SymDense // likewise, of surfaces that may be anywhere
	half       []float64     // of the limits, in coverage standard uncertainties; 0 for none
}

func newPlanner(c Joined, pivots []Spot, pins []Pin, limits [][6]*measure.Limit, coverage float64, with map[Type][]*measure.Instrument, levels ...bool) *planner {
	p := &planner{half: make([]float64, 6*len(pivots))}
	measure.Solve(observer{func(w *measure.Work) {
		n := &network{}
		for _, pivot := range pivots {
			n.bodies = append(n.bodies, body{pivot: pivot.at(), hold: beforehand})
		}
		for _, q := range c.Everywhere() {
			n.points = append(n.points, point{name: q.Name, at: q.At, body: q.Surface, u: q.U, used: true})
			if q.Surface >= 0 {
				b := &n.bodies[q.Surface]
				b.reach = max(b.reach, vector(q.At).minus(b.pivot).length())
			}
		}
		// Every instrument on hand stands among the unknowns, by a reading that has
		// no weight of its own.
		for kind, tools := range with {
			for _, in := range tools {
				n.observations = append(n.observations, observation{kind: kind, from: -1, taken: w.Observe(measure.Reading{Values: []float64{0}, Instrument: in}), aside: true})
			}
		}
		slices.SortFunc(n.observations, func(a, b observation) int {
			return slices.Compare([]string{a.taken.Instrument.Name, string(a.kind)}, []string{b.taken.Instrument.Name, string(b.kind)})
		})
		n.pin(w, pins)
		for k, read := range levels {
			if tools := with[Roll]; read && len(tools) > 0 {
				n.datum[k] = &observation{kind: Roll, taken: w.Observe(measure.Reading{Values: []float64{0}, Instrument: tools[0]})}
			}
		}
		n.layout()
		p.n = n
	}}, nil, measure.Decision{Coverage: 2})
	at := p.n.at(make([]float64, p.n.size))
	p.start = adjust.Normal(p.n, p.n.Rows(at.p, 0))
	p.bare = mat.NewSymDense(p.n.size, nil)
	p.bare.CopySym(p.start)
	for k := range 6 * len(p.n.bodies) {
		p.bare.SetSym(k, k, p.start.At(k, k)-1/(beforehand[k%6]*beforehand[k%6])+1/(anywhere[k%6]*anywhere[k%6]))
	}
	p.candidates = p.n.candidates()
	for _, k := range p.candidates {
		p.rows = append(p.rows, at.rowOf(k))
	}
	for b, six := range limits {
		for k, l := range six {
			if l != nil {
				p.half[6*b+k] = halfWidth(*l) / unitOf(k) / coverage
			}
		}
	}
	return p
}

// observer is a check that hands out its Work, to observe readings with.
type observer struct{ see func(w *measure.Work) }

func (observer) Validate(func(path, message string)) {}
func (o observer) Solve(w *measure.Work)             { o.see(w) }

// need is the greatest ratio of what is known of a limited freedom to what must be
// known; it falls a little with every other one too, so that ties are broken.
func (p *planner) need(start *mat.SymDense, chosen []int) float64 {
	normal := mat.NewSymDense(p.n.size, nil)
	normal.CopySym(start)
	for _, i := range chosen {
		r := &p.rows[i]
		for a := range r.Count {
			for b := a; b < r.Count; b++ {
				normal.SetSym(r.Index[a], r.Index[b], normal.At(r.Index[a], r.Index[b])+r.Weight*r.First[a]*r.First[b])
			}
		}
	}
	var chol mat.Cholesky
	var inverse mat.SymDense
	if !chol.Factorize(normal) || chol.InverseTo(&inverse) != nil {
		return math.Inf(1)
	}
	worst := 0.0
	for k, half := range p.half {
		if half > 0 {
			worst = max(worst, math.Sqrt(inverse.At(k, k))/half)
		}
	}
	return worst
}
