package measure

import "math"

// Estimate is a value with its first derivatives by the readings it came from.
// Standard uncertainties follow from these (JCGM 100:2008, 5.1.2 and 5.2.2,
// with a common error per instrument).
type Estimate struct {
	Value  float64
	slopes []slope // by rising reading number
}

type slope struct {
	reading int
	by      float64 // ∂value/∂reading
}

// Exact makes an estimate of a figure that is known.
func Exact(v float64) Estimate { return Estimate{Value: v} }

// Plus returns e + o.
func (e Estimate) Plus(o Estimate) Estimate { return e.combine(o, 1) }

// Minus returns e − o.
func (e Estimate) Minus(o Estimate) Estimate { return e.combine(o, -1) }

// Times returns k·e.
func (e Estimate) Times(k float64) Estimate { return e.Map(k*e.Value, k) }

// Map returns a function of e, given its value and its derivative at e.
func (e Estimate) Map(value, derivative float64) Estimate {
	out := Estimate{Value: value, slopes: make([]slope, len(e.slopes))}
	for i, s := range e.slopes {
		out.slopes[i] = slope{s.reading, s.by * derivative}
	}
	return out
}

// By returns e·o.
func (e Estimate) By(o Estimate) Estimate {
	out := e.Times(o.Value).Plus(o.Times(e.Value))
	out.Value = e.Value * o.Value
	return out
}

// Over returns e/o; o is not 0.
func (e Estimate) Over(o Estimate) Estimate { return e.By(o.Map(1/o.Value, -1/(o.Value*o.Value))) }

// Atan returns the arctangent of e in degrees.
func (e Estimate) Atan() Estimate {
	return e.Map(math.Atan(e.Value)*perRadian, perRadian/(1+e.Value*e.Value))
}

// Tan returns the tangent of e, which is in degrees.
func (e Estimate) Tan() Estimate {
	cos := math.Cos(e.Value / perRadian)
	return e.Map(math.Tan(e.Value/perRadian), 1/(cos*cos)/perRadian)
}

// Sin returns the sine of e, which is in degrees.
func (e Estimate) Sin() Estimate {
	return e.Map(math.Sin(e.Value/perRadian), math.Cos(e.Value/perRadian)/perRadian)
}

const perRadian = 180 / math.Pi

// combine returns e + k·o by merging the two sorted lists of slopes.
func (e Estimate) combine(o Estimate, k float64) Estimate {
	out := Estimate{Value: e.Value + k*o.Value, slopes: make([]slope, 0, len(e.slopes)+len(o.slopes))}
	i, j := 0, 0
	for i < len(e.slopes) || j < len(o.slopes) {
		switch {
		case j == len(o.slopes) || i < len(e.slopes) && e.slopes[i].reading < o.slopes[j].reading:
			out.slopes = append(out.slopes, e.slopes[i])
			i++
		case i == len(e.slopes) || o.slopes[j].reading < e.slopes[i].reading:
			out.slopes = append(out.slopes, slope{o.slopes[j].reading, k * o.slopes[j].by})
			j++
		default:
			out.slopes = append(out.slopes, slope{e.slopes[i].reading, e.slopes[i].by + k*o.slopes[j].by})
			i, j = i+1, j+1
		}
	}
	return out
}

// used is a reading that a check has taken into its arithmetic.
type used struct {
	where      string  // the reading, as in Reading.Where
	step       float64 // resolution²/12: does not shrink with placings
	interval   float64 // likewise: of what lies between two marks
	corrected  float64 // likewise: of corrections
	given      float64 // likewise: of a figure that was typed with its u
	beside     float64 // likewise: of what was not read, the board or the datum; of says which
	of         string
	assumed    string  // of that: the field that nobody stated
	spot       float64 // of where it stands: shrinks with placings that were moved, and only then
	single     float64 // variance of one placing about the mean; 0 when unknown
	placings   int
	moved      bool
	instrument *Instrument
	values     []float64
	shown      []float64 // as it was read, both ends of what lies between two marks
	shares     []share   // in errors that it has in common with others
	lacks      lack
}

// share is a reading's part in a common error: ∂reading/∂error.
type share struct {
	common int // index into Work.commons
	by     float64
}

// lack is what is not known of a reading.
type lack struct{ instrument, spread, step, offset bool }

