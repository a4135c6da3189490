package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
	"orpine/internal/core/school"
)

// dihedralKind is how the check is called, limited, disturbed and told.
var dihedralKind = Kind{
	Name: "dihedral", Title: "Dihedral of both panels", New: func() Walker { return new(Dihedral) },
	Limits:    []Limitable{{"dihedral_difference", Angle}, {"dihedral_error", Angle}, {"dihedral", Angle}, {"dihedral_left", Angle}, {"dihedral_right", Angle}},
	Schools:   []string{school.Reference},
	Headlines: map[string]string{"dihedral_difference": "dihedral, right less left", "dihedral_error": "dihedral, off the design", "dihedral": "dihedral of both panels", "dihedral_left": "dihedral of the left panel, tip up", "dihedral_right": "dihedral of the right panel, tip up"},
}

// Dihedral is the rise of the two panels of a surface towards their tips: each read in degrees from level,
// the tip up positive, against a datum across the airframe; or by a string from tip to tip.
type Dihedral struct {
	Left   *Reading        `ws:"left,optional" as:"plain"`
	Right  *Reading        `ws:"right,optional" as:"plain"`
	Datum  *Reading        `ws:"datum,optional" as:"cross-level"` // right low is plus
	DatumU *quantity.Angle `ws:"datum_u,optional" as:"plain"`     // how well the datum is the reference that the plans mean
	String *TipString      `ws:"string,optional"`
	Design *quantity.Angle `ws:"design,optional"`
}

// TipString is a string from tip mark to tip mark.
type TipString struct {
	Drop          Reading         `ws:"drop" as:"length"` // from it down to the root mark
	LeftSpan      quantity.Length `ws:"left_span"`        // across, level, from the root mark to the tip mark
	RightSpan     quantity.Length `ws:"right_span"`
	TipDifference *Reading        `ws:"tip_difference,optional" as:"length"` // how much higher the right tip mark stands
}

// Validate refuses a panel that would stand upright, and anything but two angles or a string.
func (c *Dihedral) Validate(report func(path, message string)) {
	if c.String != nil {
		for _, field := range []struct {
			path  string
			there bool
		}{{"left", c.Left != nil}, {"right", c.Right != nil}, {"datum", c.Datum != nil}} {
			if field.there {
				report(field.path, "belongs to the level: give the angles or the string, not both")
			}
		}
		for path, span := range map[string]quantity.Length{"string.left_span": c.String.LeftSpan, "string.right_span": c.String.RightSpan} {
			if span <= 0 {
				report(path, "must be above 0")
			}
		}
	}
	for _, side := range []struct {
		path string
		r    *Reading
	}{{"left", c.Left}, {"right", c.Right}} {
		switch {
		case side.r == nil && c.String == nil:
			report(side.path, "is missing")
		case side.r == nil || len(side.r.Values) == 0:
		case math.Abs(side.r.Mean()) > mostDihedral:
			report(side.path, "is no dihedral: read it from level, the tip up as plus")
		}
	}
	validateDatumU(c.Datum, c.DatumU, report)
}

// mostDihedral is the steepest panel, in degrees.
const mostDihedral = 60

// Solve gives left = left reading − datum, right = right reading + datum, since an
// airframe that hangs right low lifts the left tip and lowers the right one, their mean, what
// that is off the design, and their difference, right − left. A level that is kept the same way round has its
// constant error reversed on the right panel, so that it leaves the difference; turned with the panel it adds
// to the datum's.
//
// By a string, with L and R the spans, h the drop and t the tip difference, the tips stand
// at h_L = h − t·L/(L + R) and h_R = h + t·R/(L + R) above the root mark, and the panels at atan(h_L/L) and
// atan(h_R/R). Without a tip difference the two cannot be told apart, and only their mean is given.
func (c *Dihedral) Solve(w *Work) {
	left, right, both := c.panels(w)
	mean := left.Plus(right).Times(0.5)
	if both {
		w.Quantity("dihedral_left", Angle, left)
		w.Quantity("dihedral_right", Angle, right)
		w.Quantity("dihedral_difference", Angle, right.Minus(left))
		w.explain("difference", fmt.Sprintf("right − left = %s − %s", deg(right.Value), deg(left.Value)), deg(right.Value-left.Value))
	}
	w.Quantity("dihedral", Angle, mean)
	if c.Design != nil {
		missed := mean.Minus(Exact(float64(*c.Design)))
		w.Quantity("dihedral_error", Angle, missed)
		w.explain("error", fmt.Sprintf("mean − design = %s − %s", deg(mean.Value), deg(float64(*c.Design))), deg(missed.Value))
	}
	if c.String == nil && c.Datum == nil {
		for _, name := range []string{"dihedral_left", "dihedral_right", "dihedral_difference"} {
			if _, limited := w.limits[name]; limited {
				w.Find("assumes-level-airframe", "the airframe is taken as level: read its datum across")
				w.AtBestUnsure()
				break
			}
		}
	}
}

// panels are the angles of both; both is false where only their mean means anything.
func (c *Dihedral) panels(w *Work) (left, right Estimate, both bool) {
	if c.String == nil {
		l, r := w.Read(*c.Left), w.read(*c.Right, !c.Right.Turned, true)
		datum := w.asDatum(c.Datum, c.DatumU)
		left, right = l.Minus(datum), r.Plus(datum)
		w.explain("left panel", fmt.Sprintf("reading − datum = %s − %s", deg(l.Value), deg(datum.Value)), deg(left.Value))
		w.explain("right panel", fmt.Sprintf("reading + datum = %s + %s", deg(r.Value), deg(datum.Value)), deg(right.Value))
		return left, right, true
	}
	s := c.String
	drop, tip := w.Read(s.Drop), Exact(0)
	if s.TipDifference != nil {
		tip = w.Read(*s.TipDifference)
	}
	l, r := float64(s.LeftSpan), float64(s.RightSpan)
	left = drop.Minus(tip.Times(l / (l + r))).Times(1 / l).Atan()
	right = drop.Plus(tip.Times(r / (l + r))).Times(1 / r).Atan()
	w.explain("left panel", fmt.Sprintf("atan((drop − tip difference × left/(left + right))/left), drop %s, tip difference %s", mm(drop.Value), mm(tip.Value)), deg(left.Value))
	w.explain("right panel", "atan((drop + tip difference × right/(left + right))/right)", deg(right.Value))
	return left, right, s.TipDifference != nil
}

// Walk takes the datum, then the left panel, then the right.
func (c *Dihedral) Walk() []Spot {
	if c.String != nil {
		return []Spot{
			{Field: "string.drop", Label: "drop", Dimension: Length, Sense: "length", How: "from the string, drawn tight from tip mark to tip mark, down to the root mark"},
			{Field: "string.tip_difference", Label: "right tip higher", Dimension: Length, Sense: "length", How: "how much higher the right tip mark stands than the left, across the airframe's own level"},
		}
	}
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
		Fields: []form.Field{DatumAngleU},
		Now:    "Dihedral, both sides",
		Angles: true,
	}
}
