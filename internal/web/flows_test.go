package web

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/hold"
)

const endHoles = "/holds/tailplane-on-rails-demo-hold"

// visitor fills in forms one after the other, each with an id of its own.
type visitor struct {
	t    *testing.T
	h    http.Handler
	next int
}

func visit(t *testing.T) *visitor {
	h, _ := shop(t)
	return &visitor{t: t, h: h}
}

func (v *visitor) send(path string, fields ...string) (status int, body string) {
	v.next++
	form := url.Values{"id": {fmt.Sprintf("visitor-%03d", v.next)}}
	for i := 0; i < len(fields); i += 2 {
		form.Set(fields[i], fields[i+1])
	}
	w := post(v.h, path, form, false)
	return w.Code, w.Body.String()
}

// sees asserts that a page shows all of these.
func (v *visitor) sees(path string, texts ...string) {
	v.t.Helper()
	body := get(v.h, path).Body.String()
	for _, text := range texts {
		assert.True(v.t, strings.Contains(body, text), "%s shows %q", path, text)
	}
}

// done sends a form that is taken.
func (v *visitor) done(path string, fields ...string) {
	v.t.Helper()
	status, _ := v.send(path, fields...)
	require.Equal(v.t, http.StatusSeeOther, status, path)
}

// refused sends a form that is refused with this text.
func (v *visitor) refused(says, path string, fields ...string) {
	v.t.Helper()
	status, body := v.send(path, fields...)
	assert.Equal(v.t, http.StatusUnprocessableEntity, status, path)
	assert.True(v.t, strings.Contains(body, says), "%s says %q and not: %s", path, says, said(body))
}

// said are the problems that a page shows.
func said(body string) string {
	var out []string
	for _, part := range strings.Split(body, `role="alert">`)[1:] {
		text, _, _ := strings.Cut(part, "<")
		out = append(out, text)
	}
	return strings.Join(out, "; ")
}

func TestAHoldIsReleasedSpentAndShown(t *testing.T) {
	v := visit(t)
	v.sees(endHoles, "Ready", "What must be shown", "The plans, the kit maker, the inspector and local rules prevail")
	v.refused("there is no release that stands", endHoles+"/step", "by", "builder")
	v.refused("a release carries a name", endHoles+"/release", "by", " ")
	v.done(endHoles+"/release", "by", "builder")
	v.sees(endHoles, "Released", "Record it when it is done", "no gloves near rotating tools", "If anything moves before it is done")
	v.refused("it is released already", endHoles+"/release", "by", "helper")
	v.refused("who did it?", endHoles+"/step", "by", "", "note", "kept as typed")
	_, body := v.send(endHoles+"/step", "by", "", "note", "kept as typed")
	assert.Contains(t, body, "kept as typed</textarea>")
	v.done(endHoles+"/step", "by", "builder", "note", "3/32 in")
	v.sees(endHoles, "<b>Done</b>", "Measure once more", "spent", "3/32 in")
	v.sees("/log", "done, Drill the tailplane&#39;s end holes", "by", "evidence met")
	v.sees("/", "permanent · the two end holes at each tip")
	v.sees("/holds", "done")
}

func TestAReleaseLapsesWhenSomethingMoves(t *testing.T) {
	v := visit(t)
	v.done(endHoles+"/release", "by", "builder")
	v.done(rails+"/moved", "what", "knocked")
	v.sees(endHoles, "Not yet", "Missing evidence cannot be signed away", "lapsed: knocked", "6 readings are stale since (knocked)")
	v.refused("", endHoles+"/release", "by", "builder", "reason", "I am sure", "answered_by", "inspector", "answer", "go on")
	v.sees(rails, "Not yet", "stale", "<s>50.5</s>")
	v.sees("/", "Tailplane: read L1, height again", "stale since knocked")
	v.refused("what was it? Choose one of the list", rails+"/moved", "what", "sneezed")
}

