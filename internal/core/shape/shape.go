// Package shape holds what an assembly is drawn from, and the generic forms of aircraft
// that a builder begins from.
package shape

import (
	"math"
	"slices"
)

// Shape is what an assembly is drawn from, in millimetres in airframe axes
// (x aft from the firewall, y right, z up). Which dimensions it has depends on
// its form.
type Shape struct {
	Form string `json:"form"` // one of Forms; "" while it is not drawn

	// A surface lies level: from butt line Inner to Outer; its leading edge at
	// station X at the inner end. A box, tube, tank or plate reaches from X by Chord
	// aft, from Inner to Outer across and from Z by Rise up.
	X     float64 `json:"x,omitempty"`
	Z     float64 `json:"z,omitempty"`
	Inner float64 `json:"inner,omitempty"` // negative: on the left; of a fin or lever: its butt line
	Outer float64 `json:"outer,omitempty"`
	Chord float64 `json:"chord,omitempty"`     // at the inner end, or of a fin's foot; of a box its length, of a lever its longer arm
	Tip   float64 `json:"tip_chord,omitempty"` // at the outer end, or of a fin's top; of a lever its shorter arm
	Sweep float64 `json:"sweep,omitempty"`     // the outer leading edge lies so far aft of the inner
	Rise  float64 `json:"rise,omitempty"`      // of a fin: its height; of a surface: dihedral rise

	// A body or mount is a run of sections, a frame one of them.
	Sections []Section `json:"sections,omitempty"`

	// Assumed are the fields above that nobody stated, by their JSON names.
	Assumed []string `json:"assumed,omitempty"`
}

// Section is a body's width and height at a station.
type Section struct {
	X      float64 `json:"x"`
	Half   float64 `json:"half"` // half its width
	Bottom float64 `json:"bottom"`
	Top    float64 `json:"top"`
}

// Form is a way in which an assembly is drawn, with the fields that it has.
type Form struct {
	ID, Title string
	Fields    []Field
	Sections  int // a body is a run of so many sections or more; 0 for none
}

// Field is one dimension of a form.
type Field struct {
	Key, Label string
	Above0     bool // it must be above 0
}

// Forms are all of them.
var Forms = []Form{
	{ID: "surface", Title: "surface: wing, tailplane, aileron", Fields: []Field{
		{"x", "Station of its leading edge", false}, {"z", "Waterline", false}, {"inner", "Butt line of one end (left is negative)", false}, {"outer", "Butt line of the other end", false},
		{"chord", "Chord at the first end", true}, {"tip_chord", "Chord at the other end", false}, {"sweep", "Leading edge swept aft by", false}, {"rise", "Dihedral rise", false}}},
	{ID: "fin", Title: "fin or rudder", Fields: []Field{
		{"x", "Station of its leading edge at the foot", false}, {"z", "Waterline of the foot", false}, {"inner", "Butt line (0 in the middle)", false}, {"rise", "Height", true}, {"chord", "Chord at the foot", true}, {"tip_chord", "Chord at the top", false}, {"sweep", "Top swept aft by", false}}},
	{ID: "body", Title: "body: fuselage, boom", Sections: 2},
	{ID: "spar", Title: "spar", Fields: []Field{
		{"x", "Station", false}, {"z", "Waterline", false}, {"inner", "Butt line of one end (left is negative)", false}, {"outer", "Butt line of the other end", false}, {"chord", "Depth", true}, {"sweep", "Swept aft by", false}}},
	{ID: "frame", Title: "frame or bulkhead", Sections: 1},
	{ID: "box", Title: "box", Fields: block},
	{ID: "tube", Title: "tube", Fields: block},
	{ID: "tank", Title: "tank", Fields: block},
	{ID: "plate", Title: "plate", Fields: block},
	{ID: "lever", Title: "lever or bell crank", Fields: []Field{
		{"x", "Station of its pivot", false}, {"z", "Waterline of its pivot", false}, {"inner", "Butt line", false}, {"chord", "Arm fore and aft", true}, {"tip_chord", "Arm up", false}}},
	{ID: "mount", Title: "engine mount", Sections: 2},
}

var block = []Field{
	{"x", "Station of its front", false}, {"chord", "Length fore and aft", true}, {"inner", "Butt line of its left side (left is negative)", false}, {"outer", "Butt line of its right side", false}, {"z", "Waterline of its bottom", false}, {"rise", "Height", false}}

