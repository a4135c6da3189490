package row

import (
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
)

// Operation is something done to a hole.
type Operation string

// The operations.
const (
	Drill   Operation = "drill" // to size
	Deburr  Operation = "deburr"
	Form    Operation = "form"  // dimple or countersink, where the layers are
	Clean   Operation = "clean" // taken apart, deburred, chips cleared
	Prime   Operation = "prime"
	Pin     Operation = "pin"
	Unpin   Operation = "unpin"
	Rivet   Operation = "set"
	Spoil   Operation = "bad"
	NotSet  Operation = "not set"   // after all: it was keyed, and no rivet was used
	Doubt   Operation = "doubtful"  // of a set one
	Accept  Operation = "accept"    // a doubtful one, by the gauge
	Out     Operation = "drill out" // the rivet of a bad one
	Enlarge Operation = "oversize"
	Abandon Operation = "abandon"
	Mark    Operation = "keep" // it stays open for a later part
	Lift    Operation = "lift" // the mark
	Falls   Operation = "through"
	Stuck   Operation = "sticks"
	Shut    Operation = "out of reach" // after a later step; without one, reached after all
	NotYet  Operation = "not yet"      // some things wait for a later step; without any, no more
)

// Operations lists them.
var Operations = []Operation{Drill, Deburr, Form, Clean, Prime, Pin, Unpin, Rivet, Spoil, NotSet, Doubt, Accept, Out, Enlarge, Abandon, Mark, Lift, Falls, Stuck, Shut, NotYet}

// Undoable tells whether the operation may be taken back: what the hand does at every
// hole can be; what someone decided or found out cannot.
func (o Operation) Undoable() bool {
	return slices.Contains([]Operation{Drill, Deburr, Form, Clean, Prime, Pin, Unpin, Rivet, Spoil, NotSet, Doubt, Out, Enlarge}, o)
}

// Asked is an operation with what comes with it.
type Asked struct {
	What   Operation
	Cause  string // of a bad rivet
	Reason string // written, where one is wanted
	Keep   Keep   // of a mark
	Fit    Fit    // of an oversize hole
	Reach  Reach  // of one that is out of reach later
	Wait   Wait   // of a not-yet mark
}

// Leave is why things may not be done now; empty where they may.
type Leave struct {
	Drill   string          // the holds before drilling, which forming and enlarging ask too
	Rivet   string          // the hold before riveting
	Enlarge string          // the edge distance, once the hole is larger
	Lift    string          // the step that the mark waits for
	Untried []int           // holes that the drop-through test still wants
	Signed  bool            // made ready, as someone signed on the hold after the holes were drilled
	Asks    Asks            // what the layers and the school need of the hole
	Come    bool            // the step has come that a kept hole waits for
	Waits   map[string]bool // by the hold of a wait: its step has come
}

// Stand is a hold before a step, as far as a row's holes see it.
type Stand struct {
	Name  string
	Ended string // why its last release stands no more; "" for none
	Open  bool   // a release of it stands, or its step is done
	Pins  bool   // it stands before the pin holes alone
	Ream  bool   // it stands before reaming, not before the first drill
}

// LeaveAt is what stands in the way of operations at a hole: the hold before riveting,
// those before drilling that guard the hole, the drop-through test, the edges, and of a kept
// hole whether the step has come that it waits for.
func (r Row) LeaveAt(h Hole, holes []Hole, rivets Stand, drills []Stand, come bool) Leave {
	l := Leave{Untried: r.Untried(holes), Enlarge: r.Advise(h, holes).Crowded(), Drill: r.drillable(h, holes, drills), Asks: r.AsksOf(h), Come: come}
	if !rivets.Open {
		l.Rivet = hold.NotReleased(rivets.Name, rivets.Ended)
	}
	if h.Kept() && !come {
		l.Lift = "that step has not come"
	}
	return l
}

// drillable asks all holds before drilling that guard the hole: where there is one before the pin
// holes, a pin hole is of that one alone, and the others are of the rest.
func (r Row) drillable(h Hole, holes []Hole, drills []Stand) (why string) {
	pinned := slices.ContainsFunc(drills, func(d Stand) bool { return d.Pins })
	pin := pinned && slices.Contains(r.FewestOf(holes), h.Number)
	sizes := slices.ContainsFunc(drills, func(d Stand) bool { return !d.Ream })
	asked := false
	for _, d := range drills {
		if d.Pins != pin || d.Ream && sizes {
			continue
		}
		asked = true
		if !d.Open {
			return hold.NotReleased(d.Name, d.Ended)
		}
	}
	if pinned && !asked {
		return fmt.Sprintf("hole %d is not one of the pin holes, and only those are drilled before it is measured again", h.Number)
	}
	return ""
}

