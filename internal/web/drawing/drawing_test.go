package drawing

import (
	"encoding/xml"
	"io"
	"math"
	"strings"
	"testing"

	"orpine/internal/core/say"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// elements reads a drawing as XML and counts what is in it.
func elements(t *testing.T, svg string) map[string]int {
	t.Helper()
	counts, d := map[string]int{}, xml.NewDecoder(strings.NewReader(say.Plain(svg)))
	for {
		token, err := d.Token()
		if err == io.EOF {
			return counts
		}
		require.NoError(t, err)
		if start, ok := token.(xml.StartElement); ok {
			counts[start.Name.Local]++
		}
	}
}

func demoRig() Rig {
	r := Rig{Title: "Rails <and> tailplane", Chord: 620, How: "along the chord"}
	for i, z := range []float64{50.75, 50, 52.25, 50, 52, 47.5} {
		r.Supports = append(r.Supports, Support{Name: string(rune('A' + i)), Number: i + 1, X: 160 + 1440*float64(i/2), Y: -350 + 700*float64(i%2), Z: z, Known: true, Mark: Taken})
	}
	for i := range 5 {
		r.Stations = append(r.Stations, Station{Number: i + 1, X: 160 + 720*float64(i), Angle: 0.1 * float64(i), Known: i < 3, Mark: Todo})
	}
	return r
}

func TestARigShowsItsPointsAndStatesItsExaggeration(t *testing.T) {
	r := demoRig()
	r.Stations[3].Mark = Now
	svg := string(r.Draw())
	assert.Equal(t, 5, strings.Count(svg, `class="balloon `))
	assert.Contains(t, svg, "heights drawn ×50")
	assert.Contains(t, svg, "Rails &lt;and&gt; tailplane")
	assert.Contains(t, svg, `class="display"`)
	assert.NotZero(t, elements(t, svg)["path"])
	r.Survey, r.Moves = true, []RigMove{{At: "F", Up: true, Says: "4.8"}, {At: "", Up: false, Says: "tip"}}
	svg = string(r.Draw())
	assert.Equal(t, 6, strings.Count(svg, `class="balloon `))
	assert.Equal(t, 2, strings.Count(svg, `class="move head"`))
}

func TestARigWithoutReadingsOrSupportsIsStillDrawn(t *testing.T) {
	for _, r := range []Rig{{}, {Supports: []Support{{X: 0, Y: -350}, {X: 100, Y: 350}}}, {Stations: []Station{{X: 0}, {X: 10}}, Chord: 300}} {
		svg := string(r.Draw())
		assert.NotContains(t, svg, "NaN")
		assert.NotContains(t, svg, "Inf")
		elements(t, svg)
	}
}

// A higher far rail on the left end draws higher on the sheet: y runs down.
func TestHigherIsDrawnHigher(t *testing.T) {
	v := &rigView{Rig: demoRig(), c: &canvas{}, lean: 0.16, climb: 0.24}
	v.frame()
	assert.Less(t, v.at(160, -350, 52).y, v.at(160, -350, 50).y)
	assert.Less(t, v.at(160, -350, 50).y, v.at(160, 350, 50).y, "the far rail lies above the near one")
	assert.Less(t, v.at(160, 0, 50).x, v.at(1600, 0, 50).x)
	assert.InDelta(t, 51.5, v.height(880, -1), 1e-9, "half-way between 50.75 and 52.25")
	assert.InDelta(t, 47.5, v.height(9999, 1), 1e-9, "beyond the last support as at it")
}

func TestFactorsAndTicksAreRound(t *testing.T) {
	for given, want := range map[float64]float64{0.3: 1, 1: 1, 1.9: 1, 2: 2, 7: 5, 99: 50, 100: 100, math.Inf(1): 1, math.NaN(): 1} {
		assert.Equal(t, want, niceFactor(given), "%v", given)
	}
	for given, want := range map[float64]float64{0.15: 0.1, 0.38: 0.2, 0.6: 0.5, 1: 0.5, 2.6: 2, 9: 5} {
		assert.InDelta(t, want, tickStep(given), 1e-12, "%v", given)
	}
	assert.Equal(t, "12,400", thousands(12400))
	assert.Equal(t, "880", thousands(880))
}

func TestAScaleShowsLimitsAndInterval(t *testing.T) {
	low, high := -0.1, 0.1
	svg := string(Scale{Value: 0.03, U: 0.05, Low: &low, High: &high, Figure: say.Angle}.Draw())
	assert.Equal(t, 2, strings.Count(svg, `class="bracket"`))
	assert.Contains(t, say.Plain(svg), "+0.10")
	elements(t, svg)
	assert.NotContains(t, svg, "grip")
	assert.NotContains(t, string(Scale{}.Draw()), "NaN")

	// In inches: 5.08 mm are 0.2 in; the axis reaches 0.4 in over 156 of the drawing, so that each of it is 0.4/156 in.
	low, high = -5.08, 5.08
	svg = string(Scale{Value: 1, U: 0.5, Low: &low, High: &high, Figure: say.Length, Round: 25.4, Of: "bow"}.Draw())
	elements(t, svg)
	assert.Contains(t, svg, `data-of="bow" data-end="low" data-value="-0.2" data-each="0.0025641" data-decimals="3"`)
	assert.Contains(t, svg, `data-end="high" data-value="0.2"`)
}

func TestPartsAreLinksWithTheirStateInWords(t *testing.T) {
	wing := Part{Number: 1, Name: "Wing & flap", State: "owed", Says: "owed an answer", Href: `/assemblies/1"2`, Ribs: 3,
		Plan: [][2]float64{{0, 0}, {100, 3000}, {600, 3000}, {900, 0}}, Side: [][2]float64{{0, 0}, {300, 60}, {900, 0}}}
	svg := string(Airframe("Samphire S2", []Part{wing, {Number: 2, Name: "Fin", Plan: [][2]float64{{800, -20}, {800, 20}, {900, 20}}}}))
	counts := elements(t, svg)
	assert.Equal(t, 2, counts["a"])
	assert.Contains(t, svg, `aria-label="Wing &amp; flap, owed an answer"`)
	assert.Contains(t, svg, `fill="url(#hatch-owed)"`)
	assert.Contains(t, say.Plain(svg), "span 3,020 mm")
	elements(t, string(Airframe("nothing", nil)))
	elements(t, string(Swatch("held")))
}

func TestNumbersLieBesideSmallPartsAndApart(t *testing.T) {
	boxes := [][2]point{{{100, 100}, {400, 180}}, {{500, 100}, {510, 108}}, {{500, 112}, {510, 120}}, {{502, 300}, {503, 302}}}
	out := beside(boxes, point{0, 400}, point{200, 500}, 600)
	assert.Equal(t, point{250, 140}, out[0], "on a large part")
	for i := range out {
		for j := range i {
			assert.GreaterOrEqual(t, math.Hypot(out[i].x-out[j].x, out[i].y-out[j].y), 2*balloonRoom-1e-9)
		}
		for _, small := range boxes[1:] {
			assert.False(t, within(out[i], small, balloonRoom-4), "a number hides a small part")
		}
	}
}
