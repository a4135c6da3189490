package sim

import (
	"fmt"
	"testing"
	"orpine/internal/core/measure"
)

func TestU(t *testing.T) {
	for i := range uint64(4) {
		b := newBuild(5, i, Rules{Coverage: 2})
		for _, p := range b.parts {
			r := measure.Solve(p.check, p.limits, measure.Decision{Coverage: 2})
			for _, q := range r.Quantities {
				fmt.Printf("%s %s u=%.4f true %.3f got %.3f %s n=%d; ", p.name, q.Name, q.U, p.truth[q.Name], q.Value, q.Verdict, q.Placings)
			}
			fmt.Println()
		}
		fmt.Println()
	}
}
