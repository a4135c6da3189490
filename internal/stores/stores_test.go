package stores_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/photo"
	"orpine/internal/stores"
	"orpine/test/loft"
)

func TestThePartsAndStoresForms(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	for field, n := range map[string]stores.NewPart{
		"name": {Number: "x", Hand: "left"}, "hand": {Number: "x", Name: "x", Hand: "both"}, "assembly": {Number: "x", Name: "x", Hand: "none", Assembly: demo.ID("foreplane")},
		"row": {Number: "x", Name: "x", Hand: "none", Assembly: demo.ID("fin"), Row: demo.ID("row 3")}, "check": {Number: "x", Name: "x", Hand: "none", Check: demo.Check("fin upright", 0)},
	} {
		n.Form, n.Airframe = l.Form(), demo.ID("samphire")
		assert.Contains(t, loft.Problems(t, l.Stores.AddPart(l.Ctx(), n)), field)
	}
	kept, err := l.Workshop.Store(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	seen := kept.Parts[slices.IndexFunc(kept.Parts, func(p overview.Part) bool { return p.ID == demo.ID("stringer spare") })].Revised
	require.NoError(t, l.Stores.MovePart(l.Ctx(), stores.PartMoved{Form: l.Form(), Part: demo.ID("stringer spare"), Seen: seen, Place: "on the boom", Assembly: demo.ID("tail boom"), Row: demo.ID("row 4")}))
	s, err := l.Workshop.Store(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	i := slices.IndexFunc(s.Parts, func(p overview.Part) bool { return p.ID == demo.ID("stringer spare") })
	assert.Equal(t, part.Riveted, s.Parts[i].Depth)
	assert.Contains(t, loft.Problems(t, l.Stores.AddNotice(l.Ctx(), stores.NewNotice{Form: l.Form(), Airframe: demo.ID("samphire"), Title: "x"})), "numbers")
	assert.Contains(t, loft.Problems(t, l.Stores.CountStock(l.Ctx(), stores.NewStock{Form: l.Form(), Airframe: demo.ID("samphire"), Sort: "rivet", Name: "x", Number: -3})), "note")
	assert.Contains(t, loft.Problems(t, l.Stores.CountStock(l.Ctx(), stores.NewStock{Form: l.Form(), Airframe: demo.ID("samphire"), Sort: "glue", Name: "x", Number: 3})), "sort")

	// The rib's geometry is a stop, whatever two people say.
	n := holding.NewStand{Form: loft.Named("hold of rib"), Assembly: demo.ID("aileron right"), Name: "Rivet rib 3", Same: holding.Others, Step: "rivet", Permanent: "rib 3", Why: "w", Parts: []string{demo.ID("rib right")}, Second: true}
	require.NoError(t, l.Holding.StandBefore(l.Ctx(), n))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Handed, Of: demo.ID("rib right"), By: "builder", Second: "helper"}))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Seconded, Of: n.ID, By: "helper", Note: "held it against the left one"}))
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Prepared, Of: n.ID, By: "builder", What: hold.Preparations}))
	h := l.HoldOf(n.ID)
	assert.Equal(t, hold.Stop, h.Judgement.Standing)
	assert.Contains(t, h.Judgement.Worst().Why, "geometry says")
	for field, n := range map[string]holding.NewStand{"name": {Step: "rivet"}, "step": {Name: "x", Step: "wash"}, "bay": {Name: "x", Step: "close"}, "setup": {Name: "x", Step: "rivet", Setup: loft.OnRails}, "parts": {Name: "x", Step: "rivet", Parts: []string{"none"}}} {
		n.Form, n.Assembly = l.Form(), demo.ID("aileron right")
		assert.Contains(t, loft.Problems(t, l.Holding.StandBefore(l.Ctx(), n)), field)
	}
}

