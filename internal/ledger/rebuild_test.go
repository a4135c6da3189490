package ledger_test

import (
	"database/sql"
	"errors"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/store"
	"orpine/test/loft"
)

// older is a copy of the small workshop whose file lacks what the last migrations made, and
// in which a reading was changed behind the journal's back.
func older(t *testing.T) string {
	t.Helper()
	from, dir := loft.Small(t), t.TempDir()
	path := filepath.Join(dir, store.FileName)
	db, err := sql.Open("sqlite", from.Data.Path())
	require.NoError(t, err)
	_, err = db.Exec("VACUUM INTO ?", path)
	require.NoError(t, errors.Join(err, db.Close()))
	db, err = sql.Open("sqlite", path)
	require.NoError(t, err)
	for _, text := range []string{"DROP VIEW findable", "DROP TABLE notice_things", "DROP TABLE hole_lots", "DROP TABLE lots_used", "ALTER TABLE stock_counts DROP COLUMN lot", "ALTER TABLE stock_counts DROP COLUMN best", "ALTER TABLE photos DROP COLUMN revised", "ALTER TABLE photos DROP COLUMN taken_back", "DROP VIEW row_guards", "DROP VIEW holds_now", "DROP INDEX holds_waiting", "DROP TABLE gate_ends", "DROP TABLE joint_setups", "DROP TABLE placings", "DROP TABLE facts", "ALTER TABLE holds DROP COLUMN joint", "ALTER TABLE holds DROP COLUMN fact", "ALTER TABLE checks DROP COLUMN first_limits", "ALTER TABLE events DROP COLUMN undone", "ALTER TABLE instruments DROP COLUMN serial", "ALTER TABLE instruments DROP COLUMN type", "ALTER TABLE instruments DROP COLUMN spot", "ALTER TABLE instruments DROP COLUMN per_degree", "ALTER TABLE readings DROP COLUMN moved", "ALTER TABLE checks DROP COLUMN limits_set", "ALTER TABLE instruments DROP COLUMN sent_step", "ALTER TABLE instruments DROP COLUMN per_metre", "ALTER TABLE instruments DROP COLUMN weight", "ALTER TABLE instruments DROP COLUMN pull", "ALTER TABLE instruments DROP COLUMN material",
		"ALTER TABLE instruments DROP COLUMN spread_from", "ALTER TABLE readings DROP COLUMN hung", "ALTER TABLE readings DROP COLUMN aid", "ALTER TABLE readings DROP COLUMN sent", "ALTER TABLE setups DROP COLUMN material", "ALTER TABLE setups DROP COLUMN temperature", "ALTER TABLE rivet_rows DROP COLUMN opt_out",
		"DROP TABLE alterations", "ALTER TABLE airframes DROP COLUMN withdrawn", "ALTER TABLE assemblies DROP COLUMN withdrawn", "ALTER TABLE assemblies DROP COLUMN part", "ALTER TABLE assemblies DROP COLUMN revised", "ALTER TABLE setups DROP COLUMN withdrawn", "ALTER TABLE setups DROP COLUMN unit", "ALTER TABLE checks DROP COLUMN withdrawn", "ALTER TABLE checks DROP COLUMN assumed", "ALTER TABLE checks DROP COLUMN survey", "ALTER TABLE instruments DROP COLUMN withdrawn", "ALTER TABLE holds DROP COLUMN withdrawn", "ALTER TABLE releases DROP COLUMN wrong", "ALTER TABLE rivet_rows DROP COLUMN withdrawn", "ALTER TABLE parts DROP COLUMN withdrawn", "ALTER TABLE bays DROP COLUMN withdrawn", "ALTER TABLE bays DROP COLUMN revised", "ALTER TABLE notices DROP COLUMN withdrawn", "ALTER TABLE notices DROP COLUMN revised", "ALTER TABLE stock_counts DROP COLUMN withdrawn", "ALTER TABLE stock_counts DROP COLUMN revised",
		"DROP INDEX holes_out_of_reach", "ALTER TABLE holes DROP COLUMN work", "ALTER TABLE holes DROP COLUMN until", "DROP TABLE practice_attempts", "DROP TABLE people", "DROP TABLE questions", "DROP TABLE clocks", "DROP TABLE materials", "ALTER TABLE stock_counts DROP COLUMN place", "DROP TABLE plan_orders", "DROP TABLE plan_money", "DROP TABLE plan_stages", "DROP TABLE plan_steps", "DROP TABLE plan_weeks", "DROP TABLE plan_aways", "DROP TABLE plan_visits", "DROP TABLE work_sessions", "DROP TABLE bay_says", "DROP TABLE notice_findings", "DROP TABLE part_lies", "DROP TABLE reopenings", "DROP TABLE slips", "DELETE FROM goose_db_version WHERE version_id >= 10", "UPDATE readings SET value = 99"} {
		_, err := db.Exec(text)
		require.NoError(t, err, text)
	}
	require.NoError(t, db.Close())
	return dir
}

// When tables change, the record is made anew from the journal: what an earlier program
// did not keep is there, and what no entry says is not.
func TestTheRecordIsMadeAnewFromTheJournalWhenTablesChange(t *testing.T) {
	t.Parallel()
	l := loft.In(t, older(t))
	l.Verify()
	slips, err := l.Slips(t.Context(), 0)
	require.NoError(t, err)
	assert.Len(t, slips.Slips, 3)
	for _, spot := range l.SetupOf(loft.BenchSetup).Checks[0].Spots {
		assert.Less(t, spot.Counting()[0].Value, 20.0)
	}
	home, err := l.Home(t.Context(), loft.BenchFrame)
	require.NoError(t, err)
	assert.NotEmpty(t, home.Held)
}

// A journal that does not hold is not replayed into a record that looks whole.
func TestABrokenJournalIsNotMadeIntoARecord(t *testing.T) {
	t.Parallel()
	dir := older(t)
	db, err := sql.Open("sqlite", filepath.Join(dir, store.FileName))
	require.NoError(t, err)
	_, err = db.Exec("DROP TRIGGER journal_is_not_edited; UPDATE journal SET content = replace(content, '\"text\":\"11\"', '\"text\":\"10\"')")
	require.NoError(t, errors.Join(err, db.Close()))
	for range 2 { // the second start does not take what is there for the record either
		_, err = loft.Try(t, dir)
		require.ErrorContains(t, err, "not what was written")
	}
}
