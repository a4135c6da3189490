package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/say"
	"orpine/internal/core/school"

	"orpine/internal/core/quantity"
)

// incidenceKind is how the check is called, limited, disturbed and told.
var incidenceKind = Kind{
	Name: "incidence", Title: "Incidence of a surface", New: func() Walker { return new(Incidence) },
	Limits:    []Limitable{{"incidence_difference", Angle}, {"incidence_error", Angle}, {"incidence", Angle}, {"incidence_left", Angle}, {"incidence_right", Angle}},
	Schools:   []string{school.Reference},
	Headlines: map[string]string{"incidence_error": "incidence, off the design", "incidence_difference": "incidence, right less left", "incidence": "incidence, leading edge up", "incidence_left": "incidence on the left", "incidence_right": "incidence on the right"},
}

// Slope is an angle read as such, or as two heights and the distance between
// them: atan((front − rear)/spacing), leading edge up positive.
type Slope struct {
	Angle   *Reading
	Front   *Reading         `ws:"front" as:"length"`
	Rear    *Reading         `ws:"rear" as:"length"`
	Spacing *quantity.Length `ws:"spacing"`
}

func (w *Work) readSlope(s Slope) Estimate { return w.slope(s.Angle, s.Front, s.Rear, s.Spacing) }

// validate refuses a spacing that is not above 0.
func (s *Slope) validate(path string, report func(path, message string)) {
	if s != nil && s.Spacing != nil && *s.Spacing <= 0 {
		report(path+".spacing", "must be above 0")
	}
}

// Incidence is the angle of a surface's chord line against the datum, on one
// side, both, or a surface in one piece. Leading edge up is positive.
type Incidence struct {
	Single        *Slope           `ws:"single,optional" as:"pitch"`
	Left          *Slope           `ws:"left,optional" as:"pitch"`
	Right         *Slope           `ws:"right,optional" as:"pitch"`
	Board         *quantity.Angle  `ws:"board,optional" as:"pitch"` // of the incidence board above the chord line
	BoardU        *quantity.Angle  `ws:"board_u,optional" as:"plain"`
	Datum         *Reading         `ws:"datum,optional" as:"pitch"`
	DatumU        *quantity.Angle  `ws:"datum_u,optional" as:"plain"` // how well the datum is the reference that the plans mean
	Design        quantity.Angle   `ws:"design" as:"pitch"`
	AttachSpacing *quantity.Length `ws:"attach_spacing,optional"`
	Fixed         string           `ws:"fixed,optional" oneof:"front rear"`
}

// Validate refuses a single reading beside left or right, and none at all.
func (c *Incidence) Validate(report func(path, message string)) {
	switch {
	case c.Single != nil && (c.Left != nil || c.Right != nil):
		report("single", "stands beside left or right; give one or the other")
	case c.Single == nil && c.Left == nil && c.Right == nil:
		report("single", "is missing: give single, or left and right")
	}
	switch {
	case c.BoardU == nil:
	case c.Board == nil:
		report("board_u", "is of a board, and there is none")
	case *c.BoardU < 0:
		report("board_u", "must not be negative")
	}
	validateDatumU(c.Datum, c.DatumU, report)
	c.Single.validate("single", report)
	c.Left.validate("left", report)
	c.Right.validate("right", report)
	if c.AttachSpacing != nil && *c.AttachSpacing <= 0 {
		report("attach_spacing", "must be above 0")
	}
}

// Solve gives incidence = reading − board − datum for each side, their mean, its
// error from the design and the difference right − left.
func (c *Incidence) Solve(w *Work) {
	datum, board := w.asDatum(c.Datum, c.DatumU), c.board(w)
	side := func(name string, s *Slope) Estimate {
		read := w.readSlope(*s)
		e := read.Minus(board).Minus(datum)
		w.explain(name, fmt.Sprintf("reading − board − datum = %s − %s − %s", deg(read.Value), deg(board.Value), deg(datum.Value)), deg(e.Value))
		return e
	}
	var mean Estimate
	switch {
	case c.Single != nil:
		mean = side("incidence", c.Single)
		c.move(w, "", mean)
	default:
		var sides []Estimate
		for _, given := range []struct {
			name string
			read *Slope
		}{{"left", c.Left}, {"right", c.Right}} {
			if given.read == nil {
				continue
			}
			e := side(given.name, given.read)
			w.Quantity("incidence_"+given.name, Angle, e)
			c.move(w, given.name+" ", e)
			sides = append(sides, e)
		}
		mean = sides[0]
		if len(sides) == 2 {
			mean = sides[0].Plus(sides[1]).Times(0.5)
			w.Quantity("incidence_difference", Angle, sides[1].Minus(sides[0]))
		}
	}
	missed := mean.Minus(Exact(float64(c.Design)))
	w.Quantity("incidence", Angle, mean)
	w.Quantity("incidence_error", Angle, missed)
	w.explain("error", fmt.Sprintf("incidence − design = %s − %s", deg(mean.Value), deg(float64(c.Design))), deg(missed.Value))
}

