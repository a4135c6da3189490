package app

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"time"

	"orpine/internal/core/hold"
	"orpine/internal/core/quantity"
	"orpine/internal/store"
)

// demo fills a workshop by the same use cases that the screens call, on a clock
// of its own.
type demo struct {
	app   *App
	clock time.Time
	step  time.Duration
	count int
	err   error
}

// FillDemo fills an empty workshop with the net loft's: two aircraft, Samphire
// S2 with its tailplane measured on the rails today.
func FillDemo(ctx context.Context, s *store.Store, now time.Time) error {
	d := &demo{step: time.Hour}
	d.app = New(s, func() time.Time { return d.clock })
	d.clock = now.AddDate(0, -14, 0)
	d.instruments(ctx)
	d.samphire(ctx)
	d.campion(ctx)
	d.clock = now.AddDate(0, 0, -6)
	d.do(d.app.ProveInstrument(ctx, NewProof{d.id(), "steel-tape-demo", "offset", []string{"1000", "1000"}}))
	d.test(ctx, "level-1-demo", "0.10", "-0.20")
	d.test(ctx, "level-2-demo", "0.11", "-0.17")
	d.clock = now.AddDate(0, 0, -5)
	d.boom(ctx)
	d.today(ctx, now)
	d.stands(ctx)
	d.stores(ctx)
	return d.err
}

// id makes the next id; do runs one use case and moves the clock on.
func (d *demo) id() string {
	d.count++
	return fmt.Sprintf("demo-%04d", d.count)
}

func (d *demo) do(err error) {
	if d.err == nil && err != nil {
		d.err = fmt.Errorf("filling the demo, step %d: %w", d.count, err)
	}
	d.clock = d.clock.Add(d.step)
}

func (d *demo) instruments(ctx context.Context) {
	for _, n := range []NewInstrument{
		{"level-1-demo", "level 1", "level", "0.05°", "0.1°", "0.03°", "", ""},
		{"level-2-demo", "level 2", "level", "0.01°", "0.05°", "0.015°", "", ""},
		{"steel-tape-demo", "5 m steel tape", "tape", "1 mm", "0.5 mm", "0.4 mm", "", "180"},
		{"inch-tape-demo", "inch tape", "tape", "1/32 in", "1/32 in", "0.4 mm", "", ""},
		{"rule-demo-600", "600 mm rule", "rule", "0.5 mm", "0.2 mm", "0.15 mm", "", ""},
		{"laser-demo", "laser level", "laser level", "0.5 mm", "1.0 mm", "0.3 mm", "", ""},
		{"feelers-demo", "feeler gauges", "gauge", "0.05 mm", "0.02 mm", "0.03 mm", "", ""},
		{"tailplane-board-demo", "tailplane board", "board", "", "", "", "0.40 up", ""},
		{"wing-board-demo", "wing board", "board", "", "", "", "0.25 up", ""},
		{"foreplane-board-demo", "foreplane board, 12 mm ply", "board", "", "", "", "0.00", ""},
	} {
		d.do(d.app.AddInstrument(ctx, n))
	}
}

func (d *demo) test(ctx context.Context, instrument, first, turned string) {
	d.do(d.app.TestInstrument(ctx, EndForEnd{ID: d.id(), Instrument: instrument, First: first, Turned: turned}))
}

const (
	samphireID  = "samphire-s2-demo"
	campionID   = "campion-c1-demo"
	tailplaneID = "tailplane-demo"
	railsID     = "tailplane-on-rails-demo"
)

func (d *demo) assembly(ctx context.Context, airframe, id, name, before string, shape Shape) {
	d.do(d.app.AddAssembly(ctx, NewAssembly{ID: id, Airframe: airframe, Name: name, Shape: shape, Before: before}))
}

