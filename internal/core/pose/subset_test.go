package pose

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/measure"
)

// Any few readings of a join say what is true, or nothing: of a small displacement nothing
// is printed that lies further off than its u explains. (At 5 u chance alone takes one of
// a million.)
func TestFewReadingsOfAJoinAreTruthfulOrSilent(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(35, 36))
	full := measured()
	s := leaning(full, truth{shift: [3]float64{0.5, -0.8, 0.3}, roll: 0.1, pitch: 0.05, yaw: -0.1}, truth{roll: 0.12, pitch: -0.1, yaw: 0.06})
	s.fill(full, random)
	said, silent := 0, 0
	for range 1500 {
		few := *full
		few.Readings = nil
		for _, i := range random.Perm(len(full.Readings))[:5+random.IntN(5)] {
			few.Readings = append(few.Readings, full.Readings[i])
		}
		for _, q := range measure.Solve(&few, nil, fine).Quantities {
			if q.Unseen {
				silent++
				continue
			}
			said++
			at := s[q.At.(string)]
			want := map[string]float64{"x": at.shift[0], "y": at.shift[1], "z": at.shift[2], "roll": at.roll, "pitch": at.pitch, "yaw": at.yaw}[q.Name]
			if math.Abs(q.Value-want) > 5*q.U {
				t.Errorf("%s of %v: %v ± %v, truly %v", q.Name, q.At, q.Value, q.U, want)
			}
		}
	}
	assert.Greater(t, said, 200)
	assert.Greater(t, silent, said)
}
