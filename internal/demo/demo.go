// Package demo fills an empty workshop with the net loft's: two aircraft, Samphire S2
// with its tailplane measured on the rails today. It does so by the same use cases
// that the screens call, so that it holds nothing that a builder could not enter.
package demo

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"

	"orpine/internal/airframe"
	"orpine/internal/core/check"
	"orpine/internal/core/hold"
	"orpine/internal/core/quantity"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/overview"
)

// space is where the ids of the demo come from.
var space = uuid.NewSHA1(uuid.NameSpaceOID, []byte("orpine demo"))

// ID is the id of a thing of the demo by its name.
func ID(name string) string { return uuid.NewSHA1(space, []byte(name)).String() }

// Check is the id of a check of a setup of the demo, by the setup's name and the
// number of the check, from 0.
func Check(setup string, number int) string {
	return ledger.Child(ID(setup), fmt.Sprintf("check %d", number))
}

// HoldOf is the id of the hold that a setup of the demo is measured for.
func HoldOf(setup string) string { return ledger.Child(ID(setup), "hold") }

// Clock tells the time while the demo is filled.
type Clock struct{ now time.Time }

// Now is the time that it shows.
func (c *Clock) Now() time.Time { return c.now }

// filling is a demo that is being filled.
type filling struct {
	*overview.Workshop
	clock *Clock
	step  time.Duration
	count int
	err   error

	ordered string // the day on which the part was ordered over the wire
}

// Fill fills an empty workshop, whose ledger must tell the time by the clock, up to a
// time.
func Fill(ctx context.Context, w *overview.Workshop, clock *Clock, now time.Time) error {
	d := &filling{Workshop: w, clock: clock, step: time.Hour}
	d.clock.now = now.AddDate(0, -14, 0)
	d.instruments(ctx)
	d.samphire(ctx)
	d.campion(ctx)
	d.history(ctx, now)
	d.years(ctx, now)
	d.bought(ctx, now)
	d.clock.now = now.AddDate(0, 0, -6)
	d.do(d.Instruments.Prove(ctx, instrument.NewProof{Form: d.form(), Instrument: ID("steel tape"), What: "offset", Texts: []string{"1000", "1000"}}))
	d.test(ctx, "level 1", "0.10", "-0.20")
	d.test(ctx, "level 2", "0.11", "-0.17")
	d.clock.now = now.AddDate(0, 0, -5)
	d.boom(ctx)
	d.today(ctx, now)
	d.stands(ctx)
	d.stores(ctx)
	d.order(ctx, now)
	d.asked(ctx, now)
	return d.err
}

// form is the next submission; named is one whose id is known by a name.
func (d *filling) form() ledger.Form {
	d.count++
	return named(fmt.Sprintf("submission %d", d.count))
}

func named(name string) ledger.Form { return ledger.Form{ID: ID(name)} }

// do notes how a use case went, and moves the clock on.
func (d *filling) do(err error) {
	if d.err == nil && err != nil {
		d.err = fmt.Errorf("filling the demo, after submission %d: %w", d.count, err)
	}
	d.clock.now = d.clock.now.Add(d.step)
}

func (d *filling) instruments(ctx context.Context) {
	for _, n := range []instrument.NewInstrument{
		{Form: named("level 1"), Name: "level 1", Sort: "level", Resolution: "0.05°", Offset: "0.1°", Spread: "0.03°"},
		{Form: named("level 2"), Name: "level 2", Sort: "level", Resolution: "0.01°", Offset: "0.05°", Spread: "0.015°"},
		{Form: named("steel tape"), Name: "5 m steel tape", Sort: "tape", Resolution: "1 mm", Class: "0.3 mm + 0.2 mm a metre", Offset: "0.5 mm", Spread: "0.4 mm", Weight: "20", Pull: "50", DueDays: "180"},
		{Form: named("inch tape"), Name: "inch tape", Sort: "tape", Resolution: "1/32 in", Offset: "1/32 in", Spread: "0.4 mm"},
		{Form: named("rule"), Name: "600 mm rule", Sort: "rule", Resolution: "0.5 mm", Offset: "0.2 mm", Spread: "0.15 mm"},
		{Form: named("laser"), Name: "laser level", Sort: "laser level", Resolution: "0.5 mm", Offset: "1.0 mm", Spread: "0.3 mm"},
		{Form: named("feelers"), Name: "feeler gauges", Sort: "gauge", Resolution: "0.05 mm", Offset: "0.02 mm", Spread: "0.03 mm"},
		{Form: named("tailplane board"), Name: "tailplane board", Sort: "board", Own: "0.40 up"},
		{Form: named("wing board"), Name: "wing board", Sort: "board", Own: "0.25 up"},
		{Form: named("foreplane board"), Name: "foreplane board, 12 mm ply", Sort: "board", Own: "0.00"},
	} {
		d.do(d.Instruments.Add(ctx, n))
	}
}

