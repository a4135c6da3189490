package paper

import (
	"fmt"
	"math"
	"slices"
	"time"

	"orpine/internal/core/say"
	"orpine/internal/core/section"
	"orpine/internal/exchange"
)

// overlap is how far the tiles of a drawing reach over each other, in mm.
const overlap = 10

// tiling says where a drawing lies on sheets of paper that are put together.
type tiling struct {
	columns, rows int
	w, h          float64 // of what one sheet shows
	low, high     section.Point
}

func tile(low, high section.Point, w, h float64) tiling {
	count := func(length, each float64) int {
		n := 1
		for length > each+float64(n-1)*(each-overlap) {
			n++
		}
		return n
	}
	return tiling{count(high.X-low.X, w), count(high.Y-low.Y, h), w, h, low, high}
}

// at is the corner of the drawing, upper left, that a sheet begins at.
func (t tiling) at(column, row int) section.Point {
	return section.Point{X: t.low.X + float64(column)*(t.w-overlap), Y: t.high.Y - float64(row)*(t.h-overlap)}
}

// Drawing prints a drawing in mm at 1:1 on as many sheets as it takes: a cover with the check
// square, what it is, and how the sheets lie; then the sheets, which overlap by 10 mm and have
// crosses to lay on each other. Of a drawing's layers, SCALE is left to the cover.
func Drawing(size Size, title string, facts []string, paths []section.Path, at time.Time) ([]byte, error) {
	var shown []section.Path
	var all []section.Point
	for _, p := range paths {
		if p.Layer != section.Scale {
			shown = append(shown, p)
			all = append(all, p.Points...)
		}
	}
	d := New(size, true, title, at)
	low, high := section.Bounds(all)
	low, high = section.Point{X: low.X - 2, Y: low.Y - 2}, section.Point{X: high.X + 2, Y: high.Y + 2}
	t := tile(low, high, d.W-2*Margin, d.H-2*Margin-6)
	if t.columns*t.rows > 400 {
		return nil, fmt.Errorf("it would take %d sheets", t.columns*t.rows)
	}
	d.Page()
	d.cover(title, facts, shown, t)
	for row := range t.rows {
		for column := range t.columns {
			d.Page()
			d.sheet(title, shown, t, column, row)
		}
	}
	return d.Bytes()
}

func (d *Doc) cover(title string, facts []string, paths []section.Path, t tiling) {
	d.Text(Margin, Margin+5, Title, title)
	d.CheckSquare(Margin, Margin+14)
	x, y := Margin+section.Square+10.0, Margin+14.0
	w := d.W - Margin - x
	for _, f := range facts {
		y = d.Paragraph(x, y, w, Body, f)
	}
	y = d.Paragraph(x, y+2, w, Body, fmt.Sprintf("%d sheets at 1:1, %d beside each other and %d below. Lay the crosses of neighbours on each other, tape the sheets down, and measure a long line over all of them before you cut.", t.columns*t.rows, t.columns, t.rows))
	y = d.Paragraph(x, y+2, w, Small, "Plans, kit maker and inspector come first. A board is right for the place on the span that it was made for, and no other.")
	// how the sheets lie
	y += 6
	room := d.H - Margin - y
	scale := min(w/(t.high.X-t.low.X), room/(t.high.Y-t.low.Y))
	put := func(p section.Point) section.Point {
		return section.Point{X: x + (p.X-t.low.X)*scale, Y: y + (t.high.Y-p.Y)*scale}
	}
	for _, p := range paths {
		d.Path(each(p.Points, put), p.Closed, 0.25)
	}
	for row := range t.rows {
		for column := range t.columns {
			a := put(t.at(column, row))
			d.Within(x-0.2, y-0.2, (t.high.X-t.low.X)*scale+0.4, (t.high.Y-t.low.Y)*scale+0.4, func() {
				d.Box(a.X, a.Y, t.w*scale, t.h*scale, 0.1)
			})
			d.Text(a.X+1, a.Y+4, Small, name(column, row))
		}
	}
}

func each(points []section.Point, put func(section.Point) section.Point) []section.Point {
	out := make([]section.Point, len(points))
	for i, p := range points {
		out[i] = put(p)
	}
	return out
}

// name is that of a sheet: A1 is the upper left one, B1 right of it.
func name(column, row int) string {
	letters := string(rune('A' + column%26))
	if column >= 26 {
		letters = string(rune('A'+column/26-1)) + letters
	}
	return fmt.Sprintf("%s%d", letters, row+1)
}

