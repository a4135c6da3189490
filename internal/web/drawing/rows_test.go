package drawing

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"orpine/internal/core/say"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func stripOf(holes int, pitch float64) Strip {
	s := Strip{Title: "row 3 <left>"}
	for i := range holes {
		s.Holes = append(s.Holes, StripHole{Number: i + 1, Along: 40 + float64(i)*pitch, State: "cleaned", Says: "cleaned", Href: fmt.Sprintf("/rows/a?hole=%d", i+1), Here: i == 9})
	}
	return s
}

func TestTheStripMapIsCutIntoLinesOfTwentyFive(t *testing.T) {
	svg := string(stripOf(84, 34).Draw())
	elements(t, svg)
	assert.Equal(t, 84, strings.Count(svg, `<a href=`))
	assert.Equal(t, 1, strings.Count(svg, `aria-current="true"`))
	assert.Equal(t, 83, strings.Count(svg, `tabindex="-1"`), "Tab does not stop at every hole")
	for _, at := range []string{"at 40 mm", "at 890 mm", "at 1740 mm", "at 2590 mm"} {
		assert.Contains(t, say.Plain(svg), at, "25 × 34 mm further on each line")
	}
	assert.NotContains(t, svg, "drawn evenly")
	assert.Contains(t, svg, "row 3 &lt;left&gt;")
}

func TestAPatternIsDrawnLineByLine(t *testing.T) {
	s := stripOf(9, 30)
	for i := range s.Holes {
		s.Holes[i].Along, s.Holes[i].Across = float64(i%3)*30, float64(i/3)*20
	}
	assert.Len(t, s.lines(), 3)
	assert.Len(t, stripOf(1, 30).lines(), 1)
	elements(t, string(stripOf(1, 30).Draw()))
}

// Holes that lie too close to be told apart by a finger are drawn evenly.
func TestCrowdedHolesAreDrawnEvenly(t *testing.T) {
	s := stripOf(20, 34)
	s.Holes[5].Along = s.Holes[4].Along + 2
	svg := string(s.Draw())
	assert.Contains(t, svg, "drawn evenly; the holes lie closer in places")
	var xs []float64
	for _, m := range regexp.MustCompile(`class="reach" x="([\d.-]+)"`).FindAllStringSubmatch(svg, -1) {
		x, err := strconv.ParseFloat(m[1], 64)
		require.NoError(t, err)
		xs = append(xs, x)
	}
	for i := 1; i < len(xs); i++ {
		assert.GreaterOrEqual(t, xs[i]-xs[i-1], 24.0, "targets of 24 and more")
	}
}

func TestEveryStateHasAShapeOfItsOwn(t *testing.T) {
	shapes := map[string]string{}
	for _, state := range []string{"open", "pilot", "sized", "deburred", "formed", "cleaned", "primed", "pinned", "set", "doubtful", "accepted", "bad", "drilled out", "oversize", "abandoned"} {
		svg := strings.ReplaceAll(string(HoleSample(state)), "is-"+state, "")
		elements(t, svg)
		assert.Empty(t, shapes[svg], "%s looks like %s", state, shapes[svg])
		shapes[svg] = state
	}
}

