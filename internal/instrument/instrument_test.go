package instrument

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
	"orpine/internal/ledger"
)

var noon = time.Date(2026, 4, 30, 12, 0, 0, 0, time.UTC)

func after(hours float64) time.Time { return noon.Add(time.Duration(hours * float64(time.Hour))) }

// A level of 0.1° steps, spread 0.03°, offset 0.2°: a placing has u = √(0.1²/12 + 0.03²) = 0.04163°, and a
// zero, half the sum of two readings, 0.02944°. Two zeros agree within 2√2·0.02944 = 0.08327°; the first of
// all agrees with the assumed 0 ± 0.2/√3 within 2√(0.01333 + 0.000867) = 0.23831°.
func level() Instrument {
	return Instrument{Name: "level", Sort: "level", Angle: true, Resolution: "0.1", Spread: "0.03", Offset: "0.2", ZeroAt: noon}
}

func TestTheZeroOfALevelIsThatOfTheTestsAroundAReading(t *testing.T) {
	t.Parallel()
	i := level()
	require.InDelta(t, 0.029439, i.ZeroU(), 1e-6)
	for name, c := range map[string]struct {
		tests Zeros
		read  time.Time
		want  Zeroed
	}{
		"never tested":                 {nil, noon, Zeroed{}},
		"shortly after its test":       {Zeros{{Zero: 0.05, At: noon}}, after(1), Zeroed{Zero: 0.05, Test: noon, Gap: time.Hour}},
		"long after, and none after":   {Zeros{{Zero: 0.05, At: noon}}, after(3), Zeroed{Zero: 0.05, Test: noon, Gap: 3 * time.Hour, Late: 3 * time.Hour}},
		"one after that agrees":        {Zeros{{Zero: 0.05, At: noon}, {Zero: 0.13, At: after(4)}}, after(3), Zeroed{Zero: 0.05, Test: after(4), Gap: time.Hour}},
		"one after that does not":      {Zeros{{Zero: 0.05, At: noon}, {Zero: 0.14, At: after(4)}}, after(1), Zeroed{Zero: 0.05 + 0.09/4, Changed: 0.09, Moved: true, Test: noon, Gap: time.Hour}},
		"one of another day that does": {Zeros{{Zero: 0.05, At: noon}, {Zero: 0.14, At: after(30)}}, after(3), Zeroed{Zero: 0.05, Moved: true, Test: noon, Gap: 3 * time.Hour, Late: 3 * time.Hour}},
		"first test, inside its bound": {Zeros{{Zero: 0.23, At: after(1)}}, noon, Zeroed{Zero: 0.23, Test: after(1), Gap: time.Hour}},
		"first test, beyond its bound": {Zeros{{Zero: 0.24, At: after(1)}}, noon, Zeroed{Zero: 0.24, Moved: true, Test: after(1), Gap: time.Hour}},
	} {
		got := i.When(c.tests, c.read)
		assert.InDelta(t, c.want.Zero, got.Zero, 1e-12, name)
		assert.InDelta(t, c.want.Changed, got.Changed, 1e-12, name)
		got.Zero, got.Changed, c.want.Zero, c.want.Changed = 0, 0, 0, 0
		assert.Equal(t, c.want, got, name)
	}
	unknown := Instrument{Angle: true, Sort: "level", Resolution: "0.1"}
	assert.False(t, unknown.When(Zeros{{Zero: 2, At: after(1)}}, noon).Moved, "nothing was said of its bound")
}

func TestAProofIsDueByItsSort(t *testing.T) {
	t.Parallel()
	until, ok := level().Due()
	assert.True(t, ok)
	assert.Equal(t, after(12), until, "twelve hours, so that midnight ends nothing")
	i := level()
	i.DueDays = 7
	until, ok = i.Due()
	assert.True(t, ok)
	assert.Equal(t, after(7*24), until)
	_, ok = Instrument{Sort: "tape"}.Due()
	assert.False(t, ok, "a tape is good until it is said else")
	tape := Instrument{Sort: "tape", DueDays: 30, OffsetAt: noon}
	until, ok = tape.Due()
	assert.True(t, ok)
	assert.Equal(t, noon.AddDate(0, 0, 30), until, "by a known length")
	_, ok = Instrument{Sort: "board", Angle: true}.Due()
	assert.False(t, ok, "a board reads nothing")
}

