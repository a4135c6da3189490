package kinds

import (
	"cmp"
	"html/template"
	"math"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/measuring"
	"orpine/internal/web/drawing"
)

func rigScene(s Scene) template.HTML {
	r := rig(s.Setup, s.Check, s.Now)
	if r.Turned = s.Turn; s.Turn {
		r.How += "; turned round now"
	}
	return r.Draw()
}

// rig is the setup as it is drawn for a survey or a twist: rails and surface with
// what is read so far.
func rig(setup measuring.Setup, inHand measuring.Check, now check.Spot) drawing.Rig {
	r := drawing.Rig{Survey: inHand.Kind.Survey, OnSupport: now.Field == "support", Title: "Rails and " + strings.ToLower(cmp.Or(setup.AssemblyName, "the part")), How: now.How}
	for _, c := range setup.Checks {
		switch input := c.Input.(type) {
		case *measure.Bench:
			r.Supports = supports(c, input, now, c.ID == inHand.ID)
		case *measure.Twist:
			r.Stations = stations(c, input, now, c.ID == inHand.ID)
			r.Chord = math.Max(setup.Shape.Chord, 200)
		}
	}
	if len(r.Supports) == 0 {
		r.Title = setup.AssemblyName
	}
	centre(&r)
	if inHand.Result != nil && inHand.Complete() && inHand.Result.Verdict != measure.Go {
		for _, m := range inHand.Result.Moves {
			says := drawing.Rise(m.Amount)
			if m.At == "tip rear support" {
				m.At, says = "", m.Direction+" "+say.Length(m.Amount).String()
			}
			r.Moves = append(r.Moves, drawing.RigMove{At: m.At, Up: m.Direction == "up", Says: says})
		}
	}
	return r
}

func supports(c measuring.Check, input *measure.Bench, now check.Spot, current bool) []drawing.Support {
	var out []drawing.Support
	for i, p := range input.Points {
		spot := c.Spots[i]
		counting := spot.Counting()
		out = append(out, drawing.Support{Name: p.Name, Number: i + 1, X: float64(p.X), Y: float64(p.Y), Z: check.Mean(counting), Known: len(counting) > 0, Mark: mark(spot, now, current)})
	}
	return out
}

func stations(c measuring.Check, input *measure.Twist, now check.Spot, current bool) []drawing.Station {
	var out []drawing.Station
	for i, p := range input.Stations {
		st := drawing.Station{Name: p.Name, Number: i + 1, X: float64(p.Y), Mark: drawing.Taken}
		for _, spot := range c.Spots {
			if spot.Point != p.Name {
				continue
			}
			if m := mark(spot, now, current); m == drawing.Now || st.Mark == drawing.Taken {
				st.Mark = m
			}
			if counting := spot.Counting(); spot.Field == "angle" && len(counting) > 0 {
				st.Angle, st.Known = check.Mean(counting), true
			}
		}
		out = append(out, st)
	}
	return out
}

// centre lays the surface on the middle of the rails.
func centre(r *drawing.Rig) {
	if len(r.Stations) == 0 || len(r.Supports) == 0 {
		return
	}
	middle := func(n int, x func(int) float64) float64 {
		least, most := x(0), x(0)
		for i := range n {
			least, most = min(least, x(i)), max(most, x(i))
		}
		return (least + most) / 2
	}
	shift := middle(len(r.Supports), func(i int) float64 { return r.Supports[i].X }) - middle(len(r.Stations), func(i int) float64 { return r.Stations[i].X })
	for i := range r.Stations {
		r.Stations[i].X += shift
	}
}
