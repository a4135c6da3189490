package app

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
)

// errands are what the Airframe sheet offers, in words.
func errands(t *testing.T, l *loft) (now, held []string) {
	t.Helper()
	home, err := l.Home(l.ctx(), samphireID)
	require.NoError(t, err)
	for _, e := range home.Now {
		now = append(now, e.What+" · "+e.Why)
	}
	for _, e := range home.Held {
		held = append(held, e.What+" · "+e.Why)
	}
	return now, held
}

func TestTheAirframeSaysWhatCanBeDoneAndWhatIsHeld(t *testing.T) {
	l := openLoft(t)
	now, held := errands(t, l)
	assert.Equal(t, []string{
		"Record: drill to size: the holes of the root brackets · released by builder",
		"Tail boom: set row 3, left stringer · 109 holes to go, released by builder",
		"Release: drill the tailplane's end holes · all that it asks for is shown",
	}, now)
	assert.Equal(t, []string{
		"Engine mount: drill to size: the four holes through the firewall · stop: down error +0.35° ± 0.07°",
		"Aileron, right: rivet the ribs of the right aileron · stop: it is of the same hand as the other",
		"Tail boom: close the boom · 3 tasks are open: control rod guides; wires for the tail light; primer touched up; holes are neither set nor kept open in row 3, left stringer: 17, 43–76, 78–84; row 4, right stringer: 9, 43–84",
		"Fin: drill to size: the bolt holes of the fin's spar · unsure: lean +0.06° ± 0.04°",
		"Fin-top brackets: drill to size: the attachment holes of the tailplane · stop: tip difference −11.0 mm ± 1.3 mm",
	}, held)

	l.moved(measure.Moved)
	now, held = errands(t, l)
	assert.Contains(t, now, "Tailplane: read L1, height again · stale since moved")
	assert.Contains(t, held, "Tailplane: drill the tailplane's end holes · 6 readings are stale since (moved): take them again")
	require.NoError(t, l.read(railsID+"-check-0", 1, "50.5", "laser-demo", ""))
	now, _ = errands(t, l)
	assert.Contains(t, now, "Tailplane: read R1, height again · stale since moved")
}

func TestEveryKindOfEntryIsPutIntoWords(t *testing.T) {
	l := openLoft(t)
	require.NoError(t, l.read(l.twist().ID, 1, "0.07", "level-2-demo", "mistyped"))
	require.NoError(t, l.TakeBack(l.ctx(), TakeBack{l.id(), l.twist().ID, l.twist().Spots[1].Readings[0].ID, "wrong mark"}))
	require.NoError(t, l.SetHeld(l.ctx(), SetHeld{l.id(), l.twist().ID, false}))
	require.NoError(t, l.release(NewRelease{By: "builder", AnsweredBy: "kit maker", Answer: "go on", Answered: "today", Document: "a mail"}))
	require.NoError(t, l.RecordStep(l.ctx(), NewStep{l.id(), l.hold().ID, "helper", "four holes"}))
	l.moved(measure.TurnedOver)
	require.Error(t, l.TakeReading(l.ctx(), NewReading{ID: l.id(), Check: "spar-left-demo-check-0", Number: 1, Text: "115", Instrument: "rule-demo-600"}))
	entries, _, err := l.Log(l.ctx(), 0, 400)
	require.NoError(t, err)
	said := map[string]LogEntry{}
	for i := len(entries) - 1; i >= 0; i-- { // the latest of each kind
		said[entries[i].Kind] = entries[i]
		assert.NotEmpty(t, entries[i].What)
		assert.NotContains(t, entries[i].What+entries[i].Detail, "%!")
		assert.Len(t, entries[i].Hash, 64)
	}
	for kind, want := range map[string][2]string{
		"reading":    {"left tip, angle: 0.07", "Tailplane on the rails · Twist · level 2 · hands off · in place of the one before: mistyped"},
		"superseded": {"left tip, support under it: 0.06 up taken back", "Tailplane on the rails · Twist · wrong mark"},
		"changed":    {"Twist: not held down", ""},
		"release":    {"Tailplane: released, Drill the tailplane's end holes", "evidence stop"},
		"done":       {"Tailplane: done, Drill the tailplane's end holes", "the two end holes at each tip · four holes"},
		"event":      {"Tailplane on the rails: turned over", "readings that it disturbs no longer count"},
		"questioned": {"root, offset: 115 questioned", "Main spar, left on the bench · Straightness of the cap · is 100 mm, a burnt 100 mm not taken off, from its twin (15)"},
		"hole":       {"Tail boom, row 4, right stringer, hole 9: bad", "bucked crooked · with a bucker"},
		"looked":     {"Looked at: row 6, fairing strip", "taken apart, deburred on both faces, chips cleared, primed where wanted, refitted"},
		"counted":    {"Counted: Tail boom, the boom bay", "3 × tool counted in"},
		"slip":       {"Slip: wrong part or hand", "rib 3 was pinned the wrong way round · Lay rib and twin on one another before the first cleco."},
		"zero-test":  {"level 2 turned end for end: zero −0.04°", "first 0.07 · turned -0.15"},
		"created":    {"notice added: Stringers of lot 2118: hardness to be checked", ""},
	} {
		assert.Equal(t, want[0], said[kind].What, kind)
		assert.Equal(t, want[1], said[kind].Detail, kind)
	}
	assert.Equal(t, "kit maker answered today: go on · kept: a mail", said["release"].Answer)
	assert.Equal(t, "helper", said["done"].By)
}

