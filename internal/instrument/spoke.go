package instrument

import (
	"context"
	"fmt"

	"orpine/internal/core/quantity"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Spoke says that an instrument was connected, and what it said it is.
type Spoke struct {
	ledger.Form
	Instrument string `json:"instrument"` // id
	Serial     string `json:"serial"`
	Step       string `json:"step"` // as sent, in its unit
	Unit       string `json:"unit"` // mm or deg
}

// coarser is what of it counts.
type coarser struct {
	Name string `json:"name"`
	Step string `json:"step,omitempty"` // where it is coarser than the card's
}

var spoke = &ledger.Kind[Spoke, coarser]{
	Name: "instrument-spoke", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work, ledger.Keeping},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n Spoke, f coarser) error {
		return q.InstrumentSpoke(ctx, query.InstrumentSpokeParams{Serial: n.Serial, SentStep: f.Step, Revised: e.Seq, ID: n.Instrument})
	},
	Words: func(n Spoke, f coarser) ledger.Words {
		w := ledger.Words{What: f.Name + " connected", Detail: "it says it is " + n.Serial}
		if f.Step != "" {
			w.Detail += ", in steps of " + f.Step + ": coarser than its card, and taken as its step"
		}
		return w
	},
	Travel: ledger.Travel[Spoke, coarser]{Shared: func(_ string, n Spoke) []string { return []string{n.Instrument} }},
}

// Spoke keeps the first serial number that an instrument sends, and a step that is coarser than its
// card's. A Problem at "address" where another number was kept before, or none is sent.
func (s *Instruments) Spoke(ctx context.Context, n Spoke) error {
	if in, err := s.of(ctx, n.Instrument); err == nil && in.same(n) {
		return nil // nothing new is said
	}
	_, err := ledger.Do(ctx, s.ledger, spoke, n.Form, n, func(q *query.Queries) (f coarser, err error) {
		in, err := One(ctx, q, s.ledger, n.Instrument)
		if err != nil {
			return f, err
		}
		f.Name = in.Name
		switch {
		case n.Serial == "":
			return f, ledger.Problems{"address": "it sends no serial number, so nobody knows which it is: read it by eye and type what it shows"}
		case in.Serial != "" && in.Serial != n.Serial:
			return f, ledger.Problems{"address": in.stranger(n.Serial)}
		}
		f.Step = in.coarser(n)
		return f, nil
	})
	return err
}

func (s *Instruments) of(ctx context.Context, id string) (in Instrument, err error) {
	err = s.ledger.View(ctx, func(q *query.Queries) error {
		in, err = One(ctx, q, s.ledger, id)
		return err
	})
	return in, err
}

func (i Instrument) same(n Spoke) bool {
	return i.Serial != "" && i.Serial == n.Serial && i.SentStep == i.coarser(n)
}

// coarser is the step that is sent, where it is coarser than the card's; as typed, with its unit.
func (i Instrument) coarser(n Spoke) string {
	text := n.Step
	if n.Unit == "mm" && text != "" {
		text += " " + quantity.Millimetre.String()
	}
	card, known := i.typed(i.Resolution)
	sent, ok := i.typed(text)
	if !ok || known && sent <= card+1e-9 {
		return ""
	}
	return text
}

// stranger says that something else speaks in its place.
func (i Instrument) stranger(serial string) string {
	return fmt.Sprintf("this is not the %s that was proven: %s was %s, and this one says %s. Connect that one; or add this one as an instrument of its own and prove it", i.Sort, i.Name, i.Serial, serial)
}
