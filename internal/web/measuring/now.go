package measuring

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/web/kinds"
	"orpine/internal/web/ui"
	"orpine/internal/worksheet"
)

// nowView is what is measured now before its first reading: nothing of it is kept.
type nowView struct {
	setupView
	Now     measuring.Now
	Unit    string
	Plans   []fieldForm // what only the plans know
	Words   []fieldForm // how it is done, or lies
	More    []fieldForm // words that may be left empty
	Sizes   []sizeForm
	Limits  []limitForm
	Limited bool // one of them is being said
	Tools   []ui.Tool
	Tool    string
	Picture any
	Quiet   bool // something is being said: the focus stays there
	Open    bool // the dimensions are being said
}

// sizeForm is a field that says where things are, as it stands on the drawing.
type sizeForm struct {
	Label   string
	Form    string // id of the form that it belongs to, where it stands outside of it
	Heads   []string
	Rows    [][]ui.Named
	Wait    bool // something of it stands at a usual proportion
	Line    bool // there may be more or fewer of its places
	Fewer   int  // so many places less one, 0 for none
	More    int  // and one more
	Problem string
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

// said tells whether a figure of it was typed.
func (s sizeForm) said() bool {
	return slices.ContainsFunc(s.Rows, func(row []ui.Named) bool {
		figures := row[min(1, len(s.Heads)):] // a list begins with its names
		return slices.ContainsFunc(figures, func(n ui.Named) bool { return n.Value != "" })
	})
}

// now is what is measured now, as its address says it: choices and dimensions that were made before the first reading
// stand there, and nothing is kept of them.
func (s sheets) now(c *gin.Context) {
	c.Request.PostForm = c.Request.URL.Query() // read as the form is
	s.showNow(c, typedReading{Text: c.Query("text"), Condition: c.Query("condition"), Turned: c.Query("turned") == "true", Hung: c.Query("hung") == "true", Aid: c.Query("aid"), Sent: c.Query("sent")}, ui.Refused{})
}

// sketchOf is what is measured now, as its form has it.
func (s sheets) sketchOf(c *gin.Context) (n measuring.Now, f measuring.Filled, setup measuring.Setup, waits []string, ok bool) {
	if n, ok = measuring.NowOf(c.Param("kind")); !ok {
		s.Fail(c, ledger.ErrNotFound)
		return n, f, setup, nil, false
	}
	list, err := s.Instruments.List(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return n, f, setup, nil, false
	}
	unit := s.unitOf(c)
	places, _ := strconv.Atoi(c.PostForm("places"))
	f, waits = n.Drawn(readForm(c, 0, n.Form()), places, unitNamed(unit))
	if f.Instrument == "" {
		f.Instrument = c.DefaultPostForm("instrument", s.lastTool(c, n, list))
	}
	setup, err = n.Sketch(f, unit, waits, list)
	var wrong ledger.Problems
	if errors.As(err, &wrong) { // what was typed cannot be drawn: the usual is, and the field says what is wrong
		drawn, at := n.Drawn(measuring.Filled{Values: map[string]string{}}, places, unitNamed(unit))
		setup, err = n.Sketch(drawn, unit, at, list)
	}
	if err != nil {
		s.Fail(c, err)
		return n, f, setup, nil, false
	}
	return n, f, setup, waits, true
}

// unitOf is the unit of bare lengths that was chosen, or that of before.
func (s sheets) unitOf(c *gin.Context) string {
	unit := c.PostForm("unit")
	if unit != "in" && unit != "mm" {
		unit = s.lastUnit(c)
	}
	return unit
}

// toolCookie is where the instrument is kept that read angles, or lengths, last.
func toolCookie(n measuring.Now) string {
	if measuring.ReadsAngles(n.Kind) {
		return "angle-tool"
	}
	return "length-tool"
}

// lastTool is that instrument; what was chosen as one that any shop has is the shop's own since. "" where it is gone.
func (s sheets) lastTool(c *gin.Context, n measuring.Now, shop []instrument.Instrument) string {
	id, _ := c.Cookie(toolCookie(n))
	quick, any := instrument.QuickOf(id)
	for _, in := range shop {
		if in.ID == id || any && in.Name == quick.Name {
			return in.ID
		}
	}
	if any {
		return id
	}
	return ""
}

func (s sheets) showNow(c *gin.Context, typed typedReading, r ui.Refused) {
	n, f, setup, waits, ok := s.sketchOf(c)
	if !ok {
		return
	}
	unit := s.unitOf(c)
	if c.PostForm("unit") != "" {
		s.Remember(c, "unit", unit)
	}
	if c.PostForm("instrument") != "" {
		s.Remember(c, toolCookie(n), f.Instrument)
	}
	at, _ := strconv.Atoi(c.Query("spot"))
	if at == 0 {
		at = number(c)
	}
	sheet := overview.SetupSheet{Setup: setup, Check: setup.Checks[0]}
	sheet.Check.Prospect = setup.Prospect(sheet.Check)
	sheet.Answer = check.Answered(sheet.Check.Check, check.Around{})
	if spot, ok := sheet.Check.Check.Spot(at); ok {
		sheet.Spot = spot
	}
	v := nowView{setupView: viewSetup(sheet, setupForm{number: at, typed: typed, wrong: r.Wrong, turning: typed.Turned}), Now: n, Unit: unit, Picture: kinds.Pictogram(n.Kind)}
	v.Action, v.Sketch, v.Quiet = "/measure/"+n.Kind, true, c.Query("said") != ""
	if v.Asks = v.Quiet || f.Instrument == ""; f.Instrument == "" {
		v.Tested = "" // of none that was chosen
	}
	for i := range v.Rows {
		for j := range v.Rows[i].Cells {
			x := &v.Rows[i].Cells[j]
			x.Href = "/measure/" + n.Kind + "?spot=" + strconv.Itoa(x.Spot.Number)
		}
	}
	list := setup.Instruments[:len(setup.Instruments):len(setup.Instruments)]
	v.Tools, v.Tool = ui.Tools(measuring.ReadsAngles(n.Kind), slices.DeleteFunc(slices.Clone(list), func(in instrument.Instrument) bool { return strings.HasPrefix(in.ID, "quick:") }), unitNamed(unit)), f.Instrument
	v.fields(c, n, f, waits, unitNamed(unit), r.Wrong)
	p := s.Page(c, "now", n.Title, v, ui.Footing{Label: "measured", Text: n.Title}, ui.Footing{Label: "kept", Text: "nothing yet"}, ui.Footing{Label: "sheet", Text: "N 1"})
	p.Problem, p.Unit = r.Wrong, unitNamed(unit)
	s.RenderSheet(c, r.Status, "now", p)
}

// fields lays out what may be said before the first reading.
func (v *nowView) fields(c *gin.Context, n measuring.Now, f measuring.Filled, waits []string, unit quantity.Unit, wrong ledger.Problems) {
	typed := readForm(c, 0, n.Form())
	form := formOf(n.Form(), 0, &f, formAround{unit: unit}, wrong)
	kind := drawnKind(n.Kind)
	for i, l := range form.Limits {
		l.Form, l.Low, l.High = "reading", typed.Low[l.Quantity], typed.High[l.Quantity]
		if l.Label = sayLimited(kind, kind.Limits[i], unit); l.Problem != "" || l.Low+l.High != "" {
			v.Limited = true
		}
		v.Limits = append(v.Limits, l)
	}
	for _, field := range form.Fields {
		switch {
		case slices.Contains(n.Plans(), field.Key):
			field.Value = typed.Values[field.Key]
			v.Plans = append(v.Plans, field)
		case field.As == "word" && field.Columns == nil && field.Optional && field.Key != "lies":
			v.More = append(v.More, field)
		case field.As == "word" && field.Columns == nil:
			v.Words = append(v.Words, field)
		case field.Columns == nil && field.Optional:
		case field.Columns == nil:
			size := sizeForm{Label: before(field.Label), Wait: slices.Contains(waits, field.Key), Problem: field.Problem, Form: "reading"}
			size.Rows = [][]ui.Named{{{Name: field.Name, Label: field.Label, Value: typed.Values[field.Key], Like: f.Values[field.Key]}}}
			v.Sizes = append(v.Sizes, size)
		default:
			v.Sizes = append(v.Sizes, placesOf(n, field, typed.Values[field.Key], slices.Contains(waits, field.Key)))
		}
	}
	v.Open = c.PostForm("places") != "" || slices.ContainsFunc(v.Sizes, sizeForm.said)
}

// before is a label without what explains how its list would be typed.
func before(label string) string {
	label, _, _ = strings.Cut(label, ":")
	return label
}

// placesOf are the rows of a list on the drawing: what was typed stands in them, and what is drawn behind it.
func placesOf(n measuring.Now, field fieldForm, typed string, waits bool) sizeForm {
	out := sizeForm{Label: before(field.Label), Wait: waits, Problem: field.Problem, Form: "reading"}
	drawn, own := measuring.Cells(field.Value, len(field.Columns)), measuring.Cells(typed, len(field.Columns))
	used := func(j int) bool {
		return j == 0 || slices.ContainsFunc(drawn, func(row []string) bool { return row[j] != "" })
	}
	for j := range field.Columns {
		if used(j) {
			out.Heads = append(out.Heads, field.Heads[j])
		}
	}
	for i, row := range drawn {
		var cells []ui.Named
		for j, cell := range row {
			if !used(j) {
				continue
			}
			x := ui.Named{Name: fmt.Sprintf("%s.%d.%d", field.Name, i, j), Label: strings.TrimSpace(fmt.Sprintf("%s %s", row[0], field.Heads[j])), Like: cell}
			if j == 0 {
				x.Value, x.Label = cell, strings.TrimSpace(fmt.Sprintf("%d %s", i+1, field.Heads[j]))
			} else if i < len(own) {
				x.Value = own[i][j]
			}
			cells = append(cells, x)
		}
		out.Rows = append(out.Rows, cells)
	}
	if out.Line = measuring.Line(field.Field, n.Form().Usual[field.Key]); out.Line {
		out.Fewer, out.More = measuring.Places(len(drawn)-1), measuring.Places(len(drawn)+1)
	}
	return out
}

// sketchAsIf is what would be said of what is measured now with what stands in its first field.
func (s sheets) sketchAsIf(c *gin.Context) {
	c.Request.PostForm = c.Request.URL.Query()
	n, f, setup, _, ok := s.sketchOf(c)
	if !ok {
		return
	}
	at, _ := strconv.Atoi(c.Query("number"))
	r := measuring.NewReading{Text: c.Query("text"), Instrument: f.Instrument, Turned: c.Query("turned") == "true"}
	sheet := overview.SetupSheet{Setup: setup, Check: setup.Checks[0]}
	sheet.Answer = check.Answered(sheet.Check.Check, check.Around{})
	v := viewSetup(sheet, setupForm{number: at})
	v.Sketch, v.Action = true, "/measure/"+n.Kind
	if spot, ok := sheet.Check.Check.Spot(at); ok {
		v.Echo = s.readAs(r.Text, spot.Spot, setup.Airframe.Unit, r.Instrument, setup.Instruments)
	}
	if would, a, ok := s.AsIf(sheet, at, r); ok {
		v.Check, v.Answer, v.Unkept = would, viewAnswer("", would, a, setup.Airframe.Unit), true
	}
	s.RenderPart(c, 0, "setup", "setup-as-if", ui.Page{View: v, Unit: setup.Airframe.Unit, Account: ui.Signed(c)})
}

// beginNow begins a setup that belongs to no assembly yet, with its first reading where one was typed on the drawing.
func (s sheets) beginNow(c *gin.Context) {
	n, ok := measuring.NowOf(c.Param("kind"))
	if !ok {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	_, read := c.GetPostForm("text")
	form, unit := n.Form(), c.PostForm("unit")
	filled, waits := readForm(c, 0, form), []string(nil)
	filled.Take = true
	var first measuring.NewReading
	err := ui.Bind(c, &first)
	if read {
		if unit == "" {
			unit = s.unitOf(c)
		}
		places, _ := strconv.Atoi(c.PostForm("places"))
		filled, waits = n.Drawn(filled, places, unitNamed(unit))
		filled.Instrument = first.Instrument
		s.Remember(c, toolCookie(n), first.Instrument)
	}
	s.Remember(c, "unit", unit)
	setup, wrong := n.Setup(ledger.Form{ID: c.PostForm("id")}, unit, filled, waits...)
	if read && first.Instrument == "" {
		wrong.Add("instrument", "what is it read with?")
	}
	if err == nil {
		err = wrong.Err()
	}
	switch {
	case err != nil:
	case read:
		err = s.MeasureNow(c.Request.Context(), setup, first)
	default:
		err = s.Measuring.Begin(c.Request.Context(), setup)
	}
	typed := typedReading{Text: first.Text, Condition: first.Condition, Turned: first.Turned, Hung: first.Hung, Aid: first.Aid, Sent: first.Sent}
	var more ledger.Problems
	if errors.As(err, &more) {
		wrong := ledger.Problems{}
		for path, message := range more {
			if path == "slip" {
				typed.Questioned = first.Text
			}
			wrong.Add(fieldOf(path, []measuring.CheckForm{form}, []measuring.Filled{{Take: true}}), message)
		}
		s.showNow(c, typed, ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong, Typed: ui.Typed(c)})
		return
	}
	to := "/setups/" + setup.ID
	if err == nil && ui.HTMX(c) {
		c.Header("HX-Push-Url", s.Base+to)
		c.Params = gin.Params{{Key: "id", Value: setup.ID}}
		s.showSetup(c, setupForm{})
		return
	}
	s.Done(c, err, to, func(r ui.Refused) { s.showNow(c, typed, r) })
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
