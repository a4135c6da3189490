package sim

import (
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
)

// Rules are how builds are drawn.
type Rules struct {
	World    World
	Errors   Errors  // of the instruments
	Blunders float64 // share of builds in which one reading is a blunder
}

// Usual are the rules of the proof, in a world.
func Usual(w World) Rules { return Rules{World: w, Errors: Normal, Blunders: 0.1} }

// interval is how many standard uncertainties a 95 % interval spans on each side.
const interval = 1.96

// coverage is that of every stated interval and verdict, as on the screens.
const coverage = 2

// rounds is how often a builder comes back with what was asked for.
const rounds = 12

// build is one part on the bench and one join on the airframe before the drill.
type build struct {
	r       *rand.Rand
	kit     kit
	parts   []*part
	results []measure.Result
	planted *source // the reading that is a blunder; nil for none
	times   float64 // its size in the smallest that its readings would show; 0 where nothing checks it
	size    float64 // of the blunder, mm or degrees
	found   bool
	alarms  int     // readings blamed without cause
	taken   int     // placings in all
	clock   float64 // minutes since the first end-for-end test
}

// newBuild draws a build. Its number and the seed fix it whole.
func newBuild(seed, number uint64, rules *Rules) *build {
	b := &build{r: rand.New(rand.NewPCG(seed, number))}
	b.kit = newKit(&rules.World, rules.Errors, b.r)
	b.parts = []*part{newBench(b.kit, b.r), newTwist(b.kit, b.r), newSpar(b.kit, b.r), newJoin(layouts[number%uint64(len(layouts))], b.kit, b.r)}
	if b.r.Float64() < rules.Blunders {
		b.plant()
	}
	for _, p := range b.parts {
		for _, s := range p.sources {
			b.take(s)
		}
	}
	return b
}

// pace is how long one reading takes, in minutes.
const pace = 2

func (b *build) take(s *source) {
	s.take(b.clock, b.r)
	b.count(s)
}

// again takes a reading anew.
func (b *build) again(s *source) {
	s.again(b.clock, b.r)
	b.count(s)
}

