package riveting

import (
	"testing"

	"orpine/internal/ledger"
)

// Whatever is typed into a row's form is read or refused, and what is read can be advised
// on.
func FuzzRowForm(f *testing.F) {
	f.Add("aluminium; 0.8 mm; dimpled\naluminium; 1; plain; 1; 6", "1-6; 5/16\n7-84; 1/4 in", "77; fairing; fit it", "79-84; on its back", "1/8", "solid", "84")
	f.Add("steel; 1/32 in", "1; B3", "", "", "3.2 mm", "blind", "2")
	f.Add(";;;;;;", "–", "1;;", ";", "in", "", "-1")
	f.Fuzz(func(t *testing.T, layers, callouts, keep, poses, size, sort, count string) {
		form := rowReader{values: map[string]string{"layers": layers, "callouts": callouts, "keep": keep, "poses": poses, "size": size, "sort": sort, "count": count, "grips": "B3; 1; 3", "head": "domed", "metal": "aluminium", "edge": "8", "pitch": "30", "first": "10", "sizing": "match drill", "bucker": "solo", "view": "from above"}, wrong: ledger.Problems{}}
		plan := form.plan()
		holes := form.holes(false)
		for _, h := range holes[:min(len(holes), 20)] {
			_ = plan.Advise(h, holes).Says()
		}
		_ = Row{Row: plan, Holes: holes}.Texts()
	})
}
