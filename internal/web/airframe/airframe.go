// Package airframe is the Airframe sheet, and those of one assembly: the sheet itself and
// its record.
package airframe

import (
	"embed"
	"errors"
	"fmt"
	"html/template"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/school"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/web/drawing"
	"orpine/internal/web/outline"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

// sheets are the handlers.
type sheets struct{ *ui.UI }

// Routes registers the sheets.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Pages(templates)
	u.GET("/", s.home)
	u.GET("/airframes/:id", s.home)
	u.POST("/airframes", s.addAirframe)
	u.POST("/airframes/:id/assemblies", s.addAssembly)
	u.POST("/airframes/:id/schools", s.chooseSchools)
	u.GET("/assemblies/:id", func(c *gin.Context) { s.showAssembly(c, c.Param("id"), ui.Refused{}) })
	u.GET("/assemblies/:id/record", s.record)
	u.Shows("assemblies", s.showAssembly)
}

// homeView is the Airframe sheet.
type homeView struct {
	overview.Home
	Drawing template.HTML
	Parts   []partView
	Typed   map[string]string // a form that was refused, as it was typed
	Adding  string            // the form that is open: airframe, assembly or schools
	Schools []ui.SchoolForm
}

// partView is one row of the parts list.
type partView struct {
	Number            int
	Name, State, Note string
	Class, Href       string
}

func (s sheets) home(c *gin.Context) { s.showHome(c, c.Param("id"), ui.Refused{}) }

func (s sheets) showHome(c *gin.Context, id string, r ui.Refused) {
	home, err := s.Home(c.Request.Context(), id)
	if errors.Is(err, ledger.ErrNotFound) && id == "" {
		home, err = overview.Home{}, nil // an empty workshop
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	view := homeView{Home: home, Adding: r.Of, Typed: r.Typed}
	for _, q := range school.Questions {
		view.Schools = append(view.Schools, ui.SchoolForm{Question: q, Chosen: home.Airframe.Schools.Answer(q.ID)})
	}
	var parts []drawing.Part
	for i, a := range home.Assemblies {
		p := s.part(a, i+1)
		if a.Note != "" {
			p.Says += ": " + a.Note
		}
		parts = append(parts, p)
		view.Parts = append(view.Parts, partView{i + 1, a.Name, string(a.State), a.Note, p.State, "/assemblies/" + a.ID})
	}
	if len(parts) > 0 {
		view.Drawing = drawing.Airframe(home.Airframe.Name, parts)
	}
	title := home.Airframe.Name
	if title == "" {
		title = "An empty workshop"
	}
	p := s.Page(c, "airframe", title, view,
		ui.Footing{Label: "airframe", Text: title}, ui.Footing{Label: "permanent", Text: fmt.Sprintf("%d of %d assemblies", home.Done, len(home.Assemblies))},
		ui.Footing{Label: "can be done now", Text: fmt.Sprint(len(home.Now))}, ui.Footing{Label: "held", Text: fmt.Sprint(len(home.Held))}, ui.Footing{Label: "sheet", Text: "A 1"})
	p.Problem = r.Wrong
	s.Render(c, r.Status, "airframe", p)
}

// part is an assembly as it is drawn.
func (s sheets) part(a overview.Assembly, number int) drawing.Part {
	p := outline.Of(a.Shape)
	p.Number, p.Name, p.State, p.Says, p.Href = number, a.Name, stateClass(a.State), string(a.State), s.Base+"/assemblies/"+a.ID
	return p
}

func stateClass(state overview.State) string {
	return map[overview.State]string{overview.InSetup: "setup", overview.Held: "held", overview.Released: "released", overview.Permanent: "permanent", overview.Owed: "owed"}[state]
}

func (s sheets) addAirframe(c *gin.Context) {
	var n airframe.NewAirframe
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Airframes.Add(c.Request.Context(), n)
	}
	s.Done(c, err, "/airframes/"+n.ID, func(r ui.Refused) {
		r.Of = "airframe"
		s.showHome(c, "", r)
	})
}

func (s sheets) addAssembly(c *gin.Context) {
	home, err := s.Home(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	n := airframe.NewAssembly{Airframe: home.Airframe.ID}
	wrong := ledger.Problems{}
	if err = ui.Bind(c, &n); err == nil {
		n.Shape = readShape(c, home.Airframe.Unit, wrong)
		if err = wrong.Err(); err == nil {
			err = s.Airframes.AddAssembly(c.Request.Context(), n)
		}
	}
	s.Done(c, err, "/assemblies/"+n.ID, func(r ui.Refused) {
		r.Of = "assembly"
		s.showHome(c, home.Airframe.ID, r)
	})
}

// chooseSchools says how the builder of an airframe works.
func (s sheets) chooseSchools(c *gin.Context) {
	n := airframe.SchoolsOfAirframe{Form: ledger.Form{ID: c.PostForm("id")}, Airframe: c.Param("id"), Schools: school.Choice{}, Seen: ui.Int(c.PostForm("seen"))}
	for _, q := range school.Questions {
		if answer := c.PostForm("school." + q.ID); answer != "" {
			n.Schools[q.ID] = answer
		}
	}
	s.Done(c, s.Airframes.ChooseSchools(c.Request.Context(), n), "/airframes/"+n.Airframe, func(r ui.Refused) {
		r.Of = "schools"
		s.showHome(c, n.Airframe, r)
	})
}

// assemblyView is the page of one assembly.
type assemblyView struct {
	overview.AssemblySheet
	Class   string
	Drawing template.HTML
	Usual   []measuring.Usual
	Typed   map[string]string
}

func (s sheets) showAssembly(c *gin.Context, id string, r ui.Refused) {
	sheet, err := s.Assembly(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	part := s.part(sheet.Assembly, 1)
	view := assemblyView{sheet, part.State, drawing.Airframe(sheet.Name, []drawing.Part{part}), measuring.UsualChecks, r.Typed}
	p := s.Page(c, "airframe", sheet.Name, view, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "assembly", Text: sheet.Name}, ui.Footing{Label: "state", Text: string(sheet.State)}, ui.Footing{Label: "sheet", Text: "A 2"})
	p.Path = "/assemblies/" + sheet.ID
	p.Slip = ui.SlipFrom{Assembly: sheet.ID, Place: sheet.Name}
	p.Problem = r.Wrong
	s.Render(c, r.Status, "assembly", p)
}

// record is the record of one assembly, to be read and printed.
func (s sheets) record(c *gin.Context) {
	r, err := s.Record(c.Request.Context(), c.Param("id"), int(ui.Int(c.Query("page"))))
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Render(c, 0, "record", s.Page(c, "airframe", r.Name+": the record", r, ui.Footing{Label: "airframe", Text: r.Airframe.Name}, ui.Footing{Label: "assembly", Text: r.Name}, ui.Footing{Label: "journal", Text: fmt.Sprintf("%d entries", r.Entries)}, ui.Footing{Label: "sheet", Text: "A 4"}))
}
