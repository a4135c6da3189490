package measuring

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/form"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/near"
	"orpine/internal/core/pose"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/shape"
	"orpine/internal/core/spoken"
	"orpine/internal/ledger"
	"orpine/internal/worksheet"
)

// LimitField is a limit that the plans may set, with what is usual.
type LimitField struct {
	Quantity, Label, Usual string
}

// CheckForm is the form of a check that a careful builder makes at an assembly, with
// its reason, usual values and usual limits. The limits come into force only when
// they are entered.
type CheckForm struct {
	Kind, Name, Why string
	Usual           map[string]string // by field
	Limits          []LimitField
	Accepts         []string
}

// Fields are those of the check's form.
func (t CheckForm) Fields() []form.Field { return formOf(t.Kind).Fields }

// surveys tells whether it is of what parts lie on.
func (t CheckForm) surveys() bool {
	k, _ := worksheet.KindNamed(t.Kind)
	return k.Survey
}

// Joins tells whether it joins surfaces to the airframe, and several at once.
func (t CheckForm) Joins() (joins, several bool) {
	k, _ := worksheet.KindNamed(t.Kind)
	if k.Join {
		_, several = k.New().(*pose.Join)
	}
	return k.Join, several
}

// formOf is what is asked for a check of a kind.
func formOf(kind string) measure.Form {
	k, _ := worksheet.KindNamed(kind)
	return k.Form()
}

// Filled is the form of a check as it was filled in.
type Filled struct {
	Take       bool              `json:"take,omitempty"`
	Usual      bool              `json:"usual,omitempty"`      // limits that are empty are the usual ones
	Instrument string            `json:"instrument,omitempty"` // id of the one offered first
	Values     map[string]string `json:"values"`               // by field
	Low        map[string]string `json:"low,omitempty"`        // by quantity
	High       map[string]string `json:"high,omitempty"`
	Sure       bool              `json:"sure,omitempty"` // places far outside the part are as typed
}

// Definition makes the worksheet check of a form. Problems are by "NUMBER.FIELD".
func (t CheckForm) Definition(number int, f Filled, unit quantity.Unit, wrong ledger.Problems) map[string]any {
	definition := map[string]any{"kind": t.Kind}
	for _, field := range t.Fields() {
		if v, ok := read(field, f.Values[field.Key], unit, fmt.Sprintf("%d.%s", number, field.Key), wrong); ok {
			definition[field.Key] = v
		}
	}
	if finish := formOf(t.Kind).Finish; finish != nil {
		finish(definition)
	}
	if limits := t.limits(number, f, unit, wrong); len(limits) > 0 {
		definition["limits"] = limits
	}
	return definition
}

// Far questions places that lie far outside the part: further apart along it than it is long,
// by three tenths. It is empty where they do not, or where someone is sure of them.
func (t CheckForm) Far(f Filled, on shape.Shape, unit quantity.Unit) string {
	long := on.Longest()
	if f.Sure || long == 0 {
		return ""
	}
	if says := t.farFigure(f, on, unit); says != "" || t.surveys() { // a bench is longer than what lies on it
		return says
	}
	for _, field := range t.Fields() {
		if field.Key != "stations" && field.Key != "points" || len(field.Columns) < 2 || len(field.Columns) > 3 || field.Columns[0] != "name" {
			continue
		}
		low, high, at := math.Inf(1), math.Inf(-1), ""
		for _, cells := range Cells(f.Values[field.Key], len(field.Columns)) {
			v, err := quantity.ParseLength(strings.TrimSpace(cells[1]), unit)
			if err != nil {
				continue
			}
			if low = min(low, float64(v)); float64(v) > high {
				high, at = float64(v), strings.TrimSpace(cells[0]+" at "+cells[1])
			}
		}
		if high-low > 1.3*long+100 {
			return fmt.Sprintf("%s: these places lie %s apart, and the part is %s long. Is that right?", at, say.Length(high-low).Trimmed(), say.Length(long).Trimmed())
		}
	}
	return ""
}

// farFigure questions a figure of the form that is of another size than the part's own shape offers
// for it, or longer than the part.
func (t CheckForm) farFigure(f Filled, on shape.Shape, unit quantity.Unit) string {
	offered := t.Fresh(on, unit, nil)
	for _, field := range t.Fields() {
		text := strings.TrimSpace(f.Values[field.Key])
		if text == "" || len(field.Columns) > 0 {
			continue
		}
		switch field.As {
		case "length":
			v, err := quantity.ParseLength(text, unit)
			if err != nil {
				continue
			}
			usual, err := quantity.ParseLength(offered[field.Key], unit)
			if err == nil && usual > 0 {
				if to, odd := near.Length(float64(v), near.To{Value: float64(usual), What: "the part is drawn with"}); odd {
					return near.Asks(field.Label+": "+text, say.Length(float64(usual)).String(), to)
				}
			}
			if slices.Contains([]string{"spacing", "span", "attach_spacing", "height"}, field.Key) && near.Longer(float64(v), times*on.Longest()) {
				return fmt.Sprintf("%s: %s, and the part is %s long. Is that right?", field.Label, text, say.Length(on.Longest()))
			}
		case "pitch", "plain", "either":
			v, err := quantity.ParseAngle(text, quantity.Either)
			if err != nil || field.Key != "design" && field.Key != "board" {
				continue
			}
			if _, odd := near.Angle(float64(v), near.To{What: "level"}); odd {
				return fmt.Sprintf("%s: %s is steeper than such a part stands. Is that right?", field.Label, text)
			}
		}
	}
	return ""
}

