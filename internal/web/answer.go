package web

import (
	"fmt"
	"html/template"
	"strings"
	"unicode"
	"unicode/utf8"

	"orpine/internal/app"
	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/quantity"
	"orpine/internal/web/drawing"
)

// answer is the band below the drawing: what the part is, how sure that is, and
// the one thing to do next.
type answer struct {
	Verdict    string // go, stop, unsure, notyet or measured: the shape
	Word, Why  string
	Value, U   string // of the headline
	Name       string
	Note       string // "0.34° as read; 0.31° of it is the rails"
	Scale      template.HTML
	Next, Then string // the next action, and what it brings
	Href       string
	Others     []string // the other quantities
	Moves      []string
	Findings   []string
	Working    []measure.Line
	Rule       string // the arithmetic of the verdict
	Weak       string // the reading that contributes most to the ±
	WeakHref   string
	Remedy     string // what would halve the ±
	Lacks      string // what these readings cannot show, and the one that would help
	LacksHref  string
}

// answerOf reads a check for its band.
func answerOf(setup app.Setup, c app.Check, holds []app.Hold) answer {
	a := answer{Verdict: "notyet", Word: "Not yet", Why: toGo(c)}
	if c.Result != nil {
		a.figures(setup, c)
	}
	switch next, more := c.Next(); {
	case more:
		a.Next, a.Then, a.Href = sentence(next.Say()), next.How, href(setup, c, next.Number)
	case len(c.Problems) > 0:
		a.Why, a.Next, a.Then = "the readings give no answer", "Look at the readings again", c.Problems[0].Message
	default:
		a.judged(setup, c, holds)
	}
	return a
}

// toGo says how many readings are lacking.
func toGo(c app.Check) string {
	n := c.Wanted - c.Taken
	says := fmt.Sprintf("%d readings to go", n)
	if n == 1 {
		says = "one reading to go"
	}
	if c.Stale > 0 {
		says += fmt.Sprintf("; stale since: %s", c.Disturbed)
	}
	return says
}

// figures fills in the headline, the other quantities and the arithmetic.
func (a *answer) figures(setup app.Setup, c app.Check) {
	q, ok := c.Headline()
	if !ok {
		return
	}
	decimals, unit := app.Decimals(q.Dimension)
	if a.Name = headline(c.Kind.Name, q); q.Unseen {
		a.Value = "not seen"
		return
	}
	a.Value, a.U = quantity.Signed(q.Value, decimals), quantity.Fixed(app.Coverage*q.U, decimals)+unit
	switch {
	case q.U == 0: // a figure that is not measured here
		a.Value, a.U = a.Value+unit, ""
	case unit == "°":
		a.Value += unit
	}
	scale := drawing.Scale{Value: q.Value, U: app.Coverage * q.U, Decimals: decimals, Unit: unit}
	if q.Limit != nil {
		scale.Low, scale.High = q.Limit.Low, q.Limit.High
		a.Rule = rule(q, decimals, unit)
	}
	if q.U > 0 || q.Limit != nil {
		a.Scale = scale.Draw()
	}
	if t, ok := c.Solved.(*measure.Twist); ok {
		if whole, support, held := t.AsRead(); held {
			a.Note = fmt.Sprintf("%s° as read; %s° of it is the rails'", quantity.Fixed(whole, 2), quantity.Fixed(support, 2))
		}
	}
	if c.Kind.Name == "shim-stack" {
		a.Note = sayStack(c.Result.Stack)
	}
	if says := sayReached(network(c)); says != "" {
		a.Note = says
	}
	if before, change, ok := setup.Changed(c); ok {
		a.Note = fmt.Sprintf("before: %s; changed by %s%s ± %s%s", app.SayQuantity(before), quantity.Signed(change.Value, decimals), unit, quantity.Fixed(app.Coverage*change.U, decimals), unit)
	}
	if weak, ok := c.Weak(); ok {
		a.Weak, a.Remedy = weak.Says, weak.Remedy
		if weak.Spot.Number > 0 {
			a.WeakHref = href(setup, c, weak.Spot.Number)
		}
	}
	a.lacks(setup, c)
	for _, other := range c.Result.Quantities {
		if other.Name != q.Name || other.At != q.At {
			a.Others = append(a.Others, app.SayQuantity(other))
		}
	}
	for _, m := range c.Result.Moves {
		if _, join := c.Joined(); join && m.Amount < 0.05 {
			continue // less than a builder can move it by
		}
		a.Moves = append(a.Moves, sayMove(c.Kind.Name, m))
	}
	for _, f := range c.Result.Findings {
		a.Findings = append(a.Findings, f.Text)
	}
	a.Working = c.Result.Working
}

