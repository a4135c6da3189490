package riveting

import (
	"fmt"
	"html/template"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/riveting"
	"orpine/internal/web/drawing"
	"orpine/internal/web/outline"
	"orpine/internal/web/ui"
)

// fieldForm is a field with what was typed.
type fieldForm struct {
	form.Field
	Name, Value, Like, Problem string
	Heads                      []string     // of a list: its columns
	Rows                       [][]ui.Named // of a list: a row of fields for each item
}

// choices are the words that a column of a list is chosen from.
var choices = map[string][]string{"material": row.Materials, "hole": {"plain", "dimpled", "countersunk"}, "head there": {"", "domed", "flush"}}

// rowsOf lays a list out, a row of fields for each item and two more.
func (f *fieldForm) rowsOf() {
	f.Heads = f.Columns
	values, like := measuring.Cells(f.Value, len(f.Columns)), measuring.Cells(f.Like, len(f.Columns))
	least := 1
	if f.Key == "layers" {
		least = 4
	}
	if f.Key == "from" || f.Key == "to" {
		values = append(values, nil)[:1]
	}
	for i := range max(len(values)+1, least) {
		if (f.Key == "from" || f.Key == "to") && i > 0 {
			break
		}
		var fields []ui.Named
		for j, head := range f.Heads {
			n := ui.Named{Name: fmt.Sprintf("%s.%d.%d", f.Name, i, j), Label: strings.TrimSpace(fmt.Sprintf("%d %s", i+1, head)), Words: choices[head]}
			if i < len(values) && j < len(values[i]) {
				n.Value = values[i][j]
			}
			if i < len(like) && n.Words == nil {
				n.Like = like[i][j]
			}
			fields = append(fields, n)
		}
		f.Rows = append(f.Rows, fields)
	}
}

// newView is the form of a row.
type newView struct {
	overview.RowOffers
	Fields  []fieldForm
	Typed   map[string]string
	Chosen  map[string]bool // drill holds
	OptOut  string          // why a hold there is not for this row
	Drawing template.HTML   // of the assembly with its rows, to point on
	Says    string          // of the row that is being laid out
	Hows    []string
	First   []fieldForm // the questions that matter for every row
	Rest    []fieldForm
	Open    bool // something of the rest was refused
	Twins   []overview.Named
}

// asked are the fields that matter for every row, in the order in which they are asked.
var asked = []string{"view", "from", "to", "count", "pitch", "layers", "size", "head", "edge", "keep"}

// likeRow are the figures shown in an empty form.
var likeRow = map[string]string{
	"layers": "aluminium; 0.8 mm; dimpled\naluminium; 1.0 mm; plain\naluminium; 1.2 mm; plain; 1; 6", "size": "1/8 in", "callouts": "1-6; 5/16 in\n7-84; 1/4 in", "grips": "code A; 1.6 mm; 3.2 mm", "edge": "8 mm",
	"count": "84", "pitch": "34 mm", "first": "40 mm", "length": "1450 mm", "last": "10 mm", "lines": "1", "gauge": "20 mm", "csv": "hole,along\n1,40 mm\n2,74 mm", "sample": "12", "pin": "3", "reach": "flanges down", "poses": "79-84; on its back",
	"keep": "77; fin fairing; fit the fin fairing", "from": "2350; -200", "to": "5210; -70",
}

// likeInches are the same on an inch aircraft.
var likeInches = map[string]string{
	"layers": "aluminium; 0.032; dimpled\naluminium; 0.040; plain", "size": "1/8", "callouts": "1-6; 5/16", "grips": "code A; 1/16; 1/8", "edge": "5/16", "count": "84", "pitch": "1 3/8", "first": "1 1/2", "length": "57", "last": "3/8", "lines": "1", "gauge": "3/4",
	"csv": "hole,along\n1,1.5 in\n2,3 in", "sample": "12", "pin": "3", "reach": "flanges down", "poses": "79-84; on its back", "keep": "77; fin fairing; fit the fin fairing", "from": "92; -8", "to": "205; -3",
}

func fieldForms(fields []form.Field, unit quantity.Unit, r ui.Refused) []fieldForm {
	out := make([]fieldForm, len(fields))
	for i, f := range fields {
		out[i] = fieldForm{Field: f, Name: f.Key, Value: r.Typed[f.Key], Problem: r.Wrong[f.Key]}
		if out[i].Like = likeRow[f.Key]; unit == quantity.Inch {
			out[i].Like = likeInches[f.Key]
		}
		if len(f.Columns) > 0 && f.Key != "csv" {
			out[i].rowsOf()
		}
	}
	return out
}

