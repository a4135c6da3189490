package archive

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"orpine/internal/core/journal"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Coming is what would become of an archive here.
type Coming struct {
	Manifest
	SHA256  string
	New     int64     // entries that are not here yet
	Here    int64     // that are
	Kinds   []Kind    // the new ones
	Left    []Kind    // those that stay where they were made: people, and what they may
	People  bool      // the workshop has people of its own, and asks who one is once it is in
	Renamed []Renamed // what is called otherwise here
	Photos  int
	Went    []string // instruments that were proven here meanwhile
	Refused string   // why nothing of it can be taken; "" where it can
}

// Kind counts new entries of one kind.
type Kind struct {
	Name string `json:"name"`
	N    int64  `json:"n"`
}

// Renamed is a thing that is called otherwise here, because its name is taken.
type Renamed struct {
	Was string `json:"was"`
	Now string `json:"now"`
}

// names gives things the names that they have here.
type names struct {
	taken   map[string]string // by name: the id of what has it
	renamed []Renamed
}

func takenNames(ctx context.Context, q *query.Queries) (*names, error) {
	n := &names{taken: map[string]string{}}
	frames, err := q.NamesOfAirframes(ctx)
	if err != nil {
		return n, err
	}
	tools, err := q.NamesOfInstruments(ctx)
	for _, f := range frames {
		n.taken["aircraft "+f.Name] = f.ID
	}
	for _, t := range tools {
		n.taken["instrument "+t.Name] = t.ID
	}
	return n, err
}

// name is what a thing is called here: as it was, or with a number behind it where another
// has that name. An aircraft and an instrument may be called the same.
func (n *names) name(sort string) func(thing, was string) string {
	return func(thing, was string) string {
		now := was
		for i := 2; n.taken[sort+now] != "" && n.taken[sort+now] != thing; i++ {
			now = fmt.Sprintf("%s (%d)", was, i)
		}
		n.taken[sort+now] = thing
		if r := (Renamed{was, now}); was != now && !slices.Contains(n.renamed, r) {
			n.renamed = append(n.renamed, r)
		}
		return now
	}
}

// of is name for an entry.
func (n *names) of(l *ledger.Ledger, e journal.Entry) (func(thing, was string) string, error) {
	aircraft, shared, err := l.About(e)
	if aircraft || shared == nil && e.Kind == "put-right" {
		return n.name("aircraft "), err
	}
	return n.name("instrument "), err
}

// Look tells what would become of an archive here; it writes nothing.
func Look(ctx context.Context, l *ledger.Ledger, a *Archive) (c Coming, err error) {
	err = l.Read(ctx, func(db query.DBTX) (err error) {
		c, err = look(ctx, l, db, a)
		return err
	})
	return c, err
}

func look(ctx context.Context, l *ledger.Ledger, db query.DBTX, a *Archive) (c Coming, err error) {
	c = Coming{Manifest: a.Manifest, SHA256: a.SHA256, Photos: len(a.photos())}
	q := query.New(db)
	n, err := takenNames(ctx, q)
	if err != nil {
		return c, err
	}
	ids, came, left := map[string]bool{}, map[string]int64{}, map[string]int64{}
	var first *journal.Entry
	err = a.Entries(func(e journal.Entry) error {
		here, err := l.Here(ctx, db, e)
		if err != nil {
			return err
		}
		stays, err := l.Stays(e)
		if err != nil {
			return err
		}
		if stays && a.Scope != Workshop {
			left[e.Kind]++
			return nil
		}
		c.People = c.People || e.Kind == "person"
		ids[e.ID] = true
		if here {
			c.Here++
			return nil
		}
		if first == nil {
			first = &e
		}
		c.New++
		came[e.Kind]++
		if a.Scope == Workshop {
			return nil
		}
		name, err := n.of(l, e)
		if err != nil {
			return err
		}
		return l.Renaming(e, name)
	})
	if err == nil {
		err = fits(ctx, l, db, a, &c, first, ids)
	}
	if err == nil && c.New > 0 && a.Scope != Workshop {
		err = a.alone(ctx, l)
	}
	c.Kinds, c.Left = counted(came), counted(left)
	c.Renamed = n.renamed
	var stranger *ledger.Stranger
	var refused *Refused
	switch {
	case errors.As(err, &stranger):
		c.Refused, err = stranger.Error(), nil
	case errors.As(err, &refused):
		c.Refused, err = refused.Why, nil
	}
	return c, err
}

