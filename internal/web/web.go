// Package web shows the workshop in a browser and takes what is typed there.
// Handlers parse, call one use case, and render.
package web

import (
	"bytes"
	"context"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"orpine/internal/app"
	"orpine/internal/core/hold"
	"orpine/internal/core/quantity"
	"orpine/internal/core/row"
	"orpine/internal/web/drawing"
)

//go:embed templates/*.html
var templateFiles embed.FS

//go:embed assets
var assetFiles embed.FS

// server holds what the handlers share.
type server struct {
	app   *app.App
	log   *slog.Logger
	build string
	pages map[string]*template.Template
	stamp string // of the assets, so that a browser keeps them until they change
}

// New returns the handler of the whole interface. It refuses requests that
// another site makes in a visitor's name, and hosts that are not this machine.
func New(a *app.App, log *slog.Logger, build string) (http.Handler, error) {
	s := &server{app: a, log: log, build: build}
	if err := s.load(); err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.HandleMethodNotAllowed = true
	r.Use(s.identify, gin.CustomRecoveryWithWriter(nil, s.recovered), protect)
	s.routes(r)
	return http.NewCrossOriginProtection().Handler(r), nil
}

func (s *server) routes(r *gin.Engine) {
	assets, err := fs.Sub(assetFiles, "assets")
	if err != nil { // the folder is embedded above
		panic(err)
	}
	r.GET("/assets/*file", func(c *gin.Context) {
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
		c.FileFromFS(c.Param("file"), http.FS(assets))
	})
	r.GET("/", s.home)
	r.GET("/airframes/:id", s.home)
	r.POST("/airframes", s.addAirframe)
	r.POST("/airframes/:id/assemblies", s.addAssembly)
	r.POST("/airframes/:id/schools", s.chooseSchools)
	r.GET("/assemblies/:id", s.assembly)
	r.POST("/assemblies/:id/setups", s.beginSetup)
	r.GET("/assemblies/:id/templates/:template", s.template)
	r.POST("/assemblies/:id/templates/:template", s.beginTemplate)
	r.GET("/setups", s.setups)
	r.GET("/joins", s.joins)
	r.GET("/setups/:id", s.setup)
	r.GET("/setups/:id/worksheet.json", s.worksheet)
	r.POST("/setups/:id/readings", s.takeReading)
	r.POST("/setups/:id/take-back", s.takeBack)
	r.POST("/setups/:id/held", s.setHeld)
	r.POST("/setups/:id/moved", s.moved)
	r.GET("/setups/:id/checks/new", s.newCheck)
	r.POST("/setups/:id/checks", s.addCheck)
	r.GET("/setups/:id/checks/:check", s.checkSheet)
	r.POST("/setups/:id/checks/:check", s.changeCheck)
	r.POST("/setups/:id/checks/:check/points", s.addPoint)
	r.POST("/setups/:id/checks/:check/places", s.addPlace)
	r.GET("/echo", s.echo)
	r.GET("/holds", s.holds)
	r.GET("/holds/:id", s.hold)
	r.POST("/holds/:id/release", s.release)
	r.POST("/holds/:id/step", s.step)
	r.POST("/holds/:id/withdraw", s.withdraw)
	r.POST("/holds/:id/after", s.after)
	r.GET("/log", s.journal)
	r.GET("/slips", s.slips)
	r.POST("/slips", s.logSlip)
	r.POST("/slips/:id", s.tellSlip)
	r.GET("/assemblies/:id/record", s.record)
	r.GET("/assemblies/:id/holds/new", s.newHold)
	r.POST("/assemblies/:id/holds", s.addHold)
	r.POST("/looks", s.look)
	r.GET("/rows", s.rows)
	r.GET("/assemblies/:id/rows", s.order)
	r.GET("/assemblies/:id/rows/new", s.newRow)
	r.POST("/assemblies/:id/rows", s.addRow)
	r.GET("/rows/:id", s.row)
	r.GET("/rows/:id/holes.csv", s.holesCSV)
	r.GET("/rows/:id/plan", s.rowPlan)
	r.POST("/rows/:id/plan", s.changeRow)
	r.POST("/rows/:id/holes", s.doHole)
	r.POST("/rows/:id/several", s.doSeveral)
	r.POST("/rows/:id/undo", s.undoHole)
	r.POST("/rows/:id/barrier", s.chooseBarrier)
	r.GET("/bays/:id", s.bay)
	r.POST("/bays/:id/tasks", s.addTask)
	r.POST("/bays/:id/done", s.finishTask)
	r.POST("/bays/:id/counts", s.count)
	r.POST("/photos", s.addPhoto)
	r.GET("/photos/:id", s.photo)
	r.GET("/photos/:id/thumb", s.thumb)
	r.GET("/stores", s.stores)
	r.POST("/parts", s.addPart)
	r.POST("/parts/:id", s.movePart)
	r.POST("/notices", s.addNotice)
	r.POST("/stock", s.countStock)
	r.GET("/instruments", s.instruments)
	r.POST("/instruments", s.addInstrument)
	r.POST("/instruments/:id/test", s.testInstrument)
	r.POST("/instruments/:id/proofs", s.proveInstrument)
	r.POST("/sheet", s.sheet)
	r.NoRoute(func(c *gin.Context) { s.fail(c, app.ErrNotFound) })
	r.NoMethod(func(c *gin.Context) { s.fail(c, app.ErrNotFound) })
}

