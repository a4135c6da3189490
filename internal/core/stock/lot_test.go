package stock_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/stock"
)

// The first box is drawn from until another lot is chosen; one that came since is not. What was told of a hole
// afterwards stands before both, but not for what was set into it later.
func TestALotIsDrawnFromUntilAnotherIsChosen(t *testing.T) {
	t.Parallel()
	boxes := stock.Boxes{
		{Name: "solid 1/8 × 1/4", Lot: "A1", Best: "2027-05-01", Entry: 10},
		{Name: "1/8 x 1/4 solid", Lot: "B2", Entry: 20},
		{Name: "resin", Lot: "R7", Entry: 25},
		{Name: "solid 1/8 × 1/4", Lot: "B2", Entry: 30, Chosen: true},
	}
	for at, want := range map[int64]string{15: "A1", 25: "A1", 31: "B2"} {
		box, ok := boxes.Drawn("solid 3.175 x 6.35 mm", at)
		assert.True(t, ok)
		assert.Equal(t, want, box.Lot, at)
	}
	_, ok := boxes.Drawn("solid 1/8 × 1/4", 10)
	assert.False(t, ok, "nothing had been counted in")
	assert.Equal(t, []stock.Box{boxes[0], boxes[1]}, boxes.Lots("solid 1/8 × 1/4"))

	lotOf := func(name string, number int, set int64, told []stock.Told) string {
		lot, _ := boxes.LotOf(name, number, set, told)
		return lot
	}
	told := []stock.Told{{Numbers: []int{4, 5}, Lot: "C3", Entry: 40}}
	assert.Equal(t, "C3", lotOf("solid 1/8 × 1/4", 4, 15, told))
	assert.Equal(t, "A1", lotOf("solid 1/8 × 1/4", 6, 15, told))
	assert.Equal(t, "B2", lotOf("solid 1/8 × 1/4", 4, 41, told), "drilled out and set anew since")
	assert.Empty(t, lotOf("blind B3", 1, 15, nil), "nobody knows")

	first, _ := boxes.Drawn("solid 1/8 × 1/4", 15)
	assert.True(t, first.OutOfDate("2027-05-02"))
	assert.False(t, first.OutOfDate("2027-05-01"), "its last day is one")
	assert.False(t, boxes[1].OutOfDate("2100-01-01"))
}
