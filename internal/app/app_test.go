package app

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/store"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

var morning = time.Date(2026, 5, 4, 10, 0, 0, 0, time.FixedZone("CEST", 7200))

// loft is the demo workshop, opened by an App whose clock the test moves.
type loft struct {
	*App
	t    *testing.T
	dir  string
	now  time.Time
	next int
}

// filled is the demo workshop's data file, made once for all tests.
var filled = sync.OnceValue(func() []byte {
	dir, err := os.MkdirTemp("", "orpine-loft-")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(dir)
	s, err := store.Open(context.Background(), dir)
	if err != nil {
		panic(err)
	}
	if err := errors.Join(FillDemo(context.Background(), s, morning), s.Close()); err != nil {
		panic(err)
	}
	data, err := os.ReadFile(filepath.Join(dir, store.FileName))
	if err != nil {
		panic(err)
	}
	return data
})

func openLoft(t *testing.T) *loft {
	t.Helper()
	l := &loft{t: t, dir: t.TempDir(), now: morning}
	require.NoError(t, os.WriteFile(filepath.Join(l.dir, store.FileName), filled(), 0o600))
	s, err := store.Open(t.Context(), l.dir)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	l.App = New(s, func() time.Time { return l.now })
	return l
}

func (l *loft) id() string {
	l.next++
	return fmt.Sprintf("test-%04d", l.next)
}

func (l *loft) ctx() context.Context { return l.t.Context() }

func (l *loft) clock() time.Time { return l.now }

func (l *loft) twist() Check {
	l.t.Helper()
	s, err := l.Setup(l.ctx(), railsID)
	require.NoError(l.t, err)
	return s.Checks[1]
}

func (l *loft) hold() Hold {
	l.t.Helper()
	h, err := l.Hold(l.ctx(), railsID+"-hold")
	require.NoError(l.t, err)
	return h
}

// pushed is the id of the foreplane's reading that was pushed by hand.
func (l *loft) pushed() string {
	l.t.Helper()
	s, err := l.Setup(l.ctx(), "foreplane-demo")
	require.NoError(l.t, err)
	return s.Checks[0].Spots[0].Readings[1].ID
}

func (l *loft) moved(what measure.Event) {
	l.t.Helper()
	require.NoError(l.t, l.SomethingMoved(l.ctx(), SomethingMoved{l.id(), railsID, what}))
}

func (l *loft) read(check string, number int, text, instrument, inPlace string) error {
	return l.TakeReading(l.ctx(), NewReading{ID: l.id(), Check: check, Number: number, Text: text, Instrument: instrument, InPlace: inPlace})
}

func (l *loft) release(n NewRelease) error {
	n.ID, n.Hold = l.id(), railsID+"-hold"
	return l.Release(l.ctx(), n)
}

func problems(t *testing.T, err error) Problems {
	t.Helper()
	var p Problems
	require.ErrorAs(t, err, &p)
	return p
}

func twistOf(t *testing.T, c Check) measure.Quantity {
	t.Helper()
	require.NotNil(t, c.Result)
	q, ok := c.Result.Quantity("twist")
	require.True(t, ok)
	return q
}

// 0.34 as read, 0.312 of it the rails', 0.028 the part's: see package measure.
func TestTheDemosTailplane(t *testing.T) {
	l := openLoft(t)
	c := l.twist()
	assert.InDelta(t, 0.028, twistOf(t, c).Value, 1e-12)
	assert.Equal(t, measure.Go, c.Result.Verdict)
	whole, rails, ok := c.Solved.(*measure.Twist).AsRead()
	require.True(t, ok)
	assert.InDelta(t, 0.34, whole, 1e-12)
	assert.InDelta(t, 0.312, rails, 1e-12)

	require.NoError(t, l.SetHeld(l.ctx(), SetHeld{l.id(), c.ID, false}))
	c = l.twist()
	assert.InDelta(t, 0.34, twistOf(t, c).Value, 1e-12)
	assert.Equal(t, measure.Stop, c.Result.Verdict)
	assert.Equal(t, 5, c.Wanted, "without the rails, one reading a station")
	require.NoError(t, l.SetHeld(l.ctx(), SetHeld{l.id(), c.ID, true}))
	assert.Equal(t, 10, l.twist().Taken)

	s, err := l.Setup(l.ctx(), railsID)
	require.NoError(t, err)
	rail, _ := s.Checks[0].Result.Quantity("twist")
	assert.InDelta(t, 0.3069, rail.Value, 5e-4, "atan(4.5/700) − atan(0.75/700)")
	bow, _ := s.Checks[0].Result.Quantity("bow")
	assert.InDelta(t, 1.0625, bow.Value, 1e-9, "mean of the middle less mean of the ends")
}

