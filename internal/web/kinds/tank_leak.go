package kinds

import "orpine/internal/web/drawing"

var tankLeakKind = Kind{
	Name: "tank-leak", Guide: "closing",
	Pictogram: drawing.Strokes{drawing.Box(16, 16, 60, 32), drawing.Thin(76, 42, 104, 42, 104, 6), drawing.Edge(104, 42, 104, 20)},
	Draw:      nil,
}
