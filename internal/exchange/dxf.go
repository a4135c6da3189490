package exchange

import (
	"bytes"
	"fmt"
	"html"
	"slices"

	"orpine/internal/core/section"
)

// DXF writes a drawing in millimetres as DXF of release 12, which every cutter reads: each path
// a POLYLINE on its layer, with its VERTEXes and SEQEND. Coordinates have four decimals.
func DXF(paths []section.Path) []byte {
	var b bytes.Buffer
	pair := func(code int, value string) { fmt.Fprintf(&b, "%3d\r\n%s\r\n", code, value) }
	at := func(p section.Point) {
		pair(10, fmt.Sprintf("%.4f", p.X+0)) // no minus before a zero
		pair(20, fmt.Sprintf("%.4f", p.Y+0))
		pair(30, "0.0")
	}
	var layers []string
	low, high := section.Point{}, section.Point{}
	for i, p := range paths {
		if !slices.Contains(layers, p.Layer) {
			layers = append(layers, p.Layer)
		}
		l, h := section.Bounds(p.Points)
		if i == 0 {
			low, high = l, h
		}
		low, high = section.Point{X: min(low.X, l.X), Y: min(low.Y, l.Y)}, section.Point{X: max(high.X, h.X), Y: max(high.Y, h.Y)}
	}
	pair(0, "SECTION")
	pair(2, "HEADER")
	pair(9, "$ACADVER")
	pair(1, "AC1009")
	pair(9, "$EXTMIN")
	at(low)
	pair(9, "$EXTMAX")
	at(high)
	pair(0, "ENDSEC")
	pair(0, "SECTION")
	pair(2, "TABLES")
	pair(0, "TABLE")
	pair(2, "LTYPE")
	pair(70, "1")
	pair(0, "LTYPE")
	pair(2, "CONTINUOUS")
	pair(70, "0")
	pair(3, "Solid line")
	pair(72, "65")
	pair(73, "0")
	pair(40, "0.0")
	pair(0, "ENDTAB")
	pair(0, "TABLE")
	pair(2, "LAYER")
	pair(70, fmt.Sprint(len(layers)))
	for _, name := range layers {
		pair(0, "LAYER")
		pair(2, name)
		pair(70, "0")
		pair(62, "7")
		pair(6, "CONTINUOUS")
	}
	pair(0, "ENDTAB")
	pair(0, "ENDSEC")
	pair(0, "SECTION")
	pair(2, "ENTITIES")
	for _, p := range paths {
		closed := "0"
		if p.Closed {
			closed = "1"
		}
		pair(0, "POLYLINE")
		pair(8, p.Layer)
		pair(66, "1")
		pair(10, "0.0")
		pair(20, "0.0")
		pair(30, "0.0")
		pair(70, closed)
		for _, v := range p.Points {
			pair(0, "VERTEX")
			pair(8, p.Layer)
			at(v)
		}
		pair(0, "SEQEND")
		pair(8, p.Layer)
	}
	pair(0, "ENDSEC")
	pair(0, "EOF")
	return b.Bytes()
}

// SVG writes a drawing in millimetres at true size: width and height in mm, the same in its
// own coordinates, y turned down. Each layer is a group of that name.
func SVG(paths []section.Path, title string) []byte {
	var all []section.Point
	for _, p := range paths {
		all = append(all, p.Points...)
	}
	low, high := section.Bounds(all)
	const margin = 5
	w, h := high.X-low.X+2*margin, high.Y-low.Y+2*margin
	var b bytes.Buffer
	fmt.Fprintf(&b, "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%.3fmm\" height=\"%.3fmm\" viewBox=\"0 0 %.3f %.3f\">\n<title>%s</title>\n", w, h, w, h, html.EscapeString(title))
	for i, p := range paths {
		if i == 0 || paths[i-1].Layer != p.Layer {
			fmt.Fprintf(&b, "<g id=%q fill=\"none\" stroke=\"black\" stroke-width=\"0.2\">\n", p.Layer)
		}
		tag := "polyline"
		if p.Closed {
			tag = "polygon"
		}
		fmt.Fprintf(&b, "<%s points=\"", tag)
		for k, v := range p.Points {
			if k > 0 {
				b.WriteByte(' ')
			}
			fmt.Fprintf(&b, "%.4f,%.4f", v.X-low.X+margin, high.Y-v.Y+margin)
		}
		b.WriteString("\"/>\n")
		if i == len(paths)-1 || paths[i+1].Layer != p.Layer {
			b.WriteString("</g>\n")
		}
	}
	b.WriteString("</svg>\n")
	return b.Bytes()
}