func (d *filling) test(ctx context.Context, name, first, turned string) {
	d.do(d.Instruments.Test(ctx, instrument.EndForEnd{Form: d.form(), Instrument: ID(name), First: first, Turned: turned}))
}

func (d *filling) assembly(ctx context.Context, frame, id, name, before string, shape airframe.Shape) {
	d.do(d.Airframes.AddAssembly(ctx, airframe.NewAssembly{Form: named(id), Airframe: ID(frame), Name: name, Shape: shape, Before: before}))
}

func (d *filling) samphire(ctx context.Context) {
	d.do(d.Airframes.Add(ctx, airframe.NewAirframe{Form: named("samphire"), Name: "Samphire S2", Description: "two-seat touring motor glider, in the net loft since September last year", Unit: "mm"}))
	add := func(id, name, before string, shape airframe.Shape) {
		d.assembly(ctx, "samphire", id, name, before, shape)
	}
	type sections = []airframe.Section
	add("centre fuselage", "Centre fuselage", "", airframe.Shape{Form: "body", Sections: sections{
		{X: 0, Half: 330, Bottom: 0, Top: 480}, {X: 620, Half: 500, Bottom: -140, Top: 760}, {X: 1240, Half: 560, Bottom: -160, Top: 960}, {X: 1800, Half: 470, Bottom: -60, Top: 820}, {X: 2350, Half: 300, Bottom: 110, Top: 500}}})
	add("engine mount", "Engine mount", "", airframe.Shape{Form: "mount", Sections: sections{{X: -310, Half: 140, Bottom: 130, Top: 330}, {X: 0, Half: 190, Bottom: 60, Top: 400}}})
	for _, side := range []struct {
		name string
		sign float64
	}{{"left", -1}, {"right", 1}} {
		add("wing panel "+side.name, "Wing panel, "+side.name, "", airframe.Shape{Form: "surface", X: 796, Z: 40, Inner: 450 * side.sign, Outer: 6200 * side.sign, Chord: 1180, Tip: 640, Sweep: 162, Rise: 301})
		add("main spar "+side.name, "Main spar, "+side.name, "", airframe.Shape{Form: "spar", X: 1106, Z: 40, Inner: 450 * side.sign, Outer: 6200 * side.sign, Chord: 88, Tip: 88, Rise: 301})
		add("aileron "+side.name, "Aileron, "+side.name, "", airframe.Shape{Form: "surface", X: 1545, Z: 230, Inner: 4200 * side.sign, Outer: 6100 * side.sign, Chord: 180, Tip: 180, Sweep: -126, Rise: 100})
	}
	add("tail boom", "Tail boom", "", airframe.Shape{Form: "body", Sections: sections{{X: 2350, Half: 300, Bottom: 110, Top: 500}, {X: 2714, Half: 274, Bottom: 135, Top: 496}, {X: 3800, Half: 200, Bottom: 210, Top: 470}, {X: 5250, Half: 110, Bottom: 310, Top: 420}}})
	add("fin", "Fin", "", airframe.Shape{Form: "fin", X: 4790, Z: 420, Chord: 560, Tip: 420, Sweep: 640, Rise: 1310})
	add("rudder", "Rudder", "", airframe.Shape{Form: "fin", X: 5350, Z: 330, Chord: 360, Tip: 250, Sweep: 500, Rise: 1330})
	add("tailplane", "Tailplane", "", airframe.Shape{Form: "surface", X: 5480, Z: 1745, Inner: -1440, Outer: 1440, Chord: 620, Tip: 620})
	add("tailplane brackets", "Fin-top brackets", "", airframe.Shape{Form: "body", Sections: sections{{X: 5560, Half: 120, Bottom: 1660, Top: 1730}, {X: 5690, Half: 120, Bottom: 1660, Top: 1730}}})
	add("elevator left", "Elevator, left", "riveted and hung on five hinges", airframe.Shape{Form: "surface", X: 6110, Z: 1745, Inner: -20, Outer: -1440, Chord: 190, Tip: 190})
	add("elevator right", "Elevator, right", "riveted and hung on five hinges", airframe.Shape{Form: "surface", X: 6110, Z: 1745, Inner: 20, Outer: 1440, Chord: 190, Tip: 190})
}

