package row

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/core/rivet"
	"orpine/internal/core/say"
)

// Fastener is what goes into every hole of a row, but for its length.
type Fastener struct {
	Sort     string           `json:"sort"` // one of Sorts
	Diameter measure.Diameter `json:"diameter"`
	Size     string           `json:"size"` // the diameter, as typed
	Head     string           `json:"head"` // domed or flush
	Material string           `json:"material"`
	Grips    []Grip           `json:"grips,omitempty"`  // of blind rivets, from the maker's table
	With     string           `json:"with,omitempty"`   // of a nut plate: the two rivets that hold it, as stock knows them
	Points   string           `json:"points,omitempty"` // of a bolt: which way its head lies
}

// Grip is what one blind rivet holds together.
type Grip struct {
	Code     string          `json:"code"`
	Min, Max quantity.Length // mm
}

// headDepth is how deep a flush head of 100° sits, in diameters: general practice for
// heads of about twice the diameter; the maker's figure prevails.
const headDepth = 0.42

// Over is the diameter of the next larger size: a thirty-second of an inch, or 0.8 mm.
func (f Fastener) Over() float64 {
	if f.Diameter.Metric {
		return f.Diameter.MM + 0.8
	}
	return f.Diameter.MM + 25.4/32
}

// Advice is what a hole asks for: its own stack, the length, the edges.
type Advice struct {
	Layers   []Layer
	CallOut  string // of the plans; "" for none
	Length   string // what goes in: the call-out, or what was worked out
	Diameter float64
	Rivet    measure.Result  // solid-rivet or blind-rivet
	Edges    measure.Result  // hole-edge, before and after an oversize
	Flush    *measure.Result // do the layers lie close, under a flush head or where one of them is dimpled or countersunk?
	Head     string          // domed or flush
	// Unchecked tells that nobody knows what lies at the hole: the length is taken from the plans as it stands there.
	Unchecked bool
}

// Verdict is the worst of what the hole asks for, but for what would follow from an
// oversize.
func (a Advice) Verdict() measure.Verdict {
	v := a.Rivet.Verdict
	if a.Unchecked {
		v = measure.Unsure
	}
	if a.Flush != nil {
		v = max(v, a.Flush.Verdict)
	}
	return v
}

var decision = measure.Decision{Coverage: 2}

// Advise works out what the hole asks for, among the holes of its row.
func (r Row) Advise(h Hole, holes []Hole) Advice {
	a := r.Fit(h)
	if (len(a.Layers) > 0 || a.Unchecked) && a.Diameter > 0 {
		a.Edges = r.edges(h, holes)
	}
	return a
}

// Fit works out what goes into the hole: its stack, the length, the layers under a
// flush head.
func (r Row) Fit(h Hole) Advice {
	a := Advice{CallOut: r.CalledOut(h.Number), Diameter: r.Fastener.Diameter.MM, Head: r.HeadAt(h.Number)}
	var stack []quantity.Length
	for _, l := range r.Layers {
		if l.at(h.Number) {
			a.Layers = append(a.Layers, l)
			stack = append(stack, l.Thickness)
		}
	}
	if h.Over { // what the plans call out is for the size before
		a.Diameter, a.CallOut = r.over(h), ""
	}
	if len(stack) == 0 || a.Diameter <= 0 {
		if len(r.Layers) == 0 || a.Diameter <= 0 { // of the whole row nobody said what lies there
			a.Length, a.Unchecked = a.CallOut, true
		}
		return a
	}
	if !r.Fastener.Rivet() {
		a.Rivet, a.Length = r.held(a, stack), a.CallOut
		return a
	}
	a.Rivet, a.Length = r.length(a, stack)
	if a.Head == "flush" || slices.ContainsFunc(a.Layers, func(l Layer) bool { return l.Hole == "dimpled" || l.Hole == "countersunk" }) {
		a.Flush = r.flush(a)
	}
	return a
}

