package web

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/app"
	"orpine/internal/core/quantity"
	"orpine/internal/store"
)

var morning = time.Date(2026, 5, 4, 10, 0, 0, 0, time.UTC)

const rails = "/setups/tailplane-on-rails-demo"

// filled is the demo workshop's data file, made once for all tests.
var filled = sync.OnceValue(func() []byte {
	dir, err := os.MkdirTemp("", "orpine-shop-")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(dir)
	s, err := store.Open(context.Background(), dir)
	if err != nil {
		panic(err)
	}
	if err := errors.Join(app.FillDemo(context.Background(), s, morning), s.Close()); err != nil {
		panic(err)
	}
	data, err := os.ReadFile(filepath.Join(dir, store.FileName))
	if err != nil {
		panic(err)
	}
	return data
})

// shop is the demo workshop behind its handler.
func shop(t testing.TB) (http.Handler, *app.App) {
	t.Helper()
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.FileName), filled(), 0o600))
	s, err := store.Open(context.Background(), dir)
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	a := app.New(s, func() time.Time { return morning })
	h, err := New(a, slog.New(slog.NewTextHandler(io.Discard, nil)), "test")
	require.NoError(t, err)
	return h, a
}

func ask(h http.Handler, r *http.Request) *httptest.ResponseRecorder {
	r.Host = "127.0.0.1:8080"
	w := httptest.NewRecorder()
	h.ServeHTTP(w, r)
	return w
}

func get(h http.Handler, path string) *httptest.ResponseRecorder {
	return ask(h, httptest.NewRequest(http.MethodGet, path, nil))
}

