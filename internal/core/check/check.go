// Package check is a check that is being measured: which of its spots are read, which
// readings count, what they say so far, and the one thing to do next. It computes
// nothing of the metal itself; that is in package measure.
package check

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/measure"
	"orpine/internal/core/pose"
	"orpine/internal/core/say"
	"orpine/internal/core/school"
)

// Conditions are how a part may be held while it is read.
var Conditions = []string{"hands off", "pushed by hand", "weighted", "clamped", "pinned", "riveted"}

// Acceptable are the conditions that a check accepts unless it says otherwise: a
// part pushed into shape by hand is not measured.
var Acceptable = []string{"hands off", "clamped", "pinned", "riveted", "weighted"}

// Reasons are why a reading is taken back or put in place of another.
var Reasons = []string{"misread", "mistyped", "wrong mark", "other instrument"}

// How a surface lies that is measured for twist.
const (
	HeldDown = "held" // to its supports, and touching them all: their shape is taken off
	InJig    = "jig"  // not fastened yet, and taking the jig's shape: the jig is moved
	LiesFree = "free" // stiff, and keeping its own shape
)

// Tool is an instrument as far as a reading needs it.
type Tool struct {
	ID, Name     string
	Angle        bool    // it shows angles; else lengths
	Step, Spread float64 // mm or degrees
	Zeroed       bool    // its zero is known
	Zero         float64 // degrees
	Unknown      string  // what is not stated of it: "its step"; "" for nothing
}

// Placing is the standard uncertainty of the mean of n placings, without the
// instrument's constant error: √(step²/12 + spread²/n).
func (t Tool) Placing(n int) float64 {
	return math.Sqrt(t.Step*t.Step/12 + t.Spread*t.Spread/float64(max(n, 1)))
}

// True takes the zero of the tool off what it showed.
func (t Tool) True(shown float64, turned bool) float64 {
	switch {
	case !t.Zeroed:
		return shown
	case turned:
		return shown + t.Zero
	}
	return shown - t.Zero
}

// Check is one check with its readings and what they say.
type Check struct {
	ID, Name    string
	Kind        measure.Kind
	Input       measure.Walker // without readings
	Held        bool           // a surface measured for twist is held down to its support
	Lies        string         // how it lies: HeldDown, InJig or LiesFree; "" where it was not said
	Spots       []Spot         // in walking order
	Wanted      int            // spots
	Taken       int            // spots with a reading that counts
	Stale       int            // spots whose readings are stale and not taken again
	Disturbed   measure.Event  // what made them stale
	Accepts     []string       // conditions
	Used        []Tool         // those of the readings that count
	Judged      school.Choice  // what holds for it
	AfterOf     string         // id of the check before the step, when this is the one after it
	Result      *measure.Result
	Solved      measure.Check  // the input with the readings that count
	Where       map[string]int // number of the spot by its place in the solved check, such as stations[2].angle
	Problems    []string       // why there is no result although every reading is taken
	Assumed     []string       // what is taken to be so, because nobody said: how well points are known
	Unstated    []string       // what was assumed of its dimensions or limits: until someone states it nothing is go
	LimitsLate  bool           // they were set or changed after a reading that they judge
	UsualLimits bool           // its limits are the usual ones, and not the plans'
	Late        string         // which level was read too long after its test; "" for none
	Corrected   []measure.Line // what was added to the readings, for sag, temperature and the like
	Unlaid      bool           // whether the surface is stiff or flexible, lies or is held, was not said
	Prospect    string         // that the instrument at hand cannot decide, and which would; "" where it can
	Finer       string         // what would do where these instruments cannot decide; "" where nobody asked
}

// Spot is one place of a check with the readings there.
type Spot struct {
	measure.Spot
	Aid      measure.Aid
	Number   int       // from 1, in walking order
	Readings []Reading // oldest first; where the whole of them is not asked for, those that count
	Gone     *Stale    // the last reading that went stale, where none counts
}

// Stale is a reading that an event made stale.
type Stale struct {
	Text  string // as typed
	Event measure.Event
}

// Key is where a spot stands in its check. It stays what it is when other points are
// added, which a number does not.
type Key struct {
	List  string `json:"list,omitempty" form:"list"`
	Point string `json:"point,omitempty" form:"point"`
	Field string `json:"field" form:"field"`
}

