package measuring

import (
	"fmt"
	"orpine/internal/core/quantity"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/web/ui"
	"orpine/internal/worksheet"
	"strings"

	"github.com/gin-gonic/gin"
)

// beginOnRails begins a setup of a surface on rails.
func (s sheets) beginOnRails(c *gin.Context) {
	frame, a, err := s.Airframes.Assembly(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	wrong := ledger.Problems{}
	read := func(field, text, as string) float64 {
		v, err := worksheet.Typed(text, as, frame.Unit)
		if err != nil {
			wrong.Add(field, err.Error())
		}
		return v
	}
	rails := measuring.OnRails{Apart: quantity.Length(read("apart", c.PostForm("apart"), "length")), Low: c.PostForm("low"), High: c.PostForm("high"), Survey: c.PostForm("survey"), Level: c.PostForm("level")}
	for _, x := range list(c.PostForm("supports")) {
		read("supports", x, "length")
		rails.Supports = append(rails.Supports, x)
	}
	for i, y := range list(c.PostForm("stations")) {
		read("stations", y, "length")
		rails.Stations = append(rails.Stations, measuring.Station{Name: fmt.Sprintf("station %d", i+1), Y: y})
	}
	if low, high := read("low", rails.Low, "either"), read("high", rails.High, "either"); low > high {
		wrong.Add("high", "is below the lower limit")
	}
	h := measuring.EndHoles(a.Name)
	h.Name, h.Why = c.PostForm("hold"), c.PostForm("why")
	n := measuring.NewSetup{Form: ledger.Form{ID: c.PostForm("id")}, Assembly: a.ID, Name: c.PostForm("name"), Checks: rails.Checks(), Hold: h}
	if err = wrong.Err(); err == nil {
		err = s.Measuring.Begin(c.Request.Context(), n)
	}
	s.Done(c, err, "/setups/"+n.ID, func(r ui.Refused) {
		wrong := ledger.Problems{}
		for field, message := range r.Wrong {
			wrong.Add(railsField(field), message)
		}
		r.Wrong, r.Of = wrong, "rails"
		s.ShowAt(c, "assemblies", a.ID, r)
	})
}

// list reads a field of several quantities, one to a line or parted by semicolons
// (commas may be decimal).
func list(text string) []string {
	var out []string
	for _, part := range strings.FieldsFunc(text, func(r rune) bool { return r == ';' || r == '\n' }) {
		if part = strings.TrimSpace(part); part != "" {
			out = append(out, part)
		}
	}
	return out
}

// railsField finds the field of the setup form that a problem in a check is about.
func railsField(path string) string {
	for _, known := range []struct{ in, field string }{{"points", "supports"}, {"stations", "stations"}, {"tip_spacing", "apart"}, {"limits", "high"}} {
		if strings.Contains(path, known.in) {
			return known.field
		}
	}
	return path
}
