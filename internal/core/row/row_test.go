package row

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

var fairing = Keep{Part: "fin fairing", Step: "fit the fairing"}

// What each operation asks for and does; an empty "says" is allowed.
func TestWhatMayBeDoneToAHoleInWhichState(t *testing.T) {
	t.Parallel()
	ready := Hole{Number: 4, State: Cleaned, Clean: true}
	in := func(s State) Hole { return Hole{Number: 4, State: s} }
	over := Hole{Number: 4, State: Oversize, Over: true}
	next := Fit{Hole: 4.05, Rivet: 3.96875, Size: "5/32"}
	dimpled, primed := Leave{Asks: Asks{Form: "dimpled"}}, Leave{Asks: Asks{Prime: true}}
	formed := Hole{Number: 4, State: Formed, Formed: true}
	oversize := func(fit Fit, reason string) Asked { return Asked{What: Enlarge, Fit: fit, Reason: reason} }
	tests := []struct {
		name  string
		hole  Hole
		asked Asked
		leave Leave
		after State
		says  string
	}{
		{"a pilot hole is drilled", in(Pilot), Asked{What: Drill}, Leave{}, Sized, ""},
		{"not before its hold is released", in(Pilot), Asked{What: Drill}, Leave{Drill: "the hold is not released"}, Pilot, "the hold is not released"},
		{"nor twice", in(Sized), Asked{What: Drill}, Leave{}, Sized, "only a pilot hole"},
		{"a sized hole is cleaned", in(Sized), Asked{What: Clean}, Leave{}, Cleaned, ""},
		{"a pilot hole is not", in(Pilot), Asked{What: Clean}, Leave{}, Pilot, "drill it to size first"},
		{"nor a clean one", ready, Asked{What: Clean}, Leave{}, Cleaned, "cleaned already"},
		{"a cleco goes into a sized hole", in(Sized), Asked{What: Pin}, Leave{}, Pinned, ""},
		{"not into a pilot hole", in(Pilot), Asked{What: Pin}, Leave{}, Pilot, "a cleco goes into"},
		{"out of a pinned one", in(Pinned), Asked{What: Unpin}, Leave{}, Sized, ""},
		{"out of none", in(Sized), Asked{What: Unpin}, Leave{}, Sized, "no cleco"},
		{"a cleaned hole is set", ready, Asked{What: Rivet}, Leave{}, Set, ""},
		{"a pinned clean one too", Hole{Number: 4, State: Pinned, Clean: true}, Asked{What: Rivet}, Leave{}, Set, ""},
		{"not with chips in it", in(Pinned), Asked{What: Rivet}, Leave{}, Pinned, "take apart, deburr both faces"},
		{"not when it is set", in(Set), Asked{What: Rivet}, Leave{}, Set, "set already"},
		{"not a drilled-out one", in(Bad), Asked{What: Rivet}, Leave{}, Bad, "drilled out"},
		{"not a pilot hole", in(Pilot), Asked{What: Rivet}, Leave{}, Pilot, "drill it to size first"},
		{"not before its hold is released", ready, Asked{What: Rivet}, Leave{Rivet: "the hold is not released"}, Cleaned, "not released"},
		{"not before the drop-through test", ready, Asked{What: Rivet}, Leave{Untried: []int{1, 2, 3, 9}}, Cleaned, "hole 1–3, 9 first"},
		{"a set rivet is bad, with its cause", in(Set), Asked{What: Spoil, Cause: "tipped"}, Leave{}, Bad, ""},
		{"and only with it", in(Set), Asked{What: Spoil}, Leave{}, Set, "what made it bad"},
		{"nor with any", in(Set), Asked{What: Spoil, Cause: "the moon"}, Leave{}, Set, "what made it bad"},
		{"one is spoilt while it is set", ready, Asked{What: Spoil, Cause: "slipped"}, Leave{}, Bad, ""},
		{"but not where none may be set", ready, Asked{What: Spoil, Cause: "slipped"}, Leave{Rivet: "the hold is not released"}, Cleaned, "not released"},
		{"a bad hole is cleaned", in(Bad), Asked{What: Clean}, Leave{}, Cleaned, ""},
		{"or drilled out and shown as that", in(Bad), Asked{What: Out}, Leave{}, Drilled, ""},
		{"no good rivet is drilled out", in(Set), Asked{What: Out}, Leave{}, Set, "marked as bad"},
		{"a drilled-out hole is cleaned", in(Drilled), Asked{What: Clean}, Leave{}, Cleaned, ""},
		{"and not set before that", in(Drilled), Asked{What: Rivet}, Leave{}, Drilled, "clean it"},
		{"or drilled over, with both diameters and the reason", in(Bad), oversize(next, "egg-shaped"), Leave{}, Oversize, ""},
		{"not without the diameters", in(Bad), oversize(Fit{}, "egg-shaped"), Leave{}, Bad, "how wide is the hole"},
		{"not with a rivet that does not fill it", in(Bad), oversize(Fit{Hole: 4.2, Rivet: 3.96875}, "x"), Leave{}, Bad, "does not fill a hole of 4.20 mm"},
		{"nor with one that does not go in", in(Bad), oversize(Fit{Hole: 3.9, Rivet: 3.96875}, "x"), Leave{}, Bad, "does not go into"},
		{"not without a reason", in(Bad), oversize(next, " "), Leave{}, Bad, "stays on the record"},
		{"not while nobody says whether its dimple fits", formed, oversize(next, "x"), dimpled, Formed, "does the dimple still fit"},
		{"not twice", over, oversize(next, "x"), Leave{}, Oversize, "oversize already"},
		{"not under a rivet", in(Set), oversize(next, "x"), Leave{}, Set, "empty"},
		{"not too near to an edge", in(Bad), oversize(next, ""), Leave{Enlarge: "the edge distance would be 1.8 D"}, Bad, "write who answered"},
		{"but with an answer", in(Bad), oversize(next, "kit maker: go on"), Leave{Enlarge: "the edge distance would be 1.8 D"}, Oversize, ""},
		{"a sized hole is deburred", in(Sized), Asked{What: Deburr}, Leave{}, Deburred, ""},
		{"a pilot hole is not deburred", in(Pilot), Asked{What: Deburr}, Leave{}, Pilot, "once it is drilled to size"},
		{"a deburred one is formed where its layers are", in(Deburred), Asked{What: Form}, dimpled, Formed, ""},
		{"not where none is", in(Deburred), Asked{What: Form}, Leave{}, Deburred, "no layer"},
		{"not with a burr", in(Sized), Asked{What: Form}, dimpled, Sized, "a burr splits the dimple"},
		{"not twice over", formed, Asked{What: Form}, dimpled, Formed, "dimpled already"},
		{"it is formed before it is cleaned", in(Deburred), Asked{What: Clean}, dimpled, Deburred, "form it before"},
		{"and cleaned then", formed, Asked{What: Clean}, dimpled, Cleaned, ""},
		{"a hole that is not formed is not set", ready, Asked{What: Rivet}, dimpled, Cleaned, "not dimpled yet"},
		{"unless someone signed for the row", ready, Asked{What: Rivet}, Leave{Asks: dimpled.Asks, Signed: true}, Set, ""},
		{"a cleaned hole is primed", ready, Asked{What: Prime}, primed, Primed, ""},
		{"a dirty one is not", in(Sized), Asked{What: Prime}, primed, Sized, "primer goes on"},
		{"where primer is wanted, none is set without", ready, Asked{What: Rivet}, primed, Cleaned, "not primed yet"},
		{"a hole is out of reach later", in(Sized), Asked{What: Shut, Reach: Reach{What: "set", Step: "rear spar lands"}}, Leave{}, Sized, ""},
		{"after a step", in(Sized), Asked{What: Shut}, Leave{}, Sized, "after which step"},
		{"for setting or forming", in(Sized), Asked{What: Shut, Reach: Reach{What: "seen", Step: "s"}}, Leave{}, Sized, "not be formed"},
		{"not once it is set", in(Set), Asked{What: Shut, Reach: Reach{What: "set", Step: "s"}}, Leave{}, Set, "is set"},
		{"an empty hole is abandoned with a reason", in(Bad), Asked{What: Abandon, Reason: "plugged and doubled"}, Leave{}, Abandoned, ""},
		{"not without", in(Bad), Asked{What: Abandon}, Leave{}, Bad, "why is hole 4 left"},
		{"not with a rivet in it", in(Set), Asked{What: Abandon, Reason: "x"}, Leave{}, Set, "is set"},
		{"and stays so", in(Abandoned), Asked{What: Clean}, Leave{}, Abandoned, "it stays closed"},
		{"a hole is kept open", ready, Asked{What: Mark, Keep: fairing}, Leave{}, Cleaned, ""},
		{"for a part", ready, Asked{What: Mark, Keep: Keep{Step: "s"}}, Leave{}, Cleaned, "which later part"},
		{"until a step", ready, Asked{What: Mark, Keep: Keep{Part: "p"}}, Leave{}, Cleaned, "which later step"},
		{"not under a rivet", in(Set), Asked{What: Mark, Keep: fairing}, Leave{}, Set, "drill it out first"},
		{"no mark is lifted where there is none", ready, Asked{What: Lift}, Leave{}, Cleaned, "not kept open"},
		{"nothing falls through a pilot hole", in(Pilot), Asked{What: Falls}, Leave{}, Pilot, "drop-through test is for"},
		{"nobody knows an operation of that name", ready, Asked{What: "polish"}, Leave{}, Cleaned, "nobody knows"},
	}
	for _, test := range tests {
		after, err := test.hole.Do(test.asked, test.leave)
		assert.Equal(t, test.after, after.State, test.name)
		if test.says == "" {
			assert.NoError(t, err, test.name)
		} else if assert.Error(t, err, test.name) {
			assert.Contains(t, say.Plain(err.Error()), test.says, test.name)
			assert.Equal(t, test.hole, after, test.name)
		}
	}
}

