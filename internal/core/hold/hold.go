// Package hold judges whether a step that cannot be undone may be taken: what
// must be shown first, what is missing, and who may release it all the same.
//
// The program never blesses a part outside its limits by itself: a stop is
// released only with the answer of someone with authority, and an unsure only
// with a written reason.
package hold

import (
	"cmp"
	"crypto/sha256"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/measure"
	"orpine/internal/core/say"
)

// Step is an irreversible step.
type Step string

// Steps are the irreversible steps.
var Steps = []Step{"trim", "drill to size", "ream", "rivet", "bond", "close", "cover"}

// Guard is how many standard uncertainties a check must lie inside its limits by
// before a hold is met without a word. A verdict of go asks for two; of many builds,
// each measured until it is go, that releases one in a thousand that is outside
// (docs/proof.md).
const Guard = 2.5

// Need is one thing that must be shown before a hold is released.
type Need string

// The needs. The first four are about a check, the others about what Of names.
const (
	Surveyed Need = "surveyed" // the check's readings are complete and not stale
	Tested   Need = "tested"   // the instruments of the check are tested today
	Shown    Need = "shown"    // the check's verdict is go
	Again    Need = "again"    // the check is measured once more, after the step before this one, and go

	Handed   Need = "handed"   // the hand of the part Of is shown by geometry or by two people
	Marked   Need = "marked"   // the holes of the row Of that stay open are marked
	Prepared Need = "prepared" // the row Of ("": the work) is taken apart, deburred, primed, refitted; lengths chosen
	Inside   Need = "inside"   // nothing is left undone or left behind in the bay Of
	Seconded Need = "seconded" // a second person looked, or read it by another method
	Before   Need = "before"   // the step of the hold Of is done

	// Less is what a hold asked for until somebody took it away: What says it, by whom and why,
	// and Was how it stood then.
	Less Need = "less"
)

// Requirement is a need and what it is about.
type Requirement struct {
	Need  Need   `json:"need"`
	Check string `json:"check,omitempty"` // id
	Of    string `json:"of,omitempty"`    // id of a part, row, bay or hold
	What  string `json:"what,omitempty"`  // of a part that is on no list: which, and what the eye can check
	Was   string `json:"was,omitempty"`   // of less: the standing of what was taken away
}

// Event is what a step does to the setup that it is taken in; closing and covering
// do nothing to what is measured.
func (s Step) Event() (e measure.Event, ok bool) {
	switch s {
	case "trim", "drill to size", "ream":
		return measure.Drilled, true
	case "rivet", "bond":
		return measure.Riveted, true
	}
	return "", false
}

// Drills tells whether the step brings holes to their size.
func (s Step) Drills() bool { return s == "drill to size" || s == "ream" }

// Closes tells whether what lies inside cannot be reached after the step.
func (s Step) Closes() bool { return s == "close" || s == "cover" }

// CheckState is how far a check in the present setup is.
type CheckState struct {
	Name        string
	Wanted      int // readings that make it complete
	Taken       int // that count: neither superseded nor stale
	Stale       int // that an event has disturbed, and not taken again
	Disturbed   measure.Event
	Verdict     measure.Verdict // of the readings that count
	Answer      string          // "twist +0.03° ± 0.06°"
	Instruments []InstrumentState
	Near        bool   // go, but nearer to a limit than a hold takes: see Guard
	Refused     string // why a reading was taken in a condition that the check does not accept
	Wants       string // the quantity that it wants a limit of, where it has none
	Usual       string `json:",omitempty"` // what of it rests on what is usual of instruments that are not proven: "spirit level"
	UsualLimits bool   `json:",omitempty"` // its limits are the usual ones, and not the plans'
	Late        string // which level was read too long after its test; "" for none
	Was         string // what it said until the program was brought up to date, where it says less now

	Value     float64  // of the headline, in its unit
	U         float64  // its standard uncertainty
	Low, High *float64 `json:",omitempty"` // its limit
	OneSided  bool     // one end of that limit only was stated
	CameBy    []string `json:",omitempty"` // what a go came by: superseded readings that said stop, a limit widened
	Doubtful  bool     // and it is no go by itself because of that
	Zeroed    string   // which level was found to have moved since its readings; "" for none
	Revised   int64    // the entry that changed it last
	Setup     string   // id
	Placing   string   // what its setup is called
	Kind      string   // of the check
	TrueBench bool     // it takes the bench that it lies on as true
	AfterOf   string   // id of the check that it repeats after a step
}

