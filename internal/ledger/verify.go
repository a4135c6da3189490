package ledger

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"orpine/internal/core/journal"
	"orpine/internal/store"
	"orpine/internal/store/query"
)

// Report is what a verification found to hold.
type Report struct {
	Entries int64
	Hash    string   // of the last entry; to be kept on paper
	Older   int64    // number of the tables of the build that left it, where that is an older one; else 0
	Differs []string // derived tables of which something is not what follows from the record: it is worked out anew
}

// Damage is a workshop that is not as it was written, with what to do next.
type Damage struct {
	Why error
}

// Error says what is wrong, and what to do.
func (d *Damage) Error() string {
	return d.Why.Error() + ". Change nothing, copy the whole data directory aside, and go on from the last copy that verifies; then enter what is missing since from paper"
}

// Unwrap returns what is wrong: a *journal.Broken where an entry is named.
func (d *Damage) Unwrap() error { return d.Why }

// Verify replays the journal into a scratch database and compares every row of every
// record table with what comes of it, files by their hash; then it lets SQLite check
// its file. It writes nothing to the workshop. A *Damage names the first entry that
// does not hold.
func Verify(ctx context.Context, s *store.Store, capabilities ...Capability) (Report, error) {
	r, err := register(capabilities)
	if err != nil {
		return Report{}, err
	}
	return r.verify(ctx, s, nil)
}

// Verify is the function Verify for the ledger's own workshop, beside its use. Derived rows are
// compared too; where some are not what follows from the record, they are outdated, and worked out
// anew: nothing rests on them.
func (l *Ledger) Verify(ctx context.Context) (Report, error) {
	report, err := l.registry.verify(ctx, l.store, l)
	if err != nil || len(report.Differs) == 0 {
		return report, err
	}
	err = l.store.WriteTables(ctx, func(db query.DBTX) error {
		for _, name := range report.Differs {
			if _, err := db.ExecContext(ctx, "UPDATE "+name+" SET arithmetic = 0"); err != nil {
				return fmt.Errorf("outdating %s: %w", name, err)
			}
		}
		return nil
	})
	if _, trouble := TroubleOf(err); trouble { // it is read where nothing can be written
		err = nil
	}
	if err == nil && l.mend != nil {
		err = l.mend(ctx)
	}
	return report, err
}

// MendedBy sets what works derived rows out anew once they were outdated.
func (l *Ledger) MendedBy(mend func(ctx context.Context) error) { l.mend = mend }

// ComparedBy lets a capability compare a derived table of its own, that no entry writes, with what
// follows from the record now; differs is its name, "" where all is as it should be.
func (l *Ledger) ComparedBy(compare func(ctx context.Context, q *query.Queries) (differs string, err error)) {
	l.compares = append(l.compares, compare)
}

func (r registry) verify(ctx context.Context, s *store.Store, l *Ledger) (report Report, err error) {
	scratch, err := store.Scratch(ctx)
	if err != nil {
		return report, err
	}
	defer func() { err = errors.Join(err, scratch.Close()) }()
	err = s.ViewTables(ctx, func(kept query.DBTX) error {
		return scratch.WriteTables(ctx, func(replayed query.DBTX) error {
			var older int64
			if older, err = olderThan(ctx, kept, replayed); err != nil {
				return err
			}
			var after func(context.Context, *query.Queries, journal.Entry) error
			if l != nil && l.gate != nil {
				after = l.followed
			}
			if report, err = r.replay(ctx, query.New(kept), replayed, after); err != nil {
				return err
			}
			if report.Older = older; older == 0 {
				err = shaped(ctx, kept, replayed)
			} else {
				err = shapedThen(ctx, kept, older)
			}
			if err != nil {
				return err
			}
			if err := r.compare(ctx, kept, replayed, report); err != nil {
				return err
			}
			if after != nil && older == 0 {
				if report.Differs, err = r.derived(ctx, l, kept, replayed); err != nil {
					return err
				}
			}
			return sound(ctx, kept)
		})
	})
	var broken *journal.Broken
	if errors.As(err, &broken) {
		err = &Damage{err}
	}
	return report, err
}

// olderThan is the number of the tables that a file has, where those of this program are newer; 0
// where they are the same. One of a newer program is refused in words.
func olderThan(ctx context.Context, kept, now query.DBTX) (int64, error) {
	a, err := store.TablesOf(ctx, kept)
	if err != nil {
		return 0, err
	}
	b, err := store.TablesOf(ctx, now)
	switch {
	case err != nil:
		return 0, err
	case a > b:
		return 0, fmt.Errorf("a newer program wrote this workshop (its tables are number %d, and this program knows %d): use that one", a, b)
	case a < b:
		return a, nil
	}
	return 0, nil
}

