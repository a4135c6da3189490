package planning

import (
	"bytes"
	"fmt"
	"html"
	"html/template"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/plan"
	"orpine/internal/exchange"
	"orpine/internal/overview"
	"orpine/internal/planning"
	"orpine/internal/web/ui"
)

// hoursView is the sheet of hours.
type hoursView struct {
	overview.HoursSheet
	Lines      []hoursLine // the last thirty
	Earlier    []hoursLine
	Categories []string
	Of         string
	Typed      map[string]string
	Who        string
	LeftSays   string
	Months     template.HTML
}

// bar draws hours worked over what was expected, both as shares of the longest of a list.
func bar(worked, expected float64, passed bool) template.HTML {
	kind := "worked"
	if passed {
		kind += " over"
	}
	return template.HTML(fmt.Sprintf(`<svg viewBox="0 0 200 18" preserveAspectRatio="none" aria-hidden="true"><rect class="%s" x="0" y="4" width="%.1f" height="10"/><rect class="planned" x="0.8" y="1.5" width="%.1f" height="15"/></svg>`,
		html.EscapeString(kind), 198*worked, max(1, 198*expected)))
}

func (s sheets) showHours(c *gin.Context, id string, r ui.Refused) {
	sheet, err := s.Hours(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := hoursView{HoursSheet: sheet, Categories: planning.Categories, Of: r.Of, Typed: r.Typed, Who: ui.Who(c), LeftSays: spokenHours(sheet.Left), Months: months(sheet)}
	names := map[string]string{}
	for _, a := range sheet.Assemblies {
		names[a.ID] = a.Name
	}
	for i, one := range sheet.Sessions {
		l := hoursLine{one, sheet.Steps[one.Step].Name, spokenHours(one.Hours(sheet.Now))}
		if l.What == "" {
			l.What = names[one.AssemblyID]
		}
		if i < 30 {
			v.Lines = append(v.Lines, l)
		} else {
			v.Earlier = append(v.Earlier, l)
		}
	}
	p := s.Page(c, "order", "Hours", v, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "hours", Text: spokenHours(sheet.Answer.Hours.Total)}, ui.Footing{Label: "left", Text: "about " + v.LeftSays}, ui.Footing{Label: "sheet", Text: "O 4"})
	p.Unit = sheet.Airframe.Unit
	p.Path, p.Problem = "/hours", r.Wrong
	s.Render(c, r.Status, "hours", p)
}

func (s sheets) bringHours(c *gin.Context) {
	n := planning.HoursIn{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		s.Remember(c, "who", n.Who)
		err = s.Planning.BringHours(c.Request.Context(), n)
	}
	s.Done(c, err, "/hours?airframe="+n.Airframe, func(r ui.Refused) {
		if r.Of = "in"; n.Line != "" {
			r.Of = "line"
		}
		s.showHours(c, n.Airframe, r)
	})
}

func (s sheets) hoursCSV(c *gin.Context) {
	sheet, err := s.Order(c.Request.Context(), c.Query("airframe"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	names := map[string]string{}
	for _, a := range sheet.Assemblies {
		names[a.ID] = a.Name
	}
	var records [][]string
	for _, one := range slices.Backward(sheet.Sessions) {
		if !one.Running() {
			records = append(records, []string{one.From.Format("2006-01-02"), one.From.Format("15:04"), one.To.Format("15:04"), fmt.Sprintf("%.2f", one.Hours(sheet.Now)), one.Who, one.Category, names[one.AssemblyID], sheet.Steps[one.Step].Name})
		}
	}
	var b bytes.Buffer
	if err := exchange.Hours(&b, records); err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="hours.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", b.Bytes())
}

func (s sheets) resume(c *gin.Context) {
	r, err := s.Resume(c.Request.Context(), c.Query("airframe"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	p := s.Page(c, "order", "Where you were", r, ui.Footing{Label: "airframe", Text: r.Airframe.Name}, ui.Footing{Label: "sheet", Text: "O 7"})
	p.Unit = r.Airframe.Unit
	s.Render(c, 0, "resume", p)
}

// usualView is a usual order of work, to be edited and laid.
type usualView struct {
	overview.OrderSheet
	Usuals  []plan.Usual
	Usual   plan.Usual
	Lines   []usualLine
	Schools []plan.School
	School  string
	Harder  string
}

type usualLine struct {
	plan.UsualStep
	Take        bool
	Name, Hours string
	NameWrong   string
	HoursWrong  string
	AfterSays   string
}

func spokenSpan(s plan.UsualStep) string {
	write := func(h float64) string { return fmt.Sprintf("%g", h) }
	return write(s.Low) + "-" + write(s.Likely) + "-" + write(s.High) + " h"
}

func (s sheets) showUsual(c *gin.Context, id, name string, r ui.Refused) {
	sheet, err := s.Order(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	u, ok := plan.UsualOf(name)
	if !ok {
		u = plan.Usuals[0]
	}
	v := usualView{OrderSheet: sheet, Usuals: plan.Usuals, Usual: u, Schools: plan.Schools, School: string(plan.InStep), Harder: plan.HardLeft}
	refused := len(r.Wrong) > 0
	if refused {
		v.School, v.Harder = r.Typed["school"], r.Typed["harder"]
	}
	for i, step := range u.Steps {
		l := usualLine{UsualStep: step, Take: true, Name: step.Name, Hours: spokenSpan(step)}
		for k, b := range step.After {
			if k > 0 {
				l.AfterSays += ", "
			}
			l.AfterSays += fmt.Sprint(b + 1)
		}
		if refused {
			n, h := fmt.Sprint("name.", i), fmt.Sprint("hours.", i)
			l.Take, l.Name, l.Hours = r.Typed[fmt.Sprint("take.", i)] != "", r.Typed[n], r.Typed[h]
			l.NameWrong, l.HoursWrong = r.Wrong[n], r.Wrong[h]
		}
		v.Lines = append(v.Lines, l)
	}
	p := s.Page(c, "order", "A usual order of work", v, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "sheet", Text: "O 8"})
	p.Unit, p.Problem = sheet.Airframe.Unit, r.Wrong
	s.Render(c, r.Status, "usualorder", p)
}

func (s sheets) layUsual(c *gin.Context) {
	n := planning.UsualLaid{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	u, _ := plan.UsualOf(n.Usual)
	for i := range u.Steps {
		n.Steps = append(n.Steps, planning.UsualEdited{Take: c.PostForm(fmt.Sprint("take.", i)) != "", Name: c.PostForm(fmt.Sprint("name.", i)), Hours: c.PostForm(fmt.Sprint("hours.", i))})
	}
	if err == nil {
		err = s.Planning.LayUsual(c.Request.Context(), n)
	}
	s.Done(c, err, "/order?airframe="+n.Airframe, func(r ui.Refused) { s.showUsual(c, n.Airframe, n.Usual, r) })
}