func (d *filling) campion(ctx context.Context) {
	d.do(d.Airframes.Add(ctx, airframe.NewAirframe{Form: named("campion"), Name: "Campion C1", Description: "single-seat composite canard", Unit: "mm"}))
	add := func(id, name string, shape airframe.Shape) { d.assembly(ctx, "campion", id, name, "", shape) }
	add("campion fuselage", "Fuselage", airframe.Shape{Form: "body", Sections: []airframe.Section{{X: 0, Half: 180, Bottom: 180, Top: 420}, {X: 820, Half: 300, Bottom: 60, Top: 620}, {X: 1900, Half: 330, Bottom: 20, Top: 980}, {X: 3100, Half: 300, Bottom: 90, Top: 820}, {X: 4000, Half: 210, Bottom: 220, Top: 640}}})
	add("foreplane", "Foreplane", airframe.Shape{Form: "surface", X: 700, Z: 520, Inner: -1550, Outer: 1550, Chord: 330, Tip: 330})
	add("campion wing left", "Main wing, left", airframe.Shape{Form: "surface", X: 2750, Z: 240, Inner: -260, Outer: -4100, Chord: 1100, Tip: 520, Sweep: 1250})
	add("campion wing right", "Main wing, right", airframe.Shape{Form: "surface", X: 2750, Z: 240, Inner: 260, Outer: 4100, Chord: 1100, Tip: 520, Sweep: 1250})
}

// today measures the tailplane on the rails, within this day.
func (d *filling) today(ctx context.Context, now time.Time) {
	midnight := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, now.Location())
	d.clock.now = now.Add(-2 * time.Hour)
	if d.clock.now.Before(midnight) {
		d.clock.now = midnight
	}
	d.step = now.Sub(d.clock.now) / 200
	d.test(ctx, "level 2", "0.07", "-0.15")
	rails := measuring.OnRails{Lies: "held", ByLevel: true,
		Supports: []string{"160", "1600", "3040"}, Apart: 700,
		Stations: []measuring.Station{{Name: "left tip", Y: "0"}, {Name: "left middle", Y: "720"}, {Name: "centre", Y: "1440"}, {Name: "right middle", Y: "2160"}, {Name: "right tip", Y: "2880"}},
		Low:      "-0.10", High: "0.10", Survey: ID("laser"), Level: ID("level 2"), Stock: []string{"0.3", "0.5", "1"},
	}
	d.do(d.Measuring.Begin(ctx, measuring.NewSetup{Form: named("tailplane on rails"), Assembly: ID("tailplane"), Name: "on the rails", Checks: rails.Checks(), Hold: measuring.EndHoles("tailplane")}))
	// Heights of the supports above the laser line: L1, R1, L2, R2, L3, R3; two
	// supports were placed twice.
	for _, r := range []reading{{1, "50.5", "laser"}, {1, "51", "laser"}, {2, "50", "laser"}, {3, "52.5", "laser"}, {3, "52", "laser"}, {4, "50", "laser"}, {5, "52", "laser"}, {6, "47.5", "laser"}} {
		d.read(ctx, "tailplane on rails", 0, r, "clamped")
	}
	// At each station the tailplane, then the rails under it.
	for i, text := range []string{"0.05 up", "0.06 up", "0.14 up", "0.14 up", "0.23 up", "0.21 up", "0.31 up", "0.30 up", "0.39 up", "0.37 up"} {
		d.read(ctx, "tailplane on rails", 1, reading{i + 1, text, "level 2"}, "clamped")
	}
}

