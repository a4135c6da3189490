// Package measuring is the sheets on which one measures: setups, joins, and the checks
// of both.
package measuring

import (
	"embed"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/school"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/measuring"
	"orpine/internal/overview"
	"orpine/internal/web/kinds"
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
	u.GET("/setups", s.setups)
	u.GET("/joins", s.joins)
	u.GET("/setups/:id", s.setup)
	u.GET("/setups/:id/worksheet.json", s.worksheet)
	u.GET("/measure", s.measureNow)
	u.GET("/measure/:kind", s.now)
	u.POST("/measure/:kind", s.beginNow)
	u.GET("/measure/:kind/as-if", s.sketchAsIf)
	u.POST("/setups/:id/checks/:check/sizes", s.sizes)
	u.POST("/setups/:id/checks/:check/limit", s.limit)
	u.GET("/work-out/:kind", s.workOut)
	u.POST("/work-out/:kind", s.workOut)
	u.GET("/setups/:id/card.pdf", s.printCard)
	u.GET("/setups/:id/card", s.card)
	u.POST("/setups/:id/card", s.typeCard)
	u.POST("/setups/:id/keep", s.keepTo)
	u.GET("/setups/:id/like", func(c *gin.Context) { s.showLike(c, ui.Refused{}) })
	u.POST("/setups/:id/like", s.beginLike)
	u.POST("/setups/:id/zero", s.turn)
	u.POST("/setups/:id/checks/:check/confirm", s.confirm)
	u.POST("/setups/:id/readings", s.takeReading)
	u.GET("/setups/:id/live", s.watch)
	u.POST("/setups/:id/take-back", s.takeBack)
	u.POST("/setups/:id/held", s.setHeld)
	u.POST("/setups/:id/moved", s.moved)
	u.POST("/setups/:id/not-moved", s.notMoved)
	u.POST("/setups/:id/lies", s.lies)
	u.POST("/setups/:id/warmth", s.warmth)
	u.GET("/setups/:id/checks/new", s.newCheck)
	u.POST("/setups/:id/checks", s.addCheck)
	u.GET("/setups/:id/checks/:check", s.checkSheet)
	u.POST("/setups/:id/checks/:check", s.changeCheck)
	u.POST("/setups/:id/checks/:check/points", s.addPoint)
	u.POST("/setups/:id/checks/:check/places", s.addPlace)
	u.POST("/assemblies/:id/setups", s.beginOnRails)
	u.GET("/assemblies/:id/usual/:usual", s.usual)
	u.POST("/assemblies/:id/usual/:usual", s.beginUsual)
	u.GET("/echo", s.echo)
	u.GET("/setups/:id/as-if", s.asIf)
}

// setupView is the Setup sheet: one check of a setup at a time.
type setupView struct {
	Setup       measuring.Setup
	Lessons     []logbook.Lesson
	Check       measuring.Check
	Spot        check.Spot // the point in hand; its number is 0 when all is read
	Last        string     // id of the last reading there that counts
	Tabs        []checkTab
	Rows        []pointRow
	Drawing     template.HTML
	Answer      answer
	Instruments []instrument.Instrument // that can read this spot
	Instrument  string                  // id of the one chosen
	Tested      string                  // when it was proven, for a level
	Level       string                  // id of the level in hand, which may be turned end for end here
	LevelName   string
	Conditions  []string
	Reasons     []string
	Events      []measure.Event
	Holdable    bool // it may be held down to its support
	Held        bool
	Unlaid      bool     // how it lies was not said
	Trued       bool     // and the bench is made true, so that nothing is taken off
	Echo        say.Text // what stands in the field is read as
	Unkept      bool     // the answer is that with what stands in the field
	Blind       bool     // the spot is read again: what was read there is covered until it is kept
	Replaces    bool     // it stands in place of what was read there
	Again       bool     // the spot has readings that count: a new one is a further placing or replaces them
	CanTurn     bool     // the instrument may be held the other way round
	CanHang     bool     // it is a long tape, which may hang between its ends
	Materials   []string
	Warmth      measuring.Warmth
	Typed       typedReading
	Gauges      *gauges              // nil where none can read this spot
	Holds       []holding.Hold       // that it is measured for
	Belongs     []overview.Named     // assemblies that it may be kept to, where it belongs to none
	With        []measuring.LiesLike // setups before it that are one placing with it
	LiesAs      *measuring.LiesLike  // one before it, of which it is asked whether the part still lies so
	Since       int64                // the last entry that it knows
	Live        bool                 // it is what changed under someone's eyes: without the form in hand
	Sizes       []sizeForm
	Limit       limitView
	Asks        bool   // the focus is elsewhere than in the field
	Sketch      bool   // nothing of it is kept yet
	Action      string // where its readings go
	Mistaken    measuring.EventMistaken
	Mistakes    bool // what was refused is that the last event is taken back
}

