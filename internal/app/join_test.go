package app

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/worksheet"
)

func TestTheDemosJoins(t *testing.T) {
	l := openLoft(t)
	c := l.in("tailplane-join-demo").Checks[0]
	require.True(t, c.Complete())
	var suspects []string
	for _, r := range c.Result.Network.Readings {
		if r.Suspect {
			suspects = append(suspects, r.ID)
		}
	}
	assert.Equal(t, []string{"4 distance firewall to tip R"}, suspects, "it was misread by an inch")
	require.NoError(t, l.TakeReading(l.ctx(), NewReading{ID: l.id(), Check: c.ID, Number: 6, Text: "5922", Instrument: "steel-tape-demo", InPlace: "misread"}))
	c = l.in("tailplane-join-demo").Checks[0]
	assert.Equal(t, measure.Go, c.Result.Verdict)
	// Where it was put: 0.03° right low, 0.05° nose down, 0.04° right tip aft.
	for name, want := range map[string]float64{"roll": 0.03, "pitch": -0.05, "yaw": 0.04} {
		q, _ := c.Result.Quantity(name)
		assert.InDelta(t, want, q.Value, 2*q.U, name)
	}
	foreplane := l.in("foreplane-join-demo").Checks[0]
	assert.Equal(t, []string{"yaw"}, foreplane.Result.Network.Unseen)
	assert.Contains(t, foreplane.Answer(), "nothing that was read shows it")
}

// The answer tightens as readings come, in any order, and the screen's numbers are
// those of the exported worksheet.
func TestAJoinIsWorkedOutFromWhatThereIs(t *testing.T) {
	l := openLoft(t)
	s := l.in("tailplane-join-demo")
	require.NoError(t, l.SomethingMoved(l.ctx(), SomethingMoved{l.id(), s.ID, "moved"}))
	c := l.in(s.ID).Checks[0]
	assert.NotNil(t, c.Result, "nothing is read, and everything unseen")
	last := 1e9
	for _, number := range []int{9, 10, 11, 13, 3, 4, 5, 6, 1, 2, 14, 7, 8, 12} {
		texts := []string{"0.16 R", "0.21 up", "3686", "3687", "5921", "5922", "4442", "4441", "1308.5", "1297", "1287.5", "1283.5", "0.19 R", "0.57 up"}
		in := "steel-tape-demo"
		switch spot := c.Spots[number-1]; {
		case spot.Dimension == measure.Angle:
			in = "level-2-demo"
		case strings.Contains(spot.Label, "above"):
			in = "laser-demo"
		}
		require.NoError(t, l.TakeReading(l.ctx(), NewReading{ID: l.id(), Check: c.ID, Number: number, Text: texts[number-1], Instrument: in}))
		q, _ := l.in(s.ID).Checks[0].Result.Quantity("yaw")
		if !q.Unseen {
			// The airframe's own level is taken as true until it is read: then less is known.
			if number > 2 {
				assert.LessOrEqual(t, q.U, last+1e-9)
			}
			last = q.U
		}
	}
	data, err := l.Export(l.ctx(), s.ID)
	require.NoError(t, err)
	doc, errs := worksheet.Parse(data)
	require.Empty(t, errs)
	shown, _ := l.in(s.ID).Checks[0].Result.Quantity("yaw")
	solved, _ := doc.Solve()[0].Quantity("yaw")
	assert.Equal(t, shown.Value, solved.Value)
	assert.Less(t, shown.U, 0.05)
}

func TestAReadingIsAddedToAJoin(t *testing.T) {
	l := openLoft(t)
	const check = "foreplane-join-demo-check-0"
	require.NoError(t, l.AddPoint(l.ctx(), NewPoint{l.id(), check, []string{"distance", "tail hook", "tip R", ""}}))
	c := l.in("foreplane-join-demo").Checks[0]
	next, _ := c.Next()
	assert.Equal(t, "tail hook to tip R", next.Place())
	assert.Contains(t, problems(t, l.AddPoint(l.ctx(), NewPoint{l.id(), check, []string{"distance", "tail hook", "nowhere", ""}}))["point"], "no point is called")
	assert.Contains(t, problems(t, l.AddPoint(l.ctx(), NewPoint{l.id(), check, []string{"", "tail hook", "tip L", ""}})), "point")
	in := func(text string) error {
		return l.TakeReading(l.ctx(), NewReading{ID: l.id(), Check: check, Number: next.Number, Text: text, Instrument: "steel-tape-demo"})
	}
	assert.Contains(t, problems(t, in("3911"))["slip"], "from the plans (3886.1 mm)")
	require.NoError(t, in("3886"))
	assert.Empty(t, l.in("foreplane-join-demo").Checks[0].Result.Network.Unseen)
}

