package shape

import "slices"

// Planform is a generic form of aircraft, drawn from ten sizes.
type Planform struct {
	ID, Name string
	Sizes    []Size
	parts    func(d sized) []Part
}

// Size is one of the ten sizes, with what is assumed while nobody states it, in mm.
type Size struct {
	Key, Label string
	Usual      float64
}

// Part is an assembly of a planform.
type Part struct {
	Name  string
	Usual string // id of the checks that it usually has
	Shape Shape
}

// sized gives sizes, each with whether someone stated it.
type sized struct {
	values map[string]float64
	stated map[string]bool
}

func (d sized) at(key string) float64 { return d.values[key] }

// Parts are the assemblies of a planform from the sizes that were stated, in mm; the
// others are assumed, and so is whatever follows from them or from general proportions.
func (p Planform) Parts(stated map[string]float64) []Part {
	d := sized{map[string]float64{}, map[string]bool{}}
	for _, s := range p.Sizes {
		d.values[s.Key] = s.Usual
		if v, ok := stated[s.Key]; ok {
			d.values[s.Key], d.stated[s.Key] = v, true
		}
	}
	return p.parts(d)
}

// PlanformOf is the planform of that id.
func PlanformOf(id string) (Planform, bool) {
	i := slices.IndexFunc(Planforms, func(p Planform) bool { return p.ID == id })
	if i < 0 {
		return Planform{}, false
	}
	return Planforms[i], true
}

// The sizes that several planforms share.
var (
	span     = Size{"span", "Wing span", 8000}
	chord    = Size{"chord", "Wing chord at the root", 1300}
	tip      = Size{"tip", "Wing chord at the tip", 1300}
	wingX    = Size{"wing_x", "Station of the wing's leading edge at the root", 900}
	length   = Size{"length", "Length of the fuselage, firewall to end", 5200}
	width    = Size{"width", "Width of the fuselage", 1100}
	height   = Size{"height", "Height of the fuselage", 1100}
	tailSpan = Size{"tail_span", "Tailplane span", 2900}
	tailC    = Size{"tail_chord", "Tailplane chord, elevator included", 800}
	finH     = Size{"fin", "Height of the fin", 1200}
)

func usually(s Size, mm float64) Size {
	s.Usual = mm
	return s
}

// Planforms are the generic forms, in the order in which they are offered. Their usual
// sizes are made up, between those of many aircraft.
var Planforms = []Planform{
	{"low-wing", "low-wing tractor", []Size{span, chord, tip, wingX, length, width, height, tailSpan, tailC, finH}, tractor(0.12, 0.72, false)},
	{"high-wing", "high-wing tractor", []Size{usually(span, 9600), usually(chord, 1500), usually(tip, 1200), wingX, usually(length, 5600), width, usually(height, 1250), tailSpan, tailC, finH}, tractor(1.0, 0.62, false)},
	{"t-tail", "T-tail motor glider", []Size{usually(span, 14000), usually(chord, 1150), usually(tip, 600), usually(wingX, 1100), usually(length, 6000), usually(width, 1050), usually(height, 1000), tailSpan, usually(tailC, 620), usually(finH, 1300)}, tractor(0.6, 0.6, true)},
	{"canard", "canard pusher", []Size{usually(span, 8200), usually(chord, 1500), usually(tip, 700), usually(wingX, 2800), {"sweep", "Wing tip swept aft by", 1300}, usually(length, 4400), usually(height, 1050), {"fore_span", "Foreplane span", 3300}, {"fore_chord", "Foreplane chord", 420}, {"fore_x", "Station of the foreplane's leading edge", 350}}, canard},
	{"twin-boom", "twin boom", []Size{usually(span, 9000), usually(chord, 1400), usually(tip, 1100), wingX, usually(length, 3200), width, usually(height, 1200), {"booms", "Booms apart, middle to middle", 2400}, {"tail_x", "Station of the tailplane's leading edge", 4900}, usually(tailC, 700)}, twinBoom},
}

// piece makes a part: given are the fields of its shape with the sizes that each follows
// from; a field that follows from a proportion names none, and is assumed.
func (d sized) piece(name, usual, form string, given map[string][]string, s Shape) Part {
	s.Form = form
	if f, _ := FormOf(form); f.Sections > 0 {
		s.Assumed = []string{"sections"}
		return Part{name, usual, s}
	}
	f, _ := FormOf(form)
	for _, field := range f.Fields {
		sizes, from := given[field.Key]
		if !from || slices.ContainsFunc(sizes, func(k string) bool { return !d.stated[k] }) {
			s.Assumed = append(s.Assumed, field.Key)
		}
	}
	return Part{name, usual, s}
}

