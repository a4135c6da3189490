// Package instrument is the Instruments sheet.
package instrument

import (
	"embed"
	"fmt"
	"html/template"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/web/drawing"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// Routes registers the sheet.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Func("zeroAt", zeroAt)
	u.Pages(templates)
	u.Shows("instruments", func(c *gin.Context, _ string, r ui.Refused) { s.show(c, r) })
	u.GET("/instruments/:id/zero.csv", s.zeroCSV)
	u.GET("/instruments", func(c *gin.Context) { s.show(c, ui.Refused{}) })
	u.POST("/instruments", s.add)
	u.POST("/instruments/:id/test", s.test)
	u.POST("/instruments/:id/proofs", s.prove)
}

// view is the Instruments sheet.
type view struct {
	List      []oneView
	Types     []instrument.Type
	Classes   []instrument.Class
	Materials []string
	Placings  []int // of a spread, from 1
	Typed     map[string]string
	Of        string // id of the instrument whose form was refused; "new" for the last form
	Opened    bool
}

// oneView is one instrument with what is in force for it.
type oneView struct {
	instrument.Instrument
	OffsetSays, SpreadSays string        // where the figures come from
	Zeros                  template.HTML // its zero through the months; "" for less than two tests
	Drift                  say.Text      // what stands out of them
	Mark                   string        // how its proof stands
	DueSays                string
	Overdue                bool
	Line                   string            // where it is listened to; "" for nowhere
	Plays                  []overview.Played // simulated ones that it may be connected to
}

