package paper

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/paper/raster"
)

func heading(title string) Heading {
	return Heading{Title: title, Sub: "on the rails", Of: "Samphire S2, tailplane", Path: "/setups/d4d69f0b-118f-5953-ac21-02a5e6365a9f", Made: made}
}

// same asserts what every print has: the paper, its fonts in it.
func same(t *testing.T, size Size, pdf []byte) (pages int, text string) {
	t.Helper()
	pages, w, h := raster.Info(t, pdf)
	wantW, wantH := size.mm()
	assert.InDelta(t, wantW, w, 0.1)
	assert.InDelta(t, wantH, h, 0.1)
	assert.True(t, raster.Embedded(t, pdf), "fonts are embedded")
	return pages, raster.Text(t, pdf)
}

func TestABenchCardHasItsNumbersLimitsAndBoxes(t *testing.T) {
	c := Card{Heading: heading("Tailplane"), Checks: []CardCheck{{Name: "Twist", Kind: "twist along a surface", Limits: []string{"twist −0.10° to +0.10°"}, Notes: []string{"held down", "read by Жук and Καλλιόπη, with 漢"},
		Drawing: `<svg class="drawing" viewBox="0 0 800 300"><line class="edge" x1="10" y1="100" x2="790" y2="100"/><path class="surface" d="M10 100L400 50L790 100Z"/><circle class="balloon" cx="10" cy="200" r="13"/><text class="balloon-number" x="10" y="200">1</text><text class="middle" x="400" y="280">5 3/8 in &amp; more</text></svg>`}}}
	for i := range 40 {
		c.Checks[0].Lines = append(c.Checks[0].Lines, CardLine{Number: i + 1, Place: fmt.Sprintf("station %d, support under it", i+1), How: "display the same way round at every station"})
	}
	for _, size := range Sizes {
		pdf, err := c.Print(size)
		require.NoError(t, err)
		pages, text := same(t, size, pdf)
		assert.Equal(t, 3, pages)
		for _, want := range []string{"Twist", "−0.10° to +0.10°", "station 1,", "station 40,", "first placing", "/setups/d4d69f0b", "page 1 of 3", "page 3 of 3", "Жук", "Καλλιόπη", "<6F22>"} {
			assert.Contains(t, text, want)
		}
	}
	// a box is 24 mm wide on the print
	pdf, err := c.Print(A4)
	require.NoError(t, err)
	page := raster.Page(t, pdf, 2)
	lines := raster.Across(page, 150, 210-Margin-3*boxWidth-1, 210-Margin+1)
	require.GreaterOrEqual(t, len(lines), 4)
	assert.InDelta(t, 3*boxWidth, lines[len(lines)-1]-lines[0], 0.2)
}

// On a shop's network each check has a code of its own, which a phone opens.
func TestACheckOnACardHasACodeOfItsOwn(t *testing.T) {
	card := Card{Heading: heading("Tailplane"), Checks: []CardCheck{{Name: "Twist", Kind: "Twist along a surface", URL: "https://192.168.7.20:8443/setups/1?check=2", Lines: []CardLine{{Number: 1, Place: "left tip"}}}}}
	with, err := card.Print(A4)
	require.NoError(t, err)
	_, text := same(t, A4, with)
	assert.Contains(t, text, "The code opens this check on a phone of the shop.")
	card.Checks[0].URL = ""
	without, err := card.Print(A4)
	require.NoError(t, err)
	_, text = same(t, A4, without)
	assert.NotContains(t, text, "The code opens this check")
	dots, err := Dots("https://192.168.7.20:8443/setups/1?check=2")
	require.NoError(t, err)
	assert.Len(t, dots, len(dots[0]))
}

func TestTheSheetForTrustingHasStepsAndFingerprint(t *testing.T) {
	data, err := Trust{Heading: heading("Let a phone trust this shop"), Fingerprint: []string{"FB A6 DE C4", "FF 87 00 01"}, Until: "26 November 2036", Steps: []string{"Join the shop's network.", "Take the certificate."}}.Print(Letter)
	require.NoError(t, err)
	_, text := same(t, Letter, data)
	for _, says := range []string{"Join the shop", "Take the certificate.", "FB A6 DE C4", "FF 87 00 01", "26 November 2036"} {
		assert.Contains(t, text, says)
	}
}

func TestAHoldSheetTellsEvidenceApartWithoutColour(t *testing.T) {
	h := HoldSheet{Heading: heading("Drill the end holes"), Permanent: "the end holes", Why: "no hole is undrilled", State: "unsure", Closes: []string{"the nose bay"}, Releases: []string{"builder, 2 May: stands"},
		Lines: []HoldLine{{"met", "Rails", "surveyed today"}, {"stop", "Twist", strings.Repeat("0.34° and the limit is 0.10°. ", 12)}, {"missing", "Second person", "nobody looked"}}}
	for _, size := range Sizes {
		pdf, err := h.Print(size)
		require.NoError(t, err)
		pages, text := same(t, size, pdf)
		assert.Equal(t, 1, pages)
		for _, want := range []string{"Rails: met", "Twist: stop", "nobody looked", "inspector", "the nose bay"} {
			assert.Contains(t, text, want)
		}
	}
}

func rowMap(n int) RowMap {
	m := RowMap{Heading: heading("Boom row 3"), Plan: "solid 1/8, 42 holes"}
	for i := range n {
		h := MapHole{Number: i + 1, Along: 40 + 34*float64(i), Fastener: "solid 1/8 × 6.4 mm"}
		if i > n/2 {
			h.Fastener = "solid 1/8 × 7.9 mm"
		}
		h.Kept, h.State = i == 4, map[bool]string{true: "set", false: "open"}[i < 3]
		m.Holes = append(m.Holes, h)
	}
	return m
}

