package overview

import (
	"context"
	"fmt"
	"slices"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/asking"
	"orpine/internal/closing"
	"orpine/internal/core/hold"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/measuring"
	"orpine/internal/planning"
	"orpine/internal/store/query"
)

// Assembly is one part of an airframe, with how far it is.
type Assembly struct {
	airframe.Assembly
	State  State
	Note   string // in a few words
	Setups []measuring.Brief
	Holds  []holding.Hold
}

// State is how far an assembly is.
type State string

// The states, as the Airframe drawing hatches them.
const (
	Loose     State = "loose"
	InSetup   State = "in a setup"
	Held      State = "held"
	Released  State = "released"
	Permanent State = "permanent"
	Owed      State = "owed an answer"
)

// Errand is something that can be done now, or that is held.
type Errand struct {
	What, Why string
	Path      string // where it is done: the id of a setup or a hold
	Hold      bool   // Path is a hold
	Check     string // id, when it is a reading
	Row       string // id, when it is holes to be set
}

// Home is the whole airframe at a glance.
type Home struct {
	Airframe   airframe.Airframe
	Others     []airframe.Airframe
	Assemblies []Assembly
	Now        []Errand
	Held       []Errand
	Closing    []closing.Bay // spaces that will be closed, with what is still to be done inside
	Done       int           // assemblies that are permanent
	Late       []Errand      // orders that are overdue, or came wrong; and answers that are owed
}

// Home gathers the airframe of that id ("": the first), its assemblies with
// their states, what can be done now and what is held.
func (w *Workshop) Home(ctx context.Context, id string) (home Home, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		if home.Airframe, home.Others, err = airframe.One(ctx, q, id); err != nil {
			return err
		}
		home.Assemblies, err = w.assemblies(ctx, q, home.Airframe)
		if err != nil {
			return err
		}
		var holds []gate.Hold
		for _, a := range home.Assemblies {
			home.errands(a)
			for _, h := range a.Holds {
				holds = append(holds, h.Hold)
			}
		}
		if home.Closing, err = w.Closing.Ahead(ctx, q, home.Airframe.ID, holds); err != nil {
			return err
		}
		return w.late(ctx, q, &home)
	})
	return home, err
}

// late adds what is late.
func (w *Workshop) late(ctx context.Context, q *query.Queries, home *Home) error {
	today, of := w.Ledger.Now().Format(time.DateOnly), "?airframe="+home.Airframe.ID+"#"
	orders, err := planning.Orders(ctx, q, home.Airframe.ID)
	if err != nil {
		return err
	}
	for _, o := range orders {
		switch {
		case !o.Late(today):
		case o.Came != "":
			home.Late = append(home.Late, Errand{What: o.Name + " came wrong", Why: o.Came, Path: "/money" + of + o.ID})
		default:
			home.Late = append(home.Late, Errand{What: o.Name, Why: "from " + o.Supplier + ", promised for " + o.Promised, Path: "/money" + of + o.ID})
		}
	}
	asks, err := asking.Questions(ctx, q, home.Airframe.ID, w.Ledger.When)
	for _, a := range asks {
		if a.Due(today) {
			home.Late = append(home.Late, Errand{What: a.Text, Why: "no answer yet" + after(" from ", a.Whom), Path: "/questions" + of + a.ID})
		}
	}
	return err
}

// assemblies are those of an airframe with their setups and judged holds, all from
// what was worked out before.
func (w *Workshop) assemblies(ctx context.Context, q *query.Queries, frame airframe.Airframe) ([]Assembly, error) {
	list, err := airframe.Assemblies(ctx, q, frame.ID)
	if err != nil {
		return nil, err
	}
	setups, err := w.Measuring.Briefs(ctx, q, frame)
	if err != nil {
		return nil, err
	}
	kept, err := gate.All(q.Holds(ctx, frame.ID))
	if err != nil {
		return nil, err
	}
	names := map[string]string{}
	at := map[string]int{}
	out := make([]Assembly, len(list))
	for i, a := range list {
		out[i], at[a.ID], names[a.ID] = Assembly{Assembly: a}, i, a.Name
	}
	holds, err := w.Holding.Judge(ctx, q, frame, names, kept)
	if err != nil {
		return nil, err
	}
	for _, s := range setups {
		into := &out[at[s.AssemblyID]]
		into.Setups = append(into.Setups, s)
	}
	for _, h := range holds {
		into := &out[at[h.AssemblyID]]
		into.Holds = append(into.Holds, h)
	}
	for i := range out {
		out[i].judge()
	}
	return out, nil
}

