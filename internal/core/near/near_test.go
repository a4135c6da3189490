package near

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// The slips that were seen at benches: a point lost, the other unit, a figure doubled; beside them
// honest figures that differ as honest ones do.
func TestASlipIsAskedAndAnHonestFigureIsNot(t *testing.T) {
	t.Parallel()
	for _, test := range []struct {
		v    float64
		to   To
		odd  bool
		what string
	}{
		{45085, To{450.85, "the chord", false}, true, "1775 for 17.75 in"},
		{3020, To{302, "the other supports", false}, true, "a height without its point"},
		{812.8, To{0.8, "a sheet", false}, true, "32 in for 0.032 in"},
		{2.54, To{0.8, "a sheet", false}, true, "a tenth of an inch"},
		{1.6, To{0.8, "a sheet", false}, false, "a doubler"},
		{300, To{302, "the other supports", false}, false, ""},
		{1440, To{2880, "the plans", true}, true, "a tape half as long as the plans say"},
		{2878, To{2880, "the plans", true}, false, ""},
		{4.5, To{2, "the plans", true}, false, "less than 3 mm off"},
		{12, To{0, "the other side", true}, true, ""},
		{5, To{0, "no neighbour", false}, false, "nothing to be near"},
	} {
		_, odd := Length(test.v, test.to)
		assert.Equal(t, test.odd, odd, "%v against %+v %s", test.v, test.to, test.what)
	}
	for _, test := range []struct {
		v   float64
		to  To
		odd bool
	}{
		{210, To{2.5, "the design", false}, true}, {89, To{0, "plumb", false}, true}, {3.2, To{2.5, "the design", false}, false}, {14, To{0, "level", false}, false},
		{3.4, To{2.5, "its twin", true}, false}, {5, To{2.5, "its twin", true}, true}, {12, To{2.5, "its twin", true}, true},
	} {
		_, odd := Angle(test.v, test.to)
		assert.Equal(t, test.odd, odd, "%v° against %+v", test.v, test.to)
	}
	assert.True(t, Longer(2900, 2880))
	assert.False(t, Longer(2880, 2880))
	assert.False(t, Longer(2900, 0))
	assert.True(t, Hours(23))
	assert.False(t, Hours(12))
	assert.Equal(t, "1775 is of another size than the chord (17 3/4 in): is that so?", Asks("1775", "17 3/4 in", To{What: "the chord"}))
}
