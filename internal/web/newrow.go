package web

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
)

// newRowView is the form of a row.
type newRowView struct {
	app.RowForm
	ID      string // of the assembly
	Fields  []fieldForm
	Typed   map[string]string
	Chosen  map[string]bool // drill holds
	Drawing any             // of the assembly with its rows, to read stations from
}

func (s *server) newRow(c *gin.Context) { s.showNewRow(c, http.StatusOK, nil, nil) }

// likeRow are the figures shown in an empty form.
var likeRow = map[string]string{
	"layers": "aluminium; 0.8 mm; dimpled\naluminium; 1.0 mm; plain\naluminium; 1.2 mm; plain; 1; 6", "size": "1/8 in", "callouts": "1-6; 5/16 in\n7-84; 1/4 in", "grips": "code A; 1.6 mm; 3.2 mm", "edge": "8 mm",
	"count": "84", "pitch": "34 mm", "first": "40 mm", "length": "1450 mm", "last": "10 mm", "lines": "1", "gauge": "20 mm", "csv": "hole,along\n1,40 mm\n2,74 mm", "sample": "12", "pin": "3", "reach": "flanges down", "poses": "79-84; on its back",
	"keep": "77; fin fairing; fit the fin fairing", "from": "2350; -200", "to": "5210; -70",
}

func (s *server) showNewRow(c *gin.Context, status int, wrong app.Problems, typed map[string]string) {
	form, err := s.app.RowForm(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	view := newRowView{RowForm: form, ID: c.Param("id"), Typed: typed, Chosen: map[string]bool{}}
	rows, err := s.app.RowRecords(c.Request.Context(), view.ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	_, assembly, err := s.app.Assembly(c.Request.Context(), view.ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	view.Drawing = rowsOn(assembly, rows)
	for _, d := range c.PostFormArray("drills") {
		view.Chosen[d] = true
	}
	for _, f := range app.RowFields {
		view.Fields = append(view.Fields, fieldForm{f, f.Key, typed[f.Key], likeRow[f.Key], wrong[f.Key]})
	}
	p := s.page(c, "rows", "A new row", view, footing{"airframe", form.Airframe.Name}, footing{"assembly", form.Assembly}, footing{"sheet", "R 3"})
	p.Problem = wrong
	s.render(c, status, "newrow", "layout.html", p)
}

func (s *server) addRow(c *gin.Context) {
	n := app.NewRow{ID: c.PostForm("id"), Assembly: c.Param("id"), Name: c.PostForm("name"), Values: map[string]string{}, Rivets: c.PostForm("rivets"), Drills: c.PostFormArray("drills"), Bay: c.PostForm("bay")}
	for _, f := range app.RowFields {
		n.Values[f.Key] = strings.ReplaceAll(c.PostForm(f.Key), "\r\n", "\n")
	}
	err := s.app.AddRow(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		form := typed(c, "name", "rivets", "bay")
		for k, v := range n.Values {
			form[k] = v
		}
		s.showNewRow(c, http.StatusUnprocessableEntity, wrong, form)
		return
	}
	s.done(c, err, "/rows/"+n.ID)
}

// changeRowView is the form of a row that is laid out.
type changeRowView struct {
	app.Row
	Fields []fieldForm
	Typed  string // the name
}

func (s *server) rowPlan(c *gin.Context) { s.showRowPlan(c, http.StatusOK, nil, nil) }

// showRowPlan shows the plan of a row; typed is nil when it is opened for the first time.
func (s *server) showRowPlan(c *gin.Context, status int, wrong app.Problems, typed map[string]string) {
	r, err := s.app.Row(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	values := typed
	if values == nil {
		values = r.Texts()
		values["name"] = r.Name
	}
	view := changeRowView{Row: r, Typed: values["name"]}
	for _, f := range app.PlanFields() {
		view.Fields = append(view.Fields, fieldForm{f, f.Key, values[f.Key], likeRow[f.Key], wrong[f.Key]})
	}
	p := s.page(c, "rows", r.Name+": its plan", view, footing{"airframe", r.Airframe.Name}, footing{"assembly", r.AssemblyName}, footing{"row", r.Name}, footing{"sheet", "R 4"})
	p.Problem = wrong
	s.render(c, status, "changerow", "layout.html", p)
}

func (s *server) changeRow(c *gin.Context) {
	n := app.RowChange{ID: c.PostForm("id"), Row: c.Param("id"), Name: c.PostForm("name"), Values: map[string]string{}}
	for _, f := range app.PlanFields() {
		n.Values[f.Key] = strings.ReplaceAll(c.PostForm(f.Key), "\r\n", "\n")
	}
	err := s.app.ChangeRow(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		n.Values["name"] = n.Name
		s.showRowPlan(c, http.StatusUnprocessableEntity, wrong, n.Values)
		return
	}
	s.done(c, err, "/rows/"+n.Row)
}
