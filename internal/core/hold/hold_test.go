package hold

import (
	"math"
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
		"twist": {Name: "Twist", Wanted: 10, Taken: 10, Verdict: measure.Go, Answer: "twist +0.03° ± 0.06°",
			Instruments: []InstrumentState{{Name: "level 2", Tested: noon.Add(-time.Hour), Angle: true}}},
	}
}

// Of figures that lie on a limit, one in 160 is read that far inside it: a go alone takes
// one in 44.
func TestAHoldAsksForMoreThanAGo(t *testing.T) {
	t.Parallel()
	assert.InDelta(t, 1./160, math.Erfc(Guard/math.Sqrt2)/2, 1e-4)
}

func TestCompleteEvidenceIsReleasedWithAName(t *testing.T) {
	t.Parallel()
	j := Judge(required, Evidence{Checks: ready()})
	assert.Equal(t, Met, j.Standing)
	assert.Len(t, j.Lines, 3)
	assert.Empty(t, j.Allow(Request{By: "builder"}))
	assert.Equal(t, "by", j.Allow(Request{By: "  "})[0].Field)
}

func TestWhatIsMissingIsSaidPlainlyAndCannotBeSignedAway(t *testing.T) {
	t.Parallel()
	tests := []struct {
		name   string
		change func(rails, twist *CheckState)
		says   string
	}{
		{"rails not surveyed", func(r, _ *CheckState) { r.Taken = 0 }, "Rails: not measured yet"},
		{"rails half surveyed", func(r, _ *CheckState) { r.Taken = 5 }, "Rails: 1 reading to go"},
		{"rails moved since", func(r, _ *CheckState) { r.Taken, r.Stale, r.Disturbed = 0, 6, measure.BenchMoved }, "6 readings are stale since (bench moved): take them again"},
		{"one stale reading", func(_, w *CheckState) { w.Taken, w.Stale, w.Disturbed = 9, 1, measure.Moved }, "1 reading is stale since (moved): take it again"},
		{"level never tested", func(_, w *CheckState) { w.Instruments[0].Tested = time.Time{} }, "never tested"},
		{"read long after the level was tested", func(_, w *CheckState) { w.Instruments[0].Gap = 13 * time.Hour }, "read 13 hours from its test on 4 May 11:00, which is good for 12 hours"},
		{"no instrument yet", func(_, w *CheckState) { w.Instruments = nil }, "nothing is read yet"},
		{"twist without a limit", func(_, w *CheckState) { w.Verdict = measure.None }, "no limit is set"},
	}
	for _, test := range tests {
		t.Run(test.name, func(t *testing.T) {
			checks := ready()
			rails, twist := checks["rails"], checks["twist"]
			test.change(&rails, &twist)
			checks["rails"], checks["twist"] = rails, twist
			j := Judge(required, Evidence{Checks: checks})
			assert.Equal(t, Missing, j.Standing)
			wrong := j.Allow(Request{By: "builder", Reason: "because", AnsweredBy: "inspector", Answer: "go on"})
			assert.Len(t, wrong, 1)
			assert.Contains(t, wrong[0].Message, test.says)
		})
	}
}

func TestTodayIsTheBuildersDay(t *testing.T) {
	t.Parallel()
	checks := ready()
	justAfterMidnight := time.Date(2026, 5, 4, 0, 10, 0, 0, noon.Location())
	checks["twist"].Instruments[0].Tested = justAfterMidnight.UTC() // still 3 May in UTC
	assert.Equal(t, Met, Judge(required, Evidence{Checks: checks}).Standing)
}

