// Package asking is the sheet of questions: what is asked of whom, what waits for it, and what
// was decided.
package asking

import (
	"embed"
	"fmt"
	"strconv"

	"github.com/gin-gonic/gin"

	"orpine/internal/asking"
	"orpine/internal/overview"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// Routes registers the sheet.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Pages(templates)
	u.GET("/questions", func(c *gin.Context) { s.show(c, c.Query("airframe"), ui.Refused{}) })
	u.POST("/airframes/:id/questions", s.ask)
	u.POST("/airframes/:id/questions/:question/answer", s.answer)
}

type view struct {
	overview.QuestionsSheet
	Open, Answered []questionView
	Sorts          []string
	Lines          []frozenLine
	Of             string
	Typed          map[string]string
	Who            string
}

type questionView struct {
	asking.Asked
	What     []string // in words, that it freezes
	LastName string
	Due      bool
	Mine     bool
}

type frozenLine struct{ What, Holes string }

// mostFrozen is how many things one form freezes.
const mostFrozen = 3

func (s sheets) show(c *gin.Context, id string, r ui.Refused) {
	sheet, err := s.Asks(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := view{QuestionsSheet: sheet, Sorts: asking.Sorts, Of: r.Of, Typed: r.Typed, Who: ui.Who(c)}
	for _, a := range sheet.Questions {
		q := questionView{Asked: a, LastName: sheet.Names[a.Last], Due: a.Due(sheet.Today), Mine: r.Of == a.ID}
		for _, f := range a.Freezes {
			name := sheet.Names[f.What]
			if name == "" {
				name = "a step that is done or gone"
			}
			if f.Holes != "" {
				name += ", holes " + f.Holes
			}
			q.What = append(q.What, name)
		}
		if a.Open() {
			v.Open = append(v.Open, q)
		} else {
			v.Answered = append(v.Answered, q)
		}
	}
	what, holes := c.PostFormArray("what"), c.PostFormArray("holes")
	for i := range mostFrozen {
		l := frozenLine{}
		if r.Of == "ask" && i < len(what) {
			l.What = what[i]
		}
		if r.Of == "ask" && i < len(holes) {
			l.Holes = holes[i]
		}
		v.Lines = append(v.Lines, l)
	}
	p := s.Page(c, "order", "Questions", v, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "open", Text: fmt.Sprint(len(v.Open))}, ui.Footing{Label: "sheet", Text: "O 5"})
	p.Unit = sheet.Airframe.Unit
	p.Path, p.Problem = "/questions", r.Wrong
	s.Render(c, r.Status, "questions", p)
}

func (s sheets) done(c *gin.Context, err error, of string) {
	id := c.Param("id")
	s.Done(c, err, "/questions?airframe="+id, func(r ui.Refused) {
		r.Of = of
		s.show(c, id, r)
	})
}

func (s sheets) ask(c *gin.Context) {
	n := asking.NewQuestion{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Asking.Ask(c.Request.Context(), n)
	}
	s.done(c, err, "ask")
}

func (s sheets) answer(c *gin.Context) {
	n := asking.Answered{}
	n.Open, _ = strconv.ParseBool(c.PostForm("open"))
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.By)
	if err == nil && !n.Open {
		n.By, err = s.SignedAnswer(c, n.By)
	}
	if n.Question = c.Param("question"); err == nil {
		err = s.Asking.AnswerIt(c.Request.Context(), n)
	}
	s.done(c, err, n.Question)
}
