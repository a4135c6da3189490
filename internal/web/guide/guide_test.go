package guide_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/measure"
	"orpine/internal/web/guide"
	"orpine/internal/web/kinds"
)

func TestTheGuideIsFourteenPagesOfOneScreenWithDrawings(t *testing.T) {
	assert.Len(t, guide.Pages, 14)
	for _, p := range guide.Pages {
		assert.LessOrEqual(t, len(p.Do), 4, p.ID)
		assert.Equal(t, p.ID == "finish" || p.ID == "putting-right", len(p.Pictures) == 0, p.ID)
		for _, kind := range p.Pictures {
			k, ok := kinds.Of(kind)
			assert.True(t, ok && len(k.Pictogram) > 0, "%s: %s", p.ID, kind)
		}
	}
}

// Every verdict and every kind of check leads to a page that is there.
func TestEveryQuestionLeadsToAPage(t *testing.T) {
	known := map[string]bool{}
	for _, p := range guide.Pages {
		known[p.ID] = true
	}
	for _, k := range measure.Kinds {
		assert.True(t, known[kinds.GuideOf(k.Name)], k.Name)
	}
	for _, kind := range []string{"pose", "join"} {
		assert.Equal(t, "tail", kinds.GuideOf(kind))
	}
	for _, verdict := range []string{"go", "stop", "unsure", "notyet", "measured"} {
		assert.True(t, known[kinds.GuideFor(verdict, "twist")], verdict)
	}
}
