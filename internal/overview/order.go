package overview

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/asking"
	"orpine/internal/closing"
	"orpine/internal/coating"
	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/core/plan"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
)

// OrderSheet is the order of work of an airframe: its steps, those added by hand and those that
// follow from holds, rows, checks and bays, and the plan of them.
type OrderSheet struct {
	Airframe   airframe.Airframe
	Others     []airframe.Airframe
	Assemblies []Named
	Plan       plan.Plan
	Answer     plan.Answer
	Way        plan.Way             // by which the answer chooses what comes next
	Steps      map[string]OrderStep // by id
	Week       map[string]plan.Stretch
	Away       []planning.AwayDays
	Visits     []planning.Visit
	Sessions   []planning.Session // the last one first
	Ordered    []planning.Order
	Money      planning.Money
	Questions  []asking.Asked // open ones first
	Clocks     []coating.Clock
	Learning   plan.Learning
	Own        []planning.Step
	Now        time.Time
}

// OrderStep is a step as the sheet shows it.
type OrderStep struct {
	ID, Name, Path, State string
	Own                   bool // it was added by hand
	Hours                 float64
	People                int
	Bring                 string   // tools and light
	Before                []string // names of what makes it impossible
	Forbids               []string // names of what is impossible once it is done, and is not done yet
	Learnt                string   // what the first of its pair says of it
	Notes                 []string // questions that are open, and go on provisionally; contradictions
}

// What is taken of steps that follow from elsewhere, in hours, until the builder's own pace
// tells: a hole, a reading, a task, and what a hold stands before.
const (
	perHole    = 1.2 / 60
	perReading = 2.0 / 60
	perTask    = 0.5
	perStep    = 1.0
)

// planned gathers steps, and finds them by their ids.
type planned struct {
	plan.Plan
	at    map[string]int
	waits map[string]int // questions, by id
	steps map[string]OrderStep
}

func (p *planned) add(s plan.Step, show OrderStep) {
	if s.People == 0 {
		s.People = 1
	}
	if s.State == "" {
		s.State = plan.Open
	}
	show.ID, show.Name, show.State, show.People, show.Hours = s.ID, s.Name, s.State, s.People, s.Expected()
	p.at[s.ID], p.steps[s.ID] = len(p.Steps), show
	p.Steps = append(p.Steps, s)
}

// question is the number of something that is waited for.
func (p *planned) question(id, text string) int {
	if i, ok := p.waits[id]; ok {
		return i
	}
	p.waits[id] = len(p.Questions)
	p.Questions = append(p.Questions, plan.Question{ID: id, Text: text, Open: true})
	return p.waits[id]
}

// Order loads the order of work of an airframe ("" for the first), and plans it.
func (w *Workshop) Order(ctx context.Context, id string) (OrderSheet, error) {
	s, err := w.unplanned(ctx, id)
	if err == nil {
		s.Answer, s.Way = s.Plan.Advise(1)
	}
	return s, err
}

// unplanned is the order of work without its answer.
func (w *Workshop) unplanned(ctx context.Context, id string) (s OrderSheet, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if s.Airframe, s.Others, err = airframe.One(ctx, q, id); err != nil {
			return err
		}
		s.Now = w.Ledger.Now()
		p := &planned{at: map[string]int{}, waits: map[string]int{}, steps: map[string]OrderStep{}}
		p.Zone, p.Now, p.Builder = plan.ClockIn(s.Now.Location()), plan.Minute(s.Now), "builder"
		if err := w.follow(ctx, q, s.Airframe, p); err != nil {
			return err
		}
		if s.Ordered, err = planning.Orders(ctx, q, s.Airframe.ID); err != nil {
			return err
		}
		own, err := planning.Steps(ctx, q, s.Airframe.ID, w.Ledger.When)
		if err != nil {
			return err
		}
		s.Own = own
		if s.Clocks, err = coating.Clocks(ctx, q, s.Airframe.ID, w.Ledger.When); err != nil {
			return err
		}
		p.own(own, p.ordered(s.Ordered))
		if err := p.tie(ctx, q, s.Airframe.ID, own); err != nil {
			return err
		}
		p.forbid(own)
		if s.Questions, err = asking.Questions(ctx, q, s.Airframe.ID, w.Ledger.When); err != nil {
			return err
		}
		p.ask(s.Questions)
		p.clocks(s.Clocks)
		var told bool
		if s.Money, told, err = planning.MoneyOf(ctx, q, s.Airframe.ID); err != nil {
			return err
		}
		if told {
			p.pay(s.Money)
		}
		if err := w.evenings(ctx, q, &s, p); err != nil {
			return err
		}
		if s.Assemblies, err = assembliesOf(ctx, q, s.Airframe.ID); err != nil {
			return err
		}
		p.untangle()
		s.Learning = p.Learn(part.Twin)
		s.Plan, s.Steps = p.Taught(s.Learning), p.steps
		s.learnt()
		s.passed()
		return nil
	})
	return s, err
}

