// Package coating is the sheet of coats and cures: clocks that run, and the makers' tables that
// they go by.
package coating

import (
	"embed"
	"fmt"

	"github.com/gin-gonic/gin"

	"orpine/internal/coating"
	"orpine/internal/core/cure"
	"orpine/internal/overview"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// Routes registers the sheet.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Func("lasting", coating.Spoken)
	u.Pages(templates)
	u.GET("/cures", func(c *gin.Context) { s.show(c, c.Query("airframe"), ui.Refused{}) })
	u.POST("/airframes/:id/materials", s.addMaterial)
	u.POST("/airframes/:id/clocks", s.start)
	u.POST("/airframes/:id/clocks/:clock/pass", s.pass)
	u.POST("/airframes/:id/clocks/:clock/end", s.end)
}

type view struct {
	overview.CuresSheet
	Running, Ended []clockView
	Sorts          []string
	Columns        []string
	Table          [][]ui.Named
	Of             string
	Typed          map[string]string
}

type clockView struct {
	coating.Clock
	Material coating.Material
	Side     int
	Coats    int
	Step, At string
	Due      []cure.Due
	CanTurn  bool
	CanCoat  bool
	Mine     bool
}

func (s sheets) show(c *gin.Context, id string, r ui.Refused) {
	sheet, err := s.Cures(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := view{CuresSheet: sheet, Sorts: cure.Sorts, Columns: coating.Columns, Of: r.Of, Typed: r.Typed}
	names := map[string]string{}
	for _, a := range sheet.Assemblies {
		names[a.ID] = a.Name
	}
	for _, one := range sheet.Clocks {
		k := clockView{Clock: one, At: names[one.AssemblyID], Mine: r.Of == one.ID, Due: one.Dues()}
		k.Side, k.Coats = one.OnSide()
		for _, m := range sheet.Materials {
			if m.ID == one.Material {
				k.Material = m
			}
		}
		k.CanCoat, k.CanTurn = one.Sort == cure.Coat && k.Coats < one.Most, one.Sort == cure.Coat && one.Sides == 2
		for _, step := range sheet.Steps {
			if step.ID == one.StepID {
				k.Step = step.Name
			}
		}
		if one.Running() {
			v.Running = append(v.Running, k)
		} else if len(v.Ended) < 20 {
			v.Ended = append(v.Ended, k)
		}
	}
	for i := range 3 {
		line := make([]ui.Named, len(coating.Columns))
		for j, column := range coating.Columns {
			name := fmt.Sprintf("table.%d.%d", i, j)
			line[j] = ui.Named{Name: name, Value: r.Typed[name], Label: fmt.Sprintf("%d %s", i+1, column), Head: column}
			if r.Of != "material" {
				line[j].Value = ""
			}
		}
		v.Table = append(v.Table, line)
	}
	p := s.Page(c, "order", "Coats and cures", v, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "running", Text: fmt.Sprint(len(v.Running))}, ui.Footing{Label: "sheet", Text: "O 6"})
	p.Unit = sheet.Airframe.Unit
	p.Path, p.Problem = "/cures", r.Wrong
	s.Render(c, r.Status, "cures", p)
}

func (s sheets) done(c *gin.Context, err error, of string) {
	id := c.Param("id")
	s.Done(c, err, "/cures?airframe="+id, func(r ui.Refused) {
		r.Of = of
		s.show(c, id, r)
	})
}

func (s sheets) addMaterial(c *gin.Context) {
	var n coating.NewMaterial
	err := ui.Bind(c, &n)
	n.Table = ui.TypedRows(c, "table", len(coating.Columns))
	if err == nil {
		err = s.Coating.AddMaterial(c.Request.Context(), n)
	}
	s.done(c, err, "material")
}

func (s sheets) start(c *gin.Context) {
	n := coating.NewClock{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Coating.Start(c.Request.Context(), n)
	}
	s.done(c, err, "clock")
}

func (s sheets) pass(c *gin.Context) {
	var n coating.ClockPassed
	err := ui.Bind(c, &n)
	if n.Clock = c.Param("clock"); err == nil {
		err = s.Coating.Pass(c.Request.Context(), n)
	}
	s.done(c, err, n.Clock)
}

func (s sheets) end(c *gin.Context) {
	var n coating.ClockEnded
	err := ui.Bind(c, &n)
	if n.Clock = c.Param("clock"); err == nil {
		err = s.Coating.End(c.Request.Context(), n)
	}
	s.done(c, err, n.Clock)
}
