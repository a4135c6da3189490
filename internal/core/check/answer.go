package check

import (
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/say"
)

// Stand is a hold that a setup is measured for, as far as the next action needs it.
type Stand struct {
	ID, Name, Step string
	Spent          bool
	ReleasedBy     string // "" while it is not released
	Unrepeated     bool   // its step is done, and what it was shown is not measured once more
	Met            bool   // all that it asks for is shown
	Lacks          string // else the first thing that it lacks
}

// Around is what a check is answered among.
type Around struct {
	Others []Check // of its setup
	Holds  []Stand
	Change *Change // of a check after the step
}

// Change is by how much the headline differs from that of the check before the step.
type Change struct{ Before, By measure.Quantity }

// Goal is where the next action is done. Its zero value is nowhere in particular.
type Goal struct {
	Check string // id
	Spot  int    // of the check; 0: the check's own sheet when Point is set
	Point bool   // a point is added to the check
	Add   *measure.NextReading
	Hold  string // id
	Tools bool   // the instruments
}

// Answer is what a check says, how sure that is, and the one thing to do next.
type Answer struct {
	Verdict    string // go, stop, unsure, notyet or measured
	Word, Why  string
	Value, U   string // of the headline
	Name       string
	Note       string   // "0.34° as read; 0.31° of it is the rails"
	Side       string   // which side it is, in words: "left tip 11.0 mm high"
	Rests      string   // what a go rests on
	TakenIn    []string // what the readings were corrected for
	Points     string   // what the doubt of points costs, and what would lessen it
	PointsGoal Goal
	Headline   measure.Quantity
	Shown      bool   // there is a headline with a value
	Next, Then string // the next action, and what it brings
	Goal       Goal
	Others     []string // the other quantities
	Moves      []string
	Findings   []string
	Working    []measure.Line
	Rule       string // the arithmetic of the verdict
	Weak       Weak   // what the ± is made of, and what would lessen it
	Lacks      string // what these readings cannot show, and what would help
	LacksGoal  Goal
}

// Answered reads a check.
func Answered(c Check, around Around) Answer {
	a := Answer{Verdict: "notyet", Word: "Not yet", Why: toGo(c)}
	if c.Result != nil {
		a.figures(c, around)
	}
	switch next, more := c.Next(); {
	case more:
		a.Next, a.Then, a.Goal = say.Sentence(next.Say()), next.How, Goal{Check: c.ID, Spot: next.Number}
		if c.Prospect != "" {
			a.Lacks, a.LacksGoal = say.Sentence(c.Prospect), Goal{Tools: true}
		}
	case len(c.Problems) > 0:
		a.Why, a.Next, a.Then = "the readings give no answer", "Look at the readings again", c.Problems[0]
	case c.Result == nil:
		a.Why, a.Next = "the readings give no answer", "Look at the readings again"
	default:
		a.judged(c, around)
		if _, join := c.Joined(); join && (a.Verdict == "unsure" || a.Verdict == "measured") {
			a.joined(c)
		} else if join {
			a.points(c)
		}
	}
	return a
}

// Unkept reads a check with a reading that is typed and not kept: its figures, and no verdict.
func Unkept(c Check) Answer {
	a := Answer{Verdict: "notyet"}
	a.figures(c, Around{})
	a.Word, a.Why, a.Next, a.Then = "Not kept", "as it stands in the field", "Enter keeps it", ""
	a.Weak, a.Lacks, a.Moves, a.Findings = Weak{}, "", nil, nil
	return a
}

