// Package practice is the exercises of the trainer: each draws a hidden part from a seed, says what
// there is to read it with, and knows what was true. What may be done with it is decided by
// whoever plays; a hole cannot be undrilled.
package practice

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"

	"orpine/internal/core/say"
	"orpine/internal/core/sim"
)

// Exercise is one lesson; every seed makes another part of it.
type Exercise struct {
	ID, Title string
	Task      string // what is to be decided, told before
	Lesson    string // told afterwards
	scene     func(r *rand.Rand) Scene
}

// Scene is a part with what is known of it.
type Scene struct {
	Part   string // what it is
	Step   string // what would be permanent
	Tools  []Tool
	Checks []Check
	Given  []Given // readings that someone took already
	Good   bool    // it may be drilled
	Truth  string  // what was true, in a sentence
	Story  string  // what is known of this part beside the task
	Spots  []Spot
	Cure   *Cure    // of a lay-up that hardens; nil for others
	Row    *Row     // of a row that is riveted
	Night  *Evening // of a helper's evening
}

// Cure is a lay-up with its maker's table.
type Cure struct {
	Table       string  // as it is typed on Coats and cures
	Ago         float64 // hours since it was laid
	Temperature int     // °C, of the shop since
}

// Row is a row of holes of which one stays open.
type Row struct {
	Holes, Kept int
	Part        string // that needs it later
}

// Evening is a helper's visit, and whether what is proposed for it can be done by two.
type Evening struct {
	Steps []string // lines as on the Order sheet
	Hours float64
}

// Tool is an instrument as its card describes it, and its hidden zero.
type Tool struct {
	Name, Sort                 string
	Resolution, Offset, Spread string
	Zero                       float64 // degrees, of a level
}

// Check is a check to be measured: a worksheet check without readings.
type Check struct {
	Name       string
	Definition map[string]any
	Tool       int
}

// Spot is one spot with its true value, in mm or degrees.
type Spot struct {
	Check              int
	List, Point, Field string
	True               float64
	Angle              bool
	Tool               int // that lies there
}

// Given is a reading that was taken before: by a helper, as it was written down.
type Given struct {
	Spot      int // of Spots
	Text      string
	Condition string
}

// Scene draws the exercise of a seed.
func (e Exercise) Scene(seed uint64) Scene {
	return e.scene(rand.New(rand.NewPCG(seed, 0x9e3779b97f4a7c15)))
}

// Exercises are all of them, from easy to hard.
var Exercises = []Exercise{
	{"rails-or-part", "Rails or part", "The tailplane lies held down on two rails. It may be twisted by " + degrees(0.10) + " at most. Drill its end holes, or leave it?",
		"What is held down takes the shape of what it lies on: read the rails under every station as well. The difference is the part's.", railsOrPart},
	{"never-turned", "The level never turned", "The tailplane's roll against the fuselage is read by two levels, one on each, that were never compared. ±" + degrees(0.10) + " is allowed. Drill the brackets?",
		"A level shows its own zero as well. Turned end for end on one spot, half of the sum is the zero; then it is believed.", neverTurned},
	{"one-pair", "One pair of tapes", "Is the tailplane square to the boom? The tips are taped from the firewall and from the boom root; ±" + degrees(0.15) + " of skew is allowed. Drill the front pins?",
		"One pair of tapes cannot tell a skew from a shift to one side. A second pair, from another station, can.", onePair},
	{"misread-inch", "The misread figure", "The helper taped the tips from three stations, and the tapes do not agree. ±" + degrees(0.15) + " of skew is allowed. Drill the front pins?",
		"A figure that stands alone against all others is read again before anything is concluded from it: a good part is refused as easily as a bad one is drilled.", misread},
	{"marks-that-lie", "Marks that lie", "The tips are taped from two datum points; they may differ by " + say.Written(4).String() + ". The marks themselves are to stand at their planned distances. Drill?",
		"A reading is no better than the mark that it begins at. Measure between the marks first.", marksThatLie},
	{"which-next", "Which reading next", "The level in the shop is coarse: one round decides nothing. ±" + degrees(0.10) + " of twist is allowed. Which reading next, and when is it enough? Drill, or leave it?",
		"One more placing where the answer rests most is worth more than another round everywhere; and when the ± does not decide, nobody has decided.", whichNext},
	{"kept-hole", "The kept hole", "A row of the boom is to be set. One of its holes belongs to a part that comes later. Mark it, set the others under a released hold, and close up.",
		"What a later part needs is marked before the first rivet goes in, counted from the end that the plans count from. A kept hole is crossed out; nobody sets it by habit.", keptHole},
	{"wrong-hand", "The wrong-hand rib", "Rib 3 of the right aileron came under a right label. Compare it with the left one, hole by hole. Rivet it in?",
		"A label says what was meant. Two points more than a flat part can lie about say which hand it is.", wrongHand},
	{"wet-lay-up", "The wet lay-up", "A lay-up lies in its mould. Take it out, or leave it?",
		"A maker's table holds for the temperature that it names. In a cold shop a day is not a day: start the clock with the shop's temperature, and believe it.", wetLayUp},
	{"helpers-evening", "The helper's evening", "A helper comes tonight, and you have something in mind for the two of you. Do it so, or not?",
		"An evening with a helper holds what two can do in it, in an order that works: what comes before must be done, and what hardens is left alone.", helpersEvening},
	{"pushed-straight", "The flexible aileron pushed straight", "The aileron is flexible. The helper pushed it down and read it straight as a die. " + degrees(0.10) + " is allowed. Drill the hinges?",
		"A part that is pushed into shape by hand shows the hand. Read it hands off; what it does then is what it will do in the air.", pushedStraight},
	{"do-not-drill", "Do not drill", "Everything is read, everybody waits, and it is just about right. " + degrees(0.10) + " is the limit. Drill?",
		"Just about right is not inside the limit. The hole can wait a day; it cannot be undone in one.", doNotDrill},
}

