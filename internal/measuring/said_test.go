package measuring_test

import (
	"database/sql"
	"errors"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/worksheet"
	"orpine/test/loft"
)

// lengths is a workshop with a length of some mm to be checked, and its tape.
func lengths(t *testing.T, design string, tape instrument.NewInstrument) (l *loft.Loft, check string, in string) {
	l = loft.Empty(t)
	tape.Form, tape.Name = loft.Named("tape"), "tape"
	require.NoError(t, l.Instruments.Add(l.Ctx(), tape))
	setup := measuring.NewSetup{Form: loft.Named("setup"), Name: "on the floor", Checks: []measuring.NewCheck{{Name: "Spar", Definition: map[string]any{
		"kind": "length", "design": design, "measured": []any{}, "limits": map[string]any{"error": map[string]any{"low": -5, "high": 5}}}}}}
	require.NoError(t, l.Measuring.Begin(l.Ctx(), setup))
	return l, ledger.Child(setup.ID, "check 0"), loft.ID("tape")
}

// steel is a tape of whole millimetres.
var steel = instrument.NewInstrument{Sort: "tape", Resolution: "1 mm", Class: "0.3 mm + 0.2 mm a metre", Spread: "0.4 mm"}

// solved is what the screen shows, and what its exported worksheet solves to.
func solved(t *testing.T, l *loft.Loft) (shown, exported measure.Quantity) {
	t.Helper()
	s := l.SetupOf(loft.ID("setup"))
	require.NotNil(t, s.Checks[0].Result, "%v", s.Checks[0].Problems)
	shown, _ = s.Checks[0].Headline()
	doc, errs := worksheet.Parse(l.Worksheet(s.ID))
	require.Empty(t, errs)
	exported, _ = doc.Solve()[0].Quantity(shown.Name)
	assert.Equal(t, shown.Value, exported.Value)
	assert.Equal(t, shown.U, exported.U)
	return shown, exported
}

// A class of 0.3 mm + 0.2 mm a metre at 6 m: offset 0.3, and 1.2 mm of proportion. Hung, at
// 20 g/m and 50 N, it reads 0.1385 mm too much.
func TestALongTapeIsTakenInWithItsClassAndItsSag(t *testing.T) {
	t.Parallel()
	l, check, in := lengths(t, "6000", steel)
	require.NoError(t, l.Take(loft.ID("setup"), 1, measuring.NewReading{Check: check, Text: "6001", Instrument: in}))
	flat, _ := solved(t, l)
	assert.InDelta(t, 1, flat.Value, 1e-9)
	assert.InDelta(t, math.Sqrt(1.0/12+0.16+0.03+36*0.04/3), flat.U, 1e-3)
	require.NoError(t, l.Take(loft.ID("setup"), 1, measuring.NewReading{Check: check, Text: "6001", Instrument: in, Hung: true, InPlace: "misread"}))
	hung, _ := solved(t, l)
	assert.InDelta(t, 1-0.1386, hung.Value, 1e-3)
	corrected := l.SetupOf(loft.ID("setup")).Checks[0].Corrected
	require.Len(t, corrected, 1)
	assert.Equal(t, []string{"sag of the tape", "−0.14 ± 0.12 mm"}, []string{corrected[0].How, say.Plain(corrected[0].Result)})
	assert.Greater(t, hung.U, flat.U)
}