func TestAKeptHoleIsNeverSetWhateverElseIsSaid(t *testing.T) {
	t.Parallel()
	kept := Hole{Number: 9, State: Cleaned, Clean: true, Keep: fairing}
	assert.Equal(t, Open, kept.Shown())
	for _, a := range []Asked{{What: Rivet}, {What: Rivet, Reason: "I want to"}, {What: Spoil, Cause: "slipped"}} {
		after, err := kept.Do(a, Leave{})
		require.Error(t, err)
		assert.Equal(t, kept, after)
		assert.Contains(t, err.Error(), "stays open for fin fairing (fit the fairing)")
	}
	_, err := kept.Do(Asked{What: Lift}, Leave{Lift: "that step has not come"})
	var refused *Refusal
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, "reason", refused.Field)
	lifted, err := kept.Do(Asked{What: Lift, Reason: "the fairing was left out"}, Leave{Lift: "that step has not come"})
	require.NoError(t, err)
	_, err = lifted.Do(Asked{What: Rivet}, Leave{})
	assert.NoError(t, err)
	_, err = kept.Do(Asked{What: Lift}, Leave{})
	assert.NoError(t, err, "the step has come")
}

// Set, found bad, kept open since: undoing the bad one would make it set again.
func TestUndoDoesNotMakeAKeptHoleASetOne(t *testing.T) {
	t.Parallel()
	set := Hole{Number: 1, State: Set, Clean: true}
	bad, err := set.Do(Asked{What: Spoil, Cause: "tipped"}, Leave{})
	require.NoError(t, err)
	assert.Equal(t, 1, bad.Spoilt)
	back, err := bad.Undo(set)
	require.NoError(t, err)
	assert.Equal(t, set, back)
	kept, err := bad.Do(Asked{What: Mark, Keep: fairing}, Leave{})
	require.NoError(t, err)
	_, err = kept.Undo(set)
	assert.ErrorContains(t, err, "cannot be made a set one again")
	shut, err := bad.Do(Asked{What: Abandon, Reason: "plugged"}, Leave{})
	require.NoError(t, err)
	_, err = shut.Undo(set)
	assert.ErrorContains(t, err, "it stays closed")
	for _, d := range Operations {
		assert.Equal(t, d != Mark && d != NotYet && d != Lift && d != Shut && d != Falls && d != Stuck && d != Abandon && d != Accept, d.Undoable(), d)
	}
}

