package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/store/query"
)

// evidence gathers what a hold asks for, and nothing else.
func (a *App) evidence(ctx context.Context, q *query.Queries, h Hold) (hold.Evidence, error) {
	e := hold.Evidence{Checks: h.Setup.states(), Again: map[string]hold.CheckState{}, Parts: map[string]hold.PartState{}, Rows: map[string]hold.RowState{}, Bays: map[string]hold.BayState{}, Before: map[string]hold.StepState{}}
	for _, c := range h.Setup.Checks {
		if c.AfterOf != "" {
			e.Again[c.AfterOf] = e.Checks[c.ID]
		}
	}
	for _, r := range h.Required {
		var err error
		switch r.Need {
		case hold.Marked, hold.Prepared:
			if r.Of == "" {
				looks, err := a.looks(ctx, q, hold.Prepared, h.ID)
				if err != nil {
					return e, err
				}
				e.Rows[""] = hold.RowState{Name: "the work", Prepared: looks}
			} else if _, ok := e.Rows[r.Of]; !ok {
				e.Rows[r.Of], err = a.rowState(ctx, q, r.Of)
			}
		case hold.Handed:
			e.Parts[r.Of], err = a.partState(ctx, q, r.Of)
		case hold.Inside:
			e.Bays[r.Of], err = a.bayState(ctx, q, r.Of)
		case hold.Before:
			e.Before[r.Of], err = stepState(ctx, q, r.Of)
		case hold.Seconded:
			e.Second, err = a.lastLook(ctx, q, hold.Seconded, h.ID, "")
		}
		if err != nil {
			return e, err
		}
	}
	return e, nil
}

func stepState(ctx context.Context, q *query.Queries, id string) (hold.StepState, error) {
	kept, err := q.Hold(ctx, id)
	if err != nil {
		return hold.StepState{}, err
	}
	state, err := rowHold(ctx, q, kept)
	return hold.StepState{Name: kept.Name, Done: state.Done}, err
}

// lastLook is the last time that someone looked at something.
func (a *App) lastLook(ctx context.Context, q *query.Queries, need hold.Need, of, what string) (*hold.Look, error) {
	looks, err := a.looks(ctx, q, need, of)
	return looks[what], err
}

// looks are the last looks at something, by what was looked at of it.
func (a *App) looks(ctx context.Context, q *query.Queries, need hold.Need, of string) (map[string]*hold.Look, error) {
	rows, err := q.LooksOf(ctx, of)
	if err != nil {
		return nil, err
	}
	out := map[string]*hold.Look{}
	for _, l := range rows {
		if l.Need == string(need) {
			out[l.What] = &hold.Look{By: l.ByName, Second: l.SecondName, Note: l.Note, At: a.when(l.At), Stale: measure.Event(l.Event.String)}
		}
	}
	return out, nil
}

// rowState is how far a row is made ready for its rivets.
func (a *App) rowState(ctx context.Context, q *query.Queries, id string) (hold.RowState, error) {
	r, err := a.row(ctx, q, id)
	if err != nil {
		return hold.RowState{}, err
	}
	s := hold.RowState{Name: r.Name, Open: r.Count(row.Open), Kept: keptSays(r.Holes), Untried: len(r.Untried(r.Holes)), Left: len(r.Missed())}
	if s.Marked, err = a.lastLook(ctx, q, hold.Marked, id, ""); err != nil {
		return s, err
	}
	if s.Prepared, err = a.looks(ctx, q, hold.Prepared, id); err != nil {
		return s, err
	}
	s.Lengths, s.Length = r.Lengths()
	return s, nil
}

// keptSays says which holes stay open, for what and until when.
func keptSays(holes []row.Hole) []string {
	var out []string
	var keeps []row.Keep
	of := map[row.Keep][]int{}
	for _, h := range holes {
		if !h.Kept() {
			continue
		}
		if of[h.Keep] == nil {
			keeps = append(keeps, h.Keep)
		}
		of[h.Keep] = append(of[h.Keep], h.Number)
	}
	for _, k := range keeps {
		out = append(out, fmt.Sprintf("%s for %s (%s)", row.Runs(of[k]), k.Part, k.Step))
	}
	return out
}

