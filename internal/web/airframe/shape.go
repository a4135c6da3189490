package airframe

import (
	"fmt"
	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/ledger"
	"orpine/internal/worksheet"
	"strings"

	"github.com/gin-gonic/gin"
)

// shapeFields are the lengths of an assembly's form.
var shapeFields = []string{"x", "z", "inner", "outer", "chord", "tip", "sweep", "rise"}

// readShape reads the dimensions of an assembly's form.
func readShape(c *gin.Context, unit quantity.Unit, wrong ledger.Problems) airframe.Shape {
	shape := airframe.Shape{Form: c.PostForm("form")}
	into := map[string]*float64{"x": &shape.X, "z": &shape.Z, "inner": &shape.Inner, "outer": &shape.Outer, "chord": &shape.Chord, "tip": &shape.Tip, "sweep": &shape.Sweep, "rise": &shape.Rise}
	for _, field := range shapeFields {
		text := c.PostForm(field)
		if strings.TrimSpace(text) == "" {
			continue
		}
		v, err := worksheet.Typed(text, "length", unit)
		if err != nil {
			wrong.Add(field, err.Error())
		}
		*into[field] = v
	}
	if shape.Form == "body" {
		shape.Sections = readSections(c.PostForm("sections"), unit, wrong)
	}
	if shape.Tip == 0 {
		shape.Tip = shape.Chord
	}
	return shape
}

// readSections reads lines of "station; half width; bottom; top".
func readSections(text string, unit quantity.Unit, wrong ledger.Problems) []airframe.Section {
	var out []airframe.Section
	for i, line := range strings.Split(strings.TrimSpace(text), "\n") {
		fields := strings.Split(line, ";")
		if len(fields) != 4 {
			wrong.Add("sections", fmt.Sprintf("line %d: four lengths are wanted: station; half width; bottom; top", i+1))
			return nil
		}
		var v [4]float64
		for j, f := range fields {
			var err error
			if v[j], err = worksheet.Typed(strings.TrimSpace(f), "length", unit); err != nil {
				wrong.Add("sections", fmt.Sprintf("line %d: %s", i+1, err))
				return nil
			}
		}
		out = append(out, airframe.Section{X: v[0], Half: v[1], Bottom: v[2], Top: v[3]})
	}
	return out
}
