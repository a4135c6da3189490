package ledger

import (
	"context"
	"encoding/json"

	"orpine/internal/store/query"
)

// OwnEntry is an entry in words, with what was asked and what that was judged to be.
type OwnEntry struct {
	LogEntry
	ID             string
	Request, Facts json.RawMessage
}

// mostOwn is how far back the last entry of a person is looked for.
const mostOwn = 200

// LastOwn is the last entry that was made by whoever asks: from the account that the context names, or where nobody
// signs in the last of all. ErrNotFound where there is none among the last of the journal.
func (l *Ledger) LastOwn(ctx context.Context) (out OwnEntry, err error) {
	who, _ := ctx.Value(authorKey{}).(Author)
	var rows []query.Journal
	err = l.View(ctx, func(q *query.Queries) (err error) {
		rows, err = q.EntriesBefore(ctx, query.EntriesBeforeParams{Before: 1 << 62, Most: mostOwn})
		return err
	})
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		var c content
		if json.Unmarshal([]byte(r.Content), &c) != nil || c.Origin != nil || c.Signed != who.Mark {
			continue
		}
		return OwnEntry{l.say(r), r.ID, c.Request, c.Facts}, nil
	}
	return out, ErrNotFound
}
