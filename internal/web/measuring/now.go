package measuring

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/web/kinds"
	"orpine/internal/web/ui"
	"orpine/internal/worksheet"
)

// nowView is the form of something that is measured without an aircraft.
type nowView struct {
	measuring.Now
	Form    checkForm
	Unit    string
	Picture any
}

// lastUnit is the unit in which bare lengths were typed last, or that of the shop.
func (s sheets) lastUnit(c *gin.Context) string {
	unit, _ := c.Cookie("unit")
	if unit != "in" && unit != "mm" {
		unit = s.ShopUnit(c.Request.Context()).String()
	}
	return unit
}

func unitNamed(name string) quantity.Unit {
	if name == "in" {
		return quantity.Inch
	}
	return quantity.Millimetre
}

// measureNow offers everything that can be measured or worked out at once.
func (s sheets) measureNow(c *gin.Context) {
	s.Render(c, http.StatusOK, "measure", s.Page(c, "now", "Measure now", s.Tiles(), ui.Footing{Label: "sheet", Text: "N"}))
}

func (s sheets) now(c *gin.Context) { s.showNow(c, nil, ui.Refused{}) }

func (s sheets) showNow(c *gin.Context, filled *measuring.Filled, r ui.Refused) {
	n, ok := measuring.NowOf(c.Param("kind"))
	if !ok {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	list, err := s.Instruments.List(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	unit := c.DefaultPostForm("unit", s.lastUnit(c))
	if filled == nil {
		filled = &measuring.Filled{Values: n.Named()}
	}
	v := nowView{n, formOf(n.Form(), 0, filled, formAround{unit: unitNamed(unit), instruments: list}, r.Wrong), unit, kinds.Pictogram(n.Kind)}
	for i := range v.Form.Limits {
		kind := drawnKind(n.Kind)
		l := &v.Form.Limits[i]
		if l.Label = sayLimited(kind, kind.Limits[i], unitNamed(unit)); kind.Limits[i].Dimension == measure.Length {
			l.Label, l.Either = check.SayLimited(kind, kind.Limits[i].Name), true // the unit is chosen on this page
		}
	}
	p := s.Page(c, "now", n.Title, v, ui.Footing{Label: "measured", Text: n.Title}, ui.Footing{Label: "sheet", Text: "N 1"})
	p.Problem, p.Unit = r.Wrong, unitNamed(unit)
	s.Render(c, r.Status, "now", p)
}

// beginNow begins a setup that belongs to no assembly yet.
func (s sheets) beginNow(c *gin.Context) {
	n, ok := measuring.NowOf(c.Param("kind"))
	if !ok {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	form, unit := n.Form(), c.PostForm("unit")
	filled := readForm(c, 0, form)
	filled.Take = true
	s.Remember(c, "unit", unit)
	setup, wrong := n.Setup(ledger.Form{ID: c.PostForm("id")}, unit, filled)
	err := wrong.Err()
	if err == nil {
		err = s.Measuring.Begin(c.Request.Context(), setup)
	}
	var more ledger.Problems
	if errors.As(err, &more) {
		wrong := ledger.Problems{}
		for path, message := range more {
			wrong.Add(fieldOf(path, []measuring.CheckForm{form}, []measuring.Filled{{Take: true}}), message)
		}
		s.showNow(c, &filled, ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong, Typed: ui.Typed(c)})
		return
	}
	s.Done(c, err, "/setups/"+setup.ID, nil)
}

// keepTo keeps such a setup to an assembly.
func (s sheets) keepTo(c *gin.Context) {
	n := measuring.KeepTo{Setup: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Measuring.KeepTo(c.Request.Context(), n)
	}
	s.answerForm(c, err, setupForm{})
}

// confirm says that what was assumed of a check is what the plans say.
func (s sheets) confirm(c *gin.Context) {
	n := measuring.Confirm{Form: ledger.Form{ID: c.PostForm("id")}, Check: c.Param("check"), By: ui.Who(c)}
	err := s.Measuring.Confirm(c.Request.Context(), n)
	s.Done(c, err, "/setups/"+c.Param("id")+"?check="+n.Check, func(r ui.Refused) { s.showCheck(c, r) })
}

// sumView is the form of a sum with what came of it.
type sumView struct {
	measuring.Sum
	Unit     string
	Fields   []fieldForm
	Picture  any
	Says     []string
	Findings []string
	Working  any
	Verdict  string
}

// workOut shows the form of a sum, and what comes of it once it is filled in. Nothing is
// kept of it.
func (s sheets) workOut(c *gin.Context) {
	sum, ok := measuring.SumOf(c.Param("kind"))
	if !ok {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	unit := c.DefaultPostForm("unit", s.lastUnit(c))
	values, wrong := map[string]string{}, ledger.Problems{}
	v := sumView{Sum: sum, Unit: unit, Picture: kinds.Pictogram(sum.Kind)}
	status := http.StatusOK
	if c.Request.Method == http.MethodPost {
		for _, f := range sum.Fields {
			if values[f.Key] = c.PostForm("0." + f.Key); len(f.Columns) > 0 {
				values[f.Key] = ui.TypedRows(c, "0."+f.Key, len(f.Columns))
			}
		}
		s.Remember(c, "unit", unit)
		worked, err := sum.WorkOut(values, unitNamed(unit))
		if errors.As(err, &wrong) {
			status = http.StatusUnprocessableEntity
		} else if err != nil {
			s.Fail(c, err)
			return
		}
		v.Says, v.Working = worked.Says(), worked.Result.Working
		if worked.Result.Verdict.String() != "none" {
			v.Verdict = worked.Result.Verdict.String()
		}
		for _, f := range worked.Result.Findings {
			v.Findings = append(v.Findings, f.Text)
		}
	}
	for _, f := range sum.Fields {
		one := fieldForm{Field: f, Name: "0." + f.Key, Value: values[f.Key], Like: measuring.Like(f, sum.Usual[f.Key], unitNamed(unit)), Problem: wrong[f.Key]}
		if len(f.Columns) > 0 {
			one.rowsOf()
		}
		v.Fields = append(v.Fields, one)
	}
	p := s.Page(c, "now", sum.Title, v, ui.Footing{Label: "worked out", Text: sum.Title}, ui.Footing{Label: "sheet", Text: "N 2"})
	p.Problem, p.Unit = wrong, unitNamed(unit)
	s.Render(c, status, "sum", p)
}

// drawnKind is the kind of a check.
func drawnKind(name string) measure.Kind {
	k, _ := worksheet.KindNamed(name)
	return k
}

// AsForm is the form of a sum as that of a check, which it is laid out like.
func (v sumView) AsForm() checkForm { return checkForm{Fields: v.Fields} }

// turn is the end-for-end test of the level in hand, made at the bench itself.
func (s sheets) turn(c *gin.Context) {
	n := instrument.EndForEnd{Instrument: c.PostForm("instrument")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Instruments.Test(c.Request.Context(), n)
	}
	s.answerForm(c, err, setupForm{check: c.PostForm("check"), number: number(c)})
}
