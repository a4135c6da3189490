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
	"orpine/internal/overview"
	"orpine/internal/stores"
	"orpine/test/loft"
)

func TestThePartsAndStoresForms(t *testing.T) {
	l := loft.Demo(t)
	for field, n := range map[string]stores.NewPart{
		"number": {Name: "x", Hand: "left"}, "name": {Number: "x", Hand: "left"}, "hand": {Number: "x", Name: "x", Hand: "both"}, "assembly": {Number: "x", Name: "x", Hand: "none", Assembly: demo.ID("foreplane")},
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
	assert.Equal(t, part.Riveted, s.Parts[3].Depth)
	assert.Contains(t, loft.Problems(t, l.Stores.AddNotice(l.Ctx(), stores.NewNotice{Form: l.Form(), Airframe: demo.ID("samphire"), Title: "x"})), "numbers")
	assert.Contains(t, loft.Problems(t, l.Stores.CountStock(l.Ctx(), stores.NewStock{Form: l.Form(), Airframe: demo.ID("samphire"), Sort: "rivet", Name: "x", Number: -3})), "note")
	assert.Contains(t, loft.Problems(t, l.Stores.CountStock(l.Ctx(), stores.NewStock{Form: l.Form(), Airframe: demo.ID("samphire"), Sort: "glue", Name: "x", Number: 3})), "sort")

	// The rib's geometry is a stop, whatever two people say.
	n := holding.NewStand{Form: loft.Named("hold of rib"), Assembly: demo.ID("aileron right"), Name: "Rivet rib 3", Step: "rivet", Permanent: "rib 3", Why: "w", Parts: []string{demo.ID("rib right")}, Second: true}
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
