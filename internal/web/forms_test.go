package web

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/app"
	"orpine/internal/core/measure"
)

func bound(v float64) *float64 { return &v }

// usual fills a template's form with the figures that it shows.
func usual(t *testing.T, id string) url.Values {
	t.Helper()
	template, ok := app.TemplateOf(id)
	require.True(t, ok)
	form := url.Values{"id": {"setup-of-" + id}, "name": {"on the bench"}}
	for i, c := range template.Checks {
		n := string(rune('0' + i))
		form.Set(n+".take", "yes")
		for field, value := range c.Usual {
			form.Set(n+"."+field, value)
		}
	}
	return form
}

func TestEveryTemplateIsShownAndBegun(t *testing.T) {
	h, _ := shop(t)
	for _, template := range app.Templates {
		path := "/assemblies/rudder-demo/templates/" + template.ID
		page := get(h, path)
		assert.Equal(t, http.StatusOK, page.Code, template.ID)
		for _, c := range template.Checks {
			assert.Contains(t, page.Body.String(), strings.ReplaceAll(c.Why, "'", "&#39;"), "each check says why")
		}
		begun := post(h, path, usual(t, template.ID), false)
		require.Equal(t, http.StatusSeeOther, begun.Code, template.ID)
		setup := get(h, begun.Header().Get("Location"))
		assert.Equal(t, http.StatusOK, setup.Code, template.ID)
		assert.Contains(t, setup.Body.String(), "Not yet")
		assert.NotContains(t, setup.Body.String(), "NaN")
	}
	assert.Equal(t, http.StatusNotFound, get(h, "/assemblies/rudder-demo/templates/kite").Code)
	assert.Equal(t, http.StatusNotFound, post(h, "/assemblies/rudder-demo/templates/kite", url.Values{}, false).Code)
	assert.Equal(t, http.StatusNotFound, post(h, "/assemblies/none/templates/fin", url.Values{}, false).Code)
}

func TestATemplatesFormKeepsWhatWasTypedAndPointsAtTheField(t *testing.T) {
	h, _ := shop(t)
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
			w := post(h, "/assemblies/rudder-demo/templates/"+test.template, form, false)
			assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
			assert.Contains(t, w.Body.String(), test.says)
			for _, value := range test.change {
				assert.Contains(t, w.Body.String(), value)
			}
		})
	}
	form := usual(t, "fin")
	form.Del("0.take")
	form.Del("1.take")
	w := post(h, "/assemblies/rudder-demo/templates/fin", form, false)
	assert.Contains(t, w.Body.String(), "a setup has one check or more")
}

func TestAnAssemblysFormReadsLengthsAndSections(t *testing.T) {
	h, a := shop(t)
	path := "/airframes/samphire-s2-demo/assemblies"
	form := url.Values{"id": {"new-assembly-1"}, "name": {"Nose box"}, "form": {"body"}, "sections": {"0; 100; 0; 8 in\n20 cm; 90; 10; 150"}}
	require.Equal(t, http.StatusSeeOther, post(h, path, form, false).Code)
	_, box, err := a.Assembly(t.Context(), "new-assembly-1")
	require.NoError(t, err)
	assert.Equal(t, []app.Section{{X: 0, Half: 100, Bottom: 0, Top: 203.2}, {X: 200, Half: 90, Bottom: 10, Top: 150}}, box.Shape.Sections)
	for field, value := range map[string]string{"sections": "0; 100", "name": "Fin", "form": "kite"} {
		form := url.Values{"id": {"new-assembly-2"}, "name": {"Tray"}, "form": {"body"}, "sections": {"0; 1; 0; 1\n9; 1; 0; 1"}}
		form.Set(field, value)
		assert.Equal(t, http.StatusUnprocessableEntity, post(h, path, form, false).Code, field)
	}
}

