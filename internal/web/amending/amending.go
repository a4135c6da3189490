// Package amending is the sheet on which what was entered is put right.
package amending

import (
	"embed"
	"fmt"

	"github.com/gin-gonic/gin"

	"orpine/internal/amending"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// Routes registers the sheet.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Pages(templates)
	u.GET("/right/:kind", func(c *gin.Context) { s.show(c, ui.Refused{}) })
	u.POST("/right/:kind", s.put)
}

// view is something to be put right.
type view struct {
	ledger.Thing
	How, Reason, By string
	History         []amending.Alteration
}

// Rows are the fields of a list, a row for each of its items and some spare ones.
func (v view) Rows(f ledger.ThingField) (out [][]ui.Named) {
	values := measuring.Cells(f.Value, len(f.Columns))
	for i := range len(values) + 2 {
		var row []ui.Named
		for j, head := range f.Columns {
			n := ui.Named{Name: fmt.Sprintf("field.%s.%d.%d", f.Key, i, j), Label: fmt.Sprintf("%d %s", i+1, head), Head: head}
			if i < len(values) && j < len(values[i]) {
				n.Value = values[i][j]
			}
			row = append(row, n)
		}
		out = append(out, row)
	}
	return out
}

func (s sheets) show(c *gin.Context, r ui.Refused) {
	t, history, err := s.Amending.Thing(c.Request.Context(), c.Param("kind"), c.Query("id"), typed(r.Typed))
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := view{Thing: t, History: history, How: r.Typed["how"], Reason: r.Typed["reason"], By: ui.Who(c)}
	if r.Typed != nil {
		v.By = r.Typed["by"]
		for i, f := range v.Fields {
			v.Fields[i].Value = listed(c, r.Typed, f)
		}
	}
	p := s.Page(c, "", "Put right: "+t.Title, v, ui.Footing{Label: t.Kind, Text: t.Title}, ui.Footing{Label: "sheet", Text: "Z"})
	p.Unit = s.ShopUnit(c.Request.Context())
	p.Problem, p.Path = r.Wrong, t.Path
	s.Render(c, r.Status, "right", p)
}

// listed is the value of a field as typed: of a list, from its row of fields for each item.
func listed(c *gin.Context, form map[string]string, f ledger.ThingField) string {
	if text := form["field."+f.Key]; text != "" || len(f.Columns) == 0 {
		return text
	}
	return ui.TypedRows(c, "field."+f.Key, len(f.Columns))
}

// typed are the fields of the thing in a form that was refused.
func typed(form map[string]string) map[string]string {
	if form == nil {
		return nil
	}
	out := map[string]string{}
	for name, value := range form {
		if len(name) > len("field.") && name[:len("field.")] == "field." {
			out[name[len("field."):]] = value
		}
	}
	return out
}

func (s sheets) put(c *gin.Context) {
	form := ui.Typed(c)
	n := amending.PutRight{Form: ledger.Form{ID: form["id"]}, Kind: c.Param("kind"), Thing: c.Query("id"), Seen: ui.Int(form["seen"]), How: form["how"], Reason: form["reason"], By: form["by"], Values: typed(form)}
	t, _, err := s.Amending.Thing(c.Request.Context(), n.Kind, n.Thing, nil)
	to := t.Path
	if n.How == amending.Withdraw {
		to = t.After
	}
	for _, f := range t.Fields {
		if n.Values != nil && len(f.Columns) > 0 {
			n.Values[f.Key] = listed(c, form, f)
		}
	}
	if err == nil || t.Kind != "" {
		err = s.Amending.PutRight(c.Request.Context(), n)
	}
	if err == nil {
		s.Remember(c, "who", n.By)
	}
	s.Done(c, err, to, func(r ui.Refused) { s.show(c, r) })
}
