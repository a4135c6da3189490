package app

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/school"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Check is one check of a setup, with its readings and what they say.
type Check struct {
	ID, Name   string
	SetupID    string
	Kind       measure.Kind
	Input      measure.Walker // without readings
	Spots      []Spot         // in walking order
	Wanted     int            // spots
	Taken      int            // spots with a reading that counts
	Stale      int            // spots whose readings are stale and not taken again
	Disturbed  measure.Event  // what made them stale
	Instrument string         // id of the one offered for the next reading
	Accepts    []string       // conditions
	Used       []Instrument   // those of the readings that count
	Schools    school.Choice  // where the check differs from its airframe
	Judged     school.Choice  // what holds for it
	AfterOf    string         // id of the check before the step, when this is the one after it
	Result     *measure.Result
	Solved     measure.Check // the input with the readings that count
	Limits     map[string]measure.Limit
	Definition map[string]any    // the worksheet check without its readings
	Problems   []worksheet.Error // why there is no result although every reading is taken
	filled     map[string]any
}

// Spot is one place of a check with all that was ever read there.
type Spot struct {
	measure.Spot
	Number   int       // from 1, in walking order
	Readings []Reading // oldest first
}

// Reading is one placing, and what became of it.
type Reading struct {
	ID, Text   string  // as typed
	Value      float64 // mm or degrees
	Instrument string  // name
	Turned     bool    // the instrument was held the other way round
	Condition  string
	At         time.Time
	Superseded string        // why; "" while it counts
	Stale      measure.Event // what made it stale; "" while it counts
}

// Counts tells whether the reading enters the answer.
func (r Reading) Counts() bool { return r.Superseded == "" && r.Stale == "" }

// Counting returns the placings that enter the answer.
func (s Spot) Counting() []Reading {
	var out []Reading
	for _, r := range s.Readings {
		if r.Counts() {
			out = append(out, r)
		}
	}
	return out
}

// Stale returns what made the spot's readings stale, when it has none that count.
func (s Spot) Stale() measure.Event {
	var event measure.Event
	for _, r := range s.Readings {
		if r.Counts() {
			return ""
		}
		if r.Superseded == "" {
			event = r.Stale
		}
	}
	return event
}

// Place names the spot for people: "left tip, angle".
func (s Spot) Place() string {
	if s.Point == "" || s.List == "readings" { // a reading of a join says itself where it goes
		return s.Label
	}
	return s.Point + ", " + s.Label
}

// Complete tells whether every reading is taken and counts.
func (c Check) Complete() bool { return c.Taken == c.Wanted && (c.Wanted > 0 || c.Result != nil) }

// Spot returns the spot of that number, or the first that is to be read; ok is
// false when there is neither.
func (c Check) Spot(number int) (s Spot, ok bool) {
	if number >= 1 && number <= len(c.Spots) {
		return c.Spots[number-1], true
	}
	next, ok := c.Next()
	return next.Spot, ok
}

// Refused says which reading was taken in a condition that the check does not
// accept, or that the reference is not zeroed where it should be; "" when there
// is none.
func (c Check) Refused() string {
	if says := c.tilted(); says != "" {
		return says
	}
	for _, s := range c.Spots {
		for _, r := range s.Counting() {
			if !slices.Contains(c.Accepts, r.Condition) {
				return fmt.Sprintf("%s was read %s; only %s counts", s.Place(), r.Condition, strings.Join(c.Accepts, ", "))
			}
		}
	}
	return ""
}

// tilted says that the reference shows a slope although it is to be zeroed by
// shims; a reading within its own U of zero counts as zero.
func (c Check) tilted() string {
	if c.Judged.Answer(school.Reference) != school.Zeroed {
		return ""
	}
	for _, s := range c.Spots {
		counting := s.Counting()
		if s.Field != "datum" || len(counting) == 0 {
			continue
		}
		sum, u := 0.0, 0.0
		for _, r := range counting {
			sum += r.Value
		}
		v := sum / float64(len(counting))
		for _, in := range c.Used {
			if in.Name == counting[0].Instrument {
				u = Coverage * in.placing(len(counting))
				if len(in.Tests) > 0 {
					v -= map[bool]float64{true: -1, false: 1}[counting[0].Turned] * float64(in.Tests[0].Zero)
				}
			}
		}
		if v > u || v < -u {
			return fmt.Sprintf("the datum stands at %s°%s, and here the reference is zeroed: shim it until it reads 0 within %s°, and read it again", quantity.Signed(v, 2), side(v, s.Sense), quantity.Fixed(u, 2))
		}
	}
	return ""
}

// Next is the reading to take next.
type Next struct {
	Spot
	Again bool // it was taken before, and is stale
}

// Say puts it into words.
func (n Next) Say() string {
	if n.Again {
		return "read " + n.Place() + " again"
	}
	return "read " + n.Place()
}

// Next returns the first spot in walking order without a reading that counts.
func (c Check) Next() (Next, bool) {
	for _, s := range c.Spots {
		if len(s.Counting()) == 0 {
			return Next{s, s.Stale() != ""}, true
		}
	}
	return Next{}, false
}

