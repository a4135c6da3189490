package drawing

import (
	"html/template"
	"math"
)

// Square is a surface seen from above, nose to the left, with a tape from each
// centreline point to both tips. The right tip is above.
type Square struct {
	Figure
	Station, HalfSpan, Chord float64
	From                     []FromPoint
	Skew                     float64 // degrees, right tip aft; drawn when Known
	Known                    bool
	Move                     string // at the right tip
	MoveAft                  bool
}

// FromPoint is a point on the centreline with its two tapes.
type FromPoint struct {
	Name        string
	X           float64
	Left, Right Reading
}

// Draw draws the tapes and the surface where the tips are.
func (s Square) Draw() template.HTML {
	least, greatest := s.Station, s.Station+s.Chord
	for _, p := range s.From {
		least, greatest = min(least, p.X), max(greatest, p.X)
	}
	scale := min((figureWidth-140)/max(1, greatest-least), 150/max(1, s.HalfSpan))
	at := func(x, y float64) point {
		return point{figureWidth/2 + (x-(least+greatest)/2)*scale, 190 - y*scale}
	}
	factor := 1.0
	if s.Known {
		factor = factorFor(s.HalfSpan * scale * math.Abs(math.Sin(s.Skew*math.Pi/180)) * 1.6)
	}
	c := s.sheet(factor, "skew")
	c.line("centre", at(least, 0).plus(-30, 0), at(greatest, 0).plus(30, 0))
	shift := s.HalfSpan * math.Sin(s.Skew*math.Pi/180) * factor
	if !s.Known {
		shift = 0
	}
	tip := func(side float64) point { return at(s.Station+side*shift, side*s.HalfSpan) }
	back := func(side float64) point { return at(s.Station+s.Chord+side*shift, side*s.HalfSpan) }
	c.polygon("ghost", at(s.Station, s.HalfSpan), at(s.Station+s.Chord, s.HalfSpan), at(s.Station+s.Chord, -s.HalfSpan), at(s.Station, -s.HalfSpan))
	c.polygon("surface", tip(1), back(1), back(-1), tip(-1))
	for i, p := range s.From {
		from := at(p.X, 0)
		share := 0.45 + 0.22*float64(i%2)
		c.tape(from, tip(1), p.Right, share)
		c.tape(from, tip(-1), p.Left, share)
		c.circle("spot taken", from, 5)
		c.text("note middle roomy", from.plus(0, 20), p.Name)
	}
	c.text("note middle", tip(1).plus(10, -8), "right tip")
	c.text("note middle", tip(-1).plus(10, 20), "left tip")
	if s.Move != "" {
		from, to := tip(1).plus(10, 8), tip(1).plus(-34, 8)
		if s.MoveAft {
			from, to = to, from
		}
		c.arrow("move", from, to)
		c.text("move-figure roomy", tip(1).plus(30, 14), s.Move)
	}
	return s.done(c)
}