func TestHeldOffIsAStopUntilSomeoneWithAuthorityAnswers(t *testing.T) {
	v := visit(t)
	check := "tailplane-on-rails-demo-check-1"
	v.done(rails+"/held", "check", check, "held", "no")
	v.sees(rails+"?check="+check, "<b>Stop</b>", "Raise the tip rear support 4.2 mm", "if the surface is held down to the rails, say so")
	v.sees(endHoles, "<b>Stop</b>", "No reason of your own releases it")
	v.refused("who with authority answered", endHoles+"/release", "by", "builder", "reason", "it will do")
	v.done(endHoles+"/release", "by", "builder", "answered_by", "kit maker", "answer", "accept <0.4°", "answered", "3 May", "document", "letter 12")
	v.sees("/assemblies/tailplane-demo", "Disposition, kept for ever", "accept &lt;0.4°")
	v.sees("/log", "kit maker answered 3 May: accept &lt;0.4° · kept: letter 12")
	v.done(rails+"/held", "check", check, "held", "yes")
	v.sees(rails+"?check="+check, "<b>Go</b>", "Record it when it is done")
	v.refused("only a surface measured for twist", rails+"/held", "check", "tailplane-on-rails-demo-check-0", "held", "yes")
}

func TestAReadingIsTakenBackWithAReason(t *testing.T) {
	v := visit(t)
	check := "tailplane-on-rails-demo-check-1"
	v.done(rails+"/readings", "check", check, "number", "1", "text", "0.06 up", "instrument", "level-2-demo", "stay", "yes")
	v.sees(rails+"?check="+check+"&spot=1", "2 placings", "All readings of left tip, angle (2)", "0.055°")
	v.refused("why is it taken back?", rails+"/take-back", "check", check, "number", "1", "reading", "visitor-001", "reason", "bored")
	v.done(rails+"/take-back", "check", check, "number", "1", "reading", "visitor-001", "reason", "misread")
	v.sees(rails+"?check="+check+"&spot=1", "<s>0.06 up</s>", "taken back: misread")
	v.refused("taken back already", rails+"/take-back", "check", check, "number", "1", "reading", "visitor-001", "reason", "misread")
	status, _ := v.send(rails+"/take-back", "check", check, "number", "1", "reading", "nothing", "reason", "misread")
	assert.Equal(t, http.StatusNotFound, status)
}

func TestALevelIsProvenAndItsZeroApplied(t *testing.T) {
	v := visit(t)
	v.sees("/instruments", "zero −0.05°", "28 April 10:00", "zero −0.04°, today 08:00")
	test := "/instruments/level-1-demo/test"
	v.refused("nothing typed", test, "first", "", "turned", "0.1")
	v.refused("hardly meant", test, "first", "0.4", "turned", "89")
	_, body := v.send(test, "first", "0.1 up", "turned", "wrong")
	assert.Contains(t, body, `value="0.1 up"`, "what was typed is kept")
	v.done(test, "first", "0.10", "turned", "-0.18")
	v.sees("/instruments", "zero −0.04°, today 10:00", "Proofs before")
	v.sees("/log", "level 1 turned end for end: zero −0.04°")
	v.refused("only a level", "/instruments/laser-demo/test", "first", "1", "turned", "1")

	v.refused("there is one of that name already", "/instruments", "name", "level 1", "sort", "level", "resolution", "0.1")
	v.refused("the smallest step it shows", "/instruments", "name", "box level", "sort", "level")
	v.refused("cannot be negative", "/instruments", "name", "box level", "sort", "level", "resolution", "-0.1")
	v.refused("Choose one of the list", "/instruments", "name", "box level", "sort", "weight", "resolution", "1")
	v.done("/instruments", "name", "box level", "sort", "level", "resolution", "0.1°")
	v.sees("/instruments", "box level", "not known", "now, never proven")
}

func TestTheLogIsReadBackwardsPageByPage(t *testing.T) {
	v := visit(t)
	for i := range 60 {
		v.done(rails+"/readings", "check", "tailplane-on-rails-demo-check-1", "number", "1", "text", fmt.Sprintf("0.%02d", i), "instrument", "level-2-demo")
	}
	body := get(v.h, "/log").Body.String()
	require.Contains(t, body, "Older entries")
	older := body
	for range 9 {
		_, rest, more := strings.Cut(older, `href="/log?before=`)
		if !more {
			break
		}
		before, _, _ := strings.Cut(rest, `"`)
		older = get(v.h, "/log?before="+before).Body.String()
	}
	assert.Contains(t, older, "instrument added: level 1")
	assert.NotContains(t, older, "Older entries")
	assert.Equal(t, http.StatusOK, get(v.h, "/log?before=nonsense").Code)
	v.sees("/log?check=yes", "entries hold.")
}

