package sheets_test

import (
	"net/http"
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
