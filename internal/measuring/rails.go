package measuring

import (
	"fmt"

	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/quantity"
	"orpine/internal/gate"
	"orpine/internal/ledger"
)

// OnRails describes a surface that is measured for twist on a pair of rails.
// Texts are lengths and angles as typed.
type OnRails struct {
	Supports []string        // x of each pair of supports along the rails
	Apart    quantity.Length // the rails from one another
	Stations []Station
	Assumed  []string // what of it nobody stated
	Low      string   // limits of the twist; "" for none
	High     string
	Survey   string // id of the instrument for heights
	Level    string // id of the level
	Stock    []string
	ByLevel  bool   // a level is laid on the rails under every station, in place of the survey
	Lies     string // check.HeldDown: the slope of the rails is taken off, from the survey; check.InJig or check.LiesFree
}

// Station is a named place along the span.
type Station struct{ Name, Y string }

// Checks are the survey of the rails, the front one under the leading edge, and then the
// twist of the surface; supports and stations are told from the same end. Where it is held
// down the slope of the rails under each station follows from the survey.
func (r OnRails) Checks() []NewCheck {
	front, rear := (-r.Apart / 2).Text(quantity.Millimetre), (r.Apart / 2).Text(quantity.Millimetre)
	first := "F" // the front rail, and R the rear one
	if r.ByLevel {
		first = "L" // of the bench, and R
	}
	var points, stations []any
	for i, x := range r.Supports {
		points = append(points,
			map[string]any{"name": fmt.Sprintf("%s%d", first, i+1), "x": x, "y": front},
			map[string]any{"name": fmt.Sprintf("R%d", i+1), "x": x, "y": rear})
	}
	for _, s := range r.Stations {
		stations = append(stations, map[string]any{"name": s.Name, "y": s.Y})
	}
	survey := map[string]any{"kind": "bench", "points": points}
	if len(r.Stock) > 0 {
		survey["stock"] = r.Stock
	}
	twist := map[string]any{"kind": "twist", "held": r.Lies == check.HeldDown, "stiff": r.Lies == check.LiesFree, "tip_spacing": r.Apart.Text(quantity.Millimetre), "stations": stations}
	if limit := typedLimit("twist", r.Low, r.High, "low", ledger.Problems{}); len(limit) > 0 {
		twist["limits"] = map[string]any{"twist": limit}
	}
	slopes := "0"
	if r.ByLevel {
		slopes = ""
	}
	return []NewCheck{
		{Name: "Rails", Definition: survey, Instrument: r.Survey},
		{Name: "Twist", Instrument: r.Level, Survey: slopes, Assumed: r.Assumed, Definition: twist},
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
