package overview_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/store/query"
	"orpine/internal/worksheet"
	"orpine/test/loft"
)

// 0.34 as read, 0.312 of it the rails', 0.028 the part's: see package measure.
func TestTheDemosTailplane(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	c := l.Twist()
	assert.InDelta(t, 0.028, l.TwistIs().Value, 1e-12)
	assert.Equal(t, measure.Go, c.Result.Verdict)
	whole, rails, ok := c.Solved.(*measure.Twist).AsRead()
	require.True(t, ok)
	assert.InDelta(t, 0.34, whole, 1e-12)
	assert.InDelta(t, 0.312, rails, 1e-12)

	l.Held(loft.OnRails, c.ID, false)
	c = l.Twist()
	assert.InDelta(t, 0.34, l.TwistIs().Value, 1e-12)
	assert.Equal(t, measure.Stop, c.Result.Verdict)
	assert.Equal(t, 5, c.Wanted, "without the rails, one reading a station")
	l.Held(loft.OnRails, c.ID, true)
	assert.Equal(t, 10, l.Twist().Taken)

	s := l.SetupOf(loft.OnRails)
	rail, _ := s.Checks[0].Result.Quantity("twist")
	assert.InDelta(t, 0.3069, rail.Value, 5e-4, "atan(4.5/700) − atan(0.75/700)")
	bow, _ := s.Checks[0].Result.Quantity("bow")
	assert.InDelta(t, 1.0625, bow.Value, 1e-9, "mean of the middle less mean of the ends")
}

func TestWithLevelOneTheSameReadingsCannotDecide(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	for _, spot := range l.Twist().Spots {
		n := measuring.NewReading{Check: l.Twist().ID, Text: spot.Readings[0].Text, Instrument: demo.ID("level 1"), InPlace: "other instrument"}
		if strings.Contains("12346789", spot.Readings[0].Text[3:4]) { // finer than its steps: it is asked
			require.Contains(t, loft.Problems(t, l.Take(loft.OnRails, spot.Number, n))["slip"], "of 0.05° steps? What lies beside a mark is read as strong or weak of it")
		}
		n.AsMeasured = true
		require.NoError(t, l.Take(loft.OnRails, spot.Number, n))
	}
	c := l.Twist()
	assert.Equal(t, measure.Unsure, c.Result.Verdict)
	assert.InDelta(t, 0.028, l.TwistIs().Value, 1e-12)
	assert.Equal(t, 5, l.TwistIs().Placings)
	assert.Equal(t, hold.Missing, l.Rails().Judgement.Standing, "level 1 was last tested six days ago")
	require.NoError(t, l.Instruments.Test(l.Ctx(), instrument.EndForEnd{Form: l.Form(), Instrument: demo.ID("level 1"), First: "0.10", Turned: "-0.20"}))
	assert.Equal(t, hold.Unsure, l.Rails().Judgement.Standing)
	assert.Contains(t, loft.Problems(t, l.ReleaseRails(holding.NewRelease{By: "builder"})), "reason")
	require.NoError(t, l.ReleaseRails(holding.NewRelease{By: "builder", Reason: "a second level agrees"}))
	assert.Equal(t, "a second level agrees", l.Rails().Current().Reason)
}

func TestTheExportedWorksheetGivesTheNumbersOfTheScreen(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	data := l.Worksheet(loft.OnRails)
	doc, errs := worksheet.Parse(data)
	require.Empty(t, errs)
	solved := doc.Solve()
	require.Len(t, solved, 2)
	q, _ := solved[1].Quantity("twist")
	shown := l.TwistIs()
	assert.Equal(t, []any{shown.Value, shown.U, shown.Verdict, shown.Placings}, []any{q.Value, q.U, q.Verdict, q.Placings})
	assert.Contains(t, string(data), `"0.05 up"`, "readings go out as typed")
}

