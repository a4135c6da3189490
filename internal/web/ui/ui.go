// Package ui is what the sheets share: the page around each, how a form is read, shown
// again with what is wrong, and answered. A sheet of a capability registers its pages
// and routes with it.
package ui

import (
	"bytes"
	"cmp"
	"context"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"maps"
	"net/http"
	"net/url"
	"path"
	"reflect"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"
	"unicode"

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"
	"github.com/gin-gonic/gin/binding"
	"github.com/google/uuid"

	"orpine/internal/account"
	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/core/slip"
	"orpine/internal/finding"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/planning"
	"orpine/internal/web/drawing"
	"orpine/internal/web/kinds"
)

//go:embed templates/*.html
var shared embed.FS

//go:embed assets
var assetFiles embed.FS

// UI is one workshop's interface.
type UI struct {
	*overview.Workshop
	Base string // the prefix of every address, "" for none

	// Practising tells what is practised now, in the trainer's workshop; nil elsewhere.
	Practising func(c *gin.Context) *Practising
	// Trainer is where one practises; "" where there is none.
	Trainer string
	// Reenter compares a password that is asked for once more with whose it is, and Inspector tells
	// whether a name is an inspector's; nil where there are no accounts.
	Reenter   func(ctx context.Context, seat account.Seat, password string) error
	Inspector func(ctx context.Context, name string) bool
	// Origin is how a phone reaches the shop, as https://192.168.7.20:8443; "" where none can.
	Origin func() string
	// Seated tells whether who once signed in still is; nil where there are no accounts.
	Seated func(ctx context.Context, seat account.Seat) bool
	// HasDoor tells that there are sheets to sign in, and of people.
	HasDoor bool

	others   Others
	drawings drawings
	drawers  sync.Map     // of templates, by drawer
	shop     atomic.Value // string: see Shop
	log      *slog.Logger
	build    string
	stamp    string // of the assets, so that a browser keeps them until they change
	pages    map[string]*template.Template
	shows    map[string]Show

	Findables []finding.Doc    // beside the record
	more      template.FuncMap // of sheets
	limits    map[string]int64 // of a form, by its route, where it may be large
	engine    *gin.Engine
	group     *gin.RouterGroup
	err       error
}

// LookAt is the prefix of the shop to look round in, which is thrown away with the program.
const LookAt = "/look"

// PracticeAt is the prefix of the trainer's workshop, and TrainerPath its first sheet.
const (
	PracticeAt  = "/practice"
	TrainerPath = PracticeAt + "/exercises"
)

// Practising is the exercise in hand; its zero value is none.
type Practising struct{ Title, Task, Attempt, Path, Verb, Step string }

// Show shows a page, by what its address names; a refused form with what was typed.
type Show func(c *gin.Context, id string, r Refused)

// Refused is a form that was refused. Its zero value is a page that is opened.
type Refused struct {
	Status int
	Wrong  ledger.Problems
	Typed  map[string]string
	Of     string // which of a page's forms it is
}

// New returns the interface of a workshop under a prefix, without any sheet.
func New(w *overview.Workshop, log *slog.Logger, build, prefix string) *UI {
	u := &UI{Workshop: w, Base: strings.TrimSuffix(prefix, "/"), log: log, build: build, pages: map[string]*template.Template{}, shows: map[string]Show{}, more: template.FuncMap{}, limits: map[string]int64{}}
	u.err = u.stampAssets()
	gin.SetMode(gin.ReleaseMode)
	u.engine = gin.New()
	u.engine.HandleMethodNotAllowed = true
	u.engine.Use(gzip.Gzip(gzip.DefaultCompression, gzip.WithExcludedExtensions([]string{".woff2", ".png", ".pdf", ".zip"}), gzip.WithExcludedPathsRegexs([]string{"/live$", "/photos/"})), u.identify, u.recover, u.protect, u.allow)
	u.group = u.engine.Group(u.Base)
	u.Pages(shared)
	u.serveAssets()
	u.group.POST("/sheet", u.chooseSheet)
	u.group.GET("/sheets", u.allSheets)
	u.group.POST("/figures", u.chooseFigures)
	u.engine.NoRoute(func(c *gin.Context) { u.Fail(c, ledger.ErrNotFound) })
	u.engine.NoMethod(func(c *gin.Context) { u.Fail(c, ledger.ErrNotFound) })
	return u
}