// likeRow is the form of a row that is to be like another: all but where it lies.
func (s sheets) likeRow(c *gin.Context) (map[string]string, error) {
	out := map[string]string{"lay": "line", "view": "from above", "sort": "solid", "head": "domed", "metal": "aluminium"}
	id := c.Query("like")
	if id == "" {
		return out, nil
	}
	r, err := s.Riveting.Row(c.Request.Context(), id)
	if err != nil {
		return out, err
	}
	maps.Copy(out, r.Texts())
	out["name"], out["count"] = r.Name, fmt.Sprint(len(r.Holes))
	if from, to, ok := r.Ends(); ok && (r.How == "" || r.How == "line") {
		out["from"], out["to"] = from, to
	}
	if slices.Contains(row.Hows, r.How) {
		out["lay"] = r.How
	}
	return out, nil
}

func (s sheets) newRow(c *gin.Context) { s.showNewRow(c, ui.Refused{}) }

func (s sheets) showNewRow(c *gin.Context, r ui.Refused) {
	offers, err := s.OfferRow(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	view := newView{RowOffers: offers, Fields: fieldForms(riveting.RowFields, offers.Airframe.Unit, r), Typed: r.Typed, Chosen: map[string]bool{}}
	view.OptOut = r.Typed["opt_out"]
	if r.Typed == nil {
		like, err := s.likeRow(c)
		if err != nil {
			s.Fail(c, err)
			return
		}
		if like["layers"] == "" { // nobody laid one like it: it is pointed at where the part is drawn
			like["view"] = map[string]string{"above": "from above", "left": "from the left", "ahead": "from ahead"}[outline.Of(offers.Assembly.Shape).Broadest()]
		}
		view.Typed = like
		view.Fields = fieldForms(riveting.RowFields, offers.Airframe.Unit, ui.Refused{Typed: like})
	}
	view.Twins = offers.Twins
	holes, line, says := riveting.Preview(view.Typed, offers.Airframe.Unit)
	view.Drawing, view.Says = s.drawnWith(offers, holes, line), says
	for _, h := range offers.Rivets {
		if r.Typed == nil && h.SetupID != "" { // it inherits what is measured for
			view.Typed["rivets"] = h.ID
		}
	}
	for _, d := range c.PostFormArray("drills") {
		view.Chosen[d] = true
	}
	for _, h := range offers.Drills { // a row inherits what stands there
		view.Chosen[h.ID] = view.Chosen[h.ID] || c.PostForm("drills_shown") == ""
	}
	view.Hows = row.Hows
	for _, f := range view.Fields {
		switch {
		case f.Key == "lay":
		case slices.Contains(asked, f.Key):
			view.First = append(view.First, f)
		default:
			view.Rest, view.Open = append(view.Rest, f), view.Open || f.Problem != ""
		}
	}
	slices.SortStableFunc(view.First, func(a, b fieldForm) int { return slices.Index(asked, a.Key) - slices.Index(asked, b.Key) })
	p := s.Page(c, "rows", "A new row", view, ui.Footing{Label: "airframe", Text: offers.Airframe.Name}, ui.Footing{Label: "assembly", Text: offers.Assembly.Name}, ui.Footing{Label: "sheet", Text: "R 3"})
	p.Unit = offers.Airframe.Unit
	p.Problem = r.Wrong
	s.Render(c, r.Status, "newrow", p)
}

// values are the fields of a row's form as they were typed.
func values(c *gin.Context, fields []form.Field) map[string]string {
	out := map[string]string{}
	for _, f := range fields {
		read := c.PostForm
		if c.Request.Method == http.MethodGet {
			read = c.Query
		}
		if out[f.Key] = strings.ReplaceAll(read(f.Key), "\r\n", "\n"); out[f.Key] == "" && len(f.Columns) > 0 {
			out[f.Key] = ui.TypedRows(c, f.Key, len(f.Columns))
		}
	}
	return out
}

func (s sheets) addRow(c *gin.Context) {
	n := riveting.NewRow{Form: ledger.Form{ID: c.PostForm("id")}, Assembly: c.Param("id"), Name: c.PostForm("name"), Values: values(c, riveting.RowFields), Rivets: c.PostForm("rivets"), Drills: c.PostFormArray("drills"), OptOut: c.PostForm("opt_out"), Bay: c.PostForm("bay"), Mirror: c.PostForm("mirror"), Marked: c.PostForm("marked")}
	wrong := ledger.Problems{}
	n.Repeat = repeatOf(c, s.unitOf(c), wrong)
	switch {
	case c.PostForm("drills_shown") == "": // none stood there when the form was made: it inherits what does now
		n.Drills = nil
	case n.Drills == nil:
		n.Drills = []string{}
	}
	if c.PostForm("sure") != "" {
		n.Values["sure"] = "yes"
	}
	err := wrong.Err()
	if err == nil {
		err = s.Riveting.Lay(c.Request.Context(), n)
	}
	s.Done(c, err, "/rows/"+n.ID, func(r ui.Refused) {
		for _, f := range riveting.RowFields { // lists as the form lays them out
			r.Typed[f.Key] = n.Values[f.Key]
		}
		s.showNewRow(c, r)
	})
}

// unitOf is the unit of bare lengths of the assembly that the address names.
func (s sheets) unitOf(c *gin.Context) quantity.Unit {
	frame, _, _ := s.Airframes.Assembly(c.Request.Context(), c.Param("id"))
	return frame.Unit
}

// repeatOf reads how often a row is laid, and how far on each lies.
func repeatOf(c *gin.Context, unit quantity.Unit, wrong ledger.Problems) (r riveting.Repeat) {
	if text := strings.TrimSpace(c.PostForm("times")); text != "" {
		var err error
		if r.Times, err = strconv.Atoi(text); err != nil || r.Times < 1 {
			wrong.Add("times", "how often in all? A whole number")
		}
	}
	for i, field := range []string{"step_0", "step_1"} {
		if text := strings.TrimSpace(c.PostForm(field)); text != "" {
			v, err := quantity.ParseLength(text, unit)
			if err != nil {
				wrong.Add("times", err.Error())
			}
			r.Step[i] = float64(v)
		}
	}
	return r
}

// preview draws the row as it will be, while its form is filled in.
func (s sheets) preview(c *gin.Context) {
	offers, err := s.OfferRow(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := newView{RowOffers: offers}
	holes, line, says := riveting.Preview(values(c, riveting.RowFields), offers.Airframe.Unit)
	v.Drawing, v.Says = s.drawnWith(offers, holes, line), says
	p := s.Page(c, "rows", "A new row", v)
	p.Unit = offers.Airframe.Unit
	s.RenderPart(c, http.StatusOK, "newrow", "row-drawing", p)
}

// drawnWith draws the part with its rows and one that is being laid out.
func (s sheets) drawnWith(offers overview.RowOffers, holes []row.Hole, line airframe.Line) template.HTML {
	var on []drawing.RowOn
	for i, r := range offers.Lying {
		on = append(on, drawing.RowOn{Number: i + 1, Name: r.Name, Href: s.Base + "/rows/" + r.ID, View: r.Line.View, From: r.Line.From, To: r.Line.To, Holes: stripHoles(r.Holes, "", 0)})
	}
	if len(holes) > 0 {
		on = append(on, drawing.RowOn{Name: "the new row", New: true, View: line.View, From: line.From, To: line.To, Holes: stripHoles(holes, "", 0)})
	}
	return drawing.RowsOn(offers.Assembly.Name, outline.Of(offers.Assembly.Shape), on, ruler(offers.Airframe.Unit))
}

// ruler is how many millimetres a figure on a drawing's edge counts.
func ruler(unit quantity.Unit) float64 {
	if unit == quantity.Inch {
		return 25.4
	}
	return 1
}

// changeView is the form of a row that is laid out.
type changeView struct {
	riveting.Row
	Fields []fieldForm
	Typed  string // the name
}

func (s sheets) plan(c *gin.Context) { s.showPlan(c, ui.Refused{}) }

func (s sheets) showPlan(c *gin.Context, r ui.Refused) {
	kept, err := s.Riveting.Row(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	if r.Typed == nil { // opened
		r.Typed = kept.Texts()
		r.Typed["name"] = kept.Name
	}
	view := changeView{Row: kept, Fields: fieldForms(riveting.PlanFields(), kept.Airframe.Unit, r), Typed: r.Typed["name"]}
	p := s.Page(c, "rows", kept.Name+": its plan", view, ui.Footing{Label: "airframe", Text: kept.Airframe.Name}, ui.Footing{Label: "assembly", Text: kept.AssemblyName}, ui.Footing{Label: "row", Text: kept.Name}, ui.Footing{Label: "sheet", Text: "R 4"})
	p.Unit = kept.Airframe.Unit
	p.Problem = r.Wrong
	s.Render(c, r.Status, "changerow", p)
}

func (s sheets) change(c *gin.Context) {
	n := riveting.RowChange{Form: ledger.Form{ID: c.PostForm("id")}, Row: c.Param("id"), Seen: ui.Int(c.PostForm("seen")), Name: c.PostForm("name"), Values: values(c, riveting.PlanFields())}
	if c.PostForm("sure") != "" {
		n.Values["sure"] = "yes"
	}
	s.Done(c, s.Riveting.Change(c.Request.Context(), n), "/rows/"+n.Row, func(r ui.Refused) { s.showPlan(c, r) })
}