// An aluminium part at 5 °C under a steel tape: (11.5 − 23.1)·10⁻⁶·(−15)·6000 = 1.044 mm more at
// 20 °C, with 2 K of each: 6000·√(11.5² + 23.1²)·10⁻⁶·2 = 0.3096 mm.
func TestALengthIsBroughtToTwentyDegrees(t *testing.T) {
	t.Parallel()
	l, check, in := lengths(t, "6000", steel)
	require.NoError(t, l.Take(loft.ID("setup"), 1, measuring.NewReading{Check: check, Text: "5999", Instrument: in}))
	cold, _ := solved(t, l)
	tell := func(material, temperature, was string) error {
		return l.Measuring.SayWarmth(l.Ctx(), measuring.Warmth{Form: l.Form(), Setup: loft.ID("setup"), Material: material, Temperature: temperature, Was: was})
	}
	assert.Contains(t, loft.Problems(t, tell("cheese", "5", ""))["material"], "one of the list")
	assert.Contains(t, loft.Problems(t, tell("aluminium", "500", ""))["temperature"], "between -30 and 60")
	require.NoError(t, tell("aluminium", " 5,0 °C", "; "))
	warm, _ := solved(t, l)
	assert.InDelta(t, cold.Value+1.044, warm.Value, 2e-3)
	assert.InDelta(t, math.Hypot(cold.U, 0.3096), warm.U, 1e-3)
	assert.Contains(t, loft.Problems(t, tell("steel", "5", "; "))[""], "aluminium, 5 °C")
	require.NoError(t, tell("aluminium", "50 F", "aluminium; 5.0"))
	assert.Equal(t, "aluminium, 10 °C", say.Plain(l.SetupOf(loft.ID("setup")).Warmth()))
	require.NoError(t, tell("steel", "5", "aluminium; 10.0"))
	same, _ := solved(t, l)
	assert.Equal(t, cold.Value, same.Value, "steel on steel")
	require.NoError(t, l.Measuring.SomethingMoved(l.Ctx(), measuring.SomethingMoved{Form: l.Form(), Setup: loft.ID("setup"), State: 1, What: measure.Temperature}))
	assert.Equal(t, 1, l.SetupOf(loft.ID("setup")).Checks[0].Stale, "a length over 1 m")
	l.Verify()
}

// Strong of a mark is a quarter of a step more, whichever way it points; between two
// figures neither step nor spread counts.
func TestReadingsAsTheyAreSaid(t *testing.T) {
	t.Parallel()
	l, check, in := lengths(t, "100", steel)
	take := func(text string) error {
		return l.Take(loft.ID("setup"), 1, measuring.NewReading{Check: check, Text: text, Instrument: in, InPlace: map[bool]string{true: "misread"}[len(l.SetupOf(loft.ID("setup")).Checks[0].Spots[0].Counting()) > 0]})
	}
	for text, want := range map[string]float64{"100 strong": 0.25, "100 weak": -0.25, "between 99 and 102": 0.5, "4 in less 1/8": 0} {
		if text == "4 in less 1/8" { // 98.425 mm, and finer than whole millimetres: it is asked
			assert.Contains(t, loft.Problems(t, take(text))["slip"], "of 1 mm steps?")
			continue
		}
		require.NoError(t, take(text), text)
		shown, _ := solved(t, l)
		assert.InDelta(t, want, shown.Value, 1e-9, text)
	}
	require.NoError(t, take("99 goes, 102 not"))
	shown, _ := solved(t, l)
	assert.InDelta(t, math.Sqrt(9.0/12+0.03+0.01*0.04/3), shown.U, 1e-3)
	for text, says := range map[string]string{"between 102 and 99": "must be the smaller", "between 99": "between which two", "99 goes, x not": "number is missing", "strong": "number is missing"} {
		assert.Contains(t, loft.Problems(t, take(text))["text"], says, text)
	}
	assert.Contains(t, loft.Problems(t, take("100.37"))["slip"], "100.37 from tape of 1 mm steps? What lies beside a mark is read as strong or weak of it")
	require.NoError(t, l.Take(loft.ID("setup"), 1, measuring.NewReading{Check: check, Text: "100.37", Instrument: in, InPlace: "misread", Questioned: "100.37"}), "the same again is taken")
	echo, err := measuring.Echo("5 and 3/8 strong", measure.Spot{Sense: "length", Dimension: measure.Length}, quantity.Inch, 25.4/8)
	require.NoError(t, err)
	assert.Equal(t, "5 13/32 in", say.Reader{Inches: true}.Text(echo))
	_, err = measuring.Echo("5 strong", measure.Spot{Sense: "length", Dimension: measure.Length}, quantity.Millimetre, 0)
	assert.ErrorContains(t, err, "strong or weak of what?")
}

