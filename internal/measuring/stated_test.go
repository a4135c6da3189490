package measuring_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
	"orpine/internal/demo"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

// The board's own angle and how well the datum is the plans' reference are asked once of an aircraft: its next checks
// are offered what the last one that said so says, and no other aircraft is.
func TestBoardAndDatumAreKeptForTheAircraft(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	at, canard, err := l.Airframes.Assembly(l.Ctx(), demo.ID("foreplane"))
	require.NoError(t, err)
	frame := at.ID
	begin := func(name, board, boardU, datumU string) {
		t.Helper()
		definition := map[string]any{"kind": "incidence", "design": "1", "left": map[string]any{}, "board": board, "board_u": boardU}
		if datumU != "" {
			definition["datum_u"] = datumU
		}
		require.NoError(t, l.Measuring.Begin(l.Ctx(), measuring.NewSetup{Form: loft.Named(name), Assembly: canard.ID, Name: name, Checks: []measuring.NewCheck{{Name: "incidence", Definition: definition}}}))
	}
	begin("one", "0.5", "0.02", "0.05")
	begin("two", "0.45", "0.03", "0.04")
	begin("three", "0.45", "0.03", "")
	kept, err := l.Measuring.Stated(l.Ctx(), frame)
	require.NoError(t, err)
	assert.Equal(t, measuring.Stated{"board": "0.45", "board_u": "0.03", "datum_u": "0.04"}, kept, "the last that says so")

	incidence, _ := measuring.FormOf("incidence")
	fresh := incidence.Fresh(canard.Shape, quantity.Millimetre, kept)
	assert.Equal(t, []string{"0.45", "0.03", "0.04"}, []string{fresh["board"], fresh["board_u"], fresh["datum_u"]})
	pose, _ := measuring.FormOf("pose")
	for _, f := range pose.Fields() {
		assert.False(t, f.Kept, "the points of a join have a datum_u in mm: %s", f.Key)
	}
	lean, _ := measuring.FormOf("upright")
	assert.Equal(t, "0.04", lean.Fresh(canard.Shape, quantity.Millimetre, kept)["datum_u"], "one datum for all that is read from it")

	other, err := l.Measuring.Stated(l.Ctx(), demo.ID("no such aircraft"))
	require.NoError(t, err)
	assert.Empty(t, other)
}
