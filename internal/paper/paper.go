// Package paper makes what is printed: PDF in A4 and Letter, black on white, with its
// fonts in it, so that a print looks the same anywhere. Lengths on paper are in mm, from
// the upper left corner, y down.
package paper

import (
	"bytes"
	"embed"
	"fmt"
	"math"
	"regexp"
	"strings"
	"sync"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"github.com/yeqown/go-qrcode/v2"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"

	"orpine/internal/core/say"
	"orpine/internal/core/section"
)

//go:embed fonts/*.ttf
var fonts embed.FS

// Size is a size of paper.
type Size string

// The sizes.
const (
	A4     Size = "a4"
	Letter Size = "letter"
)

// Sizes are all of them, the first where nobody said.
var Sizes = []Size{A4, Letter}

// ParseSize reads the name of a size, A4 for "".
func ParseSize(text string) (Size, error) {
	switch s := Size(strings.ToLower(strings.TrimSpace(text))); s {
	case "":
		return A4, nil
	case A4, Letter:
		return s, nil
	}
	return "", fmt.Errorf("“%s” is no size of paper; a4 or letter is wanted", text)
}

// mm is width and height of an upright page.
func (s Size) mm() (w, h float64) {
	if s == Letter {
		return 215.9, 279.4
	}
	return 210, 297
}

// Margin is kept free at every edge of a page: printers do not reach further.
const Margin = 12

// Doc is a document in the making.
type Doc struct {
	pdf  *fpdf.Fpdf
	W, H float64 // of its pages
	err  error
}

// New begins a document without a page. at is when it was made.
func New(size Size, landscape bool, title string, at time.Time) *Doc {
	w, h := size.mm()
	if landscape {
		w, h = h, w
	}
	pdf := fpdf.NewCustom(&fpdf.InitType{OrientationStr: "P", UnitStr: "mm", Size: fpdf.SizeType{Wd: w, Ht: h}})
	pdf.SetMargins(0, 0, 0)
	pdf.SetAutoPageBreak(false, 0)
	pdf.SetCatalogSort(true)
	pdf.SetCreationDate(at)
	pdf.SetModificationDate(at)
	pdf.SetProducer("Orpine", true)
	pdf.SetTitle(title, true)
	pdf.SetLang("en")
	d := &Doc{pdf: pdf, W: w, H: h}
	for style, name := range map[string]string{"": "Regular", "B": "Bold"} {
		data, err := fonts.ReadFile("fonts/" + name + ".ttf")
		if err != nil {
			d.err = err
		}
		pdf.AddUTF8FontFromBytes("next", style, data)
	}
	pdf.AddUTF8FontFromBytes("other", "", goregular.TTF)
	pdf.AddUTF8FontFromBytes("other", "B", gobold.TTF)
	pdf.AliasNbPages(allPages)
	pdf.SetLineCapStyle("round")
	pdf.SetLineJoinStyle("round")
	return d
}

// Page begins a page, and Pages counts them.
func (d *Doc) Page() { d.pdf.AddPage() }

// Pages counts the pages so far.
func (d *Doc) Pages() int { return d.pdf.PageCount() }

// Bytes is the finished document.
func (d *Doc) Bytes() ([]byte, error) {
	var b bytes.Buffer
	if err := d.pdf.Output(&b); err != nil {
		return nil, fmt.Errorf("making the PDF: %w", err)
	}
	return b.Bytes(), d.err
}

// Style is how a text is set: its size in points, and bold or not.
type Style struct {
	Points float64
	Bold   bool
}

// The styles.
var (
	Title = Style{16, true}
	Head  = Style{11.5, true}
	Body  = Style{10, false}
	Small = Style{8, false}
)

// mmPerPoint is the size of a point.
const mmPerPoint = 25.4 / 72

// Leading is the height of a line of a style, in mm.
func (s Style) Leading() float64 { return s.Points * mmPerPoint * 1.3 }

func (d *Doc) set(s Style) { d.setIn("next", s) }

