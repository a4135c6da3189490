package stock

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// 94 set and 2 spoilt: (2 + 1) / (96 + 20) = 0.02586 are spoilt; 110 holes take
// 110 / 0.97414 = 112.92, so 113; 180 − 94 − 2 = 84 are there, 29 short.
func TestTheShortageIsForecast(t *testing.T) {
	t.Parallel()
	s := Stand{Counted: 180, Set: 94, Spoilt: 2, ToSet: 110}
	assert.Equal(t, 84, s.OnHand())
	assert.InDelta(t, 3.0/116, s.SpoilRate(), 1e-12)
	assert.Equal(t, 113, s.Needed())
	assert.Equal(t, 29, s.Short())
	assert.Zero(t, s.Missing())
	assert.Equal(t, 6, Stand{Counted: 90, Set: 94, Spoilt: 2}.Missing(), "more was used than was ever counted in")
	fresh := Stand{Counted: 100, ToSet: 95}
	assert.InDelta(t, 0.05, fresh.SpoilRate(), 1e-12, "nothing tried yet: one in twenty")
	assert.Equal(t, 100, fresh.Needed(), "95 / 0.95")
	assert.Zero(t, fresh.Short())
	assert.Zero(t, Stand{Counted: 3}.Needed())
}

func TestYieldByWhatAGroupHasInCommon(t *testing.T) {
	t.Parallel()
	tries := []Try{{Crew: "solo"}, {Crew: "solo", Cause: "tipped"}, {Crew: "with a bucker"}, {Crew: "with a bucker"}, {Crew: "with a bucker"}, {Crew: "with a bucker", Cause: "slipped"}, {}}
	crew := By(tries, func(t Try) string { return t.Crew })
	assert.Equal(t, []Yield{{"solo", 1, 1}, {"with a bucker", 3, 1}}, crew, "the worst first")
	assert.InDelta(t, 50, crew[0].Share(), 1e-12)
	assert.InDelta(t, 75, crew[1].Share(), 1e-12)
	assert.Equal(t, []Yield{{"slipped", 0, 1}, {"tipped", 0, 1}}, By(tries, func(t Try) string { return t.Cause }))
	assert.InDelta(t, 100, Yield{}.Share(), 1e-12)
}
