package kinds

import "orpine/internal/web/drawing"

var solidRivetKind = Kind{
	Name: "solid-rivet", Guide: "rows",
	Pictogram: drawing.Strokes{drawing.Filled(14, 24, 106, 24, 106, 34, 14, 34), drawing.Solid(40, 24, 46, 12, 74, 12, 80, 24), drawing.Box(52, 24, 16, 26)},
	Draw:      nil,
}
