package kinds

import "orpine/internal/web/drawing"

var sweepKind = Kind{
	Name: "sweep", Guide: "square",
	Pictogram: drawing.Strokes{drawing.Solid(60, 14, 108, 26, 108, 34, 60, 30), drawing.Solid(60, 14, 12, 26, 12, 34, 60, 30), drawing.Ghost(8, 8, 112, 8)},
	Draw:      spotScene,
}