// load reads the templates: each page is the layout, the parts that pages share,
// and its own file.
func (s *server) load() error {
	funcs := template.FuncMap{
		"newID": uuid.NewString, "swatch": drawing.Swatch,
		"clock": func(t time.Time) string { return t.Format("15:04") },
		"day":   func(t time.Time) string { return t.Format("2 January 2006") },
		"when":  s.sayWhen,
		"short": func(hash string) string { return hash[:min(len(hash), 10)] },
		"runs":  row.Runs, "sample": drawing.HoleSample, "causes": func() []string { return slipCauses },
		"preparations": func() []string { return hold.Preparations },
		"nth":          nth,
		"inc":          func(i int) int { return i + 1 },
		"percent":      func(v float64) string { return quantity.Fixed(v, 0) + " %" },
		"slug":         func(v any) string { return strings.ReplaceAll(strings.ToLower(fmt.Sprint(v)), " ", "-") },
	}
	pages, err := fs.Glob(templateFiles, "templates/page_*.html")
	if err != nil {
		return err
	}
	s.pages = map[string]*template.Template{}
	for _, page := range pages {
		name := strings.TrimSuffix(strings.TrimPrefix(page, "templates/page_"), ".html")
		s.pages[name], err = template.New("layout.html").Funcs(funcs).ParseFS(templateFiles, "templates/layout.html", "templates/part_*.html", page)
		if err != nil {
			return fmt.Errorf("reading the templates: %w", err)
		}
	}
	sum := sha256.New()
	return errors.Join(fs.WalkDir(assetFiles, "assets", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := assetFiles.ReadFile(path)
		sum.Write(data)
		s.stamp = hex.EncodeToString(sum.Sum(nil))[:12]
		return err
	}))
}

// nth is every nth hole in words.
func nth(n int) string {
	if n >= 1 && n <= 4 {
		return [...]string{"hole", "second hole", "third hole", "fourth hole"}[n-1]
	}
	return fmt.Sprintf("%dth hole", n)
}

// sayWhen writes a time as near as is needed: the clock today, else the day.
func (s *server) sayWhen(t time.Time) string {
	now := s.app.Now()
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

// policy lets a page use nothing but this program's own files.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// protect refuses hosts that are not this machine (a name that someone else made
// lead here) and sets the headers that every answer carries.
func protect(c *gin.Context) {
	host := c.Request.Host
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	if ip := net.ParseIP(strings.Trim(host, "[]")); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
		c.AbortWithStatus(http.StatusMisdirectedRequest)
		return
	}
	c.Header("Content-Security-Policy", policy)
	c.Header("X-Content-Type-Options", "nosniff")
	c.Header("Referrer-Policy", "same-origin")
	c.Header("Cache-Control", "no-store")
	most := int64(64 << 10)
	switch {
	case c.Request.URL.Path == "/photos":
		most = app.MaxPhoto + 64<<10
	case strings.HasSuffix(c.Request.URL.Path, "/rows"): // a row may come as CSV
		most = 512 << 10
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
}

type requestKey struct{}

// identify gives each request an id and logs how it ended.
func (s *server) identify(c *gin.Context) {
	id := uuid.NewString()[:8]
	c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), requestKey{}, id))
	start := time.Now()
	c.Next()
	s.log.Debug("answered", "request", id, "method", c.Request.Method, "path", c.Request.URL.Path, "status", c.Writer.Status(), "took", time.Since(start))
}

