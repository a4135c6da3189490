package measure

import (
	"fmt"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// sweepKind is how the check is called, limited and told.
var sweepKind = Kind{
	Name: "sweep", Title: "Sweep against a line square to the centreline", New: func() Walker { return new(Sweep) },
	Limits:    []Limitable{{"sweep_difference", Angle}, {"sweep_error", Angle}, {"sweep", Angle}, {"sweep_left", Angle}, {"sweep_right", Angle}},
	Schools:   []string{},
	Headlines: map[string]string{"sweep_difference": "sweep, right less left", "sweep_error": "sweep, off the design", "sweep": "sweep of both panels", "sweep_left": "sweep of the left panel", "sweep_right": "sweep of the right panel"},
}

// Sweep is how far the panels lean aft, by distances from a line that is square to the centreline.
type Sweep struct {
	Left   *SweptPanel     `ws:"left,optional"`
	Right  *SweptPanel     `ws:"right,optional"`
	Design quantity.Angle  `ws:"design,optional"`
	LineU  *quantity.Angle `ws:"line_u,optional"` // standard uncertainty of the line's own squareness
}

// SweptPanel is one panel: from the line aft to its marks at root and tip, so far apart across the airframe.
type SweptPanel struct {
	Root Reading         `ws:"root" as:"length"`
	Tip  Reading         `ws:"tip" as:"length"`
	Span quantity.Length `ws:"span"`
}

// Validate refuses no panel at all, and marks that lie abreast.
func (c *Sweep) Validate(report func(path, message string)) {
	if c.Left == nil && c.Right == nil {
		report("left", "is missing: give left, right or both")
	}
	for path, p := range map[string]*SweptPanel{"left": c.Left, "right": c.Right} {
		if p != nil && p.Span <= 0 {
			report(path+".span", "must be above 0")
		}
	}
	if c.LineU != nil && *c.LineU < 0 {
		report("line_u", "must not be negative")
	}
}

// Solve gives atan((tip − root)/span) of each panel, their mean, what that is off the design, and right less
// left. A line that is askew adds to the left what it takes from the right: it drops out of the mean of both
// and counts twice in their difference.
func (c *Sweep) Solve(w *Work) {
	line := Exact(0)
	if c.LineU != nil {
		line = w.besides("line", 0, float64(*c.LineU), "")
	}
	var sides []Estimate
	for _, side := range []struct {
		name string
		p    *SweptPanel
		by   float64
	}{{"left", c.Left, 1}, {"right", c.Right, -1}} {
		if side.p == nil {
			continue
		}
		root, tip := w.Read(side.p.Root), w.Read(side.p.Tip)
		e := tip.Minus(root).Times(1 / float64(side.p.Span)).Atan().Plus(line.Times(side.by))
		w.Quantity("sweep_"+side.name, Angle, e)
		w.explain(side.name+" panel", fmt.Sprintf("atan((tip − root)/span) = atan((%s − %s)/%s)", mm(tip.Value), mm(root.Value), mm(float64(side.p.Span))), deg(e.Value))
		sides = append(sides, e)
	}
	mean := sides[0]
	if len(sides) == 2 {
		mean = sides[0].Plus(sides[1]).Times(0.5)
		w.Quantity("sweep_difference", Angle, sides[1].Minus(sides[0]))
	}
	missed := mean.Minus(Exact(float64(c.Design)))
	w.Quantity("sweep", Angle, mean)
	w.Quantity("sweep_error", Angle, missed)
	w.explain("error", fmt.Sprintf("sweep − design = %s − %s", deg(mean.Value), deg(float64(c.Design))), deg(missed.Value))
	if c.LineU == nil {
		c.restsOnLine(w, len(sides) == 2)
	}
}

// restsOnLine says that nobody stated how square the line is, where what is limited rests on it: such a
// figure is neither go nor stop, whatever the rule.
func (c *Sweep) restsOnLine(w *Work, both bool) {
	names := []string{"sweep_left", "sweep_right", "sweep_difference"}
	if !both {
		names = append(names, "sweep", "sweep_error")
	}
	for _, name := range names {
		if _, limited := w.limits[name]; limited && w.unsettle(name) {
			w.Find("rests-on-the-line", "how square the line is was not stated: square it from the fuselage, and say to what")
		}
	}
}

// Walk takes each panel at its root, then at its tip.
func (c *Sweep) Walk() []Spot {
	var spots []Spot
	how := "from the line straight aft to the mark, level"
	for _, side := range []string{"left", "right"} {
		if side == "left" && c.Left == nil && c.Right != nil || side == "right" && c.Right == nil && c.Left != nil {
			continue
		}
		spots = append(spots, Spot{Field: side + ".root", Label: side + " root", Dimension: Length, Sense: "length", How: how}, Spot{Field: side + ".tip", Label: side + " tip", Dimension: Length, Sense: "length", How: how})
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Sweep) Disturbed(e Event) bool { return Shaped(e) }

// Form is what is asked for the check before anything is read.
func (*Sweep) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "span", Label: "Root mark to tip mark, across the airframe", As: "length"},
			{Key: "design", Label: "Design sweep, tip aft", As: "plain", Optional: true},
			{Key: "line_u", Label: "The line is square to (u; empty: nobody knows)", As: "plain", Optional: true},
		},
		Now:     "Is the wing swept alike?",
		Made:    []string{"span"},
		Example: map[string]string{"span": "4000"},
		Offers: func(p Lying) map[string]Offer {
			if !p.Whole() {
				return nil
			}
			return map[string]Offer{"span": {p.At(p.Span() / 2), p.Ends()}}
		},
		Finish: finishSweep,
	}
}

// Both panels have the same span.
func finishSweep(d map[string]any) {
	side := map[string]any{"span": form.Take(d, "span")}
	d["left"], d["right"] = side, form.Clone(side)
}
