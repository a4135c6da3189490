package pose

import (
	"math"
	"slices"

	"orpine/internal/core/measure"
)

// candidate is a reading that could still be taken.
type candidate struct {
	kind       Type
	from, to   int
	instrument *measure.Instrument
}

// mostNext is how many of the best next readings are given.
const mostNext = 5

// forecast is what is known before a reading is taken: how it would change the
// uncertainty of one parameter.
//
// With B = W½A scaled, B = UΣVᵀ, seen directions V₁ with covariance C = Σ₁⁻² and
// unseen ones V₀, a row b of variance σ² has y = V₁ᵀb and z = V₀ᵀb. Where z = 0 the
// reading adds to what is seen, and C falls by C y yᵀC/(σ² + yᵀCy). Otherwise it
// makes one unseen direction z/|z| seen and adds nothing else: a parameter with
// parts e₁ and e₀ is then known with variance gᵀCg + (e₀·z)²σ²/|z|⁴,
// g = e₁ − (e₀·z/|z|²) y, provided that e₀ has no part across z.
type forecast struct {
	a    *adjustment
	e    []float64 // of what is wanted, by singular direction
	size float64   // of e
	now  float64   // its variance; +Inf while it is unseen
}

// forecast prepares to say how well a figure would be known that changes by the
// parameters as given.
func (a *adjustment) forecast(want []float64) forecast {
	a.seen()
	f := forecast{a: a, e: make([]float64, a.n.params)}
	hidden := 0.0
	for k := range f.e {
		for i, by := range want {
			f.e[k] += by * a.v.At(i, k) * a.scale[i]
		}
		f.size += f.e[k] * f.e[k]
		if k >= a.rank {
			hidden += f.e[k] * f.e[k]
		}
	}
	f.size = math.Sqrt(f.size)
	if f.now = math.Inf(1); math.Sqrt(hidden) <= unseenPart*f.size {
		f.now = 0
		for k := range a.rank {
			f.now += f.e[k] * f.e[k] / (a.values[k] * a.values[k])
		}
	}
	return f
}

// one is the figure that a parameter itself is.
func (a *adjustment) one(parameter int) []float64 {
	out := make([]float64, a.n.params)
	out[parameter] = 1
	return out
}

// after is the variance of the wanted parameter with one more reading; +Inf where
// it would stay unseen.
func (f forecast) after(row *weighted) float64 {
	a := f.a
	n := a.n.params
	y := make([]float64, n)
	var size, across float64
	for k := range n {
		for i := range row.count {
			y[k] += a.v.At(row.index[i], k) * a.scale[row.index[i]] * row.first[i]
		}
		size += y[k] * y[k]
	}
	for k := a.rank; k < n; k++ {
		across += y[k] * y[k]
	}
	sigma2 := 1 / row.weight
	if across <= unseenPart*unseenPart*size || across == 0 {
		if math.IsInf(f.now, 1) {
			return f.now
		}
		cross, own := 0.0, sigma2
		for k := range a.rank {
			c := 1 / (a.values[k] * a.values[k])
			cross += f.e[k] * c * y[k]
			own += y[k] * y[k] * c
		}
		return f.now - cross*cross/own
	}
	along := 0.0
	for k := a.rank; k < n; k++ {
		along += f.e[k] * y[k]
	}
	rest := 0.0
	for k := a.rank; k < n; k++ {
		d := f.e[k] - along*y[k]/across
		rest += d * d
	}
	if math.Sqrt(rest) > unseenPart*f.size {
		return math.Inf(1)
	}
	g := 0.0
	for k := range a.rank {
		part := f.e[k] - along/across*y[k]
		g += part * part / (a.values[k] * a.values[k])
	}
	return g + along*along*sigma2/(across*across)
}

