// Package part holds what is known of single parts: hands, lots, and how deep a part
// lies when its maker sends a notice.
package part

import (
	"cmp"
	"slices"
	"strings"
	"unicode"
)

// Hands are what a part may be marked with.
var Hands = []string{"left", "right", "either", "none"}

// HandUnknown is the hand of a part of which nobody has said it yet.
const HandUnknown = ""

// HandKnown tells whether a hand is one of Hands, or not said yet.
func HandKnown(hand string) bool { return hand == HandUnknown || slices.Contains(Hands, hand) }

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

// Of is the answer for a part. What was never written down is unknown and never not affected, as
// long as what is known of it fits; and so is what is nearly what is named.
func (n Notice) Of(p Part) Answer {
	if n.Empty() {
		return NotAffected
	}
	answer := Affected
	for _, m := range []struct {
		list []string
		of   string
	}{{n.Numbers, p.Number}, {n.Lots, p.Lot}, {n.Processes, p.Process}} {
		if len(m.list) == 0 {
			continue
		}
		switch names(m.list, m.of) {
		case NotAffected:
			return NotAffected
		case Unknown:
			answer = Unknown
		}
	}
	return answer
}

// Number tells whether the notice names a part number, or nearly.
func (n Notice) Number(of string) bool {
	return len(n.Numbers) > 0 && names(n.Numbers, of) != NotAffected
}

// names is what a list of names says of what is written on a part, which may be a list too: a name
// of the list, or one within a range of it ("2290-2310"), as letters and digits alone. What is nearly
// one of them is unknown, and so is what is not written down.
func names(list []string, of string) Answer {
	mine := pieces(of)
	if len(mine) == 0 {
		return Unknown
	}
	answer := NotAffected
	for _, named := range list {
		for _, one := range pieces(named) {
			for _, m := range mine {
				switch {
				case one == m || one.holds(m) || m.holds(one):
					return Affected
				case one.near(m):
					answer = Unknown
				}
			}
		}
	}
	return answer
}

// piece is a name as letters and digits alone; of a range both of its ends.
type piece struct{ low, high string }

// holds tells whether a range holds a name or another range, as numbers.
func (p piece) holds(o piece) bool {
	return p.low != p.high && within(p.low, o.low, p.high) && within(p.low, o.high, p.high)
}

// near tells whether two may be the same, written otherwise: one contains the other, or they differ
// by one character, a leading zero or a word before.
func (p piece) near(o piece) bool {
	for _, a := range []string{p.low, p.high} {
		for _, b := range []string{o.low, o.high} {
			if strings.Contains(a, b) || strings.Contains(b, a) || strings.TrimLeft(a, "0") == strings.TrimLeft(b, "0") || oneApart(a, b) {
				return true
			}
		}
	}
	return p.low != p.high && (within(p.low, o.low, p.high) || within(p.low, o.high, p.high)) || o.low != o.high && (within(o.low, p.low, o.high) || within(o.low, p.high, o.high))
}

// pieces are the names in a text.
func pieces(text string) (out []piece) {
	text = strings.ToLower(text)
	for _, word := range []string{" and ", " or ", " & "} {
		text = strings.ReplaceAll(text, word, ",")
	}
	for _, word := range []string{" to ", "–", "—", "…", "..."} {
		text = strings.ReplaceAll(text, word, "~")
	}
	for _, item := range strings.FieldsFunc(text, func(r rune) bool { return strings.ContainsRune(",;/\n+", r) }) {
		low, high, isRange := strings.Cut(item, "~")
		if a, b, ok := strings.Cut(item, "-"); !isRange && ok && number(plain(a)) && number(plain(b)) && len(plain(a)) == len(plain(b)) && plain(a) < plain(b) {
			low, high, isRange = a, b, true
		}
		switch a, b := plain(low), plain(high); {
		case isRange && a != "" && b != "":
			out = append(out, piece{a, b})
		case a != "":
			out = append(out, piece{a, a})
		}
	}
	return out
}

func number(s string) bool {
	return s != "" && strings.IndexFunc(s, func(r rune) bool { return r < '0' || r > '9' }) < 0
}

// within tells whether a name lies between two, as numbers of one length.
func within(low, name, high string) bool {
	trim := func(s string) string { return strings.TrimLeft(s, "0") }
	low, name, high = trim(low), trim(name), trim(high)
	return number(low) && number(name) && number(high) && (len(name) > len(low) || len(name) == len(low) && name >= low) && (len(name) < len(high) || len(name) == len(high) && name <= high)
}

// oneApart tells whether two names differ by one character: another one, one more, one less, or two
// that stand the other way round.
func oneApart(a, b string) bool {
	x, y := []rune(a), []rune(b)
	if len(x) > len(y) {
		x, y = y, x
	}
	if len(y)-len(x) > 1 || len(y) < 2 {
		return false
	}
	i := 0
	for i < len(x) && x[i] == y[i] {
		i++
	}
	if len(x) < len(y) {
		return slices.Equal(x[i:], y[i+1:])
	}
	if i >= len(x)-1 {
		return true
	}
	return slices.Equal(x[i+1:], y[i+1:]) || x[i] == y[i+1] && x[i+1] == y[i] && slices.Equal(x[i+2:], y[i+2:])
}

// plain is a name as letters and digits alone, small, as people type numbers.
func plain(s string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, s)
}

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
