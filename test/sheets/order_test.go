package sheets_test

import (
	"maps"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/demo"
	"orpine/internal/planning"
	"orpine/test/loft"
	"orpine/test/site"
)

func TestTheOrderSheetSaysWhatIsNextAndWhatIsHeld(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	frame := "/airframes/" + demo.ID("samphire")
	v.Sees("/order", "Next", "With a helper", "Before it closes", "the boom bay closes in", "the hold “Close the boom” is not released")
	require.Eventually(t, func() bool {
		return strings.Contains(v.Get("/order/band?airframe="+demo.ID("samphire")).Body.String(), "What is not held is finished")
	}, time.Minute, 50*time.Millisecond, "the band is played in the background")
	v.Sees("/order/band?airframe="+demo.ID("samphire"), "Money decides", "what you save", "What most often stays undone: weigh it", "Each line is what that alone moves it")
	v.Sees("/order/band?short=yes&airframe="+demo.ID("samphire"), "When it is finished", "hangs on what you save")
	v.Sees("/order?airframe="+demo.ID("campion"), "Campion C1", "Your evenings")
	v.Refused("what is to be done?", frame+"/steps", "line", "", "assembly", demo.ID("fin"))
	v.Refused("is not understood", frame+"/steps", "line", "kept words, twice")
	v.Refused("after which: fit the left tank, or fit the right tank?", frame+"/steps", "line", "kept words, 1 h, after fit the")
	v.Refused("choose an assembly of this aircraft", frame+"/steps", "line", "kept words, 1 h", "assembly", demo.ID("foreplane"))
	v.Done(frame+"/steps", "line", "plug the drain, 20 min, after fit the left tank", "assembly", demo.ID("wing panel left"))
	v.Sees("/order", "plug the drain", "waits for fit the left tank")

	v.Refused("from when, as in 19:00 or 7pm?", frame+"/week", "from.mon", "kept words", "long.mon", "2")
	v.Refused("goes on after midnight", frame+"/week", "from.sun", "22:30", "long.sun", "3 h")
	v.Done(frame+"/week", "from.sun", "10:00", "long.sun", "3")
	v.Sees("/order", `name="from.sun" value="10:00"`, `name="long.sun" value="3 h"`)
	v.Refused("who comes?", frame+"/visits", "date", "2026-06-06", "from", "09:00", "long", "3 h")
	v.Refused("on which day", frame+"/visits", "who", "kept words", "date", "Saturday", "from", "09:00", "long", "3 h")
	v.Refused("2 or more", frame+"/visits", "who", "kept words", "date", "2026-06-06", "from", "09:00", "long", "3 h", "people", "1")
	v.Done(frame+"/visits", "who", "Robin", "date", "2026-06-06", "from", "09:00", "long", "3 h", "people", "3")
	v.Sees("/order", "Robin, Sat 6 Jun 2026, 09:00")
	past := planning.NewVisit{Form: loft.Named("past visit"), Airframe: demo.ID("samphire"), Date: v.Now.AddDate(0, 0, -2).Format("2006-01-02"), From: "18:00", Long: "3 h", Who: "Robin"}
	require.NoError(t, v.Planning.AddVisit(v.Ctx(), past))
	evening := "/order/visits/" + loft.ID("past visit")
	v.Sees(evening, "What was done", "lay the floor", `name="to" value="21:00"`)
	v.Refused("nobody&#39;s hours are named", evening, "from", "18:00", "to", "kept words")
	v.Refused("from when", evening, "from", "kept words", "to", "21:00", "who", "kit")
	v.Done(evening, "done", demo.ID("step 11"), "from", "18:00", "to", "21:00", "who", "kit")
	v.Sees("/log", "Done with Robin: lay the floor")
	v.Sees("/hours", "kit: 3 h", "A record of who was at work, and not a judgement of who built the major portion")

	v.Refused("which kind of work?", frame+"/work", "who", "kept words", "category", "play")
	v.Refused("is after now", frame+"/work", "who", "kept words", "category", "build", "date", "2027-01-01", "from", "10:00", "to", "11:00")
	v.Done(frame+"/work", "who", "Robin", "category", "build", "step", "row:"+demo.ID("row 3"))
	v.Sees("/order", "<b>Robin</b> at work since")
	assert.Equal(t, http.StatusNotFound, v.Get("/order/visits/none").Code)
	assert.Equal(t, http.StatusNotFound, v.Get("/order?airframe=none").Code)
}

