package hold

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"orpine/internal/core/measure"
)

// Look is what someone answers for by name, having looked.
type Look struct {
	By     string
	Second string // another person, where two looked
	Note   string
	At     time.Time
	Stale  measure.Event // what has happened since that it does not outlast; "" while it holds
}

// says tells who looked, and when.
func (l Look) says() string {
	who := l.By
	if l.Second != "" {
		who += " and " + l.Second
	}
	return who + ", " + l.At.Format("2 January 15:04")
}

// PartState is how far the hand of a part is shown.
type PartState struct {
	Name  string // "rib 3, right"
	Label string // the hand on its label
	Clue  string // how it lies when it is right
	// Geometry is the verdict of the check that compares the part with its twin; Answer
	// is what it found, "" while it is not measured.
	Geometry measure.Verdict
	Answer   string
	Check    string // id
	Look     *Look  // by two people
}

// Preparations are what is done to a row before it is riveted, apart from choosing
// the lengths, which the program sees for itself.
var Preparations = []string{"taken apart", "deburred on both faces", "chips cleared", "primed where wanted", "refitted"}

// FormedWhereWanted is a preparation of rows whose layers are dimpled or countersunk.
const FormedWhereWanted = "dimpled or countersunk where the layers are"

// RowState is how far a row is made ready.
type RowState struct {
	Name     string
	Open     int      // holes that stay open
	Kept     []string // "4 for fin fairing (fit the fin fairing)"
	Marked   *Look    // someone looked whether a later part needs a hole
	Prepared map[string]*Look
	// Lengths is the worst verdict over the holes' own stacks; Length says which hole, and
	// why.
	Lengths measure.Verdict
	Length  string
	Untried int       // holes that the drop-through test still wants
	Left    int       // holes that are neither set nor kept open
	Forms   bool      // some layer is dimpled or countersunk, and the row asks for it
	Drilled time.Time // when a hole of it was last drilled
	Unclean int       // holes that are drilled, empty and not cleaned: what was made ready before they were drilled is so no more
}

// Preparations are what is done to this row.
func (r RowState) Preparations() []string {
	if r.Forms {
		return append([]string{FormedWhereWanted}, Preparations...)
	}
	return Preparations
}

// Thing is something countable that was brought into a bay.
type Thing struct {
	Name    string // cleco 3/32, shim, tape, tool
	In, Out int
}

// BayState is what lies inside before it is closed.
type BayState struct {
	Name   string
	Tasks  []string // not done
	Things []Thing
	Rows   []string // rows that are not done: "row 3: 17, 43–76"
	Pinned string   // holes of its rows that still hold a cleco: "row 3: 1, 4"
	Photos int
	Access *Look // how it is reached for later upkeep, answered for
	Empty  *Look // someone looked, and nothing lies inside, where nothing was counted

	Asks    bool              // other assemblies may lie inside, and nobody has said which
	Near    []Near            // what its assemblies have that is not done, and nobody put inside
	Outside map[string]string // by id: who says that it lies outside
	Within  []string          // bays within this one that are open
	Kept    []KeptInside      // holes of its rows that stay open
	Asked   map[string]string // by row: what someone says can still be reached
}

// Near is something of a bay's assembly: a row, a hold, a check.
type Near struct {
	ID   string // "row:", "hold:", "check:" and its id
	What string
}

// KeptInside is a row with holes that stay open inside a bay.
type KeptInside struct {
	ID, Row string
	Kept    string // which, for what
}

// Undecided are the things of its assemblies that are not done and that nobody says to lie
// outside.
func (b *BayState) Undecided() []Near {
	return slices.DeleteFunc(slices.Clone(b.Near), func(n Near) bool { return b.Outside[n.ID] != "" })
}

// Unreached are the kept holes of which nobody says that they can still be reached once the
// bay is closed.
func (b *BayState) Unreached() []KeptInside {
	return slices.DeleteFunc(slices.Clone(b.Kept), func(k KeptInside) bool { return b.Asked[k.ID] == k.Kept })
}

// Bay is the state of a bay, made where there is none, so that several may fill it in.
func (e *Evidence) Bay(id string) *BayState {
	if e.Bays[id] == nil {
		e.Bays[id] = &BayState{}
	}
	return e.Bays[id]
}

// Count takes things in (above 0) or out into account.
func (b *BayState) Count(thing string, number int) {
	i := slices.IndexFunc(b.Things, func(t Thing) bool { return t.Name == thing })
	if i < 0 {
		i, b.Things = len(b.Things), append(b.Things, Thing{Name: thing})
	}
	if number > 0 {
		b.Things[i].In += number
	} else {
		b.Things[i].Out -= number
	}
}

// StepState is how far an earlier hold is.
type StepState struct {
	Name string
	Done bool
}

