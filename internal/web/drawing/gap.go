package drawing

import (
	"html/template"

	"orpine/internal/core/say"
)

// Gaps is a row of clearances with the range that each must lie in; the aim is
// the middle, for what is trimmed cannot be put back.
type Gaps struct {
	Figure
	Gaps     []GapAt
	Min, Max float64
}

// GapAt is one clearance.
type GapAt struct {
	Reading
	Move string
}

// Draw draws each gap as the space between two edges.
func (g Gaps) Draw() template.HTML {
	most := g.Max
	for _, r := range g.Gaps {
		if r.Known {
			most = max(most, r.Value)
		}
	}
	scale := 170 / max(most*1.2, 0.1)
	c := g.sheet(scale/4, "gaps")
	const edge = 232.0
	y := func(v float64) float64 { return edge - v*scale }
	c.polygon("surface", point{40, edge}, point{figureWidth - 40, edge}, point{figureWidth - 40, edge + 40}, point{40, edge + 40})
	c.line("bracket", point{40, y(g.Min)}, point{figureWidth - 40, y(g.Min)})
	c.line("bracket", point{40, y(g.Max)}, point{figureWidth - 40, y(g.Max)})
	c.line("true", point{40, y((g.Min + g.Max) / 2)}, point{figureWidth - 40, y((g.Min + g.Max) / 2)})
	c.text("note", point{44, y(g.Max) - 6}, "most "+say.Length(g.Max).String())
	c.text("note", point{44, y(g.Min) + 16}, "least "+say.Length(g.Min).String()+"; dashed: aim here")
	width := (figureWidth - 200) / float64(max(1, len(g.Gaps)))
	for i, r := range g.Gaps {
		x := 200 + width*(float64(i)+0.4)
		if r.Known {
			c.line("edge", point{x - width*0.3, y(r.Value)}, point{x + width*0.3, y(r.Value)})
			c.line("station "+string(r.Mark), point{x, edge}, point{x, y(r.Value)})
		}
		c.balloon(string(r.Mark), point{x, edge + 62}, r.Number)
		c.text("figure middle", point{x, edge + 98}, r.Name)
		c.text("figure middle", point{x, edge + 122}, r.Shown)
		if r.Move != "" {
			c.text("move-figure middle", point{x, edge + 30}, r.Move)
		}
	}
	return g.done(c)
}
