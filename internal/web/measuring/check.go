package measuring

import (
	"errors"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/school"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/web/ui"
	"orpine/internal/worksheet"
)

// checkView is the sheet on which a check is changed: how it is judged, and its points.
type checkView struct {
	Setup    measuring.Setup
	Check    measuring.Check
	Name     string
	Limits   []limitForm
	Schools  []ui.SchoolForm
	Columns  []pointColumn
	Surfaces []string // that a place of a join may lie on; nil for other kinds
	Place    map[string]string
	Attach   []pointColumn // how each may be moved
	Known    []knownForm   // how well its points are known
	Findings []string
	Points   []string // by name
}

// knownForm is how well points of a check are known.
type knownForm struct{ Name, Label, Value, Problem string }

// knownLabels say what they are.
var knownLabels = []struct{ field, label string }{
	{"datum_u", "Points on the airframe (empty: " + say.Written(1).String() + ")"},
	{"points_u", "Marks (empty: " + say.Written(0.5).String() + "; of points on the centreline " + say.Written(1).String() + ")"},
	{"centred", "The tips' middle lies within so much of the airframe's (empty: nothing is known)"},
}

type pointColumn struct {
	Name, Label, Value string
	Words              []string // to choose from; nil: typed
}

// columnLabels say what the columns of a point are.
var columnLabels = map[string]string{
	"name": "Name", "x": "Along, or station", "y": "Across, or distance outboard", "z": "Height (may be empty)", "side": "left or right (may be empty)", "spacing": "By heights: front to rear mark (may be empty)",
}

func (s sheets) checkSheet(c *gin.Context) { s.showCheck(c, ui.Refused{}) }

func (s sheets) showCheck(c *gin.Context, r ui.Refused) {
	setup, inHand, ok := s.checkOf(c)
	if !ok {
		return
	}
	_, judged := r.Typed["name"]
	view := checkView{Setup: setup, Check: inHand, Name: inHand.Name, Place: r.Typed, Attach: attachOf(inHand)}
	if judged {
		view.Name = r.Typed["name"]
	}
	for _, l := range inHand.Kind.Limits {
		form := limitForm{LimitField: measuring.LimitField{Quantity: l.Name, Label: sayLimited(inHand.Kind, l, setup.Airframe.Unit)}, LowName: "low." + l.Name, HighName: "high." + l.Name, AsName: "as." + l.Name, Problem: r.Wrong["limits."+l.Name]}
		form.Low, form.High = inHand.LimitTexts(l.Name)
		if judged {
			form.Low, form.High = r.Typed[form.LowName], r.Typed[form.HighName]
		}
		view.Limits = append(view.Limits, form)
	}
	for _, k := range knownLabels {
		if text, ok := inHand.KnownPoints()[k.field]; ok {
			form := knownForm{"known." + k.field, k.label, text, r.Wrong["known."+k.field]}
			if judged {
				form.Value = r.Typed[form.Name]
			}
			view.Known = append(view.Known, form)
		}
	}
	for _, q := range school.Concern(inHand.Kind.Schools, inHand.Kind.Limits != nil) {
		view.Schools = append(view.Schools, ui.SchoolForm{Question: q, Chosen: inHand.Schools[q.ID], Usual: ui.SayAnswer(q, setup.Airframe.Schools)})
	}
	view.Points = inHand.Points()
	for _, column := range inHand.Columns() {
		view.Columns = append(view.Columns, pointColumn{column, columnLabels[column], r.Typed["point."+column], nil})
	}
	if p, join := inHand.Joined(); join {
		view.Columns, view.Surfaces = joinColumns(c, p, view.Columns), surfacesOf(inHand)
	}
	if inHand.Result != nil {
		for _, f := range inHand.Result.Findings {
			view.Findings = append(view.Findings, f.Text)
		}
	}
	p := s.Page(c, "setup", setup.AssemblyName+": "+inHand.Name, view, ui.Footing{Label: "airframe", Text: setup.Airframe.Name}, ui.Footing{Label: "assembly", Text: setup.AssemblyName}, ui.Footing{Label: "check", Text: inHand.Name}, ui.Footing{Label: "sheet", Text: "S 2"})
	p.Path, p.Problem, p.Unit = checkHref(setup.ID, inHand.ID), r.Wrong, setup.Airframe.Unit
	s.Render(c, r.Status, "check", p)
}

