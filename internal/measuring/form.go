package measuring

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/form"
	"orpine/internal/core/hold"
	"orpine/internal/core/near"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/shape"
	"orpine/internal/ledger"
	"orpine/internal/worksheet"
)

// LimitField is a limit that the plans may set, with what is usual.
type LimitField struct {
	Quantity, Label, Usual string
}

// How a surface lies on the bench that it is measured on: its own shape, or the bench's too.
const (
	stiffly = "stiff, and lying by itself"
	limply  = "limp, or held down"
)

// How well points are known is asked for where readings are weighed against one another.
var (
	datumU = pointsU("datum_u", "Points on the airframe are known to (u of each coordinate; empty: "+say.Written(1).String()+")")
	marksU = pointsU("points_u", "Marks on the surface are known to (u of each coordinate, its making included; empty: "+say.Written(0.5).String()+")")
)

func pointsU(key, label string) form.Field {
	return form.Field{Key: key, Label: label, As: "length", Optional: true}
}

// fields are those of each kind's form; a kind without readings has none.
var fields = map[string][]form.Field{
	"bench":        {{Key: "points", Label: "Supports: name; along; across (right is plus)", Columns: []string{"name", "x", "y"}, As: "length"}, {Key: "stock", Label: "Shims in stock, parted by ;", Columns: []string{""}, As: "length", Optional: true}},
	"twist":        {{Key: "stations", Label: "Stations: name; distance outboard; for heights, front to rear mark", Columns: []string{"name", "y", "spacing"}, As: "length"}, {Key: "lies", Label: "On the bench it is", As: "word", Words: []string{stiffly, limply}, Optional: true}, {Key: "design", Label: "Design twist, tip less root (washout is down)", As: "pitch", Optional: true}, {Key: "tip_spacing", Label: "Front to rear support at the tip", As: "length", Optional: true}},
	"level":        {{Key: "span", Label: "Span between the tips", As: "length"}},
	"straightness": {{Key: "points", Label: "Places: name; along", Columns: []string{"name", "x"}, As: "length"}, {Key: "reference", Label: "Against the line", As: "word", Words: []string{"ends", "best"}, Optional: true}},
	"hinge-line":   {{Key: "points", Label: "Hinges: name; along", Columns: []string{"name", "x"}, As: "length"}, {Key: "stock", Label: "Shims in stock, parted by ;", Columns: []string{""}, As: "length", Optional: true}, {Key: "adjust", Label: "Moved up and down (z) or across (y)", As: "word", Words: []string{"z", "y"}, Optional: true}},
	"incidence":    {{Key: "measured", Label: "Measured", As: "word", Words: []string{"left and right", "in one piece"}, Optional: true}, {Key: "spacing", Label: "By heights: front to rear mark", As: "length", Optional: true}, {Key: "design", Label: "Design incidence", As: "pitch"}, {Key: "board", Label: "The board's own angle above the chord line", As: "pitch", Optional: true}, {Key: "attach_spacing", Label: "Front to rear attachment", As: "length", Optional: true}, {Key: "fixed", Label: "Fixed end", As: "word", Words: []string{"front", "rear"}, Optional: true}},
	"decalage":     {{Key: "arrangement", Label: "Arrangement", As: "word", Words: []string{"conventional", "tandem", "canard"}}, {Key: "attach_spacing", Label: "Forward surface: front to rear attachment, to say what to shim", As: "length", Optional: true}},
	"square":       {{Key: "station", Label: "Station of the tip points", As: "length"}, {Key: "half_span", Label: "Half span, centreline to tip point", As: "length"}, {Key: "from", Label: "Centreline points: name; station; height above the tips", Columns: []string{"name", "x", "z"}, As: "length"}, pointsU("points_u", "The centreline points are known to (u, along and across; empty: "+say.Written(1).String()+")"), {Key: "centred", Label: "With one pair of tapes: the tips' middle is within so much of the airframe's", As: "length", Optional: true}},
	"diagonals":    {},
	"brackets":     {{Key: "spacing", Label: "Between the brackets", As: "length"}, {Key: "span", Label: "Span that they carry", As: "length"}, {Key: "axis", Label: "Compared in", As: "word", Words: []string{"height", "station"}}},
	"pairs":        {{Key: "pairs", Label: "Lengths that should be alike, one to a line", Columns: []string{"name"}, As: "length"}},
	"dihedral":     {},
	"upright":      {{Key: "height", Label: "Height of the fin", As: "length"}},
	"gap":          {{Key: "gaps", Label: "Places, one to a line", Columns: []string{"name"}, As: "length"}, {Key: "min", Label: "Least gap", As: "length"}, {Key: "max", Label: "Greatest gap", As: "length"}},
	"engine-mount": {{Key: "pads", Label: "Pads: name; butt line; waterline", Columns: []string{"name", "y", "z"}, As: "length"}, {Key: "design_down", Label: "Thrust line down", As: "plain", Optional: true}, {Key: "design_right", Label: "Thrust line right", As: "plain", Optional: true}, {Key: "stock", Label: "Washers in stock, parted by ;", Columns: []string{""}, As: "length", Optional: true}},
	"travel":       {{Key: "surfaces", Label: "Surfaces: name; left or right", Columns: []string{"name", "side"}, As: "word"}},
	"separate":     {{Key: "how", Label: "Rolled over (offsets), or its opposite hand (angles)", As: "word", Words: []string{"flipped", "mirror-part"}}, {Key: "points", Label: "Places: name; along", Columns: []string{"name", "x"}, As: "length"}},
	"hand":         {{Key: "points", Label: "Points that both parts have, one to a line", Columns: []string{"name"}, As: "length"}, {Key: "shape", Label: "The part is", As: "word", Words: []string{"flat", "solid"}}, {Key: "tolerance", Label: "Two parts are alike within", As: "length"}, {Key: "expect", Label: "It should be", As: "word", Words: []string{"mirrored", "same"}}},
	"pose": {{Key: "datum", Label: "Points on the airframe: name; station; butt line; waterline", Columns: []string{"name", "x", "y", "z"}, As: "length"},
		{Key: "points", Label: "Points on the surface, where they should be", Columns: []string{"name", "x", "y", "z"}, As: "length"},
		datumU, marksU,
		{Key: "pivot", Label: "It turns about: station; butt line; waterline", Columns: []string{"x", "y", "z"}, As: "length"},
		{Key: "attach", Label: "Attach points, to say what to move; may: free, fixed, up, down", Columns: []string{"name", "x", "y", "z", "may"}, As: "place", Optional: true},
		{Key: "readings", Label: "Readings, one to a line: distance, height, roll or pitch; from; to (or offset;; point; x, y or z)", Columns: []string{"type", "from", "to", "axis"}, As: "word", Optional: true},
		{Key: "level", Label: "The airframe's own level", As: "word", Words: []string{"is read too", "is true"}}},
	"join": {{Key: "datum", Label: "Points on the airframe: name; station; butt line; waterline", Columns: []string{"name", "x", "y", "z"}, As: "length"},
		{Key: "pivots", Label: "Surfaces: name; and what it turns about: station; butt line; waterline", Columns: []string{"name", "x", "y", "z"}, As: "length"},
		{Key: "points", Label: "Their points, where they should be: name; station; butt line; waterline; surface", Columns: []string{"name", "x", "y", "z", "surface"}, As: "place"},
		datumU, marksU,
		{Key: "pins", Label: "Points that are pinned together: from; to; within", Columns: []string{"from", "to", "u"}, As: "place", Optional: true},
		{Key: "attach", Label: "Attach points: name; station; butt line; waterline; surface; may: free, fixed, up or down", Columns: []string{"name", "x", "y", "z", "surface", "may"}, As: "place", Optional: true},
		{Key: "bounds", Label: "Limits from the plans: surface; x, y, z, roll, pitch or yaw; from; to", Columns: []string{"surface", "freedom", "low", "high"}, As: "word", Optional: true},
		{Key: "derive", Label: "Figures between points: name; incidence, dihedral, sweep, lean, height, fore_aft or lateral; from point; to point; limits from; to", Columns: []string{"name", "type", "from", "to", "low", "high"}, As: "word", Optional: true},
		{Key: "readings", Label: "Readings, one to a line: distance, height, roll or pitch; from; to (or offset;; point; x, y or z)", Columns: []string{"type", "from", "to", "axis"}, As: "word", Optional: true},
		{Key: "level", Label: "The airframe's own level", As: "word", Words: []string{"is read too", "is true"}}},
	"length":           {{Key: "design", Label: "Length of the plans", As: "length"}},
	"shim-stack":       {{Key: "needed", Label: "Thickness wanted", As: "length"}, {Key: "stock", Label: "Shims in stock, parted by ;", Columns: []string{""}, As: "length"}, {Key: "pieces", Label: "Pieces in a stack at most", As: "number", Optional: true}},
	"shop-temperature": {{Key: "temp_c", Label: "Temperature in °C", As: "number"}, {Key: "tape", Label: "Tape of", As: "word", Words: []string{"steel", "fibreglass", "aluminium"}}, {Key: "part", Label: "Part of", As: "word", Words: []string{"aluminium", "steel", "wood", "carbon"}}},
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
func (t CheckForm) Fields() []form.Field { return fields[t.Kind] }

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
	if finish, ok := finishes[t.Kind]; ok {
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
	if says := t.farFigure(f, on, unit); says != "" || t.Kind == "bench" { // a bench is longer than what lies on it
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
			return fmt.Sprintf("%s: these places lie %s apart, and the part is %s long. Is that right?", at, say.Length(high-low), say.Length(long))
		}
	}
	return ""
}

