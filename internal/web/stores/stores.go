// Package stores is the Stores sheet.
package stores

import (
	"embed"
	"fmt"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/part"
	"orpine/internal/core/stock"
	"orpine/internal/overview"
	"orpine/internal/stores"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// Routes registers the sheet.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Func("stockKey", stock.Key)
	u.Pages(templates)
	u.GET("/stores", func(c *gin.Context) { s.show(c, "", ui.Refused{}) })
	u.POST("/parts", s.addPart)
	u.POST("/parts/:id", s.movePart)
	u.POST("/notices", s.addNotice)
	u.POST("/notices/:id/found", s.found)
	u.POST("/stock", s.countStock)
	u.POST("/lots", s.useLot)
	u.POST("/lots/holes", s.tellLot)
	u.Shows("stores", s.show)
}

// view is the Stores sheet.
type view struct {
	overview.StoresSheet
	Hands []string
	Sorts []string
	Setup map[string]string // of each check that compares hands
	Of    string
	Typed map[string]string
	Who   string
}

func (s sheets) show(c *gin.Context, _ string, r ui.Refused) {
	frame := c.Query("airframe")
	if frame == "" {
		frame = c.PostForm("airframe")
	}
	sheet, err := s.Store(c.Request.Context(), frame)
	if err != nil {
		s.Fail(c, err)
		return
	}
	if sheet.Shortages, err = s.Shortages(c.Request.Context(), sheet); err != nil {
		s.Fail(c, err)
		return
	}
	v := view{StoresSheet: sheet, Hands: part.Hands, Sorts: stores.StockSorts, Setup: map[string]string{}, Of: r.Of, Typed: r.Typed, Who: ui.Who(c)}
	for _, check := range sheet.Checks {
		v.Setup[check.ID] = check.Setup
	}
	p := s.Page(c, "stores", "Stores", v, ui.Footing{Label: "airframe", Text: sheet.Airframe.Name}, ui.Footing{Label: "parts", Text: fmt.Sprint(len(sheet.Parts))}, ui.Footing{Label: "notices", Text: fmt.Sprint(len(sheet.Notices))}, ui.Footing{Label: "sheet", Text: "P 1"})
	p.Unit = sheet.Airframe.Unit
	p.Path, p.Problem = "/stores", r.Wrong
	s.Render(c, r.Status, "stores", p)
}

// done goes back to the stores, or shows what was refused there.
func (s sheets) done(c *gin.Context, err error, of string) {
	s.Done(c, err, "/stores?airframe="+c.PostForm("airframe"), func(r ui.Refused) {
		r.Of = of
		s.show(c, "", r)
	})
}

func (s sheets) addPart(c *gin.Context) {
	var n stores.NewPart
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Stores.AddPart(c.Request.Context(), n)
	}
	s.done(c, err, "part")
}

func (s sheets) movePart(c *gin.Context) {
	n := stores.PartMoved{Part: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Stores.MovePart(c.Request.Context(), n)
	}
	s.done(c, err, n.Part)
}

func (s sheets) addNotice(c *gin.Context) {
	var n stores.NewNotice
	err := ui.Bind(c, &n)
	n.Names = part.Notice{Numbers: names(c, "numbers"), Lots: names(c, "lots"), Processes: names(c, "processes")}
	if err == nil {
		err = s.Stores.AddNotice(c.Request.Context(), n)
	}
	s.done(c, err, "notice")
}

func (s sheets) found(c *gin.Context) {
	n := stores.PartFound{Notice: c.Param("id")}
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.By)
	if err == nil {
		err = s.Stores.Find(c.Request.Context(), n)
	}
	s.done(c, err, "found:"+n.Notice+":"+n.Part+n.Thing)
}

func (s sheets) useLot(c *gin.Context) {
	var n stores.LotUsed
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Stores.UseLot(c.Request.Context(), n)
	}
	s.done(c, err, "lot")
}

func (s sheets) tellLot(c *gin.Context) {
	var n stores.HoleLot
	err := ui.Bind(c, &n)
	s.Remember(c, "who", n.By)
	if err == nil {
		err = s.Stores.TellLot(c.Request.Context(), n)
	}
	s.done(c, err, "holes")
}

// names reads a field of names parted by commas, semicolons or lines.
func names(c *gin.Context, field string) []string {
	var out []string
	for _, name := range strings.FieldsFunc(c.PostForm(field), func(r rune) bool { return r == ',' || r == ';' || r == '\n' }) {
		if name = strings.TrimSpace(name); name != "" {
			out = append(out, name)
		}
	}
	return out
}

func (s sheets) countStock(c *gin.Context) {
	var n stores.NewStock
	err := ui.Bind(c, &n)
	if err == nil {
		err = n.Count(c.PostForm("number"))
	}
	if err == nil {
		err = s.Stores.CountStock(c.Request.Context(), n)
	}
	s.done(c, err, "stock")
}
