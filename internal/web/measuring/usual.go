package measuring

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/form"
	"orpine/internal/core/hold"
	"orpine/internal/core/quantity"
	"orpine/internal/core/shape"
	"orpine/internal/gate"
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
	Look        string // a hand that is looked at, as typed
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
	Usually bool   // the usual limits go in
	Far     string // places far outside the part, questioned
	Sure    bool   // they are as typed
	Tools   []ui.Tool
	Tool    string
}

type fieldForm struct {
	form.Field
	Name, Value, Like, Problem string
	AsKept                     bool         // the aircraft keeps it, and it stands as it was said last
	Assumed                    bool         // what is offered rests on something nobody stated
	Heads                      []string     // of a list: its columns
	Rows                       [][]ui.Named // of a list: a row of fields for each item
}

// columnHeads are the columns of a list over its rows.
var columnHeads = map[string]string{"name": "name", "x": "along, or station", "y": "across, or outboard", "z": "height", "spacing": "by heights: front to rear", "side": "left or right", "may": "may move", "surface": "surface", "type": "what is read", "from": "from", "to": "to", "axis": "axis", "u": "within", "low": "from", "high": "to", "freedom": "freedom", "": ""}

// spare is how many empty rows a list is shown with beyond what is in it.
const spare = 2

// rowsOf lays a list out, a row of fields for each of its items and some spare ones; like
// are those of an example.
func (f *fieldForm) rowsOf() {
	for _, c := range f.Columns {
		head := columnHeads[c]
		if f.Key == "points" && c == "x" && f.As == "length" && len(f.Columns) == 2 {
			head = "along"
		}
		f.Heads = append(f.Heads, head)
	}
	values, like := measuring.Cells(f.Value, len(f.Columns)), measuring.Cells(f.Like, len(f.Columns))
	for i := range max(len(values)+spare, len(like), 3) {
		var row []ui.Named
		for j, head := range f.Heads {
			n := ui.Named{Name: fmt.Sprintf("%s.%d.%d", f.Name, i, j), Label: strings.TrimSpace(fmt.Sprintf("%d %s", i+1, head))}
			if i < len(values) {
				n.Value = values[i][j]
			}
			if i < len(like) {
				n.Like = like[i][j]
			}
			row = append(row, n)
		}
		f.Rows = append(f.Rows, row)
	}
}

type limitForm struct {
	measuring.LimitField
	Low, High, LowName, HighName, Problem string
	Form                                  string // id of the form that it belongs to, where it stands outside of it
	AsName                                string // of the answer to what is asked of one end alone
	Either                                bool   // its bare lengths are in the unit that is chosen on the same page
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
	kept, err := s.Measuring.Stated(c.Request.Context(), sheet.Airframe.ID)
	if err != nil {
		s.Fail(c, err)
		return
	}
	view := usualView{Instruments: sheet.Instruments, Assembly: sheet.Assembly, Airframe: sheet.Airframe, Usual: u, Name: c.DefaultPostForm("name", "on the bench"), Planned: planned, Drills: hold.Step(u.Step).Drills(), Pins: c.PostForm("pins") != "", Look: c.PostForm("look"), Lessons: sheet.Lessons}
	take := c.Query("take")
	for i, form := range u.Checks {
		var one *measuring.Filled
		joins, several := form.Joins()
		switch {
		case filled != nil:
			one = &filled[i]
		case joins && !several:
			one = &measuring.Filled{Take: true, Values: measuring.JoinFrom(others, sheet.Assembly.Assembly)}
			view.Name = "on the airframe"
		}
		view.Plans = view.Plans || joins
		if one == nil {
			one = &measuring.Filled{Take: take == form.Kind || take == "all", Values: form.Fresh(sheet.Shape, sheet.Airframe.Unit, kept)}
		}
		view.Forms = append(view.Forms, formOf(form, i, one, formAround{sheet.Shape, sheet.Airframe.Unit, sheet.Instruments, kept}, r.Wrong))
	}
	p := s.Page(c, "airframe", sheet.Name+": "+u.Name, view, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "assembly", Text: sheet.Name}, ui.Footing{Label: "checks", Text: u.Name}, ui.Footing{Label: "sheet", Text: "A 3"})
	p.Problem, p.Unit = r.Wrong, sheet.Airframe.Unit
	s.Render(c, r.Status, "usual", p)
}