// 1450 mm with 10 mm edges leaves 1430; at most 31 mm makes 47 spaces of 30.4255.
func TestHolesAreLaidOut(t *testing.T) {
	t.Parallel()
	holes, pitch, problems := Layout{Length: 1450, First: 10, Last: 10, Pitch: 31}.Holes()
	require.Empty(t, problems)
	assert.Len(t, holes, 48)
	assert.InDelta(t, 1430.0/47, pitch, 1e-12)
	assert.InDelta(t, 1440, holes[47].Along, 1e-9)

	holes, pitch, problems = Layout{First: 40, Pitch: 34, Count: 3, Lines: 3, Gauge: 20}.Holes()
	require.Empty(t, problems)
	assert.Len(t, holes, 9, "a pattern of nine")
	assert.Equal(t, 34.0, pitch)
	assert.Equal(t, Hole{Number: 9, Along: 108, Across: 40, State: Pilot}, holes[8])

	holes, _, problems = Layout{Length: 110, First: 10, Last: 10, Pitch: 30}.Holes()
	require.Empty(t, problems)
	assert.Len(t, holes, 4, "an even division is not rounded up")

	for field, l := range map[string]Layout{
		"pitch": {Count: 3}, "length": {Pitch: 30, First: 10, Last: 10, Length: 15}, "count": {Count: 2000, Pitch: 1}, "gauge": {Count: 3, Pitch: 10, Lines: 2},
	} {
		_, _, problems := l.Holes()
		assert.Contains(t, problems, field)
	}
	_, _, problems = Layout{Length: 1e9, Pitch: 1}.Holes()
	assert.Contains(t, problems, "pitch", "more holes than a row has")
}

