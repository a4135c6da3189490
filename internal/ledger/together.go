package ledger

import (
	"context"
	"errors"
)

// errTried ends a write that was only tried.
var errTried = errors.New("it was only tried")

// Together makes several submissions one write: work is given a ledger, and a context, in which
// each sees those before it. Where keep is false, or work fails, nothing of it is kept. A
// submission that is refused is undone alone. What is read through other ledgers meanwhile is
// the workshop as it was.
func (l *Ledger) Together(ctx context.Context, keep bool, work func(ctx context.Context, l *Ledger) error) error {
	inside := &Ledger{store: l.store, registry: l.registry, gate: l.gate, now: l.now, zone: l.zone}
	err := l.store.Together(ctx, func(ctx context.Context) error {
		if err := work(ctx, inside); err != nil {
			return err
		}
		if !keep {
			return errTried
		}
		return nil
	})
	if errors.Is(err, errTried) {
		return nil
	}
	if err == nil {
		for _, capability := range l.registry.from {
			l.wrote(capability)
		}
	}
	return err
}
