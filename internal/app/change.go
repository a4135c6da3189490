package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/school"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// SchoolsOfAirframe says how the builder of an airframe works.
type SchoolsOfAirframe struct {
	ID       string        `json:"-"`
	Airframe string        `json:"airframe"` // id
	Schools  school.Choice `json:"schools"`
}

// ChooseSchools changes how an airframe is built. Checks that differ go on to differ.
func (a *App) ChooseSchools(ctx context.Context, s SchoolsOfAirframe) error {
	defer a.alone()()
	for question, answer := range s.Schools {
		if !school.Known(question, answer) {
			return Problems{"schools": "choose one of the two"}
		}
	}
	home, err := a.Home(ctx, s.Airframe)
	if err != nil {
		return err
	}
	data, err := json.Marshal(s.Schools)
	if err != nil {
		return err
	}
	facts := map[string]any{"name": home.Airframe.Name, "says": saySchools(s.Schools)}
	return a.record(ctx, deed{s.ID, journal.Changed, "", s, facts}, func(q *query.Queries, _ int64) error {
		return q.ChangeAirframeSchools(ctx, query.ChangeAirframeSchoolsParams{Schools: string(data), ID: s.Airframe})
	})
}

// saySchools names the answers that were chosen.
func saySchools(c school.Choice) string {
	var out []string
	for _, q := range school.Questions {
		for _, answer := range q.Answers {
			if answer.ID == c[q.ID] {
				out = append(out, strings.ToLower(q.Title)+": "+answer.Title)
			}
		}
	}
	return strings.Join(out, " · ")
}

// CheckChange changes how a check is judged. Readings and releases stay as they are.
type CheckChange struct {
	ID      string               `json:"-"`
	Check   string               `json:"check"` // id
	Name    string               `json:"name"`
	Limits  map[string][2]string `json:"limits"`        // by quantity, low and high as typed; both empty takes a limit out
	Schools map[string]string    `json:"schools"`       // "" as its airframe has it
	May     map[string]string    `json:"may,omitempty"` // of a join: how each attach point may be moved, by name
}

// ChangeCheck changes the name, the limits and the schools of a check. Problems
// are at "name", "limits.QUANTITY" and "schools".
func (a *App) ChangeCheck(ctx context.Context, n CheckChange) error {
	defer a.alone()()
	setup, c, err := a.checkByID(ctx, n.Check)
	if err != nil {
		return err
	}
	wrong := Problems{}
	wrong.text("name", &n.Name, maxName, "give it a name")
	definition, _ := clone(c.Definition).(map[string]any)
	definition["name"] = n.Name
	limits := map[string]any{}
	for quantity, ends := range n.Limits {
		limit := limitOf(ends[0], ends[1])
		if len(limit) > 0 {
			limits[quantity] = limit
		}
	}
	for _, joined := range append(items(definition["surfaces"]), definition) {
		for _, point := range items(joined["attach"]) {
			if may, ok := n.May[nameOf(point)]; ok {
				point["may"] = may
			}
		}
	}
	delete(definition, "limits")
	if len(limits) > 0 {
		definition["limits"] = limits
	}
	for _, e := range refusals(definition, setup.Airframe) {
		if strings.Contains(e.Path, ".may") {
			wrong.Add("may", e.Message)
			continue
		}
		path, _ := strings.CutPrefix(e.Path, "check.limits.")
		quantity, _, _ := strings.Cut(path, ".")
		wrong.Add("limits."+quantity, e.Message)
	}
	schools := school.Choice{}
	for question, answer := range n.Schools {
		if answer == "" {
			continue
		}
		if !school.Known(question, answer) {
			wrong.Add("schools", "choose one of the list")
		}
		schools[question] = answer
	}
	if err := wrong.err(); err != nil {
		return err
	}
	says := join(sayLimits(limits), saySchools(schools), sayMay(n.May))
	if says == "" {
		says = "no limits, and as its airframe has it"
	}
	return a.redefine(ctx, n.ID, n, c, definition, schools, says)
}