// helps says what would help where readings cannot show something, by the code of
// the finding; the point is added on the check's own sheet.
var helps = map[string]string{
	"weak-geometry":                  "tapes from a point further away would",
	"assumes-centred":                "tapes from one more point on the centreline would",
	"three-points-cannot-show-twist": "a fourth support would",
	"layout-cannot-show-twist":       "a support off this diamond would",
	"spread-unknown":                 "prove it now",
	"measurements-disagree":          "take the five lengths again, diagonals first",
	"support-ignored":                "if it is held down, say so",
}

// lacks names the first thing that the readings cannot show, with what would help.
func (a *answer) lacks(setup app.Setup, c app.Check) {
	for _, f := range c.Result.Findings {
		help, ok := helps[f.Code]
		if !ok {
			continue
		}
		a.Lacks = sentence(f.Text) + ": " + help
		switch f.Code {
		case "spread-unknown":
			a.LacksHref = "/instruments"
			a.Lacks = sentence(f.Text)
		case "weak-geometry", "assumes-centred", "three-points-cannot-show-twist", "layout-cannot-show-twist":
			a.LacksHref = checkHref(setup, c) + "#point"
			a.Lacks = sentence(f.Text)
		}
		return
	}
}

// checkHref is the sheet on which the check itself is changed.
func checkHref(setup app.Setup, c app.Check) string { return "/setups/" + setup.ID + "/checks/" + c.ID }

// sayStack writes the pieces of a stack.
func sayStack(stack []float64) string {
	var pieces []string
	for _, t := range stack {
		pieces = append(pieces, strings.TrimSuffix(quantity.Length(t).Text(quantity.Millimetre), " mm"))
	}
	if pieces == nil {
		return "no shim in stock comes nearer than none"
	}
	return strings.Join(pieces, " + ") + " mm"
}

// headlines says what the large figure is, by its name; others are said as they
// are called.
var headlines = map[string]string{
	"twist": "twist of the part, tip over root", "roll": "roll, right side low", "bow": "bow, a hump is plus", "zero": "what it shows on a level surface",
	"part_bow": "bow of the part itself", "part_twist": "twist of the part itself", "bench_bow": "bow of the bench", "bench_twist": "twist of the bench",
	"twist_error": "twist, off the design", "kink": "furthest from the even twist", "incidence_error": "incidence, off the design", "incidence_difference": "incidence, right less left",
	"decalage": "forward surface over aft surface", "skew": "skew, right tip aft", "tip_offset": "right tip aft", "rack_offset": "far side to the right", "worst": "furthest from the line",
	"difference": "right less left", "lean": "lean, top to the right", "down_error": "thrust line down, off the design", "right_error": "thrust line right, off the design",
	"yaw": "yaw, right tip aft", "pitch": "pitch, leading edge up", "x": "aft of where it should be", "y": "right of where it should be", "z": "above where it should be",
	"coplanarity": "the pads out of one plane", "mismatch_up": "up, right less left", "mismatch_down": "down, right less left", "length": "length", "error": "length, off the design",
	"total": "the nearest stack", "left_over": "left over", "rms_same": "left over when laid on it as the same hand", "rms_mirrored": "left over when laid on it as its mirror",
}

// headline names the quantity in words, and its point.
func headline(kind string, q measure.Quantity) string {
	says := headlines[q.Name]
	if kind == "bench" && q.Name == "twist" {
		says = "twist of the rails, far end over near end"
	}
	if says == "" {
		says = strings.ReplaceAll(q.Name, "_", " ")
	}
	if at, ok := q.At.(string); ok {
		says += " at " + at
	}
	return says
}