// stands is where the other assemblies stand today.
func (d *filling) stands(ctx context.Context) {
	list := func(setup, tool, condition string, texts ...string) {
		for i, text := range texts {
			d.read(ctx, setup, 0, reading{i + 1, text, tool}, condition)
		}
	}
	// The fin leans by 0.065° ± 0.04°: one placing too few to be sure.
	d.measure(ctx, "fin", "fin", "fin upright", "on the boom", map[string][2]string{"0.lean": {"-0.10", "0.10"}}, 0)
	list("fin upright", "level 2", "pinned", "0.00", "3.27", "3.14")
	// One pad is proud, and the thrust line is 0.35° off: a stop.
	d.measure(ctx, "mount", "engine mount", "mount pads", "on the firewall", map[string][2]string{"0.down_error": {"-0.25", "0.25"}, "0.right_error": {"-0.25", "0.25"}, "0.coplanarity": {"", "0.4"}}, 0)
	list("mount pads", "rule", "clamped", "320.5", "307", "310", "295.5")
	// The left spar is straight, and its hold is released.
	d.measure(ctx, "main-spar", "main spar left", "spar left", "on the bench", map[string][2]string{"0.bow": {"-2", "2"}}, 0)
	list("spar left", "rule", "hands off", "15", "15.5", "16", "15")
	d.release(ctx, HoldOf("spar left"))
	// The right tailplane bracket stands 0.8 mm high: 11 mm at the tips, a stop.
	d.measure(ctx, "tailplane", "tailplane brackets", "brackets", "on the fin", map[string][2]string{"2.tip_difference": {"-5", "5"}}, 2)
	list("brackets", "feelers", "clamped", "0.35", "1.15")
	d.rib(ctx)
	d.joins(ctx)
	// The foreplane reads 3.5° hands off and 3.2° pushed down: it will not stay so.
	d.measure(ctx, "canard", "foreplane", "foreplane on fuselage", "on the fuselage", map[string][2]string{"0.decalage": {"2.0", ""}}, 0)
	d.read(ctx, "foreplane on fuselage", 0, reading{1, "3.5 up", "level 2"}, "hands off")
	d.read(ctx, "foreplane on fuselage", 0, reading{1, "3.2 up", "level 2"}, "pushed by hand")
	d.read(ctx, "foreplane on fuselage", 0, reading{2, "0.4 up", "level 2"}, "hands off")
}

// release releases a hold on the evidence as it is.
func (d *filling) release(ctx context.Context, id string) {
	h, err := d.Holding.Hold(ctx, id)
	if err != nil {
		d.do(err)
		return
	}
	d.do(d.Holding.Release(ctx, holding.NewRelease{Form: d.form(), Hold: id, Shown: h.Judgement.Digest(), By: "builder"}))
}

