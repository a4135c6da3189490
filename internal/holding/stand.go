package holding

import (
	"context"
	"fmt"
	"slices"

	"orpine/internal/airframe"
	"orpine/internal/closing"
	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/store/query"
	"orpine/internal/stores"
)

// NewStand puts a hold before a step of an assembly.
type NewStand struct {
	ledger.Form
	Assembly  string   `json:"assembly" form:"-"` // id
	Name      string   `json:"name" form:"name"`
	Step      string   `json:"step" form:"step"`
	Permanent string   `json:"permanent" form:"permanent" text:"lines"`
	Why       string   `json:"why" form:"why" text:"lines"`
	Setup     string   `json:"setup,omitempty" form:"setup"` // id of the setup whose checks it asks for
	Parts     []string `json:"parts,omitempty" form:"parts"` // ids of those whose hand it asks for
	Second    bool     `json:"second,omitempty" form:"second"`
	Same      string   `json:"same,omitempty" form:"same"` // id of the hold that guards the same holes; Others for others
	Bay       string   `json:"bay,omitempty" form:"bay"`   // of a closing step: the name of what it closes
	Tasks     []string `json:"tasks,omitempty" form:"-" text:"lines"`
}

// Others is the answer that a hold guards other holes than those that stand there.
const Others = "others"

// standing is a hold that was put there.
type standing struct {
	Title string        `json:"title"`
	Hold  gate.Made     `json:"hold"`
	Bay   *closing.Made `json:"bay,omitempty"`
}

var stood = &ledger.Kind[NewStand, standing]{
	Name: "hold", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, _ NewStand, f standing) error {
		if err := gate.Put(ctx, q, e, f.Hold); err != nil {
			return err
		}
		if f.Bay == nil {
			return nil
		}
		return closing.Put(ctx, q, e, *f.Bay)
	},
	Words: func(n NewStand, f standing) ledger.Words {
		return ledger.Words{What: "hold added: " + f.Title, Detail: say.Join(n.Step, n.Permanent)}
	},
}

// StandBefore puts the hold there; a closing one with the bay that it closes. Problems
// are by field.
func (h *Holding) StandBefore(ctx context.Context, n NewStand) error {
	wrong := n.read()
	_, err := ledger.Do(ctx, h.ledger, stood, n.Form, n, func(q *query.Queries) (f standing, err error) {
		frame, assembly, err := airframe.Of(ctx, q, n.Assembly)
		if err != nil {
			return f, err
		}
		required, err := h.asksOf(ctx, q, n, frame, wrong)
		if err != nil {
			return f, err
		}
		if err := wrong.Err(); err != nil {
			return f, err
		}
		f.Title = assembly.Name + ": " + n.Name
		made := gate.NewHold{Name: n.Name, Step: n.Step, Permanent: n.Permanent, Why: n.Why, Other: n.Same == Others || n.Bay != ""}
		if n.Same != Others {
			made.Same = n.Same
		}
		if same, found, err := h.gate.Same(ctx, q, n.Assembly, &made); err != nil {
			return f, err
		} else if found {
			return f, ledger.Problems{"same": fmt.Sprintf("“%s” stands before the same step here. For the same holes, use that one; for others, say so", same.Name)}
		}
		required = append(required, made.Required...)
		if n.Bay != "" {
			bay := closing.Make(n.Assembly, n.Bay, n.ID, n.Tasks)
			f.Bay = &bay
			required = append(required, hold.Requirement{Need: hold.Inside, Of: bay.ID})
		}
		f.Hold, err = gate.Make(n.ID, n.Assembly, n.Setup, gate.NewHold{Name: n.Name, Step: n.Step, Permanent: n.Permanent, Why: n.Why, Required: required}, false)
		return f, err
	})
	return err
}

