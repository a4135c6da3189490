package ledger

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"time"

	"orpine/internal/core/journal"
	"orpine/internal/store"
	"orpine/internal/store/query"
)

// Capability is what one part of the program brings to the ledger.
type Capability struct {
	Name   string // of its folder and its file of queries
	Tables []Table
	Kinds  []registered
}

// Class says where the rows of a table come from.
type Class string

// The classes.
const (
	Record  Class = "record"  // they follow from the journal, and are replayed and compared
	Derived Class = "derived" // they follow from the record and the arithmetic, whose number they carry in a column of that name, and are made anew
	Local   Class = "local"   // of this machine; in a file of their own, and in no journal
)

// Table is a table with its class; nobody but its capability writes to it.
type Table struct {
	Name  string
	Class Class
	Files []string // columns that name files which its rows carry
}

// Records, and Deriveds, declare tables.
func Records(names ...string) []Table { return classed(Record, names) }

// Deriveds declares derived tables.
func Deriveds(names ...string) []Table { return classed(Derived, names) }

func classed(class Class, names []string) []Table {
	out := make([]Table, len(names))
	for i, name := range names {
		out[i] = Table{Name: name, Class: class}
	}
	return out
}

// Entry is what the rows of an entry are stamped with.
type Entry struct {
	Seq  int64
	ID   string
	At   string    // when it arrived, as it is kept
	When time.Time // the same
	By   string
}

// Words are an entry in the log.
type Words struct {
	What, Detail string
	Answer       string // of someone with authority; it is shown for ever
}

// Kind is one kind of entry: what is asked (R) and what that was judged to be (F), both
// written as JSON. Once a workshop of it exists, a change of either needs another
// version, and a way to read the one before.
type Kind[R, F any] struct {
	Name    string
	Version int
	// Apply writes the rows. It computes nothing: what it writes stands in the request,
	// in the facts, or is the entry's own.
	Apply func(ctx context.Context, q *query.Queries, e Entry, r R, f F) error
	// Derive brings derived rows up to date; nil where there are none. It is no part of
	// a replay.
	Derive func(ctx context.Context, q *query.Queries, r R, f F) error
	// Words put the entry into the log.
	Words func(r R, f F) Words
	// Travel says how the entry goes to another workshop; its zero value does for most.
	Travel Travel[R, F]
	// Takes are the rights of which one must be had to make the entry; there is no default.
	Takes Rights
	// Bears says what the entry has to do with what becomes permanent; there is no default.
	Bears Bearing
	// Makes are the things that the entry says have become permanent; the gate is asked about
	// each before it is written. It is there where Bears is Permanent, and nowhere else.
	Makes func(id string, r R, f F) []Made
	// About are the ids of what the entry changed, of all that it names; nil for all of them.
	About func(id string, r R, f F) []string
	// TakesBack are the ids of entries, readings and events that it takes back as mistaken; nil
	// for a kind that takes nothing back.
	TakesBack func(r R, f F) []string
	// Rights tells whether it says of earlier entries that they were wrong; nil for a kind that
	// never does.
	Rights func(r R, f F) bool
}

// registered is a Kind without its types.
type registered interface {
	name() string
	version() int
	apply(ctx context.Context, q *query.Queries, e journal.Entry, c content) error
	derive(ctx context.Context, q *query.Queries, e journal.Entry, c content) error
	words(c content) (Words, error)
	sample() (request, facts any)
	bearing() Bearing
	takes() Rights
	said() error
	passed(e journal.Entry, c content) (Passed, error)
	travels(e journal.Entry, c content) (travels, error)
	renamed(e journal.Entry, c content, name func(thing, was string) string) (content, error)
}

func (k *Kind[R, F]) name() string                 { return k.Name }
func (k *Kind[R, F]) version() int                 { return k.Version }
func (k *Kind[R, F]) takes() Rights                { return k.Takes }
func (k *Kind[R, F]) sample() (request, facts any) { return *new(R), *new(F) }