// leaning is a workshop with a fin, and a level that was turned end for end: zero −0.04.
func leaning(t *testing.T) (l *loft.Loft, take func(number int, text string)) {
	l = loft.Empty(t)
	require.NoError(t, l.Instruments.Add(l.Ctx(), instrument.NewInstrument{Form: loft.Named("level"), Name: "level", Sort: "level", Resolution: "0.01", Offset: "0", Spread: "0.015"}))
	require.NoError(t, l.Instruments.Test(l.Ctx(), instrument.EndForEnd{Form: l.Form(), Instrument: loft.ID("level"), First: "0.07", Turned: "-0.15"}))
	setup := measuring.NewSetup{Form: loft.Named("setup"), Name: "on the boom", Checks: []measuring.NewCheck{{Name: "Upright", Definition: map[string]any{
		"kind": "upright", "height": 1310, "datum": map[string]any{}, "left_face": map[string]any{}, "right_face": map[string]any{}, "limits": map[string]any{"lean": map[string]any{"low": -0.5, "high": 0.5}}}}}}
	require.NoError(t, l.Measuring.Begin(l.Ctx(), setup))
	check := ledger.Child(setup.ID, "check 0")
	return l, func(number int, text string) {
		require.NoError(t, l.Take(setup.ID, number, measuring.NewReading{Check: check, Text: text, Instrument: loft.ID("level")}))
	}
}

// Read one hour and three hours after a zero of −0.04, with one of 0.06 four hours after it:
// zeros of −0.015 and 0.035 in between. Before the closing test the level says that it was read
// long after its test; after it the zero is less sure by 0.1/√12.
func TestAClosingTestTellsTheZeroInBetween(t *testing.T) {
	t.Parallel()
	l, take := leaning(t)
	began := l.Now
	l.Now = began.Add(time.Hour)
	take(2, "3.2")
	l.Now = began.Add(3 * time.Hour)
	take(3, "3.1")
	before, _ := solved(t, l)
	s := l.SetupOf(loft.ID("setup"))
	assert.Equal(t, "level was read 3 hours after it was turned end for end: turn it once more, and what it drifted is taken off", s.Checks[0].Late)
	l.Now = began.Add(4 * time.Hour)
	require.NoError(t, l.Instruments.Test(l.Ctx(), instrument.EndForEnd{Form: l.Form(), Instrument: loft.ID("level"), First: "0.17", Turned: "-0.05"}))
	after, _ := solved(t, l)
	assert.Empty(t, l.SetupOf(loft.ID("setup")).Checks[0].Late)
	// lean = (left − right)/2, the right face read the other way round: (3.2 + 0.015 − (3.1 + 0.035))/2.
	assert.InDelta(t, (3.2+0.04-(3.1-0.04))/2, before.Value, 1e-9)
	assert.InDelta(t, (3.2+0.015-(3.1+0.035))/2, after.Value, 1e-9)
	own := (0.01*0.01/12 + 0.015*0.015) / 2
	assert.InDelta(t, math.Sqrt(own+own+0.1*0.1/12), after.U, 1e-6, "zero_u is itself half the sum of two")
	l.Verify()
}

// A check without limits says which one it wants, and a twist without a word on how the
// surface lies is of part and bench together.
func TestWhatNobodySaidIsAskedFor(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	stations := []any{map[string]any{"name": "root", "y": 0, "angle": map[string]any{}}, map[string]any{"name": "tip", "y": 1000, "angle": map[string]any{}}}
	n := measuring.NewSetup{Form: loft.Named("setup"), Assembly: demo.ID("rudder"), Name: "on the bench", Checks: []measuring.NewCheck{{Name: "Twist", Definition: map[string]any{"kind": "twist", "stations": stations}}},
		Hold: &gate.NewHold{Name: "Rivet", Step: "rivet", Permanent: "it", Why: "w", Required: []hold.Requirement{{Need: hold.Shown, Check: "0"}}}}
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
	check := ledger.Child(n.ID, "check 0")
	for i, text := range []string{"0.10", "0.20"} {
		require.NoError(t, l.Take(n.ID, i+1, measuring.NewReading{Check: check, Text: text, Instrument: demo.ID("level 2")}))
	}
	sheet, err := l.Workshop.Setup(l.Ctx(), n.ID, check, 0)
	require.NoError(t, err)
	assert.Equal(t, "twist of part and bench together", sheet.Answer.Name)
	assert.Equal(t, "Say how it lies", sheet.Answer.Next)
	assert.Contains(t, sheet.Answer.Then, "never of the part")
	line := func() hold.Line { return l.HoldOf(ledger.Child(n.ID, "hold")).Judgement.Lines[0] }
	assert.Contains(t, line().Why, "stiff or flexible, lying or held?")
	l.Held(n.ID, check, false)
	assert.Equal(t, "no limit is set, so there is no verdict: it wants a limit of twist of the part, tip over root, from the plans", line().Why)
	require.NoError(t, l.Judge(n.ID, check, measuring.CheckChange{Name: "Twist", Limits: map[string][2]string{"twist": {"-0.2", "0.2"}}}))
	assert.Contains(t, line().Why, "go: twist")
}

