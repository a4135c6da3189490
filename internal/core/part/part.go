// Package part holds what is known of single parts: hands, lots, and how deep a part
// lies when its maker sends a notice.
package part

import (
	"cmp"
	"slices"
	"strings"
)

// Hands are what a part may be marked with.
var Hands = []string{"left", "right", "either", "none"}

// Handed tells whether a part of that hand must not be taken for its twin.
func Handed(hand string) bool { return hand == "left" || hand == "right" }

// Part is one part, or several that are alike and came together.
type Part struct {
	Number  string // of the plans
	Lot     string
	Process string // how it was made: a heat treatment, a coating
}

// Depth is how deep a part lies.
type Depth int

// The depths.
const (
	Shelf Depth = iota
	Fitted
	Pinned
	Riveted
	ClosedIn
)

// String says the depth, and what reaching the part takes.
func (d Depth) String() string {
	return [...]string{"on the shelf", "fitted loose", "pinned", "riveted", "closed in"}[d]
}

// Reach says what it takes to get the part out.
func (d Depth) Reach() string {
	return [...]string{"take it off the shelf", "lift it out", "pull the clecos", "drill the rivets out", "open what closes it, then drill the rivets out"}[d]
}

// Lies is where a part is: in an assembly, in a row of it, behind what is closed.
type Lies struct {
	Assembly    bool // it went into one
	Pinned      bool // a hole of its row is pinned
	Set         bool // a hole of its row is set
	Permanent   bool // a step of its assembly is done that cannot be undone
	AfterClosed bool // its bay, or all of its assembly, is closed
}

// Depth is the deepest of what holds a part.
func (l Lies) Depth() Depth {
	switch {
	case !l.Assembly:
		return Shelf
	case l.AfterClosed:
		return ClosedIn
	case l.Set || l.Permanent:
		return Riveted
	case l.Pinned:
		return Pinned
	}
	return Fitted
}

// Notice names part numbers, lots or processes. A part is affected when it is named by
// each of the lists that are not empty: a lot of one part number is not another's.
type Notice struct{ Numbers, Lots, Processes []string }

// Empty tells whether the notice names nothing.
func (n Notice) Empty() bool { return len(n.Numbers)+len(n.Lots)+len(n.Processes) == 0 }

// Answer is what a notice means for a part.
type Answer string

// The answers. A part is named by every list that is not empty, is not named by one of
// them, or has a field empty that the notice compares: then nobody knows before it is
// looked at.
const (
	Affected    Answer = "affected"
	NotAffected Answer = "not affected"
	Unknown     Answer = "unknown: look"
)

// Of is the answer for a part. What was never written down is unknown and never not
// affected, as long as what is known of it fits.
func (n Notice) Of(p Part) Answer {
	if n.Empty() {
		return NotAffected
	}
	answer := Affected
	for _, m := range []struct {
		list []string
		of   string
	}{{n.Numbers, p.Number}, {n.Lots, p.Lot}, {n.Processes, p.Process}} {
		switch {
		case len(m.list) == 0:
		case strings.TrimSpace(m.of) == "":
			answer = Unknown
		case !slices.ContainsFunc(m.list, func(named string) bool { return plain(named) == plain(m.of) }):
			return NotAffected
		}
	}
	return answer
}

// plain is a name without case and blanks, as people type numbers.
func plain(s string) string { return strings.ToLower(strings.Join(strings.Fields(s), "")) }

// Twin is the name of the other hand's assembly or part: "Aileron, left" for
// "Aileron, right"; "" where the name says no hand.
func Twin(name string) string {
	for _, pair := range [][2]string{{"left", "right"}, {"Left", "Right"}, {" L", " R"}} {
		for _, swap := range [][2]string{pair, {pair[1], pair[0]}} {
			if i := word(name, swap[0]); i >= 0 {
				return name[:i] + swap[1] + name[i+len(swap[0]):]
			}
		}
	}
	return ""
}

// Swapped is a name with its hand swapped, or as it is where it says none.
func Swapped(name string) string { return cmp.Or(Twin(name), name) }

// word finds a whole word in a name.
func word(name, w string) int {
	i := strings.LastIndex(name, w)
	if i < 0 || i+len(w) < len(name) && letter(name[i+len(w)]) || i > 0 && w[0] != ' ' && letter(name[i-1]) {
		return -1
	}
	return i
}

func letter(b byte) bool { return b|0x20 >= 'a' && b|0x20 <= 'z' }
