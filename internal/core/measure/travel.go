package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// travelKind is how the check is called, limited, disturbed and told.
var travelKind = Kind{
	Name: "travel", Title: "Travel of control surfaces", New: func() Walker { return new(Travel) },
	Limits:    []Limitable{{"up", Angle}, {"down", Angle}, {"mismatch", Angle}},
	Schools:   []string{},
	Headlines: map[string]string{"up": "up", "down": "down", "mismatch": "right less left", "mismatch_up": "up, right less left", "mismatch_down": "down, right less left"},
}

// Travel is the range of control surfaces, up and down as magnitudes.
type Travel struct {
	Surfaces []TravelSurface `ws:"surfaces"`
}

// TravelSurface is one surface.
type TravelSurface struct {
	Name  string           `ws:"name"`
	Up    Reading          `ws:"up" as:"chord?length:plain"`
	Down  Reading          `ws:"down" as:"chord?length:plain"`
	Chord *quantity.Length `ws:"chord,optional"` // hinge line to the point whose way is measured
	Side  string           `ws:"side,optional" oneof:"left right"`
}

// Validate refuses negative travel and two surfaces on one side.
func (c *Travel) Validate(report func(path, message string)) {
	if len(c.Surfaces) == 0 {
		report("surfaces", "is an empty list")
	}
	sides := map[string]bool{}
	for i, s := range c.Surfaces {
		path := fmt.Sprintf("surfaces[%d]", i)
		if s.Chord != nil && *s.Chord <= 0 {
			report(path+".chord", "must be above 0")
		}
		for field, r := range map[string]Reading{"up": s.Up, "down": s.Down} {
			if s.Chord != nil && *s.Chord > 0 && len(r.Values) > 0 && r.corrected() >= mostWay*float64(*s.Chord) {
				report(path+"."+field, "is further than the point can go about its hinge")
			}
			for _, v := range r.Values {
				if v < 0 {
					report(path+"."+field, "is a magnitude, so it cannot be negative")
					break
				}
			}
		}
		if s.Side != "" && sides[s.Side] {
			report(path+".side", "there is a "+s.Side+" surface already")
		}
		sides[s.Side] = true
	}
}

// Solve gives up, down and their ratio for each surface, and right − left where
// there are both. The limit mismatch judges both differences.
func (c *Travel) Solve(w *Work) {
	ups, downs := map[string]Estimate{}, map[string]Estimate{}
	for _, s := range c.Surfaces {
		up, down := w.swung(s.Up, s.Chord), w.swung(s.Down, s.Chord)
		ups[s.Side], downs[s.Side] = up, down
		w.QuantityAt("up", s.Name, Angle, up)
		w.QuantityAt("down", s.Name, Angle, down)
		if down.Value != 0 {
			w.QuantityAt("differential", s.Name, Ratio, up.Over(down))
		}
		w.explain(s.Name, "up, down", deg(up.Value)+", "+deg(down.Value))
	}
	if _, left := ups["left"]; !left {
		return
	}
	if _, right := ups["right"]; !right {
		return
	}
	w.QuantityUnder("mismatch", "mismatch_up", Angle, ups["right"].Minus(ups["left"]))
	w.QuantityUnder("mismatch", "mismatch_down", Angle, downs["right"].Minus(downs["left"]))
}

// mostWay is the way of a point, in chords, from which on it is none of a surface.
const mostWay = 1.8

// swung is an angle as it was read, or that of a straight way about a hinge: 2 asin(way/(2 chord)).
func (w *Work) swung(r Reading, chord *quantity.Length) Estimate {
	e := w.Read(r)
	if chord == nil {
		return e
	}
	share := e.Value / 2 / float64(*chord)
	return e.Map(2*math.Asin(share)*perRadian, perRadian/float64(*chord)/math.Sqrt(1-share*share))
}

// Walk takes each surface up, then down.
func (c *Travel) Walk() []Spot {
	how := "zeroed with the surface in trail; against the stop, without force"
	var spots []Spot
	for _, s := range c.Surfaces {
		dimension, sense, how := Angle, "plain", how
		if s.Chord != nil {
			dimension, sense, how = Length, "length", "the straight way of the point from neutral; against the stop, without force"
		}
		spots = append(spots, Spot{"surfaces", s.Name, "up", "up", dimension, sense, how}, Spot{"surfaces", s.Name, "down", "down", dimension, sense, how})
	}
	return spots
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Travel) Disturbed(e Event) bool { return Shaped(e, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Travel) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "surfaces", Label: "Surfaces: name; left or right", Columns: []string{"name", "side"}, As: "word"},
		},
		Now:    "Travel of a surface",
		Angles: true,
		Apart:  true,
	}
}
