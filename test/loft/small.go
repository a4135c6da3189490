package loft

import (
	"bytes"
	"fmt"
	"maps"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"orpine/internal/account"
	"orpine/internal/airframe"
	"orpine/internal/amending"
	"orpine/internal/archive"
	"orpine/internal/asking"
	"orpine/internal/closing"
	"orpine/internal/coating"
	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/part"
	"orpine/internal/core/plan"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/core/school"
	"orpine/internal/core/stock"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/photo"
	"orpine/internal/planning"
	"orpine/internal/riveting"
	"orpine/internal/stores"
)

// Small is the bench with something of every kind done in it: each table of the record
// has rows, and each kind of entry stands in the journal.
func Small(t testing.TB) *Loft {
	t.Helper()
	l, ctx := Bench(t, 4), t.Context()
	do := func(err error) {
		t.Helper()
		require.NoError(t, err)
	}
	do(l.Instruments.Add(ctx, instrument.NewInstrument{Form: Named("level"), Name: "level", Sort: "level", Resolution: "0.01", Offset: "0.05", Spread: "0.015", DueDays: "7"}))
	do(l.Instruments.Test(ctx, instrument.EndForEnd{Form: l.Form(), Instrument: ID("level"), First: "0.07", Turned: "-0.15"}))
	do(l.Instruments.Test(ctx, instrument.EndForEnd{Form: l.Form(), Instrument: ID("level"), First: "0.08", Turned: "-0.15"}))
	do(l.Instruments.Test(ctx, instrument.EndForEnd{Form: Named("test of another"), Instrument: ID("level"), First: "0.3", Turned: "-0.1"}))
	do(l.Retract(ctx, ledger.Mistaken{Form: l.Form(), Entry: ID("test of another"), By: "builder", Reason: "it was another level"}))
	do(l.Instruments.Prove(ctx, instrument.NewProof{Form: l.Form(), Instrument: BenchRule, What: "offset", Texts: []string{"300", "300.5"}}))
	do(l.Instruments.Prove(ctx, instrument.NewProof{Form: l.Form(), Instrument: BenchRule, What: "spread", Texts: []string{"10", "10.5", "10", "10.5", "10", "10", "10.5", "10", "10.5", "10"}}))
	do(l.Instruments.Add(ctx, instrument.NewInstrument{Form: Named("tape"), Name: "tape", Sort: "tape", Resolution: "1 mm", Class: instrument.Classes[1].Name, Spread: "0.4 mm", Weight: "20", Pull: "50", Material: "fibreglass"}))
	do(l.Schools(BenchFrame, school.Choice{school.Limits: school.Guarded}))
	do(l.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: Named("fin"), Airframe: BenchFrame, Name: "Fin", Shape: airframe.Shape{Form: "fin", X: 4790, Z: 420, Chord: 560, Tip: 420, Rise: 1310}, Before: "delivered riveted"}))
	do(l.Airframes.Add(ctx, airframe.NewAirframe{Form: Named("inch kit"), Name: "Campion C1", Unit: "in"}))
	do(l.Holding.StandBefore(ctx, holding.NewStand{Form: Named("close nose"), Assembly: BenchBoom, Name: "Close the nose", Step: "close", Permanent: "the nose", Why: "w", Bay: "the nose bay", Tasks: []string{"lamp"}}))
	l.people()
	l.drillings()
	l.measureBow()
	l.around()
	l.rivetings()
	l.closings()
	do(l.Logbook.Log(ctx, logbook.NewSlip{Form: Named("slip"), Assembly: BenchBoom, Step: "rivet", Place: "row, hole 2", Cause: "tool slipped"}))
	do(l.Logbook.Tell(ctx, logbook.SlipCost{Form: l.Form(), Slip: ID("slip"), Seen: l.Log(1)[0].Seq, What: "the set slid off", Minutes: "20", Money: "7.50", Lesson: "Hold the set with the left hand."}))
	do(l.Logbook.Log(ctx, logbook.NewSlip{Form: l.Form(), Assembly: BenchBoom, Cause: "forgot a step"}))
	do(l.Stores.AddPart(ctx, stores.NewPart{Form: Named("part"), Airframe: BenchFrame, Number: "S2-54-9", Name: "clip", Hand: "left", Lot: "77"}))
	do(l.Stores.MovePart(ctx, stores.PartMoved{Form: l.Form(), Part: ID("part"), Seen: l.Log(1)[0].Seq, Place: "on the boom", Assembly: BenchBoom}))
	do(l.Stores.AddPart(ctx, stores.NewPart{Form: l.Form(), Airframe: BenchFrame, Number: "S2-54-10", Name: "clip", Hand: "right"}))
	l.rightings()
	l.joints()
	l.noticed()
	l.lots()
	l.plans()
	l.firstEvening()
	for _, lot := range []string{"77", "91"} {
		do(l.Stores.AddNotice(ctx, stores.NewNotice{Form: l.Form(), Airframe: BenchFrame, Title: "Clips of lot " + lot, Names: part.Notice{Lots: []string{lot}}, Note: "look at the bend"}))
		do(l.Stores.CountStock(ctx, stores.NewStock{Form: l.Form(), Airframe: BenchFrame, Sort: "rivet", Name: "solid 1/8 × 1/4 in", Number: 40}))
	}
	_, err := l.Home(ctx, "")
	do(err)
	do(l.Measuring.Settle(ctx, 1))
	return l
}

