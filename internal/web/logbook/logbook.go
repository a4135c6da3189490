// Package logbook is the Log sheet, and the list of slips.
package logbook

import (
	"embed"
	"errors"
	"fmt"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/journal"
	"orpine/internal/ledger"
	"orpine/internal/logbook"
	"orpine/internal/overview"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// Routes registers the sheets.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Func("retractable", overview.Retractable)
	u.Pages(templates)
	u.GET("/log", s.journal)
	u.GET("/undo", s.undo)
	u.POST("/undo", s.takeBack)
	u.POST("/log/check", s.check)
	u.GET("/slips", func(c *gin.Context) { s.showSlips(c, "", ui.Refused{}) })
	u.POST("/slips", s.logSlip)
	u.POST("/slips/:id", s.tellSlip)
	u.Shows("slips", s.showSlips)
}

// logView is the Log sheet.
type logView struct {
	Days    []logDay
	More    int64 // the entry before which older ones begin; 0 for none
	Checked string
	Broken  bool
	Running bool
}

type logDay struct {
	Day     string
	Entries []ledger.LogEntry
}

const logPage = 100

func (s sheets) journal(c *gin.Context) {
	entries, more, err := s.Ledger.Log(c.Request.Context(), ui.Int(c.Query("before")), logPage)
	if err != nil {
		s.Fail(c, err)
		return
	}
	var view logView
	for _, e := range entries {
		day := e.At.Format("Monday 2 January 2006")
		if len(view.Days) == 0 || view.Days[len(view.Days)-1].Day != day {
			view.Days = append(view.Days, logDay{Day: day})
		}
		d := &view.Days[len(view.Days)-1]
		d.Entries = append(d.Entries, e)
	}
	if more {
		view.More = entries[len(entries)-1].Seq
	}
	view.checked(s)
	last := "none"
	if len(entries) > 0 {
		last = fmt.Sprint(entries[0].Seq)
	}
	p := s.Page(c, "log", "Log", view, ui.Footing{Label: "last entry", Text: last}, ui.Footing{Label: "kept as", Text: "an append-only chain"}, ui.Footing{Label: "sheet", Text: "L 1"})
	p.Unit = s.ShopUnit(c.Request.Context())
	s.Render(c, 0, "log", p)
}

// checked says what the last verification found.
func (v *logView) checked(s sheets) {
	last := s.Checks.Last()
	v.Running = last.Running
	var broken *journal.Broken
	switch {
	case last.Running:
		v.Checked = "Every entry is being replayed and compared. Load this sheet again in a moment."
	case last.At.IsZero():
	case last.Err == nil:
		v.Checked = fmt.Sprintf("All %d entries hold, checked %s. The last one is %d:%s; keep that on paper.", last.Report.Entries, s.When(last.At), last.Report.Entries, last.Report.Hash)
	default:
		v.Broken, v.Checked = true, last.Err.Error()+"."
		if !errors.As(last.Err, &broken) {
			v.Checked = "The check could not be made: " + v.Checked
		}
	}
}

// check begins to check the record in the background.
func (s sheets) check(c *gin.Context) {
	s.Checks.Start()
	s.Done(c, nil, "/log", nil)
}

// slipsView is the list of slips.
type slipsView struct {
	overview.SlipList
	Of    string // whose form was refused
	Typed map[string]string
}

func (s sheets) showSlips(c *gin.Context, _ string, r ui.Refused) {
	list, err := s.Slips(c.Request.Context(), ui.Int(c.Query("before")))
	if err != nil {
		s.Fail(c, err)
		return
	}
	p := s.Page(c, "log", "Slips", slipsView{list, r.Of, r.Typed}, ui.Footing{Label: "slips", Text: fmt.Sprint(list.Number)}, ui.Footing{Label: "minutes", Text: fmt.Sprint(list.Minutes)}, ui.Footing{Label: "sheet", Text: "L 2"})
	p.Unit = s.ShopUnit(c.Request.Context())
	p.Path, p.Problem = "/slips", r.Wrong
	s.Render(c, r.Status, "slips", p)
}

func (s sheets) logSlip(c *gin.Context) {
	var n logbook.NewSlip
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Logbook.Log(c.Request.Context(), n)
	}
	to, sign := ui.Back(c), "?"
	if strings.Contains(to, "?") {
		sign = "&"
	}
	s.Done(c, err, to+sign+"slipped="+n.ID, func(r ui.Refused) { s.showSlips(c, "", r) })
}

func (s sheets) tellSlip(c *gin.Context) {
	n := logbook.SlipCost{Slip: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Logbook.Tell(c.Request.Context(), n)
	}
	s.Done(c, err, "/slips#"+n.Slip, func(r ui.Refused) {
		r.Of = n.Slip
		s.showSlips(c, "", r)
	})
}