// pair is a part on the right and its mirror on the left, the left one first.
func pair(name string, right Part) []Part {
	left := right
	right.Name, left.Name = name+" right", name+" left"
	left.Shape = right.Shape.Mirrored()
	return []Part{left, right}
}

// wing is the spars, panels and ailerons of a wing: its root at half of a width, its
// leading edge at the root at x, its tip swept aft.
func (d sized) wing(half float64, halfFrom []string, sweep float64, sweepFrom []string, z float64) []Part {
	b, c, t, x := d.at("span")/2, d.at("chord"), d.at("tip"), d.at("wing_x")
	spar := d.piece("", "main-spar", "spar", map[string][]string{"inner": halfFrom, "outer": {"span"}}, Shape{X: x + 0.3*c, Z: z, Inner: half, Outer: b, Chord: 0.11 * c, Tip: 0.11 * t, Sweep: sweep + 0.3*(t-c)})
	panel := map[string][]string{"x": {"wing_x"}, "inner": halfFrom, "outer": {"span"}, "chord": {"chord"}, "tip_chord": {"tip"}}
	if sweepFrom != nil {
		panel["sweep"] = sweepFrom
	}
	out := pair("main spar", spar)
	out = append(out, pair("wing panel", d.piece("", "wing-panel", "surface", panel, Shape{X: x, Z: z, Inner: half, Outer: b, Chord: c, Tip: t, Sweep: sweep}))...)
	at := func(y float64) (trailing float64) {
		share := (y - half) / (b - half)
		return x + sweep*share + c + (t-c)*share
	}
	y1, y2 := half+0.5*(b-half), half+0.94*(b-half)
	return append(out, pair("aileron", d.piece("", "aileron", "surface", nil, Shape{X: at(y1) - 0.22*c, Z: z, Inner: y1, Outer: y2, Chord: 0.22 * c, Tip: 0.22 * c, Sweep: at(y2) - at(y1)}))...)
}

func (d sized) mount() Part {
	h, w := d.at("height"), d.at("width")/2
	return d.piece("engine mount", "mount", "mount", nil, Shape{Sections: []Section{{-320, 0.55 * w, 0.3 * h, 0.7 * h}, {0, 0.75 * w, 0.15 * h, 0.8 * h}}})
}

// tractor is an aircraft with its engine in front and its tail behind: the wing at a share
// of the fuselage's height, the tail at another, or on top of the fin.
func tractor(wingAt, tailAt float64, onFin bool) func(d sized) []Part {
	return func(d sized) []Part {
		l, h, w, c := d.at("length"), d.at("height"), d.at("width")/2, d.at("tail_chord")
		x := d.at("wing_x")
		fuselage := d.piece("fuselage", "boom", "body", nil, Shape{Sections: []Section{{0, 0.85 * w, 0, 0.85 * h}, {x, w, 0, h}, {x + 0.8*d.at("chord"), w, 0, h}, {l, 0.15 * w, 0.5 * h, 0.72 * h}}})
		out := append([]Part{d.mount(), fuselage}, d.wing(w, []string{"width"}, 0.25*(d.at("chord")-d.at("tip")), nil, wingAt*h)...)
		foot, tail, finX := 0.72*h, tailAt*h, l-1.05*c
		if onFin {
			tail = foot + d.at("fin")
		}
		b := d.at("tail_span") / 2
		out = append(out,
			d.piece("fin", "fin", "fin", map[string][]string{"rise": {"fin"}, "inner": {}}, Shape{X: finX, Z: foot, Rise: d.at("fin"), Chord: 0.75 * c, Tip: 0.5 * c, Sweep: 0.3 * c}),
			d.piece("rudder", "rudder", "fin", map[string][]string{"rise": {"fin"}, "inner": {}}, Shape{X: finX + 0.75*c, Z: foot, Rise: d.at("fin"), Chord: 0.4 * c, Tip: 0.32 * c, Sweep: 0.05 * c}),
			d.piece("tailplane", "tailplane", "surface", map[string][]string{"x": {"length", "tail_chord"}, "inner": {"tail_span"}, "outer": {"tail_span"}}, Shape{X: l - c, Z: tail, Inner: -b, Outer: b, Chord: 0.6 * c, Tip: 0.6 * c}))
		return append(out, pair("elevator", d.piece("", "elevator", "surface", map[string][]string{"inner": {}, "outer": {"tail_span"}}, Shape{X: l - 0.4*c, Z: tail, Inner: 0, Outer: b, Chord: 0.4 * c, Tip: 0.4 * c}))...)
	}
}

