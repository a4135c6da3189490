package web

import (
	"fmt"
	"io"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/hold"
	"orpine/internal/core/part"
	"orpine/internal/core/slip"
)

// bayView is a space that will be closed.
type bayView struct {
	app.Bay
	Judged []hold.Line
	Things []string
	Who    string
	Typed  map[string]string
	Of     string // which form was refused
}

func (s *server) bay(c *gin.Context) { s.showBay(c, c.Param("id"), http.StatusOK, "", nil, nil) }

func (s *server) showBay(c *gin.Context, id string, status int, of string, wrong app.Problems, typed map[string]string) {
	b, err := s.app.Bay(c.Request.Context(), id)
	if err != nil {
		s.fail(c, err)
		return
	}
	view := bayView{Bay: b, Things: app.Things, Who: who(c), Typed: typed, Of: of,
		Judged: hold.Judge([]hold.Requirement{{Need: hold.Inside, Of: b.ID}}, hold.Evidence{Bays: map[string]hold.BayState{b.ID: b.State}}, s.app.Now()).Lines}
	p := s.page(c, "hold", b.Name, view, footing{"airframe", b.Airframe.Name}, footing{"assembly", b.AssemblyName}, footing{"closed by", b.Hold.Name}, footing{"sheet", "H 2"})
	p.Path, p.Problem = "/bays/"+b.ID, wrong
	p.Slip = slipContext{Assembly: b.AssemblyID, Step: b.Hold.Step, Place: b.Name}
	s.render(c, status, "bay", "layout.html", p)
}

// bayDone goes back to the bay, or shows what was refused there.
func (s *server) bayDone(c *gin.Context, err error, of string, fields ...string) {
	id := c.Param("id")
	remember(c, "who", c.PostForm("by"))
	if wrong, ok := problems(err); ok {
		s.showBay(c, id, http.StatusUnprocessableEntity, of, wrong, typed(c, fields...))
		return
	}
	s.done(c, err, "/bays/"+id)
}

func (s *server) addTask(c *gin.Context) {
	s.bayDone(c, s.app.AddTask(c.Request.Context(), app.NewTask{ID: c.PostForm("id"), Bay: c.Param("id"), What: c.PostForm("task")}), "task", "task")
}

func (s *server) finishTask(c *gin.Context) {
	s.bayDone(c, s.app.FinishTask(c.Request.Context(), app.TaskDone{ID: c.PostForm("id"), Bay: c.Param("id"), Task: c.PostForm("which"), By: c.PostForm("by"), Note: c.PostForm("note")}), c.PostForm("which"), "by", "note")
}

func (s *server) count(c *gin.Context) {
	n, _ := strconv.Atoi(strings.TrimSpace(c.PostForm("number"))) // anything else is 0, and refused
	if n < 0 {
		n = 0
	}
	if c.PostForm("way") == "out" {
		n = -n
	}
	thing := c.PostForm("thing")
	if other := strings.TrimSpace(c.PostForm("other")); other != "" {
		thing = other
	}
	s.bayDone(c, s.app.Count(c.Request.Context(), app.NewCount{ID: c.PostForm("id"), Bay: c.Param("id"), Thing: thing, Number: n, By: c.PostForm("by")}), "count", "thing", "other", "number", "by")
}

// back is where a form says that it was sent from; only this program's own pages.
func back(c *gin.Context) string {
	to := c.PostForm("back")
	if !strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//") || strings.HasPrefix(to, "/\\") {
		return "/"
	}
	return to
}

// look keeps what someone looked at, and goes back to where it was asked.
func (s *server) look(c *gin.Context) {
	n := app.LookAt{ID: c.PostForm("id"), Need: hold.Need(c.PostForm("need")), Of: c.PostForm("of"), What: c.PostFormArray("what"), By: c.PostForm("by"), Second: c.PostForm("second"), Note: c.PostForm("note")}
	remember(c, "who", n.By)
	err := s.app.Look(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.refusedLook(c, n, wrong)
		return
	}
	s.done(c, err, back(c))
}

// refusedLook shows the page that the look was sent from, with what was typed.
func (s *server) refusedLook(c *gin.Context, n app.LookAt, wrong app.Problems) {
	to, fields := back(c), typed(c, "by", "second", "note")
	kind, id, _ := strings.Cut(strings.TrimPrefix(to, "/"), "/")
	id, _, _ = strings.Cut(id, "?")
	fields["looked"] = string(n.Need) + n.Of
	c.Params = gin.Params{{Key: "id", Value: id}}
	switch kind {
	case "bays":
		s.showBay(c, id, http.StatusUnprocessableEntity, "access", wrong, fields)
	default:
		s.showHold(c, http.StatusUnprocessableEntity, wrong, fields)
	}
}

