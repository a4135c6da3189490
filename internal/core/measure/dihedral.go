package measure

import (
	"fmt"

	"orpine/internal/core/form"
	"orpine/internal/core/school"
)

// dihedralKind is how the check is called, limited, disturbed and told.
var dihedralKind = Kind{
	Name: "dihedral", Title: "Dihedral of both panels, by a level", New: func() Walker { return new(Dihedral) },
	Limits:    []Limitable{{"dihedral_difference", Angle}, {"dihedral_left", Angle}, {"dihedral_right", Angle}},
	Schools:   []string{school.Reference},
	Headlines: map[string]string{"dihedral_difference": "dihedral, right less left", "dihedral_left": "dihedral of the left panel, tip up", "dihedral_right": "dihedral of the right panel, tip up"},
}

// Dihedral is the rise of the two panels of a surface towards their tips, each in
// degrees from level with the tip up positive, against a datum across the airframe.
type Dihedral struct {
	Left  Reading  `ws:"left" as:"plain"`
	Right Reading  `ws:"right" as:"plain"`
	Datum *Reading `ws:"datum,optional" as:"cross-level"` // right low is plus
}

// Validate refuses a panel that would stand upright.
func (c *Dihedral) Validate(report func(path, message string)) {
	for _, side := range []struct {
		path string
		r    Reading
	}{{"left", c.Left}, {"right", c.Right}} {
		if m := side.r.Mean(); len(side.r.Values) > 0 && (m > 60 || m < -60) {
			report(side.path, "is no dihedral: read it from level, the tip up as plus")
		}
	}
}

// Solve gives left = left reading − datum, right = right reading + datum, since an
// airframe that hangs right low lifts the left tip and lowers the right one, and their
// difference, right − left. A level that is kept the same way round has its constant
// error reversed on the right panel, so that it leaves all three; turned with the panel
// it adds to the datum's.
func (c *Dihedral) Solve(w *Work) {
	l, r := w.Read(c.Left), w.read(c.Right, !c.Right.Turned, true)
	datum := Exact(0)
	if c.Datum != nil {
		datum = w.Read(*c.Datum)
	}
	left, right := l.Minus(datum), r.Plus(datum)
	w.Quantity("dihedral_left", Angle, left)
	w.Quantity("dihedral_right", Angle, right)
	difference := right.Minus(left)
	w.Quantity("dihedral_difference", Angle, difference)
	w.explain("left panel", fmt.Sprintf("reading − datum = %s − %s", deg(l.Value), deg(datum.Value)), deg(left.Value))
	w.explain("right panel", fmt.Sprintf("reading + datum = %s + %s", deg(r.Value), deg(datum.Value)), deg(right.Value))
	w.explain("difference", fmt.Sprintf("right − left = %s − %s", deg(right.Value), deg(left.Value)), deg(difference.Value))
}

// Walk takes the datum, then the left panel, then the right.
func (c *Dihedral) Walk() []Spot {
	return []Spot{
		{Field: "datum", Label: "datum", Dimension: Angle, Sense: "cross-level", How: "across the datum, display facing forward"},
		{Field: "left", Label: "left panel", Dimension: Angle, Sense: "plain", How: "along the left panel, at its spar, display facing forward; tip up is plus"},
		{Field: "right", Label: "right panel", Dimension: Angle, Sense: "plain", How: "along the right panel, at its spar, display kept facing forward; tip up is plus"},
	}
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Dihedral) Disturbed(e Event) bool { return Shaped(e, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Dihedral) Form() Form {
	return Form{
		Fields: []form.Field{},
		Now:    "Dihedral, both sides",
		Angles: true,
	}
}
