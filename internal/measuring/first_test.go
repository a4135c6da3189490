package measuring_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/school"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

// evening is a first evening: a surface that is stiff, four stations, and an instrument that any shop has.
func evening(t *testing.T, with string, definition map[string]any) (l *loft.Loft, id string) {
	t.Helper()
	l = loft.Demo(t)
	if definition == nil {
		definition = map[string]any{"kind": "twist", "held": false, "stiff": true, "limits": map[string]any{"twist": map[string]any{"low": "-0.15", "high": "0.15"}},
			"stations": []any{station("root", "0"), station("inner", "600"), station("mid", "1200"), station("outer", "1800")}}
	}
	n := measuring.NewSetup{Form: l.Form(), Assembly: demo.ID("tailplane"), Name: "on the bench", Checks: []measuring.NewCheck{{Name: "Is it true", Instrument: with, Definition: definition}},
		Hold: &gate.NewHold{Name: "Rivet the tip", Step: "rivet", Permanent: "the tip rivets", Why: "They lock the twist in.", Required: []hold.Requirement{{Need: hold.Tested, Check: "0"}, {Need: hold.Shown, Check: "0"}}}}
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
	return l, n.ID
}

func station(name, y string) map[string]any { return map[string]any{"name": name, "y": y} }

// read places the instrument at all stations once.
func read(t *testing.T, l *loft.Loft, setup string, moved bool, texts ...string) {
	t.Helper()
	c := l.SetupOf(setup).Checks[0]
	in := c.Instrument
	for i, text := range texts {
		require.NoError(t, l.Take(setup, i+1, measuring.NewReading{Check: c.ID, Text: text, Instrument: in, Moved: moved}))
	}
}

// Four even stations weigh 0.9, 0.3, 0.3 and 0.9, Σ² = 1.8. Read once with a spirit level of which nothing is
// known, u² = 1.8·(0.06²/12 + 0.05² + 0.04²) = 0.00792, ± 0.178°: unsure within ±0.15°. Three placings each, moved, that
// repeat themselves: the pooled variance is 4·(0.05² + 0.04²)/(4 + 8) = 0.00136667, and u² = 1.8·(0.0003 + 0.00136667/3) and
// the scale's (0.024·0.05)²/3: u = 0.036885, and 0.024° is go, at a hold too.
func TestAFirstGoRestsOnWhatIsUsual(t *testing.T) {
	t.Parallel()
	l, id := evening(t, "quick:spirit", nil)
	once := []string{"0.02", "0.03", "0.02", "0.05"}
	read(t, l, id, false, once...)
	q, _ := l.SetupOf(id).Checks[0].Headline()
	assert.InDelta(t, 0.024, q.Value, 1e-9)
	assert.InDelta(t, 0.08899, q.U, 1e-5)
	assert.Equal(t, measure.Unsure, q.Verdict)
	sheet, err := l.Workshop.Setup(l.Ctx(), id, "", 0)
	require.NoError(t, err)
	assert.Equal(t, "Place it 3 times at each point", sheet.Answer.Next)
	assert.Equal(t, 1, sheet.Answer.Goal.Spot, "the field itself is opened")

	read(t, l, id, true, once...)
	read(t, l, id, true, once...)
	q, _ = l.SetupOf(id).Checks[0].Headline()
	assert.InDelta(t, 0.036885, q.U, 1e-6)
	assert.Equal(t, measure.Go, q.Verdict)
	sheet, err = l.Workshop.Setup(l.Ctx(), id, "", 0)
	require.NoError(t, err)
	assert.Equal(t, "inside the limits", sheet.Answer.Why, "and not surely")
	assert.Equal(t, "spirit level, not proven: of its step, spread, place where it stands and scale what is usual is taken", sheet.Answer.Rests)

	require.Len(t, sheet.Holds, 1)
	judged := l.HoldOf(sheet.Holds[0].ID).Judgement
	met := ""
	for _, line := range judged.Lines {
		if line.Standing == hold.Met {
			met += say.Plain(line.What + ": " + line.Why + "\n")
		}
	}
	assert.Contains(t, met, "spirit level turned end for end: not proven: the constant error that is usual of such a one is taken")
	assert.Contains(t, met, "twist +0.02° ± 0.08°, not proven: of spirit level what is usual is taken")
	assert.Contains(t, string(l.Worksheet(id)), `"type": "spirit-level"`)
	l.Verify()

	require.NoError(t, l.Schools(sheet.Airframe.ID, school.Choice{school.Instruments: school.Proven}))
	asked := l.HoldOf(sheet.Holds[0].ID).Judgement
	assert.Equal(t, hold.Missing, asked.Standing, "the aircraft asks for proven instruments")
	assert.Contains(t, say.Plain(asked.Lines[0].Why), "not proven, and proven instruments are asked for here: turn it end for end")
	assert.Equal(t, measure.Go, l.SetupOf(id).Checks[0].Result.Verdict, "what was measured is as it was")
}

