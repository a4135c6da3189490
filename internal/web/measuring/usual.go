package measuring

import (
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/form"
	"orpine/internal/core/hold"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/web/ui"
)

// usualView is the form of the usual checks of an assembly.
type usualView struct {
	Assembly    overview.Assembly
	Airframe    airframe.Airframe
	Usual       measuring.Usual
	Name        string // of the setup, as typed
	Forms       []checkForm
	Plans       bool   // readings can be planned
	Planned     string // what came of planning
	Instruments []instrument.Instrument
	Drills      bool // two holds in series are offered
	Pins        bool
	Lessons     []logbook.Lesson
}

// checkForm is one check with what was typed, or what is usual.
type checkForm struct {
	measuring.CheckForm
	Number  int
	Take    bool
	Fields  []fieldForm
	Limits  []limitForm
	Problem string // of the limits
}

type fieldForm struct {
	form.Field
	Name, Value, Like, Problem string
}

type limitForm struct {
	measuring.LimitField
	Low, High, LowName, HighName, Problem string
}

func (s sheets) usual(c *gin.Context) { s.showUsual(c, nil, "", ui.Refused{}) }

// showUsual shows the form; filled is nil when it is opened for the first time.
func (s sheets) showUsual(c *gin.Context, filled []measuring.Filled, planned string, r ui.Refused) {
	sheet, others, err := s.Joinable(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	u, ok := measuring.UsualOf(c.Param("usual"))
	if !ok {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	view := usualView{Instruments: sheet.Instruments, Assembly: sheet.Assembly, Airframe: sheet.Airframe, Usual: u, Name: c.DefaultPostForm("name", "on the bench"), Planned: planned, Drills: hold.Step(u.Step).Drills(), Pins: c.PostForm("pins") != "", Lessons: sheet.Lessons}
	for i, form := range u.Checks {
		var one *measuring.Filled
		switch {
		case filled != nil:
			one = &filled[i]
		case form.Kind == "pose":
			one = &measuring.Filled{Take: true, Values: measuring.JoinFrom(others, sheet.Assembly.Assembly)}
			view.Name = "on the airframe"
		}
		view.Plans = view.Plans || form.Kind == "pose" || form.Kind == "join"
		view.Forms = append(view.Forms, formOf(form, i, one, r.Wrong))
	}
	p := s.Page(c, "airframe", sheet.Name+": "+u.Name, view, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "assembly", Text: sheet.Name}, ui.Footing{Label: "checks", Text: u.Name}, ui.Footing{Label: "sheet", Text: "A 3"})
	p.Problem = r.Wrong
	s.Render(c, r.Status, "usual", p)
}

// formOf is the form of a check; filled is nil when it is opened for the first time.
func formOf(of measuring.CheckForm, number int, filled *measuring.Filled, wrong ledger.Problems) checkForm {
	out := checkForm{CheckForm: of, Number: number, Take: filled == nil || filled.Take, Problem: wrong[fmt.Sprintf("%d.limits", number)]}
	for _, f := range of.Fields() {
		// Words and names are offered; figures are another aircraft's, and only shown.
		usual, value := of.Usual[f.Key], ""
		if f.As == "word" || len(f.Columns) == 1 && f.Columns[0] == "name" {
			value = usual
		}
		if filled != nil {
			value = filled.Values[f.Key]
		}
		name := fmt.Sprintf("%d.%s", number, f.Key)
		out.Fields = append(out.Fields, fieldForm{f, name, value, usual, wrong[name]})
	}
	for _, l := range of.Limits {
		limit := limitForm{LimitField: l, LowName: fmt.Sprintf("%d.low.%s", number, l.Quantity), HighName: fmt.Sprintf("%d.high.%s", number, l.Quantity)}
		if filled != nil {
			limit.Low, limit.High = filled.Low[l.Quantity], filled.High[l.Quantity]
		}
		out.Limits = append(out.Limits, limit)
	}
	return out
}

// beginUsual begins a setup of the checks that were taken.
func (s sheets) beginUsual(c *gin.Context) {
	frame, a, err := s.Airframes.Assembly(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	u, ok := measuring.UsualOf(c.Param("usual"))
	if !ok {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	filled := make([]measuring.Filled, len(u.Checks))
	for i, form := range u.Checks {
		filled[i] = readForm(c, i, form)
	}
	if c.PostForm("plan") != "" {
		s.planJoin(c, frame, u, filled)
		return
	}
	n, wrong := u.Setup(ledger.Form{ID: c.PostForm("id")}, a.ID, c.PostForm("name"), frame.Unit, filled)
	n.Pins = c.PostForm("pins") != ""
	if err = wrong.Err(); err == nil {
		err = s.Measuring.Begin(c.Request.Context(), n)
	}
	s.Done(c, err, "/setups/"+n.ID, func(r ui.Refused) {
		wrong := ledger.Problems{}
		for path, message := range r.Wrong {
			wrong.Add(fieldOf(path, u.Checks, filled), message)
		}
		r.Wrong = wrong
		s.showUsual(c, filled, "", r)
	})
}

// planJoin fills in the readings that would decide a join, and shows its form again.
func (s sheets) planJoin(c *gin.Context, frame airframe.Airframe, u measuring.Usual, filled []measuring.Filled) {
	text, decided, err := s.Measuring.PlanJoin(c.Request.Context(), frame.Unit, 0, u.Checks[0], filled[0])
	var wrong ledger.Problems
	switch {
	case errors.As(err, &wrong):
		s.showUsual(c, filled, "", ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong})
	case err != nil:
		s.Fail(c, err)
	default:
		filled[0].Values["readings"] = text
		says := "These are the fewest readings that would decide it, if it stands where it should, with one placing each."
		if !decided {
			says = "Even these would not decide it with the instruments on hand: finer ones, or points further apart, would."
		}
		s.showUsual(c, filled, says, ui.Refused{})
	}
}

// readForm reads the form of one check.
func readForm(c *gin.Context, number int, of measuring.CheckForm) measuring.Filled {
	f := measuring.Filled{Take: c.PostForm(fmt.Sprintf("%d.take", number)) != "", Values: map[string]string{}, Low: map[string]string{}, High: map[string]string{}}
	for _, field := range of.Fields() {
		f.Values[field.Key] = c.PostForm(fmt.Sprintf("%d.%s", number, field.Key))
	}
	for _, l := range of.Limits {
		f.Low[l.Quantity] = c.PostForm(fmt.Sprintf("%d.low.%s", number, l.Quantity))
		f.High[l.Quantity] = c.PostForm(fmt.Sprintf("%d.high.%s", number, l.Quantity))
	}
	return f
}

// fieldOf finds the field of the form that a problem in a setup is about;
// "checks[1].checks[0].span" is the span of the second check that was taken.
func fieldOf(path string, forms []measuring.CheckForm, filled []measuring.Filled) string {
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
		for _, field := range forms[i].Fields() {
			if rest = strings.TrimPrefix(rest, "."); strings.HasPrefix(rest, field.Key) || strings.Contains(rest, "."+field.Key) {
				return fmt.Sprintf("%d.%s", i, field.Key)
			}
		}
		return fmt.Sprintf("%d.limits", i)
	}
	return path
}
