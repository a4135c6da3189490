package paper

import (
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/say"
	"orpine/internal/core/section"
	"orpine/internal/paper/raster"
)

var made = time.Date(2026, 3, 14, 9, 0, 0, 0, time.UTC)

func board(t *testing.T) section.Board {
	t.Helper()
	s, err := section.FourDigit("4415")
	require.NoError(t, err)
	return section.Board{Section: s, Chord: 640, Angle: 2.5, Height: 20}
}

func TestABoardPrintsAtOneToOneOnEitherPaper(t *testing.T) {
	b := board(t)
	for size, want := range map[Size][2]float64{A4: {297, 210}, Letter: {279.4, 215.9}} {
		pdf, err := Board(b, "pdf", size, say.Reader{}, made)
		require.NoError(t, err)
		pages, w, h := raster.Info(t, pdf)
		assert.InDelta(t, want[0], w, 0.1)
		assert.InDelta(t, want[1], h, 0.1)
		// 640·cos 2.5° and some of the nose: 640 mm and 2 mm at each end on sheets of 273 (255.4)
		// that overlap by 10 mm are three; with 8.5 % of 640 mm and the edge they are one high
		assert.Equal(t, 1+3, pages)
		assert.True(t, raster.Embedded(t, pdf))

		cover := raster.Page(t, pdf, 1)
		lines := raster.Across(cover, Margin+14+95, Margin-3, Margin+103) // between two ticks of the left side
		assert.InDelta(t, section.Square, lines[len(lines)-1]-lines[0], 0.2)
		lines = raster.Down(cover, Margin+95, Margin+10, Margin+14+103)
		assert.InDelta(t, section.Square, lines[len(lines)-1]-lines[0], 0.2)
	}
}

func TestTheSheetsOfABoardShowTheSectionWhereItIs(t *testing.T) {
	b := board(t)
	pdf, err := Board(b, "pdf", A4, say.Reader{}, made)
	require.NoError(t, err)
	page := raster.Page(t, pdf, 3) // B1
	upper, _ := b.Section.Sides(b.Chord, b.Angle)
	var all []section.Point
	for _, p := range b.Drawing() {
		if p.Layer != section.Scale {
			all = append(all, p.Points...)
		}
	}
	low, high := section.Bounds(all)
	const w = 297 - 2*Margin
	x := low.X - 2 + (w - overlap) + 100 // 100 mm into the sheet
	var y float64
	for i := 1; i < len(upper); i++ {
		if upper[i].X >= x {
			y = upper[i].Y
			break
		}
	}
	level := b.Drawing()[1].Points[0].Y
	lines := raster.Down(page, Margin+100, Margin, 120)
	require.GreaterOrEqual(t, len(lines), 2)
	assert.InDelta(t, Margin+(high.Y+2)-level, lines[0], 0.2, "the edge")
	assert.InDelta(t, level-y, lines[1]-lines[0], 0.2, "from the edge down to the surface")
}

func TestTilesCoverADrawingOnce(t *testing.T) {
	for _, length := range []float64{10, 273, 273.5, 536, 1000, 2630, 2640} {
		tl := tile(section.Point{}, section.Point{X: length, Y: 10}, 273, 180)
		assert.GreaterOrEqual(t, tl.at(tl.columns-1, 0).X+273, length)
		if tl.columns > 1 {
			assert.Less(t, tl.at(tl.columns-2, 0).X+273, length, "no sheet too many for %g", length)
		}
	}
	assert.Equal(t, "A1", name(0, 0))
	assert.Equal(t, "AB3", name(27, 2))
}

func TestFractionsAreComposed(t *testing.T) {
	assert.Equal(t, []run{{text: "64\u2009"}, {text: "5", rise: raised}, {text: "\u2044"}, {text: "16", rise: lowered}, {text: " in"}}, runs("64 5/16 in"))
	assert.Equal(t, []run{{text: "12/10/2026"}}, runs("12/10/2026"), "a date is none")
	assert.Equal(t, []run{{text: "5", rise: raised}, {text: "\u2044"}, {text: "8", rise: lowered}}, runs(strings.TrimSpace(printable("⅝"))))
	d := New(A4, false, "", made)
	d.Page()
	assert.Less(t, d.Width("64 5/16", Body), d.Width("64 5 16", Body))
	assert.Equal(t, "a<5B57>b to c", printable("a字b → c"))
	assert.Equal(t, []run{{text: "tail "}, {text: "Жук", other: true}, {text: " and "}, {text: "Ψ", other: true}}, runs("tail Жук and Ψ"))
}

func TestALongWordIsCutAndNothingIsLost(t *testing.T) {
	d := New(Letter, false, "", made)
	d.Page()
	word := strings.Repeat("abcdefghij", 30)
	lines := d.Lines(60, Body, "before "+word+" after\n\nnew")
	assert.Equal(t, "before"+word+"afternew", strings.ReplaceAll(strings.Join(lines, ""), " ", ""))
	for _, l := range lines {
		assert.LessOrEqual(t, d.Width(l, Body), 60.0)
	}
}

func TestABoardOfAnInchAircraftSaysItsLengthsInInches(t *testing.T) {
	b := board(t)
	b.Chord = 46.5 * 25.4
	pdf, err := Board(b, "pdf", Letter, say.Reader{Inches: true}, made)
	require.NoError(t, err)
	text := raster.Text(t, pdf)
	assert.Contains(t, text, "in")
	assert.NotContains(t, text, "1181.1 mm")
	assert.Contains(t, text, "100 mm", "the square stays what it is")
}

func TestAPictureThatCannotBePrintedSpoilsNothing(t *testing.T) {
	b := Book{Heading: heading("The record"), Last: "1:a", Chapters: []Chapter{{Title: "One", Photos: []BookPhoto{{Name: "x", Kind: "jpeg", Caption: "the joggle", Data: []byte("\xff\xd8\xff\xe0 no picture")}}}}}
	pdf, err := b.Print(A4)
	require.NoError(t, err)
	assert.Contains(t, raster.Text(t, pdf), "the joggle (a picture of a kind that cannot be printed)")
}

func TestTheSameDocumentHasTheSameBytes(t *testing.T) {
	one, err := Board(board(t), "pdf", A4, say.Reader{}, made)
	require.NoError(t, err)
	two, err := Board(board(t), "pdf", A4, say.Reader{}, made)
	require.NoError(t, err)
	assert.Equal(t, one, two)
}

func TestWhatAPrinterDid(t *testing.T) {
	for _, c := range []struct {
		across, along float64
		says          string
		right         bool
	}{
		{100, 100, "1:1", true},
		{100.2, 99.9, "1:1", true},
		{97, 97, "97.0 %", false},
		{101, 100, "1.0 % wider than it is high", false},
	} {
		says, right := Scaled(c.across, c.along)
		assert.Contains(t, says, c.says)
		assert.Equal(t, c.right, right)
	}
	_, right := Scaled(math.NaN(), 100)
	assert.False(t, right)
}
