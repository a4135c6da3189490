package worksheet

import (
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/tree"
)

// decoder fills the input structs of package measure from a document. A field's
// tag ws:"name", ws:"name,optional" or ws:"name,read" says how the worksheet spells it;
// as:"pitch" (cross-level, either, length, plain) what a quantity or reading
// describes; oneof:"ends best" the words that a text may be.
type decoder struct {
	errors      []Error
	unit        quantity.Unit
	instruments map[string]*measure.Instrument
	instrument  *measure.Instrument // of the check in hand
	readings    int
	as          string // of a field whose sibling says what it describes
	definition  bool   // readings may be missing: a check that is still to be measured
}

var (
	lengthType  = reflect.TypeFor[quantity.Length]()
	angleType   = reflect.TypeFor[quantity.Angle]()
	readingType = reflect.TypeFor[measure.Reading]()
	severalType = reflect.TypeFor[measure.Readings]()
	slopeType   = reflect.TypeFor[measure.Slope]()
	givenType   = reflect.TypeFor[measure.Given]()
	expandsType = reflect.TypeFor[measure.Expansion]()
	figureType  = reflect.TypeFor[measure.Figure]()
	acrossType  = reflect.TypeFor[measure.Diameter]()
)

// isReading tells whether a field holds what is still to be read.
func isReading(t reflect.Type) bool {
	if t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	return t == readingType || t == severalType || t == slopeType || t == givenType
}

func (d *decoder) report(path, message string) {
	d.errors = append(d.errors, Error{path, message})
}

// object fills a struct from an object, skipping fields that someone else
// reads, and reports unknown and missing ones.
func (d *decoder) object(path string, n *tree.Node, into reflect.Value, others ...string) {
	if !n.IsObject() {
		d.report(path, "is "+n.What()+" where an object is wanted")
		return
	}
	known := others
	for i := range into.NumField() {
		field := into.Type().Field(i)
		name, option := tag(field)
		if name != "" {
			known = append(known, name)
		}
		value := n.Member(name)
		switch {
		case name == "": // filled by its parent's own rule
		case value != nil && asOf(field, n) == "unknown":
			// its sibling that says what it measures is wrong, and reported
		case value != nil:
			d.as = asOf(field, n)
			d.field(tree.Join(path, name), value, into.Field(i), field)
		case option != "optional" && !(d.definition && (option == "read" || isReading(field.Type))):
			d.report(tree.Join(path, name), "is missing")
		}
	}
	d.unknown(path, n, known)
}

func (d *decoder) unknown(path string, n *tree.Node, known []string) {
	for _, m := range n.Members {
		if !slices.Contains(known, m.Name) {
			d.report(tree.Join(path, m.Name), "is not a field here; known are "+strings.Join(known, ", "))
		}
	}
}

// tag reads a field's name in the format, and whether it is optional, or is read
// on the part although it is a plain figure (read).
func tag(field reflect.StructField) (name, option string) {
	name, option, _ = strings.Cut(field.Tag.Get("ws"), ",")
	return name, option
}

// asOf reads what a field describes: its tag, or as its tag says by a sibling, as
// in as:"type: distance=length roll=cross-level".
func asOf(field reflect.StructField, n *tree.Node) string {
	if sibling, either, by := strings.Cut(field.Tag.Get("as"), "?"); by {
		with, without, _ := strings.Cut(either, ":")
		if n.Member(sibling) != nil {
			return with
		}
		return without
	}
	sibling, words, chosen := strings.Cut(field.Tag.Get("as"), ": ")
	if !chosen {
		return sibling
	}
	member := n.Member(sibling)
	if member == nil {
		return "unknown"
	}
	for _, word := range strings.Fields(words) {
		if name, as, _ := strings.Cut(word, "="); member.Value == name {
			return as
		}
	}
	return "unknown"
}

