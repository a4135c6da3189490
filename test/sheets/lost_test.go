package sheets_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/plan"
	"orpine/internal/core/row"
	"orpine/internal/demo"
	"orpine/internal/ledger"
	"orpine/internal/planning"
	"orpine/test/loft"
	"orpine/test/site"
)

// usualOrder are the fields of a usual order of work of which two steps are taken.
func usualOrder() []string {
	u, _ := plan.UsualOf("canard")
	out := []string{"usual", "canard", "school", string(plan.InStep), "harder", "left"}
	for i, s := range u.Steps {
		out = append(out, fmt.Sprint("name.", i), s.Name, fmt.Sprint("hours.", i), "5 h")
		if i == 0 || i == 1 {
			out = append(out, fmt.Sprint("take.", i), "yes")
		}
	}
	return out
}

// A form whose answer is lost is sent again: as it was, it is done already; changed, it
// says what was taken and takes nothing. Every form of the program, one after the other.
func TestALostAnswerIsNeverTakenForAnotherForm(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	// Some evening of today is over, whenever the tests run.
	today := strings.ToLower(v.Now.Weekday().String()[:3])
	require.NoError(t, v.Planning.SetWeek(v.Ctx(), planning.WeekSet{Form: loft.Named("mornings"), Airframe: demo.ID("samphire"), From: map[string]string{today: "07:00"}, Long: map[string]string{today: "2 h"}}))
	past := planning.NewVisit{Form: loft.Named("past visit"), Airframe: demo.ID("samphire"), Date: v.Now.AddDate(0, 0, -2).Format("2006-01-02"), From: "18:00", Long: "3 h", Who: "Robin"}
	require.NoError(t, v.Planning.AddVisit(v.Ctx(), past))
	for _, f := range []struct {
		path   string
		fields []string
		change string // of which field
		to     string
	}{
		{"/airframes", []string{"name", "Second kit", "unit", "in"}, "unit", "mm"},
		{"/airframes/" + demo.ID("samphire") + "/assemblies", []string{"name", "Nose box", "form", "fin", "fin.chord", "100", "fin.rise", "200"}, "fin.rise", "300"},
		{"/begin/low-wing", []string{"name", "Tansy T3", "unit", "in", "size.span", "315"}, "size.span", "316"},
		{"/measure/level", []string{"unit", "mm", "0.span", "2880", "0.instrument", "quick:level-0.1"}, "0.span", "2900"},
		{"/right/hold?id=" + demo.ID("rivet boom"), []string{"how", "change", "field.name", "Rivet the boom", "field.permanent", "its rows", "field.why", "for good", "reason", "shorter", "by", "builder"}, "reason", "longer"},
		{"/airframes/" + demo.ID("samphire") + "/schools", []string{"school.limits", "guarded"}, "school.limits", "plain"},
		{"/instruments", []string{"name", "tape 3", "sort", "tape", "resolution", "1 mm", "class", "0.3 mm + 0.2 mm a metre"}, "class", "0.1 mm + 0.1 mm a metre"},
		{"/instruments", []string{"name", "level 3", "sort", "level", "resolution", "0.1"}, "resolution", "0.2"},
		{"/instruments/" + demo.ID("level 1") + "/test", []string{"first", "0.1", "turned", "-0.1"}, "turned", "-0.2"},
		{"/instruments/" + demo.ID("rule") + "/proofs", []string{"what", "offset", "offset1", "300", "offset2", "300.5"}, "offset2", "301"},
		{rails + "/readings", []string{"check", demo.Check("tailplane on rails", 1), "number", "1", "text", "0.06 up", "instrument", demo.ID("level 2")}, "text", "0.07 up"},
		{rails + "/moved", []string{"what", "bench moved"}, "what", "knocked"},
		{rails + "/warmth", []string{"check", demo.Check("tailplane on rails", 1), "material", "aluminium", "temperature", "6"}, "temperature", "7"},
		{rails + "/held", []string{"check", demo.Check("tailplane on rails", 1), "held", "no"}, "held", "yes"},
		{"/holds/" + demo.ID("rivet boom") + "/withdraw", []string{"what", "knocked", "by", "helper"}, "what", "moved"},
		{"/holds/" + demo.ID("rivet boom") + "/release", []string{"by", "builder"}, "by", "helper"},
		{row3 + "/holes", []string{"do", "set", "number", "62", "by", "builder"}, "do", "bad/tipped"},
		{row3 + "/holes", []string{"do", "oversize", "number", "63", "hole", "4.05", "rivet", "5/32", "why", "the drill walked", "by", "builder"}, "hole", "4.1"},
		{row3 + "/holes", []string{"do", "out of reach", "number", "64", "after", "Close the boom", "beyond", "set", "by", "builder"}, "after", "another step"},
		{bay + "/placed", []string{"also", demo.ID("fin"), "by", "builder"}, "also", demo.ID("rudder")},
		{bay + "/ticked", []string{"outside", "row:" + demo.ID("row 5"), "by", "builder"}, "by", "helper"},
		{"/setups/" + demo.ID("spar left") + "/like", []string{"assembly", demo.ID("main spar right")}, "assembly", demo.ID("rudder")},
		{"/holds/" + demo.ID("close boom") + "/like", []string{"assembly", demo.ID("fin")}, "assembly", demo.ID("rudder")},
		{"/airframes/" + demo.ID("samphire") + "/steps", []string{"line", "plug the drain, 20 min"}, "line", "plug the drains, 20 min"},
		{"/airframes/" + demo.ID("samphire") + "/step", []string{"step", demo.ID("step 11"), "seen", "open", "state", "begun"}, "state", "done"},
		{"/airframes/" + demo.ID("samphire") + "/week", []string{"from.mon", "19:00", "long.mon", "2 h"}, "long.mon", "3 h"},
		{"/order/visits/" + loft.ID("past visit"), []string{"done", demo.ID("step 11"), "from", "18:00", "to", "20:00", "who", "kit"}, "to", "20:30"},
		{"/airframes/" + demo.ID("samphire") + "/visits", []string{"who", "Robin", "date", "2026-06-06", "from", "09:00", "long", "3 h"}, "long", "4 h"},
		{"/airframes/" + demo.ID("samphire") + "/work", []string{"who", "Robin", "category", "build"}, "category", "rework"},
		{"/airframes/" + demo.ID("samphire") + "/orders", []string{"name", "spinner", "supplier", "kit maker", "lead", "20"}, "lead", "30"},
		{"/airframes/" + demo.ID("samphire") + "/order", []string{"order", demo.ID("order canopy screws"), "what", "asked"}, "what", "promised"},
		{"/airframes/" + demo.ID("samphire") + "/money", []string{"saved", "100 EUR", "per_month", "20"}, "saved", "200 EUR"},
		{"/airframes/" + demo.ID("samphire") + "/stages", []string{"name", "paint", "price", "2000", "lead", "10"}, "price", "2100"},
		{"/airframes/" + demo.ID("samphire") + "/paid", []string{"stage", demo.ID("stage engine"), "paid", "true"}, "paid", "false"},
		{"/airframes/" + demo.ID("samphire") + "/split", []string{"step", demo.ID("step 13"), "seen", "open"}, "step", demo.ID("step 14")},
		{"/airframes/" + demo.ID("samphire") + "/hours-in", []string{"who", "Robin", "csv", "date,hours\n2026-04-01,2"}, "csv", "date,hours\n2026-04-01,3"},
		{"/airframes/" + demo.ID("samphire") + "/else", []string{"who", "Robin"}, "who", "helper"},
		{"/airframes/" + demo.ID("samphire") + "/came", []string{"order", demo.ID("order aileron rib 3"), "count", "1", "hand", "left"}, "hand", "right"},
		{"/airframes/" + demo.ID("samphire") + "/questions", []string{"sort", "question", "text", "which seal?", "what", demo.ID("step 14")}, "text", "which seals?"},
		{"/airframes/" + demo.ID("samphire") + "/questions/" + demo.ID("question 0") + "/answer", []string{"answer", "the small one", "answered_by", "kit maker"}, "answer", "the large one"},
		{"/airframes/" + demo.ID("samphire") + "/materials", []string{"name", "sealant", "table.0.0", "20", "table.0.5", "3 d"}, "table.0.5", "4 d"},
		{"/airframes/" + demo.ID("samphire") + "/clocks", []string{"sort", "mix", "what", "60 g of resin", "temperature", "17", "full", "30 min"}, "temperature", "18"},
		{"/airframes/" + demo.ID("samphire") + "/clocks/" + demo.ID("clock ribs") + "/pass", []string{"did", "coat", "why", "it was tacky"}, "why", "it was dry"},
		{"/airframes/" + demo.ID("samphire") + "/clocks/" + demo.ID("clock ribs") + "/end", []string{"outcome", "wiped off"}, "outcome", "sanded off"},
		{"/airframes/" + demo.ID("campion") + "/usual", usualOrder(), "hours.1", "7 h"},
		{"/work", []string{"who", "helper", "category", "rework", "assembly", demo.ID("fin"), "back", "/order"}, "category", "build"},
		{row3 + "/several", []string{"several", "44-46", "operation", "pin", "by", "builder"}, "several", "44-47"},
		{row6 + "/barrier", []string{"choice", "sealant", "by", "builder"}, "choice", "tape"},
		{bay + "/tasks", []string{"task", "seal the joint"}, "task", "seal the seam"},
		{bay + "/done", []string{"which", ledger.Child(demo.ID("close boom"), "task 0"), "by", "builder"}, "by", "helper"},
		{bay + "/counts", []string{"thing", "tool", "number", "1", "by", "helper", "way", "in"}, "number", "2"},
		{boom + "/holds", []string{"name", "Ream the pins", "step", "ream", "permanent", "two holes", "why", "w", "second", "true"}, "why", "because"},
		{"/parts", []string{"airframe", demo.ID("samphire"), "number", "S2-54-9", "name", "clip", "hand", "left"}, "hand", "right"},
		{"/parts/" + demo.ID("rib left"), []string{"airframe", demo.ID("samphire"), "place", "on the bench", "assembly", demo.ID("aileron left")}, "place", "on the shelf"},
		{"/notices", []string{"airframe", demo.ID("samphire"), "title", "Clips", "lots", "77"}, "lots", "78"},
		{"/stock", []string{"airframe", demo.ID("samphire"), "sort", "rivet", "name", "solid 1/8 × 1/4 in", "number", "40"}, "number", "50"},
		{"/slips", []string{"cause", "tool slipped", "assembly", demo.ID("tail boom"), "back", row3}, "cause", "hurried or tired"},
		{"/assemblies/" + demo.ID("rudder") + "/usual/other", []string{"name", "on the bench", "2.take", "yes", "2.points", "a; 0\nb; 500\nc; 900"}, "name", "on the floor"},
		{"/holds/" + demo.HoldOf("spar left") + "/step", []string{"by", "builder", "note", "3/16 in"}, "note", "1/4 in"},
		{"/setups/" + demo.ID("spar left") + "/checks/" + demo.Check("spar left", 0) + "/points", []string{"point.name", "rib 6", "point.x", "3050"}, "point.x", "3060"},
		{"/looks", []string{"need", "marked", "of", demo.ID("row 4"), "back", "/rows/" + demo.ID("row 4"), "by", "builder"}, "by", "helper"},
		{row3 + "/undo", []string{"by", "builder"}, "by", "helper"},
	} {
		t.Run(f.path, func(t *testing.T) {
			v.T = t
			form := v.Form(f.path, f.fields...)
			first := v.Post(f.path, form, false)
			require.Equal(t, http.StatusSeeOther, first.Code, site.Said(first.Body.String()))
			entries := v.Log(1)[0].Seq
			again := v.Post(f.path, form, false)
			assert.Equal(t, http.StatusSeeOther, again.Code, "the same once more: %s", site.Said(again.Body.String()))
			form.Set(f.change, f.to)
			other := v.Post(f.path, form, false)
			assert.Equal(t, http.StatusUnprocessableEntity, other.Code)
			assert.Contains(t, other.Body.String(), "was sent before with something else in it")
			assert.Equal(t, entries, v.Log(1)[0].Seq, "one entry")
		})
	}
	v.T = t
	v.Verify()
}

