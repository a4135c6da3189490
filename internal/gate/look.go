package gate

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/measure"
	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// LookSet is what people looked at, the last of each.
type LookSet map[lookKey]*hold.Look

type lookKey struct {
	need     hold.Need
	of, what string
}

// Last is the last time that someone looked at something; nil for never.
func (s LookSet) Last(need hold.Need, of, what string) *hold.Look { return s[lookKey{need, of, what}] }

// All are the last looks at something, by what was looked at of it.
func (s LookSet) All(need hold.Need, of string) map[string]*hold.Look {
	out := map[string]*hold.Look{}
	for k, l := range s {
		if k.need == need && k.of == of {
			out[k.what] = l
		}
	}
	return out
}

// Looks loads what people looked at.
func Looks(ctx context.Context, q *query.Queries, l *ledger.Ledger, ids ...string) (LookSet, error) {
	if len(ids) == 0 {
		return LookSet{}, nil
	}
	rows, err := q.LooksOf(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading what was looked at: %w", err)
	}
	out := LookSet{}
	for _, r := range rows {
		out[lookKey{hold.Need(r.Need), r.Of, r.What}] = &hold.Look{By: r.ByName, Second: r.SecondName, Note: r.Note, At: l.When(r.At), Stale: measure.Event(r.Event.String)}
	}
	return out, nil
}

// GoingStale are the looks at an assembly's rows and holds that do not outlast an
// event.
func GoingStale(ctx context.Context, q *query.Queries, assembly string, event measure.Event) ([]string, error) {
	if hold.Prepared.Outlasts(event) && hold.Seconded.Outlasts(event) || assembly == "" {
		return []string{}, nil
	}
	rows, err := q.LooksThatMayGoStale(ctx, assembly)
	if err != nil {
		return nil, fmt.Errorf("reading what was looked at: %w", err)
	}
	out := []string{}
	for _, r := range rows {
		if !hold.Need(r.Need).Outlasts(event) {
			out = append(out, r.ID)
		}
	}
	return out, nil
}

// PutStale writes that looks went stale with an event.
func PutStale(ctx context.Context, q *query.Queries, looks []string, event string) error {
	for _, id := range looks {
		if err := q.MakeLookStale(ctx, query.MakeLookStaleParams{StaleEvent: Reference(event), ID: id}); err != nil {
			return err
		}
	}
	return nil
}

// PutFresh writes that what an event made stale is not so: it was taken back.
func PutFresh(ctx context.Context, q *query.Queries, event string) error {
	return q.FreshenLooks(ctx, Reference(event))
}

// A LookAt is what someone answers for by name.
type LookAt struct {
	ledger.Form
	Need   hold.Need `json:"need" form:"need"`
	Of     string    `json:"of" form:"of"` // id of the row, part, bay or hold
	What   []string  `json:"what,omitempty" form:"what"`
	By     string    `json:"by" form:"by"`
	Second string    `json:"second,omitempty" form:"second"`
	Twin   string    `json:"twin,omitempty" form:"twin"` // of a hand, by one alone: id of the part on the other side
	Note   string    `json:"note,omitempty" form:"note" text:"lines"`
	Also   []string  `json:"also,omitempty" form:"-"` // ids of others that the same was looked at of
}

// seen is what was looked at.
type seen struct {
	Name  string `json:"name"`
	Lines []line `json:"lines"` // one for each thing
}

type line struct {
	ID   string `json:"id"`
	What string `json:"what"`
	Of   string `json:"of,omitempty"` // of another than the one that the request names
}

var looked = &ledger.Kind[LookAt, seen]{
	Name: "look", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work, ledger.Sign},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n LookAt, f seen) error {
		for _, l := range f.Lines {
			of := n.Of
			if l.Of != "" {
				of = l.Of
			}
			err := q.AddLook(ctx, query.AddLookParams{ID: l.ID, Need: string(n.Need), Of: of, What: l.What, ByName: n.By, SecondName: n.Second, Note: n.Note, At: e.At, Entry: e.Seq})
			if err != nil {
				return err
			}
		}
		return nil
	},
	Words: func(n LookAt, f seen) ledger.Words {
		return ledger.Words{What: "Looked at: " + f.Name, Detail: say.Join(strings.Join(n.What, ", "), n.Note, n.Second)}
	},
}

// alone tells whether one person answers for a hand, by a clue.
func (n LookAt) alone() bool {
	return n.Need == hold.Handed && n.Second == "" && (n.Note != "" || n.Twin != "")
}

// pictured asks that its twin is a part, and for a photo of each.
func (g *Gate) pictured(ctx context.Context, q *query.Queries, n LookAt) error {
	if _, err := q.NameOfPart(ctx, n.Twin); errors.Is(ledger.Found(err), ledger.ErrNotFound) {
		return ledger.Problems{"twin": "which part is its twin?"}
	} else if err != nil {
		return err
	}
	of, err := g.photos(ctx, q, []string{n.Of, n.Twin})
	if err != nil {
		return err
	}
	switch {
	case of[n.Of] == 0:
		return ledger.Problems{"photo": "a photo of it is wanted, as it lies by that clue"}
	case of[n.Twin] == 0:
		return ledger.Problems{"photo": "a photo of its twin is wanted: it is shown mirrored beside"}
	}
	return nil
}

