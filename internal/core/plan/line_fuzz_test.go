package plan

import "testing"

// Whatever is typed in a line is a step or a message, and a step has a name, hours in their order
// and somebody who does it.
func FuzzLine(f *testing.F) {
	for _, seed := range []string{"", "rivet left skin, 6 h, two people, after dimple", "x, 4-6-12 h, before rivet and dimple, bring lamp", "a, 1:40, cures 24 h, whole, needs tank", ",,,", "x, 0 h", "x, after", "x, 1 h, bring ", "é, 5 min, 99 hands"} {
		f.Add(seed)
	}
	steps, orders := []Named{{"1", "dimple the skin"}, {"2", "rivet the skin"}, {"3", "Rivet it"}}, []Named{{"4", "fuel tank"}}
	f.Fuzz(func(t *testing.T, text string) {
		l, err := ParseLine(text, steps, orders)
		if err != nil {
			return
		}
		if l.Name == "" || l.People < 1 || !(0 < l.Low && l.Low <= l.Likely && l.Likely <= l.High) || l.Cure < 0 {
			t.Fatalf("%q: %+v", text, l)
		}
	})
}
