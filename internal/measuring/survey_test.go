package measuring_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

// onRails is a flexible surface of 1600 on rails 700 apart whose far front end is 3.5 high,
// read with a level in 0.01° and a laser, spreads stated.
func onRails(t *testing.T, laserSpread string) (l *loft.Loft, id string) {
	t.Helper()
	l = loft.Bench(t, 1)
	ctx := l.Ctx()
	require.NoError(t, l.Instruments.Add(ctx, instrument.NewInstrument{Form: loft.Named("fine"), Name: "fine level", Sort: "level", Resolution: "0.01", Offset: "0.05", Spread: "0.015"}))
	require.NoError(t, l.Instruments.Add(ctx, instrument.NewInstrument{Form: loft.Named("laser"), Name: "laser", Sort: "laser level", Resolution: "0.1 mm", Offset: "1", Spread: laserSpread}))
	r := measuring.OnRails{Supports: []string{"0", "1600"}, Apart: 700, Lies: "held", Low: "±0.1", Survey: loft.ID("laser"), Level: loft.ID("fine"), Stations: []measuring.Station{{Name: "root", Y: "0"}, {Name: "middle", Y: "800"}, {Name: "tip", Y: "1600"}}}
	n := measuring.NewSetup{Form: loft.Named("limp"), Assembly: loft.BenchBoom, Name: "on rails", Checks: r.Checks()}
	require.NoError(t, l.Measuring.Begin(ctx, n))
	return l, n.ID
}

func readAll(t *testing.T, l *loft.Loft, setup string, number int, tool string, texts ...string) {
	t.Helper()
	for i, text := range texts {
		require.NoError(t, l.Take(setup, i+1, measuring.NewReading{Check: ledger.Child(setup, "check "+string(rune('0'+number))), Text: text, Instrument: loft.ID(tool), Condition: "clamped"}))
	}
}

// By hand: the rails lean by atan(3.5/700) = 0.28648° at the tip and 0.14324° in the middle;
// a straight flexible part that takes their shape reads just that, and its own twist is nothing.
// u: the readings' √(0.01²/12 + 0.015²) = 0.015275 enter the slope of three stations with
// −½, 0 and ½ over the extent: √2·0.015275 = 0.021602; each of four heights of
// √(0.1²/12 + 0.1²) = 0.104083 mm enters once: 4 × (0.104083/700·57.29578·cos²)² → 0.017038.
func TestTheSlopeOfTheRailsIsTakenOffFromTheSurveyWithItsU(t *testing.T) {
	t.Parallel()
	l, id := onRails(t, "0.1")
	readAll(t, l, id, 1, "fine", "0.00", "0.14", "0.29")
	s := l.SetupOf(id)
	assert.Nil(t, s.Checks[1].Result, "without the survey there is no answer")
	assert.Contains(t, s.Checks[1].Problems[0], "the height of F1 is not read")
	assert.Len(t, s.Checks[1].Spots, 3, "no level under every station")
	readAll(t, l, id, 0, "laser", "50", "50", "53.5", "50")
	s = l.SetupOf(id)
	q, ok := s.Checks[1].Result.Quantity("twist")
	require.True(t, ok)
	assert.InDelta(t, 0.29-math.Atan(3.5/700)*180/math.Pi, q.Value, 1e-6)
	assert.InDelta(t, math.Hypot(0.021602, 0.017038), q.U, 1e-5)
	assert.Equal(t, measure.Go, s.Checks[1].Result.Verdict)
	assert.Contains(t, say.Plain(s.Checks[1].Corrected[2].Result), "+0.286° ± 0.0")
	sheet, err := s.Worksheet()
	require.NoError(t, err)
	assert.Contains(t, string(sheet), "height of F2")
}

