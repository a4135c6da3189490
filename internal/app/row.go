package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/journal"
	"orpine/internal/core/row"
	"orpine/internal/core/stock"
	"orpine/internal/store/query"
)

// Row is a row of holes of an assembly.
type Row struct {
	ID, Name     string
	Airframe     Airframe
	AssemblyID   string
	AssemblyName string
	row.Row
	Line    Line
	Barrier string // what the builder chose where metals meet
	Holes   []row.Hole
	Rivets  RowHold   // stands before setting
	Drills  []RowHold // stand before drilling to size
	Bay     string    // id of the space that it lies in
	fitted  map[string]row.Advice
}

// fit is what goes into a hole, worked out once for all that are alike.
func (r Row) fit(h row.Hole) row.Advice {
	key := r.Key(h)
	a, ok := r.fitted[key]
	if !ok {
		a = r.Fit(h)
		r.fitted[key] = a
	}
	return a
}

// Line is where a row lies on its assembly, in airframe axes in mm.
type Line struct {
	View string     `json:"view"` // above (x, y) or left (x, z)
	From [2]float64 `json:"from"`
	To   [2]float64 `json:"to"`
}

// RowHold is a hold as far as a row needs it.
type RowHold struct {
	ID, Name, Step string
	Pins           bool   // it stands before the pin holes alone
	Released       string // by whom; "" while it is not
	Done           bool
}

// Open tells whether its step may be taken.
func (h RowHold) Open() bool { return h.Released != "" || h.Done }

// Hole returns the hole of that number.
func (r Row) Hole(number int) (row.Hole, bool) {
	i := slices.IndexFunc(r.Holes, func(h row.Hole) bool { return h.Number == number })
	if i < 0 {
		return row.Hole{}, false
	}
	return r.Holes[i], true
}

// Count is how many holes are shown in a state.
func (r Row) Count(s row.State) int {
	n := 0
	for _, h := range r.Holes {
		if h.Shown() == s {
			n++
		}
	}
	return n
}

// Missed are the holes that are neither done nor kept open.
func (r Row) Missed() []int { return row.Missed(r.Holes) }

// FastenerAt names what goes into a hole, as stock knows it: "solid 1/8 × 6 mm".
func (r Row) FastenerAt(h row.Hole) string {
	a := r.fit(h)
	if r.Fastener.Sort == "blind" {
		return "blind " + a.Length
	}
	size := r.Fastener.Size
	if h.Over {
		size += " + 1"
	}
	return fmt.Sprintf("solid %s × %s", size, a.Length)
}

// SheetOfRow is a row with what its page needs beside it.
type SheetOfRow struct {
	Row
	Undo    []Undoable // the deeds that can be undone, the last one first
	Yield   []stock.Yield
	Lessons []Lesson
	Steps   []string // later steps that have a hold
}

// Undoable is a deed that was done to some holes of a row.
type Undoable struct {
	What    row.Deed
	Numbers []int
	entry   int64
}

// RowBrief is a row in a list.
type RowBrief struct {
	ID, Name string
	Holes    int
	Of       map[row.State]int
	Spoilt   int
}

// Row loads a row with its holes.
func (a *App) Row(ctx context.Context, id string) (r Row, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		r, err = a.row(ctx, q, id)
		return err
	})
	return r, err
}

func (a *App) row(ctx context.Context, q *query.Queries, id string) (Row, error) {
	kept, err := q.Row(ctx, id)
	if err != nil {
		return Row{}, err
	}
	return a.loadRow(ctx, q, kept)
}