// Routes are all that are registered, as METHOD PATH.
func (u *UI) Routes() (out []string) {
	for _, r := range u.engine.Routes() {
		if r.Method != http.MethodHead {
			out = append(out, r.Method+" "+strings.TrimPrefix(r.Path, u.Base))
		}
	}
	return out
}

// Handler returns the whole interface once its sheets are registered. It refuses
// requests that another site makes in a visitor's name.
func (u *UI) Handler() (http.Handler, error) {
	if u.err != nil {
		return nil, u.err
	}
	return http.NewCrossOriginProtection().Handler(headed(u.engine)), nil
}

// headed answers HEAD as GET, without what it would send: a calendar looks so whether there is
// something new. What goes on for ever is left out.
func headed(h http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead && !strings.HasSuffix(r.URL.Path, "/live") {
			asked := r.Clone(r.Context())
			asked.Method = http.MethodGet
			r = asked
		}
		h.ServeHTTP(w, r)
	})
}

// GET registers a page.
func (u *UI) GET(path string, h gin.HandlerFunc) { u.group.GET(path, h) }

// POST registers a form.
func (u *UI) POST(path string, h gin.HandlerFunc) { u.group.POST(path, h) }

// LargePOST registers a form that may be larger than others, up to so many bytes.
func (u *UI) LargePOST(path string, most int64, h gin.HandlerFunc) {
	u.limits[u.Base+path] = most
	u.group.POST(path, h)
}

// Func registers a function of a sheet's templates, before its pages.
func (u *UI) Func(name string, f any) { u.more[name] = f }

// sheetList are all sheets, for a phone that has no room for their tabs.
var sheetList = []Named{{Name: "/", Label: "Airframe"}, {Name: "/measure", Label: "Measure now"}, {Name: "/setups", Label: "Setup"}, {Name: "/joins", Label: "Join"}, {Name: "/holds", Label: "Holds"}, {Name: "/rows", Label: "Rows"},
	{Name: "/order", Label: "Order of work"}, {Name: "/hours", Label: "Hours"}, {Name: "/questions", Label: "Questions"}, {Name: "/cures", Label: "Coats and cures"}, {Name: "/money", Label: "Orders and money"}, {Name: "/find", Label: "Find a part"}, {Name: "/stores", Label: "Stores"}, {Name: "/log", Label: "Log"}, {Name: "/slips", Label: "Slips"}, {Name: "/instruments", Label: "Instruments"}, {Name: "/paper", Label: "Paper"}, {Name: "/files", Label: "Files"}, {Name: "/guide", Label: "Guide"}}

// Named is a field of a form.
type Named struct {
	Name, Value, Label, Like, Problem string
	Head                              string   // of its column
	Words                             []string // to choose from
}

// mostRows is how many rows of a list are read.
const mostRows = 200

// TypedRows gathers the rows of a list, a row of fields for each item, into lines of
// columns.
func TypedRows(c *gin.Context, name string, columns int) string {
	read := c.GetPostForm
	if c.Request.Method == http.MethodGet {
		read = c.GetQuery
	}
	var lines []string
	for i := range mostRows {
		cells, filled := make([]string, columns), false
		for j := range columns {
			text, there := read(fmt.Sprintf("%s.%d.%d", name, i, j))
			if !there && j == 0 {
				return strings.Join(lines, "\n")
			}
			cells[j] = strings.TrimSpace(text)
			filled = filled || cells[j] != ""
		}
		if filled {
			lines = append(lines, strings.TrimRight(strings.Join(cells, "; "), "; "))
		}
	}
	return strings.Join(lines, "\n")
}

// Shows registers the page at /NAME/ID, so that a form that stands on it and belongs to
// another sheet can be shown again there.
func (u *UI) Shows(name string, s Show) { u.shows[name] = s }

// Findable adds what is no part of the record and is found, too.
func (u *UI) Findable(docs ...finding.Doc) { u.Findables = append(u.Findables, docs...) }

