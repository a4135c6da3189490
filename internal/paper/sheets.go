package paper

import (
	"fmt"
	"math"
	"strings"
	"time"

	"orpine/internal/core/say"
	"orpine/internal/core/section"
)

// Page heads: what a sheet is of, and where it is found again.

// Heading is what stands at the head and foot of every page of a sheet.
type Heading struct {
	Title, Sub string
	Of         string // the aircraft and the assembly
	Path       string // of the sheet on the screen, in its code; "" for none
	Made       time.Time
}

// sheet writes pages that are filled from the top.
type sheet struct {
	*Doc
	of Heading
	y  float64
}

func newSheet(size Size, h Heading) *sheet {
	s := &sheet{Doc: New(size, false, h.Title, h.Made), of: h}
	s.next()
	return s
}

// codeSide is the side of a sheet's code.
const codeSide = 20

// next begins a page.
func (s *sheet) next() {
	s.Page()
	right := s.W - Margin
	if s.of.Path != "" {
		s.Code(right-codeSide, Margin, codeSide, s.of.Path)
		right -= codeSide + 4
	}
	s.y = Margin
	for _, line := range s.Lines(right-Margin, Title, s.of.Title) {
		s.y += Title.Leading()
		s.Text(Margin, s.y-2, Title, line)
	}
	s.y = s.Paragraph(Margin, s.y, right-Margin, Body, s.of.Sub)
	if s.of.Path != "" {
		s.y = max(s.y, Margin+codeSide)
	}
	s.y += 3
	s.Line(Margin, s.y, s.W-Margin, s.y, 0.4)
	s.y += 3
	foot := s.H - Margin + 2
	s.Line(Margin, foot-4, s.W-Margin, foot-4, 0.2)
	s.Text(Margin, foot, Small, strings.Trim(s.of.Of+" · "+s.of.Path, " ·"))
	s.TextRight(s.W-Margin, foot, Small, fmt.Sprintf("printed %s · page %d of %s", s.of.Made.Format("2 January 2006 15:04"), s.Pages(), allPages))
}

// room makes sure that so much is left on the page.
func (s *sheet) room(h float64) {
	if s.y+h > s.H-Margin-5 {
		s.next()
	}
}

func (s *sheet) head(text string) {
	s.room(Head.Leading() + 12)
	s.y += 2
	for _, line := range s.Lines(s.W-2*Margin, Head, text) {
		s.y += Head.Leading()
		s.Text(Margin, s.y-1.2, Head, line)
	}
	s.y += 1
}

func (s *sheet) say(style Style, text string) {
	for _, line := range s.Lines(s.W-2*Margin, style, text) {
		s.room(style.Leading())
		s.y += style.Leading()
		s.Text(Margin, s.y-0.25*style.Leading(), style, line)
	}
}

// Card is a bench card: what is read where, with boxes to write in.
type Card struct {
	Heading
	Checks []CardCheck
}

// CardCheck is one check of it.
type CardCheck struct {
	Name, Kind string
	URL        string   // that a phone opens; "" where none can
	Drawing    string   // SVG
	Limits     []string // in words
	Notes      []string // how it lies, what it is read with
	Lines      []CardLine
}

// CardLine is one spot: a number, by which it is typed in, and what to do there.
type CardLine struct {
	Number     int
	Place, How string
	Was        string // what stands there already
}

// Boxes for placings on a card.
const (
	boxes     = 3
	boxWidth  = 24.0
	boxHeight = 10.0
)

// Print makes a bench card.
func (c Card) Print(size Size) ([]byte, error) {
	s := newSheet(size, c.Heading)
	for i, check := range c.Checks {
		if i > 0 {
			s.next()
		}
		s.check(check)
	}
	s.y += 3
	s.room(16)
	s.say(Small, "Type it in on the sheet of the code: card order is the order of these numbers. Signs and sides as the lines say. Plans, kit maker, inspector and local rules come first.")
	return s.Bytes()
}

// checkCode is the side of the code of a check.
const checkCode = 16

