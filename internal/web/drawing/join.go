package drawing

import (
	"html/template"
	"math"
)

// Join is a surface against its airframe in three views: from above with the nose
// up, from behind, and from the left. Places are in airframe axes, x aft, y right,
// z up, in millimetres.
type Join struct {
	Figure
	Places []JoinPlace
	Lines  []JoinLine
	Known  bool // where the surface stands is known
}

// JoinPlace is a point of the airframe or of the surface.
type JoinPlace struct {
	Name    string
	At      [3]float64
	Surface int        // that carries it, from 1; 0 for the airframe
	Moved   [3]float64 // off its nominal position
	U       [3]float64 // expanded uncertainty of that
}

// JoinLine is one reading between two places; From is −1 for a coordinate of one.
type JoinLine struct {
	Reading
	From, To int
	View     JoinView
	Says     string // its residual
	Level    bool   // read by a level, else by a tape
	Suspect  bool
	Next     bool // not taken: the one that would tell most
}

// JoinView is the view that a reading is drawn in.
type JoinView int

// The views.
const (
	FromAbove JoinView = iota
	FromBehind
	FromLeft
)

const joinWidth, joinHeight = 840.0, 470.0

// frame is one view: a box of the sheet, and the two axes that it shows.
type frame struct {
	x, y, width, height float64
	across, up          int     // axes
	acrossSign, upSign  float64 // of the sheet: right and up are positive
	title               string
}

var joinFrames = [3]frame{
	FromAbove:  {10, 34, 420, 420, 1, 0, 1, -1, "from above, nose up"},
	FromBehind: {450, 34, 380, 196, 1, 2, 1, 1, "from behind"},
	FromLeft:   {450, 250, 380, 204, 0, 2, 1, 1, "from the left"},
}

// scaled is a frame with the scale that fits every place into it.
type scaled struct {
	frame
	low, high [2]float64
	scale     float64
}

func (f frame) fit(places []JoinPlace) scaled {
	s := scaled{frame: f, scale: 1}
	for i, p := range places {
		for k, v := range [2]float64{p.At[f.across] * f.acrossSign, p.At[f.up] * f.upSign} {
			if i == 0 || v < s.low[k] {
				s.low[k] = v
			}
			if i == 0 || v > s.high[k] {
				s.high[k] = v
			}
		}
	}
	wide, tall := max(s.high[0]-s.low[0], 1), max(s.high[1]-s.low[1], 1)
	s.scale = min((f.width-90)/wide, (f.height-70)/tall)
	return s
}

func (s scaled) at(p [3]float64) point {
	middle := point{s.x + s.width/2, s.y + s.height/2 + 6}
	return middle.plus((p[s.across]*s.acrossSign-(s.low[0]+s.high[0])/2)*s.scale, -(p[s.up]*s.upSign-(s.low[1]+s.high[1])/2)*s.scale)
}

// Draw draws the airframe's points, the surface where it should be (dashed) and
// where it is believed to be, and each reading in the view that shows it.
func (j Join) Draw() template.HTML {
	views := [3]scaled{}
	for i, f := range joinFrames {
		views[i] = f.fit(j.shown(JoinView(i)))
	}
	c := &canvas{turned: j.Turned}
	c.text("note", point{8, 18}, j.Title)
	c.line("hair", point{438, 30}, point{438, joinHeight - 8})
	c.line("hair", point{438, 238}, point{joinWidth - 8, 238})
	for i, v := range views {
		factor, title := j.factor(v, j.shown(JoinView(i))), v.title
		if j.Known && factor > 1 {
			title += ", displacement drawn ×" + thousands(factor)
		}
		c.text("small roomy", point{v.x + 6, v.y + 10}, title)
		j.surface(c, v, factor)
		for _, l := range j.Lines {
			if l.View == JoinView(i) {
				j.line(c, v, l)
			}
		}
		places(c, v, j.shown(JoinView(i)), i == 0)
	}
	if j.How != "" {
		c.text("how", point{8, joinHeight - 4}, j.How)
	}
	return c.svg("figure-of-check join", joinWidth, joinHeight, j.Title)
}

// shown are the places of a view: from the left the surface alone, for what is read
// there lies on it.
func (j Join) shown(view JoinView) []JoinPlace {
	if view != FromLeft {
		return j.Places
	}
	var out []JoinPlace
	for _, p := range j.Places {
		if p.Surface > 0 {
			out = append(out, p)
		}
	}
	return out
}