// joints measures once more for a hold that stands there, takes an event back, and writes down what
// was done without a release, or before.
func (l *Loft) joints() {
	l.T.Helper()
	ctx, do := l.Ctx(), func(err error) { l.T.Helper(); require.NoError(l.T, err) }
	again := measuring.NewSetup{Form: Named("once more"), Assembly: BenchBoom, Name: "on the floor", Checks: []measuring.NewCheck{Bow()}, Hold: &gate.NewHold{Name: "Drill them", Step: "rivet", Permanent: "holes", Why: "w"}}
	again.Checks[0].Instrument, again.Checks[0].Name = BenchRule, "Bow on the floor"
	do(l.Measuring.Begin(ctx, again))
	third := again
	third.Form, third.Name, third.Checks = Named("and again"), "on the lawn", []measuring.NewCheck{Bow()}
	third.Checks[0].Instrument, third.Checks[0].Name = BenchRule, "Bow on the lawn"
	do(l.Measuring.Begin(ctx, third))
	do(l.Measuring.SayHowItLies(ctx, measuring.LiesAs{Form: l.Form(), Setup: third.ID, Other: again.ID, Lies: measuring.LiesStill}))
	l.Moved(again.ID, measure.Knocked)
	do(l.Measuring.TakeEventBack(ctx, measuring.EventMistaken{Form: l.Form(), Setup: again.ID, State: l.SetupOf(again.ID).State, Reason: "the wrong button", By: "builder"}))
	do(l.Measuring.SayHowItLies(ctx, measuring.LiesAs{Form: l.Form(), Setup: third.ID, Other: ID("second setup"), Lies: measuring.LiesStill}))
	rib := l.RowOf(ID("pointed"))
	do(l.Riveting.TellFact(ctx, riveting.HolesFact{Form: l.Form(), Row: rib.ID, Seen: rib.Revised, Numbers: []int{1, 2}, What: row.Rivet, How: gate.DoneBefore, By: "the builder before", Day: "2024-03-01"}))
	do(l.Riveting.TellFact(ctx, riveting.HolesFact{Form: l.Form(), Row: rib.ID, Seen: l.RowOf(rib.ID).Revised, Numbers: []int{3}, What: row.Rivet, How: gate.Unreleased, By: "helper", Reason: "in the middle of the evening"}))
}

// rightings begins an aircraft from a shape, measures something that belongs to nothing,
// keeps it to an assembly, and puts right what was entered.
func (l *Loft) rightings() {
	l.T.Helper()
	ctx := l.Ctx()
	require.NoError(l.T, l.Airframes.Begin(ctx, airframe.NewAircraft{Form: Named("tansy"), Name: "Tansy T3", Unit: "in", Planform: "low-wing", Sizes: map[string]string{"span": "315", "tail_span": "9 ft 6 in"}}))
	level, _ := measuring.NowOf("level")
	now, wrong := level.Setup(Named("now"), "in", measuring.Filled{Values: map[string]string{"span": "114"}, Instrument: "quick:level-0.1", Usual: true})
	require.Empty(l.T, wrong)
	require.NoError(l.T, l.Measuring.Begin(ctx, now))
	require.NoError(l.T, l.Measuring.KeepTo(ctx, measuring.KeepTo{Form: l.Form(), Setup: now.ID, Assembly: ledger.Child(ID("tansy"), "tailplane")}))
	require.NoError(l.T, l.Measuring.Confirm(ctx, measuring.Confirm{Form: l.Form(), Check: ledger.Child(now.ID, "check 0")}))
	l.onTheDrawing()
	require.NoError(l.T, l.Right("assembly", ledger.Child(ID("tansy"), "rudder"), amending.Withdraw, nil))
	require.NoError(l.T, l.Riveting.Lay(ctx, riveting.NewRow{Form: Named("pointed"), Assembly: ledger.Child(ID("tansy"), "wing panel right"), Name: "rib", Marked: "builder", Mirror: ledger.Child(ID("tansy"), "wing panel left"), Repeat: riveting.Repeat{Times: 2, Step: [2]float64{0, 250}},
		Values: map[string]string{"lay": "circle", "view": "from above", "from": "40; 25", "to": "44; 25", "count": "8", "layers": "aluminium; 0.032\naluminium; 0.040", "sort": "solid", "size": "1/8", "head": "domed", "metal": "aluminium", "sizing": "match drill"}}))
	require.NoError(l.T, l.Riveting.Lay(ctx, riveting.NewRow{Form: Named("listed"), Assembly: ledger.Child(ID("tansy"), "wing panel right"), Name: "as listed", List: "rib 4: 4 AD4-5, 2 AD4-6 flush; open 6 for tip\nrib 5: 3 B32-6; pitch 1"}))
	require.NoError(l.T, l.Right("instrument", ID("level"), amending.Change, map[string]string{"resolution": "0.02"}))
	require.NoError(l.T, l.Instruments.Spoke(ctx, instrument.Spoke{Form: Named("spoke"), Instrument: ID("level"), Serial: "SIM-0007", Step: "0.05", Unit: "deg"}))
	require.NoError(l.T, l.Right("part", ID("part"), amending.Correct, map[string]string{"lot": "78"}))
}

