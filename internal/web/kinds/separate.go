package kinds

import "orpine/internal/web/drawing"

var separateKind = Kind{
	Name: "separate", Guide: "bench",
	Pictogram: drawing.Strokes{drawing.Edge(10, 26, 35, 16, 60, 13, 85, 16, 110, 26), drawing.True(10, 34, 35, 42, 60, 45, 85, 42, 110, 34)},
	Draw:      lineScene,
}
