package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var uprightKind = Kind{
	Name: "upright", Guide: "fin",
	Pictogram: drawing.Strokes{drawing.Solid(46, 50, 54, 8, 68, 10, 76, 50), drawing.Ghost(60, 4, 60, 54)},
	Draw:      of(finScene),
}

func finScene(s Scene, input *measure.Upright) template.HTML {
	d := drawing.Fin{Figure: s.figure(s.Setup.AssemblyName + " from behind"), Height: float64(input.Height), Datum: s.reading("", "", "datum"), Left: s.reading("", "", "left_face"), Right: s.reading("", "", "right_face")}
	d.Lean, d.Known = s.quantity("lean")
	return d.Draw()
}