// onTheDrawing measures a sweep that begins with its first reading: in usual proportions and by the usual limits, until
// its span and one limit are said.
func (l *Loft) onTheDrawing() {
	l.T.Helper()
	sweep, _ := measuring.NowOf("sweep")
	filled, waits := sweep.Drawn(measuring.Filled{Instrument: "quick:rule-in", Values: map[string]string{}}, 0, quantity.Inch)
	setup, wrong := sweep.Setup(Named("drawn"), "in", filled, waits...)
	require.Empty(l.T, wrong)
	sketch, err := sweep.Sketch(filled, "in", waits, nil)
	require.NoError(l.T, err)
	require.NoError(l.T, l.MeasureNow(l.Ctx(), setup, measuring.NewReading{Spot: sketch.Checks[0].Spots[0].Key(), Text: "1 1/2"}))
	for _, n := range []measuring.Redefine{{Sized: measuring.Sized{"span": {"157"}}}, {Limit: &measuring.LimitTo{Quantity: "sweep_difference", Low: "±0.2"}}} {
		c := l.SetupOf(setup.ID).Checks[0]
		n.Form, n.Check, n.Seen = l.Form(), c.ID, c.Redefined
		require.NoError(l.T, l.Measuring.Redefine(l.Ctx(), n))
	}
}

// Right puts something right: values are the fields that change.
func (l *Loft) Right(kind, id, how string, values map[string]string) error {
	l.T.Helper()
	t, _, err := l.Amending.Thing(l.Ctx(), kind, id, nil)
	if err != nil {
		return err
	}
	n := amending.PutRight{Form: l.Form(), Kind: kind, Thing: id, Seen: t.Seen, How: how, Reason: "seen on the plans", By: "builder"}
	if values != nil {
		n.Values = map[string]string{}
		for _, f := range t.Fields {
			n.Values[f.Key] = f.Value
		}
		maps.Copy(n.Values, values)
	}
	return l.Amending.PutRight(l.Ctx(), n)
}

// plans are a few steps with their evenings, a visit and hours, of two aircraft.
func (l *Loft) plans() {
	l.T.Helper()
	ctx := l.Ctx()
	do := func(err error) { l.T.Helper(); require.NoError(l.T, err) }
	for i, frame := range []string{BenchFrame, ID("tansy")} {
		do(l.AddStep(ctx, planning.NewStep{Form: Named(fmt.Sprint("bond ", i)), Airframe: frame, Line: "bond the spar, 1-2-3 h, whole, cures 24 h", Kind: "bond"}))
		do(l.AddStep(ctx, planning.NewStep{Form: Named(fmt.Sprint("hang ", i)), Airframe: frame, Line: "hang the fin, 1 h, two people, after bond"}))
		do(l.Planning.MoveStep(ctx, planning.StepMoved{Form: l.Form(), Step: ID(fmt.Sprint("bond ", i)), State: "done"}))
		do(l.Planning.AddOrder(ctx, planning.NewOrder{Form: Named(fmt.Sprint("tank ", i)), Airframe: frame, Name: "fuel tank", Supplier: "kit", Lead: "20", Asked: "2026-05-01"}))
		do(l.Planning.MoveOrder(ctx, planning.OrderMoved{Form: l.Form(), Order: ID(fmt.Sprint("tank ", i)), What: "promised", Day: "2026-06-01"}))
		do(l.AddStep(ctx, planning.NewStep{Form: Named(fmt.Sprint("fit ", i)), Airframe: frame, Line: "fit the tank, 2 h, needs fuel"}))
		do(l.Planning.SetMoney(ctx, planning.MoneySet{Form: l.Form(), Airframe: frame, Saved: "1200 EUR", PerMonth: "450", Day: "25"}))
		do(l.Planning.AddStage(ctx, planning.NewStage{Form: Named(fmt.Sprint("wing kit ", i)), Airframe: frame, Name: "wing kit", Price: "7800", Lead: "60", NeededBy: ID(fmt.Sprint("fit ", i))}))
		do(l.Planning.PayStage(ctx, planning.StagePaid{Form: l.Form(), Stage: ID(fmt.Sprint("wing kit ", i)), Paid: i == 0}))
		do(l.Planning.SetWeek(ctx, planning.WeekSet{Form: l.Form(), Airframe: frame, From: map[string]string{"tue": "19:00"}, Long: map[string]string{"tue": "2"}}))
		do(l.Planning.SetAway(ctx, planning.AwaySet{Form: l.Form(), Airframe: frame, Away: "24 Dec to 2 Jan"}))
		do(l.Planning.AddVisit(ctx, planning.NewVisit{Form: l.Form(), Airframe: frame, Date: "2026-06-06", From: "09:00", Long: "3 h", Who: "Robin"}))
		do(l.Planning.StartWork(ctx, planning.WorkStarted{Form: Named(fmt.Sprint("work ", i)), Airframe: frame, Who: "kit", Category: "build", Step: ID(fmt.Sprint("bond ", i))}))
		do(l.Planning.StopWork(ctx, planning.WorkStopped{Form: l.Form(), Session: ID(fmt.Sprint("work ", i))}))
		do(l.Planning.StartWork(ctx, planning.WorkStarted{Form: l.Form(), Airframe: frame, Who: "kit", Category: "paperwork", Date: "2026-05-01", From: "22:00", To: "00:30"}))
		past, hung := fmt.Sprint("past visit ", i), fmt.Sprint("turned ", i)
		do(l.AddStep(ctx, planning.NewStep{Form: Named(hung), Airframe: frame, Line: "turn the fin, 1 h, two people"}))
		do(l.Planning.AddVisit(ctx, planning.NewVisit{Form: Named(past), Airframe: frame, Date: "2026-05-02", From: "18:00", Long: "1 h", Who: "helper"}))
		evening := planning.EveningTold{Form: l.Form(), Visit: ID(past), Steps: []string{ID(hung)}, From: "18:00", To: "19:00", Who: []string{"kit", "helper"}}
		do(l.Planning.TellEvening(ctx, evening))
		if i == 0 {
			l.hardens(frame, i, do)
		}
		do(l.Right("session", ledger.Child(evening.ID, "hours 0"), amending.Change, map[string]string{"to": "18:50"}))
		do(l.Right("visit", ID(past), amending.Withdraw, nil))
		do(l.Right("stage", ID(fmt.Sprint("wing kit ", i)), amending.Change, map[string]string{"price": "7900"}))
	}
}

