package overview

import (
	"sync"

	"orpine/internal/ledger"
)

// kept is what was read of some capabilities, by what it is of, as long as none of them writes:
// what is said on every sheet, or at every rivet, and changes seldom.
type kept[T any] struct {
	mutex sync.Mutex
	at    int64
	by    map[string]T
}

// mostKept is how many are kept at once.
const mostKept = 500

// of returns what is kept, or reads it. A write that comes while it is read makes it be read anew
// the next time.
func (k *kept[T]) of(l *ledger.Ledger, key string, read func() (T, error), capabilities ...string) (T, error) {
	now := l.Writes(capabilities...)
	k.mutex.Lock()
	if k.by == nil || k.at != now || len(k.by) > mostKept {
		k.by, k.at = map[string]T{}, now
	}
	v, ok := k.by[key]
	k.mutex.Unlock()
	if ok {
		return v, nil
	}
	v, err := read()
	if err != nil {
		return v, err
	}
	k.mutex.Lock()
	if k.at == now {
		k.by[key] = v
	}
	k.mutex.Unlock()
	return v, nil
}
