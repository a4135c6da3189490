package measure

import (
	"fmt"

	"orpine/internal/core/form"
	"orpine/internal/core/school"

	"orpine/internal/core/quantity"
)

// uprightKind is how the check is called, limited, disturbed and told.
var uprightKind = Kind{
	Name: "upright", Title: "A fin upright, by its two faces", New: func() Walker { return new(Upright) },
	Limits:    []Limitable{{"lean", Angle}, {"taper", Angle}, {"top_offset", Length}},
	Schools:   []string{school.Reference},
	Headlines: map[string]string{"lean": "lean, top to the right", "taper": "taper of both faces", "top_offset": "top to the right"},
}

// Upright is a fin measured by the lean of its two faces from plumb, each
// positive towards the fin's centre plane. Lean of the fin is positive with the
// top to the right.
type Upright struct {
	LeftFace  Reading         `ws:"left_face" as:"plain"`
	RightFace Reading         `ws:"right_face" as:"plain"`
	Datum     *Reading        `ws:"datum,optional" as:"cross-level"`
	Height    quantity.Length `ws:"height"`
	DatumU    *quantity.Angle `ws:"datum_u,optional" as:"plain"` // how well the datum is the reference that the plans mean
}

// Validate refuses a height that is not above 0.
func (c *Upright) Validate(report func(path, message string)) {
	if c.Height <= 0 {
		report("height", "must be above 0")
	}
	validateDatumU(c.Datum, c.DatumU, report)
}

// Solve gives lean = (left − right)/2 − datum, taper = (left + right)/2 and the
// offset of the top, height × sin(lean). An instrument that is kept the same way
// round reads the right face with its constant error reversed; turned with the
// face, the error cancels from the lean.
func (c *Upright) Solve(w *Work) {
	left := w.Read(c.LeftFace)
	right := w.read(c.RightFace, !c.RightFace.Turned, true)
	datum := w.asDatum(c.Datum, c.DatumU)
	lean := left.Minus(right).Times(0.5).Minus(datum)
	taper := left.Plus(right).Times(0.5)
	top := lean.Sin().Times(float64(c.Height))
	w.Quantity("lean", Angle, lean)
	w.Quantity("taper", Angle, taper)
	w.Quantity("top_offset", Length, top)
	w.explain("lean", fmt.Sprintf("(left face − right face)/2 − datum = (%s − %s)/2 − %s", deg(left.Value), deg(right.Value), deg(datum.Value)), deg(lean.Value))
	w.explain("offset of the top", fmt.Sprintf("height × sin(lean) = %s × sin %s", mm(float64(c.Height)), deg(lean.Value)), mm(top.Value))
}

// Walk takes the datum, then the left face, then the right.
func (c *Upright) Walk() []Spot {
	return []Spot{
		{Field: "datum", Label: "datum", Dimension: Angle, Sense: "cross-level", How: "across the datum, display facing forward"},
		{Field: "left_face", Label: "left face", Dimension: Angle, Sense: "plain", How: "upright on the left face; leaning towards the fin is plus"},
		{Field: "right_face", Label: "right face", Dimension: Angle, Sense: "plain", How: "upright on the right face, display kept the same way round; leaning towards the fin is plus"},
	}
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Upright) Disturbed(e Event) bool { return Shaped(e, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Upright) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "height", Label: "Height of the fin", As: "length"},
			DatumAngleU,
		},
		Now:    "Is the fin upright?",
		Angles: true,
		Offers: func(p Lying) map[string]Offer {
			if p.Form != "fin" {
				return nil
			}
			return map[string]Offer{"height": {p.At(p.Rise), p.Ends()}}
		},
	}
}