// typedReading is a reading's form as it was typed.
type typedReading struct {
	Text, Condition, InPlace, Questioned string
	Turned, Hung                         bool
	Aid, Sent                            string
}

// gauges are the instruments that are listened to, for the reading in hand.
type gauges struct {
	IDs    string // parted by spaces
	Sense  string
	Here   string // how many placings are here, and what ± they give the spot
	Enough string // the answer is decided; "" while it is not
}

type checkTab struct {
	Name, Href, Says string
	Current          bool
}

// pointRow is one point of the lane of readings.
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
	Spot    check.Spot
	Label   string
	Shown   string // the value that counts, as understood
	Covered bool   // while it is read again
	Stale   string // the value that no longer counts
	Count   int    // placings
	Turned  bool   // taken with the instrument the other way round
	Href    string
	Current bool
}

// setupForm is what a setup's form said, to show it again when it was refused.
type setupForm struct {
	check    string
	number   int
	typed    typedReading
	wrong    ledger.Problems
	status   int
	shown    bool // what was read there before is not covered
	turning  bool // it was said just now which way round the instrument is held
	warmth   *measuring.Warmth
	mistaken *measuring.EventMistaken
	sized    measuring.Sized
	limit    *measuring.LimitTo
}

// shownSetup is a setup with its assembly, drawn.
type shownSetup struct {
	measuring.Brief
	Small    template.HTML
	Measured int // checks that are complete
	glance
}

// glance is how a setup stands: by its check that needs a hand the most.
type glance struct {
	Mark, Word, Says string
	need             int // the less, the sooner it needs a hand
}

// needs are the marks, those first that need a hand.
var needs = []struct{ mark, word string }{{"stop", "Stop"}, {"unsure", "Unsure"}, {"notyet", "Not yet"}, {"measured", "Measured"}, {"go", "Go"}}

func glanceAt(b measuring.Brief) glance {
	out := glance{need: len(needs)}
	for _, c := range b.Checks {
		mark, says := "measured", c.Answer
		switch left := c.Wanted - c.Taken; {
		case left > 0 || c.Stale > 0:
			if mark, says = "notyet", fmt.Sprintf("%d readings to go", left); c.Stale > 0 {
				says = fmt.Sprintf("%d readings stale since %s", c.Stale, c.Disturbed)
			}
		case c.Verdict == measure.Stop:
			mark = "stop"
		case c.Verdict == measure.Unsure:
			mark = "unsure"
		case c.Verdict == measure.Go:
			mark = "go"
		}
		for i, n := range needs {
			if n.mark == mark && i < out.need {
				out = glance{mark, n.word, say.Join(c.Name, says), i}
			}
		}
	}
	return out
}

