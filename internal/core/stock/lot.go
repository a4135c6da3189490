package stock

import "slices"

// Box is a box of something that was counted in with its lot, or the choosing of the lot that is drawn from.
type Box struct {
	Name   string
	Lot    string // "" where none is written on it
	Best   string // the last day on which it may be used, as 2027-05-01; "" for none
	Entry  int64
	Chosen bool
}

// Boxes are those of a shop, in the order of their entries.
type Boxes []Box

// Drawn is the box that something of a name is drawn from at an entry: of the lot that was chosen last, else the one
// that was counted in first. ok is false where nothing of the name had been counted in.
func (b Boxes) Drawn(name string, entry int64) (out Box, ok bool) {
	key, chosen := Key(name), false
	for _, box := range b {
		if box.Entry >= entry || Key(box.Name) != key {
			continue
		}
		if !ok || box.Chosen {
			out, ok, chosen = box, true, box.Chosen
		}
	}
	if chosen {
		for _, box := range b { // what is written on it
			if !box.Chosen && box.Lot == out.Lot && Key(box.Name) == key {
				out.Best = box.Best
			}
		}
	}
	return out, ok
}

// Lots are the lots of a name that were counted in, each once.
func (b Boxes) Lots(name string) (out []Box) {
	for _, box := range b {
		if box.Chosen || Key(box.Name) != Key(name) || slices.ContainsFunc(out, func(o Box) bool { return o.Lot == box.Lot }) {
			continue
		}
		out = append(out, box)
	}
	return out
}

// OutOfDate tells whether a box may not be used any more on a day.
func (b Box) OutOfDate(day string) bool { return b.Best != "" && day > b.Best }

// Told is what was told afterwards of the lot of some holes.
type Told struct {
	Numbers []int
	Lot     string
	Entry   int64
}

// LotOf is the lot of what was set into a hole by an entry: as it was told last since, else the one that was drawn from
// then; "" where nobody knows. since is the entry that tells it.
func (b Boxes) LotOf(name string, number int, set int64, told []Told) (lot string, since int64) {
	since = set
	if box, ok := b.Drawn(name, set); ok {
		lot = box.Lot
	}
	for _, t := range told {
		if t.Entry > set && slices.Contains(t.Numbers, number) {
			lot, since = t.Lot, t.Entry
		}
	}
	return lot, since
}
