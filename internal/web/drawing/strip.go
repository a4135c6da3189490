package drawing

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"slices"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

// StripHole is a hole as the map shows it.
type StripHole struct {
	Number        int
	Along, Across float64 // mm
	State         string  // open, pilot, sized and so on
	Over          bool    // drilled oversize, whatever became of it
	Says          string  // state in words
	Href          string
	Here          bool // the one in hand
	Pose          bool // reached only in another pose
}

// Strip is a row of holes, to be walked: lines of them, one below the other.
type Strip struct {
	Title string
	Holes []StripHole
	Plane bool // they run round or cover an area: they are drawn where they lie
}

const (
	perStrip   = 25
	stripStep  = 62.0 // from one line to the next
	stripLeft  = 30.0
	stripRight = 26.0
	leastGap   = 26.0 // between neighbours that a finger or axe can tell apart
)

// Draw draws the strips to one scale; where holes lie too close for that, evenly.
func (s Strip) Draw() template.HTML {
	if s.Plane {
		return s.plane()
	}
	c := &canvas{}
	lines := s.lines()
	span, gap := 1.0, math.Inf(1)
	for _, line := range lines {
		span = max(span, line[len(line)-1].Along-line[0].Along)
		for i := 1; i < len(line); i++ {
			gap = min(gap, line[i].Along-line[i-1].Along)
		}
	}
	width := figureWidth - stripLeft - stripRight
	scale := width / span
	even := gap*scale < leastGap
	y := 44.0
	for _, line := range lines {
		step := width / float64(max(perStrip-1, len(line)-1))
		at := func(i int) point {
			if even {
				return point{stripLeft + float64(i)*step, y}
			}
			return point{stripLeft + (line[i].Along-line[0].Along)*scale, y}
		}
		c.line("hair", at(0).plus(-18, 0), at(len(line)-1).plus(18, 0))
		c.text("small", point{stripLeft - 20, y - 19}, "at "+say.Length(line[0].Along).Fine(0).String())
		for i, h := range line {
			c.hole(h, at(i))
		}
		y += stripStep
	}
	if even && !math.IsInf(gap, 1) {
		c.text("note", point{stripLeft - 20, y - 18}, "drawn evenly; the holes lie closer in places")
		y += 16
	}
	return c.svg("strip", figureWidth, y-14, s.Title)
}

// mostHigh is how high holes that run round are drawn at most.
const mostHigh = 460.0

// plane draws the holes where they lie, as large as a finger needs and the sheet allows.
func (s Strip) plane() template.HTML {
	c := &canvas{}
	least, most := [2]float64{math.Inf(1), math.Inf(1)}, [2]float64{math.Inf(-1), math.Inf(-1)}
	gap := math.Inf(1)
	for i, h := range s.Holes {
		least, most = [2]float64{min(least[0], h.Along), min(least[1], h.Across)}, [2]float64{max(most[0], h.Along), max(most[1], h.Across)}
		if i > 0 {
			gap = min(gap, math.Hypot(h.Along-s.Holes[i-1].Along, h.Across-s.Holes[i-1].Across))
		}
	}
	wide, high := max(most[0]-least[0], 1), max(most[1]-least[1], 1)
	scale := min((figureWidth-2*stripLeft)/wide, mostHigh/high)
	if gap > 0 {
		scale = min(scale, max(1.6*leastGap/gap, 180/high))
	}
	left := (figureWidth - wide*scale) / 2
	var path []point
	for _, h := range s.Holes {
		path = append(path, point{left + (h.Along-least[0])*scale, 34 + (h.Across-least[1])*scale})
	}
	c.strokes("hair", path...)
	for i, h := range s.Holes {
		c.hole(h, path[i])
	}
	return c.svg("strip", figureWidth, high*scale+68, s.Title)
}

// inNear is how many holes a phone shows beside one another.
const inNear = 9

// Near draws the hole in hand with those beside it, wide enough for a thumb.
func (s Strip) Near() template.HTML {
	const step, height = 40.0, 62.0
	here := max(0, slices.IndexFunc(s.Holes, func(h StripHole) bool { return h.Here }))
	from := max(0, min(here-inNear/2, len(s.Holes)-inNear))
	holes := s.Holes[from:min(from+inNear, len(s.Holes))]
	c := &canvas{}
	c.line("hair", point{4, 28}, point{step*inNear - 4, 28})
	for i, h := range holes {
		at := point{step/2 + float64(i)*step, 28}
		c.hole(h, at)
		if !h.Here && h.Number%5 != 0 && h.Number != 1 {
			c.text("figure middle small", at.plus(0, 26), fmt.Sprint(h.Number))
		}
	}
	return c.svg("near", step*inNear, height, "the holes beside the one in hand")
}

