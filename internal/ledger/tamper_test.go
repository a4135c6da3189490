package ledger_test

import (
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"orpine/internal/core/journal"
	"orpine/internal/ledger"
	"orpine/internal/store"
	"orpine/internal/store/query"
	"orpine/test/loft"
)

// forger changes a workshop's file behind its back.
type forger struct {
	*loft.Loft
	db       *sql.DB
	triggers []string
}

func forge(t *testing.T) *forger {
	t.Helper()
	f := &forger{Loft: loft.Small(t)}
	f.Verify()
	var err error
	f.db, err = sql.Open("sqlite", "file:"+filepath.Join(f.Dir, store.FileName)+"?_pragma=foreign_keys(0)&_pragma=ignore_check_constraints(1)&_pragma=busy_timeout(5000)")
	require.NoError(t, err)
	f.db.SetMaxOpenConns(1)
	t.Cleanup(func() { assert.NoError(t, f.db.Close()) })
	f.triggers = f.texts("SELECT sql FROM sqlite_schema WHERE type = 'trigger'")
	return f
}

func (f *forger) texts(text string, args ...any) (out []string) {
	f.T.Helper()
	rows, err := f.db.Query(text, args...)
	require.NoError(f.T, err)
	defer rows.Close()
	for rows.Next() {
		var one string
		require.NoError(f.T, rows.Scan(&one))
		out = append(out, one)
	}
	require.NoError(f.T, rows.Err())
	return out
}

// exec runs statements with the triggers that guard the journal out of the way.
func (f *forger) exec(statements ...func(tx *sql.Tx) error) {
	f.T.Helper()
	tx, err := f.db.Begin()
	require.NoError(f.T, err)
	for _, name := range f.triggers {
		_, err := tx.Exec("DROP TRIGGER " + strings.Fields(name)[2])
		require.NoError(f.T, err)
	}
	for _, s := range statements {
		require.NoError(f.T, s(tx))
	}
	for _, text := range f.triggers {
		_, err := tx.Exec(text)
		require.NoError(f.T, err)
	}
	require.NoError(f.T, tx.Commit())
}

func run(text string, args ...any) func(tx *sql.Tx) error {
	return func(tx *sql.Tx) error {
		_, err := tx.Exec(text, args...)
		if err != nil {
			return fmt.Errorf("%s: %w", text, err)
		}
		return nil
	}
}

// noticed verifies, and demands that what was done is named.
func (f *forger) noticed(what string) {
	f.T.Helper()
	_, err := f.Ledger.Verify(f.T.Context())
	var damage *ledger.Damage
	if assert.ErrorAs(f.T, err, &damage, what) {
		var broken *journal.Broken
		assert.True(f.T, errors.As(err, &broken) && broken.Seq > 0, "%s names an entry: %v", what, err)
	}
}

// one is a row as it stands in a table.
type one struct {
	columns []string
	values  []any
	key     []string
}

// rowsOf are the rows of a table, the latest first.
func (f *forger) rowsOf(table string) (out []one) {
	f.T.Helper()
	key := f.texts("SELECT name FROM pragma_table_info(?) WHERE pk > 0 ORDER BY pk", table)
	rows, err := f.db.Query("SELECT * FROM " + table + " ORDER BY " + strings.Join(key, " DESC, ") + " DESC")
	require.NoError(f.T, err)
	defer rows.Close()
	columns, err := rows.Columns()
	require.NoError(f.T, err)
	for rows.Next() {
		r := one{columns, make([]any, len(columns)), key}
		into := make([]any, len(columns))
		for i := range into {
			into[i] = &r.values[i]
		}
		require.NoError(f.T, rows.Scan(into...))
		out = append(out, r)
	}
	return out
}

func (r one) at(column string) any { return r.values[slices.Index(r.columns, column)] }

// alike tells whether two rows differ in their keys only.
func (r one) alike(other one) bool {
	for i, column := range r.columns {
		if !slices.Contains(r.key, column) && !assert.ObjectsAreEqual(r.values[i], other.values[i]) {
			return false
		}
	}
	return true
}

// where picks the row, with another value in a column if that is of the key.
func (r one) where(column string, value any) (text string, args []any) {
	var parts []string
	for _, k := range r.key {
		v := r.at(k)
		if k == column {
			v = value
		}
		parts, args = append(parts, k+" IS ?"), append(args, v)
	}
	return " WHERE " + strings.Join(parts, " AND "), args
}

