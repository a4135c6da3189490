package riveting

import (
	"cmp"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/row"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/riveting"
	"orpine/internal/web/ui"
)

// listingView is the form of rows by their call-out list, and how the list is read.
type listingView struct {
	overview.RowOffers
	Typed  map[string]string
	Chosen map[string]bool // drill holds
	Read   []listedView
	Wrong  []string // what cannot be read, a line each
	Holes  int
}

// listedView is a row of the list as it is read.
type listedView struct {
	Name, What, CallOuts, Open string
	Holes                      int
}

// readList reads a list for its view.
func (v *listingView) readList(text string) {
	rows, wrong := riveting.ReadList(text, v.Airframe.Unit)
	if wrong != "" && strings.TrimSpace(text) != "" {
		v.Wrong = strings.Split(wrong, "\n")
	}
	for _, r := range rows {
		one := listedView{Name: r.Name, What: r.Row.Fastener.Says(), Holes: len(r.Holes), Open: strings.Join(riveting.KeptSays(r.Holes), "; ")}
		var parts []string
		for _, c := range r.Row.CallOuts {
			run := fmt.Sprintf("%d–%d", c.From, c.To)
			if c.From == c.To {
				run = fmt.Sprint(c.From)
			}
			parts = append(parts, strings.TrimSpace(run+": "+c.Text+" "+c.Head))
		}
		if one.CallOuts = strings.Join(parts, ", "); r.Row.How == row.AsItComes {
			one.CallOuts += "; as it comes"
		}
		v.Read, v.Holes = append(v.Read, one), v.Holes+len(r.Holes)
	}
}

func (s sheets) newList(c *gin.Context) { s.showList(c, ui.Refused{}) }

func (s sheets) showList(c *gin.Context, r ui.Refused) {
	offers, err := s.OfferRow(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	view := listingView{RowOffers: offers, Typed: r.Typed, Chosen: map[string]bool{}}
	if view.Typed == nil {
		view.Typed = map[string]string{"list": c.Query("list")}
		for _, h := range offers.Rivets { // it inherits what is measured for
			if h.SetupID != "" {
				view.Typed["rivets"] = h.ID
			}
		}
	}
	for _, d := range c.PostFormArray("drills") {
		view.Chosen[d] = true
	}
	for _, h := range offers.Drills { // a row inherits what stands there
		view.Chosen[h.ID] = view.Chosen[h.ID] || c.PostForm("drills_shown") == ""
	}
	view.readList(view.Typed["list"])
	if r.Wrong["list"] != "" {
		view.Wrong = nil // it stands at the field
	}
	p := s.Page(c, "rows", "Rows from a call-out list", view, ui.Footing{Label: "airframe", Text: offers.Airframe.Name}, ui.Footing{Label: "assembly", Text: offers.Assembly.Name}, ui.Footing{Label: "sheet", Text: "R 5"})
	p.Unit, p.Problem = offers.Airframe.Unit, r.Wrong
	if c.GetHeader("HX-Request") != "" && c.Request.Method == http.MethodGet {
		s.RenderPart(c, http.StatusOK, "listrows", "list-read", p)
		return
	}
	s.Render(c, r.Status, "listrows", p)
}

func (s sheets) addList(c *gin.Context) {
	n := riveting.NewRow{Form: ledger.Form{ID: c.PostForm("id")}, Assembly: c.Param("id"), Name: cmp.Or(strings.TrimSpace(c.PostForm("name")), "as listed"), List: strings.ReplaceAll(c.PostForm("list"), "\r\n", "\n"),
		Rivets: c.PostForm("rivets"), Drills: c.PostFormArray("drills"), OptOut: c.PostForm("opt_out"), Bay: c.PostForm("bay"), Marked: c.PostForm("marked")}
	switch {
	case c.PostForm("drills_shown") == "": // none stood there when the form was made: it inherits what does now
		n.Drills = nil
	case n.Drills == nil:
		n.Drills = []string{}
	}
	var err error
	if strings.TrimSpace(n.List) == "" {
		err = ledger.Problems{"list": "what do the plans call out? A line for each row: rib 4: 12 AD4-5, 3 AD4-6"}
	} else {
		err = s.Riveting.Lay(c.Request.Context(), n)
	}
	s.Done(c, err, "/assemblies/"+n.Assembly+"/rows", func(r ui.Refused) { s.showList(c, r) })
}