// counted are kinds with how many there were of each, by name.
func counted(n map[string]int64) (kinds []Kind) {
	for kind, k := range n {
		kinds = append(kinds, Kind{kind, k})
	}
	slices.SortFunc(kinds, func(x, y Kind) int { return strings.Compare(x.Name, y.Name) })
	return kinds
}

// alone refuses an archive of aircraft that names what it does not hold.
func (a *Archive) alone(ctx context.Context, l *ledger.Ledger) error {
	var aircraft []string
	for _, n := range a.Manifest.Aircraft {
		aircraft = append(aircraft, n.ID)
	}
	return l.Alone(ctx, aircraft, func(q *query.Queries) error { return a.addPhotos(ctx, q) }, a.Entries)
}

// fits tells whether what is new follows from what is here.
func fits(ctx context.Context, l *ledger.Ledger, db query.DBTX, a *Archive, c *Coming, first *journal.Entry, ids map[string]bool) error {
	if first == nil {
		return nil
	}
	if a.Scope == Workshop {
		head, err := query.New(db).Head(ctx)
		if err == nil {
			return refuse("this workshop has entries of its own (%d), and a whole workshop keeps its numbers: take it into an empty directory, or let one aircraft come at a time", head.Seq)
		}
		if first.Seq != 1 || first.Prev != "" {
			return refuse("the journal in it does not begin at its first entry")
		}
		return nil
	}
	for _, f := range a.Manifest.Aircraft {
		b, err := l.Belongings(ctx, db, f.ID)
		if errors.Is(err, ledger.ErrNotFound) {
			continue
		}
		if err != nil {
			return err
		}
		err = ledger.Entries(ctx, db, func(e journal.Entry) error {
			if b.Own(e.Seq) && !ids[e.ID] {
				return refuse("%s was worked on here since it came (entry %d), and there too: the two cannot be laid together", f.Name, e.Seq)
			}
			return nil
		})
		if err != nil {
			return err
		}
	}
	return ledger.Entries(ctx, db, func(e journal.Entry) error {
		_, shared, err := l.About(e)
		if err != nil || shared == nil || ids[e.ID] {
			return err
		}
		for _, thing := range shared {
			if ids[thing] && !slices.Contains(c.Went, thing) {
				c.Went = append(c.Went, thing)
			}
		}
		return nil
	})
}

// Taking is an archive that is taken in, as it was shown before.
type Taking struct {
	ledger.Form
	By      string `json:"by"`
	Archive string `json:"archive"` // SHA-256 of its manifest
}

// tookIn is what became of it.
type tookIn struct {
	Aircraft []Named   `json:"aircraft"`
	New      int64     `json:"new"`
	Here     int64     `json:"here"`
	Left     int64     `json:"left,omitempty"` // that stay where they were made
	Photos   int       `json:"photos"`
	Renamed  []Renamed `json:"renamed,omitempty"`
}

var taken = &ledger.Kind[Taking, tookIn]{
	Name: "archive", Version: 1, Bears: ledger.Apart, Takes: ledger.Rights{ledger.Keeping},
	Apply: func(context.Context, *query.Queries, ledger.Entry, Taking, tookIn) error { return nil },
	Words: func(_ Taking, f tookIn) ledger.Words {
		var who, details []string
		for _, a := range f.Aircraft {
			who = append(who, a.Name)
		}
		for _, r := range f.Renamed {
			details = append(details, fmt.Sprintf("“%s” is “%s” here", r.Was, r.Now))
		}
		if f.Left > 0 {
			details = append(details, fmt.Sprintf("%d about people and what they may were left", f.Left))
		}
		return ledger.Words{What: "archive taken in: " + strings.Join(who, ", "), Detail: say.Join(append([]string{fmt.Sprintf("%d entries before this one, %d were here", f.New, f.Here)}, details...)...)}
	},
	Travel: ledger.Travel[Taking, tookIn]{Stays: true, Shared: func(id string, _ Taking) []string { return []string{id} }},
}

