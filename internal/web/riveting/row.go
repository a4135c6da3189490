package riveting

import (
	"cmp"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/exchange"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/riveting"
	"orpine/internal/web/drawing"
	"orpine/internal/web/ui"
)

// rowView is the strip map of a row, with one hole in hand.
type rowView struct {
	overview.RowSheet
	Hole       row.Hole
	Shown      row.State
	Prev, Next int
	Map        any
	Near       any // the holes beside the one in hand, for a phone
	Section    any
	Facts      []fact   // of the hole in hand
	Warnings   []string // that concern the whole row
	Meetings   []row.Meeting
	Legend     []legend
	Pins       []int
	Every      int
	Untried    []int
	Missed     string
	Causes     []string
	Operations []row.Operation
	Who, Crew  string
	Typed      map[string]string
	Said       string // what was just done, for a screen reader
	Refused    string
	Posed      bool // some holes are reached in another pose
	Steps      []step
	Later      []string // steps that a hole may wait for
	Forms      bool     // a layer here is dimpled or countersunk
	Dimples    []string
	Reaches    []string
	Early      []string        // whether a kept hole may be formed before
	Waitable   []row.Operation // what may be marked as not yet
	Hows       []how           // in which holes may be done already
	Since      int64           // the last entry that it knows
	Oversizing bool            // what was refused is an oversize
	OverHole   string          // of the next size, as an example
	OverSize   string
}

// how is a way in which holes are a fact.
type how struct{ Value, Says string }

var hows = []how{{gate.Unreleased, "without a release"}, {gate.DoneBefore, "before the row was laid here: a kit half built"}}

// step is one of the operations that this row asks for, with its key.
type step struct {
	Do        row.Operation
	Key, Says string
}

// steps are all that come before a rivet.
var steps = []step{{row.Drill, "d", "Drilled"}, {row.Deburr, "u", "Deburred"}, {row.Form, "f", "Formed"}, {row.Clean, "c", "Cleaned"}, {row.Prime, "i", "Primed"}}

// fact is one line about a hole.
type fact struct {
	What, Says string
	Mark       string // a verdict, or ""
}

type legend struct {
	State  row.State
	Number int
}

func (s sheets) row(c *gin.Context) {
	s.showRow(c, c.Param("id"), int(ui.Int(c.Query("hole"))), "", ui.Refused{})
}

// watch tells a page what others do in its row.
func (s sheets) watch(c *gin.Context) {
	id, number := c.Param("id"), int(ui.Int(c.Query("hole")))
	if _, err := s.Row(c.Request.Context(), id); err != nil {
		s.Fail(c, err)
		return
	}
	s.Watch(c, id, strconv.Itoa(number), nil, func() (name, part string, p ui.Page, err error) {
		sheet, err := s.Row(c.Request.Context(), id)
		if err != nil {
			return "", "", p, err
		}
		view := s.viewRow(sheet, number)
		return "row", "row-live", ui.Page{View: view, Unit: sheet.Airframe.Unit, Account: ui.Signed(c)}, nil
	})
}

// viewRow is the map of a row with a hole in hand, and nothing around it.
func (s sheets) viewRow(sheet overview.RowSheet, number int) rowView {
	view := rowView{RowSheet: sheet, Missed: row.Runs(sheet.Missed())}
	hole, ok := sheet.Hole(number)
	if !ok {
		hole = first(sheet.Holes)
	}
	view.choose(s.Base, hole)
	for _, h := range sheet.Holes {
		view.Posed = view.Posed || h.Pose != "" && !h.Done()
	}
	for _, state := range row.States {
		if n := sheet.Count(state); n > 0 {
			view.Legend = append(view.Legend, legend{state, n})
		}
	}
	return view
}