// BoardAngle is the board's own angle above the chord line, 0 where there is none.
func (c *Incidence) BoardAngle() float64 {
	if c.Board == nil {
		return 0
	}
	return float64(*c.Board)
}

// board is the board's own angle, as well as it is known: where nobody said, and what kind the instruments
// are was said, as usual.
func (c *Incidence) board(w *Work) Estimate {
	if c.Board == nil {
		return Exact(0)
	}
	u, assumed := 0.0, ""
	switch {
	case c.BoardU != nil:
		u = float64(*c.BoardU)
	case typed(c.Datum, c.Single.reading(), c.Left.reading(), c.Right.reading()) || c.heightsTyped():
		u, assumed = usualBoardU, "board_u"
	}
	return w.besides("board", float64(*c.Board), u, assumed)
}

// reading is an angle as it was read; nil for one of two heights.
func (s *Slope) reading() *Reading {
	if s == nil {
		return nil
	}
	return s.Angle
}

func (c *Incidence) heightsTyped() bool {
	for _, s := range []*Slope{c.Single, c.Left, c.Right} {
		if s != nil && typed(s.Front, s.Rear) {
			return true
		}
	}
	return false
}

// move shifts the end that is not fixed; a leading edge too high wants the rear
// up, or the front down.
func (c *Incidence) move(w *Work, side string, incidence Estimate) {
	if c.AttachSpacing == nil || c.Fixed == "" {
		return
	}
	missed := incidence.Value - float64(c.Design)
	end, high, low := "rear", "up", "down"
	if c.Fixed == "rear" {
		end, high, low = "front", "down", "up"
	}
	direction := low
	if missed > 0 {
		direction = high
	}
	w.Move(side+end, direction, float64(*c.AttachSpacing)*math.Tan(math.Abs(missed)/perRadian))
}

// Walk takes the datum, then each side, or the surface in one piece; by an angle,
// or by two heights where their spacing is given. Nothing given means both sides.
func (c *Incidence) Walk() []Spot {
	spots := []Spot{{Field: "datum", Label: "datum", Dimension: Angle, Sense: "pitch", How: "along the datum, display aft, the same way round as on the board"}}
	sides := []struct {
		field string
		s     *Slope
	}{{"left", c.Left}, {"right", c.Right}}
	switch {
	case c.Single != nil:
		sides = sides[:1]
		sides[0].field, sides[0].s = "single", c.Single
	case c.Left == nil && c.Right == nil:
		sides[0].s, sides[1].s = new(Slope), new(Slope)
	}
	for _, side := range sides {
		label := side.field
		if label == "single" {
			label = "surface"
		}
		switch {
		case side.s == nil:
		case side.s.Spacing != nil:
			spots = append(spots,
				Spot{Field: side.field + ".front", Label: label + ", front height", Dimension: Length, Sense: "length", How: "height of the chord line's front end above one level reference"},
				Spot{Field: side.field + ".rear", Label: label + ", rear height", Dimension: Length, Sense: "length", How: "height of the chord line's rear end above the same reference"})
		default:
			spots = append(spots, Spot{Field: side.field, Label: label, Dimension: Angle, Sense: "pitch", How: "incidence board on the chord line, display towards the trailing edge"})
		}
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Incidence) Disturbed(e Event) bool { return Shaped(e, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Incidence) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "measured", Label: "Measured", As: "word", Words: []string{"left and right", "in one piece"}, Optional: true},
			{Key: "spacing", Label: "By heights: front to rear mark", As: "length", Optional: true},
			{Key: "design", Label: "Design incidence", As: "pitch"},
			{Key: "board", Label: "The board's own angle above the chord line", As: "pitch", Optional: true, Kept: true},
			{Key: "board_u", Label: "That angle is known to (one standard deviation; empty: " + say.Angle(usualBoardU).String() + ", as is usual)", As: "plain", Optional: true, Kept: true},
			DatumAngleU,
			{Key: "attach_spacing", Label: "Front to rear attachment", As: "length", Optional: true},
			{Key: "fixed", Label: "Fixed end", As: "word", Words: []string{"front", "rear"}, Optional: true},
		},
		Plans:  []string{"design"},
		Now:    "Incidence, left and right",
		Angles: true,
		Made:   []string{"measured", "spacing"},
		Finish: finishIncidence,
	}
}

// One piece or two sides, by angles or by heights.
func finishIncidence(d map[string]any) {
	slope := map[string]any{}
	if spacing := form.Take(d, "spacing"); spacing != nil {
		slope["spacing"] = spacing
	}
	if form.Take(d, "measured") == "in one piece" {
		d["single"] = slope
		return
	}
	d["left"], d["right"] = slope, form.Clone(slope)
}