// LimitTexts are the ends of a limit of the check, as typed.
func (c Check) LimitTexts(quantity string) (low, high string) {
	limits, _ := c.Definition["limits"].(map[string]any)
	limit, _ := limits[quantity].(map[string]any)
	text := func(end string) string {
		if limit[end] == nil {
			return ""
		}
		return fmt.Sprint(limit[end])
	}
	return text("low"), text("high")
}

// limitOf is a limit as a worksheet has it; empty when neither end is given.
func limitOf(low, high string) map[string]any {
	limit := map[string]any{}
	for name, text := range map[string]string{"low": low, "high": high} {
		if text = strings.TrimSpace(text); text != "" {
			limit[name] = text
		}
	}
	return limit
}

// sayMay says how the attach points of a join may be moved.
func sayMay(may map[string]string) string {
	var out []string
	for name, how := range may {
		out = append(out, name+" "+how)
	}
	slices.Sort(out)
	return strings.Join(out, " · ")
}

func sayLimits(limits map[string]any) string {
	var out []string
	for quantity, v := range limits {
		limit, _ := v.(map[string]any)
		low, _ := limit["low"].(string)
		high, _ := limit["high"].(string)
		out = append(out, fmt.Sprintf("%s from %s to %s", strings.ReplaceAll(quantity, "_", " "), open(low), open(high)))
	}
	slices.Sort(out)
	return strings.Join(out, " · ")
}

// open says that an end of a limit is not given.
func open(end string) string {
	if end == "" {
		return "any"
	}
	return end
}

// refusals are what is wrong with a definition.
func refusals(definition map[string]any, frame Airframe) []worksheet.Error {
	data, err := json.Marshal(definition)
	if err != nil {
		return []worksheet.Error{{Message: err.Error()}}
	}
	_, errs := worksheet.ParseDefinition(data, frame.Unit)
	return errs
}

// redefine writes a changed check. The name stands in its definition.
func (a *App) redefine(ctx context.Context, id string, request any, c Check, definition map[string]any, schools school.Choice, says string) error {
	data, err := json.Marshal(definition)
	if err != nil {
		return err
	}
	differs, err := json.Marshal(schools)
	if err != nil {
		return err
	}
	name, _ := definition["name"].(string)
	return a.record(ctx, deed{id, journal.Changed, "", request, map[string]any{"check": c.Name, "name": name, "says": says}}, func(q *query.Queries, _ int64) error {
		return q.ChangeCheck(ctx, query.ChangeCheckParams{Name: name, Definition: string(data), Schools: string(differs), ID: c.ID})
	})
}

// NewPoint is a point to be added to a check: its columns as typed, the name first.
type NewPoint struct {
	ID     string   `json:"-"`
	Check  string   `json:"check"` // id
	Values []string `json:"values"`
}

// Columns are those of a point of the check, the name first; nil for a check that
// has no list of points.
func (c Check) Columns() []string {
	if _, join := c.Joined(); join {
		return []string{"type", "from", "to", "axis"} // a reading; its places are many and stand by themselves
	}
	for _, f := range fields[c.Kind.Name] {
		if len(f.Columns) > 0 && f.Columns[0] == "name" {
			return f.Columns
		}
	}
	return nil
}

// lists are where the points of a check stand in its definition.
func (c Check) lists() []string {
	switch c.Kind.Name {
	case "pose", "join":
		return []string{"readings"}
	case "hand":
		return []string{"first", "second"}
	case "separate":
		if first, ok := c.Definition["first"].(map[string]any); ok && first["stations"] != nil {
			return []string{"first.stations", "second.stations"}
		}
		return []string{"first.points", "second.points"}
	}
	for _, f := range fields[c.Kind.Name] {
		if len(f.Columns) > 0 && f.Columns[0] == "name" {
			return []string{f.Key}
		}
	}
	return nil
}

