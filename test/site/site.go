// Package site visits a workshop as a browser without scripts does: it loads a page,
// fills in a form of it, with the fields that the page hides, and sends it.
package site

import (
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"orpine/cmd/wiring"
	"orpine/internal/web/ui"
	"orpine/test/loft"
)

// Site is a workshop behind its handler, and someone who visits it.
type Site struct {
	*loft.Loft
	Handler http.Handler
	Base    string // where it is mounted
	Last    string // id of the last form that was sent
	next    int
}

// Demo is the demo's.
func Demo(t testing.TB) *Site { return Of(loft.Demo(t), "") }

// Of is the site of a workshop, mounted under a prefix ("" for none).
func Of(l *loft.Loft, prefix string) *Site {
	l.T.Helper()
	l.Workshop.PlaysAtMost = 20 // a forecast is played in the background of every order of work
	h, err := wiring.Handler(l.Workshop, slog.New(strict{slog.DiscardHandler, l.T}), "test", prefix)
	require.NoError(l.T, err)
	return &Site{Loft: l, Handler: h, Base: prefix}
}

// strict is a log that fails a test where a page has no place for a message.
type strict struct {
	slog.Handler
	t testing.TB
}

// Enabled tells that it listens.
func (strict) Enabled(context.Context, slog.Level) bool { return true }

// Handle fails the test.
func (s strict) Handle(_ context.Context, r slog.Record) error {
	if r.Message == ui.NoPlace {
		r.Attrs(func(a slog.Attr) bool { s.t.Errorf("%s: %s", r.Message, a); return true })
	}
	return nil
}

// Ask sends a request as from this machine.
func (v *Site) Ask(r *http.Request) *httptest.ResponseRecorder {
	r.Host = "127.0.0.1:8080"
	w := httptest.NewRecorder()
	v.Handler.ServeHTTP(w, r)
	kind := w.Header().Get("Content-Type")
	assert.False(v.T, (strings.HasPrefix(kind, "text/") || strings.HasPrefix(kind, "application/json")) && strings.Contains(w.Body.String(), "\x02"), "%s: a figure is drawn for its reader", r.URL.Path)
	return w
}

// Get opens a page.
func (v *Site) Get(path string) *httptest.ResponseRecorder {
	return v.Ask(httptest.NewRequest(http.MethodGet, v.Base+path, nil))
}

