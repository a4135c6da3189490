package measuring

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// NewSetup is a placing to be measured, with its checks and the hold that they
// are for.
type NewSetup struct {
	ledger.Form
	Assembly string        `json:"assembly"`       // id
	Name     string        `json:"name"`           // "on the rails"
	Unit     string        `json:"unit,omitempty"` // of bare lengths where there is no assembly: mm or in
	Checks   []NewCheck    `json:"checks"`
	Hold     *gate.NewHold `json:"hold,omitempty"` // it requires checks by their number, from 0
	Pins     bool          `json:"pins,omitempty"` // two holds in series: the pin holes, then, measured again, all holes
}

// NewCheck is a check of a new setup: a worksheet check without readings.
type NewCheck struct {
	Name       string         `json:"name"`
	Definition map[string]any `json:"definition" text:"lines"`
	Instrument string         `json:"instrument,omitempty"` // id of the one offered first
	Accepts    []string       `json:"accepts,omitempty"`    // conditions; nil: all but pushed by hand
	Survey     string         `json:"survey,omitempty"`     // number, from 0, of the check that surveys the rails it lies on
	Assumed    []string       `json:"assumed,omitempty"`    // what of it nobody stated, in words
}

// madeCheck is a check as the facts of an entry have it.
type madeCheck struct {
	ID         string          `json:"id"`
	Setup      string          `json:"setup"`
	Position   int64           `json:"position"`
	Name       string          `json:"name"`
	Kind       string          `json:"kind"`
	Definition json.RawMessage `json:"definition"`
	Instrument string          `json:"instrument,omitempty"`
	Accepts    json.RawMessage `json:"accepts"`
	AfterOf    string          `json:"after_of,omitempty"` // the check that it repeats
	Survey     string          `json:"survey,omitempty"`
	Assumed    json.RawMessage `json:"assumed,omitempty"`
}

// made is a setup as the facts of an entry have it.
type made struct {
	Title  string            `json:"title"`
	Checks []madeCheck       `json:"checks"`
	Holds  []gate.Made       `json:"holds"`
	Tools  []instrument.Made `json:"tools,omitempty"` // that were added with it
	For    []string          `json:"for,omitempty"`   // ids of holds that were there, and whose joints it is measured for
}

var begun = &ledger.Kind[NewSetup, made]{
	Name: "setup", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make, ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewSetup, f made) error {
		if err := q.AddSetup(ctx, query.AddSetupParams{ID: e.ID, AssemblyID: gate.Reference(n.Assembly), Name: n.Name, BegunAt: e.At, SteadyAt: e.At, Unit: n.Unit, Entry: e.Seq}); err != nil {
			return err
		}
		for _, in := range f.Tools {
			if err := instrument.Put(ctx, q, e, in); err != nil {
				return err
			}
		}
		if err := putChecks(ctx, q, e, f.Checks); err != nil {
			return err
		}
		for _, h := range f.Holds {
			if err := gate.Put(ctx, q, e, h); err != nil {
				return err
			}
		}
		for _, id := range f.For {
			if err := gate.MeasuredFor(ctx, q, e, e.ID, id); err != nil {
				return err
			}
		}
		return nil
	},
	Words: func(_ NewSetup, f made) ledger.Words {
		return ledger.Words{What: "setup added: " + f.Title, Detail: checkNames(f.Checks)}
	},
	Travel: ledger.Travel[NewSetup, made]{
		Loose: func(_ NewSetup, f made) []ledger.Loose { return instrument.Loose(f.Tools) },
		Names: func(_ string, _ *NewSetup, f *made, name func(thing, was string) string) error {
			for i, in := range f.Tools {
				f.Tools[i].Name = name(in.ID, in.Name)
			}
			return nil
		},
	},
}

func putChecks(ctx context.Context, q *query.Queries, e ledger.Entry, checks []madeCheck) error {
	for _, c := range checks {
		assumed := c.Assumed
		if assumed == nil {
			assumed = json.RawMessage("[]")
		}
		err := q.AddCheck(ctx, query.AddCheckParams{ID: c.ID, SetupID: c.Setup, Position: c.Position, Name: c.Name, Kind: c.Kind, Definition: string(c.Definition), InstrumentID: gate.Reference(c.Instrument),
			Accepts: string(c.Accepts), Schools: "{}", AfterOf: gate.Reference(c.AfterOf), Assumed: string(assumed), Survey: c.Survey, FirstLimits: limitsIn(string(c.Definition)), Entry: e.Seq, Redefined: e.Seq, Revised: e.Seq})
		if err != nil {
			return err
		}
	}
	return nil
}

