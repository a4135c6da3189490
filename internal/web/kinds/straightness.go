package kinds

import "orpine/internal/web/drawing"

var straightnessKind = Kind{
	Name: "straightness", Guide: "fin",
	Pictogram: drawing.Strokes{drawing.Edge(10, 36, 35, 28, 60, 25, 85, 28, 110, 36), drawing.Ghost(10, 36, 110, 36)},
	Draw:      lineScene,
}
