// Package files is the Files sheet, on which the workshop goes out and comes in, and the
// read-only JSON API.
package files

import (
	"cmp"
	"embed"
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"os"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"orpine/internal/airframe"
	"orpine/internal/archive"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct {
	*ui.UI
	shelf *shelf
}

// mostArchive is how large an archive may be that is sent to the sheet.
const mostArchive = 4 << 30

// Routes registers the sheet and the API.
func Routes(u *ui.UI) {
	s := sheets{u, new(shelf)}
	u.Pages(templates)
	u.GET("/files", func(c *gin.Context) { s.show(c, view{}, ui.Refused{}) })
	u.GET("/files/workshop.zip", s.archive)
	u.GET("/files/aircraft/:id", s.archive)
	u.GET("/files/csv/:name", s.csv)
	u.LargePOST("/files/archive", mostArchive, s.look)
	u.POST("/files/archive/take", s.take)
	u.LargePOST("/files/table", mostTable, s.table)
	u.LargePOST("/files/plan", 2*mostTable, s.plan)
	u.LargePOST("/files/worksheet", mostTable, s.worksheet)
	u.POST("/files/copy", s.copy)
	u.Shows("files", func(c *gin.Context, _ string, r ui.Refused) { s.show(c, view{}, r) })
	s.api()
}

// view is the Files sheet.
type view struct {
	Aircraft []airframe.Airframe
	Tables   []string
	Coming   *archive.Coming // what would become of the archive that was sent
	Token    string
	Taken    *archive.Coming
	Who      string
	Sorts    []tableSort      // that can be brought in
	Parts    []overview.Named // assemblies that a worksheet may belong to
	Brought  *overview.Brought
	Of       string // what was brought: table, worksheet or plan
	Typed    map[string]string
	Kept     bool
	Copies   string // directory of copies; "" for none
	LastCopy time.Time
}

// tableSort is a sort of table, with its columns.
type tableSort struct{ Name, Needed, More string }

// copy makes a copy of the workshop now.
func (s sheets) copy(c *gin.Context) {
	_, err := s.Keeper.Copy(c.Request.Context())
	if err != nil {
		var wrong ledger.Problems
		if !errors.As(err, &wrong) {
			s.Log(c, err)
			err = ledger.Problems{"copy": "no copy was made: " + err.Error()}
		}
	}
	s.Done(c, err, "/files#copies", func(r ui.Refused) { s.show(c, view{}, r) })
}

// mostTable is how large a form with a table may be.
const mostTable = 2 << 20

// plan tries a plan in the open format, or takes it into an order of work.
func (s sheets) plan(c *gin.Context) {
	typed := map[string]string{"airframe": c.PostForm("airframe"), "plan": c.PostForm("plan"), "id": c.PostForm("id")}
	if text, err := sent(c); err != nil {
		s.Fail(c, err)
		return
	} else if text != "" {
		typed["plan"] = text
	}
	keep := c.PostForm("do") == "take"
	b, err := s.BringPlan(c.Request.Context(), overview.BringingPlan{Form: ledger.Form{ID: typed["id"]}, Airframe: typed["airframe"], Data: typed["plan"]}, keep)
	switch {
	case err != nil:
		s.Fail(c, err)
	case keep && len(b.Wrong) == 0:
		c.Redirect(http.StatusSeeOther, s.Base+"/order?airframe="+typed["airframe"])
	case len(b.Wrong) > 0:
		s.show(c, view{Brought: &b, Typed: typed, Of: "plan"}, ui.Refused{Status: http.StatusUnprocessableEntity})
	default:
		s.show(c, view{Brought: &b, Typed: typed, Of: "plan"}, ui.Refused{})
	}
}

// worksheet tries a worksheet, or begins a setup by it.
func (s sheets) worksheet(c *gin.Context) {
	typed := map[string]string{"assembly": c.PostForm("assembly"), "name": c.PostForm("name"), "sheet": c.PostForm("sheet"), "id": c.PostForm("id")}
	if text, err := sent(c); err != nil {
		s.Fail(c, err)
		return
	} else if text != "" {
		typed["sheet"] = text
	}
	keep := c.PostForm("do") == "take"
	b, err := s.BringWorksheet(c.Request.Context(), overview.BringingWorksheet{Form: ledger.Form{ID: typed["id"]}, Assembly: typed["assembly"], Name: typed["name"], Data: typed["sheet"]}, keep)
	switch {
	case err != nil:
		s.Fail(c, err)
	case keep && len(b.Wrong) == 0:
		c.Redirect(http.StatusSeeOther, s.Base+"/setups/"+typed["id"])
	case len(b.Wrong) > 0:
		s.show(c, view{Brought: &b, Typed: typed, Of: "worksheet"}, ui.Refused{Status: http.StatusUnprocessableEntity})
	default:
		s.show(c, view{Brought: &b, Typed: typed, Of: "worksheet"}, ui.Refused{})
	}
}

// sent is the text of the file of a form; "" for none.
func sent(c *gin.Context) (string, error) {
	file, err := c.FormFile("file")
	if err != nil {
		return "", nil //nolint:nilerr // no file was chosen
	}
	f, err := file.Open()
	if err != nil {
		return "", err
	}
	defer f.Close()
	data, err := io.ReadAll(io.LimitReader(f, mostTable))
	return string(data), err
}

// table tries a table, or takes it, and shows what comes of each line. A file stands before what was
// typed.
func (s sheets) table(c *gin.Context) {
	typed := map[string]string{"sort": c.PostForm("sort"), "airframe": c.PostForm("airframe"), "data": c.PostForm("data"), "id": c.PostForm("id")}
	if text, err := sent(c); err != nil {
		s.Fail(c, err)
		return
	} else if text != "" {
		typed["data"] = text
	}
	keep := c.PostForm("do") == "take"
	b, err := s.Bring(c.Request.Context(), overview.Bringing{Form: ledger.Form{ID: typed["id"]}, Airframe: typed["airframe"], Sort: typed["sort"], Data: typed["data"]}, keep)
	var wrong ledger.Problems
	switch {
	case errors.As(err, &wrong):
		s.show(c, view{Typed: typed, Of: "table"}, ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong})
	case err != nil:
		s.Fail(c, err)
	case len(b.Wrong) > 0:
		s.show(c, view{Brought: &b, Typed: typed, Of: "table"}, ui.Refused{Status: http.StatusUnprocessableEntity})
	default:
		s.show(c, view{Brought: &b, Typed: typed, Kept: keep, Of: "table"}, ui.Refused{})
	}
}

