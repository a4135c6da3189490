package kinds

import "orpine/internal/web/drawing"

var zeroTestKind = Kind{
	Name: "zero-test", Guide: "level",
	Pictogram: drawing.Strokes{drawing.Edge(10, 42, 110, 42), drawing.Box(20, 26, 34, 14), drawing.GhostBox(66, 26, 100, 26, 100, 40, 66, 40), drawing.Thin(58, 14, 70, 10, 66, 18)},
	Draw:      spotScene,
}
