// Package paper is the Paper sheet: what is printed for the bench, templates at 1:1, labels, and
// the record as a book.
package paper

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/section"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/paper"
	"orpine/internal/web/drawing"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

type sheets struct{ *ui.UI }

// Routes registers the sheet.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.Pages(templates)
	u.GET("/paper", func(c *gin.Context) { s.show(c, view{}, ui.Refused{}) })
	u.GET("/paper/scaled", s.scaled)
	u.GET("/paper/blank.pdf", s.blank)
	u.GET("/paper/board", s.board)
	u.LargePOST("/paper/board", 2*section.MaxBytes, s.board)
	u.GET("/paper/discs.pdf", s.discs)
	u.GET("/airframes/:id/labels.pdf", s.labels)
	u.GET("/airframes/:id/book.pdf", s.book)
}

// view is the Paper sheet.
type view struct {
	Aircraft []airframe.Airframe
	Setups   []overview.Named
	Holds    []overview.Named
	Rows     []overview.Named
	Size     paper.Size
	Typed    map[string]string
	Of       string
	Says     string // what the printer did
	Right    bool
	Preview  drawing.Paths
	Unit     string
}

func (s sheets) show(c *gin.Context, v view, r ui.Refused) {
	ctx := c.Request.Context()
	if err := s.gather(ctx, &v); err != nil {
		s.Fail(c, err)
		return
	}
	v.Size, v.Of = ui.PaperSize(c), r.Of
	if v.Typed == nil {
		v.Typed = r.Typed
	}
	v.Unit = s.ShopUnit(ctx).String()
	p := s.Page(c, "paper", "Paper", v, ui.Footing{Label: "paper", Text: map[paper.Size]string{paper.A4: "A4", paper.Letter: "Letter"}[v.Size]}, ui.Footing{Label: "sheet", Text: "B 1"})
	p.Unit = s.ShopUnit(c.Request.Context())
	p.Path, p.Problem = "/paper", r.Wrong
	s.Render(c, r.Status, "paper", p)
}

// gather lists what can be printed.
func (s sheets) gather(ctx context.Context, v *view) (err error) {
	if v.Aircraft, err = s.Airframes.List(ctx); err != nil {
		return err
	}
	setups, err := s.SetupList(ctx)
	if err != nil {
		return err
	}
	for _, b := range setups {
		v.Setups = append(v.Setups, overview.Named{ID: b.ID, Name: strings.TrimSpace(b.AssemblyName + " " + b.Name)})
	}
	holds, err := s.HoldList(ctx)
	if err != nil {
		return err
	}
	for _, h := range holds {
		v.Holds = append(v.Holds, overview.Named{ID: h.ID, Name: h.AssemblyName + ": " + h.Name})
	}
	for _, a := range v.Aircraft {
		_, _, list, err := s.RowList(ctx, a.ID)
		if err != nil {
			return err
		}
		for _, assembly := range list {
			for _, row := range assembly.Rows {
				v.Rows = append(v.Rows, overview.Named{ID: row.ID, Name: assembly.Name + ": " + row.Name})
			}
		}
	}
	return nil
}

// length reads a length of the form, in the unit that bare figures are in.
func length(c *gin.Context, field string, unit quantity.Unit, wrong ledger.Problems) float64 {
	l, err := quantity.ParseLength(value(c, field), unit)
	if err != nil {
		wrong[field] = err.Error()
	}
	return float64(l)
}

// value is a field of a form or of an address.
func value(c *gin.Context, field string) string {
	text := c.Query(field)
	if c.Request.Method == http.MethodPost {
		text = c.PostForm(field)
	}
	return strings.TrimSpace(text)
}

func typed(c *gin.Context) map[string]string {
	out := map[string]string{}
	for _, f := range []string{"section", "chord", "angle", "height", "spar_at", "spar_width", "spar_depth", "across", "along", "outer", "inner", "count", "format"} {
		out[f] = value(c, f)
	}
	return out
}

// scaled takes the measured sides of the check square.
func (s sheets) scaled(c *gin.Context) {
	wrong := ledger.Problems{}
	across, along := length(c, "across", quantity.Millimetre, wrong), length(c, "along", quantity.Millimetre, wrong)
	if len(wrong) > 0 {
		s.show(c, view{Typed: typed(c)}, ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong, Of: "scaled"})
		return
	}
	v := view{Typed: typed(c)}
	v.Says, v.Right = paper.Scaled(across, along)
	s.show(c, v, ui.Refused{Of: "scaled"})
}

