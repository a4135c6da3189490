package measuring

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/check"
	"orpine/internal/core/form"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/school"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/worksheet"
)

// Solve works out what the readings of a check of the setup say so far, the check by
// its place in the list. Points without all of their readings are left out. What was
// worked out of the same readings before is taken from there.
func (s *Setup) Solve(i int) {
	c := &s.Checks[i]
	key := s.rests(*c)
	o, ok := outcomes.Get(key)
	if !ok {
		o = s.solve(*c)
		o.hangs = s.hangs(*c, o)
		outcomes.Add(key, o)
	}
	c.filled, c.Solved, c.Result, c.Where, c.Problems = o.filled, o.solved, o.result, o.where, o.problems
	c.Late, c.Corrected, c.Hangs = s.Late(*c), o.taken, o.hangs
	unstated := append(slices.Clone(c.Unstated), s.surveyUnknown(*c)...)
	for _, key := range c.Hangs {
		unstated = append(unstated, c.labelOf(key))
	}
	if len(unstated) > 0 && c.Result != nil {
		unsettled := c.Result.Unsettled("nobody-stated", "nobody stated "+say.And(unstated...)+" yet: what the plans say decides, so this is no go")
		c.Result = &unsettled
	}
}

// assumed says what is taken to be so of the points of a check, because nobody said.
func assumed(definition map[string]any) (out []string) {
	usual(maps.Clone(definition), func(what, u string) {
		out = append(out, fmt.Sprintf("%s taken to lie within %s (u), for nobody said", what, u))
	})
	slices.Sort(out)
	return out
}

// Finer finds an instrument of the workshop that would decide a check that these cannot:
// "use level 2, in steps of 0.01°". Where none would, it says what would help.
func (s Setup) Finer(c Check) string {
	q, ok := c.Headline()
	if _, join := c.Joined(); join || !ok || c.filled == nil || q.Verdict != measure.Unsure || q.Placings > 0 || q.MovedPlacings() > 0 || q.Unseen || len(c.Used) == 0 {
		return ""
	}
	room := s.room(q) / (check.Coverage * q.U)
	if q.Limit.Holds(q.Value) && room < onTheLimit {
		return "move it further inside its limit, or ask the kit maker: it lies at the limit itself"
	}
	angle := c.Used[0].Angle
	for _, tool := range c.Used {
		if tool.Angle != angle {
			return ""
		}
	}
	for _, in := range s.Instruments {
		t := in.Tool()
		if in.Angle != angle || !in.Reads() || t.Unknown != "" || slices.ContainsFunc(c.Used, func(u check.Tool) bool { return u.ID == in.ID }) {
			continue
		}
		sheets := map[string]map[string]any{}
		for _, used := range c.Used {
			sheets[used.Name] = in.Worksheet() // as if it had read all of them
		}
		doc, errs := worksheet.Read(document(s.unit(), c.Judged, sheets, c.filled))
		if len(errs) > 0 {
			continue
		}
		result := doc.Solve()[0].Result
		for _, would := range result.Quantities {
			if would.Name == q.Name && would.At == q.At && would.Verdict == measure.Go {
				return fmt.Sprintf("use %s, in steps of %s", in.Name, in.Resolution)
			}
		}
	}
	if weak, ok := c.Weak(); ok && strings.HasPrefix(weak.Parts[0].Says, "the constant") && !angle {
		return fmt.Sprintf("prove %s against a standard length: its constant error is most of the doubt", c.Used[0].Name)
	}
	step := c.Used[0].Step * room
	return fmt.Sprintf("use something finer: a step and a spread of about %s would decide", finely(step, angle))
}

// onTheLimit is the share of its ± that a figure must lie inside a limit by for a finer
// instrument to be of use.
const onTheLimit = 0.1

// room is how much of a ± would fit between a value and its nearest limit.
func (s Setup) room(q measure.Quantity) float64 {
	room := math.Inf(1)
	if q.Limit.Low != nil {
		room = min(room, q.Value-*q.Limit.Low)
	}
	if q.Limit.High != nil {
		room = min(room, *q.Limit.High-q.Value)
	}
	return max(0, room)
}

