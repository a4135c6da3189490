package rivet

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
)

// 4/32 in is 3.175 mm; a number 30 drill 0.1285 in, 3.2639 mm.
func TestDashNumbersDrillsAndLengthsAreToldApart(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]float64{"-4": 3.175, "-3": 2.38125, "#30": 3.2639, "1/8": 3.175, "0.125": 3.175, "3.2 mm": 3.2, "5/32 in": 3.96875} {
		d, err := Diameter(text, quantity.Inch)
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(d), 1e-9, text)
	}
	for text, says := range map[string]string{"4": "a dash number is written -4", "-40": "no dash number", "#70": "numbered from", "": "", "thick": ""} {
		_, err := Diameter(text, quantity.Inch)
		require.Error(t, err, text)
		assert.Contains(t, err.Error(), says, text)
	}
	d, err := Diameter("4", quantity.Millimetre)
	require.NoError(t, err)
	assert.Equal(t, 4.0, float64(d))
}
