package drawing

import (
	"html/template"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

// Stack is shims in a gap, drawn to one scale.
type Stack struct {
	Figure
	Needed float64   // mm
	Pieces []float64 // mm, the lowest first
}

// Draw draws the gap that is to be filled and what fills it.
func (s Stack) Draw() template.HTML {
	total := 0.0
	for _, t := range s.Pieces {
		total += t
	}
	scale := 200 / max(s.Needed, total, 0.1)
	c := s.sheet(1, "")
	floor, top := 310.0, 310-s.Needed*scale
	c.polygon("rail", point{180, floor}, point{560, floor}, point{560, floor + 26}, point{180, floor + 26})
	c.polygon("rail", point{180, top - 26}, point{560, top - 26}, point{560, top}, point{180, top})
	y := floor
	for i, t := range s.Pieces {
		next := y - t*scale
		c.polygon("pad", point{220, next}, point{520, next}, point{520, y}, point{220, y})
		c.text("figure", point{600, (y+next)/2 + 4}, say.Written(quantity.Length(t)).String())
		c.balloon("taken", point{580, (y + next) / 2}, i+1)
		y = next
	}
	c.dimension(point{120, top}, point{120, floor}, "")
	c.text("figure end", point{112, (top+floor)/2 + 4}, say.Written(quantity.Length(s.Needed)).String())
	return s.done(c)
}