func TestUnsureWantsAReasonAndStopADisposition(t *testing.T) {
	t.Parallel()
	checks := ready()
	twist := checks["twist"]
	twist.Verdict = measure.Unsure
	checks["twist"] = twist
	j := Judge(required, Evidence{Checks: checks})
	assert.Equal(t, Unsure, j.Standing)
	assert.Equal(t, []FieldError{{"reason", "the evidence is unsure: write why the step may be taken all the same"}}, j.Allow(Request{By: "builder"}))
	assert.Empty(t, j.Allow(Request{By: "builder", Reason: "second level agrees"}))

	twist.Verdict = measure.Stop
	checks["twist"] = twist
	j = Judge(required, Evidence{Checks: checks})
	assert.Equal(t, Stop, j.Standing)
	assert.Len(t, j.Allow(Request{By: "builder", Reason: "it will do"}), 4, "no reason of the builder's own releases a stop")
	assert.Empty(t, j.Allow(Request{By: "builder", AnsweredBy: "kit maker", Answer: "accept up to 0.4°", Answered: "3 May", Document: "letter 12 in the folder"}))
}

func TestAHoldThatAsksForNothingIsNotReleased(t *testing.T) {
	t.Parallel()
	assert.Equal(t, Missing, Judge(nil, Evidence{}).Standing)
	assert.Equal(t, Missing, Judge([]Requirement{{Need: Shown, Check: "gone"}}, Evidence{}).Standing)
}

// A level of which nothing is proven but its type known meets its line by what is usual of it, and says so; one that is not
// even that is missing.
func TestALevelMeetsItsLineByWhatIsUsualUntilItIsProven(t *testing.T) {
	t.Parallel()
	l := tested(InstrumentState{Name: "level", Angle: true, Usual: true})
	assert.Equal(t, Met, l.Standing)
	assert.Contains(t, l.Why, "not proven")
	assert.Equal(t, Missing, tested(InstrumentState{Name: "level", Angle: true}).Standing)
	late := tested(InstrumentState{Name: "level", Angle: true, Usual: true, Tested: time.Date(2026, 5, 4, 8, 0, 0, 0, time.UTC), Gap: 13 * time.Hour})
	assert.Equal(t, Missing, late.Standing, "once proven it is held to its interval")
}

// Where the aircraft asks for proven instruments, what is usual of one does not do: a level is turned, a tape held
// against a known length. One without a type is as it was, and a feeler that is proven by nothing has nothing usual to take.
func TestAHoldMayAskForProvenInstruments(t *testing.T) {
	t.Parallel()
	level := InstrumentState{Name: "level", Angle: true, Usual: true, Asked: true}
	assert.Equal(t, Missing, tested(level).Standing)
	assert.Contains(t, tested(level).Why, "turn it end for end")
	tape := InstrumentState{Name: "tape", Usual: true, Asked: true}
	assert.Equal(t, Missing, tested(tape).Standing)
	assert.Contains(t, tested(tape).Why, "hold it against a known length")
	tape.Asked = false
	assert.Equal(t, Met, tested(tape).Standing)
	level.Tested = time.Date(2026, 5, 4, 8, 0, 0, 0, time.UTC)
	assert.Equal(t, Met, tested(level).Standing)
	assert.Equal(t, Met, tested(InstrumentState{Name: "tape", Asked: true}).Standing, "nothing usual is taken of it")
}

// The usual limits judge, the line says so, and nobody releases by them unawares.
func TestAReleaseOnUsualLimitsSaysThatItIs(t *testing.T) {
	t.Parallel()
	state := ready()
	twist := state["twist"]
	twist.UsualLimits = true
	state["twist"] = twist
	j := Judge(required, Evidence{Checks: state})
	assert.Equal(t, Met, j.Standing)
	assert.True(t, j.Usually())
	assert.Contains(t, j.Lines[2].Why, "by the usual limits, not your plans'")
	assert.Equal(t, "usually", j.Allow(Request{By: "builder"})[0].Field)
	assert.Empty(t, j.Allow(Request{By: "builder", Usually: true}))
	twist.Verdict = measure.Stop
	state["twist"] = twist
	assert.True(t, Judge(required, Evidence{Checks: state}).Usually(), "a stop by them says so, too")
}
