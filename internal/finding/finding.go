// Package finding keeps words of the record in an index, and finds what is meant by a few of them: from the first letter
// on, and misspelt. The index is made of the record and is no part of it: where it is lost it is made anew.
package finding

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"slices"
	"strings"
	"sync"
	"unicode"

	_ "modernc.org/sqlite" // the driver, with FTS5
)

// Doc is something that can be found.
type Doc struct {
	Sort, ID string // its sort, and its id among those
	Title    string
	More     string // what else is known of it
	Place    string // what it belongs to, or where it lies
	Path     string // its page
	Gone     bool   // it is not there any more
}

// Log is the sort of entries of the log, whose ids are their numbers: of those the latest are found.
const Log = "log"

// Index is what can be found. It is safe for several at once.
type Index struct {
	db   *sql.DB
	lock sync.Mutex
}

// version is that of the table: an index of another one is made anew.
const version = 1

// Open opens the index in a file, and makes it anew where it is none of this program's; "" keeps it in memory.
func Open(path string) (*Index, error) {
	x, err := open(path)
	if err != nil && path != "" {
		if err := errors.Join(os.Remove(path), removed(path+"-wal"), removed(path+"-shm")); err != nil {
			return nil, err
		}
		x, err = open(path)
	}
	return x, err
}

func removed(path string) error {
	if err := os.Remove(path); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	return nil
}

func open(path string) (*Index, error) {
	dsn := ":memory:"
	if path != "" {
		dsn = "file:" + path + "?_pragma=journal_mode(WAL)&_pragma=synchronous(OFF)&_pragma=busy_timeout(5000)"
	}
	db, err := sql.Open("sqlite", dsn)
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	var have int
	if err = db.QueryRow("PRAGMA user_version").Scan(&have); err == nil && have != version && have != 0 {
		err = fmt.Errorf("an index of version %d", have)
	}
	if err == nil {
		_, err = db.Exec(fmt.Sprintf(`CREATE TABLE IF NOT EXISTS docs (id INTEGER PRIMARY KEY, sort TEXT, name TEXT, path TEXT, UNIQUE (sort, name));
CREATE VIRTUAL TABLE IF NOT EXISTS words USING fts5(title, more, place, tokenize = "unicode61 remove_diacritics 2 tokenchars '-'", prefix = '1 2 3');
CREATE VIRTUAL TABLE IF NOT EXISTS terms USING fts5vocab(words, row);
CREATE VIRTUAL TABLE IF NOT EXISTS log USING fts5(title, more, tokenize = "unicode61 remove_diacritics 2 tokenchars '-'", prefix = '1 2 3');
CREATE VIRTUAL TABLE IF NOT EXISTS log_terms USING fts5vocab(log, row);
CREATE TABLE IF NOT EXISTS state (name TEXT PRIMARY KEY, value TEXT);
PRAGMA user_version = %d;`, version))
	}
	if err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return &Index{db: db}, nil
}

// Close closes the index.
func (x *Index) Close() error { return x.db.Close() }

// State is what was kept with the index under a name.
func (x *Index) State(ctx context.Context, name string) (value string) {
	if x.db.QueryRowContext(ctx, "SELECT value FROM state WHERE name = ?", name).Scan(&value) != nil {
		return ""
	}
	return value
}

// Clear takes everything out.
func (x *Index) Clear(ctx context.Context) error {
	x.lock.Lock()
	defer x.lock.Unlock()
	_, err := x.db.ExecContext(ctx, "DELETE FROM words; DELETE FROM log; DELETE FROM docs; DELETE FROM state")
	return err
}

// Put puts docs in place of those of the same sort and id, and keeps a state with them: all of it, or nothing.
func (x *Index) Put(ctx context.Context, docs []Doc, state map[string]string) (err error) {
	x.lock.Lock()
	defer x.lock.Unlock()
	tx, err := x.db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, tx.Rollback())
		}
	}()
	for _, d := range docs {
		if err = put(ctx, tx, d); err != nil {
			return err
		}
	}
	for name, value := range state {
		if _, err = tx.ExecContext(ctx, "INSERT INTO state VALUES (?, ?) ON CONFLICT DO UPDATE SET value = excluded.value", name, value); err != nil {
			return err
		}
	}
	return tx.Commit()
}

func put(ctx context.Context, tx *sql.Tx, d Doc) error {
	if d.Sort == Log {
		_, err := tx.ExecContext(ctx, "INSERT OR REPLACE INTO log (rowid, title, more) VALUES (?, ?, ?)", d.ID, d.Title, d.More)
		return err
	}
	var id int64
	err := tx.QueryRowContext(ctx, "INSERT INTO docs (sort, name, path) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET path = excluded.path RETURNING id", d.Sort, d.ID, d.Path).Scan(&id)
	if err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, "DELETE FROM words WHERE rowid = ?", id); err != nil || d.Gone {
		return err
	}
	_, err = tx.ExecContext(ctx, "INSERT INTO words (rowid, title, more, place) VALUES (?, ?, ?, ?)", id, d.Title, d.More, d.Place)
	return err
}

// Hit is what was found.
type Hit struct {
	Doc
	Near bool // by words that are spelt otherwise
}

