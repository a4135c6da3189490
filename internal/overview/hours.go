package overview

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/asking"
	"orpine/internal/coating"
	"orpine/internal/core/plan"
	"orpine/internal/core/row"
	"orpine/internal/core/spoken"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/store/query"
)

// HoursSheet is the hours of an airframe: whose and what they were, and how they stand against
// what was estimated.
type HoursSheet struct {
	OrderSheet
	ByPerson, ByCategory []Share
	ByAssembly           []AssemblyHours
	BySteps              []StepHours
	Left                 float64 // hours of all steps, at the builder's pace
	Pace                 []plan.PaceOf
	Rework               []Cause
}

// Share is hours of something, with its share of all.
type Share struct {
	Name         string
	Hours, Share float64
}

// AssemblyHours are the hours of an assembly: worked, and what all of it is forecast to take.
type AssemblyHours struct {
	Name                        string
	Worked, Estimated, Forecast float64
}

// StepHours are the hours of a step against its estimate.
type StepHours struct {
	Name                  string
	Worked, Expected      float64
	Passed                string  // "" within what was estimated
	OfExpected, OfLongest float64 // shares of the longest bar, for drawing
}

// Cause is what slips of one cause cost.
type Cause struct {
	Name   string
	Number int
	Hours  float64
	Money  string
}

func shares(of map[string]float64, names map[string]string) (out []Share) {
	sum := 0.0
	for _, h := range of {
		sum += h
	}
	for _, name := range slices.SortedFunc(maps.Keys(of), func(a, b string) int { return cmp.Or(cmp.Compare(of[b], of[a]), cmp.Compare(a, b)) }) {
		out = append(out, Share{cmp.Or(names[name], name), of[name], of[name] / max(sum, 1e-9)})
	}
	return out
}

// Hours loads the hours of an airframe ("" for the first).
func (w *Workshop) Hours(ctx context.Context, id string) (s HoursSheet, err error) {
	if s.OrderSheet, err = w.Order(ctx, id); err != nil {
		return s, err
	}
	names := map[string]string{}
	for _, a := range s.Assemblies {
		names[a.ID] = a.Name
	}
	h := s.Answer.Hours
	s.ByPerson, s.ByCategory, s.Pace = shares(h.ByPerson, nil), shares(h.ByCategory, nil), s.Answer.Pace
	s.against(names)
	err = w.view(ctx, func(q *query.Queries) error {
		rows, err := q.SlipsByCause(ctx, s.Airframe.ID)
		for _, r := range rows {
			c := Cause{Name: r.Cause, Number: int(r.Number), Hours: float64(r.Minutes) / 60}
			if r.Money > 0 {
				c.Money = spoken.Amount(r.Money) + " " + r.Currency
			}
			s.Rework = append(s.Rework, c)
		}
		return err
	})
	return s, err
}

// against sets what was worked beside what was estimated, by step and by assembly.
func (s *HoursSheet) against(names map[string]string) {
	worked, left := s.Plan.Worked(), s.Plan.Remaining()
	of := map[string]*AssemblyHours{}
	at := func(id string) *AssemblyHours {
		if of[id] == nil {
			of[id] = &AssemblyHours{Name: cmp.Or(names[id], "no assembly")}
		}
		return of[id]
	}
	longest := 1.0
	for i, step := range s.Plan.Steps {
		s.Left += left[i]
		a := at(step.Assembly)
		a.Estimated, a.Forecast = a.Estimated+step.Expected(), a.Forecast+left[i]
		if worked[i] == 0 {
			continue
		}
		h := StepHours{Name: step.Name, Worked: worked[i], Expected: step.Expected()}
		switch {
		case worked[i] > step.High:
			h.Passed = fmt.Sprintf("passed its high of %.1f h by %.1f h", step.High, worked[i]-step.High)
		case worked[i] > h.Expected && step.State != plan.Done:
			h.Passed = fmt.Sprintf("passed what was expected, %.1f h", h.Expected)
		}
		longest = max(longest, worked[i], step.High)
		s.BySteps = append(s.BySteps, h)
	}
	for i := range s.BySteps {
		s.BySteps[i].OfExpected, s.BySteps[i].OfLongest = s.BySteps[i].Expected/longest, s.BySteps[i].Worked/longest
	}
	// What passed its estimate comes first, then the longest.
	slices.SortStableFunc(s.BySteps, func(a, b StepHours) int {
		return cmp.Or(cmp.Compare(min(len(b.Passed), 1), min(len(a.Passed), 1)), cmp.Compare(b.Worked, a.Worked))
	})
	for id, hours := range s.Answer.Hours.ByAssembly {
		a := at(id)
		a.Worked = hours
		a.Forecast += hours
	}
	for _, a := range of {
		if a.Worked+a.Estimated == 0 {
			continue
		}
		s.ByAssembly = append(s.ByAssembly, *a)
	}
	slices.SortFunc(s.ByAssembly, func(a, b AssemblyHours) int {
		return cmp.Or(cmp.Compare(b.Forecast, a.Forecast), cmp.Compare(a.Name, b.Name))
	})
}

