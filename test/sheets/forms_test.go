package sheets_test

import (
	"net/http"
	"net/url"
	"orpine/internal/airframe"
	"orpine/internal/demo"
	"orpine/internal/measuring"
	"orpine/test/loft"
	"orpine/test/site"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// usual fills a template's form with the figures that it shows.
func usual(t *testing.T, id string) url.Values {
	t.Helper()
	i := slices.IndexFunc(measuring.UsualChecks, func(u measuring.Usual) bool { return u.ID == id })
	require.GreaterOrEqual(t, i, 0)
	template := measuring.UsualChecks[i]
	form := url.Values{"id": {loft.ID("setup of " + id)}, "name": {"on the bench"}}
	for i, c := range template.Checks {
		n := string(rune('0' + i))
		form.Set(n+".take", "yes")
		form.Set(n+".sure", "yes") // on a rudder, whatever it is for
		for field, value := range c.Usual {
			form.Set(n+"."+field, value)
		}
	}
	return form
}

func TestEveryTemplateIsShownAndBegun(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for _, template := range measuring.UsualChecks {
		path := "/assemblies/" + demo.ID("rudder") + "/usual/" + template.ID
		page := v.Get(path)
		assert.Equal(t, http.StatusOK, page.Code, template.ID)
		for _, c := range template.Checks {
			assert.Contains(t, page.Body.String(), strings.ReplaceAll(c.Why, "'", "&#39;"), "each check says why")
		}
		begun := v.Post(path, usual(t, template.ID), false)
		require.Equal(t, http.StatusSeeOther, begun.Code, template.ID)
		setup := v.Get(begun.Header().Get("Location"))
		assert.Equal(t, http.StatusOK, setup.Code, template.ID)
		assert.Contains(t, setup.Body.String(), "Not yet")
		assert.NotContains(t, setup.Body.String(), "NaN")
	}
	assert.Equal(t, http.StatusNotFound, v.Get("/assemblies/"+demo.ID("rudder")+"/usual/kite").Code)
	assert.Equal(t, http.StatusNotFound, v.Post("/assemblies/"+demo.ID("rudder")+"/usual/kite", url.Values{}, false).Code)
	assert.Equal(t, http.StatusNotFound, v.Post("/assemblies/none/usual/fin", url.Values{}, false).Code)
}

func TestATemplatesFormKeepsWhatWasTypedAndPointsAtTheField(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	tests := []struct {
		name, template string
		change         map[string]string
		says           string
	}{
		{"a length", "fin", map[string]string{"0.height": "tall"}, "tall"},
		{"an empty one", "fin", map[string]string{"0.height": ""}, "is wanted, from the plans"},
		{"limits the wrong way round", "fin", map[string]string{"0.low.lean": "1", "0.high.lean": "-1"}, "low above high"},
		{"a line of a list", "tailplane", map[string]string{"3.from": "firewall; 0; -1320; 7"}, "line 1"},
		{"points at one place", "tailplane", map[string]string{"3.from": "a; 0\nb; 0"}, "cannot tell skew from side-shift"},
		{"what the kind refuses", "mount", map[string]string{"0.pads": "a; 0; 0\nb; 1; 1"}, "fewer than three pads"},
		{"a name twice", "wing-panel", map[string]string{"0.stations": "rib 1; 450\nrib 1; 900"}, "is used twice"},
		{"no name", "fin", map[string]string{"name": ""}, "where is it"},
	}
	for _, test := range tests {
		t.Run(test.name, func(t *testing.T) {
			form := usual(t, test.template)
			for field, value := range test.change {
				form.Set(field, value)
			}
			w := v.Post("/assemblies/"+demo.ID("rudder")+"/usual/"+test.template, form, false)
			assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
			assert.Contains(t, w.Body.String(), test.says)
			for _, value := range test.change {
				for _, cell := range strings.FieldsFunc(value, func(r rune) bool { return r == ';' || r == '\n' }) {
					assert.Contains(t, w.Body.String(), strings.TrimSpace(cell))
				}
			}
		})
	}
	form := usual(t, "fin")
	form.Del("0.take")
	form.Del("1.take")
	w := v.Post("/assemblies/"+demo.ID("rudder")+"/usual/fin", form, false)
	assert.Contains(t, w.Body.String(), "a setup has one check or more")
}

func TestAnAssemblysFormReadsLengthsAndSections(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	path := "/airframes/" + demo.ID("samphire") + "/assemblies"
	form := url.Values{"id": {loft.ID("nose box")}, "name": {"Nose box"}, "form": {"body"}, "body.0.x": {"0"}, "body.0.half": {"100"}, "body.0.bottom": {"0"}, "body.0.top": {"8 in"}, "body.2.x": {"20 cm"}, "body.2.half": {"90"}, "body.2.bottom": {"10"}, "body.2.top": {"150"}}
	require.Equal(t, http.StatusSeeOther, v.Post(path, form, false).Code)
	_, box, err := v.Airframes.Assembly(t.Context(), loft.ID("nose box"))
	require.NoError(t, err)
	assert.Equal(t, []airframe.Section{{X: 0, Half: 100, Bottom: 0, Top: 203.2}, {X: 200, Half: 90, Bottom: 10, Top: 150}}, box.Shape.Sections)
	for field, value := range map[string]string{"body.1.x": "", "name": "Fin", "form": "kite"} {
		form := url.Values{"id": {loft.ID("tray")}, "name": {"Tray"}, "form": {"body"}, "body.0.x": {"0"}, "body.0.half": {"1"}, "body.0.bottom": {"0"}, "body.0.top": {"1"}, "body.1.x": {"9"}}
		form.Set(field, value)
		assert.Equal(t, http.StatusUnprocessableEntity, v.Post(path, form, false).Code, field)
	}
}

func TestASlipIsAskedAboutInTheFormAndTakenWhenItIsRepeated(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	fields := []string{"check", demo.Check("tailplane on rails", 0), "number", "1", "text", "61", "instrument", demo.ID("laser"), "condition", "clamped"}
	w := v.Post(rails+"/readings", v.Form(rails+"/readings", fields...), true)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, site.Said(w.Body.String()), "is 10 mm from its twin (51)")
	assert.True(t, strings.Contains(w.Body.String(), `name="questioned" value="61"`))
	w = v.Post(rails+"/readings", v.Form(rails+"/readings", append(fields, "questioned", "61")...), true)
	assert.Equal(t, http.StatusOK, w.Code)
	assert.Len(t, v.SetupOf(loft.OnRails).Checks[0].Spots[0].Counting(), 3)
	v.Sees("/log", "61 questioned")
}

func TestEveryDemoSetupSaysItsVerdictAndOneNextAction(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for path, says := range map[string][]string{
		"/setups/" + demo.ID("tailplane on rails"):    {"<b>Go</b>", "0.34° as read; 0.31° of it is the rails", "Go to the hold"},
		"/setups/" + demo.ID("fin upright"):           {"<b>Unsure</b>", "lean, top to the right", "Place it 2 times at each point", "a little beside the last each time"},
		"/setups/" + demo.ID("mount pads"):            {"<b>Stop</b>", "thrust line down, off the design", "Carry out the 3 moves", "Washers under UR, 0.2 mm"},
		"/setups/" + demo.ID("spar left"):             {"<b>Go</b>", "bow, a hump is plus", "Record it when it is done"},
		"/setups/" + demo.ID("foreplane on fuselage"): {"<b>Not yet</b>", "Take it back, and read again", "only hands off counts"},
	} {
		body := v.Get(path).Body.String()
		for _, text := range says {
			assert.Contains(t, body, text, path)
		}
		assert.Equal(t, 1, strings.Count(body, `class="do"`), "one next action")
	}
}
