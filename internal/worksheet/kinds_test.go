package worksheet

import (
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/core/school"
)

// example is the first check of the documentation's example of a kind, with its
// instruments.
func example(t *testing.T, kind string) (doc map[string]any, check map[string]any) {
	t.Helper()
	data, err := os.ReadFile(filepath.Join("../../docs/examples", kind+".json"))
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(data, &doc))
	return doc, doc["checks"].([]any)[0].(map[string]any)
}

// parse writes the document out and reads it.
func parse(t *testing.T, doc map[string]any) (*Document, []Error) {
	t.Helper()
	data, err := json.Marshal(doc)
	require.NoError(t, err)
	return Parse(data)
}

// Each kind's own refusals, one change to its example at a time.
func TestEachKindRefusesWhatItCannotUse(t *testing.T) {
	t.Parallel()
	type change struct {
		field string
		value string // JSON; "" takes the field out
		path  string
	}
	tests := map[string][]change{
		"zero-test":        {{"first", ``, "first"}, {"turned", `"0.1 X"`, "turned"}, {"first", `{"value":1,"instrument":"none"}`, "first.instrument"}},
		"bench":            {{"points", `[]`, "points"}, {"points", `{}`, "points"}, {"stock", `[-1]`, "stock[0]"}, {"pieces", `0`, "pieces"}, {"pieces", `7`, "pieces"}, {"pieces", `1.5`, "pieces"}, {"points", `[{"name":"a","x":0,"y":0,"height":1},{"name":"b","x":1,"y":1,"height":1},{"name":"c","x":2,"y":2,"height":1}]`, "points"}},
		"twist":            {{"stations", ``, "stations"}, {"held", `"yes"`, "held"}, {"held", `true`, "stations[0].support"}, {"design", `"2 R"`, "design"}, {"tip_spacing", `0`, "tip_spacing"}, {"stations", `[{"name":"a","y":5,"angle":1},{"name":"b","y":5,"angle":1}]`, "stations"}, {"stations", `[{"name":"a","y":0,"front":1,"rear":1,"spacing":0},{"name":"b","y":5,"angle":1}]`, "stations[0].spacing"}},
		"separate":         {{"how", `"rotated"`, "how"}, {"how", `"turned"`, "how"}, {"how", `"mirror-part"`, "how"}, {"second", `{"points":[]}`, "second.points"}, {"second", `{}`, "second.points"}, {"first", `{"stations":[]}`, "second"}},
		"level":            {{"span", `-1`, "span"}, {"datum", `"0.1 nose up"`, "datum"}, {"part", ``, "part"}},
		"incidence":        {{"design", ``, "design"}, {"single", `1`, "single"}, {"fixed", `"middle"`, "fixed"}, {"attach_spacing", `0`, "attach_spacing"}, {"datum", `"0.1 R"`, "datum"}, {"left", `{"front":1,"rear":1}`, "left.spacing"}, {"left", `{"front":1,"rear":1,"spacing":-5}`, "left.spacing"}},
		"decalage":         {{"forward", ``, "forward"}, {"forward", `{"value":1,"u":-1}`, "forward.u"}, {"forward", `{"u":1}`, "forward.value"}, {"aft", `{"value":1,"u":1,"turned":true}`, "aft.turned"}, {"arrangement", `"biplane"`, "arrangement"}},
		"square":           {{"from", `[]`, "from"}, {"half_span", `0`, "half_span"}, {"station", `1`, "from[0].x"}, {"from", `[{"name":"a","x":0,"left":1,"right":{"value":1,"instrument":"none"}}]`, "from[0].right.instrument"}},
		"diagonals":        {{"near", `0`, "near"}, {"d1", `"-3 mm"`, "d1"}, {"length", ``, "length"}},
		"straightness":     {{"reference", `"middle"`, "reference"}, {"points", `[{"x":1,"offset":1}]`, "points"}, {"points", `[{"name":"a","x":1,"offset":1},{"name":"a","x":2,"offset":1}]`, "points[1].name"}},
		"hinge-line":       {{"adjust", `"x"`, "adjust"}, {"points", `[{"name":"a","x":1,"y":1,"z":1}]`, "points"}},
		"brackets":         {{"spacing", `0`, "spacing"}, {"span", `0`, "span"}, {"axis", `"side"`, "axis"}, {"right", `99999`, "right"}},
		"pairs":            {{"pairs", `[]`, "pairs"}, {"pairs", `[{"name":"a","left":1}]`, "pairs[0].right"}},
		"upright":          {{"height", `0`, "height"}, {"left_face", `"3 R"`, "left_face"}, {"datum", `"0.1 up"`, "datum"}},
		"sweep":            {{"left", `{"root": 1, "tip": 2, "span": 0}`, "left.span"}, {"line_u", `-1`, "line_u"}, {"design", `"x"`, "design"}},
		"washout":          {{"left", `{"stations": [{"name": "root", "y": 0, "angle": 1}]}`, "left.stations"}, {"right", `{"stations": [{"name": "root", "y": 0, "angle": 1}, {"name": "tip", "y": 9, "angle": 1}], "extent": 5}`, "right.stations[1].y"}},
		"dihedral":         {{"left", ``, "left"}, {"right", `"3 R"`, "right"}, {"datum", `"0.1 up"`, "datum"}, {"left", `70`, "left"}},
		"gap":              {{"gaps", `[]`, "gaps"}, {"min", `99`, "min"}, {"max", ``, "max"}, {"limits", `{"gap":{"low":1}}`, "limits"}},
		"length":           {{"measured", `[]`, "measured"}, {"measured", `[1,"x"]`, "measured[1]"}, {"design", ``, "design"}},
		"engine-mount":     {{"pads", `[]`, "pads"}, {"design_down", `90`, "design_down"}, {"design_right", `"1 R"`, "design_right"}},
		"travel":           {{"surfaces", `[]`, "surfaces"}, {"surfaces", `[{"name":"a","up":-1,"down":1}]`, "surfaces[0].up"}, {"surfaces", `[{"name":"a","up":"20 up","down":1}]`, "surfaces[0].up"}, {"surfaces", `[{"name":"a","up":1,"down":1,"side":"top"}]`, "surfaces[0].side"}},
		"hand":             {{"tolerance", `0`, "tolerance"}, {"expect", `"either"`, "expect"}, {"first", `[]`, "first"}, {"second", `[]`, "second"}, {"limits", `{"rms_same":{"high":1}}`, "limits"}},
		"shop-temperature": {{"tape", `"string"`, "tape"}, {"tape", `"wood"`, "tape"}, {"part", `{"beta":1}`, "part.beta"}, {"part", `{"alpha":1e9}`, "part.alpha"}, {"temp_c", `"6"`, "temp_c"}, {"temp_c", `-300`, "temp_c"}},
		"shim-stack":       {{"needed", `"thick"`, "needed"}, {"stock", ``, "stock"}, {"stock", `[0]`, "stock[0]"}},
	}
	for _, kind := range measure.Kinds {
		require.NotEmpty(t, tests[kind.Name], "no refusal of %s is tested", kind.Name)
	}
	for kind, changes := range tests {
		for _, c := range changes {
			t.Run(kind+" "+c.field+" "+c.value, func(t *testing.T) {
				doc, check := example(t, kind)
				if c.value == "" {
					delete(check, c.field)
				} else {
					check[c.field] = json.RawMessage(c.value)
				}
				_, errs := parse(t, doc)
				assert.Contains(t, paths(errs), "checks[0]."+c.path)
			})
		}
	}
}

