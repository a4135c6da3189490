// Package worksheet reads and writes Orpine's open measuring format, version 1:
// one JSON document holds instruments, readings and checks, and is solved into
// one JSON document of results. docs/worksheet.md describes it.
package worksheet

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"orpine/internal/core/cure"
	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/quantity"
	"orpine/internal/core/rivet"
	"orpine/internal/core/tree"
)

// The bounds of a document; beyond them it is refused.
const (
	MaxBytes    = 4 << 20
	MaxChecks   = 1000
	MaxReadings = 10_000
)

// The names and version that documents carry.
const (
	Format        = "orpine.worksheet"
	ResultsFormat = "orpine.results"
	Version       = 1
)

// Error is one thing that makes a document unusable, with the path to it
// ("" for the document as a whole).
type Error struct {
	Path    string `json:"path"`
	Message string `json:"message"`
}

// Document is a worksheet that can be solved.
type Document struct {
	Decision measure.Decision
	Checks   []Check
}

// Check is one check of a worksheet.
type Check struct {
	Name   string
	Kind   measure.Kind
	Limits map[string]measure.Limit
	Input  measure.Check
}

// Parse reads a document. When it is unusable every error found is returned,
// and the document is nil.
func Parse(data []byte) (*Document, []Error) {
	d := &decoder{instruments: map[string]*measure.Instrument{}}
	if len(data) > MaxBytes {
		return nil, []Error{{"", fmt.Sprintf("is larger than %d bytes", MaxBytes)}}
	}
	root, err := tree.Parse(data, d.report)
	if err != nil {
		return nil, []Error{{"", err.Error()}}
	}
	doc := d.document(root)
	if len(d.errors) > 0 {
		return nil, d.errors
	}
	return doc, nil
}

// Read is Parse for a document that is a JSON value already.
func Read(document map[string]any) (*Document, []Error) {
	root, err := tree.Of(document)
	if err != nil {
		return nil, []Error{{"", err.Error()}}
	}
	d := &decoder{instruments: map[string]*measure.Instrument{}}
	doc := d.document(root)
	if len(d.errors) > 0 {
		return nil, d.errors
	}
	return doc, nil
}

func (d *decoder) document(root *tree.Node) *Document {
	doc := &Document{Decision: measure.Decision{Coverage: 2}}
	if !root.IsObject() {
		d.report("", "is "+root.What()+" where an object is wanted")
		return doc
	}
	d.unknown("", root, []string{"format", "version", "units", "decision", "instruments", "checks"})
	d.header(root)
	if n := root.Member("decision"); n != nil {
		doc.Decision = d.decision(n)
	}
	if n := root.Member("instruments"); n != nil {
		d.readInstruments(n)
	}
	checks := root.Member("checks")
	switch {
	case checks == nil:
		d.report("checks", "is missing")
	case !checks.IsArray():
		d.report("checks", "is "+checks.What()+" where a list is wanted")
	case len(checks.Items) > MaxChecks:
		d.report("checks", fmt.Sprintf("more than %d checks", MaxChecks))
	default:
		for i, n := range checks.Items {
			doc.Checks = append(doc.Checks, d.check(fmt.Sprintf("checks[%d]", i), n))
		}
	}
	return doc
}

// header reads what kind of document it is, and its units.
func (d *decoder) header(root *tree.Node) {
	if n := root.Member("format"); n == nil {
		d.report("format", "is missing")
	} else if n.Value != Format {
		d.report("format", fmt.Sprintf("must be %q", Format))
	}
	if n := root.Member("version"); n == nil {
		d.report("version", "is missing")
	} else if number, ok := n.Value.(json.Number); !ok || number.String() != "1" {
		d.report("version", "must be 1")
	}
	if n := root.Member("units"); n != nil {
		var units struct {
			Length string `ws:"length,optional" oneof:"mm in"`
			Angle  string `ws:"angle,optional" oneof:"deg"`
		}
		d.object("units", n, reflect.ValueOf(&units).Elem())
		if units.Length == "in" {
			d.unit = quantity.Inch
		}
	}
}

