package section

import (
	"errors"
	"fmt"
	"math"

	"orpine/internal/core/say"
)

// Board is an incidence board: it lies on the upper side of a section of that chord, and its
// straight edge is level when the chord line stands nose up by Angle.
type Board struct {
	Section Section
	Chord   float64 // mm
	Angle   float64 // degrees, nose up
	Height  float64 // mm, of the edge above the highest point of the section
	Notches []Notch
}

// Notch is a place where the board stays clear of the surface: over a spar cap or a row of heads.
type Notch struct {
	At, Width, Depth float64 // mm: its middle aft of the leading edge along the chord, its width, and how far it is cut back from the surface
}

// Square is the side of the square that is measured before anything is cut, and the length of
// the scale bar, in mm.
const Square = 100

// Path is one line of a drawing, in mm.
type Path struct {
	Layer  string
	Closed bool
	Points []Point
}

// The layers of a board's drawing.
const (
	Profile = "PROFILE" // the section
	Edge    = "EDGE"    // the straight level edge
	Scale   = "SCALE"   // the bar and the square
	Cut     = "BOARD"   // what is cut out: the edge, both ends and the upper side with its notches
)

// Validate says what of a board cannot be, by the name of the field.
func (b Board) Validate() (field string, err error) {
	switch {
	case b.Section.sides == nil:
		return "section", errors.New("a section is wanted: four digits, or a file of coordinates")
	case !(b.Chord >= 20) || b.Chord > 10000:
		return "chord", fmt.Errorf("a chord of %s cannot be drawn; %s to %s can", say.Length(b.Chord), say.Written(20), say.Written(10_000))
	case !(math.Abs(b.Angle) <= 45):
		return "angle", fmt.Errorf("an angle of %s is more than a board is made for; up to %s is", say.Angle(b.Angle), say.Angle(45).Fine(0))
	case !(b.Height > 0) || b.Height > 2000:
		return "height", fmt.Errorf("the edge is to lie above the section, by up to %s; not by %s", say.Written(2000), say.Length(b.Height))
	}
	for _, n := range b.Notches {
		switch {
		case !(n.Width > 0) || !(n.Depth > 0):
			return "notch", errors.New("a cut-out has a width and a depth")
		case n.At-n.Width/2 < 0 || n.At+n.Width/2 > b.Chord:
			return "notch", fmt.Errorf("a cut-out from %s to %s does not lie on the chord of %s", say.Length(n.At-n.Width/2).Bare(), say.Length(n.At+n.Width/2), say.Length(b.Chord))
		case n.Depth >= b.Height:
			return "notch", fmt.Errorf("a cut-out %s deep cuts the board in two; its edge lies %s above the section", say.Length(n.Depth), say.Length(b.Height))
		}
	}
	return "", nil
}

// Drawing is the board at true size, leading edge at 0,0, x aft and y up.
func (b Board) Drawing() []Path {
	profile := b.Section.Outline(b.Chord, b.Angle)
	low, high := Bounds(profile)
	level := high.Y + b.Height
	fore, aft := min(low.X, 0), max(high.X, b.Chord*math.Cos(b.Angle*math.Pi/180))
	foot := low.Y - 20
	bar := []Path{
		{Scale, false, []Point{{0, foot}, {Square, foot}}},
		{Scale, false, []Point{{0, foot - 3}, {0, foot + 3}}},
		{Scale, false, []Point{{Square, foot - 3}, {Square, foot + 3}}},
		{Scale, true, []Point{{0, foot - 20}, {Square, foot - 20}, {Square, foot - 20 - Square}, {0, foot - 20 - Square}}},
	}
	out := []Path{
		{Profile, true, profile},
		{Edge, false, []Point{{fore, level}, {aft, level}}},
	}
	out = append(out, bar...)
	return append(out, Path{Cut, true, b.cut(fore, aft, level)})
}

// cut is the board itself: along the edge, down at the trailing edge, forward along the upper
// side, and up at the leading edge.
func (b Board) cut(fore, aft, level float64) []Point {
	upper, _ := b.Section.Sides(b.Chord, b.Angle)
	first, last := 0, len(upper)-1
	for i, p := range upper { // what lies under itself cannot be lifted off
		if p.X < upper[first].X {
			first = i
		}
		if p.X > upper[last].X {
			last = i
		}
	}
	out := []Point{{fore, level}, {aft, level}, {aft, upper[last].Y}}
	surface := b.notched(upper[first : last+1])
	for i := len(surface) - 1; i >= 0; i-- {
		if p := surface[i]; p != out[len(out)-1] {
			out = append(out, p)
		}
	}
	if p := (Point{fore, upper[first].Y}); p != out[len(out)-1] {
		out = append(out, p)
	}
	return out
}

// notched lifts a line by the depth of each notch over its width, square to the edge.
func (b Board) notched(line []Point) []Point {
	cos := math.Cos(b.Angle * math.Pi / 180)
	for _, n := range b.Notches {
		from, to := (n.At-n.Width/2)*cos, (n.At+n.Width/2)*cos
		y := func(x float64) float64 {
			for i := 1; i < len(line); i++ {
				if a, c := line[i-1], line[i]; c.X >= x && c.X > a.X {
					return a.Y + (x-a.X)/(c.X-a.X)*(c.Y-a.Y)
				}
			}
			return line[len(line)-1].Y
		}
		out := []Point{}
		start, end := Point{from, y(from)}, Point{to, y(to)}
		top := max(start.Y, end.Y)
		for _, p := range line {
			if p.X > from && p.X < to {
				top = max(top, p.Y)
			}
		}
		done := false
		for _, p := range line {
			if p.X <= from || p.X >= to {
				if p.X >= to && !done {
					out, done = append(out, start, Point{from, top + n.Depth}, Point{to, top + n.Depth}, end), true
				}
				out = append(out, p)
			}
		}
		line = out
	}
	return line
}

// Bounds are the corners of the upright rectangle around points.
func Bounds(points []Point) (low, high Point) {
	low, high = Point{math.Inf(1), math.Inf(1)}, Point{math.Inf(-1), math.Inf(-1)}
	for _, p := range points {
		low, high = Point{min(low.X, p.X), min(low.Y, p.Y)}, Point{max(high.X, p.X), max(high.Y, p.Y)}
	}
	return low, high
}
