package kinds

import "orpine/internal/web/drawing"

var hingeLineKind = Kind{
	Name: "hinge-line", Guide: "fin",
	Pictogram: drawing.Strokes{drawing.Ghost(8, 28, 112, 28), drawing.Box(16, 23, 10, 10), drawing.Box(54, 19, 10, 10), drawing.Box(94, 23, 10, 10)},
	Draw:      lineScene,
}
