package drawing

import "html/template"

// strokes of a pictogram: a class and points, closed where the class fills.
type strokes struct {
	class  string
	closed bool
	points []point
}

func edge(xy ...float64) strokes   { return strokes{"edge", false, pairs(xy)} }
func thin(xy ...float64) strokes   { return strokes{"thin", false, pairs(xy)} }
func ghost(xy ...float64) strokes  { return strokes{"ghost", false, pairs(xy)} }
func solid(xy ...float64) strokes  { return strokes{"pad", true, pairs(xy)} }
func filled(xy ...float64) strokes { return strokes{"rail", true, pairs(xy)} }

func pairs(xy []float64) []point {
	var out []point
	for i := 0; i+1 < len(xy); i += 2 {
		out = append(out, point{xy[i], xy[i+1]})
	}
	return out
}

// box is a filled rectangle of a pictogram.
func box(x, y, w, h float64) strokes { return solid(x, y, x+w, y, x+w, y+h, x, y+h) }

// pictograms say what lies before one, by the kind of check; 120 wide and 56 high.
var pictograms = map[string][]strokes{
	"bench":            {ghost(10, 12, 110, 12), filled(10, 24, 110, 20, 110, 25, 10, 29), box(22, 29, 8, 20), box(56, 28, 8, 21), box(90, 26, 8, 23)},
	"twist":            {solid(14, 40, 20, 16, 104, 20, 98, 34), ghost(14, 40, 98, 46), thin(20, 16, 14, 40)},
	"separate":         {edge(10, 26, 35, 16, 60, 13, 85, 16, 110, 26), strokes{"true", false, pairs([]float64{10, 34, 35, 42, 60, 45, 85, 42, 110, 34})}},
	"level":            {edge(14, 42, 106, 36), box(44, 22, 32, 14), thin(56, 25, 64, 25), thin(56, 33, 64, 33)},
	"incidence":        {solid(12, 30, 26, 18, 50, 15, 110, 36, 40, 38), ghost(8, 46, 112, 46), thin(12, 30, 110, 36)},
	"square":           {thin(12, 48, 60, 8), thin(108, 48, 60, 8), edge(12, 48, 108, 48), ghost(60, 4, 60, 52)},
	"upright":          {solid(46, 50, 54, 8, 68, 10, 76, 50), ghost(60, 4, 60, 54)},
	"straightness":     {edge(10, 36, 35, 28, 60, 25, 85, 28, 110, 36), ghost(10, 36, 110, 36)},
	"hinge-line":       {ghost(8, 28, 112, 28), box(16, 23, 10, 10), box(54, 19, 10, 10), box(94, 23, 10, 10)},
	"brackets":         {edge(10, 20, 110, 10), box(40, 17, 10, 32), box(74, 14, 10, 35), ghost(8, 49, 112, 49)},
	"pairs":            {edge(8, 28, 54, 28), edge(66, 28, 112, 28), ghost(60, 6, 60, 50), thin(8, 22, 8, 34), thin(112, 22, 112, 34)},
	"gap":              {box(12, 12, 44, 32), box(66, 12, 44, 32), ghost(61, 4, 61, 52)},
	"diagonals":        {box(24, 8, 72, 40), ghost(24, 8, 96, 48), ghost(96, 8, 24, 48)},
	"dihedral":         {edge(8, 14, 60, 42, 112, 14), ghost(8, 42, 112, 42)},
	"decalage":         {solid(8, 26, 18, 20, 44, 28, 18, 29), solid(62, 32, 76, 25, 112, 31, 78, 36), ghost(4, 44, 116, 44)},
	"engine-mount":     {box(24, 8, 12, 12), box(84, 8, 12, 12), box(24, 36, 12, 12), box(84, 36, 12, 12), ghost(30, 14, 90, 42), ghost(90, 14, 30, 42)},
	"travel":           {solid(10, 24, 22, 20, 70, 28, 22, 33), thin(70, 28, 108, 12), thin(70, 28, 110, 44), edge(70, 28, 112, 28)},
	"hand":             {edge(20, 46, 20, 12, 50, 12), edge(100, 46, 100, 12, 70, 12), ghost(60, 4, 60, 52)},
	"length":           {edge(12, 34, 108, 34), thin(12, 16, 12, 44), thin(108, 16, 108, 44), thin(12, 22, 108, 22)},
	"zero-test":        {edge(10, 42, 110, 42), box(20, 26, 34, 14), strokes{"ghost", true, pairs([]float64{66, 26, 100, 26, 100, 40, 66, 40})}, thin(58, 14, 70, 10, 66, 18)},
	"solid-rivet":      {filled(14, 24, 106, 24, 106, 34, 14, 34), solid(40, 24, 46, 12, 74, 12, 80, 24), box(52, 24, 16, 26)},
	"blind-rivet":      {filled(14, 24, 106, 24, 106, 34, 14, 34), solid(42, 24, 48, 17, 72, 17, 78, 24), box(52, 24, 16, 18), edge(60, 4, 60, 46)},
	"hole-edge":        {filled(14, 10, 106, 10, 106, 48, 14, 48), box(44, 26, 10, 10), box(84, 26, 10, 10), ghost(14, 31, 106, 31)},
	"flush-stack":      {filled(14, 18, 46, 18, 52, 28, 14, 28), filled(106, 18, 74, 18, 68, 28, 106, 28), filled(14, 28, 52, 28, 52, 38, 14, 38), filled(68, 28, 106, 28, 106, 38, 68, 38)},
	"shim-stack":       {box(28, 12, 64, 6), box(28, 20, 64, 9), box(28, 31, 64, 4), box(28, 37, 64, 9)},
	"mix":              {solid(40, 8, 80, 8, 74, 50, 46, 50), thin(43, 26, 77, 26)},
	"tank-leak":        {box(16, 16, 60, 32), thin(76, 42, 104, 42, 104, 6), edge(104, 42, 104, 20)},
	"shop-temperature": {solid(56, 6, 64, 6, 64, 38, 70, 46, 60, 54, 50, 46, 56, 38), edge(60, 20, 60, 48), thin(72, 12, 80, 12), thin(72, 22, 80, 22), thin(72, 32, 80, 32)},
}

// Pictogram draws what a kind of check is of, to choose it by.
func Pictogram(kind string) template.HTML {
	c := &canvas{}
	for _, s := range pictograms[kind] {
		c.path(s.class, s.closed, s.points...)
	}
	return c.picture("pictogram", 120, 56)
}

// HasPictogram tells whether a kind of check has one.
func HasPictogram(kind string) bool { return pictograms[kind] != nil }
