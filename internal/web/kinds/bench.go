package kinds

import "orpine/internal/web/drawing"

var benchKind = Kind{
	Name: "bench", Guide: "bench",
	Pictogram: drawing.Strokes{drawing.Ghost(10, 12, 110, 12), drawing.Filled(10, 24, 110, 20, 110, 25, 10, 29), drawing.Box(22, 29, 8, 20), drawing.Box(56, 28, 8, 21), drawing.Box(90, 26, 8, 23)},
	Draw:      rigScene,
}