// follow adds the steps that follow from what is there.
func (w *Workshop) follow(ctx context.Context, q *query.Queries, frame airframe.Airframe, p *planned) error {
	assemblies, err := w.assemblies(ctx, q, frame)
	if err != nil {
		return err
	}
	rows, err := riveting.Standings(ctx, q, frame.ID)
	if err != nil {
		return err
	}
	bays, err := q.BaysOfAirframe(ctx, frame.ID)
	if err != nil {
		return err
	}
	for _, b := range bays {
		p.Bays = append(p.Bays, b.Name)
	}
	bayAt := func(id string) []int {
		if i := slices.IndexFunc(bays, func(b query.Bay) bool { return b.ID == id }); i >= 0 {
			return []int{i}
		}
		return nil
	}
	holds := map[string]gate.Hold{}
	for _, a := range assemblies {
		for _, h := range a.Holds {
			holds[h.ID] = h.Hold
		}
	}
	for _, a := range assemblies {
		for _, setup := range a.Setups {
			for _, c := range setup.Checks {
				if left := c.Wanted - c.Taken; left > 0 {
					h := perReading * float64(left)
					p.add(plan.Step{ID: "check:" + c.ID, Name: fmt.Sprintf("measure %s: %s", a.Name, c.Name), Kind: "measure", Assembly: a.ID, Low: h, Likely: h, High: 2 * h}, OrderStep{Path: "/setups/" + setup.ID + "?check=" + c.ID})
				}
			}
		}
		for _, h := range a.Holds {
			if !h.Done {
				p.hold(a.Assembly, h.Hold, bays)
			}
		}
		for _, r := range rows {
			if r.AssemblyID == a.ID {
				p.row(a.Assembly, r, bayAt(r.Bay), holds)
			}
		}
	}
	if len(bays) > 0 {
		ids := make([]string, len(bays))
		for i, b := range bays {
			ids[i] = b.ID
		}
		tasks, err := q.TasksOfBays(ctx, ids)
		if err != nil {
			return err
		}
		for _, t := range tasks {
			if t.DoneBy == "" {
				p.add(plan.Step{ID: "task:" + t.ID, Name: t.What, Kind: "inside", Low: perTask / 2, Likely: perTask, High: 3 * perTask, Inside: bayAt(t.BayID)}, OrderStep{Path: "/bays/" + t.BayID})
			}
		}
	}
	p.link(assemblies)
	return nil
}

// hold adds what a hold stands before.
func (p *planned) hold(a airframe.Assembly, h gate.Hold, bays []query.Bay) {
	s := plan.Step{ID: "hold:" + h.ID, Name: a.Name + ": " + h.Name, Kind: h.Step, Assembly: a.ID, Low: perStep / 2, Likely: perStep, High: 3 * perStep}
	if h.ReleaseID == "" {
		s.WaitsFor = []int{p.question(s.ID, hold.NotReleased(h.Name, h.Ended))}
	}
	for i, b := range bays {
		if b.ClosedBy == h.ID && closing.BayOf(h.ID) == b.ID {
			s.Closes = []int{i}
		}
	}
	p.add(s, OrderStep{Path: "/holds/" + h.ID})
}

