package overview_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/demo"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

// errands are what the Airframe sheet offers, in words.
func errands(t *testing.T, l *loft.Loft) (now, held []string) {
	t.Helper()
	home, err := l.Home(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	for _, e := range home.Now {
		now = append(now, say.Plain(e.What+" · "+e.Why))
	}
	for _, e := range home.Held {
		held = append(held, say.Plain(e.What+" · "+e.Why))
	}
	return now, held
}

func TestTheAirframeSaysWhatCanBeDoneAndWhatIsHeld(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	now, held := errands(t, l)
	assert.Equal(t, []string{
		"Record: drill to size: the holes of the root brackets · released by builder",
		"Tail boom: set row 3, left stringer · 109 holes to go, released by builder",
		"Release: drill the tailplane's end holes · all that it asks for is shown",
	}, now)
	assert.Equal(t, []string{
		"Engine mount: drill to size: the four holes through the firewall · stop: down error +0.35° ± 0.08°",
		"Aileron, right: rivet the ribs of the right aileron · stop: it is of the same hand as the other",
		"Tail boom: close the boom · 3 tasks are open: control rod guides; wires for the tail light; primer touched up; holes are neither set nor kept open in row 3, left stringer: 17, 43–76, 78–84; row 4, right stringer: 9, 43–84",
		"Fin: drill to size: the bolt holes of the fin's spar · unsure: lean +0.07° ± 0.04°",
		"Fin-top brackets: drill to size: the attachment holes of the tailplane · stop: tip difference −11.0 ± 1.3 mm",
	}, held)

	l.Moved(loft.OnRails, measure.Moved)
	now, held = errands(t, l)
	assert.Contains(t, now, "Tailplane: read L1, height again · stale since moved")
	assert.Contains(t, held, "Tailplane: drill the tailplane's end holes · 6 readings are stale since (moved): take them again")
	require.NoError(t, l.Read(demo.Check("tailplane on rails", 0), 1, "50.5", demo.ID("laser"), ""))
	now, _ = errands(t, l)
	assert.Contains(t, now, "Tailplane: read R1, height again · stale since moved")
}

func TestEveryKindOfEntryIsPutIntoWords(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	require.NoError(t, l.Read(l.Twist().ID, 1, "0.07", demo.ID("level 2"), "mistyped"))
	require.NoError(t, l.TakeBack(l.Twist().ID, l.Twist().Spots[1].Readings[0].ID, "wrong mark"))
	l.Held(loft.OnRails, l.Twist().ID, false)
	require.NoError(t, l.ReleaseRails(holding.NewRelease{By: "builder", AnsweredBy: "kit maker", Answer: "go on", Answered: "today", Document: "a mail"}))
	require.NoError(t, l.Step(l.Rails().ID, "helper", "four holes"))
	l.Moved(loft.OnRails, measure.TurnedOver)
	require.Error(t, l.Take(demo.ID("spar left"), 1, measuring.NewReading{Check: demo.Check("spar left", 0), Text: "115", Instrument: demo.ID("rule")}))
	entries := l.Log(400)
	said := map[string]ledger.LogEntry{}
	for i := len(entries) - 1; i >= 0; i-- { // the latest of each kind
		kind := entries[i].Kind
		if strings.HasSuffix(entries[i].What, "questioned") {
			kind = "questioned"
		}
		said[kind] = entries[i]
		assert.NotEmpty(t, entries[i].What)
		assert.NotContains(t, entries[i].What+entries[i].Detail, "%!")
		assert.Len(t, entries[i].Hash, 64)
	}
	for kind, want := range map[string][2]string{
		"reading":       {"left tip, angle: 0.07", "Tailplane on the rails · Twist · level 2 · hands off · in place of the one before: mistyped"},
		"taken-back":    {"left tip, support under it: 0.06 up taken back", "Tailplane on the rails · Twist · wrong mark"},
		"check-changed": {"Twist: not held down", ""},
		"release":       {"Tailplane: released, Drill the tailplane's end holes", "evidence stop"},
		"step":          {"Tailplane: done, Drill the tailplane's end holes", "the two end holes at each tip · four holes"},
		"event":         {"Tailplane on the rails: turned over", "readings that it disturbs no longer count"},
		"questioned":    {"root, offset: 115 questioned", "Main spar, left on the bench · Straightness of the cap · is 100 mm, a burnt 100 mm not taken off, from its twin (15)"},
		"holes":         {"Tail boom, row 4, right stringer, hole 9: bad", "bucked crooked · with a bucker"},
		"look":          {"Looked at: row 6, fairing strip", "taken apart, deburred on both faces, chips cleared, primed where wanted, refitted"},
		"count":         {"Counted: Tail boom, the boom bay", "3 × tool counted in"},
		"slip-told":     {"Slip: wrong part or hand", "rib 3 was pinned the wrong way round · Lay rib and twin on one another before the first cleco."},
		"zero-test":     {"level 2 turned end for end: zero −0.04°", "first 0.07 · turned -0.15"},
		"notice":        {"notice added: Stringers of lot 2118: hardness to be checked", "Send a picture of the stamp; parts of other lots are sound."},
	} {
		assert.Equal(t, want[0], say.Plain(said[kind].What), kind)
		assert.Equal(t, want[1], say.Plain(said[kind].Detail), kind)
	}
	assert.Equal(t, "kit maker answered today: go on · kept: a mail", said["release"].Answer)
	assert.Equal(t, "helper", said["step"].By)
}

func TestAnExportLeavesOutWhatDoesNotCountAndCanBeEmpty(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	l.Moved(loft.OnRails, measure.BenchMoved)
	data := l.Worksheet(loft.OnRails)
	assert.NotContains(t, string(data), "52.5", "the stale survey is not in it")
	assert.Contains(t, string(data), "0.39 up")
	l.Moved(loft.OnRails, measure.Moved)
	assert.Contains(t, string(l.Worksheet(loft.OnRails)), `"checks": []`)
}
