package drawing

import (
	"cmp"
	"fmt"
	"html"
	"html/template"
	"math"
	"slices"
)

// Part is one assembly of an aircraft, in airframe axes in millimetres: its outlines
// from above (x aft, y right), from the left side (x aft, z up) and from ahead (y right,
// z up; the left wing is on the right of the sheet, as one sees it).
type Part struct {
	Number int
	Name   string
	State  string // class of its hatching: loose, setup, held, released, permanent, owed
	Says   string // state in words, for the label
	Href   string
	Plan   [][2]float64
	Side   [][2]float64
	Front  [][2]float64
	Ribs   int     // lines across the plan, where the ribs lie
	Dashed [3]bool // seen from above, from the left, from ahead: something of it is assumed
}

const airframeWidth = 840.0

// sideShare is the scale of the side view against that of the plan, so that it
// fits beside the tail.
const sideShare = 0.8

// hatchings are the fills of the states that are hatched. They are attributes of
// the outlines, for a reference from a stylesheet would look in the stylesheet.
var hatchings = map[string]string{"held": "url(#hatch-held)", "released": "url(#hatch-released)", "owed": "url(#hatch-owed)"}

// patterns are the hatchings that tell states apart.
const patterns = `<defs>
<pattern id="hatch-held" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line class="hatch-ink" x1="0" y1="0" x2="0" y2="7"/></pattern>
<pattern id="hatch-released" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)"><line class="hatch-sage" x1="0" y1="0" x2="0" y2="5"/></pattern>
<pattern id="hatch-owed" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><path class="hatch-accent" d="M0 0V6M0 0H6"/></pattern>
</defs>`

// Airframe draws an aircraft from above, nose up, from its left side, and below it from
// ahead, each part a link.
func Airframe(name string, parts []Part) template.HTML {
	c := &canvas{}
	c.raw("%s", patterns)
	left, right := bounds(parts, func(p Part) [][2]float64 { return p.Plan }, 1)
	nose, tail := bounds(parts, func(p Part) [][2]float64 { return p.Plan }, 0)
	bottom, top := bounds(parts, func(p Part) [][2]float64 { return p.Side }, 1)
	low, high := bounds(parts, func(p Part) [][2]float64 { return p.Front }, 1)
	if math.IsInf(left, 0) {
		return ""
	}
	if math.IsInf(bottom, 0) {
		bottom, top = 0, 1
	}
	if math.IsInf(low, 0) {
		low, high = 0, 0
	}
	scale := min((airframeWidth-24)/max(right-left, 1), 430/max(tail-nose, 1))
	middle := airframeWidth / 2
	plan := func(p [2]float64) point { return point{middle + (p[1]-(left+right)/2)*scale, 18 + (p[0]-nose)*scale} }
	bottomEdge := 18 + (tail-nose)*scale
	small := scale * sideShare
	corner := sideCorner(parts, plan, (tail-nose)*small, (top-bottom)*small, bottomEdge)
	side := func(p [2]float64) point { return point{corner.x + (p[0]-nose)*small, corner.y + (top-p[1])*small} }
	below := max(bottomEdge, corner.y+(top-bottom)*small+24) + 40
	c.dimension(point{plan([2]float64{0, left}).x, below - 12}, point{plan([2]float64{0, right}).x, below - 12}, "span "+long(right-left))
	ahead := func(p [2]float64) point {
		return point{middle - (p[0]-(left+right)/2)*scale, below + 12 + (high-p[1])*scale}
	}
	height := below + 12 + (high-low)*scale + 30
	if high > low {
		c.text("note roomy", point{16, height - 8}, "from ahead")
		c.line("hair", point{16, ahead([2]float64{0, low}).y + 3}, point{airframeWidth - 16, ahead([2]float64{0, low}).y + 3})
	} else {
		height = below + 4
	}
	c.text("note roomy", point{corner.x, corner.y + (top-bottom)*small + 20}, "from the left, at 4/5 of the scale")
	c.line("centre", plan([2]float64{nose, 0}).plus(0, -12), plan([2]float64{tail, 0}).plus(0, 12))
	boxes := make([][2]point, len(parts))
	for _, i := range largestFirst(parts) { // what lies inside another is drawn over it
		boxes[i] = c.part(parts[i], plan, side, ahead)
	}
	for i, at := range beside(boxes, corner, corner.plus((tail-nose)*small, (top-bottom)*small+24), below-24) {
		centre := boxes[i][0].toward(boxes[i][1], 0.5)
		if at != centre {
			c.line("hair", centre, at)
			c.circle("dot", centre, 2)
		}
		c.balloon("small", at, parts[i].Number)
	}
	return c.svg("airframe", airframeWidth, height, name+" from above, from the left and from ahead; each part leads to its page")
}

// sideCorner finds room for the side view beside the plan, on the left or the
// right above the tail; where there is none it goes below.
func sideCorner(parts []Part, plan func([2]float64) point, width, height, bottom float64) point {
	const gap = 16
	for _, x := range []float64{gap, airframeWidth - gap - width} {
		for y := bottom - height; y > gap; y -= 10 {
			if !crosses(parts, plan, x-gap, y-gap, x+width+gap, y+height+gap) {
				return point{x, y}
			}
		}
	}
	return point{(airframeWidth - width) / 2, bottom + 2*gap}
}

