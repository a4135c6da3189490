package plan

import (
	"encoding/json"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"orpine/internal/core/tree"
)

// Read reads a document, and finds every error in it.
func Read(data []byte) (Plan, []Error) {
	r := &reader{}
	if len(data) > MaxBytes {
		r.report("", fmt.Sprintf("is larger than %d bytes", MaxBytes))
		return Plan{}, r.errors
	}
	if !utf8.Valid(data) {
		r.report("", "is not UTF-8")
		return Plan{}, r.errors
	}
	if !json.Valid(data) { // soon found, however long it is
		var any json.RawMessage
		err := json.Unmarshal(data, &any)
		r.report("", "not a JSON document: "+err.Error())
		return Plan{}, r.errors
	}
	doc, err := tree.Parse(data, func(path, message string) { r.report("", path+" "+message) })
	if err != nil {
		r.report("", err.Error())
		return Plan{}, r.errors
	}
	p := r.plan(doc)
	if circles := p.circles(); len(circles) > 0 {
		r.errors = append(r.errors, circles...)
	}
	return p, r.errors
}

// reader reads fields, and collects what is wrong with them.
type reader struct{ errors []Error }

func (r *reader) report(path, message string) {
	r.errors = append(r.errors, Error{Path: path, Message: message})
}

// object is a JSON object whose fields are read one by one; those that were not asked for are
// unknown.
type object struct {
	*reader
	path  string
	node  *tree.Node
	asked []string
}

func (r *reader) object(path string, n *tree.Node) (*object, bool) {
	if n == nil {
		return nil, false
	}
	if !n.IsObject() {
		r.report(path, "is "+n.What()+" where an object is wanted")
		return nil, false
	}
	return &object{reader: r, path: path, node: n}, true
}

// done reports the fields that nobody asked for.
func (o *object) done() {
	for _, m := range o.node.Members {
		if !slices.Contains(o.asked, m.Name) {
			o.report(tree.Join(o.path, m.Name), "is not a field here; known are "+strings.Join(o.asked, ", "))
		}
	}
}

// at is the path of a field.
func (o *object) at(name string) string { return tree.Join(o.path, name) }

// has tells whether a field is there, whatever it is.
func (o *object) has(name string) bool { return o.node.Member(name) != nil }

// get is a field; nil where it is missing, or null, which is reported.
func (o *object) get(name string, required bool) *tree.Node {
	o.asked = append(o.asked, name)
	n := o.node.Member(name)
	switch {
	case n == nil && required:
		o.report(o.at(name), "is missing")
	case n != nil && n.IsNull():
		o.report(o.at(name), "is null: leave it out, or say it")
		return nil
	}
	return n
}

func (o *object) text(name string, required bool) string {
	n := o.get(name, required)
	if n == nil {
		return ""
	}
	text, ok := n.Value.(string)
	if !ok {
		o.report(o.at(name), "is "+n.What()+" where text is wanted")
	}
	return text
}

func (o *object) truth(name string, required bool) bool {
	n := o.get(name, required)
	if n == nil {
		return false
	}
	v, ok := n.Value.(bool)
	if !ok {
		o.report(o.at(name), "is "+n.What()+" where true or false is wanted")
	}
	return v
}

// figure reads a number; ok is false where there is none that is usable.
func (r *reader) figure(path string, n *tree.Node) (v float64, ok bool) {
	number, isNumber := n.Value.(json.Number)
	if !isNumber {
		r.report(path, "is "+n.What()+" where a number is wanted")
		return 0, false
	}
	v, err := number.Float64()
	if err != nil || math.IsInf(v, 0) {
		r.report(path, "is too large")
		return 0, false
	}
	return v, true
}

// number reads a number between two bounds; above0 leaves the lower one out.
func (o *object) number(name string, required bool, low, high float64, above0 bool) (v float64, ok bool) {
	n := o.get(name, required)
	if n == nil {
		return 0, false
	}
	return o.bounded(o.at(name), n, low, high, above0)
}