// A part that comes late, and money that is not there yet, hold what needs them; when it comes
// the step may begin.
func TestOrdersAndMoneyAtTheirSheet(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	frame := "/airframes/" + demo.ID("samphire")
	v.Sees("/order", "waits for the order brake lines, expected", "waits for the money for instruments, there on")
	v.Sees("/money", "brake lines", "promised for 20", "overdue", "ask by", "money limits:", "days late", "are still to be saved", "arrived on")
	v.Refused("what is ordered?", frame+"/orders", "supplier", "kept words")
	v.Refused("is after today", frame+"/orders", "name", "kept words", "supplier", "s", "asked", "2030-01-01")
	v.Refused("arrived is before it was sent", frame+"/order", "order", demo.ID("order solid rivets, 1/8"), "what", "arrived", "day", "2020-01-01")
	v.Done(frame+"/order", "order", demo.ID("order brake lines"), "what", "arrived")
	v.Sees("/order", "run the brake lines")
	assert.NotContains(t, v.Get("/order").Body.String(), "waits for the order brake lines")
	v.Refused("an amount", frame+"/money", "saved", "kept words", "per_month", "1")
	v.Refused("which part of the kit", frame+"/stages", "name", "", "price", "10", "lead", "1")
	v.Done(frame+"/paid", "stage", demo.ID("stage panel"), "paid", "true")
	assert.NotContains(t, v.Get("/order").Body.String(), "waits for the money for instruments")
}

// The calendar is read by a reader of the format: every step of the schedule is in it.
func TestTheScheduleIsACalendar(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	page := v.Get("/order.ics")
	assert.Equal(t, "text/calendar; charset=utf-8", page.Header().Get("Content-Type"))
	cal, err := ics.ParseCalendar(strings.NewReader(page.Body.String()))
	require.NoError(t, err)
	s, err := v.Order(t.Context(), demo.ID("samphire"))
	require.NoError(t, err)
	names := map[string]bool{}
	for _, e := range cal.Events() {
		names[e.GetProperty(ics.ComponentPropertySummary).Value] = true
		from, err := e.GetStartAt()
		if err != nil { // what is expected is expected on a day
			from, err = e.GetAllDayStartAt()
		}
		require.NoError(t, err)
		to, err := e.GetEndAt()
		if err != nil {
			to, err = e.GetAllDayEndAt()
		}
		require.NoError(t, err)
		assert.False(t, to.Before(from))
		if strings.HasPrefix(e.Id(), "evening-") {
			assert.Less(t, to.Sub(from), 13*time.Hour, "an evening, and not the weeks that a step takes")
		}
	}
	for line := range strings.SplitSeq(strings.TrimSuffix(page.Body.String(), "\r\n"), "\r\n") {
		assert.NotContains(t, line, "\n", "each line ends with CRLF")
		assert.LessOrEqual(t, len(line), 75)
	}
	assert.Contains(t, page.Body.String(), "BEGIN:VALARM")
	head := v.Ask(httptest.NewRequest(http.MethodHead, "/order.ics", nil))
	assert.Equal(t, http.StatusOK, head.Code)
	for _, job := range s.Answer.Schedule {
		assert.True(t, slices.ContainsFunc(slices.Collect(maps.Keys(names)), func(n string) bool { return slices.Contains(strings.Split(n, ", then "), s.Steps[job.ID].Name) }), s.Steps[job.ID].Name)
	}
	assert.True(t, names["bond the canopy frame: cures"])
	assert.True(t, names["Visit: helper"])
	assert.True(t, names["Expected: canopy screws"])
	assert.True(t, names["right ribs, first side: may be turned over"])
	assert.Empty(t, page.Header().Get("Content-Disposition"), "a calendar reads it anew each hour")
	assert.Contains(t, page.Body.String(), "REFRESH-INTERVAL")
	assert.Contains(t, v.Get("/order.ics?file=yes").Header().Get("Content-Disposition"), "order.ics")
}

