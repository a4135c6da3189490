package measuring

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/check"
	"orpine/internal/core/form"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/say"
	"orpine/internal/core/school"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// Redefine is one of the ways in which the definition of a check is changed. Readings
// and releases stay as they are.
type Redefine struct {
	ledger.Form
	Check string       `json:"check"`          // id
	Seen  int64        `json:"seen,omitempty"` // the entry that had changed it last when it was shown
	Held  *bool        `json:"held,omitempty"` // as it was said before Lies
	Lies  string       `json:"lies,omitempty"` // check.HeldDown, InJig or LiesFree
	Judge *CheckChange `json:"judge,omitempty"`
	Limit *LimitTo     `json:"limit,omitempty"`
	Sized Sized        `json:"sized,omitempty"`
	Point []string     `json:"point,omitempty"` // a point to be added: its columns as typed, the name first
	Place *NewPlace    `json:"place,omitempty"`
}

// CheckChange is how a check is called and judged.
type CheckChange struct {
	Name    string               `json:"name"`
	Limits  map[string][2]string `json:"limits"`          // by quantity, low and high as typed; both empty takes a limit out
	Schools map[string]string    `json:"schools"`         // "" as its airframe has it
	May     map[string]string    `json:"may,omitempty"`   // of a join: how each attach point may be moved, by name
	Known   map[string]string    `json:"known,omitempty"` // how well points are known, by field; "" is the usual
}

// NewPlace is one more named point of a join, as typed.
type NewPlace struct {
	Name    string `json:"name" form:"place.name"`
	X       string `json:"x" form:"place.x"`
	Y       string `json:"y" form:"place.y"`
	Z       string `json:"z" form:"place.z"`
	Surface string `json:"surface" form:"place.on"` // "" for the airframe; of a single surface any word
}

// defined is a check as it was redefined.
type defined struct {
	Was        string          `json:"was"` // its name before
	Name       string          `json:"name"`
	Says       string          `json:"says"`
	Definition json.RawMessage `json:"definition"`
	Schools    json.RawMessage `json:"schools"`
	Assumed    json.RawMessage `json:"assumed,omitempty"` // what nobody stated, where that is another now
}

var redefined = &ledger.Kind[Redefine, defined]{
	Name: "check-changed", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make, ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n Redefine, f defined) error {
		return q.ChangeCheck(ctx, query.ChangeCheckParams{Name: f.Name, Definition: string(f.Definition), Schools: string(f.Schools), Limits: limitsIn(string(f.Definition)), Assumed: string(f.Assumed), Redefined: e.Seq, Revised: e.Seq, ID: n.Check})
	},
	Words: func(_ Redefine, f defined) ledger.Words { return ledger.Words{What: f.Was + ": " + f.Says} },
}

// Redefine changes the definition of a check. Problems are at "name",
// "limits.QUANTITY", "may" and "schools" for how it is judged, at "point" and "place" for
// those.
func (m *Measuring) Redefine(ctx context.Context, n Redefine) error {
	_, err := ledger.Do(ctx, m.ledger, redefined, n.Form, n, func(q *query.Queries) (f defined, err error) {
		s, c, err := loader{q, m.ledger.When}.one(ctx, n.Check)
		if err != nil {
			return f, err
		}
		definition, _ := form.Clone(c.Definition).(map[string]any)
		schools, kept := c.Schools, c.kept()
		switch {
		case n.Lies != "":
			f.Says, err = c.lay(definition, n.Lies)
		case n.Held != nil:
			f.Says, err = c.lay(definition, map[bool]string{true: check.HeldDown, false: check.LiesFree}[*n.Held])
		case n.Judge != nil:
			if n.Seen != c.Redefined {
				return f, ledger.Moved("other limits", "“"+c.Name+"” with "+c.judgedBy())
			}
			schools, f.Says, err = n.Judge.change(c, definition, s.Airframe)
			limits, _ := definition["limits"].(map[string]any)
			kept = c.keptWith(limits, "")
		case n.Limit != nil:
			f.Says, kept, err = n.limit(c, definition, s.Airframe)
		case n.Sized != nil:
			f.Says, kept, err = n.sized(c, definition, s.Airframe)
		case n.Place != nil:
			f.Says, err = n.Place.change(c, definition, s.Airframe)
		default:
			f.Says, err = addPoint(c, definition, n.Point, s.Airframe)
		}
		if err != nil {
			return f, err
		}
		if !slices.Equal(kept, c.kept()) {
			if f.Assumed, err = asKept(kept); err != nil {
				return f, err
			}
		}
		f.Was = c.Name
		f.Name, _ = definition["name"].(string)
		if f.Definition, err = json.Marshal(definition); err != nil {
			return f, err
		}
		f.Schools, err = json.Marshal(schools)
		return f, err
	})
	return err
}