// Key returns where the spot stands.
func (s Spot) Key() Key { return Key{s.List, s.Point, s.Field} }

// Reading is one placing, and what became of it.
type Reading struct {
	ID, Text   string  // as typed
	Value      float64 // mm or degrees
	Instrument string  // name
	Turned     bool    // the instrument was held the other way round
	Hung       bool    // the tape hung between its ends
	Aid        string  // TurnedRound or NoAid
	Moved      bool    // a further placing: lifted off, and set a little beside the last
	Sent       string  // by an instrument that speaks, as it came; "" where it was typed
	Condition  string
	At         time.Time
	Superseded string        // why; "" while it counts
	Stale      measure.Event // what made it stale; "" while it counts
}

// What is said of the aid at a spot that may have one.
const (
	TurnedRound = "turned round" // the board is, end for end
	NoAid       = "none"         // no string: the reading is from the airframe itself
)

// Counts tells whether the reading enters the answer.
func (r Reading) Counts() bool { return r.Superseded == "" && r.Stale == "" }

// Counting returns the placings that enter the answer.
func (s Spot) Counting() []Reading {
	var out []Reading
	for _, r := range s.Readings {
		if r.Counts() {
			out = append(out, r)
		}
	}
	return out
}

// Stale returns what made the spot's readings stale, when it has none that count.
func (s Spot) Stale() measure.Event {
	if s.Gone == nil || len(s.Counting()) > 0 {
		return ""
	}
	return s.Gone.Event
}

// Place names the spot for people: "left tip, angle".
func (s Spot) Place() string {
	if s.Point == "" || s.List == "readings" { // a reading of a join says itself where it goes
		return s.Label
	}
	return s.Point + ", " + s.Label
}

// Mean is the mean of readings, before any zero is applied; 0 for none.
func Mean(readings []Reading) float64 {
	sum := 0.0
	for _, r := range readings {
		sum += r.Value
	}
	return sum / float64(max(1, len(readings)))
}

// Moved tells whether all further placings of a spot were lifted off and set a little beside the last.
func Moved(placings []Reading) bool {
	return len(placings) > 1 && !slices.ContainsFunc(placings[1:], func(r Reading) bool { return !r.Moved })
}

// once tells whether no place was read again that a second look would tell more of.
func (c Check) once() bool {
	return len(c.Spots) > 0 && c.Result != nil && c.Result.Network == nil && !slices.ContainsFunc(c.Spots, func(s Spot) bool { return s.Sense == "figure" || len(s.Counting()) > 1 })
}

// Behind is the number of the first spot that has fewer placings than another; 0 where all have as many.
func (c Check) Behind() int {
	most := 0
	for _, s := range c.Spots {
		most = max(most, len(s.Counting()))
	}
	for _, s := range c.Spots {
		if len(s.Counting()) < most {
			return s.Number
		}
	}
	return 0
}

// fewest is the number of the first spot with the fewest placings.
func (c Check) fewest() int {
	if len(c.Spots) == 0 {
		return 0
	}
	return slices.MinFunc(c.Spots, func(a, b Spot) int { return len(a.Counting()) - len(b.Counting()) }).Number
}

// Covered is the check as one sees it who reads a spot again, and is not to know what was read there.
func (c Check) Covered(number int) Check {
	c.Spots = slices.Clone(c.Spots)
	for i := range c.Spots {
		if c.Spots[i].Number == number {
			c.Spots[i].Readings = nil
		}
	}
	return c
}

// Tally counts what is read.
func (c *Check) Tally() {
	c.Wanted, c.Taken, c.Stale = len(c.Spots), 0, 0
	for _, s := range c.Spots {
		if len(s.Counting()) > 0 {
			c.Taken++
		} else if event := s.Stale(); event != "" {
			c.Stale, c.Disturbed = c.Stale+1, event
		}
	}
}

// Complete tells whether every reading is taken and counts.
func (c Check) Complete() bool { return c.Taken == c.Wanted && (c.Wanted > 0 || c.Result != nil) }