func (d *demo) samphire(ctx context.Context) {
	d.do(d.app.AddAirframe(ctx, NewAirframe{samphireID, "Samphire S2", "two-seat touring motor glider, in the net loft since September last year", "mm"}))
	add := func(id, name, before string, shape Shape) { d.assembly(ctx, samphireID, id, name, before, shape) }
	add("centre-fuselage", "Centre fuselage", "", Shape{Form: "body", Sections: []Section{
		{0, 330, 0, 480}, {620, 500, -140, 760}, {1240, 560, -160, 960}, {1800, 470, -60, 820}, {2350, 300, 110, 500}}})
	add("engine-mount-demo", "Engine mount", "", Shape{Form: "mount", Sections: []Section{{-310, 140, 130, 330}, {0, 190, 60, 400}}})
	for _, side := range []struct {
		name string
		sign float64
	}{{"left", -1}, {"right", 1}} {
		add("wing-panel-"+side.name, "Wing panel, "+side.name, "", Shape{Form: "surface", X: 796, Z: 40, Inner: 450 * side.sign, Outer: 6200 * side.sign, Chord: 1180, Tip: 640, Sweep: 162, Rise: 301})
		add("main-spar-"+side.name, "Main spar, "+side.name, "", Shape{Form: "spar", X: 1106, Z: 40, Inner: 450 * side.sign, Outer: 6200 * side.sign, Chord: 88, Tip: 88, Rise: 301})
		add("aileron-"+side.name, "Aileron, "+side.name, "", Shape{Form: "surface", X: 1545, Z: 230, Inner: 4200 * side.sign, Outer: 6100 * side.sign, Chord: 180, Tip: 180, Sweep: -126, Rise: 100})
	}
	add("tail-boom-demo", "Tail boom", "", Shape{Form: "body", Sections: []Section{{2350, 300, 110, 500}, {2714, 274, 135, 496}, {3800, 200, 210, 470}, {5250, 110, 310, 420}}})
	add("fin-demo", "Fin", "", Shape{Form: "fin", X: 4790, Z: 420, Chord: 560, Tip: 420, Sweep: 640, Rise: 1310})
	add("rudder-demo", "Rudder", "", Shape{Form: "fin", X: 5350, Z: 330, Chord: 360, Tip: 250, Sweep: 500, Rise: 1330})
	add(tailplaneID, "Tailplane", "", Shape{Form: "surface", X: 5480, Z: 1745, Inner: -1440, Outer: 1440, Chord: 620, Tip: 620})
	add("tailplane-brackets", "Fin-top brackets", "", Shape{Form: "body", Sections: []Section{{5560, 120, 1660, 1730}, {5690, 120, 1660, 1730}}})
	add("elevator-left", "Elevator, left", "riveted and hung on five hinges", Shape{Form: "surface", X: 6110, Z: 1745, Inner: -20, Outer: -1440, Chord: 190, Tip: 190})
	add("elevator-right", "Elevator, right", "riveted and hung on five hinges", Shape{Form: "surface", X: 6110, Z: 1745, Inner: 20, Outer: 1440, Chord: 190, Tip: 190})
}

func (d *demo) campion(ctx context.Context) {
	d.do(d.app.AddAirframe(ctx, NewAirframe{campionID, "Campion C1", "single-seat composite canard", "mm"}))
	add := func(id, name string, shape Shape) { d.assembly(ctx, campionID, id, name, "", shape) }
	add("campion-fuselage", "Fuselage", Shape{Form: "body", Sections: []Section{{0, 180, 180, 420}, {820, 300, 60, 620}, {1900, 330, 20, 980}, {3100, 300, 90, 820}, {4000, 210, 220, 640}}})
	add("campion-foreplane", "Foreplane", Shape{Form: "surface", X: 700, Z: 520, Inner: -1550, Outer: 1550, Chord: 330, Tip: 330})
	add("campion-wing-left", "Main wing, left", Shape{Form: "surface", X: 2750, Z: 240, Inner: -260, Outer: -4100, Chord: 1100, Tip: 520, Sweep: 1250})
	add("campion-wing-right", "Main wing, right", Shape{Form: "surface", X: 2750, Z: 240, Inner: 260, Outer: 4100, Chord: 1100, Tip: 520, Sweep: 1250})
}

