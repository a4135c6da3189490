package logbook

import (
	"encoding/json"
	"errors"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/check"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/web/ui"
)

// undoView is the last thing that somebody did, and where it is taken back.
type undoView struct {
	Last   *ledger.OwnEntry // nil for nothing
	Form   *undoForm        // by which it is taken back at once; nil for none
	Href   string           // else where that is done; "" for nowhere
	Itself bool             // it was a taking back
	Named  bool             // it is not the last, but one that was chosen
	Typed  map[string]string
}

// undoForm is the form of a sheet that takes one thing back.
type undoForm struct {
	Route, Action string // of the sheet; its address
	Hidden        []ui.Named
	Reason, By    bool     // what it asks
	Reasons       []string // to choose from; nil: in words of one's own
}

// things are kinds of entries that made something which is put right, by its kind there.
var things = map[string]string{
	"assembly": "assembly", "setup": "setup", "check": "check", "hold": "hold", "row": "row", "part": "part", "stock": "stock", "notice": "notice", "material": "material",
	"order": "order", "plan-step": "step", "plan-visit": "visit", "plan-stage": "stage", "question": "question", "work": "session", "instrument": "instrument", "clock": "clock", "airframe": "airframe", "aircraft": "airframe",
}

// backs are kinds that take something back themselves.
var backs = map[string]bool{"bay-mistaken": true, "step-mistaken": true, "photo-mistaken": true, "proof-mistaken": true, "taken-back": true, "holes-undone": true, "event-mistaken": true, "put-right": true, "withdrawal": true}

// undone finds how the last thing is taken back.
func (s sheets) undone(c *gin.Context, v *undoView) error {
	request := map[string]any{}
	if err := json.Unmarshal(v.Last.Request, &request); err != nil {
		return err
	}
	asked := func(key string) string {
		id, _ := request[key].(string)
		return id
	}
	switch kind := v.Last.Kind; {
	case backs[kind]:
		v.Itself = true
	case kind == "reading":
		setup, err := s.Measuring.SetupOf(c.Request.Context(), asked("check"))
		if err != nil {
			return err
		}
		v.Form = &undoForm{Route: "POST /setups/:id/take-back", Action: "/setups/" + setup + "/take-back", Hidden: []ui.Named{{Name: "check", Value: asked("check")}, {Name: "reading", Value: v.Last.ID}}, Reason: true, Reasons: check.Reasons}
	case kind == "event":
		var f struct{ State int64 }
		if err := json.Unmarshal(v.Last.Facts, &f); err != nil {
			return err
		}
		v.Form = &undoForm{Route: "POST /setups/:id/not-moved", Action: "/setups/" + asked("setup") + "/not-moved", Hidden: []ui.Named{{Name: "state", Value: strconv.FormatInt(f.State, 10)}}, Reason: true, By: true}
	case kind == "holes":
		v.Form = &undoForm{Route: "POST /rows/:id/undo", Action: "/rows/" + asked("row") + "/undo", Hidden: []ui.Named{{Name: "undoes", Value: v.Last.ID}}, By: true}
	case overview.Retractable(kind):
		v.Form = &undoForm{Route: "POST /undo", Action: "/undo", Hidden: []ui.Named{{Name: "entry", Value: v.Last.ID}, {Name: "back", Value: s.cameFrom(c)}}, Reason: true, By: true}
	case kind == "release":
		v.Href = "/holds/" + asked("hold")
	case things[kind] != "":
		v.Href = "/right/" + things[kind] + "?id=" + url.QueryEscape(v.Last.ID)
	}
	return nil
}

// undo shows the last thing that somebody did, or an entry that is named.
func (s sheets) undo(c *gin.Context) { s.showUndo(c, c.Query("entry"), ui.Refused{}) }

// cameFrom is the sheet from which something is to be taken back: it is shown again afterwards; the log
// where that is not known.
func (s sheets) cameFrom(c *gin.Context) string {
	if back := c.PostForm("back"); back != "" {
		return ui.Within(back)
	}
	from, err := url.Parse(c.Request.Referer())
	if err != nil || from.Host != c.Request.Host || from.Path == "" || from.Path == c.Request.URL.Path {
		return "/log"
	}
	return ui.Within(strings.TrimPrefix(from.Path, s.Base))
}

// takeBack takes back an entry that has no sheet of its own on which that is done.
func (s sheets) takeBack(c *gin.Context) {
	var n ledger.Mistaken
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.Retract(c.Request.Context(), n)
	}
	s.Done(c, err, ui.Back(c), func(r ui.Refused) { s.showUndo(c, n.Entry, r) })
}

func (s sheets) showUndo(c *gin.Context, entry string, r ui.Refused) {
	v := undoView{Named: entry != "", Typed: r.Typed}
	last, err := s.Ledger.LastOwn(c.Request.Context())
	if v.Named {
		last, err = s.Ledger.ByID(c.Request.Context(), entry)
	}
	if v.Named && err != nil {
		s.Fail(c, err)
		return
	}
	if !errors.Is(err, ledger.ErrNotFound) {
		if err == nil {
			v.Last = &last
			err = s.undone(c, &v)
		}
		if err != nil && !errors.Is(err, ledger.ErrNotFound) { // what it was of is gone
			s.Fail(c, err)
			return
		}
	}
	p := s.Page(c, "log", "Undo", v, ui.Footing{Label: "sheet", Text: "L 4"})
	p.Unit, p.Problem = s.ShopUnit(c.Request.Context()), r.Wrong
	s.Render(c, r.Status, "undo", p)
}