// Headline is the quantity that the check is about: the worst that is limited,
// or the first of its kind.
func (c Check) Headline() (measure.Quantity, bool) {
	if c.Result == nil {
		return measure.Quantity{}, false
	}
	var best measure.Quantity
	rank := map[string]int{}
	for i, l := range c.Kind.Limits {
		rank[l.Name] = i - len(c.Kind.Limits)
	}
	for _, q := range c.Result.Quantities {
		if c.Result.Answer != "" && best.Name != "" && q.Value < best.Value {
			best = q // of two fits the one that leaves less
		}
		if best.Unseen && best.Limit != nil {
			break // what nothing shows comes before what is not known well enough
		}
		if q.Unseen && q.Limit != nil {
			best = q
		}
		if best.Name == "" || q.Verdict > best.Verdict || q.Verdict == best.Verdict && rank[q.Name] < rank[best.Name] {
			best = q
		}
	}
	return best, best.Name != ""
}

// Answer is the headline in words: "twist +0.03° ± 0.05°".
func (c Check) Answer() string {
	q, ok := c.Headline()
	if !ok {
		return "no answer yet"
	}
	if says, ok := hands[c.Result.Answer]; ok {
		return says
	}
	return SayQuantity(q)
}

// hands says what a comparison of two parts has shown.
var hands = map[string]string{
	"mirrored": "it is the mirror of the other", "same": "it is of the same hand as the other",
	"neither": "it is neither the mirror of the other nor the same", "cannot-tell": "these points cannot tell its hand",
}

// Coverage is how many standard uncertainties the stated ± spans.
const Coverage = 2

// SayQuantity writes a quantity with its ±, to the hundredth of a degree or the
// tenth of a millimetre.
func SayQuantity(q measure.Quantity) string {
	name := strings.ReplaceAll(q.Name, "_", " ")
	if at, ok := q.At.(string); ok {
		name += " at " + at
	}
	if q.Unseen {
		return name + ": nothing that was read shows it"
	}
	decimals, unit := Decimals(q.Dimension)
	return fmt.Sprintf("%s %s%s ± %s%s", name, quantity.Signed(q.Value, decimals), unit, quantity.Fixed(Coverage*q.U, decimals), unit)
}

// Decimals is how finely a dimension is shown, and its unit as it is written.
func Decimals(d measure.Dimension) (int, string) {
	switch d {
	case measure.Angle:
		return 2, "°"
	case measure.Rate:
		return 3, "°/m"
	case measure.Length:
		return 1, " mm"
	}
	return 2, ""
}

// check loads a check with its readings.
func (a *App) check(s Setup, row query.Check, readings []query.Reading, instruments []Instrument) (Check, error) {
	d, errs := worksheet.ParseDefinition([]byte(row.Definition), s.Airframe.Unit)
	walker, ok := d.Input.(measure.Walker)
	if len(errs) > 0 || !ok {
		return Check{}, fmt.Errorf("the check %q cannot be read: %v", row.Name, errs)
	}
	c := Check{ID: row.ID, Name: row.Name, SetupID: row.SetupID, Kind: d.Kind, Input: walker, Instrument: row.InstrumentID.String, AfterOf: row.AfterOf.String, Limits: d.Limits}
	for _, kept := range []struct {
		text string
		into any
	}{{row.Accepts, &c.Accepts}, {row.Schools, &c.Schools}, {row.Definition, &c.Definition}} {
		if err := json.Unmarshal([]byte(kept.text), kept.into); err != nil {
			return c, fmt.Errorf("reading the check %q: %w", row.Name, err)
		}
	}
	c.Judged = c.Schools.Over(s.Airframe.Schools)
	if t, ok := c.Input.(*measure.Twist); ok && c.Judged.Answer(school.Bench) == school.Trued {
		t.Held = false // the bench is straight, so that there is nothing to take off
	}
	for i, spot := range walker.Walk() {
		c.Spots = append(c.Spots, Spot{Spot: spot, Number: i + 1})
	}
	a.place(&c, s, readings, instruments)
	c.tally()
	return c, nil
}

// place puts the readings on their spots.
func (a *App) place(c *Check, s Setup, rows []query.Reading, instruments []Instrument) {
	type key struct{ list, point, field string }
	at := map[key]int{}
	for i, spot := range c.Spots {
		at[key{spot.List, spot.Point, spot.Field}] = i
	}
	events := map[string]measure.Event{}
	for _, e := range s.Events {
		events[e.ID] = e.What
	}
	for _, r := range rows {
		i, ok := at[key{r.List, r.Point, r.Field}]
		if !ok || r.CheckID != c.ID {
			continue
		}
		in, _ := byID(instruments, r.InstrumentID.String)
		reading := Reading{r.ID, r.Text, r.Value, in.Name, r.Turned == 1, r.Condition, a.when(r.At), r.Superseded, events[r.StaleEvent.String]}
		c.Spots[i].Readings = append(c.Spots[i].Readings, reading)
		c.Instrument = in.ID
		if reading.Counts() && !slices.ContainsFunc(c.Used, func(u Instrument) bool { return u.ID == in.ID }) {
			c.Used = append(c.Used, in)
		}
	}
}

