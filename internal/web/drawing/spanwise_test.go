package drawing

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Both panels of 2° washout, the left read to the middle: every station has its number, the root's angle is taken off, and
// 2° at the tip are 70 px below the root's line at 170: at 240.
func TestAPanelIsDrawnAgainstItsRoot(t *testing.T) {
	t.Parallel()
	s := Spanwise{DesignLeft: -2, DesignRight: -2}
	for i, v := range []float64{3, 2, 1} {
		s.Left = append(s.Left, SpanStation{Y: 1000 * float64(i), Reading: Reading{Number: i + 1, Value: v, Known: true, Mark: Taken}})
		s.Right = append(s.Right, SpanStation{Y: 1000 * float64(i), Reading: Reading{Number: i + 4, Mark: Todo}})
	}
	s.Right[0].Mark = Now
	svg := string(s.Draw())
	assert.Equal(t, 6, strings.Count(svg, `class="balloon `))
	assert.Equal(t, 1, strings.Count(svg, `class="balloon now"`))
	assert.Contains(t, svg, `<path class="edge" d="M376 170L206 205L36 240"/>`)
	assert.Contains(t, svg, `<line class="true" x1="464" y1="170" x2="804" y2="240"/>`, "as it is meant, on the right")
	assert.Contains(t, svg, "instrument", "the level lies where it is read")
}

// Root and tip of each panel hang from the line by a tape with its number; what is not given is not drawn.
func TestSweepHangsFromItsLine(t *testing.T) {
	t.Parallel()
	s := Swept{HasRight: true, RightRoot: Reading{Number: 1, Value: 100, Known: true, Shown: "100.0 mm", Mark: Taken}, RightTip: Reading{Number: 2, Mark: Now}}
	svg := string(s.Draw())
	assert.Equal(t, 2, strings.Count(svg, `class="balloon `))
	assert.Contains(t, svg, "100.0 mm")
	assert.Equal(t, 1, strings.Count(svg, `class="surface"`))
}

// Two fifths of the doubt are two fifths of the rule.
func TestAShareIsAsLongAsItIsGreat(t *testing.T) {
	t.Parallel()
	assert.Contains(t, string(Share(0.4)), `d="M0 2L80 2L80 10L0 10Z"`)
}