func (s *sheet) check(c CardCheck) {
	if c.URL != "" {
		s.room(checkCode + 4)
		s.Code(s.W-Margin-checkCode, s.y+1, checkCode, c.URL)
	}
	top := s.y
	s.head(c.Name + ": " + c.Kind)
	if c.URL != "" {
		s.say(Small, "The code opens this check on a phone of the shop.")
		s.y = max(s.y, top+checkCode+2)
	}
	for _, n := range c.Notes {
		s.say(Small, n)
	}
	if c.Drawing != "" {
		h := s.Drawn(c.Drawing, Margin, s.y+1, s.W-2*Margin, 0.33*s.H)
		s.y += h + 3
	}
	if len(c.Limits) > 0 {
		s.say(Body, "Limits: "+strings.Join(c.Limits, "; ")+".")
	} else {
		s.say(Body, "Limits: none stated; there is no verdict without.")
	}
	s.say(Body, "Instrument ____________________  turned end for end today: first ________  turned ________   °C ______   hand ____________")
	s.y += 2
	s.lineHead()
	for _, l := range c.Lines {
		s.cardLine(l)
	}
}

func (s *sheet) lineHead() {
	x := s.W - Margin - boxes*boxWidth
	for i := range boxes {
		s.TextMiddle(x+(float64(i)+0.5)*boxWidth, s.y+3, Small, []string{"first placing", "second", "third"}[i])
	}
	s.y += 4
}

func (s *sheet) cardLine(l CardLine) {
	x := s.W - Margin - boxes*boxWidth
	width := x - Margin - 14
	place, how := s.Lines(width, Body, l.Place), s.Lines(width, Small, l.How)
	if l.How == "" {
		how = nil
	}
	h := max(boxHeight, float64(len(place))*Body.Leading()+float64(len(how))*Small.Leading()+2)
	if s.y+h > s.H-Margin-5 {
		s.next()
		s.lineHead()
	}
	s.Circle(Margin+5, s.y+5, 4, 0.3, false)
	s.TextMiddle(Margin+5, s.y+6.3, Style{9, true}, fmt.Sprint(l.Number))
	y := s.y
	for _, line := range place {
		y += Body.Leading()
		s.Text(Margin+12, y-1.2, Body, line)
	}
	for _, line := range how {
		y += Small.Leading()
		s.Text(Margin+12, y-1, Small, line)
	}
	for i := range boxes {
		s.Box(x+float64(i)*boxWidth, s.y, boxWidth, h, 0.25)
	}
	if l.Was != "" {
		s.TextMiddle(x+boxWidth/2, s.y+h/2+1, Small, l.Was)
	}
	s.y += h
}

// HoldSheet is what must be shown before a step is taken.
type HoldSheet struct {
	Heading
	Permanent, Why, State string
	Lines                 []HoldLine
	Closes                []string
	Releases              []string
	Drawing               string
}

// HoldLine is one piece of evidence.
type HoldLine struct{ Standing, What, Why string }

// Print makes a hold sheet, with room to sign.
func (h HoldSheet) Print(size Size) ([]byte, error) {
	s := newSheet(size, h.Heading)
	s.head("Becomes permanent")
	s.say(Body, h.Permanent)
	s.say(Small, h.Why)
	for _, c := range h.Closes {
		s.say(Body, "Closes "+c)
	}
	s.head("What must be shown: " + h.State)
	for _, l := range h.Lines {
		s.evidence(l)
	}
	if h.Drawing != "" {
		s.room(70)
		s.y += s.Drawn(h.Drawing, Margin, s.y+2, s.W-2*Margin, 60) + 4
	}
	if len(h.Releases) > 0 {
		s.head("Releases")
		for _, r := range h.Releases {
			s.say(Body, r)
		}
	}
	s.head("Signed on paper")
	s.say(Body, "It was looked at, and what stands above is so:")
	for _, who := range []string{"builder", "second person", "inspector"} {
		s.room(14)
		s.y += 11
		s.Line(Margin, s.y, Margin+90, s.y, 0.2)
		s.Line(Margin+100, s.y, s.W-Margin, s.y, 0.2)
		s.Text(Margin, s.y+4, Small, who)
		s.Text(Margin+100, s.y+4, Small, "day and hour")
		s.y += 4
	}
	s.y += 3
	s.say(Small, "A release counts once it is in the record; this sheet is for the bench and the folder. Plans, kit maker, inspector and local rules come first.")
	return s.Bytes()
}