// addPhoto keeps a picture with a bay, a part, a hold or a slip.
func (s *server) addPhoto(c *gin.Context) {
	n := app.NewPhoto{ID: c.PostForm("id"), Of: c.PostForm("of"), Caption: c.PostForm("caption")}
	file, err := c.FormFile("photo")
	if err != nil {
		n.ID = "" // too large a body has no fields at all
	} else if n.Data, err = readAll(file.Open); err != nil {
		s.fail(c, err)
		return
	}
	var wrong app.Problems
	if file == nil {
		wrong = app.Problems{"photo": "choose a JPEG or PNG picture of 15 MB at most"}
	} else {
		err = s.app.AddPhoto(c.Request.Context(), n)
		wrong, _ = problems(err)
	}
	to := back(c)
	if wrong == nil {
		s.done(c, err, to)
		return
	}
	kind, id, _ := strings.Cut(strings.TrimPrefix(to, "/"), "/")
	switch kind {
	case "bays":
		s.showBay(c, id, http.StatusUnprocessableEntity, "photo", wrong, typed(c, "caption"))
	case "holds":
		c.Params = gin.Params{{Key: "id", Value: id}}
		s.showHold(c, http.StatusUnprocessableEntity, wrong, typed(c, "caption"))
	case "slips":
		s.showSlips(c, http.StatusUnprocessableEntity, n.Of, wrong, nil)
	case "stores":
		s.showStores(c, http.StatusUnprocessableEntity, n.Of, wrong, nil)
	default:
		s.render(c, http.StatusUnprocessableEntity, "error", "layout.html", s.page(c, "", "The picture was not kept", failure{"The picture was not kept", wrong["photo"], ""}))
	}
}

// readAll reads a file that was sent.
func readAll[F io.ReadCloser](open func() (F, error)) ([]byte, error) {
	f, err := open()
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return io.ReadAll(io.LimitReader(f, app.MaxPhoto+1))
}

func (s *server) photo(c *gin.Context) { s.sendPhoto(c, false) }
func (s *server) thumb(c *gin.Context) { s.sendPhoto(c, true) }

func (s *server) sendPhoto(c *gin.Context, thumb bool) {
	kind, data, err := s.app.PhotoContent(c.Request.Context(), c.Param("id"), thumb)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	c.Data(http.StatusOK, kind, data)
}

// slipContext is where a slip would be logged from.
type slipContext struct{ Assembly, Step, Place string }

// slipsView is the list of slips.
type slipsView struct {
	Slips   []app.Slip
	Minutes int
	Of      string // whose form was refused
	Typed   map[string]string
}

func (s *server) logSlip(c *gin.Context) {
	n := app.NewSlip{ID: c.PostForm("id"), Assembly: c.PostForm("assembly"), Step: c.PostForm("step"), Place: c.PostForm("place"), Cause: c.PostForm("cause")}
	err := s.app.LogSlip(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showSlips(c, http.StatusUnprocessableEntity, "", wrong, nil)
		return
	}
	to := back(c)
	sign := "?"
	if strings.Contains(to, "?") {
		sign = "&"
	}
	s.done(c, err, to+sign+"slipped="+n.ID)
}

func (s *server) slips(c *gin.Context) { s.showSlips(c, http.StatusOK, "", nil, nil) }

func (s *server) showSlips(c *gin.Context, status int, of string, wrong app.Problems, typed map[string]string) {
	list, err := s.app.Slips(c.Request.Context(), "")
	if err != nil {
		s.fail(c, err)
		return
	}
	view := slipsView{Slips: list, Of: of, Typed: typed}
	for _, one := range list {
		view.Minutes += one.Minutes
	}
	p := s.page(c, "log", "Slips", view, footing{"slips", fmt.Sprint(len(list))}, footing{"minutes", fmt.Sprint(view.Minutes)}, footing{"sheet", "L 2"})
	p.Path, p.Problem = "/slips", wrong
	s.render(c, status, "slips", "layout.html", p)
}