func TestTheEmptyStatesSayWhatToDo(t *testing.T) {
	v := visit(t)
	v.done("/airframes", "name", "Third", "unit", "in", "description", "")
	v.sees("/airframes/visitor-001", "Nothing is drawn yet", "No setup is waiting", "Nothing is held")
	v.done("/airframes/visitor-001/assemblies", "name", "Rudder", "form", "fin", "chord", "1 ft", "rise", "4' 3 1/2\"")
	v.sees("/assemblies/visitor-002", "It has not been in a setup yet", "No hold stands before it", "Main spar", "Another assembly")
	v.refused("there is one of that name already", "/airframes/visitor-001/assemblies", "name", "Rudder", "form", "fin", "chord", "1", "rise", "1")
	v.refused("there is one of that name already", "/airframes", "name", "Third", "unit", "mm")
	v.refused("what is the aircraft called?", "/airframes", "name", " ", "unit", "mm")
}

func TestCautionsFitTheStep(t *testing.T) {
	for _, step := range hold.Steps {
		assert.NotEmpty(t, cautions[step], step)
	}
	v := visit(t)
	v.done("/holds/mount-pads-demo-hold/release", "by", "builder", "answered_by", "designer", "answer", "shim it, then go on", "answered", "3 May", "document", "a mail")
	v.sees("/holds/mount-pads-demo-hold", "Goggles")
	assert.Equal(t, "go on", deedOf(nil))
}

func TestAnInstrumentsSpreadAndOffsetAreFoundOnItsSheet(t *testing.T) {
	v := visit(t)
	proofs := "/instruments/rule-demo-600/proofs"
	v.sees("/instruments", "known length, 28 April", "by 25 October 2026", "above the chord line", "0.40 up")
	v.refused("nothing typed", proofs, "what", "spread", "spread1", "10", "spread2", "10.5", "spread3", "10", "spread4", "10.5")
	v.done(proofs, "what", "spread", "spread1", "10", "spread2", "10.5", "spread3", "10", "spread4", "10.5", "spread5", "10")
	v.done(proofs, "what", "offset", "offset1", "300", "offset2", "300.5")
	v.sees("/instruments", "0.273861 mm", "five placings, today", "0.75 mm", "known length, today", "Proofs before")
	v.refused("what is to be proven", proofs, "what", "age")
	v.sees("/log", "600 mm rule: spread found to be 0.27 mm", "10, 10.5, 10, 10.5, 10")
}

func TestACheckIsJudgedAsItsSheetSays(t *testing.T) {
	v := visit(t)
	sheet := "/setups/fin-upright-demo/checks/fin-upright-demo-check-0"
	v.sees(sheet, `value="-0.10"`, "as the airframe has it: guarded", "zero it by shims")
	v.refused("not a", sheet, "name", "Lean", "low.lean", "wide", "high.lean", "0.1")
	v.sees("/setups/fin-upright-demo", "Unsure")
	v.done(sheet, "name", "Lean", "low.lean", "-0.10", "high.lean", "0.10", "school.limits", "plain")
	v.sees("/setups/fin-upright-demo", "Lean", "Go")
	status, _ := v.send("/setups/fin-upright-demo/checks/none", "name", "x")
	assert.Equal(t, http.StatusNotFound, status)

	spar := "/setups/spar-left-demo/checks/spar-left-demo-check-0"
	v.refused("used twice", spar+"/points", "point.name", "root", "point.x", "500")
	v.done(spar+"/points", "point.name", "rib 6", "point.x", "3050")
	v.sees("/setups/spar-left-demo", "rib 6", "4 of 5", "Read rib 6")
}

func TestOneMoreCheckIsAddedToASetup(t *testing.T) {
	v := visit(t)
	v.sees("/setups/fin-upright-demo/checks/new", "A length against the plans", "Is it the mirror of the other?")
	v.sees("/setups/fin-upright-demo/checks/new?kind=level", "Span between the tips", "the hold of this setup asks for it")
	add := "/setups/fin-upright-demo/checks"
	v.refused("a number is missing", add, "kind", "level", "name", "Level", "0.take", "yes", "0.span", "wide")
	v.refused("has low above high", add, "kind", "level", "name", "Level", "0.take", "yes", "0.span", "2880", "0.low.roll", "1", "0.high.roll", "-1")
	v.done(add, "kind", "level", "name", "Level", "0.take", "yes", "0.span", "2880", "for_hold", "yes")
	v.sees("/setups/fin-upright-demo", "0 of 2", "Level")
	v.done(add, "kind", "shim-stack", "name", "Shims", "0.take", "yes", "0.needed", "1.9", "0.stock", "0.3; 1.6")
	v.sees("/setups/fin-upright-demo?check=fin-upright-demo-check-2", "1.6 &#43; 0.3 mm", "the nearest stack")
	status, _ := v.send(add, "kind", "weather", "name", "x")
	assert.Equal(t, http.StatusNotFound, status)
}

