package sheets_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/asking"
	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/measuring"
	"orpine/test/loft"
	"orpine/test/site"
)

// What is typed in from a card is many readings: sent again they are once, changed they are
// refused, and so is what a second tab still shows.
func TestACardSentAgainChangedOrFromASecondTab(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	page := "/setups/" + demo.ID("tailplane on rails") + "/card"
	form := v.Form(page, "condition", "clamped", "instrument.1", demo.ID("level 2"))
	form.Set("spot.101", "0.06 up")
	old := v.Form(page, "condition", "clamped", "instrument.1", demo.ID("level 2")) // a second tab, loaded before
	old.Set("spot.101", "0.07 up")
	before := v.Verify()
	first := v.Post(page, form, false)
	assert.Equal(t, http.StatusSeeOther, first.Code, site.Said(first.Body.String()))
	assert.Equal(t, before+1, v.Verify())
	assert.Equal(t, http.StatusSeeOther, v.Post(page, form, false).Code, "the answer was lost")
	assert.Equal(t, before+1, v.Verify())
	form.Set("spot.101", "0.09 up")
	assert.Equal(t, http.StatusUnprocessableEntity, v.Post(page, form, false).Code, "sent again, changed")
	assert.Equal(t, http.StatusUnprocessableEntity, v.Post(page, old, false).Code, "from a second tab")
	assert.Equal(t, before+1, v.Verify())
}

// A table whose answer was lost is taken once; changed under the same form, not at all.
func TestATableSentAgainOrChanged(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	form := map[string][]string{"id": {loft.ID("a table")}, "sort": {"parts"}, "airframe": {demo.ID("samphire")}, "do": {"take"}, "data": {"number,name,lot\nT-1,rib,7\n"}}
	before := v.Verify()
	assert.Equal(t, http.StatusOK, v.Post("/files/table", form, false).Code)
	assert.Equal(t, before+1, v.Verify())
	assert.Equal(t, http.StatusOK, v.Post("/files/table", form, false).Code)
	assert.Equal(t, before+1, v.Verify())
	form["data"] = []string{"number,name,lot\nT-1,rib,8\n"}
	assert.Equal(t, http.StatusUnprocessableEntity, v.Post("/files/table", form, false).Code)
	assert.Equal(t, before+1, v.Verify())
}

