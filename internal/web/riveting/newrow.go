package riveting

import (
	"html/template"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/form"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/riveting"
	"orpine/internal/web/ui"
)

// fieldForm is a field with what was typed.
type fieldForm struct {
	form.Field
	Name, Value, Like, Problem string
}

// newView is the form of a row.
type newView struct {
	overview.RowOffers
	Fields  []fieldForm
	Typed   map[string]string
	Chosen  map[string]bool // drill holds
	OptOut  string          // why a hold there is not for this row
	Drawing template.HTML   // of the assembly with its rows, to read stations from
}

// likeRow are the figures shown in an empty form.
var likeRow = map[string]string{
	"layers": "aluminium; 0.8 mm; dimpled\naluminium; 1.0 mm; plain\naluminium; 1.2 mm; plain; 1; 6", "size": "1/8 in", "callouts": "1-6; 5/16 in\n7-84; 1/4 in", "grips": "code A; 1.6 mm; 3.2 mm", "edge": "8 mm",
	"count": "84", "pitch": "34 mm", "first": "40 mm", "length": "1450 mm", "last": "10 mm", "lines": "1", "gauge": "20 mm", "csv": "hole,along\n1,40 mm\n2,74 mm", "sample": "12", "pin": "3", "reach": "flanges down", "poses": "79-84; on its back",
	"keep": "77; fin fairing; fit the fin fairing", "from": "2350; -200", "to": "5210; -70",
}

func fieldForms(fields []form.Field, r ui.Refused) []fieldForm {
	out := make([]fieldForm, len(fields))
	for i, f := range fields {
		out[i] = fieldForm{f, f.Key, r.Typed[f.Key], likeRow[f.Key], r.Wrong[f.Key]}
	}
	return out
}

func (s sheets) newRow(c *gin.Context) { s.showNewRow(c, ui.Refused{}) }

func (s sheets) showNewRow(c *gin.Context, r ui.Refused) {
	offers, err := s.OfferRow(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	view := newView{RowOffers: offers, Fields: fieldForms(riveting.RowFields, r), Typed: r.Typed, Chosen: map[string]bool{}, Drawing: rowsOn(s.Base, offers.Assembly.Name, offers.Assembly.Shape, offers.Lying)}
	view.OptOut = r.Typed["opt_out"]
	for _, h := range offers.Rivets {
		if r.Typed == nil && h.SetupID != "" { // it inherits what is measured for
			view.Typed = map[string]string{"rivets": h.ID}
		}
	}
	for _, d := range c.PostFormArray("drills") {
		view.Chosen[d] = true
	}
	for _, h := range offers.Drills { // a row inherits what stands there
		view.Chosen[h.ID] = view.Chosen[h.ID] || c.PostForm("drills_shown") == ""
	}
	p := s.Page(c, "rows", "A new row", view, ui.Footing{Label: "airframe", Text: offers.Airframe.Name}, ui.Footing{Label: "assembly", Text: offers.Assembly.Name}, ui.Footing{Label: "sheet", Text: "R 3"})
	p.Unit = offers.Airframe.Unit
	p.Problem = r.Wrong
	s.Render(c, r.Status, "newrow", p)
}

// values are the fields of a row's form as they were typed.
func values(c *gin.Context, fields []form.Field) map[string]string {
	out := map[string]string{}
	for _, f := range fields {
		out[f.Key] = strings.ReplaceAll(c.PostForm(f.Key), "\r\n", "\n")
	}
	return out
}

func (s sheets) addRow(c *gin.Context) {
	n := riveting.NewRow{Form: ledger.Form{ID: c.PostForm("id")}, Assembly: c.Param("id"), Name: c.PostForm("name"), Values: values(c, riveting.RowFields), Rivets: c.PostForm("rivets"), Drills: c.PostFormArray("drills"), OptOut: c.PostForm("opt_out"), Bay: c.PostForm("bay")}
	switch {
	case c.PostForm("drills_shown") == "": // none stood there when the form was made: it inherits what does now
		n.Drills = nil
	case n.Drills == nil:
		n.Drills = []string{}
	}
	s.Done(c, s.Riveting.Lay(c.Request.Context(), n), "/rows/"+n.ID, func(r ui.Refused) { s.showNewRow(c, r) })
}

// changeView is the form of a row that is laid out.
type changeView struct {
	riveting.Row
	Fields []fieldForm
	Typed  string // the name
}

func (s sheets) plan(c *gin.Context) { s.showPlan(c, ui.Refused{}) }

func (s sheets) showPlan(c *gin.Context, r ui.Refused) {
	row, err := s.Riveting.Row(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	if r.Typed == nil { // opened
		r.Typed = row.Texts()
		r.Typed["name"] = row.Name
	}
	view := changeView{Row: row, Fields: fieldForms(riveting.PlanFields(), r), Typed: r.Typed["name"]}
	p := s.Page(c, "rows", row.Name+": its plan", view, ui.Footing{Label: "airframe", Text: row.Airframe.Name}, ui.Footing{Label: "assembly", Text: row.AssemblyName}, ui.Footing{Label: "row", Text: row.Name}, ui.Footing{Label: "sheet", Text: "R 4"})
	p.Unit = row.Airframe.Unit
	p.Problem = r.Wrong
	s.Render(c, r.Status, "changerow", p)
}

func (s sheets) change(c *gin.Context) {
	n := riveting.RowChange{Form: ledger.Form{ID: c.PostForm("id")}, Row: c.Param("id"), Seen: ui.Int(c.PostForm("seen")), Name: c.PostForm("name"), Values: values(c, riveting.PlanFields())}
	s.Done(c, s.Riveting.Change(c.Request.Context(), n), "/rows/"+n.Row, func(r ui.Refused) { s.showPlan(c, r) })
}