// joinColumns are those of one more reading of a join: two places and a type, to
// choose; what the address proposes is chosen.
func joinColumns(c *gin.Context, p pose.Joined, columns []pointColumn) []pointColumn {
	var names []string
	for _, q := range p.Everywhere() {
		names = append(names, q.Name)
	}
	words := map[string][]string{"type": {"distance", "height", "roll", "pitch", "offset"}, "from": names, "to": names, "axis": {"x", "y", "z"}}
	for i := range columns {
		column := &columns[i]
		column.Words = words[column.Name]
		column.Label = map[string]string{"type": "What is read", "from": "From (none for an offset)", "to": "To", "axis": "Of an offset: along which axis"}[column.Name]
		if column.Value == "" {
			column.Value = c.Query(column.Name)
		}
	}
	return columns
}

// surfacesOf are the names of what the places of a join lie on, the airframe first.
func surfacesOf(inHand measuring.Check) []string {
	several, ok := inHand.Input.(*pose.Join)
	if !ok {
		return []string{"the airframe", "the surface"}
	}
	names := []string{"the airframe"}
	for _, s := range several.Surfaces {
		names = append(names, s.Name)
	}
	return names
}

// checkOf loads the check of the address; when there is none the request is answered.
func (s sheets) checkOf(c *gin.Context) (measuring.Setup, measuring.Check, bool) {
	sheet, err := s.Setup(c.Request.Context(), c.Param("id"), c.Param("check"), 0)
	if err == nil && sheet.Check.ID != c.Param("check") {
		err = ledger.ErrNotFound
	}
	if err != nil {
		s.Fail(c, err)
	}
	return sheet.Setup, sheet.Check, err == nil
}

// sayLimited names a quantity that may be limited, with the unit of a bare figure: a
// length is in that of the airframe.
func sayLimited(kind measure.Kind, l measure.Limitable, bare quantity.Unit) string {
	unit := check.UnitOf(l.Dimension)
	if l.Dimension == measure.Length && bare == quantity.Inch {
		unit = "inches"
	}
	return strings.TrimSpace(check.SayLimited(kind, l.Name) + ", in " + unit)
}

// mays are the ways in which an attach point may be moved.
var mays = []string{"free", "fixed", "up", "down"}

// attachOf are the attach points of a join with how they may be moved.
func attachOf(inHand measuring.Check) []pointColumn {
	var points []pose.Attach
	switch join := inHand.Input.(type) {
	case *pose.Pose:
		points = join.Attach
	case *pose.Join:
		for _, s := range join.Surfaces {
			points = append(points, s.Attach...)
		}
	}
	var out []pointColumn
	for _, a := range points {
		may := a.May
		if may == "" {
			may = mays[0]
		}
		out = append(out, pointColumn{"may." + a.Name, a.Name, may, mays})
	}
	return out
}

// redefine changes the check of the address, and goes to where it is in hand.
func (s sheets) redefine(c *gin.Context, n measuring.Redefine, to string) {
	n.ID, n.Check = c.PostForm("id"), c.Param("check")
	s.Done(c, s.Measuring.Redefine(c.Request.Context(), n), to, func(r ui.Refused) { s.showCheck(c, r) })
}

func (s sheets) changeCheck(c *gin.Context) {
	_, inHand, ok := s.checkOf(c)
	if !ok {
		return
	}
	judge := measuring.CheckChange{Name: c.PostForm("name"), Limits: map[string][2]string{}, Schools: map[string]string{}}
	for _, l := range inHand.Kind.Limits {
		low, high := measuring.EndAs(c.PostForm("as."+l.Name), c.PostForm("low."+l.Name), c.PostForm("high."+l.Name))
		judge.Limits[l.Name] = [2]string{low, high}
	}
	for _, a := range attachOf(inHand) {
		if judge.May == nil {
			judge.May = map[string]string{}
		}
		judge.May[a.Label] = c.DefaultPostForm(a.Name, a.Value)
	}
	for field := range inHand.KnownPoints() {
		if text, said := c.GetPostForm("known." + field); said {
			if judge.Known == nil {
				judge.Known = map[string]string{}
			}
			judge.Known[field] = text
		}
	}
	for _, q := range school.Questions {
		judge.Schools[q.ID] = c.PostForm("school." + q.ID)
	}
	s.redefine(c, measuring.Redefine{Judge: &judge, Seen: ui.Int(c.PostForm("seen"))}, href(c.Param("id"), inHand.ID, 0))
}

