package demo_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/plan"
	"orpine/internal/demo"
	"orpine/test/loft"
)

// The demo's order is one that a builder would follow: nothing is closed before what lies inside,
// and what makes a held joint permanent is tied to its hold.
func TestTheDemosOrderIsOneThatABuilderWouldFollow(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	sheet, err := l.Order(t.Context(), demo.ID("samphire"))
	require.NoError(t, err)
	byName, above := map[string]int{}, map[int]map[int]bool{}
	for i, s := range sheet.Plan.Steps {
		byName[s.Name] = i
	}
	var from func(i int) map[int]bool
	from = func(i int) map[int]bool {
		if above[i] == nil {
			above[i] = map[int]bool{}
			for _, k := range sheet.Plan.Steps[i].After {
				above[i][k] = true
				for far := range from(k) {
					above[i][far] = true
				}
			}
		}
		return above[i]
	}
	for _, side := range []string{"left", "right"} {
		closed, ok := byName[side+" wing closed"]
		require.True(t, ok)
		for _, inside := range []string{side + " wing skins cut", side + " wing skins drilled", side + " wing wires drawn", side + " inspection doors", "fit the " + side + " tank"} {
			i, ok := byName[inside]
			require.True(t, ok, inside)
			assert.True(t, from(closed)[i] || sheet.Plan.Steps[i].State == plan.Done, "%s before the wing is closed", inside)
		}
	}
	ties := map[string][]string{}
	for _, s := range sheet.Own {
		ties[s.Name] = s.Ties
	}
	assert.Equal(t, []string{demo.HoldOf("tailplane on rails")}, ties["tailplane end holes drilled"])
	assert.Len(t, ties["aileron right riveted"], 1)
	for _, s := range sheet.Plan.Steps {
		if strings.HasPrefix(s.Name, "tailplane end holes") {
			assert.NotEmpty(t, s.WaitsFor, "it waits for its hold")
		}
	}
}
