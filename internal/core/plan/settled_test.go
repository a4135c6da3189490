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

// A session may begin at the very minute that is now, and not after it.
func TestASessionBeginsByNow(t *testing.T) {
	t.Parallel()
	read := func(from string) []string {
		_, errs := plan.Read([]byte(`{"format":"orpine.plan","version":1,"now":"2026-11-30T08:00","builder":"kit","steps":[{"id":"a","hours":1}],"sessions":[{"who":"kit","from":"` + from + `","category":"build"}]}`))
		var out []string
		for _, e := range errs {
			out = append(out, e.Message)
		}
		return out
	}
	assert.Empty(t, read("2026-11-30T08:00"))
	assert.Equal(t, []string{"is after now"}, read("2026-11-30T08:01"))
}

// The names of a step's helpers, parts and the like stand in its list once each.
func TestANameStandsInAListOnce(t *testing.T) {
	t.Parallel()
	_, errs := plan.Read([]byte(`{"format":"orpine.plan","version":1,"now":"2026-11-30T08:00","steps":[{"id":"a","hours":1},{"id":"b","hours":1},{"id":"c","hours":1,"after":["a","b","a"]}]}`))
	require.Len(t, errs, 1)
	assert.Equal(t, "steps[2].after[2]", errs[0].Path)
	assert.Contains(t, errs[0].Message, `"a" is named twice`)
}
