// Package planning is the Order sheet: what to do now, what is held, what is done with a
// helper, what closes soon, and when it will be finished.
package planning

import (
	"cmp"
	"embed"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/plan"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/paper"
	"orpine/internal/planning"
	"orpine/internal/web/drawing"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// Routes registers the sheets.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Func("hours", spokenHours)
	u.Func("bar", bar)
	u.Func("visitAt", func(frame string, v planning.Visit) visitAt {
		at, err := time.Parse("2006-01-02T15:04", v.From)
		if err != nil {
			return visitAt{frame, v, v.From}
		}
		return visitAt{frame, v, at.Format("Mon 2 Jan 2006, 15:04")}
	})
	u.Func("held", func(p ui.Page, frame string, l heldLine) heldAt { return heldAt{p, frame, l} })
	u.Func("walk", func(frame string, step Line) walk { return walk{frame, step} })
	u.Func("of100", func(share float64) float64 { return 100 * share })
	u.Func("moves", func(p ui.Page, frame string, step overview.OrderStep) moves { return moves{p, frame, step} })
	u.Pages(templates)
	u.GET("/order", func(c *gin.Context) { s.show(c, c.Query("airframe"), ui.Refused{}) })
	u.GET("/order.ics", s.calendar)
	u.GET("/order/band", s.band)
	u.GET("/order/visits/:id", func(c *gin.Context) { s.visit(c, c.Query("airframe"), ui.Refused{}) })
	u.POST("/order/visits/:id", s.tellEvening)
	u.GET("/money", func(c *gin.Context) { s.showMoney(c, c.Query("airframe"), ui.Refused{}) })
	u.GET("/hours", func(c *gin.Context) { s.showHours(c, c.Query("airframe"), ui.Refused{}) })
	u.GET("/hours.csv", s.hoursCSV)
	u.LargePOST("/airframes/:id/hours-in", 1<<20, s.bringHours)
	u.GET("/resume", s.resume)
	u.GET("/order/usual", func(c *gin.Context) { s.showUsual(c, c.Query("airframe"), c.Query("usual"), ui.Refused{}) })
	u.POST("/airframes/:id/usual", s.layUsual)
	u.GET("/order/network", s.network)
	u.GET("/order/plan.json", s.document)
	u.GET("/order/visits/:id/page.pdf", s.visitPDF)
	u.POST("/airframes/:id/split", s.splitStep)
	u.POST("/airframes/:id/else", s.doneElse)
	u.POST("/work", s.workAnywhere)
	u.POST("/airframes/:id/came", s.came)
	u.POST("/airframes/:id/ask-supplier", s.askSupplier)
	u.POST("/airframes/:id/orders", s.addOrder)
	u.POST("/airframes/:id/order", s.moveOrder)
	u.POST("/airframes/:id/money", s.setMoney)
	u.POST("/airframes/:id/stages", s.addStage)
	u.POST("/airframes/:id/paid", s.payStage)
	u.POST("/airframes/:id/steps", s.addStep)
	u.POST("/airframes/:id/step", s.moveStep)
	u.POST("/airframes/:id/week", s.setWeek)
	u.POST("/airframes/:id/away", s.setAway)
	u.POST("/airframes/:id/visits", s.addVisit)
	u.POST("/airframes/:id/work", s.startWork)
	u.POST("/airframes/:id/work-ended", s.stopWork)
}

// view is the Order sheet.
type view struct {
	overview.OrderSheet
	First      *Line // what to do tonight
	Now        []Line
	Meanwhile  []Line // of those that can be done now: what nothing waits for, while something is awaited
	Awaits     string // what is awaited the soonest, in words
	WithHelper []Line
	Held       []heldLine // by what no step brings: a release, an answer, an order, a cure, money
	Behind     []heldLine // by other steps alone
	Opened     bool       // a step that was added just now is among these
	Closing    []string
	Band       forecast // when it is finished, as it may turn out
	Chosen     string   // why the order is not the rule's
	Never      []string // what is not scheduled, and why
	Strip      template.HTML
	Days       []dayForm
	AwaySays   string
	Evenings   string // of the week, in words; "" where nobody said
	Categories []string
	Done       []Line // steps added by hand that are done, the last five
	At         []planning.Session
	Hours      []hoursLine // the last eight
	Who, Of    string
	Typed      map[string]string
	Ahead      []planning.Visit // the next two
	Further    []planning.Visit
	Over       []planning.Visit // the last one first
	Paused     bool             // it was left alone for weeks
	Owed       int              // questions that are open
	Feed       string           // the address of the calendar
	Usual      bool             // no step was added yet: offer an order to start from
	Asking     *asking          // a step of which nobody has said whether it makes something permanent
}

