package row

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever is laid out between two edges begins and ends at its edge distances, evenly,
// no further apart than was asked, and not one hole more than that takes.
func TestHolesBetweenEdgesKeepTheirPromises(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(1, 5))
	for range 2000 {
		l := Layout{Length: 50 + 3000*random.Float64(), First: 20 * random.Float64(), Last: 20 * random.Float64(), Pitch: 10 + 60*random.Float64()}
		holes, pitch, problems := l.Holes()
		require.Empty(t, problems)
		last := len(holes) - 1
		require.InDelta(t, l.First, holes[0].Along, 1e-9)
		require.InDelta(t, l.Length-l.Last, holes[last].Along, 1e-6)
		require.LessOrEqual(t, pitch, l.Pitch+1e-9)
		if last > 1 {
			require.Greater(t, (l.Length-l.First-l.Last)/float64(last-1), l.Pitch, "one space fewer would be too wide")
		}
		for i, h := range holes {
			require.Equal(t, i+1, h.Number)
			require.InDelta(t, l.First+float64(i)*pitch, h.Along, 1e-9)
		}
	}
}

// A random row, worked on at random.
func worked(random *rand.Rand) Work {
	w := Work{Row: Row{Reach: []string{"", "flanges up", "flanges down"}[random.IntN(3)], Bucker: random.IntN(2) == 0, Pin: random.IntN(4), Layers: make([]Layer, 2+random.IntN(2))}}
	for i := range 1 + random.IntN(40) {
		h := Hole{Number: i + 1, State: States[1+random.IntN(len(States)-1)], Pose: []string{"", "", "on its back"}[random.IntN(3)]}
		if random.IntN(6) == 0 && !h.Filled() {
			h.Keep = fairing
		}
		w.Holes = append(w.Holes, h)
	}
	return w
}

// Every hole that waits for its rivet stands in the order once, and no other does; all
// of one pose, reach and kind of hands is done in one go, the present pose first.
func TestTheOrderLeavesNoHoleOut(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(2, 5))
	for range 300 {
		var rows []Work
		want := map[string][]int{}
		for i := range 1 + random.IntN(6) {
			w := worked(random)
			w.ID = string(rune('a' + i))
			rows = append(rows, w)
			missed := slices.DeleteFunc(Missed(w.Holes), func(n int) bool { return w.Holes[n-1].Filled() }) // a doubtful one waits for the gauge
			if len(missed) > 0 {
				want[w.ID] = missed
			}
		}
		got := map[string][]int{}
		seen := map[[3]any]bool{}
		turned := false
		for _, leg := range Order(rows) {
			key := [3]any{leg.Pose, leg.Reach, leg.Bucker}
			require.False(t, seen[key], "the work is turned twice for %v", key)
			seen[key] = true
			turned = turned || leg.Pose != ""
			require.Equal(t, turned, leg.Pose != "", "as it lies comes first")
			for _, s := range leg.Rows {
				got[s.ID] = append(got[s.ID], s.Holes...)
			}
		}
		for id := range got {
			slices.Sort(got[id])
		}
		require.Equal(t, want, got)
	}
}

// The pins are the ends and every nth between, each once, and no two neighbours in the
// pattern are further apart than n.
func TestThePinsHoldTheWholeRow(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(3, 5))
	for range 500 {
		holes := sized(1 + random.IntN(60))
		r := Row{Pin: 1 + random.IntN(5)}
		pins := r.Pins(holes)
		sorted := slices.Sorted(slices.Values(pins))
		require.Equal(t, slices.Compact(slices.Clone(sorted)), sorted, "each once")
		require.Equal(t, 1, pins[0])
		if len(holes) > 1 {
			require.Equal(t, len(holes), pins[1], "the ends first")
		}
		for i := 1; i < len(sorted); i++ {
			require.LessOrEqual(t, sorted[i]-sorted[i-1], r.Pin)
		}
	}
}

// No chain of operations, whatever is asked and allowed, sets a kept hole or brings an
// abandoned one back, and a rivet is spoilt as often as it is marked bad.
func TestNoChainOfDeedsBreaksTheRulesOfAHole(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(4, 5))
	set := 0
	for range 400 {
		h, spoilt, abandoned := Hole{Number: 1, State: Pilot}, 0, false
		for range 60 {
			a := Asked{What: Operations[random.IntN(len(Operations))], Cause: Causes[random.IntN(len(Causes))], Reason: "asked", Keep: fairing}
			if a.What == Abandon && random.IntN(10) > 0 {
				continue
			}
			before := h
			after, err := h.Do(a, Leave{})
			if err != nil {
				require.Equal(t, before, after, "what is refused changes nothing")
				continue
			}
			h = after
			if a.What == Spoil {
				spoilt++
			}
			if a.What == Rivet {
				set++
			}
			require.False(t, h.Kept() && h.Filled())
			require.False(t, abandoned, "an abandoned hole stays so")
			require.Equal(t, spoilt, h.Spoilt)
			require.False(t, h.Filled() && !h.Clean, "set with chips in it")
			abandoned = h.State == Abandoned
		}
	}
	assert.Greater(t, set, 100)
}
