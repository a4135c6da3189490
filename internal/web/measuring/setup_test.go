package measuring

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/measuring"
)

// A setup stands as its check that needs a hand the most: a stop before what is unsure, that before what is not
// read yet, and a go last.
func TestASetupStandsAsTheCheckThatNeedsAHandTheMost(t *testing.T) {
	t.Parallel()
	state := func(name string, verdict measure.Verdict, wanted, taken, stale int) measuring.Standing {
		return measuring.Standing{CheckState: hold.CheckState{Name: name, Verdict: verdict, Wanted: wanted, Taken: taken, Stale: stale, Answer: "twist +0.03°", Disturbed: measure.Knocked}}
	}
	for want, checks := range map[string][]measuring.Standing{
		"Stop twist · twist +0.03°":                      {state("rails", measure.Go, 6, 6, 0), state("twist", measure.Stop, 5, 5, 0), state("bow", measure.Unsure, 3, 3, 0)},
		"Unsure bow · twist +0.03°":                      {state("rails", measure.None, 6, 2, 0), state("bow", measure.Unsure, 3, 3, 0)},
		"Not yet rails · 4 readings to go":               {state("twist", measure.Go, 5, 5, 0), state("rails", measure.None, 6, 2, 0)},
		"Not yet rails · 3 readings stale since knocked": {state("rails", measure.Go, 6, 6, 3)},
		"Measured rails · twist +0.03°":                  {state("rails", measure.None, 6, 6, 0), state("twist", measure.Go, 5, 5, 0)},
		"Go twist · twist +0.03°":                        {state("twist", measure.Go, 5, 5, 0)},
	} {
		g := glanceAt(measuring.Brief{Checks: checks})
		assert.Equal(t, want, g.Word+" "+g.Says)
	}
	assert.Empty(t, glanceAt(measuring.Brief{}).Mark, "nothing is measured there")
}

// How a further placing was made is said once, and kept for the round: until the last reading is a first one again.
func TestHowAPlacingWasMadeIsKeptForTheRound(t *testing.T) {
	t.Parallel()
	at := time.Date(2026, 5, 4, 19, 0, 0, 0, time.UTC)
	reading := func(minutes int, moved bool) check.Reading {
		return check.Reading{Text: "0.1", Moved: moved, At: at.Add(time.Duration(minutes) * time.Minute)}
	}
	of := func(spots ...[]check.Reading) measuring.Check {
		c := measuring.Check{}
		for i, readings := range spots {
			c.Spots = append(c.Spots, check.Spot{Number: i + 1, Readings: readings})
		}
		return c
	}
	assert.Empty(t, lastPlaced(of([]check.Reading{reading(0, false)}, nil)))
	assert.Equal(t, placedMoved, lastPlaced(of([]check.Reading{reading(0, false), reading(5, true)}, []check.Reading{reading(1, false)})))
	assert.Equal(t, placedSame, lastPlaced(of([]check.Reading{reading(0, false), reading(5, true)}, []check.Reading{reading(1, false), reading(6, false)})))
	assert.Empty(t, lastPlaced(of([]check.Reading{reading(0, false), reading(5, true)}, []check.Reading{reading(9, false)})), "a first reading came after it")
}

// What is read again is covered in the lane, and only that.
func TestWhatIsReadAgainIsCovered(t *testing.T) {
	t.Parallel()
	rows := []pointRow{{Cells: []cell{{Shown: "+0.05°", Current: true}, {Shown: "+0.06°"}}}, {Cells: []cell{{Shown: "", Current: true}}}}
	cover(rows)
	assert.Equal(t, cell{Covered: true, Current: true}, rows[0].Cells[0])
	assert.Equal(t, "+0.06°", rows[0].Cells[1].Shown)
	assert.False(t, rows[1].Cells[0].Covered, "nothing was read there")
	c := check.Check{Spots: []check.Spot{{Number: 1, Readings: []check.Reading{{Text: "1"}}}, {Number: 2, Readings: []check.Reading{{Text: "2"}}}}}
	covered := c.Covered(2)
	assert.Len(t, covered.Spots[0].Counting(), 1)
	assert.Empty(t, covered.Spots[1].Counting())
	assert.Len(t, c.Spots[1].Counting(), 1, "the check itself is as it was")
}

// A goal leads to the hold, the instruments, the check's own sheet, or a spot.
func TestAGoalLeadsToWhereItIsDone(t *testing.T) {
	t.Parallel()
	for want, g := range map[string]check.Goal{
		"":                         {},
		"/holds/h":                 {Hold: "h", Check: "c"},
		"/instruments":             {Tools: true},
		"/setups/s/checks/c#point": {Check: "c", Point: true},
		"/setups/s?check=c&spot=3": {Check: "c", Spot: 3},
		"/setups/s?check=c":        {Check: "c"},
		"/setups/s/checks/c?from=firewall&to=tip+L&type=distance#point": {Check: "c", Point: true, Add: &measure.NextReading{Type: "distance", From: "firewall", To: "tip L"}},
	} {
		assert.Equal(t, want, goal("s", g))
	}
}
