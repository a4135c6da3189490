package drawing

import (
	"html/template"
	"math"
)

// CrossLevel is a part above its datum, seen from behind, with the level on each.
type CrossLevel struct {
	Figure
	Datum, Part Reading // degrees, right side low
}

// Draw draws both tilted by what was read.
func (l CrossLevel) Draw() template.HTML {
	factor := 1.0
	if most := max(math.Abs(l.Datum.Value), math.Abs(l.Part.Value)); most > 0 && (l.Datum.Known || l.Part.Known) {
		factor = min(50, niceFactor(6/most))
	}
	c := l.sheet(factor, "tilt")
	for _, bar := range []struct {
		r    Reading
		y    float64
		half float64
		name string
	}{{l.Part, 130, 330, "part"}, {l.Datum, 262, 130, "datum"}} {
		centre := point{figureWidth / 2, bar.y}
		tilt := 0.0
		if bar.r.Known {
			tilt = -bar.r.Value * factor // right low turns clockwise
		}
		a, b := centre.plus(-bar.half, 0).turned(centre, tilt), centre.plus(bar.half, 0).turned(centre, tilt)
		c.line("true", centre.plus(-bar.half-20, 0), centre.plus(bar.half+20, 0))
		c.polygon("surface", a, b, b.plus(0, 14), a.plus(0, 14))
		c.strokes("edge", a, b)
		if bar.r.Mark == Now {
			c.levelOn(a, b, 0.3)
		}
		c.balloon(string(bar.r.Mark), centre.plus(-bar.half-40, 6), bar.r.Number)
		c.text("figure", centre.plus(-bar.half*0.2, 46), bar.name+"  "+bar.r.Shown)
	}
	c.text("note", point{60, 92}, "left")
	c.text("note end", point{figureWidth - 60, 92}, "right")
	return l.done(c)
}