// Of finds an exercise.
func Of(id string) (Exercise, bool) {
	for _, e := range Exercises {
		if e.ID == id {
			return e, true
		}
	}
	return Exercise{}, false
}

// Hidden is the part of a scene for an instrument to read.
func (s Scene) Hidden() (sim.Hidden, error) {
	var spots []sim.HiddenSpot
	for _, p := range s.Spots {
		unit := "mm"
		if p.Angle {
			unit = "deg"
		}
		spots = append(spots, sim.HiddenSpot{List: p.List, Point: p.Point, Field: p.Field, True: strconv.FormatFloat(p.True, 'f', 4, 64), Unit: unit})
	}
	h, _, err := sim.NewHidden(s.Part, spots)
	return h, err
}

// The instruments of the trainer.
func level2(zero float64) Tool {
	return Tool{Name: "level 2", Sort: "level", Resolution: "0.01", Offset: "0.02", Spread: "0.015", Zero: zero}
}

func level1(zero float64) Tool {
	return Tool{Name: "level 1", Sort: "level", Resolution: "0.05", Offset: "0.02", Spread: "0.03", Zero: zero}
}

var (
	tape = Tool{Name: "steel tape", Sort: "tape", Resolution: "1 mm", Offset: "0.5 mm", Spread: "0.4 mm"}
	rule = Tool{Name: "600 mm rule", Sort: "rule", Resolution: "0.5 mm", Offset: "0.1 mm", Spread: "0.15 mm"}
)

// either draws whether the part is good, and a value that is well inside of a limit or outside it.
func either(r *rand.Rand, inside, outside float64) (good bool, v float64) {
	if good = r.Float64() < 0.5; good {
		return true, inside * (2*r.Float64() - 1)
	}
	v = outside * (1 + 0.5*r.Float64())
	if r.Float64() < 0.5 {
		v = -v
	}
	return false, v
}

func within(low, high string) map[string]any { return map[string]any{"low": low, "high": high} }

// degrees is an angle of a task.
func degrees(v float64) say.Text { return say.Angle(v).String() }

func signed(v float64) say.Text { return say.Angle(v).Signed().String() }

// stationNames are the five of a tailplane.
var stationNames = []string{"left tip", "left middle", "centre", "right middle", "right tip"}

