package ledger

import (
	"context"
	"fmt"
	"time"

	"orpine/internal/store/query"
)

// TimesOf are the times at which entries were made, by their number.
func (l *Ledger) TimesOf(ctx context.Context, q *query.Queries, seqs []int64) (map[int64]time.Time, error) {
	out := map[int64]time.Time{}
	const most = 500 // of the variables that a statement may have
	for len(seqs) > 0 {
		n := min(len(seqs), most)
		rows, err := q.TimesOf(ctx, seqs[:n])
		if err != nil {
			return nil, fmt.Errorf("reading when entries were made: %w", err)
		}
		for _, r := range rows {
			out[r.Seq] = l.When(r.At)
		}
		seqs = seqs[n:]
	}
	return out, nil
}
