package web

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
	"orpine/internal/core/part"
)

// storesView is the Stores sheet.
type storesView struct {
	app.Stores
	Checks []app.HandCheck
	Hands  []string
	Sorts  []string
	Setup  map[string]string // of each check that compares hands
	Of     string
	Typed  map[string]string
}

func (s *server) stores(c *gin.Context) { s.showStores(c, http.StatusOK, "", nil, nil) }

func (s *server) showStores(c *gin.Context, status int, of string, wrong app.Problems, typed map[string]string) {
	frame := c.Query("airframe")
	if frame == "" {
		frame = c.PostForm("airframe")
	}
	stores, err := s.app.Stores(c.Request.Context(), frame)
	if err != nil {
		s.fail(c, err)
		return
	}
	checks, err := s.app.HandChecks(c.Request.Context(), stores.Airframe.ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	view := storesView{Stores: stores, Checks: checks, Hands: part.Hands, Sorts: app.StockSorts, Setup: map[string]string{}, Of: of, Typed: typed}
	for _, check := range checks {
		view.Setup[check.ID] = check.Setup
	}
	p := s.page(c, "stores", "Stores", view, footing{"airframe", stores.Airframe.Name}, footing{"parts", fmt.Sprint(len(stores.Parts))}, footing{"notices", fmt.Sprint(len(stores.Notices))}, footing{"sheet", "P 1"})
	p.Path, p.Problem = "/stores", wrong
	s.render(c, status, "stores", "layout.html", p)
}

// storesDone goes back to the stores, or shows what was refused there.
func (s *server) storesDone(c *gin.Context, err error, of string, fields ...string) {
	if wrong, ok := problems(err); ok {
		s.showStores(c, http.StatusUnprocessableEntity, of, wrong, typed(c, fields...))
		return
	}
	s.done(c, err, "/stores?airframe="+c.PostForm("airframe"))
}

var partFields = []string{"number", "name", "hand", "supplier", "lot", "process", "condition", "place", "clue", "assembly", "row", "check"}

func (s *server) addPart(c *gin.Context) {
	n := app.NewPart{ID: c.PostForm("id"), Airframe: c.PostForm("airframe"), Number: c.PostForm("number"), Name: c.PostForm("name"), Hand: c.PostForm("hand"), Supplier: c.PostForm("supplier"), Lot: c.PostForm("lot"), Process: c.PostForm("process"),
		Condition: c.PostForm("condition"), Place: c.PostForm("place"), Clue: c.PostForm("clue"), Assembly: c.PostForm("assembly"), Row: c.PostForm("row"), Check: c.PostForm("check")}
	s.storesDone(c, s.app.AddPart(c.Request.Context(), n), "part", partFields...)
}

func (s *server) movePart(c *gin.Context) {
	n := app.PartMoved{ID: c.PostForm("id"), Part: c.Param("id"), Place: c.PostForm("place"), Assembly: c.PostForm("assembly"), Row: c.PostForm("row"), Check: c.PostForm("check"), Condition: c.PostForm("condition")}
	s.storesDone(c, s.app.MovePart(c.Request.Context(), n), n.Part, "place", "assembly", "row", "check", "condition")
}

func (s *server) addNotice(c *gin.Context) {
	n := app.NewNotice{ID: c.PostForm("id"), Airframe: c.PostForm("airframe"), Title: c.PostForm("title"), Note: c.PostForm("note"), Names: part.Notice{Numbers: names(c, "numbers"), Lots: names(c, "lots"), Processes: names(c, "processes")}}
	s.storesDone(c, s.app.AddNotice(c.Request.Context(), n), "notice", "title", "note", "numbers", "lots", "processes")
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

func (s *server) countStock(c *gin.Context) {
	number, _ := strconv.Atoi(strings.TrimSpace(c.PostForm("number"))) // anything else is 0, and refused
	n := app.NewStock{ID: c.PostForm("id"), Airframe: c.PostForm("airframe"), Sort: c.PostForm("sort"), Name: c.PostForm("name"), Number: number, Note: c.PostForm("note")}
	s.storesDone(c, s.app.CountStock(c.Request.Context(), n), "stock", "sort", "name", "number", "note")
}
