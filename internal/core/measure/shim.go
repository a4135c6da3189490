package measure

import (
	"fmt"
	"math"
	"slices"
	"sort"

	"orpine/internal/core/form"
	"orpine/internal/core/quantity"
)

// The most stock sizes and pieces in a stack that are taken.
const (
	MaxStock  = 40
	MaxPieces = 6
)

// defaultPieces is the most shims in one stack where nothing is said.
const defaultPieces = 3

// shimStackKind is how the check is called, limited, disturbed and told.
var shimStackKind = Kind{
	Name: "shim-stack", Title: "Shims for a gap", New: func() Walker { return new(ShimStack) },
	Limits:    []Limitable{{"total", Length}, {"left_over", Length}},
	Schools:   []string{},
	Headlines: map[string]string{"total": "the nearest stack", "left_over": "left over"},
}

// ShimStack asks which shims or washers in stock come nearest to a thickness.
type ShimStack struct {
	Needed quantity.Length   `ws:"needed"`
	Stock  []quantity.Length `ws:"stock"`
	Pieces *int              `ws:"pieces,optional"`
}

// Validate refuses thicknesses that are not above 0 and more stock or pieces
// than are worked out.
func (c *ShimStack) Validate(report func(path, message string)) {
	validateStock(c.Stock, c.Pieces, report)
}

func validateStock(stock []quantity.Length, pieces *int, report func(path, message string)) {
	if len(stock) > MaxStock {
		report("stock", fmt.Sprintf("more than %d sizes", MaxStock))
	}
	for i, t := range stock {
		if t <= 0 {
			report(fmt.Sprintf("stock[%d]", i), "must be above 0")
		}
	}
	if pieces != nil && (*pieces < 1 || *pieces > MaxPieces) {
		report("pieces", fmt.Sprintf("must be between 1 and %d", MaxPieces))
	}
}

// Solve finds the stack.
func (c *ShimStack) Solve(w *Work) {
	stack := newStacker(c.Stock, c.Pieces).nearest(float64(c.Needed))
	total := sum(stack)
	w.result.Stack = stack
	w.Quantity("total", Length, Exact(total))
	w.Quantity("left_over", Length, Exact(float64(c.Needed)-total))
	w.explain("stack", "the nearest sum to "+mm(float64(c.Needed)), mm(total))
}

// Walk has nothing to read: the thickness is given.
func (c *ShimStack) Walk() []Spot { return nil }

// stackMoves gives each move that adds material its stack.
func (w *Work) stackMoves(stock []quantity.Length, pieces *int) {
	if len(stock) == 0 {
		return
	}
	s := newStacker(stock, pieces)
	for i, m := range w.result.Moves {
		if m.Direction == "up" || m.Direction == "right" || m.Direction == "forward" {
			w.result.Moves[i].Stack, w.result.Moves[i].Stacked = s.nearest(m.Amount), true
		}
	}
}

// stacker finds stacks from one stock. The sums of up to half the pieces are
// made once, so that a search meets in the middle and stays short for 40 sizes
// and 6 pieces.
type stacker struct {
	sizes  []float64 // thickest first, without repeats
	pieces int
	sums   [][]float64 // sums[k]: of exactly k pieces, rising
}

func newStacker(stock []quantity.Length, pieces *int) *stacker {
	s := &stacker{pieces: defaultPieces, sums: [][]float64{{0}}}
	if pieces != nil {
		s.pieces = *pieces
	}
	for _, t := range stock {
		s.sizes = append(s.sizes, float64(t))
	}
	slices.Sort(s.sizes)
	s.sizes = slices.Compact(s.sizes)
	slices.Reverse(s.sizes)
	for k := 1; k <= (s.pieces+1)/2; k++ {
		s.sums = append(s.sums, nil)
		s.add(k, k, 0, 0)
		slices.Sort(s.sums[k])
	}
	return s
}

// add lists the sums of k pieces, from size number `from` on.
func (s *stacker) add(k, left, from int, sum float64) {
	if left == 0 {
		s.sums[k] = append(s.sums[k], sum)
		return
	}
	for i := from; i < len(s.sizes); i++ {
		s.add(k, left-1, i, sum+s.sizes[i])
	}
}

// nearest returns the stack whose sum is closest to needed, thickest first, the
// empty stack included. Sums equally close to 1e-9 mm tie: fewest pieces, then
// the thickest first.
func (s *stacker) nearest(needed float64) []float64 {
	best, pieces := math.Abs(needed), 0
	for k := 1; k <= s.pieces && len(s.sizes) > 0; k++ {
		if off := s.closest(k, needed); off < best-tie {
			best, pieces = off, k
		}
	}
	stack := make([]float64, 0, pieces)
	s.fill(&stack, pieces, 0, needed, best+tie)
	return stack
}

// closest is how near exactly k pieces come to a sum.
func (s *stacker) closest(k int, needed float64) float64 {
	low, high := s.sums[k/2], s.sums[k-k/2]
	best := math.Inf(1)
	for i, j := 0, len(high)-1; i < len(low) && j >= 0; {
		off := low[i] + high[j] - needed
		best = min(best, math.Abs(off))
		if off > 0 {
			j--
		} else {
			i++
		}
	}
	return best
}

// fill completes the stack with exactly k more pieces, thickest first, so that
// the rest of the sum is met within tolerance.
func (s *stacker) fill(stack *[]float64, k, from int, rest, within float64) bool {
	if k == 0 {
		return math.Abs(rest) <= within
	}
	thinnest := s.sizes[len(s.sizes)-1]
	// Sizes too thick to leave room for the others are skipped at once.
	start := from + sort.Search(len(s.sizes)-from, func(i int) bool {
		return s.sizes[from+i] <= rest+within-float64(k-1)*thinnest
	})
	for i := start; i < len(s.sizes) && float64(k)*s.sizes[i] >= rest-within; i++ {
		*stack = append(*stack, s.sizes[i])
		if s.fill(stack, k-1, i, rest-s.sizes[i], within) {
			return true
		}
		*stack = (*stack)[:len(*stack)-1]
	}
	return false
}

func sum(values []float64) float64 {
	total := 0.0
	for _, v := range values {
		total += v
	}
	return total
}

// Disturbed tells whether an event makes the readings of the check stale.
func (*ShimStack) Disturbed(e Event) bool { return Shaped(e) }

// Form is what is asked for the check before anything is read.
func (*ShimStack) Form() Form {
	return Form{
		Fields: []form.Field{
			{Key: "needed", Label: "Thickness wanted", As: "length"},
			{Key: "stock", Label: "Shims in stock, parted by ;", Columns: []string{""}, As: "length"},
			{Key: "pieces", Label: "Pieces in a stack at most", As: "number", Optional: true},
		},
	}
}