// showRow shows the map with a hole in hand (0: the first that waits).
func (s sheets) showRow(c *gin.Context, id string, number int, said string, r ui.Refused) {
	since := s.Ledger.Seq()
	sheet, err := s.Row(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	crew, _ := c.Cookie("crew")
	if crew == "" {
		crew = map[bool]string{true: "with a bucker", false: "solo"}[sheet.Bucker]
	}
	view := s.viewRow(sheet, number)
	view.Since = since
	view.Typed, view.Who, view.Crew, view.Causes, view.Said, view.Refused, view.Meetings = r.Typed, cmp.Or(r.Typed["by"], ui.Who(c)), cmp.Or(r.Typed["crew"], crew), row.Causes, said, r.Wrong[""], sheet.Meetings()
	view.Pins, view.Every, view.Untried = sheet.Row.Pins(sheet.Holes), sheet.PinEvery(len(sheet.Holes)), sheet.Row.Untried(sheet.Holes)
	view.Early, view.Waitable, view.Hows = row.Early, row.Waitable, hows
	view.Dimples, view.Reaches, view.Later, view.Oversizing = row.Dimples, row.Reaches, sheet.Steps, r.Typed["do"] == string(row.Enlarge)
	wanted := sheet.Row.Steps(sheet.Holes)
	for _, step := range steps {
		if slices.Contains(wanted, step.Do) {
			view.Steps, view.Operations = append(view.Steps, step), append(view.Operations, step.Do)
		}
	}
	view.Operations = append(view.Operations, row.Pin, row.Unpin, row.Rivet, row.NotSet, row.Doubt, row.Out, row.Mark)
	for _, pair := range row.Alike(sheet.CallOutTexts()) {
		view.Warnings = append(view.Warnings, fmt.Sprintf("%s and %s are called out on one row, and a hand takes one for the other: fetch them from different boxes", pair[0], pair[1]))
	}
	p := s.Page(c, "rows", sheet.Name, view, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "assembly", Text: sheet.AssemblyName}, ui.Footing{Label: "row", Text: sheet.Name}, ui.Footing{Label: "holes", Text: sheet.CountsSay()}, ui.Footing{Label: "sheet", Text: "R 2"})
	p.Unit = sheet.Airframe.Unit
	p.Path = fmt.Sprintf("/rows/%s?hole=%d", sheet.ID, view.Hole.Number)
	p.Problem = r.Wrong
	p.Slip = ui.SlipFrom{Assembly: sheet.AssemblyID, Step: "rivet", Place: fmt.Sprintf("%s, hole %d", sheet.Name, view.Hole.Number)}
	s.RenderSheet(c, r.Status, "row", p)
}

// first is the first hole that waits for something.
func first(holes []row.Hole) row.Hole {
	for _, h := range holes {
		if !h.Done() && !h.Kept() {
			return h
		}
	}
	return holes[0]
}

// choose takes a hole in hand.
func (v *rowView) choose(base string, h row.Hole) {
	v.Hole, v.Shown = h, h.Shown()
	v.Prev, v.Next = max(h.Number-1, 1), min(h.Number+1, len(v.Holes))
	strip := drawing.Strip{Title: v.Name + ", hole by hole", Holes: stripHoles(v.Row.Holes, base+"/rows/"+v.ID, h.Number), Plane: v.How != "" && v.How != "line" && v.How != row.AsItComes}
	v.Map, v.Near = strip.Draw(), strip.Near()
	v.Forms = v.AsksOf(h).Form != ""
	v.OverHole, v.OverSize = v.nextSize()
	advice := v.Advise(h, v.Row.Holes)
	v.Section = section(v.Row, h, advice).Draw()
	v.Facts = facts(v.Row, h, advice)
}

// nextSize is the next larger rivet, and about what its hole is.
func (v *rowView) nextSize() (hole, rivet string) {
	d := v.Fastener.Over()
	if !v.Fastener.Diameter.Metric {
		rivet = quantity.Length(d).Text(quantity.Inch)
	} else {
		rivet = quantity.Length(d).Text(quantity.Millimetre)
	}
	return say.Length(d + 0.08).Fine(2).String(), rivet
}

func stripHoles(holes []row.Hole, href string, here int) []drawing.StripHole {
	out := make([]drawing.StripHole, len(holes))
	for i, h := range holes {
		out[i] = drawing.StripHole{Number: h.Number, Along: h.Along, Across: h.Across, State: string(h.Shown()), Over: h.Over, Says: sayHole(h), Href: fmt.Sprintf("%s?hole=%d", href, h.Number), Here: h.Number == here, Pose: h.Pose != "" && !h.Done()}
	}
	return out
}

