package riveting

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// HoleOperation is something done to holes of a row. It names the last entry that
// had changed the row when it was shown: a hole that was changed since is not as it was
// on screen.
type HoleOperation struct {
	ledger.Form
	Row     string        `json:"row"` // id
	Seen    int64         `json:"seen"`
	Numbers []int         `json:"numbers"`
	What    row.Operation `json:"what"`
	Cause   string        `json:"cause,omitempty"`
	Reason  string        `json:"reason,omitempty" text:"lines"`
	Keep    row.Keep      `json:"keep,omitzero"`
	Fit     row.Fit       `json:"fit,omitzero"`   // of oversize holes
	Reach   row.Reach     `json:"reach,omitzero"` // of holes that a later step puts out of reach
	Wait    row.Wait      `json:"wait,omitzero"`  // of holes at which something waits for a later step
	Crew    string        `json:"crew,omitempty"` // solo, with a bucker, or as the builder calls it
	By      string        `json:"by,omitempty"`
	After   string        `json:"after,omitempty"` // id of the operation that this page asked for before, which may have changed the hole since
	Skip    bool          `json:"skip,omitempty"`  // holes that are done, kept open or as far already are left as they are
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
	work
}

// work is what was done to a hole beyond being cleaned, as it is kept.
type work struct {
	Formed bool       `json:"f,omitempty"`
	Primed bool       `json:"p,omitempty"`
	Fit    row.Fit    `json:"fit,omitzero"`
	Reach  row.Reach  `json:"reach,omitzero"`
	Early  string     `json:"early,omitempty"` // of a kept hole: whether it may be formed before
	Waits  []row.Wait `json:"waits,omitempty"`
}

// kept is the work as the record has it, "" for none.
func (w work) kept() string {
	data, _ := json.Marshal(w) // of plain texts and numbers
	if string(data) == "{}" {
		return ""
	}
	return string(data)
}

func factOf(h row.Hole) holeFact {
	return holeFact{h.Number, h.State, h.Clean, h.Over, h.Spoilt, h.Tried, h.Keep, work{h.Formed, h.Primed, h.Fit, h.Reach, h.Keep.Early, h.Waits}}
}

// hole is the hole with the state of the fact.
func (f holeFact) hole() row.Hole {
	return row.Hole{Number: f.Number, State: f.State, Clean: f.Clean, Over: f.Over, Spoilt: f.Spoilt, Tried: f.Tried, Keep: f.Keep, Formed: f.Formed, Primed: f.Primed, Fit: f.Fit, Reach: f.Reach, Waits: f.Waits}
}

func factsOf(holes []row.Hole) []holeFact {
	out := make([]holeFact, len(holes))
	for i, h := range holes {
		out[i] = factOf(h)
	}
	return out
}

// worked is what an operation was judged to be.
type worked struct {
	Row       string         `json:"row"` // name
	Assembly  string         `json:"assembly"`
	Before    []workedAt     `json:"before"` // at each hole that was named
	After     []holeFact     `json:"after"`
	Turned    bool           `json:"turned,omitempty"` // one hole of the sample sticks: the row is match-drilled
	Withdrawn gate.Withdrawn `json:"withdrawn"`
	Shuts     *gate.Step     `json:"shuts,omitempty"`  // the step of the closing that its first rivet takes
	Opened    string         `json:"opened,omitempty"` // the hold whose joint is opened again: more than half of it is drilled out
	Since     string         `json:"since,omitempty"`  // it waited out of reach, and the release under which it was made ended since: why
}

// numbers are the holes at which something was done.
func (f worked) numbers() []int {
	out := make([]int, len(f.Before))
	for i, b := range f.Before {
		out[i] = b.Number
	}
	return out
}

type workedAt struct {
	Number   int             `json:"n"`
	Fastener string          `json:"f,omitempty"` // that went in
	Hole     json.RawMessage `json:"hole"`        // as it was
}

