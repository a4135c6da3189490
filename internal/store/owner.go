package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"orpine/internal/store/query"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"sync"

	"github.com/gofrs/flock"
)

// lockName is the file that the owner of a data directory holds locked; it says who
// that is.
const lockName = "orpine.lock"

// saidName is the file in which the owner says who it is: the locked one, but where a locked file cannot be read by
// others one beside it.
func saidName(system string) string {
	if system == "windows" {
		return "orpine.owner"
	}
	return lockName
}

// Owned is returned when another process holds a data directory.
type Owned struct{ Dir, By string }

// Error says which process it is.
func (o *Owned) Error() string {
	return fmt.Sprintf("%s is in use by %s; stop that one first, or choose another --data directory", o.Dir, o.By)
}

// Own makes this process the owner of a data directory until release is called; as
// says how it is called to others. The error is an *Owned when there is an owner.
func Own(dir, as string) (release func() error, err error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the data directory: %w", err)
	}
	path := filepath.Join(dir, lockName)
	lock := flock.New(path)
	ok, err := lock.TryLock()
	if err != nil {
		return nil, fmt.Errorf("locking %s: %w", dir, err)
	}
	if !ok {
		return nil, &Owned{dir, owner(dir)}
	}
	if err := os.WriteFile(filepath.Join(dir, saidName(runtime.GOOS)), []byte(fmt.Sprintf("process %d (%s)\n", os.Getpid(), as)), 0o600); err != nil {
		return nil, errors.Join(fmt.Errorf("locking %s: %w", dir, err), lock.Unlock())
	}
	return lock.Unlock, nil
}

// Owner tells which process holds a data directory; "" for none.
func Owner(dir string) string {
	path := filepath.Join(dir, lockName)
	if _, err := os.Stat(path); err != nil {
		return ""
	}
	lock := flock.New(path, flock.SetFlag(os.O_RDONLY))
	ok, err := lock.TryRLock()
	if err != nil { // a directory that cannot be locked has no owner
		return ""
	}
	if !ok {
		return owner(dir)
	}
	lock.Unlock() //nolint:errcheck // it was only tried
	return ""
}

func owner(dir string) string {
	data, err := os.ReadFile(filepath.Join(dir, saidName(runtime.GOOS)))
	if who := strings.TrimSpace(string(data)); err == nil && who != "" {
		return who
	}
	return "another process"
}

// Inspect opens a workshop to be checked without writing a byte to it. Where nobody
// owns it, the database and its log are copied to a temporary directory, so that it
// may lie on something that cannot be written; where a server runs, its database is
// read beside it.
func Inspect(ctx context.Context, dir string) (*Store, error) {
	path := filepath.Join(dir, FileName)
	if _, err := os.Stat(path); err != nil {
		return nil, fmt.Errorf("no workshop in %s: %w", dir, err)
	}
	options := url.Values{"_pragma": {"busy_timeout(5000)", "query_only(1)"}}
	var clean string
	if Owner(dir) == "" {
		var err error
		if clean, err = aside(path); err != nil {
			return nil, err
		}
		path = filepath.Join(clean, FileName)
	} else {
		options.Set("mode", "ro")
	}
	if _, err := recognise(ctx, path); err != nil {
		return nil, errors.Join(fmt.Errorf("opening %s: %w", filepath.Join(dir, FileName), err), removed(clean))
	}
	db, err := sql.Open("sqlite", dsn(path, options))
	if err != nil {
		return nil, errors.Join(err, removed(clean))
	}
	all := newPool(db, 1)
	return &Store{read: all, write: all, path: path, clean: clean}, nil
}

// aside copies a database and its log to a temporary directory.
func aside(path string) (dir string, err error) {
	if dir, err = os.MkdirTemp("", "orpine-copy-"); err != nil {
		return "", fmt.Errorf("making room to look at a copy: %w", err)
	}
	for _, suffix := range []string{"", "-wal"} {
		if err := copyFile(path+suffix, filepath.Join(dir, FileName+suffix)); err != nil && !(suffix != "" && errors.Is(err, fs.ErrNotExist)) {
			return "", errors.Join(fmt.Errorf("copying the workshop: %w", err), os.RemoveAll(dir))
		}
	}
	return dir, nil
}