// Key is the same for holes that ask for the same: their layers, call-out and size.
func (r Row) Key(h Hole) string {
	var b strings.Builder
	for i, l := range r.Layers {
		if l.at(h.Number) {
			fmt.Fprintf(&b, "%d ", i)
		}
	}
	fmt.Fprintf(&b, "%s %s %t %g", r.HeadAt(h.Number), r.CalledOut(h.Number), h.Over, h.Fit.Rivet)
	return b.String()
}

// length judges the call-out of a hole, or chooses a length where there is none.
func (r Row) length(a Advice, stack []quantity.Length) (measure.Result, string) {
	if r.Fastener.Sort == "blind" && a.Diameter > r.Fastener.Diameter.MM {
		return measure.Result{}, "of the next size" // another table than the one on hand
	}
	if r.Fastener.Sort == "blind" {
		c := &rivet.Blind{Stack: stack, Callout: a.CallOut}
		for _, g := range r.Fastener.Grips {
			c.Table = append(c.Table, rivet.Grip{Code: g.Code, Diameter: quantity.Length(a.Diameter), Min: g.Min, Max: g.Max})
		}
		result := measure.Solve(c, nil, decision)
		choice := a.CallOut
		if choice == "" && len(result.Rivet.Choices) > 0 {
			choice = result.Rivet.Choices[0]
		}
		return result, choice
	}
	c := &rivet.Solid{Diameter: measure.Diameter{MM: a.Diameter, Metric: r.Fastener.Diameter.Metric}, Stack: stack}
	if v, err := quantity.ParseLength(a.CallOut, quantity.Millimetre); err == nil && a.CallOut != "" {
		c.Callout = &v
	}
	result := measure.Solve(c, nil, decision)
	if c.Callout != nil {
		return result, a.CallOut
	}
	choice, _ := result.Quantity("choice")
	unit := quantity.Inch
	if c.Diameter.Metric {
		unit = quantity.Millimetre
	}
	return result, quantity.Length(choice.Value).Text(unit)
}

// over is the diameter of what goes into the hole once it is drilled over: what was said, or
// the next size.
func (r Row) over(h Hole) float64 {
	if h.Fit.Rivet > 0 {
		return h.Fit.Rivet
	}
	return r.Fastener.Over()
}

// edges judges where the hole sits, before and after it is drilled over.
func (r Row) edges(h Hole, holes []Hole) measure.Result {
	over := quantity.Length(r.over(h))
	c := &rivet.HoleEdge{Diameter: quantity.Length(r.Fastener.Diameter.MM), Oversize: &over}
	if r.Edge > 0 {
		c.Edges = []quantity.Length{quantity.Length(r.Edge)}
	}
	for _, d := range nearest(h, holes) {
		if r.How == AsItComes {
			break
		}
		c.Pitches = append(c.Pitches, quantity.Length(d))
	}
	return measure.Solve(c, nil, decision)
}

// Least is the least edge distance or pitch, in diameters.
func Least(what string) float64 {
	if what == "edge" {
		return rivet.MinEdge
	}
	return rivet.MinPitch
}

// Crowded says what an oversize would do to the edge distance and the pitch of a hole,
// "" where both stay wide enough: 2 diameters to an edge, 3 to the next hole.
func (a Advice) Crowded() string {
	for _, q := range a.Edges.Quantities {
		what, over := strings.CutSuffix(q.Name, "_oversize")
		if least := Least(what); over && q.Value < least-1e-9 {
			return fmt.Sprintf("drilled oversize, the %s would be %s D, less than %s D", map[string]string{"edge": "edge distance", "pitch": "pitch"}[what], quantity.Fixed(q.Value, 1), quantity.Fixed(least, 0))
		}
	}
	return ""
}

// flush judges the layers under a flush head: gaps and knife edges.
func (r Row) flush(a Advice) *measure.Result {
	c := &rivet.FlushStack{HeadDepth: quantity.Length(headDepth * a.Diameter)}
	if a.Head != "flush" { // a head that stands proud lies on the first layer as a plain one would, and needs no depth
		c.HeadDepth = 1e-6
		c.Layers = append(c.Layers, rivet.Layer{Thickness: 1, Hole: "plain"})
	}
	for _, l := range a.Layers {
		c.Layers = append(c.Layers, rivet.Layer{Thickness: l.Thickness, Hole: l.Hole})
	}
	result := measure.Solve(c, nil, decision)
	return &result
}

