package plan

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAStepIsTypedInOneLine(t *testing.T) {
	t.Parallel()
	steps := []Named{{"1", "dimple the left skin"}, {"2", "dimple the right skin"}, {"3", "prime"}, {"4", "prime the ribs"}}
	for text, want := range map[string]Line{
		"rivet the left skin, 6 h, two people, after dimple the left": {Name: "rivet the left skin", Low: 6, Likely: 6, High: 6, People: 2, After: []string{"1"}},
		"bond the spar, 4-6-12 h, whole, cures 24 h":                  {Name: "bond the spar", Low: 4, Likely: 6, High: 12, People: 1, Whole: true, Cure: 24},
		"sweep,40 min,,after prime and right skin":                    {Name: "sweep", Low: 40. / 60, Likely: 40. / 60, High: 40. / 60, People: 1, After: []string{"3", "2"}},
		"fit it, 1 h, needs fuel tank and fuel":                       {Name: "fit it", Low: 1, Likely: 1, High: 1, People: 1, Needs: []string{"o"}},
		"lift it, 1:30, 4 people, after prime, after prime":           {Name: "lift it", Low: 1.5, Likely: 1.5, High: 1.5, People: 4, After: []string{"3"}},
	} {
		l, err := ParseLine(text, steps, []Named{{"o", "fuel tank, left"}})
		require.NoError(t, err, text)
		assert.Equal(t, want, l, text)
	}
	for text, says := range map[string]string{
		"": "what is to be done", "sweep": "how long", "sweep, 6": "not understood", "sweep, 1 h, after dimple": "after which: dimple the left skin, or dimple the right skin?",
		"fit it, 1 h, needs engine": "order it first", "sweep, 1 h, after lunch": `no step "lunch"`, "sweep, 3-2-1 h": "not understood", "sweep, 1 h, cures long": "how long does it cure", "sweep, 1 h, 0 people": "at least one", "sweep, 0 h": "not understood",
	} {
		_, err := ParseLine(text, steps, []Named{{"o", "fuel tank, left"}})
		assert.ErrorContains(t, err, says, text)
	}
}