// asking is a step that is asked about once, with the holds that it may be tied to.
type asking struct {
	Step  overview.OrderStep
	Holds []overview.Named
}

// moves are the presses that say how far a step is.
type moves struct {
	Seen  ui.Page // the page that they are on
	Frame string
	Step  overview.OrderStep
}

// heldAt is a held step in a list.
type heldAt struct {
	Seen  ui.Page
	Frame string
	Line  heldLine
}

// visitAt is a visit in a list.
type visitAt struct {
	Frame string
	planning.Visit
	When string
}

// walk is a step to walk to.
type walk struct {
	Frame string
	Step  Line
}

// Line is a step with when it is worked on.
type Line struct {
	overview.OrderStep
	When    string
	Tonight string // of the one that comes first: how much of it the evening holds
}

type heldLine struct {
	Line
	Why []string
}

type dayForm struct{ Day, From, Long string }

type hoursLine struct {
	planning.Session
	What string
	Long string
}

// spokenHours writes hours as people say them: "40 min", "2 h", "2 h 30".
func spokenHours(h float64) string {
	minutes := int(h*60 + 0.5)
	switch {
	case minutes < 60:
		return fmt.Sprintf("%d min", minutes)
	case minutes%60 == 0 || minutes > 600:
		return fmt.Sprintf("%d h", (minutes+30)/60)
	}
	return fmt.Sprintf("%d h %02d", minutes/60, minutes%60)
}

// reasons are why a step does not come to its end, in words.
var reasons = map[string]string{
	"question": "waits for an answer, or a release", "order": "waits for an order without a date", "money": "is never paid for", "after": "comes after one that is not scheduled",
	"horizon": "is beyond forty years", "fit": "finds no stretch that is long enough for it in one go", "people": "needs more people than are there: put a visit in",
}

func (s sheets) show(c *gin.Context, id string, r ui.Refused) {
	sheet, err := s.Order(c.Request.Context(), id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := view{OrderSheet: sheet, Categories: planning.Categories, Who: ui.Who(c), Of: r.Of, Typed: r.Typed, Strip: strip(s.Base, sheet)}
	if r.Wrong["ties"] != "" {
		holds, err := s.StepHolds(c.Request.Context(), r.Typed["step"])
		if err != nil {
			s.Fail(c, err)
			return
		}
		v.Asking = &asking{sheet.Steps[r.Typed["step"]], holds}
	}
	v.lists()
	v.show(c.Query("added"))
	v.Band, v.Chosen = s.foreseen(c, sheet, patient), chosen(sheet.Way)
	v.Usual, v.Feed = len(sheet.Own) == 0, "http://"+c.Request.Host+s.Base+"/order.ics?airframe="+sheet.Airframe.ID
	for _, a := range sheet.Questions {
		if a.Open() {
			v.Owed++
		}
	}
	for _, visit := range sheet.Visits {
		switch over := sheet.At(visit.From).Add(time.Duration(visit.Hours * float64(time.Hour))).Before(sheet.Now.AddDate(0, 0, -4)); {
		case over:
			v.Over = append([]planning.Visit{visit}, v.Over...)
		case len(v.Ahead) < 2:
			v.Ahead = append(v.Ahead, visit)
		default:
			v.Further = append(v.Further, visit)
		}
	}
	v.Paused = s.LongPause(c.Request.Context(), sheet.Airframe.ID)
	for _, day := range planning.Days {
		d := dayForm{Day: day}
		if st := sheet.Week[day]; st.Minutes > 0 {
			d.From, d.Long = fmt.Sprintf("%02d:%02d", st.From/60, st.From%60), spokenHours(float64(st.Minutes)/60)
		}
		if r.Of == "week" {
			d.From, d.Long = r.Typed["from."+day], r.Typed["long."+day]
		}
		v.Days = append(v.Days, d)
	}
	v.Evenings, v.AwaySays = weekOf(sheet.Week), planning.SayAway(sheet.Away)
	for i, one := range sheet.Sessions {
		h := hoursLine{one, sheet.Steps[one.Step].Name, spokenHours(one.Hours(sheet.Now))}
		if one.Running() {
			v.At = append(v.At, one)
		}
		if i < 8 { // the others are on the sheet of hours
			v.Hours = append(v.Hours, h)
		}
	}
	p := s.Page(c, "order", "Order of work", v, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "steps", Text: fmt.Sprint(len(sheet.Steps))}, ui.Footing{Label: "hours", Text: spokenHours(sheet.Answer.Hours.Total)}, ui.Footing{Label: "sheet", Text: "O 1"})
	p.Unit = sheet.Airframe.Unit
	p.Path, p.Problem = "/order", r.Wrong
	s.Render(c, r.Status, "work", p)
}