// twisted is a surface of five stations, held down to rails or not.
func twisted(tool Tool, part string, span, own, rails, base float64, held bool) Scene {
	s := Scene{Part: part, Tools: []Tool{tool}}
	var stations []any
	for i, name := range stationNames {
		share := float64(i) / 4
		stations = append(stations, map[string]any{"name": name, "y": strconv.FormatFloat(share*span, 'f', 0, 64)})
		s.Spots = append(s.Spots, Spot{List: "stations", Point: name, Field: "angle", True: base + (own+rails)*share, Angle: true})
		if held {
			s.Spots = append(s.Spots, Spot{List: "stations", Point: name, Field: "support", True: base + rails*share, Angle: true})
		}
	}
	s.Checks = []Check{{Name: "Twist", Definition: map[string]any{"kind": "twist", "held": held, "tip_spacing": "620", "stations": stations, "limits": map[string]any{"twist": within("-0.10", "0.10")}}}}
	return s
}

func railsOrPart(r *rand.Rand) Scene {
	good, own := either(r, 0.02, 0.2)
	rails := (0.25 + 0.15*r.Float64()) * float64(1-2*r.IntN(2))
	s := twisted(level2(0.15*r.NormFloat64()), "tailplane", 2880, own, rails, 0.1*r.NormFloat64(), true)
	s.Step, s.Good = "the end holes at both tips", good
	s.Truth = fmt.Sprintf("The rails were twisted by %s, and the part by %s.", signed(rails), signed(own))
	return s
}

func neverTurned(r *rand.Rand) Scene {
	good, roll := either(r, 0.02, 0.2)
	zero := (0.2 + 0.2*r.Float64()) * float64(1-2*r.IntN(2))
	other := level2(0.05 * r.NormFloat64())
	other.Name = "level 3"
	s := Scene{Part: "tailplane", Step: "the brackets on the fin", Tools: []Tool{level2(zero), other}, Good: good}
	s.Checks = []Check{{Name: "Roll", Definition: map[string]any{"kind": "level", "span": "2880", "limits": map[string]any{"roll": within("-0.10", "0.10")}}}}
	datum := 0.1 * r.NormFloat64()
	s.Spots = []Spot{{Field: "datum", True: datum, Angle: true}, {Field: "part", True: datum + roll, Angle: true}}
	s.Spots[0].Tool = 1
	s.Truth = fmt.Sprintf("It was rolled by %s. Level 2 showed %s on a level surface, level 3 %s.", signed(roll), signed(zero), signed(other.Zero))
	return s
}

// datum is a point on the middle line that tips are taped from.
type datum struct {
	name string
	x    float64
}

// squared is a tailplane taped from points on the middle line: skewed by degrees, and shifted to the
// right by mm.
func squared(skew, shift float64, data []datum) Scene {
	s := Scene{Part: "tailplane", Tools: []Tool{tape}}
	const station, half = 5480.0, 1440.0
	sin, cos := math.Sincos(skew * math.Pi / 180)
	var from []any
	for _, d := range data {
		from = append(from, map[string]any{"name": d.name, "x": strconv.FormatFloat(d.x, 'f', 0, 64)})
		for _, side := range []struct {
			field string
			sign  float64
		}{{"left", -1}, {"right", 1}} {
			x, y := station-d.x+side.sign*half*sin, side.sign*half*cos+shift
			s.Spots = append(s.Spots, Spot{List: "from", Point: d.name, Field: side.field, True: math.Hypot(x, y)})
		}
	}
	s.Checks = []Check{{Name: "Square", Definition: map[string]any{"kind": "square", "station": "5480", "half_span": "1440", "from": from, "limits": map[string]any{"skew": within("-0.15", "0.15")}}}}
	return s
}

func onePair(r *rand.Rand) Scene {
	good, skew := either(r, 0.02, 0.28)
	shift := (16 + 10*r.Float64()) * float64(1-2*r.IntN(2)) // which is allowed
	s := squared(skew, shift, []datum{{"firewall", 0}, {"boom root", 2350}})
	s.Step, s.Good = "the front pins", good
	s.Truth = fmt.Sprintf("It was skewed by %s, and lay %s to one side, which does no harm.", signed(skew), say.Length(math.Abs(shift)))
	return s
}

