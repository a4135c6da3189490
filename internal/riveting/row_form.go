package riveting

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/form"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/rivet"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/exchange"
	"orpine/internal/ledger"
	"orpine/internal/worksheet"
)

// RowFields are the fields of a row's form, in order. Layout: count and pitch, or the
// length of the part with edge distances, or CSV.
var RowFields = []form.Field{
	{Key: "layers", Label: "Layers, from the manufactured head inwards", As: "list", Columns: []string{"material", "thickness", "hole", "from", "to"}},
	{Key: "sort", Label: "What goes in", As: "word", Words: row.Sorts},
	{Key: "size", Label: "Diameter", As: "length"},
	{Key: "with", Label: "Of a nut plate: its two rivets", As: "word-free", Optional: true},
	{Key: "points", Label: "Of a bolt: its head lies", As: "word", Words: append([]string{""}, row.Points...), Optional: true},
	{Key: "works", Label: "Each hole is asked for", As: "word", Words: row.Works, Optional: true},
	{Key: "head", Label: "Head", As: "word", Words: []string{"domed", "flush"}},
	{Key: "metal", Label: "The rivet is of", As: "word", Words: row.Materials[:5]},
	{Key: "callouts", Label: "Call-outs of the plans: holes; length or code; head, where it differs", As: "list", Columns: []string{"holes", "call-out", "head there"}, Optional: true},
	{Key: "grips", Label: "Blind rivets on hand: code; least grip; greatest grip", As: "list", Columns: []string{"code", "from", "to"}, Optional: true},
	{Key: "edge", Label: "Edge distance", As: "length", Optional: true},
	{Key: "lay", Label: "They lie", As: "word", Words: []string{"", "line", "circle", "outline", "grid"}, Optional: true},
	{Key: "count", Label: "How many", As: "count", Optional: true},
	{Key: "pitch", Label: "or pitch, at most", As: "length", Optional: true},
	{Key: "first", Label: "First hole from the start", As: "length", Optional: true},
	{Key: "length", Label: "Between edges: length of the part", As: "length", Optional: true},
	{Key: "last", Label: "Between edges: last hole from the end", As: "length", Optional: true},
	{Key: "lines", Label: "Lines of a pattern", As: "count", Optional: true},
	{Key: "gauge", Label: "Lines apart", As: "length", Optional: true},
	{Key: "csv", Label: "Or the holes as CSV: hole,along,across,pose,keep for,keep until", As: "list", Columns: []string{"hole", "along"}, Optional: true},
	{Key: "sizing", Label: "How the holes come to their size", As: "word", Words: []string{"match drill", "final size as supplied"}},
	{Key: "sample", Label: "Final size: try every nth hole", As: "count", Optional: true},
	{Key: "pin", Label: "Pin every nth hole (3 unless said)", As: "count", Optional: true},
	{Key: "bowed", Label: "The parts spring apart", As: "word", Words: []string{"no", "yes"}},
	{Key: "reach", Label: "Its flanges face, or it is reached from", As: "word-free", Optional: true},
	{Key: "bucker", Label: "Hands", As: "word", Words: []string{"solo", "with a bucker"}},
	{Key: "poses", Label: "Holes reached only in another pose: holes; pose", As: "list", Columns: []string{"holes", "pose"}, Optional: true},
	{Key: "keep", Label: "Later parts need: holes; part; step", As: "list", Columns: []string{"holes", "later part", "later step"}, Optional: true},
	{Key: "view", Label: "Seen", As: "word", Words: []string{"from above", "from the left", "from ahead"}},
	{Key: "from", Label: "First hole", As: "list", Columns: []string{"station", "across"}, Optional: true},
	{Key: "to", Label: "Last hole", As: "list", Columns: []string{"station", "across"}, Optional: true},
}

// rowReader reads the texts of a row's form.
type rowReader struct {
	values map[string]string
	unit   quantity.Unit
	wrong  ledger.Problems
}

func (r rowReader) text(key string) string { return strings.TrimSpace(r.values[key]) }

func (r rowReader) length(key string) float64 {
	text := r.text(key)
	if text == "" {
		return 0
	}
	v, err := quantity.ParseLength(text, r.unit)
	if err != nil {
		r.wrong.Add(key, err.Error())
	}
	if v < 0 {
		r.wrong.Add(key, "must not be negative")
	}
	return float64(v)
}