// farFigure questions a figure of the form that is of another size than the part's own shape offers
// for it, or longer than the part.
func (t CheckForm) farFigure(f Filled, on shape.Shape, unit quantity.Unit) string {
	offered := t.Fresh(on, unit)
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

// take removes a field of a form from a definition and returns what it said.
func take(definition map[string]any, field string) any {
	v := definition[field]
	delete(definition, field)
	return v
}

// finishes turn a form into a check where one field of the form stands for
// several of the check.
var finishes = map[string]func(definition map[string]any){
	// What is limp, or held down, takes the shape of what it lies on.
	"twist": func(d map[string]any) {
		if lies := take(d, "lies"); lies != nil {
			d["held"] = lies == limply
		}
	},
	// The places of both rounds are the same; angles lie along the span.
	"separate": func(d map[string]any) {
		places, _ := take(d, "points").([]any)
		list := "points"
		if d["how"] != "flipped" {
			list = "stations"
			for _, p := range places {
				if item, ok := p.(map[string]any); ok {
					item["y"] = take(item, "x")
				}
			}
		}
		d["first"], d["second"] = map[string]any{list: places}, map[string]any{list: clone(places)}
	},
	// Both parts have the same points; a solid one has heights too.
	"hand": func(d map[string]any) {
		points, _ := take(d, "points").([]any)
		if take(d, "shape") == "solid" {
			for _, p := range points {
				if item, ok := p.(map[string]any); ok {
					item["z"] = 0
				}
			}
		}
		d["first"], d["second"] = points, clone(points)
	},
	// Each reading has an id made of what it is; the airframe's level is two readings.
	"pose": func(d map[string]any) {
		if pivots, _ := d["pivot"].([]any); len(pivots) == 1 {
			d["pivot"] = pivots[0]
		}
		finishReadings(d)
	},
	// Each surface has its own pivot, points and limits.
	"join": func(d map[string]any) {
		surfaces := []any{}
		byName := map[string]map[string]any{}
		for _, item := range items(take(d, "pivots")) {
			name := nameOf(item)
			delete(item, "name")
			byName[name] = map[string]any{"name": name, "pivot": item, "points": []any{}}
			surfaces = append(surfaces, byName[name])
		}
		of := func(item map[string]any) map[string]any {
			name, _ := take(item, "surface").(string)
			if byName[name] == nil { // reported as a surface without a pivot
				byName[name] = map[string]any{"name": name, "points": []any{}}
				surfaces = append(surfaces, byName[name])
			}
			return byName[name]
		}
		for _, list := range []string{"points", "attach"} {
			for _, item := range items(take(d, list)) {
				surface := of(item)
				points, _ := surface[list].([]any)
				surface[list] = append(points, item)
			}
		}
		for _, item := range items(take(d, "bounds")) {
			surface := of(item)
			limits, ok := surface["limits"].(map[string]any)
			if !ok {
				limits = map[string]any{}
				surface["limits"] = limits
			}
			freedom, _ := take(item, "freedom").(string)
			limits[freedom] = item
		}
		d["surfaces"] = surfaces
		finishReadings(d)
	},
	// One piece or two sides, by angles or by heights.
	"incidence": func(d map[string]any) {
		slope := map[string]any{}
		if spacing := take(d, "spacing"); spacing != nil {
			slope["spacing"] = spacing
		}
		if take(d, "measured") == "in one piece" {
			d["single"] = slope
			return
		}
		d["left"], d["right"] = slope, clone(slope)
	},
}

// readingID names a reading of a join by its number and what it is.
func readingID(i int, item map[string]any) string {
	word := func(field string) string {
		text, _ := item[field].(string)
		return text
	}
	if word("from") == "" {
		return fmt.Sprintf("%d %s of %s %s", i+1, word("type"), word("to"), word("axis"))
	}
	return fmt.Sprintf("%d %s %s to %s", i+1, word("type"), word("from"), word("to"))
}

// finishReadings gives each reading of a join its id, and the airframe its level.
func finishReadings(d map[string]any) {
	readings, _ := d["readings"].([]any)
	for i, item := range items(readings) {
		item["id"] = readingID(i, item)
	}
	if d["readings"] = readings; readings == nil {
		d["readings"] = []any{}
	}
	if take(d, "level") == "is read too" {
		d["datum_roll"], d["datum_pitch"] = map[string]any{}, map[string]any{}
	}
}

// Requirements are what a hold asks of a check of that kind. A survey without limits
// need only be there: what lies on the bench is measured against it.
func Requirements(kind, number string, limited bool) []hold.Requirement {
	if kind == "bench" && !limited {
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
