package ledger

import (
	"cmp"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"orpine/internal/core/journal"
	"orpine/internal/store/query"
)

// Travel says how an entry of a kind goes to another workshop with its aircraft.
type Travel[R, F any] struct {
	// Aircraft: the entry begins one, whose id is its own.
	Aircraft bool
	// Stays: the entry is of the workshop (its people, what they may, how they are let in), and
	// goes nowhere with an aircraft.
	Stays bool
	// Shared names the things that the entry is about which aircraft share (an instrument, a
	// maker's table); nil for an entry of one aircraft alone. Such an entry does not tie
	// together the aircraft whose things it mentions.
	Shared func(id string, r R) []string
	// Loose are shared things that an entry makes beside those of its own aircraft.
	Loose func(r R, f F) []Loose
	// Names lets a name be given anew to what is called as something else in the workshop that
	// it comes to; name returns how a thing is called there.
	Names func(id string, r *R, f *F, name func(thing, was string) string) error
}

// Loose is a shared thing, and the entry that would make it alone.
type Loose struct {
	ID      string // of the thing
	Kind    string
	Request any
}

// travels is Travel for one entry.
type travels struct {
	aircraft bool
	stays    bool
	shared   []string
	loose    []Loose
}

func (k *Kind[R, F]) travels(e journal.Entry, c content) (t travels, err error) {
	t.aircraft, t.stays = k.Travel.Aircraft, k.Travel.Stays
	if k.Travel.Shared == nil && k.Travel.Loose == nil {
		return t, nil
	}
	r, f, err := k.read(c)
	if err != nil {
		return t, err
	}
	if k.Travel.Shared != nil {
		t.shared = k.Travel.Shared(e.ID, r)
	}
	if k.Travel.Loose != nil {
		t.loose = k.Travel.Loose(r, f)
	}
	return t, nil
}

func (k *Kind[R, F]) renamed(e journal.Entry, c content, name func(thing, was string) string) (content, error) {
	if k.Travel.Names == nil {
		return c, nil
	}
	r, f, err := k.read(c)
	if err != nil {
		return c, err
	}
	changed := false
	err = k.Travel.Names(e.ID, &r, &f, func(thing, was string) string {
		now := name(thing, was)
		changed = changed || now != was
		return now
	})
	if err != nil || !changed {
		return c, err
	}
	if c.Request, err = json.Marshal(r); err != nil {
		return c, err
	}
	c.Facts, err = json.Marshal(f)
	return c, err
}

// origin is what an entry was in the workshop that it was made in.
type origin struct {
	Seq     int64  `json:"seq"`
	Prev    string `json:"prev"`
	Hash    string `json:"hash"`
	Content string `json:"content,omitempty"` // where a name was given anew
}

// original is an entry as it was sealed first.
func original(e journal.Entry) (journal.Entry, error) {
	if !strings.Contains(e.Content, `"origin":`) {
		return e, nil
	}
	var c content
	if err := json.Unmarshal([]byte(e.Content), &c); err != nil {
		return e, &journal.Broken{Seq: e.Seq, Why: "its content cannot be read"}
	}
	if c.Origin == nil {
		return e, nil
	}
	was := *c.Origin
	e.Seq, e.Prev, e.Hash, e.Content = was.Seq, was.Prev, was.Hash, was.Content
	if was.Content == "" {
		c.Origin = nil
		data, err := json.Marshal(c)
		if err != nil {
			return e, err
		}
		e.Content = string(data)
	}
	return e, nil
}

// Came tells of an entry where it came from: its number and hash in the workshop that it was made
// in; 0 for one of this workshop.
func (l *Ledger) Came(ctx context.Context, seq int64) (number int64, hash string, err error) {
	err = l.View(ctx, func(q *query.Queries) error {
		row, err := q.Entry(ctx, seq)
		if err != nil {
			return err
		}
		e, err := entryOf(row)
		if err != nil {
			return err
		}
		if e, err = original(e); err == nil && e.Hash != row.Hash {
			number, hash = e.Seq, e.Hash
		}
		return err
	})
	return number, hash, err
}

// Entries goes through the journal of a workshop in order.
func Entries(ctx context.Context, db query.DBTX, each func(e journal.Entry) error) error {
	q, after := query.New(db), int64(0)
	for {
		rows, err := q.Entries(ctx, query.EntriesParams{After: after, Most: 500})
		if err != nil || len(rows) == 0 {
			return err
		}
		for _, row := range rows {
			e, err := entryOf(row)
			if err != nil {
				return &Damage{err}
			}
			if err := each(e); err != nil {
				return err
			}
			after = e.Seq
		}
	}
}

