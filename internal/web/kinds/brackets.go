package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var bracketsKind = Kind{
	Name: "brackets", Guide: "tail",
	Pictogram: drawing.Strokes{drawing.Edge(10, 20, 110, 10), drawing.Box(40, 17, 10, 32), drawing.Box(74, 14, 10, 35), drawing.Ghost(8, 49, 112, 49)},
	Draw:      of(bracketScene),
}

func bracketScene(s Scene, input *measure.Brackets) template.HTML {
	title := s.Setup.AssemblyName + ", brackets from behind"
	if input.Axis == "station" {
		title = s.Setup.AssemblyName + ", brackets from above, aft upwards"
	}
	return drawing.Brackets{Figure: s.figure(title), Spacing: float64(input.Spacing), Span: float64(input.Span), Left: s.reading("", "", "left"), Right: s.reading("", "", "right")}.Draw()
}
