package measuring

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/core/form"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/rivet"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/core/spoken"
	"orpine/internal/ledger"
	"orpine/internal/worksheet"
)

// Sum is what is worked out from figures that are typed at once: a rivet, a mix, a leak. No
// instrument is placed, and nothing of it is kept.
type Sum struct {
	Kind, Title, Says string
	Fields            []form.Field
	Usual             map[string]string // examples, by field; lengths in mm
	definition        func(r sumReader) map[string]any
}

// SumOf is the one of that kind.
func SumOf(kind string) (Sum, bool) {
	i := slices.IndexFunc(Sums, func(s Sum) bool { return s.Kind == kind })
	if i < 0 {
		return Sum{}, false
	}
	return Sums[i], true
}

func lengthField(key, label string) form.Field {
	return form.Field{Key: key, Label: label, As: "length"}
}

func optional(f form.Field) form.Field {
	f.Optional = true
	return f
}

func lengths(key, label string) form.Field {
	return form.Field{Key: key, Label: label, Columns: []string{""}, As: "length"}
}

// Sums are all of them.
var Sums = []Sum{
	{"solid-rivet", "Which rivet?", "the length of a solid rivet in a stack",
		[]form.Field{lengthField("diameter", "Diameter"), lengths("stack", "Thicknesses, one by one"), optional(lengthField("callout", "The plans call out"))},
		map[string]string{"diameter": "1/8 in", "stack": "0.8; 1.0"},
		func(r sumReader) map[string]any { return r.some("diameter", "stack", "callout") }},
	{"blind-rivet", "Which blind rivet?", "the grip of a stack, and what holds it",
		[]form.Field{lengths("stack", "Thicknesses, one by one"), lengthField("diameter", "Diameter"), {Key: "table", Label: "On hand: code; least and greatest grip", Columns: []string{"name", "low", "high"}, As: "place"}, optional(form.Field{Key: "callout", Label: "The plans call out", As: "word"})},
		map[string]string{"stack": "0.8; 1.0", "diameter": "3.2", "table": "B-3; 0.5; 1.5\nB-5; 1.5; 3.2"},
		func(r sumReader) map[string]any {
			d := r.some("stack", "callout")
			var table []any
			for _, row := range Cells(r.values["table"], 3) {
				table = append(table, map[string]any{"code": row[0], "diameter": strings.TrimSpace(r.values["diameter"]), "grip_min": row[1], "grip_max": row[2]})
			}
			d["table"] = table
			return d
		}},
	{"hole-edge", "Too near the edge?", "edge distance and pitch in diameters, and after an oversize",
		[]form.Field{lengthField("diameter", "Diameter of the hole"), lengths("edges", "To the edges"), optional(lengths("pitches", "To the next holes")), optional(lengthField("oversize", "If it is drilled oversize to")), optional(lengthField("fills", "and the rivet that fills it then"))},
		map[string]string{"diameter": "1/8 in", "edges": "8", "pitches": "25; 25", "oversize": "5/32 in", "fills": "5/32 in"},
		func(r sumReader) map[string]any {
			r.filled()
			return r.some("diameter", "edges", "pitches", "oversize")
		}},
	{"flush-stack", "Do the layers nest?", "dimpled, countersunk and plain layers under a flush head",
		[]form.Field{{Key: "layers", Label: "Layers, outside in: thickness; plain, dimpled or countersunk", Columns: []string{"x", "side"}, As: "word"}, lengthField("head_depth", "The head is deep")},
		map[string]string{"layers": "0.8; dimpled\n1.0; dimpled", "head_depth": "1.3"},
		func(r sumReader) map[string]any {
			d := r.some("head_depth")
			var layers []any
			for _, row := range Cells(r.values["layers"], 2) {
				layers = append(layers, map[string]any{"thickness": row[0], "hole": strings.ToLower(row[1])})
			}
			d["layers"] = layers
			return d
		}},
	{"shim-stack", "Which shims?", "the stack that comes nearest, from what is in stock",
		[]form.Field{lengthField("needed", "Thickness wanted"), lengths("stock", "Shims in stock"), optional(form.Field{Key: "pieces", Label: "Pieces in a stack at most", As: "number"})},
		map[string]string{"needed": "1.9", "stock": "0.3; 0.5; 0.8; 1.0", "pieces": "3"},
		func(r sumReader) map[string]any { return r.some("needed", "stock", "pieces") }},
	{"mix", "Mix a pot", "parts by ratio, from the total or from one of them",
		[]form.Field{{Key: "ratio", Label: "Ratio", Columns: []string{""}, As: "number"}, {Key: "by", Label: "By", As: "word", Words: []string{"mass", "volume"}}, optional(form.Field{Key: "total", Label: "All together: 250 g, 30 ml", As: "amount"}), optional(form.Field{Key: "index", Label: "Or: of the component number", As: "number"}), optional(form.Field{Key: "amount", Label: "there is", As: "amount"})},
		map[string]string{"ratio": "4; 1", "by": "mass", "total": "250"},
		func(r sumReader) map[string]any {
			d := r.some("ratio", "by")
			if total := r.amount("total"); total != nil {
				d["total"] = *total
			}
			if index := r.number("index"); index != nil {
				part := map[string]any{"index": *index - 1}
				if amount := r.amount("amount"); amount != nil {
					part["amount"] = *amount
				} else {
					r.wrong.Add("amount", "is wanted")
				}
				d["part"] = part
			}
			return d
		}},
	{"tank-leak", "Does the tank leak?", "air closed in, a column of water, and the weather between two looks",
		[]form.Field{lengthField("start_head", "At the start: one side of the water less the other"), {Key: "start_pressure", Label: "air pressure: hPa, or with its unit, inHg", As: "pressure"}, {Key: "start_temp", Label: "air in the tank: °C, or with its unit, °F", As: "temperature"},
			lengthField("end_head", "At the end: one side less the other"), {Key: "end_pressure", Label: "air pressure then", As: "pressure"}, {Key: "end_temp", Label: "air in the tank then", As: "temperature"}, optional(lengthField("step", "The column is read in steps of"))},
		map[string]string{"start_head": "250", "start_pressure": "1013", "start_temp": "18", "end_head": "240", "end_pressure": "1015", "end_temp": "17", "step": "1"},
		func(r sumReader) map[string]any {
			look := func(which string) map[string]any {
				return map[string]any{"head": r.reading(which + "_head"), "air_pressure_hpa": r.said(which + "_pressure"), "air_temp_c": r.said(which + "_temp")}
			}
			return map[string]any{"start": look("start"), "end": look("end")}
		}},
	{"shop-temperature", "A length in the cold", "what a part measures at " + say.Temperature(20).String(),
		[]form.Field{lengthField("reading", "Read in the shop"), {Key: "temp_c", Label: "Temperature: °C, or with its unit, °F", As: "temperature"}, {Key: "tape", Label: "Tape of", As: "word", Words: []string{"steel", "fibreglass", "aluminium"}}, {Key: "part", Label: "Part of", As: "word", Words: []string{"aluminium", "steel", "wood", "carbon"}}, optional(lengthField("step", "The tape is read in steps of"))},
		map[string]string{"reading": "5750", "temp_c": "6", "tape": "steel", "part": "aluminium", "step": "1"},
		func(r sumReader) map[string]any {
			d := r.some("temp_c", "tape", "part")
			d["reading"] = r.reading("reading")
			return d
		}},
	{"zero-test", "Prove a level", "on one spot, then turned end for end",
		[]form.Field{{Key: "first", Label: "It shows", As: "plain"}, {Key: "turned", Label: "Turned end for end it shows", As: "plain"}, optional(form.Field{Key: "step", Label: "It shows steps of", As: "plain"})},
		map[string]string{"first": "0.15", "turned": "-0.05", "step": "0.05"},
		func(r sumReader) map[string]any {
			return map[string]any{"first": r.reading("first"), "turned": r.reading("turned")}
		}},
}

