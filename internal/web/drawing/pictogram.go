package drawing

import "html/template"

// Strokes are a pictogram: what lies before one.
type Strokes []Stroke

// Stroke is one of a pictogram: a class and points, closed where the class fills.
type Stroke struct {
	class  string
	closed bool
	points []point
}

// Edge, Thin, Ghost, Solid and Filled are lines and outlines through points, x and y in turn.
func Edge(xy ...float64) Stroke   { return Stroke{"edge", false, pairs(xy)} }
func Thin(xy ...float64) Stroke   { return Stroke{"thin", false, pairs(xy)} }
func Ghost(xy ...float64) Stroke  { return Stroke{"ghost", false, pairs(xy)} }
func Solid(xy ...float64) Stroke  { return Stroke{"pad", true, pairs(xy)} }
func Filled(xy ...float64) Stroke { return Stroke{"rail", true, pairs(xy)} }

func pairs(xy []float64) []point {
	var out []point
	for i := 0; i+1 < len(xy); i += 2 {
		out = append(out, point{xy[i], xy[i+1]})
	}
	return out
}

// Box is a filled rectangle of a pictogram.
func Box(x, y, w, h float64) Stroke { return Solid(x, y, x+w, y, x+w, y+h, x, y+h) }

// True is a line of what is true.
func True(xy ...float64) Stroke { return Stroke{"true", false, pairs(xy)} }

// GhostBox is a dashed outline.
func GhostBox(xy ...float64) Stroke { return Stroke{"ghost", true, pairs(xy)} }

// Draw draws a pictogram, 120 wide and 56 high.
func (s Strokes) Draw() template.HTML {
	c := &canvas{}
	for _, one := range s {
		c.path(one.class, one.closed, one.points...)
	}
	return c.picture("pictogram", 120, 56)
}