// Lengths is the worst verdict over what goes into each hole that is still to be set,
// and says of which and why.
func (r Row) Lengths() (worst measure.Verdict, says string) {
	worst = measure.Go
	var holes []int
	for _, h := range r.Holes {
		if h.Done() {
			continue
		}
		advice := r.fit(h)
		v := advice.Verdict()
		if v == measure.None && advice.Length == "" {
			v = measure.Stop // no length fits
		}
		if v > worst {
			worst, holes, says = v, nil, ""
		}
		if v == worst && v > measure.Go {
			holes = append(holes, h.Number)
			if says == "" {
				says = advice.Says()
			}
		}
	}
	if says != "" {
		says = fmt.Sprintf("%s %s: %s", map[bool]string{true: "hole", false: "holes"}[len(holes) == 1], row.Runs(holes), says)
	}
	return worst, says
}

// bayState is what lies inside a bay.
func (a *App) bayState(ctx context.Context, q *query.Queries, id string) (hold.BayState, error) {
	b, err := a.bay(ctx, q, id)
	if err != nil {
		return hold.BayState{}, err
	}
	return b.State, nil
}

// A LookAt is what someone answers for by name.
type LookAt struct {
	ID     string    `json:"-"`
	Need   hold.Need `json:"need"`
	Of     string    `json:"of"` // id of the row, part, bay or hold
	What   []string  `json:"what,omitempty"`
	By     string    `json:"by"`
	Second string    `json:"second,omitempty"`
	Note   string    `json:"note,omitempty"`
}

// Look keeps what someone looked at. Problems are at "by", "second", "note" and "what".
func (a *App) Look(ctx context.Context, l LookAt) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("by", &l.By, maxName, "who looked?")
	wrong.text("second", &l.Second, maxName, "")
	wrong.text("note", &l.Note, maxNote, "")
	switch l.Need {
	case hold.Prepared:
		if len(l.What) == 0 {
			wrong.Add("what", "tick what is done")
		}
		for _, what := range l.What {
			if !slices.Contains(hold.Preparations, what) {
				wrong.Add("what", "choose from the list")
			}
		}
	case hold.Handed:
		if l.Second == "" || strings.EqualFold(l.Second, l.By) {
			wrong.Add("second", "two people look at a hand: who was the other?")
		}
	case hold.Inside:
		if l.Note == "" {
			wrong.Add("note", "how is it reached once it is closed, or why need it not be?")
		}
	case hold.Marked, hold.Seconded:
	default:
		wrong.Add("", "there is nothing of that kind to look at")
	}
	if err := wrong.err(); err != nil {
		return err
	}
	name, err := a.lookedAt(ctx, l)
	if err != nil {
		return err
	}
	what := l.What
	if l.Need != hold.Prepared {
		what = []string{""}
	}
	facts := map[string]any{"name": name, "says": strings.Join(l.What, ", ")}
	return a.record(ctx, deed{l.ID, journal.Looked, l.By, l, facts}, func(q *query.Queries, entry int64) error {
		for i, w := range what {
			id := l.ID
			if i > 0 {
				id = fmt.Sprintf("%s-%d", l.ID, i)
			}
			if err := q.AddLook(ctx, query.AddLookParams{ID: id, Need: string(l.Need), Of: l.Of, What: w, ByName: l.By, SecondName: l.Second, Note: l.Note, At: a.time(), Entry: entry}); err != nil {
				return err
			}
		}
		return nil
	})
}

// lookedAt names what is looked at, and finds out whether it is there.
func (a *App) lookedAt(ctx context.Context, l LookAt) (name string, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		switch l.Need {
		case hold.Marked, hold.Prepared:
			r, err := q.Row(ctx, l.Of)
			name = r.Name
			if err == nil || l.Need == hold.Marked {
				return err
			}
		case hold.Handed:
			p, err := q.Part(ctx, l.Of)
			name = p.Name
			return err
		case hold.Inside:
			b, err := q.Bay(ctx, l.Of)
			name = b.Name
			return err
		}
		h, err := q.Hold(ctx, l.Of) // a second look, or work that has no row
		name = h.Name
		return err
	})
	return name, err
}
