// Package holding is the Hold sheets: one step that cannot be undone, all of them, and
// the form that puts one there.
package holding

import (
	"context"
	"embed"
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/account"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/stores"
	"orpine/internal/web/outline"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct {
	*ui.UI
	draw Drawings
}

// Drawings are what other sheets draw on a hold's: its setup, or the rows of its
// assembly.
type Drawings struct {
	Setup func(measuring.Setup) template.HTML
	Rows  func(base string, s overview.HoldSheet) template.HTML
}

// Routes returns what registers the sheets.
func Routes(draw Drawings) func(u *ui.UI) {
	return func(u *ui.UI) {
		s := sheets{u, draw}
		u.Pages(templates)
		u.GET("/holds", s.list)
		u.GET("/holds/:id", func(c *gin.Context) { s.show(c, c.Param("id"), ui.Refused{}) })
		u.GET("/holds/:id/sheet.pdf", s.print)
		u.GET("/holds/:id/like", func(c *gin.Context) { s.showLike(c, ui.Refused{}) })
		u.POST("/holds/:id/like", s.standLike)
		u.POST("/holds/:id/release", s.release)
		u.POST("/holds/:id/step", s.step)
		u.POST("/holds/:id/withdraw", s.withdraw)
		u.POST("/holds/:id/fact", s.fact)
		u.POST("/holds/:id/after", s.after)
		u.GET("/assemblies/:id/holds/new", s.newHold)
		u.POST("/assemblies/:id/holds", s.addHold)
		u.POST("/looks", s.look)
		u.Shows("holds", s.show)
	}
}

// view is the Hold sheet: one irreversible step.
type view struct {
	overview.HoldSheet
	Lines   []evidence
	Shown   string // the digest of the evidence
	Typed   map[string]string
	State   string // refused, ready, unsure, stop, released or done
	Care    string // the caution of the step
	Who     string
	Events  []measure.Event
	Drawing template.HTML
	Hows    []how // in which its step may be done already
}

// how is a way in which a step is a fact.
type how struct{ Value, Says string }

var hows = []how{{gate.Unreleased, "without a release"}, {gate.DoneBefore, "before it was held here: a kit half built"}}

// cautions are the usual ones of each step.
var cautions = map[hold.Step]string{
	"trim": "Goggles for chips; no gloves near rotating tools.", "drill to size": "Goggles for chips; no gloves near rotating tools.", "ream": "Goggles for chips; no gloves near rotating tools.",
	"rivet": "Muffs for the ears; air tools only within their rated pressure.", "bond": "Mask and air for solvents and two-part resins.",
	"close": "Nothing left undone inside, and nothing left inside.", "cover": "Nothing left undone inside, and nothing left inside.",
}

// evidence is one line of evidence with the place where it is mended.
type evidence struct {
	hold.Line
	Mark, Href, Mend string
}

// shownHold is a hold with its assembly, drawn.
type shownHold struct {
	overview.ListedHold
	Small            template.HTML
	Mark, Word, Says string
	need             int // the less, the sooner it needs a hand
}

// needs are how holds stand, those first that need a hand.
var needs = []struct{ state, mark, word string }{{"stop", "stop", "Stop"}, {"ready", "ready", "Ready to release"}, {"unsure", "unsure", "Unsure"}, {"released", "released", "Released"}, {"refused", "notyet", "Not yet"}, {"done", "done", "Done"}}

// glance says how a hold stands, by the line that tells the most, and else by the figure that was measured for it.
func (h *shownHold) glance() {
	h.need = slices.IndexFunc(needs, func(n struct{ state, mark, word string }) bool { return n.state == state(h.Hold) })
	h.Mark, h.Word = needs[h.need].mark, needs[h.need].word
	switch {
	case h.Mark == "released":
		h.Says = "by " + h.Released
	case h.Mark == "done" || h.Mark == "ready":
		for _, l := range h.Judgement.Lines {
			if l.Check != "" && l.Standing == hold.Met && (h.Says == "" || strings.HasPrefix(l.Why, "go: ")) { // what was judged, before what was only measured
				h.Says = say.Join(l.What, strings.TrimPrefix(l.Why, "go: "))
			}
		}
	default:
		h.Says = h.Judgement.Telling().What + ": " + strings.TrimPrefix(h.Judgement.Telling().Why, h.Mark+": ")
	}
	if h.Ended != "" && h.Mark != "released" && h.Mark != "done" {
		h.Word = "Suspended"
	}
}

func listed(list []overview.ListedHold) (out, done []shownHold) {
	for _, h := range list {
		look := h.Look
		switch { // its own state, not the assembly's
		case h.Spent():
			look.State = overview.Permanent
		case h.Released != "":
			look.State = overview.Released
		default:
			look.State = overview.Held
		}
		one := shownHold{ListedHold: h, Small: outline.Small(look.Shape, look.State)}
		if one.glance(); one.Mark == "done" && !h.Unrepeated {
			done = append(done, one)
		} else {
			out = append(out, one)
		}
	}
	slices.SortStableFunc(out, func(a, b shownHold) int { return a.need - b.need })
	return out, done
}

// listView is the holds at a glance: those that need a hand, and those that are done.
type listView struct{ Open, Done []shownHold }

func (s sheets) list(c *gin.Context) {
	list, err := s.HoldList(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	if len(list) == 1 {
		c.Redirect(http.StatusSeeOther, s.Base+"/holds/"+list[0].ID)
		return
	}
	var v listView
	v.Open, v.Done = listed(list)
	p := s.Page(c, "hold", "Holds", v, ui.Footing{Label: "holds", Text: fmt.Sprint(len(list))}, ui.Footing{Label: "sheet", Text: "H"})
	p.Unit = s.ShopUnit(c.Request.Context())
	s.Render(c, 0, "holds", p)
}

// showLike is the form that puts the same hold before a step of another assembly.
func (s sheets) showLike(c *gin.Context, r ui.Refused) {
	h, err := s.Hold(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := ui.Like{Of: h.AssemblyName + ": " + h.Name, Says: "the same step, with the space that it closes and the tasks inside; its checks go with its setup, rows with their own", Back: "/holds/" + h.ID, Action: "/holds/" + h.ID + "/like"}
	p := s.Page(c, "hold", "Another like "+h.Name, nil, ui.Footing{Label: "assembly", Text: h.AssemblyName}, ui.Footing{Label: "sheet", Text: "H 4"})
	p.Unit = h.Airframe.Unit
	s.ShowLike(c, h.AssemblyID, v, p, r)
}

func (s sheets) standLike(c *gin.Context) {
	n := holding.Another{Hold: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Holding.StandLike(c.Request.Context(), n)
	}
	s.Done(c, err, "/holds/"+n.ID, func(r ui.Refused) { s.showLike(c, r) })
}

func (s sheets) show(c *gin.Context, id string, r ui.Refused) {
	h, err := s.UI.Hold(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := view{HoldSheet: h, Shown: strings.Join(h.Judgement.Digest(), "\n"), Typed: r.Typed, State: state(h.Hold), Care: cautions[hold.Step(h.Step)], Who: ui.Who(c), Events: measure.Disturbances, Hows: hows}
	switch {
	case len(h.Setup.Checks) > 0:
		v.Drawing = s.draw.Setup(h.Setup)
	case len(h.Lying) > 0:
		v.Drawing = s.draw.Rows(s.Base, h)
	}
	for _, l := range h.Judgement.Lines {
		e := evidence{Line: l, Mark: l.Standing.String()}
		if l.Standing != hold.Met {
			e.mend(h.Setup.ID)
		}
		if slices.ContainsFunc(h.Required, func(q hold.Requirement) bool { return q.What != "" && q.Of == e.Of }) {
			e.Href, e.Mend = "", "" // a part that is on no list
		}
		v.Lines = append(v.Lines, e)
	}
	p := s.Page(c, "hold", h.Name, v, ui.Footing{Label: "airframe", Text: h.Airframe.Name}, ui.Footing{Label: "assembly", Text: h.AssemblyName}, ui.Footing{Label: "step", Text: h.Step}, ui.Footing{Label: "becomes permanent", Text: h.Permanent}, ui.Footing{Label: "sheet", Text: "H 1"})
	p.Unit = h.Airframe.Unit
	p.Path = "/holds/" + h.ID
	p.Slip = ui.SlipFrom{Assembly: h.AssemblyID, Step: h.Step, Place: h.Name}
	p.Problem = r.Wrong
	s.Render(c, r.Status, "hold", p)
}

// mend is where the evidence is mended.
func (e *evidence) mend(setup string) {
	switch {
	case e.Need == hold.Prepared && !e.Look:
		e.Href, e.Mend = "/rows/"+e.Of, "to the row"
	case e.Need == hold.Handed:
		e.Href, e.Mend = "/stores#"+e.Of, "to the part"
	case e.Need == hold.Inside:
		e.Href, e.Mend = "/bays/"+e.Of, "to what lies inside"
	case e.Need == hold.Before:
		e.Href, e.Mend = "/holds/"+e.Of, "to that hold"
	case e.Need != "":
	case e.Tool != "":
		e.Href, e.Mend = "/instruments", "turn it end for end"
	case e.Check != "":
		e.Href, e.Mend = "/setups/"+setup+"?check="+e.Check, "to the readings"
	}
}

func state(h holding.Hold) string {
	switch {
	case h.Spent():
		return "done"
	case h.Waiting():
		return "released"
	}
	return map[hold.Standing]string{hold.Met: "ready", hold.Unsure: "unsure", hold.Stop: "stop", hold.Missing: "refused"}[h.Judgement.Standing]
}

// done goes back to the hold, or shows what was refused there.
func (s sheets) done(c *gin.Context, err error, also ...string) {
	id := c.Param("id")
	s.Done(c, err, "/holds/"+id, func(r ui.Refused) {
		for _, field := range also {
			r.Typed[field] = "yes"
		}
		s.show(c, id, r)
	})
}

func (s sheets) release(c *gin.Context) {
	n := holding.NewRelease{Hold: c.Param("id"), Shown: ui.Lines(c.PostForm("shown"))}
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.By)
	if err == nil {
		err = s.signed(c, &n)
	}
	if err == nil {
		err = s.Holding.Release(c.Request.Context(), n)
	}
	s.done(c, err)
}

// signed has a release signed by the account that it is sent from. An inspector signs dispositions,
// under their own name, and nothing else.
func (s sheets) signed(c *gin.Context, n *holding.NewRelease) (err error) {
	if n.AnsweredBy, err = s.SignedAnswer(c, n.AnsweredBy); err != nil {
		return err
	}
	if who := ui.Signed(c); who != nil && who.Role == account.Inspector {
		if n.Answer == "" {
			return ledger.Problems{"answer": "an inspector signs dispositions: what may be done with it as it is? All else a builder releases"}
		}
		n.Answered = s.Ledger.Now().Format("2 January 2006 15:04")
	}
	return s.SignOff(c)
}

func (s sheets) withdraw(c *gin.Context) {
	n := holding.Withdrawal{Hold: c.Param("id")}
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.By)
	if err == nil {
		err = s.Holding.Withdraw(c.Request.Context(), n)
	}
	s.done(c, err, "moved")
}

// fact keeps that the step is done already, without a release or before it was held here.
func (s sheets) fact(c *gin.Context) {
	n := holding.StepFact{Hold: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Holding.TellFact(c.Request.Context(), n)
	}
	s.done(c, err, "fact")
}

func (s sheets) step(c *gin.Context) {
	n := holding.NewStep{Hold: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Holding.RecordStep(c.Request.Context(), n)
	}
	s.done(c, err)
}

// after begins the checks of a hold once more, after its step.
func (s sheets) after(c *gin.Context) {
	id := c.Param("id")
	h, err := s.Holding.Hold(c.Request.Context(), id)
	if err == nil {
		err = s.Measuring.BeginAfter(c.Request.Context(), measuring.BeginAfter{Form: ledger.Form{ID: c.PostForm("id")}, Hold: id})
	}
	s.Done(c, err, "/setups/"+h.SetupID, func(r ui.Refused) { s.show(c, id, r) })
}

// look keeps what someone looked at, and goes back to where it was asked.
func (s sheets) look(c *gin.Context) {
	var n gate.LookAt
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.By)
	if id, onHold := strings.CutPrefix(ui.Back(c), "/holds/"); err == nil && onHold && c.PostForm("all") != "" {
		n.Also, err = s.others(c.Request.Context(), id, n)
	}
	if err == nil {
		err = s.Gate.Look(c.Request.Context(), n)
	}
	s.Done(c, err, ui.Back(c), func(r ui.Refused) {
		r.Of, r.Typed["looked"] = "access", string(n.Need)+n.Of
		for _, what := range n.What {
			r.Typed["what:"+what] = "ticked"
		}
		s.Again(c, r)
	})
}

// others are the other things that a hold asks the same of.
func (s sheets) others(ctx context.Context, id string, n gate.LookAt) (out []string, err error) {
	h, err := s.Workshop.Hold(ctx, id)
	for _, r := range h.Required {
		if r.Need == n.Need && r.Of != "" && r.Of != n.Of {
			out = append(out, r.Of)
		}
	}
	return out, err
}

// newView is the form of a hold before a step.
type newView struct {
	overview.AssemblySheet
	Groups []group
	Parts  []stores.Part
	Steps  []hold.Step
	Typed  map[string]string
	Chosen map[string]bool
}

// group is the usual holds of an assembly of a kind.
type group struct {
	Name  string
	ID    string
	Holds []holding.UsualHold
}

func (s sheets) newHold(c *gin.Context) {
	filled := map[string]string{}
	if u, ok := holding.UsualHoldOf(c.Query("usual"), int(ui.Int(c.DefaultQuery("number", "-1")))); ok {
		filled = map[string]string{"name": u.Name, "step": u.Step, "permanent": u.Permanent, "why": u.Why, "bay": u.Bay, "tasks": strings.Join(u.Tasks, "\n")}
		if u.Second {
			filled["second"] = "true"
		}
	}
	s.showNew(c, ui.Refused{Typed: filled})
}

func (s sheets) showNew(c *gin.Context, r ui.Refused) {
	sheet, err := s.Assembly(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := newView{AssemblySheet: sheet, Steps: hold.Steps, Typed: r.Typed, Chosen: map[string]bool{}}
	if v.Parts, err = s.HandedParts(c.Request.Context(), sheet.Airframe.ID, sheet.ID); err != nil {
		s.Fail(c, err)
		return
	}
	for _, p := range c.PostFormArray("parts") {
		v.Chosen[p] = true
	}
	if r.Wrong == nil { // opened: what lies in this assembly is asked for unless it is unticked
		for _, p := range v.Parts {
			v.Chosen[p.ID] = p.AssemblyID == sheet.ID
		}
	}
	for _, u := range measuring.UsualChecks {
		if list := holding.UsualHolds[u.ID]; len(list) > 0 {
			v.Groups = append(v.Groups, group{u.Name, u.ID, list})
		}
	}
	p := s.Page(c, "hold", "A hold before a step", v, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "assembly", Text: sheet.Name}, ui.Footing{Label: "sheet", Text: "H 3"})
	p.Unit = sheet.Airframe.Unit
	p.Problem = r.Wrong
	s.Render(c, r.Status, "newhold", p)
}

func (s sheets) addHold(c *gin.Context) {
	n := holding.NewStand{Assembly: c.Param("id"), Tasks: ui.Lines(c.PostForm("tasks"))}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Holding.StandBefore(c.Request.Context(), n)
	}
	s.Done(c, err, "/holds/"+n.ID, func(r ui.Refused) { s.showNew(c, r) })
}
