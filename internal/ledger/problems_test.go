package ledger

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestProblemsAreListedInOrder(t *testing.T) {
	t.Parallel()
	p := Problems{}
	require.NoError(t, p.Err())
	p.Add("name", "is empty")
	p.Add("name", "the first message at a field stays")
	p.Add("", "the whole of it")
	assert.Equal(t, "name: is empty; the whole of it", p.Error())
	var text = fmt.Sprintf("%0100d", 1)
	p.Text("note", &text, 80, "")
	assert.Equal(t, "longer than 80 characters", p["note"])
}

// Of several problems the first field's is shown, always.
func TestTheFirstProblemIsShownAlways(t *testing.T) {
	t.Parallel()
	for range 50 {
		into := Problems{}
		Problems{"checks[0].points[1].z": "nothing typed", "checks[0].points[1].y": "cannot be read"}.First("place", into)
		assert.Equal(t, Problems{"place": "y: cannot be read"}, into)
	}
}
