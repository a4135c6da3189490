// Package outline turns the shape of an assembly into what is drawn.
package outline

import (
	"math"
	"orpine/internal/airframe"
	"orpine/internal/web/drawing"
)

// Of is a shape seen from above and from the left.
func Of(s airframe.Shape) drawing.Part {
	switch s.Form {
	case "fin":
		return drawing.Part{
			Plan: [][2]float64{{s.X + s.Sweep/2, -36}, {s.X + s.Sweep/2, 36}, {s.X + s.Sweep + s.Tip, 36}, {s.X + s.Sweep + s.Tip, -36}},
			Side: [][2]float64{{s.X, s.Z}, {s.X + s.Sweep, s.Z + s.Rise}, {s.X + s.Sweep + s.Tip, s.Z + s.Rise}, {s.X + s.Chord, s.Z}},
		}
	case "body", "mount":
		var p drawing.Part
		for _, q := range s.Sections {
			p.Plan = append(p.Plan, [2]float64{q.X, q.Half})
			p.Side = append(p.Side, [2]float64{q.X, q.Top})
		}
		for i := len(s.Sections) - 1; i >= 0; i-- {
			q := s.Sections[i]
			p.Plan = append(p.Plan, [2]float64{q.X, -q.Half})
			p.Side = append(p.Side, [2]float64{q.X, q.Bottom})
		}
		return p
	}
	p := drawing.Part{
		Plan: [][2]float64{{s.X, s.Inner}, {s.X + s.Sweep, s.Outer}, {s.X + s.Sweep + s.Tip, s.Outer}, {s.X + s.Chord, s.Inner}},
		Side: [][2]float64{{s.X, s.Z}, {s.X + 0.3*s.Chord, s.Z + 0.07*s.Chord}, {s.X + s.Chord, s.Z}, {s.X + 0.3*s.Chord, s.Z - 0.05*s.Chord}},
	}
	if s.Form == "spar" {
		p.Side = nil // it lies inside the wing
	} else {
		p.Ribs = max(1, int(math.Abs(s.Outer-s.Inner)/480))
	}
	return p
}
