package app

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/store"
)

const (
	benchRow   = "row-under-test"
	benchRivet = "rivet-under-test"
	benchClose = "close-under-test"

	holesUnderTest = 7
)

// bench is a small workshop: one assembly in a setup of one check, a row of holes in a
// bay, a hold before riveting and one before closing.
func openBench(t testing.TB) *loft { return openBenchOf(t, 14) }

func openBenchOf(t testing.TB, holes int) *loft {
	t.Helper()
	l := &loft{dir: t.TempDir(), now: morning}
	s, err := store.Open(t.Context(), l.dir)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	l.App = New(s, l.clock)
	ctx := t.Context()
	require.NoError(t, l.AddInstrument(ctx, NewInstrument{ID: "rule-under-test", Name: "rule", Sort: "rule", Resolution: "0.5 mm", Offset: "0.1 mm", Spread: "0.1 mm"}))
	require.NoError(t, l.AddAirframe(ctx, NewAirframe{ID: "airframe-test", Name: "Samphire S2", Unit: "mm"}))
	require.NoError(t, l.AddAssembly(ctx, NewAssembly{ID: "boom-under-test", Airframe: "airframe-test", Name: "Tail boom", Shape: Shape{Form: "body", Sections: []Section{{2350, 300, 110, 500}, {5250, 110, 310, 420}}}}))
	require.NoError(t, l.BeginSetup(ctx, NewSetup{ID: "setup-under-test", Assembly: "boom-under-test", Name: "in its stands", Checks: []NewCheck{{Name: "Bow", Instrument: "rule-under-test",
		Definition: map[string]any{"kind": "straightness", "points": []any{map[string]any{"name": "a", "x": 0}, map[string]any{"name": "b", "x": 500}, map[string]any{"name": "c", "x": 1000}}, "limits": map[string]any{"bow": map[string]any{"low": "-3", "high": "3"}}}}}}))
	require.NoError(t, l.StandBefore(ctx, NewStand{ID: benchRivet, Assembly: "boom-under-test", Name: "Rivet it", Step: "rivet", Permanent: "the row", Why: "w", Setup: "setup-under-test"}))
	require.NoError(t, l.StandBefore(ctx, NewStand{ID: benchClose, Assembly: "boom-under-test", Name: "Close it", Step: "close", Permanent: "the boom", Why: "w", Bay: "the bay", Tasks: []string{"wiring"}}))
	require.NoError(t, l.AddRow(ctx, NewRow{ID: benchRow, Assembly: "boom-under-test", Name: "row", Rivets: benchRivet, Bay: benchClose + "-bay", Values: rowOf(holes)}))
	return l
}

// rowOf is the form of a row of so many holes.
func rowOf(holes int) map[string]string {
	return map[string]string{"layers": "aluminium; 0.8\naluminium; 1.0", "sort": "solid", "size": "1/8", "head": "domed", "metal": "aluminium", "edge": "8", "count": fmt.Sprint(holes), "pitch": "30", "first": "10", "sizing": "match drill", "bucker": "solo", "view": "from above"}
}

// clerk is what a careful clerk knows, kept apart from the program.
type clerk struct {
	fresh               map[int]bool // readings
	marked, prepared    bool
	released, spent     bool // the riveting
	closing, closed     bool // and the closing
	kept, set, pinned   map[int]bool
	cleco               int // counted in less out
	tasks               int
	photo, access       bool
	sets, refusedAtKept int
	finishing           bool // chance alone hardly gets a bay closed: towards the end it is helped
}

func (m *clerk) ready() bool { return len(m.fresh) == 3 && m.marked && m.prepared }

func (m *clerk) empty() bool {
	for n := range holesUnderTest {
		if !m.set[n+1] && !m.kept[n+1] {
			return false
		}
	}
	return m.cleco == 0 && m.tasks == 0 && m.photo && m.access && len(m.pinned) == 0
}

