package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// decalageKind is how the check is called, limited, disturbed and told.
var decalageKind = Kind{
	Name: "decalage", Title: "Forward surface against aft surface", New: func() Walker { return new(Decalage) },
	Limits:    []Limitable{{"decalage", Angle}},
	Schools:   []string{},
	Headlines: map[string]string{"decalage": "forward surface over aft surface"},
}

// Given is a reading, or a figure known with its standard uncertainty from
// elsewhere.
type Given struct {
	Reading *Reading
	Value   quantity.Angle `ws:"value"`
	U       quantity.Angle `ws:"u"`
}

// readGiven takes a reading, or a known figure with its own uncertainty.
func (w *Work) readGiven(g Given) Estimate {
	if g.Reading != nil {
		return w.Read(*g.Reading)
	}
	return w.known(float64(g.Value), float64(g.U))
}

// Decalage compares the incidence of the forward surface with that of the aft
// one.
type Decalage struct {
	Forward     Given  `ws:"forward" as:"pitch"`
	Aft         Given  `ws:"aft" as:"pitch"`
	Arrangement string `ws:"arrangement,optional" oneof:"conventional tandem canard"`

	AttachSpacing *quantity.Length `ws:"attach_spacing,optional"` // front to rear attachment of the forward surface
}

// Validate refuses a negative uncertainty.
func (c *Decalage) Validate(report func(path, message string)) {
	for path, g := range map[string]Given{"forward.u": c.Forward, "aft.u": c.Aft} {
		if g.U < 0 {
			report(path, "must not be negative")
		}
	}
	if c.AttachSpacing != nil && *c.AttachSpacing <= 0 {
		report("attach_spacing", "must be above 0")
	}
}

// Shim is what brings a decalage that is off by so many degrees to where it should be, at
// the rear attachment of the forward surface: attach_spacing × tan(off); ok is false
// where the spacing is not known.
func (c *Decalage) Shim(off float64) (mm float64, ok bool) {
	if c.AttachSpacing == nil {
		return 0, false
	}
	return float64(*c.AttachSpacing) * math.Tan(off/perRadian), true
}

// Solve gives decalage = forward − aft. On a canard the forward surface must
// stall first; the designer's figures govern.
func (c *Decalage) Solve(w *Work) {
	forward, aft := w.readGiven(c.Forward), w.readGiven(c.Aft)
	decalage := forward.Minus(aft)
	w.Quantity("decalage", Angle, decalage)
	w.explain("decalage", fmt.Sprintf("forward − aft = %s − %s", deg(forward.Value), deg(aft.Value)), deg(decalage.Value))
	if c.Arrangement == "canard" {
		w.Find("forward-surface-must-stall-first", "the forward surface must stall first: the designer's figures govern")
	}
}

// Walk takes the forward surface first.
func (c *Decalage) Walk() []Spot {
	how := "incidence board on the chord line, the same way round on both surfaces"
	return []Spot{
		{Field: "forward", Label: "forward surface", Dimension: Angle, Sense: "pitch", How: how},
		{Field: "aft", Label: "aft surface", Dimension: Angle, Sense: "pitch", How: how},
	}
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Decalage) Disturbed(e Event) bool { return Shaped(e, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Decalage) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "arrangement", Label: "Arrangement", As: "word", Words: []string{"conventional", "tandem", "canard"}},
			{Key: "attach_spacing", Label: "Forward surface: front to rear attachment, to say what to shim", As: "length", Optional: true},
		},
		Now:    "Canard against wing",
		Angles: true,
	}
}