func (a *App) loadRow(ctx context.Context, q *query.Queries, kept query.RivetRow) (Row, error) {
	r := Row{ID: kept.ID, Name: kept.Name, AssemblyID: kept.AssemblyID, Barrier: kept.Barrier, Bay: kept.BayID.String, fitted: map[string]row.Advice{}}
	if err := errors.Join(json.Unmarshal([]byte(kept.Plan), &r.Row), json.Unmarshal([]byte(kept.Line), &r.Line)); err != nil {
		return r, fmt.Errorf("reading the plan of row %s: %w", kept.Name, err)
	}
	r.Final = kept.Final == 1
	assembly, err := q.Assembly(ctx, kept.AssemblyID)
	if err != nil {
		return r, err
	}
	r.AssemblyName = assembly.Name
	frame, err := q.Airframe(ctx, assembly.AirframeID)
	if err != nil {
		return r, err
	}
	if r.Airframe, err = airframe(frame); err != nil {
		return r, err
	}
	holes, err := q.Holes(ctx, kept.ID)
	if err != nil {
		return r, err
	}
	r.Holes = make([]row.Hole, len(holes))
	for i, h := range holes {
		r.Holes[i] = holeOf(h)
	}
	rivets, err := q.Hold(ctx, kept.RivetHold)
	if err != nil {
		return r, err
	}
	if r.Rivets, err = rowHold(ctx, q, rivets); err != nil {
		return r, err
	}
	drills, err := q.DrillHolds(ctx, kept.ID)
	if err != nil {
		return r, err
	}
	for _, d := range drills {
		h, err := rowHold(ctx, q, d)
		if err != nil {
			return r, err
		}
		r.Drills = append(r.Drills, h)
	}
	return r, nil
}

func holeOf(h query.Hole) row.Hole {
	return row.Hole{Number: int(h.Number), Along: h.Along, Across: h.Across, Pose: h.Pose, State: row.State(h.State), Clean: h.Clean == 1, Over: h.Over == 1,
		Spoilt: int(h.Spoilt), Tried: h.Tried, Keep: row.Keep{Part: h.KeepPart, Step: h.KeepStep, Hold: h.KeepHold}}
}

// rowHold finds how far a hold is without judging its evidence.
func rowHold(ctx context.Context, q *query.Queries, h query.Hold) (RowHold, error) {
	out := RowHold{ID: h.ID, Name: h.Name, Step: h.Step, Pins: h.Scope == "pins"}
	release, err := q.ReleaseInForce(ctx, h.ID)
	if errors.Is(found(err), ErrNotFound) {
		return out, nil
	}
	out.Released, out.Done = release.ByName, release.Spent == 1
	return out, err
}

// leave is what stands in the way of deeds at a hole.
func (a *App) leave(ctx context.Context, q *query.Queries, r Row, h row.Hole) (row.Leave, error) {
	l := row.Leave{Untried: r.Untried(r.Holes), Enlarge: r.Advise(h, r.Holes).Crowded()}
	if !r.Rivets.Open() {
		l.Rivet = fmt.Sprintf("the hold “%s” is not released", r.Rivets.Name)
	}
	for _, d := range r.Drills {
		covers := !d.Pins || slices.Contains(row.Fewest(r.Holes), h.Number)
		switch {
		case covers && d.Open():
			l.Drill = ""
			return l, a.lift(ctx, q, h, &l)
		case covers && l.Drill == "":
			l.Drill = fmt.Sprintf("the hold “%s” is not released", d.Name)
		case !covers && l.Drill == "":
			l.Drill = fmt.Sprintf("hole %d is not one of the pin holes, and only those are drilled before it is measured again", h.Number)
		}
	}
	return l, a.lift(ctx, q, h, &l)
}

// lift finds whether the step that a mark waits for has come.
func (a *App) lift(ctx context.Context, q *query.Queries, h row.Hole, l *row.Leave) error {
	if !h.Kept() {
		return nil
	}
	l.Lift = "that step has not come"
	if h.Keep.Hold == "" {
		return nil
	}
	_, err := q.ReleaseInForce(ctx, h.Keep.Hold)
	if errors.Is(found(err), ErrNotFound) {
		return nil
	}
	l.Lift = ""
	return err
}

// HoleDeed is something done to holes of a row.
type HoleDeed struct {
	ID      string   `json:"-"`
	Row     string   `json:"row"` // id
	Numbers []int    `json:"numbers"`
	What    row.Deed `json:"what"`
	Cause   string   `json:"cause,omitempty"`
	Reason  string   `json:"reason,omitempty"`
	Keep    row.Keep `json:"keep,omitzero"`
	Crew    string   `json:"crew,omitempty"` // solo, with a bucker, or as the builder calls it
	By      string   `json:"by,omitempty"`
}

