package web

import (
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/quantity"
	"orpine/internal/core/school"
	"orpine/internal/worksheet"
)

// checkView is the sheet on which a check is changed: how it is judged, and its points.
type checkView struct {
	Setup    app.Setup
	Check    app.Check
	Name     string
	Limits   []limitForm
	Schools  []schoolForm
	Columns  []pointColumn
	Surfaces []string // that a place of a join may lie on; nil for other kinds
	Place    map[string]string
	Attach   []pointColumn // how each may be moved
	Findings []string
}

// schoolForm is one question on which good builders differ.
type schoolForm struct {
	school.Question
	Chosen string // "" for as its airframe has it
	Usual  string // the airframe's answer, in words
}

type pointColumn struct {
	Name, Label, Value string
	Words              []string // to choose from; nil: typed
}

// columnLabels say what the columns of a point are.
var columnLabels = map[string]string{
	"name": "Name", "x": "Along, or station", "y": "Across, or distance outboard", "z": "Height (may be empty)", "side": "left or right (may be empty)", "spacing": "By heights: front to rear mark (may be empty)",
}

func (s *server) checkSheet(c *gin.Context) { s.showCheck(c, http.StatusOK, nil) }

func (s *server) showCheck(c *gin.Context, status int, wrong app.Problems) {
	setup, check, ok := s.checkOf(c)
	if !ok {
		return
	}
	typed := status != http.StatusOK && c.PostForm("name") != ""
	view := checkView{Setup: setup, Check: check, Name: check.Name}
	if typed {
		view.Name = c.PostForm("name")
	}
	for _, l := range check.Kind.Limits {
		form := limitForm{LimitField: app.LimitField{Quantity: l.Name, Label: sayLimited(l, setup.Airframe.Unit)}, LowName: "low." + l.Name, HighName: "high." + l.Name, Problem: wrong["limits."+l.Name]}
		form.Low, form.High = check.LimitTexts(l.Name)
		if typed {
			form.Low, form.High = c.PostForm(form.LowName), c.PostForm(form.HighName)
		}
		view.Limits = append(view.Limits, form)
	}
	for _, q := range school.Concern(check.Kind.Schools, check.Kind.Limits != nil) {
		view.Schools = append(view.Schools, schoolForm{q, check.Schools[q.ID], sayAnswer(q, setup.Airframe.Schools)})
	}
	for _, column := range check.Columns() {
		view.Columns = append(view.Columns, pointColumn{column, columnLabels[column], c.PostForm("point." + column), nil})
	}
	if p, join := check.Joined(); join {
		view.Columns, view.Surfaces = joinColumns(c, p, view.Columns), surfacesOf(check)
	}
	if check.Result != nil {
		for _, f := range check.Result.Findings {
			view.Findings = append(view.Findings, f.Text)
		}
	}
	view.Place, view.Attach = typedPlace(c), attachOf(check)
	p := s.page(c, "setup", setup.AssemblyName+": "+check.Name, view, footing{"airframe", setup.Airframe.Name}, footing{"assembly", setup.AssemblyName}, footing{"check", check.Name}, footing{"sheet", "S 2"})
	p.Path, p.Problem = "/setups/"+setup.ID+"/checks/"+check.ID, wrong
	s.render(c, status, "check", "layout.html", p)
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

// typedPlace is a place's form as it was typed.
func typedPlace(c *gin.Context) map[string]string {
	return typed(c, "place.name", "place.x", "place.y", "place.z", "place.on")
}

// surfacesOf are the names of what the places of a join lie on, the airframe first.
func surfacesOf(check app.Check) []string {
	several, ok := check.Input.(*pose.Join)
	if !ok {
		return []string{"the airframe", "the surface"}
	}
	names := []string{"the airframe"}
	for _, s := range several.Surfaces {
		names = append(names, s.Name)
	}
	return names
}

func (s *server) addPlace(c *gin.Context) {
	_, check, ok := s.checkOf(c)
	if !ok {
		return
	}
	n := app.NewPlace{ID: c.PostForm("id"), Check: check.ID, Name: c.PostForm("place.name"), X: c.PostForm("place.x"), Y: c.PostForm("place.y"), Z: c.PostForm("place.z"), Surface: c.PostForm("place.on")}
	if n.Surface == "the airframe" {
		n.Surface = ""
	}
	err := s.app.AddPlace(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showCheck(c, http.StatusUnprocessableEntity, wrong)
		return
	}
	s.done(c, err, "/setups/"+c.Param("id")+"/checks/"+check.ID+"#point")
}

// checkOf loads the check of the address; when there is none the request is answered.
func (s *server) checkOf(c *gin.Context) (app.Setup, app.Check, bool) {
	setup, err := s.app.Setup(c.Request.Context(), c.Param("id"))
	check, ok := setup.Check(c.Param("check"))
	if err == nil && !ok {
		err = app.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
	}
	return setup, check, err == nil
}

// sayLimited names a quantity that may be limited, with the unit of a bare figure: a
// length is in that of the airframe.
func sayLimited(l measure.Limitable, bare quantity.Unit) string {
	says := headlines[l.Name]
	if says == "" {
		says = strings.ReplaceAll(l.Name, "_", " ")
	}
	_, unit := app.Decimals(l.Dimension)
	if l.Dimension == measure.Length {
		unit = map[quantity.Unit]string{quantity.Millimetre: "mm", quantity.Inch: "inches"}[bare]
	}
	return strings.TrimSpace(says + ", in " + strings.TrimSpace(unit))
}

func sayAnswer(q school.Question, chosen school.Choice) string {
	for _, a := range q.Answers {
		if a.ID == chosen.Answer(q.ID) {
			return a.Title
		}
	}
	return ""
}

// mays are the ways in which an attach point may be moved.
var mays = []string{"free", "fixed", "up", "down"}

// attachOf are the attach points of a join with how they may be moved.
func attachOf(check app.Check) []pointColumn {
	var points []pose.Attach
	switch join := check.Input.(type) {
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

func (s *server) changeCheck(c *gin.Context) {
	_, check, ok := s.checkOf(c)
	if !ok {
		return
	}
	n := app.CheckChange{ID: c.PostForm("id"), Check: check.ID, Name: c.PostForm("name"), Limits: map[string][2]string{}, Schools: map[string]string{}}
	for _, l := range check.Kind.Limits {
		n.Limits[l.Name] = [2]string{c.PostForm("low." + l.Name), c.PostForm("high." + l.Name)}
	}
	for _, a := range attachOf(check) {
		if n.May == nil {
			n.May = map[string]string{}
		}
		n.May[a.Label] = c.DefaultPostForm(a.Name, a.Value)
	}
	for _, q := range school.Questions {
		n.Schools[q.ID] = c.PostForm("school." + q.ID)
	}
	err := s.app.ChangeCheck(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showCheck(c, http.StatusUnprocessableEntity, wrong)
		return
	}
	s.done(c, err, "/setups/"+c.Param("id")+"?check="+check.ID)
}

func (s *server) addPoint(c *gin.Context) {
	_, check, ok := s.checkOf(c)
	if !ok {
		return
	}
	n := app.NewPoint{ID: c.PostForm("id"), Check: check.ID}
	for _, column := range check.Columns() {
		n.Values = append(n.Values, c.PostForm("point."+column))
	}
	err := s.app.AddPoint(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showCheck(c, http.StatusUnprocessableEntity, wrong)
		return
	}
	s.done(c, err, "/setups/"+c.Param("id")+"?check="+check.ID)
}

// newCheckView is the form of a check that is added to a setup.
type newCheckView struct {
	Setup       app.Setup
	Kinds       []measure.Kind // that can be added
	Kind        measure.Kind   // chosen; its name is "" before that
	Name        string
	Form        checkForm
	Holds       bool // there is a hold that may ask for it
	Instruments []app.Instrument
}

func (s *server) newCheck(c *gin.Context) {
	s.showNewCheck(c, http.StatusOK, c.Query("kind"), nil, nil)
}

func (s *server) showNewCheck(c *gin.Context, status int, kind string, filled *app.Filled, wrong app.Problems) {
	sheet, err := s.app.Sheet(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	view := newCheckView{Instruments: sheet.Instruments, Setup: sheet.Setup, Holds: slices.ContainsFunc(sheet.Holds, func(h app.Hold) bool { return h.Current() == nil })}
	for _, k := range append(slices.Clone(worksheet.Joined), measure.Kinds...) {
		if _, ok := app.FormOf(k.Name); ok {
			view.Kinds = append(view.Kinds, k)
		}
	}
	if form, ok := app.FormOf(kind); ok {
		view.Kind, _ = worksheet.KindNamed(kind)
		view.Name = c.DefaultPostForm("name", view.Kind.Title)
		view.Form = formOf(form, 0, filled, wrong)
		for i, l := range view.Kind.Limits {
			view.Form.Limits[i].Label = sayLimited(l, sheet.Airframe.Unit)
		}
	}
	p := s.page(c, "setup", sheet.AssemblyName+": one more check", view, footing{"airframe", sheet.Airframe.Name}, footing{"assembly", sheet.AssemblyName}, footing{"setup", sheet.Name}, footing{"sheet", "S 3"})
	p.Path, p.Problem = "/setups/"+sheet.ID+"/checks/new", wrong
	s.render(c, status, "newcheck", "layout.html", p)
}

func (s *server) addCheck(c *gin.Context) {
	form, ok := app.FormOf(c.PostForm("kind"))
	if !ok {
		s.fail(c, app.ErrNotFound)
		return
	}
	filled := readForm(c, 0, form)
	n := app.AddedCheck{ID: c.PostForm("id"), Setup: c.Param("id"), Kind: form.Kind, Name: c.PostForm("name"), Filled: filled, ForHold: c.PostForm("for_hold") != ""}
	err := s.app.AddCheck(c.Request.Context(), n)
	if more, ok := problems(err); ok {
		wrong := app.Problems{}
		for path, message := range more {
			wrong.Add(templateField(path, app.Template{Checks: []app.TemplateCheck{form}}, []app.Filled{{Take: true}}), message)
		}
		s.showNewCheck(c, http.StatusUnprocessableEntity, form.Kind, &filled, wrong)
		return
	}
	s.done(c, err, "/setups/"+n.Setup)
}

// after begins the checks of a hold once more, after its step.
func (s *server) after(c *gin.Context) {
	h, err := s.app.Hold(c.Request.Context(), c.Param("id"))
	if err == nil {
		err = s.app.BeginAfter(c.Request.Context(), app.BeginAfter{ID: c.PostForm("id"), Hold: h.ID})
	}
	if wrong, ok := problems(err); ok {
		s.showHold(c, http.StatusUnprocessableEntity, wrong, nil)
		return
	}
	s.done(c, err, "/setups/"+h.Setup.ID)
}

// chooseSchools says how the builder of an airframe works.
func (s *server) chooseSchools(c *gin.Context) {
	n := app.SchoolsOfAirframe{ID: c.PostForm("id"), Airframe: c.Param("id"), Schools: school.Choice{}}
	for _, q := range school.Questions {
		if answer := c.PostForm("school." + q.ID); answer != "" {
			n.Schools[q.ID] = answer
		}
	}
	err := s.app.ChooseSchools(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showHome(c, http.StatusUnprocessableEntity, "schools", wrong, nil)
		return
	}
	s.done(c, err, "/airframes/"+n.Airframe)
}

func (s *server) proveInstrument(c *gin.Context) {
	n := app.NewProof{ID: c.PostForm("id"), Instrument: c.Param("id"), What: c.PostForm("what")}
	var names []string
	for i := range map[string]int{"spread": 5, "offset": 2}[n.What] {
		name := fmt.Sprintf("%s%d", n.What, i+1)
		names = append(names, name)
		n.Texts = append(n.Texts, c.PostForm(name))
	}
	err := s.app.ProveInstrument(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showInstruments(c, http.StatusUnprocessableEntity, n.Instrument, wrong, typed(c, names...))
		return
	}
	s.done(c, err, "/instruments")
}
