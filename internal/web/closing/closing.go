// Package closing is the sheet of a space that will be closed.
package closing

import (
	"embed"

	"github.com/gin-gonic/gin"

	"orpine/internal/closing"
	"orpine/internal/core/hold"
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
	u.GET("/bays/:id", func(c *gin.Context) { s.show(c, c.Param("id"), ui.Refused{}) })
	u.POST("/bays/:id/tasks", s.addTask)
	u.POST("/bays/:id/done", s.finishTask)
	u.POST("/bays/:id/ticked", s.tick)
	u.POST("/bays/:id/placed", s.place)
	u.POST("/bays/:id/counts", s.count)
	u.POST("/bays/:id/opened", s.openAgain)
	u.Shows("bays", s.show)
}

// view is a space that will be closed.
type view struct {
	overview.BaySheet
	Things []string
	Who    string
	Typed  map[string]string
	Of     string // which form was refused

	Undecided []hold.Near
	Unreached []hold.KeptInside
}

func (s sheets) show(c *gin.Context, id string, r ui.Refused) {
	b, err := s.Bay(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := view{BaySheet: b, Things: closing.Things, Who: ui.Who(c), Typed: r.Typed, Of: r.Of, Undecided: b.State.Undecided(), Unreached: b.State.Unreached()}
	p := s.Page(c, "hold", b.Name, v, ui.Footing{Label: "airframe", Text: b.Airframe.Name}, ui.Footing{Label: "assembly", Text: b.AssemblyName}, ui.Footing{Label: "closed by", Text: b.Hold.Name}, ui.Footing{Label: "sheet", Text: "H 2"})
	p.Unit = b.Airframe.Unit
	p.Path, p.Problem = "/bays/"+b.ID, r.Wrong
	p.Slip = ui.SlipFrom{Assembly: b.AssemblyID, Step: b.Hold.Step, Place: b.Name}
	s.Render(c, r.Status, "bay", p)
}

// done goes back to the bay, or shows what was refused there.
func (s sheets) done(c *gin.Context, err error, of string) {
	id := c.Param("id")
	s.Remember(c, "who", c.PostForm("by"))
	s.Done(c, err, "/bays/"+id, func(r ui.Refused) {
		r.Of = of
		s.show(c, id, r)
	})
}

func (s sheets) addTask(c *gin.Context) {
	n := closing.NewTask{Bay: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Closing.AddTask(c.Request.Context(), n)
	}
	s.done(c, err, "task")
}

func (s sheets) finishTask(c *gin.Context) {
	n := closing.TaskDone{Bay: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Closing.FinishTask(c.Request.Context(), n)
	}
	s.done(c, err, n.Task)
}

func (s sheets) tick(c *gin.Context) {
	n := closing.Ticked{Bay: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Closing.Tick(c.Request.Context(), n)
	}
	s.done(c, err, "ticked")
}

func (s sheets) place(c *gin.Context) {
	n := closing.Placed{Bay: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Closing.Place(c.Request.Context(), n)
	}
	s.done(c, err, "placed")
}

func (s sheets) openAgain(c *gin.Context) {
	n := closing.OpenAgain{Bay: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Closing.OpenAgain(c.Request.Context(), n)
	}
	s.done(c, err, "opened")
}

func (s sheets) count(c *gin.Context) {
	n := closing.NewCount{Bay: c.Param("id")}
	err := ui.Bind(c, &n)
	n.Number = max(int(ui.Int(c.PostForm("number"))), 0) // anything else is refused
	if c.PostForm("way") == "out" {
		n.Number = -n.Number
	}
	if other := c.PostForm("other"); other != "" {
		n.Thing = other
	}
	if err == nil {
		err = s.Closing.Count(c.Request.Context(), n)
	}
	s.done(c, err, "count")
}