func (r one) set(table, column string, from, to any) func(tx *sql.Tx) error {
	where, args := r.where(column, from)
	return run("UPDATE "+table+" SET "+column+" = ?"+where, append([]any{to}, args...)...)
}

func (r one) insert(table string) func(tx *sql.Tx) error {
	return run("INSERT INTO "+table+" ("+strings.Join(r.columns, ", ")+") VALUES (?"+strings.Repeat(", ?", len(r.columns)-1)+")", r.values...)
}

func (r one) remove(table string) func(tx *sql.Tx) error {
	where, args := r.where("", nil)
	return run("DELETE FROM "+table+where, args...)
}

// other is a value of the same sort that is not the same.
func other(v any) any {
	switch v := v.(type) {
	case int64:
		return v + 1
	case float64:
		return v + 1e-9
	case []byte:
		return append(slices.Clone(v), 0)
	case string:
		return v + " "
	}
	return "something"
}

// Every column of every table of the record, as the file's own schema has them: changed
// in the last row of the table, and named.
func TestAChangeInAnyColumnOfTheRecordIsNoticed(t *testing.T) {
	t.Parallel()
	const shops = 4 // each a part of the tables, side by side
	for part := range shops {
		t.Run(fmt.Sprint("part ", part+1), func(t *testing.T) {
			t.Parallel()
			f := forge(t)
			tables, _ := f.Ledger.Tables()
			changed := 0
			for i, table := range tables {
				if i%shops == part && table.Class != ledger.Local { // what is of this machine is no record
					changed += f.columns(table)
				}
			}
			f.Verify()
			assert.Greater(t, changed, 200/shops/3/2)
			t.Log(changed, "columns")
		})
	}
}

// columns changes each column of a table, one at a time, and puts it back; it counts those that are noticed.
func (f *forger) columns(table ledger.Table) (changed int) {
	f.T.Helper()
	rows := f.rowsOf(table.Name)
	require.NotEmpty(f.T, rows, "the small shop has rows in every table: %s", table.Name)
	for i, column := range rows[0].columns {
		if i%3 != time.Now().YearDay()%3 && os.Getenv("ORPINE_ALL") == "" { // a third of them a day
			continue
		}
		r := rows[0]
		was := r.at(column)
		f.exec(r.set(table.Name, column, was, other(was)))
		if table.Class == ledger.Record {
			changed++
			f.noticed(table.Name + "." + column)
		} else {
			_, err := f.Ledger.Verify(f.Ctx())
			assert.NoError(f.T, err, "%s follows from the rest, and raises no alarm", table.Name)
		}
		f.exec(r.set(table.Name, column, other(was), was))
	}
	return changed
}

func TestRowsThatAreTakenOutPutInOrSwappedAreNoticed(t *testing.T) {
	t.Parallel()
	f := forge(t)
	tables, _ := f.Ledger.Tables()
	for i, table := range tables {
		rows := f.rowsOf(table.Name)
		if table.Class != ledger.Record || i%4 != time.Now().YearDay()%4 && os.Getenv("ORPINE_ALL") == "" { // a quarter of them a day: each takes seconds
			continue
		}
		f.exec(rows[0].remove(table.Name))
		f.noticed("a row of " + table.Name + " deleted")
		f.exec(rows[0].insert(table.Name))
		if table.Name == "head" {
			continue
		}
		another := one{rows[0].columns, slices.Clone(rows[0].values), rows[0].key}
		for _, k := range append(f.unique(table.Name), another.key...) {
			another.values[slices.Index(another.columns, k)] = other(another.at(k))
		}
		f.exec(another.insert(table.Name))
		f.noticed("a row put into " + table.Name)
		f.exec(another.remove(table.Name))
		require.Greater(t, len(rows), 1, "the small shop has two rows in %s", table.Name)
		if rows[0].alike(rows[1]) {
			continue // nothing but their keys tells them apart
		}
		swap := func(a, b one) []func(tx *sql.Tx) error {
			a, b = one{a.columns, slices.Clone(a.values), a.key}, one{b.columns, slices.Clone(b.values), b.key}
			for _, k := range a.key {
				i := slices.Index(a.columns, k)
				a.values[i], b.values[i] = b.values[i], a.values[i]
			}
			return []func(tx *sql.Tx) error{a.insert(table.Name), b.insert(table.Name)}
		}
		out := []func(tx *sql.Tx) error{rows[0].remove(table.Name), rows[1].remove(table.Name)}
		f.exec(append(out, swap(rows[0], rows[1])...)...)
		f.noticed("two rows of " + table.Name + " swapped")
		f.exec(append(out, rows[0].insert(table.Name), rows[1].insert(table.Name))...)
	}
	f.Verify()
}

