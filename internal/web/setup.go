package web

import (
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/school"
	"orpine/internal/web/drawing"
)

// setupView is the Setup sheet: one check of a setup at a time.
type setupView struct {
	Setup       app.Setup
	Lessons     []app.Lesson
	Check       app.Check
	Spot        app.Spot // the point in hand; its number is 0 when all is read
	Tabs        []checkTab
	Rows        []pointRow
	Drawing     template.HTML
	Answer      answer
	Instruments []app.Instrument // that can read this spot
	Instrument  string           // id of the one chosen
	Tested      string           // when it was proven, for a level
	Conditions  []string
	Reasons     []string
	Events      []measure.Event
	Holdable    bool // it may be held down to its support
	Held        bool
	Trued       bool // and the bench is made true, so that nothing is taken off
	Again       bool // the spot has readings that count: a new one is a further placing or replaces them
	CanTurn     bool // the instrument may be held the other way round
	Typed       typedReading
}

// typedReading is a reading's form as it was typed.
type typedReading struct {
	Text, Condition, InPlace, Questioned string
	Turned                               bool
}

type checkTab struct {
	Name, Href, Says string
	Current          bool
}

// row is one point of the lane of readings.
type pointRow struct {
	Number  int
	Part    string // of the two parts or rounds that this row begins
	Name    string
	Cells   []cell
	Note    string // what an adjustment says of the reading
	Current bool   // the spot in hand is one of its cells
}

// cell is one spot of a row.
type cell struct {
	Spot    app.Spot
	Label   string
	Shown   string // the value that counts, as understood
	Stale   string // the value that no longer counts
	Count   int    // placings
	Turned  bool   // taken with the instrument the other way round
	Href    string
	Current bool
}

// form is what a setup's form said, to show it again when it was refused.
type form struct {
	check   string
	number  int
	typed   typedReading
	wrong   app.Problems
	status  int
	whole   bool // the layout too
	turning bool // it was said just now which way round the instrument is held
}

func (s *server) setups(c *gin.Context) {
	var list []app.Setup
	for _, a := range s.everything(c) {
		list = append(list, a.Setups...)
	}
	if c.IsAborted() {
		return
	}
	if len(list) == 1 {
		c.Redirect(http.StatusSeeOther, "/setups/"+list[0].ID)
		return
	}
	s.render(c, http.StatusOK, "setups", "layout.html", s.page(c, "setup", "Setups", list, footing{"setups", fmt.Sprint(len(list))}, footing{"sheet", "S"}))
}

// everything lists the assemblies of all aircraft; when that fails the request is
// answered and aborted.
func (s *server) everything(c *gin.Context) []app.Assembly {
	frames, err := s.app.Airframes(c.Request.Context())
	var all []app.Assembly
	for _, f := range frames {
		var home app.Home
		if home, err = s.app.Home(c.Request.Context(), f.ID); err != nil {
			break
		}
		all = append(all, home.Assemblies...)
	}
	if err != nil {
		s.fail(c, err)
	}
	return all
}

func (s *server) setup(c *gin.Context) {
	number, _ := strconv.Atoi(c.Query("spot"))
	typed := typedReading{Text: c.Query("text"), Turned: c.Query("turned") == "yes"}
	s.showSetup(c, form{check: c.Query("check"), number: number, typed: typed, turning: c.Query("turning") != "", status: http.StatusOK, whole: c.GetHeader("HX-Request") == ""})
}