// next returns the readings not yet taken that leave the smallest variance of what
// is wanted, the best first; angle tells whether that is one.
func (n *network) next(a *adjustment, want []float64, angle bool, candidates []candidate) []measure.NextReading {
	f := a.forecast(want)
	by := 1.0
	bound := float64(mostUnknown)
	if angle {
		by, bound = perRadian, mostTurned
	}
	var out []measure.NextReading
	for _, c := range candidates {
		row := n.rowOf(a, c)
		u := math.Sqrt(f.after(&row)) * by
		if !(u <= bound) {
			continue
		}
		next := measure.NextReading{Type: string(c.kind), From: n.points[c.from].name, To: n.points[c.to].name, Instrument: c.instrument.Name, U: u}
		at := len(out)
		for at > 0 && out[at-1].U > u {
			at--
		}
		if at < mostNext {
			out = slices.Insert(out, at, next)
			out = out[:min(len(out), mostNext)]
		}
	}
	return out
}

// rowOf is the row of a reading that could be taken: one placing.
func (n *network) rowOf(a *adjustment, c candidate) weighted {
	o := observation{kind: c.kind, from: c.from, to: c.to}
	w := weighted{sight: a.at.sight(&o, nil)}
	variance := c.instrument.Resolution * c.instrument.Resolution / 12
	if s := c.instrument.Spread; s != nil {
		variance += *s * *s
	}
	if c.kind.angular() {
		variance /= perRadian * perRadian
	}
	w.weight = 1 / variance
	for i, known := range n.offsets {
		if known.taken.Instrument == c.instrument {
			w.first[w.add(n.firstOffset()+i)] = 1
		}
	}
	return w
}

// candidates are the readings that could still be taken: distances and heights
// between a place on the airframe and one on a surface, cross-levels and pitches
// between two places of one surface; each with every instrument already used for
// that type, or where there is none with every one used of that dimension.
func (n *network) candidates() []candidate {
	type pair struct {
		kind Type
		a, b int
	}
	taken := map[pair]bool{}
	for _, o := range n.observations {
		if o.from >= 0 {
			taken[pair{o.kind, min(o.from, o.to), max(o.from, o.to)}] = true
		}
	}
	with := map[Type][]*measure.Instrument{}
	for _, kind := range []Type{Distance, Height, Roll, Pitch} {
		with[kind] = n.instrumentsFor(kind)
	}
	var out []candidate
	offer := func(kind Type, from, to int) {
		if taken[pair{kind, min(from, to), max(from, to)}] {
			return
		}
		for _, in := range with[kind] {
			out = append(out, candidate{kind, from, to, in})
		}
	}
	for i, p := range n.points {
		for j, q := range n.points {
			switch {
			case p.body < 0 && q.body >= 0:
				offer(Distance, i, j)
				offer(Height, i, j)
			case p.body >= 0 && p.body == q.body && i < j:
				dx, dy := math.Abs(q.at[0]-p.at[0]), math.Abs(q.at[1]-p.at[1])
				switch {
				case dx == 0 && dy == 0: // one above the other: a level cannot lie on them
				case dy >= dx && p.at[1] <= q.at[1]:
					offer(Roll, i, j)
				case dy >= dx:
					offer(Roll, j, i)
				case p.at[0] >= q.at[0]:
					offer(Pitch, i, j)
				default:
					offer(Pitch, j, i)
				}
			}
		}
	}
	return out
}

// instrumentsFor are those already used for a type, in the order in which they
// came, or else those used of its dimension, the airframe's own levels included.
func (n *network) instrumentsFor(kind Type) []*measure.Instrument {
	var same, dimension []*measure.Instrument
	note := func(list []*measure.Instrument, in *measure.Instrument) []*measure.Instrument {
		if in == nil || slices.Contains(list, in) {
			return list
		}
		return append(list, in)
	}
	for _, o := range n.observations {
		if o.kind == pinned {
			continue
		}
		if o.kind == kind {
			same = note(same, o.taken.Instrument)
		}
		if o.kind.angular() == kind.angular() {
			dimension = note(dimension, o.taken.Instrument)
		}
	}
	for _, d := range n.datum {
		if d != nil && kind.angular() {
			dimension = note(dimension, d.taken.Instrument)
		}
	}
	if same != nil {
		return same
	}
	return dimension
}