// row adds the rivets of a row that are left.
func (p *planned) row(a airframe.Assembly, r riveting.Standing, inside []int, holds map[string]gate.Hold) {
	left := r.Holes - r.Of[row.Set] - r.Of[row.Accepted] - r.Of[row.Open] - r.Of[row.Abandoned]
	if left <= 0 {
		return
	}
	h := perHole * float64(left)
	s := plan.Step{ID: "row:" + r.ID, Name: fmt.Sprintf("%s: %s (%d holes)", a.Name, r.Name, left), Kind: "rivet", Assembly: a.ID, Low: h / 2, Likely: h, High: 3 * h, Inside: inside}
	if r.Bucker {
		s.People = 2
	}
	if h, ok := holds[r.Hold]; ok && !h.Open() {
		s.WaitsFor = []int{p.question("hold:"+h.ID, hold.NotReleased(h.Name, h.Ended))}
	}
	p.add(s, OrderStep{Path: "/rows/" + r.ID})
}

// link says which steps come before what holds stand before: their checks, the steps before
// them, and the rows that they are for.
func (p *planned) link(assemblies []Assembly) {
	for _, a := range assemblies {
		for _, h := range a.Holds {
			i, ok := p.at["hold:"+h.ID]
			if !ok {
				continue
			}
			for _, r := range h.Required {
				id := "check:" + r.Check
				switch r.Need {
				case hold.Before:
					id = "hold:" + r.Of
				case hold.Prepared, hold.Marked:
					id = "row:" + r.Of
				}
				if b, ok := p.at[id]; ok && !slices.Contains(p.Steps[i].After, b) {
					p.Steps[i].After = append(p.Steps[i].After, b)
				}
			}
		}
	}
}

// own adds the steps that were added by hand; what they come after may be gone since.
func (p *planned) own(list []planning.Step, orders map[string]int) {
	for _, s := range list {
		one := plan.Step{ID: s.ID, Name: s.Name, Kind: s.Kind, Assembly: s.AssemblyID, Low: s.Hours.Low, Likely: s.Hours.Likely, High: s.Hours.High, People: s.People, Whole: s.Whole, State: s.State}
		if s.Cure > 0 {
			one.Cure = &plan.Cure{Hours: s.Cure}
		}
		if !s.Done.IsZero() {
			ended := plan.Minute(s.Done)
			one.Ended = &ended
		}
		for _, needed := range s.Needs {
			if o, ok := orders[needed]; ok {
				one.Needs = append(one.Needs, o)
			}
		}
		p.add(one, OrderStep{Own: true, Bring: s.Bring})
	}
	for _, s := range list {
		for _, after := range s.After {
			if b, ok := p.at[after]; ok {
				i := p.at[s.ID]
				p.Steps[i].After = append(p.Steps[i].After, b)
			}
		}
	}
}

// tie lets a step that makes joints permanent wait for their holds.
func (p *planned) tie(ctx context.Context, q *query.Queries, airframe string, own []planning.Step) error {
	if !slices.ContainsFunc(own, func(s planning.Step) bool { return len(s.Ties) > 0 && s.State != plan.Done }) {
		return nil
	}
	holds, err := gate.All(q.Holds(ctx, airframe))
	if err != nil {
		return err
	}
	for _, s := range own {
		for _, h := range holds {
			if s.State != plan.Done && !h.Open() && slices.Contains(s.Ties, h.ID) {
				i := p.at[s.ID]
				p.Steps[i].WaitsFor = append(p.Steps[i].WaitsFor, p.question("hold:"+h.ID, hold.NotReleased(h.Name, h.Ended)))
			}
		}
	}
	return nil
}

// MoveStep says how far a step is. One that is done under holds which are released records their
// steps with it, in one write.
func (w *Workshop) MoveStep(ctx context.Context, n planning.StepMoved) error {
	if n.State != plan.Done {
		return w.Planning.MoveStep(ctx, n)
	}
	var waiting []gate.Hold
	err := w.Ledger.View(ctx, func(q *query.Queries) error {
		s, err := q.PlanStep(ctx, n.Step)
		if err != nil {
			return ledger.Found(err)
		}
		var ids []string
		if err := json.Unmarshal([]byte(s.TiedTo), &ids); err != nil {
			return fmt.Errorf("reading the step %s: %w", s.Name, err)
		}
		if len(ids) == 0 && s.Untied == "" { // what was said before counts; else what is said with it
			ids = n.Ties
		}
		holds, err := gate.All(q.HoldsByID(ctx, ids))
		for _, h := range holds {
			if h.Waiting() {
				waiting = append(waiting, h)
			}
		}
		return err
	})
	if err != nil {
		return err
	}
	if len(waiting) == 0 {
		return w.Planning.MoveStep(ctx, n)
	}
	return w.Ledger.Together(ctx, true, func(ctx context.Context, l *ledger.Ledger) error {
		on := New(l)
		for i, h := range waiting {
			step := holding.NewStep{Form: ledger.Form{ID: ledger.Child(n.ID, fmt.Sprint("hold ", i)), Taken: n.Taken}, Hold: h.ID, Release: h.ReleaseID, By: cmp.Or(n.By, h.Released)}
			if err := on.Holding.RecordStep(ctx, step); err != nil {
				return err
			}
		}
		return on.Planning.MoveStep(ctx, n)
	})
}