// finely writes a step, to its first digit.
func finely(step float64, angle bool) string {
	decimals := max(0, int(math.Ceil(-math.Log10(max(step, 1e-4)))))
	if angle {
		return say.Angle(step).Fine(decimals).String()
	}
	return say.Length(step).Fine(decimals).String()
}

// outcome is what comes of solving a check. It is shared, and not changed any more.
type outcome struct {
	filled   map[string]any
	solved   measure.Check
	result   *measure.Result
	where    map[string]int
	problems []string
	taken    []measure.Line // the corrections
	hangs    []string       // fields in usual proportions on which it hangs
}

// outcomes are those of late, by all that they rest on: an entry and the page after it
// ask for the same.
var outcomes = ledger.Lately[[sha256.Size]byte, outcome]()

// rests sums up all that the outcome of a check rests on.
func (s Setup) rests(c Check) [sha256.Size]byte {
	h := sha256.New()
	held := false
	if t, ok := c.Input.(*measure.Twist); ok {
		held = t.Held
	}
	fmt.Fprintln(h, c.defined, held, s.unit(), c.Judged, c.Proportions)
	for _, spot := range c.Spots {
		for _, r := range spot.Counting() {
			fmt.Fprintln(h, spot.Number, r.Text, r.Instrument, r.Turned, r.Hung, r.Aid, r.Moved, r.At.UnixNano())
		}
	}
	for _, tool := range c.Used {
		fmt.Fprintln(h, tool.Name, s.tool(tool.Name), s.zeros[tool.ID])
	}
	fmt.Fprintln(h, s.Material, s.Temperature)
	if survey, ok := s.Check(c.Survey); ok {
		fmt.Fprintln(h, s.rests(survey))
	}
	return [sha256.Size]byte(h.Sum(nil))
}

func (s Setup) solve(c Check) (o outcome) {
	byKey := map[check.Key]check.Spot{}
	for _, spot := range c.Spots {
		byKey[spot.Key()] = spot
	}
	definition := maps.Clone(c.Definition)
	if t, ok := c.Input.(*measure.Twist); ok {
		definition["held"], definition["stiff"] = t.Held, c.Lies == check.LiesFree
	}
	var taken []measure.Line
	var slopes map[string]any
	if c.Survey != "" && c.Held {
		var err error
		if slopes, taken, err = s.slopes(c); err != nil {
			if c.Complete() {
				o.problems = []string{err.Error()}
			}
			return o
		}
	}
	filled, whole := fill(definition, c.Input.Walk(), func(at measure.Spot) (any, bool) {
		if slopes != nil && at.Field == "support" {
			slope, ok := slopes[at.Point]
			return slope, ok
		}
		spot := byKey[check.Key{List: at.List, Point: at.Point, Field: at.Field}]
		counting := spot.Counting()
		if len(counting) == 0 {
			return nil, false
		}
		if at.Sense == "figure" {
			return counting[len(counting)-1].Text, true
		}
		written, more := s.reading(spot, counting)
		taken = append(taken, more...)
		return written, true
	})
	if !whole {
		return o
	}
	usual(filled, nil)
	doc, errs := worksheet.Read(document(s.unit(), c.Judged, s.used(c), filled))
	if len(errs) > 0 {
		if c.Complete() {
			for _, e := range errs {
				o.problems = append(o.problems, e.Message)
			}
		}
		return o
	}
	o = outcome{filled: filled, solved: doc.Checks[0].Input, result: &doc.Solve()[0].Result, where: where(c.Spots, filled), taken: taken}
	if says := s.leans(c, filled, *o.result); says != "" {
		unsettled := o.result.Unsettled("first-and-blind-differ", says)
		o.result = &unsettled
	}
	return o
}