var operated = &ledger.Kind[HoleOperation, worked]{
	Name: "holes", Version: 1, Bears: ledger.Permanent, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n HoleOperation, f worked) error {
		for _, b := range f.Before {
			err := q.AddOperation(ctx, query.AddOperationParams{Entry: e.Seq, RowID: n.Row, Number: int64(b.Number), Submission: e.ID, What: string(n.What), Cause: n.Cause, Crew: n.Crew, ByName: n.By, At: e.At, Fastener: b.Fastener, Before: string(b.Hole)})
			if err != nil {
				return err
			}
		}
		if f.Turned {
			if err := q.TurnMatchDrilled(ctx, n.Row); err != nil {
				return err
			}
		}
		if f.Shuts != nil {
			shut := *f.Shuts
			shut.By = n.By
			if err := gate.PutStep(ctx, q, e, shut); err != nil {
				return err
			}
		}
		if f.Opened != "" {
			if err := gate.PutUndone(ctx, q, e, f.Opened); err != nil {
				return err
			}
		}
		return putHoles(ctx, q, e, n.Row, f.After, f.Withdrawn)
	},
	Makes: func(_ string, n HoleOperation, f worked) []ledger.Made {
		made := []ledger.Made{{Row: n.Row, Numbers: f.numbers(), What: string(n.What)}}
		if f.Shuts != nil {
			made = append(made, ledger.Made{Hold: f.Shuts.Hold, Release: f.Shuts.Release})
		}
		return made
	},
	Derive: func(ctx context.Context, q *query.Queries, n HoleOperation, _ worked) error {
		return derive(ctx, q, n.Row)
	},
	Words: func(n HoleOperation, f worked) ledger.Words {
		turned := ""
		if f.Turned {
			turned = "one hole of the sample sticks: the row is match-drilled"
		}
		return ledger.Words{What: fmt.Sprintf("%s, %s, hole %s: %s", f.Assembly, f.Row, row.Runs(f.numbers()), n.What), Detail: say.Join(n.Cause, n.Crew, n.Fit.Says(), n.Reason, n.Keep.Part, say.After("after: ", n.Reach.Step), say.After("waits for: ", n.Wait.Step), turned, say.After("under a release that ended since: ", f.Since))}
	},
}

func putHoles(ctx context.Context, q *query.Queries, e ledger.Entry, rowID string, after []holeFact, withdrawn gate.Withdrawn) error {
	for _, h := range after {
		err := q.ChangeHole(ctx, query.ChangeHoleParams{State: string(h.State), Clean: flag(h.Clean), Over: flag(h.Over), Spoilt: int64(h.Spoilt), Tried: h.Tried,
			KeepPart: h.Keep.Part, KeepStep: h.Keep.Step, KeepHold: h.Keep.Hold, Work: h.kept(), Until: h.Reach.Step, Revised: e.Seq, RowID: rowID, Number: int64(h.Number)})
		if err != nil {
			return err
		}
	}
	if err := q.ReviseRow(ctx, query.ReviseRowParams{Revised: e.Seq, ID: rowID}); err != nil {
		return err
	}
	return gate.PutWithdrawn(ctx, q, e, withdrawn)
}

func flag(b bool) int64 {
	if b {
		return 1
	}
	return 0
}