func (r *reader) bounded(path string, n *tree.Node, low, high float64, above0 bool) (v float64, ok bool) {
	if v, ok = r.figure(path, n); !ok {
		return 0, false
	}
	switch {
	case above0 && v <= 0:
		r.report(path, "must be above 0")
		return 0, false
	case v < low:
		r.report(path, fmt.Sprintf("must be at least %g", low))
		return 0, false
	case v > high:
		r.report(path, fmt.Sprintf("must be at most %g", high))
		return 0, false
	}
	return v, true
}

// whole reads a whole number between two bounds.
func (o *object) whole(name string, required bool, low, high int64) (v int64, ok bool) {
	n := o.get(name, required)
	if n == nil {
		return 0, false
	}
	return o.integer(o.at(name), n, low, high)
}

func (r *reader) integer(path string, n *tree.Node, low, high int64) (v int64, ok bool) {
	number, isNumber := n.Value.(json.Number)
	if !isNumber {
		r.report(path, "is "+n.What()+" where a whole number is wanted")
		return 0, false
	}
	v, err := strconv.ParseInt(number.String(), 10, 64)
	if err != nil {
		f, err := number.Float64()
		if err != nil || f != math.Trunc(f) || math.Abs(f) >= 1<<63 {
			r.report(path, number.String()+" is not a whole number, or too large")
			return 0, false
		}
		v = int64(f)
	}
	if v < low || v > high {
		r.report(path, fmt.Sprintf("must be a whole number from %d to %d", low, high))
		return 0, false
	}
	return v, true
}

// list is a list of objects; each is called with its path.
func (o *object) list(name string, required bool, most int, each func(i int, item *object)) {
	for i, n := range o.items(name, required, most) {
		if item, ok := o.reader.object(fmt.Sprintf("%s[%d]", o.at(name), i), n); ok {
			each(i, item)
			item.done()
		} else {
			each(i, nil)
		}
	}
}

func (o *object) items(name string, required bool, most int) []*tree.Node {
	n := o.get(name, required)
	if n == nil {
		return nil
	}
	if !n.IsArray() {
		o.report(o.at(name), "is "+n.What()+" where a list is wanted")
		return nil
	}
	if most > 0 && len(n.Items) > most {
		o.report(o.at(name), fmt.Sprintf("has %d entries, more than %d", len(n.Items), most))
		return nil
	}
	return n.Items
}

// names are what a list may be named by, each once.
type names map[string]int

// id reads the id of the entry at a path into names.
func (o *object) id(into names, i int) string {
	n := o.get("id", true)
	if n == nil {
		return ""
	}
	return o.name(o.at("id"), n, into, i)
}

// name reads an id, and takes it into names.
func (r *reader) name(path string, n *tree.Node, into names, i int) string {
	text, ok := n.Value.(string)
	_, twice := into[text]
	switch {
	case !ok:
		r.report(path, "is "+n.What()+" where text is wanted")
		return ""
	case text == "":
		r.report(path, "is empty")
	case utf8.RuneCountInString(text) > maxName:
		r.report(path, fmt.Sprintf("is longer than %d characters", maxName))
	case twice:
		r.report(path, fmt.Sprintf("%q is used twice in this list", text))
	default:
		into[text] = i
	}
	return text
}

// ref finds what a text names.
func (r *reader) ref(path string, n *tree.Node, of names, what string) (int, bool) {
	text, ok := n.Value.(string)
	if !ok {
		r.report(path, "is "+n.What()+" where text is wanted")
		return -1, false
	}
	i, ok := of[text]
	if !ok {
		r.report(path, fmt.Sprintf("there is no %s %q", what, text))
		return -1, false
	}
	return i, true
}

// refs is a list of names of other things, each once.
func (o *object) refs(name string, of names, what string) []int {
	var out []int
	seen := map[string]bool{}
	for i, n := range o.items(name, false, 0) {
		path := fmt.Sprintf("%s[%d]", o.at(name), i)
		if n.IsNull() {
			o.report(path, "is null")
			continue
		}
		if text, ok := n.Value.(string); ok && seen[text] {
			o.report(path, fmt.Sprintf("%q is named twice", text))
			continue
		} else if ok {
			seen[text] = true
		}
		if k, ok := o.ref(path, n, of, what); ok {
			out = append(out, k)
		}
	}
	return out
}

