package ledger

import (
	"context"
	"sync"
	"time"
)

// watching are those who want to know of entries about some things.
type watching struct {
	mu  sync.Mutex
	all map[string]map[chan struct{}]bool // by id of the thing
}

// Watch tells, by a value in the channel, that something was entered about one of some things (by
// id) since it was last received from. stop ends it.
func (l *Ledger) Watch(things ...string) (changed <-chan struct{}, stop func()) {
	c := make(chan struct{}, 1)
	w := &l.watching
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.all == nil {
		w.all = map[string]map[chan struct{}]bool{}
	}
	for _, id := range things {
		if w.all[id] == nil {
			w.all[id] = map[chan struct{}]bool{}
		}
		w.all[id][c] = true
	}
	return c, func() {
		w.mu.Lock()
		defer w.mu.Unlock()
		for _, id := range things {
			if delete(w.all[id], c); len(w.all[id]) == 0 {
				delete(w.all, id)
			}
		}
	}
}

// Tell lets those who watch some things look again.
func (l *Ledger) Tell(things ...string) {
	w := &l.watching
	w.mu.Lock()
	defer w.mu.Unlock()
	for _, id := range things {
		for c := range w.all[id] {
			select {
			case c <- struct{}{}:
			default: // it was told already
			}
		}
	}
}

// tellOf tells those who watch what an entry names.
func (l *Ledger) tellOf(asked []byte) {
	l.watching.mu.Lock()
	none := len(l.watching.all) == 0
	l.watching.mu.Unlock()
	if !none {
		l.Tell(uuids.FindAllString(string(asked), -1)...)
	}
}

type takenKey struct{}

// TakenAt marks a context with when its submission was filled in, where that was before it
// arrived: a phone may have been out of reach.
func TakenAt(ctx context.Context, at time.Time) context.Context {
	return context.WithValue(ctx, takenKey{}, at)
}

func takenAt(ctx context.Context) time.Time {
	at, _ := ctx.Value(takenKey{}).(time.Time)
	return at
}

type knownKey struct{}

// Knowing marks a context with the last entry that whoever filled in its submission had seen, where
// it waited out of reach: what was released is asked as of then.
func Knowing(ctx context.Context, seq int64) context.Context {
	return context.WithValue(ctx, knownKey{}, seq)
}

// KnownTo is that entry; waited is false for a submission that did not wait.
func KnownTo(ctx context.Context) (seq int64, waited bool) {
	seq, waited = ctx.Value(knownKey{}).(int64)
	return seq, waited
}