// lines are the holes of each line of the pattern, cut into strips.
func (s Strip) lines() [][]StripHole {
	var out [][]StripHole
	for i, h := range s.Holes {
		fresh := i == 0 || h.Across != s.Holes[i-1].Across || h.Along < s.Holes[i-1].Along || len(out[len(out)-1]) == perStrip
		if fresh {
			out = append(out, nil)
		}
		out[len(out)-1] = append(out[len(out)-1], h)
	}
	return out
}

// hole draws one hole as a link; its state is told by its shape.
func (c *canvas) hole(h StripHole, at point) {
	here := ` tabindex="-1"` // Tab stops at the hole in hand alone; the arrows walk
	if h.Here {
		here = ` aria-current="true"`
	}
	c.raw(`<a href="%s" class="hole is-%s" aria-label="hole %d, %s"%s>`, html.EscapeString(h.Href), h.State, h.Number, html.EscapeString(h.Says), here)
	c.raw(`<rect class="reach" x="%s" y="%s" width="28" height="44"/>`, n(at.x-14), n(at.y-16))
	c.holeMark(h.State, at)
	if h.Over && h.State != "oversize" {
		c.circle("over", at, 11.5)
	}
	if h.Pose {
		c.strokes("posed", at.plus(-5, 12), at.plus(0, 15), at.plus(5, 12))
	}
	if h.Here {
		c.polygon("pointer", at.plus(0, -12), at.plus(-5, -20), at.plus(5, -20))
	}
	if h.Here || h.Number%5 == 0 || h.Number == 1 {
		c.text("figure middle small", at.plus(0, 26), fmt.Sprint(h.Number))
	}
	c.raw(`</a>`)
}

// holeMark is the shape of a state.
func (c *canvas) holeMark(state string, at point) {
	switch state {
	case "open":
		c.circle("ring dashed", at, 9)
		c.strokes("flag", at.plus(0, 4), at.plus(0, -9), at.plus(7, -5.5), at.plus(0, -2))
	case "pilot":
		c.circle("dot", at, 3)
	case "sized":
		c.circle("ring", at, 8)
	case "deburred":
		c.circle("ring", at, 8)
		c.strokes("pin", at.plus(-4, 0), at.plus(4, 0))
	case "formed":
		c.circle("ring", at, 8)
		c.strokes("pin", at.plus(-5, -3), at.plus(0, 4), at.plus(5, -3))
	case "cleaned":
		c.circle("ring", at, 8)
		c.circle("ring", at, 4)
	case "primed":
		c.circle("ring", at, 8)
		c.circle("ring", at, 5)
		c.circle("dot", at, 2.5)
	case "pinned":
		c.circle("ring", at, 8)
		c.strokes("pin", at.plus(-5, -5), at.plus(5, -5), at.plus(0, -5), at.plus(0, 7))
	case "set":
		c.circle("disc", at, 9)
	case "doubtful":
		c.circle("ring", at, 9)
		c.circle("dot", at, 5)
	case "accepted":
		c.circle("disc", at, 9)
		c.circle("ring", at, 12)
	case "bad":
		c.circle("ring", at, 9)
		c.strokes("cross", at.plus(-6, -6), at.plus(6, 6))
		c.strokes("cross", at.plus(-6, 6), at.plus(6, -6))
	case "drilled out":
		c.circle("ring", at, 9)
		c.strokes("cross", at.plus(-6, 6), at.plus(6, -6))
	case "oversize":
		c.circle("ring", at, 8)
		c.circle("over", at, 11.5)
	case "abandoned":
		c.circle("shut", at, 8)
		c.strokes("ring", at.plus(-6, 6), at.plus(6, -6))
	}
}

