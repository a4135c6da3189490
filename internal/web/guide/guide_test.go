package guide_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/measure"
	"orpine/internal/web/guide"
	"orpine/internal/web/kinds"
)

// Pages that are of no measuring have no drawing of it.
var undrawn = []string{"finish", "putting-right", "where", "people", "stores", "paper", "files"}

// Words stand in order, each once, and lead to pages and drawings that are there.
func TestEveryWordOfTheListIsOneAndLeadsOn(t *testing.T) {
	assert.True(t, slices.IsSortedFunc(guide.Words[1:], func(a, b guide.Word) int { return strings.Compare(a.Word, b.Word) }))
	seen := map[string]bool{}
	for _, w := range guide.Words {
		assert.False(t, seen[w.Slug()], w.Word)
		seen[w.Slug()] = true
		assert.True(t, w.Page == "" || slices.ContainsFunc(guide.Pages, func(p guide.Page) bool { return p.ID == w.Page }), w.Word)
		if _, ok := kinds.Of(w.Picture); w.Picture != "" {
			assert.True(t, ok, w.Word)
		}
		assert.Less(t, len(w.Means), 220, w.Word)
	}
	for _, word := range []string{"Hold", "Setup", "Placing", "Lie", "Guarded", "±"} {
		assert.True(t, slices.ContainsFunc(guide.Words, func(w guide.Word) bool { return w.Word == word }), word)
	}
}

func TestTheGuideIsPagesOfOneScreenWithDrawings(t *testing.T) {
	assert.Len(t, guide.Pages, 19)
	for _, p := range guide.Pages {
		assert.LessOrEqual(t, len(p.Do), 4, p.ID)
		assert.Equal(t, slices.Contains(undrawn, p.ID), len(p.Pictures) == 0, p.ID)
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
