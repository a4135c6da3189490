package airframe

import "orpine/internal/ledger"

// Shape is what an assembly is drawn from, in millimetres in airframe axes
// (x aft from the firewall, y right, z up). Which dimensions it has depends on
// its form.
type Shape struct {
	Form string `json:"form"` // surface, fin, body, spar or mount

	// A surface lies level: from butt line Inner to Outer, on both sides when
	// Pair is set; its leading edge at station X at the inner end.
	X     float64 `json:"x,omitempty"`
	Z     float64 `json:"z,omitempty"`
	Inner float64 `json:"inner,omitempty"` // negative: on the left
	Outer float64 `json:"outer,omitempty"`
	Chord float64 `json:"chord,omitempty"`     // at the inner end, or of a fin's foot
	Tip   float64 `json:"tip_chord,omitempty"` // at the outer end, or of a fin's top
	Sweep float64 `json:"sweep,omitempty"`     // the outer leading edge lies so far aft of the inner
	Rise  float64 `json:"rise,omitempty"`      // of a fin: its height; of a surface: dihedral rise

	// A body or mount is a run of sections.
	Sections []Section `json:"sections,omitempty"`
}

// Section is a body's width and height at a station.
type Section struct {
	X      float64 `json:"x"`
	Half   float64 `json:"half"` // half its width
	Bottom float64 `json:"bottom"`
	Top    float64 `json:"top"`
}

// validate refuses a shape that cannot be drawn.
func (s Shape) validate(wrong ledger.Problems) {
	switch s.Form {
	case "surface", "spar":
		if s.Outer == s.Inner {
			wrong.Add("outer", "the span is missing")
		}
		if s.Chord <= 0 {
			wrong.Add("chord", "must be above 0")
		}
	case "fin":
		if s.Rise <= 0 {
			wrong.Add("rise", "the height must be above 0")
		}
		if s.Chord <= 0 {
			wrong.Add("chord", "must be above 0")
		}
	case "body", "mount":
		if len(s.Sections) < 2 {
			wrong.Add("sections", "two sections or more are needed")
		}
	default:
		wrong.Add("form", "what shape is it: surface, fin or body?")
	}
}

// Line is where a row of holes lies on an assembly, in airframe axes in mm.
type Line struct {
	View string     `json:"view"` // above (x, y) or left (x, z)
	From [2]float64 `json:"from"`
	To   [2]float64 `json:"to"`
}

// Line is where a row of so many millimetres is drawn when nobody says: along the
// middle of the part, from its near end.
func (s Shape) Line(long float64) Line {
	switch s.Form {
	case "fin":
		return Line{"left", [2]float64{s.X + s.Chord/2, s.Z}, [2]float64{s.X + s.Chord/2, s.Z + long}}
	case "surface", "spar":
		if s.Outer < s.Inner {
			long = -long
		}
		return Line{"above", [2]float64{s.X + s.Chord/2, s.Inner}, [2]float64{s.X + s.Chord/2, s.Inner + long}}
	}
	x := 0.0
	if len(s.Sections) > 0 {
		x = s.Sections[0].X
	}
	return Line{"above", [2]float64{x, 0}, [2]float64{x + long, 0}}
}
