package account

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"math/big"
	"path/filepath"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"

	"orpine/internal/ledger"
	"orpine/internal/store"
)

// FileName is the file of passwords, codes and sessions, in the data directory.
const FileName = "access.db"

// tables are those of the file. It is of this machine alone, so it is made where it is missing.
const tables = `
CREATE TABLE IF NOT EXISTS passwords (person TEXT PRIMARY KEY, hash TEXT NOT NULL) STRICT;
CREATE TABLE IF NOT EXISTS ended (person TEXT PRIMARY KEY, count INTEGER NOT NULL) STRICT; -- how often their sessions were
CREATE TABLE IF NOT EXISTS codes (sum TEXT PRIMARY KEY, person TEXT NOT NULL, until INTEGER NOT NULL) STRICT; -- person '': the first builder
CREATE TABLE IF NOT EXISTS devices (sum TEXT NOT NULL, person TEXT NOT NULL, PRIMARY KEY (sum, person)) STRICT; -- that someone signed in from
CREATE TABLE IF NOT EXISTS sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry REAL NOT NULL);
CREATE INDEX IF NOT EXISTS sessions_by_expiry ON sessions (expiry);`

// Access is what lets people in.
type Access struct {
	db      *sql.DB
	now     func() time.Time
	hashing sync.Mutex // a hash takes 64 MB: one at a time
}

// How long a code may be used, and how long a password must be.
const (
	CodeLasts     = 10 * time.Minute
	LeastPassword = 8
	mostPassword  = 200
)

// OpenAccess opens the file in a data directory, making it where it is missing.
func OpenAccess(ctx context.Context, dir string, now func() time.Time) (*Access, error) {
	db, err := store.OpenPlain(ctx, filepath.Join(dir, FileName), tables)
	if err != nil {
		return nil, fmt.Errorf("opening who is let in: %w", err)
	}
	return &Access{db: db, now: now}, nil
}

// DB is where sessions are kept.
func (a *Access) DB() *sql.DB { return a.db }

// Close closes the file.
func (a *Access) Close() error { return a.db.Close() }

// Code gives someone a code of eight digits that lets them in once, within CodeLasts; the ones
// given before are void. For the first builder person is "".
func (a *Access) Code(ctx context.Context, person string) (string, error) {
	n, err := rand.Int(rand.Reader, big.NewInt(100_000_000))
	if err != nil {
		return "", fmt.Errorf("drawing a code: %w", err)
	}
	code := fmt.Sprintf("%08d", n)
	_, err = a.db.ExecContext(ctx, "DELETE FROM codes WHERE person = ? OR until < ?", person, a.now().Unix())
	if err == nil {
		_, err = a.db.ExecContext(ctx, "INSERT OR REPLACE INTO codes (sum, person, until) VALUES (?, ?, ?)", sum(code), person, a.now().Add(CodeLasts).Unix())
	}
	if err != nil {
		return "", fmt.Errorf("keeping a code: %w", err)
	}
	return code, nil
}

// ErrCode is returned for a code that lets nobody in.
var ErrCode = errors.New("lets nobody in: mistyped, used, or older than ten minutes. A builder gives another under People; on the laptop itself, orpine code does")

// UseCode spends a code, and tells whose it is. The error is ErrCode for one that is nobody's.
func (a *Access) UseCode(ctx context.Context, code string) (person string, err error) {
	return a.ofCode(ctx, "DELETE FROM codes WHERE sum = ? AND until >= ? RETURNING person", code)
}

// Whose is UseCode that spends nothing.
func (a *Access) Whose(ctx context.Context, code string) (person string, err error) {
	return a.ofCode(ctx, "SELECT person FROM codes WHERE sum = ? AND until >= ?", code)
}

func (a *Access) ofCode(ctx context.Context, text, code string) (person string, err error) {
	code = strings.Map(func(r rune) rune {
		if r >= '0' && r <= '9' {
			return r
		}
		return -1
	}, code)
	err = a.db.QueryRowContext(ctx, text, sum(code), a.now().Unix()).Scan(&person)
	if errors.Is(err, sql.ErrNoRows) {
		return "", ErrCode
	}
	return person, err
}