// common is an error that several readings share, with its variance.
type common struct {
	name       string
	variance   float64
	sort       commonSort
	instrument *Instrument // whose; nil for one of a correction
}

// commonSort is what an error is that several readings share.
type commonSort string

// The common errors: the constant error of an instrument, its error in proportion, and that of a correction.
const (
	constant   commonSort = "constant"
	proportion commonSort = "proportion"
	correction commonSort = "corrections"
)

// commonKey tells common errors apart.
type commonKey struct {
	sort       commonSort
	instrument *Instrument
	name       string
}

// variance of the reading's own error if it had at least so many placings.
func (r used) variance(placings int) float64 {
	n := float64(max(r.placings, placings))
	spot := r.spot
	if r.moved {
		spot /= n
	}
	return r.step + r.interval + r.corrected + r.given + r.beside + spot + r.single/n
}

// Read takes a reading into the arithmetic: its mean with the instrument's zero
// removed and its corrections added, and its uncertainty after the worksheet's rules.
// A reading without an instrument is exact and said to be so.
func (w *Work) Read(r Reading) Estimate { return w.read(r, r.Turned, true) }

// ReadOwnSense takes a reading in the instrument's own sense: neither its zero
// nor its constant error plays a part (the end-for-end test finds both).
func (w *Work) ReadOwnSense(r Reading) Estimate { return w.read(r, false, false) }

func (w *Work) read(r Reading, reversed, zeroed bool) Estimate {
	in := r.Instrument
	u := used{where: r.Where, placings: max(1, len(r.Values)), values: r.Values, instrument: in, moved: r.Moved}
	u.shown = r.Values
	if r.Between != nil {
		u.shown = r.Between[:]
	}
	value, sign := r.Mean(), 1.0
	if reversed {
		sign = -1
	}
	switch {
	case r.Between != nil:
		wide := r.Between[1] - r.Between[0]
		u.interval, u.placings, u.values = wide*wide/12, 1, nil
		if in != nil {
			u.spot = in.Spot * in.Spot
		}
	case in == nil:
		u.lacks.instrument = true
		w.Find("no-instrument", "readings without an instrument are taken as exact")
	default:
		u.step, u.lacks.step = in.Resolution*in.Resolution/12, in.StepUnknown
		u.single, u.spot, u.lacks.spread = w.placingVariance(in, r.Moved, len(r.Values))
	}
	if zeroed {
		value -= sign * r.zero()
	}
	for _, c := range r.Corrections {
		value += c.Value
		if c.Common == "" {
			u.corrected += c.U * c.U
			continue
		}
		u.shares = append(u.shares, share{w.common(common{name: c.Common, variance: 1, sort: correction}), c.U})
	}
	if in != nil && zeroed {
		u.lacks.offset = in.OffsetUnknown
		u.shares = append(u.shares, share{w.common(common{name: in.Name, variance: in.Offset*in.Offset/3 + in.ZeroU*in.ZeroU, sort: constant, instrument: in}), sign})
		if per, unit := in.inProportion(); per > 0 {
			u.shares = append(u.shares, share{w.common(common{name: in.Name, variance: per * per / 3, sort: proportion, instrument: in}), value / unit})
		}
	}
	w.readings = append(w.readings, u)
	return Estimate{Value: value, slopes: []slope{{len(w.readings) - 1, 1}}}
}

// inProportion is the bound of the error in proportion to what is read, and of how much of it it is.
func (in *Instrument) inProportion() (per, unit float64) {
	if in.Measures == Angle {
		return in.PerDegree, 1
	}
	return in.PerMetre, 1000
}

// besides takes in a figure that was not read, with what it is known to: the board's own angle, or how the
// datum lies. It is the same wherever it enters.
func (w *Work) besides(of string, v, u float64, assumed string) Estimate {
	if u == 0 {
		return Exact(v)
	}
	w.readings = append(w.readings, used{beside: u * u, of: of, placings: 1, assumed: assumed})
	return Estimate{Value: v, slopes: []slope{{len(w.readings) - 1, 1}}}
}

// common numbers the errors that readings share.
func (w *Work) common(c common) int {
	key := commonKey{c.sort, c.instrument, c.name}
	if i, ok := w.shared[key]; ok {
		return i
	}
	if w.shared == nil {
		w.shared = map[commonKey]int{}
	}
	i := len(w.commons)
	w.shared[key] = i
	w.commons = append(w.commons, c)
	return i
}

