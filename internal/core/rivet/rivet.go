// Package rivet chooses rivets for a stack and judges where they sit: lengths, edge
// distances, flush layers. Figures are general shop practice; the kit's own standard
// prevails.
package rivet

import (
	"fmt"
	"math"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
)

// Within is by how much a bound may be missed and still be met, in the unit of what
// is compared: typed figures are not exact in binary.
const within = 1e-9

// What a rivet stands out beyond its grip, in diameters, before it is set.
const (
	shortest = 1.25
	wanted   = 1.5
	longest  = 1.75
)

// Solid is a solid rivet in a stack, its length counted as the maker counts it.
type Solid struct {
	Diameter measure.Diameter  `ws:"diameter"`
	Stack    []quantity.Length `ws:"stack"`
	Callout  *quantity.Length  `ws:"callout,optional"` // the length that the plans call out
}

// Validate refuses what is not above 0.
func (c *Solid) Validate(report func(path, message string)) {
	if c.Diameter.MM <= 0 {
		report("diameter", "must be above 0")
	}
	positive("stack", c.Stack, report)
	if c.Callout != nil && *c.Callout <= 0 {
		report("callout", "must be above 0")
	}
}

// positive refuses an empty list and lengths that are not above 0.
func positive(path string, list []quantity.Length, report func(path, message string)) {
	if len(list) == 0 {
		report(path, "is an empty list")
	}
	for i, v := range list {
		if v <= 0 {
			report(fmt.Sprintf("%s[%d]", path, i), "must be above 0")
		}
	}
}

func grip(stack []quantity.Length) float64 {
	sum := 0.0
	for _, t := range stack {
		sum += float64(t)
	}
	return sum
}

// Solve gives the grip, the length needed (grip + 1.5 D), the standard length chosen
// (the nearest sixteenth of an inch, or millimetre for a metric diameter, ties
// upward) and by how many diameters the call-out, or the choice, stands out. Where
// no standard length stands out by 1.25 to 1.75 D, the next longer one is cut down.
func (c *Solid) Solve(w *measure.Work) {
	d, g := c.Diameter.MM, grip(c.Stack)
	step := 25.4 / 16
	if c.Diameter.Metric {
		step = 1
	}
	needed := g + wanted*d
	choice := math.Floor(needed/step+0.5+within) * step
	length := choice
	if !stands((choice - g) / d) {
		choice = math.Ceil(needed/step-within) * step
		length = needed
		w.Find("cut-down", "no standard length fits: cut the next longer one down")
		w.Rivet().CutTo = &needed
	}
	if c.Callout != nil {
		length = float64(*c.Callout)
	}
	out := (length - g) / d
	for _, q := range []struct {
		name string
		v    float64
	}{{"grip", g}, {"needed", needed}, {"choice", choice}} {
		w.Quantity(q.name, measure.Length, measure.Exact(q.v))
	}
	w.Quantity("protrusion", measure.Diameters, measure.Exact(out))
	switch {
	case out < shortest-within:
		w.Find("too-short", "too short: the shop head would be thin")
		w.OwnVerdict(measure.Stop)
	case out > longest+within:
		w.Find("too-long", "too long: it tends to tip over")
		w.OwnVerdict(measure.Unsure)
	default:
		w.OwnVerdict(measure.Go)
	}
	w.Rivet().ShopHead = &measure.ShopHead{Diameter: 1.5 * d, DiameterMin: 1.3 * d, Height: 0.5 * d, HeightMin: 0.4 * d}
}

// stands tells whether a protrusion lies in the band.
func stands(out float64) bool { return out >= shortest-within && out <= longest+within }

// Blind is a blind rivet, chosen from a maker's table by its grip.
type Blind struct {
	Stack   []quantity.Length `ws:"stack"`
	Table   []Grip            `ws:"table"`
	Callout string            `ws:"callout,optional"` // a code of the table
}

// Grip is one line of the table.
type Grip struct {
	Code     string          `ws:"code"`
	Diameter quantity.Length `ws:"diameter"`
	Min      quantity.Length `ws:"grip_min"`
	Max      quantity.Length `ws:"grip_max"`
}

// Validate refuses an empty stack or table, and lines that are of no use.
func (c *Blind) Validate(report func(path, message string)) {
	positive("stack", c.Stack, report)
	if len(c.Table) == 0 {
		report("table", "is an empty list")
	}
	codes := map[string]bool{}
	for i, g := range c.Table {
		path := fmt.Sprintf("table[%d].", i)
		if codes[g.Code] {
			report(path+"code", fmt.Sprintf("%q is used twice in this list", g.Code))
		}
		codes[g.Code] = true
		if g.Diameter <= 0 {
			report(path+"diameter", "must be above 0")
		}
		if g.Min > g.Max {
			report(path+"grip_min", "is above grip_max")
		}
	}
}

