// Package airframe is the Airframe sheet, and those of one assembly: the sheet itself and
// its record.
package airframe

import (
	"embed"
	"errors"
	"fmt"
	"html/template"
	"slices"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/core/school"
	"orpine/internal/core/shape"
	"orpine/internal/instrument"
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
	u.Func("sections", sectionsOf)
	u.Pages(templates)
	u.GET("/", s.home)
	u.GET("/airframes/:id", s.home)
	u.GET("/begin/:planform", s.begin)
	u.POST("/begin/:planform", s.beginAircraft)
	u.POST("/airframes", s.addAirframe)
	u.POST("/airframes/:id/assemblies", s.addAssembly)
	u.POST("/airframes/:id/schools", s.chooseSchools)
	u.GET("/assemblies/:id", func(c *gin.Context) { s.showAssembly(c, c.Param("id"), ui.Refused{}) })
	u.GET("/assemblies/:id/record", s.record)
	u.GET("/assemblies/:id/history", s.history)
	u.GET("/assemblies/:id/history.csv", s.historyCSV)
	u.POST("/assemblies/:id/like", s.addLike)
	u.Shows("assemblies", s.showAssembly)
}

// homeView is the Airframe sheet.
type homeView struct {
	overview.Home
	Drawing   template.HTML
	Parts     []partView
	Typed     map[string]string // a form that was refused, as it was typed
	Adding    string            // the form that is open: airframe, assembly or schools
	Schools   []ui.SchoolForm
	Planforms []planformView
	Forms     []shape.Form
	PartsOf   []measuring.Usual // what an assembly may be
	Tiles     []ui.Tile
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
		s.showEmpty(c, r)
		return
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	view := homeView{Home: home, Adding: r.Of, Typed: r.Typed, Planforms: planforms(), Forms: shape.Forms, PartsOf: measuring.UsualChecks}
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
	p := s.Page(c, "airframe", title, view,
		ui.Footing{Label: "airframe", Text: title}, ui.Footing{Label: "permanent", Text: fmt.Sprintf("%d of %d assemblies", home.Done, len(home.Assemblies))},
		ui.Footing{Label: "can be done now", Text: fmt.Sprint(len(home.Now))}, ui.Footing{Label: "held", Text: fmt.Sprint(len(home.Held))}, ui.Footing{Label: "sheet", Text: "A 1"})
	p.Problem, p.Unit = r.Wrong, home.Airframe.Unit
	s.Render(c, r.Status, "airframe", p)
}

// showEmpty is a shop without aircraft.
func (s sheets) showEmpty(c *gin.Context, r ui.Refused) {
	v := homeView{Adding: r.Of, Typed: r.Typed, Planforms: planforms(), Tiles: s.Tiles()}
	p := s.Page(c, "airframe", "An empty shop", v, ui.Footing{Label: "shop", Text: "empty"}, ui.Footing{Label: "sheet", Text: "A 0"})
	p.Problem = r.Wrong
	s.Render(c, r.Status, "empty", p)
}