// What a builder says of a bay, of a notice, and of the other side, at their sheets.
func TestBaysNoticesAndTheOtherSideAtTheirSheets(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	bay := "/bays/" + demo.Bay()
	v.Sees(bay, "Tick what lies outside", "row 5, top skin lap (25–48 to be set)", "Tick where they can still be reached")
	v.Refused("who did it?", bay+"/ticked", "outside", "row:"+demo.ID("row 5"))
	v.Refused("one of these is done since", bay+"/ticked", "outside", "row:none", "by", "kept words")
	v.Done(bay+"/ticked", "outside", "row:"+demo.ID("row 5"), "reachable", demo.ID("row 3"), "by", "builder")
	v.Sees(bay, "row 5, top skin lap (25–48 to be set): outside, builder", "can still be reached")
	v.Done(bay+"/ticked", "inside", "row:"+demo.ID("row 5"), "by", "builder")
	v.Refused("lies within this one", bay+"/placed", "within", demo.Bay(), "by", "kept words")
	v.Done(bay+"/placed", "also", demo.ID("fin"), "by", "builder")
	v.Sees(bay, "Of Fin too.")

	v.Sees("/stores", "unknown: look", "Not affected: 2", "hard enough")
	s, err := v.Store(t.Context(), demo.ID("samphire"))
	require.NoError(t, err)
	notice := "/notices/" + s.Notices[0].ID + "/found"
	assert.NotContains(t, v.Get("/stores").Body.String(), "rivets to drill", "what was found sound is not drilled out")
	v.Done(notice, "airframe", demo.ID("samphire"), "part", demo.ID("stringer left"), "answer", "affected", "found", "a second test reads 31", "by", "builder")
	v.Sees("/stores", "41 rivets to drill", "h were worked on what it lies in")
	v.Refused("affected or not?", notice, "airframe", demo.ID("samphire"), "part", demo.ID("stringer spare"), "found", "kept words", "by", "builder")
	v.Done(notice, "airframe", demo.ID("samphire"), "part", demo.ID("stringer spare"), "answer", "not affected", "found", "the stamp reads 2120", "by", "builder")
	v.Sees("/stores", "the stamp reads 2120")

	like := "/setups/" + demo.ID("spar left") + "/like"
	v.Sees(like, "The same on another assembly", "Main spar, right")
	v.Refused("choose another assembly", like, "assembly", demo.ID("main spar left"))
	v.Refused("names the points of this side", "/setups/"+demo.ID("tailplane join")+"/like", "assembly", demo.ID("fin"))
	v.Done(like, "assembly", demo.ID("main spar right"))
	hold := "/holds/" + demo.ID("close boom") + "/like"
	v.Sees(hold, "with the space that it closes")
	v.Refused("choose another assembly", hold, "assembly", demo.ID("tail boom"))
	v.Done(hold, "assembly", demo.ID("fin"))
}

// An oversize is refused at what is wrong with it, and keeps what was typed.
func TestAnOversizeIsRefusedAtItsFields(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	row := "/rows/" + demo.ID("row 5") + "/holes"
	v.Refused("how wide is the hole now?", row, "do", "oversize", "number", "30", "rivet", "5/32", "why", "kept words")
	v.Refused("does not fill a hole of 4.40 mm", row, "do", "oversize", "number", "30", "hole", "4.4", "rivet", "5/32", "why", "kept words")
	v.Refused("does the dimple still fit", row, "do", "oversize", "number", "30", "hole", "4.05", "rivet", "5/32", "why", "kept words")
	v.Refused("why is hole 30 drilled oversize?", row, "do", "oversize", "number", "30", "hole", "4.05", "rivet", "5/32", "dimple", "the dimple still fits the head")
	v.Done(row, "do", "oversize", "number", "30", "hole", "4.05", "rivet", "5/32", "dimple", "the dimple still fits the head", "why", "egg-shaped", "by", "builder")
	v.Sees("/rows/"+demo.ID("row 5")+"?hole=30", "hole 4.05 mm, rivet 5/32, the dimple still fits the head; egg-shaped", "oversize")
	v.Refused("after which step can hole 31 not be reached?", row, "do", "out of reach", "number", "31", "by", "kept words")
	v.Done(row, "do", "out of reach", "number", "31", "after", "Close the boom", "beyond", "set", "by", "builder")
	v.Sees("/holds/"+demo.ID("close boom"), "hole 31 of Tail boom, row 5, top skin lap, cannot be set after it")
	v.Done("/rows/"+demo.ID("row 5")+"/several", "several", "32-33", "operation", "out of reach/set", "step", "Close the boom", "by", "builder")
	v.Sees("/holds/"+demo.ID("close boom"), "holes 31–33 of Tail boom")
	v.Refused("this lies far outside the part", "/assemblies/"+demo.ID("rudder")+"/rows", "name", "kept words", "lay", "line", "view", "from the left", "from.0.0", "60000", "from.0.1", "600", "to.0.0", "5500", "to.0.1", "1400", "count", "9", "size", "1/8", "sort", "solid", "head", "domed", "metal", "aluminium", "layers.0.0", "aluminium", "layers.0.1", "1")
}

