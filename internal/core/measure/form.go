package measure

import (
	"fmt"
	"math"
	"strings"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/shape"
)

// Form is what is asked for a check before anything is read, and what is known of that beforehand. Its
// zero value is that of a kind that is not begun by a form.
type Form struct {
	Fields  []form.Field                             // nil: it has none; an empty list: it asks for nothing
	Now     string                                   // what it is called where it is measured at once; "" where that is not offered
	Angles  bool                                     // a level reads it, and not a tape
	Apart   bool                                     // its angles are near nothing: neither one another nor level
	Known   []string                                 // fields that say how well its points are known
	Made    []string                                 // fields that stand for several of the definition, and not in it themselves
	Plans   []string                                 // fields that only the plans know: nothing stands in for them
	Example map[string]string                        // where it is measured at once, by field, as it is typed in millimetres
	Assumes map[string]Assumed                       // fields that are taken to be so where nobody stated them
	Offers  func(p Lying) map[string]Offer           // what follows from the shape of the part; nil for nothing
	Finish  func(definition map[string]any)          // makes a definition of the fields, where one stands for several
	Lists   func(definition map[string]any) []string // where its points stand; nil: in the field with their names
}

// Offer is a figure that follows from the shape of a part, with the fields of the shape that it rests on.
type Offer struct {
	Text  string
	Rests []string
}

// Assumed is what a field is taken to be, as it is typed, and of what.
type Assumed struct{ Typed, What string }

// How a surface lies on the bench that it is measured on: its own shape, or the bench's too.
const (
	Stiffly    = "stiff, and lying by itself"
	Limply     = "flexible, or held down"
	onceLimply = "limp, or held down" // as it was called before: addresses and what waits in phones say so
	Loosely    = "not fastened yet, and taking the shape of its jig"
)

// How well points are known, where nobody stated it: the standard uncertainty of each coordinate of
// points on the airframe, and of marks on a surface.
const (
	UsualDatumU = "1 mm"
	UsualMarkU  = "0.5 mm"
)

// DatumU and MarksU ask how well points are known, where readings are weighed against one another.
var (
	DatumU = PointsU("datum_u", "Points on the airframe are known to (u of each coordinate; empty: "+say.Written(1).String()+")")
	MarksU = PointsU("points_u", "Marks on the surface are known to (u of each coordinate, its making included; empty: "+say.Written(0.5).String()+")")
)

// DatumAngleU asks how well the datum that a level is put on is the reference that the plans mean.
var DatumAngleU = form.Field{Key: "datum_u", Label: "The datum is the plans’ reference to within (one standard deviation; empty: it is that reference)", As: "plain", Optional: true, Kept: true}

// PointsU asks how well some points are known.
func PointsU(key, label string) form.Field {
	return form.Field{Key: key, Label: label, As: "length", Optional: true}
}

// Lying is a part as it is measured, in the unit that its builder types.
type Lying struct {
	shape.Shape
	Unit quantity.Unit
}

// At writes a length as it would be typed without its unit: whole millimetres, or inches to a sixteenth.
func (p Lying) At(mm float64) string {
	to, unit := math.Round(mm), quantity.Millimetre
	if p.Unit == quantity.Inch {
		to, unit = math.Round(mm/25.4*16)/16*25.4, quantity.Inch
	}
	return strings.TrimSuffix(quantity.Length(to).Text(unit), " "+unit.String())
}

// Whole tells whether the part reaches across the centreline.
func (p Lying) Whole() bool { return p.Inner < 0 && p.Outer > 0 }

// Surface tells whether it is one, or the spar of one.
func (p Lying) Surface() bool { return p.Form == "surface" || p.Form == "spar" || p.Form == "fin" }

// Ends are the fields of the shape that its span rests on.
func (p Lying) Ends() []string {
	if p.Form == "fin" {
		return []string{"rise"}
	}
	return []string{"inner", "outer"}
}

// Along are three places along the span by their names, a line each.
func (p Lying) Along() string {
	names := []string{"root", "middle", "tip"}
	switch {
	case p.Form == "fin":
		names = []string{"foot", "middle", "top"}
	case p.Whole():
		names = []string{"left end", "middle", "right end"}
	}
	for i, name := range names {
		names[i] = name + "; " + p.At(p.Span()*float64(i)/2)
	}
	return strings.Join(names, "\n")
}

// Rails are the supports of two rails under it, so far apart: at its ends and in the middle, the front
// rail under its leading edge.
func (p Lying) Rails(apart float64) string {
	var lines []string
	for i := range 3 {
		x := p.At(p.Span() * float64(i) / 2)
		lines = append(lines, fmt.Sprintf("F%d; %s; %s", i+1, x, p.At(-apart/2)), fmt.Sprintf("R%d; %s; %s", i+1, x, p.At(apart/2)))
	}
	return strings.Join(lines, "\n")
}

// PointsOf are where the points of a check stand in its definition: its only list of names, or what its
// kind says.
func (f Form) PointsOf(definition map[string]any) []string {
	if f.Lists != nil {
		return f.Lists(definition)
	}
	for _, field := range f.Fields {
		if field.Names() {
			return []string{field.Key}
		}
	}
	return nil
}
