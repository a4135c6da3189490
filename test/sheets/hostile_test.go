package sheets_test

import (
	"bytes"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"orpine/cmd/wiring"
	"orpine/internal/account"
	"orpine/internal/airframe"
	"orpine/internal/asking"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/photo"
	"orpine/internal/riveting"
	"orpine/internal/stores"
	"orpine/internal/web/ui"
	"orpine/test/loft"
)

// hostile is a name that is an attack wherever it is not written as text.
const hostile = `</title></script><script>alert(1)</script><img src=x onerror=alert(2)>"' onfocus=alert(3) {{.}} ${1}`

// Every name and text is shown as it was typed, on every page, to everybody: no element, attribute or
// template comes of it.
func TestHostileNamesAreShownAsText(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 3)
	frame := loft.ID("hostile frame")
	require.NoError(t, l.Airframes.Add(t.Context(), airframe.NewAirframe{Form: loft.Named("hostile frame"), Name: hostile[:70], Unit: "mm"}))
	require.NoError(t, l.Airframes.AddAssembly(t.Context(), airframe.NewAssembly{Form: loft.Named("hostile assembly"), Airframe: loft.BenchFrame, Name: hostile[:70], Shape: airframe.Shape{Form: "surface", Inner: 450, Outer: 6200, Chord: 400, Tip: 300}}))
	require.NoError(t, l.Instruments.Add(t.Context(), instrument.NewInstrument{Form: loft.Named("hostile level"), Name: hostile[:70], Sort: "level", Resolution: "0.1"}))
	require.NoError(t, l.Asking.Ask(t.Context(), asking.NewQuestion{Form: loft.Named("hostile question"), Airframe: loft.BenchFrame, Sort: "question", Text: hostile, Whom: hostile[:70]}))
	require.NoError(t, l.Logbook.Log(t.Context(), logbook.NewSlip{Form: loft.Named("hostile slip"), Assembly: loft.BenchBoom, Step: "rivet", Place: hostile, Cause: "tool slipped"}))
	require.NoError(t, l.Stores.AddPart(t.Context(), stores.NewPart{Form: loft.Named("hostile part"), Airframe: loft.BenchFrame, Assembly: loft.BenchBoom, Name: hostile[:70], Number: hostile[:30], Hand: "none"}))
	require.NoError(t, l.Photos.Add(t.Context(), photo.NewPhoto{Form: loft.Named("hostile photo"), Of: loft.BenchBay, Caption: hostile[:70], Data: loft.PNG(t, 30, 20)}))
	require.NoError(t, l.Gate.Look(t.Context(), gate.LookAt{Form: loft.Named("hostile look"), Need: "marked", Of: loft.BenchRow, By: hostile[:70]}))
	r, err := l.Riveting.Row(t.Context(), loft.BenchRow)
	require.NoError(t, err)
	require.NoError(t, l.Riveting.Operate(t.Context(), riveting.HoleOperation{Form: loft.Named("hostile drill"), Row: loft.BenchRow, Seen: r.Revised, Numbers: []int{1}, What: "drill", By: hostile[:70]}))
	s := guarded(t, l)
	builder := s.person(hostile[:70], account.Builder)

	routes, err := wiring.Routes(s.Workshop, s.door)
	require.NoError(t, err)
	opened := 0
	for _, route := range routes {
		method, path, _ := strings.Cut(route, " ")
		if method != http.MethodGet || strings.HasSuffix(path, "/live") || strings.HasPrefix(path, "/attempts") || strings.HasPrefix(path, "/exercises") {
			continue
		}
		for _, id := range []string{loft.BenchFrame, frame, loft.BenchBoom, loft.ID("hostile assembly"), loft.BenchSetup, loft.BenchRow, loft.BenchBay, loft.BenchRivet} {
			address := path
			for _, name := range []string{":id", ":check", ":kind", ":usual", ":planform", ":page", ":name"} {
				address = strings.ReplaceAll(address, name, id)
			}
			w := s.as(builder, http.MethodGet, address, nil)
			if w.Code == http.StatusOK && strings.HasPrefix(w.Header().Get("Content-Type"), "text/html") {
				opened++
				noneOf(t, address, w.Body.String())
			}
			if !strings.Contains(path, ":") {
				break
			}
		}
	}
	assert.Greater(t, opened, 45)
	noneOf(t, "/people with a code", s.as(builder, http.MethodPost, "/people/"+builder.ID+"/code", url.Values{}).Body.String())
}

// noneOf fails where a page has an element, or a handler, that a hostile name made.
func noneOf(t *testing.T, where, page string) {
	t.Helper()
	doc, err := html.Parse(strings.NewReader(page))
	require.NoError(t, err)
	for n := range doc.Descendants() {
		if n.Type != html.ElementNode {
			continue
		}
		for _, a := range n.Attr {
			assert.False(t, strings.HasPrefix(a.Key, "on"), "%s: <%s %s=%q>", where, n.Data, a.Key, a.Val)
		}
		if n.Data == "script" {
			assert.Nil(t, n.FirstChild, "%s: a script of its own", where)
		}
		if n.Data == "img" {
			assert.True(t, slices.ContainsFunc(n.Attr, func(a html.Attribute) bool { return a.Key == "src" && strings.HasPrefix(a.Val, "/") }), "%s: an image from elsewhere", where)
		}
	}
}

