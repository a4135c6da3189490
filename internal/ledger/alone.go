package ledger

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"orpine/internal/core/journal"
	"orpine/internal/store"
	"orpine/internal/store/query"
)

// Stays tells whether an entry is of its workshop, and goes nowhere with an aircraft.
func (l *Ledger) Stays(e journal.Entry) (bool, error) {
	t, err := l.travels(e)
	return t.stays, err
}

// Alone replays entries that came with aircraft in a workshop that holds nothing else. It returns
// a *Stranger for the first that names what is not among them, or that none of the aircraft is tied
// to; so nothing that comes in reaches what is here already. Entries that stay are passed over.
// first writes what entries lean on: their files.
func (l *Ledger) Alone(ctx context.Context, aircraft []string, first func(q *query.Queries) error, entries func(each func(e journal.Entry) error) error) (err error) {
	scratch, err := store.Strict(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, scratch.Close()) }()
	return scratch.WriteTables(ctx, func(db query.DBTX) error {
		if err := first(query.New(db)); err != nil {
			return err
		}
		var came []journal.Entry
		err := entries(func(e journal.Entry) error {
			stays, err := l.Stays(e)
			if err != nil || stays {
				return err
			}
			came = append(came, e)
			if err := l.Redo(ctx, db, int64(len(came)), e); err != nil {
				return &Stranger{e.Seq, "it names something that did not come with it (" + err.Error() + ")"}
			}
			return nil
		})
		if err != nil {
			return err
		}
		if err := l.made(ctx, db, came); err != nil {
			return err
		}
		return l.tied(ctx, db, aircraft, came)
	})
}

// made refuses the first entry that names what none of them made.
func (l *Ledger) made(ctx context.Context, db query.DBTX, came []journal.Entry) error {
	known := map[string]bool{}
	for _, e := range came {
		known[e.ID] = true
	}
	for _, name := range append(l.registry.names(Record), l.registry.names(Derived)...) {
		if err := idsOf(ctx, db, name, known); err != nil {
			return err
		}
	}
	for _, e := range came {
		for _, id := range mentioned(e) {
			if !known[id] {
				return &Stranger{e.Seq, "it names something that did not come with it (" + id + ")"}
			}
		}
	}
	return nil
}

// idsOf adds the ids of the rows of a table, where they have any.
func idsOf(ctx context.Context, db query.DBTX, table string, known map[string]bool) error {
	columns, _, err := shape(ctx, db, table)
	if err != nil || !slices.Contains(columns, "id") {
		return err
	}
	rows, err := db.QueryContext(ctx, "SELECT id FROM "+table)
	if err != nil {
		return fmt.Errorf("reading what %s holds: %w", table, err)
	}
	defer rows.Close()
	for rows.Next() {
		var id string
		if err := rows.Scan(&id); err != nil {
			return err
		}
		known[id] = true
	}
	return rows.Err()
}

// tied refuses aircraft that came beside those that were announced, and entries of none of them.
func (l *Ledger) tied(ctx context.Context, db query.DBTX, aircraft []string, came []journal.Entry) error {
	of := map[int64]bool{}
	for _, id := range aircraft {
		b, err := l.Belongings(ctx, db, id)
		if errors.Is(err, ErrNotFound) {
			return &Stranger{0, "it says that it holds an aircraft that it does not hold"}
		}
		if err != nil {
			return err
		}
		for _, other := range b.Aircraft {
			if !slices.Contains(aircraft, other) {
				return &Stranger{0, "it holds an aircraft that it does not say it holds"}
			}
		}
		for i := range came {
			seq := int64(i + 1)
			of[seq] = of[seq] || b.own[seq] || b.shared[seq]
		}
	}
	for i, e := range came {
		if !of[int64(i+1)] {
			return &Stranger{e.Seq, "it is of no aircraft that the archive holds"}
		}
	}
	return nil
}