// leans says by how much a limited quantity by the first readings of all spots differs from that by the readings
// that were taken again; "" where that is chance, or not every spot was read again.
func (s Setup) leans(c Check, filled map[string]any, result measure.Result) say.Text {
	unknown := slices.ContainsFunc(c.Used, func(t check.Tool) bool { return t.Unknown != "" }) // what is not known must not accuse
	if unknown || c.Judged.Answer(school.Limits) != school.Guarded || result.Network != nil || len(c.Spots) == 0 || slices.ContainsFunc(c.Spots, func(spot check.Spot) bool { return len(spot.Counting()) < 2 }) {
		return ""
	}
	first, err := someOf(filled, func(values []any) []any { return values[:1] })
	later, wrong := someOf(filled, func(values []any) []any { return values[1:] })
	if err != nil || wrong != nil {
		return ""
	}
	doc, errs := worksheet.Read(document(s.unit(), c.Judged, s.used(c), first, later))
	if len(errs) > 0 {
		return ""
	}
	for _, q := range result.Quantities {
		if q.Limit == nil {
			continue
		}
		if by, ok := measure.Change(doc.Checks[0].Input, doc.Checks[1].Input, q.Name); ok && by.U > 0 && math.Abs(by.Value) > measure.Leaning*by.U {
			return fmt.Sprintf("by what was read first and what was read again, %s differs by %s: the first may have leaned to what was expected. Put readings in place of the first ones", strings.ReplaceAll(q.Name, "_", " "), check.Figure(by.Dimension, math.Abs(by.Value)).Within(check.Coverage*by.U))
		}
	}
	return ""
}

// someOf is a filled check with some placings of each reading.
func someOf(filled map[string]any, of func(values []any) []any) (out map[string]any, err error) {
	text, err := json.Marshal(filled)
	if err == nil {
		err = json.Unmarshal(text, &out)
	}
	some(out, of)
	return out, err
}

func some(v any, of func(values []any) []any) {
	switch v := v.(type) {
	case map[string]any:
		if values, ok := v["values"].([]any); ok {
			if values = of(values); len(values) < 2 {
				delete(v, "moved")
			}
			v["values"] = values
			return
		}
		for _, inner := range v {
			some(inner, of)
		}
	case []any:
		for _, inner := range v {
			some(inner, of)
		}
	}
}

// reading writes the placings of a spot that count as a reading of a worksheet, with all
// that the setup knows of them.
func (s Setup) reading(at check.Spot, counting []check.Reading) (out map[string]any, taken []measure.Line) {
	in := s.tool(counting[0].Instrument)
	step := in.Tool().Step
	counting, aid := aided(at, counting, in)
	out = map[string]any{"instrument": in.Name}
	var texts []string
	nudge, zero, zeroed := 0.0, 0.0, 0
	for _, r := range counting {
		heard, err := listen(r.Text, at.Sense, s.unit(), step)
		if err != nil { // the step was another when it was taken
			heard = said{text: in.Exactly(r.Value)}
		}
		if heard.between[0] != "" {
			out["between"] = heard.between[:]
			texts, nudge = nil, 0
			break // two marks say more than any placing
		}
		texts = append(texts, heard.text)
		nudge += heard.nudge * step / float64(len(counting))
		if zeros := s.zeros[in.ID]; len(zeros) > 0 {
			zero, zeroed = zero+in.When(zeros, r.At).Zero, zeroed+1
		}
	}
	if texts != nil {
		out["values"] = texts
	}
	if counting[0].Turned {
		out["turned"] = true
	}
	if texts != nil && check.Moved(counting) {
		out["moved"] = true
	}
	if zeroed > 0 {
		if zero /= float64(zeroed); math.Abs(zero-float64(in.Zero)) > sameZero {
			out["zero"] = in.Exactly(zero)
		}
	}
	var more []any
	for _, c := range append(s.corrections(in, check.Mean(counting), nudge, counting[0].Hung), aid...) {
		more, taken = append(more, corrected(in, c)), append(taken, shown(at, c))
	}
	if more != nil {
		out["corrections"] = more
	}
	return out, taken
}

// sameZero is the difference in degrees below which two zeros are one.
const sameZero = 1e-9

// usual fills in what is usual of the points of a check that does not say it, and tells
// what it was.
func usual(definition map[string]any, tell func(what, u string)) {
	kind, _ := definition["kind"].(string)
	for field, a := range formOf(kind).Assumes {
		if definition[field] == nil {
			definition[field] = a.Typed
			if tell != nil {
				tell(a.What, a.Typed)
			}
		}
	}
}

