package sheets_test

import (
	"bytes"
	"image"
	"image/png"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"orpine/internal/demo"
	"orpine/internal/ledger"
	"orpine/internal/riveting"
	"orpine/test/loft"
	"orpine/test/site"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEveryPageOfRowsAndClosingsIsServed(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for path, says := range map[string]string{
		"/rows": "row 5, top skin lap", "/rows?airframe=" + demo.ID("campion"): "Lay out a row", row3: "Undo bad at 17", row3 + "?hole=77": "for fin fairing, until: fit the fin fairing", "/rows/" + demo.ID("row 5") + "?hole=30": "layers lie close under the head",
		"/rows/" + demo.ID("row 6") + "?hole=3": "primer on both faces, rivets set wet", boom + "/rows": "While a helper is there", boom + "/rows/new": "Lay it out", boom + "/record": "Decided and done", boom + "/holds/new?usual=boom&number=2": "fuel line fixed and tested",
		bay: "58 counted in, 0 out", "/holds/" + demo.ID("close boom"): `Closes <a href="/bays/` + demo.Bay() + `">the boom bay</a>, with 1 step before it.`, "/holds/" + demo.ID("rivet boom"): "row 3, left stringer: 42 holes to go", "/stores": "short 29", "/slips": "Behind frame 0 the doubler ends", "/": "the boom bay closes after 1 step", boom: "What will be closed in",
		"/assemblies/" + demo.ID("aileron right"): "learnt on its twin, Aileron, left",
	} {
		w := v.Get(path)
		assert.Equal(t, http.StatusOK, w.Code, path)
		assert.Contains(t, w.Body.String(), says, path)
		assert.Less(t, w.Body.Len(), 120_000, path)
		for _, forbidden := range []string{" style=", "<style", "onclick", "https://"} {
			assert.NotContains(t, w.Body.String(), forbidden, path)
		}
	}
	for _, path := range []string{"/rows/none", "/rows/none/holes.csv", "/bays/none", "/photos/none", "/photos/none/thumb", "/assemblies/none/rows", "/assemblies/none/rows/new", "/assemblies/none/record", "/assemblies/none/holds/new", "/rows?airframe=none", "/stores?airframe=none"} {
		assert.Equal(t, http.StatusNotFound, v.Get(path).Code, path)
	}
	csv := v.Get(row3 + "/holes.csv")
	assert.True(t, strings.HasPrefix(csv.Body.String(), "hole,along,across,pose,keep for,keep until,state,spoilt\n1,40 mm,0 mm,,,,set,0\n"), csv.Body.String()[:80])
}

func TestARowIsWorkedHoleByHole(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	key := func(do, number string, more ...string) []string {
		return append([]string{"do", do, "number", number, "by", "builder", "crew", "solo"}, more...)
	}
	v.Done(row3+"/holes", key("set", "43")...)
	v.Sees(row3+"?hole=43", "Hole 43 <span>set", "Undo set at 43")
	v.Refused("hole 43 is set already", row3+"/holes", key("set", "43")...)
	v.Refused("hole 77 stays open for fin fairing (fit the fin fairing): do not set it", row3+"/holes", key("set", "77")...)
	v.Refused("what made it bad", row3+"/holes", key("bad/the moon", "43")...)
	v.Done(row3+"/holes", key("bad/tipped", "43")...)
	v.Done(row3+"/undo", "number", "43", "by", "builder")
	v.Sees(row3+"?hole=43", "Hole 43 <span>set")
	v.Refused("which later part needs hole 50?", row3+"/holes", key("keep", "50", "step", "later")...)
	v.Done(row3+"/holes", key("keep", "50", "part", "tail <light>", "step", "fit it")...)
	v.Sees(row3+"?hole=50", "for tail &lt;light&gt;, until: fit it")
	v.Refused("lifting the mark needs a reason", row3+"/holes", key("lift", "50")...)
	v.Done(row3+"/holes", key("lift", "50", "reason", "it was left out")...)
	v.Refused("why is hole 50 left", row3+"/holes", key("abandon", "50")...)
	v.Refused("nobody knows", row3+"/holes", key("polish", "50")...)
	v.Refused("there is no hole 99", row3+"/holes", key("set", "99")...)
	v.Refused("is not a run of holes", row3+"/several", "several", "some", "operation", "pin")
	v.Done(row3+"/several", "several", "44-46, 60", "operation", "pin", "by", "builder")
	v.Sees(row3, "4 pinned", "Undo pin at 44–46, 60")
	v.Refused("all of these are done", row3+"/several", "several", "44", "operation", "pin")
	v.Done(row3+"/several", "several", "44-48", "operation", "pin", "by", "builder")
	v.Sees(row3, "6 pinned", "Undo pin at 47, 48")
	v.Refused("which later part needs hole 61?", row3+"/several", "several", "61-63", "operation", "keep")
	v.Done(row3+"/several", "several", "61-63", "operation", "keep", "part", "fairing", "step", "fit it", "by", "builder")
	v.Refused("hole 61 stays open for fairing", row3+"/several", "several", "60-63", "operation", "set")
	v.Sees(row3+"?hole=61", "It was set by mistake")
	v.Done(row3+"/holes", key("bad/should have stayed open", "61")...)
	v.Sees(row3+"?hole=61", "bad beneath", "1 scrapped")
	v.Done(row3+"/holes", key("doubtful", "20")...)
	v.Refused("what did the gauge say of hole 20", row3+"/holes", key("accept", "20")...)
	v.Done(row3+"/holes", key("accept", "20", "gauge", "it goes")...)
	v.Sees(row3+"?hole=20", "Hole 20 <span>accepted")
	v.Done(row3+"/holes", key("not set", "21")...)
	v.Sees(row3+"?hole=21", "Hole 21 <span>cleaned")
	v.Refused("what keeps them apart", "/rows/"+demo.ID("row 6")+"/barrier", "choice", " ", "by", "builder")
	v.Refused("who decided it?", "/rows/"+demo.ID("row 6")+"/barrier", "choice", "sealant")
	v.Done("/rows/"+demo.ID("row 6")+"/barrier", "choice", "sealant", "by", "builder")
	v.Sees("/rows/"+demo.ID("row 6"), "Decided: sealant")
	v.Sees("/log", "row 3, left stringer, hole 50: lift")
}

// At riveting speed htmx gets the sheet alone, at the next hole, with who and how kept.
func TestTheSheetComesBackAtTheNextHole(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	set := v.Form(row3+"/holes", "do", "set", "number", "43", "by", "builder", "crew", "with a bucker")
	w := v.Post(row3+"/holes", set, true)
	require.Equal(t, http.StatusOK, w.Code, site.Said(w.Body.String()))
	for _, says := range []string{"hole 43: set. Hole 44, cleaned.", `name="number" value="44"`} {
		assert.True(t, strings.Contains(w.Body.String(), says), says)
	}
	assert.False(t, strings.Contains(w.Body.String(), "<!doctype html>"))
	assert.Contains(t, strings.Join(w.Header()["Set-Cookie"], " "), "who=builder")
	named := v.Post(row3+"/holes", v.Form(row3+"/holes", "do", "pin", "number", "44", "by", `Zoë; the "helper"`), true)
	assert.True(t, strings.Contains(named.Body.String(), `name="by" value="Zoë; the &#34;helper&#34;"`))
	r := httptest.NewRequest(http.MethodGet, row3, nil)
	r.AddCookie(named.Result().Cookies()[0])
	assert.True(t, strings.Contains(v.Ask(r).Body.String(), `name="by" value="Zoë; the &#34;helper&#34;"`), "the name comes back as it was typed")
	again := v.Post(row3+"/holes", set, true)
	assert.Equal(t, http.StatusOK, again.Code, "the same once more is one rivet")
	assert.True(t, strings.Contains(again.Body.String(), "hole 43: set"), "and the page shows what was done")
	v.Sees(row3, "<b>42</b>")
}

func TestARowIsLaidOutFromItsForm(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	form := []string{"name", "row 7", "layers", "aluminium; 0.8\r\naluminium; 1.0", "sort", "solid", "size", "1/8", "head", "domed", "metal", "aluminium", "pitch", "30", "first", "10", "sizing", "match drill", "bucker", "solo", "view", "from the left", "from", "2400; 300", "to", "2700; 300"}
	v.Refused("leaves no room between the edge distances", boom+"/rows", form...)
	v.Refused(`value="row 7"`, boom+"/rows", append(form, "count", "lots")...)
	v.Done(boom+"/rows", append(form, "count", "12")...)
	v.Sees(boom+"/rows", "row 7", "from the left")
	v.Sees("/rows", "12 holes")
	v.Sees("/holds", "Rivet row 7")
}

func TestThePlanOfARowIsChanged(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees(row3+"/plan", `value="1.2 mm"`, `value="7-84"`, "The release by builder ends")
	form := []string{"name", "row 3", "layers", "aluminium; 0.8; plain\naluminium; 1.0; plain", "sort", "solid", "size", "1/8", "head", "domed", "metal", "aluminium", "bowed", "no", "bucker", "solo", "view", "from above"}
	v.Refused("is not a run of holes", row3+"/plan", append(form, "callouts", "some; 1/4")...)
	v.Done(row3+"/plan", append(form, "callouts", "1-84; 1/4")...)
	v.Sees(row3+"?hole=3", "not released", "1/4 in, grip 1.80")
	assert.Equal(t, http.StatusNotFound, v.Get("/rows/none/plan").Code)
}

func TestAHoldIsPutThereAndAnsweredFor(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Refused("what becomes permanent?", boom+"/holds", "name", "Rivet the floor", "step", "rivet", "why", "w")
	v.Refused("what does it close?", boom+"/holds", "name", "Close the floor", "step", "close", "permanent", "the floor", "why", "w")
	v.Done(boom+"/holds", "name", "Ream the pins", "step", "ream", "permanent", "two holes", "why", "w", "second", "true")
	ream := v.Last
	v.Sees("/holds/"+ream, "nobody else has looked", "the second person")
	v.Refused("who looked?", "/looks", "need", "seconded", "of", ream, "back", "/holds/"+ream, "note", "kept words")
	v.Done("/assemblies/"+demo.ID("rudder")+"/holds", "name", "Rivet the skin", "step", "rivet", "permanent", "the skin", "why", "w")
	skin := v.Last
	v.Refused(`value="chips cleared" checked`, "/looks", "need", "prepared", "of", skin, "back", "/holds/"+skin, "what", "chips cleared")
	v.Done("/looks", "need", "seconded", "of", ream, "back", "/holds/"+ream, "by", "helper", "note", "gauge  through\r\nboth")
	v.Sees("/holds/"+ream, "Ready", "gauge  through")
	v.Refused("helper was the second person who looked", "/holds/"+ream+"/release", "by", "helper")
	v.Done("/holds/"+ream+"/release", "by", "builder")
}

func TestAReleaseIsWithdrawnOnItsSheet(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	h := "/holds/" + demo.ID("rivet boom")
	v.Refused("who saw it?", h+"/withdraw", "what", "knocked")
	v.Done(h+"/withdraw", "what", "knocked", "by", "helper")
	v.Sees(h, "withdrawn: knocked, seen by helper", "Ready")
	v.Sees(row3, "not released")
	v.Done(h+"/release", "by", "builder")
	v.Sees(row3, "released by builder")
}

func TestTheFormsOfABay(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Refused("how many?", bay+"/counts", "thing", "tool", "number", "some", "by", "helper", "way", "in")
	v.Refused("who counted?", bay+"/counts", "thing", "tool", "other", "my lamp", "number", "1", "way", "in")
	v.Done(bay+"/counts", "thing", "tool", "other", "lamp", "number", "1", "by", "helper", "way", "in")
	v.Sees(bay, "lamp: 1 counted in, 0 out", "1 in: lamp, helper")
	v.Refused("what is to be done inside?", bay+"/tasks", "task", "")
	v.Done(bay+"/tasks", "task", "seal the joint")
	v.Refused("who did it?", bay+"/done", "which", ledger.Child(demo.ID("close boom"), "task 0"), "note", "kept words")
	v.Done(bay+"/done", "which", ledger.Child(demo.ID("close boom"), "task 0"), "by", "builder")
	v.Sees(bay, "<s>control rod guides</s>")
	v.Refused("how is it reached once it is closed", "/looks", "need", "inside", "of", demo.Bay(), "back", bay, "by", "builder")
	v.Done("/looks", "need", "inside", "of", demo.Bay(), "back", bay, "by", "builder", "note", "hatch at frame 3")
	v.Sees(bay, "hatch at frame 3 (builder)")
}

func TestStoresSlipsAndNotices(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	frame := demo.ID("samphire")
	v.Refused("what is it?", "/parts", "airframe", frame, "number", "kept words", "hand", "left")
	v.Done("/parts", "airframe", frame, "number", "S2-54-9", "name", "clip", "hand", "left", "lot", "77")
	v.Refused("choose a row of that assembly", "/parts/"+demo.ID("rib left"), "airframe", frame, "assembly", demo.ID("aileron left"), "row", demo.ID("row 3"))
	v.Refused(`value="under the bench"`, "/parts/"+demo.ID("rib left"), "airframe", frame, "place", "under the bench", "assembly", demo.ID("aileron left"), "row", demo.ID("row 3"))
	v.Done("/parts/"+demo.ID("rib left"), "airframe", frame, "place", "on the bench", "assembly", demo.ID("aileron left"))
	v.Refused("a notice names part numbers", "/notices", "airframe", frame, "title", "kept words")
	v.Done("/notices", "airframe", frame, "title", "Clips", "lots", "77, 78", "note", "look at the bend")
	v.Sees("/stores", "look at the bend", "S2-54-9, clip")
	v.Refused("how many? A whole number", "/stock", "airframe", frame, "sort", "rivet", "name", "kept words", "number", "many")
	v.Done("/stock", "airframe", frame, "sort", "rivet", "name", "solid 1/8 × 1/4 in", "number", "40")
	v.Sees("/stores", ">220<")
	v.Refused("what went wrong?", "/slips", "cause", "gravity", "back", row3)
	w := v.Post("/slips", url.Values{"id": {loft.ID("slip")}, "cause": {"tool slipped"}, "assembly": {demo.ID("tail boom")}, "step": {"rivet"}, "place": {"row 3, hole 43"}, "back": {row3 + "?hole=43"}}, false)
	assert.Equal(t, row3+"?hole=43&slipped="+loft.ID("slip"), w.Header().Get("Location"))
	v.Sees(w.Header().Get("Location"), "The slip is logged.")
	v.Refused("an amount: 12.50, $18", "/slips/"+loft.ID("slip"), "money", "a lot")
	v.Refused("minutes or hours", "/slips/"+loft.ID("slip"), "minutes", "ages", "what", "kept words")
	v.Done("/slips/"+loft.ID("slip"), "minutes", "1:20", "money", "$18", "what", "the set slid off", "lesson", "Hold the set with the left hand.")
	v.Sees("/slips", "80 min · 18.00 USD")
	v.Done("/slips", "cause", "tool slipped", "back", row3)
	v.Sees("/slips", "Money lost, USD unless you name another")
	v.Sees(row3, "Hold the set with the left hand.")
	for _, to := range []string{"//elsewhere.example", "https://elsewhere.example", "/\\elsewhere.example"} {
		w := v.Post("/slips", url.Values{"id": {loft.ID("slip back to " + to)}, "cause": {"tool slipped"}, "back": {to}}, false)
		assert.True(t, strings.HasPrefix(w.Header().Get("Location"), "/?slipped="), w.Header().Get("Location"))
	}
}

// send posts a file.
func send(v *site.Site, fields map[string]string, file []byte) *httptest.ResponseRecorder {
	var b bytes.Buffer
	form := multipart.NewWriter(&b)
	for k, v := range fields {
		_ = form.WriteField(k, v)
	}
	if file != nil {
		part, _ := form.CreateFormFile("photo", "bay.jpg")
		_, _ = part.Write(file)
	}
	form.Close()
	r := httptest.NewRequest(http.MethodPost, "/photos", &b)
	r.Header.Set("Content-Type", form.FormDataContentType())
	return v.Ask(r)
}

func TestAPhotoIsKeptAndShown(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, image.NewGray(image.Rect(0, 0, 30, 20))))
	fields := map[string]string{"id": loft.ID("photo"), "of": demo.Bay(), "back": bay, "caption": "looking aft"}
	assert.Equal(t, http.StatusSeeOther, send(v, fields, picture.Bytes()).Code)
	assert.Contains(t, v.Get(bay).Body.String(), `alt="looking aft"`)
	w := v.Get("/photos/" + loft.ID("photo"))
	assert.Equal(t, "image/png", w.Header().Get("Content-Type"))
	assert.Equal(t, "image/jpeg", v.Get("/photos/"+loft.ID("photo")+"/thumb").Header().Get("Content-Type"))
	for says, file := range map[string][]byte{"neither a JPEG nor a PNG": []byte("<html>"), "choose a JPEG or PNG": nil, "40 MB": make([]byte, 41<<20)} {
		fields["id"] = loft.ID(says)
		w := send(v, fields, file)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Contains(t, w.Body.String(), says)
	}
	for _, back := range []string{"/stores", "/slips", "/holds/" + demo.ID("close boom"), "/elsewhere"} {
		fields["back"], fields["of"] = back, demo.ID("rib left")
		assert.Equal(t, http.StatusUnprocessableEntity, send(v, fields, []byte("x")).Code, back)
	}
}

