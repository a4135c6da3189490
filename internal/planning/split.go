package planning

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/plan"
	"orpine/internal/core/say"
	"orpine/internal/exchange"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// StepSplit parts a step in two by one press.
type StepSplit struct {
	ledger.Form
	Step string `json:"step" form:"step"` // id
	Seen string `json:"seen,omitempty" form:"seen"`
}

// parted is a step that was split: what goes before, and what is left of it.
type parted struct {
	Airframe string          `json:"airframe"`
	Was      string          `json:"was"`
	First    laid            `json:"first"`
	State    string          `json:"state"`
	Rest     string          `json:"rest"` // its name
	Hours    json.RawMessage `json:"hours"`
	After    json.RawMessage `json:"after"`
	Worked   bool            `json:"worked,omitempty"` // what was worked belongs to the first part
}

var stepSplit = &ledger.Kind[StepSplit, parted]{
	Name: "plan-split", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n StepSplit, f parted) error {
		done := ""
		if f.State == plan.Done {
			done = e.At
		}
		if err := f.First.add(ctx, q, e.ID, f.Airframe, e, f.State, done); err != nil {
			return err
		}
		if f.Worked {
			if err := q.MoveWorkSessions(ctx, query.MoveWorkSessionsParams{Into: e.ID, Revised: e.Seq, Step: n.Step}); err != nil {
				return err
			}
		}
		return q.SplitPlanStep(ctx, query.SplitPlanStepParams{Name: f.Rest, Hours: string(f.Hours), After: string(f.After), Revised: e.Seq, ID: n.Step})
	},
	Words: func(_ StepSplit, f parted) ledger.Words {
		return ledger.Words{What: "Step split: " + f.Was, Detail: say.Join(f.First.Name, f.Rest)}
	},
}

// SplitStep parts a step in two: what comes after it still does. Where nobody worked on it yet
// each part has half of the hours; else the first part is what was worked, and is done.
func (p *Planning) SplitStep(ctx context.Context, n StepSplit) error {
	_, err := ledger.Do(ctx, p.ledger, stepSplit, n.Form, n, func(q *query.Queries) (f parted, err error) {
		s, err := stepThere(ctx, q, n.Step)
		switch {
		case err != nil:
			return f, err
		case n.Seen != "" && n.Seen != s.State:
			return f, ledger.Moved("the step "+n.Seen, s.State)
		case s.State == plan.Done:
			return f, ledger.Problems{"": s.Name + " is done: there is nothing left to part"}
		}
		sessions, err := Sessions(ctx, q, s.AirframeID, p.ledger.When)
		if err != nil {
			return f, err
		}
		worked := 0.0
		for _, one := range sessions {
			if one.Step != n.Step {
				continue
			}
			if one.Running() {
				return f, ledger.Problems{"": one.Who + " is at work on it: stop that first"}
			}
			worked += one.Hours(p.ledger.Now())
		}
		var h Hours
		if err := json.Unmarshal([]byte(s.Hours), &h); err != nil {
			return f, fmt.Errorf("reading the step %s: %w", s.Name, err)
		}
		f = parted{Airframe: s.AirframeID, Was: s.Name, State: s.State, Worked: worked > 0}
		f.First = laid{People: s.People, Whole: s.Whole, Kind: s.Kind, Assembly: s.AssemblyID.String, Bring: s.Bring, After: json.RawMessage(s.After), Needs: json.RawMessage(s.Needs)}
		stem, part := partOf(s.Name)
		f.First.Name, f.Rest = cut(stem, fmt.Sprintf(", part %d", part)), cut(stem, fmt.Sprintf(", part %d", part+1))
		first, rest := h.times(0.5), h.times(0.5)
		if worked > 0 {
			first, f.State = Hours{worked, worked, worked}, plan.Done
			rest = h.times(max(0.1, 1-worked/h.Likely))
		}
		if f.First.Hours, err = json.Marshal(first); err != nil {
			return f, err
		}
		if f.Hours, err = json.Marshal(rest); err != nil {
			return f, err
		}
		f.After, err = json.Marshal([]string{n.Form.ID})
		return f, err
	})
	return err
}

