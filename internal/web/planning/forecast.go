package planning

import (
	"cmp"
	"fmt"
	"html/template"
	"maps"
	"math"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/plan"
	"orpine/internal/core/say"
	"orpine/internal/overview"
	"orpine/internal/web/drawing"
)

// patient is for how long a sheet waits for its band before it is drawn without.
const patient = 400 * time.Millisecond

// forecast is when a build is finished, in words.
type forecast struct {
	Frame   string
	Short   bool   // beside other things: the days, and what they hang on most
	Percent int    // that is played, until it is ready
	Ready   bool   //
	Says    string // "" where there is nothing to say
	Part    bool   // of what is not held only
	Plain   string // the finish without any doubt
	Plays   int
	Hangs   []string
	Drawing template.HTML
	Notes   []string
}

// band is the forecast by itself, for the sheets that ask for it again while it is played.
func (s sheets) band(c *gin.Context) {
	sheet, err := s.Order(c.Request.Context(), c.Query("airframe"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := view{OrderSheet: sheet, Band: s.foreseen(c, sheet, 2*patient)}
	v.Band.Short = c.Query("short") != ""
	s.RenderPart(c, http.StatusOK, "work", "forecast", s.Page(c, "order", "Order of work", v))
}

// foreseen is the forecast of a sheet, as far as it is played when the patience ends.
func (s sheets) foreseen(c *gin.Context, sheet overview.OrderSheet, patience time.Duration) forecast {
	f := forecast{Frame: sheet.Airframe.ID}
	undone := false
	for _, step := range sheet.Plan.Steps {
		undone = undone || step.State != plan.Done
	}
	if !undone {
		return forecast{Frame: f.Frame, Ready: true}
	}
	got := s.Forecast(c.Request.Context(), sheet, patience)
	if f.Ready = got.Ready; !f.Ready {
		f.Percent = 100 * got.Done / max(got.Of, 1)
		return f
	}
	f.say(sheet, got)
	return f
}

// say puts a band into words.
func (f *forecast) say(sheet overview.OrderSheet, got overview.Forecast) {
	b := got.Band
	if len(b.LeftOut) == len(sheet.Answer.Unscheduled)+len(sheet.Answer.Schedule) {
		return // nothing is played
	}
	day := func(minute int64) string { return sheet.Plan.Zone.Time(minute).Format("2 January 2006") }
	f.Part, f.Plays = len(b.LeftOut) > 0, b.N
	switch {
	case b.P10 == nil:
		f.Says = "in fewer than one play in ten"
	case b.P50 == nil:
		f.Says = "not before " + day(b.Early)
	case b.P90 == nil:
		f.Says = fmt.Sprintf("not before %s, as likely as not by %s", day(b.Early), day(b.Likely))
	default:
		f.Says = fmt.Sprintf("between %s and %s, as likely as not by %s", day(b.Early), day(b.Late), day(b.Likely))
	}
	if got.Finish != "" {
		f.Plain = sheet.At(got.Finish).Format("2 January 2006")
	}
	d := drawing.Forecast{Title: "finished " + f.Says, Now: sheet.Now, Early: minuteOf(sheet, b.Early), Likely: minuteOf(sheet, b.Likely), Late: minuteOf(sheet, b.Late)}
	if got.Finish != "" {
		d.Plain = sheet.At(got.Finish)
	}
	decides := map[string]bool{}
	for i, one := range b.Drivers {
		what := driverWords[one.What]
		if one.What == "step" {
			what = "“" + sheet.Steps[one.ID].Name + "” alone"
		}
		decides[one.What] = i < 2
		f.Hangs = append(f.Hangs, what)
		d.Hangs = append(d.Hangs, drawing.Hang{Name: what, Says: say.Plural(int(math.Round(one.Days)), "day", "days"), Days: one.Days})
	}
	if b.P10 != nil {
		f.Drawing = d.Draw()
	}
	if decides["money"] {
		f.Notes = append(f.Notes, "Money decides: what you save in a month moves the finish more than the work does.")
	}
	if decides["visits"] || b.ExtraVisits >= 0.5 {
		f.Notes = append(f.Notes, fmt.Sprintf("Visits decide: in %.0f of 100 plays work for two was left after the last one, and another came every four weeks.", 100*b.ExtraVisits))
	}
	if b.Never > 0 {
		var why []string
		for _, reason := range []string{"money", "fit", "people", "horizon", "order", "question", "after"} {
			if b.NeverBy[reason] > 0 {
				why = append(why, neverWords[reason])
			}
		}
		first := slices.MaxFunc(slices.Sorted(maps.Keys(b.NeverAt)), func(x, y string) int { return cmp.Compare(b.NeverAt[x], b.NeverAt[y]) })
		f.Notes = append(f.Notes, fmt.Sprintf("In %.0f of 100 plays it never ends: %s. What most often stays undone: %s.", math.Ceil(100*b.Never), strings.Join(why, "; "), sheet.Steps[first].Name))
	}
}

// minuteOf is the time of a minute of a band; zero where there is none.
func minuteOf(sheet overview.OrderSheet, minute int64) (t time.Time) {
	if minute != plan.Never {
		t = sheet.Plan.Zone.Time(minute)
	}
	return t
}

// driverWords are what a finish hangs on.
var driverWords = map[string]string{
	"pace": "your pace", "work": "how long each step takes", "unplanned": "work that nobody planned", "visits": "helpers’ visits that fall through",
	"evenings": "evenings that fall away", "orders": "when orders come", "money": "what you save",
}

// neverWords are why a play never ends.
var neverWords = map[string]string{
	"money": "something is not paid for within forty years", "fit": "a step that is done in one go finds no stretch long enough", "people": "the people for a step come too early, and not again: put a later visit in",
	"horizon": "it takes more than forty years", "order": "an order has no date", "question": "an answer is missing", "after": "a step before it never ends",
}

// chosen says why the order of a sheet is not the rule's; "" where it is.
func chosen(w plan.Way) string {
	switch days := math.Round(w.Sooner()); {
	case w.Rule():
		return ""
	case days >= 1:
		return fmt.Sprintf("Not simply what has most behind it first: this order finishes %s sooner.", say.Plural(int(days), "day", "days"))
	case w.Mends():
		return "Not simply what has most behind it first: that would leave something begun lying for over a month, or do first what nothing waits for."
	}
	return "Not simply what has most behind it first: this order finishes as soon, and leaves more time for what has much behind it."
}