// The same example with its lengths in an inch document and angles as typed
// gives the same figures: units are not part of the answer.
func TestAnInchDocumentGivesTheSameFigures(t *testing.T) {
	t.Parallel()
	metric := `{"format":"orpine.worksheet","version":1,"checks":[{"name":"x","kind":"brackets","left":1730,"right":1730.8,"spacing":210,"span":2880}]}`
	inch := `{"format":"orpine.worksheet","version":1,"units":{"length":"in"},"checks":[{"name":"x","kind":"brackets","left":68.11023622047244,"right":"1730.8 mm","spacing":"210 mm","span":"2.88 m"}]}`
	a, errs := Parse([]byte(metric))
	require.Empty(t, errs)
	b, errs := Parse([]byte(inch))
	require.Empty(t, errs)
	qa, _ := a.Solve()[0].Quantity("tip_difference")
	qb, _ := b.Solve()[0].Quantity("tip_difference")
	assert.InDelta(t, qa.Value, qb.Value, 1e-9)
}

// A misspelt field in any place of any kind is an error, never dropped.
func TestAMisspeltFieldIsNeverDropped(t *testing.T) {
	t.Parallel()
	for _, kind := range measure.Kinds {
		doc, check := example(t, kind.Name)
		check["limts"] = map[string]any{}
		_, errs := parse(t, doc)
		assert.Contains(t, paths(errs), "checks[0].limts", kind.Name)
		delete(check, "limts")
		for field, value := range check {
			if list, ok := value.([]any); ok && len(list) > 0 {
				if item, ok := list[0].(map[string]any); ok {
					item["nmae"] = "x"
					_, errs := parse(t, doc)
					assert.Contains(t, paths(errs), "checks[0]."+field+"[0].nmae", kind.Name)
				}
			}
		}
	}
}

