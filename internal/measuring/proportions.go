package measuring

import (
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"

	"orpine/internal/core/form"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/ledger"
)

// What nobody stated of a check is kept in words. Two of them are told apart: fields that are drawn in usual
// proportions until someone says them, by their keys, and limits that are the usual ones, by their quantities.
const (
	atProportions = "usual proportions: "
	usualLimitsOf = "usual limits: "
	theLimits     = "the limits" // as all usual limits were kept before
)

// unstated sorts what nobody stated of a check.
func (c *Check) unstated(kept []string) {
	for _, says := range kept {
		if keys, ok := strings.CutPrefix(says, atProportions); ok {
			c.Proportions = strings.Split(keys, ", ")
		} else if _, ok := strings.CutPrefix(says, usualLimitsOf); ok || says == theLimits {
			c.UsualLimits, c.usualLimits = true, says
		} else {
			c.Unstated = append(c.Unstated, says)
		}
	}
}

// kept is what nobody stated, as it is kept.
func (c Check) kept() (out []string) {
	out = slices.Clone(c.Unstated)
	if len(c.Proportions) > 0 {
		out = append(out, atProportions+strings.Join(c.Proportions, ", "))
	}
	if c.UsualLimits {
		out = append(out, c.usualLimits)
	}
	return out
}

// Nobody says what of a check nobody stated: what is assumed of the part, the fields that are drawn in usual
// proportions, and the limits that are the usual ones.
func (c Check) Nobody() (out []string) {
	out = slices.Clone(c.Unstated)
	for _, key := range c.Proportions {
		out = append(out, c.labelOf(key))
	}
	if c.UsualLimits {
		out = append(out, theLimits)
	}
	return out
}

// labelOf is what a field of the check's form is called, as it stands in a sentence.
func (c Check) labelOf(key string) string {
	for _, f := range formOf(c.Kind.Name).Fields {
		if f.Key == key {
			label, _, _ := strings.Cut(f.Label, ":")
			label, _, _ = strings.Cut(label, " (")
			return "the " + strings.ToLower(label[:1]) + label[1:]
		}
	}
	return key
}

// Other proportions that an answer is tried with: all lengths of a field by a factor, and its inner places moved
// by a share of the gap beside them, now this way and now that.
var otherProportions = []struct{ factor, shift float64 }{{0.6, 0}, {1.7, 0}, {1, 0.3}, {1, -0.3}}

// hangs are the fields of a check, drawn in usual proportions, on which what it says hangs: with other ones a
// verdict would be another, or the headline would move by more than a fifth of its u.
func (s Setup) hangs(c Check, o outcome) (out []string) {
	if o.result == nil {
		return nil
	}
	for _, key := range c.Proportions {
		if slices.ContainsFunc(otherProportions, func(other struct{ factor, shift float64 }) bool {
			as := c
			as.Proportions = nil
			as.Definition = proportioned(c.Kind.Name, c.Definition, key, other.factor, other.shift, s.unit())
			return differs(*o.result, s.solve(as).result)
		}) {
			out = append(out, key)
		}
	}
	return out
}

// differs tells whether two results of the same readings say something else.
func differs(a measure.Result, b *measure.Result) bool {
	if b == nil || a.Verdict != b.Verdict || len(a.Quantities) != len(b.Quantities) {
		return true
	}
	for i, q := range a.Quantities {
		p := b.Quantities[i]
		if q.Verdict != p.Verdict || i == 0 && math.Abs(q.Value-p.Value) > max(q.U/5, 1e-6) {
			return true
		}
	}
	return false
}

// proportioned is a definition with the lengths of a field in other proportions.
func proportioned(kind string, definition map[string]any, key string, factor, shift float64, unit quantity.Unit) map[string]any {
	var field form.Field
	for _, f := range formOf(kind).Fields {
		if f.Key == key {
			field = f
		}
	}
	out, _ := form.Clone(definition).(map[string]any)
	for _, holder := range holders(out, key) {
		if len(field.Columns) == 0 {
			holder[key] = scaled(holder[key], factor, unit)
			continue
		}
		moveApart(holder[key], field, factor, shift, unit)
	}
	return out
}

// holders are what of a definition has a field: itself, or both sides, or both rounds, where one figure of the form is that of both.
func holders(definition map[string]any, key string) (out []map[string]any) {
	for _, holder := range []any{definition, definition["left"], definition["right"], definition["first"], definition["second"]} {
		if m, ok := holder.(map[string]any); ok && m[key] != nil {
			out = append(out, m)
		}
	}
	return out
}

