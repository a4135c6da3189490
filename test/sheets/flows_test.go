package sheets_test

import (
	"fmt"
	"net/http"
	"orpine/internal/demo"
	"orpine/internal/ledger"
	"orpine/test/site"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAHoldIsReleasedSpentAndShown(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees(endHoles, "Ready", "What must be shown", "The plans, the kit maker, the inspector and local rules prevail")
	v.Refused("is not released", endHoles+"/step", "by", "builder")
	v.Refused("a release carries a name", endHoles+"/release", "by", " ")
	v.Done(endHoles+"/release", "by", "builder")
	v.Sees(endHoles, "Released", "Record it when it is done", "no gloves near rotating tools", "It stands for as long as every line above stands as it was signed")
	v.Refused("it is released already", endHoles+"/release", "by", "helper")
	v.Refused("who did it?", endHoles+"/step", "by", "", "note", "kept as typed")
	_, body := v.Send(endHoles+"/step", "by", "", "note", "kept as typed")
	assert.Contains(t, body, "kept as typed</textarea>")
	v.Done(endHoles+"/step", "by", "builder", "note", "3/32 in")
	v.Sees(endHoles, "<b>Done</b>", "Measure once more", "spent", "3/32 in")
	v.Sees("/log", "done, Drill the tailplane&#39;s end holes", "by", "evidence met")
	v.Sees("/", "permanent · the two end holes at each tip")
	v.Sees("/holds", "done")
}

func TestAReleaseLapsesWhenSomethingMoves(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Done(endHoles+"/release", "by", "builder")
	v.Done(rails+"/moved", "what", "knocked")
	v.Sees(endHoles, "Not yet", "Missing evidence cannot be signed away", "6 readings are stale since (knocked): take them again", "6 readings are stale since (knocked)")
	v.Refused("", endHoles+"/release", "by", "builder", "reason", "I am sure", "answered_by", "inspector", "answer", "go on")
	v.Sees(rails, "Not yet", "stale", "<s>50.5</s>")
	v.Sees("/", "Tailplane: read L1, height again", "stale since knocked")
	v.Refused("what was it? Choose one of the list", rails+"/moved", "what", "sneezed")
}

func TestHeldOffIsAStopUntilSomeoneWithAuthorityAnswers(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	check := demo.Check("tailplane on rails", 1)
	v.Done(rails+"/held", "check", check, "held", "jig")
	v.Sees(rails+"?check="+check, "<b>Stop</b>", "Raise the tip rear support 4.2 mm", "if the surface is held down to the rails, say so")
	v.Done(rails+"/held", "check", check, "held", "no")
	v.Sees(rails+"?check="+check, "<b>Stop</b>", "Do not drill", "if the surface is held down to the rails, say so") // what is stiff no support moves
	v.Sees(endHoles, "<b>Stop</b>", "No reason of your own releases it")
	v.Refused("who with authority answered", endHoles+"/release", "by", "builder", "reason", "it will do")
	v.Done(endHoles+"/release", "by", "builder", "answered_by", "kit maker", "answer", "accept <0.4°", "answered", "3 May", "document", "letter 12")
	v.Sees("/assemblies/"+demo.ID("tailplane"), "Disposition, kept for ever", "accept &lt;0.4°")
	v.Sees("/log", "kit maker answered 3 May: accept &lt;0.4° · kept: letter 12")
	v.Done(rails+"/held", "check", check, "held", "yes")
	v.Sees(rails+"?check="+check, "<b>Go</b>", "Record it when it is done")
	v.Refused("only a surface measured for twist", rails+"/held", "check", demo.Check("tailplane on rails", 0), "held", "yes")
}

func TestAReadingIsTakenBackWithAReason(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	check := demo.Check("tailplane on rails", 1)
	v.Done(rails+"/readings", "check", check, "number", "1", "text", "0.06 up", "instrument", demo.ID("level 2"), "stay", "yes")
	first := v.Last
	v.Sees(rails+"?check="+check+"&spot=1", "2 placings", "<em>covered</em>", "show the first")
	v.Sees(rails+"?check="+check+"&spot=1&shown=yes", "2 placings", "All readings of left tip, angle (2)", "0.055°")
	v.Refused("why is it taken back?", rails+"/take-back", "check", check, "number", "1", "reading", first, "reason", "bored")
	v.Done(rails+"/take-back", "check", check, "number", "1", "reading", first, "reason", "misread")
	v.Sees(rails+"?check="+check+"&spot=1&shown=yes", "<s>0.06 up</s>", "taken back: misread")
	v.Refused("taken back already", rails+"/take-back", "check", check, "number", "1", "reading", first, "reason", "misread")
	status, _ := v.Send(rails+"/take-back", "check", check, "number", "1", "reading", "nothing", "reason", "misread")
	assert.Equal(t, http.StatusNotFound, status)
}

func TestALevelIsProvenAndItsZeroApplied(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees("/instruments", "zero −0.05°", "28 April 10:00", "zero −0.04°, today 08:00")
	test := "/instruments/" + demo.ID("level 1") + "/test"
	v.Refused("nothing is typed", test, "first", "", "turned", "0.1")
	v.Refused("hardly meant", test, "first", "0.4", "turned", "89")
	_, body := v.Send(test, "first", "0.1 up", "turned", "wrong")
	assert.Contains(t, body, `value="0.1 up"`, "what was typed is kept")
	v.Done(test, "first", "0.10", "turned", "-0.18")
	v.Sees("/instruments", "zero −0.04°, today 10:00", "Each proof")
	v.Sees("/log", "level 1 turned end for end: zero −0.04°")
	v.Refused("only a level", "/instruments/"+demo.ID("laser")+"/test", "first", "1", "turned", "1")

	v.Refused("there is one of that name already", "/instruments", "name", "level 1", "sort", "level", "resolution", "0.1")
	v.Refused("the smallest step it shows", "/instruments", "name", "box level", "sort", "level")
	v.Refused("cannot be negative", "/instruments", "name", "box level", "sort", "level", "resolution", "-0.1")
	v.Refused("Choose one of the list", "/instruments", "name", "box level", "sort", "weight", "resolution", "1")
	v.Done("/instruments", "name", "box level", "sort", "level", "resolution", "0.1°")
	v.Sees("/instruments", "box level", "not known", "now, never proven")
}

func TestTheLogIsReadBackwardsPageByPage(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	for i := range 60 {
		v.Done(rails+"/readings", "check", demo.Check("tailplane on rails", 1), "number", "1", "text", fmt.Sprintf("0.%02d", i), "instrument", demo.ID("level 2"))
	}
	body := v.Get("/log").Body.String()
	require.Contains(t, body, "Older entries")
	older := body
	for range 9 {
		_, rest, more := strings.Cut(older, `href="/log?before=`)
		if !more {
			break
		}
		before, _, _ := strings.Cut(rest, `"`)
		older = v.Get("/log?before=" + before).Body.String()
	}
	assert.Contains(t, older, "instrument added: level 1")
	assert.NotContains(t, older, "Older entries")
	assert.Equal(t, http.StatusOK, v.Get("/log?before=nonsense").Code)
	require.Equal(t, http.StatusSeeOther, v.Post("/log/check", nil, false).Code)
	require.Eventually(t, func() bool { return strings.Contains(v.Get("/log").Body.String(), "entries hold") }, 20*time.Second, 50*time.Millisecond)
}

func TestTheEmptyStatesSayWhatToDo(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Done("/airframes", "name", "Third", "unit", "in", "description", "")
	frame := v.Last
	v.Sees("/airframes/"+frame, "Nothing is drawn yet", "No setup is waiting", "Nothing is held")
	v.Done("/airframes/"+frame+"/assemblies", "name", "Rudder", "form", "fin", "fin.chord", "1 ft", "fin.rise", "4' 3 1/2\"")
	v.Sees("/assemblies/"+v.Last, "It has not been in a setup yet", "No hold stands before it", "Fin", "Another assembly")
	v.Refused("there is one of that name already", "/airframes/"+frame+"/assemblies", "name", "Rudder", "form", "fin", "fin.chord", "1", "fin.rise", "1")
	v.Refused("there is one of that name already", "/airframes", "name", "Third", "unit", "mm")
	v.Refused("what is the aircraft called?", "/airframes", "name", " ", "unit", "mm")
}

func TestCautionsFitTheStep(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Done("/holds/"+demo.HoldOf("mount pads")+"/release", "by", "builder", "answered_by", "designer", "answer", "shim it, then go on", "answered", "3 May", "document", "a mail")
	v.Sees("/holds/"+demo.HoldOf("mount pads"), "Goggles")
}

func TestAnInstrumentsSpreadAndOffsetAreFoundOnItsSheet(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	proofs := "/instruments/" + demo.ID("rule") + "/proofs"
	v.Sees("/instruments", "known length, 28 April", "by 25 October 2026", "above the chord line", "0.40 up")
	v.Refused("nothing is typed", proofs, "what", "spread", "spread1", "10", "spread2", "10.5", "spread3", "10", "spread4", "10.5")
	v.Done(proofs, "what", "spread", "spread1", "10", "spread2", "10.5", "spread3", "10", "spread4", "10.5", "spread5", "10", "spread6", "10", "spread7", "10.5", "spread8", "10", "spread9", "10.5", "spread10", "10")
	v.Done(proofs, "what", "offset", "offset1", "300", "offset2", "300.5")
	v.Sees("/instruments", "0.30 mm", "ten placings, today", "0.75 mm", "known length, today", "Each proof")
	v.Refused("what is to be proven", proofs, "what", "age")
	v.Sees("/log", "600 mm rule: spread found to be 0.26 mm", "10, 10.5, 10, 10.5, 10")
}

func TestACheckIsJudgedAsItsSheetSays(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	sheet := "/setups/" + demo.ID("fin upright") + "/checks/" + demo.Check("fin upright", 0)
	v.Sees(sheet, `value="-0.10"`, "as the airframe has it: guarded", "zero it by shims")
	v.Refused("not a", sheet, "name", "Lean", "low.lean", "wide", "high.lean", "0.1")
	v.Sees("/setups/"+demo.ID("fin upright"), "Unsure")
	v.Done(sheet, "name", "Lean", "low.lean", "-0.10", "high.lean", "0.10", "school.limits", "plain")
	v.Sees("/setups/"+demo.ID("fin upright"), "Lean", "Go")
	status, _ := v.Send("/setups/"+demo.ID("fin upright")+"/checks/none", "name", "x")
	assert.Equal(t, http.StatusNotFound, status)

	spar := "/setups/" + demo.ID("spar left") + "/checks/" + demo.Check("spar left", 0)
	v.Refused("used twice", spar+"/points", "point.name", "root", "point.x", "500")
	v.Done(spar+"/points", "point.name", "rib 6", "point.x", "3050")
	v.Sees("/setups/"+demo.ID("spar left"), "rib 6", "4 of 5", "Read rib 6")
}

func TestOneMoreCheckIsAddedToASetup(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees("/setups/"+demo.ID("fin upright")+"/checks/new", "A length against the plans", "Is it the mirror of the other?")
	v.Sees("/setups/"+demo.ID("fin upright")+"/checks/new?kind=level", "Span between the tips", "the hold of this setup asks for it")
	add := "/setups/" + demo.ID("fin upright") + "/checks"
	v.Refused("a number is missing", add, "kind", "level", "name", "Level", "0.take", "yes", "0.span", "wide")
	v.Refused("has low above high", add, "kind", "level", "name", "Level", "0.take", "yes", "0.span", "2880", "0.low.roll", "1", "0.high.roll", "-1")
	v.Done(add, "kind", "level", "name", "Level", "0.take", "yes", "0.span", "2880", "for_hold", "yes")
	v.Sees("/setups/"+demo.ID("fin upright"), "0 of 2", "Level")
	v.Done(add, "kind", "shim-stack", "name", "Shims", "0.take", "yes", "0.needed", "1.9", "0.stock", "0.3; 1.6")
	v.Sees("/setups/"+demo.ID("fin upright")+"?check="+v.SetupOf(demo.ID("fin upright")).Checks[2].ID, "1.6 &#43; 0.3 mm", "the nearest stack")
	status, _ := v.Send(add, "kind", "weather", "name", "x")
	assert.Equal(t, http.StatusNotFound, status)
}

func TestAfterTheStepTheHoldOffersTheSameOnceMore(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Refused("not done yet", "/holds/"+demo.HoldOf("spar left")+"/after")
	v.Done("/holds/"+demo.HoldOf("spar left")+"/step", "by", "builder")
	v.Sees("/holds/"+demo.HoldOf("spar left"), "Measure Straightness of the cap once more")
	v.Sees("/setups/"+demo.ID("spar left"), "Measure once more after the step")
	v.Done("/holds/" + demo.HoldOf("spar left") + "/after")
	for i, text := range []string{"15", "15.5", "15.5", "15"} {
		v.Done("/setups/"+demo.ID("spar left")+"/readings", "check", v.SetupOf(demo.ID("spar left")).Checks[1].ID, "number", fmt.Sprint(i+1), "text", text, "instrument", demo.ID("rule"), "condition", "riveted")
	}
	v.Sees("/setups/"+demo.ID("spar left")+"?check="+v.SetupOf(demo.ID("spar left")).Checks[1].ID, "after the step", "before: bow at rib 8 &#43;1.0 ± ", "changed by −0.5 ± ")
}

func TestAnAirframeChoosesItsSchools(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees("/", "How this airframe is built", "make the bench true")
	v.Refused("choose one of the two", "/airframes/"+demo.ID("samphire")+"/schools", "school.limits", "strict")
	v.Done("/airframes/"+demo.ID("samphire")+"/schools", "school.limits", "plain", "school.reference", "zeroed")
	v.Sees("/setups/"+demo.ID("fin upright"), "the reference is not at zero", "Shim the reference level")
	v.Sees("/log", "limits: plain")
}

func TestALevelHeldTheOtherWayRoundIsDrawnAndKept(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees("/setups/"+demo.ID("fin upright")+"?spot=3&turned=true&turning=yes&text=3.1", "turned round now", `value="3.1"`)
	v.Refused("the other way round", "/setups/"+demo.ID("fin upright")+"/readings", "check", demo.Check("fin upright", 0), "number", "3", "text", "3.14", "instrument", demo.ID("level 2"), "turned", "true")
	v.Done("/setups/"+demo.ID("fin upright")+"/readings", "check", demo.Check("fin upright", 0), "number", "3", "text", "3.14", "instrument", demo.ID("level 2"), "turned", "true", "in_place", "misread")
	v.Sees("/setups/"+demo.ID("fin upright"), "right face, turned")
}

func TestTheAnswerNamesItsWeakReadingAndWhatItLacks(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees(rails, "Most of the doubt", "how level 2 repeats (96 %)", "2 more placings of level 2 at each place, lifted off and set a little beside", "The reading that weighs most")
	v.Sees("/setups/"+demo.ID("brackets"), "the right bracket stands 0.80 mm higher; 0.36 mm would be allowed")
	v.Sees("/setups/"+demo.ID("aileron rib"), "it is of the same hand as the other", "Do not rivet", "the part in question")
	v.Done("/instruments", "name", "level 9", "sort", "level", "resolution", "0.01")
	id := v.Last
	v.Done("/setups/"+demo.ID("fin upright")+"/readings", "check", demo.Check("fin upright", 0), "number", "1", "text", "0.00", "instrument", id, "in_place", "other instrument")
	v.Sees("/setups/"+demo.ID("fin upright"), "Level 9 has no spread: place it ten times on one spot", `href="/instruments"`)
}

func TestAJoinNamesItsSuspectAndIsMended(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees("/joins", "Tailplane", "joined to the boom", "Foreplane")
	join := "/setups/" + demo.ID("tailplane join")
	v.Sees(join, "Take firewall to tip R again", "it does not fit the others by", "does not fit the others by −2", "tape suspect", "fits to", `aria-current="true">Joins`)
	v.Done(join+"/readings", "check", demo.Check("tailplane join", 0), "number", "6", "text", "5922", "instrument", demo.ID("steel tape"), "in_place", "misread")
	v.Sees(join, "Go", "roll, right side low", "Most of the doubt", "displacement drawn")
	v.Sees(join+"/worksheet.json", `"kind": "pose"`, `"5922"`)
}

func TestWhatAJoinDoesNotSeeIsNamedAndReadNext(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	join, check := "/setups/"+demo.ID("foreplane join"), "/setups/"+demo.ID("foreplane join")+"/checks/"+demo.Check("foreplane join", 0)
	v.Sees(join, "not seen", "Nothing that was read shows yaw", "Read the distance tail hook to tip R too", "yaw is then known to", "tape next")
	v.Sees(check+"?type=distance&from=tail+hook&to=tip+R", "One more reading", "<option selected>distance</option>", "<option selected>tail hook</option>")
	v.Refused("is missing", check+"/points", "point.type", "", "point.from", "tail hook", "point.to", "tip R")
	v.Refused("both points are on the airframe", check+"/points", "point.type", "height", "point.from", "tail hook", "point.to", "nose")
	v.Done(check+"/points", "point.type", "distance", "point.from", "tail hook", "point.to", "tip R")
	v.Sees(join, "Read tail hook to tip R", "one reading to go")
	v.Done(join+"/readings", "check", demo.Check("foreplane join", 0), "number", "7", "text", "3886", "instrument", demo.ID("steel tape"))
	body := v.Get(join).Body.String()
	assert.False(t, strings.Contains(body, "not seen"))
}

func TestAJoinIsPlannedAndBegun(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	form := "/assemblies/" + demo.ID("tailplane") + "/usual/join"
	v.Sees(form, `value="centre fuselage L"`, `value="-560 mm"`, `value="R rear"`, `value="6100 mm"`, "Plan the readings")
	fields := []string{"name", "on the airframe", "0.take", "yes", "0.datum", "nose; 0; 0; 300\nsill L; 1800; -520; 420\nsill R; 1800; 520; 420", "0.points", "tip L; 5560; -1440; 1740\ntip R; 5560; 1440; 1740\naft; 5830; 0; 1724", "0.pivot", "5480; 0; 1730", "0.level", "is read too",
		"0.attach", "front; 5480; 0; 1730; fixed\nrear; 5830; 0; 1724; up", "0.low.yaw", "-0.1", "0.high.yaw", "0.1", "0.datum_u", "0.2", "0.points_u", "0.2"}
	with := func(more ...string) []string { return append(append([]string{}, fields...), more...) }
	status, body := v.Send(form, with("plan", "yes")...)
	assert.Equal(t, http.StatusOK, status)
	assert.True(t, strings.Contains(body, "the fewest readings that would decide it") && strings.Contains(body, `value="distance"`), "a plan is shown")
	v.Refused("a plan is made for limits", form, with("plan", "yes", "0.low.yaw", "", "0.high.yaw", "")...)
	v.Refused("&#34;sideways&#34; is not one of", form, with("0.attach", "front; 5480; 0; 1730; sideways")...)
	v.Refused("no point is called", form, with("0.readings", "distance; nose; nowhere")...)
	v.Done(form, with("0.readings", "distance; nose; tip L\ndistance; nose; tip R\nheight; sill L; tip R\noffset; ; aft; y")...)
	id := v.Last
	v.Sees("/setups/"+id, "airframe, across", "nose to tip L", "tip R above sill L", "aft, butt line", "0 of 6")
	for number, text := range map[int]string{1: "0.1 R", 2: "0.2 up", 3: "5921", 4: "5925", 5: "1320", 6: "0"} {
		in := demo.ID("steel tape")
		if number < 3 {
			in = demo.ID("level 2")
		}
		v.Done("/setups/"+id+"/readings", "check", ledger.Child(id, "check 0"), "number", fmt.Sprint(number), "text", text, "instrument", in, "as_measured", "true")
	}
	v.Sees("/setups/"+id, "Unsure")
}

func TestWhatMayBeMovedIsChosenOnTheChecksSheet(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	join, sheet := "/setups/"+demo.ID("tailplane join"), "/setups/"+demo.ID("tailplane join")+"/checks/"+demo.Check("tailplane join", 0)
	v.Done(join+"/readings", "check", demo.Check("tailplane join", 0), "number", "6", "text", "5922", "instrument", demo.ID("steel tape"), "in_place", "misread")
	v.Sees(sheet, "What may be moved", `name="may.bracket L"`)
	limits := []string{"name", "Join", "low.roll", "-0.1", "high.roll", "0.1", "low.pitch", "-0.15", "high.pitch", "0.15", "low.yaw", "-0.1", "high.yaw", "0.1"}
	v.Refused("is not one of", sheet, append(limits, "may.bracket L", "sideways")...)
	v.Done(sheet, append(limits, "may.bracket L", "fixed", "may.bracket R", "up")...)
	v.Sees(sheet, "<option selected>fixed</option>", "<option selected>up</option>")
	v.Sees(join, "after the moves that may be made: roll", "yaw")
	v.Sees("/log", "bracket L fixed · bracket R up")
	v.Sees(join+"/worksheet.json", `"may": "fixed"`)
}

func TestAHeldSurfaceOnATruedBenchIsStillShownAsHeld(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees(rails, "held down to its supports, touching each · steady")
	v.Done(rails+"/checks/"+demo.Check("tailplane on rails", 1), "name", "Twist", "low.twist", "-0.10", "high.twist", "0.10", "school.bench", "trued")
	v.Sees(rails, "held down to its supports, touching each and made true", "Stop", "&#43;0.34°")
	body := v.Get(rails).Body.String()
	assert.False(t, strings.Contains(body, "if the surface is held down"), "that is said already")
	v.Sees("/holds/"+demo.HoldOf("tailplane on rails"), "no limit is set, so there is no verdict")
}

func TestSeveralSurfacesArePlannedAndMovedAsTheyMay(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	form := "/assemblies/" + demo.ID("fin") + "/usual/joins"
	fields := []string{"name", "on the boom", "0.take", "yes", "0.datum", "firewall; 0; 0; 300\nsill L; 1800; -520; 420\nsill R; 1800; 520; 420\nboom end; 5250; 0; 420", "0.pivots", "fin; 4800; 0; 430\ntailplane; 5480; 0; 1730",
		"0.points", "fin foot; 4800; 0; 430; fin\nfin top; 5480; 0; 1730; fin\nfin rear; 5400; 40; 900; fin\npin; 5480; 0; 1730; tailplane\ntip L; 5560; -1440; 1740; tailplane\ntip R; 5560; 1440; 1740; tailplane\naft L; 5830; -500; 1724; tailplane",
		"0.pins", "fin top; pin; 0.1", "0.level", "is true", "0.attach", "bracket R; 5480; 105; 1730; tailplane; up"}
	with := func(more ...string) []string { return append(append([]string{}, fields...), more...) }
	v.Refused("a plan is made for limits", form, with("plan", "yes")...)
	status, body := v.Send(form, with("plan", "yes", "0.bounds", "tailplane; yaw; -0.3; 0.3\ntailplane; roll; -0.2; 0.2")...)
	assert.Equal(t, http.StatusOK, status)
	assert.True(t, strings.Contains(body, "the fewest readings that would decide it"), site.Said(body))
	v.Refused("is missing", form, with("0.bounds", "rudder; yaw; -0.3; 0.3")...)
	v.Done(form, with("0.readings", "distance; firewall; tip L")...)
	sheet := "/setups/" + demo.ID("fin and tail join") + "/checks/" + demo.Check("fin and tail join", 0)
	v.Sees(sheet, `name="may.bracket L"`, `name="may.fin bolt"`, "<option selected>fixed</option>", "tailplane")
	v.Sees("/setups/"+demo.ID("fin and tail join"), "after the moves that may be made: fin roll")
}

// A bare limit is read in the airframe's unit, and its label says which.
func TestALimitsLabelSaysTheUnitOfABareFigure(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees("/setups/"+demo.ID("spar left")+"/checks/"+demo.Check("spar left", 0), "bow, a hump is plus, in mm")
	v.Done("/airframes", "name", "Inch kit", "unit", "in")
	frame := v.Last
	v.Done("/airframes/"+frame+"/assemblies", "name", "Stabilator", "form", "surface", "surface.inner", "-50", "surface.outer", "50", "surface.chord", "24", "surface.tip_chord", "24")
	assembly := v.Last
	v.Done("/assemblies/"+assembly+"/usual/other", "name", "on the bench", "2.take", "yes", "2.points", "left; 0\nmiddle; 20\nright; 40", "2.low.bow", "-1/16", "2.high.bow", "1/16")
	setup := v.Last
	v.Sees("/setups/"+setup+"/checks/"+ledger.Child(setup, "check 0"), "bow, a hump is plus, in inches", `value="1/16"`)
}

func TestAStopIsReadOnceMoreBeforeAnythingIsMoved(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	v.Sees("/setups/"+demo.ID("mount pads"), "Stop", "Read it once more before anything is moved.")
}

// The other side of a part is one name and one press: its shape mirrored, what is assumed
// still assumed.
func TestTheOtherSideOfAPart(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	left := "/assemblies/" + demo.ID("aileron left")
	v.Sees(left, "mirrored, on the other side")
	v.Refused("what is the assembly called?", left+"/like", "name", " ", "side", "other")
	v.Done(left+"/like", "name", "Aileron, spare", "side", "other")
	one, err := v.Assembly(t.Context(), demo.ID("aileron left"))
	require.NoError(t, err)
	other, err := v.Assembly(t.Context(), v.Last)
	require.NoError(t, err)
	assert.Equal(t, one.Shape.Mirrored(), other.Shape)
	assert.Equal(t, -one.Shape.Inner, other.Shape.Inner)
	assert.Equal(t, one.Part, other.Part)
}

// A second hold before the same step is asked about where it is put, and made where these are other
// holes.
func TestASecondHoldBeforeTheSameStepIsAskedAbout(t *testing.T) {
	t.Parallel()
	v := site.Demo(t)
	boom := "/assemblies/" + demo.ID("tail boom")
	fields := []string{"name", "Rivet the hatch frame", "step", "rivet", "permanent", "the frame of the hatch", "why", "It carries the hinge."}
	v.Refused(`name="same" value="others"`, boom+"/holds", fields...)
	v.Done(boom+"/holds", append(fields, "same", "others")...)
	v.Sees(boom, "Rivet the hatch frame")
}