// date reads a date.
func (o *object) date(name string, required bool) *Date {
	n := o.get(name, required)
	if n == nil {
		return nil
	}
	text, ok := n.Value.(string)
	if !ok {
		o.report(o.at(name), "is "+n.What()+" where a date is wanted")
		return nil
	}
	d, err := parseDate(text)
	if err != nil {
		o.report(o.at(name), err.Error())
		return nil
	}
	return &d
}

// minute reads a wall time.
func (o *object) minute(c Clock, name string, required bool) *int64 {
	n := o.get(name, required)
	if n == nil {
		return nil
	}
	text, ok := n.Value.(string)
	if !ok {
		o.report(o.at(name), "is "+n.What()+" where a time is wanted")
		return nil
	}
	m, err := c.parse(text)
	if err != nil {
		o.report(o.at(name), err.Error())
		return nil
	}
	return &m
}

// minutes reads hours above 0 that are whole minutes.
func (o *object) minutes(name string) (int, bool) {
	v, ok := o.number(name, true, 0, maxHours, true)
	if !ok {
		return 0, false
	}
	m := math.Round(v * 60)
	if math.Abs(v*60-m) > 1e-6 || m < 1 {
		o.report(o.at(name), "is not a whole number of minutes")
		return 0, false
	}
	return int(m), true
}

var days = []string{"sun", "mon", "tue", "wed", "thu", "fri", "sat"}

var wall = regexp.MustCompile(`^([01]\d|2[0-3]):([0-5]\d)$`)

// plan reads the whole document.
func (r *reader) plan(n *tree.Node) Plan {
	p := Plan{Zone: Clock{time.UTC}}
	o, ok := r.object("", n)
	if !ok {
		return p
	}
	if f := o.text("format", true); f != "orpine.plan" && o.has("format") {
		r.report("format", "must be orpine.plan")
	}
	if v, ok := o.whole("version", true, math.MinInt32, math.MaxInt32); ok && v != 1 {
		r.report("version", "must be 1")
	}
	if zone := o.get("zone", false); zone != nil {
		text, ok := zone.Value.(string)
		var err error
		if !ok {
			r.report("zone", "is "+zone.What()+" where text is wanted")
		} else if p.Zone, err = clockOf(text); err != nil {
			r.report("zone", err.Error())
		}
	}
	now := o.minute(p.Zone, "now", true)
	if now != nil {
		p.Now = *now
	} else {
		p.Now = 330 * 525_960 // nothing is after it: what is wrong with now is reported
	}
	if p.Builder = "builder"; o.has("builder") {
		p.Builder = o.text("builder", false)
	} else {
		o.asked = append(o.asked, "builder")
	}
	r.times(o, &p)
	if v, ok := o.number("shop_temperature", false, -50, 100, false); ok {
		p.Warmth = &v
	}
	bays, orders, questions, steps := names{}, names{}, names{}, names{}
	for i, n := range o.items("bays", false, 0) {
		p.Bays = append(p.Bays, r.name(fmt.Sprintf("bays[%d]", i), n, bays, i))
	}
	r.orders(o, &p, orders)
	o.list("questions", false, 0, func(i int, q *object) {
		p.Questions = append(p.Questions, Question{})
		if q != nil {
			p.Questions[i] = Question{q.id(questions, i), q.text("text", false), q.truth("open", true)}
		}
	})
	r.steps(o, &p, steps, bays, orders, questions)
	o.list("pace", false, 0, func(_ int, e *object) {
		if e == nil {
			return
		}
		one := Pace{Kind: e.text("kind", true)}
		one.Estimated, _ = e.number("estimated", true, 0, maxHours, false)
		one.Actual, _ = e.number("actual", true, 0, maxHours, false)
		p.Pace = append(p.Pace, one)
	})
	o.list("sessions", false, maxSessions, func(i int, s *object) {
		p.Sessions = append(p.Sessions, Session{Step: -1})
		if s != nil {
			p.Sessions[i] = r.session(s, &p, steps)
		}
	})
	r.money(o, &p, steps)
	r.risk(o, &p)
	o.done()
	return p
}