// StepHolds are the holds of an assembly that a step may be tied to: those whose steps are not done.
func (w *Workshop) StepHolds(ctx context.Context, step string) (out []Named, err error) {
	err = w.Ledger.View(ctx, func(q *query.Queries) error {
		s, err := q.PlanStep(ctx, step)
		if err != nil {
			return err
		}
		holds, err := gate.All(q.HoldsOfAssembly(ctx, s.AssemblyID.String))
		for _, h := range holds {
			if !h.Done {
				out = append(out, Named{h.ID, h.Name})
			}
		}
		return err
	})
	return out, err
}

// forbid lets what a step makes impossible come before it, and says so at both.
func (p *planned) forbid(own []planning.Step) {
	for _, s := range own {
		for _, end := range s.Before {
			b, ok := p.at[end]
			if !ok || s.State == plan.Done {
				continue
			}
			p.Steps[b].After = append(p.Steps[b].After, p.at[s.ID])
			last, first := p.steps[end], p.steps[s.ID]
			last.Forbids, first.Before = append(last.Forbids, s.Name), append(first.Before, last.Name)
			p.steps[end], p.steps[s.ID] = last, first
		}
	}
}

// ask lets what a question freezes wait for its answer; where it goes on provisionally, or is
// only a row in part, it is said there.
func (p *planned) ask(list []asking.Asked) {
	for _, a := range list {
		if !a.Open() {
			if a.Sort == asking.Contradiction {
				p.note(a, a.AnsweredBy+" decided: "+a.Answer+" ("+a.Text+")")
			}
			continue
		}
		says := a.Text
		if a.Whom != "" {
			says += " (asked of " + a.Whom + ")"
		}
		if !a.Freezing() {
			p.note(a, says+" goes on so: "+a.Provisional)
			continue
		}
		for _, f := range a.Freezes {
			i, ok := p.at[f.What]
			switch {
			case !ok:
			case f.Holes != "":
				p.noteAt(f.What, "holes "+f.Holes+" wait: "+says)
			default:
				p.Steps[i].WaitsFor = append(p.Steps[i].WaitsFor, p.question("ask:"+a.ID, says))
			}
		}
		// A decision that was put off must be taken before its last step.
		if i, ok := p.at[a.Last]; ok {
			p.Steps[i].WaitsFor = append(p.Steps[i].WaitsFor, p.question("ask:"+a.ID, "to be decided before: "+says))
		}
	}
	for i := range p.Steps {
		slices.Sort(p.Steps[i].WaitsFor)
		p.Steps[i].WaitsFor = slices.Compact(p.Steps[i].WaitsFor)
	}
}

func (p *planned) note(a asking.Asked, says string) {
	for _, f := range a.Freezes {
		p.noteAt(f.What, says)
	}
}

func (p *planned) noteAt(what, says string) {
	if s, ok := p.steps[what]; ok {
		s.Notes = append(s.Notes, says)
		p.steps[what] = s
	}
}

