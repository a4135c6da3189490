package drawing

import (
	"fmt"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A chain runs straight, a second one that begins after the first ended shares its row, and what
// has no neighbours stands below.
func TestANetworkRunsFromLeftToRight(t *testing.T) {
	w := Network{Title: "six steps", Nodes: []NetNode{
		{Name: "ribs"}, {Name: "skin", After: []int{0}}, {Name: "close <it>", After: []int{1, 3}, Here: true, Href: "#c", Says: "held", State: "held"},
		{Name: "wires", After: []int{0}}, {Name: "papers", State: "now"}, {Name: "paint", After: []int{2}, State: "done"}}}
	at, columns, rows := w.places()
	assert.Equal(t, []point{{0, 0}, {1, 0}, {2, 0}, {1, 1}, {0, 2}, {3, 0}}, at)
	assert.Equal(t, [2]int{4, 3}, [2]int{columns, rows})
	svg := string(w.Draw())
	elements(t, svg)
	assert.Equal(t, 5, strings.Count(svg, `class="edge`))
	assert.Equal(t, 3, strings.Count(svg, "edge hot"), "what leads to and from the one in hand")
	assert.Contains(t, svg, "close &lt;it&gt;")
	assert.Contains(t, svg, "is-done")
	dots := string(w.Map())
	elements(t, dots)
	assert.Equal(t, 6, strings.Count(dots, "<circle"))
	assert.Equal(t, 1, strings.Count(dots, "dot here"))
	assert.Empty(t, Network{}.Draw())
	assert.Empty(t, Network{}.Map())
}

// No two boxes lie on one another, and each is to the right of all that it comes after; two
// thousand steps are laid in no time that anyone notices.
func TestBoxesNeverCollide(t *testing.T) {
	w := Network{}
	for i := range 2000 {
		node := NetNode{Name: fmt.Sprint("step ", i)}
		for _, back := range []int{1, 7, 40} {
			if i%back == 0 && i >= back && i%5 != 0 {
				node.After = append(node.After, i-back)
			}
		}
		w.Nodes = append(w.Nodes, node)
	}
	at, columns, rows := w.places()
	seen := map[point]bool{}
	for i, p := range at {
		require.False(t, seen[p], "step %d", i)
		seen[p] = true
		for _, b := range w.Nodes[i].After {
			require.Less(t, at[b].x, p.x)
		}
		require.True(t, p.x < float64(columns) && p.y < float64(rows))
	}
	circle := Network{Nodes: []NetNode{{Name: "a", After: []int{1}}, {Name: "b", After: []int{0}}}}
	elements(t, string(circle.Draw()))
}

func TestNamesAreWrappedIntoTwoLines(t *testing.T) {
	for name, want := range map[string][]string{
		"ribs": {"ribs"}, "left wing skins drilled": {"left wing skins", "drilled"}, "Tail boom: row 3, left stringer (42 holes)": {"Tail boom: row 3,", "left stringer (42 …"}, "Donaudampfschifffahrtsgesellschaft": {"Donaudampfschifff…"},
	} {
		assert.Equal(t, want, wrapped(name))
	}
}

// What is expected is drawn in the week in which it comes, late things told apart; evenings are
// ticks, and a long bar that leaves no room beside it holds its name.
func TestAScheduleShowsEveningsAndWhatIsDue(t *testing.T) {
	monday := time.Date(2026, 11, 23, 0, 0, 0, 0, time.UTC)
	day := func(d int) time.Time { return monday.AddDate(0, 0, d) }
	w := Weeks{From: monday, Evenings: []time.Time{day(1).Add(19 * time.Hour), day(3).Add(19 * time.Hour), day(90)},
		Due:  []WeekDue{{"propeller", day(4), true}, {"screws", day(12), false}, {"paint", day(200), false}},
		Jobs: []WeekJob{{Name: "rivet the whole fuselage", Href: "#a", From: day(0), To: day(13), Cured: day(13)}}}
	svg := string(w.Draw())
	elements(t, svg)
	assert.Equal(t, 2, strings.Count(svg, `class="evening"`))
	assert.Contains(t, svg, "propeller, due 27 Nov")
	assert.Contains(t, svg, "screws, due 5 Dec")
	assert.NotContains(t, svg, "paint")
	assert.Equal(t, 1, strings.Count(svg, `<line class="due late"`))
	assert.Regexp(t, regexp.MustCompile(`class="note in-bar"[^>]*>rivet the whole`), svg)
}