// risk reads what is said of doubts.
func (r *reader) risk(o *object, p *Plan) {
	said, ok := r.object("risk", o.get("risk", false))
	if !ok {
		return
	}
	for _, one := range p.Risk.fields() {
		if v, ok := said.number(one.name, false, 0, one.most, false); ok {
			*one.value = &v
		}
	}
	said.done()
}

// doubt is one field of a risk.
type doubt struct {
	name  string
	value **float64
	most  float64
}

// fields are the fields of a risk, with the most that each may be.
func (r *Risk) fields() []doubt {
	const sigma, share = 2, 0.9
	return []doubt{
		{"step", &r.Step, sigma}, {"pace", &r.Pace, sigma}, {"kind", &r.Kind, sigma}, {"unplanned", &r.Unplanned, share},
		{"visit", &r.Visit, share}, {"evening", &r.Evening, share}, {"lead", &r.Lead, sigma}, {"savings", &r.Savings, sigma},
	}
}

// times reads the week, what is away, and the visits.
func (r *reader) times(o *object, p *Plan) {
	if week, ok := r.object("week", o.get("week", false)); ok {
		for day, name := range days {
			n := week.get(name, false)
			if n == nil {
				continue
			}
			one, ok := r.object(week.at(name), n)
			if !ok {
				continue
			}
			from := one.text("from", true)
			minutes, usable := one.minutes("hours")
			m := wall.FindStringSubmatch(from)
			switch {
			case m == nil && one.has("from") && from != "":
				r.report(one.at("from"), fmt.Sprintf("%q is not a time of the day, as in 19:00", from))
			case m == nil && one.has("from"):
				if n := one.node.Member("from"); !n.IsNull() && n.Value == "" {
					r.report(one.at("from"), "is empty")
				}
			case m != nil:
				h, _ := strconv.Atoi(m[1])
				mi, _ := strconv.Atoi(m[2])
				if p.Week[day].From = h*60 + mi; usable && p.Week[day].From+minutes > 1440 {
					r.report(one.at("hours"), "goes on after 24:00")
				} else {
					p.Week[day].Minutes = minutes
				}
			}
			one.done()
		}
		week.done()
	}
	o.list("away", false, 0, func(_ int, a *object) {
		if a == nil {
			return
		}
		from, to := a.date("from", true), a.date("to", true)
		switch {
		case from == nil || to == nil:
		case *to < *from:
			r.report(a.at("to"), "is before it begins")
		default:
			p.Away = append(p.Away, [2]Date{*from, *to})
		}
	})
	visits := names{}
	o.list("visits", false, maxVisits, func(i int, v *object) {
		p.Visits = append(p.Visits, Visit{})
		if v == nil {
			return
		}
		id, from := v.id(visits, i), v.minute(p.Zone, "from", true)
		minutes, _ := v.minutes("hours")
		people, _ := v.whole("people", true, 2, math.MaxInt32)
		if from != nil {
			p.Visits[i] = Visit{id, *from, *from + int64(minutes), int(people)}
		}
	})
}

