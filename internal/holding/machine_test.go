package holding_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/closing"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/measuring"
	"orpine/internal/photo"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

// holesUnderTest are the holes of the row on the bench.
const holesUnderTest = 7

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

// Random operations by the thousand: no hole with a keep-open mark is ever set, nothing is
// released on evidence that is stale, missing or taken back, nothing is set or closed
// without a release that stands, and the journal always verifies.
func TestNoSequenceSetsAKeptHoleOrReleasesOnStaleEvidence(t *testing.T) {
	t.Parallel()
	sets, refused, releases, closings := 0, 0, 0, 0
	for seed := range uint64(10) {
		t.Run(fmt.Sprint("seed ", seed), func(t *testing.T) {
			l, random := loft.Bench(t, holesUnderTest), rand.New(rand.NewPCG(seed, 5))
			l.T = t
			m := &clerk{fresh: map[int]bool{}, kept: map[int]bool{}, set: map[int]bool{}, pinned: map[int]bool{}, tasks: 1}
			for step := range 500 {
				m.finishing = step >= 280
				if m.step(t, l, random) {
					releases++
				}
				if l.Waiting(loft.BenchRivet) {
					require.True(t, m.ready(), "a release stands on evidence that is not there")
				}
				r := l.RowOf(loft.BenchRow)
				for _, h := range r.Holes {
					require.False(t, h.Kept() && h.State == row.Set, "a kept hole is set")
					require.Equal(t, m.kept[h.Number], h.Kept())
					require.Equal(t, m.set[h.Number], h.State == row.Set)
					require.Equal(t, m.pinned[h.Number], h.State == row.Pinned)
				}
				if step%250 == 249 {
					l.Verify()
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
func (m *clerk) step(t *testing.T, l *loft.Loft, random *rand.Rand) bool {
	t.Helper()
	m.released, m.closing = l.Waiting(loft.BenchRivet), l.Waiting(loft.BenchClose) // before it
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
		l.Moved(loft.BenchSetup, what)
		if l.SetupOf(loft.BenchSetup).Checks[0].Input.Disturbed(what) {
			m.fresh = map[int]bool{}
		}
	case n < 14:
		spot, again := 1+number%3, m.fresh[1+number%3]
		if again && n > 2 {
			break
		}
		require.NoError(t, l.Take(loft.BenchSetup, spot, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule, InPlace: map[bool]string{true: "misread"}[again]}))
		m.fresh[spot] = true
	case n < 15:
		m.takeBack(t, l, random)
	case n < 18:
		require.NoError(t, l.Gate.Look(l.Ctx(), gate.LookAt{Form: l.Form(), Need: hold.Marked, Of: loft.BenchRow, By: "builder"}))
		m.marked = true
	case n < 21:
		require.NoError(t, l.Gate.Look(l.Ctx(), gate.LookAt{Form: l.Form(), Need: hold.Prepared, Of: loft.BenchRow, By: "builder", What: hold.Preparations}))
		m.prepared = true
	case n < 28:
		return m.release(t, l)
	case n < 42:
		return m.closeUp(t, l, random)
	case n < 44:
		err := l.Step(loft.BenchRivet, "builder", "")
		if err == nil {
			require.True(t, m.released && !m.spent, "recorded without a release that stands")
			m.released, m.spent = false, true
		}
	case n < 46:
		m.undo(t, l)
	case n < 47:
		err := l.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{number}, What: row.Mark, Keep: row.Keep{Part: "fairing", Step: "later"}})
		if err == nil {
			m.kept[number], m.closing = true, false
		}
	case n < 51:
		if l.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{number}, What: row.Lift, Reason: "it was left out"}) == nil {
			m.kept[number], m.closing = false, false
		}
	default:
		m.operate(t, l, random, number)
	}
	return false
}

