package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/row"
	"orpine/internal/store/query"
)

// Bay is a space that a step closes.
type Bay struct {
	ID, Name     string
	AssemblyID   string
	AssemblyName string
	Airframe     Airframe
	Hold         RowHold // that closes it
	Ahead        int     // steps of the assembly that come before it is closed
	Tasks        []Task
	Counts       []Count // the last one first
	State        hold.BayState
	Photos       []Photo
	Rows         []RowBrief
}

// Task is something to be done inside.
type Task struct {
	ID, What string
	By       string // who did it; "" while it is open
	At       time.Time
	Note     string // why it needs no doing
}

// Count is things that were brought in (above 0) or taken out.
type Count struct {
	Thing  string
	Number int
	By     string
	At     time.Time
}

// Out is how many were taken out.
func (c Count) Out() int { return -c.Number }

// Things are what is usually counted into a bay.
var Things = []string{"cleco 3/32", "cleco 1/8", "cleco 5/32", "shim", "tape", "tool"}

// Bay loads a bay.
func (a *App) Bay(ctx context.Context, id string) (b Bay, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		if b, err = a.bay(ctx, q, id); err != nil {
			return err
		}
		rows, err := q.RowsOfBay(ctx, reference(id))
		if err != nil {
			return err
		}
		for _, r := range rows {
			b.Rows = append(b.Rows, RowBrief{ID: r.ID, Name: r.Name})
		}
		b.Photos, err = a.photos(ctx, q, id)
		return err
	})
	return b, err
}

func (a *App) bay(ctx context.Context, q *query.Queries, id string) (Bay, error) {
	kept, err := q.Bay(ctx, id)
	if err != nil {
		return Bay{}, err
	}
	b := Bay{ID: id, Name: kept.Name, AssemblyID: kept.AssemblyID, State: hold.BayState{Name: kept.Name}}
	assembly, err := q.Assembly(ctx, kept.AssemblyID)
	if err != nil {
		return b, err
	}
	b.AssemblyName = assembly.Name
	frame, err := q.Airframe(ctx, assembly.AirframeID)
	if err != nil {
		return b, err
	}
	if b.Airframe, err = airframe(frame); err != nil {
		return b, err
	}
	return b, errors.Join(a.closes(ctx, q, kept, &b), a.tasks(ctx, q, &b), a.counts(ctx, q, &b), a.insideRows(ctx, q, &b), a.seen(ctx, q, &b))
}

// closes finds the hold that closes the bay, and how many steps come before it.
func (a *App) closes(ctx context.Context, q *query.Queries, kept query.Bay, b *Bay) error {
	holds, err := q.HoldsOfAssembly(ctx, kept.AssemblyID)
	if err != nil {
		return err
	}
	for _, h := range holds {
		state, err := rowHold(ctx, q, h)
		if err != nil {
			return err
		}
		if h.ID == kept.ClosedBy {
			b.Hold = state
			return nil
		}
		if !state.Done {
			b.Ahead++
		}
	}
	return nil
}

func (a *App) tasks(ctx context.Context, q *query.Queries, b *Bay) error {
	rows, err := q.TasksOfBay(ctx, b.ID)
	for _, t := range rows {
		b.Tasks = append(b.Tasks, Task{t.ID, t.What, t.DoneBy, a.when(t.DoneAt), t.Note})
		if t.DoneBy == "" {
			b.State.Tasks = append(b.State.Tasks, t.What)
		}
	}
	return err
}

func (a *App) counts(ctx context.Context, q *query.Queries, b *Bay) error {
	rows, err := q.CountsOfBay(ctx, b.ID)
	for _, c := range rows {
		b.Counts = slices.Insert(b.Counts, 0, Count{c.Thing, int(c.Number), c.ByName, a.when(c.At)})
		i := slices.IndexFunc(b.State.Things, func(t hold.Thing) bool { return t.Name == c.Thing })
		if i < 0 {
			i, b.State.Things = len(b.State.Things), append(b.State.Things, hold.Thing{Name: c.Thing})
		}
		if c.Number > 0 {
			b.State.Things[i].In += int(c.Number)
		} else {
			b.State.Things[i].Out -= int(c.Number)
		}
	}
	return err
}

// insideRows finds the holes of its rows that are not done, and those that still hold a
// cleco.
func (a *App) insideRows(ctx context.Context, q *query.Queries, b *Bay) error {
	rows, err := q.RowsOfBay(ctx, reference(b.ID))
	if err != nil {
		return err
	}
	var pinned []string
	for _, r := range rows {
		holes, err := q.Holes(ctx, r.ID)
		if err != nil {
			return err
		}
		var numbers []int
		var all []row.Hole
		for _, h := range holes {
			all = append(all, holeOf(h))
			if row.State(h.State) == row.Pinned {
				numbers = append(numbers, int(h.Number))
			}
		}
		if missed := row.Missed(all); len(missed) > 0 {
			b.State.Rows = append(b.State.Rows, r.Name+": "+row.Runs(missed))
		}
		if len(numbers) > 0 {
			pinned = append(pinned, r.Name+": "+row.Runs(numbers))
		}
	}
	b.State.Pinned = strings.Join(pinned, "; ")
	return nil
}

