package measure

import (
	"fmt"
	"iter"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// Grounds are what a quantity rests on.
type Grounds struct {
	// U is its standard uncertainty if every reading had at least so many placings.
	U func(placings int) float64
	// Candidates are the estimates that it may be, of which the greatest u is U.
	Candidates iter.Seq[Estimate]
	// Parts, of a quantity that was found by a weighted fit, in place of Candidates: what
	// each error adds to its variance. All readings of the check enter it.
	Parts func() []Part
}

// Part is what one error adds to the variance of a quantity: that of a reading itself,
// or one that several share.
type Part struct {
	reading, common int // −1 for the other; both are −1 for something that was not read
	square          float64
	of              string // of that: what it is
}

// estimated is the ground of a plain estimate.
func (w *Work) estimated(e Estimate) Grounds {
	return Grounds{U: func(placings int) float64 { return w.U(e, placings) }, Candidates: slices.Values([]Estimate{e})}
}

// oneOf is the ground of a quantity that is one of several estimates.
func (w *Work) oneOf(estimates []Estimate) Grounds {
	return Grounds{U: w.greatestU(estimates), Candidates: slices.Values(estimates)}
}

// placingsHelp tells whether a reading that the quantity rests on has a known spread.
func (w *Work) placingsHelp(g Grounds) bool {
	if g.Candidates == nil {
		return slices.ContainsFunc(w.readings, func(r used) bool { return r.single > 0 })
	}
	for e := range g.Candidates {
		if w.spreadKnown(e) {
			return true
		}
	}
	return false
}

// entersAtAll is the derivative below which a reading does not enter a quantity, and
// entersShare the share of its readings' derivatives below which a constant error cancels.
const (
	entersAtAll = 1e-12
	entersShare = 0.01
)

// conclude says what is not known of the answer, once all quantities are there.
func (w *Work) conclude() {
	w.scattered()
	if slices.ContainsFunc(w.readings, func(r used) bool {
		return r.lacks != lack{} || r.assumed != "" || r.instrument != nil && r.instrument.Assumed != nil
	}) {
		w.unknowns()
	}
	w.offTheScale()
	if slices.ContainsFunc(w.result.Findings, func(f Finding) bool { return f.Code == "spread-unknown" }) {
		w.result.Findings = slices.DeleteFunc(w.result.Findings, func(f Finding) bool { return f.Code == CannotTell })
	}
}

// unknowns finds the readings of which something is not known and which enter a limited
// quantity, or any quantity where none is limited.
func (w *Work) unknowns() {
	limited := slices.ContainsFunc(w.grounds, func(g ground) bool { return g.limited })
	enters, offset := make([]bool, len(w.readings)), make([]bool, len(w.commons))
	for _, g := range w.grounds {
		if limited && !g.limited {
			continue
		}
		if g.Candidates == nil {
			for i := range enters {
				enters[i] = true
				for _, s := range w.readings[i].shares {
					offset[s.common] = true
				}
			}
			break
		}
		for e := range g.Candidates {
			w.enter(e, enters, offset)
		}
	}
	if w.result.Assumed = append(w.result.Assumed, w.assumptions(enters, offset)...); len(w.result.Assumed) > 0 {
		w.Find("assumes-usual", "what is usual of its type is taken of "+w.result.Usually()+", and is not proven")
	}
	for i, r := range w.readings {
		if !enters[i] {
			continue
		}
		if limited && (r.lacks.instrument || r.lacks.spread) {
			w.Doubt()
		}
		if r.lacks.step {
			w.Find("resolution-unknown", "the step of "+r.instrument.Name+" is not stated: look at its smallest division")
			w.Doubt()
		}
	}
	for i, c := range w.commons {
		if offset[i] && c.sort == constant && c.instrument.OffsetUnknown {
			w.Find("offset-unknown", "the constant error of "+c.name+" is not stated, and does not cancel: prove it against something known")
			w.Doubt()
		}
	}
}

// offTheScale finds readings of a spirit level further than it has lines.
func (w *Work) offTheScale() {
	for _, r := range w.readings {
		if r.instrument == nil || r.instrument.Type != "spirit-level" {
			continue
		}
		for _, v := range r.shown {
			if math.Abs(v) > bubble+tie {
				w.Find("off-the-scale", "a bubble has a scale only near its lines: "+r.instrument.Name+" shows nothing beyond "+deg(bubble))
				w.AtBestUnsure()
				return
			}
		}
	}
}

// enter notes the readings that enter an estimate, and the constant errors that do not
// cancel from it.
func (w *Work) enter(e Estimate, enters, offset []bool) {
	sum, size := make([]float64, len(w.commons)), make([]float64, len(w.commons))
	for _, s := range e.slopes {
		enters[s.reading] = enters[s.reading] || math.Abs(s.by) > entersAtAll
		for _, c := range w.readings[s.reading].shares {
			sum[c.common] += s.by * c.by
			size[c.common] += math.Abs(s.by * c.by)
		}
	}
	for i := range sum {
		offset[i] = offset[i] || size[i] > entersAtAll && math.Abs(sum[i]) > entersShare*size[i]
	}
}

// scattered finds instruments whose repeated placings scatter more than is stated: the
// test of a variance by χ² at 0.999.
func (w *Work) scattered() {
	var tested []pool
	for _, r := range w.readings {
		in, of := r.instrument, pool{r.instrument, r.moved}
		if in == nil || in.Spread == nil || len(r.values) < 2 || slices.Contains(tested, of) {
			continue
		}
		tested = append(tested, of)
		squares, freedom := w.scatter(of)
		variance, spot := w.stated(in, r.moved)
		if in.assumes("spread") && *in.Spread > 0 || of.moved && in.assumes("spot") && in.Spot > 0 {
			squares /= assumedVariance
		}
		if squares > Quantile(freedom)*(variance+spot+in.Resolution*in.Resolution/12) {
			w.Find("scatter-exceeds-spread", fmt.Sprintf("the placings of %s scatter more than its spread says: place it ten times anew and state what they show", in.Name))
			w.Doubt()
		}
	}
}

// assumedVariance is how many times an assumed variance may be too small before anything is accused by it,
// and assumedSpread the same of its root.
const (
	assumedVariance = 2.25
	assumedSpread   = 1.5
)

// stated are the variances of a placing that its instrument states, or that are usual of it: of its spread,
// and, of one that was moved, of where it stands.
func (w *Work) stated(in *Instrument, moved bool) (spread, spot float64) {
	spread = *in.Spread * *in.Spread
	if m := float64(in.SpreadFrom); m > 3 {
		spread *= (m - 1) / (m - 3)
	}
	if moved {
		spot = in.Spot * in.Spot
	}
	return spread, spot
}

// Quantile is the 0.999 quantile of χ² with so many degrees of freedom.
func Quantile(freedom int) float64 { return distuv.ChiSquared{K: float64(freedom)}.Quantile(0.999) }

// Loose tells whether the readings rest on a spread or a spot that is assumed, and may be too small.
func (w *Work) Loose() bool {
	return slices.ContainsFunc(w.readings, func(r used) bool {
		in := r.instrument
		return in != nil && (r.interval == 0 && in.assumes("spread") && *in.Spread > 0 || in.assumes("spot") && in.Spot > 0)
	})
}

// Contradicts tells whether so great a sum of squares of a weighted fit, with so many degrees of freedom,
// disproves it: by χ² at 0.999. What is not known accuses nobody.
func (w *Work) Contradicts(squares float64, freedom int) bool {
	if w.Loose() {
		squares /= assumedVariance
	}
	return freedom >= 1 && squares > Quantile(freedom) && w.Tells()
}

// Tells tells whether step, spread and constant error of every instrument are known: what
// is not known neither tests the readings nor accuses one of them.
func (w *Work) Tells() bool {
	return !slices.ContainsFunc(w.readings, func(r used) bool { return r.lacks.spread || r.lacks.step || r.lacks.offset })
}

// solvePooled works a check out beside another, with what its own placings say of
// instruments that state no spread.
func (w *Work) solvePooled(c Check) {
	alone := newWork(nil, w.decision)
	c.Solve(alone)
	w.pools = alone.pooled()
	c.Solve(w)
}
