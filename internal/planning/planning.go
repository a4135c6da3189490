// Package planning keeps the order of work: steps that were added by hand, the builder's own
// evenings, visits of helpers, and the hours that were worked. What follows from holds, rows,
// checks and bays is not kept here; package overview sets it beside them.
package planning

import (
	"cmp"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/near"
	"orpine/internal/core/plan"
	"orpine/internal/core/say"
	"orpine/internal/core/spoken"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Planning is the order of work of a workshop.
type Planning struct{ ledger *ledger.Ledger }

// New returns it.
func New(l *ledger.Ledger) *Planning { return &Planning{l} }

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "planning",
	Tables: ledger.Records("plan_steps", "plan_weeks", "plan_aways", "plan_visits", "work_sessions", "plan_orders", "plan_money", "plan_stages"),
	Kinds:  ledger.Kinds(stepAdded, stepMoved, weekSet, awaySet, visitAdded, workStarted, workStopped, orderAdded, orderMoved, orderCame, orderTold, moneySet, stageAdded, stagePaid, eveningTold, stepSplit, elseDone, hoursIn, usualLaid, planBrought),
}

// Categories are what hours are told by.
var Categories = []string{"build", "rework", "research", "preparing", "waiting", "paperwork", "project"}

// Days are the days of a week, as they are shown.
var Days = []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}

// Step is a step that was added by hand.
type Step struct {
	ID, Name, Kind, AssemblyID string
	Hours                      Hours
	People                     int
	Whole                      bool
	Cure                       float64 // hours
	After, Needs               []string
	Before                     []string // ids of steps after which it is impossible
	Bring                      string   // tools and light
	State                      string
	Done                       time.Time // zero while it is not
	Revised                    int64
	Ties                       []string // ids of the holds whose joints it makes permanent
	Untied                     string   // who said that it makes nothing permanent
}

// Hours are low, likely and high, of the clock.
type Hours struct {
	Low    float64 `json:"low"`
	Likely float64 `json:"likely"`
	High   float64 `json:"high"`
}

// NewStep is a step as it is typed in one line.
type NewStep struct {
	ledger.Form
	Airframe string       `json:"airframe" form:"-"` // id
	Line     string       `json:"line" form:"line"`
	Assembly string       `json:"assembly,omitempty" form:"assembly"` // id
	Kind     string       `json:"kind,omitempty" form:"kind"`
	Others   []plan.Named `json:"-" form:"-"` // that it may come after, besides those added by hand
	// Comes are what each step comes after, by its id, so that none comes after itself.
	Comes map[string][]string `json:"-" form:"-"`
}

// circle tells whether a step that comes after some and before others would come after itself.
func (n NewStep) circle(after, before []string) bool {
	seen := map[string]bool{}
	var from func(id string) bool
	from = func(id string) bool {
		if slices.Contains(before, id) {
			return true
		}
		if seen[id] {
			return false
		}
		seen[id] = true
		return slices.ContainsFunc(n.Comes[id], from)
	}
	return slices.ContainsFunc(after, from)
}

// laid is a step as it was understood.
type laid struct {
	Title    string          `json:"title"`
	Name     string          `json:"name"`
	Hours    json.RawMessage `json:"hours"`
	People   int64           `json:"people"`
	Whole    int64           `json:"whole"`
	Cure     float64         `json:"cure"`
	After    json.RawMessage `json:"after"`
	Needs    json.RawMessage `json:"needs,omitempty"`
	Before   json.RawMessage `json:"before,omitempty"`
	Bring    string          `json:"bring,omitempty"`
	Assembly string          `json:"assembly,omitempty"` // id, where the request does not name it
	Kind     string          `json:"kind,omitempty"`
	Ties     json.RawMessage `json:"ties,omitempty"` // ids of holds, where it was put right
}

// add writes the row of a step.
func (f laid) add(ctx context.Context, q *query.Queries, id, airframe string, e ledger.Entry, state, doneAt string) error {
	list := func(text json.RawMessage) string {
		if text == nil {
			return "[]"
		}
		return string(text)
	}
	return q.AddPlanStep(ctx, query.AddPlanStepParams{ID: id, AirframeID: airframe, Name: f.Name, AssemblyID: gate.Reference(f.Assembly), Kind: f.Kind, Hours: string(f.Hours), People: f.People, Whole: f.Whole, Cure: f.Cure,
		After: list(f.After), Needs: list(f.Needs), Before: list(f.Before), Bring: f.Bring, State: state, DoneAt: doneAt, Entry: e.Seq, Revised: e.Seq})
}