// joins are the tailplane on its fin, with one tape misread by an inch, and the
// foreplane, where nothing that was read shows the skew.
func (d *filling) joins(ctx context.Context) {
	begin := func(id, assembly, where, kind string, values map[string]string, limits map[string][2]string) {
		filled := measuring.Filled{Values: values, Low: map[string]string{}, High: map[string]string{}}
		for quantity, l := range limits {
			filled.Low[quantity], filled.High[quantity] = l[0], l[1]
		}
		d.begin(ctx, id, assembly, where, "Join", kind, filled)
	}
	join := func(setup string, readings ...[2]string) {
		for i, r := range readings {
			n := d.reading(ctx, setup, 0, reading{i + 1, r[0], r[1]}, "pinned")
			n.AsMeasured = true
			d.do(d.Measuring.Take(ctx, n))
		}
	}
	usual, _ := measuring.UsualOf("join")
	values := maps.Clone(usual.Checks[0].Usual)
	values["datum_u"], values["points_u"] = datumU, marksU
	values["readings"] = "distance; boom root; tip L\ndistance; boom root; tip R\ndistance; firewall; tip L\ndistance; firewall; tip R\ndistance; sill L; tip R\ndistance; sill R; tip L\nheight; sill L; tip L\nheight; sill L; tip R\nheight; sill L; aft L\nheight; sill L; aft R\nroll; fore L; fore R\npitch; aft L; fore L\noffset; ; fore L; y"
	begin("tailplane join", "tailplane", "joined to the boom", "pose", values, map[string][2]string{"roll": {"-0.10", "0.10"}, "pitch": {"-0.15", "0.15"}, "yaw": {"-0.10", "0.10"}})
	const tape, laser, level = "steel tape", "laser", "level 2"
	join("tailplane join", [2]string{"0.16 R", level}, [2]string{"0.21 up", level}, [2]string{"3686", tape}, [2]string{"3687", tape}, [2]string{"5921", tape}, [2]string{"5897", tape}, [2]string{"4442", tape}, [2]string{"4441", tape},
		[2]string{"1308.5", laser}, [2]string{"1297", laser}, [2]string{"1287.5", laser}, [2]string{"1283.5", laser}, [2]string{"0.19 R", level}, [2]string{"0.57 up", level}, [2]string{"-105", tape})
	several, _ := measuring.UsualOf("joins")
	values = maps.Clone(several.Checks[0].Usual)
	values["datum_u"], values["points_u"] = datumU, marksU
	begin("fin and tail join", "fin", "with the tailplane, on the boom", "join", values, nil)
	join("fin and tail join", [2]string{"5921", tape}, [2]string{"5924", tape}, [2]string{"3686", tape}, [2]string{"3690", tape}, [2]string{"3315", tape}, [2]string{"3676", tape}, [2]string{"3664", tape}, [2]string{"3942", tape}, [2]string{"3941", tape}, [2]string{"3370", tape},
		[2]string{"3382", tape}, [2]string{"449", tape}, [2]string{"1319.5", laser}, [2]string{"1318", laser}, [2]string{"1303.5", laser}, [2]string{"9", laser}, [2]string{"479", laser}, [2]string{"0.02 L", level}, [2]string{"0.57 up", level})
	begin("foreplane join", "foreplane", "joined to the fuselage", "pose", map[string]string{
		"datum":  "nose; 60; 0; 500\ncockpit L; 1650; -310; 430\ncockpit R; 1650; 310; 430\ntail hook; 4390; 0; 720",
		"points": "tip L; 830; -1550; 560\ntip R; 830; 1550; 560\npin L; 800; -240; 545\npin R; 800; 240; 545\npin; 800; 0; 545\nrear L; 1010; -240; 541\nrear R; 1010; 240; 541",
		"pivot":  "800; 0; 545", "level": "is true", "datum_u": datumU, "points_u": marksU, "readings": "height; cockpit L; tip L\nheight; cockpit L; tip R\nheight; cockpit L; rear L\nheight; cockpit L; rear R\noffset; ; pin; x\noffset; ; pin; y",
	}, map[string][2]string{"roll": {"-0.15", "0.15"}, "pitch": {"-0.20", "0.20"}, "yaw": {"-0.15", "0.15"}})
	join("foreplane join", [2]string{"131", laser}, [2]string{"129", laser}, [2]string{"111.5", laser}, [2]string{"110.5", laser}, [2]string{"800.5", tape}, [2]string{"0.5", tape})
}

// Points on the airframes lie within 1 mm, marks within 0.5 mm: u is half of that.
const (
	datumU = "0.5 mm"
	marksU = "0.25 mm"
)