// setIn sets in the font of the prints, or in the other, which has the letters that it lacks.
func (d *Doc) setIn(font string, s Style) {
	style := ""
	if s.Bold {
		style = "B"
	}
	d.pdf.SetFont(font, style, s.Points)
}

// allPages stands for the number of all pages, which is known once they are made.
const allPages = "{nb}"

// fraction is one as a builder writes it: 5/16, or 64 5/16.
var fraction = regexp.MustCompile(`(^|[^\d/.])(\d{1,3})/(\d{1,3})($|[^\d/])`)

// run is a piece of a text: small and raised or lowered within a fraction.
type run struct {
	text  string
	rise  float64 // of the text's size; 0 for a plain one
	other bool    // in the other font
}

const (
	smaller = 0.62 // of figures in a fraction
	raised  = 0.30
	lowered = -0.04
)

// runs takes fractions apart, so that they are set as fractions: the font has but three.
func runs(text string) (out []run) {
	for text != "" {
		m := fraction.FindStringSubmatchIndex(text)
		if m == nil {
			return plain(out, text)
		}
		if before := text[:m[3]]; before != "" {
			if strings.HasSuffix(before, " ") && len(before) > 1 && before[len(before)-2] >= '0' && before[len(before)-2] <= '9' {
				before = before[:len(before)-1] + "\u2009" // the fraction stands close to its whole number
			}
			out = plain(out, before)
		}
		out = append(out, run{text: text[m[4]:m[5]], rise: raised}, run{text: "\u2044"}, run{text: text[m[6]:m[7]], rise: lowered})
		text = text[m[7]:]
	}
	return out
}

// plain adds a text without fractions, each letter in the font that has it.
func plain(out []run, text string) []run {
	from, other := 0, false
	for at, r := range text {
		if lacks := lacks(outlines(), r); lacks != other {
			if at > from {
				out = append(out, run{text: text[from:at], other: other})
			}
			from, other = at, lacks
		}
	}
	return append(out, run{text: text[from:], other: other})
}

// instead are the characters that the font lacks.
var instead = strings.NewReplacer("⅛", " 1/8", "⅜", " 3/8", "⅝", " 5/8", "⅞", " 7/8", "½", " 1/2", "¼", " 1/4", "¾", " 3/4", "′", "'", "″", "\"", "→", "to", "←", "from", "↑", "up", "↓", "down", "⌀", "diam. ", "\u2009", "", "\u00a0", " ", "\u202f", " ")

// The letters of the font of the prints, and of the other: Latin, Greek and Cyrillic.
var (
	outlines = sync.OnceValue(func() *sfnt.Font {
		data, err := fonts.ReadFile("fonts/Regular.ttf")
		if err != nil {
			return nil
		}
		return parsed(data)
	})
	others = sync.OnceValue(func() *sfnt.Font { return parsed(goregular.TTF) })
)

func parsed(data []byte) *sfnt.Font {
	f, err := sfnt.Parse(data)
	if err != nil {
		return nil
	}
	return f
}

// lacks tells whether a font has no letter for a character.
func lacks(font *sfnt.Font, r rune) bool {
	if font == nil || r < 0x7f {
		return false
	}
	var b sfnt.Buffer
	g, err := font.GlyphIndex(&b, r)
	return err != nil || g == 0
}

// printable replaces what both fonts lack: a letter of another script stands as its code, which tells it.
func printable(text string) string {
	var out strings.Builder
	for _, r := range instead.Replace(text) {
		switch {
		case r == '\n' || r == '\t':
			out.WriteByte(' ')
		case r < 0x20 || r == 0x7f:
		case lacks(outlines(), r) && lacks(others(), r):
			fmt.Fprintf(&out, "<%04X>", r)
		default:
			out.WriteRune(r)
		}
	}
	return out.String()
}

