package drawing

import (
	"html"
	"html/template"
	"math"
)

// Silhouette draws an aircraft from above, small and filled, to choose it by.
func Silhouette(parts []Part) template.HTML {
	const width, height = 120.0, 84.0
	c := &canvas{}
	left, right := bounds(parts, func(p Part) [][2]float64 { return p.Plan }, 1)
	nose, tail := bounds(parts, func(p Part) [][2]float64 { return p.Plan }, 0)
	if math.IsInf(left, 0) {
		return ""
	}
	scale := min((width-4)/(right-left), (height-4)/(tail-nose))
	for _, p := range parts {
		var outline []point
		for _, q := range p.Plan {
			outline = append(outline, point{width/2 + (q[1]-(left+right)/2)*scale, 2 + (q[0]-nose)*scale})
		}
		if len(outline) > 0 {
			c.polygon("silhouette", outline...)
		}
	}
	return c.picture("small-picture", width, height)
}

// Small draws one part alone from where it is broadest, with the hatching of its state, to
// stand beside its name in a list. Hatchings has to be on the same page.
func Small(p Part) template.HTML {
	const width, height = 112.0, 64.0
	c := &canvas{}
	outline, upright := p.Plan, false
	for _, view := range [][][2]float64{p.Side, p.Front} {
		if breadth(view) > breadth(outline) {
			outline, upright = view, true
		}
	}
	if len(outline) == 0 {
		return ""
	}
	low, high := outline[0], outline[0]
	for _, q := range outline {
		low, high = [2]float64{min(low[0], q[0]), min(low[1], q[1])}, [2]float64{max(high[0], q[0]), max(high[1], q[1])}
	}
	long := [2]float64{max(high[0]-low[0], 1), max(high[1]-low[1], 1)}
	across := long[1] > long[0] && !upright // the long way lies along the line
	if across {
		long = [2]float64{long[1], long[0]}
	}
	scale := min((width-8)/long[0], (height-8)/long[1])
	var points []point
	for _, q := range outline {
		x, y := q[0]-low[0], q[1]-low[1]
		switch {
		case across:
			x, y = q[1]-low[1], q[0]-low[0]
		case upright:
			y = high[1] - q[1]
		}
		points = append(points, point{(width-long[0]*scale)/2 + x*scale, (height-long[1]*scale)/2 + y*scale})
	}
	c.raw(`<g class="part state-%s">`, html.EscapeString(p.State))
	c.region(p.State, points)
	c.raw(`</g>`)
	return c.picture("small-part", width, height)
}

// Hatchings are the patterns that Small refers to, drawn as nothing.
func Hatchings() template.HTML {
	return template.HTML(`<svg class="hatchings" width="0" height="0" aria-hidden="true">` + patterns + `</svg>`) //nolint:gosec // made here
}

// inShares is how many marks tell how far a row is.
const inShares = 24

// Shares draws how far a row is: some holes of each state, in proportion and in the order
// given, each state at least once.
func Shares(states []string, of map[string]int) template.HTML {
	const step, height = 19.0, 24.0
	total := 0
	for _, n := range of {
		total += n
	}
	c := &canvas{}
	x, done, marks := step/2, 0, 0
	for _, state := range states {
		if of[state] == 0 {
			continue
		}
		done += of[state]
		until := min(inShares, total)
		for first := true; first || marks*total < done*until; first = false {
			c.raw(`<g class="hole is-%s" transform="translate(%s %s) scale(0.72)">`, html.EscapeString(state), n(x), n(height/2))
			c.holeMark(state, point{})
			c.raw(`</g>`)
			x, marks = x+step, marks+1
		}
	}
	return c.picture("shares", max(x-step/2, step), height)
}