// What is not stated of the instrument that surveyed the rails is not sure in the twist
// either; and a bench that moved takes its slopes with it.
func TestASurveyThatIsNotSureMakesNoTwistSure(t *testing.T) {
	t.Parallel()
	l, id := onRails(t, "")
	readAll(t, l, id, 0, "laser", "50", "50", "53.5", "50")
	readAll(t, l, id, 1, "fine", "0.00", "0.14", "0.29")
	c := l.SetupOf(id).Checks[1]
	assert.Equal(t, measure.Unsure, c.Result.Verdict)
	assert.Contains(t, c.Result.Findings[0].Text, "the spread of laser")
	l.Moved(id, measure.BenchMoved)
	s := l.SetupOf(id)
	require.NotEmpty(t, s.Checks[1].Problems)
	home, err := l.Home(l.Ctx(), loft.BenchFrame)
	require.NoError(t, err)
	assert.NotEmpty(t, home.Now)
}

func TestHeightsThatTwoInstrumentsReadSayThatTheyDoNotCancel(t *testing.T) {
	t.Parallel()
	l, id := onRails(t, "0.1")
	readAll(t, l, id, 1, "fine", "0.00", "0.14", "0.29")
	readAll(t, l, id, 0, "laser", "50", "50", "53.5")
	require.NoError(t, l.Take(id, 4, measuring.NewReading{Check: ledger.Child(id, "check 0"), Text: "50", Instrument: loft.BenchRule}))
	assert.Contains(t, l.SetupOf(id).Checks[1].Problems[0], "read all with one")
}

// A dimension that nobody stated is offered, marked, and no figure that rests on it is go
// until someone says that it is as the plans have it.
func TestNoFigureThatRestsOnAnAssumedDimensionIsGo(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	id := ledger.Child(loft.ID("tansy"), "fin") // its height was not typed
	_, fin, err := l.Airframes.Assembly(l.Ctx(), id)
	require.NoError(t, err)
	usual, _ := measuring.UsualOf("fin")
	form := usual.Checks[0]
	height := form.Offered(fin.Shape, quantity.Inch)["height"]
	require.NotEmpty(t, height)
	assert.True(t, form.Rests("height", fin.Shape, quantity.Inch))
	filled := []measuring.Filled{{Take: true, Values: map[string]string{"height": height}, Low: map[string]string{"lean": "±0.5"}, High: map[string]string{}}}
	n, wrong := usual.Setup(loft.Named("fin up"), fin, "here", quantity.Inch, filled)
	require.Empty(t, wrong)
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
	for i, text := range []string{"0", "1.0", "1.0"} {
		require.NoError(t, l.Take(n.ID, i+1, measuring.NewReading{Check: ledger.Child(n.ID, "check 0"), Text: text, Instrument: loft.ID("level")}))
	}
	c := l.SetupOf(n.ID).Checks[0]
	require.NotNil(t, c.Result)
	assert.Equal(t, measure.Unsure, c.Result.Verdict)
	assert.Contains(t, c.Result.Findings[0].Text, "height of the fin")
	require.NoError(t, l.Measuring.Confirm(l.Ctx(), measuring.Confirm{Form: l.Form(), Check: c.ID}))
	assert.Equal(t, measure.Go, l.SetupOf(n.ID).Checks[0].Result.Verdict)
	// Another figure typed in its place is stated.
	filled[0].Values["height"] = "47"
	n, _ = usual.Setup(loft.Named("fin up again"), fin, "here", quantity.Inch, filled)
	assert.Empty(t, n.Checks[0].Assumed)
}