func (d *Doc) walk(text string, s Style, each func(r run, size, width float64)) (width float64) {
	for _, r := range runs(printable(say.Plain(text))) { // what was not drawn for a reader has millimetres
		size := s.Points
		if r.rise != 0 {
			size *= smaller
		}
		thin := strings.HasSuffix(r.text, "\u2009")
		r.text = strings.TrimSuffix(r.text, "\u2009")
		d.setIn(map[bool]string{false: "next", true: "other"}[r.other], Style{size, s.Bold})
		w := d.pdf.GetStringWidth(r.text)
		if each != nil {
			each(r, size, width)
		}
		if width += w; thin {
			width += 0.12 * s.Points * mmPerPoint
		}
	}
	d.set(s)
	return width
}

// Width is how wide a text is set.
func (d *Doc) Width(text string, s Style) float64 { return d.walk(text, s, nil) }

// Text sets a text with its base line at y; it does not break.
func (d *Doc) Text(x, y float64, s Style, text string) {
	d.walk(text, s, func(r run, _, at float64) {
		if r.text != "" {
			d.pdf.Text(x+at, y-r.rise*s.Points*mmPerPoint, r.text)
		}
	})
}

// TextRight and TextMiddle set a text that ends at x, or has its middle there.
func (d *Doc) TextRight(x, y float64, s Style, text string) { d.Text(x-d.Width(text, s), y, s, text) }

// TextMiddle sets a text with its middle at x.
func (d *Doc) TextMiddle(x, y float64, s Style, text string) {
	d.Text(x-d.Width(text, s)/2, y, s, text)
}

// Lines breaks a text into lines of a width.
func (d *Doc) Lines(w float64, s Style, text string) (out []string) {
	for _, paragraph := range strings.Split(text, "\n") {
		line := ""
		for _, word := range strings.Fields(paragraph) {
			for d.Width(word, s) > w && len([]rune(word)) > 1 { // a word longer than a line is cut
				r, n := []rune(word), 1
				for n < len(r) && d.Width(string(r[:n+1]), s) <= w {
					n++
				}
				if line != "" {
					out, line = append(out, line), ""
				}
				out, word = append(out, string(r[:n])), string(r[n:])
			}
			switch longer := strings.TrimSpace(line + " " + word); {
			case line == "" || d.Width(longer, s) <= w:
				line = longer
			default:
				out, line = append(out, line), word
			}
		}
		out = append(out, line)
	}
	return out
}

// Paragraph sets a text in lines of a width below y, and returns where it ends.
func (d *Doc) Paragraph(x, y, w float64, s Style, text string) float64 {
	for _, line := range d.Lines(w, s, text) {
		y += s.Leading()
		d.Text(x, y-0.25*s.Leading(), s, line)
	}
	return y
}

// Line draws a straight line of a weight.
func (d *Doc) Line(x1, y1, x2, y2, weight float64) {
	d.pdf.SetLineWidth(weight)
	d.pdf.Line(x1, y1, x2, y2)
}

// Dashed draws a broken line.
func (d *Doc) Dashed(x1, y1, x2, y2, weight float64) {
	d.pdf.SetDashPattern([]float64{2, 1.5}, 0)
	d.Line(x1, y1, x2, y2, weight)
	d.pdf.SetDashPattern(nil, 0)
}

// Box draws an upright rectangle.
func (d *Doc) Box(x, y, w, h, weight float64) {
	d.pdf.SetLineWidth(weight)
	d.pdf.Rect(x, y, w, h, "D")
}

// Circle draws one, filled or not.
func (d *Doc) Circle(x, y, r, weight float64, filled bool) {
	d.pdf.SetLineWidth(weight)
	d.pdf.SetFillColor(0, 0, 0)
	style := "D"
	if filled {
		style = "FD"
	}
	d.pdf.Circle(x, y, r, style)
}

// Path draws a line through points.
func (d *Doc) Path(points []section.Point, closed bool, weight float64) {
	if len(points) < 2 {
		return
	}
	d.pdf.SetLineWidth(weight)
	d.pdf.MoveTo(points[0].X, points[0].Y)
	for _, p := range points[1:] {
		d.pdf.LineTo(p.X, p.Y)
	}
	if closed {
		d.pdf.ClosePath()
	}
	d.pdf.DrawPath("D")
}

