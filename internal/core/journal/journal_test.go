package journal

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func chain(n int) []Entry {
	var entries []Entry
	var last *Entry
	for i := range n {
		e := Next(last, Entry{ID: string(rune('a' + i)), At: time.Date(2026, 5, 4, 9, i, 0, 1234, time.FixedZone("", 3600)), Kind: "reading", By: "builder", Content: `{"text":"0.31"}`})
		entries, last = append(entries, e), &e
	}
	return entries
}

func firstBroken(entries []Entry) error {
	var c Chain
	for _, e := range entries {
		if err := c.Check(e); err != nil {
			return err
		}
	}
	return nil
}

func TestAChainThatWasNotTouchedHolds(t *testing.T) {
	t.Parallel()
	entries := chain(5)
	require.NoError(t, firstBroken(entries))
	assert.Empty(t, entries[0].Prev)
	assert.Equal(t, entries[3].Hash, entries[4].Prev)
}

func TestTheFirstEntryThatDoesNotHoldIsNamed(t *testing.T) {
	t.Parallel()
	tests := []struct {
		name   string
		break_ func(e []Entry) []Entry
		seq    int64
	}{
		{"content changed", func(e []Entry) []Entry { e[2].Content = `{"text":"0.13"}`; return e }, 3},
		{"time changed", func(e []Entry) []Entry { e[1].At = e[1].At.Add(time.Nanosecond); return e }, 2},
		{"name changed", func(e []Entry) []Entry { e[4].By = "helper"; return e }, 5},
		{"entry taken out", func(e []Entry) []Entry { return append(e[:1], e[2:]...) }, 2},
		{"first taken out", func(e []Entry) []Entry { return e[1:] }, 1},
		{"swapped", func(e []Entry) []Entry { e[1], e[2] = e[2], e[1]; return e }, 2},
		{"changed and sealed again", func(e []Entry) []Entry { e[2].Content = "{}"; e[2].Hash = e[2].sum(); return e }, 4},
		{"moved between fields", func(e []Entry) []Entry { e[0].Kind, e[0].By = e[0].Kind+"b", e[0].By[1:]; return e }, 1},
	}
	for _, test := range tests {
		t.Run(test.name, func(t *testing.T) {
			var broken *Broken
			require.ErrorAs(t, firstBroken(test.break_(chain(5))), &broken)
			assert.Equal(t, test.seq, broken.Seq)
			assert.Contains(t, broken.Error(), "does not hold")
		})
	}
}