// moveApart lays the places of a list otherwise: all by a factor, and the inner ones by a share of the gap beside them.
func moveApart(list any, field form.Field, factor, shift float64, unit quantity.Unit) {
	items, _ := list.([]any)
	for _, column := range field.Columns[1:] {
		var at []float64
		for _, item := range items {
			at = append(at, lengthOf(asMap(item)[column], unit))
		}
		for i, item := range items {
			if asMap(item)[column] == nil || math.IsNaN(at[i]) {
				continue
			}
			v := at[i]
			if i > 0 && i < len(at)-1 && !math.IsNaN(at[i+1]) {
				v += shift * (at[i+1] - at[i]) * float64(1-2*(i%2))
			}
			asMap(item)[column] = millimetres(v * factor)
		}
	}
}

func asMap(item any) map[string]any {
	m, _ := item.(map[string]any)
	return m
}

func scaled(v any, factor float64, unit quantity.Unit) any {
	if mm := lengthOf(v, unit); !math.IsNaN(mm) {
		return millimetres(mm * factor)
	}
	return v
}

// lengthOf is a length of a definition in mm, NaN where it is none.
func lengthOf(v any, unit quantity.Unit) float64 {
	if v == nil {
		return math.NaN()
	}
	mm, err := quantity.ParseLength(strings.TrimSpace(fmt.Sprint(v)), unit)
	if err != nil {
		return math.NaN()
	}
	return float64(mm)
}

// millimetres writes a length so that it is read the same in any unit.
func millimetres(v float64) string {
	return quantity.Fixed(v, 6) + " " + quantity.Millimetre.String()
}

// Size is a field of a check that says where things are, as it may be typed on its drawing.
type Size struct {
	form.Field
	Rows [][]string // of a list: the columns of each of its items as typed, the name first; else one cell
	Wait bool       // it is drawn in a usual proportion: nobody said it
}

// Sizes are the fields that say where things of a check are.
func (c Check) Sizes() (out []Size) {
	for _, f := range formOf(c.Kind.Name).Fields {
		if f.As != "length" || slices.Contains([]string{"stock", "points_u", "datum_u", "centred"}, f.Key) {
			continue
		}
		held := holders(c.Definition, f.Key)
		if len(held) == 0 {
			continue
		}
		size := Size{Field: f, Wait: slices.Contains(c.Proportions, f.Key)}
		switch {
		case len(f.Columns) == 0:
			size.Rows = [][]string{{fmt.Sprint(held[0][f.Key])}}
		case len(f.Columns) > 1 && f.Columns[0] == "name":
			for _, item := range form.Items(held[0][f.Key]) {
				row := make([]string, len(f.Columns))
				for j, column := range f.Columns {
					if v := item[column]; v != nil {
						row[j] = fmt.Sprint(v)
					}
				}
				size.Rows = append(size.Rows, row)
			}
		}
		if len(size.Rows) > 0 {
			out = append(out, size)
		}
	}
	return out
}

// Sized are fields of a check's drawing as they were typed: of a list its cells without the names, row by row.
type Sized map[string][]string

// size puts what was typed into a definition. Names, and so the readings, stay. Problems are by "KEY.ROW.COLUMN",
// or "KEY".
func (n Sized) size(c Check, definition map[string]any, unit quantity.Unit) (says string, kept []string, err error) {
	wrong := ledger.Problems{}
	var said []string
	for _, size := range c.Sizes() {
		typed, ok := n[size.Key]
		if !ok {
			continue
		}
		some, all := size.put(typed, definition, unit, wrong)
		if !some {
			continue
		}
		said = append(said, c.labelOf(size.Key))
		if all {
			c.Proportions = slices.DeleteFunc(slices.Clone(c.Proportions), func(key string) bool { return key == size.Key })
		}
	}
	if err := wrong.Err(); err != nil {
		return "", nil, err
	}
	if len(said) == 0 {
		return "", nil, ledger.Problems{"": "nothing of it is another than before"}
	}
	for _, key := range c.Proportions {
		said = append(said, c.labelOf(key)+" still in a usual proportion")
	}
	return "as it is: " + strings.Join(said, ", "), c.kept(), nil
}

