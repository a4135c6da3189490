package web

import (
	"fmt"
	"html/template"
	"net/http"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/row"
	"orpine/internal/web/drawing"
)

// rowsView lists the rows of an airframe.
type rowsView struct {
	Airframe   app.Airframe
	Others     []app.Airframe
	Assemblies []app.AssemblyRows
}

func (s *server) rows(c *gin.Context) {
	frame, list, err := s.app.RowsOf(c.Request.Context(), c.Query("airframe"))
	if err != nil {
		s.fail(c, err)
		return
	}
	others, err := s.app.Airframes(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.render(c, http.StatusOK, "rows", "layout.html", s.page(c, "rows", "Rows", rowsView{frame, others, list}, footing{"airframe", frame.Name}, footing{"sheet", "R"}))
}

// orderView is the rows of one assembly, as they lie and in the order of setting.
type orderView struct {
	app.Assembly
	Airframe app.Airframe
	Rows     []app.RowRecord
	Drawing  any
	Legs     []row.Leg
	Helper   []row.Leg
	Pins     []pinList
	Lessons  []app.Lesson
}

// pinList is the clecos that one row takes.
type pinList struct {
	ID, Name, Size string
	Every          int
	Numbers        []int
}

func (s *server) order(c *gin.Context) {
	frame, a, err := s.app.Assembly(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	rows, err := s.app.RowRecords(c.Request.Context(), a.ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	view := orderView{Assembly: a, Airframe: frame, Rows: rows, Legs: row.Order(app.Works(rows))}
	view.Helper = row.ForHelper(view.Legs)
	for _, r := range rows {
		view.Pins = append(view.Pins, pinList{r.ID, r.Name, r.Fastener.Size, r.PinEvery(len(r.Holes)), r.Row.Pins(r.Holes)})
	}
	view.Drawing = rowsOn(a, rows)
	if view.Lessons, err = s.app.Lessons(c.Request.Context(), frame.ID, a.Name, "rivet"); err != nil {
		s.fail(c, err)
		return
	}
	p := s.page(c, "rows", a.Name+": rows", view, footing{"airframe", frame.Name}, footing{"assembly", a.Name}, footing{"rows", fmt.Sprint(len(rows))}, footing{"sheet", "R 1"})
	p.Slip = slipContext{Assembly: a.ID, Step: "rivet", Place: a.Name + ", rows"}
	s.render(c, http.StatusOK, "order", "layout.html", p)
}

// rowsOn draws the rows of an assembly as they lie on it.
func rowsOn(a app.Assembly, rows []app.RowRecord) template.HTML {
	var on []drawing.RowOn
	for i, r := range rows {
		on = append(on, drawing.RowOn{Number: i + 1, Name: r.Name, Href: "/rows/" + r.ID, Side: r.Line.View == "left", From: r.Line.From, To: r.Line.To, Holes: stripHoles(r.Holes, "", 0)})
	}
	return drawing.RowsOn(a.Name, outline(a.Shape), on)
}

// rowsDrawing draws the rows of an assembly; nil where it has none.
func (s *server) rowsDrawing(c *gin.Context, assembly string) (any, error) {
	rows, err := s.app.RowRecords(c.Request.Context(), assembly)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	_, a, err := s.app.Assembly(c.Request.Context(), assembly)
	return rowsOn(a, rows), err
}
