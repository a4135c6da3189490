package kinds

import "orpine/internal/web/drawing"

var shopTemperatureKind = Kind{
	Name: "shop-temperature", Guide: "bench",
	Pictogram: drawing.Strokes{drawing.Solid(56, 6, 64, 6, 64, 38, 70, 46, 60, 54, 50, 46, 56, 38), drawing.Edge(60, 20, 60, 48), drawing.Thin(72, 12, 80, 12), drawing.Thin(72, 22, 80, 22), drawing.Thin(72, 32, 80, 32)},
	Draw:      spotScene,
}
