package gate

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"

	"orpine/internal/store/query"
)

// NearBays calls for each bay with the ids of the assemblies that it belongs to.
func NearBays(ctx context.Context, q *query.Queries, bays []string, each func(bay string, assemblies []string) error) error {
	if len(bays) == 0 {
		return nil
	}
	rows, err := q.AssembliesOfBays(ctx, query.AssembliesOfBaysParams{Bays: bays, More: bays})
	if err != nil {
		return fmt.Errorf("reading the assemblies of bays: %w", err)
	}
	for i := 0; i < len(rows); {
		bay, of := rows[i].BayID, []string{}
		for ; i < len(rows) && rows[i].BayID == bay; i++ {
			of = append(of, rows[i].AssemblyID)
		}
		if err := each(bay, of); err != nil {
			return err
		}
	}
	return nil
}

// Around are the bays that a bay lies within, the nearest first.
func Around(ctx context.Context, q *query.Queries, bay string) (out []query.BayAroundRow, err error) {
	for range 20 { // none is as deep, and a circle is refused where one is placed
		b, err := q.BayAround(ctx, bay)
		if errors.Is(err, sql.ErrNoRows) {
			return out, nil
		}
		if err != nil {
			return nil, fmt.Errorf("reading what lies around a bay: %w", err)
		}
		out, bay = append(out, b), b.ID
	}
	return out, nil
}

// Beneath names what a coat over an assembly would hide: holes of its rows that are neither set nor
// kept open, those that are kept open, and clecos.
func Beneath(ctx context.Context, q *query.Queries, assembly string) (out []string, err error) {
	rows, err := q.RowsToCoat(ctx, assembly)
	if err != nil {
		return nil, fmt.Errorf("reading what lies beneath a coat: %w", err)
	}
	for _, r := range rows {
		var how struct {
			Missed string
			Ready  struct{ Kept []string }
		}
		if !r.Says.Valid || json.Unmarshal([]byte(r.Says.String), &how) != nil {
			continue
		}
		if how.Missed != "" {
			out = append(out, r.Name+", hole "+how.Missed+" not set")
		}
		for _, k := range how.Ready.Kept {
			out = append(out, r.Name+", kept open: "+k)
		}
	}
	return out, nil
}

// Shut is the name of a closed bay that one lies within, "" for none: nothing in it can be
// reached before that is opened.
func Shut(ctx context.Context, q *query.Queries, bay string) (string, error) {
	list, err := Around(ctx, q, bay)
	for _, b := range list {
		if b.Done == 1 {
			return b.Name, err
		}
	}
	return "", err
}