func TestWithLevelOneTheSameReadingsCannotDecide(t *testing.T) {
	l := openLoft(t)
	for _, spot := range l.twist().Spots {
		require.NoError(t, l.read(l.twist().ID, spot.Number, spot.Readings[0].Text, "level-1-demo", "other instrument"))
	}
	c := l.twist()
	assert.Equal(t, measure.Unsure, c.Result.Verdict)
	assert.InDelta(t, 0.028, twistOf(t, c).Value, 1e-12)
	assert.Equal(t, 5, twistOf(t, c).Placings)
	assert.Equal(t, hold.Missing, l.hold().Judgement.Standing, "level 1 was last tested six days ago")
	require.NoError(t, l.TestInstrument(l.ctx(), EndForEnd{l.id(), "level-1-demo", "0.10", "-0.20"}))
	assert.Equal(t, hold.Unsure, l.hold().Judgement.Standing)
	assert.Contains(t, problems(t, l.release(NewRelease{By: "builder"})), "reason")
	require.NoError(t, l.release(NewRelease{By: "builder", Reason: "a second level agrees"}))
	assert.Equal(t, "a second level agrees", l.hold().Current().Reason)
}

func TestTheExportedWorksheetGivesTheNumbersOfTheScreen(t *testing.T) {
	l := openLoft(t)
	data, err := l.Export(l.ctx(), railsID)
	require.NoError(t, err)
	doc, errs := worksheet.Parse(data)
	require.Empty(t, errs)
	solved := doc.Solve()
	require.Len(t, solved, 2)
	q, _ := solved[1].Quantity("twist")
	shown := twistOf(t, l.twist())
	assert.Equal(t, []any{shown.Value, shown.U, shown.Verdict, shown.Placings}, []any{q.Value, q.U, q.Verdict, q.Placings})
	assert.Contains(t, string(data), `"0.05 up"`, "readings go out as typed")
}

func TestTheWholeStoryFromTheBenchToTheDrill(t *testing.T) {
	l := openLoft(t)
	assert.Equal(t, hold.Met, l.hold().Judgement.Standing)
	require.NoError(t, l.release(NewRelease{By: "builder"}))
	assert.True(t, l.hold().Released())
	l.moved(measure.Moved)
	h := l.hold()
	assert.False(t, h.Released(), "a release lapses when an event comes first")
	assert.Equal(t, measure.Moved, h.Releases[0].Lapsed)
	assert.Contains(t, problems(t, l.RecordStep(l.ctx(), NewStep{l.id(), h.ID, "builder", ""})), "")

	s, err := l.Setup(l.ctx(), railsID)
	require.NoError(t, err)
	for _, c := range s.Checks {
		assert.Zero(t, c.Taken)
		assert.Equal(t, c.Wanted, c.Stale)
		assert.Nil(t, c.Result, "stale readings never count")
		next, ok := c.Next()
		assert.True(t, ok && next.Again)
		for _, spot := range c.Spots {
			for _, r := range spot.Readings { // every placing again
				require.NoError(t, l.read(c.ID, spot.Number, r.Text, c.Instrument, ""))
			}
		}
	}
	assert.InDelta(t, 0.028, twistOf(t, l.twist()).Value, 1e-12)
	assert.Equal(t, hold.Met, l.hold().Judgement.Standing)
	require.NoError(t, l.release(NewRelease{By: "builder"}))
	require.NoError(t, l.RecordStep(l.ctx(), NewStep{l.id(), h.ID, "builder", ""}))
}