// clocks lets what comes after a step wait for what truly hardens: until it is cured by its
// maker's table, and while a side still waits for its turn-over.
func (p *planned) clocks(list []coating.Clock) {
	seen := map[string]bool{}
	for _, c := range list { // the last one first
		i, ok := p.at[c.StepID]
		if !ok || seen[c.StepID] {
			continue
		}
		seen[c.StepID] = true
		switch cured := c.Cured(); {
		case !c.Running():
		case c.Waits():
			says := p.Steps[i].Name + ": " + c.What + " waits for its other coats"
			if side, coats := c.OnSide(); c.Sides == 2 && coats >= c.Least {
				says = fmt.Sprintf("%s: %s waits to be turned over, side %d is coated", p.Steps[i].Name, c.What, side)
			}
			wait := p.question("clock:"+c.ID, says)
			p.Steps[i].Cure = nil // it has not begun to cure for good
			for k := range p.Steps {
				if slices.Contains(p.Steps[k].After, i) {
					p.Steps[k].WaitsFor = append(p.Steps[k].WaitsFor, wait)
				}
			}
		case p.Steps[i].Ended != nil && !cured.IsZero():
			p.Steps[i].Cure = &plan.Cure{Hours: max(0, float64(plan.Minute(cured)-*p.Steps[i].Ended)/60)}
		case c.Full > 0:
			p.Steps[i].Cure = &plan.Cure{Hours: c.Full}
		}
	}
}

// learnt says at each second of a pair what the first one took.
func (s *OrderSheet) learnt() {
	for _, l := range s.Learning.Seconds {
		one := s.Steps[s.Plan.Steps[l.Step].ID]
		one.Hours = s.Plan.Steps[l.Step].Expected()
		one.Learnt = fmt.Sprintf("its twin took %.1f h", l.Took)
		if s.Learning.Pairs > 0 {
			one.Learnt += fmt.Sprintf("; the second of a pair takes you %.2f of the first (%d so far)", s.Learning.Factor, s.Learning.Pairs)
		}
		s.Steps[one.ID] = one
	}
}

// passed says at each step that is not done, and has taken longer than was expected, that it has.
func (s *OrderSheet) passed() {
	for i, worked := range s.Plan.Worked() {
		step := s.Plan.Steps[i]
		if e := step.Expected(); step.State != plan.Done && worked > e {
			one := s.Steps[step.ID]
			one.Notes = append(one.Notes, fmt.Sprintf("has taken %.1f h, and %.1f h were expected", worked, e))
			s.Steps[step.ID] = one
		}
	}
}

// ordered adds the orders, each with its supplier's own delay, and finds them by their ids.
func (p *planned) ordered(list []planning.Order) map[string]int {
	at := map[string]int{}
	for i, o := range list {
		if !slices.ContainsFunc(p.Suppliers, func(s plan.Supplier) bool { return s.ID == supplierOf(o) }) {
			p.Suppliers = append(p.Suppliers, plan.Supplier{ID: supplierOf(o), Delays: planning.Delays(list, o.Supplier)})
		}
		one := plan.Order{ID: o.ID, Name: o.Name, Supplier: supplierOf(o), Delay: planning.Delay(list, o.Supplier), Asked: planning.DateOf(o.Asked), Promised: planning.DateOf(o.Promised), Sent: planning.DateOf(o.Sent), Arrived: planning.DateOf(o.Arrived)}
		if o.Lead >= 0 {
			one.Lead = &o.Lead
		}
		if o.Came != "" && o.Arrived == "" { // what came was wrong: another one takes as long again
			one.Promised, one.Sent, one.Asked = nil, nil, planning.DateOf(cmp.Or(o.Returned, p.Zone.Time(p.Now).Format(time.DateOnly)))
		}
		if o.Credited != "" { // nothing comes any more
			one.Promised, one.Sent, one.Asked, one.Lead, one.Arrived = nil, nil, nil, nil, nil
		}
		p.Orders, at[o.ID] = append(p.Orders, one), i
	}
	return at
}

// supplierOf is the name of a supplier, however it is written.
func supplierOf(o planning.Order) string { return strings.ToLower(o.Supplier) }

// pay adds what is saved, and the stages of the kit.
func (p *planned) pay(m planning.Money) {
	p.Money = &plan.Money{Currency: m.Currency, Saved: m.Saved, PerMonth: m.PerMonth, Day: m.Day}
	if m.Total >= 0 {
		p.Plan.Money.Total = &m.Total
	}
	for _, s := range m.Stages {
		one := plan.Stage{ID: s.ID, Name: s.Name, Price: s.Price, Lead: s.Lead, NeededBy: -1, Paid: s.Paid}
		if i, ok := p.at[s.NeededBy]; ok {
			one.NeededBy = i
		}
		p.Plan.Money.Stages = append(p.Plan.Money.Stages, one)
	}
}