// today measures the tailplane on the rails, within this day.
func (d *demo) today(ctx context.Context, now time.Time) {
	midnight := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, now.Location())
	d.clock = now.Add(-2 * time.Hour)
	if d.clock.Before(midnight) {
		d.clock = midnight
	}
	d.step = now.Sub(d.clock) / 200
	d.test(ctx, "level-2-demo", "0.07", "-0.15")
	rails := OnRails{
		Supports: []string{"160", "1600", "3040"}, Apart: 700,
		Stations: []Station{{"left tip", "0"}, {"left middle", "720"}, {"centre", "1440"}, {"right middle", "2160"}, {"right tip", "2880"}},
		Low:      "-0.10", High: "0.10", Survey: "laser-demo", Level: "level-2-demo", Stock: []string{"0.3", "0.5", "1"},
	}
	d.do(d.app.BeginSetup(ctx, NewSetup{ID: railsID, Assembly: tailplaneID, Name: "on the rails", Checks: rails.Checks(), Hold: EndHoles("tailplane")}))
	survey, twist := railsID+"-check-0", railsID+"-check-1"
	// Heights of the supports above the laser line: L1, R1, L2, R2, L3, R3; two
	// supports were placed twice.
	for _, r := range []struct {
		number int
		text   string
	}{{1, "50.5"}, {1, "51"}, {2, "50"}, {3, "52.5"}, {3, "52"}, {4, "50"}, {5, "52"}, {6, "47.5"}} {
		d.read(ctx, survey, r.number, r.text, "laser-demo")
	}
	// At each station the tailplane, then the rails under it.
	for i, text := range []string{"0.05 up", "0.06 up", "0.14 up", "0.14 up", "0.23 up", "0.21 up", "0.31 up", "0.30 up", "0.39 up", "0.37 up"} {
		d.read(ctx, twist, i+1, text, "level-2-demo")
	}
}

// stands is where the other assemblies stand today.
func (d *demo) stands(ctx context.Context) {
	const level, rule = "level-2-demo", "rule-demo-600"
	// The fin leans by 0.065° ± 0.04°: one placing too few to be sure.
	d.measure(ctx, "fin", "fin-demo", "fin-upright-demo", "on the boom", map[string][2]string{"0.lean": {"-0.10", "0.10"}}, 0)
	for i, text := range []string{"0.00", "3.27", "3.14"} {
		d.readAs(ctx, "fin-upright-demo-check-0", i+1, text, level, "pinned")
	}
	// One pad is proud, and the thrust line is 0.35° off: a stop.
	d.measure(ctx, "mount", "engine-mount-demo", "mount-pads-demo", "on the firewall", map[string][2]string{"0.down_error": {"-0.25", "0.25"}, "0.right_error": {"-0.25", "0.25"}, "0.coplanarity": {"", "0.4"}}, 0)
	for i, text := range []string{"320.5", "307", "310", "295.5"} {
		d.readAs(ctx, "mount-pads-demo-check-0", i+1, text, rule, "clamped")
	}
	// The left spar is straight, and its hold is released.
	d.measure(ctx, "main-spar", "main-spar-left", "spar-left-demo", "on the bench", map[string][2]string{"0.bow": {"-2", "2"}}, 0)
	for i, text := range []string{"15", "15.5", "16", "15"} {
		d.readAs(ctx, "spar-left-demo-check-0", i+1, text, rule, "hands off")
	}
	d.do(d.app.Release(ctx, NewRelease{ID: d.id(), Hold: "spar-left-demo-hold", By: "builder"}))
	// The right tailplane bracket stands 0.8 mm high: 11 mm at the tips, a stop.
	d.measure(ctx, "tailplane", "tailplane-brackets", "tailplane-brackets-demo", "on the fin", map[string][2]string{"2.tip_difference": {"-5", "5"}}, 2)
	for i, text := range []string{"0.35", "1.15"} {
		d.readAs(ctx, "tailplane-brackets-demo-check-0", i+1, text, "feelers-demo", "clamped")
	}
	d.rib(ctx)
	d.joins(ctx)
	// The foreplane reads 3.5° hands off and 3.2° pushed down: it will not stay so.
	d.measure(ctx, "canard", "campion-foreplane", "foreplane-demo", "on the fuselage", map[string][2]string{"0.decalage": {"2.0", ""}}, 0)
	d.readAs(ctx, "foreplane-demo-check-0", 1, "3.5 up", level, "hands off")
	d.readAs(ctx, "foreplane-demo-check-0", 1, "3.2 up", level, "pushed by hand")
	d.readAs(ctx, "foreplane-demo-check-0", 2, "0.4 up", level, "hands off")
}

