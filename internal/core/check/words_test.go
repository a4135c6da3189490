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