// times is hours by a factor, in whole minutes.
func (h Hours) times(by float64) Hours {
	minutes := func(v float64) float64 { return max(1, float64(int(v*by*60+0.5))) / 60 }
	return Hours{minutes(h.Low), minutes(h.Likely), minutes(h.High)}
}

// partOf is a name without its ", part 2", and the number.
func partOf(name string) (stem string, part int) {
	if stem, number, ok := strings.Cut(name, ", part "); ok {
		if n, err := strconv.Atoi(number); err == nil {
			return stem, n
		}
	}
	return name, 1
}

// cut is a name with an end, as long as a name may be.
func cut(name, end string) string {
	if runes := []rune(name); len(runes)+len(end) > ledger.MaxName {
		name = string(runes[:ledger.MaxName-len(end)])
	}
	return name + end
}

// ElseDone says that something else was done tonight than what was next.
type ElseDone struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"`
	Who      string `json:"who" form:"who"`
}

// instead is what becomes of the evening.
type instead struct {
	Title   string `json:"title"`
	Session string `json:"session,omitempty"` // id: it is no longer of its step
	From    string `json:"from,omitempty"`    // else a session is written down
	To      string `json:"to,omitempty"`
}

var elseDone = &ledger.Kind[ElseDone, instead]{
	Name: "work-else", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n ElseDone, f instead) error {
		if f.Session != "" {
			return q.DetachWorkSession(ctx, query.DetachWorkSessionParams{Category: elseIs, Revised: e.Seq, ID: f.Session})
		}
		return q.AddWorkSession(ctx, query.AddWorkSessionParams{ID: e.ID, AirframeID: n.Airframe, Who: n.Who, Category: elseIs, FromAt: f.From, ToAt: f.To, Entry: e.Seq, Revised: e.Seq})
	},
	Words: func(n ElseDone, f instead) ledger.Words {
		return ledger.Words{What: "Something else was done: " + f.Title, Detail: n.Who}
	},
}

// elseIs is the category of what was done instead.
const elseIs = "project"

// DoneElse says by one press that the evening went into something else: the last session of
// today is taken off its step, or the evening's stretch so far is written down without one.
func (p *Planning) DoneElse(ctx context.Context, n ElseDone) error {
	wrong := ledger.Problems{}
	wrong.Text("who", &n.Who, ledger.MaxName, "who works?")
	_, err := ledger.Do(ctx, p.ledger, elseDone, n.Form, n, func(q *query.Queries) (f instead, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		frame, err := q.Airframe(ctx, n.Airframe)
		if err != nil {
			return f, ledger.Found(err)
		}
		f.Title = frame.Name
		sessions, err := Sessions(ctx, q, n.Airframe, p.ledger.When)
		if err != nil {
			return f, err
		}
		now := p.ledger.Now()
		for _, s := range slices.Backward(sessions) {
			if s.Who == n.Who && s.From.Format(time.DateOnly) == now.Format(time.DateOnly) {
				f.Session = s.ID
				return f, nil
			}
		}
		week, err := Week(ctx, q, n.Airframe)
		if err != nil {
			return f, err
		}
		stretch := week[Days[(int(now.Weekday())+6)%7]]
		if stretch.Minutes == 0 {
			return f, ledger.Problems{"who": "today is none of your evenings: write the hours down below"}
		}
		c := plan.ClockIn(now.Location())
		from, err := c.Parse(fmt.Sprintf("%sT%02d:%02d", now.Format(time.DateOnly), stretch.From/60, stretch.From%60))
		if err != nil {
			return f, err
		}
		to := min(from+int64(stretch.Minutes), plan.Minute(now))
		if to <= from {
			return f, ledger.Problems{"who": fmt.Sprintf("tonight begins at %02d:%02d: say it then", stretch.From/60, stretch.From%60)}
		}
		f.From, f.To = ledger.Kept(c.Time(from)), ledger.Kept(c.Time(to))
		return f, nil
	})
	return err
}

