package instrument_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/test/loft"
)

// What was found of an instrument before is in force again when a proof, or a test end for end, is
// taken back: zero is (0.07 − 0.15)/2 = −0.04° of the first test and (0.3 − 0.1)/2 = 0.1° of the
// second. One that is not the last changes nothing that is in force.
func TestProofsAreTakenBack(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 1)
	ctx := l.Ctx()
	back := func(entry string) error {
		return l.Retract(ctx, ledger.Mistaken{Form: l.Form(), Entry: loft.ID(entry), By: "builder", Reason: "it was another level"})
	}
	of := l.Tool
	require.NoError(t, l.Instruments.Add(ctx, instrument.NewInstrument{Form: loft.Named("a level"), Name: "a level", Sort: "level", Resolution: "0.01", Offset: "0.05"}))
	level := loft.ID("a level")
	require.NoError(t, l.Instruments.Test(ctx, instrument.EndForEnd{Form: loft.Named("one"), Instrument: level, First: "0.07", Turned: "-0.15"}))
	require.NoError(t, l.Instruments.Test(ctx, instrument.EndForEnd{Form: loft.Named("two"), Instrument: level, First: "0.3", Turned: "-0.1"}))
	assert.InDelta(t, 0.1, float64(of("a level").Zero), 1e-9)
	require.NoError(t, back("two"))
	assert.InDelta(t, -0.04, float64(of("a level").Zero), 1e-9)
	assert.Contains(t, loft.Problems(t, back("two"))[""], "taken back already")
	require.NoError(t, back("one"))
	assert.Zero(t, of("a level").Zero)
	assert.True(t, of("a level").ZeroAt.IsZero())

	rule := loft.BenchRule
	require.NoError(t, l.Instruments.Prove(ctx, instrument.NewProof{Form: loft.Named("first"), Instrument: rule, What: "offset", Texts: []string{"300", "300.5"}}))
	first := of("rule").OffsetFound
	require.NoError(t, l.Instruments.Prove(ctx, instrument.NewProof{Form: loft.Named("second"), Instrument: rule, What: "offset", Texts: []string{"300", "302"}}))
	require.NoError(t, back("first"))
	assert.Greater(t, of("rule").OffsetFound, first, "the second is in force, as before")
	require.NoError(t, back("second"))
	assert.Zero(t, of("rule").OffsetFound)
	l.Verify()
}
