package plan

import (
	"encoding/json"
	"math/big"
	"runtime"
	"slices"
	"sync"
	"time"
)

// Answer is what orpine plan prints.
type Answer struct {
	Format      string        `json:"format"`
	Version     int           `json:"version"`
	Hours       Hours         `json:"hours"`
	Pace        []PaceOf      `json:"pace"`
	Now         []string      `json:"now"`
	WithHelper  []string      `json:"with_helper"`
	Held        []Held        `json:"held"`
	Schedule    []Scheduled   `json:"schedule"`
	Unscheduled []Unscheduled `json:"unscheduled"`
	Finish      *string       `json:"finish"`
	Idle        []Idle        `json:"idle"`
	Visits      []VisitPlan   `json:"visits"`
	Closings    []Closing     `json:"closings"`
	Orders      []OrderPlan   `json:"orders"`
	Money       *MoneyPlan    `json:"money,omitempty"`
	Findings    []Finding     `json:"findings"`
	Band        *Band         `json:"band,omitempty"` // where it is asked for

	Stints []Stint `json:"-"` // the schedule as it is worked on, evening by evening
}

// Stint is work on one step without a break.
type Stint struct {
	Step     string // id
	From, To int64  // minutes
}

// Held is a step that cannot be done now, and what holds it.
type Held struct {
	ID string `json:"id"`
	By []By   `json:"by"`
}

// By is one thing that holds a step: step, cure, order, money or question.
type By struct {
	What  string `json:"what"`
	ID    string `json:"id"`
	Until string `json:"until,omitempty"`
}

// Scheduled is a step with when it is worked on.
type Scheduled struct {
	ID    string `json:"id"`
	Start string `json:"start"`
	End   string `json:"end"`
	Cured string `json:"cured"`
}

// Unscheduled is a step that does not come to its end, why, and the minutes left of it.
type Unscheduled struct {
	ID   string `json:"id"`
	By   string `json:"by"`
	Left int64  `json:"left"`
}

// Idle is a stretch in which somebody is present and nothing can be worked on.
type Idle struct {
	From string `json:"from"`
	To   string `json:"to"`
}

// VisitPlan is what is done in a visit, and what is to be prepared before it.
type VisitPlan struct {
	ID      string      `json:"id"`
	Steps   []VisitStep `json:"steps"`
	Prepare []string    `json:"prepare"`
	Unused  int64       `json:"unused"`
}

// VisitStep is a step that is worked on in a visit.
type VisitStep struct {
	ID      string `json:"id"`
	Minutes int64  `json:"minutes"`
}

// Closing is a bay that will be closed.
type Closing struct {
	Bay        string   `json:"bay"`
	Step       string   `json:"step"`
	Before     int      `json:"before"`
	InsideOpen []string `json:"inside_open"`
}

// OrderPlan is an order that has not arrived.
type OrderPlan struct {
	ID        string   `json:"id"`
	Expected  string   `json:"expected,omitempty"`
	Overdue   bool     `json:"overdue"`
	Need      string   `json:"need,omitempty"`
	LatestAsk string   `json:"latest_ask,omitempty"`
	SlackDays *int     `json:"slack_days,omitempty"`
	Holds     []string `json:"holds"`
}

// MoneyPlan is what can be paid when.
type MoneyPlan struct {
	Stages []StagePlan `json:"stages"`
	Short  json.Number `json:"short"`
}

// StagePlan is a stage that is not paid.
type StagePlan struct {
	ID       string `json:"id"`
	Payable  string `json:"payable,omitempty"`
	Arrives  string `json:"arrives,omitempty"`
	Need     string `json:"need,omitempty"`
	LateDays *int   `json:"late_days,omitempty"`
}

// planner is a plan with what was worked out of it.
type planner struct {
	*model
	today  Date
	orders []*Date // when each is expected; nil where it is not known, or has arrived
	stages []*Date // when each unpaid one arrives; nil where it never does, or is paid
	pays   []*Date
	worked []float64
	run    outcome
}

