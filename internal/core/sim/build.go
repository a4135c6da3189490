package sim

import (
	"math"
	"math/rand/v2"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
)

// Rules are how builds are drawn.
type Rules struct {
	Errors   Errors  // of the instruments
	Blunders float64 // share of builds in which one reading is a blunder
}

// Usual are the rules of the proof.
var Usual = Rules{Errors: Normal, Blunders: 0.1}

// interval is how many standard uncertainties a 95 % interval spans on each side.
const interval = 1.96

// coverage is that of every stated interval and verdict, as on the screens.
const coverage = 2

// rounds is how often a builder comes back with what was asked for, and mostPlacings
// how often one is ready to place an instrument on one spot.
const (
	rounds       = 12
	mostPlacings = 12
)

// build is one part on the bench and one join on the airframe before the drill.
type build struct {
	r       *rand.Rand
	parts   []*part
	results []measure.Result
	planted *source // the reading that is a blunder; nil for none
	checked bool    // it was twice what would be found
	size    float64 // of the blunder, mm or degrees
	found   bool
	alarms  int // readings blamed without cause
	taken   int // placings in all
}

// newBuild draws a build. Its number and the seed fix it whole.
func newBuild(seed, number uint64, rules Rules) *build {
	b := &build{r: rand.New(rand.NewPCG(seed, number))}
	k := newKit(rules.Errors, b.r)
	b.parts = []*part{newBench(k, b.r), newTwist(k, b.r), newSpar(k, b.r), newJoin(layouts[number%uint64(len(layouts))], k, b.r)}
	if b.r.Float64() < rules.Blunders {
		b.plant()
	}
	for _, p := range b.parts {
		for _, s := range p.sources {
			for range p.placings {
				b.take(s)
			}
		}
	}
	return b
}

func (b *build) take(s *source) {
	s.take(b.r)
	b.taken++
}

// plant makes one reading of the join, or of a part on the bench, a blunder.
func (b *build) plant() {
	p := b.parts[3]
	if b.r.Float64() < 0.25 {
		p = b.parts[1+b.r.IntN(2)]
	}
	s := p.sources[b.r.IntN(len(p.sources))]
	b.planted = s
	sign := float64(2*b.r.IntN(2) - 1)
	switch {
	case s.with.stated.Measures == measure.Angle:
		s.blunder = -2 * s.true // the sign of the level
	case s.side != nil && b.r.IntN(4) == 0:
		s.blunder, s.side.blunder = s.side.true-s.true, s.true-s.side.true // the sides swapped
	default:
		s.blunder = sign * []float64{25.4, 25.4, 100, 12 + 10*b.r.Float64()}[b.r.IntN(4)] // an inch, a burnt 100 mm, the wrong edge of the hook
	}
	b.size = math.Abs(s.blunder)
}

// settle measures a part, follows what the program asks for, and returns its last word.
func (b *build) settle(p *part) measure.Result {
	d := measure.Decision{Coverage: coverage}
	result := measure.Solve(p.check, p.limits, d)
	for round := range rounds {
		if round == 0 {
			b.note(p, result)
		}
		asked := b.takeAgain(p, result)
		if !asked && result.Verdict == measure.Stop && !p.reread {
			asked = b.reread(p)
		}
		if !asked && (result.Verdict == measure.Unsure || near(result)) {
			asked = b.takeMore(p, result)
		}
		if !asked {
			break
		}
		result = measure.Solve(p.check, p.limits, d)
	}
	return result
}

// near tells whether a part is go, but closer to a limit than a hold takes.
func near(result measure.Result) bool {
	return result.Verdict == measure.Go && !result.Inside(hold.Guard)
}

// note tells whether the blunder is large enough that it must be found.
func (b *build) note(p *part, result measure.Result) {
	if b.planted == nil || result.Network == nil {
		return
	}
	for i, r := range result.Network.Readings {
		if p.sources[i] == b.planted && r.Checked && b.size >= 2*r.Detectable {
			b.checked = true
		}
	}
}

// takeAgain takes the suspect readings anew.
func (b *build) takeAgain(p *part, result measure.Result) (asked bool) {
	if result.Network == nil {
		return false
	}
	for i, r := range result.Network.Readings {
		if !r.Suspect {
			continue
		}
		s := p.sources[i]
		switch {
		case s.blunder != 0:
			b.found = true
		default:
			b.alarms++
		}
		b.taken += len(s.into.Values)
		s.again(b.r)
		asked = true
	}
	return asked
}