// Placings on one spot repeat what is wrong with the spot: 1.8·(0.0003 + 0.04² + 4·0.05²/12/3) = 0.003920, and one that was
// not moved makes all of them so.
func TestPlacingsOnOneSpotDoNotShowIt(t *testing.T) {
	t.Parallel()
	l, id := evening(t, "quick:spirit", nil)
	once := []string{"0", "0", "0", "0"}
	read(t, l, id, false, once...)
	read(t, l, id, true, once...)
	read(t, l, id, false, once...)
	q, _ := l.SetupOf(id).Checks[0].Headline()
	assert.InDelta(t, 0.06261, q.U, 1e-5)
	assert.NotContains(t, string(l.Worksheet(id)), "moved")
}

// Of first readings that all show 0 and blind ones that rise to 0.3° the twist differs by 0.3°; by chance it would by
// 2·√(1.8·(0.06² + 0.04²)·4/3) = 0.22° at most.
func TestFirstReadingsThatLeanAreNoGo(t *testing.T) {
	t.Parallel()
	l, id := evening(t, "quick:level-0.01", nil)
	read(t, l, id, false, "0.00", "0.00", "0.00", "0.00")
	for range 3 {
		read(t, l, id, true, "0.00", "0.10", "0.20", "0.30")
	}
	c := l.SetupOf(id).Checks[0]
	assert.Equal(t, measure.Unsure, c.Result.Verdict)
	assert.Contains(t, say.Plain(c.Result.Findings[0].Text), "the first may have leaned to what was expected")
}

// The step of a display in 0.1° alone makes 2.5 u of a roll 2.5·√(2·0.1²/12) = 0.102°: that is said before anything is
// read, and one in 0.05° would do.
func TestWhatCannotDecideIsSaidBeforehand(t *testing.T) {
	t.Parallel()
	roll := map[string]any{"kind": "level", "span": "2880", "limits": map[string]any{"roll": map[string]any{"low": "-0.1", "high": "0.1"}}}
	says := func(with string) string {
		l, id := evening(t, with, roll)
		sheet, err := l.Workshop.Setup(l.Ctx(), id, "", 0)
		require.NoError(t, err)
		return say.Plain(sheet.Answer.Lacks)
	}
	coarse := says("quick:level-0.1")
	assert.Contains(t, coarse, "igital level in steps of 0.1° cannot decide this")
	assert.Contains(t, coarse, "digital level in steps of 0.05° would")
	assert.Empty(t, says("quick:level-0.05"))
}

// How a surface lies decides what is moved: the jig of one that takes its shape, and nothing under one that is stiff.
func TestHowItLiesDecidesWhatIsMoved(t *testing.T) {
	t.Parallel()
	l, id := evening(t, "quick:level-0.01", map[string]any{"kind": "twist", "tip_spacing": "700", "limits": map[string]any{"twist": map[string]any{"low": "-0.1", "high": "0.1"}}, "stations": []any{station("root", "0"), station("tip", "1800")}})
	require.True(t, l.SetupOf(id).Checks[0].Unlaid)
	moves := map[string]int{check.InJig: 1, check.LiesFree: 0}
	for lies, n := range moves {
		c := l.SetupOf(id).Checks[0]
		require.NoError(t, l.Redefine(id, measuring.Redefine{Check: c.ID, Lies: lies}))
		if c.Taken == 0 {
			read(t, l, id, false, "0", "0.5")
		}
		c = l.SetupOf(id).Checks[0]
		assert.Equal(t, lies, c.Lies)
		assert.Len(t, c.Result.Moves, n, lies)
	}
	assert.Contains(t, loft.Problems(t, l.Redefine(id, measuring.Redefine{Check: l.SetupOf(id).Checks[0].ID, Lies: "about"}))[""], "Choose one of the three")
}

