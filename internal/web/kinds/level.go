package kinds

import (
	"html/template"

	"orpine/internal/web/drawing"
)

var levelKind = Kind{
	Name: "level", Guide: "level",
	Pictogram: drawing.Strokes{drawing.Edge(14, 42, 106, 36), drawing.Box(44, 22, 32, 14), drawing.Thin(56, 25, 64, 25), drawing.Thin(56, 33, 64, 33)},
	Draw:      crossLevelScene,
}

func crossLevelScene(s Scene) template.HTML {
	return drawing.CrossLevel{Figure: s.figure(s.Setup.AssemblyName + " from behind"), Datum: s.reading("", "", "datum"), Part: s.reading("", "", "part")}.Draw()
}
