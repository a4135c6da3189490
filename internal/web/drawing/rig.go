package drawing

import (
	"html/template"
	"math"
	"strings"

	"orpine/internal/core/say"
)

// Mark is how far a measuring point is.
type Mark string

// The marks; they are class names of the stylesheet too.
const (
	Todo  Mark = "todo"
	Taken Mark = "taken"
	Stale Mark = "stale"
	Now   Mark = "now"
)

// Rig is a surface on a pair of rails, seen from behind and above: x along the
// rails, y across them, positive towards the viewer (the trailing edge).
// Millimetres and degrees.
type Rig struct {
	Supports  []Support
	Stations  []Station
	Chord     float64 // of the surface; 0 when it is not on the rails
	Survey    bool    // the survey is in hand, not the surface
	OnSupport bool    // the level goes on the rails under the station, not on the surface
	How       string  // how the instrument sits at the point in hand
	Turned    bool    // it is held the other way round there
	Moves     []RigMove
	Title     string
}

// Support is one support of the rails, with the height found there.
type Support struct {
	Name    string
	Number  int
	X, Y, Z float64
	Known   bool
	Mark    Mark
}

// Station is a place along the surface, with the angle found there, leading
// edge up positive.
type Station struct {
	Name   string
	Number int
	X      float64
	Angle  float64
	Known  bool
	Mark   Mark
}

// RigMove is a move at a support or at the rear of the tip.
type RigMove struct {
	At   string // name of a support; "" for the tip's rear
	Up   bool
	Says string
}

const (
	rigWidth, rigHeight = 840.0, 382.0
	overhang            = 160.0 // of the rails beyond their end supports, mm
	lift                = 46.0  // of the surface above the rails, so that both are seen
)

// rigView is a rig with its projection.
type rigView struct {
	Rig
	c           *canvas
	from, to    float64 // ends of the rails
	half        float64
	scale       float64
	factor      float64 // exaggeration of heights
	datum       float64 // height drawn as level
	origin      point
	lean, climb float64 // sheet units per mm of depth
}

// Draw draws the rig with its deflections exaggerated by a factor it states.
func (r Rig) Draw() template.HTML {
	v := &rigView{Rig: r, c: &canvas{}, lean: 0.16, climb: 0.24}
	v.frame()
	v.c.text("note", point{8, 20}, strings.TrimPrefix(r.Title+", heights drawn ×"+thousands(v.factor), ", "))
	onRails := len(r.Supports) > 0
	if onRails {
		v.c.text("note roomy", point{8, 38}, "dashed: where true rails would lie")
		v.rail(-v.half)
	}
	if r.Chord > 0 {
		v.surface()
	}
	if onRails {
		v.rail(v.half)
	}
	for _, s := range v.Stations {
		if s.Mark == Now && !v.Survey && v.OnSupport {
			v.level(v.at(s.X, -v.half, v.height(s.X, -v.half)), v.at(s.X, v.half, v.height(s.X, v.half)))
		}
	}
	v.balloons()
	v.moves()
	v.instrument()
	v.c.dimension(v.at(v.first(), v.half, v.datum).plus(0, 116), v.at(v.last(), v.half, v.datum).plus(0, 116), long(v.last()-v.first()))
	return v.c.svg("rig", rigWidth, rigHeight, r.Title+", seen from behind")
}