// lists writes lists of ids as they are kept.
func (f *laid) lists(after, needs, before []string) (err error) {
	for _, one := range []struct {
		into *json.RawMessage
		list []string
	}{{&f.After, after}, {&f.Needs, needs}, {&f.Before, before}} {
		if *one.into, err = json.Marshal(append([]string{}, one.list...)); err != nil {
			return err
		}
	}
	return nil
}

var stepAdded = &ledger.Kind[NewStep, laid]{
	Name: "plan-step", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewStep, f laid) error {
		f.Assembly, f.Kind = n.Assembly, n.Kind
		return f.add(ctx, q, e.ID, n.Airframe, e, plan.Open, "")
	},
	Words: func(n NewStep, f laid) ledger.Words {
		return ledger.Words{What: "step added: " + f.Title, Detail: n.Line}
	},
}

// AddStep adds a step. Problems are at "line" and "assembly".
func (p *Planning) AddStep(ctx context.Context, n NewStep) error {
	wrong := ledger.Problems{}
	wrong.Text("line", &n.Line, ledger.MaxNote, "what is to be done? As in: rivet left skin, 6 h, two people, after dimple")
	wrong.Text("kind", &n.Kind, ledger.MaxName, "")
	_, err := ledger.Do(ctx, p.ledger, stepAdded, n.Form, n, func(q *query.Queries) (f laid, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		frame, err := q.Airframe(ctx, n.Airframe)
		if err != nil {
			return f, ledger.Found(err)
		}
		if n.Assembly != "" {
			if of, _, err := airframe.Of(ctx, q, n.Assembly); err != nil || of.ID != n.Airframe {
				wrong.Add("assembly", "choose an assembly of this aircraft")
			}
		}
		line, err := p.line(ctx, q, n.Airframe, n.Line, n.Others)
		if err != nil {
			wrong.Add("line", err.Error())
		}
		if n.circle(line.After, line.Before) {
			wrong.Add("line", "it would come after itself: what it comes after comes after what it comes before")
		}
		if f, err = lay(line); err != nil {
			return f, err
		}
		f.Title = frame.Name + ": " + line.Name
		return f, wrong.Err()
	})
	return err
}

// line reads a step as it is typed in one line; others are steps that it may name, besides those
// that were added by hand.
func (p *Planning) line(ctx context.Context, q *query.Queries, airframe, text string, others []plan.Named) (plan.Line, error) {
	own, err := Steps(ctx, q, airframe, p.ledger.When)
	if err != nil {
		return plan.Line{}, err
	}
	names := slices.Clone(others)
	for _, s := range own {
		names = append(names, plan.Named{ID: s.ID, Name: s.Name})
	}
	ordered, err := Orders(ctx, q, airframe)
	if err != nil {
		return plan.Line{}, err
	}
	var orders []plan.Named
	for _, o := range ordered {
		orders = append(orders, plan.Named{ID: o.ID, Name: o.Name})
	}
	line, err := plan.ParseLine(text, names, orders)
	if err == nil && len([]rune(line.Name)) > ledger.MaxName {
		err = fmt.Errorf("its name is longer than %d letters", ledger.MaxName)
	}
	return line, err
}

// lay is a line as it is kept.
func lay(line plan.Line) (f laid, err error) {
	f = laid{Name: line.Name, People: int64(line.People), Cure: line.Cure, Bring: line.Bring}
	if line.Whole {
		f.Whole = 1
	}
	if f.Hours, err = json.Marshal(Hours{line.Low, line.Likely, line.High}); err != nil {
		return f, err
	}
	return f, f.lists(line.After, line.Needs, line.Before)
}

