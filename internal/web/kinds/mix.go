package kinds

import "orpine/internal/web/drawing"

var mixKind = Kind{
	Name: "mix", Guide: "holds",
	Pictogram: drawing.Strokes{drawing.Solid(40, 8, 80, 8, 74, 50, 46, 50), drawing.Thin(43, 26, 77, 26)},
	Draw:      nil,
}
