package planning

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/plan"
	"orpine/internal/overview"
)

// The week in words joins days that are alike.
func TestTheWeekIsSaidInWords(t *testing.T) {
	t.Parallel()
	two := plan.Stretch{From: 19 * 60, Minutes: 120}
	assert.Equal(t, "tue, thu 19:00 for 2 h; sat 09:00 for 6 h 30", weekOf(map[string]plan.Stretch{"thu": two, "tue": two, "sat": {From: 9 * 60, Minutes: 390}, "sun": {From: 600}}))
	assert.Empty(t, weekOf(nil))
}

// What was added just now stands first in its list, wherever that is, and is not folded away.
func TestWhatWasAddedIsShown(t *testing.T) {
	t.Parallel()
	line := func(id string) Line { return Line{OrderStep: overview.OrderStep{ID: id}} }
	v := view{Now: []Line{line("a"), line("b"), line("c")}, Held: []heldLine{{Line: line("d")}, {Line: line("e")}}, Behind: []heldLine{{Line: line("f")}}}
	v.show("c")
	assert.Equal(t, []Line{line("c"), line("a"), line("b")}, v.Now)
	v.show("e")
	assert.Equal(t, "e", v.Held[0].ID)
	assert.False(t, v.Opened)
	v.show("f")
	assert.True(t, v.Opened)
	v.show("")
	assert.Len(t, v.Now, 3)
}
