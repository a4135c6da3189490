// Package loft is a workshop for tests: the demo's, a small bench, or an empty one, with
// a clock that the test moves and shorthand for a page that was just loaded.
package loft

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/cmd/wiring"
	"orpine/internal/airframe"
	"orpine/internal/closing"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/core/school"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/riveting"
	"orpine/internal/store"
	"orpine/internal/store/query"
)

// Passwords of tests are hashed cheaply: what hashing costs is no concern of theirs.
func init() {
	argon2id.DefaultParams = &argon2id.Params{Memory: 256, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32}
}

// Morning is when the tests begin.
var Morning = time.Date(2026, 5, 4, 10, 0, 0, 0, time.FixedZone("", 7200))

// Loft is a workshop in a test.
type Loft struct {
	*overview.Workshop
	T    testing.TB
	Data *store.Store
	Dir  string
	Now  time.Time
	next int
}

// demoFile is the demo's data file, made once for all tests of a package.
var demoFile = sync.OnceValue(func() []byte {
	dir, err := os.MkdirTemp("", "orpine-loft-")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(dir)
	data, err := fill(dir)
	if err != nil {
		panic(err)
	}
	return data
})

func fill(dir string) ([]byte, error) {
	ctx, clock := context.Background(), new(demo.Clock)
	s, err := store.Open(ctx, dir)
	if err != nil {
		return nil, err
	}
	w, err := wiring.Open(ctx, s, clock.Now, Morning.Location())
	if err == nil {
		err = demo.Fill(ctx, w, clock, Morning)
	}
	if err := errors.Join(err, s.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(filepath.Join(dir, store.FileName))
}

// Demo is the demo's workshop.
func Demo(t testing.TB) *Loft {
	t.Helper()
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.FileName), demoFile(), 0o600))
	return In(t, dir)
}

// Empty is a workshop with nothing in it.
func Empty(t testing.TB) *Loft {
	t.Helper()
	return In(t, t.TempDir())
}

// In is the workshop of a folder.
func In(t testing.TB, dir string) *Loft {
	t.Helper()
	l := &Loft{T: t, Dir: dir, Now: Morning}
	var err error
	l.Data, err = store.Open(t.Context(), dir)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, l.Data.Close()) })
	l.Workshop, err = wiring.Open(t.Context(), l.Data, func() time.Time { return l.Now }, Morning.Location())
	require.NoError(t, err)
	return l
}

// Try opens the workshop of a folder that may not be one.
func Try(t testing.TB, dir string) (*overview.Workshop, error) {
	t.Helper()
	s, err := store.Open(t.Context(), dir)
	if err != nil {
		return nil, err
	}
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return wiring.Open(t.Context(), s, time.Now, Morning.Location())
}

// ID is the id of what a test calls by a name.
func ID(name string) string { return ledger.Child("a test", name) }

// Named is a submission of that name.
func Named(name string) ledger.Form { return ledger.Form{ID: ID(name)} }

// Form is a submission with an id of its own.
func (l *Loft) Form() ledger.Form {
	l.next++
	return Named(fmt.Sprint("submission ", l.next, l.T.Name()))
}

// Ctx is the context of the test.
func (l *Loft) Ctx() context.Context { return l.T.Context() }

// Problems are those that an error is.
func Problems(t testing.TB, err error) ledger.Problems {
	t.Helper()
	var p ledger.Problems
	require.ErrorAs(t, err, &p)
	plain := ledger.Problems{}
	for field, says := range p {
		plain[field] = say.Plain(says)
	}
	return plain
}

// Verify demands that the record holds, and returns the number of entries.
func (l *Loft) Verify() int64 {
	l.T.Helper()
	report, err := l.Ledger.Verify(l.Ctx())
	require.NoError(l.T, err)
	return report.Entries
}

// SetupOf loads a setup.
func (l *Loft) SetupOf(id string) measuring.Setup {
	l.T.Helper()
	s, err := l.Measuring.Setup(l.Ctx(), id)
	require.NoError(l.T, err)
	return s
}

// HoldOf loads a hold.
func (l *Loft) HoldOf(id string) holding.Hold {
	l.T.Helper()
	h, err := l.Holding.Hold(l.Ctx(), id)
	require.NoError(l.T, err)
	return h
}

// Waiting tells whether a release of a hold stands and is not spent.
func (l *Loft) Waiting(id string) (is bool) {
	l.T.Helper()
	require.NoError(l.T, l.Ledger.View(l.Ctx(), func(q *query.Queries) error {
		h, err := gate.One(l.Ctx(), q, id)
		is = h.Waiting()
		return err
	}))
	return is
}

// RowOf loads a row.
func (l *Loft) RowOf(id string) riveting.Row {
	l.T.Helper()
	r, err := l.Riveting.Row(l.Ctx(), id)
	require.NoError(l.T, err)
	return r
}

// LastAt is the last reading that counts at a spot, "" for none.
func LastAt(c measuring.Check, number int) string {
	if counting := c.Spots[number-1].Counting(); len(counting) > 0 {
		return counting[len(counting)-1].ID
	}
	return ""
}

// At fills in what a page shows at the spot of that number.
func (l *Loft) At(setup string, number int, n measuring.NewReading) measuring.NewReading {
	l.T.Helper()
	s := l.SetupOf(setup)
	c, ok := s.Check(n.Check)
	require.True(l.T, ok, "no such check in the setup")
	require.LessOrEqual(l.T, number, len(c.Spots), "no such spot")
	if n.ID == "" {
		n.Form = l.Form()
	}
	n.Spot, n.State, n.Last = c.Spots[number-1].Key(), s.State, LastAt(c, number)
	return n
}

