package loft

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"maps"
	"testing"

	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/closing"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/riveting"
)

// What is on the bench.
var (
	BenchFrame = ID("airframe")
	BenchBoom  = ID("boom")
	BenchRule  = ID("rule")
	BenchSetup = ID("setup")
	BenchCheck = ledger.Child(BenchSetup, "check 0")
	BenchRow   = ID("row")
	BenchRivet = ID("rivet")
	BenchClose = ID("close")
	BenchBay   = closing.BayOf(BenchClose)
	BenchTask  = ledger.Child(BenchClose, "task 0")
)

// Bench is a small workshop: one assembly in a setup of one check, a row of holes in a
// bay, a hold before riveting and one before closing.
func Bench(t testing.TB, holes int) *Loft {
	t.Helper()
	l, ctx := Empty(t), t.Context()
	require.NoError(t, l.Instruments.Add(ctx, instrument.NewInstrument{Form: Named("rule"), Name: "rule", Sort: "rule", Resolution: "0.5 mm", Offset: "0.1 mm", Spread: "0.1 mm"}))
	require.NoError(t, l.Airframes.Add(ctx, airframe.NewAirframe{Form: Named("airframe"), Name: "Samphire S2", Unit: "mm"}))
	boom := airframe.Shape{Form: "body", Sections: []airframe.Section{{X: 2350, Half: 300, Bottom: 110, Top: 500}, {X: 5250, Half: 110, Bottom: 310, Top: 420}}}
	require.NoError(t, l.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: Named("boom"), Airframe: BenchFrame, Name: "Tail boom", Shape: boom}))
	require.NoError(t, l.Measuring.Begin(ctx, measuring.NewSetup{Form: Named("setup"), Assembly: BenchBoom, Name: "in its stands", Checks: []measuring.NewCheck{Bow()}}))
	require.NoError(t, l.Holding.StandBefore(ctx, holding.NewStand{Form: Named("rivet"), Assembly: BenchBoom, Name: "Rivet it", Step: "rivet", Permanent: "the row", Why: "w", Setup: BenchSetup}))
	require.NoError(t, l.Holding.StandBefore(ctx, holding.NewStand{Form: Named("close"), Assembly: BenchBoom, Name: "Close it", Step: "close", Permanent: "the boom", Why: "w", Bay: "the bay", Tasks: []string{"wiring"}}))
	require.NoError(t, l.Riveting.Lay(ctx, riveting.NewRow{Form: Named("row"), Assembly: BenchBoom, Name: "row", Rivets: BenchRivet, Bay: BenchBay, Values: RowOf(holes)}))
	return l
}

// Bow is a check of straightness at three points, within 3 mm.
func Bow() measuring.NewCheck {
	point := func(name string, x int) any { return map[string]any{"name": name, "x": x} }
	return measuring.NewCheck{Name: "Bow", Instrument: BenchRule, Definition: map[string]any{"kind": "straightness", "points": []any{point("a", 0), point("b", 500), point("c", 1000)},
		"limits": map[string]any{"bow": map[string]any{"low": "-3", "high": "3"}}}}
}

// RowOf is the form of a row of so many holes.
func RowOf(holes int) map[string]string {
	return map[string]string{"layers": "aluminium; 0.8\naluminium; 1.0", "sort": "solid", "size": "1/8", "head": "domed", "metal": "aluminium", "edge": "8", "count": fmt.Sprint(holes), "pitch": "30", "first": "10", "sizing": "match drill", "bucker": "solo", "view": "from above"}
}

// With is a form with some values changed, by name and value.
func With(values map[string]string, pairs ...string) map[string]string {
	out := maps.Clone(values)
	for i := 0; i+1 < len(pairs); i += 2 {
		out[pairs[i]] = pairs[i+1]
	}
	return out
}

// PNG is a grey picture.
func PNG(t testing.TB, width, height int) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, image.NewGray(image.Rect(0, 0, width, height))))
	return b.Bytes()
}
