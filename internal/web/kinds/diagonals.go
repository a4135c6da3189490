package kinds

import (
	"html/template"

	"orpine/internal/web/drawing"
)

var diagonalsKind = Kind{
	Name: "diagonals", Guide: "square",
	Pictogram: drawing.Strokes{drawing.Box(24, 8, 72, 40), drawing.Ghost(24, 8, 96, 48), drawing.Ghost(96, 8, 24, 48)},
	Draw:      bayScene,
}

func bayScene(s Scene) template.HTML {
	d := drawing.Bay{Figure: s.figure(s.Setup.AssemblyName), Near: s.reading("", "", "near"), Far: s.reading("", "", "far"), Length: s.reading("", "", "length"), D1: s.reading("", "", "d1"), D2: s.reading("", "", "d2")}
	d.Rack, d.Known = s.quantity("rack_offset")
	return d.Draw()
}