// sumReader reads the form of a sum.
type sumReader struct {
	values map[string]string
	sum    Sum
	unit   quantity.Unit
	wrong  ledger.Problems
}

// some are fields as a worksheet has them; those that are left empty are left out.
func (r sumReader) some(keys ...string) map[string]any {
	out := map[string]any{}
	for _, key := range keys {
		if key == "diameter" {
			r.diameter(key)
		}
		i := slices.IndexFunc(r.sum.Fields, func(f form.Field) bool { return f.Key == key })
		f := r.sum.Fields[i]
		if len(f.Columns) == 1 {
			var list []any
			for _, cells := range Cells(r.values[key], 1) {
				if f.As == "number" {
					list = append(list, r.numeric(key, cells[0]))
				} else {
					list = append(list, cells[0])
				}
			}
			if list != nil {
				out[key] = list
			}
			continue
		}
		if v, ok := read(f, r.values[key], r.unit, key, r.wrong); ok {
			out[key] = v
		}
	}
	return out
}

// filled asks what fills a hole that is drilled over: a rivet that does not is bent in there,
// whatever the edge distance.
func (r sumReader) filled() {
	over := strings.TrimSpace(r.values["oversize"])
	if over == "" {
		return
	}
	hole, err := quantity.ParseLength(over, r.unit)
	thick, rivetErr := rivet.Diameter(r.values["fills"], r.unit)
	switch {
	case err != nil: // said at its own field
	case strings.TrimSpace(r.values["fills"]) == "":
		r.wrong.Add("fills", "which rivet fills the hole then? One that does not bends in there")
	case rivetErr != nil:
		r.wrong.Add("fills", rivetErr.Error())
	default:
		if why := (row.Fit{Hole: float64(hole), Rivet: float64(thick)}).Fills(); why != "" {
			r.wrong.Add("fills", why)
		}
	}
}