// ByAssembly are the hours that were worked at each assembly of an airframe, by its id: no minute
// of a person counts twice, and hours at a step are hours at its assembly.
func ByAssembly(ctx context.Context, q *query.Queries, frame string, when func(string) time.Time, now time.Time) (map[string]float64, error) {
	steps, err := Steps(ctx, q, frame, when)
	if err != nil {
		return nil, err
	}
	sessions, err := Sessions(ctx, q, frame, when)
	if err != nil {
		return nil, err
	}
	p, at := plan.Plan{Zone: plan.ClockIn(now.Location()), Now: plan.Minute(now)}, map[string]int{}
	for i, s := range steps {
		at[s.ID] = i
		p.Steps = append(p.Steps, plan.Step{ID: s.ID, Assembly: s.AssemblyID, Low: 1, Likely: 1, High: 1, People: 1, State: plan.Open})
	}
	for _, s := range sessions {
		one := plan.Session{Who: s.Who, From: plan.Minute(s.From), To: p.Now, Category: s.Category, Step: -1, Assembly: s.AssemblyID}
		if !s.Running() {
			one.To = plan.Minute(s.To)
		}
		if i, ok := at[s.Step]; ok {
			one.Step = i
		}
		p.Sessions = append(p.Sessions, one)
	}
	return p.Hours().ByAssembly, nil
}

// HoursIn is an existing sheet of hours that comes in.
type HoursIn struct {
	ledger.Form
	Airframe string `json:"airframe" form:"-"`
	Who      string `json:"who" form:"who"` // whose they are, where a line does not say
	CSV      string `json:"csv" form:"csv" text:"lines"`
	Line     string `json:"line,omitempty" form:"line"` // in place of it, an evening as one says it: see spokenHours
}

// camein is hours as they were understood.
type camein struct {
	Title    string         `json:"title"`
	Sessions []sessionSaved `json:"sessions"`
	Skipped  int            `json:"skipped"` // that were there already
}

type sessionSaved struct {
	Who      string `json:"who"`
	Category string `json:"category"`
	Step     string `json:"step,omitempty"`
	Assembly string `json:"assembly,omitempty"`
	From     string `json:"from"`
	To       string `json:"to"`
}

var hoursIn = &ledger.Kind[HoursIn, camein]{
	Name: "work-in", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n HoursIn, f camein) error {
		for i, s := range f.Sessions {
			err := q.AddWorkSession(ctx, query.AddWorkSessionParams{ID: ledger.Child(e.ID, fmt.Sprint("line ", i)), AirframeID: n.Airframe, Who: s.Who, Category: s.Category, StepID: s.Step, AssemblyID: gate.Reference(s.Assembly), FromAt: s.From, ToAt: s.To, Entry: e.Seq, Revised: e.Seq})
			if err != nil {
				return err
			}
		}
		return nil
	},
	Words: func(_ HoursIn, f camein) ledger.Words {
		return ledger.Words{What: fmt.Sprintf("Hours brought in: %s, %s", f.Title, say.Plural(len(f.Sessions), "session", "sessions"))}
	},
}

// bringFrom is when a line that says only how long it was is taken to begin; further ones of the
// same person and day follow one another.
const bringFrom = 9 * 60

