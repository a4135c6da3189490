package account

import (
	"context"
	"embed"
	"encoding/pem"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/account"
	"orpine/internal/ledger"
	"orpine/internal/paper"
	"orpine/internal/web/drawing"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct {
	*ui.UI
	door *Door
}

// Routes registers the door's sheets.
func (d *Door) Routes(u *ui.UI) {
	s := sheets{u, d}
	u.Reenter, u.Inspector, u.Origin, u.HasDoor, u.Seated = d.reenter, d.inspects, d.origin, true, d.seated
	u.Func("trustSteps", func() []string { return Steps })
	u.Pages(templates)
	u.GET("/sign-in", func(c *gin.Context) { s.showSignIn(c, ui.Refused{}) })
	u.POST("/sign-in", s.signIn)
	u.POST("/sign-in/code", s.signInByCode)
	u.POST("/sign-out", s.signOut)
	u.GET("/welcome", func(c *gin.Context) { s.showWelcome(c, ui.Refused{}) })
	u.POST("/welcome", s.begin)
	u.GET("/me", func(c *gin.Context) { s.showMe(c, ui.Refused{}) })
	u.POST("/me/password", s.setPassword)
	u.POST("/me/out", s.outEverywhere)
	u.GET("/people", func(c *gin.Context) { s.showPeople(c, given{}, ui.Refused{}) })
	u.POST("/people", s.add)
	u.POST("/people/:id", s.change)
	u.POST("/people/:id/code", s.giveCode)
	u.POST("/people/:id/out", s.out)
	u.GET("/trust", s.trust)
	u.GET("/trust/authority.crt", s.certificate)
	u.GET("/trust/sheet.pdf", s.trustSheet)
}

// back is where one wanted to go before signing in; only this program's own pages.
func back(to string) string {
	if strings.HasPrefix(to, "/sign-in") {
		return "/"
	}
	return ui.Within(to)
}

type signInView struct {
	Back, Code, Name string
	By               string // code or password
}

func (s sheets) showSignIn(c *gin.Context, r ui.Refused) {
	empty, err := s.door.Empty(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	if empty {
		c.Redirect(http.StatusSeeOther, "/welcome")
		return
	}
	v := signInView{Back: back(c.Query("back")), Code: c.Query("code"), By: r.Of}
	if r.Typed != nil {
		v = signInView{back(r.Typed["back"]), r.Typed["code"], r.Typed["name"], r.Of}
	}
	p := s.Page(c, "", "Sign in", v, ui.Footing{Label: "sheet", Text: "D 1"})
	p.Problem = r.Wrong
	s.Render(c, r.Status, "sign-in", p)
}

// byCode is what a session that a code began knows of itself: a password may be set once without
// the one before.
const byCode = "by code"

// entered goes on after someone was let in.
func (s sheets) entered(c *gin.Context, person string, err error, of string) {
	ctx := c.Request.Context()
	if err == nil {
		err = s.door.signIn(ctx, person)
	}
	if err == nil {
		err = s.door.known(c.Writer, c.Request, person)
	}
	to := back(c.PostForm("back"))
	if err == nil && of == "code" {
		manager(ctx).Put(ctx, byCode, true)
		if who, missing := s.door.Here(ctx, person); missing == nil && who.Role.May(account.Sign) {
			to = "/me?from=" + url.QueryEscape(to) // what they sign is signed with it
		}
	}
	s.Done(c, err, to, func(r ui.Refused) { r.Of = of; s.showSignIn(c, r) })
}

var errTooOften = ledger.Problems{"": "tried too often from here, or for this name: wait a minute"}

func (s sheets) signIn(c *gin.Context) {
	ctx, name := c.Request.Context(), c.PostForm("name")
	who, err := s.door.Named(ctx, name)
	id := ""
	if err == nil {
		id = who.ID
	} else if !errors.Is(err, ledger.ErrNotFound) {
		s.Fail(c, err)
		return
	}
	if !s.door.allowed(c.Request, name, id) {
		s.entered(c, "", errTooOften, "password")
		return
	}
	is, err := s.door.Is(ctx, id, c.PostForm("password"))
	if err == nil && !is {
		err = ledger.Problems{"password": "name and password do not belong together. A builder can give you a code"}
	}
	s.entered(c, id, err, "password")
}

func (s sheets) signInByCode(c *gin.Context) {
	ctx := c.Request.Context()
	if !s.door.allowed(c.Request, "", "") {
		s.entered(c, "", errTooOften, "code")
		return
	}
	id, err := s.door.UseCode(ctx, c.PostForm("code"))
	if errors.Is(err, account.ErrCode) || err == nil && id == "" {
		err = ledger.Problems{"code": account.ErrCode.Error()}
	}
	s.entered(c, id, err, "code")
}

func (s sheets) signOut(c *gin.Context) {
	err := manager(c.Request.Context()).Destroy(c.Request.Context())
	s.Done(c, err, "/sign-in", nil)
}

type welcomeView struct {
	Coded bool // a code is asked for: it came from the network, or may
	Typed map[string]string
}

func (s sheets) showWelcome(c *gin.Context, r ui.Refused) {
	empty, err := s.door.Empty(c.Request.Context())
	switch {
	case err != nil:
		s.Fail(c, err)
		return
	case !empty:
		c.Redirect(http.StatusSeeOther, "/sign-in")
		return
	}
	p := s.Page(c, "", "The first builder", welcomeView{s.door.Authority != nil, r.Typed}, ui.Footing{Label: "sheet", Text: "D 2"})
	p.Problem = r.Wrong
	s.Render(c, r.Status, "welcome", p)
}

// begin makes the first builder. On this machine alone whoever sits at it is; from the network it
// takes the code that the console shows.
func (s sheets) begin(c *gin.Context) {
	n := account.NewPerson{}
	err := ui.Bind(c, &n)
	if err == nil && len([]rune(c.PostForm("password"))) < account.LeastPassword {
		err = ledger.Problems{"password": fmt.Sprintf("at least %d characters: three words are easier to keep than eight signs", account.LeastPassword)}
	}
	ctx := c.Request.Context()
	if err == nil && strings.TrimSpace(n.Name) == "" {
		err = ledger.Problems{"name": "what are you called?"}
	}
	if err == nil && s.door.Authority != nil {
		if !s.door.allowed(c.Request, "", "") {
			err = errTooOften
		} else if of, wrong := s.door.Whose(ctx, c.PostForm("code")); wrong != nil || of != "" { // it is spent when all else is right
			err = ledger.Problems{"code": "is not the one that the console shows: it is good for ten minutes and once. Start Orpine again for another"}
		}
	}
	if err == nil {
		err = s.door.Begin(ctx, n)
	}
	if err == nil && s.door.Authority != nil {
		_, err = s.door.UseCode(ctx, c.PostForm("code"))
	}
	if err == nil {
		err = s.door.SetPassword(ctx, n.ID, c.PostForm("password"))
	}
	if err == nil && manager(ctx) != nil {
		err = s.door.signIn(ctx, n.ID)
	}
	s.Done(c, err, "/people", func(r ui.Refused) { s.showWelcome(c, r) })
}

type meView struct {
	Has   bool
	Coded bool // a code let them in, so that the one before is not asked
	Must  bool // what they sign is signed with it
	Back  string
}

func (s sheets) showMe(c *gin.Context, r ui.Refused) {
	who := ui.Signed(c)
	if who == nil {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	has, err := s.door.HasPassword(c.Request.Context(), who.ID)
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := meView{has, s.coded(c.Request.Context()), who.Role.May(account.Sign), back(c.Query("from"))}
	if r.Typed != nil {
		v.Back = back(r.Typed["back"])
	}
	p := s.Page(c, "", who.Name, v, ui.Footing{Label: "here as", Text: string(who.Role)}, ui.Footing{Label: "sheet", Text: "D 3"})
	p.Problem = r.Wrong
	s.Render(c, r.Status, "me", p)
}

func (s sheets) setPassword(c *gin.Context) {
	ctx, who := c.Request.Context(), ui.Signed(c)
	if who == nil {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	has, err := s.door.HasPassword(ctx, who.ID)
	coded := s.coded(ctx)
	if err == nil && has && !coded {
		err = s.door.reenter(ctx, account.Seat{Person: who}, c.PostForm("before"))
		var wrong ledger.Problems
		if errors.As(err, &wrong) {
			err = ledger.Problems{"before": wrong["password"]}
		}
	}
	if err == nil {
		err = s.door.SetPassword(ctx, who.ID, c.PostForm("password"))
	}
	if err == nil && has && coded { // it was lost; once, and the log says so
		manager(ctx).Remove(ctx, byCode)
		err = s.door.Replaced(ctx, account.PasswordReplaced{Form: ledger.Form{ID: c.PostForm("id")}, Person: who.ID, By: who.Name})
	}
	if err == nil && has { // whoever knew the old one is out
		err = s.renew(ctx, who.ID)
	}
	s.Done(c, err, back(c.PostForm("back")), func(r ui.Refused) { s.showMe(c, r) })
}

// coded tells whether a code began the session, and no password was set in it yet.
func (s sheets) coded(ctx context.Context) bool {
	m := manager(ctx)
	return m != nil && m.GetBool(ctx, byCode)
}

// renew ends all sessions of someone but the one in hand.
func (s sheets) renew(ctx context.Context, id string) error {
	if err := s.door.SignOutEverywhere(ctx, id); err != nil {
		return err
	}
	return s.door.signIn(ctx, id)
}

func (s sheets) outEverywhere(c *gin.Context) {
	who := ui.Signed(c)
	if who == nil {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	s.Done(c, s.door.SignOutEverywhere(c.Request.Context(), who.ID), "/sign-in", nil)
}

// given is a code that was just given.
type given struct {
	To   string // id
	Code string
	QR   template.HTML
	URL  string
}

type peopleView struct {
	People  []account.Person
	Roles   any
	Given   given
	Typed   map[string]string
	Of      string
	Origins []string
	Me      string
	Alone   bool
}

func (s sheets) showPeople(c *gin.Context, g given, r ui.Refused) {
	people, err := s.door.People(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	v := peopleView{People: people, Roles: account.Roles, Given: g, Typed: r.Typed, Of: r.Of, Origins: s.door.Origins(), Alone: len(people) == 0}
	if who := ui.Signed(c); who != nil {
		v.Me = who.ID
	}
	p := s.Page(c, "people", "People", v, ui.Footing{Label: "people", Text: fmt.Sprint(len(people))}, ui.Footing{Label: "sheet", Text: "D 4"})
	p.Path, p.Problem = "/people", r.Wrong
	s.Render(c, r.Status, "people", p)
}

func (s sheets) add(c *gin.Context) {
	n := account.NewPerson{}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.door.Add(c.Request.Context(), n)
	}
	s.Done(c, err, "/people", func(r ui.Refused) { s.showPeople(c, given{}, r) })
}

func (s sheets) change(c *gin.Context) {
	n := account.PersonChanged{Person: c.Param("id")}
	err := ui.Bind(c, &n)
	if err == nil {
		err = s.door.Change(c.Request.Context(), n)
	}
	s.Done(c, err, "/people", func(r ui.Refused) {
		r.Of = n.Person
		s.showPeople(c, given{}, r)
	})
}

// giveCode shows a code that lets someone in, once. It is shown in the answer and nowhere else.
func (s sheets) giveCode(c *gin.Context) {
	ctx, id := c.Request.Context(), c.Param("id")
	if _, err := s.door.Here(ctx, id); err != nil {
		s.Fail(c, err)
		return
	}
	code, err := s.door.Code(ctx, id)
	if err != nil {
		s.Fail(c, err)
		return
	}
	g := given{To: id, Code: code[:4] + " " + code[4:]}
	if origin := s.door.origin(); origin != "" {
		g.URL = origin + "/sign-in?code=" + code
		dots, err := paper.Dots(g.URL)
		if err != nil {
			s.Fail(c, err)
			return
		}
		g.QR = drawing.Code(dots, "sign in")
	}
	s.showPeople(c, g, ui.Refused{})
}

func (s sheets) out(c *gin.Context) {
	s.Done(c, s.door.SignOutEverywhere(c.Request.Context(), c.Param("id")), "/people", nil)
}

type trustView struct {
	Fingerprint []string // in lines
	Origins     []string
	QR          template.HTML
	Until       string
	Lan         bool
}

func (s sheets) trustView() (v trustView, err error) {
	if s.door.Authority == nil {
		return v, nil
	}
	pairs := strings.Fields(s.door.Authority.Fingerprint())
	for len(pairs) > 0 {
		v.Fingerprint, pairs = append(v.Fingerprint, strings.Join(pairs[:8], " ")), pairs[8:]
	}
	v.Lan, v.Origins, v.Until = true, s.door.Origins(), s.door.Authority.Certificate.NotAfter.Format("2 January 2006")
	if len(v.Origins) > 0 {
		dots, err := paper.Dots(v.Origins[0] + "/trust")
		if err != nil {
			return v, err
		}
		v.QR = drawing.Code(dots, "to this page")
	}
	return v, nil
}

func (s sheets) trust(c *gin.Context) {
	v, err := s.trustView()
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Render(c, 0, "trust", s.Page(c, "", "Let a phone trust this shop", v, ui.Footing{Label: "sheet", Text: "D 5"}))
}

func (s sheets) certificate(c *gin.Context) {
	if s.door.Authority == nil {
		s.Fail(c, ledger.ErrNotFound)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="orpine-shop.crt"`)
	c.Data(http.StatusOK, "application/x-x509-ca-cert", pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: s.door.Authority.Certificate.Raw}))
}

func (s sheets) trustSheet(c *gin.Context) {
	v, err := s.trustView()
	if err == nil && !v.Lan {
		err = ledger.ErrNotFound
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	h := s.Heading("Let a phone trust this shop", strings.Join(v.Origins, "  "), "", "/trust")
	data, err := paper.Trust{Heading: h, Fingerprint: v.Fingerprint, Until: v.Until, Steps: Steps}.Print(ui.PaperSize(c))
	s.PDF(c, "trust", data, err)
}

// Steps are what one does on a phone, once.
var Steps = []string{
	"Join the shop's network, and open the code on this sheet with the phone's camera. The phone warns that it does not know this shop: go on all the same, this once.",
	"Take the shop's certificate from that page.",
	"In the phone's settings look for “certificate”, and install what you took as one that vouches for sites. Some phones want it switched on afterwards, under the trusted ones.",
	"Compare the fingerprint that the phone shows with the one on this sheet. If a single pair differs, do not trust it, and tell whoever runs the shop.",
	"Open the shop's address again. The warning is gone; if it is not, something else answers there.",
}