// InstrumentState is when an instrument of a check proved its zero, as it counts for the readings:
// the test before them, or the one that closed them. Time that passes since changes nothing.
type InstrumentState struct {
	ID     string
	Name   string
	Tested time.Time     // zero: never
	Angle  bool          // it is proven by an end-for-end test; else by a known length
	Days   int           // a test is good for so many days; 0: TestLasts for angles, for ever for lengths
	Gap    time.Duration // between the test and the reading that is furthest from it
	Usual  bool          // what is usual of its type bounds its constant error until it is proven
	Asked  bool          // the hold takes proven instruments alone
}

// TestLasts is how long an end-for-end test is good for, where the instrument does not say:
// midnight in the middle of the work ends nothing.
const TestLasts = 12 * time.Hour

// Standing is what one line of evidence amounts to, worst last.
type Standing int

// The standings of a line and of the whole.
const (
	Met     Standing = iota // release with a name
	Unsure                  // release with a written reason
	Stop                    // release with a disposition
	Missing                 // refused
)

// String names the standing.
func (s Standing) String() string { return [...]string{"met", "unsure", "stop", "missing"}[s] }

// Line is one line of evidence with its live state.
type Line struct {
	Key      string   `json:"key,omitempty"`   // the same for the same line, whatever it says
	Value    float64  `json:"value,omitempty"` // of a stop: how far out, with its u
	U        float64  `json:"u,omitempty"`
	Low      *float64 `json:"low,omitempty"` // and the limit
	High     *float64 `json:"high,omitempty"`
	Next     bool     `json:"next,omitempty"` // it counts from the next signature on
	What     string   `json:"what"`
	Standing Standing `json:"standing"`
	Why      string   `json:"why"`
	Check    string   `json:"check,omitempty"` // id of the check where it is mended
	Tool     string   `json:"tool,omitempty"`  // name of the instrument to prove
	Need     Need     `json:"need,omitempty"`
	Of       string   `json:"of,omitempty"`      // id of the part, row, bay or hold where it is mended
	Look     bool     `json:"look,omitempty"`    // someone's look mends it
	Ticks    []string `json:"-"`                 // what is ticked for that
	Second   string   `json:"second,omitempty"`  // the second person, where one looked
	Usually  bool     `json:"usually,omitempty"` // it is judged by the usual limits, which a release says that it rests on
}

// Judgement is the state of all evidence.
type Judgement struct {
	Standing Standing
	Lines    []Line
}

// Evidence is how everything stands that a hold may ask for, by id.
type Evidence struct {
	Checks map[string]CheckState
	Again  map[string]CheckState // the checks after the step before, by the id of the check that they repeat
	Parts  map[string]PartState
	Rows   map[string]RowState
	Bays   map[string]*BayState
	Before map[string]StepState
	Second *Look // nil where nobody looked

	Seconds  map[string]*Look    // of several holds: who looked at each as the second person
	Works    map[string]RowState // of several holds: how far the work of each is made ready that has no row
	Beyond   map[string][]string // of several holds: what cannot be done any more once the step of each is taken
	Joints   map[string][]string // of several holds: ids of the setups that their joints were measured in
	Guards   map[string][]string // of several holds: ids of the rows that they guard
	Rests    map[string][]string // of several holds: ids of what else their lines rest on
	Shuts    bool                // some holes are out of reach after some step
	Measured bool                // what is measured alone is gathered: nothing else can have changed
	Noticed  bool                // there are notices, and parts, rivets or pots that they may mean
	Extra    map[string][]Line   // of several holds: lines that nobody asked for (a notice, a step passed by, a provisional answer)

	beyond []string // of the one that is judged
	joint  []string
	extra  []Line
}

// NewEvidence returns evidence that holds nothing yet.
func NewEvidence() *Evidence {
	return &Evidence{Checks: map[string]CheckState{}, Again: map[string]CheckState{}, Parts: map[string]PartState{}, Rows: map[string]RowState{},
		Bays: map[string]*BayState{}, Before: map[string]StepState{}, Seconds: map[string]*Look{}, Works: map[string]RowState{}, Beyond: map[string][]string{}, Joints: map[string][]string{}, Guards: map[string][]string{}, Rests: map[string][]string{}, Extra: map[string][]Line{}}
}

