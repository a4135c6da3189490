package web

import (
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/hold"
	"orpine/internal/core/part"
)

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