// part is an assembly as it is drawn.
func (s sheets) part(a overview.Assembly, number int) drawing.Part {
	p := outline.Of(a.Shape)
	p.Number, p.Name, p.State, p.Says, p.Href = number, a.Name, outline.Class(a.State), string(a.State), s.Base+"/assemblies/"+a.ID
	return p
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

// addLike adds an assembly of the same shape, or the other side's.
func (s sheets) addLike(c *gin.Context) {
	id := c.Param("id")
	sheet, err := s.Assembly(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	n := airframe.NewAssembly{Airframe: sheet.Airframe.ID}
	if err = ui.Bind(c, &n); err == nil {
		n.Shape, n.Part = sheet.Shape, sheet.Part
		if c.PostForm("side") == "other" {
			n.Shape = n.Shape.Mirrored()
		}
		err = s.Airframes.AddAssembly(c.Request.Context(), n)
	}
	s.Done(c, err, "/assemblies/"+n.ID, func(r ui.Refused) {
		r.Of = "like"
		s.showAssembly(c, id, r)
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
	Heights []ui.Tool
	Levels  []ui.Tool
	Rails   railsView
	Of      string // which form was refused
}

// railsView is the form of a surface on rails.
type railsView struct {
	Supports []ui.Named
	Stations [][]ui.Named
	Assumed  bool
	On       bool // it is a surface, and the form is offered
}

// mostRails is how many supports and stations its form has room for.
const mostRails = 7

func railsOf(s shape.Shape, unit quantity.Unit, typed map[string]string) railsView {
	offered := measuring.OfferRails(s, unit)
	v := railsView{Assumed: offered.Assumed && typed == nil, On: s.Form == "" || s.Form == "surface" || s.Form == "fin" || s.Form == "spar"}
	field := func(name, label, value string) ui.Named {
		if typed != nil {
			value = typed[name]
		}
		return ui.Named{Name: name, Label: label, Value: value}
	}
	for i := range mostRails {
		support, station := "", [2]string{}
		if i < len(offered.Supports) {
			support = offered.Supports[i]
		}
		if i < len(offered.Stations) {
			station = offered.Stations[i]
		}
		v.Supports = append(v.Supports, field(fmt.Sprintf("supports.%d.0", i), fmt.Sprintf("support %d", i+1), support))
		v.Stations = append(v.Stations, []ui.Named{field(fmt.Sprintf("stations.%d.0", i), fmt.Sprintf("station %d, name", i+1), station[0]), field(fmt.Sprintf("stations.%d.1", i), fmt.Sprintf("station %d, place", i+1), station[1])})
	}
	return v
}

func (s sheets) showAssembly(c *gin.Context, id string, r ui.Refused) {
	sheet, err := s.Assembly(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	part := s.part(sheet.Assembly, 1)
	view := assemblyView{sheet, part.State, drawing.Airframe(sheet.Name, []drawing.Part{part}), measuring.UsualFor(sheet.Part, sheet.Shape.Form), r.Typed, ui.Tools(false, heights(sheet.Instruments), sheet.Airframe.Unit), ui.Tools(true, sheet.Instruments, sheet.Airframe.Unit), railsOf(sheet.Shape, sheet.Airframe.Unit, r.Typed), r.Of}
	p := s.Page(c, "airframe", sheet.Name, view, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "assembly", Text: sheet.Name}, ui.Footing{Label: "state", Text: string(sheet.State)}, ui.Footing{Label: "sheet", Text: "A 2"})
	p.Path = "/assemblies/" + sheet.ID
	p.Slip = ui.SlipFrom{Assembly: sheet.ID, Place: sheet.Name}
	p.Problem, p.Unit = r.Wrong, sheet.Airframe.Unit
	s.Render(c, r.Status, "assembly", p)
}

// heights puts first what reads heights along rails.
func heights(list []instrument.Instrument) []instrument.Instrument {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b instrument.Instrument) int {
		rank := func(in instrument.Instrument) int { return slices.Index([]string{"tape", "", "laser level"}, in.Sort) }
		return rank(b) - rank(a)
	})
	return list
}

// record is the record of one assembly, to be read and printed.
func (s sheets) record(c *gin.Context) {
	r, err := s.Record(c.Request.Context(), c.Param("id"), int(ui.Int(c.Query("page"))))
	if err != nil {
		s.Fail(c, err)
		return
	}
	p := s.Page(c, "airframe", r.Name+": the record", r, ui.Footing{Label: "airframe", Text: r.Airframe.Name}, ui.Footing{Label: "assembly", Text: r.Name}, ui.Footing{Label: "journal", Text: fmt.Sprintf("%d entries", r.Entries)}, ui.Footing{Label: "sheet", Text: "A 4"})
	p.Unit = r.Airframe.Unit
	s.Render(c, 0, "record", p)
}