// frame fits the rig to the sheet.
func (v *rigView) frame() {
	least, greatest, sum, known := math.Inf(1), math.Inf(-1), 0.0, 0.0
	v.from, v.to = math.Inf(1), math.Inf(-1)
	for _, s := range v.Supports {
		v.from, v.to, v.half = min(v.from, s.X-overhang), max(v.to, s.X+overhang), max(v.half, math.Abs(s.Y))
		if s.Known {
			least, greatest, sum, known = min(least, s.Z), max(greatest, s.Z), sum+s.Z, known+1
		}
	}
	for _, s := range v.Stations {
		v.from, v.to = min(v.from, s.X-overhang/2), max(v.to, s.X+overhang/2)
	}
	if v.half == 0 {
		v.half = 350
	}
	if v.from > v.to {
		v.from, v.to = 0, 1000
	}
	most := 0.0
	if known > 0 {
		v.datum = sum / known
		most = max(greatest-v.datum, v.datum-least)
	}
	for _, s := range v.Stations {
		if s.Known {
			most = max(most, v.Chord/2*math.Abs(math.Tan(s.Angle*math.Pi/180)))
		}
	}
	depth := 2 * v.half * v.lean
	v.scale = (rigWidth - 90) / (v.to - v.from + depth)
	v.factor = 1
	if most > 0 {
		v.factor = niceFactor(40 / (most * v.scale))
	}
	v.origin = point{40, 236}
}

// at projects a place in the rig onto the sheet.
func (v *rigView) at(x, y, z float64) point {
	depth := v.half - y
	return point{v.origin.x + (x-v.from+depth*v.lean)*v.scale, v.origin.y - depth*v.climb*v.scale*1.35 - (z-v.datum)*v.factor*v.scale}
}

func (v *rigView) first() float64 { return v.span(false) }
func (v *rigView) last() float64  { return v.span(true) }

// span is the end of what is dimensioned: the surface, or the supports.
func (v *rigView) span(far bool) float64 {
	var xs []float64
	for _, s := range v.Stations {
		xs = append(xs, s.X)
	}
	if len(xs) == 0 {
		for _, s := range v.Supports {
			xs = append(xs, s.X)
		}
	}
	out := v.from
	for i, x := range xs {
		if i == 0 || far == (x > out) {
			out = x
		}
	}
	return out
}

// height is that of the rail on one side at x, by straight lines between the
// supports that are known.
func (v *rigView) height(x, side float64) float64 {
	var before, after *Support
	for i := range v.Supports {
		s := &v.Supports[i]
		if !s.Known || s.Y*side < 0 {
			continue
		}
		if s.X <= x && (before == nil || s.X > before.X) {
			before = s
		}
		if s.X >= x && (after == nil || s.X < after.X) {
			after = s
		}
	}
	switch {
	case before == nil && after == nil:
		return v.datum
	case before == nil:
		return after.Z
	case after == nil || after.X == before.X:
		return before.Z
	}
	return before.Z + (after.Z-before.Z)*(x-before.X)/(after.X-before.X)
}

// rail draws one rail on its supports, and where it would lie if it were true.
func (v *rigView) rail(y float64) {
	xs := []float64{v.from}
	for _, s := range v.Supports {
		if s.Y == y {
			xs = append(xs, s.X)
			foot := v.at(s.X, y, v.height(s.X, y)).plus(0, 10)
			v.c.polygon("support", foot.plus(-8, 0), foot.plus(8, 0), foot.plus(13, 26), foot.plus(-13, 26))
		}
	}
	xs = append(xs, v.to)
	var top, bottom []point
	for _, x := range xs {
		p := v.at(x, y, v.height(x, y))
		top, bottom = append(top, p), append([]point{p.plus(0, 10)}, bottom...)
	}
	v.c.polygon("rail", append(top, bottom...)...)
	v.c.line("true", v.at(v.from-40, y, v.datum), v.at(v.to+40, y, v.datum))
}