func TestTheWholeStoryFromTheBenchToTheDrill(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	before := l.SetupOf(loft.OnRails)
	assert.Equal(t, hold.Met, l.Rails().Judgement.Standing)
	require.NoError(t, l.ReleaseRails(holding.NewRelease{By: "builder"}))
	assert.Equal(t, "builder", l.Rails().Released)
	l.Moved(loft.OnRails, measure.Moved)
	h := l.Rails()
	assert.Empty(t, h.Released, "a release lapses when an event comes first")
	assert.Contains(t, h.Releases[0].Ended, "stale since (moved)")
	assert.Contains(t, loft.Problems(t, l.Step(h.ID, "builder", "")), "")

	for i, c := range l.SetupOf(loft.OnRails).Checks {
		assert.Zero(t, c.Taken)
		assert.Equal(t, c.Wanted, c.Stale)
		assert.Nil(t, c.Result, "stale readings never count")
		next, ok := c.Next()
		assert.True(t, ok && next.Again)
		for _, spot := range before.Checks[i].Spots {
			for _, r := range spot.Readings { // every placing again
				require.NoError(t, l.Read(c.ID, spot.Number, r.Text, c.Instrument, ""))
			}
		}
	}
	assert.InDelta(t, 0.028, l.TwistIs().Value, 1e-12)
	assert.Equal(t, hold.Met, l.Rails().Judgement.Standing)
	require.NoError(t, l.ReleaseRails(holding.NewRelease{By: "builder"}))
	require.NoError(t, l.Step(h.ID, "builder", ""))
}

func TestReleaseDrillAndLog(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	require.NoError(t, l.ReleaseRails(holding.NewRelease{By: "builder"}))
	assert.Contains(t, loft.Problems(t, l.ReleaseRails(holding.NewRelease{By: "helper"})), "", "one release at a time")
	h := l.Rails()
	assert.Contains(t, loft.Problems(t, l.Step(h.ID, " ", "")), "by")
	step := holding.NewStep{Form: l.Form(), Hold: h.ID, Release: h.ReleaseID, By: "builder", Note: "3/32 in, all four"}
	require.NoError(t, l.Holding.RecordStep(l.Ctx(), step))
	require.NoError(t, l.Holding.RecordStep(l.Ctx(), step), "the same submission twice is one")
	h = l.Rails()
	assert.True(t, h.Spent())
	assert.Equal(t, "3/32 in, all four", h.Current().Done.Note)
	assert.Contains(t, loft.Problems(t, l.Step(h.ID, "builder", "")), "", "a release is spent once")
	assert.Equal(t, 10, l.Twist().Taken, "drilling disturbs nothing that was released")

	home, err := l.Home(l.Ctx(), "")
	require.NoError(t, err)
	for _, s := range home.Assemblies {
		if s.Name == "Tailplane" {
			assert.Equal(t, overview.Permanent, s.State)
		}
	}
	entries := l.Log(3)
	assert.Equal(t, "step", entries[0].Kind)
	assert.Equal(t, "Tailplane: done, Drill the tailplane's end holes", entries[0].What)
	assert.Equal(t, "release", entries[1].Kind)
}

func TestAStopIsReleasedOnlyByWhoHasAuthorityAndShownForEver(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	l.Held(loft.OnRails, l.Twist().ID, false)
	assert.Equal(t, hold.Stop, l.Rails().Judgement.Standing)
	assert.Contains(t, loft.Problems(t, l.ReleaseRails(holding.NewRelease{By: "builder", Reason: "it will do"})), "answered_by")
	require.NoError(t, l.ReleaseRails(holding.NewRelease{By: "builder", AnsweredBy: "kit maker", Answer: "accept up to 0.4°, photograph it", Answered: "3 May", Document: "letter 12"}))
	l.Moved(loft.OnRails, measure.Knocked)
	assert.Len(t, l.Rails().Dispositions(), 1, "it stays though the release lapsed")
	home, err := l.Home(l.Ctx(), "")
	require.NoError(t, err)
	assert.NotEmpty(t, home.Held)
}

func TestBenchMovedLeavesTheTwistAndDisturbsTheSurvey(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	l.Moved(loft.OnRails, measure.BenchMoved)
	s := l.SetupOf(loft.OnRails)
	assert.Equal(t, 6, s.Checks[0].Stale)
	assert.Equal(t, 10, s.Checks[1].Taken)
	assert.Equal(t, int64(2), s.State)
	assert.Contains(t, l.Rails().Judgement.Worst().Why, "stale since (bench moved)")
	assert.Contains(t, loft.Problems(t, l.ReleaseRails(holding.NewRelease{By: "builder"})), "")
	assert.Contains(t, loft.Problems(t, l.Measuring.SomethingMoved(l.Ctx(), measuring.SomethingMoved{Form: l.Form(), Setup: loft.OnRails, State: 1, What: "sneezed"})), "what")
}