// field fills one field of any of the types that inputs are made of.
func (d *decoder) field(path string, n *tree.Node, into reflect.Value, field reflect.StructField) {
	if into.Kind() == reflect.Pointer {
		value := reflect.New(into.Type().Elem())
		before := len(d.errors)
		d.field(path, n, value.Elem(), field)
		if len(d.errors) == before {
			into.Set(value)
		}
		return
	}
	as := field.Tag.Get("as")
	if strings.ContainsAny(as, "=?") {
		as = d.as
	}
	switch into.Type() {
	case lengthType:
		into.SetFloat(d.quantity(path, n, "length"))
		return
	case angleType, figureType:
		into.SetFloat(d.quantity(path, n, as))
		return
	case acrossType:
		into.Set(reflect.ValueOf(measure.Diameter{MM: d.quantity(path, n, "length"), Metric: d.metric(n)}))
		return
	case readingType:
		into.Set(reflect.ValueOf(d.reading(path, n, as)))
		return
	case slopeType:
		d.slope(path, n, into, as)
		return
	case givenType:
		d.given(path, n, into, as)
		return
	case expandsType:
		d.expansion(path, n, into, field)
		return
	case severalType:
		if !n.IsArray() {
			into.Set(reflect.ValueOf(measure.Readings{d.reading(path, n, as)}))
			return
		}
		for i, item := range n.Items {
			into.Set(reflect.Append(into, reflect.ValueOf(d.reading(path+"["+strconv.Itoa(i)+"]", item, as))))
		}
		return
	}
	switch into.Kind() {
	case reflect.Struct:
		d.object(path, n, into)
	case reflect.Slice:
		d.list(path, n, into, field)
	case reflect.String:
		into.SetString(d.text(path, n, field.Tag.Get("oneof")))
	case reflect.Bool:
		if b, ok := n.Value.(bool); ok {
			into.SetBool(b)
		} else {
			d.report(path, "is "+n.What()+" where true or false is wanted")
		}
	case reflect.Int:
		into.SetInt(int64(d.whole(path, n)))
	case reflect.Float64:
		into.SetFloat(d.number(path, n))
	default:
		panic("worksheet: no rule for a field of type " + into.Type().String())
	}
}

// metricUnit ends a length that was typed in millimetres, centimetres or metres.
var metricUnit = regexp.MustCompile(`(?i)[0-9.,\s](mm|cm|m)\s*$`)

// anyUnit is in a length that was typed with a unit.
var anyUnit = regexp.MustCompile(`(?i)[a-z"'″′]`)

// metric tells whether a length was given in metric units: by its own, or else by
// the document's.
func (d *decoder) metric(n *tree.Node) bool {
	text, ok := n.Value.(string)
	if ok && anyUnit.MatchString(text) {
		return metricUnit.MatchString(text)
	}
	return d.unit == quantity.Millimetre
}

// slope reads an angle, or an object of two heights and their spacing.
func (d *decoder) slope(path string, n *tree.Node, into reflect.Value, as string) {
	if n.Member("front") != nil || n.Member("rear") != nil || n.Member("spacing") != nil {
		d.object(path, n, into)
		return
	}
	if d.definition && n.IsObject() && len(n.Members) == 0 {
		return // an angle that is still to be read
	}
	r := d.reading(path, n, as)
	into.Set(reflect.ValueOf(measure.Slope{Angle: &r}))
}

// given reads a reading, or an object with a value and its u.
func (d *decoder) given(path string, n *tree.Node, into reflect.Value, as string) {
	u := n.Member("u")
	if u == nil {
		r := d.reading(path, n, as)
		into.Set(reflect.ValueOf(measure.Given{Reading: &r}))
		return
	}
	d.unknown(path, n, []string{"value", "u"})
	g := measure.Given{U: quantity.Angle(d.quantity(tree.Join(path, "u"), u, "plain"))}
	if value := n.Member("value"); value != nil {
		g.Value = quantity.Angle(d.quantity(tree.Join(path, "value"), value, as))
	} else {
		d.report(tree.Join(path, "value"), "is missing")
	}
	into.Set(reflect.ValueOf(g))
}

// expansion reads the name of a material, or an object with its alpha.
func (d *decoder) expansion(path string, n *tree.Node, into reflect.Value, field reflect.StructField) {
	if n.IsObject() {
		d.object(path, n, into)
		return
	}
	into.Set(reflect.ValueOf(measure.Expansion{Material: d.text(path, n, field.Tag.Get("oneof"))}))
}

// list fills a slice; names in it must differ.
func (d *decoder) list(path string, n *tree.Node, into reflect.Value, field reflect.StructField) {
	if !n.IsArray() {
		d.report(path, "is "+n.What()+" where a list is wanted")
		return
	}
	into.Set(reflect.MakeSlice(into.Type(), len(n.Items), len(n.Items)))
	names := map[string]bool{}
	for i, item := range n.Items {
		at := path + "[" + strconv.Itoa(i) + "]"
		d.field(at, item, into.Index(i), field)
		name := item.Member("name")
		if name == nil {
			continue
		}
		if text, ok := name.Value.(string); ok {
			if names[text] {
				d.report(at+".name", fmt.Sprintf("%q is used twice in this list", text))
			}
			names[text] = true
		}
	}
}

