package overview

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"orpine/internal/core/row"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/riveting"
)

// EveningFacts are holes of a whole evening that were drilled or set without a release, as one name
// and one reason have it: what a phone kept, and the gate refused.
type EveningFacts struct {
	ledger.Form
	At     []string `form:"at"` // "ROW|set|12": id of the row, operation, number of the hole
	By     string   `form:"by"`
	Day    string   `form:"day"`
	Reason string   `form:"reason"`
}

// TellFacts enters all of them, or none. Problems are at "by", "day", "reason" and "", which names the
// row.
func (w *Workshop) TellFacts(ctx context.Context, n EveningFacts) error {
	type work struct {
		row  string
		what row.Operation
	}
	var order []work
	holes := map[work][]int{}
	for _, at := range n.At {
		part := strings.Split(at, "|")
		if len(part) != 3 {
			return ledger.Problems{"": "which row, and which hole?"}
		}
		number, err := strconv.Atoi(part[2])
		if err != nil {
			return ledger.Problems{"": "which hole?"}
		}
		one := work{part[0], row.Operation(part[1])}
		if holes[one] == nil {
			order = append(order, one)
		}
		if !slices.Contains(holes[one], number) {
			holes[one] = append(holes[one], number)
		}
	}
	if len(order) == 0 {
		return ledger.Problems{"": "which row, and which hole?"}
	}
	return w.Ledger.Together(ctx, true, func(ctx context.Context, l *ledger.Ledger) error {
		on := New(l)
		for i, one := range order {
			r, err := on.Riveting.Row(ctx, one.row)
			if err != nil {
				return err
			}
			fact := riveting.HolesFact{Form: ledger.Form{ID: ledger.Child(n.ID, fmt.Sprint("row ", i)), Taken: n.Taken}, Row: r.ID, Seen: r.Revised, Numbers: holes[one], What: one.what, How: gate.Unreleased, By: n.By, Day: n.Day, Reason: n.Reason}
			if err := on.Riveting.TellFact(ctx, fact); err != nil {
				var wrong ledger.Problems
				if errors.As(err, &wrong) && wrong[""] != "" {
					wrong[""] = r.Name + ": " + wrong[""]
				}
				return err
			}
		}
		return nil
	})
}
