package measure

import (
	"fmt"
	"math"
	"slices"

	"orpine/internal/core/form"
	"orpine/internal/core/school"

	"gonum.org/v1/gonum/mat"

	"orpine/internal/core/quantity"
)

// twistKind is how the check is called, limited, disturbed and told.
var twistKind = Kind{
	Name: "twist", Title: "Twist along a surface", New: func() Walker { return new(Twist) },
	Limits:    []Limitable{{"twist", Angle}, {"twist_error", Angle}, {"rate", Rate}, {"kink", Angle}},
	Schools:   []string{school.Bench},
	Headlines: map[string]string{"twist": "twist of the part, tip over root", "twist_error": "twist, off the design", "rate": "twist to the metre", "kink": "furthest from the even twist"},
}

// Twist is the chordwise angle at stations along a surface. y is the distance
// outboard of the root, or of the left end for a surface in one piece.
type Twist struct {
	Stations   []TwistStation   `ws:"stations"`
	Design     quantity.Angle   `ws:"design,optional" as:"pitch"` // tip minus root
	Held       bool             `ws:"held,optional"`              // held down: it takes its support's shape
	TipSpacing *quantity.Length `ws:"tip_spacing,optional"`       // front to rear support at the tip
	Extent     *quantity.Length `ws:"extent,optional"`            // root to tip of the whole surface
	Stiff      bool             `ws:"stiff,optional"`             // it lies free, and keeps its own shape
}

// TwistStation is one station, read as an angle or as two heights.
type TwistStation struct {
	Name    string           `ws:"name"`
	Y       quantity.Length  `ws:"y"`
	Angle   *Reading         `ws:"angle,optional" as:"pitch"`
	Front   *Reading         `ws:"front,optional" as:"length"`
	Rear    *Reading         `ws:"rear,optional" as:"length"`
	Spacing *quantity.Length `ws:"spacing,optional"`
	Support *Reading         `ws:"support,optional" as:"pitch"` // the bench's own slope there
}

// Validate refuses what its panel refuses, and a jig that it is both held down to and lies free in.
func (c *Twist) Validate(report func(path, message string)) {
	c.panel().validate(report)
	if c.TipSpacing != nil && *c.TipSpacing <= 0 {
		report("tip_spacing", "must be above 0")
	}
	if c.Held && c.Stiff {
		report("stiff", "is held down to its supports, or stiff and lying free, not both")
	}
}

// validateSlope refuses anything but one angle, or two heights and their spacing.
func validateSlope(path string, angle, front, rear *Reading, spacing *quantity.Length, field string, report func(path, message string)) {
	heights := front != nil || rear != nil || spacing != nil
	switch {
	case angle != nil && heights:
		report(path, "give "+field+", or front, rear and spacing, not both")
	case angle == nil && !heights:
		report(path+"."+field, "is missing")
	case angle == nil && front == nil:
		report(path+".front", "is missing")
	case angle == nil && rear == nil:
		report(path+".rear", "is missing")
	case angle == nil && spacing == nil:
		report(path+".spacing", "is missing")
	case angle == nil && *spacing <= 0:
		report(path+".spacing", "must be above 0")
	}
}

// slope reads an angle, or makes one of two heights: atan((front − rear)/spacing).
func (w *Work) slope(angle, front, rear *Reading, spacing *quantity.Length) Estimate {
	if angle != nil {
		return w.Read(*angle)
	}
	return w.Read(*front).Minus(w.Read(*rear)).Times(1 / float64(*spacing)).Atan()
}

// Solve fits a line of angle on y by least squares: twist = slope × extent.
// When the surface is held, its support's slope is taken off at each station.
func (c *Twist) Solve(w *Work) {
	p := c.panel()
	p.solve(w)
	twist, missed := p.twist(), p.missed()
	for _, q := range p.figures("") {
		w.Quantity(q.name, q.dimension, q.Estimate)
	}
	w.Quantity("rate", Rate, p.slope.Times(1000))
	w.explain("twist", fmt.Sprintf("slope of the best line × extent = %s per m × %s", deg(p.slope.Value*1000), mm(p.length)), deg(twist.Value))
	if c.Design != 0 {
		w.explain("error", fmt.Sprintf("twist − design = %s − %s", deg(twist.Value), deg(float64(c.Design))), deg(missed.Value))
	}
	if len(c.Stations) >= 3 {
		at := greatest(p.line.left)
		w.Extreme("kink", nil, Angle, math.Abs(p.line.left[at]), p.line.residuals())
		w.explain("kink", "furthest from the line: "+c.Stations[at].Name, deg(math.Abs(p.line.left[at])))
	}
	if _, limited := w.limits["kink"]; !limited {
		p.kinked(w, func(p *panel) bool {
			return w.wouldGo(append(p.figures(""), figure{p.slope.Times(1000), "rate", Rate}))
		})
	}
	p.shows(w)
	if c.TipSpacing != nil && !c.Held && !c.Stiff {
		direction := "down"
		if missed.Value > 0 {
			direction = "up"
		}
		w.Move("tip rear support", direction, float64(*c.TipSpacing)*math.Tan(math.Abs(missed.Value)/perRadian))
	}
}

