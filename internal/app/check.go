package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
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
	Disturbed  hold.Event     // what made them stale
	Instrument string         // id of the one offered for the next reading
	Accepts    []string       // conditions
	Used       []Instrument   // those of the readings that count
	Result     *measure.Result
	Solved     measure.Check     // the input with the readings that count
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
	Condition  string
	At         time.Time
	Superseded string     // why; "" while it counts
	Stale      hold.Event // what made it stale; "" while it counts
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
func (s Spot) Stale() hold.Event {
	var event hold.Event
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
	if s.Point == "" {
		return s.Label
	}
	return s.Point + ", " + s.Label
}

// Complete tells whether every reading is taken and counts.
func (c Check) Complete() bool { return c.Wanted > 0 && c.Taken == c.Wanted }

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
// accept; "" when there is none.
func (c Check) Refused() string {
	for _, s := range c.Spots {
		for _, r := range s.Counting() {
			if !slices.Contains(c.Accepts, r.Condition) {
				return fmt.Sprintf("%s was read %s; only %s counts", s.Place(), r.Condition, strings.Join(c.Accepts, ", "))
			}
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
	return SayQuantity(q)
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

// check loads a check and works it out.
func (a *App) check(s Setup, row query.Check, readings []query.Reading, instruments []Instrument) (Check, error) {
	d, errs := worksheet.ParseDefinition([]byte(row.Definition), s.Airframe.Unit)
	walker, ok := d.Input.(measure.Walker)
	if len(errs) > 0 || !ok {
		return Check{}, fmt.Errorf("the check %q cannot be read: %v", row.Name, errs)
	}
	c := Check{ID: row.ID, Name: row.Name, SetupID: row.SetupID, Kind: d.Kind, Input: walker, Instrument: row.InstrumentID.String}
	if err := json.Unmarshal([]byte(row.Accepts), &c.Accepts); err != nil {
		return c, fmt.Errorf("reading what %q accepts: %w", row.Name, err)
	}
	for i, spot := range walker.Walk() {
		c.Spots = append(c.Spots, Spot{Spot: spot, Number: i + 1})
	}
	a.place(&c, s, readings, instruments)
	c.tally()
	c.solve([]byte(row.Definition), s.Airframe.Unit)
	return c, nil
}

// place puts the readings on their spots.
func (a *App) place(c *Check, s Setup, rows []query.Reading, instruments []Instrument) {
	type key struct{ list, point, field string }
	at := map[key]int{}
	for i, spot := range c.Spots {
		at[key{spot.List, spot.Point, spot.Field}] = i
	}
	events := map[string]hold.Event{}
	for _, e := range s.Events {
		events[e.ID] = e.What
	}
	for _, r := range rows {
		i, ok := at[key{r.List, r.Point, r.Field}]
		if !ok || r.CheckID != c.ID {
			continue
		}
		in, _ := byID(instruments, r.InstrumentID.String)
		reading := Reading{r.ID, r.Text, r.Value, in.Name, r.Condition, a.when(r.At), r.Superseded, events[r.StaleEvent.String]}
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
func (c *Check) solve(definition []byte, unit quantity.Unit) {
	byKey := map[measure.Spot]Spot{}
	for _, s := range c.Spots {
		byKey[s.Spot] = s
	}
	filled, whole := fill(definition, c.Input.Walk(), func(at measure.Spot) (any, bool) {
		counting := byKey[at].Counting()
		if len(counting) == 0 {
			return nil, false
		}
		texts := make([]string, len(counting))
		for i, r := range counting {
			texts[i] = r.Text
		}
		return map[string]any{"values": texts, "instrument": counting[0].Instrument}, true
	})
	if !whole {
		return
	}
	used := map[string]Instrument{}
	for _, in := range c.Used {
		used[in.Name] = in
	}
	doc, errs := worksheet.Parse(document(unit, used, filled))
	if len(errs) > 0 {
		if c.Complete() {
			c.Problems = errs
		}
		return
	}
	c.filled, c.Solved = filled, doc.Checks[0].Input
	c.Result = &doc.Solve()[0].Result
}

// fill puts readings into a definition. A point of a list that lacks one is left
// out; whole is false when a reading outside any list is missing.
func fill(definition []byte, spots []measure.Spot, reading func(measure.Spot) (any, bool)) (filled map[string]any, whole bool) {
	if err := json.Unmarshal(definition, &filled); err != nil {
		return nil, false
	}
	whole = true
	points := map[string]map[string]map[string]any{} // list, name, point
	for _, spot := range spots {
		if spot.List != "" && points[spot.List] == nil {
			points[spot.List] = byName(*listIn(filled, spot.List))
		}
		value, ok := reading(spot)
		switch {
		case spot.List == "" && ok:
			filled[spot.Field] = value
		case spot.List == "":
			whole = false
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
			name, _ := item["name"].(string)
			return kept[name] == nil
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
			name, _ := item["name"].(string)
			out[name] = item
		}
	}
	return out
}

// document makes a worksheet of checks.
func document(unit quantity.Unit, used map[string]Instrument, checks ...map[string]any) []byte {
	instruments := map[string]any{}
	for name, in := range used {
		instruments[name] = in.worksheet()
	}
	if checks == nil {
		checks = []map[string]any{}
	}
	data, err := json.Marshal(map[string]any{
		"format": worksheet.Format, "version": worksheet.Version, "units": map[string]any{"length": unit.String()},
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
		return q.ChangeCheck(ctx, query.ChangeCheckParams{Definition: string(data), InstrumentID: row.InstrumentID, ID: row.ID})
	})
}
