package ui

import (
	"html/template"
	"slices"
	"strings"

	"orpine/internal/core/quantity"
	"orpine/internal/instrument"
	"orpine/internal/measuring"
	"orpine/internal/web/kinds"
)

// Tile is something that can be measured or worked out at once, chosen by its picture.
type Tile struct {
	Title, Href string
	Picture     template.HTML
}

// Tiles are what can be measured without an aircraft, and then what can be worked out.
func (u *UI) Tiles() []Tile {
	var out []Tile
	for _, n := range measuring.Nows() {
		out = append(out, Tile{n.Title, "/measure/" + n.Kind, kinds.Pictogram(n.Kind)})
	}
	for _, s := range measuring.Sums {
		out = append(out, Tile{s.Title, "/work-out/" + s.Kind, kinds.Pictogram(s.Kind)})
	}
	return out
}

// Tool is an instrument that may be chosen: one of the shop's, or one that any shop has.
type Tool struct{ ID, Name string }

// Tools are the instruments that read angles, or lengths; those that any shop has come after
// the shop's own, and are added when they are chosen.
func Tools(angle bool, list []instrument.Instrument, unit quantity.Unit) (out []Tool) {
	for _, in := range list {
		if in.Reads() && in.Angle == angle {
			out = append(out, Tool{in.ID, in.Name})
		}
	}
	if len(out) > 0 {
		out = append([]Tool{{"", "chosen when it is read"}}, out...)
	}
	quicks := slices.Clone(instrument.Quicks)
	slices.SortStableFunc(quicks, func(a, b instrument.Quick) int { // those that show the unit first
		rank := func(k instrument.Quick) int {
			if strings.HasSuffix(k.ID, "-"+unit.String()) {
				return 0
			}
			return 1
		}
		return rank(a) - rank(b)
	})
	for _, k := range quicks {
		known := slices.ContainsFunc(list, func(in instrument.Instrument) bool { return in.Name == k.Name })
		if k.Angle == angle && !known {
			out = append(out, Tool{k.ID, k.Name})
		}
	}
	return out
}