// shapedThen is shaped for a file that an older build left: it is compared with how that one made
// its tables.
func shapedThen(ctx context.Context, kept query.DBTX, number int64) (err error) {
	then, err := store.ScratchOf(ctx, number)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, then.Close()) }()
	return then.ViewTables(ctx, func(was query.DBTX) error { return shaped(ctx, kept, was) })
}

// derived are the names of derived tables of which something is not what follows from the record.
// What was worked out by another arithmetic, or is out of date, is nobody's claim.
func (r registry) derived(ctx context.Context, l *Ledger, kept, replayed query.DBTX) (differs []string, err error) {
	for _, name := range r.names(Derived) {
		columns, key, err := shape(ctx, kept, name)
		if err != nil {
			return nil, err
		}
		text := "SELECT " + strings.Join(columns, ", ") + " FROM " + name + " ORDER BY " + strings.Join(key, ", ")
		is, err := differ(ctx, kept, replayed, text, columns, key)
		if err != nil {
			return nil, fmt.Errorf("comparing %s: %w", name, err)
		}
		if is {
			differs = append(differs, name)
		}
	}
	for _, compare := range l.compares {
		name, err := compare(ctx, query.New(kept))
		if err != nil {
			return nil, err
		}
		if name != "" && !slices.Contains(differs, name) {
			differs = append(differs, name)
		}
	}
	return differs, nil
}

// differ tells whether a row that both have, of one arithmetic and of the same age, is not the same
// in both.
func differ(ctx context.Context, kept, replayed query.DBTX, text string, columns, key []string) (bool, error) {
	b := map[string][]any{}
	of := func(values []any) (id string) {
		for _, k := range append(slices.Clone(key), "arithmetic", "revised", "basis") {
			if i := slices.Index(columns, k); i >= 0 && (k != "basis" || slices.Contains(columns, "says")) {
				id += fmt.Sprint(values[i], "\x00")
			}
		}
		return id
	}
	all := func(db query.DBTX, each func(values []any)) error {
		w, err := walk(ctx, db, text)
		if err != nil {
			return err
		}
		defer w.rows.Close()
		for ; w.more && err == nil; err = w.next() {
			each(slices.Clone(w.values))
		}
		return err
	}
	if err := all(replayed, func(values []any) { b[of(values)] = values }); err != nil {
		return false, err
	}
	is := false
	err := all(kept, func(values []any) {
		then, ok := b[of(values)]
		is = is || ok && slices.ContainsFunc(columns, func(c string) bool {
			i := slices.Index(columns, c)
			return !same(values[i], then[i])
		})
	})
	return is, err
}

// Replayed makes the rows of the journal anew in a scratch workshop, with what follows from each
// entry, and lets somebody read there.
func (l *Ledger) Replayed(ctx context.Context, read func(q *query.Queries) error) (err error) {
	scratch, err := store.Scratch(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, scratch.Close()) }()
	return l.store.ViewTables(ctx, func(kept query.DBTX) error {
		return scratch.WriteTables(ctx, func(replayed query.DBTX) error {
			if _, err := l.registry.replay(ctx, query.New(kept), replayed, l.followed); err != nil {
				return err
			}
			return read(query.New(replayed))
		})
	})
}

// replay checks the chain entry by entry, and writes the rows of each; after, where there is one,
// sees each then.
func (r registry) replay(ctx context.Context, from *query.Queries, to query.DBTX, after func(context.Context, *query.Queries, journal.Entry) error) (report Report, err error) {
	var chain journal.Chain
	into := query.New(to)
	for {
		rows, err := from.Entries(ctx, query.EntriesParams{After: report.Entries, Most: 500})
		if err != nil || len(rows) == 0 {
			return report, err
		}
		for _, row := range rows {
			e, err := entryOf(row)
			if err != nil {
				return report, err
			}
			if err := chain.Check(e); err != nil {
				return report, err
			}
			if after != nil { // what follows from an entry looks at the journal, too
				if err := add(ctx, into, e); err != nil {
					return report, err
				}
			}
			if err := r.redo(ctx, into, e); err != nil {
				return report, err
			}
			if after != nil {
				if err := after(ctx, into, e); err != nil {
					return report, fmt.Errorf("working out what follows from entry %d (%s): %w", e.Seq, e.Kind, err)
				}
			}
			report = Report{Entries: e.Seq, Hash: e.Hash}
		}
	}
}

