package kinds

import "orpine/internal/web/drawing"

var washoutKind = Kind{
	Name: "washout", Guide: "twist",
	Pictogram: drawing.Strokes{drawing.Solid(8, 20, 56, 28, 56, 34, 8, 30), drawing.Solid(64, 28, 112, 16, 112, 26, 64, 34), drawing.Ghost(60, 4, 60, 52)},
	Draw:      spotScene,
}
