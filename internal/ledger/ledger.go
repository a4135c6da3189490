// Package ledger is the only way in which a workshop is written to.
//
// Whatever someone submits is one entry of the journal: the request as it was made,
// and the facts that it was judged to be. Do takes a submission, judges it on what
// is there, and writes entry and rows in one transaction, or nothing. The rows
// follow from the entries alone, so that Verify can replay the journal and compare.
//
// A capability declares its tables and its kinds of entries (see Capability); it never
// writes a row outside Apply.
package ledger

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"sync"
	"sync/atomic"
	"time"

	"github.com/google/uuid"

	"orpine/internal/core/journal"
	"orpine/internal/store"
	"orpine/internal/store/query"
)

// Ledger is the record of one workshop.
type Ledger struct {
	store    *store.Store
	registry registry
	gate     Gatekeeper // nil for one that only replays
	mend     func(ctx context.Context) error
	compares []func(ctx context.Context, q *query.Queries) (string, error)
	now      func() time.Time
	zone     *time.Location
	watching watching
	seq      atomic.Int64              // number of the last entry
	began    int64                     // number of the last entry when it was opened
	lastAt   atomic.Pointer[time.Time] // of the last entry; nil for none
	written  sync.Map                  // by capability: how often it wrote since the ledger was opened, *atomic.Int64
}

// Open returns the ledger of an open store with its capabilities. now tells the time;
// zone is the workshop's, for "today" is the builder's day. The rows of a workshop
// whose tables were changed are made anew from its journal.
func Open(ctx context.Context, s *store.Store, now func() time.Time, zone *time.Location, capabilities ...Capability) (*Ledger, error) {
	r, err := register(capabilities)
	if err != nil {
		return nil, err
	}
	l := &Ledger{store: s, registry: r, now: now, zone: zone}
	if s.Migrated {
		if err := l.rebuild(ctx); err != nil {
			return nil, fmt.Errorf("making the rows anew from the journal: %w", err)
		}
	}
	return l, l.readLast(ctx)
}

// Aside is the ledger of a store that is only looked at: nothing is brought up to date in it.
func Aside(s *store.Store, capabilities ...Capability) (*Ledger, error) {
	r, err := register(capabilities)
	return &Ledger{store: s, registry: r, now: time.Now, zone: time.Local}, err
}

// Now is the workshop's time.
func (l *Ledger) Now() time.Time { return l.now().In(l.zone) }

// When reads a kept time in the workshop's zone. Kept times are our own; one that
// cannot be read is shown as the zero time, and found by Verify.
func (l *Ledger) When(kept string) time.Time {
	if t := UTC(kept); !t.IsZero() {
		return t.In(l.zone)
	}
	return time.Time{}
}

// UTC reads a kept time where the workshop's zone does not matter.
func UTC(kept string) time.Time {
	t, err := time.Parse(time.RFC3339Nano, kept)
	if err != nil {
		return time.Time{}
	}
	return t
}

// Kept is a time as it is kept.
func Kept(t time.Time) string { return t.UTC().Format(time.RFC3339Nano) }

// Writes counts what some capabilities wrote since the ledger was opened: what was read of them
// stands while it stays the same, for nobody else writes to a workshop.
func (l *Ledger) Writes(capabilities ...string) (sum int64) {
	for _, c := range capabilities {
		if n, ok := l.written.Load(c); ok {
			sum += n.(*atomic.Int64).Load()
		}
	}
	return sum
}

// Entries counts all that was written since the ledger was opened.
func (l *Ledger) Entries() (sum int64) {
	l.written.Range(func(_, n any) bool {
		sum += n.(*atomic.Int64).Load()
		return true
	})
	return sum
}

// Seq is the number of the last entry: what is read after it was asked for knows that entry.
func (l *Ledger) Seq() int64 { return l.seq.Load() }

// Statements counts the statements run so far.
func (l *Ledger) Statements() int64 { return l.store.Statements() }

// ErrNotFound is returned for an id that names nothing.
var ErrNotFound = errors.New("there is nothing of that name here")