// lists sorts the steps into what can be done now, with a helper, what is held, and what closes.
func (v *view) lists() {
	when := map[string]plan.Scheduled{}
	for _, job := range v.Answer.Schedule {
		when[job.ID] = job
	}
	of := func(id string) Line {
		l := Line{OrderStep: v.Steps[id]}
		if job, ok := when[id]; ok {
			l.When = v.OrderSheet.At(job.Start).Format("Mon 2 Jan 15:04")
		}
		return l
	}
	v.Awaits = v.awaited()
	for _, id := range v.Answer.Now {
		if v.Awaits != "" && !v.waitedFor(id) {
			v.Meanwhile = append(v.Meanwhile, of(id))
			continue
		}
		v.Now = append(v.Now, of(id))
	}
	for _, id := range v.Answer.WithHelper {
		v.WithHelper = append(v.WithHelper, of(id))
	}
	if len(v.Answer.Schedule) > 0 {
		job := v.Answer.Schedule[0]
		first := of(job.ID)
		first.Tonight = v.evening(v.OrderSheet.At(job.Start), v.OrderSheet.At(job.End))
		v.First = &first
	} else if can := slices.Concat(v.Now, v.Meanwhile); len(can) > 0 {
		v.First = &can[0]
	}
	for _, h := range v.Answer.Held {
		l, behind := heldLine{Line: of(h.ID)}, true
		slices.SortStableFunc(h.By, func(a, b plan.By) int { // what no step brings comes first
			return cmp.Compare(map[bool]int{true: 1}[a.What == "step"], map[bool]int{true: 1}[b.What == "step"])
		})
		for _, by := range h.By {
			behind = behind && by.What == "step"
			l.Why = append(l.Why, v.OrderSheet.Why(by))
		}
		if behind {
			v.Behind = append(v.Behind, l)
			continue
		}
		v.Held = append(v.Held, l)
	}
	for _, c := range v.Answer.Closings {
		says := fmt.Sprintf("%s closes in %d steps", c.Bay, c.Before+1)
		if open := len(c.InsideOpen); open > 0 {
			var names []string
			for _, id := range c.InsideOpen {
				names = append(names, v.Steps[id].Name)
			}
			says += "; still open inside: " + strings.Join(names, ", ")
		}
		v.Closing = append(v.Closing, says)
	}
	for _, u := range v.Answer.Unscheduled {
		v.Never = append(v.Never, v.Steps[u.ID].Name+" "+reasons[u.By])
	}
	for i := len(v.Plan.Steps) - 1; i >= 0 && len(v.Done) < 5; i-- {
		if s := v.Plan.Steps[i]; s.State == plan.Done {
			v.Done = append(v.Done, of(s.ID))
		}
	}
}

