package measure

import (
	"cmp"
	"maps"
	"slices"
	"strings"
)

// DoubtOf is a part of the variance of a quantity: "spread tape", "constant level", "points".
type DoubtOf struct {
	Of    string
	Share float64 // of u²; all come to 1
}

// leastShare is the part of u² below which a doubt is left out.
const leastShare = 1e-9

// Doubt is what u² is made of, the greatest part first.
func (q Quantity) Doubt() []DoubtOf {
	if q.doubt == nil || q.U == 0 || q.Unseen {
		return nil
	}
	return q.doubt()
}

// What a part is of that was not read: the places of points, and what is held or known beforehand.
const (
	OfPoints = "points"
	OfHolds  = "held"
)

// Beforehand is what something that was not read adds to the variance of a figure.
func Beforehand(of string, square float64) Part {
	return Part{reading: -1, common: -1, square: square, of: of}
}

// doubtOf gathers the parts of a quantity's variance by what they are of; of an extreme those of its least
// known candidate.
func (w *Work) doubtOf(g Grounds) []DoubtOf {
	sums := map[string]float64{}
	if g.Candidates == nil {
		for _, p := range g.Parts() {
			switch {
			case p.reading >= 0:
				r := w.readings[p.reading]
				if whole := r.variance(0); whole > 0 {
					r.causes(func(of string, square float64) { sums[of] += p.square * square / whole })
				}
			case p.common >= 0:
				sums[w.commons[p.common].of()] += p.square
			default:
				sums[p.of] += p.square
			}
		}
	} else {
		least := w.leastKnown(g)
		common := make([]float64, len(w.commons))
		for _, s := range least.slopes {
			r := w.readings[s.reading]
			r.causes(func(of string, square float64) { sums[of] += s.by * s.by * square })
			for _, c := range r.shares {
				common[c.common] += s.by * c.by
			}
		}
		for i, sum := range common {
			sums[w.commons[i].of()] += sum * sum * w.commons[i].variance
		}
	}
	whole := 0.0
	for _, of := range slices.Sorted(maps.Keys(sums)) {
		whole += sums[of]
	}
	var out []DoubtOf
	for of, square := range sums {
		if share := square / whole; share >= leastShare {
			out = append(out, DoubtOf{of, share})
		}
	}
	slices.SortFunc(out, func(a, b DoubtOf) int {
		if d := a.Share - b.Share; d > leastShare || d < -leastShare {
			return cmp.Compare(b.Share, a.Share)
		}
		return strings.Compare(a.Of, b.Of)
	})
	return out
}

// leastKnown is the candidate of the greatest u, the first of equals.
func (w *Work) leastKnown(g Grounds) (least Estimate) {
	most := -1.0
	for e := range g.Candidates {
		if u := w.U(e, 0); u > most*(1+leastShare) {
			least, most = e, u
		}
	}
	return least
}

// causes are the variances that a reading's own error is made of.
func (r used) causes(each func(of string, square float64)) {
	name := ""
	if r.instrument != nil {
		name = " " + r.instrument.Name
	}
	n := float64(r.placings)
	spot := r.spot
	if r.moved {
		spot /= n
	}
	each("resolution"+name, r.step)
	each("spread"+name, r.interval+r.single/n)
	each("spot"+name, spot)
	each("corrections", r.corrected)
	each("given", r.given)
	each(r.of, r.beside)
}

// of is what a common error is called.
func (c common) of() string {
	if c.instrument == nil {
		return string(c.sort)
	}
	return string(c.sort) + " " + c.instrument.Name
}
