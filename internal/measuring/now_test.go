package measuring_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

// begun is what is measured now, begun on its drawing with nothing said but what is given, and its readings.
func begun(t *testing.T, l *loft.Loft, kind, unit, tool string, values map[string]string, texts ...string) measuring.Check {
	t.Helper()
	n, ok := measuring.NowOf(kind)
	require.True(t, ok)
	u := quantity.Millimetre
	if unit == "in" {
		u = quantity.Inch
	}
	filled, waits := n.Drawn(measuring.Filled{Values: values}, 0, u)
	filled.Instrument = tool
	sketch, err := n.Sketch(filled, unit, waits, nil)
	require.NoError(t, err)
	setup, wrong := n.Setup(l.Form(), unit, filled, waits...)
	require.Empty(t, wrong)
	for i, text := range texts {
		spot := sketch.Checks[0].Spots[i]
		r := measuring.NewReading{Spot: spot.Key(), Text: text, Condition: check.Conditions[0]}
		if i == 0 {
			require.NoError(t, l.MeasureNow(l.Ctx(), setup, r))
			require.NoError(t, l.MeasureNow(l.Ctx(), setup, r), "the answer was lost: the same once more is one setup and one reading")
			continue
		}
		require.NoError(t, l.Take(setup.ID, i+1, measuring.NewReading{Check: l.SetupOf(setup.ID).Checks[0].ID, Text: text, Instrument: l.SetupOf(setup.ID).Checks[0].Instrument}))
	}
	return l.SetupOf(setup.ID).Checks[0]
}

// 100 in from root to tip and nothing else said: the places between lie as they usually do, at quarters. Nothing said:
// whole inches near 2.4 m.
func TestPlacesThatNobodySaidLieBetweenThoseThatSomebodyDid(t *testing.T) {
	t.Parallel()
	twist, _ := measuring.NowOf("twist")
	said, waits := twist.Drawn(measuring.Filled{Values: map[string]string{"stations": "root\ninner\nmid\nouter\ntip; 100"}}, 0, quantity.Inch)
	assert.Equal(t, "root; 0\ninner; 25\nmid; 50\nouter; 75\ntip; 100", said.Values["stations"])
	assert.Equal(t, []string{"stations"}, waits)
	usual, _ := twist.Drawn(measuring.Filled{Values: map[string]string{}}, 0, quantity.Inch)
	assert.Equal(t, "root; 0\ninner; 24\nmid; 47\nouter; 71\ntip; 94", usual.Values["stations"])
	fewer, _ := twist.Drawn(measuring.Filled{Values: map[string]string{"stations": "root\na\nb\nc\ntip; 900"}}, 3, quantity.Millimetre)
	assert.Equal(t, "root; 0\na; 450\ntip; 900", fewer.Values["stations"])
	all, waits := twist.Drawn(measuring.Filled{Values: map[string]string{"stations": "a; 10\nb; 20"}}, 0, quantity.Millimetre)
	assert.Equal(t, "a; 10\nb; 20", all.Values["stations"])
	assert.Empty(t, waits)
}

// Tip over root does not depend on how long the part is: its limits decide without a dimension. The sweep of a wing by
// offsets does: 5 mm more on the right are 0.07° over 4,000 mm, and 0.12° over 2,400.
func TestAnAnswerAsksForADimensionOnlyWhereItHangsOnOne(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	c := begun(t, l, "twist", "in", "quick:level-0.01", map[string]string{"lies": measure.Stiffly}, "0.02", "0.02", "0.02", "0.02", "0.02")
	assert.Equal(t, []string{"stations"}, c.Proportions)
	assert.Empty(t, c.Hangs)
	assert.True(t, c.UsualLimits, "and is judged by the usual limits")
	assert.NotEqual(t, measure.None, c.Result.Verdict)

	c = begun(t, l, "sweep", "mm", "quick:rule-mm", nil, "0", "100", "0", "105")
	assert.Equal(t, []string{"span"}, c.Hangs)
	assert.Equal(t, measure.Unsure, c.Result.Verdict)
	assert.Contains(t, c.Result.Findings[0].Text, "nobody stated the root mark to tip mark")
	seen := measuring.Redefine{Form: l.Form(), Check: c.ID, Sized: measuring.Sized{"span": {"3900"}}}
	assert.Error(t, l.Measuring.Redefine(l.Ctx(), seen), "a page of before")
	seen.Form, seen.Seen = l.Form(), c.Redefined
	seen.Sized["span"] = []string{"2 or 3"}
	assert.Contains(t, loft.Problems(t, l.Measuring.Redefine(l.Ctx(), seen)), "span")
	seen.Sized["span"] = []string{"3900"}
	require.NoError(t, l.Measuring.Redefine(l.Ctx(), seen))
	c = l.SetupOf(c.SetupID).Checks[0]
	assert.Empty(t, c.Proportions)
	assert.Equal(t, "3900", c.Definition["right"].(map[string]any)["span"])
	assert.True(t, c.UsualLimits, "the limits are still nobody's")
	l.Verify()
}