func TestReleaseDrillAndLog(t *testing.T) {
	l := openLoft(t)
	require.NoError(t, l.release(NewRelease{By: "builder"}))
	assert.Contains(t, problems(t, l.release(NewRelease{By: "helper"})), "", "one release at a time")
	h := l.hold()
	assert.Contains(t, problems(t, l.RecordStep(l.ctx(), NewStep{l.id(), h.ID, " ", ""})), "by")
	step := NewStep{l.id(), h.ID, "builder", "3/32 in, all four"}
	require.NoError(t, l.RecordStep(l.ctx(), step))
	require.NoError(t, l.RecordStep(l.ctx(), step), "the same submission twice is one")
	h = l.hold()
	assert.True(t, h.Spent())
	assert.Equal(t, "3/32 in, all four", h.Current().Done.Note)
	assert.Contains(t, problems(t, l.RecordStep(l.ctx(), NewStep{l.id(), h.ID, "builder", ""})), "", "a release is spent once")
	assert.Equal(t, 10, l.twist().Taken, "drilling disturbs nothing that was released")

	home, err := l.Home(l.ctx(), "")
	require.NoError(t, err)
	for _, s := range home.Assemblies {
		if s.Name == "Tailplane" {
			assert.Equal(t, Permanent, s.State)
		}
	}
	entries, more, err := l.Log(l.ctx(), 0, 3)
	require.NoError(t, err)
	assert.True(t, more)
	assert.Equal(t, journal.Done, entries[0].Kind)
	assert.Equal(t, "Tailplane: done, Drill the tailplane's end holes", entries[0].What)
	assert.Equal(t, journal.Release, entries[1].Kind)
}

func TestAStopIsReleasedOnlyByWhoHasAuthorityAndShownForEver(t *testing.T) {
	l := openLoft(t)
	require.NoError(t, l.SetHeld(l.ctx(), SetHeld{l.id(), l.twist().ID, false}))
	assert.Equal(t, hold.Stop, l.hold().Judgement.Standing)
	assert.Contains(t, problems(t, l.release(NewRelease{By: "builder", Reason: "it will do"})), "answered_by")
	require.NoError(t, l.release(NewRelease{By: "builder", AnsweredBy: "kit maker", Answer: "accept up to 0.4°, photograph it", Answered: "3 May", Document: "letter 12"}))
	l.moved(measure.Knocked)
	assert.Len(t, l.hold().Dispositions(), 1, "it stays though the release lapsed")
	home, err := l.Home(l.ctx(), "")
	require.NoError(t, err)
	assert.NotEmpty(t, home.Held)
}

func TestBenchMovedLeavesTheTwistAndDisturbsTheSurvey(t *testing.T) {
	l := openLoft(t)
	l.moved(measure.BenchMoved)
	s, err := l.Setup(l.ctx(), railsID)
	require.NoError(t, err)
	assert.Equal(t, 6, s.Checks[0].Stale)
	assert.Equal(t, 10, s.Checks[1].Taken)
	assert.Equal(t, int64(2), s.State)
	assert.Contains(t, l.hold().Judgement.Worst().Why, "stale since (bench moved)")
	assert.Contains(t, problems(t, l.release(NewRelease{By: "builder"})), "")
	assert.Contains(t, problems(t, l.SomethingMoved(l.ctx(), SomethingMoved{l.id(), railsID, "sneezed"})), "what")
}

func TestTheLevelIsTestedTodayAndTomorrowIsAnotherDay(t *testing.T) {
	l := openLoft(t)
	l.now = morning.AddDate(0, 0, 1)
	assert.Equal(t, hold.Missing, l.hold().Judgement.Standing)
	assert.Contains(t, l.hold().Judgement.Worst().Why, "4 May, not today")
}

