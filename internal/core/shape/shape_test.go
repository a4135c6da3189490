package shape_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/shape"
)

func part(t *testing.T, parts []shape.Part, name string) shape.Shape {
	t.Helper()
	for _, p := range parts {
		if p.Name == name {
			return p.Shape
		}
	}
	require.Fail(t, "no part called "+name)
	return shape.Shape{}
}

func TestEveryPlanformHasTenSizesAndCanBeDrawn(t *testing.T) {
	t.Parallel()
	require.Len(t, shape.Planforms, 5)
	for _, p := range shape.Planforms {
		assert.Len(t, p.Sizes, 10, p.ID)
		names := map[string]bool{}
		for _, part := range p.Parts(nil) {
			assert.False(t, names[part.Name], "%s has two %s", p.ID, part.Name)
			names[part.Name] = true
			assert.NotEmpty(t, part.Shape.Assumed, "%s: nothing was stated", part.Name)
			part.Shape.Validate(func(field, says string) { assert.Fail(t, part.Name+" "+field+" "+says) })
			least, most, ok := part.Shape.Reach()
			assert.True(t, ok)
			assert.Greater(t, most[0]+most[1]+most[2], least[0]+least[1]+least[2], part.Name)
		}
		assert.GreaterOrEqual(t, len(names), 11, p.ID)
	}
}

// Tansy: span 26 ft 3 in = 8001 mm, tailplane 9 ft 6 in = 2895.6 mm, chord 52 in.
func TestWhatWasStatedIsNotAssumed(t *testing.T) {
	t.Parallel()
	low, ok := shape.PlanformOf("low-wing")
	require.True(t, ok)
	parts := low.Parts(map[string]float64{"span": 8001, "chord": 1320.8, "tip": 1320.8, "wing_x": 900, "length": 5200, "width": 1000, "tail_span": 2895.6})
	panel := part(t, parts, "wing panel right")
	assert.InDelta(t, 3500.5, panel.Span(), 1e-9) // 8001/2 − 1000/2
	assert.False(t, panel.Rests("inner", "outer", "chord", "tip_chord", "x"))
	assert.True(t, panel.Rests("z"))
	left := part(t, parts, "wing panel left")
	assert.Equal(t, -panel.Outer, left.Outer)
	tail := part(t, parts, "tailplane")
	assert.InDelta(t, 2895.6, tail.Span(), 1e-9)
	assert.False(t, tail.Rests("inner", "outer"))
	assert.True(t, tail.Rests("x"), "its chord was not stated")
	assert.True(t, part(t, parts, "fin").Rests("rise"))
	assert.True(t, part(t, parts, "aileron left").Rests("outer"))
}

func TestAMirroredBoxStaysTheRightWayRound(t *testing.T) {
	t.Parallel()
	tube := shape.Shape{Form: "tube", Inner: 1100, Outer: 1300, Chord: 10}.Mirrored()
	assert.Equal(t, -1300.0, tube.Inner)
	assert.Equal(t, -1100.0, tube.Outer)
	fin := shape.Shape{Form: "fin", Inner: 400}.Mirrored()
	assert.Equal(t, -400.0, fin.Inner)
}

func TestAShapeThatCannotBeDrawnSaysWhere(t *testing.T) {
	t.Parallel()
	wrong := map[string]string{}
	shape.Shape{Form: "surface"}.Validate(func(f, s string) { wrong[f] = s })
	assert.Equal(t, map[string]string{"outer": "the span is missing", "chord": "must be above 0"}, wrong)
	shape.Shape{}.Validate(func(f, s string) { assert.Fail(t, "a name is enough") })
	clear(wrong)
	shape.Shape{Form: "blob"}.Validate(func(f, s string) { wrong[f] = s })
	shape.Shape{Form: "frame"}.Validate(func(f, s string) { wrong[f] = s })
	assert.Len(t, wrong, 2)
}