func (s sheets) show(c *gin.Context, v view, r ui.Refused) {
	v.Copies, v.LastCopy, _ = s.Keeper.Copies()
	list, err := s.Airframes.List(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	for _, a := range list {
		home, err := s.Home(c.Request.Context(), a.ID)
		if err != nil {
			s.Fail(c, err)
			return
		}
		for _, part := range home.Assemblies {
			v.Parts = append(v.Parts, overview.Named{ID: part.ID, Name: a.Name + ": " + part.Name})
		}
	}
	for _, name := range overview.BringTables {
		needed, more := overview.BringColumns(name)
		v.Sorts = append(v.Sorts, tableSort{name, strings.Join(needed, ", "), strings.Join(more, ", ")})
	}
	v.Aircraft, v.Tables, v.Who = list, archive.Tables(), ui.Who(c)
	seq, hash, _ := s.Ledger.Head(c.Request.Context()) // an empty one has none
	p := s.Page(c, "files", "Files", v, ui.Footing{Label: "entries", Text: fmt.Sprint(seq)}, ui.Footing{Label: "last", Text: cmp.Or(hash, "none")[:min(10, len(cmp.Or(hash, "none")))]}, ui.Footing{Label: "sheet", Text: "F 1"})
	p.Path, p.Problem = "/files", r.Wrong
	s.Render(c, r.Status, "files", p)
}

// archive sends the workshop or an aircraft, as it is written.
func (s sheets) archive(c *gin.Context) {
	id, name := strings.TrimSuffix(c.Param("id"), ".zip"), "workshop"
	if id != "" {
		name = "aircraft"
	}
	temporary, err := os.CreateTemp("", "orpine-out-*.zip")
	if err != nil {
		s.Fail(c, err)
		return
	}
	defer temporary.Close()
	defer os.Remove(temporary.Name())
	m, err := archive.Write(c.Request.Context(), s.Ledger, id, temporary)
	if err != nil {
		s.Fail(c, err)
		return
	}
	if len(m.Aircraft) == 1 {
		name = ui.FileName(m.Aircraft[0].Name)
	}
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Now().Add(10 * time.Minute))
	c.Header("Content-Disposition", `attachment; filename="orpine-`+name+`-`+s.Ledger.Now().Format(time.DateOnly)+`.zip"`)
	c.Header("Content-Type", "application/zip")
	if _, err := temporary.Seek(0, io.SeekStart); err != nil {
		s.Fail(c, err)
		return
	}
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, temporary)
}