// limit sets one limit of a check that is as it was shown. Problems are at "limit".
func (n Redefine) limit(c Check, definition map[string]any, frame airframe.Airframe) (says string, kept []string, err error) {
	if n.Seen != c.Redefined {
		return "", nil, ledger.Moved("other limits", "“"+c.Name+"” with "+c.judgedBy())
	}
	wrong := ledger.Problems{}
	if !slices.ContainsFunc(c.Kind.Limits, func(l measure.Limitable) bool { return l.Name == n.Limit.Quantity }) {
		return "", nil, ledger.Problems{"limit": "this check has no such quantity"}
	}
	kept = n.Limit.change(c, definition, wrong)
	for _, e := range refusals(definition, frame) {
		wrong.Add("limit", e.Message)
	}
	limits, _ := definition["limits"].(map[string]any)
	if says = sayLimits(limits); says == "" {
		says = "no limits"
	}
	return says, kept, wrong.Err()
}

// sized says where things of a check are. Problems are by field, as Sized has them.
func (n Redefine) sized(c Check, definition map[string]any, frame airframe.Airframe) (says string, kept []string, err error) {
	if n.Seen != c.Redefined {
		return "", nil, ledger.Moved("other dimensions", "“"+c.Name+"” as it is now")
	}
	if says, kept, err = n.Sized.size(c, definition, frame.Unit); err != nil {
		return "", nil, err
	}
	wrong := ledger.Problems{}
	for _, e := range refusals(definition, frame) {
		wrong.Add("", e.Message)
	}
	return says, kept, wrong.Err()
}

// lay says how a surface lies, and so whether it takes the shape of its supports.
func (c Check) lay(definition map[string]any, lies string) (says string, err error) {
	if _, ok := c.Input.(*measure.Twist); !ok {
		return "", ledger.Problems{"": "only a surface measured for twist is held down to its support"}
	}
	says, ok := laid[lies]
	if !ok {
		return "", ledger.Problems{"": "how does it lie? Choose one of the three"}
	}
	definition["held"], definition["stiff"] = lies == check.HeldDown, lies == check.LiesFree
	return says, nil
}

var laid = map[string]string{check.HeldDown: "held down to its support", check.InJig: "not fastened, taking the jig's shape", check.LiesFree: "not held down"}

// liesAs is how a surface lies by a definition; what is said to lie free is stiff, unless it says that it takes
// its jig's shape.
func liesAs(definition map[string]any) string {
	held, said := definition["held"].(bool)
	stiff, told := definition["stiff"].(bool)
	switch {
	case !said:
		return ""
	case held:
		return check.HeldDown
	case told && !stiff:
		return check.InJig
	}
	return check.LiesFree
}

// judgedBy says which limits the check has now.
func (c Check) judgedBy() string {
	limits, _ := c.Definition["limits"].(map[string]any)
	if says := sayLimits(limits); says != "" {
		return says
	}
	return "no limits"
}