// Capability is what the package brings to the ledger.
var Capability = ledger.Capability{Name: "archive", Kinds: ledger.Kinds(taken)}

// Take takes an archive in, whole or not at all. A whole workshop keeps its numbers and hashes,
// and nothing is added; the entries of an aircraft come behind the present end, and one more
// says so. The same archive once more changes nothing. Problems are at "archive".
func Take(ctx context.Context, l *ledger.Ledger, a *Archive, n Taking) (c Coming, err error) {
	if n.Archive != a.SHA256 {
		return c, ledger.Problems{"archive": "this is another file than the one that was shown; look at it first"}
	}
	if c, err = Look(ctx, l, a); err != nil {
		return c, err
	}
	if c.Refused != "" {
		return c, ledger.Problems{"archive": c.Refused + ". Nothing of it was taken"}
	}
	if c.New == 0 {
		return c, nil
	}
	if a.Scope == Workshop {
		return c, problem(a.takeWhole(ctx, l))
	}
	_, err = ledger.Do(ctx, l, taken, n.Form, n, func(q *query.Queries) (tookIn, error) { return a.adopt(ctx, l, q) })
	return c, problem(err)
}

// problem makes what an archive is refused for a Problem.
func problem(err error) error {
	var stranger *ledger.Stranger
	var refused *Refused
	switch {
	case errors.As(err, &stranger):
		return ledger.Problems{"archive": stranger.Error() + ". Nothing of it was taken"}
	case errors.As(err, &refused):
		return ledger.Problems{"archive": refused.Error()}
	}
	return err
}

// takeWhole writes what is missing of a whole workshop.
func (a *Archive) takeWhole(ctx context.Context, l *ledger.Ledger) error {
	return l.Whole(ctx, func(q *query.Queries, each func(e journal.Entry) error) error {
		if err := a.addPhotos(ctx, q); err != nil {
			return err
		}
		err := a.Entries(func(e journal.Entry) error {
			if _, err := q.EntryByID(ctx, e.ID); err == nil {
				return nil
			}
			return each(e)
		})
		if err != nil {
			return err
		}
		return a.allCarried(ctx, q)
	})
}

// adopt writes the entries of an aircraft behind the present end.
func (a *Archive) adopt(ctx context.Context, l *ledger.Ledger, q *query.Queries) (f tookIn, err error) {
	n, err := takenNames(ctx, q)
	if err != nil {
		return f, err
	}
	if err := a.addPhotos(ctx, q); err != nil {
		return f, err
	}
	f = tookIn{Aircraft: a.Manifest.Aircraft, Photos: len(a.photos())}
	err = a.Entries(func(e journal.Entry) error {
		if _, err := q.EntryByID(ctx, e.ID); err == nil {
			f.Here++
			return nil
		}
		if stays, err := l.Stays(e); err != nil || stays {
			f.Left++
			return err
		}
		f.New++
		name, err := n.of(l, e)
		if err != nil {
			return err
		}
		return l.Adopt(ctx, q, e, name)
	})
	f.Renamed = n.renamed
	if err != nil {
		return f, err
	}
	return f, a.allCarried(ctx, q)
}

func (a *Archive) addPhotos(ctx context.Context, q *query.Queries) error {
	for _, sum := range a.photos() {
		data, err := a.photo(sum)
		if err != nil {
			return err
		}
		if kind := http.DetectContentType(data); kind != "image/jpeg" && kind != "image/png" {
			return refuse("it holds a picture that is none")
		}
		if err := ledger.Keep(ctx, q, ledger.File{SHA256: sum, Content: data}); err != nil {
			return err
		}
	}
	return nil
}

// allCarried refuses photos that no entry carries.
func (a *Archive) allCarried(ctx context.Context, q *query.Queries) error {
	list, err := q.FilesCarried(ctx)
	if err != nil {
		return err
	}
	carried := map[string]bool{}
	for _, sum := range list {
		carried[sum] = true
	}
	for _, sum := range a.photos() {
		if !carried[sum] {
			return refuse("it holds a photo that no entry carries")
		}
	}
	return nil
}