func TestARowMapCrossesKeptHolesOut(t *testing.T) {
	m := rowMap(42)
	for _, size := range Sizes {
		pdf, err := m.Print(size)
		require.NoError(t, err)
		pages, text := same(t, size, pdf)
		assert.Equal(t, 1, pages)
		assert.Contains(t, text, "stays open, do not set")
		assert.Contains(t, text, "42")
	}
	assert.Equal(t, map[string]int{"solid 1/8 × 6.4 mm": 0, "solid 1/8 × 7.9 mm": 1}, m.kinds())
}

// The distance from the first cross to the fourth, on the print, is that of the holes.
func TestADrillStripIsAtOneToOne(t *testing.T) {
	m := rowMap(30)
	pdf, err := m.Strip(A4)
	require.NoError(t, err)
	_, w, _ := raster.Info(t, pdf)
	assert.InDelta(t, 297, w, 0.1)
	page := raster.Page(t, pdf, 2)
	// the crosses' upright strokes, 3 mm above the line of the holes, begin 6 mm (a cross of a
	// kept hole) and 2 mm from the edge of the drawing
	up := raster.Across(page, Margin+2+6-3, Margin, 297-Margin)
	require.GreaterOrEqual(t, len(up), 4)
	assert.InDelta(t, 34, up[1]-up[0], 0.2)
	assert.InDelta(t, 3*34, up[3]-up[0], 0.2)
	_, err = RowMap{}.Strip(A4)
	assert.Error(t, err)
}

func TestLabelsAndAnEmptyShop(t *testing.T) {
	var labels []Label
	for i := range 25 {
		labels = append(labels, Label{Name: "S2-53-12", Big: "LEFT", Detail: "boom stringer, lot 77", Path: fmt.Sprint("/stores#", i)})
	}
	pdf, err := Labels(Letter, "Labels", labels, made)
	require.NoError(t, err)
	pages, text := same(t, Letter, pdf)
	assert.Equal(t, 2, pages)
	assert.Contains(t, text, "LEFT")
	pdf, err = Labels(A4, "Labels", nil, made)
	require.NoError(t, err)
	_, text = same(t, A4, pdf)
	assert.Contains(t, text, "nothing to label")
}

func TestTheBookSaysOnWhichPageAChapterBegins(t *testing.T) {
	b := Book{Heading: heading("The record of Samphire S2"), Last: "503:abc"}
	for i := range 6 {
		c := Chapter{Title: fmt.Sprint("Chapter ", i+1)}
		for k := range 40 * i {
			c.Parts = append(c.Parts, Section{Title: fmt.Sprint("part ", k), Lines: []string{"what was measured and decided"}})
		}
		b.Chapters = append(b.Chapters, c)
	}
	pdf, err := b.Print(A4)
	require.NoError(t, err)
	pages, text := same(t, A4, pdf)
	assert.Greater(t, pages, 20)
	sheets := strings.Split(text, "\f")
	assert.Contains(t, sheets[0], "503:abc")
	for i := range 6 {
		var page int
		for _, line := range strings.Split(sheets[0], "\n") {
			if strings.Contains(line, fmt.Sprint("Chapter ", i+1)) {
				_, err := fmt.Sscan(strings.TrimSpace(line)[len("Chapter 1"):], &page)
				require.NoError(t, err)
			}
		}
		assert.Contains(t, sheets[page-1], fmt.Sprint("Chapter ", i+1))
	}
	assert.Contains(t, sheets[pages-1], "Last entry of the journal: 503:abc")
}

func TestHostileDrawingsDrawNothingWorse(t *testing.T) {
	d := New(A4, false, "", made)
	d.Page()
	for _, svg := range []string{"", "<svg", `<svg viewBox="0 0 0 0"><line x1="1"/></svg>`, `<svg viewBox="0 0 NaN 1"><path d="M1 1"/></svg>`, `<svg viewBox="0 0 10 10"><path d="MLZ"/><circle r="-3"/><text>&bogus;</text></svg>`} {
		d.Drawn(svg, 10, 10, 100, 100)
	}
	_, err := d.Bytes()
	assert.NoError(t, err)
}

func TestAnEveningAndWashers(t *testing.T) {
	e := Evening{Heading: heading("A helper"), Together: []string{"rivet the nose skin, 1 h"}, Before: []string{"dimple the nose skin, 40 min"}}
	for _, size := range Sizes {
		pdf, err := e.Print(size)
		require.NoError(t, err)
		pages, text := same(t, size, pdf)
		assert.Equal(t, 1, pages)
		assert.Contains(t, text, "rivet the nose skin")
		assert.Contains(t, text, "What was done")
	}
	pdf, err := Discs(A4, 30, 6.5, 5, "30 mm outside", made)
	require.NoError(t, err)
	_, w, _ := raster.Info(t, pdf)
	assert.InDelta(t, 297, w, 0.1)
	// through the middle of the first washer: its outside, its hole (and the cross within)
	lines := raster.Across(raster.Page(t, pdf, 2), Margin+2+15+0.5, Margin, Margin+34)
	require.GreaterOrEqual(t, len(lines), 4)
	assert.InDelta(t, 30, lines[len(lines)-1]-lines[0], 0.2)
}