// orders reads the suppliers, and what was ordered from them.
func (r *reader) orders(o *object, p *Plan, orders names) {
	suppliers, delays := names{}, map[int]int{}
	o.list("suppliers", false, 0, func(i int, s *object) {
		if s == nil {
			return
		}
		one := Supplier{ID: s.id(suppliers, i)}
		sum, count := 0.0, 0
		for k, n := range s.items("delays", false, 0) {
			if v, ok := r.integer(fmt.Sprintf("%s[%d]", s.at("delays"), k), n, -10_000, 10_000); ok {
				sum, count = sum+float64(v), count+1
				one.Delays = append(one.Delays, int(v))
			}
		}
		if count > 0 {
			delays[i] = int(max(0, ceil(sum/float64(count))))
		}
		p.Suppliers = append(p.Suppliers, one)
	})
	today, awaited := p.Zone.date(p.Now), 0
	o.list("orders", false, maxOrders, func(i int, e *object) {
		p.Orders = append(p.Orders, Order{})
		if e == nil {
			return
		}
		one := Order{ID: e.id(orders, i), Name: e.text("name", false)}
		if n := e.get("supplier", true); n != nil {
			if k, ok := r.ref(e.at("supplier"), n, suppliers, "supplier"); ok {
				one.Delay = delays[k]
				one.Supplier, _ = n.Value.(string)
			}
		}
		if v, ok := e.whole("lead_days", false, 0, 10_000); ok {
			lead := int(v)
			one.Lead = &lead
		}
		one.Asked, one.Promised, one.Sent, one.Arrived = e.date("asked", false), e.date("promised", false), e.date("sent", false), e.date("arrived", false)
		before := func(a, b *Date, field, says string) bool {
			if a == nil || b == nil || *a <= *b {
				return false
			}
			r.report(e.at(field), says)
			return true
		}
		before(one.Asked, one.Promised, "promised", "is before it was asked for")
		before(one.Asked, one.Sent, "sent", "is before it was asked for")
		if !before(one.Sent, one.Arrived, "arrived", "is before it was sent") {
			before(one.Asked, one.Arrived, "arrived", "is before it was asked for")
		}
		for field, d := range map[string]*Date{"asked": one.Asked, "arrived": one.Arrived} {
			if d != nil && *d > today && o.has("now") {
				r.report(e.at(field), "is after today")
			}
		}
		if !e.has("arrived") {
			awaited++
		}
		p.Orders[i] = one
	})
	if awaited > maxAwaited {
		r.report("orders", fmt.Sprintf("%d have not arrived, more than %d", awaited, maxAwaited))
	}
}

// steps reads the steps; their ids first, for they name one another.
func (r *reader) steps(o *object, p *Plan, steps, bays, orders, questions names) {
	list := o.items("steps", true, maxSteps)
	p.Steps = make([]Step, len(list))
	items := make([]*object, len(list))
	for i, n := range list {
		p.Steps[i] = Step{People: 1, State: Open, Low: 1, Likely: 1, High: 1}
		if item, ok := r.object(fmt.Sprintf("steps[%d]", i), n); ok {
			items[i], p.Steps[i].ID = item, item.id(steps, i)
		}
	}
	for i, e := range items {
		if e == nil {
			continue
		}
		s := &p.Steps[i]
		s.Name, s.Kind, s.Assembly = e.text("name", false), e.text("kind", false), e.text("assembly", false)
		r.hours(e, s)
		if v, ok := e.whole("people", false, 1, math.MaxInt32); ok {
			s.People = int(v)
		}
		s.Whole = e.truth("whole", false)
		s.After, s.Inside, s.Closes = e.refs("after", steps, "step"), e.refs("inside", bays, "bay"), e.refs("closes", bays, "bay")
		s.Needs, s.WaitsFor = e.refs("needs", orders, "order"), e.refs("waits_for", questions, "question")
		if slices.ContainsFunc(s.Inside, func(b int) bool { return slices.Contains(s.Closes, b) }) {
			r.report(e.path, "lies inside a bay that it closes")
		}
		r.state(e, s, p)
		e.done()
	}
}

// hours reads the hours of a step: one number, or three.
func (r *reader) hours(e *object, s *Step) {
	n := e.get("hours", true)
	if n == nil {
		return
	}
	if !n.IsObject() {
		if v, ok := r.bounded(e.at("hours"), n, 0, maxHours, true); ok {
			s.Low, s.Likely, s.High = v, v, v
		}
		return
	}
	three, _ := r.object(e.at("hours"), n)
	low, okLow := three.number("low", true, 0, maxHours, true)
	likely, okLikely := three.number("likely", true, 0, maxHours, true)
	high, okHigh := three.number("high", true, 0, maxHours, true)
	three.done()
	if okLow && okLikely && low > likely {
		r.report(three.at("likely"), "is below low")
	}
	if okLikely && okHigh && likely > high {
		r.report(three.at("high"), "is below likely")
	}
	if okLow && okLikely && okHigh {
		s.Low, s.Likely, s.High = low, likely, high
	}
}