// A skin lies in several rows and in a bay; a notice on its lot answers for each part, with
// what reaching it takes, and keeps what the inspection found.
func TestANoticeAnswersForEachPartAndKeepsWhatWasFound(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	samphire := demo.ID("samphire")
	skin := stores.NewPart{Form: loft.Named("skin"), Airframe: samphire, Name: "boom skin", Hand: "none"}
	require.NoError(t, l.Stores.AddPart(l.Ctx(), skin), "its number is not known yet")
	of := func() (overview.StoresSheet, overview.Affected) {
		s, err := l.Store(l.Ctx(), samphire)
		require.NoError(t, err)
		for _, a := range s.Notices[0].Affected {
			if a.ID == skin.ID {
				return s, a
			}
		}
		return s, overview.Affected{}
	}
	s, found := of()
	assert.Equal(t, part.Unknown, found.Answer, "what was never written down is looked at")
	assert.Equal(t, []string{"S2-57-3R, aileron rib 3, right · lot 2207 · process pressed", "S2-57-3L, aileron rib 3, left · lot 2207 · process pressed"}, s.Notices[0].Cleared, "the ribs are not affected, and what is written on them is shown")
	i := slices.IndexFunc(s.Parts, func(p overview.Part) bool { return p.ID == skin.ID })
	move := stores.PartMoved{Form: l.Form(), Part: skin.ID, Seen: s.Parts[i].Revised, Assembly: demo.ID("tail boom"), Row: demo.ID("row 3"), Rows: []string{demo.ID("row 4"), demo.ID("row 6"), demo.ID("row 4")}, Bays: []string{demo.Bay()}}
	for field, wrong := range map[string]stores.PartMoved{"rows": {Rows: []string{"none"}}, "bays": {Bays: []string{"none"}}} {
		wrong.Form, wrong.Part, wrong.Seen = l.Form(), skin.ID, move.Seen
		assert.Contains(t, loft.Problems(t, l.Stores.MovePart(l.Ctx(), wrong)), field)
	}
	require.NoError(t, l.Stores.MovePart(l.Ctx(), move))
	_, found = of()
	assert.Equal(t, []string{"row 4, right stringer", "row 6, fairing strip", "the boom bay"}, found.More)
	assert.Equal(t, 41+41+12, found.Drill, "the rivets of its three rows")
	assert.Equal(t, part.Riveted, found.Depth)
	assert.Greater(t, found.Hours, 10.0, "that were worked on the boom")
	for field, n := range map[string]stores.PartFound{"found": {Answer: "affected", By: "builder"}, "by": {Answer: "affected", Found: "f"}, "answer": {Answer: "perhaps", Found: "f", By: "builder"}} {
		n.Form, n.Notice, n.Part = l.Form(), s.Notices[0].ID, skin.ID
		assert.Contains(t, loft.Problems(t, l.Stores.Find(l.Ctx(), n)), field)
	}
	find := stores.PartFound{Form: l.Form(), Notice: s.Notices[0].ID, Part: skin.ID, Answer: string(part.NotAffected), Found: "the stamp reads 2120", By: "builder"}
	require.NoError(t, l.Stores.Find(l.Ctx(), find))
	require.NoError(t, l.Stores.Find(l.Ctx(), find), "sent twice, kept once")
	_, found = of()
	assert.Equal(t, part.NotAffected, found.Found.Answer)
	assert.Equal(t, "the stamp reads 2120", found.Found.Says)
	l.Verify()
}

// One alone names a clue that only this hand has; a photo of it and one of its twin are wanted first, and the line says
// what it rests on.
func TestOneAloneNamesAClueOfTheHand(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	rib, twin := demo.ID("rib left"), demo.ID("rib right")
	n := holding.NewStand{Form: loft.Named("hold of the left rib"), Assembly: demo.ID("aileron left"), Name: "Rivet rib 3", Same: holding.Others, Step: "rivet", Permanent: "rib 3", Why: "w", Parts: []string{rib}}
	require.NoError(t, l.Holding.StandBefore(l.Ctx(), n))
	hand := func() hold.Line {
		for _, line := range l.HoldOf(n.ID).Judgement.Lines {
			if line.Need == hold.Handed {
				return line
			}
		}
		return hold.Line{}
	}
	assert.Equal(t, hold.Missing, hand().Standing, "the label alone is never enough")

	bay := gate.LookAt{Form: l.Form(), Need: hold.Handed, Of: rib, By: "builder", Note: "joggle left", Twin: demo.Bay()}
	assert.Contains(t, loft.Problems(t, l.Look(bay)), "twin", "a photo of anything else is none of its twin")
	look := gate.LookAt{Need: hold.Handed, Of: rib, By: "builder", Note: "joggle left, flange towards you", Twin: twin}
	itself := look
	itself.Form, itself.Note, itself.Twin = l.Form(), "", rib
	wrong := loft.Problems(t, l.Look(itself))
	assert.Contains(t, wrong, "note")
	assert.Contains(t, wrong, "twin", "it is not its own twin")
	assert.Contains(t, loft.Problems(t, l.Look(look))["photo"], "a photo of it is wanted")
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: loft.Named("photo of the rib"), Of: rib, Data: loft.PNG(t, 40, 30)}))
	assert.Contains(t, loft.Problems(t, l.Look(look))["photo"], "of its twin")
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: loft.Named("photo of the twin"), Of: twin, Data: loft.PNG(t, 41, 30)}))
	require.NoError(t, l.Look(look))
	assert.Equal(t, hold.Met, hand().Standing)
	assert.Contains(t, hand().Why, "by a clue that only this hand has: joggle left, flange towards you; seen by builder")

	sheet, err := l.Workshop.Hold(l.Ctx(), n.ID)
	require.NoError(t, err)
	one := sheet.Hands[rib]
	assert.Len(t, one.Photos, 1)
	assert.Equal(t, twin, one.Twins[0].ID, "the one with a photo first")

	back := func(name string) error {
		return l.Retract(l.Ctx(), ledger.Mistaken{Form: l.Form(), Entry: loft.ID(name), By: "builder", Reason: "blurred"})
	}
	for _, name := range []string{"photo of the rib", "photo of the twin"} {
		assert.Contains(t, loft.Problems(t, back(name))[""], "builder answered for a hand alone, by this photo", name)
	}
	require.NoError(t, l.Photos.Add(l.Ctx(), photo.NewPhoto{Form: l.Form(), Of: rib, Data: loft.PNG(t, 42, 30)}))
	require.NoError(t, back("photo of the rib"), "another one is there")
	l.Verify()
}