// BringHours brings an existing sheet of hours in: all of it, or nothing with every line that is
// wrong. Sessions that are there already are left out. Problems are at "csv", or "line", and "who".
func (p *Planning) BringHours(ctx context.Context, n HoursIn) error {
	wrong := ledger.Problems{}
	wrong.Text("who", &n.Who, ledger.MaxName, "whose hours are they, where a line does not say?")
	field, lines := "csv", []exchange.HoursLine(nil)
	if n.Line = strings.TrimSpace(n.Line); n.Line != "" {
		field = "line"
		wrong.Text("line", &n.Line, ledger.MaxNote, "")
	} else {
		var bad []string
		if lines, bad = exchange.ReadHours(n.CSV); len(bad) > 0 {
			wrong.Add("csv", strings.Join(bad[:min(len(bad), 8)], "; "))
		}
	}
	_, err := ledger.Do(ctx, p.ledger, hoursIn, n.Form, n, func(q *query.Queries) (f camein, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		frame, err := q.Airframe(ctx, n.Airframe)
		if err != nil {
			return f, ledger.Found(err)
		}
		f.Title = frame.Name
		r := &bringing{now: p.ledger.Now(), who: n.Who, next: map[string]int{}, steps: map[string]string{}, assemblies: map[string]string{}}
		assemblies, err := airframe.Assemblies(ctx, q, n.Airframe)
		if err != nil {
			return f, err
		}
		for _, a := range assemblies {
			r.assemblies[strings.ToLower(a.Name)] = a.ID
		}
		steps, err := Steps(ctx, q, n.Airframe, p.ledger.When)
		if err != nil {
			return f, err
		}
		for _, s := range steps {
			r.steps[strings.ToLower(s.Name)] = s.ID
		}
		if field == "line" {
			problem := ""
			if lines, problem = r.spokenHours(n.Line, n.Who); problem != "" {
				return f, ledger.Problems{field: problem}
			}
		}
		there, err := Sessions(ctx, q, n.Airframe, p.ledger.When)
		if err != nil {
			return f, err
		}
		known := map[[3]string]bool{}
		for _, s := range there {
			known[[3]string{s.Who, ledger.Kept(s.From), ledger.Kept(s.To)}] = true
		}
		var bad []string
		for _, l := range lines {
			s, err := r.session(l)
			key := [3]string{s.Who, s.From, s.To}
			switch {
			case err != nil:
				says := fmt.Sprintf("line %d: %v", l.Line, err)
				if field == "line" {
					says = err.Error()
				}
				bad = append(bad, says)
			case known[key]:
				f.Skipped++
			default:
				known[key] = true
				f.Sessions = append(f.Sessions, s)
			}
		}
		if len(bad) > 0 {
			return f, ledger.Problems{field: strings.Join(slices.Compact(bad)[:min(len(slices.Compact(bad)), 8)], "; ")}
		}
		if len(f.Sessions) == 0 {
			return f, ledger.Problems{field: "all of it is here already"}
		}
		return f, nil
	})
	return err
}

// bringing turns lines into sessions.
type bringing struct {
	now               time.Time
	who               string
	next              map[string]int // minute of the day, by person and day
	steps, assemblies map[string]string
}

func (r *bringing) session(l exchange.HoursLine) (s sessionSaved, err error) {
	s = sessionSaved{Who: l.Who, Category: l.Category, Assembly: r.assemblies[strings.ToLower(l.Assembly)], Step: r.steps[strings.ToLower(l.Step)]}
	if s.Who == "" {
		s.Who = r.who
	}
	if s.Category == "" {
		s.Category = Categories[0]
	}
	switch {
	case !ledger.Plain(s.Who):
		return s, fmt.Errorf("its name holds a control character")
	case len([]rune(s.Who)) > ledger.MaxName:
		return s, fmt.Errorf("its name is longer than %d letters", ledger.MaxName)
	case !slices.Contains(Categories, s.Category):
		return s, fmt.Errorf("its category is %q; known are %s", s.Category, strings.Join(Categories, ", "))
	case l.Assembly != "" && s.Assembly == "":
		return s, fmt.Errorf("there is no assembly %q here", l.Assembly)
	case l.Step != "" && s.Step == "":
		return s, fmt.Errorf("there is no step %q here: add it first, or leave the column empty", l.Step)
	}
	w := WorkStarted{Date: l.Day, From: l.From, To: l.To}
	if l.To == "" {
		key := s.Who + l.Day
		from := max(bringFrom, r.next[key])
		if l.From != "" {
			at, _ := time.Parse("15:04", l.From)
			from = at.Hour()*60 + at.Minute()
		}
		to := from + l.Minutes
		r.next[key] = to
		if from >= 1440 || to-from >= 1440 {
			return s, fmt.Errorf("the hours of %s on that day do not fit into it", s.Who)
		}
		w.From, w.To = fmt.Sprintf("%02d:%02d", from/60, from%60), fmt.Sprintf("%02d:%02d", to%1440/60, to%60)
	}
	wrong := ledger.Problems{}
	f := w.afterwards(r.now, wrong)
	for _, field := range []string{"date", "from", "to"} {
		if wrong[field] != "" {
			return s, fmt.Errorf("%s: %s", field, wrong[field])
		}
	}
	s.From, s.To = f.From, f.To
	return s, nil
}