// Found turns a missing row into ErrNotFound.
func Found(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

// View reads one state of the workshop.
func (l *Ledger) View(ctx context.Context, read func(q *query.Queries) error) error {
	return Found(l.store.View(ctx, read))
}

// Derive writes rows of derived tables, which follow from the record and are no part
// of it. Where nothing can be written they are worked out anew each time.
func (l *Ledger) Derive(ctx context.Context, write func(q *query.Queries) error) error {
	err := l.store.Write(ctx, write)
	if _, trouble := TroubleOf(err); trouble {
		return nil
	}
	return err
}

// Form is what every submission carries: the id that it was given when its form was
// made, and when it was filled in, where that was before it arrived.
type Form struct {
	ID    string    `json:"-" form:"id"`
	Taken time.Time `json:"-" form:"-"`
}

// Child is the id of something that a submission makes beside what carries its own.
func Child(parent, name string) string {
	space, err := uuid.Parse(parent)
	if err != nil { // an id was checked before it became a parent; a test's may not be
		space = uuid.NewSHA1(uuid.NameSpaceOID, []byte(parent))
	}
	return uuid.NewSHA1(space, []byte(name)).String()
}

// content is the form of a journal entry's content.
type content struct {
	Version int             `json:"version"`
	Taken   time.Time       `json:"taken,omitzero"`
	Request json.RawMessage `json:"request"`
	Facts   json.RawMessage `json:"facts"`
	Origin  *origin         `json:"origin,omitempty"` // of an entry that came from another workshop
	Signed  string          `json:"signed,omitempty"` // mark of the account it was entered from
}

// Author is the account that submissions are entered from.
type Author struct {
	Name string
	Mark string // short; kept beside the name, for two people may be called the same
	// May tells whether they have one of some rights; nil where nobody asks.
	May func(any ...Right) bool
}

type authorKey struct{}

// As marks a context with the account that submits: entries carry its name, whatever was typed.
func As(ctx context.Context, a Author) context.Context {
	return context.WithValue(ctx, authorKey{}, a)
}

// A File is something that an entry carries beside its content, named by its SHA-256
// in the facts.
type File struct {
	SHA256  string
	Content []byte
}

// Do takes a submission: one immediate transaction, in which judge looks at what is
// there and returns the facts, or the reason why not. The same request under the same
// id was taken already: its facts of then are returned, and nothing is written.
// Another request under an id that was used is a Problem that says what was taken.
func Do[R, F any](ctx context.Context, l *Ledger, kind *Kind[R, F], form Form, request R, judge func(q *query.Queries) (F, error), files ...File) (facts F, err error) {
	if err := readable(request); err != nil {
		return facts, err
	}
	if id, err := uuid.Parse(form.ID); err != nil || id.String() != form.ID {
		return facts, Problems{"": "this form has no id of its own; load the page again"}
	}
	author, _ := ctx.Value(authorKey{}).(Author)
	if err := author.takes(kind.Takes); err != nil {
		return facts, err
	}
	asked, err := json.Marshal(request)
	if err != nil {
		return facts, fmt.Errorf("writing down what was asked: %w", err)
	}
	err = l.store.Write(ctx, func(q *query.Queries) error {
		before, err := q.EntryByID(ctx, form.ID)
		switch {
		case err == nil:
			facts, err = kind.repeated(l, before, asked)
			return err
		case !errors.Is(err, sql.ErrNoRows):
			return fmt.Errorf("looking for the submission: %w", err)
		}
		if facts, err = judge(q); err != nil {
			return err
		}
		for _, f := range files {
			if err := Keep(ctx, q, f); err != nil {
				return err
			}
		}
		return l.take(ctx, q, kind, form, asked, facts)
	})
	if err == nil {
		l.wrote(l.registry.from[kind.name()])
		l.tellOf(asked)
		if at, last := l.now(), l.lastAt.Load(); last == nil || at.After(*last) { // a clock that runs back hides nothing
			l.lastAt.Store(&at)
		}
	}
	return facts, Found(err)
}

// wrote counts that a capability wrote.
func (l *Ledger) wrote(capability string) {
	n, _ := l.written.LoadOrStore(capability, new(atomic.Int64))
	n.(*atomic.Int64).Add(1)
}

// Keep keeps what entries carry, once.
func Keep(ctx context.Context, q *query.Queries, f File) error {
	if err := q.AddFile(ctx, query.AddFileParams{Sha256: f.SHA256, Content: f.Content}); err != nil {
		return fmt.Errorf("keeping a file: %w", err)
	}
	return nil
}

// take seals the entry and writes its rows.
func (l *Ledger) take(ctx context.Context, q *query.Queries, kind registered, form Form, asked []byte, facts any) error {
	judged, err := json.Marshal(facts)
	if err != nil {
		return fmt.Errorf("writing down the facts: %w", err)
	}
	signed, _ := ctx.Value(authorKey{}).(Author)
	c := content{Version: kind.version(), Request: asked, Facts: judged, Signed: signed.Mark}
	if form.Taken.IsZero() {
		form.Taken = takenAt(ctx)
	}
	if !form.Taken.IsZero() {
		c.Taken = form.Taken.UTC()
	}
	data, err := json.Marshal(c)
	if err != nil {
		return fmt.Errorf("writing the entry: %w", err)
	}
	last, err := end(ctx, q)
	if err != nil {
		return err
	}
	by := author(asked)
	if signed.Name != "" {
		by = signed.Name
	}
	e := journal.Next(last, journal.Entry{ID: form.ID, At: l.now(), Kind: kind.name(), By: by, Content: string(data)})
	if err := l.ask(ctx, q, kind, e, c, false); err != nil {
		return err
	}
	if err := add(ctx, q, e); err != nil {
		return err
	}
	if err := apply(ctx, q, kind, e, c); err != nil {
		return err
	}
	if err := kind.derive(ctx, q, e, c); err != nil {
		return err
	}
	if err := l.follow(ctx, q, kind, e, c); err != nil {
		return err
	}
	l.seq.Store(e.Seq)
	return nil
}

// end is where the journal ends: number and hash of its last entry, nil where there is none.
func end(ctx context.Context, q *query.Queries) (*journal.Entry, error) {
	head, err := q.Head(ctx)
	switch {
	case err == nil:
		return &journal.Entry{Seq: head.Seq, Hash: head.Hash}, nil
	case errors.Is(err, sql.ErrNoRows):
		return nil, nil
	}
	return nil, fmt.Errorf("reading the end of the journal: %w", err)
}

// add writes a sealed entry.
func add(ctx context.Context, q *query.Queries, e journal.Entry) error {
	err := q.AddEntry(ctx, query.AddEntryParams{Seq: e.Seq, ID: e.ID, At: store.Time(e.At), Kind: e.Kind, ByName: e.By, Content: e.Content, Prev: e.Prev, Hash: e.Hash})
	if err != nil {
		return fmt.Errorf("writing the entry: %w", err)
	}
	return nil
}

// apply writes the rows of an entry, from nothing but the entry.
func apply(ctx context.Context, q *query.Queries, kind registered, e journal.Entry, c content) error {
	if err := q.SetHead(ctx, query.SetHeadParams{Seq: e.Seq, Hash: e.Hash}); err != nil {
		return fmt.Errorf("moving the end of the journal: %w", err)
	}
	if err := kind.apply(ctx, q, e, c); err != nil {
		return fmt.Errorf("writing the rows of entry %d (%s): %w", e.Seq, e.Kind, err)
	}
	return nil
}

// author is the name that a request carries, if any.
func author(request []byte) string {
	var named struct{ By string }
	if json.Unmarshal(request, &named) != nil {
		return ""
	}
	return named.By
}

// entryOf turns a row into a journal entry.
func entryOf(row query.Journal) (journal.Entry, error) {
	at, err := time.Parse(time.RFC3339Nano, row.At)
	if err != nil {
		return journal.Entry{}, &journal.Broken{Seq: row.Seq, Why: "its time cannot be read"}
	}
	return journal.Entry{Seq: row.Seq, ID: row.ID, At: at, Kind: row.Kind, By: row.ByName, Content: row.Content, Prev: row.Prev, Hash: row.Hash}, nil
}
