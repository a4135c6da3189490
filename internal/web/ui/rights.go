package ui

import (
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/account"
	"orpine/internal/ledger"
)

// routes is the table of rights: what each route asks for, and nothing else is let through. A
// route that has two may be used with either; its form then asks which it was (see SignedAnswer).
var routes = map[account.Right][]string{
	account.Open: {
		"GET /assets/*file", "GET /sign-in", "POST /sign-in", "POST /sign-in/code", "GET /welcome", "POST /welcome",
		"GET /trust", "GET /trust/authority.crt", "GET /trust/sheet.pdf", "GET /manifest.webmanifest", "POST /sheet", "POST /figures",
	},
	account.Own: {"POST /sign-out", "GET /me", "POST /me/password", "POST /me/out"},
	account.See: {
		"GET /", "GET /sheets", "GET /airframes/:id", "GET /airframes/:id/book.pdf", "GET /airframes/:id/labels.pdf", "GET /assemblies/:id", "GET /undo", "GET /assemblies/:id/record", "GET /assemblies/:id/history", "GET /assemblies/:id/history.csv", "GET /instruments/:id/zero.csv", "GET /assemblies/:id/rows",
		"GET /bays/:id", "GET /cures", "GET /echo", "GET /files", "GET /files/csv/:name", "GET /find", "GET /guide", "GET /guide/:page", "GET /guide/words", "GET /holds", "GET /holds/:id", "GET /holds/:id/sheet.pdf",
		"GET /hours", "GET /hours.csv", "GET /instruments", "GET /instruments/:id/live", "GET /joins", "GET /log", "GET /measure", "GET /measure/:kind", "GET /measure/:kind/as-if", "GET /work-out/:kind", "GET /money", "GET /order", "GET /order.ics", "GET /order/band", "GET /order/network",
		"GET /order/plan.json", "GET /order/visits/:id", "GET /order/visits/:id/page.pdf", "GET /paper", "GET /paper/blank.pdf", "GET /paper/board", "POST /paper/board", "GET /paper/discs.pdf", "GET /paper/scaled",
		"GET /photos/:id", "GET /photos/:id/thumb", "GET /questions", "GET /resume", "GET /rows", "GET /rows/:id", "GET /rows/:id/holes.csv", "GET /rows/:id/map.pdf", "GET /rows/:id/plan", "GET /rows/:id/strip.pdf",
		"GET /setups", "GET /setups/:id", "GET /setups/:id/live", "GET /rows/:id/live", "GET /setups/:id/as-if", "GET /setups/:id/card", "GET /setups/:id/card.pdf", "GET /setups/:id/checks/:check", "GET /setups/:id/worksheet.json", "GET /slips", "GET /stores",
		"GET /api/v1", "GET /api/v1/journal", "GET /api/v1/tables/:name", "GET /api/v1/setups/:id/worksheet", "POST /work-out/:kind",
		"GET /exercises", "GET /attempts/:id", "POST /attempts/:id/decide", "POST /exercises/:exercise/begin", "POST /log/check",
	},
	account.Work: {
		"POST /setups/:id/readings", "POST /setups/:id/take-back", "POST /setups/:id/moved", "POST /setups/:id/not-moved", "POST /setups/:id/lies", "POST /holds/:id/fact", "POST /rows/:id/fact", "POST /facts", "POST /setups/:id/zero", "POST /setups/:id/card", "POST /setups/:id/warmth", "POST /setups/:id/held",
		"POST /undo", "POST /rows/:id/holes", "POST /rows/:id/several", "POST /rows/:id/undo", "POST /looks", "POST /photos", "POST /slips", "POST /slips/:id",
		"POST /work", "POST /airframes/:id/work", "POST /airframes/:id/work-ended", "POST /bays/:id/counts", "POST /bays/:id/ticked", "POST /bays/:id/done", "POST /bays/:id/placed",
		"POST /airframes/:id/clocks", "POST /airframes/:id/clocks/:clock/pass", "POST /airframes/:id/clocks/:clock/end", "POST /airframes/:id/came", "POST /airframes/:id/questions",
		"POST /instruments/:id/test", "POST /instruments/:id/proofs", "POST /parts/:id", "POST /measure/:kind", "GET /level", "POST /level", "POST /notices/:id/found", "POST /lots", "POST /lots/holes",
	},
	account.Sign: {"POST /looks", "POST /holds/:id/release", "POST /airframes/:id/questions/:question/answer", "POST /airframes/:id/questions"},
	account.Make: {
		"GET /assemblies/:id/holds/new", "GET /assemblies/:id/rows/list", "GET /assemblies/:id/rows/new", "GET /assemblies/:id/rows/preview", "GET /assemblies/:id/usual/:usual", "GET /begin/:planform", "GET /holds/:id/like", "GET /order/usual", "GET /right/:kind", "GET /setups/:id/checks/new", "GET /setups/:id/like",
		"POST /airframes", "POST /airframes/:id/ask-supplier", "POST /airframes/:id/assemblies", "POST /airframes/:id/else", "POST /airframes/:id/hours-in", "POST /airframes/:id/materials", "POST /airframes/:id/money", "POST /airframes/:id/order", "POST /airframes/:id/orders", "POST /airframes/:id/paid",
		"POST /airframes/:id/questions/:question/answer", "POST /airframes/:id/schools", "POST /airframes/:id/split", "POST /airframes/:id/stages", "POST /airframes/:id/step", "POST /airframes/:id/steps", "POST /airframes/:id/usual", "POST /airframes/:id/visits", "POST /airframes/:id/week", "POST /airframes/:id/away",
		"POST /assemblies/:id/holds", "POST /assemblies/:id/like", "POST /assemblies/:id/rows", "POST /assemblies/:id/rows/list", "POST /assemblies/:id/setups", "POST /assemblies/:id/usual/:usual", "POST /bays/:id/opened", "POST /bays/:id/tasks", "POST /begin/:planform",
		"POST /holds/:id/after", "POST /holds/:id/like", "POST /holds/:id/release", "POST /holds/:id/step", "POST /holds/:id/withdraw", "POST /instruments", "POST /notices", "POST /order/visits/:id", "POST /parts", "POST /right/:kind",
		"POST /rows/:id/barrier", "POST /rows/:id/plan", "POST /setups/:id/checks", "POST /setups/:id/checks/:check", "POST /setups/:id/checks/:check/confirm", "POST /setups/:id/checks/:check/sizes", "POST /setups/:id/checks/:check/limit", "POST /setups/:id/checks/:check/places", "POST /setups/:id/checks/:check/points", "POST /setups/:id/keep", "POST /setups/:id/like", "POST /stock",
	},
	account.Keep: {
		"GET /people", "POST /people", "POST /people/:id", "POST /people/:id/code", "POST /people/:id/out", "POST /instruments/:id/connect", "POST /instruments/:id/disconnect",
		"GET /files/aircraft/:id", "GET /files/workshop.zip", "POST /files/archive", "POST /files/archive/take", "POST /files/plan", "POST /files/table", "POST /files/worksheet", "POST /files/copy",
	},
}