// joins are the tailplane on its fin, with one tape misread by an inch, and the
// foreplane, where nothing that was read shows the skew.
func (d *demo) joins(ctx context.Context) {
	begin := func(id, assembly, where, check string, values map[string]string, limits map[string][2]string) {
		filled := Filled{Values: values, Low: map[string]string{}, High: map[string]string{}}
		for quantity, l := range limits {
			filled.Low[quantity], filled.High[quantity] = l[0], l[1]
		}
		wrong := Problems{}
		form, _ := FormOf(map[bool]string{true: "join", false: "pose"}[values["pivots"] != ""])
		definition := form.definition(0, filled, quantity.Millimetre, wrong)
		d.do(wrong.err())
		d.do(d.app.BeginSetup(ctx, NewSetup{ID: id, Assembly: assembly, Name: where, Checks: []NewCheck{{Name: check, Definition: definition}}}))
	}
	t, _ := TemplateOf("join")
	values := maps.Clone(t.Checks[0].Usual)
	values["readings"] = "distance; boom root; tip L\ndistance; boom root; tip R\ndistance; firewall; tip L\ndistance; firewall; tip R\ndistance; sill L; tip R\ndistance; sill R; tip L\nheight; sill L; tip L\nheight; sill L; tip R\nheight; sill L; aft L\nheight; sill L; aft R\nroll; fore L; fore R\npitch; aft L; fore L"
	limits := map[string][2]string{"roll": {"-0.10", "0.10"}, "pitch": {"-0.15", "0.15"}, "yaw": {"-0.10", "0.10"}}
	begin("tailplane-join-demo", tailplaneID, "joined to the boom", "Join", values, limits)
	const tape, laser, level = "steel-tape-demo", "laser-demo", "level-2-demo"
	join := func(check string, readings [][2]string) {
		for i, r := range readings {
			d.do(d.app.TakeReading(ctx, NewReading{ID: d.id(), Check: check, Number: i + 1, Text: r[0], Instrument: r[1], Condition: "pinned", AsMeasured: true}))
		}
	}
	join("tailplane-join-demo-check-0", [][2]string{{"0.16 R", level}, {"0.21 up", level}, {"3686", tape}, {"3687", tape}, {"5921", tape}, {"5897", tape}, {"4442", tape}, {"4441", tape},
		{"1308.5", laser}, {"1297", laser}, {"1287.5", laser}, {"1283.5", laser}, {"0.19 R", level}, {"0.57 up", level}})
	several, _ := TemplateOf("joins")
	begin("fin-tail-join-demo", "fin-demo", "with the tailplane, on the boom", "Join", several.Checks[0].Usual, nil)
	join("fin-tail-join-demo-check-0", [][2]string{{"5921", tape}, {"5924", tape}, {"3686", tape}, {"3690", tape}, {"3315", tape}, {"3676", tape}, {"3664", tape}, {"3942", tape}, {"3941", tape}, {"3370", tape},
		{"3382", tape}, {"449", tape}, {"1319.5", laser}, {"1318", laser}, {"1303.5", laser}, {"9", laser}, {"479", laser}, {"0.02 L", level}, {"0.57 up", level}})
	foreplane := map[string]string{
		"datum":  "nose; 60; 0; 500\ncockpit L; 1650; -310; 430\ncockpit R; 1650; 310; 430\ntail hook; 4390; 0; 720",
		"points": "tip L; 830; -1550; 560\ntip R; 830; 1550; 560\npin L; 800; -240; 545\npin R; 800; 240; 545\npin; 800; 0; 545\nrear L; 1010; -240; 541\nrear R; 1010; 240; 541",
		"pivot":  "800; 0; 545", "level": "is true", "readings": "height; cockpit L; tip L\nheight; cockpit L; tip R\nheight; cockpit L; rear L\nheight; cockpit L; rear R\noffset; ; pin; x\noffset; ; pin; y",
	}
	begin("foreplane-join-demo", "campion-foreplane", "joined to the fuselage", "Join", foreplane, map[string][2]string{"roll": {"-0.15", "0.15"}, "pitch": {"-0.20", "0.20"}, "yaw": {"-0.15", "0.15"}})
	join("foreplane-join-demo-check-0", [][2]string{{"131", laser}, {"129", laser}, {"111.5", laser}, {"110.5", laser}, {"800.5", tape}, {"0.5", tape}})
}