// evidence is told apart by its mark, and by its word: met is filled, a stop is crossed.
func (s *sheet) evidence(l HoldLine) {
	width := s.W - 2*Margin - 12
	what, why := s.Lines(width, Style{10, true}, l.What+": "+l.Standing), s.Lines(width, Small, l.Why)
	s.room(float64(len(what))*Body.Leading() + float64(len(why))*Small.Leading() + 2)
	x, y := Margin+4.0, s.y+4.0
	s.Circle(x, y, 3, 0.4, l.Standing == "met" || l.Standing == "go")
	if l.Standing == "stop" {
		s.Line(x-2.1, y-2.1, x+2.1, y+2.1, 0.5)
		s.Line(x-2.1, y+2.1, x+2.1, y-2.1, 0.5)
	}
	for _, line := range what {
		s.y += Body.Leading()
		s.Text(Margin+12, s.y-1.2, Style{10, true}, line)
	}
	for _, line := range why {
		s.y += Small.Leading()
		s.Text(Margin+12, s.y-1, Small, line)
	}
	s.y += 2
}

// RowMap is a row of holes to be worked from paper.
type RowMap struct {
	Heading
	Reader say.Reader
	Plan   string
	Holes  []MapHole
	Notes  []string
}

// MapHole is one hole of it.
type MapHole struct {
	Number        int
	Along, Across float64 // mm
	State         string
	Kept          bool
	Fastener      string // "": not known
}

// shapes tell lengths apart: a circle, a square, a triangle, a diamond, a hexagon.
var shapes = []string{"circle", "square", "triangle", "diamond", "hexagon"}

// Print makes a row map: the strip in lines that fit the page, every hole with its number; kept
// holes are crossed out, done ones filled, and what goes in is told apart by shape.
func (m RowMap) Print(size Size) ([]byte, error) {
	s := newSheet(size, m.Heading)
	s.say(Body, m.Plan)
	for _, n := range m.Notes {
		s.say(Small, n)
	}
	kinds := m.kinds()
	s.legend(kinds)
	const each, rows = 16, 24.0
	for from := 0; from < len(m.Holes); from += each {
		s.room(rows + 6)
		y := s.y + 10
		s.Line(Margin, y, s.W-Margin, y, 0.1)
		step := (s.W - 2*Margin) / each
		for i, h := range m.Holes[from:min(from+each, len(m.Holes))] {
			s.mapHole(h, kinds[h.Fastener], Margin+(float64(i)+0.5)*step, y)
		}
		s.y += rows
	}
	s.head("Bad ones: number and cause")
	for range 3 {
		s.room(10)
		s.y += 9
		s.Line(Margin, s.y, s.W-Margin, s.y, 0.2)
	}
	return s.Bytes()
}

// kinds numbers the fasteners by their shape, in the order in which they come.
func (m RowMap) kinds() map[string]int {
	out := map[string]int{}
	for _, h := range m.Holes {
		if _, there := out[h.Fastener]; !there && h.Fastener != "" {
			out[h.Fastener] = len(out)
		}
	}
	return out
}

func (s *sheet) legend(kinds map[string]int) {
	names := make([]string, len(kinds))
	for name, i := range kinds {
		names[i] = name
	}
	for i, name := range names {
		s.room(9)
		s.shape(i, Margin+4, s.y+4, 2.6, false)
		s.Text(Margin+10, s.y+5.2, Body, name)
		s.y += 8
	}
	s.room(9)
	s.shape(0, Margin+4, s.y+4, 2.6, true)
	s.Text(Margin+10, s.y+5.2, Body, "filled: set")
	s.shape(0, Margin+64, s.y+4, 2.6, false)
	s.cross(Margin+64, s.y+4)
	s.Text(Margin+70, s.y+5.2, Body, "crossed out: stays open, do not set")
	s.y += 12
}

func (s *sheet) cross(x, y float64) {
	s.Line(x-4, y-4, x+4, y+4, 0.5)
	s.Line(x-4, y+4, x+4, y-4, 0.5)
}

// shape draws the nth shape; beyond the last they begin anew with a dot inside.
func (s *sheet) shape(n int, x, y, r float64, filled bool) {
	sides := map[string]int{"square": 4, "triangle": 3, "diamond": 4, "hexagon": 6}[shapes[n%len(shapes)]]
	turn := map[string]float64{"square": math.Pi / 4, "triangle": -math.Pi / 2, "diamond": 0, "hexagon": 0}[shapes[n%len(shapes)]]
	if sides == 0 {
		s.Circle(x, y, r, 0.3, filled)
	} else {
		points := make([]section.Point, sides)
		for i := range points {
			sin, cos := math.Sincos(turn + 2*math.Pi*float64(i)/float64(sides))
			points[i] = section.Point{X: x + 1.25*r*cos, Y: y + 1.25*r*sin}
		}
		if filled {
			s.Fill(points)
		}
		s.Path(points, true, 0.3)
	}
	if n >= len(shapes) && !filled {
		s.Circle(x, y, 0.6, 0.2, true)
	}
}