func TestASlipIsAskedAboutInTheFormAndTakenWhenItIsRepeated(t *testing.T) {
	h, a := shop(t)
	form := url.Values{"id": {"slip-0001"}, "check": {"tailplane-on-rails-demo-check-0"}, "number": {"1"}, "text": {"61"}, "instrument": {"laser-demo"}, "condition": {"clamped"}}
	w := post(h, rails+"/readings", form, true)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "is 10 mm from its twin (51)")
	assert.Contains(t, w.Body.String(), `name="questioned" value="61"`)
	form.Set("id", "slip-0002")
	form.Set("questioned", "61")
	assert.Equal(t, http.StatusOK, post(h, rails+"/readings", form, true).Code)
	s, err := a.Setup(t.Context(), "tailplane-on-rails-demo")
	require.NoError(t, err)
	assert.Len(t, s.Checks[0].Spots[0].Counting(), 3)
	assert.Contains(t, get(h, "/log").Body.String(), "61 questioned")
}

func TestEveryDemoSetupSaysItsVerdictAndOneNextAction(t *testing.T) {
	h, _ := shop(t)
	for path, says := range map[string][]string{
		"/setups/tailplane-on-rails-demo": {"<b>Go</b>", "0.34° as read; 0.31° of it is the rails", "Go to the hold"},
		"/setups/fin-upright-demo":        {"<b>Unsure</b>", "lean, top to the right", "Place it 2 times at each point"},
		"/setups/mount-pads-demo":         {"<b>Stop</b>", "thrust line down, off the design", "Carry out the 3 moves", "Washers under UR, 0.2 mm"},
		"/setups/spar-left-demo":          {"<b>Go</b>", "bow, a hump is plus", "Record it when it is done"},
		"/setups/foreplane-demo":          {"<b>Not yet</b>", "Take it back, and read again", "only hands off counts"},
	} {
		body := get(h, path).Body.String()
		for _, text := range says {
			assert.Contains(t, body, text, path)
		}
		assert.Equal(t, 1, strings.Count(body, `class="do"`), "one next action")
	}
}

func TestQuantitiesAndRulesAreSaidInWords(t *testing.T) {
	assert.Equal(t, "twist of the rails, far end over near end", headline("bench", measure.Quantity{Name: "twist"}))
	assert.Equal(t, "twist of the part, tip over root", headline("twist", measure.Quantity{Name: "twist"}))
	assert.Equal(t, "gap at middle", headline("gap", measure.Quantity{Name: "gap", At: "middle"}))
	assert.Equal(t, "slope along", headline("bench", measure.Quantity{Name: "slope_along"}))
	q := measure.Quantity{Value: 0.028, U: 0.0273, Limit: &measure.Limit{Low: bound(-0.1), High: bound(0.1)}}
	assert.Equal(t, "U = 2 × u = 2 × 0.0273°. Go if −0.100° + 0.055° = −0.045° ≤ value and value ≤ +0.045° = +0.100° − 0.055°; the value is +0.028°.", rule(q, 2, "°"))
	assert.Equal(t, "lower the tip rear support 2.0 mm", SayMove(measure.Move{At: "tip rear support", Direction: "down", Amount: 2}))
	assert.Equal(t, "move the right tip aft 3.3 mm", SayMove(measure.Move{At: "right tip", Direction: "aft", Amount: 3.32}))
	assert.Equal(t, "washers under UL, 0.9 mm (0.5 + 0.4)", SayMove(measure.Move{At: "UL", Direction: "forward", Amount: 0.9, Stacked: true, Stack: []float64{0.5, 0.4}}))
}

func TestListsOfQuantitiesAreReadByLinesAndSemicolons(t *testing.T) {
	assert.Equal(t, []string{"160", "1600", "3,5 m"}, list("160; 1600\n 3,5 m ;"))
	assert.Empty(t, list(" ; "))
	for path, field := range map[string]string{"checks[0].points[1].x": "supports", "checks[1].stations": "stations", "checks[1].tip_spacing": "apart", "checks[1].limits.twist": "high", "name": "name"} {
		assert.Equal(t, field, fieldOf(path))
	}
}
