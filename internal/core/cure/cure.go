// Package cure keeps the time of what hardens: mixes, coats, cures, tanks under test. A maker's
// table says how long each takes at some temperatures; between them the logarithm of the hours
// is taken to be linear in the temperature, as for a reaction whose rate grows by a constant
// factor a degree.
package cure

import (
	"fmt"
	"math"
	"slices"
	"time"
)

// Lasts is how long things take at one temperature, in hours; 0 for what the table does not say.
type Lasts struct {
	Pot     float64 `json:"pot"`     // it can be worked
	From    float64 `json:"from"`    // the next coat may go on from then,
	Until   float64 `json:"until"`   // and until then
	Handle  float64 `json:"handle"`  // dry to handle: it may be turned over
	Full    float64 `json:"full"`    // cured
	Outside bool    `json:"outside"` // the temperature lies outside the maker's table: its nearest line is taken
}

// Line is one line of a maker's table.
type Line struct {
	At float64 `json:"at"` // °C
	Lasts
}

// At is how long things take at a temperature. lines are in order of temperature; a column that
// one of two neighbours does not give is not given between them.
func At(lines []Line, at float64) Lasts {
	if len(lines) == 0 {
		return Lasts{}
	}
	i, exact := slices.BinarySearchFunc(lines, at, func(l Line, at float64) int {
		switch {
		case l.At < at:
			return -1
		case l.At > at:
			return 1
		}
		return 0
	})
	switch {
	case exact:
		return lines[i].Lasts
	case i == 0 || i == len(lines):
		out := lines[min(i, len(lines)-1)].Lasts
		out.Outside = true
		return out
	}
	a, b := lines[i-1], lines[i]
	share := (at - a.At) / (b.At - a.At)
	between := func(x, y float64) float64 {
		if x <= 0 || y <= 0 {
			return 0
		}
		return math.Exp(math.Log(x) + share*(math.Log(y)-math.Log(x)))
	}
	return Lasts{Pot: between(a.Pot, b.Pot), From: between(a.From, b.From), Until: between(a.Until, b.Until), Handle: between(a.Handle, b.Handle), Full: between(a.Full, b.Full)}
}

// The sorts of clocks.
const (
	Mixed = "mix"
	Coat  = "coat"
	Bond  = "cure"
	Tank  = "tank"
)

// Sorts lists them.
var Sorts = []string{Coat, Bond, Mixed, Tank}

// What is done while a clock runs.
const (
	Coated = "coat"
	Turned = "turned over"
)

// Pass is something that was done to it.
type Pass struct {
	Did  string    `json:"did"`
	Side int       `json:"side"` // the first is 1
	At   time.Time `json:"at"`
	Why  string    `json:"why,omitempty"` // although the table says otherwise
}

// Clock is something that hardens, or is tested.
type Clock struct {
	Sort, What  string
	Sides       int // 1 or 2
	Least, Most int // passes of each side
	Stop        string
	Lasts       // at the temperature of the last pass
	Passes      []Pass
}

// Due is a moment that is waited for.
type Due struct {
	What  string
	At    time.Time
	Limit bool // it is too late afterwards; else it is too early before
}

// side is the side that is up, and coats how many are on it.
func (c Clock) side() int {
	if len(c.Passes) == 0 {
		return 1
	}
	return c.Passes[len(c.Passes)-1].Side
}

func (c Clock) coats(side int) (n int, last time.Time) {
	for _, p := range c.Passes {
		if p.Did == Coated && p.Side == side {
			n, last = n+1, p.At
		}
	}
	return n, last
}

// lastCoat is the last one of any side.
func (c Clock) lastCoat() time.Time {
	for _, p := range slices.Backward(c.Passes) {
		if p.Did == Coated {
			return p.At
		}
	}
	return time.Time{}
}

func hours(h float64) time.Duration { return time.Duration(h * float64(time.Hour)) }

// Waits tells whether a side still wants its turn-over or its least coats: what rests on the
// part waits for that, whatever has cured.
func (c Clock) Waits() bool {
	if c.Sort != Coat {
		return false
	}
	for s := 1; s <= c.Sides; s++ {
		if n, _ := c.coats(s); n < c.Least {
			return true
		}
	}
	return false
}