// HoleSample is the shape of a state, for the legend.
func HoleSample(state string) template.HTML {
	c := &canvas{}
	c.raw(`<g class="hole is-%s">`, html.EscapeString(state))
	c.holeMark(state, point{14, 14})
	c.raw(`</g>`)
	return template.HTML(fmt.Sprintf(`<svg class="drawing sample" viewBox="0 0 28 28" aria-hidden="true">%s</svg>`, c.b.String())) //nolint:gosec // escaped
}

// RowOn is a row as it lies on its assembly.
type RowOn struct {
	Number   int
	Name     string
	Href     string
	View     string // above, left or ahead; "" is above
	New      bool   // it is being laid out
	From, To [2]float64
	Holes    []StripHole
}

// Broadest is the view that shows the most of the part: above, left or ahead.
func (p Part) Broadest() string {
	outlines := map[string][][2]float64{"above": p.Plan, "left": p.Side, "ahead": p.Front}
	broadest := "above"
	for _, view := range rowViews {
		if breadth(outlines[view]) > breadth(outlines[broadest]) {
			broadest = view
		}
	}
	return broadest
}

// RowsOn draws the rows of an assembly on its outline, its long side across the sheet:
// from above where it has rows that are seen so, and from the left. Without rows its
// broader view is drawn, to read stations from.
func RowsOn(name string, p Part, rows []RowOn, ruler float64) template.HTML {
	c := &canvas{}
	y := 30.0
	outlines := map[string][][2]float64{"above": p.Plan, "left": p.Side, "ahead": p.Front}
	broadest := p.Broadest()
	for _, view := range rowViews {
		var on []RowOn
		for _, r := range rows {
			if (r.View == view || r.View == "" && view == "above") && r.From != r.To {
				on = append(on, r)
			}
		}
		outline := outlines[view]
		if len(outline) == 0 || len(on) == 0 && (len(rows) > 0 || view != broadest) {
			continue
		}
		y = c.rowsIn(newRowView(outline, on, view, y), outline, on, y, ruler)
	}
	return c.svg("rows-on", figureWidth, y, name+" with its rows")
}

// breadth is the area of the box around an outline.
func breadth(outline [][2]float64) float64 {
	if len(outline) == 0 {
		return 0
	}
	v := newRowView(outline, nil, "above", 0)
	return (v.to[0] - v.from[0]) * (v.to[1] - v.from[1])
}

// rowView is how a view of an assembly lies on the sheet. Of each place the first figure
// is the station, the second the butt line or the waterline.
type rowView struct {
	from, to [2]float64 // bounds
	across   bool       // the second figure runs along the sheet
	up       float64    // -1: the second figure is a height
	scale    float64
	top      float64
	view     string
}

// rowViews are the views in which rows are drawn, in order.
var rowViews = []string{"above", "left", "ahead"}

func newRowView(outline [][2]float64, rows []RowOn, view string, top float64) rowView {
	v := rowView{from: [2]float64{math.Inf(1), math.Inf(1)}, to: [2]float64{math.Inf(-1), math.Inf(-1)}, up: 1, top: top, view: view}
	reach := func(q [2]float64) {
		for i := range q {
			v.from[i], v.to[i] = min(v.from[i], q[i]), max(v.to[i], q[i])
		}
	}
	for _, q := range outline {
		reach(q)
	}
	for _, r := range rows {
		reach(r.From)
		reach(r.To)
	}
	if view != "above" {
		v.up = -1
	}
	long, high := v.to[0]-v.from[0], v.to[1]-v.from[1]
	if v.across = high > long && view == "above"; v.across {
		long, high = high, long
	}
	v.scale = min((figureWidth-90)/max(long, 1), 300/max(high, 1))
	return v
}

// at is where a place lies on the sheet.
func (v rowView) at(q [2]float64) point {
	if v.across {
		return point{40 + (q[1]-v.from[1])*v.scale, v.top + (q[0]-v.from[0])*v.scale}
	}
	y := q[1] - v.from[1]
	if v.up < 0 {
		y = v.to[1] - q[1]
	}
	return point{40 + (q[0]-v.from[0])*v.scale, v.top + y*v.scale}
}

// says names the view.
func (v rowView) says() string {
	switch {
	case v.view == "left":
		return "from the left"
	case v.view == "ahead":
		return "from ahead"
	case v.across:
		return "from above, nose up"
	}
	return "from above, nose left"
}