// used are the instruments of the readings that count, by name: of a level that drifted
// between its tests with a zero that is less well known.
func (s Setup) used(checks ...Check) map[string]map[string]any {
	used := map[string]map[string]any{}
	for _, c := range checks {
		for _, tool := range c.Used {
			if used[tool.Name] != nil {
				continue
			}
			in := s.tool(tool.Name)
			sheet := in.Worksheet()
			if changed := s.drifted(in, checks); changed != 0 {
				sheet["zero_u"] = measure.DriftU(in.ZeroU(), 0, changed)
			}
			used[tool.Name] = sheet
		}
	}
	return used
}

// drifted is by how much the zero of a level changed at most while checks were read.
func (s Setup) drifted(in instrument.Instrument, checks []Check) (most float64) {
	each(checks, in.Name, func(r check.Reading) {
		if changed := in.When(s.zeros[in.ID], r.At).Changed; math.Abs(changed) > math.Abs(most) {
			most = changed
		}
	})
	return most
}

// each calls for the readings that count which an instrument took.
func each(checks []Check, instrument string, call func(check.Reading)) {
	for _, c := range checks {
		for _, spot := range c.Spots {
			for _, r := range spot.Counting() {
				if r.Instrument == instrument {
					call(r)
				}
			}
		}
	}
}

// Late says which level of a check was read long after its end-for-end test, with none
// after it; "" for none.
func (s Setup) Late(c Check) string {
	for _, tool := range c.Used {
		var most time.Duration
		each([]Check{c}, tool.Name, func(r check.Reading) {
			most = max(most, s.tool(tool.Name).When(s.zeros[tool.ID], r.At).Late)
		})
		if most > 0 {
			return fmt.Sprintf("%s was read %.0f hours after it was turned end for end: turn it once more, and what it drifted is taken off", tool.Name, most.Hours())
		}
	}
	return ""
}

// proofs are how the instruments of a check are proven for its readings, and zeroed which level
// was found to have moved since them.
func (s Setup) proofs(c Check) (out []hold.InstrumentState, zeroed string) {
	for _, tool := range c.Used {
		in := s.tool(tool.Name)
		state := hold.InstrumentState{ID: in.ID, Name: in.Name, Angle: in.Angle, Days: in.DueDays, Usual: in.AssumesOffset(), Asked: c.Judged.Answer(school.Instruments) == school.Proven}
		each([]Check{c}, tool.Name, func(r check.Reading) {
			test, gap := in.OffsetAt, max(0, r.At.Sub(in.OffsetAt))
			if in.Angle {
				then := in.When(s.zeros[in.ID], r.At)
				test, gap = then.Test, then.Gap
				if then.Moved && zeroed == "" {
					zeroed = fmt.Sprintf("%s was found to have moved since it read: turn it end for end and read again", in.Name)
				}
			}
			if state.Tested.IsZero() || gap > state.Gap {
				state.Tested, state.Gap = test, gap
			}
		})
		out = append(out, state)
	}
	return out, zeroed
}

// where finds the spots by their place in the filled check, such as stations[2].angle.
func where(spots []check.Spot, filled map[string]any) map[string]int {
	out := map[string]int{}
	index := map[string]map[string]int{}
	for _, spot := range spots {
		if spot.List == "" {
			out[spot.Field] = spot.Number
			continue
		}
		if index[spot.List] == nil {
			index[spot.List] = map[string]int{}
			for i, item := range form.Items(*listIn(filled, spot.List)) {
				index[spot.List][form.NameOf(item)] = i
			}
		}
		if i, ok := index[spot.List][spot.Point]; ok {
			out[fmt.Sprintf("%s[%d].%s", spot.List, i, spot.Field)] = spot.Number
		}
	}
	return out
}

// Before is the check before the step that this one repeats.
func (s Setup) Before(c Check) (Check, bool) {
	if c.AfterOf == "" {
		return Check{}, false
	}
	return s.Check(c.AfterOf)
}

