// Package instrument is the Instruments sheet.
package instrument

import (
	"embed"
	"fmt"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// Routes registers the sheet.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Pages(templates)
	u.Shows("instruments", func(c *gin.Context, _ string, r ui.Refused) { s.show(c, r) })
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
	OffsetSays, SpreadSays string // where the figures come from
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
	until, due := in.Due()
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
	return v
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
