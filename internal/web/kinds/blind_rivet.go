package kinds

import "orpine/internal/web/drawing"

var blindRivetKind = Kind{
	Name: "blind-rivet", Guide: "rows",
	Pictogram: drawing.Strokes{drawing.Filled(14, 24, 106, 24, 106, 34, 14, 34), drawing.Solid(42, 24, 48, 17, 72, 17, 78, 24), drawing.Box(52, 24, 16, 18), drawing.Edge(60, 4, 60, 46)},
	Draw:      nil,
}
