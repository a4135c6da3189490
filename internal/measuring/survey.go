package measuring

import (
	"fmt"
	"math"
	"strconv"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/say"
)

// slopes are those of the rails under the stations of a check, from the survey that it
// rests on, as readings of a worksheet. A slope has no instrument of its own: each height
// that enters it is a correction with its u, and heights that several stations share are
// named alike, so that what they are off is shared too.
func (s Setup) slopes(c Check) (out map[string]any, lines []measure.Line, err error) {
	survey, ok := s.Check(c.Survey)
	bench, is := survey.Input.(*measure.Bench)
	twist, held := c.Input.(*measure.Twist)
	if !ok || !is || !held {
		return nil, nil, fmt.Errorf("the survey of what it lies on was withdrawn: lay a level under each station, or survey the rails")
	}
	points, err := s.railPoints(survey, bench)
	if err != nil {
		return nil, nil, err
	}
	out = map[string]any{}
	for _, station := range twist.Stations {
		slope, err := measure.SlopeAt(points, float64(station.Y))
		if err != nil {
			return nil, nil, fmt.Errorf("%s of %s: %w", station.Name, survey.Name, err)
		}
		var corrections []any
		square := 0.0
		for _, share := range slope.Shares {
			corrections = append(corrections, map[string]any{"why": "height of " + share.Name, "value": 0, "u": exactly(share.U), "common": survey.Name + ", " + share.Name})
			square += share.U * share.U
		}
		out[station.Name] = map[string]any{"between": []string{exactly(slope.Degrees - nothing), exactly(slope.Degrees + nothing)}, "instrument": nil, "corrections": corrections}
		lines = append(lines, measure.Line{What: "slope of the rails under " + station.Name, How: "from the heights of " + survey.Name,
			Result: say.Angle(slope.Degrees).Fine(3).Signed().Within(check.Coverage * math.Sqrt(square)).String()})
	}
	return out, lines, nil
}

// nothing is half the width, in degrees, of the interval that a worked-out slope is written
// as: a worksheet knows no figure that is read without an instrument.
const nothing = 1e-9

func exactly(degrees float64) string { return strconv.FormatFloat(degrees, 'f', -1, 64) }

// railPoints are the supports of a survey with the heights that count. All are read with one
// instrument, so that its constant error cancels from every slope.
func (s Setup) railPoints(survey Check, bench *measure.Bench) ([]measure.RailPoint, error) {
	var points []measure.RailPoint
	tool := ""
	for _, p := range bench.Points {
		at := measure.RailPoint{Name: p.Name, X: float64(p.X), Y: float64(p.Y)}
		spot, ok := survey.At(check.Key{List: "points", Point: p.Name, Field: "height"})
		if counting := spot.Counting(); ok && len(counting) > 0 {
			in := s.tool(counting[0].Instrument)
			if tool != "" && tool != in.Name {
				return nil, fmt.Errorf("the heights of %s were read with %s and with %s: read all with one, so that its constant error cancels", survey.Name, tool, in.Name)
			}
			t := in.Tool()
			tool = in.Name
			at.Known, at.Z, at.U = true, check.Mean(counting), t.Placing(len(counting))
		}
		points = append(points, at)
	}
	return points, nil
}

// surveyUnknown says what is not stated of the instrument that surveyed the rails, and
// would enter the slope: its constant error cancels.
func (s Setup) surveyUnknown(c Check) []string {
	survey, ok := s.Check(c.Survey)
	if !ok {
		return nil
	}
	var out []string
	for _, key := range survey.Proportions {
		if c.Held {
			out = append(out, survey.labelOf(key)+" of "+survey.Name)
		}
	}
	for _, used := range survey.Used {
		if used.Step == 0 {
			out = append(out, "the step of "+used.Name)
		}
		if used.Spread == 0 {
			out = append(out, "the spread of "+used.Name+" (place it ten times anew)")
		}
	}
	return out
}