// Steps are those of an airframe that were added by hand, in their order.
func Steps(ctx context.Context, q *query.Queries, airframe string, when func(string) time.Time) ([]Step, error) {
	rows, err := q.PlanSteps(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the steps: %w", err)
	}
	out := make([]Step, len(rows))
	for i, r := range rows {
		out[i] = Step{ID: r.ID, Name: r.Name, Kind: r.Kind, AssemblyID: r.AssemblyID.String, People: int(r.People), Whole: r.Whole == 1, Cure: r.Cure, Bring: r.Bring, State: r.State, Revised: r.Revised, Untied: r.Untied}
		if r.DoneAt != "" {
			out[i].Done = when(r.DoneAt)
		}
		if err := errors.Join(json.Unmarshal([]byte(r.Hours), &out[i].Hours), json.Unmarshal([]byte(r.After), &out[i].After), json.Unmarshal([]byte(r.Needs), &out[i].Needs), json.Unmarshal([]byte(r.Before), &out[i].Before), json.Unmarshal([]byte(r.TiedTo), &out[i].Ties)); err != nil {
			return nil, fmt.Errorf("reading the step %s: %w", r.Name, err)
		}
	}
	return out, nil
}

// StepMoved says how far a step is.
type StepMoved struct {
	ledger.Form
	Step  string   `json:"step" form:"step"` // id
	Seen  string   `json:"seen,omitempty" form:"seen"`
	State string   `json:"state" form:"state"`
	Ties  []string `json:"ties,omitempty" form:"ties"` // ids of the holds whose joints it makes permanent, or Untied
	By    string   `json:"by,omitempty" form:"by"`
	On    string   `json:"on,omitempty" form:"on"` // the day on which it was done, where that was before
}

// Untied is the answer that a step makes nothing permanent.
const Untied = "none"

// named is a step by its name.
type named struct {
	Name string `json:"name"`
}

// moved is how far a step is, as it was judged.
type moved struct {
	Name   string          `json:"name"`
	Held   string          `json:"held,omitempty"` // of a step that is begun: what is still held
	Ties   json.RawMessage `json:"ties,omitempty"` // where they were said with it
	Untied string          `json:"untied,omitempty"`
	At     string          `json:"at,omitempty"` // when it was done, where that was a day before
}

var stepMoved = &ledger.Kind[StepMoved, moved]{
	Name: "plan-step-state", Version: 1, Bears: ledger.Permanent, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n StepMoved, f moved) error {
		done := ""
		if n.State == plan.Done {
			done = cmp.Or(f.At, e.At)
		}
		if f.Ties != nil {
			if err := q.TiePlanStep(ctx, query.TiePlanStepParams{TiedTo: string(f.Ties), Untied: f.Untied, Revised: e.Seq, ID: n.Step}); err != nil {
				return err
			}
		}
		return q.SetPlanStepState(ctx, query.SetPlanStepStateParams{State: n.State, DoneAt: done, Revised: e.Seq, ID: n.Step})
	},
	Makes: func(_ string, n StepMoved, f moved) []ledger.Made {
		m := ledger.Made{Step: n.Step, State: n.State}
		if f.Ties != nil {
			m.Ties = string(f.Ties)
		}
		return []ledger.Made{m}
	},
	Words: func(n StepMoved, f moved) ledger.Words {
		return ledger.Words{What: "Step " + n.State + ": " + f.Name, Detail: say.After("still held: ", f.Held)}
	},
}

// MoveStep says how far a step is: open again, begun or done. It names what the sheet showed. A
// step behind what is not done, frozen by a question, or waiting for a part is neither begun nor
// done; one that is tied to holds is done when their steps are. Problems are at "" and, where nobody
// has said yet whether it makes something permanent, at "ties".
func (p *Planning) MoveStep(ctx context.Context, n StepMoved) error {
	wrong := ledger.Problems{}
	wrong.Text("by", &n.By, ledger.MaxName, "")
	if n.State != plan.Open && n.State != plan.Begun && n.State != plan.Done {
		wrong.Add("", "open, begun or done?")
	}
	_, err := ledger.Do(ctx, p.ledger, stepMoved, n.Form, n, func(q *query.Queries) (f moved, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		s, err := stepThere(ctx, q, n.Step)
		switch {
		case err != nil:
			return f, err
		case n.Seen != "" && n.Seen != s.State:
			return f, ledger.Moved("the step "+n.Seen, s.State)
		}
		f.Name = s.Name
		if n.State == plan.Open {
			return f, nil
		}
		if f.At, err = p.day(n.On); err != nil {
			return f, err
		}
		when := p.ledger.Now()
		if f.At != "" {
			when = p.ledger.When(f.At)
		}
		if err := p.ready(ctx, q, s, when); err != nil {
			return f, err
		}
		tied, err := n.tied(ctx, q, s, &f)
		if err != nil || n.State == plan.Done {
			return f, err
		}
		var held []string
		for _, h := range tied {
			if !h.Open() {
				held = append(held, h.Name)
			}
		}
		f.Held = strings.Join(held, ", ")
		return f, nil
	})
	return err
}

