package drawing

import "html/template"

// Share draws a part of a whole as a bar on a rule that is ticked in fifths. It says nothing that does not stand
// beside it in figures.
func Share(part float64) template.HTML {
	c := &canvas{}
	c.raw(`<svg class="drawing share" viewBox="0 0 200 12" aria-hidden="true">`)
	c.polygon("interval", point{0, 2}, point{part * 200, 2}, point{part * 200, 10}, point{0, 10})
	c.raw(`<path class="thin" d="M0 5v6h200v-6M40 8v3M80 8v3M120 8v3M160 8v3"/></svg>`)
	return template.HTML(c.b.String()) //nolint:gosec // nothing of it was typed
}
