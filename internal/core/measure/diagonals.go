package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
)

// diagonalsKind is how the check is called, limited, disturbed and told.
var diagonalsKind = Kind{
	Name: "diagonals", Title: "Diagonals of a bay or panel", New: func() Walker { return new(Diagonals) },
	Limits:    []Limitable{{"rack_offset", Length}, {"difference", Length}, {"rack", Angle}, {"closure", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"rack_offset": "far side to the right", "difference": "right less left", "rack": "rack", "closure": "left over of the five lengths"},
}

// Diagonals are those of a bay, panel or bulkhead with two parallel sides.
type Diagonals struct {
	Near   Reading `ws:"near" as:"length"`
	Far    Reading `ws:"far" as:"length"`
	Length Reading `ws:"length" as:"length"` // between the parallel sides
	D1     Reading `ws:"d1" as:"length"`     // near left to far right
	D2     Reading `ws:"d2" as:"length"`     // near right to far left
}

// Validate refuses lengths that are not above 0.
func (c *Diagonals) Validate(report func(path, message string)) {
	for _, side := range []struct {
		path string
		r    Reading
	}{{"near", c.Near}, {"far", c.Far}, {"length", c.Length}, {"d1", c.D1}, {"d2", c.D2}} {
		if len(side.r.Values) > 0 && side.r.Mean() <= 0 {
			report(side.path, "must be above 0")
		}
	}
}

// Solve gives the difference d1 − d2, the far side's shift to the right
// (d1² − d2²)/(2(near + far)), the angle of that, and by how much the five
// lengths fail to close.
func (c *Diagonals) Solve(w *Work) {
	near, far, length := w.Read(c.Near), w.Read(c.Far), w.Read(c.Length)
	d1, d2 := w.Read(c.D1), w.Read(c.D2)
	sides := near.Plus(far)
	difference := d1.Minus(d2)
	offset := d1.By(d1).Minus(d2.By(d2)).Over(sides.Times(2))
	rack := offset.Over(length).Atan()
	half := sides.Times(0.5)
	closure := d1.By(d1).Plus(d2.By(d2)).Times(0.5).Minus(length.By(length)).Minus(offset.By(offset)).Minus(half.By(half)).Over(d1.Plus(d2))
	w.Quantity("difference", Length, difference)
	w.Quantity("rack_offset", Length, offset)
	w.Quantity("rack", Angle, rack)
	w.Quantity("closure", Length, closure)
	w.explain("difference", fmt.Sprintf("d1 − d2 = %s − %s", mm(d1.Value), mm(d2.Value)), mm(difference.Value))
	w.explain("rack offset", fmt.Sprintf("(d1² − d2²)/(2(near + far)), near + far = %s", mm(sides.Value)), mm(offset.Value))
	if off := math.Abs(closure.Value); w.Tells() && off > 3*w.U(closure, 0) && off > 1e-6 {
		w.Disprove("the five lengths do not close: take the diagonals and the length again")
	}
}

// Walk goes round the sides, then takes the diagonals.
func (c *Diagonals) Walk() []Spot {
	how := "from the same edge of each corner mark, tape straight and at the same pull"
	spot := func(field, label string) Spot {
		return Spot{Field: field, Label: label, Dimension: Length, Sense: "length", How: how}
	}
	return []Spot{spot("near", "near side"), spot("far", "far side"), spot("length", "length between them"), spot("d1", "near left to far right"), spot("d2", "near right to far left")}
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Diagonals) Disturbed(e Event) bool { return Shaped(e, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Diagonals) Form() Form {
	return Form{
		Fields: []form.Field{},
		Now:    "Is the bay square?",
	}
}