func sum(code string) string {
	s := sha256.Sum256([]byte("orpine code " + code))
	return hex.EncodeToString(s[:])
}

// SetPassword gives someone a password. Problems are at "password".
func (a *Access) SetPassword(ctx context.Context, person, password string) error {
	switch n := utf8.RuneCountInString(password); {
	case n < LeastPassword:
		return ledger.Problems{"password": fmt.Sprintf("at least %d characters: three words are easier to keep than eight signs", LeastPassword)}
	case n > mostPassword:
		return ledger.Problems{"password": fmt.Sprintf("at most %d characters", mostPassword)}
	}
	a.hashing.Lock()
	hash, err := argon2id.CreateHash(password, argon2id.DefaultParams)
	a.hashing.Unlock()
	if err != nil {
		return fmt.Errorf("hashing a password: %w", err)
	}
	if _, err = a.db.ExecContext(ctx, "INSERT OR REPLACE INTO passwords (person, hash) VALUES (?, ?)", person, hash); err != nil {
		return fmt.Errorf("keeping a password: %w", err)
	}
	return nil
}

// HasPassword tells whether someone has one.
func (a *Access) HasPassword(ctx context.Context, person string) (has bool, err error) {
	err = a.db.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM passwords WHERE person = ?)", person).Scan(&has)
	return has, err
}

// nobodys is compared with where someone has no password, so that it takes as long.
var nobodys = sync.OnceValue(func() string {
	hash, err := argon2id.CreateHash(rand.Text(), argon2id.DefaultParams)
	if err != nil {
		return ""
	}
	return hash
})

// Is tells whether a password is someone's; it takes as long where they have none.
func (a *Access) Is(ctx context.Context, person, password string) (bool, error) {
	hash, known := "", true
	err := a.db.QueryRowContext(ctx, "SELECT hash FROM passwords WHERE person = ?", person).Scan(&hash)
	if errors.Is(err, sql.ErrNoRows) {
		known, err = false, nil
	}
	if err != nil {
		return false, fmt.Errorf("reading a password: %w", err)
	}
	if utf8.RuneCountInString(password) > mostPassword {
		return false, nil
	}
	a.hashing.Lock()
	defer a.hashing.Unlock()
	if !known {
		hash = nobodys()
	}
	match, err := argon2id.ComparePasswordAndHash(password, hash)
	return match && known, err
}

// Ended tells how often all sessions of someone were ended: one that was begun before the last
// time is none any more.
func (a *Access) Ended(ctx context.Context, person string) (count int64, err error) {
	err = a.db.QueryRowContext(ctx, "SELECT coalesce(max(count), 0) FROM ended WHERE person = ?", person).Scan(&count)
	return count, err
}

// SignOutEverywhere ends all sessions of someone, and voids their codes.
func (a *Access) SignOutEverywhere(ctx context.Context, person string) error {
	_, err := a.db.ExecContext(ctx, "INSERT INTO ended (person, count) VALUES (?, 1) ON CONFLICT (person) DO UPDATE SET count = count + 1", person)
	if err == nil {
		_, err = a.db.ExecContext(ctx, "DELETE FROM codes WHERE person = ?", person)
	}
	if err != nil {
		return fmt.Errorf("ending sessions: %w", err)
	}
	return nil
}

// Knows tells whether someone signed in from a device before, by the mark that it carries.
func (a *Access) Knows(ctx context.Context, device, person string) (knows bool, err error) {
	if device == "" || person == "" {
		return false, nil
	}
	err = a.db.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM devices WHERE sum = ? AND person = ?)", sum("device "+device), person).Scan(&knows)
	return knows, err
}

// Remember keeps that someone signed in from a device; the mark itself is kept nowhere.
func (a *Access) Remember(ctx context.Context, device, person string) error {
	_, err := a.db.ExecContext(ctx, "INSERT OR IGNORE INTO devices (sum, person) VALUES (?, ?)", sum("device "+device), person)
	return err
}