// redo writes the rows of an entry once more.
func (r registry) redo(ctx context.Context, q *query.Queries, e journal.Entry) error {
	kind, ok := r.kinds[e.Kind]
	if !ok {
		return &journal.Broken{Seq: e.Seq, Why: fmt.Sprintf("it is of a kind that this program does not know: %q", e.Kind)}
	}
	var c content
	if err := json.Unmarshal([]byte(e.Content), &c); err != nil {
		return &journal.Broken{Seq: e.Seq, Why: "its content cannot be read"}
	}
	if err := apply(ctx, q, kind, e, c); err != nil {
		return &journal.Broken{Seq: e.Seq, Why: err.Error()}
	}
	return nil
}

// compare finds the first entry whose rows are not what a replay makes of it.
func (r registry) compare(ctx context.Context, kept, replayed query.DBTX, report Report) error {
	var first *journal.Broken
	for _, name := range r.names(Record) {
		if name == "journal" || name == "files" {
			continue
		}
		if report.Older > 0 {
			if _, _, err := shape(ctx, kept, name); err != nil {
				continue // that build had no such table
			}
		}
		d, err := differences(ctx, name, kept, replayed, report.Entries)
		if err != nil {
			return fmt.Errorf("comparing %s: %w", name, err)
		}
		if d != nil && (first == nil || d.Seq < first.Seq) {
			first = d
		}
	}
	if first != nil {
		return first
	}
	return r.files(ctx, kept, report)
}

func (r registry) names(class Class) []string {
	var out []string
	for name, t := range r.tables {
		if t.Class == class {
			out = append(out, name)
		}
	}
	slices.Sort(out)
	return out
}

// files checks that what entries carry is there, is what its name says, and that
// nothing else is.
func (r registry) files(ctx context.Context, kept query.DBTX, report Report) error {
	wanted, err := r.carried(ctx, kept)
	if err != nil {
		return err
	}
	files, err := kept.QueryContext(ctx, "SELECT sha256, content FROM files ORDER BY sha256")
	if err != nil {
		return err
	}
	defer files.Close()
	for files.Next() { // one at a time: they are large
		var name string
		var data []byte
		if err := files.Scan(&name, &data); err != nil {
			return err
		}
		entry, ok := wanted[name]
		if !ok {
			return &journal.Broken{Seq: report.Entries, Why: "there is a file that no entry up to it carries"}
		}
		if sum := sha256.Sum256(data); hex.EncodeToString(sum[:]) != name {
			return &journal.Broken{Seq: entry, Why: "the picture that it carries is another one"}
		}
		delete(wanted, name)
	}
	for _, entry := range wanted {
		return &journal.Broken{Seq: entry, Why: "the picture that it carries is gone"}
	}
	return files.Err()
}

// carried are the files that rows name, each with the first entry that carries it.
func (r registry) carried(ctx context.Context, kept query.DBTX) (map[string]int64, error) {
	wanted := map[string]int64{}
	for _, t := range r.tables {
		for _, column := range t.Files {
			if err := named(ctx, kept, "SELECT "+column+", entry FROM "+t.Name, wanted); err != nil {
				return nil, fmt.Errorf("reading which files %s carries: %w", t.Name, err)
			}
		}
	}
	return wanted, nil
}

func named(ctx context.Context, kept query.DBTX, text string, wanted map[string]int64) error {
	rows, err := kept.QueryContext(ctx, text)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var sum string
		var entry int64
		if err := rows.Scan(&sum, &entry); err != nil {
			return err
		}
		if before, ok := wanted[sum]; !ok || entry < before {
			wanted[sum] = entry
		}
	}
	return rows.Err()
}

// shaped refuses tables, triggers, views and indexes that are not those of this program. The tables
// of the migrations and of a copying service are left out, by their whole names.
func shaped(ctx context.Context, kept, replayed query.DBTX) error {
	a, err := schema(ctx, kept)
	if err != nil {
		return err
	}
	b, err := schema(ctx, replayed)
	if err != nil {
		return err
	}
	for name := range maps.Keys(b) {
		if _, ok := a[name]; !ok {
			return &Damage{fmt.Errorf("the file lacks %s", name)}
		}
	}
	for name, text := range a {
		if b[name] != text {
			return &Damage{fmt.Errorf("%s is not as this program makes it", name)}
		}
	}
	return nil
}

