package ledger

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"orpine/internal/store"
	"orpine/internal/store/query"
)

// Trouble is something outside the workshop for which nothing can be written now.
type Trouble = store.Trouble

// TroubleOf is the Trouble that an error came of, if any.
func TroubleOf(err error) (t *Trouble, ok bool) {
	ok = errors.As(err, &t)
	return t, ok
}

// Halt stops all writing to the workshop, with the reason; reading goes on.
func (l *Ledger) Halt(why error) { l.store.Halt(why) }

// Halted is why writing has stopped; nil while it goes on.
func (l *Ledger) Halted() error { return l.store.Halted() }

// slack is how far the clock may be behind the last entry before it is said.
const slack = 2 * time.Minute

// Behind tells when the last entry was made, where the clock says that this is still to come: one
// of the two was wrong.
func (l *Ledger) Behind() (last time.Time, behind bool) {
	at := l.lastAt.Load()
	if at == nil {
		return last, false
	}
	last = at.In(l.zone)
	return last, l.Now().Add(slack).Before(last)
}

// Began is the number of the last entry when the ledger was opened.
func (l *Ledger) Began() int64 { return l.began }

// readLast reads when the last entry was made.
func (l *Ledger) readLast(ctx context.Context) error {
	return l.store.View(ctx, func(q *query.Queries) error {
		e, err := q.LastEntry(ctx)
		if errors.Is(err, sql.ErrNoRows) {
			return nil
		}
		if at := UTC(e.At); err == nil && !at.IsZero() {
			l.lastAt.Store(&at)
		}
		l.began = e.Seq
		l.seq.Store(e.Seq)
		return err
	})
}

// Copied is a copy that was made, and holds.
type Copied struct {
	Path   string
	Report Report
	At     time.Time
}

// Copy writes a copy of the workshop into a directory while others go on working, and replays it;
// keep is how many are kept, beside the last of each month (0: all).
func (l *Ledger) Copy(ctx context.Context, dir string, keep int) (c Copied, err error) {
	c, err = l.registry.copy(ctx, l.store, dir, l.Now())
	if err == nil && keep > 0 {
		err = store.Thin(dir, keep)
	}
	return c, err
}

// Copy is Ledger.Copy for a store that is only read.
func Copy(ctx context.Context, s *store.Store, dir string, at time.Time, capabilities ...Capability) (Copied, error) {
	r, err := register(capabilities)
	if err != nil {
		return Copied{}, err
	}
	return r.copy(ctx, s, dir, at)
}

func (r registry) copy(ctx context.Context, s *store.Store, dir string, at time.Time) (c Copied, err error) {
	c.At = at
	c.Path, err = s.Copy(ctx, dir, at, func(ctx context.Context, copied *store.Store) error {
		c.Report, err = r.verify(ctx, copied, nil)
		return err
	})
	return c, err
}

// Restore puts a copy into a data directory that has no workshop, once its journal was replayed.
func Restore(ctx context.Context, from, dir string, capabilities ...Capability) (report Report, err error) {
	r, err := register(capabilities)
	if err != nil {
		return report, err
	}
	err = store.Restore(ctx, from, dir, func(ctx context.Context, copied *store.Store) error {
		if _, err := Open(ctx, copied, time.Now, time.UTC, capabilities...); err != nil { // rows of an older build are made anew
			return err
		}
		report, err = r.verify(ctx, copied, nil)
		return err
	})
	return report, err
}

// LastCopy is when the last copy in a directory was made; the zero time for none.
func (l *Ledger) LastCopy(dir string) (time.Time, error) { return store.LastCopy(dir, l.zone) }

// Settle moves what was written ahead into the file itself.
func (l *Ledger) Settle(ctx context.Context) error {
	if err := l.store.Settle(ctx); err != nil {
		return fmt.Errorf("settling the workshop's file: %w", err)
	}
	return nil
}
