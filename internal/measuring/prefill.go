package measuring

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"orpine/internal/core/form"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/shape"
	"orpine/internal/store/query"
)

// offers are the fields of a check's form that follow from the shape of an assembly, by key.
func (t CheckForm) offers(s shape.Shape, unit quantity.Unit) map[string]measure.Offer {
	offers := formOf(t.Kind).Offers
	if offers == nil || s.Span() <= 0 || s.Form == "" {
		return nil
	}
	return offers(measure.Lying{Shape: s, Unit: unit})
}

// Typical writes a length as it would be typed without its unit: whole millimetres, or
// inches to a sixteenth.
func Typical(mm float64, unit quantity.Unit) string { return measure.Lying{Unit: unit}.At(mm) }

// Offered fills in a form from the shape of an assembly.
func (t CheckForm) Offered(s shape.Shape, unit quantity.Unit) map[string]string {
	out := map[string]string{}
	for key, o := range t.offers(s, unit) {
		out[key] = o.Text
	}
	return out
}

// Rests tells whether a field that is offered rests on something assumed.
func (t CheckForm) Rests(key string, s shape.Shape, unit quantity.Unit) bool {
	return s.Rests(t.offers(s, unit)[key].Rests...)
}

// Assumes says which figures of a filled form were offered, left as they were, and rest on
// something that nobody stated.
func (t CheckForm) Assumes(f Filled, s shape.Shape, unit quantity.Unit) (out []string) {
	offers := t.offers(s, unit)
	for _, field := range t.Fields() {
		o, ok := offers[field.Key]
		if ok && s.Rests(o.Rests...) && same(f.Values[field.Key], o.Text) {
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
// offered, what follows from the shape of the part, and what the aircraft keeps; other figures are the
// plans'.
func (t CheckForm) Fresh(s shape.Shape, unit quantity.Unit, kept Stated) map[string]string {
	out := t.Offered(s, unit)
	for _, f := range t.Fields() {
		if text, ok := kept[f.Key]; ok && f.Kept {
			out[f.Key] = text
		}
		if _, ok := out[f.Key]; !ok && (f.As == "word" || len(f.Columns) == 1 && f.Columns[0] == "name") {
			out[f.Key] = t.Usual[f.Key]
		}
	}
	return out
}

// Stated is what the last checks of an aircraft that said so say of what is asked once and kept (form.Field.Kept):
// an incidence board's own angle, how well the datum is the plans' reference. By key, as it was typed.
type Stated map[string]string

// Stated gathers what an aircraft keeps.
func (m *Measuring) Stated(ctx context.Context, airframe string) (out Stated, err error) {
	out = Stated{}
	err = m.ledger.View(ctx, func(q *query.Queries) error {
		rows, err := q.Definitions(ctx, airframe)
		for _, row := range rows {
			definition := map[string]any{}
			if err := json.Unmarshal([]byte(row.Definition), &definition); err != nil {
				return err
			}
			for _, f := range formOf(row.Kind).Fields {
				if v, said := definition[f.Key]; said && f.Kept && v != "" {
					out[f.Key] = fmt.Sprint(v)
				}
			}
		}
		return err
	})
	return out, err
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
func ReadsAngles(kind string) bool { return formOf(kind).Angles }

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