// crosses tells whether the box around any outline of the plan meets a rectangle.
func crosses(parts []Part, plan func([2]float64) point, x1, y1, x2, y2 float64) bool {
	for _, p := range parts {
		a, b := point{math.Inf(1), math.Inf(1)}, point{math.Inf(-1), math.Inf(-1)}
		for _, q := range p.Plan {
			at := plan(q)
			a, b = point{min(a.x, at.x), min(a.y, at.y)}, point{max(b.x, at.x), max(b.y, at.y)}
		}
		if a.x < x2 && b.x > x1 && a.y < y2 && b.y > y1 {
			return true
		}
	}
	return false
}

// part draws one part as a link in all views, and returns the box around its plan.
func (c *canvas) part(p Part, plan, side, ahead func([2]float64) point) [2]point {
	c.raw(`<a href="%s" class="part state-%s" aria-label="%s"><title>%s</title>`, html.EscapeString(p.Href), p.State,
		html.EscapeString(p.Name+", "+p.Says), html.EscapeString(p.Name+": "+p.Says))
	views := [3][]point{}
	for i, view := range []struct {
		of [][2]float64
		at func([2]float64) point
	}{{p.Plan, plan}, {p.Side, side}, {p.Front, ahead}} {
		for _, q := range view.of {
			views[i] = append(views[i], view.at(q))
		}
		if p.Dashed[i] {
			c.raw(`<g class="assumed">`)
		}
		c.region(p.State, views[i])
		if p.Dashed[i] {
			c.raw(`</g>`)
		}
	}
	outline := views[0]
	if len(outline) == 4 {
		for i := 1; i < p.Ribs; i++ {
			share := float64(i) / float64(p.Ribs)
			c.line("hair", outline[0].toward(outline[1], share), outline[3].toward(outline[2], share))
		}
	}
	c.raw(`</a>`)
	return boxOf(outline)
}

// largestFirst orders parts by the area of the box around their plan.
func largestFirst(parts []Part) []int {
	area := make([]float64, len(parts))
	order := make([]int, len(parts))
	for i, p := range parts {
		order[i] = i
		left, right := bounds(parts[i:i+1], func(Part) [][2]float64 { return p.Plan }, 1)
		nose, tail := bounds(parts[i:i+1], func(Part) [][2]float64 { return p.Plan }, 0)
		area[i] = (right - left) * (tail - nose)
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(area[b], area[a]) })
	return order
}

// boxOf is the box around some points; none lie nowhere.
func boxOf(points []point) [2]point {
	if len(points) == 0 {
		return [2]point{}
	}
	a, b := points[0], points[0]
	for _, q := range points {
		a, b = point{min(a.x, q.x), min(a.y, q.y)}, point{max(b.x, q.x), max(b.y, q.y)}
	}
	return [2]point{a, b}
}

// region is one outline of a part with its hatching on paper.
func (c *canvas) region(state string, outline []point) {
	if len(outline) == 0 {
		return
	}
	c.polygon("region", outline...)
	if fill, ok := hatchings[state]; ok {
		c.raw(`<g fill="%s">`, fill)
		c.polygon("hatching", outline...)
		c.raw(`</g>`)
	}
}

// balloonRoom is what a number needs on every side of its middle.
const balloonRoom = 15.0

// beside finds a place for the number of each part: on it where it is large, else beside
// it on free paper, never on a small part, on the side view (from a to b) or on another
// number.
func beside(boxes [][2]point, a, b point, bottom float64) []point {
	out := make([]point, 0, len(boxes))
	large := func(box [2]point) bool {
		return box[1].x-box[0].x > 3*balloonRoom && box[1].y-box[0].y > 2.4*balloonRoom
	}
	free := func(at point, own int) bool {
		if at.x < balloonRoom || at.x > airframeWidth-balloonRoom || at.y < balloonRoom || at.y > bottom-balloonRoom {
			return false
		}
		if within(at, [2]point{a, b}, balloonRoom) {
			return false
		}
		for _, other := range out {
			if math.Hypot(at.x-other.x, at.y-other.y) < 2*balloonRoom {
				return false
			}
		}
		for i, box := range boxes {
			if box != ([2]point{}) && within(at, box, balloonRoom-3) && !(large(box) && i == own) {
				return false
			}
		}
		return true
	}
	for i, box := range boxes {
		centre := box[0].toward(box[1], 0.5)
		out = append(out, place(centre, func(at point) bool { return (at != centre || large(box)) && free(at, i) }))
	}
	return out
}

// place is the nearest free place about another, or that one itself.
func place(centre point, free func(point) bool) point {
	for r := 0.0; r < 240; r += 8 {
		for step := range 24 {
			sin, cos := math.Sincos(float64(step) * math.Pi / 12)
			if at := centre.plus(r*cos, r*sin); free(at) {
				return at
			}
		}
	}
	return centre
}

// within tells whether a place lies in a box or so near to it.
func within(at point, box [2]point, near float64) bool {
	return at.x > box[0].x-near && at.x < box[1].x+near && at.y > box[0].y-near && at.y < box[1].y+near
}

// bounds is the least and greatest of one coordinate of all outlines.
func bounds(parts []Part, outline func(Part) [][2]float64, axis int) (least, greatest float64) {
	least, greatest = math.Inf(1), math.Inf(-1)
	for _, p := range parts {
		for _, q := range outline(p) {
			least, greatest = min(least, q[axis]), max(greatest, q[axis])
		}
	}
	return least, greatest
}

// Swatch is a small sample of a state's hatching, for the parts list.
func Swatch(state string) template.HTML {
	c := &canvas{}
	c.region(state, []point{{2, 2}, {26, 2}, {26, 16}, {2, 16}})
	return template.HTML(fmt.Sprintf(`<svg class="drawing swatch part state-%s" viewBox="0 0 28 18" aria-hidden="true">%s</svg>`, html.EscapeString(state), c.b.String())) //nolint:gosec // escaped
}
