package web

import (
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/hold"
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
	for _, what := range n.What {
		fields["what:"+what] = "ticked"
	}
	c.Params = gin.Params{{Key: "id", Value: id}}
	switch kind {
	case "bays":
		s.showBay(c, id, http.StatusUnprocessableEntity, "access", wrong, fields)
	default:
		s.showHold(c, http.StatusUnprocessableEntity, wrong, fields)
	}
}