// rowsIn draws one view and returns where the next begins.
func (c *canvas) rowsIn(v rowView, outline [][2]float64, rows []RowOn, y, ruler float64) float64 {
	var shape []point
	for _, q := range outline {
		shape = append(shape, v.at(q))
	}
	c.text("note", point{8, y - 12}, v.says())
	c.polygon("region surface", shape...)
	c.pointing(v)
	for _, r := range rows {
		if r.New {
			c.newRow(r, v)
			continue
		}
		c.raw(`<a href="%s" class="row-on" aria-label="%s">`, html.EscapeString(r.Href), html.EscapeString(r.Name))
		from, to := v.at(r.From), v.at(r.To)
		c.line("reach-line", from, to)
		c.line("hair", from, to)
		c.ticks(r, from, to, v.scale)
		c.balloon("small", to.plus(20, 0), r.Number)
		c.raw(`</a>`)
	}
	axis, figure := 0, "sta "
	if v.across || v.view == "ahead" {
		figure = "bl "
	}
	if v.across {
		axis = 1
	}
	high := v.to[1-axis] - v.from[1-axis]
	bottom := v.top + high*v.scale + 14
	c.axis(v.from[axis], v.to[axis], ruler, figure, func(mm float64) point { return point{40 + (mm-v.from[axis])*v.scale, bottom} })
	return y + high*v.scale + 64
}

// pointing is the area of a view that one points at, with how a place on it is told.
func (c *canvas) pointing(v rowView) {
	a, b := v.at(v.from), v.at(v.to)
	left, top := min(a.x, b.x)-14, min(a.y, b.y)-14
	c.raw(`<rect class="point-area" x="%s" y="%s" width="%s" height="%s" data-view="%s" data-scale="%g" data-left="40" data-top="%g" data-from0="%g" data-from1="%g" data-to1="%g" data-across="%t" data-up="%g"/>`,
		n(left), n(top), n(math.Abs(a.x-b.x)+28), n(math.Abs(a.y-b.y)+28), v.view, v.scale, v.top, v.from[0], v.from[1], v.to[1], v.across, v.up)
}

// newRow draws a row as it will be, its first and its last hole ringed.
func (c *canvas) newRow(r RowOn, v rowView) {
	from, to := v.at(r.From), v.at(r.To)
	r.From, r.To = [2]float64{}, [2]float64{}
	c.raw(`<g class="new-row">`)
	places := c.ticks(r, from, to, v.scale)
	for i, p := range places {
		if i == 0 || i == len(places)-1 {
			c.circle("ring-end", p, 8)
		}
	}
	c.raw(`</g>`)
}

// axis draws a tick and a figure at round stations or butt lines; a figure counts so many
// millimetres.
func (c *canvas) axis(fromMM, toMM, ruler float64, figure string, atMM func(mm float64) point) {
	from, to := fromMM/ruler, toMM/ruler
	at := func(v float64) point { return atMM(v * ruler) }
	step := niceFactor((to - from) / 4)
	for room := at(to).x - at(from).x; step < to-from && step/(to-from)*room < 84; {
		step *= 2 // so that the figures do not lie on one another
	}
	c.line("hair", at(from), at(to))
	for mm := math.Ceil(from/step) * step; mm <= to+1e-6; mm += step {
		c.line("thin", at(mm).plus(0, -4), at(mm).plus(0, 4))
		c.text("figure middle small", at(mm).plus(0, 18), figure+quantity.Fixed(mm, 0))
	}
}

// ticks draws the holes of a row on its line: set ones full, the others open.
func (c *canvas) ticks(r RowOn, from, to point, scale float64) (places []point) {
	length := math.Hypot(to.x-from.x, to.y-from.y)
	if length == 0 {
		return nil
	}
	ux, uy := (to.x-from.x)/length, (to.y-from.y)/length
	for _, h := range r.Holes {
		p := from.plus((h.Along*ux-h.Across*uy)*scale, (h.Along*uy+h.Across*ux)*scale)
		places = append(places, p)
		switch h.State {
		case "set":
			c.circle("tick disc", p, 2.4)
		case "bad":
			c.strokes("cross", p.plus(-4, -4), p.plus(4, 4))
			c.strokes("cross", p.plus(-4, 4), p.plus(4, -4))
		case "open":
			c.strokes("flag", p, p.plus(0, -8), p.plus(5, -6), p.plus(0, -4))
		default:
			c.circle("tick ring", p, 1.8)
		}
	}
	return places
}