// planner makes the schedule; the second result is what of it never ends.
func (p Plan) planner() (*planner, []Unscheduled) {
	_, worked := p.worked()
	net := p.network()
	s := &planner{today: p.Zone.date(p.Now), worked: worked}
	counts, paid := s.expect(p)
	s.model = p.prepare(net, p.left(net, p.paces(worked), worked), counts, paid)
	s.run = s.schedule()
	return s, s.unscheduled()
}

// Solve plans a plan, by the rules of the format.
func (p Plan) Solve() Answer { return p.solve(func(*planner) {}) }

// solve plans a plan, with a schedule that may be a better one than the rule's.
func (p Plan) solve(better func(*planner)) Answer {
	a := Answer{Format: "orpine.planned", Version: 1}
	a.Hours, _ = p.worked()
	s, unscheduled := p.planner()
	better(s)
	a.Pace = p.paces(s.worked)
	a.Now, a.WithHelper, a.Held = s.standing()
	a.Schedule, a.Finish = s.scheduled()
	a.Unscheduled = unscheduled
	if len(a.Unscheduled) > 0 {
		a.Finish = nil
	}
	a.Idle = []Idle{}
	for _, i := range s.run.idle {
		a.Idle = append(a.Idle, Idle{p.Zone.print(i.from), p.Zone.print(i.to)})
	}
	for _, one := range s.run.stints {
		a.Stints = append(a.Stints, Stint{p.Steps[one.step].ID, one.from, one.to})
	}
	a.Visits, a.Closings = s.visits(), s.closings()
	a.Orders, a.Money = s.needs()
	a.Findings = append([]Finding{}, s.work.findings...)
	if m := p.Money; m != nil && m.Total != nil {
		sum := new(big.Int)
		for _, stage := range m.Stages {
			sum.Add(sum, big.NewInt(stage.Price))
		}
		if sum.Cmp(big.NewInt(*m.Total)) != 0 {
			a.Findings = append(a.Findings, Finding{"total-differs", "money.total", "the stages add up to " + sum.String()})
		}
	}
	return a
}

// expect finds when the orders and stages are expected, and from which minute each counts.
func (s *planner) expect(p Plan) (counts, paid []int64) {
	s.orders = make([]*Date, len(p.Orders))
	for i, o := range p.Orders {
		counts = append(counts, p.Now)
		if o.Arrived != nil {
			continue
		}
		var base Date
		switch {
		case o.Promised != nil:
			base = *o.Promised
		case o.Lead == nil:
			counts[i] = never
			continue
		case o.Asked != nil:
			base = *o.Asked + Date(*o.Lead)
		default:
			base = s.today + Date(*o.Lead)
		}
		expected := max(base+Date(o.Delay), s.today+1)
		s.orders[i] = &expected
		counts[i], _ = p.Zone.at(expected+1, 0)
	}
	if p.Money == nil {
		return counts, nil
	}
	s.pays, s.stages = make([]*Date, len(p.Money.Stages)), make([]*Date, len(p.Money.Stages))
	sum := new(big.Int)
	for k, stage := range p.Money.Stages {
		paid = append(paid, p.Now)
		if stage.Paid {
			continue
		}
		sum.Add(sum, big.NewInt(stage.Price))
		day, ok := p.Money.payDay(sum, s.today)
		if !ok {
			paid[k] = never
			continue
		}
		arrives := day + Date(stage.Lead)
		s.pays[k], s.stages[k] = &day, &arrives
		paid[k], _ = p.Zone.at(arrives+1, 0)
	}
	return counts, paid
}

// payDay is the first day on which a sum is covered: today, or a pay day after it; ok is false
// where that does not come within the horizon.
func (m Money) payDay(sum *big.Int, today Date) (day Date, ok bool) {
	short := new(big.Int).Sub(sum, big.NewInt(m.Saved))
	if short.Sign() <= 0 {
		return today, true
	}
	if m.PerMonth == 0 {
		return 0, false
	}
	months, rest := new(big.Int).QuoRem(short, big.NewInt(m.PerMonth), new(big.Int))
	if rest.Sign() > 0 {
		months.Add(months, big.NewInt(1))
	}
	if !months.IsInt64() || months.Int64() > 12*(horizon+1) {
		return 0, false
	}
	at := today.time()
	first := 0
	if at.Day() >= m.Day {
		first = 1
	}
	day = dateOf(at.Year(), at.Month()+time.Month(first+int(months.Int64())-1), m.Day)
	limit := at.AddDate(horizon, 0, 0)
	return day, !day.time().After(limit)
}

