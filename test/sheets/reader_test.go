package sheets_test

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"orpine/internal/core/measure"
	"orpine/internal/demo"
	"orpine/internal/instrument"
	"orpine/internal/measuring"
	"orpine/test/loft"
	"orpine/test/site"
)

var toPage = regexp.MustCompile(`href="(/[^"#]*)`)

// One kind of page is opened so often, for one id or another.
const mostOfOne = 5

var named = regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f-]{27}|=[^&]*`)

// pages opens the pages of a workshop that links lead to.
func pages(t *testing.T, v *site.Site, from ...string) map[string]string {
	t.Helper()
	seen, kinds, waiting := map[string]string{}, map[string]int{}, slices.Clone(from)
	for len(waiting) > 0 {
		path := waiting[0]
		waiting = waiting[1:]
		if _, again := seen[path]; again || strings.HasPrefix(path, "/assets") || strings.HasPrefix(path, "/look") || strings.HasPrefix(path, "/practice") {
			continue
		}
		kind := named.ReplaceAllString(path, "")
		if kinds[kind]++; kinds[kind] > mostOfOne {
			continue
		}
		w := v.Get(path)
		if seen[path] = ""; !strings.HasPrefix(w.Header().Get("Content-Type"), "text/html") {
			continue
		}
		require.Equal(t, http.StatusOK, w.Code, path)
		seen[path] = w.Body.String()
		for _, m := range toPage.FindAllStringSubmatch(seen[path], -1) {
			waiting = append(waiting, html.UnescapeString(m[1]))
		}
	}
	return seen
}

// texts are what a page shows or reads aloud, but for what is marked as typed and what is no words.
func texts(t *testing.T, page string) (out []string) {
	t.Helper()
	root, err := html.Parse(strings.NewReader(page))
	require.NoError(t, err)
	var walk func(n *html.Node)
	walk = func(n *html.Node) {
		if n.Type == html.TextNode {
			if text := strings.TrimSpace(n.Data); text != "" && text != "mm" { // beside the button that chooses it
				out = append(out, text)
			}
		}
		if slices.Contains([]string{"script", "style", "code", "textarea", "s", "option", "kbd"}, n.Data) {
			return
		}
		for _, a := range n.Attr {
			if a.Key == "class" && slices.Contains(strings.Fields(a.Val), "typed") {
				return
			}
			if slices.Contains([]string{"aria-label", "title", "placeholder"}, a.Key) {
				out = append(out, a.Val)
			}
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			walk(c)
		}
	}
	walk(root)
	return out
}

// inInches is a shop of which every length is typed in inches: an aircraft from its form, every template
// begun as its page offers it, and every reading taken.
func inInches(t *testing.T) *site.Site {
	t.Helper()
	l := loft.Empty(t)
	v := site.Of(l, "")
	v.Done("/begin/low-wing", "name", "Tansy T3", "unit", "in")
	for _, n := range [][]string{{"level", "0.05", "0.1", "0.03"}, {"tape", "1/32 in", "1/32 in", "1/64 in"}} {
		v.Done("/instruments", "name", "shop "+n[0], "sort", n[0], "resolution", n[1], "offset", n[2], "spread", n[3])
	}
	list, err := l.Airframes.List(l.Ctx())
	require.NoError(t, err)
	home, err := l.Home(l.Ctx(), list[0].ID)
	require.NoError(t, err)
	for i, template := range measuring.UsualChecks {
		assembly := home.Assemblies[i%len(home.Assemblies)]
		path := "/assemblies/" + assembly.ID + "/usual/" + template.ID
		page := v.Get(path).Body.String()
		form := site.FormOn(t, page, path)
		form.Set("id", loft.ID("usual "+template.ID))
		form.Set("name", "on the bench "+template.ID)
		for n, c := range template.Checks {
			form.Set(fmt.Sprint(n, ".usual"), "yes")
			for field, value := range c.Usual {
				if name := fmt.Sprint(n, ".", field); form.Get(name) == "" && form.Get(name+".0.0") == "" {
					form.Set(name, value)
				}
			}
			form.Set(fmt.Sprint(n, ".take"), "yes")
			form.Set(fmt.Sprint(n, ".sure"), "yes")
		}
		begun := v.Post(path, form, false)
		if !assert.Equal(t, http.StatusSeeOther, begun.Code, "%s: %s %q", template.ID, site.Said(begun.Body.String()), form) {
			continue
		}
		read(t, l, strings.TrimPrefix(strings.Split(begun.Header().Get("Location"), "?")[0], "/setups/"))
	}
	return v
}

// read takes every reading of a setup once.
func read(t *testing.T, l *loft.Loft, setup string) {
	t.Helper()
	tools, err := l.Instruments.List(l.Ctx())
	require.NoError(t, err)
	for _, c := range l.SetupOf(setup).Checks {
		for _, spot := range c.Spots {
			text := "1 7/16"
			if spot.Dimension == measure.Angle {
				text = "0.15"
			}
			tool := slices.IndexFunc(tools, func(in instrument.Instrument) bool { return in.Angle == (spot.Dimension == measure.Angle) })
			n := measuring.NewReading{Check: c.ID, Text: text, Instrument: tools[tool].ID, AsMeasured: true}
			if err := l.Take(setup, spot.Number, n); err != nil {
				t.Log(c.Kind.Name, spot.Label, err)
			}
		}
	}
}

var (
	metric   = regexp.MustCompile(`\bmm\b|\d ?(cm|m)\b`)
	hardware = regexp.MustCompile(`solid|blind|bolt|rivet|tape in|rule in|level, in|called out|^[\d/]+ in\b`)
	imperial = regexp.MustCompile(`\d/\d+ in\b|\d\.\d+ in\b|\d\.\d+\)? in\b|″`)
)

// In a shop of inches no page shows a length in millimetres, and in one of millimetres none in inches but
// of what was typed so, of hardware and of instruments that are made in them.
func TestAPageShowsNoUnitButItsReaders(t *testing.T) {
	t.Parallel()
	for path, page := range pages(t, inInches(t), "/") {
		for _, text := range texts(t, page) {
			assert.False(t, metric.MatchString(text), "%s: %s", path, text)
		}
	}
	for path, page := range pages(t, site.Demo(t), "/") {
		for _, text := range texts(t, page) {
			assert.False(t, imperial.MatchString(text) && !hardware.MatchString(text), "%s: %s", path, text)
		}
	}
}

// worded is a string of the program in which a unit stands behind a place for a number, or alone, to be set
// behind one.
var worded = regexp.MustCompile(`%[-+ .\d]*[a-z](?: mm|°| °C)(?:\b|[^/\w]|$)|^ (?:mm|°C?)(?:\b|$)`)

// A figure is a value until it is drawn: no sentence of the program sets a unit behind a number, but where
// figures are drawn, and read.
func TestNoSentenceHasAUnitOfItsOwn(t *testing.T) {
	t.Parallel()
	for _, top := range []string{"../../internal", "../../cmd"} {
		require.NoError(t, filepath.WalkDir(top, func(path string, d fs.DirEntry, err error) error {
			drawn := strings.Contains(path, "/core/say/") || strings.Contains(path, "/core/quantity/") || strings.Contains(path, "/testdata/")
			if err != nil || d.IsDir() || drawn || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			file, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
			if err != nil {
				return err
			}
			ast.Inspect(file, func(n ast.Node) bool {
				if lit, ok := n.(*ast.BasicLit); ok && lit.Kind == token.STRING {
					text, _ := strconv.Unquote(lit.Value)
					assert.False(t, worded.MatchString(text), "%s: %q", path, text)
				}
				return true
			})
			return nil
		}))
	}
}

// What was typed comes back as it was typed, on the sheet where it was read and in the log, whatever the
// unit; what is worked out from it is in the reader's, with a comma where he has one.
func TestWhatWasTypedIsShownAsItWasTyped(t *testing.T) {
	t.Parallel()
	for unit, typed := range map[string][3]string{"mm": {"1 31/32 in", "50,5", "5 cm"}, "in": {"1 31/32", "2.0", "50.5 mm"}} {
		l := loft.Empty(t)
		v := site.Of(l, "")
		v.Done("/begin/low-wing", "name", "Tansy T3", "unit", unit)
		v.Done("/instruments", "name", "shop rule", "sort", "rule", "resolution", "1/64 in", "offset", "0.2 mm", "spread", "0.15 mm")
		tools, err := l.Instruments.List(l.Ctx())
		require.NoError(t, err)
		list, err := l.Airframes.List(l.Ctx())
		require.NoError(t, err)
		home, err := l.Home(l.Ctx(), list[0].ID)
		require.NoError(t, err)
		n := measuring.NewSetup{Form: l.Form(), Assembly: home.Assemblies[0].ID, Name: "on the rails", Checks: []measuring.NewCheck{{Name: "Rails", Definition: map[string]any{"kind": "straightness",
			"points": []any{map[string]any{"name": "a", "x": "0"}, map[string]any{"name": "b", "x": "500 mm"}, map[string]any{"name": "c", "x": "1000 mm"}}}}}}
		require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
		check := l.SetupOf(n.ID).Checks[0].ID
		for i, text := range typed {
			require.NoError(t, l.Take(n.ID, i+1, measuring.NewReading{Check: check, Text: text, Instrument: tools[0].ID, AsMeasured: true}))
		}
		for i, text := range typed {
			page := v.Get(fmt.Sprintf("/setups/%s?check=%s&spot=%d&shown=yes", n.ID, check, i+1)).Body.String()
			assert.Contains(t, page, text, "%s: the sheet", unit)
			assert.Contains(t, v.Get("/log").Body.String(), text, "%s: the log", unit)
		}
		r := httptest.NewRequest(http.MethodGet, "/setups/"+n.ID+"?check="+check, nil)
		r.AddCookie(&http.Cookie{Name: "figures", Value: "comma"})
		assert.Regexp(t, map[string]string{"mm": `\d,\d mm`, "in": `\d,\d+ in`}[unit], v.Ask(r).Body.String())
	}
}

// How figures are written is chosen on the sheet of all sheets, and kept by the browser.
func TestFiguresAreWrittenAsABrowserChose(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	w := v.Post("/figures", url.Values{"comma": {"yes"}, "slopes": {"yes"}, "another": {"yes"}}, false)
	require.Equal(t, http.StatusSeeOther, w.Code)
	require.Len(t, w.Result().Cookies(), 1)
	kept := w.Result().Cookies()[0]
	assert.Equal(t, "slopes.comma", kept.Value)
	see := func(path string) string {
		r := httptest.NewRequest(http.MethodGet, path, nil)
		r.AddCookie(kept)
		return v.Ask(r).Body.String()
	}
	assert.Equal(t, 2, strings.Count(see("/sheets"), `value="yes" checked`))
	assert.Contains(t, see("/setups/"+demo.ID("tailplane on rails")), "0,5 mm/m", "0.03° is 0.52 mm in a metre")
	assert.NotContains(t, v.Get("/setups/"+demo.ID("tailplane on rails")).Body.String(), "mm/m", "another browser has it as it was")
}
