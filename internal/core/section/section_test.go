package section

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func fourDigit(t testing.TB, code string) Section {
	t.Helper()
	s, err := FourDigit(code)
	require.NoError(t, err)
	return s
}

// off is how far a point lies from a closed line.
func off(p Point, line []Point) float64 {
	best := math.Inf(1)
	for i := range line {
		best = min(best, toPiece(p, line[i], line[(i+1)%len(line)]))
	}
	return best
}

func TestFourDigitsByHand(t *testing.T) {
	t.Parallel()
	// 4415 at 40 %: there the camber line is level, 0.04 high. Half the thickness, worked out on
	// paper: 5·0.15·(0.2969·0.632456 − 0.0504 − 0.056256 + 0.0181952 − 0.0025984) = 0.0725377.
	upper, lower := fourDigitAt(0.04, 0.4, 0.15, 0.4)
	assert.InDelta(t, 0.1125377, upper.Y, 1e-6)
	assert.InDelta(t, -0.0325377, lower.Y, 1e-6)
	assert.InDelta(t, 0.4, upper.X, 1e-12)
	// 0012 at 30 %: 0.6·(0.2969·0.5477226 − 0.0378 − 0.031644 + 0.0076761 − 0.00082215) = 0.0600173.
	upper, _ = fourDigitAt(0, 0, 0.12, 0.3)
	assert.InDelta(t, 0.0600173, upper.Y, 1e-6)
	// The trailing edge of 15 %: 0.75·0.0021 = 0.001575 each way, square to a camber line that
	// falls by 2·0.04/0.36·0.6 = 0.13333: 0.00020815 along and 0.00156118 up.
	upper, lower = fourDigitAt(0.04, 0.4, 0.15, 1)
	assert.InDelta(t, 1.00020815, upper.X, 1e-7)
	assert.InDelta(t, 0.00156118, upper.Y, 1e-7)
	assert.InDelta(t, 0.99979185, lower.X, 1e-7)
}

func TestOutlineLiesWithinAHundredthOfAMillimetre(t *testing.T) {
	t.Parallel()
	for _, code := range []string{"0012", "2412", "4415", "6721", "0006", "9540"} {
		for _, chord := range []float64{180, 1180, 5000} {
			s := fourDigit(t, code)
			upper, lower := s.Sides(chord, 0)
			assert.GreaterOrEqual(t, len(upper), 201)
			assert.Len(t, lower, len(upper))
			m, p, th := float64(code[0]-'0')/100, float64(code[1]-'0')/10, float64(code[2]-'0')/10+float64(code[3]-'0')/100
			line := s.Outline(chord, 0)
			for i := 1; i < 3000; i += 7 {
				x := math.Pow(float64(i)/3000, 2) // dense at the nose
				u, l := fourDigitAt(m, p, th, x)
				require.Less(t, off(Point{u.X * chord, u.Y * chord}, line), 0.01, "%s, chord %g, x %g", code, chord, x)
				require.Less(t, off(Point{l.X * chord, l.Y * chord}, line), 0.01)
			}
		}
	}
}

func TestNoseUpTurnsTheChordLineDownBehind(t *testing.T) {
	t.Parallel()
	const chord, angle = 1180.0, 2.5
	line := fourDigit(t, "4415").Outline(chord, angle)
	assert.Equal(t, Point{}, line[0])
	// the trailing edge's middle at chord·(cos 2.5°, −sin 2.5°) = 1178.877, −51.471
	upper, lower := fourDigit(t, "4415").Sides(chord, angle)
	middle := between(upper[len(upper)-1], lower[len(lower)-1], 0.5)
	assert.InDelta(t, 1178.877, middle.X, 0.001)
	assert.InDelta(t, -51.471, middle.Y, 0.001)
	assert.False(t, crosses(line))
}

func TestWhatIsNoSectionOfFourDigits(t *testing.T) {
	t.Parallel()
	for code, says := range map[string]string{"": "four digits", "441": "four digits", "44a5": "four digits", "-415": "four digits", "+415": "four digits",
		"23012": "four digits", "4400": "no thickness", "4015": "leading edge itself"} {
		_, err := FourDigit(code)
		assert.ErrorContains(t, err, says, code)
	}
}

