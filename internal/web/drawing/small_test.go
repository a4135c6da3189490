package drawing

import (
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// 84 holes as 24 marks: in proportion, in the order given, and each state at least once.
func TestARowIsDrawnInShares(t *testing.T) {
	order := []string{"set", "open", "bad", "cleaned"}
	svg := string(Shares(order, map[string]int{"set": 41, "open": 1, "bad": 1, "cleaned": 41}))
	elements(t, svg)
	var states []string
	for _, m := range regexp.MustCompile(`class="hole is-(\w+)"`).FindAllStringSubmatch(svg, -1) {
		states = append(states, m[1])
	}
	assert.Len(t, states, 24)
	count := map[string]int{}
	for i, s := range states {
		count[s]++
		if i > 0 && s != states[i-1] {
			assert.Equal(t, 1, strings.Count(strings.Join(states, " ")+" ", states[i-1]+" "+s+" "), "each state together")
		}
	}
	assert.Equal(t, 12, count["set"], "41 of 84, rounded up")
	assert.Equal(t, []int{1, 1}, []int{count["open"], count["bad"]})
	assert.Equal(t, 3, strings.Count(string(Shares(order, map[string]int{"set": 3})), "is-set"), "no more marks than holes")
	elements(t, string(Shares(order, nil)))
}

// A part stands within its picture, whichever way it is broad.
func TestAPartIsDrawnSmall(t *testing.T) {
	for name, p := range map[string]Part{
		"a wing lies across":    {State: "held", Plan: [][2]float64{{100, 450}, {160, 6200}, {700, 6200}, {900, 450}}},
		"a boom lies along":     {State: "released", Plan: [][2]float64{{2350, -300}, {5250, -110}, {5250, 110}, {2350, 300}}},
		"a fin stands":          {Plan: [][2]float64{{4790, -36}, {5000, 36}}, Side: [][2]float64{{4790, 420}, {5470, 1730}, {5770, 1730}, {5350, 420}}},
		"a frame is from ahead": {Plan: [][2]float64{{0, -1}, {2, 1}}, Front: [][2]float64{{-500, 0}, {500, 0}, {500, 900}, {-500, 900}}},
	} {
		svg := string(Small(p))
		elements(t, svg)
		path := regexp.MustCompile(`d="M([^"]+)Z?"`).FindStringSubmatch(svg)
		require.NotNil(t, path, name)
		low, high := [2]float64{1e9, 1e9}, [2]float64{-1e9, -1e9}
		for _, xy := range regexp.MustCompile(`(-?[\d.]+) (-?[\d.]+)`).FindAllStringSubmatch(path[1], -1) {
			for i := range 2 {
				v, err := strconv.ParseFloat(xy[i+1], 64)
				require.NoError(t, err)
				low[i], high[i] = min(low[i], v), max(high[i], v)
			}
		}
		assert.True(t, low[0] >= 0 && low[1] >= 0 && high[0] <= 112 && high[1] <= 64, "%s: %v %v", name, low, high)
		assert.True(t, high[0]-low[0] > 90 || high[1]-low[1] > 50, "%s fills it: %v %v", name, low, high)
	}
	assert.Empty(t, Small(Part{}), "nothing is known of it")
	assert.Contains(t, string(Hatchings()), `id="hatch-held"`)
}

func TestThePhoneShowsTheHolesBesideTheOneInHand(t *testing.T) {
	holes := make([]StripHole, 20)
	for i := range holes {
		holes[i] = StripHole{Number: i + 1, State: "cleaned", Says: "cleaned", Href: "/rows/r?hole=" + strconv.Itoa(i+1)}
	}
	for here, want := range map[int][2]int{1: {1, 9}, 10: {6, 14}, 20: {12, 20}} {
		for i := range holes {
			holes[i].Here = i+1 == here
		}
		svg := string(Strip{Holes: holes}.Near())
		elements(t, svg)
		shown := regexp.MustCompile(`aria-label="hole (\d+),`).FindAllStringSubmatch(svg, -1)
		require.Len(t, shown, 9)
		assert.Equal(t, []string{strconv.Itoa(want[0]), strconv.Itoa(want[1])}, []string{shown[0][1], shown[8][1]}, "hole %d in hand", here)
		assert.Equal(t, 1, strings.Count(svg, `aria-current="true"`))
	}
	assert.Equal(t, 3, strings.Count(string(Strip{Holes: holes[:3]}.Near()), "<a "), "a short row")
}

// By hand: two weeks are 804 wide between 10 and 814, a day is 57.43; a step from Wednesday
// 00:00 to Friday 00:00 begins two days in, at 124.9, and is 114.9 long.
func TestAScheduleIsAStripOfWeeks(t *testing.T) {
	monday := time.Date(2026, 11, 23, 0, 0, 0, 0, time.UTC)
	day := func(d int) time.Time { return monday.AddDate(0, 0, d) }
	w := Weeks{From: monday, Visits: [][2]time.Time{{day(5).Add(9 * time.Hour), day(5).Add(14 * time.Hour)}}, Jobs: []WeekJob{
		{Name: "dimple", Href: "#a", From: day(2), To: day(4), Cured: day(4), Says: "Wed to Fri"},
		{Name: "bond <it>", Href: "#b", From: day(5), To: day(6), Cured: day(8), Helper: true, Says: "Sat"},
		{Name: "last", Href: "#c", From: day(12), To: day(13), Cured: day(13), Says: "late"},
	}}
	svg := string(w.Draw())
	elements(t, svg)
	bar := regexp.MustCompile(`class="bar" x="([\d.]+)" y="[\d.]+" width="([\d.]+)"`).FindAllStringSubmatch(svg, -1)
	require.Len(t, bar, 3)
	x, _ := strconv.ParseFloat(bar[0][1], 64)
	long, _ := strconv.ParseFloat(bar[0][2], 64)
	each := (figureWidth - 20) / 14
	assert.InDelta(t, 10+2*each, x, 0.1)
	assert.InDelta(t, 2*each, long, 0.1)
	assert.Contains(t, svg, "bond &lt;it&gt;")
	assert.Equal(t, 1, strings.Count(svg, `class="visit"`))
	assert.Equal(t, 1, strings.Count(svg, "job helper"))
	assert.Contains(t, svg, "note end", "what lies far to the right is named on its left")
	assert.Empty(t, Weeks{From: monday}.Draw())
	many := Weeks{From: monday}
	for i := range 60 {
		many.Jobs = append(many.Jobs, WeekJob{Name: "step", From: day(7 * i), To: day(7*i + 1), Cured: day(7*i + 1)})
	}
	assert.Equal(t, mostJobs, strings.Count(string(many.Draw()), `class="bar"`))
}