func (d *decoder) text(path string, n *tree.Node, oneOf string) string {
	text, ok := n.Value.(string)
	switch {
	case !ok:
		d.report(path, "is "+n.What()+" where text is wanted")
	case oneOf != "" && !slices.Contains(strings.Fields(oneOf), text):
		d.report(path, fmt.Sprintf("%q is not one of %s", text, strings.Join(strings.Fields(oneOf), ", ")))
	}
	return text
}

func (d *decoder) whole(path string, n *tree.Node) int {
	number, ok := n.Value.(json.Number)
	if !ok {
		d.report(path, "is "+n.What()+" where a whole number is wanted")
		return 0
	}
	whole, err := strconv.Atoi(number.String())
	if err != nil {
		d.report(path, number.String()+" is not a whole number")
	}
	return whole
}

// number reads a plain number, in the document's or in no unit.
func (d *decoder) number(path string, n *tree.Node) float64 {
	number, ok := n.Value.(json.Number)
	if !ok {
		d.report(path, "is "+n.What()+" where a number is wanted")
		return 0
	}
	v, err := number.Float64()
	if err != nil {
		d.report(path, number.String()+" is too large")
		return 0
	}
	return v
}

// senses are the words of the `as` tags that mean an angle.
var senses = map[string]quantity.Sense{
	"": quantity.Plain, "plain": quantity.Plain, "cross-level": quantity.CrossLevel, "pitch": quantity.Pitch, "either": quantity.Either,
}

// quantity reads a number in the document's units or text as typed, and returns
// millimetres or degrees.
func (d *decoder) quantity(path string, n *tree.Node, as string) float64 {
	var v float64
	var err error
	switch value := n.Value.(type) {
	case json.Number:
		v, err = d.bare(value, as == "length")
	case string:
		v, err = Typed(value, as, d.unit)
	default:
		err = fmt.Errorf("is %s where a number or text as typed is wanted", n.What())
	}
	if err != nil {
		d.report(path, err.Error())
		return 0
	}
	return v
}

// Typed reads a length or an angle as typed; as is length or the sense of the
// angle (plain, cross-level, pitch, either); figure is a length too.
func Typed(text, as string, unit quantity.Unit) (float64, error) {
	if as == "length" || as == "figure" {
		l, err := quantity.ParseLength(text, unit)
		return float64(l), err
	}
	a, err := quantity.ParseAngle(text, senses[as])
	return float64(a), err
}

// bare reads a JSON number, which may have an exponent.
func (d *decoder) bare(number json.Number, length bool) (float64, error) {
	v, err := number.Float64()
	if err != nil {
		return 0, fmt.Errorf("%s is too large", number)
	}
	bound := float64(quantity.MaxAngle)
	if length {
		bound = float64(quantity.MaxLength)
		if d.unit == quantity.Inch {
			v *= 25.4
		}
	}
	if math.Abs(v) > bound {
		return 0, fmt.Errorf("%s is beyond what is taken for a reading (±1000 m, ±360°)", number)
	}
	return v, nil
}

// reading reads a quantity, or an object with value or values.
func (d *decoder) reading(path string, n *tree.Node, as string) measure.Reading {
	d.readings++
	if d.readings == MaxReadings+1 {
		d.report(path, fmt.Sprintf("more than %d readings", MaxReadings))
	}
	dimension := measure.Angle
	if as == "length" {
		dimension = measure.Length
	}
	r := measure.Reading{Where: belowCheck(path)}
	if d.instrument != nil && d.instrument.Measures == dimension {
		r.Instrument = d.instrument
	}
	if !n.IsObject() {
		r.Values = []float64{d.quantity(path, n, as)}
		return r
	}
	if d.definition && len(n.Members) == 0 {
		return r // still to be read
	}
	d.unknown(path, n, []string{"value", "values", "between", "moved", "instrument", "turned", "zero", "corrections"})
	r.Values, r.Between = d.values(path, n, as)
	if moved := n.Member("moved"); moved != nil {
		var ok bool
		if r.Moved, ok = moved.Value.(bool); !ok {
			d.report(tree.Join(path, "moved"), "is "+moved.What()+" where true or false is wanted")
		} else if n.Member("values") == nil {
			d.report(tree.Join(path, "moved"), "is of several placings, and stands beside values alone")
		}
	}
	if turned := n.Member("turned"); turned != nil {
		var ok bool
		if r.Turned, ok = turned.Value.(bool); !ok {
			d.report(tree.Join(path, "turned"), "is "+turned.What()+" where true or false is wanted")
		}
	}
	if name := n.Member("instrument"); name != nil {
		if r.Instrument = nil; !name.IsNull() {
			r.Instrument = d.named(tree.Join(path, "instrument"), name)
		}
		if r.Instrument != nil && r.Instrument.Measures != dimension {
			d.report(tree.Join(path, "instrument"), fmt.Sprintf("%q measures the other dimension", r.Instrument.Name))
		}
	}
	either := "either"
	if as == "length" {
		either = as
	}
	if zero := n.Member("zero"); zero != nil {
		v := d.quantity(tree.Join(path, "zero"), zero, either)
		r.Zero = &v
	}
	if corrections := n.Member("corrections"); corrections != nil {
		r.Corrections = d.corrections(tree.Join(path, "corrections"), corrections, either)
	}
	return r
}