// sayHole says the state of a hole in words.
func sayHole(h row.Hole) string {
	says := string(h.Shown())
	if h.Kept() {
		says = "stays open for " + h.Keep.Part
	}
	if h.Over && h.State != row.Oversize {
		says += ", oversize"
	}
	if h.Pose != "" && !h.Done() {
		says += ", " + h.Pose
	}
	return says
}

// section is the hole in section.
func section(r riveting.Row, h row.Hole, a row.Advice) drawing.Section {
	s := drawing.Section{Title: fmt.Sprintf("hole %d in section, to scale", h.Number), Diameter: a.Diameter, Flush: a.Head == "flush", Blind: r.Fastener.Sort == "blind", HeadDepth: row.HeadDepth(a.Diameter), Wrong: a.Flush != nil && a.Flush.Verdict == measure.Stop}
	for _, l := range a.Layers {
		says := l.Material + " " + say.Written(l.Thickness).String()
		if l.Hole != "plain" {
			says += ", " + l.Hole
		}
		s.Layers = append(s.Layers, drawing.SectionLayer{Thickness: float64(l.Thickness), Hole: l.Hole, Says: says})
	}
	if v, err := quantity.ParseLength(a.Length, quantity.Millimetre); err == nil && r.Fastener.Sort == "solid" {
		s.Length, s.LengthSays = float64(v), a.Length+", before it is set"
	}
	if a.Rivet.Rivet != nil && a.Rivet.Rivet.ShopHead != nil {
		head := a.Rivet.Rivet.ShopHead
		s.ShopDiameter, s.ShopHeight, s.ShopDiameterMin, s.ShopHeightMin = head.Diameter, head.Height, head.DiameterMin, head.HeightMin
		s.ShopSays = fmt.Sprintf("shop head %s × %s; gauge %s × %s", say.Length(head.Diameter).Bare(), say.Length(head.Height), say.Length(head.DiameterMin).Bare(), say.Length(head.HeightMin))
	}
	return s
}

// facts are what the hole asks for, in lines.
func facts(r riveting.Row, h row.Hole, a row.Advice) []fact {
	var out []fact
	if h.Kept() {
		out = append(out, fact{"stays open", "for " + h.Keep.Part + ", until: " + h.Keep.Step, "stop"})
	}
	if h.Pose != "" {
		out = append(out, fact{"reached", h.Pose, ""})
	}
	if h.Reach.Step != "" && !h.Done() {
		out = append(out, fact{"out of reach", fmt.Sprintf("cannot be %s after: %s", h.Reach.What, h.Reach.Step), ""})
	}
	if form := r.AsksOf(h).Form; form != "" {
		says := form + ": not yet"
		if h.Formed || h.Done() || h.Filled() {
			says = form
		}
		out = append(out, fact{"formed", says, ""})
	}
	fastener := r.Fastener
	fastener.Head = a.Head
	what := fastener.Says()
	switch {
	case h.Over && h.Fit.Rivet > 0:
		what = r.Fastener.Sort + ", oversize: " + h.Fit.Says() + "; " + h.Fit.Reason
	case h.Over:
		what = fmt.Sprintf("%s, oversize: %s", r.Fastener.Sort, say.Length(a.Diameter).Fine(2))
	}
	name := "rivet"
	if !r.Fastener.Rivet() {
		name = "goes in"
	}
	out = append(out, fact{name, what, ""})
	if called := r.CalledOut(h.Number); h.Over && called != "" {
		out = append(out, fact{"called out", called + ", for the size before: ask", ""})
	}
	length := fact{"length", a.Length, a.Rivet.Verdict.String()}
	switch {
	case a.Unchecked:
		length.Says, length.Mark = a.Length+", not checked: what lies there is not known", measure.Unsure.String()
	case length.Says != "":
	case r.Fastener.Rivet():
		length.Says = "none fits"
	default:
		length.Says = "none called out"
	}
	if grip, ok := a.Rivet.Quantity("grip"); ok {
		length.Says += ", grip " + say.Length(grip.Value).Fine(2).String()
	}
	if needed, ok := a.Rivet.Quantity("needed"); ok {
		length.Says += ", wants " + say.Length(needed.Value).Fine(2).String()
	}
	if out1, ok := a.Rivet.Quantity("protrusion"); ok {
		length.Says += "; stands out " + say.Number(out1.Value, 2).String() + " D"
	}
	out = append(out, length)
	for _, f := range a.Rivet.Findings {
		says := f.Text
		if f.Code == "cut-down" && a.Rivet.Rivet.CutTo != nil {
			says += fmt.Sprintf(" to %s", say.Length(*a.Rivet.Rivet.CutTo).Fine(2))
		}
		out = append(out, fact{"", says, ""})
	}
	if a.Flush != nil {
		what, says := "layers", "they lie close"
		if a.Head == "flush" {
			what, says = "flush", "layers lie close under the head"
		}
		if len(a.Flush.Findings) > 0 {
			says = a.Flush.Findings[0].Text
		}
		out = append(out, fact{what, says, a.Flush.Verdict.String()})
	}
	out = append(out, edgeFacts(a)...)
	return out
}