func (c *Check) tally() {
	c.Wanted = len(c.Spots)
	for _, s := range c.Spots {
		if len(s.Counting()) > 0 {
			c.Taken++
		} else if event := s.Stale(); event != "" {
			c.Stale, c.Disturbed = c.Stale+1, event
		}
	}
}

// solve works out what the readings so far say; points without all of their
// readings are left out.
func (c *Check) solve(unit quantity.Unit) {
	byKey := map[measure.Spot]Spot{}
	for _, s := range c.Spots {
		byKey[s.Spot] = s
	}
	definition := maps.Clone(c.Definition)
	if t, ok := c.Input.(*measure.Twist); ok {
		definition["held"] = t.Held
	}
	filled, whole := fill(definition, c.Input.Walk(), func(at measure.Spot) (any, bool) {
		counting := byKey[at].Counting()
		if len(counting) == 0 {
			return nil, false
		}
		if at.Sense == "figure" {
			return counting[len(counting)-1].Text, true
		}
		texts := make([]string, len(counting))
		for i, r := range counting {
			texts[i] = r.Text
		}
		reading := map[string]any{"values": texts, "instrument": counting[0].Instrument}
		if counting[0].Turned {
			reading["turned"] = true
		}
		return reading, true
	})
	if !whole {
		return
	}
	used := map[string]Instrument{}
	for _, in := range c.Used {
		used[in.Name] = in
	}
	doc, errs := worksheet.Parse(document(unit, c.Judged, used, filled))
	if len(errs) > 0 {
		if c.Complete() {
			c.Problems = errs
		}
		return
	}
	c.filled, c.Solved = filled, doc.Checks[0].Input
	c.Result = &doc.Solve()[0].Result
}

// fill puts readings into a copy of a definition. A point of a list that lacks
// one is left out; whole is false when a reading outside any list is missing.
func fill(definition map[string]any, spots []measure.Spot, reading func(measure.Spot) (any, bool)) (filled map[string]any, whole bool) {
	filled, whole = clone(definition).(map[string]any), true
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
			return kept[nameOf(item)] == nil
		})
	}
	return filled, whole
}

// clone copies a JSON value.
func clone(v any) any {
	switch v := v.(type) {
	case map[string]any:
		out := make(map[string]any, len(v))
		for name, member := range v {
			out[name] = clone(member)
		}
		return out
	case []any:
		out := make([]any, len(v))
		for i, item := range v {
			out[i] = clone(item)
		}
		return out
	}
	return v
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

// nameOf is how an item of a list is called: by its name, or a reading by its id.
func nameOf(item map[string]any) string {
	if id, ok := item["id"].(string); ok {
		return id
	}
	name, _ := item["name"].(string)
	return name
}

// byName finds the points of a list by their names.
func byName(values []any) map[string]map[string]any {
	out := map[string]map[string]any{}
	for _, v := range values {
		if item, ok := v.(map[string]any); ok {
			out[nameOf(item)] = item
		}
	}
	return out
}

// document makes a worksheet of checks, judged as those schools have it.
func document(unit quantity.Unit, judged school.Choice, used map[string]Instrument, checks ...map[string]any) []byte {
	instruments := map[string]any{}
	for name, in := range used {
		instruments[name] = in.worksheet()
	}
	if checks == nil {
		checks = []map[string]any{}
	}
	data, err := json.Marshal(map[string]any{
		"format": worksheet.Format, "version": worksheet.Version, "units": map[string]any{"length": unit.String()},
		"decision":    map[string]any{"rule": judged.Answer(school.Limits), "coverage": Coverage},
		"instruments": instruments, "checks": checks,
	})
	if err != nil { // maps of texts and numbers always have a JSON form
		panic(err)
	}
	return data
}

// SetHeld says whether a surface is held down to its support, and so takes its shape.
type SetHeld struct {
	ID    string `json:"-"`
	Check string `json:"check"` // id
	Held  bool   `json:"held"`
}

// SetHeld changes how a twist check is worked out. The readings stay.
func (a *App) SetHeld(ctx context.Context, h SetHeld) error {
	defer a.alone()()
	var row query.Check
	err := a.view(ctx, func(q *query.Queries) (err error) {
		row, err = q.Check(ctx, h.Check)
		return err
	})
	if err != nil {
		return err
	}
	var definition map[string]any
	if err := json.Unmarshal([]byte(row.Definition), &definition); err != nil {
		return fmt.Errorf("reading the check %q: %w", row.Name, err)
	}
	if definition["kind"] != "twist" {
		return Problems{"": "only a surface measured for twist is held down to its support"}
	}
	definition["held"] = h.Held
	data, err := json.Marshal(definition)
	if err != nil {
		return err
	}
	return a.record(ctx, deed{h.ID, journal.Changed, "", h, map[string]any{"check": row.Name}}, func(q *query.Queries, _ int64) error {
		return q.ChangeCheck(ctx, query.ChangeCheckParams{Name: row.Name, Definition: string(data), Schools: row.Schools, ID: row.ID})
	})
}
