package measuring_test

import (
	"encoding/json"
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/demo"
	"orpine/internal/measuring"
	"orpine/internal/worksheet"
	"orpine/test/loft"
)

func TestTheDemosJoins(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	c := l.SetupOf(demo.ID("tailplane join")).Checks[0]
	require.True(t, c.Complete())
	var suspects []string
	for _, r := range c.Result.Network.Readings {
		if r.Suspect {
			suspects = append(suspects, r.ID)
		}
	}
	assert.Equal(t, []string{"4 distance firewall to tip R"}, suspects, "it was misread by an inch")
	require.NoError(t, l.Take(demo.ID("tailplane join"), 6, measuring.NewReading{Check: c.ID, Text: "5922", Instrument: demo.ID("steel tape"), InPlace: "misread"}))
	c = l.SetupOf(demo.ID("tailplane join")).Checks[0]
	assert.Equal(t, measure.Go, c.Result.Verdict)
	// Where it was put: 0.03° right low, 0.05° nose down, 0.04° right tip aft.
	for name, want := range map[string]float64{"roll": 0.03, "pitch": -0.05, "yaw": 0.04} {
		q, _ := c.Result.Quantity(name)
		assert.InDelta(t, want, q.Value, 2*q.U, name)
	}
	foreplane := l.SetupOf(demo.ID("foreplane join")).Checks[0]
	assert.Equal(t, []string{"yaw"}, foreplane.Result.Network.Unseen)
	assert.Contains(t, foreplane.Answer(), "nothing that was read shows it")
}

// The answer tightens as readings come, in any order, and the screen's numbers are
// those of the exported worksheet.
func TestAJoinIsWorkedOutFromWhatThereIs(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	s := l.SetupOf(demo.ID("tailplane join"))
	require.NoError(t, l.Measuring.SomethingMoved(l.Ctx(), measuring.SomethingMoved{Form: l.Form(), Setup: s.ID, State: 1, What: "moved"}))
	c := l.SetupOf(s.ID).Checks[0]
	assert.NotNil(t, c.Result, "nothing is read, and everything unseen")
	last := 1e9
	for _, number := range []int{9, 10, 11, 13, 3, 4, 5, 6, 1, 2, 14, 7, 8, 12} {
		texts := []string{"0.16 R", "0.21 up", "3686", "3687", "5921", "5922", "4442", "4441", "1308.5", "1297", "1287.5", "1283.5", "0.19 R", "0.57 up"}
		in := demo.ID("steel tape")
		switch spot := c.Spots[number-1]; {
		case spot.Dimension == measure.Angle:
			in = demo.ID("level 2")
		case strings.Contains(spot.Label, "above"):
			in = demo.ID("laser")
		}
		require.NoError(t, l.Take(s.ID, number, measuring.NewReading{Check: c.ID, Text: texts[number-1], Instrument: in}))
		q, _ := l.SetupOf(s.ID).Checks[0].Result.Quantity("yaw")
		if !q.Unseen {
			// The airframe's own level is taken as true until it is read: then less is known.
			if number > 2 {
				assert.LessOrEqual(t, q.U, last+1e-9)
			}
			last = q.U
		}
	}
	data := l.Worksheet(s.ID)
	doc, errs := worksheet.Parse(data)
	require.Empty(t, errs)
	shown, _ := l.SetupOf(s.ID).Checks[0].Result.Quantity("yaw")
	solved, _ := doc.Solve()[0].Quantity("yaw")
	assert.Equal(t, shown.Value, solved.Value)
	assert.Less(t, shown.U, 0.05)
}

// written is the first check of a setup as it is exported.
func written(t *testing.T, l *loft.Loft, setup string) map[string]any {
	t.Helper()
	var doc struct {
		Checks []map[string]any `json:"checks"`
	}
	require.NoError(t, json.Unmarshal(l.Worksheet(setup), &doc))
	return doc.Checks[0]
}

// number is a figure of a worksheet, without its unit.
func number(t *testing.T, v any) float64 {
	t.Helper()
	text, _, _ := strings.Cut(v.(string), " ")
	n, err := strconv.ParseFloat(strings.TrimSuffix(text, "°"), 64)
	require.NoError(t, err)
	return n
}

