// Package raster looks at PDFs as a printer would, by pdftoppm and pdfinfo, for tests.
package raster

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
)

// DPI is what pages are drawn at: 0.085 mm a dot.
const DPI = 300

// File puts a PDF into a file; the test is left out where there is no pdftoppm, but not in CI.
func File(t testing.TB, pdf []byte) string {
	t.Helper()
	if _, err := exec.LookPath("pdftoppm"); err != nil && os.Getenv("CI") == "" {
		t.Skip("pdftoppm is not here; make test installs it (poppler-utils)")
	}
	name := filepath.Join(t.TempDir(), "print.pdf")
	require.NoError(t, os.WriteFile(name, pdf, 0o600))
	return name
}

// Info is how many pages a PDF has, and their size in mm.
func Info(t testing.TB, pdf []byte) (pages int, w, h float64) {
	t.Helper()
	out, err := exec.Command("pdfinfo", File(t, pdf)).CombinedOutput()
	require.NoError(t, err, string(out))
	m := regexp.MustCompile(`(?s)Pages:\s+(\d+).*Page size:\s+([\d.]+) x ([\d.]+) pts`).FindSubmatch(out)
	require.NotNil(t, m, string(out))
	number := func(b []byte) float64 {
		v, err := strconv.ParseFloat(string(b), 64)
		require.NoError(t, err)
		return v
	}
	return int(number(m[1])), number(m[2]) * 25.4 / 72, number(m[3]) * 25.4 / 72
}

// Embedded tells whether every font of a PDF is in it.
func Embedded(t testing.TB, pdf []byte) bool {
	t.Helper()
	out, err := exec.Command("pdffonts", File(t, pdf)).Output()
	require.NoError(t, err)
	lines := bytes.Split(bytes.TrimSpace(out), []byte("\n"))
	for _, line := range lines[2:] {
		if !regexp.MustCompile(`\byes\s+(yes|no)\s+(yes|no)\s+\d+\s+\d+\s*$`).Match(line) {
			return false
		}
	}
	return len(lines) > 2
}

// Text is what can be read in a PDF.
func Text(t testing.TB, pdf []byte) string {
	t.Helper()
	out, err := exec.Command("pdftotext", "-layout", File(t, pdf), "-").Output()
	require.NoError(t, err)
	return string(out)
}

// Page is a page as a picture.
func Page(t testing.TB, pdf []byte, n int) image.Image {
	t.Helper()
	name := File(t, pdf)
	out, err := exec.Command("pdftoppm", "-r", fmt.Sprint(DPI), "-gray", "-png", "-f", fmt.Sprint(n), "-l", fmt.Sprint(n), "-singlefile", name, name).CombinedOutput()
	require.NoError(t, err, string(out))
	data, err := os.ReadFile(name + ".png")
	require.NoError(t, err)
	page, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	return page
}

// Dark tells whether a place of a page, in mm, is printed.
func Dark(page image.Image, x, y float64) bool {
	return dark(page, int(x/25.4*DPI), int(y/25.4*DPI))
}

func dark(page image.Image, x, y int) bool {
	g, _, _, _ := page.At(x, y).RGBA()
	return g < 0x8000
}

// Across finds where ink begins on the way along a row of the page, y in mm, between two
// places: the middle of every line that is crossed, in mm.
func Across(page image.Image, y, from, to float64) []float64 {
	return along(from, to, func(i int) bool { return dark(page, i, int(y/25.4*DPI)) })
}

// Down is Across along a column of the page.
func Down(page image.Image, x, from, to float64) []float64 {
	return along(from, to, func(i int) bool { return dark(page, int(x/25.4*DPI), i) })
}

func along(from, to float64, ink func(i int) bool) (out []float64) {
	start := -1
	for i := int(from / 25.4 * DPI); i <= int(to/25.4*DPI); i++ {
		switch inked := ink(i); {
		case inked && start < 0:
			start = i
		case !inked && start >= 0:
			out = append(out, (float64(start+i)/2)*25.4/DPI)
			start = -1
		}
	}
	return out
}
