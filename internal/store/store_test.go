package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/store/query"
)

func opened(t *testing.T) *Store {
	t.Helper()
	s, err := Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return s
}

func add(ctx context.Context, s *Store, seq int) error {
	return s.Write(ctx, func(q *query.Queries) error { return put(ctx, q, seq) })
}

func put(ctx context.Context, q *query.Queries, seq int) error {
	return q.AddEntry(ctx, query.AddEntryParams{Seq: int64(seq), ID: fmt.Sprint(seq), At: "2026-05-04T08:00:00Z", Kind: "airframe", Content: "{}"})
}

func entries(t *testing.T, s *Store) int {
	t.Helper()
	var rows []query.Journal
	require.NoError(t, s.View(t.Context(), func(q *query.Queries) (err error) {
		rows, err = q.Entries(t.Context(), query.EntriesParams{Most: 100})
		return err
	}))
	return len(rows)
}

// raw is the connection that a pool hands out first.
func raw(t *testing.T, p *pool) *connection {
	t.Helper()
	require.NoError(t, p.all[0].open(t.Context(), p.db))
	return p.all[0]
}

func TestTheFileIsKeptSafely(t *testing.T) {
	s := opened(t)
	for pragma, want := range map[string]string{"journal_mode": "wal", "synchronous": "2", "foreign_keys": "1"} {
		var got string
		require.NoError(t, raw(t, s.write).QueryRowContext(t.Context(), "PRAGMA "+pragma).Scan(&got))
		assert.Equal(t, want, got, pragma)
	}
	_, err := raw(t, s.read).ExecContext(t.Context(), "DELETE FROM airframes")
	assert.Error(t, err, "what reads cannot write")
}

func TestAWriteThatFailsLeavesNothing(t *testing.T) {
	s := opened(t)
	failed := errors.New("half-way")
	err := s.Write(t.Context(), func(q *query.Queries) error {
		require.NoError(t, put(t.Context(), q, 1))
		return failed
	})
	require.ErrorIs(t, err, failed)
	assert.Zero(t, entries(t, s))
	err = s.Write(t.Context(), func(q *query.Queries) error {
		return q.AddAssembly(t.Context(), query.AddAssemblyParams{ID: "x", AirframeID: "nowhere"})
	})
	assert.Error(t, err, "foreign keys are on")
}

func TestTheJournalIsAppendOnly(t *testing.T) {
	s := opened(t)
	require.NoError(t, add(t.Context(), s, 1))
	_, err := raw(t, s.write).ExecContext(t.Context(), "UPDATE journal SET content = '{ }' WHERE seq = 1")
	require.ErrorContains(t, err, "append-only")
	_, err = raw(t, s.write).ExecContext(t.Context(), "DELETE FROM journal")
	assert.ErrorContains(t, err, "append-only")
}

func TestWritersTakeTurns(t *testing.T) {
	s := opened(t)
	done := make(chan error)
	for i := range 40 {
		go func() { done <- add(context.Background(), s, i+1) }()
	}
	for range 40 {
		require.NoError(t, <-done)
	}
	assert.Equal(t, 40, entries(t, s))
}

func TestWorkshopsAreOpenedAgainAndNotMadeByReading(t *testing.T) {
	dir := t.TempDir()
	_, err := OpenExisting(t.Context(), dir)
	require.Error(t, err)
	s, err := Open(t.Context(), dir)
	require.NoError(t, err)
	assert.False(t, s.Migrated, "a new one has no rows to be made anew")
	require.NoError(t, add(t.Context(), s, 1))
	require.NoError(t, s.Close())
	s, err = OpenExisting(t.Context(), dir)
	require.NoError(t, err)
	defer s.Close()
	assert.Equal(t, 1, entries(t, s))
}