// Set hole 62, lose the answer, and say on the same page that it is bad: the page tells
// that it is set, and the next page takes the bad one.
func TestASetRivetIsNotLostBehindABadOne(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	form := v.Form(row3+"/holes", "do", "set", "number", "62", "by", "builder")
	require.Equal(t, http.StatusOK, v.Post(row3+"/holes", form, true).Code)
	form.Set("do", "bad/tipped")
	w := v.Post(row3+"/holes", form, true)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, site.Said(w.Body.String()), "hole 62: set")
	hole := func() row.State {
		h, _ := v.RowOf(demo.ID("row 3")).Hole(62)
		return h.State
	}
	assert.Equal(t, row.Set, hole())
	v.Done(row3+"/holes", "do", "bad/tipped", "number", "62", "by", "builder")
	assert.Equal(t, row.Bad, hole())
}

// Two tabs: what one did in the meantime is said in the other, which stores nothing.
func TestAStaleTabIsToldBothVersions(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	spar := "/setups/" + demo.ID("spar left")
	reading := func(number string) url.Values {
		return v.Form(spar+"/readings", "check", demo.Check("spar left", 0), "number", number, "text", "15.5", "instrument", demo.ID("rule"))
	}
	atTip := reading("4")
	v.Done(spar+"/checks/"+demo.Check("spar left", 0)+"/points", "point.name", "rib 6", "point.x", "3050")
	w := v.Post(spar+"/readings", atTip, false)
	require.Equal(t, http.StatusSeeOther, w.Code, "a point that is added moves no reading to another place")
	c := v.SetupOf(demo.ID("spar left")).Checks[0]
	for _, spot := range c.Spots {
		assert.Len(t, spot.Counting(), map[string]int{"tip": 2, "rib 6": 0}[spot.Point]+map[bool]int{true: 1}[spot.Point != "tip" && spot.Point != "rib 6"], spot.Point)
	}
	refused := func(path string, form url.Values, says ...string) {
		t.Helper()
		w := v.Post(path, form, false)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		for _, one := range says {
			assert.Contains(t, site.Said(w.Body.String()), one)
		}
	}
	first, second := reading("1"), reading("1")
	second.Set("id", loft.ID("another tab"))
	require.Equal(t, http.StatusSeeOther, v.Post(spar+"/readings", first, false).Code)
	refused(spar+"/readings", second, "it showed", "15.5, read at")

	drill := "/holds/" + demo.HoldOf("tailplane on rails") + "/release"
	release := v.Form(drill, "by", "builder")
	before := v.Form(rails+"/readings", "check", demo.Check("tailplane on rails", 0), "number", "1", "text", "50.5", "instrument", demo.ID("laser"))
	moved := v.Form(rails+"/moved", "what", "moved")
	v.Done(rails+"/moved", "what", "knocked")
	refused(drill, release, "it showed Rails: &#43;0.31° ± 0.11°, met, and now it is Rails:", "6 readings are stale since (knocked)")
	refused(rails+"/readings", before, "in state 2: knocked came in between")
	refused(rails+"/moved", moved, "in state 2")

	set, bad := v.Form(row3+"/holes", "do", "set", "number", "43", "by", "builder"), v.Form(row3+"/holes", "do", "pin", "number", "43", "by", "helper")
	require.Equal(t, http.StatusSeeOther, v.Post(row3+"/holes", set, false).Code)
	refused(row3+"/holes", bad, "hole 43 cleaned", "now", "set")

	one := v.Form(row3+"/undo", "by", "builder")
	v.Done(row3+"/holes", "do", "set", "number", "44", "by", "builder")
	v.Done(row3+"/holes", "do", "set", "number", "45", "by", "builder")
	refused(row3+"/undo", one, "set at hole 45")
	one = v.Form(row3+"/undo", "by", "builder")
	two := v.Form(row3+"/undo", "by", "helper")
	require.Equal(t, http.StatusSeeOther, v.Post(row3+"/undo", one, false).Code)
	refused(row3+"/undo", two, "set at hole 44")
	h, _ := v.RowOf(demo.ID("row 3")).Hole(44)
	assert.Equal(t, row.Set, h.State, "what neither of them meant stays done")
	v.Verify()
}