func TestUsualLimitsGoInByOnePressAndSayThatTheyAreUsual(t *testing.T) {
	t.Parallel()
	usual, _ := measuring.UsualOf("tailplane")
	filled := []measuring.Filled{{Take: true, Usual: true, Values: usual.Checks[0].Usual, Low: map[string]string{"incidence_error": "±0.3"}, High: map[string]string{}}}
	n, wrong := usual.Setup(loft.Named("x"), airframe.Assembly{}, "here", quantity.Millimetre, filled)
	require.Empty(t, wrong)
	limits := n.Checks[0].Definition["limits"].(map[string]any)
	assert.Equal(t, map[string]any{"low": "-0.3", "high": "0.3"}, limits["incidence_error"], "±0.3 fills both")
	assert.Equal(t, map[string]any{"low": "-0.2°", "high": "0.2°"}, limits["incidence_difference"])
	assert.Equal(t, []string{"usual limits: incidence_difference"}, n.Checks[0].Assumed)
}

func TestTemplatesFitThePart(t *testing.T) {
	t.Parallel()
	names := func(part, form string) (out []string) {
		for _, u := range measuring.UsualFor(part, form) {
			out = append(out, u.ID)
		}
		return out
	}
	assert.NotContains(t, names("", "fin"), "canard")
	assert.NotContains(t, names("fin", "fin"), "rudder")
	assert.Contains(t, names("fin", "fin"), "join")
	assert.Equal(t, []string{"elevator", "other"}, names("elevator", "surface"))
	assert.Len(t, names("", ""), len(measuring.UsualChecks))
	for _, u := range measuring.UsualChecks {
		if u.ID == "join" || u.ID == "joins" {
			continue
		}
		full, _ := measuring.UsualOf(u.ID)
		kinds := map[string]bool{}
		for _, c := range full.Checks {
			kinds[c.Kind] = true
		}
		assert.True(t, kinds["length"] && kinds["pairs"], u.ID)
	}
	for _, id := range []string{"elevator", "aileron"} {
		u, _ := measuring.UsualOf(id)
		assert.Equal(t, "bench", u.Checks[0].Kind)
	}
}

func TestSomethingIsMeasuredWithoutAnAircraftAndKeptToOneLater(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	assert.Equal(t, "tailplane", l.SetupOf(loft.ID("now")).AssemblyName)
	for _, n := range measuring.Nows() {
		form := n.Form()
		values := map[string]string{}
		for _, f := range form.Fields() {
			if values[f.Key] == "" || len(f.Columns) > 1 {
				values[f.Key] = form.Usual[f.Key]
			}
		}
		setup, wrong := n.Setup(l.Form(), "mm", measuring.Filled{Values: values, Instrument: "quick:rule-mm"})
		require.Empty(t, wrong, n.Kind)
		require.NoError(t, l.Measuring.Begin(l.Ctx(), setup), n.Kind)
		assert.NotEmpty(t, l.SetupOf(setup.ID).Checks[0].Spots, n.Kind)
	}
	length, _ := measuring.NowOf("length")
	inches, _ := length.Setup(l.Form(), "in", measuring.Filled{Values: map[string]string{"design": "52"}})
	require.NoError(t, l.Measuring.Begin(l.Ctx(), inches))
	assert.Equal(t, quantity.Inch, l.SetupOf(inches.ID).Airframe.Unit)
	err := l.Measuring.KeepTo(l.Ctx(), measuring.KeepTo{Form: l.Form(), Setup: inches.ID, Assembly: loft.BenchBoom})
	assert.ErrorContains(t, err, "bare lengths were typed in in")
}