// Of is the evidence as one of several holds sees it.
func (e Evidence) Of(hold string) Evidence {
	e.Second, e.beyond, e.joint, e.extra = e.Seconds[hold], e.Beyond[hold], e.Joints[hold], e.Extra[hold]
	if work, ok := e.Works[hold]; ok {
		e.Rows = maps.Clone(e.Rows)
		e.Rows[""] = work
	}
	return e
}

// Asks is what a hold requires, with the survey of the bench shown to be inside its limits where
// a check that the hold rests on takes the bench as true.
func Asks(required []Requirement, e Evidence) []Requirement {
	out, found, wanted := slices.Clone(required), false, false
	for _, r := range required {
		_, c := e.last(r.Check)
		if !c.TrueBench {
			continue
		}
		wanted = true
		for _, id := range slices.Sorted(maps.Keys(e.Checks)) {
			if bench := e.Checks[id]; !measure.Surveys(bench.Kind) || bench.Setup != c.Setup {
				continue
			}
			found = true
			out = slices.DeleteFunc(out, func(r Requirement) bool { return r.Check == id && r.Need == Surveyed })
			if shown := (Requirement{Need: Shown, Check: id}); !slices.Contains(out, shown) {
				out = slices.Insert(out, 0, shown)
			}
		}
	}
	if wanted && !found {
		out = append(out, Requirement{Need: Shown, Check: "the survey of the bench"})
	}
	return out
}

// Has tells whether a line is of a standing.
func (j Judgement) Has(s Standing) bool {
	return slices.ContainsFunc(j.Lines, func(l Line) bool { return l.Standing == s })
}

// Worst is the first line of the worst standing: the plain reason why the hold
// stands as it does.
func (j Judgement) Worst() Line {
	for _, l := range j.Lines {
		if l.Standing == j.Standing {
			return l
		}
	}
	return Line{}
}

// Stopped is the first line that is outside its limits, whatever else is missing.
func (j Judgement) Stopped() (l Line, ok bool) {
	i := slices.IndexFunc(j.Lines, func(l Line) bool { return l.Standing == Stop })
	if i < 0 {
		return l, false
	}
	return j.Lines[i], true
}

// Telling is what to say of the hold in a line: what is outside its limits before what is
// still missing.
func (j Judgement) Telling() Line {
	if l, ok := j.Stopped(); ok {
		return l
	}
	return j.Worst()
}

// Digest is the evidence as it stands, of each line its key, its standing and the sum of its values, so
// that a release can say on which evidence it was asked for, in whatever unit that was read.
func (j Judgement) Digest() []string {
	out := make([]string, len(j.Lines))
	for i, l := range j.Lines {
		out[i] = l.digest()
	}
	return out
}

func (l Line) digest() string {
	words, figures := say.Split(l.What + ": " + l.Why)
	sum := sha256.Sum256([]byte(words))
	out := fmt.Sprintf("%s: %s %x", l.digestKey(), l.Standing, sum[:6])
	for _, f := range figures {
		out += " " + f.Compared()
	}
	return out
}

func (l Line) digestKey() string { return strings.Join(strings.Fields(cmp.Or(l.Key, l.What)), " ") }

// Was says how a line stood in an earlier digest; ok is false where it was not in it, or as it is.
func (l Line) Was(digest []string) (says say.Text, ok bool) {
	for _, d := range digest {
		rest, same := strings.CutPrefix(d, l.digestKey()+": ")
		if !same || d == l.digest() {
			continue
		}
		fields := strings.Fields(rest)
		for i, field := range fields {
			if f, is := say.OfCompared(field); is && i > 1 {
				says += f.String() + ", "
			}
		}
		return l.What + ": " + says + fields[0], len(fields) > 0
	}
	return "", false
}

// Since are the lines that are not among those of an earlier digest: what changed.
func (j Judgement) Since(digest []string) []Line {
	var out []Line
	for i, d := range j.Digest() {
		if !slices.Contains(digest, d) {
			out = append(out, j.Lines[i])
		}
	}
	return out
}

// NothingAsked is the key of the line of a hold that asks for nothing.
const NothingAsked = "nothing"