func (s sheets) csv(c *gin.Context) {
	name := strings.TrimSuffix(c.Param("name"), ".csv")
	var b strings.Builder
	if err := archive.Table(c.Request.Context(), s.Ledger, name, &b); err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+ui.FileName(name)+`.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", []byte(b.String()))
}

// shelf holds archives that were sent and not taken yet. Their files have no name any more, so
// that they go with the program.
type shelf struct {
	mu    sync.Mutex
	files []shelved
}

type shelved struct {
	token   string
	file    *os.File
	archive *archive.Archive
}

// shelfRoom is how many archives lie there; the oldest goes for another.
const shelfRoom = 3

func (s *shelf) put(file *os.File, a *archive.Archive) (token string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	token = uuid.NewString()
	if len(s.files) == shelfRoom {
		_ = s.files[0].file.Close()
		s.files = s.files[1:]
	}
	s.files = append(s.files, shelved{token, file, a})
	return token
}

func (s *shelf) get(token string) *archive.Archive {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, f := range s.files {
		if f.token == token {
			return f.archive
		}
	}
	return nil
}

// look takes an archive onto the shelf and shows what would become of it.
func (s sheets) look(c *gin.Context) {
	_ = http.NewResponseController(c.Writer).SetReadDeadline(time.Now().Add(10 * time.Minute))
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Now().Add(12 * time.Minute))
	file, a, err := receive(c)
	if err != nil {
		s.refused(c, err)
		return
	}
	coming, err := archive.Look(c.Request.Context(), s.Ledger, a)
	if err != nil {
		_ = file.Close()
		s.Fail(c, err)
		return
	}
	v := view{Coming: &coming}
	if coming.Refused == "" && coming.New > 0 {
		v.Token = s.shelf.put(file, a)
	} else {
		_ = file.Close()
	}
	s.show(c, v, ui.Refused{})
}

func (s sheets) refused(c *gin.Context, err error) {
	var refused *archive.Refused
	var wrong ledger.Problems
	switch {
	case errors.As(err, &wrong):
	case errors.As(err, &refused):
		wrong = ledger.Problems{"archive": refused.Error()}
	default:
		s.Fail(c, err)
		return
	}
	s.show(c, view{}, ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong})
}

// receive reads the file of a form into a file without a name.
func receive(c *gin.Context) (*os.File, *archive.Archive, error) {
	form, err := c.Request.MultipartReader()
	if err != nil {
		return nil, nil, ledger.Problems{"archive": "choose a file first"}
	}
	part, err := form.NextPart()
	for err == nil && part.FormName() != "archive" {
		part, err = form.NextPart()
	}
	if err != nil || part.FileName() == "" {
		return nil, nil, ledger.Problems{"archive": "choose a file first"}
	}
	return keep(part)
}

func keep(part *multipart.Part) (*os.File, *archive.Archive, error) {
	file, err := os.CreateTemp("", "orpine-in-*.zip")
	if err != nil {
		return nil, nil, err
	}
	_ = os.Remove(file.Name())
	n, err := io.Copy(file, part)
	if err != nil {
		return nil, nil, errors.Join(ledger.Problems{"archive": "it did not arrive whole, or is larger than is taken; nothing of it was kept"}, file.Close())
	}
	a, err := archive.Open(file, n)
	if err != nil {
		_ = file.Close()
	}
	return file, a, err
}

func (s sheets) take(c *gin.Context) {
	n := archive.Taking{Form: ledger.Form{ID: c.PostForm("id")}, By: c.PostForm("by"), Archive: c.PostForm("sha")}
	s.Remember(c, "who", n.By)
	a := s.shelf.get(c.PostForm("token"))
	if a == nil {
		s.refused(c, ledger.Problems{"archive": "the file does not lie here any more; send it once more. If it was taken already, it says so then"})
		return
	}
	taken, err := archive.Take(c.Request.Context(), s.Ledger, a, n)
	if err != nil {
		s.refused(c, err)
		return
	}
	s.show(c, view{Taken: &taken}, ui.Refused{})
}