func TestWhatWasFoundCountsBeforeWhatWasTyped(t *testing.T) {
	t.Parallel()
	i := Instrument{Sort: "tape", Resolution: "1 mm", Offset: "0.5 mm", Spread: "0.4 mm", PerMetre: "0.2"}
	assert.Equal(t, map[string]any{"measures": "length", "resolution": "1 mm", "offset": "0.5 mm", "spread": "0.4 mm", "per_metre": "0.2"}, i.Worksheet())
	i.SpreadAt, i.SpreadFound, i.SpreadFrom, i.OffsetAt, i.OffsetFound = noon, 0.2, 10, noon, 0.1
	assert.Equal(t, "0.23 mm", i.Figure("spread"), "a seventh more than ten placings show")
	assert.Equal(t, "0.1 mm", i.Figure("offset"))
	assert.EqualValues(t, 10, i.Worksheet()["spread_from"])
	i.SpreadFrom = 3
	assert.NotContains(t, i.Worksheet(), "spread_from", "three tell nothing of their own spread")
	l := level()
	l.Zero = 0.05
	assert.Equal(t, 0.05, l.Worksheet()["zero"])
	assert.InDelta(t, 0.029439, l.Worksheet()["zero_u"], 1e-6)
	l.ZeroAt = time.Time{}
	assert.NotContains(t, l.Worksheet(), "zero")
	assert.Equal(t, "step and constant error and spread", Instrument{Sort: "rule"}.Tool().Unknown)
	assert.InDelta(t, 1, i.Near(), 1e-12, "the coarser of step and spread")
	i.SentStep = "2 mm"
	assert.InDelta(t, 2, i.Near(), 1e-12, "and of what it sends")
}

// w²l³/(24 p²): 20 g/m are 0.196133 N/m; at 6 m and 50 N that is 0.0384681·216/60,000 m = 0.13849 mm.
func TestATapeThatHangsReadsTooLong(t *testing.T) {
	t.Parallel()
	c, ok := Instrument{Name: "tape", Sort: "tape"}.Sag(6000)
	require.True(t, ok)
	assert.InDelta(t, -0.13849, c.Value, 1e-4)
	assert.InDelta(t, 0.4*0.13849, c.U, 1e-4, "a pull known to a fifth")
	heavy, _ := Instrument{Sort: "tape", Weight: "40", Pull: "100"}.Sag(6000)
	assert.InDelta(t, c.Value, heavy.Value, 1e-9, "twice the weight at twice the pull")
	_, ok = Instrument{Sort: "rule"}.Sag(6000)
	assert.False(t, ok)
}

func TestACardIsReadInTheUnitOfTheShop(t *testing.T) {
	t.Parallel()
	read := func(n NewInstrument) (NewInstrument, ledger.Problems) {
		wrong := ledger.Problems{}
		n.read(wrong)
		return n, wrong
	}
	n, wrong := read(NewInstrument{Name: " inch tape ", Sort: "tape", Unit: "in", Resolution: "1/32", Offset: "1 mm", PerMetre: "0.3"})
	assert.Empty(t, wrong)
	assert.Equal(t, []string{"inch tape", "1/32 in", "1 mm", "0.3"}, []string{n.Name, n.Resolution, n.Offset, n.PerMetre}, "a share is the same in any unit")
	n, wrong = read(NewInstrument{Name: "tape", Sort: "tape", Class: "0.3 mm + 0.2 mm a metre", Offset: "0.1"})
	assert.Empty(t, wrong)
	assert.Equal(t, []string{"1 mm", "0.1", "0.2 mm"}, []string{n.Resolution, n.Offset, n.PerMetre}, "what is typed comes before its class")
	for field, bad := range map[string]NewInstrument{
		"name":       {Sort: "tape", Resolution: "1"},
		"sort":       {Name: "a", Sort: "spoon"},
		"resolution": {Name: "a", Sort: "tape"},
		"offset":     {Name: "a", Sort: "tape", Resolution: "1", Offset: "-1"},
		"spread":     {Name: "a", Sort: "level", Resolution: "0.1", Spread: "3 mm"},
		"per_metre":  {Name: "a", Sort: "level", Resolution: "0.1", PerMetre: "0.2"},
		"weight":     {Name: "a", Sort: "tape", Resolution: "1", Weight: "heavy"},
		"pull":       {Name: "a", Sort: "tape", Resolution: "1", Pull: "-5"},
		"material":   {Name: "a", Sort: "tape", Resolution: "1", Material: "cheese"},
		"class":      {Name: "a", Sort: "tape", Resolution: "1", Class: "first"},
		"due_days":   {Name: "a", Sort: "tape", Resolution: "1", DueDays: "soon"},
		"own":        {Name: "a", Sort: "board"},
	} {
		_, wrong := read(bad)
		assert.Contains(t, wrong, field)
		assert.Len(t, wrong, 1, field)
	}
}

func TestWhatItSendsMayBeCoarserThanItsCard(t *testing.T) {
	t.Parallel()
	i := Instrument{Sort: "caliper", Resolution: "0.05 mm", Serial: "A1"}
	assert.Empty(t, i.coarser(Spoke{Unit: "mm", Step: "0.05"}))
	assert.Equal(t, "0.1 mm", i.coarser(Spoke{Unit: "mm", Step: "0.1"}))
	assert.Empty(t, i.coarser(Spoke{Unit: "mm"}))
	assert.True(t, i.same(Spoke{Serial: "A1", Unit: "mm", Step: "0.05"}))
	assert.False(t, Instrument{}.same(Spoke{}), "no serial is nobody's")
	assert.True(t, math.IsInf(1/Instrument{}.step(), 1), "no step is known")
	assert.Equal(t, "0.5", Instrument{Angle: true}.Exactly(0.5))
	assert.Equal(t, "0.5 mm", Instrument{}.Exactly(0.5))
	assert.Equal(t, quantity.Angle(0), Instrument{}.Zero)
}