func (s *sheet) mapHole(h MapHole, kind int, x, y float64) {
	s.shape(kind, x, y, 2.6, h.State == "set")
	if h.Kept {
		s.cross(x, y)
	}
	s.TextMiddle(x, y+8, Small, fmt.Sprint(h.Number))
	if h.State == "bad" || h.State == "abandoned" {
		s.TextMiddle(x, y+11.5, Style{6, false}, h.State)
	}
}

// Strip prints a row of holes at 1:1, a cross at each, to be laid on the part: checked against
// the part's own measure before anything is drilled.
func (m RowMap) Strip(size Size) ([]byte, error) {
	var paths []section.Path
	for _, h := range m.Holes {
		at := section.Point{X: h.Along, Y: h.Across}
		paths = append(paths, section.Path{Points: []section.Point{{X: at.X - 4, Y: at.Y}, {X: at.X + 4, Y: at.Y}}}, section.Path{Points: []section.Point{{X: at.X, Y: at.Y - 4}, {X: at.X, Y: at.Y + 4}}})
		circle := make([]section.Point, 24)
		for i := range circle {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / 24)
			circle[i] = section.Point{X: at.X + 1.6*cos, Y: at.Y + 1.6*sin}
		}
		paths = append(paths, section.Path{Closed: true, Points: circle})
		if h.Kept {
			paths = append(paths, section.Path{Points: []section.Point{{X: at.X - 6, Y: at.Y - 6}, {X: at.X + 6, Y: at.Y + 6}}}, section.Path{Points: []section.Point{{X: at.X - 6, Y: at.Y + 6}, {X: at.X + 6, Y: at.Y - 6}}})
		}
	}
	if len(paths) == 0 {
		return nil, fmt.Errorf("there are no holes in this row")
	}
	first, last := m.Holes[0], m.Holes[len(m.Holes)-1]
	facts := []string{m.Of + ", " + m.Sub, m.Reader.Text(fmt.Sprintf("%d holes from %d to %d; the first at %s, the last at %s along the row. Crossed out: stays open.", len(m.Holes), first.Number, last.Number, say.Length(first.Along), say.Length(last.Along))),
		"Measure from the first cross to the last on the paper and on the part before a hole is drilled: paper grows and shrinks, and errors add up along a row."}
	return Drawing(size, m.Title+": drill strip", facts, paths, m.Made)
}

// Label is one for a part or a box.
type Label struct{ Name, Big, Detail, Path string }

// Labels prints labels of 63 by 38 mm, three beside each other, each with its code.
func Labels(size Size, title string, labels []Label, at time.Time) ([]byte, error) {
	d := New(size, false, title, at)
	const w, h = 62.0, 38.0
	down := int((d.H - 2*Margin) / h)
	for i, l := range labels {
		place := i % (3 * down)
		if place == 0 {
			d.Page()
		}
		x, y := Margin+float64(place%3)*w, Margin+float64(place/3)*h
		d.Box(x, y, w-1, h-1, 0.1)
		text := w - 5.0
		if l.Path != "" {
			d.Code(x+w-19, y+h-19, 16, l.Path)
			text = w - 24
		}
		d.Within(x, y, w-1, h-1, func() {
			ny := d.Paragraph(x+2, y+1.5, w-5, Style{11, true}, l.Name)
			ny = d.Paragraph(x+2, ny, w-5, Style{13, true}, l.Big)
			d.Paragraph(x+2, ny, text, Small, l.Detail)
		})
	}
	if len(labels) == 0 {
		d.Page()
		d.Text(Margin, Margin+6, Body, "There is nothing to label yet.")
	}
	return d.Bytes()
}

// Book is the record of an aircraft as a book.
type Book struct {
	Heading
	Chapters []Chapter
	Last     string // number and hash of the last entry of the journal
}

// Chapter is one of its chapters.
type Chapter struct {
	Title  string
	Parts  []Section
	Photos []BookPhoto
}

// Section is a heading with lines.
type Section struct {
	Title string
	Lines []string
}

// BookPhoto is a picture in it.
type BookPhoto struct {
	Name, Kind, Caption string
	Data                []byte
}

