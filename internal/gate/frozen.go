package gate

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"orpine/internal/core/hold"
	"orpine/internal/core/row"
	"orpine/internal/ledger"
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

// FrozenBy are the open questions without a provisional answer that freeze one of some things.
func FrozenBy(ctx context.Context, q *query.Queries, what ...string) ([]Frozen, error) {
	rows, err := q.OpenFreezes(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading what is asked: %w", err)
	}
	known, waited := ledger.KnownTo(ctx)
	var out []Frozen
	for _, r := range rows {
		if waited && r.Entry > known {
			continue // it was asked afterwards
		}
		var list []Freeze
		if err := json.Unmarshal([]byte(r.Freezes), &list); err != nil {
			return nil, fmt.Errorf("reading what a question freezes: %w", err)
		}
		for _, f := range list {
			if slices.Contains(what, f.What) {
				out = append(out, Frozen{r.ID, r.Text, r.Whom, f.Holes})
			}
		}
	}
	return out, nil
}

// FrozenHold are the open questions that freeze a hold, or a step of the order that is tied to it.
func FrozenHold(ctx context.Context, q *query.Queries, id string) ([]Frozen, error) {
	tied, err := q.StepsTiedTo(ctx, Naming(id))
	if err != nil {
		return nil, fmt.Errorf("reading the steps that are tied to a hold: %w", err)
	}
	what := []string{"hold:" + id}
	for _, s := range tied {
		what = append(what, s.ID)
	}
	return FrozenBy(ctx, q, what...)
}

// provisional are the lines of what goes on by an answer that is not final: from the next
// signature on.
func provisional(ctx context.Context, q *query.Queries, assemblies []string, holds []Hold, rows map[string][]string, into *hold.Evidence) error {
	asked, err := q.ProvisionalOf(ctx, assemblies)
	if err != nil {
		return fmt.Errorf("reading what goes on provisionally: %w", err)
	}
	for _, a := range asked {
		var list []Freeze
		if err := json.Unmarshal([]byte(a.Freezes), &list); err != nil {
			return fmt.Errorf("reading what a question freezes: %w", err)
		}
		for _, h := range holds {
			if slices.ContainsFunc(list, func(f Freeze) bool {
				sort, id, _ := strings.Cut(f.What, ":")
				return sort == "hold" && id == h.ID || sort == "row" && slices.Contains(rows[h.ID], id)
			}) {
				into.Extra[h.ID] = append(into.Extra[h.ID], hold.Line{Key: "provisional/" + a.ID, What: "“" + a.Text + "”", Standing: hold.Unsure, Next: true, Why: "goes on by an answer that is not final: " + a.Provisional})
			}
		}
	}
	return nil
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
