package instrument

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"orpine/internal/core/say"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// retracted is a proof, or a test end for end, to be taken back.
type retracted struct {
	ledger.Mistaken
	Instrument string `json:"instrument"` // id
}

// unproven is a proof, or a test end for end, that was entered by mistake.
type unproven struct {
	Name string `json:"name"` // of the instrument
	What string `json:"what"` // spread, offset or zero
}

var mistaken = &ledger.Kind[retracted, unproven]{
	Name: "proof-mistaken", Version: 1, Bears: ledger.Evidence, Takes: ledger.Rights{ledger.Work},
	Apply: func(ctx context.Context, q *query.Queries, e ledger.Entry, n retracted, f unproven) error {
		if f.What == "zero" {
			if err := q.RemoveZeroTest(ctx, n.Entry); err != nil {
				return err
			}
			return lastZero(ctx, q, e, n.Instrument)
		}
		if err := q.RemoveProof(ctx, n.Entry); err != nil {
			return err
		}
		return lastProof(ctx, q, e, n.Instrument, f.What)
	},
	Rights: func(retracted, unproven) bool { return true },
	Words: func(n retracted, f unproven) ledger.Words {
		return ledger.Words{What: fmt.Sprintf("Taken back: %s of %s", f.What, f.Name), Detail: say.Join(n.Reason, "by "+n.By)}
	},
	Travel: ledger.Travel[retracted, unproven]{Shared: func(_ string, n retracted) []string { return []string{n.Instrument} }},
}

// everyProof is how far back the last one is looked for.
const everyProof = 1000

// lastZero puts the last test end for end in force that is left; none where none is. It is found where
// the entry is applied, for a workshop that an instrument came to may have tested it since.
func lastZero(ctx context.Context, q *query.Queries, e ledger.Entry, id string) error {
	rows, err := q.ZeroTests(ctx, query.ZeroTestsParams{InstrumentID: id, Limit: 1})
	if err != nil {
		return err
	}
	to := query.ZeroOfInstrumentParams{Revised: e.Seq, ID: id}
	for _, r := range rows {
		to.Zero, to.ZeroAt = r.Zero, r.At
	}
	return q.ZeroOfInstrument(ctx, to)
}

// lastProof puts the last proof of a sort in force that is left; none where none is.
func lastProof(ctx context.Context, q *query.Queries, e ledger.Entry, id, what string) error {
	rows, err := q.ProofsOfInstrument(ctx, query.ProofsOfInstrumentParams{InstrumentID: id, Limit: everyProof})
	if err != nil {
		return err
	}
	spread, offset := query.SpreadOfInstrumentParams{Revised: e.Seq, ID: id}, query.OffsetOfInstrumentParams{Revised: e.Seq, ID: id}
	if i := slices.IndexFunc(rows, func(r query.Proof) bool { return r.What == what }); i >= 0 {
		texts := []string{}
		if err := json.Unmarshal([]byte(rows[i].Texts), &texts); err != nil {
			return err
		}
		spread.SpreadFound, spread.SpreadFrom, spread.SpreadAt = rows[i].Value, int64(len(texts)), rows[i].At
		offset.OffsetFound, offset.OffsetAt = rows[i].Value, rows[i].At
	}
	if what == "spread" {
		return q.SpreadOfInstrument(ctx, spread)
	}
	return q.OffsetOfInstrument(ctx, offset)
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
		there := false
		if f.Name = in.Name; was.Kind == tested.Name {
			f.What = "zero"
			rows, err := q.ZeroTests(ctx, query.ZeroTestsParams{InstrumentID: in.ID, Limit: everyProof})
			if err != nil {
				return f, err
			}
			there = slices.ContainsFunc(rows, func(r query.ZeroTest) bool { return r.ID == was.ID })
		} else {
			rows, err := q.ProofsOfInstrument(ctx, query.ProofsOfInstrumentParams{InstrumentID: in.ID, Limit: everyProof})
			if err != nil {
				return f, err
			}
			there = slices.ContainsFunc(rows, func(r query.Proof) bool { return r.ID == was.ID })
		}
		if !there {
			return f, ledger.Problems{"": "it was taken back already"}
		}
		return f, nil
	})
	return err
}