func (s sheets) addPoint(c *gin.Context) {
	_, inHand, ok := s.checkOf(c)
	if !ok {
		return
	}
	values := []string{}
	for _, column := range inHand.Columns() {
		values = append(values, c.PostForm("point."+column))
	}
	s.redefine(c, measuring.Redefine{Point: values}, href(c.Param("id"), inHand.ID, 0))
}

func (s sheets) addPlace(c *gin.Context) {
	var place measuring.NewPlace
	if err := ui.Bind(c, &place); err != nil {
		s.Fail(c, err)
		return
	}
	if place.Surface == "the airframe" {
		place.Surface = ""
	}
	s.redefine(c, measuring.Redefine{Place: &place}, checkHref(c.Param("id"), c.Param("check"))+"#point")
}

// newCheckView is the form of a check that is added to a setup.
type newCheckView struct {
	Setup       measuring.Setup
	Kinds       []measure.Kind // that can be added
	Kind        measure.Kind   // chosen; its name is "" before that
	Name        string
	Form        checkForm
	Holds       bool // there is a hold that may ask for it
	Instruments []instrument.Instrument
}

func (s sheets) newCheck(c *gin.Context) { s.showNewCheck(c, c.Query("kind"), nil, ui.Refused{}) }

func (s sheets) showNewCheck(c *gin.Context, kind string, filled *measuring.Filled, r ui.Refused) {
	sheet, err := s.Setup(c.Request.Context(), c.Param("id"), "", 0)
	if err != nil {
		s.Fail(c, err)
		return
	}
	view := newCheckView{Instruments: sheet.Instruments, Setup: sheet.Setup, Holds: slices.ContainsFunc(sheet.Holds, func(h holding.Hold) bool { return !h.Open() })}
	for _, k := range append(slices.Clone(worksheet.Joined), measure.Kinds...) {
		if _, ok := measuring.FormOf(k.Name); ok {
			view.Kinds = append(view.Kinds, k)
		}
	}
	if form, ok := measuring.FormOf(kind); ok {
		view.Kind, _ = worksheet.KindNamed(kind)
		view.Name = c.DefaultPostForm("name", view.Kind.Title)
		kept, err := s.Measuring.Stated(c.Request.Context(), sheet.Airframe.ID)
		if err != nil {
			s.Fail(c, err)
			return
		}
		if filled == nil {
			filled = &measuring.Filled{Take: true, Values: form.Fresh(sheet.Shape, sheet.Airframe.Unit, kept)}
		}
		view.Form = formOf(form, 0, filled, formAround{sheet.Shape, sheet.Airframe.Unit, sheet.Instruments, kept}, r.Wrong)
		for i, l := range view.Kind.Limits {
			view.Form.Limits[i].Label = sayLimited(view.Kind, l, sheet.Airframe.Unit)
		}
	}
	p := s.Page(c, "setup", sheet.AssemblyName+": one more check", view, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "assembly", Text: sheet.AssemblyName}, ui.Footing{Label: "setup", Text: sheet.Name}, ui.Footing{Label: "sheet", Text: "S 3"})
	p.Path, p.Problem, p.Unit = "/setups/"+sheet.ID+"/checks/new", r.Wrong, sheet.Airframe.Unit
	s.Render(c, r.Status, "newcheck", p)
}

func (s sheets) addCheck(c *gin.Context) {
	form, ok := measuring.FormOf(c.PostForm("kind"))
	if !ok {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	filled := readForm(c, 0, form)
	n := measuring.AddedCheck{Form: ledger.Form{ID: c.PostForm("id")}, Setup: c.Param("id"), Kind: form.Kind, Name: c.PostForm("name"), Filled: filled, ForHold: c.PostForm("for_hold") != ""}
	err := s.Measuring.AddCheck(c.Request.Context(), n)
	var more ledger.Problems
	if errors.As(err, &more) {
		wrong := ledger.Problems{}
		for path, message := range more {
			wrong.Add(fieldOf(path, []measuring.CheckForm{form}, []measuring.Filled{{Take: true}}), message)
		}
		s.showNewCheck(c, form.Kind, &filled, ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong})
		return
	}
	s.Done(c, err, "/setups/"+n.Setup, nil)
}