func (n CheckChange) change(c Check, definition map[string]any, frame airframe.Airframe) (schools school.Choice, says string, err error) {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "give it a name")
	definition["name"] = n.Name
	limits := map[string]any{}
	for quantity, ends := range n.Limits {
		if limit := typedLimit(quantity, ends[0], ends[1], "limits."+quantity, wrong); len(limit) > 0 {
			limits[quantity] = limit
		}
	}
	numbered(c.Kind.Name, limits)
	for _, joined := range append(form.Items(definition["surfaces"]), definition) {
		for _, point := range form.Items(joined["attach"]) {
			if may, ok := n.May[form.NameOf(point)]; ok {
				point["may"] = may
			}
		}
	}
	for field := range n.Known {
		if _, ok := c.KnownPoints()[field]; !ok {
			wrong.Add("known", "this check has no such points")
			continue
		}
		delete(definition, field)
		if text := strings.TrimSpace(n.Known[field]); text != "" {
			definition[field] = text
			if v, err := worksheet.Typed(text, "length", frame.Unit); err != nil {
				wrong.Add("known."+field, err.Error())
			} else if v < 0 {
				wrong.Add("known."+field, "cannot be negative; 0 says that they are exact")
			}
		}
	}
	delete(definition, "limits")
	if len(limits) > 0 {
		definition["limits"] = limits
	}
	for _, e := range refusals(definition, frame) {
		if strings.Contains(e.Path, ".may") {
			wrong.Add("may", e.Message)
			continue
		}
		if _, known := c.KnownPoints()[strings.TrimPrefix(e.Path, "check.")]; known {
			continue // said already
		}
		path, _ := strings.CutPrefix(e.Path, "check.limits.")
		quantity, _, _ := strings.Cut(path, ".")
		wrong.Add("limits."+quantity, e.Message)
	}
	schools = school.Choice{}
	for question, answer := range n.Schools {
		if answer == "" {
			continue
		}
		if !school.Known(question, answer) {
			wrong.Add("schools", "choose one of the list")
		}
		schools[question] = answer
	}
	says = say.Join(sayLimits(limits), airframe.SaySchools(schools), sayMay(n.May), sayKnown(n.Known))
	if says == "" {
		says = "no limits, and as its airframe has it"
	}
	return schools, says, wrong.Err()
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
	low, high = bothSides(low, high)
	for name, text := range map[string]string{"low": low, "high": high} {
		if text = strings.TrimSpace(text); text != "" {
			limit[name] = text
		}
	}
	return limit
}

// bothSides fills both ends of a limit from one that says ±; "±0.1" is −0.1 to 0.1.
func bothSides(low, high string) (string, string) {
	for _, pair := range [][2]string{{low, high}, {high, low}} {
		for _, mark := range []string{"±", "+/-", "+-"} {
			if v, ok := strings.CutPrefix(strings.TrimSpace(pair[0]), mark); ok && strings.TrimSpace(pair[1]) == "" {
				return "-" + strings.TrimSpace(v), strings.TrimSpace(v)
			}
		}
	}
	return low, high
}

// KnownPoints are the fields that say how well points of the check are known, as typed; ""
// is the usual.
func (c Check) KnownPoints() map[string]string {
	out := map[string]string{}
	for _, field := range c.Kind.Form().Known {
		out[field] = ""
		if v := c.Definition[field]; v != nil {
			out[field] = fmt.Sprint(v)
		}
	}
	return out
}

func sayKnown(known map[string]string) string {
	var out []string
	for _, field := range []struct{ key, name string }{{"datum_u", "points of the airframe"}, {"points_u", "marks"}, {"centred", "centred"}} {
		if known[field.key] != "" {
			out = append(out, field.name+" within "+known[field.key])
		}
	}
	return say.Join(out...)
}

// sayMay says how the attach points of a join may be moved.
func sayMay(may map[string]string) string {
	var out []string
	for name, how := range may {
		out = append(out, name+" "+how)
	}
	slices.Sort(out)
	return say.Join(out...)
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
	return say.Join(out...)
}

// open says that an end of a limit is not given.
func open(end string) string {
	if end == "" {
		return "any"
	}
	return end
}

// refusals are what is wrong with a definition.
func refusals(definition map[string]any, frame airframe.Airframe) []worksheet.Error {
	data, err := json.Marshal(definition)
	if err != nil {
		return []worksheet.Error{{Message: err.Error()}}
	}
	_, errs := worksheet.ParseDefinition(data, frame.Unit)
	return errs
}

// Columns are those of a point of the check, the name first; nil for a check that
// has no list of points.
func (c Check) Columns() []string {
	if _, join := c.Joined(); join {
		return []string{"type", "from", "to", "axis"} // a reading; its places are many and stand by themselves
	}
	for _, f := range c.Kind.Form().Fields {
		if f.Names() {
			return f.Columns
		}
	}
	return nil
}

// lists are where the points of a check stand in its definition.
func (c Check) lists() []string {
	return c.Kind.Form().PointsOf(c.Definition)
}

