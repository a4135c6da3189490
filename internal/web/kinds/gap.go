package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var gapKind = Kind{
	Name: "gap", Guide: "stop",
	Pictogram: drawing.Strokes{drawing.Box(12, 12, 44, 32), drawing.Box(66, 12, 44, 32), drawing.Ghost(61, 4, 61, 52)},
	Draw:      of(gapScene),
}

func gapScene(s Scene, input *measure.Gaps) template.HTML {
	d := drawing.Gaps{Figure: s.figure(s.Setup.AssemblyName), Min: float64(input.Min), Max: float64(input.Max)}
	for _, g := range input.Gaps {
		r := drawing.GapAt{Reading: s.reading("gaps", g.Name, "gap")}
		r.Name = g.Name
		r.Move, _ = s.move(g.Name)
		d.Gaps = append(d.Gaps, r)
	}
	return d.Draw()
}
