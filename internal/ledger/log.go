package ledger

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"orpine/internal/store/query"
)

// LogEntry is one journal entry in words.
type LogEntry struct {
	Seq   int64
	ID    string // of the form that made it
	At    time.Time
	Taken time.Time // when it was made, where that was before it arrived
	Was   int64     // its number in the workshop that it came from; 0 for one of this
	Kind  string
	By    string
	Words
	Hash string
}

// Log returns the entries before one (0: the latest), newest first, and whether
// there are more.
func (l *Ledger) Log(ctx context.Context, before int64, most int) (entries []LogEntry, more bool, err error) {
	if before <= 0 {
		before = 1 << 62
	}
	var rows []query.Journal
	err = l.View(ctx, func(q *query.Queries) (err error) {
		rows, err = q.EntriesBefore(ctx, query.EntriesBeforeParams{Before: before, Most: int64(most) + 1})
		return err
	})
	if len(rows) > most {
		rows, more = rows[:most], true
	}
	for _, r := range rows {
		entries = append(entries, l.say(r))
	}
	return entries, more, err
}

// say puts an entry into words.
func (l *Ledger) say(r query.Journal) LogEntry {
	e := LogEntry{Seq: r.Seq, ID: r.ID, At: l.When(r.At), Kind: r.Kind, By: r.ByName, Hash: r.Hash, Words: Words{What: "cannot be read"}}
	var c content
	kind, ok := l.registry.kinds[r.Kind]
	if !ok || json.Unmarshal([]byte(r.Content), &c) != nil {
		return e
	}
	if c.Origin != nil {
		e.Was = c.Origin.Seq
	}
	if !c.Taken.IsZero() {
		e.Taken = c.Taken.In(l.zone)
	}
	if w, err := kind.words(c); err == nil {
		e.Words = w
	}
	return e
}

// Identity is what tells a workshop from every other: the hash of its first entry, which its copies
// share; "" for one without entries.
func (l *Ledger) Identity(ctx context.Context) (hash string, err error) {
	err = l.View(ctx, func(q *query.Queries) error {
		first, err := q.Entry(ctx, 1)
		if errors.Is(err, sql.ErrNoRows) {
			return nil
		}
		hash = first.Hash
		return err
	})
	return hash, err
}

// Head is where the journal ends: the number and the hash of its last entry.
func (l *Ledger) Head(ctx context.Context) (seq int64, hash string, err error) {
	err = l.View(ctx, func(q *query.Queries) error {
		head, err := q.Head(ctx)
		seq, hash = head.Seq, head.Hash
		return err
	})
	return seq, hash, err
}