// day reads the day on which something was done: its evening; "" for now.
func (p *Planning) day(text string) (string, error) {
	if text = strings.TrimSpace(text); text == "" {
		return "", nil
	}
	now := p.ledger.Now()
	day, err := spoken.Day(text, now)
	if err != nil {
		return "", ledger.Problems{"on": "on which day, as in 2026-04-30? Not after today"}
	}
	at, err := time.ParseInLocation(time.DateOnly, day, now.Location())
	if at = at.Add(22 * time.Hour); err != nil || at.Add(-22*time.Hour).After(now) {
		return "", ledger.Problems{"on": "on which day, as in 2026-04-30? Not after today"}
	}
	return ledger.Kept(at), nil
}

// tied finds the holds that a step is tied to, and keeps what was said with it. One that nobody
// tied, on an assembly that has holds, is asked once when it is done.
func (n StepMoved) tied(ctx context.Context, q *query.Queries, s query.PlanStep, f *moved) (tied []gate.Hold, err error) {
	var ids []string
	if err := json.Unmarshal([]byte(s.TiedTo), &ids); err != nil {
		return nil, fmt.Errorf("reading the step %s: %w", s.Name, err)
	}
	holds, err := gate.All(q.Holds(ctx, s.AirframeID))
	if err != nil {
		return nil, err
	}
	if len(n.Ties) > 0 && len(ids) == 0 && s.Untied == "" { // else it was said, and only putting it right says otherwise
		ids, f.Untied = []string{}, ""
		for _, id := range n.Ties {
			switch {
			case id == Untied:
				f.Untied = cmp.Or(n.By, "said so")
			case !slices.ContainsFunc(holds, func(h gate.Hold) bool { return h.ID == id }):
				return nil, ledger.Problems{"ties": "choose holds of this aircraft, or that it makes nothing permanent"}
			default:
				ids = append(ids, id)
			}
		}
		if f.Untied != "" && len(ids) > 0 {
			return nil, ledger.Problems{"ties": "it makes these permanent, or nothing: which?"}
		}
		if f.Ties, err = json.Marshal(ids); err != nil {
			return nil, err
		}
	}
	for _, h := range holds {
		if slices.Contains(ids, h.ID) {
			tied = append(tied, h)
		}
	}
	if len(ids) > 0 || f.Untied != "" || s.Untied != "" || n.State != plan.Done {
		return tied, nil
	}
	var names []string
	for _, h := range holds {
		if h.AssemblyID == s.AssemblyID.String && !h.Done {
			names = append(names, "“"+h.Name+"”")
		}
	}
	if len(names) > 0 {
		return nil, ledger.Problems{"ties": fmt.Sprintf("does “%s” make something permanent that is held here (%s), or nothing? It is asked once", s.Name, say.And(names...))}
	}
	return tied, nil
}

// ready refuses a step that is frozen by a question, waits for a part, or comes after what is not
// done or has not cured by then.
func (p *Planning) ready(ctx context.Context, q *query.Queries, s query.PlanStep, at time.Time) error {
	frozen, err := gate.FrozenBy(ctx, q, s.ID)
	if err != nil {
		return err
	}
	if len(frozen) > 0 {
		return ledger.Problems{"": s.Name + " " + frozen[0].Says()}
	}
	var after, needs []string
	if err := errors.Join(json.Unmarshal([]byte(s.After), &after), json.Unmarshal([]byte(s.Needs), &needs)); err != nil {
		return fmt.Errorf("reading the step %s: %w", s.Name, err)
	}
	for _, id := range needs {
		o, err := q.PlanOrder(ctx, id)
		switch {
		case errors.Is(err, sql.ErrNoRows) || err == nil && (o.Withdrawn != "" || o.Arrived != ""):
		case err != nil:
			return fmt.Errorf("reading an order: %w", err)
		default:
			return ledger.Problems{"": fmt.Sprintf("%s waits for the order %s, which has not arrived", s.Name, o.Name)}
		}
	}
	for _, id := range after {
		says, err := p.before(ctx, q, id, at)
		if err != nil {
			return err
		}
		if says != "" {
			return ledger.Problems{"": s.Name + " comes after " + says}
		}
	}
	return nil
}

