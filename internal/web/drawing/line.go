package drawing

import (
	"html/template"
	"math"
)

// Line is a part measured at places along it against a straight reference:
// a spar, a stringer, a row of hinges.
type Line struct {
	Figure
	Points []LinePoint
	Says   string // what the offsets are: "offsets"
}

// LinePoint is one place: X along in mm, and its reading.
type LinePoint struct {
	Reading
	X    float64
	Move string // "1.2 down", "" for none
	Up   bool
}

// Draw draws the departures from the line through the outermost known points.
func (l Line) Draw() template.HTML {
	least, greatest := math.Inf(1), math.Inf(-1)
	var first, last *LinePoint
	for i := range l.Points {
		p := &l.Points[i]
		least, greatest = min(least, p.X), max(greatest, p.X)
		if p.Known && (first == nil || p.X < first.X) {
			first = p
		}
		if p.Known && (last == nil || p.X > last.X) {
			last = p
		}
	}
	if !(greatest > least) {
		return l.done(l.sheet(1, ""))
	}
	reference := func(x float64) float64 {
		if first == nil || first.X == last.X {
			return 0
		}
		return first.Value + (last.Value-first.Value)*(x-first.X)/(last.X-first.X)
	}
	scale := (figureWidth - 120) / (greatest - least)
	most := 0.0
	for _, p := range l.Points {
		if p.Known {
			most = max(most, math.Abs(p.Value-reference(p.X)))
		}
	}
	factor := factorFor(most * scale * 0.7)
	at := func(p LinePoint) point {
		off := 0.0
		if p.Known {
			off = p.Value - reference(p.X)
		}
		return point{60 + (p.X-least)*scale, 180 - off*scale*factor}
	}
	c := l.sheet(factor, l.Says)
	c.line("true", point{30, 180}, point{figureWidth - 30, 180})
	var edge []point
	for _, p := range l.Points {
		if p.Known {
			edge = append(edge, at(p))
		}
	}
	if len(edge) > 1 {
		c.strokes("edge", edge...)
	}
	for _, p := range l.Points {
		q := at(p)
		c.line("station "+string(p.Mark), q, point{q.x, 180})
		c.circle("spot "+string(p.Mark), q, 4)
		c.balloon(string(p.Mark), point{q.x, 282}, p.Number)
		if p.Mark == Now {
			c.polygon("instrument", q.plus(-4, 0), q.plus(4, 0), q.plus(4, -60), q.plus(-4, -60))
		}
		if p.Move != "" {
			from, to := q.plus(14, 16), q.plus(14, -16)
			if !p.Up {
				from, to = to, from
			}
			c.arrow("move", from, to)
			class, beside := "move-figure roomy", 20.0
			if q.x > figureWidth-120 { // the last one keeps inside the sheet
				class, beside = class+" end", 26
			}
			c.text(class, q.plus(beside, -20), p.Move)
		}
	}
	c.dimension(point{60, 330}, point{60 + (greatest-least)*scale, 330}, long(greatest-least))
	return l.done(c)
}