// The tailplane's airframe was read as 0.16 R; with the board turned round twice as 0.26
// and 0.24 R the board's share is (0.25 − 0.16)/2 = 0.045, and 0.205 R is the airframe's.
// Its u: half of √(0.01²/12 + 0.015²/2) for the second mean, and 0.005 for the board.
func TestABoardIsTurnedRoundAndAStringIsNotBelieved(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	setup, in := demo.ID("tailplane join"), demo.ID("level 2")
	join := demo.Check("tailplane join", 0)
	roll := func() map[string]any { return written(t, l, setup)["datum_roll"].(map[string]any) }
	assert.NotContains(t, roll(), "corrections")
	for _, text := range []string{"0.26 R", "0.24 R"} {
		require.NoError(t, l.Take(setup, 1, measuring.NewReading{Check: join, Text: text, Instrument: in, Aid: check.TurnedRound}))
	}
	assert.Equal(t, []any{"0.16 R"}, roll()["values"])
	turned := roll()["corrections"].([]any)[0].(map[string]any)
	assert.InDelta(t, 0.045, number(t, turned["value"]), 1e-9)
	assert.InDelta(t, math.Hypot(math.Sqrt(0.01*0.01/12+0.015*0.015/2)/2, 0.005), number(t, turned["u"]), 1e-6)

	// An offset is from a string, 0.5 mm, unless it was said to be from the airframe.
	foreplane := demo.ID("foreplane join")
	offset := func() map[string]any {
		return written(t, l, foreplane)["readings"].([]any)[5].(map[string]any)["value"].(map[string]any)
	}
	line := offset()["corrections"].([]any)[0].(map[string]any)
	assert.Equal(t, "string of the butt line", line["common"])
	assert.InDelta(t, 0.5, number(t, line["u"]), 1e-9)
	require.NoError(t, l.Take(foreplane, 6, measuring.NewReading{Check: demo.Check("foreplane join", 0), Text: "0.5", Instrument: demo.ID("rule"), InPlace: "misread", Aid: check.NoAid}))
	assert.NotContains(t, offset(), "corrections")
	l.Verify()
}

func TestAReadingIsAddedToAJoin(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	setup, check := demo.ID("foreplane join"), demo.Check("foreplane join", 0)
	require.NoError(t, l.Redefine(setup, measuring.Redefine{Check: check, Point: []string{"distance", "tail hook", "tip R", ""}}))
	c := l.SetupOf(demo.ID("foreplane join")).Checks[0]
	next, _ := c.Next()
	assert.Equal(t, "tail hook to tip R", next.Place())
	assert.Contains(t, loft.Problems(t, l.Redefine(setup, measuring.Redefine{Check: check, Point: []string{"distance", "tail hook", "nowhere", ""}}))["point"], "no point is called")
	assert.Contains(t, loft.Problems(t, l.Redefine(setup, measuring.Redefine{Check: check, Point: []string{"", "tail hook", "tip L", ""}})), "point")
	in := func(text string) error {
		return l.Take(demo.ID("foreplane join"), next.Number, measuring.NewReading{Check: check, Text: text, Instrument: demo.ID("steel tape")})
	}
	assert.Contains(t, loft.Problems(t, in("3911"))["slip"], "from the plans (3886.1 mm)")
	require.NoError(t, in("3886"))
	assert.Empty(t, l.SetupOf(demo.ID("foreplane join")).Checks[0].Result.Network.Unseen)
}

