package row

import (
	"fmt"
	"math"
)

// MaxHoles is the most that one row may have.
const MaxHoles = 1000

// Layout lays holes out on a part: by count and pitch, or between two edges. Lengths
// in mm. Lines above 1 make a pattern of so many lines, Gauge apart.
type Layout struct {
	First float64 // of the first hole from the start of the row; between edges: its edge distance
	Pitch float64 // between holes; between edges: the most
	Count int     // 0: as many as fit between the edges
	// Between edges:
	Length float64 // of the part along the row
	Last   float64 // edge distance of the last hole
	Lines  int
	Gauge  float64
}

// Holes lays them out, line by line, and returns the pitch that came of it. Between
// edges the pitch is the greatest that divides the run evenly and does not exceed the
// one asked for. Problems are by field.
func (l Layout) Holes() (holes []Hole, pitch float64, problems map[string]string) {
	problems = map[string]string{}
	count, pitch := l.Count, l.Pitch
	if pitch <= 0 || math.IsNaN(pitch) || math.IsInf(pitch, 0) {
		problems["pitch"] = "must be above 0"
		return nil, 0, problems
	}
	if count == 0 {
		run := l.Length - l.First - l.Last
		if run <= 0 {
			problems["length"] = "leaves no room between the edge distances; give it, or a number of holes"
			return nil, 0, problems
		}
		spaces := math.Ceil(run/pitch - 1e-9)
		if spaces >= MaxHoles {
			problems["pitch"] = fmt.Sprintf("makes more than %d holes", MaxHoles)
			return nil, 0, problems
		}
		count, pitch = int(spaces)+1, run/spaces
	}
	lines := max(l.Lines, 1)
	switch {
	case count < 1 || lines > MaxHoles || count > MaxHoles/lines:
		problems["count"] = fmt.Sprintf("1 to %d holes in a row", MaxHoles)
	case lines > 1 && l.Gauge <= 0:
		problems["gauge"] = "how far are the lines apart?"
	}
	if len(problems) > 0 {
		return nil, 0, problems
	}
	for line := range lines {
		for i := range count {
			holes = append(holes, Hole{Number: len(holes) + 1, Along: l.First + float64(i)*pitch, Across: float64(line) * l.Gauge, State: Pilot})
		}
	}
	return holes, pitch, problems
}

// nearest are the distances in mm to the two holes that lie closest.
func nearest(h Hole, holes []Hole) []float64 {
	first, second := math.Inf(1), math.Inf(1)
	for _, other := range holes {
		if other.Number == h.Number {
			continue
		}
		switch d := math.Hypot(other.Along-h.Along, other.Across-h.Across); {
		case d < first:
			first, second = d, first
		case d < second:
			second = d
		}
	}
	var out []float64
	for _, d := range []float64{first, second} {
		if !math.IsInf(d, 1) {
			out = append(out, d)
		}
	}
	return out
}
