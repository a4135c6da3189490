// Package archive carries a workshop, or an aircraft with its instruments, from one place to
// another in one open file: a zip of the journal as JSON lines, tables as CSV for a spreadsheet,
// and the photos (docs/archive.md). What comes is looked through whole before anything of it
// is written, and is taken whole or not at all.
package archive

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"sort"
	"time"

	"orpine/internal/core/journal"
	"orpine/internal/core/say"
	"orpine/internal/exchange"
	"orpine/internal/ledger"
	"orpine/internal/store"
	"orpine/internal/store/query"
)

// Format and Version are what an archive says it is.
const (
	Format  = "orpine.archive"
	Version = 1
)

// The members of an archive beside its CSV files and photos.
const (
	manifestName = "orpine-archive.json"
	journalName  = "journal.jsonl"
)

// Scope is what an archive holds.
type Scope string

// The scopes.
const (
	Workshop Scope = "workshop" // all of it: numbers and hashes are kept
	Aircraft Scope = "aircraft" // what belongs to it, with its instruments
)

// Manifest says what an archive holds. It has no time of its own, so that the same workshop
// gives the same bytes.
type Manifest struct {
	Format   string   `json:"format"`
	Version  int      `json:"version"`
	Scope    Scope    `json:"scope"`
	Aircraft []Named  `json:"aircraft"`
	Entries  int64    `json:"entries"`
	Last     Last     `json:"last"`
	Members  []Member `json:"members"`
}

// Named is an aircraft.
type Named struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Last is the last entry of the journal in the archive.
type Last struct {
	Seq  int64  `json:"seq"`
	Hash string `json:"hash"`
}

// Member is a file in the archive.
type Member struct {
	Name   string `json:"name"`
	Bytes  int64  `json:"bytes"`
	SHA256 string `json:"sha256"`
}

// line is an entry as the archive has it. Content is the text that was sealed.
type line struct {
	Seq     int64  `json:"seq"`
	ID      string `json:"id"`
	At      string `json:"at"`
	Kind    string `json:"kind"`
	By      string `json:"by"`
	Content string `json:"content"`
	Prev    string `json:"prev"`
	Hash    string `json:"hash"`
}

func (l line) entry() (journal.Entry, error) {
	at, err := time.Parse(time.RFC3339Nano, l.At)
	if err != nil || store.Time(at) != l.At {
		return journal.Entry{}, &ledger.Stranger{Entry: l.Seq, Why: "its time cannot be read"}
	}
	return journal.Entry{Seq: l.Seq, ID: l.ID, At: at, Kind: l.Kind, By: l.By, Content: l.Content, Prev: l.Prev, Hash: l.Hash}, nil
}

// writer makes an archive member by member.
type writer struct {
	zip      *zip.Writer
	manifest Manifest
}

// member writes one; photos are not made smaller once more.
func (w *writer) member(name string, method uint16, write func(to io.Writer) error) error {
	to, err := w.zip.CreateHeader(&zip.FileHeader{Name: name, Method: method})
	if err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	sum := sha256.New()
	counted := &counter{}
	if err := write(io.MultiWriter(to, sum, counted)); err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	w.manifest.Members = append(w.manifest.Members, Member{name, counted.n, hex.EncodeToString(sum.Sum(nil))})
	return nil
}

type counter struct{ n int64 }

func (c *counter) Write(p []byte) (int, error) {
	c.n += int64(len(p))
	return len(p), nil
}

// Write writes an archive of the whole workshop, or of an aircraft (its id). It reads one state,
// beside the use of the workshop. ErrNotFound where there is no such aircraft.
func Write(ctx context.Context, l *ledger.Ledger, aircraft string, to io.Writer) (Manifest, error) {
	w := &writer{zip: zip.NewWriter(to), manifest: Manifest{Format: Format, Version: Version, Scope: Workshop, Aircraft: []Named{}, Members: []Member{}}}
	err := l.Read(ctx, func(db query.DBTX) error {
		if aircraft == "" {
			if err := w.journal(func(each func(journal.Entry) error) error { return ledger.Entries(ctx, db, each) }); err != nil {
				return err
			}
			return w.rest(ctx, db, db)
		}
		return w.aircraft(ctx, l, db, aircraft)
	})
	if err != nil {
		return w.manifest, err
	}
	w.manifest.Members = append([]Member{}, w.manifest.Members...)
	data, err := json.MarshalIndent(w.manifest, "", "  ")
	if err != nil {
		return w.manifest, err
	}
	last, err := w.zip.CreateHeader(&zip.FileHeader{Name: manifestName, Method: zip.Deflate})
	if err == nil {
		_, err = last.Write(append(data, '\n'))
	}
	return w.manifest, errors.Join(err, w.zip.Close())
}

// aircraft writes what belongs to one; its rows are made in a scratch workshop from those
// entries alone, which shows that they hold by themselves.
func (w *writer) aircraft(ctx context.Context, l *ledger.Ledger, db query.DBTX, aircraft string) (err error) {
	w.manifest.Scope = Aircraft
	b, err := l.Belongings(ctx, db, aircraft)
	if err != nil {
		return err
	}
	scratch, err := store.Scratch(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, scratch.Close()) }()
	return scratch.WriteTables(ctx, func(rows query.DBTX) error {
		err := w.journal(func(each func(journal.Entry) error) error {
			n := int64(0)
			return l.Of(ctx, db, b, func(e journal.Entry) error {
				n++
				if err := l.Redo(ctx, rows, n, e); err != nil {
					return fmt.Errorf("an entry does not stand by itself: %w", err)
				}
				return each(e)
			})
		})
		if err != nil {
			return err
		}
		return w.rest(ctx, rows, db)
	})
}

