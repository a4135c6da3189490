package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var travelKind = Kind{
	Name: "travel", Guide: "incidence",
	Pictogram: drawing.Strokes{drawing.Solid(10, 24, 22, 20, 70, 28, 22, 33), drawing.Thin(70, 28, 108, 12), drawing.Thin(70, 28, 110, 44), drawing.Edge(70, 28, 112, 28)},
	Draw:      of(travelScene),
}

func travelScene(s Scene, input *measure.Travel) template.HTML {
	d := drawing.Travel{Figure: s.figure(s.Setup.AssemblyName + " from the left")}
	for _, t := range input.Surfaces {
		d.Surfaces = append(d.Surfaces, drawing.TravelOf{Name: t.Name, Up: s.reading("surfaces", t.Name, "up"), Down: s.reading("surfaces", t.Name, "down")})
	}
	return d.Draw()
}