func (s *server) tellSlip(c *gin.Context) {
	n := app.SlipCost{ID: c.PostForm("id"), Slip: c.Param("id"), What: c.PostForm("what"), Found: c.PostForm("found"), Minutes: c.PostForm("minutes"), Money: c.PostForm("money"), Parts: c.PostForm("parts"), Lesson: c.PostForm("lesson")}
	err := s.app.TellSlip(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showSlips(c, http.StatusUnprocessableEntity, n.Slip, wrong, typed(c, "what", "found", "minutes", "money", "parts", "lesson"))
		return
	}
	s.done(c, err, "/slips#"+n.Slip)
}

var slipCauses = slip.Causes

// storesView is the Stores sheet.
type storesView struct {
	app.Stores
	Checks []app.HandCheck
	Hands  []string
	Sorts  []string
	Setup  map[string]string // of each check that compares hands
	Of     string
	Typed  map[string]string
}

func (s *server) stores(c *gin.Context) { s.showStores(c, http.StatusOK, "", nil, nil) }

func (s *server) showStores(c *gin.Context, status int, of string, wrong app.Problems, typed map[string]string) {
	frame := c.Query("airframe")
	if frame == "" {
		frame = c.PostForm("airframe")
	}
	stores, err := s.app.Stores(c.Request.Context(), frame)
	if err != nil {
		s.fail(c, err)
		return
	}
	checks, err := s.app.HandChecks(c.Request.Context(), stores.Airframe.ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	view := storesView{Stores: stores, Checks: checks, Hands: part.Hands, Sorts: app.StockSorts, Setup: map[string]string{}, Of: of, Typed: typed}
	for _, check := range checks {
		view.Setup[check.ID] = check.Setup
	}
	p := s.page(c, "stores", "Stores", view, footing{"airframe", stores.Airframe.Name}, footing{"parts", fmt.Sprint(len(stores.Parts))}, footing{"notices", fmt.Sprint(len(stores.Notices))}, footing{"sheet", "P 1"})
	p.Path, p.Problem = "/stores", wrong
	s.render(c, status, "stores", "layout.html", p)
}

// storesDone goes back to the stores, or shows what was refused there.
func (s *server) storesDone(c *gin.Context, err error, of string, fields ...string) {
	if wrong, ok := problems(err); ok {
		s.showStores(c, http.StatusUnprocessableEntity, of, wrong, typed(c, fields...))
		return
	}
	s.done(c, err, "/stores?airframe="+c.PostForm("airframe"))
}

var partFields = []string{"number", "name", "hand", "supplier", "lot", "process", "condition", "place", "clue", "assembly", "row", "check"}

func (s *server) addPart(c *gin.Context) {
	n := app.NewPart{ID: c.PostForm("id"), Airframe: c.PostForm("airframe"), Number: c.PostForm("number"), Name: c.PostForm("name"), Hand: c.PostForm("hand"), Supplier: c.PostForm("supplier"), Lot: c.PostForm("lot"), Process: c.PostForm("process"),
		Condition: c.PostForm("condition"), Place: c.PostForm("place"), Clue: c.PostForm("clue"), Assembly: c.PostForm("assembly"), Row: c.PostForm("row"), Check: c.PostForm("check")}
	s.storesDone(c, s.app.AddPart(c.Request.Context(), n), "part", partFields...)
}

func (s *server) movePart(c *gin.Context) {
	n := app.PartMoved{ID: c.PostForm("id"), Part: c.Param("id"), Place: c.PostForm("place"), Assembly: c.PostForm("assembly"), Row: c.PostForm("row"), Check: c.PostForm("check"), Condition: c.PostForm("condition")}
	s.storesDone(c, s.app.MovePart(c.Request.Context(), n), n.Part, "place", "assembly", "row", "check", "condition")
}

func (s *server) addNotice(c *gin.Context) {
	n := app.NewNotice{ID: c.PostForm("id"), Airframe: c.PostForm("airframe"), Title: c.PostForm("title"), Note: c.PostForm("note"), Names: part.Notice{Numbers: names(c, "numbers"), Lots: names(c, "lots"), Processes: names(c, "processes")}}
	s.storesDone(c, s.app.AddNotice(c.Request.Context(), n), "notice", "title", "note", "numbers", "lots", "processes")
}

// names reads a field of names parted by commas, semicolons or lines.
func names(c *gin.Context, field string) []string {
	var out []string
	for _, name := range strings.FieldsFunc(c.PostForm(field), func(r rune) bool { return r == ',' || r == ';' || r == '\n' }) {
		if name = strings.TrimSpace(name); name != "" {
			out = append(out, name)
		}
	}
	return out
}

func (s *server) countStock(c *gin.Context) {
	number, _ := strconv.Atoi(strings.TrimSpace(c.PostForm("number"))) // anything else is 0, and refused
	n := app.NewStock{ID: c.PostForm("id"), Airframe: c.PostForm("airframe"), Sort: c.PostForm("sort"), Name: c.PostForm("name"), Number: number, Note: c.PostForm("note")}
	s.storesDone(c, s.app.CountStock(c.Request.Context(), n), "stock", "sort", "name", "number", "note")
}

// record is the record of one assembly, to be read and printed.
func (s *server) record(c *gin.Context) {
	r, err := s.app.Record(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.render(c, http.StatusOK, "record", "layout.html", s.page(c, "airframe", r.Assembly.Name+": the record", r, footing{"airframe", r.Airframe.Name}, footing{"assembly", r.Assembly.Name}, footing{"journal", fmt.Sprintf("%d entries", r.Entries)}, footing{"sheet", "A 4"}))
}

// newHoldView is the form of a hold before a step.
type newHoldView struct {
	app.Assembly
	Airframe app.Airframe
	Groups   []holdGroup
	Parts    []app.Part
	Steps    []hold.Step
	Typed    map[string]string
	Chosen   map[string]bool
}

// holdGroup is the holds that come with a template of checks.
type holdGroup struct {
	Name  string
	ID    string
	Holds []app.HoldTemplate
}

func (s *server) newHold(c *gin.Context) {
	filled := map[string]string{}
	number, err := strconv.Atoi(c.Query("number"))
	if t, ok := app.HoldTemplateOf(c.Query("template"), number); ok && err == nil {
		filled = map[string]string{"name": t.Name, "step": t.Step, "permanent": t.Permanent, "why": t.Why, "bay": t.Bay, "tasks": strings.Join(t.Tasks, "\n")}
		if t.Second {
			filled["second"] = "yes"
		}
	}
	s.showNewHold(c, http.StatusOK, nil, filled)
}

func (s *server) showNewHold(c *gin.Context, status int, wrong app.Problems, typed map[string]string) {
	frame, a, err := s.app.Assembly(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	stores, err := s.app.Stores(c.Request.Context(), frame.ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	view := newHoldView{Assembly: a, Airframe: frame, Steps: hold.Steps, Typed: typed, Chosen: map[string]bool{}}
	for _, p := range stores.Parts {
		if part.Handed(p.Hand) && (p.AssemblyID == "" || p.AssemblyID == a.ID) {
			view.Parts = append(view.Parts, p)
		}
	}
	for _, p := range c.PostFormArray("parts") {
		view.Chosen[p] = true
	}
	if wrong == nil { // opened: what lies in this assembly is asked for unless it is unticked
		for _, p := range view.Parts {
			view.Chosen[p.ID] = p.AssemblyID == a.ID
		}
	}
	for _, t := range app.Templates {
		if len(app.HoldTemplates[t.ID]) > 0 {
			view.Groups = append(view.Groups, holdGroup{t.Name, t.ID, app.HoldTemplates[t.ID]})
		}
	}
	p := s.page(c, "hold", "A hold before a step", view, footing{"airframe", frame.Name}, footing{"assembly", a.Name}, footing{"sheet", "H 3"})
	p.Problem = wrong
	s.render(c, status, "newhold", "layout.html", p)
}

func (s *server) addHold(c *gin.Context) {
	n := app.NewStand{ID: c.PostForm("id"), Assembly: c.Param("id"), Name: c.PostForm("name"), Step: c.PostForm("step"), Permanent: c.PostForm("permanent"), Why: c.PostForm("why"), Setup: c.PostForm("setup"), Parts: c.PostFormArray("parts"), Second: c.PostForm("second") != "", Bay: c.PostForm("bay"), Tasks: lines(c.PostForm("tasks"))}
	err := s.app.StandBefore(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showNewHold(c, http.StatusUnprocessableEntity, wrong, typed(c, "name", "step", "permanent", "why", "setup", "second", "bay", "tasks"))
		return
	}
	s.done(c, err, "/holds/"+n.ID)
}

// lines are the lines of a field that are not empty.
func lines(text string) []string {
	var out []string
	for _, line := range strings.Split(text, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			out = append(out, line)
		}
	}
	return out
}
