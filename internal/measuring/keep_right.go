package measuring

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/form"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Keepers put setups, checks and points right; when reads kept times.
func Keepers(m *Measuring) []ledger.Keeper {
	return []ledger.Keeper{
		{Kind: "setup", Load: loadSetup, Judge: judgeSetup, Put: putSetup, Withdraw: withdrawSetup},
		{Kind: "check", Load: m.loadCheck, Judge: m.judgeCheck, Put: putCheck, Withdraw: withdrawCheck},
		{Kind: "point", Load: m.loadPoint, Judge: m.judgePoint, Put: putPoint, Withdraw: withdrawPoint},
	}
}

// holdsOfCheck are the holds of its setup that ask for a check.
func holdsOfCheck(ctx context.Context, q *query.Queries, id string) ([]query.HoldsNow, error) {
	c, err := q.Check(ctx, id)
	if err != nil {
		return nil, ledger.Found(err)
	}
	rows, err := q.HoldsOfSetup(ctx, gate.Reference(c.Check.SetupID))
	return slices.DeleteFunc(rows, func(h query.HoldsNow) bool { return !strings.Contains(h.Required, id) }), err
}

// setupFacts are a setup as it was put right.
type setupFacts struct {
	Name string `json:"name"`
}

func loadSetup(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	row, err := q.Setup(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	after := "/setups"
	if row.Setup.AssemblyID.Valid {
		after = "/assemblies/" + row.Setup.AssemblyID.String
	}
	t = ledger.Thing{Kind: "setup", ID: id, Title: strings.TrimSpace(row.Assembly + " " + row.Setup.Name), Path: "/setups/" + id, After: after, Seen: row.Setup.Entry, Withdrawn: row.Setup.Withdrawn,
		Fields: []ledger.ThingField{{Key: "name", Label: "Where it is", Value: row.Setup.Name}}}
	holds, err := q.HoldsOfSetup(ctx, gate.Reference(id))
	for _, h := range holds {
		if h.Done == 1 {
			t.Stays = "“" + h.Name + "” was done on what was measured here: it stays on the record"
		}
	}
	return t, err
}

func judgeSetup(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := setupFacts{t.Field("name")}
	if values != nil {
		f.Name = values["name"]
		wrong.Text("name", &f.Name, ledger.MaxName, "where is it: on the rails, on the bench?")
	}
	return f, nil
}

func putSetup(ctx context.Context, q *query.Queries, _ ledger.Entry, id string, judged json.RawMessage) error {
	var f setupFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.RenameSetup(ctx, query.RenameSetupParams{Name: f.Name, ID: id})
}

func withdrawSetup(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	if err := q.WithdrawSetup(ctx, query.WithdrawSetupParams{Withdrawn: reason, ID: id}); err != nil {
		return err
	}
	return q.ReviseChecksOfSetup(ctx, query.ReviseChecksOfSetupParams{Revised: e.Seq, SetupID: id})
}

// plainFields are the fields of a kind's form that stand in its definition as they were
// typed.
func plainFields(kind string) (out []form.Field) {
	asks := formOf(kind)
	for _, f := range asks.Fields {
		if len(f.Columns) == 0 && !slices.Contains(asks.Made, f.Key) {
			out = append(out, f)
		}
	}
	return out
}

func (m *Measuring) loadCheck(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	s, c, err := loader{q, m.ledger.When}.one(ctx, id)
	if err != nil {
		return t, err
	}
	t = ledger.Thing{Kind: "check", ID: id, Title: s.Title() + ": " + c.Name, Path: "/setups/" + s.ID + "/checks/" + id, After: "/setups/" + s.ID, Seen: c.Redefined, Fields: []ledger.ThingField{{Key: "name", Label: "Name", Value: c.Name}}}
	for _, f := range plainFields(c.Kind.Name) {
		value := ""
		if v := c.Definition[f.Key]; v != nil {
			value = fmt.Sprint(v)
		}
		words := f.Words
		if words != nil && f.Optional {
			words = append([]string{""}, words...)
		}
		t.Fields = append(t.Fields, ledger.ThingField{Key: f.Key, Label: f.Label, Value: value, Words: words})
	}
	for _, l := range c.Kind.Limits {
		low, high := c.LimitTexts(l.Name)
		name := strings.ReplaceAll(l.Name, "_", " ")
		t.Fields = append(t.Fields, ledger.ThingField{Key: "low." + l.Name, Label: "Limit of " + name + ", from", Value: low}, ledger.ThingField{Key: "high." + l.Name, Label: "to", Value: high})
	}
	row, err := q.Check(ctx, id)
	if t.Withdrawn = row.Check.Withdrawn; len(s.Checks) > 0 && err == nil {
		kept, err := q.Checks(ctx, s.ID)
		if err == nil && len(kept) < 2 {
			t.Stays = "it is the only check here: withdraw the setup"
		}
	}
	return t, err
}

// checkFacts are a check as it was put right.
type checkFacts struct {
	Name       string          `json:"name"`
	Definition json.RawMessage `json:"definition,omitempty"`
	Was        string          `json:"was,omitempty"` // of a point that was called another name: what it was
	Point      string          `json:"point,omitempty"`
	Asked      []gate.Asked    `json:"asked,omitempty"` // the holds that asked for a check which is withdrawn
}

func (m *Measuring) judgeCheck(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	s, c, err := loader{q, m.ledger.When}.one(ctx, t.ID)
	if err != nil {
		return nil, err
	}
	f := checkFacts{Name: c.Name}
	if values == nil {
		s.Solve(0)
		was := hold.Unsure
		if now, _ := s.standing(0); now.Verdict == measure.Stop && now.Taken > 0 {
			was = hold.Stop
		} else if now.Verdict == measure.Go && now.Taken >= now.Wanted && !now.Near {
			was = hold.Met
		}
		f.Asked, err = withoutCheck(ctx, q, t.ID, t.Title, was)
		return f, err
	}
	f.Name = values["name"]
	wrong.Text("name", &f.Name, ledger.MaxName, "give it a name")
	definition, _ := form.Clone(c.Definition).(map[string]any)
	definition["name"] = f.Name
	for _, field := range plainFields(c.Kind.Name) {
		if strings.TrimSpace(values[field.Key]) == t.Field(field.Key) {
			continue
		}
		delete(definition, field.Key)
		if v, ok := read(field, values[field.Key], s.unit(), field.Key, wrong); ok {
			definition[field.Key] = v
		}
	}
	limits := map[string]any{}
	for _, l := range c.Kind.Limits {
		if limit := typedLimit(l.Name, values["low."+l.Name], values["high."+l.Name], "low."+l.Name, wrong); len(limit) > 0 {
			limits[l.Name] = limit
		}
	}
	delete(definition, "limits")
	if len(limits) > 0 {
		definition["limits"] = limits
	}
	found := ledger.Problems{}
	NewCheck{Name: f.Name, Definition: definition}.validate("", s.Airframe, found)
	for path, message := range found {
		field := ""
		for _, known := range t.Fields {
			limited, quantityName, isLimit := strings.Cut(known.Key, ".")
			if isLimit && strings.Contains(path, "limits."+quantityName) && (strings.HasSuffix(path, limited) || limited == "low") || !isLimit && strings.HasSuffix(path, "."+known.Key) {
				field = known.Key
			}
		}
		wrong.Add(field, message)
	}
	f.Definition, err = json.Marshal(definition)
	return f, err
}

// withoutCheck are the holds that ask for a check, without it.
func withoutCheck(ctx context.Context, q *query.Queries, id, name string, was hold.Standing) (out []gate.Asked, err error) {
	rows, err := holdsOfCheck(ctx, q, id)
	if err != nil {
		return nil, err
	}
	holds, err := gate.All(rows, nil)
	for _, h := range holds {
		if h.Done {
			continue
		}
		less, err := gate.AskLess(h, id, "“"+name+"” was withdrawn", was, func(r hold.Requirement) bool { return r.Check == id })
		if err != nil {
			return nil, err
		}
		out = append(out, less)
	}
	return out, err
}

func putCheck(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f checkFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	if err := q.AmendCheck(ctx, query.AmendCheckParams{Name: f.Name, Definition: string(f.Definition), Limits: limitsIn(string(f.Definition)), Redefined: e.Seq, Revised: e.Seq, ID: id}); err != nil {
		return err
	}
	return q.ReviseSurveyed(ctx, query.ReviseSurveyedParams{Revised: e.Seq, Survey: id})
}

func withdrawCheck(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, judged json.RawMessage) error {
	var f checkFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	if err := gate.PutAsked(ctx, q, e, f.Asked); err != nil {
		return err
	}
	if err := q.ReviseSurveyed(ctx, query.ReviseSurveyedParams{Revised: e.Seq, Survey: id}); err != nil {
		return err
	}
	return q.WithdrawCheck(ctx, query.WithdrawCheckParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

// pointOf finds a point of a check by its name.
func (c Check) pointOf(definition map[string]any, name string) map[string]any {
	for _, path := range c.lists() {
		if item := byName(*listIn(definition, path))[name]; item != nil {
			return item
		}
	}
	return nil
}

// Points are the names of the points of a check.
func (c Check) Points() (out []string) {
	definition, _ := form.Clone(c.Definition).(map[string]any)
	for _, path := range c.lists()[:min(1, len(c.lists()))] {
		for _, item := range form.Items(*listIn(definition, path)) {
			out = append(out, form.NameOf(item))
		}
	}
	return out
}

func (m *Measuring) loadPoint(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	checkID, name, _ := strings.Cut(id, "~")
	s, c, err := loader{q, m.ledger.When}.one(ctx, checkID)
	if err != nil {
		return t, err
	}
	definition, _ := form.Clone(c.Definition).(map[string]any)
	item := c.pointOf(definition, name)
	if item == nil {
		return t, ledger.ErrNotFound
	}
	t = ledger.Thing{Kind: "point", ID: id, Title: c.Name + ": " + name, Path: "/setups/" + s.ID + "/checks/" + checkID, After: "/setups/" + s.ID + "/checks/" + checkID, Seen: c.Redefined}
	for _, column := range c.Columns() {
		if column == "y" && item["y"] == nil && item["x"] == nil {
			continue
		}
		value := ""
		if v := item[column]; v != nil {
			value = fmt.Sprint(v)
		}
		t.Fields = append(t.Fields, ledger.ThingField{Key: column, Label: map[string]string{"name": "Name", "x": "Along, or station", "y": "Across, or distance outboard", "z": "Height"}[column], Value: value})
		if last := &t.Fields[len(t.Fields)-1]; last.Label == "" {
			last.Label = column
		}
	}
	return t, nil
}

func (m *Measuring) judgePoint(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	checkID, name, _ := strings.Cut(t.ID, "~")
	s, c, err := loader{q, m.ledger.When}.one(ctx, checkID)
	if err != nil {
		return nil, err
	}
	definition, _ := form.Clone(c.Definition).(map[string]any)
	f := checkFacts{Name: c.Name, Point: name, Was: name}
	for _, path := range c.lists() {
		list := listIn(definition, path)
		if values == nil {
			*list = slices.DeleteFunc(*list, func(v any) bool { item, _ := v.(map[string]any); return form.NameOf(item) == name })
			continue
		}
		item := byName(*list)[name]
		for _, column := range c.Columns() {
			text := strings.TrimSpace(values[column])
			if delete(item, column); text != "" {
				item[column] = text
			}
		}
		if f.Point = strings.TrimSpace(values["name"]); f.Point != name && f.Point != "" && path != "readings" && c.pointOf(c.Definition, f.Point) != nil {
			wrong.Add("name", "there is a point of that name already")
		}
		if path == "readings" {
			f.Point = name
		}
	}
	found := ledger.Problems{}
	NewCheck{Name: c.Name, Definition: definition}.validate("", s.Airframe, found)
	first := "name"
	if values == nil {
		first = ""
	}
	for path, message := range found {
		if i := strings.LastIndex(path, "."); values != nil && slices.Contains(c.Columns(), path[i+1:]) {
			wrong.Add(path[i+1:], message)
			continue
		}
		wrong.Add(first, message)
	}
	f.Definition, err = json.Marshal(definition)
	return f, err
}

func putPoint(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	checkID, _, _ := strings.Cut(id, "~")
	var f checkFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	if f.Point != f.Was { // its readings go with it
		if err := q.RenamePoint(ctx, query.RenamePointParams{Name: f.Point, CheckID: checkID, Was: f.Was}); err != nil {
			return err
		}
	}
	return putCheck(ctx, q, e, checkID, judged)
}

func withdrawPoint(ctx context.Context, q *query.Queries, e ledger.Entry, id, _ string, judged json.RawMessage) error {
	checkID, _, _ := strings.Cut(id, "~")
	return putCheck(ctx, q, e, checkID, judged)
}
