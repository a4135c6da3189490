package measuring

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/instrument"
	"orpine/internal/worksheet"
)

// said is a reading's text as it was understood: a figure, read strong or weak of a mark, or
// two figures between which it lies.
type said struct {
	text    string    // the figure, without a word behind it
	nudge   float64   // what strong or weak adds, in steps of the instrument
	between [2]string // the one that goes and the one that does not; "" where one figure was read
	value   float64   // mm or degrees
}

// quarter is what strong or weak behind a reading moves it by, in steps.
const quarter = 0.25

var (
	leaning = regexp.MustCompile(`(?i)^(.*\S)\s+(strong|weak)$`)
	ranged  = regexp.MustCompile(`(?i)^between\s+(.+)$`)
	feeler  = regexp.MustCompile(`(?i)^(.+?)\s+goes,?\s+(?:but\s+)?(.+?)\s+(?:does\s+)?not$`)
)

// What is said at a level of glass: the bubble stands in its middle, or one side stands high.
var (
	centred  = regexp.MustCompile(`(?i)^(?:the )?(?:bubble (?:is )?)?(?:dead )?(?:cent(?:red|ered|re|er)|level|plumb)$`)
	highSide = regexp.MustCompile(`(?i)^(.*\S)\s+(left|right)\s+high$`)
	lines    = regexp.MustCompile(`(?i)\blines?\b`)
)

// atGlass writes what is said at a level of glass as an angle: bubble centred is 0, and where the left side is high the right
// one is low. How much a line of the bubble is differs from level to level, and is asked.
func atGlass(text, sense string) (string, error) {
	switch m := highSide.FindStringSubmatch(text); {
	case sense != "cross-level" && sense != "pitch" && sense != "plain":
		return text, nil
	case centred.MatchString(text):
		return "0", nil
	case m != nil && sense == "cross-level":
		return m[1] + map[string]string{"left": " R", "right": " L"}[strings.ToLower(m[2])], nil
	case lines.MatchString(text):
		return text, errors.New("how much is a line of this level? Write it as an angle or a slope, as 0.05 or 0.5 mm/m; “bubble centred” is 0")
	}
	return text, nil
}

// listen understands a reading's text, at a spot, with an instrument of so great a step.
func listen(text, sense string, unit quantity.Unit, step float64) (s said, err error) {
	trimmed := strings.TrimSpace(text)
	if m := feeler.FindStringSubmatch(trimmed); m != nil {
		return lies(m[1], m[2], sense, unit)
	}
	if m := ranged.FindStringSubmatch(trimmed); m != nil {
		for i := range m[1] { // 5 and 3/8 and 5 and 1/2: where both sides can be read
			if rest, ok := strings.CutPrefix(m[1][i:], " and "); ok {
				if s, err = lies(m[1][:i], rest, sense, unit); err == nil {
					return s, nil
				}
			}
		}
		if err == nil {
			err = fmt.Errorf("“%s”: between which two? Write between 0.4 and 0.5, or 0.4 goes, 0.5 not", text)
		}
		return s, err
	}
	if s.text, err = atGlass(trimmed, sense); err != nil {
		return s, err
	}
	if s.text == trimmed {
		s.text = text
	}
	if m := leaning.FindStringSubmatch(trimmed); m != nil {
		if step == 0 {
			return s, errors.New("strong or weak of what? The step of this instrument is not known")
		}
		s.text, s.nudge = m[1], quarter
		if strings.EqualFold(m[2], "weak") {
			s.nudge = -quarter
		}
	}
	if s.value, err = worksheet.Typed(s.text, sense, unit); err != nil {
		return s, err
	}
	s.nudge = math.Copysign(s.nudge, s.nudge*s.value) // more of it, whichever way it points
	s.value += s.nudge * step
	return s, nil
}

// lies understands two figures between which the reading lies.
func lies(goes, not, sense string, unit quantity.Unit) (s said, err error) {
	a, err := worksheet.Typed(goes, sense, unit)
	if err != nil {
		return s, err
	}
	b, err := worksheet.Typed(not, sense, unit)
	if err != nil {
		return s, err
	}
	if a >= b {
		return s, fmt.Errorf("“%s” goes and “%s” does not: the first must be the smaller", strings.TrimSpace(goes), strings.TrimSpace(not))
	}
	return said{between: [2]string{goes, not}, value: (a + b) / 2}, nil
}

