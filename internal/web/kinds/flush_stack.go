package kinds

import "orpine/internal/web/drawing"

var flushStackKind = Kind{
	Name: "flush-stack", Guide: "rows",
	Pictogram: drawing.Strokes{drawing.Filled(14, 18, 46, 18, 52, 28, 14, 28), drawing.Filled(106, 18, 74, 18, 68, 28, 106, 28), drawing.Filled(14, 28, 52, 28, 52, 38, 14, 38), drawing.Filled(68, 28, 106, 28, 106, 38, 68, 38)},
	Draw:      nil,
}
