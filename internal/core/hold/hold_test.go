package hold

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/measure"
)

var (
	noon     = time.Date(2026, 5, 4, 12, 0, 0, 0, time.FixedZone("CEST", 7200))
	required = []Requirement{{Need: Surveyed, Check: "rails"}, {Need: Tested, Check: "twist"}, {Need: Shown, Check: "twist"}}
)

// ready is evidence that lacks nothing.
func ready() map[string]CheckState {
	return map[string]CheckState{
		"rails": {Name: "Rails", Wanted: 6, Taken: 6, Verdict: measure.None, Answer: "twist +0.31°"},
		"twist": {Name: "Twist", Wanted: 10, Taken: 10, Verdict: measure.Go, Answer: "twist +0.03° ± 0.05°",
			Instruments: []InstrumentState{{Name: "level 2", Tested: noon.Add(-time.Hour), Angle: true}}},
	}
}

func TestCompleteEvidenceIsReleasedWithAName(t *testing.T) {
	j := Judge(required, Evidence{Checks: ready()}, noon)
	assert.Equal(t, Met, j.Standing)
	assert.Len(t, j.Lines, 3)
	assert.Empty(t, j.Allow(Request{By: "builder"}))
	assert.Equal(t, "by", j.Allow(Request{By: "  "})[0].Field)
}

func TestWhatIsMissingIsSaidPlainlyAndCannotBeSignedAway(t *testing.T) {
	tests := []struct {
		name   string
		change func(rails, twist *CheckState)
		says   string
	}{
		{"rails not surveyed", func(r, _ *CheckState) { r.Taken = 0 }, "Rails: not measured yet"},
		{"rails half surveyed", func(r, _ *CheckState) { r.Taken = 5 }, "Rails: 1 reading to go"},
		{"rails moved since", func(r, _ *CheckState) { r.Taken, r.Stale, r.Disturbed = 0, 6, BenchMoved }, "6 readings are stale since (bench moved): take them again"},
		{"one stale reading", func(_, w *CheckState) { w.Taken, w.Stale, w.Disturbed = 9, 1, Moved }, "1 reading is stale since (moved): take it again"},
		{"level never tested", func(_, w *CheckState) { w.Instruments[0].Tested = time.Time{} }, "never tested"},
		{"level tested yesterday", func(_, w *CheckState) { w.Instruments[0].Tested = noon.Add(-13 * time.Hour) }, "last tested on 3 May, not today"},
		{"no instrument yet", func(_, w *CheckState) { w.Instruments = nil }, "nothing is read yet"},
		{"twist without a limit", func(_, w *CheckState) { w.Verdict = measure.None }, "no limit is set"},
	}
	for _, test := range tests {
		t.Run(test.name, func(t *testing.T) {
			checks := ready()
			rails, twist := checks["rails"], checks["twist"]
			test.change(&rails, &twist)
			checks["rails"], checks["twist"] = rails, twist
			j := Judge(required, Evidence{Checks: checks}, noon)
			assert.Equal(t, Missing, j.Standing)
			wrong := j.Allow(Request{By: "builder", Reason: "because", AnsweredBy: "inspector", Answer: "go on"})
			assert.Len(t, wrong, 1)
			assert.Contains(t, wrong[0].Message, test.says)
		})
	}
}

func TestTodayIsTheBuildersDay(t *testing.T) {
	checks := ready()
	justAfterMidnight := time.Date(2026, 5, 4, 0, 10, 0, 0, noon.Location())
	checks["twist"].Instruments[0].Tested = justAfterMidnight.UTC() // still 3 May in UTC
	assert.Equal(t, Met, Judge(required, Evidence{Checks: checks}, noon).Standing)
}

