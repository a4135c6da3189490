// Package drawing makes SVG of geometry. Colours, weights and type come from the
// stylesheet by class; positions come from here.
package drawing

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strconv"
	"strings"

	"orpine/internal/core/say"
)

// canvas gathers the elements of one drawing.
type canvas struct {
	b      strings.Builder
	turned bool // the level in hand has its display at the other end
}

// point is a place on the sheet, in view box units, y down.
type point struct{ x, y float64 }

func (p point) plus(dx, dy float64) point { return point{p.x + dx, p.y + dy} }

// toward returns the place a share of the way to q.
func (p point) toward(q point, share float64) point {
	return point{p.x + (q.x-p.x)*share, p.y + (q.y-p.y)*share}
}

func n(v float64) string { return strconv.FormatFloat(math.Round(v*10)/10, 'f', -1, 64) }

func (c *canvas) raw(format string, args ...any) { fmt.Fprintf(&c.b, format, args...) }

func (c *canvas) line(class string, a, b point) {
	c.raw(`<line class="%s" x1="%s" y1="%s" x2="%s" y2="%s"/>`, class, n(a.x), n(a.y), n(b.x), n(b.y))
}

// path draws straight strokes through the points, closed for a polygon.
func (c *canvas) path(class string, closed bool, points ...point) {
	var d strings.Builder
	for i, p := range points {
		d.WriteString(map[bool]string{true: "M", false: "L"}[i == 0])
		d.WriteString(n(p.x) + " " + n(p.y))
	}
	if closed {
		d.WriteString("Z")
	}
	c.raw(`<path class="%s" d="%s"/>`, class, d.String())
}

func (c *canvas) polygon(class string, points ...point) { c.path(class, true, points...) }
func (c *canvas) strokes(class string, points ...point) { c.path(class, false, points...) }

func (c *canvas) circle(class string, at point, r float64) {
	c.raw(`<circle class="%s" cx="%s" cy="%s" r="%s"/>`, class, n(at.x), n(at.y), n(r))
}

func (c *canvas) text(class string, at point, text string) {
	c.raw(`<text class="%s" x="%s" y="%s">%s</text>`, class, n(at.x), n(at.y), html.EscapeString(text))
}

// balloon is a numbered circle.
func (c *canvas) balloon(class string, at point, number int) {
	c.circle("balloon "+class, at, 13)
	c.text("balloon-number "+class, at, strconv.Itoa(number))
}

// arrow is a stroke with a head at its end.
func (c *canvas) arrow(class string, from, to point) {
	length := math.Hypot(to.x-from.x, to.y-from.y)
	if length == 0 {
		return
	}
	ux, uy := (to.x-from.x)/length, (to.y-from.y)/length
	back := to.plus(-9*ux, -9*uy)
	c.line(class, from, back)
	c.polygon(class+" head", to, back.plus(-4*uy, 4*ux), back.plus(4*uy, -4*ux))
}

// dimension is a dimension line with ticks and its figure.
func (c *canvas) dimension(a, b point, figure string) {
	c.line("hair roomy", a, b)
	c.line("thin roomy", a.plus(0, -6), a.plus(0, 6))
	c.line("thin roomy", b.plus(0, -6), b.plus(0, 6))
	c.text("figure middle roomy", a.toward(b, 0.5).plus(0, -7), figure)
}

// svg wraps the drawing; label is what it shows, in words.
func (c *canvas) svg(class string, width, height float64, label string) template.HTML {
	return template.HTML(fmt.Sprintf( //nolint:gosec // every text in it was escaped above
		`<svg class="drawing %s" viewBox="0 0 %s %s" role="group" aria-label="%s">%s</svg>`,
		class, n(width), n(height), html.EscapeString(label), c.b.String()))
}

// niceFactor rounds an exaggeration down to 1, 2 or 5 times a power of ten.
func niceFactor(f float64) float64 {
	if f <= 1 || math.IsInf(f, 0) || math.IsNaN(f) {
		return 1
	}
	power := math.Pow(10, math.Floor(math.Log10(f)))
	for _, step := range []float64{5, 2} {
		if f >= step*power {
			return step * power
		}
	}
	return power
}

// fixed writes a figure with so many decimals.

// long is a length in whole millimetres, parted by thousands.
func long(mm float64) say.Text { return say.Length(math.Abs(mm)).Fine(0).Thousands().String() }

// thousands writes a whole figure with commas, as drawings carry it.
func thousands(v float64) string {
	s := strconv.FormatFloat(math.Round(math.Abs(v)), 'f', 0, 64)
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	return s
}

// picture wraps a small drawing that stands beside words which say the same.
func (c *canvas) picture(class string, width, height float64) template.HTML {
	return template.HTML(fmt.Sprintf(`<svg class="drawing %s" viewBox="0 0 %s %s" aria-hidden="true">%s</svg>`, class, n(width), n(height), c.b.String())) //nolint:gosec // made here
}