// Changed is by how much the headline of a check after the step differs from the
// one before; nil while either is not complete, or not worked out.
func (s Setup) Changed(c Check) *check.Change {
	earlier, has := s.Before(c)
	if !has || earlier.Result == nil || c.Result == nil {
		return nil
	}
	doc, errs := worksheet.Read(document(s.unit(), c.Judged, s.used(earlier, c), earlier.filled, c.filled))
	headline, _ := c.Headline()
	before, found := earlier.Result.Quantity(headline.Name)
	if len(errs) > 0 || !found {
		return nil
	}
	by, ok := measure.Change(doc.Checks[0].Input, doc.Checks[1].Input, headline.Name)
	if !ok {
		return nil
	}
	return &check.Change{Before: before, By: by}
}

// fill puts readings into a copy of a definition. A point of a list that lacks
// one is left out; whole is false when a reading outside any list is missing.
func fill(definition map[string]any, spots []measure.Spot, reading func(measure.Spot) (any, bool)) (filled map[string]any, whole bool) {
	filled, whole = form.Clone(definition).(map[string]any), true
	points := map[string]map[string]map[string]any{} // list, name, point
	for _, spot := range spots {
		if spot.List != "" && points[spot.List] == nil {
			points[spot.List] = byName(*listIn(filled, spot.List))
		}
		value, ok := reading(spot)
		switch {
		case spot.List == "" && ok:
			outer, inner, nested := strings.Cut(spot.Field, ".")
			if object, is := filled[outer].(map[string]any); nested && is {
				object[inner] = value
			} else {
				filled[spot.Field] = value
			}
		case spot.List == "":
			if marker, is := filled[spot.Field].(map[string]any); is && len(marker) == 0 {
				delete(filled, spot.Field) // it may be left unread
			} else {
				whole = false
			}
		case ok && points[spot.List][spot.Point] != nil:
			points[spot.List][spot.Point][spot.Field] = value
		default:
			points[spot.List][spot.Point] = nil
		}
	}
	for list, kept := range points {
		at := listIn(filled, list)
		*at = slices.DeleteFunc(*at, func(v any) bool {
			item, _ := v.(map[string]any)
			return kept[form.NameOf(item)] == nil
		})
	}
	return filled, whole
}

// listIn finds a list of a check, as "points" or within an object as "first.points".
func listIn(check map[string]any, path string) *[]any {
	outer, inner, nested := strings.Cut(path, ".")
	if nested {
		if object, ok := check[outer].(map[string]any); ok {
			return listIn(object, inner)
		}
		return new([]any)
	}
	if found, ok := check[path].(*[]any); ok {
		return found
	}
	values, _ := check[path].([]any)
	check[path] = &values // so that what is left out of it shows
	return &values
}

// byName finds the points of a list by their names.
func byName(values []any) map[string]map[string]any {
	out := map[string]map[string]any{}
	for _, v := range values {
		if item, ok := v.(map[string]any); ok {
			out[form.NameOf(item)] = item
		}
	}
	return out
}

// document makes a worksheet of checks, judged as those schools have it.
func document(unit quantity.Unit, judged school.Choice, used map[string]map[string]any, checks ...map[string]any) map[string]any {
	instruments := map[string]any{}
	for name, in := range used {
		instruments[name] = in
	}
	if checks == nil {
		checks = []map[string]any{}
	}
	return map[string]any{
		"format": worksheet.Format, "version": worksheet.Version, "units": map[string]any{"length": unit.String()},
		"decision":    map[string]any{"rule": judged.Answer(school.Limits), "coverage": check.Coverage},
		"instruments": instruments, "checks": checks,
	}
}

// Worksheet writes a setup that is worked out as a worksheet: the readings that count,
// as typed.
func (s Setup) Worksheet() ([]byte, error) {
	var checks []map[string]any
	var solved []Check
	judged := school.Choice{school.Limits: school.Plain} // one rule for a worksheet: guarded unless every check is plain
	for _, c := range s.Checks {
		if c.filled == nil {
			continue
		}
		if c.Judged.Answer(school.Limits) == school.Guarded {
			judged[school.Limits] = school.Guarded
		}
		checks, solved = append(checks, c.filled), append(solved, c)
	}
	return json.MarshalIndent(document(s.unit(), judged, s.used(solved...), checks...), "", "  ")
}
