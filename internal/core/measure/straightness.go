package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// straightnessKind is how the check is called, limited, disturbed and told.
var straightnessKind = Kind{
	Name: "straightness", Title: "Straightness of a spar or edge", New: func() Walker { return new(Straightness) },
	Limits:    []Limitable{{"bow", Length}, {"departure", Length}, {"rms", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"bow": "bow, a hump is plus", "departure": "off the line", "rms": "off the line, all points together"},
}

// Straightness is the offset of a spar, stringer or edge from a straight
// reference at places x along it.
type Straightness struct {
	Points    []StraightPoint `ws:"points"`
	Reference string          `ws:"reference,optional" oneof:"ends best"` // ends unless said
}

// StraightPoint is one offset, named or known by its x.
type StraightPoint struct {
	Name   string          `ws:"name,optional"`
	X      quantity.Length `ws:"x"`
	Offset Reading         `ws:"offset" as:"length"`
}

// at is how a result refers to the point.
func (p StraightPoint) at() any {
	if p.Name != "" {
		return p.Name
	}
	return float64(p.X)
}

// Validate refuses points that are all at one place.
func (c *Straightness) Validate(report func(path, message string)) {
	positions := make([]float64, len(c.Points))
	for i, p := range c.Points {
		positions[i] = float64(p.X)
	}
	if distinct(positions) < 2 {
		report("points", "fewer than two places along the part make no line")
	}
}

// Solve gives the departures from the line through the end points, or from the
// best line.
func (c *Straightness) Solve(w *Work) {
	offsets, positions := make([]Estimate, len(c.Points)), make([]float64, len(c.Points))
	for i, p := range c.Points {
		offsets[i], positions[i] = w.Read(p.Offset), float64(p.X)
	}
	if c.Reference == "best" {
		c.fromBestLine(w, offsets, scale(positions))
		return
	}
	c.fromEnds(w, offsets, positions)
}

// fromEnds takes the inner departure of greatest magnitude from the line
// through the points of least and greatest x as the bow.
func (c *Straightness) fromEnds(w *Work, offsets []Estimate, positions []float64) {
	first, last := ends(positions)
	departures := departFromEnds(offsets, positions, first, last)
	inner := innerDepartures(departures, first, last)
	if len(inner) > 0 {
		at := worstInner(departures, first, last)
		p := c.Points[at]
		w.Extreme("bow", p.at(), Length, departures[at].Value, w.oneOf(inner))
		along := (positions[at] - positions[first]) / (positions[last] - positions[first])
		w.explain("bow", fmt.Sprintf("%v: offset − line through the ends = %s − (%s + %.4f × %s)", p.at(), mm(offsets[at].Value),
			mm(offsets[first].Value), along, mm(offsets[last].Value-offsets[first].Value)), mm(departures[at].Value))
	}
	w.rms(departures, w.oneOf(inner))
}

// ends are the points of least and greatest position, ties to the first.
func ends(positions []float64) (first, last int) {
	for i, x := range positions {
		if x < positions[first] {
			first = i
		}
		if x > positions[last] {
			last = i
		}
	}
	return first, last
}

// innerDepartures are the departures of all points but the two ends.
func innerDepartures(departures []Estimate, first, last int) []Estimate {
	var inner []Estimate
	for i, d := range departures {
		if i != first && i != last {
			inner = append(inner, d)
		}
	}
	return inner
}

// worstInner is the inner point of greatest departure, ties to the first.
func worstInner(departures []Estimate, first, last int) int {
	at := -1
	for i, d := range departures {
		if i != first && i != last && (at < 0 || math.Abs(d.Value) > math.Abs(departures[at].Value)+tie) {
			at = i
		}
	}
	return at
}

// greatestU is the greatest u among estimates, by placings.
func (w *Work) greatestU(estimates []Estimate) func(placings int) float64 {
	return func(placings int) float64 {
		most := 0.0
		for _, e := range estimates {
			most = max(most, w.U(e, placings))
		}
		return most
	}
}

// departFromEnds returns each offset less the line through two of them.
func departFromEnds(offsets []Estimate, positions []float64, first, last int) []Estimate {
	out := make([]Estimate, len(offsets))
	for i := range offsets {
		along := (positions[i] - positions[first]) / (positions[last] - positions[first])
		out[i] = offsets[i].Minus(offsets[first].Times(1 - along)).Minus(offsets[last].Times(along))
	}
	return out
}

// fromBestLine gives the greatest departure from the best line, and the bow of
// a parabola when there are three places to fit one: bow = −e(x_max − x_min)²/4.
func (c *Straightness) fromBestLine(w *Work, offsets []Estimate, x scaled) {
	line, _ := w.fitColumns(offsets, func(i int) []float64 { return []float64{1, x.at[i]} })
	at := greatest(line.left)
	w.Extreme("departure", c.Points[at].at(), Length, line.left[at], line.residuals())
	w.explain("departure", fmt.Sprintf("%v is furthest from the best line", c.Points[at].at()), mm(line.left[at]))
	departures := make([]Estimate, len(line.left))
	for i, v := range line.left {
		departures[i] = Exact(v)
	}
	w.rms(departures, line.residuals())
	if x.places < 3 {
		return
	}
	parabola, ok := w.fitColumns(offsets, func(i int) []float64 { return []float64{1, x.at[i], x.at[i] * x.at[i]} })
	if !ok {
		return
	}
	extent := x.extent() / x.size
	bow := parabola.param(2).Times(-extent * extent / 4)
	w.Quantity("bow", Length, bow)
	w.explain("bow", "of the parabola, middle over ends", mm(bow.Value))
}

// rms is the root mean square of all departures; its u is the greatest u of one.
func (w *Work) rms(departures []Estimate, g Grounds) {
	sum := 0.0
	for _, d := range departures {
		sum += d.Value * d.Value
	}
	rms := math.Sqrt(sum / float64(len(departures)))
	w.Extreme("rms", nil, Length, rms, g)
	w.explain("rms", fmt.Sprintf("root mean square of %d departures", len(departures)), mm(rms))
}

// Walk goes along the part.
func (c *Straightness) Walk() []Spot {
	spots := make([]Spot, len(c.Points))
	for i, p := range c.Points {
		spots[i] = Spot{"points", p.Name, "offset", "offset", Length, "length", "from the string or straightedge to the same face of the part"}
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Straightness) Disturbed(e Event) bool { return Shaped(e, ReClamped) }

// Form is what is asked for the check before anything is read.
func (*Straightness) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "points", Label: "Places: name; along", Columns: []string{"name", "x"}, As: "length"},
			{Key: "reference", Label: "Against the line", As: "word", Words: []string{"ends", "best"}, Optional: true},
		},
		Now: "Is the spar straight?",
		Offers: func(p Lying) map[string]Offer {
			if !p.Surface() {
				return nil
			}
			return map[string]Offer{"points": {p.Along(), p.Ends()}}
		},
	}
}