// judged fills in the verdict of a complete check and what to do about it.
func (a *answer) judged(setup app.Setup, c app.Check, holds []app.Hold) {
	q, _ := c.Headline()
	if _, join := c.Joined(); join {
		defer func() {
			if a.Verdict == "unsure" || a.Verdict == "measured" {
				a.joined(setup, c)
			}
		}()
	}
	if refused := c.Refused(); refused != "" {
		a.Verdict, a.Word, a.Why = "notyet", "Not yet", "a reading was not taken as it must be"
		a.Next, a.Then = "Take it back, and read again", refused
		if strings.HasPrefix(refused, "the datum") {
			a.Why, a.Next = "the reference is not at zero", "Shim the reference level"
		}
		return
	}
	if c.Result.Answer != "" {
		a.handed(c, holds)
		return
	}
	switch c.Result.Verdict {
	case measure.Go:
		a.Verdict, a.Word, a.Why = "go", "Go", "inside the limits, and surely"
		a.toHold(holds)
	case measure.Stop:
		a.Verdict, a.Word, a.Why = "stop", "Stop", "outside the limits, and surely"
		a.Next, a.Then = "Do not "+deedOf(holds), "Ask the kit maker or the inspector, or set it right and read again"
		if len(a.Moves) > 0 {
			a.Next, a.Then = sentence(a.Moves[0]), "then press Something moved and read again: nothing is assumed"
		}
		if n := len(a.Moves); n > 1 {
			a.Next, a.Then = fmt.Sprintf("Carry out the %d moves", n), sentence(strings.Join(a.Moves, "; "))+". Then press Something moved and read again."
		}
		if b, ok := c.Input.(*measure.Brackets); ok {
			a.Then = sayBrackets(c, b)
		}
		if _, ok := c.Input.(*measure.Twist); ok && c.Definition["held"] != true {
			a.Then = "but if the surface is held down to the rails, say so: their own twist is then taken off"
		}
		a.Then = strings.TrimSuffix(a.Then, ".") + ". Read it once more before anything is moved."
	case measure.Unsure:
		a.Verdict, a.Word, a.Why = "unsure", "Unsure", "the readings cannot decide"
		a.Next, a.Then = "Use a finer instrument", "more placings of this one cannot decide"
		if q.Placings > 0 {
			a.Next, a.Then = fmt.Sprintf("Place it %d times at each point", q.Placings), "then "+q.Name+" would be known well enough; or use a finer instrument"
		}
		switch {
		case q.Verdict != measure.Unsure: // the limits are not what is unsure
			a.Next, a.Then = "Look at what the readings lack", strings.Join(a.Findings, "; ")
		case q.Limit != nil && !q.Limit.Holds(q.Value):
			a.Next, a.Then = "Do not "+deedOf(holds)+" yet", "it looks outside the limit, but not surely: take the readings again"
		}
	default:
		a.Verdict, a.Word, a.Why = "measured", "Measured", "nothing here is limited"
		a.toHold(holds)
	}
	for _, other := range setup.Checks {
		if next, more := other.Next(); more && c.Result.Verdict <= measure.Go {
			a.Next, a.Then, a.Href = other.Name+": "+next.Say(), next.How, href(setup, other, next.Number)
			return
		}
	}
}

// sayBrackets says which bracket is out, by how much, and how much is allowed.
func sayBrackets(c app.Check, b *measure.Brackets) string {
	solved, ok := c.Solved.(*measure.Brackets)
	if !ok {
		return ""
	}
	higher, word := solved.Right.Mean()-solved.Left.Mean(), "higher"
	if b.Axis == "station" {
		word = "further aft"
	}
	side := "right"
	if higher < 0 {
		side, higher = "left", -higher
	}
	says := fmt.Sprintf("the %s bracket stands %s mm %s", side, quantity.Fixed(higher, 2), word)
	if allowed, ok := c.Result.Quantity("allowed"); ok {
		says += fmt.Sprintf("; %s mm would be allowed", quantity.Fixed(allowed.Value, 2))
	}
	return says + ". Shim or file it, then press Something moved and read again."
}

// handed fills in the verdict on a part's hand.
func (a *answer) handed(c app.Check, holds []app.Hold) {
	a.Why = c.Answer()
	switch c.Result.Verdict {
	case measure.Go:
		a.Verdict, a.Word = "go", "Go"
		a.toHold(holds)
	case measure.Stop:
		a.Verdict, a.Word, a.Next, a.Then = "stop", "Stop", "Do not "+deedOf(holds), "Set it aside and ask for the other hand; the label does not count"
	default:
		a.Verdict, a.Word, a.Next, a.Then = "unsure", "Unsure", "Measure a point off the line of the others", "these would fit either way"
	}
}

