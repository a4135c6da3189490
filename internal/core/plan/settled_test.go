package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/plan"
	"orpine/internal/core/say"
)

// What a step of the application cannot hold is made part of the steps, or named with them: a bay
// is not closed before its wires, and a cure has the hours of this shop.
func TestAPlanSettledIntoItsSteps(t *testing.T) {
	t.Parallel()
	p, errs := plan.Read([]byte(`{"format":"orpine.plan","version":1,"now":"2026-11-30T08:00","zone":"Europe/Berlin","shop_temperature":10,"bays":["left wing"],
		"steps":[{"id":"skin","hours":1,"closes":["left wing"]},{"id":"wires","hours":2,"inside":["left wing"]},{"id":"tank","hours":3,"inside":["left wing"],"cure":{"hours":8,"at":20}}],
		"away":[{"from":"2026-12-24","to":"2026-12-27"}],"pace":[{"kind":"rivet","estimated":10,"actual":14}]}`))
	require.Empty(t, errs)
	out, left := p.Settled()
	assert.Equal(t, []int{1, 2}, slices.Sorted(slices.Values(out.Steps[0].After)))
	assert.Empty(t, p.Steps[0].After, "the document stays as it was")
	assert.InDelta(t, 16, out.Steps[2].Cure.Hours, 1e-9, "ten degrees colder takes twice as long")
	require.Len(t, left, 5)
	assert.Contains(t, left[0], "skin")
	assert.Contains(t, say.Plain(left[1]), "10 °C")
	assert.Contains(t, left[2], "tank")
	assert.Equal(t, []string{"days away", "the pace of work before"}, left[3:])
}
