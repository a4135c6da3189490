package loft

import (
	"github.com/stretchr/testify/require"

	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/demo"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/store/query"
)

// OnRails is the demo's setup that most tests work at: the tailplane on the rails.
var OnRails = demo.ID("tailplane on rails")

// Twist is its check of the twist.
func (l *Loft) Twist() measuring.Check {
	l.T.Helper()
	return l.SetupOf(OnRails).Checks[1]
}

// TwistIs is the twist of a check.
func (l *Loft) TwistIs() measure.Quantity {
	l.T.Helper()
	c := l.Twist()
	require.NotNil(l.T, c.Result)
	q, ok := c.Result.Quantity("twist")
	require.True(l.T, ok)
	return q
}

// Rails is its hold.
func (l *Loft) Rails() holding.Hold {
	l.T.Helper()
	return l.HoldOf(demo.HoldOf("tailplane on rails"))
}

// Read takes a reading there.
func (l *Loft) Read(check string, number int, text, tool, inPlace string) error {
	l.T.Helper()
	return l.Take(OnRails, number, measuring.NewReading{Check: check, Text: text, Instrument: tool, InPlace: inPlace})
}

// ReleaseRails releases its hold.
func (l *Loft) ReleaseRails(n holding.NewRelease) error {
	l.T.Helper()
	return l.Release(demo.HoldOf("tailplane on rails"), n)
}

// Tool is the instrument of a name, with all its proofs.
func (l *Loft) Tool(name string) instrument.Instrument {
	l.T.Helper()
	list, err := l.Instruments.Proofs(l.Ctx())
	require.NoError(l.T, err)
	for _, in := range list {
		if in.Name == name {
			return in
		}
	}
	l.T.Fatalf("no instrument is called %s", name)
	return instrument.Instrument{}
}

// Log is the latest entries in words.
func (l *Loft) Log(most int) []ledger.LogEntry {
	l.T.Helper()
	entries, _, err := l.Ledger.Log(l.Ctx(), 0, most)
	require.NoError(l.T, err)
	for i := range entries {
		w := &entries[i].Words
		w.What, w.Detail, w.Answer = say.Plain(w.What), say.Plain(w.Detail), say.Plain(w.Answer)
	}
	return entries
}

// EntryIDs are the submissions of the entries after one.
func (l *Loft) EntryIDs(after int64) (ids []string) {
	l.T.Helper()
	require.NoError(l.T, l.Ledger.View(l.Ctx(), func(q *query.Queries) error {
		rows, err := q.Entries(l.Ctx(), query.EntriesParams{After: after, Most: 1 << 30})
		for _, r := range rows {
			ids = append(ids, r.ID)
		}
		return err
	}))
	return ids
}
