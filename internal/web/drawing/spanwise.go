package drawing

import (
	"html/template"
	"math"
)

// SpanStation is a station of a panel: how far outboard it lies, and the chordwise angle that was read there.
type SpanStation struct {
	Y float64 // mm from the root
	Reading
}

// Spanwise are both panels of a wing from behind: at each station its chord against the root's, and as a dashed line
// how it is meant to wash out.
type Spanwise struct {
	Figure
	Left, Right             []SpanStation
	DesignLeft, DesignRight float64 // degrees, tip less root
}

// Draw draws the left panel to the left. What is drawn above the root's line is leading edge up.
func (s Spanwise) Draw() template.HTML {
	const reach, inner, level = 340.0, 44.0, 170.0
	centre := point{figureWidth / 2, level}
	most, outer := 0.0, 1.0
	for _, side := range [][]SpanStation{s.Left, s.Right} {
		for _, st := range side {
			outer = max(outer, st.Y)
			if st.Known && side[0].Known {
				most = max(most, math.Abs(st.Value-side[0].Value))
			}
		}
	}
	most = max(most, math.Abs(s.DesignLeft), math.Abs(s.DesignRight), 0.05)
	px := 70 / most // of a degree
	c := s.sheet(1, "")
	c.line("centre", centre.plus(0, -110), centre.plus(0, 120))
	c.text("note", point{8, 38}, "up is leading edge up; dashed: as it is meant")
	panel := func(side, design float64, stations []SpanStation) {
		if len(stations) == 0 {
			return
		}
		at := func(y, degrees float64) point { return centre.plus(side*(inner+y/outer*reach), -degrees*px) }
		c.line("true", at(0, 0), at(stations[len(stations)-1].Y, design))
		var along []point
		for _, st := range stations {
			rise := 0.0
			if st.Known && stations[0].Known {
				rise = st.Value - stations[0].Value
			} else {
				rise = design * st.Y / max(stations[len(stations)-1].Y, 1)
			}
			p := at(st.Y, rise)
			if st.Known {
				along = append(along, p)
			}
			c.line("thin", at(st.Y, 0).plus(0, 96), p)
			if st.Mark == Now {
				c.levelOn(p.plus(-26, 0), p.plus(26, 0), 0.8)
			}
			c.balloon(string(st.Mark), at(st.Y, 0).plus(0, 112), st.Number)
			c.text("figure small middle", at(st.Y, 0).plus(0, 142), st.Name)
			c.text("figure small middle", at(st.Y, 0).plus(0, 158), st.Shown)
		}
		if len(along) > 1 {
			c.strokes("edge", along...)
		}
		c.text("note middle", centre.plus(side*(inner+reach/2), -96), map[float64]string{-1: "left", 1: "right"}[side])
	}
	panel(-1, s.DesignLeft, s.Left)
	panel(1, s.DesignRight, s.Right)
	return s.done(c)
}

// Swept are both panels from above against a line square to the centreline, with the distances from it to the marks.
type Swept struct {
	Figure
	LeftRoot, LeftTip, RightRoot, RightTip Reading // mm from the line, aft
	HasLeft, HasRight                      bool
}

// Draw draws the line at the top, which is ahead.
func (s Swept) Draw() template.HTML {
	const reach, inner, ahead = 330.0, 60.0, 74.0
	middle := figureWidth / 2
	c := s.sheet(1, "")
	c.line("true", point{middle - inner - reach, ahead}, point{middle + inner + reach, ahead})
	c.text("note middle", point{middle, ahead - 14}, "the line, square to the centreline")
	c.line("centre", point{middle, ahead - 8}, point{middle, 350})
	panel := func(side float64, root, tip Reading) {
		at := func(r Reading, out, plain float64) point {
			drop := plain
			if root.Known && tip.Known {
				drop = 120 + (r.Value-root.Value)/max(math.Abs(tip.Value-root.Value), 1)*60
			}
			return point{middle + side*out, ahead + drop}
		}
		a, b := at(root, inner, 120), at(tip, inner+reach-20, 140)
		c.polygon("surface", a, b, b.plus(0, 60), a.plus(0, 90))
		c.strokes("edge", a, b)
		for _, end := range []struct {
			r Reading
			p point
		}{{root, a}, {tip, b}} {
			c.tape(point{end.p.x, ahead}, end.p, end.r, 0.5)
		}
	}
	if s.HasLeft {
		panel(-1, s.LeftRoot, s.LeftTip)
	}
	if s.HasRight {
		panel(1, s.RightRoot, s.RightTip)
	}
	return s.done(c)
}
