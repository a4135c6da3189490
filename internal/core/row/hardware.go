package row

import (
	"fmt"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

// Sorts are what a row may be filled with. A nut plate is one item with its two rivets.
var Sorts = []string{"solid", "blind", "nut plate", "bolt", "bearing"}

// Points are the ways in which the head of a bolt may lie.
var Points = []string{"up", "down", "forward", "aft", "inboard", "outboard"}

// Rivet tells whether it is a rivet.
func (f Fastener) Rivet() bool { return f.Sort == "solid" || f.Sort == "blind" || f.Sort == "" }

// Says what goes in: "bolt 1/4, head up", "nut plate 3/16 with two solid 3/32 × 1/4 in".
func (f Fastener) Says() string {
	switch f.Sort {
	case "bolt":
		return fmt.Sprintf("bolt %s, head %s", f.Size, f.Points)
	case "nut plate":
		return fmt.Sprintf("nut plate %s with two %s", f.Size, f.With)
	case "bearing":
		return "bearing " + f.Size
	}
	return say.List(strings.TrimSpace(f.Sort+" "+f.Size), f.Head)
}

// item is the name by which stock knows hardware that is no rivet.
func (f Fastener) item(length string) string {
	name := f.Sort + " " + f.Size
	if f.Sort == "bolt" && length != "" {
		name += " × " + length
	}
	if f.Sort == "nut plate" && f.With != "" {
		name += pairOf + f.With
	}
	return name
}

// pairOf parts a nut plate from its two rivets in the name of what goes into a hole.
const pairOf = " + 2 × "

// Items are what one fastener takes out of the stores, by name: a nut plate takes its two
// rivets along.
func Items(fastener string) map[string]int {
	plate, rivets, ok := strings.Cut(fastener, pairOf)
	if !ok {
		return map[string]int{fastener: 1}
	}
	return map[string]int{plate: 1, rivets: 2}
}

// Item names what goes into a hole, as stock knows it: "solid 1/8 × 6 mm".
func (r Row) Item(h Hole, a Advice) string {
	switch {
	case !r.Fastener.Rivet():
		return r.Fastener.item(a.Length)
	case r.Fastener.Sort == "blind":
		return "blind " + a.Length
	}
	size := r.Fastener.Size
	switch {
	case h.Over && h.Fit.Size != "":
		size = h.Fit.Size
	case h.Over:
		size += " + 1"
	}
	if h.Over && h.Fit.Dimple == Dimples[1] {
		size += " reduced head"
	}
	if a.Unchecked && a.Length == "" { // drilled over, where nobody said what lies there
		return "solid " + size
	}
	return fmt.Sprintf("solid %s × %s", size, a.Length)
}

// held is the grip of a bolt, a nut plate or a bearing, and whether the length that is called
// out reaches through it.
func (r Row) held(a Advice, stack []quantity.Length) measure.Result {
	return measure.Solve(&grip{stack, r.Fastener.Sort == "bolt", a.CallOut}, nil, decision)
}

// grip is a stack that something other than a rivet goes through.
type grip struct {
	stack  []quantity.Length
	bolt   bool
	called string
}

// Validate has nothing to refuse.
func (g *grip) Validate(func(path, message string)) {}

// Solve gives the grip; a bolt that is shorter than that is a stop.
func (g *grip) Solve(w *measure.Work) {
	sum := 0.0
	for _, t := range g.stack {
		sum += float64(t)
	}
	w.Quantity("grip", measure.Length, measure.Exact(sum))
	if v, err := quantity.ParseLength(g.called, quantity.Millimetre); g.bolt && g.called != "" && err == nil {
		w.OwnVerdict(measure.Go)
		if float64(v) < sum-1e-9 {
			w.Find("too-short", "the bolt does not reach through: its thread would lie in the parts, or the nut not take")
			w.OwnVerdict(measure.Stop)
		}
	}
}