// holeFact is a hole as the journal keeps it.
type holeFact struct {
	Number int       `json:"n"`
	State  row.State `json:"s"`
	Clean  bool      `json:"c,omitempty"`
	Over   bool      `json:"o,omitempty"`
	Spoilt int       `json:"b,omitempty"`
	Tried  string    `json:"t,omitempty"`
	Keep   row.Keep  `json:"k,omitzero"`
}

func factOf(h row.Hole) holeFact {
	return holeFact{h.Number, h.State, h.Clean, h.Over, h.Spoilt, h.Tried, h.Keep}
}

// hole is the hole with the state of the fact.
func (f holeFact) hole() row.Hole {
	return row.Hole{Number: f.Number, State: f.State, Clean: f.Clean, Over: f.Over, Spoilt: f.Spoilt, Tried: f.Tried, Keep: f.Keep}
}

// DoHoles does one thing to one or more holes of a row, all or none. Problems are at
// "", and at the field that mends them: cause, reason, part, step.
func (a *App) DoHoles(ctx context.Context, d HoleDeed) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("reason", &d.Reason, maxNote, "")
	wrong.text("part", &d.Keep.Part, maxName, "")
	wrong.text("step", &d.Keep.Step, maxName, "")
	wrong.text("crew", &d.Crew, maxName, "")
	wrong.text("by", &d.By, maxName, "")
	if err := wrong.err(); err != nil {
		return err
	}
	if kind, err := a.recorded(ctx, d.ID); kind == journal.Hole || err != nil {
		return err
	}
	var r Row
	var after []row.Hole
	err := a.view(ctx, func(q *query.Queries) (err error) {
		if r, err = a.row(ctx, q, d.Row); err != nil {
			return err
		}
		if err := a.stillOpen(ctx, q, r); err != nil {
			return err
		}
		if d.Keep.Hold, err = holdNamed(ctx, q, r, d.Keep.Step); err != nil {
			return err
		}
		after, err = a.done(ctx, q, r, d)
		return err
	})
	if err != nil {
		return err
	}
	turned := d.What == row.Stuck && r.Final
	if turned {
		var all []row.Hole
		for _, h := range r.Holes {
			if i := slices.IndexFunc(after, func(b row.Hole) bool { return b.Number == h.Number }); i >= 0 {
				h = after[i]
			}
			all = append(all, h)
		}
		_, after = r.MatchDrilled(all)
	}
	return a.writeHoles(ctx, r, d, after, turned)
}

// holdNamed is the id of the hold of that name on the row's airframe, "" for none: the
// later step that a hole waits for may have one.
func holdNamed(ctx context.Context, q *query.Queries, r Row, name string) (string, error) {
	if name == "" {
		return "", nil
	}
	holds, err := q.Holds(ctx, r.Airframe.ID)
	for _, h := range holds {
		if strings.EqualFold(h.Name, name) {
			return h.ID, err
		}
	}
	return "", err
}

// stillOpen refuses what is done to a row in a bay that is closed.
func (a *App) stillOpen(ctx context.Context, q *query.Queries, r Row) error {
	if r.Bay == "" {
		return nil
	}
	bay, err := q.Bay(ctx, r.Bay)
	if err != nil {
		return err
	}
	release, err := q.ReleaseInForce(ctx, bay.ClosedBy)
	switch {
	case errors.Is(found(err), ErrNotFound):
		return nil
	case err == nil && release.Spent == 1:
		return Problems{"": bay.Name + " is closed: nothing in it can be reached"}
	}
	return err
}

// done is the holes after a deed.
func (a *App) done(ctx context.Context, q *query.Queries, r Row, d HoleDeed) (after []row.Hole, err error) {
	if len(d.Numbers) == 0 {
		return nil, Problems{"": "which hole?"}
	}
	if sorted := slices.Sorted(slices.Values(d.Numbers)); len(slices.Compact(sorted)) < len(d.Numbers) {
		return nil, Problems{"": "a hole is named twice"}
	}
	for _, number := range d.Numbers {
		h, ok := r.Hole(number)
		if !ok {
			return nil, Problems{"": fmt.Sprintf("there is no hole %d in this row", number)}
		}
		leave, err := a.leave(ctx, q, r, h)
		if err != nil {
			return nil, err
		}
		h, err = h.Do(row.Asked{What: d.What, Cause: d.Cause, Reason: d.Reason, Keep: d.Keep}, leave)
		var refused *row.Refusal
		if errors.As(err, &refused) {
			return nil, Problems{refused.Field: refused.Why}
		}
		if err != nil {
			return nil, err
		}
		after = append(after, h)
	}
	return after, nil
}