// asks are the rights that let one use a route, by method and path.
var asks = func() map[string][]account.Right {
	out := map[string][]account.Right{}
	for right, list := range routes {
		for _, route := range list {
			out[route] = append(out[route], right)
		}
	}
	return out
}()

// Asks tells what a route asks for; nil for one that nobody may use.
func Asks(method, path string) []account.Right { return asks[method+" "+path] }

// allow lets through whom the table of rights names, in a shop with accounts.
func (u *UI) allow(c *gin.Context) {
	seat, guarded := account.Sitting(c.Request.Context())
	if !guarded {
		return
	}
	wanted := Asks(c.Request.Method, strings.TrimPrefix(c.FullPath(), u.Base))
	switch {
	case slices.Contains(wanted, account.Open):
	case seat.Person == nil:
		u.signIn(c)
	case c.FullPath() == "": // to be told that there is nothing
	case u.Base != "" && len(wanted) > 0 && !slices.Contains(wanted, account.Keep): // nothing that is kept
		c.Request = c.Request.WithContext(account.Playing(c.Request.Context()))
		u.sign(c, seat)
	case !seat.Role.May(wanted...):
		u.refuse(c, seat)
	default:
		u.sign(c, seat)
	}
}

// signIn asks who it is; a form that was sent stays with the browser.
func (u *UI) signIn(c *gin.Context) {
	if c.Request.Method == http.MethodGet && !HTMX(c) {
		c.Redirect(http.StatusSeeOther, "/sign-in?back="+url.QueryEscape(c.Request.URL.RequestURI()))
		c.Abort()
		return
	}
	u.Render(c, http.StatusUnauthorized, "error", u.Page(c, "", "You are not signed in", failure{What: "You are not signed in", Next: "Nothing was stored. Sign in in another tab, then send this once more: what you typed is still where you typed it."}))
	c.Abort()
}

