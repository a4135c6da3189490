// Package section draws wing sections at true size, and the incidence board that is cut to
// one: a board that lies on the surface and has a straight edge, level when the surface
// stands at the angle it was made for.
package section

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"gonum.org/v1/gonum/interp"
)

// Point is a place on a section: x aft from the leading edge, y up, in chords or in mm.
type Point struct{ X, Y float64 }

// Section is the outline of a wing section of chord 1: its leading edge at 0,0 and the
// middle of its trailing edge at 1,0.
type Section struct {
	Name  string
	sides func(n int) (upper, lower []Point) // from the leading edge aft, n spans or more a side
}

// within is how far, in mm, the drawn outline may lie from the true one between two of its
// points: less than half of what is promised.
const within = 0.004

// leastSpans and mostSpans bound the straight pieces that a side is drawn in.
const (
	leastSpans = 200
	mostSpans  = 12800
)

// FourDigit is the section of a code like 4415: camber in hundredths of the chord, its place
// in tenths, thickness in hundredths. With x along the chord, the half thickness
//
//	5t(0.2969√x − 0.126x − 0.3516x² + 0.2843x³ − 0.1015x⁴)
//
// is laid off square to the camber line, which is two parabolas that meet at the place of the
// camber. The trailing edge is blunt, as the formula leaves it. The error says what is no
// code.
func FourDigit(code string) (Section, error) {
	if len(code) != 4 {
		return Section{}, fmt.Errorf("“%s” is no section of four digits; 4415 would be one: camber 4 %%, at 40 %% of the chord, 15 %% thick", code)
	}
	n, err := strconv.ParseUint(code, 10, 16)
	if err != nil {
		return Section{}, fmt.Errorf("“%s” is no section of four digits; 4415 would be one", code)
	}
	m, p, t := float64(n/1000)/100, float64(n/100%10)/10, float64(n%100)/100
	switch {
	case t == 0:
		return Section{}, fmt.Errorf("a section %s would have no thickness; its last two digits are the thickness in hundredths of the chord", code)
	case m > 0 && p == 0:
		return Section{}, fmt.Errorf("a section %s would have its camber at the leading edge itself; the second digit says where it is, in tenths of the chord", code)
	}
	return Section{Name: code, sides: func(n int) (upper, lower []Point) {
		for i := range n + 1 {
			x := (1 - math.Cos(math.Pi*float64(i)/float64(n))) / 2 // close together at both edges
			u, l := fourDigitAt(m, p, t, x)
			upper, lower = append(upper, u), append(lower, l)
		}
		return upper, lower
	}}, nil
}

// fourDigitAt are the two points of a section of four digits that belong to a place on its
// camber line.
func fourDigitAt(m, p, t, x float64) (upper, lower Point) {
	half := 5 * t * (0.2969*math.Sqrt(x) - 0.126*x - 0.3516*x*x + 0.2843*x*x*x - 0.1015*x*x*x*x)
	y, slope := 0.0, 0.0
	switch {
	case m == 0:
	case x < p:
		y, slope = m/(p*p)*(2*p*x-x*x), 2*m/(p*p)*(p-x)
	default:
		y, slope = m/((1-p)*(1-p))*(1-2*p+2*p*x-x*x), 2*m/((1-p)*(1-p))*(p-x)
	}
	sin, cos := math.Sincos(math.Atan(slope))
	return Point{x - half*sin, y + half*cos}, Point{x + half*sin, y - half*cos}
}

// through is the section of given points, each side from the leading edge aft: a smooth
// curve (Akima, by the root of the distance between points) through every one of them. Where
// the curve would cross itself the points are joined by straight lines.
func through(upper, lower []Point) func(n int) (u, l []Point) {
	loop := slices.Clone(upper)
	slices.Reverse(loop)
	loop = append(loop, lower[1:]...)
	at := make([]float64, len(loop))
	xs, ys := make([]float64, len(loop)), make([]float64, len(loop))
	for i, p := range loop {
		if i > 0 {
			at[i] = at[i-1] + math.Sqrt(distance(p, loop[i-1]))
		}
		xs[i], ys[i] = p.X, p.Y
	}
	var fx, fy interp.AkimaSpline
	smooth := fx.Fit(at, xs) == nil && fy.Fit(at, ys) == nil
	draw := func(n int, smooth bool) (u, l []Point) {
		side := func(from, to, step int) (out []Point) {
			spans := (to - from) / step
			each := (n + spans - 1) / spans
			for i := from; i != to; i += step {
				out = append(out, loop[i])
				for k := 1; k < each; k++ {
					f := float64(k) / float64(each)
					if smooth {
						t := at[i] + f*(at[i+step]-at[i])
						out = append(out, Point{fx.Predict(t), fy.Predict(t)})
					} else {
						out = append(out, between(loop[i], loop[i+step], f))
					}
				}
			}
			return append(out, loop[to])
		}
		nose := len(upper) - 1
		return side(nose, 0, -1), side(nose, len(loop)-1, 1)
	}
	if smooth {
		u, l := draw(leastSpans, true)
		smooth = !crosses(closed(u, l))
	}
	return func(n int) (u, l []Point) { return draw(n, smooth) }
}

