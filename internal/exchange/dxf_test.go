package exchange

import (
	"encoding/xml"
	"io"
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/section"
)

// readDXF reads polylines as another program would: pairs of a code and a value.
func readDXF(t *testing.T, data []byte) (release string, lines map[string][]section.Path) {
	t.Helper()
	text := strings.Split(strings.TrimSuffix(string(data), "\r\n"), "\r\n")
	require.Zero(t, len(text)%2, "codes and values come in pairs")
	lines = map[string][]section.Path{}
	var now *section.Path
	inVertex, last := false, ""
	for i := 0; i < len(text); i += 2 {
		code, err := strconv.Atoi(strings.TrimSpace(text[i]))
		require.NoError(t, err)
		value := text[i+1]
		switch {
		case code == 9:
			last = value
		case code == 1 && last == "$ACADVER":
			release = value
		case code == 0 && value == "POLYLINE":
			now, inVertex = &section.Path{}, false
		case code == 0 && value == "VERTEX":
			inVertex = true
			now.Points = append(now.Points, section.Point{})
		case code == 0 && value == "SEQEND":
			lines[now.Layer] = append(lines[now.Layer], *now)
			now = nil
		case now == nil:
		case code == 8:
			now.Layer = value
		case code == 70:
			now.Closed = value == "1"
		case inVertex && (code == 10 || code == 20):
			v, err := strconv.ParseFloat(value, 64)
			require.NoError(t, err)
			if p := &now.Points[len(now.Points)-1]; code == 10 {
				p.X = v
			} else {
				p.Y = v
			}
		}
	}
	assert.Equal(t, "EOF", text[len(text)-1])
	return release, lines
}

func boardOf(t *testing.T) section.Board {
	t.Helper()
	s, err := section.FourDigit("2412")
	require.NoError(t, err)
	return section.Board{Section: s, Chord: 1180, Angle: -1, Height: 30}
}

func TestDXFHoldsTheSectionInMillimetres(t *testing.T) {
	b := boardOf(t)
	release, lines := readDXF(t, DXF(b.Drawing()))
	assert.Equal(t, "AC1009", release)
	require.Len(t, lines[section.Profile], 1)
	profile := lines[section.Profile][0]
	assert.True(t, profile.Closed)
	assert.GreaterOrEqual(t, len(profile.Points), 400)
	want := b.Section.Outline(1180, -1)
	require.Len(t, profile.Points, len(want))
	for i, p := range profile.Points {
		require.InDelta(t, 0, math.Hypot(p.X-want[i].X, p.Y-want[i].Y), 1e-4)
	}
	_, high := section.Bounds(profile.Points)
	require.Len(t, lines[section.Edge], 1)
	assert.InDelta(t, high.Y+30, lines[section.Edge][0].Points[0].Y, 1e-3)
}

func TestSVGIsWellFormedAndInMillimetres(t *testing.T) {
	svg := string(SVG(boardOf(t).Drawing(), `a <board> & "more"`))
	assert.Regexp(t, `^<svg [^>]*width="[\d.]+mm" height="[\d.]+mm" viewBox="0 0 [\d.]+ [\d.]+"`, svg)
	decoder := xml.NewDecoder(strings.NewReader(svg))
	groups := 0
	for {
		token, err := decoder.Token()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		if e, ok := token.(xml.StartElement); ok && e.Name.Local == "g" {
			groups++
		}
	}
	assert.Equal(t, 4, groups)
}