// show puts a step that was added just now before the others of its list, so that it is not folded away.
func (v *view) show(id string) {
	for _, list := range []*[]Line{&v.Now, &v.Meanwhile, &v.WithHelper} {
		*list = front(*list, func(l Line) bool { return l.ID == id })
	}
	v.Held = front(v.Held, func(l heldLine) bool { return l.ID == id })
	if at := slices.IndexFunc(v.Behind, func(l heldLine) bool { return l.ID == id }); at >= 0 {
		v.Opened = true
	}
}

// front moves what is meant to the front of a list.
func front[T any](list []T, is func(T) bool) []T {
	at := slices.IndexFunc(list, is)
	if at <= 0 {
		return list
	}
	return slices.Concat(list[at:at+1], list[:at], list[at+1:])
}

// awaited is what comes the soonest of what held steps wait for: an order, a cure.
func (v *view) awaited() string {
	soonest, says := "", ""
	for _, h := range v.Answer.Held {
		for _, by := range h.By {
			if (by.What == "order" || by.What == "cure") && (says == "" || by.Until != "" && (soonest == "" || by.Until < soonest)) {
				soonest, says = by.Until, strings.TrimPrefix(v.OrderSheet.Why(by), "waits for ")
			}
		}
	}
	return says
}

// waitedFor tells whether any step that is not done comes after one.
func (v *view) waitedFor(id string) bool {
	at := slices.IndexFunc(v.Plan.Steps, func(s plan.Step) bool { return s.ID == id })
	return slices.ContainsFunc(v.Plan.Steps, func(s plan.Step) bool { return s.State != plan.Done && slices.Contains(s.After, at) })
}

// evening says how much of a step its first evening holds, where that is not all of it.
func (v *view) evening(from, to time.Time) string {
	stretch := v.Week[planning.Days[(int(from.Weekday())+6)%7]]
	ends := time.Date(from.Year(), from.Month(), from.Day(), 0, stretch.From+stretch.Minutes, 0, 0, from.Location())
	if stretch.Minutes == 0 || !ends.After(from) || !to.After(ends) {
		return ""
	}
	return spokenHours(ends.Sub(from).Hours()) + " of it that evening"
}

// strip draws the schedule.
func strip(base string, s overview.OrderSheet) template.HTML {
	from := s.Now.AddDate(0, 0, -((int(s.Now.Weekday()) + 6) % 7))
	w := drawing.Weeks{From: time.Date(from.Year(), from.Month(), from.Day(), 0, 0, 0, 0, s.Now.Location())}
	for _, job := range s.Answer.Schedule {
		step := s.Steps[job.ID]
		href := base + "/order?airframe=" + s.Airframe.ID + "#" + job.ID
		if step.Path != "" {
			href = base + step.Path
		}
		w.Jobs = append(w.Jobs, drawing.WeekJob{Name: step.Name, Href: href, From: s.At(job.Start), To: s.At(job.End), Cured: s.At(job.Cured), Helper: step.People > 1,
			Says: s.At(job.Start).Format("Mon 2 Jan 15:04") + " to " + s.At(job.End).Format("Mon 2 Jan 15:04")})
	}
	for n := range 7 * 17 {
		day := w.From.AddDate(0, 0, n)
		if stretch := s.Week[planning.Days[(int(day.Weekday())+6)%7]]; stretch.Minutes > 0 {
			w.Evenings = append(w.Evenings, time.Date(day.Year(), day.Month(), day.Day(), 0, stretch.From, 0, 0, day.Location()))
		}
	}
	for _, o := range s.Answer.Orders {
		if at, err := time.ParseInLocation(time.DateOnly, o.Expected, s.Now.Location()); err == nil {
			w.Due = append(w.Due, drawing.WeekDue{Name: s.OrderName(o.ID), At: at, Late: o.Overdue})
		}
	}
	slices.SortStableFunc(w.Due, func(a, b drawing.WeekDue) int { return a.At.Compare(b.At) })
	for _, v := range s.Plan.Visits {
		w.Visits = append(w.Visits, [2]time.Time{s.Plan.Zone.Time(v.From), s.Plan.Zone.Time(v.To)})
	}
	return w.Draw()
}

