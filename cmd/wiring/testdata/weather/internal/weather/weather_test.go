package weather_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/test/loft"
	"orpine/test/site"
)

func TestANoteIsKeptOnceShownLoggedAndReplayed(t *testing.T) {
	v := site.Demo(t)
	form := url.Values{"id": {loft.ID("note")}, "says": {"fog over the marsh"}}
	for range 2 {
		assert.Equal(t, http.StatusSeeOther, v.Post("/weather", form, false).Code)
	}
	form.Set("says", "rain")
	assert.Equal(t, http.StatusUnprocessableEntity, v.Post("/weather", form, false).Code)
	v.Refused("what is it like?", "/weather", "says", " ")
	v.Sees("/weather", "<li>fog over the marsh</li>")
	v.Sees("/log", "Weather: fog over the marsh")
	v.Verify()
}
