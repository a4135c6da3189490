package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var sweepKind = Kind{
	Name: "sweep", Guide: "square",
	Pictogram: drawing.Strokes{drawing.Solid(60, 14, 108, 26, 108, 34, 60, 30), drawing.Solid(60, 14, 12, 26, 12, 34, 60, 30), drawing.Ghost(8, 8, 112, 8)},
	Draw:      of(sweepScene),
}

func sweepScene(s Scene, c *measure.Sweep) template.HTML {
	return drawing.Swept{
		Figure: s.figure(s.Setup.AssemblyName + " from above"), HasLeft: c.Left != nil, HasRight: c.Right != nil,
		LeftRoot: s.reading("", "", "left.root"), LeftTip: s.reading("", "", "left.tip"), RightRoot: s.reading("", "", "right.root"), RightTip: s.reading("", "", "right.tip"),
	}.Draw()
}