// Operate does one thing to one or more holes of a row, all or none. Problems are at
// "", and at the field that mends them: cause, reason, part, step.
func (s *Riveting) Operate(ctx context.Context, n HoleOperation) error {
	wrong := ledger.Problems{}
	wrong.Text("reason", &n.Reason, ledger.MaxNote, "")
	wrong.Text("part", &n.Keep.Part, ledger.MaxName, "")
	wrong.Text("step", &n.Keep.Step, ledger.MaxName, "")
	wrong.Text("after", &n.Reach.Step, ledger.MaxName, "")
	wrong.Text("until", &n.Wait.Step, ledger.MaxName, "")
	wrong.Text("fit", &n.Fit.Size, ledger.MaxName, "")
	wrong.Text("crew", &n.Crew, ledger.MaxName, "")
	wrong.Text("by", &n.By, ledger.MaxName, "")
	_, err := ledger.Do(ctx, s.ledger, operated, n.Form, n, func(q *query.Queries) (f worked, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		r, err := One(ctx, q, n.Row)
		if err != nil {
			return f, err
		}
		bay, err := r.reach(ctx, q)
		if err != nil {
			return f, err
		}
		if n.Keep.Hold, err = holdNamed(ctx, q, r, n.Keep.Step); err != nil {
			return f, err
		}
		if n.Reach.Hold, err = holdNamed(ctx, q, r, n.Reach.Step); err != nil {
			return f, err
		}
		if n.Wait.Hold, err = holdNamed(ctx, q, r, n.Wait.Step); err != nil {
			return f, err
		}
		after, err := s.after(ctx, q, r, n)
		if err != nil {
			return f, err
		}
		if err := frozen(ctx, q, r, n, after); err != nil {
			return f, err
		}
		f = worked{Row: r.Name, Assembly: r.AssemblyName, Turned: n.What == row.Stuck && r.Final, Withdrawn: r.inBay(bay, n.What)}
		if n.Reach.Hold != "" { // whoever released that step did not know of it
			shuts, err := gate.One(ctx, q, n.Reach.Hold)
			if err != nil {
				return f, err
			}
			f.Withdrawn = gate.Withdraw(fmt.Sprintf("holes of %s are out of reach after it, as was said since", r.Name), shuts)
		}
		for _, done := range after {
			number := done.Number
			before, _ := r.Hole(number)
			b := workedAt{Number: number}
			if n.What == row.Rivet || n.What == row.Spoil {
				b.Fastener = r.FastenerAt(before)
			}
			if b.Hole, err = json.Marshal(factOf(before)); err != nil {
				return f, err
			}
			f.Before = append(f.Before, b)
		}
		f.After = factsOf(after)
		if f.Turned {
			_, all := r.MatchDrilled(r.with(after))
			f.After = factsOf(all)
		}
		f.Since = r.since(n.What)
		if n.What == row.Rivet && r.Closes != "" {
			if f.Shuts, err = r.shuts(ctx, q); err != nil {
				return f, err
			}
		}
		if n.What == row.Out && r.Rivets.Done && r.opened(r.with(after)) {
			f.Opened = r.Rivets.ID
		}
		return f, nil
	})
	return err
}

// frozen refuses what cannot be taken back at a hole that waits for an answer.
func frozen(ctx context.Context, q *query.Queries, r Row, n HoleOperation, at []row.Hole) error {
	if !slices.Contains([]row.Operation{row.Drill, row.Form, row.Rivet, row.Enlarge}, n.What) {
		return nil
	}
	var holds []string
	if n.What == row.Rivet {
		holds = append(holds, "hold:"+r.Rivets.ID)
	} else {
		for _, d := range r.Drills {
			holds = append(holds, "hold:"+d.ID)
		}
	}
	list, err := gate.FrozenBy(ctx, q, append(holds, "row:"+n.Row)...)
	for _, f := range list {
		for _, h := range at {
			if f.Holds(h.Number) {
				return ledger.Problems{"": fmt.Sprintf("hole %d %s", h.Number, f.Says())}
			}
		}
	}
	return err
}

// since is why the release ended since, under which an operation was made that waited; "" for none.
func (r Row) since(what row.Operation) string {
	switch what {
	case row.Rivet:
		return r.Rivets.Since
	case row.Drill, row.Form, row.Enlarge:
		for _, d := range r.Drills {
			if d.Since != "" {
				return d.Since
			}
		}
	}
	return ""
}