// The sheets around the order, each with what it refuses, and with what was typed kept.
func TestTheSheetsAroundTheOrder(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	frame := "/airframes/" + demo.ID("samphire")
	v.Sees("/hours", "By assembly", "By step, against what was expected", "Your pace", "the second of a pair", "What slips cost", "passed its high")
	v.Refused("has no column “date”", frame+"/hours-in", "who", "kept words", "csv", "day,hours")
	v.Refused("whose hours are they", frame+"/hours-in", "csv", "date,hours\n2026-04-01,2 kept words")
	v.Done(frame+"/hours-in", "who", "Robin", "csv", "date,hours,category\n2026-04-01,2,research")
	v.Sees("/hours", "Robin, research, 1 April")
	w := v.Get("/hours.csv?airframe=" + demo.ID("samphire"))
	assert.Contains(t, w.Body.String(), "2026-04-01,09:00,11:00,2.00,Robin,research,,")

	v.Sees("/questions", "which fuel pump", "Waits for it:", "row 5, top skin lap, holes 40-44", "the drawing prevails", "after that it is out of reach")
	v.Refused("what is the question?", frame+"/questions", "sort", "question", "whom", "kept words")
	v.Refused("two of the three at least", frame+"/questions", "sort", "contradiction", "text", "kept words", "words", "four")
	v.Refused("which step is the last", frame+"/questions", "sort", "decision", "text", "kept words")
	v.Refused("who decided?", frame+"/questions/"+demo.ID("question 0")+"/answer", "answer", "kept words")
	v.Done(frame+"/questions/"+demo.ID("question 0")+"/answer", "answer", "the small one", "answered_by", "kit maker")
	v.Sees("/questions", "the small one", "Open again")
	v.Sees("/log", "Answered: which fuel pump")

	v.Sees("/cures", "right ribs, first side", "side 1 of 2: 1 coat of 1 to 2", "no metal shows through", "weigh a mix", "bonding resin")
	v.Sees("/stores", "right ribs, first side") // on every sheet
	v.Refused("one line at least", frame+"/materials", "name", "kept words")
	v.Refused("how warm is the shop?", frame+"/clocks", "sort", "mix", "what", "kept words", "full", "30 min")
	v.Refused("by which maker&#39;s table", frame+"/clocks", "sort", "mix", "what", "kept words", "temperature", "17")
	pass := frame + "/clocks/" + demo.ID("clock ribs") + "/pass"
	v.Refused("not dry to handle before", pass, "did", "turned over", "at", "", "temperature", "17")
	v.Done(pass, "did", "turned over", "why", "hung by its edge")
	v.Sees("/cures", "side 2 of 2: 0 coats")

	v.Sees("/", "Late", "from kit maker, promised for")
	v.Sees("/resume", "Released, and not done", "Rows half set", "row 3, left stringer", "Late, or wrong when it came", "brake lines")
	v.Sees("/order/network", "The order as a network", "more are not drawn")
	v.Sees("/order/network?step="+demo.ID("step 13"), "panel wiring", "Comes after", "lay the floor")
	v.Sees("/order/usual?airframe="+demo.ID("campion")+"&usual=canard", "Composite canard", "{side} wing: shear web", "both in step")
	v.Sees("/order", "its twin took", "impossible", "I did something else tonight", "/order.ics?airframe=")
	v.Done(frame+"/split", "step", demo.ID("step 13"), "seen", "open")
	v.Sees("/order", "panel wiring, part 1", "panel wiring, part 2")

	v.Sees("/stores", "Ask for", "29 more solid 1/8 × 1/4 in", "ask by", "box 2, shelf A")
	v.Sees("/find?word=shelf+c", "aileron rib 3, left")
	v.Sees("/find?word=zeppelin", "Nothing here is called so")
	v.Sees("/money", "weeks of saving against", "aileron rib 3, right", "look before it is put away")
	v.Refused("not at its label", frame+"/came", "order", demo.ID("order aileron rib 3"), "count", "1", "place", "kept words")
	v.Done(frame+"/came", "order", demo.ID("order aileron rib 3"), "count", "1", "hand", "left")
	v.Sees("/money", "came wrong: it is a left one, and a right one was ordered", "Sent back")
	v.Done(frame+"/money", "saved", "6200 EUR", "per_month", "900", "total", "40000")
	v.Sees("/money", "You have the kit at 40000.00 EUR; its stages here add up to 38500.00 EUR")
	v.Done("/work", "who", "Robin", "category", "build", "assembly", demo.ID("fin"), "back", "/cures")
	v.Sees("/instruments", "Robin</b> build")
	v.Refused("is at work already", "/work", "who", "Robin", "category", "build", "back", "/cures")
}

// In an empty shop every sheet about an aircraft says that there is none, and how to begin one;
// so does work that is started at the foot of a sheet.
func TestAnEmptyShopSaysThatNoAircraftIsBegun(t *testing.T) {
	t.Parallel()
	v := site.Of(loft.Empty(t), "")
	v.Sees("/find?word=level", "Prove a level")
	for _, path := range []string{"/order", "/money", "/stores", "/hours", "/questions", "/cures", "/resume", "/order/network", "/order/usual"} {
		w := v.Get(path)
		assert.Equal(t, http.StatusNotFound, w.Code, path)
		assert.Contains(t, w.Body.String(), "No aircraft is begun here yet", path)
		assert.Contains(t, w.Body.String(), "by its shape", path)
	}
	status, body := v.Send("/work", "who", "kit", "category", "build", "back", "/measure")
	assert.Equal(t, http.StatusNotFound, status)
	assert.Contains(t, body, "No aircraft is begun here yet")
	assert.NotContains(t, v.Get("/order?airframe=nothing").Body.String(), "No aircraft is begun")
}
