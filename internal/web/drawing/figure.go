package drawing

import (
	"html/template"
	"math"
)

// Reading is a point of a check as it is drawn: its number in walking order,
// what was read there, and how far it is.
type Reading struct {
	Number int
	Name   string
	Value  float64 // mm or degrees, the instrument's zero taken off
	Shown  string  // the figure, as it is written
	Known  bool
	Mark   Mark
}

// Figure is what every drawing of a check says beside its geometry.
type Figure struct {
	Title string
	How   string // how the instrument sits at the point in hand
	// Turned says that it is held the other way round there.
	Turned bool
}

const (
	figureWidth, figureHeight = 840.0, 382.0
	exaggeratedPx             = 40.0 // what the greatest deflection comes to
	mostFactor                = 1000 // beyond it what is drawn is noise
)

// sheet begins a drawing with its title, and says the exaggeration when there is one.
func (f Figure) sheet(factor float64, what string) *canvas {
	c := &canvas{turned: f.Turned}
	title := f.Title
	if factor > 1 {
		title += ", " + what + " drawn ×" + thousands(factor)
	}
	c.text("note", point{8, 20}, title)
	return c
}

// done ends a drawing.
func (f Figure) done(c *canvas) template.HTML {
	if f.How != "" {
		c.text("how", point{8, figureHeight - 8}, f.How)
	}
	return c.svg("figure-of-check", figureWidth, figureHeight, f.Title)
}

// factorFor is the exaggeration that brings a deflection in sheet units to its size.
func factorFor(most float64) float64 {
	if most <= 0 {
		return 1
	}
	return min(niceFactor(exaggeratedPx/most), mostFactor)
}

// turned returns a place turned about another by degrees, anticlockwise on the sheet.
func (p point) turned(about point, degrees float64) point {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	dx, dy := p.x-about.x, p.y-about.y
	return point{about.x + dx*cos + dy*sin, about.y - dx*sin + dy*cos}
}

// levelOn draws a level lying on the line from a to b, its display towards b.
func (c *canvas) levelOn(a, b point, share float64) {
	length := math.Hypot(b.x-a.x, b.y-a.y)
	if length == 0 {
		return
	}
	nx, ny := (b.y-a.y)/length, -(b.x-a.x)/length // to the left of a→b on the sheet: upwards for a rightward line
	from, to := a.toward(b, 0.5-share/2), a.toward(b, 0.5+share/2)
	c.polygon("instrument", from, to, to.plus(12*nx, 12*ny), from.plus(12*nx, 12*ny))
	d, e := from.toward(to, 0.62), from.toward(to, 0.84)
	if c.turned {
		d, e = from.toward(to, 0.16), from.toward(to, 0.38)
	}
	c.polygon("display", d.plus(3*nx, 3*ny), e.plus(3*nx, 3*ny), e.plus(9*nx, 9*ny), d.plus(9*nx, 9*ny))
}

// tape draws a tape between two points with its number and figure.
func (c *canvas) tape(a, b point, r Reading, at float64) {
	c.line("tape "+string(r.Mark), a, b)
	p := a.toward(b, at)
	c.balloon(string(r.Mark), p, r.Number)
	if r.Shown != "" {
		c.text("figure", p.plus(24, 5), r.Shown)
	}
}
