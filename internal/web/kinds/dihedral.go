package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var dihedralKind = Kind{
	Name: "dihedral", Guide: "square",
	Pictogram: drawing.Strokes{drawing.Edge(8, 14, 60, 42, 112, 14), drawing.Ghost(8, 42, 112, 42)},
	Draw:      of(panelScene),
}

func panelScene(s Scene, _ *measure.Dihedral) template.HTML {
	d := drawing.Panels{Figure: s.figure(s.Setup.AssemblyName + " from behind"), Datum: s.reading("", "", "datum"), Left: s.reading("", "", "left"), Right: s.reading("", "", "right")}
	d.DihedralLeft, d.Known = s.quantity("dihedral_left")
	d.DihedralRight, _ = s.quantity("dihedral_right")
	return d.Draw()
}
