package sheets_test

import (
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/closing"
	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/riveting"
	"orpine/test/loft"
	"orpine/test/site"
)

var (
	undoAction = regexp.MustCompile(`action="([^"]*)" class="sign"`)
	undoField  = regexp.MustCompile(`<input type="hidden" name="([^"]*)" value="([^"]*)">`)
)

// taken sends the form of the undo sheet as it stands there.
func undone(t *testing.T, v *site.Site, fields ...string) (status int, body string) {
	t.Helper()
	page := v.Get("/undo").Body.String()
	action := undoAction.FindStringSubmatch(page)
	require.NotNil(t, action, page)
	for _, m := range undoField.FindAllStringSubmatch(page[regexp.MustCompile(`class="sign"`).FindStringIndex(page)[0]:], -1) {
		fields = append(fields, m[1], m[2])
	}
	return v.Send(action[1], fields...)
}

// The last thing is named before it is taken back: a hole, an event, a reading, each in turn; what is left is put right.
func TestTheLastThingIsNamedAndTakenBack(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 3)
	v := site.Of(l, "")
	require.NoError(t, l.Take(loft.BenchSetup, 1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	assert.Contains(t, v.Get("/undo").Body.String(), "Take it back")
	status, body := undone(t, v, "reason", check.Reasons[0])
	assert.Less(t, status, 400, site.Said(body))
	assert.Empty(t, l.SetupOf(loft.BenchSetup).Checks[0].Spots[0].Counting())
	assert.Contains(t, v.Get("/undo").Body.String(), "It took something back itself")

	require.NoError(t, l.Take(loft.BenchSetup, 1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	require.NoError(t, l.Measuring.SomethingMoved(l.Ctx(), measuring.SomethingMoved{Form: l.Form(), Setup: loft.BenchSetup, State: l.SetupOf(loft.BenchSetup).State, What: measure.Knocked}))
	assert.Contains(t, v.Get("/undo").Body.String(), "knocked")
	status, body = undone(t, v, "reason", "the wrong button", "by", "builder")
	assert.Less(t, status, 400, site.Said(body))
	assert.Len(t, l.SetupOf(loft.BenchSetup).Checks[0].Spots[0].Counting(), 1, "what it made stale counts again")

	r := l.RowOf(loft.BenchRow)
	require.NoError(t, l.Riveting.Operate(l.Ctx(), riveting.HoleOperation{Form: l.Form(), Row: r.ID, Seen: r.Revised, Numbers: []int{1}, What: row.Drill, By: "builder"}))
	assert.Contains(t, v.Get("/undo").Body.String(), "hole 1: drill")
	status, body = undone(t, v, "by", "builder")
	assert.Less(t, status, 400, site.Said(body))
	h, _ := l.RowOf(loft.BenchRow).Hole(1)
	assert.Equal(t, row.Pilot, h.State)

	v.Done("/stock", "airframe", loft.BenchFrame, "sort", "rivet", "name", "solid 1/8 × 6 mm", "number", "5")
	assert.Contains(t, v.Get("/undo").Body.String(), `href="/right/stock?id=`)
}

func TestInAnEmptyShopNothingIsTakenBack(t *testing.T) {
	t.Parallel()
	v := site.Of(loft.Empty(t), "")
	assert.Contains(t, v.Get("/undo").Body.String(), "Nothing was entered yet")
}

// A count is taken back by the link beside it: what is wrong is said at the field and what was typed
// stays, the log names it, and it is not taken back twice. An entry of another kind cannot be.
func TestACountIsTakenBackByItsLink(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	bay := "/bays/" + closing.BayOf(demo.ID("close boom"))
	page := v.Get(bay).Body.String()
	link := regexp.MustCompile(`/undo\?entry=[0-9a-f-]{36}`).FindString(page)
	require.NotEmpty(t, link, "each count has one")
	v.Sees(link, "counted in", "Take it back", `name="back" value="/log"`)
	asked := httptest.NewRequest(http.MethodGet, link, nil)
	asked.Header.Set("Referer", "http://127.0.0.1:8080"+bay)
	assert.Contains(t, v.Ask(asked).Body.String(), `name="back" value="`+bay+`"`, "one comes back to where one was")
	asked.Header.Set("Referer", "http://elsewhere.example"+bay)
	assert.Contains(t, v.Ask(asked).Body.String(), `name="back" value="/log"`)
	entry := strings.TrimPrefix(link, "/undo?entry=")
	v.Refused("why? In words", "/undo", "entry", entry, "by", "kept words")
	v.Refused("who takes it back?", "/undo", "entry", entry, "reason", "kept words")
	form := v.Form("/undo", "entry", entry, "by", "builder", "reason", "these lay on the bench", "back", bay)
	for range 2 { // the answer was lost: the same form once more is one entry
		again := v.Post("/undo", form, false)
		assert.Equal(t, http.StatusSeeOther, again.Code)
		assert.Equal(t, bay, again.Header().Get("Location"))
	}
	assert.NotContains(t, v.Get(bay).Body.String(), link)
	v.Sees("/log", "Taken back: Tail boom", "these lay on the bench")
	v.Refused("it was taken back already", "/undo", "entry", entry, "by", "builder", "reason", "kept words")
	assert.Equal(t, http.StatusNotFound, v.Get("/undo?entry=nothing").Code)
	status, _ := v.Send("/undo", "entry", demo.ID("fin"), "by", "builder", "reason", "no")
	assert.Equal(t, http.StatusNotFound, status)
}

// A step that was recorded at the wrong hold is taken back by the link beside it, and the hold asks for its release anew.
func TestAStepIsTakenBackByItsLink(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	v := site.Of(l, "")
	at := "/holds/" + ledger.Child(loft.ID("second setup"), "hold all")
	link := regexp.MustCompile(`/undo\?entry=[0-9a-f-]{36}`).FindString(v.Get(at).Body.String())
	require.NotEmpty(t, link)
	v.Sees(link, "done, All holes: drill the frame", "Take it back")
	entry := strings.TrimPrefix(link, "/undo?entry=")
	v.Refused("why? In words", "/undo", "entry", entry, "by", "builder")
	v.Done("/undo", "entry", entry, "by", "builder", "reason", "it was the other frame", "back", at)
	page := v.Get(at).Body.String()
	assert.NotContains(t, page, "/undo?entry=")
	assert.Contains(t, page, "Release and sign")
	v.Sees("/log", "not done, All holes: drill the frame", "it was the other frame")
	v.Refused("it was taken back already", "/undo", "entry", entry, "by", "builder", "reason", "kept words")
}

// A recall on the sheet: two boxes by number and by weight, the second drawn from, a notice on the first, and its list,
// which closes as each is looked at. What is wrong is said at its field, and what was typed stays.
func TestARecallOnTheSheet(t *testing.T) {
	t.Parallel()
	v := site.Of(loft.Bench(t, 3), "")
	box := []string{"airframe", loft.BenchFrame, "sort", "rivet", "name", "470-4-4", "number"}
	v.Refused("what do some of them weigh?", "/stock", append(box, "1/4 lb", "note", "kept words")...)
	v.Refused("a day", "/stock", append(box, "5", "best", "soon", "note", "kept words")...)
	v.Done("/stock", append(box, "1/4 lb, 20 weigh 6 g", "lot", "A1", "best", "2020-05")...)
	v.Done("/stock", append(box, "200", "lot", "B2")...)
	v.Sees("/stores", "lot A1, best before 2020-05-31", "out of date", "draw from it", "578")
	v.Done("/lots", "airframe", loft.BenchFrame, "name", "470-4-4", "lot", "B2")
	v.Refused("has 3 holes", "/lots/holes", "airframe", loft.BenchFrame, "row", loft.BenchRow, "holes", "9", "lot", "kept words", "by", "builder")
	v.Done("/notices", "airframe", loft.BenchFrame, "title", "Soft rivets", "numbers", "AD4-4", "lots", "a-1")
	v.Sees("/stores", "1 of 1 to look at or answer for", "470-4-4, lot A1: 378 counted in")
	found := regexp.MustCompile(`/notices/[0-9a-f-]{36}/found`).FindString(v.Get("/stores").Body.String())
	thing := regexp.MustCompile(`name="thing" value="([^"]*)"`).FindStringSubmatch(v.Get("/stores").Body.String())[1]
	v.Refused("affected or not?", found, "airframe", loft.BenchFrame, "thing", thing, "found", "kept words", "by", "builder")
	v.Done(found, "airframe", loft.BenchFrame, "thing", thing, "answer", "not affected", "found", "sent back, and paid for", "by", "builder")
	v.Sees("/stores", "All 1 are looked at.", "sent back, and paid for")
}

// The guide's list and each of its pages are shown, those of no measuring too, which have no drawing.
func TestEveryPageOfTheGuideIsShown(t *testing.T) {
	t.Parallel()
	v := site.Of(loft.Empty(t), "")
	pages := regexp.MustCompile(`/guide/[a-z-]+`).FindAllString(v.Get("/guide").Body.String(), -1)
	require.Len(t, pages, 20)
	for _, page := range pages {
		assert.Equal(t, http.StatusOK, v.Get(page).Code, page)
		if page == "/guide/words" {
			v.Sees(page, "Guarded", "Placing")
			continue
		}
		v.Sees(page, "Because:", "Mind:")
	}
}
