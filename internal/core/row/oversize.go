package row

import (
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/say"
)

// Fit is what an oversize hole was drilled to, and what goes into it.
type Fit struct {
	Hole   float64 `json:"hole,omitempty"`  // mm
	Rivet  float64 `json:"rivet,omitempty"` // mm
	Size   string  `json:"size,omitempty"`  // of the rivet, as typed
	Dimple string  `json:"dimple,omitempty"`
	Reason string  `json:"reason,omitempty"`
}

// Says it: "hole 4.05 mm, rivet 5/32, the dimple still fits the head"; "" for none.
func (f Fit) Says() string {
	if f == (Fit{}) {
		return ""
	}
	says := fmt.Sprintf("hole %s, rivet %s", say.Length(f.Hole).Fine(2), f.Size)
	if f.Dimple != "" {
		says += ", " + f.Dimple
	}
	return says
}

// Clearance is the most by which a hole may be wider than its rivet for the rivet to fill
// it, in mm: general practice, the drill sizes for rivets being 0.07 to 0.11 mm over. The
// rivet maker's figure prevails.
const Clearance = 0.15

// Fills tells why a rivet does not fill a hole, "" where it does.
func (f Fit) Fills() string {
	mm := func(v float64) say.Text { return say.Length(v).Fine(2).String() }
	switch {
	case f.Hole <= 0 || f.Rivet <= 0:
		return "how wide is the hole now, and how thick the rivet?"
	case f.Hole < f.Rivet-1e-9:
		return fmt.Sprintf("a rivet of %s does not go into a hole of %s", mm(f.Rivet), mm(f.Hole))
	case f.Hole > f.Rivet+Clearance+1e-9:
		return fmt.Sprintf("a rivet of %s does not fill a hole of %s (%s at most): it would bend in there; take the next size, or ask", mm(f.Rivet), mm(f.Hole), mm(f.Rivet+Clearance))
	}
	return ""
}

// Dimples are what becomes of the dimple of an oversize hole.
var Dimples = []string{"the dimple still fits the head", "a reduced-head repair rivet goes in", "it is formed anew for the larger head"}

// enlarge drills a hole over. The two diameters are kept with it, and the reason; the rivet
// has to fill the hole, and where a layer is dimpled or countersunk someone has to say what
// becomes of that.
func enlarge(h Hole, a Asked, leave Leave) (Hole, error) {
	switch {
	case h.Filled() || h.State == Pilot:
		return h, refuse("", "hole %d is %s: only a hole that is drilled to size, and empty, is drilled oversize", h.Number, h.State)
	case h.Over:
		return h, refuse("", "hole %d is oversize already: ask before it is enlarged again", h.Number)
	case leave.Drill != "":
		return h, refuse("", "%s", leave.Drill)
	case a.Fit.Fills() != "":
		return h, refuse("fit", "%s", a.Fit.Fills())
	case leave.Asks.Form != "" && !slices.Contains(Dimples, a.Fit.Dimple):
		return h, refuse("dimple", "hole %d is %s: does the dimple still fit, or does a reduced-head repair rivet go in?", h.Number, leave.Asks.Form)
	case leave.Enlarge != "" && strings.TrimSpace(a.Reason) == "":
		return h, refuse("reason", "%s: ask before going on, and write who answered what", leave.Enlarge)
	case strings.TrimSpace(a.Reason) == "":
		return h, refuse("reason", "why is hole %d drilled oversize? It stays on the record", h.Number)
	}
	h.State, h.Over, h.Fit = Oversize, true, a.Fit
	h.Fit.Reason = strings.TrimSpace(a.Reason)
	formed := h.Formed && a.Fit.Dimple != Dimples[2]
	h.fresh()
	h.Formed = formed
	return h, nil
}
