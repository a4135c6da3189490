package measuring

import (
	"encoding/json"
	"fmt"
	"strings"

	"orpine/internal/core/check"
	"orpine/internal/core/form"
	"orpine/internal/core/measure"
	"orpine/internal/worksheet"
)

// Read is a check of a worksheet, taken apart into what defines it and its readings: the opposite
// of filling them in.
type Read struct {
	Name       string
	Kind       string
	Definition map[string]any
	Readings   []ReadAt
}

// ReadAt is a reading of a worksheet, as it was typed.
type ReadAt struct {
	Spot       check.Key
	Text       string
	Instrument string // name
	Turned     bool
}

// ReadTool is an instrument of a worksheet.
type ReadTool struct{ Name, Measures, Resolution, Offset, PerMetre, Spread, Zero string }

// ReadWorksheet takes a worksheet apart. wrong lists what makes it unusable.
func ReadWorksheet(data []byte) (unit string, tools []ReadTool, checks []Read, wrong []string) {
	doc, errs := worksheet.Parse(data)
	for _, e := range errs {
		wrong = append(wrong, strings.TrimPrefix(e.Path+": "+e.Message, ": "))
	}
	if len(wrong) > 0 {
		return "", nil, nil, wrong
	}
	var raw struct {
		Units       struct{ Length string }
		Instruments map[string]map[string]any
		Checks      []map[string]any
	}
	in := json.NewDecoder(strings.NewReader(string(data)))
	in.UseNumber()
	if err := in.Decode(&raw); err != nil {
		return "", nil, nil, []string{"it cannot be read"}
	}
	if unit = raw.Units.Length; unit == "" {
		unit = "mm"
	}
	for name, i := range raw.Instruments {
		tools = append(tools, ReadTool{name, text(i["measures"]), text(i["resolution"]), text(i["offset"]), text(i["per_metre"]), text(i["spread"]), text(i["zero"])})
	}
	for i, c := range doc.Checks {
		walker, ok := c.Input.(measure.Walker)
		if !ok {
			wrong = append(wrong, fmt.Sprintf("“%s” is worked out and not measured: it needs no setup", c.Name))
			continue
		}
		one := Read{Name: c.Name, Kind: c.Kind.Name}
		usual := text(raw.Checks[i]["instrument"])
		one.Definition, one.Readings = emptied(raw.Checks[i], walker.Walk(), usual)
		delete(one.Definition, "instrument")
		checks = append(checks, one)
	}
	return unit, tools, checks, wrong
}

func text(v any) string {
	if v == nil {
		return ""
	}
	return fmt.Sprint(v)
}

// emptied takes the readings out of a check.
func emptied(filled map[string]any, spots []measure.Spot, usual string) (definition map[string]any, readings []ReadAt) {
	definition = form.Clone(filled).(map[string]any)
	points := map[string]map[string]map[string]any{}
	for _, spot := range spots {
		holder, field := definition, spot.Field
		if spot.List != "" {
			if points[spot.List] == nil {
				points[spot.List] = byName(*listIn(definition, spot.List))
			}
			holder = points[spot.List][spot.Point]
		} else if outer, inner, nested := strings.Cut(spot.Field, "."); nested {
			if object, is := definition[outer].(map[string]any); is {
				holder, field = object, inner
			}
		}
		value, there := holder[field]
		if !there {
			continue
		}
		delete(holder, field)
		readings = append(readings, readAt(check.Key{List: spot.List, Point: spot.Point, Field: spot.Field}, value, usual)...)
	}
	return definition, readings
}

// readAt are the placings of a reading of a worksheet.
func readAt(spot check.Key, value any, usual string) (out []ReadAt) {
	r := ReadAt{Spot: spot, Instrument: usual}
	object, is := value.(map[string]any)
	if !is {
		r.Text = text(value)
		return []ReadAt{r}
	}
	if name := text(object["instrument"]); name != "" {
		r.Instrument = name
	}
	r.Turned = object["turned"] == true
	values, several := object["values"].([]any)
	if !several {
		values = []any{object["value"]}
	}
	for _, v := range values {
		if r.Text = text(v); r.Text != "" {
			out = append(out, r)
		}
	}
	return out
}
