package planning

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/plan"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// EveningTold is what was done in a visit, told in one go afterwards.
type EveningTold struct {
	ledger.Form
	Visit string   `json:"visit" form:"-"`    // id
	Steps []string `json:"steps" form:"done"` // ids of those that were done; of steps added by hand
	From  string   `json:"from" form:"from"`  // on the day of the visit
	To    string   `json:"to" form:"to"`      // before From is the next day
	Sure  string   `json:"sure,omitempty" form:"sure"`
	Who   []string `json:"who" form:"who"` // whose hours are written down; empty ones are left out
}

// evening is a visit as it turned out.
type evening struct {
	Airframe, Visit string
	Step            string // what the hours are for: the step, where it was one alone
	Names           []string
	Hours           json.RawMessage // a session for each person
	timed
}

var eveningTold = &ledger.Kind[EveningTold, evening]{
	Name: "plan-evening", Version: 1, Bears: ledger.Permanent, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n EveningTold, f evening) error {
		for _, step := range n.Steps {
			if err := q.SetPlanStepState(ctx, query.SetPlanStepStateParams{State: plan.Done, DoneAt: e.At, Revised: e.Seq, ID: step}); err != nil {
				return err
			}
		}
		for i, who := range n.Who {
			err := q.AddWorkSession(ctx, query.AddWorkSessionParams{ID: ledger.Child(e.ID, fmt.Sprint("hours ", i)), AirframeID: f.Airframe, Who: who, Category: "build", StepID: f.Step, FromAt: f.From, ToAt: f.To, Entry: e.Seq, Revised: e.Seq})
			if err != nil {
				return err
			}
		}
		return nil
	},
	Makes: func(_ string, n EveningTold, _ evening) (out []ledger.Made) {
		for _, step := range n.Steps {
			out = append(out, ledger.Made{Step: step, State: plan.Done})
		}
		return out
	},
	Words: func(n EveningTold, f evening) ledger.Words {
		return ledger.Words{What: "Done with " + f.Visit + ": " + say.Join(f.Names...), Detail: say.Join(n.Who...)}
	},
}

// may refuses a step that could not be said to be done by itself, but for those that were ticked
// with it.
func (n EveningTold) may(ctx context.Context, q *query.Queries, p *Planning, s query.PlanStep) error {
	var after []string
	if err := json.Unmarshal([]byte(s.After), &after); err != nil {
		return fmt.Errorf("reading the step %s: %w", s.Name, err)
	}
	after = slices.DeleteFunc(after, func(id string) bool { return slices.Contains(n.Steps, id) })
	kept, err := json.Marshal(after)
	if err != nil {
		return err
	}
	if s.After = string(kept); after == nil {
		s.After = "[]"
	}
	if err := p.ready(ctx, q, s, p.ledger.Now()); err != nil {
		return err
	}
	_, err = StepMoved{State: plan.Done}.tied(ctx, q, s, new(moved))
	return err
}

// TellEvening marks the steps done, and writes down the hours of all who were there. Problems
// are at "done", "who", "from" and "to".
func (p *Planning) TellEvening(ctx context.Context, n EveningTold) error {
	wrong := ledger.Problems{}
	for i := range n.Who {
		wrong.Text("who", &n.Who[i], ledger.MaxName, "")
	}
	n.Who = slices.DeleteFunc(n.Who, func(who string) bool { return who == "" })
	_, err := ledger.Do(ctx, p.ledger, eveningTold, n.Form, n, func(q *query.Queries) (f evening, err error) {
		v, err := q.PlanVisit(ctx, n.Visit)
		if err == nil && v.Withdrawn != "" {
			err = ledger.ErrNotFound
		}
		if err != nil {
			return f, ledger.Found(err)
		}
		f.Airframe, f.Visit = v.AirframeID, v.Who
		if len(n.Steps)+len(n.Who) == 0 {
			wrong.Add("done", "nothing is ticked, and nobody's hours are named")
		}
		for _, id := range n.Steps {
			s, err := q.PlanStep(ctx, id)
			switch {
			case err != nil && !errors.Is(ledger.Found(err), ledger.ErrNotFound):
				return f, err
			case err != nil || s.Withdrawn != "" || s.AirframeID != v.AirframeID:
				wrong.Add("done", "one of the steps is not there any more: load the page again")
			case s.State == plan.Done:
				wrong.Add("done", s.Name+" is done already: take its tick off")
			default:
				if err := n.may(ctx, q, p, s); err != nil {
					var refused ledger.Problems
					if !errors.As(err, &refused) {
						return f, err
					}
					for _, says := range refused {
						wrong.Add("done", says)
					}
				}
			}
			f.Names = append(f.Names, s.Name)
		}
		if len(n.Who) > 0 {
			day, _, _ := strings.Cut(v.FromWall, "T")
			f.timed = WorkStarted{Date: day, From: n.From, To: n.To, Sure: n.Sure}.afterwards(p.ledger.Now(), wrong)
		}
		for i, who := range n.Who {
			if slices.Contains(n.Who[:i], who) {
				wrong.Add("who", who+" is named twice")
			}
		}
		if len(n.Steps) == 1 {
			f.Step = n.Steps[0]
		}
		return f, wrong.Err()
	})
	return err
}
