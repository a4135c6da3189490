package paper

import (
	"encoding/xml"
	"math"
	"strconv"
	"strings"

	"orpine/internal/core/section"
)

// Drawn puts one of this program's own drawings, SVG of lines, straight paths, circles,
// rectangles and texts, into a box, in black on white, and returns how high it is there.
func (d *Doc) Drawn(svg string, x, y, w, h float64) float64 {
	in := xml.NewDecoder(strings.NewReader(svg))
	in.Strict = false
	s := &stylus{doc: d, x: x, y: y}
	hidden := 0
	var text *xml.StartElement
	var said strings.Builder
	for {
		token, err := in.Token()
		if err != nil {
			return s.height
		}
		switch t := token.(type) {
		case xml.StartElement:
			if hidden > 0 || t.Name.Local == "defs" || t.Name.Local == "pattern" || t.Name.Local == "title" {
				hidden++
				continue
			}
			if t.Name.Local == "text" {
				text = new(t.Copy())
				said.Reset()
				continue
			}
			s.begin(t, w, h)
		case xml.EndElement:
			switch {
			case hidden > 0:
				hidden--
			case t.Name.Local == "text" && text != nil:
				s.text(*text, strings.TrimSpace(said.String()))
				text = nil
			}
		case xml.CharData:
			if text != nil && hidden == 0 {
				said.Write(t)
			}
		}
	}
}

// stylus draws at a scale.
type stylus struct {
	doc           *Doc
	x, y          float64
	left, top     float64 // of the view box
	scale, height float64
}

func attribute(e xml.StartElement, name string) string {
	for _, a := range e.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

func number(text string) float64 {
	v, err := strconv.ParseFloat(strings.TrimSuffix(text, "%"), 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		return 0
	}
	return v
}

func (s *stylus) put(x, y float64) section.Point {
	return section.Point{X: s.x + (x-s.left)*s.scale, Y: s.y + (y-s.top)*s.scale}
}

func has(classes string, any ...string) bool {
	for _, c := range strings.Fields(classes) {
		for _, a := range any {
			if c == a {
				return true
			}
		}
	}
	return false
}

// weight is how heavy a line of a class is, in mm.
func weight(class string) float64 {
	switch {
	case has(class, "hair", "centre", "ghost", "reach-line"):
		return 0.1
	case has(class, "edge", "bracket", "needle", "pin", "here", "current"):
		return 0.5
	case has(class, "thin", "station"):
		return 0.18
	}
	return 0.25
}

func (s *stylus) begin(e xml.StartElement, w, h float64) {
	at := func(name string) float64 { return number(attribute(e, name)) }
	class := attribute(e, "class")
	switch e.Name.Local {
	case "svg":
		box := strings.Fields(attribute(e, "viewBox"))
		if len(box) != 4 || number(box[2]) <= 0 || number(box[3]) <= 0 {
			s.scale = 0
			return
		}
		s.left, s.top = number(box[0]), number(box[1])
		s.scale = math.Min(w/number(box[2]), h/number(box[3]))
		s.height = s.scale * number(box[3])
	case "line":
		a, b := s.put(at("x1"), at("y1")), s.put(at("x2"), at("y2"))
		if has(class, "reach-line") {
			return
		}
		if has(class, "true", "centre", "ghost", "todo", "dashed", "next") {
			s.doc.Dashed(a.X, a.Y, b.X, b.Y, weight(class))
			return
		}
		s.doc.Line(a.X, a.Y, b.X, b.Y, weight(class))
	case "path":
		s.path(attribute(e, "d"), class)
	case "circle":
		if has(class, "reach") {
			return
		}
		c := s.put(at("cx"), at("cy"))
		s.doc.pdf.SetFillColor(255, 255, 255)
		s.doc.pdf.SetLineWidth(weight(class))
		style := "FD"
		if has(class, "dot", "disc", "flag", "pointer") {
			s.doc.pdf.SetFillColor(0, 0, 0)
		}
		s.doc.pdf.Circle(c.X, c.Y, at("r")*s.scale, style)
	case "rect":
		if has(class, "point-area", "reach", "interval") {
			return
		}
		a := s.put(at("x"), at("y"))
		s.doc.pdf.SetFillColor(255, 255, 255)
		s.doc.pdf.SetLineWidth(weight(class))
		s.doc.pdf.Rect(a.X, a.Y, at("width")*s.scale, at("height")*s.scale, "FD")
	}
}

// path draws straight strokes: M, L and Z. A closed one hides what lies behind it.
func (s *stylus) path(d, class string) {
	if has(class, "interval", "reach", "reach-line") {
		return
	}
	closed := strings.HasSuffix(strings.TrimSpace(d), "Z")
	var points []section.Point
	for _, part := range strings.FieldsFunc(d, func(r rune) bool { return r == 'M' || r == 'L' || r == 'Z' }) {
		pair := strings.FieldsFunc(part, func(r rune) bool { return r == ' ' || r == ',' })
		if len(pair) == 2 {
			points = append(points, s.put(number(pair[0]), number(pair[1])))
		}
	}
	if len(points) < 2 {
		return
	}
	if closed && has(class, "head", "needle", "flag", "pointer") {
		s.doc.Fill(points)
		return
	}
	dashed := has(class, "true", "centre", "ghost", "todo", "dashed", "next")
	if dashed {
		s.doc.pdf.SetDashPattern([]float64{1.6, 1.2}, 0)
	}
	s.doc.pdf.SetFillColor(255, 255, 255)
	s.doc.pdf.SetLineWidth(weight(class))
	s.doc.pdf.MoveTo(points[0].X, points[0].Y)
	for _, p := range points[1:] {
		s.doc.pdf.LineTo(p.X, p.Y)
	}
	style := "D"
	if closed {
		s.doc.pdf.ClosePath()
		if style = "FD"; has(class, "ghost", "fin-ghost", "thin", "hair") {
			style = "D"
		}
	}
	s.doc.pdf.DrawPath(style)
	if dashed {
		s.doc.pdf.SetDashPattern(nil, 0)
	}
}

func (s *stylus) text(e xml.StartElement, said string) {
	class := attribute(e, "class")
	at := s.put(number(attribute(e, "x")), number(attribute(e, "y")))
	style := Style{Points: min(max(13*s.scale/mmPerPoint, 5.5), 9), Bold: has(class, "how", "balloon-number")}
	if s.scale == 0 || said == "" {
		return
	}
	switch {
	case has(class, "balloon-number"):
		s.doc.TextMiddle(at.X, at.Y+0.35*style.Points*mmPerPoint, style, said)
	case has(class, "middle"):
		s.doc.TextMiddle(at.X, at.Y, style, said)
	case has(class, "end"):
		s.doc.TextRight(at.X, at.Y, style, said)
	default:
		s.doc.Text(at.X, at.Y, style, said)
	}
}
