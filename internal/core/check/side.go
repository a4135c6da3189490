package check

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/core/say"
)

// Side says the headline's difference in words: which side, by how much, and what a builder
// calls it: "right tip 11.0 mm high", "outboard trailing edge 3.0 mm high: washout". It is ""
// where the figure says it already, or is nothing.
func (c Check) Side() string {
	if c.Result == nil || c.Solved == nil {
		return ""
	}
	switch solved := c.Solved.(type) {
	case *measure.Level:
		return c.tips("tip_difference", "left tip %s high", "right tip %s high")
	case *measure.Brackets:
		if solved.Axis == "station" {
			return c.tips("tip_difference", "right tip %s aft", "left tip %s aft")
		}
		return c.tips("tip_difference", "left tip %s high", "right tip %s high")
	case *measure.Square:
		return c.tips("tip_offset", "right tip %s aft", "left tip %s aft")
	case *measure.Upright:
		return c.tips("top_offset", "top %s to the right", "top %s to the left")
	case *measure.Diagonals:
		return c.tips("rack_offset", "far side %s to the right", "far side %s to the left")
	case *measure.Pairs:
		return c.tips("worst_difference", "right %s longer than left", "left %s longer than right")
	case *measure.Incidence:
		return c.incidences()
	case *measure.Twist:
		return c.twisted(solved)
	}
	return ""
}

// least is what a builder cannot see, in mm, and leastAngle in degrees.
const (
	least      = 0.05
	leastAngle = 0.005
)

// told tells whether a difference is there at all: more than its ± and more than can be seen.
func told(q measure.Quantity, least float64) bool {
	return math.Abs(q.Value) >= math.Max(least, Coverage*q.U)
}

// tips says a quantity in mm, one way where it is positive and the other where not.
func (c Check) tips(name, positive, negative string) string {
	q, ok := c.Result.Quantity(name)
	switch {
	case !ok || q.Unseen || !told(q, least):
		return ""
	case q.Value < 0:
		positive = negative
	}
	return fmt.Sprintf(positive, say.Length(math.Abs(q.Value)))
}

// incidences says both sides, and which leading edge is higher.
func (c Check) incidences() string {
	left, both := c.Result.Quantity("incidence_left")
	right, ok := c.Result.Quantity("incidence_right")
	difference, _ := c.Result.Quantity("incidence_difference")
	if !both || !ok {
		return ""
	}
	says := fmt.Sprintf("left %s, right %s", say.Angle(left.Value).Signed(), say.Angle(right.Value).Signed())
	switch v := say.Angle(math.Abs(difference.Value)).String(); {
	case !told(difference, leastAngle):
	case difference.Value > 0:
		says += ": the right leading edge is " + v + " higher"
	default:
		says += ": the left leading edge is " + v + " higher"
	}
	return says
}

// twisted says a twist as it shows at the outboard trailing edge.
func (c Check) twisted(t *measure.Twist) string {
	q, ok := c.Result.Quantity("twist")
	if !ok || !told(q, leastAngle) {
		return ""
	}
	word, way := "washout", "high"
	if q.Value > 0 {
		word, way = "wash-in", "low"
	}
	if t.TipSpacing == nil {
		return "outboard trailing edge " + way + ": " + word
	}
	mm := float64(*t.TipSpacing) * math.Tan(math.Abs(q.Value)*math.Pi/180)
	return fmt.Sprintf("outboard trailing edge %s %s: %s", say.Length(mm), way, word)
}

// oneWay tells whether the spot was read over a board that was never turned round.
func (s Spot) oneWay() bool {
	counting := s.Counting()
	return s.Aid == measure.Board && len(counting) > 0 && !slices.ContainsFunc(counting, func(r Reading) bool { return r.Aid == TurnedRound })
}

// LimitsLate says that limits are later than what they judge.
const LimitsLate = "a limit that was set after it was read"

// rests says what a go rests on; sure is false where something of it is not known but taken
// to be so.
func (c Check) rests() (says string, sure bool) {
	sure = len(c.Assumed) == 0 && c.Late == ""
	var parts []string
	for _, tool := range c.Used {
		part, usual := tool.Name, []string(nil)
		if c.Result != nil {
			usual = c.Result.AssumedOf(tool.Name)
		}
		switch {
		case tool.Unknown != "":
			part += ", " + tool.Unknown + " not known"
			sure = false
		case usual != nil:
			part += fmt.Sprintf(", not proven: of its %s what is usual is taken", say.And(usual...))
			sure = false
		case tool.Angle && !tool.Zeroed:
			part += ", never turned end for end"
			sure = false
		}
		parts = append(parts, part)
	}
	if slices.ContainsFunc(c.Spots, Spot.oneWay) {
		parts = append(parts, "the board on the airframe, not turned round")
	}
	parts = append(parts, c.Assumed...)
	if c.LimitsLate {
		parts = append(parts, LimitsLate)
	}
	if c.UsualLimits {
		parts, sure = append(parts, "the usual limits, not your plans'"), false
	}
	if c.Late != "" {
		parts = append(parts, c.Late)
	}
	return strings.Join(parts, "; "), sure
}