// diameter reads the diameter of a rivet or its hole: a dash number is told apart from a length.
func (r sumReader) diameter(key string) {
	text := strings.TrimSpace(r.values[key])
	if text == "" {
		return
	}
	d, err := rivet.Diameter(text, r.unit)
	if err != nil {
		r.wrong.Add(key, err.Error())
		return
	}
	if text[0] == '-' || text[0] == '#' {
		r.values[key] = quantity.Length(d).Text(quantity.Millimetre)
	}
}

// numeric reads a number at a field.
func (r sumReader) numeric(key, text string) float64 {
	v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(text), ",", ".", 1), 64)
	if err != nil {
		r.wrong.Add(key, "a number is wanted, as in 18.5")
	}
	return v
}

// number is a number that may be left out.
func (r sumReader) number(key string) *float64 {
	if strings.TrimSpace(r.values[key]) == "" {
		return nil
	}
	v := r.numeric(key, r.values[key])
	return &v
}

// said is a figure that is wanted, with a unit of its own or the usual one.
func (r sumReader) said(key string) float64 {
	i := slices.IndexFunc(r.sum.Fields, func(f form.Field) bool { return f.Key == key })
	v, ok := read(r.sum.Fields[i], r.values[key], r.unit, key, r.wrong)
	if !ok {
		return 0
	}
	return v.(float64)
}

// amount is what goes into a pot, by weight or by volume; nil where nothing is said.
func (r sumReader) amount(key string) *float64 {
	if strings.TrimSpace(r.values[key]) == "" {
		return nil
	}
	v, _, err := spoken.Measure(r.values[key], r.values["by"] == "volume")
	if err != nil {
		r.wrong.Add(key, err.Error())
	}
	return &v
}

// potUnit is the unit in which a pot was asked for, "" for none.
func potUnit(values map[string]string) string {
	for _, key := range []string{"total", "amount"} {
		if _, unit, err := spoken.Measure(values[key], values["by"] == "volume"); err == nil && unit != "" {
			return " " + unit
		}
	}
	return ""
}

// sumTool is the name of the instrument of a sum, of which the step may be known.
const sumTool = "as read"