func sized(n int) []Hole {
	holes, _, _ := Layout{Count: n, Pitch: 30}.Holes()
	for i := range holes {
		holes[i].State = Sized
	}
	return holes
}

func TestThePinPatternBeginsAtTheEnds(t *testing.T) {
	t.Parallel()
	r := Row{Layers: []Layer{{Thickness: 1}, {Thickness: 1}}}
	assert.Equal(t, 3, r.PinEvery(9))
	assert.Equal(t, []int{1, 9, 4, 7}, r.Pins(sized(9)), "every third, ends first")
	r.Pin = 2
	assert.Equal(t, []int{1, 9, 5, 3, 7}, r.Pins(sized(9)), "every second: the ends, the middle, then between")
	r.Bowed = true
	assert.Len(t, r.Pins(sized(9)), 9, "a bow wants all")
	three := Row{Pin: 3, Layers: []Layer{{Thickness: 1}, {Thickness: 1}, {Thickness: 1, From: 1, To: 2}}}
	assert.Equal(t, 1, three.PinEvery(9), "three layers anywhere want all")
	holes := sized(5)
	holes[4].State = Set
	assert.Equal(t, []int{1, 4}, Row{}.Pins(holes), "what is set holds by itself")
	assert.Equal(t, []int{1, 9}, Fewest(sized(9)))
	assert.Equal(t, []int{1}, Fewest(sized(1)))
	assert.Empty(t, Row{}.Pins(nil))
}

