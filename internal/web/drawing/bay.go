package drawing

import (
	"html/template"
	"math"
)

// Bay is a bay or panel with two parallel sides and its diagonals, the near side
// below.
type Bay struct {
	Figure
	Near, Far, Length, D1, D2 Reading
	Rack                      float64 // the far side's shift to the right, mm
	Known                     bool
}

// Draw draws the sides and diagonals to scale as far as they are known.
func (b Bay) Draw() template.HTML {
	size := func(r Reading, otherwise float64) float64 {
		if r.Known && r.Value > 0 {
			return r.Value
		}
		return otherwise
	}
	near, length := size(b.Near, 1000), 0.0
	far := size(b.Far, near)
	length = size(b.Length, near*0.6)
	scale := min(460/max(near, far), 200/length)
	factor, shift := 1.0, 0.0
	if b.Known {
		factor = factorFor(math.Abs(b.Rack) * scale)
		shift = b.Rack * scale * factor
	}
	c := b.sheet(factor, "rack")
	mid := figureWidth / 2
	nl, nr := point{mid - near*scale/2, 290}, point{mid + near*scale/2, 290}
	fl, fr := point{mid - far*scale/2, 290 - length*scale}, point{mid + far*scale/2, 290 - length*scale}
	c.polygon("ghost", nl, nr, fr, fl)
	fl, fr = fl.plus(shift, 0), fr.plus(shift, 0)
	c.polygon("surface", nl, nr, fr, fl)
	c.tape(nl, nr, b.Near, 0.5)
	c.tape(fl, fr, b.Far, 0.5)
	c.tape(nl.toward(nr, 0.06), fl.toward(fr, 0.06), b.Length, 0.5)
	c.tape(nl, fr, b.D1, 0.7)
	c.tape(nr, fl, b.D2, 0.32)
	return b.done(c)
}