// writeHoles records a deed: the holes after it, and how each was before.
func (a *App) writeHoles(ctx context.Context, r Row, d HoleDeed, after []row.Hole, turned bool) error {
	facts := map[string]any{"name": r.Name, "assembly": r.AssemblyName, "row": r.ID, "after": factsOf(after)}
	if turned {
		facts["says"] = "one hole of the sample sticks: the row is match-drilled"
	}
	return a.record(ctx, deed{d.ID, journal.Hole, d.By, d, facts}, func(q *query.Queries, entry int64) error {
		for _, h := range after {
			before, _ := r.Hole(h.Number)
			if slices.Contains(d.Numbers, h.Number) {
				kept, err := json.Marshal(factOf(before))
				if err != nil {
					return err
				}
				fastener := ""
				if d.What == row.Rivet || d.What == row.Spoil {
					fastener = r.FastenerAt(before)
				}
				err = q.AddDeed(ctx, query.AddDeedParams{Entry: entry, RowID: r.ID, Number: int64(h.Number), What: string(d.What), Cause: d.Cause, Crew: d.Crew, Fastener: fastener, Before: string(kept)})
				if err != nil {
					return err
				}
			}
			if err := changeHole(ctx, q, r.ID, h); err != nil {
				return err
			}
		}
		if turned {
			if err := q.TurnMatchDrilled(ctx, r.ID); err != nil {
				return err
			}
		}
		return reopen(ctx, q, r, d.What)
	})
}

func factsOf(holes []row.Hole) []holeFact {
	out := make([]holeFact, len(holes))
	for i, h := range holes {
		out[i] = factOf(h)
	}
	return out
}

func changeHole(ctx context.Context, q *query.Queries, rowID string, h row.Hole) error {
	return q.ChangeHole(ctx, query.ChangeHoleParams{State: string(h.State), Clean: number(h.Clean), Over: number(h.Over), Spoilt: int64(h.Spoilt), Tried: h.Tried,
		KeepPart: h.Keep.Part, KeepStep: h.Keep.Step, KeepHold: h.Keep.Hold, RowID: rowID, Number: int64(h.Number)})
}

func number(b bool) int64 {
	if b {
		return 1
	}
	return 0
}

// reopen withdraws the release before closing the bay of a row in which something was
// done since.
func reopen(ctx context.Context, q *query.Queries, r Row, what row.Deed) error {
	if r.Bay == "" {
		return nil
	}
	bay, err := q.Bay(ctx, r.Bay)
	if err != nil {
		return err
	}
	return q.WithdrawReleasesOfHold(ctx, query.WithdrawReleasesOfHoldParams{Why: fmt.Sprintf("something was done inside since (%s, %s)", r.Name, what), Hold: bay.ClosedBy})
}

// UndoLast is a wish to take the last deed of a row back.
type UndoLast struct {
	ID  string `json:"-"`
	Row string `json:"row"` // id
	By  string `json:"by,omitempty"`
}

// undoDepth is how far back a row can be undone.
const undoDepth = 10

// undoable are the deeds of a row that can be undone, the last one first: those among
// its last ten that the hand did, and that nothing came after which was found out (a hole
// that sticks) or decided for good (one that is abandoned).
func undoable(ctx context.Context, q *query.Queries, rowID string) (deeds []Undoable, before map[int64][]row.Hole, err error) {
	rows, err := q.LastDeeds(ctx, query.LastDeedsParams{Row: rowID, Most: undoDepth})
	if err != nil {
		return nil, nil, err
	}
	before = map[int64][]row.Hole{}
	for _, d := range rows {
		what := row.Deed(d.What)
		if what == row.Stuck || what == row.Abandon {
			break
		}
		if d.Undone == 1 || !what.Undoable() {
			continue
		}
		var was holeFact
		if err := json.Unmarshal([]byte(d.Before), &was); err != nil {
			return nil, nil, fmt.Errorf("reading what a hole was before: %w", err)
		}
		if len(deeds) == 0 || deeds[len(deeds)-1].entry != d.Entry {
			deeds = append(deeds, Undoable{What: what, entry: d.Entry})
		}
		last := &deeds[len(deeds)-1]
		last.Numbers = append(last.Numbers, int(d.Number))
		before[d.Entry] = append(before[d.Entry], was.hole())
	}
	return deeds, before, nil
}