// A section of 0.8 + 1.0 mm with a rivet of 3.175: heights are as thicknesses, and the
// shop head is drawn 4.7625 wide where a millimetre of stack is as high.
func TestTheSectionIsToScale(t *testing.T) {
	s := Section{Title: "hole 4", Layers: []SectionLayer{{0.8, "plain", "aluminium 0.8 mm"}, {1, "plain", "aluminium 1 mm"}}, Diameter: 3.175, Length: 6.35, HeadDepth: 1.33,
		ShopDiameter: 4.7625, ShopHeight: 1.5875, ShopDiameterMin: 4.1275, ShopHeightMin: 1.27, ShopSays: "shop head", LengthSays: "1/4 in"}
	svg := string(s.Draw())
	elements(t, svg)
	path := regexp.MustCompile(`class="layer" d="M[\d.]+ ([\d.]+)L[\d.]+ [\d.]+L[\d.]+ [\d.]+L[\d.]+ ([\d.]+)`)
	found := path.FindAllStringSubmatch(svg, -1)
	require.Len(t, found, 4, "each layer on both sides")
	height := func(m []string) float64 {
		top, _ := strconv.ParseFloat(m[1], 64)
		bottom, _ := strconv.ParseFloat(m[2], 64)
		return bottom - top
	}
	assert.InDelta(t, 0.8, height(found[0])/height(found[2]), 0.01)
	shop := regexp.MustCompile(`class="rivet shop" x="[\d.]+" y="[\d.]+" width="([\d.]+)" height="([\d.]+)"`).FindStringSubmatch(svg)
	require.NotNil(t, shop)
	width, _ := strconv.ParseFloat(shop[1], 64)
	high, _ := strconv.ParseFloat(shop[2], 64)
	assert.InDelta(t, 4.7625/1, width/height(found[2]), 0.05)
	assert.InDelta(t, 3, width/high, 0.05, "1.5 D to 0.5 D")
	assert.Contains(t, say.Plain(svg), "1.80 mm")

	s.Flush, s.Wrong = true, true
	s.Layers[0].Hole, s.Layers[1].Hole = "dimpled", "countersunk"
	flush := string(s.Draw())
	elements(t, flush)
	assert.Contains(t, flush, "layer wrong")
	assert.NotEqual(t, svg, flush)
	s.Blind, s.ShopDiameter = true, 0
	blind := string(s.Draw())
	elements(t, blind)
	assert.NotContains(t, blind, "rivet shop")
	elements(t, string(Section{}.Draw()))
}

func TestRowsAreDrawnOnTheirAssembly(t *testing.T) {
	part := Part{Plan: [][2]float64{{2350, 300}, {5250, 110}, {5250, -110}, {2350, -300}}, Side: [][2]float64{{2350, 500}, {5250, 420}, {5250, 310}, {2350, 110}}}
	holes := []StripHole{{Along: 0, State: "set"}, {Along: 30, State: "bad"}, {Along: 60, State: "open"}, {Along: 90, State: "cleaned"}}
	svg := string(RowsOn("boom", part, []RowOn{{Number: 1, Name: "row <3>", Href: "/rows/a", From: [2]float64{2350, -200}, To: [2]float64{5210, -70}, Holes: holes},
		{Number: 2, Name: "row 4", Href: "/rows/b", View: "left", From: [2]float64{2400, 300}, To: [2]float64{2400, 200}}, {Number: 3, Name: "nowhere", Href: "/rows/c"}}, 1))
	elements(t, svg)
	assert.Contains(t, svg, "from above, nose left")
	assert.Contains(t, svg, "from the left")
	assert.Contains(t, svg, "row &lt;3&gt;")
	assert.NotContains(t, svg, "nowhere", "a row that has no place is not drawn")
	assert.Equal(t, 2, strings.Count(svg, `class="row-on"`))
	assert.Contains(t, svg, "sta 3000")
	empty := string(RowsOn("boom", part, nil, 1))
	elements(t, empty)
	assert.Contains(t, empty, "from above, nose left", "its broader view alone, to read stations from")
	wing := Part{Plan: [][2]float64{{796, -450}, {958, -6200}, {1598, -6200}, {1976, -450}}, Side: [][2]float64{{796, 40}, {1976, 60}}}
	svg = string(RowsOn("wing", wing, []RowOn{{Number: 1, Name: "row 1", From: [2]float64{1000, -500}, To: [2]float64{1000, -1500}, Holes: holes}}, 1))
	elements(t, svg)
	assert.Contains(t, svg, "from above, nose up", "its span along the sheet")
	assert.Contains(t, svg, "bl −2000")
	fin := Part{Plan: [][2]float64{{5110, -36}, {5110, 36}, {5850, 36}, {5850, -36}}, Side: [][2]float64{{4790, 420}, {5430, 1730}, {5850, 1730}, {5350, 420}}}
	assert.Contains(t, string(RowsOn("fin", fin, nil, 1)), "from the left")
}
