package instrument

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"gonum.org/v1/gonum/stat"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// NewInstrument is an instrument to be added; figures as typed, a bare length
// in millimetres. An empty spread means that it is not known yet.
type NewInstrument struct {
	ledger.Form
	Name       string `json:"name" form:"name"`
	Sort       string `json:"sort" form:"sort"`
	Resolution string `json:"resolution" form:"resolution"`
	Offset     string `json:"offset" form:"offset"`
	Spread     string `json:"spread" form:"spread"`
	Class      string `json:"class,omitempty" form:"class"`         // of a tape or rule: see Classes
	PerMetre   string `json:"per_metre,omitempty" form:"per_metre"` // mm in a metre
	Weight     string `json:"weight,omitempty" form:"weight"`       // of a tape, grams a metre
	Pull       string `json:"pull,omitempty" form:"pull"`           // newtons
	Material   string `json:"material,omitempty" form:"material"`
	Type       string `json:"type,omitempty" form:"type"`             // of Types, by its name or as it is called; it decides the sort
	Spot       string `json:"spot,omitempty" form:"spot"`             // standard uncertainty of where it stands
	PerDegree  string `json:"per_degree,omitempty" form:"per_degree"` // degrees in a degree
	Own        string `json:"own,omitempty" form:"own"`
	Unit       string `json:"unit,omitempty" form:"unit"` // of bare lengths: mm or in, as the shop has it
	DueDays    string `json:"due_days,omitempty" form:"due_days"`
}

// figured is an instrument as it was understood.
type figured struct {
	Measures string `json:"measures"`
	DueDays  int64  `json:"due_days"`
}

var added = &ledger.Kind[NewInstrument, figured]{
	Name: "instrument", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make, ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewInstrument, f figured) error {
		return q.AddInstrument(ctx, query.AddInstrumentParams{ID: e.ID, Name: n.Name, Sort: n.Sort, Measures: f.Measures, Resolution: n.Resolution, OffsetMax: n.Offset, PerMetre: n.PerMetre, Spread: n.Spread, Own: n.Own, DueDays: f.DueDays, Weight: n.Weight, Pull: n.Pull, Material: n.Material, Type: n.Type, Spot: n.Spot, PerDegree: n.PerDegree, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewInstrument, _ figured) ledger.Words {
		return ledger.Words{What: "instrument added: " + n.Name, Detail: n.Sort}
	},
	Travel: ledger.Travel[NewInstrument, figured]{
		Shared: func(id string, _ NewInstrument) []string { return []string{id} },
		Names: func(id string, n *NewInstrument, _ *figured, name func(thing, was string) string) error {
			n.Name = name(id, n.Name)
			return nil
		},
	},
}

// Made is an instrument as the facts of an entry have it that adds it beside something
// else.
type Made struct {
	ID         string `json:"id"`
	Name       string `json:"name"`
	Sort       string `json:"sort"`
	Measures   string `json:"measures"`
	Resolution string `json:"resolution"`
	PerMetre   string `json:"per_metre,omitempty"`
	Offset     string `json:"offset,omitempty"`
	Type       string `json:"type,omitempty"`
}

// alone is an instrument that was added beside something else, as it goes to another workshop
// without that.
type alone struct {
	Made Made `json:"made"`
}

var brought = &ledger.Kind[alone, struct{}]{
	Name: "instrument-alone", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work, ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n alone, _ struct{}) error {
		return Put(ctx, q, e, n.Made)
	},
	Words: func(n alone, _ struct{}) ledger.Words {
		return ledger.Words{What: "instrument added: " + n.Made.Name, Detail: n.Made.Sort}
	},
	Travel: ledger.Travel[alone, struct{}]{
		Shared: func(_ string, n alone) []string { return []string{n.Made.ID} },
		Names: func(_ string, n *alone, _ *struct{}, name func(thing, was string) string) error {
			n.Made.Name = name(n.Made.ID, n.Made.Name)
			return nil
		},
	},
}

