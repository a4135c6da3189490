package school

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestACheckDiffersFromItsAirframeOnlyWhereItSaysSo(t *testing.T) {
	t.Parallel()
	airframe := Choice{Reference: Zeroed, Limits: Plain}
	check := Choice{Limits: Guarded}
	assert.Equal(t, Choice{Reference: Zeroed, Bench: Ignored, Limits: Guarded, Instruments: Usual}, check.Over(airframe))
	assert.Equal(t, Guarded, Choice(nil).Answer(Limits), "guarded unless it is chosen otherwise")
	assert.Equal(t, Matched, Choice{Reference: "sideways"}.Answer(Reference))
}

func TestOnlyTheAnswersOfAQuestionAreKnown(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		question, answer string
		known            bool
	}{{Bench, Trued, true}, {Bench, Ignored, true}, {Bench, Plain, false}, {"colour", "red", false}} {
		assert.Equal(t, c.known, Known(c.question, c.answer), "%s %s", c.question, c.answer)
	}
}

func TestAKindIsAskedOnlyWhatChangesIt(t *testing.T) {
	t.Parallel()
	asked := func(limited bool, named ...string) (ids []string) {
		for _, q := range Concern(named, limited) {
			ids = append(ids, q.ID)
		}
		return ids
	}
	assert.Equal(t, []string{Bench, Limits, Instruments}, asked(true, Bench))
	assert.Equal(t, []string{Reference, Limits, Instruments}, asked(true, Reference))
	assert.Empty(t, asked(false))
}
