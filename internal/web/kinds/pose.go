package kinds

import "orpine/internal/web/drawing"

var poseKind = Kind{
	Name: "pose", Guide: "tail",
	Pictogram: drawing.Strokes{drawing.Edge(14, 16, 106, 20), drawing.Edge(60, 18, 60, 50), drawing.Thin(60, 50, 14, 16), drawing.Thin(60, 50, 106, 20)},
	Draw:      joinScene,
}