// edgeFacts are edge distance and pitch, before and after an oversize.
func edgeFacts(a row.Advice) []fact {
	var out []fact
	for _, name := range []string{"edge", "pitch"} {
		before, ok := least(a.Edges, name)
		if !ok {
			continue
		}
		after, _ := least(a.Edges, name+"_oversize")
		enough := row.Least(name)
		mark := "go"
		if before < enough-1e-9 {
			mark = "stop"
		}
		out = append(out, fact{map[string]string{"edge": "edge distance", "pitch": "pitch"}[name], fmt.Sprintf("%s D; drilled oversize, %s D (at least %s)", say.Number(before, 1), say.Number(after, 1), say.Number(enough, 0)), mark})
	}
	if crowded := a.Crowded(); crowded != "" {
		out = append(out, fact{"", crowded + ": ask before it is", ""})
	}
	return out
}

// least is the least of the quantities of that name.
func least(r measure.Result, name string) (v float64, ok bool) {
	for _, q := range r.Quantities {
		if q.Name == name && (!ok || q.Value < v) {
			v, ok = q.Value, true
		}
	}
	return v, ok
}

// operateOne does something to the hole in hand, and goes on to the next one.
func (s sheets) operateOne(c *gin.Context) {
	number := int(ui.Int(c.PostForm("number")))
	what, cause, _ := strings.Cut(c.PostForm("do"), "/")
	n := s.operation(c)
	n.Numbers, n.What, n.Cause, n.Reason = []int{number}, row.Operation(what), cause, c.PostForm("reason")
	if n.What == row.Accept {
		n.Reason = c.PostForm("gauge")
	}
	if n.What == row.Rivet || n.What == row.Spoil {
		n.Crew = c.PostForm("crew")
	}
	if n.What == row.Mark {
		n.Keep = row.Keep{Part: c.PostForm("part"), Step: c.PostForm("step"), Early: c.PostForm("early")}
	}
	switch n.What {
	case row.NotYet:
		n.Wait = waitOf(c)
	case row.Enlarge:
		var err error
		n.Reason = c.PostForm("why")
		if n.Fit, err = s.Riveting.ReadFit(c.Request.Context(), n.Row, c.PostForm("hole"), c.PostForm("rivet"), c.PostForm("dimple")); err != nil {
			s.answer(c, err, number, "")
			return
		}
	case row.Shut:
		n.Reach = row.Reach{What: c.PostForm("beyond"), Step: c.PostForm("after")}
		if n.Reach.Step == "" {
			n.Reach = row.Reach{}
		}
	}
	next := number
	if n.What == row.Rivet || n.What == row.Falls {
		next++
	}
	s.operate(c, n, next, fmt.Sprintf("hole %d: %s.", number, what))
}

// operation is what every form of a row says.
func (s sheets) operation(c *gin.Context) riveting.HoleOperation {
	return riveting.HoleOperation{Form: ledger.Form{ID: c.PostForm("id")}, Row: c.Param("id"), Seen: ui.Int(c.PostForm("seen")), After: c.PostForm("own"), By: c.PostForm("by")}
}