// AddPoint adds a point to a check, to be read like the others. Problems are at
// "point".
func (a *App) AddPoint(ctx context.Context, n NewPoint) error {
	defer a.alone()()
	setup, c, err := a.checkByID(ctx, n.Check)
	if err != nil {
		return err
	}
	columns := c.Columns()
	if columns == nil || len(n.Values) != len(columns) {
		return Problems{"point": "this check has no list of points"}
	}
	if kind, err := a.recorded(ctx, n.ID); kind == journal.Changed || err != nil {
		return err
	}
	wrong := Problems{}
	wrong.text("point", &n.Values[0], maxName, "is missing: what is it?")
	definition, _ := clone(c.Definition).(map[string]any)
	for _, path := range c.lists() {
		item := map[string]any{}
		for i, column := range columns {
			if text := strings.TrimSpace(n.Values[i]); text != "" {
				item[column] = text
			}
		}
		if path == "first.stations" || path == "second.stations" {
			item["y"] = item["x"]
			delete(item, "x")
		}
		list := listIn(definition, path)
		if path == "readings" {
			item["id"] = readingID(len(*list), item)
		}
		*list = append(*list, item)
	}
	tried := NewCheck{Name: c.Name, Definition: definition}
	found := Problems{}
	tried.validate("", setup.Airframe, found)
	found.first("point", wrong)
	if err := wrong.err(); err != nil {
		return err
	}
	return a.redefine(ctx, n.ID, n, c, definition, c.Schools, "point added: "+strings.Join(n.Values, ", "))
}

// AddedCheck is a check to be added to a setup: its form as it was filled in.
type AddedCheck struct {
	ID      string `json:"-"`
	Setup   string `json:"setup"` // id
	Kind    string `json:"kind"`
	Name    string `json:"name"`
	Filled  Filled `json:"filled"`
	ForHold bool   `json:"for_hold"` // the setup's hold asks for it
}

// FormOf is the form of a check of that kind, with every limit that it may have.
func FormOf(kind string) (TemplateCheck, bool) {
	k, ok := worksheet.KindNamed(kind)
	if _, has := fields[kind]; !ok || !has {
		return TemplateCheck{}, false
	}
	t := TemplateCheck{Kind: kind, Name: k.Title}
	for _, l := range k.Limits {
		t.Limits = append(t.Limits, LimitField{l.Name, strings.ReplaceAll(l.Name, "_", " "), ""})
	}
	return t, true
}

// AddCheck adds a check to a setup, at its end. Problems are at "name",
// "0.FIELD" and "0.limits".
func (a *App) AddCheck(ctx context.Context, n AddedCheck) error {
	defer a.alone()()
	s, err := a.Setup(ctx, n.Setup)
	if err != nil {
		return err
	}
	form, ok := FormOf(n.Kind)
	if !ok {
		return Problems{"kind": "what is to be measured? Choose one of the list"}
	}
	if kind, err := a.recorded(ctx, n.ID); kind == journal.Created || err != nil {
		return err
	}
	wrong := Problems{}
	wrong.text("name", &n.Name, maxName, "give it a name")
	definition := form.definition(0, n.Filled, s.Airframe.Unit, wrong)
	definition["name"] = n.Name
	check := NewCheck{Name: n.Name, Definition: definition, Accepts: acceptable}
	if len(wrong) == 0 {
		check.validate("checks[0]", s.Airframe, wrong)
	}
	if err := wrong.err(); err != nil {
		return err
	}
	id := s.nextCheck()
	return a.record(ctx, deed{n.ID, journal.Created, "", n, map[string]any{"what": "check", "name": s.title() + ": " + n.Name}}, func(q *query.Queries, entry int64) error {
		if err := addCheck(ctx, q, s.ID, id, int64(len(s.Checks)), check, "", entry); err != nil {
			return err
		}
		if !n.ForHold {
			return nil
		}
		return a.askMore(ctx, q, s, required(n.Kind, id, definition["limits"] != nil))
	})
}

// nextCheck is the id of a check that is added to the setup.
func (s Setup) nextCheck() string { return fmt.Sprintf("%s-check-%d", s.ID, len(s.Checks)) }