// LeftBefore are the holes that keep a step from being recorded: those not set before
// riveting, and those not drilled to size before drilling; pins tells that the step
// drills the pin holes alone. What is done or kept open is left out.
func (r Row) LeftBefore(holes []Hole, riveting, pins bool) []int {
	var left []int
	for _, h := range holes {
		switch {
		case h.Done() || h.Kept():
		case riveting, h.State == Pilot && (!pins || slices.Contains(r.FewestOf(holes), h.Number)):
			left = append(left, h.Number)
		}
	}
	return left
}

// Refusal is why an operation is refused.
type Refusal struct {
	Why   string
	Field string // that mends it: cause, reason, part; "" for none
}

// Error says why.
func (r *Refusal) Error() string { return r.Why }

func refuse(field, format string, args ...any) error {
	return &Refusal{fmt.Sprintf(format, args...), field}
}

// Do returns the hole after an operation, or a *Refusal. A hole that is kept open is never
// set, whatever else is said.
func (h Hole) Do(a Asked, leave Leave) (Hole, error) {
	done, ok := rules[a.What]
	if !ok {
		return h, refuse("", "nobody knows what %q does to a hole", a.What)
	}
	if h.State == Abandoned {
		return h, refuse("", "hole %d is abandoned: it stays closed", h.Number)
	}
	if err := h.early(a.What, leave); err != nil {
		return h, err
	}
	return done(h, a, leave)
}

// early refuses what a hole is not ready for yet: what was marked to wait for a later step, and at
// a hole that is kept open for a later part what shapes or coats it, unless somebody said that it may
// be done before.
func (h Hole) early(what Operation, leave Leave) error {
	for _, w := range h.Waits {
		if slices.Contains(w.What, what) && !leave.Waits[w.Hold] {
			return refuse("", "hole %d: %s waits for %s", h.Number, what, w.Says())
		}
	}
	if !h.Kept() || leave.Come || what != Form && what != Prime {
		return nil
	}
	switch h.Keep.Early {
	case Early[0]:
		return nil
	case Early[1]:
		return refuse("", "hole %d stays open for %s (%s), and is not formed or primed before that", h.Number, h.Keep.Part, h.Keep.Step)
	}
	return refuse("early", "hole %d stays open for %s (%s): may it be formed and primed before that? Mark it once more, and say so", h.Number, h.Keep.Part, h.Keep.Step)
}

// Past tells whether a hole needs an operation no more: a rivet is in it, it is abandoned, or
// it is as far already. A kept hole that is said to be set is not passed over: it may have
// been set in truth.
func (h Hole) Past(what Operation) bool {
	switch what {
	case Drill:
		return h.State != Pilot
	case Deburr:
		return h.State != Pilot && h.State != Sized && h.State != Oversize
	case Form:
		return h.Filled() || h.State == Abandoned || h.Formed || h.Kept() && h.Keep.Early == Early[1]
	case Clean:
		return h.Filled() || h.State == Abandoned || h.Clean && h.State != Bad
	case Prime:
		return h.Filled() || h.State == Abandoned || h.Primed || h.Kept() && h.Keep.Early == Early[1]
	case Pin:
		return h.Filled() || h.State == Abandoned || h.State == Pinned
	case Rivet:
		return h.Filled() || h.State == Abandoned
	}
	return false
}

// rules are what each operation asks for, and what it does.
var rules = map[Operation]func(h Hole, a Asked, leave Leave) (Hole, error){
	Drill:   drill,
	Deburr:  deburr,
	Form:    formHole,
	Clean:   clean,
	Prime:   prime,
	Pin:     pin,
	Unpin:   unpin,
	Rivet:   rivetHole,
	Spoil:   spoil,
	NotSet:  notSet,
	Doubt:   doubt,
	Accept:  accept,
	Out:     drillOut,
	Enlarge: enlarge,
	Abandon: abandon,
	Mark:    mark,
	Lift:    lift,
	Falls:   try,
	Stuck:   try,
	Shut:    shut,
	NotYet:  notYet,
}

func drill(h Hole, _ Asked, leave Leave) (Hole, error) {
	if h.State != Pilot {
		return h, refuse("", "hole %d is %s: only a pilot hole is drilled to size", h.Number, h.State)
	}
	if leave.Drill != "" {
		return h, refuse("", "%s", leave.Drill)
	}
	h.State = Sized
	h.fresh()
	return h, nil
}

// fresh forgets what was done to a hole that is drilled anew.
func (h *Hole) fresh() { h.Clean, h.Formed, h.Primed = false, false, false }

func deburr(h Hole, _ Asked, _ Leave) (Hole, error) {
	if h.State != Sized && h.State != Oversize {
		return h, refuse("", "hole %d is %s: a hole is deburred once it is drilled to size", h.Number, h.State)
	}
	h.State = Deburred
	return h, nil
}