// Spot returns the spot of that number, or the first that is to be read; ok is
// false when there is neither.
func (c Check) Spot(number int) (s Spot, ok bool) {
	if number >= 1 && number <= len(c.Spots) {
		return c.Spots[number-1], true
	}
	next, ok := c.Next()
	return next.Spot, ok
}

// At returns the spot of a key.
func (c Check) At(k Key) (Spot, bool) {
	i := slices.IndexFunc(c.Spots, func(s Spot) bool { return s.Key() == k })
	if i < 0 {
		return Spot{}, false
	}
	return c.Spots[i], true
}

// Joined returns the join of a check, of one surface or several; ok is false for any
// other kind.
func (c Check) Joined() (j pose.Joined, ok bool) {
	j, ok = c.Input.(pose.Joined)
	return j, ok
}

// Refusal is why a complete check does not show anything.
type Refusal struct {
	Tilted bool // the reference is to be zeroed, and is not
	Unlaid bool // how the part lies was not said
	Says   string
}

// Refusal says which reading was taken in a condition that the check does not
// accept, or that the reference is not zeroed where it should be; nil when there
// is none.
func (c Check) Refusal() *Refusal {
	if c.Unlaid {
		return &Refusal{Unlaid: true, Says: "stiff or flexible, lying or held? Until that is said, the figure is of part and bench together, never of the part"}
	}
	if says := c.tilted(); says != "" {
		return &Refusal{Tilted: true, Says: says}
	}
	for _, s := range c.Spots {
		for _, r := range s.Counting() {
			if !slices.Contains(c.Accepts, r.Condition) {
				return &Refusal{Says: fmt.Sprintf("%s was read %s; only %s counts", s.Place(), r.Condition, strings.Join(c.Accepts, ", "))}
			}
		}
	}
	return nil
}

// Refused is the refusal in words, "" for none.
func (c Check) Refused() string {
	if r := c.Refusal(); r != nil {
		return r.Says
	}
	return ""
}

// tilted says that the reference shows a slope although it is to be zeroed by
// shims; a reading within its own U of zero counts as zero.
func (c Check) tilted() string {
	if c.Judged.Answer(school.Reference) != school.Zeroed {
		return ""
	}
	for _, s := range c.Spots {
		counting := s.Counting()
		if s.Field != "datum" || len(counting) == 0 {
			continue
		}
		v, u := Mean(counting), 0.0
		for _, tool := range c.Used {
			if tool.Name == counting[0].Instrument {
				v, u = tool.True(v, counting[0].Turned), Coverage*tool.Placing(len(counting))
			}
		}
		if v > u || v < -u {
			return fmt.Sprintf("the datum stands at %s%s, and here the reference is zeroed: shim it until it reads 0 within %s, and read it again", say.Angle(v).Signed(), Side(v, s.Sense), say.Angle(u))
		}
	}
	return ""
}

// Next is the reading to take next.
type Next struct {
	Spot
	Again bool // it was taken before, and is stale
}

// Say puts it into words.
func (n Next) Say() string {
	if n.Again {
		return "read " + n.Place() + " again"
	}
	return "read " + n.Place()
}

// Next returns the first spot in walking order without a reading that counts.
func (c Check) Next() (Next, bool) {
	for _, s := range c.Spots {
		if len(s.Counting()) == 0 {
			return Next{s, s.Stale() != ""}, true
		}
	}
	return Next{}, false
}

// Headline is the quantity that the check is about: the worst that is limited,
// or the first of its kind.
func (c Check) Headline() (measure.Quantity, bool) {
	if c.Result == nil {
		return measure.Quantity{}, false
	}
	var best measure.Quantity
	rank := map[string]int{}
	for i, l := range c.Kind.Limits {
		rank[l.Name] = i - len(c.Kind.Limits)
	}
	for _, q := range c.Result.Quantities {
		if c.Result.Answer != "" && best.Name != "" && q.Value < best.Value {
			best = q // of two fits the one that leaves less
		}
		if best.Unseen && best.Limit != nil {
			break // what nothing shows comes before what is not known well enough
		}
		if q.Unseen && q.Limit != nil {
			best = q
		}
		if best.Name == "" || q.Verdict > best.Verdict || q.Verdict == best.Verdict && rank[q.Name] < rank[best.Name] {
			best = q
		}
	}
	return best, best.Name != ""
}
