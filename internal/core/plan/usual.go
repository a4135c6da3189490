package plan

import (
	"slices"
	"strings"
)

// Usual is an order of work to start from, to be changed to what the plans of the kit say: steps
// of one wing stand once, and are laid for both.
type Usual struct {
	Name, Title string
	Steps       []UsualStep
}

// UsualStep is a step of it. A name that holds {side} is of one wing, and comes twice.
type UsualStep struct {
	Name              string
	Low, Likely, High float64 // hours
	People            int     // 0 for one
	Kind              string
	Whole             bool
	Cure              float64 // hours
	After             []int   // steps of the same order, by their number from 0
	Assembly          string  // the name of the assembly, as it is usual; {side} in it likewise
	Bring             string
}

// Paired tells whether it is of one wing.
func (s UsualStep) Paired() bool { return strings.Contains(s.Name, side) }

const side = "{side}"

// School is how two wings are built.
type School string

// The schools: both wings step by step, so that what is learnt on one is fresh at the other and
// both fit one jig and one setting; or one wing whole, then the other.
const (
	InStep    School = "both in step"
	OneByOne  School = "one at a time"
	HardLeft         = "left"
	HardRight        = "right"
)

// Schools lists them.
var Schools = []School{InStep, OneByOne}

// LaidStep is a step of a usual order as it is laid: named for its side, and After by place in
// the list.
type LaidStep struct {
	UsualStep
	Of    int // which of the usual steps
	After []int
}

// Lay lays the steps that are taken, by a school; the harder side comes first, while there is
// patience for it. What comes after a step that is not taken comes after what that came after.
func (u Usual) Lay(school School, harder string, taken func(i int) bool) []LaidStep {
	sides := []string{HardLeft, HardRight}
	if harder == HardRight {
		slices.Reverse(sides)
	}
	var out []LaidStep
	at := make([][]int, len(u.Steps)) // where each was laid, by side
	for i, s := range u.Steps {
		if !taken(i) {
			continue
		}
		for k, name := range sides {
			if !s.Paired() && k > 0 {
				break
			}
			l := LaidStep{UsualStep: s, Of: i}
			l.Name, l.Assembly = strings.ReplaceAll(s.Name, side, name), strings.ReplaceAll(s.Assembly, side, name)
			if l.People == 0 {
				l.People = 1
			}
			for _, b := range u.before(i, taken) {
				switch {
				case s.Paired() && u.Steps[b].Paired() && (school != InStep || k > 0):
					l.After = append(l.After, at[b][k])
				default:
					l.After = append(l.After, at[b]...)
				}
			}
			if k > 0 && school == InStep {
				l.After = append(l.After, at[i][0])
			}
			at[i] = append(at[i], len(out))
			out = append(out, l)
		}
	}
	if school == OneByOne {
		u.afterTheFirst(out, at)
	}
	for i := range out {
		slices.Sort(out[i].After)
		out[i].After = slices.Compact(out[i].After)
	}
	return out
}