// shuts is the step of the closing that the first rivet of the row takes: with it the inside is out
// of reach. It is refused while the closing is not released; nil once it is taken.
func (r Row) shuts(ctx context.Context, q *query.Queries) (*gate.Step, error) {
	kept, err := gate.One(ctx, q, r.Closes)
	if err != nil || kept.Done {
		return nil, err
	}
	then, err := gate.AsThen(ctx, q, kept)
	h := then[0]
	switch {
	case err != nil:
		return nil, err
	case !h.Waiting():
		return nil, ledger.Problems{"": "this row closes it, and " + hold.NotReleased(h.Name, h.Ended)}
	}
	return &gate.Step{Hold: h.ID, Release: h.ReleaseID, Note: "closed by " + r.Name}, nil
}

// opened tells whether more than half of the holes, or all pin holes, are drilled out and not set
// again: the joint is open, and asks anew.
func (r Row) opened(holes []row.Hole) bool {
	out := func(h row.Hole) bool { return h.State == row.Drilled || h.State == row.Bad }
	n, pins, pinsOut := 0, 0, 0
	fewest := r.FewestOf(holes)
	for _, h := range holes {
		if slices.Contains(fewest, h.Number) {
			pins++
		}
		if out(h) {
			n++
			if slices.Contains(fewest, h.Number) {
				pinsOut++
			}
		}
	}
	return 2*n > len(holes) || pins > 1 && pinsOut == pins
}

// with are the holes of the row with some of them changed.
func (r Row) with(changed []row.Hole) []row.Hole {
	all := slices.Clone(r.Holes)
	for i := range all {
		for _, h := range changed {
			if h.Number == all[i].Number {
				all[i] = h
			}
		}
	}
	return all
}

// holdNamed is the id of the hold of that name on the row's airframe, "" for none: the
// later step that a hole waits for may have one.
func holdNamed(ctx context.Context, q *query.Queries, r Row, name string) (string, error) {
	if name == "" {
		return "", nil
	}
	h, err := q.HoldNamed(ctx, query.HoldNamedParams{AirframeID: r.Airframe.ID, Name: name})
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return h.ID, err
}

// reach returns the hold that closes the bay of the row, nil where it lies in none; a
// closed one cannot be reached.
func (r Row) reach(ctx context.Context, q *query.Queries) (*gate.Hold, error) {
	if r.Shut != "" {
		return nil, ledger.Problems{"": r.Shut + " is closed, and " + r.AssemblyName + " lies inside it: nothing there can be reached"}
	}
	if r.Bay == "" {
		return nil, nil
	}
	bay, err := q.BayWithHold(ctx, r.Bay)
	if err != nil {
		return nil, fmt.Errorf("reading the bay of a row: %w", err)
	}
	if bay.HoldsNow.Done == 1 {
		return nil, ledger.Problems{"": bay.Name + " is closed: nothing in it can be reached"}
	}
	shut, err := gate.Shut(ctx, q, r.Bay)
	if err != nil {
		return nil, err
	}
	if shut != "" {
		return nil, ledger.Problems{"": bay.Name + " lies within " + shut + ", which is closed: nothing in it can be reached"}
	}
	h, err := gate.From(bay.HoldsNow)
	return &h, err
}

// inBay is what ends where something is done inside a bay.
func (r Row) inBay(bay *gate.Hold, what row.Operation) gate.Withdrawn {
	if bay == nil {
		return gate.Withdraw("")
	}
	return gate.Withdraw(fmt.Sprintf("something was done inside since (%s, %s)", r.Name, what), *bay)
}

// signed tells whether someone signed on the hold before riveting that the row is taken
// apart, deburred and cleared, and nothing was drilled after that; it is asked only where one of the
// holes is not cleaned by itself.
func (s *Riveting) signed(ctx context.Context, q *query.Queries, r Row, numbers []int) (bool, error) {
	if !slices.ContainsFunc(numbers, func(n int) bool {
		h, ok := r.Hole(n)
		a := r.AsksOf(h)
		return ok && (!h.Clean || a.Form != "" && !h.Formed || a.Prime && !h.Primed)
	}) {
		return false, nil
	}
	looks, err := gate.Looks(ctx, q, s.ledger, r.ID)
	if err != nil {
		return false, err
	}
	kept, err := q.LastDrilled(ctx, r.ID)
	if err != nil {
		return false, fmt.Errorf("reading when row %s was drilled: %w", r.Name, err)
	}
	drilled := s.ledger.When(kept)
	for _, what := range r.signedFor() {
		look := looks.Last(hold.Prepared, r.ID, what)
		if look == nil || look.Stale != "" || look.At.Before(drilled) {
			return false, nil
		}
	}
	return true, nil
}