func TestBadEntriesAreRefusedAtTheFieldAndNothingIsStored(t *testing.T) {
	l := openLoft(t)
	twist := l.twist().ID
	entries := func() int64 {
		n, err := l.Verify(l.ctx())
		require.NoError(t, err)
		return n
	}
	before := entries()
	for _, text := range []string{"", "0.08 R", "-0.1 up", "1/2", "1,234", "2.9e3", "NaN", "361", "x\x00", "0.1 0.2"} {
		assert.Contains(t, problems(t, l.read(twist, 1, text, "level-2-demo", "")), "text", text)
	}
	assert.Contains(t, problems(t, l.read(twist, 1, "0.1", "laser-demo", "")), "instrument")
	assert.Contains(t, problems(t, l.read(twist, 1, "0.1", "", "")), "instrument")
	assert.Contains(t, problems(t, l.read(twist, 1, "0.1", "level-1-demo", "")), "instrument", "placings of one spot, one instrument")
	assert.Contains(t, problems(t, l.read(twist, 1, "0.1", "level-2-demo", "bored")), "in_place")
	assert.ErrorIs(t, l.read(twist, 11, "0.1", "level-2-demo", ""), ErrNotFound)
	assert.ErrorIs(t, l.read("nothing", 1, "0.1", "level-2-demo", ""), ErrNotFound)
	assert.Contains(t, problems(t, l.TestInstrument(l.ctx(), EndForEnd{l.id(), "level-2-demo", "90", "90"})), "turned")
	assert.Contains(t, problems(t, l.TestInstrument(l.ctx(), EndForEnd{l.id(), "rule-demo-600", "1", "1"})), "")
	assert.Contains(t, problems(t, l.TakeReading(l.ctx(), NewReading{ID: "x", Check: twist, Number: 1, Text: "0.1", Instrument: "level-2-demo"})), "")
	assert.Equal(t, before, entries())
}

func TestTheSameSubmissionTwiceIsOneReading(t *testing.T) {
	l := openLoft(t)
	n := NewReading{ID: l.id(), Check: l.twist().ID, Number: 1, Text: "0.06 up", Instrument: "level-2-demo"}
	require.NoError(t, l.TakeReading(l.ctx(), n))
	require.NoError(t, l.TakeReading(l.ctx(), n))
	assert.Len(t, l.twist().Spots[0].Counting(), 2, "the demo's and this one")
	n.Text = "0.60 up"
	assert.Contains(t, problems(t, l.TakeReading(l.ctx(), n)), "")
	assert.Len(t, l.twist().Spots[0].Counting(), 2)
}

func TestReadingsAreSupersededAndNeverLost(t *testing.T) {
	l := openLoft(t)
	c := l.twist()
	require.NoError(t, l.read(c.ID, 1, "0.07", "level-2-demo", "misread"))
	first := l.twist().Spots[0]
	require.Len(t, first.Readings, 2)
	assert.Equal(t, "misread", first.Readings[0].Superseded)
	assert.Equal(t, "0.07", first.Counting()[0].Text)
	back := TakeBack{l.id(), c.ID, first.Readings[1].ID, "mistyped"}
	require.NoError(t, l.TakeBack(l.ctx(), back))
	require.NoError(t, l.TakeBack(l.ctx(), back))
	assert.Equal(t, 9, l.twist().Taken)
	next, ok := l.twist().Next()
	require.True(t, ok)
	assert.Equal(t, "read left tip, angle", next.Say())
	back.ID = l.id()
	assert.Contains(t, problems(t, l.TakeBack(l.ctx(), back)), "")
	back.Reason = "bored"
	assert.Contains(t, problems(t, l.TakeBack(l.ctx(), back)), "reason")
}