func formHole(h Hole, _ Asked, leave Leave) (Hole, error) {
	switch {
	case leave.Asks.Form == "":
		return h, refuse("", "no layer at hole %d is dimpled or countersunk", h.Number)
	case h.Formed:
		return h, refuse("", "hole %d is %s already", h.Number, leave.Asks.Form)
	case leave.Drill != "":
		return h, refuse("", "%s", leave.Drill)
	case h.State == Sized || h.State == Oversize:
		return h, refuse("", "hole %d is %s: deburr it first, for a burr splits the dimple", h.Number, h.State)
	case h.State != Deburred && h.State != Cleaned && h.State != Drilled:
		return h, refuse("", "hole %d is %s: it is formed when it is drilled to size, deburred and taken apart", h.Number, h.State)
	}
	h.State, h.Formed, h.Clean = Formed, true, false
	return h, nil
}

func clean(h Hole, _ Asked, leave Leave) (Hole, error) {
	switch {
	case h.State == Pilot:
		return h, refuse("", "hole %d is a pilot hole: drill it to size first", h.Number)
	case h.Filled():
		return h, refuse("", "hole %d is set", h.Number)
	case h.Clean && h.State != Bad:
		return h, refuse("", "hole %d is cleaned already", h.Number)
	case leave.Asks.Form != "" && !h.Formed:
		return h, refuse("", "hole %d is not %s yet: its layers are, so form it before it is cleaned", h.Number, leave.Asks.Form)
	}
	h.State, h.Clean = Cleaned, true
	return h, nil
}

func prime(h Hole, _ Asked, _ Leave) (Hole, error) {
	switch {
	case h.Primed:
		return h, refuse("", "hole %d is primed already", h.Number)
	case h.State != Cleaned:
		return h, refuse("", "hole %d is %s: primer goes on what is cleaned and taken apart", h.Number, h.State)
	}
	h.State, h.Primed = Primed, true
	return h, nil
}

func pin(h Hole, _ Asked, _ Leave) (Hole, error) {
	if !slices.Contains([]State{Sized, Deburred, Formed, Cleaned, Primed, Oversize}, h.State) {
		return h, refuse("", "hole %d is %s: a cleco goes into a hole that is drilled to size", h.Number, h.State)
	}
	h.State = Pinned
	return h, nil
}

func unpin(h Hole, _ Asked, _ Leave) (Hole, error) {
	if h.State != Pinned {
		return h, refuse("", "hole %d is %s: there is no cleco in it", h.Number, h.State)
	}
	h.State = h.apart()
	return h, nil
}

// apart is the state of an empty hole without a cleco.
func (h Hole) apart() State {
	switch {
	case h.Primed:
		return Primed
	case h.Clean:
		return Cleaned
	case h.Formed:
		return Formed
	}
	return Sized
}

// settable is what stands between a hole and its rivet.
func settable(h Hole, leave Leave) error {
	switch {
	case h.Kept():
		return refuse("", "hole %d stays open for %s (%s): do not set it", h.Number, h.Keep.Part, h.Keep.Step)
	case h.Filled():
		return refuse("", "hole %d is set already", h.Number)
	case h.State == Pilot:
		return refuse("", "hole %d is a pilot hole: drill it to size first", h.Number)
	case h.State == Bad || h.State == Drilled:
		return refuse("", "hole %d is drilled out: clean it, or drill it oversize, first", h.Number)
	case !h.Clean && !(leave.Signed && slices.Contains([]State{Sized, Deburred, Formed, Pinned}, h.State)):
		return refuse("", "hole %d is not cleaned: take apart, deburr both faces, clear the chips", h.Number)
	case leave.Asks.Form != "" && !h.Formed && !leave.Signed:
		return refuse("", "hole %d is not %s yet, and its layers are", h.Number, leave.Asks.Form)
	case leave.Asks.Prime && !h.Primed && !leave.Signed:
		return refuse("", "hole %d is not primed yet, and this row wants it", h.Number)
	case len(leave.Untried) > 0:
		return refuse("", "the row is taken to be of final size, and the drop-through test is not done: hole %s first", Runs(leave.Untried))
	case leave.Rivet != "":
		return refuse("", "%s", leave.Rivet)
	}
	return nil
}

func rivetHole(h Hole, _ Asked, leave Leave) (Hole, error) {
	if err := settable(h, leave); err != nil {
		return h, err
	}
	h.State = Set
	return h, nil
}