// Random deeds by the thousand: no hole with a keep-open mark is ever set, nothing is
// released on evidence that is stale, missing or taken back, nothing is set or closed
// without a release that stands, and the journal always verifies.
func TestNoSequenceOfDeedsSetsAKeptHoleOrReleasesOnStaleEvidence(t *testing.T) {
	sets, refused, releases, closings := 0, 0, 0, 0
	for seed := range uint64(10) {
		t.Run(fmt.Sprint("seed ", seed), func(t *testing.T) {
			l, random := openBenchOf(t, holesUnderTest), rand.New(rand.NewPCG(seed, 5))
			l.t = t
			m := &clerk{fresh: map[int]bool{}, kept: map[int]bool{}, set: map[int]bool{}, pinned: map[int]bool{}, tasks: 1}
			for step := range 500 {
				m.finishing = step >= 350
				if m.step(t, l, random) {
					releases++
				}
				r, err := l.Row(l.ctx(), benchRow)
				require.NoError(t, err)
				for _, h := range r.Holes {
					require.False(t, h.Kept() && h.State == row.Set, "a kept hole is set")
					require.Equal(t, m.kept[h.Number], h.Kept())
					require.Equal(t, m.set[h.Number], h.State == row.Set)
					require.Equal(t, m.pinned[h.Number], h.State == row.Pinned)
				}
				if step%100 == 99 {
					_, err = l.Verify(l.ctx())
					require.NoError(t, err)
				}
			}
			sets, refused = sets+m.sets, refused+m.refusedAtKept
			if m.closed {
				closings++
			}
		})
	}
	t.Logf("%d rivets set, %d refused at a kept hole, %d releases, %d bays closed", sets, refused, releases, closings)
	assert.Greater(t, sets, 50, "the test sets rivets")
	assert.Greater(t, refused, 50, "and tries to set kept ones")
	assert.Greater(t, releases, 20)
	assert.Positive(t, closings)
}

// step does one thing, and tells whether a hold was released.
func (m *clerk) step(t *testing.T, l *loft, random *rand.Rand) bool {
	t.Helper()
	number, n := 1+random.IntN(holesUnderTest), random.IntN(100)
	if m.finishing {
		n = max(n, 3)
		for i := range holesUnderTest {
			if !m.set[i+1] && !m.kept[i+1] {
				number = i + 1
			}
		}
		if n >= 14 && n < 15 || n >= 44 && n < 51 { // nothing is taken back, undone or kept
			n = 60
		}
	}
	switch {
	case n < 2:
		what := measure.Disturbances[random.IntN(len(measure.Disturbances))]
		require.NoError(t, l.SomethingMoved(l.ctx(), SomethingMoved{l.id(), "setup-under-test", what}))
		if what.Disturbs("straightness") {
			m.fresh = map[int]bool{}
		}
		m.released, m.closing = false, false
	case n < 14:
		spot, again := 1+number%3, m.fresh[1+number%3]
		if again && n > 2 {
			break
		}
		require.NoError(t, l.read("setup-under-test-check-0", spot, "10", "rule-under-test", map[bool]string{true: "misread"}[again]))
		m.released = m.released && !again // else one that it rested on was taken back
		m.fresh[spot] = true
	case n < 15:
		m.takeBack(t, l, random)
	case n < 18:
		require.NoError(t, l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Marked, Of: benchRow, By: "builder"}))
		m.marked = true
	case n < 21:
		require.NoError(t, l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Prepared, Of: benchRow, By: "builder", What: hold.Preparations}))
		m.prepared = true
	case n < 28:
		return m.release(t, l)
	case n < 42:
		return m.closeUp(t, l, random)
	case n < 44:
		err := l.RecordStep(l.ctx(), NewStep{l.id(), benchRivet, "builder", ""})
		if err == nil {
			require.True(t, m.released && !m.spent, "recorded without a release that stands")
			m.released, m.spent = false, true
		}
	case n < 46:
		m.undo(t, l)
	case n < 47:
		err := l.DoHoles(l.ctx(), HoleDeed{ID: l.id(), Row: benchRow, Numbers: []int{number}, What: row.Mark, Keep: row.Keep{Part: "fairing", Step: "later"}})
		if err == nil {
			m.kept[number], m.closing = true, false
		}
	case n < 51:
		if l.DoHoles(l.ctx(), HoleDeed{ID: l.id(), Row: benchRow, Numbers: []int{number}, What: row.Lift, Reason: "it was left out"}) == nil {
			m.kept[number], m.closing = false, false
		}
	default:
		m.deed(t, l, random, number)
	}
	return false
}

func (m *clerk) takeBack(t *testing.T, l *loft, random *rand.Rand) {
	t.Helper()
	s, err := l.Setup(l.ctx(), "setup-under-test")
	require.NoError(t, err)
	spot := s.Checks[0].Spots[random.IntN(3)]
	counting := spot.Counting()
	if len(counting) == 0 {
		return
	}
	require.NoError(t, l.TakeBack(l.ctx(), TakeBack{l.id(), s.Checks[0].ID, counting[0].ID, "misread"}))
	delete(m.fresh, spot.Number)
	m.released = false
}

func (m *clerk) release(t *testing.T, l *loft) bool {
	t.Helper()
	err := l.Release(l.ctx(), NewRelease{ID: l.id(), Hold: benchRivet, By: "builder", Reason: "tried"})
	if err != nil {
		require.True(t, !m.ready() || m.released || m.spent, "refused though all is there: %v", err)
		return false
	}
	require.True(t, m.ready(), "released on evidence that is not there")
	require.False(t, m.released || m.spent)
	m.released = true
	return true
}

