package pose

import (
	"math"
	"slices"

	"orpine/internal/core/measure"
)

// leastDoubt is the share of the variance below which a point is not named.
const leastDoubt = 0.01

// worthwhile is how much smaller u must become for a distance to be asked for.
const worthwhile = 0.98

// doubts are the points whose departures make a figure uncertain, and the distance between
// two points of the airframe, not yet taken, that would tell most of it. unit is that of the
// figure in mm or degrees.
func (f *findings) doubts(by []float64, unit float64) (out []measure.Doubt, tighten *measure.NextReading) {
	n := f.a.n
	now := f.spread(by, 0)
	if now == 0 || !f.a.Sees(by) {
		return nil, nil
	}
	parts := f.response(0).Parts(by)
	at := len(parts) // what is known beforehand comes last
	n.beforehand(func(int, float64, *measure.Common, string) { at-- })
	of := map[int]float64{} // by unknown
	n.beforehand(func(unknown int, _ float64, _ *measure.Common, _ string) {
		of[unknown] += parts[at] / (now * now)
		at++
	})
	for _, p := range n.points {
		share := 0.0
		for axis := 0; p.astray >= 0 && axis < 3; axis++ {
			share += of[p.astray+axis]
		}
		if share >= leastDoubt {
			out = append(out, measure.Doubt{Point: p.name, Share: share, Datum: p.body < 0})
		}
	}
	slices.SortStableFunc(out, func(a, b measure.Doubt) int {
		switch {
		case a.Share > b.Share:
			return -1
		case a.Share < b.Share:
			return 1
		}
		return 0
	})
	forecast := f.a.Forecast(by)
	least := forecast.Now() * worthwhile * worthwhile
	for _, c := range n.betweenDatum() {
		row := f.a.at.rowOf(c)
		if v := forecast.After(&row); v < least {
			least = v
			tighten = &measure.NextReading{Type: string(c.kind), From: n.points[c.from].name, To: n.points[c.to].name, Instrument: c.instrument.Name, U: math.Sqrt(v) * unit}
		}
	}
	return out, tighten
}

// betweenDatum are the distances between two uncertain points of the airframe that are not
// taken.
func (n *network) betweenDatum() (out []candidate) {
	tools := n.instrumentsFor(Distance)
	for i := range n.points {
		for j := range i {
			p, q := &n.points[i], &n.points[j]
			if p.astray < 0 || q.astray < 0 || p.body >= 0 || q.body >= 0 || slices.ContainsFunc(n.observations, func(o observation) bool {
				return o.kind == Distance && o.touches(i) && o.touches(j)
			}) {
				continue
			}
			for _, o := range tools {
				out = append(out, candidate{Distance, j, i, o.Instrument, o.Again()})
			}
		}
	}
	return out
}