// lots counts two lots in, draws from the second, tells of some holes that they had others, and looks at what a notice
// on the first means of them.
func (l *Loft) lots() {
	l.T.Helper()
	ctx := l.Ctx()
	for _, lot := range []string{"A1", "B2"} {
		require.NoError(l.T, l.Stores.CountStock(ctx, stores.NewStock{Form: Named("lot " + lot), Airframe: BenchFrame, Sort: "rivet", Name: "AD4-4", Number: 100, Lot: lot, Best: "2031-05"}))
	}
	require.NoError(l.T, l.Stores.UseLot(ctx, stores.LotUsed{Form: Named("use A1"), Airframe: BenchFrame, Name: "AD4-4", Lot: "A1"}))
	require.NoError(l.T, l.Stores.UseLot(ctx, stores.LotUsed{Form: Named("use B2"), Airframe: BenchFrame, Name: "AD4-4", Lot: "B2"}))
	require.NoError(l.T, l.Stores.TellLot(ctx, stores.HoleLot{Form: Named("hole of C7"), Row: BenchRow, Holes: "1", Lot: "C7", By: "helper"}))
	require.NoError(l.T, l.Stores.TellLot(ctx, stores.HoleLot{Form: Named("hole of B2"), Row: BenchRow, Holes: "2, 3", Lot: "B2", By: "helper"}))
	require.NoError(l.T, l.Stores.AddNotice(ctx, stores.NewNotice{Form: Named("soft rivets"), Airframe: BenchFrame, Title: "Soft rivets", Names: part.Notice{Numbers: []string{"AD4-4"}, Lots: []string{"A1"}}}))
	require.NoError(l.T, l.Stores.Find(ctx, stores.PartFound{Form: Named("box found"), Notice: ID("soft rivets"), Thing: "stock/" + stock.Key("AD4-4") + "/A1", Answer: "affected", Found: "the box is sent back", By: "builder"}))
	require.NoError(l.T, l.Stores.CountStock(ctx, stores.NewStock{Form: l.Form(), Airframe: BenchFrame, Sort: "rivet", Name: "solid 1/8 × 1/4 in", Number: 10}))
	require.NoError(l.T, l.Stores.Find(ctx, stores.PartFound{Form: l.Form(), Notice: ID("soft rivets"), Thing: "stock/" + stock.Key("AD4-4") + "/", Answer: "not affected", Found: "their heads are hard", By: "builder"}))
}

// noticed is a notice, and what was found of the parts.
func (l *Loft) noticed() {
	l.T.Helper()
	ctx := l.Ctx()
	require.NoError(l.T, l.Stores.AddNotice(ctx, stores.NewNotice{Form: l.Form(), Airframe: BenchFrame, Title: "Clips", Names: part.Notice{Lots: []string{"76"}}}))
	list, err := l.Store(ctx, BenchFrame)
	require.NoError(l.T, err)
	for _, p := range list.Parts {
		require.NoError(l.T, l.Stores.Find(ctx, stores.PartFound{Form: l.Form(), Notice: list.Notices[0].ID, Part: p.ID, Answer: string(part.NotAffected), Found: "the bend is sound", By: "builder"}))
		require.NoError(l.T, l.Stores.MovePart(ctx, stores.PartMoved{Form: l.Form(), Part: p.ID, Seen: p.Revised, Place: "on the boom", Assembly: BenchBoom, Row: BenchRow, Rows: []string{ID("drilled row")}}))
	}
}

