// Package row holds the rules of a row of holes: what may be done to a hole in
// which state, which holes stay open for a later part, how a row is laid out,
// pinned and set, and what goes into each hole.
package row

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/quantity"
)

// State is how far a hole is. A hole that is kept open for a later part is shown
// as open, whatever lies beneath.
type State string

// The states of a hole, in the order of work.
const (
	Pilot     State = "pilot"
	Sized     State = "sized"
	Deburred  State = "deburred"
	Formed    State = "formed"  // dimpled or countersunk, where its layers are
	Cleaned   State = "cleaned" // deburred on both faces, chips cleared
	Primed    State = "primed"
	Pinned    State = "pinned" // a cleco holds it
	Set       State = "set"
	Doubtful  State = "doubtful" // set, and someone is not sure of it
	Accepted  State = "accepted" // doubtful, judged by the gauge and kept
	Bad       State = "bad"      // its rivet is no good
	Drilled   State = "drilled out"
	Oversize  State = "oversize" // drilled to the next larger size
	Abandoned State = "abandoned"

	Open State = "open" // shown for a kept hole
)

// States lists what is shown, in the order of work.
var States = []State{Open, Pilot, Sized, Deburred, Formed, Cleaned, Primed, Pinned, Set, Doubtful, Accepted, Bad, Drilled, Oversize, Abandoned}

// Telling lists them as a row is told of: what is done first, then what waits.
var Telling = []State{Set, Accepted, Doubtful, Open, Bad, Drilled, Oversize, Pinned, Primed, Cleaned, Formed, Deburred, Sized, Pilot, Abandoned}

// Causes are why a rivet is bad.
var Causes = []string{"slipped", "tipped", "too long", "too short", "bucked crooked", "missed", ShouldHaveStayedOpen, "skin hurt"}

// ShouldHaveStayedOpen is the cause where a kept hole was set by mistake.
const ShouldHaveStayedOpen = "should have stayed open"

// Row is a line or pattern of holes through the same parts.
type Row struct {
	Layers   []Layer   // from the manufactured head inwards
	Fastener Fastener  // of every hole, but for its length
	CallOuts []CallOut // lengths that the plans call out
	Edge     float64   // mm from the centres of the holes to the nearest edge; 0: not given
	Final    bool      // holes are supplied at their final size, until a drop-through test fails
	Sample   int       // with Final: every nth hole is tried; 1 is all
	Pin      int       // every nth hole is pinned; 0: the rule's own
	Bowed    bool      // the parts spring apart: pin every hole
	Reach    string    // which way its flanges face, or from where it is reached
	Bucker   bool      // wants a second pair of hands
	Closed   bool      `json:",omitempty"` // it runs round: the last hole lies beside the first
	How      string    `json:",omitempty"` // one of Hows; "" for a line by count and pitch, or from CSV
	Works    string    `json:",omitempty"` // what each hole is asked for, one of Works; "" as Works[2]
}

// Layer is one thickness of the stack, on all holes or on a run of them.
type Layer struct {
	Material  string          `json:"material"`
	Thickness quantity.Length `json:"thickness"` // mm
	Hole      string          `json:"hole"`      // plain, dimpled or countersunk
	From      int             `json:"from,omitempty"`
	To        int             `json:"to,omitempty"` // 0: to the last
}

// at tells whether the layer lies at a hole.
func (l Layer) at(number int) bool { return number >= l.From && (l.To == 0 || number <= l.To) }

// CallOut is what the plans call out for a run of holes: a length, or for a blind
// rivet the code of its grip; and its head, where the heads of a row differ.
type CallOut struct {
	Text     string `json:"text"`
	From, To int
	Head     string `json:"head,omitempty"` // domed or flush; "" as the row's
}

// at tells whether the call-out is of a hole.
func (c CallOut) at(number int) bool { return number >= c.From && (c.To == 0 || number <= c.To) }

// AsItComes is How of a row of which is known how many holes it has, and not where each lies: its holes are drawn
// evenly, and no pitch is judged.
const AsItComes = "as it comes"

// Hole is one hole of a row.
type Hole struct {
	Number        int
	Along, Across float64 // mm, where it lies on the part
	Pose          string  // "": reached as the part lies; else the pose that it is reached in
	State         State
	Clean         bool // deburred since it was last drilled
	Formed        bool // dimpled or countersunk since
	Primed        bool // since
	Over          bool // drilled over, to what Fit says
	Fit           Fit  // of an oversize hole; zero for one of before it was asked
	Reach         Reach
	Spoilt        int // rivets that were bad here
	Tried         string
	Keep          Keep
	Waits         []Wait // what is not done yet
}