// shownSetups are setups with their drawings, those first that need a hand.
func (s sheets) shownSetups(c *gin.Context, list []measuring.Brief) ([]shownSetup, error) {
	looks, err := s.Looks(c.Request.Context())
	if err != nil {
		return nil, err
	}
	shown := make([]shownSetup, len(list))
	for i, b := range list {
		shown[i] = shownSetup{Brief: b, Small: outline.Small(looks[b.AssemblyID].Shape, looks[b.AssemblyID].State), glance: glanceAt(b)}
		for _, check := range b.Checks {
			if check.Wanted > 0 && check.Taken >= check.Wanted && check.Stale == 0 {
				shown[i].Measured++
			}
		}
	}
	slices.SortStableFunc(shown, func(a, b shownSetup) int { return a.need - b.need })
	return shown, nil
}

func (s sheets) setups(c *gin.Context) {
	list, err := s.SetupList(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	if len(list) == 1 {
		c.Redirect(http.StatusSeeOther, s.Base+"/setups/"+list[0].ID)
		return
	}
	shown, err := s.shownSetups(c, list)
	if err != nil {
		s.Fail(c, err)
		return
	}
	p := s.Page(c, "setup", "Setups", shown, ui.Footing{Label: "setups", Text: fmt.Sprint(len(list))}, ui.Footing{Label: "sheet", Text: "S"})
	p.Unit = s.ShopUnit(c.Request.Context())
	s.Render(c, http.StatusOK, "setups", p)
}

// showLike is the form that begins the same setup on another assembly.
func (s sheets) showLike(c *gin.Context, r ui.Refused) {
	setup, err := s.Measuring.Setup(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := ui.Like{Of: setup.Title(), Says: "the same checks with their limits, without their readings, and the same hold; on its twin, sides are swapped", Back: "/setups/" + setup.ID, Action: "/setups/" + setup.ID + "/like"}
	p := s.Page(c, "setup", "Another like "+setup.Title(), nil, ui.Footing{Label: "assembly", Text: setup.AssemblyName}, ui.Footing{Label: "sheet", Text: "S 4"})
	p.Unit = setup.Airframe.Unit
	s.ShowLike(c, setup.AssemblyID, v, p, r)
}

func (s sheets) beginLike(c *gin.Context) {
	n := measuring.Another{Setup: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Measuring.BeginLike(c.Request.Context(), n)
	}
	s.Done(c, err, "/setups/"+n.ID, func(r ui.Refused) { s.showLike(c, r) })
}

// joins lists the setups that join a surface to its airframe.
func (s sheets) joins(c *gin.Context) {
	all, err := s.SetupList(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	var list []measuring.Brief
	for _, b := range all {
		if b.Join() {
			list = append(list, b)
		}
	}
	shown, err := s.shownSetups(c, list)
	if err != nil {
		s.Fail(c, err)
		return
	}
	p := s.Page(c, "join", "Joins", shown, ui.Footing{Label: "joins", Text: fmt.Sprint(len(list))}, ui.Footing{Label: "sheet", Text: "J"})
	p.Unit = s.ShopUnit(c.Request.Context())
	s.Render(c, http.StatusOK, "joins", p)
}

func (s sheets) setup(c *gin.Context) {
	number, _ := strconv.Atoi(c.Query("spot"))
	typed := typedReading{Text: c.Query("text"), Turned: c.Query("turned") == "true", InPlace: c.Query("in_place")}
	s.showSetup(c, setupForm{check: c.Query("check"), number: number, typed: typed, turning: c.Query("turning") != "", shown: c.Query("shown") != ""})
}

// watch tells a page what others do in its setup.
func (s sheets) watch(c *gin.Context) {
	number, _ := strconv.Atoi(c.Query("spot"))
	check := c.Query("check")
	sheet, err := s.Setup(c.Request.Context(), c.Param("id"), check, number)
	if err != nil {
		s.Fail(c, err)
		return
	}
	var things []string
	for _, c := range sheet.Checks {
		things = append(things, c.ID)
	}
	at := ""
	if number > 0 && sheet.Check.ID == check && sheet.Spot.Number == number {
		at = check + "|" + strconv.Itoa(number)
	}
	s.Watch(c, sheet.ID, at, things, func() (name, part string, p ui.Page, err error) {
		sheet, err := s.Setup(c.Request.Context(), sheet.ID, check, number)
		if err != nil {
			return "", "", p, err
		}
		view := viewSetup(sheet, setupForm{check: check, number: number, shown: true})
		view.Live = true
		p = ui.Page{View: view, Unit: sheet.Airframe.Unit, Account: ui.Signed(c)}
		return "setup", "setup-live", p, nil
	})
}

func (s sheets) showSetup(c *gin.Context, f setupForm) {
	since := s.Ledger.Seq()
	sheet, err := s.Setup(c.Request.Context(), c.Param("id"), f.check, f.number)
	if err != nil {
		s.Fail(c, err)
		return
	}
	if a := ui.Signed(c); a != nil && !a.Role.May(ledger.Work) {
		f.shown = true // who only looks is not to read it again
	}
	view := viewSetup(sheet, f)
	view.Since = since
	view.Gauges = s.gauges(view)
	tab, step := "setup", ""
	if _, join := view.Check.Joined(); join {
		tab = "join"
	}
	for _, h := range sheet.Holds {
		step = h.Step
	}
	p := s.Page(c, tab, sheet.Title(), view, setupFooting(sheet.Setup, sheet.Holds)...)
	p.Slip = ui.SlipFrom{Assembly: sheet.AssemblyID, Step: step, Place: sheet.Title() + ", " + view.Check.Name}
	p.Path = "/setups/" + sheet.ID
	p.Problem, p.Unit = f.wrong, sheet.Airframe.Unit
	s.RenderSheet(c, f.status, "setup", p)
}

// gauges are those that can read the spot in hand, and how far their placings there go.
func (s sheets) gauges(v setupView) *gauges {
	g := gauges{Sense: v.Spot.Sense}
	for _, in := range v.Instruments {
		if s.Gauges.Of(in.ID) != nil {
			g.IDs = strings.TrimSpace(g.IDs + " " + in.ID)
		}
		if n := len(v.Spot.Counting()); n > 0 && in.ID == v.Instrument {
			g.Here = fmt.Sprintf("%d here: ± %s", n, check.Figure(v.Spot.Dimension, check.Coverage*in.Tool().Placing(n)).Up())
			if n == 1 {
				g.Here = "one placing " + strings.TrimPrefix(g.Here, "1 ")
			} else {
				g.Here = strings.Replace(g.Here, " here", " placings here", 1)
			}
		}
	}
	if g.IDs == "" && v.Spot.Dimension != measure.Angle { // an angle may come from this phone
		return nil
	}
	if v.Answer.Verdict == "go" || v.Answer.Verdict == "stop" {
		g.Enough = "The ± suffices: it says " + v.Answer.Verdict + "."
	}
	return &g
}

// viewSetup lays the setup out for its page.
func viewSetup(sheet overview.SetupSheet, f setupForm) setupView {
	setup, inHand, spot := sheet.Setup, sheet.Check, sheet.Spot
	v := setupView{Setup: setup, Lessons: sheet.Lessons, Check: inHand, Spot: spot, Conditions: check.Conditions, Reasons: check.Reasons, Events: measure.Disturbances, Typed: f.typed}
	for _, c := range setup.Checks {
		v.Tabs = append(v.Tabs, checkTab{c.Name, href(setup.ID, c.ID, 0), fmt.Sprintf("%d of %d", c.Taken, c.Wanted), c.ID == inHand.ID})
	}
	if counting := spot.Counting(); len(counting) > 0 {
		v.Again, v.Last = true, counting[len(counting)-1].ID
		if v.Typed.InPlace == "" && f.wrong == nil {
			v.Typed.InPlace = lastPlaced(inHand)
		}
		v.Blind = !f.shown && spot.Sense != "figure" && !slices.Contains(check.Reasons, f.typed.InPlace) && inHand.Refused() == ""
	}
	v.Belongs, v.Holds, v.With, v.LiesAs = sheet.Belongs, sheet.Holds, sheet.With, sheet.LiesAs
	v.Instrument = offered(setup, inHand, spot, sheet.Instruments)
	for _, in := range sheet.Instruments {
		if !in.Reads() || v.Spot.Number == 0 || in.Angle != (v.Spot.Dimension == measure.Angle) {
			continue
		}
		v.Instruments = append(v.Instruments, in)
		if in.ID == v.Instrument && in.Angle {
			v.Tested = sayTested(in)
		}
	}
	v.Level, v.LevelName, v.Tested = levelOf(inHand, sheet.Instruments, v.Instrument, v.Tested)
	v.Materials, v.Warmth = measuring.Materials, measuring.Warmth{Material: setup.Material, Temperature: setup.Temperature}
	if f.wrong != nil && f.mistaken != nil {
		v.Mistaken = *f.mistaken
		v.Mistakes = true
	}
	if f.wrong != nil && f.warmth != nil {
		v.Warmth = *f.warmth
	}
	v.CanHang = v.Spot.Number > 0 && long(inHand, v.Spot)
	if _, ok := inHand.Input.(*measure.Twist); ok {
		v.Holdable, v.Held, v.Unlaid = true, inHand.Held, inHand.Unlaid
		v.Trued = inHand.Judged.Answer(school.Bench) == school.Trued
	}
	v.Replaces = slices.Contains(check.Reasons, v.Typed.InPlace)
	v.CanTurn = v.Spot.Number > 0 && v.Spot.Dimension == measure.Angle
	if !f.turning && f.wrong == nil {
		v.Typed.Turned = lastTurned(inHand, v.Spot)
	}
	v.Typed.Turned = v.Typed.Turned && v.CanTurn
	v.Rows = rows(setup, inHand, v.Spot)
	drawn := kinds.Scene{Setup: setup, Check: inHand, Now: v.Spot, Turn: v.Typed.Turned}
	if v.Blind {
		cover(v.Rows)
		drawn.Check.Check = inHand.Covered(v.Spot.Number)
	}
	v.Drawing = drawn.Draw()
	v.Answer = viewAnswer(setup.ID, inHand, sheet.Answer, setup.Airframe.Unit)
	v.Sizes, v.Limit = sizesOf(inHand, f.sized, f.wrong), limitOf(inHand, f.limit, f.wrong)
	v.Action = "/setups/" + setup.ID
	return v
}

// levelOf is the level that a check is read with; "" for one that is read with none.
func levelOf(inHand measuring.Check, list []instrument.Instrument, offered, tested string) (id, name, says string) {
	if !measuring.ReadsAngles(inHand.Kind.Name) {
		return "", "", tested
	}
	for _, tool := range inHand.Used {
		if tool.Angle {
			offered = tool.ID
		}
	}
	for _, in := range list {
		if in.Angle && in.Reads() && (in.ID == offered || offered == "" && id == "") {
			id, name, says = in.ID, in.Name, sayTested(in)
		}
	}
	return id, name, says
}

// offered is the instrument that is offered for a spot: the check's last one, or
// the one last used in this setup that measures the same.
func offered(setup measuring.Setup, inHand measuring.Check, spot check.Spot, instruments []instrument.Instrument) string {
	if _, join := inHand.Joined(); join {
		if id := offeredLike(inHand, spot, instruments); id != "" {
			return id
		}
	} else if inHand.Instrument != "" {
		return inHand.Instrument
	}
	for _, c := range setup.Checks {
		for _, tool := range c.Used {
			if tool.Angle == (spot.Dimension == measure.Angle) {
				return tool.ID
			}
		}
	}
	return ""
}

// offeredLike is the instrument that was last used in a join for a reading of the
// same type.
func offeredLike(inHand measuring.Check, spot check.Spot, instruments []instrument.Instrument) (id string) {
	kind := func(s check.Spot) string {
		words := strings.Fields(s.Point)
		if len(words) < 2 {
			return s.Sense
		}
		return words[1]
	}
	var last check.Reading
	for _, s := range inHand.Spots {
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

// href is where a check of a setup is in hand, at a spot (0: the next one).
func href(setup, checkID string, spot int) string {
	q := url.Values{"check": {checkID}}
	if spot > 0 {
		q.Set("spot", strconv.Itoa(spot))
	}
	return "/setups/" + setup + "?" + q.Encode()
}

func sayTested(in instrument.Instrument) string {
	if in.Tested().IsZero() {
		return "never turned end for end"
	}
	return fmt.Sprintf("zero %s, proven %s", say.Angle(float64(in.Zero)).Signed(), in.Tested().Format("2 January 15:04"))
}

// lastTurned tells which way round the instrument was held at this spot, or at the
// last reading of the check.
func lastTurned(c measuring.Check, spot check.Spot) bool {
	turned, last := false, check.Reading{}
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

// lastPlaced is how the last reading of a check was placed, where it was a further one: said once, it is kept for the
// round. "" where nothing was said yet.
func lastPlaced(c measuring.Check) (placed string) {
	var last check.Reading
	for _, s := range c.Spots {
		for i, r := range s.Counting() {
			if !r.At.Before(last.At) {
				last, placed = r, ""
				if i > 0 {
					placed = map[bool]string{true: placedMoved, false: placedSame}[r.Moved]
				}
			}
		}
	}
	return placed
}

// partNames name the two parts or rounds whose places are read in turn, by their list.
var partNames = map[string]string{
	"first": "the part that is right", "second": "the part in question",
	"first.points": "first round", "second.points": "second round", "first.stations": "first round", "second.stations": "second round",
}

// rows groups the spots of a check by their point.
func rows(setup measuring.Setup, inHand measuring.Check, now check.Spot) []pointRow {
	var out []pointRow
	part := ""
	_, join := inHand.Joined()
	for _, spot := range inHand.Spots {
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
		x := cell{Spot: spot, Label: spot.Label, Href: href(setup.ID, inHand.ID, spot.Number), Current: spot.Number == now.Number}
		counting := spot.Counting()
		if x.Count = len(counting); x.Count > 0 {
			x.Shown, x.Turned = kinds.ShowMean(spot, counting), counting[0].Turned
		} else if spot.Stale() != "" {
			x.Stale = spot.Gone.Text
		}
		r.Current = r.Current || x.Current
		if join {
			r.Name, x.Label = spot.Label, typeOfJoin(spot)
			r.Note = inHand.JoinNote(spot)
		}
		r.Cells = append(r.Cells, x)
	}
	return out
}

// cover covers what was read at the spot in hand.
func cover(rows []pointRow) {
	for _, r := range rows {
		for i := range r.Cells {
			if x := &r.Cells[i]; x.Current && x.Shown != "" {
				x.Shown, x.Covered = "", true
			}
		}
	}
}

// typeOfJoin is what a reading of a join is: the second word of its id.
func typeOfJoin(spot check.Spot) string {
	words := strings.Fields(spot.Point)
	if len(words) < 2 {
		return "level"
	}
	return words[1]
}

func setupFooting(setup measuring.Setup, holds []holding.Hold) []ui.Footing {
	out := []ui.Footing{{Label: "airframe", Text: setup.Airframe.Name}, {Label: "assembly", Text: setup.AssemblyName}}
	if setup.AssemblyID == "" {
		out = []ui.Footing{{Label: "belongs to", Text: "nothing yet"}}
	}
	for _, h := range holds {
		var asks []string
		for _, l := range h.Judgement.Lines {
			mark := map[hold.Standing]string{hold.Met: "✓", hold.Unsure: "◐", hold.Stop: "■", hold.Missing: "–"}[l.Standing]
			asks = append(asks, strings.TrimSuffix(l.What, " turned end for end")+" "+mark)
		}
		out = append(out, ui.Footing{Label: "before", Text: h.Step}, ui.Footing{Label: "hold asks for", Text: strings.Join(asks, "   ")})
	}
	return append(out, ui.Footing{Label: "sheet", Text: "S " + fmt.Sprint(setup.State)})
}

// number reads a spot's number from a form; 0 when it is not one.
func number(c *gin.Context) int {
	n, _ := strconv.Atoi(c.PostForm("number"))
	return n
}

// answerForm replies to a form of a setup: shown again with its problems, or the
// sheet at the next point.
func (s sheets) answerForm(c *gin.Context, err error, f setupForm) {
	var wrong ledger.Problems
	if errors.As(err, &wrong) {
		f.wrong, f.status = wrong, http.StatusUnprocessableEntity
		s.showSetup(c, f)
		return
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	to := s.Base + "/setups/" + c.Param("id") + "?check=" + url.QueryEscape(f.check)
	if f.number > 0 {
		to += "&spot=" + strconv.Itoa(f.number)
	}
	if !ui.HTMX(c) {
		c.Redirect(http.StatusSeeOther, to)
		return
	}
	c.Header("HX-Replace-Url", to)
	f.typed = typedReading{}
	s.showSetup(c, f)
}

// What a further placing is, where it does not stand in place of the old one.
const (
	placedMoved = "moved" // lifted off, and set a little beside
	placedSame  = "same"  // on the same spot
	placedOld   = "old"   // in place of the old one after all, which was as is said beside it
)

func (s sheets) takeReading(c *gin.Context) {
	var n measuring.NewReading
	err := ui.Bind(c, &n)
	placed := n.InPlace
	if placed == placedOld {
		placed = c.PostForm("old_was")
		n.InPlace = placed
	}
	if err == nil {
		if n.Moved = placed == placedMoved; n.Moved || placed == placedSame {
			n.InPlace = ""
		}
		err = s.Measuring.Take(c.Request.Context(), n)
		n.InPlace = placed
	}
	f := setupForm{check: n.Check, number: number(c), typed: typedReading{Text: n.Text, Condition: n.Condition, InPlace: n.InPlace, Turned: n.Turned, Hung: n.Hung, Aid: n.Aid, Sent: n.Sent}}
	var wrong ledger.Problems
	if errors.As(err, &wrong) && wrong["slip"] != "" {
		f.typed.Questioned = n.Text
	}
	if err == nil && c.PostForm("stay") == "" {
		f.number = 0 // on to the next point that lacks a reading, or where a round of further placings goes on
		if placed == placedMoved || placed == placedSame {
			if f.number, err = s.Measuring.Round(c.Request.Context(), c.Param("id"), n.Check); err != nil {
				s.Fail(c, err)
				return
			}
		}
		if f.check, err = s.Measuring.Onward(c.Request.Context(), c.Param("id"), n.Check); err != nil {
			s.Fail(c, err)
			return
		}
	}
	s.answerForm(c, err, f)
}

func (s sheets) takeBack(c *gin.Context) {
	var n measuring.TakeBack
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Measuring.TakeBack(c.Request.Context(), n)
	}
	s.answerForm(c, err, setupForm{check: n.Check, number: number(c)})
}

func (s sheets) setHeld(c *gin.Context) {
	lies := map[string]string{"yes": check.HeldDown, "no": check.LiesFree, "jig": check.InJig}[c.PostForm("held")]
	n := measuring.Redefine{Form: ledger.Form{ID: c.PostForm("id")}, Check: c.PostForm("check"), Lies: lies}
	s.answerForm(c, s.Measuring.Redefine(c.Request.Context(), n), setupForm{check: n.Check})
}

func (s sheets) moved(c *gin.Context) {
	n := measuring.SomethingMoved{Setup: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Measuring.SomethingMoved(c.Request.Context(), n)
	}
	s.answerForm(c, err, setupForm{})
}

// notMoved takes the last event back, which was entered by mistake.
func (s sheets) notMoved(c *gin.Context) {
	n := measuring.EventMistaken{Setup: c.Param("id")}
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.By)
	if err == nil {
		err = s.Measuring.TakeEventBack(c.Request.Context(), n)
	}
	s.answerForm(c, err, setupForm{mistaken: &n})
}

// lies keeps whether the part still lies as in a setup before.
func (s sheets) lies(c *gin.Context) {
	n := measuring.LiesAs{Setup: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Measuring.SayHowItLies(c.Request.Context(), n)
	}
	s.answerForm(c, err, setupForm{})
}

func (s sheets) warmth(c *gin.Context) {
	n := measuring.Warmth{Setup: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Measuring.SayWarmth(c.Request.Context(), n)
	}
	s.answerForm(c, err, setupForm{check: c.PostForm("check"), warmth: &n})
}

// longTape is from where on a tape is asked how it is held, in mm.
const longTape = 3000

// long tells whether a tape at a spot is, or may be, longer than that.
func long(c measuring.Check, spot check.Spot) bool {
	if spot.Dimension != measure.Length || spot.Sense != "length" {
		return false
	}
	e, ok := c.Input.(measure.Expecter)
	if !ok {
		return false
	}
	nominal, known := e.Expect(spot.Spot)
	return known && nominal > longTape
}

// echo says what a text would be read as, while it is typed.
// asIf is what a text in the field is read as, and what the check would say if it were kept.
func (s sheets) asIf(c *gin.Context) {
	n := measuring.NewReading{Check: c.Query("check"), Text: c.Query("text"), Instrument: c.Query("instrument"), Turned: c.Query("turned") == "true"}
	at, _ := strconv.Atoi(c.Query("number"))
	sheet, err := s.Setup(c.Request.Context(), c.Param("id"), n.Check, at)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := viewSetup(sheet, setupForm{check: n.Check, number: at})
	if spot, ok := sheet.Check.Check.Spot(at); ok {
		v.Echo = s.readAs(n.Text, spot.Spot, sheet.Airframe.Unit, n.Instrument, sheet.Instruments)
	}
	if would, a, ok := s.AsIf(sheet, at, n); ok {
		v.Check, v.Answer, v.Unkept = would, viewAnswer(sheet.ID, would, a, sheet.Airframe.Unit), true
	}
	s.RenderPart(c, 0, "setup", "setup-as-if", ui.Page{View: v, Unit: sheet.Airframe.Unit, Account: ui.Signed(c)})
}

// readAs is what a text is read as, in words; "" for none.
func (s sheets) readAs(text string, spot measure.Spot, unit quantity.Unit, with string, list []instrument.Instrument) say.Text {
	if strings.TrimSpace(text) == "" {
		return ""
	}
	step := 0.0
	if in, ok := instrument.ByID(list, with); ok {
		step = in.Tool().Step
	}
	said, err := measuring.Echo(text, spot, unit, step)
	if err != nil {
		return "not yet readable: " + strings.TrimPrefix(err.Error(), "“"+text+"”: ")
	}
	return "read as " + said
}

func (s sheets) echo(c *gin.Context) {
	unit := quantity.Millimetre
	if c.Query("unit") == "in" {
		unit = quantity.Inch
	}
	spot := measure.Spot{Sense: c.Query("sense"), Dimension: measure.Angle}
	if spot.Sense == "length" {
		spot.Dimension = measure.Length
	}
	list, err := s.Instruments.List(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.String(http.StatusOK, "%s", template.HTMLEscapeString(s.Reader(c, unit).Text(s.readAs(c.Query("text"), spot, unit, c.Query("instrument"), list))))
}

func (s sheets) worksheet(c *gin.Context) {
	setup, err := s.Measuring.Setup(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	data, err := setup.Worksheet()
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="worksheet.json"`)
	c.Data(http.StatusOK, "application/json", data)
}