// judge finds how far the assembly is, from its setups and holds.
func (s *Assembly) judge() {
	s.State = Loose
	if len(s.Setups) > 0 {
		s.State, s.Note = InSetup, s.Setups[len(s.Setups)-1].Name
	}
	if s.Before != "" {
		s.State, s.Note = Permanent, s.Before
	}
	for _, h := range s.Holds {
		_, stopped := h.Judgement.Stopped()
		switch {
		case h.Spent():
			s.State, s.Note = Permanent, h.Permanent
			continue
		case h.Waiting():
			s.State, s.Note = Released, "by "+h.Released+", "+h.Step
		case stopped:
			s.State, s.Note = Owed, h.Judgement.Telling().Why
		case h.Judgement.Standing == hold.Met:
			s.State, s.Note = Held, "ready to release"
		case h.Judgement.Standing != hold.Missing:
			s.State, s.Note = Held, h.Judgement.Worst().Why
		default:
			s.State, s.Note = InSetup, h.Judgement.Worst().Why
		}
		return
	}
}

// errands adds what can be done now at an assembly, and what is held.
func (home *Home) errands(s Assembly) {
	for _, setup := range s.Setups {
		for _, c := range setup.Checks {
			if c.Next == "" {
				continue
			}
			why := fmt.Sprintf("%d of %d taken", c.Taken, c.Wanted)
			if c.Stale > 0 {
				why = "stale since " + string(c.Disturbed)
			}
			home.Now = append(home.Now, Errand{What: s.Name + ": " + c.Next, Why: why, Path: setup.ID, Check: c.ID})
			break // one thing at a time in one setup
		}
	}
	for _, h := range s.Holds {
		first, left := h.Left()
		switch e := (Errand{What: s.Name + ": " + say.Lower(h.Name), Why: h.Judgement.Telling().Why, Path: h.ID, Hold: true}); {
		case h.Spent():
		case h.Waiting() && left > 0:
			e.What, e.Why, e.Row = s.Name+": set "+first.Name, say.Plural(left, "hole to go", "holes to go")+", released by "+h.Released, first.ID
			home.Now = append(home.Now, e)
		case h.Waiting():
			e.What, e.Why = "Record: "+say.Lower(h.Name), "released by "+h.Released
			home.Now = append(home.Now, e)
		case h.Judgement.Standing == hold.Met:
			e.What, e.Why = "Release: "+say.Lower(h.Name), "all that it asks for is shown"
			home.Now = append(home.Now, e)
		default:
			home.Held = append(home.Held, e)
		}
	}
	if s.State == Permanent {
		home.Done++
	}
}

// SetupList lists the setups of all aircraft.
func (w *Workshop) SetupList(ctx context.Context) (list []measuring.Brief, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		frames, err := airframe.List(ctx, q)
		if err != nil {
			return err
		}
		for _, f := range frames {
			of, err := w.Measuring.Briefs(ctx, q, f)
			if err != nil {
				return err
			}
			list = append(list, of...)
		}
		return nil
	})
	return list, err
}

// Look is how an assembly looks in a list.
type Look struct {
	Shape airframe.Shape
	State State
}

// Looks are how the assemblies of all aircraft look in a list, by id, from what is recorded
// of their holds: whether their evidence is complete is not worked out for it.
func (w *Workshop) Looks(ctx context.Context) (looks map[string]Look, err error) {
	looks = map[string]Look{}
	err = w.view(ctx, func(q *query.Queries) error {
		frames, err := airframe.List(ctx, q)
		if err != nil {
			return err
		}
		for _, f := range frames {
			list, err := airframe.Assemblies(ctx, q, f.ID)
			if err != nil {
				return err
			}
			for _, a := range list {
				look := Look{a.Shape, Loose}
				if a.Before != "" {
					look.State = Permanent
				}
				looks[a.ID] = look
			}
			holds, err := gate.All(q.Holds(ctx, f.ID))
			if err != nil {
				return err
			}
			for _, h := range slices.Backward(holds) { // what is next at an assembly comes first, and so last here
				look := looks[h.AssemblyID]
				switch {
				case !h.Done && h.ReleaseID != "":
					look.State = Released
				case !h.Done:
					look.State = Held
				case look.State == Loose:
					look.State = Permanent
				}
				looks[h.AssemblyID] = look
			}
		}
		return nil
	})
	return looks, err
}

// HoldList lists the holds of all aircraft, by assembly, and how each assembly looks, by id.
func (w *Workshop) HoldList(ctx context.Context) (list []ListedHold, err error) {
	err = w.view(ctx, func(q *query.Queries) error {
		frames, err := airframe.List(ctx, q)
		if err != nil {
			return err
		}
		for _, f := range frames {
			of, err := w.assemblies(ctx, q, f)
			if err != nil {
				return err
			}
			for _, a := range of {
				for _, h := range a.Holds {
					list = append(list, ListedHold{Hold: h, Look: Look{a.Shape, a.State}})
				}
			}
		}
		at, err := w.Ledger.TimesOf(ctx, q, of(list, func(h ListedHold) int64 { return h.Revised }))
		for i := range list {
			list[i].At = at[list[i].Revised]
		}
		return err
	})
	return list, err
}

// ListedHold is a hold in a list, with how its assembly is drawn.
type ListedHold struct {
	holding.Hold
	Look Look
	At   time.Time // when it changed last
}

func of[T, V any](list []T, value func(T) V) []V {
	out := make([]V, len(list))
	for i, one := range list {
		out[i] = value(one)
	}
	return out
}