// done goes back to the sheet, or shows what was refused there.
func (s sheets) done(c *gin.Context, err error, of string) {
	id, to := c.Param("id"), "/order?airframe="+c.Param("id")
	if of == "work" {
		s.Remember(c, "who", c.PostForm("who"))
	}
	if c.PostForm("back") != "" {
		to = ui.Back(c)
	}
	s.Done(c, err, to, func(r ui.Refused) {
		r.Of = of
		s.show(c, id, r)
	})
}

func (s sheets) addStep(c *gin.Context) {
	n := planning.NewStep{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.AddStep(c.Request.Context(), n)
	}
	if err == nil {
		c.Redirect(http.StatusSeeOther, s.Base+"/order?airframe="+url.QueryEscape(n.Airframe)+"&added="+url.QueryEscape(n.ID))
		return
	}
	s.done(c, err, "step")
}

func (s sheets) moveStep(c *gin.Context) {
	var n planning.StepMoved
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Workshop.MoveStep(c.Request.Context(), n)
	}
	s.done(c, err, "move")
}

func (s sheets) setWeek(c *gin.Context) {
	n := planning.WeekSet{Form: ledger.Form{ID: c.PostForm("id")}, Airframe: c.Param("id"), From: map[string]string{}, Long: map[string]string{}}
	for _, day := range planning.Days {
		n.From[day], n.Long[day] = c.PostForm("from."+day), c.PostForm("long."+day)
	}
	s.done(c, s.Planning.SetWeek(c.Request.Context(), n), "week")
}

func (s sheets) setAway(c *gin.Context) {
	n := planning.AwaySet{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.SetAway(c.Request.Context(), n)
	}
	s.done(c, err, "away")
}

func (s sheets) addVisit(c *gin.Context) {
	n := planning.NewVisit{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.AddVisit(c.Request.Context(), n)
	}
	s.done(c, err, "visit")
}

func (s sheets) startWork(c *gin.Context) {
	n := planning.WorkStarted{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.StartWork(c.Request.Context(), n)
	}
	s.done(c, err, "work")
}

func (s sheets) stopWork(c *gin.Context) {
	var n planning.WorkStopped
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.StopWork(c.Request.Context(), n)
	}
	s.done(c, err, "stop:"+n.Session)
}

func (s sheets) splitStep(c *gin.Context) {
	var n planning.StepSplit
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.SplitStep(c.Request.Context(), n)
	}
	s.done(c, err, "move")
}

func (s sheets) doneElse(c *gin.Context) {
	n := planning.ElseDone{Airframe: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Planning.DoneElse(c.Request.Context(), n)
	}
	s.done(c, err, "work")
}

// workAnywhere starts work from the foot of any sheet, at the assembly that it is about.
func (s sheets) workAnywhere(c *gin.Context) {
	var n planning.WorkStarted
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.Who)
	if err == nil {
		n.Airframe, err = s.AirframeOf(c.Request.Context(), n.Assembly)
	}
	if err == nil {
		err = s.Planning.StartWork(c.Request.Context(), n)
	}
	s.Done(c, err, ui.Back(c), func(r ui.Refused) {
		r.Of = "work"
		s.show(c, n.Airframe, r)
	})
}

// visitView is a helper's evening on one page.
type visitView struct {
	overview.OrderSheet
	Visit   planning.Visit
	When    string
	Steps   []visitLine
	Prepare []Line
	Unused  string
	Bring   []string // tools and light, each with what it is for
	Told    told
}

// told is what was done in a visit, once it has begun: the form to tell it.
type told struct {
	Begun    bool
	Steps    []tick
	From, To string
	Who      []string
}

type tick struct {
	overview.OrderStep
	Ticked bool
}

type visitLine struct {
	Line
	Long string
}