// drillings are two holds in series before drilling, and a row that they stand before.
func (l *Loft) drillings() {
	l.T.Helper()
	ctx := l.Ctx()
	n := measuring.NewSetup{Form: Named("second setup"), Assembly: BenchBoom, Name: "on the bench", Pins: true, Checks: []measuring.NewCheck{Bow()},
		Hold: &gate.NewHold{Name: "Drill the frame", Step: "drill to size", Permanent: "its holes", Why: "w", Required: []hold.Requirement{{Need: hold.Shown, Check: "0"}}}}
	require.NoError(l.T, l.Measuring.Begin(ctx, n))
	pins, all := ledger.Child(n.ID, "hold"), ledger.Child(n.ID, "hold all")
	require.NoError(l.T, l.Riveting.Lay(ctx, riveting.NewRow{Form: Named("drilled row"), Assembly: BenchBoom, Name: "frame", Values: RowOf(3), Drills: []string{pins, all}, OptOut: "riveted on its own"}))
	require.NoError(l.T, l.ChangeRow(riveting.RowChange{Row: ID("drilled row"), Name: "frame", Values: With(RowOf(3), "edge", "9")}))
	require.NoError(l.T, l.Riveting.ChooseBarrier(ctx, riveting.ChooseBarrier{Form: l.Form(), Row: ID("drilled row"), Choice: "sealant", By: "builder"}))
	read := func(check string) {
		for i := range 3 {
			require.NoError(l.T, l.Take(n.ID, i+1, measuring.NewReading{Check: check, Text: "10", Instrument: BenchRule}))
		}
	}
	read(ledger.Child(n.ID, "check 0"))
	require.NoError(l.T, l.Release(pins, holding.NewRelease{By: "builder"}))
	require.NoError(l.T, l.Do(ID("drilled row"), row.Drill, 1, 3))
	require.NoError(l.T, l.Step(pins, "builder", "3/32 in"))
	require.NoError(l.T, l.Measuring.BeginAfter(ctx, measuring.BeginAfter{Form: l.Form(), Hold: pins}))
	read(l.SetupOf(n.ID).Checks[1].ID)
	require.NoError(l.T, l.Release(all, holding.NewRelease{By: "builder"}))
	require.NoError(l.T, l.Do(ID("drilled row"), row.Drill, 2))
	require.NoError(l.T, l.Step(all, "builder", ""))
	require.NoError(l.T, l.Retract(ctx, ledger.Mistaken{Form: l.Form(), Entry: l.HoldOf(all).Recorded(), By: "builder", Reason: "it was the other frame"}))
	require.NoError(l.T, l.Release(all, holding.NewRelease{By: "builder"}))
	require.NoError(l.T, l.Step(all, "builder", ""))
	require.NoError(l.T, l.Measuring.AddCheck(ctx, measuring.AddedCheck{Form: l.Form(), Setup: n.ID, Kind: "level", Name: "Level", Filled: measuring.Filled{Take: true, Values: map[string]string{"span": "500"}}}))
	require.NoError(l.T, l.Judge(n.ID, ledger.Child(n.ID, "check 0"), measuring.CheckChange{Name: "Bow of the frame", Limits: map[string][2]string{"bow": {"-2", "2"}}}))
}

// measureBow reads, questions, takes back, and lets something move.
func (l *Loft) measureBow() {
	l.T.Helper()
	read := func(number int, text, inPlace string) error {
		return l.Take(BenchSetup, number, measuring.NewReading{Check: BenchCheck, Text: text, Instrument: BenchRule, Condition: "clamped", InPlace: inPlace})
	}
	require.NoError(l.T, l.Measuring.SayWarmth(l.Ctx(), measuring.Warmth{Form: l.Form(), Setup: BenchSetup, Material: "aluminium", Temperature: "12"}))
	require.NoError(l.T, read(1, "10", ""))
	require.NoError(l.T, l.Take(BenchSetup, 1, measuring.NewReading{Check: BenchCheck, Text: "10", Instrument: ID("tape"), Hung: true, InPlace: "other instrument"}))
	require.NoError(l.T, read(1, "10.5", "misread"))
	require.NoError(l.T, read(2, "10", ""))
	require.Contains(l.T, Problems(l.T, read(2, "110", "")), "slip")
	l.Moved(BenchSetup, measure.Knocked)
	for number, text := range []string{"10", "11", "10"} {
		require.NoError(l.T, read(number+1, text, ""))
	}
	require.NoError(l.T, l.TakeBack(BenchCheck, LastAt(l.SetupOf(BenchSetup).Checks[0], 3), "wrong mark"))
	require.NoError(l.T, read(3, "10.5", ""))
}