// before says of what comes before a step why it is not done, "" where it is, or is gone.
func (p *Planning) before(ctx context.Context, q *query.Queries, id string, at time.Time) (string, error) {
	sort, of, other := strings.Cut(id, ":")
	switch {
	case other && sort == "hold":
		h, err := q.Hold(ctx, of)
		if err != nil || h.Done == 1 || h.Withdrawn != "" {
			return "", ignoreGone(err)
		}
		return "“" + h.Name + "”, which is not done", nil
	case other && sort == "row":
		rows, err := q.RowsByID(ctx, []string{of})
		if err != nil || len(rows) == 0 || rows[0].Withdrawn != "" {
			return "", err
		}
		var how struct{ Missed string }
		if rows[0].Says.Valid && json.Unmarshal([]byte(rows[0].Says.String), &how) == nil && how.Missed != "" {
			return rows[0].Name + ", of which hole " + how.Missed + " is not done", nil
		}
		return "", nil
	case other && sort == "task":
		t, err := q.Task(ctx, of)
		if err != nil || t.DoneBy != "" {
			return "", ignoreGone(err)
		}
		return t.What + ", which is not done", nil
	case other:
		return "", nil // a check is measured as often as is wanted
	}
	s, err := q.PlanStep(ctx, id)
	if err != nil || s.Withdrawn != "" {
		return "", ignoreGone(err)
	}
	if s.State != plan.Done {
		return s.Name + ", which is not done", nil
	}
	clock, err := q.LastClockOfStep(ctx, id)
	if err == nil {
		return fmt.Sprintf("%s, of which %s has not cured", s.Name, clock.What), nil
	}
	if err := ignoreGone(err); err != nil {
		return "", err
	}
	if ready := p.ledger.When(s.DoneAt).Add(time.Duration(s.Cure * float64(time.Hour))); s.Cure > 0 && ready.After(at) {
		return s.Name + ", which cures until " + ready.Format("2 January 15:04"), nil
	}
	return "", nil
}

// ignoreGone is the error, unless it says that there is no such thing.
func ignoreGone(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	return err
}

// stepThere is a step that was not withdrawn.
func stepThere(ctx context.Context, q *query.Queries, id string) (query.PlanStep, error) {
	s, err := q.PlanStep(ctx, id)
	if err == nil && s.Withdrawn != "" {
		err = ledger.ErrNotFound
	}
	return s, ledger.Found(err)
}

// WeekSet is the builder's own evenings: by day, when they begin and how long they are.
type WeekSet struct {
	ledger.Form
	Airframe string            `json:"airframe" form:"-"` // id
	From     map[string]string `json:"from" form:"-"`     // "19:00", by day; "" for none
	Long     map[string]string `json:"long" form:"-"`     // "2 h"
}

// week is the evenings as they were understood, in minutes, by the day's name.
type week struct {
	Name string          `json:"name"`
	Days json.RawMessage `json:"days"`
}

var weekSet = &ledger.Kind[WeekSet, week]{
	Name: "plan-week", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n WeekSet, f week) error {
		return q.SetPlanWeek(ctx, query.SetPlanWeekParams{AirframeID: n.Airframe, Days: string(f.Days), Entry: e.Seq})
	},
	Words: func(_ WeekSet, f week) ledger.Words {
		return ledger.Words{What: "evenings: " + f.Name, Detail: string(f.Days)}
	},
}