// closeUp works at the closing of the bay.
func (m *clerk) closeUp(t *testing.T, l *loft, random *rand.Rand) bool {
	t.Helper()
	bay := benchClose + "-bay"
	var err error
	switch random.IntN(7) {
	case 0:
		n := 1 + random.IntN(3)
		if m.cleco > 0 {
			n = -m.cleco + random.IntN(2) // now and then one stays inside
		}
		if m.finishing && m.cleco != 0 {
			n = -m.cleco
		}
		if n == 0 {
			n = -1
		}
		if err = l.Count(l.ctx(), NewCount{l.id(), bay, "cleco", n, "helper"}); err == nil {
			m.cleco, m.closing = m.cleco+n, false
		}
	case 1:
		if m.tasks > 0 {
			if err = l.FinishTask(l.ctx(), TaskDone{ID: l.id(), Bay: bay, Task: benchClose + "-task-0", By: "builder"}); err == nil {
				m.tasks = 0
			}
		}
	case 2:
		require.NoError(t, l.AddPhoto(l.ctx(), NewPhoto{ID: l.id(), Of: bay, Data: pngOf(t, 8, 6)}))
		m.photo = true
	case 3:
		require.NoError(t, l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Inside, Of: bay, By: "builder", Note: "a hatch"}))
		m.access = true
	case 4, 5:
		err := l.Release(l.ctx(), NewRelease{ID: l.id(), Hold: benchClose, By: "inspector"})
		if err == nil {
			require.True(t, m.empty(), "released with something left inside")
			require.False(t, m.closing || m.closed)
			m.closing = true
			return true
		}
		require.True(t, !m.empty() || m.closing || m.closed, "refused though all is there: %v", err)
	case 6:
		if l.RecordStep(l.ctx(), NewStep{l.id(), benchClose, "builder", ""}) == nil {
			require.True(t, m.closing && m.empty(), "closed without a release that stands")
			m.closing, m.closed = false, true
		}
	}
	if err != nil {
		require.True(t, m.closed, "only a closed bay refuses it: %v", err)
	}
	return false
}

func (m *clerk) undo(t *testing.T, l *loft) {
	t.Helper()
	s, err := l.RowSheet(l.ctx(), benchRow)
	require.NoError(t, err)
	err = l.Undo(l.ctx(), UndoLast{ID: l.id(), Row: benchRow})
	if err != nil {
		return
	}
	require.False(t, m.closed)
	m.closing = false
	r, err := l.Row(l.ctx(), benchRow)
	require.NoError(t, err)
	for _, n := range s.Undo[0].Numbers {
		h, _ := r.Hole(n)
		require.False(t, h.State == row.Set && m.kept[n], "undone into a set hole that is kept")
		m.note(h)
	}
}

// note takes down what became of a hole.
func (m *clerk) note(h row.Hole) {
	delete(m.set, h.Number)
	delete(m.pinned, h.Number)
	if h.State == row.Set {
		m.set[h.Number] = true
	}
	if h.State == row.Pinned {
		m.pinned[h.Number] = true
	}
}

func (m *clerk) deed(t *testing.T, l *loft, random *rand.Rand, number int) {
	t.Helper()
	what := []row.Deed{row.Drill, row.Clean, row.Clean, row.Pin, row.Unpin, row.Rivet, row.Rivet, row.Rivet, row.Rivet, row.Spoil, row.Enlarge, row.Drill}[random.IntN(12)]
	if m.finishing || random.IntN(2) == 0 { // half of the time what comes next at that hole
		before, err := l.Row(l.ctx(), benchRow)
		require.NoError(t, err)
		h, _ := before.Hole(number)
		if next, ok := map[row.State]row.Deed{row.Pilot: row.Drill, row.Sized: row.Clean, row.Cleaned: row.Rivet, row.Pinned: row.Clean, row.Bad: row.Clean, row.Oversize: row.Clean}[h.State]; ok {
			what = next
		}
	}
	err := l.DoHoles(l.ctx(), HoleDeed{ID: l.id(), Row: benchRow, Numbers: []int{number}, What: what, Cause: row.Causes[random.IntN(len(row.Causes))], Reason: "asked", Crew: "solo"})
	r, loaded := l.Row(l.ctx(), benchRow)
	require.NoError(t, loaded)
	h, _ := r.Hole(number)
	if err != nil {
		if what == row.Rivet && m.kept[number] {
			m.refusedAtKept++
		}
		require.Equal(t, m.set[number], h.State == row.Set, "what is refused changes nothing")
		return
	}
	require.False(t, m.closed, "something was done in a closed bay")
	m.closing = false
	if what == row.Rivet {
		require.True(t, m.released || m.spent, "set without a release that stands")
		require.False(t, m.kept[number], "a kept hole was set")
		m.sets++
	}
	m.note(h)
}

