package sheets_test

import (
	"html"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/measuring"
	"orpine/test/loft"
	"orpine/test/site"
)

// Figures that only the plans know, by kind.
var planned = map[string][]string{"incidence": {"0.design", "1.0 up"}, "length": {"0.design", "100"}, "gap": {"0.min", "90", "0.max", "110"}}

var (
	stepsOf = regexp.MustCompile(`data-at="|All is read`)
	chosen  = regexp.MustCompile(`<option value="([^"]+)" selected>[^<]*</option></select></label>`)
)

// Every kind that is measured at once begins on its drawing with its first reading, in millimetres and inches, and is
// read to its end from there.
func TestEveryKindIsBegunOnItsDrawingAndReadToItsEnd(t *testing.T) {
	t.Parallel()
	for _, unit := range []string{"mm", "in"} {
		v := site.Of(loft.Empty(t), "")
		for _, n := range measuring.Nows() {
			path := "/measure/" + n.Kind
			page := v.Get(path + "?unit=" + unit)
			require.Equal(t, http.StatusOK, page.Code, path)
			form := site.FormOn(t, page.Body.String(), path)
			form.Set("id", uuid.NewString())
			form.Set("unit", unit)
			form.Set("text", "100")
			form.Del("instrument")
			assert.Contains(t, v.Post(path, form, true).Body.String(), "what is it read with?", "%s: with nothing", n.Kind)
			form.Set("instrument", "quick:tape-"+unit)
			if measuring.ReadsAngles(n.Kind) {
				form.Set("instrument", "quick:level-0.05")
				form.Set("text", "0.1")
			}
			for i, list := 0, planned[n.Kind]; i < len(list); i += 2 {
				assert.Contains(t, v.Post(path, form, true).Body.String(), "is wanted, from the plans", n.Kind)
				form.Set(list[i], list[i+1])
			}
			answer := v.Post(path, form, true)
			if strings.Contains(answer.Body.String(), `name="as_measured"`) {
				form.Set("as_measured", "true")
				answer = v.Post(path, form, true)
			}
			require.Equal(t, http.StatusOK, answer.Code, "%s: %s", n.Kind, site.Said(answer.Body.String()))
			at := answer.Header().Get("HX-Push-Url")
			require.Contains(t, at, "/setups/", n.Kind)
			readToItsEnd(t, v, at, form.Get("text"))
			saidByOnePress(t, v, at)
		}
		v.Loft.Verify()
	}
}

func readToItsEnd(t *testing.T, v *site.Site, at, text string) {
	t.Helper()
	for range 60 {
		page := v.Get(at).Body.String()
		require.Regexp(t, stepsOf, page, at)
		if strings.Contains(page, "All is read") {
			assert.Contains(t, page, `class="answer"`)
			return
		}
		form := site.FormOn(t, page, at+"/readings")
		form.Set("text", text)
		form.Set("as_measured", "true")
		if tool := chosen.FindStringSubmatch(page); tool != nil {
			form.Set("instrument", tool[1])
		}
		answer := v.Post(at+"/readings", form, true)
		require.Equal(t, http.StatusOK, answer.Code, "%s: %s", at, site.Said(answer.Body.String()))
	}
	t.Fatalf("%s is not read to its end: %s", at, site.Said(v.Get(at).Body.String()))
}

// saidByOnePress says of all that is usual of a setup's check that it is as the plans have it, where anything is.
func saidByOnePress(t *testing.T, v *site.Site, at string) {
	t.Helper()
	check := regexp.MustCompile(at + `/checks/[0-9a-f-]{36}`).FindString(v.Get(at).Body.String())
	require.NotEmpty(t, check, at)
	if page := v.Get(check).Body.String(); strings.Contains(page, "<b>Assumed:") {
		v.Done(check + "/confirm")
	}
	assert.NotContains(t, v.Get(check).Body.String(), "<b>Assumed:", at)
	assert.NotContains(t, v.Get(at).Body.String(), "usual, not your plans", at)
}

// What is said before the first reading stays while anything else is said, and the next evening what was chosen from
// what any shop has is the shop's own instrument.
func TestWhatIsSaidBeforeTheFirstReadingStays(t *testing.T) {
	t.Parallel()
	v := site.Of(loft.Empty(t), "")
	page := v.Get("/measure/twist?unit=in&0.lies=flexible%2C+or+held+down&condition=clamped&turned=true&instrument=quick:spirit&0.stations.0.0=root&0.stations.1.0=a&0.stations.2.0=b&0.stations.3.0=c&0.stations.4.0=tip&0.stations.4.1=118&0.low.twist=%C2%B10.2").Body.String()
	assert.Regexp(t, `value="flexible, or held down" checked`, page)
	assert.Regexp(t, `<option selected>clamped`, page)
	assert.Regexp(t, `id="turned"[^>]* checked`, page)
	assert.Regexp(t, `hx-get="/measure/twist[^"]*turning=yes[^"]*" [^>]*hx-include="#reading"`, page)
	assert.Contains(t, page, `value="118"`)
	assert.Contains(t, page, `value="±0.2"`)
	assert.Contains(t, page, `<details class="sizes" open`)
	form := site.FormOn(t, page, "/measure/twist")
	for name, value := range map[string]string{"id": uuid.NewString(), "unit": "in", "instrument": "quick:spirit", "text": "0.1"} {
		form.Set(name, value)
	}
	require.Equal(t, http.StatusOK, v.Post("/measure/twist", form, true).Code)
	r := httptest.NewRequest(http.MethodGet, "/measure/twist", nil)
	r.AddCookie(&http.Cookie{Name: "angle-tool", Value: "quick%3Aspirit"})
	assert.Regexp(t, `value="[0-9a-f-]{36}" selected>spirit level`, v.Ask(r).Body.String())
}

// Every hit leads to a page that is there.
func TestWhateverIsFoundIsThere(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	seen := map[string]bool{}
	for _, letter := range append(strings.Split("abcdefghiklmnoprstuvw", ""), "closing") {
		for _, m := range regexp.MustCompile(`<li><a href="([^"]+)"><span class="sort">([^<]+)<`).FindAllStringSubmatch(v.Get("/find?word="+letter).Body.String(), -1) {
			if sort := m[2]; !seen[sort] && !strings.ContainsAny(sort[:1], "0123456789") || sort == "to do" {
				seen[sort] = true
				assert.Equal(t, http.StatusOK, v.Get(strings.Split(html.UnescapeString(m[1]), "#")[0]).Code, "%s: %s", sort, m[1])
			}
		}
	}
	for _, sort := range []string{"assembly", "setup", "hold", "row", "bay", "part", "instrument", "step", "order", "question", "slip", "guide", "to do"} {
		assert.True(t, seen[sort], sort)
	}
}
