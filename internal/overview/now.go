package overview

import (
	"context"

	"orpine/internal/ledger"
	"orpine/internal/measuring"
)

// MeasureNow begins a setup of what is measured now, and takes its first reading with it: both, or neither. The
// reading needs no more than its spot, its text and how it was taken.
func (w *Workshop) MeasureNow(ctx context.Context, n measuring.NewSetup, first measuring.NewReading) error {
	return w.Ledger.Together(ctx, true, func(ctx context.Context, l *ledger.Ledger) error {
		on := New(l)
		if err := on.Measuring.Begin(ctx, n); err != nil {
			return err
		}
		setup, err := on.Measuring.Setup(ctx, n.ID)
		if err != nil {
			return err
		}
		first.Form = ledger.Form{ID: ledger.Child(n.ID, "first reading")}
		first.Check, first.Instrument, first.State, first.Last = setup.Checks[0].ID, setup.Checks[0].Instrument, 1, ""
		return on.Measuring.Take(ctx, first)
	})
}
