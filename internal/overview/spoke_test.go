package overview_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/demo"
	"orpine/internal/instrument"
	"orpine/test/loft"
)

// The first number that an instrument sends is kept, and a step coarser than its card's counts.
func TestWhatAnInstrumentSaysItIs(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	said := func(serial, step string) error {
		return l.Instruments.Spoke(l.Ctx(), instrument.Spoke{Form: l.Form(), Instrument: demo.ID("level 2"), Serial: serial, Step: step, Unit: "deg"})
	}
	was := l.Tool("level 2")
	require.NoError(t, said("SIM-1", was.Resolution))
	assert.Equal(t, was.Core().Resolution, l.Tool("level 2").Core().Resolution)
	entries := l.Verify()
	require.NoError(t, said("SIM-1", was.Resolution))
	assert.Equal(t, entries, l.Verify(), "nothing new was said")
	assert.Contains(t, loft.Problems(t, said("ZZZ-1", "0.5"))["address"], "this is not the level that was proven")
	assert.Contains(t, loft.Problems(t, said("", "0.5"))["address"], "no serial number")
	require.NoError(t, said("SIM-1", "0.5"))
	assert.InDelta(t, 0.5, l.Tool("level 2").Core().Resolution, 1e-12, "half degrees, whatever its card says")
	assert.InDelta(t, 0.5, l.Tool("level 2").Tool().Step, 1e-12)
	l.Verify()
}
