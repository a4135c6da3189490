package kinds

import "orpine/internal/web/drawing"

var twistKind = Kind{
	Name: "twist", Guide: "twist",
	Pictogram: drawing.Strokes{drawing.Solid(14, 40, 20, 16, 104, 20, 98, 34), drawing.Ghost(14, 40, 98, 46), drawing.Thin(20, 16, 14, 40)},
	Draw:      rigScene,
}