// limitsIn are the limits of a definition as they stand in it, "" for none.
func limitsIn(definition string) string {
	var d struct{ Limits json.RawMessage }
	if json.Unmarshal([]byte(definition), &d) != nil || len(d.Limits) == 0 || string(d.Limits) == "null" {
		return ""
	}
	return string(d.Limits)
}

func checkNames(checks []madeCheck) string {
	names := make([]string, len(checks))
	for i, c := range checks {
		names[i] = c.Name
	}
	return strings.Join(names, "; ")
}

// Begin begins a setup. Problems are by field, those of a check by "checks[NUMBER]".
func (m *Measuring) Begin(ctx context.Context, n NewSetup) error {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "where is it: on the rails, on the bench?")
	for i := range n.Checks {
		n.Checks[i].Definition["name"] = n.Checks[i].Name
	}
	n.Pins = n.Pins && n.Hold != nil && hold.Step(n.Hold.Step).Drills()
	_, err := ledger.Do(ctx, m.ledger, begun, n.Form, n, func(q *query.Queries) (f made, err error) {
		if len(n.Checks) == 0 {
			wrong.Add("checks", "a setup has one check or more: tick those that you want")
		}
		if n.Unit != "" && n.Unit != "mm" && n.Unit != "in" {
			wrong.Add("unit", "mm or in?")
		}
		frame := airframe.Airframe{Unit: unitOf(n.Unit)}
		var assembly airframe.Assembly
		if n.Assembly != "" {
			if frame, assembly, err = airframe.Of(ctx, q, n.Assembly); err != nil {
				return f, err
			}
		}
		f.Title = strings.TrimSpace(assembly.Name + " " + n.Name)
		for i, c := range n.Checks {
			c.validate(fmt.Sprintf("checks[%d]", i), frame, wrong)
		}
		if n.Hold != nil {
			validateHold(*n.Hold, len(n.Checks), wrong)
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		for i, c := range n.Checks {
			if c.Instrument, err = f.tool(ctx, q, n.ID, c.Instrument); err != nil {
				return f, err
			}
			mc, err := c.make(checkID(n.ID, i), n.ID, int64(i), "")
			if err != nil {
				return f, err
			}
			f.Checks = append(f.Checks, mc)
		}
		f.Holds = []gate.Made{}
		if n.Hold == nil {
			return f, nil
		}
		h := *n.Hold
		same, found, err := m.gate.Same(ctx, q, n.Assembly, &h)
		if err != nil {
			return f, err
		}
		if found { // it is measured for what stands there
			f.For = []string{same.ID}
			return f, nil
		}
		n.Hold = &h
		f.Holds, err = n.holds()
		return f, err
	})
	return err
}

// checkID is the id of a check that a submission makes.
func checkID(submission string, number int) string {
	return ledger.Child(submission, fmt.Sprintf("check %d", number))
}

// make returns the facts of a check; afterOf is the id of the check that it repeats.
func (c NewCheck) make(id, setup string, position int64, afterOf string) (madeCheck, error) {
	m := madeCheck{ID: id, Setup: setup, Position: position, Name: c.Name, Instrument: c.Instrument, AfterOf: afterOf}
	m.Kind, _ = c.Definition["kind"].(string)
	if number, err := strconv.Atoi(c.Survey); err == nil {
		m.Survey = checkID(setup, number)
	}
	accepts := c.Accepts
	if accepts == nil {
		accepts = check.Acceptable
	}
	var err error
	if m.Definition, err = json.Marshal(c.Definition); err != nil {
		return m, err
	}
	if len(c.Assumed) > 0 {
		if m.Assumed, err = json.Marshal(c.Assumed); err != nil {
			return m, err
		}
	}
	m.Accepts, err = json.Marshal(accepts)
	return m, err
}

// tool is the id of an instrument that was named by its id, or chosen from those that any
// shop has: then it is added with the setup, unless the shop has it.
func (f *made) tool(ctx context.Context, q *query.Queries, setup, chosen string) (id string, err error) {
	quick, ok := instrument.QuickOf(chosen)
	if !ok {
		return chosen, nil
	}
	for _, in := range f.Tools {
		if in.Name == quick.Name {
			return in.ID, nil
		}
	}
	kept, err := q.InstrumentNamed(ctx, quick.Name)
	if err == nil {
		return kept.ID, nil
	}
	if !errors.Is(ledger.Found(err), ledger.ErrNotFound) {
		return "", err
	}
	in := quick.Make(ledger.Child(setup, quick.Name))
	f.Tools = append(f.Tools, in)
	return in.ID, nil
}