func TestVerifyNamesTheFirstBrokenEntry(t *testing.T) {
	tests := []struct{ name, tamper, says string }{
		{"a reading changed in place", "UPDATE readings SET value = 0.01 WHERE id = (SELECT id FROM readings ORDER BY entry LIMIT 1 OFFSET 3)", "(value)"},
		{"a reading taken back made to count", "UPDATE readings SET superseded = '' WHERE superseded <> ''", "still counts"},
		{"a stale reading made to count", "UPDATE readings SET stale_event = NULL", "still counts"},
		{"a name put under a release", "UPDATE releases SET by_name = 'inspector'", "(by)"},
		{"a reading deleted", "DELETE FROM readings WHERE text = '47.5'", "is gone"},
		{"a kept hole made a set one", "UPDATE holes SET state = 'set' WHERE row_id = 'boom-row-6' AND number = 14", "hole 14 of a row"},
		{"a mark rubbed out", "UPDATE holes SET keep_part = '' WHERE row_id = 'boom-row-3' AND number = 77", "hole 77 of a row"},
		{"a hole taken out of a row", "DELETE FROM holes WHERE row_id = 'boom-row-3' AND number = 84", "is gone"},
		{"a name put under a look", "UPDATE looks SET by_name = 'inspector' WHERE need = 'marked'", "(by)"},
		{"a picture exchanged", "UPDATE photos SET content = x'00'", "(sha256)"},
		{"a picture taken out", "DELETE FROM photos", "is gone"},
		{"a count changed", "UPDATE counts SET number = 57 WHERE number = 58", "(number)"},
		{"an entry changed", "DROP TRIGGER journal_is_not_edited; UPDATE journal SET content = replace(content, '0.39 up', '0.31 up')", "not what was written"},
		{"a taking back cut out with all after it", "DROP TRIGGER journal_is_not_deleted; DELETE FROM journal WHERE seq >= (SELECT seq FROM journal WHERE kind = 'superseded')", "is missing"},
		{"the end cut off", "DROP TRIGGER journal_is_not_deleted; DELETE FROM journal WHERE seq = (SELECT max(seq) FROM journal)", "is missing"},
	}
	for _, test := range tests {
		t.Run(test.name, func(t *testing.T) {
			l := openLoft(t)
			require.NoError(t, l.release(NewRelease{By: "builder"}))
			require.NoError(t, l.RecordStep(l.ctx(), NewStep{l.id(), l.hold().ID, "builder", ""}))
			require.NoError(t, l.SomethingMoved(l.ctx(), SomethingMoved{l.id(), "fin-upright-demo", measure.Knocked}))
			require.NoError(t, l.TakeBack(l.ctx(), TakeBack{l.id(), "foreplane-demo-check-0", l.pushed(), "misread"}))
			require.NoError(t, l.read(l.twist().ID, 1, "0.06 up", "level-2-demo", "misread"))
			require.NoError(t, l.AddPhoto(l.ctx(), NewPhoto{ID: l.id(), Of: boomBay, Caption: "before closing", Data: pngOf(t, 8, 6)}))
			n, err := l.Verify(l.ctx())
			require.NoError(t, err)
			assert.Greater(t, n, int64(40))
			db, err := sql.Open("sqlite", "file:"+filepath.Join(l.dir, store.FileName))
			require.NoError(t, err)
			defer db.Close()
			_, err = db.Exec(test.tamper)
			require.NoError(t, err)
			_, err = l.Verify(l.ctx())
			var broken *journal.Broken
			require.ErrorAs(t, err, &broken)
			assert.Contains(t, broken.Why, test.says)
			assert.Positive(t, broken.Seq)
		})
	}
}

func TestAnEmptyWorkshopIsFilledByHand(t *testing.T) {
	s, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	a := New(s, func() time.Time { return morning })
	_, err = a.Home(t.Context(), "")
	assert.ErrorIs(t, err, ErrNotFound)
	p := problems(t, a.AddAirframe(t.Context(), NewAirframe{ID: "airframe-1", Unit: "yd"}))
	assert.Contains(t, p, "name")
	assert.Contains(t, p, "unit")
	require.NoError(t, a.AddAirframe(t.Context(), NewAirframe{"airframe-1", "Campion C1", "", "in"}))
	assert.Contains(t, problems(t, a.AddAirframe(t.Context(), NewAirframe{"airframe-2", "Campion C1", "", "in"})), "name")
	assert.Contains(t, problems(t, a.AddAssembly(t.Context(), NewAssembly{ID: "assembly-1", Airframe: "airframe-1", Name: "Foreplane", Shape: Shape{Form: "kite"}})), "form")
	require.NoError(t, a.AddAssembly(t.Context(), NewAssembly{ID: "assembly-1", Airframe: "airframe-1", Name: "Foreplane", Shape: Shape{Form: "surface", Inner: -1550, Outer: 1550, Chord: 330}}))
	assert.Contains(t, problems(t, a.AddInstrument(t.Context(), NewInstrument{ID: "instrument-1", Name: "tape", Sort: "tape", Resolution: "wide", Spread: "-1"})), "resolution")
	require.NoError(t, a.AddInstrument(t.Context(), NewInstrument{ID: "instrument-1", Name: "tape", Sort: "tape", Resolution: "1/32 in"}))
	rails := OnRails{Supports: []string{"0", "60"}, Apart: 711.2, Stations: []Station{{"root", "0"}, {"tip", "-1"}}, Low: "-0.1", High: "0.1"}
	n := NewSetup{ID: "setup-000", Assembly: "assembly-1", Name: "on the rails", Checks: rails.Checks(), Hold: EndHoles("foreplane")}
	assert.Contains(t, problems(t, a.BeginSetup(t.Context(), n)), "checks[1].checks[0].stations[1].y")
	rails.Stations[1].Y = "61"
	n.Checks = rails.Checks()
	require.NoError(t, a.BeginSetup(t.Context(), n))
	home, err := a.Home(t.Context(), "")
	require.NoError(t, err)
	assert.Equal(t, "Foreplane: read L1, height", home.Now[0].What)
	require.NoError(t, a.TakeReading(t.Context(), NewReading{ID: "reading-1", Check: "setup-000-check-0", Number: 1, Text: "7 5/8", Instrument: "instrument-1"}))
	got, err := a.Setup(t.Context(), "setup-000")
	require.NoError(t, err)
	assert.InDelta(t, 193.675, got.Checks[0].Spots[0].Readings[0].Value, 1e-9, "bare lengths are in the airframe's unit")
	n.ID, n.Checks = "setup-001", nil
	assert.Contains(t, problems(t, a.BeginSetup(t.Context(), n)), "checks")
}

