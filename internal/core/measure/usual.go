package measure

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"orpine/internal/core/quantity"
)

// Columns are the figures of an instrument that may be assumed, in the order in which they are listed.
var Columns = []string{"resolution", "spread", "spot", "offset", "per_metre", "per_degree"}

// Usual is what nineteen in twenty instruments of a type keep that are used with ordinary care and not yet
// proven: mm, or degrees. The sizes are rounded upwards from what makers state (tapes of class II 0.3 mm +
// 0.2 mm/m, line lasers 0.3 mm/m, digital levels 0.1° to 0.2° away from level and plumb) and what hooks,
// parallax and seats add.
type Usual struct {
	Type                             string
	Measures                         Dimension
	Resolution, Spread, Spot, Offset float64
	Proportion                       float64 // mm in a metre, or of each degree
}

// Usuals are the types.
var Usuals = []Usual{
	{"tape", Length, 1, 0.5, 0.3, 1, 0.3},
	{"rule", Length, 0.5, 0.2, 0.15, 0.25, 0.15},
	{"caliper", Length, 0.05, 0.03, 0.02, 0.06, 0},
	{"feeler", Length, 0, 0.02, 0.02, 0.02, 0},
	{"laser", Length, 1, 0.6, 1, 0.5, 0},
	{"water-level", Length, 1, 0.8, 0.5, 0.5, 0},
	{"digital-level", Angle, 0.1, 0.06, 0.04, 0.2, 0.02},
	{"spirit-level", Angle, 0.06, 0.05, 0.04, 0.1, 0.05},
	{"phone", Angle, 0.1, 0.1, 0.1, 1, 0.02},
	{"protractor", Angle, 0.5, 0.25, 0.1, 0.5, 0.01},
}

// UsualOf is what is usual of a type.
func UsualOf(name string) (Usual, bool) {
	i := slices.IndexFunc(Usuals, func(u Usual) bool { return u.Type == name })
	if i < 0 {
		return Usual{}, false
	}
	return Usuals[i], true
}

// Assume fills in what is usual of the instrument's type and was not stated. A stated value counts, 0 too;
// the offset is assumed only where neither it nor the u of a zero is stated.
func (in *Instrument) Assume(stated func(column string) bool) {
	u, ok := UsualOf(in.Type)
	if !ok {
		return
	}
	assume := func(column string, missing bool, into *float64, v float64) {
		if missing {
			*into = v
			in.Assumed = append(in.Assumed, column)
		}
	}
	assume("resolution", !stated("resolution"), &in.Resolution, u.Resolution)
	if !stated("spread") {
		in.Spread = &u.Spread
		in.Assumed = append(in.Assumed, "spread")
	}
	assume("spot", !stated("spot"), &in.Spot, u.Spot)
	assume("offset", !stated("offset") && !stated("zero_u"), &in.Offset, u.Offset)
	assume("per_metre", in.Measures == Length && !stated("per_metre"), &in.PerMetre, u.Proportion)
	assume("per_degree", in.Measures == Angle && !stated("per_degree"), &in.PerDegree, u.Proportion)
	in.StepUnknown, in.OffsetUnknown = false, false
}

func (in *Instrument) assumes(column string) bool { return slices.Contains(in.Assumed, column) }

// Assumption is what of an instrument is what is usual of its type, and enters what is limited; of no
// instrument, where its name is "".
type Assumption struct {
	Instrument string
	Of         []string
}

// bubble is how far from its lines a spirit level has a scale, in degrees.
const bubble = 0.3

// assumptions are what the answer rests on that nobody stated; entered tells which readings enter what is
// limited, and constants which constant errors.
func (w *Work) assumptions(entered, constants []bool) (out []Assumption) {
	of := map[*Instrument][]string{}
	note := func(in *Instrument, column string, v float64) {
		if v > 0 && in.assumes(column) && !slices.Contains(of[in], column) {
			of[in] = append(of[in], column)
		}
	}
	for i, r := range w.readings {
		in := r.instrument
		if r.assumed != "" && entered[i] {
			out = append(out, Assumption{Of: []string{r.assumed}})
		}
		if in == nil || !entered[i] {
			continue
		}
		if r.interval == 0 {
			note(in, "resolution", in.Resolution)
			if in.Spread != nil {
				note(in, "spread", *in.Spread)
			}
		}
		note(in, "spot", in.Spot)
		for _, s := range r.shares {
			switch c := w.commons[s.common]; {
			case c.instrument != in:
			case c.sort == constant && constants[s.common]:
				note(in, "offset", in.Offset)
			case c.sort == proportion && math.Abs(s.by) > 0:
				note(in, "per_metre", in.PerMetre)
				note(in, "per_degree", in.PerDegree)
			}
		}
	}
	for in, columns := range of {
		slices.SortFunc(columns, func(a, b string) int { return cmp.Compare(slices.Index(Columns, a), slices.Index(Columns, b)) })
		out = append(out, Assumption{in.Name, columns})
	}
	slices.SortFunc(out, func(a, b Assumption) int { return strings.Compare(a.Instrument, b.Instrument) })
	return out
}

// usualBoardU is what an incidence board is known to, in degrees, where it was not proven.
const usualBoardU = 0.06

// typed tells whether what kind of instrument it is was said of one that some readings use.
func typed(readings ...*Reading) bool {
	return slices.ContainsFunc(readings, func(r *Reading) bool { return r != nil && r.Instrument != nil && r.Instrument.Type != "" })
}

// asDatum is the datum as it was read, known to u where the surface is not the reference that the plans mean.
func (w *Work) asDatum(r *Reading, u *quantity.Angle) Estimate {
	datum := Exact(0)
	if r != nil {
		datum = w.Read(*r)
	}
	if u != nil {
		datum = datum.Plus(w.besides("datum", 0, float64(*u), ""))
	}
	return datum
}

// validateDatumU refuses what a datum is known to where there is none.
func validateDatumU(datum *Reading, u *quantity.Angle, report func(path, message string)) {
	switch {
	case u == nil:
	case datum == nil:
		report("datum_u", "is of a datum, and there is none")
	case *u < 0:
		report("datum_u", "must not be negative")
	}
}
