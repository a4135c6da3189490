package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// benchKind is how the check is called, limited, disturbed and told.
var benchKind = Kind{
	Name: "bench", Survey: true, Title: "Survey of rails, bench or jig", New: func() Walker { return new(Bench) },
	Limits:    []Limitable{{"twist", Angle}, {"slope_along", Angle}, {"slope_across", Angle}, {"flatness", Length}, {"bow", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"twist": "twist of the rails, far end over near end", "slope_along": "slope along, far end up", "slope_across": "slope across, right side low", "flatness": "out of one plane", "bow": "bow, a hump is plus"},
}

// Bench is a survey of a table, a pair of rails or the supports of a jig:
// heights at known places, x along from the chosen end, y to the right.
type Bench struct {
	Points []BenchPoint      `ws:"points"`
	Stock  []quantity.Length `ws:"stock,optional"`
	Pieces *int              `ws:"pieces,optional"`
}

// BenchPoint is one surveyed support.
type BenchPoint struct {
	Name   string          `ws:"name"`
	X      quantity.Length `ws:"x"`
	Y      quantity.Length `ws:"y"`
	Height Reading         `ws:"height" as:"length"`
}

// Validate refuses fewer than three points and points that all lie in a line:
// they cannot show a slope across.
func (c *Bench) Validate(report func(path, message string)) {
	validateStock(c.Stock, c.Pieces, report)
	if len(c.Points) < 3 {
		report("points", "fewer than three points cannot show a plane")
		return
	}
	x, y := c.layout()
	if !planar(x, y) {
		report("points", "the points lie in a line; one to the side of it is needed")
	}
}

// layout returns the places of the points, scaled.
func (c *Bench) layout() (x, y scaled) {
	xs, ys := make([]float64, len(c.Points)), make([]float64, len(c.Points))
	for i, p := range c.Points {
		xs[i], ys[i] = float64(p.X), float64(p.Y)
	}
	return scale(xs), scale(ys)
}

// planar tells whether the points are spread over an area.
func planar(x, y scaled) bool {
	w := &Work{}
	_, ok := w.fitColumns(make([]Estimate, len(x.at)), func(i int) []float64 { return []float64{1, x.at[i], y.at[i]} })
	return ok
}

// Solve fits z = a + bx + cy + dxy by least squares. Slope along is
// atan(∂z/∂x) at the mean y, rising with x positive; slope across is
// −atan(∂z/∂y) at the middle of the x range, right low positive; twist is the
// cross-level at the greatest x minus that at the least; flatness the span of
// residuals from the best plane; bow that of a parabola added to the fit.
func (c *Bench) Solve(w *Work) {
	x, y := c.layout()
	heights := make([]Estimate, len(c.Points))
	for i, p := range c.Points {
		heights[i] = w.Read(p.Height)
	}
	plane, _ := w.fitColumns(heights, func(i int) []float64 { return []float64{1, x.at[i], y.at[i]} })
	surface, canTwist := w.fitColumns(heights, func(i int) []float64 { return []float64{1, x.at[i], y.at[i], x.at[i] * y.at[i]} })
	if len(c.Points) == 3 {
		canTwist = false
		w.Find("three-points-cannot-show-twist", "three points always lie in a plane: read a fourth corner")
	} else if !canTwist {
		w.Find("layout-cannot-show-twist", "these places cannot tell twist from slope: read the corners")
	}
	best := plane
	if canTwist {
		best = surface
	}
	crossLevel := func(at float64) Estimate {
		across := best.param(2)
		if canTwist {
			across = across.Plus(best.param(3).Times(x.of(at)))
		}
		return across.Times(-1 / y.size).Atan()
	}
	along := best.param(1).Times(1 / x.size).Atan()
	across := crossLevel((x.least + x.greatest) / 2)
	w.Quantity("slope_along", Angle, along)
	w.Quantity("slope_across", Angle, across)
	w.explain("slope along", "atan of the rise along, at the mean y", deg(along.Value))
	w.explain("slope across", fmt.Sprintf("cross-level at the middle, x = %s, right low positive", mm((x.least+x.greatest)/2)), deg(across.Value))
	if canTwist {
		near, far := crossLevel(x.least), crossLevel(x.greatest)
		twist := far.Minus(near)
		w.Quantity("twist", Angle, twist)
		w.explain("twist", fmt.Sprintf("cross-level at x = %s less that at x = %s: %s − %s", mm(x.greatest), mm(x.least), deg(far.Value), deg(near.Value)), deg(twist.Value))
	}
	if len(c.Points) > 3 {
		flatness, top, bottom := plane.spreadOfResiduals()
		w.Extreme("flatness", nil, Length, flatness, plane.differences())
		w.explain("flatness", fmt.Sprintf("from the best plane, %s %s, %s %s", c.Points[top].Name, mm(plane.left[top]), c.Points[bottom].Name, mm(plane.left[bottom])), mm(flatness))
	}
	c.bow(w, heights, x, y, canTwist)
	c.moves(w, heights)
}

// bow adds e·x² to the fit: bow = −e(x_max − x_min)²/4.
func (c *Bench) bow(w *Work, heights []Estimate, x, y scaled, canTwist bool) {
	if !canTwist || len(c.Points) < 5 || x.places < 3 {
		return
	}
	bowed, ok := w.fitColumns(heights, func(i int) []float64 {
		return []float64{1, x.at[i], y.at[i], x.at[i] * y.at[i], x.at[i] * x.at[i]}
	})
	if !ok {
		return
	}
	extent := x.extent() / x.size
	bow := bowed.param(4).Times(-extent * extent / 4)
	w.Quantity("bow", Length, bow)
	w.explain("bow", "hump of the parabola along x, middle over ends", mm(bow.Value))
}

// moves raises each point to level with the highest reading.
func (c *Bench) moves(w *Work, heights []Estimate) {
	highest := math.Inf(-1)
	for _, h := range heights {
		highest = max(highest, h.Value)
	}
	for i, h := range heights {
		w.Move(c.Points[i].Name, "up", highest-h.Value)
	}
	w.stackMoves(c.Stock, c.Pieces)
}

// Walk goes along the points in the order in which they are listed.
func (c *Bench) Walk() []Spot {
	spots := make([]Spot, len(c.Points))
	for i, p := range c.Points {
		spots[i] = Spot{List: "points", Point: p.Name, Field: "height", Label: "height", Dimension: Length, Sense: "length",
			How: "rule upright at the support, zero on the laser line: read the top of the support"}
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Bench) Disturbed(e Event) bool { return Shaped(e, BenchMoved) }

// Form is what is asked for the check before anything is read.
func (*Bench) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "points", Label: "Supports: name; along; across (right is plus)", Columns: []string{"name", "x", "y"}, As: "length"},
			{Key: "stock", Label: "Shims in stock, parted by ;", Columns: []string{""}, As: "length", Optional: true},
		},
		Now:     "Is the bench true?",
		Example: map[string]string{"points": "near left; 0; -350\nnear right; 0; 350\nfar left; 2000; -350\nfar right; 2000; 350"},
		Offers: func(p Lying) map[string]Offer {
			if !p.Surface() {
				return nil
			}
			return map[string]Offer{"points": {p.Rails(0.6 * p.Chord), append([]string{"chord"}, p.Ends()...)}}
		},
	}
}
