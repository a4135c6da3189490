package measuring

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/form"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Now is something that is measured by itself, without an aircraft: its title is the
// question that one stands before.
type Now struct{ Kind, Title string }

// Nows are what may be measured at once, in the order of their kinds.
func Nows() (out []Now) {
	for _, k := range measure.Kinds {
		if n, ok := NowOf(k.Name); ok {
			out = append(out, n)
		}
	}
	return out
}

// NowOf is the one of that kind.
func NowOf(kind string) (Now, bool) {
	k, _ := worksheet.KindNamed(kind)
	title := k.Form().Now
	return Now{kind, title}, title != ""
}

// Form is the form of what is measured now: as few fields as will do, with the limits that
// are usual where one kind of part usually has them.
func (n Now) Form() CheckForm {
	t, _ := FormOf(n.Kind)
	t.Name = strings.TrimSuffix(n.Title, "?")
	for _, u := range UsualChecks {
		for _, c := range u.Checks {
			if c.Kind != n.Kind {
				continue
			}
			if t.Usual == nil {
				t.Usual = c.Usual
			}
			for i, l := range t.Limits {
				for _, usual := range c.Limits {
					if l.Quantity == usual.Quantity && l.Usual == "" {
						t.Limits[i].Usual = usual.Usual
					}
				}
			}
		}
	}
	if usual := formOf(n.Kind).Example; usual != nil {
		t.Usual = usual
	}
	return t
}

// Drawn fills in the form of what is measured now: what was not typed of where things are stands at usual proportions,
// which are told by their fields, and of what was typed in part the rest lies between. Limits are the usual ones
// until others are. A list of places along one line has so many of them as places says, 0 for as many as are usual.
func (n Now) Drawn(f Filled, places int, unit quantity.Unit) (Filled, []string) {
	t := n.Form()
	values, at := map[string]string{}, []string(nil)
	for _, field := range t.Fields() {
		typed, usual := f.Values[field.Key], t.Usual[field.Key]
		values[field.Key] = typed
		switch {
		case slices.Contains(formOf(n.Kind).Plans, field.Key) || field.Key == howLies:
		case field.Columns != nil:
			rows, waits := laidOut(field, typed, usual, places, unit)
			values[field.Key] = rows
			if waits {
				at = append(at, field.Key)
			}
		case strings.TrimSpace(typed) != "" || field.Optional:
		case field.As == "length":
			values[field.Key] = roundly(usual, unit)
			at = append(at, field.Key)
		default:
			values[field.Key] = usual
		}
	}
	f.Values, f.Take, f.Usual = values, true, true
	return f, at
}

// howLies is the field that says how a surface lies, which is never taken to be so.
const howLies = "lies"

// Line tells whether a field lists places along one line, of which there may be more or fewer.
func Line(field form.Field, usual string) bool {
	return len(field.Columns) > 1 && len(Cells(usual, len(field.Columns))) > 1 && !strings.Contains(strings.Join(field.Columns, " "), "x y") && slices.Contains([]string{"stations", "points"}, field.Key)
}

// The fewest and the most places of a line.
const (
	fewest = 2
	most   = 12
)

// Places is a number of places that a line may have; 0 where it may not.
func Places(n int) int {
	if n < fewest || n > most {
		return 0
	}
	return n
}

// Plans are the fields that only the plans know.
func (n Now) Plans() []string { return formOf(n.Kind).Plans }

// laidOut are the rows of a list as they are drawn, and whether a place of them stands at a usual proportion.
func laidOut(field form.Field, typed, usual string, places int, unit quantity.Unit) (rows string, waits bool) {
	columns := len(field.Columns)
	drawn, own := Cells(usual, columns), Cells(typed, columns)
	if Line(field, usual) && len(own) > 1 {
		if places < fewest {
			places = len(own)
		}
		own = recounted(own, places)
	}
	if places = min(most, places); Line(field, usual) && places >= fewest && places != len(drawn) {
		drawn = resampled(drawn, places)
	}
	for len(own) > len(drawn) {
		drawn = append(drawn, own[len(drawn)])
	}
	for len(own) < len(drawn) {
		own = append(own, make([]string, columns))
	}
	var lines []string
	for j := 1; j < columns; j++ {
		from, to := make([]float64, len(drawn)), make([]float64, len(drawn))
		known := 0
		for i := range drawn {
			from[i], to[i] = lengthOf(drawn[i][j], quantity.Millimetre), lengthOf(own[i][j], unit)
			if drawn[i][j] == "" {
				from[i] = math.NaN()
			}
			if own[i][j] == "" {
				to[i] = math.NaN()
			} else {
				known++
			}
		}
		between := spread(from, to)
		for i := range drawn {
			switch {
			case own[i][j] != "" || drawn[i][j] == "":
			case column(field, j).As == "length":
				own[i][j], waits = roundly(trimmed(between[i], 3), unit), true
				if known > 0 {
					own[i][j] = typedAs(between[i], unit)
				}
			default:
				own[i][j] = drawn[i][j]
			}
		}
	}
	for i := range drawn {
		if own[i][0] == "" {
			own[i][0] = drawn[i][0]
		}
		if own[i][0] == "" && columns > 1 {
			own[i][0] = fmt.Sprintf("place %d", i+1)
		}
		lines = append(lines, strings.TrimRight(strings.Join(own[i], "; "), "; "))
	}
	return strings.Join(lines, "\n"), waits
}

