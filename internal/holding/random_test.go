package holding_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/demo"
	"orpine/internal/holding"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

// model is what a careful clerk would know of the setup, kept apart from the
// program: how many fresh readings each check has, and the release that stands.
type model struct {
	fresh    map[string]map[int]bool // check, spot
	released bool
	spent    bool
}

func (m *model) disturb(s measuring.Setup, what measure.Event) {
	for _, c := range s.Checks {
		if c.Input.Disturbed(what) {
			m.fresh[c.ID] = map[int]bool{}
		}
	}
	m.released = false
}

func (m *model) complete(s measuring.Setup) bool {
	for _, c := range s.Checks {
		if len(m.fresh[c.ID]) < c.Wanted {
			return false
		}
	}
	return true
}

// Random readings, events, releases and steps: no stale or missing evidence ever
// releases, nothing is drilled without a release that stands, and the journal
// always verifies.
func TestNoSequenceReleasesOnStaleEvidence(t *testing.T) {
	t.Parallel()
	for seed := range uint64(6) {
		t.Run(fmt.Sprint("seed ", seed), func(t *testing.T) {
			random := rand.New(rand.NewPCG(seed, 77))
			l := loft.Demo(t)
			m := &model{fresh: map[string]map[int]bool{}}
			s := l.SetupOf(loft.OnRails)
			for _, c := range s.Checks {
				m.fresh[c.ID] = map[int]bool{}
				for i := range c.Wanted {
					m.fresh[c.ID][i+1] = true
				}
			}
			for range 120 {
				s = l.SetupOf(loft.OnRails)
				act(t, l, m, s, random)
			}
			l.Verify()
		})
	}
}

func act(t *testing.T, l *loft.Loft, m *model, s measuring.Setup, random *rand.Rand) {
	t.Helper()
	switch c := s.Checks[random.IntN(len(s.Checks))]; random.IntN(8) {
	case 0:
		what := measure.Disturbances[random.IntN(len(measure.Disturbances))]
		l.Moved(loft.OnRails, what)
		m.disturb(s, what)
	case 1, 2:
		err := l.ReleaseRails(holding.NewRelease{By: "builder", Reason: "tried", AnsweredBy: "inspector", Answer: "go on", Answered: "today", Document: "a mail"})
		if err == nil {
			assert.True(t, m.complete(s), "released on evidence that is not there")
			assert.False(t, m.released || m.spent)
			m.released = true
		} else if m.complete(s) {
			assert.True(t, m.released || m.spent, "refused though all is there: %v", err)
		}
	case 3:
		err := l.Step(demo.HoldOf("tailplane on rails"), "builder", "")
		assert.Equal(t, m.released && !m.spent, err == nil, "a step needs a release that stands")
		if err == nil {
			m.released, m.spent = false, true
		}
	case 4:
		spot := c.Spots[random.IntN(len(c.Spots))]
		if counting := spot.Counting(); len(counting) > 0 {
			require.NoError(t, l.TakeBack(c.ID, counting[0].ID, "misread"))
			m.released = false // it rested on that reading
			if len(counting) == 1 {
				delete(m.fresh[c.ID], spot.Number)
			}
		}
	default: // the next reading that is wanted, or a further placing
		spot, ok := c.Spot(0)
		if !ok {
			spot = c.Spots[random.IntN(len(c.Spots))]
		}
		text := fmt.Sprintf("%.2f", random.Float64()/2)
		if spot.Dimension == measure.Length {
			text = fmt.Sprintf("%.1f", 50+0.5*float64(random.IntN(3)))
		}
		require.NoError(t, l.Read(c.ID, spot.Number, text, c.Instrument, ""))
		m.fresh[c.ID][spot.Number] = true
	}
}
