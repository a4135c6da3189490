package sim

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
)

// Five hundred builds are too few for the figures of docs/proof.md, and enough to see
// that none of them is far off, in either world.
func TestHundredsOfBuildsAreMostlyRight(t *testing.T) {
	t.Parallel()
	for _, w := range []struct {
		World
		released, alarms float64
	}{{Ideal, 0.5, 0.15}, {Shop, 0.3, 0.15}} {
		rules := Usual(w.World)
		r := Run(3, 0, 500, rules).Report(3, rules)
		assert.Equal(t, w.Name, r.World)
		assert.Greater(t, r.Outside.Share, 1.0/3, "the truth is wide enough to matter")
		assert.Less(t, r.WrongReleases.Count, 5, w.Name)
		assert.Less(t, r.WrongReleases.PerReleased.Low, 0.005, w.Name)
		assert.Greater(t, r.GoodReleased.Share, w.released, w.Name)
		assert.Less(t, r.Blunders.PerBuild, w.alarms, w.Name)
		assert.Greater(t, r.Blunders.Share, 0.9, w.Name)
		assert.Less(t, r.ReadingsPerBuild, 120.0, w.Name)
		for name, c := range r.Coverage {
			assert.Less(t, c.Low, 0.98, "%s %s", w.Name, name)
			assert.Greater(t, c.High, 0.93, "%s %s", w.Name, name)
		}
	}
}

// The same seed makes the same builds, however they are shared out.
func TestTheSeedFixesEverything(t *testing.T) {
	t.Parallel()
	rules := Usual(Shop)
	whole := Run(9, 0, 60, rules)
	parts := Run(9, 0, 25, rules)
	parts.Add(Run(9, 25, 60, rules))
	assert.Equal(t, whole.Report(9, rules), parts.Report(9, rules))
	assert.NotEqual(t, whole.Report(9, rules).Coverage, Run(10, 0, 60, rules).Report(9, rules).Coverage)
}

// Without blunders hardly any reading is blamed, and none is found.
func TestWithoutBlundersNoneAreFound(t *testing.T) {
	t.Parallel()
	rules := Rules{World: Ideal, Errors: Rectangular}
	r := Run(4, 0, 120, rules).Report(4, rules)
	assert.Zero(t, r.Blunders.Planted+r.Blunders.FoundAny)
	assert.Less(t, r.Blunders.FalseAlarms, 30)
	assert.Equal(t, "rectangular", r.Errors)
}

// A level shows what is there plus its errors, in its own steps, and its end-for-end
// test takes its zero off again.
func TestALevelIsProvenOfItsZero(t *testing.T) {
	t.Parallel()
	sum := 0.0
	const n = 400
	for i := range uint64(n) {
		rules := Usual(Ideal)
		b := newBuild(1, i, &rules)
		level := b.parts[1].sources[0].with
		sum += level.stated.Zero - level.zero
		steps := level.show(0.123, 0, 0, b.r) / level.stated.Resolution
		assert.InDelta(t, 0, steps-float64(int(steps+0.5*sign(steps))), 1e-6)
	}
	assert.InDelta(t, 0, sum/n, 0.002)
}

func sign(v float64) float64 {
	if v < 0 {
		return -1
	}
	return 1
}

// 3 of 1000: the bounds after Clopper and Pearson are 0.0619 % and 0.8742 %; 0 of
// 1000 leaves at most 1 − 0.025^(1/1000) = 0.3682 %.
func TestSharesHaveExactBounds(t *testing.T) {
	t.Parallel()
	s := shareOf(3, 1000)
	assert.InDelta(t, 0.000619, s.Low, 1e-6)
	assert.InDelta(t, 0.008742, s.High, 1e-6)
	assert.InDelta(t, 0.003682, shareOf(0, 1000).High, 1e-6)
	assert.Equal(t, Share{High: 1}, shareOf(0, 0))
	assert.Equal(t, 1.0, shareOf(5, 5).High)
}

// Without errors in the instruments, the core finds the hidden truth of every part.
func TestTheHiddenTruthIsWhatTheCoreFinds(t *testing.T) {
	t.Parallel()
	for i := range uint64(6) {
		b := newBuild(2, i, &Rules{})
		for _, p := range b.parts {
			for _, s := range p.sources {
				s.into.Values = []float64{s.true + s.with.stated.Zero}
			}
			r := measure.Solve(p.check, p.limits, measure.Decision{Coverage: coverage})
			for name, truth := range p.truth {
				q, ok := r.Quantity(name)
				require.True(t, ok, "%s %s", p.name, name)
				assert.InDelta(t, truth, q.Value, 1e-4, "%s %s", p.name, name)
			}
		}
	}
}

// A planted blunder stays in every placing until its reading is taken again.
func TestABlunderStaysUntilItIsTakenAgain(t *testing.T) {
	t.Parallel()
	planted := 0
	for i := range uint64(40) {
		b := newBuild(6, i, &Rules{Blunders: 1})
		s := b.planted
		require.NotNil(t, s)
		if math.Abs(s.blunder) < 5*s.with.stated.Resolution {
			continue
		}
		planted++
		before := s.into.Values[0]
		s.again(0, b.r)
		assert.Greater(t, math.Abs(before-s.into.Values[0]), 3*s.with.stated.Resolution)
		assert.Zero(t, s.blunder)
	}
	assert.Greater(t, planted, 20)
}

// Left and right of a plan are told apart by the last letter of the names.
func TestTheOtherSideOfAReading(t *testing.T) {
	t.Parallel()
	left := plan{"distance", "firewall", "tip L"}
	assert.True(t, left.mirrors(plan{"distance", "firewall", "tip R"}))
	assert.True(t, plan{"distance", "sill L", "tip L"}.mirrors(plan{"distance", "sill R", "tip R"}))
	assert.False(t, left.mirrors(left))
	assert.False(t, left.mirrors(plan{"height", "firewall", "tip R"}))
	assert.False(t, plan{"roll", "fore L", "fore R"}.mirrors(plan{"roll", "fore R", "fore L"}))
}