// FormOf is the form of that id.
func FormOf(id string) (Form, bool) {
	i := slices.IndexFunc(Forms, func(f Form) bool { return f.ID == id })
	if i < 0 {
		return Form{}, false
	}
	return Forms[i], true
}

// Field is where a field of that JSON name is kept; nil for none.
func (s *Shape) Field(key string) *float64 {
	return map[string]*float64{"x": &s.X, "z": &s.Z, "inner": &s.Inner, "outer": &s.Outer, "chord": &s.Chord, "tip_chord": &s.Tip, "sweep": &s.Sweep, "rise": &s.Rise}[key]
}

// Validate tells what is wrong with a shape, by field.
func (s Shape) Validate(tell func(field, says string)) {
	if s.Form == "" {
		return
	}
	form, ok := FormOf(s.Form)
	if !ok {
		tell("form", "which shape is it? Choose one of the list")
		return
	}
	if (s.Form == "surface" || s.Form == "spar") && s.Outer == s.Inner {
		tell("outer", "the span is missing")
	}
	for _, f := range form.Fields {
		if f.Above0 && *s.Field(f.Key) <= 0 {
			tell(f.Key, "must be above 0")
		}
	}
	if len(s.Sections) < form.Sections {
		tell("sections", map[int]string{1: "one section is needed", 2: "two sections or more are needed"}[form.Sections])
	}
}

// Rests tells whether any of those fields was assumed.
func (s Shape) Rests(fields ...string) bool {
	return slices.ContainsFunc(fields, func(f string) bool { return slices.Contains(s.Assumed, f) })
}

// Span is from end to end; of a fin its height, of a body its length, in mm.
func (s Shape) Span() float64 {
	switch s.Form {
	case "surface", "spar":
		return math.Abs(s.Outer - s.Inner)
	case "fin":
		return s.Rise
	case "body", "mount":
		if n := len(s.Sections); n > 0 {
			return s.Sections[n-1].X - s.Sections[0].X
		}
	}
	return s.Chord
}

// Reach is the box around it: the least and the greatest of x, y and z, in mm; ok is
// false while it is not drawn.
func (s Shape) Reach() (least, most [3]float64, ok bool) {
	grow := func(x, y, z float64) {
		at := [3]float64{x, y, z}
		for i, v := range at {
			if !ok || v < least[i] {
				least[i] = v
			}
			if !ok || v > most[i] {
				most[i] = v
			}
		}
		ok = true
	}
	switch s.Form {
	case "":
	case "body", "mount", "frame":
		for _, q := range s.Sections {
			grow(q.X, -q.Half, q.Bottom)
			grow(q.X, q.Half, q.Top)
		}
	case "fin":
		grow(s.X, s.Inner, s.Z)
		grow(max(s.X+s.Chord, s.X+s.Sweep+s.Tip), s.Inner, s.Z+s.Rise)
	case "surface", "spar":
		grow(s.X, s.Inner, s.Z)
		grow(max(s.X+s.Chord, s.X+s.Sweep+s.Tip), s.Outer, s.Z+s.Rise)
	default:
		grow(s.X, s.Inner, s.Z)
		grow(s.X+s.Chord, max(s.Outer, s.Inner), s.Z+max(s.Rise, s.Tip))
	}
	return least, most, ok
}

// Mirrored is the shape on the other side of the middle.
func (s Shape) Mirrored() Shape {
	s.Sections, s.Assumed = slices.Clone(s.Sections), slices.Clone(s.Assumed)
	if slices.Contains([]string{"box", "tube", "tank", "plate"}, s.Form) {
		s.Inner, s.Outer = -s.Outer, -s.Inner
		return s
	}
	s.Inner, s.Outer = -s.Inner, -s.Outer
	return s
}

// Longest is the greatest of its sizes along an axis, in mm; 0 while it is not drawn.
func (s Shape) Longest() float64 {
	least, most, ok := s.Reach()
	if !ok {
		return 0
	}
	long := 0.0
	for i := range least {
		long = max(long, most[i]-least[i])
	}
	return long
}

// Beside tells whether a place lies far outside the part: more than a quarter of its longest
// size, and 200 mm, beyond it along one of two axes (0 x, 1 y, 2 z).
func (s Shape) Beside(at [2]float64, axes [2]int) bool {
	least, most, ok := s.Reach()
	if !ok {
		return false
	}
	slack := max(s.Longest()/4, 200)
	for i, axis := range axes {
		low, high := min(least[axis], most[axis]), max(least[axis], most[axis])
		if at[i] < low-slack || at[i] > high+slack {
			return true
		}
	}
	return false
}