func TestUnsureWantsAReasonAndStopADisposition(t *testing.T) {
	checks := ready()
	twist := checks["twist"]
	twist.Verdict = measure.Unsure
	checks["twist"] = twist
	j := Judge(required, Evidence{Checks: checks}, noon)
	assert.Equal(t, Unsure, j.Standing)
	assert.Equal(t, []FieldError{{"reason", "the evidence is unsure: write why the step may be taken all the same"}}, j.Allow(Request{By: "builder"}))
	assert.Empty(t, j.Allow(Request{By: "builder", Reason: "second level agrees"}))

	twist.Verdict = measure.Stop
	checks["twist"] = twist
	j = Judge(required, Evidence{Checks: checks}, noon)
	assert.Equal(t, Stop, j.Standing)
	assert.Len(t, j.Allow(Request{By: "builder", Reason: "it will do"}), 4, "no reason of the builder's own releases a stop")
	assert.Empty(t, j.Allow(Request{By: "builder", AnsweredBy: "kit maker", Answer: "accept up to 0.4°", Answered: "3 May", Document: "letter 12 in the folder"}))
}

func TestAHoldThatAsksForNothingIsNotReleased(t *testing.T) {
	assert.Equal(t, Missing, Judge(nil, Evidence{}, noon).Standing)
	assert.Equal(t, Missing, Judge([]Requirement{{Need: Shown, Check: "gone"}}, Evidence{}, noon).Standing)
}

func TestWhichReadingsAnEventDisturbs(t *testing.T) {
	tests := []struct {
		event           Event
		kind            string
		disturbs, known bool
	}{
		{Moved, "bench", true, true}, {Moved, "twist", true, true}, {TurnedOver, "length", true, true}, {Knocked, "twist", true, true}, {ReLevelled, "bench", true, true},
		{ReClamped, "twist", true, true}, {ReClamped, "straightness", true, true}, {ReClamped, "gap", true, true}, {ReClamped, "bench", false, true},
		{BenchMoved, "bench", true, true}, {BenchMoved, "level", true, true}, {BenchMoved, "twist", false, true},
		{Temperature, "length", true, true}, {Temperature, "twist", false, true}, {Drilled, "twist", false, false}, {Riveted, "bench", false, false},
	}
	for _, test := range tests {
		assert.Equal(t, test.disturbs, test.event.Disturbs(test.kind), "%s, %s", test.event, test.kind)
		assert.Equal(t, test.known, test.event.Known(), test.event)
	}
}

// A proof is good for the builder's own days: a test on the evening of 1 May that
// lasts three days holds until the end of 4 May.
func TestAProofLastsAsManyDaysAsItIsGoodFor(t *testing.T) {
	evening := time.Date(2026, 5, 1, 23, 30, 0, 0, noon.Location())
	for _, test := range []struct {
		in       InstrumentState
		standing Standing
		says     string
	}{
		{InstrumentState{Name: "level", Tested: evening, Angle: true, Days: 3}, Met, "tested on 1 May, good for 3 days"},
		{InstrumentState{Name: "level", Tested: evening, Angle: true, Days: 2}, Missing, "more than 2 days ago: turn it end for end"},
		{InstrumentState{Name: "level", Tested: evening, Angle: true}, Missing, "last tested on 1 May, not today"},
		{InstrumentState{Name: "tape", Tested: evening, Days: 2}, Missing, "hold it against a known length"},
		{InstrumentState{Name: "tape", Days: 30}, Missing, "never tested"},
		{InstrumentState{Name: "tape"}, Met, "no zero to prove"},
	} {
		checks := ready()
		twist := checks["twist"]
		twist.Instruments = []InstrumentState{test.in}
		checks["twist"] = twist
		line := Judge([]Requirement{{Need: Tested, Check: "twist"}}, Evidence{Checks: checks}, noon).Lines[0]
		assert.Equal(t, test.standing, line.Standing, "%+v", test.in)
		assert.Contains(t, line.Why, test.says)
	}
}

// A go that lies only just inside is released with a reason, like an unsure one.
func TestAGoThatIsOnlyJustOneNeedsAReason(t *testing.T) {
	checks := ready()
	twist := checks["twist"]
	twist.Near = true
	checks["twist"] = twist
	j := Judge(required, Evidence{Checks: checks}, noon)
	assert.Equal(t, Unsure, j.Standing)
	assert.Contains(t, j.Lines[2].Why, "go, but only just")
	assert.Equal(t, "reason", j.Allow(Request{By: "builder"})[0].Field)
	assert.Empty(t, j.Allow(Request{By: "builder", Reason: "measured twice, by two people"}))
}
