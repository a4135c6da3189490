package drawing

import (
	"fmt"
	"html"
	"html/template"
	"math"
)

// Part is one assembly of an aircraft, in airframe axes in millimetres: its
// outlines from above (x aft, y right) and from the left side (x aft, z up).
type Part struct {
	Number int
	Name   string
	State  string // class of its hatching: loose, setup, held, released, permanent, owed
	Says   string // state in words, for the label
	Href   string
	Plan   [][2]float64
	Side   [][2]float64
	Ribs   int // lines across the plan, where the ribs lie
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

// Airframe draws an aircraft from above, nose up, and from its left side, each
// part a link.
func Airframe(name string, parts []Part) template.HTML {
	c := &canvas{}
	c.raw("%s", patterns)
	left, right := bounds(parts, func(p Part) [][2]float64 { return p.Plan }, 1)
	nose, tail := bounds(parts, func(p Part) [][2]float64 { return p.Plan }, 0)
	bottom, top := bounds(parts, func(p Part) [][2]float64 { return p.Side }, 1)
	if math.IsInf(left, 0) {
		left, right, nose, tail, bottom, top = -1, 1, 0, 1, 0, 1
	}
	scale := min((airframeWidth-24)/(right-left), 430/(tail-nose))
	middle := airframeWidth / 2
	plan := func(p [2]float64) point { return point{middle + (p[1]-(left+right)/2)*scale, 18 + (p[0]-nose)*scale} }
	bottomEdge := 18 + (tail-nose)*scale
	small := scale * sideShare
	corner := sideCorner(parts, plan, (tail-nose)*small, (top-bottom)*small, bottomEdge)
	side := func(p [2]float64) point { return point{corner.x + (p[0]-nose)*small, corner.y + (top-p[1])*small} }
	height := max(bottomEdge, corner.y+(top-bottom)*small) + 46
	c.text("note roomy", point{corner.x, corner.y + (top-bottom)*small + 20}, "from the left, at 4/5 of the scale")
	c.line("centre", plan([2]float64{nose, 0}).plus(0, -12), plan([2]float64{tail, 0}).plus(0, 12))
	var balloons []point
	for _, p := range parts {
		balloons = append(balloons, c.part(p, plan, side))
	}
	for i, at := range spread(balloons) {
		if at != balloons[i] {
			c.line("hair", balloons[i], at)
		}
		c.balloon("small", at, parts[i].Number)
	}
	c.dimension(point{plan([2]float64{0, left}).x, height - 12}, point{plan([2]float64{0, right}).x, height - 12}, "span "+thousands(right-left))
	return c.svg("airframe", airframeWidth, height, name+" from above and from the left; each part leads to its page")
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

// part draws one part as a link in both views, and returns where its number goes.
func (c *canvas) part(p Part, plan, side func([2]float64) point) point {
	c.raw(`<a href="%s" class="part state-%s" aria-label="%s"><title>%s</title>`, html.EscapeString(p.Href), p.State,
		html.EscapeString(p.Name+", "+p.Says), html.EscapeString(p.Name+": "+p.Says))
	var outline []point
	for _, q := range p.Plan {
		outline = append(outline, plan(q))
	}
	c.region(p.State, outline)
	if len(outline) == 4 {
		for i := 1; i < p.Ribs; i++ {
			share := float64(i) / float64(p.Ribs)
			c.line("hair", outline[0].toward(outline[1], share), outline[3].toward(outline[2], share))
		}
	}
	var profile []point
	for _, q := range p.Side {
		profile = append(profile, side(q))
	}
	c.region(p.State, profile)
	c.raw(`</a>`)
	centre := point{}
	for _, q := range outline {
		centre = centre.plus(q.x/float64(len(outline)), q.y/float64(len(outline)))
	}
	return centre
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

// spread moves numbers apart where they would lie on one another.
func spread(at []point) []point {
	const apart = 30
	out := append([]point{}, at...)
	for range 60 {
		moved := false
		for i := range out {
			for j := range i {
				dx, dy := out[i].x-out[j].x, out[i].y-out[j].y
				d := math.Hypot(dx, dy)
				if d >= apart {
					continue
				}
				if d == 0 {
					dx, d = 1, 1
				}
				push := (apart - d) / 2 / d
				out[i], out[j] = out[i].plus(dx*push, dy*push), out[j].plus(-dx*push, -dy*push)
				moved = true
			}
		}
		if !moved {
			break
		}
	}
	return out
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
