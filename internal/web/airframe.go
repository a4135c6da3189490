package web

import (
	"errors"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/quantity"
	"orpine/internal/core/school"
	"orpine/internal/web/drawing"
	"orpine/internal/worksheet"
)

// homeView is the Airframe sheet.
type homeView struct {
	app.Home
	Drawing template.HTML
	Parts   []partView
	Typed   map[string]string // a form that was refused, as it was typed
	Adding  string            // the form that is open: airframe, assembly or schools
	Schools []schoolForm
}

// partView is one row of the parts list.
type partView struct {
	Number            int
	Name, State, Note string
	Class, Href       string
}

func (s *server) home(c *gin.Context) { s.showHome(c, http.StatusOK, "", nil, nil) }

func (s *server) showHome(c *gin.Context, status int, adding string, wrong app.Problems, typed map[string]string) {
	home, err := s.app.Home(c.Request.Context(), c.Param("id"))
	if errors.Is(err, app.ErrNotFound) && c.Param("id") == "" {
		home, err = app.Home{}, nil // an empty workshop
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	view := homeView{Home: home, Adding: adding, Typed: typed}
	for _, q := range school.Questions {
		view.Schools = append(view.Schools, schoolForm{q, home.Airframe.Schools.Answer(q.ID), ""})
	}
	var parts []drawing.Part
	for i, a := range home.Assemblies {
		class := stateClass(a.State)
		says := string(a.State)
		if a.Note != "" {
			says += ": " + a.Note
		}
		p := outline(a.Shape)
		p.Number, p.Name, p.State, p.Says, p.Href = i+1, a.Name, class, says, "/assemblies/"+a.ID
		parts = append(parts, p)
		view.Parts = append(view.Parts, partView{i + 1, a.Name, string(a.State), a.Note, class, p.Href})
	}
	if len(parts) > 0 {
		view.Drawing = drawing.Airframe(home.Airframe.Name, parts)
	}
	title := home.Airframe.Name
	if title == "" {
		title = "An empty workshop"
	}
	p := s.page(c, "airframe", title, view,
		footing{"airframe", title}, footing{"permanent", fmt.Sprintf("%d of %d assemblies", home.Done, len(home.Assemblies))},
		footing{"can be done now", fmt.Sprint(len(home.Now))}, footing{"held", fmt.Sprint(len(home.Held))}, footing{"sheet", "A 1"})
	p.Problem = wrong
	s.render(c, status, "airframe", "layout.html", p)
}

func stateClass(state app.State) string {
	return map[app.State]string{app.InSetup: "setup", app.Held: "held", app.Released: "released", app.Permanent: "permanent", app.Owed: "owed"}[state]
}

// outline is a shape seen from above and from the left.
func outline(s app.Shape) drawing.Part {
	switch s.Form {
	case "fin":
		return drawing.Part{
			Plan: [][2]float64{{s.X + s.Sweep/2, -36}, {s.X + s.Sweep/2, 36}, {s.X + s.Sweep + s.Tip, 36}, {s.X + s.Sweep + s.Tip, -36}},
			Side: [][2]float64{{s.X, s.Z}, {s.X + s.Sweep, s.Z + s.Rise}, {s.X + s.Sweep + s.Tip, s.Z + s.Rise}, {s.X + s.Chord, s.Z}},
		}
	case "body", "mount":
		var p drawing.Part
		for _, q := range s.Sections {
			p.Plan = append(p.Plan, [2]float64{q.X, q.Half})
			p.Side = append(p.Side, [2]float64{q.X, q.Top})
		}
		for i := len(s.Sections) - 1; i >= 0; i-- {
			q := s.Sections[i]
			p.Plan = append(p.Plan, [2]float64{q.X, -q.Half})
			p.Side = append(p.Side, [2]float64{q.X, q.Bottom})
		}
		return p
	}
	p := drawing.Part{
		Plan: [][2]float64{{s.X, s.Inner}, {s.X + s.Sweep, s.Outer}, {s.X + s.Sweep + s.Tip, s.Outer}, {s.X + s.Chord, s.Inner}},
		Side: [][2]float64{{s.X, s.Z}, {s.X + 0.3*s.Chord, s.Z + 0.07*s.Chord}, {s.X + s.Chord, s.Z}, {s.X + 0.3*s.Chord, s.Z - 0.05*s.Chord}},
	}
	if s.Form == "spar" {
		p.Side = nil // it lies inside the wing
	} else {
		p.Ribs = max(1, int(math.Abs(s.Outer-s.Inner)/480))
	}
	return p
}

// typed collects the fields of a form as they were typed.
func typed(c *gin.Context, fields ...string) map[string]string {
	out := map[string]string{}
	for _, f := range fields {
		out[f] = c.PostForm(f)
	}
	return out
}

func (s *server) addAirframe(c *gin.Context) {
	n := app.NewAirframe{ID: c.PostForm("id"), Name: c.PostForm("name"), Description: c.PostForm("description"), Unit: c.PostForm("unit")}
	err := s.app.AddAirframe(c.Request.Context(), n)
	if wrong, ok := problems(err); ok {
		s.showHome(c, http.StatusUnprocessableEntity, "airframe", wrong, typed(c, "name", "description", "unit"))
		return
	}
	s.done(c, err, "/airframes/"+n.ID)
}

// done redirects after a write, or shows its error.
func (s *server) done(c *gin.Context, err error, to string) {
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, to)
}

