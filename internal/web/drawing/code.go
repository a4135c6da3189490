package drawing

import (
	"fmt"
	"html/template"
	"strings"
)

// Code draws the dots of a two-dimensional code, with the four white ones around it.
func Code(dots [][]bool, says string) template.HTML {
	var b strings.Builder
	side := len(dots) + 8
	fmt.Fprintf(&b, `<svg class="code" viewBox="0 0 %d %d" role="img" aria-label="code: %s"><rect width="%d" height="%d" class="code-ground"/><path class="code-dots" d="`, side, side, template.HTMLEscapeString(says), side, side)
	for y, row := range dots {
		for x, on := range row {
			if on {
				fmt.Fprintf(&b, "M%d %dh1v1h-1z", x+4, y+4)
			}
		}
	}
	b.WriteString(`"/></svg>`)
	return template.HTML(b.String())
}
