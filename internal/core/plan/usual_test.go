package plan

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// laid is a usual order as a plan, which must have no circle and end.
func planOf(list []LaidStep) Plan {
	p := Plan{Zone: clockUTC, Now: 29_000_000, Builder: "kit", Visits: []Visit{{"v", 29_000_000, 29_600_000, 4}}}
	for _, l := range list {
		s := Step{ID: l.Name, Name: l.Name, Low: l.Low, Likely: l.Likely, High: l.High, People: l.People, Whole: l.Whole, After: l.After, State: Open}
		if l.Cure > 0 {
			s.Cure = &Cure{Hours: l.Cure}
		}
		p.Steps = append(p.Steps, s)
	}
	return p
}

func TestAUsualOrderIsOneThatCanBeBuilt(t *testing.T) {
	t.Parallel()
	for _, u := range Usuals {
		for _, school := range Schools {
			for _, harder := range []string{HardLeft, HardRight} {
				list := u.Lay(school, harder, func(int) bool { return true })
				p := planOf(list)
				require.Empty(t, p.Circles(), "%s, %s", u.Name, school)
				a := p.Solve()
				assert.Empty(t, a.Unscheduled, "%s, %s", u.Name, school)
				for i, l := range list {
					assert.NotContains(t, l.Name+l.Assembly, "{")
					assert.True(t, 0 < l.Low && l.Low <= l.Likely && l.Likely <= l.High, l.Name)
					assert.LessOrEqual(t, len([]rune(l.Name)), 80, l.Name)
					assert.NotContains(t, l.After, i)
				}
			}
		}
	}
}

// Where the schools differ: in step, no step of a wing is begun before the one before it is done
// on both; one at a time, nothing of the second wing comes before the first is through. In both
// the harder side goes first.
func TestTheSchoolsOfTwoWings(t *testing.T) {
	t.Parallel()
	u := Usual{Steps: []UsualStep{{Name: "jig", Likely: 1}, {Name: "{side} ribs", Likely: 1, After: []int{0}}, {Name: "{side} skin", Likely: 1, After: []int{1}}, {Name: "{side} wires", Likely: 1, After: []int{1}}, {Name: "join", Likely: 1, After: []int{2, 3}}}}
	after := func(list []LaidStep) map[string]string {
		out := map[string]string{}
		for _, l := range list {
			var names []string
			for _, b := range l.After {
				names = append(names, list[b].Name)
			}
			slices.Sort(names)
			out[l.Name] = strings.Join(names, ", ")
		}
		return out
	}
	all := func(int) bool { return true }
	assert.Equal(t, map[string]string{"jig": "", "right ribs": "jig", "left ribs": "jig, right ribs", "right skin": "left ribs, right ribs", "left skin": "left ribs, right skin", "right wires": "left ribs, right ribs", "left wires": "left ribs, right wires",
		"join": "left skin, left wires, right skin, right wires"}, after(u.Lay(InStep, HardRight, all)))
	assert.Equal(t, map[string]string{"jig": "", "left ribs": "jig", "right ribs": "jig, left skin, left wires", "left skin": "left ribs", "right skin": "right ribs", "left wires": "left ribs", "right wires": "right ribs",
		"join": "left skin, left wires, right skin, right wires"}, after(u.Lay(OneByOne, HardLeft, all)))
	assert.Equal(t, map[string]string{"left ribs": "", "right ribs": "left wires", "left wires": "left ribs", "right wires": "right ribs", "join": "left ribs, left wires, right ribs, right wires"},
		after(u.Lay(OneByOne, HardLeft, func(i int) bool { return i != 0 && i != 2 })), "what comes after a step that is not taken comes after what that came after")
}

// The second of a pair is expected to take what the first took, times what the pairs so far
// taught; worked out by hand: (3 + 5) / (4 + 5) = 8/9 of 6 h.
func TestTheSecondOfAPairLearnsFromTheFirst(t *testing.T) {
	t.Parallel()
	ended := int64(1_000)
	done := func(id string) Step {
		return Step{ID: id, Name: id, Low: 2, Likely: 2, High: 2, People: 1, State: Done, Ended: &ended}
	}
	p := Plan{Zone: clockUTC, Now: 100_000, Builder: "kit", Steps: []Step{done("left ribs"), done("right ribs"), done("left skin"), {ID: "right skin", Name: "right skin", Low: 1, Likely: 2, High: 3, People: 1, State: Open}}}
	for i, h := range []int64{4, 3, 6} {
		p.Sessions = append(p.Sessions, Session{Who: "kit", From: 2_000, To: 2_000 + 60*h, Category: "build", Step: i})
		p.Sessions[i].From += int64(i) * 1_000
		p.Sessions[i].To += int64(i) * 1_000
	}
	l := p.Learn(func(name string) string {
		if rest, ok := strings.CutPrefix(name, "right"); ok {
			return "left" + rest
		}
		return "right" + strings.TrimPrefix(name, "left")
	})
	assert.InDelta(t, 8.0/9, l.Factor, 1e-12)
	assert.Equal(t, 1, l.Pairs)
	require.Len(t, l.Seconds, 1)
	assert.Equal(t, Second{Step: 3, First: 2, Took: 6, Expected: 6 * 8.0 / 9}, l.Seconds[0])
	taught := p.Taught(l)
	require.InDelta(t, 2, p.Steps[3].Expected(), 1e-12, "the plan itself stays as it is")
	ratio := 1.0 // of a step without a kind
	assert.InDelta(t, 6*8.0/9, ratio*taught.Steps[3].Expected(), 1e-9)
	assert.Equal(t, int64(320), taught.Solve().Unscheduled[0].Left, "5 h 20 are left of it")
}
