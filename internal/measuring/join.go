package measuring

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
)

// JoinFrom fills in the form of a join from the dimensions of a surface and of the
// other assemblies of its airframe: points that a tape can be held to. They are a beginning,
// to be put right from the plans.
func JoinFrom(others []airframe.Assembly, s airframe.Assembly) map[string]string {
	var datum []string
	add := func(name string, x, y, z float64) {
		datum = append(datum, fmt.Sprintf("%s; %s; %s; %s", name, plainLength(x), plainLength(y), plainLength(z)))
	}
	for _, body := range others {
		if body.Shape.Form != "body" || body.ID == s.ID || len(body.Shape.Sections) < 3 {
			continue
		}
		first, widest := body.Shape.Sections[0], body.Shape.Sections[0]
		for _, q := range body.Shape.Sections {
			if q.Half > widest.Half {
				widest = q
			}
		}
		name := say.Lower(body.Name)
		add(name+" front", first.X, 0, first.Top)
		if widest.X != first.X {
			add(name+" L", widest.X, -widest.Half, (widest.Bottom+widest.Top)/2)
			add(name+" R", widest.X, widest.Half, (widest.Bottom+widest.Top)/2)
		}
	}
	f := s.Shape
	ends := []struct {
		name           string
		x, y, z, chord float64
	}{{"L", f.X, f.Inner, f.Z, f.Chord}, {"R", f.X + f.Sweep, f.Outer, f.Z + f.Rise, f.Tip}}
	if f.Inner >= 0 || f.Outer <= 0 { // one side only: root and tip
		ends[0].name, ends[1].name = "root", "tip"
	}
	var points []string
	for _, e := range ends {
		points = append(points, fmt.Sprintf("%s front; %s; %s; %s", e.name, plainLength(e.x), plainLength(e.y), plainLength(e.z)),
			fmt.Sprintf("%s rear; %s; %s; %s", e.name, plainLength(e.x+e.chord), plainLength(e.y), plainLength(e.z)))
	}
	middle := (f.Inner + f.Outer) / 2
	return map[string]string{
		"datum": strings.Join(datum, "\n"), "points": strings.Join(points, "\n"), "level": "is read too",
		"pivot": fmt.Sprintf("%s; %s; %s", plainLength(f.X), plainLength(middle), plainLength(f.Z)),
	}
}

func plainLength(v float64) string {
	return quantity.Length(math.Round(v)).Text(quantity.Millimetre)
}

// onHand are the instruments that a builder would use for each type of reading.
func onHand(list []instrument.Instrument) map[pose.Type][]*measure.Instrument {
	types := map[string][]pose.Type{"tape": {pose.Distance}, "laser level": {pose.Height}, "water level": {pose.Height}, "level": {pose.Roll, pose.Pitch}}
	out := map[pose.Type][]*measure.Instrument{}
	for _, in := range list {
		if in.Resolution == "" {
			continue
		}
		tool := in.Core()
		for _, t := range types[in.Sort] {
			out[t] = append(out[t], tool)
		}
	}
	return out
}

// PlanJoin chooses the fewest readings that would decide a join with the instruments
// on hand, and returns them as its form takes them. Problems are by "NUMBER.FIELD".
func (m *Measuring) PlanJoin(ctx context.Context, unit quantity.Unit, number int, form CheckForm, filled Filled) (text string, decided bool, err error) {
	wrong := ledger.Problems{}
	definition := form.Definition(number, filled, unit, wrong)
	if err := wrong.Err(); err != nil {
		return "", false, err
	}
	definition["name"] = "plan"
	usual(definition, nil)
	data, err := json.Marshal(definition)
	if err != nil {
		return "", false, err
	}
	d, errs := worksheet.ParseDefinition(data, unit)
	for _, e := range errs {
		wrong.Add(fmt.Sprintf("%d.limits", number), e.Path+": "+e.Message)
	}
	if err := wrong.Err(); err != nil {
		return "", false, err
	}
	if !limited(d) {
		return "", false, ledger.Problems{fmt.Sprintf("%d.limits", number): "a plan is made for limits: give those of the plans first"}
	}
	var list []instrument.Instrument
	err = m.ledger.View(ctx, func(q *query.Queries) error {
		list, err = instrument.List(ctx, q, m.ledger.When)
		return err
	})
	if err != nil {
		return "", false, err
	}
	var readings []pose.Reading
	switch join := d.Input.(type) {
	case *pose.Pose:
		readings, decided = join.Plan(d.Limits, hold.Guard, onHand(list))
	case *pose.Join:
		readings, decided = join.Plan(hold.Guard, onHand(list))
	}
	var lines []string
	for _, r := range readings {
		lines = append(lines, strings.Join([]string{r.Type, r.From, r.To}, "; "))
	}
	return strings.Join(lines, "\n"), decided, nil
}

// limited tells whether a join has any limit that a plan could be made for.
func limited(d worksheet.Definition) bool {
	if several, ok := d.Input.(*pose.Join); ok {
		return slices.ContainsFunc(several.Surfaces, func(s pose.Surface) bool { return s.Limits != nil })
	}
	return len(d.Limits) > 0
}
