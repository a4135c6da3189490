package kinds

import (
	"html/template"
	"math"

	"orpine/internal/core/check"
	"orpine/internal/core/pose"
	"orpine/internal/web/drawing"
)

// joinScene draws a join with every reading as the line that it is.
func joinScene(s Scene) template.HTML {
	p, _ := s.Check.Joined()
	d := drawing.Join{Figure: s.figure(s.Setup.AssemblyName)}
	number := map[string]int{}
	for _, q := range p.Everywhere() {
		number[q.Name] = len(d.Places)
		d.Places = append(d.Places, drawing.JoinPlace{Name: q.Name, At: q.At, Surface: q.Surface + 1})
	}
	net := s.Check.Network()
	for _, placed := range net.Places {
		at := &d.Places[number[placed.Name]]
		d.Known = true
		for axis := range 3 {
			at.Moved[axis], at.U[axis] = placed.Moved[axis], check.Coverage*placed.U[axis]
		}
	}
	for _, r := range p.Taken() {
		l := drawing.JoinLine{Reading: s.reading("readings", r.ID, "value"), From: -1, To: number[r.To], View: viewOf(r.Type)}
		l.Level = pose.Type(r.Type) == pose.Roll || pose.Type(r.Type) == pose.Pitch
		if r.From != "" {
			l.From = number[r.From]
		}
		if residual, ok := check.Residual(net, r.ID); ok && l.Known {
			l.Suspect = residual.Suspect
			if len(p.Taken()) <= fewReadings || residual.Suspect || math.Abs(residual.W) >= 1 {
				if l.Says = check.SayResidual(residual); residual.Suspect {
					l.Says = check.SayBlunder(residual)
				}
			}
		}
		d.Lines = append(d.Lines, l)
	}
	if next := s.Check.BestNext(); next != nil {
		d.Lines = append(d.Lines, drawing.JoinLine{From: number[next.From], To: number[next.To], View: viewOf(next.Type), Next: true})
	}
	return d.Draw()
}

// fewReadings is up to how many the drawing has room for every residual; of more it
// shows those that stand out, and the lane has them all.
const fewReadings = 14

func viewOf(kind string) drawing.JoinView {
	return map[pose.Type]drawing.JoinView{pose.Height: drawing.FromBehind, pose.Roll: drawing.FromBehind, pose.Pitch: drawing.FromLeft}[pose.Type(kind)]
}