var uuids = regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}`)

// mentioned are the ids that an entry names, its own first.
func mentioned(e journal.Entry) []string {
	return append([]string{e.ID}, uuids.FindAllString(e.Content, -1)...)
}

// ties groups ids that belong together.
type ties map[string]string

func (t ties) root(id string) string {
	up, ok := t[id]
	if !ok {
		return id
	}
	if up == id {
		return id
	}
	root := t.root(up)
	t[id] = root
	return root
}

func (t ties) tie(a, b string) {
	if x, y := t.root(a), t.root(b); x != y {
		t[x] = y
	}
}

// Belongings are the entries that go with an aircraft.
type Belongings struct {
	Aircraft []string // ids: itself, and those that an entry ties to it
	own      map[int64]bool
	shared   map[int64]bool
	loose    map[int64][]Loose // what entries of others make that goes with it, by their numbers
}

// Own tells whether an entry is of the aircraft alone.
func (b Belongings) Own(seq int64) bool { return b.own[seq] }

// Belongings finds what goes with an aircraft: every entry that it is tied to by what it names,
// and every entry about an instrument or a maker's table that those name.
func (l *Ledger) Belongings(ctx context.Context, db query.DBTX, aircraft string) (b Belongings, err error) {
	b = Belongings{own: map[int64]bool{}, shared: map[int64]bool{}, loose: map[int64][]Loose{}}
	groups, shared, about := ties{}, map[string]bool{}, map[int64][]string{}
	made := map[string]int64{}  // loose things, by id: where
	alone := map[string]int64{} // those that came alone, likewise
	var begun []string
	err = Entries(ctx, db, func(e journal.Entry) error {
		t, err := l.travels(e)
		if err != nil {
			return err
		}
		if t.aircraft {
			begun = append(begun, e.ID)
		}
		for _, thing := range t.shared {
			shared[thing] = true
		}
		for _, thing := range t.loose {
			shared[thing.ID], made[thing.ID] = true, e.Seq
		}
		if t.shared != nil {
			about[e.Seq] = t.shared
			for _, thing := range t.shared {
				if e.ID == aloneID(thing) {
					alone[thing] = e.Seq
				}
			}
			return nil
		}
		for _, id := range mentioned(e)[1:] {
			if !shared[id] {
				groups.tie(id, e.ID)
			}
		}
		return nil
	})
	if err != nil {
		return b, err
	}
	if !slices.Contains(begun, aircraft) {
		return b, ErrNotFound
	}
	for _, id := range begun {
		if groups.root(id) == groups.root(aircraft) {
			b.Aircraft = append(b.Aircraft, id)
		}
	}
	needed := map[string]bool{}
	err = Entries(ctx, db, func(e journal.Entry) error {
		if about[e.Seq] != nil || groups.root(e.ID) != groups.root(aircraft) {
			return nil
		}
		b.own[e.Seq] = true
		for _, id := range mentioned(e) {
			if shared[id] {
				needed[id] = true
			}
		}
		return nil
	})
	for seq, things := range about {
		for _, thing := range things {
			b.shared[seq] = b.shared[seq] || needed[thing]
		}
	}
	for id, seq := range made {
		came, twice := alone[id]
		switch {
		case twice && b.own[seq]: // what made it goes, too
			delete(b.shared, came)
		case needed[id] && !b.own[seq] && !twice:
			b.loose[seq] = nil // found again when it is its turn
		}
	}
	return b, errors.Join(err, l.looseOf(ctx, db, &b, needed))
}

// looseOf reads once more what entries of others make.
func (l *Ledger) looseOf(ctx context.Context, db query.DBTX, b *Belongings, needed map[string]bool) error {
	q := query.New(db)
	for seq := range b.loose {
		row, err := q.Entry(ctx, seq)
		if err != nil {
			return err
		}
		e, err := entryOf(row)
		if err != nil {
			return err
		}
		t, err := l.travels(e)
		if err != nil {
			return err
		}
		b.loose[seq] = slices.DeleteFunc(t.loose, func(thing Loose) bool { return !needed[thing.ID] })
	}
	return nil
}

func (l *Ledger) travels(e journal.Entry) (travels, error) {
	kind, c, err := l.registry.understood(e)
	if err != nil {
		return travels{}, err
	}
	return kind.travels(e, c)
}

// understood reads an entry's content.
func (r registry) understood(e journal.Entry) (registered, content, error) {
	var c content
	kind, ok := r.kinds[e.Kind]
	if !ok {
		return nil, c, &journal.Broken{Seq: e.Seq, Why: fmt.Sprintf("it is of a kind that this program does not know: %q", e.Kind)}
	}
	if err := json.Unmarshal([]byte(e.Content), &c); err != nil {
		return nil, c, &journal.Broken{Seq: e.Seq, Why: "its content cannot be read"}
	}
	return kind, c, nil
}

// place is where an entry stands among those that go with an aircraft: first those that came
// from another workshop, in the order of that, then those of this one.
type place struct {
	own      bool
	was, seq int64
	alone    *journal.Entry
}

func (p place) order(o place) int {
	switch {
	case p.own != o.own && o.own:
		return -1
	case p.own != o.own:
		return 1
	case p.was != o.was:
		return cmp.Compare(p.was, o.was)
	case p.alone != nil && o.alone != nil:
		return cmp.Compare(p.alone.ID, o.alone.ID)
	}
	return cmp.Compare(p.seq, o.seq)
}

// Of are the entries that go with an aircraft, as they were sealed first: in the order of the
// workshop that they came from, then in this one's. A thing that an entry of another aircraft
// made comes before them all, as an entry of its own that is sealed behind nothing.
func (l *Ledger) Of(ctx context.Context, db query.DBTX, b Belongings, each func(e journal.Entry) error) error {
	var places []place
	err := Entries(ctx, db, func(e journal.Entry) error {
		for _, thing := range b.loose[e.Seq] {
			alone, err := l.alone(e, thing)
			if err != nil {
				return err
			}
			places = append(places, place{alone: &alone})
		}
		if !b.own[e.Seq] && !b.shared[e.Seq] {
			return nil
		}
		was, err := original(e)
		places = append(places, place{own: was.Hash == e.Hash, was: was.Seq, seq: e.Seq})
		return err
	})
	if err != nil {
		return err
	}
	slices.SortStableFunc(places, place.order)
	q := query.New(db)
	for _, p := range places {
		if p.alone != nil {
			err = each(*p.alone)
		} else {
			err = one(ctx, q, p.seq, each)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// one reads an entry as it was sealed first.
func one(ctx context.Context, q *query.Queries, seq int64, each func(e journal.Entry) error) error {
	row, err := q.Entry(ctx, seq)
	if err != nil {
		return err
	}
	e, err := entryOf(row)
	if err != nil {
		return &Damage{err}
	}
	if e, err = original(e); err != nil {
		return &Damage{err}
	}
	return each(e)
}

// aloneID is the id of an entry that makes a thing alone.
func aloneID(thing string) string { return Child(thing, "alone") }

// alone is the entry that would make a thing which was made beside others.
func (l *Ledger) alone(e journal.Entry, thing Loose) (journal.Entry, error) {
	kind, ok := l.registry.kinds[thing.Kind]
	if !ok {
		return e, fmt.Errorf("no kind of entries is called %q", thing.Kind)
	}
	request, err := json.Marshal(thing.Request)
	if err != nil {
		return e, err
	}
	data, err := json.Marshal(content{Version: kind.version(), Request: request, Facts: json.RawMessage("{}")})
	if err != nil {
		return e, err
	}
	return journal.Next(&journal.Entry{Seq: -1}, journal.Entry{ID: aloneID(thing.ID), At: e.At, Kind: thing.Kind, By: e.By, Content: string(data)}), nil
}

// Redo writes an entry and its rows into a scratch workshop, as the next one there.
func (l *Ledger) Redo(ctx context.Context, to query.DBTX, seq int64, e journal.Entry) error {
	q := query.New(to)
	e.Seq = seq
	if err := add(ctx, q, e); err != nil {
		return err
	}
	return l.registry.redo(ctx, q, e)
}

// A Stranger is an entry that cannot be taken.
type Stranger struct {
	Entry int64 // its number there
	Why   string
}

// Error says which it is, and why.
func (s *Stranger) Error() string { return fmt.Sprintf("entry %d of the archive: %s", s.Entry, s.Why) }

// Here tells whether an entry that comes is here already; a *Stranger where another is here
// under its id, or where this program cannot read it.
func (l *Ledger) Here(ctx context.Context, db query.DBTX, e journal.Entry) (bool, error) {
	if !e.Whole() {
		return false, &Stranger{e.Seq, "its content is not what was sealed"}
	}
	kind, c, err := l.registry.understood(e)
	if err == nil {
		_, err = kind.travels(e, c)
	}
	if err == nil {
		_, err = kind.words(c)
	}
	if err != nil {
		return false, &Stranger{e.Seq, strings.TrimPrefix(err.Error(), fmt.Sprintf("entry %d does not hold: ", e.Seq))}
	}
	row, err := query.New(db).EntryByID(ctx, e.ID)
	if errors.Is(err, sql.ErrNoRows) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	here, err := entryOf(row)
	if err != nil {
		return false, err
	}
	if here.Hash == e.Hash {
		return true, nil
	}
	if here, err = original(here); err == nil && here.Hash != e.Hash {
		err = &Stranger{e.Seq, "another entry is here under its id; the two workshops went on differently"}
	}
	return err == nil, err
}

// Renaming finds which names an entry brings, and how they are called here.
func (l *Ledger) Renaming(e journal.Entry, name func(thing, was string) string) error {
	kind, c, err := l.registry.understood(e)
	if err != nil {
		return err
	}
	_, err = kind.renamed(e, c, name)
	return err
}

// About tells what an entry is of: whether it begins an aircraft, and the shared things that it
// is about.
func (l *Ledger) About(e journal.Entry) (aircraft bool, shared []string, err error) {
	t, err := l.travels(e)
	return t.aircraft, t.shared, err
}

// Adopt takes an entry of another workshop behind the present end, within a submission: its id,
// its time and who made it stay; its number and hash there are kept within it.
func (l *Ledger) Adopt(ctx context.Context, q *query.Queries, e journal.Entry, name func(thing, was string) string) error {
	kind, c, err := l.registry.understood(e)
	if err != nil {
		return err
	}
	if c.Origin != nil {
		return &Stranger{e.Seq, "it came from a third workshop and does not say how it was there"}
	}
	plain, err := json.Marshal(c)
	if err != nil {
		return err
	}
	was := origin{Seq: e.Seq, Prev: e.Prev, Hash: e.Hash}
	named, err := kind.renamed(e, c, name)
	if err != nil {
		return err
	}
	now, err := json.Marshal(named)
	if err != nil {
		return err
	}
	if string(now) != e.Content {
		was.Content = e.Content
	}
	if string(plain) == e.Content && string(now) == string(plain) {
		was.Content = ""
	}
	named.Origin = &was
	data, err := json.Marshal(named)
	if err != nil {
		return err
	}
	last, err := end(ctx, q)
	if err != nil {
		return err
	}
	next := journal.Next(last, journal.Entry{ID: e.ID, At: e.At, Kind: e.Kind, By: e.By, Content: string(data)})
	if err := l.ask(ctx, q, kind, next, named, true); err != nil {
		return &Stranger{e.Seq, err.Error()}
	}
	if err := add(ctx, q, next); err != nil {
		return err
	}
	if err := apply(ctx, q, kind, next, named); err != nil {
		return &Stranger{e.Seq, err.Error()}
	}
	if err := kind.derive(ctx, q, next, named); err != nil {
		return &Stranger{e.Seq, err.Error()}
	}
	if err := l.follow(ctx, q, kind, next, named); err != nil {
		return &Stranger{e.Seq, err.Error()}
	}
	l.wrote(l.registry.from[e.Kind])
	return nil
}

// Whole takes entries of a journal with their numbers and hashes, in a workshop that is empty or
// ends where they begin: in one write, or nothing. entries calls its argument with each entry
// in order, and then with its files.
func (l *Ledger) Whole(ctx context.Context, entries func(q *query.Queries, each func(e journal.Entry) error) error) error {
	err := l.store.Write(ctx, func(q *query.Queries) error {
		return entries(q, func(e journal.Entry) error {
			last, err := end(ctx, q)
			if err != nil {
				return err
			}
			if next := journal.Next(last, e); next.Seq != e.Seq || next.Hash != e.Hash {
				return &Stranger{e.Seq, "it does not follow from the entry before"}
			}
			if err := add(ctx, q, e); err != nil {
				return err
			}
			if err := l.registry.redo(ctx, q, e); err != nil {
				return &Stranger{e.Seq, err.Error()}
			}
			if err := l.followed(ctx, q, e); err != nil {
				return &Stranger{e.Seq, err.Error()}
			}
			return nil
		})
	})
	for name := range l.registry.from {
		l.wrote(l.registry.from[name])
	}
	return err
}

// Read reads one state of the workshop by statements that are not in package query.
func (l *Ledger) Read(ctx context.Context, read func(db query.DBTX) error) error {
	return l.store.ViewTables(ctx, read)
}