// A run of longer rivets in a thin stack: the sheet asks, and one press keeps them open.
func TestALongerCallOutIsKeptOpenByOnePress(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	n := riveting.NewRow{Form: loft.Named("with a longer run"), Assembly: demo.ID("tail boom"), Name: "row 9", Values: loft.With(loft.RowOf(12), "callouts", "1-4; 1/4 in\n5-12; 1/2 in")}
	require.NoError(t, v.Riveting.Lay(t.Context(), n))
	sheet := "/rows/" + n.ID
	v.Sees(sheet, "1/2 in at 5–12 is longer than the layers there ask for. Does a later part go there?")
	v.Done(sheet+"/several", "several", "5–12", "operation", "keep", "part", "a later part", "step", "that part is fitted", "by", "builder")
	v.Sees(sheet, "8 open")
	assert.NotContains(t, v.Get(sheet).Body.String(), "Does a later part go there?")
}

// What cannot be read of a list stands at it, with its line, and what was typed stays.
func TestACallOutListIsTypedAgainWhereItIsWrong(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Refused("line 2: “1/8” is no code of a rivet", boom+"/rows/list", "list", "rib 4: 12 AD4-5\nrib 5: 12 1/8", "opt_out", "on its own")
	page := v.Get(boom + "/rows/list?list=" + url.QueryEscape("rib 4: 12 AD4-5, 3 AD4-6 flush; open 15 for fin fairing")).Body.String()
	for _, says := range []string{"1 row, 15 holes, read so", "13–15: 3/8 in flush", "open: 15 for fin fairing"} {
		assert.Contains(t, page, says)
	}
	v.Refused("what do the plans call out?", boom+"/rows/list", "list", " ")
	v.Done(boom+"/rows/list", "list", "rib 4: 12 AD4-5", "opt_out", "on its own", "marked", "builder")
	assert.Contains(t, v.Get(boom+"/rows").Body.String(), "rib 4")
}

func TestAnEveningInALineIsRefusedAtItsField(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	hours := "/airframes/" + demo.ID("samphire") + "/hours-in"
	v.Refused("when, as in yesterday", hours, "who", "builder", "line", "yesterday 7 to 9")
	v.Done(hours, "who", "builder", "line", "yesterday 7pm to 9pm, BE and KM, tail boom")
	assert.Contains(t, v.Get("/hours").Body.String(), "KM, build")
}
