package sheets_test

import (
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/demo"
	"orpine/test/loft"
	"orpine/test/site"
)

var address = regexp.MustCompile(`(?:href|src|action|hx-get|hx-post)="(/[^"]*)"`)

// A second workshop is mounted under a prefix, and nothing in it leads out.
func TestAWorkshopUnderAPrefixKeepsToIt(t *testing.T) {
	t.Parallel()
	v := site.Of(loft.Demo(t), "/loft")
	for _, path := range []string{"/", "/setups", "/joins", "/holds", "/rows", "/stores", "/log", "/slips", "/instruments", rails, rails + "?spot=3", endHoles, boom, boom + "/rows", boom + "/rows/new", boom + "/record", boom + "/holds/new", row3, row3 + "/plan", bay,
		"/setups/" + demo.ID("tailplane join"), "/setups/" + demo.ID("fin upright") + "/checks/new", "/assemblies/" + demo.ID("fin") + "/usual/fin", "/nowhere"} {
		w := v.Get(path)
		assert.NotEqual(t, http.StatusInternalServerError, w.Code, path)
		found := address.FindAllStringSubmatch(w.Body.String(), -1)
		assert.NotEmpty(t, found, path)
		for _, m := range found {
			assert.True(t, strings.HasPrefix(m[1], "/loft/"), "%s on %s", m[1], path)
		}
	}
	w := v.Post("/instruments", v.Form("/instruments", "name", "level 3", "sort", "level", "resolution", "0.1"), false)
	assert.Equal(t, "/loft/instruments", w.Header().Get("Location"))
	w = v.Post("/sheet", map[string][]string{"sheet": {"dark"}, "back": {"/log"}}, false)
	assert.Equal(t, "/loft/log", w.Header().Get("Location"))
	assert.Contains(t, w.Header().Get("Set-Cookie"), "Path=/loft/")
	css := regexp.MustCompile(`href="(/loft/assets/app.css[^"]*)"`).FindStringSubmatch(v.Get("/").Body.String())
	assert.Equal(t, http.StatusOK, v.Get(strings.TrimPrefix(css[1], "/loft")).Code)
}