// schema is how a file says that its tables, indexes and triggers are made, by name.
func schema(ctx context.Context, db query.DBTX) (map[string]string, error) {
	rows, err := db.QueryContext(ctx, `SELECT type || ' ' || name, coalesce(sql, '') FROM sqlite_schema
		WHERE name NOT LIKE 'sqlite\_%' ESCAPE '\' AND NOT (type = 'table' AND name IN ('goose_db_version', '_litestream_seq', '_litestream_lock'))`)
	if err != nil {
		return nil, fmt.Errorf("reading how the tables are made: %w", err)
	}
	defer rows.Close()
	out := map[string]string{}
	for rows.Next() {
		var name, text string
		if err := rows.Scan(&name, &text); err != nil {
			return nil, err
		}
		out[name] = text
	}
	return out, rows.Err()
}

// differences compares a table row by row in the order of its key.
func differences(ctx context.Context, table string, kept, replayed query.DBTX, entries int64) (*journal.Broken, error) {
	columns, key, err := shape(ctx, kept, table)
	if err != nil {
		return nil, err
	}
	text := "SELECT " + strings.Join(columns, ", ") + " FROM " + table + " ORDER BY " + strings.Join(key, ", ")
	a, err := walk(ctx, kept, text)
	if err != nil {
		return nil, err
	}
	defer a.rows.Close()
	b, err := walk(ctx, replayed, text)
	if err != nil {
		return nil, err
	}
	defer b.rows.Close()
	keyAt := make([]int, len(key))
	for i, k := range key {
		keyAt[i] = slices.Index(columns, k)
	}
	var first *journal.Broken
	note := func(values []any, why string) {
		seq := entries
		for _, stamp := range []string{"seq", "revised", "entry"} {
			if i := slices.Index(columns, stamp); i >= 0 {
				if n, ok := values[i].(int64); ok {
					seq = n
					break
				}
			}
		}
		if first == nil || seq < first.Seq {
			first = &journal.Broken{Seq: seq, Why: why}
		}
	}
	for a.more || b.more {
		switch order := a.order(b, keyAt); {
		case order < 0:
			note(a.values, fmt.Sprintf("something stands in %s that no entry up to it made", table))
			err = a.next()
		case order > 0:
			note(b.values, fmt.Sprintf("what was stored with it in %s is gone", table))
			err = b.next()
		default:
			for i := range columns {
				if !same(a.values[i], b.values[i]) {
					note(b.values, fmt.Sprintf("what was stored with it in %s (%s) is not what it says", table, columns[i]))
					break
				}
			}
			err = errors.Join(a.next(), b.next())
		}
		if err != nil {
			return nil, err
		}
	}
	return first, nil
}

// shape returns the columns of a table, and those of its key.
func shape(ctx context.Context, db query.DBTX, table string) (columns, key []string, err error) {
	rows, err := db.QueryContext(ctx, "SELECT name, pk FROM pragma_table_info(?) ORDER BY cid", table)
	if err != nil {
		return nil, nil, err
	}
	defer rows.Close()
	at := map[int]string{}
	for rows.Next() {
		var name string
		var pk int
		if err := rows.Scan(&name, &pk); err != nil {
			return nil, nil, err
		}
		columns = append(columns, name)
		if pk > 0 {
			at[pk] = name
		}
	}
	for i := 1; i <= len(at); i++ {
		key = append(key, at[i])
	}
	if len(key) == 0 {
		return nil, nil, fmt.Errorf("the table %s has no key, or is not there", table)
	}
	return columns, key, rows.Err()
}

// walker goes through the rows of a table.
type walker struct {
	rows   *sql.Rows
	values []any
	more   bool
}

func walk(ctx context.Context, db query.DBTX, text string) (*walker, error) {
	rows, err := db.QueryContext(ctx, text)
	if err != nil {
		return nil, err
	}
	w := &walker{rows: rows}
	return w, w.next()
}

func (w *walker) next() error {
	if w.more = w.rows.Next(); !w.more {
		return w.rows.Err()
	}
	columns, err := w.rows.Columns()
	if err != nil {
		return err
	}
	w.values = make([]any, len(columns))
	into := make([]any, len(columns))
	for i := range w.values {
		into[i] = &w.values[i]
	}
	return w.rows.Scan(into...)
}

// order tells which walker stands at the earlier key; one at its end comes last.
func (w *walker) order(other *walker, key []int) int {
	switch {
	case !w.more:
		return 1
	case !other.more:
		return -1
	}
	for _, i := range key {
		if c := inOrder(w.values[i], other.values[i]); c != 0 {
			return c
		}
	}
	return 0
}