// formAround is what a check's form is filled in among.
type formAround struct {
	shape       shape.Shape
	unit        quantity.Unit
	instruments []instrument.Instrument
	kept        measuring.Stated
}

// formOf is the form of a check as it is filled in.
func formOf(of measuring.CheckForm, number int, filled *measuring.Filled, around formAround, wrong ledger.Problems) checkForm {
	out := checkForm{CheckForm: of, Number: number, Take: filled.Take, Usually: filled.Usual, Problem: wrong[fmt.Sprintf("%d.limits", number)], Far: wrong[fmt.Sprintf("%d.far", number)], Sure: filled.Sure, Tools: ui.Tools(measuring.ReadsAngles(of.Kind), around.instruments, around.unit), Tool: filled.Instrument}
	for _, f := range of.Fields() {
		name := fmt.Sprintf("%d.%s", number, f.Key)
		one := fieldForm{Field: f, Name: name, Value: filled.Values[f.Key], Like: measuring.Like(f, of.Usual[f.Key], around.unit), Problem: wrong[name], Assumed: of.Rests(f.Key, around.shape, around.unit)}
		one.AsKept = f.Kept && one.Value != "" && one.Value == around.kept[f.Key]
		if len(f.Columns) > 0 {
			one.rowsOf()
		}
		out.Fields = append(out.Fields, one)
	}
	for _, l := range of.Limits {
		out.Limits = append(out.Limits, limitForm{LimitField: l, LowName: fmt.Sprintf("%d.low.%s", number, l.Quantity), HighName: fmt.Sprintf("%d.high.%s", number, l.Quantity), Low: filled.Low[l.Quantity], High: filled.High[l.Quantity], AsName: fmt.Sprintf("%d.as.%s", number, l.Quantity), Problem: wrong[fmt.Sprintf("%d.limits.%s", number, l.Quantity)]})
	}
	return out
}

// Asked are the answers that one press gives, where one end alone was typed.
func (l limitForm) Asked() []string {
	if !strings.HasPrefix(l.Problem, measuring.OneEnd) {
		return nil
	}
	if strings.TrimSpace(l.Low) == "" {
		return []string{"±", "at most"}
	}
	return []string{"±", "at least"}
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
	n, wrong := u.Setup(ledger.Form{ID: c.PostForm("id")}, a, c.PostForm("name"), frame.Unit, filled)
	n.Pins = c.PostForm("pins") != ""
	n.Hold.Required = append(n.Hold.Required, gate.Eyed(n.ID, strings.TrimSpace(c.PostForm("look")))...)
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
	f := measuring.Filled{Take: c.PostForm(fmt.Sprintf("%d.take", number)) != "", Usual: c.PostForm(fmt.Sprintf("%d.usual", number)) != "", Sure: c.PostForm(fmt.Sprintf("%d.sure", number)) != "", Instrument: c.PostForm(fmt.Sprintf("%d.instrument", number)), Values: map[string]string{}, Low: map[string]string{}, High: map[string]string{}}
	for _, field := range of.Fields() {
		name := fmt.Sprintf("%d.%s", number, field.Key)
		if f.Values[field.Key] = c.PostForm(name); len(field.Columns) > 0 && f.Values[field.Key] == "" {
			f.Values[field.Key] = ui.TypedRows(c, name, len(field.Columns))
		}
	}
	for _, l := range of.Limits {
		f.Low[l.Quantity], f.High[l.Quantity] = measuring.EndAs(c.PostForm(fmt.Sprintf("%d.as.%s", number, l.Quantity)), c.PostForm(fmt.Sprintf("%d.low.%s", number, l.Quantity)), c.PostForm(fmt.Sprintf("%d.high.%s", number, l.Quantity)))
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

// HasUsual tells whether a form has limits that are usual.
func (f checkForm) HasUsual() bool {
	return slices.ContainsFunc(f.Limits, func(l limitForm) bool { return l.HasUsual() })
}
