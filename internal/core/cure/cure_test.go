package cure

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var table = []Line{{At: 10, Lasts: Lasts{Pot: 1, Full: 48}}, {At: 20, Lasts: Lasts{Pot: 0.5, From: 3, Until: 24, Handle: 8, Full: 24}}, {At: 30, Lasts: Lasts{Pot: 0.25, From: 2, Until: 12, Handle: 4, Full: 12}}}

// Between two lines the logarithm is linear: half way between 48 and 24 h lies 48/√2 h.
func TestTheMakersTableBetweenItsLines(t *testing.T) {
	t.Parallel()
	l := At(table, 15)
	assert.InDelta(t, 48/math.Sqrt2, l.Full, 1e-9)
	assert.InDelta(t, 1/math.Sqrt2, l.Pot, 1e-9)
	assert.Zero(t, l.Handle, "what one neighbour does not say is not made up")
	assert.InDelta(t, math.Sqrt(8*4), At(table, 25).Handle, 1e-9)
	assert.Equal(t, table[1].Lasts, At(table, 20))
	cold, hot := At(table, 5), At(table, 40)
	assert.True(t, cold.Outside && hot.Outside)
	assert.InDelta(t, 48, cold.Full, 0)
	assert.InDelta(t, 12, hot.Full, 0)
	assert.Equal(t, Lasts{}, At(nil, 20))
}

func at(text string) time.Time {
	t, _ := time.Parse("2006-01-02 15:04", "2026-11-"+text)
	return t
}

func coat(passes ...Pass) Clock {
	return Clock{Sort: Coat, What: "left ribs", Sides: 2, Least: 2, Most: 3, Lasts: table[1].Lasts, Passes: passes}
}

// A primer of two to three coats on two sides: too soon, in time, too late, turned over, enough.
func TestACoatedPartWaitsForItsTurnOver(t *testing.T) {
	t.Parallel()
	c := coat(Pass{Coated, 1, at("10 10:00"), ""})
	require.True(t, c.Waits())
	says, hard := c.Allow(Coated, at("10 12:00"))
	assert.Contains(t, says, "may not go on before Tue 13:00")
	assert.False(t, hard, "with a reason it may")
	says, _ = c.Allow(Coated, at("11 11:00"))
	assert.Contains(t, says, "ended on Wed 11 Nov, 10:00")
	says, _ = c.Allow(Coated, at("10 13:00"))
	assert.Empty(t, says)
	d, ok := c.Next(at("10 12:00"))
	require.True(t, ok)
	assert.Equal(t, Due{"coat 2 may go on", at("10 13:00"), false}, d)

	c = c.Do(Coated, at("10 14:00"), "")
	assert.Contains(t, c.Enough(), "on side 2")
	var what []string
	for _, d := range c.Dues() {
		what = append(what, d.What)
	}
	assert.Equal(t, []string{"coat 3 may go on", "may be turned over", "last moment for coat 3", "cured"}, what)
	says, hard = c.Allow(Turned, at("10 20:00"))
	assert.Contains(t, says, "not dry to handle before Tue 22:00")
	assert.False(t, hard)
	says, _ = c.Allow(Turned, at("10 22:00"))
	assert.Empty(t, says)
	c = c.Do(Turned, at("10 22:10"), "")
	side, coats := c.OnSide()
	assert.Equal(t, [2]int{2, 0}, [2]int{side, coats})
	assert.True(t, c.Waits())
	c = c.Do(Coated, at("10 22:30"), "").Do(Coated, at("11 02:00"), "")
	assert.False(t, c.Waits())
	assert.Empty(t, c.Enough())
	assert.Equal(t, at("12 02:00"), c.Cured())
	c = c.Do(Coated, at("11 06:00"), "")
	says, hard = c.Allow(Coated, at("11 10:00"))
	assert.Contains(t, says, "3 at most")
	assert.True(t, hard, "no reason lifts the stop rule")
	d, _ = c.Next(at("20 00:00"))
	assert.Equal(t, "cured", d.What, "when all is past, the last one")
}

func TestWhatNeverGoes(t *testing.T) {
	t.Parallel()
	c := Clock{Sort: Coat, Sides: 1, Least: 1, Most: 1, Lasts: table[1].Lasts}
	for did, says := range map[string]string{Turned: "it has one side", "sanded": "a coat, or turned over?"} {
		why, hard := c.Allow(did, at("10 10:00"))
		assert.Contains(t, why, says)
		assert.True(t, hard)
	}
	c.Sides = 2
	why, _ := c.Allow(Turned, at("10 10:00"))
	assert.Contains(t, why, "nothing is on that side yet")
	for sort, due := range map[string]string{Mixed: "pot life ends", Tank: "read it again", Bond: "may be handled"} {
		c := Clock{Sort: sort, Lasts: table[1].Lasts}
		assert.Empty(t, c.Dues(), "nothing was begun")
		assert.True(t, c.Cured().IsZero())
		c = c.Do(Coated, at("10 10:00"), "")
		assert.Equal(t, due, c.Dues()[0].What)
		assert.Equal(t, sort == Mixed, c.Dues()[0].Limit)
		why, hard := c.Allow(Coated, at("10 11:00"))
		assert.Contains(t, why, "only a coat")
		assert.True(t, hard)
		assert.Empty(t, c.Enough())
		assert.False(t, c.Waits())
	}
}
