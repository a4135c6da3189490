package drawing

import (
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