// signedFor are the preparations that stand for what each hole was asked for.
func (r Row) signedFor() []string {
	out := []string{"deburred on both faces", "chips cleared"}
	if steps := r.Steps(r.Holes); slices.Contains(steps, row.Form) {
		out = append(out, hold.FormedWhereWanted)
	}
	if r.Works == row.Works[1] {
		out = append(out, "primed where wanted")
	}
	return out
}

// after is the holes after an operation.
func (s *Riveting) after(ctx context.Context, q *query.Queries, r Row, n HoleOperation) (after []row.Hole, err error) {
	if len(n.Numbers) == 0 {
		return nil, ledger.Problems{"": "which hole?"}
	}
	if sorted := slices.Sorted(slices.Values(n.Numbers)); len(slices.Compact(sorted)) < len(n.Numbers) {
		return nil, ledger.Problems{"": "a hole is named twice"}
	}
	signed := false
	if n.What == row.Rivet || n.What == row.Spoil {
		if signed, err = s.signed(ctx, q, r, n.Numbers); err != nil {
			return nil, err
		}
	}
	for _, number := range n.Numbers {
		h, ok := r.Hole(number)
		if !ok {
			return nil, ledger.Problems{"": fmt.Sprintf("there is no hole %d in this row", number)}
		}
		if err := s.shows(ctx, q, r, h, n.Seen, n.After); err != nil {
			return nil, err
		}
		come, err := stepCame(ctx, q, h)
		if err != nil {
			return nil, err
		}
		probe := h
		probe.Fit = n.Fit
		leave := r.leave(probe, come)
		leave.Signed = signed
		if leave.Waits, err = waitsCome(ctx, q, h); err != nil {
			return nil, err
		}
		if n.Skip && h.Past(n.What) {
			continue
		}
		h, err = h.Do(row.Asked{What: n.What, Cause: n.Cause, Reason: n.Reason, Keep: n.Keep, Fit: n.Fit, Reach: n.Reach, Wait: n.Wait}, leave)
		var refused *row.Refusal
		if errors.As(err, &refused) {
			return nil, ledger.Problems{refused.Field: refused.Why}
		}
		if err != nil {
			return nil, err
		}
		after = append(after, h)
	}
	if len(after) == 0 {
		return nil, ledger.Problems{"several": "all of these are done, kept open or as far already"}
	}
	return after, nil
}

// shows refuses what was asked of a hole that is not as it was on screen any more.
// What the same page did before it is no surprise to it: an entry that waited in a phone names the
// one before it there.
func (s *Riveting) shows(ctx context.Context, q *query.Queries, r Row, h row.Hole, seen int64, after string) error {
	if r.revised[h.Number] <= seen {
		return nil
	}
	if after != "" {
		e, err := q.EntryByID(ctx, after)
		if err == nil && e.Seq == r.revised[h.Number] {
			return nil
		}
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return fmt.Errorf("looking for what was asked before: %w", err)
		}
	}
	shown := fmt.Sprintf("hole %d as it was before", h.Number)
	first, err := q.FirstOperationSince(ctx, query.FirstOperationSinceParams{RowID: r.ID, Number: int64(h.Number), Seen: seen})
	switch {
	case errors.Is(err, sql.ErrNoRows):
	case err != nil:
		return err
	default:
		var was holeFact
		if err := json.Unmarshal([]byte(first.Before), &was); err != nil {
			return fmt.Errorf("reading what a hole was before: %w", err)
		}
		shown = fmt.Sprintf("hole %d %s", h.Number, was.hole().Shown())
	}
	return ledger.Moved(shown, string(h.Shown()))
}

