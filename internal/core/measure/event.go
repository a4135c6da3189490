package measure

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

// Lapses tells whether releases that are not spent end with the event. What is drilled
// or riveted disturbs nothing that is released: it asks for the after check.
func (e Event) Lapses() bool { return e != Drilled && e != Riveted }

// spares are the events that leave a kind alone unless it names them. Every other
// event disturbs every kind: a move, a knock, a turn or a re-levelling may have
// changed anything.
var spares = []Event{ReClamped, BenchMoved, Temperature}

// Shaped is the disturbance of a kind: by every event that may change any part, and
// of those that leave most alone by the named ones. Re-clamping bends a part,
// a moved bench tilts what lies on it, and a change of temperature shifts the zero of
// a level and the length of what is longer than a metre. Drilling and riveting
// disturb nothing: they ask for the after check.
func Shaped(e Event, also ...Event) bool {
	return e.Lapses() && (!slices.Contains(spares, e) || slices.Contains(also, e))
}

// longer is the disturbance of a kind of lengths: that of Shaped, and by temperature
// where what is measured is longer than so many millimetres, or its length not known.
func longer(e Event, mm float64, longest func() (mm float64, known bool)) bool {
	if e != Temperature {
		return Shaped(e)
	}
	length, known := longest()
	return !known || length > mm
}
