package kinds

import "orpine/internal/web/drawing"

var joinKind = Kind{
	Name: "join", Guide: "tail",
	Pictogram: drawing.Strokes{drawing.Edge(14, 14, 106, 14), drawing.Edge(60, 14, 66, 46), drawing.Ghost(8, 46, 112, 46), drawing.Thin(20, 46, 14, 14), drawing.Thin(20, 46, 106, 14)},
	Draw:      joinScene,
}