func post(h http.Handler, path string, form url.Values, htmx bool) *httptest.ResponseRecorder {
	r := httptest.NewRequest(http.MethodPost, path, strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	if htmx {
		r.Header.Set("HX-Request", "true")
	}
	return ask(h, r)
}

func TestEveryPageIsServedWithAStrictPolicyAndWithinSize(t *testing.T) {
	h, _ := shop(t)
	for _, path := range []string{"/", "/airframes/campion-c1-demo", "/assemblies/tailplane-demo", rails, rails + "?spot=3", "/setups", "/holds", "/setups/fin-upright-demo", "/setups/mount-pads-demo", "/setups/spar-left-demo", "/setups/foreplane-demo", "/holds/mount-pads-demo-hold", "/assemblies/fin-demo/templates/fin", "/holds/tailplane-on-rails-demo-hold", "/log", "/log?check=yes", "/log?before=20", "/instruments"} {
		w := get(h, path)
		assert.Equal(t, http.StatusOK, w.Code, path)
		assert.Equal(t, policy, w.Header().Get("Content-Security-Policy"))
		assert.Less(t, w.Body.Len(), 120_000, path)
		for _, forbidden := range []string{" style=", "<style", "onclick", "javascript:", "hx-on", "https://"} {
			assert.NotContains(t, w.Body.String(), forbidden, path)
		}
	}
	for _, asset := range []string{"app.css", "app.js", "mark.svg", "vendor/htmx.min.js", "fonts/atkinson-hyperlegible-next-latin-wght-normal.woff2"} {
		w := get(h, "/assets/"+asset)
		assert.Equal(t, http.StatusOK, w.Code, asset)
		assert.Contains(t, w.Header().Get("Cache-Control"), "immutable")
	}
}

func TestWhatIsNotThereSaysSo(t *testing.T) {
	h, _ := shop(t)
	for _, path := range []string{"/setups/none", "/holds/none", "/assemblies/none", "/airframes/none", "/nowhere", "/setups/none/worksheet.json", "/assets/none"} {
		assert.Equal(t, http.StatusNotFound, get(h, path).Code, path)
	}
	assert.Equal(t, http.StatusNotFound, post(h, "/setups/none/moved", url.Values{"id": {"12345678"}, "what": {"moved"}}, false).Code)
	assert.Equal(t, http.StatusNotFound, post(h, "/instruments/none/test", url.Values{"id": {"12345678"}}, false).Code)
	assert.Contains(t, get(h, "/nowhere").Body.String(), "nothing at this address")
}

func TestHostsAndSitesThatAreNotThisMachineAreTurnedAway(t *testing.T) {
	h, _ := shop(t)
	for host, want := range map[string]int{"127.0.0.1:8080": 200, "localhost": 200, "[::1]:8080": 200, "elsewhere.example": 421, "192.168.1.5:8080": 421} {
		r := httptest.NewRequest(http.MethodGet, "/", nil)
		r.Host = host
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		assert.Equal(t, want, w.Code, host)
	}
	r := httptest.NewRequest(http.MethodPost, rails+"/moved", strings.NewReader("id=12345678&what=moved"))
	r.Header.Set("Origin", "http://elsewhere.example")
	assert.Equal(t, http.StatusForbidden, ask(h, r).Code)
}

func TestAReadingIsRefusedAtItsFieldWithEverythingKept(t *testing.T) {
	h, _ := shop(t)
	form := url.Values{"id": {"reading-0001"}, "check": {"tailplane-on-rails-demo-check-1"}, "number": {"3"}, "text": {`0.1 <b>R`}, "instrument": {"level-2-demo"}, "condition": {"weighted"}, "in_place": {"misread"}}
	for _, htmx := range []bool{false, true} {
		w := post(h, rails+"/readings", form, htmx)
		body := w.Body.String()
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Equal(t, !htmx, strings.Contains(body, "<!doctype html>"), "htmx gets the sheet alone")
		assert.Contains(t, body, `value="0.1 &lt;b&gt;R"`)
		assert.Contains(t, body, `<option selected>weighted</option>`)
		assert.Contains(t, body, `<option value="misread" selected>`)
		assert.Contains(t, body, "is not part of a length or an angle")
	}
	form.Set("text", "0.1 up")
	form.Set("condition", "clamped")
	w := post(h, rails+"/readings", form, false)
	assert.Equal(t, http.StatusSeeOther, w.Code)
	w = post(h, rails+"/readings", form, true)
	assert.Equal(t, http.StatusOK, w.Code, "the same once more changes nothing")
	assert.Contains(t, w.Header().Get("HX-Replace-Url"), rails)
	form.Set("text", "0.2 up")
	assert.Equal(t, http.StatusUnprocessableEntity, post(h, rails+"/readings", form, true).Code)
	form.Set("number", "99")
	assert.Equal(t, http.StatusNotFound, post(h, rails+"/readings", form, true).Code)
}

func TestFormsThatAreTooLargeOrEmptyDoNoHarm(t *testing.T) {
	h, _ := shop(t)
	for _, path := range []string{rails + "/readings", rails + "/moved", rails + "/held", rails + "/take-back", "/holds/tailplane-on-rails-demo-hold/release", "/holds/tailplane-on-rails-demo-hold/step", "/instruments", "/instruments/level-2-demo/test", "/airframes", "/airframes/samphire-s2-demo/assemblies", "/assemblies/fin-demo/setups",
		"/setups/fin-upright-demo/checks", "/setups/fin-upright-demo/checks/fin-upright-demo-check-0", "/setups/spar-left-demo/checks/spar-left-demo-check-0/points", "/setups/fin-tail-join-demo/checks/fin-tail-join-demo-check-0/points",
		"/setups/fin-tail-join-demo/checks/fin-tail-join-demo-check-0/places", "/holds/spar-left-demo-hold/after", "/airframes/samphire-s2-demo/schools", "/instruments/level-2-demo/proofs", "/assemblies/fin-demo/templates/join", "/assemblies/fin-demo/templates/joins", "/assemblies/fin-demo/templates/other"} {
		for _, form := range []url.Values{{}, {"id": {strings.Repeat("x", 100_000)}}, {"id": {"\x00\xff"}, "text": {"\x00"}}} {
			w := post(h, path, form, false)
			assert.Contains(t, []int{http.StatusUnprocessableEntity, http.StatusNotFound}, w.Code, path)
		}
	}
}

func TestTheSheetGoesBackOnlyToThisSite(t *testing.T) {
	h, _ := shop(t)
	for back, want := range map[string]string{"/log": "/log", "//elsewhere.example": "/", "https://elsewhere.example": "/", `/\elsewhere.example`: "/", "": "/"} {
		w := post(h, "/sheet", url.Values{"sheet": {"dark"}, "back": {back}}, false)
		assert.Equal(t, want, w.Header().Get("Location"), back)
	}
}

func TestMovesAreSaidAsABuilderWould(t *testing.T) {
	h, a := shop(t)
	s, err := a.Setup(t.Context(), "tailplane-on-rails-demo")
	require.NoError(t, err)
	moves := s.Checks[0].Result.Moves
	assert.Equal(t, "raise L1 1.5 mm (1 + 0.5)", SayMove(moves[0]))
	assert.Equal(t, "raise R3 4.8 mm (1 + 1 + 1, +1.8 left over)", SayMove(moves[len(moves)-1]))
	assert.True(t, strings.Contains(get(h, rails+"?check=tailplane-on-rails-demo-check-0").Body.String(), "raise L1 1.5 mm (1 &#43; 0.5)"))
}

// large begins the setup of a surface of so many stations, each read on the part
// and on the rails under it.
func large(t testing.TB, stations int) http.Handler {
	h, a := shop(t)
	frame := app.OnRails{Supports: []string{"0", "3000"}, Apart: quantity.Length(700), Low: "-0.1", High: "0.1", Level: "level-2-demo", Survey: "laser-demo"}
	for i := range stations {
		frame.Stations = append(frame.Stations, app.Station{Name: fmt.Sprintf("station %d", i), Y: fmt.Sprint(12 * i)})
	}
	ctx := context.Background()
	require.NoError(t, a.BeginSetup(ctx, app.NewSetup{ID: "large-setup", Assembly: "fin-demo", Name: "on the rails", Checks: frame.Checks(), Hold: app.EndHoles("fin")}))
	for i := range 2 * stations {
		require.NoError(t, a.TakeReading(ctx, app.NewReading{ID: fmt.Sprintf("reading-%04d", i), Check: "large-setup-check-1", Number: i + 1, Text: fmt.Sprintf("0.%02d up", i%50), Instrument: "level-2-demo"}))
	}
	return h
}

const largePage = "/setups/large-setup?check=large-setup-check-1&spot=3"

func TestThePageOf200ReadingsIsSmall(t *testing.T) {
	assert.Less(t, get(large(t, 100), largePage).Body.Len(), 120_000)
}

// What a builder waits for at 200 readings: one is kept, and the sheet comes back
// with the answer worked out anew.
func BenchmarkEntryAt200Readings(b *testing.B) {
	var h http.Handler
	n := 0
	for b.Loop() {
		if n%25 == 0 { // those that were put in place of others stay on the page
			b.StopTimer()
			h = large(b, 100)
			b.StartTimer()
		}
		n++
		form := url.Values{"id": {fmt.Sprintf("entry-%06d", n)}, "check": {"large-setup-check-1"}, "number": {"3"}, "text": {"0.04 up"}, "instrument": {"level-2-demo"}, "in_place": {"misread"}, "stay": {"yes"}}
		if w := post(h, "/setups/large-setup/readings", form, true); w.Code != http.StatusOK {
			b.Fatal(w.Code)
		}
	}
}

func BenchmarkPageOf500Readings(b *testing.B) {
	h := large(b, 250)
	for b.Loop() {
		if w := get(h, largePage); w.Code != http.StatusOK {
			b.Fatal(w.Code)
		}
	}
}
