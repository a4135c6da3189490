// Package finding is the sheet on which anything is found by a few words: things of the record, entries of the log, pages
// of the guide, and what may be done.
package finding

import (
	"embed"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/finding"
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
	u.GET("/find", s.find)
}

// findView is what was found by some words, and where parts lie that are called so.
type findView struct {
	overview.FoundThings
	Places []overview.Place
	Asked  string // the aircraft that was asked about, "" for none
	Word   string
}

// mostAsked is the longest that is looked for.
const mostAsked = 100

func (s sheets) find(c *gin.Context) {
	v := findView{Word: strings.TrimSpace(c.Query("word")), Asked: c.Query("airframe")}
	if len(v.Word) > mostAsked {
		v.Word = ""
	}
	var err error
	if v.Word != "" {
		if v.FoundThings, err = s.LookFor(c.Request.Context(), v.Word, s.also()); err != nil {
			s.Fail(c, err)
			return
		}
		if a := ui.Signed(c); !s.HasDoor || a != nil && !a.Role.May(ui.Asks(http.MethodGet, "/people")...) { // who else is in the shop is the builders' to see
			v.Things = slices.DeleteFunc(v.Things, func(h finding.Hit) bool { return strings.HasPrefix(h.Path, "/people") })
		}
	}
	if v.Asked != "" || v.Word == "" {
		if _, places, err := s.Find(c.Request.Context(), v.Asked, v.Word); err == nil {
			v.Places = places
		}
	}
	p := s.Page(c, "find", "Find", v, ui.Footing{Label: "found", Text: fmt.Sprint(len(v.Things) + len(v.Log) + len(v.Places))}, ui.Footing{Label: "sheet", Text: "F"})
	p.Unit = s.ShopUnit(c.Request.Context())
	s.Render(c, 0, "find", p)
}

// doings are what may be done, by the words that one would say for it, and the page where it is.
var doings = []finding.Doc{
	{ID: "/measure", Title: "Measure something now", More: "twist bench level incidence square"},
	{ID: "/begin/low-wing", Title: "Begin an aircraft", More: "new own kit"},
	{ID: "/instruments", Title: "Prove a level or a tape", More: "zero turn end for end instruments"},
	{ID: "/paper", Title: "Print the card, the strip, labels", More: "bench card paper board blank discs"},
	{ID: "/holds", Title: "Count clecos out of a closing", More: "tools inside bay close"},
	{ID: "/holds", Title: "Release a hold", More: "sign drill rivet bond close"},
	{ID: "/rows", Title: "Lay a row of holes", More: "rivets drill pattern"},
	{ID: "/order", Title: "What is next", More: "order of work plan steps tonight"},
	{ID: "/hours", Title: "Write hours down", More: "worked evening visit"},
	{ID: "/questions", Title: "Ask a question, note a decision", More: "kit maker answer"},
	{ID: "/cures", Title: "Start a cure or a coat", More: "primer resin sealant clock"},
	{ID: "/stores", Title: "Count parts and rivets in", More: "stores stock lot hand"},
	{ID: "/money", Title: "Order a part, and money", More: "supplier price credit"},
	{ID: "/files", Title: "Take files in or out", More: "archive copy csv worksheet plan export import"},
	{ID: "/slips", Title: "Slips and lessons", More: "mistake"},
	{ID: "/log", Title: "Check the record", More: "verify journal log"},
	{ID: "/people", Title: "Let somebody in", More: "people helper inspector phone password"},
}

// also is what is found beside the record: what may be done, and the pages of the guide.
func (s sheets) also() (out []finding.Doc) {
	for i, d := range doings {
		d.Sort, d.Path = "to do", d.ID
		d.ID = fmt.Sprint(i)
		out = append(out, d)
	}
	return append(out, s.Findables...)
}
