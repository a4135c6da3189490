package drawing

import (
	"fmt"
	"html"
	"html/template"
	"slices"
	"strings"
)

// Network is steps with what each comes after, as boxes from left to right: a step stands to the
// right of all that it comes after.
type Network struct {
	Nodes []NetNode
	Title string
}

// NetNode is one step.
type NetNode struct {
	Name, Href, Says string
	State            string // done, now, held, open
	Here             bool   // the one in hand
	After            []int  // places in Nodes
}

// The size of a box, and of its place.
const (
	netWide, netHigh = 116.0, 38.0
	netStep, netRow  = 140.0, 50.0
	netLine          = 17 // letters in a line of a box
)

// levels are how far to the right each stands: one more than the furthest that it comes after.
// What lies in a circle is taken as it comes.
func (w Network) levels() []int {
	level, busy := make([]int, len(w.Nodes)), make([]bool, len(w.Nodes))
	for i := range level {
		level[i] = -1
	}
	var of func(i int) int
	of = func(i int) int {
		if level[i] >= 0 || busy[i] {
			return max(level[i], 0)
		}
		busy[i] = true
		l := 0
		for _, b := range w.Nodes[i].After {
			l = max(l, of(b)+1)
		}
		busy[i], level[i] = false, l
		return l
	}
	for i := range w.Nodes {
		of(i)
	}
	return level
}

// places lays the nodes out: columns by level, and rows so that a chain runs straight, each in the
// highest row in which its stretch is free. Steps without neighbours fill rows of their own below.
func (w Network) places() (at []point, columns, rows int) {
	level := w.levels()
	follows := make([][]int, len(w.Nodes))
	for i, node := range w.Nodes {
		columns = max(columns, level[i]+1)
		for _, b := range node.After {
			follows[b] = append(follows[b], i)
		}
	}
	at = make([]point, len(w.Nodes))
	laid := make([]bool, len(w.Nodes))
	var taken [][]bool // by row and column
	var lay func(i, wish int)
	lay = func(i, wish int) {
		chain := []int{i}
		laid[i] = true
		for grown := true; grown; {
			grown = false
			for _, f := range follows[chain[len(chain)-1]] {
				if !laid[f] {
					laid[f], chain, grown = true, append(chain, f), true
					break
				}
			}
		}
		from, to := max(0, level[chain[0]]-1), level[chain[len(chain)-1]]
		if len(w.Nodes[chain[0]].After) == 0 {
			from = level[chain[0]]
		}
		row := wish
		for ; ; row++ {
			for row >= len(taken) {
				taken = append(taken, make([]bool, columns))
			}
			if !slices.Contains(taken[row][from:to+1], true) {
				break
			}
		}
		for l := from; l <= to; l++ {
			taken[row][l] = true
		}
		for _, k := range chain {
			at[k] = point{float64(level[k]), float64(row)}
		}
		for _, k := range chain {
			for _, f := range follows[k] {
				if !laid[f] {
					lay(f, row)
				}
			}
		}
	}
	var alone []int
	for i, node := range w.Nodes {
		switch {
		case laid[i]:
		case len(node.After) == 0 && len(follows[i]) == 0:
			alone = append(alone, i)
		case len(node.After) == 0:
			lay(i, 0)
		}
	}
	for i := range w.Nodes { // what only a circle leads to
		if !laid[i] && !slices.Contains(alone, i) {
			lay(i, 0)
		}
	}
	rows = len(taken)
	wide := max(columns, min(len(alone), aloneWide))
	for k, i := range alone {
		at[i] = point{float64(k % wide), float64(rows + k/wide)}
	}
	if len(alone) > 0 {
		columns, rows = wide, rows+(len(alone)-1)/wide+1
	}
	return at, columns, rows
}

// aloneWide is how many steps without neighbours stand in a row.
const aloneWide = 6

// wrapped is a name in two lines of a box.
func wrapped(name string) (lines []string) {
	line := ""
	for _, word := range strings.Fields(name) {
		switch {
		case line == "":
			line = word
		case len([]rune(line+" "+word)) <= netLine:
			line += " " + word
		default:
			lines, line = append(lines, line), word
		}
	}
	lines = append(lines, line)
	if len(lines) > 2 {
		lines = lines[:2]
		lines[1] += " …"
	}
	for i, l := range lines {
		if r := []rune(l); len(r) > netLine+2 {
			lines[i] = string(r[:netLine]) + "…"
		}
	}
	return lines
}

// Draw draws it at its natural size, to be scrolled where it is wider than the sheet.
func (w Network) Draw() template.HTML {
	if len(w.Nodes) == 0 {
		return ""
	}
	at, columns, rows := w.places()
	c := &canvas{}
	wide, high := netStep*float64(columns)+4, netRow*float64(rows)+4
	corner := func(i int) point { return point{4 + netStep*at[i].x, 6 + netRow*at[i].y} }
	for i, node := range w.Nodes {
		to := corner(i).plus(0, netHigh/2)
		for _, b := range node.After {
			from := corner(b).plus(netWide, netHigh/2)
			class := "edge"
			if node.Here || w.Nodes[b].Here {
				class += " hot"
			}
			bend := (to.x - from.x) / 2
			c.raw(`<path class="%s" d="M%s %sC%s %s %s %s %s %s"/>`, class, n(from.x), n(from.y), n(from.x+bend), n(from.y), n(to.x-bend), n(to.y), n(to.x), n(to.y))
		}
	}
	for i, node := range w.Nodes {
		p := corner(i)
		class := "step is-" + node.State
		if node.Here {
			class += " is-here"
		}
		if node.State == "now" {
			class += " open-now"
		}
		c.raw(`<a href="%s" class="%s" aria-label="%s"><title>%s</title><rect x="%s" y="%s" width="%s" height="%s" rx="3"/>`, html.EscapeString(node.Href), class, html.EscapeString(node.Name+", "+node.Says), html.EscapeString(node.Name+": "+node.Says), n(p.x), n(p.y), n(netWide), n(netHigh))
		lines := wrapped(node.Name)
		for k, l := range lines {
			c.text("small", p.plus(6, 23+14*(float64(k)-float64(len(lines)-1)/2)), l)
		}
		c.raw(`</a>`)
	}
	return template.HTML(fmt.Sprintf(`<svg class="net" viewBox="0 0 %s %s" width="%s" height="%s" role="group" aria-label="%s">%s</svg>`, n(wide), n(high), n(wide), n(high), html.EscapeString(w.Title), c.b.String()))
}

// Map draws all of it as dots, the one in hand and what is done told apart by shape.
func (w Network) Map() template.HTML {
	if len(w.Nodes) == 0 {
		return ""
	}
	at, columns, rows := w.places()
	c := &canvas{}
	const wide, high = 900.0, 110.0
	for i, node := range w.Nodes {
		p := point{8 + (wide-16)*(at[i].x+0.5)/float64(columns), 8 + (high-16)*(at[i].y+0.5)/float64(rows)}
		switch {
		case node.Here:
			c.circle("dot here", p, 6)
		case node.State == "done":
			c.circle("dot done", p, 1.6)
		default:
			c.circle("dot", p, 2.6)
		}
	}
	return c.svg("net-map", wide, high, fmt.Sprintf("all %d steps, from the first on the left to the last on the right; the large dot is the one in hand", len(w.Nodes)))
}
