// Package riveting is the Rows sheets: one row hole by hole, the rows of an assembly, all
// of an airframe, and the forms that lay a row out and change its plan.
package riveting

import (
	"embed"
	"fmt"
	"html/template"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/overview"
	"orpine/internal/web/drawing"
	"orpine/internal/web/outline"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// aRow is how large the form of a row may be: it may come as CSV.
const aRow = 512 << 10

// Routes registers the sheets.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Pages(templates)
	u.GET("/rows", s.list)
	u.GET("/assemblies/:id/rows", s.order)
	u.GET("/assemblies/:id/rows/new", s.newRow)
	u.GET("/assemblies/:id/rows/preview", s.preview)
	u.GET("/assemblies/:id/rows/list", s.newList)
	u.LargePOST("/assemblies/:id/rows/list", aRow, s.addList)
	u.LargePOST("/assemblies/:id/rows", aRow, s.addRow)
	u.GET("/rows/:id", s.row)
	u.GET("/rows/:id/holes.csv", s.holesCSV)
	u.GET("/rows/:id/map.pdf", s.printMap)
	u.GET("/rows/:id/strip.pdf", s.printStrip)
	u.GET("/rows/:id/live", s.watch)
	u.GET("/rows/:id/plan", s.plan)
	u.POST("/rows/:id/plan", s.change)
	u.POST("/rows/:id/holes", s.operateOne)
	u.POST("/rows/:id/several", s.operateSeveral)
	u.POST("/rows/:id/undo", s.undo)
	u.POST("/rows/:id/fact", s.fact)
	u.POST("/facts", s.facts)
	u.POST("/rows/:id/barrier", s.chooseBarrier)
}

// listView lists the rows of an airframe.
type listView struct {
	Airframe   airframe.Airframe
	Others     []airframe.Airframe
	Assemblies []overview.AssemblyRows
	looks      map[string]overview.Look
}

// Small draws an assembly with its state.
func (v listView) Small(assembly string) template.HTML {
	return outline.Small(v.looks[assembly].Shape, v.looks[assembly].State)
}

func (s sheets) list(c *gin.Context) {
	frame, others, list, err := s.RowList(c.Request.Context(), c.Query("airframe"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	looks, err := s.Looks(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	p := s.Page(c, "rows", "Rows", listView{frame, others, list, looks}, ui.Footing{Label: "airframe", Text: frame.Name}, ui.Footing{Label: "sheet", Text: "R"})
	p.Unit = frame.Unit
	s.Render(c, 0, "rows", p)
}

// orderView is the rows of one assembly, as they lie and in the order of setting.
type orderView struct {
	overview.RowsSheet
	Drawing template.HTML
	Helper  []row.Leg
	Pins    []pinList
}

// pinList is the clecos that one row takes.
type pinList struct {
	ID, Name, Size string
	Every          int
	Numbers        []int
}

func (s sheets) order(c *gin.Context) {
	sheet, err := s.Rows(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	view := orderView{RowsSheet: sheet, Helper: row.ForHelper(sheet.Legs), Drawing: rowsOn(s.Base, sheet.Name, sheet.Shape, sheet.Rows, sheet.Airframe.Unit)}
	for _, r := range sheet.Rows {
		view.Pins = append(view.Pins, pinList{r.ID, r.Name, r.Fastener.Size, r.PinEvery(len(r.Holes)), r.Row.Pins(r.Holes)})
	}
	p := s.Page(c, "rows", sheet.Name+": rows", view, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "assembly", Text: sheet.Name}, ui.Footing{Label: "rows", Text: fmt.Sprint(len(sheet.Rows))}, ui.Footing{Label: "sheet", Text: "R 1"})
	p.Unit = sheet.Airframe.Unit
	p.Slip = ui.SlipFrom{Assembly: sheet.ID, Step: "rivet", Place: sheet.Name + ", rows"}
	s.Render(c, 0, "order", p)
}

// rowsOn draws the rows of an assembly as they lie on it.
func rowsOn(base, name string, shape airframe.Shape, rows []overview.RowRecord, unit quantity.Unit) template.HTML {
	var on []drawing.RowOn
	for i, r := range rows {
		on = append(on, drawing.RowOn{Number: i + 1, Name: r.Name, Href: base + "/rows/" + r.ID, View: r.Line.View, From: r.Line.From, To: r.Line.To, Holes: stripHoles(r.Holes, "", 0)})
	}
	return drawing.RowsOn(name, outline.Of(shape), on, ruler(unit))
}

// DrawLying draws the rows of a hold's assembly as they lie on it.
func DrawLying(base string, s overview.HoldSheet) template.HTML {
	return rowsOn(base, s.AssemblyName, s.Shape, s.Lying, s.Airframe.Unit)
}
