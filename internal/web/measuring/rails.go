package measuring

import (
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/core/near"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/web/ui"
	"orpine/internal/worksheet"

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
	rails := measuring.OnRails{Apart: quantity.Length(read("apart", c.PostForm("apart"), "length")), Low: c.PostForm("low"), High: c.PostForm("high"), Survey: c.PostForm("survey"), Level: c.PostForm("level"), Lies: c.PostForm("lies")}
	size := a.Shape.Chord
	if size == 0 {
		size = a.Shape.Longest()
	}
	if rails.Apart <= 0 {
		wrong.Add("apart", "must be above 0")
	} else if to, odd := near.Length(float64(rails.Apart), near.To{Value: size, What: "the part"}); odd && c.PostForm("sure") == "" {
		wrong.Add("apart", near.Asks(strings.TrimSpace(c.PostForm("apart")), say.Length(to.Value).String(), to))
	}
	if !slices.Contains([]string{check.HeldDown, check.InJig, check.LiesFree}, rails.Lies) {
		wrong.Add("lies", "is it flexible or held down, not fastened yet, or stiff and lying free? It takes the rails' shape or it does not")
	}
	for _, x := range listed(c, "supports", 1) {
		read("supports", x[0], "length")
		rails.Supports = append(rails.Supports, x[0])
	}
	stations := listed(c, "stations", 2)
	for i, cells := range stations {
		if len(cells) == 1 || cells[1] == "" {
			cells = []string{fmt.Sprintf("station %d", i+1), cells[0]}
		}
		read("stations", cells[1], "length")
		rails.Stations = append(rails.Stations, measuring.Station{Name: cells[0], Y: cells[1]})
	}
	rails.Assumed = measuring.AssumedOnRails(a.Shape, frame.Unit, stations)
	if c.PostForm("usual") != "" && strings.TrimSpace(rails.Low+rails.High) == "" {
		rails.Low, rails.Assumed = "±0.15", append(rails.Assumed, "the limits")
	}
	if rails.Low != "" && rails.High != "" {
		if low, high := read("low", rails.Low, "either"), read("high", rails.High, "either"); low > high {
			wrong.Add("high", "is below the lower limit")
		}
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

// listed are the items of a list, each with its columns, from a row of fields for each or
// as one text.
func listed(c *gin.Context, name string, columns int) (out [][]string) {
	if text := c.PostForm(name); text != "" {
		for _, item := range list(text) {
			out = append(out, append([]string{item}, make([]string, columns-1)...))
		}
		return out
	}
	return measuring.Cells(ui.TypedRows(c, name, columns), columns)
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