// What waited in a phone says which entry the phone had seen last: the release that ended since is
// asked as of then. What was refused is told as a fact, all of it or nothing.
func TestWhatWaitedSaysWhatItKnew(t *testing.T) {
	t.Parallel()
	v := site.Of(loft.Bench(t, 3), "")
	for i := range 3 {
		require.NoError(t, v.Take(loft.BenchSetup, i+1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	}
	require.NoError(t, v.Look(gate.LookAt{Need: hold.Marked, Of: loft.BenchRow, By: "builder"}))
	require.NoError(t, v.Look(gate.LookAt{Need: hold.Prepared, Of: loft.BenchRow, By: "builder", What: hold.Preparations}))
	require.NoError(t, v.Loft.Release(loft.BenchRivet, holding.NewRelease{By: "builder"}))
	released := v.HoldOf(loft.BenchRivet).ReleaseID
	require.NoError(t, v.Do(loft.BenchRow, row.Drill, 1, 2, 3))
	require.NoError(t, v.Do(loft.BenchRow, row.Clean, 1, 2, 3))
	key := func(hole int, headers ...string) *httptest.ResponseRecorder {
		form := v.Form("/rows/"+loft.BenchRow+"/holes", "number", fmt.Sprint(hole), "do", "set", "crew", "solo")
		r := httptest.NewRequest(http.MethodPost, "/rows/"+loft.BenchRow+"/holes", strings.NewReader(form.Encode()))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("HX-Request", "true")
		for i := 0; i+1 < len(headers); i += 2 {
			r.Header.Set(headers[i], headers[i+1])
		}
		return v.Ask(r)
	}
	seen := v.Get("/rows/" + loft.BenchRow).Header().Get("X-Entry")
	assert.Equal(t, fmt.Sprint(v.Ledger.Seq()), seen)
	require.NoError(t, v.Take(loft.BenchSetup, 2, measuring.NewReading{Check: loft.BenchCheck, Text: "16", Instrument: loft.BenchRule, InPlace: "misread"}))
	assert.Equal(t, http.StatusUnprocessableEntity, key(1, "X-Seen", seen).Code, "it did not wait")
	assert.Equal(t, http.StatusUnprocessableEntity, key(1, "X-Age", "60000").Code, "it says nothing of what it knew")
	assert.Equal(t, http.StatusOK, key(1, "X-Age", "60000", "X-Seen", seen).Code)
	r := httptest.NewRequest(http.MethodPost, "/holds/"+loft.BenchRivet+"/step", strings.NewReader(url.Values{"id": {uuid.NewString()}, "release": {released}, "by": {"builder"}}.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("X-Age", "60000")
	r.Header.Set("X-Seen", seen)
	assert.Contains(t, v.Ask(r).Body.String(), "stands no more", "no step waits in a phone: it is asked as of now")
	now := v.Get("/rows/" + loft.BenchRow).Header().Get("X-Entry")
	assert.Contains(t, key(2, "X-Age", "60000", "X-Seen", now).Body.String(), "stands no more")

	tell := func(by string, at ...string) *httptest.ResponseRecorder {
		form := url.Values{"id": {uuid.NewString()}, "by": {by}, "reason": {"the line was cut"}, "at": at}
		return v.Post("/facts", form, true)
	}
	set := func() (n int) { return v.RowOf(loft.BenchRow).Count(row.Set) }
	assert.Contains(t, tell("helper").Body.String(), "which row")
	assert.Contains(t, tell("", loft.BenchRow+"|set|2").Body.String(), "who did it")
	assert.Contains(t, tell("helper", loft.BenchRow+"|set|2", loft.BenchRow+"|set|1").Body.String(), "row: hole 1 is set already")
	assert.Equal(t, http.StatusNotFound, tell("helper", loft.BenchRow+"|set|2", "nothing|set|1").Code)
	assert.Equal(t, 1, set(), "all of it or nothing")
	assert.Equal(t, http.StatusSeeOther, tell("helper", loft.BenchRow+"|set|2", loft.BenchRow+"|set|3").Code)
	assert.Equal(t, 3, set())
	v.Verify()
}

// Nothing but what waits in a phone is asked as of then: a release that says it waited meets a question
// that was asked since.
func TestAReleaseIsAlwaysAskedAsOfNow(t *testing.T) {
	t.Parallel()
	v := site.Of(loft.Bench(t, 2), "")
	for i := range 3 {
		require.NoError(t, v.Take(loft.BenchSetup, i+1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	}
	require.NoError(t, v.Look(gate.LookAt{Need: hold.Marked, Of: loft.BenchRow, By: "builder"}))
	require.NoError(t, v.Look(gate.LookAt{Need: hold.Prepared, Of: loft.BenchRow, By: "builder", What: hold.Preparations}))
	seen, form := fmt.Sprint(v.Ledger.Seq()), v.Form("/holds/"+loft.BenchRivet+"/release", "by", "builder")
	require.NoError(t, v.Asking.Ask(t.Context(), asking.NewQuestion{Form: v.Loft.Form(), Airframe: loft.BenchFrame, Sort: asking.Question, Text: "five or six?", What: []string{"hold:" + loft.BenchRivet}}))
	r := httptest.NewRequest(http.MethodPost, "/holds/"+loft.BenchRivet+"/release", strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("X-Age", "60000")
	r.Header.Set("X-Seen", seen)
	assert.Equal(t, http.StatusUnprocessableEntity, v.Ask(r).Code)
	assert.False(t, v.Waiting(loft.BenchRivet))
}