// A proof counts as it stood when its readings were taken: midnight in the middle of the work, and
// the days after, end nothing. What is read long after the test wants another.
func TestTimeThatPassesEndsNothing(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	require.NoError(t, l.ReleaseRails(holding.NewRelease{By: "builder"}))
	l.Now = loft.Morning.AddDate(0, 0, 3)
	assert.Equal(t, hold.Met, l.Rails().Judgement.Standing)
	assert.True(t, l.Rails().Waiting())
	require.NoError(t, l.Read(l.Twist().ID, 1, "0.05 up", demo.ID("level 2"), "misread"))
	assert.False(t, l.Rails().Waiting())
	assert.Equal(t, hold.Missing, l.Rails().Judgement.Standing)
	assert.Contains(t, l.Rails().Judgement.Worst().Why, "which is good for 12 hours")
}

func TestBadEntriesAreRefusedAtTheFieldAndNothingIsStored(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	twist := l.Twist().ID
	before := l.Verify()
	for _, text := range []string{"", "0.08 R", "-0.1 up", "1/2", "1,234", "2.9e3", "NaN", "361", "x\x00", "0.1 0.2"} {
		assert.Contains(t, loft.Problems(t, l.Read(twist, 1, text, demo.ID("level 2"), "")), "text", text)
	}
	assert.Contains(t, loft.Problems(t, l.Read(twist, 1, "0.1", demo.ID("laser"), "")), "instrument")
	assert.Contains(t, loft.Problems(t, l.Read(twist, 1, "0.1", "", "")), "instrument")
	assert.Contains(t, loft.Problems(t, l.Read(twist, 1, "0.1", demo.ID("level 1"), "")), "instrument", "placings of one spot, one instrument")
	assert.Contains(t, loft.Problems(t, l.Read(twist, 1, "0.1", demo.ID("level 2"), "bored")), "in_place")
	n := l.At(loft.OnRails, 1, measuring.NewReading{Check: twist, Text: "0.1", Instrument: demo.ID("level 2")})
	elsewhere := n
	elsewhere.Form, elsewhere.Spot.Point = l.Form(), "left winglet"
	assert.Contains(t, loft.Problems(t, l.Measuring.Take(l.Ctx(), elsewhere))[""], "left winglet")
	elsewhere.Form, elsewhere.Check = l.Form(), loft.ID("nothing")
	require.ErrorIs(t, l.Measuring.Take(l.Ctx(), elsewhere), ledger.ErrNotFound)
	assert.Contains(t, loft.Problems(t, l.Instruments.Test(l.Ctx(), instrument.EndForEnd{Form: l.Form(), Instrument: demo.ID("level 2"), First: "90", Turned: "90"})), "turned")
	assert.Contains(t, loft.Problems(t, l.Instruments.Test(l.Ctx(), instrument.EndForEnd{Form: l.Form(), Instrument: demo.ID("rule"), First: "1", Turned: "1"})), "")
	assert.Contains(t, loft.Problems(t, func() error { n.ID = "x"; return l.Measuring.Take(l.Ctx(), n) }()), "", "no id of its own")
	assert.Equal(t, before, l.Verify())
}

func TestTheSameSubmissionTwiceIsOneReading(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	n := l.At(loft.OnRails, 1, measuring.NewReading{Check: l.Twist().ID, Text: "0.06 up", Instrument: demo.ID("level 2")})
	require.NoError(t, l.Measuring.Take(l.Ctx(), n))
	require.NoError(t, l.Measuring.Take(l.Ctx(), n))
	assert.Len(t, l.Twist().Spots[0].Counting(), 2, "the demo's and this one")
	n.Text = "0.60 up"
	assert.Contains(t, loft.Problems(t, l.Measuring.Take(l.Ctx(), n))[""], "“left tip, angle: 0.06 up” was taken then")
	assert.Len(t, l.Twist().Spots[0].Counting(), 2)
}

