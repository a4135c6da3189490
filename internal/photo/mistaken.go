package photo

import (
	"context"
	"encoding/json"
	"errors"

	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// takenOff is a photo that was kept by mistake.
type takenOff struct {
	Name    string `json:"name"` // of what it was kept with
	Caption string `json:"caption,omitempty"`
}

var mistaken = &ledger.Kind[ledger.Mistaken, takenOff]{
	Name: "photo-mistaken", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n ledger.Mistaken, _ takenOff) error {
		return q.TakePhotoBack(ctx, query.TakePhotoBackParams{TakenBack: n.Reason, Revised: e.Seq, ID: n.Entry})
	},
	Words: func(n ledger.Mistaken, f takenOff) ledger.Words {
		return ledger.Words{What: "Photo taken back: " + f.Name, Detail: say.Join(f.Caption, n.Reason, "by "+n.By)}
	},
}

// Retracts tells whether entries of a kind are taken back here.
func Retracts(kind string) bool { return kind == kept.Name }

// TakeBack takes a photo off what it was kept with. The picture itself stays in the record; a hand
// that one alone answers for by this photo is named, and the photo stays.
func (p *Photos) TakeBack(ctx context.Context, n ledger.Mistaken) error {
	wrong := n.Read()
	_, err := ledger.Do(ctx, p.ledger, mistaken, n.Form, n, func(q *query.Queries) (f takenOff, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		row, err := q.Photo(ctx, n.Entry)
		if err != nil {
			return f, err
		}
		if row.TakenBack != "" {
			return f, ledger.Problems{"": "it was taken back already"}
		}
		f.Caption = row.Caption
		if f.Name, err = q.Photographed(ctx, row.Of); err != nil && !errors.Is(ledger.Found(err), ledger.ErrNotFound) {
			return f, err
		}
		return f, rests(ctx, q, row)
	})
	return err
}

// rests tells whether someone answered alone for the hand of a part, by this photo of it or of its
// twin.
func rests(ctx context.Context, q *query.Queries, photo query.Photo) error {
	counts, err := q.PhotoCounts(ctx, []string{photo.Of})
	if err != nil || len(counts) > 0 && counts[0].Number > 1 {
		return err
	}
	looks, err := q.RestingOnPhoto(ctx)
	if err != nil {
		return err
	}
	for _, l := range looks {
		var c struct{ Request struct{ Of, Twin, By string } }
		if json.Unmarshal([]byte(l.Content), &c) == nil && l.Entry > photo.Entry && (c.Request.Of == photo.Of && c.Request.Twin != "" || c.Request.Twin == photo.Of) {
			return ledger.Problems{"": c.Request.By + " answered for a hand alone, by this photo: keep another first, or let a second person look"}
		}
	}
	return nil
}