// Cured is when it is; zero where the table does not say.
func (c Clock) Cured() time.Time {
	if c.Full <= 0 || len(c.Passes) == 0 {
		return time.Time{}
	}
	return c.lastCoat().Add(hours(c.Full))
}

// Dues are the moments ahead, or just past, in order of time.
func (c Clock) Dues() (out []Due) {
	at := c.lastCoat()
	if at.IsZero() {
		return nil
	}
	add := func(h float64, limit bool, what string) {
		if h > 0 {
			out = append(out, Due{what, at.Add(hours(h)), limit})
		}
	}
	switch c.Sort {
	case Mixed:
		add(c.Pot, true, "pot life ends")
	case Tank:
		add(c.Full, false, "read it again")
	case Bond:
		add(c.Handle, false, "may be handled")
		add(c.Full, false, "cured")
	default:
		n, _ := c.coats(c.side())
		if n < c.Most {
			add(c.From, false, fmt.Sprintf("coat %d may go on", n+1))
			add(c.Until, true, fmt.Sprintf("last moment for coat %d", n+1))
		}
		turn := "may be handled"
		if other := 3 - c.side(); c.Sides == 2 && n >= c.Least {
			if m, _ := c.coats(other); m < c.Least {
				turn = "may be turned over"
			}
		}
		add(c.Handle, false, turn)
		add(c.Full, false, "cured")
	}
	slices.SortStableFunc(out, func(a, b Due) int { return a.At.Compare(b.At) })
	return out
}

// Next is the first moment that is still ahead; the last one where all are past.
func (c Clock) Next(now time.Time) (Due, bool) {
	dues := c.Dues()
	for _, d := range dues {
		if d.At.After(now) {
			return d, true
		}
	}
	if len(dues) == 0 {
		return Due{}, false
	}
	return dues[len(dues)-1], true
}

// Allow says why something is not done now, "" where nothing speaks against it. What the maker's
// table alone speaks against may be done with a reason; what never goes is hard.
func (c Clock) Allow(did string, now time.Time) (why string, hard bool) {
	n, last := c.coats(c.side())
	switch {
	case c.Sort != Coat:
		return "only a coat has passes and sides", true
	case did == Coated && n >= c.Most:
		return fmt.Sprintf("%d coats are on that side, and the rule says %d at most", n, c.Most), true
	case did == Coated && n > 0 && c.From > 0 && now.Before(last.Add(hours(c.From))):
		return "by the maker's table the next coat may not go on before " + last.Add(hours(c.From)).Format("Mon 15:04"), false
	case did == Coated && n > 0 && c.Until > 0 && now.After(last.Add(hours(c.Until))):
		return "the time for the next coat ended on " + last.Add(hours(c.Until)).Format("Mon 2 Jan, 15:04") + ": the surface wants sanding, or what its maker says", false
	case did == Turned && c.Sides < 2:
		return "it has one side", true
	case did == Turned && n == 0:
		return "nothing is on that side yet", true
	case did == Turned && c.Handle > 0 && now.Before(last.Add(hours(c.Handle))):
		return "by the maker's table it is not dry to handle before " + last.Add(hours(c.Handle)).Format("Mon 15:04"), false
	case did != Coated && did != Turned:
		return "a coat, or turned over?", true
	}
	return "", false
}

// Enough says why it is not enough yet, by the stop rule; "" where it is.
func (c Clock) Enough() string {
	if c.Sort != Coat {
		return ""
	}
	for s := 1; s <= c.Sides; s++ {
		if n, _ := c.coats(s); n < c.Least {
			on := ""
			if c.Sides > 1 {
				on = fmt.Sprintf(" on side %d", s)
			}
			return fmt.Sprintf("the rule says %d at least, and %d are%s", c.Least, n, on)
		}
	}
	return ""
}

// Do is the clock after a pass.
func (c Clock) Do(did string, at time.Time, why string) Clock {
	p := Pass{Did: did, Side: c.side(), At: at, Why: why}
	if did == Turned {
		p.Side = 3 - p.Side
	}
	c.Passes = append(slices.Clone(c.Passes), p)
	return c
}

// OnSide says which side is up, and how many coats are on it.
func (c Clock) OnSide() (side, coats int) {
	n, _ := c.coats(c.side())
	return c.side(), n
}