// Observation is a reading as an adjustment takes it in: its value with the zero
// taken off, and what is needed to weigh it.
type Observation struct {
	Estimate
	Instrument *Instrument // nil: exact, or known by its interval
	w          *Work
	number     int // among the readings of the check
}

// Common is an observation's part in an error that it shares with others. An adjustment
// has that error among its unknowns, known to be 0 within its variance.
type Common struct {
	Number   int     // the same for all observations that share it
	Variance float64 // in the square of the instrument's unit; 1 for a correction
	By       float64 // ∂observation/∂error
	Scale    bool    // the error is in proportion to what is observed
	Unit     float64 // of that, so much is what it is given for: 1000 mm, or 1°
	Own      bool    // the error is in the observation's own unit, as an instrument's is
}

// Commons are the common errors that the observation has a part in and whose variance is
// above 0.
func (o Observation) Commons() []Common {
	var out []Common
	for _, s := range o.w.readings[o.number].shares {
		if c := o.w.commons[s.common]; c.variance > 0 {
			unit := 1.0
			if c.sort == proportion {
				_, unit = c.instrument.inProportion()
			}
			out = append(out, Common{s.common, c.variance, s.by, c.sort == proportion, unit, c.instrument != nil})
		}
	}
	return out
}

// Variance returns the variance of the reading's own error if it had at least so
// many placings (0: as it is), in mm² or square degrees.
func (o Observation) Variance(placings int) float64 { return o.w.readings[o.number].variance(placings) }

// Known tells whether step, spread and constant error of what it was read with are known.
func (o Observation) Known() bool {
	l := o.w.readings[o.number].lacks
	return !l.spread && !l.step && !l.offset
}

// Part is what the reading's own error adds to the variance of a figure.
func (o Observation) Part(square float64) Part {
	return Part{reading: o.number, common: -1, square: square}
}

// Part is what the common error adds to the variance of a figure.
func (c Common) Part(square float64) Part { return Part{reading: -1, common: c.Number, square: square} }

// Observe takes a reading into the arithmetic, as Read does, for an adjustment
// that weighs it and has the common errors among its unknowns.
func (w *Work) Observe(r Reading) Observation {
	return Observation{w.Read(r), r.Instrument, w, len(w.readings) - 1}
}

// Weightless returns, of readings that are weighed against one another, which would be
// taken as exact: they have no instrument, or one whose step and spread come to
// nothing. A reading that is still to be taken is not.
func Weightless(readings []Reading) []bool {
	w, out := newWork(nil, Decision{}), make([]bool, len(readings))
	for range 2 { // what their placings say together is known the second time
		w.readings = nil
		for i, r := range readings {
			out[i] = len(r.Values) > 0 && w.U(w.ReadOwnSense(withoutCommons(r)), 0) == 0
		}
		w.pools = w.pooled()
	}
	return out
}

func withoutCommons(r Reading) Reading {
	var own []Correction
	for _, c := range r.Corrections {
		if c.Common == "" {
			own = append(own, c)
		}
	}
	r.Corrections = own
	return r
}

// placingVariance is the variance of a single placing: the instrument's spread, or where
// it states none what the repeated placings of the check say. A spread that was itself
// found from m placings is (m − 1)/(m − 3) times as uncertain: the variance of Student's
// distribution of m − 1 degrees of freedom (JCGM 101:2008, 6.4.9.4).
//
// An assumed spread counts as four degrees of freedom beside the placings that were read. The variance of
// where it stands is given beside; of placings that were moved both are pooled together, and divided as
// they are assumed, or are all spread where nothing is assumed.
func (w *Work) placingVariance(in *Instrument, moved bool, placings int) (spread, spot float64, lacks bool) {
	w.unpooled = w.unpooled || placings > 1 && (in.Spread == nil || in.assumes("spread"))
	if spread, spot, known := w.spreadOf(in, moved); known {
		return spread, spot, false
	}
	w.unpooled = true
	w.Find("spread-unknown", in.Name+" has no spread: place it ten times on one spot, set down anew each time")
	return 0, in.Spot * in.Spot, true
}

