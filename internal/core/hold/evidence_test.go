package hold

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/measure"
)

func look(by string) *Look { return &Look{By: by, At: noon.Add(-time.Hour)} }

func prepared() map[string]*Look {
	out := map[string]*Look{}
	for _, what := range Preparations {
		out[what] = look("builder")
	}
	return out
}

// whole is evidence of every other sort that lacks nothing.
func whole() Evidence {
	return Evidence{
		Checks: ready(), Again: map[string]CheckState{"twist": ready()["twist"]},
		Parts: map[string]PartState{"rib": {Name: "rib 3", Label: "right", Geometry: measure.Go, Answer: "it is the mirror of the other"}},
		Rows:  map[string]RowState{"row": {Name: "row 3", Open: 1, Kept: []string{"77 for fin fairing (fit it)"}, Marked: look("builder"), Prepared: prepared(), Lengths: measure.Go}},
		Bays: map[string]*BayState{"bay": {Name: "the boom bay", Things: []Thing{{"cleco 1/8", 40, 40}}, Photos: 2,
			Access: &Look{By: "builder", Note: "hatch at frame 3"}}},
		Before: map[string]StepState{"pins": {Name: "Pin holes first", Done: true}}, Second: look("helper"),
	}
}

var everySort = []Requirement{{Need: Again, Check: "twist"}, {Need: Handed, Of: "rib"}, {Need: Marked, Of: "row"}, {Need: Prepared, Of: "row"}, {Need: Inside, Of: "bay"}, {Need: Seconded}, {Need: Before, Of: "pins"}}

func TestEverySortOfEvidenceIsAskedFor(t *testing.T) {
	t.Parallel()
	j := Judge(everySort, whole())
	assert.Equal(t, Met, j.Standing)
	assert.Len(t, j.Lines, 12, "one each; lengths beside the preparations; five for what lies inside")
	assert.Contains(t, j.Lines[2].Why, "1 stays open: 77 for fin fairing (fit it); looked at by builder, 4 May 11:00")

	tests := []struct {
		name     string
		change   func(e *Evidence)
		standing Standing
		says     string
	}{
		{"not measured again", func(e *Evidence) { e.Again = nil }, Missing, "measure it again after the step before"},
		{"a hand by its label alone", func(e *Evidence) { e.Parts["rib"] = PartState{Name: "rib 3", Label: "right"} }, Missing, "the label says right, and a label is not enough"},
		{"a hand without a label", func(e *Evidence) { e.Parts["rib"] = PartState{Name: "rib 3", Clue: "the joggle faces aft"} }, Missing, "let two people look (the joggle faces aft)"},
		{"a hand by a clue, of one alone, moved since", func(e *Evidence) {
			e.Parts["rib"] = PartState{Name: "rib 3", Look: &Look{By: "builder", Note: "joggle left", Stale: "moved"}}
		}, Missing, "name a clue that only this hand has"},
		{"a hand by two people", func(e *Evidence) {
			e.Parts["rib"] = PartState{Name: "rib 3", Look: &Look{By: "builder", Second: "helper", At: noon}}
		}, Met, ""},
		{"a wrong hand, whatever people say", func(e *Evidence) {
			e.Parts["rib"] = PartState{Name: "rib 3", Geometry: measure.Stop, Answer: "it is of the same hand", Look: look("builder")}
		}, Stop, "geometry says: it is of the same hand"},
		{"nobody looked for later parts", func(e *Evidence) { r := e.Rows["row"]; r.Marked = nil; e.Rows["row"] = r }, Missing, "has anyone looked whether a later part needs one? 1 stays open"},
		{"chips left", func(e *Evidence) { delete(e.Rows["row"].Prepared, "chips cleared") }, Missing, "not yet: chips cleared"},
		{"drilled since", func(e *Evidence) { e.Rows["row"].Prepared["refitted"].Stale = measure.Drilled }, Missing, "not yet: refitted"},
		{"a length too long", func(e *Evidence) {
			r := e.Rows["row"]
			r.Lengths, r.Length = measure.Unsure, "hole 7: too long"
			e.Rows["row"] = r
		}, Unsure, "hole 7: too long"},
		{"a length too short", func(e *Evidence) {
			r := e.Rows["row"]
			r.Lengths, r.Length = measure.Stop, "hole 7: too short"
			e.Rows["row"] = r
		}, Stop, "hole 7: too short"},
		{"the drop-through test", func(e *Evidence) { r := e.Rows["row"]; r.Untried = 3; e.Rows["row"] = r }, Missing, "the drop-through test wants 3 holes more"},
		{"something to do inside", func(e *Evidence) { b := e.Bays["bay"]; b.Tasks = []string{"wiring"}; e.Bays["bay"] = b }, Missing, "1 task is open: wiring"},
		{"a row that is not done", func(e *Evidence) { b := e.Bays["bay"]; b.Rows = []string{"row 3: 17"}; e.Bays["bay"] = b }, Missing, "neither set nor kept open in row 3: 17"},
		{"a cleco inside", func(e *Evidence) { e.Bays["bay"].Things[0].Out = 39 }, Missing, "cleco 1/8: 40 counted in, 39 out, 1 still inside"},
		{"more out than in", func(e *Evidence) { e.Bays["bay"].Things[0].Out = 41 }, Missing, "count again"},
		{"a pinned hole inside", func(e *Evidence) { b := e.Bays["bay"]; b.Pinned = "row 4: 43"; e.Bays["bay"] = b }, Missing, "clecos still hold row 4: 43"},
		{"no photo", func(e *Evidence) { b := e.Bays["bay"]; b.Photos = 0; e.Bays["bay"] = b }, Missing, "nobody can look again afterwards"},
		{"no access", func(e *Evidence) { b := e.Bays["bay"]; b.Access = nil; e.Bays["bay"] = b }, Missing, "how is it reached"},
		{"nobody else looked", func(e *Evidence) { e.Second = nil }, Missing, "nobody else has looked"},
		{"not since it moved", func(e *Evidence) { e.Second.Stale = measure.Moved }, Missing, "not since: moved"},
		{"the pin holes come first", func(e *Evidence) { e.Before["pins"] = StepState{Name: "Pin holes first"} }, Missing, "comes first"},
		{"what is gone", func(e *Evidence) { e.Rows, e.Parts, e.Bays, e.Before = nil, nil, nil, nil }, Missing, "what this hold asks for is not there"},
	}
	for _, test := range tests {
		t.Run(test.name, func(t *testing.T) {
			e := whole()
			test.change(&e)
			j := Judge(everySort, e)
			assert.Equal(t, test.standing, j.Standing)
			says := ""
			for _, l := range j.Lines {
				if l.Standing != Met {
					says += l.Why + "\n"
					assert.True(t, l.Check != "" || l.Of != "" || l.Look, "it says where it is mended")
				}
			}
			assert.Contains(t, says, test.says)
		})
	}
}

