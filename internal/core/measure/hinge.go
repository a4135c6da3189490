package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// hingeLineKind is how the check is called, limited, disturbed and told.
var hingeLineKind = Kind{
	Name: "hinge-line", Title: "Hinges in a line", New: func() Walker { return new(HingeLine) },
	Limits:    []Limitable{{"worst", Length}, {"departure", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"worst": "furthest from the line", "departure": "off the line"},
}

// HingeLine is a row of hinges or bearings that should lie in a line.
type HingeLine struct {
	Points []HingePoint      `ws:"points"`
	Adjust string            `ws:"adjust,optional" oneof:"z y"` // the direction that can be shimmed; z unless said
	Stock  []quantity.Length `ws:"stock,optional"`
	Pieces *int              `ws:"pieces,optional"`
}

// HingePoint is one hinge: x along, y to the right, z up.
type HingePoint struct {
	Name string          `ws:"name"`
	X    quantity.Length `ws:"x"`
	Y    Reading         `ws:"y" as:"length"`
	Z    Reading         `ws:"z" as:"length"`
}

// Validate refuses points that are all at one place.
func (c *HingeLine) Validate(report func(path, message string)) {
	validateStock(c.Stock, c.Pieces, report)
	if distinct(c.positions()) < 2 {
		report("points", "fewer than two places along the line make no line")
	}
}

func (c *HingeLine) positions() []float64 {
	out := make([]float64, len(c.Points))
	for i, p := range c.Points {
		out[i] = float64(p.X)
	}
	return out
}

// Solve fits lines y(x) and z(x). The departure of each point is its distance
// from them; its u is the greater of those in the two directions.
func (c *HingeLine) Solve(w *Work) {
	y, z := make([]Estimate, len(c.Points)), make([]Estimate, len(c.Points))
	for i, p := range c.Points {
		y[i], z[i] = w.Read(p.Y), w.Read(p.Z)
	}
	x := scale(c.positions())
	row := func(i int) []float64 { return []float64{1, x.at[i]} }
	inY, _ := w.fitColumns(y, row)
	inZ, _ := w.fitColumns(z, row)
	u := func(placings int) []float64 {
		a, b := inY.covariance(placings), inZ.covariance(placings)
		out := make([]float64, len(c.Points))
		for i := range out {
			out[i] = math.Sqrt(max(0, a.of(i, i), b.of(i, i)))
		}
		return out
	}
	known := map[int][]float64{}
	at := func(placings int) []float64 {
		if known[placings] == nil {
			known[placings] = u(placings)
		}
		return known[placings]
	}
	departures := make([]float64, len(c.Points))
	for i, p := range c.Points {
		departures[i] = math.Hypot(inY.left[i], inZ.left[i])
		w.Extreme("departure", p.Name, Length, departures[i], Grounds{U: func(placings int) float64 { return at(placings)[i] }, Candidates: func(yield func(Estimate) bool) {
			_ = yield(inY.residual(i)) && yield(inZ.residual(i))
		}})
		w.explain(p.Name, fmt.Sprintf("from the line, y %s, z %s", mm(inY.left[i]), mm(inZ.left[i])), mm(departures[i]))
	}
	w.Extreme("worst", nil, Length, departures[greatest(departures)], Grounds{U: func(placings int) float64 { return greatestOf(at(placings)) }, Candidates: func(yield func(Estimate) bool) {
		for i := range c.Points {
			if !yield(inY.residual(i)) || !yield(inZ.residual(i)) {
				return
			}
		}
	}})
	c.moves(w, inY.left, inZ.left)
}

func greatestOf(values []float64) float64 {
	most := 0.0
	for _, v := range values {
		most = max(most, v)
	}
	return most
}

// moves bring each point onto the line in the direction that can be adjusted.
func (c *HingeLine) moves(w *Work, y, z []float64) {
	off, positive, negative := z, "down", "up"
	if c.Adjust == "y" {
		off, positive, negative = y, "left", "right"
	}
	for i, p := range c.Points {
		direction := negative
		if off[i] > 0 {
			direction = positive
		}
		w.Move(p.Name, direction, math.Abs(off[i]))
	}
	w.stackMoves(c.Stock, c.Pieces)
}

// Walk goes along the hinges, y then z at each.
func (c *HingeLine) Walk() []Spot {
	var spots []Spot
	for _, p := range c.Points {
		spots = append(spots,
			Spot{"points", p.Name, "y", "across", Length, "length", "from the string to the hinge centre, across"},
			Spot{"points", p.Name, "z", "up", Length, "length", "from the string to the hinge centre, upwards"})
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*HingeLine) Disturbed(e Event) bool { return Shaped(e, ReClamped) }

// Form is what is asked for the check before anything is read.
func (*HingeLine) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "points", Label: "Hinges: name; along", Columns: []string{"name", "x"}, As: "length"},
			{Key: "stock", Label: "Shims in stock, parted by ;", Columns: []string{""}, As: "length", Optional: true},
			{Key: "adjust", Label: "Moved up and down (z) or across (y)", As: "word", Words: []string{"z", "y"}, Optional: true},
		},
		Now: "Hinges in a line?",
	}
}