// spreadOf is placingVariance without a word.
func (w *Work) spreadOf(in *Instrument, moved bool) (spread, spot float64, known bool) {
	spot = in.Spot * in.Spot
	pooled, read := w.pools[pool{in, moved}]
	switch {
	case in.Spread == nil && !read:
		return 0, spot, false
	case in.Spread == nil && moved:
		return pooled, 0, true // their scatter holds the spot
	case in.Spread == nil:
		return pooled, spot, true
	}
	spread = *in.Spread * *in.Spread
	switch m := float64(in.SpreadFrom); {
	case m > 3:
		spread *= (m - 1) / (m - 3)
	case read && moved && spread+spot > 0:
		return pooled * spread / (spread + spot), pooled * spot / (spread + spot), true
	case read && !moved:
		return pooled, spot, true
	}
	return spread, spot, true
}

// pool is the placings of an instrument that are pooled: those on one spot, or those that were moved.
type pool struct {
	in    *Instrument
	moved bool
}

// assumedFreedom is how many degrees of freedom an assumed spread counts as.
const assumedFreedom = 4

// scatter is Σ(nᵢ − 1)sᵢ² over the placings of an instrument's readings, and ν = Σ(nᵢ − 1).
func (w *Work) scatter(of pool) (squares float64, freedom int) {
	for _, r := range w.readings {
		if r.instrument != of.in || r.moved != of.moved || len(r.values) < 2 {
			continue
		}
		mean := Reading{Values: r.values}.Mean()
		for _, v := range r.values {
			squares += (v - mean) * (v - mean)
		}
		freedom += len(r.values) - 1
	}
	return squares, freedom
}

// leastPooled is how many degrees of freedom a spread needs that is pooled.
const leastPooled = 3

// pooled is the variance of a single placing of each instrument that states no spread,
// from the repeated placings of all its readings: s²ν/(ν − 2).
func (w *Work) pooled() map[pool]float64 {
	pools := map[pool]float64{}
	for _, r := range w.readings {
		in, of := r.instrument, pool{r.instrument, r.moved}
		if in == nil || in.Spread != nil && !in.assumes("spread") {
			continue
		}
		squares, freedom := w.scatter(of)
		switch {
		case in.Spread == nil && freedom >= leastPooled:
			pools[of] = squares / float64(freedom-2)
		case in.Spread != nil && freedom > 0:
			usual := *in.Spread * *in.Spread
			if of.moved {
				usual += in.Spot * in.Spot
			}
			pools[of] = (assumedFreedom*usual + squares) / float64(assumedFreedom+freedom)
		}
	}
	return pools
}

// U returns the standard uncertainty of e if every reading had at least so many
// placings (0: as they are):
//
//	u² = Σ (∂f/∂r)² u_r² + Σ_common (Σ ∂f/∂r · ∂r/∂error)² u_error²
//
// with, for each instrument, a constant error of variance offset²/3 + u_zero² and one in
// proportion to what is read, of per_metre²/3.
func (w *Work) U(e Estimate, placings int) float64 {
	sum, common := 0.0, make([]float64, len(w.commons)) // in the order of the errors: the same sum each time
	for _, s := range e.slopes {
		r := &w.readings[s.reading]
		sum += s.by * s.by * r.variance(placings)
		for _, c := range r.shares {
			common[c.common] += c.by * s.by
		}
	}
	for i, c := range common {
		sum += c * c * w.commons[i].variance
	}
	return math.Sqrt(sum)
}

// spreadKnown tells whether any reading that e rests on has an instrument with a spread
// above 0, stated or pooled, so that more placings would help.
func (w *Work) spreadKnown(e Estimate) bool {
	for _, s := range e.slopes {
		if s.by != 0 && w.readings[s.reading].single > 0 {
			return true
		}
	}
	return false
}

// Again is the observation that one more placing of the same instrument would be: the
// same way round, with what is known of its spread.
func (o Observation) Again() Observation {
	in := o.Instrument
	u := used{placings: 1, instrument: in, step: in.Resolution * in.Resolution / 12}
	u.single, u.spot, _ = o.w.spreadOf(in, false)
	for _, sort := range []commonSort{constant, proportion} {
		if i, ok := o.w.shared[commonKey{sort, in, in.Name}]; ok {
			u.shares = append(u.shares, share{i, 1})
		}
	}
	w := &Work{readings: []used{u}, commons: o.w.commons}
	return Observation{Instrument: in, w: w}
}