// Pages registers the templates of a sheet: each page is the layout, the parts that
// pages share, and its own file, templates/page_NAME.html.
func (u *UI) Pages(files embed.FS) {
	layout, err := template.New("layout.html").Funcs(u.funcs()).Funcs(u.more).ParseFS(shared, "templates/layout.html", "templates/part_*.html")
	if err != nil {
		u.err = errors.Join(u.err, fmt.Errorf("reading the shared templates: %w", err))
		return
	}
	names, err := fs.Glob(files, "templates/page_*.html")
	for _, name := range names {
		t := template.Must(layout.Clone())
		if _, err := t.ParseFS(files, name); err != nil {
			u.err = errors.Join(u.err, fmt.Errorf("reading the template %s: %w", name, err))
			return
		}
		figured(t)
		u.pages[strings.TrimSuffix(strings.TrimPrefix(path.Base(name), "page_"), ".html")] = t
	}
	u.err = errors.Join(u.err, err)
}

// upto is the beginning of a list, so many of it at most; beyond is the rest, which folds away.
func upto(n int, list any) any {
	v := reflect.ValueOf(list)
	return v.Slice(0, min(n, v.Len())).Interface()
}

func beyond(n int, list any) any {
	v := reflect.ValueOf(list)
	return v.Slice(min(n, v.Len()), v.Len()).Interface()
}

func (u *UI) funcs() template.FuncMap {
	return template.FuncMap{
		"said": said(say.Reader{}), "warm": say.Temperature, "angle": func(a quantity.Angle) say.Figure { return say.Angle(float64(a)) }, "long": func(mm float64) say.Figure { return say.Written(quantity.Length(mm)) }, "base": func() string { return u.Base }, "may": u.may, "signedAs": signedAs, "answersAs": answersAs, "shop": u.Shop, "entry": u.Ledger.Seq, "asked": func(problem string) bool { return strings.HasSuffix(problem, "is that so?") }, "guide": kinds.GuideFor, "looking": func() bool { return u.Base == LookAt }, "trainer": func() string { return u.Trainer }, "door": func() bool { return u.HasDoor }, "newID": uuid.NewString, "swatch": drawing.Swatch,
		"clock": func(t time.Time) string { return t.Format("15:04") },
		"day":   func(t time.Time) string { return t.Format("2 January 2006") },
		"when":  u.When, "stamp": func(t time.Time) string { return t.Format(time.RFC3339) }, "soon": u.soon,
		"short": func(hash string) string { return hash[:min(len(hash), 10)] },
		"runs":  row.Runs, "sample": drawing.HoleSample, "hatchings": drawing.Hatchings, "shares": shares, "causes": func() []string { return slip.Causes }, "workCategories": func() []string { return planning.Categories },
		"nth":     nth,
		"inc":     func(i int) int { return i + 1 },
		"upto":    upto,
		"beyond":  beyond,
		"join":    strings.Join,
		"percent": func(v float64) string { return quantity.Fixed(v, 0) + " %" },
		"slug":    func(v any) string { return strings.ReplaceAll(strings.ToLower(fmt.Sprint(v)), " ", "-") },
	}
}

// nth is every nth hole in words.
func nth(n int) string {
	if n >= 1 && n <= 4 {
		return [...]string{"hole", "second hole", "third hole", "fourth hole"}[n-1]
	}
	return fmt.Sprintf("%dth hole", n)
}

// When writes a time as near as is needed: the clock today, else the day.
func (u *UI) When(t time.Time) string {
	now := u.Ledger.Now()
	switch {
	case t.IsZero():
		return "never"
	case t.Format(time.DateOnly) == now.Format(time.DateOnly):
		return "today " + t.Format("15:04")
	case t.Year() == now.Year():
		return t.Format("2 January 15:04")
	}
	return t.Format("2 January 2006")
}

// soon writes a moment near now: the clock today, the day and the clock else.
func (u *UI) soon(t time.Time) string {
	if t.Format(time.DateOnly) == u.Ledger.Now().Format(time.DateOnly) {
		return t.Format("15:04")
	}
	return t.Format("Mon 2 Jan, 15:04")
}

func (u *UI) stampAssets() error {
	sum := sha256.New()
	err := fs.WalkDir(assetFiles, "assets", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := assetFiles.ReadFile(path)
		sum.Write(data)
		return err
	})
	u.stamp = hex.EncodeToString(sum.Sum(nil))[:12]
	return err
}