// tell prepares the form, with what was typed where it was refused.
func (v *visitView) tell(c *gin.Context, refused bool) {
	from := v.OrderSheet.At(v.Visit.From)
	if v.Told.Begun = !from.After(v.Now); !v.Told.Begun {
		return
	}
	t := &v.Told
	t.From, t.To, t.Who = from.Format("15:04"), from.Add(time.Duration(v.Visit.Hours*float64(time.Hour))).Format("15:04"), []string{cmp.Or(ui.Who(c), "builder"), v.Visit.Who, ""}
	if refused {
		t.From, t.To, t.Who = c.PostForm("from"), c.PostForm("to"), c.PostFormArray("who")
	}
	for _, step := range v.Plan.Steps {
		if one := v.OrderSheet.Steps[step.ID]; one.Own && step.State != plan.Done {
			t.Steps = append(t.Steps, tick{one, slices.Contains(c.PostFormArray("done"), step.ID)})
		}
	}
	// Those of several people come first.
	slices.SortStableFunc(t.Steps, func(a, b tick) int { return min(b.People, 2) - min(a.People, 2) })
}

func (s sheets) tellEvening(c *gin.Context) {
	n := planning.EveningTold{}
	err := ui.Bind(c, &n)
	if n.Visit = c.Param("id"); err == nil {
		err = s.Planning.TellEvening(c.Request.Context(), n)
	}
	s.Done(c, err, "/order?airframe="+c.Query("airframe"), func(r ui.Refused) { s.visit(c, c.Query("airframe"), r) })
}

func (s sheets) visit(c *gin.Context, frame string, r ui.Refused) {
	v, err := s.visitOf(c, frame)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v.tell(c, len(r.Wrong) > 0)
	p := s.Page(c, "order", "A helper's evening", v, ui.Footing{Label: "airframe", Text: v.Airframe.Name}, ui.Footing{Label: "visit", Text: v.When}, ui.Footing{Label: "sheet", Text: "O 2"})
	p.Unit, p.Problem = v.Airframe.Unit, r.Wrong
	s.Render(c, r.Status, "visit", p)
}

// visitPDF is a helper's evening on one sheet of paper.
func (s sheets) visitPDF(c *gin.Context) {
	v, err := s.visitOf(c, c.Query("airframe"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	night := paper.Evening{Heading: s.Heading(v.Visit.Who, v.When, v.Airframe.Name, "/order/visits/"+v.Visit.ID), Bring: v.Bring}
	reader := s.Reader(c, v.Airframe.Unit)
	for _, step := range v.Steps {
		night.Together = append(night.Together, reader.Text(step.Name+", "+step.Long))
	}
	for _, step := range v.Prepare {
		night.Before = append(night.Before, reader.Text(step.Name+", "+spokenHours(step.Hours)))
	}
	data, err := night.Print(ui.PaperSize(c))
	s.PDF(c, "evening "+v.When, data, err)
}

// visitOf is a helper's evening with what is done in it.
func (s sheets) visitOf(c *gin.Context, frame string) (v visitView, err error) {
	sheet, err := s.Order(c.Request.Context(), frame)
	if err != nil {
		return v, err
	}
	v = visitView{OrderSheet: sheet}
	for _, one := range sheet.Visits {
		if one.ID == c.Param("id") {
			v.Visit, v.When = one, sheet.At(one.From).Format("Monday 2 January, 15:04")
		}
	}
	if v.Visit.ID == "" {
		return v, ledger.ErrNotFound
	}
	for _, one := range sheet.Answer.Visits {
		if one.ID != v.Visit.ID {
			continue
		}
		for _, step := range one.Steps {
			v.Steps = append(v.Steps, visitLine{Line{OrderStep: sheet.Steps[step.ID]}, spokenHours(float64(step.Minutes) / 60)})
			if bring := sheet.Steps[step.ID].Bring; bring != "" {
				v.Bring = append(v.Bring, bring+" (for "+sheet.Steps[step.ID].Name+")")
			}
		}
		for _, id := range one.Prepare {
			v.Prepare = append(v.Prepare, Line{OrderStep: sheet.Steps[id]})
		}
		if one.Unused > 0 {
			v.Unused = spokenHours(float64(one.Unused) / 60)
		}
	}
	return v, nil
}
