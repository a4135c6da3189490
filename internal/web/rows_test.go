package web

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/app"
	"orpine/internal/store"
)

const (
	boom = "/assemblies/tail-boom-demo"
	row3 = "/rows/boom-row-3"
	bay  = "/bays/boom-close-demo-bay"
)

func TestEveryPageOfRowsAndClosingsIsServed(t *testing.T) {
	h, _ := shop(t)
	for path, says := range map[string]string{
		"/rows": "row 5, top skin lap", "/rows?airframe=campion-c1-demo": "Lay out a row", row3: "Undo bad at 17", row3 + "?hole=77": "for fin fairing, until: fit the fin fairing", "/rows/boom-row-5?hole=30": "layers lie close under the head",
		"/rows/boom-row-6?hole=3": "primer on both faces, rivets set wet", boom + "/rows": "While a helper is there", boom + "/rows/new": "Lay it out", boom + "/record": "Decided and done", boom + "/holds/new?template=boom&number=2": "fuel line fixed and tested",
		bay: "58 counted in, 0 out", "/holds/boom-close-demo": `Closes <a href="/bays/boom-close-demo-bay">the boom bay</a>, with 1 step before it.`, "/holds/boom-rivets-demo": "row 3, left stringer: 42 holes to go", "/stores": "short 29", "/slips": "Behind frame 0 the doubler ends", "/": "the boom bay closes after 1 step", boom: "What will be closed in",
		"/assemblies/aileron-right": "learnt on its twin, Aileron, left",
	} {
		w := get(h, path)
		assert.Equal(t, http.StatusOK, w.Code, path)
		assert.Contains(t, w.Body.String(), says, path)
		assert.Less(t, w.Body.Len(), 120_000, path)
		for _, forbidden := range []string{" style=", "<style", "onclick", "https://"} {
			assert.NotContains(t, w.Body.String(), forbidden, path)
		}
	}
	for _, path := range []string{"/rows/none", "/rows/none/holes.csv", "/bays/none", "/photos/none", "/photos/none/thumb", "/assemblies/none/rows", "/assemblies/none/rows/new", "/assemblies/none/record", "/assemblies/none/holds/new", "/rows?airframe=none", "/stores?airframe=none"} {
		assert.Equal(t, http.StatusNotFound, get(h, path).Code, path)
	}
	csv := get(h, row3+"/holes.csv")
	assert.True(t, strings.HasPrefix(csv.Body.String(), "hole,along,across,pose,keep for,keep until,state,spoilt\n1,40 mm,0 mm,,,,set,0\n"), csv.Body.String()[:80])
}

func TestARowIsWorkedHoleByHole(t *testing.T) {
	v := visit(t)
	deed := func(do, number string, more ...string) []string {
		return append([]string{"do", do, "number", number, "by", "builder", "crew", "solo"}, more...)
	}
	v.done(row3+"/holes", deed("set", "43")...)
	v.sees(row3+"?hole=43", "Hole 43 <span>set", "Undo set at 43")
	v.refused("hole 43 is set already", row3+"/holes", deed("set", "43")...)
	v.refused("hole 77 stays open for fin fairing (fit the fin fairing): do not set it", row3+"/holes", deed("set", "77")...)
	v.refused("what made it bad", row3+"/holes", deed("bad/the moon", "43")...)
	v.done(row3+"/holes", deed("bad/tipped", "43")...)
	v.done(row3+"/undo", "number", "43", "by", "builder")
	v.sees(row3+"?hole=43", "Hole 43 <span>set")
	v.refused("which later part needs hole 50?", row3+"/holes", deed("keep", "50", "step", "later")...)
	v.done(row3+"/holes", deed("keep", "50", "part", "tail <light>", "step", "fit it")...)
	v.sees(row3+"?hole=50", "for tail &lt;light&gt;, until: fit it")
	v.refused("lifting the mark needs a reason", row3+"/holes", deed("lift", "50")...)
	v.done(row3+"/holes", deed("lift", "50", "reason", "it was left out")...)
	v.refused("why is hole 50 left", row3+"/holes", deed("abandon", "50")...)
	v.refused("nobody knows", row3+"/holes", deed("polish", "50")...)
	v.refused("there is no hole 99", row3+"/holes", deed("set", "99")...)
	v.refused("is not a run of holes", row3+"/several", "several", "some", "deed", "pin")
	v.done(row3+"/several", "several", "44-46, 60", "deed", "pin", "by", "builder")
	v.sees(row3, "4 pinned", "Undo pin at 44–46, 60")
	v.refused("hole 44 is pinned", row3+"/several", "several", "44", "deed", "pin")
	v.refused("what keeps them apart", "/rows/boom-row-6/barrier", "choice", " ", "by", "builder")
	v.refused("who decided it?", "/rows/boom-row-6/barrier", "choice", "sealant")
	v.done("/rows/boom-row-6/barrier", "choice", "sealant", "by", "builder")
	v.sees("/rows/boom-row-6", "Decided: sealant")
	v.sees("/log?check=yes", "entries hold.", "row 3, left stringer, hole 50: lift")
}

