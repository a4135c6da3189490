package measuring

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
	"orpine/internal/core/shape"
)

// offered is a figure of a form that follows from the shape of an assembly, with the fields
// of the shape that it rests on.
type offered struct {
	text  string
	rests []string
}

// offers are the fields of a check's form that follow from the shape of an assembly, by
// key.
func (t CheckForm) offers(s shape.Shape, unit quantity.Unit) map[string]offered {
	at := func(mm float64) string { return Typical(mm, unit) }
	span := s.Span()
	ends := []string{"inner", "outer"}
	if s.Form == "fin" {
		ends = []string{"rise"}
	}
	along := func(names ...string) string {
		var lines []string
		for i, name := range names {
			lines = append(lines, name+"; "+at(span*float64(i)/float64(len(names)-1)))
		}
		return strings.Join(lines, "\n")
	}
	if span <= 0 || s.Form == "" {
		return nil
	}
	whole := s.Inner < 0 && s.Outer > 0
	names := []string{"root", "middle", "tip"}
	switch {
	case s.Form == "fin":
		names = []string{"foot", "middle", "top"}
	case whole:
		names = []string{"left end", "middle", "right end"}
	}
	surface := s.Form == "surface" || s.Form == "spar" || s.Form == "fin"
	switch {
	case t.Kind == "level" && whole, t.Kind == "brackets" && whole:
		return map[string]offered{"span": {at(span), ends}}
	case t.Kind == "brackets" && surface:
		return map[string]offered{"span": {at(2 * math.Max(math.Abs(s.Inner), math.Abs(s.Outer))), ends}}
	case t.Kind == "square" && whole:
		return map[string]offered{"half_span": {at(span / 2), ends}, "station": {at(s.X), []string{"x"}}}
	case t.Kind == "upright" && s.Form == "fin":
		return map[string]offered{"height": {at(s.Rise), ends}}
	case t.Kind == "twist" && surface:
		return map[string]offered{"stations": {along(names...), ends}}
	case t.Kind == "straightness" && surface:
		return map[string]offered{"points": {along(names...), ends}}
	case t.Kind == "bench" && surface:
		return map[string]offered{"points": {railsUnder(span, 0.6*s.Chord, at), append([]string{"chord"}, ends...)}}
	}
	return nil
}

// railsUnder are the supports of two rails under a surface: at its ends and in the middle,
// the front rail under its leading edge.
func railsUnder(span, apart float64, at func(mm float64) string) string {
	var lines []string
	for i := range 3 {
		x := span * float64(i) / 2
		lines = append(lines, fmt.Sprintf("F%d; %s; %s", i+1, at(x), at(-apart/2)), fmt.Sprintf("R%d; %s; %s", i+1, at(x), at(apart/2)))
	}
	return strings.Join(lines, "\n")
}

// Typical writes a length as it would be typed without its unit: whole millimetres, or
// inches to a sixteenth.
func Typical(mm float64, unit quantity.Unit) string {
	if unit != quantity.Inch {
		return strings.TrimSuffix(quantity.Length(math.Round(mm)).Text(quantity.Millimetre), " "+quantity.Millimetre.String())
	}
	return strings.TrimSuffix(quantity.Length(math.Round(mm/25.4*16)/16*25.4).Text(quantity.Inch), " "+quantity.Inch.String())
}

// Offered fills in a form from the shape of an assembly.
func (t CheckForm) Offered(s shape.Shape, unit quantity.Unit) map[string]string {
	out := map[string]string{}
	for key, o := range t.offers(s, unit) {
		out[key] = o.text
	}
	return out
}

// Rests tells whether a field that is offered rests on something assumed.
func (t CheckForm) Rests(key string, s shape.Shape, unit quantity.Unit) bool {
	return s.Rests(t.offers(s, unit)[key].rests...)
}