// coordinates writes a section of four digits as a file would have it.
func coordinates(code string, n int, leadFirst bool) string {
	m, p, th := float64(code[0]-'0')/100, float64(code[1]-'0')/10, float64(code[2]-'0')/10+float64(code[3]-'0')/100
	var up, low []Point
	for i := range n + 1 {
		u, l := fourDigitAt(m, p, th, (1-math.Cos(math.Pi*float64(i)/float64(n)))/2)
		up, low = append(up, u), append(low, l)
	}
	var b strings.Builder
	write := func(p Point) { fmt.Fprintf(&b, "%.9f %.9f\n", p.X, p.Y) }
	if leadFirst {
		for _, p := range up {
			write(p)
		}
		for i := n; i >= 0; i-- {
			write(low[i])
		}
	} else {
		for i := n; i >= 0; i-- {
			write(up[i])
		}
		for _, p := range low[1:] {
			write(p)
		}
	}
	return b.String()
}

func TestCoordinatesGoThroughEveryPointInEitherOrder(t *testing.T) {
	t.Parallel()
	for _, leadFirst := range []bool{true, false} {
		text := "# made up\n\n" + coordinates("4415", 40, leadFirst)
		s, err := Coordinates("made up", []byte(text))
		require.NoError(t, err)
		line := s.Outline(1000, 0)
		upper, lower := s.Sides(1000, 0)
		assert.GreaterOrEqual(t, min(len(upper), len(lower)), 200)
		points, _, err := readPoints([]byte(text))
		require.NoError(t, err)
		for _, p := range points {
			assert.Less(t, off(Point{p.X * 1000, p.Y * 1000}, line), 1e-6)
		}
		assert.Greater(t, upper[len(upper)/2].Y, lower[len(lower)/2].Y)
		worst := 0.0
		for i := range 1000 {
			u, l := fourDigitAt(0.04, 0.4, 0.15, float64(i)/1000)
			worst = max(worst, off(Point{u.X * 1000, u.Y * 1000}, line), off(Point{l.X * 1000, l.Y * 1000}, line))
		}
		assert.Less(t, worst, 0.1, "40 points a side give the curve between them to a tenth of a millimetre")
	}
}

func TestTheOtherSideFirstAndAnotherUnitGiveTheSameSection(t *testing.T) {
	t.Parallel()
	lines := strings.Split(strings.TrimSpace(coordinates("2412", 30, false)), "\n")
	var back strings.Builder
	for i := len(lines) - 1; i >= 0; i-- {
		var x, y float64
		_, err := fmt.Sscan(lines[i], &x, &y)
		require.NoError(t, err)
		sin, cos := math.Sincos(0.1) // in mm, moved and turned too
		fmt.Fprintf(&back, "%.9f\t%.9f\r\n", 50+300*(x*cos-y*sin), 7+300*(x*sin+y*cos))
	}
	a, err := Coordinates("", []byte(strings.Join(lines, "\n")))
	require.NoError(t, err)
	b, err := Coordinates("", []byte(back.String()))
	require.NoError(t, err)
	upperA, _ := a.Sides(1000, 0)
	lineB := b.Outline(1000, 0)
	for _, p := range upperA {
		// the edge found as the farthest point lies beside that given as 0,0
		assert.Less(t, off(p, lineB), 3.0)
	}
}

func TestCoordinatesThatAreNoSection(t *testing.T) {
	t.Parallel()
	good := coordinates("0012", 20, false)
	lines := strings.Split(strings.TrimSpace(good), "\n")
	swapped := append([]string{}, lines...)
	swapped[5], swapped[9] = swapped[9], swapped[5]
	for name, c := range map[string]struct{ text, says string }{
		"empty":        {"", "0 points"},
		"title":        {"Section 1\n" + good, "line 1"},
		"comma":        {"1,0 0,1\n" + good, "no number"},
		"three":        {"0.1 0.2 0.3\n" + good, "two numbers"},
		"not a number": {"nan 0\n" + good, "no number"},
		"endless":      {"inf 0\n" + good, "no number"},
		"hexadecimal":  {"0x1p0 0\n" + good, "no number"},
		"open":         {strings.Join(lines[:len(lines)-3], "\n"), "not closed"},
		"crossing":     {strings.Join(swapped, "\n"), "crosses"},
		"flat":         {"0 0\n0.2 0\n0.4 0\n1 0\n0.5 0\n0.3 0\n0 0", "crosses"},
		"no chord":     {"0 0\n0 1\n0 2\n0 3\n0 2.5\n0 1.5\n0 0", "no chord"},
		"middle":       {"0.5 0.1\n0 0\n0.5 -0.1\n1 0\n0.9 0.02\n0.8 0.04\n0.5 0.1", "middle"},
	} {
		_, err := Coordinates(name, []byte(c.text))
		assert.ErrorContains(t, err, c.says, name)
	}
	_, err := Coordinates("", []byte(strings.Repeat("0 0\n", 100000)))
	assert.ErrorContains(t, err, "kB")
}

