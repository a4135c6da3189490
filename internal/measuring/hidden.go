package measuring

import (
	"math/rand/v2"
	"strconv"

	"orpine/internal/core/measure"
	"orpine/internal/core/sim"
)

// Hidden draws a part that may lie in a setup, for simulated instruments to read: what was read
// there already is true within a little; rails that are not read yet are twisted, and so is a
// little what lies on them. Lengths that nobody read have no true value.
func (s Setup) Hidden(seed uint64) []sim.HiddenSpot {
	r := rand.New(rand.NewPCG(seed, 0x4a17))
	rails, own, base := 0.31+0.1*r.NormFloat64(), 0.03*r.NormFloat64(), 0.2*r.NormFloat64()
	var out []sim.HiddenSpot
	for _, c := range s.Checks {
		for i, spot := range c.Spots {
			share := float64(i) / float64(max(len(c.Spots)-1, 1))
			v, unit := 0.0, "mm"
			counting := spot.Counting()
			for _, reading := range counting {
				v += reading.Value / float64(len(counting))
			}
			switch {
			case len(counting) > 0 && spot.Dimension == measure.Angle:
				v += 0.005 * r.NormFloat64()
			case len(counting) > 0:
				v += 0.1 * r.NormFloat64()
			case spot.Dimension != measure.Angle:
				continue
			default:
				if v = base + rails*share; spot.Field != "support" {
					v += own * share
				}
			}
			if spot.Dimension == measure.Angle {
				unit = "deg"
			}
			out = append(out, sim.HiddenSpot{List: spot.List, Point: spot.Point, Field: spot.Field, True: strconv.FormatFloat(v, 'f', 4, 64), Unit: unit})
		}
	}
	return out
}
