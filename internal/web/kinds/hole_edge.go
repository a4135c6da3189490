package kinds

import "orpine/internal/web/drawing"

var holeEdgeKind = Kind{
	Name: "hole-edge", Guide: "rows",
	Pictogram: drawing.Strokes{drawing.Filled(14, 10, 106, 10, 106, 48, 14, 48), drawing.Box(44, 26, 10, 10), drawing.Box(84, 26, 10, 10), drawing.Ghost(14, 31, 106, 31)},
	Draw:      nil,
}
