package planning

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/plan"
	"orpine/internal/core/spoken"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Keepers put steps that were added by hand, visits, hours, orders and stages right. No hold
// rests on them.
func Keepers(p *Planning) []ledger.Keeper {
	return []ledger.Keeper{
		{Kind: "step", Load: loadStep, Judge: judgeStep, Put: putStep, Withdraw: withdrawStep},
		{Kind: "order", Load: loadOrder, Judge: p.judgeOrder, Put: putOrder, Withdraw: withdrawOrder},
		{Kind: "session", Load: p.loadSession, Judge: p.judgeSession, Put: putSession, Withdraw: withdrawSession},
		{Kind: "stage", Load: loadStage, Judge: judgeStage, Put: putStage, Withdraw: withdrawStage},
		{Kind: "visit", Load: loadVisit, Judge: p.judgeVisit, Put: putVisit, Withdraw: withdrawVisit},
	}
}

// spoken writes hours as they are typed in a line.
func spokenHours(h Hours) string {
	write := func(v float64) string { return strconv.FormatFloat(math.Round(v*100)/100, 'f', -1, 64) }
	if h.Low == h.High {
		return write(h.Likely) + " h"
	}
	return write(h.Low) + " - " + write(h.Likely) + " - " + write(h.High) + " h"
}

func loadStep(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	s, err := q.PlanStep(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	var h Hours
	if err := json.Unmarshal([]byte(s.Hours), &h); err != nil {
		return t, fmt.Errorf("reading the step %s: %w", s.Name, err)
	}
	path := "/order?airframe=" + s.AirframeID
	whole := ""
	if s.Whole == 1 {
		whole = "yes"
	}
	var after, needs, before []string
	if err := errors.Join(json.Unmarshal([]byte(s.After), &after), json.Unmarshal([]byte(s.Needs), &needs), json.Unmarshal([]byte(s.Before), &before)); err != nil {
		return t, fmt.Errorf("reading the step %s: %w", s.Name, err)
	}
	names, err := steps(ctx, q, s.AirframeID, append(slices.Clone(after), before...)...)
	if err != nil {
		return t, err
	}
	orders, err := orderNames(ctx, q, s.AirframeID)
	if err != nil {
		return t, err
	}
	assemblies, err := airframe.Assemblies(ctx, q, s.AirframeID)
	if err != nil {
		return t, err
	}
	at, choice := "", []string{""}
	for _, a := range assemblies {
		if choice = append(choice, a.Name); a.ID == s.AssemblyID.String {
			at = a.Name
		}
	}
	listed := func(ids []string, of []plan.Named) string {
		var lines []string
		for _, id := range ids {
			lines = append(lines, nameOf(id, of))
		}
		return strings.Join(lines, "\n")
	}
	var ties []string
	if err := json.Unmarshal([]byte(s.TiedTo), &ties); err != nil {
		return t, fmt.Errorf("reading the step %s: %w", s.Name, err)
	}
	holds, err := holdNames(ctx, q, s.AirframeID)
	if err != nil {
		return t, err
	}
	return ledger.Thing{Kind: "step", ID: id, Title: s.Name, Path: path, After: path, Seen: s.Revised, Withdrawn: s.Withdrawn, Fields: []ledger.ThingField{
		{Key: "name", Label: "What is done", Value: s.Name}, {Key: "hours", Label: "How long: 6 h, or low, likely and high", Value: spokenHours(h)}, {Key: "people", Label: "People", Value: fmt.Sprint(s.People)},
		{Key: "kind", Label: "Kind of work", Value: s.Kind}, {Key: "cure", Label: "Cures for so many hours", Value: strconv.FormatFloat(s.Cure, 'f', -1, 64)}, {Key: "assembly", Label: "At", Value: at, Words: choice},
		{Key: "bring", Label: "Tools and light to bring", Value: s.Bring}, {Key: "whole", Label: "it is done in one go", Value: whole, Tick: true},
		{Key: "after", Label: "Comes after (the beginning of each name)", Value: listed(after, names), Columns: []string{"step"}}, {Key: "before", Label: "Becomes impossible once this is done", Value: listed(before, names), Columns: []string{"step"}}, {Key: "needs", Label: "Needs the order", Value: listed(needs, orders), Columns: []string{"order"}},
		{Key: "ties", Label: "Makes permanent what these hold (the beginning of each name): it is done when they are recorded", Value: listed(ties, holds), Columns: []string{"hold"}},
	}}, nil
}

// steps are what a step may come after or before: those added by hand, holds and rows of the
// airframe, and what is named already.
func steps(ctx context.Context, q *query.Queries, frame string, also ...string) (out []plan.Named, err error) {
	own, err := q.PlanSteps(ctx, frame)
	if err != nil {
		return nil, err
	}
	for _, s := range own {
		out = append(out, plan.Named{ID: s.ID, Name: s.Name})
	}
	holds, err := q.Holds(ctx, frame)
	if err != nil {
		return nil, err
	}
	for _, h := range holds {
		out = append(out, plan.Named{ID: "hold:" + h.ID, Name: h.Name})
	}
	rows, err := q.RowsOfAirframe(ctx, frame)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		out = append(out, plan.Named{ID: "row:" + r.ID, Name: r.Name})
	}
	for _, id := range also {
		if id != "" && !slices.ContainsFunc(out, func(n plan.Named) bool { return n.ID == id }) {
			out = append(out, plan.Named{ID: id, Name: id})
		}
	}
	return out, nil
}

