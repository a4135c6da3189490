package web

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/hold"
)

// templateView is the form of a template of checks.
type templateView struct {
	Assembly app.Assembly
	Airframe app.Airframe
	app.Template
	Name        string // of the setup, as typed
	Forms       []checkForm
	Others      []app.Template
	Plans       bool   // readings can be planned
	Planned     string // what came of planning
	Instruments []app.Instrument
	Drills      bool // two holds in series are offered
	Pins        bool
	Lessons     []app.Lesson
}

// checkForm is one check of the template with what was typed, or what is usual.
type checkForm struct {
	app.TemplateCheck
	Number  int
	Take    bool
	Fields  []fieldForm
	Limits  []limitForm
	Problem string // of the limits
}

type fieldForm struct {
	app.Field
	Name, Value, Like, Problem string
}

type limitForm struct {
	app.LimitField
	Low, High, LowName, HighName, Problem string
}

func (s *server) template(c *gin.Context) { s.showTemplate(c, http.StatusOK, nil, nil) }

// showTemplate shows the form; filled is nil when it is opened for the first time.
func (s *server) showTemplate(c *gin.Context, status int, filled []app.Filled, wrong app.Problems) {
	frame, a, err := s.app.Assembly(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	t, ok := app.TemplateOf(c.Param("template"))
	if !ok {
		s.fail(c, app.ErrNotFound)
		return
	}
	instruments, err := s.app.Instruments(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	view := templateView{Instruments: instruments, Assembly: a, Airframe: frame, Template: t, Name: c.DefaultPostForm("name", "on the bench"), Others: app.Templates, Drills: hold.Step(t.Step).Drills(), Pins: c.PostForm("pins") != ""}
	for i, check := range t.Checks {
		var one *app.Filled
		switch {
		case filled != nil:
			one = &filled[i]
		case check.Kind == "pose":
			home, err := s.app.Home(c.Request.Context(), frame.ID)
			if err != nil {
				s.fail(c, err)
				return
			}
			one = &app.Filled{Take: true, Values: app.JoinFrom(home, a)}
			view.Name = "on the airframe"
		}
		view.Plans = view.Plans || check.Kind == "pose" || check.Kind == "join"
		view.Forms = append(view.Forms, formOf(check, i, one, wrong))
	}
	view.Planned = c.GetString("planned")
	if view.Lessons, err = s.app.Lessons(c.Request.Context(), frame.ID, a.Name, t.Step); err != nil {
		s.fail(c, err)
		return
	}
	p := s.page(c, "airframe", a.Name+": "+t.Name, view, footing{"airframe", frame.Name}, footing{"assembly", a.Name}, footing{"template", t.Name}, footing{"sheet", "A 3"})
	p.Problem = wrong
	s.render(c, status, "template", "layout.html", p)
}

// formOf is the form of a check; filled is nil when it is opened for the first time.
func formOf(check app.TemplateCheck, number int, filled *app.Filled, wrong app.Problems) checkForm {
	form := checkForm{TemplateCheck: check, Number: number, Take: filled == nil || filled.Take, Problem: wrong[fmt.Sprintf("%d.limits", number)]}
	for _, f := range check.Fields() {
		// Words and names are offered; figures are another aircraft's, and only shown.
		usual, value := check.Usual[f.Key], ""
		if f.As == "word" || len(f.Columns) == 1 && f.Columns[0] == "name" {
			value = usual
		}
		if filled != nil {
			value = filled.Values[f.Key]
		}
		name := fmt.Sprintf("%d.%s", number, f.Key)
		form.Fields = append(form.Fields, fieldForm{f, name, value, usual, wrong[name]})
	}
	for _, l := range check.Limits {
		limit := limitForm{LimitField: l, LowName: fmt.Sprintf("%d.low.%s", number, l.Quantity), HighName: fmt.Sprintf("%d.high.%s", number, l.Quantity)}
		if filled != nil {
			limit.Low, limit.High = filled.Low[l.Quantity], filled.High[l.Quantity]
		}
		form.Limits = append(form.Limits, limit)
	}
	return form
}

// beginTemplate begins a setup of the checks that were taken.
func (s *server) beginTemplate(c *gin.Context) {
	frame, a, err := s.app.Assembly(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	t, ok := app.TemplateOf(c.Param("template"))
	if !ok {
		s.fail(c, app.ErrNotFound)
		return
	}
	filled := readFilled(c, t)
	if c.PostForm("plan") != "" {
		s.planJoin(c, frame, t, filled)
		return
	}
	n, wrong := t.Setup(c.PostForm("id"), a.ID, c.PostForm("name"), frame.Unit, filled)
	n.Pins = c.PostForm("pins") != ""
	if len(wrong) == 0 {
		err = s.app.BeginSetup(c.Request.Context(), n)
	}
	if more, ok := problems(err); ok || len(wrong) > 0 {
		for path, message := range more {
			wrong.Add(templateField(path, t, filled), message)
		}
		s.showTemplate(c, http.StatusUnprocessableEntity, filled, wrong)
		return
	}
	s.done(c, err, "/setups/"+n.ID)
}

// planJoin fills in the readings that would decide a join, and shows its form again.
func (s *server) planJoin(c *gin.Context, frame app.Airframe, t app.Template, filled []app.Filled) {
	text, decided, err := s.app.PlanJoin(c.Request.Context(), frame.Unit, 0, t.Checks[0], filled[0])
	wrong, ok := problems(err)
	switch {
	case ok:
		s.showTemplate(c, http.StatusUnprocessableEntity, filled, wrong)
	case err != nil:
		s.fail(c, err)
	default:
		filled[0].Values["readings"] = text
		says := "These are the fewest readings that would decide it, if it stands where it should, with one placing each."
		if !decided {
			says = "Even these would not decide it with the instruments on hand: finer ones, or points further apart, would."
		}
		c.Set("planned", says)
		s.showTemplate(c, http.StatusOK, filled, nil)
	}
}

// readFilled reads the form of a template.
func readFilled(c *gin.Context, t app.Template) []app.Filled {
	filled := make([]app.Filled, len(t.Checks))
	for i, check := range t.Checks {
		filled[i] = readForm(c, i, check)
	}
	return filled
}

// readForm reads the form of one check.
func readForm(c *gin.Context, number int, check app.TemplateCheck) app.Filled {
	f := app.Filled{Take: c.PostForm(fmt.Sprintf("%d.take", number)) != "", Values: map[string]string{}, Low: map[string]string{}, High: map[string]string{}}
	for _, field := range check.Fields() {
		f.Values[field.Key] = c.PostForm(fmt.Sprintf("%d.%s", number, field.Key))
	}
	for _, l := range check.Limits {
		f.Low[l.Quantity] = c.PostForm(fmt.Sprintf("%d.low.%s", number, l.Quantity))
		f.High[l.Quantity] = c.PostForm(fmt.Sprintf("%d.high.%s", number, l.Quantity))
	}
	return f
}

// templateField finds the field of the form that a problem in a setup is about;
// "checks[1].checks[0].span" is the span of the second check that was taken.
func templateField(path string, t app.Template, filled []app.Filled) string {
	var taken int
	if _, err := fmt.Sscanf(path, "checks[%d]", &taken); err != nil {
		return path
	}
	for i, f := range filled {
		if !f.Take {
			continue
		}
		if taken--; taken >= 0 {
			continue
		}
		rest := path[strings.LastIndex(path, "checks[")+len("checks[0]"):]
		for _, field := range t.Checks[i].Fields() {
			if rest = strings.TrimPrefix(rest, "."); strings.HasPrefix(rest, field.Key) || strings.Contains(rest, "."+field.Key) {
				return fmt.Sprintf("%d.%s", i, field.Key)
			}
		}
		return fmt.Sprintf("%d.limits", i)
	}
	return path
}