// count counts the readings that a source takes, and their time.
func (b *build) count(s *source) {
	n := 1
	if s.board != 0 {
		n = boardReadings
	}
	b.taken += n
	b.clock += float64(n) * pace
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

// solve proves the level once more where it drifts, and works a part out.
func (b *build) solve(p *part) measure.Result {
	if level := b.kit.level; level.world.Drift > 0 {
		if last := level.proofs[len(level.proofs)-1].at; b.clock > last {
			level.prove(b.clock, b.r)
			b.taken += 2
		}
		for _, s := range p.sources {
			if s.with == level {
				s.into.Zero = level.zeroAt(s.at)
			}
		}
	}
	return measure.Solve(p.check, p.limits, measure.Decision{Coverage: coverage})
}

// settle measures a part, follows what the program asks for, and returns its last word.
func (b *build) settle(p *part) measure.Result {
	result := b.solve(p)
	for round := range rounds {
		if round == 0 {
			b.note(p, result)
		}
		asked := b.takeAgain(p, result)
		if !asked && !p.reread && (result.Verdict == measure.Stop || contradicts(result)) {
			asked = b.reread(p)
		}
		if !asked && !contradicts(result) && (result.Verdict == measure.Unsure || near(result)) {
			asked = b.takeMore(p, result)
		}
		if !asked {
			break
		}
		result = b.solve(p)
	}
	return result
}

// near tells whether a part is go, but closer to a limit than a hold takes.
func near(result measure.Result) bool {
	return result.Verdict == measure.Go && !result.Inside(hold.Guard)
}

// contradicts tells whether the readings of a part cannot all be right.
func contradicts(result measure.Result) bool {
	return slices.ContainsFunc(result.Findings, func(f measure.Finding) bool {
		return f.Code == "measurements-disagree" || f.Code == "marks-or-pin" || f.Code == "kinked"
	})
}

// note tells how large the blunder is against what would be found.
func (b *build) note(p *part, result measure.Result) {
	if b.planted == nil || result.Network == nil {
		return
	}
	for i, r := range result.Network.Readings {
		if p.sources[i] == b.planted && r.Checked {
			b.times = b.size / r.Detectable
		}
	}
}

// takeAgain takes the suspect readings anew.
func (b *build) takeAgain(p *part, result measure.Result) (asked bool) {
	if result.Network == nil {
		return false
	}
	for i, r := range result.Network.Readings {
		s := p.sources[i]
		switch {
		case !r.Suspect:
			continue
		case s.retaken && p.left:
			continue
		case s.retaken:
			// What reads the same again is no blunder of reading: the spot is not where it
			// should be, and what was read there is taken back. Once: then it is the rest
			// that is not to be trusted.
			p.left = true
			p.leave(i)
			return true
		}
		s.retaken = true
		switch {
		case s.blunder != 0:
			b.found = true
		default:
			b.alarms++
		}
		b.again(s)
		asked = true
	}
	return asked
}

// reread takes every reading of a part anew, once: a stop is read again before
// anything is moved, and so is what contradicts itself.
func (b *build) reread(p *part) bool {
	p.reread = true
	for _, s := range p.sources {
		if s.blunder != 0 {
			b.found = true
		}
		b.again(s)
	}
	return true
}

// takeMore reads further places, or takes the reading that the program would take next.
func (b *build) takeMore(p *part, result measure.Result) (asked bool) {
	if c, ok := p.check.(*pose.Pose); ok {
		return p.rounds < mostExtra && b.takeNext(p, c, result)
	}
	if p.widen == nil || p.rounds >= mostWidened || !hopeful(result, math.Sqrt(float64(mostWidened-p.rounds)+1)) {
		return false
	}
	added := p.widen()
	p.rounds++
	for _, s := range added {
		b.take(s)
	}
	return true
}

// hopeful tells whether a hold would take every limited quantity if it were so many times
// as well known.
func hopeful(result measure.Result, times float64) bool {
	return result.Inside(hold.Guard / times)
}

// mostExtra is how many rounds of readings beside the plan a builder takes at a join.
const mostExtra = 7

// takeNext takes the readings that would tell most about what is furthest from decided.
func (b *build) takeNext(p *part, c *pose.Pose, result measure.Result) (asked bool) {
	if !hopeful(result, 3) {
		return false
	}
	p.rounds++
	want, most := "", 0.0
	for _, name := range pose.Freedoms {
		q, ok := result.Quantity(name)
		if !ok || q.Limit == nil || q.Verdict == measure.Go && (measure.Result{Quantities: []measure.Quantity{q}}).Inside(hold.Guard) {
			continue
		}
		if need := hold.Guard * q.U / (*q.Limit.High - math.Abs(q.Value)); need > most {
			want, most = name, need
		}
	}
	if want != "" && want != result.Network.Want {
		c.Want = want
		result = measure.Solve(c, p.limits, measure.Decision{Coverage: coverage})
	}
	if result.Network == nil {
		return false
	}
	for _, next := range result.Network.Next[:min(len(result.Network.Next), atOnce)] {
		b.take(p.more(next))
		asked = true
	}
	return asked
}

// atOnce is how many readings are taken before what they say is looked at.
const atOnce = 3

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
	return hold.Judge(required, hold.Evidence{Checks: checks}).Standing == hold.Met
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
	if !outside {
		t.good++
		if released {
			t.goodReleased++
		}
	}
	if inside {
		t.deserving++
		if !released {
			t.needless++
		}
	}
	if b.planted != nil {
		b.tallyBlunder(t)
	}
	t.alarms += b.alarms
	if released {
		t.released++
	}
}

// tallyBlunder adds the blunder, by its size against the smallest that would be found.
func (b *build) tallyBlunder(t *Tally) {
	t.planted++
	one := func(count, found *int) {
		*count++
		if b.found {
			*found++
		}
	}
	if b.found {
		t.foundAny++
	}
	switch {
	case b.times >= 2:
		one(&t.detectable, &t.found)
	case b.times >= 1:
		one(&t.marginal, &t.foundMarginal)
	}
}