func TestReadingsAreSupersededAndNeverLost(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	c := l.Twist()
	require.NoError(t, l.Read(c.ID, 1, "0.07", demo.ID("level 2"), "misread"))
	sheet, err := l.Setup(l.Ctx(), loft.OnRails, c.ID, 1)
	require.NoError(t, err)
	first := sheet.Spot
	require.Len(t, first.Readings, 2)
	assert.Equal(t, "misread", first.Readings[0].Superseded)
	assert.Equal(t, "0.07", first.Counting()[0].Text)
	back := measuring.TakeBack{Form: l.Form(), Check: c.ID, Reading: first.Readings[1].ID, Reason: "mistyped"}
	require.NoError(t, l.Measuring.TakeBack(l.Ctx(), back))
	require.NoError(t, l.Measuring.TakeBack(l.Ctx(), back))
	assert.Equal(t, 9, l.Twist().Taken)
	next, ok := l.Twist().Next()
	require.True(t, ok)
	assert.Equal(t, "read left tip, angle", next.Say())
	assert.Contains(t, loft.Problems(t, l.TakeBack(c.ID, back.Reading, "mistyped")), "")
	assert.Contains(t, loft.Problems(t, l.TakeBack(c.ID, back.Reading, "bored")), "reason")
}

func TestAnEmptyWorkshopIsFilledByHand(t *testing.T) {
	t.Parallel()
	l, ctx := loft.Empty(t), t.Context()
	_, err := l.Home(ctx, "")
	require.ErrorIs(t, err, ledger.ErrNotFound)
	p := loft.Problems(t, l.Airframes.Add(ctx, airframe.NewAirframe{Form: l.Form(), Unit: "yd"}))
	assert.Contains(t, p, "name")
	assert.Contains(t, p, "unit")
	require.NoError(t, l.Airframes.Add(ctx, airframe.NewAirframe{Form: loft.Named("airframe"), Name: "Campion C1", Unit: "in"}))
	assert.Contains(t, loft.Problems(t, l.Airframes.Add(ctx, airframe.NewAirframe{Form: l.Form(), Name: "Campion C1", Unit: "in"})), "name")
	foreplane := airframe.NewAssembly{Form: loft.Named("foreplane"), Airframe: loft.ID("airframe"), Name: "Foreplane", Shape: airframe.Shape{Form: "kite"}}
	assert.Contains(t, loft.Problems(t, l.Airframes.AddAssembly(ctx, foreplane)), "form")
	foreplane.Shape = airframe.Shape{Form: "surface", Inner: -1550, Outer: 1550, Chord: 330}
	require.NoError(t, l.Airframes.AddAssembly(ctx, foreplane))
	tape := instrument.NewInstrument{Form: loft.Named("tape"), Name: "tape", Sort: "tape", Resolution: "wide", Spread: "-1"}
	assert.Contains(t, loft.Problems(t, l.Instruments.Add(ctx, tape)), "resolution")
	tape.Resolution, tape.Spread = "1/32 in", ""
	require.NoError(t, l.Instruments.Add(ctx, tape))
	rails := measuring.OnRails{Lies: "held", ByLevel: true, Supports: []string{"0", "60"}, Apart: 711.2, Stations: []measuring.Station{{Name: "root", Y: "0"}, {Name: "tip", Y: "-1"}}, Low: "-0.1", High: "0.1"}
	n := measuring.NewSetup{Form: loft.Named("setup"), Assembly: loft.ID("foreplane"), Name: "on the rails", Checks: rails.Checks(), Hold: measuring.EndHoles("foreplane")}
	assert.Contains(t, loft.Problems(t, l.Measuring.Begin(ctx, n)), "checks[1].checks[0].stations[1].y")
	rails.Stations[1].Y = "61"
	n.Checks = rails.Checks()
	require.NoError(t, l.Measuring.Begin(ctx, n))
	home, err := l.Home(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, "Foreplane: read L1, height", home.Now[0].What)
	require.NoError(t, l.Take(n.ID, 1, measuring.NewReading{Check: ledger.Child(n.ID, "check 0"), Text: "7 5/8", Instrument: loft.ID("tape")}))
	assert.InDelta(t, 193.675, l.SetupOf(n.ID).Checks[0].Spots[0].Readings[0].Value, 1e-9, "bare lengths are in the airframe's unit")
	n.Form, n.Checks = l.Form(), nil
	assert.Contains(t, loft.Problems(t, l.Measuring.Begin(ctx, n)), "checks")
}