// Outcomes of the drop-through test of a hole: a pin of the final size falls
// through it, or sticks.
const (
	Through = "through"
	Sticks  = "sticks"
)

// Keep is why a hole stays open: the later part that needs it, and the step that
// it waits for. The zero value keeps nothing.
type Keep struct {
	Part string `json:"part,omitempty"`
	Step string `json:"step,omitempty"` // the later step, in words
	Hold string `json:"hold,omitempty"` // the id of its hold, where one stands before it
	// Early says whether it may be formed and primed before: of Early; "" where nobody said.
	Early string `json:"early,omitempty"`
}

// Kept tells whether the hole is kept open.
func (h Hole) Kept() bool { return h.Keep.Part != "" }

// Shown is the state as the map shows it: open for a kept hole that is not closed
// for good.
func (h Hole) Shown() State {
	if h.Kept() {
		return Open
	}
	return h.State
}

// Done tells whether nothing more happens to the hole: set, accepted or abandoned.
func (h Hole) Done() bool { return h.State == Set || h.State == Accepted || h.State == Abandoned }

// Filled tells whether a rivet is in it.
func (h Hole) Filled() bool { return h.State == Set || h.State == Doubtful || h.State == Accepted }

// Missed are the holes that are neither done nor kept open: those that the eye
// does not see on bare metal.
func Missed(holes []Hole) []int {
	var out []int
	for _, h := range holes {
		if !h.Done() && !h.Kept() {
			out = append(out, h.Number)
		}
	}
	return out
}

// ParseRun reads a run of holes: "4", "4-9".
func ParseRun(text string) (from, to int, err error) {
	a, b, ranged := strings.Cut(strings.ReplaceAll(text, "–", "-"), "-")
	from, err = strconv.Atoi(strings.TrimSpace(a))
	to = from
	if err == nil && ranged {
		to, err = strconv.Atoi(strings.TrimSpace(b))
	}
	if err != nil || from < 1 || to < from {
		return from, to, fmt.Errorf("%q is not a run of holes: 4 or 4-9 is", text)
	}
	return from, to, nil
}

// ParseNumbers reads "4, 7, 9-12" as hole numbers, in order and each once.
func ParseNumbers(text string) (out []int, err error) {
	for _, part := range strings.Split(text, ",") {
		if strings.TrimSpace(part) == "" {
			return nil, errors.New("which holes? 4 or 4-9, parted by commas")
		}
		from, to, err := ParseRun(strings.TrimSpace(part))
		switch {
		case err != nil:
			return nil, err
		case to > MaxHoles:
			return nil, fmt.Errorf("there is no hole %d", to)
		case len(out)+to-from >= MaxHoles:
			return nil, fmt.Errorf("more than %d holes", MaxHoles)
		}
		for n := from; n <= to; n++ {
			out = append(out, n)
		}
	}
	slices.Sort(out)
	return slices.Compact(out), nil
}

// Runs writes numbers as people do: "1–4, 7, 9–12".
func Runs(numbers []int) string {
	text := ""
	for i := 0; i < len(numbers); {
		j := i
		for j+1 < len(numbers) && numbers[j+1] == numbers[j]+1 {
			j++
		}
		if text != "" {
			text += ", "
		}
		switch {
		case j == i:
			text += fmt.Sprint(numbers[i])
		case j == i+1:
			text += fmt.Sprintf("%d, %d", numbers[i], numbers[j])
		default:
			text += fmt.Sprintf("%d–%d", numbers[i], numbers[j])
		}
		i = j + 1
	}
	return text
}

// Untried are the holes of the sample that the drop-through test still wants; none
// for a row that is match-drilled.
func (r Row) Untried(holes []Hole) []int {
	var out []int
	if !r.Final {
		return nil
	}
	for i, h := range holes {
		sampled := i%max(r.Sample, 1) == 0 || i == len(holes)-1
		if sampled && h.Tried == "" && !h.Done() {
			out = append(out, h.Number)
		}
	}
	return out
}

// MatchDrilled is the row and its holes after one hole of the sample failed: the
// holes that were taken to be of the final size are pilot holes.
func (r Row) MatchDrilled(holes []Hole) (Row, []Hole) {
	r.Final = false
	out := slices.Clone(holes)
	for i := range out {
		if s := out[i].State; s == Sized || s == Deburred || s == Formed || s == Cleaned || s == Primed || s == Pinned {
			out[i].State = Pilot
			out[i].fresh()
		}
	}
	return r, out
}