// times is how much longer than the part a figure is asked about.
const times = 3

// Requirements are what a hold asks of a check of that kind. A survey without limits
// need only be there: what lies on the bench is measured against it.
func Requirements(kind, number string, limited bool) []hold.Requirement {
	if k, _ := worksheet.KindNamed(kind); k.Survey && !limited {
		return []hold.Requirement{{Need: hold.Surveyed, Check: number}}
	}
	return []hold.Requirement{{Need: hold.Tested, Check: number}, {Need: hold.Shown, Check: number}}
}

func (t CheckForm) limits(i int, f Filled, unit quantity.Unit, wrong ledger.Problems) map[string]any {
	limits := map[string]any{}
	for _, l := range t.Limits {
		low, high := f.Low[l.Quantity], f.High[l.Quantity]
		if f.takesUsual(l) {
			if low, high = l.ends(unit); low+high != "" {
				limits[l.Quantity] = limitOf(low, high)
			}
			continue
		}
		limit := typedLimit(l.Quantity, low, high, fmt.Sprintf("%d.limits.%s", i, l.Quantity), wrong)
		if len(limit) > 0 {
			limits[l.Quantity] = limit
		}
	}
	numbered(t.Kind, limits)
	return limits
}

// read turns what was typed into the field's part of a definition.
func read(f form.Field, text string, unit quantity.Unit, path string, wrong ledger.Problems) (v any, ok bool) {
	text = strings.TrimSpace(text)
	switch {
	case text == "" && f.Optional:
		return nil, false
	case text == "":
		wrong.Add(path, "is wanted, from the plans")
		return nil, false
	case len(f.Columns) == 1 && f.Columns[0] == "":
		var list []string
		for _, item := range strings.FieldsFunc(text, func(r rune) bool { return r == ';' || r == '\n' }) {
			list = append(list, figure(f, strings.TrimSpace(item), unit, path, wrong))
		}
		return list, true
	case f.Columns != nil:
		return list(f, text, unit, path, wrong), true
	case spokenFigures[f.As] != nil:
		number, err := spokenFigures[f.As](text)
		if err != nil {
			wrong.Add(path, err.Error())
		}
		return number, err == nil
	case f.As == "number":
		number, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
		if err != nil || math.IsNaN(number) || math.IsInf(number, 0) {
			wrong.Add(path, "a number is wanted, as in 18.5")
			return nil, false
		}
		return number, true
	}
	return figure(f, text, unit, path, wrong), true
}

// spokenFigures are figures that are said with a unit of their own, which the worksheet has as plain numbers.
var spokenFigures = map[string]func(text string) (float64, error){"temperature": spoken.Celsius, "pressure": spoken.Hectopascals}

// figure checks one figure and returns it as typed.
func figure(f form.Field, text string, unit quantity.Unit, path string, wrong ledger.Problems) string {
	if f.As == "word" {
		return text
	}
	if _, err := worksheet.Typed(text, f.As, unit); err != nil {
		wrong.Add(path, err.Error())
	}
	return text
}

// column is the field of one column: of a place its coordinates are lengths, and
// what stands beside them are words.
func column(f form.Field, j int) form.Field {
	if f.As == "place" {
		f.As = map[bool]string{true: "length", false: "word"}[slices.Contains([]string{"x", "y", "z", "u"}, f.Columns[j])]
	}
	return f
}

// list reads one item to a line, its columns parted by semicolons.
func list(f form.Field, text string, unit quantity.Unit, path string, wrong ledger.Problems) []any {
	var items []any
	for i, line := range strings.Split(text, "\n") {
		if strings.TrimSpace(line) == "" {
			continue
		}
		parts := strings.Split(line, ";")
		if len(parts) > len(f.Columns) {
			wrong.Add(path, fmt.Sprintf("line %d: %s are wanted, parted by ;", i+1, strings.Join(f.Columns, "; ")))
			continue
		}
		item := map[string]any{}
		for j, part := range parts {
			part = strings.TrimSpace(part)
			if (j > 0 || f.Columns[0] != "name") && part != "" {
				before := len(wrong)
				figure(column(f, j), part, unit, path, wrong)
				if len(wrong) > before {
					wrong[path] = fmt.Sprintf("line %d: %s", i+1, wrong[path])
				}
			}
			if part != "" {
				item[f.Columns[j]] = part
			}
		}
		items = append(items, item)
	}
	return items
}