// untangle cuts circles, which only steps that follow from elsewhere can close: what is in one
// comes after nothing, until someone puts it right.
func (p *planned) untangle() {
	for _, circle := range p.Circles() {
		for _, id := range circle.Steps {
			p.Steps[p.at[id]].After = nil
		}
	}
}

// evenings adds when people are in the shop, and what was worked.
func (w *Workshop) evenings(ctx context.Context, q *query.Queries, s *OrderSheet, p *planned) (err error) {
	if s.Away, err = planning.Away(ctx, q, s.Airframe.ID); err != nil {
		return err
	}
	p.Away = planning.Planned(s.Away)
	if s.Week, err = planning.Week(ctx, q, s.Airframe.ID); err != nil {
		return err
	}
	for i, day := range planning.Days {
		p.Week[(i+1)%7] = s.Week[day]
	}
	if s.Visits, err = planning.Visits(ctx, q, s.Airframe.ID); err != nil {
		return err
	}
	for _, v := range s.Visits {
		from, err := p.Zone.Parse(v.From)
		if err != nil {
			return fmt.Errorf("reading a visit: %w", err)
		}
		p.Visits = append(p.Visits, plan.Visit{ID: v.ID, From: from, To: from + int64(v.Hours*60+0.5), People: v.People})
	}
	if s.Sessions, err = planning.Sessions(ctx, q, s.Airframe.ID, w.Ledger.When); err != nil {
		return err
	}
	for _, one := range s.Sessions {
		to := p.Now
		if !one.Running() {
			to = plan.Minute(one.To)
		}
		session := plan.Session{Who: one.Who, From: plan.Minute(one.From), To: to, Category: one.Category, Step: -1, Assembly: one.AssemblyID}
		if i, ok := p.at[one.Step]; ok {
			session.Step = i
		}
		p.Sessions = append(p.Sessions, session)
	}
	slices.Reverse(s.Sessions)
	return nil
}

// AddStep adds a step by hand; it may come after any step of the sheet.
func (w *Workshop) AddStep(ctx context.Context, n planning.NewStep) error {
	s, err := w.unplanned(ctx, n.Airframe)
	if err != nil {
		return err
	}
	for _, one := range s.Steps {
		if !one.Own {
			n.Others = append(n.Others, plan.Named{ID: one.ID, Name: one.Name})
		}
	}
	slices.SortFunc(n.Others, func(a, b plan.Named) int { return strings.Compare(a.Name, b.Name) })
	n.Comes = map[string][]string{}
	for _, one := range s.Plan.Steps {
		for _, b := range one.After {
			n.Comes[one.ID] = append(n.Comes[one.ID], s.Plan.Steps[b].ID)
		}
	}
	return w.Planning.AddStep(ctx, n)
}

// Why says in words what holds a step.
func (s OrderSheet) Why(by plan.By) string {
	switch by.What {
	case "step":
		return "waits for " + s.Steps[by.ID].Name + s.farFrom(by.ID)
	case "cure":
		return s.Steps[by.ID].Name + " cures until " + strings.Replace(by.Until, "T", " ", 1)
	case "order":
		for _, o := range s.Ordered {
			if o.ID == by.ID {
				return "waits for the order " + o.Name + after(", expected ", by.Until)
			}
		}
	case "money":
		for _, g := range s.Money.Stages {
			if g.ID == by.ID {
				return "waits for the money for " + g.Name + after(", there on ", by.Until)
			}
		}
	case "question":
		for _, q := range s.Plan.Questions {
			if q.ID == by.ID {
				return q.Text
			}
		}
	}
	return by.What + " " + by.ID
}

// farFrom says when a step will be done, as it is planned.
func (s OrderSheet) farFrom(id string) string {
	for _, job := range s.Answer.Schedule {
		if job.ID == id {
			return ", done about " + s.At(job.End).Format("2 Jan")
		}
	}
	return ""
}

func after(word, text string) string {
	if text == "" {
		return ""
	}
	return word + text
}

// At is a minute that the plan prints, as a time in the workshop's zone.
func (s OrderSheet) At(text string) time.Time {
	if t, err := time.ParseInLocation("2006-01-02T15:04", text[:min(len(text), 16)], s.Now.Location()); err == nil {
		return t
	}
	return time.Time{}
}
