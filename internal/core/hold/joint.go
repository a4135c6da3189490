package hold

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"orpine/internal/core/measure"
)

// last is the check that meets a need of a check: of all checks of the same quantity that the
// joint was measured by, in whatever setup, the last one that is complete; else the one that was
// asked for.
func (e Evidence) last(id string) (string, CheckState) {
	asked := e.Checks[id]
	best, c := id, asked
	for _, other := range slices.Sorted(maps.Keys(e.Checks)) {
		d := e.Checks[other]
		if other == id || !slices.Contains(e.joint, d.Setup) || !asked.like(d) || !d.complete() {
			continue
		}
		if !c.complete() || d.Revised > c.Revised {
			best, c = other, d
		}
	}
	return best, c
}

// under is the survey that a need of a survey is met by: in the setup where the checks that the
// hold is shown now stand.
func (e Evidence) under(required []Requirement, id string) (string, CheckState) {
	asked := e.Checks[id]
	for _, r := range required {
		was := e.Checks[r.Check]
		if r.Need != Shown || was.Setup != asked.Setup {
			continue
		}
		if _, now := e.last(r.Check); now.Setup != asked.Setup {
			for _, other := range slices.Sorted(maps.Keys(e.Checks)) {
				if d := e.Checks[other]; d.Setup == now.Setup && asked.like(d) {
					return other, d
				}
			}
		}
	}
	return id, asked
}

// like tells whether two checks measure the same: one kind, of one name, neither after a step.
func (c CheckState) like(d CheckState) bool {
	return c.Kind == d.Kind && strings.EqualFold(c.Name, d.Name) && c.AfterOf == "" && d.AfterOf == "" && c.Name != ""
}

func (c CheckState) complete() bool { return c.Taken > 0 && c.Taken >= c.Wanted && c.Stale == 0 }

// widened says where a check that stands for another has wider limits than that one.
func (c CheckState) widened(asked CheckState, l Line) Line {
	wider := func(a, b *float64, sign float64) bool {
		return a != nil && (b == nil || sign*(*b-*a) > 1e-12)
	}
	if l.Standing != Met || c.Setup == asked.Setup || !wider(asked.High, c.High, 1) && !wider(asked.Low, c.Low, -1) {
		return l
	}
	l.Standing, l.Why = Unsure, l.Why+"; its limits are wider than those that the hold asked for"
	return l
}

// less is the line that stays where a need was taken away.
func (r Requirement) less() Line {
	l := Line{Key: "less/" + r.Of, What: "asks for less", Standing: Unsure, Why: r.What}
	switch r.Was {
	case Met.String():
		l.Standing = Met
	case Stop.String():
		l.Standing = Stop
	}
	return l
}

// elsewhere adds what stands at stop on the joint beside what the hold is shown: at stop where it
// is of a quantity that the hold asks for, and after a step of the joint; else as unsure.
func (e Evidence) elsewhere(required []Requirement, used map[string]bool, j *Judgement) {
	for _, id := range slices.Sorted(maps.Keys(e.Checks)) {
		c := e.Checks[id]
		if used[id] || c.Verdict != measure.Stop || c.Taken == 0 || measure.Surveys(c.Kind) || !slices.Contains(e.joint, c.Setup) {
			continue
		}
		asked := func(needs ...Need) bool {
			return slices.ContainsFunc(required, func(r Requirement) bool {
				return slices.Contains(needs, r.Need) && (e.Checks[r.Check].like(c) || r.Check == c.AfterOf)
			})
		}
		if c.AfterOf != "" && asked(Again) {
			continue // it is what the need asks for
		}
		l := Line{Key: "elsewhere/" + id, What: c.Name + ", " + c.Placing, Standing: Unsure, Why: "stop: " + c.Answer + ", elsewhere on the same joint", Check: id}
		if c.AfterOf != "" || asked(Shown, Again) {
			l.Standing, l.Value, l.U, l.Low, l.High = Stop, c.Value, c.U, c.Low, c.High
		}
		j.add(l)
	}
}

// Worse finds the first line that stands worse than it was signed, or that has come since and is
// not shown: such a line ends a release. u is taken of the signed stop: as far out again is no
// further out.
func Worse(signed, now []Line) (l Line, worse bool) {
	was := map[string]Line{}
	for _, l := range signed {
		was[l.Key] = l
	}
	for _, l := range now {
		before, there := was[l.Key]
		switch {
		case l.Next:
		case !there && l.Standing > Met:
			return l, true
		case there && l.Standing > before.Standing:
			return l, true
		case there && l.Standing == Stop && l.out() > before.out()+before.U:
			return l, true
		case there && l.Standing == Stop && l.side() != 0 && before.side() != 0 && l.side() != before.side():
			return l, true
		}
	}
	return Line{}, false
}

// RestsOn tells whether an answer that was given to lines at stop holds for how they stand now: each that
// is at stop was, on the same side, and is no further out by more than the u that it was signed with.
func (j Judgement) RestsOn(answered []Line) bool {
	if j.Standing != Stop {
		return false
	}
	var stops []Line
	for _, l := range j.Lines {
		if l.Standing == Stop {
			stops = append(stops, l)
		}
	}
	_, worse := Worse(answered, stops)
	return !worse
}

// side is on which side of its limit a stop lies: -1 below, 1 above, 0 where that is not known.
func (l Line) side() int {
	switch {
	case l.High != nil && l.Value > *l.High:
		return 1
	case l.Low != nil && l.Value < *l.Low:
		return -1
	}
	return 0
}

// out is how far a stop is out, in the unit of its figure.
func (l Line) out() float64 {
	switch l.side() {
	case 1:
		return l.Value - *l.High
	case -1:
		return *l.Low - l.Value
	}
	return math.Abs(l.Value)
}

// Says is a line in a sentence, as the cause of an end.
func (l Line) Says() string { return fmt.Sprintf("%s: %s", l.What, l.Why) }
