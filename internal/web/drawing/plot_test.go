package drawing

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/say"
)

func plotOf(n int) Plot {
	low, high := -0.15, 0.15
	p := Plot{Title: "twist <through> its life", Figure: say.Angle, Low: &low, High: &high, Says: "its limits now"}
	for i := range n {
		p.Points = append(p.Points, PlotPoint{Name: fmt.Sprintf("re-clamped %d", i), Value: 0.2 - 0.1*float64(i), U: 0.05, Says: "said", Href: fmt.Sprintf("/setups/%d", i), Mark: []string{"stop", "unsure", "go"}[i%3]})
	}
	return p
}

// Every point is a link with its words, and verdicts differ by shape; names below lie beside one another.
func TestAPlotOpensEveryPointAndItsNamesDoNotMeet(t *testing.T) {
	t.Parallel()
	for _, n := range []int{2, 5, 14} {
		p := plotOf(n)
		for _, width := range []float64{plotWide, plotNarrow} {
			p.wide = width
			svg := string(p.draw("plot"))
			elements(t, svg)
			assert.Equal(t, n, strings.Count(svg, `aria-label="said"`))
			assert.Contains(t, svg, "twist &lt;through&gt; its life")
			assert.Contains(t, svg, "stopped")
			assert.Equal(t, map[bool]int{true: n - 1}[n > mostStops], strings.Count(svg, `tabindex="-1"`))
			ends := map[string]float64{}
			for _, m := range regexp.MustCompile(`<text class="note middle" x="([0-9.]+)" y="([0-9.]+)">([^<]*)`).FindAllStringSubmatch(svg, -1) {
				x, _ := strconv.ParseFloat(m[1], 64)
				half := float64(len(m[3])) * plotLetter / 2
				assert.Greater(t, x-half, ends[m[2]], "%s, %d points on %g", m[3], n, width)
				assert.LessOrEqual(t, x+half, width)
				ends[m[2]] = x + half
			}
			assert.NotEmpty(t, ends)
		}
	}
	assert.Empty(t, plotOf(1).Draw(), "one figure is no plot")
}

// By time, the middle of three months lies in the middle; an event stands where it happened.
func TestAPlotByTimeIsToScale(t *testing.T) {
	t.Parallel()
	p := plotOf(3)
	begin := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	for i := range p.Points {
		p.Points[i].Name, p.Points[i].At = "", begin.AddDate(0, 0, 30*i)
	}
	p.wide = plotWide
	x := p.across()
	assert.InDelta(t, (x(p.Points[0].At, 0)+x(p.Points[2].At, 2))/2, x(p.Points[1].At, 1), 1e-9)
	p.Events = []PlotEvent{{begin.AddDate(0, 0, 45), "dropped"}}
	assert.Contains(t, string(p.Draw()), ">dropped<")
	assert.Contains(t, string(p.Draw()), ">31 Jan<")
}

func TestTicksAreRoundAndFew(t *testing.T) {
	t.Parallel()
	for _, one := range []struct{ low, high, step float64 }{{-0.16, 0.27, 0.1}, {0, 61, 20}, {0, 7, 2}, {-1.2, 1.2, 0.5}} {
		all := ticks(one.low, one.high)
		assert.LessOrEqual(t, len(all), mostPlotTicks+1)
		assert.InDelta(t, one.step, all[1]-all[0], 1e-9, "%g to %g", one.low, one.high)
	}
}

func TestBarsShowWhatIsExpectedAndWhatLiesAhead(t *testing.T) {
	t.Parallel()
	b := Bars{Title: "hours", Unit: "hours", Bars: []Bar{{Name: "Nov", Value: 33, Expected: 40, Says: "November: 33 h"}, {Name: "Dec", Value: 40, ToGo: true, Says: "December: 40 h to go"}}}
	svg := string(b.Draw())
	for _, part := range []string{`class="bar"`, `class="bar ahead"`, `class="frame"`, `aria-label="November: 33 h"`} {
		assert.Equal(t, 2, strings.Count(svg, part), "%s, at both widths", part)
	}
	assert.Empty(t, Bars{}.Draw())
}