// others judge the needs that are not about a check.
var others = map[Need]func(e Evidence, of string) []Line{
	Handed: func(e Evidence, of string) []Line {
		p, ok := e.Parts[of]
		return found(ok, "a part", func() []Line { return []Line{p.line()} })
	},
	Marked: func(e Evidence, of string) []Line {
		r, ok := e.Rows[of]
		return found(ok, "a row", func() []Line { return []Line{r.marked()} })
	},
	Prepared: func(e Evidence, of string) []Line {
		r, ok := e.Rows[of]
		lines := found(ok, "a row", r.prepared)
		if of == "" { // no row is laid out: there are no lengths to judge
			return lines[:1]
		}
		return lines
	},
	Inside: func(e Evidence, of string) []Line {
		b, ok := e.Bays[of]
		return found(ok, "a bay", b.lines)
	},
	Before: func(e Evidence, of string) []Line {
		s, ok := e.Before[of]
		return found(ok, "a step", func() []Line {
			l := Line{What: s.Name, Why: "done"}
			if !s.Done {
				l.Standing, l.Why = Missing, "comes first"
			}
			return []Line{l}
		})
	},
	Seconded: func(e Evidence, _ string) []Line {
		l := Line{What: "a second person's look"}
		switch {
		case e.Second == nil:
			l.Standing, l.Look, l.Why = Missing, true, "nobody else has looked, or read it by another method"
		case e.Second.Stale != "":
			l.Standing, l.Look, l.Why = Missing, true, "not since: "+string(e.Second.Stale)
		default:
			l.Why, l.Second = e.Second.says()+noted(e.Second.Note), e.Second.By
		}
		return []Line{l}
	},
}

func noted(note string) string {
	if note == "" {
		return ""
	}
	return ": " + note
}

// found returns the lines of what a hold asks for, or says that it is gone.
func found(ok bool, what string, lines func() []Line) []Line {
	if !ok {
		return []Line{{What: what, Standing: Missing, Why: "what this hold asks for is not there"}}
	}
	return lines()
}

// again asks for the check after the step before this one.
func again(before, after CheckState, id string) Line {
	if after.Name == "" {
		return Line{What: before.Name + ", once more", Standing: Missing, Why: "measure it again after the step before this one", Check: id}
	}
	return shown(after, id)
}

// line shows the hand by geometry, or by the look of two people. The label alone is
// no evidence.
func (p PartState) line() Line {
	l := Line{What: "hand of " + p.Name, Check: p.Check}
	switch {
	case p.Answer != "" && p.Geometry == measure.Go:
		l.Why = "shown by geometry: " + p.Answer
	case p.Answer != "" && p.Geometry == measure.Stop:
		l.Standing, l.Why = Stop, "geometry says: "+p.Answer
	case p.Look != nil && p.Look.Stale == "" && p.Look.Second == "" && p.Look.Note != "":
		l.Why = fmt.Sprintf("by a clue that only this hand has: %s; seen by %s, with a photo beside its twin's", p.Look.Note, p.Look.says())
	case p.Look != nil && p.Look.Stale == "":
		l.Why = "looked at by " + p.Look.says()
	case p.Label != "" && p.Label != "none":
		l.Standing, l.Look, l.Why = Missing, true, fmt.Sprintf("the label says %s, and a label is not enough: compare it with its twin, name a clue that only this hand has, or let two people look", p.Label)
	default:
		l.Standing, l.Look, l.Why = Missing, true, "compare it with its twin, name a clue that only this hand has, or let two people look"
	}
	if p.Clue != "" && l.Standing != Met {
		l.Why += " (" + p.Clue + ")"
	}
	return l
}

func (r RowState) marked() Line {
	l := Line{What: "holes of " + r.Name + " that stay open"}
	stay := "none stays open"
	if r.Open > 0 {
		stay = plural(r.Open, "stays open", "stay open") + ": " + strings.Join(r.Kept, "; ")
	}
	if r.Marked == nil || r.Marked.Stale != "" {
		l.Standing, l.Look, l.Why = Missing, true, "has anyone looked whether a later part needs one? "+stay
		return l
	}
	l.Why = stay + "; looked at by " + r.Marked.says()
	return l
}

// prepared asks for every preparation, and for lengths that fit each stack.
func (r RowState) prepared() []Line {
	l := Line{What: r.Name + " made ready"}
	var open []string
	l.Next = true
	for _, what := range r.Preparations() {
		switch look := r.Prepared[what]; {
		case look == nil || look.Stale != "":
			open, l.Next = append(open, what), false
		case look.At.Before(r.Drilled) && r.Unclean > 0:
			open = append(open, what+" (a hole was drilled since)") // each such hole is asked by itself until it is signed anew
		case l.Why == "":
			l.Why = "all of it, by " + look.says()
		}
	}
	l.Next = l.Next && len(open) > 0
	if len(open) > 0 {
		l.Standing, l.Look, l.Ticks, l.Why = Missing, true, r.Preparations(), "not yet: "+strings.Join(open, ", ")
	}
	lengths := Line{Key: "lengths", What: "rivet lengths of " + r.Name, Why: "chosen for each stack"}
	switch {
	case r.Untried > 0:
		lengths.Standing, lengths.Why = Missing, fmt.Sprintf("the drop-through test wants %s more", plural(r.Untried, "hole", "holes"))
	case r.Lengths == measure.Stop:
		lengths.Standing, lengths.Why = Stop, r.Length
	case r.Lengths == measure.Unsure:
		lengths.Standing, lengths.Why = Unsure, r.Length
	}
	return []Line{l, lengths}
}