// The form of a join begins with the points that the dimensions give: the tailplane's
// corners, and the ends and widest places of the bodies.
func TestAJoinBeginsWithTheDimensions(t *testing.T) {
	l := openLoft(t)
	home, err := l.Home(l.ctx(), samphireID)
	require.NoError(t, err)
	values := func(id string) map[string]string {
		_, s, err := l.Assembly(l.ctx(), id)
		require.NoError(t, err)
		return JoinFrom(home, s)
	}
	tail := values(tailplaneID)
	assert.Contains(t, tail["points"], "L front; 5480 mm; -1440 mm; 1745 mm\nL rear; 6100 mm; -1440 mm; 1745 mm")
	assert.Contains(t, tail["datum"], "centre fuselage R; 1240 mm; 560 mm; 400 mm")
	assert.Equal(t, "5480 mm; 0 mm; 1745 mm", tail["pivot"])
	assert.Contains(t, values("wing-panel-right")["points"], "tip rear; 1598 mm; 6200 mm; 341 mm")

	form, _ := FormOf("pose")
	filled := Filled{Take: true, Values: tail, Low: map[string]string{"yaw": "-0.1", "roll": "-0.1"}, High: map[string]string{"yaw": "0.1", "roll": "0.1"}}
	text, decided, err := l.PlanJoin(l.ctx(), 0, 0, form, filled)
	require.NoError(t, err)
	assert.True(t, decided)
	assert.Contains(t, text, "distance; ")
	filled.Low, filled.High = nil, nil
	_, _, err = l.PlanJoin(l.ctx(), 0, 0, form, filled)
	assert.Contains(t, problems(t, err), "0.limits")
	filled.Values = map[string]string{"points": "tip; far"}
	_, _, err = l.PlanJoin(l.ctx(), 0, 0, form, filled)
	assert.Contains(t, problems(t, err), "0.points")
}

// Fin and tailplane at once: their tips' difference has its own ±, and a place that
// is added can be read from.
func TestSeveralSurfacesAreJoinedOnTheScreens(t *testing.T) {
	l := openLoft(t)
	const check = "fin-tail-join-demo-check-0"
	c := l.in("fin-tail-join-demo").Checks[0]
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
	place := NewPlace{l.id(), check, "hangar post", "5400", "2000", "1700", ""}
	require.NoError(t, l.AddPlace(l.ctx(), place))
	require.NoError(t, l.AddPlace(l.ctx(), place), "the same once more is one place")
	require.NoError(t, l.AddPlace(l.ctx(), NewPlace{l.id(), check, "rib 2", "5600", "700", "1735", "tailplane"}))
	require.NoError(t, l.AddPoint(l.ctx(), NewPoint{l.id(), check, []string{"distance", "hangar post", "rib 2", ""}}))
	assert.Contains(t, problems(t, l.AddPlace(l.ctx(), NewPlace{l.id(), check, "rib 2", "1", "2", "3", ""}))["place"], "is a point already")
	assert.Contains(t, problems(t, l.AddPlace(l.ctx(), NewPlace{l.id(), check, "rib 3", "1", "2", "3", "rudder"}))["place"], "on which surface")
	assert.Contains(t, problems(t, l.AddPlace(l.ctx(), NewPlace{l.id(), check, "", "far", "2", "3", ""})), "place")
	assert.Contains(t, problems(t, l.AddPlace(l.ctx(), NewPlace{l.id(), "fin-upright-demo-check-0", "x", "1", "2", "3", ""})), "place")
	require.NoError(t, l.AddPlace(l.ctx(), NewPlace{l.id(), "foreplane-join-demo-check-0", "rib 4", "830", "900", "560", "the surface"}))
	next, _ := l.in("fin-tail-join-demo").Checks[0].Next()
	assert.Equal(t, "hangar post to rib 2", next.Place())
	_, err := l.Verify(l.ctx())
	require.NoError(t, err)
}
