package sheets_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/demo"
	"orpine/test/loft"
	"orpine/test/site"
)

// What is typed in from a card is many readings: sent again they are once, changed they are
// refused, and so is what a second tab still shows.
func TestACardSentAgainChangedOrFromASecondTab(t *testing.T) {
	v := site.Demo(t)
	page := "/setups/" + demo.ID("tailplane on rails") + "/card"
	form := v.Form(page, "condition", "clamped", "instrument.1", demo.ID("level 2"))
	form.Set("spot.101", "0.06 up")
	old := v.Form(page, "condition", "clamped", "instrument.1", demo.ID("level 2")) // a second tab, loaded before
	old.Set("spot.101", "0.07 up")
	before := v.Verify()
	first := v.Post(page, form, false)
	assert.Equal(t, http.StatusSeeOther, first.Code, site.Said(first.Body.String()))
	assert.Equal(t, before+1, v.Verify())
	assert.Equal(t, http.StatusSeeOther, v.Post(page, form, false).Code, "the answer was lost")
	assert.Equal(t, before+1, v.Verify())
	form.Set("spot.101", "0.09 up")
	assert.Equal(t, http.StatusUnprocessableEntity, v.Post(page, form, false).Code, "sent again, changed")
	assert.Equal(t, http.StatusUnprocessableEntity, v.Post(page, old, false).Code, "from a second tab")
	assert.Equal(t, before+1, v.Verify())
}

// A table whose answer was lost is taken once; changed under the same form, not at all.
func TestATableSentAgainOrChanged(t *testing.T) {
	v := site.Demo(t)
	form := map[string][]string{"id": {loft.ID("a table")}, "sort": {"parts"}, "airframe": {demo.ID("samphire")}, "do": {"take"}, "data": {"number,name,lot\nT-1,rib,7\n"}}
	before := v.Verify()
	assert.Equal(t, http.StatusOK, v.Post("/files/table", form, false).Code)
	assert.Equal(t, before+1, v.Verify())
	assert.Equal(t, http.StatusOK, v.Post("/files/table", form, false).Code)
	assert.Equal(t, before+1, v.Verify())
	form["data"] = []string{"number,name,lot\nT-1,rib,8\n"}
	assert.Equal(t, http.StatusUnprocessableEntity, v.Post("/files/table", form, false).Code)
	assert.Equal(t, before+1, v.Verify())
}