func (c *Twist) panel() *panel {
	return &panel{stations: c.Stations, design: float64(c.Design), held: c.Held, extent: c.Extent}
}

// figure is one of the quantities that may be limited.
type figure struct {
	Estimate
	name      string
	dimension Dimension
}

// wouldGo tells whether those of some figures that are limited would be go.
func (w *Work) wouldGo(figures []figure) bool {
	for _, q := range figures {
		if l, limited := w.limits[q.name]; limited && w.decide(q.Value, w.U(q.Estimate, 0), l) != Go {
			return false
		}
	}
	return true
}

// panel is a surface whose twist is read at stations.
type panel struct {
	stations []TwistStation
	design   float64
	held     bool
	extent   *quantity.Length // of the whole surface; nil where it is not stated
	path     string           // of its fields; "" for those of the check itself

	read, under []Estimate // at each station: of the surface as read, and of its support
	angles      []Estimate // of the part itself
	y           scaled
	length      float64 // that the twist is given over
	line        *fit
	slope       Estimate // degrees for each mm
}

// The least share of the surface that stations must reach over for a go: of so few, and of two.
const (
	reachOfMost = 0.6
	reachOfTwo  = 0.9
	reachTie    = 1e-9
)

// validate refuses stations inboard of the root or beyond the tip, stations that give neither an angle nor
// both heights, held stations without their support, and fewer than two places along the span.
func (p *panel) validate(report func(path, message string)) {
	positions := make([]float64, len(p.stations))
	for i, s := range p.stations {
		path := fmt.Sprintf("%sstations[%d]", p.path, i)
		positions[i] = float64(s.Y)
		if s.Y < 0 {
			report(path+".y", "is measured outboard of the root, so it cannot be negative")
		}
		if p.extent != nil && s.Y > *p.extent {
			report(path+".y", "lies beyond the extent of the surface")
		}
		validateSlope(path, s.Angle, s.Front, s.Rear, s.Spacing, "angle", report)
		if p.held && s.Support == nil {
			report(path+".support", "is missing: a surface held down needs the support's own slope at each station")
		}
	}
	if distinct(positions) < 2 {
		report(p.path+"stations", "fewer than two places along the span cannot show twist")
	}
	if p.extent != nil && *p.extent <= 0 {
		report(p.path+"extent", "must be above 0")
	}
}

// solve reads the stations and fits the line.
func (p *panel) solve(w *Work) {
	positions := make([]float64, len(p.stations))
	for i, s := range p.stations {
		positions[i] = float64(s.Y)
		read := w.slope(s.Angle, s.Front, s.Rear, s.Spacing)
		own, under := read, Exact(0)
		switch {
		case s.Support == nil:
			w.explain(s.Name, "as read"+zeroed(s.Angle), deg(read.Value))
		case !p.held:
			w.Read(*s.Support)
			w.Find("support-ignored", "not held down, so the support's slope is left out")
			w.explain(s.Name, "as read; the support's slope is left out"+zeroed(s.Angle), deg(read.Value))
		default:
			under = w.Read(*s.Support)
			own = read.Minus(under)
			w.explain(s.Name, fmt.Sprintf("reading − support = %s − %s%s", deg(read.Value), deg(under.Value), zeroed(s.Angle)), deg(own.Value))
		}
		p.read, p.under, p.angles = append(p.read, read), append(p.under, under), append(p.angles, own)
	}
	p.y = scale(positions)
	p.length = p.y.extent()
	if p.extent != nil {
		p.length = float64(*p.extent)
	}
	p.fit(w)
}

func (p *panel) fit(w *Work) (ok bool) {
	p.line, ok = w.fitColumns(p.angles, func(i int) []float64 { return []float64{1, p.y.at[i]} })
	if ok {
		p.slope = p.line.param(1).Times(1 / p.y.size)
	}
	return ok
}