// Print makes the book: contents, chapters, and where the journal ended.
func (b Book) Print(size Size) ([]byte, error) {
	starts := make([]int, len(b.Chapters))
	b.write(size, starts) // to find the pages that stand in the contents
	return b.write(size, starts).Bytes()
}

// write writes the book with the pages that its chapters begin on, and finds them.
func (b Book) write(size Size, starts []int) *sheet {
	s := newSheet(size, b.Heading)
	s.head("Contents")
	for i, c := range b.Chapters {
		s.room(Body.Leading() + 1)
		s.y += Body.Leading() + 1
		s.Text(Margin, s.y-1, Body, c.Title)
		s.TextRight(s.W-Margin, s.y-1, Body, fmt.Sprint(starts[i]))
	}
	s.y += 4
	s.say(Small, "The journal ended at entry "+b.Last+" when this was printed: keep the number and the hash on paper, and give them to “verify --last” to see that nothing was cut off or written anew since.")
	for i, c := range b.Chapters {
		s.next()
		starts[i] = s.Pages()
		s.chapter(c)
	}
	s.y += 6
	s.say(Style{9, true}, "Last entry of the journal: "+b.Last)
	return s
}

func (s *sheet) chapter(c Chapter) {
	s.Bookmark(c.Title)
	s.room(Title.Leading() + 20)
	s.y += Title.Leading()
	s.Text(Margin, s.y-1, Title, c.Title)
	s.y += 2
	for _, p := range c.Parts {
		if p.Title != "" {
			s.head(p.Title)
		}
		for _, l := range p.Lines {
			s.say(Body, l)
		}
	}
	for _, p := range c.Photos {
		s.room(86)
		h := s.Picture(p.Name, p.Kind, p.Data, Margin, s.y+2, s.W-2*Margin, 78)
		if s.y += h + 3; h == 0 {
			p.Caption += " (a picture of a kind that cannot be printed)"
		}
		s.say(Small, p.Caption)
	}
}

// Evening is what two people do in an evening, with boxes to tick.
type Evening struct {
	Heading
	Together, Before, Bring []string
}

// Print makes the page of an evening.
func (e Evening) Print(size Size) ([]byte, error) {
	s := newSheet(size, e.Heading)
	for _, part := range []struct {
		title string
		lines []string
		none  string
	}{{"Prepare alone before", e.Before, "Nothing."}, {"Lay out before anybody comes", e.Bring, "Light, gloves, muffs and goggles."}, {"To be done together", e.Together, "Nothing waits for a helper then."}} {
		s.head(part.title)
		for _, l := range part.lines {
			s.tick(l)
		}
		if len(part.lines) == 0 {
			s.say(Body, part.none)
		}
	}
	s.head("What was done, from when to when, by whom")
	for range 6 {
		s.room(10)
		s.y += 9
		s.Line(Margin, s.y, s.W-Margin, s.y, 0.2)
	}
	s.y += 3
	s.say(Small, "Lifting, turning and mating: count the people. Muffs for riveting; tools, light and clecos laid out before anybody comes.")
	return s.Bytes()
}

// tick is an empty square, with words beside it.
func (s *sheet) tick(text string) {
	lines := s.Lines(s.W-2*Margin-9, Body, text)
	s.room(float64(len(lines))*Body.Leading() + 2)
	s.Box(Margin, s.y+0.8, 4.2, 4.2, 0.3)
	for _, line := range lines {
		s.y += Body.Leading()
		s.Text(Margin+8, s.y-0.25*Body.Leading(), Body, line)
	}
	s.y += 1.4
}

// Trust is how a phone comes to trust the shop's own certificate.
type Trust struct {
	Heading
	Fingerprint []string // lines
	Until       string
	Steps       []string
}

// Print prints the sheet.
func (t Trust) Print(size Size) ([]byte, error) {
	s := newSheet(size, t.Heading)
	for i, step := range t.Steps {
		s.room(12)
		s.y = s.Paragraph(Margin, s.y+1, 8, Head, fmt.Sprint(i+1))
		s.y -= Head.Leading()
		s.y = s.Paragraph(Margin+10, s.y, s.W-2*Margin-10, Body, step) + 2
	}
	s.room(40)
	s.head("Fingerprint (SHA-256)")
	for _, line := range t.Fingerprint {
		s.say(Head, line)
	}
	s.say(Small, "It vouches only for addresses of private networks and names under .local, until "+t.Until+". Take it off the phone again when the phone no longer belongs to the shop.")
	return s.Bytes()
}