func TestWorkWithoutARowIsMadeReadyToo(t *testing.T) {
	t.Parallel()
	asked := []Requirement{{Need: Prepared}}
	j := Judge(asked, Evidence{Rows: map[string]RowState{"": {Name: "the work", Prepared: prepared()}}})
	assert.Equal(t, Met, j.Standing)
	assert.Len(t, j.Lines, 1)
	j = Judge(asked, Evidence{Rows: map[string]RowState{"": {Name: "the work"}}})
	assert.True(t, j.Lines[0].Look)
	assert.Contains(t, j.Lines[0].Why, "not yet: taken apart, deburred on both faces, chips cleared, primed where wanted, refitted")
}

func TestWhoLookedSecondDoesNotReleaseToo(t *testing.T) {
	t.Parallel()
	j := Judge(everySort, whole())
	assert.Equal(t, "by", j.Allow(Request{By: " Helper "})[0].Field)
	assert.Empty(t, j.Allow(Request{By: "builder"}))
}

func TestWhatEachStepAndEventDoes(t *testing.T) {
	t.Parallel()
	for step, want := range map[Step]measure.Event{"trim": measure.Drilled, "drill to size": measure.Drilled, "ream": measure.Drilled, "rivet": measure.Riveted, "bond": measure.Riveted, "close": "", "cover": ""} {
		e, ok := step.Event()
		assert.Equal(t, want, e, step)
		assert.Equal(t, want != "", ok)
		assert.Equal(t, want == "", step.Closes())
	}
	assert.Len(t, Steps, 7)
	for _, e := range measure.Disturbances {
		assert.True(t, e.Lapses(), e)
	}
	assert.False(t, measure.Drilled.Lapses(), "what is released is not disturbed by a drill: it asks for the after check")
	assert.False(t, Prepared.Outlasts(measure.Drilled))
	assert.True(t, Prepared.Outlasts(measure.Moved))
	assert.False(t, Seconded.Outlasts(measure.Knocked))
	assert.True(t, Seconded.Outlasts(measure.Riveted))
	assert.True(t, Marked.Outlasts(measure.Moved))
}

// A bench that is to be made true and is not surveyed in the setup is missed.
func TestABenchThatIsNotThereCannotBeTrue(t *testing.T) {
	t.Parallel()
	required := []Requirement{{Need: Shown, Check: "twist"}}
	assert.Len(t, Asks(required, Evidence{Checks: map[string]CheckState{"twist": {Kind: "twist", Setup: "s"}}}), 1, "the bench is taken off, not trusted")
	asked := Asks(required, Evidence{Checks: map[string]CheckState{"twist": {Kind: "twist", Setup: "s", TrueBench: true}}})
	assert.Equal(t, "the survey of the bench", asked[1].Check)
}