// holdNames are the holds of an airframe that a step may be tied to.
func holdNames(ctx context.Context, q *query.Queries, frame string) (out []plan.Named, err error) {
	holds, err := q.Holds(ctx, frame)
	for _, h := range holds {
		out = append(out, plan.Named{ID: h.ID, Name: h.Name})
	}
	return out, err
}

func orderNames(ctx context.Context, q *query.Queries, frame string) (out []plan.Named, err error) {
	list, err := Orders(ctx, q, frame)
	for _, o := range list {
		out = append(out, plan.Named{ID: o.ID, Name: o.Name})
	}
	return out, err
}

func nameOf(id string, of []plan.Named) string {
	for _, n := range of {
		if n.ID == id {
			return n.Name
		}
	}
	return id
}

func namesOf(list []plan.Named) (out []string) {
	for _, n := range list {
		out = append(out, n.Name)
	}
	return out
}

// idOf is the id of a name, or of its beginning; "" for none.
func idOf(name string, of []plan.Named, field string, wrong ledger.Problems) string {
	if name = strings.TrimSpace(name); name == "" {
		return ""
	}
	for _, n := range of {
		if n.ID == name {
			return n.ID
		}
	}
	id, err := plan.Find(name, of)
	if err != nil {
		wrong.Add(field, err.Error())
	}
	return id
}

func judgeStep(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	if values == nil {
		return laid{Name: t.Field("name")}, nil
	}
	name, kind := values["name"], values["kind"]
	wrong.Text("name", &name, ledger.MaxName, "what is done?")
	wrong.Text("kind", &kind, ledger.MaxName, "")
	line, err := plan.ParseLine("x, "+values["hours"], nil, nil)
	if err != nil {
		wrong.Add("hours", "how long: 6 h, 40 min, or 4-6-12 h")
	}
	f := laid{Name: name, Title: kind, Bring: values["bring"]}
	wrong.Text("bring", &f.Bring, ledger.MaxNote, "")
	if people, err := strconv.Atoi(strings.TrimSpace(values["people"])); err != nil || people < 1 || people > 50 {
		wrong.Add("people", "how many people? 1 or more")
	} else {
		f.People = int64(people)
	}
	if f.Cure, err = strconv.ParseFloat(strings.Replace(strings.TrimSpace(values["cure"]), ",", ".", 1), 64); err != nil || f.Cure < 0 || f.Cure > 100_000 {
		wrong.Add("cure", "how many hours? 0 for none")
		f.Cure = 0
	}
	if values["whole"] != "" {
		f.Whole = 1
	}
	if f.Hours, err = json.Marshal(Hours{line.Low, line.Likely, line.High}); err != nil {
		return f, err
	}
	return f, f.around(ctx, q, t.ID, values, wrong)
}

