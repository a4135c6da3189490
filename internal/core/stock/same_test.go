package stock_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/stock"
)

func TestStockIsToldBySizesAndNotBySpelling(t *testing.T) {
	for _, alike := range [][]string{
		{"cleco 1/8", "Cleco 1/8 in", `1/8" clecos`, "cleco 3.175 mm"},
		{"solid 1/8 × 1/4 in", "solid 1/8 x 1/4", "Solid 1/8 in × 6.35 mm"},
		{"shim 0.3 mm", "shim 0.3", "0,3 mm shim"},
		{"blind B3.2-3", "Blind b3.2-3"},
	} {
		for _, name := range alike[1:] {
			assert.Equal(t, stock.Key(alike[0]), stock.Key(name), name)
		}
	}
	for _, other := range [][2]string{{"cleco 1/8", "cleco 3/32"}, {"solid 1/8 × 1/4 in", "solid 1/8 × 5/16 in"}, {"shim 0.3 mm", "shim 0.5 mm"}, {"rivet 1/8", "cleco 1/8"}} {
		assert.NotEqual(t, stock.Key(other[0]), stock.Key(other[1]))
	}
}
