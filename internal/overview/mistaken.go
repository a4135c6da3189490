package overview

import (
	"context"

	"orpine/internal/closing"
	"orpine/internal/holding"
	"orpine/internal/instrument"
	"orpine/internal/ledger"
	"orpine/internal/photo"
)

// Retractable tells whether entries of a kind are taken back by name and reason, and have no sheet of
// their own on which that is done.
func Retractable(kind string) bool {
	return photo.Retracts(kind) || instrument.Retracts(kind) || closing.Retracts(kind) || holding.Retracts(kind)
}

// Retract takes back an entry that was made by mistake. What rests on it is named, and it stays.
func (w *Workshop) Retract(ctx context.Context, n ledger.Mistaken) error {
	was, err := w.Ledger.ByID(ctx, n.Entry)
	if err != nil {
		return err
	}
	n.Entry = was.ID // it may have been named by its number
	switch {
	case photo.Retracts(was.Kind):
		return w.Photos.TakeBack(ctx, n)
	case instrument.Retracts(was.Kind):
		return w.Instruments.TakeBack(ctx, was, n)
	case closing.Retracts(was.Kind):
		return w.Closing.TakeBack(ctx, was, n)
	case holding.Retracts(was.Kind):
		return w.Holding.TakeBack(ctx, was, n)
	}
	return ledger.ErrNotFound
}
