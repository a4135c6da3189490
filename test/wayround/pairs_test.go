// Package wayround is the book of ways round the gate: each thing that becomes permanent, by each way
// of recording it, after what it rests on has changed. docs/wayround.md is made of it.
package wayround

import (
	"flag"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/amending"
	"orpine/internal/closing"
	"orpine/internal/coating"
	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/photo"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/test/loft"
)

var keep = flag.Bool("keep", false, "write docs/wayround.md")

// world is a boom whose row was released, with a step of the order that is tied to each hold.
type world struct {
	*loft.Loft
	last string // the release that ended
}

func world1(t *testing.T) *world {
	t.Helper()
	w := &world{Loft: loft.Bench(t, 6)}
	ctx := w.Ctx()
	for i := range 3 {
		require.NoError(t, w.Loft.Take(loft.BenchSetup, i+1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	}
	require.NoError(t, w.Look(gate.LookAt{Need: hold.Marked, Of: loft.BenchRow, By: "builder"}))
	require.NoError(t, w.Look(gate.LookAt{Need: hold.Prepared, Of: loft.BenchRow, By: "builder", What: hold.Preparations}))
	require.NoError(t, w.Loft.Release(loft.BenchRivet, holding.NewRelease{By: "builder"}))
	require.NoError(t, w.Do(loft.BenchRow, row.Drill, 1, 2, 3, 4, 5, 6))
	require.NoError(t, w.Do(loft.BenchRow, row.Clean, 1, 2, 3, 4, 5, 6))
	require.NoError(t, w.Do(loft.BenchRow, row.Rivet, 6)) // to be undone, and done again
	require.NoError(t, w.AddStep(ctx, planning.NewStep{Form: loft.Named("to rivet"), Airframe: loft.BenchFrame, Assembly: loft.BenchBoom, Line: "rivet the row, 2 h"}))
	require.NoError(t, w.AddStep(ctx, planning.NewStep{Form: loft.Named("to close"), Airframe: loft.BenchFrame, Assembly: loft.BenchBoom, Line: "close the bay, 2 h"}))
	return w
}

// ended changes what the row was released on: a point is read anew, and is out of its limits.
func (w *world) ended(t *testing.T) {
	t.Helper()
	w.last = w.HoldOf(loft.BenchRivet).ReleaseID
	require.NoError(t, w.Undo(loft.BenchRow))
	require.NoError(t, w.Loft.Take(loft.BenchSetup, 2, measuring.NewReading{Check: loft.BenchCheck, Text: "16", Instrument: loft.BenchRule, InPlace: "misread"}))
	require.NotEmpty(t, w.HoldOf(loft.BenchRivet).Ended, "the release ended")
}

// way is one way of recording that something was done.
type way struct {
	name string
	try  func(w *world) error
}

func orderly(step, to string, ties string) func(w *world) error {
	return func(w *world) error {
		return w.MoveStep(w.Ctx(), planning.StepMoved{Form: w.Form(), Step: loft.ID(step), Seen: "open", State: to, Ties: []string{ties}, By: "builder"})
	}
}

// rivets are the ways of recording that rivets are set.
var rivets = []way{
	{"row key", func(w *world) error { return w.Do(loft.BenchRow, row.Rivet, 1) }},
	{"several at once", func(w *world) error { return w.Do(loft.BenchRow, row.Rivet, 1, 2, 3, 4, 5, 6) }},
	{"undo of an undo", func(w *world) error { return w.Undo(loft.BenchRow) }},
	{"hold’s step", func(w *world) error { return w.Step(loft.BenchRivet, "builder", "") }},
	{"a tab from before", func(w *world) error {
		return w.Holding.RecordStep(w.Ctx(), holding.NewStep{Form: w.Form(), Hold: loft.BenchRivet, Release: w.last, By: "builder"})
	}},
	{"order’s begun", orderly("to rivet", "begun", loft.BenchRivet)},
	{"order’s done", orderly("to rivet", "done", loft.BenchRivet)},
	{"phone’s queue", func(w *world) error {
		return w.Riveting.Operate(w.waited(w.Ledger.Seq()), riveting.HoleOperation{Form: w.Form(), Row: loft.BenchRow, Seen: w.RowOf(loft.BenchRow).Revised, Numbers: []int{1}, What: row.Rivet, Crew: "solo"})
	}},
	{"evening ticked", func(w *world) error {
		require.NoError(w.T, w.Right("step", loft.ID("to rivet"), amending.Change, map[string]string{"ties": loft.BenchRivet}))
		require.NoError(w.T, w.Planning.AddVisit(w.Ctx(), planning.NewVisit{Form: loft.Named("visit"), Airframe: loft.BenchFrame, Date: "2026-05-03", From: "18:00", Long: "2 h", Who: "helper"}))
		return w.Planning.TellEvening(w.Ctx(), planning.EveningTold{Form: w.Form(), Visit: loft.ID("visit"), Steps: []string{loft.ID("to rivet")}, From: "18:00", To: "20:00", Who: []string{"helper"}})
	}},
	{"plan that comes in", func(w *world) error { return w.planned("rivet the row again") }},
	{"table that comes in", func(w *world) error { return w.tabled("row", "set") }},
}

// planned brings a plan whose step is done already: it makes nothing permanent, and says nothing of
// the row.
func (w *world) planned(name string) error {
	_, err := w.BringPlan(w.Ctx(), overview.BringingPlan{Form: w.Form(), Airframe: loft.BenchFrame, Data: fmt.Sprintf(`{"format":"orpine.plan","version":1,"now":"2026-05-04T10:00","steps":[{"id":"a","name":%q,"assembly":"Tail boom","hours":2,"state":"done"}]}`, name)}, true)
	return err
}

// tabled brings a row whose holes are said to be set.
func (w *world) tabled(name, done string) error {
	b, err := w.Bring(w.Ctx(), overview.Bringing{Form: w.Form(), Airframe: loft.BenchFrame, Sort: "holes", Data: "row;hole;done\n" + name + ";3;" + done + "\n"}, true)
	if err == nil && len(b.Wrong) > 0 {
		return ledger.Problems{"": strings.Join(b.Wrong, "; ")}
	}
	return err
}

// set counts the rivets that are in.
func (w *world) set() (n int) {
	for _, h := range w.RowOf(loft.BenchRow).Holes {
		if h.Filled() {
			n++
		}
	}
	return n
}

// A release that ended lets nothing through, whichever way it is tried, and every way that is asked
// says why in the same sentence.
func TestNoWayRoundAReleaseThatEnded(t *testing.T) {
	lines := []string{}
	for _, way := range rivets {
		w := world1(t)
		w.ended(t)
		before := w.set()
		err := way.try(w)
		assert.Equal(t, before, w.set(), way.name)
		assert.False(t, w.HoldOf(loft.BenchRivet).Done, way.name)
		lines = append(lines, fmt.Sprintf("| rivets of a row | %s | %s |", way.name, told(t, err, "taken, and sets no rivet")))
		w.Verify()
	}
	lines = append(lines, drillings(t)...)
	lines = append(lines, closings(t)...)
	lines = append(lines, coats(t)...)
	document(t, lines)
}

// drilled is a boom with a row of dimpled layers under a hold before drilling whose release ended: holes
// 1 and 2 were drilled under it, the others were not.
func drilled(t *testing.T) *world {
	t.Helper()
	w := &world{Loft: loft.Bench(t, 2)}
	ctx := w.Ctx()
	require.NoError(t, w.Holding.StandBefore(ctx, holding.NewStand{Form: loft.Named("drill"), Assembly: loft.BenchBoom, Name: "Drill it", Step: "drill to size", Permanent: "its holes", Why: "w", Setup: loft.BenchSetup}))
	require.NoError(t, w.Riveting.Lay(ctx, riveting.NewRow{Form: loft.Named("skin"), Assembly: loft.BenchBoom, Name: "skin", Drills: []string{loft.ID("drill")}, OptOut: "riveted on its own", Values: loft.With(loft.RowOf(6), "layers", "aluminium; 0.5 mm; dimpled\naluminium; 0.8 mm; dimpled", "head", "flush")}))
	for i := range 3 {
		require.NoError(t, w.Loft.Take(loft.BenchSetup, i+1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule}))
	}
	require.NoError(t, w.Loft.Release(loft.ID("drill"), holding.NewRelease{By: "builder"}))
	require.NoError(t, w.Do(loft.ID("skin"), row.Drill, 1, 2))
	require.NoError(t, w.AddStep(ctx, planning.NewStep{Form: loft.Named("to drill"), Airframe: loft.BenchFrame, Assembly: loft.BenchBoom, Line: "drill the skin, 2 h"}))
	require.NoError(t, w.Right("step", loft.ID("to drill"), amending.Change, map[string]string{"ties": loft.ID("drill")}))
	require.NoError(t, w.Planning.AddVisit(ctx, planning.NewVisit{Form: loft.Named("visit"), Airframe: loft.BenchFrame, Date: "2026-05-03", From: "18:00", Long: "2 h", Who: "helper"}))
	w.last = w.HoldOf(loft.ID("drill")).ReleaseID
	require.NoError(t, w.Loft.Take(loft.BenchSetup, 2, measuring.NewReading{Check: loft.BenchCheck, Text: "16", Instrument: loft.BenchRule, InPlace: "misread"}))
	require.NotEmpty(t, w.HoldOf(loft.ID("drill")).Ended, "the release ended")
	return w
}

// sizes are the ways of recording that holes are drilled, formed or enlarged.
var sizes = []way{
	{"row key", func(w *world) error { return w.Do(loft.ID("skin"), row.Drill, 3) }},
	{"several at once", func(w *world) error { return w.Do(loft.ID("skin"), row.Drill, 3, 4, 5) }},
	{"row key: dimple", func(w *world) error { return w.Do(loft.ID("skin"), row.Form, 1) }},
	{"several at once: dimple", func(w *world) error { return w.Do(loft.ID("skin"), row.Form, 1, 2) }},
	{"row key: oversize", func(w *world) error {
		fit, err := w.Riveting.ReadFit(w.Ctx(), loft.ID("skin"), "4.1 mm", "4 mm", "yes")
		require.NoError(w.T, err)
		return w.Operate(riveting.HoleOperation{Row: loft.ID("skin"), Numbers: []int{2}, What: row.Enlarge, Fit: fit, Reason: "it ran out of round"})
	}},
	{"hold’s step", func(w *world) error { return w.Step(loft.ID("drill"), "builder", "") }},
	{"a tab from before", func(w *world) error {
		return w.Holding.RecordStep(w.Ctx(), holding.NewStep{Form: w.Form(), Hold: loft.ID("drill"), Release: w.last, By: "builder"})
	}},
	{"order’s done", orderly("to drill", "done", "")},
	{"evening ticked", func(w *world) error {
		return w.Planning.TellEvening(w.Ctx(), planning.EveningTold{Form: w.Form(), Visit: loft.ID("visit"), Steps: []string{loft.ID("to drill")}, From: "18:00", To: "20:00", Who: []string{"helper"}})
	}},
	{"phone’s queue", func(w *world) error {
		return w.Riveting.Operate(w.waited(w.Ledger.Seq()), riveting.HoleOperation{Form: w.Form(), Row: loft.ID("skin"), Seen: w.RowOf(loft.ID("skin")).Revised, Numbers: []int{3}, What: row.Drill})
	}},
	{"plan that comes in", func(w *world) error { return w.planned("drill the skin again") }},
	{"table that comes in", func(w *world) error { return w.tabled("skin", "drill") }},
	{"card that is typed in", func(w *world) error {
		return w.Loft.Take(loft.BenchSetup, 1, measuring.NewReading{Check: loft.BenchCheck, Text: "10", Instrument: loft.BenchRule, InPlace: "misread"})
	}},
}

// worked is what is drilled, formed or larger.
func (w *world) worked() (out [3]int) {
	for _, h := range w.RowOf(loft.ID("skin")).Holes {
		if h.State != row.Pilot {
			out[0]++
		}
		if h.Formed {
			out[1]++
		}
		if h.Over {
			out[2]++
		}
	}
	return out
}

func drillings(t *testing.T) (lines []string) {
	for _, way := range sizes {
		w := drilled(t)
		before := w.worked()
		err := way.try(w)
		assert.Equal(t, before, w.worked(), way.name)
		assert.False(t, w.HoldOf(loft.ID("drill")).Done, way.name)
		lines = append(lines, fmt.Sprintf("| holes drilled, formed, enlarged | %s | %s |", way.name, told(t, err, "taken, and drills nothing")))
		w.Verify()
	}
	return lines
}

// coats are started over a row whose rivets are missing.
func coats(t *testing.T) (lines []string) {
	w := world1(t)
	coat := coating.NewClock{Airframe: loft.BenchFrame, Assembly: loft.BenchBoom, Sort: "coat", What: "the boom", Temperature: "20", Full: "8 h"}
	coat.Form = w.Form()
	lines = append(lines, "| a coat | its clock | "+told(t, w.Coating.Start(w.Ctx(), coat), "taken")+" |")
	assert.Contains(t, lines[0], "beneath it is not done")
	coat.Form, coat.Over = w.Form(), "only the tail is sprayed"
	lines = append(lines, "| a coat | its clock, with a reason | "+told(t, w.Coating.Start(w.Ctx(), coat), "taken, with the reason")+" |")
	return lines
}

// told is what a builder is told: the first message, or what was taken.
func told(t *testing.T, err error, taken string) string {
	t.Helper()
	if err == nil {
		return taken
	}
	problems := loft.Problems(t, err)
	for _, field := range slices.Sorted(maps.Keys(problems)) {
		return problems[field]
	}
	return taken
}

// bays are the ways of recording that a bay is closed.
var bays = []way{
	{"hold’s step", func(w *world) error { return w.Step(loft.BenchClose, "builder", "") }},
	{"order’s begun", orderly("to close", "begun", loft.BenchClose)},
	{"order’s done", orderly("to close", "done", loft.BenchClose)},
	{"row that closes it, by its first rivet", func(w *world) error {
		lid := loft.ID("lid")
		require.NoError(w.T, w.Closing.Place(w.Ctx(), closing.Placed{Form: w.Form(), Bay: loft.BenchBay, Closes: []string{lid}, By: "builder"}))
		require.NoError(w.T, w.Do(lid, row.Falls, 1, 2))
		require.NoError(w.T, w.Do(lid, row.Clean, 1, 2))
		require.NoError(w.T, w.Look(gate.LookAt{Need: hold.Marked, Of: lid, By: "builder"}))
		require.NoError(w.T, w.Look(gate.LookAt{Need: hold.Prepared, Of: lid, By: "builder", What: hold.Preparations}))
		require.NoError(w.T, w.Loft.Release(w.RowOf(lid).Rivets.ID, holding.NewRelease{By: "builder", Reason: "seen"}))
		return w.Do(loft.ID("lid"), row.Rivet, 1)
	}},
	{"evening ticked", func(w *world) error {
		require.NoError(w.T, w.Right("step", loft.ID("to close"), amending.Change, map[string]string{"ties": loft.BenchClose}))
		require.NoError(w.T, w.Planning.AddVisit(w.Ctx(), planning.NewVisit{Form: loft.Named("visit"), Airframe: loft.BenchFrame, Date: "2026-05-03", From: "18:00", Long: "2 h", Who: "helper"}))
		return w.Planning.TellEvening(w.Ctx(), planning.EveningTold{Form: w.Form(), Visit: loft.ID("visit"), Steps: []string{loft.ID("to close")}, From: "18:00", To: "20:00", Who: []string{"helper"}})
	}},
	{"a tab from before", func(w *world) error {
		return w.Holding.RecordStep(w.Ctx(), holding.NewStep{Form: w.Form(), Hold: loft.BenchClose, Release: loft.ID("none"), By: "builder"})
	}},
	{"plan that comes in", func(w *world) error { return w.planned("close the bay again") }},
}

// closings tries to close a bay in which a wire is missing and a row is not riveted.
func closings(t *testing.T) (lines []string) {
	for _, way := range bays {
		w := world1(t)
		require.NoError(t, w.Riveting.Lay(w.Ctx(), riveting.NewRow{Form: loft.Named("lid"), Assembly: loft.BenchBoom, Name: "lid", OptOut: "its own", Values: loft.With(loft.RowOf(2), "sizing", "final size as supplied")}))
		require.NoError(t, w.Photos.Add(w.Ctx(), photo.NewPhoto{Form: w.Form(), Of: loft.BenchBay, Caption: "aft", Data: loft.PNG(t, 8, 6)}))
		err := way.try(w)
		assert.False(t, w.HoldOf(loft.BenchClose).Done, way.name)
		lines = append(lines, fmt.Sprintf("| a bay | %s | %s |", way.name, told(t, err, "taken, and closes nothing")))
		w.Verify()
	}
	return lines
}

// document compares docs/wayround.md with what was found, or writes it.
func document(t *testing.T, lines []string) {
	t.Helper()
	text := "# Ways round the gate\n\nMade by `go test ./test/wayround -keep`. Each thing that becomes permanent, by each way of recording it, after what it rests on has changed (or before it is shown), with what the builder is told.\n\n| What | Way | What is said |\n|---|---|---|\n" +
		strings.Join(lines, "\n") + "\n\nA bench card takes readings alone, and the API has no route that writes. An archive brings what the gate of its own workshop let through (`TestWhatAnArchiveOfAnAircraftMayNotSay`).\n\n## The points, and where each is held\n\n| Point | Test |\n|---|---|\n"
	for _, p := range points {
		text += fmt.Sprintf("| %s | %s |\n", p.what, strings.Join(p.tests, ", "))
	}
	path := filepath.Join("..", "..", "docs", "wayround.md")
	if *keep {
		require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
	}
	kept, err := os.ReadFile(path)
	require.NoError(t, err, "go test ./test/wayround -keep")
	assert.Equal(t, text, string(kept), "go test ./test/wayround -keep")
}

// point is a way round that was once found, and the tests that hold it shut.
type point struct {
	what  string
	tests []string
}

// Every test that the table names is there.
func TestThePointsAreHeld(t *testing.T) {
	var all []string
	for _, dir := range []string{"internal", "test", "cmd"} {
		require.NoError(t, filepath.WalkDir(filepath.Join("..", "..", dir), func(path string, d os.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, "_test.go") {
				return err
			}
			data, err := os.ReadFile(path)
			all = append(all, string(data))
			return err
		}))
	}
	for _, p := range points {
		require.NotEmpty(t, p.tests, p.what)
		for _, name := range p.tests {
			assert.True(t, slices.ContainsFunc(all, func(text string) bool { return strings.Contains(text, "func "+name+"(") }), "%s: %s", p.what, name)
		}
	}
}