// Assumes says which figures of a filled form were offered, left as they were, and rest on
// something that nobody stated.
func (t CheckForm) Assumes(f Filled, s shape.Shape, unit quantity.Unit) (out []string) {
	offers := t.offers(s, unit)
	for _, field := range t.Fields() {
		o, ok := offers[field.Key]
		if ok && s.Rests(o.rests...) && same(f.Values[field.Key], o.text) {
			label, _, _ := strings.Cut(field.Label, ":")
			label, _, _ = strings.Cut(label, " (")
			out = append(out, "the "+strings.ToLower(label[:1])+label[1:])
		}
	}
	return out
}

// same tells whether two lists are alike but for blanks.
func same(a, b string) bool {
	strip := func(s string) string { return strings.Join(strings.Fields(strings.ReplaceAll(s, ";", " ; ")), " ") }
	return strip(a) == strip(b)
}

// Fresh are the values of a form that is opened for the first time: words and names are
// offered, and what follows from the shape of the part; other figures are the plans'.
func (t CheckForm) Fresh(s shape.Shape, unit quantity.Unit) map[string]string {
	out := t.Offered(s, unit)
	for _, f := range t.Fields() {
		if _, ok := out[f.Key]; !ok && (f.As == "word" || len(f.Columns) == 1 && f.Columns[0] == "name") {
			out[f.Key] = t.Usual[f.Key]
		}
	}
	return out
}

// Like is an example for a field: figures in millimetres are given in the unit of bare
// lengths.
func Like(f form.Field, usual string, unit quantity.Unit) string {
	if unit != quantity.Inch || f.As != "length" && f.As != "place" || usual == "" {
		return usual
	}
	inches := func(text string) string {
		v, err := quantity.ParseLength(text, quantity.Millimetre)
		if err != nil {
			return text
		}
		return Typical(float64(v), unit)
	}
	if len(f.Columns) == 0 {
		return inches(usual)
	}
	var lines []string
	for _, cells := range Cells(usual, len(f.Columns)) {
		for j, cell := range cells {
			if column(f, j).As == "length" && (j > 0 || f.Columns[0] != "name") {
				cells[j] = inches(cell)
			}
		}
		lines = append(lines, strings.Join(cells, "; "))
	}
	return strings.Join(lines, "\n")
}

// Cells are the columns of a list that is typed as lines; a list of one column may be
// parted by semicolons alone.
func Cells(text string, columns int) (out [][]string) {
	if columns == 1 {
		text = strings.ReplaceAll(text, ";", "\n")
	}
	for _, line := range strings.Split(text, "\n") {
		if strings.TrimSpace(line) == "" {
			continue
		}
		cells := strings.Split(line, ";")
		for len(cells) < columns {
			cells = append(cells, "")
		}
		for j := range cells {
			cells[j] = strings.TrimSpace(cells[j])
		}
		out = append(out, cells[:columns])
	}
	return out
}

// ReadsAngles tells whether a kind of check is read as angles.
func ReadsAngles(kind string) bool {
	return slices.Contains([]string{"twist", "level", "incidence", "decalage", "upright", "travel", "dihedral"}, kind)
}

// Rails is what the form of a surface on rails offers: supports along them and stations along
// the surface, from the same end.
type Rails struct {
	Supports []string
	Stations [][2]string // name and place
	Assumed  bool
}

// OfferRails offers them for a shape.
func OfferRails(s shape.Shape, unit quantity.Unit) (r Rails) {
	t := CheckForm{Kind: "twist"}
	for _, cells := range Cells(t.Offered(s, unit)["stations"], 2) {
		r.Stations = append(r.Stations, [2]string{cells[0], cells[1]})
	}
	if n := len(r.Stations); n > 0 {
		r.Supports = []string{r.Stations[0][1], r.Stations[n-1][1]}
	}
	r.Assumed = t.Rests("stations", s, unit)
	return r
}

// AssumedOnRails says whether the stations are those that were offered and rest on something
// that nobody stated.
func AssumedOnRails(s shape.Shape, unit quantity.Unit, stations [][]string) []string {
	var lines []string
	for _, cells := range stations {
		lines = append(lines, strings.Join(cells, "; "))
	}
	return CheckForm{Kind: "twist"}.Assumes(Filled{Values: map[string]string{"stations": strings.Join(lines, "\n")}}, s, unit)
}