// standing is what can be done now, alone and with a helper, and what is held by what.
func (s *planner) standing() (now, helper []string, held []Held) {
	now, helper, held = []string{}, []string{}, []Held{}
	var ready []int
	for i, step := range s.Steps {
		if step.State == Done {
			continue
		}
		if by := s.by(i); len(by) > 0 {
			held = append(held, Held{step.ID, by})
			continue
		}
		ready = append(ready, i)
	}
	slices.SortStableFunc(ready, func(a, b int) int { return compare(s.work.tail[b], s.work.tail[a]) })
	for _, i := range ready {
		if s.Steps[i].People > 1 {
			helper = append(helper, s.Steps[i].ID)
		} else {
			now = append(now, s.Steps[i].ID)
		}
	}
	return now, helper, held
}

// by is what holds a step now.
func (s *planner) by(i int) []By {
	step, out := s.Steps[i], []By{}
	date := func(d *Date) string {
		if d == nil {
			return ""
		}
		return d.String()
	}
	for _, b := range s.net.predecessors(i) {
		switch before := s.Steps[b]; {
		case before.State != Done:
			out = append(out, By{"step", before.ID, ""})
		case before.Ended != nil && *before.Ended+s.work.cure[b] > s.Now:
			out = append(out, By{"cure", before.ID, s.Zone.print(*before.Ended + s.work.cure[b])})
		}
	}
	for _, o := range step.Needs {
		if s.Orders[o].Arrived == nil {
			out = append(out, By{"order", s.Orders[o].ID, date(s.orders[o])})
		}
	}
	if s.Money != nil {
		for k, stage := range s.Money.Stages {
			if stage.NeededBy == i && !stage.Paid {
				out = append(out, By{"money", stage.ID, date(s.stages[k])})
			}
		}
	}
	for _, q := range step.WaitsFor {
		if s.Questions[q].Open {
			out = append(out, By{"question", s.Questions[q].ID, ""})
		}
	}
	return out
}

// scheduled are the steps whose work ends, in order of start, and when the last of all is
// cured.
func (s *planner) scheduled() ([]Scheduled, *string) {
	var list []int
	finish := s.Now
	for i, step := range s.Steps {
		switch {
		case step.State == Done:
			if step.Ended != nil {
				finish = max(finish, *step.Ended+s.work.cure[i])
			}
		case s.run.ended[i] >= 0:
			list = append(list, i)
			finish = max(finish, s.run.ended[i]+s.work.cure[i])
		}
	}
	slices.SortStableFunc(list, func(a, b int) int { return compare(s.run.begun[a], s.run.begun[b]) })
	out := make([]Scheduled, len(list))
	for k, i := range list {
		end := s.run.ended[i]
		out[k] = Scheduled{s.Steps[i].ID, s.Zone.print(s.run.begun[i]), s.Zone.print(end), s.Zone.print(end + s.work.cure[i])}
	}
	text := s.Zone.print(finish)
	return out, &text
}

// unscheduled are the steps whose work does not end, and why.
func (s *planner) unscheduled() []Unscheduled {
	out := []Unscheduled{}
	never := make([]bool, len(s.Steps))
	for i, step := range s.Steps {
		never[i] = step.State != Done && s.run.ended[i] < 0
	}
	for i, step := range s.Steps {
		if never[i] {
			out = append(out, Unscheduled{step.ID, s.why(i, never), s.run.left[i]})
		}
	}
	return out
}

// why is the first reason that holds for a step that does not come to its end.
func (s *planner) why(i int, unscheduled []bool) string {
	step := s.Steps[i]
	switch {
	case slices.ContainsFunc(step.WaitsFor, func(q int) bool { return s.Questions[q].Open }):
		return "question"
	case slices.ContainsFunc(step.Needs, func(o int) bool { return s.counts[o] == never }):
		return "order"
	case s.Money != nil && slices.ContainsFunc(s.unpaidFor(i), func(k int) bool { return s.paid[k] == never }):
		return "money"
	case slices.ContainsFunc(s.net.predecessors(i), func(b int) bool { return unscheduled[b] }):
		return "after"
	case step.People == 1 && !step.Whole && s.pres.week:
		return "horizon"
	case step.Whole && (step.People == 1 && s.pres.week || s.enough(step.People, s.run.ready[i])):
		return "fit"
	}
	return "people"
}