func TestASlipOfTheTapeIsQuestionedOnceAndBothStayOnTheRecord(t *testing.T) {
	l := openLoft(t)
	survey := railsID + "-check-0"
	n := NewReading{ID: l.id(), Check: survey, Number: 1, Text: "60.5", Instrument: "laser-demo"}
	p := problems(t, l.TakeReading(l.ctx(), n))
	assert.Contains(t, p["slip"], "10 mm", "the last placing was 51")
	assert.Contains(t, problems(t, l.TakeReading(l.ctx(), n)), "slip", "a repeat is the same question")
	entries, _, err := l.Log(l.ctx(), 0, 1)
	require.NoError(t, err)
	assert.Equal(t, "L1, height: 60.5 questioned", entries[0].What)

	n.ID, n.Questioned = l.id(), n.Text
	require.NoError(t, l.TakeReading(l.ctx(), n), "the same figure at a second placing is taken")
	n = NewReading{ID: l.id(), Check: survey, Number: 2, Text: "60", Instrument: "laser-demo", AsMeasured: true}
	require.NoError(t, l.TakeReading(l.ctx(), n), "or one that is said to be as measured")
	n = NewReading{ID: l.id(), Check: survey, Number: 3, Text: "77.5", Instrument: "laser-demo", Questioned: "60.5"}
	assert.Contains(t, problems(t, l.TakeReading(l.ctx(), n))["slip"], "whole inch", "another figure is questioned anew")
	_, err = l.Verify(l.ctx())
	assert.NoError(t, err)
}

func TestAReadingPushedByHandDoesNotReleaseTheForeplane(t *testing.T) {
	l := openLoft(t)
	h, err := l.Hold(l.ctx(), "foreplane-demo-hold")
	require.NoError(t, err)
	assert.Equal(t, hold.Missing, h.Judgement.Standing)
	assert.Contains(t, h.Judgement.Worst().Why, "read pushed by hand; only hands off counts")
	pushed := h.Setup.Checks[0].Spots[0].Readings[1]
	require.NoError(t, l.TakeBack(l.ctx(), TakeBack{l.id(), h.Setup.Checks[0].ID, pushed.ID, "misread"}))
	h, err = l.Hold(l.ctx(), "foreplane-demo-hold")
	require.NoError(t, err)
	assert.Equal(t, hold.Met, h.Judgement.Standing)
	assert.Equal(t, "decalage +3.10° ± 0.04°", h.Setup.Checks[0].Answer())
}

func TestWhereTheDemoStands(t *testing.T) {
	l := openLoft(t)
	home, err := l.Home(l.ctx(), samphireID)
	require.NoError(t, err)
	states := map[string]State{}
	for _, a := range home.Assemblies {
		states[a.Name] = a.State
	}
	assert.Equal(t, Owed, states["Engine mount"])
	assert.Equal(t, Held, states["Fin"])
	assert.Equal(t, Released, states["Main spar, left"])
	assert.Equal(t, Permanent, states["Elevator, left"])
	assert.Equal(t, Held, states["Tailplane"])
	fin, err := l.Setup(l.ctx(), "fin-upright-demo")
	require.NoError(t, err)
	lean, _ := fin.Checks[0].Result.Quantity("lean")
	assert.InDelta(t, 0.065, lean.Value, 1e-12)
	assert.Equal(t, 2, lean.Placings, "one placing too few")
	mount, err := l.Setup(l.ctx(), "mount-pads-demo")
	require.NoError(t, err)
	down, _ := mount.Checks[0].Result.Quantity("down")
	assert.InDelta(t, 1.853, down.Value, 1e-3, "atan(11/340)")
	assert.Equal(t, measure.Stop, mount.Checks[0].Result.Verdict)
}