// SetWeek says when the builder works. Problems are at the day.
func (p *Planning) SetWeek(ctx context.Context, n WeekSet) error {
	wrong, days := ledger.Problems{}, map[string]plan.Stretch{}
	for _, day := range Days {
		from, long := strings.TrimSpace(n.From[day]), strings.TrimSpace(n.Long[day])
		if from == "" && long == "" {
			continue
		}
		at, err := time.Parse("15:04", clock(from))
		if err != nil {
			wrong.Add(day, "from when, as in 19:00 or 7pm?")
			continue
		}
		minutes, err := spoken.Minutes(bareHours(long))
		s := plan.Stretch{From: at.Hour()*60 + at.Minute(), Minutes: minutes}
		switch {
		case err != nil || minutes == 0:
			wrong.Add(day, "how long: 2 h, 1:30?")
		case s.From+minutes > 1440:
			wrong.Add(day, "goes on after midnight")
		}
		days[day] = s
	}
	_, err := ledger.Do(ctx, p.ledger, weekSet, n.Form, n, func(q *query.Queries) (f week, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		frame, err := q.Airframe(ctx, n.Airframe)
		if err != nil {
			return f, ledger.Found(err)
		}
		f.Name = frame.Name
		f.Days, err = json.Marshal(days)
		return f, err
	})
	return err
}

// bareHours adds the unit to a bare number: an evening is told in hours.
func bareHours(text string) string {
	if _, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64); err == nil {
		return text + " h"
	}
	return text
}

// Week is the builder's evenings at an airframe, by the day's name.
func Week(ctx context.Context, q *query.Queries, airframe string) (map[string]plan.Stretch, error) {
	days := map[string]plan.Stretch{}
	text, err := q.PlanWeek(ctx, airframe)
	if errors.Is(err, sql.ErrNoRows) {
		return days, nil
	}
	if err == nil {
		err = json.Unmarshal([]byte(text), &days)
	}
	if err != nil {
		return nil, fmt.Errorf("reading the evenings: %w", err)
	}
	return days, nil
}

// Visit is people in the shop.
type Visit struct {
	ID, Who string
	From    string // wall time
	Hours   float64
	People  int
}

// NewVisit is a visit as it is typed.
type NewVisit struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"`
	Date     string `json:"date" form:"date"`
	From     string `json:"from" form:"from"`
	Long     string `json:"long" form:"long"`
	People   string `json:"people" form:"people"`
	Who      string `json:"who" form:"who"`
}

// come is a visit as it was understood.
type come struct {
	Wall   string  `json:"wall"`
	Hours  float64 `json:"hours"`
	People int64   `json:"people"`
}

var visitAdded = &ledger.Kind[NewVisit, come]{
	Name: "plan-visit", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewVisit, f come) error {
		return q.AddPlanVisit(ctx, query.AddPlanVisitParams{ID: e.ID, AirframeID: n.Airframe, FromWall: f.Wall, Hours: f.Hours, People: f.People, Who: n.Who, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n NewVisit, f come) ledger.Words {
		return ledger.Words{What: "visit added: " + n.Who, Detail: say.Join(strings.Replace(f.Wall, "T", " ", 1), fmt.Sprintf("%d people", f.People))}
	},
}

// read reads a visit as it is typed; now is in the workshop's zone.
func (n *NewVisit) read(now time.Time, wrong ledger.Problems) come {
	wrong.Text("who", &n.Who, ledger.MaxName, "who comes?")
	f := come{People: 2}
	if n.People = strings.TrimSpace(n.People); n.People != "" {
		people, err := strconv.Atoi(n.People)
		if err != nil || people < 2 || people > 50 {
			wrong.Add("people", "how many are there in all, you included? 2 or more")
		}
		f.People = int64(people)
	}
	minutes, err := spoken.Minutes(bareHours(strings.TrimSpace(n.Long)))
	if err != nil || minutes == 0 || minutes > 24*60 {
		wrong.Add("long", "how long: 3 h, 2:30?")
	}
	f.Hours = float64(minutes) / 60
	day, _ := spoken.Day(n.Date, now)
	f.Wall = day + "T" + clock(n.From)
	if _, err := plan.ClockIn(now.Location()).Parse(f.Wall); err != nil {
		if day == "" {
			wrong.Add("date", "on which day, as in 2026-11-28 or 28 Nov?")
		} else {
			wrong.Add("from", "from when, as in 09:00? It must be a time that there is on that day")
		}
	}
	return f
}

// AddVisit adds a visit. Problems are by field.
func (p *Planning) AddVisit(ctx context.Context, n NewVisit) error {
	wrong := ledger.Problems{}
	f := n.read(p.ledger.Now(), wrong)
	_, err := ledger.Do(ctx, p.ledger, visitAdded, n.Form, n, func(q *query.Queries) (come, error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		_, err := q.Airframe(ctx, n.Airframe)
		return f, ledger.Found(err)
	})
	return err
}

// Visits are those of an airframe, in order of time.
func Visits(ctx context.Context, q *query.Queries, airframe string) ([]Visit, error) {
	rows, err := q.PlanVisits(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the visits: %w", err)
	}
	out := make([]Visit, len(rows))
	for i, r := range rows {
		out[i] = Visit{r.ID, r.Who, r.FromWall, r.Hours, int(r.People)}
	}
	return out, nil
}

// Session is time that someone worked.
type Session struct {
	ID, Who, Category, Step, AssemblyID string
	From, To                            time.Time // To is zero while it runs
}

// Running tells whether it runs.
func (s Session) Running() bool { return s.To.IsZero() }

// Hours is how long it was, up to now where it runs.
func (s Session) Hours(now time.Time) float64 {
	to := s.To
	if to.IsZero() {
		to = now
	}
	return math.Round(to.Sub(s.From).Hours()*100) / 100
}

// WorkStarted is work that begins now, or that was done and is written down afterwards.
type WorkStarted struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"`
	Who      string `json:"who" form:"who"`
	Category string `json:"category" form:"category"`
	Step     string `json:"step,omitempty" form:"step"`
	Assembly string `json:"assembly,omitempty" form:"assembly"`
	Date     string `json:"date,omitempty" form:"date"` // afterwards: on which day,
	From     string `json:"from,omitempty" form:"from"` // from when
	To       string `json:"to,omitempty" form:"to"`     // and until when; before From it is the next day
	Sure     string `json:"sure,omitempty" form:"sure"` // it is so, however long
}