// finer says that a figure has digits finer than the instrument shows; "" where it has not,
// or where there is no step to tell by. What lies between two marks is read as strong or
// weak.
func (s said) finer(in instrument.Instrument) string {
	step := in.Tool().Step
	if s.between[0] != "" || step == 0 || in.Resolution == "" { // a step that is only usual is no reason to ask
		return ""
	}
	bare := s.value - s.nudge*step
	left := math.Abs(math.Remainder(bare, step))
	if left < 0.02*step || left < 1e-6 || 0.5*step-left < 1e-9 && step > 0.9 {
		return ""
	}
	return fmt.Sprintf("%s from %s of %s steps?", strings.TrimSpace(s.text), in.Name, in.Resolution)
}

// A coefficient of temperature is of the part and the tape: both are known to within
// so many kelvin.
const kelvinU = 2

// warm is the correction to 20 °C of a length that was read with a tape of one material on
// a part of another, where it is more than the reading's own u; ok is false where there is
// none to make.
func (s Setup) warm(in instrument.Instrument, mm float64) (c measure.Correction, ok bool) {
	temperature, err := strconv.ParseFloat(s.Temperature, 64)
	part, known := measure.Expansions[s.Material]
	if err != nil || !known || in.Angle {
		return c, false
	}
	tape := measure.Expansions[in.Made()]
	c = measure.Correction{Why: "to " + say.Temperature(20).String(), Common: "temperature",
		Value: mm * (tape - part) * 1e-6 * (temperature - 20), U: math.Abs(mm) * math.Hypot(tape, part) * 1e-6 * kelvinU}
	return c, math.Abs(c.Value) > in.Tool().Placing(1)
}

// corrections are what is added to the mean of some readings of a spot.
func (s Setup) corrections(in instrument.Instrument, mean, nudge float64, hung bool) (out []measure.Correction) {
	if nudge != 0 {
		out = append(out, measure.Correction{Why: "read strong or weak of a mark", Value: nudge})
	}
	if hung {
		if c, ok := in.Sag(mean); ok {
			out = append(out, c)
		}
	}
	if c, ok := s.warm(in, mean); ok {
		out = append(out, c)
	}
	return out
}

// corrected is a correction as a worksheet has it.
func corrected(in instrument.Instrument, c measure.Correction) map[string]any {
	item := map[string]any{"why": say.Plain(c.Why), "value": in.Exactly(c.Value)}
	if c.U > 0 {
		item["u"] = in.Exactly(c.U)
	}
	if c.Common != "" {
		item["common"] = c.Common
	}
	return item
}

// boardU is how well a board that was turned round bears on the same places again, in
// degrees; stringU how well a string set up along the airframe lies, in mm.
const (
	boardU  = 0.005
	stringU = 0.5
)

// aided takes the aid of a spot into account. Where a board was read both ways round, half
// of what the mean of the placings changed by is the board's: the placings of the first
// way count, corrected by it. An offset is from a string unless it was said to be from
// the airframe itself; what the string lies off is shared by all offsets along one axis.
func aided(at check.Spot, counting []check.Reading, in instrument.Instrument) (count []check.Reading, corrections []measure.Correction) {
	said := aids[at.Aid]
	var with, without []check.Reading
	for _, r := range counting {
		if said != "" && r.Aid == said {
			with = append(with, r)
		} else {
			without = append(without, r)
		}
	}
	switch {
	case at.Aid == measure.Board && len(with) > 0 && len(without) > 0:
		return without, []measure.Correction{{Why: "board turned round", Value: (check.Mean(with) - check.Mean(without)) / 2, U: math.Hypot(in.Tool().Placing(len(with))/2, boardU)}}
	case at.Aid == measure.String && len(without) > 0:
		_, axis, _ := strings.Cut(at.Label, ", ")
		return counting, []measure.Correction{{Why: "the string", U: stringU, Common: "string of the " + axis}}
	}
	return counting, nil
}

// shown is a correction as a line of the arithmetic.
func shown(at check.Spot, c measure.Correction) measure.Line {
	decimals := check.Decimals(at.Dimension)
	result := check.Figure(at.Dimension, c.Value).Fine(decimals + 1).Signed()
	if c.U > 0 {
		result = result.Within(check.Coverage * c.U)
	}
	return measure.Line{What: at.Place(), How: c.Why, Result: result.String()}
}