// Resume is where the builder was, after a pause.
type Resume struct {
	OrderSheet
	Last     time.Time // when anything was entered or worked last, before today
	Days     int       // since then
	Setups   []Errand  // that lack readings
	Released []Errand  // holds that are released, and their step is not done
	Rows     []Errand  // half set
	Begun    []OrderStep
	Late     []planning.Order
	Running  []coating.Clock
	Owed     []asking.Asked // questions that are due or freeze something
}

// longPause is after how many days one is told where one was.
const longPause = 14

// Paused tells whether it was long.
func (r Resume) Paused() bool { return r.Days >= longPause }

// Resume gathers where an airframe stands ("" for the first).
func (w *Workshop) Resume(ctx context.Context, id string) (r Resume, err error) {
	if r.OrderSheet, err = w.Order(ctx, id); err != nil {
		return r, err
	}
	err = w.view(ctx, func(q *query.Queries) error {
		if r.Last, r.Days, err = w.pause(ctx, q, r.Airframe.ID, r.Now); err != nil {
			return err
		}
		assemblies, err := w.assemblies(ctx, q, r.Airframe)
		if err != nil {
			return err
		}
		for _, a := range assemblies {
			for _, setup := range a.Setups {
				taken, wanted := 0, 0
				for _, c := range setup.Checks {
					taken, wanted = taken+min(c.Taken, c.Wanted), wanted+c.Wanted
				}
				if taken > 0 && taken < wanted {
					r.Setups = append(r.Setups, Errand{What: a.Name + ", " + setup.Name, Why: fmt.Sprintf("%d of %d readings taken", taken, wanted), Path: "/setups/" + setup.ID})
				}
			}
			for _, h := range a.Holds {
				if h.Waiting() {
					r.Released = append(r.Released, Errand{What: a.Name + ": " + h.Name, Why: "released by " + h.Released, Path: "/holds/" + h.ID})
				}
			}
		}
		rows, err := riveting.Standings(ctx, q, r.Airframe.ID)
		if err != nil {
			return err
		}
		for _, one := range rows {
			set := one.Of[row.Set] + one.Of[row.Accepted]
			if left := one.Holes - set - one.Of[row.Open] - one.Of[row.Abandoned]; set > 0 && left > 0 {
				r.Rows = append(r.Rows, Errand{What: one.Name, Why: fmt.Sprintf("%d of %d set, %d bad, %d kept open", set, one.Holes, one.Of[row.Bad], one.Of[row.Open]), Path: "/rows/" + one.ID})
			}
		}
		return nil
	})
	for _, one := range r.Plan.Steps {
		if one.State == plan.Begun {
			r.Begun = append(r.Begun, r.Steps[one.ID])
		}
	}
	today := r.Now.Format(time.DateOnly)
	for _, o := range r.Ordered {
		if o.Late(today) {
			r.Late = append(r.Late, o)
		}
	}
	for _, c := range r.Clocks {
		if c.Running() {
			r.Running = append(r.Running, c)
		}
	}
	for _, a := range r.Questions {
		if a.Due(today) || a.Freezing() && len(a.Freezes) > 0 {
			r.Owed = append(r.Owed, a)
		}
	}
	return r, err
}

