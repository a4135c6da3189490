package gate

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/row"
	"orpine/internal/store/query"
)

// Frozen is an open question that something waits for.
type Frozen struct {
	ID, Text, Whom string
	Holes          string // of a row: which, "12-20"; "" for all
}

// Says writes it as a reason.
func (f Frozen) Says() string {
	by := ""
	if f.Whom != "" {
		by = " (asked of " + f.Whom + ")"
	}
	return "waits for the answer to “" + f.Text + "”" + by
}

// Freeze is one thing that a question freezes.
type Freeze struct {
	What  string `json:"what"`            // an id of a step added by hand, "hold:" or "row:" and an id
	Holes string `json:"holes,omitempty"` // of a row
}

// FrozenBy are the open questions without a provisional answer that freeze something.
func FrozenBy(ctx context.Context, q *query.Queries, what string) ([]Frozen, error) {
	rows, err := q.QuestionsThatFreeze(ctx, Naming(what))
	if err != nil {
		return nil, fmt.Errorf("reading what is asked: %w", err)
	}
	var out []Frozen
	for _, r := range rows {
		var list []Freeze
		if err := json.Unmarshal([]byte(r.Freezes), &list); err != nil {
			return nil, fmt.Errorf("reading what a question freezes: %w", err)
		}
		for _, f := range list {
			if f.What == what {
				out = append(out, Frozen{r.ID, r.Text, r.Whom, f.Holes})
			}
		}
	}
	return out, nil
}

// Holds tells whether it freezes a hole of its row.
func (f Frozen) Holds(number int) bool {
	if f.Holes == "" {
		return true
	}
	numbers, err := row.ParseNumbers(f.Holes)
	if err != nil {
		return true
	}
	return slices.Contains(numbers, number)
}

// Naming is a pattern (LIKE) of JSON lists that hold an id.
func Naming(id string) string {
	return `%"` + strings.NewReplacer("%", "", "_", "").Replace(id) + `"%`
}
