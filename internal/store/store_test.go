package store

import (
	"context"
	"database/sql"
	"errors"
	"io/fs"
	"path/filepath"
	"testing"
	"time"

	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/journal"
	"orpine/internal/store/query"
)

func opened(t *testing.T) *Store {
	t.Helper()
	s, err := Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return s
}

func entry(id, content string) journal.Entry {
	return journal.Entry{ID: id, At: time.Now(), Kind: journal.Created, Content: content}
}

func same(content string) func(string) bool {
	return func(before string) bool { return before == content }
}

func addAirframe(ctx context.Context, id string) func(*query.Queries, int64) error {
	return func(q *query.Queries, seq int64) error {
		return q.AddAirframe(ctx, query.AddAirframeParams{ID: id, Name: "Samphire " + id, LengthUnit: "mm", Entry: seq})
	}
}

func entries(t *testing.T, s *Store) []query.Journal {
	t.Helper()
	var rows []query.Journal
	require.NoError(t, s.View(t.Context(), func(q *query.Queries) (err error) {
		rows, err = q.Entries(t.Context(), query.EntriesParams{Most: 100})
		return err
	}))
	return rows
}

func TestTheFileIsKeptSafely(t *testing.T) {
	s := opened(t)
	for pragma, want := range map[string]string{"journal_mode": "wal", "synchronous": "2", "foreign_keys": "1"} {
		var got string
		require.NoError(t, s.db.QueryRow("PRAGMA "+pragma).Scan(&got))
		assert.Equal(t, want, got, pragma)
	}
}

func TestARepeatedSubmissionIsOneEntry(t *testing.T) {
	s := opened(t)
	repeated, err := s.Record(t.Context(), entry("a", "{}"), same("{}"), addAirframe(t.Context(), "a"))
	require.NoError(t, err)
	assert.False(t, repeated)
	repeated, err = s.Record(t.Context(), entry("a", "{}"), same("{}"), addAirframe(t.Context(), "a"))
	require.NoError(t, err)
	assert.True(t, repeated)
	assert.Len(t, entries(t, s), 1)

	_, err = s.Record(t.Context(), entry("a", `{"other":1}`), same(`{"other":1}`), addAirframe(t.Context(), "b"))
	assert.ErrorIs(t, err, ErrOtherContent)
}

func TestAWriteThatFailsLeavesNothing(t *testing.T) {
	s := opened(t)
	failed := errors.New("half-way")
	_, err := s.Record(t.Context(), entry("a", "{}"), same("{}"), func(q *query.Queries, seq int64) error {
		require.NoError(t, addAirframe(t.Context(), "a")(q, seq))
		return failed
	})
	assert.ErrorIs(t, err, failed)
	assert.Empty(t, entries(t, s))
	_, err = s.Record(t.Context(), entry("b", "{}"), same("{}"), func(q *query.Queries, _ int64) error {
		return q.AddAssembly(t.Context(), query.AddAssemblyParams{ID: "x", AirframeID: "nowhere"})
	})
	assert.Error(t, err, "foreign keys are on")
}

func TestTheJournalCannotBeEditedAndItsChainHolds(t *testing.T) {
	s := opened(t)
	for _, id := range []string{"a", "b", "c"} {
		_, err := s.Record(t.Context(), entry(id, "{}"), same("{}"), addAirframe(t.Context(), id))
		require.NoError(t, err)
	}
	_, err := s.db.Exec("UPDATE journal SET content = '{}' WHERE seq = 1")
	assert.ErrorContains(t, err, "append-only")
	_, err = s.db.Exec("DELETE FROM journal")
	assert.ErrorContains(t, err, "append-only")
	var c journal.Chain
	for _, row := range entries(t, s) {
		e, err := Entry(row)
		require.NoError(t, err)
		assert.NoError(t, c.Check(e))
	}
}

func TestWritersTakeTurns(t *testing.T) {
	s := opened(t)
	done := make(chan error)
	for i := range 8 {
		go func() {
			id := string(rune('a' + i))
			_, err := s.Record(context.Background(), entry(id, "{}"), same("{}"), addAirframe(context.Background(), id))
			done <- err
		}()
	}
	for range 8 {
		assert.NoError(t, <-done)
	}
	assert.Len(t, entries(t, s), 8)
}

func TestWorkshopsAreOpenedAgainAndNotMadeByReading(t *testing.T) {
	dir := t.TempDir()
	_, err := OpenExisting(t.Context(), dir)
	require.Error(t, err)
	s, err := Open(t.Context(), dir)
	require.NoError(t, err)
	_, err = s.Record(t.Context(), entry("a", "{}"), same("{}"), addAirframe(t.Context(), "a"))
	require.NoError(t, err)
	require.NoError(t, s.Close())
	s, err = OpenExisting(t.Context(), dir)
	require.NoError(t, err)
	defer s.Close()
	assert.Len(t, entries(t, s), 1)
	require.NoError(t, s.View(t.Context(), func(q *query.Queries) error {
		_, err := q.Airframe(t.Context(), "a")
		assert.NoError(t, err)
		_, err = q.Airframe(t.Context(), "b")
		assert.ErrorIs(t, err, sql.ErrNoRows)
		return nil
	}))
}

// A workshop of before rows and closings keeps its holds, releases and steps.
func TestAWorkshopOfBeforeIsBroughtUpToDate(t *testing.T) {
	dir := t.TempDir()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, FileName)+"?_pragma=foreign_keys(1)")
	require.NoError(t, err)
	files, err := fs.Sub(migrations, "migrations")
	require.NoError(t, err)
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	require.NoError(t, err)
	_, err = provider.UpTo(t.Context(), 1)
	require.NoError(t, err)
	for _, insert := range []string{
		"INSERT INTO journal VALUES (1, 'one', '2026-05-04T08:00:00Z', 'created', '', '{}', '', '')",
		"INSERT INTO airframes VALUES ('air', 'Samphire S2', '', 'mm', '{}', 1)",
		"INSERT INTO assemblies VALUES ('fin', 'air', 'Fin', '{}', '', 1)",
		"INSERT INTO setups VALUES ('setup', 'fin', 'on the boom', '2026-05-04T08:00:00Z', 1, '2026-05-04T08:00:00Z', 1)",
		"INSERT INTO holds VALUES ('hold', 'fin', 'setup', 'Drill', 'drill to size', 'p', 'w', '[]', 1)",
		"INSERT INTO releases VALUES ('release', 'hold', 'builder', '2026-05-04T08:00:00Z', 'met', '', '', '', '[]', NULL, 1)",
		"INSERT INTO steps VALUES ('step', 'release', 'hold', 'helper', 'n', '2026-05-04T08:00:00Z', 1)",
	} {
		_, err := db.Exec(insert)
		require.NoError(t, err, insert)
	}
	require.NoError(t, db.Close())
	s, err := OpenExisting(t.Context(), dir)
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.View(t.Context(), func(q *query.Queries) error {
		h, err := q.Hold(t.Context(), "hold")
		require.NoError(t, err)
		assert.Equal(t, "setup", h.SetupID.String)
		release, err := q.ReleaseInForce(t.Context(), "hold")
		require.NoError(t, err)
		assert.Equal(t, query.ReleaseInForceRow{ID: "release", ByName: "builder", Spent: 1}, release)
		steps, err := q.Steps(t.Context(), "hold")
		require.Len(t, steps, 1)
		return err
	}))
	var broken int
	require.NoError(t, s.db.QueryRow("SELECT count(*) FROM pragma_foreign_key_check").Scan(&broken))
	assert.Zero(t, broken)
}