// shapeFields are the lengths of an assembly's form.
var shapeFields = []string{"x", "z", "inner", "outer", "chord", "tip", "sweep", "rise"}

func (s *server) addAssembly(c *gin.Context) {
	home, err := s.app.Home(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	wrong := app.Problems{}
	shape := readShape(c, home.Airframe.Unit, wrong)
	n := app.NewAssembly{ID: c.PostForm("id"), Airframe: home.Airframe.ID, Name: c.PostForm("name"), Before: c.PostForm("before"), Shape: shape}
	if len(wrong) == 0 {
		err = s.app.AddAssembly(c.Request.Context(), n)
	}
	if more, ok := problems(err); ok || len(wrong) > 0 {
		for field, message := range more {
			wrong.Add(field, message)
		}
		s.showHome(c, http.StatusUnprocessableEntity, "assembly", wrong, typed(c, append(shapeFields, "name", "before", "form", "sections")...))
		return
	}
	s.done(c, err, "/assemblies/"+n.ID)
}

// readShape reads the dimensions of an assembly's form.
func readShape(c *gin.Context, unit quantity.Unit, wrong app.Problems) app.Shape {
	shape := app.Shape{Form: c.PostForm("form")}
	into := map[string]*float64{"x": &shape.X, "z": &shape.Z, "inner": &shape.Inner, "outer": &shape.Outer, "chord": &shape.Chord, "tip": &shape.Tip, "sweep": &shape.Sweep, "rise": &shape.Rise}
	for _, field := range shapeFields {
		text := c.PostForm(field)
		if strings.TrimSpace(text) == "" {
			continue
		}
		v, err := worksheet.Typed(text, "length", unit)
		if err != nil {
			wrong.Add(field, err.Error())
		}
		*into[field] = v
	}
	if shape.Form == "body" {
		shape.Sections = readSections(c.PostForm("sections"), unit, wrong)
	}
	if shape.Tip == 0 {
		shape.Tip = shape.Chord
	}
	return shape
}

// readSections reads lines of "station; half width; bottom; top".
func readSections(text string, unit quantity.Unit, wrong app.Problems) []app.Section {
	var out []app.Section
	for i, line := range strings.Split(strings.TrimSpace(text), "\n") {
		fields := strings.Split(line, ";")
		if len(fields) != 4 {
			wrong.Add("sections", fmt.Sprintf("line %d: four lengths are wanted: station; half width; bottom; top", i+1))
			return nil
		}
		var v [4]float64
		for j, f := range fields {
			var err error
			if v[j], err = worksheet.Typed(strings.TrimSpace(f), "length", unit); err != nil {
				wrong.Add("sections", fmt.Sprintf("line %d: %s", i+1, err))
				return nil
			}
		}
		out = append(out, app.Section{X: v[0], Half: v[1], Bottom: v[2], Top: v[3]})
	}
	return out
}