// pause is when anything was entered or worked last before today, and how many days ago.
func (w *Workshop) pause(ctx context.Context, q *query.Queries, frame string, now time.Time) (last time.Time, days int, err error) {
	entries, err := q.LastEntries(ctx)
	if err != nil {
		return last, 0, err
	}
	session, err := q.LastSession(ctx, frame)
	if err != nil {
		return last, 0, err
	}
	today := now.Format(time.DateOnly)
	for _, at := range append(entries, session) {
		if t := w.Ledger.When(at); !t.IsZero() && t.Format(time.DateOnly) < today && t.After(last) {
			last = t
		}
	}
	if last.IsZero() {
		return last, 0, nil
	}
	return last, int(now.Sub(last).Hours() / 24), nil
}

// LongPause tells whether nothing was entered at a workshop, nor worked at an airframe, for
// weeks.
func (w *Workshop) LongPause(ctx context.Context, frame string) bool {
	days := 0
	err := w.Ledger.View(ctx, func(q *query.Queries) (err error) {
		_, days, err = w.pause(ctx, q, frame, w.Ledger.Now())
		return err
	})
	return err == nil && days >= longPause
}

// AirframeOf is the id of the airframe of an assembly; of the first one for "".
func (w *Workshop) AirframeOf(ctx context.Context, assembly string) (id string, err error) {
	err = w.Ledger.View(ctx, func(q *query.Queries) error {
		if assembly != "" {
			frame, _, err := airframe.Of(ctx, q, assembly)
			id = frame.ID
			return err
		}
		frame, _, err := airframe.One(ctx, q, "")
		id = frame.ID
		return err
	})
	return id, err
}

// OrderName is the name of an order.
func (s OrderSheet) OrderName(id string) string {
	for _, o := range s.Ordered {
		if o.ID == id {
			return o.Name
		}
	}
	return ""
}

// Running is what runs in the workshop, shown on every sheet.
type Running struct {
	Work   []RunningWork
	Clocks []RunningClock
	Now    time.Time
}

// RunningWork is somebody at work.
type RunningWork struct {
	ID, Airframe, Who, What string
	From                    time.Time
}

// RunningClock is something that hardens, with what it waits for next.
type RunningClock struct {
	ID, Airframe, What, Says string
	At                       time.Time
	Limit                    bool // it is too late afterwards
	Past                     bool
}

// runs is what runs, as it was read; what is next of a clock is worked out at each look.
type runs struct {
	work   []RunningWork
	clocks []coating.Clock
}

// Running loads it.
func (w *Workshop) Running(ctx context.Context) (r Running, err error) {
	all, err := w.running.of(w.Ledger, "", func() (all runs, err error) {
		err = w.Ledger.View(ctx, func(q *query.Queries) error {
			sessions, err := q.RunningSessions(ctx)
			if err != nil {
				return err
			}
			for _, s := range sessions {
				all.work = append(all.work, RunningWork{ID: s.ID, Airframe: s.AirframeID, Who: s.Who, What: cmp.Or(s.Step, s.Category), From: w.Ledger.When(s.FromAt)})
			}
			all.clocks, err = coating.Running(ctx, q, w.Ledger.When)
			return err
		})
		return all, err
	}, "planning", "coating", "amending")
	r = Running{Work: all.work, Now: w.Ledger.Now()}
	for _, c := range all.clocks {
		one := RunningClock{ID: c.ID, Airframe: c.AirframeID, What: c.What, Says: "runs"}
		if d, ok := c.Next(r.Now); ok {
			one.Says, one.At, one.Limit, one.Past = d.What, d.At, d.Limit, !d.At.After(r.Now)
		}
		r.Clocks = append(r.Clocks, one)
	}
	return r, err
}
