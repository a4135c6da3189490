package check

import (
	"testing"

	"orpine/internal/core/measure"
	"orpine/internal/core/say"

	"github.com/stretchr/testify/assert"
)

func TestQuantitiesAreSaidWithTheirUncertainty(t *testing.T) {
	t.Parallel()
	for want, q := range map[string]measure.Quantity{
		"twist +0.03° ± 0.06°":              {Name: "twist", Value: 0.028, U: 0.0273, Dimension: measure.Angle},
		"tip difference −10.3 ± 5.0 mm":     {Name: "tip_difference", Value: -10.3, U: 2.5, Dimension: measure.Length},
		"bow at rib 8 +1.0 ± 0.2 mm":        {Name: "bow", At: "rib 8", Value: 1, U: 0.1, Dimension: measure.Length},
		"rate −0.395°/m ± 0.016°/m":         {Name: "rate", Value: -0.395, U: 0.0077, Dimension: measure.Rate},
		"slope along 0.00° ± 0.00°":         {Name: "slope_along", Dimension: measure.Angle},
		"leverage at firewall +0.53 ± 0.00": {Name: "leverage", At: "firewall", Value: 0.531, Dimension: measure.Ratio},
	} {
		assert.Equal(t, want, say.Plain(SayQuantity(q)))
	}
}

// Shims that are not there are no word of comfort: 5 mm of three pieces of 1 mm at most lack 2.
func TestAStackThatCannotReachSaysSo(t *testing.T) {
	t.Parallel()
	for want, m := range map[string]measure.Move{
		"raise L1 1.9 mm (1.6 + 0.3)":                                         {At: "L1", Direction: "up", Amount: 1.9, Stacked: true, Stack: []float64{1.6, 0.3}},
		"raise L1 5.0 mm (1 + 1 + 1, 2.0 short: no stack on hand reaches it)": {At: "L1", Direction: "up", Amount: 5, Stacked: true, Stack: []float64{1, 1, 1}},
		"raise L1 0.2 mm (no shim on hand comes nearer than none)":            {At: "L1", Direction: "up", Amount: 0.2, Stacked: true},
	} {
		assert.Equal(t, want, say.Plain(SayMove(m)))
	}
}