func requestID(c *gin.Context) string {
	id, _ := c.Request.Context().Value(requestKey{}).(string)
	return id
}

func (s *server) recovered(c *gin.Context, cause any) {
	s.fail(c, fmt.Errorf("panic: %v", cause))
}

// page is what the layout shows around every page.
type page struct {
	Title   string
	Tab     string // of the sheet tabs
	Dark    string // dark, light, or as the system has it
	Path    string
	Build   string
	Stamp   string
	Footing []footing // the title block
	View    any
	FormID  string // of the page's main form, so that a repeat is one entry
	Problem app.Problems
	Slip    slipContext // where a slip would be logged from
	Slipped string      // id of the slip that was just logged
}

// footing is one box of the title block.
type footing struct{ Label, Text string }

func (s *server) page(c *gin.Context, tab, title string, view any, foot ...footing) page {
	dark, _ := c.Cookie("sheet")
	if dark != "dark" && dark != "light" {
		dark = "system"
	}
	return page{Title: title, Tab: tab, Dark: dark, Path: c.Request.URL.Path, Slipped: slipped(c), Build: s.build, Stamp: s.stamp, Footing: foot, View: view, FormID: uuid.NewString()}
}

// render writes a page whole, or the part of it that htmx asked for.
func (s *server) render(c *gin.Context, status int, name, part string, p page) {
	var b bytes.Buffer
	if err := s.pages[name].ExecuteTemplate(&b, part, p); err != nil {
		s.log.Error("rendering", "request", requestID(c), "page", name, "error", err)
		c.String(http.StatusInternalServerError, "This page could not be shown (%s). Nothing was lost.", requestID(c))
		return
	}
	c.Data(status, "text/html; charset=utf-8", b.Bytes())
}

// slipped is the slip that was just logged, if the address names one.
func slipped(c *gin.Context) string {
	id := c.Query("slipped")
	if len(id) > 64 || strings.ContainsAny(id, "/?#&") {
		return ""
	}
	return id
}

// problems returns what is wrong with a submission; ok is false for any other error.
func problems(err error) (p app.Problems, ok bool) {
	ok = errors.As(err, &p)
	return p, ok
}

// failure is what the page of an error says.
type failure struct{ What, Next, Request string }

// fail shows an error that no field is to blame for.
func (s *server) fail(c *gin.Context, err error) {
	status, view := http.StatusInternalServerError, failure{"Something in the program went wrong", "What was stored is safe, and what was not is not. Try once more; if it stays, keep the number below for whoever mends it.", requestID(c)}
	if errors.Is(err, app.ErrNotFound) {
		status, view = http.StatusNotFound, failure{"There is nothing at this address", "It may have been mistyped, or belong to another workshop.", ""}
	} else {
		s.log.Error("failed", "request", requestID(c), "method", c.Request.Method, "path", c.Request.URL.Path, "error", err)
	}
	s.render(c, status, "error", "layout.html", s.page(c, "", view.What, view))
	c.Abort()
}

// sheet chooses the light or the dark sheet.
func (s *server) sheet(c *gin.Context) {
	http.SetCookie(c.Writer, &http.Cookie{Name: "sheet", Value: c.PostForm("sheet"), Path: "/", MaxAge: 400 * 24 * 3600, HttpOnly: true, SameSite: http.SameSiteLaxMode})
	c.Redirect(http.StatusSeeOther, back(c))
}