var points = []point{
	{"1: a reading after the release", []string{"TestWhatMakesALineWorseEndsAReleaseAndNothingElseDoes", "TestNoWayRoundAReleaseThatEnded"}},
	{"2: another hold for the same holes", []string{"TestMeasuredOnceMoreIsForTheSameHoles"}},
	{"3: the order of work beside the holds", []string{"TestNoWayRoundAReleaseThatEnded", "TestAStepBehindOthersIsNotDone", "TestATiedStepIsNotUntiedByDone", "TestWhatWasSaidOfAStepStaysWhenItIsPutRight"}},
	{"4: assemblies inside a bay", []string{"TestABayAsksWhatLiesInside"}},
	{"5: holes kept for later, and coats over missing rivets", []string{"TestAKeptHoleIsFormedOnlyWhenAsked"}},
	{"6: one end of a limit", []string{"TestOneEndOfALimitIsAsked"}},
	{"7: hundredfold slips", []string{"TestASlipIsAskedAndAnHonestFigureIsNot"}},
	{"8: a hollow bench, a dash number", []string{"TestAHollowBenchIsNoGo", "TestDashNumbersDrillsAndLengthsAreToldApart"}},
	{"9: bare figures of an inch shop", []string{"TestBareFiguresOfAnInchShopAreInches"}},
	{"10: another device in the instrument’s place", []string{"TestWhatAnInstrumentSaysItIs", "TestAnotherInstrumentAtTheSamePlugIsNotIt"}},
	{"11: a notice about a lot", []string{"TestOnlyWhatIsPlainlyAnotherIsNotAffected"}},
	{"12: a plan that comes in", []string{"TestAPlanSettledIntoItsSteps", "TestAPlanGoesOutAndComesIn"}},
	{"an assembly set anew", []string{"TestWhatDisturbsOneSetupOfAPlacingDisturbsTheOther", "TestSetAnewAfterItWasMoved"}},
	{"what waited in a phone", []string{"TestAnEntryThatWaitedIsAskedAsOfThen", "TestAQuestionAskedSinceDoesNotStopWhatWaited", "TestWhatStandsAgainStandsFromThenOn", "TestWhatWaitedSaysWhatItKnew"}},
	{"a hold that stands before rows that were laid before it", []string{"TestRandomBuildersOfAWiderWorld"}},
	{"what ends and marks nothing", []string{"TestTwoProofsAnEveningEndNothing", "TestAnEventAfterTheStepMarksNothing", "TestAReadingOfALaterStateMarksNothing", "TestACorrectionThatAgreesEndsAndMarksNothing", "TestAQuestionEndsNothing", "TestANoticeAboutAnotherLotEndsNothing", "TestANewBuildEndsNothing", "TestNothingIsAskedTwiceOfOneEntry"}},
	{"work inside a bay, a bay in a bay, a hole that waits, a line that vanished", []string{"TestWorkInABayEndsTheReleaseOfItsClosing", "TestABayWithinAClosedOneIsNotOpenedAgain", "TestAHoleThatWaitsForAnAnswerIsNotEnlarged", "TestNobodySignsALineThatVanished"}},
	{"midnight", []string{"TestTimeThatPassesEndsNothing"}},
	{"13: a lucky guess in practice", []string{"TestAGuessIsNoPoint"}},
	{"14: an archive of one aircraft", []string{"TestWhatAnArchiveOfAnAircraftMayNotSay", "TestMixedArchivesReachNothingThatIsNotInThem"}},
	{"15: a lost password, a page that is cut, an archive where people sign in", []string{"TestACodeReplacesALostPasswordOnce", "TestAHelpersPageIsWhole", "TestAnArchiveIsLookedAtWherePeopleSignIn"}},
	{"16: an older shop is not tampered with", []string{"TestEveryWorkshopOfBeforeIsOpenedVerifiedAndShown"}},
	{"17: another shop at the address, names alike, a name that others try", []string{"TestWhatWaitedForAnotherShopIsNotTaken", "TestNamesThatAnEyeTakesForOne", "TestAKnownDeviceIsNotKeptOut"}},
}