// Post sends a form as it is, as htmx does or as a browser does.
func (v *Site) Post(path string, form url.Values, htmx bool) *httptest.ResponseRecorder {
	r := httptest.NewRequest(http.MethodPost, v.Base+path, strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	if htmx {
		r.Header.Set("HX-Request", "true")
	}
	return v.Ask(r)
}

// Form fills in the form of that path on the page that it is on. The fields come by name
// and value; a hidden one may be changed, too.
func (v *Site) Form(path string, fields ...string) url.Values {
	v.T.Helper()
	form := url.Values{}
	if page := pageOf(path, fields); page != "" {
		form = hidden(v.T, v.Get(page).Body.String(), v.Base+path, fields)
	}
	v.next++
	v.Last = loft.ID(fmt.Sprint("visitor ", v.next, v.T.Name()))
	form.Set("id", v.Last)
	for i := 0; i+1 < len(fields); i += 2 {
		form.Set(fields[i], fields[i+1])
	}
	return form
}

// Send fills in a form and sends it.
func (v *Site) Send(path string, fields ...string) (status int, body string) {
	v.T.Helper()
	w := v.Post(path, v.Form(path, fields...), false)
	return w.Code, w.Body.String()
}

// Sees asserts that a page shows all of these.
func (v *Site) Sees(path string, texts ...string) {
	v.T.Helper()
	body := v.Get(path).Body.String()
	for _, text := range texts {
		assert.True(v.T, strings.Contains(body, text), "%s shows %q", path, text)
	}
}

// Done sends a form that is taken.
func (v *Site) Done(path string, fields ...string) {
	v.T.Helper()
	status, body := v.Send(path, fields...)
	require.Equal(v.T, http.StatusSeeOther, status, "%s: %s", path, Said(body))
}

// Refused sends a form that is refused with this text.
func (v *Site) Refused(says, path string, fields ...string) {
	v.T.Helper()
	status, body := v.Send(path, fields...)
	assert.Equal(v.T, http.StatusUnprocessableEntity, status, path)
	assert.True(v.T, strings.Contains(body, says), "%s says %q and not: %s", path, says, Said(body))
}

// Said are the problems that a page shows.
func Said(body string) string {
	var out []string
	for _, part := range strings.Split(body, `role="alert">`)[1:] {
		text, _, _ := strings.Cut(part, "<")
		out = append(out, text)
	}
	return strings.Join(out, "; ")
}

// The pages that forms are on, by the forms' paths.
var pages = []*regexp.Regexp{
	regexp.MustCompile(`^(/setups/[^/]+)/(readings|take-back|held|moved)$`),
	regexp.MustCompile(`^(/setups/[^/]+/checks/[^/]+)(/points|/places)?$`),
	regexp.MustCompile(`^(/rows/[^/]+)/(holes|several|undo|barrier)$`),
	regexp.MustCompile(`^(/rows/[^/]+/plan)$`),
	regexp.MustCompile(`^(/holds/[^/]+)/[a-z]+$`),
	regexp.MustCompile(`^(/bays/[^/]+)/[a-z]+$`),
	regexp.MustCompile(`^(/instruments)/[^/]+/[a-z]+$`),
	regexp.MustCompile(`^(/stores)$`),
	regexp.MustCompile(`^(/right/.+)$`),
}

// pageOf is the page with the form of that path, "" where nothing of it matters.
func pageOf(path string, fields []string) string {
	given := map[string]string{}
	for i := 0; i+1 < len(fields); i += 2 {
		given[fields[i]] = fields[i+1]
	}
	if strings.HasSuffix(path, "/schools") {
		return strings.TrimSuffix(path, "/schools")
	}
	if strings.HasSuffix(path, "/card") {
		return path
	}
	if strings.HasPrefix(path, "/parts/") {
		return "/stores"
	}
	if strings.HasPrefix(path, "/slips/") {
		return "/slips"
	}
	for _, p := range pages {
		if m := p.FindStringSubmatch(path); m != nil {
			if strings.Contains(m[1], "?") {
				return m[1]
			}
			return m[1] + "?" + url.Values{"check": {given["check"]}, "spot": {given["number"]}, "hole": {given["number"]}}.Encode()
		}
	}
	return ""
}

// hidden are the hidden fields of the form of that path on a page; where there are
// several, of the one that has the given values of them.
func hidden(t testing.TB, page, path string, fields []string) url.Values {
	t.Helper()
	doc, err := html.Parse(strings.NewReader(page))
	require.NoError(t, err)
	out := url.Values{}
	for n := range doc.Descendants() {
		if n.Type == html.ElementNode && n.Data == "form" && attribute(n, "action") == path {
			form := url.Values{}
			for in := range n.Descendants() {
				if in.Data == "input" && attribute(in, "type") == "hidden" {
					form.Set(attribute(in, "name"), attribute(in, "value"))
				}
			}
			if len(out) == 0 || agrees(form, fields) {
				out = form
			}
		}
	}
	return out
}

// FormOn is the form of that path on a page, with what the page hides in it.
func FormOn(t testing.TB, page, path string) url.Values {
	t.Helper()
	return hidden(t, page, path, nil)
}

func agrees(form url.Values, fields []string) bool {
	for i := 0; i+1 < len(fields); i += 2 {
		if has := form.Get(fields[i]); has != "" && has != fields[i+1] {
			return false
		}
	}
	return true
}

func attribute(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}