// Loose are instruments that an entry makes beside something else.
func Loose(list []Made) (out []ledger.Loose) {
	for _, m := range list {
		out = append(out, ledger.Loose{ID: m.ID, Kind: brought.Name, Request: alone{m}})
	}
	return out
}

// Put writes an instrument that was made, where it is not there yet: it may have come alone
// before what it was made with.
func Put(ctx context.Context, q *query.Queries, e ledger.Entry, m Made) error {
	return q.AddInstrument(ctx, query.AddInstrumentParams{ID: m.ID, Name: m.Name, Sort: m.Sort, Measures: m.Measures, Resolution: m.Resolution, OffsetMax: m.Offset, PerMetre: m.PerMetre, Type: m.Type, Entry: e.Seq, Revised: e.Seq})
}

// Quick is an instrument that any shop has. Only what it is and its step are known of it: the
// rest is what is usual, until it is proven.
type Quick struct {
	ID, Name, Sort, Type, Resolution string
	Angle                            bool
}

// Quicks are those that are offered where a shop has none, the usual one first.
var Quicks = []Quick{
	{"quick:level-0.1", "digital level in steps of 0.1°", "level", "digital-level", "0.1", true},
	{"quick:level-0.05", "digital level in steps of 0.05°", "level", "digital-level", "0.05", true},
	{"quick:level-0.01", "digital level in steps of 0.01°", "level", "digital-level", "0.01", true},
	{"quick:spirit", "spirit level", "level", "spirit-level", "", true},
	{"quick:phone", "phone as a level, in 0.1°", "level", "phone", "0.1", true},
	{"quick:rule-mm", "rule in ½ mm", "rule", "rule", "0.5 mm", false},
	{"quick:rule-in", "rule in 1/64 in", "rule", "rule", "1/64 in", false},
	{"quick:tape-mm", "tape in mm", "tape", "tape", "1 mm", false},
	{"quick:tape-in", "tape in 1/32 in", "tape", "tape", "1/32 in", false},
	{"quick:laser-mm", "line laser, read in ½ mm", "laser level", "laser", "0.5 mm", false},
	{"quick:laser-in", "line laser, read in 1/32 in", "laser level", "laser", "1/32 in", false},
	{"quick:water-mm", "water level, read in mm", "water level", "water-level", "1 mm", false},
	{"quick:water-in", "water level, read in 1/32 in", "water level", "water-level", "1/32 in", false},
}

// QuickOf is the one of that id.
func QuickOf(id string) (Quick, bool) {
	i := slices.IndexFunc(Quicks, func(k Quick) bool { return k.ID == id })
	if i < 0 {
		return Quick{}, false
	}
	return Quicks[i], true
}

// Make returns the facts of it.
func (k Quick) Make(id string) Made {
	return Made{ID: id, Name: k.Name, Sort: k.Sort, Measures: Instrument{Angle: k.Angle}.measures(), Type: k.Type, Resolution: k.Resolution}
}

// Instrument is it as it would be once it is chosen, by the id that it is offered under.
func (k Quick) Instrument() Instrument {
	return Instrument{ID: k.ID, Name: k.Name, Sort: k.Sort, Angle: k.Angle, Type: k.Type, Resolution: k.Resolution}
}

// maxDueDays is the longest that a proof may be taken to last.
const maxDueDays = 3650

// Add adds a level, tape or rule. Problems are by field.
func (s *Instruments) Add(ctx context.Context, n NewInstrument) error {
	wrong := ledger.Problems{}
	f := n.read(wrong)
	_, err := ledger.Do(ctx, s.ledger, added, n.Form, n, func(q *query.Queries) (figured, error) {
		switch _, err := q.InstrumentNamed(ctx, n.Name); {
		case err == nil:
			wrong.Add("name", "there is one of that name already")
		case !errors.Is(ledger.Found(err), ledger.ErrNotFound):
			return f, err
		}
		return f, wrong.Err()
	})
	return err
}

// Class is what a maker promises of a tape or rule: its divisions, and its error, constant
// and in proportion.
type Class struct{ Name, Resolution, Offset, PerMetre string }