// seen finds the photos, and how the bay is reached for upkeep.
func (a *App) seen(ctx context.Context, q *query.Queries, b *Bay) error {
	photos, err := q.PhotosOf(ctx, b.ID)
	if err != nil {
		return err
	}
	b.State.Photos = len(photos)
	b.State.Access, err = a.lastLook(ctx, q, hold.Inside, b.ID, "")
	return err
}

// BaysOf lists the bays of an assembly.
func (a *App) BaysOf(ctx context.Context, assembly string) (list []Bay, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		list, err = a.baysOf(ctx, q, assembly)
		return err
	})
	return list, err
}

func (a *App) baysOf(ctx context.Context, q *query.Queries, assembly string) (list []Bay, err error) {
	rows, err := q.BaysOfAssembly(ctx, assembly)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		b, err := a.bay(ctx, q, r.ID)
		if err != nil {
			return nil, err
		}
		list = append(list, b)
	}
	return list, nil
}

// openBay loads a bay that is not closed.
func (a *App) openBay(ctx context.Context, id string) (Bay, error) {
	b, err := a.Bay(ctx, id)
	if err == nil && b.Hold.Done {
		err = Problems{"": b.Name + " is closed"}
	}
	return b, err
}

// NewTask is something to be done in a bay.
type NewTask struct {
	ID   string `json:"-"`
	Bay  string `json:"bay"` // id
	What string `json:"task"`
}

// AddTask adds something to be done in a bay before it is closed.
func (a *App) AddTask(ctx context.Context, n NewTask) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("task", &n.What, maxNote, "what is to be done inside?")
	if err := wrong.err(); err != nil {
		return err
	}
	b, err := a.openBay(ctx, n.Bay)
	if err != nil {
		return err
	}
	return a.record(ctx, deed{n.ID, journal.Created, "", n, map[string]any{"what": "task", "name": b.AssemblyName + ", " + b.Name + ": " + n.What}}, func(q *query.Queries, entry int64) error {
		if err := q.AddTask(ctx, query.AddTaskParams{ID: n.ID, BayID: b.ID, What: n.What, Entry: entry}); err != nil {
			return err
		}
		return q.WithdrawReleasesOfHold(ctx, query.WithdrawReleasesOfHoldParams{Why: "there is something to be done inside again: " + n.What, Hold: b.Hold.ID})
	})
}

// TaskDone says that a task is done, or why it needs no doing.
type TaskDone struct {
	ID   string `json:"-"`
	Bay  string `json:"bay"`  // id
	Task string `json:"task"` // id
	By   string `json:"by"`
	Note string `json:"note,omitempty"`
}

// FinishTask ticks a task off.
func (a *App) FinishTask(ctx context.Context, n TaskDone) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("by", &n.By, maxName, "who did it?")
	wrong.text("note", &n.Note, maxNote, "")
	if err := wrong.err(); err != nil {
		return err
	}
	if kind, err := a.recorded(ctx, n.ID); kind == journal.Task || err != nil {
		return err
	}
	b, err := a.openBay(ctx, n.Bay)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(b.Tasks, func(t Task) bool { return t.ID == n.Task })
	if i < 0 {
		return ErrNotFound
	}
	if b.Tasks[i].By != "" {
		return Problems{"": b.Tasks[i].What + " was done already, by " + b.Tasks[i].By}
	}
	facts := map[string]any{"name": b.AssemblyName + ", " + b.Name, "says": b.Tasks[i].What}
	return a.record(ctx, deed{n.ID, journal.Task, n.By, n, facts}, func(q *query.Queries, _ int64) error {
		return q.FinishTask(ctx, query.FinishTaskParams{DoneBy: n.By, DoneAt: a.time(), Note: n.Note, ID: n.Task})
	})
}

// NewCount is things brought into a bay, or taken out of it.
type NewCount struct {
	ID     string `json:"-"`
	Bay    string `json:"bay"` // id
	Thing  string `json:"thing"`
	Number int    `json:"number"` // above 0 in, below 0 out
	By     string `json:"by"`
}

// Count counts things in or out.
func (a *App) Count(ctx context.Context, n NewCount) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("thing", &n.Thing, maxName, "what is it?")
	wrong.text("by", &n.By, maxName, "who counted?")
	if n.Number == 0 || n.Number > 10_000 || n.Number < -10_000 {
		wrong.Add("number", "how many? A whole number above 0")
	}
	if err := wrong.err(); err != nil {
		return err
	}
	b, err := a.openBay(ctx, n.Bay)
	if err != nil {
		return err
	}
	way := "in"
	if n.Number < 0 {
		way = "out"
	}
	facts := map[string]any{"name": b.AssemblyName + ", " + b.Name, "says": fmt.Sprintf("%d × %s counted %s", max(n.Number, -n.Number), n.Thing, way)}
	return a.record(ctx, deed{n.ID, journal.Counted, n.By, n, facts}, func(q *query.Queries, entry int64) error {
		if err := q.AddCount(ctx, query.AddCountParams{ID: n.ID, BayID: b.ID, Thing: n.Thing, Number: int64(n.Number), ByName: n.By, At: a.time(), Entry: entry}); err != nil {
			return err
		}
		return q.WithdrawReleasesOfHold(ctx, query.WithdrawReleasesOfHoldParams{Why: n.Thing + " was counted " + way + " since", Hold: b.Hold.ID})
	})
}