// unique are the columns of a table that no two rows share.
func (f *forger) unique(table string) (out []string) {
	for _, index := range f.texts(`SELECT name FROM pragma_index_list(?) WHERE "unique" = 1`, table) {
		out = append(out, f.texts("SELECT name FROM pragma_index_info(?)", index)...)
	}
	return out
}

// rehash seals the journal anew from an entry on, as one would who knows how.
func (f *forger) rehash() func(tx *sql.Tx) error {
	return func(tx *sql.Tx) error {
		rows, err := tx.Query("SELECT seq, id, at, kind, by_name, content FROM journal ORDER BY seq")
		if err != nil {
			return err
		}
		var last *journal.Entry
		var all []journal.Entry
		for rows.Next() {
			var e journal.Entry
			var at string
			if err := rows.Scan(&e.Seq, &e.ID, &at, &e.Kind, &e.By, &e.Content); err != nil {
				return err
			}
			if e.At, err = time.Parse(time.RFC3339Nano, at); err != nil {
				return err
			}
			all = append(all, e)
		}
		rows.Close()
		for i, e := range all {
			e = journal.Next(last, e)
			all[i], last = e, &e
		}
		if _, err := tx.Exec("DELETE FROM journal"); err != nil {
			return err
		}
		for _, e := range all {
			if _, err := tx.Exec("INSERT INTO journal (seq, id, at, kind, by_name, content, prev, hash) VALUES (?, ?, ?, ?, ?, ?, ?, ?)", e.Seq, e.ID, store.Time(e.At), e.Kind, e.By, e.Content, e.Prev, e.Hash); err != nil {
				return err
			}
		}
		_, err = tx.Exec("UPDATE head SET seq = ?, hash = ?", last.Seq, last.Hash)
		return err
	}
}

func TestAJournalThatIsCutShortOrWrittenAnewIsNoticed(t *testing.T) {
	t.Parallel()
	for name, tamper := range map[string]func(f *forger) []func(tx *sql.Tx) error{
		"the end cut off": func(f *forger) []func(tx *sql.Tx) error {
			return []func(tx *sql.Tx) error{run("DELETE FROM journal WHERE seq > (SELECT max(seq) - 3 FROM journal)"), run("DELETE FROM head"), run("INSERT INTO head SELECT 1, seq, hash FROM journal ORDER BY seq DESC LIMIT 1")}
		},
		"an entry changed": func(f *forger) []func(tx *sql.Tx) error {
			return []func(tx *sql.Tx) error{run(`UPDATE journal SET content = replace(content, '"text":"11"', '"text":"10"')`)}
		},
		"an entry changed and sealed anew": func(f *forger) []func(tx *sql.Tx) error {
			return []func(tx *sql.Tx) error{run(`UPDATE journal SET content = replace(content, '"text":"11"', '"text":"10"')`), f.rehash()}
		},
		"an entry taken out and sealed anew": func(f *forger) []func(tx *sql.Tx) error {
			return []func(tx *sql.Tx) error{run("DELETE FROM journal WHERE seq = (SELECT min(seq) FROM journal WHERE kind = 'taken-back')"), f.rehash()}
		},
		"the time of an entry changed and sealed anew": func(f *forger) []func(tx *sql.Tx) error {
			return []func(tx *sql.Tx) error{run("UPDATE journal SET at = '2026-05-03T08:00:00Z' WHERE kind = 'release'"), f.rehash()}
		},
		"two entries swapped": func(f *forger) []func(tx *sql.Tx) error {
			return []func(tx *sql.Tx) error{run("UPDATE journal SET seq = 100000 WHERE seq = 30"), run("UPDATE journal SET seq = 30 WHERE seq = 31"), run("UPDATE journal SET seq = 31 WHERE seq = 100000"), f.rehash()}
		},
		"a kind that nobody knows": func(f *forger) []func(tx *sql.Tx) error {
			return []func(tx *sql.Tx) error{run("UPDATE journal SET kind = 'pardon' WHERE kind = 'count'"), f.rehash()}
		},
		"a version that nobody knows": func(f *forger) []func(tx *sql.Tx) error {
			return []func(tx *sql.Tx) error{run(`UPDATE journal SET content = replace(content, '"version":1', '"version":7') WHERE kind = 'count'`), f.rehash()}
		},
	} {
		t.Run(name, func(t *testing.T) {
			f := forge(t)
			f.exec(tamper(f)...)
			f.noticed(name)
		})
	}
}