// stepCame tells whether the step has come that a kept hole waits for.
func stepCame(ctx context.Context, q *query.Queries, h row.Hole) (bool, error) {
	if !h.Kept() || h.Keep.Hold == "" {
		return false, nil
	}
	waits, err := gate.One(ctx, q, h.Keep.Hold)
	return waits.Open(), err
}

// waitsCome tells of each hold that something at a hole waits for whether its step has come.
func waitsCome(ctx context.Context, q *query.Queries, h row.Hole) (map[string]bool, error) {
	if len(h.Waits) == 0 {
		return nil, nil
	}
	out := map[string]bool{}
	for _, w := range h.Waits {
		if w.Hold == "" {
			continue
		}
		waits, err := gate.One(ctx, q, w.Hold)
		if err != nil {
			return nil, err
		}
		out[w.Hold] = waits.Done
	}
	return out, nil
}

// UndoOf takes a submission back: what was keyed was not what was done. It names the
// one that it undoes.
type UndoOf struct {
	ledger.Form
	Row    string `json:"row" form:"-"` // id
	Undoes string `json:"undoes" form:"undoes"`
	By     string `json:"by,omitempty" form:"by"`
}

// tookBack is what an undo was judged to be.
type tookBack struct {
	Row       string         `json:"row"`
	Assembly  string         `json:"assembly"`
	What      row.Operation  `json:"what"` // that was undone
	Numbers   []int          `json:"numbers"`
	After     []holeFact     `json:"after"`
	Withdrawn gate.Withdrawn `json:"withdrawn"`
}

var undone = &ledger.Kind[UndoOf, tookBack]{
	Name: "holes-undone", Version: 1, Bears: ledger.Permanent, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n UndoOf, f tookBack) error {
		if err := q.UndoOperations(ctx, query.UndoOperationsParams{RowID: n.Row, Submission: n.Undoes}); err != nil {
			return err
		}
		return putHoles(ctx, q, e, n.Row, f.After, f.Withdrawn)
	},
	Derive:    func(ctx context.Context, q *query.Queries, n UndoOf, _ tookBack) error { return derive(ctx, q, n.Row) },
	TakesBack: func(n UndoOf, _ tookBack) []string { return []string{n.Undoes} },
	Makes: func(_ string, n UndoOf, f tookBack) []ledger.Made {
		if f.What != row.NotSet { // a rivet that was said not to be in is in again
			return nil
		}
		return []ledger.Made{{Row: n.Row, Numbers: f.Numbers, What: string(row.Rivet)}}
	},
	Words: func(_ UndoOf, f tookBack) ledger.Words {
		return ledger.Words{What: fmt.Sprintf("%s, %s, hole %s: %s, undone", f.Assembly, f.Row, row.Runs(f.Numbers), f.What)}
	},
}

// undoDepth is how far back a row can be undone.
const undoDepth = 10

// LastDone are the submissions of a row that can be undone, the last one first: those
// among its last ten that the hand did, and that nothing came after which was found out
// (a hole that sticks) or decided for good (one that is abandoned).
func LastDone(ctx context.Context, q *query.Queries, rowID string) ([]Undoable, error) {
	list, _, err := undoable(ctx, q, rowID)
	return list, err
}

