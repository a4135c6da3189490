package drawing

import (
	"html/template"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"orpine/internal/core/say"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// known is a reading that is taken, now the point in hand.
func known(number int, value float64, mark Mark) Reading {
	return Reading{Number: number, Name: "point", Value: value, Shown: "shown", Known: true, Mark: mark}
}

var figure = Figure{Title: "Fin & <rudder>", How: "as it sits"}

// drawings is one of each kind, with readings and without any.
func drawings(filled bool) map[string]template.HTML {
	r := func(number int, value float64, mark Mark) Reading {
		if !filled {
			return Reading{Number: number, Mark: Todo}
		}
		return known(number, value, mark)
	}
	return map[string]template.HTML{
		"line": Line{Figure: figure, Says: "offsets", Points: []LinePoint{
			{Reading: r(1, 15, Taken)}, {Reading: r(2, 16, Now), X: 1000, Move: "1.0 down"}, {Reading: r(3, 15, Stale), X: 2000, Move: "0.2 up", Up: true}}}.Draw(),
		"square": Square{Figure: figure, Station: 5480, HalfSpan: 1440, Chord: 620, Skew: 0.13, Known: filled, Move: "3.3 forward", From: []FromPoint{
			{Name: "firewall", Left: r(1, 5816, Taken), Right: r(2, 5821, Now)}, {Name: "boom root", X: 2350, Left: r(3, 3640, Stale), Right: r(4, 3645, Todo)}}}.Draw(),
		"brackets": Brackets{Figure: figure, Spacing: 210, Span: 2880, Left: r(1, 1730, Taken), Right: r(2, 1730.8, Now)}.Draw(),
		"fin":      Fin{Figure: figure, Height: 1310, Lean: 0.065, Known: filled, Datum: r(1, 0, Now), Left: r(2, 3.27, Now), Right: r(3, 3.14, Now)}.Draw(),
		"panels":   Panels{Figure: figure, DihedralLeft: 3.1, DihedralRight: 2.9, Known: filled, Datum: r(1, 0.2, Taken), Left: r(2, 3.3, Now), Right: r(3, 2.7, Stale)}.Draw(),
		"mount": Mount{Figure: figure, Down: 1.85, Right: 2.1, Known: filled, Pads: []Pad{
			{Reading: r(1, 320, Taken), Y: -190, Z: 400}, {Reading: r(2, 307, Now), Y: 190, Z: 400, Move: "+0.2"}, {Reading: r(3, 310, Stale), Y: -190, Z: 60}, {Reading: r(4, 295, Todo), Y: 190, Z: 60}}}.Draw(),
		"chords": Chords{Figure: figure, Lines: []Chord{
			{Reading: r(2, 2.6, Now), Design: 2.5, Move: "1.0 up", Up: true}, {Reading: r(3, 2.9, Taken), Design: 2.5, Move: "3.4 down", Front: true}}, Datum: &Reading{Number: 1, Mark: Now}}.Draw(),
		"bay":        Bay{Figure: figure, Near: r(1, 1010, Taken), Far: r(2, 940, Taken), Length: r(3, 560, Taken), D1: r(4, 1124, Now), D2: r(5, 1126, Todo), Rack: -1.4, Known: filled}.Draw(),
		"gaps":       Gaps{Figure: figure, Min: 3, Max: 6, Gaps: []GapAt{{Reading: r(1, 4.5, Taken)}, {Reading: r(2, 2, Now), Move: "2.5 trim"}}}.Draw(),
		"crosslevel": CrossLevel{Figure: figure, Datum: r(1, -0.02, Taken), Part: r(2, 0.03, Now)}.Draw(),
		"pairs":      Pairs{Figure: figure, Pairs: []PairOf{{"fore", r(1, 1402, Taken), r(2, 1404, Now)}, {"aft", r(3, 1511, Todo), r(4, 1509, Todo)}}}.Draw(),
		"travel":     Travel{Figure: figure, Surfaces: []TravelOf{{"aileron L", r(1, 22, Taken), r(2, 13, Now)}}}.Draw(),
		"spot":       OneSpot{Figure: figure, Readings: []Reading{r(1, 0.07, Taken), r(2, -0.15, Now)}}.Draw(),
		"join": Join{Figure: figure, Known: filled, Places: []JoinPlace{
			{Name: "firewall", At: [3]float64{0, 0, 300}}, {Name: "tip L", At: [3]float64{5560, -1440, 1740}, Surface: 1, Moved: [3]float64{2, 0.5, -1}, U: [3]float64{1, 1, 1}},
			{Name: "tip R", At: [3]float64{5560, 1440, 1740}, Surface: 1, Moved: [3]float64{-2, 0.5, 1}, U: [3]float64{1, 1, 1}}, {Name: "aft", At: [3]float64{5830, 0, 1724}, Surface: 1}},
			Lines: []JoinLine{{Reading: r(1, 5900, Taken), From: 0, To: 1, Says: "+0.2 mm"}, {Reading: r(2, 5930, Now), From: 0, To: 2, Suspect: true}, {Reading: r(3, 1300, Taken), From: 0, To: 1, View: FromBehind},
				{Reading: Reading{Number: 4, Mark: Now}, Level: true, From: 1, To: 2, View: FromBehind}, {Reading: r(5, 5560, Todo), From: -1, To: 3}, {From: 0, To: 3, Next: true}}}.Draw(),
		"hands": Hands{Figure: figure, Points: []HandPoint{
			{Name: "nose", First: [2]Reading{r(1, 15, Taken), r(2, 8, Taken)}, Second: [2]Reading{r(3, 15, Now), r(4, -8, Todo)}},
			{Name: "spar", First: [2]Reading{r(5, 60, Taken), r(6, 22, Taken)}, Second: [2]Reading{r(7, 60, Todo), r(8, -22, Todo)}},
			{Name: "tail", First: [2]Reading{r(9, 170, Taken), r(10, 3, Taken)}, Second: [2]Reading{r(11, 170, Stale), r(12, -3, Todo)}}}}.Draw(),
		"heights": Chords{Figure: figure, Lines: []Chord{{Reading: r(2, 2.6, Now), Design: 2.5, Front2: &Reading{Number: 2, Mark: Now}, Rear2: &Reading{Number: 3, Mark: Todo}}}}.Draw(),
		"tape":    OneSpot{Figure: figure, Tape: true, Readings: []Reading{r(1, 5751, Now)}}.Draw(),
	}
}

func TestEveryDrawingIsWellFormedNumbersItsPointsAndSaysHow(t *testing.T) {
	for _, filled := range []bool{true, false} {
		for name, html := range drawings(filled) {
			svg := string(html)
			counts := elements(t, svg)
			assert.Positive(t, counts["circle"], "%s has numbered points", name)
			assert.Contains(t, svg, "Fin &amp; &lt;rudder&gt;", name)
			assert.Contains(t, svg, "as it sits", name)
			for _, broken := range []string{"NaN", "Inf", "<rudder>"} {
				assert.NotContains(t, svg, broken, "%s, filled %v", name, filled)
			}
		}
	}
}

func TestThePointInHandIsMarked(t *testing.T) {
	for name, html := range drawings(true) {
		assert.Contains(t, string(html), "now", name)
	}
}

func TestMovesAreArrowsWithTheirAmounts(t *testing.T) {
	for name, amounts := range map[string][]string{
		"line": {"1.0 down", "0.2 up"}, "square": {"3.3 forward"}, "mount": {"+0.2"}, "chords": {"1.0 up", "3.4 down"}, "gaps": {"2.5 trim"},
	} {
		svg := string(drawings(true)[name])
		for _, amount := range amounts {
			assert.Contains(t, svg, amount, name)
		}
	}
}

func TestExaggerationIsStated(t *testing.T) {
	for name, says := range map[string]string{"line": "offsets drawn ×", "square": "skew drawn ×", "brackets": "mismatch drawn ×", "fin": "lean drawn ×", "mount": "angle drawn ×5", "chords": "angles drawn ×", "bay": "rack drawn ×", "crosslevel": "tilt drawn ×"} {
		assert.Contains(t, string(drawings(true)[name]), says, name)
	}
}

// Shims of 1.6 and 0.3 in a gap of 1.9: the pieces fill it, drawn to one scale.
func TestAStackFillsItsGap(t *testing.T) {
	svg := say.Plain(string(Stack{Figure: figure, Needed: 1.9, Pieces: []float64{1.6, 0.3}}.Draw()))
	for _, says := range []string{"1.6 mm", "0.3 mm", "1.9 mm"} {
		assert.Contains(t, svg, says)
	}
	assert.NotContains(t, string(Stack{}.Draw()), "NaN")
}

// A level held the other way round has its display at the other end.
func TestATurnedLevelHasItsDisplayAtTheOtherEnd(t *testing.T) {
	straight, turned := &canvas{}, &canvas{turned: true}
	for _, c := range []*canvas{straight, turned} {
		c.levelOn(point{0, 0}, point{100, 0}, 1)
	}
	assert.Contains(t, straight.b.String(), `"display" d="M62 `)
	assert.Contains(t, turned.b.String(), `"display" d="M16 `)
}

// A join marks the suspect and the reading to take next, and names every place; the
// surface is drawn where it is believed to be only when that is known.
func TestAJoinShowsWhatIsWrongAndWhatIsNext(t *testing.T) {
	svg := string(drawings(true)["join"])
	for _, says := range []string{"tape suspect", "tape next", "firewall", "tip R", "+0.2 mm", "from behind", "displacement drawn ×"} {
		assert.Contains(t, svg, says)
	}
	assert.NotContains(t, string(drawings(false)["join"]), `class="interval"`)
	assert.NotContains(t, string(Join{}.Draw()), "NaN")
}

// The outline of points is their hull: the one inside is left out.
func TestTheHullLeavesOutWhatLiesInside(t *testing.T) {
	got := hull([]point{{0, 0}, {10, 0}, {5, 5}, {10, 10}, {0, 10}})
	assert.Len(t, got, 4)
	assert.NotContains(t, got, point{5, 5})
	assert.Empty(t, hull(nil))
}

func TestEmptyDrawingsAreStillDrawn(t *testing.T) {
	for name, html := range map[string]template.HTML{
		"line": Line{}.Draw(), "square": Square{}.Draw(), "brackets": Brackets{}.Draw(), "fin": Fin{}.Draw(), "mount": Mount{}.Draw(), "chords": Chords{}.Draw(),
		"bay": Bay{}.Draw(), "gaps": Gaps{}.Draw(), "crosslevel": CrossLevel{}.Draw(), "pairs": Pairs{}.Draw(), "travel": Travel{}.Draw(), "spot": OneSpot{}.Draw(),
	} {
		assert.NotContains(t, string(html), "NaN", name)
		elements(t, string(html))
	}
}

// A leading edge up is drawn up, nose to the left: the nose stands higher.
func TestAnglesAreDrawnTheRightWayRound(t *testing.T) {
	p := point{100, 100}
	assert.Less(t, point{0, 100}.turned(p, -3).y, 100.0, "clockwise lifts what lies to the left")
	assert.Less(t, point{200, 100}.turned(p, 3).y, 100.0, "anticlockwise lifts what lies to the right")
	down, up := string(Mount{Figure: figure, Known: true, Pads: []Pad{{}}, Down: 2}.Draw()), string(Mount{Figure: figure, Known: true, Pads: []Pad{{}}, Down: -2}.Draw())
	assert.NotEqual(t, down, up)
	assert.True(t, strings.Contains(say.Plain(down), "down 2.00°") && strings.Contains(say.Plain(up), "down −2.00°"))
}

// A panel with dihedral is drawn rising towards its tip, on either side.
func TestPanelsRiseTowardsTheirTips(t *testing.T) {
	edge := regexp.MustCompile(`class="edge" d="M[\d.]+ ([\d.]+)L[\d.]+ ([\d.]+)"`)
	for degrees, rises := range map[float64]bool{3: true, -3: false} {
		found := edge.FindAllStringSubmatch(string(Panels{Figure: figure, DihedralLeft: degrees, DihedralRight: degrees, Known: true}.Draw()), -1)
		require.Len(t, found, 2)
		for _, m := range found {
			root, err := strconv.ParseFloat(m[1], 64)
			require.NoError(t, err)
			tip, err := strconv.ParseFloat(m[2], 64)
			require.NoError(t, err)
			assert.Equal(t, rises, tip < root, "%v°: from %v to %v", degrees, root, tip)
		}
	}
}