func TestTheDropThroughTest(t *testing.T) {
	t.Parallel()
	r := Row{Final: true, Sample: 4}
	holes := sized(10)
	assert.Equal(t, []int{1, 5, 9, 10}, r.Untried(holes), "every fourth, and the last")
	holes[0].Tried = Through
	assert.Equal(t, []int{5, 9, 10}, r.Untried(holes))
	holes[4].State, holes[4].Tried = Cleaned, Sticks
	match, after := r.MatchDrilled(holes)
	assert.False(t, match.Final)
	assert.Empty(t, match.Untried(after))
	for _, h := range after {
		assert.Equal(t, Pilot, h.State, "one failure makes the row match-drilled")
	}
	assert.Equal(t, Sized, holes[1].State, "what was given is not changed")
	assert.Len(t, Row{Final: true}.Untried(sized(3)), 3, "all, where no sample is said")
}

func TestTheOrderOfSetting(t *testing.T) {
	t.Parallel()
	left, right, lap := sized(6), sized(4), sized(3)
	left[5].Pose, left[0].State, left[1].Keep = "on its back", Set, fairing
	legs := Order([]Work{
		{ID: "r1", Name: "row 1", Row: Row{Reach: "flanges down", Bucker: true}, Holes: left},
		{ID: "r2", Name: "row 2", Row: Row{Reach: "flanges up"}, Holes: right},
		{ID: "r3", Name: "row 3", Row: Row{Reach: "flanges down"}, Holes: lap},
	})
	var order []string
	for _, l := range legs {
		order = append(order, l.Pose+"|"+l.Reach+"|"+l.Rows[0].Name+"|"+Runs(l.Rows[0].Holes))
	}
	assert.Equal(t, []string{"|flanges down|row 3|1–3", "|flanges down|row 1|3–5", "|flanges up|row 2|1–4", "on its back|flanges down|row 1|6"}, order)
	assert.Equal(t, 3, legs[1].Count())
	helper := ForHelper(legs)
	require.Len(t, helper, 2)
	assert.True(t, helper[0].Bucker)
	assert.Empty(t, Order(nil))
}

func TestRunsOfNumbers(t *testing.T) {
	t.Parallel()
	for want, numbers := range map[string][]int{"": nil, "4": {4}, "4, 5": {4, 5}, "1–4, 7, 9–12": {1, 2, 3, 4, 7, 9, 10, 11, 12}} {
		assert.Equal(t, want, Runs(numbers))
	}
	holes := sized(4)
	holes[0].State, holes[1].State, holes[2].Keep = Set, Abandoned, fairing
	assert.Equal(t, []int{4}, Missed(holes))
}

func TestMetalsThatMeet(t *testing.T) {
	t.Parallel()
	r := Row{Layers: []Layer{{Material: "aluminium"}, {Material: "stainless steel"}, {Material: "carbon"}}, Fastener: Fastener{Material: "aluminium"}}
	var pairs []string
	for _, m := range r.Meetings() {
		pairs = append(pairs, m.A+" on "+m.B)
		assert.NotEmpty(t, m.Barrier)
	}
	assert.Equal(t, []string{"aluminium on stainless steel", "aluminium on carbon"}, pairs, "the rivet meets every layer; each pair is said once")
	assert.Empty(t, Row{Layers: []Layer{{Material: "aluminium"}, {Material: "aluminium"}}, Fastener: Fastener{Material: "aluminium"}}.Meetings())
}

func stringer() Row {
	return Row{
		Layers:   []Layer{{Material: "aluminium", Thickness: 0.8, Hole: "plain"}, {Material: "aluminium", Thickness: 1, Hole: "plain"}, {Material: "aluminium", Thickness: 1.2, Hole: "plain", From: 1, To: 6}},
		Fastener: Fastener{Sort: "solid", Size: "1/8", Head: "domed", Diameter: measure.Diameter{MM: 3.175}},
		CallOuts: []CallOut{{Text: "5/16 in", From: 1, To: 6}, {Text: "1/4 in", From: 7, To: 0}}, Edge: 8,
	}
}

