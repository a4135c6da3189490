package measuring

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Another begins a setup as another one is: the same checks with their limits and instruments,
// without their readings, and the same hold. On the twin of its assembly sides are swapped.
type Another struct {
	ledger.Form
	Setup    string `form:"-"` // id of the one that is copied
	Assembly string `form:"assembly"`
	Other    bool   `form:"other"` // for other holes than those of the hold before the same step there
}

// BeginLike begins it. A problem is at "assembly".
func (m *Measuring) BeginLike(ctx context.Context, n Another) error {
	out := NewSetup{Form: n.Form, Assembly: n.Assembly}
	err := m.ledger.View(ctx, func(q *query.Queries) error {
		s, err := m.Load(ctx, q, n.Setup)
		if err != nil {
			return err
		}
		frame, other, err := airframe.Of(ctx, q, n.Assembly)
		if err != nil || frame.ID != s.Airframe.ID || n.Assembly == s.AssemblyID {
			return ledger.Problems{"assembly": "choose another assembly of this aircraft"}
		}
		out.Name = s.Name
		twin := part.Twin(s.AssemblyName) == other.Name
		numbers := map[string]string{} // of each check, by its id
		for _, c := range s.Checks {
			if c.AfterOf != "" {
				continue
			}
			if c.Kind.Join {
				return ledger.Problems{"assembly": fmt.Sprintf("“%s” names the points of this side: begin the join of %s from its own form", c.Name, other.Name)}
			}
			numbers[c.ID] = fmt.Sprint(len(out.Checks))
			one, err := c.like(twin)
			if err != nil {
				return err
			}
			one.Survey = numbers[c.Survey]
			out.Checks = append(out.Checks, one)
		}
		out.Hold, out.Pins, err = holdLike(ctx, q, n, numbers)
		return err
	})
	if err != nil {
		return err
	}
	return m.Begin(ctx, out)
}

// like is a new check as this one is.
func (c Check) like(twin bool) (n NewCheck, err error) {
	n = NewCheck{Name: c.Name, Instrument: c.Instrument, Accepts: c.Accepts, Assumed: c.kept()}
	if err := json.Unmarshal([]byte(c.defined), &n.Definition); err != nil {
		return n, fmt.Errorf("reading the check %q: %w", c.Name, err)
	}
	if twin {
		n.Name = part.Swapped(c.Name)
		mirror(n.Definition, c.Kind.Survey)
	}
	return n, nil
}

// mirror swaps the sides of what a check names; across tells that its y counts to the right.
func mirror(v any, across bool) {
	switch v := v.(type) {
	case map[string]any:
		for key, item := range v {
			text, ok := item.(string)
			switch {
			case ok && (key == "name" || key == "side"):
				v[key] = map[string]string{"left": "right", "right": "left"}[text]
				if v[key] == "" {
					v[key] = part.Swapped(text)
				}
			case key == "y" && across:
				if number, ok := item.(float64); ok {
					v[key] = -number
				} else if ok := text != ""; ok {
					v[key] = negated(text)
				}
			default:
				mirror(item, across)
			}
		}
	case []any:
		for _, item := range v {
			mirror(item, across)
		}
	}
}

// negated is a length as typed with its sign changed.
func negated(text string) string {
	if text[0] == '-' {
		return text[1:]
	}
	return "-" + text
}

// holdLike is the hold of a setup for another one, and whether it was in two: pin holes, then
// all. The checks are by their numbers.
func holdLike(ctx context.Context, q *query.Queries, n Another, numbers map[string]string) (*gate.NewHold, bool, error) {
	holds, err := gate.All(q.HoldsOfSetup(ctx, gate.Reference(n.Setup)))
	if err != nil || len(holds) == 0 {
		return nil, false, err
	}
	h := holds[0]
	i := slices.IndexFunc(holds, func(h gate.Hold) bool { return h.Pins })
	out := &gate.NewHold{Name: h.Name, Step: h.Step, Permanent: h.Permanent, Why: h.Why, Other: n.Other}
	for _, r := range h.Required {
		switch number, ok := numbers[r.Check]; {
		case ok:
			out.Required = append(out.Required, hold.Requirement{Need: r.Need, Check: number})
		case r.What != "":
			out.Required = append(out.Required, gate.Eyed(n.ID, part.Swapped(r.What))...)
		}
	}
	return out, i >= 0, nil
}
