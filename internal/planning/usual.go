package planning

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/plan"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// UsualLaid lays a usual order of work as steps of an airframe.
type UsualLaid struct {
	ledger.Form
	Airframe string        `json:"airframe" form:"-"`
	Usual    string        `json:"usual" form:"usual"`
	School   string        `json:"school" form:"school"`
	Harder   string        `json:"harder" form:"harder"`
	Steps    []UsualEdited `json:"steps" form:"-"` // each of the usual ones, in its order
}

// UsualEdited is a step of it as it was edited.
type UsualEdited struct {
	Take  bool   `json:"take"`
	Name  string `json:"name"`
	Hours string `json:"hours"` // "6 h", or low, likely and high
}

// laidOut is a usual order as it was laid.
type laidOut struct {
	Title string `json:"title"`
	Steps []laid `json:"steps"` // what they come after are ids already
}

// usualID is the id of a step that a submission lays.
func usualID(submission string, i int) string {
	return ledger.Child(submission, fmt.Sprint("usual ", i))
}

var usualLaid = &ledger.Kind[UsualLaid, laidOut]{
	Name: "plan-usual", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n UsualLaid, f laidOut) error {
		for i, s := range f.Steps {
			if err := s.add(ctx, q, usualID(e.ID, i), n.Airframe, e, plan.Open, ""); err != nil {
				return err
			}
		}
		return nil
	},
	Words: func(n UsualLaid, f laidOut) ledger.Words {
		return ledger.Words{What: "Usual order laid: " + f.Title, Detail: say.Join(say.Plural(len(f.Steps), "step", "steps"), n.School, n.Harder+" first")}
	},
}

// LayUsual lays a usual order of work: the steps that are taken, named and timed as they were
// edited, for both wings by the school. Problems are at "steps", "name.3" and "hours.3".
func (p *Planning) LayUsual(ctx context.Context, n UsualLaid) error {
	wrong := ledger.Problems{}
	u, ok := plan.UsualOf(n.Usual)
	if !ok || len(n.Steps) != len(u.Steps) {
		return ledger.Problems{"": "this order is another one by now; load the page again"}
	}
	if !slices.Contains(plan.Schools, plan.School(n.School)) {
		wrong.Add("school", "both wings in step, or one at a time?")
	}
	if n.Harder != plan.HardLeft && n.Harder != plan.HardRight {
		wrong.Add("harder", "which side is the harder one?")
	}
	u.Steps = slices.Clone(u.Steps)
	taken := 0
	for i := range n.Steps {
		e := &n.Steps[i]
		if !e.Take {
			continue
		}
		taken++
		wrong.Text(fmt.Sprint("name.", i), &e.Name, ledger.MaxName-6, "what is done?")
		if u.Steps[i].Paired() && !strings.Contains(e.Name, "{side}") {
			wrong.Add(fmt.Sprint("name.", i), "it is done on both wings: keep {side} where the side is named")
		}
		line, err := plan.ParseLine("x, "+e.Hours, nil, nil)
		if err != nil {
			wrong.Add(fmt.Sprint("hours.", i), "how long: 6 h, or 4-6-12 h")
		}
		u.Steps[i].Name = e.Name
		u.Steps[i].Low, u.Steps[i].Likely, u.Steps[i].High = line.Low, line.Likely, line.High
	}
	if taken == 0 {
		wrong.Add("steps", "no step is ticked")
	}
	_, err := ledger.Do(ctx, p.ledger, usualLaid, n.Form, n, func(q *query.Queries) (f laidOut, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		frame, err := q.Airframe(ctx, n.Airframe)
		if err != nil {
			return f, ledger.Found(err)
		}
		f.Title = frame.Name
		own, err := q.PlanSteps(ctx, n.Airframe)
		if err != nil {
			return f, err
		}
		assemblies, err := airframe.Assemblies(ctx, q, n.Airframe)
		if err != nil {
			return f, err
		}
		for _, l := range u.Lay(plan.School(n.School), n.Harder, func(i int) bool { return n.Steps[i].Take }) {
			s := laid{Name: l.Name, Kind: l.Kind, People: int64(l.People), Cure: l.Cure, Bring: l.Bring}
			if l.Whole {
				s.Whole = 1
			}
			for _, a := range assemblies {
				if l.Assembly != "" && strings.EqualFold(strings.ReplaceAll(a.Name, ",", ""), l.Assembly) {
					s.Assembly = a.ID
				}
			}
			if s.Hours, err = json.Marshal(Hours{l.Low, l.Likely, l.High}); err != nil {
				return f, err
			}
			var after []string
			for _, b := range l.After {
				after = append(after, usualID(n.Form.ID, b))
			}
			if err := s.lists(after, nil, nil); err != nil {
				return f, err
			}
			if slices.ContainsFunc(own, func(o query.PlanStep) bool { return o.Name == s.Name }) {
				return f, ledger.Problems{fmt.Sprint("name.", l.Of): "there is a step “" + s.Name + "” already: take the tick off, or name it otherwise"}
			}
			f.Steps = append(f.Steps, s)
		}
		return f, nil
	})
	return err
}
