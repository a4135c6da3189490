package airframe

import "orpine/internal/core/shape"

// Shape is what an assembly is drawn from.
type Shape = shape.Shape

// Section is a body's width and height at a station.
type Section = shape.Section

// Line is where a row of holes lies on an assembly, in airframe axes in mm.
type Line struct {
	View string     `json:"view"` // above (x, y), left (x, z) or ahead (y, z)
	From [2]float64 `json:"from"`
	To   [2]float64 `json:"to"`
}

// LineOn is where a row of so many millimetres is drawn when nobody says: along the
// middle of the part, from its near end.
func LineOn(s Shape, long float64) Line {
	switch s.Form {
	case "fin":
		return Line{"left", [2]float64{s.X + s.Chord/2, s.Z}, [2]float64{s.X + s.Chord/2, s.Z + long}}
	case "surface", "spar":
		if s.Outer < s.Inner {
			long = -long
		}
		return Line{"above", [2]float64{s.X + s.Chord/2, s.Inner}, [2]float64{s.X + s.Chord/2, s.Inner + long}}
	case "frame":
		least, most, _ := s.Reach()
		return Line{"ahead", [2]float64{least[1], (least[2] + most[2]) / 2}, [2]float64{least[1] + long, (least[2] + most[2]) / 2}}
	case "box", "tube", "tank", "plate", "lever":
		return Line{"above", [2]float64{s.X, (s.Inner + s.Outer) / 2}, [2]float64{s.X + long, (s.Inner + s.Outer) / 2}}
	}
	x := 0.0
	if len(s.Sections) > 0 {
		x = s.Sections[0].X
	}
	return Line{"above", [2]float64{x, 0}, [2]float64{x + long, 0}}
}
