package plan

import "slices"

// Learning is what the first of a pair teaches for the second: the left wing's ribs for the
// right wing's.
type Learning struct {
	Factor  float64 // of the hours of the first that the second takes
	Pairs   int     // of which both are done
	Seconds []Second
}

// Second is a step whose twin is done and it is not.
type Second struct {
	Step, First int     // in the plan
	Took        float64 // hours that the first took
	Expected    float64 // hours that the second is expected to take
}

// leaned is how many hours of doubt hold the factor at 1 before pairs tell, as with the pace.
const leaned = 5

// Learn compares pairs; twin is the name of a step's other hand, "" for none. The factor is
// (Σ second + 5 h) / (Σ first + 5 h) over the pairs of which both are done and were worked on,
// the second being the one that was done later; kept between a half and one and a half.
func (p Plan) Learn(twin func(name string) string) Learning {
	_, worked := p.worked()
	at := map[string]int{}
	for i, s := range p.Steps {
		at[s.Name] = i
	}
	l := Learning{}
	first, second := 0.0, 0.0
	for i, s := range p.Steps {
		other := twin(s.Name)
		k, ok := at[other]
		if other == "" || !ok || k == i || p.Steps[k].State != Done || worked[k] == 0 {
			continue
		}
		switch {
		case s.State != Done:
			l.Seconds = append(l.Seconds, Second{Step: i, First: k, Took: worked[k]})
		case worked[i] > 0 && later(s, p.Steps[k], i, k):
			first, second = first+worked[k], second+worked[i]
			l.Pairs++
		}
	}
	l.Factor = min(max((second+leaned)/(first+leaned), 0.5), 1.5)
	for i := range l.Seconds {
		l.Seconds[i].Expected = l.Seconds[i].Took * l.Factor
	}
	return l
}

// later tells whether a step was done after its twin.
func later(s, twin Step, i, k int) bool {
	if s.Ended == nil || twin.Ended == nil || *s.Ended == *twin.Ended {
		return i > k
	}
	return *s.Ended > *twin.Ended
}

// Taught is the plan with the hours of seconds scaled, so that their pace gives what is
// expected of them: what the first took says more of them than what was estimated.
func (p Plan) Taught(l Learning) Plan {
	_, worked := p.worked()
	ratio := map[string]float64{}
	for _, one := range p.paces(worked) {
		ratio[one.Kind] = one.Ratio
	}
	p.Steps = slices.Clone(p.Steps)
	for _, second := range l.Seconds {
		s := &p.Steps[second.Step]
		pace := 1.0
		if r, ok := ratio[s.Kind]; ok && s.Kind != "" {
			pace = r
		}
		by := second.Expected / (pace * s.Expected())
		s.Low, s.Likely, s.High = s.Low*by, s.Likely*by, s.High*by
	}
	return p
}
