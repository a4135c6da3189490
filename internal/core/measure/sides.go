package measure

import "strings"

// Sides is on how many sides a quantity is limited by nature.
type Sides int

// The sides. Of Asked one end alone may mean either.
const (
	Asked     Sides = iota
	BothSides       // a twist, a difference: what counts is how far it is from nothing
	FromAbove       // a size that only must not be too great
	FromBelow       // a margin that only must not be too small
)

// sides are those of quantities whose names do not say it.
var sides = map[string]Sides{
	"twist": BothSides, "part_twist": BothSides, "bench_twist": BothSides, "skew": BothSides, "roll": BothSides, "yaw": BothSides, "lean": BothSides, "bow": BothSides, "part_bow": BothSides, "bench_bow": BothSides,
	"slope_along": BothSides, "slope_across": BothSides, "top_offset": BothSides, "tip_offset": BothSides, "lateral": BothSides, "rack_offset": BothSides, "rack": BothSides, "departure": BothSides, "worst": BothSides, "closure": BothSides,
	"mismatch": BothSides, "off_right": BothSides, "off_down": BothSides, "kink": BothSides, "rate": BothSides, "left_over": BothSides, "zero": BothSides,
	"flatness": FromAbove, "coplanarity": FromAbove, "rms": FromAbove, "leverage": FromAbove, "lost_head": FromAbove,
	"decalage": FromBelow,
}

// Sided tells on how many sides a quantity is limited by nature: a difference and an error on both.
func Sided(quantity string) Sides {
	if s, ok := sides[quantity]; ok {
		return s
	}
	if strings.HasSuffix(quantity, "_error") || quantity == "error" || strings.HasSuffix(quantity, "difference") {
		return BothSides
	}
	return Asked
}