// before are the steps that one comes after, of those that are taken.
func (u Usual) before(i int, taken func(int) bool) (out []int) {
	for _, b := range u.Steps[i].After {
		if taken(b) {
			out = append(out, b)
			continue
		}
		out = append(out, u.before(b, taken)...)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// afterTheFirst lets the first steps of the second wing come after the last ones of the first.
func (u Usual) afterTheFirst(out []LaidStep, at [][]int) {
	var last, first []int
	for i, places := range at {
		if len(places) < 2 {
			continue
		}
		followed := slices.ContainsFunc(out, func(l LaidStep) bool {
			return u.Steps[l.Of].Paired() && slices.Contains(l.After, places[0])
		})
		if !followed {
			last = append(last, places[0])
		}
		if !slices.ContainsFunc(out[places[1]].After, func(b int) bool { return u.Steps[out[b].Of].Paired() }) {
			first = append(first, at[i][1])
		}
	}
	for _, f := range first {
		out[f].After = append(out[f].After, last...)
	}
}

// Usuals are the orders to start from.
var Usuals = []Usual{metalKit, canardKit}

// UsualOf finds one by its name.
func UsualOf(name string) (Usual, bool) {
	for _, u := range Usuals {
		if u.Name == name {
			return u, true
		}
	}
	return Usual{}, false
}

var metalKit = Usual{"metal", "All-metal kit", []UsualStep{
	0:  {Name: "count the crates against the packing list", Low: 4, Likely: 8, High: 16, Kind: "stores"},
	1:  {Name: "build and level the bench and rails", Low: 4, Likely: 8, High: 14, Kind: "jig", After: []int{0}},
	2:  {Name: "practice piece: drill, deburr, dimple, rivet", Low: 2, Likely: 4, High: 8, Kind: "rivet", After: []int{0}},
	3:  {Name: "fin: drill, deburr, prime", Low: 6, Likely: 10, High: 18, Kind: "metal", After: []int{1, 2}, Assembly: "fin"},
	4:  {Name: "fin: rivet", Low: 4, Likely: 7, High: 12, People: 2, Kind: "rivet", After: []int{3}, Assembly: "fin", Bring: "bucking bar, muffs"},
	5:  {Name: "tailplane: drill in the jig, twist measured", Low: 8, Likely: 12, High: 20, Kind: "metal", After: []int{4}, Assembly: "tailplane"},
	6:  {Name: "tailplane: rivet", Low: 6, Likely: 10, High: 18, People: 2, Kind: "rivet", After: []int{5}, Assembly: "tailplane", Bring: "bucking bar, muffs"},
	7:  {Name: "tail boom: frames and stringers", Low: 14, Likely: 22, High: 40, Kind: "metal", After: []int{2}, Assembly: "tail boom"},
	8:  {Name: "tail boom: cables and wires in before it closes", Low: 3, Likely: 6, High: 12, Kind: "wiring", After: []int{7}, Assembly: "tail boom"},
	9:  {Name: "tail boom: close", Low: 3, Likely: 5, High: 9, People: 2, Kind: "rivet", After: []int{8}, Assembly: "tail boom", Bring: "lamp, mirror"},
	10: {Name: "{side} spar: root brackets", Low: 3, Likely: 5, High: 9, Kind: "metal", After: []int{1}, Assembly: "main spar {side}"},
	11: {Name: "{side} wing: ribs to spar", Low: 8, Likely: 14, High: 24, Kind: "metal", After: []int{10}, Assembly: "wing panel {side}"},
	12: {Name: "{side} wing: drill in the jig, twist measured", Low: 6, Likely: 10, High: 18, Kind: "metal", After: []int{11}, Assembly: "wing panel {side}"},
	13: {Name: "{side} wing: dimple and prime", Low: 8, Likely: 12, High: 20, Kind: "metal", Cure: 24, After: []int{12}, Assembly: "wing panel {side}"},
	14: {Name: "{side} tank: seal", Low: 4, Likely: 6, High: 10, Kind: "seal", Whole: true, Cure: 72, After: []int{13}, Assembly: "wing panel {side}"},
	15: {Name: "{side} tank: leak test", Low: 1, Likely: 2, High: 5, Kind: "seal", After: []int{14}, Assembly: "wing panel {side}"},
	16: {Name: "{side} wing: rivet the top skin", Low: 6, Likely: 9, High: 15, People: 2, Kind: "rivet", After: []int{13, 15}, Assembly: "wing panel {side}", Bring: "bucking bar, muffs for two"},
	17: {Name: "{side} wing: wires and pitot line", Low: 2, Likely: 4, High: 8, Kind: "wiring", After: []int{16}, Assembly: "wing panel {side}"},
	18: {Name: "{side} wing: close the bottom skin", Low: 5, Likely: 8, High: 14, People: 2, Kind: "rivet", After: []int{17}, Assembly: "wing panel {side}", Bring: "lamp inside, bucking bar"},
	19: {Name: "{side} aileron: build and hang", Low: 8, Likely: 12, High: 20, Kind: "metal", After: []int{18}, Assembly: "aileron {side}"},
	20: {Name: "fuselage: frames and skins", Low: 30, Likely: 50, High: 90, Kind: "metal", After: []int{7}, Assembly: "centre fuselage"},
	21: {Name: "fuselage: turn it over", Low: 0.5, Likely: 0.75, High: 1.5, People: 3, Whole: true, Kind: "handling", After: []int{20}, Assembly: "centre fuselage", Bring: "straps, trestles"},
	22: {Name: "join tail and boom to the fuselage, measured", Low: 4, Likely: 7, High: 12, People: 2, Kind: "metal", After: []int{6, 9, 21}, Assembly: "tailplane"},
	23: {Name: "floor, pedals, sticks", Low: 12, Likely: 20, High: 36, Kind: "fitting", After: []int{21}, Assembly: "centre fuselage"},
	24: {Name: "brake and fuel lines", Low: 8, Likely: 14, High: 26, Kind: "fitting", After: []int{23}, Assembly: "centre fuselage"},
	25: {Name: "panel and wiring", Low: 30, Likely: 45, High: 90, Kind: "wiring", After: []int{23}, Assembly: "centre fuselage"},
	26: {Name: "engine mount: drill, thrust line measured", Low: 3, Likely: 5, High: 9, Kind: "metal", After: []int{21}, Assembly: "engine mount"},
	27: {Name: "hang the engine", Low: 4, Likely: 6, High: 12, People: 2, Whole: true, Kind: "handling", After: []int{26}, Assembly: "engine mount", Bring: "hoist"},
	28: {Name: "cowling and baffles", Low: 16, Likely: 26, High: 50, Kind: "fitting", After: []int{27}, Assembly: "engine mount"},
	29: {Name: "canopy: cut and bond", Low: 10, Likely: 18, High: 36, Kind: "fitting", Cure: 24, After: []int{23}, Assembly: "centre fuselage"},
	30: {Name: "{side} wing: on, incidence measured", Low: 2, Likely: 3, High: 6, People: 3, Kind: "handling", After: []int{19, 21}, Assembly: "wing panel {side}"},
	31: {Name: "controls: travels measured, stops set", Low: 4, Likely: 6, High: 12, Kind: "fitting", After: []int{22, 24, 30}},
	32: {Name: "weigh it", Low: 2, Likely: 3, High: 5, People: 3, Kind: "handling", After: []int{25, 28, 29, 31}},
	33: {Name: "papers for the inspection", Low: 6, Likely: 10, High: 24, Kind: "papers", After: []int{32}},
}}

var canardKit = Usual{"canard", "Composite canard", []UsualStep{
	0:  {Name: "shop warm and dry, resin and cloth counted", Low: 3, Likely: 6, High: 12, Kind: "stores"},
	1:  {Name: "practice lay-up, weighed", Low: 3, Likely: 5, High: 8, Kind: "lay-up", Cure: 24, After: []int{0}},
	2:  {Name: "bulkheads: lay up", Low: 6, Likely: 9, High: 14, Kind: "lay-up", Cure: 24, After: []int{1}, Assembly: "fuselage"},
	3:  {Name: "fuselage box: jig and bond", Low: 10, Likely: 16, High: 28, Kind: "bond", Cure: 24, After: []int{2}, Assembly: "fuselage"},
	4:  {Name: "fuselage: outside lay-up", Low: 6, Likely: 9, High: 14, People: 2, Whole: true, Kind: "lay-up", Cure: 36, After: []int{3}, Assembly: "fuselage", Bring: "scales, rollers, gloves for two"},
	5:  {Name: "foreplane: core, cut and jigged", Low: 3, Likely: 5, High: 8, Kind: "core", After: []int{1}, Assembly: "foreplane"},
	6:  {Name: "foreplane: bottom skin", Low: 4, Likely: 6, High: 9, People: 2, Whole: true, Kind: "lay-up", Cure: 36, After: []int{5}, Assembly: "foreplane", Bring: "scales, rollers, gloves for two"},
	7:  {Name: "foreplane: turn over, top skin", Low: 4, Likely: 6, High: 9, People: 2, Whole: true, Kind: "lay-up", Cure: 36, After: []int{6}, Assembly: "foreplane", Bring: "scales, rollers, gloves for two"},
	8:  {Name: "foreplane: incidence measured hands off, pins drilled", Low: 3, Likely: 5, High: 9, Kind: "fitting", After: []int{4, 7}, Assembly: "foreplane"},
	9:  {Name: "{side} wing: cores, cut and jigged", Low: 6, Likely: 9, High: 14, Kind: "core", After: []int{1}, Assembly: "wing {side}"},
	10: {Name: "{side} wing: shear web", Low: 3, Likely: 4, High: 6, Whole: true, Kind: "lay-up", Cure: 36, After: []int{9}, Assembly: "wing {side}"},
	11: {Name: "{side} wing: bottom skin and cap", Low: 6, Likely: 8, High: 11, People: 3, Whole: true, Kind: "lay-up", Cure: 36, After: []int{10}, Assembly: "wing {side}", Bring: "scales, rollers, lamp"},
	12: {Name: "{side} wing: turn over, twist measured", Low: 2, Likely: 3, High: 5, People: 2, Kind: "handling", After: []int{11}, Assembly: "wing {side}"},
	13: {Name: "{side} wing: top skin and cap", Low: 6, Likely: 8, High: 11, People: 3, Whole: true, Kind: "lay-up", Cure: 36, After: []int{12}, Assembly: "wing {side}", Bring: "scales, rollers, lamp"},
	14: {Name: "{side} aileron: cut out, hinge line measured", Low: 4, Likely: 6, High: 10, Kind: "fitting", After: []int{13}, Assembly: "wing {side}"},
	15: {Name: "{side} winglet: bond, upright measured", Low: 5, Likely: 8, High: 12, People: 2, Whole: true, Kind: "bond", Cure: 36, After: []int{13}, Assembly: "wing {side}"},
	16: {Name: "wings to the fuselage, incidence against the foreplane", Low: 5, Likely: 8, High: 14, People: 3, Kind: "fitting", After: []int{8, 14, 15}, Assembly: "fuselage"},
	17: {Name: "undercarriage", Low: 12, Likely: 20, High: 34, Kind: "fitting", After: []int{4}, Assembly: "fuselage"},
	18: {Name: "controls", Low: 12, Likely: 20, High: 36, Kind: "fitting", After: []int{16}, Assembly: "fuselage"},
	19: {Name: "engine mount and engine", Low: 8, Likely: 14, High: 24, People: 2, Kind: "handling", After: []int{17}, Assembly: "fuselage", Bring: "hoist"},
	20: {Name: "panel and wiring", Low: 25, Likely: 40, High: 80, Kind: "wiring", After: []int{17}, Assembly: "fuselage"},
	21: {Name: "canopy", Low: 14, Likely: 24, High: 45, Kind: "fitting", Cure: 24, After: []int{4}, Assembly: "fuselage"},
	22: {Name: "fill, sand, prime", Low: 60, Likely: 110, High: 220, Kind: "finish", Cure: 48, After: []int{16, 21}},
	23: {Name: "weigh it", Low: 2, Likely: 3, High: 5, People: 3, Kind: "handling", After: []int{18, 19, 20, 22}},
	24: {Name: "papers for the inspection", Low: 6, Likely: 10, High: 24, Kind: "papers", After: []int{23}},
}}