func (u *UI) serveAssets() {
	assets, err := fs.Sub(assetFiles, "assets")
	if err != nil {
		u.err = errors.Join(u.err, err)
		return
	}
	u.group.GET("/assets/*file", func(c *gin.Context) {
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
		c.FileFromFS(c.Param("file"), http.FS(assets))
	})
	u.group.GET("/manifest.webmanifest", func(c *gin.Context) {
		c.Header("Content-Type", "application/manifest+json")
		c.FileFromFS("app.webmanifest", http.FS(assets))
	})
}

// Page is what the layout shows around every page.
type Page struct {
	Title   string
	Tab     string // of the sheet tabs
	Dark    string // dark, light, outdoors, or as the system has it
	Path    string // without the prefix
	Build   string
	Stamp   string
	Footing []Footing // the title block
	View    any
	FormID  string // of the page's main form, so that a repeat is one entry
	Problem ledger.Problems
	Slip    SlipFrom      // where a slip would be logged from
	Slipped string        // id of the slip that was just logged
	Unsaid  []string      // problems that no field of the page shows
	Main    template.HTML // the sheet itself, as its template wrote it
	Running overview.Running
	Whose   string            // who typed a name last
	Unit    quantity.Unit     // that lengths are shown in
	Playing *Practising       // in the trainer's workshop
	Alarms  []string          // what whoever works here must be told
	Account *account.Person   // who is signed in
	Closed  bool              // nobody is, and somebody need be
	Last    map[string]string // where a tab opens what was last worked on there, by its key
}

// Footing is one box of the title block.
type Footing struct{ Label, Text string }

// SlipFrom is where a slip would be logged from.
type SlipFrom struct{ Assembly, Step, Place string }

// Page makes a page.
func (u *UI) Page(c *gin.Context, tab, title string, view any, foot ...Footing) Page {
	dark, _ := c.Cookie("sheet")
	if dark != "dark" && dark != "light" && dark != "outdoors" {
		dark = "system"
	}
	running, err := u.Running(c.Request.Context())
	if _, guarded := account.Sitting(c.Request.Context()); guarded && Signed(c) == nil {
		running = overview.Running{}
	}
	if err != nil {
		u.log.Error("reading what runs", "request", requestID(c), "error", err)
	}
	var playing *Practising
	if u.Practising != nil {
		playing = u.Practising(c)
	}
	seat, guarded := account.Sitting(c.Request.Context())
	var alarms []string
	if !guarded || seat.Person != nil {
		alarms = u.Alarms()
	}
	return Page{Alarms: alarms, Account: seat.Person, Closed: guarded && seat.Person == nil, Playing: playing, Running: running, Whose: cmp.Or(Who(c), "builder"), Title: title, Tab: tab, Last: u.lastWorked(c, tab, strings.TrimPrefix(c.Request.URL.Path, u.Base)), Dark: dark, Path: strings.TrimPrefix(c.Request.URL.Path, u.Base), Slipped: slipped(c), Build: u.build, Stamp: u.stamp, Footing: foot, View: view, FormID: uuid.NewString()}
}

// slipped is the slip that was just logged, if the address names one.
func slipped(c *gin.Context) string {
	id := c.Query("slipped")
	if len(id) > 64 || strings.ContainsAny(id, "/?#&") {
		return ""
	}
	return id
}

// Render writes a page whole.
func (u *UI) Render(c *gin.Context, status int, name string, p Page) {
	u.RenderPart(c, status, name, "layout.html", p)
}

// RenderSheet writes a page whole, or the sheet alone where htmx asked for it.
func (u *UI) RenderSheet(c *gin.Context, status int, name string, p Page) {
	part := "layout.html"
	if HTMX(c) {
		part = "sheet"
	}
	u.RenderPart(c, status, name, part, p)
}

// RenderPart writes a part of a page.
func (u *UI) RenderPart(c *gin.Context, status int, name, part string, p Page) {
	if status == 0 {
		status = http.StatusOK
	}
	page, err := u.drawn(c, name, part, p)
	if err != nil {
		u.log.Error("rendering", "request", requestID(c), "page", name, "error", err)
		c.String(http.StatusInternalServerError, "This page could not be shown (%s). Nothing was lost.", requestID(c))
		return
	}
	c.Header("X-Entry", strconv.FormatInt(u.Ledger.Seq(), 10))
	c.Data(status, "text/html; charset=utf-8", page)
}