// Results always have the same shape, whatever they hold: lists and not null, no
// NaN, u never negative, moves positive.
func TestResultsAreWellFormed(t *testing.T) {
	t.Parallel()
	for _, kind := range slices.Concat(measure.Kinds, Joined, Set) {
		doc, _ := example(t, kind.Name)
		parsed, errs := parse(t, doc)
		require.Empty(t, errs, kind.Name)
		data, err := EncodeResults(parsed.Solve())
		require.NoError(t, err)
		for _, list := range []string{`"quantities": null`, `"moves": null`, `"findings": null`, "NaN", "Inf"} {
			assert.False(t, strings.Contains(string(data), list), "%s: %s", kind.Name, list)
		}
		var out struct{ Results []caseResult }
		require.NoError(t, json.Unmarshal(data, &out))
		for _, q := range out.Results[0].Quantities {
			assert.GreaterOrEqual(t, *q.U, 0.0, kind.Name)
			assert.NotEmpty(t, q.Unit, kind.Name)
			assert.Equal(t, q.Verdict != "", q.Low != nil || q.High != nil, "%s: a verdict where there is a limit", kind.Name)
		}
		for _, m := range out.Results[0].Moves {
			assert.Positive(t, m.Amount, kind.Name)
			assert.Contains(t, []string{"up", "down", "forward", "aft", "left", "right", "trim"}, m.Direction)
			assert.Equal(t, "mm", m.Unit)
		}
	}
}

// Under the plain rule nothing is unsure, and the limits alone decide.
func TestThePlainRule(t *testing.T) {
	t.Parallel()
	doc, check := example(t, "twist")
	doc["decision"] = map[string]any{"rule": "plain"}
	for high, want := range map[float64]measure.Verdict{-0.2710: measure.Go, -0.2711: measure.Stop} {
		check["limits"] = map[string]any{"twist_error": map[string]any{"high": high}}
		parsed, errs := parse(t, doc)
		require.Empty(t, errs)
		assert.Equal(t, want, parsed.Solve()[0].Verdict)
	}
	doc["decision"] = map[string]any{"coverage": 20}
	check["limits"] = map[string]any{"twist_error": map[string]any{"low": -0.4, "high": 0.4}}
	parsed, errs := parse(t, doc)
	require.Empty(t, errs)
	assert.Equal(t, measure.Unsure, parsed.Solve()[0].Verdict, "20 u reach beyond the limit")
}

func TestADefinitionNeedsNoReadingsButAllElse(t *testing.T) {
	t.Parallel()
	d, errs := ParseDefinition([]byte(`{"name":"x","kind":"level","span":2880,"limits":{"roll":{"high":0.1}}}`), 0)
	require.Empty(t, errs)
	assert.Equal(t, "level", d.Kind.Name)
	assert.Contains(t, d.Limits, "roll")
	for _, bad := range []string{`{"name":"x","kind":"level"}`, `{"name":"x","kind":"level","span":1,"spam":2}`, `{"kind":"level","span":1}`, `{`, `[]`, `{"name":"x","kind":"kite"}`} {
		_, errs := ParseDefinition([]byte(bad), 0)
		assert.NotEmpty(t, errs, bad)
	}
}