func (s sheets) show(c *gin.Context, r ui.Refused) {
	list, err := s.Instruments.Proofs(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	placings := make([]int, instrument.Placings("spread"))
	for i := range placings {
		placings[i] = i + 1
	}
	v := view{Types: instrument.Types, Classes: instrument.Classes, Materials: instrument.Materials, Placings: placings, Typed: r.Typed, Of: r.Of, Opened: len(list) == 0 || r.Of == "new"}
	for _, in := range list {
		if in.Withdrawn != "" {
			continue
		}
		one := s.one(in)
		if g := s.Gauges.Of(in.ID); g != nil {
			one.Line = g.Address()
		}
		for _, p := range s.Plays {
			if (p.Unit == "deg") == in.Angle {
				one.Plays = append(one.Plays, p)
			}
		}
		v.List = append(v.List, one)
	}
	byNeed(v.List)
	p := s.Page(c, "instruments", "Instruments", v, ui.Footing{Label: "instruments", Text: fmt.Sprint(len(list))}, ui.Footing{Label: "sheet", Text: "I 1"})
	p.Unit = s.ShopUnit(c.Request.Context())
	p.Path, p.Problem = "/instruments", r.Wrong
	s.Render(c, r.Status, "instruments", p)
}

func (s sheets) one(in instrument.Instrument) oneView {
	v := oneView{Instrument: in, OffsetSays: "as typed", SpreadSays: "as typed"}
	if !in.SpreadAt.IsZero() {
		v.SpreadSays = fmt.Sprintf("%s placings, ", map[int]string{5: "five", 10: "ten"}[in.SpreadFrom]) + s.When(in.SpreadAt)
	}
	if !in.OffsetAt.IsZero() {
		v.OffsetSays = "known length, " + s.When(in.OffsetAt)
	}
	v.Zeros, v.Drift = s.zeros(in)
	until, due := in.Due()
	v.Mark = "measured"
	if due {
		v.Mark = "go"
	}
	switch {
	case !due:
	case in.Proven().IsZero():
		v.DueSays, v.Overdue = "now, never proven", true
	case until.Before(s.Ledger.Now()):
		v.DueSays, v.Overdue = "now, before it is used", true
	case in.DueDays == 0:
		v.DueSays = fmt.Sprintf("twelve hours after each test, until %s", until.Format("15:04"))
	default:
		v.DueSays = "by " + until.Format("2 January 2006")
	}
	if v.Overdue {
		v.Mark = "unsure"
	}
	return v
}

// zeros draws the zero of a level through the months, against what its offset is believed within, and names what
// stands out.
func (s sheets) zeros(in instrument.Instrument) (drawn template.HTML, says say.Text) {
	tests := slices.Clone(in.Tests)
	slices.Reverse(tests)
	values := make([]float64, len(tests))
	for i, t := range tests {
		values[i] = float64(t.Zero)
	}
	u := in.ZeroU()
	p := drawing.Plot{Title: in.Name + ", its zero through the months", Figure: say.Angle}
	for _, i := range measure.Jumps(values, u) {
		says = say.Join(says, "it jumped by "+say.Angle(values[i]-values[i-1]).Signed().String()+", "+tests[i].At.Format("2 January"))
	}
	if from, to, ok := measure.Drifts(values); ok {
		p.Named = "seven and more in a row on one side: it drifts"
		says = say.Join(says, fmt.Sprintf("%d in a row on one side, from %s to %s: it drifts", to-from+1, tests[from].At.Format("2 January"), tests[to].At.Format("2 January")))
	}
	if bound, known := in.Bound(); known && bound > 0 {
		low, high := -bound, bound
		p.Low, p.High, p.Says = &low, &high, "believed within"
	}
	for _, t := range tests {
		p.Points = append(p.Points, drawing.PlotPoint{At: t.At, Value: float64(t.Zero), U: 2 * u, Href: "#" + zeroAt(in.ID, t.At), Says: fmt.Sprintf("%s: first %s, turned %s, zero %s", s.When(t.At), t.First, t.Turned, say.Angle(float64(t.Zero)))})
	}
	return p.Small(), says
}

// zeroAt names the line of a test on the sheet, which its point on the plot leads to.
func zeroAt(instrument string, at time.Time) string {
	return fmt.Sprintf("zero-%s-%d", instrument, at.Unix())
}

// zeroCSV are the tests of a level as a table, the oldest first.
func (s sheets) zeroCSV(c *gin.Context) {
	list, err := s.Instruments.Proofs(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	i := slices.IndexFunc(list, func(in instrument.Instrument) bool { return in.ID == c.Param("id") })
	if i < 0 {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	records := [][]string{{"at", "first", "turned", "zero_deg"}}
	for _, t := range slices.Backward(list[i].Tests) {
		records = append(records, []string{t.At.Format("2006-01-02 15:04"), t.First, t.Turned, strconv.FormatFloat(float64(t.Zero), 'f', 4, 64)})
	}
	s.CSV(c, list[i].Name+" zero", records)
}

// byNeed puts those first whose proof is due.
func byNeed(list []oneView) {
	slices.SortStableFunc(list, func(a, b oneView) int {
		switch {
		case a.Overdue == b.Overdue:
			return 0
		case a.Overdue:
			return -1
		}
		return 1
	})
}

// done goes back to the sheet, or shows what was refused there.
func (s sheets) done(c *gin.Context, err error, of string) {
	to := "/instruments"
	if strings.HasPrefix(ui.Back(c), "/level?") { // where it was proven by the phone itself
		to = ui.Back(c)
	}
	s.Done(c, err, to, func(r ui.Refused) {
		r.Of = of
		s.show(c, r)
	})
}

func (s sheets) add(c *gin.Context) {
	var n instrument.NewInstrument
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Instruments.Add(c.Request.Context(), n)
	}
	s.done(c, err, "new")
}

func (s sheets) test(c *gin.Context) {
	n := instrument.EndForEnd{Instrument: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Instruments.Test(c.Request.Context(), n)
	}
	s.done(c, err, n.Instrument)
}

func (s sheets) prove(c *gin.Context) {
	n := instrument.NewProof{Form: ledger.Form{ID: c.PostForm("id")}, Instrument: c.Param("id"), What: c.PostForm("what"), Unit: c.PostForm("unit"), Texts: []string{}}
	for i := range instrument.Placings(n.What) {
		n.Texts = append(n.Texts, c.PostForm(fmt.Sprintf("%s%d", n.What, i+1)))
	}
	s.done(c, s.Instruments.Prove(c.Request.Context(), n), n.Instrument)
}