// read decodes an entry of this kind.
func (k *Kind[R, F]) read(c content) (r R, f F, err error) {
	if c.Version != k.Version {
		return r, f, fmt.Errorf("it is of version %d, and this program knows version %d", c.Version, k.Version)
	}
	if err := json.Unmarshal(c.Request, &r); err != nil {
		return r, f, fmt.Errorf("its request cannot be read: %w", err)
	}
	if err := json.Unmarshal(c.Facts, &f); err != nil {
		return r, f, fmt.Errorf("its facts cannot be read: %w", err)
	}
	return r, f, nil
}

func (k *Kind[R, F]) apply(ctx context.Context, q *query.Queries, e journal.Entry, c content) error {
	r, f, err := k.read(c)
	if err != nil {
		return err
	}
	return k.Apply(ctx, q, stamp(e), r, f)
}

// stamp is what rows are stamped with.
func stamp(e journal.Entry) Entry {
	return Entry{Seq: e.Seq, ID: e.ID, At: store.Time(e.At), When: e.At, By: e.By}
}

func (k *Kind[R, F]) derive(ctx context.Context, q *query.Queries, _ journal.Entry, c content) error {
	if k.Derive == nil {
		return nil
	}
	r, f, err := k.read(c)
	if err != nil {
		return err
	}
	return k.Derive(ctx, q, r, f)
}

func (k *Kind[R, F]) words(c content) (Words, error) {
	r, f, err := k.read(c)
	if err != nil {
		return Words{}, err
	}
	return k.Words(r, f), nil
}

// repeated answers a submission whose id was used before.
func (k *Kind[R, F]) repeated(l *Ledger, before query.Journal, asked []byte) (facts F, err error) {
	var c content
	if err := json.Unmarshal([]byte(before.Content), &c); err != nil {
		return facts, fmt.Errorf("reading entry %d: %w", before.Seq, err)
	}
	if before.Kind == k.Name && bytes.Equal(c.Request, asked) {
		_, facts, err = k.read(c)
		return facts, err
	}
	was := "something else"
	if kind, ok := l.registry.kinds[before.Kind]; ok {
		if w, err := kind.words(c); err == nil {
			was = "“" + w.What + "”"
		}
	}
	return facts, Problems{"": fmt.Sprintf("this form was sent before with something else in it: %s was taken then, at %s, and nothing new now. Look at what is there, then send it once more", was, l.When(before.At).Format("15:04"))}
}

// registry is everything that the capabilities brought.
type registry struct {
	kinds  map[string]registered
	tables map[string]Table
	owner  map[string]string // of a table: the capability
	from   map[string]string // of a kind: the capability
}

// own are the ledger's own tables.
var own = Records("journal", "head", "files")

func register(capabilities []Capability) (registry, error) {
	r := registry{map[string]registered{}, map[string]Table{}, map[string]string{}, map[string]string{}}
	for _, c := range append([]Capability{{Name: "ledger", Tables: own}}, capabilities...) {
		for _, k := range c.Kinds {
			if _, twice := r.kinds[k.name()]; twice {
				return r, fmt.Errorf("two kinds of entries are called %q", k.name())
			}
			if err := k.said(); err != nil {
				return r, err
			}
			r.kinds[k.name()], r.from[k.name()] = k, c.Name
		}
		for _, t := range c.Tables {
			if owner, twice := r.owner[t.Name]; twice {
				return r, fmt.Errorf("%s and %s both own the table %s", owner, c.Name, t.Name)
			}
			r.tables[t.Name], r.owner[t.Name] = t, c.Name
		}
	}
	return r, nil
}

// Tables are the tables of all capabilities, with who owns each.
func (l *Ledger) Tables() (tables []Table, owner map[string]string) {
	for _, t := range l.registry.tables {
		tables = append(tables, t)
	}
	return tables, l.registry.owner
}

// Kinds lists kinds of entries of different types.
func Kinds(list ...registered) []registered { return list }