// By hand: holes 1–6 have a grip of 3.0 and want 3.0 + 1.5 × 3.175 = 7.7625 mm; 5/16 in
// = 7.9375 stands out by 4.9375 / 3.175 = 1.555 D. The others have 1.8 and want 6.5625;
// 1/4 in = 6.35 stands out by 1.433 D. A 5/16 there would stand out by 1.933 D: too long.
// Edge 8 / 3.175 = 2.520 D, drilled over 8 / 3.96875 = 2.016 D; pitch 30 / 3.175 = 9.449 D.
func TestEachHoleIsJudgedByItsOwnStack(t *testing.T) {
	t.Parallel()
	r, holes := stringer(), sized(10)
	three, two := r.Advise(holes[0], holes), r.Advise(holes[9], holes)
	quantities := func(a Advice, name string) float64 {
		for _, result := range []measure.Result{a.Rivet, a.Edges} {
			if q, ok := result.Quantity(name); ok {
				return q.Value
			}
		}
		t.Fatal("no ", name)
		return 0
	}
	assert.InDelta(t, 3.0, quantities(three, "grip"), 1e-9)
	assert.InDelta(t, 7.7625, quantities(three, "needed"), 1e-9)
	assert.InDelta(t, 4.9375/3.175, quantities(three, "protrusion"), 1e-9)
	assert.Equal(t, "5/16 in", three.Length)
	assert.InDelta(t, 4.55/3.175, quantities(two, "protrusion"), 1e-9)
	assert.Equal(t, measure.Go, two.Verdict())
	assert.InDelta(t, 8/3.175, quantities(two, "edge"), 1e-9)
	assert.InDelta(t, 8/3.96875, quantities(two, "edge_oversize"), 1e-9)
	assert.InDelta(t, 30/3.175, quantities(two, "pitch"), 1e-9)
	assert.Empty(t, two.Crowded())
	assert.Nil(t, two.Flush)

	r.CallOuts = []CallOut{{Text: "5/16 in", From: 0, To: 0}}
	wrong := r.Advise(holes[9], holes)
	assert.Equal(t, measure.Unsure, wrong.Verdict())
	assert.Equal(t, "too long: it tends to tip over", wrong.Says())
	r.CallOuts, r.Edge = nil, 7
	assert.Equal(t, "1/4", r.Advise(holes[9], holes).Length[:3], "chosen where nothing is called out")
	assert.Equal(t, "drilled oversize, the edge distance would be 1.8 D, less than 2 D", r.Advise(holes[9], holes).Crowded())
	holes[9].Over = true
	// 1.8 + 1.5 × 3.96875 = 7.753 mm: 5/16 in stands out by 1.546 D.
	r.CallOuts = stringer().CallOuts
	over := r.Advise(holes[9], holes)
	assert.InDelta(t, 3.96875, over.Diameter, 1e-9)
	assert.Empty(t, over.CallOut, "the plans' 1/4 in is for the size before")
	assert.Equal(t, "5/16 in", over.Length)
	assert.InDelta(t, (7.9375-1.8)/3.96875, quantities(over, "protrusion"), 1e-9)
	assert.Empty(t, Row{}.Advise(holes[0], holes).Length, "nothing known, nothing said")
}