// rivetings sets rivets under a release, after one that lapsed and one that was
// withdrawn.
func (l *Loft) rivetings() {
	l.T.Helper()
	release := func() {
		l.T.Helper()
		require.NoError(l.T, l.Release(BenchRivet, holding.NewRelease{By: "builder", Reason: "seen"}))
	}
	require.NoError(l.T, l.Look(gate.LookAt{Need: hold.Marked, Of: BenchRow, By: "builder"}))
	require.NoError(l.T, l.Look(gate.LookAt{Need: hold.Prepared, Of: BenchRow, By: "builder", What: hold.Preparations}))
	release()
	l.Moved(BenchSetup, measure.Moved)
	for number, text := range []string{"10", "11", "10.5"} {
		require.NoError(l.T, l.Take(BenchSetup, number+1, measuring.NewReading{Check: BenchCheck, Text: text, Instrument: BenchRule}))
	}
	require.NoError(l.T, l.Look(gate.LookAt{Need: hold.Prepared, Of: BenchRow, By: "builder", What: hold.Preparations}))
	release()
	require.NoError(l.T, l.Holding.Withdraw(l.Ctx(), holding.Withdrawal{Form: l.Form(), Hold: BenchRivet, Release: l.HoldOf(BenchRivet).ReleaseID, What: measure.Knocked, By: "helper"}))
	release()
	require.NoError(l.T, l.Do(BenchRow, row.Drill, 1, 2, 3, 4))
	require.NoError(l.T, l.Do(BenchRow, row.Clean, 1, 2, 3, 4))
	require.NoError(l.T, l.Do(BenchRow, row.Rivet, 1, 2))
	require.NoError(l.T, l.Do(BenchRow, row.Spoil, 2))
	require.NoError(l.T, l.Operate(riveting.HoleOperation{Row: BenchRow, Numbers: []int{4}, What: row.Mark, Keep: row.Keep{Part: "fairing", Step: "Close it"}}))
	require.NoError(l.T, l.Do(BenchRow, row.Pin, 3))
	require.NoError(l.T, l.Operate(riveting.HoleOperation{Row: BenchRow, Numbers: []int{3}, What: row.Shut, Reach: row.Reach{What: "set", Step: "Close it"}}))
	require.NoError(l.T, l.Undo(BenchRow))
}

// closings counts, does and photographs what is inside the bay.
func (l *Loft) closings() {
	l.T.Helper()
	ctx := l.Ctx()
	require.NoError(l.T, l.Closing.AddTask(ctx, closing.NewTask{Form: l.Form(), Bay: BenchBay, What: "one more wire"}))
	require.NoError(l.T, l.Closing.FinishTask(ctx, closing.TaskDone{Form: l.Form(), Bay: BenchBay, Task: BenchTask, By: "builder", Note: "tied"}))
	require.NoError(l.T, l.Closing.Count(ctx, closing.NewCount{Form: l.Form(), Bay: BenchBay, Thing: "cleco 1/8", Number: 4, By: "helper"}))
	require.NoError(l.T, l.Closing.Count(ctx, closing.NewCount{Form: l.Form(), Bay: BenchBay, Thing: "cleco 1/8", Number: -3, By: "helper"}))
	require.NoError(l.T, l.Closing.Count(ctx, closing.NewCount{Form: Named("miscount"), Bay: BenchBay, Thing: "tool", Number: 2, By: "helper"}))
	require.NoError(l.T, l.Retract(ctx, ledger.Mistaken{Form: l.Form(), Entry: ID("miscount"), By: "helper", Reason: "these lay on the bench"}))
	require.NoError(l.T, l.Photos.Add(ctx, photo.NewPhoto{Form: Named("thumb in front"), Of: BenchBay, Data: PNG(l.T, 20, 30), Caption: "a thumb"}))
	require.NoError(l.T, l.Retract(ctx, ledger.Mistaken{Form: l.Form(), Entry: ID("thumb in front"), By: "helper", Reason: "nothing is to be seen"}))
	require.NoError(l.T, l.Closing.AddTask(ctx, closing.NewTask{Form: Named("a label"), Bay: BenchBay, What: "a label"}))
	require.NoError(l.T, l.Closing.Tick(ctx, closing.Ticked{Form: l.Form(), Bay: BenchBay, Tasks: []string{ID("a label")}, Access: "through the hatch", By: "builder"}))
	require.NoError(l.T, l.Photos.Add(ctx, photo.NewPhoto{Form: l.Form(), Of: BenchBay, Caption: "looking aft", Data: PNG(l.T, 8, 6)}))
	require.NoError(l.T, l.Photos.Add(ctx, photo.NewPhoto{Form: l.Form(), Of: BenchBay, Caption: "looking forward", Data: PNG(l.T, 6, 8)}))
	nose := closing.BayOf(ID("close nose"))
	require.NoError(l.T, l.Closing.Place(ctx, closing.Placed{Form: l.Form(), Bay: nose, Within: BenchBay, By: "builder"}))
	require.NoError(l.T, l.Closing.Tick(ctx, closing.Ticked{Form: l.Form(), Bay: nose, Tasks: []string{ledger.Child(ID("close nose"), "task 0")}, Access: "through the hatch", By: "builder"}))
	require.NoError(l.T, l.Photos.Add(ctx, photo.NewPhoto{Form: l.Form(), Of: nose, Caption: "the lamp", Data: PNG(l.T, 8, 8)}))
	for _, reason := range []string{"the lamp is the wrong way round", "a screw was left inside"} {
		require.NoError(l.T, l.Closing.Tick(ctx, closing.Ticked{Form: l.Form(), Bay: nose, Empty: true, By: "builder"}))
		require.NoError(l.T, l.Photos.Add(ctx, photo.NewPhoto{Form: l.Form(), Of: nose, Caption: "the lamp: " + reason, Data: PNG(l.T, 8, 9)}))
		l.Settle(nose)
		require.NoError(l.T, l.Release(ID("close nose"), holding.NewRelease{By: "builder"}))
		require.NoError(l.T, l.Step(ID("close nose"), "builder", ""))
		require.NoError(l.T, l.Closing.OpenAgain(ctx, closing.OpenAgain{Form: l.Form(), Bay: nose, Reason: reason, Drilled: "two screws", By: "builder"}))
	}
}