// The form of a join begins with the points that the dimensions give: the tailplane's
// corners, and the ends and widest places of the bodies.
func TestAJoinBeginsWithTheDimensions(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	values := func(id string) map[string]string {
		s, others, err := l.Joinable(l.Ctx(), id)
		require.NoError(t, err)
		return measuring.JoinFrom(others, s.Assembly.Assembly)
	}
	tail := values(demo.ID("tailplane"))
	assert.Contains(t, tail["points"], "L front; 5480 mm; -1440 mm; 1745 mm\nL rear; 6100 mm; -1440 mm; 1745 mm")
	assert.Contains(t, tail["datum"], "centre fuselage R; 1240 mm; 560 mm; 400 mm")
	assert.Equal(t, "5480 mm; 0 mm; 1745 mm", tail["pivot"])
	assert.Contains(t, values(demo.ID("wing panel right"))["points"], "tip rear; 1598 mm; 6200 mm; 341 mm")

	form, _ := measuring.FormOf("pose")
	filled := measuring.Filled{Take: true, Values: tail, Low: map[string]string{"yaw": "-0.1", "roll": "-0.1"}, High: map[string]string{"yaw": "0.1", "roll": "0.1"}}
	text, decided, err := l.Measuring.PlanJoin(l.Ctx(), 0, 0, form, filled)
	require.NoError(t, err)
	assert.True(t, decided)
	assert.Contains(t, text, "distance; ")
	filled.Low, filled.High = nil, nil
	_, _, err = l.Measuring.PlanJoin(l.Ctx(), 0, 0, form, filled)
	assert.Contains(t, loft.Problems(t, err), "0.limits")
	filled.Values = map[string]string{"points": "tip; far"}
	_, _, err = l.Measuring.PlanJoin(l.Ctx(), 0, 0, form, filled)
	assert.Contains(t, loft.Problems(t, err), "0.points")
}

// Fin and tailplane at once: their tips' difference has its own ±, and a place that
// is added can be read from.
func TestSeveralSurfacesAreJoinedOnTheScreens(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	setup, check := demo.ID("fin and tail join"), demo.Check("fin and tail join", 0)
	c := l.SetupOf(demo.ID("fin and tail join")).Checks[0]
	require.True(t, c.Complete())
	found := map[string]bool{}
	for _, q := range c.Result.Quantities {
		if at, ok := q.At.(string); ok {
			found[at+" "+q.Name] = true
		}
	}
	for _, name := range []string{"fin roll", "tailplane yaw", "tips, right over left height", "chord incidence"} {
		assert.True(t, found[name], name)
	}
	place := measuring.Redefine{Form: l.Form(), Check: check, Seen: c.Redefined, Place: &measuring.NewPlace{Name: "hangar post", X: "5400", Y: "2000", Z: "1700"}}
	require.NoError(t, l.Measuring.Redefine(l.Ctx(), place))
	require.NoError(t, l.Measuring.Redefine(l.Ctx(), place), "the same once more is one place")
	require.NoError(t, l.Redefine(setup, measuring.Redefine{Check: check, Place: &measuring.NewPlace{Name: "rib 2", X: "5600", Y: "700", Z: "1735", Surface: "tailplane"}}))
	require.NoError(t, l.Redefine(setup, measuring.Redefine{Check: check, Point: []string{"distance", "hangar post", "rib 2", ""}}))
	assert.Contains(t, loft.Problems(t, l.Redefine(setup, measuring.Redefine{Check: check, Place: &measuring.NewPlace{Name: "rib 2", X: "1", Y: "2", Z: "3"}}))["place"], "is a point already")
	assert.Contains(t, loft.Problems(t, l.Redefine(setup, measuring.Redefine{Check: check, Place: &measuring.NewPlace{Name: "rib 3", X: "1", Y: "2", Z: "3", Surface: "rudder"}}))["place"], "on which surface")
	assert.Contains(t, loft.Problems(t, l.Redefine(setup, measuring.Redefine{Check: check, Place: &measuring.NewPlace{X: "far", Y: "2", Z: "3"}})), "place")
	assert.Contains(t, loft.Problems(t, l.Redefine(demo.ID("fin upright"), measuring.Redefine{Check: demo.Check("fin upright", 0), Place: &measuring.NewPlace{Name: "x", X: "1", Y: "2", Z: "3"}})), "place")
	require.NoError(t, l.Redefine(demo.ID("foreplane join"), measuring.Redefine{Check: demo.Check("foreplane join", 0), Place: &measuring.NewPlace{Name: "rib 4", X: "830", Y: "900", Z: "560", Surface: "the surface"}}))
	next, _ := l.SetupOf(demo.ID("fin and tail join")).Checks[0].Next()
	assert.Equal(t, "hangar post to rib 2", next.Place())
	l.Verify()
}
