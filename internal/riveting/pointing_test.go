package riveting_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/demo"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

// pointed is a row that was pointed at on the boom.
func pointed(more ...string) map[string]string {
	return loft.With(map[string]string{"lay": "line", "view": "from above", "from": "2460 mm; -200 mm", "to": "5090 mm; -100 mm", "count": "60", "layers": "aluminium; 0.8\naluminium; 1.0", "sort": "solid", "size": "1/8", "head": "domed", "metal": "aluminium", "sizing": "match drill"}, more...)
}

func TestARowIsLaidBetweenTwoPlacesAndMirroredAndRepeatedAtOnce(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	left, right := ledger.Child(loft.ID("tansy"), "wing panel left"), ledger.Child(loft.ID("tansy"), "wing panel right")
	n := riveting.NewRow{Form: loft.Named("ribs"), Assembly: right, Name: "tip rib", Marked: "builder", Mirror: left, Repeat: riveting.Repeat{Times: 14, Step: [2]float64{0, 250}},
		Values: pointed("from", "36; 25", "to", "80; 25", "count", "20", "layers", "aluminium; 0.032\naluminium; 0.040")}
	require.NoError(t, l.Riveting.Lay(l.Ctx(), n))
	laid := func(assembly string) []overview.RowRecord {
		all, err := l.Rows(l.Ctx(), assembly)
		require.NoError(t, err)
		return slices.DeleteFunc(all.Rows, func(r overview.RowRecord) bool { return !strings.HasPrefix(r.Name, "tip rib") })
	}
	rows := laid(right)
	require.Len(t, rows, 14, "14 ribs are one sheet")
	assert.Equal(t, "tip rib, 14", rows[13].Name)
	assert.InDelta(t, 25*25.4+13*250, rows[13].Line.From[1], 1e-9)
	mirrored := laid(left)
	require.Len(t, mirrored, 14)
	assert.InDelta(t, -(25*25.4 + 13*250), mirrored[13].Line.To[1], 1e-9)
	h := l.HoldOf(ledger.Child(n.ID, "hold"))
	assert.Len(t, h.Rows, 14, "one hold before riveting on each side")
	other := l.HoldOf(ledger.Child(n.ID, "other side hold"))
	assert.Len(t, other.Rows, 14)
	marked := 0
	for _, line := range h.Judgement.Lines {
		if line.Need == hold.Marked && line.Standing == hold.Met {
			marked++
		}
	}
	assert.Equal(t, 14, marked, "who laid them out looked through the plans")
	l.Verify()
}

func TestACircleOfHolesIsKeptWhereItLiesAndGetsOppositePins(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	require.NoError(t, l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named("round"), Assembly: loft.BenchBoom, Name: "cover", Values: pointed("lay", "circle", "from", "3000; 0", "to", "3080; 0", "count", "16", "pin", "2")}))
	r, err := l.Riveting.Row(l.Ctx(), loft.ID("round"))
	require.NoError(t, err)
	assert.True(t, r.Closed)
	assert.InDelta(t, -80, r.Holes[8].Along, 1e-9)
	assert.Equal(t, []int{1, 9}, r.Row.Pins(r.Holes)[:2])
}

func TestCallOutsAreReadAsPlansHaveThem(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	lay := func(name string, more ...string) error {
		return l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: loft.Named(name), Assembly: ledger.Child(loft.ID("tansy"), "tailplane"), Name: name, Values: pointed(append([]string{"sure", "yes", "layers", "aluminium; 0.032\naluminium; 0.040"}, more...)...)})
	}
	require.NoError(t, lay("by code", "callouts", "; 470-4-4"))
	r, err := l.Riveting.Row(l.Ctx(), loft.ID("by code"))
	require.NoError(t, err)
	assert.Equal(t, "1/4 in", r.CalledOut(3))
	require.NoError(t, lay("bare", "callouts", "; 0.25", "size", "#30"))
	r, err = l.Riveting.Row(l.Ctx(), loft.ID("bare"))
	require.NoError(t, err)
	assert.Equal(t, "0.25 in", r.CalledOut(3), "in the airframe's unit")
	assert.InDelta(t, 3.2639, r.Fastener.Diameter.MM, 1e-9)
	assert.ErrorContains(t, lay("thick", "callouts", "; 470-5-4"), "5/32 in thick")
	assert.ErrorContains(t, lay("below", "callouts", "; -0.25"), "cannot be below 0")
	assert.ErrorContains(t, lay("drill", "size", "#99"), "#60")
}

func TestWhatCannotBeLaidSaysWhereAndTheDrawingShowsWhatCan(t *testing.T) {
	t.Parallel()
	l := loft.Bench(t, 2)
	for field, values := range map[string]map[string]string{"from": pointed("from", ""), "to": pointed("to", ""), "count": pointed("count", ""), "lay": pointed("lay", "star")} {
		err := l.Riveting.Lay(l.Ctx(), riveting.NewRow{Form: l.Form(), Assembly: loft.BenchBoom, Name: "x", Values: values})
		assert.NotEmpty(t, loft.Problems(t, err)[field], "%s: %v", field, err)
	}
	for field, n := range map[string]riveting.NewRow{
		"times":  {Repeat: riveting.Repeat{Times: 3}},
		"mirror": {Mirror: loft.BenchBoom},
	} {
		n.Form, n.Assembly, n.Name, n.Values = l.Form(), loft.BenchBoom, "x", pointed()
		assert.NotEmpty(t, loft.Problems(t, l.Riveting.Lay(l.Ctx(), n))[field], field)
	}
	holes, _, says := riveting.Preview(pointed("edge", "8"), quantity.Millimetre)
	assert.Len(t, holes, 60)
	assert.Equal(t, "60 holes at 44.6 mm · pitch 14.0 D · edge 2.5 D", say.Plain(says)) // √(2630² + 100²)/59 = 44.608
	holes, _, _ = riveting.Preview(pointed("to", "far"), quantity.Millimetre)
	assert.Empty(t, holes)
}

// Row 3 of the demo begins 40 mm aft of its line and goes on every 34 mm: laid again by
// pointing, its 84 holes lie where they lie.
func TestAnotherLikeARowLiesAsItLies(t *testing.T) {
	t.Parallel()
	r := loft.Demo(t).RowOf(demo.ID("row 3"))
	from, to, ok := r.Ends()
	require.True(t, ok)
	holes, _, says := riveting.Preview(loft.With(r.Texts(), "lay", "line", "from", from, "to", to, "count", "84", "pitch", ""), quantity.Millimetre)
	require.Len(t, holes, 84)
	assert.InDelta(t, 34, holes[1].Along, 1e-3)
	assert.Contains(t, say.Plain(says), "84 holes at 34.0 mm")
}