// Every template makes a setup that can be begun with the figures it shows.
func TestEveryTemplateMakesASetup(t *testing.T) {
	l := openLoft(t)
	for _, template := range Templates {
		filled := make([]Filled, len(template.Checks))
		for i, c := range template.Checks {
			filled[i] = Filled{Take: true, Values: c.Usual, Low: map[string]string{}, High: map[string]string{}}
			for _, limit := range c.Limits {
				filled[i].High[limit.Quantity] = "2"
			}
		}
		n, wrong := template.Setup(l.id(), "rudder-demo", "on the bench, "+template.ID, quantity.Millimetre, filled)
		require.Empty(t, wrong, template.ID)
		require.NoError(t, l.BeginSetup(l.ctx(), n), template.ID)
		s, err := l.Setup(l.ctx(), n.ID)
		require.NoError(t, err)
		assert.Len(t, s.Checks, len(template.Checks))
		for _, c := range s.Checks {
			assert.NotEmpty(t, c.Spots, c.Name)
		}
	}
}

func TestATemplatesFormIsRefusedFieldByField(t *testing.T) {
	tailplane, ok := TemplateOf("tailplane")
	require.True(t, ok)
	filled := make([]Filled, len(tailplane.Checks))
	filled[0] = Filled{Take: true, Values: map[string]string{"design": "1.0 R", "attach_spacing": "wide"}}
	filled[3] = Filled{Take: true, Values: map[string]string{"station": "5480", "half_span": "", "from": "firewall; 0; -1320\nboom root; x"}}
	_, wrong := tailplane.Setup("setup-0001", "x", "here", quantity.Millimetre, filled)
	assert.Contains(t, wrong["0.design"], "up or down")
	assert.Contains(t, wrong["0.attach_spacing"], "wide")
	assert.Equal(t, "is wanted, from the plans", wrong["3.half_span"])
	assert.Contains(t, wrong["3.from"], "line 2")
	assert.Len(t, wrong, 4, "what may be empty is not missed")
}

// A bench that must be true stops what is riveted on it; one that is only surveyed
// need not be.
func TestALimitedSurveyMustBeShownAndAnotherOnlyThere(t *testing.T) {
	l := openLoft(t)
	boom, ok := TemplateOf("boom")
	require.True(t, ok)
	for high, want := range map[string]hold.Standing{"0.2": hold.Stop, "": hold.Met} {
		filled := []Filled{{Take: true, Values: boom.Checks[0].Usual, Low: map[string]string{}, High: map[string]string{"twist": high}}, {}, {}}
		n, wrong := boom.Setup(l.id(), "tail-boom-demo", "on its stands "+high, quantity.Millimetre, filled)
		require.Empty(t, wrong)
		require.NoError(t, l.BeginSetup(l.ctx(), n))
		for i, height := range []string{"50", "50", "50", "45"} {
			require.NoError(t, l.read(n.ID+"-check-0", i+1, height, "rule-demo-600", ""))
		}
		h, err := l.Hold(l.ctx(), n.ID+"-hold")
		require.NoError(t, err)
		assert.Equal(t, hold.Missing, h.Judgement.Standing, "nothing is riveted that is not taken apart and cleaned")
		require.NoError(t, l.Look(l.ctx(), LookAt{ID: l.id(), Need: hold.Prepared, Of: h.ID, By: "builder", What: hold.Preparations}))
		h, err = l.Hold(l.ctx(), n.ID+"-hold")
		require.NoError(t, err)
		assert.Equal(t, want, h.Judgement.Standing, "limit %q", high)
	}
}

