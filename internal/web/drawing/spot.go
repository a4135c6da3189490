package drawing

import "html/template"

// OneSpot is a check of one place or two: a level turned end for end, a length.
type OneSpot struct {
	Figure
	Readings []Reading
	Tape     bool // a length, and not a level
}

// Draw draws the instrument at each reading.
func (s OneSpot) Draw() template.HTML {
	c := s.sheet(1, "")
	for i, r := range s.Readings {
		y := 120 + 110*float64(i)
		a, b := point{180, y + 30}, point{660, y + 30}
		c.line("edge", a.plus(-40, 0), b.plus(40, 0))
		switch {
		case s.Tape:
			c.line("tape "+string(r.Mark), a, b)
		case i%2 == 0:
			c.levelOn(a, b, 0.6)
		default: // turned end for end: the display at the other end
			c.polygon("instrument", point{276, y + 18}, point{564, y + 18}, point{564, y + 30}, point{276, y + 30})
			c.polygon("display", point{320, y + 21}, point{384, y + 21}, point{384, y + 27}, point{320, y + 27})
		}
		c.balloon(string(r.Mark), point{110, y + 26}, r.Number)
		c.text("figure", point{300, y + 56}, r.Name+"  "+r.Shown)
	}
	return s.done(c)
}
