package kinds

import (
	"html/template"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var handKind = Kind{
	Name: "hand", Guide: "holds",
	Pictogram: drawing.Strokes{drawing.Edge(20, 46, 20, 12, 50, 12), drawing.Edge(100, 46, 100, 12, 70, 12), drawing.Ghost(60, 4, 60, 52)},
	Draw:      of(handScene),
}

// handScene lays the part in question on the other: the points of both where they
// were found.
func handScene(s Scene, input *measure.Hand) template.HTML {
	d := drawing.Hands{Figure: s.figure(strings.TrimPrefix(s.Setup.AssemblyName+", the part that is right, and the one in question", ", "))}
	for _, p := range input.First {
		d.Points = append(d.Points, drawing.HandPoint{Name: p.Name,
			First:  [2]drawing.Reading{s.reading("first", p.Name, "x"), s.reading("first", p.Name, "y")},
			Second: [2]drawing.Reading{s.reading("second", p.Name, "x"), s.reading("second", p.Name, "y")}})
	}
	return d.Draw()
}
