package overview_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/quantity"
	"orpine/internal/finding"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

func found(t *testing.T, l *loft.Loft, text string) (titles []string) {
	t.Helper()
	out, err := l.LookFor(l.Ctx(), text, []finding.Doc{{Sort: "guide", ID: "twist", Title: "Twist", More: "hands off", Path: "/guide/twist"}})
	require.NoError(t, err)
	for _, h := range out.Things {
		titles = append(titles, h.Sort+": "+h.Title)
	}
	return titles
}

func TestAnythingIsFoundByAFewLettersAndAsItIsNow(t *testing.T) {
	t.Parallel()
	l := loft.Small(t)
	assert.Contains(t, found(t, l, "tailplain"), "assembly: tailplane", "misspelt")
	assert.Contains(t, found(t, l, "hands"), "guide: Twist")
	assert.NotContains(t, found(t, l, "rudder"), "assembly: rudder", "what was withdrawn is gone")
	length, _ := measuring.NowOf("length")
	n, wrong := length.Setup(loft.Named("spinner"), "mm", measuring.Filled{Values: map[string]string{"design": "52"}})
	require.Empty(t, wrong)
	n.Name = "spinner backplate"
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
	assert.Contains(t, found(t, l, "spin"), "setup: spinner backplate", "and what was entered just now is there")
	out, err := l.LookFor(l.Ctx(), "spinner", nil)
	require.NoError(t, err)
	require.NotEmpty(t, out.Log)
	assert.Contains(t, out.Log[0].Title, "spinner backplate")
	assert.Equal(t, "/log?before="+next(out.Log[0].ID)+"#"+out.Log[0].ID, out.Log[0].Path)
	row := found(t, l, "hole 3 rib")
	require.NotEmpty(t, row)
	assert.Contains(t, row[0], "row: hole 3 of ")
	assert.Empty(t, found(t, l, "qqq"))
}

func next(seq string) string {
	v, _ := quantity.ParseLength(seq, quantity.Millimetre)
	return quantity.Fixed(float64(v)+1, 0)
}
