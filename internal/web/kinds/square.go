package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var squareKind = Kind{
	Name: "square", Guide: "square",
	Pictogram: drawing.Strokes{drawing.Thin(12, 48, 60, 8), drawing.Thin(108, 48, 60, 8), drawing.Edge(12, 48, 108, 48), drawing.Ghost(60, 4, 60, 52)},
	Draw:      of(squareScene),
}

func squareScene(s Scene, input *measure.Square) template.HTML {
	d := drawing.Square{Figure: s.figure(s.Setup.AssemblyName + " from above"), Station: float64(input.Station), HalfSpan: float64(input.HalfSpan), Chord: max(s.Setup.Shape.Chord, float64(input.HalfSpan)/8)}
	d.Skew, d.Known = s.quantity("skew")
	for _, p := range input.From {
		d.From = append(d.From, drawing.FromPoint{Name: p.Name, X: float64(p.X), Left: s.reading("from", p.Name, "left"), Right: s.reading("from", p.Name, "right")})
	}
	var m measure.Move
	d.Move, m = s.move("right tip")
	d.MoveAft = m.Direction == "aft"
	return d.Draw()
}
