package gate

import (
	"context"
	"fmt"
	"slices"

	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// AsThen are holds as whoever made an entry that waited out of reach knew them: with the releases
// that stood at the last entry that they had seen, also where those ended since. They are as they are
// for an entry that did not wait. A step that is done by now is done.
func AsThen(ctx context.Context, q *query.Queries, holds ...Hold) ([]Hold, error) {
	then, err := standingThen(ctx, q, func(yield func(id string)) {
		for _, h := range holds {
			yield(h.ID)
		}
	})
	if err != nil || then == nil {
		return holds, err
	}
	out := slices.Clone(holds)
	for i := range out {
		h, was := &out[i], then[out[i].ID]
		switch {
		case h.Done:
		case was.ReleaseID != "":
			h.ReleaseID, h.Released, h.Ended, h.Since = was.ReleaseID, was.ByName, "", was.Why
		case h.ReleaseID != "": // it was signed afterwards
			h.ReleaseID, h.Released = "", ""
		}
	}
	return out, nil
}

// standingThen are the releases of holds that stood then, by hold; nil for an entry that did not wait.
func standingThen(ctx context.Context, q *query.Queries, each func(func(id string))) (map[string]query.GatesThenRow, error) {
	known, waited := ledger.KnownTo(ctx)
	if !waited {
		return nil, nil
	}
	var ids []string
	each(func(id string) { ids = append(ids, id) })
	out := map[string]query.GatesThenRow{}
	if len(ids) == 0 {
		return out, nil
	}
	rows, err := q.GatesThen(ctx, query.GatesThenParams{Known: known, Holds: ids})
	if err != nil {
		return nil, fmt.Errorf("reading what was released then: %w", err)
	}
	for _, r := range rows {
		if _, later := out[r.HoldID]; !later {
			out[r.HoldID] = r
		}
	}
	return out, nil
}