// reread takes every reading of a part anew, once: a stop is read again before
// anything is moved.
func (b *build) reread(p *part) bool {
	p.reread = true
	for _, s := range p.sources {
		b.taken += len(s.into.Values)
		s.again(b.r)
	}
	return true
}

// takeMore places every instrument as often as would decide, or takes the reading
// that the program would take next.
func (b *build) takeMore(p *part, result measure.Result) (asked bool) {
	if c, ok := p.check.(*pose.Pose); ok && p.extra < mostExtra {
		return b.takeNext(p, c, result)
	}
	n := 0
	if near(result) {
		n = len(p.sources[0].into.Values) + 1
	}
	for _, q := range result.Quantities {
		if q.Verdict == measure.Unsure {
			n = max(n, q.Placings)
		}
	}
	if n > 1 && n <= mostPlacings {
		for _, s := range p.sources {
			for len(s.into.Values) < n {
				b.take(s)
				asked = true
			}
		}
	}
	return asked
}

// mostExtra is how many readings beside the plan a builder takes.
const mostExtra = 5

// takeNext takes the reading that would tell most about what cannot be decided.
func (b *build) takeNext(p *part, c *pose.Pose, result measure.Result) (asked bool) {
	p.extra++
	for _, name := range pose.Freedoms {
		q, ok := result.Quantity(name)
		undecided := ok && q.Limit != nil && (q.Verdict == measure.Unsure || !(measure.Result{Quantities: []measure.Quantity{q}}).Inside(hold.Guard))
		if !undecided {
			continue
		}
		c.Want = name
		wanted := measure.Solve(c, p.limits, measure.Decision{Coverage: coverage})
		if wanted.Network == nil || len(wanted.Network.Next) == 0 {
			continue
		}
		b.take(p.more(wanted.Network.Next[0]))
		asked = true
	}
	return asked
}

// judge asks the rules of holds whether the drill may go ahead.
func (b *build) judge() (released bool) {
	now := time.Date(2026, 5, 4, 12, 0, 0, 0, time.UTC)
	checks := map[string]hold.CheckState{}
	var required []hold.Requirement
	for i, p := range b.parts {
		state := hold.CheckState{Name: p.name, Wanted: len(p.sources), Taken: len(p.sources), Verdict: b.results[i].Verdict, Near: near(b.results[i]),
			Instruments: []hold.InstrumentState{{Name: "level 2", Tested: now.Add(-time.Hour), Angle: true}}}
		checks[p.name] = state
		need := hold.Shown
		if p.limits == nil {
			need = hold.Surveyed
		}
		required = append(required, hold.Requirement{Need: need, Check: p.name})
	}
	return hold.Judge(required, hold.Evidence{Checks: checks}, now).Standing == hold.Met
}

// run makes the build and adds it to a tally.
func (b *build) run(t *Tally) {
	for _, p := range b.parts {
		b.results = append(b.results, b.settle(p))
	}
	released := b.judge()
	t.Builds++
	t.readings += b.taken
	outside, inside := false, true
	for i, p := range b.parts {
		r := b.results[i]
		u := func(quantity string) float64 {
			q, _ := r.Quantity(quantity)
			return q.U
		}
		outside = outside || p.outside()
		inside = inside && p.insideBy(func(quantity string) float64 { return 4 * u(quantity) })
		for name, truth := range p.truth {
			if q, ok := r.Quantity(name); ok && !q.Unseen {
				key := p.name + " " + name
				if p.name == name {
					key = name
				}
				c := t.coverage[key]
				c.n++
				if math.Abs(q.Value-truth) <= interval*q.U {
					c.hits++
				}
				t.coverage[key] = c
			}
		}
	}
	if outside {
		t.Outside++
	}
	if released && outside {
		t.wrong++
	}
	if inside {
		t.deserving++
		if !released {
			t.needless++
		}
	}
	if b.planted != nil {
		t.planted++
		if b.found {
			t.foundAny++
		}
		if b.checked {
			t.detectable++
			if b.found {
				t.found++
			}
		}
	}
	t.alarms += b.alarms
	if released {
		t.released++
	}
}