// rib is the right aileron's, delivered under the right label: its holes lie as
// on the left one, where they should be mirrored.
func (d *demo) rib(ctx context.Context) {
	form, _ := FormOf("hand")
	wrong := Problems{}
	definition := form.definition(0, Filled{Values: map[string]string{"points": "nose hole\nspar, top\nspar, foot\ntail hole", "shape": "flat", "tolerance": "1", "expect": "mirrored"}}, quantity.Millimetre, wrong)
	d.do(wrong.err())
	d.do(d.app.BeginSetup(ctx, NewSetup{ID: "aileron-rib-demo", Assembly: "aileron-right", Name: "ribs as delivered",
		Checks: []NewCheck{{Name: "Rib 3 against the left one", Definition: definition, Instrument: "rule-demo-600"}},
		Hold: &NewHold{Name: "Rivet the ribs of the right aileron", Step: "rivet", Permanent: "ribs and spar of the right aileron", Why: "A rib of the wrong hand shows only when the skin will not lie on it.",
			Required: []hold.Requirement{{Need: hold.Shown, Check: "0"}}}}))
	for i, text := range []string{"15", "8", "60", "22", "60", "-14", "170", "3", "15.5", "8", "60", "22.5", "60", "-14", "169.5", "3"} {
		d.readAs(ctx, "aileron-rib-demo-check-0", i+1, text, "rule-demo-600", "hands off")
	}
}

// measure begins a setup of some of a template's checks, with its own figures and
// the given limits.
func (d *demo) measure(ctx context.Context, template, assembly, id, where string, limits map[string][2]string, checks ...int) {
	t, _ := TemplateOf(template)
	filled := make([]Filled, len(t.Checks))
	for i, c := range t.Checks {
		filled[i] = Filled{Take: slices.Contains(checks, i), Values: c.Usual, Low: map[string]string{}, High: map[string]string{}}
		for _, l := range c.Limits {
			limit := limits[fmt.Sprintf("%d.%s", i, l.Quantity)]
			filled[i].Low[l.Quantity], filled[i].High[l.Quantity] = limit[0], limit[1]
		}
	}
	n, wrong := t.Setup(id, assembly, where, quantity.Millimetre, filled)
	d.do(wrong.err())
	d.do(d.app.BeginSetup(ctx, n))
}

func (d *demo) readAs(ctx context.Context, check string, number int, text, instrument, condition string) {
	d.do(d.app.TakeReading(ctx, NewReading{ID: d.id(), Check: check, Number: number, Text: text, Instrument: instrument, Condition: condition}))
}

func (d *demo) read(ctx context.Context, check string, number int, text, instrument string) {
	d.readAs(ctx, check, number, text, instrument, "clamped")
}
