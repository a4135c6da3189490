package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var shimStackKind = Kind{
	Name: "shim-stack", Guide: "bench",
	Pictogram: drawing.Strokes{drawing.Box(28, 12, 64, 6), drawing.Box(28, 20, 64, 9), drawing.Box(28, 31, 64, 4), drawing.Box(28, 37, 64, 9)},
	Draw:      of(stackScene),
}

// stackScene draws the shims that come nearest.
func stackScene(s Scene, input *measure.ShimStack) template.HTML {
	d := drawing.Stack{Figure: s.figure(s.Setup.AssemblyName + ", shims"), Needed: float64(input.Needed)}
	if s.Check.Result != nil {
		d.Pieces = s.Check.Result.Stack
	}
	return d.Draw()
}