// state reads the cure of a step, and how far it is.
func (r *reader) state(e *object, s *Step, p *Plan) {
	if cure, ok := r.object(e.at("cure"), e.get("cure", false)); ok {
		s.Cure = r.cure(cure)
	}
	if e.has("state") {
		s.State = e.text("state", false)
		if n := e.node.Member("state"); s.State != Open && s.State != Begun && s.State != Done {
			if _, ok := n.Value.(string); ok {
				r.report(e.at("state"), fmt.Sprintf("%q is not one of open, begun, done", s.State))
			}
			s.State = Open
		}
	} else {
		e.asked = append(e.asked, "state")
	}
	s.Ended = e.minute(p.Zone, "done", false)
	switch {
	case e.has("done") && s.State != Done:
		r.report(e.at("done"), "is of a step that is not done")
		s.Ended = nil
	case s.Ended != nil && *s.Ended > p.Now:
		r.report(e.at("done"), "is after now")
	case s.State == Done && s.Cure != nil && !e.has("done"):
		r.report(e.at("done"), "is missing: from when does it cure?")
	}
}

func (r *reader) cure(c *object) *Cure {
	out := &Cure{}
	out.Hours, _ = c.number("hours", true, 0, maxHours, false)
	if v, ok := c.number("at", false, -50, 100, false); ok {
		out.At = &v
	}
	if c.has("table") {
		seen := map[float64]bool{}
		before := len(r.errors)
		c.list("table", false, 0, func(_ int, line *object) {
			if line == nil {
				return
			}
			at, ok := line.number("at", true, -50, 100, false)
			if ok && seen[at] {
				r.report(line.at("at"), "is named twice in this table")
			}
			seen[at] = seen[at] || ok
			hours, _ := line.number("hours", true, 0, maxHours, true)
			out.Table = append(out.Table, CureAt{at, hours})
		})
		if len(out.Table) < 2 && len(r.errors) == before {
			r.report(c.at("table"), "has fewer than two entries")
		}
		slices.SortFunc(out.Table, func(a, b CureAt) int { return sign(a.At - b.At) })
	} else {
		c.asked = append(c.asked, "table")
	}
	c.done()
	return out
}

func (r *reader) session(e *object, p *Plan, steps names) Session {
	s := Session{Who: e.text("who", true), Category: e.text("category", true), Assembly: e.text("assembly", false), Step: -1}
	from, to := e.minute(p.Zone, "from", true), e.minute(p.Zone, "to", false)
	if n := e.get("step", false); n != nil {
		s.Step, _ = r.ref(e.at("step"), n, steps, "step")
	}
	switch {
	case from == nil:
		return s
	case *from > p.Now:
		r.report(e.at("from"), "is after now")
	}
	s.From, s.To = *from, p.Now
	if to != nil {
		s.To = *to
		switch {
		case *to <= *from:
			r.report(e.at("to"), "is not after it began")
		case *to > p.Now:
			r.report(e.at("to"), "is after now")
		}
	}
	return s
}

func (r *reader) money(o *object, p *Plan, steps names) {
	m, ok := r.object("money", o.get("money", false))
	if !ok {
		return
	}
	p.Money = &Money{Currency: m.text("currency", true), Day: 1}
	p.Money.Saved, _ = m.whole("saved", true, 0, math.MaxInt64)
	p.Money.PerMonth, _ = m.whole("per_month", true, 0, math.MaxInt64)
	if v, ok := m.whole("day", false, 1, 28); ok {
		p.Money.Day = int(v)
	}
	if v, ok := m.whole("total", false, 0, math.MaxInt64); ok {
		p.Money.Total = &v
	}
	ids := names{}
	m.list("stages", true, maxStages, func(i int, s *object) {
		one := Stage{NeededBy: -1}
		if s != nil {
			one.ID, one.Name = s.id(ids, i), s.text("name", false)
			one.Price, _ = s.whole("price", true, 0, math.MaxInt64)
			lead, _ := s.whole("lead_days", true, 0, 10_000)
			one.Lead = int(lead)
			if n := s.get("needed_by", false); n != nil {
				one.NeededBy, _ = r.ref(s.at("needed_by"), n, steps, "step")
			}
			one.Paid = s.truth("paid", false)
		}
		p.Money.Stages = append(p.Money.Stages, one)
	})
	m.done()
}

func sign(v float64) int {
	switch {
	case v < 0:
		return -1
	case v > 0:
		return 1
	}
	return 0
}

// ceil rounds up what is not whole to a millionth.
func ceil(v float64) float64 { return math.Ceil(v - 1e-6) }
