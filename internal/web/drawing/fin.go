package drawing

import "html/template"

// Fin is a fin seen from behind, with the level on each of its faces.
type Fin struct {
	Figure
	Height      float64
	Datum       Reading
	Left, Right Reading // lean of each face towards the centre plane, degrees
	Lean        float64 // top to the right
	Known       bool
}

// Draw draws the two faces about the plumb line.
func (f Fin) Draw() template.HTML {
	foot, tall := point{figureWidth / 2, 316}, 250.0
	factor := 1.0
	lean := 0.0
	if f.Known {
		factor = min(50, factorFor(tall*abs(f.Lean)*0.0175))
		lean = f.Lean * factor
	}
	c := f.sheet(factor, "lean")
	c.line("true", foot.plus(0, 12), foot.plus(0, -tall-30))
	taper := 3.2
	if f.Left.Known && f.Right.Known {
		taper = (f.Left.Value + f.Right.Value) / 2
	}
	taper = min(max(taper, 0), 9)
	topHalf := max(12, 46-tall*taper*0.0175)
	up := func(x, y float64) point { return foot.plus(x, -y).turned(foot, -lean) }
	left, right := [2]point{up(-46, 0), up(-topHalf, tall)}, [2]point{up(46, 0), up(topHalf, tall)}
	c.polygon("surface", left[0], left[1], right[1], right[0])
	c.strokes("edge", left[0], left[1])
	c.strokes("edge", right[1], right[0])
	c.line("centre", up(0, -6), up(0, tall+10))
	if f.Left.Mark == Now {
		c.levelOn(left[0], left[1], 0.4)
	}
	if f.Right.Mark == Now {
		c.levelOn(right[1], right[0], 0.4)
	}
	if f.Datum.Mark == Now {
		c.levelOn(foot.plus(-130, 22), foot.plus(130, 22), 0.4)
	}
	c.line("thin", foot.plus(-160, 22), foot.plus(160, 22))
	label := func(r Reading, at point, class string, shown point) {
		c.balloon(string(r.Mark), at, r.Number)
		c.text(class, shown, r.Name+"  "+r.Shown)
	}
	label(f.Left, foot.plus(-110, -130), "figure end", foot.plus(-132, -126))
	label(f.Right, foot.plus(110, -130), "figure", foot.plus(132, -126))
	label(f.Datum, foot.plus(-190, 22), "figure end", foot.plus(-212, 26))
	c.text("note", up(topHalf, tall).plus(14, 4), "height "+long(f.Height))
	return f.done(c)
}