func TestAPointedShapeKeepsItsCorners(t *testing.T) {
	t.Parallel()
	s, err := Coordinates("wedge", []byte("0 0\n0.3 0.06\n0.7 0.04\n1 0\n0.7 -0.02\n0.3 -0.03\n0 0\n"))
	require.NoError(t, err)
	line := s.Outline(500, 0)
	for _, p := range []Point{{0, 0}, {150, 30}, {350, 20}, {500, 0}, {350, -10}, {150, -15}} {
		assert.Less(t, off(p, line), 1e-9)
	}
	assert.False(t, crosses(line))
}

func TestBoard(t *testing.T) {
	t.Parallel()
	b := Board{Section: fourDigit(t, "4415"), Chord: 1180, Angle: 2.5, Height: 25, Notches: []Notch{{At: 330, Width: 60, Depth: 8}}}
	_, err := b.Validate()
	require.NoError(t, err)
	drawn := map[string][]Path{}
	for _, p := range b.Drawing() {
		drawn[p.Layer] = append(drawn[p.Layer], p)
	}
	require.Len(t, drawn[Profile], 1)
	require.True(t, drawn[Profile][0].Closed)
	_, high := Bounds(drawn[Profile][0].Points)
	edge := drawn[Edge][0].Points
	assert.InDelta(t, high.Y+25, edge[0].Y, 1e-9)
	assert.Equal(t, edge[0].Y, edge[1].Y, "level")
	assert.LessOrEqual(t, edge[0].X, 0.0)
	assert.GreaterOrEqual(t, edge[1].X, 1180*math.Cos(2.5*math.Pi/180))
	require.Len(t, drawn[Scale], 4)
	for _, p := range drawn[Scale] {
		_, top := Bounds(p.Points)
		low, _ := Bounds(drawn[Profile][0].Points)
		assert.Less(t, top.Y, low.Y, "clear of the section")
	}
	square := drawn[Scale][3]
	low, high := Bounds(square.Points)
	assert.Equal(t, Point{100, 100}, Point{high.X - low.X, high.Y - low.Y})

	cut := drawn[Cut][0]
	assert.False(t, crosses(cut.Points))
	on := 0
	for _, p := range cut.Points[2:] {
		assert.LessOrEqual(t, p.Y, edge[0].Y)
		if off(p, drawn[Profile][0].Points) < 1e-6 {
			on++
		}
	}
	assert.Greater(t, on, 180, "it lies on the upper side")
	// 330 mm aft: clear of the surface over 60·cos 2.5° = 59.94 mm
	mid := 330 * math.Cos(2.5*math.Pi/180)
	for i, p := range cut.Points {
		if q := cut.Points[(i+1)%len(cut.Points)]; p.X == q.X && p.X > mid-31 && p.X < mid+31 {
			assert.InDelta(t, 59.943/2, math.Abs(p.X-mid), 0.001)
		}
	}
}

func TestBoardsThatCannotBe(t *testing.T) {
	t.Parallel()
	s := fourDigit(t, "0012")
	for field, b := range map[string]Board{
		"section": {Chord: 100, Height: 20},
		"chord":   {Section: s, Chord: math.NaN(), Height: 20},
		"angle":   {Section: s, Chord: 100, Height: 20, Angle: 60},
		"height":  {Section: s, Chord: 100},
		"notch":   {Section: s, Chord: 100, Height: 20, Notches: []Notch{{At: 95, Width: 20, Depth: 3}}},
	} {
		got, err := b.Validate()
		assert.Error(t, err)
		assert.Equal(t, field, got)
	}
}

func FuzzCoordinates(f *testing.F) {
	f.Add(coordinates("4415", 20, true))
	f.Add("0 0\n0.3 0.06\n1 0\n0.5 -0.02\n0 0\n")
	f.Fuzz(func(t *testing.T, text string) {
		s, err := Coordinates("", []byte(text))
		if err != nil {
			return
		}
		for _, p := range s.Outline(1000, 3) {
			if math.IsNaN(p.X) || math.IsInf(p.X, 0) || math.IsNaN(p.Y) || math.IsInf(p.Y, 0) {
				t.Fatalf("a point of it is no number: %q", text)
			}
		}
	})
}