// canard is an aircraft with its engine behind and its smaller surface in front.
func canard(d sized) []Part {
	l, h := d.at("length"), d.at("height")
	w := 0.3 * h
	out := []Part{d.piece("fuselage", "boom", "body", nil, Shape{Sections: []Section{{0, 0.1 * w, 0.3 * h, 0.45 * h}, {0.35 * l, w, 0, h}, {0.75 * l, w, 0, h}, {l, 0.6 * w, 0.2 * h, 0.8 * h}}})}
	out = append(out, d.wing(w, []string{"width"}, d.at("sweep"), []string{"sweep"}, 0.35*h)...)
	b := d.at("span") / 2
	out = append(out, pair("winglet", d.piece("", "fin", "fin", map[string][]string{"inner": {"span"}, "x": {"wing_x", "sweep"}, "chord": {"tip"}}, Shape{X: d.at("wing_x") + d.at("sweep"), Z: 0.35 * h, Inner: b, Rise: 0.9 * h, Chord: d.at("tip"), Tip: 0.6 * d.at("tip"), Sweep: 0.5 * d.at("tip")}))...)
	f := d.at("fore_span") / 2
	out = append(out, d.piece("foreplane", "canard", "surface", map[string][]string{"x": {"fore_x"}, "inner": {"fore_span"}, "outer": {"fore_span"}, "chord": {"fore_chord"}, "tip_chord": {"fore_chord"}, "sweep": {}}, Shape{X: d.at("fore_x"), Z: 0.5 * h, Inner: -f, Outer: f, Chord: d.at("fore_chord"), Tip: d.at("fore_chord")}))
	return append(out, pair("elevator", d.piece("", "elevator", "surface", map[string][]string{"outer": {"fore_span"}}, Shape{X: d.at("fore_x") + 0.72*d.at("fore_chord"), Z: 0.5 * h, Inner: 0.15 * f, Outer: f, Chord: 0.28 * d.at("fore_chord"), Tip: 0.28 * d.at("fore_chord")}))...)
}

// twinBoom is an aircraft whose tail stands on two booms.
func twinBoom(d sized) []Part {
	l, h, w, c := d.at("length"), d.at("height"), d.at("width")/2, d.at("tail_chord")
	x, y, t := d.at("wing_x"), d.at("booms")/2, d.at("tail_x")
	out := []Part{d.piece("fuselage", "boom", "body", nil, Shape{Sections: []Section{{0, 0.5 * w, 0.2 * h, 0.7 * h}, {0.3 * l, w, 0, h}, {0.7 * l, w, 0, h}, {l, 0.5 * w, 0.25 * h, 0.75 * h}}}), d.mount()}
	out = append(out, d.wing(w, []string{"width"}, 0.25*(d.at("chord")-d.at("tip")), nil, 0.7*h)...)
	tube := 0.12 * h
	out = append(out, pair("boom", d.piece("", "boom", "tube", nil, Shape{X: x + 0.3*d.at("chord"), Chord: t + c - x - 0.3*d.at("chord"), Inner: y - tube/2, Outer: y + tube/2, Z: 0.7*h - tube/2, Rise: tube}))...)
	out = append(out, pair("fin", d.piece("", "fin", "fin", map[string][]string{"inner": {"booms"}}, Shape{X: t - 0.1*c, Z: 0.7 * h, Inner: y, Rise: 0.9 * h, Chord: 0.9 * c, Tip: 0.6 * c, Sweep: 0.35 * c}))...)
	out = append(out, d.piece("tailplane", "tailplane", "surface", map[string][]string{"x": {"tail_x"}, "inner": {"booms"}, "outer": {"booms"}}, Shape{X: t, Z: 0.75 * h, Inner: -y, Outer: y, Chord: 0.6 * c, Tip: 0.6 * c}))
	return append(out, d.piece("elevator", "elevator", "surface", map[string][]string{"inner": {"booms"}, "outer": {"booms"}}, Shape{X: t + 0.6*c, Z: 0.75 * h, Inner: -y, Outer: y, Chord: 0.4 * c, Tip: 0.4 * c}))
}
