package sheets_test

import (
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"orpine/internal/demo"
	"orpine/test/loft"
	"orpine/test/site"

	"github.com/stretchr/testify/assert"
)

// The pages that most tests work at.
var (
	rails    = "/setups/" + loft.OnRails
	endHoles = "/holds/" + demo.HoldOf("tailplane on rails")
	boom     = "/assemblies/" + demo.ID("tail boom")
	row3     = "/rows/" + demo.ID("row 3")
	row6     = "/rows/" + demo.ID("row 6")
	bay      = "/bays/" + demo.Bay()
)

func TestEveryPageIsServedWithAStrictPolicyAndWithinSize(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for _, path := range []string{"/", "/airframes/" + demo.ID("campion"), "/assemblies/" + demo.ID("tailplane"), rails, rails + "?spot=3", "/setups", "/holds", "/setups/" + demo.ID("fin upright"), "/setups/" + demo.ID("mount pads"), "/setups/" + demo.ID("spar left"), "/setups/" + demo.ID("foreplane on fuselage"), "/holds/" + demo.HoldOf("mount pads"), "/assemblies/" + demo.ID("fin") + "/usual/fin", "/holds/" + demo.HoldOf("tailplane on rails"), "/log", "/log", "/log?before=20", "/instruments"} {
		w := v.Get(path)
		assert.Equal(t, http.StatusOK, w.Code, path)
		assert.Contains(t, w.Header().Get("Content-Security-Policy"), "default-src 'none'; script-src 'self'")
		assert.Less(t, w.Body.Len(), 120_000, path)
		for _, forbidden := range []string{" style=", "<style", "onclick", "javascript:", "hx-on", "https://"} {
			assert.NotContains(t, w.Body.String(), forbidden, path)
		}
	}
	for _, asset := range []string{"app.css", "app.js", "mark.svg", "vendor/htmx.min.js", "fonts/atkinson-hyperlegible-next-latin-wght-normal.woff2"} {
		w := v.Get("/assets/" + asset)
		assert.Equal(t, http.StatusOK, w.Code, asset)
		assert.Contains(t, w.Header().Get("Cache-Control"), "immutable")
	}
}

func TestWhatIsNotThereSaysSo(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for _, path := range []string{"/setups/none", "/holds/none", "/assemblies/none", "/airframes/none", "/nowhere", "/setups/none/worksheet.json", "/assets/none"} {
		assert.Equal(t, http.StatusNotFound, v.Get(path).Code, path)
	}
	assert.Equal(t, http.StatusNotFound, v.Post("/setups/none/moved", url.Values{"id": {loft.ID("a")}, "what": {"moved"}}, false).Code)
	assert.Equal(t, http.StatusNotFound, v.Post("/instruments/none/test", url.Values{"id": {loft.ID("a")}, "first": {"0.1"}, "turned": {"-0.1"}}, false).Code)
	assert.Contains(t, v.Get("/nowhere").Body.String(), "nothing at this address")
}

func TestHostsAndSitesThatAreNotThisMachineAreTurnedAway(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for host, want := range map[string]int{"127.0.0.1:8080": 200, "localhost": 200, "[::1]:8080": 200, "elsewhere.example": 421, "192.168.1.5:8080": 421} {
		r := httptest.NewRequest(http.MethodGet, "/", nil)
		r.Host = host
		w := httptest.NewRecorder()
		v.Handler.ServeHTTP(w, r)
		assert.Equal(t, want, w.Code, host)
	}
	r := httptest.NewRequest(http.MethodPost, rails+"/moved", strings.NewReader("id=12345678&what=moved"))
	r.Header.Set("Origin", "http://elsewhere.example")
	assert.Equal(t, http.StatusForbidden, v.Ask(r).Code)
}

func TestAReadingIsRefusedAtItsFieldWithEverythingKept(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	form := v.Form(rails+"/readings", "check", demo.Check("tailplane on rails", 1), "number", "3", "text", `0.1 <b>R`, "instrument", demo.ID("level 2"), "condition", "weighted", "in_place", "misread")
	for _, htmx := range []bool{false, true} {
		w := v.Post(rails+"/readings", form, htmx)
		body := w.Body.String()
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Equal(t, !htmx, strings.Contains(body, "<!doctype html>"), "htmx gets the sheet alone")
		for _, says := range []string{`value="0.1 &lt;b&gt;R"`, `<option selected>weighted</option>`, `<option selected>misread</option>`, "is not part of a length or an angle"} {
			assert.True(t, strings.Contains(body, says), says)
		}
	}
	form.Set("text", "0.1 up")
	form.Set("condition", "clamped")
	w := v.Post(rails+"/readings", form, false)
	assert.Equal(t, http.StatusSeeOther, w.Code)
	w = v.Post(rails+"/readings", form, true)
	assert.Equal(t, http.StatusOK, w.Code, "the same once more changes nothing")
	assert.Contains(t, w.Header().Get("HX-Replace-Url"), rails)
	form.Set("text", "0.2 up")
	assert.Equal(t, http.StatusUnprocessableEntity, v.Post(rails+"/readings", form, true).Code)
	form.Set("id", loft.ID("elsewhere"))
	form.Set("check", loft.ID("nothing"))
	assert.Equal(t, http.StatusNotFound, v.Post(rails+"/readings", form, true).Code)
}

