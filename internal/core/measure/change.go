package measure

import "math"

// Leaning is by how many of its standard uncertainties a figure by the first readings may differ from that by
// readings that were taken again without looking at them: beyond it, the first may have leaned to what was expected.
const Leaning = 2

// Change tells by how much a quantity differs between two takings of one check,
// later less earlier, as before and after riveting. A constant error of an
// instrument that both share cancels as far as it enters both alike; ok is false
// when one of them does not give the quantity.
func Change(earlier, later Check, name string) (change Quantity, ok bool) {
	w := newWork(nil, Decision{Coverage: 2})
	w.solvePooled(earlier)
	between := len(w.result.Quantities)
	w.solvePooled(later)
	from, to := -1, -1
	for i, q := range w.result.Quantities {
		switch {
		case q.Name != name:
		case i < between && from < 0:
			from = i
		case i >= between && to < 0:
			to = i
		}
	}
	if from < 0 || to < 0 {
		return Quantity{}, false
	}
	first, second := w.result.Quantities[from], w.result.Quantities[to]
	change = Quantity{Name: name, At: second.At, Value: second.Value - first.Value, Dimension: second.Dimension, U: math.Hypot(first.U, second.U)}
	before, linear := w.estimates[from]
	if after, both := w.estimates[to]; linear && both {
		change.U = w.U(after.Minus(before), 0)
	}
	return change, true
}
