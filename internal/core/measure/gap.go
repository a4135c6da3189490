package measure

import (
	"fmt"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// gapKind is how the check is called, limited, disturbed and told.
var gapKind = Kind{
	Name: "gap", Title: "Gaps", New: func() Walker { return new(Gaps) },
	Limits:    nil,
	Schools:   []string{},
	Headlines: map[string]string{"gap": "gap"},
}

// Gaps are the clearances of a control surface, canopy or fairing.
type Gaps struct {
	Gaps []Gap           `ws:"gaps"`
	Min  quantity.Length `ws:"min"`
	Max  quantity.Length `ws:"max"`
}

// Gap is one clearance.
type Gap struct {
	Name string  `ws:"name"`
	Gap  Reading `ws:"gap" as:"length"`
}

// Validate refuses a range the wrong way round and an empty list.
func (c *Gaps) Validate(report func(path, message string)) {
	if c.Min > c.Max {
		report("min", "is above max")
	}
	if len(c.Gaps) == 0 {
		report("gaps", "is an empty list")
	}
}

// Solve judges each gap against min..max; the aim is the middle of the range,
// for what is trimmed cannot be put back. The verdict is that of the worst gap.
func (c *Gaps) Solve(w *Work) {
	low, high := float64(c.Min), float64(c.Max)
	aim := (low + high) / 2
	w.limits = map[string]Limit{"gap": {&low, &high}}
	for _, g := range c.Gaps {
		gap := w.Read(g.Gap)
		w.QuantityAt("gap", g.Name, Length, gap)
		w.Move(g.Name, "trim", aim-gap.Value)
		w.explain(g.Name, fmt.Sprintf("aim − gap = %s − %s", mm(aim), mm(gap.Value)), mm(aim-gap.Value))
	}
	w.Quantity("aim", Length, Exact(aim))
}

// Walk goes along the gaps.
func (c *Gaps) Walk() []Spot {
	spots := make([]Spot, len(c.Gaps))
	for i, g := range c.Gaps {
		spots[i] = Spot{"gaps", g.Name, "gap", "gap", Length, "length", "at the narrowest, surface in its middle position"}
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Gaps) Disturbed(e Event) bool { return Shaped(e, ReClamped) }

// Form is what is asked for the check before anything is read.
func (*Gaps) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "gaps", Label: "Places, one to a line", Columns: []string{"name"}, As: "length"},
			{Key: "min", Label: "Least gap", As: "length"},
			{Key: "max", Label: "Greatest gap", As: "length"},
		},
		Plans: []string{"min", "max"},
		Now:   "Is the gap right?",
	}
}