// At riveting speed htmx gets the sheet alone, at the next hole, with who and how kept.
func TestTheSheetComesBackAtTheNextHole(t *testing.T) {
	h, _ := shop(t)
	w := post(h, row3+"/holes", url.Values{"id": {"deed-00000001"}, "do": {"set"}, "number": {"43"}, "by": {"builder"}, "crew": {"with a bucker"}}, true)
	assert.Equal(t, http.StatusOK, w.Code)
	assert.NotContains(t, w.Body.String(), "<!doctype html>")
	assert.Contains(t, w.Body.String(), "hole 43: set. Hole 44, cleaned.")
	assert.Contains(t, w.Body.String(), `name="number" value="44"`)
	assert.Contains(t, strings.Join(w.Header()["Set-Cookie"], " "), "who=builder")
	named := post(h, row3+"/holes", url.Values{"id": {"deed-00000002"}, "do": {"pin"}, "number": {"44"}, "by": {"Zoë; the \"helper\""}}, true)
	assert.Contains(t, named.Body.String(), `name="by" value="Zoë; the &#34;helper&#34;"`)
	r := httptest.NewRequest(http.MethodGet, row3, nil)
	r.AddCookie(named.Result().Cookies()[0])
	assert.Contains(t, ask(h, r).Body.String(), `name="by" value="Zoë; the &#34;helper&#34;"`, "the name comes back as it was typed")
	again := post(h, row3+"/holes", url.Values{"id": {"deed-00000001"}, "do": {"set"}, "number": {"43"}, "by": {"builder"}, "crew": {"with a bucker"}}, true)
	assert.Equal(t, http.StatusOK, again.Code, "the same once more is one rivet")
	assert.Contains(t, get(h, row3).Body.String(), "42 set")
}

func TestARowIsLaidOutFromItsForm(t *testing.T) {
	v := visit(t)
	form := []string{"name", "row 7", "layers", "aluminium; 0.8\r\naluminium; 1.0", "sort", "solid", "size", "1/8", "head", "domed", "metal", "aluminium", "pitch", "30", "first", "10", "sizing", "match drill", "bucker", "solo", "view", "from the left", "from", "2400; 300", "to", "2700; 300"}
	v.refused("leaves no room between the edge distances", boom+"/rows", form...)
	v.refused(`value="row 7"`, boom+"/rows", append(form, "count", "lots")...)
	v.done(boom+"/rows", append(form, "count", "12")...)
	v.sees(boom+"/rows", "row 7", "from the left")
	v.sees("/rows", "12 holes")
	v.sees("/holds", "Rivet row 7")
}

func TestThePlanOfARowIsChanged(t *testing.T) {
	v := visit(t)
	v.sees(row3+"/plan", "aluminium; 1.2 mm; plain; 1; 6", "7-84; 1/4 in", "The release by builder ends")
	form := []string{"name", "row 3", "layers", "aluminium; 0.8; plain\naluminium; 1.0; plain", "sort", "solid", "size", "1/8", "head", "domed", "metal", "aluminium", "bowed", "no", "bucker", "solo", "view", "from above"}
	v.refused("is not a run of holes", row3+"/plan", append(form, "callouts", "some; 1/4")...)
	v.done(row3+"/plan", append(form, "callouts", "1-84; 1/4")...)
	v.sees(row3+"?hole=3", "not released", "1/4 in, grip 1.80")
	assert.Equal(t, http.StatusNotFound, get(v.h, "/rows/none/plan").Code)
}

func TestAHoldIsPutThereAndAnsweredFor(t *testing.T) {
	v := visit(t)
	v.refused("what becomes permanent?", boom+"/holds", "name", "Rivet the floor", "step", "rivet", "why", "w")
	v.refused("what does it close?", boom+"/holds", "name", "Close the floor", "step", "close", "permanent", "the floor", "why", "w")
	v.done(boom+"/holds", "name", "Ream the pins", "step", "ream", "permanent", "two holes", "why", "w", "second", "yes")
	v.sees("/holds/visitor-003", "nobody else has looked", "the second person")
	v.refused("who looked?", "/looks", "need", "seconded", "of", "visitor-003", "back", "/holds/visitor-003", "note", "kept words")
	v.done("/assemblies/rudder-demo/holds", "name", "Rivet the skin", "step", "rivet", "permanent", "the skin", "why", "w")
	v.refused(`value="chips cleared" checked`, "/looks", "need", "prepared", "of", "visitor-005", "back", "/holds/visitor-005", "what", "chips cleared")
	v.done("/looks", "need", "seconded", "of", "visitor-003", "back", "/holds/visitor-003", "by", "helper", "note", "gauge through both")
	v.sees("/holds/visitor-003", "Ready", "gauge through both")
	v.refused("helper was the second person who looked", "/holds/visitor-003/release", "by", "helper")
	v.done("/holds/visitor-003/release", "by", "builder")
}