// Classes are the usual ones.
var Classes = []Class{
	{"0.1 mm + 0.1 mm a metre", "1 mm", "0.1 mm", "0.1 mm"},
	{"0.3 mm + 0.2 mm a metre", "1 mm", "0.3 mm", "0.2 mm"},
	{"0.6 mm + 0.4 mm a metre", "1 mm", "0.6 mm", "0.4 mm"},
}

// Materials are those that tapes and rules are made of.
var Materials = []string{"steel", "fibreglass", "aluminium"}

// classed fills in what the class of a tape says and the form does not.
func (n *NewInstrument) classed(wrong ledger.Problems) {
	if n.Class == "" {
		return
	}
	for _, c := range Classes {
		if c.Name != n.Class {
			continue
		}
		if n.Resolution == "" {
			n.Resolution = c.Resolution
		}
		if n.Offset == "" {
			n.Offset = c.Offset
		}
		if n.PerMetre == "" {
			n.PerMetre = c.PerMetre
		}
		return
	}
	wrong.Add("class", "which class is it of? Choose one of the list, or none")
}

// read trims and understands the form.
func (n *NewInstrument) read(wrong ledger.Problems) figured {
	wrong.Text("name", &n.Name, ledger.MaxName, "give it the name that stands on it")
	kind, typed := typeLabelled(n.Type)
	switch {
	case typed:
		n.Type, n.Sort = kind.Name, kind.Sort
	case n.Type != "":
		wrong.Add("type", "what is it? Choose one of the list")
	}
	sort, ok := sortNamed(n.Sort)
	if !ok {
		wrong.Add("sort", "what is it? Choose one of the list")
	}
	step := ""
	if sort.Reads && (n.Type == "" || kind.Shows != "") {
		step = cmp.Or(kind.Shows, "the smallest step it shows")
	}
	as := map[bool]string{true: "plain", false: "length"}[sort.Angle]
	figure := func(field, as string, text *string, required string) {
		wrong.Text(field, text, 64, required)
		if *text == "" {
			return
		}
		if as == "length" && field != "per_metre" { // a share of the length has the same figure in any unit
			*text = inUnit(*text, n.Unit)
		}
		v, err := worksheet.Typed(*text, as, quantity.Millimetre)
		if err != nil {
			wrong.Add(field, err.Error())
		} else if v < 0 && field != "own" {
			wrong.Add(field, "cannot be negative")
		}
	}
	n.classed(wrong)
	figure("resolution", as, &n.Resolution, step)
	figure("offset", as, &n.Offset, "")
	figure("spread", as, &n.Spread, "")
	figure("spot", as, &n.Spot, "")
	n.shares(sort, wrong)
	figure("own", "pitch", &n.Own, map[bool]string{true: "its own angle above the chord line"}[ok && !sort.Reads])
	figure("per_metre", "length", &n.PerMetre, "")
	if n.PerMetre != "" && sort.Angle {
		wrong.Add("per_metre", "is for what measures lengths")
	}
	for field, text := range map[string]*string{"weight": &n.Weight, "pull": &n.Pull} {
		if wrong.Text(field, text, 16, ""); *text == "" {
			continue
		}
		if v, err := strconv.ParseFloat(strings.Replace(*text, ",", ".", 1), 64); err != nil || v <= 0 || v > 10_000 {
			wrong.Add(field, map[string]string{"weight": "grams a metre, as 20", "pull": "newtons, as 50"}[field])
		} else {
			*text = strings.Replace(*text, ",", ".", 1)
		}
	}
	if n.Material != "" && !slices.Contains(Materials, n.Material) {
		wrong.Add("material", "what is it made of? Choose one of the list")
	}
	days := 0
	if wrong.Text("due_days", &n.DueDays, 8, ""); n.DueDays != "" {
		var err error
		if days, err = strconv.Atoi(n.DueDays); err != nil || days < 0 || days > maxDueDays {
			wrong.Add("due_days", fmt.Sprintf("a number of days, %d at most", maxDueDays))
		}
	}
	return figured{Instrument{Angle: sort.Angle}.measures(), int64(days)}
}