// Solve gives the grip and the codes whose range holds it; go when the call-out is
// among them, else stop, and no verdict without a call-out.
func (c *Blind) Solve(w *measure.Work) {
	g := grip(c.Stack)
	w.Quantity("grip", measure.Length, measure.Exact(g))
	choices := []string{}
	verdict := measure.Stop
	for _, line := range c.Table {
		if g < float64(line.Min)-within || g > float64(line.Max)+within {
			continue
		}
		choices = append(choices, line.Code)
		if line.Code == c.Callout {
			verdict = measure.Go
		}
	}
	w.Rivet().Choices = choices
	if c.Callout != "" {
		w.OwnVerdict(verdict)
	}
}

// The least distances that hold a rivet, in diameters, where the plans say nothing:
// from its centre to an edge, and to the next one. General practice.
const (
	MinEdge  = 2.0
	MinPitch = 3.0
)

// HoleEdge is a hole's distance to edges and to its neighbours.
type HoleEdge struct {
	Diameter quantity.Length   `ws:"diameter"`
	Edges    []quantity.Length `ws:"edges"`
	Pitches  []quantity.Length `ws:"pitches,optional"`
	MinEdge  *float64          `ws:"min_edge,optional"`  // in diameters; 2 where nothing is said
	MinPitch *float64          `ws:"min_pitch,optional"` // in diameters; 3
	Oversize *quantity.Length  `ws:"oversize,optional"`
}

// Validate refuses what is not above 0.
func (c *HoleEdge) Validate(report func(path, message string)) {
	if c.Diameter <= 0 {
		report("diameter", "must be above 0")
	}
	positive("edges", c.Edges, report)
	if len(c.Pitches) > 0 {
		positive("pitches", c.Pitches, report)
	}
	if c.Oversize != nil && *c.Oversize <= 0 {
		report("oversize", "must be above 0")
	}
	for field, v := range map[string]*float64{"min_edge": c.MinEdge, "min_pitch": c.MinPitch} {
		if v != nil && *v <= 0 {
			report(field, "must be above 0")
		}
	}
}

// Solve gives each distance in diameters of the hole, and of the hole drilled over;
// go when all reach their least.
func (c *HoleEdge) Solve(w *measure.Work) {
	verdict := measure.Go
	for _, run := range []struct {
		name      string
		distances []quantity.Length
		least     *float64
		usual     float64
	}{{"edge", c.Edges, c.MinEdge, MinEdge}, {"pitch", c.Pitches, c.MinPitch, MinPitch}} {
		least := run.usual
		if run.least != nil {
			least = *run.least
		}
		for i, v := range run.distances {
			sizes := map[string]float64{run.name: float64(c.Diameter)}
			if c.Oversize != nil {
				sizes[run.name+"_oversize"] = float64(*c.Oversize)
			}
			for _, name := range []string{run.name, run.name + "_oversize"} {
				d, ok := sizes[name]
				if !ok {
					continue
				}
				in := float64(v) / d
				w.QuantityAt(name, fmt.Sprint(i+1), measure.Diameters, measure.Exact(in))
				if in < least-within {
					verdict = measure.Stop
				}
			}
		}
	}
	w.OwnVerdict(verdict)
}

// FlushStack is the layers under a flush head, from the outside in.
type FlushStack struct {
	Layers    []Layer         `ws:"layers"`
	HeadDepth quantity.Length `ws:"head_depth"`
}

// Layer is one of them, with how its hole is treated.
type Layer struct {
	Thickness quantity.Length `ws:"thickness"`
	Hole      string          `ws:"hole" oneof:"plain dimpled countersunk"`
}

// Validate refuses what is not above 0.
func (c *FlushStack) Validate(report func(path, message string)) {
	if len(c.Layers) == 0 {
		report("layers", "is an empty list")
	}
	for i, l := range c.Layers {
		if l.Thickness <= 0 {
			report(fmt.Sprintf("layers[%d].thickness", i), "must be above 0")
		}
	}
	if c.HeadDepth <= 0 {
		report("head_depth", "must be above 0")
	}
}

// seats are the pairs of a layer and the one under it that lie close.
var seats = map[[2]string]bool{
	{"dimpled", "dimpled"}: true, {"dimpled", "countersunk"}: true, {"countersunk", "plain"}: true, {"plain", "plain"}: true,
}

// Solve finds gaps under flush layers, and countersunk layers thinner than the head
// is deep: stop with either.
func (c *FlushStack) Solve(w *measure.Work) {
	w.OwnVerdict(measure.Go)
	for i, l := range c.Layers {
		if l.Hole == "countersunk" && float64(l.Thickness) < float64(c.HeadDepth)-within {
			w.Find("knife-edge", "a countersunk layer is thinner than the head is deep: a knife edge")
			w.OwnVerdict(measure.Stop)
		}
		if i+1 < len(c.Layers) && !seats[[2]string{l.Hole, c.Layers[i+1].Hole}] {
			w.Find("gap-under-flush-layer", "a layer does not lie close on the one under it: a gap that the eye does not see")
			w.OwnVerdict(measure.Stop)
		}
	}
}