// A flush head of 1/8 in sits 0.42 × 3.175 = 1.33 mm deep: a countersunk layer of 1 mm is
// a knife edge, and a dimple does not lie on a plain layer.
func TestFlushLayersAndBlindGrips(t *testing.T) {
	t.Parallel()
	r, holes := stringer(), sized(10)
	r.Fastener.Head = "flush"
	r.Layers = []Layer{{Thickness: 0.8, Hole: "dimpled"}, {Thickness: 1, Hole: "plain"}}
	r.CallOuts = []CallOut{{Text: "1/4 in", From: 0, To: 0}}
	a := r.Fit(holes[0])
	assert.Equal(t, measure.Stop, a.Verdict())
	assert.Contains(t, a.Says(), "a gap that the eye does not see")
	r.Layers = []Layer{{Thickness: 1, Hole: "countersunk"}, {Thickness: 1, Hole: "plain"}}
	assert.Contains(t, r.Fit(holes[0]).Says(), "knife edge")
	assert.InDelta(t, 1.3335, HeadDepth(3.175), 1e-9)

	r.Layers[0].Hole = "plain"
	r.Fastener = Fastener{Sort: "blind", Diameter: measure.Diameter{MM: 3.2, Metric: true}, Head: "domed", Grips: []Grip{{"B3", 0.5, 1.5}, {"B5", 1.5, 3.2}}}
	r.CallOuts = []CallOut{{Text: "B3", From: 0, To: 0}}
	a = r.Fit(holes[0])
	assert.Equal(t, measure.Stop, a.Verdict(), "2 mm is more than B3 holds")
	assert.Equal(t, "B3 does not hold a grip of 2.00 mm", say.Plain(a.Says()))
	r.CallOuts = nil
	assert.Equal(t, "B5", r.Fit(holes[0]).Length)
	r.Layers = []Layer{{Thickness: 9, Hole: "plain"}}
	assert.Equal(t, "nothing on hand holds a grip of 9.00 mm", say.Plain(r.Fit(holes[0]).Says()))
	assert.InDelta(t, 4.0, r.Fastener.Over(), 1e-9)
	assert.Equal(t, "of the next size", r.Fit(Hole{Number: 1, Over: true}).Length)
}

func TestLookAlikeCallOuts(t *testing.T) {
	t.Parallel()
	for _, test := range []struct {
		a, b string
		want bool
	}{{"5/16 in", "1/4 in", true}, {"6 mm", "7 mm", true}, {"6 mm", "8 mm", false}, {"1/4 in", "1/4 in", false}, {"B32-4", "B32-6", true}, {"B32-4", "B32-40", true}, {"B32-4", "C40-9", false}} {
		assert.Equal(t, test.want, len(Alike([]string{test.a, test.b})) > 0, "%s, %s", test.a, test.b)
	}
	assert.Equal(t, []string{"5/16 in", "1/4 in"}, stringer().CallOutTexts())
	assert.Equal(t, quantity.Length(1.2), stringer().Layers[2].Thickness)
}

// What is wrong with a rivet is not one thing. Keyed and not done: nothing was used. Doubtful:
// it waits for the gauge. Accepted: as good as set. Set in a hole that stays open: one rivet
// spoilt, to be drilled out, and the hole is kept still.
func TestBadIsNotOneThing(t *testing.T) {
	t.Parallel()
	set := Hole{Number: 7, State: Set, Clean: true}
	do := func(h Hole, a Asked) (Hole, error) { return h.Do(a, Leave{}) }

	never, err := do(set, Asked{What: NotSet})
	require.NoError(t, err)
	assert.Equal(t, Hole{Number: 7, State: Cleaned, Clean: true}, never)
	_, err = do(never, Asked{What: NotSet})
	assert.ErrorContains(t, err, "no rivet was said to be in it")

	doubtful, err := do(set, Asked{What: Doubt})
	require.NoError(t, err)
	assert.Equal(t, []int{7}, Missed([]Hole{doubtful}), "someone has yet to judge it")
	_, err = do(doubtful, Asked{What: Rivet})
	assert.ErrorContains(t, err, "set already")
	_, err = do(doubtful, Asked{What: Accept})
	assert.ErrorContains(t, err, "what did the gauge say")
	accepted, err := do(doubtful, Asked{What: Accept, Reason: "head 0.4 high, the gauge goes"})
	require.NoError(t, err)
	assert.Empty(t, Missed([]Hole{accepted}))
	_, err = do(set, Asked{What: Accept, Reason: "fine"})
	assert.ErrorContains(t, err, "only a doubtful rivet")

	kept := Hole{Number: 7, State: Cleaned, Clean: true, Keep: fairing}
	_, err = do(kept, Asked{What: Spoil, Cause: "tipped"})
	assert.ErrorContains(t, err, "do not set it")
	mistaken, err := do(kept, Asked{What: Spoil, Cause: ShouldHaveStayedOpen})
	require.NoError(t, err)
	assert.Equal(t, Hole{Number: 7, State: Bad, Spoilt: 1, Keep: fairing}, mistaken)
}