// drawn is a part of a page as whoever asks for it sees it.
func (u *UI) drawn(c *gin.Context, name, part string, p Page) ([]byte, error) {
	reader := u.Reader(c, p.Unit)
	page, err := u.drawerOf(name, reader)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if part == "layout.html" || part == "sheet" { // what stands around it says what it has no place for
		if err := page.ExecuteTemplate(&b, "main", p); err != nil {
			return nil, err
		}
		p.Main, p.Unsaid = template.HTML(b.String()), unsaid(reader, p.Problem, b.String()) // as its template wrote it
		if len(p.Unsaid) > 0 {                                                              // what they say is nobody's but the reader's
			u.log.Warn(NoPlace, "page", name, "fields", slices.Sorted(maps.Keys(p.Problem)))
		}
		b.Reset()
	}
	err = page.ExecuteTemplate(&b, part, p)
	return b.Bytes(), err
}

// NoPlace is what the log says of messages for which a page has no place, so that they stand at its top;
// in a test it fails.
const NoPlace = "a message has no place on its page"

// unsaid are the problems that a page says nothing of, in the order of their fields.
func unsaid(r say.Reader, wrong ledger.Problems, page string) (out []string) {
	for _, field := range slices.Sorted(maps.Keys(wrong)) {
		if !strings.Contains(page, strings.ReplaceAll(template.HTMLEscapeString(r.Text(wrong[field])), "+", "&#43;")) {
			out = append(out, strings.TrimPrefix(field+": "+wrong[field], ": "))
		}
	}
	return out
}

// HTMX tells whether htmx asked for a part of a page.
func HTMX(c *gin.Context) bool { return c.GetHeader("HX-Request") != "" }

// failure is what the page of an error says.
type failure struct{ What, Next, Request string }

// Log writes down an error that a request met.
func (u *UI) Log(c *gin.Context, err error) {
	u.log.Error("failed", "request", requestID(c), "method", c.Request.Method, "path", c.Request.URL.Path, "error", err)
}

// Fail shows an error that no field is to blame for.
func (u *UI) Fail(c *gin.Context, err error) {
	status, view := http.StatusInternalServerError, failure{"Something in the program went wrong", "What was stored is safe, and what was not is not. Try once more; if it stays, keep the number below for whoever mends it.", requestID(c)}
	var problems ledger.Problems
	outside, trouble := ledger.TroubleOf(err)
	switch {
	case errors.Is(err, airframe.ErrNone):
		status, view = http.StatusNotFound, failure{"No aircraft is begun here yet", "This sheet is about one: begin it from the first sheet, by its shape. To measure something now needs none.", ""}
	case errors.Is(err, ledger.ErrNotFound):
		u.forget(c, strings.TrimPrefix(c.Request.URL.Path, u.Base))
		status, view = http.StatusNotFound, failure{"There is nothing at this address", "It may have been mistyped, or belong to another workshop.", ""}
	case trouble:
		u.Log(c, err)
		status, view = http.StatusServiceUnavailable, failure{"It was not stored", "Not stored: " + outside.Says + ".", requestID(c)}
	case errors.As(err, &problems):
		status, view = http.StatusUnprocessableEntity, failure{"It was not stored", problems.Error(), ""}
	default:
		u.Log(c, err)
	}
	u.Render(c, status, "error", u.Page(c, "", view.What, view))
	c.Abort()
}

// Done answers a form: redirects after a write, shows the form again with what is wrong,
// or the error.
func (u *UI) Done(c *gin.Context, err error, to string, again func(r Refused)) {
	var wrong ledger.Problems
	outside, trouble := ledger.TroubleOf(err)
	switch {
	case errors.As(err, &wrong):
		again(Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong, Typed: Typed(c)})
	case trouble: // what was typed stays
		u.Log(c, err)
		again(Refused{Status: http.StatusServiceUnavailable, Wrong: ledger.Problems{"": "not stored: " + outside.Says}, Typed: Typed(c)})
	case err != nil:
		u.Fail(c, err)
	default:
		c.Redirect(http.StatusSeeOther, u.Base+to)
	}
}