// Undo takes the last deed of a row back: what was keyed was not what was done.
func (a *App) Undo(ctx context.Context, u UndoLast) error {
	defer a.alone()()
	if kind, err := a.recorded(ctx, u.ID); kind == journal.Hole || err != nil {
		return err
	}
	var r Row
	var last Undoable
	var after []row.Hole
	err := a.view(ctx, func(q *query.Queries) (err error) {
		if r, err = a.row(ctx, q, u.Row); err != nil {
			return err
		}
		if err := a.stillOpen(ctx, q, r); err != nil {
			return err
		}
		deeds, before, err := undoable(ctx, q, u.Row)
		if err != nil {
			return err
		}
		if len(deeds) == 0 {
			return Problems{"": "there is nothing to undo: only the last ten things done to a row are"}
		}
		last = deeds[0]
		for _, was := range before[last.entry] {
			h, _ := r.Hole(was.Number)
			h, err := h.Undo(was)
			if err != nil {
				return Problems{"": err.Error()}
			}
			after = append(after, h)
		}
		return nil
	})
	if err != nil {
		return err
	}
	facts := map[string]any{"name": r.Name, "assembly": r.AssemblyName, "row": r.ID, "undone": last.What, "numbers": last.Numbers, "after": factsOf(after)}
	return a.record(ctx, deed{u.ID, journal.Hole, u.By, u, facts}, func(q *query.Queries, _ int64) error {
		for _, h := range after {
			if err := changeHole(ctx, q, r.ID, h); err != nil {
				return err
			}
		}
		if err := q.UndoDeeds(ctx, query.UndoDeedsParams{RowID: r.ID, Entry: last.entry}); err != nil {
			return err
		}
		return reopen(ctx, q, r, last.What)
	})
}

// ChooseBarrier is the builder's choice where the metals of a row meet.
type ChooseBarrier struct {
	ID     string `json:"-"`
	Row    string `json:"row"` // id
	Choice string `json:"choice"`
	By     string `json:"by"`
}

// ChooseBarrier keeps the choice.
func (a *App) ChooseBarrier(ctx context.Context, n ChooseBarrier) error {
	defer a.alone()()
	wrong := Problems{}
	wrong.text("choice", &n.Choice, maxNote, "what keeps them apart, or why may they touch?")
	wrong.text("by", &n.By, maxName, "who decided it?")
	if err := wrong.err(); err != nil {
		return err
	}
	r, err := a.Row(ctx, n.Row)
	if err != nil {
		return err
	}
	facts := map[string]any{"name": r.AssemblyName + ", " + r.Name, "says": "where metals meet: " + n.Choice}
	return a.record(ctx, deed{n.ID, journal.Changed, n.By, n, facts}, func(q *query.Queries, _ int64) error {
		return q.ChooseBarrier(ctx, query.ChooseBarrierParams{Barrier: n.Choice, ID: n.Row})
	})
}

// RowSheet loads a row with what its page needs: what can be undone, its yield, and the
// lessons that apply.
func (a *App) RowSheet(ctx context.Context, id string) (s SheetOfRow, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		if s.Row, err = a.row(ctx, q, id); err != nil {
			return err
		}
		if s.Undo, _, err = undoable(ctx, q, id); err != nil {
			return err
		}
		tries, err := q.RivetsOfRow(ctx, id)
		if err != nil {
			return err
		}
		s.Yield = stock.By(triesOf(tries), func(t stock.Try) string { return t.Cause })
		holds, err := q.HoldsOfAssembly(ctx, s.AssemblyID)
		if err != nil {
			return err
		}
		for _, h := range holds {
			if h.ID != s.Rivets.ID {
				s.Steps = append(s.Steps, h.Name)
			}
		}
		s.Lessons, err = a.lessons(ctx, q, s.Airframe.ID, s.AssemblyName, "rivet")
		return err
	})
	return s, err
}