// recounted are so many rows of those that were typed: the first and the last stay.
func recounted(own [][]string, places int) [][]string {
	last := own[len(own)-1]
	out := slices.Clone(own[:min(len(own), places)-1])
	for len(out) < places-1 {
		out = append(out, make([]string, len(last)))
	}
	return append(out, last)
}

// resampled are so many places along the line that some places lie on: the ends keep their names.
func resampled(drawn [][]string, places int) (out [][]string) {
	first, last := drawn[0], drawn[len(drawn)-1]
	a, b := lengthOf(first[1], quantity.Millimetre), lengthOf(last[1], quantity.Millimetre)
	for i := range places {
		row := make([]string, len(first))
		row[0] = fmt.Sprintf("place %d", i+1)
		row[1] = trimmed(a+(b-a)*float64(i)/float64(places-1), 1)
		out = append(out, row)
	}
	out[0], out[places-1] = first, last
	return out
}

// spread lays places between those that are known as they lie in their usual proportions: from are the usual ones,
// to those that were said, NaN for none. The first stays where it is where nobody said it.
func spread(from, to []float64) []float64 {
	out := slices.Clone(from)
	var at []int
	for i := range to {
		if !math.IsNaN(to[i]) || len(at) == 0 && !math.IsNaN(from[i]) {
			at = append(at, i)
		}
	}
	if len(at) == 0 {
		return out
	}
	there := func(i int) float64 {
		if math.IsNaN(to[i]) {
			return from[i]
		}
		return to[i]
	}
	for i := range out {
		k := 0
		for k < len(at)-2 && i > at[k+1] {
			k++
		}
		a, b := at[k], at[min(k+1, len(at)-1)]
		scale := 1.0
		if from[a] != from[b] {
			scale = (there(b) - there(a)) / (from[b] - from[a])
		}
		out[i] = there(a) + scale*(from[i]-from[a])
	}
	return out
}

// roundly is a usual length, which is typed in millimetres, as one would say it in a unit: whole inches.
func roundly(usual string, unit quantity.Unit) string {
	mm := lengthOf(usual, quantity.Millimetre)
	if unit != quantity.Inch || math.IsNaN(mm) {
		return usual
	}
	if inches := mm / 25.4; math.Abs(inches) >= 2 || mm == 0 {
		return quantity.Fixed(math.Round(inches), 0)
	} else if math.Abs(inches) < 1./4 {
		return trimmed(inches, 3)
	}
	return Typical(mm, unit)
}

// typedAs writes a length as it would be typed.
func typedAs(mm float64, unit quantity.Unit) string {
	if unit == quantity.Inch {
		return Typical(mm, unit)
	}
	return trimmed(mm, 1)
}

// trimmed writes a figure without noughts behind it.
func trimmed(v float64, decimals int) string {
	text := quantity.Fixed(v, decimals)
	if strings.Contains(text, ".") {
		text = strings.TrimRight(strings.TrimRight(text, "0"), ".")
	}
	return text
}

// Setup is a setup of its own for what is measured now, without a hold: nothing becomes
// permanent by it. The fields of at stand at usual proportions. Problems are by "0.FIELD".
func (n Now) Setup(form ledger.Form, unit string, f Filled, at ...string) (NewSetup, ledger.Problems) {
	wrong := ledger.Problems{}
	t := n.Form()
	definition := t.Definition(0, f, unitOf(unit), wrong)
	check := NewCheck{Name: t.Name, Definition: definition, Instrument: f.Instrument, Assumed: f.assumedLimits(t)}
	if len(at) > 0 {
		check.Assumed = append(check.Assumed, atProportions+strings.Join(at, ", "))
	}
	return NewSetup{Form: form, Name: t.Name, Unit: unit, Checks: []NewCheck{check}}, wrong
}

// Sketch is what is measured now before anything of it is kept: a setup without an id, its instruments those of the
// shop and those that any shop has. What only the plans know is drawn as it usually is.
func (n Now) Sketch(f Filled, unit string, at []string, shop []instrument.Instrument) (Setup, error) {
	s := Setup{Name: n.Form().Name, Airframe: airframe.Airframe{Unit: unitOf(unit)}, State: 1, Instruments: slices.Clone(shop)}
	for _, k := range instrument.Quicks {
		if !slices.ContainsFunc(shop, func(in instrument.Instrument) bool { return in.Name == k.Name }) {
			s.Instruments = append(s.Instruments, k.Instrument())
		}
	}
	f.Values = maps.Clone(f.Values)
	for _, key := range formOf(n.Kind).Plans {
		if _, err := worksheet.Typed(f.Values[key], "either", s.unit()); err != nil {
			f.Values[key] = n.Form().Usual[key]
		}
	}
	made, wrong := n.Setup(ledger.Form{}, unit, f, at...)
	if err := wrong.Err(); err != nil {
		return s, err
	}
	c := made.Checks[0]
	c.Definition["name"] = c.Name
	fact, err := c.make("", "", 0, "")
	if err != nil {
		return s, err
	}
	if fact.Assumed == nil {
		fact.Assumed = []byte("[]")
	}
	row := query.Check{Name: c.Name, Kind: n.Kind, Definition: string(fact.Definition), InstrumentID: gate.Reference(f.Instrument), Accepts: string(fact.Accepts), Schools: "{}", Assumed: string(fact.Assumed)}
	loaded, err := loader{}.check(s, row, readings{})
	s.Checks = []Check{loaded}
	return s, err
}
