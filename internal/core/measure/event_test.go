package measure

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhichReadingsAnEventDisturbs(t *testing.T) {
	t.Parallel()
	long, short := &PartLength{Design: 2880}, &PartLength{Design: 640}
	far := &Square{Station: 5480, HalfSpan: 1440, From: []FromPoint{{Name: "firewall", Z: -1320}}}
	near := &Square{Station: 300, HalfSpan: 200, From: []FromPoint{{Name: "rib", X: 0}}}
	tests := []struct {
		event    Event
		kind     string
		check    Check
		disturbs bool
	}{
		{Moved, "bench", nil, true}, {Moved, "twist", nil, true}, {TurnedOver, "length", short, true}, {Knocked, "twist", nil, true}, {ReLevelled, "bench", nil, true},
		{ReClamped, "twist", nil, true}, {ReClamped, "straightness", nil, true}, {ReClamped, "gap", nil, true}, {ReClamped, "bench", nil, false},
		{BenchMoved, "bench", nil, true}, {BenchMoved, "level", nil, true}, {BenchMoved, "twist", nil, false},
		{Temperature, "length", long, true}, {Temperature, "length", short, false},
		{Temperature, "square", far, true}, {Temperature, "square", near, false},
		{Temperature, "level", nil, true}, {Temperature, "dihedral", nil, true}, {Temperature, "incidence", nil, true}, {Temperature, "straightness", nil, false}, {Temperature, "gap", nil, false},
		{Drilled, "twist", nil, false}, {Riveted, "bench", nil, false},
		{"struck by something that nobody thought of", "gap", nil, true},
	}
	for _, test := range tests {
		k, ok := KindNamed(test.kind)
		require.True(t, ok, test.kind)
		c := k.New()
		if test.check != nil {
			c = test.check.(Walker)
		}
		assert.Equal(t, test.disturbs, c.Disturbed(test.event), "%s, %s", test.event, test.kind)
	}
	assert.True(t, Temperature.Known())
	assert.False(t, Drilled.Known(), "it comes from recording the step")
}