// around reads what a step comes after and before, needs, and is at.
func (f *laid) around(ctx context.Context, q *query.Queries, id string, values map[string]string, wrong ledger.Problems) error {
	s, err := q.PlanStep(ctx, id)
	if err != nil {
		return err
	}
	var was []string
	for _, text := range []string{s.After, s.Before} {
		var ids []string
		if err := json.Unmarshal([]byte(text), &ids); err != nil {
			return fmt.Errorf("reading the step %s: %w", s.Name, err)
		}
		was = append(was, ids...)
	}
	names, err := steps(ctx, q, s.AirframeID, was...)
	if err != nil {
		return err
	}
	names = slices.DeleteFunc(names, func(n plan.Named) bool { return n.ID == id })
	orders, err := orderNames(ctx, q, s.AirframeID)
	if err != nil {
		return err
	}
	read := func(field string, of []plan.Named) (out []string) {
		for _, line := range strings.Split(values[field], "\n") {
			if id := idOf(line, of, field, wrong); id != "" && !slices.Contains(out, id) {
				out = append(out, id)
			}
		}
		return out
	}
	after, before := read("after", names), read("before", names)
	if _, said := values["ties"]; said {
		holds, err := holdNames(ctx, q, s.AirframeID)
		if err != nil {
			return err
		}
		if f.Ties, err = json.Marshal(append([]string{}, read("ties", holds)...)); err != nil {
			return err
		}
	}
	own, err := q.PlanSteps(ctx, s.AirframeID)
	if err != nil {
		return err
	}
	n := NewStep{Comes: map[string][]string{}}
	for _, one := range own {
		var ids, ends []string
		if err := errors.Join(json.Unmarshal([]byte(one.After), &ids), json.Unmarshal([]byte(one.Before), &ends)); err != nil {
			return fmt.Errorf("reading the step %s: %w", one.Name, err)
		}
		if one.ID == id {
			continue
		}
		n.Comes[one.ID] = append(n.Comes[one.ID], ids...)
		for _, end := range ends {
			n.Comes[end] = append(n.Comes[end], one.ID)
		}
	}
	if n.circle(slices.Concat(after, n.Comes[id]), append(slices.Clone(before), id)) {
		wrong.Add("after", "it would come after itself")
	}
	if name := values["assembly"]; name != "" {
		assemblies, err := airframe.Assemblies(ctx, q, s.AirframeID)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(assemblies, func(a airframe.Assembly) bool { return a.Name == name })
		if i < 0 {
			wrong.Add("assembly", "choose an assembly of this aircraft")
			return nil
		}
		f.Assembly = assemblies[i].ID
	}
	return f.lists(after, read("needs", orders), before)
}

func putStep(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f laid
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	if f.After == nil { // as it was put right before these could be
		s, err := q.PlanStep(ctx, id)
		if err != nil {
			return err
		}
		f.After, f.Needs, f.Before, f.Bring, f.Assembly = json.RawMessage(s.After), json.RawMessage(s.Needs), json.RawMessage(s.Before), s.Bring, s.AssemblyID.String
	}
	if f.Ties != nil {
		s, err := q.PlanStep(ctx, id)
		if err != nil {
			return err
		}
		untied := s.Untied // who said that it makes nothing permanent is not asked again
		if string(f.Ties) != "[]" {
			untied = ""
		}
		if err := q.TiePlanStep(ctx, query.TiePlanStepParams{TiedTo: string(f.Ties), Untied: untied, Revised: e.Seq, ID: id}); err != nil {
			return err
		}
	}
	return q.ChangePlanStep(ctx, query.ChangePlanStepParams{Name: f.Name, Kind: f.Title, After: string(f.After), Needs: string(f.Needs), Before: string(f.Before), Bring: f.Bring, AssemblyID: gate.Reference(f.Assembly),
		Hours: string(f.Hours), People: f.People, Whole: f.Whole, Cure: f.Cure, Revised: e.Seq, ID: id})
}