func undoable(ctx context.Context, q *query.Queries, rowID string) (list []Undoable, before map[string][]row.Hole, err error) {
	rows, err := q.LastOperations(ctx, query.LastOperationsParams{Row: rowID, Most: undoDepth})
	if err != nil {
		return nil, nil, fmt.Errorf("reading what was done last: %w", err)
	}
	before = map[string][]row.Hole{}
	for _, o := range rows {
		what := row.Operation(o.What)
		if what == row.Stuck || what == row.Abandon {
			break
		}
		if o.Undone == 1 || !what.Undoable() {
			continue
		}
		var was holeFact
		if err := json.Unmarshal([]byte(o.Before), &was); err != nil {
			return nil, nil, fmt.Errorf("reading what a hole was before: %w", err)
		}
		if len(list) == 0 || list[len(list)-1].ID != o.Submission {
			list = append(list, Undoable{ID: o.Submission, What: what})
		}
		last := &list[len(list)-1]
		last.Numbers = append(last.Numbers, int(o.Number))
		before[o.Submission] = append(before[o.Submission], was.hole())
	}
	return list, before, nil
}

// Undo takes the last submission of a row back. One that is not the last any more is
// refused, with what is.
func (s *Riveting) Undo(ctx context.Context, n UndoOf) error {
	_, err := ledger.Do(ctx, s.ledger, undone, n.Form, n, func(q *query.Queries) (f tookBack, err error) {
		r, err := One(ctx, q, n.Row)
		if err != nil {
			return f, err
		}
		bay, err := r.reach(ctx, q)
		if err != nil {
			return f, err
		}
		list, before, err := undoable(ctx, q, n.Row)
		if err != nil {
			return f, err
		}
		if len(list) == 0 {
			return f, ledger.Problems{"": "there is nothing to undo: only the last ten things done to a row are"}
		}
		last := list[0]
		if last.ID != n.Undoes {
			return f, ledger.Moved("another thing as the last one done", fmt.Sprintf("%s at hole %s", last.What, row.Runs(last.Numbers)))
		}
		f = tookBack{Row: r.Name, Assembly: r.AssemblyName, What: last.What, Numbers: last.Numbers, Withdrawn: r.inBay(bay, last.What)}
		for _, was := range before[last.ID] {
			h, _ := r.Hole(was.Number)
			h, err := h.Undo(was)
			if err != nil {
				return f, ledger.Problems{"": err.Error()}
			}
			f.After = append(f.After, factOf(h))
		}
		return f, nil
	})
	return err
}

// ChooseBarrier is the builder's choice where the metals of a row meet.
type ChooseBarrier struct {
	ledger.Form
	Row    string `json:"row" form:"-"` // id
	Choice string `json:"choice" form:"choice" text:"lines"`
	By     string `json:"by" form:"by"`
}

// named is a row by its name.
type named struct {
	Name string `json:"name"`
}

var barrierChosen = &ledger.Kind[ChooseBarrier, named]{
	Name: "barrier", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Make},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n ChooseBarrier, _ named) error {
		return q.ChooseBarrier(ctx, query.ChooseBarrierParams{Barrier: n.Choice, Planned: e.Seq, Revised: e.Seq, ID: n.Row})
	},
	Derive: func(ctx context.Context, q *query.Queries, n ChooseBarrier, _ named) error {
		return derive(ctx, q, n.Row)
	},
	Words: func(n ChooseBarrier, f named) ledger.Words {
		return ledger.Words{What: f.Name + ": where metals meet: " + n.Choice}
	},
}

// ChooseBarrier keeps the choice.
func (s *Riveting) ChooseBarrier(ctx context.Context, n ChooseBarrier) error {
	wrong := ledger.Problems{}
	wrong.Text("choice", &n.Choice, ledger.MaxNote, "what keeps them apart, or why may they touch?")
	wrong.Text("by", &n.By, ledger.MaxName, "who decided it?")
	_, err := ledger.Do(ctx, s.ledger, barrierChosen, n.Form, n, func(q *query.Queries) (f named, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		r, err := One(ctx, q, n.Row)
		return named{r.AssemblyName + ", " + r.Name}, err
	})
	return err
}

// references are ids that may be none.
func references(ids []string) []sql.NullString {
	out := make([]sql.NullString, len(ids))
	for i, id := range ids {
		out[i] = gate.Reference(id)
	}
	return out
}
