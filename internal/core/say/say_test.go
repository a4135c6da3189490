package say

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestNumbersAndListsAreWrittenAsPeopleDo(t *testing.T) {
	t.Parallel()
	assert.Equal(t, "1 hole", Plural(1, "hole", "holes"))
	assert.Equal(t, "0 holes", Plural(0, "hole", "holes"))
	assert.Equal(t, "misread · level 2", Join("", "misread", "", "level 2"))
	assert.Equal(t, "drill it", Lower("Drill it"))
	assert.Equal(t, "Drill it", Sentence("drill it"))
	assert.Equal(t, "", Sentence(Lower("")))
	assert.Equal(t, " · kept: letter 12", After(" · kept: ", "letter 12"))
	assert.Empty(t, After(" · kept: ", ""))
}
