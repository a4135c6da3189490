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
	fixed      float64 // resolution²/12: does not shrink with placings
	single     float64 // variance of one placing about the mean; 0 when unknown
	placings   int
	instrument int     // index into Work.offsets; −1 for none
	sign       float64 // of the instrument's offset in this reading
	stated     bool    // the instrument states a spread above 0
}

// variance of the reading's own error if it had at least so many placings.
func (r used) variance(placings int) float64 {
	return r.fixed + r.single/float64(max(r.placings, placings))
}

// Read takes a reading into the arithmetic: its mean with the instrument's zero
// removed, and its uncertainty after the worksheet's rules. A reading without
// an instrument is exact and said to be so.
func (w *Work) Read(r Reading) Estimate { return w.read(r, r.Turned, true) }

// ReadOwnSense takes a reading in the instrument's own sense: neither its zero
// nor its constant error plays a part (the end-for-end test finds both).
func (w *Work) ReadOwnSense(r Reading) Estimate { return w.read(r, false, false) }

func (w *Work) read(r Reading, reversed, zeroed bool) Estimate {
	u := used{where: r.Where, placings: len(r.Values), instrument: -1, sign: 1}
	value := r.Mean()
	if reversed {
		u.sign = -1
	}
	if in := r.Instrument; in == nil {
		w.Find("no-instrument", "readings without an instrument are taken as exact")
	} else {
		u.fixed = in.Resolution * in.Resolution / 12
		u.single, u.stated = w.placingVariance(r)
		if zeroed {
			value -= u.sign * in.Zero
			u.instrument = w.offsetOf(in)
		}
	}
	w.readings = append(w.readings, u)
	return Estimate{Value: value, slopes: []slope{{len(w.readings) - 1, 1}}}
}

// Observation is a reading as an adjustment takes it in: its value with the zero
// taken off, and what is needed to weigh it.
type Observation struct {
	Estimate
	Instrument *Instrument // nil: exact
	Sign       float64     // of the instrument's constant error in this reading
	w          *Work
	number     int // among the readings of the check
}

// Variance returns the variance of the reading's own error if it had at least so
// many placings (0: as it is), in mm² or square degrees.
func (o Observation) Variance(placings int) float64 { return o.w.readings[o.number].variance(placings) }

// OffsetVariance returns the variance of the instrument's constant error, which is
// common to all its readings; 0 where there is none.
func (o Observation) OffsetVariance() float64 {
	if i := o.w.readings[o.number].instrument; i >= 0 {
		return o.w.offsets[i]
	}
	return 0
}

// Observe takes a reading into the arithmetic, as Read does, for an adjustment
// that weighs it and has the constant errors of instruments among its unknowns.
func (w *Work) Observe(r Reading) Observation {
	e, number := w.Read(r), len(w.readings)-1
	return Observation{e, r.Instrument, w.readings[number].sign, w, number}
}

// Exact tells whether the reading would be taken as exact: it has no instrument,
// or one whose step and spread come to nothing.
func (r Reading) Exact() bool {
	w := newWork(nil, Decision{})
	return w.U(w.ReadOwnSense(r), 0) == 0
}

// placingVariance is the variance of a single placing: the instrument's spread,
// or where it states none, the sample variance of four placings or more.
func (w *Work) placingVariance(r Reading) (variance float64, stated bool) {
	if s := r.Instrument.Spread; s != nil {
		return *s * *s, *s > 0
	}
	n := len(r.Values)
	if n < 4 {
		w.Find("spread-unknown", r.Instrument.Name+" has no spread: place it five times on one spot")
		return 0, false
	}
	mean, sum := r.Mean(), 0.0
	for _, v := range r.Values {
		sum += (v - mean) * (v - mean)
	}
	return sum / float64(n-1), false
}

// offsetOf numbers the instruments whose constant error is shared.
func (w *Work) offsetOf(in *Instrument) int {
	if i, ok := w.instruments[in]; ok {
		return i
	}
	i := len(w.offsets)
	w.instruments[in] = i
	w.offsets = append(w.offsets, in.Offset*in.Offset/3+in.ZeroU*in.ZeroU)
	return i
}

// U returns the standard uncertainty of e if every reading had at least so many
// placings (0: as they are):
//
//	u² = Σ (∂f/∂r)² u_r² + Σ_instruments (Σ ± ∂f/∂r)² (offset²/3 + u_zero²)
func (w *Work) U(e Estimate, placings int) float64 {
	sum, common := 0.0, make([]float64, len(w.offsets)) // in the order of the instruments: the same sum each time
	for _, s := range e.slopes {
		r := w.readings[s.reading]
		sum += s.by * s.by * r.variance(placings)
		if r.instrument >= 0 {
			common[r.instrument] += r.sign * s.by
		}
	}
	for i, c := range common {
		sum += c * c * w.offsets[i]
	}
	return math.Sqrt(sum)
}

// spreadStated tells whether any reading that e rests on has an instrument with
// a stated spread above 0, so that more placings would help.
func (w *Work) spreadStated(e Estimate) bool {
	for _, s := range e.slopes {
		if s.by != 0 && w.readings[s.reading].stated {
			return true
		}
	}
	return false
}