// Search finds at most so many docs that have all of the words, each from its first letter on; what is in no doc stands
// for those that are spelt like it. With sorts only those are looked for; entries of the log only where that sort alone
// is named. No word at all finds everything of one sort.
func (x *Index) Search(ctx context.Context, text string, most int, sorts ...string) (hits []Hit, err error) {
	x.lock.Lock()
	defer x.lock.Unlock()
	var asks []string
	near := false
	for _, word := range words(text) {
		meant, err := x.meant(ctx, word)
		if err != nil || meant == nil {
			return nil, err
		}
		near = near || meant[0] != word
		for i, m := range meant {
			meant[i] = `"` + m + `"`
			if near || m == word {
				meant[i] += " *"
			}
		}
		asks = append(asks, "("+strings.Join(meant, " OR ")+")")
	}
	if len(asks) == 0 && len(sorts) == 1 { // all of that sort
		return x.search(ctx, false, "SELECT d.sort, d.name, d.path, w.title, w.more, w.place FROM words w JOIN docs d ON d.id = w.rowid WHERE d.sort = ? ORDER BY d.id LIMIT ?", sorts[0], most)
	}
	if len(asks) == 0 {
		return nil, nil
	}
	if slices.Equal(sorts, []string{Log}) {
		return x.search(ctx, near, "SELECT 'log', rowid, '', title, more, '' FROM log WHERE log MATCH ? ORDER BY rowid DESC LIMIT ?", strings.Join(asks, " AND "), most)
	}
	where, args := "", []any{strings.Join(asks, " AND ")}
	for i, sort := range sorts {
		where += map[bool]string{true: " AND d.sort IN (?", false: ", ?"}[i == 0]
		args = append(args, sort)
	}
	if where != "" {
		where += ")"
	}
	const ranked = `SELECT d.sort, d.name, d.path, w.title, w.more, w.place FROM words w JOIN docs d ON d.id = w.rowid WHERE words MATCH ?%s
ORDER BY bm25(words, 10, 2, 4) * CASE WHEN d.sort IN ('assembly', 'aircraft') THEN 2 WHEN d.sort IN ('part', 'setup', 'to do') THEN 1.6 WHEN d.sort IN ('hold', 'row') THEN 1.4 ELSE 1 END, d.id LIMIT ?`
	return x.search(ctx, near, fmt.Sprintf(ranked, where), append(args, most)...)
}

func (x *Index) search(ctx context.Context, near bool, text string, args ...any) (hits []Hit, err error) {
	rows, err := x.db.QueryContext(ctx, text, args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		h := Hit{Near: near}
		if err := rows.Scan(&h.Sort, &h.ID, &h.Path, &h.Title, &h.More, &h.Place); err != nil {
			return nil, err
		}
		hits = append(hits, h)
	}
	return hits, rows.Err()
}

// words are those of a text as the index keeps them.
func words(text string) []string {
	return strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != '-' })
}

// meant are the words of the index that a word stands for: itself, where one begins so; else those that are spelt like
// it, the likest first; none where nothing is.
func (x *Index) meant(ctx context.Context, word string) ([]string, error) {
	var one string
	err := x.db.QueryRowContext(ctx, "SELECT * FROM (SELECT term FROM terms WHERE term >= ?1 AND term < ?2 LIMIT 1) UNION ALL SELECT * FROM (SELECT term FROM log_terms WHERE term >= ?1 AND term < ?2 LIMIT 1)", word, word+"\U0010FFFF").Scan(&one)
	if err == nil {
		return []string{word}, nil
	}
	if !errors.Is(err, sql.ErrNoRows) {
		return nil, err
	}
	rows, err := x.db.QueryContext(ctx, "SELECT term FROM terms UNION SELECT term FROM log_terms")
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	type likeness struct {
		term  string
		share float64
	}
	var found []likeness
	for rows.Next() {
		if err := rows.Scan(&one); err != nil {
			return nil, err
		}
		if share := like(word, one); share >= alike {
			found = append(found, likeness{one, share})
		}
	}
	slices.SortStableFunc(found, func(a, b likeness) int { return cmp.Compare(b.share, a.share) })
	var out []string
	for _, f := range found[:min(len(found), mostMeant)] {
		if f.share >= found[0].share*0.8 {
			out = append(out, f.term)
		}
	}
	return out, rows.Err()
}

// mostMeant is how many words a misspelt one may stand for.
const mostMeant = 3

// alike is the share of trigrams from which on a word is taken for another.
const alike = 0.4

// like is the share of the trigrams of two words that both have (twice those in common over all: Dice). A word begins
// and ends with blanks, so that its first letter weighs.
func like(a, b string) float64 {
	in, other := trigrams(a), trigrams(b)
	both := 0
	for t, n := range in {
		both += min(n, other[t])
	}
	return 2 * float64(both) / float64(size(in)+size(other))
}

func trigrams(word string) map[string]int {
	runes := []rune("  " + word + " ")
	out := map[string]int{}
	for i := range len(runes) - 2 {
		out[string(runes[i:i+3])]++
	}
	return out
}

func size(of map[string]int) (sum int) {
	for _, n := range of {
		sum += n
	}
	return sum
}