func (d *decoder) decision(n *tree.Node) measure.Decision {
	decision := struct {
		Rule     string  `ws:"rule,optional" oneof:"guarded plain"`
		Coverage float64 `ws:"coverage,optional"`
	}{Coverage: 2}
	d.object("decision", n, reflect.ValueOf(&decision).Elem())
	if decision.Coverage <= 0 && n.IsObject() && n.Member("coverage") != nil {
		d.report("decision.coverage", "must be above 0")
	}
	return measure.Decision{Plain: decision.Rule == "plain", Coverage: decision.Coverage}
}

// readInstruments reads the instruments; their figures are magnitudes, but for zero.
func (d *decoder) readInstruments(n *tree.Node) {
	if !n.IsObject() {
		d.report("instruments", "is "+n.What()+" where an object is wanted")
		return
	}
	for _, m := range n.Members {
		d.instruments[m.Name] = d.readInstrument(tree.Join("instruments", m.Name), m.Name, m.Node)
	}
}

func (d *decoder) readInstrument(path, name string, n *tree.Node) *measure.Instrument {
	in := &measure.Instrument{Name: name, Measures: measure.Angle}
	if !n.IsObject() {
		d.report(path, "is "+n.What()+" where an object is wanted")
		return in
	}
	d.unknown(path, n, []string{"measures", "type", "resolution", "offset", "spread", "spread_from", "spot", "per_metre", "per_degree", "zero", "zero_u"})
	as := "plain"
	if measures := n.Member("measures"); measures == nil {
		d.report(path+".measures", "is missing")
	} else if d.text(path+".measures", measures, "length angle") == "length" {
		in.Measures, as = measure.Length, "length"
	}
	figure := func(field string) *float64 {
		value := n.Member(field)
		if value == nil {
			return nil
		}
		v := d.quantity(tree.Join(path, field), value, as)
		if v < 0 && field != "zero" {
			d.report(tree.Join(path, field), "must not be negative")
		}
		return &v
	}
	in.Spread = figure("spread")
	for field, into := range map[string]*float64{"resolution": &in.Resolution, "offset": &in.Offset, "spot": &in.Spot, "zero": &in.Zero, "zero_u": &in.ZeroU} {
		if v := figure(field); v != nil {
			*into = *v
		}
	}
	in.StepUnknown = n.Member("resolution") == nil
	in.OffsetUnknown = n.Member("offset") == nil && n.Member("zero_u") == nil
	if value := n.Member("spread_from"); value != nil {
		in.SpreadFrom = d.whole(path+".spread_from", value)
		switch {
		case in.SpreadFrom < leastSpreadFrom:
			d.report(path+".spread_from", fmt.Sprintf("a spread from fewer than %d placings says nothing", leastSpreadFrom))
		case in.Spread == nil:
			d.report(path+".spread_from", "is of a spread, and there is none")
		}
	}
	if value := n.Member("per_metre"); value != nil {
		in.PerMetre = d.perMetre(path+".per_metre", value, in.Measures)
	}
	if value := n.Member("per_degree"); value != nil {
		switch in.PerDegree = d.number(path+".per_degree", value); {
		case in.Measures != measure.Angle:
			d.report(path+".per_degree", "is for angles")
		case in.PerDegree < 0:
			d.report(path+".per_degree", "must not be negative")
		}
	}
	if value := n.Member("type"); value != nil {
		in.Type = d.typed(path+".type", value, in.Measures)
		in.Assume(func(column string) bool { return n.Member(column) != nil })
	}
	return in
}

// typed reads what kind of instrument it is, of those that measure such a thing.
func (d *decoder) typed(path string, n *tree.Node, measures measure.Dimension) string {
	var names []string
	for _, u := range measure.Usuals {
		names = append(names, u.Type)
	}
	name := d.text(path, n, strings.Join(names, " "))
	if u, ok := measure.UsualOf(name); ok && u.Measures != measures {
		d.report(path, "measures the other dimension")
		return ""
	}
	return name
}

