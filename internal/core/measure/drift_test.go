package measure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/measure"
)

func TestSevenOnOneSideAreADriftAndSixAreChance(t *testing.T) {
	t.Parallel()
	// Mean 0.01: eight below it, then seven above.
	values := []float64{0, 0, 0, 0, 0, 0, 0, 0, 0.02, 0.02, 0.02, 0.02, 0.02, 0.02, 0.02}
	from, to, ok := measure.Drifts(values)
	assert.True(t, ok)
	assert.Equal(t, [2]int{8, 14}, [2]int{from, to}, "the latest run")
	_, _, ok = measure.Drifts([]float64{0, 0.03, 0.03, 0.03, 0.03, 0.03, 0.03, 0, 0, 0, 0})
	assert.False(t, ok, "six")
	_, _, ok = measure.Drifts([]float64{0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1})
	assert.False(t, ok, "all alike lie on their mean")
	_, _, ok = measure.Drifts(nil)
	assert.False(t, ok)
}

func TestAJumpIsWiderThanItsDoubt(t *testing.T) {
	t.Parallel()
	// u 0.02: a difference of 0.085 is 3 × √2 × 0.02 = 0.0849.
	assert.Equal(t, []int{2}, measure.Jumps([]float64{0, 0.08, 0.17, 0.1}, 0.02))
	assert.Empty(t, measure.Jumps([]float64{0, 9}, 0), "nobody knows how far it scatters")
}
