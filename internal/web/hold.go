package web

import (
	"fmt"
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/web/drawing"
	"orpine/internal/worksheet"
)

// holdView is the Hold sheet: one irreversible step.
type holdView struct {
	app.Hold
	Lines   []evidence
	Typed   map[string]string
	State   string // refused, ready, unsure, stop, released or done
	Care    string // the caution of the step
	Lessons []app.Lesson
	Who     string
	Closes  []app.Bay
	Photos  []app.Photo
	Events  []measure.Event
	Drawing any
}

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

func (s *server) holds(c *gin.Context) {
	var list []app.Hold
	for _, a := range s.everything(c) {
		list = append(list, a.Holds...)
	}
	if c.IsAborted() {
		return
	}
	if len(list) == 1 {
		c.Redirect(http.StatusSeeOther, "/holds/"+list[0].ID)
		return
	}
	s.render(c, http.StatusOK, "holds", "layout.html", s.page(c, "hold", "Holds", list, footing{"holds", fmt.Sprint(len(list))}, footing{"sheet", "H"}))
}

func (s *server) hold(c *gin.Context) { s.showHold(c, http.StatusOK, nil, nil) }

func (s *server) showHold(c *gin.Context, status int, wrong app.Problems, typed map[string]string) {
	h, err := s.app.Hold(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	view := holdView{Hold: h, Typed: typed, State: holdState(h), Care: cautions[hold.Step(h.Step)], Who: who(c), Events: measure.Disturbances}
	if view.Lessons, err = s.app.Lessons(c.Request.Context(), h.Airframe.ID, h.AssemblyName, h.Step); err != nil {
		s.fail(c, err)
		return
	}
	if checks := h.Setup.Checks; len(checks) > 0 {
		view.Drawing = scene{h.Setup, checks[len(checks)-1], app.Spot{}, false}.draw()
	}
	if view.Photos, err = s.app.PhotosOf(c.Request.Context(), h.ID); err != nil {
		s.fail(c, err)
		return
	}
	if h.Setup.ID == "" { // no setup to draw: the rows as they lie
		if view.Drawing, err = s.rowsDrawing(c, h.AssemblyID); err != nil {
			s.fail(c, err)
			return
		}
	}
	for _, l := range h.Judgement.Lines {
		e := evidence{Line: l, Mark: l.Standing.String()}
		if l.Standing != hold.Met {
			switch {
			case l.Need != "":
				e.mendOther()
			case l.Tool != "":
				e.Href, e.Mend = "/instruments", "turn it end for end"
			case l.Check != "":
				e.Href, e.Mend = "/setups/"+h.Setup.ID+"?check="+l.Check, "to the readings"
			}
		}
		view.Lines = append(view.Lines, e)
	}
	if hold.Step(h.Step).Closes() {
		bays, err := s.app.BaysOf(c.Request.Context(), h.AssemblyID)
		if err != nil {
			s.fail(c, err)
			return
		}
		view.Closes = slices.DeleteFunc(bays, func(b app.Bay) bool { return b.Hold.ID != h.ID })
	}
	p := s.page(c, "hold", h.Name, view, footing{"airframe", h.Airframe.Name}, footing{"assembly", h.AssemblyName}, footing{"step", h.Step}, footing{"becomes permanent", h.Permanent}, footing{"sheet", "H 1"})
	p.Path = "/holds/" + h.ID
	p.Slip = slipContext{Assembly: h.AssemblyID, Step: h.Step, Place: h.Name}
	p.Problem = wrong
	s.render(c, status, "hold", "layout.html", p)
}

// mendOther is where the evidence is mended that is not a check's.
func (e *evidence) mendOther() {
	switch e.Need {
	case hold.Prepared:
		if !e.Look {
			e.Href, e.Mend = "/rows/"+e.Of, "to the row"
		}
	case hold.Handed:
		e.Href, e.Mend = "/stores#"+e.Of, "to the part"
	case hold.Inside:
		e.Href, e.Mend = "/bays/"+e.Of, "to what lies inside"
	case hold.Before:
		e.Href, e.Mend = "/holds/"+e.Of, "to that hold"
	}
}

func holdState(h app.Hold) string {
	switch {
	case h.Spent():
		return "done"
	case h.Released():
		return "released"
	}
	return map[hold.Standing]string{hold.Met: "ready", hold.Unsure: "unsure", hold.Stop: "stop", hold.Missing: "refused"}[h.Judgement.Standing]
}

func (s *server) release(c *gin.Context) {
	n := app.NewRelease{ID: c.PostForm("id"), Hold: c.Param("id"), By: c.PostForm("by"), Reason: c.PostForm("reason"), AnsweredBy: c.PostForm("answered_by"), Answer: c.PostForm("answer"), Answered: c.PostForm("answered"), Document: c.PostForm("document")}
	remember(c, "who", n.By)
	err := s.app.Release(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showHold(c, http.StatusUnprocessableEntity, wrong, typed(c, "by", "reason", "answered_by", "answer", "answered", "document"))
		return
	}
	s.done(c, err, "/holds/"+n.Hold)
}

func (s *server) withdraw(c *gin.Context) {
	n := app.Withdrawal{ID: c.PostForm("id"), Hold: c.Param("id"), What: measure.Event(c.PostForm("what")), By: c.PostForm("by")}
	remember(c, "who", n.By)
	err := s.app.Withdraw(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showHold(c, http.StatusUnprocessableEntity, wrong, map[string]string{"moved": "yes", "by": n.By})
		return
	}
	s.done(c, err, "/holds/"+n.Hold)
}

func (s *server) step(c *gin.Context) {
	n := app.NewStep{ID: c.PostForm("id"), Hold: c.Param("id"), By: c.PostForm("by"), Note: c.PostForm("note")}
	err := s.app.RecordStep(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showHold(c, http.StatusUnprocessableEntity, wrong, typed(c, "by", "note"))
		return
	}
	s.done(c, err, "/holds/"+n.Hold)
}

// logView is the Log sheet.
type logView struct {
	Days    []logDay
	More    int64 // the entry before which older ones begin; 0 for none
	Checked string
	Broken  bool
}

type logDay struct {
	Day     string
	Entries []app.LogEntry
}

const logPage = 100

func (s *server) journal(c *gin.Context) {
	var before int64
	_, _ = fmt.Sscan(c.Query("before"), &before) // anything else starts at the end
	entries, more, err := s.app.Log(c.Request.Context(), before, logPage)
	if err != nil {
		s.fail(c, err)
		return
	}
	var view logView
	for _, e := range entries {
		day := e.At.Format("Monday 2 January 2006")
		if len(view.Days) == 0 || view.Days[len(view.Days)-1].Day != day {
			view.Days = append(view.Days, logDay{Day: day})
		}
		d := &view.Days[len(view.Days)-1]
		d.Entries = append(d.Entries, e)
	}
	if more {
		view.More = entries[len(entries)-1].Seq
	}
	if c.Query("check") != "" {
		n, err := s.app.Verify(c.Request.Context())
		view.Checked, view.Broken = fmt.Sprintf("All %d entries hold.", n), err != nil
		if err != nil {
			view.Checked = err.Error()
		}
	}
	last := "none"
	if len(entries) > 0 {
		last = fmt.Sprint(entries[0].Seq)
	}
	s.render(c, http.StatusOK, "log", "layout.html", s.page(c, "log", "Log", view, footing{"last entry", last}, footing{"kept as", "an append-only chain"}, footing{"sheet", "L 1"}))
}

// instrumentsView is the Instruments sheet.
type instrumentsView struct {
	List   []instrumentView
	Sorts  []app.Sort
	Typed  map[string]string
	Of     string // id of the instrument whose form was refused; "new" for the last form
	Opened bool
}

func (s *server) instruments(c *gin.Context) { s.showInstruments(c, http.StatusOK, "", nil, nil) }

func (s *server) showInstruments(c *gin.Context, status int, of string, wrong app.Problems, typed map[string]string) {
	list, err := s.app.Instruments(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	view := instrumentsView{Sorts: app.Sorts, Typed: typed, Of: of, Opened: len(list) == 0 || of == "new"}
	for _, in := range list {
		view.List = append(view.List, s.viewInstrument(in))
	}
	p := s.page(c, "instruments", "Instruments", view,
		footing{"instruments", fmt.Sprint(len(list))}, footing{"sheet", "I 1"})
	p.Path = "/instruments"
	p.Problem = wrong
	s.render(c, status, "instruments", "layout.html", p)
}

// instrumentView is one instrument with what is in force for it.
type instrumentView struct {
	app.Instrument
	OffsetSays, SpreadSays string // where the figures come from
	DueSays                string
	Overdue                bool
}

func (s *server) viewInstrument(in app.Instrument) instrumentView {
	v := instrumentView{Instrument: in, OffsetSays: "as typed", SpreadSays: "as typed"}
	for _, p := range in.Proofs {
		switch {
		case p.What == "spread" && v.SpreadSays == "as typed":
			v.SpreadSays = "five placings, " + s.sayWhen(p.At)
		case p.What == "offset" && v.OffsetSays == "as typed":
			v.OffsetSays = "known length, " + s.sayWhen(p.At)
		}
	}
	until, due := in.Due()
	switch {
	case !due:
	case in.Proven().IsZero():
		v.DueSays, v.Overdue = "now, never proven", true
	case until.Format(time.DateOnly) < s.app.Now().Format(time.DateOnly):
		v.DueSays, v.Overdue = "now, before it is used", true
	case in.DueDays == 0:
		v.DueSays = "each day that it is used"
	default:
		v.DueSays = "by " + until.Format("2 January 2006")
	}
	return v
}

func (s *server) addInstrument(c *gin.Context) {
	n := app.NewInstrument{ID: c.PostForm("id"), Name: c.PostForm("name"), Sort: c.PostForm("sort"), Resolution: c.PostForm("resolution"), Offset: c.PostForm("offset"), Spread: c.PostForm("spread"), Own: c.PostForm("own"), DueDays: c.PostForm("due_days")}
	err := s.app.AddInstrument(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showInstruments(c, http.StatusUnprocessableEntity, "new", wrong, typed(c, "name", "sort", "resolution", "offset", "spread", "own", "due_days"))
		return
	}
	s.done(c, err, "/instruments")
}

func (s *server) testInstrument(c *gin.Context) {
	t := app.EndForEnd{ID: c.PostForm("id"), Instrument: c.Param("id"), First: c.PostForm("first"), Turned: c.PostForm("turned")}
	err := s.app.TestInstrument(c.Request.Context(), t)
	if wrong, ok := problems(err); ok {
		s.showInstruments(c, http.StatusUnprocessableEntity, t.Instrument, wrong, typed(c, "first", "turned"))
		return
	}
	s.done(c, err, "/instruments")
}

// assemblyView is the page of one assembly.
type assemblyView struct {
	app.Assembly
	Airframe    app.Airframe
	Class       string
	Drawing     any
	Instruments []app.Instrument
	Templates   []app.Template
	Rows        []app.RowRecord
	Bays        []app.Bay
	Lessons     []app.Lesson
	Typed       map[string]string
}

func (s *server) assembly(c *gin.Context) { s.showAssembly(c, http.StatusOK, nil, nil) }

func (s *server) showAssembly(c *gin.Context, status int, wrong app.Problems, typed map[string]string) {
	frame, a, err := s.app.Assembly(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	instruments, err := s.app.Instruments(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	part := outline(a.Shape)
	part.Number, part.Name, part.State, part.Says, part.Href = 1, a.Name, stateClass(a.State), string(a.State), "/assemblies/"+a.ID
	view := assemblyView{a, frame, part.State, drawing.Airframe(a.Name, []drawing.Part{part}), instruments, app.Templates, nil, nil, nil, typed}
	if err := s.around(c, &view); err != nil {
		s.fail(c, err)
		return
	}
	p := s.page(c, "airframe", a.Name, view, footing{"airframe", frame.Name}, footing{"assembly", a.Name}, footing{"state", string(a.State)}, footing{"sheet", "A 2"})
	p.Path = "/assemblies/" + a.ID
	p.Slip = slipContext{Assembly: a.ID, Place: a.Name}
	p.Problem = wrong
	s.render(c, status, "assembly", "layout.html", p)
}

// around loads the rows, spaces and lessons of an assembly.
func (s *server) around(c *gin.Context, v *assemblyView) (err error) {
	if v.Rows, err = s.app.RowRecords(c.Request.Context(), v.ID); err != nil {
		return err
	}
	if v.Bays, err = s.app.BaysOf(c.Request.Context(), v.ID); err != nil {
		return err
	}
	v.Lessons, err = s.app.Lessons(c.Request.Context(), v.Airframe.ID, v.Name, "")
	return err
}

var setupFields = []string{"name", "supports", "apart", "stations", "low", "high", "survey", "level", "hold", "why"}

// beginSetup begins a setup of a surface on rails.
func (s *server) beginSetup(c *gin.Context) {
	frame, a, err := s.app.Assembly(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	wrong := app.Problems{}
	read := func(field, text, as string) float64 {
		v, err := worksheet.Typed(text, as, frame.Unit)
		if err != nil {
			wrong.Add(field, err.Error())
		}
		return v
	}
	rails := app.OnRails{Apart: quantity.Length(read("apart", c.PostForm("apart"), "length")), Low: c.PostForm("low"), High: c.PostForm("high"), Survey: c.PostForm("survey"), Level: c.PostForm("level")}
	for _, x := range list(c.PostForm("supports")) {
		read("supports", x, "length")
		rails.Supports = append(rails.Supports, x)
	}
	for i, y := range list(c.PostForm("stations")) {
		read("stations", y, "length")
		rails.Stations = append(rails.Stations, app.Station{Name: fmt.Sprintf("station %d", i+1), Y: y})
	}
	if low, high := read("low", rails.Low, "either"), read("high", rails.High, "either"); low > high {
		wrong.Add("high", "is below the lower limit")
	}
	h := app.EndHoles(a.Name)
	h.Name, h.Why = c.PostForm("hold"), c.PostForm("why")
	n := app.NewSetup{ID: c.PostForm("id"), Assembly: a.ID, Name: c.PostForm("name"), Checks: rails.Checks(), Hold: h}
	if len(wrong) == 0 {
		err = s.app.BeginSetup(c.Request.Context(), n)
	}
	if more, ok := problems(err); ok || len(wrong) > 0 {
		for field, message := range more {
			wrong.Add(fieldOf(field), message)
		}
		s.showAssembly(c, http.StatusUnprocessableEntity, wrong, typed(c, setupFields...))
		return
	}
	s.done(c, err, "/setups/"+n.ID)
}
