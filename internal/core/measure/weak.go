package measure

import (
	"slices"
	"strings"
)

// Weakness is the reading or the common error that a quantity's uncertainty rests on most.
type Weakness struct {
	Reading string  // the reading that contributes most, by its Where; "" when none contributes
	Share   float64 // its part of u², between 0 and 1
	Offset  string  // the instrument whose constant error contributes more than any one reading; else ""
	Common  float64 // the part of u² that comes from that error
	Other   bool    // Offset names no instrument but a correction that several readings share
}

// Weakness finds what makes the quantity uncertain: each error's own part of u², which
// is their sum (JCGM 100:2008, 5.1.2).
func (q Quantity) Weakness() Weakness {
	if q.weakness == nil || q.U == 0 {
		return Weakness{}
	}
	return q.weakness()
}

// Supposing tells whether readings stand at other uncertainties than their own just
// now, to see what that would change: what was worked out before does not hold.
func (w *Work) Supposing() bool { return w.supposing }

func (w *Work) weakness(g Grounds) Weakness {
	now := g.U(0)
	var out Weakness
	readings, commons := w.parts(g)
	for i, square := range readings {
		if share := square / (now * now); share > out.Share+tie {
			out.Reading, out.Share = w.readings[i].where, share
		}
	}
	for i, square := range commons {
		share := square / (now * now)
		if share > out.Share && (share > out.Common || share == out.Common && w.commons[i].name < out.Offset) {
			out.Offset, out.Common, out.Other = w.commons[i].name, share, w.commons[i].instrument == nil
		}
	}
	return out
}

// parts are what each reading and each common error adds to the variance, of the least
// known candidate.
func (w *Work) parts(g Grounds) (readings, commons []float64) {
	readings, commons = make([]float64, len(w.readings)), make([]float64, len(w.commons))
	if g.Candidates == nil {
		for _, p := range g.Parts() {
			switch {
			case p.reading >= 0:
				readings[p.reading] += p.square
			case p.common >= 0:
				commons[p.common] += p.square
			}
		}
		return readings, commons
	}
	var least Estimate
	most := -1.0
	for e := range g.Candidates {
		if u := w.U(e, 0); u > most {
			least, most = e, u
		}
	}
	for _, s := range least.slopes {
		readings[s.reading] = s.by * s.by * w.readings[s.reading].variance(0)
		for _, c := range w.readings[s.reading].shares {
			commons[c.common] += s.by * c.by
		}
	}
	for i, sum := range commons {
		commons[i] = sum * sum * w.commons[i].variance
	}
	return readings, commons
}

// Remedy is something that would make a quantity better known: it was tried.
type Remedy struct {
	Do       Deed
	Of       string    // the instrument that it is done with or to
	More     int       // of further placings: how many
	Step     float64   // of a finer display: its step, mm or degrees as it measures
	Measures Dimension // what the instrument measures
	U        float64   // what would be left
}

// Deed is what is done about a doubt.
type Deed string

// The deeds, each against a part of the doubt.
const (
	PlaceMoved Deed = "place" // further placings, each lifted off and set a little beside the last
	FinerStep  Deed = "step"  // an instrument of the same sort with half the step
	TurnEnds   Deed = "turn"  // a level turned end for end on one spot
	KnownSize  Deed = "known" // a tape, rule or gauge against something known
	TurnBoard  Deed = "board" // the board turned round on its chord line
)

// worthIt is the share of the present u that a remedy must leave at most to be proposed.
const worthIt = 0.8

// mostMore is how many further placings of a reading are ever proposed.
const mostMore = 9

// Remedies are what would help, each tried by working the doubt out again, against the parts of the doubt in
// their order. What would leave more than four fifths of it is not among them.
func (q Quantity) Remedies() []Remedy {
	if q.remedies == nil || q.U == 0 || q.Unseen {
		return nil
	}
	return q.remedies()
}

// MovedPlacings is the least number of placings of each reading, each lifted off and set a little beside the
// last, that would make a quantity go which lies inside its limit; 0 where none would, up to mostPlacings.
// They lessen what is due to where an instrument stands, too, which placings on one spot do not.
func (q Quantity) MovedPlacings() int {
	if q.moved == nil || q.U == 0 || q.Unseen || q.Limit == nil || q.Verdict != Unsure || !q.Limit.Holds(q.Value) {
		return 0
	}
	return q.moved()
}

// Best is its standard uncertainty if each reading had so many moved placings, and the instruments were proven
// whose constant error is only usual: a level turned end for end, another tried on something known.
func (q Quantity) Best(placings int) float64 {
	if q.best == nil || q.U == 0 || q.Unseen {
		return q.U
	}
	return min(q.U, q.best(placings))
}