// factor exaggerates the greatest displacement in a view to what can be seen.
func (j Join) factor(v scaled, shown []JoinPlace) float64 {
	most := 0.0
	for _, p := range shown {
		for _, axis := range []int{v.across, v.up} {
			most = max(most, (math.Abs(p.Moved[axis])+p.U[axis])*v.scale)
		}
	}
	if most == 0 {
		return 1
	}
	return min(niceFactor(30/most), mostFactor)
}

// believed is where a place is drawn.
func (p JoinPlace) believed(factor float64) [3]float64 {
	for axis := range 3 {
		p.At[axis] += p.Moved[axis] * factor
	}
	return p.At
}

func (j Join) surface(c *canvas, v scaled, factor float64) {
	nominal, now := map[int][]point{}, map[int][]point{}
	most := 0
	for _, p := range j.Places {
		if most = max(most, p.Surface); p.Surface > 0 {
			nominal[p.Surface] = append(nominal[p.Surface], v.at(p.At))
			now[p.Surface] = append(now[p.Surface], v.at(p.believed(factor)))
		}
	}
	for i := 1; i <= most; i++ {
		if j.Known && len(now[i]) > 1 {
			c.polygon("surface", hull(now[i])...)
		}
		if len(nominal[i]) > 1 {
			c.polygon("ghost", hull(nominal[i])...)
		}
	}
	for _, p := range j.Places {
		if p.Surface == 0 || !j.Known {
			continue
		}
		// How sure the place is: a box of value ± U.
		at := v.at(p.believed(factor))
		w, h := max(1.5, p.U[v.across]*factor*v.scale), max(1.5, p.U[v.up]*factor*v.scale)
		c.polygon("interval", at.plus(-w, -h), at.plus(w, -h), at.plus(w, h), at.plus(-w, h))
	}
}

func places(c *canvas, v scaled, shown []JoinPlace, named bool) {
	for _, p := range shown {
		at := v.at(p.At)
		if p.Surface > 0 {
			c.circle("spot", at, 3)
		} else {
			c.polygon("display", at.plus(-4, -4), at.plus(4, -4), at.plus(4, 4), at.plus(-4, 4))
		}
		if !named {
			continue
		}
		class, dx := "small roomy", 9.0 // outwards, so that left and right do not meet
		if at.x < v.x+v.width/2-1 {
			class, dx = class+" end", -9
		}
		dy := -7.0
		if p.Surface > 0 {
			dy = 15
		}
		c.text(class, at.plus(dx, dy), p.Name)
	}
}

func (j Join) line(c *canvas, v scaled, l JoinLine) {
	to := v.at(j.Places[l.To].At)
	from := to.plus(0, 34) // a coordinate: its figure stands clear of the points
	if l.From >= 0 {
		from = v.at(j.Places[l.From].At)
	}
	class := "tape " + string(l.Mark)
	switch {
	case l.Next:
		class = "tape next"
	case l.Suspect:
		class = "tape suspect"
	}
	c.line(class, from, to)
	if l.Mark == Now && l.Level {
		if l.View == FromLeft { // from rear to front, display aft
			c.levelOn(to, from, 0.6)
		} else {
			c.levelOn(from, to, 0.6)
		}
	}
	at := from.toward(to, 0.36+0.09*float64(l.Number%4))
	if l.From < 0 {
		at = from
	}
	if l.Next {
		c.text("move-figure middle", at.plus(0, -6), "next")
		return
	}
	c.balloon(string(l.Mark), at, l.Number)
	if l.Suspect {
		c.text("move-figure middle", at.plus(0, -18), "?")
	}
	if l.Says != "" {
		c.text("small roomy", at.plus(16, 4), l.Says)
	}
}

// hull is the convex hull of points, in order (Andrew's monotone chain).
func hull(points []point) []point {
	sorted := append([]point(nil), points...)
	for i := range sorted {
		for k := i; k > 0 && (sorted[k].x < sorted[k-1].x || sorted[k].x == sorted[k-1].x && sorted[k].y < sorted[k-1].y); k-- {
			sorted[k], sorted[k-1] = sorted[k-1], sorted[k]
		}
	}
	turn := func(a, b, c point) float64 { return (b.x-a.x)*(c.y-a.y) - (b.y-a.y)*(c.x-a.x) }
	half := func(from []point) []point {
		var out []point
		for _, p := range from {
			for len(out) > 1 && turn(out[len(out)-2], out[len(out)-1], p) <= 0 {
				out = out[:len(out)-1]
			}
			out = append(out, p)
		}
		return out[:max(len(out)-1, 0)]
	}
	lower := half(sorted)
	for i, k := 0, len(sorted)-1; i < k; i, k = i+1, k-1 {
		sorted[i], sorted[k] = sorted[k], sorted[i]
	}
	return append(lower, half(sorted)...)
}
