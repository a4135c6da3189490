package measure

import (
	"fmt"

	"orpine/internal/core/form"
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
	Name string  `ws:"name"`
	Up   Reading `ws:"up" as:"plain"`
	Down Reading `ws:"down" as:"plain"`
	Side string  `ws:"side,optional" oneof:"left right"`
}

// Validate refuses negative travel and two surfaces on one side.
func (c *Travel) Validate(report func(path, message string)) {
	if len(c.Surfaces) == 0 {
		report("surfaces", "is an empty list")
	}
	sides := map[string]bool{}
	for i, s := range c.Surfaces {
		path := fmt.Sprintf("surfaces[%d]", i)
		for field, r := range map[string]Reading{"up": s.Up, "down": s.Down} {
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
		up, down := w.Read(s.Up), w.Read(s.Down)
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

// Walk takes each surface up, then down.
func (c *Travel) Walk() []Spot {
	how := "zeroed with the surface in trail; against the stop, without force"
	var spots []Spot
	for _, s := range c.Surfaces {
		spots = append(spots, Spot{"surfaces", s.Name, "up", "up", Angle, "plain", how}, Spot{"surfaces", s.Name, "down", "down", Angle, "plain", how})
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