func TestAfterTheStepTheHoldOffersTheSameOnceMore(t *testing.T) {
	v := visit(t)
	v.refused("not done yet", "/holds/spar-left-demo-hold/after")
	v.done("/holds/spar-left-demo-hold/step", "by", "builder")
	v.sees("/holds/spar-left-demo-hold", "Measure Straightness of the cap once more")
	v.sees("/setups/spar-left-demo", "Measure once more after the step")
	v.done("/holds/spar-left-demo-hold/after")
	for i, text := range []string{"15", "15.5", "15.5", "15"} {
		v.done("/setups/spar-left-demo/readings", "check", "spar-left-demo-check-1", "number", fmt.Sprint(i+1), "text", text, "instrument", "rule-demo-600", "condition", "riveted")
	}
	v.sees("/setups/spar-left-demo?check=spar-left-demo-check-1", "after the step", "before: bow at rib 8 &#43;1.0 mm", "changed by −0.5 mm")
}

func TestAnAirframeChoosesItsSchools(t *testing.T) {
	v := visit(t)
	v.sees("/", "How this airframe is built", "make the bench true")
	v.refused("choose one of the two", "/airframes/samphire-s2-demo/schools", "school.limits", "strict")
	v.done("/airframes/samphire-s2-demo/schools", "school.limits", "plain", "school.reference", "zeroed")
	v.sees("/setups/fin-upright-demo", "the reference is not at zero", "Shim the reference level")
	v.sees("/log", "limits: plain")
}

func TestALevelHeldTheOtherWayRoundIsDrawnAndKept(t *testing.T) {
	v := visit(t)
	v.sees("/setups/fin-upright-demo?spot=3&turned=yes&turning=yes&text=3.1", "turned round now", `value="3.1"`)
	v.refused("the other way round", "/setups/fin-upright-demo/readings", "check", "fin-upright-demo-check-0", "number", "3", "text", "3.14", "instrument", "level-2-demo", "turned", "yes")
	v.done("/setups/fin-upright-demo/readings", "check", "fin-upright-demo-check-0", "number", "3", "text", "3.14", "instrument", "level-2-demo", "turned", "yes", "in_place", "misread")
	v.sees("/setups/fin-upright-demo", "right face, turned")
}

func TestTheAnswerNamesItsWeakReadingAndWhatItLacks(t *testing.T) {
	v := visit(t)
	v.sees(rails, "Most of the doubt", "left tip, angle (20 %)", "5 placings of each reading would halve the ±")
	v.sees("/setups/tailplane-brackets-demo", "the right bracket stands 0.80 mm higher; 0.36 mm would be allowed")
	v.sees("/setups/aileron-rib-demo", "it is of the same hand as the other", "Do not rivet", "the part in question")
	v.done("/instruments", "name", "level 9", "sort", "level", "resolution", "0.01")
	id := fmt.Sprintf("visitor-%03d", v.next)
	v.done("/setups/fin-upright-demo/readings", "check", "fin-upright-demo-check-0", "number", "1", "text", "0.00", "instrument", id, "in_place", "other instrument")
	v.sees("/setups/fin-upright-demo", "Level 9 has no spread: place it five times on one spot", `href="/instruments"`)
}

func TestAJoinNamesItsSuspectAndIsMended(t *testing.T) {
	v := visit(t)
	v.sees("/joins", "Tailplane", "joined to the boom", "Foreplane")
	join := "/setups/tailplane-join-demo"
	v.sees(join, "Take firewall to tip R again", "it does not fit the others by", "does not fit the others by −7.4 mm: take it again", "tape suspect", "fits to", `aria-current="page"><b>X</b>`)
	v.done(join+"/readings", "check", "tailplane-join-demo-check-0", "number", "6", "text", "5922", "instrument", "steel-tape-demo", "in_place", "misread")
	v.sees(join, "Go", "roll, right side low", "Most of the doubt", "displacement drawn")
	v.sees(join+"/worksheet.json", `"kind": "pose"`, `"5922"`)
}