func (p *panel) twist() Estimate  { return p.slope.Times(p.length) }
func (p *panel) missed() Estimate { return p.twist().Minus(Exact(p.design)) }

// figures are the twist over the surface, and what it is off the design.
func (p *panel) figures(side string) []figure {
	return []figure{{p.twist(), "twist" + side, Angle}, {p.missed(), "twist_error" + side, Angle}}
}

// without is the panel with one station left out, its length kept; nil where the rest show no twist.
func (p *panel) without(w *Work, station int) *panel {
	out := &panel{design: p.design, length: p.length}
	var at []float64
	for i, s := range p.stations {
		if i != station {
			out.angles, at = append(out.angles, p.angles[i]), append(at, float64(s.Y))
		}
	}
	if out.y = scale(at); !out.fit(w) {
		return nil
	}
	return out
}

// The bounds of a kink: a residual that is so many of its own u means that a reading is
// off or the part no plain twist; a u below the other is rounding.
const (
	kinkedAt = 4
	leastU   = 1e-9
)

// kinked says that a station lies further from the line than its readings can explain.
// The twist is then go only if it would be without any one station; three stations with
// one off cannot tell which.
func (p *panel) kinked(w *Work, goes func(*panel) bool) {
	if len(p.angles) < 3 {
		return
	}
	spread, off := p.line.covariance(0), -1
	for i, left := range p.line.left {
		if u := math.Sqrt(max(0, spread.of(i, i))); u > leastU && math.Abs(left) > kinkedAt*u && (off < 0 || math.Abs(left) > math.Abs(p.line.left[off])) {
			off = i
		}
	}
	if off < 0 {
		return
	}
	w.Find("kinked", fmt.Sprintf("%s lies off the even twist by more than its readings can be wrong: read it again; if it stays, the part has a kink", p.stations[off].Name))
	for i := range p.angles {
		rest := (*panel)(nil)
		if len(p.angles) > 3 {
			rest = p.without(w, i)
		}
		if rest == nil || !goes(rest) {
			w.Doubt()
			return
		}
	}
}

// shows says where the stations reach too little of the surface, or a surface does not take its support's
// shape as was said.
func (p *panel) shows(w *Work) {
	if p.extent != nil {
		share := p.y.extent() / p.length
		if share < reachOfMost-reachTie || share < reachOfTwo-reachTie && len(p.stations) < 3 {
			w.Find("short-of-the-tip", "the stations reach over too little of the surface: its tip may be twisted otherwise")
			w.AtBestUnsure()
		}
	}
	if p.follows(w) {
		return
	}
	w.Find("does-not-follow", "the surface does not take its support's shape, as was said: look whether it touches at every support")
	w.AtBestUnsure()
}

// follows tells whether a surface that is held down takes its support's shape, as far as four stations or
// more can show. With d the difference of surface and support and m their mean, weighted so that it is
// free of the error of d, the fit d = a + b·y + c·m has a c of 0 where it does, and of −(u_a² + u_s²)/u_a²
// where it ignores its support.
func (p *panel) follows(w *Work) bool {
	if !p.held || len(p.stations) < 4 {
		return true
	}
	m := make([]float64, len(p.stations))
	bound := critical
	for i := range p.stations {
		a, s := w.ownVariance(p.read[i]), w.ownVariance(p.under[i])
		if a+s == 0 || w.lacking(p.read[i]) || w.lacking(p.under[i]) {
			return true
		}
		m[i] = (s*p.read[i].Value + a*p.under[i].Value) / (a + s)
		if w.loose(p.read[i]) || w.loose(p.under[i]) {
			bound = critical * assumedSpread
		}
	}
	columns := func(i int) []float64 { return []float64{1, p.y.at[i], m[i]} }
	if !apart(len(p.stations), columns) {
		return true
	}
	fit, ok := w.fitColumns(p.angles, columns)
	if !ok {
		return true
	}
	c := fit.param(2)
	u := w.U(c, 0)
	return u == 0 || math.Abs(c.Value) <= bound*u
}

// critical is the bound of a standardized figure at α = 0.001.
const critical = 3.29

// leastApart is the least singular value of columns of norm 1 that can be told apart.
const leastApart = 1e-6