func (w *Work) bestOf(g Grounds) func(placings int) float64 {
	return func(placings int) float64 {
		return w.suppose(func() float64 { return g.U(0) }, func() {
			for i, c := range w.commons {
				if c.sort == constant && c.instrument != nil && c.instrument.assumes("offset") {
					w.commons[i].variance = proofLeaves(c.instrument) * w.placingOf(c.name)
				}
			}
			w.placeMore("", placings-1)
		})
	}
}

// proofLeaves is how much of the variance of one placing a proof of the constant error leaves: of a level half,
// for its zero is half the sum of two.
func proofLeaves(in *Instrument) float64 {
	if in.Measures == Angle {
		return 0.5
	}
	return 1
}

func (w *Work) movedPlacings(value float64, l Limit, g Grounds) int {
	goes := func(n int) bool {
		return w.decide(value, w.suppose(func() float64 { return g.U(0) }, func() {
			w.each("", func(r *used) {
				if r.interval == 0 && n > r.placings {
					r.placings, r.moved = n, true
				}
			})
		}), l) == Go
	}
	if !goes(mostPlacings) {
		return 0
	}
	low, high := 1, mostPlacings
	for low < high {
		if middle := (low + high) / 2; goes(middle) {
			high = middle
		} else {
			low = middle + 1
		}
	}
	return high
}

func (w *Work) remediesOf(g Grounds) (out []Remedy) {
	now := g.U(0)
	try := func(r Remedy, change func()) bool {
		r.U = w.suppose(func() float64 { return g.U(0) }, change)
		if !(r.U <= worthIt*now) || slices.ContainsFunc(out, func(o Remedy) bool { return o.Do == r.Do && o.Of == r.Of }) {
			return false
		}
		out = append(out, r)
		return true
	}
	for _, part := range w.doubtOf(g) {
		cause, name, _ := strings.Cut(part.Of, " ")
		switch cause {
		case "spread", "spot":
			for more := 2; more <= mostMore; more++ {
				if try(Remedy{Do: PlaceMoved, Of: name, More: more}, func() { w.placeMore(name, more) }) {
					break
				}
			}
		case "resolution":
			finer := Remedy{Do: FinerStep, Of: name}
			w.each(name, func(r *used) { finer.Step, finer.Measures = r.instrument.Resolution/2, r.instrument.Measures })
			try(finer, func() { w.each(name, func(r *used) { r.step /= 4 }) })
		case string(constant):
			w.tryProof(name, try)
		case "board":
			try(Remedy{Do: TurnBoard}, func() {
				for i := range w.readings {
					if w.readings[i].of == "board" {
						w.readings[i].beside = w.placingOf("")
					}
				}
			})
		}
	}
	return out
}

// tryProof tries to prove the constant error of an instrument.
func (w *Work) tryProof(name string, try func(Remedy, func()) bool) {
	for i, c := range w.commons {
		if c.sort != constant || c.instrument == nil || c.instrument.Name != name || c.instrument.ZeroU > 0 {
			continue
		}
		if !c.instrument.assumes("offset") {
			return // what is stated or was found of it remains
		}
		do := KnownSize
		if c.instrument.Measures == Angle {
			do = TurnEnds
		}
		try(Remedy{Do: do, Of: name}, func() { w.commons[i].variance = proofLeaves(c.instrument) * w.placingOf(name) })
	}
}

// placingOf is the variance of one placing with an instrument on one spot; of the first one where it has no name.
func (w *Work) placingOf(name string) (variance float64) {
	w.each(name, func(r *used) {
		if variance == 0 {
			variance = r.step + r.single
		}
	})
	return variance
}

// placeMore gives each reading with an instrument so many placings more, each moved.
func (w *Work) placeMore(name string, more int) {
	w.each(name, func(r *used) {
		if r.interval == 0 {
			r.placings, r.moved = r.placings+more, true
		}
	})
}

// each calls for the readings taken with an instrument; of all where it has no name.
func (w *Work) each(name string, call func(*used)) {
	for i := range w.readings {
		if r := &w.readings[i]; r.instrument != nil && (name == "" || r.instrument.Name == name) {
			call(r)
		}
	}
}

// suppose asks while something is otherwise.
func (w *Work) suppose(ask func() float64, change func()) float64 {
	readings, commons := slices.Clone(w.readings), slices.Clone(w.commons)
	w.supposing = true
	defer func() {
		copy(w.readings, readings)
		copy(w.commons, commons)
		w.supposing = false
	}()
	change()
	return ask()
}