// begin begins a setup of one check, from its form.
func (d *filling) begin(ctx context.Context, id, assembly, where, name, kind string, filled measuring.Filled) {
	d.do(d.Measuring.Begin(ctx, measuring.NewSetup{Form: named(id), Assembly: ID(assembly), Name: where, Checks: []measuring.NewCheck{{Name: name, Definition: d.defined(kind, filled)}}}))
}

func (d *filling) defined(kind string, filled measuring.Filled) map[string]any {
	form, _ := measuring.FormOf(kind)
	wrong := ledger.Problems{}
	definition := form.Definition(0, filled, quantity.Millimetre, wrong)
	if err := wrong.Err(); err != nil && d.err == nil {
		d.err = err
	}
	return definition
}

// rib is the right aileron's, delivered under the right label: its holes lie as
// on the left one, where they should be mirrored.
func (d *filling) rib(ctx context.Context) {
	definition := d.defined("hand", measuring.Filled{Values: map[string]string{"points": "nose hole\nspar, top\nspar, foot\ntail hole", "shape": "flat", "tolerance": "1", "expect": "mirrored"}})
	d.do(d.Measuring.Begin(ctx, measuring.NewSetup{Form: named("aileron rib"), Assembly: ID("aileron right"), Name: "ribs as delivered",
		Checks: []measuring.NewCheck{{Name: "Rib 3 against the left one", Definition: definition, Instrument: ID("rule")}},
		Hold: &gate.NewHold{Name: "Rivet the ribs of the right aileron", Step: "rivet", Permanent: "ribs and spar of the right aileron", Why: "A rib of the wrong hand shows only when the skin will not lie on it.",
			Required: []hold.Requirement{{Need: hold.Shown, Check: "0"}}}}))
	for i, text := range []string{"15", "8", "60", "22", "60", "-14", "170", "3", "15.5", "8", "60", "22.5", "60", "-14", "169.5", "3"} {
		d.read(ctx, "aileron rib", 0, reading{i + 1, text, "rule"}, "hands off")
	}
}

// measure begins a setup of some of the usual checks, with their own figures and
// the given limits.
func (d *filling) measure(ctx context.Context, usual, assembly, id, where string, limits map[string][2]string, checks ...int) {
	u, _ := measuring.UsualOf(usual)
	filled := make([]measuring.Filled, len(u.Checks))
	for i, c := range u.Checks {
		filled[i] = measuring.Filled{Take: slices.Contains(checks, i), Values: c.Usual, Low: map[string]string{}, High: map[string]string{}}
		for _, l := range c.Limits {
			limit := limits[fmt.Sprintf("%d.%s", i, l.Quantity)]
			filled[i].Low[l.Quantity], filled[i].High[l.Quantity] = limit[0], limit[1]
		}
	}
	n, wrong := u.Setup(named(id), airframe.Assembly{ID: ID(assembly)}, where, quantity.Millimetre, filled)
	d.do(wrong.Err())
	d.do(d.Measuring.Begin(ctx, n))
}

// reading is one reading: the number of its spot, its text, the name of its
// instrument.
type reading struct {
	number int
	text   string
	tool   string
}

func (d *filling) read(ctx context.Context, setup string, number int, r reading, condition string) {
	d.do(d.Measuring.Take(ctx, d.reading(ctx, setup, number, r, condition)))
}

// reading makes the submission, from what is shown at its spot.
func (d *filling) reading(ctx context.Context, setup string, number int, r reading, condition string) measuring.NewReading {
	n := measuring.NewReading{Form: d.form(), Check: Check(setup, number), State: 1, Text: r.text, Instrument: ID(r.tool), Condition: condition}
	s, err := d.Workshop.Setup(ctx, ID(setup), n.Check, r.number)
	if err != nil && d.err == nil {
		d.err = err
	}
	n.Spot, n.Last = s.Spot.Key(), last(s.Spot)
	return n
}

// last is the last reading that counts at a spot, "" for none.
func last(s check.Spot) string {
	if counting := s.Counting(); len(counting) > 0 {
		return counting[len(counting)-1].ID
	}
	return ""
}