func TestWhatAJoinDoesNotSeeIsNamedAndReadNext(t *testing.T) {
	v := visit(t)
	join, check := "/setups/foreplane-join-demo", "/setups/foreplane-join-demo/checks/foreplane-join-demo-check-0"
	v.sees(join, "not seen", "Nothing that was read shows yaw", "Read the distance tail hook to tip R too", "yaw is then known to", "tape next")
	v.sees(check+"?type=distance&from=tail+hook&to=tip+R", "One more reading", "<option selected>distance</option>", "<option selected>tail hook</option>")
	v.refused("is missing", check+"/points", "point.type", "", "point.from", "tail hook", "point.to", "tip R")
	v.refused("both points are on the airframe", check+"/points", "point.type", "distance", "point.from", "tail hook", "point.to", "nose")
	v.done(check+"/points", "point.type", "distance", "point.from", "tail hook", "point.to", "tip R")
	v.sees(join, "Read tail hook to tip R", "one reading to go")
	v.done(join+"/readings", "check", "foreplane-join-demo-check-0", "number", "7", "text", "3886", "instrument", "steel-tape-demo")
	body := get(v.h, join).Body.String()
	assert.False(t, strings.Contains(body, "not seen"))
}

func TestAJoinIsPlannedAndBegun(t *testing.T) {
	v := visit(t)
	form := "/assemblies/tailplane-demo/templates/join"
	v.sees(form, "centre fuselage L; 1240 mm; -560 mm; 400 mm", "R rear; 6100 mm; 1440 mm; 1745 mm", "Plan the readings")
	fields := []string{"name", "on the airframe", "0.take", "yes", "0.datum", "nose; 0; 0; 300\nsill L; 1800; -520; 420\nsill R; 1800; 520; 420", "0.points", "tip L; 5560; -1440; 1740\ntip R; 5560; 1440; 1740\naft; 5830; 0; 1724", "0.pivot", "5480; 0; 1730", "0.level", "is read too",
		"0.attach", "front; 5480; 0; 1730; fixed\nrear; 5830; 0; 1724; up", "0.low.yaw", "-0.1", "0.high.yaw", "0.1"}
	with := func(more ...string) []string { return append(append([]string{}, fields...), more...) }
	status, body := v.send(form, with("plan", "yes")...)
	assert.Equal(t, http.StatusOK, status)
	assert.True(t, strings.Contains(body, "the fewest readings that would decide it") && strings.Contains(body, "distance; "), "a plan is shown")
	v.refused("a plan is made for limits", form, with("plan", "yes", "0.low.yaw", "", "0.high.yaw", "")...)
	v.refused("&#34;sideways&#34; is not one of", form, with("0.attach", "front; 5480; 0; 1730; sideways")...)
	v.refused("no point is called", form, with("0.readings", "distance; nose; nowhere")...)
	v.done(form, with("0.readings", "distance; nose; tip L\ndistance; nose; tip R\nheight; sill L; tip R\noffset; ; aft; y")...)
	id := fmt.Sprintf("visitor-%03d", v.next)
	v.sees("/setups/"+id, "airframe, across", "nose to tip L", "tip R above sill L", "aft, butt line", "0 of 6")
	for number, text := range map[int]string{1: "0.1 R", 2: "0.2 up", 3: "5921", 4: "5925", 5: "1320", 6: "0"} {
		in := "steel-tape-demo"
		if number < 3 {
			in = "level-2-demo"
		}
		v.done("/setups/"+id+"/readings", "check", id+"-check-0", "number", fmt.Sprint(number), "text", text, "instrument", in, "as_measured", "yes")
	}
	v.sees("/setups/"+id, "Unsure")
}

func TestWhatMayBeMovedIsChosenOnTheChecksSheet(t *testing.T) {
	v := visit(t)
	join, sheet := "/setups/tailplane-join-demo", "/setups/tailplane-join-demo/checks/tailplane-join-demo-check-0"
	v.done(join+"/readings", "check", "tailplane-join-demo-check-0", "number", "6", "text", "5922", "instrument", "steel-tape-demo", "in_place", "misread")
	v.sees(sheet, "What may be moved", `name="may.bracket L"`)
	limits := []string{"name", "Join", "low.roll", "-0.1", "high.roll", "0.1", "low.pitch", "-0.15", "high.pitch", "0.15", "low.yaw", "-0.1", "high.yaw", "0.1"}
	v.refused("is not one of", sheet, append(limits, "may.bracket L", "sideways")...)
	v.done(sheet, append(limits, "may.bracket L", "fixed", "may.bracket R", "up")...)
	v.sees(sheet, "<option selected>fixed</option>", "<option selected>up</option>")
	v.sees(join, "after the moves that may be made: roll", "yaw")
	v.sees("/log", "bracket L fixed · bracket R up")
	v.sees(join+"/worksheet.json", `"may": "fixed"`)
}

