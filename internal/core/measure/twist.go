package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/school"

	"orpine/internal/core/quantity"
)

// twistKind is how the check is called, limited, disturbed and told.
var twistKind = Kind{
	Name: "twist", Title: "Twist along a surface", New: func() Walker { return new(Twist) },
	Limits:    []Limitable{{"twist", Angle}, {"twist_error", Angle}, {"rate", Rate}, {"kink", Angle}},
	Schools:   []string{school.Bench},
	Headlines: map[string]string{"twist": "twist of the part, tip over root", "twist_error": "twist, off the design", "rate": "twist to the metre", "kink": "furthest from the even twist"},
}

// Twist is the chordwise angle at stations along a surface. y is the distance
// outboard of the root, or of the left end for a surface in one piece.
type Twist struct {
	Stations   []TwistStation   `ws:"stations"`
	Design     quantity.Angle   `ws:"design,optional" as:"pitch"` // tip minus root
	Held       bool             `ws:"held,optional"`              // held down: it takes its support's shape
	TipSpacing *quantity.Length `ws:"tip_spacing,optional"`       // front to rear support at the tip
}

// TwistStation is one station, read as an angle or as two heights.
type TwistStation struct {
	Name    string           `ws:"name"`
	Y       quantity.Length  `ws:"y"`
	Angle   *Reading         `ws:"angle,optional" as:"pitch"`
	Front   *Reading         `ws:"front,optional" as:"length"`
	Rear    *Reading         `ws:"rear,optional" as:"length"`
	Spacing *quantity.Length `ws:"spacing,optional"`
	Support *Reading         `ws:"support,optional" as:"pitch"` // the bench's own slope there
}

// Validate refuses stations inboard of the root, stations that give neither an
// angle nor both heights, held stations without their support, and fewer than
// two places along the span.
func (c *Twist) Validate(report func(path, message string)) {
	positions := make([]float64, len(c.Stations))
	for i, s := range c.Stations {
		path := fmt.Sprintf("stations[%d]", i)
		positions[i] = float64(s.Y)
		if s.Y < 0 {
			report(path+".y", "is measured outboard of the root, so it cannot be negative")
		}
		validateSlope(path, s.Angle, s.Front, s.Rear, s.Spacing, "angle", report)
		if c.Held && s.Support == nil {
			report(path+".support", "is missing: a surface held down needs the support's own slope at each station")
		}
	}
	if distinct(positions) < 2 {
		report("stations", "fewer than two places along the span cannot show twist")
	}
	if c.TipSpacing != nil && *c.TipSpacing <= 0 {
		report("tip_spacing", "must be above 0")
	}
}

// validateSlope refuses anything but one angle, or two heights and their spacing.
func validateSlope(path string, angle, front, rear *Reading, spacing *quantity.Length, field string, report func(path, message string)) {
	heights := front != nil || rear != nil || spacing != nil
	switch {
	case angle != nil && heights:
		report(path, "give "+field+", or front, rear and spacing, not both")
	case angle == nil && !heights:
		report(path+"."+field, "is missing")
	case angle == nil && front == nil:
		report(path+".front", "is missing")
	case angle == nil && rear == nil:
		report(path+".rear", "is missing")
	case angle == nil && spacing == nil:
		report(path+".spacing", "is missing")
	case angle == nil && *spacing <= 0:
		report(path+".spacing", "must be above 0")
	}
}

// slope reads an angle, or makes one of two heights: atan((front − rear)/spacing).
func (w *Work) slope(angle, front, rear *Reading, spacing *quantity.Length) Estimate {
	if angle != nil {
		return w.Read(*angle)
	}
	return w.Read(*front).Minus(w.Read(*rear)).Times(1 / float64(*spacing)).Atan()
}

// Solve fits a line of angle on y by least squares: twist = slope × extent.
// When the surface is held, its support's slope is taken off at each station.
func (c *Twist) Solve(w *Work) {
	angles, y := c.angles(w)
	line, _ := w.fitColumns(angles, func(i int) []float64 { return []float64{1, y.at[i]} })
	extent := y.extent()
	slope := line.param(1).Times(1 / y.size) // deg per mm
	twist := slope.Times(extent)
	missed := twist.Minus(Exact(float64(c.Design)))
	for _, q := range c.figures(line, y) {
		w.Quantity(q.name, q.dimension, q.Estimate)
	}
	w.explain("twist", fmt.Sprintf("slope of the best line × extent = %s per m × %s", deg(slope.Value*1000), mm(extent)), deg(twist.Value))
	if c.Design != 0 {
		w.explain("error", fmt.Sprintf("twist − design = %s − %s", deg(twist.Value), deg(float64(c.Design))), deg(missed.Value))
	}
	if len(c.Stations) >= 3 {
		at := greatest(line.left)
		w.Extreme("kink", nil, Angle, math.Abs(line.left[at]), line.residuals())
		w.explain("kink", "furthest from the line: "+c.Stations[at].Name, deg(math.Abs(line.left[at])))
	}
	c.kinked(w, angles, line)
	if c.TipSpacing != nil {
		direction := "down"
		if missed.Value > 0 {
			direction = "up"
		}
		w.Move("tip rear support", direction, float64(*c.TipSpacing)*math.Tan(math.Abs(missed.Value)/perRadian))
	}
}

// twistFigure is one of the quantities that a twist is given as.
type twistFigure struct {
	Estimate
	name      string
	dimension Dimension
}

// figures are the twist over the stations, what it is off the design, and its rate.
func (c *Twist) figures(line *fit, y scaled) []twistFigure {
	slope := line.param(1).Times(1 / y.size) // deg per mm
	twist := slope.Times(y.extent())
	return []twistFigure{
		{twist, "twist", Angle},
		{twist.Minus(Exact(float64(c.Design))), "twist_error", Angle},
		{slope.Times(1000), "rate", Rate},
	}
}

