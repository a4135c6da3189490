package drawing

import (
	"html/template"
	"strings"

	"orpine/internal/core/say"
)

// SectionLayer is a layer in section, the outermost first.
type SectionLayer struct {
	Thickness float64 // mm
	Hole      string  // plain, dimpled or countersunk
	Says      string
}

// Section is a hole in section with the rivet in it, to scale. Lengths in mm.
type Section struct {
	Title                string
	Layers               []SectionLayer
	Diameter             float64
	Flush, Blind         bool
	Length               float64 // of the rivet below its head; 0: not known
	HeadDepth            float64 // of a flush head
	ShopDiameter         float64 // of the shop head to be expected; 0: none
	ShopHeight           float64
	ShopDiameterMin      float64
	ShopHeightMin        float64
	Wrong                bool // something is wrong with the stack
	ShopSays, LengthSays string
}

const (
	sectionWidth  = 560.0
	sectionHeight = 270.0
	sectionMiddle = 225.0
	sectionReach  = 2.2 // how far the layers are drawn on each side, in diameters
)

// Draw draws the section: the layers hatched each its own way, the rivet before it is
// set in broken lines, its shop head as it should come out, and the least that passes.
func (s Section) Draw() template.HTML {
	c := &canvas{}
	c.raw("%s", sectionPatterns)
	grip := 0.0
	for _, l := range s.Layers {
		grip += l.Thickness
	}
	d := max(s.Diameter, 0.1)
	below := max(s.Length-grip, s.ShopHeight, d)
	above := 0.45 * d
	scale := min((sectionHeight-82)/(above+grip+below), 230/(2*sectionReach*d))
	x := func(mm float64) float64 { return sectionMiddle + mm*scale }
	top := 40 + above*scale
	y := func(mm float64) float64 { return top + mm*scale }
	c.text("note", point{8, 18}, s.Title)
	c.layers(s, x, y)
	c.rivet(s, grip, d, x, y)
	left := x(-sectionReach * d)
	c.line("thin", point{left - 14, y(0)}, point{left - 14, y(grip)})
	c.line("thin", point{left - 19, y(0)}, point{left - 9, y(0)})
	c.line("thin", point{left - 19, y(grip)}, point{left - 9, y(grip)})
	c.text("figure end", point{left - 20, (y(0)+y(grip))/2 + 4}, say.Length(grip).Fine(2).String())
	if s.ShopSays != "" {
		for i, line := range strings.Split(s.ShopSays, "; ") {
			c.text("small", point{x(0.9 * d), y(grip) + max(s.ShopHeight*scale, 16) + 14 + 18*float64(i)}, line)
		}
	}
	if s.LengthSays != "" {
		c.text("small end", point{x(-0.62 * d), y(grip+below) - 2}, s.LengthSays)
	}
	return c.svg("section", sectionWidth, sectionHeight, s.Title)
}

const sectionPatterns = `<defs>
<pattern id="cut-a" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line class="cut" x1="0" y1="0" x2="0" y2="7"/></pattern>
<pattern id="cut-b" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)"><line class="cut" x1="0" y1="0" x2="0" y2="7"/></pattern>
</defs>`

// layers draws each layer on both sides of the hole, with what it is.
func (c *canvas) layers(s Section, x, y func(float64) float64) {
	d, depth, label := s.Diameter, 0.0, 0.0
	for i, l := range s.Layers {
		t := l.Thickness
		sink := 0.0
		switch l.Hole {
		case "dimpled":
			sink = s.HeadDepth
		case "countersunk":
			sink = min(s.HeadDepth, t)
		}
		for _, side := range []float64{-1, 1} {
			outer, rim, edge := x(side*sectionReach*d), x(side*0.95*d), x(side*d*0.51)
			shape := []point{{outer, y(depth)}, {rim, y(depth)}, {edge, y(depth + sink)}}
			if l.Hole == "dimpled" {
				shape = append(shape, point{edge, y(depth + sink + t)}, point{rim, y(depth + t)})
			} else {
				shape = append(shape, point{edge, y(depth + t)})
			}
			shape = append(shape, point{outer, y(depth + t)})
			class := "layer"
			if s.Wrong {
				class += " wrong"
			}
			c.polygon(class, shape...)
			c.raw(`<g fill="url(#cut-%s)">`, string(rune('a'+i%2)))
			c.polygon("layer-cut", shape...)
			c.raw(`</g>`)
		}
		label = max(label+16, (y(depth)+y(depth+t))/2+4) // thin layers' names do not lie on one another
		c.text("small", point{x(sectionReach*d) + 8, label}, l.Says)
		depth += t
	}
}

// rivet draws the rivet before and after it is set.
func (c *canvas) rivet(s Section, grip, d float64, x, y func(float64) float64) {
	half := d / 2
	if s.Flush {
		c.polygon("rivet", point{x(-0.95 * d), y(0)}, point{x(0.95 * d), y(0)}, point{x(half), y(s.HeadDepth)}, point{x(half), y(grip)}, point{x(-half), y(grip)}, point{x(-half), y(s.HeadDepth)})
	} else {
		c.raw(`<path class="rivet" d="M%s %sA%s %s 0 0 1 %s %sL%s %sL%s %sL%s %sL%s %sZ"/>`, n(x(-d)), n(y(0)), n(x(1.25*d)-x(0)), n(x(0.9*d)-x(0)), n(x(d)), n(y(0)),
			n(x(half)), n(y(0)), n(x(half)), n(y(grip)), n(x(-half)), n(y(grip)), n(x(-half)), n(y(0)))
	}
	if s.Length > grip {
		c.strokes("ghost", point{x(-half), y(grip)}, point{x(-half), y(s.Length)}, point{x(half), y(s.Length)}, point{x(half), y(grip)})
	}
	switch {
	case s.Blind:
		c.polygon("rivet", point{x(-half), y(grip)}, point{x(-0.8 * d), y(grip + 0.3*d)}, point{x(-half), y(grip + 0.9*d)}, point{x(half), y(grip + 0.9*d)}, point{x(0.8 * d), y(grip + 0.3*d)}, point{x(half), y(grip)})
		c.line("centre", point{sectionMiddle, y(-0.3 * d)}, point{sectionMiddle, y(grip + 1.1*d)})
	case s.ShopDiameter > 0:
		w, h := s.ShopDiameter/2, s.ShopHeight
		c.raw(`<rect class="rivet shop" x="%s" y="%s" width="%s" height="%s" rx="%s"/>`, n(x(-w)), n(y(grip)), n(x(w)-x(-w)), n(y(grip+h)-y(grip)), n((y(grip+h)-y(grip))/3))
		w, h = s.ShopDiameterMin/2, s.ShopHeightMin
		c.strokes("least", point{x(-w), y(grip)}, point{x(-w), y(grip + h)}, point{x(w), y(grip + h)}, point{x(w), y(grip)})
	}
}