// Several at once passes over what is as far already, and never over a kept hole that is
// said to be set.
func TestSeveralPassesOverWhatIsDone(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		hole Hole
		what Operation
		past bool
	}{
		{Hole{State: Pilot}, Drill, false}, {Hole{State: Set}, Drill, true}, {Hole{State: Bad}, Drill, true},
		{Hole{State: Sized}, Clean, false}, {Hole{State: Pinned, Clean: true}, Clean, true}, {Hole{State: Bad}, Clean, false}, {Hole{State: Abandoned}, Clean, true},
		{Hole{State: Pinned}, Pin, true}, {Hole{State: Doubtful}, Pin, true}, {Hole{State: Sized}, Pin, false},
		{Hole{State: Accepted}, Rivet, true}, {Hole{State: Cleaned, Keep: fairing}, Rivet, false}, {Hole{State: Bad}, Rivet, false},
		{Hole{State: Set}, Spoil, false}, {Hole{State: Set}, NotSet, false},
	} {
		assert.Equal(t, c.past, c.hole.Past(c.what), "%s at a hole that is %s", c.what, c.hole.State)
	}
}

// Under a head that stands proud a dimple leaves a gap too, and so does a plain layer over
// one that is dimpled or countersunk; blind rivets are no better.
func TestLayersNestUnderEveryHead(t *testing.T) {
	t.Parallel()
	holes := []Hole{{Number: 1}}
	for _, c := range []struct {
		head, sort string
		over       [2]string
		gap        bool
	}{
		{"domed", "solid", [2]string{"plain", "plain"}, false}, {"domed", "solid", [2]string{"dimpled", "dimpled"}, true},
		{"domed", "solid", [2]string{"plain", "dimpled"}, true}, {"domed", "blind", [2]string{"plain", "countersunk"}, true},
		{"flush", "blind", [2]string{"dimpled", "countersunk"}, false}, {"flush", "solid", [2]string{"dimpled", "plain"}, true},
	} {
		r := Row{Fastener: Fastener{Sort: c.sort, Head: c.head, Diameter: measure.Diameter{MM: 3.2}}, Layers: []Layer{{Material: "aluminium", Thickness: 2, Hole: c.over[0]}, {Material: "aluminium", Thickness: 2, Hole: c.over[1]}}}
		a := r.Advise(holes[0], holes)
		assert.Equal(t, c.gap, a.Flush != nil && a.Flush.Verdict == measure.Stop, c)
	}
}

// 0.8 + 1.0 mm and 1.5 D ask for 1.8 + 4.7625 = 6.5625 mm. 5/16 in is 1.375 mm longer and
// may be the nearest on the shelf; 3/8 in, 2.9625 mm longer, was meant for more layers.
func TestALongerCallOutAsksForALaterPart(t *testing.T) {
	t.Parallel()
	r := stringer()
	r.Layers = []Layer{{Thickness: 0.8}, {Thickness: 1}}
	for text, longer := range map[string]bool{"1/4 in": false, "5/16 in": false, "3/8 in": true, "": false} {
		r.CallOuts = []CallOut{{Text: text, From: 0, To: 0}}
		assert.Equal(t, longer, r.Longer(r.Fit(Hole{Number: 1})), text)
	}
	r.Fastener = Fastener{Sort: "blind", Diameter: measure.Diameter{MM: 3.2, Metric: true}, Head: "domed", Grips: []Grip{{"B3", 0.5, 1.9}, {"B5", 1.9, 3.2}}}
	for code, longer := range map[string]bool{"B3": false, "B5": true, "B9": false} {
		r.CallOuts = []CallOut{{Text: code, From: 0, To: 0}}
		assert.Equal(t, longer, r.Longer(r.Fit(Hole{Number: 1})), code)
	}
}