// Again shows a refused form on the page that it says it was sent from.
func (u *UI) Again(c *gin.Context, r Refused) {
	name, id, _ := strings.Cut(strings.TrimPrefix(Back(c), "/"), "/")
	id, _, _ = strings.Cut(id, "?")
	u.ShowAt(c, name, id, r)
}

// ShowAt shows a refused form on the page at /NAME/ID.
func (u *UI) ShowAt(c *gin.Context, name, id string, r Refused) {
	if show, ok := u.shows[name]; ok {
		show(c, id, r)
		return
	}
	u.Fail(c, r.Wrong)
}

// Back is where a form says that it was sent from; only this program's own pages.
func Back(c *gin.Context) string { return Within(c.PostForm("back")) }

// Within is an address of this program's own; "/" for any other.
func Within(to string) string {
	if !strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//") || strings.ContainsFunc(to, func(r rune) bool { return r == '\\' || unicode.IsControl(r) }) {
		return "/"
	}
	return to
}

// Bind reads a form into a request by its form tags. What it cannot read is a Problem.
func Bind(c *gin.Context, into any) error {
	if err := c.ShouldBindWith(into, binding.Form); err != nil {
		return ledger.Problems{"": "this form could not be read; load the page again"}
	}
	return nil
}

// Typed are the fields of a form as they were typed, the first value of each.
func Typed(c *gin.Context) map[string]string {
	_ = c.PostForm("") // so that the form is read
	out := map[string]string{}
	for name, values := range c.Request.PostForm {
		if len(values) > 0 {
			out[name] = values[0]
		}
	}
	return out
}

// Who is the name that was typed last, so that nobody types it for each rivet.
func Who(c *gin.Context) string {
	if signed := Signed(c); signed != nil {
		return signed.Name
	}
	name, _ := c.Cookie("who")
	return name
}

// Remember keeps a name, and who helped.
func (u *UI) Remember(c *gin.Context, cookie, value string) {
	if value = strings.TrimSpace(value); value != "" && len(value) < 200 {
		u.cookie(c, cookie, url.QueryEscape(value), 30)
	}
}

func (u *UI) cookie(c *gin.Context, name, value string, days int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: name, Value: value, Path: u.Base + "/", MaxAge: days * 24 * 3600, HttpOnly: true, SameSite: http.SameSiteLaxMode})
}

// chooseSheet chooses the light or the dark sheet.
func (u *UI) chooseSheet(c *gin.Context) {
	u.cookie(c, "sheet", c.PostForm("sheet"), 400)
	c.Redirect(http.StatusSeeOther, u.Base+Back(c))
}

// Lines are the lines of a field that are not empty.
func Lines(text string) []string {
	var out []string
	for _, line := range strings.Split(text, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			out = append(out, line)
		}
	}
	return out
}

type requestKey struct{}

// identify gives each request an id and logs how it ended.
func (u *UI) identify(c *gin.Context) {
	id := uuid.NewString()[:8]
	c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), requestKey{}, id))
	start := time.Now()
	c.Next()
	u.log.Debug("answered", "request", id, "method", c.Request.Method, "path", c.Request.URL.Path, "status", c.Writer.Status(), "took", time.Since(start))
}

func requestID(c *gin.Context) string {
	id, _ := c.Request.Context().Value(requestKey{}).(string)
	return id
}

// recover answers a request that panicked, and logs where.
func (u *UI) recover(c *gin.Context) {
	defer func() {
		if cause := recover(); cause != nil {
			u.log.Error("panic", "request", requestID(c), "path", c.Request.URL.Path, "cause", cause, "stack", string(debug.Stack()))
			u.Fail(c, fmt.Errorf("panic: %v", cause))
		}
	}()
	c.Next()
}

// shares draws how far a row is.
func shares(of map[row.State]int) template.HTML {
	states, counts := make([]string, len(row.Telling)), map[string]int{}
	for i, s := range row.Telling {
		states[i], counts[string(s)] = string(s), of[s]
	}
	return drawing.Shares(states, counts)
}
