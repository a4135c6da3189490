package cure

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever is done to a part, in any order and at any time: never more coats on a side than the
// rule allows, never a third side, the moments in order of time, and enough exactly when nothing
// waits any more.
func TestWhateverIsDoneTheRuleHolds(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(8, 8))
	for range 400 {
		c := Clock{Sort: Coat, Sides: 1 + random.IntN(2), Least: 1 + random.IntN(3), Lasts: At(table, 5+30*random.Float64())}
		c.Most = c.Least + random.IntN(3)
		now := at("10 08:00")
		c = c.Do(Coated, now, "")
		for range 30 {
			now = now.Add(time.Duration(random.IntN(20*60)) * time.Minute)
			did := []string{Coated, Coated, Turned, "sanded"}[random.IntN(4)]
			why, hard := c.Allow(did, now)
			require.False(t, hard && why == "")
			if hard || why != "" && random.IntN(3) == 0 {
				continue
			}
			before := len(c.Passes)
			after := c.Do(did, now, why)
			require.Len(t, c.Passes, before, "the clock before stays as it was")
			c = after
			for side := 1; side <= 2; side++ {
				n, last := c.coats(side)
				require.LessOrEqual(t, n, c.Most)
				require.False(t, last.After(now))
				require.False(t, side > c.Sides && n > 0)
			}
			require.Equal(t, c.Enough() == "", !c.Waits())
			dues := c.Dues()
			require.True(t, slices.IsSortedFunc(dues, func(a, b Due) int { return a.At.Compare(b.At) }))
			if d, ok := c.Next(now); ok && d.At.Before(now) {
				require.Equal(t, dues[len(dues)-1], d, "all of it is past")
			}
		}
	}
}

// In the table it is never slower where it is warmer, and between two lines never outside them.
func TestWarmerIsNeverSlower(t *testing.T) {
	t.Parallel()
	before := math.Inf(1)
	for tenth := range 500 {
		l := At(table, float64(tenth)/10)
		assert.LessOrEqual(t, l.Full, before+1e-9)
		assert.True(t, 12-1e-9 <= l.Full && l.Full <= 48+1e-9)
		assert.Equal(t, tenth < 100 || tenth > 300, l.Outside)
		before = l.Full
	}
}