// A loose part may be measured before anyone says what it belongs to.
func TestASetupNeedsNoAssembly(t *testing.T) {
	t.Parallel()
	l, ctx := loft.Bench(t, 2), t.Context()
	n := measuring.NewSetup{Form: l.Form(), Name: "a loose strip, on the bench", Checks: []measuring.NewCheck{loft.Bow()}}
	require.NoError(t, l.Measuring.Begin(ctx, n))
	check := ledger.Child(n.ID, "check 0")
	for i, text := range []string{"10", "12", "10"} {
		require.NoError(t, l.Take(n.ID, i+1, measuring.NewReading{Check: check, Text: text, Instrument: loft.BenchRule}))
	}
	sheet, err := l.Setup(ctx, n.ID, "", 0)
	require.NoError(t, err)
	bow, _ := sheet.Check.Result.Quantity("bow")
	assert.InDelta(t, 2, bow.Value, 1e-12)
	assert.Equal(t, "a loose strip, on the bench", sheet.Title())
	require.NoError(t, l.Measuring.SomethingMoved(ctx, measuring.SomethingMoved{Form: l.Form(), Setup: n.ID, State: 1, What: measure.Knocked}))
	l.Verify()
}

func TestASlipOfTheTapeIsQuestionedOnceAndBothStayOnTheRecord(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	take := func(n measuring.NewReading) error { return l.Measuring.Take(l.Ctx(), n) }
	survey := demo.Check("tailplane on rails", 0)
	n := l.At(loft.OnRails, 1, measuring.NewReading{Check: survey, Text: "60.5", Instrument: demo.ID("laser")})
	assert.Contains(t, loft.Problems(t, take(n))["slip"], "10 mm", "the last placing was 51")
	assert.Contains(t, loft.Problems(t, take(n)), "slip", "a repeat is the same question")
	assert.Equal(t, "L1, height: 60.5 questioned", l.Log(1)[0].What)

	n.Form, n.Questioned = l.Form(), n.Text
	require.NoError(t, take(n), "the same figure at a second placing is taken")
	require.NoError(t, l.Take(loft.OnRails, 2, measuring.NewReading{Check: survey, Text: "60", Instrument: demo.ID("laser"), AsMeasured: true}), "or one that is said to be as measured")
	err := l.Take(loft.OnRails, 3, measuring.NewReading{Check: survey, Text: "77.5", Instrument: demo.ID("laser"), Questioned: "60.5"})
	assert.Contains(t, loft.Problems(t, err)["slip"], "whole inch", "another figure is questioned anew")
	l.Verify()
}

func TestAReadingPushedByHandDoesNotReleaseTheForeplane(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	h := l.HoldOf(demo.HoldOf("foreplane on fuselage"))
	assert.Equal(t, hold.Missing, h.Judgement.Standing)
	assert.Contains(t, h.Judgement.Worst().Why, "read pushed by hand; only hands off counts")
	c := l.SetupOf(demo.ID("foreplane on fuselage")).Checks[0]
	require.NoError(t, l.TakeBack(c.ID, c.Spots[0].Readings[1].ID, "misread"))
	h = l.HoldOf(demo.HoldOf("foreplane on fuselage"))
	assert.Equal(t, hold.Met, h.Judgement.Standing)
	sheet, err := l.Setup(l.Ctx(), demo.ID("foreplane on fuselage"), "", 0)
	require.NoError(t, err)
	assert.Equal(t, []string{"forward surface over aft surface", "+3.10°", "0.05°"}, say.Reader{}.Texts([]string{sheet.Answer.Name, sheet.Answer.Value, sheet.Answer.U}))
}