// put puts the typed cells of a field into a definition, and tells whether any was typed, and all. What is left empty
// of a field at a usual proportion is laid between what was typed.
func (s Size) put(typed []string, definition map[string]any, unit quantity.Unit, wrong ledger.Problems) (some, all bool) {
	columns := max(1, len(s.Columns)-1)
	cells := make([]string, len(s.Rows)*columns)
	copy(cells, typed)
	all = true
	for i, text := range cells {
		cells[i] = strings.TrimSpace(text)
		path := s.Key
		if len(s.Columns) > 0 {
			path = fmt.Sprintf("%s.%d.%d", s.Key, i/columns, i%columns)
		}
		switch drawn := s.drawn(i, columns); {
		case cells[i] == "" && drawn == "":
		case cells[i] == "" && s.Wait:
			all = false
		case cells[i] == "":
			wrong.Add(path, "is wanted: how far?")
		default:
			if _, err := quantity.ParseLength(cells[i], unit); err != nil {
				wrong.Add(path, err.Error())
			}
			some = true
		}
	}
	if !some || len(wrong) > 0 {
		return some, false
	}
	for j := range columns {
		s.lay(cells, j, columns, unit)
	}
	for _, holder := range holders(definition, s.Key) {
		items := form.Items(holder[s.Key])
		for i, text := range cells {
			switch {
			case text == "":
			case len(s.Columns) == 0:
				holder[s.Key] = text
			case i/columns < len(items):
				items[i/columns][s.Columns[i%columns+1]] = text
			}
		}
	}
	return some, all
}

// drawn is a cell as it is drawn.
func (s Size) drawn(i, columns int) string {
	if len(s.Columns) == 0 {
		return s.Rows[0][0]
	}
	return s.Rows[i/columns][i%columns+1]
}

// lay lays what was not typed of a column between what was.
func (s Size) lay(cells []string, j, columns int, unit quantity.Unit) {
	from, to := make([]float64, len(s.Rows)), make([]float64, len(s.Rows))
	known := false
	for row := range s.Rows {
		i := row*columns + j
		from[row], to[row] = math.NaN(), math.NaN()
		if text := s.drawn(i, columns); text != "" {
			from[row] = lengthOf(text, unit)
		}
		if cells[i] != "" {
			to[row], known = lengthOf(cells[i], unit), true
		}
	}
	for row, v := range spread(from, to) {
		if i := row*columns + j; known && cells[i] == "" && !math.IsNaN(v) {
			cells[i] = typedAs(v, unit)
		}
	}
}

// LimitTo is one limit of a check as it was typed beside its answer.
type LimitTo struct {
	Quantity string `json:"quantity" form:"quantity"`
	Low      string `json:"low,omitempty" form:"low"`
	High     string `json:"high,omitempty" form:"high"`
	As       string `json:"as,omitempty" form:"as"` // the answer to what was asked of one end alone
}

// change puts the limit into a definition; what nobody stated of the other limits stays so.
func (n LimitTo) change(c Check, definition map[string]any, wrong ledger.Problems) (kept []string) {
	limits, _ := form.Clone(definition["limits"]).(map[string]any)
	if limits == nil {
		limits = map[string]any{}
	}
	low, high := EndAs(n.As, n.Low, n.High)
	limit := typedLimit(n.Quantity, low, high, "limit", wrong)
	delete(limits, n.Quantity)
	if len(limit) > 0 {
		limits[n.Quantity] = limit
	}
	numbered(c.Kind.Name, limits)
	delete(definition, "limits")
	if len(limits) > 0 {
		definition["limits"] = limits
	}
	return c.keptWith(limits, n.Quantity)
}

// keptWith is what nobody stated of a check once it has other limits: those that are still the usual ones are those
// that were, are as they were, and were not typed.
func (c Check) keptWith(limits map[string]any, typed string) []string {
	if !c.UsualLimits {
		return c.kept()
	}
	before, _ := c.Definition["limits"].(map[string]any)
	var rest []string
	for name := range limits {
		if name != typed && c.Usual(name) && reflect.DeepEqual(limits[name], before[name]) {
			rest = append(rest, name)
		}
	}
	slices.Sort(rest)
	if c.UsualLimits = len(rest) > 0; c.UsualLimits {
		c.usualLimits = usualLimitsOf + strings.Join(rest, ", ")
	}
	return c.kept()
}

// Usual tells whether the limit of a quantity is the usual one, and not the plans'.
func (c Check) Usual(name string) bool {
	if !c.UsualLimits {
		return false
	}
	names, ok := strings.CutPrefix(c.usualLimits, usualLimitsOf)
	return !ok || slices.Contains(strings.Split(names, ", "), name)
}

// asKept writes what nobody stated for the facts of an entry.
func asKept(kept []string) (json.RawMessage, error) {
	if kept == nil {
		kept = []string{}
	}
	return json.Marshal(kept)
}