// Of five places the tip is said, 3,000 mm for 2,400: the others follow in proportion, 750 apart, and are still nobody's.
func TestADimensionSaidInPartLeavesTheOthersUnsaid(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	c := begun(t, l, "twist", "mm", "quick:level-0.01", map[string]string{"lies": measure.Stiffly}, "0.02")
	say := func(cells ...string) {
		c = l.SetupOf(c.SetupID).Checks[0]
		require.NoError(t, l.Measuring.Redefine(l.Ctx(), measuring.Redefine{Form: l.Form(), Check: c.ID, Seen: c.Redefined, Sized: measuring.Sized{"stations": cells}}))
		c = l.SetupOf(c.SetupID).Checks[0]
	}
	at := func() (out []string) {
		for _, row := range c.Sizes()[0].Rows {
			out = append(out, row[1])
		}
		return out
	}
	spacings := func(ys ...string) (cells []string) { // the column of the spacings stays empty
		for _, y := range ys {
			cells = append(cells, y, "")
		}
		return cells
	}
	say(spacings("", "", "", "", "3000")...)
	assert.Equal(t, []string{"0", "750", "1500", "2250", "3000"}, at())
	assert.Equal(t, []string{"stations"}, c.Proportions)
	say(spacings("0", "700", "1400", "2200", "3000")...)
	assert.Equal(t, []string{"0", "700", "1400", "2200", "3000"}, at())
	assert.Empty(t, c.Proportions)
}

func TestOneLimitIsSetBesideTheAnswerAndSaysThatItIsLate(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	c := begun(t, l, "twist", "mm", "quick:level-0.01", map[string]string{"lies": measure.Stiffly}, "0.02", "0.02", "0.02", "0.02", "0.02")
	set := func(low, high, as string) error {
		c = l.SetupOf(c.SetupID).Checks[0]
		return l.Measuring.Redefine(l.Ctx(), measuring.Redefine{Form: l.Form(), Check: c.ID, Seen: c.Redefined, Limit: &measuring.LimitTo{Quantity: "twist", Low: low, High: high, As: as}})
	}
	assert.False(t, c.LimitsLate)
	assert.Contains(t, loft.Problems(t, set("little", "", "")), "limit")
	require.NoError(t, set("±0.2", "", ""))
	c = l.SetupOf(c.SetupID).Checks[0]
	low, high := c.LimitTexts("twist")
	assert.Equal(t, []string{"-0.2", "0.2"}, []string{low, high})
	assert.True(t, c.LimitsLate, "it judges what was read before")
	assert.True(t, c.UsualLimits, "the kink's is still the usual one")
	assert.False(t, c.Usual("twist"))
	assert.True(t, c.Usual("kink"))
	assert.NotContains(t, c.Nobody(), "twist")
	l.Verify()
}

func TestWhatOnlyThePlansKnowIsAskedBeforeTheFirstReading(t *testing.T) {
	t.Parallel()
	n, _ := measuring.NowOf("length")
	filled, _ := n.Drawn(measuring.Filled{Values: map[string]string{"design": ""}}, 0, quantity.Millimetre)
	_, wrong := n.Setup(ledger.Form{}, "mm", filled)
	assert.Equal(t, "is wanted, from the plans", wrong["0.design"])
	sketch, err := n.Sketch(filled, "mm", nil, nil)
	require.NoError(t, err, "and is drawn meanwhile")
	assert.Len(t, sketch.Checks[0].Spots, 1)
}

// Whatever stands at a usual proportion has a field on the drawing, where it can be said.
func TestEveryProportionCanBeSaid(t *testing.T) {
	t.Parallel()
	for _, n := range measuring.Nows() {
		filled, waits := n.Drawn(measuring.Filled{Values: map[string]string{}}, 0, quantity.Inch)
		sketch, err := n.Sketch(filled, "in", waits, nil)
		require.NoError(t, err, n.Kind)
		have := map[string]bool{}
		for _, size := range sketch.Checks[0].Sizes() {
			have[size.Key] = true
		}
		for _, key := range waits {
			assert.True(t, have[key], "%s: %s", n.Kind, key)
		}
	}
}

// What nobody stated goes with a check that is made once more after a step, and can be said of all of it by one press.
func TestWhatIsUsualStaysUsualUntilSomebodySaysIt(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	c := begun(t, l, "twist", "mm", "quick:level-0.01", map[string]string{"lies": measure.Stiffly}, "0.02", "0.02", "0.02", "0.02", "0.02")
	assert.Equal(t, []string{"the stations", "the limits"}, c.Nobody())
	require.NoError(t, l.Measuring.Confirm(l.Ctx(), measuring.Confirm{Form: l.Form(), Check: c.ID}))
	c = l.SetupOf(c.SetupID).Checks[0]
	assert.Empty(t, c.Nobody())
	assert.False(t, c.UsualLimits)
	assert.Error(t, l.Measuring.Confirm(l.Ctx(), measuring.Confirm{Form: l.Form(), Check: c.ID}), "nothing is left to be said")
}

// What is said of the board and of the datum counts: u² of an incidence grows by 0.1² + 0.05² and loses
// the usual 0.06² of a board that nobody knows. Left against right both cancel.
func TestWhatIsSaidOfBoardAndDatumCounts(t *testing.T) {
	t.Parallel()
	of := func(values map[string]string) (left, difference float64) {
		c := begun(t, loft.Empty(t), "incidence", "mm", "quick:level-0.01", values, "0 up", "4 up", "4 up")
		l, ok := c.Result.Quantity("incidence_left")
		require.True(t, ok, "%+v", c.Result)
		d, ok := c.Result.Quantity("incidence_difference")
		require.True(t, ok)
		return l.U, d.U
	}
	usual, apart := of(map[string]string{"design": "3 up", "board": "1 up"})
	said, same := of(map[string]string{"design": "3 up", "board": "1 up", "board_u": "0.1", "datum_u": "0.05"})
	assert.InDelta(t, 0.1*0.1+0.05*0.05-0.06*0.06, said*said-usual*usual, 1e-9)
	assert.InDelta(t, apart, same, 1e-12)
}