func (d *Doc) sheet(title string, paths []section.Path, t tiling, column, row int) {
	corner := t.at(column, row)
	put := func(p section.Point) section.Point {
		return section.Point{X: Margin + p.X - corner.X, Y: Margin + corner.Y - p.Y}
	}
	d.Within(Margin, Margin, t.w, t.h, func() {
		for _, p := range paths {
			weight := 0.15
			if p.Layer == section.Cut || p.Layer == "" {
				weight = 0.35
			}
			d.Path(each(p.Points, put), p.Closed, weight)
		}
	})
	d.crosses(t, column, row)
	foot := d.H - Margin + 1
	d.Text(Margin, foot, Small, fmt.Sprintf("%s · sheet %s of %d · 1:1", title, name(column, row), t.columns*t.rows))
	d.Line(d.W-Margin-50, foot-1, d.W-Margin, foot-1, 0.2) // a bar of 50 mm on every sheet
	d.Line(d.W-Margin-50, foot-2.5, d.W-Margin-50, foot+0.5, 0.2)
	d.Line(d.W-Margin, foot-2.5, d.W-Margin, foot+0.5, 0.2)
	d.TextRight(d.W-Margin-52, foot, Small, say.Plain(say.Written(50).String()))
}

// crosses stand in the middle of every overlap: the same cross is on both sheets.
func (d *Doc) crosses(t tiling, column, row int) {
	cross := func(x, y float64) {
		d.Line(x-3, y, x+3, y, 0.1)
		d.Line(x, y-3, x, y+3, 0.1)
	}
	const half = overlap / 2.0
	left, right, top, bottom := Margin+half, Margin+t.w-half, Margin+half, Margin+t.h-half
	for _, y := range []float64{top, bottom} {
		if column > 0 {
			cross(left, y)
		}
		if column < t.columns-1 {
			cross(right, y)
		}
	}
	for _, x := range []float64{left, right} {
		if row > 0 && (x == left && column == 0 || x == right && column == t.columns-1) {
			cross(x, top)
		}
		if row < t.rows-1 && (x == left && column == 0 || x == right && column == t.columns-1) {
			cross(x, bottom)
		}
	}
}

// Formats are those that a board is written in.
var Formats = []string{"pdf", "svg", "dxf"}

// Board writes an incidence board in a format. The DXF has the layers PROFILE, EDGE and SCALE,
// and BOARD, the line to cut along, where there are cut-outs; SVG and PDF always have that.
// Its words are for the reader.
func Board(b section.Board, format string, size Size, reader say.Reader, at time.Time) ([]byte, error) {
	title := fmt.Sprintf("Incidence board, section %s, chord %s, %s", b.Section.Name, say.Length(b.Chord), say.Angle(b.Angle).Signed())
	paths := b.Drawing()
	switch format {
	case "dxf":
		if len(b.Notches) == 0 {
			paths = slices.DeleteFunc(paths, func(p section.Path) bool { return p.Layer == section.Cut })
		}
		return exchange.DXF(paths), nil
	case "svg":
		return exchange.SVG(paths, reader.Text(title)), nil
	case "pdf":
		facts := []string{
			fmt.Sprintf("The edge is level when the chord line stands %s nose up. It lies %s above the highest point of the section.", say.Angle(b.Angle).Signed(), say.Length(b.Height)),
			"Heavy line: the board, to be cut out. It lies on the upper side, its edge upwards. Fine line: the whole section.",
		}
		for _, n := range b.Notches {
			facts = append(facts, fmt.Sprintf("Clear of the surface by %s from %s to %s aft of the leading edge.", say.Length(n.Depth), say.Length(n.At-n.Width/2), say.Length(n.At+n.Width/2)))
		}
		return Drawing(size, reader.Text(title), reader.Texts(facts), paths, at)
	}
	return nil, fmt.Errorf("“%s” is no format of a board; %s is wanted", format, "dxf, svg or pdf")
}

// Discs prints washers at 1:1, each with its hole and a cross at its middle, after the check square.
func Discs(size Size, outer, inner float64, n int, says string, at time.Time) ([]byte, error) {
	w, _ := size.mm()
	across := max(1, int((w-2*Margin)/(outer+4)))
	var paths []section.Path
	circle := func(x, y, r float64) {
		points := make([]section.Point, 90)
		for i := range points {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / 90)
			points[i] = section.Point{X: x + r*cos, Y: y + r*sin}
		}
		paths = append(paths, section.Path{Closed: true, Points: points})
	}
	for i := range n {
		x, y := float64(i%across)*(outer+4), -float64(i/across)*(outer+4)
		circle(x, y, outer/2)
		circle(x, y, inner/2)
		paths = append(paths, section.Path{Points: []section.Point{{X: x - 2, Y: y}, {X: x + 2, Y: y}}}, section.Path{Points: []section.Point{{X: x, Y: y - 2}, {X: x, Y: y + 2}}})
	}
	return Drawing(size, "Washers", []string{says, fmt.Sprintf("%d of them. Paper gives the outline; a shim's thickness is measured where it goes.", n)}, paths, at)
}
