// Package weather is the sheet of the toy capability.
package weather

import (
	"embed"

	"github.com/gin-gonic/gin"

	"orpine/internal/weather"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

// Routes registers the sheet.
func Routes(u *ui.UI) {
	w := weather.New(u.Ledger)
	u.Pages(templates)
	show := func(c *gin.Context, _ string, r ui.Refused) {
		notes, err := w.Notes(c.Request.Context())
		if err != nil {
			u.Fail(c, err)
			return
		}
		p := u.Page(c, "", "Weather", notes)
		p.Problem = r.Wrong
		u.Render(c, r.Status, "weather", p)
	}
	u.GET("/weather", func(c *gin.Context) { show(c, "", ui.Refused{}) })
	u.POST("/weather", func(c *gin.Context) {
		var n weather.NewNote
		err := ui.Bind(c, &n)
		if err == nil {
			err = w.Note(c.Request.Context(), n)
		}
		u.Done(c, err, "/weather", func(r ui.Refused) { show(c, "", r) })
	})
}