// Judge compares what is required with how things stand. It knows no clock: what stood when it was
// read stands.
func Judge(required []Requirement, e Evidence) Judgement {
	var j Judgement
	used := map[string]bool{}
	for _, r := range required {
		if asks, ok := others[r.Need]; ok {
			for i, l := range asks(e, r.Of) {
				l.Need, l.Of = r.Need, r.Of
				if l.Key == "" {
					l.Key = fmt.Sprint(i)
				}
				l.Key = fmt.Sprintf("%s/%s/%s", r.Need, r.Of, l.Key)
				j.add(l)
			}
			continue
		}
		key := fmt.Sprintf("%s/%s", r.Need, r.Check)
		if r.Need == Less {
			j.add(r.less())
			continue
		}
		id, c := e.last(r.Check)
		if r.Need == Surveyed {
			id, c = e.under(required, r.Check)
		}
		used[id] = true
		if c.Name == "" {
			j.add(Line{Key: key, What: "a check", Standing: Missing, Why: "the check that this hold asks for is not in the setup", Check: r.Check})
			continue
		}
		before := len(j.Lines)
		switch r.Need {
		case Surveyed:
			j.add(complete(c, id))
		case Tested:
			for _, in := range c.Instruments {
				j.add(tested(in))
			}
			if len(c.Instruments) == 0 {
				j.add(Line{What: "instruments of " + c.Name, Standing: Missing, Why: "nothing is read yet", Check: id})
			}
		case Shown:
			j.add(c.widened(e.Checks[r.Check], shown(c, id)))
		case Again:
			after := e.Again[r.Check]
			if after.Name == "" {
				after = e.Again[id]
			}
			j.add(again(c, after, id))
		}
		for i := before; i < len(j.Lines); i++ {
			j.Lines[i].Key = key
			if r.Need == Tested {
				j.Lines[i].Key += "/" + j.Lines[i].What
			}
		}
	}
	e.elsewhere(required, used, &j)
	for _, lost := range e.beyond {
		j.add(Line{Key: "beyond/" + lost, What: "what becomes impossible", Standing: Unsure, Why: lost})
	}
	asked := len(j.Lines)
	for _, l := range e.extra {
		j.add(l)
	}
	if asked == 0 {
		j.add(Line{Key: NothingAsked, What: "evidence", Standing: Missing, Why: "this hold asks for nothing; give it a check"})
	}
	return j
}

func (j *Judgement) add(l Line) {
	j.Lines = append(j.Lines, l)
	j.Standing = max(j.Standing, l.Standing)
}

// complete asks that every reading is taken and none is stale.
func complete(c CheckState, id string) Line {
	l := Line{What: c.Name, Check: id}
	switch {
	case c.Stale > 0:
		l.Standing, l.Why = Missing, fmt.Sprintf("%s since (%s): take %s again", plural(c.Stale, "reading is stale", "readings are stale"), c.Disturbed, them(c.Stale))
	case c.Taken == 0:
		l.Standing, l.Why = Missing, "not measured yet"
	case c.Taken < c.Wanted:
		l.Standing, l.Why = Missing, fmt.Sprintf("%s to go", plural(c.Wanted-c.Taken, "reading", "readings"))
	default:
		l.Why = "complete: " + c.Answer
	}
	return l
}

// shown asks for a complete check whose verdict is go.
func shown(c CheckState, id string) Line {
	l := complete(c, id)
	if l.Standing != Met {
		return l
	}
	if c.Refused != "" {
		l.Standing, l.Why = Missing, c.Refused
		return l
	}
	switch c.Verdict {
	case measure.Go:
		l.Why = "go: " + c.Answer + usually(c.Usual) + also(c.Late)
		if c.OneSided {
			l.Why += "; its limit has one side only"
		}
		for _, by := range c.CameBy {
			l.Why += also(by)
		}
		switch {
		case c.Near:
			l.Standing, l.Why = Unsure, "go, but only just: "+c.Answer+". Place each instrument once more, or write why it may be done"
		case c.Doubtful:
			l.Standing = Unsure
		}
	case measure.Unsure:
		l.Standing, l.Why = Unsure, "unsure: "+c.Answer+also(c.Late)+also(c.Was)
	case measure.Stop:
		l.Standing, l.Why = Stop, "stop: "+c.Answer
		l.Value, l.U, l.Low, l.High = c.Value, c.U, c.Low, c.High
	default:
		l.Standing, l.Why = Missing, "no limit is set, so there is no verdict"
		if c.Wants != "" {
			l.Why += ": it wants a limit of " + c.Wants + ", from the plans"
		}
	}
	if c.Zeroed != "" && l.Standing < Unsure {
		l.Standing, l.Why = Unsure, l.Why+also(c.Zeroed)
	}
	if c.UsualLimits {
		l.Usually, l.Why = true, l.Why+also(UsualLimits)
	}
	return l
}

// UsualLimits says that limits are those that are usual where nobody said what the plans say.
const UsualLimits = "by the usual limits, not your plans'"

