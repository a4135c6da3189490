package builders

import (
	"fmt"
	"maps"
	"slices"
)

// model is the rules as a slow reader has them: figures, placings, names, and the order of entries. It
// imports nothing of what it holds to account, and says only what must be so wherever something
// became permanent.
type model struct {
	placings []*placing
	holds    map[string]*held
	asked    map[string]string // open questions: id, and what each freezes
	notices  map[string]bool   // those that are open, about the part that lies in the row
	taken    map[string]bool   // readings and events that were taken back or replaced
	kept     map[int]bool      // holes that are kept open
	inside   struct {
		task, photo, outside, row bool
		clecos                    int
	}
	then map[int64]map[string]bool // which holds were open, and which things frozen, by entry
}

// placing is one setup of the part.
type placing struct {
	setup, check string
	values       [3]*float64
	ids          [3]string
	with         []*placing // of which it was said that the part lies in them as here
	widest       float64    // limit of the bow
	withdrawn    bool       // its check was
}

// held is one hold.
type held struct {
	signed, ended, done bool
	cause               string // the reading, event or notice that ended it
	needs               bool   // a check must show it
	less                string // what a check stood at when it was taken away: stop or unsure
	closes              bool
}

// bow is the middle off the line of the ends, at three points that are evenly apart.
func (p *placing) bow() (v float64, complete bool) {
	for _, x := range p.values {
		if x == nil || p.withdrawn {
			return 0, false
		}
	}
	return *p.values[1] - (*p.values[0]+*p.values[2])/2, true
}

func (p *placing) shown() bool {
	bow, complete := p.bow()
	return complete && bow > -p.widest && bow < p.widest
}

func (p *placing) stopped() bool {
	bow, complete := p.bow()
	return complete && !(bow > -p.widest && bow < p.widest)
}

// group is all that is one placing with it, itself first.
func (p *placing) group() []*placing {
	out := []*placing{p}
	for i := 0; i < len(out); i++ {
		for _, other := range out[i].with {
			if !slices.Contains(out, other) {
				out = append(out, other)
			}
		}
	}
	return out
}

// evidence tells whether what a hold asks for is there.
func (m *model) evidence(id string) bool {
	h := m.holds[id]
	if h.closes {
		return m.inside.task && m.inside.photo && m.inside.clecos == 0 && m.inside.outside && m.inside.row
	}
	if h.less == "stop" || len(m.notices) > 0 {
		return false
	}
	shown := !h.needs
	for _, p := range m.placings {
		if p.stopped() && h.needs { // of what nobody asks for it is unsure, and wants a reason
			return false
		}
		shown = shown || p.shown()
	}
	return shown
}

// open tells whether a hold lets its step through.
func (m *model) open(id string) bool {
	h := m.holds[id]
	return h.done || h.signed && !h.ended
}

func (m *model) frozen(things ...string) bool {
	for _, what := range m.asked {
		if slices.Contains(things, what) {
			return true
		}
	}
	return false
}

// follow ends what an entry made worse; cause is the reading, event or notice that it is. What it
// ended stands again where that very thing is taken back.
func (m *model) follow(seq int64, cause string) {
	for id, h := range m.holds {
		switch {
		case h.done || !h.signed:
		case !m.evidence(id):
			if !h.ended {
				h.ended, h.cause = true, cause
			}
		case h.ended && m.taken[h.cause]:
			h.ended = false
		}
	}
	now := map[string]bool{}
	for id := range m.holds {
		now["open "+id] = m.open(id)
	}
	for _, what := range m.asked {
		now["frozen "+what] = true
	}
	m.then[seq] = now
}

// asOf is how it stood at an entry, or at the last one before that the model saw.
func (m *model) asOf(seq int64) map[string]bool {
	best := int64(-1)
	for _, at := range slices.Collect(maps.Keys(m.then)) {
		if at <= seq && at > best {
			best = at
		}
	}
	return m.then[best]
}

// end ends a release by something that no figure shows: a line that came since, work inside a bay.
func (m *model) end(id, cause string) {
	if h := m.holds[id]; h.signed && !h.done && !h.ended {
		h.ended, h.cause = true, cause
	}
}

// worked says what is wrong with work at holes that these holds guard; "" for nothing. late is the
// last entry that was known where it was keyed, 0 for now.
func (m *model) worked(row string, guards []string, closed bool, late int64) string {
	if closed {
		return "in a bay that is closed"
	}
	for _, id := range guards {
		open, frozen := m.open(id), m.frozen("hold:"+id, "row:"+row)
		if late > 0 {
			then := m.asOf(late)
			open, frozen = then["open "+id] || m.holds[id].done, frozen && (then["frozen hold:"+id] || then["frozen row:"+row])
		}
		if !open {
			return fmt.Sprintf("under %s, of which no release stands", id)
		}
		if frozen {
			return fmt.Sprintf("under %s, which waits for an answer", id)
		}
	}
	return ""
}
