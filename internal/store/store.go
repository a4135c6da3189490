// Package store keeps a workshop in one SQLite file: the journal, and the rows
// that its entries describe. Every write is one transaction that adds exactly
// one journal entry.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"time"

	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver

	"orpine/internal/core/journal"
	"orpine/internal/store/query"
)

//go:embed migrations/*.sql
var migrations embed.FS

// FileName is the name of the database in a data directory.
const FileName = "orpine.db"

// Store is an open workshop.
type Store struct{ db *sql.DB }

// Open opens the workshop in a directory, making both where they are missing,
// and brings its tables up to date. Foreign keys are on, the log is written
// ahead (WAL) and every commit reaches the disk (synchronous=FULL).
func Open(ctx context.Context, dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the data directory: %w", err)
	}
	return open(ctx, dir)
}

// OpenExisting opens a workshop that must be there already.
func OpenExisting(ctx context.Context, dir string) (*Store, error) {
	if _, err := os.Stat(filepath.Join(dir, FileName)); err != nil {
		return nil, fmt.Errorf("no workshop in %s: %w", dir, err)
	}
	return open(ctx, dir)
}

func open(ctx context.Context, dir string) (*Store, error) {
	pragmas := url.Values{
		"_pragma": {"busy_timeout(5000)", "journal_mode(WAL)", "synchronous(FULL)", "foreign_keys(1)"},
		"_txlock": {"immediate"}, // a writer waits for its turn instead of failing half-way
	}
	db, err := sql.Open("sqlite", "file:"+(&url.URL{Path: filepath.Join(dir, FileName)}).EscapedPath()+"?"+pragmas.Encode())
	if err != nil {
		return nil, fmt.Errorf("opening the workshop: %w", err)
	}
	if err := migrate(ctx, db); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return &Store{db}, nil
}

func migrate(ctx context.Context, db *sql.DB) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("bringing the tables up to date: %w", err)
	}
	return nil
}

// Close closes the workshop.
func (s *Store) Close() error { return s.db.Close() }

// View runs reads that see one state of the workshop.
func (s *Store) View(ctx context.Context, read func(q *query.Queries) error) error {
	tx, err := s.db.BeginTx(ctx, &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return fmt.Errorf("reading: %w", err)
	}
	defer tx.Rollback() //nolint:errcheck // nothing was written
	return read(query.New(tx))
}

// ErrOtherContent is returned when an id was used before for something else.
var ErrOtherContent = errors.New("this was sent before with other content")

// Record writes one journal entry and the rows it describes, or nothing. An id
// that was recorded before changes nothing: that is no error when the content
// kept then is the same request, and repeated is then true. The entry's sequence
// and hashes are filled in.
func (s *Store) Record(ctx context.Context, e journal.Entry, same func(before string) bool, write func(q *query.Queries, entry int64) error) (repeated bool, err error) {
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return false, fmt.Errorf("recording: %w", err)
	}
	defer tx.Rollback() //nolint:errcheck // after a commit it does nothing
	q := query.New(tx)
	before, err := q.EntryByID(ctx, e.ID)
	switch {
	case err == nil && before.Kind == e.Kind && same(before.Content):
		return true, nil
	case err == nil:
		return false, ErrOtherContent
	case !errors.Is(err, sql.ErrNoRows):
		return false, fmt.Errorf("recording: %w", err)
	}
	sealed, err := seal(ctx, q, e)
	if err != nil {
		return false, fmt.Errorf("recording: %w", err)
	}
	if err := write(q, sealed.Seq); err != nil {
		return false, err
	}
	if err := tx.Commit(); err != nil {
		return false, fmt.Errorf("recording: %w", err)
	}
	return false, nil
}

// seal appends the entry to the chain.
func seal(ctx context.Context, q *query.Queries, e journal.Entry) (journal.Entry, error) {
	var last *journal.Entry
	row, err := q.LastEntry(ctx)
	if err == nil {
		entry, err := Entry(row)
		if err != nil {
			return e, err
		}
		last = &entry
	} else if !errors.Is(err, sql.ErrNoRows) {
		return e, err
	}
	e = journal.Next(last, e)
	return e, q.AddEntry(ctx, query.AddEntryParams{Seq: e.Seq, ID: e.ID, At: Time(e.At), Kind: e.Kind, ByName: e.By, Content: e.Content, Prev: e.Prev, Hash: e.Hash})
}

// Entry turns a row into a journal entry.
func Entry(row query.Journal) (journal.Entry, error) {
	at, err := time.Parse(time.RFC3339Nano, row.At)
	if err != nil {
		return journal.Entry{}, &journal.Broken{Seq: row.Seq, Why: "its time cannot be read"}
	}
	return journal.Entry{Seq: row.Seq, ID: row.ID, At: at, Kind: row.Kind, By: row.ByName, Content: row.Content, Prev: row.Prev, Hash: row.Hash}, nil
}

// Time writes a time as it is kept.
func Time(t time.Time) string { return t.UTC().Format(time.RFC3339Nano) }
