package ui

import (
	"github.com/gin-gonic/gin"

	"orpine/internal/overview"
)

// Like is the page that copies something to another assembly.
type Like struct {
	Of, Says     string // what is copied, and what goes with it
	Back, Action string // paths
	Twins        []overview.Named
	Chosen       string
}

// ShowLike shows the page, or what was refused there.
func (u *UI) ShowLike(c *gin.Context, assembly string, v Like, p Page, r Refused) {
	list, err := u.Twins(c.Request.Context(), assembly)
	if err != nil {
		u.Fail(c, err)
		return
	}
	v.Twins, v.Chosen = list, r.Typed["assembly"]
	p.View, p.Problem = v, r.Wrong
	u.Render(c, r.Status, "like", p)
}