// unpaidFor are the unpaid stages that a step needs.
func (s *planner) unpaidFor(i int) []int {
	var out []int
	for k, stage := range s.Money.Stages {
		if stage.NeededBy == i && !stage.Paid {
			out = append(out, k)
		}
	}
	return out
}

// enough tells whether so many people are present at some time from a minute on.
func (s *planner) enough(people int, from int64) bool {
	return slices.ContainsFunc(s.pres.stays, func(st stay) bool { return st.to > from && st.people >= people })
}

// visits are those that end after now: what is worked on in each, and what to prepare.
func (s *planner) visits() []VisitPlan {
	type tally struct {
		steps   []int
		minutes map[int]int64
		used    int64
		credit  int64
	}
	of := map[int]*tally{}
	at := func(v int) *tally {
		if of[v] == nil {
			of[v] = &tally{minutes: map[int]int64{}}
		}
		return of[v]
	}
	shifts, k := s.pres.shifts, 0
	for _, one := range shifts {
		if from := max(one.from, s.Now); from < one.to {
			at(one.visit).credit += one.to - from
		}
	}
	for _, st := range s.run.stints {
		for k < len(shifts) && shifts[k].to <= st.from {
			k++
		}
		for j := k; j < len(shifts) && shifts[j].from < st.to; j++ {
			minutes := min(st.to, shifts[j].to) - max(st.from, shifts[j].from)
			if minutes <= 0 {
				continue
			}
			t := at(shifts[j].visit)
			if _, known := t.minutes[st.step]; !known {
				t.steps = append(t.steps, st.step)
			}
			t.minutes[st.step] += minutes
			if s.Steps[st.step].People > 1 {
				t.used += minutes
			}
		}
	}
	undone := func(i int) bool { return s.Steps[i].State != Done }
	above := map[int][]int{}
	out := []VisitPlan{}
	for v, visit := range s.Visits {
		if visit.To <= s.Now {
			continue
		}
		t := at(v)
		one := VisitPlan{ID: visit.ID, Steps: []VisitStep{}, Prepare: []string{}, Unused: t.credit - t.used}
		var prepare []int
		for _, i := range t.steps {
			one.Steps = append(one.Steps, VisitStep{s.Steps[i].ID, t.minutes[i]})
			if s.Steps[i].People == 1 {
				continue
			}
			if _, known := above[i]; !known {
				above[i] = s.net.above(i, undone)
			}
			for _, b := range above[i] {
				if s.Steps[b].People == 1 && s.run.begun[b] >= 0 && s.run.begun[b] < visit.From {
					prepare = append(prepare, b)
				}
			}
		}
		slices.Sort(prepare)
		prepare = slices.Compact(prepare)
		slices.SortStableFunc(prepare, func(a, b int) int { return compare(s.run.begun[a], s.run.begun[b]) })
		for _, b := range prepare {
			one.Prepare = append(one.Prepare, s.Steps[b].ID)
		}
		out = append(out, one)
	}
	return out
}

// closings are the bays that an undone step closes.
func (s *planner) closings() []Closing {
	out := []Closing{}
	undone := func(i int) bool { return s.Steps[i].State != Done }
	for b, bay := range s.Bays {
		i := slices.IndexFunc(s.Steps, func(step Step) bool { return step.State != Done && slices.Contains(step.Closes, b) })
		if i < 0 {
			continue
		}
		one := Closing{Bay: bay, Step: s.Steps[i].ID, Before: len(s.net.above(i, undone)), InsideOpen: []string{}}
		for _, step := range s.Steps {
			if step.State != Done && slices.Contains(step.Inside, b) {
				one.InsideOpen = append(one.InsideOpen, step.ID)
			}
		}
		out = append(out, one)
	}
	return out
}

