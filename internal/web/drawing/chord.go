package drawing

import (
	"html/template"
	"math"
)

// Chords is one chord line or several, seen from the left with the nose to the
// left: incidence on each side, or a forward surface against an aft one.
type Chords struct {
	Figure
	Lines []Chord
	Datum *Reading
}

// Chord is one chord line with the board and level on it.
type Chord struct {
	Reading
	Design float64 // degrees, drawn dashed
	Move   string  // at the rear, or the front
	Up     bool
	Front  bool
	// Read by heights at the ends of the chord, in place of an angle; else nil.
	Front2, Rear2 *Reading
}

// Draw draws each chord about its datum, angles exaggerated alike.
func (s Chords) Draw() template.HTML {
	factor := 1.0
	for _, l := range s.Lines {
		if l.Known {
			factor = max(factor, min(6, niceFactor(12/max(0.5, math.Abs(l.Value)))))
		}
	}
	c := s.sheet(factor, "angles")
	width := (figureWidth - 60) / float64(max(1, len(s.Lines)))
	for i, l := range s.Lines {
		centre := point{30 + width*(float64(i)+0.5), 165}
		half := min(width*0.38, 190)
		s.chord(c, l, centre, half, factor)
	}
	if s.Datum != nil {
		y := 346.0
		c.line("thin", point{60, y}, point{figureWidth - 60, y})
		c.balloon(string(s.Datum.Mark), point{44, y}, s.Datum.Number)
		c.text("figure", point{72, y - 8}, "datum "+s.Datum.Shown)
		if s.Datum.Mark == Now {
			c.levelOn(point{300, y}, point{540, y}, 0.7)
		}
	}
	return s.done(c)
}

func (s Chords) chord(c *canvas, l Chord, centre point, half, factor float64) {
	turn := func(p point, degrees float64) point { return p.turned(centre, -degrees*factor) }
	c.line("true", turn(centre.plus(-half-16, 0), l.Design), turn(centre.plus(half+16, 0), l.Design))
	shown := l.Design
	if l.Known {
		shown = l.Value
	}
	nose, tail := turn(centre.plus(-half, 0), shown), turn(centre.plus(half, 0), shown)
	// The section is a thickness along the chord, above and below it alike but
	// for a flatter underside; it is not the aircraft's own.
	var top, bottom []point
	for _, s := range [][2]float64{{0, 0}, {0.02, 0.042}, {0.08, 0.078}, {0.2, 0.108}, {0.35, 0.117}, {0.55, 0.098}, {0.8, 0.05}, {1, 0}} {
		along, thick := half*(2*s[0]-1), half*s[1]*1.3
		top = append(top, turn(centre.plus(along, -thick), shown))
		bottom = append([]point{turn(centre.plus(along, thick*0.6), shown)}, bottom...)
	}
	upper := top[4]
	c.polygon("surface", append(top, bottom...)...)
	c.strokes("edge", nose, tail)
	if l.Front2 != nil {
		c.heightUnder(nose, *l.Front2)
		c.heightUnder(tail, *l.Rear2)
		c.text("figure middle", centre.plus(0, 132), l.Name)
		c.moveChord(l, nose.plus(-50, 0), tail.plus(50, 0))
		return
	}
	if l.Mark == Now {
		a, b := upper.plus(-half*0.3, -8), tail.plus(-half*0.3, -30)
		for _, share := range []float64{0.15, 0.85} { // the feet of the board that it stands on
			at := a.toward(b, share)
			c.line("hair", at, at.plus(0, 30))
		}
		c.levelOn(a, b, 0.9)
	}
	c.balloon(string(l.Mark), centre.plus(0, 82), l.Number)
	c.text("figure middle", centre.plus(0, 116), l.Name+"  "+l.Shown)
	c.moveChord(l, nose, tail)
}

// heightUnder draws a tape from the reference up to a place, with its number and figure.
func (c *canvas) heightUnder(at point, r Reading) {
	foot := point{at.x, 262}
	c.line("tape "+string(r.Mark), foot, at)
	c.balloon(string(r.Mark), at.toward(foot, 0.55), r.Number)
	c.text("figure middle", foot.plus(0, 18), r.Shown)
}

// moveChord draws the move at the rear or the front.
func (c *canvas) moveChord(l Chord, nose, tail point) {
	if l.Move == "" {
		return
	}
	at := tail
	if l.Front {
		at = nose
	}
	from, to := at.plus(0, 44), at.plus(0, 14)
	if !l.Up {
		from, to = to, from
	}
	c.arrow("move", from, to)
	c.text("move-figure middle roomy", at.plus(0, 62), l.Move)
}