func TestFormsThatAreTooLargeOrEmptyDoNoHarm(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for _, path := range []string{rails + "/readings", rails + "/moved", rails + "/held", rails + "/take-back", "/holds/" + demo.HoldOf("tailplane on rails") + "/release", "/holds/" + demo.HoldOf("tailplane on rails") + "/step", "/instruments", "/instruments/" + demo.ID("level 2") + "/test", "/airframes", "/airframes/" + demo.ID("samphire") + "/assemblies", "/assemblies/" + demo.ID("fin") + "/setups",
		"/setups/" + demo.ID("fin upright") + "/checks", "/setups/" + demo.ID("fin upright") + "/checks/" + demo.Check("fin upright", 0), "/setups/" + demo.ID("spar left") + "/checks/" + demo.Check("spar left", 0) + "/points", "/setups/" + demo.ID("fin and tail join") + "/checks/" + demo.Check("fin and tail join", 0) + "/points",
		"/setups/" + demo.ID("fin and tail join") + "/checks/" + demo.Check("fin and tail join", 0) + "/places", "/holds/" + demo.HoldOf("spar left") + "/after", "/airframes/" + demo.ID("samphire") + "/schools", "/instruments/" + demo.ID("level 2") + "/proofs", "/assemblies/" + demo.ID("fin") + "/usual/join", "/assemblies/" + demo.ID("fin") + "/usual/joins", "/assemblies/" + demo.ID("fin") + "/usual/other"} {
		for _, form := range []url.Values{{}, {"id": {strings.Repeat("x", 100_000)}}, {"id": {"\x00\xff"}, "text": {"\x00"}}} {
			w := v.Post(path, form, false)
			assert.Contains(t, []int{http.StatusUnprocessableEntity, http.StatusNotFound}, w.Code, path)
		}
	}
}

func TestTheSheetGoesBackOnlyToThisSite(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for back, want := range map[string]string{"/log": "/log", "//elsewhere.example": "/", "https://elsewhere.example": "/", `/\elsewhere.example`: "/", "": "/"} {
		w := v.Post("/sheet", url.Values{"sheet": {"dark"}, "back": {back}}, false)
		assert.Equal(t, want, w.Header().Get("Location"), back)
	}
}

// The elevator of the demo was read in four states, and its level fourteen times in the first year.
func TestWhatIsDrawnCanBeTakenAwayAsATable(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	history := "/assemblies/" + demo.ID("elevator left") + "/history"
	page := v.Get(history).Body.String()
	assert.Equal(t, 2*4, strings.Count(page, `class="plotted`), "each point, at both widths")
	assert.Contains(t, page, "re-clamped: +0.06° ± ")
	table := v.Get(history + ".csv").Body.String()
	assert.Equal(t, 5, strings.Count(table, "\n"))
	assert.Contains(t, table, "at first,Twist,twist,0.2200,")

	instruments := v.Get("/instruments").Body.String()
	assert.Contains(t, instruments, "it jumped by −0.08°")
	assert.Contains(t, instruments, "in a row on one side")
	for _, m := range regexp.MustCompile(`class="plotted[^>]*href="#([^"]*)"`).FindAllStringSubmatch(instruments, -1) {
		assert.Equal(t, 1, strings.Count(instruments, `<li id="`+m[1]+`"`), "a point leads to its readings: %s", m[1])
	}
	zeros := v.Get("/instruments/" + demo.ID("level 2") + "/zero.csv").Body.String()
	assert.Contains(t, zeros, ",0.05,-0.07,-0.0100\n")
	assert.Equal(t, http.StatusNotFound, v.Get("/instruments/none/zero.csv").Code)
	assert.Contains(t, v.Get("/assemblies/"+demo.ID("rudder")+"/history").Body.String(), "Nothing was measured on it to its end yet")
	assert.Contains(t, v.Get("/hours").Body.String(), "hours by month")
}