// firstBegun is the day on which the first of some steps is begun in a schedule, nil where none
// is.
func (s *planner) firstBegun(run outcome, steps []int) *Date {
	first := int64(never)
	for _, i := range steps {
		if run.begun[i] >= 0 {
			first = min(first, run.begun[i])
		}
	}
	if first == never {
		return nil
	}
	d := s.Zone.date(first)
	return &d
}

// needs are the orders and the money: when each is expected, and by when it is needed in a
// schedule in which it alone has come.
func (s *planner) needs() ([]OrderPlan, *MoneyPlan) {
	orders := []OrderPlan{}
	var money *MoneyPlan
	var jobs []func()
	holds := make([][]int, len(s.Orders))
	for i, step := range s.Steps {
		if step.State != Done {
			for _, o := range step.Needs {
				holds[o] = append(holds[o], i)
			}
		}
	}
	needed := make([]*Date, len(s.Orders))
	for o, order := range s.Orders {
		if order.Arrived == nil && len(holds[o]) > 0 {
			jobs = append(jobs, func() {
				other := *s.model
				other.counts = slices.Clone(s.counts)
				other.counts[o] = s.Now
				needed[o] = s.firstBegun(other.schedule(holds[o]...), holds[o])
			})
		}
	}
	var wanted []*Date
	if s.Money != nil {
		wanted = make([]*Date, len(s.Money.Stages))
		for k, stage := range s.Money.Stages {
			if stage.Paid || stage.NeededBy < 0 || s.Steps[stage.NeededBy].State == Done {
				continue
			}
			jobs = append(jobs, func() {
				other := *s.model
				other.paid = slices.Clone(s.paid)
				other.paid[k] = s.Now
				wanted[k] = s.firstBegun(other.schedule(stage.NeededBy), []int{stage.NeededBy})
			})
		}
	}
	together(jobs)
	for o, order := range s.Orders {
		if order.Arrived == nil {
			orders = append(orders, s.order(o, holds[o], needed[o]))
		}
	}
	if s.Money != nil {
		money = s.moneyPlan(wanted)
	}
	return orders, money
}

// together runs jobs side by side.
func together(jobs []func()) {
	next := make(chan func())
	var wait sync.WaitGroup
	for range min(runtime.GOMAXPROCS(0), len(jobs)) {
		wait.Go(func() {
			for job := range next {
				job()
			}
		})
	}
	for _, job := range jobs {
		next <- job
	}
	close(next)
	wait.Wait()
}

func (s *planner) order(o int, holds []int, need *Date) OrderPlan {
	order := s.Orders[o]
	one := OrderPlan{ID: order.ID, Overdue: order.Promised != nil && *order.Promised < s.today, Holds: []string{}}
	for _, i := range holds {
		one.Holds = append(one.Holds, s.Steps[i].ID)
	}
	if s.orders[o] != nil {
		one.Expected = s.orders[o].String()
	}
	if need == nil {
		return one
	}
	one.Need = need.String()
	if s.orders[o] != nil {
		slack := int(*need - *s.orders[o])
		one.SlackDays = &slack
	}
	if order.Asked == nil && order.Lead != nil {
		one.LatestAsk = (*need - Date(*order.Lead) - Date(order.Delay)).String()
	}
	return one
}

func (s *planner) moneyPlan(wanted []*Date) *MoneyPlan {
	out := &MoneyPlan{Stages: []StagePlan{}}
	short := new(big.Int).Neg(big.NewInt(s.Money.Saved))
	for k, stage := range s.Money.Stages {
		if stage.Paid {
			continue
		}
		short.Add(short, big.NewInt(stage.Price))
		one := StagePlan{ID: stage.ID}
		if s.pays[k] != nil {
			one.Payable, one.Arrives = s.pays[k].String(), s.stages[k].String()
		}
		if wanted[k] != nil {
			one.Need = wanted[k].String()
			if s.stages[k] != nil {
				late := int(max(0, *s.stages[k]-*wanted[k]))
				one.LateDays = &late
			}
		}
		out.Stages = append(out.Stages, one)
	}
	if short.Sign() < 0 {
		short.SetInt64(0)
	}
	out.Short = json.Number(short.String())
	return out
}
