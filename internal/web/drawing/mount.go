package drawing

import (
	"html/template"
	"math"

	"orpine/internal/core/say"
)

// Mount is the pads of an engine mount seen from behind the firewall, with the
// washers to add, and the thrust line from the side and from above.
type Mount struct {
	Figure
	Pads        []Pad
	Down, Right float64 // of the thrust line, degrees
	Known       bool
}

// Pad is one pad: y to the right, z up, and its depth.
type Pad struct {
	Reading
	Y, Z float64
	Move string // washers to add
}

// Draw draws the pads and the two views of the thrust line.
func (m Mount) Draw() template.HTML {
	c := m.sheet(1, "")
	if len(m.Pads) == 0 {
		return m.done(c)
	}
	a, b := point{math.Inf(1), math.Inf(1)}, point{math.Inf(-1), math.Inf(-1)}
	for _, p := range m.Pads {
		a, b = point{min(a.x, p.Y), min(a.y, p.Z)}, point{max(b.x, p.Y), max(b.y, p.Z)}
	}
	scale := min(230/max(1, b.x-a.x), 190/max(1, b.y-a.y))
	at := func(y, z float64) point { return point{200 + (y-(a.x+b.x)/2)*scale, 190 - (z-(a.y+b.y)/2)*scale} }
	frame := []point{at(a.x, b.y).plus(-48, -48), at(b.x, b.y).plus(48, -48), at(b.x, a.y).plus(48, 48), at(a.x, a.y).plus(-48, 48)}
	c.polygon("support", frame...)
	c.text("note", frame[3].plus(0, 18), "from behind the firewall")
	for _, p := range m.Pads {
		q := at(p.Y, p.Z)
		c.polygon("pad "+string(p.Mark), q.plus(-16, -16), q.plus(16, -16), q.plus(16, 16), q.plus(-16, 16))
		c.balloon(string(p.Mark), q, p.Number)
		c.text("figure middle", q.plus(0, 34), p.Shown)
		if p.Move != "" {
			c.text("move-figure middle", q.plus(0, -22), p.Move)
		}
	}
	m.thrust(c, point{390, 120}, m.Down, "from the left", "down")
	m.thrust(c, point{390, 270}, m.Right, "from above", "right")
	return m.done(c)
}

// thrust draws the thrust line from one side, turned by five times its angle.
func (m Mount) thrust(c *canvas, nose point, degrees float64, from, name string) {
	const factor = 5
	firewall := nose.plus(250, 0)
	c.line("edge", firewall.plus(0, -44), firewall.plus(0, 44))
	c.line("true", firewall, nose.plus(-20, 0))
	c.text("note", firewall.plus(12, -30), from)
	if !m.Known {
		c.text("note", nose.plus(60, -10), "not known yet")
		return
	}
	side := factor * degrees
	if name == "right" { // nose to the left: the right side is above
		side = -side
	}
	c.arrow("move", firewall, nose.turned(firewall, side))
	c.text("figure", firewall.plus(12, -8), name+" "+say.Angle(degrees).String())
	c.text("note roomy", firewall.plus(12, 14), "angle drawn ×5")
}