// Fill blackens the inside of a closed line.
func (d *Doc) Fill(points []section.Point) {
	d.pdf.SetFillColor(0, 0, 0)
	list := make([]fpdf.PointType, len(points))
	for i, p := range points {
		list[i] = fpdf.PointType{X: p.X, Y: p.Y}
	}
	d.pdf.Polygon(list, "F")
}

// Within lets draw run with everything outside a rectangle cut off.
func (d *Doc) Within(x, y, w, h float64, draw func()) {
	d.pdf.ClipRect(x, y, w, h, false)
	draw()
	d.pdf.ClipEnd()
}

// Picture puts a JPEG or PNG into a box, whole, and returns how high it is there: 0 for one that
// cannot be printed, which spoils nothing else.
func (d *Doc) Picture(name, kind string, data []byte, x, y, w, h float64) float64 {
	options := fpdf.ImageOptions{ImageType: strings.ToUpper(kind)}
	info := d.pdf.RegisterImageOptionsReader(name, options, bytes.NewReader(data))
	if info == nil || d.pdf.Err() {
		d.pdf.ClearError()
		return 0
	}
	scale := math.Min(w/info.Width(), h/info.Height())
	d.pdf.ImageOptions(name, x, y, scale*info.Width(), scale*info.Height(), false, options, 0, "")
	return scale * info.Height()
}

// Bookmark enters the present page into the outline of the document.
func (d *Doc) Bookmark(text string) { d.pdf.Bookmark(printable(text), 0, 0) }

// CheckSquare draws the square of 100 mm that is measured before anything is cut, with what to
// do about it, and returns where that ends.
func (d *Doc) CheckSquare(x, y float64) float64 {
	const side = section.Square
	d.Box(x, y, side, side, 0.2)
	for i := 1; i < 10; i++ {
		tick := 2.0
		if i == 5 {
			tick = 4
		}
		d.Line(x+float64(10*i), y, x+float64(10*i), y+tick, 0.15)
		d.Line(x, y+float64(10*i), x+tick, y+float64(10*i), 0.15)
	}
	d.TextMiddle(x+side/2, y+side/2-6, Head, "100 mm")
	text := "Measure both sides before you cut. If they are not 100 mm, print again at 100 %, “actual size”, and type what you measured on the Paper sheet: it says by how much the printer scaled."
	d.Paragraph(x+12, y+side/2-2, side-24, Small, text)
	return y + side
}

// matrix takes the dots of a code.
type matrix struct{ dots [][]bool }

func (m *matrix) Write(mat qrcode.Matrix) error {
	m.dots = make([][]bool, mat.Height())
	for y := range m.dots {
		m.dots[y] = make([]bool, mat.Width())
	}
	mat.Iterate(qrcode.IterDirection_ROW, func(x, y int, v qrcode.QRValue) { m.dots[y][x] = v.IsSet() })
	return nil
}

func (m *matrix) Close() error { return nil }

// Dots are those of a two-dimensional code of a text.
func Dots(text string) ([][]bool, error) {
	code, err := qrcode.NewWith(text, qrcode.WithErrorCorrectionLevel(qrcode.ErrorCorrectionMedium))
	var m matrix
	if err == nil {
		err = code.Save(&m)
	}
	if err != nil {
		return nil, fmt.Errorf("making a code of “%s”: %w", text, err)
	}
	return m.dots, nil
}

// Code draws a two-dimensional code of a text into a square, dot by dot; around it four dots
// are to stay white.
func (d *Doc) Code(x, y, side float64, text string) {
	rows, err := Dots(text)
	if err != nil {
		d.err = err
		return
	}
	dot := side / float64(len(rows))
	d.pdf.SetFillColor(0, 0, 0)
	for row, dots := range rows {
		for from := 0; from < len(dots); from++ {
			to := from
			for to < len(dots) && dots[to] {
				to++
			}
			if to > from {
				d.pdf.Rect(x+float64(from)*dot, y+float64(row)*dot, float64(to-from)*dot, dot*1.01, "F")
				from = to
			}
		}
	}
}
