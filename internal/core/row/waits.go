package row

import (
	"slices"
	"strings"
)

// Early are the answers to whether a hole that is kept open may be formed and primed before the
// later part comes.
var Early = []string{"may be", "waits too"}

// Wait is a mark that something is not done yet at a hole: until a later step or part.
type Wait struct {
	What []Operation `json:"what,omitempty"`
	Step string      `json:"step,omitempty"` // in words
	Hold string      `json:"hold,omitempty"` // id of the hold before that step, where it has one
}

// IsZero tells whether it says nothing.
func (w Wait) IsZero() bool { return len(w.What) == 0 && w.Step == "" }

// Says names what is waited for.
func (w Wait) Says() string { return w.Step }

// Waitable is what may be marked as not yet.
var Waitable = []Operation{Drill, Deburr, Form, Prime, Pin, Rivet}

// notYet marks that some things wait for a later step; for none, that they wait no more, which
// needs the step or a reason.
func notYet(h Hole, a Asked, leave Leave) (Hole, error) {
	if len(a.Wait.What) == 0 {
		for _, w := range h.Waits {
			if !leave.Waits[w.Hold] && strings.TrimSpace(a.Reason) == "" {
				return h, refuse("reason", "hole %d waits for %s, which has not come: why may it be done before?", h.Number, w.Says())
			}
		}
		h.Waits = nil
		return h, nil
	}
	for _, what := range a.Wait.What {
		if !slices.Contains(Waitable, what) {
			return h, refuse("waits", "choose what waits: drill, deburr, form, prime, pin or set")
		}
	}
	if strings.TrimSpace(a.Wait.Step) == "" {
		return h, refuse("until", "for which later step or part does hole %d wait?", h.Number)
	}
	h.Waits = append(slices.Clone(h.Waits), a.Wait)
	return h, nil
}
