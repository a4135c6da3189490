package kinds

import (
	"html/template"

	"orpine/internal/core/measure"
	"orpine/internal/web/drawing"
)

var washoutKind = Kind{
	Name: "washout", Guide: "twist",
	Pictogram: drawing.Strokes{drawing.Solid(8, 20, 56, 28, 56, 34, 8, 30), drawing.Solid(64, 28, 112, 16, 112, 26, 64, 34), drawing.Ghost(60, 4, 60, 52)},
	Draw:      of(washoutScene),
}

func washoutScene(s Scene, c *measure.Washout) template.HTML {
	d := drawing.Spanwise{Figure: s.figure(s.Setup.AssemblyName + " from behind"), DesignLeft: float64(c.Left.Design), DesignRight: float64(c.Right.Design)}
	for _, st := range c.Left.Stations {
		d.Left = append(d.Left, s.spanStation("left.stations", st))
	}
	for _, st := range c.Right.Stations {
		d.Right = append(d.Right, s.spanStation("right.stations", st))
	}
	return d.Draw()
}

func (s Scene) spanStation(list string, st measure.TwistStation) drawing.SpanStation {
	r := s.reading(list, st.Name, "angle")
	r.Name = st.Name
	return drawing.SpanStation{Y: float64(st.Y), Reading: r}
}