// Figures of ../../docs/worksheet.md's own examples, by hand: 1/8 in through 1.8 mm needs
// 1.8 + 1.5 × 3.175 = 6.5625 mm; 4:1 of 250 is 200 and 50; a level that shows 0.15 and then
// −0.05 stands 0.10 and is 0.05 off.
func TestNothingOfTheSolverIsWithoutAScreen(t *testing.T) {
	t.Parallel()
	has := map[string]bool{"pose": true, "join": true} // at an assembly
	for _, n := range measuring.Nows() {
		has[n.Kind] = true
	}
	for _, s := range measuring.Sums {
		has[s.Kind] = true
		values := map[string]string{}
		for k, v := range s.Usual {
			values[k] = v
		}
		worked, err := s.WorkOut(values, quantity.Millimetre)
		require.NoError(t, err, s.Kind)
		assert.NotEmpty(t, worked.Says(), s.Kind)
		_, err = s.WorkOut(map[string]string{}, quantity.Millimetre)
		assert.Error(t, err, s.Kind)
	}
	for _, k := range measure.Kinds {
		assert.True(t, has[k.Name], "%s has no screen", k.Name)
	}
	says := func(kind string) []string {
		s, _ := measuring.SumOf(kind)
		worked, err := s.WorkOut(s.Usual, quantity.Millimetre)
		require.NoError(t, err)
		return say.Reader{}.Texts(worked.Says())
	}
	assert.Contains(t, says("solid-rivet")[1], "needed 6.56 mm")
	assert.Equal(t, []string{"component 1: 200.0", "component 2: 50.0"}, says("mix"))
	assert.Contains(t, says("zero-test")[0], "0.05°")
	mix, _ := measuring.SumOf("mix")
	for typed, says := range map[string][]string{"total: 30 ml": {"component 1: 24.0 ml", "component 2: 6.0 ml"}, "total: 2 1/2 fl oz": {"component 1: 2.00 fl oz", "component 2: 0.50 fl oz"}, "amount: 12": {"component 1: 48.0", "component 2: 12.0"}} {
		field, amount, _ := strings.Cut(typed, ": ")
		worked, err := mix.WorkOut(map[string]string{"ratio": "4; 1", "by": "volume", field: amount, "index": map[bool]string{true: "2"}[field == "amount"]}, quantity.Millimetre)
		require.NoError(t, err, typed)
		assert.Equal(t, says, say.Reader{}.Texts(worked.Says()), typed)
	}
	_, err := mix.WorkOut(map[string]string{"ratio": "4; 1", "by": "mass", "total": "30 ml"}, quantity.Millimetre)
	assert.Equal(t, "that is a volume, and the ratio goes by mass", loft.Problems(t, err)["total"])
	tank, _ := measuring.SumOf("tank-leak")
	metric, err := tank.WorkOut(map[string]string{"start_head": "250", "start_pressure": "1013.2076", "start_temp": "20", "end_head": "240", "end_pressure": "1015.239", "end_temp": "18", "step": "1"}, quantity.Millimetre)
	require.NoError(t, err)
	spoken, err := tank.WorkOut(map[string]string{"start_head": "250", "start_pressure": "29.92 inHg", "start_temp": "68 F", "end_head": "240", "end_pressure": "29.98 inHg", "end_temp": "64.4 °F", "step": "1"}, quantity.Millimetre)
	require.NoError(t, err)
	assert.InDelta(t, metric.Result.Quantities[1].Value, spoken.Result.Quantities[1].Value, 0.02, "0.001 hPa are 0.01 mm of water")
	_, err = tank.WorkOut(map[string]string{"start_head": "250", "start_pressure": "29.92", "start_temp": "hot", "end_head": "240", "end_pressure": "1", "end_temp": "2"}, quantity.Millimetre)
	assert.Contains(t, loft.Problems(t, err)["start_pressure"], "hPa or 29.92 inHg?")
	assert.Contains(t, loft.Problems(t, err)["start_temp"], "65 °F")
	_, err = mix.WorkOut(map[string]string{"ratio": "4; x", "by": "mass", "total": "9"}, quantity.Millimetre)
	assert.ErrorContains(t, err, "a number is wanted")
}

// What could not be worked out says what is wrong at its field, and nothing else.
func TestASumThatIsRefusedHasNoFigures(t *testing.T) {
	t.Parallel()
	for _, s := range measuring.Sums {
		worked, err := s.WorkOut(map[string]string{}, quantity.Inch)
		assert.NotEmpty(t, loft.Problems(t, err), s.Kind)
		assert.Empty(t, worked.Says(), s.Kind)
	}
}
