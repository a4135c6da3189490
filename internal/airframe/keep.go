package airframe

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/quantity"
	"orpine/internal/core/shape"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Keepers put aircraft and assemblies right.
var Keepers = []ledger.Keeper{
	{Kind: "airframe", Load: loadFrame, Judge: judgeFrame, Put: putFrame, Withdraw: withdrawFrame},
	{Kind: "assembly", Load: loadAssembly, Judge: judgeAssembly, Put: putAssembly, Withdraw: withdrawAssembly},
}

// doneOf says that a step is done under one of the holds; what is permanent stays.
func doneOf(holds []query.HoldsNow) string {
	for _, h := range holds {
		if h.Done == 1 {
			return "“" + h.Name + "” is done on it: what is permanent stays on the record"
		}
	}
	return ""
}

func loadFrame(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	row, err := q.Airframe(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	holds, err := q.Holds(ctx, id)
	return ledger.Thing{Kind: "airframe", ID: id, Title: row.Name, Path: "/airframes/" + id, After: "/", Seen: row.Revised, Withdrawn: row.Withdrawn, Stays: doneOf(holds), Fields: []ledger.ThingField{
		{Key: "name", Label: "Name", Value: row.Name}, {Key: "description", Label: "What it is", Value: row.Description}, {Key: "unit", Label: "Bare lengths are in", Value: row.LengthUnit, Words: []string{"mm", "in"}},
	}}, err
}

// frameFacts are an aircraft as it was put right.
type frameFacts struct {
	Name        string `json:"name"`
	Description string `json:"description"`
	Unit        string `json:"unit"`
}

func judgeFrame(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := frameFacts{t.Field("name"), t.Field("description"), t.Field("unit")}
	if values == nil {
		return f, nil
	}
	f = frameFacts{values["name"], values["description"], values["unit"]}
	wrong.Text("name", &f.Name, ledger.MaxName, "what is the aircraft called?")
	wrong.Text("description", &f.Description, ledger.MaxNote, "")
	if f.Unit != "mm" && f.Unit != "in" {
		wrong.Add("unit", "mm or in?")
	}
	if f.Unit != t.Field("unit") {
		setups, err := q.SetupsOfAirframe(ctx, t.ID)
		if err != nil {
			return f, err
		}
		if len(setups) > 0 {
			wrong.Add("unit", "bare lengths were typed in "+t.Field("unit")+" already, and would be read anew: write the unit behind a length instead")
		}
	}
	switch other, err := q.AirframeNamed(ctx, f.Name); {
	case err == nil && other.ID != t.ID:
		wrong.Add("name", "there is one of that name already")
	case err != nil && !errors.Is(ledger.Found(err), ledger.ErrNotFound):
		return f, err
	}
	return f, nil
}

func putFrame(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f frameFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangeAirframe(ctx, query.ChangeAirframeParams{Name: f.Name, Description: f.Description, LengthUnit: f.Unit, Revised: e.Seq, ID: id})
}

func withdrawFrame(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, judged json.RawMessage) error {
	var f frameFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.WithdrawAirframe(ctx, query.WithdrawAirframeParams{Withdrawn: reason, Name: Gone(f.Name, e), Revised: e.Seq, ID: id})
}

// Gone is the name of something that was withdrawn, so that another may have its own.
func Gone(name string, e ledger.Entry) string {
	return fmt.Sprintf("%s (withdrawn, entry %d)", name, e.Seq)
}

func loadAssembly(ctx context.Context, q *query.Queries, id string, typed map[string]string) (t ledger.Thing, err error) {
	row, err := q.Assembly(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	a, err := assemblyFrom(row.Assembly)
	if err != nil {
		return t, err
	}
	holds, err := q.HoldsOfAssembly(ctx, id)
	if err != nil {
		return t, err
	}
	unit := quantity.Millimetre
	if row.Airframe.LengthUnit == "in" {
		unit = quantity.Inch
	}
	t = ledger.Thing{Kind: "assembly", ID: id, Title: a.Name, Path: "/assemblies/" + id, After: "/airframes/" + row.Airframe.ID, Seen: a.Revised, Withdrawn: row.Assembly.Withdrawn, Stays: doneOf(holds)}
	form := a.Shape.Form
	if typed != nil {
		form = typed["form"]
	}
	forms := []string{""}
	for _, f := range shape.Forms {
		forms = append(forms, f.ID)
	}
	t.Fields = []ledger.ThingField{{Key: "name", Label: "Name", Value: a.Name}, {Key: "before", Label: "Done before this record began", Value: a.Before}, {Key: "form", Label: "Shape", Value: a.Shape.Form, Words: forms}}
	of, _ := shape.FormOf(form)
	for _, f := range of.Fields {
		t.Fields = append(t.Fields, ledger.ThingField{Key: f.Key, Label: f.Label, Value: quantity.Length(*a.Shape.Field(f.Key)).Text(unit)})
	}
	if of.Sections > 0 {
		var lines []string
		for _, s := range a.Shape.Sections {
			lines = append(lines, strings.Join([]string{quantity.Length(s.X).Text(unit), quantity.Length(s.Half).Text(unit), quantity.Length(s.Bottom).Text(unit), quantity.Length(s.Top).Text(unit)}, "; "))
		}
		t.Fields = append(t.Fields, ledger.ThingField{Key: "sections", Label: "Sections", Value: strings.Join(lines, "\n"), Columns: []string{"station", "half width", "bottom", "top"}})
	}
	if len(a.Shape.Assumed) > 0 {
		t.Fields = append(t.Fields, ledger.ThingField{Key: "stated", Label: "all of it is as the plans say, nothing is assumed any more", Tick: true})
	}
	return t, nil
}

// assemblyFacts are an assembly as it was put right.
type assemblyFacts struct {
	Name   string          `json:"name"`
	Before string          `json:"before"`
	Part   string          `json:"part"`
	Shape  json.RawMessage `json:"shape"`
}

func judgeAssembly(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	row, err := q.Assembly(ctx, t.ID)
	if err != nil {
		return nil, err
	}
	a, err := assemblyFrom(row.Assembly)
	if err != nil {
		return nil, err
	}
	f := assemblyFacts{Name: a.Name, Before: a.Before, Part: a.Part}
	next := a.Shape
	if values != nil {
		f.Name, f.Before = values["name"], values["before"]
		wrong.Text("name", &f.Name, ledger.MaxName, "what is the assembly called?")
		wrong.Text("before", &f.Before, ledger.MaxNote, "")
		next = readShape(t, a.Shape, values, row.Airframe.LengthUnit, wrong)
		switch other, err := q.AssemblyNamed(ctx, query.AssemblyNamedParams{AirframeID: row.Airframe.ID, Name: f.Name}); {
		case err == nil && other.ID != t.ID:
			wrong.Add("name", "there is one of that name already")
		case err != nil && !errors.Is(ledger.Found(err), ledger.ErrNotFound):
			return f, err
		}
	}
	f.Shape, err = json.Marshal(next)
	return f, err
}

// readShape reads the shape of an assembly that is put right. What was assumed and is left as
// it is stays so, unless all of it is said to be as the plans have it.
func readShape(t ledger.Thing, was Shape, values map[string]string, unit string, wrong ledger.Problems) Shape {
	s := Shape{Form: values["form"]}
	bare := quantity.Millimetre
	if unit == "in" {
		bare = quantity.Inch
	}
	read := func(field, text string) float64 {
		v, err := quantity.ParseLength(text, bare)
		if err != nil {
			wrong.Add(field, err.Error())
		}
		return float64(v)
	}
	form, _ := shape.FormOf(s.Form)
	for _, f := range form.Fields {
		text := strings.TrimSpace(values[f.Key])
		if s.Form == was.Form && text == t.Field(f.Key) { // to the last digit
			*s.Field(f.Key) = *was.Field(f.Key)
			if was.Rests(f.Key) {
				s.Assumed = append(s.Assumed, f.Key)
			}
			continue
		}
		if text != "" {
			*s.Field(f.Key) = read(f.Key, text)
		}
	}
	if form.Sections > 0 && strings.TrimSpace(strings.ReplaceAll(values["sections"], "\r", "")) == t.Field("sections") {
		s.Sections = slices.Clone(was.Sections)
		if was.Rests("sections") {
			s.Assumed = []string{"sections"}
		}
	} else if form.Sections > 0 {
		for _, line := range strings.Split(strings.TrimSpace(values["sections"]), "\n") {
			cells := strings.Split(line, ";")
			if len(cells) != 4 {
				wrong.Add("sections", "four lengths to a line: station; half width; bottom; top")
				continue
			}
			s.Sections = append(s.Sections, Section{X: read("sections", strings.TrimSpace(cells[0])), Half: read("sections", strings.TrimSpace(cells[1])), Bottom: read("sections", strings.TrimSpace(cells[2])), Top: read("sections", strings.TrimSpace(cells[3]))})
		}
	}
	if values["stated"] != "" {
		s.Assumed = nil
	}
	s.Validate(wrong.Add)
	return s
}

func putAssembly(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f assemblyFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangeAssembly(ctx, query.ChangeAssemblyParams{Name: f.Name, Shape: string(f.Shape), BeforeUs: f.Before, Part: f.Part, Revised: e.Seq, ID: id})
}

func withdrawAssembly(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, judged json.RawMessage) error {
	var f assemblyFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.WithdrawAssembly(ctx, query.WithdrawAssemblyParams{Withdrawn: reason, Name: Gone(f.Name, e), Revised: e.Seq, ID: id})
}