// Longer tells whether the plans call out a rivet that is longer than the layers ask for, by
// a sixteenth of an inch or more, or a blind one whose grip begins above them: a part that
// is not on the list, or comes later, may go there.
func (r Row) Longer(a Advice) bool {
	if a.CallOut == "" || len(a.Layers) == 0 || !r.Fastener.Rivet() {
		return false
	}
	if r.Fastener.Sort == "blind" {
		grip, ok := a.Rivet.Quantity("grip")
		i := slices.IndexFunc(r.Fastener.Grips, func(g Grip) bool { return g.Code == a.CallOut })
		return ok && i >= 0 && grip.Value < float64(r.Fastener.Grips[i].Min)
	}
	called, err := quantity.ParseLength(a.CallOut, quantity.Millimetre)
	needed, ok := a.Rivet.Quantity("needed")
	return err == nil && ok && float64(called)-needed.Value >= 25.4/16-1e-9
}

// CalledOut is what the plans call out for a hole.
func (r Row) CalledOut(number int) string {
	for _, c := range r.CallOuts {
		if c.at(number) {
			return c.Text
		}
	}
	return ""
}

// HeadAt is how the head at a hole lies, domed or flush: as its call-out says, else as the row's do.
func (r Row) HeadAt(number int) string {
	for _, c := range r.CallOuts {
		if c.at(number) && c.Head != "" {
			return c.Head
		}
	}
	return r.Fastener.Head
}

// Alike are pairs of call-outs of a row that a hand takes for one another: one
// character apart, or less than a size (a sixteenth of an inch) apart in length.
func Alike(callouts []string) [][2]string {
	var out [][2]string
	for i, a := range callouts {
		for _, b := range callouts[:i] {
			if a != b && alike(a, b) {
				out = append(out, [2]string{b, a})
			}
		}
	}
	return out
}

// CallOutTexts are the call-outs of a row, each once.
func (r Row) CallOutTexts() []string {
	var out []string
	seen := map[string]bool{"": true}
	for _, c := range r.CallOuts {
		if !seen[c.Text] {
			out = append(out, c.Text)
		}
		seen[c.Text] = true
	}
	return out
}

func alike(a, b string) bool {
	x, errA := quantity.ParseLength(a, quantity.Millimetre)
	y, errB := quantity.ParseLength(b, quantity.Millimetre)
	if errA == nil && errB == nil {
		d := math.Abs(float64(x - y))
		return d > 0 && d <= 25.4/16+1e-9
	}
	return oneApart([]rune(strings.ToLower(a)), []rune(strings.ToLower(b)))
}

// oneApart tells whether one character changed, left out or put in makes one of the
// other.
func oneApart(a, b []rune) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	if len(b)-len(a) > 1 {
		return false
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	if len(a) == len(b) {
		return i < len(a) && string(a[i+1:]) == string(b[i+1:])
	}
	return string(a[i:]) == string(b[i+1:])
}

// Says is the plain reason of the verdict, "" where all is well.
func (a Advice) Says() string {
	results := []measure.Result{a.Rivet}
	if a.Flush != nil {
		results = append(results, *a.Flush)
	}
	var says []string
	for _, r := range results {
		for _, f := range r.Findings {
			says = append(says, f.Text)
		}
	}
	grip, _ := a.Rivet.Quantity("grip")
	switch {
	case a.Unchecked:
		says = append(says, "length not checked: what lies on one another there is not known")
	case len(says) == 0 && a.Rivet.Verdict == measure.Stop:
		says = append(says, fmt.Sprintf("%s does not hold a grip of %s", a.CallOut, say.Length(grip.Value).Fine(2)))
	case len(says) == 0 && a.Length == "":
		says = append(says, fmt.Sprintf("nothing on hand holds a grip of %s", say.Length(grip.Value).Fine(2)))
	}
	return strings.Join(says, "; ")
}

// HeadDepth is how deep a flush head of that diameter sits, in mm.
func HeadDepth(diameter float64) float64 { return headDepth * diameter }
