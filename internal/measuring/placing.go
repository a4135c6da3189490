package measuring

import (
	"context"
	"fmt"
	"slices"

	"orpine/internal/core/measure"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// LiesAs says of a setup whether the part still lies as in one before it: then they are one
// placing, and what disturbs one disturbs the other. Where it does not, it was moved there. Until
// somebody says so both stand.
type LiesAs struct {
	ledger.Form
	Setup string `json:"setup" form:"-"`     // id
	Other string `json:"other" form:"other"` // id of the one before
	Lies  string `json:"lies" form:"lies"`   // LiesStill or LiesNot
}

// The answers.
const (
	LiesStill = "yes"
	LiesNot   = "no"
)

// lying is what follows from the answer.
type lying struct {
	Title string     `json:"title"`
	Other string     `json:"other"` // its title
	Moved []Happened `json:"moved"` // where it does not lie so any more
}

var liesSaid = &ledger.Kind[LiesAs, lying]{
	Name: "placing", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n LiesAs, f lying) error {
		if n.Lies == LiesStill {
			return q.AddPlacing(ctx, query.AddPlacingParams{SetupID: n.Setup, OtherID: n.Other, Entry: e.Seq})
		}
		if err := q.PartPlacing(ctx, query.PartPlacingParams{SetupID: n.Setup, OtherID: n.Other}); err != nil {
			return err
		}
		for _, h := range f.Moved {
			if err := PutHappened(ctx, q, e, h); err != nil {
				return err
			}
		}
		return nil
	},
	Words: func(n LiesAs, f lying) ledger.Words {
		if n.Lies == LiesStill {
			return ledger.Words{What: f.Title + ": it lies as in " + f.Other, Detail: "what disturbs one disturbs the other"}
		}
		return ledger.Words{What: f.Title + ": it was moved out of " + f.Other, Detail: "readings that it disturbs no longer count there"}
	},
}

// SayHowItLies keeps the answer. Problems are at "lies" and "".
func (m *Measuring) SayHowItLies(ctx context.Context, n LiesAs) error {
	_, err := ledger.Do(ctx, m.ledger, liesSaid, n.Form, n, func(q *query.Queries) (f lying, err error) {
		if n.Lies != LiesStill && n.Lies != LiesNot {
			return f, ledger.Problems{"lies": "does it still lie so, or was it moved?"}
		}
		s, err := m.Load(ctx, q, n.Setup)
		if err != nil {
			return f, err
		}
		other, err := m.Load(ctx, q, n.Other)
		if err != nil {
			return f, err
		}
		if other.AssemblyID != s.AssemblyID || s.AssemblyID == "" || other.ID == s.ID {
			return f, ledger.Problems{"": "choose another setup of the same assembly"}
		}
		f = lying{Title: s.Title(), Other: other.Name, Moved: []Happened{}}
		if n.Lies == LiesStill {
			return f, nil
		}
		// Whatever lies as there was moved too, but for this one, which it was moved into.
		group, err := placedWith(ctx, q, other.ID, s.ID)
		if err != nil {
			return f, err
		}
		for _, id := range append([]string{other.ID}, group...) {
			one, err := m.Load(ctx, q, id)
			if err != nil {
				return f, err
			}
			h, err := one.Happen(ctx, q, ledger.Child(n.ID, "moved "+id), measure.Moved)
			if err != nil {
				return f, err
			}
			f.Moved = append(f.Moved, h)
		}
		return f, nil
	})
	return err
}

// placedWith are the setups that are one placing with a setup, without it and without another one,
// over which they are not looked for either.
func placedWith(ctx context.Context, q *query.Queries, setup, without string) ([]string, error) {
	seen := []string{setup}
	for i := 0; i < len(seen); i++ {
		beside, err := q.PlacedAs(ctx, query.PlacedAsParams{Setup: seen[i], Also: seen[i], Too: seen[i]})
		if err != nil {
			return nil, fmt.Errorf("reading which setups are one placing: %w", err)
		}
		for _, id := range beside {
			if id != without && !slices.Contains(seen, id) {
				seen = append(seen, id)
			}
		}
	}
	return seen[1:], nil
}

// LiesLike is another setup of the same assembly, of which it is asked whether the part still lies so.
type LiesLike struct{ ID, Name string }

// Lying is what there is to say of a setup's placing: those that are one with it, and the newest of
// those before it that stand and of which nobody said.
func (m *Measuring) Lying(ctx context.Context, q *query.Queries, setup string) (with []LiesLike, asks *LiesLike, err error) {
	before, err := q.StandingBefore(ctx, setup)
	if err != nil || len(before) == 0 {
		return nil, nil, err
	}
	group, err := placedWith(ctx, q, setup, "")
	if err != nil {
		return nil, nil, err
	}
	for _, b := range before {
		one := LiesLike{b.ID, b.Name}
		switch {
		case b.Still == 1:
			with = append(with, one)
		case asks == nil && !slices.Contains(group, b.ID):
			asks = &one
		}
	}
	return with, asks, nil
}
