package measuring_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/airframe"
	"orpine/internal/core/hold"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/demo"
	"orpine/internal/gate"
	"orpine/internal/holding"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/test/loft"
)

// The left aileron's setup, hold and all, is begun on the right one by one submit.
func TestASetupIsBegunOnTheOtherSide(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	u, _ := measuring.UsualOf("aileron")
	_, at, err := l.Airframes.Assembly(l.Ctx(), demo.ID("aileron left"))
	require.NoError(t, err)
	filled := make([]measuring.Filled, len(u.Checks))
	filled[0] = measuring.Filled{Take: true, Values: map[string]string{"points": "F1 left; 0; -150\nR1; 0; 150\nF2; 1900; -150\nR2; 1900; 150"}}
	filled[1] = measuring.Filled{Take: true, Values: map[string]string{"stations": "root; 0\ntip; 1900", "lies": "flexible, or held down"}, Low: map[string]string{"twist": "-0.2"}, High: map[string]string{"twist": "0.2"}}
	filled[3] = measuring.Filled{Take: true, Values: map[string]string{"surfaces": "aileron L; left"}}
	n, wrong := u.Setup(loft.Named("left one"), at, "on the rails", quantity.Millimetre, filled)
	require.Empty(t, wrong)
	n.Hold.Other = true
	n.Hold.Required = append(n.Hold.Required, gate.Eyed(n.ID, "rib 3, left: its flange faces aft")...)
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))

	like := measuring.Another{Form: loft.Named("right one"), Setup: n.ID, Assembly: demo.ID("aileron right"), Other: true}
	require.NoError(t, l.Measuring.BeginLike(l.Ctx(), like))
	require.NoError(t, l.Measuring.BeginLike(l.Ctx(), like), "sent twice, begun once")
	mine, other := l.SetupOf(n.ID), l.SetupOf(like.ID)
	require.Len(t, other.Checks, 3)
	assert.Equal(t, mine.Checks[1].Limits, other.Checks[1].Limits)
	assert.Equal(t, other.Checks[0].ID, other.Checks[1].Survey, "its own rails are surveyed for it")
	points := other.Checks[0].Definition["points"].([]any)
	assert.Equal(t, "F1 right", points[0].(map[string]any)["name"])
	y, err := quantity.ParseLength(points[0].(map[string]any)["y"].(string), quantity.Millimetre)
	require.NoError(t, err)
	assert.Equal(t, 150.0, float64(y), "150 to the left is 150 to the right")
	assert.Equal(t, "right", other.Checks[2].Definition["surfaces"].([]any)[0].(map[string]any)["side"])
	h := l.HoldOf(ledger.Child(like.ID, "hold"))
	var looks []string
	for _, line := range h.Judgement.Lines {
		if line.Need == hold.Handed {
			looks = append(looks, line.What)
		}
	}
	assert.Equal(t, []string{"hand of rib 3, right: its flange faces aft"}, looks)
	assert.Contains(t, loft.Problems(t, l.Measuring.BeginLike(l.Ctx(), measuring.Another{Form: l.Form(), Setup: n.ID, Assembly: demo.ID("foreplane")})), "assembly", "of another aircraft")
	assert.Contains(t, loft.Problems(t, l.Measuring.BeginLike(l.Ctx(), measuring.Another{Form: l.Form(), Setup: demo.ID("tailplane join"), Assembly: demo.ID("fin")})), "assembly", "a join names this side's points")
	l.Verify()
}

