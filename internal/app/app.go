// Package app is what a screen or a command does: its use cases tie the rules in
// core to what the store keeps. Each write is one transaction and one journal
// entry, under an id that the caller made.
package app

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"

	"orpine/internal/core/journal"
	"orpine/internal/store"
	"orpine/internal/store/query"
)

// App is one workshop.
type App struct {
	store      *store.Store
	now        func() time.Time // in the builder's own time zone
	writing    sync.Mutex       // held by a use case from what it looks at to what it writes
	developing sync.Mutex       // held while a picture is decoded
}

// New returns the use cases over a store. now tells the time in the builder's
// time zone, for "today" is the builder's day.
func New(s *store.Store, now func() time.Time) *App { return &App{store: s, now: now} }

// alone lets no other write in until what it returns is called, so that a rule is
// judged on what is there when its outcome is written.
func (a *App) alone() (done func()) {
	a.writing.Lock()
	return a.writing.Unlock
}

// Now is the workshop's time.
func (a *App) Now() time.Time { return a.now() }

// ErrNotFound is returned for an id that names nothing.
var ErrNotFound = errors.New("there is nothing of that name here")

// Problems are what is wrong with a submission, by field; the field "" is the
// whole of it. Nothing was stored.
type Problems map[string]string

// Error lists the messages.
func (p Problems) Error() string {
	var all []string
	for field, message := range p {
		all = append(all, strings.TrimPrefix(field+": "+message, ": "))
	}
	slices.Sort(all)
	return strings.Join(all, "; ")
}

// Add notes a problem at a field, unless one is noted there already.
func (p Problems) Add(field, message string) {
	if _, ok := p[field]; !ok {
		p[field] = message
	}
}

// first notes the first of these problems at a field of another form, by the last
// word of where it is; always the same one, in the order of the fields.
func (p Problems) first(field string, into Problems) {
	for _, path := range slices.Sorted(maps.Keys(p)) {
		into.Add(field, strings.TrimPrefix(path[strings.LastIndex(path, ".")+1:]+": "+p[path], ": "))
	}
}

// err returns the problems as an error, or nil when there are none.
func (p Problems) err() error {
	if len(p) == 0 {
		return nil
	}
	return p
}

// Name and note lengths that a form may bring.
const (
	maxName = 80
	maxNote = 2000
)

// text checks a free text: required, trimmed, not too long.
func (p Problems) text(field string, value *string, most int, required string) {
	*value = strings.TrimSpace(*value)
	switch {
	case *value == "" && required != "":
		p.Add(field, required)
	case len([]rune(*value)) > most:
		p.Add(field, fmt.Sprintf("longer than %d characters", most))
	}
}

// A deed is something that someone asked for, as the journal keeps it.
type deed struct {
	id, kind, by string
	request      any            // what was submitted, whole
	facts        map[string]any // what it meant at the time, for whoever reads the record
}

// content is the form of a journal entry's content.
type content struct {
	Request json.RawMessage `json:"request"`
	Facts   json.RawMessage `json:"facts"`
}

// record writes one entry and the rows for it. The same request under the same
// id is one entry, however often it arrives.
func (a *App) record(ctx context.Context, d deed, write func(q *query.Queries, entry int64) error) error {
	if len(d.id) < 8 || len(d.id) > 64 {
		return Problems{"": "this form has no id of its own; load the page again"}
	}
	request, err := json.Marshal(d.request)
	if err != nil {
		return fmt.Errorf("writing the journal entry: %w", err)
	}
	facts, err := json.Marshal(d.facts)
	if err != nil {
		return fmt.Errorf("writing the journal entry: %w", err)
	}
	data, err := json.Marshal(content{request, facts})
	if err != nil {
		return fmt.Errorf("writing the journal entry: %w", err)
	}
	same := func(before string) bool {
		var c content
		return json.Unmarshal([]byte(before), &c) == nil && string(c.Request) == string(request)
	}
	_, err = a.store.Record(ctx, journal.Entry{ID: d.id, At: a.now(), Kind: d.kind, By: d.by, Content: string(data)}, same, write)
	if errors.Is(err, store.ErrOtherContent) {
		return Problems{"": "this form was sent before with something else in it; nothing new was stored. Look at what is there, then send it once more"}
	}
	return found(err)
}

// recorded returns the kind of the deed of that id in the journal, "" when there
// is none, so that a repeat is not judged by what has changed since.
func (a *App) recorded(ctx context.Context, id string) (kind string, err error) {
	err = a.view(ctx, func(q *query.Queries) error {
		row, err := q.EntryByID(ctx, id)
		kind = row.Kind
		return err
	})
	if errors.Is(err, ErrNotFound) {
		return "", nil
	}
	return kind, err
}

// view reads one state of the workshop.
func (a *App) view(ctx context.Context, read func(q *query.Queries) error) error {
	return found(a.store.View(ctx, read))
}

// found turns a missing row into ErrNotFound.
func found(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

// when reads a kept time in the builder's zone. Kept times are our own; one that
// cannot be read is shown as the zero time and found by Verify.
func (a *App) when(kept string) time.Time {
	t, err := time.Parse(time.RFC3339Nano, kept)
	if err != nil {
		return time.Time{}
	}
	return t.In(a.now().Location())
}

// time is now, as it is kept.
func (a *App) time() string { return store.Time(a.now()) }

func reference(id string) sql.NullString { return sql.NullString{String: id, Valid: id != ""} }
