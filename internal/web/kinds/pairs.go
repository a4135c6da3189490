package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var pairsKind = Kind{
	Name: "pairs", Guide: "tail",
	Pictogram: drawing.Strokes{drawing.Edge(8, 28, 54, 28), drawing.Edge(66, 28, 112, 28), drawing.Ghost(60, 6, 60, 50), drawing.Thin(8, 22, 8, 34), drawing.Thin(112, 22, 112, 34)},
	Draw:      of(pairScene),
}

func pairScene(s Scene, input *measure.Pairs) template.HTML {
	d := drawing.Pairs{Figure: s.figure(s.Setup.AssemblyName + ", left against right")}
	for _, p := range input.Pairs {
		d.Pairs = append(d.Pairs, drawing.PairOf{Name: p.Name, Left: s.reading("pairs", p.Name, "left"), Right: s.reading("pairs", p.Name, "right")})
	}
	return d.Draw()
}
