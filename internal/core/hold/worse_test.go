package hold

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// What ends a release, line by line; the limit is ±0.10 and the u that was signed 0.03.
func TestWorse(t *testing.T) {
	t.Parallel()
	low, high := -0.10, 0.10
	line := func(key string, s Standing, value float64) Line {
		return Line{Key: key, What: key, Standing: s, Value: value, U: 0.03, Low: &low, High: &high}
	}
	for name, c := range map[string]struct {
		signed, now []Line
		worse       bool
	}{
		"as it was":                          {[]Line{line("twist", Met, 0)}, []Line{line("twist", Met, 0)}, false},
		"shown, and now unsure":              {[]Line{line("twist", Met, 0)}, []Line{line("twist", Unsure, 0)}, true},
		"unsure was signed, and it is stop":  {[]Line{line("twist", Unsure, 0)}, []Line{line("twist", Stop, 0.2)}, true},
		"unsure was signed, and it is shown": {[]Line{line("twist", Unsure, 0)}, []Line{line("twist", Met, 0)}, false},
		"a stop, 0.02 further out":           {[]Line{line("twist", Stop, 0.2)}, []Line{line("twist", Stop, 0.22)}, false},
		"a stop, 0.04 further out":           {[]Line{line("twist", Stop, 0.2)}, []Line{line("twist", Stop, 0.24)}, true},
		"a stop, less far out":               {[]Line{line("twist", Stop, 0.3)}, []Line{line("twist", Stop, 0.2)}, false},
		"a stop on the other side":           {[]Line{line("twist", Stop, 0.2)}, []Line{line("twist", Stop, -0.2)}, true},
		"a line that has come, shown":        {nil, []Line{line("twist", Met, 0)}, false},
		"a line that has come, not shown":    {nil, []Line{line("twist", Missing, 0)}, true},
		"one that counts from the next on":   {nil, []Line{{Key: "how", Standing: Missing, Next: true}}, false},
		"one that is gone":                   {[]Line{line("twist", Met, 0)}, nil, false},
	} {
		l, worse := Worse(c.signed, c.now)
		assert.Equal(t, c.worse, worse, name)
		if worse {
			assert.NotEmpty(t, l.Key, name)
		}
	}
}

// A test end for end counts by when the reading was taken, half a day at most.
func TestTested(t *testing.T) {
	t.Parallel()
	level := InstrumentState{Name: "level 2", Angle: true}
	assert.Equal(t, Missing, tested(level).Standing, "never turned")
	for gap, want := range map[float64]Standing{0: Met, 11.9: Met, 12.1: Missing} {
		level.Tested, level.Gap = level.Tested.AddDate(2026, 0, 0), time.Duration(gap*float64(time.Hour))
		assert.Equal(t, want, tested(level).Standing, "%v h", gap)
	}
}
