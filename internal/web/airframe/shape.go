package airframe

import (
	"fmt"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/core/shape"
	"orpine/internal/ledger"
	"orpine/internal/web/ui"
	"orpine/internal/worksheet"
)

// sectionColumns are what is typed of a section.
var sectionColumns = []struct{ key, label string }{{"x", "station"}, {"half", "half width"}, {"bottom", "bottom"}, {"top", "top"}}

// mostSections is how many sections of a body the form has room for.
const mostSections = 8

// sectionsView is the sections of a body, a row of fields for each.
type sectionsView struct {
	Rows    [][]ui.Named
	Problem string
}

// sectionsOf lays out the fields of the sections of a form.
func sectionsOf(form string, least int, typed map[string]string, problem string) sectionsView {
	rows := mostSections
	if least == 1 {
		rows = 1
	}
	v := sectionsView{Problem: problem}
	for i := range rows {
		var row []ui.Named
		for _, c := range sectionColumns {
			name := fmt.Sprintf("%s.%d.%s", form, i, c.key)
			row = append(row, ui.Named{Name: name, Value: typed[name], Label: fmt.Sprintf("section %d, %s", i+1, c.label)})
		}
		v.Rows = append(v.Rows, row)
	}
	return v
}

// readShape reads the dimensions of an assembly's form. Problems are at "FORM.FIELD" and
// at "sections".
func readShape(c *gin.Context, unit quantity.Unit, wrong ledger.Problems) airframe.Shape {
	s := airframe.Shape{Form: c.PostForm("form")}
	form, _ := shape.FormOf(s.Form)
	read := func(name, field string) float64 {
		text := strings.TrimSpace(c.PostForm(name))
		if text == "" {
			return 0
		}
		v, err := worksheet.Typed(text, "length", unit)
		if err != nil {
			wrong.Add(field, err.Error())
		}
		return v
	}
	for _, f := range form.Fields {
		*s.Field(f.Key) = read(s.Form+"."+f.Key, s.Form+"."+f.Key)
	}
	if form.Sections > 0 {
		for i := range mostSections {
			name := func(column string) string { return fmt.Sprintf("%s.%d.%s", s.Form, i, column) }
			filled := false
			for _, column := range sectionColumns {
				filled = filled || strings.TrimSpace(c.PostForm(name(column.key))) != ""
			}
			if filled {
				s.Sections = append(s.Sections, airframe.Section{X: read(name("x"), "sections"), Half: read(name("half"), "sections"), Bottom: read(name("bottom"), "sections"), Top: read(name("top"), "sections")})
			}
		}
	}
	if s.Tip == 0 && s.Form != "lever" {
		s.Tip = s.Chord
	}
	return s
}