// refuse says that it is not theirs to do.
func (u *UI) refuse(c *gin.Context, seat account.Seat) {
	u.Render(c, http.StatusForbidden, "error", u.Page(c, "", "Not yours to do", failure{What: "Not yours to do", Next: "You are here as " + string(seat.Role) + ", " + seat.Name + ". A builder may do it, or make you something else under People."}))
	c.Abort()
}

// streamed are the routes that read their form themselves, part by part, and put the name in it.
var streamed = []string{"/photos", "/files/archive"}

// sign puts the name of the account wherever a form says by whom, whatever was typed.
func (u *UI) sign(c *gin.Context, seat account.Seat) {
	kind, _, _ := strings.Cut(c.ContentType(), ";")
	if c.Request.Method != http.MethodPost || slices.Contains(streamed, strings.TrimPrefix(c.FullPath(), u.Base)) {
		return
	}
	var err error
	if kind == "multipart/form-data" {
		err = c.Request.ParseMultipartForm(8 << 20)
	} else {
		err = c.Request.ParseForm()
	}
	if err != nil { // it is refused where it is read
		return
	}
	names := []string{"by"}
	if seat.Role != account.Builder && c.Request.PostForm.Has("who") && len(c.Request.PostForm["who"]) == 1 {
		names = append(names, "who") // a builder writes down the hours of others, too
	}
	for _, name := range names {
		c.Request.PostForm.Set(name, seat.Name)
		c.Request.Form.Set(name, seat.Name)
	}
}

// Signed is who is signed in; nil where nobody is, or nobody need be.
func Signed(c *gin.Context) *account.Person {
	seat, _ := account.Sitting(c.Request.Context())
	return seat.Person
}

// SignOff asks for the password once more before what is signed, where there are accounts. A
// Problem is at "password".
func (u *UI) SignOff(c *gin.Context) error {
	if seat, guarded := account.Sitting(c.Request.Context()); guarded && u.Reenter != nil {
		return u.Reenter(c.Request.Context(), seat, c.PostForm("password"))
	}
	return nil
}

// SignedAnswer says who answers with authority: an inspector signs with their own account, and
// nobody else with an inspector's name. A Problem is at "answered_by".
func (u *UI) SignedAnswer(c *gin.Context, typed string) (string, error) {
	who := Signed(c)
	switch {
	case who == nil || u.Inspector == nil:
		return typed, nil
	case who.Role == account.Inspector:
		return who.Name, nil
	case u.Inspector(c.Request.Context(), typed):
		return typed, ledger.Problems{"answered_by": strings.TrimSpace(typed) + " signs with an account of their own: let them sign in and answer here"}
	}
	return typed, nil
}

// may tells whether whoever looks at a page may use a route: asked where its form is drawn.
func (u *UI) may(p Page, route string) (bool, error) {
	rights, ok := asks[route]
	switch {
	case !ok:
		return false, fmt.Errorf("no route %q is in the table of rights", route)
	case p.Account == nil || u.Base != "": // nobody need be signed in; nothing here is kept
		return true, nil
	}
	return p.Account.Role.May(rights...), nil
}

// signedAs is the name that deeds on a page carry, "" where it is typed.
func signedAs(p Page) string {
	if p.Account == nil {
		return ""
	}
	return p.Account.Name
}

// answersAs is the name that an answer with authority carries: an inspector's own; "" where it is typed.
func answersAs(p Page) string {
	if p.Account == nil || p.Account.Role != account.Inspector {
		return ""
	}
	return p.Account.Name
}

// AllAsked are the routes of the table.
func AllAsked() []string { return slices.Sorted(maps.Keys(asks)) }
