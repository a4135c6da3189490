package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
)

// separateKind is how the check is called, limited, disturbed and told.
var separateKind = Kind{
	Name: "separate", Title: "Part or bench, by measuring twice", New: func() Walker { return new(Separate) },
	Limits:    []Limitable{{"part_bow", Length}, {"bench_bow", Length}, {"part_twist", Angle}, {"bench_twist", Angle}},
	Schools:   []string{},
	Headlines: map[string]string{"part_bow": "bow of the part itself", "bench_bow": "bow of the bench", "part_twist": "twist of the part itself", "bench_twist": "twist of the bench"},
}

// Separate tells the part's own shape from the bench's by measuring twice: a
// part rolled over on the same supports, or its opposite hand in its place.
type Separate struct {
	How    string `ws:"how" oneof:"flipped mirror-part turned"`
	First  Series `ws:"first"`
	Second Series `ws:"second"`
}

// Series is one round of readings: offsets along the part or angles along the
// span.
type Series struct {
	Points   []StraightPoint `ws:"points,optional"`
	Stations []TwistStation  `ws:"stations,optional"`
}

// cannotSeparate says why no turning tells a part's twist from the bench's.
const cannotSeparate = "twist keeps its hand however the part is turned, so turning or flipping cannot tell its twist from the bench's: survey the bench, or measure the opposite-hand part in its place"

// Validate refuses pairings that cannot separate, and rounds taken at different
// places.
func (c *Separate) Validate(report func(path, message string)) {
	angles := c.First.Stations != nil || c.Second.Stations != nil
	offsets := c.First.Points != nil || c.Second.Points != nil
	switch {
	case angles && offsets:
		report("second", "give points in both rounds or stations in both")
		return
	case !angles && !offsets:
		report("first", "give points or stations")
		return
	case angles && c.How != "mirror-part":
		report("how", cannotSeparate)
	case offsets && c.How != "flipped":
		report("how", "offsets are separated by a part rolled over (flipped) only")
	}
	for i, round := range []Series{c.First, c.Second} {
		prefix := [...]string{"first.", "second."}[i]
		under := func(path, message string) { report(prefix+path, message) }
		if angles {
			(&Twist{Stations: round.Stations}).Validate(under)
		} else {
			(&Straightness{Points: round.Points}).Validate(under)
		}
	}
	c.samePlaces(angles, report)
}

// samePlaces refuses rounds that were not taken at the same places.
func (c *Separate) samePlaces(angles bool, report func(path, message string)) {
	first, second, field := c.First.places(angles), c.Second.places(angles), "points"
	if angles {
		field = "stations"
	}
	if len(first) != len(second) {
		report("second."+field, "has not as many places as the first round")
		return
	}
	for i := range first {
		if partner(first, second[i]) < 0 {
			report(fmt.Sprintf("second.%s[%d]", field, i), "is not at a place of the first round")
		}
	}
}

func (s Series) places(angles bool) []float64 {
	var out []float64
	for _, p := range s.Points {
		if !angles {
			out = append(out, float64(p.X))
		}
	}
	for _, p := range s.Stations {
		if angles {
			out = append(out, float64(p.Y))
		}
	}
	return out
}

// partner finds the place in a round, or −1.
func partner(places []float64, at float64) int {
	for i, p := range places {
		if math.Abs(p-at) < 1e-6 {
			return i
		}
	}
	return -1
}

// Solve takes half the sum of the two rounds for the bench, and half their
// difference for the part, point by point.
func (c *Separate) Solve(w *Work) {
	if c.How == "flipped" {
		c.bows(w)
		return
	}
	twist := func(s Series) Estimate {
		p := &panel{stations: s.Stations}
		p.solve(w)
		return p.twist()
	}
	first, second := twist(c.First), twist(c.Second)
	bench, part := first.Plus(second).Times(0.5), first.Minus(second).Times(0.5)
	w.Quantity("bench_twist", Angle, bench)
	w.Quantity("part_twist", Angle, part)
	w.explain("bench", fmt.Sprintf("(first + second)/2 = (%s + %s)/2", deg(first.Value), deg(second.Value)), deg(bench.Value))
	w.explain("part", fmt.Sprintf("(first − second)/2 = (%s − %s)/2", deg(first.Value), deg(second.Value)), deg(part.Value))
	w.Find("assumes-true-mirror-parts", "takes the two parts for true mirror images")
}

// bows separates the part's bow from the bench's, each against its own ends.
func (c *Separate) bows(w *Work) {
	places := c.First.places(false)
	first, second := make([]Estimate, len(places)), make([]Estimate, len(places))
	for i, p := range c.First.Points {
		first[i] = w.Read(p.Offset)
	}
	for _, p := range c.Second.Points {
		second[partner(places, float64(p.X))] = w.Read(p.Offset)
	}
	part, bench := make([]Estimate, len(places)), make([]Estimate, len(places))
	for i := range places {
		part[i], bench[i] = first[i].Minus(second[i]).Times(0.5), first[i].Plus(second[i]).Times(0.5)
	}
	w.bowFromEnds("part_bow", part, places)
	w.bowFromEnds("bench_bow", bench, places)
}

// bowFromEnds records the inner departure of greatest magnitude from the line
// through the ends; with no inner point there is none.
func (w *Work) bowFromEnds(name string, offsets []Estimate, positions []float64) {
	first, last := ends(positions)
	departures := departFromEnds(offsets, positions, first, last)
	inner := innerDepartures(departures, first, last)
	if len(inner) == 0 {
		return
	}
	bow := departures[worstInner(departures, first, last)].Value
	w.Extreme(name, nil, Length, bow, w.oneOf(inner))
	w.explain(name, "furthest inner point from the line through the ends", mm(bow))
}

// Walk takes the first round, then the second.
func (c *Separate) Walk() []Spot {
	var spots []Spot
	for _, round := range []struct {
		list string
		s    Series
	}{{"first", c.First}, {"second", c.Second}} {
		for _, spot := range (&Straightness{Points: round.s.Points}).Walk() {
			spot.List = round.list + ".points"
			spots = append(spots, spot)
		}
		for _, spot := range (&Twist{Stations: round.s.Stations}).Walk() {
			spot.List = round.list + ".stations"
			spots = append(spots, spot)
		}
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Separate) Disturbed(e Event) bool { return Shaped(e, ReClamped, BenchMoved, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Separate) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "how", Label: "Rolled over (offsets), or its opposite hand (angles)", As: "word", Words: []string{"flipped", "mirror-part"}},
			{Key: "points", Label: "Places: name; along", Columns: []string{"name", "x"}, As: "length"},
		},
		Now:     "Part or bench?",
		Made:    []string{"how"},
		Example: map[string]string{"how": "flipped", "points": "left; 0\nmiddle; 600\nright; 1200"},
		Lists: func(d map[string]any) []string {
			if first, ok := d["first"].(map[string]any); ok && first["stations"] != nil {
				return []string{"first.stations", "second.stations"}
			}
			return []string{"first.points", "second.points"}
		},
		Finish: finishSeparate,
	}
}

// The places of both rounds are the same; angles lie along the span.
func finishSeparate(d map[string]any) {
	places, _ := form.Take(d, "points").([]any)
	list := "points"
	if d["how"] != "flipped" {
		list = "stations"
		for _, p := range places {
			if item, ok := p.(map[string]any); ok {
				item["y"] = form.Take(item, "x")
			}
		}
	}
	d["first"], d["second"] = map[string]any{list: places}, map[string]any{list: form.Clone(places)}
}
