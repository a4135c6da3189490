package cure

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/measure"
)

func TestAMixFromItsTotalOrOnePart(t *testing.T) {
	t.Parallel()
	total := 250.0
	solve := func(c *Mix) []float64 { return measure.Solve(c, nil, measure.Decision{Coverage: 2}).Amounts }
	assert.InDeltaSlice(t, []float64{200, 50}, solve(&Mix{Ratio: []float64{4, 1}, Total: &total}), 1e-12)
	assert.InDeltaSlice(t, []float64{240, 80, 40}, solve(&Mix{Ratio: []float64{3, 1, 0.5}, Part: &Part{2, 40}}), 1e-12)
}

func TestUnusableMixesAreRefused(t *testing.T) {
	t.Parallel()
	one, none := 1.0, 0.0
	for path, c := range map[string]*Mix{
		"ratio":       {Total: &one},
		"ratio[1]":    {Ratio: []float64{1, 0}, Total: &one},
		"total":       {Ratio: []float64{1, 1}},
		"part.index":  {Ratio: []float64{1, 1}, Part: &Part{2, 1}},
		"part.amount": {Ratio: []float64{1, 1}, Part: &Part{0, 0}},
	} {
		var paths []string
		c.Validate(func(path, _ string) { paths = append(paths, path) })
		assert.Contains(t, paths, path)
	}
	var paths []string
	(&Mix{Ratio: []float64{1}, Total: &none}).Validate(func(path, _ string) { paths = append(paths, path) })
	(&Mix{Ratio: []float64{1}, Total: &one, Part: &Part{0, 1}}).Validate(func(path, _ string) { paths = append(paths, path) })
	assert.Equal(t, []string{"total", "total"}, paths)
}