func withdrawStep(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawPlanStep(ctx, query.WithdrawPlanStepParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

func loadVisit(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	v, err := q.PlanVisit(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	day, from, _ := strings.Cut(v.FromWall, "T")
	path := "/order?airframe=" + v.AirframeID
	return ledger.Thing{Kind: "visit", ID: id, Title: v.Who + ", " + day, Path: path, After: path, Seen: v.Revised, Withdrawn: v.Withdrawn, Fields: []ledger.ThingField{
		{Key: "who", Label: "Who", Value: v.Who}, {Key: "date", Label: "Day", Value: day}, {Key: "from", Label: "From", Value: from}, {Key: "long", Label: "For", Value: spokenHours(Hours{v.Hours, v.Hours, v.Hours})}, {Key: "people", Label: "People in all", Value: fmt.Sprint(v.People)},
	}}, nil
}

// cameAs is a visit as it was put right.
type cameAs struct {
	come
	Who string `json:"who"`
}

func (p *Planning) judgeVisit(_ context.Context, _ *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	if values == nil {
		return cameAs{Who: t.Field("who")}, nil
	}
	n := NewVisit{Date: values["date"], From: values["from"], Long: values["long"], People: values["people"], Who: values["who"]}
	f := n.read(p.ledger.Now(), wrong)
	return cameAs{f, n.Who}, nil
}

func putVisit(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f cameAs
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangePlanVisit(ctx, query.ChangePlanVisitParams{FromWall: f.Wall, Hours: f.Hours, People: f.People, Who: f.Who, Revised: e.Seq, ID: id})
}

func withdrawVisit(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawPlanVisit(ctx, query.WithdrawPlanVisitParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

// ownSteps are the steps added by hand, and one that is named already.
func ownSteps(ctx context.Context, q *query.Queries, frame, also string) (out []plan.Named, err error) {
	list, err := q.PlanSteps(ctx, frame)
	for _, s := range list {
		out = append(out, plan.Named{ID: s.ID, Name: s.Name})
	}
	if also != "" && !slices.ContainsFunc(out, func(n plan.Named) bool { return n.ID == also }) {
		out = append(out, plan.Named{ID: also, Name: also})
	}
	return out, err
}

// worked is a session as it was put right.
type worked struct {
	Who, Category, Assembly string
	Step                    *string `json:",omitempty"` // id; nil: as it was
	timed
}

func (p *Planning) loadSession(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	s, err := q.WorkSession(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	assemblies, err := airframe.Assemblies(ctx, q, s.AirframeID)
	if err != nil {
		return t, err
	}
	at, names := "", []string{""}
	for _, a := range assemblies {
		if names = append(names, a.Name); a.ID == s.AssemblyID.String {
			at = a.Name
		}
	}
	from, to := p.ledger.When(s.FromAt), ""
	if s.ToAt != "" {
		to = p.ledger.When(s.ToAt).Format("15:04")
	}
	own, err := ownSteps(ctx, q, s.AirframeID, s.StepID)
	if err != nil {
		return t, err
	}
	path := "/hours?airframe=" + s.AirframeID
	return ledger.Thing{Kind: "session", ID: id, Title: s.Who + ", " + from.Format("2006-01-02 15:04"), Path: path, After: path, Seen: s.Revised, Withdrawn: s.Withdrawn, Fields: []ledger.ThingField{
		{Key: "who", Label: "Who", Value: s.Who}, {Key: "category", Label: "What", Value: s.Category, Words: Categories}, {Key: "assembly", Label: "At", Value: at, Words: names},
		{Key: "step", Label: "Step", Value: nameOf(s.StepID, own), Words: append([]string{""}, namesOf(own)...)},
		{Key: "date", Label: "Day", Value: from.Format("2006-01-02")}, {Key: "from", Label: "From", Value: from.Format("15:04")}, {Key: "to", Label: "Until; before From is the next day", Value: to},
	}}, nil
}

func (p *Planning) judgeSession(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := worked{Who: t.Field("who")}
	if values == nil {
		return f, nil
	}
	f = worked{Who: values["who"], Category: values["category"]}
	wrong.Text("who", &f.Who, ledger.MaxName, "who worked?")
	if !slices.Contains(Categories, f.Category) {
		wrong.Add("category", "which kind of work? Choose one of the list")
	}
	s, err := q.WorkSession(ctx, t.ID)
	if err != nil {
		return f, err
	}
	own, err := ownSteps(ctx, q, s.AirframeID, s.StepID)
	if err != nil {
		return f, err
	}
	step := idOf(values["step"], own, "step", wrong)
	f.Step = &step
	if name := values["assembly"]; name != "" {
		assemblies, err := airframe.Assemblies(ctx, q, s.AirframeID)
		if err != nil {
			return f, err
		}
		i := slices.IndexFunc(assemblies, func(a airframe.Assembly) bool { return a.Name == name })
		if i < 0 {
			wrong.Add("assembly", "choose an assembly of this aircraft")
			return f, nil
		}
		f.Assembly = assemblies[i].ID
	}
	// Times that stay as they were keep their seconds, and which of two equal hours it was.
	if values["date"] == t.Field("date") && values["from"] == t.Field("from") && values["to"] == t.Field("to") {
		f.timed = timed{From: s.FromAt, To: s.ToAt}
		return f, nil
	}
	n, running := WorkStarted{Date: values["date"], From: values["from"], To: values["to"]}, s.ToAt == "" && values["to"] == ""
	if running {
		n.To = p.ledger.Now().Format("15:04")
	}
	if f.timed = n.afterwards(p.ledger.Now(), wrong); running {
		f.To = ""
	}
	return f, nil
}

func putSession(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f worked
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	if f.Step == nil {
		s, err := q.WorkSession(ctx, id)
		if err != nil {
			return err
		}
		f.Step = &s.StepID
	}
	return q.ChangeWorkSession(ctx, query.ChangeWorkSessionParams{Who: f.Who, Category: f.Category, AssemblyID: gate.Reference(f.Assembly), StepID: *f.Step, FromAt: f.From, ToAt: f.To, Revised: e.Seq, ID: id})
}

func withdrawSession(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawWorkSession(ctx, query.WithdrawWorkSessionParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}

// stage is a stage as it was put right.
type stage struct {
	Name     string
	NeededBy string `json:"needed_by,omitempty"`
	priced
}

func loadStage(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	s, err := q.PlanStage(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	names, err := steps(ctx, q, s.AirframeID, s.NeededBy)
	if err != nil {
		return t, err
	}
	path := "/money?airframe=" + s.AirframeID
	return ledger.Thing{Kind: "stage", ID: id, Title: s.Name, Path: path, After: path, Seen: s.Revised, Withdrawn: s.Withdrawn, Fields: []ledger.ThingField{
		{Key: "name", Label: "Which part of the kit", Value: s.Name}, {Key: "price", Label: "Price", Value: spoken.Amount(s.Price)}, {Key: "lead", Label: "Days from paying to arriving", Value: fmt.Sprint(s.LeadDays)},
		{Key: "needed_by", Label: "Needed by the step", Value: nameOf(s.NeededBy, names), Words: append([]string{""}, namesOf(names)...)},
	}}, nil
}

func judgeStage(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := stage{Name: t.Field("name")}
	if values == nil {
		return f, nil
	}
	f.Name = values["name"]
	wrong.Text("name", &f.Name, ledger.MaxName, "which part of the kit is it?")
	price, currency, err := spoken.Money(strings.TrimSpace(values["price"]))
	if err != nil {
		wrong.Add("price", err.Error())
	}
	f.priced = priced{price, max(0, leadOf(values["lead"], wrong))}
	s, err := q.PlanStage(ctx, t.ID)
	if err != nil {
		return f, err
	}
	if err := foldCurrency(ctx, q, s.AirframeID, currency, wrong); err != nil {
		return f, err
	}
	names, err := steps(ctx, q, s.AirframeID, s.NeededBy)
	f.NeededBy = idOf(values["needed_by"], names, "needed_by", wrong)
	return f, err
}

func putStage(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f stage
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.ChangePlanStage(ctx, query.ChangePlanStageParams{Name: f.Name, Price: f.Price, LeadDays: f.Lead, NeededBy: f.NeededBy, Revised: e.Seq, ID: id})
}

func withdrawStage(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, _ json.RawMessage) error {
	return q.WithdrawPlanStage(ctx, query.WithdrawPlanStageParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}
