package hold

import "slices"

// Event is something that ends the present state of a setup.
type Event string

// The events.
const (
	Moved       Event = "moved"
	TurnedOver  Event = "turned over"
	ReLevelled  Event = "re-levelled"
	ReClamped   Event = "re-clamped"
	Knocked     Event = "knocked"
	Drilled     Event = "drilled"
	Riveted     Event = "riveted"
	Temperature Event = "temperature"
	BenchMoved  Event = "bench moved"
)

// Disturbances are the events that a builder reports, the usual one first.
// Drilled and riveted come from recording the step.
var Disturbances = []Event{Moved, Knocked, BenchMoved, ReLevelled, ReClamped, TurnedOver, Temperature}

// Known tells whether the event is one that a builder may report.
func (e Event) Known() bool { return slices.Contains(Disturbances, e) }

// disturbed lists the kinds of checks whose earlier readings an event makes
// stale; an event that is not listed disturbs every kind. Re-levelling changes
// the shape of the support, and a knock may have changed anything. A separation
// of part and bench is a bow, a twist and a survey at once.
var disturbed = map[Event][]string{
	ReClamped:   {"twist", "straightness", "separate", "hinge-line", "gap"},
	BenchMoved:  {"bench", "level", "separate"},
	Temperature: {"length", "pairs", "square", "diagonals", "shop-temperature"},
	Drilled:     {},
	Riveted:     {},
}

// Disturbs tells whether the event makes the earlier readings of a check stale.
func (e Event) Disturbs(kind string) bool {
	kinds, listed := disturbed[e]
	return !listed || slices.Contains(kinds, kind)
}

// Lapses tells whether releases that are not spent end with the event. What is drilled
// or riveted disturbs nothing that is released: it asks for the after check.
func (e Event) Lapses() bool { return e != Drilled && e != Riveted }