// inOrder compares two values of a key as SQLite sorts them: numbers before texts.
func inOrder(a, b any) int {
	x, aNumber := a.(int64)
	y, bNumber := b.(int64)
	switch {
	case aNumber && bNumber:
		return int(min(max(x-y, -1), 1))
	case aNumber:
		return -1
	case bNumber:
		return 1
	}
	return strings.Compare(fmt.Sprint(a), fmt.Sprint(b))
}

// same compares two values, and their types.
func same(a, b any) bool {
	x, aBytes := a.([]byte)
	y, bBytes := b.([]byte)
	if aBytes && bBytes {
		return string(x) == string(y)
	}
	return !aBytes && !bBytes && a == b
}

// sound lets SQLite look for damaged pages and for rows that lead nowhere.
func sound(ctx context.Context, db query.DBTX) error {
	var says string
	if err := db.QueryRowContext(ctx, "PRAGMA integrity_check(1)").Scan(&says); err != nil {
		return fmt.Errorf("checking the file: %w", err)
	}
	if says != "ok" {
		return &Damage{fmt.Errorf("the file is damaged: %s", says)}
	}
	rows, err := db.QueryContext(ctx, "PRAGMA foreign_key_check")
	if err != nil {
		return fmt.Errorf("checking the file: %w", err)
	}
	defer rows.Close()
	if rows.Next() {
		return &Damage{errors.New("the file is damaged: a row leads to another that is not there")}
	}
	return rows.Err()
}

// CheckStart is the quick look at a workshop before it is used: SQLite's own check of
// its pages, and the end of the chain.
func (l *Ledger) CheckStart(ctx context.Context) error {
	return l.store.ViewTables(ctx, func(db query.DBTX) error {
		var says string
		if err := db.QueryRowContext(ctx, "PRAGMA quick_check(1)").Scan(&says); err != nil {
			return fmt.Errorf("checking the file: %w", err)
		}
		if says != "ok" {
			return &Damage{fmt.Errorf("the file is damaged: %s", says)}
		}
		q := query.New(db)
		row, err := q.LastEntry(ctx)
		if errors.Is(err, sql.ErrNoRows) {
			return nil
		}
		if err != nil {
			return err
		}
		e, err := entryOf(row)
		if err != nil {
			return &Damage{err}
		}
		head, err := q.Head(ctx)
		if err != nil || head.Seq != e.Seq || head.Hash != e.Hash {
			return &Damage{&journal.Broken{Seq: e.Seq, Why: "it is not where the journal ended"}}
		}
		if !e.Whole() {
			return &Damage{&journal.Broken{Seq: e.Seq, Why: "its content is not what was written"}}
		}
		return nil
	})
}

// Ends tells whether the journal goes at least to an entry, and whether that one is
// what it was: a number and a hash that were kept on paper show a journal that was cut
// short, or written anew.
func Ends(ctx context.Context, s *store.Store, seq int64, hash string) error {
	return s.View(ctx, func(q *query.Queries) error {
		row, err := q.Entry(ctx, seq)
		switch {
		case errors.Is(err, sql.ErrNoRows):
			return &Damage{&journal.Broken{Seq: seq, Why: "it is missing: the journal was cut short"}}
		case err != nil:
			return err
		case row.Hash != hash:
			return &Damage{&journal.Broken{Seq: seq, Why: "its hash is not the one that was kept on paper: the journal was written anew"}}
		}
		return nil
	})
}

// rebuild makes all rows anew from the journal.
func (l *Ledger) rebuild(ctx context.Context) error {
	return l.store.WriteTables(ctx, func(db query.DBTX) error {
		if _, err := db.ExecContext(ctx, "PRAGMA defer_foreign_keys = ON"); err != nil {
			return err
		}
		for _, name := range l.registry.names(Record) {
			if name == "journal" || name == "files" {
				continue
			}
			if _, err := db.ExecContext(ctx, "DELETE FROM "+name); err != nil {
				return fmt.Errorf("emptying %s: %w", name, err)
			}
		}
		if _, err := l.registry.replay(ctx, query.New(db), db, nil); err != nil {
			return err
		}
		// What was worked out is not believed any more, and kept only to tell what was said
		// before; what nothing bears any more goes.
		for _, name := range l.registry.names(Derived) {
			for _, text := range []string{"UPDATE " + name + " SET arithmetic = 0", "DELETE FROM " + name + " WHERE rowid IN (SELECT rowid FROM pragma_foreign_key_check('" + name + "'))"} {
				if _, err := db.ExecContext(ctx, text); err != nil {
					return fmt.Errorf("outdating %s: %w", name, err)
				}
			}
		}
		_, err := db.ExecContext(ctx, "PRAGMA user_version = 0")
		return err
	})
}
