package web

import (
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/exchange"
	"orpine/internal/web/drawing"
)

// rowView is the strip map of a row, with one hole in hand.
type rowView struct {
	app.SheetOfRow
	Hole       row.Hole
	Shown      row.State
	Prev, Next int
	Map        any
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
	Deeds      []row.Deed
	Who, Crew  string
	Typed      map[string]string
	Said       string // what was just done, for a screen reader
	Refused    string
	Posed      bool // some holes are reached in another pose
}

// fact is one line about a hole.
type fact struct {
	What, Says string
	Mark       string // a verdict, or ""
}

type legend struct {
	State  row.State
	Number int
}

// who is the name that was typed last, so that nobody types it for each rivet.
func who(c *gin.Context) string {
	name, _ := c.Cookie("who")
	return name
}

// remember keeps a name, and who helped.
func remember(c *gin.Context, cookie, value string) {
	if value = strings.TrimSpace(value); value != "" && len(value) < 200 {
		http.SetCookie(c.Writer, &http.Cookie{Name: cookie, Value: url.QueryEscape(value), Path: "/", MaxAge: 30 * 24 * 3600, HttpOnly: true, SameSite: http.SameSiteLaxMode})
	}
}

func (s *server) row(c *gin.Context) {
	number, _ := strconv.Atoi(c.Query("hole"))
	s.showRow(c, http.StatusOK, number, nil, nil, "")
}