// leastSpreadFrom is the fewest placings that a spread may have been found from.
const leastSpreadFrom = 4

// perMetre reads an error in proportion: mm in a metre, whatever the document's units, or
// a length as typed, in a metre.
func (d *decoder) perMetre(path string, n *tree.Node, measures measure.Dimension) float64 {
	unit := d.unit
	d.unit = quantity.Millimetre
	v := d.quantity(path, n, "length")
	d.unit = unit
	switch {
	case measures != measure.Length:
		d.report(path, "is for lengths")
	case v < 0:
		d.report(path, "must not be negative")
	}
	return v
}

// Joined are the kinds that join surfaces to the airframe, beside those of package
// measure.
var Joined = []measure.Kind{
	{Name: "pose", Join: true, Title: "A surface against the airframe", New: func() measure.Walker { return new(pose.Pose) }, Limits: []measure.Limitable{
		{Name: "roll", Dimension: measure.Angle}, {Name: "pitch", Dimension: measure.Angle}, {Name: "yaw", Dimension: measure.Angle},
		{Name: "x", Dimension: measure.Length}, {Name: "y", Dimension: measure.Length}, {Name: "z", Dimension: measure.Length}},
		Schools: []string{}, Headlines: freedoms},
	{Name: "join", Join: true, Title: "Several surfaces against the airframe", New: func() measure.Walker { return new(pose.Join) },
		Schools: []string{}, Headlines: freedoms},
}

// freedoms are the headlines of a join.
var freedoms = map[string]string{
	"roll": "roll, right side low", "pitch": "pitch, leading edge up", "yaw": "yaw, right tip aft",
	"x": "aft of where it should be", "y": "right of where it should be", "z": "above where it should be",
}

// Set are the kinds about rivets, tanks and what sets, beside those of package measure.
var Set = []measure.Kind{
	{Name: "solid-rivet", Title: "A solid rivet's length", Figure: func() measure.Check { return new(rivet.Solid) }},
	{Name: "blind-rivet", Title: "A blind rivet's grip", Figure: func() measure.Check { return new(rivet.Blind) }},
	{Name: "hole-edge", Title: "Edge distance and pitch", Figure: func() measure.Check { return new(rivet.HoleEdge) }},
	{Name: "flush-stack", Title: "Layers under a flush head", Figure: func() measure.Check { return new(rivet.FlushStack) }},
	{Name: "tank-leak", Title: "Has a tank lost air?", Figure: func() measure.Check { return new(measure.TankLeak) }, Limits: []measure.Limitable{
		{Name: "lost_head", Dimension: measure.Length}, {Name: "expected_head", Dimension: measure.Length}}},
	{Name: "mix", Title: "A mix by ratio", Figure: func() measure.Check { return new(cure.Mix) }},
}

// KindNamed returns the kind of that name, of all that a worksheet may hold.
func KindNamed(name string) (measure.Kind, bool) {
	for _, k := range slices.Concat(Joined, Set) {
		if k.Name == name {
			return k, true
		}
	}
	return measure.KindNamed(name)
}

// commonFields are those that every check has, besides those of its kind.
var commonFields = []string{"name", "kind", "instrument", "limits"}

// check reads one check with the fields of its kind.
func (d *decoder) check(path string, n *tree.Node) Check {
	c := Check{}
	if !n.IsObject() {
		d.report(path, "is "+n.What()+" where an object is wanted")
		return c
	}
	before := len(d.errors)
	if name := n.Member("name"); name == nil {
		d.report(path+".name", "is missing")
	} else {
		c.Name = d.text(path+".name", name, "")
	}
	d.instrument = nil
	if name := n.Member("instrument"); name != nil {
		d.instrument = d.named(path+".instrument", name)
	}
	kind := n.Member("kind")
	if kind == nil {
		d.report(path+".kind", "is missing")
		return c
	}
	var known bool
	if c.Kind, known = KindNamed(d.text(path+".kind", kind, "")); !known {
		d.report(path+".kind", "is not a known kind of check")
		return c
	}
	c.Input = c.Kind.Make()
	common := commonFields
	if c.Kind.Limits == nil {
		common = common[:len(common)-1] // no limits
	} else {
		c.Limits = d.limits(path+".limits", n.Member("limits"), c.Kind)
	}
	d.object(path, n, reflect.ValueOf(c.Input).Elem(), slices.Clone(common)...)
	if !d.definition {
		d.validate(path, c.Input, before)
	}
	return c
}

