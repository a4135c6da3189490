package drawing

import "html/template"

// Travel is control surfaces seen from the left, each between its stops.
type Travel struct {
	Figure
	Surfaces []TravelOf
}

// TravelOf is one surface, up and down as magnitudes in degrees.
type TravelOf struct {
	Name     string
	Up, Down Reading
}

// Draw draws each surface in trail and against both stops.
func (t Travel) Draw() template.HTML {
	c := t.sheet(1, "")
	width := (figureWidth - 40) / float64(max(1, len(t.Surfaces)))
	for i, s := range t.Surfaces {
		hinge := point{20 + width*(float64(i)+0.4), 180}
		reach := min(width*0.42, 170)
		c.polygon("support", hinge.plus(-width*0.3, 0), hinge.plus(-8, -14), hinge.plus(-8, 14))
		c.line("true", hinge, hinge.plus(reach+20, 0))
		for _, stop := range []struct {
			r    Reading
			sign float64
		}{{s.Up, 1}, {s.Down, -1}} {
			angle := 18.0
			if stop.r.Known {
				angle = stop.r.Value
			}
			tip := hinge.plus(reach, 0).turned(hinge, stop.sign*angle)
			c.polygon("surface", hinge.plus(0, -8), tip, hinge.plus(0, 8))
			c.strokes("station "+string(stop.r.Mark), hinge, tip)
			if stop.r.Mark == Now {
				c.levelOn(hinge, tip, 0.5)
			}
			at := tip.plus(4, -stop.sign*22)
			c.balloon(string(stop.r.Mark), at, stop.r.Number)
			c.text("figure middle", at.plus(0, 9-stop.sign*34), stop.r.Shown)
		}
		c.circle("spot taken", hinge, 5)
		c.text("note middle", hinge.plus(0, 120), s.Name)
	}
	return t.done(c)
}