func misread(r *rand.Rand) Scene {
	good, skew := either(r, 0.02, 0.28)
	s := squared(skew, 2*r.NormFloat64(), []datum{{"firewall", 0}, {"sill", 1240}, {"boom root", 2350}})
	s.Step, s.Good = "the front pins", good
	wrong := r.IntN(len(s.Spots))
	for i, spot := range s.Spots {
		shown := math.Round(spot.True + 0.4*r.NormFloat64())
		if i == wrong {
			shown += 25
		}
		s.Given = append(s.Given, Given{Spot: i, Text: strconv.FormatFloat(shown, 'f', 0, 64)})
	}
	s.Truth = fmt.Sprintf("It was skewed by %s; the helper misread the tape from the %s to the %s tip by an inch.", signed(skew), s.Spots[wrong].Point, s.Spots[wrong].Field)
	return s
}

func marksThatLie(r *rand.Rand) Scene {
	good := r.Float64() < 0.5
	lie := 0.0
	if !good {
		lie = (6 + 4*r.Float64()) * float64(1-2*r.IntN(2))
	}
	s := Scene{Part: "wing", Step: "the rear spar pins", Tools: []Tool{tape}, Good: good}
	// a mark that stands aft hides that the wing is skewed: the tapes agree
	var pairs []any
	for _, p := range []struct {
		name string
		long float64
	}{{"tip to fin post", 7420}, {"tip to firewall", 6280}} {
		pairs = append(pairs, map[string]any{"name": p.name})
		d := 0.4 * r.NormFloat64()
		s.Spots = append(s.Spots, Spot{List: "pairs", Point: p.name, Field: "left", True: p.long + d}, Spot{List: "pairs", Point: p.name, Field: "right", True: p.long - d})
	}
	s.Checks = []Check{{Name: "Tips", Definition: map[string]any{"kind": "pairs", "pairs": pairs, "limits": map[string]any{"difference": within("-4", "4")}}},
		{Name: "Between the marks", Definition: map[string]any{"kind": "length", "design": "3650", "limits": map[string]any{"error": within("-3", "3")}}}}
	s.Spots = append(s.Spots, Spot{Check: 1, Field: "measured", True: 3650 + lie + 0.3*r.NormFloat64()})
	s.Truth = "The marks stood where they are planned, and the wing was right."
	if !good {
		s.Truth = fmt.Sprintf("The right mark stood %s off its plan: the tapes agreed, and the wing was skewed by as much.", say.Length(math.Abs(lie)))
	}
	return s
}

func whichNext(r *rand.Rand) Scene {
	good, own := either(r, 0.01, 0.24)
	s := twisted(level1(0.1*r.NormFloat64()), "tailplane", 2880, own, 0, 0.1*r.NormFloat64(), false)
	s.Step, s.Good = "the end holes at both tips", good
	s.Truth = fmt.Sprintf("It was twisted by %s.", signed(own))
	return s
}

func wrongHand(r *rand.Rand) Scene {
	good := r.Float64() < 0.5
	s := Scene{Part: "aileron rib 3", Step: "the rib in the aileron", Tools: []Tool{rule}, Good: good}
	left := [][2]float64{{15, 8}, {60, 22}, {60, -14}, {170, 3}}
	var first, second []any
	for i, name := range []string{"nose hole", "spar, top", "spar, foot", "tail hole"} {
		first, second = append(first, map[string]any{"name": name}), append(second, map[string]any{"name": name})
		y := left[i][1]
		if good {
			y = -y // a right rib is the left one, mirrored
		}
		e := func() float64 { return 0.2 * r.NormFloat64() }
		s.Spots = append(s.Spots, Spot{List: "first", Point: name, Field: "x", True: left[i][0]}, Spot{List: "first", Point: name, Field: "y", True: left[i][1]},
			Spot{List: "second", Point: name, Field: "x", True: left[i][0] + e()}, Spot{List: "second", Point: name, Field: "y", True: y + e()})
	}
	s.Checks = []Check{{Name: "Against the left one", Definition: map[string]any{"kind": "hand", "tolerance": "1", "expect": "mirrored", "first": first, "second": second}}}
	s.Truth = map[bool]string{true: "It was a right one, as its label says.", false: "It was a left one under a right label."}[good]
	return s
}

func pushedStraight(r *rand.Rand) Scene {
	good, own := either(r, 0.02, 0.25)
	base := 0.1 * r.NormFloat64()
	zero := 0.1 * r.NormFloat64()
	s := twisted(level2(zero), "aileron", 1900, own, 0, base, false)
	for i := range s.Spots { // straight under the hand, whatever it is
		s.Given = append(s.Given, Given{Spot: i, Text: strconv.FormatFloat(base+zero+0.01*r.NormFloat64(), 'f', 2, 64), Condition: "pushed by hand"})
	}
	s.Step, s.Good = "the hinge holes", good
	s.Truth = fmt.Sprintf("Hands off, it was twisted by %s.", signed(own))
	return s
}