// hardens puts in what is asked, what hardens and what was bought; what a step makes impossible,
// and hours that came in from another sheet.
func (l *Loft) hardens(frame string, i int, do func(error)) {
	ctx, name := l.Ctx(), func(what string) string { return fmt.Sprint(what, " ", i) }
	do(l.AddStep(ctx, planning.NewStep{Form: Named(name("dimple")), Airframe: frame, Line: "dimple the tabs, 1-2-4 h, before turn the fin, bring squeezer + lamp", Kind: "metal"}))
	do(l.Planning.SplitStep(ctx, planning.StepSplit{Form: l.Form(), Step: ID(name("dimple")), Seen: "open"}))
	do(l.Planning.BringHours(ctx, planning.HoursIn{Form: l.Form(), Airframe: frame, Who: "kit", CSV: "date;hours;category;step\n2026-04-02;1,5;build;hang the fin\n3.4.2026;2;research;"}))
	do(l.Planning.StartWork(ctx, planning.WorkStarted{Form: l.Form(), Airframe: frame, Who: "kit", Category: "build", Step: ID(name("hang"))}))
	do(l.Planning.DoneElse(ctx, planning.ElseDone{Form: l.Form(), Airframe: frame, Who: "kit"}))
	do(l.Planning.AddOrder(ctx, planning.NewOrder{Form: Named(name("rib")), Airframe: frame, Name: "rib 3", Supplier: "counter", Hand: "right", Count: "2", Price: "18 EUR", Lead: "12", Asked: "2026-04-10"}))
	price := int64(1750)
	do(l.Planning.Told(ctx, planning.OrderTold{Form: l.Form(), Order: ID(name("rib")), Ref: "R-7", Promised: "2026-04-22", Sent: "2026-04-20", Price: &price, Says: "sent"}))
	do(l.Planning.Come(ctx, planning.OrderCame{Form: l.Form(), Order: ID(name("rib")), Seen: "sent", Day: "2026-04-23", Count: "2", Hand: "left", Place: "box 4"}))
	do(l.Planning.MoveOrder(ctx, planning.OrderMoved{Form: l.Form(), Order: ID(name("rib")), Seen: "came wrong", What: "returned", Day: "2026-04-24"}))
	do(l.Planning.MoveOrder(ctx, planning.OrderMoved{Form: l.Form(), Order: ID(name("rib")), Seen: "returned", What: "credited", Day: "2026-05-02"}))
	do(l.Asking.Ask(ctx, asking.NewQuestion{Form: Named(name("which pump")), Airframe: frame, Sort: asking.Question, Text: "which pump?", Whom: "kit maker", By: "2026-06-01", Evidence: "their letter", What: []string{ID(name("hang"))}}))
	do(l.Asking.Ask(ctx, asking.NewQuestion{Form: Named(name("light")), Airframe: frame, Sort: asking.Decision, Text: "a light in the tip?", Provisional: "wires only", Again: "2026-07-01", Last: ID(name("fit"))}))
	do(l.Asking.Ask(ctx, asking.NewQuestion{Form: Named(name("five")), Airframe: frame, Sort: asking.Contradiction, Text: "four rivets or five", Words: "four", Drawing: "five"}))
	do(l.Asking.AnswerIt(ctx, asking.Answered{Form: l.Form(), Question: ID(name("five")), Answer: "the drawing", By: "inspector"}))
	do(l.Coating.AddMaterial(ctx, coating.NewMaterial{Form: Named(name("primer")), Name: name("primer"), Table: "10; 3 h; 6 h; 4 d; 16 h; 14 d\n20; 80 min; 2 h; 2 d; 6 h; 7 d", Least: "1", Most: "2", Stop: "no metal shows", Caution: "mask and air"}))
	do(l.Coating.AddMaterial(ctx, coating.NewMaterial{Form: Named(name("resin")), Name: name("resin"), Table: "20; 30 min; ; ; 8 h; 24 h"}))
	do(l.Coating.Start(ctx, coating.NewClock{Form: Named(name("ribs")), Airframe: frame, Sort: "coat", What: "left ribs", Material: ID(name("primer")), Step: ID(name("fit")), Sides: "2", Temperature: "62 °F"}))
	do(l.Coating.Pass(ctx, coating.ClockPassed{Form: l.Form(), Clock: ID(name("ribs")), Did: "coat", Temperature: "18", Why: "it was tacky enough"}))
	do(l.Coating.End(ctx, coating.ClockEnded{Form: l.Form(), Clock: ID(name("ribs")), Outcome: "the other side is done by the painter"}))
	do(l.Coating.Start(ctx, coating.NewClock{Form: Named(name("pot")), Airframe: frame, Sort: "mix", What: "120 g of resin", Temperature: "18", Full: "30 min"}))
	n := planning.UsualLaid{Form: l.Form(), Airframe: frame, Usual: "canard", School: string(plan.OneByOne), Harder: plan.HardRight}
	u, _ := plan.UsualOf("canard")
	for k, s := range u.Steps {
		n.Steps = append(n.Steps, planning.UsualEdited{Take: k > 7 && k < 13, Name: s.Name, Hours: "2-3-5 h"})
	}
	do(l.Planning.LayUsual(ctx, n))
}

