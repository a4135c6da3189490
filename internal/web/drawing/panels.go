package drawing

import "html/template"

// Panels are the two panels of a surface seen from behind, with the level along each and
// across the datum.
type Panels struct {
	Figure
	Datum                       Reading
	Left, Right                 Reading // of the panel from level, degrees, tip up
	DihedralLeft, DihedralRight float64
	Known                       bool
}

// Draw draws both panels from the centreline outwards, over the level line.
func (p Panels) Draw() template.HTML {
	const reach, inner = 330.0, 36.0
	centre := point{figureWidth / 2, 220}
	factor, left, right := 1.0, 3.0, 3.0
	if p.Known {
		left, right = p.DihedralLeft, p.DihedralRight
		factor = min(6, 18/max(abs(left), abs(right), 1))
	}
	c := p.sheet(factor, "dihedral")
	c.line("true", centre.plus(-reach-20, 0), centre.plus(reach+20, 0))
	c.polygon("surface", centre.plus(-inner, 18), centre.plus(-inner, -18), centre.plus(inner, -18), centre.plus(inner, 18))
	c.line("centre", centre.plus(0, 60), centre.plus(0, -70))
	panel := func(side, degrees float64, r Reading, class string) {
		root := centre.plus(side*inner, 0)
		out := func(x, y float64) point { return root.plus(side*x, -y).turned(root, side*degrees*factor) }
		c.polygon("surface", out(0, 12), out(reach-inner, 4), out(reach-inner, -4), out(0, -12))
		c.strokes("edge", out(0, 12), out(reach-inner, 4))
		if r.Mark == Now {
			near, far := out(0, 13), out(reach-inner, 5)
			if side < 0 {
				near, far = far, near
			}
			c.levelOn(near, far, 0.5)
		}
		under := centre.plus(side*70, 104)
		c.balloon(string(r.Mark), under, r.Number)
		c.text(class, under.plus(side*22, 4), r.Name+"  "+r.Shown)
	}
	panel(-1, left, p.Left, "figure end")
	panel(1, right, p.Right, "figure")
	if p.Datum.Mark == Now {
		c.levelOn(centre.plus(-inner, 40), centre.plus(inner, 40), 0.5)
	}
	c.line("thin", centre.plus(-60, 40), centre.plus(60, 40))
	c.balloon(string(p.Datum.Mark), centre.plus(-84, 40), p.Datum.Number)
	c.text("figure end", centre.plus(-106, 44), p.Datum.Name+"  "+p.Datum.Shown)
	return p.done(c)
}