// surface draws the part over the rails, each station at the angle read there.
func (v *rigView) surface() {
	var leading, trailing []point
	for _, s := range v.Stations {
		base := (v.height(s.X, -v.half) + v.height(s.X, v.half)) / 2
		rise := v.Chord / 2 * math.Tan(v.angle(s)*math.Pi/180)
		leading = append(leading, v.at(s.X, -v.Chord/2, base+rise).plus(0, -lift))
		trailing = append(trailing, v.at(s.X, v.Chord/2, base-rise).plus(0, -lift))
	}
	outline := append([]point{}, leading...)
	for i := len(trailing) - 1; i >= 0; i-- {
		outline = append(outline, trailing[i])
	}
	if v.Survey {
		v.c.polygon("ghost", outline...)
		return
	}
	v.c.polygon("surface", outline...)
	v.c.strokes("edge", leading...)
	v.c.strokes("edge", trailing...)
	for i, s := range v.Stations {
		v.c.line("station "+string(s.Mark), leading[i], trailing[i])
		if s.Mark == Now && !v.Survey && !v.OnSupport {
			v.level(leading[i].toward(trailing[i], 0.3), leading[i].toward(trailing[i], 0.85))
		}
	}
	v.c.text("note roomy", leading[0].plus(6, -9), "leading edge")
	v.c.text("note roomy", trailing[0].plus(52, 17), "trailing edge")
}

// angle is that of a station; one that is not read yet is drawn level with the rails.
func (v *rigView) angle(s Station) float64 {
	if s.Known {
		return s.Angle
	}
	return math.Atan2(v.height(s.X, -v.half)-v.height(s.X, v.half), 2*v.half) * 180 / math.Pi
}

// level draws the instrument from a to b, its display towards b, the trailing edge.
func (v *rigView) level(a, b point) {
	v.c.polygon("instrument", a.plus(-6, -2), a.plus(6, -6), b.plus(6, -6), b.plus(-6, -2))
	d, e := a.toward(b, 0.58), a.toward(b, 0.84)
	if v.Turned {
		d, e = a.toward(b, 0.16), a.toward(b, 0.42)
	}
	v.c.polygon("display", d.plus(-3.5, -3), d.plus(3.5, -5), e.plus(3.5, -5), e.plus(-3.5, -3))
}

// balloons numbers the points in walking order.
func (v *rigView) balloons() {
	if v.Survey {
		for _, s := range v.Supports {
			v.c.balloon(string(s.Mark), v.supportBalloon(s), s.Number)
		}
		return
	}
	for _, s := range v.Stations {
		v.c.balloon(string(s.Mark), v.at(s.X, v.half, v.datum).plus(0, 78), s.Number)
	}
}

// supportBalloon is where the number of a support stands.
func (v *rigView) supportBalloon(s Support) point {
	p := v.at(s.X, s.Y, v.height(s.X, s.Y))
	if s.Y < 0 {
		return p.plus(0, -24)
	}
	return p.plus(0, 52)
}

// moves draws each move as an arrow with its amount.
func (v *rigView) moves() {
	for _, m := range v.Moves {
		from, to := 26.0, 0.0
		if !m.Up {
			from, to = to, from
		}
		for _, s := range v.Supports {
			if s.Name != m.At {
				continue
			}
			p := v.at(s.X, s.Y, v.height(s.X, s.Y)).plus(24, 4)
			v.c.arrow("move", p.plus(0, from), p.plus(0, to))
			v.c.text("move-figure", p.plus(8, 20), m.Says)
		}
		if m.At == "" && len(v.Stations) > 0 {
			p := v.at(v.Stations[len(v.Stations)-1].X, v.half, v.height(v.to, v.half)).plus(22, -lift+6)
			v.c.arrow("move", p.plus(0, from), p.plus(0, to))
			v.c.text("move-figure roomy", p.plus(9, 18), m.Says)
		}
	}
}

// instrument says how it sits at the point in hand, with a leader to it.
func (v *rigView) instrument() {
	if v.Survey {
		for _, s := range v.Supports {
			if s.Mark == Now {
				p := v.at(s.X, s.Y, v.height(s.X, s.Y))
				v.c.polygon("instrument", p.plus(-4, -16), p.plus(4, -16), p.plus(4, 34), p.plus(-4, 34))
				v.c.line("laser", p.plus(-120, 30), p.plus(120, 30))
			}
		}
	}
	if v.How != "" {
		v.c.text("how", point{8, rigHeight - 8}, v.How)
	}
}

// Rise writes an amount for a move's figure.
func Rise(mm float64) say.Text { return say.Length(mm).Bare().String() }
