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
func (d *decoder) object(path string, n *node, into reflect.Value, others ...string) {
	if !n.isObject() {
		d.report(path, "is "+n.what()+" where an object is wanted")
		return
	}
	known := others
	for i := range into.NumField() {
		field := into.Type().Field(i)
		name, option := tag(field)
		if name != "" {
			known = append(known, name)
		}
		value := n.member(name)
		switch {
		case name == "": // filled by its parent's own rule
		case value != nil && asOf(field, n) == "unknown":
			// its sibling that says what it measures is wrong, and reported
		case value != nil:
			d.as = asOf(field, n)
			d.field(join(path, name), value, into.Field(i), field)
		case option != "optional" && !(d.definition && (option == "read" || isReading(field.Type))):
			d.report(join(path, name), "is missing")
		}
	}
	d.unknown(path, n, known)
}

func (d *decoder) unknown(path string, n *node, known []string) {
	for _, m := range n.members {
		if !slices.Contains(known, m.name) {
			d.report(join(path, m.name), "is not a field here; known are "+strings.Join(known, ", "))
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
func asOf(field reflect.StructField, n *node) string {
	sibling, words, chosen := strings.Cut(field.Tag.Get("as"), ": ")
	if !chosen {
		return sibling
	}
	member := n.member(sibling)
	if member == nil {
		return "unknown"
	}
	for _, word := range strings.Fields(words) {
		if name, as, _ := strings.Cut(word, "="); member.value == name {
			return as
		}
	}
	return "unknown"
}

// field fills one field of any of the types that inputs are made of.
func (d *decoder) field(path string, n *node, into reflect.Value, field reflect.StructField) {
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
	if strings.Contains(as, "=") {
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
		if !n.isArray() {
			into.Set(reflect.ValueOf(measure.Readings{d.reading(path, n, as)}))
			return
		}
		for i, item := range n.items {
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
		if b, ok := n.value.(bool); ok {
			into.SetBool(b)
		} else {
			d.report(path, "is "+n.what()+" where true or false is wanted")
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
func (d *decoder) metric(n *node) bool {
	text, ok := n.value.(string)
	if ok && anyUnit.MatchString(text) {
		return metricUnit.MatchString(text)
	}
	return d.unit == quantity.Millimetre
}

// slope reads an angle, or an object of two heights and their spacing.
func (d *decoder) slope(path string, n *node, into reflect.Value, as string) {
	if n.member("front") != nil || n.member("rear") != nil || n.member("spacing") != nil {
		d.object(path, n, into)
		return
	}
	if d.definition && n.isObject() && len(n.members) == 0 {
		return // an angle that is still to be read
	}
	r := d.reading(path, n, as)
	into.Set(reflect.ValueOf(measure.Slope{Angle: &r}))
}

// given reads a reading, or an object with a value and its u.
func (d *decoder) given(path string, n *node, into reflect.Value, as string) {
	u := n.member("u")
	if u == nil {
		r := d.reading(path, n, as)
		into.Set(reflect.ValueOf(measure.Given{Reading: &r}))
		return
	}
	d.unknown(path, n, []string{"value", "u"})
	g := measure.Given{U: quantity.Angle(d.quantity(join(path, "u"), u, "plain"))}
	if value := n.member("value"); value != nil {
		g.Value = quantity.Angle(d.quantity(join(path, "value"), value, as))
	} else {
		d.report(join(path, "value"), "is missing")
	}
	into.Set(reflect.ValueOf(g))
}

// expansion reads the name of a material, or an object with its alpha.
func (d *decoder) expansion(path string, n *node, into reflect.Value, field reflect.StructField) {
	if n.isObject() {
		d.object(path, n, into)
		return
	}
	into.Set(reflect.ValueOf(measure.Expansion{Material: d.text(path, n, field.Tag.Get("oneof"))}))
}

// list fills a slice; names in it must differ.
func (d *decoder) list(path string, n *node, into reflect.Value, field reflect.StructField) {
	if !n.isArray() {
		d.report(path, "is "+n.what()+" where a list is wanted")
		return
	}
	into.Set(reflect.MakeSlice(into.Type(), len(n.items), len(n.items)))
	names := map[string]bool{}
	for i, item := range n.items {
		at := path + "[" + strconv.Itoa(i) + "]"
		d.field(at, item, into.Index(i), field)
		name := item.member("name")
		if name == nil {
			continue
		}
		if text, ok := name.value.(string); ok {
			if names[text] {
				d.report(at+".name", fmt.Sprintf("%q is used twice in this list", text))
			}
			names[text] = true
		}
	}
}

func (d *decoder) text(path string, n *node, oneOf string) string {
	text, ok := n.value.(string)
	switch {
	case !ok:
		d.report(path, "is "+n.what()+" where text is wanted")
	case oneOf != "" && !slices.Contains(strings.Fields(oneOf), text):
		d.report(path, fmt.Sprintf("%q is not one of %s", text, strings.Join(strings.Fields(oneOf), ", ")))
	}
	return text
}

func (d *decoder) whole(path string, n *node) int {
	number, ok := n.value.(json.Number)
	if !ok {
		d.report(path, "is "+n.what()+" where a whole number is wanted")
		return 0
	}
	whole, err := strconv.Atoi(number.String())
	if err != nil {
		d.report(path, number.String()+" is not a whole number")
	}
	return whole
}

// number reads a plain number, in the document's or in no unit.
func (d *decoder) number(path string, n *node) float64 {
	number, ok := n.value.(json.Number)
	if !ok {
		d.report(path, "is "+n.what()+" where a number is wanted")
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
func (d *decoder) quantity(path string, n *node, as string) float64 {
	var v float64
	var err error
	switch value := n.value.(type) {
	case json.Number:
		v, err = d.bare(value, as == "length")
	case string:
		v, err = Typed(value, as, d.unit)
	default:
		err = fmt.Errorf("is %s where a number or text as typed is wanted", n.what())
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
func (d *decoder) reading(path string, n *node, as string) measure.Reading {
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
	if !n.isObject() {
		r.Values = []float64{d.quantity(path, n, as)}
		return r
	}
	if d.definition && len(n.members) == 0 {
		return r // still to be read
	}
	d.unknown(path, n, []string{"value", "values", "between", "instrument", "turned", "zero", "corrections"})
	r.Values, r.Between = d.values(path, n, as)
	if turned := n.member("turned"); turned != nil {
		var ok bool
		if r.Turned, ok = turned.value.(bool); !ok {
			d.report(join(path, "turned"), "is "+turned.what()+" where true or false is wanted")
		}
	}
	if name := n.member("instrument"); name != nil {
		if r.Instrument = nil; !name.isNull() {
			r.Instrument = d.named(join(path, "instrument"), name)
		}
		if r.Instrument != nil && r.Instrument.Measures != dimension {
			d.report(join(path, "instrument"), fmt.Sprintf("%q measures the other dimension", r.Instrument.Name))
		}
	}
	either := "either"
	if as == "length" {
		either = as
	}
	if zero := n.member("zero"); zero != nil {
		v := d.quantity(join(path, "zero"), zero, either)
		r.Zero = &v
	}
	if corrections := n.member("corrections"); corrections != nil {
		r.Corrections = d.corrections(join(path, "corrections"), corrections, either)
	}
	return r
}

// corrections reads what is added to a reading.
func (d *decoder) corrections(path string, n *node, as string) []measure.Correction {
	switch {
	case !n.isArray():
		d.report(path, "is "+n.what()+" where a list is wanted")
		return nil
	case len(n.items) > measure.MaxCorrections:
		d.report(path, fmt.Sprintf("more than %d corrections", measure.MaxCorrections))
		return nil
	}
	out := make([]measure.Correction, len(n.items))
	for i, item := range n.items {
		at := path + "[" + strconv.Itoa(i) + "]"
		if !item.isObject() {
			d.report(at, "is "+item.what()+" where an object is wanted")
			continue
		}
		d.unknown(at, item, []string{"why", "value", "u", "common"})
		for field, into := range map[string]*string{"why": &out[i].Why, "common": &out[i].Common} {
			if text := item.member(field); text != nil {
				*into = d.text(join(at, field), text, "")
			} else if field == "why" {
				d.report(join(at, field), "is missing")
			}
		}
		if value := item.member("value"); value != nil {
			out[i].Value = d.quantity(join(at, "value"), value, as)
		} else {
			d.report(join(at, "value"), "is missing")
		}
		if u := item.member("u"); u != nil {
			if out[i].U = d.quantity(join(at, "u"), u, map[bool]string{true: "length", false: "plain"}[as == "length"]); out[i].U < 0 {
				d.report(join(at, "u"), "must not be negative")
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
func (d *decoder) values(path string, n *node, as string) (values []float64, ends *[2]float64) {
	value, list, between := n.member("value"), n.member("values"), n.member("between")
	given := 0
	for _, m := range []*node{value, list, between} {
		if m != nil {
			given++
		}
	}
	switch {
	case given > 1:
		d.report(path, "give one of value, values and between")
	case value != nil:
		return []float64{d.quantity(join(path, "value"), value, as)}, nil
	case between != nil:
		at := join(path, "between")
		if !between.isArray() || len(between.items) != 2 {
			d.report(at, "must be a list of two: the one that goes and the one that does not")
			break
		}
		before := len(d.errors)
		a, b := d.quantity(at+"[0]", between.items[0], as), d.quantity(at+"[1]", between.items[1], as)
		if a >= b && len(d.errors) == before {
			d.report(at, "the first, which goes, must be below the second, which does not")
		}
		return []float64{(a + b) / 2}, &[2]float64{a, b}
	case list == nil:
		d.report(join(path, "value"), "is missing")
	case !list.isArray() || len(list.items) == 0:
		d.report(join(path, "values"), "must be a list of one placing or more")
	default:
		out := make([]float64, len(list.items))
		for i, item := range list.items {
			out[i] = d.quantity(join(path, "values")+"["+strconv.Itoa(i)+"]", item, as)
		}
		return out, nil
	}
	return []float64{0}, nil
}

// named finds an instrument by name.
func (d *decoder) named(path string, n *node) *measure.Instrument {
	text := d.text(path, n, "")
	in, ok := d.instruments[text]
	if _, isText := n.value.(string); isText && !ok {
		d.report(path, fmt.Sprintf("no instrument is called %q", text))
	}
	return in
}