// What is no text, or hides itself, is refused before anything is stored.
func TestTextThatIsNoneIsRefused(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	before := v.Log(1)[0].Seq
	for _, name := range []string{"Sam\xffphire", "Sam\x00phire", "Sam\x1bphire", "Sam\nphire", "Sam\u0085phire", "Sam\u2028phire"} {
		w := v.Post("/airframes", url.Values{"id": {loft.ID(name)}, "name": {name}, "unit": {"mm"}}, false)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, "%q", name)
	}
	for _, id := range []string{"", "12345678", "F47AC10B-58CC-4372-A567-0E02B2C3D479", strings.Repeat("x", 36)} {
		w := v.Post("/airframes", url.Values{"id": {id}, "name": {"Second kit"}, "unit": {"mm"}}, false)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, "%q", id)
	}
	v.Done("/holds/"+demo.HoldOf("spar left")+"/step", "by", "builder", "note", "two lines\r\nof a note")
	assert.Equal(t, before+1, v.Log(1)[0].Seq)
	v.Verify()
}

// Many look at the same sheets at once while one works; under the race detector nothing
// that is shared between them is changed.
func TestManyLookAtOnce(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	paths := []string{"/", rails, rails + "?spot=3", "/setups/" + demo.ID("tailplane join"), "/setups/" + demo.ID("fin and tail join"), "/setups/" + demo.ID("mount pads"), endHoles, row3, rails + "/worksheet.json"}
	var all sync.WaitGroup
	for i := range 6 {
		all.Go(func() {
			for n := range 3 * len(paths) {
				assert.Equal(t, http.StatusOK, v.Get(paths[(n+i)%len(paths)]).Code)
			}
		})
	}
	for i := range 10 {
		require.NoError(t, v.Read(demo.Check("tailplane on rails", 1), 1+i, "0.20 up", demo.ID("level 2"), "misread"))
	}
	all.Wait()
}