// notSet is of a hole that was keyed as set: it is empty, cleaned, and nothing was used up.
func notSet(h Hole, _ Asked, _ Leave) (Hole, error) {
	if !h.Filled() {
		return h, refuse("", "hole %d is %s, and no rivet was said to be in it", h.Number, h.State)
	}
	h.Clean = true
	h.State = h.apart()
	return h, nil
}

func doubt(h Hole, _ Asked, _ Leave) (Hole, error) {
	if h.State != Set {
		return h, refuse("", "hole %d is %s: only a set rivet is doubted", h.Number, h.State)
	}
	h.State = Doubtful
	return h, nil
}

func accept(h Hole, a Asked, _ Leave) (Hole, error) {
	switch {
	case h.State != Doubtful:
		return h, refuse("", "hole %d is %s: only a doubtful rivet is judged by the gauge", h.Number, h.State)
	case strings.TrimSpace(a.Reason) == "":
		return h, refuse("reason", "what did the gauge say of hole %d, and who looked?", h.Number)
	}
	h.State = Accepted
	return h, nil
}

// spoil marks the rivet in a hole as bad; in a hole that was not set, the one that
// was tried there. In a kept hole only one that was set by mistake can be.
func spoil(h Hole, a Asked, leave Leave) (Hole, error) {
	mistaken := h.Kept() && a.Cause == ShouldHaveStayedOpen && h.State != Pilot && h.State != Abandoned
	if !h.Filled() && !mistaken {
		if err := settable(h, leave); err != nil {
			return h, err
		}
	}
	if !slices.Contains(Causes, a.Cause) {
		return h, refuse("cause", "what made it bad: %s?", strings.Join(Causes, ", "))
	}
	h.State, h.Clean, h.Spoilt = Bad, false, h.Spoilt+1
	return h, nil
}

// drillOut is of a rivet that is no good; the hole is as wide as before, or the slip shows.
func drillOut(h Hole, _ Asked, _ Leave) (Hole, error) {
	if h.State != Bad {
		return h, refuse("", "hole %d is %s: a rivet that is marked as bad is drilled out", h.Number, h.State)
	}
	h.State = Drilled
	return h, nil
}

func abandon(h Hole, a Asked, _ Leave) (Hole, error) {
	switch {
	case h.Filled():
		return h, refuse("", "hole %d is set", h.Number)
	case strings.TrimSpace(a.Reason) == "":
		return h, refuse("reason", "why is hole %d left, and how is it closed?", h.Number)
	}
	h.State, h.Keep, h.Reach = Abandoned, Keep{}, Reach{}
	return h, nil
}

func mark(h Hole, a Asked, leave Leave) (Hole, error) {
	switch {
	case h.Filled():
		return h, refuse("", "hole %d is set already: drill it out first, and log the slip", h.Number)
	case strings.TrimSpace(a.Keep.Part) == "":
		return h, refuse("part", "which later part needs hole %d?", h.Number)
	case strings.TrimSpace(a.Keep.Step) == "":
		return h, refuse("step", "which later step does hole %d wait for?", h.Number)
	case leave.Asks.Form != "" && !h.Formed && !slices.Contains(Early, a.Keep.Early):
		return h, refuse("early", "may hole %d be formed and primed before that, or does it wait too?", h.Number)
	}
	h.Keep = a.Keep
	return h, nil
}

func lift(h Hole, a Asked, leave Leave) (Hole, error) {
	switch {
	case !h.Kept():
		return h, refuse("", "hole %d is not kept open", h.Number)
	case leave.Lift != "" && strings.TrimSpace(a.Reason) == "":
		return h, refuse("reason", "hole %d is kept for %s, and %s: lifting the mark needs a reason", h.Number, h.Keep.Part, leave.Lift)
	}
	h.Keep = Keep{}
	return h, nil
}

func try(h Hole, a Asked, _ Leave) (Hole, error) {
	if h.Done() || h.State == Pilot {
		return h, refuse("", "hole %d is %s: the drop-through test is for empty holes of the final size", h.Number, h.State)
	}
	h.Tried = Through
	if a.What == Stuck {
		h.Tried = Sticks
	}
	return h, nil
}

// Undo returns the hole as it was before an operation; what has been decided or found
// out of it since stays. A kept hole does not become a set one that way.
func (h Hole) Undo(before Hole) (Hole, error) {
	if h.State == Abandoned {
		return h, refuse("", "hole %d is abandoned: it stays closed", h.Number)
	}
	if before.Filled() && h.Kept() {
		return h, refuse("", "hole %d stays open for %s (%s): it cannot be made a set one again", h.Number, h.Keep.Part, h.Keep.Step)
	}
	h.State, h.Clean, h.Formed, h.Primed = before.State, before.Clean, before.Formed, before.Primed
	h.Over, h.Fit, h.Spoilt = before.Over, before.Fit, before.Spoilt
	return h, nil
}
