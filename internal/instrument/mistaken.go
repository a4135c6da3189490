package instrument

import (
	"context"
	"encoding/json"
	"fmt"

	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// retracted is a proof, or a test end for end, to be taken back.
type retracted struct {
	ledger.Mistaken
	Instrument string `json:"instrument"` // id
}

// unproven is a proof, or a test end for end, that was entered by mistake, and what of the same is in
// force again.
type unproven struct {
	Name    string  `json:"name"`
	What    string  `json:"what"`    // spread, offset or zero
	InForce bool    `json:"inForce"` // it was the last of its sort
	Value   float64 `json:"value"`   // of the one before, mm or degrees; 0 with At "" where there is none
	From    int64   `json:"from,omitempty"`
	At      string  `json:"at,omitempty"`
}

var mistaken = &ledger.Kind[retracted, unproven]{
	Name: "proof-mistaken", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n retracted, f unproven) error {
		remove := q.RemoveProof
		if f.What == "zero" {
			remove = q.RemoveZeroTest
		}
		if err := remove(ctx, n.Entry); err != nil || !f.InForce {
			return err
		}
		switch f.What {
		case "spread":
			return q.SpreadOfInstrument(ctx, query.SpreadOfInstrumentParams{SpreadFound: f.Value, SpreadFrom: f.From, SpreadAt: f.At, Revised: e.Seq, ID: n.Instrument})
		case "offset":
			return q.OffsetOfInstrument(ctx, query.OffsetOfInstrumentParams{OffsetFound: f.Value, OffsetAt: f.At, Revised: e.Seq, ID: n.Instrument})
		}
		return q.ZeroOfInstrument(ctx, query.ZeroOfInstrumentParams{Zero: f.Value, ZeroAt: f.At, Revised: e.Seq, ID: n.Instrument})
	},
	Rights: func(retracted, unproven) bool { return true },
	Words: func(n retracted, f unproven) ledger.Words {
		return ledger.Words{What: fmt.Sprintf("Taken back: %s of %s", f.What, f.Name), Detail: say.Join(n.Reason, "by "+n.By)}
	},
	Travel: ledger.Travel[retracted, unproven]{Shared: func(_ string, n retracted) []string { return []string{n.Instrument} }},
}

// Retracts tells whether entries of a kind are taken back here.
func Retracts(kind string) bool { return kind == proven.Name || kind == tested.Name }

// TakeBack takes back a proof or a test end for end that was entered by mistake; what was found
// before it is in force again.
func (s *Instruments) TakeBack(ctx context.Context, was ledger.OwnEntry, n ledger.Mistaken) error {
	wrong := n.Read()
	var asked struct{ Instrument, What string }
	if err := json.Unmarshal(was.Request, &asked); err != nil {
		return err
	}
	r := retracted{n, asked.Instrument}
	_, err := ledger.Do(ctx, s.ledger, mistaken, n.Form, r, func(q *query.Queries) (f unproven, err error) {
		if err := wrong.Err(); err != nil {
			return f, err
		}
		f.What = asked.What
		in, err := One(ctx, q, s.ledger, asked.Instrument)
		if err != nil {
			return f, err
		}
		if f.Name = in.Name; was.Kind == tested.Name {
			f.What = "zero"
			return f, f.zeroBefore(ctx, q, in.ID, was.ID)
		}
		return f, f.proofBefore(ctx, q, in.ID, was.ID)
	})
	return err
}

// errTakenBack tells that an entry was taken back before.
var errTakenBack = ledger.Problems{"": "it was taken back already"}

// everyProof is how far back the one before is looked for.
const everyProof = 1000

// zeroBefore finds the test before one.
func (f *unproven) zeroBefore(ctx context.Context, q *query.Queries, instrument, id string) error {
	rows, err := q.ZeroTests(ctx, query.ZeroTestsParams{InstrumentID: instrument, Limit: everyProof})
	if err != nil {
		return err
	}
	for i, r := range rows {
		if r.ID != id {
			continue
		}
		if f.InForce = i == 0; i == 0 && len(rows) > 1 {
			f.Value, f.At = rows[1].Zero, rows[1].At
		}
		return nil
	}
	return errTakenBack
}

// proofBefore finds the proof of the same sort before one.
func (f *unproven) proofBefore(ctx context.Context, q *query.Queries, instrument, id string) error {
	rows, err := q.ProofsOfInstrument(ctx, query.ProofsOfInstrumentParams{InstrumentID: instrument, Limit: everyProof})
	if err != nil {
		return err
	}
	later, found := false, false
	for _, r := range rows {
		switch {
		case r.What != f.What:
		case r.ID == id:
			found = true
		case !found:
			later = true
		default:
			f.Value, f.At = r.Value, r.At
			texts := []string{}
			if err := json.Unmarshal([]byte(r.Texts), &texts); err != nil {
				return err
			}
			f.From = int64(len(texts))
			f.InForce = !later
			return nil
		}
	}
	if !found {
		return errTakenBack
	}
	f.InForce = !later
	return nil
}
