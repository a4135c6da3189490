package measure

import (
	"fmt"

	"orpine/internal/core/form"
)

// pairsKind is how the check is called, limited, disturbed and told.
var pairsKind = Kind{
	Name: "pairs", Title: "Left against right", New: func() Walker { return new(Pairs) },
	Limits:    []Limitable{{"difference", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"difference": "right less left"},
}

// Pairs are lengths that should be the same on the left and the right.
type Pairs struct {
	Pairs []Pair `ws:"pairs"`
}

// Pair is one such length.
type Pair struct {
	Name  string  `ws:"name"`
	Left  Reading `ws:"left" as:"length"`
	Right Reading `ws:"right" as:"length"`
}

// Validate refuses an empty list.
func (c *Pairs) Validate(report func(path, message string)) {
	if len(c.Pairs) == 0 {
		report("pairs", "is an empty list")
	}
}

// Solve gives right − left for each pair, and the one of greatest magnitude.
func (c *Pairs) Solve(w *Work) {
	differences, values := make([]Estimate, len(c.Pairs)), make([]float64, len(c.Pairs))
	for i, p := range c.Pairs {
		left, right := w.Read(p.Left), w.Read(p.Right)
		differences[i] = right.Minus(left)
		values[i] = differences[i].Value
		w.QuantityAt("difference", p.Name, Length, differences[i])
		w.explain(p.Name, fmt.Sprintf("right − left = %s − %s", mm(right.Value), mm(left.Value)), mm(values[i]))
	}
	w.Extreme("worst_difference", nil, Length, values[greatest(values)], w.oneOf(differences))
}

// Walk takes each length on the left, then on the right.
func (c *Pairs) Walk() []Spot {
	how := "from the same mark to the same edge on both sides, tape straight"
	var spots []Spot
	for _, p := range c.Pairs {
		spots = append(spots, Spot{"pairs", p.Name, "left", "left", Length, "length", how}, Spot{"pairs", p.Name, "right", "right", Length, "length", how})
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Pairs) Disturbed(e Event) bool { return Shaped(e, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Pairs) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "pairs", Label: "Lengths that should be alike, one to a line", Columns: []string{"name"}, As: "length"},
		},
		Now: "Left against right",
	}
}