// Points that nobody said anything of are taken as the usual, and a go is not sure of them.
func TestPointsAreKnownAsWellAsSomeoneSays(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	join := demo.ID("tailplane join")
	c := l.SetupOf(join).Checks[0]
	assert.Empty(t, c.Assumed)
	require.NoError(t, l.Take(join, 6, measuring.NewReading{Check: c.ID, Text: "5922", Instrument: demo.ID("steel tape"), InPlace: "misread"}))
	sheet, err := l.Workshop.Setup(l.Ctx(), join, c.ID, 0)
	require.NoError(t, err)
	assert.Equal(t, "inside the limits, and surely", sheet.Answer.Why)
	assert.Contains(t, sheet.Answer.Rests, "level 2; 5 m steel tape; laser level")
	assert.Contains(t, sheet.Answer.Points, "of the doubt in pitch is where the points lie, most of all aft L")
	known := func(datum, marks string) error {
		return l.Judge(join, c.ID, measuring.CheckChange{Name: c.Name, Limits: map[string][2]string{"roll": {"-0.9", "0.9"}, "pitch": {"-0.9", "0.9"}, "yaw": {"-0.9", "0.9"}}, Known: map[string]string{"datum_u": datum, "points_u": marks}})
	}
	assert.Contains(t, loft.Problems(t, known("-1", "x"))["known.datum_u"], "cannot be negative")
	assert.Contains(t, loft.Problems(t, known("-1", "x"))["known.points_u"], "number is missing")
	require.NoError(t, known("", ""))
	sheet, err = l.Workshop.Setup(l.Ctx(), join, c.ID, 0)
	require.NoError(t, err)
	assert.Equal(t, "inside the limits", sheet.Answer.Why)
	assert.Contains(t, sheet.Answer.Rests, "marks taken to lie within 0.5 mm (u), for nobody said; points of the airframe taken to lie within 1 mm (u), for nobody said")
	doc, errs := worksheet.Parse(l.Worksheet(join))
	require.Empty(t, errs)
	shown, _ := sheet.Check.Result.Quantity("yaw")
	exported, _ := doc.Solve()[0].Quantity("yaw")
	assert.Equal(t, shown.U, exported.U, "what was assumed stands in the worksheet")
	require.NotEmpty(t, sheet.Check.Network().Doubts)
}

// With level 1 nothing that is placed more often decides the tailplane; level 2 would, and
// it is named.
func TestAFinerInstrumentIsNamed(t *testing.T) {
	t.Parallel()
	l, take := leaning(t)
	require.NoError(t, l.Instruments.Add(l.Ctx(), instrument.NewInstrument{Form: loft.Named("coarse"), Name: "box level", Sort: "level", Resolution: "2", Offset: "0", Spread: "0"}))
	take(2, "3.2")
	take(3, "3.1")
	c := l.SetupOf(loft.ID("setup")).Checks[0]
	for number := 2; number <= 3; number++ {
		require.NoError(t, l.Take(loft.ID("setup"), number, measuring.NewReading{Check: c.ID, Text: "4", Instrument: loft.ID("coarse"), InPlace: "other instrument"}))
	}
	s := l.SetupOf(loft.ID("setup"))
	require.Equal(t, measure.Unsure, s.Checks[0].Result.Verdict)
	assert.Equal(t, "use level, in steps of 0.01", s.Finer(s.Checks[0]))
}

// What said go to an earlier program, and is unsure to this one, says why at its hold.
func TestAGoThatIsUnsureSinceAnUpdateSaysWhy(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	_, err := l.Home(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	require.NoError(t, l.Measuring.Settle(l.Ctx(), 1))
	fin := demo.Check("fin upright", 0)
	db, err := sql.Open("sqlite", l.Data.Path())
	require.NoError(t, err)
	_, err = db.Exec("UPDATE standings SET arithmetic = 1, says = json_set(says, '$.Verdict', 1) WHERE check_id = ?", fin)
	require.NoError(t, errors.Join(err, db.Close()))
	var why string
	for _, line := range l.HoldOf(demo.HoldOf("fin upright")).Judgement.Lines {
		why += line.Why
	}
	assert.Contains(t, why, "unsure: lean")
	assert.Contains(t, why, "it said go until the program was brought up to date, which asks for more")
	l.Verify()
}
