// Package journal seals what happened in a workshop into an append-only chain:
// each entry carries the SHA-256 of its own content and of the entry before it,
// so that nothing can be changed, left out or put in afterwards without showing.
//
// The chain proves that entries were not altered, not who wrote them. Entries
// cut off its end do not show in the chain itself; the caller compares the rows
// that entries describe for that.
package journal

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"strconv"
	"time"
)

// Entry is one thing that happened.
type Entry struct {
	Seq     int64     // from 1, without gaps
	ID      string    // made by whoever submitted it; a repeat is the same entry
	At      time.Time // UTC
	Kind    string
	By      string // the name given, if any
	Content string // JSON
	Prev    string // hash of the entry before; empty for the first
	Hash    string
}

// Next returns e sealed as the entry that follows last (nil: the first).
func Next(last *Entry, e Entry) Entry {
	e.Seq, e.Prev, e.At = 1, "", e.At.UTC()
	if last != nil {
		e.Seq, e.Prev = last.Seq+1, last.Hash
	}
	e.Hash = e.sum()
	return e
}

// sum hashes every field but the hash itself, each preceded by its length.
func (e Entry) sum() string {
	h := sha256.New()
	for _, field := range []string{e.Prev, strconv.FormatInt(e.Seq, 10), e.ID, e.At.UTC().Format(time.RFC3339Nano), e.Kind, e.By, e.Content} {
		fmt.Fprintf(h, "%d:%s\n", len(field), field)
	}
	return hex.EncodeToString(h.Sum(nil))
}

// Whole tells whether the entry's hash is that of its fields.
func (e Entry) Whole() bool { return e.Hash == e.sum() }

// Broken says which entry of a chain is the first that does not hold, and why.
type Broken struct {
	Seq int64
	Why string
}

// Error names the entry.
func (b *Broken) Error() string { return fmt.Sprintf("entry %d does not hold: %s", b.Seq, b.Why) }

// Chain checks entries one by one, in order. Its zero value expects the first.
type Chain struct{ last *Entry }

// Check returns a *Broken error if e does not follow the entries before it.
func (c *Chain) Check(e Entry) error {
	seq, prev := int64(1), ""
	if c.last != nil {
		seq, prev = c.last.Seq+1, c.last.Hash
	}
	switch {
	case e.Seq != seq:
		return &Broken{seq, fmt.Sprintf("it is missing; the next is %d", e.Seq)}
	case e.Prev != prev:
		return &Broken{e.Seq, "it does not follow from the entry before"}
	case e.Hash != e.sum():
		return &Broken{e.Seq, "its content is not what was written"}
	}
	c.last = &e
	return nil
}