func TestWhereTheDemoStands(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	home, err := l.Home(l.Ctx(), demo.ID("samphire"))
	require.NoError(t, err)
	states := map[string]overview.State{}
	for _, a := range home.Assemblies {
		states[a.Name] = a.State
	}
	assert.Equal(t, overview.Owed, states["Engine mount"])
	assert.Equal(t, overview.Held, states["Fin"])
	assert.Equal(t, overview.Released, states["Main spar, left"])
	assert.Equal(t, overview.Permanent, states["Elevator, left"])
	assert.Equal(t, overview.Held, states["Tailplane"])
	fin := l.SetupOf(demo.ID("fin upright"))
	lean, _ := fin.Checks[0].Result.Quantity("lean")
	assert.InDelta(t, 0.065, lean.Value, 1e-12)
	assert.Equal(t, 2, lean.Placings, "one placing too few")
	mount := l.SetupOf(demo.ID("mount pads"))
	down, _ := mount.Checks[0].Result.Quantity("down")
	assert.InDelta(t, 1.853, down.Value, 1e-3, "atan(11/340)")
	assert.Equal(t, measure.Stop, mount.Checks[0].Result.Verdict)
}

// Every usual setup can be begun with the figures it shows.
func TestEveryUsualSetupCanBeBegun(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	for _, usual := range measuring.UsualChecks {
		filled := make([]measuring.Filled, len(usual.Checks))
		for i, c := range usual.Checks {
			filled[i] = measuring.Filled{Take: true, Values: c.Usual, Low: map[string]string{}, High: map[string]string{}}
			for _, limit := range c.Limits {
				filled[i].Low[limit.Quantity], filled[i].High[limit.Quantity] = "-2", "2"
			}
		}
		n, wrong := usual.Setup(l.Form(), airframe.Assembly{ID: demo.ID("rudder")}, "on the bench, "+usual.ID, quantity.Millimetre, filled)
		require.Empty(t, wrong, usual.ID)
		require.NoError(t, l.Measuring.Begin(l.Ctx(), n), usual.ID)
		s := l.SetupOf(n.ID)
		assert.Len(t, s.Checks, len(usual.Checks))
		for _, c := range s.Checks {
			assert.NotEmpty(t, c.Spots, c.Name)
		}
	}
}

func TestAUsualSetupsFormIsRefusedFieldByField(t *testing.T) {
	t.Parallel()
	tailplane, ok := measuring.UsualOf("tailplane")
	require.True(t, ok)
	filled := make([]measuring.Filled, len(tailplane.Checks))
	filled[0] = measuring.Filled{Take: true, Values: map[string]string{"design": "1.0 R", "attach_spacing": "wide"}}
	filled[3] = measuring.Filled{Take: true, Values: map[string]string{"station": "5480", "half_span": "", "from": "firewall; 0; -1320\nboom root; x"}}
	_, wrong := tailplane.Setup(loft.Named("setup"), airframe.Assembly{}, "here", quantity.Millimetre, filled)
	assert.Contains(t, wrong["0.design"], "up or down")
	assert.Contains(t, wrong["0.attach_spacing"], "wide")
	assert.Equal(t, "is wanted, from the plans", wrong["3.half_span"])
	assert.Contains(t, wrong["3.from"], "line 2")
	assert.Len(t, wrong, 4, "what may be empty is not missed")
}

// A bench that must be true stops what is riveted on it; one that is only surveyed
// need not be.
func TestALimitedSurveyMustBeShownAndAnotherOnlyThere(t *testing.T) {
	t.Parallel()
	boom, ok := measuring.UsualOf("boom")
	require.True(t, ok)
	for high, want := range map[string]hold.Standing{"0.2": hold.Stop, "": hold.Met} {
		l := loft.Demo(t)
		filled := []measuring.Filled{{Take: true, Values: boom.Checks[0].Usual, Low: map[string]string{}, High: map[string]string{"twist": high}}, {}, {}}
		n, wrong := boom.Setup(l.Form(), airframe.Assembly{ID: demo.ID("tail boom")}, "on its stands "+high, quantity.Millimetre, filled)
		require.Empty(t, wrong)
		n.Hold.Other = true
		require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
		for i, height := range []string{"50", "50", "50", "45"} {
			require.NoError(t, l.Take(n.ID, i+1, measuring.NewReading{Check: ledger.Child(n.ID, "check 0"), Text: height, Instrument: demo.ID("rule")}))
		}
		h := l.HoldOf(ledger.Child(n.ID, "hold"))
		assert.Equal(t, hold.Missing, h.Judgement.Standing, "nothing is riveted that is not taken apart and cleaned")
		require.NoError(t, l.Gate.Look(l.Ctx(), gate.LookAt{Form: l.Form(), Need: hold.Prepared, Of: h.ID, By: "builder", What: hold.Preparations}))
		h = l.HoldOf(h.ID)
		assert.Equal(t, want, h.Judgement.Standing, "limit %q", high)
	}
}

