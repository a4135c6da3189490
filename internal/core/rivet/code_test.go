package rivet_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/rivet"
)

// By hand: 4/32 in = 3.175 mm, 6/16 in = 9.525 mm, 6.5/16 in = 10.31875 mm; #30 is 0.1285 in
// = 3.2639 mm.
func TestCallOutsByNumbersAndNumberedDrills(t *testing.T) {
	t.Parallel()
	for text, want := range map[string][2]float64{"470-4-6": {3.175, 9.525}, "426 3-4": {2.38125, 6.35}, "4-6.5": {3.175, 10.31875}, "AB470CD-5-8": {3.96875, 12.7}, "AD4-6": {3.175, 9.525}, "AN470AD4-6": {3.175, 9.525}, "470AD4-6,5": {3.175, 10.31875}, "ad 3-4": {2.38125, 6.35}} {
		c, ok := rivet.ParseCode(text)
		assert.True(t, ok, text)
		assert.InDelta(t, want[0], float64(c.Diameter), 1e-9, text)
		assert.InDelta(t, want[1], float64(c.Length), 1e-9, text)
	}
	for text, want := range map[string][3]string{"AN426AD3-4": {"AN426", "AD", "flush"}, "470-4-6": {"470", "", "domed"}, "AD4-6": {"", "AD", ""}, "4-6": {}, "AB123-4-6": {"AB123", "", ""}} {
		c, _ := rivet.ParseCode(text)
		assert.Equal(t, want, [3]string{c.Head, c.Alloy, c.Lies()}, text)
	}
	for _, none := range []string{"", "6 mm", "1/4", "470-4", "470-1-6", "470-40-6", "-4-6", "4--6", "470-4-0"} {
		_, ok := rivet.ParseCode(none)
		assert.False(t, ok, none)
	}
	d, ok, err := rivet.Drill("#30")
	assert.True(t, ok)
	assert.NoError(t, err)
	assert.InDelta(t, 3.2639, float64(d), 1e-9)
	_, ok, err = rivet.Drill("#61")
	assert.True(t, ok)
	assert.ErrorContains(t, err, "#60")
	_, ok, _ = rivet.Drill("30")
	assert.False(t, ok)
}