// shares reads the error in proportion to an angle: a plain number.
func (n *NewInstrument) shares(sort Sort, wrong ledger.Problems) {
	if wrong.Text("per_degree", &n.PerDegree, 16, ""); n.PerDegree == "" {
		return
	}
	n.PerDegree = strings.Replace(n.PerDegree, ",", ".", 1)
	switch v, err := strconv.ParseFloat(n.PerDegree, 64); {
	case !sort.Angle:
		wrong.Add("per_degree", "is for what shows angles")
	case err != nil || !(v >= 0 && v <= 1):
		wrong.Add("per_degree", "degrees in a degree, as 0.02")
	}
}

// inUnit writes the unit of an inch shop behind a bare length: 4.125 is 4.125 in there, and stays so.
func inUnit(text, unit string) string {
	text = strings.TrimSpace(text)
	if unit != quantity.Inch.String() || text == "" || strings.IndexFunc(text, unicode.IsLetter) >= 0 || strings.ContainsAny(text, `"″'′`) {
		return text
	}
	return text + " in"
}

// EndForEnd is an end-for-end test of a level: two readings on one spot.
type EndForEnd struct {
	ledger.Form
	Instrument string `json:"instrument" form:"-"` // id
	First      string `json:"first" form:"first"`
	Turned     string `json:"turned" form:"turned"`
}

// zeroed is what a test has found.
type zeroed struct {
	Name string  `json:"name"`
	Zero float64 `json:"zero"` // degrees
}

var tested = &ledger.Kind[EndForEnd, zeroed]{
	Name: "zero-test", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, t EndForEnd, f zeroed) error {
		if err := q.AddZeroTest(ctx, query.AddZeroTestParams{ID: e.ID, InstrumentID: t.Instrument, First: t.First, Turned: t.Turned, Zero: f.Zero, At: e.At, Entry: e.Seq}); err != nil {
			return err
		}
		return q.ZeroOfInstrument(ctx, query.ZeroOfInstrumentParams{Zero: f.Zero, ZeroAt: e.At, Revised: e.Seq, ID: t.Instrument})
	},
	Rights: func(EndForEnd, zeroed) bool { return true }, // it may have moved since the test before
	Words: func(t EndForEnd, f zeroed) ledger.Words {
		return ledger.Words{What: fmt.Sprintf("%s turned end for end: zero %s", f.Name, say.Angle(f.Zero)), Detail: "first " + t.First + " · turned " + t.Turned}
	},
	Travel: ledger.Travel[EndForEnd, zeroed]{Shared: func(_ string, n EndForEnd) []string { return []string{n.Instrument} }},
}

// Test works out the zero of a level from its end-for-end test.
func (s *Instruments) Test(ctx context.Context, t EndForEnd) error {
	_, err := ledger.Do(ctx, s.ledger, tested, t.Form, t, func(q *query.Queries) (f zeroed, err error) {
		in, err := One(ctx, q, s.ledger, t.Instrument)
		if err != nil {
			return f, err
		}
		wrong := ledger.Problems{}
		if !in.Angle || !in.Reads() {
			wrong.Add("", "only a level is turned end for end")
		}
		reading := func(field, text string) measure.Reading {
			v, err := quantity.ParseAngle(text, quantity.Either)
			if err != nil {
				wrong.Add(field, err.Error())
			}
			return measure.Reading{Values: []float64{float64(v)}}
		}
		test := &measure.ZeroTest{First: reading("first", t.First), Turned: reading("turned", t.Turned)}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		zero, _ := measure.Solve(test, nil, measure.Decision{Coverage: check.Coverage}).Quantity("zero")
		if limit := 5.0; zero.Value > limit || zero.Value < -limit {
			return f, ledger.Problems{"turned": fmt.Sprintf("a zero of %s is hardly meant: is the sign of one reading the wrong way round?", say.Angle(zero.Value))}
		}
		return zeroed{in.Name, zero.Value}, nil
	})
	return err
}

