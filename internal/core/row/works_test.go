package row

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/core/say"
)

func TestARowAsksOnlyForWhatItsLayersNeed(t *testing.T) {
	t.Parallel()
	holes := sized(6)
	r := Row{Works: Works[0], Layers: []Layer{{Hole: "dimpled", From: 1, To: 4}, {Hole: "countersunk", From: 3, To: 4}, {Hole: "plain"}}}
	for i, want := range []string{"dimpled", "dimpled", "dimpled and countersunk", "dimpled and countersunk", "", ""} {
		assert.Equal(t, Asks{Form: want}, r.AsksOf(holes[i]), "hole %d", i+1)
	}
	assert.Equal(t, []Operation{Drill, Deburr, Form, Clean}, r.Steps(holes))
	r.Works = Works[1]
	assert.Equal(t, []Operation{Drill, Deburr, Form, Clean, Prime}, r.Steps(holes))
	for _, less := range []string{"", Works[2]} { // parts that come formed, and rows of before it was asked
		r.Works = less
		assert.Equal(t, []Operation{Drill, Clean}, r.Steps(holes))
	}
}

// A dimple outlasts the rivet that is drilled out of it, and the oversize only where it
// still fits.
func TestADimpledHolesWholeLife(t *testing.T) {
	t.Parallel()
	leave := Leave{Asks: Asks{Form: "dimpled", Prime: true}}
	do := func(h Hole, a Asked) Hole {
		after, err := h.Do(a, leave)
		require.NoError(t, err, a.What)
		return after
	}
	h := Hole{Number: 1, State: Pilot}
	for _, what := range []Operation{Drill, Deburr, Form, Clean, Prime, Pin, Unpin, Rivet} {
		h = do(h, Asked{What: what})
	}
	assert.Equal(t, Set, h.State)
	h = do(h, Asked{What: NotSet})
	assert.Equal(t, Primed, h.State, "it is as it was, and no rivet was used")
	assert.Zero(t, h.Spoilt)
	h = do(do(do(h, Asked{What: Rivet}), Asked{What: Spoil, Cause: "tipped"}), Asked{What: Out})
	assert.True(t, h.Formed)
	fit := Fit{Hole: 4.05, Rivet: 3.97, Size: "5/32", Dimple: Dimples[1]}
	over := do(h, Asked{What: Enlarge, Fit: fit, Reason: "out of round"})
	assert.True(t, over.Formed, "the dimple is still there")
	assert.False(t, over.Primed)
	assert.Equal(t, "out of round", over.Fit.Reason)
	assert.Equal(t, "hole 4.05 mm, rivet 5/32, a reduced-head repair rivet goes in", say.Plain(over.Fit.Says()))
	fit.Dimple = Dimples[2]
	assert.False(t, do(h, Asked{What: Enlarge, Fit: fit, Reason: "r"}).Formed, "it is formed anew")
}

// By hand: hole 4.05 mm takes 3.96875 (0.08 over); 3.96875 + 0.15 = 4.11875 is the most.
// Edge 7.5 mm is 7.5 / 3.175 = 2.36 D, and 7.5 / 3.96875 = 1.89 D once drilled over; with a
// rivet of 3.2 mm in a hole of 3.3 it stays 2.34 D, and nobody is asked.
func TestAnOversizeHoleIsJudgedByWhatGoesIn(t *testing.T) {
	t.Parallel()
	r, holes := stringer(), sized(10)
	r.Edge = 7.5
	h := holes[0]
	assert.Empty(t, Fit{Hole: 4.05, Rivet: 3.96875}.Fills())
	assert.Empty(t, Fit{Hole: 4.11875, Rivet: 3.96875}.Fills())
	assert.Contains(t, Fit{Hole: 4.13, Rivet: 3.96875}.Fills(), "does not fill")
	assert.Contains(t, r.Advise(h, holes).Crowded(), "1.9 D, less than 2 D", "the next size, where nothing is said")
	h.Fit = Fit{Hole: 3.3, Rivet: 3.2, Size: "3.2 mm"}
	assert.Empty(t, r.Advise(h, holes).Crowded())
	h.Over, h.State = true, Oversize
	a := r.Advise(h, holes)
	assert.Equal(t, 3.2, a.Diameter)
	assert.Empty(t, a.CallOut, "what the plans call out is for the size before")
	assert.Equal(t, "solid 3.2 mm × 5/16 in", r.Item(h, a))
	h.Fit.Dimple = Dimples[1]
	assert.Equal(t, "solid 3.2 mm reduced head × 5/16 in", r.Item(h, a))
	assert.NotEqual(t, r.Key(holes[0]), r.Key(h))
}

func TestHoldsAreWarnedOfWhatTheyPutOutOfReach(t *testing.T) {
	t.Parallel()
	holes := sized(5)
	lands := Reach{What: "formed", Step: "the rear spar lands", Hold: "h1"}
	for i := range 3 {
		holes[i].Reach = lands
	}
	holes[0].Formed, holes[1].State = true, Set
	holes[3].Reach = Reach{What: "set", Step: "skin on"}
	of := func(r Reach) bool { return r.Hold == "h1" }
	assert.Equal(t, []int{3}, Unreached(holes, of), "formed or set before it lands")
	h, err := holes[2].Do(Asked{What: Shut}, Leave{})
	require.NoError(t, err)
	assert.Zero(t, h.Reach, "it can be reached after all")
}

func TestHardwareThatIsNoRivet(t *testing.T) {
	t.Parallel()
	stack := []Layer{{Material: "aluminium", Thickness: 3, Hole: "plain"}, {Material: "steel", Thickness: 2, Hole: "plain"}}
	holes := sized(2)
	bolt := Row{Layers: stack, Fastener: Fastener{Sort: "bolt", Size: "1/4", Diameter: measure.Diameter{MM: 6.35}, Points: "forward"}, CallOuts: []CallOut{{Text: "12 mm", From: 1, To: 1}, {Text: "4 mm", From: 2, To: 2}}}
	long, short := bolt.Advise(holes[0], holes), bolt.Advise(holes[1], holes)
	assert.Equal(t, measure.Go, long.Verdict())
	assert.Equal(t, measure.Stop, short.Verdict(), "4 mm does not reach through 5")
	assert.Contains(t, short.Says(), "does not reach through")
	assert.Equal(t, "bolt 1/4 × 12 mm", bolt.Item(holes[0], long))
	assert.Equal(t, "bolt 1/4, head forward", bolt.Fastener.Says())
	assert.False(t, bolt.Longer(long), "a bolt's thread stands out")

	plate := Row{Layers: stack, Fastener: Fastener{Sort: "nut plate", Size: "3/16", Diameter: measure.Diameter{MM: 4.7625}, With: "solid 3/32 × 1/4 in"}}
	item := plate.Item(holes[0], plate.Advise(holes[0], holes))
	assert.Equal(t, "nut plate 3/16 + 2 × solid 3/32 × 1/4 in", item)
	assert.Equal(t, map[string]int{"nut plate 3/16": 1, "solid 3/32 × 1/4 in": 2}, Items(item), "one item, with its two rivets")
	assert.Equal(t, map[string]int{"solid 1/8 × 6 mm": 1}, Items("solid 1/8 × 6 mm"))
	assert.Equal(t, "bearing 10 mm", Row{Fastener: Fastener{Sort: "bearing", Size: "10 mm"}}.Item(holes[0], Advice{}))
}