// around is what came over a line and in files: a reading that an instrument sent, a plan, an
// aircraft of another workshop with its instruments.
func (l *Loft) around() {
	l.T.Helper()
	ctx := l.Ctx()
	n := l.At(BenchSetup, 1, measuring.NewReading{Check: BenchCheck, Text: "10.5 mm", Instrument: BenchRule, Sent: `{"instrument":"rule","serial":"SIM-0001","line":{"reading":"10.5","unit":"mm","steady":true,"n":7}}`})
	require.NoError(l.T, l.Measuring.Take(ctx, n))
	brought, err := l.BringPlan(ctx, overview.BringingPlan{Form: l.Form(), Airframe: BenchFrame, Data: `{"format":"orpine.plan","version":1,"now":"2026-05-04T10:00","steps":[{"id":"a","name":"polish the canopy","hours":2},{"id":"b","name":"fit the canopy","hours":3,"after":["a"]}]}`}, true)
	require.NoError(l.T, err)
	require.Empty(l.T, brought.Wrong)
	from := Empty(l.T)
	require.NoError(l.T, from.Airframes.Add(ctx, airframe.NewAirframe{Form: Named("elsewhere"), Name: "Campion C1", Unit: "mm"}))
	var file bytes.Buffer
	_, err = archive.Write(ctx, from.Ledger, ID("elsewhere"), &file)
	require.NoError(l.T, err)
	a, err := archive.Open(bytes.NewReader(file.Bytes()), int64(file.Len()))
	require.NoError(l.T, err)
	_, err = archive.Take(ctx, l.Ledger, a, archive.Taking{Form: l.Form(), By: "builder", Archive: a.SHA256})
	require.NoError(l.T, err)
}

// people are those of a shop, one of whom left.
func (l *Loft) people() {
	l.T.Helper()
	ctx := l.T.Context()
	access, err := account.OpenAccess(ctx, l.T.TempDir(), time.Now)
	require.NoError(l.T, err)
	defer access.Close()
	a := account.New(l.Ledger, access)
	require.NoError(l.T, a.Begin(ctx, account.NewPerson{Form: Named("person"), Name: "builder"}))
	require.NoError(l.T, a.Add(ctx, account.NewPerson{Form: Named("second person"), Name: "helper", Role: account.Helper}))
	seen := l.Log(1)[0].Seq
	require.NoError(l.T, a.Replaced(ctx, account.PasswordReplaced{Form: Named("replaced"), Person: ID("person"), By: "builder"}))
	require.NoError(l.T, a.Change(ctx, account.PersonChanged{Form: l.Form(), Person: ID("second person"), Seen: seen, Role: account.Helper, Left: true}))
	require.NoError(l.T, a.Add(ctx, account.NewPerson{Form: Named("third person"), Name: "inspector", Role: account.Inspector}))
	builder, err := a.Here(ctx, ID("person"))
	require.NoError(l.T, err)
	signed := ledger.TakenAt(account.Sit(ctx, account.Seat{Person: builder}), l.Now.Add(-time.Hour)) // from a phone that was out of reach
	require.NoError(l.T, l.Logbook.Log(signed, logbook.NewSlip{Form: Named("signed slip"), Assembly: BenchBoom, Step: "rivet", Place: "hole 3", Cause: "hurried or tired"}))
}

// firstEvening measures something of its own with a level of which nothing is proven: read once, then moved and read
// blind, said to lie in its jig and then to be stiff; and what kind of level another one is.
func (l *Loft) firstEvening() {
	l.T.Helper()
	require.NoError(l.T, l.Instruments.Add(l.Ctx(), instrument.NewInstrument{Form: Named("bought"), Name: "bought level", Type: "digital level", Resolution: "0.05", PerDegree: "0.01", Spot: "0.03"}))
	station := func(name, y string) map[string]any { return map[string]any{"name": name, "y": y} }
	n := measuring.NewSetup{Form: Named("first evening"), Name: "Is this part twisted", Unit: "mm", Checks: []measuring.NewCheck{{Name: "twist", Instrument: "quick:spirit", Definition: map[string]any{"kind": "twist",
		"limits": map[string]any{"twist": map[string]any{"low": "-0.15", "high": "0.15"}}, "stations": []any{station("root", "0"), station("mid", "700"), station("tip", "1400")}}}}}
	require.NoError(l.T, l.Measuring.Begin(l.Ctx(), n))
	c := l.SetupOf(n.ID).Checks[0]
	for _, lies := range []string{check.InJig, check.LiesFree} {
		require.NoError(l.T, l.Redefine(n.ID, measuring.Redefine{Check: c.ID, Lies: lies}))
	}
	for round := range 3 {
		for number, text := range []string{"0.02", "0.03", "0.04"} {
			require.NoError(l.T, l.Take(n.ID, number+1, measuring.NewReading{Check: c.ID, Text: text, Instrument: c.Instrument, Moved: round > 0}))
		}
	}
}
