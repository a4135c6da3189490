package section

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
)

// MaxBytes and mostPoints bound a file of coordinates; leastPoints make an outline.
const (
	MaxBytes    = 256 << 10
	mostPoints  = 4000
	leastPoints = 6
)

// open is how far apart the ends of an outline may lie, in chords.
const open = 0.01

// Coordinates reads a section from lines of `x y`: from the leading edge over one side to the
// trailing edge and back over the other, or from the trailing edge to the leading edge and
// back. Whatever unit they are in, the section is scaled and turned so that its leading edge
// lies at 0,0 and the middle of its trailing edge at 1,0; a point given as exactly 0 0 is the
// leading edge. Empty lines and those that begin with # are passed over. The error names the
// line, or what is wrong with the outline: it crosses itself, or its ends lie further apart
// than 1 % of the chord.
func Coordinates(name string, data []byte) (Section, error) {
	points, lines, err := readPoints(data)
	if err != nil {
		return Section{}, err
	}
	return outline(name, points, lines)
}

func readPoints(data []byte) (points []Point, lines []int, err error) {
	if len(data) > MaxBytes {
		return nil, nil, fmt.Errorf("the file is over %d kB; a section has some hundred lines", MaxBytes>>10)
	}
	scan := bufio.NewScanner(bytes.NewReader(bytes.TrimPrefix(data, []byte("\ufeff"))))
	for n := 1; scan.Scan(); n++ {
		text := strings.TrimSpace(scan.Text())
		if text == "" || text[0] == '#' {
			continue
		}
		p, err := readPoint(text)
		if err != nil {
			return nil, nil, fmt.Errorf("line %d, “%s”: %w", n, short(text), err)
		}
		if len(points) > 0 && points[len(points)-1] == p {
			continue
		}
		if points, lines = append(points, p), append(lines, n); len(points) > mostPoints {
			return nil, nil, fmt.Errorf("there are more than %d points", mostPoints)
		}
	}
	if err := scan.Err(); err != nil {
		return nil, nil, fmt.Errorf("reading the lines: %w", err)
	}
	if len(points) < leastPoints {
		return nil, nil, fmt.Errorf("there are %d points; a section needs %d or more, one `x y` a line", len(points), leastPoints)
	}
	return points, lines, nil
}

func short(text string) string {
	if r := []rune(text); len(r) > 40 {
		return string(r[:39]) + "…"
	}
	return text
}

func readPoint(text string) (p Point, err error) {
	fields := strings.Fields(text)
	if len(fields) != 2 {
		return p, errors.New("two numbers are wanted, x and y, with a space between (a line that is no point begins with #)")
	}
	for i, into := range []*float64{&p.X, &p.Y} {
		v, err := strconv.ParseFloat(fields[i], 64)
		if err != nil || math.IsNaN(v) || math.Abs(v) > 1e6 || strings.ContainsAny(fields[i], "xXpP_") {
			return p, fmt.Errorf("“%s” is no number (a decimal point is wanted, as in 0.125)", short(fields[i]))
		}
		*into = v
	}
	return p, nil
}

// outline puts points in order: which edge they begin at, where the other one is, which side
// is the upper one.
func outline(name string, points []Point, lines []int) (Section, error) {
	first, last := points[0], points[len(points)-1]
	fore, aft := first.X, first.X
	for _, p := range points {
		fore, aft = min(fore, p.X), max(aft, p.X)
	}
	chord := aft - fore
	if !(chord > 0) {
		return Section{}, errors.New("all points have the same x: there is no chord")
	}
	if gap := distance(first, last); gap > open*chord {
		return Section{}, fmt.Errorf("the outline is not closed: its first point (line %d) and its last (line %d) lie %.1f %% of the chord apart, and 1 %% is allowed. It is to run from one edge to the other and back", lines[0], lines[len(lines)-1], 100*gap/chord)
	}
	ring := points
	if first == last {
		ring = points[:len(points)-1]
	}
	if len(ring) < leastPoints {
		return Section{}, fmt.Errorf("there are %d different points; a section needs %d or more", len(ring), leastPoints)
	}
	if i, j, yes := crossing(ring); yes {
		return Section{}, fmt.Errorf("the outline crosses or touches itself: what goes on from line %d meets what goes on from line %d", lines[i], lines[j])
	}
	var one, other []Point // from the leading edge aft
	switch {
	case first.X-fore < 0.25*chord:
		i, j := farthest(points, first)
		one, other = points[:i+1], slices.Clone(points[j:])
		slices.Reverse(other)
		other[0] = first
	case aft-first.X < 0.25*chord:
		i := nose(points, between(first, last, 0.5))
		one, other = slices.Clone(points[:i+1]), points[i:]
		slices.Reverse(one)
	default:
		return Section{}, fmt.Errorf("line %d lies in the middle of the chord: the points are to begin at the leading edge or at the trailing edge", lines[0])
	}
	if len(one) < 3 || len(other) < 3 {
		return Section{}, errors.New("one of the two sides has no points between the edges")
	}
	one, other = unit(one, other)
	if area(closed(one, other)) > 0 { // runs to the left: the first side is the lower one
		one, other = other, one
	}
	return Section{Name: name, sides: through(one, other)}, nil
}

// farthest is the trailing edge of points that begin at the leading edge: where it lies in
// them, twice the same for a sharp one, or both corners of a blunt one.
func farthest(points []Point, from Point) (i, j int) {
	for k, p := range points {
		if distance(p, from) > distance(points[i], from) {
			i = k
		}
	}
	chord := distance(points[i], from)
	blunt := func(k int) bool {
		if k < 0 || k >= len(points) {
			return false
		}
		dx, dy := math.Abs(points[k].X-points[i].X), math.Abs(points[k].Y-points[i].Y)
		return distance(points[k], points[i]) < open*chord && dx < dy/2
	}
	switch {
	case blunt(i + 1):
		return i, i + 1
	case blunt(i - 1):
		return i - 1, i
	}
	return i, i
}

// nose is the leading edge of points that begin at the trailing edge.
func nose(points []Point, tail Point) (at int) {
	for k, p := range points {
		if p == (Point{}) {
			return k
		}
		if distance(p, tail) > distance(points[at], tail) {
			at = k
		}
	}
	return at
}

// unit puts the leading edge at 0,0 and the middle of the trailing edge at 1,0.
func unit(one, other []Point) (a, b []Point) {
	lead, tail := one[0], between(one[len(one)-1], other[len(other)-1], 0.5)
	dx, dy := tail.X-lead.X, tail.Y-lead.Y
	if math.Abs(dx-1) < 1e-9 && math.Abs(dy) < 1e-9 { // it is so already: not a digit changes
		dx, dy = 1, 0
	}
	square := dx*dx + dy*dy
	move := func(side []Point) []Point {
		out := make([]Point, len(side))
		for i, p := range side {
			x, y := p.X-lead.X, p.Y-lead.Y
			out[i] = Point{(x*dx + y*dy) / square, (y*dx - x*dy) / square}
		}
		return out
	}
	return move(one), move(other)
}

// area is what a closed line encloses, positive where it runs to the left.
func area(line []Point) (sum float64) {
	for i, p := range line {
		q := line[(i+1)%len(line)]
		sum += p.X*q.Y - q.X*p.Y
	}
	return sum / 2
}