// One loads an instrument.
func One(ctx context.Context, q *query.Queries, l *ledger.Ledger, id string) (Instrument, error) {
	row, err := q.Instrument(ctx, id)
	if err != nil {
		return Instrument{}, ledger.Found(err)
	}
	return from(row, l.When), nil
}

// NewProof is a proof of an instrument, as typed: ten placings on one spot, set down anew
// each time, for its spread, or a known length and what it showed for its offset.
type NewProof struct {
	ledger.Form
	Instrument string   `json:"instrument" form:"-"`        // id
	What       string   `json:"what" form:"what"`           // spread or offset
	Unit       string   `json:"unit,omitempty" form:"unit"` // of bare lengths: mm or in, as the shop has it
	Texts      []string `json:"texts" form:"-"`
}

// Placings is how many texts a proof of a kind has; 0 for a kind that there is not.
func Placings(what string) int { return map[string]int{"spread": 10, "offset": 2}[what] }

// found is what a proof has shown.
type found struct {
	Name  string          `json:"name"`
	Value float64         `json:"value"`
	Unit  string          `json:"unit"` // mm or deg
	Texts json.RawMessage `json:"texts"`
}

var proven = &ledger.Kind[NewProof, found]{
	Name: "proof", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewProof, f found) error {
		if err := q.AddProof(ctx, query.AddProofParams{ID: e.ID, InstrumentID: n.Instrument, What: n.What, Texts: string(f.Texts), Value: f.Value, At: e.At, Entry: e.Seq}); err != nil {
			return err
		}
		if n.What == "spread" {
			return q.SpreadOfInstrument(ctx, query.SpreadOfInstrumentParams{SpreadFound: f.Value, SpreadFrom: int64(len(n.Texts)), SpreadAt: e.At, Revised: e.Seq, ID: n.Instrument})
		}
		return q.OffsetOfInstrument(ctx, query.OffsetOfInstrumentParams{OffsetFound: f.Value, OffsetAt: e.At, Revised: e.Seq, ID: n.Instrument})
	},
	Words: func(n NewProof, f found) ledger.Words {
		value := say.Length(f.Value).Fine(2)
		if f.Unit == "deg" {
			value = say.Angle(f.Value)
		}
		return ledger.Words{What: fmt.Sprintf("%s: %s found to be %s", f.Name, n.What, value), Detail: strings.Join(n.Texts, ", ")}
	},
	Travel: ledger.Travel[NewProof, found]{Shared: func(_ string, n NewProof) []string { return []string{n.Instrument} }},
}

// Prove finds the spread of an instrument as the sample standard deviation of ten
// placings, or the bound of its offset as its error at a known length and half of its
// step. What is found is in force from then on. Problems are at the name of the proof
// with the number of the text, from 1.
func (s *Instruments) Prove(ctx context.Context, n NewProof) error {
	_, err := ledger.Do(ctx, s.ledger, proven, n.Form, n, func(q *query.Queries) (f found, err error) {
		in, err := One(ctx, q, s.ledger, n.Instrument)
		if err != nil {
			return f, err
		}
		wanted := Placings(n.What)
		if wanted == 0 || !in.Reads() {
			return f, ledger.Problems{"": "what is to be proven, spread or offset?"}
		}
		values, texts, wrong := make([]float64, wanted), make([]string, wanted), ledger.Problems{}
		for i := range wanted {
			text := ""
			if i < len(n.Texts) {
				text = n.Texts[i]
			}
			if !in.Angle {
				text = inUnit(text, n.Unit)
			}
			texts[i] = text
			v, err := worksheet.Typed(text, map[bool]string{true: "either", false: "length"}[in.Angle], quantity.Millimetre)
			if err != nil {
				wrong.Add(fmt.Sprintf("%s%d", n.What, i+1), err.Error())
			}
			values[i] = v
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		f = found{Name: in.Name, Value: stat.StdDev(values, nil), Unit: map[bool]string{true: "deg", false: "mm"}[in.Angle]}
		if n.What == "offset" {
			f.Value = math.Abs(values[1]-values[0]) + in.Tool().Step/2
		}
		f.Texts, err = json.Marshal(texts)
		return f, err
	})
	return err
}