// What the rows do not show, the paper does: the whole of the end taken out of both.
func TestTheNumberOnPaperShowsWhatWasCutOutOfBoth(t *testing.T) {
	t.Parallel()
	f := forge(t)
	report, err := f.Ledger.Verify(t.Context())
	require.NoError(t, err)
	require.NoError(t, ledger.Ends(t.Context(), f.Data, report.Entries, report.Hash))
	f.exec(run("DELETE FROM stock_counts WHERE entry = (SELECT max(seq) FROM journal)"), run("DELETE FROM journal WHERE seq = (SELECT max(seq) FROM journal)"), run("DELETE FROM head"), run("INSERT INTO head SELECT 1, seq, hash FROM journal ORDER BY seq DESC LIMIT 1"))
	f.Verify()
	require.ErrorContains(t, ledger.Ends(t.Context(), f.Data, report.Entries, report.Hash), "cut short")
	require.ErrorContains(t, ledger.Ends(t.Context(), f.Data, 3, report.Hash), "written anew")
}

func TestAFileExchangedIsNoticed(t *testing.T) {
	t.Parallel()
	f := forge(t)
	data := loft.PNG(t, 9, 9)
	sum := sha256.Sum256(data)
	name := f.texts("SELECT sha256 FROM photos ORDER BY entry LIMIT 1")[0]
	f.exec(run("UPDATE files SET content = ? WHERE sha256 = ?", data, name))
	f.noticed("a picture exchanged")
	f.exec(run("UPDATE files SET sha256 = ? WHERE sha256 = ?", hex.EncodeToString(sum[:]), name), run("UPDATE photos SET sha256 = ? WHERE sha256 = ?", hex.EncodeToString(sum[:]), name))
	f.noticed("a picture exchanged with its hash")
}

func TestTablesThatAreNotThisProgramsAreNoticed(t *testing.T) {
	t.Parallel()
	for says, text := range map[string]string{
		"trigger quiet is not as":   "CREATE TRIGGER quiet AFTER INSERT ON readings BEGIN UPDATE readings SET value = 0 WHERE id = new.id; END",
		"table sides is not as":     "CREATE TABLE sides (id TEXT)",
		"lacks index":               "DROP INDEX setups_by_assembly",
		"lacks trigger journal_is_": "DROP TRIGGER journal_is_not_edited",
	} {
		f := forge(t)
		_, err := f.db.Exec(text)
		require.NoError(t, err)
		_, err = f.Ledger.Verify(t.Context())
		require.ErrorContains(t, err, says)
	}
	f := forge(t)
	_, err := f.db.Exec("CREATE TABLE _litestream_seq (id INTEGER)")
	require.NoError(t, err)
	f.Verify()
}

// A start looks at the file and the end of the chain only.
func TestAStartSeesABrokenEnd(t *testing.T) {
	t.Parallel()
	f := forge(t)
	require.NoError(t, f.Ledger.CheckStart(t.Context()))
	f.exec(run("UPDATE journal SET content = content || ' ' WHERE seq = 3"))
	require.NoError(t, f.Ledger.CheckStart(t.Context()))
	f.exec(run("UPDATE journal SET content = content || ' ' WHERE seq = (SELECT max(seq) FROM journal)"))
	require.ErrorContains(t, f.Ledger.CheckStart(t.Context()), "is not what was written")
}

// Every table of the file is declared, or of the migrations.
func TestEveryTableIsDeclared(t *testing.T) {
	t.Parallel()
	l := loft.Empty(t)
	var kept []string
	require.NoError(t, l.Data.ViewTables(t.Context(), func(db query.DBTX) error {
		rows, err := db.QueryContext(t.Context(), "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite!_%' ESCAPE '!' AND name NOT LIKE 'goose!_%' ESCAPE '!'")
		require.NoError(t, err)
		defer rows.Close()
		for rows.Next() {
			var name string
			require.NoError(t, rows.Scan(&name))
			kept = append(kept, name)
		}
		return rows.Err()
	}))
	var declared []string
	tables, _ := l.Ledger.Tables()
	for _, table := range tables {
		declared = append(declared, table.Name)
		assert.Contains(t, []ledger.Class{ledger.Record, ledger.Derived, ledger.Local}, table.Class)
	}
	assert.ElementsMatch(t, kept, declared)
}