// "The flange faces aft: same or mirrored?" is asked in every template, and answered by two.
func TestAHandByLookingIsAskedOfTwoPeople(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	u, _ := measuring.UsualOf("fin")
	_, at, err := l.Airframes.Assembly(l.Ctx(), demo.ID("fin"))
	require.NoError(t, err)
	filled := make([]measuring.Filled, len(u.Checks))
	filled[0] = measuring.Filled{Take: true, Values: map[string]string{"height": "1310"}}
	n, _ := u.Setup(loft.Named("with a look"), at, "on the boom", quantity.Millimetre, filled)
	n.Hold.Other = true
	n.Hold.Required = append(n.Hold.Required, gate.Eyed(n.ID, "fin rib: its flange faces aft")...)
	require.NoError(t, l.Measuring.Begin(l.Ctx(), n))
	id := ledger.Child(n.ID, "hold")
	line := func() hold.Line {
		for _, line := range l.HoldOf(id).Judgement.Lines {
			if line.Need == hold.Handed {
				return line
			}
		}
		return hold.Line{}
	}
	assert.Equal(t, hold.Missing, line().Standing)
	assert.True(t, line().Look)
	assert.Contains(t, loft.Problems(t, l.Look(gate.LookAt{Need: hold.Handed, Of: line().Of, By: "builder"})), "second")
	require.NoError(t, l.Look(gate.LookAt{Need: hold.Handed, Of: line().Of, By: "builder", Second: "helper"}))
	assert.Equal(t, hold.Met, line().Standing)
	assert.Contains(t, line().Why, "builder and helper")
	require.ErrorIs(t, l.Look(gate.LookAt{Need: hold.Handed, Of: "none", By: "builder", Second: "helper"}), ledger.ErrNotFound)
	long := n
	long.Form = l.Form()
	long.Hold.Required = append(long.Hold.Required[:1:1], gate.Eyed(long.ID, strings.Repeat("x", 200))...)
	assert.Contains(t, loft.Problems(t, l.Measuring.Begin(l.Ctx(), long)), "look")
}

func TestPlacesFarOutsideThePartAreQuestioned(t *testing.T) {
	t.Parallel()
	fin := airframe.Shape{Form: "fin", X: 4790, Z: 420, Rise: 1310, Chord: 560, Tip: 300, Sweep: 680}
	u, _ := measuring.UsualOf("fin")
	spar := u.Checks[1]
	far := func(points string, sure bool) string {
		return say.Plain(spar.Far(measuring.Filled{Values: map[string]string{"points": points}, Sure: sure}, fin, quantity.Millimetre))
	}
	assert.Empty(t, far("foot; 0\ntop; 1310", false))
	assert.Contains(t, far("foot; 0\nmiddle; 655\ntop; 13100", false), "top at 13100: these places lie 13100 mm apart, and the part is 1310 mm long")
	assert.Contains(t, far("foot; 0\ntop; 1310 in", false), "1310 in")
	assert.Empty(t, far("foot; 0\ntop; 13100", true), "someone is sure")
	assert.Empty(t, spar.Far(measuring.Filled{Values: map[string]string{"points": "a; 0\nb; 99000"}}, airframe.Shape{}, 0), "nothing is known of a part that is not drawn")
	assert.True(t, fin.Beside([2]float64{4800, 9000}, [2]int{0, 2}))
	assert.False(t, fin.Beside([2]float64{4800, 430}, [2]int{0, 2}))
}

func TestAHoldIsPutBeforeTheSameStepOfTheOtherSide(t *testing.T) {
	t.Parallel()
	l := loft.Demo(t)
	n := holding.NewStand{Form: loft.Named("skin left"), Assembly: demo.ID("wing panel left"), Name: "Close the left wing", Step: "close", Permanent: "the wing, left", Why: "w", Bay: "bay of the left wing", Tasks: []string{"wires"}, Second: true}
	require.NoError(t, l.Holding.StandBefore(l.Ctx(), n))
	like := holding.Another{Form: loft.Named("skin right"), Hold: n.ID, Assembly: demo.ID("wing panel right")}
	require.NoError(t, l.Holding.StandLike(l.Ctx(), like))
	h := l.HoldOf(like.ID)
	assert.Equal(t, []string{"Close the right wing", "the wing, right"}, []string{h.Name, h.Permanent})
	lines := h.Judgement.Lines
	assert.Contains(t, lines[len(lines)-1].What+lines[0].What, "bay of the right wing")
	assert.Contains(t, loft.Problems(t, l.Holding.StandLike(l.Ctx(), holding.Another{Form: l.Form(), Hold: n.ID, Assembly: demo.ID("wing panel left")})), "assembly")
	l.Verify()
}
