package stock_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/stock"
)

func TestStockIsToldBySizesAndNotBySpelling(t *testing.T) {
	t.Parallel()
	for _, alike := range [][]string{
		{"cleco 1/8", "Cleco 1/8 in", `1/8" clecos`, "cleco 3.175 mm"},
		{"solid 1/8 × 1/4 in", "solid 1/8 x 1/4", "Solid 1/8 in × 6.35 mm", "AD4-4", "-4-4", "4-4", "470-4-4", "AN470AD4-4", "3.2 × 6.35", "3.2x6.35 mm", "solid 3.2 × 6.35 mm"},
		{"solid 3/32 × 7/32 in", "AD3-3-5", "2.4 × 5.55625"},
		{"shim 0.3 mm", "shim 0.3", "0,3 mm shim"},
		{"blind B3.2-3", "Blind b3.2-3"},
	} {
		for _, name := range alike[1:] {
			assert.Equal(t, stock.Key(alike[0]), stock.Key(name), name)
		}
	}
	for _, other := range [][2]string{{"cleco 1/8", "cleco 3/32"}, {"solid 1/8 × 1/4 in", "solid 1/8 × 5/16 in"}, {"shim 0.3 mm", "shim 0.5 mm"}, {"rivet 1/8", "cleco 1/8"}, {"AD4-4", "AD4-5"}, {"AD4-4", "426AD4-4"}, {"AD4-4", "blind AD4-4"}, {"3.2 mm", "3.2 × 6"}} {
		assert.NotEqual(t, stock.Key(other[0]), stock.Key(other[1]))
	}
}

func TestASheetIsReadFromItsName(t *testing.T) {
	t.Parallel()
	materials := []string{"aluminium", "steel", "stainless steel"}
	for name, want := range map[string]struct {
		material  string
		thickness float64
	}{"aluminium 0.8 mm": {"aluminium", 0.8}, "Stainless steel 0.5": {"stainless steel", 0.5}, "0.032 in aluminium": {"aluminium", 0.8128}, "steel 1/16": {"steel", 1.5875}} {
		material, thickness, ok := stock.Sheet(name, materials)
		assert.True(t, ok, name)
		assert.Equal(t, want.material, material, name)
		assert.InDelta(t, want.thickness, float64(thickness), 1e-9, name)
	}
	for _, none := range []string{"solid 1/8 × 6 mm", "aluminium", "plywood 3 mm"} {
		_, _, ok := stock.Sheet(none, materials)
		assert.False(t, ok, none)
	}
}
