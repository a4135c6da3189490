package measuring

import (
	"fmt"

	"orpine/internal/core/hold"
	"orpine/internal/core/quantity"
	"orpine/internal/gate"
)

// OnRails describes a surface that is measured for twist on a pair of rails.
// Texts are lengths and angles as typed.
type OnRails struct {
	Supports []string        // x of each pair of supports along the rails
	Apart    quantity.Length // the rails from one another
	Stations []Station
	Low      string // limits of the twist
	High     string
	Survey   string // id of the instrument for heights
	Level    string // id of the level
	Stock    []string
}

// Station is a named place along the span.
type Station struct{ Name, Y string }

// Checks are the survey of the rails and then the twist of the surface.
func (r OnRails) Checks() []NewCheck {
	left, right := (-r.Apart / 2).Text(quantity.Millimetre), (r.Apart / 2).Text(quantity.Millimetre)
	var points, stations []any
	for i, x := range r.Supports {
		points = append(points,
			map[string]any{"name": fmt.Sprintf("L%d", i+1), "x": x, "y": left},
			map[string]any{"name": fmt.Sprintf("R%d", i+1), "x": x, "y": right})
	}
	for _, s := range r.Stations {
		stations = append(stations, map[string]any{"name": s.Name, "y": s.Y})
	}
	survey := map[string]any{"kind": "bench", "points": points}
	if len(r.Stock) > 0 {
		survey["stock"] = r.Stock
	}
	return []NewCheck{
		{Name: "Rails", Definition: survey, Instrument: r.Survey},
		{Name: "Twist", Instrument: r.Level, Definition: map[string]any{"kind": "twist", "held": true, "tip_spacing": r.Apart.Text(quantity.Millimetre), "stations": stations,
			"limits": map[string]any{"twist": map[string]any{"low": r.Low, "high": r.High}}}},
	}
}

// EndHoles is the hold that such a setup is measured for.
func EndHoles(surface string) *gate.NewHold {
	return &gate.NewHold{
		Name: "Drill the " + surface + "'s end holes", Step: "drill to size",
		Permanent: "the two end holes at each tip",
		Why:       "These holes lock the twist in: every later rivet follows them.",
		Required:  []hold.Requirement{{Need: hold.Surveyed, Check: "0"}, {Need: hold.Tested, Check: "1"}, {Need: hold.Shown, Check: "1"}},
	}
}
