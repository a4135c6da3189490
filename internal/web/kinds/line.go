package kinds

import (
	"html/template"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/web/drawing"
)

func lineScene(s Scene) template.HTML {
	l := drawing.Line{Figure: s.figure(s.Setup.AssemblyName), Says: "offsets"}
	add := func(list, name, field string, x quantity.Length) {
		p := drawing.LinePoint{Reading: s.reading(list, name, field), X: float64(x)}
		var m measure.Move
		p.Move, m = s.move(name)
		p.Up = m.Direction == "up" || m.Direction == "right"
		l.Points = append(l.Points, p)
	}
	switch input := s.Check.Input.(type) {
	case *measure.Straightness:
		for _, p := range input.Points {
			add("points", p.Name, "offset", p.X)
		}
	case *measure.HingeLine:
		field := "z"
		if s.Now.Field == "y" || input.Adjust == "y" {
			field = "y"
		}
		l.Title += ", hinges, " + map[string]string{"y": "across", "z": "up"}[field]
		for _, p := range input.Points {
			add("points", p.Name, field, p.X)
		}
	case *measure.Separate:
		round, series := "first", input.First
		if strings.HasPrefix(s.Now.List, "second") {
			round, series = "second", input.Second
		}
		l.Title += ", " + round + " round"
		for _, p := range series.Points {
			add(round+".points", p.Name, "offset", p.X)
		}
		for _, p := range series.Stations {
			add(round+".stations", p.Name, "angle", p.Y)
			l.Says = "angles"
		}
	}
	return l.Draw()
}