// Take takes a reading at the spot of that number, as from a page just loaded.
func (l *Loft) Take(setup string, number int, n measuring.NewReading) error {
	l.T.Helper()
	return l.Measuring.Take(l.Ctx(), l.At(setup, number, n))
}

// Moved says that something happened to a setup.
func (l *Loft) Moved(setup string, what measure.Event) {
	l.T.Helper()
	require.NoError(l.T, l.Measuring.SomethingMoved(l.Ctx(), measuring.SomethingMoved{Form: l.Form(), Setup: setup, State: l.SetupOf(setup).State, What: what}))
}

// TakeBack takes a reading back.
func (l *Loft) TakeBack(check, reading, reason string) error {
	return l.Measuring.TakeBack(l.Ctx(), measuring.TakeBack{Form: l.Form(), Check: check, Reading: reading, Reason: reason})
}

// Redefine changes a check of a setup.
func (l *Loft) Redefine(setup string, n measuring.Redefine) error {
	l.T.Helper()
	c, ok := l.SetupOf(setup).Check(n.Check)
	require.True(l.T, ok, "no such check in the setup")
	if n.ID == "" {
		n.Form = l.Form()
	}
	n.Seen = c.Redefined
	return l.Measuring.Redefine(l.Ctx(), n)
}

// Held says whether the part of a check is held down.
func (l *Loft) Held(setup, check string, held bool) {
	l.T.Helper()
	require.NoError(l.T, l.Redefine(setup, measuring.Redefine{Check: check, Held: &held}))
}

// Judge changes how a check is called and judged.
func (l *Loft) Judge(setup, check string, how measuring.CheckChange) error {
	l.T.Helper()
	return l.Redefine(setup, measuring.Redefine{Check: check, Judge: &how})
}

// Release releases a hold on the evidence as it is.
func (l *Loft) Release(id string, n holding.NewRelease) error {
	l.T.Helper()
	if n.ID == "" {
		n.Form = l.Form()
	}
	n.Hold, n.Shown = id, l.HoldOf(id).Judgement.Digest()
	return l.Holding.Release(l.Ctx(), n)
}

// Settle says of a bay that all of its assembly that is not done lies outside, and that the
// holes that stay open inside can still be reached.
func (l *Loft) Settle(bay string) {
	l.T.Helper()
	b, err := l.Bay(l.Ctx(), bay)
	require.NoError(l.T, err)
	if b.State.Asks && !b.Hold.Done {
		require.NoError(l.T, l.Closing.Place(l.Ctx(), closing.Placed{Form: l.Form(), Bay: bay, Also: b.Also, Within: b.Within, By: "builder"}))
	}
	n := closing.Ticked{Form: l.Form(), Bay: bay, By: "builder"}
	for _, near := range b.State.Undecided() {
		n.Outside = append(n.Outside, near.ID)
	}
	for _, k := range b.State.Unreached() {
		n.Reachable = append(n.Reachable, k.ID)
	}
	if len(n.Outside)+len(n.Reachable) > 0 && !b.Hold.Done {
		require.NoError(l.T, l.Closing.Tick(l.Ctx(), n))
	}
}

// Step records a step under the release that stands.
func (l *Loft) Step(id, by, note string) error {
	l.T.Helper()
	return l.Holding.RecordStep(l.Ctx(), holding.NewStep{Form: l.Form(), Hold: id, Release: l.HoldOf(id).ReleaseID, By: by, Note: note})
}

// Operate does something to holes of a row as it is.
func (l *Loft) Operate(n riveting.HoleOperation) error {
	l.T.Helper()
	if n.ID == "" {
		n.Form = l.Form()
	}
	n.Seen = l.RowOf(n.Row).Revised
	return l.Riveting.Operate(l.Ctx(), n)
}

// Do is Operate with the usual particulars.
func (l *Loft) Do(id string, what row.Operation, numbers ...int) error {
	l.T.Helper()
	return l.Operate(riveting.HoleOperation{Row: id, Numbers: numbers, What: what, Cause: "tipped", Crew: "solo"})
}

// Undo undoes the last thing done to a row.
func (l *Loft) Undo(id string) error {
	l.T.Helper()
	s, err := l.Row(l.Ctx(), id)
	require.NoError(l.T, err)
	n := riveting.UndoOf{Form: l.Form(), Row: id}
	if len(s.Undo) > 0 {
		n.Undoes = s.Undo[0].ID
	}
	return l.Riveting.Undo(l.Ctx(), n)
}

// Schools says how an airframe is built, as from a page just loaded.
func (l *Loft) Schools(frame string, choice school.Choice) error {
	l.T.Helper()
	list, err := l.Airframes.List(l.Ctx())
	require.NoError(l.T, err)
	n := airframe.SchoolsOfAirframe{Form: l.Form(), Airframe: frame, Schools: choice}
	for _, f := range list {
		if f.ID == frame {
			n.Seen = f.Revised
		}
	}
	return l.Airframes.ChooseSchools(l.Ctx(), n)
}

// Worksheet is a setup as its worksheet has it.
func (l *Loft) Worksheet(setup string) []byte {
	l.T.Helper()
	data, err := l.SetupOf(setup).Worksheet()
	require.NoError(l.T, err)
	return data
}

// ChangeRow changes the plan of a row as it is.
func (l *Loft) ChangeRow(n riveting.RowChange) error {
	l.T.Helper()
	if n.ID == "" {
		n.Form = l.Form()
	}
	n.Seen = l.RowOf(n.Row).Planned
	return l.Riveting.Change(l.Ctx(), n)
}

// Look says that someone looked at something.
func (l *Loft) Look(n gate.LookAt) error {
	n.Form = l.Form()
	return l.Gate.Look(l.Ctx(), n)
}