func between(a, b Point, f float64) Point { return Point{a.X + f*(b.X-a.X), a.Y + f*(b.Y-a.Y)} }

func distance(a, b Point) float64 { return math.Hypot(a.X-b.X, a.Y-b.Y) }

// closed is an outline from the leading edge over the top to the trailing edge and back
// below; the leading edge stands in it once, and a sharp trailing edge too.
func closed(upper, lower []Point) []Point {
	out := slices.Clone(upper)
	for i := len(lower) - 1; i > 0; i-- {
		if p := lower[i]; p != out[len(out)-1] {
			out = append(out, p)
		}
	}
	return out
}

// Outline is the section in mm for a chord in mm, turned nose up by an angle in degrees about
// its leading edge: one closed line from the leading edge over the top, without its first
// point once more. It lies within 0.01 mm of the true outline, with 200 points or more a side.
func (s Section) Outline(chord, angle float64) []Point {
	return closed(s.Sides(chord, angle))
}

// Sides are the two sides of Outline, each from the leading edge aft.
func (s Section) Sides(chord, angle float64) (upper, lower []Point) {
	n := leastSpans
	upper, lower = s.sides(n)
	for n < mostSpans {
		finerUp, finerLow := s.sides(2 * n)
		if strays(upper, finerUp)*chord < within && strays(lower, finerLow)*chord < within {
			break
		}
		n *= 2
		upper, lower = finerUp, finerLow
	}
	sin, cos := math.Sincos(angle * math.Pi / 180)
	turn := func(side []Point) []Point {
		out := make([]Point, len(side))
		for i, p := range side {
			out[i] = Point{chord * (p.X*cos + p.Y*sin), chord * (p.Y*cos - p.X*sin)}
		}
		return out
	}
	return turn(upper), turn(lower)
}

// strays is how far, at most, points of a finer line lie from the pieces of a coarser one.
func strays(coarse, fine []Point) (most float64) {
	k := 0
	for _, p := range fine {
		best := math.Inf(1)
		for i := max(k-1, 0); i+1 < len(coarse) && i < k+3; i++ { // both go from the nose aft
			if d := toPiece(p, coarse[i], coarse[i+1]); d < best {
				best, k = d, i
			}
		}
		most = max(most, best)
	}
	return most
}

// toPiece is the distance of a point from a straight piece.
func toPiece(p, a, b Point) float64 {
	dx, dy := b.X-a.X, b.Y-a.Y
	if dx == 0 && dy == 0 {
		return distance(p, a)
	}
	f := min(max(((p.X-a.X)*dx+(p.Y-a.Y)*dy)/(dx*dx+dy*dy), 0), 1)
	return distance(p, between(a, b, f))
}

// crosses tells whether a closed line crosses or touches itself.
func crosses(line []Point) bool {
	_, _, yes := crossing(line)
	return yes
}

// crossing finds two pieces of a closed line that cross or touch, each by its first point.
func crossing(line []Point) (i, j int, yes bool) {
	n := len(line)
	for i := range n {
		a, b := line[i], line[(i+1)%n]
		for j := i + 1; j < n; j++ {
			c, d := line[j], line[(j+1)%n]
			switch {
			case j == i+1 || (i == 0 && j == n-1): // neighbours share a point; they cross if one runs back along the other
				if j == i+1 && backAlong(a, b, d) || j != i+1 && backAlong(c, a, b) {
					return i, j, true
				}
			case meet(a, b, c, d):
				return i, j, true
			}
		}
	}
	return 0, 0, false
}

// backAlong tells whether, having come from a to b, the way to c runs straight back.
func backAlong(a, b, c Point) bool {
	return side(a, b, c) == 0 && (b.X-a.X)*(c.X-b.X)+(b.Y-a.Y)*(c.Y-b.Y) < 0
}

// side is positive where c lies to the left of the way from a to b, 0 on it.
func side(a, b, c Point) float64 { return (b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X) }

// meet tells whether two pieces have a point in common.
func meet(a, b, c, d Point) bool {
	if max(a.X, b.X) < min(c.X, d.X) || max(c.X, d.X) < min(a.X, b.X) || max(a.Y, b.Y) < min(c.Y, d.Y) || max(c.Y, d.Y) < min(a.Y, b.Y) {
		return false
	}
	return side(a, b, c)*side(a, b, d) <= 0 && side(c, d, a)*side(c, d, b) <= 0
}
