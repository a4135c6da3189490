package app

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/journal"
	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/quantity"
	"orpine/internal/worksheet"
)

// Joined returns the join of a check, of one surface or several; ok is false for any
// other kind.
func (c Check) Joined() (j pose.Joined, ok bool) {
	j, ok = c.Input.(pose.Joined)
	return j, ok
}

// NewPlace is one more named point of a join, as typed.
type NewPlace struct {
	ID      string `json:"-"`
	Check   string `json:"check"` // id
	Name    string `json:"name"`
	X       string `json:"x"`
	Y       string `json:"y"`
	Z       string `json:"z"`
	Surface string `json:"surface"` // "" for the airframe; of a single surface any word
}

// AddPlace adds a point to a join, to be read from or to. Problems are at "place".
func (a *App) AddPlace(ctx context.Context, n NewPlace) error {
	defer a.alone()()
	setup, c, err := a.checkByID(ctx, n.Check)
	if err != nil {
		return err
	}
	if _, ok := c.Joined(); !ok {
		return Problems{"place": "only a join has named places"}
	}
	if kind, err := a.recorded(ctx, n.ID); kind == journal.Changed || err != nil {
		return err
	}
	wrong := Problems{}
	wrong.text("place", &n.Name, maxName, "what is the place called?")
	definition, _ := clone(c.Definition).(map[string]any)
	list := "datum"
	if n.Surface != "" {
		list = "points"
	}
	item := map[string]any{"name": n.Name, "x": n.X, "y": n.Y, "z": n.Z}
	if surfaces, several := definition["surfaces"].([]any); several && n.Surface != "" {
		found := false
		for _, s := range surfaces {
			if surface, ok := s.(map[string]any); ok && surface["name"] == n.Surface {
				points, _ := surface["points"].([]any)
				surface["points"], found = append(points, item), true
			}
		}
		if !found {
			wrong.Add("place", "on which surface is it?")
		}
	} else {
		points, _ := definition[list].([]any)
		definition[list] = append(points, item)
	}
	found := Problems{}
	NewCheck{Name: c.Name, Definition: definition}.validate("", setup.Airframe, found)
	found.first("place", wrong)
	if err := wrong.err(); err != nil {
		return err
	}
	return a.redefine(ctx, n.ID, n, c, definition, c.Schools, fmt.Sprintf("place added: %s, %s, %s, %s", n.Name, n.X, n.Y, n.Z))
}

// JoinFrom fills in the form of a join from the dimensions of a surface and of the
// bodies of its airframe: points that a tape can be held to. They are a beginning,
// to be put right from the plans.
func JoinFrom(home Home, s Assembly) map[string]string {
	var datum []string
	add := func(name string, x, y, z float64) {
		datum = append(datum, fmt.Sprintf("%s; %s; %s; %s", name, plainLength(x), plainLength(y), plainLength(z)))
	}
	for _, body := range home.Assemblies {
		if body.Shape.Form != "body" || body.ID == s.ID || len(body.Shape.Sections) < 3 {
			continue
		}
		first, widest := body.Shape.Sections[0], body.Shape.Sections[0]
		for _, q := range body.Shape.Sections {
			if q.Half > widest.Half {
				widest = q
			}
		}
		name := lower(body.Name)
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
	return strings.TrimSuffix(quantity.Length(math.Round(v)).Text(quantity.Millimetre), " mm") + " mm"
}

// core is the instrument as the solvers take it.
func (i Instrument) core() *measure.Instrument {
	as := map[bool]string{true: "plain", false: "length"}[i.Angle]
	figure := func(text string) *float64 {
		v, err := worksheet.Typed(text, as, quantity.Millimetre)
		if err != nil {
			return nil
		}
		return &v
	}
	in := &measure.Instrument{Name: i.Name, Measures: measure.Length, Spread: figure(i.Figure("spread"))}
	if i.Angle {
		in.Measures = measure.Angle
	}
	if v := figure(i.Resolution); v != nil {
		in.Resolution = *v
	}
	if v := figure(i.Figure("offset")); v != nil {
		in.Offset = *v
	}
	return in
}

// onHand are the instruments that a builder would use for each type of reading.
func onHand(list []Instrument) map[pose.Type][]*measure.Instrument {
	types := map[string][]pose.Type{"tape": {pose.Distance}, "laser level": {pose.Height}, "water level": {pose.Height}, "level": {pose.Roll, pose.Pitch}}
	out := map[pose.Type][]*measure.Instrument{}
	for _, in := range list {
		if in.Resolution == "" {
			continue
		}
		tool := in.core()
		for _, t := range types[in.Sort] {
			out[t] = append(out[t], tool)
		}
	}
	return out
}

// PlanJoin chooses the fewest readings that would decide a join with the instruments
// on hand, and returns them as its form takes them. Problems are by "NUMBER.FIELD".
func (a *App) PlanJoin(ctx context.Context, unit quantity.Unit, number int, form TemplateCheck, filled Filled) (text string, decided bool, err error) {
	wrong := Problems{}
	definition := form.definition(number, filled, unit, wrong)
	if err := wrong.err(); err != nil {
		return "", false, err
	}
	definition["name"] = "plan"
	data, err := json.Marshal(definition)
	if err != nil {
		return "", false, err
	}
	d, errs := worksheet.ParseDefinition(data, unit)
	for _, e := range errs {
		wrong.Add(fmt.Sprintf("%d.limits", number), e.Path+": "+e.Message)
	}
	if err := wrong.err(); err != nil {
		return "", false, err
	}
	if !limited(d) {
		return "", false, Problems{fmt.Sprintf("%d.limits", number): "a plan is made for limits: give those of the plans first"}
	}
	list, err := a.Instruments(ctx)
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
