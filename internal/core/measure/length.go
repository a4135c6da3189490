package measure

import (
	"fmt"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// lengthKind is how the check is called, limited, disturbed and told.
var lengthKind = Kind{
	Name: "length", Title: "A length against the plans", New: func() Walker { return new(PartLength) },
	Limits:    []Limitable{{"length", Length}, {"error", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"length": "length", "error": "length, off the design"},
}

// PartLength is a length against the plans; several measured pieces add up.
type PartLength struct {
	Measured Readings        `ws:"measured" as:"length"`
	Design   quantity.Length `ws:"design"`
}

// Readings is one reading, or a list of several.
type Readings []Reading

// Validate refuses an empty list.
func (c *PartLength) Validate(report func(path, message string)) {
	if len(c.Measured) == 0 {
		report("measured", "is an empty list")
	}
}

// Solve gives length = Σ measured and error = length − design.
func (c *PartLength) Solve(w *Work) {
	total := Exact(0)
	for _, r := range c.Measured {
		total = total.Plus(w.Read(r))
	}
	missed := total.Minus(Exact(float64(c.Design)))
	w.Quantity("length", Length, total)
	w.Quantity("error", Length, missed)
	w.explain("error", fmt.Sprintf("length − design = %s − %s", mm(total.Value), mm(float64(c.Design))), mm(missed.Value))
}

// Expect returns the length of the plans.
func (c *PartLength) Expect(Spot) (nominal float64, ok bool) { return float64(c.Design), true }

// Walk takes the length in one reading.
func (c *PartLength) Walk() []Spot {
	return []Spot{{Field: "measured", Label: "length", Dimension: Length, Sense: "length", How: "tape along the part, hook on its square end, read at eye level"}}
}

// longest is the length of the plans.
func (c *PartLength) longest() (mm float64, known bool) { return float64(c.Design), true }

// Disturbed tells whether an event makes the readings of the check stale.
func (c *PartLength) Disturbed(e Event) bool { return longer(e, 1000, c.longest) }

// Form is what is asked for the check before anything is read.
func (*PartLength) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "design", Label: "Length of the plans", As: "length"},
		},
		Plans: []string{"design"},
		Now:   "A length",
	}
}