// lines ask for nothing left undone and nothing left inside.
func (b *BayState) lines() []Line {
	undone := Line{Key: "undone", What: "nothing left undone in " + b.Name, Why: "every task is done"}
	var open []string
	if len(b.Tasks) > 0 {
		open = append(open, plural(len(b.Tasks), "task is open", "tasks are open")+": "+strings.Join(b.Tasks, "; "))
	}
	if len(b.Rows) > 0 {
		open = append(open, "holes are neither set nor kept open in "+strings.Join(b.Rows, "; "))
	}
	if len(b.Within) > 0 {
		open = append(open, "still open within: "+strings.Join(b.Within, ", "))
	}
	if len(open) > 0 {
		undone.Standing, undone.Why = Missing, strings.Join(open, "; ")
	}
	known := Line{Key: "known", What: "all of its assembly accounted for", Why: "each is done, lies inside, or is marked as outside"}
	if near := b.Undecided(); len(near) > 0 {
		var names []string
		for _, n := range near {
			names = append(names, n.What)
		}
		known.Standing, known.Why = Missing, "inside or outside? "+strings.Join(names, "; ")
	}
	lines := []Line{undone, known}
	if b.Asks {
		lines = append(lines, Line{Key: "lies", What: "what lies inside " + b.Name, Standing: Missing, Why: "does another assembly lie inside it, a bulkhead or a tank? Say which, or none; all of theirs counts with it"})
	}
	if len(b.Kept) > 0 {
		kept := Line{Key: "kept", What: "holes that stay open inside " + b.Name, Why: "can still be reached"}
		var names []string
		for _, k := range b.Unreached() {
			names = append(names, k.Row+": "+k.Kept)
		}
		if len(names) > 0 {
			kept.Standing, kept.Why = Missing, "can they be reached once it is closed? "+strings.Join(names, "; ")
		}
		lines = append(lines, kept)
	}
	left := Line{Key: "left", What: "nothing left inside " + b.Name, Why: "all that was counted in is counted out"}
	counts := b.left()
	switch {
	case len(counts) > 0:
		left.Standing, left.Why = Missing, strings.Join(counts, "; ")
	case len(b.Things) == 0 && b.Empty != nil && b.Empty.Stale == "":
		left.Why = b.Empty.By + " looked: nothing lies inside"
	case len(b.Things) == 0: // what nobody counted is not counted out
		left.Standing, left.Why = Missing, "nobody counted what was brought in: look, and say that nothing lies inside"
	}
	photos := Line{Key: "photos", What: "photos of " + b.Name, Why: plural(b.Photos, "is kept", "are kept")}
	if b.Photos == 0 {
		photos.Standing, photos.Why = Missing, "none yet: nobody can look again afterwards"
	}
	access := Line{Key: "access", What: "access to " + b.Name + " for upkeep"}
	if b.Access == nil || b.Access.Stale != "" {
		access.Standing, access.Why = Missing, "how is it reached for inspection and repair once it is closed?"
	} else {
		access.Why = b.Access.Note + " (" + b.Access.By + ")"
	}
	return append(lines, left, photos, access)
}

// left says what does not balance: things still inside, and more out than in, which
// is a miscount too.
func (b *BayState) left() []string {
	var out []string
	for _, t := range b.Things {
		switch n := t.In - t.Out; {
		case n > 0:
			out = append(out, fmt.Sprintf("%s: %d counted in, %d out, %d still inside", t.Name, t.In, t.Out, n))
		case n < 0:
			out = append(out, fmt.Sprintf("%s: %d counted in, %d out: count again", t.Name, t.In, t.Out))
		}
	}
	if b.Pinned != "" {
		out = append(out, "clecos still hold "+b.Pinned)
	}
	return out
}

// Outlasts tells whether what someone looked at for a need still holds after an
// event: chips and edges are new after a drill, what lies in the jig after anything
// that moves it. A part's hand and the marks of a row change by themselves only.
func (n Need) Outlasts(e measure.Event) bool {
	switch n {
	case Prepared:
		return e != measure.Drilled
	case Seconded:
		return e == measure.Drilled || e == measure.Riveted || e == measure.Temperature
	}
	return true
}
