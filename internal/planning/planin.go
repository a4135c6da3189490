package planning

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/plan"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// PlanIn lays the steps of a plan in the open format as steps of an airframe.
type PlanIn struct {
	ledger.Form
	Airframe string `json:"airframe"`
	SHA256   string `json:"sha256"` // of the document
	// Plan is the document as it was understood; Is gives, by the number of a step or an order of it,
	// the id of the one that is here already.
	Plan   plan.Plan      `json:"-"`
	Is     map[int]string `json:"-"`
	Orders map[int]string `json:"-"`
}

// planIn is a plan as it was laid.
type planIn struct {
	Title string   `json:"title"`
	Steps []stepIn `json:"steps"`
}

// stepIn is a step of it with its own id, and how far it is.
type stepIn struct {
	laid
	ID    string `json:"id"`
	State string `json:"state"`
	Done  string `json:"done,omitempty"`
}

var planBrought = &ledger.Kind[PlanIn, planIn]{
	Name: "plan-in", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n PlanIn, f planIn) error {
		for _, s := range f.Steps {
			if err := s.add(ctx, q, s.ID, n.Airframe, e, s.State, s.Done); err != nil {
				return err
			}
		}
		return nil
	},
	Words: func(_ PlanIn, f planIn) ledger.Words {
		return ledger.Words{What: "Plan taken in: " + f.Title, Detail: say.Plural(len(f.Steps), "step", "steps")}
	},
}

// PlanStepID is the id that a submission gives a step of its plan.
func PlanStepID(submission string, i int) string {
	return ledger.Child(submission, fmt.Sprint("plan ", i))
}

// BringPlan lays the steps of a plan that are not here, with what they come after and need.
func (p *Planning) BringPlan(ctx context.Context, n PlanIn) error {
	_, err := ledger.Do(ctx, p.ledger, planBrought, n.Form, n, func(q *query.Queries) (f planIn, err error) {
		frame, err := q.Airframe(ctx, n.Airframe)
		if err != nil {
			return f, ledger.Found(err)
		}
		f.Title = frame.Name
		assemblies, err := airframe.Assemblies(ctx, q, n.Airframe)
		if err != nil {
			return f, err
		}
		for i, s := range n.Plan.Steps {
			if n.Is[i] != "" {
				continue
			}
			one, err := n.step(i, s, assemblies)
			if err != nil {
				return f, err
			}
			f.Steps = append(f.Steps, one)
		}
		return f, nil
	})
	return err
}

func (n PlanIn) step(i int, s plan.Step, assemblies []airframe.Assembly) (stepIn, error) {
	one := stepIn{ID: PlanStepID(n.ID, i), State: s.State}
	one.Name, one.Kind, one.People = s.Name, s.Kind, int64(s.People)
	if one.Name == "" {
		one.Name = s.ID
	}
	if s.Whole {
		one.Whole = 1
	}
	if s.Cure != nil {
		one.Cure = s.Cure.Hours
	}
	if s.Ended != nil {
		one.Done = ledger.Kept(time.Unix(*s.Ended*60, 0))
	}
	for _, a := range assemblies {
		if a.Name == s.Assembly {
			one.Assembly = a.ID
		}
	}
	var err error
	if one.Hours, err = json.Marshal(Hours{s.Low, s.Likely, s.High}); err != nil {
		return one, err
	}
	var after, needs []string
	for _, k := range s.After {
		if id := n.Is[k]; id != "" {
			after = append(after, id)
		} else {
			after = append(after, PlanStepID(n.ID, k))
		}
	}
	for _, k := range s.Needs {
		needs = append(needs, n.Orders[k])
	}
	return one, one.lists(after, needs, nil)
}