func pngOf(t testing.TB, width, height int) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, image.NewGray(image.Rect(0, 0, width, height))))
	return b.Bytes()
}

func TestOnlyTheLastTenAreUndone(t *testing.T) {
	l := openBench(t)
	l.t = t
	for n := range 8 {
		require.NoError(t, l.DoHoles(l.ctx(), HoleDeed{ID: l.id(), Row: benchRow, Numbers: []int{n + 1}, What: row.Drill}))
	}
	for n := range 4 {
		require.NoError(t, l.DoHoles(l.ctx(), HoleDeed{ID: l.id(), Row: benchRow, Numbers: []int{n + 1}, What: row.Clean}))
	}
	for range 10 {
		require.NoError(t, l.Undo(l.ctx(), UndoLast{ID: l.id(), Row: benchRow}))
	}
	assert.Contains(t, problems(t, l.Undo(l.ctx(), UndoLast{ID: l.id(), Row: benchRow}))[""], "only the last ten")
	r, err := l.Row(l.ctx(), benchRow)
	require.NoError(t, err)
	assert.Equal(t, []int{1, 2}, holesIn(r, row.Sized))
	assert.Equal(t, []int{3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14}, holesIn(r, row.Pilot))
	id := l.id()
	require.NoError(t, l.DoHoles(l.ctx(), HoleDeed{ID: id, Row: benchRow, Numbers: []int{3}, What: row.Drill}))
	require.NoError(t, l.DoHoles(l.ctx(), HoleDeed{ID: id, Row: benchRow, Numbers: []int{3}, What: row.Drill}), "the same submission once more is one entry")
	require.NoError(t, l.Undo(l.ctx(), UndoLast{ID: l.id(), Row: benchRow}))
	_, err = l.Verify(l.ctx())
	require.NoError(t, err)
}

// What someone decided for good is not taken back by the way, and nothing from before it.
func TestUndoStopsAtWhatWasDecided(t *testing.T) {
	l := openBench(t)
	l.t = t
	require.NoError(t, l.do(benchRow, row.Drill, 1, 2))
	require.NoError(t, l.DoHoles(l.ctx(), HoleDeed{ID: l.id(), Row: benchRow, Numbers: []int{2}, What: row.Abandon, Reason: "off the line; plugged"}))
	assert.Contains(t, problems(t, l.Undo(l.ctx(), UndoLast{ID: l.id(), Row: benchRow}))[""], "nothing to undo")
	require.NoError(t, l.do(benchRow, row.Clean, 1))
	require.NoError(t, l.Undo(l.ctx(), UndoLast{ID: l.id(), Row: benchRow}))
	r := l.rowNamed(benchRow)
	assert.Equal(t, []int{1}, holesIn(r, row.Sized))
	assert.Equal(t, []int{2}, holesIn(r, row.Abandoned))
}

// A mark that waits for a step with a hold is lifted once that hold is released.
func TestAMarkIsTiedToTheHoldOfItsStep(t *testing.T) {
	l := openBenchOf(t, 2)
	l.t = t
	keep := func(number int) error {
		return l.DoHoles(l.ctx(), HoleDeed{ID: l.id(), Row: benchRow, Numbers: []int{number}, What: row.Mark, Keep: row.Keep{Part: "fairing", Step: "fit the fairing"}})
	}
	require.NoError(t, keep(1))
	require.NoError(t, l.StandBefore(l.ctx(), NewStand{ID: "fairing-hold", Assembly: "boom-under-test", Name: "Fit the fairing", Step: "bond", Permanent: "the fairing", Why: "w", Second: true}))
	require.NoError(t, keep(2))
	lift := func(number int) error { return l.do(benchRow, row.Lift, number) }
	assert.Contains(t, problems(t, lift(2)), "reason", "its hold is not released yet")
	require.NoError(t, l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Seconded, Of: "fairing-hold", By: "helper", Note: "dry fit"}))
	require.NoError(t, l.Release(l.ctx(), NewRelease{ID: l.id(), Hold: "fairing-hold", By: "builder"}))
	require.NoError(t, lift(2))
	assert.Contains(t, problems(t, lift(1)), "reason", "it was marked before that hold was there")
	s, err := l.RowSheet(l.ctx(), benchRow)
	require.NoError(t, err)
	assert.Equal(t, []string{"Close it", "Fit the fairing"}, s.Steps)
}

func holesIn(r Row, s row.State) []int {
	var out []int
	for _, h := range r.Holes {
		if h.State == s {
			out = append(out, h.Number)
		}
	}
	slices.Sort(out)
	return out
}
