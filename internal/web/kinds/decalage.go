package kinds

import "orpine/internal/web/drawing"

var decalageKind = Kind{
	Name: "decalage", Guide: "incidence",
	Pictogram: drawing.Strokes{drawing.Solid(8, 26, 18, 20, 44, 28, 18, 29), drawing.Solid(62, 32, 76, 25, 112, 31, 78, 36), drawing.Ghost(4, 44, 116, 44)},
	Draw:      chordScene,
}