// What is stated of a typed instrument counts, and what it proves takes the place of what is usual.
func TestAProvenLevelAssumesNoConstantError(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	require.NoError(t, l.Instruments.Add(l.Ctx(), instrument.NewInstrument{Form: loft.Named("bought"), Name: "bought", Type: "digital level", Resolution: "0.05"}))
	find := func() instrument.Instrument {
		list, err := l.Instruments.List(l.Ctx())
		require.NoError(t, err)
		in, ok := instrument.ByID(list, loft.ID("bought"))
		require.True(t, ok)
		return in
	}
	in := find()
	assert.Equal(t, "digital-level", in.Type)
	assert.Equal(t, "level", in.Sort)
	assert.Equal(t, 0.2, in.Core().Offset)
	assert.Equal(t, "0.20° as usual", say.Plain(in.UsualOf("offset")))
	require.NoError(t, l.Instruments.Test(l.Ctx(), instrument.EndForEnd{Form: l.Form(), Instrument: in.ID, First: "0.10", Turned: "0.00"}))
	in = find()
	assert.Empty(t, in.UsualOf("offset"))
	assert.Contains(t, in.Worksheet(), "zero_u")
	wrong := loft.Problems(t, l.Instruments.Add(l.Ctx(), instrument.NewInstrument{Form: l.Form(), Name: "blind", Type: "digital level", PerDegree: "x", Spot: "-1"}))
	assert.Contains(t, wrong["resolution"], "the smallest step of its display")
	assert.Contains(t, wrong["per_degree"], "as 0.02")
	assert.Contains(t, wrong["spot"], "cannot be negative")
}

// With a reading that stands in the field the twist of three places moves and nothing is kept; a place that was read is not
// answered for while it is read again, and what cannot be read is not.
func TestTheAnswerMovesWithWhatStandsInTheField(t *testing.T) {
	t.Parallel()
	l, id := evening(t, "quick:spirit", nil)
	read(t, l, id, false, "0.02", "0.03")
	sheet, err := l.Workshop.Setup(l.Ctx(), id, "", 0)
	require.NoError(t, err)
	asIf := func(number int, text string) (check.Answer, bool) {
		c, a, ok := l.Workshop.AsIf(sheet, number, measuring.NewReading{Check: sheet.Check.ID, Text: text, Instrument: sheet.Check.Instrument})
		if ok {
			assert.Equal(t, 3, c.Taken)
		}
		return a, ok
	}
	a, ok := asIf(3, "0.15")
	require.True(t, ok)
	assert.InDelta(t, 0.13, a.Headline.Value, 1e-9, "(0.15 − 0.02) over as far as is read")
	assert.Equal(t, "notyet", a.Verdict)
	assert.Equal(t, "Not kept", a.Word)
	for number, text := range map[int]string{3: "0.1x", 4: "", 1: "0.02", 9: "0"} {
		_, ok := asIf(number, text)
		assert.False(t, ok, "%d %s", number, text)
	}
	assert.Equal(t, 2, l.SetupOf(id).Checks[0].Taken, "nothing was kept")
}

// A spirit level has no figures: what is said of its bubble is understood, and what a line of it is worth is asked.
func TestWhatIsSaidAtALevelOfGlassIsUnderstood(t *testing.T) {
	t.Parallel()
	cross := measure.Spot{Sense: "cross-level", Dimension: measure.Angle}
	pitch := measure.Spot{Sense: "pitch", Dimension: measure.Angle}
	echo := func(text string, at measure.Spot) string {
		says, err := measuring.Echo(text, at, quantity.Millimetre, 0.06)
		if err != nil {
			return err.Error()
		}
		return say.Plain(says)
	}
	for text, at := range map[string]measure.Spot{"bubble centred": cross, "Centered": pitch, "the bubble is level": cross, "plumb": pitch} {
		assert.Contains(t, echo(text, at), "0.00°", text)
	}
	assert.Equal(t, echo("0.05 R", cross), echo("0.05 left high", cross))
	assert.Equal(t, echo("0.05 L", cross), echo("0.05 right high", cross))
	assert.Contains(t, echo("half a line left", cross), "how much is a line of this level?")
	assert.Contains(t, echo("centred", measure.Spot{Sense: "length"}), "centred", "a length is not")

	l, id := evening(t, "quick:spirit", nil)
	read(t, l, id, false, "bubble centred")
	c := l.SetupOf(id).Checks[0]
	assert.Equal(t, "bubble centred", c.Spots[0].Readings[0].Text, "as it was typed")
	assert.Zero(t, c.Spots[0].Readings[0].Value)
	read(t, l, id, false)
	for number, text := range []string{"0.03", "0.02", "centred"} {
		require.NoError(t, l.Take(id, number+2, measuring.NewReading{Check: c.ID, Text: text, Instrument: c.Instrument}))
	}
	assert.Contains(t, string(l.Worksheet(id)), `"0"`, "a worksheet has figures")
}
