package ledger

import (
	"context"
	"encoding/json"
	"strconv"

	"orpine/internal/store/query"
)

// OwnEntry is an entry in words, with what was asked and what that was judged to be.
type OwnEntry struct {
	LogEntry
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
		return OwnEntry{l.say(r), c.Request, c.Facts}, nil
	}
	return out, ErrNotFound
}

// ByID is an entry in words, whoever made it, by the id of its form or its number; ErrNotFound where
// there is none.
func (l *Ledger) ByID(ctx context.Context, id string) (out OwnEntry, err error) {
	err = l.View(ctx, func(q *query.Queries) error {
		r, err := q.EntryByID(ctx, id)
		if seq, no := strconv.ParseInt(id, 10, 64); no == nil {
			r, err = q.Entry(ctx, seq)
		}
		if err != nil {
			return Found(err)
		}
		var c content
		if err := json.Unmarshal([]byte(r.Content), &c); err != nil {
			return err
		}
		out = OwnEntry{l.say(r), c.Request, c.Facts}
		return nil
	})
	return out, err
}

// Mistaken says that an entry was made by mistake.
type Mistaken struct {
	Form
	Entry  string `json:"entry" form:"entry"` // id
	By     string `json:"by" form:"by"`
	Reason string `json:"reason" form:"reason" text:"lines"`
}

// Read trims it, and finds what is wrong with it.
func (m *Mistaken) Read() Problems {
	wrong := Problems{}
	wrong.Text("by", &m.By, MaxName, "who takes it back?")
	wrong.Text("reason", &m.Reason, MaxNote, "why? In words")
	return wrong
}
