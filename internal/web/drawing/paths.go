package drawing

import (
	"html/template"

	"orpine/internal/core/section"
)

// Paths is a drawing at true size, as it will be cut, small on the screen.
type Paths struct {
	Paths []section.Path
	Label string
}

// Draw draws it; the line to cut along is the heavy one.
func (p Paths) Draw() template.HTML {
	if len(p.Paths) == 0 {
		return ""
	}
	var all []section.Point
	for _, path := range p.Paths {
		all = append(all, path.Points...)
	}
	low, high := section.Bounds(all)
	const width, margin = 900.0, 12.0
	scale := (width - 2*margin) / max(high.X-low.X, 1)
	put := func(q section.Point) point {
		return point{margin + (q.X-low.X)*scale, margin + (high.Y-q.Y)*scale}
	}
	var c canvas
	for _, path := range p.Paths {
		class := "thin"
		if path.Layer == section.Cut {
			class = "outline-cut"
		}
		points := make([]point, len(path.Points))
		for i, q := range path.Points {
			points[i] = put(q)
		}
		c.path(class, path.Closed, points...)
	}
	return c.svg("board-drawing", width, 2*margin+(high.Y-low.Y)*scale, p.Label)
}