// addPoint adds a point to a check, to be read like the others.
func addPoint(c Check, definition map[string]any, values []string, frame airframe.Airframe) (says string, err error) {
	columns := c.Columns()
	if columns == nil || len(values) != len(columns) {
		return "", ledger.Problems{"point": "this check has no list of points"}
	}
	wrong := ledger.Problems{}
	values = slices.Clone(values)
	wrong.Text("point", &values[0], ledger.MaxName, "is missing: what is it?")
	for _, path := range c.lists() {
		item := map[string]any{}
		for i, column := range columns {
			if text := strings.TrimSpace(values[i]); text != "" {
				item[column] = text
			}
		}
		if path == "first.stations" || path == "second.stations" {
			item["y"] = item["x"]
			delete(item, "x")
		}
		list := listIn(definition, path)
		if path == "readings" {
			item["id"] = pose.ReadingID(len(*list), item)
		}
		*list = append(*list, item)
	}
	found := ledger.Problems{}
	NewCheck{Name: c.Name, Definition: definition}.validate("", frame, found)
	found.First("point", wrong)
	return "point added: " + strings.Join(values, ", "), wrong.Err()
}

// change adds a place to a join, to be read from or to.
func (n NewPlace) change(c Check, definition map[string]any, frame airframe.Airframe) (says string, err error) {
	if _, ok := c.Joined(); !ok {
		return "", ledger.Problems{"place": "only a join has named places"}
	}
	wrong := ledger.Problems{}
	wrong.Text("place", &n.Name, ledger.MaxName, "what is the place called?")
	list := "datum"
	if n.Surface != "" {
		list = "points"
	}
	item := map[string]any{"name": n.Name, "x": n.X, "y": n.Y, "z": n.Z}
	if surfaces, several := definition["surfaces"].([]any); several && n.Surface != "" {
		found := false
		for _, surface := range form.Items(surfaces) {
			if surface["name"] == n.Surface {
				points, _ := surface["points"].([]any)
				surface["points"], found = append(points, item), true
			}
		}
		if !found {
			wrong.Add("place", "on which surface is it?")
		}
	} else {
		points, _ := definition[list].([]any)
		definition[list] = append(points, item)
	}
	found := ledger.Problems{}
	NewCheck{Name: c.Name, Definition: definition}.validate("", frame, found)
	found.First("place", wrong)
	return fmt.Sprintf("place added: %s, %s, %s, %s", n.Name, n.X, n.Y, n.Z), wrong.Err()
}

// AddedCheck is a check to be added to a setup: its form as it was filled in.
type AddedCheck struct {
	ledger.Form
	Setup   string `json:"setup"` // id
	Kind    string `json:"kind"`
	Name    string `json:"name"`
	Filled  Filled `json:"filled" text:"lines"`
	ForHold bool   `json:"for_hold"` // the setup's holds ask for it
}

// madeMore is checks that are added to a setup.
type madeMore struct {
	Title  string       `json:"title"`
	Checks []madeCheck  `json:"checks"`
	Asked  []gate.Asked `json:"asked"`
}

var checkAdded = &ledger.Kind[AddedCheck, madeMore]{
	Name: "check", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, _ AddedCheck, f madeMore) error {
		return f.put(ctx, q, e)
	},
	Words: func(_ AddedCheck, f madeMore) ledger.Words { return f.words() },
}

func (f madeMore) put(ctx context.Context, q *query.Queries, e ledger.Entry) error {
	if err := putChecks(ctx, q, e, f.Checks); err != nil {
		return err
	}
	return gate.PutAsked(ctx, q, e, f.Asked)
}

func (f madeMore) words() ledger.Words {
	return ledger.Words{What: "check added: " + f.Title + ": " + checkNames(f.Checks)}
}

// FormOf is the form of a check of that kind, with every limit that it may have.
func FormOf(kind string) (CheckForm, bool) {
	k, ok := worksheet.KindNamed(kind)
	if !ok || k.Form().Fields == nil {
		return CheckForm{}, false
	}
	t := CheckForm{Kind: kind, Name: k.Title}
	for _, l := range k.Limits {
		t.Limits = append(t.Limits, LimitField{l.Name, strings.ReplaceAll(l.Name, "_", " "), ""})
	}
	return t, true
}