func TestAnEmptyOrForeignFileIsRefused(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, FileName)
	open := func() error {
		_, err := Open(t.Context(), dir)
		return err
	}
	require.NoError(t, os.WriteFile(path, nil, 0o600))
	require.ErrorIs(t, open(), ErrEmpty)
	require.NoError(t, os.WriteFile(path, []byte("a letter to the kit maker, and no workshop at all"), 0o600))
	require.ErrorIs(t, open(), ErrForeign)
	require.NoError(t, os.Remove(path))
	db, err := sql.Open("sqlite", path)
	require.NoError(t, err)
	_, err = db.Exec("CREATE TABLE recipes (name TEXT)")
	require.NoError(t, errors.Join(err, db.Close()))
	before, err := os.ReadFile(path)
	require.NoError(t, err)
	require.ErrorIs(t, open(), ErrForeign)
	after, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, before, after, "what is refused is not touched")
}

func TestADirectoryHasOneOwner(t *testing.T) {
	dir := t.TempDir()
	assert.Empty(t, Owner(dir))
	release, err := Own(dir, "orpine at http://127.0.0.1:8080")
	require.NoError(t, err)
	_, err = Own(dir, "another")
	var owned *Owned
	require.ErrorAs(t, err, &owned)
	assert.Regexp(t, `is in use by process \d+ \(orpine at http://127.0.0.1:8080\)`, err.Error())
	assert.Equal(t, owned.By, Owner(dir))
	require.NoError(t, release())
	assert.Empty(t, Owner(dir))
	release, err = Own(dir, "another")
	require.NoError(t, err)
	require.NoError(t, release())
}

// What is looked at is not written to: neither in use nor left alone, nor where nothing
// can be written at all.
func TestAnInspectionWritesNothing(t *testing.T) {
	dir := t.TempDir()
	s, err := Open(t.Context(), dir)
	require.NoError(t, err)
	require.NoError(t, add(t.Context(), s, 1))
	look := func() {
		t.Helper()
		looked, err := Inspect(t.Context(), dir)
		require.NoError(t, err)
		assert.Equal(t, 1, entries(t, looked), "what is only in the write-ahead log counts")
		require.NoError(t, looked.Close())
	}
	listed := func() (names []string) {
		entries, err := os.ReadDir(dir)
		require.NoError(t, err)
		for _, e := range entries {
			names = append(names, e.Name())
		}
		return names
	}
	release, err := Own(dir, "a server")
	require.NoError(t, err)
	before := listed()
	look()
	assert.Equal(t, before, listed())
	require.NoError(t, errors.Join(release(), s.Close()))
	require.NoError(t, os.Chmod(dir, 0o500))
	defer os.Chmod(dir, 0o700) //nolint:errcheck // the directory goes anyway
	before = listed()
	look()
	assert.Equal(t, before, listed())
}

// The last copies stay, and of the months before the last of each.
func TestOlderCopiesAreThinned(t *testing.T) {
	dir := t.TempDir()
	for _, day := range []string{"2026-09-01", "2026-09-30", "2026-10-02", "2026-10-31", "2026-11-01", "2026-11-02", "2026-11-03"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, "orpine-"+day+"-030000.db"), nil, 0o600))
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "orpine-notes.db"), nil, 0o600))
	require.NoError(t, Thin(dir, 2))
	entries, err := os.ReadDir(dir)
	require.NoError(t, err)
	var left []string
	for _, e := range entries {
		left = append(left, e.Name())
	}
	assert.Equal(t, []string{"orpine-2026-09-30-030000.db", "orpine-2026-10-31-030000.db", "orpine-2026-11-02-030000.db", "orpine-2026-11-03-030000.db", "orpine-notes.db"}, left)
}

// A list that a statement is given stands behind its numbered arguments, or their numbers are taken by
// the items of the list.
func TestListsStandBehindNumberedArguments(t *testing.T) {
	files, err := filepath.Glob(filepath.Join("query", "*.sql.go"))
	require.NoError(t, err)
	wrong := regexp.MustCompile("(?s)/\\*SLICE:\\w+\\*/\\?[^`]*\\?\\d")
	for _, path := range files {
		data, err := os.ReadFile(path)
		require.NoError(t, err)
		for _, text := range strings.Split(string(data), "const ") {
			text, _, _ = strings.Cut(text, "\ntype ")
			assert.NotRegexp(t, wrong, text, path)
		}
	}
}
