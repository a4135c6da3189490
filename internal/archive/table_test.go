package archive

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/say"
)

// Whoever reads a table has sentences with units: the places for figures stay in the record.
func TestATableHasNoPlaces(t *testing.T) {
	t.Parallel()
	assert.Equal(t, "stop: twist +0.31° ± 0.11°", cell("stop: twist "+say.Angle(0.31).Signed().Within(0.11).String()))
	assert.Equal(t, "1.6 mm", cell([]byte(say.Length(1.6).String())))
	assert.Equal(t, "", cell(nil))
	assert.Equal(t, "7", cell(7))
}
