package measure

import (
	"fmt"

	"orpine/internal/core/form"
	"orpine/internal/core/school"

	"orpine/internal/core/quantity"
)

// levelKind is how the check is called, limited, disturbed and told.
var levelKind = Kind{
	Name: "level", Title: "A part level with the datum", New: func() Walker { return new(Level) },
	Limits:    []Limitable{{"roll", Angle}, {"tip_difference", Length}},
	Schools:   []string{school.Reference},
	Headlines: map[string]string{"roll": "roll, right side low", "tip_difference": "left tip over right tip"},
}

// Level compares a part with the datum, both by cross-level: right side low is
// positive.
type Level struct {
	Datum  Reading         `ws:"datum" as:"cross-level"`
	Part   Reading         `ws:"part" as:"cross-level"`
	Span   quantity.Length `ws:"span"`
	DatumU *quantity.Angle `ws:"datum_u,optional" as:"plain"` // how well the datum is the reference that the plans mean
}

// Validate refuses a span that is not above 0.
func (c *Level) Validate(report func(path, message string)) {
	if c.Span <= 0 {
		report("span", "must be above 0")
	}
	validateDatumU(&c.Datum, c.DatumU, report)
}

// Solve gives roll = part − datum and the height difference of the tips,
// span × sin(roll), left tip higher positive.
func (c *Level) Solve(w *Work) {
	datum, part := w.asDatum(&c.Datum, c.DatumU), w.Read(c.Part)
	roll := part.Minus(datum)
	tips := roll.Sin().Times(float64(c.Span))
	w.Quantity("roll", Angle, roll)
	w.Quantity("tip_difference", Length, tips)
	w.explain("roll", fmt.Sprintf("part − datum = %s − %s", deg(part.Value), deg(datum.Value)), deg(roll.Value))
	w.explain("tip difference", fmt.Sprintf("span × sin(roll) = %s × sin %s", mm(float64(c.Span)), deg(roll.Value)), mm(tips.Value))
}

// Walk takes the datum first.
func (c *Level) Walk() []Spot {
	return []Spot{
		{Field: "datum", Label: "datum", Dimension: Angle, Sense: "cross-level", How: "across the datum, display facing you"},
		{Field: "part", Label: "part", Dimension: Angle, Sense: "cross-level", How: "across the part, display the same way round"},
	}
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Level) Disturbed(e Event) bool { return Shaped(e, BenchMoved, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Level) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "span", Label: "Span between the tips", As: "length"},
			DatumAngleU,
		},
		Now:    "How far off level?",
		Angles: true,
		Offers: func(p Lying) map[string]Offer {
			if !p.Whole() {
				return nil
			}
			return map[string]Offer{"span": {p.At(p.Span()), p.Ends()}}
		},
	}
}