// A join's own refusals, one change to its example at a time, at the place of the
// change; what a reading's type says of its value is believed.
func TestJoinsRefuseWhatTheyCannotUse(t *testing.T) {
	t.Parallel()
	for _, test := range []struct {
		kind, at string
		change   func(check map[string]any)
	}{
		{"pose", "checks[0].readings[0].value", func(c map[string]any) {
			reading(c, 0)["value"] = map[string]any{"value": "0.2 up", "instrument": "steel tape"}
		}},
		{"pose", "checks[0].readings[0].value.value", func(c map[string]any) {
			reading(c, 0)["value"] = map[string]any{"value": "long", "instrument": "steel tape"}
		}},
		{"pose", "checks[0].readings[0].type", func(c map[string]any) { reading(c, 0)["type"] = "angle" }},
		{"pose", "checks[0].readings[1].id", func(c map[string]any) { reading(c, 1)["id"] = reading(c, 0)["id"] }},
		{"pose", "checks[0].readings[2].form", func(c map[string]any) { reading(c, 2)["form"] = "x" }},
		{"pose", "checks[0].pivot", func(c map[string]any) { delete(c, "pivot") }},
		{"pose", "checks[0].want", func(c map[string]any) { c["want"] = "sideways" }},
		{"pose", "checks[0].attach[0].may", func(c map[string]any) { c["attach"].([]any)[0].(map[string]any)["may"] = "sideways" }},
		{"pose", "checks[0].limits.lean", func(c map[string]any) { c["limits"] = map[string]any{"lean": map[string]any{"low": 0}} }},
		{"join", "checks[0].surfaces[0].pivot", func(c map[string]any) { delete(c["surfaces"].([]any)[0].(map[string]any), "pivot") }},
		{"join", "checks[0].surfaces[1].limits.yaw", func(c map[string]any) {
			c["surfaces"].([]any)[1].(map[string]any)["limits"] = map[string]any{"yaw": map[string]any{"low": 1, "high": -1}}
		}},
		{"join", "checks[0].derive[0].low", func(c map[string]any) { c["derive"].([]any)[0].(map[string]any)["low"] = "0.1 up" }},
		{"join", "checks[0].pins[0].u", func(c map[string]any) { c["pins"].([]any)[0].(map[string]any)["u"] = 0 }},
		{"join", "checks[0].limits", func(c map[string]any) { c["limits"] = map[string]any{} }},
	} {
		doc, check := example(t, test.kind)
		test.change(check)
		_, errs := parse(t, doc)
		found := false
		for _, e := range errs {
			found = found || strings.HasPrefix(e.Path, test.at)
		}
		assert.True(t, found, "%s: %v", test.at, errs)
	}
}

func reading(check map[string]any, i int) map[string]any {
	return check["readings"].([]any)[i].(map[string]any)
}

// A rivet is chosen in millimetres when its diameter was given in metric units, and
// else in sixteenths of an inch.
func TestWhichStandardLengthsAreMeant(t *testing.T) {
	t.Parallel()
	for _, test := range []struct {
		diameter any
		unit     string
		metric   bool
	}{{"1/8 in", "mm", false}, {"3.2 mm", "mm", true}, {"3.2 mm", "in", true}, {"3,2mm", "in", true}, {3.2, "mm", true}, {0.125, "in", false}, {"1/8", "in", false}, {"3.2", "mm", true}, {"0.32 cm", "in", true}, {"125 thou", "mm", false}, {`1/8"`, "mm", false}} {
		doc, check := example(t, "solid-rivet")
		doc["units"] = map[string]any{"length": test.unit}
		check["diameter"] = test.diameter
		check["stack"] = []any{"2.5 mm"}
		delete(check, "callout")
		parsed, errs := parse(t, doc)
		require.Empty(t, errs)
		choice, _ := parsed.Solve()[0].Quantity("choice")
		whole := choice.Value - float64(int(choice.Value+1e-9))
		assert.Equal(t, test.metric, whole < 1e-9, "%v in %s: %v", test.diameter, test.unit, choice.Value)
	}
}

// A kind that declares nothing would be disturbed by nothing, asked nothing and told
// by the name of its field: each mistake would show only on a bench.
func TestEveryKindThatIsMeasuredDeclaresWhatDisturbsItAndHowItIsTold(t *testing.T) {
	t.Parallel()
	for _, kind := range slices.Concat(measure.Kinds, Joined, Set) {
		if kind.New == nil {
			continue
		}
		assert.True(t, kind.New().Disturbed(measure.Moved), kind.Name)
		assert.NotNil(t, kind.Schools, "%s: an empty list says that no question changes it", kind.Name)
		assert.NotEmpty(t, kind.Headlines, kind.Name)
		for _, l := range kind.Limits {
			assert.Contains(t, kind.Headlines, l.Name, kind.Name)
		}
		for _, named := range kind.Schools {
			assert.True(t, slices.ContainsFunc(school.Questions, func(q school.Question) bool { return q.ID == named }), "%s: %s", kind.Name, named)
		}
	}
}

func TestTemperatureMakesJoinsStale(t *testing.T) {
	t.Parallel()
	for _, kind := range Joined {
		assert.True(t, kind.New().Disturbed(measure.Temperature), kind.Name)
	}
}