func (w *writer) journal(entries func(each func(journal.Entry) error) error) error {
	return w.member(journalName, zip.Deflate, func(to io.Writer) error {
		out := json.NewEncoder(to)
		out.SetEscapeHTML(false)
		return entries(func(e journal.Entry) error {
			w.manifest.Entries++
			w.manifest.Last = Last{e.Seq, e.Hash}
			return out.Encode(line{e.Seq, e.ID, store.Time(e.At), e.Kind, e.By, e.Content, e.Prev, e.Hash})
		})
	})
}

// rest writes the tables and the photos that rows name; files are read from another database.
func (w *writer) rest(ctx context.Context, rows, files query.DBTX) error {
	q := query.New(rows)
	named, err := q.NamesOfAirframes(ctx)
	if err != nil {
		return err
	}
	for _, n := range named {
		w.manifest.Aircraft = append(w.manifest.Aircraft, Named{n.ID, n.Name})
	}
	sort.Slice(w.manifest.Aircraft, func(i, j int) bool { return w.manifest.Aircraft[i].ID < w.manifest.Aircraft[j].ID })
	for _, t := range tables {
		if err := w.member("csv/"+t.name+".csv", zip.Deflate, func(to io.Writer) error { return t.write(ctx, rows, to) }); err != nil {
			return err
		}
	}
	carried, err := q.FilesCarried(ctx)
	if err != nil {
		return err
	}
	sort.Strings(carried)
	for _, sum := range carried {
		data, err := query.New(files).File(ctx, sum)
		if err != nil {
			return fmt.Errorf("reading a photo: %w", err)
		}
		err = w.member("photos/"+sum+suffix(data), zip.Store, func(to io.Writer) error {
			_, err := to.Write(data)
			return err
		})
		if err != nil {
			return err
		}
	}
	return nil
}

func suffix(data []byte) string {
	if http.DetectContentType(data) == "image/png" {
		return ".png"
	}
	return ".jpg"
}

// table is what a CSV file of an archive holds.
type table struct {
	name, text string
}

// write goes through the rows of a table. A text that a spreadsheet would take for a formula
// gets an apostrophe before it.
func (t table) write(ctx context.Context, db query.DBTX, to io.Writer) error {
	rows, err := db.QueryContext(ctx, t.text)
	if err != nil {
		return err
	}
	defer rows.Close()
	columns, err := rows.Columns()
	if err != nil {
		return err
	}
	out := csv.NewWriter(to)
	if err := out.Write(columns); err != nil {
		return err
	}
	values, into, record := make([]any, len(columns)), make([]any, len(columns)), make([]string, len(columns))
	for i := range values {
		into[i] = &values[i]
	}
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return err
		}
		for i, v := range values {
			record[i] = cell(v)
		}
		if err := out.Write(record); err != nil {
			return err
		}
	}
	out.Flush()
	return errors.Join(rows.Err(), out.Error())
}

func cell(v any) string {
	switch v := v.(type) {
	case nil:
		return ""
	case string:
		return exchange.Guard(say.Plain(v))
	case []byte:
		return exchange.Guard(say.Plain(string(v)))
	}
	return fmt.Sprint(v)
}

// Tables are the names of the CSV files.
func Tables() (names []string) {
	for _, t := range tables {
		names = append(names, t.name)
	}
	return names
}

// Table writes one of them as it is now. ErrNotFound where none is called so.
func Table(ctx context.Context, l *ledger.Ledger, name string, to io.Writer) error {
	for _, t := range tables {
		if t.name == name {
			return l.Read(ctx, func(db query.DBTX) error { return t.write(ctx, db, to) })
		}
	}
	return ledger.ErrNotFound
}

// Rows are those of a table as objects, so many after the first few; more tells whether there
// are others. Texts stand as they are: no spreadsheet reads them.
func Rows(ctx context.Context, l *ledger.Ledger, name string, skip, most int) (rows []map[string]any, more bool, err error) {
	rows = []map[string]any{}
	for _, t := range tables {
		if t.name != name {
			continue
		}
		err = l.Read(ctx, func(db query.DBTX) error {
			found, err := db.QueryContext(ctx, t.text+" LIMIT ? OFFSET ?", most+1, skip)
			if err != nil {
				return err
			}
			defer found.Close()
			columns, err := found.Columns()
			if err != nil {
				return err
			}
			for found.Next() {
				values, into := make([]any, len(columns)), make([]any, len(columns))
				for i := range values {
					into[i] = &values[i]
				}
				if err := found.Scan(into...); err != nil {
					return err
				}
				row := map[string]any{}
				for i, c := range columns {
					if row[c] = values[i]; values[i] != nil {
						if text, ok := values[i].(string); ok {
							row[c] = say.Plain(text)
						}
					}
				}
				rows = append(rows, row)
			}
			return found.Err()
		})
		if len(rows) > most {
			rows, more = rows[:most], true
		}
		return rows, more, err
	}
	return nil, false, ledger.ErrNotFound
}

// Lines are entries of the journal after one, as an archive has them; more tells whether there
// are others.
func Lines(ctx context.Context, l *ledger.Ledger, after int64, most int) (lines []any, last int64, more bool, err error) {
	lines, last = []any{}, after
	err = l.View(ctx, func(q *query.Queries) error {
		rows, err := q.Entries(ctx, query.EntriesParams{After: after, Most: int64(most) + 1})
		for _, e := range rows {
			if len(lines) == most {
				more = true
				break
			}
			lines = append(lines, line{e.Seq, e.ID, e.At, e.Kind, e.ByName, e.Content, e.Prev, e.Hash})
			last = e.Seq
		}
		return err
	})
	return lines, last, more, err
}