// A network that delivers a form again, after more was read, makes no new entry.
func TestALateRepeatOfAReadingIsNeitherASlipNorAReading(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	first := l.At(loft.OnRails, 2, measuring.NewReading{Check: demo.Check("tailplane on rails", 0), Text: "50.5", Instrument: demo.ID("laser")})
	require.NoError(t, l.Measuring.Take(l.Ctx(), first))
	require.NoError(t, l.Take(loft.OnRails, 2, measuring.NewReading{Check: first.Check, Text: "60.5", Instrument: demo.ID("laser"), AsMeasured: true}))
	before := l.Verify()
	require.NoError(t, l.Measuring.Take(l.Ctx(), first), "10 mm from its twin by now, but it was taken before that")
	assert.Equal(t, before, l.Verify())
}

func TestEchoesSayWhatWasUnderstood(t *testing.T) {
	t.Parallel()
	pitch, roll, height := measure.Spot{Dimension: measure.Angle, Sense: "pitch"}, measure.Spot{Dimension: measure.Angle, Sense: "cross-level"}, measure.Spot{Dimension: measure.Length, Sense: "length"}
	tests := []struct {
		text string
		spot measure.Spot
		unit quantity.Unit
		want string
	}{
		{"0.36 up", pitch, quantity.Millimetre, "+0.36°, leading edge up"}, {"-0.2", pitch, quantity.Millimetre, "−0.20°, leading edge down"}, {"0", pitch, quantity.Millimetre, "0.00°"},
		{"0.08 L", roll, quantity.Millimetre, "−0.08°, left side low"}, {"52.5", height, quantity.Millimetre, "52.5 mm"},
		{"64 5/16 in", height, quantity.Millimetre, "64 5/16 in = 1633.5 mm"}, {"64 5/16", height, quantity.Inch, "64 5/16 in"},
		{"52 strong", height, quantity.Millimetre, "52.2 mm"}, {"52 weak", height, quantity.Millimetre, "51.8 mm"}, {"-52 strong", height, quantity.Millimetre, "−52.2 mm"},
		{"0.4 goes, 0.5 not", height, quantity.Millimetre, "0.5 mm"}, {"between 5 and 3/8 and 5 and 1/2", height, quantity.Inch, "5 7/16 in"},
	}
	for _, test := range tests {
		got, err := measuring.Echo(test.text, test.spot, test.unit, 1)
		require.NoError(t, err)
		assert.Equal(t, test.want, say.For(test.unit).Text(got))
	}
	_, err := measuring.Echo("0.08 R", pitch, quantity.Millimetre, 0.01)
	assert.ErrorContains(t, err, "up or down")
}

func TestAReleaseKeepsItsEvidenceAndItsWorksheetInTheJournal(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	require.NoError(t, l.ReleaseRails(holding.NewRelease{By: "builder"}))
	l.Held(loft.OnRails, l.Twist().ID, false)
	assert.Equal(t, hold.Stop, l.Rails().Judgement.Standing)
	rails := l.Rails()
	require.Len(t, rails.Releases, 1)
	released := rails.Releases[0]
	assert.Contains(t, released.Ended, "stop: ")
	lines := released.Lines
	assert.Equal(t, "go: twist +0.03° ± 0.06°", say.Plain(lines[2].Why), "as it was then")
	var content struct {
		Facts struct{ Worksheet json.RawMessage }
	}
	require.NoError(t, l.Ledger.View(l.Ctx(), func(q *query.Queries) error {
		row, err := q.EntryByID(l.Ctx(), released.ID)
		require.NoError(t, err)
		return json.Unmarshal([]byte(row.Content), &content)
	}))
	_, errs := worksheet.Parse(content.Facts.Worksheet)
	assert.Empty(t, errs)
}