// apart tells whether the columns of a fit can be told apart.
func apart(rows int, columns func(i int) []float64) bool {
	n := len(columns(0))
	a := mat.NewDense(rows, n, nil)
	for i := range rows {
		a.SetRow(i, columns(i))
	}
	for k := range n {
		column := a.ColView(k)
		norm := mat.Norm(column, 2)
		if norm == 0 {
			return false
		}
		for i := range rows {
			a.Set(i, k, a.At(i, k)/norm)
		}
	}
	var svd mat.SVD
	if !svd.Factorize(a, mat.SVDNone) {
		return false
	}
	values := svd.Values(nil)
	return values[len(values)-1] > leastApart
}

// ownVariance is the part of an estimate's variance that is of its readings alone, and of nothing that they
// share.
func (w *Work) ownVariance(e Estimate) (sum float64) {
	for _, s := range e.slopes {
		sum += s.by * s.by * w.readings[s.reading].variance(0)
	}
	return sum
}

// lacking tells whether spread, step or instrument of what an estimate rests on are not known, and loose
// whether a spread or spot of it is assumed.
func (w *Work) lacking(e Estimate) bool {
	return slices.ContainsFunc(e.slopes, func(s slope) bool {
		l := w.readings[s.reading].lacks
		return l.spread || l.step || l.instrument
	})
}

func (w *Work) loose(e Estimate) bool {
	return slices.ContainsFunc(e.slopes, func(s slope) bool {
		in := w.readings[s.reading].instrument
		return in != nil && (in.assumes("spread") && *in.Spread > 0 || in.assumes("spot") && in.Spot > 0)
	})
}

// Walk goes outboard; at each station the surface first, then, when it is held
// down, the support under it.
func (c *Twist) Walk() []Spot { return walkStations("stations", c.Stations, c.Held) }

func walkStations(list string, stations []TwistStation, held bool) []Spot {
	var spots []Spot
	for _, s := range stations {
		if s.Spacing != nil {
			spots = append(spots,
				Spot{list, s.Name, "front", "front height", Length, "length", "height of the front mark above one straight reference"},
				Spot{list, s.Name, "rear", "rear height", Length, "length", "height of the rear mark above the same reference"})
		} else {
			spots = append(spots, Spot{list, s.Name, "angle", "angle", Angle, "pitch", "along the chord, display towards the trailing edge, the same way round at every station"})
		}
		if held {
			spots = append(spots, Spot{list, s.Name, "support", "support under it", Angle, "pitch", "on the support under this station, display the same way round"})
		}
	}
	return spots
}

// AsRead tells how much twist the readings show before the support is taken
// off, and how much of that is the support's. ok is false for a surface that is
// not held down.
func (c *Twist) AsRead() (whole, support float64, ok bool) {
	if !c.Held {
		return 0, 0, false
	}
	plain := &Twist{}
	for _, s := range c.Stations {
		s.Support = nil
		plain.Stations = append(plain.Stations, s)
	}
	read, _ := Solve(plain, nil, Decision{Coverage: 2}).Quantity("twist")
	own, _ := Solve(c, nil, Decision{Coverage: 2}).Quantity("twist")
	return read.Value, read.Value - own.Value, true
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*Twist) Disturbed(e Event) bool { return Shaped(e, ReClamped, Temperature) }

// Form is what is asked for the check before anything is read.
func (*Twist) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "stations", Label: "Stations: name; distance outboard; for heights, front to rear mark", Columns: []string{"name", "y", "spacing"}, As: "length"},
			{Key: "lies", Label: "On the bench it is", As: "word", Words: []string{Stiffly, Limply, Loosely}, Optional: true},
			{Key: "design", Label: "Design twist, tip less root (washout is down)", As: "pitch", Optional: true},
			{Key: "tip_spacing", Label: "Front to rear support at the tip", As: "length", Optional: true},
		},
		Now:     "Is this part twisted?",
		Angles:  true,
		Made:    []string{"lies"},
		Example: map[string]string{"stations": "root; 0\ninner; 600\nmid; 1200\nouter; 1800\ntip; 2400", "lies": Stiffly},
		Offers: func(p Lying) map[string]Offer {
			if !p.Surface() {
				return nil
			}
			return map[string]Offer{"stations": {p.Along(), p.Ends()}}
		},
		Finish: finishTwist,
	}
}

// What is flexible, or held down, takes the shape of what it lies on; what is stiff keeps its own, and no support
// moves that.
func finishTwist(d map[string]any) {
	if lies := form.Take(d, "lies"); lies != nil {
		d["held"], d["stiff"] = lies == Limply || lies == onceLimply, lies == Stiffly
	}
}