// operateSeveral does one thing to several holes.
func (s sheets) operateSeveral(c *gin.Context) {
	current := int(ui.Int(c.PostForm("number")))
	numbers, err := row.ParseNumbers(c.PostForm("several"))
	if err != nil {
		s.showRow(c, c.Param("id"), current, "", ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: ledger.Problems{"several": err.Error()}, Typed: ui.Typed(c)})
		return
	}
	n := s.operation(c)
	what, cause, _ := strings.Cut(c.PostForm("operation"), "/")
	n.Numbers, n.What, n.Cause, n.Crew, n.Skip = numbers, row.Operation(what), cause, c.PostForm("crew"), true
	if n.What == row.Shut {
		n.Reach, n.Cause = row.Reach{What: cause, Step: c.PostForm("step")}, ""
	}
	n.Reason, n.Keep = c.PostForm("reason"), row.Keep{Part: c.PostForm("part"), Step: c.PostForm("step"), Early: c.PostForm("early")}
	if n.What == row.NotYet {
		n.Wait, n.Keep = waitOf(c), row.Keep{}
		if n.Wait.Step == "" {
			n.Wait.Step = c.PostForm("step")
		}
	}
	s.operate(c, n, current, fmt.Sprintf("holes %s: %s.", row.Runs(numbers), n.What))
}

// waitOf is what waits at a hole, as a form says it.
func waitOf(c *gin.Context) row.Wait {
	w := row.Wait{Step: c.PostForm("until")}
	for _, what := range c.PostFormArray("waits") {
		w.What = append(w.What, row.Operation(what))
	}
	return w
}

// fact keeps that holes were drilled or set without a release, or before the row was laid here.
func (s sheets) fact(c *gin.Context) {
	n := riveting.HolesFact{Row: c.Param("id")}
	numbers, err := row.ParseNumbers(c.PostForm("several"))
	if err != nil {
		err = ledger.Problems{"holes": err.Error()}
	} else {
		err = ui.Bind(c, &n)
	}
	if n.Numbers = numbers; err == nil {
		err = s.Riveting.TellFact(c.Request.Context(), n)
	}
	number := int(ui.Int(c.PostForm("number")))
	s.Done(c, err, fmt.Sprintf("/rows/%s?hole=%d", n.Row, number), func(r ui.Refused) {
		r.Typed["fact"] = "yes"
		s.showRow(c, n.Row, number, "", r)
	})
}

// facts keeps what waited in a phone, was refused, and is in the metal all the same: of a whole
// evening.
func (s sheets) facts(c *gin.Context) {
	var n overview.EveningFacts
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.By)
	if err == nil {
		err = s.TellFacts(c.Request.Context(), n)
	}
	s.Done(c, err, "/rows", func(r ui.Refused) { s.Fail(c, r.Wrong) })
}

func (s sheets) operate(c *gin.Context, n riveting.HoleOperation, next int, said string) {
	s.Remember(c, "who", n.By)
	s.Remember(c, "crew", c.PostForm("crew"))
	s.answer(c, s.Riveting.Operate(c.Request.Context(), n), next, said)
}

// answer shows the map after an operation, at the next hole, or says what refused it.
func (s sheets) answer(c *gin.Context, err error, next int, said string) {
	id := c.Param("id")
	if err == nil && ui.HTMX(c) {
		s.showRow(c, id, next, said, ui.Refused{Typed: map[string]string{"by": c.PostForm("by"), "crew": c.PostForm("crew")}})
		return
	}
	s.Done(c, err, fmt.Sprintf("/rows/%s?hole=%d", id, next), func(r ui.Refused) {
		s.showRow(c, id, int(ui.Int(c.PostForm("number"))), "", r)
	})
}

// undo takes a submission back, and goes to where it was done.
func (s sheets) undo(c *gin.Context) {
	n := riveting.UndoOf{Row: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Riveting.Undo(c.Request.Context(), n)
	}
	next := int(ui.Int(c.PostForm("at")))
	s.answer(c, err, next, fmt.Sprintf("hole %d: undone.", next))
}

func (s sheets) chooseBarrier(c *gin.Context) {
	n := riveting.ChooseBarrier{Row: c.Param("id")}
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.By)
	if err == nil {
		err = s.Riveting.ChooseBarrier(c.Request.Context(), n)
	}
	s.Done(c, err, "/rows/"+n.Row, func(r ui.Refused) {
		r.Typed["choosing"] = "yes"
		s.showRow(c, n.Row, 0, "", r)
	})
}

func (s sheets) holesCSV(c *gin.Context) {
	r, err := s.Riveting.Row(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="holes.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", exchange.WriteHoles(r.Holes))
}