// Look keeps what someone looked at. Problems are at "by", "second", "note", "twin", "photo" and "what".
func (g *Gate) Look(ctx context.Context, n LookAt) error {
	wrong := n.read()
	_, err := ledger.Do(ctx, g.ledger, looked, n.Form, n, func(q *query.Queries) (f seen, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		if f.Name, err = n.name(ctx, q); err == nil && n.alone() {
			err = g.pictured(ctx, q, n)
		}
		what := n.What
		if n.Need != hold.Prepared {
			what = []string{""}
		}
		for i, w := range what {
			id := n.ID
			if i > 0 {
				id = ledger.Child(n.ID, w)
			}
			f.Lines = append(f.Lines, line{ID: id, What: w})
			for _, other := range n.Also {
				f.Lines = append(f.Lines, line{ledger.Child(n.ID, other+w), w, other})
			}
		}
		if len(n.Also) > 0 {
			f.Name += fmt.Sprintf(" and %d more", len(n.Also))
		}
		for _, other := range n.Also {
			also := n
			also.Of = other
			if _, err := also.name(ctx, q); err != nil {
				return f, ledger.Found(err)
			}
		}
		return f, err
	})
	return err
}

// Empty is what was looked at of a bay in which nothing was counted: nothing lies inside.
const Empty = "empty"

// PutInside writes what someone answers for of a bay.
func PutInside(ctx context.Context, q *query.Queries, e ledger.Entry, bay, what, by, note string) error {
	return q.AddLook(ctx, query.AddLookParams{ID: ledger.Child(e.ID, "inside "+what), Need: string(hold.Inside), Of: bay, What: what, ByName: by, Note: note, At: e.At, Entry: e.Seq})
}

// UnputInside takes back what an entry answered for of a bay.
func UnputInside(ctx context.Context, q *query.Queries, entry, what string) error {
	return q.RemoveLook(ctx, ledger.Child(entry, "inside "+what))
}

// PutMarked writes that someone looked through the plans and marked all holes of rows that
// stay open; the ids are those of the looks, by row.
func PutMarked(ctx context.Context, q *query.Queries, e ledger.Entry, by string, rows []string) error {
	for _, id := range rows {
		if err := q.AddLook(ctx, query.AddLookParams{ID: ledger.Child(id, "marked"), Need: string(hold.Marked), Of: id, ByName: by, At: e.At, Entry: e.Seq}); err != nil {
			return err
		}
	}
	return nil
}

// read trims the form, and finds what is wrong with it.
func (n *LookAt) read() ledger.Problems {
	wrong := ledger.Problems{}
	wrong.Text("by", &n.By, ledger.MaxName, "who looked?")
	wrong.Text("second", &n.Second, ledger.MaxName, "")
	wrong.Text("note", &n.Note, ledger.MaxNote, "")
	switch n.Need {
	case hold.Prepared:
		if len(n.What) == 0 {
			wrong.Add("what", "tick what is done")
		}
		for i, what := range n.What {
			if what != hold.FormedWhereWanted && !slices.Contains(hold.Preparations, what) || slices.Contains(n.What[:i], what) {
				wrong.Add("what", "choose from the list, each once")
			}
		}
	case hold.Handed:
		if n.alone() {
			if n.Note == "" {
				wrong.Add("note", "which clue has only this hand: flange towards you, joggle left?")
			}
			if n.Twin == "" || n.Twin == n.Of {
				wrong.Add("twin", "which part is its twin?")
			}
			break
		}
		if n.Second == "" || strings.EqualFold(n.Second, n.By) {
			wrong.Add("second", "two people look at a hand: who was the other?")
		}
	case hold.Inside:
		if n.Note == "" {
			wrong.Add("note", "how is it reached once it is closed, or why need it not be?")
		}
	case hold.Marked, hold.Seconded:
	default:
		wrong.Add("", "there is nothing of that kind to look at")
	}
	return wrong
}

// name names what is looked at, and finds out whether it is there.
func (n LookAt) name(ctx context.Context, q *query.Queries) (name string, err error) {
	switch n.Need {
	case hold.Marked, hold.Prepared:
		name, err = q.NameOfRow(ctx, n.Of)
		if err == nil || n.Need == hold.Marked || !errors.Is(ledger.Found(err), ledger.ErrNotFound) {
			return name, err
		}
	case hold.Handed:
		if name, err = q.NameOfPart(ctx, n.Of); errors.Is(ledger.Found(err), ledger.ErrNotFound) {
			return q.NameOfHoldAsking(ctx, sql.NullString{String: n.Of, Valid: true})
		}
		return name, err
	case hold.Inside:
		return q.NameOfBay(ctx, n.Of)
	}
	h, err := q.Hold(ctx, n.Of) // a second look, or work that has no row
	return h.Name, err
}
