package closing

import (
	"context"
	"encoding/json"

	"orpine/internal/core/hold"
	"orpine/internal/gate"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// Keepers put bays right.
var Keepers = []ledger.Keeper{{Kind: "bay", Load: loadBay, Judge: judgeBay, Put: putBay, Withdraw: withdrawBay}}

func loadBay(ctx context.Context, q *query.Queries, id string, _ map[string]string) (t ledger.Thing, err error) {
	b, err := q.Bay(ctx, id)
	if err != nil {
		return t, ledger.Found(err)
	}
	h, err := q.Hold(ctx, b.ClosedBy)
	t = ledger.Thing{Kind: "bay", ID: id, Title: b.Name, Path: "/bays/" + id, After: "/holds/" + b.ClosedBy, Seen: b.Revised, Withdrawn: b.Withdrawn, Fields: []ledger.ThingField{{Key: "name", Label: "Name", Value: b.Name}}}
	if err != nil {
		return t, err
	}
	opened, err := q.ReopeningsOfBays(ctx, []string{id})
	switch {
	case h.Done == 1:
		t.Stays = "it is closed: what lies in it stays on the record"
	case len(opened) > 0:
		t.Stays = "it was closed, and opened again: that stays on the record"
	}
	return t, err
}

// bayFacts are a bay as it was put right.
type bayFacts struct {
	Name  string       `json:"name"`
	Asked []gate.Asked `json:"asked,omitempty"` // the hold that closes it, without it
}

func judgeBay(ctx context.Context, q *query.Queries, t ledger.Thing, values map[string]string, wrong ledger.Problems) (any, error) {
	f := bayFacts{Name: t.Field("name")}
	if values != nil {
		f.Name = values["name"]
		wrong.Text("name", &f.Name, ledger.MaxName, "which space is it?")
		return f, nil
	}
	b, err := q.Bay(ctx, t.ID)
	if err != nil {
		return f, err
	}
	h, err := gate.One(ctx, q, b.ClosedBy)
	if err != nil {
		return f, err
	}
	less, err := gate.AskLess(h, t.ID, "the space “"+b.Name+"” was withdrawn", hold.Unsure, func(r hold.Requirement) bool { return r.Of == t.ID })
	f.Asked = []gate.Asked{less}
	return f, err
}

func putBay(ctx context.Context, q *query.Queries, e ledger.Entry, id string, judged json.RawMessage) error {
	var f bayFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	return q.RenameBay(ctx, query.RenameBayParams{Name: f.Name, Revised: e.Seq, ID: id})
}

func withdrawBay(ctx context.Context, q *query.Queries, e ledger.Entry, id, reason string, judged json.RawMessage) error {
	var f bayFacts
	if err := json.Unmarshal(judged, &f); err != nil {
		return err
	}
	if err := gate.PutAsked(ctx, q, e, f.Asked); err != nil {
		return err
	}
	return q.WithdrawBay(ctx, query.WithdrawBayParams{Withdrawn: reason, Revised: e.Seq, ID: id})
}