// showRow shows the map with a hole in hand (0: the first that waits).
func (s *server) showRow(c *gin.Context, status, number int, wrong app.Problems, typed map[string]string, said string) {
	sheet, err := s.app.RowSheet(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	crew, _ := c.Cookie("crew")
	if crew == "" {
		crew = map[bool]string{true: "with a bucker", false: "solo"}[sheet.Bucker]
	}
	view := rowView{SheetOfRow: sheet, Typed: typed, Who: who(c), Crew: crew, Causes: row.Causes, Said: said, Refused: wrong[""], Meetings: sheet.Meetings(),
		Pins: sheet.Row.Pins(sheet.Holes), Every: sheet.PinEvery(len(sheet.Holes)), Untried: sheet.Row.Untried(sheet.Holes), Missed: row.Runs(sheet.Missed()),
		Deeds: []row.Deed{row.Drill, row.Clean, row.Pin, row.Unpin, row.Rivet}}
	if typed["by"] != "" {
		view.Who = typed["by"]
	}
	if typed["crew"] != "" {
		view.Crew = typed["crew"]
	}
	hole, ok := sheet.Hole(number)
	if !ok {
		hole = first(sheet.Holes)
	}
	view.choose(hole)
	for _, h := range sheet.Holes {
		view.Posed = view.Posed || h.Pose != "" && !h.Done()
	}
	for _, state := range row.States {
		if n := sheet.Count(state); n > 0 {
			view.Legend = append(view.Legend, legend{state, n})
		}
	}
	for _, pair := range row.Alike(sheet.CallOutTexts()) {
		view.Warnings = append(view.Warnings, fmt.Sprintf("%s and %s are called out on one row, and a hand takes one for the other: fetch them from different boxes", pair[0], pair[1]))
	}
	p := s.page(c, "rows", sheet.Name, view, footing{"airframe", sheet.Airframe.Name}, footing{"assembly", sheet.AssemblyName}, footing{"row", sheet.Name}, footing{"holes", sheet.CountsSay()}, footing{"sheet", "R 2"})
	p.Path = fmt.Sprintf("/rows/%s?hole=%d", sheet.ID, hole.Number)
	p.Problem = wrong
	p.Slip = slipContext{Assembly: sheet.AssemblyID, Step: "rivet", Place: fmt.Sprintf("%s, hole %d", sheet.Name, hole.Number)}
	part := "layout.html"
	if c.GetHeader("HX-Request") != "" {
		part = "sheet"
	}
	s.render(c, status, "row", part, p)
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
func (v *rowView) choose(h row.Hole) {
	v.Hole, v.Shown = h, h.Shown()
	v.Prev, v.Next = max(h.Number-1, 1), min(h.Number+1, len(v.Holes))
	strip := drawing.Strip{Title: v.Name + ", hole by hole", Holes: stripHoles(v.Row.Holes, "/rows/"+v.ID, h.Number)}
	v.Map = strip.Draw()
	advice := v.Advise(h, v.Row.Holes)
	v.Section = section(v.Row, h, advice).Draw()
	v.Facts = facts(v.Row, h, advice)
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
func section(r app.Row, h row.Hole, a row.Advice) drawing.Section {
	s := drawing.Section{Title: fmt.Sprintf("hole %d in section, to scale", h.Number), Diameter: a.Diameter, Flush: r.Fastener.Head == "flush", Blind: r.Fastener.Sort == "blind", HeadDepth: row.HeadDepth(a.Diameter), Wrong: a.Flush != nil && a.Flush.Verdict == measure.Stop}
	for _, l := range a.Layers {
		says := l.Material + " " + l.Thickness.Text(quantity.Millimetre)
		if l.Hole != "plain" {
			says += ", " + l.Hole
		}
		s.Layers = append(s.Layers, drawing.SectionLayer{Thickness: float64(l.Thickness), Hole: l.Hole, Says: says})
	}
	if v, err := quantity.ParseLength(a.Length, quantity.Millimetre); err == nil && r.Fastener.Sort == "solid" {
		s.Length, s.LengthSays = float64(v), a.Length+", not set yet"
	}
	if a.Rivet.Rivet != nil && a.Rivet.Rivet.ShopHead != nil {
		head := a.Rivet.Rivet.ShopHead
		s.ShopDiameter, s.ShopHeight, s.ShopDiameterMin, s.ShopHeightMin = head.Diameter, head.Height, head.DiameterMin, head.HeightMin
		s.ShopSays = fmt.Sprintf("shop head %s × %s; gauge %s × %s", quantity.Fixed(head.Diameter, 1), quantity.Fixed(head.Height, 1), quantity.Fixed(head.DiameterMin, 1), quantity.Fixed(head.HeightMin, 1))
	}
	return s
}

// facts are what the hole asks for, in lines.
func facts(r app.Row, h row.Hole, a row.Advice) []fact {
	var out []fact
	if h.Kept() {
		out = append(out, fact{"stays open", "for " + h.Keep.Part + ", until: " + h.Keep.Step, "stop"})
	}
	if h.Pose != "" {
		out = append(out, fact{"reached", h.Pose, ""})
	}
	what := r.Fastener.Sort + " " + r.Fastener.Size + ", " + r.Fastener.Head
	if h.Over {
		what = fmt.Sprintf("%s, oversize: %s mm", r.Fastener.Sort, quantity.Fixed(a.Diameter, 2))
	}
	out = append(out, fact{"rivet", what, ""})
	if called := r.CalledOut(h.Number); h.Over && called != "" {
		out = append(out, fact{"called out", called + ", for the size before: ask", ""})
	}
	length := fact{"length", a.Length, a.Rivet.Verdict.String()}
	if length.Says == "" {
		length.Says = "none fits"
	}
	if grip, ok := a.Rivet.Quantity("grip"); ok {
		length.Says += ", grip " + quantity.Fixed(grip.Value, 2)
	}
	if needed, ok := a.Rivet.Quantity("needed"); ok {
		length.Says += ", wants " + quantity.Fixed(needed.Value, 2)
	}
	if out1, ok := a.Rivet.Quantity("protrusion"); ok {
		length.Says += "; stands out " + quantity.Fixed(out1.Value, 2) + " D"
	}
	out = append(out, length)
	for _, f := range a.Rivet.Findings {
		says := f.Text
		if f.Code == "cut-down" && a.Rivet.Rivet.CutTo != nil {
			says += fmt.Sprintf(" to %s mm", quantity.Fixed(*a.Rivet.Rivet.CutTo, 2))
		}
		out = append(out, fact{"", says, ""})
	}
	if a.Flush != nil {
		says := "layers lie close under the head"
		if len(a.Flush.Findings) > 0 {
			says = a.Flush.Findings[0].Text
		}
		out = append(out, fact{"flush", says, a.Flush.Verdict.String()})
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
		enough := map[string]float64{"edge": 2, "pitch": 3}[name]
		mark := "go"
		if before < enough-1e-9 {
			mark = "stop"
		}
		out = append(out, fact{map[string]string{"edge": "edge distance", "pitch": "pitch"}[name], fmt.Sprintf("%s D; drilled over, %s D (at least %s)", quantity.Fixed(before, 1), quantity.Fixed(after, 1), quantity.Fixed(enough, 0)), mark})
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

var holeFields = []string{"by", "crew", "reason", "part", "step", "several", "deed", "choice"}

// doHole does something to the hole in hand, and goes on to the next one.
func (s *server) doHole(c *gin.Context) {
	number, _ := strconv.Atoi(c.PostForm("number"))
	what, cause, _ := strings.Cut(c.PostForm("do"), "/")
	d := app.HoleDeed{ID: c.PostForm("id"), Row: c.Param("id"), Numbers: []int{number}, What: row.Deed(what), Cause: cause, Reason: c.PostForm("reason"), By: c.PostForm("by")}
	if d.What == row.Rivet || d.What == row.Spoil {
		d.Crew = c.PostForm("crew")
	}
	if d.What == row.Mark {
		d.Keep = row.Keep{Part: c.PostForm("part"), Step: c.PostForm("step")}
	}
	next := number
	if d.What == row.Rivet || d.What == row.Falls {
		next++
	}
	s.holesDone(c, d, next, fmt.Sprintf("hole %d: %s.", number, what))
}

// doSeveral does one thing to several holes.
func (s *server) doSeveral(c *gin.Context) {
	d := app.HoleDeed{ID: c.PostForm("id"), Row: c.Param("id"), What: row.Deed(c.PostForm("deed")), By: c.PostForm("by"), Crew: c.PostForm("crew")}
	numbers, err := app.HoleNumbers(c.PostForm("several"))
	if err != nil {
		current, _ := strconv.Atoi(c.PostForm("number"))
		s.showRow(c, http.StatusUnprocessableEntity, current, app.Problems{"several": err.Error()}, typed(c, holeFields...), "")
		return
	}
	d.Numbers = numbers
	current, _ := strconv.Atoi(c.PostForm("number"))
	s.holesDone(c, d, current, fmt.Sprintf("holes %s: %s.", row.Runs(numbers), d.What))
}

func (s *server) holesDone(c *gin.Context, d app.HoleDeed, next int, said string) {
	remember(c, "who", d.By)
	remember(c, "crew", c.PostForm("crew"))
	err := s.app.DoHoles(c.Request.Context(), d)
	s.afterHoles(c, err, d.Row, next, said)
}

// afterHoles shows the map after a deed, at the next hole, or says what refused it.
func (s *server) afterHoles(c *gin.Context, err error, id string, next int, said string) {
	if wrong, ok := problems(err); ok {
		current, _ := strconv.Atoi(c.PostForm("number"))
		s.showRow(c, http.StatusUnprocessableEntity, current, wrong, typed(c, holeFields...), "")
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	if c.GetHeader("HX-Request") == "" {
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/rows/%s?hole=%d", id, next))
		return
	}
	s.showRow(c, http.StatusOK, next, nil, map[string]string{"by": c.PostForm("by"), "crew": c.PostForm("crew")}, said)
}

// undoHole takes the last deed back, and goes to where it was done.
func (s *server) undoHole(c *gin.Context) {
	id := c.Param("id")
	before, err := s.app.RowSheet(c.Request.Context(), id)
	if err != nil {
		s.fail(c, err)
		return
	}
	next, _ := strconv.Atoi(c.PostForm("number"))
	if len(before.Undo) > 0 {
		next = before.Undo[0].Numbers[0]
	}
	err = s.app.Undo(c.Request.Context(), app.UndoLast{ID: c.PostForm("id"), Row: id, By: c.PostForm("by")})
	s.afterHoles(c, err, id, next, fmt.Sprintf("hole %d: undone.", next))
}

func (s *server) chooseBarrier(c *gin.Context) {
	n := app.ChooseBarrier{ID: c.PostForm("id"), Row: c.Param("id"), Choice: c.PostForm("choice"), By: c.PostForm("by")}
	remember(c, "who", n.By)
	err := s.app.ChooseBarrier(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showRow(c, http.StatusUnprocessableEntity, 0, wrong, typed(c, holeFields...), "")
		return
	}
	s.done(c, err, "/rows/"+n.Row)
}

func (s *server) holesCSV(c *gin.Context) {
	r, err := s.app.Row(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="holes.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", exchange.WriteHoles(r.Holes))
}
