package web

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/slip"
)

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
