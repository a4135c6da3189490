// Package outline turns the shape of an assembly into what is drawn.
package outline

import (
	"html/template"
	"math"

	"orpine/internal/airframe"
	"orpine/internal/overview"
	"orpine/internal/web/drawing"
)

// finHalf is half the thickness that a fin is drawn with from above, in mm.
const finHalf = 36

// Of is a shape seen from above, from the left and from ahead.
func Of(s airframe.Shape) drawing.Part {
	p := of(s)
	p.Dashed = [3]bool{s.Rests("x", "inner", "outer", "chord", "tip_chord", "sweep", "sections"), s.Rests("x", "z", "chord", "rise", "tip_chord", "sweep", "sections"), s.Rests("z", "inner", "outer", "rise", "sections")}
	if s.Form == "fin" { // from above it is as thick as any
		p.Dashed[0] = s.Rests("x", "chord", "tip_chord", "sweep", "inner")
	}
	return p
}

func of(s airframe.Shape) drawing.Part {
	switch s.Form {
	case "":
		return drawing.Part{}
	case "fin":
		return drawing.Part{
			Plan:  [][2]float64{{s.X + s.Sweep/2, s.Inner - finHalf}, {s.X + s.Sweep/2, s.Inner + finHalf}, {s.X + s.Sweep + s.Tip, s.Inner + finHalf}, {s.X + s.Sweep + s.Tip, s.Inner - finHalf}},
			Side:  [][2]float64{{s.X, s.Z}, {s.X + s.Sweep, s.Z + s.Rise}, {s.X + s.Sweep + s.Tip, s.Z + s.Rise}, {s.X + s.Chord, s.Z}},
			Front: rectangle(s.Inner-finHalf, s.Z, s.Inner+finHalf, s.Z+s.Rise),
		}
	case "body", "mount":
		return body(s.Sections)
	case "frame":
		return frame(s.Sections)
	case "lever":
		x, z, up, thick := s.X, s.Z, max(s.Tip, s.Chord/4), s.Chord/8
		return drawing.Part{
			Plan:  rectangle(x, s.Inner-thick, x+s.Chord, s.Inner+thick),
			Side:  [][2]float64{{x - thick, z - thick}, {x + s.Chord, z - thick}, {x + s.Chord, z + thick}, {x + thick, z + up}, {x - thick, z + up}},
			Front: rectangle(s.Inner-thick, z-thick, s.Inner+thick, z+up),
		}
	case "box", "tube", "tank", "plate":
		return drawing.Part{Plan: rectangle(s.X, s.Inner, s.X+s.Chord, s.Outer), Side: rectangle(s.X, s.Z, s.X+s.Chord, s.Z+max(s.Rise, 2)), Front: rectangle(s.Inner, s.Z, s.Outer, s.Z+max(s.Rise, 2))}
	}
	thick := 0.06 * s.Chord
	p := drawing.Part{
		Plan:  [][2]float64{{s.X, s.Inner}, {s.X + s.Sweep, s.Outer}, {s.X + s.Sweep + s.Tip, s.Outer}, {s.X + s.Chord, s.Inner}},
		Side:  [][2]float64{{s.X, s.Z}, {s.X + 0.3*s.Chord, s.Z + 0.07*s.Chord}, {s.X + s.Chord, s.Z}, {s.X + 0.3*s.Chord, s.Z - 0.05*s.Chord}},
		Front: [][2]float64{{s.Inner, s.Z - thick}, {s.Inner, s.Z + thick}, {s.Outer, s.Z + s.Rise + thick/2}, {s.Outer, s.Z + s.Rise - thick/2}},
	}
	if s.Form == "spar" {
		p.Side, p.Front = nil, nil // it lies inside the wing
	} else {
		p.Ribs = max(1, int(math.Abs(s.Outer-s.Inner)/480))
	}
	return p
}

func rectangle(a1, b1, a2, b2 float64) [][2]float64 {
	return [][2]float64{{a1, b1}, {a2, b1}, {a2, b2}, {a1, b2}}
}

// body is a run of sections; from ahead its greatest one is seen.
func body(sections []airframe.Section) drawing.Part {
	var p drawing.Part
	greatest := airframe.Section{}
	for _, q := range sections {
		p.Plan = append(p.Plan, [2]float64{q.X, q.Half})
		p.Side = append(p.Side, [2]float64{q.X, q.Top})
		if q.Half*(q.Top-q.Bottom) > greatest.Half*(greatest.Top-greatest.Bottom) {
			greatest = q
		}
	}
	for i := len(sections) - 1; i >= 0; i-- {
		q := sections[i]
		p.Plan = append(p.Plan, [2]float64{q.X, -q.Half})
		p.Side = append(p.Side, [2]float64{q.X, q.Bottom})
	}
	p.Front = rounded(greatest)
	return p
}

// frame is one section, which is seen from ahead and is thin otherwise.
func frame(sections []airframe.Section) drawing.Part {
	var p drawing.Part
	for _, q := range sections {
		thick := max(2, q.Half/40)
		p.Plan, p.Side, p.Front = rectangle(q.X, -q.Half, q.X+thick, q.Half), rectangle(q.X, q.Bottom, q.X+thick, q.Top), rounded(q)
	}
	return p
}

// rounded is a section with its corners taken off.
func rounded(q airframe.Section) [][2]float64 {
	c := min(q.Half, (q.Top-q.Bottom)/2) / 2
	return [][2]float64{{-q.Half + c, q.Bottom}, {q.Half - c, q.Bottom}, {q.Half, q.Bottom + c}, {q.Half, q.Top - c}, {q.Half - c, q.Top}, {-q.Half + c, q.Top}, {-q.Half, q.Top - c}, {-q.Half, q.Bottom + c}}
}

// Small is an assembly alone, with the hatching of its state, to stand beside its name.
func Small(s airframe.Shape, state overview.State) template.HTML {
	p := of(s)
	p.State = Class(state)
	return drawing.Small(p)
}

// Class is the class of the hatching of a state.
func Class(state overview.State) string {
	return map[overview.State]string{overview.InSetup: "setup", overview.Held: "held", overview.Released: "released", overview.Permanent: "permanent", overview.Owed: "owed"}[state]
}
