package kinds

import "orpine/internal/web/drawing"

var lengthKind = Kind{
	Name: "length", Guide: "square",
	Pictogram: drawing.Strokes{drawing.Edge(12, 34, 108, 34), drawing.Thin(12, 16, 12, 44), drawing.Thin(108, 16, 108, 44), drawing.Thin(12, 22, 108, 22)},
	Draw:      spotScene,
}