// validate reports what the kind itself refuses, but for what follows only from
// an error already found at, above or below the same place.
func (d *decoder) validate(path string, input measure.Check, before int) {
	found := slices.Clone(d.errors[before:])
	input.Validate(func(at, message string) {
		at = tree.Join(path, at)
		for _, e := range found {
			if within(e.Path, at) || within(at, e.Path) {
				return
			}
		}
		d.report(at, message)
	})
}

// within tells whether a path lies at or below another.
func within(path, above string) bool {
	rest, ok := strings.CutPrefix(path, above)
	return ok && (rest == "" || rest[0] == '.' || rest[0] == '[')
}

func (d *decoder) limits(path string, n *tree.Node, kind measure.Kind) map[string]measure.Limit {
	limits := map[string]measure.Limit{}
	if n == nil {
		return limits
	}
	if !n.IsObject() {
		d.report(path, "is "+n.What()+" where an object is wanted")
		return limits
	}
	for _, m := range n.Members {
		at := tree.Join(path, m.Name)
		dimension, ok := kind.Limitable(m.Name)
		switch {
		case !ok:
			d.report(at, fmt.Sprintf("%s has no quantity %q that can be limited", kind.Name, m.Name))
		case !m.Node.IsObject():
			d.report(at, "is "+m.Node.What()+" where an object with low and high is wanted")
		default:
			limits[m.Name] = d.limit(at, m.Node, dimension)
		}
	}
	return limits
}

func (d *decoder) limit(path string, n *tree.Node, dimension measure.Dimension) measure.Limit {
	d.unknown(path, n, []string{"low", "high"})
	end := func(name string) *float64 {
		value := n.Member(name)
		if value == nil {
			return nil
		}
		var v float64
		switch dimension {
		case measure.Length:
			v = d.quantity(tree.Join(path, name), value, "length")
		case measure.Angle:
			v = d.quantity(tree.Join(path, name), value, "either")
		default:
			v = d.number(tree.Join(path, name), value)
		}
		return &v
	}
	before := len(d.errors)
	l := measure.Limit{Low: end("low"), High: end("high")}
	switch {
	case l.Low == nil && l.High == nil:
		d.report(path, "has neither low nor high")
	case l.Low != nil && l.High != nil && *l.Low > *l.High && len(d.errors) == before:
		d.report(path, "has low above high")
	}
	return l
}

// Solve works out every check, in order.
func (doc *Document) Solve() []Solved {
	solved := make([]Solved, len(doc.Checks))
	for i, c := range doc.Checks {
		solved[i] = Solved{c.Name, c.Kind.Name, measure.Solve(c.Input, c.Limits, doc.Decision)}
	}
	return solved
}

// Solved is the result of one check.
type Solved struct {
	Name, Kind string
	measure.Result
}

// Definition is a check that is still to be measured: its readings may be missing.
type Definition struct {
	Kind   measure.Kind
	Input  measure.Check
	Limits map[string]measure.Limit
}

// ParseDefinition reads one check object of a document with these units,
// without asking for its readings, nor for what the kind itself would refuse.
func ParseDefinition(data []byte, unit quantity.Unit) (Definition, []Error) {
	d := &decoder{unit: unit, definition: true}
	n, err := tree.Parse(data, d.report)
	if err != nil {
		return Definition{}, []Error{{"", err.Error()}}
	}
	c := d.check("check", n)
	return Definition{c.Kind, c.Input, c.Limits}, d.errors
}