// corrections reads what is added to a reading.
func (d *decoder) corrections(path string, n *tree.Node, as string) []measure.Correction {
	switch {
	case !n.IsArray():
		d.report(path, "is "+n.What()+" where a list is wanted")
		return nil
	case len(n.Items) > measure.MaxCorrections:
		d.report(path, fmt.Sprintf("more than %d corrections", measure.MaxCorrections))
		return nil
	}
	out := make([]measure.Correction, len(n.Items))
	for i, item := range n.Items {
		at := path + "[" + strconv.Itoa(i) + "]"
		if !item.IsObject() {
			d.report(at, "is "+item.What()+" where an object is wanted")
			continue
		}
		d.unknown(at, item, []string{"why", "value", "u", "common"})
		for field, into := range map[string]*string{"why": &out[i].Why, "common": &out[i].Common} {
			if text := item.Member(field); text != nil {
				*into = d.text(tree.Join(at, field), text, "")
			} else if field == "why" {
				d.report(tree.Join(at, field), "is missing")
			}
		}
		if value := item.Member("value"); value != nil {
			out[i].Value = d.quantity(tree.Join(at, "value"), value, as)
		} else {
			d.report(tree.Join(at, "value"), "is missing")
		}
		if u := item.Member("u"); u != nil {
			if out[i].U = d.quantity(tree.Join(at, "u"), u, map[bool]string{true: "length", false: "plain"}[as == "length"]); out[i].U < 0 {
				d.report(tree.Join(at, "u"), "must not be negative")
			}
		}
	}
	return out
}

// belowCheck is a place below its check: "stations[1].angle" of
// "checks[0].stations[1].angle".
func belowCheck(path string) string {
	_, below, _ := strings.Cut(path, ".")
	return below
}

// values reads value, values or between, of a reading given as an object. What lies between
// two marks has their middle for its value.
func (d *decoder) values(path string, n *tree.Node, as string) (values []float64, ends *[2]float64) {
	value, list, between := n.Member("value"), n.Member("values"), n.Member("between")
	given := 0
	for _, m := range []*tree.Node{value, list, between} {
		if m != nil {
			given++
		}
	}
	switch {
	case given > 1:
		d.report(path, "give one of value, values and between")
	case value != nil:
		return []float64{d.quantity(tree.Join(path, "value"), value, as)}, nil
	case between != nil:
		at := tree.Join(path, "between")
		if !between.IsArray() || len(between.Items) != 2 {
			d.report(at, "must be a list of two: the one that goes and the one that does not")
			break
		}
		before := len(d.errors)
		a, b := d.quantity(at+"[0]", between.Items[0], as), d.quantity(at+"[1]", between.Items[1], as)
		if a >= b && len(d.errors) == before {
			d.report(at, "the first, which goes, must be below the second, which does not")
		}
		return []float64{(a + b) / 2}, &[2]float64{a, b}
	case list == nil:
		d.report(tree.Join(path, "value"), "is missing")
	case !list.IsArray() || len(list.Items) == 0:
		d.report(tree.Join(path, "values"), "must be a list of one placing or more")
	default:
		out := make([]float64, len(list.Items))
		for i, item := range list.Items {
			out[i] = d.quantity(tree.Join(path, "values")+"["+strconv.Itoa(i)+"]", item, as)
		}
		return out, nil
	}
	return []float64{0}, nil
}

// named finds an instrument by name.
func (d *decoder) named(path string, n *tree.Node) *measure.Instrument {
	text := d.text(path, n, "")
	in, ok := d.instruments[text]
	if _, isText := n.Value.(string); isText && !ok {
		d.report(path, fmt.Sprintf("no instrument is called %q", text))
	}
	return in
}