func TestAReleaseIsWithdrawnOnItsSheet(t *testing.T) {
	v := visit(t)
	const h = "/holds/boom-rivets-demo"
	v.refused("who saw it?", h+"/withdraw", "what", "knocked")
	v.done(h+"/withdraw", "what", "knocked", "by", "helper")
	v.sees(h, "withdrawn: knocked, seen by helper", "Ready")
	v.sees(row3, "not released")
	v.done(h+"/release", "by", "builder")
	v.sees(row3, "released by builder")
}

func TestTheFormsOfABay(t *testing.T) {
	v := visit(t)
	v.refused("how many?", bay+"/counts", "thing", "tool", "number", "some", "by", "helper", "way", "in")
	v.refused("who counted?", bay+"/counts", "thing", "tool", "other", "my lamp", "number", "1", "way", "in")
	v.done(bay+"/counts", "thing", "tool", "other", "lamp", "number", "1", "by", "helper", "way", "in")
	v.sees(bay, "lamp: 1 counted in, 0 out", "1 in: lamp, helper")
	v.refused("what is to be done inside?", bay+"/tasks", "task", "")
	v.done(bay+"/tasks", "task", "seal the joint")
	v.refused("who did it?", bay+"/done", "which", "boom-close-demo-task-0", "note", "kept words")
	v.done(bay+"/done", "which", "boom-close-demo-task-0", "by", "builder")
	v.sees(bay, "<s>control rod guides</s>")
	v.refused("how is it reached once it is closed", "/looks", "need", "inside", "of", "boom-close-demo-bay", "back", bay, "by", "builder")
	v.done("/looks", "need", "inside", "of", "boom-close-demo-bay", "back", bay, "by", "builder", "note", "hatch at frame 3")
	v.sees(bay, "hatch at frame 3 (builder)")
}

func TestStoresSlipsAndNotices(t *testing.T) {
	v := visit(t)
	const frame = "samphire-s2-demo"
	v.refused("which number has it in the plans?", "/parts", "airframe", frame, "name", "kept words", "hand", "left")
	v.done("/parts", "airframe", frame, "number", "S2-54-9", "name", "clip", "hand", "left", "lot", "77")
	v.refused("choose a row of that assembly", "/parts/part-rib-left", "airframe", frame, "assembly", "aileron-left", "row", "boom-row-3")
	v.refused(`value="under the bench"`, "/parts/part-rib-left", "airframe", frame, "place", "under the bench", "assembly", "aileron-left", "row", "boom-row-3")
	v.done("/parts/part-rib-left", "airframe", frame, "place", "on the bench", "assembly", "aileron-left")
	v.refused("a notice names part numbers", "/notices", "airframe", frame, "title", "kept words")
	v.done("/notices", "airframe", frame, "title", "Clips", "lots", "77, 78", "note", "look at the bend")
	v.sees("/stores", "look at the bend", "S2-54-9, clip")
	v.refused("how many? A whole number", "/stock", "airframe", frame, "sort", "rivet", "name", "kept words", "number", "many")
	v.done("/stock", "airframe", frame, "sort", "rivet", "name", "solid 1/8 × 1/4 in", "number", "40")
	v.sees("/stores", ">220<")
	v.refused("what went wrong?", "/slips", "cause", "gravity", "back", row3)
	w := post(v.h, "/slips", url.Values{"id": {"slip-00000001"}, "cause": {"tool slipped"}, "assembly": {"tail-boom-demo"}, "step": {"rivet"}, "place": {"row 3, hole 43"}, "back": {row3 + "?hole=43"}}, false)
	assert.Equal(t, row3+"?hole=43&slipped=slip-00000001", w.Header().Get("Location"))
	v.sees(w.Header().Get("Location"), "The slip is logged.")
	v.refused("whole minutes", "/slips/slip-00000001", "minutes", "ages", "what", "kept words")
	v.done("/slips/slip-00000001", "minutes", "20", "what", "the set slid off", "lesson", "Hold the set with the left hand.")
	v.sees(row3, "Hold the set with the left hand.")
	for _, to := range []string{"//elsewhere.example", "https://elsewhere.example", "/\\elsewhere.example"} {
		w := post(v.h, "/slips", url.Values{"id": {"slip-" + fmt.Sprint(len(to)) + "-back"}, "cause": {"tool slipped"}, "back": {to}}, false)
		assert.True(t, strings.HasPrefix(w.Header().Get("Location"), "/?slipped="), w.Header().Get("Location"))
	}
}

