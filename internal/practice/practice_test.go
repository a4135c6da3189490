package practice_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	core "orpine/internal/core/practice"
	"orpine/internal/ledger"
	"orpine/internal/practice"
)

func TestAnAttemptIsBegunOnceAndDecidedOnce(t *testing.T) {
	t.Parallel()
	p := trainer(t)
	form := ledger.Form{ID: ledger.Child("a test", "attempt")}
	a, err := p.Begin(t.Context(), practice.Begin{Form: form, Exercise: "rails-or-part", Seed: 3, Who: "helper"})
	require.NoError(t, err)
	again, err := p.Begin(t.Context(), practice.Begin{Form: form, Exercise: "rails-or-part", Seed: 99, Who: "helper"})
	require.NoError(t, err)
	assert.Equal(t, a.PracticeAttempt, again.PracticeAttempt, "an answer that was lost")

	done, err := p.Decide(t.Context(), practice.Decide{Attempt: a.ID, Drill: true})
	require.NoError(t, err)
	assert.True(t, done.Ended())
	assert.Contains(t, strings.Join(done.Said(), "; "), "0 of 10 places were read")
	undone, err := p.Decide(t.Context(), practice.Decide{Attempt: a.ID, Drill: false})
	require.NoError(t, err)
	assert.Equal(t, done.PracticeAttempt, undone.PracticeAttempt, "a hole cannot be undrilled")
	progress, err := p.Progress(t.Context(), "helper")
	require.NoError(t, err)
	assert.Equal(t, int64(1), progress["rails-or-part"][1])
	open, err := p.Open(t.Context())
	require.NoError(t, err)
	assert.Empty(t, open)
}

func TestWhatCannotBePractised(t *testing.T) {
	t.Parallel()
	p := trainer(t)
	_, err := p.Begin(t.Context(), practice.Begin{Form: ledger.Form{ID: ledger.Child("a test", "x")}, Exercise: "flying"})
	assert.ErrorIs(t, err, ledger.ErrNotFound)
	_, err = p.Decide(t.Context(), practice.Decide{Attempt: "nothing"})
	assert.ErrorIs(t, err, ledger.ErrNotFound)
	_, err = p.Begin(t.Context(), practice.Begin{Form: ledger.Form{ID: ledger.Child("a test", "y")}, Exercise: "one-pair", Who: strings.Repeat("x", 500)})
	assert.Error(t, err)
}

// The same seed is the same part, and about half of the parts are good where they may be.
func TestSeedsDrawParts(t *testing.T) {
	t.Parallel()
	for _, e := range core.Exercises {
		good := 0
		for seed := range uint64(200) {
			s := e.Scene(seed)
			require.Equal(t, s, e.Scene(seed))
			require.NotEmpty(t, s.Truth)
			if s.Good {
				good++
			}
			for _, g := range s.Given {
				require.Less(t, g.Spot, len(s.Spots))
			}
			if len(s.Spots) > 0 {
				_, err := s.Hidden()
				require.NoError(t, err)
			}
		}
		switch e.ID {
		case "do-not-drill":
			assert.Zero(t, good)
			continue
		case "kept-hole": // it is as good as it is set
			assert.Equal(t, 200, good)
			continue
		}
		assert.InDelta(t, 100, good, 30, e.ID)
	}
}

// After a restart the instruments of an attempt that is still open speak again.
func TestAnAttemptIsResumed(t *testing.T) {
	t.Parallel()
	p := trainer(t)
	a, err := p.Begin(t.Context(), practice.Begin{Form: ledger.Form{ID: ledger.Child("a test", "resumed")}, Exercise: "never-turned", Seed: 4})
	require.NoError(t, err)
	restarted := practice.New(p.Workshop)
	require.NoError(t, restarted.Resume(t.Context()))
	t.Cleanup(restarted.Gauges.Close)
	for i := range a.Scene.Tools {
		require.NotNil(t, restarted.Gauges.Of(a.Tool(i)))
	}
	_, err = restarted.Decide(t.Context(), practice.Decide{Attempt: a.ID})
	require.NoError(t, err)
	assert.Nil(t, restarted.Gauges.Of(a.Tool(0)), "it is over")
}

// A part that is left unread was guessed at: it counts for nothing, and it is not said that nothing
// was missed.
func TestAGuessIsNoPoint(t *testing.T) {
	t.Parallel()
	p := trainer(t)
	points := 0
	for _, e := range core.Exercises {
		for seed := range uint64(3) {
			at := begin(t, p, e.ID, seed)
			if e.ID == "helpers-evening" { // its plan is all there is to read
				continue
			}
			a, err := p.Decide(t.Context(), practice.Decide{Attempt: at.a.ID})
			require.NoError(t, err)
			if a.Well() {
				points++
			}
			if len(a.Scene.Checks) > 0 && len(a.Scene.Given) == 0 {
				assert.NotEmpty(t, a.Said(), e.ID)
				assert.Contains(t, []practice.Outcome{practice.Guess, practice.FalseStop}, a.Outcome(), e.ID)
				assert.Positive(t, a.Fewest, e.ID)
			}
		}
	}
	assert.LessOrEqual(t, points, 3, "only where what a helper read before bears it")
}