// deedOf is what the hold stands before, in a word: drill, rivet, bond.
func deedOf(holds []app.Hold) string {
	if len(holds) == 0 {
		return "go on"
	}
	word, _, _ := strings.Cut(holds[0].Step, " ")
	return word
}

// toHold leads to the hold that this setup is measured for.
func (a *answer) toHold(holds []app.Hold) {
	a.Next, a.Then = "Nothing more to read", ""
	for _, h := range holds {
		if h.Spent() && len(h.Unrepeated()) > 0 {
			a.Next, a.Then, a.Href = "Measure once more after the step", "so that the record shows what the metal kept", "/holds/"+h.ID
		}
		if !h.Spent() {
			a.Next, a.Href = "Go to the hold", "/holds/"+h.ID
			if h.Released() {
				a.Next, a.Then = "Record it when it is done", h.Name+": released by "+h.Current().By
				return
			}
			a.Then = h.Name + ": " + map[bool]string{true: "all that it asks for is shown", false: h.Judgement.Worst().What + ", " + h.Judgement.Worst().Why}[h.Judgement.Standing == hold.Met]
		}
	}
}

// rule writes the verdict's arithmetic with the numbers in it.
func rule(q measure.Quantity, decimals int, unit string) string {
	u := app.Coverage * q.U
	var parts []string
	f := func(v float64) string { return quantity.Signed(v, decimals+1) + unit }
	if q.Limit.Low != nil {
		parts = append(parts, fmt.Sprintf("%s + %s = %s ≤ value", f(*q.Limit.Low), quantity.Fixed(u, decimals+1)+unit, f(*q.Limit.Low+u)))
	}
	if q.Limit.High != nil {
		parts = append(parts, fmt.Sprintf("value ≤ %s = %s − %s", f(*q.Limit.High-u), f(*q.Limit.High), quantity.Fixed(u, decimals+1)+unit))
	}
	return fmt.Sprintf("U = 2 × u = 2 × %s. Go if %s; the value is %s.", quantity.Fixed(q.U, decimals+2)+unit, strings.Join(parts, " and "), f(q.Value))
}

// sayMove is SayMove for a kind: forward means washers under the pads of a mount only.
func sayMove(kind string, m measure.Move) string {
	if (kind == "pose" || kind == "join") && m.Direction == "forward" {
		return fmt.Sprintf("move %s forward %s mm", m.At, quantity.Fixed(m.Amount, 1))
	}
	return SayMove(m)
}

// SayMove writes a move as a builder would say it.
func SayMove(m measure.Move) string {
	at, amount := m.At, quantity.Fixed(m.Amount, 1)+" mm"
	if first, _ := utf8.DecodeRuneInString(at); unicode.IsLower(first) {
		at = "the " + at // a word, and not a mark such as L1
	}
	var says string
	switch m.Direction {
	case "up":
		says = fmt.Sprintf("raise %s %s", at, amount)
	case "down":
		says = fmt.Sprintf("lower %s %s", at, amount)
	case "forward": // only the pads of a mount and tips move forward; pads by washers
		says = fmt.Sprintf("washers under %s, %s", at, amount)
		if m.At == "right tip" {
			says = fmt.Sprintf("move %s forward %s", at, amount)
		}
	case "trim":
		says = fmt.Sprintf("trim %s by %s", at, amount)
	default:
		says = fmt.Sprintf("move %s %s %s", at, m.Direction, amount)
	}
	if !m.Stacked || len(m.Stack) == 0 {
		return says
	}
	var stack []string
	total := 0.0
	for _, t := range m.Stack {
		stack = append(stack, strings.TrimSuffix(quantity.Length(t).Text(quantity.Millimetre), " mm"))
		total += t
	}
	says += " (" + strings.Join(stack, " + ")
	if left := m.Amount - total; left > 0.05 || left < -0.05 {
		says += ", " + quantity.Signed(left, 1) + " left over"
	}
	return says + ")"
}

// sentence begins with a capital.
func sentence(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
