package ui

import (
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
)

func TestTheSixTabsHaveSixLettersOfTheirOwn(t *testing.T) {
	t.Parallel()
	letters, of := map[string]bool{}, map[string]bool{}
	for _, tab := range Tabs[:six] {
		assert.Equal(t, tab.Name[:1], tab.Letter())
		assert.False(t, letters[tab.Key], tab.Name)
		letters[tab.Key] = true
		assert.Equal(t, tab.Path, tab.Leaves[0].Path)
		for _, l := range tab.Leaves {
			assert.False(t, of[l.Of], "%s stands under one tab", l.Name)
			of[l.Of] = true
		}
	}
	assert.Nil(t, Page{Tab: "log"}.Leaf())
	assert.Equal(t, "Measure", Page{Tab: "join"}.Leaf().Name)
}

// A tab opens what was last worked on there, but the one that is open its first sheet; what a cookie says that is no
// sheet is not followed.
func TestATabOpensWhatWasLastWorkedOn(t *testing.T) {
	t.Parallel()
	u := &UI{}
	ask := func(path, tab string, cookies ...*http.Cookie) (Page, []*http.Cookie) {
		w := httptest.NewRecorder()
		c, _ := gin.CreateTestContext(w)
		c.Request = httptest.NewRequest(http.MethodGet, path, nil)
		for _, cookie := range cookies {
			c.Request.AddCookie(cookie)
		}
		return Page{Tab: tab, Last: u.lastWorked(c, tab, path)}, w.Result().Cookies()
	}
	const setup = "/setups/01234567-89ab-cdef-0123-456789abcdef"
	page, kept := ask(setup, "setup")
	assert.Equal(t, "/measure", page.Edge()[1].Path, "the open one leads to its first sheet")
	assert.True(t, page.Edge()[1].Now)
	page, _ = ask("/log", "log", kept...)
	assert.Equal(t, setup, page.Edge()[1].Path)
	assert.Equal(t, "/holds", page.Edge()[2].Path)
	u.Base = "/practice"
	page, _ = ask("/log", "log", kept...)
	assert.Equal(t, "/measure", page.Edge()[1].Path, "what was worked on in the shop is not there in the trainer's")
	u.Base = ""
	page, _ = ask("/log", "log", &http.Cookie{Name: "last-m", Value: "//elsewhere.example/x"})
	assert.Equal(t, "/measure", page.Edge()[1].Path)
}