func TestAHeldSurfaceOnATruedBenchIsStillShownAsHeld(t *testing.T) {
	v := visit(t)
	v.sees(rails, "held down to its supports · steady")
	v.done(rails+"/checks/tailplane-on-rails-demo-check-1", "name", "Twist", "low.twist", "-0.10", "high.twist", "0.10", "school.bench", "trued")
	v.sees(rails, "held down to its supports, which are made true", "Stop", "&#43;0.34°")
	body := get(v.h, rails).Body.String()
	assert.False(t, strings.Contains(body, "if the surface is held down"), "that is said already")
	v.sees("/holds/tailplane-on-rails-demo-hold", "no limit is set, so there is no verdict")
}

func TestSeveralSurfacesArePlannedAndMovedAsTheyMay(t *testing.T) {
	v := visit(t)
	form := "/assemblies/fin-demo/templates/joins"
	fields := []string{"name", "on the boom", "0.take", "yes", "0.datum", "firewall; 0; 0; 300\nsill L; 1800; -520; 420\nsill R; 1800; 520; 420\nboom end; 5250; 0; 420", "0.pivots", "fin; 4800; 0; 430\ntailplane; 5480; 0; 1730",
		"0.points", "fin foot; 4800; 0; 430; fin\nfin top; 5480; 0; 1730; fin\nfin rear; 5400; 40; 900; fin\npin; 5480; 0; 1730; tailplane\ntip L; 5560; -1440; 1740; tailplane\ntip R; 5560; 1440; 1740; tailplane\naft L; 5830; -500; 1724; tailplane",
		"0.pins", "fin top; pin; 0.1", "0.level", "is true", "0.attach", "bracket R; 5480; 105; 1730; tailplane; up"}
	with := func(more ...string) []string { return append(append([]string{}, fields...), more...) }
	v.refused("a plan is made for limits", form, with("plan", "yes")...)
	status, body := v.send(form, with("plan", "yes", "0.bounds", "tailplane; yaw; -0.3; 0.3\ntailplane; roll; -0.2; 0.2")...)
	assert.Equal(t, http.StatusOK, status)
	assert.True(t, strings.Contains(body, "the fewest readings that would decide it"), said(body))
	v.refused("is missing", form, with("0.bounds", "rudder; yaw; -0.3; 0.3")...)
	v.done(form, with("0.readings", "distance; firewall; tip L")...)
	sheet := "/setups/fin-tail-join-demo/checks/fin-tail-join-demo-check-0"
	v.sees(sheet, `name="may.bracket L"`, `name="may.fin bolt"`, "<option selected>fixed</option>", "tailplane")
	v.sees("/setups/fin-tail-join-demo", "after the moves that may be made: fin roll")
}

// A bare limit is read in the airframe's unit, and its label says which.
func TestALimitsLabelSaysTheUnitOfABareFigure(t *testing.T) {
	v := visit(t)
	v.sees("/setups/spar-left-demo/checks/spar-left-demo-check-0", "bow, a hump is plus, in mm")
	v.done("/airframes", "name", "Inch kit", "unit", "in")
	frame := fmt.Sprintf("visitor-%03d", v.next)
	v.done("/airframes/"+frame+"/assemblies", "name", "Stabilator", "form", "surface", "inner", "-50", "outer", "50", "chord", "24", "tip", "24")
	assembly := fmt.Sprintf("visitor-%03d", v.next)
	v.done("/assemblies/"+assembly+"/templates/other", "name", "on the bench", "2.take", "yes", "2.points", "left; 0\nmiddle; 20\nright; 40", "2.low.bow", "-1/16", "2.high.bow", "1/16")
	setup := fmt.Sprintf("visitor-%03d", v.next)
	v.sees("/setups/"+setup+"/checks/"+setup+"-check-0", "bow, a hump is plus, in inches", `value="1/16"`)
}

func TestAStopIsReadOnceMoreBeforeAnythingIsMoved(t *testing.T) {
	v := visit(t)
	v.sees("/setups/mount-pads-demo", "Stop", "Read it once more before anything is moved.")
}
