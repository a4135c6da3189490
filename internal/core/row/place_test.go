package row_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/row"
)

// A boom's row from 2460;655 to 5090;560: √(2630² + 95²) = 2631.715 over 41 spaces is 64.188.
func TestHolesAreLaidBetweenTwoPlacesThatWerePointedAt(t *testing.T) {
	t.Parallel()
	line := row.Place{How: "line", From: [2]float64{2460, 655}, To: [2]float64{5090, 560}, Count: 42}
	holes, wrong := line.Holes()
	require.Empty(t, wrong)
	require.Len(t, holes, 42)
	assert.InDelta(t, 64.188, holes[1].Along, 1e-3)
	assert.InDelta(t, math.Hypot(2630, 95), holes[41].Along, 1e-9)
	line.Count, line.Pitch = 0, 64
	holes, _ = line.Holes()
	assert.Len(t, holes, 43, "at most 64 apart")
}

func TestACircleAnOutlineAndAGrid(t *testing.T) {
	t.Parallel()
	circle, wrong := row.Place{How: "circle", From: [2]float64{100, 50}, To: [2]float64{100, 150}, Count: 8}.Holes()
	require.Empty(t, wrong)
	require.Len(t, circle, 8)
	assert.InDelta(t, 100, circle[0].Across, 1e-9, "it begins where one pointed")
	assert.InDelta(t, -100, circle[4].Across, 1e-9)
	outline, wrong := row.Place{How: "outline", To: [2]float64{300, 200}, Pitch: 50}.Holes()
	require.Empty(t, wrong)
	assert.Len(t, outline, 20) // 6 + 4 + 6 + 4 spaces
	for _, corner := range [][2]float64{{0, 0}, {300, 0}, {300, 200}, {0, 200}} {
		found := false
		for _, h := range outline {
			found = found || math.Hypot(h.Along-corner[0], h.Across-corner[1]) < 1e-9
		}
		assert.True(t, found, "a hole in every corner: %v", corner)
	}
	grid, wrong := row.Place{How: "grid", To: [2]float64{90, 60}, Count: 4, Lines: 3}.Holes()
	require.Empty(t, wrong)
	require.Len(t, grid, 12)
	assert.Equal(t, 30.0, grid[5].Along)
	assert.Equal(t, 30.0, grid[5].Across)
}

func TestPlacesThatMakeNoRowSayWhy(t *testing.T) {
	t.Parallel()
	for _, bad := range []struct {
		field string
		place row.Place
	}{
		{"to", row.Place{How: "line", Count: 5}},
		{"count", row.Place{How: "line", To: [2]float64{100, 0}}},
		{"count", row.Place{How: "circle", To: [2]float64{100, 0}, Count: 5000}},
		{"pitch", row.Place{How: "line", To: [2]float64{1e6, 0}, Pitch: 0.1}},
		{"to", row.Place{How: "grid", To: [2]float64{100, 0}, Count: 5}},
		{"pitch", row.Place{How: "grid", To: [2]float64{100, 10}, Count: 500, Lines: 500}},
	} {
		_, wrong := bad.place.Holes()
		assert.NotEmpty(t, wrong[bad.field], "%+v: %v", bad.place, wrong)
	}
}

func TestAClosedLoopGetsOppositePins(t *testing.T) {
	t.Parallel()
	holes, _ := row.Place{How: "circle", To: [2]float64{100, 0}, Count: 16}.Holes()
	r := row.Row{Closed: true, Pin: 2}
	assert.Equal(t, []int{1, 9, 5, 13, 3, 7, 11, 15}, r.Pins(holes))
	assert.Equal(t, []int{1, 9}, r.FewestOf(holes))
	assert.Equal(t, []int{1, 16}, row.Row{}.FewestOf(holes))
}
