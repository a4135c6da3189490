// Package store keeps a workshop in one SQLite file: the journal, and the rows that
// its entries describe. Writes go one at a time through a single connection, on which
// database/sql queues them fairly; reads go through a pool of others, each seeing one
// state. What may be written, and how, is the business of package ledger.
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
	"sync/atomic"
	"time"

	"github.com/pressly/goose/v3"
	"modernc.org/sqlite" // the driver, too
	sqlite3 "modernc.org/sqlite/lib"

	"orpine/internal/store/query"
)

//go:embed migrations/*.sql
var migrations embed.FS

// FileName is the name of the database in a data directory.
const FileName = "orpine.db"

// applicationID marks a file as a workshop's: "Orpn" in the header of the file.
const applicationID = 0x4f72706e

// readers is how many reads may run side by side.
const readers = 8

// Errors of opening.
var (
	ErrEmpty   = errors.New("the file is empty, and a workshop's never is: restore it from a copy, or take it away to begin anew")
	ErrForeign = errors.New("the file is not a workshop of this program")
)

// Store is an open workshop.
type Store struct {
	write, read *pool
	statements  atomic.Int64
	path        string
	clean       string // a temporary directory that goes with the store
	halted      atomic.Pointer[error]
	opened      os.FileInfo // of the file, to see that it stays that one; nil for one that nobody else can touch

	// Migrated tells that tables were changed when the file was opened, so that its
	// rows are to be made anew from the journal.
	Migrated bool
}

// Open opens the workshop in a directory, making both where they are missing, and
// brings its tables up to date. Foreign keys are on, the log is written ahead (WAL)
// and every commit reaches the disk (synchronous=FULL). The error is ErrEmpty or
// ErrForeign for a file that is not a workshop.
func Open(ctx context.Context, dir string) (*Store, error) { return OpenNamed(ctx, dir, FileName) }

// OpenNamed is Open for a workshop in a file of another name.
func OpenNamed(ctx context.Context, dir, name string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the data directory: %w", err)
	}
	path := filepath.Join(dir, name)
	known, err := recognise(ctx, path)
	if err != nil {
		return nil, fmt.Errorf("opening %s: %w", path, err)
	}
	return open(ctx, path, known)
}

// OpenExisting opens a workshop that must be there already.
func OpenExisting(ctx context.Context, dir string) (*Store, error) {
	if _, err := os.Stat(filepath.Join(dir, FileName)); err != nil {
		return nil, fmt.Errorf("no workshop in %s: %w", dir, err)
	}
	return Open(ctx, dir)
}

// recognise tells whether there is a workshop at a path; a file that is something
// else is an error.
func recognise(ctx context.Context, path string) (known bool, err error) {
	info, err := os.Stat(path)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return false, nil
	case err != nil:
		return false, err
	case info.Size() == 0:
		return false, ErrEmpty
	}
	db, err := sql.Open("sqlite", dsn(path, url.Values{"mode": {"ro"}}))
	if err != nil {
		return false, err
	}
	defer db.Close()
	var id int64
	if err := db.QueryRowContext(ctx, "PRAGMA application_id").Scan(&id); err != nil {
		var refused *sqlite.Error
		if errors.As(err, &refused) && refused.Code()&0xff != sqlite3.SQLITE_NOTADB {
			return false, fmt.Errorf("it cannot be opened: if its disk can only be read, make a copy on another one (orpine verify reads it where it is): %w", wrapped("looking at the file", err))
		}
		return false, errors.Join(ErrForeign, err)
	}
	if id != applicationID {
		return false, ErrForeign
	}
	return true, nil
}

func dsn(path string, options url.Values) string {
	return "file:" + (&url.URL{Path: path}).EscapedPath() + "?" + options.Encode()
}

func open(ctx context.Context, path string, known bool) (*Store, error) {
	write, err := sql.Open("sqlite", dsn(path, url.Values{
		"_pragma": {"busy_timeout(5000)", "journal_mode(WAL)", "synchronous(FULL)", "foreign_keys(1)"},
		"_txlock": {"immediate"},
	}))
	if err != nil {
		return nil, fmt.Errorf("opening the workshop: %w", err)
	}
	write.SetMaxOpenConns(1)
	s := &Store{write: newPool(write, 1), path: path}
	if s.Migrated, err = migrate(ctx, write, known); err != nil {
		return nil, errors.Join(wrapped("opening the workshop", err), write.Close())
	}
	read, err := sql.Open("sqlite", dsn(path, url.Values{"_pragma": {"busy_timeout(5000)", "query_only(1)"}}))
	if err != nil {
		return nil, errors.Join(fmt.Errorf("opening the workshop: %w", err), write.Close())
	}
	read.SetMaxOpenConns(readers)
	s.read = newPool(read, readers)
	if err := errors.Join(s.write.ready(ctx), s.read.ready(ctx)); err != nil {
		return nil, errors.Join(wrapped("opening the workshop", err), s.read.close(), s.write.close())
	}
	if s.opened, err = os.Stat(path); err != nil {
		return nil, errors.Join(fmt.Errorf("looking at the workshop's file: %w", err), read.Close(), write.Close())
	}
	return s, nil
}