// timed is work as it was understood; empty times are those of the entry.
type timed struct {
	Title string `json:"title"`
	From  string `json:"from,omitempty"`
	To    string `json:"to,omitempty"`
}

var workStarted = &ledger.Kind[WorkStarted, timed]{
	Name: "work", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n WorkStarted, f timed) error {
		from := f.From
		if from == "" {
			from = e.At
		}
		return q.AddWorkSession(ctx, query.AddWorkSessionParams{ID: e.ID, AirframeID: n.Airframe, Who: n.Who, Category: n.Category, StepID: n.Step, AssemblyID: gate.Reference(n.Assembly), FromAt: from, ToAt: f.To, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n WorkStarted, f timed) ledger.Words {
		what := "Work began: "
		if f.To != "" {
			what = "Work written down: "
		}
		return ledger.Words{What: what + f.Title, Detail: say.Join(n.Who, n.Category)}
	},
}

// StartWork begins a session, or writes one down afterwards. Problems are by field.
func (p *Planning) StartWork(ctx context.Context, n WorkStarted) error {
	wrong := ledger.Problems{}
	wrong.Text("who", &n.Who, ledger.MaxName, "who works?")
	wrong.Text("step", &n.Step, ledger.MaxNote, "")
	if !slices.Contains(Categories, n.Category) {
		wrong.Add("category", "which kind of work? Choose one of the list")
	}
	f := timed{}
	if strings.TrimSpace(n.Date+n.From+n.To) != "" {
		f = n.afterwards(p.ledger.Now(), wrong)
	}
	_, err := ledger.Do(ctx, p.ledger, workStarted, n.Form, n, func(q *query.Queries) (timed, error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		frame, err := q.Airframe(ctx, n.Airframe)
		if err != nil {
			return f, ledger.Found(err)
		}
		f.Title = frame.Name
		if n.Assembly != "" {
			of, a, err := airframe.Of(ctx, q, n.Assembly)
			if err != nil || of.ID != n.Airframe {
				return f, ledger.Problems{"assembly": "choose an assembly of this aircraft"}
			}
			f.Title = a.Name
		}
		if f.To != "" {
			return f, nil
		}
		rows, err := q.WorkSessions(ctx, n.Airframe)
		for _, r := range rows {
			if r.Who == n.Who && r.ToAt == "" {
				return f, ledger.Problems{"who": n.Who + " is at work already: stop that first"}
			}
		}
		return f, err
	})
	return err
}

// clock is a time of the day as it is read on, or what was typed where it is none.
func clock(text string) string {
	if at, err := spoken.Clock(text); err == nil {
		return at
	}
	return strings.TrimSpace(text)
}

// afterwards reads when a session was, on the wall clock: over midnight, and over a change of
// the clocks, it lasts as long as it did on the true time line.
func (n WorkStarted) afterwards(now time.Time, wrong ledger.Problems) (f timed) {
	c := plan.ClockIn(now.Location())
	on, err := spoken.Day(n.Date, now)
	if err != nil {
		wrong.Add("date", "on which day, as in 2026-11-24 or yesterday?")
		return f
	}
	day, _ := time.Parse(time.DateOnly, on)
	from, errFrom := c.Parse(on + "T" + clock(n.From))
	if errFrom != nil {
		wrong.Add("from", "from when, as in 19:00? It must be a time that there was on that day")
	}
	to, errTo := c.Parse(on + "T" + clock(n.To))
	if errTo == nil && errFrom == nil && to <= from {
		to, errTo = c.Parse(day.AddDate(0, 0, 1).Format(time.DateOnly) + "T" + clock(n.To))
	}
	switch {
	case errTo != nil:
		wrong.Add("to", "until when, as in 21:10?")
	case errFrom == nil && to > plan.Minute(now):
		wrong.Add("to", "is after now")
	case errFrom == nil && near.Hours(float64(to-from)/60) && n.Sure == "":
		wrong.Add("to", fmt.Sprintf("%.0f hours at one go: is that so?", float64(to-from)/60))
	}
	f.From, f.To = ledger.Kept(c.Time(from)), ledger.Kept(c.Time(to))
	return f
}

// WorkStopped ends a session that runs.
type WorkStopped struct {
	ledger.Form
	Session string `json:"session" form:"session"` // id
	To      string `json:"to,omitempty" form:"to"` // when it ended in truth, as asked of one that ran too long
}

// mostRunning is how long a session may run before it is asked when it ended in truth.
const mostRunning = 14 * time.Hour

var workStopped = &ledger.Kind[WorkStopped, timed]{
	Name: "work-stopped", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n WorkStopped, f timed) error {
		to := f.To
		if to == "" {
			to = e.At
		}
		return q.StopWorkSession(ctx, query.StopWorkSessionParams{ToAt: to, Revised: e.Seq, ID: n.Session})
	},
	Words: func(_ WorkStopped, f timed) ledger.Words { return ledger.Words{What: "Work ended: " + f.Title} },
}

