package wayround

import (
	"database/sql"
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/amending"
	"orpine/internal/asking"
	"orpine/internal/core/measure"
	"orpine/internal/core/part"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/stores"
	"orpine/test/loft"
)

// stands demands that a release stands, unmarked: waiting, or spent.
func stands(t *testing.T, l *loft.Loft, id string, waiting bool) {
	t.Helper()
	h := l.HoldOf(id)
	assert.Equal(t, waiting, h.Waiting())
	require.NotNil(t, h.Current())
	assert.Empty(t, h.Ended)
	assert.Empty(t, h.Current().Wrong)
	assert.Empty(t, h.Current().Ended)
	l.Verify()
}

// spent is the row of the bench, set and recorded.
func spent(t *testing.T) *world {
	t.Helper()
	w := world1(t)
	require.NoError(t, w.Do(loft.BenchRow, row.Rivet, 1, 2, 3, 4, 5))
	require.NoError(t, w.Step(loft.BenchRivet, "builder", ""))
	return w
}

func TestTwoProofsAnEveningEndNothing(t *testing.T) {
	l := loft.Demo(t)
	require.NoError(t, l.ReleaseRails(holding.NewRelease{By: "builder"}))
	was := float64(l.Tool("level 2").Zero)
	for _, by := range []float64{0, 0.01} {
		require.NoError(t, l.Instruments.Test(l.Ctx(), instrument.EndForEnd{Form: l.Form(), Instrument: demo.ID("level 2"), First: quantity.Fixed(was+0.1+by, 3), Turned: quantity.Fixed(was-0.1+by, 3)}))
	}
	stands(t, l, l.Rails().ID, true)
}

func TestAnEventAfterTheStepMarksNothing(t *testing.T) {
	w := spent(t)
	w.Moved(loft.BenchSetup, measure.Moved)
	stands(t, w.Loft, loft.BenchRivet, false)
	assert.True(t, w.HoldOf(loft.BenchRivet).Done)
}

func TestAReadingOfALaterStateMarksNothing(t *testing.T) {
	w := spent(t)
	w.Moved(loft.BenchSetup, measure.TurnedOver)
	for i, text := range []string{"10", "20", "10"} {
		n := w.At(loft.BenchSetup, i+1, measuring.NewReading{Check: loft.BenchCheck, Text: text, Instrument: loft.BenchRule, AsMeasured: true})
		require.NoError(t, w.Measuring.Take(w.Ctx(), n))
	}
	stands(t, w.Loft, loft.BenchRivet, false)
}

func TestACorrectionThatAgreesEndsAndMarksNothing(t *testing.T) {
	w := world1(t)
	require.NoError(t, w.Right("check", loft.BenchCheck, amending.Correct, map[string]string{"high.bow": "3.5"}))
	stands(t, w.Loft, loft.BenchRivet, true)
	w = spent(t)
	require.NoError(t, w.Right("check", loft.BenchCheck, amending.Correct, map[string]string{"high.bow": "3.5"}))
	stands(t, w.Loft, loft.BenchRivet, false)
}

func TestAQuestionEndsNothing(t *testing.T) {
	w := world1(t)
	q := asking.NewQuestion{Form: w.Form(), Airframe: loft.BenchFrame, Sort: asking.Question, Text: "five or six?", What: []string{"hold:" + loft.BenchRivet}}
	require.NoError(t, w.Asking.Ask(w.Ctx(), q))
	stands(t, w.Loft, loft.BenchRivet, true)
	require.NoError(t, w.Asking.AnswerIt(w.Ctx(), asking.Answered{Form: w.Form(), Question: q.ID, Answer: "six", By: "kit maker"}))
	stands(t, w.Loft, loft.BenchRivet, true)
	require.NoError(t, w.Do(loft.BenchRow, row.Rivet, 1))
}

func TestANoticeAboutAnotherLotEndsNothing(t *testing.T) {
	w := world1(t)
	require.NoError(t, w.Stores.AddPart(w.Ctx(), stores.NewPart{Form: w.Form(), Airframe: loft.BenchFrame, Number: "S2-54-9", Name: "clip", Lot: "2300", Assembly: loft.BenchBoom, Row: loft.BenchRow}))
	require.NoError(t, w.Stores.AddNotice(w.Ctx(), stores.NewNotice{Form: w.Form(), Airframe: loft.BenchFrame, Title: "Clips", Names: part.Notice{Lots: []string{"7714"}}}))
	stands(t, w.Loft, loft.BenchRivet, true)
	require.NoError(t, w.Stores.AddNotice(w.Ctx(), stores.NewNotice{Form: w.Form(), Airframe: loft.BenchFrame, Title: "Clips", Names: part.Notice{Lots: []string{"2300"}}}))
	assert.NotEmpty(t, w.HoldOf(loft.BenchRivet).Ended, "this one is about it")
}

// A new build, with other rules, reckons anew from the journal, and finds what stands as it stood.
func TestANewBuildEndsNothing(t *testing.T) {
	w := world1(t)
	db, err := sql.Open("sqlite", w.Data.Path())
	require.NoError(t, err)
	_, err = db.Exec("UPDATE gate_ends SET arithmetic = 1, signed = '[]', basis = '[]'")
	require.NoError(t, errors.Join(err, db.Close()))
	w.Loft = loft.In(t, w.Dir)
	stands(t, w.Loft, loft.BenchRivet, true)
	require.NoError(t, w.Loft.Take(loft.BenchSetup, 2, measuring.NewReading{Form: loft.Named("later"), Check: loft.BenchCheck, Text: "16", Instrument: loft.BenchRule, InPlace: "misread"}))
	assert.NotEmpty(t, w.HoldOf(loft.BenchRivet).Ended, "and goes on from there")
}

// What was asked of an entry is not asked of it again: sent once more it is the same entry.
func TestNothingIsAskedTwiceOfOneEntry(t *testing.T) {
	w := world1(t)
	n := w.At(loft.BenchSetup, 2, measuring.NewReading{Check: loft.BenchCheck, Text: "110", Instrument: loft.BenchRule})
	assert.Contains(t, loft.Problems(t, w.Measuring.Take(w.Ctx(), n)), "slip")
	n.Form, n.AsMeasured = w.Form(), true
	require.NoError(t, w.Measuring.Take(w.Ctx(), n))
	seq := w.Ledger.Seq()
	require.NoError(t, w.Measuring.Take(w.Ctx(), n), "the answer was lost")
	assert.Equal(t, seq, w.Ledger.Seq())
	again := w.At(loft.BenchSetup, 2, measuring.NewReading{Check: loft.BenchCheck, Text: "110", Instrument: loft.BenchRule})
	again.ID = ledger.Child(n.ID, "placed once more")
	require.NoError(t, w.Measuring.Take(w.Ctx(), again), "a figure that agrees with a confirmed one is not asked")
}