func (r rowReader) count(key string) int {
	text := r.text(key)
	if text == "" {
		return 0
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 0 || n > row.MaxHoles {
		r.wrong.Add(key, fmt.Sprintf("a whole number up to %d is wanted", row.MaxHoles))
	}
	return n
}

// lines are the lines of a list, each with its columns; missing ones are empty.
func (r rowReader) lines(key string, columns int) [][]string {
	var out [][]string
	for i, line := range strings.Split(r.text(key), "\n") {
		if strings.TrimSpace(line) == "" {
			continue
		}
		cells := strings.Split(line, ";")
		if len(cells) > columns {
			r.wrong.Add(key, fmt.Sprintf("line %d has %d columns where %d are wanted", i+1, len(cells), columns))
			continue
		}
		for j := range cells {
			cells[j] = strings.TrimSpace(cells[j])
		}
		for len(cells) < columns {
			cells = append(cells, "")
		}
		out = append(out, cells)
	}
	return out
}

// run reads "4", "4-9" or "" (all) as the first and last hole; 0 is open.
func (r rowReader) run(key, text string) (from, to int) {
	if text == "" {
		return 0, 0
	}
	from, to, err := row.ParseRun(text)
	if err != nil {
		r.wrong.Add(key, err.Error())
	}
	return from, to
}

// numbers reads "4, 7, 9-12" as hole numbers.
func (r rowReader) numbers(key, text string) []int {
	out, err := row.ParseNumbers(text)
	if err != nil {
		r.wrong.Add(key, err.Error())
	}
	return out
}

// inches adds the unit to a bare fraction: hardware in fractions is of an inch, whatever
// the airframe's unit.
func inches(text string) string {
	if strings.Contains(text, "/") && !strings.ContainsAny(text, "im\"'′″") {
		return text + " in"
	}
	return text
}

// plan turns the form into a row, without its holes.
func (r rowReader) plan() row.Row {
	out := row.Row{Edge: r.length("edge"), Sample: max(r.count("sample"), 1), Pin: r.count("pin"), Reach: r.text("reach"),
		Final: r.text("sizing") == "final size as supplied", Bowed: r.text("bowed") == "yes", Bucker: r.text("bucker") == "with a bucker"}
	r.wrong.Text("reach", &out.Reach, ledger.MaxName, "")
	if how := r.text("lay"); how != "" && r.text("csv") == "" {
		out.How, out.Closed = how, row.Place{How: how}.Closed()
	}
	switch out.Works = r.text("works"); {
	case out.Works == "":
		out.Works = row.Works[0]
	case !slices.Contains(row.Works, out.Works):
		r.wrong.Add("works", "choose one of the list")
	}
	out.Layers = r.layers()
	out.Fastener = r.fastener()
	for _, cells := range r.lines("callouts", 3) {
		from, to := r.run("callouts", cells[0])
		if !slices.Contains([]string{"", "domed", "flush"}, cells[2]) {
			r.wrong.Add("callouts", fmt.Sprintf("%q: domed or flush", cells[2]))
		}
		if c, ok := rivet.ParseCode(cells[1]); ok && out.Fastener.Sort == "solid" {
			if d := float64(c.Diameter); math.Abs(d-out.Fastener.Diameter.MM) > 0.05 {
				r.wrong.Add("callouts", fmt.Sprintf("%s is %s thick, and the rivet of this row %s", cells[1], c.Diameter.Text(quantity.Inch), out.Fastener.Size))
			}
			cells[1] = c.Length.Text(quantity.Inch)
			if lies := c.Lies(); cells[2] == "" && lies != out.Fastener.Head {
				cells[2] = lies
			}
		} else if measured(out.Fastener) {
			if cells[1] = inches(cells[1]); r.unit == quantity.Inch && !strings.ContainsAny(cells[1], "im\"'′″") {
				cells[1] += " in" // a bare figure is in the airframe's unit
			}
		}
		if strings.HasPrefix(strings.TrimSpace(cells[1]), "-") {
			r.wrong.Add("callouts", cells[1]+": "+rivet.ErrNegative.Error())
		}
		out.CallOuts = append(out.CallOuts, row.CallOut{Text: cells[1], From: from, To: to, Head: cells[2]})
		if cells[1] == "" {
			r.wrong.Add("callouts", "holes; length, as in "+say.Example("1-20; 6 mm", "1-20; 1/4 in"))
		} else if measured(out.Fastener) {
			if _, err := quantity.ParseLength(cells[1], quantity.Millimetre); err != nil {
				r.wrong.Add("callouts", cells[1]+": "+err.Error())
			}
		}
	}
	return out
}

// measured tells whether a call-out is a length: of a solid rivet, or a bolt.
func measured(f row.Fastener) bool { return f.Sort == "solid" || f.Sort == "bolt" }

// Layers between these are usual, in mm: a third of a thin sheet, and three times a thick one.
const (
	thinnest = 0.1
	thickest = 10
)

// thin writes a thickness as sheets are called: 0.032 in, 0.8 mm.
func thin(mm float64, unit quantity.Unit) string {
	if unit == quantity.Inch {
		return quantity.Fixed(mm/25.4, 3) + " " + unit.String()
	}
	return quantity.Fixed(mm, 1) + " " + quantity.Millimetre.String()
}

func (r rowReader) layers() []row.Layer {
	var out []row.Layer
	for _, cells := range r.lines("layers", 5) {
		l := row.Layer{Material: cells[0], Hole: cells[2]}
		if !slices.Contains(row.Materials, l.Material) {
			r.wrong.Add("layers", fmt.Sprintf("%q: one of %s", l.Material, strings.Join(row.Materials, ", ")))
		}
		if l.Hole == "" {
			l.Hole = "plain"
		}
		if !slices.Contains([]string{"plain", "dimpled", "countersunk"}, l.Hole) {
			r.wrong.Add("layers", fmt.Sprintf("%q: plain, dimpled or countersunk", l.Hole))
		}
		v, err := quantity.ParseLength(cells[1], r.unit)
		switch {
		case err != nil:
			r.wrong.Add("layers", "thickness: "+err.Error())
		case v <= 0:
			r.wrong.Add("layers", "a thickness must be above 0")
		case (v < thinnest || v > thickest) && r.values["sure"] == "":
			r.wrong.Add("layers", fmt.Sprintf("%s is no usual thickness of a layer (%s to %s): is that so?", strings.TrimSpace(cells[1]), thin(thinnest, r.unit), thin(thickest, r.unit)))
		}
		l.Thickness = v
		l.From, _ = r.run("layers", cells[3])
		_, l.To = r.run("layers", cells[4])
		out = append(out, l)
	}
	if len(out) == 0 && r.text("callouts") == "" { // by its call-outs alone, its lengths are not checked
		r.wrong.Add("layers", "what lies on one another here? material; thickness; plain, dimpled or countersunk")
	}
	return out
}

func (r rowReader) fastener() row.Fastener {
	f := row.Fastener{Sort: r.text("sort"), Size: r.text("size"), Head: r.text("head"), Material: r.text("metal")}
	switch f.Sort {
	case "nut plate":
		if f.With = inches(r.text("with")); f.With == "" {
			r.wrong.Add("with", "which two rivets hold it: solid 3/32 × 1/4 in?")
		}
		r.wrong.Text("with", &f.With, ledger.MaxName, "")
	case "bolt":
		if f.Points = r.text("points"); !slices.Contains(row.Points, f.Points) {
			r.wrong.Add("points", "which way does its head lie?")
		}
	}
	for key, words := range map[string][]string{"sort": row.Sorts, "head": {"domed", "flush"}, "metal": row.Materials} {
		if !slices.Contains(words, r.text(key)) {
			r.wrong.Add(key, "choose one of the list")
		}
	}
	text := inches(f.Size)
	if d, ok, err := rivet.Drill(f.Size); ok {
		if err != nil {
			r.wrong.Add("size", err.Error())
		}
		f.Diameter = measure.Diameter{MM: float64(d)}
		return r.grips(f)
	}
	if bare, ok := strings.CutSuffix(text, " in"); ok && strings.Contains(bare, "/") {
		f.Size = bare // as everybody calls it
	}
	v, err := rivet.Diameter(text, r.unit)
	switch {
	case f.Size == "" && f.Sort == "blind" && r.text("callouts") != "": // its codes say which it is
	case f.Size == "":
		r.wrong.Add("size", "how thick is it: 1/8 in, or "+say.Example("3.2 mm", "0.125 in")+"?")
	case err != nil:
		r.wrong.Add("size", err.Error())
	case v <= 0:
		r.wrong.Add("size", "a rivet has a thickness")
	}
	if strings.HasPrefix(text, "-") { // a dash number, which everybody calls by its fraction
		f.Size = quantity.Length(v).Text(quantity.Inch)
		f.Size, _ = strings.CutSuffix(f.Size, " in")
	}
	f.Diameter = measure.Diameter{MM: float64(v), Metric: r.unit != quantity.Inch && !strings.ContainsAny(text, "/i\"-#")}
	return r.grips(f)
}

// grips reads what is on hand of blind rivets.
func (r rowReader) grips(f row.Fastener) row.Fastener {
	for _, cells := range r.lines("grips", 3) {
		low, errLow := quantity.ParseLength(cells[1], r.unit)
		high, errHigh := quantity.ParseLength(cells[2], r.unit)
		if cells[0] == "" || errLow != nil || errHigh != nil || low > high {
			r.wrong.Add("grips", "code; least grip; greatest grip, as in "+say.Example("B32-6; 1.6 mm; 3.2 mm", "B32-6; 1/16 in; 1/8 in"))
		}
		f.Grips = append(f.Grips, row.Grip{Code: cells[0], Min: low, Max: high})
	}
	if f.Sort == "blind" && len(f.Grips) == 0 && r.text("callouts") == "" {
		r.wrong.Add("grips", "a blind rivet is chosen by its grip: what is on hand?")
	}
	return f
}

// holes lays the holes out, from CSV or from a count, and marks those that stay open or
// are reached in another pose.
func (r rowReader) holes(final bool) []row.Hole {
	var holes []row.Hole
	if text := r.text("csv"); text == "" && r.text("lay") != "" {
		if holes = r.pointed(); holes == nil {
			return nil
		}
	} else if text != "" {
		var err error
		if holes, err = exchange.ReadHoles(text, r.unit); err != nil {
			r.wrong.Add("csv", err.Error())
			return nil
		}
	} else {
		layout := row.Layout{First: r.length("first"), Pitch: r.length("pitch"), Count: r.count("count"), Length: r.length("length"), Last: r.length("last"), Lines: r.count("lines"), Gauge: r.length("gauge")}
		var problems map[string]string
		holes, _, problems = layout.Holes()
		for field, message := range problems {
			r.wrong.Add(field, message)
		}
		if len(problems) > 0 {
			return nil
		}
	}
	at := func(key, text string, change func(h *row.Hole)) {
		for _, n := range r.numbers(key, text) {
			if n > len(holes) {
				r.wrong.Add(key, fmt.Sprintf("there is no hole %d: the row has %d", n, len(holes)))
				return
			}
			change(&holes[n-1])
		}
	}
	for _, cells := range r.lines("poses", 2) {
		if cells[1] == "" {
			r.wrong.Add("poses", "holes; pose, as in 12-15; on its back")
		}
		at("poses", cells[0], func(h *row.Hole) { h.Pose = cells[1] })
	}
	for _, cells := range r.lines("keep", 3) {
		if cells[1] == "" || cells[2] == "" {
			r.wrong.Add("keep", "holes; the later part; the later step, as in 9-12; fin fairing; fit the fairing")
		}
		at("keep", cells[0], func(h *row.Hole) { h.Keep = row.Keep{Part: cells[1], Step: cells[2]} })
	}
	if final {
		for i := range holes {
			holes[i].State = row.Sized
		}
	}
	return holes
}

// line is where the row lies on the drawing; the zero line where nothing is given.
func (r rowReader) line() airframe.Line {
	l := airframe.Line{View: "above"}
	switch r.text("view") {
	case "from the left":
		l.View = "left"
	case "from ahead":
		l.View = "ahead"
	}
	for key, into := range map[string]*[2]float64{"from": &l.From, "to": &l.To} {
		for _, cells := range r.lines(key, 2) {
			for i, text := range cells {
				v, err := worksheet.Typed(text, "length", r.unit)
				if err != nil {
					r.wrong.Add(key, err.Error())
				}
				into[i] = v
			}
		}
	}
	return l
}

// place is what was pointed at.
func (r rowReader) place() row.Place {
	line := r.line()
	return row.Place{How: r.text("lay"), From: line.From, To: line.To, Count: r.count("count"), Pitch: r.length("pitch"), Lines: r.count("lines")}
}

// pointed lays the holes out between the places that were pointed at; nil where that cannot
// be done, with the reason at the field.
func (r rowReader) pointed() []row.Hole {
	if !slices.Contains(row.Hows, r.text("lay")) {
		r.wrong.Add("lay", "line, circle, outline or grid?")
		return nil
	}
	for key, says := range map[string]string{"from": "point at the first hole, or type where it lies", "to": "point at the last hole, or type where it lies"} {
		if len(r.lines(key, 2)) == 0 {
			r.wrong.Add(key, says)
		}
	}
	place := r.place()
	if len(r.wrong) > 0 {
		return nil
	}
	holes, problems := place.Holes()
	for field, message := range problems {
		r.wrong.Add(field, message)
	}
	return holes
}

// laidLine is where the row lies: of a line from its first hole to its last; what goes round
// or covers an area is told from where one began, along the first axis of the view.
func (r rowReader) laidLine() airframe.Line {
	l := r.line()
	if how := r.text("lay"); how != "" && how != "line" && r.text("csv") == "" {
		l.To = [2]float64{l.From[0] + 1, l.From[1]}
	}
	return l
}

// beside questions a row that was pointed, or typed, far outside its part; "" where it lies on
// it, or someone is sure.
func (r rowReader) beside(part airframe.Shape, line airframe.Line) string {
	axes := map[string][2]int{"above": {0, 1}, "left": {0, 2}, "ahead": {1, 2}}[line.View]
	if r.text("sure") != "" || line.From == line.To || !part.Beside(line.From, axes) && !part.Beside(line.To, axes) {
		return ""
	}
	return "this lies far outside the part as it is drawn: see the drawing, and press below if it is right"
}

// laidOut are the fields that say where the holes lie and what is kept; they are of the
// layout, and not changed afterwards.
var laidOut = []string{"lay", "count", "pitch", "first", "length", "last", "lines", "gauge", "csv", "sizing", "poses", "keep"}

// PlanFields are the fields of a row's form that may be changed once it is laid out.
func PlanFields() []form.Field {
	return slices.DeleteFunc(slices.Clone(RowFields), func(f form.Field) bool { return slices.Contains(laidOut, f.Key) })
}

// Texts are the fields of a row's plan as they are typed.
func (r Row) Texts() map[string]string {
	run := func(from, to int) string {
		switch {
		case from == 0 && to == 0:
			return ""
		case from == to:
			return fmt.Sprint(from)
		}
		return fmt.Sprintf("%d-%d", from, to)
	}
	number := func(n int) string {
		if n == 0 {
			return ""
		}
		return fmt.Sprint(n)
	}
	var layers, callouts, grips []string
	for _, l := range r.Layers {
		layers = append(layers, strings.TrimRight(columns(l.Material, r.typical(l.Thickness), l.Hole, number(l.From), number(l.To)), "; "))
	}
	for _, c := range r.CallOuts {
		callouts = append(callouts, strings.TrimRight(columns(run(c.From, c.To), c.Text, c.Head), "; "))
	}
	for _, g := range r.Fastener.Grips {
		grips = append(grips, columns(g.Code, r.typical(g.Min), r.typical(g.Max)))
	}
	out := map[string]string{
		"layers": strings.Join(layers, "\n"), "callouts": strings.Join(callouts, "\n"), "grips": strings.Join(grips, "\n"), "with": r.Fastener.With, "points": r.Fastener.Points, "works": cmp.Or(r.Works, row.Works[2]), "sort": r.Fastener.Sort, "size": r.Fastener.Size, "head": r.Fastener.Head, "metal": r.Fastener.Material,
		"sample": number(r.Sample), "pin": number(r.Pin), "reach": r.Reach, "bowed": "no", "bucker": "solo", "view": "from above",
		"from": r.places(r.Line.From), "to": r.places(r.Line.To),
	}
	if r.Edge > 0 {
		out["edge"] = r.typical(quantity.Length(r.Edge))
	}
	if r.Bowed {
		out["bowed"] = "yes"
	}
	if r.Bucker {
		out["bucker"] = "with a bucker"
	}
	out["view"] = map[string]string{"above": "from above", "left": "from the left", "ahead": "from ahead"}[r.Line.View]
	return out
}

// columns parts texts by semicolons, as a list is typed.
func columns(texts ...string) string { return strings.Join(texts, "; ") }

// Ends are the fields of its first and its last hole, for a row in one line that is laid
// again by pointing; false where it is none.
func (r Row) Ends() (from, to string, ok bool) {
	long := math.Hypot(r.Line.To[0]-r.Line.From[0], r.Line.To[1]-r.Line.From[1])
	if long == 0 || len(r.Holes) == 0 || slices.ContainsFunc(r.Holes, func(h row.Hole) bool { return h.Across != 0 }) {
		return "", "", false
	}
	at := func(h row.Hole) string {
		t := h.Along / long
		return r.places([2]float64{r.Line.From[0] + t*(r.Line.To[0]-r.Line.From[0]), r.Line.From[1] + t*(r.Line.To[1]-r.Line.From[1])})
	}
	return at(r.Holes[0]), at(r.Holes[len(r.Holes)-1]), true
}

func (r Row) places(at [2]float64) string {
	return columns(r.typical(quantity.Length(at[0])), r.typical(quantity.Length(at[1])))
}

// typical writes a length in the unit of the airframe, to a ten-thousandth of an inch.
func (r Row) typical(l quantity.Length) string {
	if r.Airframe.Unit != quantity.Inch {
		return l.Text(quantity.Millimetre)
	}
	return strconv.FormatFloat(math.Round(float64(l)/25.4*1e4)/1e4, 'f', -1, 64) + " in"
}

// ReadFit reads what a hole was drilled over to, and what goes in, as typed: in the unit of
// the airframe, a fraction in inches, or a drill by its number. Problems are at fit.
func (s *Riveting) ReadFit(ctx context.Context, id, hole, size, dimple string) (row.Fit, error) {
	r, err := s.Row(ctx, id)
	if err != nil {
		return row.Fit{}, err
	}
	f, wrong := row.Fit{Size: strings.TrimSpace(size), Dimple: dimple}, ledger.Problems{}
	read := func(text, missing string) float64 {
		if text = strings.TrimSpace(text); text == "" {
			wrong.Add("fit", missing)
			return 0
		}
		if d, ok, err := rivet.Drill(text); ok {
			if err != nil {
				wrong.Add("fit", err.Error())
			}
			return float64(d)
		}
		v, err := quantity.ParseLength(inches(text), r.Airframe.Unit)
		if err != nil {
			wrong.Add("fit", err.Error())
		}
		return float64(v)
	}
	f.Hole = read(hole, "how wide is the hole now? Measure it, or name the drill")
	f.Rivet = read(size, "which rivet fills it?")
	if bare, ok := strings.CutSuffix(f.Size, " in"); ok && strings.Contains(bare, "/") {
		f.Size = bare // as everybody calls it
	}
	return f, wrong.Err()
}

// Preview lays a row out as far as its form is filled in, to be drawn: nothing is refused,
// and says is what it comes to.
func Preview(values map[string]string, unit quantity.Unit) (holes []row.Hole, line airframe.Line, says string) {
	r := rowReader{values, unit, ledger.Problems{}}
	if r.text("lay") == "" {
		return nil, line, ""
	}
	holes, line = r.pointed(), r.laidLine()
	if len(holes) < 2 {
		return holes, line, ""
	}
	pitch := math.Hypot(holes[1].Along-holes[0].Along, holes[1].Across-holes[0].Across)
	says = fmt.Sprintf("%d holes at %s", len(holes), say.Length(pitch))
	text := inches(r.text("size"))
	if v, err := quantity.ParseLength(text, unit); err == nil && v > 0 {
		says += fmt.Sprintf(" · pitch %s D", say.Number(pitch/float64(v), 1))
		if edge := r.length("edge"); edge > 0 {
			says += fmt.Sprintf(" · edge %s D", say.Number(edge/float64(v), 1))
		}
	}
	return holes, line, says
}