// The bounds of a kink: a residual that is so many of its own u means that a reading is
// off or the part no plain twist; a u below the other is rounding.
const (
	kinkedAt = 4
	leastU   = 1e-9
)

// kinked says that a station lies further from the line than its readings can explain.
// The twist is then go only if it would be without any one station; three stations with
// one off cannot tell which.
func (c *Twist) kinked(w *Work, angles []Estimate, line *fit) {
	if _, limited := w.limits["kink"]; limited || len(angles) < 3 {
		return
	}
	spread, off := line.covariance(0), -1
	for i, left := range line.left {
		if u := math.Sqrt(max(0, spread.of(i, i))); u > leastU && math.Abs(left) > kinkedAt*u && (off < 0 || math.Abs(left) > math.Abs(line.left[off])) {
			off = i
		}
	}
	if off < 0 {
		return
	}
	w.Find("kinked", fmt.Sprintf("%s lies off the even twist by more than its readings can be wrong: read it again; if it stays, the part has a kink", c.Stations[off].Name))
	for i := range angles {
		if len(angles) == 3 || !c.goWithout(w, angles, i) {
			w.Doubt()
			return
		}
	}
}

// goWithout tells whether the limited figures would be go if a station were left out.
func (c *Twist) goWithout(w *Work, angles []Estimate, station int) bool {
	var rest []Estimate
	var at []float64
	for i, s := range c.Stations {
		if i != station {
			rest, at = append(rest, angles[i]), append(at, float64(s.Y))
		}
	}
	y := scale(at)
	line, ok := w.fitColumns(rest, func(i int) []float64 { return []float64{1, y.at[i]} })
	if !ok {
		return false
	}
	for _, q := range c.figures(line, y) {
		if l, limited := w.limits[q.name]; limited && w.decide(q.Value, w.U(q.Estimate, 0), l) != Go {
			return false
		}
	}
	return true
}

// angles returns the angle of the part itself at each station.
func (c *Twist) angles(w *Work) ([]Estimate, scaled) {
	angles, positions := make([]Estimate, len(c.Stations)), make([]float64, len(c.Stations))
	for i, s := range c.Stations {
		positions[i] = float64(s.Y)
		angles[i] = w.slope(s.Angle, s.Front, s.Rear, s.Spacing)
		if s.Support == nil {
			w.explain(s.Name, "as read"+zeroed(s.Angle), deg(angles[i].Value))
			continue
		}
		support := w.Read(*s.Support)
		if !c.Held {
			w.Find("support-ignored", "not held down, so the support's slope is left out")
			w.explain(s.Name, "as read; the support's slope is left out"+zeroed(s.Angle), deg(angles[i].Value))
			continue
		}
		own := angles[i].Minus(support)
		w.explain(s.Name, fmt.Sprintf("reading − support = %s − %s%s", deg(angles[i].Value), deg(support.Value), zeroed(s.Angle)), deg(own.Value))
		angles[i] = own
	}
	return angles, scale(positions)
}

// Walk goes outboard; at each station the surface first, then, when it is held
// down, the support under it.
func (c *Twist) Walk() []Spot {
	var spots []Spot
	for _, s := range c.Stations {
		if s.Spacing != nil {
			spots = append(spots,
				Spot{"stations", s.Name, "front", "front height", Length, "length", "height of the front mark above one straight reference"},
				Spot{"stations", s.Name, "rear", "rear height", Length, "length", "height of the rear mark above the same reference"})
		} else {
			spots = append(spots, Spot{"stations", s.Name, "angle", "angle", Angle, "pitch", "along the chord, display towards the trailing edge, the same way round at every station"})
		}
		if c.Held {
			spots = append(spots, Spot{"stations", s.Name, "support", "support under it", Angle, "pitch", "on the support under this station, display the same way round"})
		}
	}
	return spots
}

// AsRead tells how much twist the readings show before the support is taken
// off, and how much of that is the support's. ok is false for a surface that is
// not held down.
func (c *Twist) AsRead() (whole, support float64, ok bool) {
	if !c.Held {
		return 0, 0, false
	}
	plain := &Twist{}
	for _, s := range c.Stations {
		s.Support = nil
		plain.Stations = append(plain.Stations, s)
	}
	read, _ := Solve(plain, nil, Decision{Coverage: 2}).Quantity("twist")
	own, _ := Solve(c, nil, Decision{Coverage: 2}).Quantity("twist")
	return read.Value, read.Value - own.Value, true
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Twist) Disturbed(e Event) bool { return Shaped(e, ReClamped, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Twist) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "stations", Label: "Stations: name; distance outboard; for heights, front to rear mark", Columns: []string{"name", "y", "spacing"}, As: "length"},
			{Key: "lies", Label: "On the bench it is", As: "word", Words: []string{Stiffly, Limply}, Optional: true},
			{Key: "design", Label: "Design twist, tip less root (washout is down)", As: "pitch", Optional: true},
			{Key: "tip_spacing", Label: "Front to rear support at the tip", As: "length", Optional: true},
		},
		Now:     "Is this part twisted?",
		Angles:  true,
		Made:    []string{"lies"},
		Example: map[string]string{"stations": "root; 0\ntip; 1000", "lies": Stiffly},
		Offers: func(p Lying) map[string]Offer {
			if !p.Surface() {
				return nil
			}
			return map[string]Offer{"stations": {p.Along(), p.Ends()}}
		},
		Finish: finishTwist,
	}
}

// What is limp, or held down, takes the shape of what it lies on.
func finishTwist(d map[string]any) {
	if lies := form.Take(d, "lies"); lies != nil {
		d["held"] = lies == Limply
	}
}