// Borrow opens a workshop to be read without writing a byte to it, whatever build made it: where
// nobody owns it, a copy of it is brought up to date; where a server runs, its database is read
// beside it.
func Borrow(ctx context.Context, dir string) (*Store, error) {
	if Owner(dir) != "" {
		return Inspect(ctx, dir)
	}
	path := filepath.Join(dir, FileName)
	if _, err := os.Stat(path); err != nil {
		return nil, fmt.Errorf("no workshop in %s: %w", dir, err)
	}
	copied, err := aside(path)
	if err != nil {
		return nil, err
	}
	s, err := Open(ctx, copied)
	if err != nil {
		return nil, errors.Join(err, os.RemoveAll(copied))
	}
	s.clean = copied
	return s, nil
}

func removed(dir string) error {
	if dir == "" {
		return nil
	}
	return os.RemoveAll(dir)
}

func copyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_WRONLY|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Close())
}

// blanks are empty workshops with the tables of a number, 0 for those of today, made once each:
// migrations take longer than the replay of a small journal.
var blanks sync.Map

func blank(number int64) ([]byte, error) {
	if data, ok := blanks.Load(number); ok {
		return data.([]byte), nil
	}
	data, err := makeBlank(number)
	if err == nil {
		blanks.Store(number, data)
	}
	return data, err
}

func makeBlank(number int64) (data []byte, err error) {
	dir, err := os.MkdirTemp("", "orpine-blank-")
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	path := filepath.Join(dir, FileName)
	db, err := sql.Open("sqlite", dsn(path, url.Values{"_pragma": {"journal_mode(OFF)", "synchronous(OFF)"}}))
	if err != nil {
		return nil, err
	}
	if number == 0 {
		_, err = migrate(context.Background(), db, true)
	} else {
		err = migrateTo(context.Background(), db, number)
	}
	if err := errors.Join(err, db.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(path)
}

// TablesOf is the number of the last migration that made the tables of a file.
func TablesOf(ctx context.Context, db query.DBTX) (number int64, err error) {
	err = db.QueryRowContext(ctx, "SELECT coalesce(max(version_id), 0) FROM goose_db_version WHERE is_applied = 1").Scan(&number)
	if err != nil {
		return 0, fmt.Errorf("reading which build made the tables: %w", err)
	}
	return number, nil
}

// Scratch opens an empty workshop with the tables of today, to replay a journal into.
// It is gone when it is closed; nothing in it is made to last.
func Scratch(ctx context.Context) (*Store, error) { return ScratchOf(ctx, 0) }

// Strict is Scratch in which a row that leans on a missing one is refused.
func Strict(context.Context) (*Store, error) { return scratch(0, "foreign_keys(1)") }

// ScratchOf is Scratch with the tables of an older build, by the number of its last migration.
func ScratchOf(_ context.Context, number int64) (*Store, error) { return scratch(number) }

func scratch(number int64, pragmas ...string) (*Store, error) {
	data, err := blank(number)
	if err != nil {
		return nil, fmt.Errorf("making the tables for a replay: %w", err)
	}
	dir, err := os.MkdirTemp("", "orpine-scratch-")
	if err != nil {
		return nil, fmt.Errorf("making room for a replay: %w", err)
	}
	path := filepath.Join(dir, FileName)
	if err := os.WriteFile(path, data, 0o600); err != nil {
		return nil, errors.Join(fmt.Errorf("making room for a replay: %w", err), os.RemoveAll(dir))
	}
	db, err := sql.Open("sqlite", dsn(path, url.Values{"_pragma": append([]string{"journal_mode(OFF)", "synchronous(OFF)", "locking_mode(EXCLUSIVE)"}, pragmas...)}))
	if err != nil {
		return nil, errors.Join(err, os.RemoveAll(dir))
	}
	db.SetMaxOpenConns(1)
	all := newPool(db, 1)
	return &Store{read: all, write: all, clean: dir}, nil
}