// unitOf is a unit by its short name; that of no name is the millimetre.
func unitOf(name string) quantity.Unit {
	if name == quantity.Inch.String() {
		return quantity.Inch
	}
	return quantity.Millimetre
}

// holds are the facts of the holds that the setup is measured for: none, one, or the
// pin holes' and then all holes'.
func (n NewSetup) holds() ([]gate.Made, error) {
	if n.Hold == nil {
		return []gate.Made{}, nil
	}
	first := *n.Hold
	first.Required = slices.Clone(n.Hold.Required)
	for i, r := range first.Required {
		if r.Need == hold.Handed || r.Check == "" {
			continue
		}
		var number int
		if _, err := fmt.Sscan(r.Check, &number); err != nil {
			return nil, err // it was validated
		}
		first.Required[i].Check = checkID(n.ID, number)
	}
	id := ledger.Child(n.ID, "hold")
	if !n.Pins {
		h, err := gate.Make(id, n.Assembly, n.ID, first, false)
		return []gate.Made{h}, err
	}
	all := first
	all.Required = []hold.Requirement{{Need: hold.Before, Of: id}}
	for _, r := range first.Required {
		if r.Need == hold.Shown {
			r.Need = hold.Again
			all.Required = append(all.Required, r)
		}
	}
	all.Joint = id
	all.Name = "All holes: " + say.Lower(first.Name)
	first.Name, first.Permanent = "Pin holes first: "+say.Lower(first.Name), "the pin holes of "+first.Permanent
	pins, err := gate.Make(id, n.Assembly, n.ID, first, true)
	if err != nil {
		return nil, err
	}
	rest, err := gate.Make(ledger.Child(n.ID, "hold all"), n.Assembly, n.ID, all, false)
	return []gate.Made{pins, rest}, err
}

// tryWith are the instruments that a check is tried with before it is begun.
var tryWith = map[string]map[string]any{"a tape": instrument.Instrument{Resolution: "1 mm"}.Worksheet(), "a level": instrument.Instrument{Angle: true, Resolution: "0.1"}.Worksheet()}

// tryReading is a reading that any check takes, at any spot.
func tryReading(s measure.Spot) (any, bool) {
	if s.Sense == "figure" {
		return "1 mm", true
	}
	if s.Dimension == measure.Length {
		return map[string]any{"value": "1 mm", "instrument": "a tape"}, true
	}
	return map[string]any{"value": 0, "instrument": "a level"}, true
}

// validate tries the check with a reading everywhere.
func (c NewCheck) validate(path string, frame airframe.Airframe, wrong ledger.Problems) {
	for _, condition := range c.Accepts {
		if !slices.Contains(check.Conditions, condition) {
			wrong.Add("checks", condition+" is not a condition that a part is read in")
		}
	}
	data, err := json.Marshal(c.Definition)
	if err != nil {
		wrong.Add(path, err.Error())
		return
	}
	d, errs := worksheet.ParseDefinition(data, frame.Unit)
	if len(errs) == 0 {
		walker, ok := d.Input.(measure.Walker)
		if !ok {
			wrong.Add(path, "this kind of check cannot be measured on a screen yet")
			return
		}
		var definition map[string]any
		if err := json.Unmarshal(data, &definition); err != nil {
			wrong.Add(path, err.Error())
			return
		}
		filled, _ := fill(definition, walker.Walk(), tryReading)
		usual(filled, nil)
		_, errs = worksheet.Read(document(frame.Unit, frame.Schools, tryWith, filled))
	}
	for _, e := range errs {
		wrong.Add(strings.TrimSuffix(path+"."+e.Path, "."), e.Message)
	}
}

func validateHold(n gate.NewHold, checks int, wrong ledger.Problems) {
	wrong.Text("hold", &n.Name, ledger.MaxName, "what is it measured for?")
	if !slices.Contains(hold.Steps, hold.Step(n.Step)) {
		wrong.Add("step", "which irreversible step is it?")
	}
	for _, r := range n.Required {
		if r.Need == hold.Handed {
			if r.What == "" || len([]rune(r.What)) > ledger.MaxName {
				wrong.Add("look", fmt.Sprintf("which part, and what can the eye check? At most %d letters", ledger.MaxName))
			}
			continue
		}
		var i int
		if _, err := fmt.Sscan(r.Check, &i); err != nil || i < 0 || i >= checks {
			wrong.Add("hold", "it asks for a check that is not there")
		}
	}
}