func (s *server) showSetup(c *gin.Context, f form) {
	setup, err := s.app.Sheet(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	view := viewSetup(setup.Setup, f, setup.Instruments, setup.Holds)
	tab := "setup"
	if _, join := view.Check.Joined(); join {
		tab = "join"
	}
	step := ""
	for _, h := range setup.Holds {
		step = h.Step
	}
	if view.Lessons, err = s.app.Lessons(c.Request.Context(), setup.Airframe.ID, setup.AssemblyName, step); err != nil {
		s.fail(c, err)
		return
	}
	p := s.page(c, tab, setup.AssemblyName+" "+setup.Name, view, setupFooting(setup.Setup, setup.Holds)...)
	p.Slip = slipContext{Assembly: setup.AssemblyID, Step: step, Place: setup.AssemblyName + " " + setup.Name + ", " + view.Check.Name}
	p.Path = "/setups/" + setup.ID
	p.Problem = f.wrong
	part := "layout.html"
	if !f.whole {
		part = "sheet"
	}
	s.render(c, f.status, "setup", part, p)
}

// viewSetup lays the setup out for its page.
func viewSetup(setup app.Setup, f form, instruments []app.Instrument, holds []app.Hold) setupView {
	check := chooseCheck(setup, f.check)
	spot, _ := check.Spot(f.number)
	v := setupView{Setup: setup, Check: check, Spot: spot, Conditions: app.Conditions, Reasons: app.Reasons, Events: measure.Disturbances, Typed: f.typed}
	for _, c := range setup.Checks {
		v.Tabs = append(v.Tabs, checkTab{c.Name, href(setup, c, 0), fmt.Sprintf("%d of %d", c.Taken, c.Wanted), c.ID == check.ID})
	}
	v.Instrument = offered(setup, check, spot, instruments)
	for _, in := range instruments {
		if !in.Reads() {
			continue
		}
		if v.Spot.Number == 0 || in.Angle != (v.Spot.Dimension == measure.Angle) {
			continue
		}
		v.Instruments = append(v.Instruments, in)
		if in.ID == v.Instrument && in.Angle {
			v.Tested = sayTested(in)
		}
	}
	if v.Typed.Condition == "" {
		v.Typed.Condition = lastCondition(check)
	}
	if _, ok := check.Input.(*measure.Twist); ok {
		v.Holdable, v.Held = true, check.Definition["held"] == true
		v.Trued = check.Judged.Answer(school.Bench) == school.Trued
	}
	v.Again = len(v.Spot.Counting()) > 0
	v.CanTurn = v.Spot.Number > 0 && v.Spot.Dimension == measure.Angle
	if !f.turning && f.wrong == nil {
		v.Typed.Turned = lastTurned(check, v.Spot)
	}
	v.Typed.Turned = v.Typed.Turned && v.CanTurn
	v.Rows = rows(setup, check, v.Spot)
	v.Drawing = scene{setup, check, v.Spot, v.Typed.Turned}.draw()
	v.Answer = answerOf(setup, check, holds)
	return v
}

// offered is the instrument that is offered for a spot: the check's last one, or
// the one last used in this setup that measures the same.
func offered(setup app.Setup, check app.Check, spot app.Spot, instruments []app.Instrument) string {
	if _, join := check.Joined(); join {
		if id := offeredLike(check, spot, instruments); id != "" {
			return id
		}
	} else if check.Instrument != "" {
		return check.Instrument
	}
	for _, c := range setup.Checks {
		for _, in := range c.Used {
			if in.Angle == (spot.Dimension == measure.Angle) {
				return in.ID
			}
		}
	}
	return ""
}

// offeredLike is the instrument that was last used in a join for a reading of the
// same type.
func offeredLike(check app.Check, spot app.Spot, instruments []app.Instrument) (id string) {
	kind := func(s app.Spot) string {
		words := strings.Fields(s.Point)
		if len(words) < 2 {
			return s.Sense
		}
		return words[1]
	}
	var last app.Reading
	for _, s := range check.Spots {
		for _, r := range s.Readings {
			if s.Dimension == spot.Dimension && kind(s) == kind(spot) && !r.At.Before(last.At) {
				last = r
			}
		}
	}
	for _, in := range instruments {
		if in.Name == last.Instrument {
			id = in.ID
		}
	}
	return id
}

// chooseCheck is the check asked for, or the first that is not complete, or the last.
func chooseCheck(setup app.Setup, id string) app.Check {
	if c, ok := setup.Check(id); ok {
		return c
	}
	for _, c := range setup.Checks {
		if !c.Complete() {
			return c
		}
	}
	return setup.Checks[len(setup.Checks)-1]
}

func href(setup app.Setup, check app.Check, spot int) string {
	q := url.Values{"check": {check.ID}}
	if spot > 0 {
		q.Set("spot", strconv.Itoa(spot))
	}
	return "/setups/" + setup.ID + "?" + q.Encode()
}

func sayTested(in app.Instrument) string {
	if len(in.Tests) == 0 {
		return "never turned end for end"
	}
	return fmt.Sprintf("zero %s, proven %s", quantity.Signed(float64(in.Tests[0].Zero), 2)+"°", in.Tested().Format("2 January 15:04"))
}

// lastCondition is how the part was held at the last reading.
func lastCondition(c app.Check) string {
	condition, last := app.Conditions[0], app.Reading{}
	for _, s := range c.Spots {
		for _, r := range s.Readings {
			if !r.At.Before(last.At) {
				condition, last = r.Condition, r
			}
		}
	}
	return condition
}

// lastTurned tells which way round the instrument was held at this spot, or at the
// last reading of the check.
func lastTurned(c app.Check, spot app.Spot) bool {
	turned, last := false, app.Reading{}
	for _, s := range c.Spots {
		for _, r := range s.Readings {
			if s.Number == spot.Number && r.Counts() {
				return r.Turned
			}
			if !r.At.Before(last.At) {
				turned, last = r.Turned, r
			}
		}
	}
	return turned
}

// partNames name the two parts or rounds whose places are read in turn, by their list.
var partNames = map[string]string{
	"first": "the part that is right", "second": "the part in question",
	"first.points": "first round", "second.points": "second round", "first.stations": "first round", "second.stations": "second round",
}

// rows groups the spots of a check by their point.
func rows(setup app.Setup, check app.Check, now app.Spot) []pointRow {
	var out []pointRow
	part := ""
	for _, spot := range check.Spots {
		begins := partNames[spot.List]

		name := spot.Point
		if name == "" {
			name = spot.Label
		}
		if len(out) == 0 || out[len(out)-1].Name != name || begins != part {
			out = append(out, pointRow{Number: len(out) + 1, Name: name})
			if begins != part {
				out[len(out)-1].Part, part = begins, begins
			}
		}
		r := &out[len(out)-1]
		x := cell{Spot: spot, Label: spot.Label, Href: href(setup, check, spot.Number), Current: spot.Number == now.Number}
		counting := spot.Counting()
		if x.Count = len(counting); x.Count > 0 {
			x.Shown, x.Turned = showMean(spot, counting), counting[0].Turned
		} else if spot.Stale() != "" {
			x.Stale = spot.Readings[len(spot.Readings)-1].Text
		}
		r.Current = r.Current || x.Current
		if _, join := check.Joined(); join {
			r.Name, x.Label = spot.Label, typeOfJoin(spot)
			r.Note = joinNote(check, spot)
		}
		r.Cells = append(r.Cells, x)
	}
	return out
}

// typeOfJoin is what a reading of a join is: the second word of its id.
func typeOfJoin(spot app.Spot) string {
	words := strings.Fields(spot.Point)
	if len(words) < 2 {
		return "level"
	}
	return words[1]
}

// showMean writes the mean of the placings, one decimal finer when there are several.
func showMean(spot app.Spot, readings []app.Reading) string {
	decimals, unit := app.Decimals(spot.Dimension)
	for _, r := range readings {
		decimals = max(decimals, typedDecimals(r.Text))
	}
	if len(readings) > 1 {
		decimals++
	}
	if spot.Dimension == measure.Angle {
		return quantity.Signed(mean(readings), decimals) + unit
	}
	return quantity.Fixed(mean(readings), decimals) + unit
}

// typedDecimals counts the decimals of a bare figure, two at most, so that a fine
// reading is shown as finely as it was typed.
func typedDecimals(text string) int {
	_, fraction, _ := strings.Cut(strings.TrimSuffix(strings.TrimSpace(text), " mm"), ".")
	if strings.Trim(fraction, "0123456789") != "" {
		return 0
	}
	return min(len(fraction), 2)
}

func setupFooting(setup app.Setup, holds []app.Hold) []footing {
	out := []footing{{"airframe", setup.Airframe.Name}, {"assembly", setup.AssemblyName}}
	for _, h := range holds {
		var asks []string
		for _, l := range h.Judgement.Lines {
			mark := map[hold.Standing]string{hold.Met: "✓", hold.Unsure: "◐", hold.Stop: "■", hold.Missing: "–"}[l.Standing]
			asks = append(asks, strings.TrimSuffix(l.What, " turned end for end")+" "+mark)
		}
		out = append(out, footing{"before", h.Step}, footing{"hold asks for", strings.Join(asks, "   ")})
	}
	return append(out, footing{"sheet", "S " + fmt.Sprint(setup.State)})
}

// number reads a spot's number from a form; 0 when it is not one.
func number(c *gin.Context) int {
	n, _ := strconv.Atoi(c.PostForm("number"))
	return n
}

// answerForm replies to a form of a setup: shown again with its problems, or the
// sheet at the next point.
func (s *server) answerForm(c *gin.Context, err error, f form) {
	f.whole = c.GetHeader("HX-Request") == ""
	if wrong, ok := problems(err); ok {
		f.wrong, f.status = wrong, http.StatusUnprocessableEntity
		s.showSetup(c, f)
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	to := "/setups/" + c.Param("id") + "?check=" + url.QueryEscape(f.check)
	if f.number > 0 {
		to += "&spot=" + strconv.Itoa(f.number)
	}
	if f.whole {
		c.Redirect(http.StatusSeeOther, to)
		return
	}
	c.Header("HX-Replace-Url", to)
	f.status, f.typed = http.StatusOK, typedReading{}
	s.showSetup(c, f)
}

func (s *server) takeReading(c *gin.Context) {
	n := app.NewReading{ID: c.PostForm("id"), Check: c.PostForm("check"), Number: number(c), Text: c.PostForm("text"), Instrument: c.PostForm("instrument"), Condition: c.PostForm("condition"), Turned: c.PostForm("turned") != "", InPlace: c.PostForm("in_place"), Questioned: c.PostForm("questioned"), AsMeasured: c.PostForm("as_measured") != ""}
	err := s.app.TakeReading(c.Request.Context(), n)
	f := form{check: n.Check, number: n.Number, typed: typedReading{Text: n.Text, Condition: n.Condition, InPlace: n.InPlace, Turned: n.Turned}}
	if wrong, ok := problems(err); ok && wrong["slip"] != "" {
		f.typed.Questioned = n.Text
	}
	if err == nil && c.PostForm("stay") == "" {
		f.number = 0 // on to the next point that lacks a reading
	}
	s.answerForm(c, err, f)
}

func (s *server) takeBack(c *gin.Context) {
	t := app.TakeBack{ID: c.PostForm("id"), Check: c.PostForm("check"), Reading: c.PostForm("reading"), Reason: c.PostForm("reason")}
	s.answerForm(c, s.app.TakeBack(c.Request.Context(), t), form{check: t.Check, number: number(c)})
}

func (s *server) setHeld(c *gin.Context) {
	h := app.SetHeld{ID: c.PostForm("id"), Check: c.PostForm("check"), Held: c.PostForm("held") == "yes"}
	s.answerForm(c, s.app.SetHeld(c.Request.Context(), h), form{check: h.Check})
}

func (s *server) moved(c *gin.Context) {
	e := app.SomethingMoved{ID: c.PostForm("id"), Setup: c.Param("id"), What: measure.Event(c.PostForm("what"))}
	s.answerForm(c, s.app.SomethingMoved(c.Request.Context(), e), form{})
}

// echo says what a text would be read as, while it is typed.
func (s *server) echo(c *gin.Context) {
	unit := quantity.Millimetre
	if c.Query("unit") == "in" {
		unit = quantity.Inch
	}
	spot := measure.Spot{Sense: c.Query("sense"), Dimension: measure.Angle}
	if spot.Sense == "length" {
		spot.Dimension = measure.Length
	}
	text := c.Query("text")
	if strings.TrimSpace(text) == "" {
		c.String(http.StatusOK, "")
		return
	}
	said, err := app.Echo(text, spot, unit)
	if err != nil {
		said = "not yet readable: " + strings.TrimPrefix(err.Error(), "“"+text+"”: ")
	} else {
		said = "read as " + said
	}
	c.String(http.StatusOK, "%s", template.HTMLEscapeString(said))
}

func (s *server) worksheet(c *gin.Context) {
	data, err := s.app.Export(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="worksheet.json"`)
	c.Data(http.StatusOK, "application/json", data)
}

// mark tells how far the spot is.
func mark(s app.Spot, now app.Spot, current bool) drawing.Mark {
	switch {
	case current && s.Number == now.Number:
		return drawing.Now
	case len(s.Counting()) > 0:
		return drawing.Taken
	case s.Stale() != "":
		return drawing.Stale
	}
	return drawing.Todo
}

func mean(readings []app.Reading) float64 {
	sum := 0.0
	for _, r := range readings {
		sum += r.Value
	}
	return sum / float64(max(1, len(readings)))
}

func supports(c app.Check, input *measure.Bench, now app.Spot, current bool) []drawing.Support {
	var out []drawing.Support
	for i, p := range input.Points {
		spot := c.Spots[i]
		counting := spot.Counting()
		out = append(out, drawing.Support{Name: p.Name, Number: i + 1, X: float64(p.X), Y: float64(p.Y), Z: mean(counting), Known: len(counting) > 0, Mark: mark(spot, now, current)})
	}
	return out
}

func stations(c app.Check, input *measure.Twist, now app.Spot, current bool) []drawing.Station {
	var out []drawing.Station
	for i, p := range input.Stations {
		st := drawing.Station{Name: p.Name, Number: i + 1, X: float64(p.Y), Mark: drawing.Taken}
		for _, spot := range c.Spots {
			if spot.Point != p.Name {
				continue
			}
			if m := mark(spot, now, current); m == drawing.Now || st.Mark == drawing.Taken {
				st.Mark = m
			}
			if counting := spot.Counting(); spot.Field == "angle" && len(counting) > 0 {
				st.Angle, st.Known = mean(counting), true
			}
		}
		out = append(out, st)
	}
	return out
}

// centre lays the surface on the middle of the rails.
func centre(r *drawing.Rig) {
	if len(r.Stations) == 0 || len(r.Supports) == 0 {
		return
	}
	middle := func(n int, x func(int) float64) float64 {
		least, most := x(0), x(0)
		for i := range n {
			least, most = min(least, x(i)), max(most, x(i))
		}
		return (least + most) / 2
	}
	shift := middle(len(r.Supports), func(i int) float64 { return r.Supports[i].X }) - middle(len(r.Stations), func(i int) float64 { return r.Stations[i].X })
	for i := range r.Stations {
		r.Stations[i].X += shift
	}
}