func (m *clerk) takeBack(t *testing.T, l *loft.Loft, random *rand.Rand) {
	t.Helper()
	s := l.SetupOf(loft.BenchSetup)
	spot := s.Checks[0].Spots[random.IntN(3)]
	counting := spot.Counting()
	if len(counting) == 0 {
		return
	}
	require.NoError(t, l.TakeBack(s.Checks[0].ID, counting[0].ID, "misread"))
	delete(m.fresh, spot.Number)
	m.released = false
}

func (m *clerk) release(t *testing.T, l *loft.Loft) bool {
	t.Helper()
	err := l.Release(loft.BenchRivet, holding.NewRelease{By: "builder", Reason: "tried"})
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
func (m *clerk) closeUp(t *testing.T, l *loft.Loft, random *rand.Rand) bool {
	t.Helper()
	bay := loft.BenchBay
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
		if err = l.Closing.Count(l.Ctx(), closing.NewCount{Form: l.Form(), Bay: bay, Thing: "cleco", Number: n, By: "helper"}); err == nil {
			m.cleco, m.closing = m.cleco+n, false
		}
	case 1:
		if m.tasks > 0 {
			if err = l.Closing.FinishTask(l.Ctx(), closing.TaskDone{Form: l.Form(), Bay: bay, Task: loft.BenchTask, By: "builder"}); err == nil {
				m.tasks = 0
			}
		}
	case 2:
		require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: l.Form(), Of: bay, Data: loft.PNG(t, 8, 6)}))
		m.photo = true
	case 3:
		require.NoError(t, l.Gate.Look(l.Ctx(), gate.LookAt{Form: l.Form(), Need: hold.Inside, Of: bay, By: "builder", Note: "a hatch"}))
		m.access = true
	case 4, 5:
		l.Settle(bay)
		err := l.Release(loft.BenchClose, holding.NewRelease{By: "inspector"})
		if err == nil {
			require.True(t, m.empty(), "released with something left inside")
			require.False(t, m.closing || m.closed)
			m.closing = true
			return true
		}
		require.True(t, !m.empty() || m.closing || m.closed, "refused though all is there: %v", err)
	case 6:
		if l.Step(loft.BenchClose, "builder", "") == nil {
			require.True(t, m.closing && m.empty(), "closed without a release that stands")
			m.closing, m.closed = false, true
		}
	}
	if err != nil {
		require.True(t, m.closed, "only a closed bay refuses it: %v", err)
	}
	return false
}

func (m *clerk) undo(t *testing.T, l *loft.Loft) {
	t.Helper()
	s, err := l.Row(l.Ctx(), loft.BenchRow)
	require.NoError(t, err)
	if err := l.Undo(loft.BenchRow); err != nil {
		return
	}
	require.False(t, m.closed)
	m.closing = false
	r := l.RowOf(loft.BenchRow)
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

func (m *clerk) operate(t *testing.T, l *loft.Loft, random *rand.Rand, number int) {
	t.Helper()
	what := []row.Operation{row.Drill, row.Clean, row.Clean, row.Pin, row.Unpin, row.Rivet, row.Rivet, row.Rivet, row.Rivet, row.Spoil, row.Enlarge, row.Drill, row.Deburr, row.Out}[random.IntN(14)]
	if m.finishing || random.IntN(2) == 0 { // half of the time what comes next at that hole
		before := l.RowOf(loft.BenchRow)
		h, _ := before.Hole(number)
		if next, ok := map[row.State]row.Operation{row.Pilot: row.Drill, row.Sized: row.Clean, row.Cleaned: row.Rivet, row.Pinned: row.Clean, row.Bad: row.Clean, row.Oversize: row.Clean, row.Deburred: row.Clean, row.Drilled: row.Clean}[h.State]; ok {
			what = next
		}
	}
	err := l.Operate(riveting.HoleOperation{Row: loft.BenchRow, Numbers: []int{number}, What: what, Cause: row.Causes[random.IntN(len(row.Causes))], Reason: "asked", Crew: "solo", Fit: row.Fit{Hole: 4.05, Rivet: 3.96875, Size: "5/32"}})
	r, loaded := l.Riveting.Row(l.Ctx(), loft.BenchRow)
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