// A name that would end a header, or hide in one, is refused where it comes in; a name that is given
// to a file is made plain.
func TestNoNameReachesAHeader(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Bench(t, 2))
	for _, name := range []string{"a\r\nSet-Cookie: x=1", "a\x00b", "a\u202eb", "a\u2028b"} {
		err := s.door.Begin(t.Context(), account.NewPerson{Form: ledger.Form{ID: loft.ID(name)}, Name: name})
		assert.Contains(t, loft.Problems(t, err)["name"], "control character", "%q", name)
	}
	assert.Equal(t, "set-cookie-x-1", ui.FileName("\r\nSet-Cookie: x=1"))
	for _, back := range []string{"//elsewhere.example", "/\\elsewhere.example", "https://elsewhere.example", "javascript:alert(1)", "/\r\nSet-Cookie: x=1"} {
		w := s.as(nil, http.MethodPost, "/sheet", url.Values{"sheet": {"dark"}, "back": {back}})
		to, err := url.Parse(w.Header().Get("Location"))
		require.NoError(t, err)
		assert.Empty(t, to.Host, back)
		assert.Empty(t, to.Scheme, back)
		assert.NotContains(t, w.Header().Values("Set-Cookie"), "x=1")
	}
}

// Nothing that is sent to any form makes the program fail: whatever it is, it is taken or refused.
func TestNoFormFailsOnWhatIsSentToIt(t *testing.T) {
	t.Parallel()
	s := guarded(t, loft.Bench(t, 2))
	builder := s.person("builder", account.Builder)
	for _, body := range []string{"", "id=x", "%zz=%", "id=&by=%ff%fe", "layers.0.0=a;b&layers.0.1=" + strings.Repeat("9", 400), "number=-1&seen=99999999999999999999&do=set&text=NaN&several=1-9999999999&hole=1e999", "a=" + strings.Repeat("%00", 2000)} {
		s.sendEverywhere(t, builder, "application/x-www-form-urlencoded", []byte(body))
	}
	var b bytes.Buffer
	form := multipart.NewWriter(&b)
	for _, name := range []string{"photo", "archive", "table", "plan", "sheet", "file", "worksheet"} {
		part, err := form.CreateFormFile(name, "../../etc/passwd")
		require.NoError(t, err)
		_, err = part.Write([]byte("PK\x03\x04 not what it says"))
		require.NoError(t, err)
	}
	require.NoError(t, form.Close())
	s.sendEverywhere(t, builder, form.FormDataContentType(), b.Bytes())
	s.sendEverywhere(t, builder, "multipart/form-data; boundary=none", []byte("--none\r\n"))
	s.sendEverywhere(t, builder, "text/plain", []byte("id=1"))
	s.Verify()
}

// things are what a form may be about, and one that is not there.
func things() []string {
	return []string{loft.BenchFrame, loft.BenchBoom, loft.BenchSetup, loft.BenchRow, loft.BenchBay, loft.BenchRivet, "none"}
}

// forms are the routes that take one.
func forms() (paths []string) {
	for _, route := range ui.AllAsked() {
		method, path, _ := strings.Cut(route, " ")
		if method == http.MethodPost && !strings.HasPrefix(path, "/exercises") && !strings.HasPrefix(path, "/attempts") && path != "/sign-out" && path != "/log/check" {
			paths = append(paths, path)
		}
	}
	return paths
}

// sendEverywhere sends a body to every form, about things that are there and a thing that is not.
func (s *shop) sendEverywhere(t *testing.T, who *account.Person, kind string, body []byte) {
	t.Helper()
	for _, path := range forms() {
		for _, id := range things() {
			s.sendTo(t, who, path, id, kind, body)
			if !strings.Contains(path, ":") {
				break
			}
		}
	}
}

var placeholder = regexp.MustCompile(`:\w+`)

// sendTo sends a body to a form about a thing; the program must not fail on it.
func (s *shop) sendTo(t *testing.T, who *account.Person, path, id, kind string, body []byte) {
	t.Helper()
	address := placeholder.ReplaceAllString(path, id)
	r := httptest.NewRequest(http.MethodPost, address, bytes.NewReader(body))
	r.Header.Set("Content-Type", kind)
	r.Host = "127.0.0.1"
	w := httptest.NewRecorder()
	s.inside.ServeHTTP(w, r.WithContext(account.Sit(r.Context(), account.Seat{Person: who})))
	if w.Code >= http.StatusInternalServerError {
		t.Errorf("%s %s: %d", address, kind, w.Code)
	}
}

// FuzzForms sends whatever it is given to whichever form.
func FuzzForms(f *testing.F) {
	for i, seed := range []string{"", "id=x&by=y", "number=1&do=set&seen=1", "text=64 5/16 in&list=points&point=p&field=offset", "name=%3Cscript%3E&role=builder", "layers.0.0=aluminium&layers.0.1=0.5 mm&pitch=25&from.0.0=1", "assembly=x&cause=tool slipped&place=1"} {
		f.Add(uint8(7*i), uint8(i), seed)
	}
	s := guarded(f, loft.Bench(f, 2))
	who := s.person("builder", account.Builder)
	paths, about := forms(), things()
	f.Fuzz(func(t *testing.T, form, thing uint8, body string) {
		body = "id=" + loft.ID(body) + "&" + body // a form of its own, so that it is judged
		s.sendTo(t, who, paths[int(form)%len(paths)], about[int(thing)%len(about)], "application/x-www-form-urlencoded", []byte(body))
	})
}
