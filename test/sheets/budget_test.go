package sheets_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/logbook"
	"orpine/internal/measuring"
	"orpine/internal/stores"
	"orpine/test/loft"
	"orpine/test/site"
)

// What a key or a reading may cost, with the page that comes back: so many statements,
// whatever came before.
const (
	keyBudget     = 26
	readingBudget = 32
)

// costs counts the statements of one form, sent as htmx does.
func costs(v *site.Site, path string, fields ...string) int64 {
	v.T.Helper()
	form := v.Form(path, fields...)
	before := v.Ledger.Statements()
	w := v.Post(path, form, true)
	require.Equal(v.T, http.StatusOK, w.Code, site.Said(w.Body.String()))
	return v.Ledger.Statements() - before
}

func TestAKeyAndAReadingCostTheSameWhateverCameBefore(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	key := func(number int) int64 {
		return costs(v, row3+"/holes", "do", "set", "number", fmt.Sprint(number), "by", "builder", "crew", "solo")
	}
	reading := func(text string) int64 {
		return costs(v, rails+"/readings", "check", demo.Check("tailplane on rails", 1), "number", "3", "text", text, "instrument", demo.ID("level 2"), "in_place", "misread")
	}
	k, r := key(43), reading("0.14 up")
	t.Log("a rivet key:", k, "statements; a reading:", r)
	assert.LessOrEqual(t, k, int64(keyBudget))
	assert.LessOrEqual(t, r, int64(readingBudget))

	ctx := t.Context()
	for i := range 40 {
		slip := logbook.NewSlip{Form: v.Loft.Form(), Assembly: demo.ID("tail boom"), Step: "rivet", Cause: "tool slipped"}
		require.NoError(t, v.Logbook.Log(ctx, slip))
		require.NoError(t, v.Logbook.Tell(ctx, logbook.SlipCost{Form: v.Loft.Form(), Slip: slip.ID, Seen: v.Log(1)[0].Seq, Lesson: fmt.Sprint("lesson ", i)}))
		require.NoError(t, v.Instruments.Test(ctx, instrument.EndForEnd{Form: v.Loft.Form(), Instrument: demo.ID("level 2"), First: "0.07", Turned: "-0.15"}))
		require.NoError(t, v.Stores.CountStock(ctx, stores.NewStock{Form: v.Loft.Form(), Airframe: demo.ID("samphire"), Sort: "rivet", Name: "solid 1/8 × 1/4 in", Number: 1}))
		require.NoError(t, v.Read(demo.Check("tailplane on rails", 1), 1+i%10, fmt.Sprintf("0.%02d up", 5+i%10*4), demo.ID("level 2"), "misread"))
		require.NoError(t, v.Do(demo.ID("row 3"), row.Pin, 44+i%20))
		require.NoError(t, v.Undo(demo.ID("row 3")))
	}
	for i := range 12 {
		n := measuring.NewSetup{Form: v.Loft.Form(), Assembly: demo.ID("tailplane"), Name: fmt.Sprint("once more ", i), Checks: []measuring.NewCheck{loft.Bow()}, Hold: measuring.EndHoles("tailplane")}
		n.Checks[0].Instrument, n.Hold.Required = demo.ID("rule"), n.Hold.Required[:0]
		require.NoError(t, v.Measuring.Begin(ctx, n))
	}
	assert.Equal(t, k, key(45), "a rivet key")
	assert.Equal(t, r, reading("0.15 up"), "a reading")
}

// What a page costs does not grow with what is on others.
func TestAPageIsReadInFewStatements(t *testing.T) {
	v := site.Demo(t)
	for path, most := range map[string]int64{"/": 42, "/setups": 25, "/holds": 47, "/joins": 25, boom: 60, boom + "/record": 110, rails: 40, endHoles: 40, row3: 25, bay: 30, "/stores": 95, "/order": 60, "/money": 60, "/hours": 65, "/questions": 20, "/cures": 15, "/resume": 110, "/find": 40, "/log": 10, "/slips": 10, "/instruments": 25,
		"/assemblies/" + demo.ID("tailplane") + "/usual/join": 25} {
		v.Get(path) // standings that are not kept yet are worked out once
		before := v.Ledger.Statements()
		require.Equal(t, http.StatusOK, v.Get(path).Code, path)
		took := v.Ledger.Statements() - before
		t.Log(path, took)
		assert.LessOrEqual(t, took, most, path)
	}
	form := v.Form("/airframes/"+demo.ID("samphire")+"/schools", "school.limits", "plain")
	before := v.Ledger.Statements()
	require.Equal(t, http.StatusSeeOther, v.Post("/airframes/"+demo.ID("samphire")+"/schools", form, false).Code)
	assert.LessOrEqual(t, v.Ledger.Statements()-before, int64(24), "choosing schools, with two releases that wait")
}

// The dearest ones: a reading in place of several that a waiting release rests on, in a
// setup that was disturbed and is not complete, before riveting; a rivet in a bay whose
// closing was released.
func TestTheDearestKeyAndReadingKeepToTheirBudget(t *testing.T) {
	t.Parallel()
	v := site.Of(loft.Small(t), "")
	setup := "/setups/" + loft.BenchSetup + "/readings"
	fields := []string{"check", loft.BenchCheck, "number", "1", "text", "10", "instrument", loft.BenchRule}
	v.Done(setup, fields...)
	v.Done(setup, fields...)
	n := costs(v, setup, append(fields, "in_place", "misread")...)
	t.Log("a reading:", n)
	assert.LessOrEqual(t, n, int64(readingBudget+3), "three more, for a maker's notice there names rivets: what is set, and mixed, is looked through")
	require.NoError(t, v.TakeBack(loft.BenchCheck, loft.LastAt(v.SetupOf(loft.BenchSetup).Checks[0], 3), "misread"))
	n = costs(v, setup, append(fields, "in_place", "misread", "stay", "yes")...)
	t.Log("a reading of an incomplete check, staying there:", n)
	assert.LessOrEqual(t, n, int64(readingBudget))
	require.NoError(t, v.Take(loft.BenchSetup, 3, measuring.NewReading{Check: loft.BenchCheck, Text: "10.5", Instrument: loft.BenchRule}))
	require.NoError(t, v.Release(loft.BenchRivet, holding.NewRelease{By: "builder"}))
	n = costs(v, "/rows/"+loft.BenchRow+"/holes", "do", "set", "number", "3", "by", "builder", "crew", "solo")
	t.Log("a rivet key:", n)
	assert.LessOrEqual(t, n, int64(keyBudget))
}