// migrate brings the tables up to date; changed tells whether an existing workshop's
// were altered.
func migrate(ctx context.Context, db *sql.DB, known bool) (changed bool, err error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return false, err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	if err != nil {
		return false, fmt.Errorf("reading the migrations: %w", err)
	}
	pending, err := provider.HasPending(ctx)
	if err != nil {
		return false, fmt.Errorf("looking for migrations: %w", err)
	}
	if known && pending { // kept in the file until the rows are made anew, whatever comes between
		if _, err := db.ExecContext(ctx, "PRAGMA user_version = 1"); err != nil {
			return false, fmt.Errorf("marking the workshop: %w", err)
		}
	}
	if _, err := provider.Up(ctx); err != nil {
		return false, fmt.Errorf("bringing the tables up to date: %w", err)
	}
	if !known {
		if _, err := db.ExecContext(ctx, fmt.Sprintf("PRAGMA application_id = %d", applicationID)); err != nil {
			return false, fmt.Errorf("marking the workshop: %w", err)
		}
	}
	var due int
	err = db.QueryRowContext(ctx, "PRAGMA user_version").Scan(&due)
	return known && due == 1, err
}

// migrateTo makes the tables as an older build made them.
func migrateTo(ctx context.Context, db *sql.DB, number int64) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	_, err = provider.UpTo(ctx, number)
	return err
}

// OpenPlain opens a file of this machine that is no workshop, and sees that its tables are there.
func OpenPlain(ctx context.Context, path, tables string) (*sql.DB, error) {
	db, err := sql.Open("sqlite", dsn(path, url.Values{"_pragma": {"busy_timeout(5000)", "journal_mode(WAL)", "synchronous(FULL)"}}))
	if err != nil {
		return nil, err
	}
	if _, err := db.ExecContext(ctx, tables); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return db, os.Chmod(path, 0o600)
}

// Close closes the workshop.
func (s *Store) Close() error {
	err := s.read.close()
	if s.write != s.read {
		err = errors.Join(err, s.write.close())
	}
	return errors.Join(err, removed(s.clean))
}

// Path is where the database lies.
func (s *Store) Path() string { return s.path }

// Statements counts the statements run so far: a figure that tests hold small.
func (s *Store) Statements() int64 { return s.statements.Load() }

// View runs reads that see one state of the workshop.
func (s *Store) View(ctx context.Context, read func(q *query.Queries) error) error {
	return s.ViewTables(ctx, func(db query.DBTX) error { return read(query.New(db)) })
}

// ViewTables is View for statements that are not in package query.
func (s *Store) ViewTables(ctx context.Context, read func(db query.DBTX) error) error {
	if db, within := ctx.Value(together{s}).(query.DBTX); within {
		return read(db)
	}
	return wrapped("reading", s.read.transact(ctx, true, &s.statements, read))
}

// Write runs a write that is done whole or not at all; no other runs beside it.
func (s *Store) Write(ctx context.Context, write func(q *query.Queries) error) error {
	return s.WriteTables(ctx, func(db query.DBTX) error { return write(query.New(db)) })
}

// WriteTables is Write for statements that are not in package query.
func (s *Store) WriteTables(ctx context.Context, write func(db query.DBTX) error) error {
	if db, within := ctx.Value(together{s}).(query.DBTX); within {
		return saved(ctx, db, write)
	}
	if why := s.Halted(); why != nil {
		return &Trouble{"writing has stopped: " + why.Error(), why}
	}
	return wrapped("writing", s.write.transact(ctx, false, &s.statements, write))
}

// together marks a context whose reads and writes of a store are of one transaction.
type together struct{ *Store }

// Together runs reads and writes that are one write, done whole or not at all: those that are given
// the context of work. One of them that fails undoes itself alone.
func (s *Store) Together(ctx context.Context, work func(ctx context.Context) error) error {
	return s.WriteTables(ctx, func(db query.DBTX) error { return work(context.WithValue(ctx, together{s}, db)) })
}

// saved runs a write within another, which it undoes alone where it fails.
func saved(ctx context.Context, db query.DBTX, write func(db query.DBTX) error) error {
	if _, err := db.ExecContext(ctx, "SAVEPOINT together"); err != nil {
		return fmt.Errorf("writing: %w", err)
	}
	err := write(db)
	if err != nil {
		if _, undo := db.ExecContext(ctx, "ROLLBACK TO together"); undo != nil {
			return errors.Join(err, undo)
		}
	}
	if _, end := db.ExecContext(ctx, "RELEASE together"); end != nil {
		return errors.Join(err, end)
	}
	return err
}

// Time writes a time as it is kept.
func Time(t time.Time) string { return t.UTC().Format(time.RFC3339Nano) }