// send posts a file.
func send(h http.Handler, fields map[string]string, file []byte) *httptest.ResponseRecorder {
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
	return ask(h, r)
}

func TestAPhotoIsKeptAndShown(t *testing.T) {
	h, _ := shop(t)
	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, image.NewGray(image.Rect(0, 0, 30, 20))))
	fields := map[string]string{"id": "photo-00000001", "of": "boom-close-demo-bay", "back": bay, "caption": "looking aft"}
	assert.Equal(t, http.StatusSeeOther, send(h, fields, picture.Bytes()).Code)
	assert.Contains(t, get(h, bay).Body.String(), `alt="looking aft"`)
	w := get(h, "/photos/photo-00000001")
	assert.Equal(t, "image/png", w.Header().Get("Content-Type"))
	assert.Equal(t, "image/jpeg", get(h, "/photos/photo-00000001/thumb").Header().Get("Content-Type"))
	for says, file := range map[string][]byte{"neither a JPEG nor a PNG": []byte("<html>"), "choose a JPEG or PNG": nil, "15 MB": make([]byte, 16<<20)} {
		fields["id"] = "photo-" + fmt.Sprint(len(file)) + "-wrong"
		w := send(h, fields, file)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Contains(t, w.Body.String(), says)
	}
	for _, back := range []string{"/stores", "/slips", "/holds/boom-close-demo", "/elsewhere"} {
		fields["back"], fields["of"] = back, "part-rib-left"
		assert.Equal(t, http.StatusUnprocessableEntity, send(h, fields, []byte("x")).Code, back)
	}
}

// 200 rows of 100 holes, through the handler: the map, and a hole that is set with its
// durable write and the map drawn anew.
func BenchmarkTwentyThousandHoles(b *testing.B) {
	s, err := store.Open(context.Background(), b.TempDir())
	require.NoError(b, err)
	b.Cleanup(func() { s.Close() })
	a := app.New(s, time.Now)
	require.NoError(b, a.AddAirframe(b.Context(), app.NewAirframe{ID: "airframe-of-many", Name: "many", Unit: "mm"}))
	require.NoError(b, a.AddAssembly(b.Context(), app.NewAssembly{ID: "boom-of-many", Airframe: "airframe-of-many", Name: "boom", Shape: app.Shape{Form: "surface", Inner: 0, Outer: 3000, Chord: 500}}))
	values := map[string]string{"layers": "aluminium; 0.8\naluminium; 1", "sort": "solid", "size": "1/8", "head": "domed", "metal": "aluminium", "count": "100", "pitch": "30", "first": "10", "sizing": "match drill", "bucker": "solo", "view": "from above"}
	for i := range 200 {
		require.NoError(b, a.AddRow(b.Context(), app.NewRow{ID: fmt.Sprintf("row-of-many-%03d", i), Assembly: "boom-of-many", Name: fmt.Sprint("row ", i), Values: values}))
	}
	h, err := New(a, slog.New(slog.NewTextHandler(io.Discard, nil)), "bench")
	require.NoError(b, err)
	for name, path := range map[string]string{"open a row": "/rows/row-of-many-100", "list all rows": "/rows", "the airframe": "/", "order of setting": "/assemblies/boom-of-many/rows"} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if w := get(h, path); w.Code != http.StatusOK {
					b.Fatal(w.Code)
				}
			}
		})
	}
	b.Run("do a hole", func(b *testing.B) {
		n := 0
		for b.Loop() {
			n++
			form := url.Values{"id": {fmt.Sprintf("deed-of-many-%d", n)}, "do": {map[bool]string{true: "drill", false: "clean"}[n%2 == 1]}, "number": {fmt.Sprint(1 + n/2%100)}, "by": {"builder"}}
			if n%2 == 0 {
				form.Set("number", fmt.Sprint(1+(n-1)/2%100))
			}
			w := post(h, fmt.Sprintf("/rows/row-of-many-%03d/holes", n/200%200), form, true)
			if w.Code != http.StatusOK && w.Code != http.StatusUnprocessableEntity {
				b.Fatal(w.Code, w.Body.String())
			}
		}
	})
}
