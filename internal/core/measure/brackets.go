package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// bracketsKind is how the check is called, limited, disturbed and told.
var bracketsKind = Kind{
	Name: "brackets", Title: "A pair of brackets", New: func() Walker { return new(Brackets) },
	Limits:    []Limitable{{"roll", Angle}, {"skew", Angle}, {"tip_difference", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"roll": "roll, right side low", "skew": "skew, right tip aft", "tip_difference": "tip difference"},
}

// Brackets are a pair that carries a surface; a small mismatch grows to the tips.
type Brackets struct {
	Left    Reading         `ws:"left" as:"length"`
	Right   Reading         `ws:"right" as:"length"`
	Spacing quantity.Length `ws:"spacing"`
	Span    quantity.Length `ws:"span"`
	Axis    string          `ws:"axis,optional" oneof:"height station"` // height unless said
}

// Validate refuses a mismatch as great as the spacing.
func (c *Brackets) Validate(report func(path, message string)) {
	if c.Span <= 0 {
		report("span", "must be above 0")
	}
	switch {
	case c.Spacing <= 0:
		report("spacing", "must be above 0")
	case len(c.Left.Values) > 0 && len(c.Right.Values) > 0:
		w := &Work{}
		if off := w.Read(c.Left).Minus(w.Read(c.Right)); math.Abs(off.Value) >= float64(c.Spacing) {
			report("right", "differs from left by more than the spacing: look at the readings")
		}
	}
}

// Solve gives roll = asin((left − right)/spacing) for heights, or skew =
// asin((right − left)/spacing) for stations; the tip difference, span × its sine;
// and the mismatch that the limits allow.
func (c *Brackets) Solve(w *Work) {
	left, right := w.Read(c.Left), w.Read(c.Right)
	name, mismatch := "roll", left.Minus(right)
	if c.Axis == "station" {
		name, mismatch = "skew", right.Minus(left)
	}
	sine := mismatch.Times(1 / float64(c.Spacing))
	angle := sine.Map(math.Asin(sine.Value)*perRadian, perRadian/math.Sqrt(1-sine.Value*sine.Value))
	tips := sine.Times(float64(c.Span))
	w.Quantity(name, Angle, angle)
	w.Quantity("tip_difference", Length, tips)
	w.explain(name, fmt.Sprintf("asin(mismatch/spacing) = asin(%s/%s)", mm(mismatch.Value), mm(float64(c.Spacing))), deg(angle.Value))
	w.explain("tip difference", fmt.Sprintf("span × mismatch/spacing = %s × %s/%s", mm(float64(c.Span)), mm(mismatch.Value), mm(float64(c.Spacing))), mm(tips.Value))
	if allowed := c.allowed(w, name); !math.IsInf(allowed, 1) {
		w.Quantity("allowed", Length, Exact(allowed))
		w.explain("allowed mismatch", "the least that a limit leaves at the brackets", mm(allowed))
	}
}

// allowed is the least mismatch that any of the limits leaves.
func (c *Brackets) allowed(w *Work, angle string) float64 {
	least := math.Inf(1)
	each := func(name string, at func(bound float64) float64) {
		limit, ok := w.limits[name]
		for _, bound := range []*float64{limit.Low, limit.High} {
			if ok && bound != nil {
				least = min(least, at(math.Abs(*bound)))
			}
		}
	}
	spacing, span := float64(c.Spacing), float64(c.Span)
	each("tip_difference", func(bound float64) float64 { return spacing * bound / span })
	each(angle, func(bound float64) float64 { return spacing * math.Sin(bound/perRadian) })
	return least
}

// Walk takes left, then right.
func (c *Brackets) Walk() []Spot {
	how := "to the same edge of each bracket's hole, with the same instrument"
	return []Spot{
		{Field: "left", Label: "left bracket", Dimension: Length, Sense: "length", How: how},
		{Field: "right", Label: "right bracket", Dimension: Length, Sense: "length", How: how},
	}
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Brackets) Disturbed(e Event) bool { return Shaped(e) }

// Form is what is asked for the check before anything is read.
func (*Brackets) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "spacing", Label: "Between the brackets", As: "length"},
			{Key: "span", Label: "Span that they carry", As: "length"},
			{Key: "axis", Label: "Compared in", As: "word", Words: []string{"height", "station"}},
		},
		Now: "Two brackets alike?",
		Offers: func(p Lying) map[string]Offer {
			switch {
			case p.Whole():
				return map[string]Offer{"span": {p.At(p.Span()), p.Ends()}}
			case p.Surface():
				return map[string]Offer{"span": {p.At(2 * math.Max(math.Abs(p.Inner), math.Abs(p.Outer))), p.Ends()}}
			}
			return nil
		},
	}
}