// also adds a sentence that is there.
func also(says string) string {
	if says == "" {
		return ""
	}
	return "; " + says
}

// usually says that what is usual of instruments is taken.
func usually(of string) string {
	if of == "" {
		return ""
	}
	return ", not proven: of " + of + " what is usual is taken"
}

// tested asks that a level was turned end for end within its interval of the readings.
func tested(in InstrumentState) Line {
	l := Line{What: in.Name + " turned end for end", Tool: in.Name}
	how := "turn it end for end"
	if !in.Angle {
		l.What, how = in.Name+" against a known length", "hold it against a known length"
	}
	lasts := time.Duration(in.Days) * 24 * time.Hour
	good := plural(in.Days, "day", "days")
	if in.Angle && in.Days == 0 {
		lasts, good = TestLasts, fmt.Sprintf("%.0f hours", TestLasts.Hours())
	}
	switch {
	case in.Asked && in.Usual && in.Tested.IsZero():
		l.Standing, l.Why = Missing, "not proven, and proven instruments are asked for here: "+how
	case !in.Angle && in.Days == 0:
		l.What, l.Why = in.Name, "has no zero to prove"
	case in.Tested.IsZero() && in.Usual:
		l.Why = "not proven: the constant error that is usual of such a one is taken"
	case in.Tested.IsZero():
		l.Standing, l.Why = Missing, "never tested: "+how
	case in.Gap > lasts:
		l.Standing, l.Why = Missing, fmt.Sprintf("read %s from its test on %s, which is good for %s: %s, and read again", since(in.Gap), in.Tested.Format("2 January 15:04"), good, how)
	default:
		l.Why = "tested on " + in.Tested.Format("2 January 15:04") + ", and read within " + good
	}
	return l
}

// since writes a length of time.
func since(d time.Duration) string {
	if d < 48*time.Hour {
		return fmt.Sprintf("%.0f hours", d.Hours())
	}
	return fmt.Sprintf("%.0f days", d.Hours()/24)
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func them(n int) string {
	if n == 1 {
		return "it"
	}
	return "them"
}

// Request is someone's wish to release a hold.
type Request struct {
	By         string // the name of who releases
	Reason     string // written reason, for unsure
	AnsweredBy string // disposition, for stop: who with authority answered,
	Answer     string // what they said,
	Answered   string // when,
	Document   string // and where it is kept
	Usually    bool   // on the usual limits, and not the plans'
}

// FieldError is what is wrong with one field of a request.
type FieldError struct{ Field, Message string }

// Allow returns what stands between the request and the release; nothing means
// that the hold is released. Evidence that is missing cannot be signed away, and
// whoever looked as the second person does not release it too.
func (j Judgement) Allow(r Request) []FieldError {
	var wrong []FieldError
	need := func(field, value, message string) {
		if strings.TrimSpace(value) == "" {
			wrong = append(wrong, FieldError{field, message})
		}
	}
	if j.Standing == Missing {
		for _, l := range j.Lines {
			if l.Standing == Missing {
				wrong = append(wrong, FieldError{"", l.What + ": " + l.Why})
			}
		}
		return wrong
	}
	need("by", r.By, "a release carries a name")
	if j.Usually() && !r.Usually {
		wrong = append(wrong, FieldError{"usually", "it is judged by the usual limits, not by your plans': say that you release it so, or put in what the plans say"})
	}
	for _, l := range j.Lines {
		if l.Second != "" && same(l.Second, r.By) {
			wrong = append(wrong, FieldError{"by", l.Second + " was the second person who looked; someone else releases"})
		}
	}
	switch j.Standing {
	case Unsure:
		need("reason", r.Reason, "the evidence is unsure: write why the step may be taken all the same")
	case Stop:
		need("answered_by", r.AnsweredBy, "outside the limits: who with authority answered (kit maker, designer, inspector)?")
		need("answer", r.Answer, "what did they say?")
		need("answered", r.Answered, "when did they answer?")
		need("document", r.Document, "where is the answer kept: a letter, a mail, a page of the logbook?")
	}
	return wrong
}

// Usually tells whether a line is judged by the usual limits.
func (j Judgement) Usually() bool {
	return slices.ContainsFunc(j.Lines, func(l Line) bool { return l.Usually })
}

// same tells whether two names are one person's.
func same(a, b string) bool {
	return strings.EqualFold(strings.Join(strings.Fields(a), " "), strings.Join(strings.Fields(b), " "))
}
