package row

import (
	"fmt"
	"math"
)

// Place lays holes out between two places that were pointed at, in mm in one view of the
// part: a line from the first hole to the last; a circle about From through To; the outline
// of the rectangle, or a grid of lines, with From and To at opposite corners.
type Place struct {
	How      string // one of Hows
	From, To [2]float64
	Count    int     // of holes; of a grid those of a line
	Pitch    float64 // at most; where there is no count
	Lines    int     // of a grid
}

// Hows are the ways to lay holes out by pointing.
var Hows = []string{"line", "circle", "outline", "grid"}

// Closed tells whether the last hole lies beside the first.
func (p Place) Closed() bool { return p.How == "circle" || p.How == "outline" }

// Holes lays them out. Of a line Along runs from the first hole to the last; of the others
// Along and Across run with the axes of the view, from From. Problems are by field.
func (p Place) Holes() (holes []Hole, problems map[string]string) {
	problems = map[string]string{}
	dx, dy := p.To[0]-p.From[0], p.To[1]-p.From[1]
	long := math.Hypot(dx, dy)
	switch {
	case !(long > 0):
		problems["to"] = "where is the other end? It lies on the first"
	case p.Count == 0 && !(p.Pitch > 0):
		problems["count"] = "how many holes, or how far apart?"
	case p.Count < 0 || p.Count > MaxHoles:
		problems["count"] = fmt.Sprintf("1 to %d holes in a row", MaxHoles)
	case (p.How == "outline" || p.How == "grid") && (dx == 0 || dy == 0):
		problems["to"] = "opposite corners are wanted: these lie on one line"
	}
	if len(problems) > 0 {
		return nil, problems
	}
	var at [][2]float64
	switch p.How {
	case "circle":
		at = p.circle(long)
	case "outline":
		at = p.outline(dx, dy)
	case "grid":
		at = p.grid(dx, dy)
	default:
		for i := range p.spaces(long) + 1 {
			at = append(at, [2]float64{long * float64(i) / float64(max(p.spaces(long), 1)), 0})
		}
	}
	if len(at) > MaxHoles {
		problems["pitch"] = fmt.Sprintf("makes more than %d holes", MaxHoles)
		return nil, problems
	}
	for i, q := range at {
		holes = append(holes, Hole{Number: i + 1, Along: q[0], Across: q[1], State: Pilot})
	}
	return holes, problems
}

// spaces is how many spaces a run has: one less than the count, or the fewest that do not
// exceed the pitch.
func (p Place) spaces(long float64) int {
	if p.Count > 0 {
		return p.Count - 1
	}
	return int(min(math.Ceil(long/p.Pitch-1e-9), MaxHoles+1))
}

func (p Place) circle(radius float64) (at [][2]float64) {
	n := p.Count
	if n == 0 {
		n = int(min(math.Ceil(2*math.Pi*radius/p.Pitch-1e-9), MaxHoles+1))
	}
	start := math.Atan2(p.To[1]-p.From[1], p.To[0]-p.From[0])
	for i := range n {
		sin, cos := math.Sincos(start + 2*math.Pi*float64(i)/float64(n))
		at = append(at, [2]float64{radius * cos, radius * sin})
	}
	return at
}

// outline goes round the rectangle, with a hole in every corner.
func (p Place) outline(dx, dy float64) (at [][2]float64) {
	pitch := p.Pitch
	if p.Count > 0 {
		pitch = 2 * (math.Abs(dx) + math.Abs(dy)) / float64(p.Count)
	}
	corner := [2]float64{}
	for _, side := range [][2]float64{{dx, 0}, {0, dy}, {-dx, 0}, {0, -dy}} {
		long := math.Hypot(side[0], side[1])
		n := max(int(min(math.Round(long/pitch), MaxHoles+1)), 1)
		if p.Count == 0 {
			n = max(int(min(math.Ceil(long/pitch-1e-9), MaxHoles+1)), 1)
		}
		for i := range n {
			share := float64(i) / float64(n)
			at = append(at, [2]float64{corner[0] + side[0]*share, corner[1] + side[1]*share})
		}
		corner = [2]float64{corner[0] + side[0], corner[1] + side[1]}
	}
	return at
}

func (p Place) grid(dx, dy float64) (at [][2]float64) {
	lines := max(p.Lines, 2)
	spaces := p.spaces(math.Abs(dx))
	if lines > MaxHoles || spaces > MaxHoles || lines*(spaces+1) > MaxHoles {
		return make([][2]float64, MaxHoles+1)
	}
	for line := range lines {
		for i := range spaces + 1 {
			at = append(at, [2]float64{dx * float64(i) / float64(max(spaces, 1)), dy * float64(line) / float64(lines-1)})
		}
	}
	return at
}