// A network that delivers a form again, after more was read, makes no new entry.
func TestALateRepeatOfAReadingIsNeitherASlipNorAReading(t *testing.T) {
	l := openLoft(t)
	first := NewReading{ID: l.id(), Check: railsID + "-check-0", Number: 2, Text: "50.5", Instrument: "laser-demo"}
	require.NoError(t, l.TakeReading(l.ctx(), first))
	further := NewReading{ID: l.id(), Check: first.Check, Number: 2, Text: "60.5", Instrument: "laser-demo", AsMeasured: true}
	require.NoError(t, l.TakeReading(l.ctx(), further))
	before, err := l.Verify(l.ctx())
	require.NoError(t, err)
	require.NoError(t, l.TakeReading(l.ctx(), first), "10 mm from its twin by now, but it was taken before that")
	after, err := l.Verify(l.ctx())
	require.NoError(t, err)
	assert.Equal(t, before, after)
}

// Readings and an event from two hands at once: what is read after the event
// counts, what was read before it does not, and the record is whole.
func TestTwoHandsAtOnceLeaveAWholeRecord(t *testing.T) {
	l := openLoft(t)
	done := make(chan error, 20)
	for i := range 20 {
		id := fmt.Sprintf("hand-%04d", i)
		go func() {
			if i == 10 {
				done <- l.SomethingMoved(context.Background(), SomethingMoved{id, railsID, measure.Moved})
				return
			}
			done <- l.TakeReading(context.Background(), NewReading{ID: id, Check: railsID + "-check-1", Number: 1, Text: "0.05", Instrument: "level-2-demo"})
		}()
	}
	for range 20 {
		assert.NoError(t, <-done)
	}
	_, err := l.Verify(l.ctx())
	require.NoError(t, err)
	entries, _, err := l.Log(l.ctx(), 0, 20)
	require.NoError(t, err)
	since := 0
	for _, e := range entries {
		if e.Kind == journal.Event {
			break
		}
		since++
	}
	assert.Len(t, l.twist().Spots[0].Counting(), since)
}

func TestEchoesSayWhatWasUnderstood(t *testing.T) {
	pitch, roll, height := measure.Spot{Dimension: measure.Angle, Sense: "pitch"}, measure.Spot{Dimension: measure.Angle, Sense: "cross-level"}, measure.Spot{Dimension: measure.Length, Sense: "length"}
	tests := []struct {
		text string
		spot measure.Spot
		unit quantity.Unit
		want string
	}{
		{"0.36 up", pitch, quantity.Millimetre, "+0.36°, leading edge up"}, {"-0.2", pitch, quantity.Millimetre, "−0.20°, leading edge down"}, {"0", pitch, quantity.Millimetre, "0.00°"},
		{"0.08 L", roll, quantity.Millimetre, "−0.08°, left side low"}, {"52.5", height, quantity.Millimetre, "52.5 mm"},
		{"64 5/16 in", height, quantity.Millimetre, "64 5/16 in = 1633.5 mm"}, {"64 5/16", height, quantity.Inch, "64 5/16 in = 1633.5 mm"},
	}
	for _, test := range tests {
		got, err := Echo(test.text, test.spot, test.unit)
		require.NoError(t, err)
		assert.Equal(t, test.want, got)
	}
	_, err := Echo("0.08 R", pitch, quantity.Millimetre)
	assert.ErrorContains(t, err, "up or down")
}

func TestAReleaseKeepsItsEvidenceAndItsWorksheetInTheJournal(t *testing.T) {
	l := openLoft(t)
	require.NoError(t, l.release(NewRelease{By: "builder"}))
	require.NoError(t, l.SetHeld(l.ctx(), SetHeld{l.id(), l.twist().ID, false}))
	assert.Equal(t, hold.Stop, l.hold().Judgement.Standing)
	lines := l.hold().Current().Lines
	assert.Equal(t, "go: twist +0.03° ± 0.05°", lines[2].Why, "as it was then")
	var content struct {
		Facts struct{ Worksheet json.RawMessage }
	}
	require.NoError(t, l.view(l.ctx(), func(q *query.Queries) error {
		row, err := q.EntryByID(l.ctx(), l.hold().Current().ID)
		require.NoError(t, err)
		return json.Unmarshal([]byte(row.Content), &content)
	}))
	_, errs := worksheet.Parse(content.Facts.Worksheet)
	assert.Empty(t, errs)
}