// askMore makes the unspent holds of a setup ask for more.
func (a *App) askMore(ctx context.Context, q *query.Queries, s Setup, more []hold.Requirement) error {
	rows, err := q.Holds(ctx, s.Airframe.ID)
	if err != nil {
		return err
	}
	for _, row := range rows {
		if row.SetupID.String != s.ID {
			continue
		}
		h, err := a.hold(ctx, q, row, []Setup{s})
		if err != nil {
			return err
		}
		if h.Current() != nil {
			return Problems{"for_hold": "the hold is released already; it can ask for no more"}
		}
		data, err := json.Marshal(append(h.Required, more...))
		if err != nil {
			return err
		}
		if err := q.ChangeHold(ctx, query.ChangeHoldParams{Required: string(data), ID: row.ID}); err != nil {
			return err
		}
	}
	return nil
}

// BeginAfter asks for the checks of a hold once more, after its step.
type BeginAfter struct {
	ID   string `json:"-"`
	Hold string `json:"hold"` // id
}

// BeginAfter adds, for each check that a spent hold has been shown, the same check
// to be measured after the step, so that the record shows what the metal kept.
func (a *App) BeginAfter(ctx context.Context, n BeginAfter) error {
	defer a.alone()()
	h, err := a.Hold(ctx, n.Hold)
	if err != nil {
		return err
	}
	if kind, err := a.recorded(ctx, n.ID); kind == journal.Created || err != nil {
		return err
	}
	if !h.Spent() {
		return Problems{"": "the step is not done yet"}
	}
	before := h.Unrepeated()
	if len(before) == 0 {
		return Problems{"": "its checks are being measured once more already"}
	}
	suffix := ", after the step"
	if h.Step == "rivet" {
		suffix = ", after riveting"
	}
	var names []string
	for _, c := range before {
		names = append(names, c.Name+suffix)
	}
	facts := map[string]any{"what": "check", "name": h.Setup.title() + ": " + strings.Join(names, "; ")}
	return a.record(ctx, deed{n.ID, journal.Created, "", n, facts}, func(q *query.Queries, entry int64) error {
		for i, c := range before {
			definition, _ := clone(c.Definition).(map[string]any)
			definition["name"] = names[i]
			check := NewCheck{Name: names[i], Definition: definition, Instrument: c.Instrument, Accepts: slices.Compact(append(slices.Clone(c.Accepts), "riveted"))}
			id := fmt.Sprintf("%s-check-%d", h.Setup.ID, len(h.Setup.Checks)+i)
			if err := addCheck(ctx, q, h.Setup.ID, id, int64(len(h.Setup.Checks)+i), check, c.ID, entry); err != nil {
				return err
			}
		}
		return nil
	})
}

// Unrepeated are the checks that the hold was shown and that have no check after
// the step yet.
func (h Hold) Unrepeated() []Check {
	var out []Check
	for _, r := range h.Required {
		c, ok := h.Setup.Check(r.Check)
		repeated := slices.ContainsFunc(h.Setup.Checks, func(later Check) bool { return later.AfterOf == c.ID })
		if ok && r.Need == hold.Shown && !repeated && c.AfterOf == "" {
			out = append(out, c)
		}
	}
	return out
}

// Before is the check before the step that this one repeats.
func (s Setup) Before(c Check) (Check, bool) {
	if c.AfterOf == "" {
		return Check{}, false
	}
	return s.Check(c.AfterOf)
}

// Changed is by how much the headline of a check after the step differs from the
// one before; ok is false while either is not complete.
func (s Setup) Changed(c Check) (before, change measure.Quantity, ok bool) {
	earlier, has := s.Before(c)
	if !has || earlier.Result == nil || c.Result == nil {
		return before, change, false
	}
	used := map[string]Instrument{}
	for _, in := range append(slices.Clone(earlier.Used), c.Used...) {
		used[in.Name] = in
	}
	doc, errs := worksheet.Parse(document(s.Airframe.Unit, c.Judged, used, earlier.filled, c.filled))
	headline, _ := c.Headline()
	before, found := earlier.Result.Quantity(headline.Name)
	if len(errs) > 0 || !found {
		return before, change, false
	}
	change, ok = measure.Change(doc.Checks[0].Input, doc.Checks[1].Input, headline.Name)
	return before, change, ok
}