// AddCheck adds a check to a setup, at its end. Problems are at "name",
// "0.FIELD" and "0.limits".
func (m *Measuring) AddCheck(ctx context.Context, n AddedCheck) error {
	form, ok := FormOf(n.Kind)
	if !ok {
		return ledger.Problems{"kind": "what is to be measured? Choose one of the list"}
	}
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "give it a name")
	_, err := ledger.Do(ctx, m.ledger, checkAdded, n.Form, n, func(q *query.Queries) (f madeMore, err error) {
		s, err := m.Load(ctx, q, n.Setup)
		if err != nil {
			return f, err
		}
		definition := form.Definition(0, n.Filled, s.unit(), wrong)
		if says := form.Far(n.Filled, s.Shape, s.unit()); says != "" {
			wrong.Add("0.far", says)
		}
		definition["name"] = n.Name
		c := NewCheck{Name: n.Name, Definition: definition, Accepts: check.Acceptable}
		if len(wrong) == 0 {
			c.validate("checks[0]", s.Airframe, wrong)
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		mc, err := c.make(checkID(n.ID, 0), s.ID, int64(len(s.Checks)), "")
		if err != nil {
			return f, err
		}
		f = madeMore{Title: s.Title(), Checks: []madeCheck{mc}, Asked: []gate.Asked{}}
		if n.ForHold {
			f.Asked, err = askMore(ctx, q, s.ID, Requirements(n.Kind, mc.ID, definition["limits"] != nil))
		}
		return f, err
	})
	return err
}

// askMore makes the holds of a setup ask for more.
func askMore(ctx context.Context, q *query.Queries, setup string, more []hold.Requirement) ([]gate.Asked, error) {
	holds, err := gate.All(q.HoldsOfSetup(ctx, gate.Reference(setup)))
	if err != nil {
		return nil, err
	}
	asked := []gate.Asked{}
	for _, h := range holds {
		a, err := gate.Ask(h, "for_hold", more)
		if err != nil {
			return nil, err
		}
		asked = append(asked, a)
	}
	return asked, nil
}

// BeginAfter asks for the checks of a hold once more, after its step.
type BeginAfter struct {
	ledger.Form
	Hold string `json:"hold" form:"-"` // id
}

var repeatedAfter = &ledger.Kind[BeginAfter, madeMore]{
	Name: "checks-after", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, _ BeginAfter, f madeMore) error {
		return f.put(ctx, q, e)
	},
	Words: func(_ BeginAfter, f madeMore) ledger.Words { return f.words() },
}

// BeginAfter adds, for each check that a spent hold has been shown, the same check
// to be measured after the step, so that the record shows what the metal kept.
func (m *Measuring) BeginAfter(ctx context.Context, n BeginAfter) error {
	_, err := ledger.Do(ctx, m.ledger, repeatedAfter, n.Form, n, func(q *query.Queries) (f madeMore, err error) {
		h, err := gate.One(ctx, q, n.Hold)
		if err != nil {
			return f, err
		}
		if !h.Done {
			return f, ledger.Problems{"": "the step is not done yet"}
		}
		if h.SetupID == "" {
			return f, ledger.Problems{"": "nothing was measured for it"}
		}
		s, err := m.Load(ctx, q, h.SetupID)
		if err != nil {
			return f, err
		}
		before := s.Unrepeated(h)
		if len(before) == 0 {
			return f, ledger.Problems{"": "its checks are being measured once more already"}
		}
		suffix := ", after the step"
		if h.Step == "rivet" {
			suffix = ", after riveting"
		}
		f = madeMore{Title: s.Title(), Asked: []gate.Asked{}}
		for i, c := range before {
			definition, _ := form.Clone(c.Definition).(map[string]any)
			definition["name"] = c.Name + suffix
			again := NewCheck{Name: c.Name + suffix, Definition: definition, Instrument: c.Instrument, Accepts: slices.Compact(append(slices.Clone(c.Accepts), "riveted")), Assumed: c.kept()}
			mc, err := again.make(checkID(n.ID, i), s.ID, int64(len(s.Checks)+i), c.ID)
			if err != nil {
				return f, err
			}
			f.Checks = append(f.Checks, mc)
		}
		return f, nil
	})
	return err
}

// Unrepeated are the checks that a hold was shown and that have no check after the
// step yet.
func (s Setup) Unrepeated(h gate.Hold) []Check {
	var out []Check
	for _, r := range h.Required {
		c, ok := s.Check(r.Check)
		repeated := slices.ContainsFunc(s.Checks, func(later Check) bool { return later.AfterOf == c.ID })
		if ok && r.Need == hold.Shown && !repeated && c.AfterOf == "" {
			out = append(out, c)
		}
	}
	return out
}
