package kinds

import "orpine/internal/web/drawing"

var incidenceKind = Kind{
	Name: "incidence", Guide: "incidence",
	Pictogram: drawing.Strokes{drawing.Solid(12, 30, 26, 18, 50, 15, 110, 36, 40, 38), drawing.Ghost(8, 46, 112, 46), drawing.Thin(12, 30, 110, 36)},
	Draw:      chordScene,
}