// reading is a reading with the instrument of the sum.
func (r sumReader) reading(key string) map[string]any {
	if strings.TrimSpace(r.values[key]) == "" {
		r.wrong.Add(key, "is wanted")
	}
	return map[string]any{"value": strings.TrimSpace(r.values[key]), "instrument": sumTool}
}

// Worked is what came of a sum.
type Worked struct {
	Result measure.Result
	Kind   measure.Kind
	unit   string // of what goes into a pot, as it was typed
}

// Says are its figures in words.
func (w Worked) Says() (out []string) {
	for _, q := range w.Result.Quantities {
		name := check.SayHeadline(w.Kind, q)
		figure := check.Figure(q.Dimension, q.Value)
		if q.Dimension == measure.Length {
			figure = figure.Fine(2)
		}
		if q.U > 0 {
			figure = figure.Within(check.Coverage * q.U)
		}
		text := name + " " + figure.String()
		if q.Dimension == measure.Diameters {
			text += " D"
		}
		out = append(out, text)
	}
	if r := w.Result.Rivet; r != nil {
		if r.Choices != nil {
			out = append(out, "held by: "+strings.Join(append([]string{}, r.Choices...), ", "))
		}
		if r.CutTo != nil {
			out = append(out, "cut to "+say.Length(*r.CutTo).Fine(2).String())
		}
		if h := r.ShopHead; h != nil {
			out = append(out, fmt.Sprintf("shop head %s across (at least %s), %s high (at least %s)", say.Length(h.Diameter), say.Length(h.DiameterMin), say.Length(h.Height), say.Length(h.HeightMin)))
		}
	}
	switch w.Kind.Make().(type) {
	case *rivet.FlushStack:
		out = append(out, map[bool]string{true: "the layers nest", false: "the layers do not nest"}[w.Result.Verdict == measure.Go])
	case *measure.ShimStack:
		out = append([]string{check.SayStack(w.Result.Stack)}, out...)
	}
	for i, a := range w.Result.Amounts {
		decimals := 1
		if w.unit != "" && !slices.Contains([]string{" g", " ml"}, w.unit) { // an ounce is much
			decimals = 2
		}
		out = append(out, fmt.Sprintf("component %d: %s%s", i+1, say.Number(a, decimals), w.unit))
	}
	return out
}

// WorkOut works a sum out. Problems are by field; bare lengths are in the unit.
func (s Sum) WorkOut(values map[string]string, unit quantity.Unit) (Worked, error) {
	r := sumReader{values, s, unit, ledger.Problems{}}
	definition := s.definition(r)
	if err := r.wrong.Err(); err != nil {
		return Worked{}, err
	}
	kind, _ := worksheet.KindNamed(s.Kind)
	definition["kind"], definition["name"] = s.Kind, s.Title
	tool := map[string]any{"measures": "length"}
	if kind.Form().Angles {
		tool["measures"] = "angle"
	}
	if step := strings.TrimSpace(values["step"]); step != "" {
		tool["resolution"], tool["spread"] = step, step
	}
	doc, errs := worksheet.Read(document(unit, nil, map[string]map[string]any{sumTool: tool}, definition))
	for _, e := range errs {
		r.wrong.Add(s.fieldAt(e.Path), e.Message)
	}
	if err := r.wrong.Err(); err != nil {
		return Worked{}, err
	}
	return Worked{doc.Solve()[0].Result, kind, potUnit(values)}, nil
}

// fieldAt is the field of a sum that a path of its worksheet is about.
func (s Sum) fieldAt(path string) string {
	path = path[strings.LastIndex(path, "checks[0]")+len("checks[0]"):]
	path = strings.TrimPrefix(path, ".")
	for _, f := range s.Fields {
		which, rest, _ := strings.Cut(f.Key, "_")
		if strings.HasPrefix(path, f.Key) || strings.HasPrefix(path, which+".") && strings.Contains(path, rest) || path == "part.index" && f.Key == "index" || path == "part.amount" && f.Key == "amount" {
			return f.Key
		}
	}
	return ""
}
