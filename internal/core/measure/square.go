package measure

import (
	"fmt"
	"math"

	"orpine/internal/core/adjust"
	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

// squareKind is how the check is called, limited, disturbed and told.
var squareKind = Kind{
	Name: "square", Title: "Square to the centreline, by tapes to both tips", New: func() Walker { return new(Square) },
	Limits:    []Limitable{{"skew", Angle}, {"tip_offset", Length}, {"position", Length}, {"lateral", Length}, {"leverage", Ratio}},
	Schools:   []string{},
	Headlines: map[string]string{"skew": "skew, right tip aft", "tip_offset": "right tip aft", "position": "aft of where it should be", "lateral": "to the right of the centreline", "leverage": "leverage of the tapes"},
}

// Square is a surface measured with tapes from points on the centreline to both
// of its tips. Skew is positive with the right tip aft.
type Square struct {
	Station  quantity.Length  `ws:"station"` // nominal x of the tip points
	HalfSpan quantity.Length  `ws:"half_span"`
	Centred  *quantity.Length `ws:"centred,optional"` // bound of how far the middle of the tips may lie off the airframe's
	From     []FromPoint      `ws:"from"`
	PointsU  *quantity.Length `ws:"points_u,optional"` // standard uncertainty along and across, of points without one of their own
}

// FromPoint is a point on the centreline with its two tapes.
type FromPoint struct {
	Name  string           `ws:"name"`
	X     quantity.Length  `ws:"x"`
	Z     quantity.Length  `ws:"z,optional"` // of this point above the tips
	U     *quantity.Length `ws:"u,optional"` // standard uncertainty along and across
	Left  Reading          `ws:"left" as:"length"`
	Right Reading          `ws:"right" as:"length"`
}

// weakLeverage is the tip offset per millimetre of disagreement above which a
// from-point is too near the line of the tips to say much.
const weakLeverage = 3

// Validate refuses from-points abreast of the tips, several all at one place
// (they cannot tell skew from side-shift), and readings that are exact (they
// have no weight).
func (c *Square) Validate(report func(path, message string)) {
	if c.HalfSpan <= 0 {
		report("half_span", "must be above 0")
	}
	if c.Centred != nil && *c.Centred <= 0 {
		report("centred", "must be above 0; leave it out where nothing is known")
	}
	if c.PointsU != nil && *c.PointsU < 0 {
		report("points_u", "must not be negative")
	}
	if len(c.From) == 0 {
		report("from", "is an empty list")
		return
	}
	least, greatest := c.From[0].X, c.From[0].X
	var tapes []Reading
	for i, p := range c.From {
		path := fmt.Sprintf("from[%d]", i)
		least, greatest = min(least, p.X), max(greatest, p.X)
		if math.Abs(float64(c.Station-p.X)) <= 1 {
			report(path+".x", "is abreast of the tips: nothing can be told from there")
		}
		if p.U != nil && *p.U < 0 {
			report(path+".u", "must not be negative")
		}
		tapes = append(tapes, p.Left, p.Right)
	}
	for i, exact := range Weightless(tapes) {
		if exact {
			report(fmt.Sprintf("from[%d].%s", i/2, []string{"left", "right"}[i%2]), "is taken as exact; give it an instrument with a resolution or a spread")
		}
	}
	if len(c.From) > 1 && greatest-least <= 1 {
		report("from", "are all at one place: they cannot tell skew from side-shift")
	}
}

// pointU is the standard uncertainty of a from-point along and across; stated is false
// where neither it nor the check says one.
func (c *Square) pointU(p FromPoint) (u float64, stated bool) {
	for _, v := range []*quantity.Length{p.U, c.PointsU} {
		if v != nil {
			return float64(*v), true
		}
	}
	return 0, false
}

// squareTape is one tape with what it should read.
type squareTape struct {
	from    FromPoint
	side    float64 // +1 right, −1 left
	read    Observation
	commons []Common
	astray  int // the unknown departure of its from-point along; that across is the next; −1 for none
}

// squareFit is the adjustment. Its unknowns are f (aft), skew in radians, e (right) where
// that is free, the departures of the from-points, then the common errors.
type squareFit struct {
	c      *Square
	tapes  []squareTape
	free   bool // e is an unknown
	priors []squarePrior
	size   int
	errors map[int]int // unknowns of the common errors, by number
}

// squarePrior is what is known of an unknown beforehand: 0 within a variance.
type squarePrior struct {
	unknown  int
	variance float64
	common   *Common // whose; nil for a place
}

// Solve adjusts the position of the surface to all tapes by weighted least squares on the
// distances in space (package adjust), with the common errors of the instruments and the
// departures of the from-points among the unknowns.
func (c *Square) Solve(w *Work) {
	s := c.newFit(w)
	a, ok := adjust.Solve(s)
	if !ok {
		w.Find("did-not-converge", "these tapes fit no position: look for a wrong one")
		w.AtBestUnsure()
		return
	}
	if f := a.Freedom(); f >= 1 && w.Contradicts(a.S, f) {
		w.Disprove("the tapes contradict one another by more than chance: take them again, or look at the points they start from")
	}
	half, skew := float64(c.HalfSpan), Wrapped(a.P[1])
	w.Extreme("skew", nil, Angle, skew*perRadian, s.grounds(w, a, 1, perRadian))
	offset := half * math.Sin(skew)
	w.Extreme("tip_offset", nil, Length, offset, s.grounds(w, a, 1, half*math.Cos(skew)))
	w.Extreme("position", nil, Length, a.P[0], s.grounds(w, a, 0, 1))
	if s.free {
		w.Extreme("lateral", nil, Length, a.P[2], s.grounds(w, a, 2, 1))
	} else {
		w.Find("assumes-centred", "one pair of tapes cannot tell skew from side-shift: take a pair from a second point")
		w.AtBestUnsure()
	}
	c.leverage(w, s.tapes)
	direction := "aft"
	if skew > 0 {
		direction = "forward"
	}
	w.Move("right tip", direction, math.Abs(offset))
	w.explain("skew", fmt.Sprintf("best fit to %d tapes", len(s.tapes)), deg(skew*perRadian))
	w.explain("tip offset", fmt.Sprintf("half span × sin(skew) = %s × sin %s", mm(half), deg(skew*perRadian)), mm(offset))
}

// Wrapped is an angle in radians brought to between −π and π.
func Wrapped(angle float64) float64 { return math.Remainder(angle, 2*math.Pi) }

// grounds are those of a figure that is so many times an unknown.
func (s *squareFit) grounds(w *Work, a *adjust.Solution, unknown int, by float64) Grounds {
	return Grounds{
		U: func(placings int) float64 {
			if w.Supposing() {
				placings = -1 // the tapes anew
			}
			return math.Abs(by) * math.Sqrt(a.Response(placings).Variance(a.One(unknown)))
		},
		Parts: func() []Part {
			figure := a.One(unknown)
			figure[unknown] = by
			var parts []Part
			for i, square := range a.Response(0).Parts(figure) {
				switch k := i - len(s.tapes); {
				case k < 0:
					parts = append(parts, s.tapes[i].read.Part(square))
				case s.priors[k].common != nil:
					parts = append(parts, s.priors[k].common.Part(square))
				case s.priors[k].unknown == 2:
					parts = append(parts, Beforehand(OfHolds, square))
				default:
					parts = append(parts, Beforehand(OfPoints, square))
				}
			}
			return parts
		},
	}
}

// leverage tells how a disagreement of a point's two tapes shows at the tip.
func (c *Square) leverage(w *Work, tapes []squareTape) {
	for i, p := range c.From {
		v := (tapes[2*i].read.Value + tapes[2*i+1].read.Value) / 2 / (2 * math.Abs(float64(c.Station-p.X)))
		w.QuantityAt("leverage", p.Name, Ratio, Exact(v))
		if v > weakLeverage {
			w.Find("weak-geometry", p.Name+" is too near the line of the tips: measure from a point further away")
		}
	}
}

func (c *Square) newFit(w *Work) *squareFit {
	s := &squareFit{c: c, free: len(c.From) > 1 || c.Centred != nil, size: 2, errors: map[int]int{}}
	if s.free {
		s.size = 3
	}
	if c.Centred != nil {
		s.known(2, float64(*c.Centred**c.Centred)/3, nil)
	}
	for _, p := range c.From {
		u, stated := c.pointU(p)
		if !stated {
			w.Find("points-exact", "how well "+p.Name+" is known is not stated: it is taken as exact")
			w.Doubt()
		}
		astray := -1
		if u > 0 {
			astray = s.unknown(u*u, nil)
			s.unknown(u*u, nil)
		}
		for i, r := range []Reading{p.Left, p.Right} {
			t := squareTape{from: p, side: float64(2*i - 1), read: w.Observe(r), astray: astray}
			t.commons = t.read.Commons()
			for k, common := range t.commons {
				if _, known := s.errors[common.Number]; !known {
					s.errors[common.Number] = s.unknown(common.Variance, &t.commons[k])
				}
			}
			s.tapes = append(s.tapes, t)
		}
	}
	return s
}

// unknown numbers one more unknown, of which something is known beforehand.
func (s *squareFit) unknown(variance float64, c *Common) int {
	s.size++
	s.known(s.size-1, variance, c)
	return s.size - 1
}

func (s *squareFit) known(unknown int, variance float64, c *Common) {
	s.priors = append(s.priors, squarePrior{unknown, variance, c})
}

// Size, Angular and Arc describe the unknowns to the adjustment.
func (s *squareFit) Size() int                { return s.size }
func (s *squareFit) Angular(unknown int) bool { return unknown == 1 }
func (s *squareFit) Arc(unknown int) float64 {
	if unknown == 1 {
		return float64(s.c.HalfSpan)
	}
	return 1
}

// Rows are the tapes, then what is known beforehand.
func (s *squareFit) Rows(p []float64, placings int) []adjust.Row {
	rows := make([]adjust.Row, 0, len(s.tapes)+len(s.priors))
	for i := range s.tapes {
		rows = append(rows, s.row(&s.tapes[i], p, placings, nil))
	}
	for _, prior := range s.priors {
		r := adjust.Row{Residual: -p[prior.unknown], Weight: 1 / prior.variance}
		r.First[r.Add(prior.unknown)] = 1
		rows = append(rows, r)
	}
	return rows
}

// Bent are the tapes: what is known beforehand does not bend.
func (s *squareFit) Bent(p []float64, each func(*adjust.Row, *adjust.Bends)) {
	for i := range s.tapes {
		var second adjust.Bends
		r := s.row(&s.tapes[i], p, 0, &second)
		each(&r, &second)
	}
}

// row is a tape at p, and its second derivatives where a place for them is given: with v
// the vector along it and v_i its derivatives,
//
//	d_i = v·v_i/d,  d_ij = (v_i·v_j + v·v_ij − d_i d_j)/d.
//
// It reads (1 + s)·d and the constant error.
func (s *squareFit) row(t *squareTape, p []float64, placings int, second *adjust.Bends) adjust.Row {
	half := float64(s.c.HalfSpan)
	sin, cos := math.Sincos(p[1])
	v := [3]float64{float64(s.c.Station) + p[0] + t.side*half*sin - float64(t.from.X), t.side * half * cos, float64(t.from.Z)}
	r := adjust.Row{Weight: 1 / t.read.Variance(placings)}
	var slopes [][2]float64
	along := func(unknown int, x, y float64) {
		r.Add(unknown)
		slopes = append(slopes, [2]float64{x, y})
	}
	along(0, 1, 0)
	along(1, t.side*half*cos, -t.side*half*sin)
	if s.free {
		v[1] += p[2]
		along(2, 0, 1)
	}
	if t.astray >= 0 {
		v[0] -= p[t.astray]
		v[1] -= p[t.astray+1]
		along(t.astray, -1, 0)
		along(t.astray+1, 0, -1)
	}
	d := math.Sqrt(v[0]*v[0] + v[1]*v[1] + v[2]*v[2])
	for i, slope := range slopes {
		r.First[i] = (v[0]*slope[0] + v[1]*slope[1]) / d
	}
	if second != nil {
		for i, a := range slopes {
			for j, b := range slopes {
				second[i][j] = (a[0]*b[0] + a[1]*b[1] - r.First[i]*r.First[j]) / d
			}
		}
		second[1][1] -= t.side * half * (v[0]*sin + v[1]*cos) / d
	}
	Erring(&r, second, d, p, t.commons, func(c Common) (int, float64) { return s.errors[c.Number], 1 })
	r.Residual += t.read.Value
	return r
}

// Erring adds the common errors to a row that predicts so much without them, whose
// residual it leaves at minus what is predicted with them. at gives the unknown of an
// error, and the size of the observation's unit in that of the row.
func Erring(r *adjust.Row, second *adjust.Bends, predicted float64, p []float64, commons []Common, at func(Common) (unknown int, unit float64)) {
	plain, stretch, added := r.Count, 1.0, 0.0
	for _, c := range commons {
		unknown, unit := at(c)
		place := r.Add(unknown)
		if !c.Scale {
			if c.Own {
				unit = 1
			}
			r.First[place] = c.By * unit
			added += c.By * unit * p[unknown]
			continue
		}
		stretch += p[unknown] / c.Unit
		r.First[place] = predicted / c.Unit
		for i := 0; second != nil && i < plain; i++ {
			second[i][place], second[place][i] = r.First[i]/c.Unit, r.First[i]/c.Unit
		}
	}
	for i := range plain {
		r.First[i] *= stretch
		for j := 0; second != nil && j < plain; j++ {
			second[i][j] *= stretch
		}
	}
	r.Residual = -(stretch*predicted + added)
}

// Expect returns the length of a tape to the tip of a surface that lies as planned.
func (c *Square) Expect(at Spot) (nominal float64, ok bool) {
	for _, p := range c.From {
		if p.Name == at.Point {
			along := float64(c.Station - p.X)
			return math.Sqrt(along*along + float64(c.HalfSpan*c.HalfSpan) + float64(p.Z*p.Z)), true
		}
	}
	return 0, false
}

// Walk takes both tapes from each point.
func (c *Square) Walk() []Spot {
	how := "hook on the centreline point, read at the same edge of the tip, tape straight"
	var spots []Spot
	for _, p := range c.From {
		spots = append(spots, Spot{"from", p.Name, "left", "to the left tip", Length, "length", how}, Spot{"from", p.Name, "right", "to the right tip", Length, "length", how})
	}
	return spots
}

// longest is the longest tape from the centreline, as the plans have it.
func (c *Square) longest() (mm float64, known bool) {
	for _, p := range c.From {
		nominal, ok := c.Expect(Spot{Point: p.Name})
		mm, known = max(mm, nominal), known || ok
	}
	return mm, known
}

// Disturbed tells whether an event makes the readings of the check stale.
func (c *Square) Disturbed(e Event) bool { return longer(e, 1000, c.longest) }

// Form is what is asked for the check before anything is read.
func (*Square) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "station", Label: "Station of the tip points", As: "length"},
			{Key: "half_span", Label: "Half span, centreline to tip point", As: "length"},
			{Key: "from", Label: "Centreline points: name; station; height above the tips", Columns: []string{"name", "x", "z"}, As: "length"},
			PointsU("points_u", "The centreline points are known to (u, along and across; empty: "+say.Written(1).String()+")"),
			{Key: "centred", Label: "With one pair of tapes: the tips' middle is within so much of the airframe's", As: "length", Optional: true},
		},
		Now:     "Square to the middle?",
		Known:   []string{"points_u", "centred"},
		Assumes: map[string]Assumed{"points_u": {UsualDatumU, "points on the centreline"}},
		Offers: func(p Lying) map[string]Offer {
			if !p.Whole() {
				return nil
			}
			return map[string]Offer{"half_span": {p.At(p.Span() / 2), p.Ends()}, "station": {p.At(p.X), []string{"x"}}}
		},
	}
}