func TestQuantitiesAreSaidWithTheirUncertainty(t *testing.T) {
	for want, q := range map[string]measure.Quantity{
		"twist +0.03° ± 0.05°":              {Name: "twist", Value: 0.028, U: 0.0273, Dimension: measure.Angle},
		"tip difference −10.3 mm ± 5.0 mm":  {Name: "tip_difference", Value: -10.3, U: 2.5, Dimension: measure.Length},
		"bow at rib 8 +1.0 mm ± 0.2 mm":     {Name: "bow", At: "rib 8", Value: 1, U: 0.1, Dimension: measure.Length},
		"rate −0.395°/m ± 0.015°/m":         {Name: "rate", Value: -0.395, U: 0.0077, Dimension: measure.Rate},
		"slope along 0.00° ± 0.00°":         {Name: "slope_along", Dimension: measure.Angle},
		"leverage at firewall +0.53 ± 0.00": {Name: "leverage", At: "firewall", Value: 0.531, Dimension: measure.Ratio},
	} {
		assert.Equal(t, want, SayQuantity(q))
	}
}

func TestAnExportLeavesOutWhatDoesNotCountAndCanBeEmpty(t *testing.T) {
	l := openLoft(t)
	l.moved(measure.BenchMoved)
	data, err := l.Export(l.ctx(), railsID)
	require.NoError(t, err)
	assert.NotContains(t, string(data), "52.5", "the stale survey is not in it")
	assert.Contains(t, string(data), "0.39 up")
	l.moved(measure.Moved)
	data, err = l.Export(l.ctx(), railsID)
	require.NoError(t, err)
	assert.Contains(t, string(data), `"checks": []`)
	_, err = l.Export(l.ctx(), "nothing")
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestProblemsAreListedInOrder(t *testing.T) {
	p := Problems{}
	require.NoError(t, p.err())
	p.Add("name", "is empty")
	p.Add("name", "the first message at a field stays")
	p.Add("", "the whole of it")
	assert.Equal(t, "name: is empty; the whole of it", p.Error())
	var text = fmt.Sprintf("%0100d", 1)
	p.text("note", &text, 80, "")
	assert.Equal(t, "longer than 80 characters", p["note"])
}

// Of several problems the first field's is shown, always.
func TestTheFirstProblemIsShownAlways(t *testing.T) {
	for range 50 {
		into := Problems{}
		Problems{"checks[0].points[1].z": "nothing typed", "checks[0].points[1].y": "cannot be read"}.first("place", into)
		assert.Equal(t, Problems{"place": "y: cannot be read"}, into)
	}
}
