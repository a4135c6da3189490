// Package closing keeps the spaces that a step closes: what is still to be done inside,
// and what was counted in and out.
package closing

import (
	"context"
	"fmt"
	"slices"
	"time"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Closing is the bays of a workshop.
type Closing struct {
	ledger *ledger.Ledger
	gate   *gate.Gate
}

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{
	Name:   "closing",
	Tables: ledger.Records("bays", "tasks", "counts", "reopenings", "bay_says"),
	Kinds:  ledger.Kinds(taskAdded, taskDone, ticked, counted, openedAgain, placed, mistaken),
}

// New returns the bays, and lets them provide their evidence.
func New(l *ledger.Ledger, g *gate.Gate) *Closing {
	c := &Closing{l, g}
	g.Register(gate.Provider{Needs: []hold.Need{hold.Inside}, Gather: c.inside})
	return c
}

// Bay is a space that a step closes.
type Bay struct {
	ID, Name     string
	AssemblyID   string
	AssemblyName string
	Airframe     airframe.Airframe
	Hold         gate.Hold // that closes it
	Ahead        int       // steps of the assembly that come before it is closed
	Tasks        []Task
	Counts       []Count // the last one first
	Opened       []Reopening
	Outside      []Outside // what was said to lie outside
	Also         []string  // ids of the other assemblies that it belongs to
	Within       string    // id of the bay that it lies in; "" for none
	Closes       []string  // ids of the rows that close it
}

// Outside is something that someone says to lie outside a bay.
type Outside struct{ ID, What, By string }

// Task is something to be done inside.
type Task struct {
	ID, What string
	By       string // who did it; "" while it is open
	At       time.Time
	Note     string // why it needs no doing
	Entry    int64  // the last that told of it
}

// Count is things that were brought in (above 0) or taken out.
type Count struct {
	ID     string
	Thing  string
	Number int
	By     string
	At     time.Time
}

// Out is how many were taken out.
func (c Count) Out() int { return -c.Number }

// Things are what is usually counted into a bay.
var Things = []string{"cleco 3/32", "cleco 1/8", "cleco 5/32", "shim", "tape", "tool"}

// One loads a bay.
func (c *Closing) One(ctx context.Context, q *query.Queries, id string) (Bay, error) {
	row, err := q.Bay(ctx, id)
	if err != nil {
		return Bay{}, ledger.Found(err)
	}
	list, err := c.load(ctx, q, []query.Bay{row})
	if err != nil {
		return Bay{}, err
	}
	return list[0], nil
}

// OfAssembly loads the bays of an assembly.
func (c *Closing) OfAssembly(ctx context.Context, q *query.Queries, assembly string) ([]Bay, error) {
	rows, err := q.BaysOfAssembly(ctx, assembly)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return c.load(ctx, q, rows)
}

// Ahead are the bays of an airframe that are not closed and have something to be done
// inside; holds are all those of the airframe.
func (c *Closing) Ahead(ctx context.Context, q *query.Queries, airframe string, holds []gate.Hold) ([]Bay, error) {
	rows, err := q.BaysOfAirframe(ctx, airframe)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	var list []Bay
	var ids []string
	for _, r := range rows {
		b := Bay{ID: r.ID, Name: r.Name, AssemblyID: r.AssemblyID}
		b.closes(r.ClosedBy, holds)
		if !b.Hold.Done {
			list, ids = append(list, b), append(ids, r.ID)
		}
	}
	if len(list) == 0 {
		return nil, nil
	}
	if err := c.fill(ctx, q, list, ids); err != nil {
		return nil, err
	}
	return slices.DeleteFunc(list, func(b Bay) bool { return len(b.ToDo()) == 0 }), nil
}

// ToDo are the tasks that are not done.
func (b Bay) ToDo() []string {
	var out []string
	for _, t := range b.Tasks {
		if t.By == "" {
			out = append(out, t.What)
		}
	}
	return out
}

// closes finds the hold that closes the bay among holds in their order, and how many of its
// assembly come before.
func (b *Bay) closes(id string, holds []gate.Hold) {
	for _, h := range holds {
		switch {
		case h.AssemblyID != b.AssemblyID:
		case h.ID == id:
			b.Hold = h
			return
		case !h.Done:
			b.Ahead++
		}
	}
}

// load reads bays of one assembly.
func (c *Closing) load(ctx context.Context, q *query.Queries, rows []query.Bay) ([]Bay, error) {
	frame, assembly, err := airframe.Of(ctx, q, rows[0].AssemblyID)
	if err != nil {
		return nil, err
	}
	holds, err := gate.All(q.HoldsOfAssembly(ctx, assembly.ID))
	if err != nil {
		return nil, err
	}
	list, ids := make([]Bay, len(rows)), make([]string, len(rows))
	for i, r := range rows {
		list[i], ids[i] = Bay{ID: r.ID, Name: r.Name, AssemblyID: r.AssemblyID, AssemblyName: assembly.Name, Airframe: frame}, r.ID
		list[i].closes(r.ClosedBy, holds)
	}
	return list, c.fill(ctx, q, list, ids)
}

func (c *Closing) fill(ctx context.Context, q *query.Queries, list []Bay, ids []string) error {
	tasks, err := q.TasksOfBays(ctx, ids)
	if err != nil {
		return fmt.Errorf("reading the tasks: %w", err)
	}
	for _, t := range tasks {
		b := &list[slices.Index(ids, t.BayID)]
		b.Tasks = append(b.Tasks, Task{t.ID, t.What, t.DoneBy, c.ledger.When(t.DoneAt), t.Note, t.Revised})
	}
	counts, err := q.CountsOfBays(ctx, ids)
	if err != nil {
		return fmt.Errorf("reading the counts: %w", err)
	}
	for _, n := range slices.Backward(counts) {
		b := &list[slices.Index(ids, n.BayID)]
		b.Counts = append(b.Counts, Count{n.ID, n.Thing, int(n.Number), n.ByName, c.ledger.When(n.At)})
	}
	said, err := q.SaidOfBays(ctx, ids)
	if err != nil {
		return fmt.Errorf("reading what was said of bays: %w", err)
	}
	for _, one := range said {
		switch b := &list[slices.Index(ids, one.BayID)]; one.Kind {
		case outside:
			b.Outside = append(b.Outside, Outside{one.Of, one.Note, one.ByName})
		case also:
			b.Also = append(b.Also, one.Of)
		case within:
			b.Within = one.Of
		case closes:
			b.Closes = append(b.Closes, one.Of)
		}
	}
	opened, _, err := c.reopened(ctx, q, ids)
	for i := range list {
		list[i].Opened = opened[list[i].ID]
	}
	return err
}

// inside is what is to be done in bays, what was counted there, and how each is reached.
func (c *Closing) inside(ctx context.Context, q *query.Queries, holds []gate.Hold, into *hold.Evidence) error {
	ids := gate.About(holds, hold.Inside)
	bays, err := q.BaysByID(ctx, ids)
	if err != nil {
		return err
	}
	for _, b := range bays {
		into.Bay(b.ID).Name = b.Name
	}
	tasks, err := q.TasksOfBays(ctx, ids)
	if err != nil {
		return err
	}
	if err := c.known(ctx, q, bays, ids, into); err != nil {
		return err
	}
	for _, t := range tasks {
		if b := into.Bay(t.BayID); t.DoneBy == "" && b.Outside["task:"+t.ID] == "" {
			b.Tasks = append(b.Tasks, t.What)
		}
	}
	counts, err := q.CountsOfBays(ctx, ids)
	if err != nil {
		return err
	}
	opened, last, err := c.reopened(ctx, q, ids)
	if err != nil {
		return err
	}
	for _, n := range counts {
		if n.Entry > last[n.BayID] { // what was counted before it was opened again is settled
			into.Bay(n.BayID).Count(n.Thing, int(n.Number))
		}
	}
	looks, err := gate.Looks(ctx, q, c.ledger, ids...)
	for _, b := range bays {
		bay := into.Bay(b.ID)
		bay.Access, bay.Empty = looks.Last(hold.Inside, b.ID, ""), looks.Last(hold.Inside, b.ID, gate.Empty)
		if again := opened[b.ID]; bay.Empty != nil && len(again) > 0 && bay.Empty.At.Before(again[len(again)-1].At) {
			bay.Empty = nil
		}
	}
	return err
}

// Made is a bay as the facts of an entry have it.
type Made struct {
	ID       string     `json:"id"`
	Assembly string     `json:"assembly"`
	Name     string     `json:"name"`
	ClosedBy string     `json:"closed_by"`
	Tasks    []madeTask `json:"tasks"`
}

type madeTask struct {
	ID   string `json:"id"`
	What string `json:"what"`
}

// Make returns the facts of a bay that a hold closes.
func Make(assembly, name, hold string, tasks []string) Made {
	m := Made{ID: BayOf(hold), Assembly: assembly, Name: name, ClosedBy: hold, Tasks: []madeTask{}}
	for i, t := range tasks {
		m.Tasks = append(m.Tasks, madeTask{ledger.Child(hold, fmt.Sprintf("task %d", i)), t})
	}
	return m
}

// BayOf is the id of the bay that is made with a hold.
func BayOf(hold string) string { return ledger.Child(hold, "bay") }

// Put writes a bay that was made.
func Put(ctx context.Context, q *query.Queries, e ledger.Entry, m Made) error {
	if err := q.AddBay(ctx, query.AddBayParams{ID: m.ID, AssemblyID: m.Assembly, Name: m.Name, ClosedBy: m.ClosedBy, Entry: e.Seq, Revised: e.Seq}); err != nil {
		return err
	}
	for i, t := range m.Tasks {
		if err := q.AddTask(ctx, query.AddTaskParams{ID: t.ID, BayID: m.ID, What: t.What, Position: int64(i), Entry: e.Seq, Revised: e.Seq}); err != nil {
			return err
		}
	}
	return nil
}

// open loads a bay that is not closed, with the hold that closes it.
func open(ctx context.Context, q *query.Queries, id string) (title string, h gate.Hold, err error) {
	bay, err := q.Bay(ctx, id)
	if err != nil {
		return "", h, err
	}
	_, assembly, err := airframe.Of(ctx, q, bay.AssemblyID)
	if err != nil {
		return "", h, err
	}
	if h, err = gate.One(ctx, q, bay.ClosedBy); err != nil {
		return "", h, err
	}
	if h.Done {
		return "", h, ledger.Problems{"": bay.Name + " is closed"}
	}
	return assembly.Name + ", " + bay.Name, h, nil
}

// NewTask is something to be done in a bay.
type NewTask struct {
	ledger.Form
	Bay  string `json:"bay" form:"-"` // id
	What string `json:"task" form:"task" text:"lines"`
}

// inBay is what the facts of an entry say of a bay.
type inBay struct {
	Bay       string         `json:"bay"` // title
	What      string         `json:"what,omitempty"`
	Withdrawn gate.Withdrawn `json:"withdrawn"`
	Said      []saying       `json:"said,omitempty"`
}

var taskAdded = &ledger.Kind[NewTask, inBay]{
	Name: "task", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewTask, f inBay) error {
		if err := q.AddTask(ctx, query.AddTaskParams{ID: e.ID, BayID: n.Bay, What: n.What, Entry: e.Seq, Revised: e.Seq}); err != nil {
			return err
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Words: func(n NewTask, f inBay) ledger.Words {
		return ledger.Words{What: "task added: " + f.Bay + ": " + n.What}
	},
}

// AddTask adds something to be done in a bay before it is closed.
func (c *Closing) AddTask(ctx context.Context, n NewTask) error {
	wrong := ledger.Problems{}
	wrong.Text("task", &n.What, ledger.MaxNote, "what is to be done inside?")
	_, err := ledger.Do(ctx, c.ledger, taskAdded, n.Form, n, func(q *query.Queries) (f inBay, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		title, h, err := open(ctx, q, n.Bay)
		return inBay{Bay: title, Withdrawn: gate.Withdraw("there is something to be done inside again: "+n.What, h)}, err
	})
	return err
}

// TaskDone says that a task is done, or why it needs no doing.
type TaskDone struct {
	ledger.Form
	Bay  string `json:"bay" form:"-"`      // id
	Task string `json:"task" form:"which"` // id
	By   string `json:"by" form:"by"`
	Note string `json:"note,omitempty" form:"note" text:"lines"`
}

var taskDone = &ledger.Kind[TaskDone, inBay]{
	Name: "task-done", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n TaskDone, _ inBay) error {
		return q.FinishTask(ctx, query.FinishTaskParams{DoneBy: n.By, DoneAt: e.At, Note: n.Note, Revised: e.Seq, ID: n.Task})
	},
	Words: func(n TaskDone, f inBay) ledger.Words {
		return ledger.Words{What: "Done: " + f.Bay, Detail: say.Join(f.What, n.Note)}
	},
}

// FinishTask ticks a task off.
func (c *Closing) FinishTask(ctx context.Context, n TaskDone) error {
	wrong := ledger.Problems{}
	wrong.Text("by", &n.By, ledger.MaxName, "who did it?")
	wrong.Text("note", &n.Note, ledger.MaxNote, "")
	_, err := ledger.Do(ctx, c.ledger, taskDone, n.Form, n, func(q *query.Queries) (f inBay, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		title, _, err := open(ctx, q, n.Bay)
		if err != nil {
			return f, err
		}
		t, err := q.Task(ctx, n.Task)
		switch {
		case err != nil:
			return f, err
		case t.BayID != n.Bay:
			return f, ledger.ErrNotFound
		case t.DoneBy != "":
			return f, ledger.Problems{"": t.What + " was done already, by " + t.DoneBy}
		}
		return inBay{Bay: title, What: t.What, Withdrawn: gate.Withdraw("")}, nil
	})
	return err
}

// Ticked is what someone says of a bay at once: which tasks are done, how it is reached
// afterwards, and that nothing lies inside.
type Ticked struct {
	ledger.Form
	Bay       string   `json:"bay" form:"-"` // id
	Tasks     []string `json:"tasks,omitempty" form:"task"`
	Access    string   `json:"access,omitempty" form:"access" text:"lines"`
	Empty     bool     `json:"empty,omitempty" form:"empty"` // looked: nothing lies inside
	By        string   `json:"by" form:"by"`
	Outside   []string `json:"outside,omitempty" form:"outside"`     // what lies outside: "row:", "hold:", "check:", "task:" and an id
	Inside    []string `json:"inside,omitempty" form:"inside"`       // what does not, after all
	Reachable []string `json:"reachable,omitempty" form:"reachable"` // rows whose kept holes can still be reached
}

var ticked = &ledger.Kind[Ticked, inBay]{
	Name: "bay-ticked", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n Ticked, f inBay) error {
		for _, id := range n.Tasks {
			if err := q.FinishTask(ctx, query.FinishTaskParams{DoneBy: n.By, DoneAt: e.At, Revised: e.Seq, ID: id}); err != nil {
				return err
			}
		}
		for _, one := range f.Said {
			if err := one.put(ctx, q, e, n.Bay, n.By); err != nil {
				return err
			}
		}
		if n.Access != "" {
			if err := gate.PutInside(ctx, q, e, n.Bay, "", n.By, n.Access); err != nil {
				return err
			}
		}
		if n.Empty {
			if err := gate.PutInside(ctx, q, e, n.Bay, gate.Empty, n.By, "looked: nothing lies inside"); err != nil {
				return err
			}
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Words: func(n Ticked, f inBay) ledger.Words {
		empty := ""
		if n.Empty {
			empty = "looked: nothing lies inside"
		}
		return ledger.Words{What: "Done: " + f.Bay, Detail: say.Join(f.What, say.After("reached: ", n.Access), empty, f.saidWords())}
	},
}

// Tick says all that at once.
func (c *Closing) Tick(ctx context.Context, n Ticked) error {
	wrong := ledger.Problems{}
	wrong.Text("by", &n.By, ledger.MaxName, "who did it?")
	wrong.Text("access", &n.Access, ledger.MaxNote, "")
	if len(n.Tasks)+len(n.Outside)+len(n.Inside)+len(n.Reachable) == 0 && n.Access == "" && !n.Empty {
		wrong.Add("", "tick what is done")
	}
	_, err := ledger.Do(ctx, c.ledger, ticked, n.Form, n, func(q *query.Queries) (f inBay, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		title, h, err := open(ctx, q, n.Bay)
		if err != nil {
			return f, err
		}
		f = inBay{Bay: title, Withdrawn: gate.Withdraw("")}
		if len(n.Inside) > 0 {
			f.Withdrawn = gate.Withdraw("something lies inside after all", h)
		}
		if f.Said, err = c.sayings(ctx, q, n); err != nil {
			return f, err
		}
		var names []string
		for i, id := range n.Tasks {
			t, err := q.Task(ctx, id)
			switch {
			case err != nil:
				return f, err
			case t.BayID != n.Bay, slices.Contains(n.Tasks[:i], id):
				return f, ledger.ErrNotFound
			case t.DoneBy != "":
				return f, ledger.Problems{"": t.What + " was done already, by " + t.DoneBy}
			}
			names = append(names, t.What)
		}
		f.What = say.And(names...)
		return f, nil
	})
	return err
}

// NewCount is things brought into a bay, or taken out of it.
type NewCount struct {
	ledger.Form
	Bay    string `json:"bay" form:"-"` // id
	Thing  string `json:"thing" form:"thing"`
	Number int    `json:"number" form:"-"` // above 0 in, below 0 out
	By     string `json:"by" form:"by"`
}

// way is in or out.
func (n NewCount) way() string {
	if n.Number < 0 {
		return "out"
	}
	return "in"
}

var counted = &ledger.Kind[NewCount, inBay]{
	Name: "count", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n NewCount, f inBay) error {
		if err := q.AddCount(ctx, query.AddCountParams{ID: e.ID, BayID: n.Bay, Thing: n.Thing, Number: int64(n.Number), ByName: n.By, At: e.At, Entry: e.Seq}); err != nil {
			return err
		}
		return gate.PutWithdrawn(ctx, q, e, f.Withdrawn)
	},
	Words: func(n NewCount, f inBay) ledger.Words {
		return ledger.Words{What: "Counted: " + f.Bay, Detail: fmt.Sprintf("%d × %s counted %s", max(n.Number, -n.Number), n.Thing, n.way())}
	},
}

// Count counts things in or out.
func (c *Closing) Count(ctx context.Context, n NewCount) error {
	wrong := ledger.Problems{}
	wrong.Text("thing", &n.Thing, ledger.MaxName, "what is it?")
	wrong.Text("by", &n.By, ledger.MaxName, "who counted?")
	if n.Number == 0 || n.Number > 10_000 || n.Number < -10_000 {
		wrong.Add("number", "how many? A whole number above 0")
	}
	_, err := ledger.Do(ctx, c.ledger, counted, n.Form, n, func(q *query.Queries) (f inBay, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		title, h, err := open(ctx, q, n.Bay)
		return inBay{Bay: title, Withdrawn: gate.Withdraw(n.Thing+" was counted "+n.way()+" since", h)}, err
	})
	return err
}
