package measuring

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/check"
)

// Where several have the same part in the doubt, the line says so and does not single one out.
func TestWhatMostOfTheDoubtIs(t *testing.T) {
	t.Parallel()
	part := func(says string, share float64) check.DoubtPart { return check.DoubtPart{Says: says, Share: share} }
	assert.Empty(t, doubtHead(nil))
	assert.Equal(t, "Most of the doubt: the level (60 %)", doubtHead([]check.DoubtPart{part("the level", 0.6), part("root", 0.4)}))
	assert.Equal(t, "The doubt: root and tip alike (50 % each)", doubtHead([]check.DoubtPart{part("root", 0.5), part("tip", 0.5)}))
	four := []check.DoubtPart{part("root", 0.25), part("inner", 0.25), part("outer", 0.25), part("tip", 0.25)}
	assert.Equal(t, "The doubt: root and 3 others alike (25 % each)", doubtHead(four))
}
