package row

import "slices"

// layersAt is how many layers lie at a hole.
func (r Row) layersAt(number int) int {
	n := 0
	for _, l := range r.Layers {
		if l.at(number) {
			n++
		}
	}
	return n
}

// PinEvery is which holes are pinned: every nth. Three layers or a bow want all;
// else what is chosen, or every third.
func (r Row) PinEvery(holes int) int {
	if r.Bowed {
		return 1
	}
	for number := 1; number <= holes; number++ {
		if r.layersAt(number) >= 3 {
			return 1
		}
	}
	if r.Pin > 0 {
		return r.Pin
	}
	return 3
}

// Pins are the numbers of the holes to be pinned, in the order in which the clecos go
// in: the ends first, then halfway between what is held, so that the parts cannot
// creep along the row. Kept holes and those that are closed are left out.
func (r Row) Pins(holes []Hole) []int {
	every := r.PinEvery(len(holes))
	var wanted []int
	for i, h := range holes {
		if (i%every == 0 || i == len(holes)-1 && !r.Closed) && !h.Filled() && !h.Done() {
			wanted = append(wanted, h.Number)
		}
	}
	if r.Closed {
		return opposite(wanted)
	}
	return endsFirst(wanted)
}

// opposite orders the pins of a closed loop: each as far as can be from those before it,
// the second across from the first, so that nothing can turn.
func opposite(list []int) []int {
	if len(list) == 0 {
		return nil
	}
	at := map[int]int{}
	for i, n := range list {
		at[n] = i
	}
	out := []int{list[0]}
	left := slices.Clone(list[1:])
	for len(left) > 0 {
		best, far := 0, -1
		for i, n := range left {
			near := len(list)
			for _, o := range out {
				d := (at[n] - at[o] + len(list)) % len(list)
				near = min(near, d, len(list)-d)
			}
			if near > far {
				best, far = i, near
			}
		}
		out = append(out, left[best])
		left = slices.Delete(left, best, best+1)
	}
	return out
}

// FewestOf are the pin holes that fix the position of a row: its two ends, of a closed loop
// two that lie opposite.
func (r Row) FewestOf(holes []Hole) []int {
	if r.Closed && len(holes) > 2 {
		return []int{holes[0].Number, holes[len(holes)/2].Number}
	}
	return Fewest(holes)
}

// Fewest are the pin holes that fix the position of a row: its two ends.
func Fewest(holes []Hole) []int {
	if len(holes) < 2 {
		return numbers(holes)
	}
	return []int{holes[0].Number, holes[len(holes)-1].Number}
}

func numbers(holes []Hole) []int {
	var out []int
	for _, h := range holes {
		out = append(out, h.Number)
	}
	return out
}

// endsFirst orders a list: its ends, then the middles of what lies between.
func endsFirst(list []int) []int {
	if len(list) <= 2 {
		return slices.Clone(list)
	}
	out := []int{list[0], list[len(list)-1]}
	type span struct{ from, to int }
	for spans := []span{{0, len(list) - 1}}; len(spans) > 0; spans = spans[1:] {
		s := spans[0]
		if s.to-s.from < 2 {
			continue
		}
		middle := (s.from + s.to) / 2
		out = append(out, list[middle])
		spans = append(spans, span{s.from, middle}, span{middle, s.to})
	}
	return out
}
