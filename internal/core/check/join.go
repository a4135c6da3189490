package check

import (
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/say"
)

// Network is what the adjustment of a join says; the zero network while there is none.
func (c Check) Network() measure.Network {
	if c.Result == nil || c.Result.Network == nil {
		return measure.Network{}
	}
	return *c.Result.Network
}

// Residual is what the adjustment says of a reading.
func Residual(n measure.Network, id string) (measure.Residual, bool) {
	i := slices.IndexFunc(n.Readings, func(r measure.Residual) bool { return r.ID == id })
	if i < 0 {
		return measure.Residual{}, false
	}
	return n.Readings[i], true
}

// SayResidual says by how much a reading does not fit.
func SayResidual(r measure.Residual) string {
	return Figure(r.Dimension, r.Value).Signed().String()
}

// SayBlunder says how large the mistake in a suspect reading would be: its residual over
// its redundancy, for the rest of it went into where everything was taken to stand (Baarda
// 1968).
func SayBlunder(r measure.Residual) string {
	if r.Redundancy > 0 {
		r.Value /= r.Redundancy
	}
	return SayResidual(r)
}

// BestNext is the reading that would tell most, where the readings so far do not
// decide; nil where they do, or one that is planned is still to be taken.
func (c Check) BestNext() *measure.NextReading {
	n := c.Network()
	suspect := slices.ContainsFunc(n.Readings, func(r measure.Residual) bool { return r.Suspect })
	if !c.Complete() || suspect || c.Result.Verdict == measure.Go || c.Result.Verdict == measure.Stop || len(n.Next) == 0 {
		return nil
	}
	return &n.Next[0]
}

// JoinNote says what the adjustment of a join says of the reading at a spot.
func (c Check) JoinNote(spot Spot) string {
	r, ok := Residual(c.Network(), spot.Point)
	if !ok || len(spot.Counting()) == 0 {
		return ""
	}
	switch {
	case r.Suspect:
		return "does not fit the others by " + SayBlunder(r) + ": take it again"
	case !r.Checked:
		return "checked by no other"
	}
	return "fits to " + SayResidual(r)
}

// sayReached says where the moves that may be made bring a surface; "" where all may.
func sayReached(n measure.Network) string {
	var parts []string
	for _, q := range n.Reached {
		if q.Limit != nil {
			name := q.Name
			if at, ok := q.At.(string); ok {
				name = at + " " + name
			}
			parts = append(parts, name+" "+Figure(q.Dimension, q.Value).Signed().String())
		}
	}
	if parts == nil {
		return ""
	}
	return "after the moves that may be made: " + strings.Join(parts, ", ")
}

// joined adds what a join says: what nothing shows, what is suspect, and the reading
// to take next.
func (a *Answer) joined(c Check) {
	n := c.Network()
	if len(n.Unseen) > 0 {
		a.Lacks, a.LacksGoal = "Nothing that was read shows "+strings.Join(n.Unseen, ", "), Goal{}
	}
	for _, r := range n.Readings {
		if !r.Suspect {
			continue
		}
		for _, spot := range c.Spots {
			if spot.Point == r.ID {
				a.Why = "a reading does not fit the others"
				a.Next, a.Then, a.Goal = "Take "+spot.Label+" again", "it does not fit the others by "+SayBlunder(r), Goal{Check: c.ID, Spot: spot.Number}
				return
			}
		}
	}
	a.points(c)
	if next := c.BestNext(); next != nil {
		known := say.Angle(Coverage * next.U).Fine(3)
		if word := n.Want[strings.LastIndex(n.Want, " ")+1:]; slices.Contains([]string{"x", "y", "z", "height", "fore_aft", "lateral"}, word) {
			known = say.Length(Coverage * next.U).Fine(2)
		}
		a.Next = fmt.Sprintf("Read the %s %s to %s too", next.Type, next.From, next.To)
		a.Then = fmt.Sprintf("with %s: %s is then known to ± %s", c.tool(next), n.Want, known.Up())
		a.Goal = Goal{Check: c.ID, Point: true, Add: next}
	}
}

// tool names the instrument of a reading to take: where none of its type was read, one of
// another type stands for one that is as good.
func (c Check) tool(next *measure.NextReading) string {
	join, ok := c.Input.(pose.Joined)
	if !ok || slices.ContainsFunc(join.Taken(), func(r pose.Reading) bool { return r.Type == next.Type }) {
		return "the " + next.Instrument
	}
	return "one as good as the " + next.Instrument
}

// points says what the doubt of the points costs, which weighs most, and which distance
// between two of them would tell where they lie.
func (a *Answer) points(c Check) {
	n := c.Network()
	total := 0.0
	for _, d := range n.Doubts {
		total += d.Share
	}
	if total < 0.1 {
		return
	}
	a.Points = fmt.Sprintf("%s %% of the doubt in %s is where the points lie, most of all %s (%s %%)", percent(total), n.Want, n.Doubts[0].Point, percent(n.Doubts[0].Share))
	if t := n.Tighten; t != nil {
		a.Points += fmt.Sprintf("; measure %s to %s too: that tells how well they lie", t.From, t.To)
		a.PointsGoal = Goal{Check: c.ID, Point: true, Add: t}
	}
}