// board draws an incidence board: on the sheet, or as a file.
func (s sheets) board(c *gin.Context) {
	wrong := ledger.Problems{}
	unit := s.ShopUnit(c.Request.Context())
	b := section.Board{Chord: length(c, "chord", unit, wrong), Height: 20}
	if value(c, "height") != "" {
		b.Height = length(c, "height", unit, wrong)
	}
	if a, err := quantity.ParseAngle(value(c, "angle"), quantity.Pitch); err != nil {
		wrong["angle"] = err.Error()
	} else {
		b.Angle = float64(a)
	}
	if value(c, "spar_at") != "" {
		b.Notches = []section.Notch{{At: length(c, "spar_at", unit, wrong), Width: length(c, "spar_width", unit, wrong), Depth: length(c, "spar_depth", unit, wrong)}}
	}
	var err error
	if b.Section, err = sectionOf(c); err != nil {
		wrong["section"] = err.Error()
	}
	if len(wrong) == 0 {
		if field, err := b.Validate(); err != nil {
			wrong[strings.Replace(field, "notch", "spar_at", 1)] = err.Error()
		}
	}
	if len(wrong) > 0 {
		s.show(c, view{Typed: typed(c)}, ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong, Of: "board"})
		return
	}
	format := value(c, "format")
	if format == "" {
		s.show(c, view{Typed: typed(c), Preview: drawing.Paths{Paths: b.Drawing(), Label: "the board on its section"}}, ui.Refused{Of: "board"})
		return
	}
	data, err := paper.Board(b, format, ui.PaperSize(c), s.Reader(c, unit), s.Ledger.Now())
	if err != nil {
		s.show(c, view{Typed: typed(c)}, ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: ledger.Problems{"section": err.Error()}, Of: "board"})
		return
	}
	kind := map[string]string{"pdf": "application/pdf", "svg": "image/svg+xml", "dxf": "image/vnd.dxf"}[format]
	c.Header("Content-Disposition", `attachment; filename="board-`+ui.FileName(b.Section.Name)+`.`+format+`"`)
	c.Data(http.StatusOK, kind, data)
}

// sectionOf is the section of four digits that was typed, or the one of the file.
func sectionOf(c *gin.Context) (section.Section, error) {
	if file, err := c.FormFile("coordinates"); err == nil {
		f, err := file.Open()
		if err != nil {
			return section.Section{}, err
		}
		defer f.Close()
		data, err := io.ReadAll(io.LimitReader(f, section.MaxBytes+1))
		if err != nil {
			return section.Section{}, err
		}
		name, _, _ := strings.Cut(file.Filename, ".")
		return section.Coordinates(ui.FileName(name), data)
	}
	if value(c, "section") == "" {
		return section.Section{}, errors.New("four digits are wanted, or a file of coordinates")
	}
	return section.FourDigit(value(c, "section"))
}

// blank is a bench card for what has no setup yet.
func (s sheets) blank(c *gin.Context) {
	card := paper.Card{Heading: s.Heading("Bench card", "what, and on what: ________________________________", "", "")}
	check := paper.CardCheck{Name: "Measured", Kind: "____________________", Limits: []string{"________________________________"}, Notes: []string{"Sketch it here, number the places in the order in which you walk, and say which way round the instrument is held."}, Drawing: `<svg viewBox="0 0 800 330"><rect class="thin" x="0" y="0" width="800" height="330"/></svg>`}
	for i := range 14 {
		check.Lines = append(check.Lines, paper.CardLine{Number: i + 1, Place: "________________________"})
	}
	card.Checks = []paper.CardCheck{check}
	data, err := card.Print(ui.PaperSize(c))
	s.PDF(c, "bench card", data, err)
}

// mostDiscs is how many washers are drawn.
const mostDiscs = 60

// discs are washers at 1:1, to cut shims by.
func (s sheets) discs(c *gin.Context) {
	wrong := ledger.Problems{}
	unit := s.ShopUnit(c.Request.Context())
	outer, inner := length(c, "outer", unit, wrong), length(c, "inner", unit, wrong)
	n := 0
	if _, err := fmt.Sscan(value(c, "count"), &n); err != nil || n < 1 || n > mostDiscs {
		wrong["count"] = fmt.Sprintf("how many? 1 to %d", mostDiscs)
	}
	if len(wrong) == 0 && (inner <= 0 || outer <= inner || outer > 200) {
		wrong["outer"] = "the outside is larger than the hole, and at most " + say.Written(200).String()
	}
	if len(wrong) > 0 {
		s.show(c, view{Typed: typed(c)}, ui.Refused{Status: http.StatusUnprocessableEntity, Wrong: wrong, Of: "discs"})
		return
	}
	data, err := paper.Discs(ui.PaperSize(c), outer, inner, n, s.Reader(c, unit).Text(fmt.Sprintf("%s outside, %s hole", say.Length(outer).Fine(2), say.Length(inner).Fine(2))), s.Ledger.Now())
	s.PDF(c, "washers", data, err)
}

// labels are those of an aircraft's parts and of what is in stock.
func (s sheets) labels(c *gin.Context) {
	sheet, err := s.Store(c.Request.Context(), c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	reader := s.Reader(c, sheet.Airframe.Unit)
	var labels []paper.Label
	for _, p := range sheet.Parts {
		detail := p.Name
		for _, more := range []string{p.Lot, p.Place, p.Clue} {
			if more != "" {
				detail += "; " + more
			}
		}
		labels = append(labels, paper.Label{Name: p.Number, Big: strings.ToUpper(p.Hand), Detail: reader.Text(detail), Path: "/find?airframe=" + sheet.Airframe.ID})
	}
	for _, l := range sheet.Stock {
		labels = append(labels, paper.Label{Name: reader.Text(l.Name), Detail: "stock"})
	}
	data, err := paper.Labels(ui.PaperSize(c), "Labels of "+sheet.Airframe.Name, labels, s.Ledger.Now())
	s.PDF(c, "labels "+sheet.Airframe.Name, data, err)
}