func doNotDrill(r *rand.Rand) Scene {
	own := (0.17 + 0.05*r.Float64()) * float64(1-2*r.IntN(2))
	s := twisted(level2(0.1*r.NormFloat64()), "tailplane", 2880, own, 0.1*r.NormFloat64(), 0.1*r.NormFloat64(), true)
	s.Step, s.Good = "the end holes at both tips", false
	s.Truth = fmt.Sprintf("It was twisted by %s, and %s is the limit.", signed(own), degrees(0.10))
	return s
}

// ordinal counts holes from an end.
func ordinal(n int) string {
	switch n {
	case 1:
		return "first"
	case 2:
		return "second"
	case 3:
		return "third"
	}
	return fmt.Sprintf("%dth", n)
}

func keptHole(r *rand.Rand) Scene {
	const holes = 12
	fromEnd := 2 + r.IntN(4)
	s := Scene{Part: "tail boom", Step: "the row", Good: true, Row: &Row{Holes: holes, Kept: holes + 1 - fromEnd, Part: "fin fairing"}}
	s.Story = fmt.Sprintf("The fin fairing's drawing shows its screw in the %s hole from the rear end; the row is numbered from the front, 1 to %d.", ordinal(fromEnd), holes)
	s.Truth = fmt.Sprintf("The fin fairing needs hole %d.", s.Row.Kept)
	return s
}

// resin is a maker's table: °C, pot life, next coat from, until, dry to handle, full cure.
const resin = "10; 60 min; ; ; 24 h; 96 h\n15; 45 min; ; ; 12 h; 48 h\n20; 30 min; ; ; 8 h; 24 h\n25; 20 min; ; ; 6 h; 16 h"

func wetLayUp(r *rand.Rand) Scene {
	at := 11 + r.IntN(4) // °C, where the table says 12 to 24 h to handle
	dry := 24 - 12*float64(at-10)/5
	good := r.Float64() < 0.5
	ago := dry * (0.55 + 0.2*r.Float64()) // past what it takes at 20 °C, and not enough
	if good {
		ago = dry * (1.4 + 0.5*r.Float64())
	}
	ago = math.Round(ago)
	s := Scene{Part: "wing tip", Step: "it out of the mould", Good: good, Cure: &Cure{Table: resin, Ago: ago, Temperature: at}}
	s.Story = fmt.Sprintf("It was laid %.0f hours ago, and the shop has been at %s since. Its maker's table is on Coats and cures.", ago, say.Temperature(float64(at)))
	s.Truth = fmt.Sprintf("At %s it is dry to handle after some %.0f to %.0f hours; it had lain for %.0f.", say.Temperature(float64(at)), 0.9*dry, 1.1*dry, ago)
	return s
}

func helpersEvening(r *rand.Rand) Scene {
	good := r.Float64() < 0.5
	s := Scene{Part: "wing", Step: "it so", Good: good}
	const hours = 2.0
	n, tonight := &Evening{Hours: hours}, ", and to lift the wing onto its stands"
	if good {
		n.Steps = []string{"rivet the nose skin, 1 h, two people", "lift the wing onto its stands, 30 min, two people"}
		s.Truth = "Both are for two, nothing comes before them, and they fit into the two hours."
	} else if r.Float64() < 0.5 {
		n.Steps = []string{"rivet the nose skin, 3 h, two people", "lift the wing onto its stands, 1 h, two people"}
		s.Truth = "They take four hours for two, and the helper stays for two."
	} else {
		n.Steps = []string{"dimple the nose skin, 3 h", "rivet the nose skin, 1 h, two people, after dimple the nose skin"}
		tonight = ""
		s.Truth = "The skin is not dimpled yet: that takes three hours, and comes first."
	}
	s.Night = n
	s.Story = fmt.Sprintf("The helper stays for %.0f hours from now. You mean to rivet the nose skin together%s. The Order sheet knows the steps, what comes before them, and what the evening holds.", hours, tonight)
	return s
}
