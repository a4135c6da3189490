package airframe

import (
	"html/template"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/core/shape"
	"orpine/internal/ledger"
	"orpine/internal/web/drawing"
	"orpine/internal/web/outline"
	"orpine/internal/web/ui"
)

// planformView is a generic form of aircraft with a small drawing of it.
type planformView struct {
	shape.Planform
	Drawing template.HTML
}

// planforms are all of them, drawn small.
func planforms() []planformView {
	out := make([]planformView, len(shape.Planforms))
	for i, p := range shape.Planforms {
		out[i] = planformView{p, drawing.Silhouette(drawn(p.Parts(nil)))}
	}
	return out
}

// drawn are the assemblies of a planform as they are drawn, without links.
func drawn(parts []shape.Part) []drawing.Part {
	out := make([]drawing.Part, len(parts))
	for i, p := range parts {
		out[i] = outline.Of(p.Shape)
		out[i].Number, out[i].Name, out[i].Says = i+1, p.Name, "to be made"
		if len(p.Shape.Assumed) > 0 {
			out[i].Says = "some of it assumed"
		}
	}
	return out
}

// beginView is the sheet on which an aircraft is begun.
type beginView struct {
	Planform shape.Planform
	Sizes    []sizeView
	Unit     string
	Typed    map[string]string
	Drawing  template.HTML
	Parts    []string
}

type sizeView struct{ Name, Label, Value, Like, Problem string }

func (s sheets) begin(c *gin.Context) { s.showBegin(c, ui.Refused{Typed: map[string]string{}}) }

func (s sheets) showBegin(c *gin.Context, r ui.Refused) {
	p, ok := shape.PlanformOf(c.Param("planform"))
	if !ok {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	n := newAircraft(c, p, s.ShopUnit(c.Request.Context()).String())
	v := beginView{Planform: p, Unit: n.Unit, Typed: r.Typed}
	unit := unitOf(n.Unit)
	for _, size := range p.Sizes {
		v.Sizes = append(v.Sizes, sizeView{"size." + size.Key, size.Label, n.Sizes[size.Key], inUnit(size.Usual, unit), r.Wrong["size."+size.Key]})
	}
	parts := n.Parts(ledger.Problems{})
	for _, part := range parts {
		v.Parts = append(v.Parts, part.Name)
	}
	v.Drawing = drawing.Airframe(p.Name, drawn(parts))
	page := s.Page(c, "airframe", "Begin an aircraft", v, ui.Footing{Label: "form", Text: p.Name}, ui.Footing{Label: "sheet", Text: "A 0"})
	page.Problem, page.Unit = r.Wrong, unit
	if ui.HTMX(c) {
		s.RenderPart(c, http.StatusOK, "begin", "begin-drawing", page)
		return
	}
	s.Render(c, r.Status, "begin", page)
}

// newAircraft reads the form, or the address of a drawing that is asked for while it is
// filled in.
func newAircraft(c *gin.Context, p shape.Planform, usual string) airframe.NewAircraft {
	read := c.PostForm
	if c.Request.Method == http.MethodGet {
		read = c.Query
	}
	n := airframe.NewAircraft{Form: ledger.Form{ID: read("id")}, Name: read("name"), Description: read("description"), Unit: read("unit"), Planform: p.ID, Sizes: map[string]string{}}
	if n.Unit == "" {
		n.Unit = usual
	}
	for _, size := range p.Sizes {
		n.Sizes[size.Key] = strings.TrimSpace(read("size." + size.Key))
	}
	return n
}

func unitOf(unit string) quantity.Unit {
	if unit == "in" {
		return quantity.Inch
	}
	return quantity.Millimetre
}

// inUnit writes a length as its unit is usually typed.
func inUnit(mm float64, unit quantity.Unit) string {
	if unit == quantity.Inch {
		return quantity.Fixed(mm/25.4, 0) + " " + unit.String()
	}
	return quantity.Length(mm).Text(unit)
}

func (s sheets) beginAircraft(c *gin.Context) {
	p, ok := shape.PlanformOf(c.Param("planform"))
	if !ok {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	n := newAircraft(c, p, s.ShopUnit(c.Request.Context()).String())
	s.Done(c, s.Airframes.Begin(c.Request.Context(), n), "/airframes/"+n.ID, func(r ui.Refused) { s.showBegin(c, r) })
}
