package worksheet_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/worksheet"
)

// Two heights with nothing between them make no slope: a spacing of nothing is refused like one below it.
func TestASpacingIsAboveNothing(t *testing.T) {
	t.Parallel()
	for spacing, refused := range map[string]bool{"0": true, "-3": true, "0.1": false} {
		_, errs := worksheet.Parse([]byte(`{"format":"orpine.worksheet","version":1,"instruments":{"rule":{"measures":"length","type":"rule"}},"checks":[{"name":"a","kind":"incidence","design":1,"instrument":"rule","left":{"front":3,"rear":2,"spacing":"` + spacing + `"}}]}`))
		if !refused {
			require.Empty(t, errs, spacing)
			continue
		}
		require.Len(t, errs, 1, spacing)
		assert.Equal(t, "checks[0].left.spacing", errs[0].Path)
		assert.Equal(t, "must be above 0", errs[0].Message)
	}
}
