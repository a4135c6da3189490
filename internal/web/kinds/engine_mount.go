package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/web/drawing"
)

var engineMountKind = Kind{
	Name: "engine-mount", Guide: "holds",
	Pictogram: drawing.Strokes{drawing.Box(24, 8, 12, 12), drawing.Box(84, 8, 12, 12), drawing.Box(24, 36, 12, 12), drawing.Box(84, 36, 12, 12), drawing.Ghost(30, 14, 90, 42), drawing.Ghost(90, 14, 30, 42)},
	Draw:      of(mountScene),
}

func mountScene(s Scene, input *measure.EngineMount) template.HTML {
	d := drawing.Mount{Figure: s.figure(s.Setup.AssemblyName)}
	d.Down, d.Known = s.quantity("down")
	d.Right, _ = s.quantity("right")
	for _, p := range input.Pads {
		pad := drawing.Pad{Reading: s.reading("pads", p.Name, "depth"), Y: float64(p.Y), Z: float64(p.Z)}
		if says, m := s.move(p.Name); says != "" {
			pad.Move = say.Length(m.Amount).Signed().Bare().String()
		}
		d.Pads = append(d.Pads, pad)
	}
	return d.Draw()
}