// read trims the form, and finds what is wrong with it.
func (n *NewStand) read() ledger.Problems {
	wrong := ledger.Problems{}
	wrong.Text("name", &n.Name, ledger.MaxName, "what is about to be done?")
	wrong.Text("permanent", &n.Permanent, ledger.MaxNote, "what becomes permanent?")
	wrong.Text("why", &n.Why, ledger.MaxNote, "why does it matter, in one line?")
	wrong.Text("bay", &n.Bay, ledger.MaxName, "")
	step := hold.Step(n.Step)
	if !slices.Contains(hold.Steps, step) {
		wrong.Add("step", "which step is it, that cannot be undone? Choose one of the list")
	}
	if step.Closes() && n.Bay == "" {
		wrong.Add("bay", "what does it close?")
	}
	if !step.Closes() {
		n.Bay, n.Tasks = "", nil
	}
	for i := range n.Tasks {
		wrong.Text("tasks", &n.Tasks[i], ledger.MaxNote, "")
	}
	return wrong
}

// asksOf is what the hold asks for, but for its bay.
func (h *Holding) asksOf(ctx context.Context, q *query.Queries, n NewStand, frame airframe.Airframe, wrong ledger.Problems) ([]hold.Requirement, error) {
	var out []hold.Requirement
	if n.Setup != "" {
		s, err := h.measuring.Load(ctx, q, n.Setup)
		if err != nil || s.AssemblyID != n.Assembly {
			wrong.Add("setup", "choose a setup of this assembly")
			return nil, nil
		}
		for _, c := range s.Checks {
			out = append(out, measuring.Requirements(c.Kind.Name, c.ID, c.Definition["limits"] != nil)...)
		}
	}
	if len(n.Parts) > 0 {
		parts, err := stores.Parts(ctx, q, frame.ID)
		if err != nil {
			return nil, err
		}
		for _, id := range n.Parts {
			if !slices.ContainsFunc(parts, func(p stores.Part) bool { return p.ID == id }) {
				wrong.Add("parts", "choose parts of the list")
			}
			out = append(out, hold.Requirement{Need: hold.Handed, Of: id})
		}
	}
	if n.Second {
		out = append(out, hold.Requirement{Need: hold.Seconded})
	}
	return out, nil
}

// Another puts a hold before the same step of another assembly, with the space that it closes
// and the tasks inside; parts, checks and rows are of the assembly that they belong to.
type Another struct {
	ledger.Form
	Hold     string `form:"-"` // id of the one that is copied
	Assembly string `form:"assembly"`
	Same     string `form:"same"` // see NewStand
}

// StandLike puts it there. A problem is at "assembly".
func (h *Holding) StandLike(ctx context.Context, n Another) error {
	out := NewStand{Form: n.Form, Assembly: n.Assembly, Same: n.Same}
	err := h.ledger.View(ctx, func(q *query.Queries) error {
		kept, err := gate.One(ctx, q, n.Hold)
		if err != nil {
			return err
		}
		mine, at, err := airframe.Of(ctx, q, kept.AssemblyID)
		if err != nil {
			return err
		}
		frame, other, err := airframe.Of(ctx, q, n.Assembly)
		if err != nil || frame.ID != mine.ID || other.ID == at.ID {
			return ledger.Problems{"assembly": "choose another assembly of this aircraft"}
		}
		swap := func(text string) string {
			if part.Twin(at.Name) != other.Name {
				return text
			}
			return part.Swapped(text)
		}
		out.Name, out.Step, out.Permanent, out.Why = swap(kept.Name), kept.Step, swap(kept.Permanent), kept.Why
		out.Second = slices.ContainsFunc(kept.Required, func(r hold.Requirement) bool { return r.Need == hold.Seconded })
		for _, r := range kept.Required {
			if r.Need != hold.Inside {
				continue
			}
			bay, err := q.Bay(ctx, r.Of)
			if err != nil {
				return err
			}
			tasks, err := q.TasksOfBays(ctx, []string{bay.ID})
			if err != nil {
				return err
			}
			out.Bay = swap(bay.Name)
			for _, t := range tasks {
				out.Tasks = append(out.Tasks, swap(t.What))
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	return h.StandBefore(ctx, out)
}