// toGo says how many readings are lacking.
func toGo(c Check) string {
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
func (a *Answer) figures(c Check, around Around) {
	q, ok := c.Headline()
	if !ok {
		return
	}
	a.Headline = q
	if a.Name = SayHeadline(c.Kind, q); c.Unlaid {
		a.Name = "twist of part and bench together"
	}
	if q.Unseen {
		a.Value = "not seen"
		return
	}
	a.Shown = true
	value := Figure(q.Dimension, q.Value).Signed()
	a.U = Figure(q.Dimension, Coverage*q.U).Up().String()
	switch {
	case q.U == 0: // a figure that is not measured here
		a.U = ""
	case q.Dimension != measure.Angle:
		value = value.Known(Coverage * q.U).Bare()
	}
	a.Value = value.String()
	if q.Limit != nil {
		a.Rule = rule(q)
	}
	a.Note, a.Side = note(c, around), c.Side()
	a.Weak, _ = c.Weak()
	a.lacks(c)
	for _, other := range c.Result.Quantities {
		if other.Name != q.Name || other.At != q.At {
			a.Others = append(a.Others, SayQuantity(other))
		}
	}
	for _, m := range c.Result.Moves {
		if _, join := c.Joined(); join && m.Amount < 0.05 {
			continue // less than a builder can move it by
		}
		a.Moves = append(a.Moves, c.sayMove(m))
	}
	for _, f := range c.Result.Findings {
		if f.Code == measure.CannotTell && q.MovedPlacings() > 0 {
			continue // placings on other spots can
		}
		a.Findings = append(a.Findings, f.Text)
	}
	a.Working = slices.Concat(c.Corrected, c.Result.Working)
	for _, l := range c.Corrected {
		if !slices.Contains(a.TakenIn, l.How) {
			a.TakenIn = append(a.TakenIn, l.How)
		}
	}
}

// note is what the large figure is made of.
func note(c Check, around Around) (says say.Text) {
	if t, ok := c.Solved.(*measure.Twist); ok {
		if whole, support, held := t.AsRead(); held {
			says = fmt.Sprintf("%s as read; %s of it is the rails'", say.Angle(whole), say.Angle(support))
		}
	}
	if _, shims := c.Solved.(*measure.ShimStack); shims {
		says = SayStack(c.Result.Stack)
	}
	if reached := sayReached(c.Network()); reached != "" {
		says = reached
	}
	if ch := around.Change; ch != nil {
		says = fmt.Sprintf("before: %s; changed by %s", SayQuantity(ch.Before), Figure(ch.By.Dimension, ch.By.Value).Signed().Within(Coverage*ch.By.U))
	}
	return says
}

// helps says what would help where readings cannot show something, by the code of
// the finding, and where; the text of a finding says itself what a point would do.
var helps = map[string]struct {
	next, says string // the next action where the verdict hangs on it; what to add to its text
	goal       Goal
}{
	"weak-geometry":                  {"", "", Goal{Point: true}},
	"assumes-centred":                {"Take a pair of tapes from a second point", "", Goal{Point: true}},
	"three-points-cannot-show-twist": {"", "", Goal{Point: true}},
	"layout-cannot-show-twist":       {"", "", Goal{Point: true}},
	"spread-unknown":                 {"Find the spread of the instrument", "", Goal{Tools: true}},
	"resolution-unknown":             {"Say the step of the instrument", "", Goal{Tools: true}},
	"offset-unknown":                 {"Prove the instrument", "", Goal{Tools: true}},
	"scatter-exceeds-spread":         {"Find the spread of the instrument anew", "", Goal{Tools: true}},
	"measurements-disagree":          {"Take the readings again", "", Goal{}},
	"marks-or-pin":                   {"Look at the marks and points", "", Goal{}},
	"first-and-blind-differ":         {"Read again in place of the first readings", "", Goal{}},
	"kinked":                         {"Read the station that stands out again", "", Goal{}},
	"nobody-stated":                  {"Put in what the plans say", "", Goal{Point: true}},
	"did-not-converge":               {"Take the readings again", "", Goal{}},
	"support-ignored":                {"", "if it is held down, say so", Goal{}},
}

// lacks names the first thing that the readings cannot show, with what would help.
func (a *Answer) lacks(c Check) {
	for _, f := range c.Result.Findings {
		help, ok := helps[f.Code]
		if !ok {
			continue
		}
		a.Lacks, a.LacksGoal = say.Sentence(f.Text), help.goal
		if help.says != "" {
			a.Lacks += ": " + help.says
		}
		if help.goal.Point {
			a.LacksGoal.Check = c.ID
		}
		return
	}
}

// judged fills in the verdict of a complete check and what to do about it.
func (a *Answer) judged(c Check, around Around) {
	if refused := c.Refusal(); refused != nil {
		a.Verdict, a.Word, a.Why = "notyet", "Not yet", "a reading was not taken as it must be"
		a.Next, a.Then = "Take it back, and read again", refused.Says
		switch {
		case refused.Tilted:
			a.Why, a.Next = "the reference is not at zero", "Shim the reference level"
		case refused.Unlaid:
			a.Why, a.Next = "part and bench together", "Say how it lies"
		}
		return
	}
	if c.Result.Answer != "" {
		a.handed(c, around.Holds)
		return
	}
	switch c.Result.Verdict {
	case measure.Go:
		a.Verdict, a.Word, a.Why = "go", "Go", "inside the limits"
		rests, sure := c.rests()
		if a.Rests = rests; sure {
			a.Why += ", and surely"
		}
		a.toHold(around.Holds)
		if a.Lacks == "" && c.once() {
			a.Lacks, a.LacksGoal = "Each place was read once. Read each again without looking at the first: a first reading leans to what one expects", Goal{Check: c.ID, Spot: 1}
		}
	case measure.Stop:
		a.stop(c, around.Holds)
	case measure.Unsure:
		a.unsure(c, around.Holds)
	default:
		a.Verdict, a.Word, a.Why = "measured", "Measured", "nothing here is limited"
		a.toHold(around.Holds)
	}
	if c.Result.Verdict > measure.Go {
		return
	}
	for _, other := range around.Others {
		if next, more := other.Next(); more {
			a.Next, a.Then, a.Goal = other.Name+": "+next.Say(), next.How, Goal{Check: other.ID, Spot: next.Number}
			return
		}
	}
}

func (a *Answer) stop(c Check, holds []Stand) {
	a.Verdict, a.Word, a.Why = "stop", "Stop", "outside the limits, and surely"
	a.Next, a.Then = "Do not "+stepOf(holds), "Ask the kit maker or the inspector, or set it right and read again"
	if len(a.Moves) > 0 {
		a.Next, a.Then = say.Sentence(a.Moves[0]), "then press Something moved and read again: nothing is assumed"
	}
	if n := len(a.Moves); n > 1 {
		a.Next, a.Then = fmt.Sprintf("Carry out the %d moves", n), say.Sentence(strings.Join(a.Moves, "; "))+". Then press Something moved and read again."
	}
	if b, ok := c.Input.(*measure.Brackets); ok {
		a.Then = sayBrackets(c, b)
	}
	if d, ok := c.Solved.(*measure.Decalage); ok {
		a.shim(d)
	}
	if _, ok := c.Input.(*measure.Twist); ok && !c.Held {
		a.Then = "but if the surface is held down to the rails, say so: their own twist is then taken off"
	}
	a.Then = strings.TrimSuffix(a.Then, ".") + ". Read it once more before anything is moved."
}

func (a *Answer) unsure(c Check, holds []Stand) {
	q := a.Headline
	a.Verdict, a.Word, a.Why = "unsure", "Unsure", "the readings cannot decide"
	a.Next, a.Then = "Use a finer instrument", "more placings of this one cannot decide"
	if c.Finer != "" {
		a.Next, a.Then = say.Sentence(c.Finer), "more placings of what was used cannot decide"
	}
	placings := q.MovedPlacings()
	if q.Placings > 0 && (placings == 0 || q.Placings < placings) {
		placings = q.Placings
	}
	if placings > 0 {
		a.Next, a.Then = fmt.Sprintf("Place it %d times at each point", placings), "lifted off and set a little beside the last each time, for one spot repeats its own error; "+a.Name+" would then be known well enough"
		a.Goal = Goal{Check: c.ID, Spot: c.fewest()}
	}
	switch c.Input.(type) {
	case *measure.Twist, *measure.Straightness, *measure.Bench:
		if placings > 0 {
			a.Then += "; points between them tell more"
		}
	}
	unstated := slices.ContainsFunc(c.Result.Findings, func(f measure.Finding) bool { return f.Code == "nobody-stated" })
	switch {
	case unstated && q.Limit != nil && q.Limit.Holds(q.Value) && placings == 0:
		a.Why, a.Next, a.Then = "something that it rests on is not known", helps["nobody-stated"].next, c.Result.Findings[0].Text
		a.Goal = Goal{Check: c.ID, Point: true}
	case q.Verdict != measure.Unsure: // the limits are not what is unsure
		a.Why = "something that it rests on is not known"
		a.Next, a.Then = "Look at what the readings lack", strings.Join(a.Findings, "; ")
		for _, f := range c.Result.Findings {
			if help, ok := helps[f.Code]; ok && help.next != "" {
				a.Next, a.Then, a.Goal = help.next, f.Text, help.goal
				if help.goal.Point {
					a.Goal.Check = c.ID
				}
				break
			}
		}
	case q.Limit != nil && !q.Limit.Holds(q.Value):
		a.Next, a.Then = "Do not "+stepOf(holds)+" yet", "it looks outside the limit, but not surely: take the readings again"
	}
}

// shim says what to shim at the forward surface to bring the decalage inside its limit, by
// what a hold asks for.
func (a *Answer) shim(d *measure.Decalage) {
	q := a.Headline
	margin := hold.Guard * q.U
	off, way := 0.0, "lower"
	switch {
	case q.Limit == nil:
	case q.Limit.Low != nil && q.Value < *q.Limit.Low:
		off = *q.Limit.Low + margin - q.Value
	case q.Limit.High != nil && q.Value > *q.Limit.High:
		off, way = q.Value-*q.Limit.High+margin, "raise"
	}
	if mm, ok := d.Shim(off); ok && off > 0 {
		a.Next = fmt.Sprintf("Shim the forward surface: %s its rear attachment %s, or the other way at the front", way, say.Length(mm).Up())
		a.Then = "the designer's figures govern; then press Something moved and read again"
	}
}

// sayBrackets says which bracket is out, by how much, and how much is allowed.
func sayBrackets(c Check, b *measure.Brackets) string {
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
	says := fmt.Sprintf("the %s bracket stands %s %s", side, say.Length(higher).Fine(2), word)
	if allowed, ok := c.Result.Quantity("allowed"); ok {
		says += fmt.Sprintf("; %s would be allowed", say.Length(allowed.Value).Fine(2))
	}
	return says + ". Shim or file it, then press Something moved and read again."
}

// handed fills in the verdict on a part's hand.
func (a *Answer) handed(c Check, holds []Stand) {
	a.Why = c.Answer()
	switch c.Result.Verdict {
	case measure.Go:
		a.Verdict, a.Word = "go", "Go"
		a.toHold(holds)
	case measure.Stop:
		a.Verdict, a.Word, a.Next, a.Then = "stop", "Stop", "Do not "+stepOf(holds), "Set it aside and ask for the other hand; the label does not count"
	default:
		a.Verdict, a.Word, a.Next, a.Then = "unsure", "Unsure", "Measure a point off the line of the others", "these would fit either way"
	}
}

// stepOf is what the hold stands before, in a word: drill, rivet, bond.
func stepOf(holds []Stand) string {
	if len(holds) == 0 {
		return "go on"
	}
	word, _, _ := strings.Cut(holds[0].Step, " ")
	return word
}

// toHold leads to the hold that this setup is measured for.
func (a *Answer) toHold(holds []Stand) {
	a.Next, a.Then = "Nothing more to read", ""
	for _, h := range holds {
		switch {
		case h.Spent && h.Unrepeated:
			a.Next, a.Then, a.Goal = "Measure once more after the step", "so that the record shows what the metal kept", Goal{Hold: h.ID}
		case h.Spent:
		case h.ReleasedBy != "":
			a.Next, a.Then, a.Goal = "Record it when it is done", h.Name+": released by "+h.ReleasedBy, Goal{Hold: h.ID}
			return
		default:
			a.Next, a.Then, a.Goal = "Go to the hold", h.Name+": "+h.Lacks, Goal{Hold: h.ID}
			if h.Met {
				a.Then = h.Name + ": all that it asks for is shown"
			}
		}
	}
}

// rule writes the verdict's arithmetic with the numbers in it.
func rule(q measure.Quantity) say.Text {
	u := Coverage * q.U
	var parts []string
	decimals := Decimals(q.Dimension)
	f := func(v float64) say.Figure { return Figure(q.Dimension, v).Fine(decimals + 1).Signed() }
	plain := func(v float64) say.Figure { return Figure(q.Dimension, v).Fine(decimals + 1) }
	if q.Limit.Low != nil {
		parts = append(parts, fmt.Sprintf("%s + %s = %s ≤ value", f(*q.Limit.Low), plain(u), f(*q.Limit.Low+u)))
	}
	if q.Limit.High != nil {
		parts = append(parts, fmt.Sprintf("value ≤ %s = %s − %s", f(*q.Limit.High-u), f(*q.Limit.High), plain(u)))
	}
	return fmt.Sprintf("U = 2 × u = 2 × %s. Go if %s; the value is %s.", Figure(q.Dimension, q.U).Fine(decimals+2), strings.Join(parts, " and "), f(q.Value))
}
