package measure

import "fmt"

// zeroTestKind is how the check is called, limited, disturbed and told.
var zeroTestKind = Kind{
	Name: "zero-test", Title: "A level turned end for end", New: func() Walker { return new(ZeroTest) },
	Limits:    []Limitable{{"zero", Angle}, {"slope", Angle}},
	Schools:   []string{},
	Headlines: map[string]string{"zero": "what it shows on a level surface", "slope": "slope of the surface"},
}

// ZeroTest is an instrument turned end for end on the same spot. Half the sum
// of the two readings is what the instrument shows on a level surface, half
// their difference is the slope of the spot.
type ZeroTest struct {
	First  Reading `ws:"first" as:"either"`
	Turned Reading `ws:"turned" as:"either"`
}

// Validate has nothing to refuse: any two readings make a test.
func (c *ZeroTest) Validate(func(path, message string)) {}

// Solve gives zero = (first + turned)/2 and slope = (first − turned)/2. The
// readings are in the instrument's own sense, so its offset and zero play no part.
func (c *ZeroTest) Solve(w *Work) {
	first, turned := w.ReadOwnSense(c.First), w.ReadOwnSense(c.Turned)
	zero, slope := first.Plus(turned).Times(0.5), first.Minus(turned).Times(0.5)
	w.Quantity("zero", Angle, zero)
	w.Quantity("slope", Angle, slope)
	w.explain("zero", fmt.Sprintf("(first + turned)/2 = (%s + %s)/2", deg(first.Value), deg(turned.Value)), deg(zero.Value))
	w.explain("slope of the spot", fmt.Sprintf("(first − turned)/2 = (%s − %s)/2", deg(first.Value), deg(turned.Value)), deg(slope.Value))
}

// Walk lists the two readings.
func (c *ZeroTest) Walk() []Spot {
	return []Spot{
		{Field: "first", Label: "first", Dimension: Angle, Sense: "either", How: "on any steady spot, mark where it stands"},
		{Field: "turned", Label: "turned", Dimension: Angle, Sense: "either", How: "turn it end for end on the same mark"},
	}
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*ZeroTest) Disturbed(e Event) bool { return Shaped(e, Temperature) }

// Form is what is asked for the check before anything is read.
func (*ZeroTest) Form() Form {
	return Form{
		Fields: nil,
		Angles: true,
	}
}
