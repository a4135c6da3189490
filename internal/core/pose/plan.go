package pose

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"

	"orpine/internal/core/measure"
)

// Before anything is read a surface may be anywhere within these, in mm and rad.
var beforehand = [6]float64{300, 300, 300, 10 / perRadian, 10 / perRadian, 10 / perRadian}

// mostPlanned is how many readings a plan may hold.
const mostPlanned = 40

// Plan chooses the readings that would decide the check if the surface stood where
// it should: each limited freedom known so well that so many standard uncertainties
// (coverage) fit into half of its limits. It takes, one after another, the reading
// that lowers the greatest need most, then leaves out what turns out not to be
// needed, and returns the rest in walking order. with are the instruments on hand
// for each type. decided is false when even all of them would not do.
func (c *Pose) Plan(limits map[string]measure.Limit, coverage float64, with map[Type][]*measure.Instrument) (readings []Reading, decided bool) {
	p := c.newPlanner(limits, coverage, with)
	var chosen []int
	for p.need(chosen) > 1 && len(chosen) < mostPlanned {
		best, least := -1, math.Inf(1)
		for i := range p.candidates {
			if slices.Contains(chosen, i) {
				continue
			}
			if need := p.need(append(chosen, i)); need < least {
				best, least = i, need
			}
		}
		if best < 0 {
			break
		}
		chosen = append(chosen, best)
	}
	decided = p.need(chosen) <= 1
	for i := 0; decided && i < len(chosen); {
		rest := slices.Delete(slices.Clone(chosen), i, i+1)
		if p.need(rest) <= 1 {
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

// planner holds the rows of every reading that could be taken, at nominal.
type planner struct {
	n          *network
	candidates []candidate
	rows       []weighted
	start      *mat.SymDense // what is known beforehand
	half       [6]float64    // of the limits, in coverage standard uncertainties; 0 for none
}

func (c *Pose) newPlanner(limits map[string]measure.Limit, coverage float64, with map[Type][]*measure.Instrument) *planner {
	p := &planner{}
	measure.Solve(observer{func(w *measure.Work) {
		n := &network{bodies: []body{{pivot: c.Pivot.at(), hold: beforehand}}}
		for _, d := range c.Datum {
			n.points = append(n.points, point{d.Name, d.at(), -1})
		}
		for _, s := range c.Points {
			n.points = append(n.points, point{s.Name, s.at(), 0})
			n.bodies[0].reach = max(n.bodies[0].reach, s.at().minus(c.Pivot.at()).length())
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
		levels := with[Roll]
		for k, given := range []*measure.Reading{c.DatumRoll, c.DatumPitch} {
			if given != nil && len(levels) > 0 {
				n.datum[k] = &datumReading{taken: w.Observe(measure.Reading{Values: []float64{0}, Instrument: levels[0]})}
			}
		}
		n.layout()
		p.n = n
	}}, nil, measure.Decision{Coverage: 2})
	at := p.n.at(make([]float64, p.n.params))
	p.start, _ = p.n.normals(p.n.rows(at, 0))
	p.candidates = p.n.candidates()
	a := &adjustment{n: p.n, p: at.p, at: at}
	for _, k := range p.candidates {
		p.rows = append(p.rows, p.n.rowOf(a, k))
	}
	for k, name := range Freedoms {
		if l, ok := limits[name]; ok {
			p.half[k] = halfWidth(l) / unitOf(k) / coverage
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
func (p *planner) need(chosen []int) float64 {
	normal := mat.NewSymDense(p.n.params, nil)
	normal.CopySym(p.start)
	for _, i := range chosen {
		r := &p.rows[i]
		for a := range r.count {
			for b := a; b < r.count; b++ {
				normal.SetSym(r.index[a], r.index[b], normal.At(r.index[a], r.index[b])+r.weight*r.first[a]*r.first[b])
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