// StopWork ends a session. One that ran for longer than anybody works is asked at "to" when it
// ended in truth.
func (p *Planning) StopWork(ctx context.Context, n WorkStopped) error {
	_, err := ledger.Do(ctx, p.ledger, workStopped, n.Form, n, func(q *query.Queries) (f timed, err error) {
		s, err := q.WorkSession(ctx, n.Session)
		if err != nil {
			return f, ledger.Found(err)
		}
		f.Title = s.Who
		from, now := p.ledger.When(s.FromAt), p.ledger.Now()
		switch {
		case s.Withdrawn != "":
			return f, ledger.ErrNotFound
		case s.ToAt != "":
			return f, ledger.Moved("the work running", "ended")
		case n.To != "":
			minute, err := plan.ClockIn(now.Location()).Parse(strings.TrimSpace(n.To))
			if err != nil {
				return f, ledger.Problems{"to": err.Error()}
			}
			to := time.Unix(minute*60, 0)
			if !to.After(from) || to.After(now) {
				return f, ledger.Problems{"to": "between " + from.Format("2006-01-02T15:04") + " and now"}
			}
			f.To = ledger.Kept(to)
		case now.Sub(from) > mostRunning:
			return f, ledger.Problems{"to": "it has run since " + from.Format("Monday 2 January 15:04") + ": when did it end in truth?"}
		}
		return f, nil
	})
	return err
}

// Sessions are those of an airframe, in order of time.
func Sessions(ctx context.Context, q *query.Queries, airframe string, when func(string) time.Time) ([]Session, error) {
	rows, err := q.WorkSessions(ctx, airframe)
	if err != nil {
		return nil, fmt.Errorf("reading the hours: %w", err)
	}
	out := make([]Session, len(rows))
	for i, r := range rows {
		out[i] = Session{ID: r.ID, Who: r.Who, Category: r.Category, Step: r.StepID, AssemblyID: r.AssemblyID.String, From: when(r.FromAt)}
		if r.ToAt != "" {
			out[i].To = when(r.ToAt)
		}
	}
	return out, nil
}
